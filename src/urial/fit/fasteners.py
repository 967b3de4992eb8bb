"""Bolts, nuts and pins as tools see them: axis, head, nut, how long, what they pass through."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from urial.assembly.model import Assembly, Part
from urial.geometry.place import Place, Vec, along, cross, dot, minus, norm, times
from urial.geometry.shape import Turned


@dataclass(frozen=True)
class Grip:
    """Something a tool takes hold of: a head or a nut.  ``seat`` under it, ``out`` away from what it presses
    on, mm.
    """

    part: Part
    seat: Vec
    out: Vec
    across_flats: float
    high: float


@dataclass(frozen=True)
class Fastener:
    """A bolt with its nut; without ``nut`` it goes into a thread, without ``head`` the nut is on a stud."""

    head: Grip | None
    nut: Grip | None
    shank: float = 0.0  # under the head, mm
    diameter: float = 0.0

    @property
    def part(self) -> Part:
        """The bolt, or the nut of a stud."""
        grip = self.head or self.nut
        assert grip is not None
        return grip.part

    @property
    def at(self) -> Vec:
        """Under its head."""
        grip = self.head or self.nut
        assert grip is not None
        return grip.seat


@dataclass(frozen=True)
class PinLike:
    """A plain pin: its middle line and diameter, mm."""

    part: Part
    a: Vec
    b: Vec
    diameter: float


def _hexed(part: Part) -> bool:
    shape = part.shape
    return isinstance(shape, Turned) and not shape.sphere and any(step[2] == 6 for step in shape.steps)


def _grip(part: Part) -> tuple[Grip, float, float] | None:
    """A bolt's head or a nut, with the shank's length and diameter (0 for a nut)."""
    shape = part.shape
    assert isinstance(shape, Turned)
    at: Place = part.place @ shape.place
    first = shape.steps[0]
    if first[2] != 6:
        return None
    if len(shape.steps) > 1:
        seat = along(at.o, at.z, first[0])
        return Grip(part, seat, times(at.z, -1), first[1], first[0]), shape.steps[1][0], shape.steps[1][1]
    return Grip(part, at.o, at.z, first[1], first[0]), 0.0, 0.0


def fasteners(parts: Sequence[Part]) -> list[Fastener]:
    """Every bolt with the nut on its axis, and the nuts that are on studs."""
    bolts: list[tuple[Grip, float, float]] = []
    nuts: list[Grip] = []
    for p in parts:
        found = _grip(p) if p.hardware and _hexed(p) else None
        if found is not None:
            if found[1]:
                bolts.append(found)
            else:
                nuts.append(found[0])
    out = []
    for head, shank, diameter in bolts:
        way = times(head.out, -1)

        def on_it(n: Grip, head: Grip = head, way: Vec = way, shank: float = shank) -> bool:
            off = minus(n.seat, head.seat)
            return norm(cross(off, way)) < 1.0 and -1.0 <= dot(off, way) <= shank + 1.0

        mine = next((n for n in nuts if on_it(n)), None)
        if mine is not None:
            nuts.remove(mine)
        out.append(Fastener(head, mine, shank, diameter))
    return out + [Fastener(None, n) for n in nuts]


def pins(assembly: Assembly) -> list[PinLike]:
    """Plain pins that are pushed in: round, slim, without a head that is turned."""
    out = []
    for p in assembly.parts:
        shape = p.shape
        if not (p.hardware and isinstance(shape, Turned)) or _hexed(p) or shape.bore or shape.sphere:
            continue
        long, wide = sum(s[0] for s in shape.steps), max(s[1] for s in shape.steps)
        if long < 2 * wide or not ("pin" in p.name or "pivot" in p.name):
            continue
        at = p.place @ shape.place
        out.append(PinLike(p, at.o, along(at.o, at.z, long), wide))
    return out
