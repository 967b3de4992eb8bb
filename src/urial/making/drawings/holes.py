"""Holes and openings of a bar: on which face, how far along and up it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from urial.assembly.model import Part
from urial.geometry import axis
from urial.geometry import path as paths
from urial.geometry.faces import Face, faces
from urial.geometry.place import dot, unit
from urial.geometry.shape import (
    Bar,
    Box,
    Hole,
)
from urial.making.drawings.ends import Rule, developed
from urial.making.drawings.model import (
    LEAN,
    Feature,
    Spot,
    drill_words,
)
from urial.shop.snapshot import Shop


def _pierced(stock_faces: Sequence[Face], at: Spot, way: Spot, depth: float) -> list[tuple[Face, float]]:
    """The faces a hole goes through and where on each (along its ``up`` from the centroid)."""
    out = []
    for f in stock_faces:
        toward = way[0] * f.normal[0] + way[1] * f.normal[1]
        if abs(toward) < LEAN:
            continue
        t = (f.out - at[0] * f.normal[0] - at[1] * f.normal[1]) / toward
        if depth and not -1.0 <= t <= depth + 1.0:
            continue
        y, z = at[0] + t * way[0], at[1] + t * way[1]
        v = y * f.up[0] + z * f.up[1]
        if f.low - 1e-6 <= v <= f.high + 1e-6:
            out.append((f, v))
    return out


def _walls(stock: str, through: Sequence[Face], depth: float) -> str:
    if depth and len(through) < 2:
        return f"through the wall of {through[0].letter} alone" if stock.endswith("tube") else "blind"
    if stock.endswith("tube"):
        return f"through both walls, {' and '.join(f.letter for f in through)}"
    return "through"


def holes_of(part: Part, shape: Bar, rule: Rule, shop: Shop) -> tuple[tuple[Feature, ...], list[str]]:
    """Every hole and opening of a bar, numbered along it."""
    flats = faces(shape.stock)
    found: list[tuple[str, Feature]] = []
    notes: list[str] = []
    for cut in shape.cuts:
        if isinstance(cut, Box):
            found += [("W", f) for f in _opening(shape, cut, rule, flats)]
            continue
        s = paths.nearest(shape.path, cut.centre)
        here = axis.frame_at(shape, s)
        _, y, z = here.local(cut.centre)
        way = unit(here.local_vector(cut.axis))
        along, d = rule.along(developed(shape, s)), cut.diameter
        if math.hypot(way[1], way[2]) < LEAN:
            found.append(("H", _into_end(shape, cut, (y, z), s, shop)))
            continue
        flatway = (way[1] / math.hypot(way[1], way[2]), way[2] / math.hypot(way[1], way[2]))
        if not flats:
            turned = math.degrees(math.atan2(flatway[1], flatway[0])) % 180.0
            off = y * -flatway[1] + z * flatway[0]
            words = "through" + (" one wall" if cut.depth else "") + f", {drill_words(d, shop)}"
            sizes = (
                ("⌀", d),
                ("turned°", turned),
                ("off", off),
                *((("deep", cut.depth),) if cut.depth else ()),
            )
            found.append(("H", Feature("", "round", along, None, sizes, words)))
            continue
        hits = _pierced(flats, (y, z), flatway, cut.depth)
        if not hits:
            continue
        f, v = hits[0]
        lean = math.degrees(math.acos(min(1.0, abs(flatway[0] * f.normal[0] + flatway[1] * f.normal[1]))))
        sizes = (
            ("⌀", d),
            *((("lean°", lean),) if lean > 1.2 else ()),
            *((("deep", cut.depth),) if cut.depth else ()),
        )
        centred = ", centred" if abs(v - (f.low + f.high) / 2) < 0.05 else ""
        words = (
            f"{_walls(shape.stock.shape, [h[0] for h in hits], cut.depth)}{centred}; {drill_words(d, shop)}"
        )
        found.append(("H", Feature("", f.letter, along, v - f.low, sizes, words)))
    if any(k == "H" and "both" in f.words for k, f in found):
        notes.append("Holes through both walls: drill each wall from its own side, or bush them in line.")
    return _numbered(found), notes


def _numbered(found: Sequence[tuple[str, Feature]]) -> tuple[Feature, ...]:
    """Features with their numbers, by how far along they are."""
    rows = sorted(found, key=lambda f: (f[0], round(f[1].along or 0.0, 2), f[1].view, f[1].up or 0.0))
    count: dict[str, int] = {}
    out = []
    for letter, f in rows:
        count[letter] = count.get(letter, 0) + 1
        out.append(replace(f, which=f"{letter}{count[letter]}"))
    return tuple(out)


def _into_end(shape: Bar, cut: Hole, at: Spot, s: float, shop: Shop) -> Feature:
    """A hole drilled into an end, along the bar: from the edges of that end."""
    end = "first end" if s < paths.length(shape.path) / 2 else "second end"
    flats = {f.letter: f for f in faces(shape.stock)}
    words = f"into the {end}; {drill_words(cut.diameter, shop)}"
    sizes = (("⌀", cut.diameter), ("deep", cut.depth))
    if "B" not in flats or "C" not in flats:
        return Feature("", end, 0.0, None, (*sizes, ("off", math.hypot(*at))), words)
    return Feature(
        "",
        end,
        0.0,
        None,
        (*sizes, ("from B", at[0] + flats["B"].out), ("from C", at[1] + flats["C"].out)),
        words,
    )


def _opening(shape: Bar, cut: Box, rule: Rule, flats: Sequence[Face]) -> list[Feature]:
    """A block cut out of a bar, on every face whose metal it takes."""
    here = axis.frame_at(shape, paths.nearest(shape.path, cut.place.o))
    s0 = paths.nearest(shape.path, cut.place.o)
    corners = [
        here.local(cut.place.point((a * cut.size[0] / 2, b * cut.size[1] / 2, c * cut.size[2] / 2)))
        for a in (-1, 1)
        for b in (-1, 1)
        for c in (-1, 1)
    ]
    low = [min(p[k] for p in corners) for k in range(3)]
    high = [max(p[k] for p in corners) for k in range(3)]
    ends = sorted(rule.along(developed(shape, s0) + x) for x in (low[0], high[0]))
    out = []
    for f in flats:
        reach = [p[1] * f.normal[0] + p[2] * f.normal[1] for p in corners]
        if not min(reach) < f.out - 1e-6 or not max(reach) > f.out - 1e-6:
            continue
        spans = [p[1] * f.up[0] + p[2] * f.up[1] for p in corners]
        a, b = max(min(spans), f.low), min(max(spans), f.high)
        if b - a < 1e-6:
            continue
        sizes = (
            ("long", ends[1] - ends[0]),
            ("wide", b - a),
            ("deep", min(f.out - min(reach), _through(f, flats))),
        )
        out.append(
            Feature("", f.letter, ends[0], a - f.low, sizes, "cut out, from its near edge and its lower edge")
        )
    return out


def _through(f: Face, flats: Sequence[Face]) -> float:
    """From a face to the one behind it."""
    behind = [g.out for g in flats if dot((*g.normal, 0.0), (*f.normal, 0.0)) < -0.9]
    return f.out + behind[0] if behind else math.inf


__all__ = ["holes_of"]
