"""A plate bent along lines: from the flat pattern to where its metal is, and back.

Every fold's line is drawn on the flat pattern; folds stand in the order they are made, so one beyond
another comes before it.  Between the folds lie flat faces: the one that holds the origin, and one beyond
each fold.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import MultiPolygon, Point, Polygon
from shapely.geometry.base import BaseGeometry

from urial.geometry import outline
from urial.geometry.flat import bend_zone
from urial.geometry.place import Place, Vec, angle_axis, minus
from urial.geometry.shape import Fold, Plate

Array = NDArray[np.float64]
CHORD = math.radians(22.5)
"""A force's way round a bend is followed in chords of no more than this."""
_UNREACHED = 1e9


@dataclass(frozen=True)
class _Hinge:
    """A fold as what it does: the line's first point and direction, which way is beyond it (u, v), how long
    the metal is that bends, by how much (signed), and the radius of the face on the inside.
    """

    o: tuple[float, float]
    along: tuple[float, float]
    beyond: tuple[float, float]
    length: float
    angle: float
    inside: float
    t: float

    def past(self, u: float, v: float) -> float:
        """How far beyond its line a place of the flat pattern lies, mm."""
        return (u - self.o[0]) * self.beyond[0] + (v - self.o[1]) * self.beyond[1]


def _hinge(shape: Plate, fold: Fold) -> _Hinge:
    (ax, ay), (bx, by) = fold.a, fold.b
    size = math.hypot(bx - ax, by - ay)
    way = ((bx - ax) / size, (by - ay) / size)
    return _Hinge(
        fold.a, way, (-way[1], way[0]), bend_zone(shape.t, fold).length, fold.angle, fold.inside, shape.t
    )


@lru_cache(maxsize=256)
def _hinges(shape: Plate) -> tuple[_Hinge, ...]:
    return tuple(_hinge(shape, f) for f in shape.folds)


def folded(shape: Plate, points: Array) -> Array:
    """Where places of the flat pattern (n, 3: u, v, w off its lower face) are once all folds are made, in
    the axes of the face that holds the origin.
    """
    flat = np.asarray(points, dtype=float)
    out = flat.copy()
    for h in _hinges(shape):
        beyond, o = np.array([*h.beyond, 0.0]), np.array([*h.o, 0.0])
        past = (flat - o) @ beyond  # which side is told by the flat pattern
        turn = np.clip(past, 0.0, h.length) / h.length * abs(h.angle)
        s = (out - o) @ beyond
        on = np.where(past > h.length, s - h.length, 0.0)  # straight after the bend
        w = out[:, 2] if h.angle >= 0 else h.t - out[:, 2]
        radius = h.inside + h.t - w  # of this layer about the bend's axis, above the face on its inside
        new_s = radius * np.sin(turn) + on * np.cos(turn)
        new_w = h.inside + h.t - radius * np.cos(turn) + on * np.sin(turn)
        moved = past > 0
        out[moved] += ((new_s - s)[:, None] * beyond)[moved]
        out[moved, 2] = (new_w if h.angle >= 0 else h.t - new_w)[moved]
    return out


def point_at(shape: Plate, u: float, v: float, w: float = 0.0) -> Vec:
    """Where one place of the flat pattern is, in the plate's place's axes."""
    if not shape.folds:
        return (u, v, w)
    x, y, z = folded(shape, np.array([[u, v, w]]))[0]
    return (float(x), float(y), float(z))


@lru_cache(maxsize=1024)
def frame_at(shape: Plate, u: float, v: float) -> Place:
    """The flat pattern's axes where (u, v) lies: its ``point((u, v, w))`` is the metal there; on a flat face
    the same place for all of it.
    """
    turn = Place()
    for h in _hinges(shape):
        part = min(max(h.past(u, v), 0.0), h.length) / h.length
        if part > 0:
            turn = angle_axis((*h.along, 0.0), part * h.angle) @ turn
    here = point_at(shape, u, v)
    return Place(minus(here, turn.vector((u, v, 0.0))), turn.x, turn.y, turn.z)


@lru_cache(maxsize=8192)
def unfolded(shape: Plate, p: Vec) -> Vec:
    """The flat pattern's u, v, w of a point in the plate's place's axes: of all ways back through the folds
    the one that ends in the metal, or nearest to it.
    """
    hinges = _hinges(shape)
    best, found = _UNREACHED, p

    def back(k: int, q: Vec, claims: tuple[tuple[_Hinge, float, float], ...]) -> None:
        nonlocal best, found
        if k < 0:
            off = max(-q[2], q[2] - shape.t, 0.0)
            for h, low, high in claims:
                past = h.past(q[0], q[1])
                off += max(low - past, past - high, 0.0)
            if off < best - 1e-9:
                best, found = off, q
            return
        h = hinges[k]
        back(k - 1, q, (*claims, (h, -math.inf, 0.0)))
        s, w = h.past(q[0], q[1]), q[2] if h.angle >= 0 else h.t - q[2]
        axis = h.inside + h.t  # how high the bend's axis lies over the outer face
        whole = abs(h.angle)
        turned = math.atan2(s, axis - w)  # round the bend: past its ends it claims what is not there
        on = s * math.cos(whole) - (axis - w) * math.sin(whole)
        deep = axis - (s * math.sin(whole) + (axis - w) * math.cos(whole))
        for past, height, low, high in (
            (turned / whole * h.length, axis - math.hypot(s, axis - w), 0.0, h.length),
            (h.length + on, deep, h.length, math.inf),  # straight beyond, turned back about its axis
        ):
            by, z = past - s, height if h.angle >= 0 else h.t - height
            moved = (q[0] + by * h.beyond[0], q[1] + by * h.beyond[1], z)
            back(k - 1, moved, (*claims, (h, low, high)))

    back(len(hinges) - 1, p, ())
    return found


def splits(shape: Plate, a: tuple[float, float], b: tuple[float, float]) -> list[float]:
    """Fractions of a straight way over the flat pattern at which it has to turn to follow the bends."""
    out = []
    for h in _hinges(shape):
        from_a, from_b = h.past(*a), h.past(*b)
        if abs(from_b - from_a) < 1e-9:
            continue
        steps = max(2, math.ceil(abs(h.angle) / CHORD))
        at = [(h.length * k / steps - from_a) / (from_b - from_a) for k in range(steps + 1)]
        out += [f for f in at if 1e-6 < f < 1 - 1e-6]
    return sorted(out)


def in_bend(shape: Plate, u: float, v: float, room: float = 0.0) -> int | None:
    """Which fold bends the metal at a place of the flat pattern or within ``room`` of it, counted from 0."""
    for n, h in enumerate(_hinges(shape)):
        if -room < h.past(u, v) < h.length + room:
            return n
    return None


def bent_metal(shape: Plate, fold: Fold) -> Polygon:
    """The strip of the flat pattern that a fold bends, as long as the fold's line."""
    far = bend_zone(shape.t, fold).length
    h = _hinge(shape, fold)
    (ax, ay), (bx, by), (nx, ny) = fold.a, fold.b, h.beyond
    return Polygon([(ax, ay), (bx, by), (bx + far * nx, by + far * ny), (ax + far * nx, ay + far * ny)])


@lru_cache(maxsize=1024)
def face_at(shape: Plate, u: float, v: float) -> Plate:
    """The flat face a place of the flat pattern lies on, as a plate of its own in the flat pattern's
    coordinates: its outline ends where the bends begin.  A place in a bend counts to the face nearer to it.
    """
    if not shape.folds:
        return shape
    hinges = _hinges(shape)
    metal: BaseGeometry = Polygon(outline.flatten(shape.outline))
    far = 4 * max(math.hypot(x, y) for x, y, _ in shape.outline) + 1e4
    for h in hinges:
        ends = h.length if h.past(u, v) > h.length / 2 else 0.0
        sign = 1.0 if ends else -1.0
        e = (h.o[0] + ends * h.beyond[0], h.o[1] + ends * h.beyond[1])
        a = (e[0] - far * h.along[0], e[1] - far * h.along[1])
        b = (e[0] + far * h.along[0], e[1] + far * h.along[1])
        out = (sign * far * h.beyond[0], sign * far * h.beyond[1])
        side = Polygon([a, b, (b[0] + out[0], b[1] + out[1]), (a[0] + out[0], a[1] + out[1])])
        metal = metal.intersection(side)
    if isinstance(metal, MultiPolygon):
        metal = min(metal.geoms, key=lambda piece: piece.distance(Point(u, v)))
    if not isinstance(metal, Polygon) or metal.is_empty:
        return shape
    middle = metal.representative_point()
    return replace(
        shape,
        outline=outline.polygon([(float(x), float(y)) for x, y in list(metal.exterior.coords)[:-1]]),
        place=shape.place @ frame_at(shape, middle.x, middle.y),
        holes=tuple(h for h in shape.holes if metal.contains(Point(h[0], h[1]))),
        windows=tuple(w for w in shape.windows if metal.intersects(Polygon(outline.flatten(w)))),
        slots=tuple(w for w in shape.slots if metal.intersects(Polygon(outline.flatten(w)))),
        folds=(),
    )
