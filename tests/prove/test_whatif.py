"""What if: kinks, edges, what matters, the most it may carry; each against proving the job there."""

import dataclasses
import itertools
import math

import numpy as np
import pytest

from urial import families
from urial.assembly.model import BuildError
from urial.job import edit
from urial.job.duty import Carrier
from urial.prove import whatif
from urial.prove.verdict import prove
from urial.prove.whatif import envelope, span_of, sweep, sweepable, tornado


@pytest.fixture(scope="module")
def job():
    return families.new_job("ball-mount")


@pytest.fixture(autouse=True)
def few(monkeypatch):
    """Fewer places than on screen: what is tested is each of them."""
    monkeypatch.setattr(whatif, "PLACES", 6)
    monkeypatch.setattr(whatif, "POINTS", 9)


def used(job, path, value):
    try:
        return prove(edit.put(job, path, value)).governing
    except (BuildError, edit.EditError):
        return None


def test_a_sweep_is_the_verdict_at_every_value_and_kinks_lie_where_the_link_changes(job):
    path = "stack.2.ball_plate_mm"
    found = sweep(job, path)
    assert found.now in found.values
    for value, u, name in list(zip(found.values, found.used, found.governs, strict=True))[::2]:
        c = used(job, path, float(value))
        assert (c is None and math.isnan(u)) or (u == c.utilisation and name == c.name)
    assert found.kinks
    for k in found.kinks:
        assert k.before != k.after
        step = (found.values[-1] - found.values[0]) / 8 / 2**5
        a, b = used(job, path, k.value - step), used(job, path, k.value + step)
        assert {a.name, b.name if b else ""} == {k.before, k.after}
    changes = sum(a != b for a, b in itertools.pairwise(found.governs) if a and b)
    assert len(found.kinks) == changes


def test_it_holds_up_to_the_edge_and_no_further(job):
    found = sweep(job, "duty.trailer_mass_kg")
    assert found.least is None and found.most is not None
    assert prove(edit.put(job, "duty.trailer_mass_kg", found.most)).holds
    assert not prove(edit.put(job, "duty.trailer_mass_kg", found.most + 30.0)).holds
    short = edit.put(job, "duty.trailer_mass_kg", 4000.0)
    again = sweep(short, "stack.2.pin_to_ball_mm", (200.0, 300.0))
    assert again.least is None and again.most is None  # it does not hold now


def test_what_can_be_swept_keeps_within_what_its_field_takes():
    for name in families.families():
        start = families.new_job(name)
        paths = sweepable(start)
        assert len(set(paths)) == len(paths)
        for path in paths:
            spec, (low, high) = edit.spec_of(start, path), span_of(start, path)
            assert low < high and (spec.lo is None or low >= spec.lo) and (spec.hi is None or high <= spec.hi)


def test_what_matters_most_comes_first_and_is_what_proving_says():
    start = families.new_job("shackle-insert")
    bars = tornado(start)
    assert [b.span for b in bars] == sorted((b.span for b in bars), reverse=True) and bars[0].span > 0
    assert {b.path for b in bars} == set(sweepable(start))
    for b in bars[:3]:
        now = float(edit.get(start, b.path))
        for share, u in ((0.9, b.less), (1.1, b.more)):
            c = prove(edit.put(start, b.path, now * share))
            assert (c is None and math.isnan(u)) or c.weak_link.utilisation == pytest.approx(u)
    pull = next(b for b in bars if b.path.startswith("duties.0."))
    assert pull.more > pull.less


def test_the_most_a_carrier_carries_is_just_held(job):
    start = families.new_job("flat-carrier")
    found = envelope(start)
    assert found.unit == "kg" and (np.diff(found.most) < 1e-6).all()  # further out, less
    n, duty = next((n, d) for n, d in enumerate(start.duties) if isinstance(d, Carrier))
    total = sum(i.kg for i in duty.items)
    assert found.now == (pytest.approx(300.0), total)
    here = float(found.most[list(found.values).index(found.now[0])])  # where it is now is one of the places
    assert prove(start).weak_link.utilisation < 1 < here / total
    x, most = float(found.values[3]), float(found.most[3])

    def strained(share):
        moved = tuple(
            i.model_copy(
                update={"behind_mm": i.behind_mm + x - found.now[0], "kg": i.kg * most / total * share}
            )
            for i in duty.items
        )
        duties = (*start.duties[:n], duty.model_copy(update={"items": moved}), *start.duties[n + 1 :])
        v = prove(start.model_copy(update={"duties": duties}))
        return max(c.utilisation for c in v.checks if c.kind != "rating")

    assert strained(0.999) < 1 < strained(1.001)


def test_the_heaviest_trailer_is_just_held(job):
    found = envelope(job)
    assert found.now == (200.0, 1850.0)
    k = int(np.abs(found.values - 200.0).argmin())
    share = job.duty.tongue_mass_kg / job.duty.trailer_mass_kg

    def at(kg):
        duty = {"trailer_mass_kg": kg, "tongue_mass_kg": share * kg, "permissible_kg": None}
        there = edit.put(job, "stack.2.pin_to_ball_mm", float(found.values[k]))
        return prove(there.model_copy(update={"duty": there.duty.model_copy(update=duty)}))

    assert at(found.most[k]).holds and not at(found.most[k] + 10.0).holds
    assert found.limits[k] == at(found.most[k] + 10.0).governing.name


def test_a_pull_may_be_less_aside_than_straight_and_alike_both_ways():
    found = envelope(families.new_job("winch-cradle"))
    assert found.unit == "N" and found.upwards == "rated pull" and found.now[0] == 0.0
    middle = len(found.most) // 2
    assert found.most[middle] > found.most[0]
    assert found.most == pytest.approx(found.most[::-1], rel=0.02)


def test_what_may_be_stuck_is_what_just_holds_by_a_proof_at_that_weight():
    job = families.new_job("shackle-insert")
    found = envelope(job)
    assert found.unit == "kg" and found.upwards == "what may be stuck"
    middle = len(found.most) // 2
    assert found.values[middle] == 0.0 and found.most[middle] > found.most[0]

    def used(kg, turn):
        duty = job.duties[0].model_copy(update={"stuck_kg": kg, "factors": {"snatch/turn": turn}})
        v = prove(job.model_copy(update={"duties": (duty,)}))
        (straight,) = (k for k, c in enumerate(v.cases) if c.id.endswith(": snatch"))
        return max(
            float(c.by_case[straight]) for c in v.checks if c.kind not in ("rating", "minimum", "fatigue")
        )

    for k in (0, middle):
        assert used(float(found.most[k]), float(found.values[k])) == pytest.approx(1.0, abs=2e-3)


@pytest.mark.parametrize(
    ("low", "high", "marks"),
    [
        (0.0, 10.0, [0, 2, 4, 6, 8, 10]),
        (3.1, 9.7, [4, 6, 8]),
        (120.0, 890.0, [200, 400, 600, 800]),
        (-60.0, 60.0, [-60, -40, -20, 0, 20, 40, 60]),
        (0.011, 0.048, [0.02, 0.03, 0.04]),
    ],
)
def test_ticks_are_round_figures_within_the_range(low, high, marks):
    assert whatif.ticks(low, high) == pytest.approx(marks)


def test_it_stops_when_told_to(job):
    told = []
    sweep(job, "stack.2.pin_to_ball_mm", stopped=lambda: len(told) > 2, tell=told.append)
    assert len(told) < 5
    assert envelope(job, stopped=lambda: True) is None
    assert tornado(job, stopped=lambda: True) == []
    assert dataclasses.is_dataclass(sweep(job, "stack.2.pin_to_ball_mm", (230.0, 240.0)))


def test_the_most_is_asked_of_any_duty_by_itself():
    first = families.new_job("winch-cradle")
    job = first.model_copy(update={"duties": (*first.duties, *families.new_job("flat-carrier").duties)})
    known = whatif.carried(job)
    assert list(known) == ["0", "1"] and known["1"] == job.duties[1].title
    pull, deck = envelope(job, which="0"), envelope(job, which="1")
    assert pull.unit == "N" and deck.unit == "kg" and deck.upwards == "carried"
    assert envelope(job).most.tolist() == pull.most.tolist()
    assert envelope(job, which="7") is None


def test_forks_lift_what_just_holds_and_less_further_out():
    """What ends it near the tractor is its front axle, further out the forks: the tractor's own limit is one
    of it."""
    job = families.new_job("hook-plate")
    assert whatif.carried(job) == {"0": job.duties[0].title}
    found = envelope(job)
    assert found.unit == "kg" and found.upwards == "payload"
    assert found.now == (job.duties[0].behind_mm, job.duties[0].payload_kg)
    assert (np.diff(found.most) < 0).all() and "front axle" in found.limits[0]

    def used(kg, behind):
        duty = job.duties[0].model_copy(update={"payload_kg": kg, "behind_mm": behind})
        v = prove(job.model_copy(update={"duties": (duty,)}))
        return max(c.utilisation for c in v.checks if c.kind != "minimum")

    for k in (0, len(found.most) - 1):
        kg, x = float(found.most[k]), float(found.values[k])
        assert used(0.995 * kg, x) < 1 < used(1.005 * kg, x)


def test_the_heaviest_of_what_is_no_straight_line_is_found_by_halving():
    """Used: 100/(900 − kg), which is 1 at 800 kg; nothing stands at 900 kg; 3 000 kg hold on a straight line
    that gives out past them."""

    def check(used, name):
        return dataclasses.replace(
            prove(families.new_job("ball-mount")).checks[0], utilisation=used, name=name
        )

    def axle(kg):
        return check(100 / (900 - kg), "axle") if kg < 900 else None

    kg, name = whatif._lifted(axle, 50.0)
    assert kg == pytest.approx(800.0, rel=2e-3) and name == "axle"
    kg, name = whatif._lifted(lambda kg: check(kg / 3000, "fork"), 50.0)
    assert kg == pytest.approx(3000.0, rel=1e-6) and name == "fork"
    assert whatif._lifted(lambda kg: check(1.5, "itself"), 50.0) is None


def test_the_pull_on_a_trunks_line_is_most_straight_out():
    found = envelope(families.new_job("ring-backing"))
    assert found.upwards == "pull on the line" and found.unit == "N" and found.now == (0.0, 1600.0)
    assert found.most[len(found.most) // 2] == pytest.approx(2250.0, rel=0.01)  # its pan alone, any way round
