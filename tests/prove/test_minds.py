"""What is to be minded, by what somebody does about it."""

from urial import families
from urial.job import edit
from urial.prove.minds import GROUPS, Mind, spoken_of
from urial.prove.verdict import prove


def test_what_nobody_judges_stands_first_and_notes_last_each_once():
    v = prove(families.new_job("flat-trailer"))
    kinds = [m.do for m in v.minds]
    assert kinds == sorted(kinds, key=list(GROUPS).index) and kinds[0] == "judge"
    assert len(set(v.minds)) == len(v.minds) == len(v.warnings)
    first = v.minds[0]
    assert (
        first.each == tuple(dict.fromkeys(u.what for u in v.unchecked))
        and str(len(v.unchecked)) in first.words
    )


def test_how_warm_to_weld_is_a_note_for_its_step_and_a_short_bead_is_a_size():
    v = prove(families.new_job("ball-mount"))
    by = {m.words.split(" ")[0]: m for m in v.minds}
    assert by["Welding"].do == "weld" and by["Welding"].note
    changed = edit.put(v.job, "duty.factors", {"brake/along": 0.5})
    (noted,) = [m for m in prove(changed).minds if m.do == "note"]
    assert "differ from the policy" in noted.words and noted.note
    assert not Mind("change", "x").note


def test_a_row_knows_the_part_it_speaks_of_by_its_longest_name():
    parts = families.build(families.new_job("ball-mount")).parts
    assert spoken_of("The ball plate is thin.", parts).name == "ball plate"
    assert spoken_of("Welding the ball mount bar: warm it.", parts).name == "ball mount bar"
    assert spoken_of("The moon is round.", parts) is None
