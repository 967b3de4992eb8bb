"""What stands in the way: the parts, the host's own metal and the keep-outs as closed bodies, and the room
that tools take.
"""

from __future__ import annotations

import math
import tomllib
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property, lru_cache
from importlib.resources import files
from typing import Any, Literal

from manifold3d import CrossSection, Manifold, RayHit

from urial.assembly import bodies
from urial.assembly.model import Assembly, Part
from urial.geometry.place import Place, Vec, along, minus, norm, times
from urial.geometry.solids import bounding_box
from urial.job.model import Job
from urial.job.survey import Block, Drum
from urial.mates.host import host_sockets
from urial.measure import keepout

Box = tuple[Vec, Vec]
TOUCH = 20.0
"""Space two bodies may share and still only touch, mm³."""
PIERCED = 4.0
"""Metal on a rod's axis beyond which the two share more than they may, mm: half of a 2 mm wire along it is
6 mm³."""
FAR = 1e4
"""Farther than any body reaches, mm."""
GRAZES = 0.1
"""Sine between a line and a face below which it may only touch it."""
ROUND = 24


@lru_cache(maxsize=1)
def tools() -> dict[str, Any]:
    """Sizes of tools, hands and tolerances."""
    return tomllib.loads((files("urial.fit") / "tools.toml").read_text(encoding="utf-8"))


def sized(row: list[float], across_flats: float) -> float:
    """A tool's size for a fastener: constant + share × across flats, mm."""
    return row[0] + row[1] * across_flats


@dataclass(frozen=True, eq=False)
class Body:
    """A closed body where it stands.  ``key`` of its part, or nothing; ``piece`` it belongs to."""

    name: str
    label: str
    key: str
    piece: str
    what: Literal["part", "keep-out", "host", "cargo"]
    solid: Manifold

    @cached_property
    def box(self) -> Box:
        """Two opposite corners, mm."""
        return bounding_box(self.solid)

    @cached_property
    def _shadows(self) -> dict[Vec, CrossSection]:
        return {}

    def shadow(self, way: Vec) -> CrossSection:
        """What it covers, looked at along a way.  Two bodies whose shadows lie apart never meet along it."""
        found = self._shadows.get(way)
        if found is None:
            turned = Place.facing((0.0, 0.0, 0.0), way).inverse()
            found = self._shadows[way] = self.solid.transform(turned.matrix).project()
        return found


def apart(a: Box, b: Box, gap: float = 0.0) -> bool:
    """Are two boxes apart?"""
    return any(a[0][k] > b[1][k] + gap or b[0][k] > a[1][k] + gap for k in range(3))


def shared(a: Manifold, b: Manifold) -> float:
    """Space two bodies share, mm³."""
    return max(float((a ^ b).volume()), 0.0)


def length_inside(body: Manifold, a: Vec, b: Vec) -> float:
    """How much of a straight line from ``a`` to ``b`` lies in a body, mm; none where it only grazes it."""
    long = norm(minus(b, a))
    way = times(minus(b, a), 1 / long)
    total, entered = 0.0, 0.0
    faces = body.ray_cast(list(a), list(b))
    for hit in faces:
        if _leaves(hit, way) > 0:
            total += hit.distance - entered
        entered = hit.distance
    if not faces:  # all of it lies in the metal, or none
        beyond = body.ray_cast(list(b), list(along(b, way, FAR)))
        total = float(bool(beyond) and _leaves(beyond[0], way) > GRAZES)
    elif _leaves(faces[-1], way) < -GRAZES:  # it ends in the metal
        total += 1 - entered
    return total * long


def _leaves(hit: RayHit, way: Vec) -> float:
    """How steeply a line along a unit ``way`` leaves a body at a face: 1 square to it; below 0 it enters."""
    n = hit.normal
    return float(n[0] * way[0] + n[1] * way[1] + n[2] * way[2])


@dataclass(frozen=True)
class Rod:
    """A round rod of a tool from ``o`` along ``way``, and the space it may share with a body, mm³."""

    o: Vec
    way: Vec
    diameter: float
    long: float
    may: float = TOUCH

    @cached_property
    def end(self) -> Vec:
        """The middle of its far end."""
        return along(self.o, self.way, self.long)

    @cached_property
    def solid(self) -> Manifold:
        """Its body."""
        return rod(self.o, self.way, self.diameter, self.long)

    @cached_property
    def box(self) -> Box:
        """Two opposite corners, mm; a little wide."""
        r, ends = self.diameter / 2, list(zip(self.o, self.end, strict=True))
        x, y, z = (min(e) - r for e in ends)
        u, v, w = (max(e) + r for e in ends)
        return (x, y, z), (u, v, w)

    def hits(self, body: Body) -> bool:
        """Does it share more space with a body than it may?  Metal on its axis settles it at once: a boolean
        of the two takes a hundred times as long.
        """
        if apart(self.box, body.box):
            return False
        pierced = length_inside(body.solid, self.o, self.end) > PIERCED
        return pierced or shared(self.solid, body.solid) > self.may


@dataclass(frozen=True, eq=False)
class Room:
    """Everything in the way."""

    bodies: tuple[Body, ...]

    def near(self, box: Box, leave: frozenset[str] = frozenset()) -> list[Body]:
        """The bodies whose boxes meet a box, but for some parts."""
        return [b for b in self.bodies if b.key not in leave and not apart(box, b.box)]

    def first_hit(
        self, tool: Manifold, leave: frozenset[str] = frozenset(), touch: float = TOUCH
    ) -> Body | None:
        """The body that takes most of a tool's room; None where it is free."""
        best, most = None, touch
        for b in self.near(bounding_box(tool), leave):
            size = shared(tool, b.solid)
            if size > most:
                best, most = b, size
        return best

    def free(self, tool: Manifold, leave: frozenset[str] = frozenset(), touch: float = TOUCH) -> bool:
        """Is a tool's room empty?"""
        return all(shared(tool, b.solid) <= touch for b in self.near(bounding_box(tool), leave))

    def only(self, keys: Iterable[str]) -> Room:
        """With no other parts than these; host and keep-outs stay."""
        kept = frozenset(keys)
        return Room(tuple(b for b in self.bodies if b.what != "part" or b.key in kept))


def part_body(part: Part) -> Body:
    """A part as a body."""
    return Body(part.name, part.mark or part.name, part.key, part.piece, "part", bodies.body(part))


def room_of(job: Job, assembly: Assembly) -> Room:
    """Parts, the host's metal, and the keep-outs that are things (blocks and drums): sensors' views and what
    swings are kept free of the part and are no wall to a hand.
    """
    out = [part_body(p) for p in assembly.parts]
    for socket in host_sockets(job.vehicle):
        for name, place, size in socket.bodies:
            block = Manifold.cube(list(size), True).transform(place.matrix)
            out.append(Body(name, name, "", "", "host", block))
    for keep in job.survey.keep_outs:
        if isinstance(keep, (Block, Drum)) and keep.fate not in (
            "off",
            "gone",
        ):  # not there while it is fitted
            solid = keepout.solid(keep, job.vehicle)
            out.append(Body(f"“{keep.name}”", keep.name, "", "", "keep-out", solid))
    return Room(tuple(out))


# ---- the room a tool takes


@lru_cache(maxsize=512)
def _upright(diameter: float, long: float) -> Manifold:
    return Manifold.cylinder(long, diameter / 2, diameter / 2, ROUND)


def rod(o: Vec, way: Vec, diameter: float, long: float) -> Manifold:
    """A round rod from ``o`` along ``way``."""
    return _upright(diameter, long).transform(Place.facing(o, way).matrix)


def socket_and_bar(o: Vec, out: Vec, across_flats: float, high: float) -> Manifold:
    """A socket over a head that stands ``high`` on ``o``, and the bar that turns it."""
    t = tools()["socket"]
    body, long = sized(t["outside"], across_flats), sized(t["long"], across_flats)
    at = Place.facing(o, out)
    low = Manifold.cylinder(max(long, high + 10.0) - 0.5, body / 2, body / 2, ROUND).translate([0, 0, 0.5])
    bar = Manifold.cylinder(t["bar_long"] + long, t["bar"] / 2, t["bar"] / 2, ROUND)
    return (low + bar).transform(at.matrix)


def spanner(o: Vec, out: Vec, across_flats: float, high: float, start: float, sweep: float) -> Manifold:
    """A spanner on a head, its arm swept from one angle over another, radians about ``out``."""
    t = tools()["spanner"]
    head, thick = sized(t["head"], across_flats), sized(t["thick"], across_flats)
    reach, wide = sized(t["reach"], across_flats), sized(t["arm_wide"], across_flats)
    low = max(high / 2 - thick / 2, 0.5)
    arm = Manifold.cube([reach, wide, thick]).translate([0, -wide / 2, low])
    turned = [arm.rotate([0, 0, math.degrees(start + sweep * k / 2)]) for k in range(3 if sweep > 0 else 1)]
    swept = Manifold.batch_hull(turned) if len(turned) > 1 else turned[0]
    ring = Manifold.cylinder(thick, head / 2, head / 2, ROUND).translate([0, 0, low])
    return (swept + ring).transform(Place.facing(o, out).matrix)
