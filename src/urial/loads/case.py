"""A load case as a value, and the named places that cases load."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from dataclasses import field as kept

import numpy as np
from numpy.typing import NDArray

from urial.assembly.model import Assembly
from urial.geometry.place import Vec

Six = tuple[float, float, float, float, float, float]


@dataclass(frozen=True)
class Field:
    """What every kilogram is pushed with, N: ``push`` everywhere; sideways ``veer`` and upwards ``lift`` more
    for each mm that it is ahead of ``about``, upwards ``roll`` more for each mm that it is to the left of it.
    """

    push: Vec
    about: Vec = (0.0, 0.0, 0.0)
    veer: float = 0.0
    lift: float = 0.0
    roll: float = 0.0

    def at(self, p: Vec) -> Vec:
        """N on a kilogram at a place."""
        x, y = p[0] - self.about[0], p[1] - self.about[1]
        return (
            self.push[0],
            self.push[1] + self.veer * x,
            self.push[2] + self.lift * x + self.roll * y,
        )

    def on(self, places: NDArray[np.float64]) -> NDArray[np.float64]:
        """The same at many places (n, 3)."""
        x, y = places[:, 0] - self.about[0], places[:, 1] - self.about[1]
        out = np.tile(np.array(self.push, dtype=float), (len(places), 1))
        out[:, 1] += self.veer * x
        out[:, 2] += self.lift * x + self.roll * y
        return out

    def leaning(self, share: float) -> Field:
        """The same with so much of what pushes sideways."""
        return replace(self, push=(self.push[0], share * self.push[1], self.push[2]), veer=share * self.veer)


@dataclass(frozen=True)
class Case:
    """One load case: force and moment by load point (host axes, N and N·mm), and where it comes from.

    ``weight`` scales demands (1/1.67 for a test or an accident, judged at nominal strength); ``pulls`` are
    where the forces really act, for drawing (empty: at the load points).  ``field`` pushes on the part's own
    mass; ``ground`` is what the ground holds wheels with sideways, by load point."""

    id: str
    title: str
    loads: Mapping[str, Six]
    reason: str
    source: str
    weight: float = 1.0
    changed: bool = False
    pulls: tuple[tuple[Vec, Vec], ...] = ()
    field: Field | None = None
    ground: Mapping[str, Six] = kept(default_factory=dict)


@dataclass(frozen=True)
class LoadPoint:
    """Who takes a load and where; ``lands``: the place in its metal, if that is another."""

    part: str
    at: Vec
    lands: Vec | None = None


def apart(cases: Iterable[Case]) -> tuple[Case, ...]:
    """Cases whose ids differ: of several of one name (two receivers on a host) later ones are numbered."""
    seen: dict[str, int] = {}
    out = []
    for c in cases:
        n = seen[c.id] = seen.get(c.id, 0) + 1
        out.append(c if n == 1 else replace(c, id=f"{c.id} ({n})", title=f"{c.title} ({n})"))
    return tuple(out)


MOUTH = " mouth"


def load_points(assembly: Assembly) -> dict[str, LoadPoint]:
    """Every place a duty may load: each socket, and the mouth of each bore (on the bar in it, where there
    is one).
    """
    out = {}
    for s in assembly.sockets:
        part = assembly.loaded_part(s)
        out[s.key] = LoadPoint(part, s.place.o, s.lands if part == s.part else None)
        if s.kind == "receiver":
            out[s.key + MOUTH] = LoadPoint(part, s.place.point((0.0, 0.0, s.depth)))
    return out


def sockets_of(assembly: Assembly, kind: str) -> list[str]:
    """Keys of the open sockets of a kind."""
    return [s.key for s in assembly.sockets if s.kind == kind and s.key not in assembly.occupied]
