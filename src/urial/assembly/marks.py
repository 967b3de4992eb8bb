"""Marks A, B, C … for steel, X1, X2 … for hardware: given once and kept in the job, since steel that is
cut keeps its mark.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from itertools import count

from urial.assembly.model import Assembly, bare

LETTERS = "ABCDEFGHJKLMNPQRSTUVWYZ"


def _sided(mark: str) -> bool:
    return len(mark) > 1 and mark[-1] in "LR"


def _letters() -> list[str]:
    return [m for m in (*LETTERS, *(a + b for a in LETTERS for b in LETTERS)) if not _sided(m)]


def marks(assembly: Assembly, kept: Mapping[str, str]) -> dict[str, str]:
    """Part families (keys without instance) to marks: those already given (twice given counts once), then
    the next free ones in the order of building.  AL and AR are a left and a right A, nothing else's."""
    out: dict[str, str] = {}
    used: set[str] = set()
    for family, mark in kept.items():
        if mark not in used and not _sided(mark):
            out[family] = mark
            used.add(mark)
    letters = (m for m in _letters() if m not in used)
    numbers = (f"X{n}" for n in count(1) if f"X{n}" not in used)
    for part in assembly.parts:
        if part.family not in out:
            out[part.family] = next(numbers) if part.hardware else next(letters)
    return out


def marked(assembly: Assembly, kept: Mapping[str, str]) -> Assembly:
    """The assembly with every part's mark: left and right of a family are BL and BR."""
    table = marks(assembly, kept)
    return replace(
        assembly,
        parts=tuple(
            replace(p, mark=table[p.family] + (p.side[0].upper() if p.side else "")) for p in assembly.parts
        ),
    )


__all__ = ["bare", "marked", "marks"]
