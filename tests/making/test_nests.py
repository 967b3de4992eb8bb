"""Bars and sheets: what the saw makes of a bar is what is drawn, and nothing lies on anything else."""

import itertools
import math
import random

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import affinity
from shapely.geometry import Polygon, box

from urial.assembly.model import Part
from urial.families import build, families, new_job
from urial.geometry import flat, solids
from urial.geometry.axis import frame_at
from urial.geometry.outline import flatten, rectangle
from urial.geometry.path import Line
from urial.geometry.shape import Bar, Cope, Mitre, Plate
from urial.making.blank import Blank, blank, far, times2, turns
from urial.making.lay import lay
from urial.making.nested import nested
from urial.making.nests import Wanted, nest_bars, per_kg, steels_of
from urial.making.plan import plan
from urial.making.sheet_boxes import box_of
from urial.making.sheet_model import PlateWanted
from urial.making.sheets import nest_sheets
from urial.making.status import status
from urial.shop.snapshot import RackBar, RackSheet, usual
from urial.stock import catalogue

TUBE = catalogue.bar("40x40x3")
STEEL = catalogue.material("S235")
NAMES = list(families())


def mitred(length, first=0.0, second=0.0, about_z=False):
    return Bar(
        TUBE,
        Line((0.0, 0.0, 0.0), (length, 0.0, 0.0)),
        end_i=Mitre(math.radians(first), about_z),
        end_j=Mitre(math.radians(second), about_z),
    )


# ---- one piece


@pytest.mark.parametrize("name", NAMES)
def test_a_blank_is_as_long_as_the_solid_it_becomes(name):
    """Of every straight bar: from long point to long point as its body is, measured along its own axis."""
    for part in build(new_job(name)).parts:
        shape = part.shape
        if part.hardware or not isinstance(shape, Bar) or not isinstance(shape.path, Line):
            continue
        here = frame_at(shape, 0.0)
        body = solids.solid(shape).to_mesh().vert_properties[:, :3]
        along = [sum((p[k] - here.o[k]) * here.x[k] for k in range(3)) for p in body.tolist()]
        caps = sum(getattr(e, "t", 0.0) for e in (shape.end_i, shape.end_j))  # welded on, not sawn
        made = blank(shape)
        allowed = 1.0 if any(isinstance(e, Cope) for e in (shape.end_i, shape.end_j)) else 0.05
        assert made.box == pytest.approx(max(along) - min(along) - caps, abs=allowed), part.key
        assert made.box == pytest.approx(flat.cut_length(shape), abs=1e-6)


@pytest.mark.parametrize(
    ("first", "second", "tilts"),
    [(0, 0, (0, 0)), (30, 0, (-30, 0)), (0, 30, (0, -30)), (-20, 35, (20, -35)), (45, 45, (-45, -45))],
)
def test_a_mitre_says_how_far_it_tilts_and_which_way_its_long_point_lies(first, second, tilts):
    """An end whose face looks up (+z) is short above: its long point lies below, on the minus side."""
    made = blank(mitred(600.0, first, second))
    assert made.tilts == pytest.approx(tilts, abs=1e-9) and made.plane == "z"
    # by hand: half the depth times the tangent at either end
    more = 20.0 * (math.tan(math.radians(abs(first))) + math.tan(math.radians(abs(second))))
    assert made.box == pytest.approx(600.0 + more, abs=1e-9)


def test_ends_tilted_in_two_planes_take_two_set_ups():
    both = Bar(
        TUBE,
        Line((0.0, 0.0, 0.0), (600.0, 0.0, 0.0)),
        end_i=Mitre(math.radians(30.0)),
        end_j=Mitre(math.radians(20.0), about_z=True),
    )
    made = blank(both)
    assert made.later == ("j",) and made.tilts == pytest.approx((-30.0, 0.0))
    assert made.box == pytest.approx(600 + 20 * math.tan(math.radians(30)) + 20 * math.tan(math.radians(20)))


# ---- along a bar


def outline(piece: Blank, first, second, start, depth=40.0):
    """The side view of a piece as it lies, by its corners."""
    h = depth / 2
    a = start + far(piece.stock, times2(first, -1))  # the first face's middle
    b = a + piece.middle
    return Polygon(
        [
            (a + first[1] * -h, -h),
            (b + second[1] * -h, -h),
            (b + second[1] * h, h),
            (a + first[1] * h, h),
        ]
    )


angles = st.sampled_from([0.0, 15.0, 30.0, 45.0, -15.0, -30.0, -45.0])


@given(st.lists(st.tuples(st.floats(150, 700), angles, angles), min_size=1, max_size=9))
def test_laid_pieces_keep_a_cut_between_them_and_share_no_metal(rows):
    pieces = [blank(mitred(n, a, b)) for n, a, b in rows]
    kerf = 3.0
    row = lay(pieces, kerf, 10.0)
    assert sorted(c.which for c in row.laid) == list(range(len(pieces)))
    shapes = [outline(pieces[c.which], c.first, c.second, c.start) for c in row.laid]
    for c, shape in zip(row.laid, shapes, strict=True):
        low, _, high, _ = shape.bounds
        assert (low, high) == pytest.approx((c.start, c.end), abs=1e-6)
        assert shape.area == pytest.approx(40.0 * pieces[c.which].middle, rel=1e-9)
    for a, b in itertools.pairwise(shapes):
        assert a.distance(b) >= kerf - 1e-6
    assert shapes[0].bounds[0] >= 10.0 - 1e-9
    # no longer than as boxes with a tilted cut each
    steep = max(math.hypot(1.0, *s) for p in pieces for s in (p.first, p.second))
    assert row.used <= 10.0 + sum(p.box + kerf * steep for p in pieces) + 1e-6


@given(st.lists(st.tuples(st.floats(150, 700), angles, angles), min_size=1, max_size=4))
def test_a_few_pieces_are_laid_as_short_as_every_order_and_turn_allows(rows):
    pieces = [blank(mitred(n, a, b)) for n, a, b in rows]
    kerf = 3.0

    def used(order):
        total = 0.0
        for n, (k, first, _) in enumerate(order):
            h = 20.0
            if n == 0:
                total += h * max(abs(first[0]) + abs(first[1]), 0)
            else:
                before = order[n - 1][2]
                total += h * (abs(before[0] - first[0]) + abs(before[1] - first[1]))
                total += kerf * max(math.hypot(1, *before), math.hypot(1, *first))
            total += pieces[k].middle
        last = order[-1][2]
        return total + h * (abs(last[0]) + abs(last[1])) + kerf * math.hypot(1, *last)

    best = min(
        used([(k, *w) for k, w in zip(order, ways, strict=True)])
        for order in itertools.permutations(range(len(pieces)))
        for ways in itertools.product(*(planar(pieces[k]) for k in order))
    )
    assert lay(pieces, kerf, 0.0).used == pytest.approx(best, abs=1e-6)


def planar(piece):
    """Turns that keep its mitres in the plane they are in: the others only add."""
    return [w for w in turns(piece) if abs(w[0][0]) + abs(w[1][0]) < 1e-9]


def test_parallel_mitres_share_a_cut_by_hand():
    """Three alike with 45° at both ends: 10 + 20 + 3 · 500 + 2 · 3√2 between + 20 + 3√2 at the end."""
    pieces = [blank(mitred(500.0, 45.0, -45.0))] * 3
    want = 10 + 20 + 3 * 500 + 2 * 3 * math.sqrt(2) + 20 + 3 * math.sqrt(2)
    assert lay(pieces, 3.0, 10.0).used == pytest.approx(want, abs=1e-9)


# ---- out of bars


def many(*rows):
    out = []
    for mark, n, shape in rows:
        for unit in range(1, n + 1):
            out.append(Wanted(f"1/{mark}|saw|", unit, mark, blank(shape), TUBE.title, "S235"))
    return out


def test_mitres_back_to_back_save_a_bar_and_the_bound_says_so():
    """Twelve of 480 with 45°: as boxes 520 + 4.2 each, eleven go into 5 990; sharing cuts all twelve do."""
    found = nest_bars(many(("A", 12, mitred(480.0, 45.0, -45.0))), {"S235": STEEL}, usual())
    assert len(found.bars) == 1 and found.proven and found.price == pytest.approx(found.bound)
    row = found.bars[0]
    assert row.left == pytest.approx(6000 - (10 + 20 + 12 * 480 + 12 * 3 * math.sqrt(2) + 20), abs=1e-6)


def test_the_rack_is_used_before_anything_is_bought_and_a_remnant_costs_nothing():
    shop = usual().model_copy(
        update={
            "bars": (
                RackBar(id="r1", stock="40x40x3", material="S235", length_mm=900.0, remnant=True),
                RackBar(id="r2", stock="40x40x3", material="S355", length_mm=900.0, remnant=True),
            )
        }
    )
    found = nest_bars(many(("A", 1, mitred(800.0)), ("B", 1, mitred(2000.0))), {"S235": STEEL}, shop)
    by = {b.rack: [c.piece.mark for c in b.cuts] for b in found.bars}
    assert by == {"r1": ["A"], "": ["B"]}
    # by hand: a bought six metre bar by its mass
    kg = TUBE.section().area * 6000 * 7850e-9
    assert found.price == pytest.approx(kg * per_kg(shop, "tube", STEEL), rel=1e-9)


def test_what_no_bar_holds_is_named_with_what_to_do_and_the_rest_goes_on():
    found = nest_bars(many(("A", 1, mitred(6200.0)), ("B", 1, mitred(500.0))), {"S235": STEEL}, usual())
    assert [c.piece.mark for b in found.bars for c in b.cuts] == ["B"]
    assert len(found.refused) == 1 and "A is 6200 mm" in found.refused[0] and "splice" in found.refused[0]


@pytest.mark.parametrize("name", NAMES)
def test_every_bar_and_plate_of_every_family_lies_on_metal_of_its_own(name):
    assembly = build(new_job(name))
    rows = status(plan(assembly), ())
    shop = usual()
    found = nested(assembly, rows, (), shop)
    cut = [c for b in found.bars.bars for c in b.cuts]
    bars = [p for p in assembly.parts if isinstance(p.shape, Bar) and not p.hardware]
    assert len(cut) == len(bars) and not found.bars.refused
    assert sum(c.end - c.start for c in cut) == pytest.approx(sum(flat.cut_length(p.shape) for p in bars))
    for b in found.bars.bars:
        assert b.cuts[0].start >= shop.saw.end_trim_mm - 1e-6
        assert b.cuts[-1].end + shop.saw.kerf_mm <= b.length + 1e-6
        assert b.left == pytest.approx(b.length - b.cuts[-1].end - shop.saw.kerf_mm, abs=2.0)
    for s in found.sheets.sheets:
        edge = shop.table.margin_mm - 0.11
        room = box(edge, edge, s.size[0] - edge, s.size[1] - edge)
        laid = [on_sheet(p) for p in s.placed]
        assert all(room.contains(x) for x in laid)
        for a, b in itertools.combinations(laid, 2):
            assert a.distance(b) >= shop.table.gap_mm - 0.11
    placed = [p.piece for s in found.sheets.sheets for p in s.placed]
    assert len({(p.key, p.unit) for p in placed}) == len(placed)
    assert found.bound <= found.price + 1e-6


def on_sheet(placed):
    """As the contract says: mirrored first, then turned about the drawing's origin, then moved."""
    shape = Polygon(flatten(placed.piece.shape.outline))
    if placed.piece.mirrored:
        shape = affinity.scale(shape, -1, 1, origin=(0, 0))
    return affinity.translate(affinity.rotate(shape, placed.turned, origin=(0, 0)), *placed.at)


def test_a_box_is_that_of_the_drawing_mirrored_and_turned():
    plate = next(p for p in build(new_job("rear-receiver")).parts if p.name == "left side plate")
    assert isinstance(plate, Part)
    for mirrored, turned in itertools.product((False, True), repeat=2):
        shape = Polygon(flatten(plate.shape.outline))
        if mirrored:
            shape = affinity.scale(shape, -1, 1, origin=(0, 0))
        want = affinity.rotate(shape, 90 if turned else 0, origin=(0, 0)).bounds
        assert box_of(plate.shape, mirrored, turned) == pytest.approx(want, abs=1e-9)


def test_what_only_the_rack_has_a_sheet_for_is_cut_by_hand_where_the_rack_has_too_few():
    shop = usual()
    long = Plate(rectangle(0.0, 0.0, 2700.0, 300.0), 6.0)
    table = shop.table.model_copy(update={"bed_long_mm": 3200.0, "bed_wide_mm": 1600.0})
    rack = RackSheet(id="s1", stock="plate 6 mm", material="S235", long_mm=3000.0, wide_mm=400.0)
    shop = shop.model_copy(update={"table": table, "sheets": (rack,)})
    pieces = [PlateWanted("1/a|cut plate|", n, "A", long, "plate 6 mm", "S235", False, 6.0) for n in (1, 2)]
    assert nest_sheets(pieces[:1], {"S235": STEEL}, shop).sheets[0].rack == "s1"
    found = nest_sheets(pieces, {"S235": STEEL}, shop)
    assert found.by_hand == ("A",) and not found.sheets


# ---- while it is being cut


def test_after_any_ticks_nothing_is_cut_twice_or_moved_off_a_begun_bar():
    from tests.making.test_plan import entry

    assembly = build(new_job("flat-trailer"))
    steps = plan(assembly)
    log = []
    shuffler = random.Random(7)
    cut = set()
    for n in range(40):
        found = nested(assembly, status(steps, log), log, usual()).bars
        open_ = {c.piece.name for b in found.bars for c in b.cuts}
        assert not open_ & cut
        held = {b.id: set(b.rest) for b in found.bars if b.begun}
        if not open_:
            break
        bar = shuffler.choice(found.bars)
        c = bar.cuts[0]
        kept = {b: rest for b, rest in held.items() if b != bar.id}
        left = bar.length - c.end - usual().saw.kerf_mm
        rest = tuple(x.piece.name for x in bar.cuts[1:])
        log.append(entry(n, c.piece.key, unit=c.piece.unit, bar=bar.id, rest=rest, figures={"left": left}))
        cut.add(c.piece.name)
        after = nested(assembly, status(steps, log), log, usual()).bars
        again = {b.id: set(b.rest) for b in after.bars if b.begun}
        for ident, names in kept.items():
            assert again[ident] == names
        if rest:
            assert again[bar.id] == set(rest)
    assert not open_


def test_steels_are_found_by_name():
    assembly = build(new_job("rear-receiver"))
    assert {p.material.name for p in assembly.parts} == set(steels_of(assembly))
