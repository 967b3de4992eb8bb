"""What is carried is metal too, and wheels are as wide as their tyres."""

import pytest

from urial import families
from urial.assembly import bodies
from urial.fit import fit
from urial.fit.clash import among_parts
from urial.fit.room import room_of
from urial.job import edit
from urial.job.survey import Block, Cone, Swing


@pytest.fixture(scope="module")
def carrier():
    return families.new_job("flat-carrier")


def cargo(job, *keeps):
    """What is found of the cargo among these keep-outs, and what is said of it."""
    held = job.model_copy(update={"survey": job.survey.model_copy(update={"keep_outs": keeps})})
    answer = fit(held, moves=False)
    return (
        [f for f in answer.findings if f.id.startswith("cargo ")],
        [w for w in answer.facts if w.startswith("What is carried")],
    )


def box_of(job):
    from urial.loads.duties import carried

    return carried(job, families.build(job))[0]


def test_a_box_on_the_carrier_runs_into_what_stands_there_by_the_sum_of_the_sizes(carrier):
    name, low, high = box_of(carrier)
    block = Block(
        name="tank", behind_mm=-high[0], long_mm=40, wide_mm=4000, height_mm=low[2], high_mm=2000, margin_mm=0
    )
    (found,), _ = cargo(carrier, block)  # 40 mm of it stand in the box's front
    assert name in found.words and "runs 40 mm into the “tank”" in found.words
    assert found.amount == pytest.approx(40.0, abs=0.2)
    away = block.model_copy(update={"behind_mm": -high[0] - 41.0})
    assert cargo(carrier, away) == ([], [])


def test_a_gate_stays_shut_and_a_lamp_is_hidden_by_what_is_carried(carrier):
    _, low, high = box_of(carrier)
    middle = tuple((p + q) / 2 for p, q in zip(low, high, strict=True))
    gate = Swing(name="gate", behind_mm=-middle[0] - 200.0, height_mm=middle[2] + 500.0)
    lamp = Cone(name="lamp", behind_mm=-middle[0] - 300.0, height_mm=middle[2])
    said = " ".join(f.words for f in cargo(carrier, gate, lamp)[0])
    assert "keeps the “gate” from opening" in said and "in the view of the “lamp”" in said


def test_what_hangs_low_is_said_and_what_is_in_the_ground_is_found(carrier):
    path = "duties.0.items.0.above_mm"
    _, low, _ = box_of(carrier)
    near = edit.put(carrier, path, float(edit.get(carrier, path)) - low[2] + 100.0)
    found, said = cargo(near)
    assert not found and "hangs 100 mm over the ground" in said[0]
    deep = edit.put(carrier, path, float(edit.get(carrier, path)) - low[2] - 30.0)
    (found,), said = cargo(deep)
    assert "30 mm into the ground" in found.words and not said


def test_a_tyre_is_as_wide_as_it_is_and_weighs_what_it_weighs():
    """A track of 1500 and a tyre of 175: its inner side stands at 662.5, half the bed's 1400 is 700."""
    job = families.new_job("flat-trailer")
    for key, value in (("vehicle.track_mm", 1500.0), ("vehicle.tyre_width_mm", 175.0)):
        job = edit.put(job, key, value)
    assembly = families.build(job)
    wheel = next(p for p in assembly.parts if p.family.endswith("/wheel") and p.side == "left")
    low, high = bodies.corners(wheel)
    assert (low[1], high[1]) == pytest.approx((662.5, 837.5), abs=0.5)
    assert bodies.mass(wheel) == pytest.approx(job.stack[0].values.wheel_kg)


def test_fenders_stand_outside_the_posts_and_wheels_clear_of_them():
    from urial.desk.start import demo_jobs
    from urial.job.file import load

    job = load(next(p for p, *_ in demo_jobs() if p.stem == "milk-trailer")).job

    def clashes(job):
        assembly = families.build(job)
        return [f.words for f in among_parts(assembly, room_of(job, assembly), lambda: False)]

    assert clashes(job) == []
    wide = edit.put(job, "stack.1.wide_mm", 1250.0)  # 625 + 3 + 50 is more than 662.5
    said = clashes(wide)
    assert any("wheel" in w and "post" in w for w in said)


def test_a_move_that_is_offered_for_cargo_really_clears_it(carrier):
    """Each is tried against the cargo itself: what is offered clears it, or nothing is offered."""
    name, low, high = box_of(carrier)
    block = Block(
        name="tank", behind_mm=-high[0], long_mm=12, wide_mm=4000, height_mm=low[2], high_mm=2000, margin_mm=0
    )
    held = carrier.model_copy(update={"survey": carrier.survey.model_copy(update={"keep_outs": (block,)})})
    (found,) = [f for f in fit(held).findings if f.id == f"cargo {name} | “tank”"]
    if found.move is not None:
        moved = edit.put(held, found.move.path, found.move.value)
        assert found.id not in {f.id for f in fit(moved, moves=False).findings}
    from urial.fit.whole import _again

    assert _again(found, held, families.build(held), lambda: False)  # as it stands it is still there
