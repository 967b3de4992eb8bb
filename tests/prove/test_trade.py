"""What the trade would do: every way is what proving says, ranked by what it saves for a kilogram."""

import math

import pytest

from urial import families
from urial.assembly.bodies import total_mass
from urial.job import edit
from urial.job.change import BraceTo, DoublerOn, GussetIn
from urial.prove import trade
from urial.prove.costs import alike
from urial.prove.remedies import remedies
from urial.prove.sizing import Wish, size
from urial.prove.trade import two_steps, ways, weakest
from urial.prove.verdict import prove


def heavier(name, times):
    job = families.new_job(name)
    for path in ("duty.trailer_mass_kg", "duty.tongue_mass_kg"):
        job = edit.put(job, path, edit.get(job, path) * times)
    return job


def kinds(way):
    rows = [value for path, value in way.changes if path.endswith(".changes")]
    return {type(row[-1]) for row in rows}


CASES = {
    "front-rail": (families.new_job, BraceTo),
    "flat-carrier": (families.new_job, GussetIn),
    "rear-receiver": (lambda n: heavier(n, 1.9), None),
}


@pytest.mark.parametrize("name", CASES)
def test_a_way_is_what_proving_says_and_the_most_for_a_kilogram_comes_first(name):
    make, added = CASES[name]
    job = make(name)
    now = prove(job)
    check = weakest(now)
    found = ways(job, now)
    assert found
    if added:
        assert any(added in kinds(w) for w in found)
    worth = [(w.worst < 1, w.utilisation < 1, w.worth) for w in found]
    assert worth == sorted(worth, reverse=True)
    warned = {alike(w) for w in now.warnings}
    for w in found:
        v = prove(w.job)
        used = next((c.utilisation for c in v.checks if c.id == check.id), 0.0)
        assert w.utilisation == used == pytest.approx(check.utilisation - w.saved)
        assert w.worst == weakest(v).utilisation <= check.utilisation + 1e-6
        assert w.kg == pytest.approx(total_mass(v.assembly) - total_mass(now.assembly))
        assert {alike(x) for x in v.warnings} <= warned
        job_again = job
        for path, value in w.changes:
            job_again = edit.put(job_again, path, value)
        assert job_again == w.job


def test_a_hole_that_is_pulled_gets_its_doubler():
    job = families.new_job("drawbar")
    now = prove(job)
    check = next(c for c in now.checks if c.id == "1/nose hole 1.left: eye")
    found = [w for w in ways(job, now, check) if DoublerOn in kinds(w)]
    assert found and found[0].utilisation < 0.7 * check.utilisation


def test_nothing_that_stays_is_touched_and_it_is_stopped_at_once():
    job = heavier("drawbar", 1.9)
    now = prove(job)
    assert any(p == "welding.toes" for w in ways(job, now) for p, _ in w.changes)
    left = ways(job, now, stays=lambda p: p == "welding.toes")
    assert not any(p == "welding.toes" for w in left for p, _ in w.changes)
    assert ways(job, now, stopped=lambda: True) == []


def test_what_no_single_change_mends_is_mended_by_two_that_are_named():
    winch = families.new_job("winch-cradle")
    job = winch.model_copy(update={"duties": (winch.duties[0].model_copy(update={"rated_N": 15_600.0}),)})
    check = weakest(prove(job))
    assert check.short and not [r for r in remedies(job, check).found if r.worst < 1.0]
    found = two_steps(job, check)
    assert found and [w.kg for w in found] == sorted(w.kg for w in found)
    for w in found:
        assert w.steps == 2 and len(w.changes) >= 2 and ", and " in w.words
        assert weakest(prove(w.job)).utilisation == w.worst < 1.0
    for first in {w.changes[0] for w in found}:
        assert weakest(prove(edit.put(job, *first))).short  # neither step alone is enough


def test_where_sizes_do_not_hold_the_ways_are_named_and_nothing_is_passed_off_as_found():
    job = edit.put(families.new_job("ball-mount"), "stack.2.ball_plate_edge", "square")
    found = size(job, Wish(only=("stack.2.weld_mm", "stack.2.changes")))
    assert not found.found and "stays short" in found.why
    assert {p for w in found.ways for p, _ in w.changes} == {"stack.2.changes"}
    assert all(w.saved > 0 for w in found.ways)


@pytest.mark.parametrize(
    ("family", "weld"),
    [("rear-receiver", "1/side plate weld"), ("clevis-tongue", "2/ear weld"), ("flat-carrier", "2/tab weld")],
)
def test_a_weld_that_has_its_like_on_the_other_side_is_bevelled_on_both(family, weld):
    """Whichever of the two is weak; in corners of round tubes there is no edge to bevel."""
    job = families.new_job(family)
    v = prove(job)
    weak = next(c for c in v.checks if c.id.startswith(weld) and c.id.endswith(": root"))
    found = [(words, put) for _, put, words, _ in trade._bevels(job, v.assembly, weak)]
    assert found and all(words.endswith("and its like on the right") for words, _ in found)
    path = f"stack.{weld[0]}.changes"
    made = [families.build(edit.put(job, path, (*edit.get(job, path), change))) for _, change in found]
    fused = [[j.how.through > 0 for j in a.joints if j.key.startswith(weld)] for a in made]
    assert [True, True] in fused
    round_ = next(c for c in v.checks if c.id == "1/receiver weld: root")
    assert not list(trade._bevels(job, v.assembly, round_))


def test_another_way_to_build_a_piece_leaves_the_ball_where_the_trailer_needs_it():
    """A drop mount without its drop carries the ball elsewhere: no way.  Plates inside the rails do not."""
    job = families.new_job("ball-mount")
    now = prove(job)
    ball = now.points["2/ball"].at
    straight = prove(edit.put(job, "stack.2.shape", "straight"))
    assert trade._moved(now, straight)
    assert math.dist(straight.points["2/ball"].at, ball) > 20.0
    inside = prove(edit.put(job, "stack.1.plates_on", "inside"))
    assert not trade._moved(now, inside)
