"""Changes to a piece: they stay where they were put when sizes change, or lapse with a reason; they are
judged like what the family made.
"""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from urial import families
from urial.assembly import bodies
from urial.geometry import axis, solids
from urial.geometry import path as paths
from urial.geometry.shape import Cope, Slant
from urial.job import edit
from urial.job.change import BraceTo, GussetIn, HoleIn, NotchIn, OtherSection, Pick
from urial.job.model import Job
from urial.pieces.changes import on_part, pick_at
from urial.shop.parts import parts_list
from urial.strength.verdict import prove

BASE = Pick(part="base plate", along_mm=60.0, across_mm=90.0, face="front")


def changed(name, *changes, **sizes):
    job = families.new_job(name)
    for key, value in sizes.items():
        job = edit.put(job, edit.find_path(job, key), value)
    number = next(p.id for p in job.stack if p.family == name)
    return families.with_marks(edit.put(job, f"stack.{number}.changes", changes))


def part(job, key):
    return families.build(job).by_key[key]


def test_a_hole_in_a_plate_is_cut_weighed_and_judged():
    before, job = families.new_job("winch-base"), changed("winch-base", HoleIn(at=BASE, diameter_mm=30.0))
    plain, holed = part(before, "1/base plate"), part(job, "1/base plate")
    assert len(holed.shape.holes) == len(plain.shape.holes) + 1
    less = math.pi * 15**2 * 10 * 7850e-9
    assert bodies.mass(plain) - bodies.mass(holed) == pytest.approx(less, rel=5e-3)
    row = next(r for r in parts_list(families.build(job)) if r.name == "base plate")
    assert row.mass_kg == pytest.approx(bodies.mass(holed))
    assert prove(job).holds


def test_a_hole_where_a_force_passes_makes_its_bar_weaker():
    job = changed("rack-carrier", folds=False)
    hole = HoleIn(at=Pick(part="shank", along_mm=300.0, start="near", face="+y"), diameter_mm=25.0)
    weak = changed("rack-carrier", hole, folds=False)
    own = {c.id: c.utilisation for c in prove(job).checks}
    now = {c.id: c.utilisation for c in prove(weak).checks}
    assert set(own) < set(now) and any("net" in k for k in set(now) - set(own))


def test_a_row_of_holes_runs_from_the_picked_end_inward():
    at = Pick(part="shelf angle.1", along_mm=40.0, start="far", face="+z")
    job = changed("winch-base", HoleIn(at=at, diameter_mm=7.0, count=4, pitch_mm=25.0))
    bar = part(job, "1/shelf angle.1")
    whole = paths.length(bar.shape.path)
    found = sorted(whole - paths.nearest(bar.shape.path, cut.centre) for cut in bar.shape.cuts)
    assert found == pytest.approx([40.0, 65.0, 90.0, 115.0], abs=0.01)


def test_a_pair_is_the_mirror_image():
    at = Pick(part="gusset.left", along_mm=130.0, across_mm=40.0, face="front")
    a = families.build(changed("winch-base", HoleIn(at=at, diameter_mm=30.0, pair=True)))
    left, right = a.by_key["1/gusset.left"], a.by_key["1/gusset.right"]
    (u, v, _), (s, t, _) = left.shape.holes[-1], right.shape.holes[-1]
    p, q = left.shape.place.point((u, v, 0.0)), right.shape.place.point((s, t, 0.0))
    assert (p[0], p[2]) == pytest.approx((q[0], q[2])) and p[1] == pytest.approx(-q[1], abs=8.1)


def brace():
    return BraceTo(
        at=Pick(part="hoop", along_mm=250.0, face="-y"),
        to=Pick(part="hoop", along_mm=250.0, start="far", face="-y"),
    )


def test_a_brace_between_two_places_is_fitted_welded_marked_and_judged():
    change = BraceTo(
        at=Pick(part="table", along_mm=3.0, across_mm=110.0, face="back"),
        to=Pick(part="base plate", along_mm=10.0, across_mm=200.0, face="front"),
        bar="21.3 odx2.6",
    )
    job = changed("winch-base", change)
    v = prove(job)
    made = v.assembly.by_key["1/added brace.1"]
    assert isinstance(made.shape.end_i, Slant) and isinstance(made.shape.end_j, Slant) and made.mark
    welds = [j for j in v.assembly.joints if "added brace" in j.key]
    assert len(welds) == 2 and {j.a for j in welds} == {"1/table", "1/base plate"}
    assert any(c.id == "1/added brace.1: forces" for c in v.checks)
    assert v.holds and solids.volume(made.shape) > 0


def test_on_a_round_tube_a_brace_is_coped():
    change = BraceTo(
        at=Pick(part="hoop", along_mm=120.0, face="-y"),
        to=Pick(part="brace.left", along_mm=60.0, face="+y"),
        bar="21.3 odx2.6",
    )
    job = changed("front-rail", change)
    made = part(job, "1/added brace.1")
    assert isinstance(made.shape.end_i, Cope) and isinstance(made.shape.end_j, Cope)
    assert prove(job).checks


def test_a_gusset_stands_in_the_corner_with_its_tips_where_they_were_picked():
    change = GussetIn(
        at=Pick(part="base plate", along_mm=190.0, across_mm=200.0, face="front"),
        to=Pick(part="gusset.left", along_mm=130.0, across_mm=60.0, face="front"),
        pair=True,
    )
    job = changed("winch-base", change)
    a = families.build(job)
    made, twin = a.by_key["1/added gusset.1"], a.by_key["1/added gusset.12"]
    us, vs = zip(*[p[:2] for p in made.shape.outline], strict=True)
    base, wall = a.by_key["1/base plate"].shape, a.by_key["1/gusset.left"].shape
    top = base.place.o[2] + base.t
    tip = base.place.point((min(p[0] for p in base.outline) + 190.0, 10.0, base.t))
    assert max(vs) == pytest.approx(60.0) and min(us) == min(vs) == 0.0  # as high as it was picked
    # as far out on the base: 200 mm from its right edge is 10 mm left of the middle, the wall's face 56 mm
    assert max(us) == pytest.approx(abs(wall.place.o[1] - wall.t - tip[1]), abs=8.1)
    low = min(made.shape.place.point((u, v, 0.0))[2] for u, v in zip(us, vs, strict=True))
    assert low == pytest.approx(top, abs=1e-6)
    assert bodies.mass(made) == pytest.approx(bodies.mass(twin))
    v = prove(job)
    assert v.holds and sum("added gusset" in c.id for c in v.checks) >= 6


def test_a_notch_takes_its_rectangle_out_of_the_nearest_edge():
    at = Pick(part="base plate", along_mm=190.0, across_mm=30.0, face="front")
    before = part(families.new_job("winch-base"), "1/base plate")
    job = changed("winch-base", NotchIn(at=at, wide_mm=60.0, round_mm=0.0))
    after = part(job, "1/base plate")
    less = solids.volume(before.shape) - solids.volume(after.shape)
    assert less == pytest.approx(60 * 30 * 10, rel=1e-3)
    assert prove(job).holds


@pytest.mark.parametrize(
    "change, words",
    [
        (NotchIn(at=Pick(part="shelf angle.1")), "is no plate"),
        (NotchIn(at=BASE, wide_mm=3000.0), "in two|into a hole"),
        (NotchIn(at=BASE, wide_mm=20.0, round_mm=15.0), "does not fit a notch"),
        (GussetIn(at=BASE, to=BASE), "tips are on one part"),
        (
            GussetIn(at=BASE, to=Pick(part="table", along_mm=40.0, across_mm=40.0, face="back")),
            "square to each",
        ),
        (HoleIn(at=Pick(part="no such part")), "there is no part called no such part now"),
        (HoleIn(at=BASE.model_copy(update={"along_mm": 1.0})), "breaks the edge"),
        (HoleIn(at=BASE, count=30), "breaks the edge|runs into"),
        (HoleIn(at=BASE, count=2, pitch_mm=5.0), "run into each other"),
        (HoleIn(at=Pick(part="shelf angle.1", along_mm=9000.0)), "mm long now"),
        (HoleIn(at=Pick(part="shelf angle.1", along_mm=90.0), diameter_mm=38.0), "more than three fifths"),
        (OtherSection(at=Pick(part="shelf angle.1"), bar="L 50x50x5"), "is not as large outside"),
        (OtherSection(at=Pick(part="base plate", face="front"), bar="L 50x50x5"), "is no bar"),
        (BraceTo(at=BASE, to=BASE), "both of its ends are on one part"),
    ],
)
def test_what_does_not_fit_is_left_out_named_and_the_rest_goes_on(change, words):
    job = changed("winch-base", change, HoleIn(at=BASE, diameter_mm=9.0))
    a = families.build(job)
    import re

    said = [w for w in a.warnings if w.startswith("Change 1,")]
    assert len(said) == 1 and re.search(words, said[0]) and said[0].endswith(".")
    assert len(a.by_key["1/base plate"].shape.holes) == 5  # four bolts, and the second change


def test_another_wall_keeps_the_outside_and_changes_the_strength():
    thin = prove(families.new_job("winch-base"))
    job = changed("winch-base", OtherSection(at=Pick(part="shelf angle.1"), bar="L 40x40x5", pair=False))
    thick = prove(job)
    use = lambda v: next(c.utilisation for c in v.checks if c.id == "1/shelf angle.1: forces")  # noqa: E731
    assert use(thick) < use(thin)
    assert next(p for p in thick.assembly.parts if p.key == "1/shelf angle.1").stock == "L 40 × 40 × 5"


def test_switched_off_it_is_as_if_it_had_never_been():
    off = HoleIn(at=BASE, on=False)
    assert (
        families.build(changed("winch-base", off)).parts
        == families.build(families.new_job("winch-base")).parts
    )


def test_they_are_kept_in_the_file():
    job = changed("front-rail", brace(), HoleIn(at=Pick(part="brace.left", along_mm=80.0, face="+y")))
    assert Job.model_validate_json(job.model_dump_json()) == job


SIZES = st.fixed_dictionaries(
    {},
    optional={
        "margin_mm": st.floats(25, 90),
        "foot_mm": st.floats(205, 420),
        "rise_mm": st.floats(60, 260),
        "shelf_mm": st.floats(80, 500),
        "lap_mm": st.floats(40, 110),
    },
)


@settings(max_examples=40, deadline=None)
@given(sizes=SIZES, along=st.floats(10, 250), far=st.booleans(), across=st.floats(5, 150))
def test_after_sizes_change_it_is_where_it_was_put_or_it_lapses(sizes, along, far, across):
    start = "far" if far else "near"
    in_bar = HoleIn(at=Pick(part="shelf angle.1", along_mm=along, start=start, face="+z"), diameter_mm=6.0)
    in_plate = HoleIn(
        at=Pick(part="base plate", along_mm=along, start=start, across_mm=across, face="front"),
        diameter_mm=6.0,
    )
    try:
        job = changed("winch-base", in_bar, in_plate, **sizes)
        a = families.build(job)
    except (edit.EditError, families.BuildError):
        return
    lapsed = {w.split(",")[0] for w in a.warnings if w.startswith("Change")}
    bar, plate = a.by_key["1/shelf angle.1"].shape, a.by_key["1/base plate"].shape
    if "Change 1" not in lapsed:
        whole = paths.length(bar.path)
        s = paths.nearest(bar.path, bar.cuts[-1].centre)
        assert (whole - s if far else s) == pytest.approx(along, abs=1e-3)
    else:
        assert not bar.cuts
    if "Change 2" not in lapsed:
        us, vs = [p[0] for p in plate.outline], [p[1] for p in plate.outline]
        u, v, d = plate.holes[-1]
        assert d == 6.0
        assert (max(us) - u if far else u - min(us)) == pytest.approx(along, abs=1e-3)
        assert v - min(vs) == pytest.approx(across, abs=1e-3)
    else:
        assert len(plate.holes) == 4


@pytest.mark.parametrize("name", ["winch-base", "front-rail", "ballast-rack", "flat-trailer"])
def test_a_pick_means_the_place_it_was_taken_from(name):
    a = families.build(families.new_job(name))
    tried = 0
    for p in a.parts:
        if p.hardware or not hasattr(p.shape, "path"):
            continue
        whole = paths.length(p.shape.path)
        for f in (0.2, 0.7):
            here = axis.frame_at(p.shape, f * whole)
            spot = tuple(o + y * p.shape.stock.width / 2 for o, y in zip(here.o, here.y, strict=True))
            found = on_part(p, pick_at(p, spot, here.y))
            assert found.point == pytest.approx(spot, abs=0.3)
            assert found.normal == pytest.approx(here.y, abs=5e-3)
            tried += 1
    assert tried >= 4
