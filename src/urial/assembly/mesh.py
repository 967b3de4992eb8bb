"""The frame's shape: what bends, between which nodes, joined by what.

A bar becomes beams between the places its joints land on. A plate becomes strips from its largest joint to
each of the others, as wide as the metal across the way of the force. Hardware is rigid. A part that only
hangs on (one joint, no load) carries nothing and is left out. Stiffness belongs to `strength`; here is only
where things are.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray

from urial.assembly import facts
from urial.assembly.model import HOST, Assembly, Bolts, Hook, Joint, Part, Shank, Weld
from urial.geometry import axis, folded
from urial.geometry import path as paths
from urial.geometry.place import Vec
from urial.geometry.shape import Bar, Plate
from urial.stock.sections import Section, rect_bar

Array = NDArray[np.float64]
MERGE = 1.0
"""Joints nearer than this along a bar land on one node, mm."""
SPREAD = math.tan(math.radians(30))


@dataclass(frozen=True)
class Beam:
    """A stretch of a part between two nodes.

    ``start`` and ``size`` say where it lies on the part (mm); ``judged`` are the fractions between which it
    is not stiffened by what is joined to it; ``free`` its unbraced length and ``k`` the effective length
    factor.
    """

    id: str
    part: str
    i: str
    j: str
    section: Section
    up: Vec
    start: float
    size: float
    judged: tuple[tuple[float, float], ...]
    free: float
    k: float
    strip: Strip | None = None

    @property
    def landing(self) -> str:
        """The strip it is of, which may be several beams round folds."""
        return self.id.rpartition("#")[2].partition(".")[0]


@dataclass(frozen=True)
class Strip:
    """The way of a force through a plate: from u, v to u, v; where the joints' footprints end (fractions).

    ``bolted`` are the fractions where the outermost bolts of either end stand: 0 and 1 where there are none.
    ``spreads`` says of either end whether the force begins there no wider than a joint, and spreads; a ball's
    shank or a load acts on all of the plate about it.
    Round a fold the way is several beams: each has its stretch, which begins ``before`` mm after the whole
    way does and leaves ``after`` mm of it; ``bend`` names the fold it goes through.
    """

    a: tuple[float, float]
    b: tuple[float, float]
    leaves: float
    arrives: float
    width: float
    bolted: tuple[float, float] = (0.0, 1.0)
    spreads: tuple[bool, bool] = (True, True)
    before: float = 0.0
    after: float = 0.0
    bend: int | None = None

    @property
    def way(self) -> tuple[float, float]:
        """Its direction over the plate."""
        size = math.dist(self.a, self.b)
        return ((self.b[0] - self.a[0]) / size, (self.b[1] - self.a[1]) / size)

    def from_ends(self, s: float) -> float:
        """How far a place ``s`` mm along it is from the nearer end of the whole way a force spreads from,
        mm; no end of it says where there is none.
        """
        ends = (s + self.before, math.dist(self.a, self.b) - s + self.after)
        far = [x for x, spreads in zip(ends, self.spreads, strict=True) if spreads]
        return max(min(far, default=math.inf), 0.0)


@dataclass(frozen=True)
class Mesh:
    """Nodes (name → place), beams, and for each joint the nodes of its two parts (None: host or load)."""

    nodes: dict[str, Vec]
    beams: tuple[Beam, ...]
    ends: dict[str, tuple[str | None, str | None]]
    at_part: dict[str, dict[str, str]]  # part → landing (joint or socket key) → node
    still: frozenset[str]  # parts that carry nothing

    def beams_of(self, part: str) -> list[Beam]:
        """The beams of a part, in order."""
        return self._of_parts.get(part, [])

    @cached_property
    def _of_parts(self) -> dict[str, list[Beam]]:
        out: dict[str, list[Beam]] = {}
        for b in self.beams:
            out.setdefault(b.part, []).append(b)
        return out

    @cached_property
    def memo(self) -> dict[object, Any]:
        """What has been found of it, which never changes."""
        return {}


def _carried(joint: Joint) -> bool:
    return not (isinstance(joint.how, Weld) and joint.how.helps)


def _still(assembly: Assembly, loaded: set[str]) -> frozenset[str]:
    """Parts that no force reaches: pruned leaf by leaf."""
    live = {p.key for p in assembly.parts}
    joints = [j for j in assembly.joints if _carried(j)]
    while True:
        count: dict[str, set[object]] = {k: set() for k in live}
        for j in joints:
            for key, other in ((j.a, j.b), (j.b, j.a)):
                if key in live and (other in live or other == HOST):
                    count[key].add(other if other == HOST else _side(assembly.by_key[other], j))
        gone = {
            k for k, others in count.items() if len(others) < 2 and k not in loaded and HOST not in others
        }
        if not gone:
            return frozenset(p.key for p in assembly.parts if p.key not in live)
        live -= gone


def _side(part: Part, joint: Joint) -> object:
    """What a joint is on: a part, or one face of a folded plate, for something may stand between two."""
    if isinstance(part.shape, Plate) and part.shape.folds:
        return facts.flat_face(part, landing_point(joint)).shape
    return part.key


def mesh(assembly: Assembly, loads: Iterable[tuple[str, str, Vec]] = ()) -> Mesh:
    """The mesh of an assembly.  ``loads``: name, part and place of everything that pushes on it beside the
    joints to LOAD.
    """
    landings: dict[str, dict[str, Vec]] = {p.key: {} for p in assembly.parts}
    loaded: set[str] = set()
    for name, on, place in loads:
        landings[on][name] = place
        loaded.add(on)
    still = _still(assembly, loaded)
    depth = facts.layers(assembly)
    for j in assembly.joints:
        if _carried(j):
            for key in (j.a, j.b):
                if key in landings and not {j.a, j.b} & still:
                    landings[key][j.key] = landing_point(j)
    nodes: dict[str, Vec] = {}
    beams: list[Beam] = []
    at_part: dict[str, dict[str, str]] = {}
    for part in assembly.parts:
        if part.key in still or not landings[part.key]:
            continue
        if isinstance(part.shape, Bar):
            found = _bar(part, landings[part.key], assembly, depth, nodes, beams)
        elif isinstance(part.shape, Plate) and len(landings[part.key]) > 1:
            found = _plate(part, landings[part.key], assembly, nodes, beams)
        else:
            name = f"{part.key}@0"
            nodes[name] = next(iter(landings[part.key].values()))
            found = dict.fromkeys(landings[part.key], name)
        at_part[part.key] = found
    ends = {
        j.key: (at_part.get(j.a, {}).get(j.key), at_part.get(j.b, {}).get(j.key))
        for j in assembly.joints
        if _carried(j)
    }
    return Mesh(nodes, tuple(beams), ends, at_part, still)


def landing_point(joint: Joint) -> Vec:
    """Where a joint passes its force on: the middle of its beads or bolts, its place for the rest."""
    if isinstance(joint.how, Weld):
        return facts.weld_centre(joint.how.runs)
    if isinstance(joint.how, Hook):
        return joint.how.lands
    if isinstance(joint.how, Bolts):
        holes = joint.how.holes
        return joint.place.point(
            (sum(u for u, _ in holes) / len(holes), sum(v for _, v in holes) / len(holes), 0.0)
        )
    return joint.place.o


def _bar(
    part: Part,
    landings: dict[str, Vec],
    assembly: Assembly,
    depth: dict[str, int],
    nodes: dict[str, Vec],
    beams: list[Beam],
) -> dict[str, str]:
    shape = part.shape
    assert isinstance(shape, Bar)
    at = {name: facts.on_bar(part, p) for name, p in landings.items()}
    stops: list[float] = []
    for s in sorted(at.values()):
        if not stops or s - stops[-1] >= MERGE:
            stops.append(s)
    low, high = stops[0], stops[-1]
    between = [
        s
        for s in paths.stations(shape.path)[1:-1]
        if low + MERGE < s < high - MERGE and all(abs(s - x) >= MERGE for x in stops)
    ]
    every = sorted([*stops, *between])
    names = {s: f"{part.key}@{n}" for n, s in enumerate(every)}
    for s, name in names.items():
        nodes[name] = part.place.point(paths.at(shape.path, s)[0])
    section = shape.stock.section(facts.wall_factor(part))
    held = facts.held_spans(part, assembly)
    free, k = _unbraced(part, at, assembly, depth)
    straight = part.place.vector(axis.start_frame(shape).z) if isinstance(shape.path, paths.Line) else None
    for n, (a, b) in enumerate(pairwise(every)):
        left = facts.pieces_outside(a, b, held)
        judged = tuple(((p - a) / (b - a), (q - a) / (b - a)) for p, q in left)
        up = straight or part.place.vector(axis.frame_at(shape, (a + b) / 2).z)
        beams.append(
            Beam(f"{part.key}#{n}", part.key, names[a], names[b], section, up, a, b - a, judged, free, k)
        )
    return {name: names[min((abs(x - s), x) for x in stops)[1]] for name, s in at.items()}


def _unbraced(
    part: Part, at: dict[str, float], assembly: Assembly, depth: dict[str, int]
) -> tuple[float, float]:
    """Unbraced length and factor: between the joints that hold the bar towards the host if it has two well
    apart, else twice what stands out beyond the one that does."""
    mine = depth.get(part.key, 0)
    hold = [
        s
        for name, s in at.items()
        if (j := assembly.joint_by_key.get(name)) is not None
        and depth.get(j.b if j.a == part.key else j.a, 99) < mine
    ]
    whole = max(at.values()) - min(at.values())
    if not hold:
        return max(whole, MERGE), 1.0
    low, high = min(hold), max(hold)
    out = max(max(at.values()) - high, low - min(at.values()))
    if high - low > 2 * out:
        return high - low, 1.0
    return max(out, MERGE), 2.0


# ---- plates


@dataclass(frozen=True)
class _Foot:
    """A landing on a plate: its middle and the corners of its footprint (u, v)."""

    middle: tuple[float, float]
    corners: tuple[tuple[float, float], ...]
    spreads: bool  # a force from it spreads at 30° (a weld); bolts already are apart
    point: bool = False  # a load or a ball's shank: it acts on all of the plate about it

    def size(self) -> float:
        return max(math.hypot(u - self.middle[0], v - self.middle[1]) for u, v in self.corners)

    def reach(self, d: tuple[float, float]) -> float:
        """How far the footprint goes from its middle along a direction."""
        return max((u - self.middle[0]) * d[0] + (v - self.middle[1]) * d[1] for u, v in self.corners)

    def across(self, d: tuple[float, float]) -> float:
        """Width of the footprint square to a direction."""
        off = [(u - self.middle[0]) * -d[1] + (v - self.middle[1]) * d[0] for u, v in self.corners]
        return max(off) - min(off)


def _foot(part: Part, name: str, point: Vec, assembly: Assembly) -> _Foot:
    joint = assembly.joint_by_key.get(name)
    u, v, _ = facts.in_plate(part, point)
    if joint is not None and isinstance(joint.how, Weld):
        ends = facts.ends_in_plate(part, joint.how.runs).reshape(-1, 3).tolist()
        return _Foot((u, v), tuple((a, b) for a, b, _ in ends), True)
    if joint is not None and isinstance(joint.how, Bolts):
        spots = [facts.in_plate(part, joint.place.point((a, b, 0.0)))[:2] for a, b in joint.how.holes]
        return _Foot((u, v), tuple(spots), False)
    return _Foot((u, v), ((u, v),), False, joint is None or isinstance(joint.how, Shank))


def _plate(
    part: Part, landings: dict[str, Vec], assembly: Assembly, nodes: dict[str, Vec], beams: list[Beam]
) -> dict[str, str]:
    shape = part.shape
    assert isinstance(shape, Plate)
    feet = {name: _foot(part, name, p, assembly) for name, p in landings.items()}
    hub = max(feet, key=lambda n: (round(feet[n].size(), 3), n))
    found: dict[str, str] = {}
    for n, (name, foot) in enumerate(feet.items()):
        here = next(
            (found[o] for o, f in feet.items() if o in found and math.dist(f.middle, foot.middle) < MERGE),
            None,
        )
        found[name] = here or f"{part.key}@{n}"
        if here is None:
            nodes[found[name]] = _within(part, shape, foot.middle)
    for n, name in enumerate(feet):
        if (
            name != hub
            and found[name] != found[hub]
            and not any(b.j == found[name] and b.part == part.key for b in beams)
        ):
            whole = _strip(part, shape, n, feet[hub], feet[name], found[hub], found[name])
            beams += _round_folds(part, shape, whole, nodes)
    return found


def _within(part: Part, shape: Plate, at: tuple[float, float]) -> Vec:
    """The middle of a plate's thickness at a place of its flat pattern, host axes."""
    return part.flat_place.point(folded.point_at(shape, *at, shape.t / 2))


def _strip(part: Part, shape: Plate, number: int, a: _Foot, b: _Foot, i: str, j: str) -> Beam:
    size = math.dist(a.middle, b.middle)
    d = ((b.middle[0] - a.middle[0]) / size, (b.middle[1] - a.middle[1]) / size)
    leaves, arrives = a.reach(d) / size, 1 - b.reach((-d[0], -d[1])) / size
    judged = (leaves, arrives) if leaves < arrives else ((leaves + arrives) / 2,) * 2
    judged = (min(max(judged[0], 0.0), 1.0), min(max(judged[1], 0.0), 1.0))
    places = [judged[0] + f * (judged[1] - judged[0]) for f in (0.02, 0.2, 0.4, 0.6, 0.8, 0.98)]
    width = min(strip_widths(shape, a, b, d, size, places))
    if width <= 0.5:
        raise_no_metal(part)
    bolted = (0.0 if a.spreads else judged[0], 1.0 if b.spreads else judged[1])
    strip = Strip(a.middle, b.middle, judged[0], judged[1], width, bolted, (not a.point, not b.point))
    # the strip's section: width across the plate (its y), thickness along the plate's normal (its z)
    section, up = rect_bar(width, shape.t), facts.plate_place(part, *a.middle).z
    key = f"{part.key}#{number}"
    return Beam(key, part.key, i, j, section, up, 0.0, size, (judged,), size, 2.0, strip)


def _round_folds(part: Part, shape: Plate, whole: Beam, nodes: dict[str, Vec]) -> list[Beam]:
    """A strip as beams that follow the plate round its folds: chords of each bend, straight between."""
    way = whole.strip
    assert way is not None
    turns = folded.splits(shape, way.a, way.b) if shape.folds else []
    if not turns:
        return [whole]
    ends = [0.0, *turns, 1.0]
    names = [whole.i, *(f"{whole.j}~{k}" for k in range(1, len(ends) - 1)), whole.j]
    out = []
    for k, (low, high) in enumerate(pairwise(ends)):

        def at(f: float) -> tuple[float, float]:
            return (way.a[0] + f * (way.b[0] - way.a[0]), way.a[1] + f * (way.b[1] - way.a[1]))

        def share(f: float, low: float = low, high: float = high) -> float:
            return min(max((f - low) / (high - low), 0.0), 1.0)

        if k:
            nodes[names[k]] = _within(part, shape, at(low))
        middle = (low + high) / 2
        stretch = replace(
            way,
            a=at(low),
            b=at(high),
            leaves=share(way.leaves),
            arrives=share(way.arrives),
            bolted=(share(way.bolted[0]), share(way.bolted[1])),
            before=low * whole.size,
            after=(1 - high) * whole.size,
            bend=folded.in_bend(shape, *at(middle)),
        )
        judged = tuple((share(p), share(q)) for p, q in whole.judged if q >= low and p <= high)
        out.append(
            replace(
                whole,
                id=f"{whole.id}.{k}",
                i=names[k],
                j=names[k + 1],
                up=facts.plate_place(part, *at(middle)).z,
                start=low * whole.size,
                size=(high - low) * whole.size,
                judged=judged,
                strip=stretch,
            )
        )
    return out


def raise_no_metal(part: Part) -> None:
    from urial.assembly.model import BuildError

    raise BuildError(
        f"The {part.name} has no metal between two of its joints: the way between them leaves the "
        "plate; give its outline room there."
    )


def strip_widths(
    shape: Plate, a: _Foot, b: _Foot, d: tuple[float, float], size: float, places: list[float]
) -> list[float]:
    """Metal that carries at fractions of the way: the plate across it, no more than the force has spread
    to from a weld.
    """
    start, way = np.array(a.middle), np.array(d)
    p = start + np.array(places)[:, None] * size * way
    across = np.broadcast_to(np.array([-d[1], d[0]]), p.shape)
    corners = facts.flat_corners(shape.outline)
    both = facts.rays(corners, np.concatenate([p, p]), np.concatenate([across, -across]))
    wide = both[: len(p)] + both[len(p) :]
    out = []
    for k, (f, whole) in enumerate(zip(places, wide, strict=True)):
        least = float(whole)
        if shape.openings:
            ahead, back, side = float(both[k]), float(both[k + len(p)]), (-d[1], d[0])
            for low, high in facts.window_gaps(shape.openings, (float(p[k][0]), float(p[k][1])), side):
                least -= max(min(high, ahead) - max(low, -back), 0.0)
        for foot, towards, gone in ((a, d, f * size), (b, (-d[0], -d[1]), (1 - f) * size)):
            if foot.spreads:
                # Whitmore: as wide as the joint where it begins, 30° either side from there
                begins = foot.across(towards) + 2 * SPREAD * foot.reach((-towards[0], -towards[1]))
                least = min(least, begins + 2 * SPREAD * gone)
        out.append(least)
    return out
