"""The shop's own kinds of part: a piece as somebody changed it, kept under a name of its own.

It is data and no code: the kind it was made from, its sizes, its formulas.  A job that has one carries all of
it, so that it opens anywhere.  A file that no longer loads stays where it is and is named.
"""

from __future__ import annotations

import json
import os
import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any, Literal

from pydantic import Field, ValidationError

from urial.assembly.model import Assembly, BuildError
from urial.complaints import complaint
from urial.families import build, new_job, with_marks
from urial.families.registry import Family, families
from urial.job.fields import Value
from urial.job.file import os_words, write_atomically
from urial.job.model import Job, Piece
from urial.journal import state_dir
from urial.words import Complaint

ENDING = ".urial-kind"
OWN = "shop:"
"""Before the name of one of the shop's own kinds, where a kind's name is asked for."""
LARGEST, MOST = 1_000_000, 300


class ShopError(Complaint):
    """It cannot be kept or read; the message is one sentence."""


class ShopKind(Value):
    """One of the shop's own kinds: its name, what it is for, and the piece as it starts."""

    format: Literal[1] = 1
    title: str = Field(min_length=1, max_length=60, title="name")
    about: str = Field("", max_length=300, title="about")
    piece: Piece

    @property
    def family(self) -> Family:
        """The kind it was made from, under its own title."""
        base = families()[self.piece.family]
        return replace(base, title=self.title, about=self.about or f"The shop's own {base.title.lower()}.")

    @property
    def name(self) -> str:
        """What it is called where a kind's name is asked for."""
        return OWN + self.file.removesuffix(ENDING)

    @property
    def file(self) -> str:
        """Its file's name."""
        return file_name(self.title)


@dataclass(frozen=True)
class Shelf:
    """What the shop has of its own, by title, and what could not be read: file and why."""

    kinds: tuple[ShopKind, ...] = ()
    lost: tuple[tuple[str, str], ...] = ()


def file_name(title: str) -> str:
    """A file's name for a title; ShopError where nothing of it is left."""
    plain = re.sub(r"[^\w-]+", "-", title.strip().lower()).strip("-_")[:50]
    if not plain:
        raise ShopError(f"“{title}” has no letter or figure in it to name a file by; call it otherwise.")
    return plain + ENDING


def folder() -> Path:
    """Where they are kept."""
    return state_dir() / "kinds"


def kind_of(job: Job, number: str, title: str, about: str = "") -> ShopKind:
    """A piece of a job as one of the shop's own kinds.  ShopError in a sentence."""
    piece = next((p for p in job.stack if p.id == number), None)
    if piece is None:
        raise ShopError(f"There is no piece {number} in this job.")
    if any(f.title.lower() == title.strip().lower() for f in families().values()):
        raise ShopError(f"There is a kind called “{title.strip()}” already; give yours a name of its own.")
    foreign = [f.size for f in piece.formulas if re.search(r"(?<![\w.])\d+\.[A-Za-z_]", f.text)]
    if foreign:
        raise ShopError(
            f"A formula of it follows another piece of this job ({', '.join(foreign)}); give that size a "
            "figure first."
        )
    alone = piece.model_copy(update={"id": "1", "on": "host", "socket": ""})
    try:
        return ShopKind(title=title.strip(), about=about.strip(), piece=alone)
    except ValidationError as error:
        raise ShopError(complaint(error)) from None


def as_bytes(kind: ShopKind) -> bytes:
    """Its file."""
    return json.dumps(kind.model_dump(mode="json"), ensure_ascii=False, indent=1).encode("utf-8")


def read(data: bytes, name: str = "the file") -> ShopKind:
    """One of the shop's kinds from a file, perhaps a stranger's.  ShopError in a sentence."""
    if len(data) > LARGEST:
        raise ShopError(f"{name} is larger than a kind of part can be ({LARGEST // 1_000_000} MB).")
    try:
        raw: Any = json.loads(data.decode("utf-8"))
        if not isinstance(raw, dict) or not isinstance(raw.get("piece"), dict):
            raise ShopError(f"{name} is not a kind of part of a shop's own.")
        if raw.get("format") != 1:
            raise ShopError(
                f"{name} is of a later version of Urial; open it there, or bring Urial up to date."
            )
        kind = ShopKind.model_validate(raw)
    except ValidationError as error:
        raise ShopError(f"{name} does not load: {complaint(error)}") from None
    except ShopError:
        raise
    except (ValueError, RecursionError, OverflowError):  # no JSON, or figures of thousands of digits
        raise ShopError(f"{name} is not a kind of part of a shop's own, or is damaged.") from None
    file_name(kind.title)  # one that no file can be named by can be neither kept nor forgotten
    return kind


def keep(kind: ShopKind, where: Path | None = None) -> Path:
    """Put it on the shop's shelf, in place of one of the same name."""
    at = (where or folder()) / kind.file
    try:
        at.parent.mkdir(parents=True, exist_ok=True)
        write_atomically(at, as_bytes(kind))
    except OSError as error:
        raise ShopError(f"“{kind.title}” cannot be kept in {at.parent}: {os_words(error)}.") from None
    return at


def forget(kind: ShopKind, where: Path | None = None) -> None:
    """Take it off the shelf."""
    try:
        os.unlink((where or folder()) / kind.file)
    except FileNotFoundError:
        return
    except OSError as error:
        raise ShopError(f"“{kind.title}” cannot be taken off the shelf: {os_words(error)}.") from None


def shelf(where: Path | None = None) -> Shelf:
    """All that is there; what does not load is named and left alone."""
    at = where or folder()
    try:
        files = sorted(f for f in at.iterdir() if f.name.endswith(ENDING) and f.is_file())[:MOST]
    except OSError:
        return Shelf()
    kinds, lost = [], []
    for f in files:
        try:
            if f.stat().st_size > LARGEST:
                raise ShopError(f"{f.name} is larger than a kind of part can be.")
            kinds.append(read(f.read_bytes(), f.name))
        except ShopError as error:
            lost.append((f.name, str(error)))
        except OSError as error:
            lost.append((f.name, f"{f.name} cannot be read: {os_words(error)}."))
    return Shelf(tuple(sorted(kinds, key=lambda k: k.title.lower())), tuple(lost))


def put_on(job: Job, kind: ShopKind, on: str, socket: str) -> Job:
    """The job with a piece of the kind in an open place."""
    number = str(max((int(p.id) for p in job.stack), default=0) + 1)
    where = kind.family.on if on == "host" else socket
    piece = kind.piece.model_copy(update={"id": number, "on": on, "socket": where})
    return job.model_copy(update={"stack": (*job.stack, piece)})


def called(name: str, where: Path | None = None) -> ShopKind:
    """The kind of a name that begins with ``OWN``.  ShopError when there is none."""
    kinds = shelf(where).kinds
    found = next((k for k in kinds if k.name == name), None)
    if found is None:
        have = ", ".join(k.name for k in kinds) or "none yet"
        raise ShopError(f"The shop has no kind of its own called “{name}”; it has {have}.")
    return found


def start(kind: ShopKind, host: str | None = None, on: tuple[str, ...] = ()) -> Job:
    """A job with one of the shop's kinds on what its kind usually stands on, with its kind's duty."""
    usual = new_job(kind.piece.family, host, on)
    number = next(p.id for p in usual.stack if p.family == kind.piece.family)
    stack: Sequence[Piece] = [
        p if p.id != number else kind.piece.model_copy(update={"id": p.id, "on": p.on, "socket": p.socket})
        for p in usual.stack
    ]
    return with_marks(usual.model_copy(update={"title": kind.title, "stack": tuple(stack), "marks": {}}))


def sketch(kind: ShopKind) -> Assembly:
    """Its own steel as it starts, on what its kind usually stands on."""
    whole = build(start(kind))
    number = next(p.id for p in start(kind).stack if p.family == kind.piece.family)
    return Assembly(tuple(p for p in whole.parts if p.piece == number), titles=whole.titles)


__all__ = [
    "BuildError",
    "Shelf",
    "ShopError",
    "ShopKind",
    "called",
    "forget",
    "keep",
    "kind_of",
    "put_on",
    "read",
    "shelf",
    "sketch",
    "start",
]
