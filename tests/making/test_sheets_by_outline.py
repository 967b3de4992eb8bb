"""Plates laid by their true outlines: on metal of their own, in each other's openings, on rests of any shape,
around what is cut already, and closer when there is time to search.
"""

import json
import math
import random
import time
from itertools import combinations
from pathlib import Path

import pytest
import spyrrow
from shapely import affinity
from shapely.geometry import Point, Polygon, box
from shapely.ops import unary_union

from urial.cli import main
from urial.families import build
from urial.geometry.outline import flatten, polygon, rectangle, rounded_hull
from urial.geometry.shape import Plate
from urial.job.file import load
from urial.job.log import Entry
from urial.job.making import Making
from urial.making.nested import begun_sheets, nested
from urial.making.parts import parts_list
from urial.making.plan import plan
from urial.making.remnants import straight_rest, whole_rest
from urial.making.sheet_boxes import packed
from urial.making.sheet_model import Offer, Placed, PlateWanted, SheetCut
from urial.making.sheet_strips import Search, closer, proven, strip
from urial.making.sheets import TURNS, nest_sheets, offers, plates_wanted, rank
from urial.making.status import status
from urial.shop.snapshot import RackSheet, SoldSheet, usual
from urial.stock import catalogue

STEEL = catalogue.material("S235")
STEELS = {"S235": STEEL}
QUARTERS = TURNS["quarter turns"]
SHOP = usual()
GAP, MARGIN = SHOP.table.gap_mm, SHOP.table.margin_mm
DEMOS = Path(__file__).parents[2] / "src" / "urial" / "families" / "demo"


def plate(name, outline, *, windows=(), holes=(), mirrored=False, unit=1):
    shape = Plate(outline, 8.0, windows=windows, holes=holes)
    return PlateWanted(name, unit, name, shape, "plate 8 mm", "S235", mirrored, 8.0)


def sold(*sizes):
    """A shop that sells these sheets and has nothing else."""
    rows = tuple(SoldSheet(system="metric", long_mm=a, wide_mm=b) for a, b in sizes)
    return SHOP.model_copy(update={"sheet": rows, "sheets": ()})


def some(seed, count=40):
    """Plates of every kind of outline."""
    rng = random.Random(seed)
    out = []
    for k in range(count):
        w, h = rng.uniform(80, 700), rng.uniform(80, 500)
        kind = rng.choice(("rectangle", "corner", "gusset", "disc", "hull"))
        windows = ()
        if kind == "rectangle":
            outline = rectangle(0, 0, w, h, 10)
            windows = (rectangle(0.2 * w, 0.2 * h, 0.8 * w, 0.8 * h),) if min(w, h) > 300 else ()
        elif kind == "corner":
            outline = polygon([(0, 0), (w, 0), (w, 0.4 * h), (0.4 * w, 0.4 * h), (0.4 * w, h), (0, h)])
        elif kind == "gusset":
            outline = polygon([(0, 0), (w, 0), (w * rng.random(), h)])
        elif kind == "disc":
            outline = rounded_hull([(0, 0)], h / 2)
        else:
            outline = rounded_hull([(0, 0), (0.6 * w, 0), (0.3 * w, 0.6 * h)], 40)
        out.append(plate(f"P{k}", outline, windows=windows, mirrored=rng.random() < 0.3))
    return out


def as_drawn(placed):
    """A plate where it lies, made from its drawing as the contract says: mirrored, turned, moved."""
    shape, turn = placed.piece.shape, math.radians(placed.turned)

    def there(points):
        for x, y in points:
            u = -x if placed.piece.mirrored else x
            yield (
                u * math.cos(turn) - y * math.sin(turn) + placed.at[0],
                u * math.sin(turn) + y * math.cos(turn) + placed.at[1],
            )

    holes = [Polygon(there(flatten(ring, math.radians(1)))) for ring in shape.openings]
    holes += [
        Polygon(there([(u + d / 2 * math.cos(a / 20), v + d / 2 * math.sin(a / 20)) for a in range(126)]))
        for u, v, d in shape.holes
    ]
    return Polygon(there(flatten(shape.outline, math.radians(1)))).difference(unary_union(holes))


def apart(sheets, shop=SHOP):
    """Every plate inside its sheet's margins, the gap from every other."""
    for s in sheets:
        metal = [as_drawn(p) for p in s.placed]
        room = s.metal.buffer(-MARGIN + 0.11)
        assert all(room.contains(m) for m in metal)
        for a, b in combinations([*metal, *(as_drawn(p) for p in s.cut)], 2):
            assert a.distance(b) >= shop.table.gap_mm - 0.11


@pytest.mark.parametrize(
    ("seed", "turning"),
    [
        (0, "quarter turns"),
        (1, "quarter turns"),
        (2, "quarter turns"),
        (3, "half turns"),
        (4, "eighth turns"),
    ],
)
def test_forty_plates_lie_on_metal_of_their_own_on_one_sheet_more_than_their_area_at_most(seed, turning):
    pieces = some(seed, 40 if turning == "quarter turns" else 20)
    found = nest_sheets(pieces, STEELS, sold((2500.0, 1250.0)), turning)
    assert sorted(p.piece.name for s in found.sheets for p in s.placed) == sorted(p.name for p in pieces)
    assert {p.turned for s in found.sheets for p in s.placed} <= set(TURNS[turning])
    apart(found.sheets)
    area = sum(p.metal.area for p in pieces)
    assert len(found.sheets) <= math.ceil(area / (2500.0 * 1250.0)) + 1
    assert found.bound <= found.price


def test_outlines_are_never_dearer_than_rectangles_and_nest_where_those_cannot():
    """Two corners of 300 × 300 with arms of 100 go into a strip of 408: the one turned into the other; as
    rectangles they take 608 side by side, which is one sheet more.
    """
    corner = polygon([(0, 0), (300, 0), (300, 100), (100, 100), (100, 300), (0, 300)])
    pieces = [plate("A", corner), plate("B", corner)]
    shop = sold((320.0 + 108.0, 320.0 + 108.0))
    found = nest_sheets(pieces, STEELS, shop)
    assert len(found.sheets) == 1
    apart(found.sheets)
    there, (size,) = offers(pieces[0], 1.0, shop)
    assert min(len(w) for w in packed(pieces, [*there, size], shop.table)) == 2


def test_what_fits_into_an_opening_is_cut_out_of_it():
    """A ring of 400 with an opening of 300 and a disc of 280: 10 mm lie all round, and the gap is 8."""
    ring = plate("R", rounded_hull([(0, 0)], 200), windows=(rounded_hull([(0, 0)], 150),))
    disc = plate("D", rounded_hull([(0, 0)], 140))
    shop = sold((400.0 + 2 * MARGIN, 400.0 + 2 * MARGIN))
    (sheet,) = nest_sheets([ring, disc], STEELS, shop).sheets
    apart([sheet])
    rim, inner = (next(p for p in sheet.placed if p.piece.mark == m) for m in "RD")
    assert Polygon(rim.metal.exterior).contains(inner.metal)
    large = plate("D", rounded_hull([(0, 0)], 143))  # 7 mm all round: too near
    assert len(nest_sheets([ring, large], STEELS, shop).sheets) == 2


def test_the_grain_is_kept_where_it_is_asked_for():
    """900 wide and 1500 along the other way: only a quarter turn lays it on 2000 × 1000."""
    tall = plate("T", rectangle(0, 0, 900, 1500))
    shop = sold((2000.0, 1000.0))
    shop = shop.model_copy(update={"table": shop.table.model_copy(update={"bed_long_mm": 2000.0})})
    assert nest_sheets([tall], STEELS, shop).sheets[0].placed[0].turned in (90.0, 270.0)
    assert nest_sheets([tall], STEELS, shop, "half turns").by_hand == ("T",)


def test_the_last_sheet_is_the_cheapest_that_holds_what_is_left():
    """Three plates of 1100 × 900: two go on 2500 × 1250, the third on 1250 × 1000."""
    pieces = [plate(n, rectangle(0, 0, 1100, 900)) for n in "ABC"]
    found = nest_sheets(pieces, STEELS, sold((1250.0, 1000.0), (2500.0, 1250.0)))
    assert sorted(s.size for s in found.sheets) == [(1250.0, 1000.0)] * 3 or sorted(
        s.size for s in found.sheets
    ) == [(1250.0, 1000.0), (2500.0, 1250.0)]
    least = min(2500 * 1250 + 1250 * 1000, 3 * 1250 * 1000)
    per = found.price / sum(s.size[0] * s.size[1] for s in found.sheets)
    assert found.price == pytest.approx(least * per)


def test_a_sheet_smaller_than_its_margins_is_no_sheet():
    shop = sold((2000.0, 1000.0)).model_copy(
        update={"sheets": (RackSheet(id="s", stock="plate 8 mm", material="S235", long_mm=15, wide_mm=15),)}
    )
    found = nest_sheets([plate("A", rectangle(0, 0, 50, 40))], STEELS, shop)
    assert [s.rack for s in found.sheets] == [""]


# ---- rests


def cut_at_the_corner(w, h, size=(2000.0, 1000.0)):
    piece = plate("A", rectangle(0, 0, w, h))
    return SheetCut("plate 8 mm", "S235", size, (Placed(piece, (MARGIN, MARGIN), 0.0),), 1.0)


def test_rests_by_hand():
    """300 × 200 cut at the corner: a straight cut beyond it leaves what is not used, gap and kerf; as it is,
    the whole but for the corner's block, a millimetre in from every edge.
    """
    s = cut_at_the_corner(300.0, 200.0)
    gone = MARGIN + 300.0 + GAP
    assert straight_rest(s, SHOP).size == pytest.approx((2000.0 - gone - SHOP.table.kerf_mm, 1000.0))
    rest = whole_rest(s, SHOP)
    area = Polygon(rest.outline).area
    block = gone * (MARGIN + 200.0 + GAP)
    rim = 2 * (2000.0 + 1000.0)
    assert area == pytest.approx(2000.0 * 1000.0 - block - rim, rel=2e-3)
    assert rest.size == pytest.approx((1998.0, 998.0), abs=0.1)


def test_what_is_too_small_or_too_short_is_no_rest():
    s = cut_at_the_corner(1940.0, 970.0)
    assert straight_rest(s, SHOP) is None and whole_rest(s, SHOP) is None
    whole = cut_at_the_corner(1300.0, 985.0)
    assert whole_rest(whole, SHOP).outline == ()  # a strip across the sheet is a rectangle again


def test_a_plate_in_the_middle_leaves_a_rest_that_is_metal_all_over():
    s = SheetCut(
        "plate 8 mm",
        "S235",
        (2000.0, 1000.0),
        (Placed(plate("A", rectangle(0, 0, 300, 200)), (700.0, 400.0), 0.0),),
        1.0,
    )
    rest = whole_rest(s, SHOP)
    one = Polygon(rest.outline)
    assert one.is_valid and one.area < 2000.0 * 1000.0 - 300.0 * 200.0
    gone = box(700 - GAP, 400 - GAP, 1000 + GAP, 600 + GAP)
    held = [
        affinity.translate(one, x, y) for x in (0.0, 1.0, 2.0) for y in (0.0, 1.0, 2.0)
    ]  # its box's corner lies a millimetre in from the sheet's
    assert any(h.intersection(gone).area < 1.0 for h in held)


def test_a_rest_with_its_own_outline_takes_what_fits_on_its_metal_and_no_more():
    """An L of 1000 × 1000 with arms of 300: 250 × 600 goes into an arm, 500 × 500 only on a whole sheet."""
    corner = ((0, 0), (1000, 0), (1000, 300), (300, 300), (300, 1000), (0, 1000))
    rest = RackSheet(
        id="r", stock="plate 8 mm", material="S235", long_mm=1000, wide_mm=1000, remnant=True, outline=corner
    )
    shop = sold((2000.0, 1000.0)).model_copy(update={"sheets": (rest,)})
    pieces = [plate("A", rectangle(0, 0, 250, 600)), plate("B", rectangle(0, 0, 500, 500))]
    found = nest_sheets(pieces, STEELS, shop)
    apart(found.sheets)
    assert {p.piece.mark: s.rack for s in found.sheets for p in s.placed} == {"A": "r", "B": ""}
    assert nest_sheets(pieces[:1], STEELS, shop).price == 0.0


# ---- begun


def entry(name, sheet, x, y, **more):
    at = {"long_mm": 1000, "wide_mm": 500, "x_mm": x, "y_mm": y, **more}
    return Entry(
        id=name,
        step=name,
        what="done",
        at="2026-12-02T08:00:00+01:00",
        bar=f"plate 8 mm · S235 · {sheet}",
        sheet=at,
    )


def test_a_begun_sheet_keeps_what_is_cut_and_gives_what_it_has_left():
    every = {
        p.name: p for p in (plate("A", rectangle(0, 0, 400, 400)), plate("B", rectangle(0, 0, 400, 400)))
    }
    log = [entry("A", "bought 1", 10.0, 10.0)]
    (begun,) = begun_sheets(log, every)
    assert begun.size == (1000.0, 500.0) and [p.piece.mark for p in begun.cut] == ["A"]
    found = nest_sheets([every["B#1"]], STEELS, sold((2000.0, 1000.0)), begun=[begun])
    (sheet,) = found.sheets
    assert sheet.begun and found.price == 0.0
    apart([sheet])
    # what does not go beside it comes out of another, and the begun one is there still
    wide = plate("C", rectangle(0, 0, 700, 450))
    assert [s.begun for s in nest_sheets([wide], STEELS, sold((2000.0, 1000.0)), begun=[begun]).sheets] == [
        ""
    ]


def test_a_sheet_nobody_knows_the_rest_of_is_not_reckoned_with():
    every = {"A#1": plate("A", rectangle(0, 0, 400, 400))}
    log = [entry("A", "bought 1", 10.0, 10.0)]
    assert begun_sheets(log, every)
    assert not begun_sheets(log, every, {"A#1"})  # it was cut to other sizes
    assert not begun_sheets([*log, entry("gone", "bought 1", 10.0, 10.0)], every)
    assert not begun_sheets([*log, entry("A", "bought 1", 10.0, 10.0, ended=True)], every)
    back = Entry(id="x", step="A", what="undone", takes_back="A", at="2026-12-02T09:00:00+01:00")
    assert not begun_sheets([*log, back], every)


def ticked(s, p, n):
    """As the window writes it down: where the plate was, and where the others of its sheet are to come."""
    rest = [
        {"name": q.piece.name, "x_mm": q.at[0], "y_mm": q.at[1], "turned_deg": q.turned}
        for q in s.placed
        if q is not p
    ]
    sheet = {"long_mm": s.size[0], "wide_mm": s.size[1], "x_mm": p.at[0], "y_mm": p.at[1]}
    return Entry(
        id=str(n),
        step=p.piece.key,
        unit=p.piece.unit,
        at="2026-12-02T08:00:00+01:00",
        bar=s.begun or f"{s.stock} · {s.material} · bought {n}",
        sheet={**sheet, "turned_deg": p.turned, "rest": rest},
    )


@pytest.mark.parametrize("seed", range(2))
def test_plates_ticked_one_by_one_in_any_order_never_move_and_all_come_out(seed):
    """Of a demo job: what a begun sheet still holds stays where it was laid; nothing is cut twice or where
    something was.
    """
    job = load(DEMOS / "ramp-front-receiver.urial").job
    assembly = build(job)
    work, rng, log = plan(assembly), random.Random(seed), []
    first = nested(assembly, status(work, ()), (), SHOP, Making()).sheets
    places = {p.piece.name: (p.at, p.turned) for s in first.sheets for p in s.placed}
    while True:
        sheets = nested(assembly, status(work, log), log, SHOP, Making()).sheets
        apart(sheets.sheets)
        for s in sheets.sheets:
            if s.begun:
                for p in s.placed:
                    assert (
                        p.at == pytest.approx(places[p.piece.name][0]) and p.turned == places[p.piece.name][1]
                    )
        left = [(s, p) for s in sheets.sheets for p in s.placed]
        if not left:
            break
        log.append(ticked(*rng.choice(left), len(log)))
        assert len(log) < 40, "it never ends"
    assert len(log) == sum(len(s.placed) for s in first.sheets)
    assert len({e.bar for e in log}) == len(first.sheets)  # no sheet more than was said


def test_a_close_layout_outlasts_its_first_cut_and_what_no_longer_fits_it_is_laid_anew():
    """Four plates as no raster would lay them; one is cut, the others stay.  A plate that grew since, or lies
    where another does, is laid elsewhere.
    """
    pieces = [plate(n, rectangle(0, 0, 200, 100)) for n in "ABCD"]
    laid = tuple(Placed(p, (13.7 + 241.3 * k, 31.1 + 7.7 * k), 0.0) for k, p in enumerate(pieces))
    sheet = SheetCut("plate 8 mm", "S235", (2000.0, 1000.0), laid, 9.0)
    every = {p.name: p for p in pieces}
    (begun,) = begun_sheets([ticked(sheet, laid[0], 1)], every)
    assert [p.piece.mark for p in begun.placed] == ["B", "C", "D"]
    (found,) = nest_sheets(pieces[1:], STEELS, SHOP, begun=[begun]).sheets
    assert {p.piece.mark: p.at for p in found.placed} == {p.piece.mark: p.at for p in laid[1:]}
    assert nest_sheets(pieces[1:], STEELS, SHOP, begun=[begun]).price == 0.0
    grown = plate("B", rectangle(0, 0, 300, 100))
    later = begun_sheets([ticked(sheet, laid[0], 1)], {**every, "B#1": grown})
    (found,) = nest_sheets([grown, *pieces[2:]], STEELS, SHOP, begun=later).sheets
    apart([found])
    at = {p.piece.mark: p.at for p in found.placed}
    assert len(at) == 3 and sum(at[p.piece.mark] == p.at for p in laid[1:]) < 3
    more = plate("E", rectangle(0, 0, 400, 300))
    (found,) = nest_sheets([*pieces[1:], more], STEELS, SHOP, begun=[begun]).sheets
    apart([found])
    assert {p.piece.mark for p in found.placed} == {"B", "C", "D", "E"}


def test_a_begun_sheet_that_holds_nothing_more_is_over_until_its_rest_is_laid_away():
    every = {"A#1": plate("A", rectangle(0, 0, 400, 400))}
    log = [entry("A", "bought 1", 10.0, 10.0)]
    (over,) = nest_sheets([], STEELS, SHOP, begun=begun_sheets(log, every)).over
    assert over.begun and [p.piece.mark for p in over.cut] == ["A"]
    assert whole_rest(over, SHOP).size[0] > 500
    away = entry("A", "bought 1", 10.0, 10.0, ended=True).model_copy(update={"id": "x", "what": "decided"})
    assert not begun_sheets([*log, away], every)
    back = Entry(id="y", step="A", what="undone", takes_back="x", at="2026-12-02T09:00:00+01:00")
    assert begun_sheets([*log, away, back], every)


# ---- closer


def demo_plates():
    """Plates of all demo jobs by thickness: those there are most of."""
    out = {}
    for path in sorted(DEMOS.glob("*.urial")):
        job = load(path).job
        if job.has_part:
            assembly = build(job)
            for p in plates_wanted(assembly, parts_list(assembly)):
                out.setdefault(p.stock, []).append(p)
    return [(out[k]) for k in ("plate 8 mm", "plate 3/8", "plate 1/2")]


def how(stopped=lambda: False, told=None, angles=QUARTERS):
    return Search(SHOP.table, angles, stopped, (told if told is not None else []).append)


def test_the_demo_jobs_plates_lie_a_sixth_denser_than_their_rectangles_on_one_strip():
    wide, boxes, close = 1230.0, 0.0, 0.0
    for pieces in demo_plates():
        whole = Offer((1e5, wide + 2 * MARGIN), 1.0, None)
        table = SHOP.table.model_copy(update={"bed_long_mm": 1e5, "bed_wide_mm": wide})
        best = min(packed(pieces, [whole], table), key=rank)
        boxes += rank(best)[2] - MARGIN
        found = strip(pieces, wide, how(), 2.0)
        assert proven(found.placed, (0.0, 0.0, found.length, wide), GAP)
        apart(
            [
                SheetCut(
                    "",
                    "",
                    (found.length + 2 * MARGIN, wide + 2 * MARGIN),
                    tuple(
                        Placed(p.piece, (p.at[0] + MARGIN, p.at[1] + MARGIN), p.turned) for p in found.placed
                    ),
                    0.0,
                )
            ]
        )
        close += found.length
    assert boxes / close > 1.15


def test_a_strip_is_no_longer_than_the_search_alone_finds_in_the_same_time():
    """The same outlines grown by half the gap, the same turns and seconds, by the library itself."""
    pieces = some(5, 16)
    items = []
    for p in pieces:
        grown = Polygon(p.metal.exterior).buffer(GAP / 2, join_style="mitre")
        items.append(spyrrow.Item(p.name, list(grown.exterior.coords)[:-1], 1, list(QUARTERS)))
    config = spyrrow.StripPackingConfig(total_computation_time=2, num_workers=2, seed=1)
    alone = spyrrow.StripPackingInstance("alone", 1000.0 + GAP, items).solve(config)
    found = strip(pieces, 1000.0, how(), 2.0, seed=1)
    assert found.length <= (alone.width - GAP) * 1.03  # a search by the clock: no two runs are alike


def test_a_stopped_search_leaves_at_once_with_the_best_so_far():
    pieces, told = some(6, 12), []
    start = time.monotonic()
    found = strip(pieces, 1000.0, how(lambda: bool(told)), 60.0, tell=told.append)
    assert time.monotonic() - start < 15
    assert found is not None and found.length == pytest.approx(told[-1], abs=1.0)
    assert strip(pieces, 1000.0, how(lambda: True), 60.0) is None
    assert strip(pieces, 60.0, how(), 1.0) is None  # wider than the strip


def test_what_the_search_says_is_taken_only_where_it_is_true(monkeypatch):
    """Broken off early it may hand on what still overlaps: what is not proven is no answer."""
    pieces, asked = some(6, 6), []

    def not_the_first(placed, room, gap):
        asked.append(len(placed))
        return len(asked) > 1 and proven(placed, room, gap)

    monkeypatch.setattr("urial.making.sheet_strips.proven", not_the_first)
    found = strip(pieces, 1000.0, how(), 2.0)
    assert len(asked) > 1 and (found is None or proven(found.placed, (0, 0, found.length, 1000.0), GAP))
    monkeypatch.setattr("urial.making.sheet_strips.proven", lambda *_: False)
    assert strip(pieces, 1000.0, how(), 1.0) is None


def test_closer_never_worse_keeps_every_plate_and_leaves_rests_and_begun_sheets_alone():
    pieces, told = some(8, 14), []
    corner = ((0, 0), (900, 0), (900, 400), (400, 400), (400, 900), (0, 900))
    rest = RackSheet(
        id="r", stock="plate 8 mm", material="S235", long_mm=900, wide_mm=900, remnant=True, outline=corner
    )
    shop = sold((2000.0, 1000.0)).model_copy(update={"sheets": (rest,)})
    first = nest_sheets(pieces, STEELS, shop)
    found = closer(first, shop, seconds=2.0, tell=told.append)
    assert rank(found.sheets) <= rank(first.sheets) and told
    assert sorted(p.piece.name for s in found.sheets for p in s.placed) == sorted(p.name for p in pieces)
    apart(found.sheets)
    assert [s for s in found.sheets if s.rack] == [s for s in first.sheets if s.rack]
    assert closer(first, shop, stopped=lambda: True).sheets == tuple(
        sorted(first.sheets, key=lambda s: (s.stock, s.material))
    )


def test_three_sheets_that_are_hardly_used_become_one():
    """Six plates of 400 × 400, two a sheet as somebody laid them: one sheet of 2000 × 1000 holds eight."""
    pieces = [plate(n, rectangle(0, 0, 400, 400)) for n in "ABCDEF"]
    sheets = tuple(
        SheetCut(
            "plate 8 mm",
            "S235",
            (2000.0, 1000.0),
            tuple(Placed(p, (10.0 + 450.0 * k, 10.0), 0.0) for k, p in enumerate(pieces[n : n + 2])),
            10.0,
        )
        for n in (0, 2, 4)
    )
    first = nest_sheets([], STEELS, SHOP)
    found = closer(type(first)(sheets, 30.0, 5.0), sold((2000.0, 1000.0)), seconds=3.0)
    assert len(found.sheets) == 1 and found.price == 10.0
    apart(found.sheets)


def test_proven_sees_what_lies_too_near_or_outside():
    piece = plate("A", rectangle(0, 0, 100, 100))
    at = lambda x, y: Placed(piece, (x, y), 0.0)  # noqa: E731
    room = (0.0, 0.0, 1000.0, 500.0)
    assert proven([at(0, 0), at(100 + GAP, 0)], room, GAP)
    assert not proven([at(0, 0), at(99.5 + GAP, 0)], room, GAP)
    assert not proven([at(-0.5, 0)], room, GAP) and not proven([at(900.5, 0)], room, GAP)
    many = [at(x * (100 + GAP), y * (100 + GAP)) for x in range(5) for y in range(3)]
    assert proven(many, room, GAP)
    assert not proven([*many, at(535.0, 0.0)], room, GAP)


def test_the_command_searches_for_as_long_as_it_is_given(tmp_path, capsys, monkeypatch):
    monkeypatch.setenv("URIAL_STATE_DIR", str(tmp_path))
    job = str(DEMOS / "river-subframe.urial")
    assert main(["nest", job, "--json"]) == 0
    first = json.loads(capsys.readouterr().out)
    assert main(["nest", job, "--json", "--seconds", "2"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert found["price"] <= first["price"]
    marks = lambda rows: sorted(p["mark"] for s in rows["sheets"] for p in s["parts"])  # noqa: E731
    assert marks(found) == marks(first)
    assert main(["nest", job, "--seconds", "-1"]) == 2
    assert "seconds" in capsys.readouterr().err


def test_a_disc_s_silhouette_is_its_area():
    """π r² of a plate whose holes under 20 mm do not count as openings."""
    one = plate("A", rounded_hull([(0, 0)], 100), holes=((0.0, 0.0, 40.0), (60.0, 0.0, 12.0)))
    assert one.metal.area == pytest.approx(math.pi * (100**2 - 20**2), rel=2e-3)
    assert not one.metal.contains(Point(0, 0)) and one.metal.contains(Point(60, 0))
