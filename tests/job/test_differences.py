"""What differs between two states of a job is said, nothing else is, in the units of the job that is open."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import families
from urial.job import edit
from urial.job.compare import differences

JOB = families.new_job("rear-receiver")
SPECS = edit.all_specs(JOB)
LENGTHS = sorted(p for p, s in SPECS.items() if s.quantity == "length" and p.startswith("stack."))


def test_two_like_jobs_do_not_differ_whatever_their_marks_and_origins():
    assert differences(JOB, JOB) == []
    other = JOB.model_copy(update={"origins": {}, "marks": {}})
    assert differences(JOB, other) == []


@given(st.sampled_from(LENGTHS), st.floats(0.3, 0.9))
def test_each_figure_that_differs_is_said_once_with_both_values(path, share):
    was = float(edit.get(JOB, path))
    try:
        there = edit.put(JOB, path, was * share)
    except edit.EditError:  # out of its range
        return
    (line,) = differences(JOB, there)
    title = edit.all_specs(JOB)[path].title
    assert line.lower().count(title.lower()) >= 1 and line.endswith(" on disk") and " here, " in line


def test_the_other_is_called_as_it_is_and_figures_are_in_this_jobs_units():
    there = edit.put(JOB, "stack.1.drop_mm", 254.0)
    inches = families.in_inches(JOB)
    (line,) = differences(inches, families.in_inches(there), there="in the older file")
    assert line.startswith("rear receiver, drop: ") and line.endswith('10" in the older file')
    (metric,) = differences(JOB, there)
    assert metric.endswith("254 mm on disk")


def test_a_size_that_two_pieces_have_is_said_of_its_piece():
    ball = edit.put(JOB, "stack.2.weld_mm", 5.0)
    (line,) = differences(JOB, ball)
    assert line.startswith("ball mount, ")


def test_another_piece_more_is_counted_and_another_kind_is_named():
    more = JOB.model_copy(update={"stack": JOB.stack[:1]})
    lines = differences(JOB, more)
    assert any("2 here, 1 on disk" in line for line in lines)
    other = families.new_job("winch-base")
    assert any("another kind here than on disk" in line for line in differences(JOB, other))


def test_a_figure_that_is_empty_in_one_is_nothing_there():
    path = next(
        p
        for p, s in edit.all_specs(JOB).items()
        if s.optional and s.quantity == "mass" and edit.get(JOB, p) is None
    )
    filled = edit.put(JOB, path, 1234.0)
    (line,) = differences(filled, JOB)
    assert line.endswith("nothing on disk")


@pytest.mark.parametrize("most", [1, 5])
def test_a_long_list_is_cut_and_says_how_many_more(most):
    there = JOB
    for path in LENGTHS[:12]:
        try:
            there = edit.put(there, path, float(edit.get(JOB, path)) * 0.93)
        except edit.EditError:
            continue
    every = differences(JOB, there)
    assert len(every) > most
    cut = differences(JOB, there, most=most)
    assert cut[:-1] == every[:most] and cut[-1] == f"and {len(every) - most} more"
