"""What a plate covers of a sheet: its true outline, windows open, mirrored and turned as it lies.

Arcs are chords that leave a hair of the metal out; the gap between pieces is a thousand times that.
"""

from __future__ import annotations

import math
from functools import lru_cache

from shapely import affinity
from shapely.geometry import Point, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from urial.geometry.outline import Outline, bounds, flatten
from urial.geometry.shape import Plate

SAGITTA = 0.03
"""What a chord may leave out of an arc, mm."""
OPENING = 20.0
"""A round hole is an opening that something could lie in from this diameter on, mm."""


@lru_cache(maxsize=2048)
def silhouette(shape: Plate, mirrored: bool = False) -> Polygon:
    """The metal of a plate's drawing (its flat pattern), mirrored first where it is the other of a pair; mm.

    Windows, slots and holes that something could lie in are open; smaller holes are not.
    """
    rim = _ring(shape.outline)
    open_ = [_ring(r) for r in shape.openings]
    open_ += [Point(u, v).buffer(d / 2, quad_segs=18) for u, v, d in shape.holes if d >= OPENING]
    metal = rim.difference(unary_union(open_)) if open_ else rim
    if not isinstance(metal, Polygon):
        metal = max((g for g in getattr(metal, "geoms", ()) if isinstance(g, Polygon)), key=lambda g: g.area)
    return affinity.scale(metal, -1, 1, origin=(0, 0)) if mirrored else metal


def _ring(outline: Outline) -> BaseGeometry:
    """An outline as a polygon, its arcs in chords as fine as the largest arc it could have wants them."""
    u0, v0, u1, v1 = bounds(outline)
    radius = max(math.hypot(u1 - u0, v1 - v0) / 2, 1.0)
    step = 2 * math.acos(1 - min(SAGITTA / radius, 0.01))
    return Polygon(flatten(outline, step)).buffer(0)


def laid(metal: Polygon, turned: float, at: tuple[float, float]) -> Polygon:
    """A silhouette turned about its drawing's origin (degrees), then moved, mm."""
    if turned:
        metal = affinity.rotate(metal, turned, origin=(0, 0))
    return affinity.translate(metal, *at)


__all__ = ["laid", "silhouette"]
