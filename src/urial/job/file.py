"""The ``.urial`` file: an open zip of ``job.json``, ``log.jsonl`` and ``attachments/``, written atomically,
the same bytes each time.
"""

from __future__ import annotations

import contextlib
import errno
import hashlib
import io
import json
import lzma
import os
import stat
import tempfile
import zipfile
import zlib
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from pathlib import Path
from types import MappingProxyType
from typing import Any
from uuid import uuid4

from pydantic import ValidationError

from urial.complaints import complaint
from urial.job.fields import Value, specs
from urial.job.host import starting_host
from urial.job.log import Entry, lines, read_lines
from urial.job.model import FORMAT, Job
from urial.job.origin import told_apart
from urial.stock.catalogue import StockError, find
from urial.words import Complaint

LARGEST = 300 * 1024 * 1024
"""A job file, bytes."""
DOCUMENT, ATTACHMENT, ATTACHMENTS = 8 * 1024 * 1024, 64 * 1024 * 1024, 256 * 1024 * 1024
"""job.json, one attachment and all of them together, bytes as unpacked."""
LOG = 32 * 1024 * 1024
"""log.jsonl, bytes as unpacked."""
_EPOCH = (1980, 1, 1, 0, 0, 0)


class FileError(Complaint):
    """The file cannot be read or written; the message says which, why and what to do.  The file is left
    alone.
    """


@dataclass(frozen=True)
class Document:
    """A job, the log of what was done to its steel, and the files attached to it (name → bytes)."""

    job: Job
    log: tuple[Entry, ...] = ()
    attachments: Mapping[str, bytes] = field(default_factory=lambda: MappingProxyType({}))

    def duplicate(self) -> Document:
        """Another job that begins as this one: it gets a number of its own, and nothing was done to its
        steel.
        """
        return replace(self, job=self.job.model_copy(update={"id": uuid4().hex}), log=())

    def numbered(self, place: str = "") -> Document:
        """The same, with a number where it has none yet: any, or what follows from it and from where it is
        written, so that a command said twice writes the same.
        """
        if self.job.id:
            return self
        if not place:
            return self.duplicate()
        own = _number_of({"place": place, "job": self.job.model_dump(mode="json")})
        return replace(self, job=self.job.model_copy(update={"id": own}))


def _kinds_of_host(raw: dict[str, Any]) -> dict[str, Any]:
    """1 → 2: a vehicle says its kind, and holes are behind the host's origin, whatever that is."""
    vehicle = raw.get("vehicle")
    if isinstance(vehicle, dict):
        lifted = {"kind": "pickup", **vehicle}
        for side in ("left", "right"):
            if isinstance(lifted.get(side), list):
                lifted[side] = [
                    {("behind_mm" if k == "behind_axle_mm" else k): v for k, v in hole.items()}
                    if isinstance(hole, dict)
                    else hole
                    for hole in lifted[side]
                ]
        raw = {**raw, "vehicle": lifted}
    return raw


MARKS_BEFORE_3 = {
    "1/cross tube": "A",
    "1/side plate": "B",
    "1/receiver": "C",
    "1/chain plate": "D",
    "1/plug bracket": "E",
    "1/gusset": "F",
    "2/bar": "G",
    "2/drop plate": "H",
    "2/ball plate": "J",
    "2/hitch pin": "X2",
    "2/ball": "X3",
    "1/nut": "X4",
    "1/washer": "X5",
}
"""The marks every job had while there was one kind of part: its steel may be cut and stamped."""


def _stack_of_pieces(raw: dict[str, Any]) -> dict[str, Any]:
    """2 → 3: the host becomes the first of several, the part a stack of pieces, each with its own sizes."""
    out = {k: v for k, v in raw.items() if k not in ("vehicle", "design")}
    if "vehicle" in raw:
        out["hosts"] = [raw["vehicle"]]
    design = raw.get("design")
    if isinstance(design, dict):
        receiver = dict(design)
        mount = receiver.pop("ball_mount", {})
        mount = dict(mount) if isinstance(mount, dict) else {}
        if "electrode" in receiver:
            out["welding"] = {"electrode": receiver.pop("electrode")}
        if "mouth_to_pin_mm" in mount:
            receiver["mouth_to_pin_mm"] = mount.pop("mouth_to_pin_mm")
        out["stack"] = [
            {"id": "1", "on": "host", "socket": "frame rails", "values": receiver},
            {"id": "2", "on": "1", "socket": "1/receiver", "values": {"family": "ball-mount", **mount}},
        ]
        out["marks"] = dict(MARKS_BEFORE_3)
    return out


def _a_number_of_its_own(raw: dict[str, Any]) -> dict[str, Any]:
    """3 → 4: a job has a number of its own; that of one from before follows from what is in it, so that two
    copies of a file are one job."""
    return {**raw, "id": _number_of(raw)}


def _number_of(raw: dict[str, Any]) -> str:
    text = json.dumps({k: v for k, v in raw.items() if k not in ("format", "id")}, sort_keys=True)
    return hashlib.sha256(text.encode("utf-8", "surrogatepass")).hexdigest()[:32]


UPGRADES: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: _kinds_of_host,
    2: _stack_of_pieces,
    3: _a_number_of_its_own,
    4: dict,  # what is wanted of the work: nothing yet
    5: dict,  # its finish: the usual one
    6: dict,  # its wiring: nothing yet
}
"""Format version → function that lifts a job's raw data to the next version."""


def upgraded(raw: dict[str, Any], name: str) -> dict[str, Any]:
    """Raw job data lifted to the present format, one version at a time."""
    version = raw.get("format")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise FileError(
            f"{name} does not say which format it is in, so it is not a Urial job; open another file."
        )
    if version > FORMAT:
        raise FileError(
            f"{name} was saved by a newer Urial (format {version}, this one reads {FORMAT}); update "
            "Urial to open it."
        )
    while version < FORMAT:
        raw = UPGRADES[version](raw)
        version += 1
        raw["format"] = version
    return _as_it_was_built(raw)


BEFORE: dict[str, dict[str, str]] = {"ball-mount": {"ball_plate_edge": "square", "bar_edge": "square"}}
"""What a family's pieces were before they had a size that says so, where today's default is another."""


def _as_it_was_built(raw: dict[str, Any]) -> dict[str, Any]:
    """Pieces saved before a size existed keep what they were built as."""
    stack = raw.get("stack")
    for piece in stack if isinstance(stack, list) else []:
        values = piece.get("values") if isinstance(piece, dict) else None
        family = values.get("family") if isinstance(values, dict) else None
        if isinstance(family, str) and isinstance(values, dict):
            for key, value in BEFORE.get(family, {}).items():
                values.setdefault(key, value)
    return raw


def job_bytes(job: Job, indent: int | None = 1) -> bytes:
    """``job.json``: fields in the model's order, so the same job is the same bytes."""
    return (json.dumps(job.model_dump(mode="json"), ensure_ascii=False, indent=indent) + "\n").encode()


NOTHING: Mapping[str, bytes] = MappingProxyType({})


def to_bytes(document: Document, indent: int | None = 1, more: Mapping[str, bytes] = NOTHING) -> bytes:
    """The whole file.  Members are stored uncompressed with a fixed date: open, save is byte-stable.
    ``indent`` None writes the job in one line, which is ten times as quick.  ``more``: further members, which
    nobody reads that opens the file.
    """
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive:
        members = {"job.json": job_bytes(document.job, indent)}
        if document.log:
            members["log.jsonl"] = lines(document.log)
        members.update({f"attachments/{name}": data for name, data in sorted(document.attachments.items())})
        members.update(more)
        for name, data in members.items():
            info = zipfile.ZipInfo(name, _EPOCH)
            info.external_attr = 0o644 << 16
            archive.writestr(info, data)
    return out.getvalue()


def from_bytes(data: bytes, name: str = "The file") -> Document:
    """Read a whole file; FileError with one sentence when it is not one."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            if archive.getinfo("job.json").file_size > DOCUMENT:
                raise FileError(
                    f"{name} holds a document of more than 8 MB, which no job is; open another file."
                )
            kept = [
                info
                for info in archive.infolist()
                if info.filename.startswith("attachments/") and not info.is_dir() and _safe(info.filename)
            ]
            if (
                any(info.file_size > ATTACHMENT for info in kept)
                or sum(info.file_size for info in kept) > ATTACHMENTS
            ):
                raise FileError(
                    f"{name} holds pictures of more than 64 MB each or 256 MB together; make them "
                    "smaller and attach them again."
                )
            text = archive.read("job.json")  # no more is unpacked than the sizes above say
            if "log.jsonl" in archive.namelist() and archive.getinfo("log.jsonl").file_size > LOG:
                raise FileError(
                    f"{name} holds a log of more than 32 MB, which no job has; open another file."
                )
            log = archive.read("log.jsonl") if "log.jsonl" in archive.namelist() else b""
            attachments = {info.filename.removeprefix("attachments/"): archive.read(info) for info in kept}
    except KeyError:
        raise FileError(f"{name} holds no job.json, so it is not a Urial job; open another file.") from None
    except FileError:
        raise
    except (
        zipfile.BadZipFile,
        zipfile.LargeZipFile,
        EOFError,
        OSError,
        ValueError,
        NotImplementedError,
        RuntimeError,
        zlib.error,
        lzma.LZMAError,
        MemoryError,
    ):
        raise FileError(
            f"{name} is damaged or cut short and cannot be read; take an earlier copy. It was left as it is."
        ) from None
    try:
        done = read_lines(log)
    except ValueError as words:
        raise FileError(f"{name} is damaged: {words}; take an earlier copy. It was left as it is.") from None
    return Document(read_job(text, name), done, MappingProxyType(attachments))


def _safe(name: str) -> bool:
    """May a member's name be kept: no way out of its folder, nothing but a plain name."""
    return ".." not in name.split("/") and "\\" not in name and "\0" not in name and not name.startswith("/")


def read_job(text: bytes, name: str) -> Job:
    """A job from the bytes of ``job.json``."""
    try:
        raw = json.loads(text)
        if not isinstance(raw, dict):
            raise ValueError
    except (ValueError, RecursionError):
        raise FileError(
            f"{name} is damaged: its job.json cannot be read; take an earlier copy. It was left as it is."
        ) from None
    try:
        job = Job.model_validate(upgraded(raw, name))
    except ValidationError as error:
        raise FileError(f"{name} holds something Urial cannot use: {complaint(error)}") from None
    except FileError:
        raise
    except (ValueError, RecursionError, OverflowError):
        raise FileError(
            f"{name} is damaged: it holds text or figures that no job has; take an earlier copy. It "
            "was left as it is."
        ) from None
    _in_stock(job, name)
    if "origins" in raw:
        return job
    return told_apart(job, Job(hosts=(starting_host(str(getattr(job.vehicle, "kind", "pickup"))),)))


def _in_stock(job: Job, name: str) -> None:
    """FileError where a host is of something that nobody knows the strength of."""
    for number, one in enumerate(job.hosts, 1):
        things: list[Value] = [one, *one.left, *one.right]
        which = f"host {number}, " if len(job.hosts) > 1 else ""
        for thing in things:
            for key, s in specs(type(thing)).items():
                value = getattr(thing, key)
                if s.kind != "stock" or value is None:
                    continue
                try:
                    find(s.shelf, str(value))
                except StockError as error:
                    raise FileError(
                        f"{name} holds something Urial cannot use: {which}{s.title}: {error}"
                    ) from None


def load(path: Path) -> Document:
    """Open a job file."""
    try:
        found = path.stat()
        if not stat.S_ISREG(found.st_mode):
            raise FileError(
                f"{path.name} is {'a folder' if stat.S_ISDIR(found.st_mode) else 'a device or pipe'}, "
                "not a job file; open a file."
            )
        if found.st_size > LARGEST:
            raise FileError(f"{path.name} is larger than 300 MB, which no job is; open another file.")
        data = path.read_bytes()
    except OSError as error:
        raise FileError(f"{path.name} cannot be opened: {os_words(error)}.") from None
    return from_bytes(data, path.name)


def log_of(path: Path) -> tuple[Entry, ...]:
    """What was done to a job's steel, read without the rest of its file; nothing where it cannot be."""
    try:
        with zipfile.ZipFile(path) as archive:
            if archive.getinfo("log.jsonl").file_size > LOG:
                return ()
            return read_lines(archive.read("log.jsonl"))
    except (OSError, KeyError, ValueError, RuntimeError, NotImplementedError, zipfile.BadZipFile, zlib.error):
        return ()


def os_words(error: OSError) -> str:
    """An operating system error in words, with what to do."""
    words = {
        errno.ENOENT: "there is no such file or folder",
        errno.EACCES: "you may not use that place; choose another folder",
        errno.EPERM: "you may not use that place; choose another folder",
        errno.EROFS: "the folder is read-only; choose another folder",
        errno.ENOSPC: "the disk is full; make room or choose another disk",
        errno.EDQUOT: "your share of the disk is full; make room or choose another disk",
        errno.EISDIR: "that is a folder; give a file name",
        errno.ENOTDIR: "part of that path is a file, not a folder; choose another folder",
        errno.ENAMETOOLONG: "the name is too long; shorten it",
        errno.EEXIST: "something else of that name is in the way; choose another name",
    }
    return words.get(error.errno or 0, (error.strerror or "it failed").lower())


class FileChanged(FileError):
    """The file on disk is no longer the one that was opened or saved last; nothing was written."""


Fingerprint = tuple[int, int, int]


def fingerprint(path: Path) -> Fingerprint | None:
    """What tells a file on disk from any other state of it: when, how large, which one; None when it is
    not there.
    """
    try:
        found = path.stat()
    except OSError:
        return None
    return (found.st_mtime_ns, found.st_size, found.st_ino)


def _may_write(path: Path) -> None:
    """FileError when what stands there must not be replaced: a device, a folder, a file that is read-only."""
    try:
        mode = path.stat().st_mode
    except OSError:
        return
    if not stat.S_ISREG(mode):
        raise FileError(
            f"{path.name} in {path.parent} is "
            f"{'a folder' if stat.S_ISDIR(mode) else 'a device or pipe'}; give another name. Nothing "
            "was written."
        )
    if not mode & 0o222:
        raise FileError(
            f"{path.name} in {path.parent} is read-only; save under another name, or let it be "
            "written. Nothing was lost."
        )


def write_atomically(path: Path, data: bytes, *, durable: bool = True) -> None:
    """Write beside the target, then rename over it: the target is always the old file or the new one,
    whole.
    """
    path = Path(os.path.realpath(path))
    _may_write(path)
    handle, temporary = -1, ""
    try:
        handle, temporary = tempfile.mkstemp(prefix=f".{path.name[:40]}.", dir=path.parent)
        with os.fdopen(handle, "wb") as out:
            out.write(data)
            out.flush()
            if durable:
                os.fsync(out.fileno())
        mode = 0o644
        with contextlib.suppress(OSError):
            mode = path.stat().st_mode & 0o777
        os.chmod(temporary, mode)
        os.replace(temporary, path)
        if durable:
            _keep_name(path.parent)
    except OSError as error:
        if temporary:
            with contextlib.suppress(OSError):
                os.unlink(temporary)
        raise FileError(
            f"{path.name} could not be saved in {path.parent}: {os_words(error)}. Nothing was lost."
        ) from None


def _keep_name(folder: Path) -> None:
    """The new name is on the disk too, not only in memory."""
    with contextlib.suppress(OSError):
        handle = os.open(folder, os.O_RDONLY | getattr(os, "O_DIRECTORY", 0))
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def named(path: Path, suffix: str) -> Path:
    """The name as it was typed, with its kind at the end if it is not there: “truck rev.2” becomes “truck
    rev.2.urial”.
    """
    return path if path.name.lower().endswith(suffix) else path.with_name(path.name + suffix)


def save(path: Path, document: Document) -> None:
    """Save a job file atomically."""
    write_atomically(path, to_bytes(document))
