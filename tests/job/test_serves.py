"""A part that serves several hosts: added with figures nobody measured, taken off, the rest kept."""

import pytest

from urial import families
from urial.job import edit, origin, serves
from urial.job.edit import EditError
from urial.job.origin import Origin
from urial.prove.verdict import prove


@pytest.fixture
def job():
    return families.new_job("hook-plate")


def test_another_starts_from_the_first_and_nothing_of_it_is_measured(job):
    known = origin.mark(job, ["vehicle.front_kg"], Origin(how="measured"))
    more = serves.with_another(serves.with_another(known))
    name = job.vehicle.name
    assert [h.name for h in more.hosts] == [name, f"{name} 2", f"{name} 3"]
    assert more.hosts[1].front_kg == job.vehicle.front_kg
    assert "vehicle.front_kg" not in origin.assumed(more) and "hosts.1.front_kg" in origin.assumed(more)


def test_the_worst_of_them_counts_and_is_named(job):
    more = edit.put(serves.with_another(job), "hosts.1.front_kg", 400.0)
    lighter = edit.put(job, "vehicle.front_kg", 400.0)
    both, alone = prove(more), prove(lighter)
    worst = {c.id: c for c in both.checks}
    for c in alone.checks:
        assert worst[c.id].utilisation >= c.utilisation - 1e-9
    assert both.governing.utilisation == pytest.approx(alone.governing.utilisation)
    assert both.governing.name.endswith(f"on {job.vehicle.name} 2")


def test_one_that_goes_takes_its_origins_and_the_next_moves_up(job):
    more = job
    for _ in range(3):
        more = serves.with_another(more)
    for n, kg in ((1, 410.0), (2, 420.0), (3, 430.0)):
        more = edit.put(more, f"hosts.{n}.front_kg", kg)
        more = origin.mark(more, [f"hosts.{n}.front_kg"], Origin(how="measured", by=f"person {n}"))
    less = serves.without(more, 2)
    assert [h.front_kg for h in less.hosts[1:]] == [410.0, 430.0]
    assert {p: o.by for p, o in less.origins.items()} == {
        "hosts.1.front_kg": "person 1",
        "hosts.2.front_kg": "person 3",
    }
    for number in (0, 3, -1):
        with pytest.raises(EditError, match="the first one stays"):
            serves.without(less, number)


def test_there_may_be_so_many_and_no_more(job):
    for _ in range(serves.MOST - 1):
        job = serves.with_another(job)
    with pytest.raises(EditError, match="take one off"):
        serves.with_another(job)
