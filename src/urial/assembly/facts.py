"""What is measured from the shapes at a joint or along a part: edges, ledges, thicknesses, widths, footprints, weld zones.

Nothing here knows a family or the vehicle's axes; every consumer reads the same figures.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from urial.assembly.model import HOST, LOAD, Assembly, Bolts, Joint, Part, Run, Weld
from urial.geometry import outline
from urial.geometry import path as paths
from urial.geometry.outline import Outline, flatten
from urial.geometry.place import Place, Vec, along, cross, dot, minus, norm, times, unit
from urial.geometry.shape import Bar, Plate, Turned
from urial.stock.catalogue import Material

Array = NDArray[np.float64]
HEAT = 25.0
"""How far a weld's heat softens what it is on, mm (Aluminum Design Manual)."""


def wall_factor(part: Part) -> float:
    """Design wall over nominal wall of a part's section."""
    shape = part.shape
    return part.material.wall_factor if isinstance(shape, Bar) and shape.stock.shape in ("rect_tube", "round_tube") else 1.0


def thickness(part: Part) -> float:
    """Metal beside a weld on the part: design wall of a tube, thickness of a plate, the lesser side of a solid, mm."""
    shape = part.shape
    if isinstance(shape, Bar):
        if shape.stock.shape == "rect_bar":
            return min(shape.stock.width, shape.stock.height)
        return shape.stock.wall * wall_factor(part)
    if isinstance(shape, Plate):
        return shape.t
    if isinstance(shape, Turned):
        return max(s[1] for s in shape.steps) - shape.bore
    return shape.t


def plate_place(part: Part) -> Place:
    """A plate's own place in the host's axes."""
    assert isinstance(part.shape, Plate)
    return part.place @ part.shape.place


def in_plate(part: Part, p: Vec) -> Vec:
    """A point of the host's axes as u, v, w of a plate."""
    return plate_place(part).local(p)


# ---- distances inside a plane figure


@lru_cache(maxsize=512)
def flat_corners(shape: Outline) -> Array:
    """An outline as corners (n, 2), arcs cut fine."""
    return np.array(flatten(shape, math.radians(5)))


def ray(corners: Array, p: tuple[float, float], d: tuple[float, float]) -> float:
    """Distance from a point along a unit direction to the first edge crossed; 0 when none is, mm."""
    return float(rays(corners, np.array([p], dtype=float), np.array([d], dtype=float))[0])


def rays(corners: Array, points: Array, directions: Array) -> Array:
    """Distances (n,) from points (n, 2) along unit directions (n, 2) to the edge where each leaves the metal; 0 outside."""
    a = corners[None]
    run = (np.roll(corners, -1, axis=0) - corners)[None]
    d = directions[:, None]
    det = d[..., 1] * run[..., 0] - d[..., 0] * run[..., 1]
    off = a - points[:, None]
    safe = np.where(np.abs(det) > 1e-12, det, 1.0)
    t = (off[..., 1] * run[..., 0] - off[..., 0] * run[..., 1]) / safe
    s = (d[..., 0] * off[..., 1] - d[..., 1] * off[..., 0]) / safe
    hit = (np.abs(det) > 1e-12) & (s >= -1e-9) & (s <= 1 + 1e-9) & (t > 1e-6)
    first = np.where(hit, t, np.inf).min(axis=1)
    within = hit.sum(axis=1) > 0
    out: Array = np.where(within & np.isfinite(first), first, 0.0)
    return out


@lru_cache(maxsize=4096)
def chord(shape: Outline, holes: tuple[tuple[float, float, float], ...], p: tuple[float, float], d: tuple[float, float], less_holes: bool) -> float:
    """Metal across a plate through a point along a direction: the piece of the cut that holds the point, holes out if asked."""
    corners = flat_corners(shape)
    ahead, back = ray(corners, p, d), ray(corners, p, (-d[0], -d[1]))
    if not less_holes:
        return ahead + back
    low, high = -back, ahead
    for u, v, size in holes:
        s = (u - p[0]) * d[0] + (v - p[1]) * d[1]
        off = abs((u - p[0]) * d[1] - (v - p[1]) * d[0])
        if off < size / 2:
            half = math.sqrt(size**2 / 4 - off**2)
            if s - half < high and s + half > low:
                high -= min(s + half, high) - max(s - half, low)
    return high - low


# ---- welds


@lru_cache(maxsize=2048)
def ledge(run: Run, part: Part, centre: Vec) -> float:
    """How wide a bead may lie on a plate's face, away from what it joins there; inf for what is no plate's face.

    On a face both sides of the run are metal and the side away from the group's middle is free; along an edge only one is.
    """
    if not isinstance(part.shape, Plate) or part.shape.folds:
        return math.inf
    a, b = in_plate(part, run.a), in_plate(part, run.b)
    t = part.shape.t
    if not all(min(abs(p[2]), abs(p[2] - t)) < 0.5 for p in (a, b)):
        return math.inf
    size = math.hypot(b[0] - a[0], b[1] - a[1])
    if size < 1e-6:
        return math.inf
    mid = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
    n = (-(b[1] - a[1]) / size, (b[0] - a[0]) / size)
    corners = flat_corners(part.shape.outline)
    inside = [ray(corners, (mid[0] + 0.02 * s * n[0], mid[1] + 0.02 * s * n[1]), (s * n[0], s * n[1]))
              if outline.distance_to_edge(part.shape.outline, mid[0] + 0.02 * s * n[0], mid[1] + 0.02 * s * n[1]) > 0 else 0.0 for s in (1, -1)]  # fmt: skip
    inside = [d + 0.02 if d else 0.0 for d in inside]
    if min(inside) < 0.5:
        return max(inside)
    c = in_plate(part, centre)
    outward = (mid[0] - c[0]) * n[0] + (mid[1] - c[1]) * n[1]
    if abs(outward) < 0.5:
        return min(inside)
    return inside[0] if outward > 0 else inside[1]


@lru_cache(maxsize=2048)
def weld_centre(runs: tuple[Run, ...]) -> Vec:
    """Middle of a group's runs, by length."""
    total, point = 0.0, (0.0, 0.0, 0.0)
    for r in runs:
        size = norm(minus(r.b, r.a))
        point = along(point, (r.a[0] + r.b[0], r.a[1] + r.b[1], r.a[2] + r.b[2]), size / 2)
        total += size
    return times(point, 1 / total)


def softened(part: Part, assembly: Assembly) -> Material:
    """The part's steel beside its welds, if it has any."""
    welded = any(isinstance(j.how, Weld) for j in assembly.joints_of.get(part.key, ()))
    return part.material.beside_weld() if welded else part.material


# ---- along a bar


@dataclass(frozen=True)
class Span:
    """A stretch of a bar, distances from its first end, mm."""

    low: float
    high: float


def to_piece(part: Part, p: Vec) -> Vec:
    """A point of the host's axes in the part's piece."""
    return part.place.local(p)


def on_bar(part: Part, p: Vec) -> float:
    """Where a point of the host's axes lands on a bar, distance from its first end, mm."""
    assert isinstance(part.shape, Bar)
    return paths.nearest(part.shape.path, to_piece(part, p))


def toe(run: Run, direction: Vec) -> float:
    """How far a flare's toe lies beyond the line of the bead along a direction, mm."""
    if not run.radius:
        return 0.0
    along_it = dot(unit(minus(run.b, run.a)), direction)
    return run.radius / 2 * math.sqrt(max(1 - along_it**2, 0.0))


@lru_cache(maxsize=1024)
def bead_lengths(runs: tuple[Run, ...]) -> tuple[float, ...]:
    """Length of the bead each run belongs to: runs that go on from each other are one, mm."""
    beads = [{n} for n in range(len(runs))]
    for n, r in enumerate(runs):
        for m in range(n):
            o = runs[m]
            if min(norm(minus(p, q)) for p in (r.a, r.b) for q in (o.a, o.b)) < 0.1:
                one, two = (next(b for b in beads if k in b) for k in (n, m))
                if one is not two:
                    one |= two
                    beads.remove(two)
    size = [norm(minus(r.b, r.a)) for r in runs]
    return tuple(sum(size[k] for k in next(b for b in beads if n in b)) for n in range(len(runs)))


def weld_span(part: Part, joint: Joint) -> Span:
    """How far a weld reaches along a bar, to the toes of flares, mm."""
    assert isinstance(joint.how, Weld)
    assert isinstance(part.shape, Bar)
    at = []
    for r in joint.how.runs:
        for p in (r.a, r.b):
            s = on_bar(part, p)
            at.append((s, toe(r, part.place.vector(paths.at(part.shape.path, s)[1]))))
    return Span(min(s - grow for s, grow in at), max(s + grow for s, grow in at))


def bar_welds(part: Part, assembly: Assembly) -> Iterator[tuple[Joint, Part, Span]]:
    """Every weld on a bar: joint, what it joins (or the bar itself when that is the host), how far it reaches."""
    for j in assembly.joints_of.get(part.key, ()):
        if isinstance(j.how, Weld):
            other = j.b if j.a == part.key else j.a
            yield j, assembly.by_key.get(other, part), weld_span(part, j)


def held_spans(part: Part, assembly: Assembly) -> list[Span]:
    """Where another bar is welded across this one and stiffens it: a bar is judged up to the faces of what stands on it."""
    return [span for j, other, span in bar_welds(part, assembly) if other is not part and isinstance(other.shape, Bar) and isinstance(j.how, Weld) and not j.how.helps]


def heated_spans(part: Part, assembly: Assembly) -> list[Span]:
    """Where weld heat has softened the bar."""
    return [Span(s.low - HEAT, s.high + HEAT) for _, _, s in bar_welds(part, assembly)]


def pieces_outside(low: float, high: float, held: list[Span]) -> list[tuple[float, float]]:
    """What of a stretch is in none of the spans."""
    left = [(low, high)]
    for s in held:
        left = [p for a, b in left for p in ((a, min(b, s.low)), (max(a, s.high), b)) if p[1] - p[0] > 1e-6]
    return left


# ---- bolts


@dataclass(frozen=True)
class BoltEdges:
    """Metal round bolts, in the joint's plane: ``plate`` and ``host`` distances from each hole's middle to the edge (hole,
    direction), the directions (k, 2), and the corners the plate bears on from the bolts' middle: −x, +x, −y, +y (mm > 0)."""

    directions: Array
    plate: Array
    host: Array
    bearing: tuple[float, float, float, float]


DIRECTIONS = np.array([(math.cos(2 * math.pi * k / 16), math.sin(2 * math.pi * k / 16)) for k in range(16)])


@lru_cache(maxsize=512)
def bolt_edges(how: Bolts, place: Place, part: Part) -> BoltEdges:
    """Edges of the plate and of the host's metal round every hole, in sixteen directions, and what the plate bears on."""
    corners = plate_corners(part, place)
    host = np.array(how.host_face) if how.host_face else corners
    holes = [(u, v) for u, v in how.holes]
    plate_rays = np.array([[ray(corners, h, tuple(d)) if inside(corners, h) else 0.0 for d in DIRECTIONS] for h in holes])
    host_rays = np.array([[ray(host, h, tuple(d)) if inside(host, h) else 0.0 for d in DIRECTIONS] for h in holes])
    middle = np.array(holes).mean(axis=0)
    both = [min(-poly[:, k].min() if sign < 0 else poly[:, k].max() for poly in (corners - middle, host - middle)) for k in (0, 1) for sign in (-1, 1)]
    return BoltEdges(DIRECTIONS, plate_rays, host_rays, tuple(float(max(b, 0.0)) for b in both))  # type: ignore[arg-type]


def plate_corners(part: Part, place: Place) -> Array:
    """A flat plate's outline as corners in a joint's plane (u, v)."""
    assert isinstance(part.shape, Plate)
    own = plate_place(part)
    out = [place.local(own.point((u, v, 0.0)))[:2] for u, v in flatten(part.shape.outline, math.radians(5))]
    return np.array(out)


def inside(corners: Array, p: tuple[float, float]) -> bool:
    """Is a point inside a polygon?"""
    x, y = corners.T
    x1, y1 = np.roll(x, -1), np.roll(y, -1)
    straddles = (y > p[1]) != (y1 > p[1])
    rise = np.where(straddles, y1 - y, 1.0)
    return bool((straddles & (p[0] < x + (p[1] - y) / rise * (x1 - x))).sum() % 2)


# ---- which way the load goes


def layers(assembly: Assembly) -> dict[str, int]:
    """Steps from the host to every part, over joints that carry it (helpers left out)."""
    out = {HOST: 0}
    wave = [HOST]
    while wave:
        after = []
        for key in wave:
            for j in assembly.joints_of.get(key, ()):
                if isinstance(j.how, Weld) and j.how.helps:
                    continue
                other = j.b if j.a == key else j.a
                if other not in out and other != LOAD:
                    out[other] = out[key] + 1
                    after.append(other)
        wave = after
    return out


def square_in_plane(a: Vec, b: Vec, normal: Vec) -> Vec:
    """The unit direction in a plane square to a line."""
    return unit(cross(normal, minus(b, a)))


def towards(place: Place, p: Vec) -> float:
    """How far a point lies out along a place's z."""
    return dot(minus(p, place.o), place.z)
