"""A plate cut to an outline out of a file: its own drawing brings it back as it was, another is judged as it
is, and one that leaves a bolt, a bead or a tab without metal is refused with what it is.
"""

import math
import re
from dataclasses import replace
from types import SimpleNamespace

import numpy as np
import pytest

from urial.families import build, families, new_job
from urial.geometry.outline import area, bounds, flatten, rectangle, rounded_hull
from urial.geometry.shape import Plate
from urial.job import edit
from urial.job.change import OutlineAs, Pick, WindowIn
from urial.measure.outline_file import FINE, moved, traced
from urial.measure.rings import rings_of
from urial.papers.dxf import plate_dxf
from urial.pieces.outlined import alignment, laid, outline_change
from urial.prove.verdict import prove


def flat_plates(name):
    """Of a family's own plates one of each mark that an outline goes on."""
    job = new_job(name)
    found = {}
    for p in build(job).parts:
        if isinstance(p.shape, Plate) and not (p.hardware or p.shape.folds or p.shape.slots):
            found.setdefault(p.mark, p)
    return job, list(found.values())


def cut(job, part, change):
    """The job with a plate cut so, and what is said of it."""
    piece = job.numbered(part.piece)
    made = edit.put(job, f"stack.{part.piece}.changes", (*piece.changes, change))
    built = build(made)
    return made, built, [w for w in built.warnings if w.startswith("Change ")]


@pytest.mark.parametrize("name", sorted(families()))
def test_a_plate_s_own_drawing_brings_it_back(name, tmp_path):
    """Written as the packet writes it, read as a stranger's, laid by its holes."""
    job, plates = flat_plates(name)
    for n, p in enumerate(plates[:4]):
        path = tmp_path / f"{n}.dxf"
        path.write_bytes(plate_dxf(p.shape, ("one",)))
        rings, _ = rings_of("dxf", path)
        change = outline_change(p, traced(rings, FINE, "own"))
        _, built, said = cut(job, p, change)
        if any("own shape" in w for w in said):  # a hook's or a clamp's figures are its family's
            continue
        assert not said, (p.key, said)
        now = built.by_key[p.key].shape
        assert bounds(now.outline) == pytest.approx(bounds(p.shape.outline), abs=0.2)
        assert area(now.outline) == pytest.approx(area(p.shape.outline), rel=5e-3)
        have, want = (sorted(h[:2] for h in s.holes) for s in (now, p.shape))
        assert len(have) == len(want)
        assert all(math.dist(a, b) < 0.5 for a, b in zip(have, want, strict=True))


@pytest.fixture(scope="module")
def receiver():
    job = new_job("rear-receiver")
    parts = build(job).by_key
    return job, parts["1/chain plate"], parts["1/side plate.left"]


def outline(part, rim, holes=(), **more):
    """An outline in the plate's own figures, wherever it lies."""
    x0, y0, x1, y1 = bounds(rim)
    u0, v0, _, _ = bounds(part.shape.outline)
    at = Pick(
        part=part.key.split("/", 1)[1],
        along_mm=max((x0 + x1) / 2 - u0, 0.0),
        across_mm=max((y0 + y1) / 2 - v0, 0.0),
        face="front",
    )
    return OutlineAs(at=at, rim=rim, holes=holes, wide_mm=x1 - x0, **more)


def test_the_same_outline_changes_no_check_and_a_narrower_one_is_judged_as_it_is(receiver):
    """Of the chain plate: metal beside its holes is taken; what the chains pull on is nearer its edge."""
    job, plate, _ = receiver
    before = prove(job)
    made, _, said = cut(job, plate, outline(plate, plate.shape.outline))
    assert not said
    same = {c.id: c.utilisation for c in prove(made).checks}
    assert same == pytest.approx({c.id: c.utilisation for c in before.checks})
    _, v, d = max(plate.shape.holes, key=lambda h: h[1])
    u0, _, u1, v1 = bounds(plate.shape.outline)
    slim = rectangle(u0, -(v + d / 2 + 8.0), u1, v + d / 2 + 8.0, 8.0)
    made, built, said = cut(job, plate, outline(plate, slim))
    assert not said
    assert bounds(built.by_key[plate.key].shape.outline)[3] == pytest.approx(v + d / 2 + 8.0)
    worse = {c.id: c.utilisation for c in prove(made).checks}
    grown = [k for k, x in worse.items() if x > same.get(k, 0.0) * 1.05]
    assert grown and all("chain" in k for k in grown) and v1 > v + d / 2 + 8.0


def test_what_holds_it_keeps_its_metal(receiver):
    job, plate, side = receiver
    u0, v0, u1, v1 = bounds(plate.shape.outline)
    u, v, d = plate.shape.holes[0]
    for rim, holes, said in (
        (
            rectangle(u0, v0, u1 - 20, v1),
            (),
            "runs along an edge|beside|to lie on there",
        ),  # the bead along its rim has no rim
        (rectangle(u0, -(abs(v) + 3), u1, abs(v) + 3), (), "hole of .* would break its edge"),
        (rectangle(u0, v0, u1, v1), ((u, v, d + 6.0),), "lies where"),
        (rectangle(u0, v0, u1, v1), ((u + d, v, d),), "runs into one of its openings"),
        (rectangle(u0, v0, u1, v1), ((u1 - 2, v1 - 2, 20.0),), "breaks its rim"),
    ):
        _, built, found = cut(job, plate, outline(plate, rim, holes))
        assert built.by_key[plate.key].shape == plate.shape
        assert len(found) == 1

        assert re.search(said, found[0]), (said, found)
    no_holes = outline(side, side.shape.outline, own_holes=False)
    _, built, found = cut(job, side, no_holes)
    assert "has no hole for" in found[0] and built.by_key[side.key].shape == side.shape


def test_a_plate_s_own_opening_stays_unless_the_outline_has_it(receiver):
    """A window of 30 × 20 in the chain plate: left as it is, found again as the outline's, or in the way."""
    job, plate, _ = receiver
    u0, v0, u1, v1 = bounds(plate.shape.outline)
    middle = ((u0 + u1) / 2, (v0 + v1) / 2)
    at = Pick(part="chain plate", along_mm=(u1 - u0) / 2, across_mm=(v1 - v0) / 2, face="front")
    windowed = edit.put(job, "stack.1.changes", (WindowIn(at=at, long_mm=20.0, wide_mm=30.0, round_mm=2.0),))
    holed = build(windowed).by_key[plate.key]
    (own,) = holed.shape.windows
    _, built, said = cut(windowed, holed, outline(holed, holed.shape.outline))
    assert not said and built.by_key[plate.key].shape.windows == (own,)
    same = outline(holed, holed.shape.outline).model_copy(update={"windows": (own,)})
    _, built, said = cut(windowed, holed, same)
    assert not said and len(built.by_key[plate.key].shape.windows) == 1
    x, y = middle
    other = rectangle(x - 5, y - 25, x + 5, y + 25)
    _, built, said = cut(windowed, holed, same.model_copy(update={"windows": (other,)}))
    assert "own opening runs into" in said[0] and built.by_key[plate.key].shape.windows == (own,)


def test_an_outline_whose_middle_lies_beyond_the_plate_s_first_edge_is_where_its_holes_say():
    """Four times as long as the plate, away to the left and below: its middle is at −250, −100."""
    drawn = traced([np.array(flatten(rectangle(-700, -320, 200, 120)))], FINE)
    mine = replace(drawn, holes=tuple((u + 250, v + 100, d) for u, v, d in PLATE.holes))
    part = SimpleNamespace(name="plate", key="1/plate", shape=PLATE)
    change = outline_change(part, mine)
    assert (change.at.start, change.at.edge) == ("far", "far")
    rim, holes, _ = laid(change, PLATE)
    assert bounds(rim) == pytest.approx((-700, -320, 200, 120), abs=0.01)
    assert sorted(holes) == [pytest.approx(h, abs=0.01) for h in sorted(PLATE.holes)]


def test_a_pair_is_cut_alike_on_both_sides(receiver):
    job, _, side = receiver
    rim = side.shape.outline
    low = min(v for _, v, _ in rim)
    extra = ((sum(bounds(rim)[::2]) / 2, low + 30.0, 9.0),)
    _, built, said = cut(job, side, outline(side, rim, extra, pair=True))
    assert not said
    left, right = (built.by_key[f"1/side plate.{s}"] for s in ("left", "right"))
    (a,), (b,) = ([h for h in p.shape.holes if h[2] == pytest.approx(9.0)] for p in (left, right))
    one, two = (p.shape.place.point((h[0], h[1], 0.0)) for p, h in ((left, a), (right, b)))
    assert (two[0], two[2]) == pytest.approx((one[0], one[2])) and one[1] * two[1] < 0
    assert area(right.shape.outline) > 0 and area(left.shape.outline) > 0


def test_folded_plates_and_bars_take_no_outline():
    job = new_job("flat-trailer")
    parts = build(job).parts
    bar = next(p for p in parts if not isinstance(p.shape, Plate) and not p.hardware)
    change = OutlineAs(at=Pick(part=bar.key.split("/", 1)[1]), rim=rectangle(0, 0, 50, 50), wide_mm=50.0)
    _, _, said = cut(job, bar, change)
    assert "is no plate" in said[0]
    folded = next(
        (n, p)
        for n in sorted(families())
        for p in build(new_job(n)).parts
        if isinstance(p.shape, Plate) and p.shape.folds and not p.hardware
    )
    change = OutlineAs(
        at=Pick(part=folded[1].key.split("/", 1)[1]), rim=rectangle(0, 0, 50, 50), wide_mm=50.0
    )
    _, _, said = cut(new_job(folded[0]), folded[1], change)
    assert "is folded" in said[0]


PLATE = Plate(rectangle(0, 0, 200, 120, 10), 8.0, holes=((30, 30, 13), (170, 42, 13), (88, 95, 17)))


@pytest.mark.parametrize("turn", [0.0, 37.0, 180.0, -90.0])
@pytest.mark.parametrize("over", [False, True])
@pytest.mark.parametrize("scale", [1.0, 0.37])
def test_holes_say_how_an_outline_lies(turn, over, scale):
    """Turned, turned over and scaled by what is known: it is found again, to a tenth of a degree."""
    drawn = traced([np.array(flatten(PLATE.outline))], FINE)
    mine = replace(drawn, holes=tuple((u - 100, v - 60, d) for u, v, d in PLATE.holes))
    if over:
        mine = replace(mine, holes=tuple((-x, y, d) for x, y, d in mine.holes))
    mine = moved(mine, (0.0, 0.0), math.radians(turn), scale)
    way = alignment(mine.rim, mine.holes, PLATE, scale != 1.0)
    assert way is not None and way.meets == 3
    assert way.over == over and way.scale == pytest.approx(1 / scale, rel=1e-3)
    back = -turn if not over else turn
    assert (way.turn - back + 180) % 360 - 180 == pytest.approx(0.0, abs=0.1)
    assert way.at == pytest.approx((100.0, 60.0), abs=0.1)


def test_a_plate_of_many_holes_is_laid_by_its_outermost_and_soon():
    """Eight rows of nine and one odd hole: 73, turned by 30°."""
    rows = [(20.0 + 25 * i, 20.0 + 25 * j, 9.0) for i in range(9) for j in range(8)]
    holes = (*rows, (232.0, 10.0, 9.0))
    sieve = Plate(rectangle(0, 0, 240, 215), 6.0, holes=holes)
    drawn = traced([np.array(flatten(sieve.outline))], FINE)
    mine = replace(drawn, holes=tuple((u - 120, v - 107.5, d) for u, v, d in holes))
    mine = moved(mine, (0.0, 0.0), math.radians(30), 1.0)
    way = alignment(mine.rim, mine.holes, sieve, False)
    assert way is not None and way.meets == 73 and not way.over
    assert (way.turn + 30 + 180) % 360 - 180 == pytest.approx(0.0, abs=0.1)


def test_holes_that_match_nothing_lay_nothing():
    rim = rounded_hull([(0, 0)], 80)
    assert alignment(rim, [(0, 0, 13), (33, 0, 13)], PLATE, False) is None
    assert alignment(rim, [(0, 0, 13)], PLATE, False) is None
    assert alignment(rim, [(-70, 0, 40), (70, 0, 40)], PLATE, False) is None
