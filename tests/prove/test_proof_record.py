"""A proof test as it was pulled: each way it can end, with figures made by hand."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import families
from urial.prove.proof_record import READS, Foretold, Reading, foretold, judged
from urial.prove.prooftest import proof_tests
from urial.prove.verdict import prove

WANTED = Foretold("pull", 12.0, 3.0, "rearward", 0.30)
"""12 kN should move it 3 mm, a quarter of a millimetre a kN; 0.3 mm may be left."""


def pulled(slope=0.25, top=12.0, held=65.0, creep=0.0, left=0.05, play=0.0, off=True):
    """Zero, three steps up, the top held, and let off: by hand, no course of the code's own."""
    rows = [Reading(0.0, 0.0, 0.0)]
    for n, kN in enumerate((0.25 * top, 0.5 * top, 0.75 * top, top), 1):
        rows.append(Reading(10.0 * n, kN, slope * kN + play))
    rows.append(Reading(40.0 + held, top, slope * top + play + creep))
    if off:
        rows.append(Reading(50.0 + held, 0.1, left))
    return rows


def test_what_comes_out_as_foretold_has_passed():
    found = judged(WANTED, pulled())
    assert found.state == "passed"
    assert (found.most_kN, found.slope, found.left, found.held_s) == (12.0, pytest.approx(0.25), 0.05, 65.0)
    assert found.words == (
        "Passed: 12.00 kN held 65 s; it gives 3.00 mm at its full load (3.00 mm foretold); 0.05 mm is left, "
        "and 0.30 mm may be.",
    )


@pytest.mark.parametrize(
    ("how", "said"),
    [
        ({"slope": 0.38}, "would give 4.56 mm where 3.00 mm was foretold"),
        ({"creep": 0.2}, "crept 0.20 mm while the load was held"),
        ({"left": 0.31}, "0.31 mm is left where 0.30 mm may be"),
        ({"left": -0.4}, "-0.40 mm is left"),
    ],
)
def test_each_way_to_fail_says_what_and_how_much(how, said):
    found = judged(WANTED, pulled(**how))
    assert found.state == "failed" and any(said in w for w in found.words)


@pytest.mark.parametrize(
    ("how", "state"),
    [
        ({"slope": 0.374}, "passed"),
        ({"slope": 0.376}, "failed"),
        ({"creep": 0.149}, "passed"),
        ({"creep": 0.151}, "failed"),
        ({"left": 0.30}, "passed"),
        ({"left": 0.301}, "failed"),
        ({"held": 60.0}, "passed"),
        ({"held": 59.0}, "open"),
        ({"top": 11.64}, "passed"),
        ({"top": 11.63}, "open"),
    ],
)
def test_each_limit_from_both_sides(how, state):
    """1.5 × 0.25; a twentieth of 3 mm; 0.3 mm; a minute; 97 % of 12 kN."""
    assert judged(WANTED, pulled(**how)).state == state


def test_not_to_the_end_it_says_what_is_missing():
    assert judged(WANTED, []).words == ("Nothing is read yet.",)
    half = judged(WANTED, pulled(top=6.0))
    assert half.state == "open" and "6.00 kN reached; 12.00 kN is asked for." in half.words
    on = judged(WANTED, pulled(off=False))
    assert on.state == "open" and "Let it off, and read what is left." in on.words
    two = judged(WANTED, [Reading(0, 0, 0), Reading(5, 12, 3), Reading(70, 12, 3), Reading(80, 0, 0)])
    assert two.state == "open" and any("three loads" in w for w in two.words)


@pytest.mark.parametrize(("slope", "goes"), [(0.0, "0.00"), (0.116, "1.39"), (-0.25, "-3.00")])
def test_a_gauge_that_hardly_moves_or_the_other_way_proves_nothing(slope, goes):
    """Half of 3 mm less twice what a gauge is read to, 1.4 mm: a dial beside the part passes nothing."""
    found = judged(WANTED, pulled(slope=slope, left=0.0))
    assert found.state == "open" and f"The gauge goes {goes} mm where 3.00 mm rearward" in found.words[0]
    assert judged(WANTED, pulled(slope=0.118, left=0.0)).state == "passed"


def test_what_was_let_off_between_was_not_held():
    """Twice at the full load, a minute apart and let off between: held is the longer of the two."""
    up = pulled(held=5.0)
    again = [Reading(r.at + 90.0, r.kN, r.mm) for r in pulled(held=20.0)]
    found = judged(WANTED, [*up, *again])
    assert found.state == "open" and found.held_s == 20.0


def test_what_is_left_is_told_from_a_reading_without_load():
    """Begun at a seventh of the load, a tenth of its deflection would hide what yielded."""
    late = [Reading(0.0, 0.14 * 12, 0.42), *pulled()[1:]]
    found = judged(WANTED, late)
    assert found.state == "open" and "Nothing was read with the load off before it" in found.words[0]


def test_where_little_is_foretold_a_gauges_own_error_fails_nobody():
    """0.04 mm foretold, 0.1 read: within twice 0.05; 0.2 is not."""
    small = Foretold("pull", 12.0, 0.04, "down", READS)
    rows = [(0, 0, 0), (10, 4, 0.03), (20, 8, 0.07), (30, 12, 0.1), (95, 12, 0.1), (99, 0, 0)]
    assert judged(small, [Reading(*r) for r in rows]).state == "passed"
    assert judged(small, [Reading(t, kN, 2 * mm) for t, kN, mm in rows]).state == "failed"


def test_play_that_is_taken_up_first_is_no_slope():
    """Two millimetres of play between nothing and the first step: the slope above it stays a quarter."""
    found = judged(WANTED, pulled(play=2.0))
    assert found.slope == pytest.approx(0.25)


@given(
    slope=st.floats(0.15, 0.35),
    noise=st.floats(0.0, 0.02),
    seed=st.integers(0, 99),
    order=st.permutations(range(7)),
)
def test_the_slope_is_found_through_noise_and_whatever_the_order_of_the_readings(slope, noise, seed, order):
    shaken = np.random.default_rng(seed).normal(0, noise, 7)
    rows = [Reading(r.at, r.kN, r.mm + float(e)) for r, e in zip(pulled(slope), shaken, strict=True)]
    found = judged(WANTED, [rows[n] for n in order])
    assert found.slope == pytest.approx(slope, abs=0.02)
    assert found == judged(WANTED, rows)


@pytest.mark.parametrize("name", sorted(families.families()))
def test_every_test_of_every_kind_can_be_pulled_and_passes_as_foretold(name):
    v = prove(families.new_job(name))
    for t in proof_tests(v):
        w = foretold(v, t)
        assert w.kN > 0 and w.mm >= 0 and w.limit >= READS
        top = w.kN
        rows = [Reading(0, 0, 0), *(Reading(9 * n, top * n / 4, w.mm * n / 4) for n in (1, 2, 3, 4))]
        rows += [Reading(100, top, w.mm), Reading(120, 0, 0)]
        assert judged(w, rows).state == "passed", (name, w)


def test_the_load_cell_reads_what_is_pulled_not_what_is_stacked_beside_it():
    """Towing's proof load pulls rearward and presses down: the cell hangs in the line."""
    v = prove(families.new_job("rear-receiver"))
    t = proof_tests(v)[0]
    ((_, force),) = v.places(t.case)
    assert force[0] < 0 and force[2] < 0 and abs(force[0]) > abs(force[2])
    assert foretold(v, t).kN == pytest.approx(abs(force[0]) / 1000)
