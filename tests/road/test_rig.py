"""Duty and deck are one trailer; what cannot be as it is written is said; what swings is the job's own."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import families, units
from urial.job.duty import Cargo
from urial.job.survey import Block, Drum
from urial.road import deck as decks
from urial.road import rig, swing

JOB = families.new_job("rear-receiver")
BUILT = families.build(JOB)


def loaded(*cargo, **deck):
    return JOB.model_copy(update={"deck": JOB.deck.model_copy(update={"cargo": cargo, **deck})})


def towing(job, kg, tongue):
    return job.model_copy(
        update={"duty": job.duty.model_copy(update={"trailer_mass_kg": kg, "tongue_mass_kg": tongue})}
    )


CRATE = Cargo(name="crate", kg=600.0, front_mm=1100.0, long_mm=1200.0)


def test_a_bare_deck_and_a_part_that_tows_nothing_have_nothing_to_agree_on():
    assert rig.masses(loaded()) is None
    alone = JOB.model_copy(update={"duty": JOB.duty.model_copy(update={"towed": False})})
    assert rig.masses(alone.model_copy(update={"deck": loaded(CRATE).deck})) is None
    assert rig.masses_words(alone) == ""


@given(st.floats(0.9, 1.1), st.floats(-60, 60))
def test_they_agree_within_a_fiftieth_of_the_trailer(share, more):
    job = loaded(CRATE)
    stands = decks.loaded(job.deck)
    duty = (stands.total_kg * share, stands.tongue_kg + more)
    if not 20 < duty[1] < duty[0]:
        return
    found = rig.masses(towing(job, *duty))
    allowed = 0.02 * max(duty[0], stands.total_kg)
    expected = abs(duty[0] - stands.total_kg) <= allowed and abs(more) <= allowed
    assert found is not None and found.agree == expected
    assert bool(rig.masses_words(towing(job, *duty))) != expected


def test_two_different_trailers_are_said_with_all_four_figures():
    job = towing(loaded(CRATE), 2400.0, 240.0)
    stands = decks.loaded(job.deck)
    said = rig.masses_words(job)
    for kg in (2400.0, 240.0, stands.total_kg, stands.tongue_kg):
        assert units.show(kg, "mass", job.units) in said
    assert "one trailer cannot be both" in said


def test_a_trailer_that_stands_in_the_vehicle_cannot_be():
    assert rig.impossible(JOB, BUILT) == ""
    box = [("cool box", (-3000.0, -400.0, 500.0), (-1000.0, 400.0, 900.0))]
    said = rig.impossible(JOB, BUILT, box)
    assert said.startswith("Straight behind the vehicle the trailer's ")
    assert said.endswith("already stands in the cool box; measure the tongue and the trailer's nose again.")


def test_a_load_that_lifts_the_ball_or_is_over_a_rating_cannot_be():
    behind = loaded(Cargo(name="crate", kg=900.0, front_mm=2700.0, long_mm=800.0))
    assert "lifts the ball" in rig.impossible(behind, BUILT)
    heavy = loaded(CRATE.model_copy(update={"kg": 2600.0}))
    said = rig.impossible(heavy, BUILT)
    over = max(x.load_kg - x.rating_kg for x in decks.limits(heavy.deck, decks.loaded(heavy.deck)))
    assert "is over its rating by " in said and over > 0
    alone = heavy.model_copy(update={"duty": heavy.duty.model_copy(update={"towed": False})})
    assert rig.impossible(alone, BUILT) == ""


# ---- the bodies that swing


def boxes(fixed):
    return {name: np.array(body.bounding_box()).reshape(2, 3) for name, body in fixed}


def test_the_vehicles_bodies_stand_where_its_sizes_say():
    fixed, trailer, ball = swing.bodies(JOB, BUILT)
    host, found = JOB.vehicle, boxes(fixed)
    assert ball == BUILT.places["ball"]
    low, high = found["bumper"]
    assert low[0] == pytest.approx(-host.rear_overhang_mm)
    assert high[0] - low[0] == pytest.approx(host.bumper_depth_mm)
    assert (low[2], high[2] - low[2]) == pytest.approx((host.bumper_bottom_mm, host.bumper_height_mm))
    assert found["body"][0][2] == pytest.approx(host.sill_mm) and found["body"][1][2] == pytest.approx(
        host.bed_mm
    )
    nose = next(b for b in trailer if b.name == "nose")
    assert nose.high[0] == pytest.approx(-JOB.deck.front_mm)  # from the ball
    assert nose.high[1] - nose.low[1] == pytest.approx(JOB.running.nose_wide_mm)
    assert {b.name for b in trailer} == {"tongue", "jack", "nose"}


def test_solid_keep_outs_and_what_is_carried_swing_along_and_marks_do_not():
    block = Block(name="step", behind_mm=900.0, height_mm=300.0)
    drum = Drum(name="spare wheel")
    gone = block.model_copy(update={"name": "skin", "fate": "gone"})
    survey = JOB.survey.model_copy(update={"keep_outs": (block, drum, gone)})
    job = JOB.model_copy(update={"survey": survey})
    fixed, _, _ = swing.bodies(job, BUILT, [("can", (-1500.0, 0.0, 700.0), (-1300.0, 200.0, 900.0))])
    names = [name for name, _ in fixed]
    assert names[:3] == ["bumper", "body", "can"] and "step" in names and "spare wheel" in names
    assert "skin" not in names and boxes(fixed)["can"].tolist() == [[-1500, 0, 700], [-1300, 200, 900]]


@pytest.mark.parametrize(
    "axes", [((1.0, 0, 0), (0, 0, 1.0)), ((0, 1.0, 0), (0, 0, 1.0)), ((1.0, 0, 0), (0, 1.0, 0))]
)
def test_shadows_are_as_large_as_the_bodies_seen_so(axes):
    fixed, _, _ = swing.bodies(JOB, BUILT)
    right, up = np.array(axes)
    for (name, body), (same, rings) in zip(fixed, swing.hull_of(fixed, axes), strict=True):
        box = np.array(body.bounding_box()).reshape(2, 3)
        every = np.concatenate(rings)
        for k, way in enumerate((right, up)):
            assert sorted((every[:, k].min(), every[:, k].max())) == pytest.approx(
                sorted(box @ way), abs=1e-6
            )
        assert name == same
