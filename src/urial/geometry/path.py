"""Centre lines: straight, or straights joined by bends of their own radius.  Lengths mm, angles radians."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from urial.geometry.place import Vec, add, along, cross, dot, minus, norm, times, unit

Array = NDArray[np.float64]
CHORD = math.radians(10.0)
"""A bend is analysed as straight chords of no more than this turn."""


class ShapeError(ValueError):
    """Sizes that do not make a shape; the message names the two that disagree."""


@dataclass(frozen=True)
class Line:
    """Straight from a to b."""

    a: Vec
    b: Vec


@dataclass(frozen=True)
class Bent:
    """Corners of a bent centre line, and the radius at each inner corner."""

    points: tuple[Vec, ...]
    radii: tuple[float, ...]


Path = Line | Bent


@dataclass(frozen=True)
class Straight:
    """A run without a bend."""

    a: Vec
    b: Vec

    @property
    def length(self) -> float:
        """mm."""
        return norm(minus(self.b, self.a))


@dataclass(frozen=True)
class Arc:
    """A bend about ``centre``; ``axis`` is the direction it turns about, right-handed."""

    a: Vec
    b: Vec
    centre: Vec
    axis: Vec
    radius: float
    angle: float

    @property
    def length(self) -> float:
        """On the centre line, mm."""
        return self.radius * self.angle


Run = Straight | Arc


STRAIGHT = 1e-9
"""A corner that turns no more has no bend, radians."""


def _turn(before: Vec, after: Vec) -> float:
    return math.acos(max(-1.0, min(1.0, dot(before, after))))


@lru_cache(maxsize=512)
def runs(path: Path) -> tuple[Run, ...]:
    """Straights and bends in order.  ShapeError when two corners are too near each other for their radii."""
    if isinstance(path, Line):
        if norm(minus(path.b, path.a)) < 1e-6:
            raise ShapeError("A bar has no length: its two ends are at one place; move one of them.")
        return (Straight(path.a, path.b),)
    points, radii = path.points, path.radii
    if len(points) < 2 or len(radii) != len(points) - 2:
        raise ShapeError(
            f"A bent bar of {len(points)} corners needs a radius at each inner one; {len(radii)} are given."
        )
    legs = []
    for n, (p, q) in enumerate(pairwise(points), 1):
        size = norm(minus(q, p))
        if size < 1e-6:
            raise ShapeError(
                f"Corners {n} and {n + 1} of a bent bar are at one place; leave one of them out."
            )
        legs.append((unit(minus(q, p)), size))
    tangents = [0.0]
    turns = []
    for k, radius in enumerate(radii):
        turn = _turn(legs[k][0], legs[k + 1][0])
        if turn > math.pi - 1e-6:
            raise ShapeError(f"Corner {k + 2} of a bent bar turns straight back on itself; open it.")
        if turn > STRAIGHT and radius <= 0:
            raise ShapeError(f"The bend at corner {k + 2} has no radius; give the die's.")
        turns.append(turn)
        tangents.append(radius * math.tan(turn / 2))
    tangents.append(0.0)
    out: list[Run] = []
    start = points[0]
    for k, (direction, size) in enumerate(legs):
        spare = size - tangents[k] - tangents[k + 1]
        if spare < -1e-6:
            raise ShapeError(
                f"Corners {k + 1} and {k + 2} of a bent bar are {size:.1f} mm apart, and their bends "
                f"take {size - spare:.1f} mm; set them farther apart or bend tighter."
            )
        end = along(points[k + 1], direction, -tangents[k + 1])
        if spare > 1e-6:
            out.append(Straight(start, end))
        start = end
        if k < len(radii) and turns[k] > STRAIGHT:
            after = legs[k + 1][0]
            axis = unit(cross(direction, after))
            inward = cross(axis, direction)
            stop = along(points[k + 1], after, tangents[k + 1])
            out.append(Arc(end, stop, along(end, inward, radii[k]), axis, radii[k], turns[k]))
            start = stop
    return tuple(out)


def length(path: Path) -> float:
    """Along the centre line, bends on their arcs, mm."""
    return sum(r.length for r in runs(path))


def ends(path: Path) -> tuple[Vec, Vec]:
    """First and last point."""
    return (path.a, path.b) if isinstance(path, Line) else (path.points[0], path.points[-1])


def corners(path: Bent) -> tuple[int, ...]:
    """Which of a bent path's points its arcs turn at, in the order of the arcs: a corner where the path goes
    straight on has none.
    """
    legs = [unit(minus(q, p)) for p, q in pairwise(path.points)]
    return tuple(k for k, (a, b) in enumerate(pairwise(legs), 1) if _turn(a, b) > STRAIGHT)


def turned(v: Vec, axis: Vec, angle: float) -> Vec:
    """A vector turned about an axis (Rodrigues)."""
    c, s = math.cos(angle), math.sin(angle)
    return add(add(times(v, c), times(cross(axis, v), s)), times(axis, dot(axis, v) * (1 - c)))


def at(path: Path, s: float) -> tuple[Vec, Vec]:
    """Point and unit direction at a distance along the centre line (carried straight on beyond its ends)."""
    rows = runs(path)
    if isinstance(path, Line):
        direction = times(minus(path.b, path.a), 1 / rows[0].length)
        return along(path.a, direction, s), direction
    for n, run in enumerate(rows):
        size = run.length
        if s <= size or n == len(rows) - 1:
            if isinstance(run, Straight):
                direction = unit(minus(run.b, run.a))
                return along(run.a, direction, s), direction
            angle = min(s, size) / run.radius
            spoke = turned(minus(run.a, run.centre), run.axis, angle)
            direction = cross(run.axis, unit(spoke))
            return along(add(run.centre, spoke), direction, max(s - size, 0.0)), direction
        s -= size
    raise AssertionError("a path has at least one run")


@lru_cache(maxsize=512)
def stations(path: Path) -> tuple[float, ...]:
    """Distances where the centre line is cut into chords: the ends, and every 10° of a bend."""
    out, s = [0.0], 0.0
    for run in runs(path):
        if isinstance(run, Arc):
            pieces = math.ceil(run.angle / CHORD)
            out += [s + run.length * k / pieces for k in range(1, pieces)]
        s += run.length
        out.append(s)
    return tuple(out)


@lru_cache(maxsize=1024)
def _chords(path: Path) -> tuple[Array, Array, Array, Array]:
    """Where each chord starts along the path, its first point, its run and its length."""
    cuts = stations(path)
    points = np.array([at(path, s)[0] for s in cuts])
    run = points[1:] - points[:-1]
    return np.array(cuts[:-1]), points[:-1], run, np.linalg.norm(run, axis=1)


def nearest(path: Path, p: Vec) -> float:
    """Distance along the centre line of the place nearest to a point, mm."""
    if isinstance(path, Line):
        run = minus(path.b, path.a)
        size = norm(run)
        return max(0.0, min(size, dot(minus(p, path.a), run) / size))
    return float(nearest_all(path, np.array([p]))[0])


def nearest_all(path: Path, points: Array) -> Array:
    """The same for many points (n, 3) at once, (n,) mm; of two places as near the first."""
    if isinstance(path, Line):
        way = np.subtract(path.b, path.a)
        whole = float(np.linalg.norm(way))
        straight: Array = np.clip((points - path.a) @ way / whole, 0.0, whole)
        return straight
    start, a, run, size = _chords(path)
    off = points[:, None] - a
    t = np.clip((off * run).sum(axis=2) / size**2, 0.0, 1.0)
    gap = np.linalg.norm(off - t[:, :, None] * run, axis=2)
    best = (gap <= gap.min(axis=1)[:, None] + 1e-9).argmax(axis=1)
    each = np.arange(len(points))
    out: Array = start[best] + t[each, best] * size[best]
    return out
