"""What is to be minded about a part beside its checks, by what somebody does about it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from urial.assembly.model import Part

Do = Literal["judge", "change", "measure", "load", "weld", "note"]
GROUPS: dict[Do, str] = {
    "judge": "Nobody judges this here: ask who can",
    "change": "Change or look at the size",
    "measure": "Measure again",
    "load": "Look at what is asked",
    "weld": "When it is welded",
    "note": "Noted",
}
"""The groups, the gravest first.  The last two are no problems: they matter at their step."""
NOTES: tuple[Do, ...] = ("weld", "note")


@dataclass(frozen=True)
class Mind:
    """One thing: what to do about it, and a sentence in mm, kg and N; ``each``: what it sums up."""

    do: Do
    words: str
    each: tuple[str, ...] = ()

    @property
    def note(self) -> bool:
        """Is it no problem?"""
        return self.do in NOTES


def spoken_of(words: str, parts: tuple[Part, ...]) -> Part | None:
    """The part a sentence names first, its longest name counting; None where it names none."""
    low, names = words.lower(), [p.name.lower() for p in parts]
    found = [(low.find(name), -len(name), n) for n, name in enumerate(names) if name in low]
    return parts[min(found)[2]] if found else None


__all__ = ["GROUPS", "NOTES", "Do", "Mind", "spoken_of"]
