"""Closed rings out of a stranger's drawing or black-and-white picture: read in a process of its own, told as
plain places.

A DXF's lines and arcs are joined where their ends meet; an SVG's shapes are sampled; of a picture the edge
between dark and light is followed (by vtracer), dark is metal.
"""

from __future__ import annotations

import io
import math
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from urial.measure.taken import FARTHEST, MOST_LINES, BackdropError, outline_of

Array = NDArray[np.float64]
OUTLINE_FILES = {
    ".dxf": "dxf",
    ".svg": "svg",
    ".png": "picture",
    ".jpg": "picture",
    ".jpeg": "picture",
    ".bmp": "picture",
    ".tif": "picture",
    ".tiff": "picture",
}
PIXELS, SIDE = 12_000_000, 6000
"""A picture has at most so many pixels, and no side is longer: a sheet of paper at 300 to the inch."""
SPECKLE = 6
"""A spot of fewer pixels across is dirt."""
TRUE_CORNER = 4
"""Two edges of the raster that are both so many pixels long meet in a corner that was meant."""
CHORD = 0.05
"""How far a chord of a sampled curve may lie off it, mm."""
SMOOTH = 4
"""Places to either side that a place on a raster's edge is the mean of."""
MOST_RINGS = 2000
INCH = 25.4
PX_PER_INCH = 96.0


def rings_of(kind: str, path: Path) -> tuple[list[Array], str]:
    """The closed rings of a file, each (n, 2), y upwards, and their unit (mm, inch, cm, m, px).

    BackdropError, as the end of a sentence, where it has none.
    """
    found, unit = {"dxf": _dxf, "svg": _svg, "picture": _picture}[kind](path)
    rings = [r for r in found if len(r) >= 3 and np.isfinite(r).all() and np.abs(r).max() < FARTHEST]
    if not rings:
        raise BackdropError("holds no closed outline; join its lines until they end where they began.")
    if len(rings) > MOST_RINGS or sum(map(len, rings)) > MOST_LINES:
        raise BackdropError(
            f"holds more than {MOST_RINGS} outlines or {MOST_LINES} corners; save it simpler."
        )
    return rings, unit


# ---- DXF


def _dxf(path: Path) -> tuple[list[Array], str]:
    lines, insunits = outline_of(path.read_bytes())
    unit = {1: "inch", 4: "mm", 5: "cm", 6: "m"}.get(insunits, "mm")
    return chained([line[:, :2] for line in lines]), unit


def chained(lines: list[Array]) -> list[Array]:
    """Lines joined end to end where their ends meet, those that close."""
    span = max(float(np.ptp(np.vstack(lines), axis=0).max()), 1e-9)
    meet = max(span * 1e-5, 1e-6)
    out = [line[:-1] for line in lines if len(line) > 3 and np.hypot(*(line[0] - line[-1])) <= meet]
    open_ = [line for line in lines if not (len(line) > 3 and np.hypot(*(line[0] - line[-1])) <= meet)]
    cells: dict[tuple[int, int], list[tuple[int, int]]] = {}

    def cell(p: Array) -> tuple[int, int]:
        return math.floor(p[0] / meet), math.floor(p[1] / meet)

    for k, line in enumerate(open_):
        for end in (0, -1):
            cells.setdefault(cell(line[end]), []).append((k, end))
    used: set[int] = set()

    def follows(p: Array) -> tuple[int, int] | None:
        x, y = cell(p)
        for i in (x, x - 1, x + 1):
            for j in (y, y - 1, y + 1):
                for k, end in cells.get((i, j), ()):
                    if k not in used and np.hypot(*(open_[k][end] - p)) <= meet:
                        return k, end
        return None

    for k, line in enumerate(open_):
        if k in used:
            continue
        used.add(k)
        chain = [line]
        while np.hypot(*(chain[-1][-1] - chain[0][0])) > meet and (nxt := follows(chain[-1][-1])):
            used.add(nxt[0])
            more = open_[nxt[0]]
            chain.append(more if nxt[1] == 0 else more[::-1])
        if np.hypot(*(chain[-1][-1] - chain[0][0])) <= meet and len(chain) > 1:
            out.append(np.vstack([c[:-1] for c in chain]))
    return out


# ---- SVG


def _svg(path: Path) -> tuple[list[Array], str]:
    from svgelements import SVG, Shape
    from svgelements import Path as SvgPath

    text = path.read_bytes()
    if b"<!ENTITY" in text:
        raise BackdropError("declares entities of its own; save it as plain SVG.")
    drawn = SVG.parse(io.BytesIO(text), reify=True, ppi=PX_PER_INCH)
    scale = INCH / PX_PER_INCH
    out: list[Array] = []
    for element in drawn.elements():
        if not isinstance(element, Shape) or _hidden(element):
            continue
        for part in abs(SvgPath(element)).as_subpaths():
            points = _sampled(SvgPath(part), CHORD / scale)
            if len(points) > 2:
                out.append(points * (scale, -scale))
            if len(out) > MOST_RINGS:
                return out, "mm"
    return out, "mm"


def _hidden(element: Any) -> bool:
    values = getattr(element, "values", {}) or {}
    return values.get("visibility") == "hidden" or values.get("display") == "none"


def _sampled(path: Any, chord: float) -> Array:
    """Places along a path; nothing of one that does not close."""
    from svgelements import Close, Line, Move

    out: list[tuple[float, float]] = []
    for segment in path:
        if isinstance(segment, Move):
            out = [(segment.end.x, segment.end.y)]
        elif isinstance(segment, (Line, Close)):
            if segment.end is not None:
                out.append((segment.end.x, segment.end.y))
        else:
            size = float(segment.length(error=1e-3))
            many = int(np.clip(math.ceil(math.sqrt(size / chord)), 8, 400))
            out += [(p.x, p.y) for p in (segment.point(k / many) for k in range(1, many + 1))]
    points = np.array(out, dtype=float).reshape(-1, 2)
    if len(points) < 3:
        return points[:0]
    gap, span = float(np.hypot(*(points[-1] - points[0]))), float(np.ptp(points, axis=0).max())
    if gap > 1e-3 * span:
        return points[:0]  # it does not close
    return points[:-1]


# ---- a picture


def _picture(path: Path) -> tuple[list[Array], str]:
    import vtracer
    from PIL import Image

    with Image.open(path) as opened:
        image: Image.Image = opened
        if image.width * image.height > PIXELS or max(image.size) > SIDE or min(image.size) < 8:
            raise BackdropError(
                f"is {image.width} × {image.height} pixels; take 8 to {SIDE} a side, {PIXELS // 10**6} "
                "million in all."
            )
        if image.mode in ("RGBA", "LA", "PA", "P"):
            image = image.convert("RGBA")
            white = Image.new("RGBA", image.size, (255, 255, 255, 255))
            image = Image.alpha_composite(white, image)
        grey = np.asarray(image.convert("L"))
    level = _otsu(grey)
    dark = grey <= level
    share = float(dark.mean())
    if not 0.001 < share < 0.999:
        raise BackdropError("shows nothing: it is dark or light all over.")
    dark = np.pad(dark, 2)  # what touches the rim is closed there
    black = Image.fromarray(np.where(dark, 0, 255).astype(np.uint8)).convert("RGB")
    data = io.BytesIO()
    black.save(data, "PNG")
    svg = vtracer.convert_raw_image_to_svg(
        data.getvalue(),
        img_format="png",
        colormode="binary",
        mode="none",
        filter_speckle=SPECKLE,
        path_precision=2,
    )
    return [ring for ring in _staircases(svg) if len(ring) > 3], "px"


def _otsu(grey: NDArray[np.uint8]) -> int:
    """The level that parts dark from light best (Otsu, 1979)."""
    count = np.bincount(grey.ravel(), minlength=256).astype(float)
    below, weight = np.cumsum(count), np.cumsum(count * np.arange(256))
    above = below[-1] - below
    with np.errstate(divide="ignore", invalid="ignore"):
        between = (weight[-1] * below / below[-1] - weight) ** 2 / (below * above)
    return int(np.nanargmax(np.where(np.isfinite(between), between, -1.0)))


def _staircases(svg: str) -> list[Array]:
    """The edges between dark and light: the middles of the pixels' edges, and corners that were meant."""
    from svgelements import SVG, Close, Line, Move
    from svgelements import Path as SvgPath

    out: list[Array] = []
    for element in SVG.parse(io.StringIO(svg), reify=True).elements():
        if not isinstance(element, SvgPath):
            continue
        for part in element.as_subpaths():
            corners = [
                (s.end.x, s.end.y)
                for s in SvgPath(part)
                if isinstance(s, (Move, Line, Close)) and s.end is not None
            ]
            if len(corners) > 3:
                out.append(_stepped(np.array(corners[:-1], dtype=float)) * (1.0, -1.0))
    return out


def _stepped(corners: Array) -> Array:
    """Along a staircase: the middles of its pixels' edges, drawn smooth between corners that were meant."""
    ahead = np.roll(corners, -1, axis=0) - corners
    size = np.abs(ahead).max(axis=1)
    out: list[Array] = []
    fixed: list[bool] = []
    for k, (corner, run, long) in enumerate(zip(corners, ahead, size, strict=True)):
        if long >= TRUE_CORNER and size[k - 1] >= TRUE_CORNER:
            out.append(corner[None])
            fixed.append(True)
        many = max(round(float(long)), 1)
        out.append(corner + run * ((np.arange(many) + 0.5) / many)[:, None])
        fixed += [False] * many
    return _smooth(np.vstack(out), np.array(fixed))


def _smooth(points: Array, fixed: NDArray[np.bool_]) -> Array:
    """Each place the mean of those about it, as far as no corner that was meant lies between."""
    n = len(points)
    marks = np.flatnonzero(fixed)
    if len(marks):
        points, fixed = np.roll(points, -marks[0], axis=0), np.roll(fixed, -marks[0])
        ahead = np.maximum.accumulate(np.where(fixed, np.arange(n), 0))
        nearest = np.arange(n) - ahead
        behind = np.append(np.flatnonzero(fixed), n)
        after = behind[
            np.searchsorted(behind, np.arange(n), side="right").clip(max=len(behind) - 1)
        ] - np.arange(n)
        reach = np.minimum(np.minimum(nearest, after), SMOOTH)
    else:
        reach = np.full(n, min(SMOOTH, n // 6))
    total = np.vstack(
        [np.zeros(2), np.cumsum(np.vstack([points[-SMOOTH:], points, points[:SMOOTH]]), axis=0)]
    )
    k = np.arange(n) + SMOOTH
    mean = (total[k + reach + 1] - total[k - reach]) / (2 * reach + 1)[:, None]
    return np.asarray(mean)


__all__ = ["OUTLINE_FILES", "chained", "rings_of"]
