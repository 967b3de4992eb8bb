"""What is measured from the shapes at a joint or along a part: edges, ledges, thicknesses, widths,
footprints, weld zones.

Nothing here knows a family or the vehicle's axes; every consumer reads the same figures.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache, wraps
from typing import Any, TypeVar, cast

import numpy as np
from numpy.typing import NDArray

from urial.assembly.model import HOST, LOAD, Assembly, Bolts, Joint, Part, Run, Weld
from urial.geometry import axis, folded
from urial.geometry import path as paths
from urial.geometry.outline import Outline, flatten
from urial.geometry.place import Place, Vec, add, along, cross, dot, minus, norm, times, unit
from urial.geometry.shape import Bar, Cope, Hole, Plate, Slant, Turned
from urial.stock.catalogue import Material

Array = NDArray[np.float64]
HEAT = 25.0
"""How far a weld's heat softens what it is on, mm (Aluminum Design Manual)."""


F = TypeVar("F", bound=Callable[..., Any])


def remembered(function: F) -> F:
    """Keep what a function of (part or nothing, assembly) derives with the assembly, which never changes."""

    @wraps(function)
    def once(*args: Any) -> Any:
        key = (function.__name__, *(a.key for a in args[:-1]))
        return args[-1].once(key, lambda: function(*args))

    return cast(F, once)


def wall_factor(part: Part) -> float:
    """Design wall over nominal wall of a part's section."""
    shape = part.shape
    return (
        part.material.wall_factor
        if isinstance(shape, Bar) and shape.stock.shape in ("rect_tube", "round_tube")
        else 1.0
    )


def thickness(part: Part) -> float:
    """Metal beside a weld on the part: design wall of a tube, thickness of a plate, the lesser side of a
    solid, mm.
    """
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


def in_plate(part: Part, p: Vec) -> Vec:
    """A point of the host's axes as u, v, w of a plate; of a folded one, of its flat pattern."""
    assert isinstance(part.shape, Plate)
    local = part.flat_place.local(p)
    return folded.unfolded(part.shape, local) if part.shape.folds else local


def ends_in_plate(part: Part, runs: tuple[Run, ...]) -> Array:
    """Both ends of every run (run, end, 3) as u, v, w of a plate; of a folded one, of its flat pattern."""
    assert isinstance(part.shape, Plate)
    if part.shape.folds:
        return np.array([[in_plate(part, p) for p in (r.a, r.b)] for r in runs])
    return part.flat_place.locals(np.array([(r.a, r.b) for r in runs]))


def plate_place(part: Part, u: float, v: float) -> Place:
    """Where a plate's flat pattern lies round u, v, in the host's axes: its place, turned by its folds."""
    assert isinstance(part.shape, Plate)
    return part.flat_place @ folded.frame_at(part.shape, u, v) if part.shape.folds else part.flat_place


def flat_face(part: Part, p: Vec) -> Part:
    """The flat face of a folded plate that a point (host's axes) is on, as a plate of its own, which ends
    where the bends begin; any other part itself.
    """
    if not isinstance(part.shape, Plate) or not part.shape.folds:
        return part
    u, v, _ = in_plate(part, p)
    return replace(part, shape=folded.face_at(part.shape, u, v))


# ---- distances inside a plane figure


@lru_cache(maxsize=512)
def flat_corners(shape: Outline) -> Array:
    """An outline as corners (n, 2), arcs cut fine."""
    return np.array(flatten(shape, math.radians(5)))


@lru_cache(maxsize=512)
def metal_edges(shape: Plate, slots: bool = True) -> Array:
    """Where a plate's metal ends: corners (n, 2) of its outline, or with openings the edges of all of them
    (n, 2, 2), ends first to last.  A bead beside a slot lies on metal: ``slots`` false leaves those out.
    """
    openings = shape.openings if slots else shape.windows
    if not openings:
        return flat_corners(shape.outline)
    rings = [flat_corners(r) for r in (shape.outline, *openings)]
    return np.concatenate([np.stack([r, np.roll(r, -1, axis=0)], axis=1) for r in rings])


def _edges(corners: Array) -> tuple[Array, Array]:
    """Start and end (n, 2) of every edge of a closed figure's corners, or of edges given one by one."""
    if corners.ndim == 3:
        return corners[:, 0], corners[:, 1]
    return corners, np.concatenate([corners[1:], corners[:1]])


def box_round(corners: Array) -> Array:
    """Least and greatest of each coordinate (2, 2) of corners or edges."""
    rows = corners.reshape(-1, 2)
    return np.stack([rows.min(axis=0), rows.max(axis=0)])


def ray(corners: Array, p: tuple[float, float], d: tuple[float, float]) -> float:
    """Distance from a point along a unit direction to the first edge crossed; 0 when none is, mm."""
    return float(rays(corners, np.array([p], dtype=float), np.array([d], dtype=float))[0])


def rays(corners: Array, points: Array, directions: Array) -> Array:
    """Distances (n,) from points (n, 2) along unit directions (n, 2) to the edge where each leaves the
    metal; 0 outside.
    """
    start, after = _edges(corners)
    rx, ry = (after - start).T
    ox = start[None, :, 0] - points[:, :1]
    oy = start[None, :, 1] - points[:, 1:]
    dx, dy = directions[:, :1], directions[:, 1:]
    det = dy * rx - dx * ry
    flat = np.abs(det) <= 1e-12
    safe = np.where(flat, 1.0, det)
    t = (oy * rx - ox * ry) / safe
    s = (dx * oy - dy * ox) / safe
    hit = ~flat & (s >= -1e-9) & (s <= 1 + 1e-9) & (t > 1e-6)
    first = np.where(hit, t, np.inf).min(axis=1)
    out: Array = np.where(np.isfinite(first), first, 0.0)
    return out


def clearance(corners: Array, points: Array) -> Array:
    """Distance (n,) from points (n, 2) to the nearest edge, inside or out."""
    start, after = _edges(corners)
    run = after - start
    off = points[:, None] - start
    s = np.clip((off * run).sum(axis=2) / np.maximum((run * run).sum(axis=1), 1e-18), 0, 1)
    gap = off - s[:, :, None] * run
    out: Array = np.sqrt((gap * gap).sum(axis=2).min(axis=1))
    return out


def within(corners: Array, points: Array) -> NDArray[np.bool_]:
    """Which points (n, 2) lie inside a polygon, in its metal where it has windows."""
    start, after = _edges(corners)
    (x, y), (x1, y1) = start.T, after.T
    px, py = points[:, :1], points[:, 1:]
    straddles = (y > py) != (y1 > py)
    rise = np.where(straddles, y1 - y, 1.0)
    out: NDArray[np.bool_] = (straddles & (px < x + (py - y) / rise * (x1 - x))).sum(axis=1) % 2 == 1
    return out


def window_gaps(
    windows: tuple[Outline, ...], p: tuple[float, float], across: tuple[float, float]
) -> list[tuple[float, float]]:
    """Where a line through ``p`` along unit ``across`` runs through windows: distances from p, mm."""
    out = []
    for window in windows:
        off = flat_corners(window) - np.array(p)
        h = off[:, 0] * across[0] + off[:, 1] * across[1]
        s = off[:, 0] * across[1] - off[:, 1] * across[0]
        h1, s1 = np.roll(h, -1), np.roll(s, -1)
        cross = (s > 0) != (s1 > 0)
        at = np.sort((h + (h1 - h) * s / np.where(cross, s - s1, 1.0))[cross])
        out += [(float(low), float(high)) for low, high in zip(at[::2], at[1::2], strict=True)]
    return out


# ---- welds


def ledge(run: Run, part: Part, centre: Vec) -> float:
    """How wide a bead may lie on a plate's face, away from what it joins there; inf for what is no plate's
    face.
    """
    return float(ledges((run,), part, centre)[0])


def ledges(runs: tuple[Run, ...], part: Part, centre: Vec, enough: float = math.inf) -> Array:
    """The ledge of every run of a weld on one of its parts; inf where it is more than ``enough`` anyway.

    On a face both sides of the run are metal and the side away from the group's middle is free; along an
    edge only one is.
    """
    out = np.full(len(runs), math.inf)
    shape = part.shape
    if not isinstance(shape, Plate) or all(r.radius for r in runs):
        return out
    ends = ends_in_plate(part, runs)
    on_face = (np.minimum(np.abs(ends[:, :, 2]), np.abs(ends[:, :, 2] - shape.t)) < 0.5).all(axis=1)
    way = ends[:, 1, :2] - ends[:, 0, :2]
    size = np.hypot(*way.T)
    fillets = np.array([r.radius == 0 for r in runs])  # a bead in the flare of a corner needs no ledge
    which = np.flatnonzero(on_face & (size > 1e-6) & fillets)
    if not which.size:
        return out
    mid = (ends[which, 0, :2] + ends[which, 1, :2]) / 2
    corners = metal_edges(shape, slots=False)
    deep = clearance(corners, mid) < enough  # the rest have metal enough all round
    which, mid = which[deep], mid[deep]
    if not which.size:
        return out
    n = np.stack([-way[which, 1], way[which, 0]], axis=1) / size[which, None]
    both = np.concatenate([n, -n])
    start = np.concatenate([mid, mid]) + 0.02 * both
    ahead, back = np.where(within(corners, start), rays(corners, start, both) + 0.02, 0.0).reshape(2, -1)
    outward = ((mid - in_plate(part, centre)[:2]) * n).sum(axis=1)
    along_edge = np.minimum(ahead, back) < 0.5
    free = np.where(np.abs(outward) < 0.5, np.minimum(ahead, back), np.where(outward > 0, ahead, back))
    out[which] = np.where(along_edge, np.maximum(ahead, back), free)
    return out


@lru_cache(maxsize=2048)
def dihedrals(j: Joint, parts: tuple[Part, ...]) -> Array:
    """The corner every run of a weld lies in, degrees (n,): of a bar cut at a slant or coped on to a round,
    between its own outside and what it stands on; 90 for all else.
    """
    assert isinstance(j.how, Weld)
    out = np.full(len(j.how.runs), 90.0)
    for p in parts:
        if not isinstance(p.shape, Bar):
            continue
        s = on_bar(p, j.place.o)
        first = s < paths.length(p.shape.path) / 2
        end = p.shape.end_i if first else p.shape.end_j
        if not isinstance(end, (Slant, Cope)):
            continue
        at = 0.0 if first else paths.length(p.shape.path)
        here = p.place @ axis.frame_at(p.shape, at)
        reach = 1.5 * (p.shape.stock.width + p.shape.stock.height)
        away = times(here.x, 1.0 if first else -1.0)  # along the bar, from this end
        for n, run in enumerate(j.how.runs):
            middle = times(add(run.a, run.b), 0.5)
            if norm(minus(middle, here.o)) <= reach and run.radius == 0:
                out[n] = _corner(run, middle, (here.o, away), _stood_on(end, p.place, middle))
    return out


def _stood_on(end: Slant | Cope, place: Place, at: Vec) -> Vec:
    """Square to the face that a cut end stands on, at a place, host axes."""
    if isinstance(end, Slant):
        return place.vector(end.normal)
    way = place.vector(end.axis)
    off = minus(at, place.point(end.on))
    return minus(off, times(way, dot(off, way)))


def _corner(run: Run, middle: Vec, bar: tuple[Vec, Vec], normal: Vec) -> float:
    """Degrees between a bar's outside and a face, both square to the run between them and away from it."""
    (origin, away), along_it = bar, minus(run.b, run.a)
    if norm(along_it) < 1e-6 or norm(normal) < 1e-6:
        return 90.0
    r = unit(along_it)
    up = minus(away, times(r, dot(away, r)))
    out = cross(unit(normal), r)
    side = minus(middle, origin)
    side = minus(side, times(away, dot(side, away)))  # outward of the bar's axis
    if dot(out, side) < 0:
        out = times(out, -1.0)
    if norm(up) < 1e-6 or norm(out) < 1e-6:
        return 90.0
    return math.degrees(math.acos(max(-1.0, min(1.0, dot(unit(up), unit(out))))))


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
    if part.material.beside_weld() is part.material:
        return part.material
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
    bead = list(range(len(runs)))  # each run's bead by its first run

    def first(n: int) -> int:
        while bead[n] != n:
            n = bead[n]
        return n

    at: dict[tuple[float, ...], int] = {}
    ends = np.array([p for r in runs for p in (r.a, r.b)])
    for n, spot in enumerate(np.round(ends + 0.003, 1).tolist()):
        other = at.setdefault(tuple(spot), n // 2)
        one, two = first(n // 2), first(other)
        bead[max(one, two)] = min(one, two)
    size = np.sqrt(((ends[1::2] - ends[::2]) ** 2).sum(axis=1)).tolist()
    whole: dict[int, float] = {}
    for n, length in enumerate(size):
        whole[first(n)] = whole.get(first(n), 0.0) + length
    return tuple(whole[first(n)] for n in range(len(runs)))


def weld_span(part: Part, joint: Joint) -> Span:
    """How far a weld reaches along a bar, to the toes of flares, mm."""
    assert isinstance(joint.how, Weld)
    assert isinstance(part.shape, Bar)
    spots = part.place.locals(np.array([p for r in joint.how.runs for p in (r.a, r.b)]))
    at = paths.nearest_all(part.shape.path, spots)
    if not any(r.radius for r in joint.how.runs):
        return Span(float(at.min()), float(at.max()))
    straight = isinstance(part.shape.path, paths.Line)
    ways = [paths.at(part.shape.path, float(s))[1] for s in (at[:1] if straight else at)]
    ways = [part.place.vector(way) for way in ways] * (len(at) if straight else 1)
    grow = [toe(r, way) for r, way in zip((r for r in joint.how.runs for _ in (0, 1)), ways, strict=True)]
    return Span(float((at - grow).min()), float((at + grow).max()))


@remembered
def bar_welds(part: Part, assembly: Assembly) -> list[tuple[Joint, Part, Span]]:
    """Every weld on a bar: joint, what it joins (or the bar itself when that is the host), how far it
    reaches.
    """
    found = [j for j in assembly.joints_of.get(part.key, ()) if isinstance(j.how, Weld)]
    return [
        (j, assembly.by_key.get(j.b if j.a == part.key else j.a, part), weld_span(part, j)) for j in found
    ]


def held_spans(part: Part, assembly: Assembly) -> list[Span]:
    """Where another bar is welded across this one and stiffens it: a bar is judged up to the faces of what
    stands on it.
    """
    return [
        span
        for j, other, span in bar_welds(part, assembly)
        if other is not part and isinstance(other.shape, Bar) and isinstance(j.how, Weld) and not j.how.helps
    ]


def heated_spans(part: Part, assembly: Assembly) -> list[Span]:
    """Where weld heat has softened the bar."""
    return [Span(s.low - HEAT, s.high + HEAT) for _, _, s in bar_welds(part, assembly)]


def pieces_outside(low: float, high: float, held: list[Span]) -> list[tuple[float, float]]:
    """What of a stretch is in none of the spans."""
    left = [(low, high)]
    for s in held:
        left = pieces_outside_of(left, s.low, s.high)
    return left


def pieces_outside_of(
    pieces: list[tuple[float, float]], low: float, high: float
) -> list[tuple[float, float]]:
    """What of some stretches lies outside another."""
    return [p for a, b in pieces for p in ((a, min(b, low)), (max(a, high), b)) if p[1] - p[0] > 1e-6]


# ---- bolts


@dataclass(frozen=True)
class BoltEdges:
    """Metal round bolts, in the joint's plane: ``plate`` and ``host`` distances from each hole's middle to
    the edge (hole, direction), the directions (k, 2), and the corners the plate bears on from the bolts'
    middle: −x, +x, −y, +y (mm > 0)."""

    directions: Array
    plate: Array
    host: Array
    bearing: tuple[float, float, float, float]


DIRECTIONS = np.array([(math.cos(2 * math.pi * k / 16), math.sin(2 * math.pi * k / 16)) for k in range(16)])


DRIFT = 6.0
"""A hole of a part that lies so near to where a joint wants it is the joint's, drilled off its place, mm."""


def drift(part: Part, p: Vec) -> Vec:
    """From where a joint wants a hole of a part to where it really is, in the host's axes, square to the
    hole; nothing where it is as drawn, or no hole is near.
    """
    shape = part.shape
    if isinstance(shape, Plate):
        u, v, _ = in_plate(part, p)
        near = min(((math.hypot(h[0] - u, h[1] - v), h) for h in shape.holes), default=None)
        if near is None or not 1e-6 < near[0] < DRIFT:
            return (0.0, 0.0, 0.0)
        face = plate_place(part, u, v)
        return add(times(face.x, near[1][0] - u), times(face.y, near[1][1] - v))
    if isinstance(shape, Bar):
        offs = []
        for c in shape.cuts:
            if isinstance(c, Hole):
                off, way = minus(c.centre, to_piece(part, p)), unit(c.axis)
                offs.append(minus(off, times(way, dot(off, way))))
        best = min(offs, key=norm, default=(0.0, 0.0, 0.0))
        return part.place.vector(best) if 1e-6 < norm(best) < DRIFT else (0.0, 0.0, 0.0)
    return (0.0, 0.0, 0.0)


def drilled(part: Part, place: Place, holes: Array) -> Array:
    """Where the holes (n, 2) of a joint, in its plane, really are in one of its parts."""
    moves = [place.local_vector(drift(part, place.point((float(u), float(v), 0.0)))) for u, v in holes]
    out: Array = holes + np.array([m[:2] for m in moves])
    return out


def at_hole(part: Part, place: Place) -> Place:
    """A joint's place in the hole that is really there."""
    off = drift(part, place.o)
    return place if off == (0.0, 0.0, 0.0) else replace(place, o=add(place.o, off))


@lru_cache(maxsize=512)
def bolt_edges(how: Bolts, place: Place, part: Part) -> BoltEdges:
    """Edges of the plate and of the host's metal round every hole, in sixteen directions, and what the
    plate bears on.
    """
    corners = plate_corners(part, place)
    host = np.array(how.host_face) if how.host_face else corners
    holes = np.array(how.holes)
    n, k = len(holes), len(DIRECTIONS)
    ways = np.tile(DIRECTIONS, (n, 1))
    plate_rays, host_rays = (
        np.where(np.repeat(within(c, h), k), rays(c, np.repeat(h, k, axis=0), ways), 0.0).reshape(n, k)
        for c, h in ((corners, drilled(part, place, holes)), (host, holes))
    )
    middle = holes.mean(axis=0)
    feet = [np.array(how.feet)] if how.feet else []
    boxes = [box_round(poly) - middle for poly in (corners, host, *feet)]
    both = [min(-box[0, k] if sign < 0 else box[1, k] for box in boxes) for k in (0, 1) for sign in (-1, 1)]
    return BoltEdges(DIRECTIONS, plate_rays, host_rays, tuple(float(max(b, 0.0)) for b in both))  # type: ignore[arg-type]


@lru_cache(maxsize=256)
def plate_corners(part: Part, place: Place) -> Array:
    """A plate's outline, or its flat face's there, as corners in a joint's plane (u, v); edges where it has
    windows."""
    part = flat_face(part, place.o)
    assert isinstance(part.shape, Plate)
    own = place.inverse() @ part.flat_place
    flat, x, y = metal_edges(part.shape), np.array(own.x[:2]), np.array(own.y[:2])
    out: Array = np.array(own.o[:2]) + flat[..., :1] * x + flat[..., 1:] * y
    return out


def room_round(part: Part, place: Place, hole: float) -> tuple[float, float]:
    """Round a hole in a plate or a leg square to a place's z: metal from its edge to the nearest edge, and
    the least width of metal across it, mm."""
    place = at_hole(part, place)
    corners = face_corners(part, place)
    directions = np.concatenate([DIRECTIONS, -DIRECTIONS])
    ways = rays(corners, np.zeros((len(directions), 2)), directions)
    n = len(DIRECTIONS)
    return float(ways.min()) - hole / 2, float((ways[:n] + ways[n:]).min())


def eye_metal(part: Part, place: Place, hole: float) -> tuple[float, float]:
    """Least metal beside a hole whose axis is the place's z, and the thickness that bears: one wall of a
    tube, all of a solid, mm.
    """
    shape, place = part.shape, at_hole(part, place)
    if isinstance(shape, Bar):
        s = on_bar(part, place.o)
        here = axis.frame_at(shape, s)
        along_width = abs(dot(part.place.vector(here.y), place.z)) > 0.7  # it goes through the width
        across = shape.stock.height if along_width else shape.stock.width
        ends = min(s, paths.length(shape.path) - s)
        edge = min(ends, across / 2) - hole / 2
        solid = shape.stock.shape in ("rect_bar", "round_bar")
        deep = shape.stock.width if along_width else shape.stock.height
        return max(edge, 0.1), deep if solid else thickness(part)
    u, v, _ = in_plate(part, place.o)
    corners = metal_edges(flat_face(part, place.o).shape)
    return max(float(clearance(corners, np.array([[u, v]]))[0]) - hole / 2, 0.1), thickness(part)


def doublers(part: Part, place: Place, assembly: Assembly) -> list[tuple[Part, Joint]]:
    """Plates welded round a hole of a part whose axis is the place's z, each with its weld."""
    out = []
    for p in assembly.parts:
        if p.doubles != part.key or not isinstance(p.shape, Plate) or not p.shape.holes:
            continue
        u, v, _ = in_plate(p, place.o)
        hole_u, hole_v, _ = p.shape.holes[0]
        square = abs(dot(p.flat_place.z, place.z)) > 0.99
        if square and math.hypot(u - hole_u, v - hole_v) < 1.0:
            weld = next(j for j in assembly.joints_of[p.key] if isinstance(j.how, Weld))
            out.append((p, weld))
    return out


def face_corners(part: Part, place: Place) -> Array:
    """The flat metal of a part square to a place's z, as corners in its x–y plane.

    For a plate its outline; for a bar the rectangle of the leg, wall or side that a line along z first
    meets."""
    if isinstance(part.shape, Plate):
        return plate_corners(part, place)
    assert isinstance(part.shape, Bar)
    s = on_bar(part, place.o)
    from urial.geometry import axis, profile

    here = part.place @ axis.frame_at(part.shape, s)
    size = paths.length(part.shape.path)
    across = here.y if abs(dot(here.y, place.z)) < abs(dot(here.z, place.z)) else here.z
    ring = np.array(profile.rings(part.shape.stock)[0])
    at = ring[:, 0] if across is here.y else ring[:, 1]
    corners = [
        along(along(here.o, here.x, u), across, v)
        for u, v in ((-s, at.min()), (size - s, at.min()), (size - s, at.max()), (-s, at.max()))
    ]
    out: Array = np.array([place.local(c)[:2] for c in corners])
    return out


# ---- which way the load goes


@remembered
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


def towards(place: Place, p: Vec) -> float:
    """How far a point lies out along a place's z."""
    return dot(minus(p, place.o), place.z)
