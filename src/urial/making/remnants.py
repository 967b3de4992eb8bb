"""What is left of a sheet: by one straight cut across it, or as it is, with its own outline."""

from __future__ import annotations

from dataclasses import dataclass

from shapely import affinity
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

from urial.making.sheet_model import Point, SheetCut
from urial.shop.snapshot import Shop

SLIVER = 30.0
"""A web narrower than twice this is no part of a rest, mm."""
SMOOTH = 1.0
"""A rest's outline is told by as few corners as lie so near to it, mm."""
LEAST_MM2 = 30_000.0
MOST_CORNERS = 200


@dataclass(frozen=True)
class Rest:
    """A rest: the box it lies in (long, wide, mm), and its outline from that box's corner where it is no
    rectangle.
    """

    size: Point
    outline: tuple[Point, ...] = ()


def _cut_out(s: SheetCut, shop: Shop) -> BaseGeometry:
    """All the metal that is gone, what lay in openings too, with the gap round it."""
    rims = [Polygon(p.metal.exterior) for p in (*s.cut, *s.placed)]
    return unary_union(rims).buffer(shop.table.gap_mm)


def straight_rest(s: SheetCut, shop: Shop) -> Rest | None:
    """What a straight cut across the sheet beyond its last plate leaves; None where it is too short to keep,
    or where the sheet is no rectangle.
    """
    if s.outline:
        return None
    used = _cut_out(s, shop).bounds[2] + shop.table.kerf_mm
    long, wide = s.size[0] - used, s.size[1]
    return Rest((max(long, wide), min(long, wide))) if long >= shop.saw.remnant_mm else None


def whole_rest(s: SheetCut, shop: Shop) -> Rest | None:
    """The largest piece of metal that is left, without its slivers; None where it is too small to keep."""
    metal = s.metal.difference(_cut_out(s, shop))
    solid = metal.buffer(-SLIVER, join_style="mitre").buffer(SLIVER, join_style="mitre").intersection(metal)
    parts = [g for g in getattr(solid, "geoms", [solid]) if isinstance(g, Polygon)]
    if not parts:
        return None
    one = max(parts, key=lambda g: g.area)
    rim = Polygon(one.exterior)
    if one.interiors:  # a hole in the middle of it: only what is all round is told by an outline
        rim = _slit(one)
    step = SMOOTH
    inner = rim.buffer(-step, join_style="mitre").simplify(step)
    while len(getattr(inner, "exterior", inner).coords) > MOST_CORNERS and step < 50:
        step *= 2
        inner = rim.buffer(-step, join_style="mitre").simplify(step)
    if not isinstance(inner, Polygon) or inner.is_empty or inner.area < LEAST_MM2:
        return None
    x0, y0, x1, y1 = inner.bounds
    if max(x1 - x0, y1 - y0) < shop.saw.remnant_mm:
        return None
    inner = affinity.translate(inner, -x0, -y0)
    points = tuple((round(x, 2), round(y, 2)) for x, y in inner.exterior.coords[:-1])
    size = (round(x1 - x0, 2), round(y1 - y0, 2))
    if inner.area > 0.999 * size[0] * size[1]:
        return Rest((max(size), min(size)))
    return Rest(size, points)


def _slit(one: Polygon) -> Polygon:
    """A ring of metal as one outline: each hole is joined to the sheet's far end by what lies beside it."""
    x1 = one.bounds[2]
    gone: BaseGeometry = one
    for hole in one.interiors:
        a, b, _, d = Polygon(hole).bounds
        gone = gone.difference(Polygon([(a, b), (x1, b), (x1, d), (a, d)]))
    parts = [g for g in getattr(gone, "geoms", [gone]) if isinstance(g, Polygon) and not g.interiors]
    return max(parts, key=lambda g: g.area, default=Polygon(one.exterior).buffer(-1e9))


__all__ = ["Rest", "straight_rest", "whole_rest"]
