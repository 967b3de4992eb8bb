"""An outline out of a file, as something a plate can be cut to: clean lines and arcs, holes, windows, and
what would fall out.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import LineString, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import nearest_points, unary_union

from urial.geometry.fitted import NoOutline, checked, circle, fitted
from urial.geometry.outline import Outline, bounds, flatten
from urial.measure import foreign
from urial.measure.rings import OUTLINE_FILES
from urial.measure.taken import BackdropError

Array = NDArray[np.float64]
LARGEST = 32 * 1024 * 1024
UNITS = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "inch": 25.4, "px": 1.0}
FINE, PIXEL = 0.08, 0.5
"""How far an outline may lie off what was drawn, mm, and off a picture's edge, pixels."""
STEP = math.radians(3)
MOST_EDGES = 2000


@dataclass(frozen=True)
class Traced:
    """An outline as it was drawn, mm (a picture's: pixels, until it is scaled).

    ``rim``, round ``holes`` (x, y, diameter) and ``windows``; ``islands``: metal inside a window, that falls
    out; ``others``: pieces beside it that were left; ``unit`` of the file.
    """

    name: str
    rim: Outline
    holes: tuple[tuple[float, float, float], ...] = ()
    windows: tuple[Outline, ...] = ()
    islands: tuple[Outline, ...] = ()
    others: int = 0
    unit: str = "mm"

    @property
    def size(self) -> tuple[float, float]:
        """Of the box it lies in."""
        x0, y0, x1, y1 = bounds(self.rim)
        return x1 - x0, y1 - y0

    @property
    def metal(self) -> BaseGeometry:
        """What is left when everything is cut, islands not."""
        gone = [Polygon(flatten(w, STEP)) for w in self.windows]
        gone += [Polygon(flatten(_round(h), STEP)) for h in self.holes]
        return Polygon(flatten(self.rim, STEP)).buffer(0).difference(unary_union(gone))


def _round(h: tuple[float, float, float]) -> Outline:
    x, y, d = h
    return ((x + d / 2, y, 1.0), (x - d / 2, y, 1.0))


def read(path: Path, stale: Callable[[], bool] = lambda: False) -> Traced:
    """A file's outline; BackdropError in one sentence where it has none."""
    kind = OUTLINE_FILES.get(path.suffix.lower())
    if kind is None:
        raise BackdropError(
            f"{path.name} ends in “{path.suffix or 'nothing'}”; take a DXF, an SVG, or a black-and-white "
            "picture."
        )
    rows, unit = foreign.rings(path, kind, LARGEST, stale)
    scale = UNITS[unit]
    tolerance = PIXEL if unit == "px" else FINE
    try:
        found = traced([r * scale for r in rows], tolerance, path.stem)
    except NoOutline as why:
        raise BackdropError(f"{path.name} {why}.") from None
    return replace(found, unit=unit)


def traced(rings: Sequence[Array], tolerance: float, name: str = "") -> Traced:
    """Rings sorted into rim, openings and islands, as clean lines and arcs, the middle of the box at nought.

    NoOutline where the rim, or what is cut out of it, is no outline.
    """
    solid = [(Polygon(r).buffer(0), np.asarray(r)) for r in rings]
    solid = sorted((s for s in solid if s[0].area > 1e-9), key=lambda s: -s[0].area)
    if not solid:
        raise NoOutline("holds no outline with an area")
    largest = solid[0][0].area
    solid = [s for s in solid if s[0].area > 1e-7 * largest]
    depth = [sum(o[0].contains(s[0].representative_point()) for o in solid[:k]) for k, s in enumerate(solid)]
    rim_metal, rim_points = solid[0]
    for other, _ in solid[1:]:
        if other.boundary.crosses(rim_metal.boundary):
            raise NoOutline("has outlines that cross each other")
    mine = [(d, s) for d, s in zip(depth[1:], solid[1:], strict=True) if rim_metal.contains(s[0])]
    rim = checked(fitted(rim_points, tolerance))
    holes, windows, islands = [], [], []
    for d, (_, points) in mine:
        round_ = circle(points, tolerance)
        if d == 1 and round_ is not None:
            holes.append(round_)
        elif d == 1:
            windows.append(checked(fitted(points, tolerance)))
        elif d == 2:
            islands.append(checked(fitted(points, tolerance)))
    if sum(map(len, (rim, *windows))) > MOST_EDGES:
        raise NoOutline(f"has more than {MOST_EDGES} edges; draw it simpler")
    x0, y0, x1, y1 = bounds(rim)
    others = sum(d == 0 for d in depth) - 1
    return moved(
        Traced(name, rim, tuple(holes), tuple(windows), tuple(islands), others),
        (-(x0 + x1) / 2, -(y0 + y1) / 2),
    )


def moved(t: Traced, by: tuple[float, float], turn: float = 0.0, scale: float = 1.0) -> Traced:
    """Scaled and turned about its origin (radians), then moved."""
    c, s = scale * math.cos(turn), scale * math.sin(turn)

    def at(x: float, y: float) -> tuple[float, float]:
        return c * x - s * y + by[0], s * x + c * y + by[1]

    def ring(o: Outline) -> Outline:
        return tuple((*at(x, y), b) for x, y, b in o)

    return replace(
        t,
        rim=ring(t.rim),
        holes=tuple((*at(x, y), d * scale) for x, y, d in t.holes),
        windows=tuple(ring(w) for w in t.windows),
        islands=tuple(ring(i) for i in t.islands),
    )


def bridged(t: Traced, wide: float) -> Traced:
    """The same with every island held by a bridge of metal from the nearest place of what is round it, and by
    a second one across from that.

    Args: ``wide``: of a bridge, mm.  NoOutline where a bridge would close what it crosses.
    """
    if not t.islands:
        return t
    metal = t.metal
    whole: BaseGeometry = metal
    for o in t.islands:
        island = Polygon(flatten(o, STEP))
        if island.buffer(-wide / 2 + 1e-6).is_empty:
            raise NoOutline("has an island narrower than that bridge; take a narrower one")
        here, there = nearest_points(island, metal)
        middle = island.centroid
        first = LineString([here, there])
        away = np.array([here.x - there.x, here.y - there.y])
        size = float(np.hypot(*away)) or 1.0
        reach = math.hypot(*t.size)
        far = (middle.x + away[0] / size * reach, middle.y + away[1] / size * reach)
        beyond = (
            LineString([(middle.x, middle.y), far])
            .difference(island)
            .intersection(Polygon(flatten(t.rim, STEP)))
        )
        ways = [g for g in getattr(beyond, "geoms", [beyond]) if g.distance(island) < 1e-6]
        second = ways[0].difference(metal.buffer(-1e-6)) if ways else LineString()
        parts = [g for g in getattr(second, "geoms", [second]) if g.distance(island) < 1e-6]
        rim = Polygon(flatten(t.rim, STEP))
        bars = [_bar(p, wide).intersection(rim) for p in (first, *parts[:1])]
        whole = unary_union([whole, island, *bars])
    if not isinstance(whole, Polygon):
        raise NoOutline("falls apart even with bridges; make them wider")
    rings = [np.array(r.coords[:-1]) for r in (whole.exterior, *whole.interiors)]
    made = traced(rings, FINE / 4, t.name)
    x0, y0, x1, y1 = bounds(t.rim)
    return replace(moved(made, ((x0 + x1) / 2, (y0 + y1) / 2)), others=t.others, unit=t.unit)


def _bar(line: BaseGeometry, wide: float) -> BaseGeometry:
    """A bridge along a line, a little into the metal at both ends."""
    return line.buffer(wide / 2, cap_style="square")


@dataclass(frozen=True)
class Fault:
    """What a cutter would make badly: where, mm, and a sentence."""

    at: tuple[float, float]
    words: str


def faults(t: Traced, thick: float, kerf: float) -> list[Fault]:
    """Webs thinner than the plate, openings a jet cannot enter, islands that fall out.

    Args: ``thick`` of the plate, ``kerf`` of the cut, mm.  The rules of thumb of thermal cutting: a web as
    wide as the plate is thick, an opening no narrower than that and never under three kerfs.
    """
    out: list[Fault] = []
    least = max(thick, 3 * kerf)
    metal = t.metal
    thin = metal.difference(metal.buffer(-thick / 2 + 0.05).buffer(thick / 2))
    for g in getattr(thin, "geoms", [thin]):
        # what an opening leaves at every sharp corner is no web
        if g.area > 0.35 * thick * thick:
            p = g.representative_point()
            out.append(Fault((p.x, p.y), f"a web is thinner than the plate, {thick:.3g} mm: it burns away"))
    for x, y, d in t.holes:
        if d < least:
            out.append(
                Fault((x, y), f"a hole of {d:.3g} mm is smaller than {least:.3g} mm: mark it and drill it")
            )
    for w in t.windows:
        ring = Polygon(flatten(w, STEP)).buffer(0)
        if ring.buffer(-least / 2 + 0.01).is_empty:
            p = ring.representative_point()
            out.append(Fault((p.x, p.y), f"an opening is narrower than {least:.3g} mm: no jet gets in"))
    for i in t.islands:
        p = Polygon(flatten(i, STEP)).representative_point()
        out.append(Fault((p.x, p.y), "an island falls out: bridge it"))
    if not isinstance(metal, Polygon):
        out.append(Fault((0.0, 0.0), "it falls into pieces"))
    return out


__all__ = ["Fault", "Traced", "bridged", "faults", "moved", "read", "traced"]
