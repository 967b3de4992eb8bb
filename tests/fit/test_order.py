"""Nothing is put where nothing holds it, and an insert comes out of its bore with its hitch where it is."""

import pytest

from urial import families
from urial.desk.start import demo_jobs
from urial.fit import fit
from urial.fit.order import Holds, holds_of, take_apart, things_of
from urial.fit.room import room_of
from urial.fit.whole import on_and_off
from urial.job.file import load
from urial.job.survey import Block

JOBS = {path.stem: path for path, *_ in demo_jobs()}


def never():
    return False


def behind_a_wall(gap_mm):
    """The rescue post's receiver with a wall so far behind its mouth."""
    job = load(JOBS["rescue-receiver"]).job
    mouth = next(s for s in families.build(job).sockets if s.kind == "receiver").place.o
    wall = Block(
        name="wall",
        behind_mm=-mouth[0] + gap_mm,
        long_mm=100,
        wide_mm=2000,
        height_mm=1,
        high_mm=2000,
        margin_mm=0,
    )
    survey = job.survey.model_copy(update={"keep_outs": (wall,)})
    return job.model_copy(update={"survey": survey})


def test_an_insert_that_a_wall_keeps_in_its_bore_is_said_with_how_far_it_comes():
    """The bar is 108 mm in its bore and the whole of it reaches 233 mm behind the mouth: a wall at 300 leaves
    67, which is not 108."""
    job = behind_a_wall(300.0)
    found = [f for f in fit(job, families.build(job)).findings if f.kind == "order"]
    (said,) = [f for f in found if f.id.startswith("bore")]
    assert "does not come out of its bore with the rear receiver where it is" in said.words
    assembly = families.build(job)
    tip = min(
        b.box[0][0]
        for t in things_of(assembly, room_of(job, assembly))
        for b in t.bodies
        if t.name == "ball mount"
    )
    wall = -job.survey.keep_outs[0].behind_mm
    assert said.amount == pytest.approx(tip - wall, abs=0.5)
    assert not [f for f in found if f.id != said.id]  # said once


def test_with_room_behind_it_goes_on_hitch_first():
    job = behind_a_wall(2000.0)
    answer = fit(job, families.build(job))
    assert not [f for f in answer.findings if f.kind == "order"]
    assert [s.words.split(":")[0] for s in answer.steps] == ["Rear receiver", "Ball mount"]


def test_what_holds_something_up_is_not_taken_from_under_it():
    """The receiver alone would come down freely; while the ball mount hangs in it, it stays."""
    job = load(JOBS["rescue-receiver"]).job
    assembly = families.build(job)
    things = things_of(assembly, room_of(job, assembly))
    holds = holds_of(assembly, things)
    hitch = next(t for t in things if "cross tube" in str(t.keys))
    mount = next(t for t in things if t.name == "ball mount")
    assert id(hitch) in holds.hosted and id(mount) not in holds.hosted
    assert id(mount) in holds.joined[id(hitch)]
    assert not holds.lets_go([hitch], things) and holds.lets_go([mount], things)
    assert holds.lets_go([hitch, mount], things)
    assert Holds().lets_go([hitch], things)  # nothing known: nothing is kept back
    off = [t for t, _, _ in take_apart(things, (), never, holds).off]
    assert off.index(mount) < off.index(hitch)


@pytest.mark.parametrize("name", sorted(JOBS))
def test_in_every_demo_job_each_thing_is_held_as_soon_as_it_is_on(name):
    job = load(JOBS[name]).job
    if not job.has_part:
        return
    assembly = families.build(job)
    things = things_of(assembly, room_of(job, assembly))
    holds = holds_of(assembly, things)
    held = holds.held(things)
    order = take_apart(things, (), never, holds)
    as_one = {id(t): {id(o) for o in group} for group in order.together for t in group}
    on: list = []
    for thing, _, _ in reversed(order.off):
        on.append(thing)
        there = {id(t) for t in on}
        if as_one.get(id(thing), set()) <= there:  # a group is looked at when all of it is on
            assert there & held <= holds.held(on), thing.name
    assert len(on) == len(things)


@pytest.mark.parametrize(
    ("family", "words", "never_said"),
    [
        ("drawbar", "of bead: welded on, it stays; a welder", "Nothing holds it"),
        ("flat-trailer", "it rolls to its place", "lifts"),
        ("ballast-rack", "It hangs on the linkage", "Nothing holds it"),
        ("three-point-carriage", "a hoist, or a jack", "two people, a jack"),
    ],
)
def test_what_holds_a_piece_is_what_is_said_to_hold_it(family, words, never_said):
    job = families.new_job(family)
    said = " ".join(o.words for o in on_and_off(job, families.build(job)))
    assert words in said and never_said not in said
