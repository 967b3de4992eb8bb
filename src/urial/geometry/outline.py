"""Plate outlines of straight edges and arcs: vertices (u, v, bulge), counter-clockwise, as a drawing
exchange file has them.

``bulge`` is tan(arc angle / 4) of the edge that leaves the vertex, 0 for a straight edge, positive for an
arc that turns left.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

Outline = tuple[tuple[float, float, float], ...]
Point = tuple[float, float]


def convex_hull(points: Sequence[Point]) -> list[Point]:
    """Corners of the hull, counter-clockwise, without points on its edges (Andrew's monotone chain).

    Places within a millionth of a millimetre are one: the test for a turn is only as fine as that.
    """
    ordered = sorted({(round(x, 6), round(y, 6)) for x, y in points})
    if len(ordered) < 3:
        return ordered

    def half(source: Sequence[Point]) -> list[Point]:
        chain: list[Point] = []
        for p in source:
            while len(chain) >= 2:
                (ax, ay), (bx, by) = chain[-2], chain[-1]
                if (bx - ax) * (p[1] - ay) - (by - ay) * (p[0] - ax) > 1e-9:
                    break
                chain.pop()
            chain.append(p)
        return chain[:-1]

    return half(ordered) + half(ordered[::-1])


def rounded_hull(centres: Sequence[Point], radius: float) -> Outline:
    """The shape a string of discs of one radius spans: hull of the centres grown by the radius, corners
    true arcs.
    """
    hull = convex_hull(centres)
    n = len(hull)
    if n == 1:
        (x, y), r = hull[0], radius
        return ((x + r, y, 1.0), (x - r, y, 1.0))
    out: list[tuple[float, float, float]] = []
    for k in range(n):
        before, here, after = hull[k - 1], hull[k], hull[(k + 1) % n]
        a_in = math.atan2(here[1] - before[1], here[0] - before[0])
        a_out = math.atan2(after[1] - here[1], after[0] - here[0])
        turn = (a_out - a_in) % (2 * math.pi)
        for angle, bulge in ((a_in, math.tan(turn / 4)), (a_out, 0.0)):
            out.append((here[0] + radius * math.sin(angle), here[1] - radius * math.cos(angle), bulge))
    return tuple(out)


def rectangle(u0: float, v0: float, u1: float, v1: float, radius: float = 0.0) -> Outline:
    """A rectangle, its corners rounded by ``radius``."""
    if radius <= 0:
        return ((u0, v0, 0.0), (u1, v0, 0.0), (u1, v1, 0.0), (u0, v1, 0.0))
    r = min(radius, (u1 - u0) / 2 * 0.999, (v1 - v0) / 2 * 0.999)
    return rounded_hull([(u0 + r, v0 + r), (u1 - r, v0 + r), (u1 - r, v1 - r), (u0 + r, v1 - r)], r)


def polygon(points: Sequence[Point]) -> Outline:
    """Straight-edged outline, turned counter-clockwise."""
    corners = tuple((x, y, 0.0) for x, y in points)
    return corners if area(corners) > 0 else tuple(reversed(corners))


def area(outline: Outline) -> float:
    """Exact signed area, arcs included, mm²."""
    total = 0.0
    for k, (x0, y0, bulge) in enumerate(outline):
        x1, y1, _ = outline[(k + 1) % len(outline)]
        total += (x0 * y1 - x1 * y0) / 2
        if bulge:
            theta = 4 * math.atan(bulge)
            chord = math.hypot(x1 - x0, y1 - y0)
            radius = chord / (2 * math.sin(theta / 2))
            total += radius**2 * (theta - math.sin(theta)) / 2
    return total


def arc(a: Point, b: Point, bulge: float) -> tuple[Point, float, float, float]:
    """Centre, radius, start angle and sweep (radians, signed) of the arc from a to b."""
    theta = 4 * math.atan(bulge)
    chord = math.hypot(b[0] - a[0], b[1] - a[1])
    radius = chord / (2 * math.sin(theta / 2))
    mid = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
    back = radius * math.cos(theta / 2)
    nx, ny = -(b[1] - a[1]) / chord, (b[0] - a[0]) / chord
    centre = (mid[0] + back * nx, mid[1] + back * ny)
    return centre, abs(radius), math.atan2(a[1] - centre[1], a[0] - centre[0]), theta


def flatten(outline: Outline, step: float = math.radians(7.5)) -> list[Point]:
    """Corners with arcs cut into chords of at most ``step`` radians."""
    out: list[Point] = []
    for k, (x0, y0, bulge) in enumerate(outline):
        x1, y1, _ = outline[(k + 1) % len(outline)]
        out.append((x0, y0))
        if bulge and math.hypot(x1 - x0, y1 - y0) > 1e-9:
            (cx, cy), r, start, sweep = arc((x0, y0), (x1, y1), bulge)
            pieces = max(1, math.ceil(abs(sweep) / step))
            out += [
                (cx + r * math.cos(start + sweep * i / pieces), cy + r * math.sin(start + sweep * i / pieces))
                for i in range(1, pieces)
            ]
    return out


def bounds(outline: Outline) -> tuple[float, float, float, float]:
    """u0, v0, u1, v1."""
    flat = flatten(outline)
    us, vs = [p[0] for p in flat], [p[1] for p in flat]
    return min(us), min(vs), max(us), max(vs)


@lru_cache(maxsize=64)
def _edges(outline: Outline) -> tuple[NDArray[np.float64], ...]:
    """The flattened edges: starts and runs (n, 2), lengths squared (n,), and v of the ends (n,), the very
    starts of the next, so that a corner at a point's height is crossed once.
    """
    start = np.array(flatten(outline, math.radians(3)))
    run = np.roll(start, -1, axis=0) - start
    return start, run, np.maximum((run * run).sum(axis=1), 1e-18), np.roll(start[:, 1], -1)


def distance_to_edge(outline: Outline, u: float, v: float) -> float:
    """Distance from a point to the nearest edge, mm; negative outside."""
    start, run, square, end_v = _edges(outline)
    off = np.array([u, v]) - start
    gap = off - np.clip((off * run).sum(axis=1) / square, 0, 1)[:, None] * run
    best = math.sqrt(float((gap * gap).sum(axis=1).min()))
    straddles = (start[:, 1] > v) != (end_v > v)
    rise = np.where(straddles, run[:, 1], 1.0)
    inside = int((straddles & (off[:, 0] < off[:, 1] / rise * run[:, 0])).sum()) % 2 == 1
    return best if inside else -best
