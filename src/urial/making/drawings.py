"""A drawing of every piece, as values: faces of a bar unrolled, a plate from two of its edges, and for every
hole, opening, bend and end the figures it is laid out by, each from one datum and never from one another.

Screen and paper draw and write the same values, and the plan's drill steps read them: there is one source.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Literal

from shapely.geometry import LineString, Polygon

from urial.assembly.model import Assembly, Part
from urial.geometry import axis, flat, outline, slotted
from urial.geometry import path as paths
from urial.geometry.faces import Face, Which, beyond, faces, longest, slope
from urial.geometry.outline import Outline
from urial.geometry.path import Arc, Line
from urial.geometry.place import Vec, cross, dot, minus, norm, times, unit
from urial.geometry.shape import (
    Bar,
    Box,
    Capped,
    Cope,
    End,
    Flattened,
    Hole,
    Mitre,
    Plate,
    Slant,
    Slugged,
    Square,
    Turned,
)
from urial.making import bends
from urial.making.bends import Tube
from urial.making.parts import Row, lead
from urial.shop.snapshot import Shop

Kind = Literal["bar", "bent", "plate", "turned"]
Spot = tuple[float, float]
SIDES = {
    (1, 0, 0): "front",
    (-1, 0, 0): "rear",
    (0, 1, 0): "left",
    (0, -1, 0): "right",
    (0, 0, 1): "top",
    (0, 0, -1): "bottom",
}
STEP_FROM = 13.0
"""A larger hole is drilled in two steps after its pilot, mm."""
LEAN = 0.02
"""A direction that leans by less is along an axis (its sine)."""


def side(way: Vec) -> str:
    """The side of the host that a direction looks to most."""
    return SIDES[max(SIDES, key=lambda d: dot((float(d[0]), float(d[1]), float(d[2])), way))]


@dataclass(frozen=True)
class Feature:
    """A hole (H), opening (W), corner (P), bend (B), row of slots (S), joggle of a turned part (T): on which
    view, how far along from the datum and up from the view's lower edge (mm), and its sizes by name (mm,
    or degrees where the name ends in °).
    """

    which: str
    view: str
    along: float | None
    up: float | None
    sizes: tuple[tuple[str, float], ...]
    words: str = ""

    def size(self, name: str) -> float:
        """One of its sizes.  KeyError where it has none of that name."""
        return dict(self.sizes)[name]


@dataclass(frozen=True)
class EndCut:
    """How one end is cut: the kind of cut, its figures by name, and where it lies on each edge of a bar with
    flat faces, from the datum ("A/B": between face A and face B).
    """

    which: Literal["first", "second"]
    kind: str
    words: str
    sizes: tuple[tuple[str, float], ...] = ()
    edges: tuple[tuple[str, float], ...] = ()

    def size(self, name: str) -> float:
        """One of its figures.  KeyError where it has none of that name."""
        return dict(self.sizes)[name]


@dataclass(frozen=True)
class View:
    """What is drawn, mm: x from the datum, y up from the lower edge.  ``letter`` names the face."""

    letter: str
    title: str
    rings: tuple[tuple[Spot, ...], ...]
    lines: tuple[tuple[float, float, float, float], ...] = ()
    circles: tuple[tuple[float, float, float, str], ...] = ()
    names: tuple[tuple[float, float, str], ...] = ()


@dataclass(frozen=True)
class Drawing:
    """Of one line of the parts list.  ``plain``: cut square, and nothing else is done to it, so that its
    line says all.
    """

    kind: Kind
    mark: str
    name: str
    qty: int
    mirror: bool
    stock: str
    material: str
    long: float
    wide: float
    datum: str
    views: tuple[View, ...] = ()
    features: tuple[Feature, ...] = ()
    ends: tuple[EndCut, ...] = ()
    notes: tuple[str, ...] = ()
    plain: bool = False


def drawing(assembly: Assembly, row: Row, shop: Shop) -> Drawing | None:
    """Of a line of the parts list; None of hardware and of webbing."""
    part = assembly.by_key[lead(row)]
    shape = part.shape
    if row.hardware:
        return None
    if isinstance(shape, Bar):
        made = _bar(part, shape, shop)
    elif isinstance(shape, Plate):
        made = _plate(part, shape, shop)
    elif isinstance(shape, Turned):
        made = _turned(shape)
    else:
        return None
    if part.decking is not None and part.decking.kind == "boards":
        d = part.decking
        made = replace(
            made,
            views=(),
            plain=True,
            notes=(f"boards {d.t:.0f} mm thick, {row.width_mm:.1f} mm long, laid side by side",),
        )
    return replace(
        made,
        mark=row.mark,
        name=row.name,
        qty=row.qty,
        mirror=row.mirror,
        stock=row.stock,
        material=part.material.name,
    )


def drawings(assembly: Assembly, rows: Iterable[Row], shop: Shop) -> tuple[Drawing, ...]:
    """Of every line that has one, in the list's order."""
    made = (drawing(assembly, r, shop) for r in rows)
    return tuple(d for d in made if d is not None)


def drill_words(d: float, shop: Shop) -> str:
    """Pilot to finished hole by what the shop has."""
    largest, pilot = shop.drill.largest_mm, shop.drill.pilot_mm
    if d > largest + 1e-9:
        return (
            f"pilot ⌀ {pilot:.4g} mm, then an annular cutter or hole saw: no bit goes over {largest:.4g} mm"
        )
    if d <= pilot + 1e-9:
        return "in one go"
    if d <= STEP_FROM:
        return f"pilot ⌀ {pilot:.4g} mm, then to size"
    return f"pilot ⌀ {pilot:.4g} mm, then ⌀ {min(d / 2 + 1, STEP_FROM):.2g} mm, then to size"


EMPTY = ("", "", 1, False, "", "")


# ---- a bar


def developed(shape: Bar, s: float) -> float:
    """How far a place of the centre line lies along the bar before it is bent, from its first end's middle,
    mm; where slots make the bends the tube keeps its length along the hinge.
    """
    if shape.slots is None:
        return s
    rows = iter(slotted.slot_rows(shape))
    gone = out = 0.0
    for run in paths.runs(shape.path):
        more = run.length
        if isinstance(run, Arc):
            r = next(rows)
            more = (run.radius + r.deep - r.depth / 2) * run.angle
        here = min(max(s - gone, 0.0), run.length)
        out += more * here / run.length
        gone += run.length
    return out


@dataclass(frozen=True)
class _Rule:
    """The tape along a bar: from the datum end's long point, the other way round from the second end."""

    origin: float  # of the datum in developed length from the first end's middle
    way: float

    def along(self, s: float) -> float:
        return self.way * (s - self.origin)


def _square(end: End) -> bool:
    return isinstance(end, (Square, Capped, Slugged, Flattened))


def _rule(shape: Bar) -> tuple[_Rule, float, bool]:
    """The tape, the whole length from long point to long point, and whether it starts at the first end."""
    size = paths.length(shape.path) + slotted.longer(shape)
    before, after = longest(shape, "i"), longest(shape, "j")
    first = _square(shape.end_i) or not _square(shape.end_j)
    rule = _Rule(-before, 1.0) if first else _Rule(size + after, -1.0)
    return rule, before + size + after, first


def _bar(part: Part, shape: Bar, shop: Shop) -> Drawing:
    rule, long, first = _rule(shape)
    size = paths.length(shape.path)
    here = axis.frame_at(shape, 0.0 if first else size)
    out = part.place.vector(times(here.x, -1.0 if first else 1.0))
    end = shape.end_i if first else shape.end_j
    point = "" if _square(end) else "long point of the "
    datum = f"from the {point}{'first' if first else 'second'} end, the one to the {side(out)}"
    ends = tuple(_end(shape, which, rule, shop) for which in ("i", "j"))
    holes, notes = _bar_holes(part, shape, rule, shop)
    kind: Kind = "bar" if isinstance(shape.path, Line) else "bent"
    bent = _bends(shape, shop, rule, notes) if kind == "bent" else ()
    features = (*holes, *bent)
    tilted = any(not _square(e) for e in (shape.end_i, shape.end_j))
    special = any(isinstance(e, (Slugged, Flattened)) for e in (shape.end_i, shape.end_j))
    plain = not features and not tilted and not special and kind == "bar"
    views = () if plain else _unrolled(part, shape, rule, features)
    return Drawing(kind, *EMPTY, long, shape.stock.width, datum, views, features, ends, tuple(notes), plain)


def edges(stock_faces: Sequence[Face]) -> tuple[tuple[str, Spot], ...]:
    """Every edge of a bar with flat faces: its name and its place (y, z)."""
    out: dict[tuple[float, float], list[str]] = {}
    for f in stock_faces:
        for v in (f.high, f.low):
            y, z = f.at(v)
            out.setdefault((round(y, 4), round(z, 4)), []).append(f.letter)
    return tuple(
        ("/".join(sorted(letters)) if len(letters) > 1 else f"{letters[0]} tip", at)
        for at, letters in out.items()
    )


def _end(shape: Bar, which: Which, rule: _Rule, shop: Shop) -> EndCut:
    end = shape.end_i if which == "i" else shape.end_j
    name: Literal["first", "second"] = "first" if which == "i" else "second"
    whole = paths.length(shape.path)
    s = 0.0 if which == "i" else whole
    middle = rule.along(0.0 if which == "i" else whole + slotted.longer(shape))
    outward = -1.0 if which == "i" else 1.0
    if isinstance(end, (Mitre, Slant)):
        return _plane_end(shape, which, rule, shop)
    if isinstance(end, Cope):
        here = axis.frame_at(shape, s)
        theta = math.degrees(math.acos(min(abs(dot(here.x, end.axis)), 1.0)))
        # where the bar's middle line comes nearest to the round's
        n = cross(here.x, end.axis)
        off = dot(minus(end.on, here.o), unit(n)) if norm(n) > 1e-9 else 0.0
        d = minus(end.on, here.o)
        a = dot(here.x, end.axis)
        t = (dot(d, here.x) - a * dot(d, end.axis)) / max(1 - a * a, 1e-9)
        y, z = dot(end.axis, here.y), dot(end.axis, here.z)
        turned = math.degrees(math.atan2(z, y)) if math.hypot(y, z) > 1e-9 else 0.0
        lean = math.degrees(math.asin(max(-1.0, min(1.0, a))))
        words = (
            f"coped on to ⌀ {2 * end.radius:.4g} mm at {theta:.1f}°"
            + (f", {abs(off):.1f} mm off its middle" if abs(off) > 0.05 else "")
            + (", round its paper" if shape.stock.shape == "round_tube" else ", from the edges' figures")
        )
        figures = (
            ("main", 2 * end.radius),
            ("middle of the main", middle + rule.way * t),
            ("off", off),
            ("turned°", turned),
            ("lean°", lean),
        )
        return EndCut(name, "cope", words, figures, _edge_figures(shape, which, middle, outward * rule.way))
    if isinstance(end, Flattened):
        flat_on = "D" if end.about_z else "A"
        return EndCut(
            name,
            "flattened",
            f"pressed flat over {end.length:.1f} mm, its flat lying as face {flat_on}"
            if faces(shape.stock)
            else f"pressed flat over {end.length:.1f} mm",
            (("length", end.length), ("turned°", 0.0 if end.about_z else 90.0)),
        )
    if isinstance(end, Slugged):
        return EndCut(
            name,
            "slug",
            f"square, a slug ⌀ {shape.stock.width - 2 * shape.stock.wall:.4g} mm driven in "
            f"{end.length:.1f} mm "
            "and welded round",
            (("length", end.length),),
        )
    if isinstance(end, Capped):
        return EndCut(name, "cap", f"square, a {end.t:.3g} mm cap welded over it", (("thickness", end.t),))
    return EndCut(name, "square", "square")


def _edge_figures(shape: Bar, which: Which, middle: float, way: float) -> tuple[tuple[str, float], ...]:
    """Where the cut crosses each edge of a bar, from the datum."""
    return tuple(
        (name, middle + way * beyond(shape, which, y, z)) for name, (y, z) in edges(faces(shape.stock))
    )


def _plane_end(shape: Bar, which: Which, rule: _Rule, shop: Shop) -> EndCut:
    whole = paths.length(shape.path)
    end, s, outward = (shape.end_i, 0.0, -1.0) if which == "i" else (shape.end_j, whole, 1.0)
    name: Literal["first", "second"] = "first" if which == "i" else "second"
    middle = rule.along(0.0 if which == "i" else whole + slotted.longer(shape))
    a, b = slope(shape, end, s)
    tilt = math.degrees(math.atan(math.hypot(a, b)))
    past = (
        f"; past the saw's {shop.saw.mitre_to_deg:.0f}°, so by hand from the marks"
        if tilt > shop.saw.mitre_to_deg + 0.05
        else ""
    )
    flats = faces(shape.stock)
    if not flats:
        turned = math.degrees(math.atan2(outward * b, outward * a)) % 360.0
        words = (
            f"saw at {tilt:.1f}° from square ({90 - tilt:.1f}° between face and bar), long point "
            f"{turned:.0f}° round from the start line{past}"
        )
        return EndCut(name, "mitre", words, (("saw°", tilt), ("turned°", turned), ("middle", middle)))
    if abs(a) > LEAN and abs(b) > LEAN:
        one, two = (math.degrees(math.atan(abs(k))) for k in (a, b))
        words = (
            f"in two tilts, {one:.1f}° seen on face A and {two:.1f}° seen on face B: scribe it from the "
            f"figures of its edges{past}"
        )
        return EndCut(
            name,
            "compound",
            words,
            (("on A°", one), ("on B°", two)),
            _edge_figures(shape, which, middle, outward * rule.way),
        )
    far = max(flats, key=lambda f: outward * (a * f.normal[0] + b * f.normal[1]))
    words = (
        f"saw at {tilt:.1f}° from square ({90 - tilt:.1f}° between face and bar), long point on face "
        f"{far.letter}{past}"
    )
    return EndCut(
        name, "mitre", words, (("saw°", tilt),), _edge_figures(shape, which, middle, outward * rule.way)
    )


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


def _bar_holes(part: Part, shape: Bar, rule: _Rule, shop: Shop) -> tuple[tuple[Feature, ...], list[str]]:
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


def _opening(shape: Bar, cut: Box, rule: _Rule, flats: Sequence[Face]) -> list[Feature]:
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


def _bends(shape: Bar, shop: Shop, rule: _Rule, notes: list[str]) -> tuple[Feature, ...]:
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


def _unrolled(part: Part, shape: Bar, rule: _Rule, features: Sequence[Feature]) -> tuple[View, ...]:
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
            _box(x.along or 0.0, x.up or 0.0, x.size("long"), x.size("wide"))
            for x in own
            if x.which[0] == "W"
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
            )
        )
    return tuple(out)


def _sloped(shape: Bar, f: Face) -> bool:
    """Does an end not run square across a face?"""
    ends: tuple[Which, ...] = ("i", "j")
    places = [f.at(f.low + f.wide * k / 8) for k in range(9)]
    depths = [[beyond(shape, which, y, z) for y, z in places] for which in ends]
    return any(max(d) - min(d) > 0.05 for d in depths)


def _box(x: float, y: float, long: float, wide: float) -> tuple[Spot, ...]:
    return ((x, y), (x + long, y), (x + long, y + wide), (x, y + wide))


def _bend_lines(features: Sequence[Feature], wide: float) -> tuple[tuple[float, float, float, float], ...]:
    """Where each bend starts and ends, across the bar as it lies straight."""
    out = []
    for f in features:
        if f.which[0] == "B" and f.along is not None:
            ends = (f.along, f.along + f.size("arc") * (1 if f.size("clamp") <= f.along else -1))
            out += [(x, 0.0, x, wide) for x in ends]
    return tuple(out)


def _rolled(shape: Bar, rule: _Rule, features: Sequence[Feature]) -> View:
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
    )


def _seen(f: Feature, up: Spot) -> bool:
    """Does a hole through a round run towards the reader?"""
    turned = math.radians(f.size("turned°"))
    return abs(math.cos(turned) * up[0] + math.sin(turned) * up[1]) < 0.3


# ---- a plate


@dataclass(frozen=True)
class _Corner:
    """Two edges of a plate that a tape hooks on, and how a place is told from them."""

    u: float
    v: float
    right: bool
    top: bool

    def at(self, u: float, v: float) -> Spot:
        return (
            (self.u - u if self.right else u - self.u) + 0.0,
            (self.v - v if self.top else v - self.v) + 0.0,
        )


def _straight(ring: Outline, k: int, value: float) -> float:
    """How much of a plate's rim lies straight on one side of the box round it, mm."""
    long = 0.0
    for a, b in pairwise((*ring, ring[0])):
        if a[2] == 0 and abs(a[k] - value) < 0.01 and abs(b[k] - value) < 0.01:
            long += abs(a[1 - k] - b[1 - k])
    return long


def _corner(ring: Outline) -> tuple[_Corner, str]:
    u0, v0, u1, v1 = outline.bounds(ring)
    left, right = _straight(ring, 0, u0), _straight(ring, 0, u1)
    low, high = _straight(ring, 1, v0), _straight(ring, 1, v1)
    from_right, from_top = left < 5.0 <= right, low < 5.0 <= high
    words = (
        f"from its {'right' if from_right else 'left'} {'edge' if max(left, right) >= 5 else 'end'} and its "
        f"{'upper' if from_top else 'lower'} {'edge' if max(low, high) >= 5 else 'end'}"
    )
    if max(left, right) < 5 or max(low, high) < 5:
        words += ", laid against a fence where it has no straight edge"
    return _Corner(u1 if from_right else u0, v1 if from_top else v0, from_right, from_top), words


def rounded_box(ring: Outline) -> tuple[float, float, float, float, float] | None:
    """An outline that is a rectangle with equal round corners: its box and the radius; else None."""
    u0, v0, u1, v1 = outline.bounds(ring)
    if len(ring) == 4 and all(b == 0 for _, _, b in ring):
        on = all(
            min(abs(u - u0), abs(u - u1)) < 1e-6 and min(abs(v - v0), abs(v - v1)) < 1e-6 for u, v, _ in ring
        )
        return (
            (u0, v0, u1, v1, 0.0) if on and abs(outline.area(ring)) > 0.999 * (u1 - u0) * (v1 - v0) else None
        )
    if len(ring) != 8:
        return None
    lost = (u1 - u0) * (v1 - v0) - abs(outline.area(ring))
    r = math.sqrt(max(lost, 0.0) / (4 - math.pi))
    like = outline.rectangle(u0, v0, u1, v1, r)
    off = Polygon(outline.flatten(ring)).symmetric_difference(Polygon(outline.flatten(like))).area
    return (u0, v0, u1, v1, r) if off < 1e-3 * abs(outline.area(ring)) else None


def _plate(part: Part, shape: Plate, shop: Shop) -> Drawing:
    u0, v0, u1, v1 = outline.bounds(shape.outline)
    corner, datum = _corner(shape.outline)
    box = rounded_box(shape.outline)
    notes: list[str] = []
    features: list[Feature] = []
    if box is None:
        features += _corners("P", arced(shape.outline), corner)
    elif box[4]:
        notes.append(f"A rectangle {u1 - u0:.1f} × {v1 - v0:.1f} mm, corners R {box[4]:.1f} mm.")
    features += [
        Feature(f"H{n}", "", *corner.at(u, v), (("⌀", d),), drill_words(d, shop))
        for n, (u, v, d) in enumerate(sorted(shape.holes, key=lambda h: (round(h[1], 1), h[0])), 1)
    ]
    for n, ring in enumerate(shape.openings, 1):
        b = rounded_box(ring)
        if b is None:
            features += _corners(f"W{n}.", ring, corner)
            continue
        middle = corner.at((b[0] + b[2]) / 2, (b[1] + b[3]) / 2)
        sizes = (("long", b[2] - b[0]), ("wide", b[3] - b[1]), *((("corners R", b[4]),) if b[4] else ()))
        features.append(Feature(f"W{n}", "", *middle, sizes, "opening, to its middle"))
    features += _folds(shape, corner)
    view = View(
        "",
        f"its face to the {side(part.flat_place.z)}",
        tuple(
            tuple(corner.at(u, v) for u, v in outline.flatten(r, math.radians(4)))
            for r in (shape.outline, *shape.openings)
        ),
        tuple((*corner.at(a, b), *corner.at(c, d)) for a, b, c, d in flat.flat(shape).bend_lines),
        tuple(
            (*corner.at(u, v), d, f"H{n}")
            for n, (u, v, d) in enumerate(sorted(shape.holes, key=lambda h: (round(h[1], 1), h[0])), 1)
        ),
        tuple(
            (f.along, f.up, f.which)
            for f in features
            if f.which[0] in "PWB" and f.along is not None and f.up is not None
        ),
    )
    plain = box is not None and not box[4] and not features
    return Drawing(
        "plate",
        *EMPTY,
        u1 - u0,
        v1 - v0,
        datum,
        () if plain else (view,),
        tuple(features),
        (),
        tuple(notes),
        plain,
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


def _corners(letter: str, ring: Outline, corner: _Corner) -> list[Feature]:
    """Every corner of an outline, and the arc that leaves it: its radius, whether it stands out of the metal,
    and whether it is more than half a round.
    """
    flip = corner.right != corner.top
    out = []
    for n, (here, there) in enumerate(pairwise((*ring, ring[0])), 1):
        sizes: tuple[tuple[str, float], ...] = ()
        words = ""
        if here[2]:
            centre, radius = _round(here, there)
            middle = corner.at(*centre)
            left = (here[2] > 0) != flip
            more = abs(here[2]) > 1.0 + 1e-6
            sizes = (("R", radius), ("centre along", middle[0]), ("centre up", middle[1]))
            nxt = f"{letter}{n % len(ring) + 1}"
            words = f"arc to {nxt}, {'left' if left else 'right'} about{', the long way' if more else ''}"
        out.append(Feature(f"{letter}{n}", "", *corner.at(here[0], here[1]), sizes, words))
    return out


def _round(here: tuple[float, float, float], there: tuple[float, float, float]) -> tuple[Spot, float]:
    """Centre and radius of the arc from one corner to the next."""
    (u, v, bulge), (p, q, _) = here, there
    chord = math.hypot(p - u, q - v)
    turn = 4 * math.atan(bulge)
    radius = chord / 2 / math.sin(abs(turn) / 2)
    back = chord / 2 / math.tan(turn / 2)  # from the chord's middle to the centre, to its left
    return ((u + p) / 2 - (q - v) / chord * back, (v + q) / 2 + (p - u) / chord * back), radius


def _folds(shape: Plate, corner: _Corner) -> list[Feature]:
    metal, out = Polygon(outline.flatten(shape.outline)), []
    for n, (fold, mark) in enumerate(zip(shape.folds, flat.fold_marks(shape), strict=True), 1):
        on = metal.intersection(LineString([fold.a, fold.b]))
        ends = list(on.coords) if isinstance(on, LineString) and not on.is_empty else [fold.a, fold.b]
        a, b = corner.at(*ends[0][:2]), corner.at(*ends[-1][:2])
        way = "up, towards you" if fold.angle > 0 else "down, away from you"
        flip = corner.right != corner.top
        beside = "right" if flip else "left"
        out.append(
            Feature(
                f"B{n}",
                "",
                *a,
                (
                    ("to along", b[0]),
                    ("to up", b[1]),
                    ("bend°", math.degrees(abs(fold.angle))),
                    ("inside R", fold.inside),
                    ("to its other line", mark.wide),
                ),
                f"what lies {beside} of its line goes {way}",
            )
        )
    return out


# ---- a turned part


def _turned(shape: Turned) -> Drawing:
    at, features, rings = 0.0, [], []
    for n, (long, d, sides) in enumerate(shape.steps, 1):
        words = f"{sides} sides, across them" if sides else "round"
        features.append(Feature(f"T{n}", "", at, None, (("long", long), ("⌀", d)), words))
        big = max(s[1] for s in shape.steps)
        rings.append(_box(at, (big - d) / 2, long, d))
        at += long
    if shape.bore:
        features.append(Feature("H1", "", 0.0, None, (("⌀", shape.bore),), "bored through"))
    if shape.sphere:
        features.append(Feature("T ball", "", shape.sphere[0], None, (("⌀", shape.sphere[1]),), "ball"))
    view = View("", "from the side", tuple(rings))
    wide = max(s[1] for s in shape.steps)
    return Drawing("turned", *EMPTY, at, wide, "from its first end", (view,), tuple(features))


Write = Callable[[float], str]


def figures(f: Feature, length: Write) -> str:
    """A feature's sizes as they are written: lengths as ``length`` writes them, degrees to a tenth."""
    out = []
    bend = dict(f.sizes).get("bend°")
    for name, value in f.sizes:
        if (name == "twist°" and abs(value) < 0.05) or (name == "machine°" and value == bend):
            continue
        if name.endswith("°"):
            out.append(f"{name[:-1]} {value:.1f}°")
        elif name == "slots":
            out.append(f"{value:.0f} slots")
        else:
            out.append(f"{name} {length(value)}")
    return ", ".join(out)


__all__ = [
    "Drawing",
    "EndCut",
    "Feature",
    "View",
    "drawing",
    "drawings",
    "drill_words",
    "edges",
    "figures",
    "side",
]
