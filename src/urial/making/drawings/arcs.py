"""Rows of short chords said as the arcs they stand for."""

from __future__ import annotations

import math
from itertools import pairwise

from urial.geometry import outline
from urial.geometry.outline import Outline
from urial.making.drawings.model import (
    Spot,
)

ARC_OFF, ARC_LEAST = 0.25, 4
"""A row of so many edges at least that lies so near to one round (mm) is one arc."""


def arced(ring: Outline) -> Outline:
    """An outline whose rows of short chords and arcs along one round are said as one arc, of half a round at
    most; everything else stays as it is.
    """
    n = len(ring)
    if n < ARC_LEAST + 2:
        return ring
    start = _sharpest(ring)
    ring = (*ring[start:], *ring[:start])
    out: list[tuple[float, float, float]] = []
    k = 0
    while k < n:
        end, bulge = k + 1, ring[k][2]
        for stop in range(min(n, k + n - 1), k + ARC_LEAST - 1, -1):
            found = _one_arc(ring, k, stop)
            if found is not None:
                end, bulge = stop, found
                break
        out.append((ring[k][0], ring[k][1], bulge))
        k = end
    return tuple(out)


def _sharpest(ring: Outline) -> int:
    """The corner after the longest straight edge: no arc runs over it."""
    n = len(ring)
    long = [0.0 if ring[k][2] else math.dist(ring[k][:2], ring[(k + 1) % n][:2]) for k in range(n)]
    return (max(range(n), key=lambda k: long[k]) + 1) % n


def _one_arc(ring: Outline, k: int, stop: int) -> float | None:
    """The bulge of one arc from corner ``k`` to corner ``stop`` that all between lies on; None where it does
    not.
    """
    n = len(ring)
    points: list[Spot] = []
    for j in range(k, stop):
        a, b = ring[j], ring[(j + 1) % n]
        edge = outline.flatten((a, (b[0], b[1], 0.0)), math.radians(4)) if a[2] else [a[:2], b[:2]]
        whole = edge[: edge.index(min(edge, key=lambda q: math.dist(q, b[:2]))) + 1] if a[2] else edge
        long = math.dist(a[:2], b[:2])
        if not a[2]:
            whole = [(a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t) for t in (0.0, 0.5, 1.0)]
        if long < 1e-9:
            return None
        points += [(float(u), float(v)) for u, v in whole]
    first, last = points[0], points[-1]
    middle = points[len(points) // 2]
    round_ = _three(first, middle, last)
    if round_ is None:
        return None
    (cu, cv), radius = round_
    if any(abs(math.dist(p, (cu, cv)) - radius) > ARC_OFF for p in points):
        return None
    turned = 0.0
    for p, q in pairwise(points):
        turned += math.remainder(
            math.atan2(q[1] - cv, q[0] - cu) - math.atan2(p[1] - cv, p[0] - cu), 2 * math.pi
        )
    if abs(turned) > math.pi + 0.02 or abs(turned) < 0.1:
        return None
    return math.tan(turned / 4)


def _three(a: Spot, b: Spot, c: Spot) -> tuple[Spot, float] | None:
    """The round through three places: its middle and radius; None for places in line."""
    d = 2 * (a[0] * (b[1] - c[1]) + b[0] * (c[1] - a[1]) + c[0] * (a[1] - b[1]))
    if abs(d) < 1e-6:
        return None
    sq = [p[0] ** 2 + p[1] ** 2 for p in (a, b, c)]
    u = (sq[0] * (b[1] - c[1]) + sq[1] * (c[1] - a[1]) + sq[2] * (a[1] - b[1])) / d
    v = (sq[0] * (c[0] - b[0]) + sq[1] * (a[0] - c[0]) + sq[2] * (b[0] - a[0])) / d
    return (u, v), math.dist((u, v), a)


def round_of(here: tuple[float, float, float], there: tuple[float, float, float]) -> tuple[Spot, float]:
    """Centre and radius of the arc from one corner to the next."""
    (u, v, bulge), (p, q, _) = here, there
    chord = math.hypot(p - u, q - v)
    turn = 4 * math.atan(bulge)
    radius = chord / 2 / math.sin(abs(turn) / 2)
    back = chord / 2 / math.tan(turn / 2)  # from the chord's middle to the centre, to its left
    return ((u + p) / 2 - (q - v) / chord * back, (v + q) / 2 + (p - u) / chord * back), radius


__all__ = ["arced", "round_of"]
