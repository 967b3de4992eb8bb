"""What was found: findings, the order it goes on in, what each piece takes to put on and off."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from urial.geometry.place import Vec

Kind = Literal["clash", "access", "order", "hole", "stack"]
Stopped = Callable[[], bool]
"""Does nobody wait for the answer any more?"""


def never() -> bool:
    """Somebody waits."""
    return False


@dataclass(frozen=True)
class Move:
    """One edit that clears a finding, really tried: parameter, value, in words."""

    path: str
    value: float
    words: str


@dataclass(frozen=True)
class Finding:
    """Something in the way.  ``parts``: marks, or a keep-out's or the host part's name; ``at`` in host axes;
    ``amount`` mm too little or too deep; ``advice`` what clears it where no single size does; ``waived``:
    why somebody lives with it.
    """

    id: str
    kind: Kind
    parts: tuple[str, ...]
    at: Vec
    amount: float | None
    words: str
    move: Move | None = None
    advice: str = ""
    waived: str = ""

    @property
    def remedy(self) -> str:
        """What to do about it, or nothing."""
        return self.move.words if self.move else self.advice


@dataclass(frozen=True)
class Step:
    """One thing that goes on, in its turn: its parts, the way it comes *off* and how far until it is free;
    ``via``: by how much it is shifted before.
    """

    name: str
    keys: tuple[str, ...]
    off: Vec
    far: float
    words: str
    via: Vec = (0.0, 0.0, 0.0)


@dataclass(frozen=True)
class OnOff:
    """What a piece takes to put on: mass, balance point, fasteners, spanner sizes, minutes for one person."""

    piece: str
    name: str
    kg: float
    balance: Vec
    bolts: int
    pins: int
    spanners: tuple[float, ...]
    minutes: float
    words: str


@dataclass(frozen=True)
class Fit:
    """All that was found.  ``early``: what was stopped at its bound before it was done."""

    findings: tuple[Finding, ...] = ()
    steps: tuple[Step, ...] = ()
    pieces: tuple[OnOff, ...] = ()
    facts: tuple[str, ...] = ()
    early: tuple[str, ...] = ()

    @property
    def open(self) -> tuple[Finding, ...]:
        """What nobody has waived."""
        return tuple(f for f in self.findings if not f.waived)

    @property
    def clear(self) -> bool:
        """Does it go together?"""
        return not self.open
