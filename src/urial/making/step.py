"""Steps of the plan of work: what is done to which steel, what must be done before, and how far off it
may come out.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Literal, get_args

Kind = Literal[
    "buy",
    "send out",
    "saw",
    "mitre",
    "cope",
    "slot",
    "flatten",
    "bend",
    "trim",
    "cut plate",
    "drill",
    "ream",
    "tap",
    "bevel",
    "fold",
    "press",
    "transfer",
    "measure",
    "splice",
    "jig",
    "tack",
    "check",
    "run",
    "cool",
    "straighten",
    "grind",
    "dress",
    "mask",
    "coat",
    "wait",
    "wire",
    "mount",
    "torque",
    "proof",
    "hand over",
]
"""Kinds of work, in the order in which a shop usually comes to them."""
RANK: Mapping[str, int] = MappingProxyType({kind: n for n, kind in enumerate(get_args(Kind))})
CUTTING: frozenset[str] = frozenset(
    {"saw", "mitre", "cope", "slot", "flatten", "bend", "trim", "cut plate", "drill", "ream", "tap", "fold"}
)
"""Work after which the steel is no longer what it was: what was done to other sizes is stale."""


@dataclass(frozen=True)
class Reading:
    """What is measured at a step: its name, what it should be and how far off it may be (mm or degrees by
    ``unit``), and how it is measured.
    """

    what: str
    wanted: float
    tolerance: float
    how: str
    unit: Literal["mm", "°", "N·m", "kN"] = "mm"


@dataclass(frozen=True)
class Step:
    """One step of the plan.  ``key`` is ``part|kind|feature``; ``count`` how many equal pieces it is done
    to; ``parts`` their keys; ``joints`` what it makes; ``needs`` keys of what must be done before.

    ``settings``: figures for the tool; ``minutes`` for all pieces together, ``guessed`` as a usual shop takes
    them; ``figures``: the sizes that make its work what it is (mm, degrees), by name; ``slack``: how far one
    that nobody reads may be off, and its unit, where that is not half a millimetre.
    """

    key: str
    kind: Kind
    count: int
    parts: tuple[str, ...]
    marks: tuple[str, ...]
    words: str
    minutes: float
    joints: tuple[str, ...] = ()
    needs: frozenset[str] = frozenset()
    tool: str = ""
    settings: Mapping[str, float] = field(default_factory=lambda: MappingProxyType({}))
    reads: tuple[Reading, ...] = ()
    hazards: tuple[str, ...] = ()
    figures: Mapping[str, float] = field(default_factory=lambda: MappingProxyType({}))
    guessed: bool = True
    slack: Mapping[str, tuple[float, str]] = field(default_factory=lambda: MappingProxyType({}))

    @property
    def tolerance(self) -> Mapping[str, float]:
        """How far each figure may be off before the work is no longer right, by the figure's name."""
        return {r.what: r.tolerance for r in self.reads}


@dataclass(frozen=True)
class Plan:
    """Steps in an order that can be done: every need stands before what needs it."""

    steps: tuple[Step, ...]

    @property
    def by_key(self) -> Mapping[str, Step]:
        """Steps by key."""
        return {s.key: s for s in self.steps}

    @property
    def minutes(self) -> float:
        """All of it, minutes."""
        return sum(s.minutes for s in self.steps)


def key_of(part: str, kind: Kind, feature: str = "") -> str:
    """A step's key."""
    return f"{part}|{kind}|{feature}"


__all__ = ["CUTTING", "RANK", "Kind", "Plan", "Reading", "Step", "key_of"]
