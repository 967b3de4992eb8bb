"""Clean lines and arcs through a row of points: what a tracing or another program's chords were meant to be.

Each edge reaches as far as every point it passes lies within a tolerance of it; of a line and an arc that
reach as far the line is taken.  A ring that is one circle is said as one.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from urial.geometry.outline import Outline, Point, area

Array = NDArray[np.float64]
CORNER = math.radians(40.0)
"""A turn by more than this between two long chords is a corner that was meant."""
LONGEST_SWEEP = math.radians(300.0)
STRAIGHT = math.radians(3.0)
"""An arc that turns by less is a straight edge."""
LEAST = 3
"""An arc passes through this many points between its ends at least; two chords are no arc."""


class NoOutline(ValueError):
    """The points make no outline; the message says why, as the end of a sentence."""


def circle(ring: Array, tolerance: float) -> tuple[float, float, float] | None:
    """Middle and diameter where a ring's points lie on one circle; None where they do not.

    Args: ring (n, 2), closed without its first point again; ``tolerance``: how far a point may lie off, mm.
    Source: algebraic least squares (Kåsa, 1976).
    """
    if len(ring) < 8:
        return None
    found = _kasa(ring)
    if found is None:
        return None
    x, y, r = found
    off = np.abs(np.hypot(ring[:, 0] - x, ring[:, 1] - y) - r)
    turned = np.unwrap(np.arctan2(ring[:, 1] - y, ring[:, 0] - x))
    whole = abs(abs(turned[-1] - turned[0]) - 2 * math.pi) < 4 * math.pi / len(ring) * 3
    # the chords' own middles lie inside of the circle: of few points that is no circle but a polygon
    chords = np.hypot(*(np.roll(ring, -1, axis=0) - ring).T)
    sagitta = r - math.sqrt(max(r * r - (chords.max() / 2) ** 2, 0.0))
    return (x, y, 2 * r) if whole and off.max() <= tolerance and sagitta <= 3 * tolerance else None


def _kasa(points: Array) -> tuple[float, float, float] | None:
    middle = points.mean(axis=0)
    p = points - middle
    rows = np.c_[p, np.ones(len(p))]
    solved, _, rank, _ = np.linalg.lstsq(rows, (p * p).sum(axis=1), rcond=None)
    if rank < 3:
        return None
    x, y = solved[0] / 2, solved[1] / 2
    return float(x + middle[0]), float(y + middle[1]), float(math.sqrt(max(solved[2] + x * x + y * y, 0.0)))


def fitted(ring: Sequence[Point] | Array, tolerance: float) -> Outline:
    """A closed ring of points as lines and arcs, counter-clockwise.

    Args: ring (n, 2), with or without its first point again; ``tolerance`` in its own unit: no point lies
    farther off.  NoOutline where fewer than three places are left.
    """
    points = _distinct(np.asarray(ring, dtype=float), tolerance)
    if len(points) < 3:
        raise NoOutline("has no area: fewer than three places of it are apart")
    if signed_area(points) < 0:
        points = points[::-1]
    starts = _corners(points, tolerance)
    first = starts[0] if starts else _where_an_edge_ends(points, tolerance)
    points = np.roll(points, -first, axis=0)
    marks = sorted({(s - first) % len(points) for s in starts} | {0})
    closed = np.vstack([points, points[:1]])
    edges: list[tuple[int, float]] = []
    for a, b in zip(marks, [*marks[1:], len(points)], strict=True):
        edges += _edges(closed, a, b, tolerance)
    edges = _joined(points, edges, tolerance)
    return tuple((float(points[k, 0]), float(points[k, 1]), bulge) for k, bulge in edges)


def _where_an_edge_ends(points: Array, tolerance: float) -> int:
    """Of a ring without corners: where the second edge from any place ends, so that none begins midway."""
    closed = np.vstack([points, points[:1]])
    ends = _ends(closed, 0, len(points), tolerance)[0]
    return ends[min(2, len(ends) - 1)] % len(points)


def signed_area(points: Array) -> float:
    """Of a closed ring (n, 2), positive counter-clockwise."""
    x, y = points.T
    return float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum() / 2)


def _distinct(points: Array, tolerance: float) -> Array:
    """Without the first place again at the end, and without places that are one."""
    least = tolerance * 1e-3
    keep = [0]
    for k in range(1, len(points)):
        if np.hypot(*(points[k] - points[keep[-1]])) > least:
            keep.append(k)
    if len(keep) > 1 and np.hypot(*(points[keep[-1]] - points[keep[0]])) <= least:
        keep.pop()
    return points[keep]


def _corners(points: Array, tolerance: float) -> list[int]:
    """Where the ring turns sharply: seen over a stretch that is long against the tolerance."""
    n = len(points)
    run = np.roll(points, -1, axis=0) - points
    size = np.hypot(run[:, 0], run[:, 1])
    whole = float(size.sum())
    reach = min(10 * tolerance, whole / 16)
    out = []
    for k in range(n):
        before, after = _away(points, size, k, -1, reach), _away(points, size, k, 1, reach)
        a, b = points[k] - before, after - points[k]
        turn = math.atan2(a[0] * b[1] - a[1] * b[0], float(a @ b))
        if abs(turn) > CORNER:
            out.append((k, abs(turn)))
    # of neighbours that see one corner the sharpest is it
    kept: list[int] = []
    for k, _ in sorted(out, key=lambda c: -c[1]):
        if all(_between(size, k, other, n) > reach for other in kept):
            kept.append(k)
    return sorted(kept)


def _away(points: Array, size: Array, k: int, way: int, reach: float) -> Array:
    """The first place so far along the ring from a place."""
    n, gone, at = len(points), 0.0, k
    for _ in range(n):
        gone += float(size[at if way > 0 else at - 1])
        at = (at + way) % n
        if gone >= reach:
            break
    return np.asarray(points[at])


def _between(size: Array, a: int, b: int, n: int) -> float:
    low, high = sorted((a, b))
    one = float(size[low:high].sum())
    return min(one, float(size.sum()) - one)


def _edges(p: Array, start: int, stop: int, tolerance: float) -> list[tuple[int, float]]:
    """Edges from one corner to the next, each as long as it holds, then their common ends moved to where both
    fit best: where each begins, and its bulge.
    """
    ends, arcs = _ends(p, start, stop, tolerance)
    out = []
    for a, b, round_ in zip(ends[:-1], ends[1:], arcs, strict=True):
        bulge = _bulge(p[a : b + 1]) if round_ else 0.0
        if bulge and abs(4 * math.atan(bulge)) < STRAIGHT and _is_line(p[a : b + 1], tolerance):
            bulge = 0.0
        out.append((a, bulge))
    return out


def _ends(p: Array, start: int, stop: int, tolerance: float) -> tuple[list[int], list[bool]]:
    """Where edges end, and which are arcs."""
    ends, arcs = [start], list[bool]()
    while ends[-1] < stop:
        a = ends[-1]
        line = _farthest(p, a, stop, tolerance, _is_line, 2)
        arc = _farthest(p, a, stop, tolerance, _is_arc, LEAST + 1)
        ends.append(arc if arc > line else line)
        arcs.append(arc > line)
    for k in range(1, len(ends) - 1):
        ends[k] = _best_end(p, ends[k - 1 : k + 2], arcs[k - 1 : k + 1], tolerance)
    return ends, arcs


ABOUT = 12
"""An end that two edges share is looked for so many places to either side."""


def _best_end(p: Array, ends: Sequence[int], arcs: Sequence[bool], tolerance: float) -> int:
    a, here, c = ends
    found = []
    for b in range(max(a + 1, here - ABOUT), min(c - 1, here + ABOUT) + 1):
        parts = ((p[a : b + 1], arcs[0]), (p[b : c + 1], arcs[1]))
        if all((_is_arc if round_ else _is_line)(q, tolerance) for q, round_ in parts):
            missed = sum(float((_off(q, round_) ** 2).sum()) for q, round_ in parts)
            found.append((missed, abs(b - here), b))
    return min(found)[2] if found else here


def _off(p: Array, round_: bool) -> Array:
    """How far points lie off the edge through the first and the last, and how far its middles lie off the
    chords between them.
    """
    middles = np.vstack([p, (p[1:] + p[:-1]) / 2])
    run = p[-1] - p[0]
    chord = float(np.hypot(*run))
    if not round_:
        off = middles - p[0]
        return np.asarray((off[:, 0] * run[1] - off[:, 1] * run[0]) / chord)
    sweep = 4 * math.atan(_bulge(p))
    radius = chord / (2 * math.sin(sweep / 2))
    centre = (p[0] + p[-1]) / 2 + np.array([-run[1], run[0]]) / chord * radius * math.cos(sweep / 2)
    off = p - centre
    return np.asarray(np.hypot(off[:, 0], off[:, 1]) - abs(radius))


Holds = Callable[[Array, float], bool]


def _farthest(p: Array, a: int, stop: int, tolerance: float, holds: Holds, least: int) -> int:
    """The last place that an edge from a place reaches: doubled as long as it holds, then halved.

    Args: ``least``: so many places on it is tried first; the next one where that does not hold.
    """
    good, bad = a + 1, stop + 1
    step = least
    while a + step <= stop or good < stop:
        there = min(a + step, stop)
        if there <= good:
            break
        if not holds(p[a : there + 1], tolerance):
            bad = there
            break
        good = there
        step *= 2
    if good == a + 1 and bad <= a + least:
        return good
    while bad - good > 1:
        middle = (good + bad) // 2
        if holds(p[a : middle + 1], tolerance):
            good = middle
        else:
            bad = middle
    return good


def _is_line(p: Array, tolerance: float) -> bool:
    run = p[-1] - p[0]
    long = float(np.hypot(*run))
    if long < 1e-12:
        return False
    off = p[1:-1] - p[0]
    away = np.abs(off[:, 0] * run[1] - off[:, 1] * run[0]) / long
    along = off @ run / long
    return bool(
        (away <= tolerance).all() and (along >= -tolerance).all() and (along <= long + tolerance).all()
    )


def _bulge(p: Array) -> float:
    """Of the arc through both ends that fits what lies between: the least squares of the bulges through
    each, weighed by how far from the ends it lies.
    """
    run = p[-1] - p[0]
    chord = float(np.hypot(*run))
    if chord < 1e-12 or len(p) < 3:
        return 0.0
    off = p[1:-1] - p[0]
    u = off @ run / chord
    v = (off[:, 0] * run[1] - off[:, 1] * run[0]) / chord  # to the right of the run: a left turn bulges there
    half = chord / 2
    s = u - half
    # the circle through both ends with sagitta h meets s at v: v² + s² − half² = v (h − half²/h)
    power = v * v + s * s - half * half
    weight = v * v
    if float(weight.sum()) < 1e-18:
        return 0.0
    k = float((power * v).sum() / weight.sum())
    h = (k + math.sqrt(k * k + 4 * half * half)) / 2
    if float(v.sum()) < 0:
        h = (k - math.sqrt(k * k + 4 * half * half)) / 2
    return h / half


def _is_arc(p: Array, tolerance: float) -> bool:
    if len(p) < LEAST + 2:
        return False
    bulge = _bulge(p)
    sweep = 4 * math.atan(bulge)
    if bulge == 0.0 or abs(sweep) > LONGEST_SWEEP:
        return False
    run = p[-1] - p[0]
    chord = float(np.hypot(*run))
    radius = chord / (2 * math.sin(sweep / 2))
    left = np.array([-run[1], run[0]]) / chord
    centre = (p[0] + p[-1]) / 2 + left * radius * math.cos(sweep / 2)
    off = p - centre
    if (np.abs(np.hypot(off[:, 0], off[:, 1]) - abs(radius)) > tolerance).any():
        return False
    turned = np.unwrap(np.arctan2(off[:, 1], off[:, 0])) * math.copysign(1.0, sweep)
    steps = np.diff(turned)
    if (steps < -2 * tolerance / abs(radius)).any():
        return False
    sagitta = abs(radius) * (1 - math.cos(min(float(steps.max()), math.pi) / 2))
    return sagitta <= 3 * tolerance


def _joined(points: Array, edges: list[tuple[int, float]], tolerance: float) -> list[tuple[int, float]]:
    """Straight edges in line made one, where all that they pass lies near the one."""
    rows = list(edges)
    k = 0
    while len(rows) > 3 and k < len(rows):
        (a, before), (_, after), (c, _) = rows[k - 1], rows[k], rows[(k + 1) % len(rows)]
        if before == after == 0.0 and _is_line(_stretch(points, a, c), tolerance):
            rows.pop(k)
            k = max(k - 1, 0)
        else:
            k += 1
    return rows


def _stretch(points: Array, a: int, c: int) -> Array:
    """The places from one to another along a ring, both with them."""
    return points[a : c + 1] if c > a else np.vstack([points[a:], points[: c + 1]])


def checked(outline: Outline) -> Outline:
    """The same; NoOutline where it crosses itself or has no area."""
    from shapely.geometry import Polygon
    from shapely.validation import explain_validity

    from urial.geometry.outline import flatten

    if len(outline) < 2 or abs(area(outline)) < 1e-6:
        raise NoOutline("has no area")
    ring = Polygon(flatten(outline))
    if not ring.is_valid:
        where = explain_validity(ring).partition("[")[2].rstrip("]")
        at = " at " + ", ".join(f"{float(v):.0f}" for v in where.split()) if where else ""
        raise NoOutline(f"crosses itself{at}")
    return outline


__all__ = ["NoOutline", "checked", "circle", "fitted", "signed_area"]
