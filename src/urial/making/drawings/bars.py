"""A bar: its faces unrolled, its bends by marks on it as it lies straight."""

from __future__ import annotations

import math
from collections.abc import Sequence

from urial.assembly.model import Part
from urial.geometry import axis, slotted
from urial.geometry import path as paths
from urial.geometry.faces import Face, Which, beyond, faces, slope
from urial.geometry.path import Arc, Line
from urial.geometry.place import dot, minus, times, unit
from urial.geometry.shape import (
    Bar,
    Cope,
    Flattened,
    Slugged,
)
from urial.making import bends
from urial.making.bends import Tube
from urial.making.drawings.ends import Rule, end_cut, is_square, rule_of
from urial.making.drawings.holes import holes_of
from urial.making.drawings.model import (
    EMPTY,
    LEAN,
    Drawing,
    Feature,
    Kind,
    Spot,
    View,
    box,
    side,
)
from urial.shop.snapshot import Shop


def of_bar(part: Part, shape: Bar, shop: Shop) -> Drawing:
    rule, long, first = rule_of(shape)
    size = paths.length(shape.path)
    here = axis.frame_at(shape, 0.0 if first else size)
    out = part.place.vector(times(here.x, -1.0 if first else 1.0))
    end = shape.end_i if first else shape.end_j
    point = "" if is_square(end) else "long point of the "
    datum = f"from the {point}{'first' if first else 'second'} end, the one to the {side(out)}"
    ends = tuple(end_cut(shape, which, rule, shop) for which in ("i", "j"))
    holes, notes = holes_of(part, shape, rule, shop)
    kind: Kind = "bar" if isinstance(shape.path, Line) else "bent"
    bent = _bends(shape, shop, rule, notes) if kind == "bent" else ()
    features = (*holes, *bent)
    tilted = any(not is_square(e) for e in (shape.end_i, shape.end_j))
    special = any(isinstance(e, (Slugged, Flattened)) for e in (shape.end_i, shape.end_j))
    plain = not features and not tilted and not special and kind == "bar"
    views = () if plain else _unrolled(part, shape, rule, features)
    return Drawing(kind, *EMPTY, long, shape.stock.width, datum, views, features, ends, tuple(notes), plain)


def _bends(shape: Bar, shop: Shop, rule: Rule, notes: list[str]) -> tuple[Feature, ...]:
    """Bends of a bar by marks on it as it lies straight."""
    rows = slotted.slot_rows(shape)
    if rows:
        notes.append("The slots are cut from the inside of each bend; figures are along the uncut face.")
        return tuple(
            Feature(
                f"S{n}",
                _slotted_face(shape, n),
                rule.along(r.first),
                None,
                (
                    ("slots", float(r.count)),
                    ("pitch", r.pitch * rule.way),
                    ("wide", r.wide),
                    ("deep", r.deep),
                    ("bend°", math.degrees(r.angle)),
                ),
                slotted.words(r),
            )
            for n, r in enumerate(rows, 1)
        )
    assert not isinstance(shape.path, Line)
    path, stock = shape.path, shape.stock
    od = min(stock.width, stock.height)
    die = next(
        (d for d in shop.dies if abs(d.od_mm - od) < 0.2 and abs(d.clr_mm - max(path.radii)) < 1), None
    )
    tube = Tube(od, stock.wall or od / 2, max(path.radii), shop.bender.clamp_mm, shop.bender.tail_mm)
    made = bends.layout(path.points, tube, die.log if die else (), path.radii)
    notes += made.warnings
    if any(f for f in shape.cuts):
        notes.append("Holes: mark before bending, drill after.")
    out = []
    for n, b in enumerate(made.bends, 1):
        radius = b.arc / math.radians(b.angle)
        out.append(
            Feature(
                f"B{n}",
                "",
                rule.along(b.start),
                None,
                (
                    ("bend°", b.angle),
                    ("radius", radius),
                    ("machine°", b.machine),
                    ("twist°", b.rotation),
                    ("arc", b.arc),
                    ("clamp", rule.along(b.clamp)),
                ),
                "starts at its mark"
                + (
                    f"; turn the tube {b.rotation:.1f}° first, right-hand as you look along it"
                    if n > 1 and abs(b.rotation) > 0.05
                    else ""
                ),
            )
        )
    return tuple(out)


def _slotted_face(shape: Bar, n: int) -> str:
    arcs = [r for r in paths.runs(shape.path) if isinstance(r, Arc)]
    gone = 0.0
    for run in paths.runs(shape.path):
        if run is arcs[n - 1]:
            break
        gone += run.length
    here, arc = axis.frame_at(shape, gone), arcs[n - 1]
    inward = unit(minus(arc.centre, arc.a))
    y, z = dot(inward, here.y), dot(inward, here.z)
    return max(faces(shape.stock), key=lambda f: f.normal[0] * y + f.normal[1] * z).letter


def _unrolled(part: Part, shape: Bar, rule: Rule, features: Sequence[Feature]) -> tuple[View, ...]:
    """The faces on which there is something to mark: of two that lie opposite the first, if both say the
    same.
    """
    flats = faces(shape.stock)
    whole = paths.length(shape.path) + slotted.longer(shape)
    here = axis.frame_at(shape, 0.0)
    if not flats:
        return (_rolled(shape, rule, features),)
    used = {f.view for f in features}
    copes = any(isinstance(e, Cope) for e in (shape.end_i, shape.end_j))
    shown: list[Face] = []
    for f in flats:
        sloped = _sloped(shape, f)
        twin = any(abs(g.normal[0] * f.normal[0] + g.normal[1] * f.normal[1]) > 0.9 for g in shown)
        if f.letter in used or (sloped and not twin):
            shown.append(f)
    out = []
    for f in shown or flats[:1]:
        ring: list[Spot] = []
        vs = [f.low + f.wide * k / 24 for k in range(25)] if copes else [f.low, f.high]
        low, high = min(0.0, whole), max(0.0, whole)
        for v in vs:
            ring.append((rule.along(low - beyond(shape, "i", *f.at(v))), v - f.low))
        for v in reversed(vs):
            ring.append((rule.along(high + beyond(shape, "j", *f.at(v))), v - f.low))
        way = part.place.vector(
            tuple(f.normal[0] * a + f.normal[1] * b for a, b in zip(here.y, here.z, strict=True))  # type: ignore[arg-type]
        )
        own = [x for x in features if x.view == f.letter]
        circles = tuple(
            (x.along, x.up, x.size("⌀"), x.which)
            for x in own
            if x.which[0] == "H" and x.along is not None and x.up is not None
        )
        boxes = tuple(
            box(x.along or 0.0, x.up or 0.0, x.size("long"), x.size("wide")) for x in own if x.which[0] == "W"
        )
        slots = tuple(
            (x.along + k * x.size("pitch"), 0.0, x.along + k * x.size("pitch"), f.wide)
            for x in own
            if x.which[0] == "S" and x.along is not None
            for k in range(int(x.size("slots")))
        )
        out.append(
            View(
                f.letter,
                f"face {f.letter}, to the {side(way)}",
                (tuple(ring), *boxes),
                (*slots, *_bend_lines(features, f.wide)),
                circles,
                from_right=rule.way < 0,
                edges=_beside(flats, f),
            )
        )
    return tuple(out)


def _beside(flats: Sequence[Face], f: Face) -> tuple[str, str]:
    """The faces beyond the upper and the lower edge of one; a leg's edge with none is its tip."""

    def beyond_edge(v: float) -> str:
        at = f.at(v)
        for g in flats:
            if g is not f and any(math.dist(g.at(w), at) < 1e-3 for w in (g.low, g.high)):
                return f"edge to {g.letter}"
        return "tip"

    return beyond_edge(f.high), beyond_edge(f.low)


def _sloped(shape: Bar, f: Face) -> bool:
    """Does an end not run square across a face?"""
    ends: tuple[Which, ...] = ("i", "j")
    places = [f.at(f.low + f.wide * k / 8) for k in range(9)]
    depths = [[beyond(shape, which, y, z) for y, z in places] for which in ends]
    return any(max(d) - min(d) > 0.05 for d in depths)


def _bend_lines(features: Sequence[Feature], wide: float) -> tuple[tuple[float, float, float, float], ...]:
    """Where each bend starts and ends, across the bar as it lies straight."""
    out = []
    for f in features:
        if f.which[0] == "B" and f.along is not None:
            ends = (f.along, f.along + f.size("arc") * (1 if f.size("clamp") <= f.along else -1))
            out += [(x, 0.0, x, wide) for x in ends]
    return tuple(out)


def _rolled(shape: Bar, rule: Rule, features: Sequence[Feature]) -> View:
    """A round bar from the side that shows its tilted end, else with its start line (section +y) to the
    reader.
    """
    d, whole = shape.stock.width, paths.length(shape.path)
    ends = ((shape.end_i, 0.0, -1.0), (shape.end_j, whole, 1.0))
    tilts = [(way * a, way * b) for e, s, way in ends for a, b in [slope(shape, e, s)]]
    steep = max(tilts, key=lambda t: math.hypot(*t))
    uy, uz = unit((*steep, 0.0))[:2] if math.hypot(*steep) > LEAN else (0.0, -1.0)
    ring: list[Spot] = []
    steps = [d * k / 24 for k in range(25)]

    def reach(which: Which, h: float) -> float:
        """The metal seen farthest out at a height: of the two sides of the round the farther one."""
        v = h - d / 2
        back = math.sqrt(max(d * d / 4 - v * v, 0.0))
        return max(beyond(shape, which, v * uy - k * back * uz, v * uz + k * back * uy) for k in (-1, 0, 1))

    for h in steps:
        ring.append((rule.along(-reach("i", h)), h))
    for h in reversed(steps):
        ring.append((rule.along(whole + reach("j", h)), h))
    circles = tuple(
        (f.along, d / 2 - f.size("off") * (1 if f.size("turned°") < 90 else -1), f.size("⌀"), f.which)
        for f in features
        if f.which[0] == "H" and f.along is not None and f.view == "round" and _seen(f, (uy, uz))
    )
    low, high = min(p[0] for p in ring), max(p[0] for p in ring)
    at = "towards you" if uz < -0.7 else "behind" if uz > 0.7 else "at the top" if uy > 0 else "at the bottom"
    line = d / 2 + d / 2 * uy
    return View(
        "round",
        f"from the side, its start line {at}",
        (tuple(ring),),
        ((low, line, high, line), *_bend_lines(features, d)),
        circles,
        from_right=rule.way < 0,
    )


def _seen(f: Feature, up: Spot) -> bool:
    """Does a hole through a round run towards the reader?"""
    turned = math.radians(f.size("turned°"))
    return abs(math.cos(turned) * up[0] + math.sin(turned) * up[1]) < 0.3


__all__ = ["of_bar"]
