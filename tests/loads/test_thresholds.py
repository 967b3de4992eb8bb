"""Where a rule begins, both sides say so."""

import pytest

from urial import families
from urial.job import edit
from urial.loads.thresholds import crossed, sides, thresholds
from urial.prove.verdict import prove
from urial.prove.versions import compared


def towing(kg):
    return edit.put(families.new_job("ball-mount"), "duty.trailer_mass_kg", kg)


def test_centre_axle_trailers_over_three_and_a_half_tonnes_are_the_one_threshold():
    assert thresholds() == (3500.0,)


@pytest.mark.parametrize(
    ("kg", "words"),
    [
        (2900.0, ()),  # 600 kg below: nothing to say
        (3100.0, ("begins over 3500 kg", "±0.6 Dc and ±0.6 V (UN R55)", "instead of ±0.6 D, inclined")),
        (3500.0, ("begins over 3500 kg",)),
        (3500.5, ("Over 3500 kg ±0.6 Dc and ±0.6 V", "up to it ±0.6 D, inclined", "the rule's")),
        (5000.0, ("Over 3500 kg",)),
        (5300.0, ()),
    ],
)
def test_it_is_said_on_both_sides(kg, words):
    said = sides(towing(kg))
    assert len(said) == bool(words)
    for part in words:
        assert part in said[0]


def test_what_the_trailer_may_weigh_counts_and_nothing_towed_says_nothing():
    assert sides(edit.put(towing(2000.0), "duty.permissible_kg", 3400.0))
    assert not sides(edit.put(towing(3400.0), "duty.towed", False))


def test_compare_says_that_two_jobs_lie_on_either_side():
    light, heavy = towing(3490.0), towing(3510.0)
    (said,) = crossed(light, heavy)
    assert said == crossed(heavy, light)[0] and "either side of 3500 kg" in said
    assert not crossed(light, towing(3000.0)) and not crossed(heavy, towing(4000.0))
    assert said in compared(prove(light), heavy, "the heavy one").differs
