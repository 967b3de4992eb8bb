"""Trailer classes and chain grades against the figures of their sources, pounds by hand."""

import pytest

from urial import families
from urial.job import edit
from urial.loads.classes import chain_for, reads_as, tables, trailer_class

LB = 0.45359237


@pytest.mark.parametrize(
    ("lb", "name"),
    [(1999, "class 1"), (2001, "class 2"), (3499, "class 2"), (4999, "class 3"), (9999, "class 4")],
)
def test_classes_end_at_two_three_and_a_half_five_and_ten_thousand_pounds(lb, name):
    assert trailer_class(lb * LB).name == name


def test_above_ten_thousand_pounds_there_is_no_class():
    assert trailer_class(10_010 * LB) is None


@pytest.mark.parametrize(
    ("grade", "wire", "lb", "times"),
    [
        ("30", 6.4, 1300, 4),
        ("30", 12.7, 4500, 4),
        ("43", 6.4, 2600, 3),
        ("43", 9.5, 5400, 3),
        ("70", 9.5, 6600, 4),
    ],
)
def test_chains_are_as_their_makers_list_them(grade, wire, lb, times):
    chain = next(c for c in tables()[1] if (c.grade, c.wire) == (grade, wire))
    assert chain.working_kg == pytest.approx(lb * LB, rel=2e-3)
    assert chain.breaks_kg == pytest.approx(times * chain.working_kg)


def test_the_chain_named_breaks_at_no_less_and_the_next_smaller_would():
    for kg in (500.0, 2000.0, 5000.0, 9000.0):
        for grade in ("30", "43", "70"):
            found = chain_for(kg, grade)
            smaller = [c for c in tables()[1] if c.grade == grade and c.breaks_kg < kg]
            assert found is None or found.breaks_kg >= kg
            assert found is not None or len(smaller) == 4
            assert all(found is None or c.wire < found.wire for c in smaller)


def test_it_is_said_in_the_jobs_units_and_as_no_approval():
    job = edit.put(families.new_job("ball-mount"), "duty.trailer_mass_kg", 2000.0)
    said = reads_as(job)
    assert (
        "class 3 of SAE J684" in said
        and "2268" in said.replace("\u202f", "")
        and said.endswith("no approval.")
    )
    assert "6.4 mm of grade 43" in said
    assert "5000" in reads_as(families.in_inches(job)).replace("\u202f", "")
    heavy = edit.put(job, "duty.trailer_mass_kg", 6000.0)
    assert "Heavier than any class" in reads_as(heavy)
    assert reads_as(families.new_job("winch-cradle")) == ""
