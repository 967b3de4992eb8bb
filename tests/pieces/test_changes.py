"""Changes to a piece: they stay where they were put when sizes change, or lapse with a reason; they are
judged like what the family made.
"""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import LineString, Point, Polygon, unary_union

from urial import families
from urial.assembly import bodies, facts
from urial.geometry import axis, flat, solids
from urial.geometry import path as paths
from urial.geometry.outline import bounds, flatten, rectangle
from urial.geometry.place import dot, minus, norm
from urial.geometry.shape import Cope, Plate, Slant
from urial.geometry.slotted import slot_rows
from urial.job import edit
from urial.job.change import (
    BendIn,
    BevelOn,
    BraceTo,
    DoublerOn,
    GussetIn,
    HoleIn,
    NotchIn,
    OtherSection,
    Pick,
    PlateOn,
    SocketAt,
    TabIn,
    WindowIn,
)
from urial.job.model import Job
from urial.making.parts import parts_list
from urial.making.welds import weld_plan
from urial.papers.dxf import plate_drawing
from urial.pieces.changes import on_part, pick_at
from urial.prove.verdict import prove
from urial.strength.checks import nets

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


# ---- openings, bends, tabs, plates, doublers, places moved

MIDDLE = Pick(part="base plate", along_mm=190.0, across_mm=200.0, face="front")


def test_a_cut_out_is_cut_weighed_drawn_and_judged():
    before = part(families.new_job("winch-base"), "1/base plate")
    job = changed("winch-base", WindowIn(at=MIDDLE, long_mm=80.0, wide_mm=50.0, round_mm=10.0))
    after = part(job, "1/base plate")
    gone = 80 * 50 - (4 - math.pi) * 10**2
    assert flat.flat_area(before.shape) - flat.flat_area(after.shape) == pytest.approx(gone, rel=1e-4)
    assert solids.volume(before.shape) - solids.volume(after.shape) == pytest.approx(10 * gone, rel=2e-3)
    drawing = plate_drawing(after.shape, ["A"])
    rings = [e for e in drawing.modelspace().query("LWPOLYLINE") if e.dxf.layer == "HOLES"]
    assert len(rings) == 1 and rings[0].closed
    v = prove(job)
    assert any(c.id == "1/base plate: window 1" and c.utilisation > 0 for c in v.checks)


def test_what_is_left_beside_an_opening_is_what_shapely_leaves():
    shape = Plate(
        rectangle(0, 0, 200, 100),
        8.0,
        holes=((60.0, 20.0, 14.0),),
        windows=(rectangle(80, 35, 140, 60, 8), rectangle(80, 70, 110, 85)),
    )
    figure = Polygon(flatten(shape.outline, 0.02)).difference(
        unary_union([Polygon(flatten(o, 0.02)) for o in shape.windows])
    )
    for u in np.linspace(1, 199, 41):
        line = LineString([(u, -10), (u, 110)]).intersection(figure)
        gaps = facts.window_gaps(shape.windows, (float(u), 0.0), (0.0, 1.0))
        left = facts.pieces_outside(0.0, 100.0, [facts.Span(*g) for g in gaps])
        assert sum(b - a for a, b in left) == pytest.approx(line.length, abs=0.12)
    corners = facts.metal_edges(shape)
    points = np.random.default_rng(3).uniform((-10, -10), (210, 110), (300, 2))
    inside = [figure.contains(Point(p)) for p in points]
    assert list(facts.within(corners, points)) == inside
    near = [figure.boundary.distance(Point(p)) for p in points]
    assert facts.clearance(corners, points) == pytest.approx(near, abs=0.05)


def test_legs_beside_an_opening_rack_as_two_columns_fixed_at_both_ends():
    # each of two like legs 20 wide, 60 long, 8 thick takes half of V and bends by V/2 · L/2 at its ends
    stress = nets._racking(((-30.0, -10.0), (10.0, 30.0)), 60.0, 8.0)
    assert stress == pytest.approx(0.5 * 30 / (8 * 20**2 / 6))


def test_a_longer_opening_is_never_stronger():
    last = 0.0
    for size in (40.0, 80.0, 120.0, 160.0):
        v = prove(changed("winch-base", WindowIn(at=MIDDLE, long_mm=size, wide_mm=60.0)))
        use = next(c.utilisation for c in v.checks if c.id == "1/base plate: window 1")
        assert use >= last - 1e-9
        last = use


def test_a_bent_bar_is_cut_as_long_as_before_and_bends_to_the_picked_face():
    plain = part(changed("rack-carrier"), "2/arm.1").shape
    for start in ("near", "far"):
        at = Pick(part="arm.1", along_mm=25.0, start=start, face="+z")
        a = families.build(changed("rack-carrier", BendIn(at=at, angle_deg=20.0, inside_mm=40.0)))
        assert not [w for w in a.warnings if w.startswith("Change")], a.warnings
        bent = a.by_key["2/arm.1"].shape
        assert flat.cut_length(bent) == pytest.approx(flat.cut_length(plain), abs=0.01)
        assert solids.volume(bent) == pytest.approx(solids.volume(plain), rel=2e-2)
        s = 0.0 if start == "near" else paths.length(bent.path)
        up = minus(paths.at(bent.path, s)[0], paths.at(plain.path, s)[0])
        normal = axis.frame_at(plain, s).z
        assert dot(up, normal) > 4.0  # towards the face that was picked
        # what lies before the bend has not moved, nor turned about itself
        other = paths.length(bent.path) - s
        was, now = axis.frame_at(plain, other), axis.frame_at(bent, other)
        assert now.o == pytest.approx(was.o) and now.z == pytest.approx(was.z, abs=1e-9)


def test_a_tube_bent_by_slots_is_cut_as_long_as_before_and_its_slots_are_in_the_plan():
    plain = part(changed("rack-carrier"), "2/arm.1").shape
    at = Pick(part="arm.1", along_mm=60.0, start="near", face="+z")
    bend = BendIn(at=at, angle_deg=12.0, inside_mm=115.0, slots_mm=3.0, left_mm=5.0)
    v = prove(changed("rack-carrier", bend))
    assert not [w for w in v.warnings if w.startswith("Change")], v.warnings
    made = v.assembly.by_key["2/arm.1"].shape
    assert made.slots.deep == pytest.approx(made.stock.height - 5.0)
    assert flat.cut_length(made) == pytest.approx(flat.cut_length(plain), abs=0.01)
    (row,) = slot_rows(made)
    assert row.count * 2 * math.atan(3.0 / (2 * made.slots.deep)) >= math.radians(12.0) - 1e-9
    assert [r.what for r in weld_plan(v.assembly) if r.kind == "butt"] == ["slots of bend 1 closed"]
    tight = changed("rack-carrier", bend.model_copy(update={"inside_mm": 30.0, "angle_deg": 40.0}))
    (words,) = [w for w in families.build(tight).warnings if w.startswith("Change")]
    assert "between them" in words or "too short" in words
    hinge = changed("rack-carrier", bend.model_copy(update={"left_mm": 1.0}))
    (words,) = [w for w in families.build(hinge).warnings if w.startswith("Change")]
    assert "cut its outer wall" in words


def test_a_bar_that_carries_something_there_is_not_bent_away():
    at = Pick(part="beam", along_mm=90.0, start="near", face="-z")
    a = families.build(changed("rack-carrier", BendIn(at=at, angle_deg=30.0, inside_mm=60.0)))
    (said,) = [w for w in a.warnings if w.startswith("Change")]
    assert "front pin" in said and "would bend" in said


def test_a_folded_rim_keeps_its_blank_and_turns_up():
    at = Pick(part="plate", along_mm=250.0, across_mm=60.0, edge="far", face="back")
    sizes = {"rim_mm": 0.0, "high_mm": 320.0}
    plain = part(changed("flat-carrier", **sizes), "2/plate").shape
    change = BendIn(at=at, angle_deg=90.0, inside_mm=10.0)
    a = families.build(changed("flat-carrier", change, **sizes))
    assert not [w for w in a.warnings if w.startswith("Change")], a.warnings
    made = a.by_key["2/plate"].shape
    assert len(made.folds) == 1 and flat.flat_area(made) == pytest.approx(flat.flat_area(plain))
    assert solids.volume(made) == pytest.approx(solids.volume(plain), rel=2e-2)
    box, was = solids.solid(made).bounding_box(), solids.solid(plain).bounding_box()
    grown = [(box[k + 3] - box[k]) - (was[k + 3] - was[k]) for k in range(3)]
    assert max(grown) > 25 and min(grown) < -40  # it stands out and is less high
    assert len([e for e in plate_drawing(made, ["A"]).modelspace() if e.dxf.layer == "FOLD"]) == 2
    assert prove(changed("flat-carrier", change, **sizes)).checks


def test_a_tab_goes_through_its_slot_and_meets_nothing():
    at = Pick(part="gusset.left", along_mm=130.0, across_mm=20.0, face="front")
    job = changed("winch-base", TabIn(at=at, to=BASE, wide_mm=30.0, clear_mm=0.4, pair=True))
    a = families.build(job)
    assert not [w for w in a.warnings if w.startswith("Change")], a.warnings
    for side in ("left", "right"):
        gusset, base = a.by_key[f"1/gusset.{side}"], a.by_key["1/base plate"]
        low = min(gusset.shape.place.point((u, v, 0.0))[2] for u, v, _ in gusset.shape.outline)
        assert low == pytest.approx(base.shape.place.o[2])  # through to the other face
        assert (solids.solid(gusset.shape) ^ solids.solid(base.shape)).volume() < 1.0
    assert len(base.shape.slots) == 2
    (slot, _) = base.shape.slots
    u0, v0, u1, v1 = bounds(slot)
    t = gusset.shape.t
    assert sorted((u1 - u0, v1 - v0)) == pytest.approx(sorted((t + 0.8, 30.8)))
    plain = {c.id: c.utilisation for c in prove(families.new_job("winch-base")).checks}
    now = {c.id: c.utilisation for c in prove(job).checks}
    welds = [k for k in plain if "beads" in k and "gusset" in k]
    assert welds and all(now[k] == pytest.approx(plain[k], rel=0.05) for k in welds)  # the beads stay


def pulled(*changes, **sizes):
    return changed("recovery-point", *changes, **sizes)


EYE = "1/ring.left: eye"


def eye(job, key=EYE):
    return next(c for c in prove(job).checks if c.id == key)


def beside_eye(job):
    """A place on the outer face of the left plate, 25 mm from its eye."""
    p = part(job, "1/recovery plate.left")
    u, v, _ = p.shape.holes[-1]
    out = p.shape.t if p.shape.place.z[1] > 0 else 0.0
    normal = tuple(x * (1 if out else -1) for x in p.shape.place.z)
    return pick_at(p, p.shape.place.point((u, v + 25.0, out)), normal)


def test_a_doubler_adds_its_metal_and_no_more_than_its_weld_brings():
    plain = pulled(metal_mm=45.0)
    at = beside_eye(plain)
    own = eye(plain)
    thick = eye(pulled(DoublerOn(at=at, plate="6 mm", size_mm=60.0, weld_mm=6.0), metal_mm=45.0))
    assert thick.available > own.available
    # by hand, bearing: 1.8 Fy d t / 2.00 of the 6 mm doubler, S235, on the shackle's pin
    pin = families.new_job("recovery-point").stack[0].values.pin_mm
    most = 1.8 * 235 * pin * 6 / 2
    assert thick.available - own.available <= most * 1.0001
    thin = eye(pulled(DoublerOn(at=at, plate="6 mm", size_mm=60.0, weld_mm=2.0), metal_mm=45.0))
    fexx = 482.0
    beads = 4 * 60 * 0.6 * 0.7071 * 2.0 * fexx / 2
    assert thin.available - own.available == pytest.approx(
        min(beads, thick.available - own.available), rel=1e-3
    )
    assert any(line.what == "doubler" for line in thick.working())


def test_walls_of_a_receiver_are_doubled_by_two_and_not_by_one():
    at = None
    a = families.build(families.new_job("rear-receiver"))
    tube = a.by_key["1/receiver"]
    cut = next(c for c in tube.shape.cuts if abs(c.axis[1]) > 0.9)
    at = pick_at(tube, (cut.centre[0] + 20, tube.shape.stock.width / 2, cut.centre[2]), (0.0, 1.0, 0.0))
    size = 45.0

    def use(pair):
        v = prove(changed("rear-receiver", DoublerOn(at=at, size_mm=size, plate="6 mm", pair=pair)))
        assert not [w for w in v.assembly.warnings if w.startswith("Change")], v.assembly.warnings
        return next(c.available for c in v.checks if c.id.endswith("bearing on receiver"))

    plain = prove(families.new_job("rear-receiver"))
    own = next(c.available for c in plain.checks if c.id.endswith("bearing on receiver"))
    assert use(False) == pytest.approx(own) and use(True) > 1.5 * own


def test_a_plate_stood_on_a_face_takes_a_shackle_and_is_pulled():
    at = Pick(part="recovery plate.left", along_mm=45.0, across_mm=45.0, face="back")
    for face in ("front", "back"):
        job = pulled(
            PlateOn(at=at.model_copy(update={"face": face}), hole_mm=24.0, pin_mm=19.0, long_mm=40.0)
        )
        v = prove(job)
        if not any(w.startswith("Change") for w in v.assembly.warnings):
            break
    assert "1/added ring.1" in v.assembly.socket_by_key
    assert any(c.id == "1/added ring.1: eye" and c.utilisation > 0 for c in v.checks)
    assert any("added plate weld" in c.id and c.utilisation > 0 for c in v.checks)
    made = v.assembly.by_key["1/added plate.1"]
    assert made.mark and next(r for r in parts_list(v.assembly) if r.mark == made.mark).mass_kg > 0


def test_a_moved_place_moves_its_load():
    job = changed("flat-carrier")
    a = families.build(job)
    socket = a.socket_by_key["2/deck.left"]
    here = part(job, socket.part.split(".")[0] if socket.part not in a.by_key else socket.part)
    u, v, w = here.flat_place.local(socket.place.o)
    far = here.flat_place.point((u * 1.2, v, w))
    turned = here.place.inverse()
    at = pick_at(
        here,
        turned.point(far),
        here.shape.place.z if w > here.shape.t / 2 else tuple(-x for x in here.shape.place.z),
    )
    b = families.build(changed("flat-carrier", SocketAt(at=at, socket="deck.left")))
    assert not [w for w in b.warnings if w.startswith("Change")], b.warnings
    assert norm(minus(b.socket_by_key["2/deck.left"].place.o, far)) < here.shape.t + 1.0
    assert b.socket_by_key["2/deck.right"].place.o == a.socket_by_key["2/deck.right"].place.o


@pytest.mark.parametrize(
    "change, words",
    [
        (WindowIn(at=MIDDLE, long_mm=900.0), "breaks the edge"),
        (WindowIn(at=MIDDLE, wide_mm=10.0, round_mm=8.0), "does not fit an opening"),
        (WindowIn(at=MIDDLE, count=2, pitch_mm=20.0), "run into each other"),
        (WindowIn(at=Pick(part="shelf angle.1")), "is no plate"),
        (BendIn(at=MIDDLE), "on the rim that would bend|too short"),
        (BendIn(at=Pick(part="shelf angle.1", along_mm=60.0), inside_mm=1.0), "less than half"),
        (BendIn(at=Pick(part="shelf angle.1", along_mm=60.0, start="far"), inside_mm=90.0), "would bend"),
        (TabIn(at=BASE, to=BASE), "two plates"),
        (
            TabIn(at=Pick(part="table", along_mm=40.0, across_mm=40.0, face="back"), to=BASE),
            "not stand square",
        ),
        (PlateOn(at=MIDDLE, hole_mm=58.0), "does not fit a plate"),
        (PlateOn(at=MIDDLE, hole_mm=12.0, pin_mm=16.0), "does not fit a plate"),
        (PlateOn(at=MIDDLE, long_mm=2000.0), "over the edge"),
        (
            PlateOn(at=Pick(part="shelf angle.1", along_mm=60.0, face="+z"), turned=True),
            "wider than the flat",
        ),
        (DoublerOn(at=MIDDLE, size_mm=20.0), "no hole|too little"),
        (
            DoublerOn(at=BASE.model_copy(update={"along_mm": 30.0, "across_mm": 30.0}), size_mm=200.0),
            "over the edge",
        ),
        (SocketAt(at=MIDDLE, socket="no such"), "no place called no such"),
    ],
)
def test_what_else_does_not_fit_is_left_out_and_named(change, words):
    import re

    a = families.build(changed("winch-base", change, HoleIn(at=BASE, diameter_mm=9.0)))
    said = [w for w in a.warnings if w.startswith("Change 1,")]
    assert len(said) == 1 and re.search(words, said[0]) and said[0].endswith("."), said
    assert len(a.by_key["1/base plate"].shape.holes) == 5
    assert not [k for k in (*a.by_key, *a.joint_by_key) if "added" in k or "doubler" in k]


# ---- a weld fused through


def test_a_weld_is_bevelled_and_its_root_is_gone_or_its_throat_as_thick_as_the_metal():
    """The bar's end on a 31.75 mm plate, 8 mm fillets: from both sides no root is left; from one the throat
    is all of that and the fillet on it (J2.1), and the root stays.
    """
    job = edit.put(families.new_job("ball-mount"), "stack.2.bar_edge", "square")
    at = Pick(part="bar", along_mm=2.0, face="+z")

    def with_(**more):
        return prove(edit.put(job, "stack.2.changes", (BevelOn(at=at, **more),)))

    root = {"id": "2/bar weld: root"}["id"]
    square = next(c for c in prove(job).checks if c.id == root)
    assert not [c for c in with_().checks if c.id == root]
    one = with_(sides="one")
    left = next(c for c in one.checks if c.id == root)
    thicker = math.hypot(31.75, 8.0) / (8 * math.sqrt(0.5))
    assert left.utilisation == pytest.approx(square.utilisation / thicker, rel=0.01)
    assert not one.assembly.joint_by_key["2/bar weld"].how.through


@pytest.mark.parametrize(
    ("family", "pick", "words"),
    [
        ("ball-mount", Pick(part="bar", along_mm=150.0, face="+z"), "no weld"),
        ("rear-receiver", Pick(part="receiver", along_mm=130.0, face="+z"), "round corners"),
    ],
)
def test_what_is_no_edge_is_not_bevelled(family, pick, words):
    job = families.new_job(family)
    number = next(p.id for p in job.stack if p.family == family)
    a = families.build(edit.put(job, f"stack.{number}.changes", (BevelOn(at=pick),)))
    assert any("does not fit" in w and words in w for w in a.warnings), a.warnings


def test_the_trade_would_bevel_a_weak_root():
    from urial.prove.trade import ways

    job = edit.put(families.new_job("ball-mount"), "stack.2.bar_edge", "square")
    job = edit.put(job, "stack.2.weld_mm", 6.0)
    now = prove(job)
    check = next(c for c in now.checks if c.id == "2/bar weld: root")
    assert check.short
    found = [w.words for w in ways(job, now, check)]
    assert any("fused through" in w for w in found), found
