"""Answers to what people forget count when it is put together."""

import pytest

from urial import families
from urial.fit import fit
from urial.job import edit

REAR = families.new_job("rear-receiver")


def asked(job):
    return {f.id: f for f in fit(job, moves=False).findings if f.id.startswith("asked ")}


def test_nothing_is_held_against_a_part_before_it_is_answered():
    assert asked(REAR) == {}


@pytest.mark.parametrize(
    "path, bad, good, ident, kind",
    [
        ("survey.answers.pin_room_mm", 10.0, 400.0, "asked pin room", "access"),
        ("survey.answers.bar_mouth_to_pin_mm", 40.0, 63.5, "asked mouth to pin", "hole"),
        ("survey.answers.swing_mm", 800.0, 0.0, "asked swings", "clash"),
    ],
)
def test_an_answer_against_the_part_is_a_finding_and_a_good_one_is_none(path, bad, good, ident, kind):
    found = asked(edit.put(REAR, path, bad))
    assert set(found) == {ident} and found[ident].kind == kind and found[ident].remedy
    assert asked(edit.put(REAR, path, good)) == {}


def test_a_sentence_with_a_length_has_its_amount():
    """The bar's hole at 40, the receiver's at 63.5: 23.5 off; 20 mm behind the holes lack 10 of 30."""
    (missed,) = asked(edit.put(REAR, "survey.answers.bar_mouth_to_pin_mm", 40.0)).values()
    assert missed.amount == pytest.approx(23.5)
    (narrow,) = asked(edit.put(REAR, "survey.answers.pin_room_mm", 10.0)).values()
    wider = asked(edit.put(REAR, "survey.answers.pin_room_mm", 30.0))["asked pin room"]
    assert narrow.amount - wider.amount == pytest.approx(20.0)
    job = edit.put(REAR, "survey.answers.nut_room_mm", 20.0)
    for side in ("left", "right"):
        for n in range(3):
            job = edit.put(job, f"vehicle.{side}.{n}.reach", "both")
    assert asked(job)["asked nuts"].amount == pytest.approx(10.0)


def test_the_pin_of_every_receiver_is_asked_for():
    """A bumper's bore as well as a rear receiver's."""
    job = edit.put(families.new_job("bumper-receiver"), "survey.answers.bar_mouth_to_pin_mm", 40.0)
    assert "asked mouth to pin" in asked(job)


def test_too_little_room_behind_the_holes_is_said_once_and_a_blind_hole_by_itself():
    job = edit.put(REAR, "survey.answers.nut_room_mm", 60.0)
    for side in ("left", "right"):
        for n in range(3):
            job = edit.put(job, f"vehicle.{side}.{n}.reach", "both")
    assert asked(job) == {}
    (narrow,) = asked(edit.put(job, "survey.answers.nut_room_mm", 20.0)).values()
    assert narrow.id == "asked nuts" and "too little" in narrow.words
    blind = edit.put(job, "vehicle.left.1.reach", "outside")
    assert asked(blind) == {}
    (hand,) = [f for f in fit(blind, moves=False).findings if f.id.startswith("bolt hand")]
    assert hand.kind == "access"
