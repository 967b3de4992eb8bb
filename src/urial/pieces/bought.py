"""What is the same of every bought, salvaged or copied piece: what nobody knows of its steel."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from urial.assembly.build import Build
from urial.assembly.model import Part
from urial.job.fields import choice

UNKNOWN = "S235"
"""What steel nobody knows is taken as: the lowest structural grade there is on the shelf."""
Metal = Literal["rolled", "unknown", "cast", "hardened"]
_WHY: dict[str, str] = {"unknown": "of metal nobody knows", "cast": "cast", "hardened": "hardened"}


def metal_of() -> Metal:
    """The field that asks for it."""
    out: Metal = choice(
        "rolled",
        "its metal",
        "A spark or file test tells. Nothing is welded to what is cast, hardened or not known.",
        words={"rolled": "rolled or drawn", "unknown": "not known", "cast": "cast", "hardened": "hardened"},
        group="Piece",
    )
    return out


def as_its_metal_is(b: Build, metal: Metal, parts: Iterable[Part]) -> None:
    """Nothing is welded to its parts where their metal does not allow it."""
    for part in parts if metal in _WHY else ():
        b.never_welded(part, _WHY[metal])


def note_unknown(b: Build, what: str) -> None:
    """Its steel is taken as the lowest."""
    b.note(
        f"{what} is unknown and taken as {UNKNOWN}, the lowest; do not weld on it without a spark or file "
        "test"
    )
