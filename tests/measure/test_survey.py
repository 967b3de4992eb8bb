"""Datum, sides, squaring, forgotten things, sheet order."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import families
from urial.job import datum, edit
from urial.job.host import kinds, starting_host
from urial.job.survey import Answers, Block, Datum, Drum, Fix, Mark, Survey, Swing, TapeTo
from urial.measure import drawing, forgotten, sheet, sides, squaring
from urial.measure.concerns import concerns
from urial.measure.places import fixes, hard_points, places

SHIFT = st.floats(-2000, 2000).map(lambda v: round(v, 1))


def with_survey(job, **fields):
    return job.model_copy(update={"survey": job.survey.model_copy(update=fields)})


@given(SHIFT, SHIFT, SHIFT)
def test_a_datum_move_leaves_every_distance_and_rewrites_every_coordinate(behind, across, height):
    base = with_survey(
        families.new_job("rear-receiver"),
        marks=(Mark(name="hub", across_mm=800, height_mm=380),),
        keep_outs=(Block(),),
    )
    moved = with_survey(
        base, datum=Datum(called="corner", behind_mm=behind, across_mm=across, height_mm=height)
    )
    a, b = places(base), places(moved)
    assert a == b
    for path, by in (
        ("vehicle.left.0.behind_mm", behind),
        ("survey.marks.0.across_mm", across),
        ("vehicle.right.1.height_mm", height),
        ("survey.keep_outs.0.height_mm", height),
    ):
        stored = edit.get(base, path)
        assert float(edit.shown(moved, path).split(" ")[0]) == pytest.approx(stored - by, abs=0.051)
        written = edit.write(moved, path, f"{stored - by:.6f} mm")
        assert edit.get(written, path) == pytest.approx(stored, abs=1e-5)
    # between two holes the tape reads the same from wherever they are written
    first, last = (float(edit.shown(moved, f"vehicle.left.{n}.behind_mm").split(" ")[0]) for n in (0, 2))
    assert last - first == pytest.approx(160, abs=0.11)


def test_a_datum_off_the_centre_is_nearer_to_one_side():
    job = edit.put(
        edit.put(families.new_job("rear-receiver"), "vehicle.left.0.across_mm", 480.0),
        "vehicle.right.0.across_mm",
        480.0,
    )
    job = with_survey(job, datum=Datum(across_mm=100.0))
    assert (
        edit.shown(job, "vehicle.left.0.across_mm") == "380 mm"
        and edit.shown(job, "vehicle.right.0.across_mm") == "580 mm"
    )
    assert datum.is_moved(job) and not datum.is_moved(families.new_job("rear-receiver"))


def test_a_refusal_is_said_in_the_datums_own_terms():
    job = with_survey(families.new_job("rear-receiver"), datum=Datum(height_mm=400.0))
    with pytest.raises(edit.EditError, match="-401 mm cannot be right; it must be between -400 mm"):
        edit.write(job, "vehicle.left.0.height_mm", "-401 mm")


def test_a_hard_point_inside_the_ground_is_refused(job):
    with pytest.raises(edit.EditError, match="Left hole 2, height: -12 mm cannot be right"):
        edit.write(job, "vehicle.left.1.height_mm", "-12 mm")


@pytest.mark.parametrize("kind", list(kinds()))
def test_every_kind_of_host_has_sound_starting_values_a_drawing_and_a_sheet(kind):
    job = families.survey_job(kind)
    assert job.vehicle.kind == kind and not job.has_part
    lines = [line for rows in drawing.outline(job.vehicle).values() for line in rows]
    assert all(line.shape[1] == 3 for line in lines)
    for d in drawing.dimensions(job):  # what is drawn is what is written
        size = abs({"x": d.b[0] - d.a[0], "y": d.b[1] - d.a[1], "z": d.b[2] - d.a[2]}[d.axis])
        assert size == pytest.approx(abs(edit.get(job, d.path)), abs=1e-6), d.name
    boxes = sheet.boxes(job)
    assert [b.number for b in boxes] == list(range(1, len(boxes) + 1)) and len(
        {b.path for b in boxes}
    ) == len(boxes)
    assert boxes[0].path == "vehicle.left.0.behind_mm"
    for b in boxes:
        edit.spec_of(job, b.path)


def test_the_drawing_follows_its_numbers():
    host = starting_host("tractor")
    tall = host.model_copy(update={"frame_top_mm": 2600.0})
    top = lambda h: max(float(line[:, 2].max()) for rows in drawing.outline(h).values() for line in rows)  # noqa: E731
    assert (top(host), top(tall)) == (2150.0, 2600.0)


def test_sides_are_compared_hole_by_hole(job):
    right = tuple(
        h.model_copy(update={"behind_mm": h.behind_mm + 5.0, "across_mm": 483.0}) for h in job.vehicle.right
    )
    found = sides.compare(job.vehicle.model_copy(update={"right": right}))
    assert [r.behind for r in found.rows] == [5.0] * 3 and [r.across for r in found.rows] == [3.0] * 3
    assert found.skew_deg == pytest.approx(math.degrees(math.atan(5 / 963)))
    assert found.beyond_slots and not found.alike and found.slot_mm == 4.0
    near = sides.compare(
        job.vehicle.model_copy(
            update={
                "right": tuple(
                    h.model_copy(update={"behind_mm": h.behind_mm + 3.0}) for h in job.vehicle.right
                )
            }
        )
    )
    assert not near.beyond_slots and not near.alike
    assert sides.compare(job.vehicle).alike


def test_sides_beyond_slots_are_warned_about_with_what_it_does_at_the_ball(job):
    job = edit.put(
        job,
        "vehicle.right",
        tuple(h.model_copy(update={"behind_mm": h.behind_mm + 6.0}) for h in job.vehicle.right),
    )
    said = " ".join(concerns(job, families.build(job)))
    assert "6.0 mm from the mirror" in said and "at the ball" in said


def test_a_squaring_reference_is_worth_its_miss_over_its_length():
    host = starting_host("pickup")
    axle = squaring.worth(host, "axle")
    assert axle.degrees == pytest.approx(math.degrees(math.atan(2 / 1600)))
    assert axle.at_rear_mm == pytest.approx(1180 * 2 / 1600)
    names = [r.id for r in squaring.references(host)]
    assert names[0] == "axle" and set(names) == {"axle", "disc", "rail", "wheel", "bumper"}
    wide = host.model_copy(update={"track_mm": 2 * host.track_mm})
    assert squaring.worth(wide, "axle").degrees == pytest.approx(axle.degrees / 2, rel=1e-3)


# ---- what people forget


def states(job, assembly=None):
    return {i.id: i.state for i in forgotten.forgotten(job, assembly)}


def test_everything_is_open_until_measured_and_blocks_nothing(job, verdict):
    assert set(states(job, verdict.assembly).values()) == {"open"}
    assert verdict.holds and not any("forget" in w for w in verdict.warnings)


def test_answers_are_measurements_that_are_held_against_the_part(job):
    assembly = families.build(job)
    reached = {
        side: tuple(h.model_copy(update={"reach": "both"}) for h in getattr(job.vehicle, side))
        for side in ("left", "right")
    }
    job = job.with_vehicle(job.vehicle.model_copy(update=reached))
    at = hard_points(job.vehicle)
    good = Answers(
        bar_mouth_to_pin_mm=63.5,
        pin_room_mm=300,
        nut_room_mm=60,
        second_side_mm=math.dist(at["L1"], at["R3"]),
        empty_mm=500,
        loaded_mm=500 - 9 * 1.9,
        usable_mm=0,
        swing_mm=0,
    )
    assert set(states(with_survey(job, answers=good), assembly).values()) == {"good"}
    for name, value, which in (
        ("bar_mouth_to_pin_mm", 66.0, "mouth to pin"),
        ("pin_room_mm", 60.0, "pin room"),
        ("nut_room_mm", 12.0, "nuts"),
        ("second_side_mm", good.second_side_mm + 20, "second side"),
        ("loaded_mm", 440.0, "heights"),
        ("usable_mm", 100.0, "usable"),
        ("swing_mm", 400.0, "swings"),
    ):
        bad = states(with_survey(job, answers=good.model_copy(update={name: value})), assembly)
        assert bad.pop(which) == "mind" and set(bad.values()) == {"good"}, name


def test_the_measured_squat_is_the_two_heights_over_the_load(job):
    job = with_survey(job, answers=Answers(empty_mm=500, loaded_mm=481))
    assert forgotten.squat_per_100kg(job) == pytest.approx(19 / 190 * 100)


def test_a_nut_nobody_can_hold_and_a_kept_hook_are_minded(job):
    left = (
        job.vehicle.left[0].model_copy(update={"reach": "outside", "keeps": "tow hook"}),
        *(h.model_copy(update={"reach": "both"}) for h in job.vehicle.left[1:]),
    )
    right = tuple(h.model_copy(update={"reach": "both"}) for h in job.vehicle.right)
    job = job.with_vehicle(job.vehicle.model_copy(update={"left": left, "right": right}))
    items = {
        i.id: i for i in forgotten.forgotten(with_survey(job, answers=Answers(nut_room_mm=60, usable_mm=80)))
    }
    assert items["nuts"].state == "mind" and "left 1" in items["nuts"].words
    assert items["usable"].state == "mind" and "tow hook" in items["usable"].words


def test_a_drawn_swing_answers_what_swings(job):
    swing = with_survey(job, answers=Answers(swing_mm=400), keep_outs=(Swing(),))
    assert states(swing)["swings"] == "good"


# ---- fixes


def test_a_fix_is_found_from_marks_and_holes_by_name(job):
    target = (-1290.0, 40.0, 380.0)
    job = with_survey(job, marks=(Mark(name="hub", behind_mm=0, across_mm=800, height_mm=380),))
    known = places(job)
    fix = Fix(
        name="P",
        towards="rear",
        tapes=tuple(
            TapeTo(start=n, length_mm=math.dist(known[n], target)) for n in ("hub", "L1", "R1", "L3")
        ),
    )
    job = with_survey(
        job, fixes=(fix, Fix(name="Q", tapes=(*fix.tapes[:2], TapeTo(start="nowhere", length_mm=9))))
    )
    assert places(job)["P"] == pytest.approx(target, abs=0.01)
    assert "nowhere" in fixes(job.vehicle, job.survey)[1].problem
    assert any("Fix Q" in w for w in concerns(job, families.build(job)))


def test_keep_outs_of_a_survey_without_a_part_still_make_sense():
    job = families.survey_job("quad")
    assert concerns(with_survey(job, keep_outs=(Drum(),)), families_empty(job)) == ()


def families_empty(job):
    from urial.prove.verdict import unproved

    return unproved(job).assembly


def test_a_survey_replaces_nothing_it_does_not_name():
    assert Survey().model_dump() == Survey.model_validate(Survey().model_dump()).model_dump()
