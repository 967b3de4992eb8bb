"""Single steps: what a line of the parts list takes from the rack to a finished piece, a weldment's check, a
bead, a cut on the vehicle.  Minutes are the shop's figures for a usual piece of such work.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from math import dist
from types import MappingProxyType
from typing import Literal

from urial.assembly import bodies
from urial.assembly.model import HOST, Assembly, Joint, Part, Plugs, Weld
from urial.geometry import flat, outline
from urial.geometry import path as paths
from urial.geometry.path import Arc
from urial.geometry.shape import Bar, Capped, Cope, Flattened, Mitre, Plate, Slant, Slugged
from urial.geometry.slotted import slot_rows
from urial.geometry.slotted import words as slot_words
from urial.making.blank import Blank, blank
from urial.making.drawings import Drawing, Feature, drawing
from urial.making.parts import Row, lead
from urial.making.setout import lie
from urial.making.step import Kind, Reading, Step, key_of
from urial.shop.snapshot import Shop
from urial.stock.catalogue import StockSection

ONE_LIFTS_KG, TWO_LIFT_KG = 25.0, 50.0
"""EN 1005-2: reference mass for one adult at work; twice that for two."""
ON_VEHICLE = (
    "Before an arc is struck on the vehicle: battery's earth off, plugs of control units pulled, the clamp "
    "beside the bead and never across a bearing, fuel and brake lines covered, an extinguisher at hand."
)
ZINC = "Grind zinc and paint off 50 mm to each side first: their fume harms."
ENDS: tuple[tuple[Literal["i", "j"], str], ...] = (("i", "first"), ("j", "second"))
STRAIGHT = 0.5
"""How far off an angle may come out, degrees."""


def length_tolerance(mm: float) -> float:
    """How far off a cut by tape may be: a millimetre, and half of one more a metre over the first, mm."""
    return 1.0 + 0.5 * max(mm / 1000 - 1.0, 0.0)


def _figures(**of: float) -> Mapping[str, float]:
    return MappingProxyType({k.replace("_", " "): round(v, 4) for k, v in of.items()})


@dataclass(frozen=True)
class More:
    """What else a step has; its count and part where they are not the line's."""

    reads: tuple[Reading, ...] = ()
    figures: Mapping[str, float] = field(default_factory=lambda: MappingProxyType({}))
    settings: Mapping[str, float] = field(default_factory=lambda: MappingProxyType({}))
    hazards: tuple[str, ...] = ()
    count: int = 0
    part: str = ""


PLAIN = More()


def called(row: Row) -> str:
    """What a line's pieces are called: of many the words they share."""
    names = row.name.split(" / ")
    shared = [w for w in names[0].split() if all(w in n.split() for n in names)]
    return " ".join(shared) if len(names) > 2 and shared else row.name


class Line:
    """A line of the parts list while its steps are written, one after the other."""

    def __init__(self, assembly: Assembly, row: Row, shop: Shop, sets: int) -> None:
        self.assembly, self.row, self.shop, self.sets = assembly, row, shop, sets
        self.key = lead(row)
        self.part = assembly.by_key[self.key]
        self.count = row.qty * sets
        self.steps: list[Step] = []

    def add(
        self,
        kind: Kind,
        words: str,
        minutes: float,
        feature: str = "",
        tool: str = "",
        more: More = PLAIN,
    ) -> None:
        """One more step, after the one before; ``minutes`` for one piece."""
        many = more.count or self.count
        self.steps.append(
            Step(
                key_of(more.part or self.key, kind, feature),
                kind,
                many,
                self.row.parts,
                (self.row.mark,),
                words,
                minutes * many,
                needs=frozenset({self.steps[-1].key}) if self.steps else frozenset(),
                tool=tool,
                settings=more.settings,
                reads=more.reads,
                figures=more.figures,
                hazards=more.hazards,
            )
        )


def of_line(assembly: Assembly, row: Row, shop: Shop, sets: int, extra: float = 0.0) -> list[Step]:
    """All that one line takes, in order, from the rack on.

    Args: ``extra``: how much longer a bar is sawn, to be cut to size at fit-up, mm.
    """
    line = Line(assembly, row, shop, sets)
    m = shop.minutes
    shape = line.part.shape
    if row.hardware or not isinstance(shape, (Bar, Plate)):
        words = f"Have {line.count} × {called(row)} at hand" + (
            "." if row.hardware else f", turned from {row.stock}."
        )
        line.add("buy", words, m["buy"] / line.count, more=More(part=line.key))
        return line.steps
    # one step for all lines of a stock: the plan keeps the first of a key
    line.add(
        "buy",
        f"Have {row.stock} at hand, {line.part.material.name}.",
        m["buy"],
        more=More(part=f"{row.stock}, {line.part.material.name}", count=1),
    )
    line.steps[0] = _bought(line.steps[0])
    if isinstance(shape, Bar):
        _of_bar(line, shape, extra)
    else:
        _of_plate(line, shape)
    return line.steps


def _bought(step: Step) -> Step:
    """Stock is bought for whatever is cut of it: no mark, no part."""
    return Step(
        step.key,
        step.kind,
        1,
        (),
        (),
        step.words,
        step.minutes,
        hazards=("Keep its certificate, or write down its batch: somebody may ask what steel it is.",),
    )


# ---- a bar


def _of_bar(line: Line, shape: Bar, extra: float) -> None:
    b, m, name = blank(shape), line.shop.minutes, called(line.row)
    area = shape.stock.section().area / 100
    _sawn(line, b, area, extra)
    if extra:
        _fitted(line, b)
    for which, word in ENDS:
        _end(line, shape, b, which, word, area)
    _slotted(line, shape)
    made = drawing(line.assembly, line.row, line.shop)
    if made is None:
        return
    if shape.slots is None:
        _bent(line, shape, made)
    for f in made.features:
        if f.which[0] == "W":
            size = f"{f.size('long'):.1f} × {f.size('wide'):.1f}"
            line.add(
                "trim",
                f"Cut the notch out of face {f.view} of {line.row.mark}, {name}: {size} mm, {f.along:.1f} mm "
                f"{made.datum}.",
                m["cope"],
                f.which,
                "grinder",
                more=More(
                    figures=_figures(along=f.along or 0.0, long=f.size("long"), wide=f.size("wide")),
                ),
            )
    _drilled(line, made)


def _sawn(line: Line, b: Blank, area: float, extra: float) -> None:
    size = b.box + extra
    first, second = b.tilts
    reads = [Reading("length", size, length_tolerance(size), "tape, long point to long point")]
    figures = {"length": round(size, 4)}
    angles = []
    for name, deg in (("first end", first), ("second end", second)):
        if abs(deg) > 1e-6:
            reads.append(Reading(name, deg, STRAIGHT, "protractor, from square", "°"))
            figures[name] = round(deg, 4)
            angles.append(f"{name} {abs(deg):.1f}°")
    lean = ""
    if first and second:
        lean = ", leaning towards each other" if first * second > 0 else ", both leaning alike"
    how = ", ".join(angles) + lean if angles else "square at both ends"
    long = " (long point to long point)" if angles else ""
    left = f"; that is {extra:.0f} mm long, to be cut at fit-up" if extra else ""
    steep = max(abs(first), abs(second))
    saw = line.shop.saw
    hazards: tuple[str, ...] = ()
    if steep > saw.mitre_to_deg:
        hazards = (
            f"The saw tilts to {saw.mitre_to_deg:.0f}° and this end stands at {steep:.1f}°: scribe it and "
            "cut it by hand, or against a block.",
        )
    m = line.shop.minutes
    setups = 1 if not angles or abs(first) == abs(second) else 2
    line.add(
        "saw",
        f"Saw {line.count} × {line.row.mark}, {called(line.row)}, {size:.1f} mm of {line.row.stock}{long}, "
        f"{how}{left}.",
        m["saw_piece"] * 2 + m["saw_cm2"] * area * 2 + m["saw_setup"] * setups / line.count,
        tool="saw",
        more=More(
            reads=tuple(reads),
            figures=MappingProxyType(figures),
            settings=MappingProxyType(
                {"stop": round(size, 2), **{k: v for k, v in figures.items() if k != "length"}}
            ),
            hazards=hazards,
        ),
    )


def _fitted(line: Line, b: Blank) -> None:
    """A bar that was left long: offered up, measured, and cut then; what it joins waits for it."""
    mark, m = line.row.mark, line.shop.minutes
    line.add(
        "measure",
        f"Offer {mark} up where it goes and measure how long it must be; drawn is {b.box:.1f} mm.",
        m["check"],
        "length",
        "tape",
        more=More(
            reads=(Reading("length", b.box, length_tolerance(b.box), "tape, in its place"),),
            figures=_figures(length=b.box),
        ),
    )
    line.add(
        "trim", f"Cut {mark} to what was measured.", m["saw_piece"] * 2 + m["mitre_setup"], "length", "saw"
    )


def _end(line: Line, shape: Bar, b: Blank, which: Literal["i", "j"], word: str, area: float) -> None:
    end = shape.end_i if which == "i" else shape.end_j
    mark, m = line.row.mark, line.shop.minutes
    if isinstance(end, (Mitre, Slant)) and which in b.later:
        line.add(
            "mitre",
            f"Cut the {word} end of {mark} {flat.end_words(end)}, in a second set-up"
            + (", round its paper." if shape.stock.shape == "round_tube" else ", scribed from its drawing."),
            m["mitre_setup"] + m["saw_cm2"] * area * 2,
            which,
            "saw",
        )
    elif isinstance(end, Cope):
        size = paths.length(shape.path)
        depths = [d for _, d in flat.cope_depths(shape, end, size if which == "j" else 0.0)]
        deep = max(depths) - min(depths) if depths else 0.0
        line.add(
            "cope",
            f"Cope the {word} end of {mark} on to ⌀ {2 * end.radius:.4g} mm, {deep:.1f} mm deep, round its "
            "paper.",
            m["cope"],
            which,
            "hole saw or grinder",
            more=More(figures=_figures(main=2 * end.radius, deep=deep)),
        )
    elif isinstance(end, Flattened):
        line.add(
            "flatten",
            f"Press the {word} end of {mark} flat over {end.length:.0f} mm, warm if the wall cracks.",
            m["flatten"],
            which,
            "press",
            more=More(figures=_figures(length=end.length)),
        )
    elif isinstance(end, Slugged):
        line.add(
            "press",
            f"Drive a slug {end.length:.0f} mm into the {word} end of {mark} and weld it round.",
            m["flatten"],
            which,
            "press",
            more=More(figures=_figures(length=end.length)),
        )
    elif isinstance(end, Capped):
        line.add(
            "run",
            f"Weld a {end.t:.3g} mm cap over the {word} end of {mark}; leave the last 10 mm until the "
            f"air in it "
            "is no longer hot.",
            m["run_setup"] + m["run_m"] * (shape.stock.width + shape.stock.height) * 2 / 1000,
            f"cap {which}",
            "welder",
            more=More(figures=_figures(cap=end.t)),
        )


def _slotted(line: Line, shape: Bar) -> None:
    m = line.shop.minutes
    for n, row in enumerate(slot_rows(shape), 1):
        deg = math.degrees(row.angle)
        line.add(
            "slot",
            f"Cut the slots of bend {n} in {line.row.mark}: {slot_words(row)}.",
            m["slot"] * row.count,
            str(n),
            "grinder",
            more=More(figures=_figures(slots=row.count, pitch=row.pitch, first=row.first, deep=row.deep)),
        )
        line.add(
            "bend",
            f"Close bend {n} of {line.row.mark} to {deg:.1f}° and clamp it.",
            m["bend"],
            str(n),
            "clamps",
            more=More(
                reads=(Reading("angle", deg, 1.0, "protractor on the uncut face", "°"),),
                figures=_figures(angle=deg),
            ),
        )
        line.add(
            "run",
            f"Weld the slots of bend {n} of {line.row.mark}, one on this side, one on that.",
            m["run_setup"] + m["run_m"] * row.count * row.bead / 1000,
            f"slots {n}",
            "welder",
            more=More(figures=_figures(slots=row.count)),
        )


def _bent(line: Line, shape: Bar, made: Drawing) -> None:
    """Every bend; where its mark is and what the machine is set to, as its drawing has them."""
    arcs = [r for r in paths.runs(shape.path) if isinstance(r, Arc)]
    marks = [f for f in made.features if f.which[0] == "B"]
    for n, arc in enumerate(arcs, 1):
        deg = math.degrees(arc.angle)
        where, settings = "its marks are on its drawing", dict[str, float]()
        if len(marks) == len(arcs):  # two arcs of one hoop are bent in one
            f = marks[n - 1]
            machine, turn = f.size("machine°"), f.size("twist°")
            settings = {
                "mark": round(f.along or 0.0, 2),
                "machine": round(machine, 2),
                "turn": round(turn, 2),
            }
            where = f"its mark {f.along:.1f} mm {made.datum}, the machine at {machine:.1f}°" + (
                f", the tube turned {turn:.1f}° first" if n > 1 and abs(turn) > 0.05 else ""
            )
        line.add(
            "bend",
            f"Bend {n} of {line.row.mark}: {deg:.1f}°, radius {arc.radius:.0f} mm; {where}.",
            line.shop.minutes["bend"],
            str(n),
            "bender",
            more=More(
                reads=(Reading("angle", deg, 1.0, "protractor on both straights", "°"),),
                figures=_figures(angle=deg, radius=arc.radius),
                settings=MappingProxyType(settings),
            ),
        )


def _drilled_through(stock: StockSection) -> float:
    """Metal a hole goes through: both walls of a tube, one leg, all of a solid bar, mm."""
    if stock.shape.endswith("tube"):
        return 2 * stock.wall
    return stock.wall if stock.shape in ("angle", "channel") else min(stock.width, stock.height)


def _drilled(line: Line, made: Drawing) -> None:
    """All holes of a bar, where its drawing has them: from one end and one edge."""
    shape, m = line.part.shape, line.shop.minutes
    assert isinstance(shape, Bar)
    holes = [f for f in made.features if f.which[0] == "H"]
    if not holes:
        return
    deep = _drilled_through(shape.stock)
    minutes = len(holes) * (m["drill_hole"] + m["drill_cm"] * deep / 10)
    said = [f"⌀ {f.size('⌀'):.4g} {_where(f)}" for f in holes]
    line.add(
        "drill",
        f"Drill {line.row.mark}, {made.datum}: {'; '.join(said)}.",
        minutes,
        tool="drill press",
        more=_hole_figures(holes, "tape " + made.datum, "tape from the face's lower edge"),
    )


def _where(f: Feature) -> str:
    if f.view.endswith("end"):
        return f"into the {f.view}"
    up = f", {f.up:.1f} mm up face {f.view}" if f.up is not None else ""
    return f"at {f.along:.1f} mm{up}, {f.words.split(';')[0]}"


def _hole_figures(holes: Sequence[Feature], along: str, up: str) -> More:
    """What is read of every hole: how far along, how far up; and its size."""
    figures, reads = dict[str, float](), list[Reading]()
    for f in holes:
        figures[f"{f.which} ⌀"] = round(f.size("⌀"), 4)
        for name, value, how in (("along", f.along, along), ("up", f.up, up)):
            if value is not None:
                figures[f"{f.which} {name}"] = round(value, 4)
                reads.append(Reading(f"{f.which} {name}", value, 0.5, how))
    return More(reads=tuple(reads), figures=MappingProxyType(figures))


# ---- a plate


def _of_plate(line: Line, shape: Plate) -> None:
    m, row = line.shop.minutes, line.row
    if line.part.decking is not None and line.part.decking.kind == "boards":
        d = line.part.decking
        line.add(
            "saw",
            f"Saw boards {d.t:.0f} mm thick for {row.mark}, {called(row)}, to {row.width_mm:.0f} mm, over "
            f"{row.cut_length_mm:.0f} mm in all.",
            m["saw_piece"] * max(row.cut_length_mm / max(d.board, 100.0), 1.0),
            tool="saw",
            more=More(
                reads=(Reading("length", row.width_mm, 2.0, "tape"),),
                figures=_figures(length=row.width_mm, over=row.cut_length_mm),
            ),
        )
        return
    pattern = flat.flat(shape)
    edge = sum(_length(ring) for ring in (pattern.outline, *pattern.windows))
    edge += sum(math.pi * d for _, _, d in pattern.holes)
    by_table = (
        shape.t <= line.shop.table.thickest_mm
        and row.cut_length_mm <= line.shop.table.bed_long_mm - 2 * line.shop.table.margin_mm
        and row.width_mm <= line.shop.table.bed_wide_mm - 2 * line.shop.table.margin_mm
    )
    mirror = ", one of two mirrored" if row.mirror else ""
    line.add(
        "cut plate",
        f"Cut {line.count} × {row.mark}, {called(row)}, {row.cut_length_mm:.1f} × {row.width_mm:.1f} mm of "
        f"{row.stock}{mirror}"
        + ("." if by_table else ", by hand against a guide: it does not go on the table."),
        m["cut_m"] * edge / 1000 * (1 if by_table else 4) + m["cut_plate_setup"] / line.count,
        tool="table" if by_table else "torch or grinder",
        more=More(
            reads=(
                Reading("long", row.cut_length_mm, length_tolerance(row.cut_length_mm), "tape"),
                Reading("wide", row.width_mm, length_tolerance(row.width_mm), "tape"),
            ),
            figures=_figures(long=row.cut_length_mm, wide=row.width_mm),
        ),
    )
    made = drawing(line.assembly, line.row, line.shop)
    if pattern.holes and made is not None:
        _plate_holes(line, shape, made)
    for n, fold in enumerate(shape.folds, 1):
        deg = math.degrees(abs(fold.angle))
        way = "up" if fold.angle > 0 else "down"
        line.add(
            "fold",
            f"Fold {n} of {row.mark}: {deg:.1f}° {way}, {fold.inside:.1f} mm inside radius, between its two "
            "lines.",
            m["fold"],
            str(n),
            "press brake",
            more=More(
                reads=(Reading("angle", deg, 1.0, "protractor", "°"),),
                figures=_figures(angle=deg, inside=fold.inside),
            ),
        )


def _length(ring: outline.Outline) -> float:
    points = outline.flatten(ring)
    return sum(dist(p, q) for p, q in zip(points, [*points[1:], points[0]], strict=True))


def _plate_holes(line: Line, shape: Plate, made: Drawing) -> None:
    m, holes = line.shop.minutes, [f for f in made.features if f.which[0] == "H"]
    sizes = sorted({round(f.size("⌀"), 3) for f in holes})
    count = {s: sum(abs(f.size("⌀") - s) < 1e-3 for f in holes) for s in sizes}
    said = ", ".join(f"{count[s]} × ⌀ {s:.4g}" for s in sizes)
    largest = line.shop.drill.largest_mm
    over = f"; over {largest:.0f} mm with an annular cutter" if sizes[-1] > largest else ""
    across, up = (
        f"tape from the {w}" for w in made.datum.removeprefix("from its ").split(",")[0].split(" and its ")
    )
    line.add(
        "drill",
        f"Drill {line.row.mark}: {said} mm, where its template is centred{over}.",
        sum(m["drill_hole"] + m["drill_cm"] * shape.t / 10 for _ in holes),
        tool="drill press",
        more=_hole_figures(holes, across, up),
    )


# ---- welds


def bevel(assembly: Assembly, j: Joint, shop: Shop, sets: int, needs: frozenset[str]) -> Step | None:
    """The edge a weld wants bevelled, before anything is tacked; None where none is."""
    if not isinstance(j.how, Weld) or not (j.how.through or max(r.groove for r in j.how.runs) > 0):
        return None
    deep = max(r.groove for r in j.how.runs)
    long = sum(dist(r.a, r.b) for r in j.how.runs)
    part = assembly.by_key[j.a]
    sides = "from both sides" if j.how.through else "from one side"
    return Step(
        key_of(j.a, "bevel", j.key),
        "bevel",
        sets,
        (j.a,),
        (part.mark,),
        f"Bevel {part.mark} for {j.name}: 45° {sides}, {deep:.1f} mm deep over {long:.0f} mm.",
        shop.minutes["bevel_m"] * long / 1000 * (2 if j.how.through else 1) * sets,
        needs=needs,
        tool="grinder",
        figures=_figures(deep=deep, length=long),
    )


def runs(
    assembly: Assembly, j: Joint, needs: frozenset[str], shop: Shop, sets: int, number: str = ""
) -> list[Step]:
    """Every bead of a weld, or its plugs; each of them after ``needs``.  ``number``: of the seam."""
    called_ = f"{number} {j.name}".strip()
    marks = tuple(assembly.by_key[k].mark for k in (j.a, j.b) if k != HOST)
    parts = tuple(k for k in (j.a, j.b) if k != HOST)
    m = shop.minutes
    if isinstance(j.how, Plugs):
        words = f"Fill the {len(j.how.spots)} plugs of {called_}, ⌀ {j.how.diameter:.4g} mm, flush."
        minutes = m["run_setup"] * len(j.how.spots) * sets
        figures = _figures(diameter=j.how.diameter, plugs=len(j.how.spots))
        key = key_of(j.key, "run", "1")
        return [
            Step(key, "run", sets, parts, marks, words, minutes, (j.key,), needs, "welder", figures=figures)
        ]
    assert isinstance(j.how, Weld)
    out = []
    for n, run in enumerate(j.how.runs, 1):
        long = dist(run.a, run.b)
        # time goes with weld metal, the fillet's and half a square of a 45° groove; a 6 mm leg is the measure
        share = max((j.how.leg**2 + run.groove**2) / 36.0, 0.5)
        what = "bevel and fillet" if run.groove else "flare" if run.radius else "fillet"
        out.append(
            Step(
                key_of(j.key, "run", str(n)),
                "run",
                sets,
                parts,
                marks,
                f"Weld {called_}, bead {n} of {len(j.how.runs)}: {what}, leg {j.how.leg:.1f} mm, "
                f"{long:.0f} mm "
                "long.",
                (m["run_setup"] / 2 + m["run_m"] * long / 1000 * share) * sets,
                (j.key,),
                needs,
                "welder",
                reads=(Reading("leg", j.how.leg, max(0.1 * j.how.leg, 0.5), "fillet gauge"),),
                hazards=(ZINC,) if n == 1 else (),
                figures=_figures(leg=j.how.leg, length=long),
            )
        )
    return out


def check(assembly: Assembly, keys: tuple[str, ...], needs: frozenset[str], shop: Shop, sets: int) -> Step:
    """Tacked and not yet welded: is it square, is it as long and as wide as drawn?"""
    box = [b for k in keys for b in [bodies.body(assembly.by_key[k]).bounding_box()]]
    low = [min(b[n] for b in box) for n in range(3)]
    high = [max(b[n + 3] for b in box) for n in range(3)]
    reads = tuple(
        Reading(name, high[n] - low[n], max(1.0, 1.5 * (high[n] - low[n]) / 1000), "tape, over all")
        for n, name in enumerate(("long", "wide", "high"))
    )
    across = lie(assembly, keys).diagonals
    alike = len({round(mm) for _, mm in across}) == 1
    ways = f"{across[0][1]:.0f} mm and alike" if alike else " and ".join(f"{mm:.0f} mm" for _, mm in across)
    marks = tuple(dict.fromkeys(assembly.by_key[k].mark for k in keys))
    return Step(
        key_of(keys[0], "check"),
        "check",
        sets,
        keys,
        marks,
        f"Before it is welded: {len(keys)} pieces tacked, square to each other; over all "
        f"{reads[0].wanted:.0f} × {reads[1].wanted:.0f} × {reads[2].wanted:.0f} mm; diagonals, from "
        f"{across[0][0]} and across it, {ways}.",
        shop.minutes["check"] * sets,
        needs=needs,
        tool="tape and square",
        reads=reads,
    )


def trim(name: str, words: str, shop: Shop, sets: int) -> Step:
    """What is cut or taken off the vehicle before anything goes on."""
    return Step(
        key_of(HOST, "trim", name),
        "trim",
        sets,
        (),
        (),
        words,
        shop.minutes["transfer"] * sets,
        tool="hand tools",
    )


__all__ = ["Line", "Part", "bevel", "check", "of_line", "runs", "trim"]
