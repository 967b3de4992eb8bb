"""Recovery after a crash: every edit is kept beside the state of the application until the job is saved or
closed.
"""

from __future__ import annotations

import contextlib
import errno
import io
import json
import os
import re
import shutil
import time
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from hashlib import sha256
from pathlib import Path
from uuid import uuid4

from urial.job.file import Document, FileError, Fingerprint, from_bytes, to_bytes, write_atomically
from urial.job.log import Entry, lines, read_lines, union
from urial.journal import state_dir

KEPT = "kept.json"
"""Member of a copy that says under which hash each attachment lies beside it."""
KINDS = (".json", ".urial", ".files", ".jsonl")


@dataclass(frozen=True)
class Leftover:
    """A recovery copy whose application is gone."""

    document: Document
    path: Path  # the recovery copy
    origin: Path | None  # the file it was opened from
    disk: Fingerprint | None = None  # of that file when it was opened or saved last

    @property
    def when(self) -> str:
        """When it was last kept, to the minute."""
        try:
            return datetime.fromtimestamp(self.path.stat().st_mtime).strftime("%Y-%m-%d %H:%M")
        except OSError:
            return "time unknown"

    @property
    def size(self) -> str:
        """How large the copy is."""
        try:
            beside = self.path.with_suffix(".files")
            files = [self.path, *(beside.iterdir() if beside.is_dir() else ())]
            return f"{max(sum(f.stat().st_size for f in files) / 1000, 1):.0f} kB"
        except OSError:
            return "size unknown"


class Recovery:
    """One open document's recovery copy."""

    def __init__(self, folder: Path | None = None) -> None:
        self.folder = folder or state_dir() / "recovery"
        self._stem = uuid4().hex
        self._path = self.folder / f"{self._stem}.urial"
        self._note = self.folder / f"{self._stem}.json"
        self._files = self.folder / f"{self._stem}.files"
        self._journal = self.folder / f"{self._stem}.jsonl"
        self._hashed: dict[str, tuple[bytes, str]] = {}
        self._there: set[str] = set()
        self._noted: tuple[str, Fingerprint | None] | None = None  # what the note says, once it is written

    def keep(self, document: Document, origin: Path | None, disk: Fingerprint | None = None) -> None:
        """Keep the document as it is now (survives the application being killed at any moment).  ``disk``:
        what tells the file it was opened from, as it was then, from what somebody else saves there since.
        """
        self.folder.mkdir(parents=True, exist_ok=True)
        where = str(origin.absolute()) if origin else ""  # whole, for it may be read from another folder
        if self._noted != (where, disk) or not self._note.exists():
            note = {
                "pid": os.getpid(),
                "started": _started(os.getpid()),
                "origin": where or None,
                "disk": disk,
            }
            write_atomically(self._note, json.dumps(note).encode(), durable=False)
            self._noted = where, disk
        kept = {name: self._kept(name, data) for name, data in document.attachments.items()}
        bare = replace(document, attachments={})
        copy = to_bytes(bare, indent=None, more={KEPT: json.dumps(kept).encode()})
        write_atomically(self._path, copy, durable=False)

    def _kept(self, name: str, data: bytes) -> str:
        """An attachment lies beside the copy under its hash, written once however often the job changes."""
        before = self._hashed.get(name)
        if before is None or before[0] is not data:
            self._hashed[name] = before = data, sha256(data).hexdigest()
        if before[1] not in self._there:
            self._files.mkdir(parents=True, exist_ok=True)
            write_atomically(self._files / before[1], data, durable=False)
            self._there.add(before[1])
        return before[1]

    @property
    def begun(self) -> bool:
        """Is there a copy on disk?"""
        return self._path.exists() and self._note.exists()

    def note(self, entries: Sequence[Entry]) -> None:
        """Entries of the log, on the disk before anybody sees their ticks.  OSError where they cannot be."""
        fresh = not self._journal.exists()
        with self._journal.open("ab", buffering=0) as file:
            whole = file.seek(0, os.SEEK_END)
            try:
                data = lines(entries)
                if file.write(data) != len(data):
                    raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))
                os.fsync(file.fileno())
            except OSError:
                file.truncate(whole)  # half a line would spoil every entry after it
                raise
        if fresh:
            folder = os.open(self.folder, os.O_RDONLY)
            try:
                os.fsync(folder)
            finally:
                os.close(folder)

    def drop(self) -> None:
        """The document is safely saved, or closed on purpose."""
        for path in (self._path, self._note, self._journal):
            with contextlib.suppress(OSError):
                path.unlink()
        shutil.rmtree(self._files, ignore_errors=True)
        self._there.clear()


def _read(copy: Path) -> Document:
    """A copy with the attachments that lie beside it; one that is gone or damaged is missing from it.
    FileError, OSError, ValueError for what is no copy.
    """
    data = copy.read_bytes()
    document = from_bytes(data, copy.name)
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        named = json.loads(archive.read(KEPT)) if KEPT in archive.namelist() else {}
    found: dict[str, bytes] = {}
    for name, digest in named.items() if isinstance(named, dict) else ():
        if not isinstance(digest, str) or not re.fullmatch("[0-9a-f]{64}", digest):
            continue
        with contextlib.suppress(OSError):
            file = (copy.with_suffix(".files") / digest).read_bytes()
            if sha256(file).hexdigest() == digest:
                found[name] = file
    with contextlib.suppress(OSError, ValueError):  # a torn last line is what a crash left
        document = replace(document, log=union(document.log, read_lines(_journal_of(copy).read_bytes())))
    return replace(document, attachments={**document.attachments, **found}) if found else document


def _journal_of(copy: Path) -> Path:
    return copy.with_suffix(".jsonl")


def _started(pid: int) -> str | None:
    """When a process began, so that a recycled process number is not mistaken for it; None when it is
    gone.
    """
    try:
        return Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[19]
    except (OSError, IndexError):
        return None


def leftovers(folder: Path | None = None) -> list[Leftover]:
    """Recovery copies left behind by an application that is no longer running."""
    folder = folder or state_dir() / "recovery"
    found: list[Leftover] = []
    _sweep(folder)
    for note_path in sorted(folder.glob("*.json")):
        copy = note_path.with_suffix(".urial")
        try:
            note = json.loads(note_path.read_text())
            if _started(int(note["pid"])) is not None and _started(int(note["pid"])) == note["started"]:
                continue
            document = _read(copy)
            origin = Path(note["origin"]) if isinstance(note.get("origin"), str) and note["origin"] else None
        except (
            OSError,
            ValueError,
            KeyError,
            TypeError,
            AttributeError,
            OverflowError,
            RecursionError,
            FileError,
        ):
            continue  # an odd note is left alone; it takes nobody's work with it
        if origin is not None and not origin.is_absolute():
            origin = None
        found.append(Leftover(document, copy, origin, _disk(note.get("disk"))))
    return found


def _disk(noted: object) -> Fingerprint | None:
    """A fingerprint as a note has it; None where it has none, or an odd one."""
    if isinstance(noted, list) and len(noted) == 3 and all(isinstance(v, int) for v in noted):
        return noted[0], noted[1], noted[2]
    return None


OLD_S = 7 * 24 * 3600
"""Halves of a pair and unfinished writes older than this are swept away, seconds."""


def _sweep(folder: Path) -> None:
    """Take away what belongs to nothing: a note without its copy, a copy without its note, a write that
    was never finished.
    """
    try:
        every = list(folder.iterdir())
    except OSError:
        return
    now = time.time()
    for path in every:
        other = path.with_suffix(".json" if path.suffix == ".urial" else ".urial")
        alone = path.name.startswith(".") or (path.suffix in KINDS and not other.exists())
        with contextlib.suppress(OSError):
            if alone and now - path.stat().st_mtime > OLD_S:
                if path.is_dir():
                    shutil.rmtree(path, ignore_errors=True)
                else:
                    path.unlink()


def forget(leftover: Leftover) -> None:
    """Remove a recovery copy that was taken up or declined."""
    for path in (leftover.path, leftover.path.with_suffix(".json"), _journal_of(leftover.path)):
        with contextlib.suppress(OSError):
            path.unlink()
    shutil.rmtree(leftover.path.with_suffix(".files"), ignore_errors=True)
