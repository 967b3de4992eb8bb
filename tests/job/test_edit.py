import pytest

from urial.job import edit
from urial.job.edit import EditError


def test_any_field_takes_either_unit(job):
    assert edit.write(job, "stack.1.drop_mm", '5"').piece("rear-receiver").values.drop_mm == 127
    inch = edit.put(job, "units", "inch")
    assert edit.write(inch, "stack.1.drop_mm", "5").piece("rear-receiver").values.drop_mm == 127
    assert edit.write(inch, "stack.1.drop_mm", "130 mm").piece("rear-receiver").values.drop_mm == 130
    assert edit.write(job, "duty.trailer_mass_kg", "2000 lb").duty.trailer_mass_kg == pytest.approx(
        907.185, rel=1e-5
    )


def test_rows_of_the_hole_lists_are_edited_by_number(job):
    new = edit.write(job, "vehicle.right.1.height_mm", "610 mm")
    assert new.vehicle.right[1].height_mm == 610 and job.vehicle.right[1].height_mm == 607
    assert edit.change_name(new, "vehicle.right.1.height_mm") == "right hole 2, height 610 mm"


@pytest.mark.parametrize(
    ("path", "text", "says"),
    [
        ("stack.1.drop_mm", "lots", "Drop: “lots” is not a length"),
        ("stack.1.drop_mm", "12 kg", "not a length"),
        ("stack.1.receiver_length_mm", "-3 in", "Receiver length: .* cannot be right; it must be between"),
        ("stack.1.receiver_length_mm", "40 m", "must be between"),
        ("duty.trailer_mass_kg", "3 mm", "not a mass"),
        ("duty.tongue_mass_kg", "0", "Tongue weight: 0.kg cannot be right"),
        ("duty.tongue_mass_kg", "3000 kg", "whole trailer"),
        ("stack.1.cross_tube", "7x7x7", "No bar called"),
        ("stack.1.plate_material", "unobtainium", "No material called"),
        ("stack.1.mount", "beside", "not one of"),
        ("stack.1.plug_bracket", "maybe", "neither yes nor no"),
        ("proof.factor_of_safety", "0.5", "must be between"),
        ("duty.articulation_deg", "right angle", "not an? angle"),
    ],
)
def test_wrong_text_is_refused_with_a_reason(job, path, text, says):
    with pytest.raises(EditError, match=says):
        edit.write(job, path, text)


def test_keys_are_found_by_their_last_name(job):
    assert edit.find_path(job, "drop") == "stack.1.drop_mm" == edit.find_path(job, "design.drop_mm")
    assert edit.find_path(job, "design.ball_mount.pin_to_ball_mm") == "stack.2.pin_to_ball_mm"
    assert edit.find_path(job, "trailer_mass") == "duty.trailer_mass_kg"
    assert edit.find_path(job, "stack.1.cross_tube") == "stack.1.cross_tube"
    assert edit.find_path(job, "pin-to-ball") == "stack.2.pin_to_ball_mm"
    with pytest.raises(EditError, match="nearest"):
        edit.find_path(job, "trailer_mess")


def test_every_field_shows_and_reads_back_its_own_value(job):
    for units in ("inch", "metric"):
        here = edit.put(job, "units", units)
        for path in edit.all_specs(here):
            shown = edit.shown(here, path)
            again = edit.write(here, path, shown)
            assert edit.shown(again, path) == shown, path


def test_a_value_not_measured_yet_is_empty_and_can_be_emptied_again(job):
    assert edit.shown(job, "survey.answers.pin_room_mm") == ""
    told = edit.write(job, "survey.answers.pin_room_mm", '7 1/2"')
    assert told.survey.answers.pin_room_mm == pytest.approx(190.5)
    assert edit.write(told, "survey.answers.pin_room_mm", " ").survey.answers.pin_room_mm is None
    assert edit.change_name(job, "survey.answers.pin_room_mm").endswith("not measured")
    with pytest.raises(EditError, match="must be between"):
        edit.write(job, "survey.answers.pin_room_mm", "-3")


def test_another_kind_of_host_drops_only_a_part_that_does_not_fit(job):
    van, quad = edit.with_host(job, "van"), edit.with_host(job, "quad")
    assert van.stack == job.stack and van.vehicle.kind == "van"
    assert not quad.has_part and quad.duty == job.duty


def test_rows_of_survey_lists_are_edited_by_number_and_named(job):
    from urial.job.survey import Mark, Survey

    job = job.model_copy(update={"survey": Survey(marks=(Mark(name="hub"),))})
    new = edit.write(job, "survey.marks.0.height_mm", "15 in")
    assert new.survey.marks[0].height_mm == pytest.approx(381)
    assert edit.spec_of(job, "survey.marks.0.height_mm").title == "mark hub, height"
    with pytest.raises(EditError, match="no field called"):
        edit.spec_of(job, "survey.marks.3.height_mm")
    with pytest.raises(EditError, match="There is no row 3"):
        edit.put(job, "survey.marks.3.height_mm", 1.0)


def test_every_field_has_a_title_and_a_known_kind(job):
    for path, spec in edit.all_specs(job).items():
        assert spec.title and "_" not in spec.title, path
        assert spec.kind in (
            "length",
            "mass",
            "angle",
            "number",
            "percent",
            "speed",
            "distance",
            "stock",
            "choice",
            "text",
        )
