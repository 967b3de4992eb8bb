"""Does the survey agree with itself, and is the wrong reading named?"""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import families
from urial.job import edit
from urial.job.survey import Level, Mark, Survey, Tape
from urial.measure import agree
from urial.measure.adjust import Reading, adjust
from urial.measure.places import hard_points


def tapes(job, *pairs, off=None):
    at = hard_points(job.vehicle)
    rows = [
        Tape(start=a, end=b, length_mm=math.dist(at[a], at[b]) + (off or {}).get((a, b), 0.0))
        for a, b in pairs
    ]
    return job.model_copy(update={"survey": job.survey.model_copy(update={"tapes": tuple(rows)})})


DIAGONALS = (("L1", "R3"), ("L3", "R1"), ("L1", "R1"), ("L3", "R3"), ("L1", "L3"), ("R1", "R3"))


def test_two_heights_and_their_difference_are_adjusted_as_by_hand():
    # heights 100 and 130 read to 1 mm, their distance read 36 to 1 mm: the misclosure of 6 is shared by
    # three alike
    readings = [
        *(
            Reading("c", "c", "coordinate", n, n, axis, v, 1.0)
            for n, place in (("A", (0, 0, 100)), ("B", (0, 0, 130)))
            for axis, v in enumerate(place)
        ),
        Reading("t", "t", "tape", "A", "B", 0, 36.0, 1.0),
    ]
    found = adjust({"A": (0, 0, 100), "B": (0, 0, 130)}, readings)
    by_axis = {(j.reading.kind, j.reading.start, j.reading.axis): j for j in found.judged}
    assert by_axis["tape", "A", 0].residual == pytest.approx(2.0)
    assert by_axis["coordinate", "A", 2].residual == pytest.approx(2.0)
    assert by_axis["coordinate", "B", 2].residual == pytest.approx(-2.0)
    assert abs(by_axis["tape", "A", 0].normalised) == pytest.approx(
        6 / math.sqrt(3)
    )  # misclosure over its own σ
    assert by_axis["tape", "A", 0].error == pytest.approx(6.0) and found.redundancy == 1
    assert {j.reading.kind for j in found.suspects} == {
        "tape",
        "coordinate",
    }  # one check cannot tell them apart


def test_a_survey_without_a_check_says_which_tape_to_read(job):
    check = agree.cross_check(job)
    assert check.agreement is None and "diagonal" in check.words and not check.wrong


def test_true_tapes_agree(job):
    check = agree.cross_check(tapes(job, *DIAGONALS))
    assert check.agreement.agrees and not check.wrong and "6 check readings agree" in check.words


@given(st.sampled_from(DIAGONALS), st.sampled_from((-14.0, 11.0, 25.0)))
def test_a_wrong_tape_is_named_with_how_far_it_is_off(pair, off):
    job = tapes(
        families.new_job("rear-receiver"),
        *DIAGONALS,
        ("L2", "R2"),
        ("L1", "R2"),
        ("L2", "R3"),
        off={pair: off},
    )
    check = agree.cross_check(job)
    assert check.wrong and check.agreement.suspects[0].reading.kind == "tape"
    assert check.agreement.suspects[0].reading.words == f"tape {pair[0]} to {pair[1]}"
    assert check.agreement.suspects[0].error == pytest.approx(off, abs=0.5)


def test_a_hole_written_down_wrong_is_found_by_the_tapes_to_it():
    job = tapes(families.new_job("rear-receiver"), *DIAGONALS, ("L2", "R3"), ("R2", "R3"))
    wrong = edit.put(job, "vehicle.right.2.behind_mm", 1095.0)  # 30 mm: a slip of the pencil
    check = agree.cross_check(wrong)
    assert check.wrong and ("R3" in check.words or "right hole 3" in check.words)


def test_a_gauge_reading_checks_the_heights_and_its_zero_counts(job):
    level = Level(start="L1", end="L3", reading_deg=1.5, zero_deg=1.5)
    good = job.model_copy(update={"survey": Survey(levels=(level,))})
    assert not agree.cross_check(good).wrong
    bad = job.model_copy(update={"survey": Survey(levels=(level.model_copy(update={"zero_deg": -3.0}),))})
    check = agree.cross_check(bad)
    assert check.wrong and check.words.startswith("Gauge L1 to L3")


def test_honest_noise_seldom_raises_an_alarm(job):
    rng, alarms = np.random.default_rng(2), 0
    for _ in range(150):
        noisy = tapes(job, *DIAGONALS, off={p: float(rng.normal(0, 1)) for p in DIAGONALS})
        alarms += agree.cross_check(noisy).wrong
    assert alarms <= 2


def test_readings_to_unknown_places_are_left_out_and_said(job):
    survey = Survey(
        tapes=(Tape(start="L1", end="the moon", length_mm=500), Tape(start="L1", end="L1", length_mm=5)),
        marks=(Mark(name="hub"),),
    )
    check = agree.cross_check(job.model_copy(update={"survey": survey}))
    assert (
        "the moon" in check.unused[0]
        and "two different places" in check.unused[1]
        and check.agreement is None
    )
