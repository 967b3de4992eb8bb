"""Work on the vehicle: drills beside walls, and what must come out past the part."""

import pytest
from manifold3d import Manifold

from urial import families
from urial.assembly.model import Bolts
from urial.fit import fit
from urial.fit.model import Finding, never
from urial.fit.room import room_of, tools
from urial.fit.service import comes_off_by_hand, drill_findings, out_findings, sweep
from urial.job import edit
from urial.job.survey import Block, Drum
from urial.measure import keepout

POST = families.new_job("post-mount")
REAR = families.new_job("rear-receiver")


def with_things(job, *keeps):
    return job.model_copy(update={"survey": job.survey.model_copy(update={"keep_outs": keeps})})


def timber(job):
    """The post-mount's bolts go through a timber post: drilled in place."""
    build = families.build(job)
    j = next(j for j in build.joints if isinstance(j.how, Bolts) and j.b == "host")
    assert any(m.material.kind == "timber" for m in j.how.metal)
    return build, j


def wall(away):
    """A wall ``away`` mm from the face the first hole is drilled from."""
    build, j = timber(POST)
    part = build.by_key[j.a]
    x, y, z = j.place.point((*j.how.holes[0], part.shape.t))
    nx, ny, _ = j.place.z
    assert abs(ny) > 0.99 or abs(nx) > 0.99
    if abs(ny) > 0.99:
        face = y + ny * (away + 25)
        return Block(
            name="wall",
            behind_mm=-x - 400,
            long_mm=800,
            across_mm=face,
            wide_mm=50,
            height_mm=z - 400,
            high_mm=800,
        )
    face = -(x + nx * away)
    return Block(
        name="wall",
        behind_mm=face - (50 if nx > 0 else 0),
        long_mm=50,
        across_mm=y,
        wide_mm=800,
        height_mm=z - 400,
        high_mm=800,
    )


def drilled(job):
    build = families.build(job)
    return [
        r
        for r in drill_findings(job, build, room_of(job, build), never)
        if "wall" in str(r) or "angle" in str(r)
    ]


def test_a_drill_needs_its_own_length_an_angle_drill_less_and_a_near_wall_bars_both():
    t = tools()["drill"]
    build, j = timber(POST)
    part = build.by_key[j.a]
    deep = part.shape.t + j.how.metal[0].t
    straight = deep + t["bit_over"] + t["chuck_long"] + t["body_long"]
    angled = deep + t["bit_over"] + t["head_high"]
    assert drilled(with_things(POST, wall(straight + 5))) == []
    (said,) = drilled(with_things(POST, wall((straight + angled) / 2)))
    assert isinstance(said, str) and "with an angle drill" in said
    (lost,) = drilled(with_things(POST, wall(angled - 10)))
    assert isinstance(lost, Finding) and lost.kind == "access" and "cannot be drilled in place" in lost.words


def test_holes_that_are_there_already_ask_for_no_drill():
    build = families.build(REAR)
    assert list(drill_findings(REAR, build, room_of(REAR, build), never)) == []


def spare(**changes):
    return Drum(
        **{
            "name": "spare",
            "axis": "upright",
            "diameter_mm": 500,
            "long_mm": 100,
            "behind_mm": 1000,
            "height_mm": 700,
            "out_way": "down",
            "out_mm": 500,
            **changes,
        }
    )


def outs(keep, job=REAR):
    job = with_things(job, keep)
    return list(out_findings(job, families.build(job), never))


def test_a_spare_wheel_comes_down_free_or_is_stopped_after_as_far_as_a_rule_says():
    (free,) = outs(spare(behind_mm=300))
    assert "past everything" in free
    (stopped,) = outs(spare())
    build = families.build(REAR)
    top = max(
        keepout.bodies.corners(p)[1][2]
        for p in build.parts
        if p.name == stopped.words.split(" and the ")[1].split(" stops")[0]
    )
    assert stopped.kind == "order" and stopped.amount == pytest.approx(500 - (650 - top), abs=0.5)
    (short,) = outs(spare(out_mm=50))
    assert isinstance(short, str)


def test_what_a_pin_holds_comes_off_first_and_is_named():
    (said,) = outs(spare(behind_mm=1330, height_mm=640, diameter_mm=200))
    assert said == "The spare comes out down once the ball mount is off."
    build = families.build(REAR)
    assert comes_off_by_hand(build, "2") and not comes_off_by_hand(build, "1")


def test_lowering_the_part_out_of_its_way_frees_it():
    (stopped,) = outs(spare(out_mm=130))
    assert isinstance(stopped, Finding)
    lower = edit.put(REAR, "stack.1.drop_mm", edit.get(REAR, "stack.1.drop_mm") + 40.0)
    (free,) = outs(spare(out_mm=130), lower)
    assert isinstance(free, str)


def test_it_is_part_of_the_whole_and_can_be_lived_with():
    found = fit(with_things(REAR, spare()), moves=False)
    assert any(f.id == "out spare" and f.remedy for f in found.findings)


@pytest.mark.parametrize("way", [(0, 0, -1), (0.6, 0.8, 0)])
def test_a_sweep_is_what_a_body_passes(way):
    body = Manifold.cube([10, 20, 30], True)
    swept = sweep(body, way, 100.0)
    for k in range(21):
        there = body.translate([w * 5.0 * k for w in way])
        assert (there - swept).volume() == pytest.approx(0, abs=1e-6)
    seen = {(0, 0, -1): 10 * 20, (0.6, 0.8, 0): 30 * (10 * 0.8 + 20 * 0.6)}[way]
    assert swept.volume() == pytest.approx(6000 + 100 * seen)


def test_a_move_that_is_offered_for_a_way_out_really_frees_it():
    job = with_things(REAR, spare(out_mm=125))
    (found,) = [f for f in fit(job).findings if f.id == "out spare"]
    assert found.move is not None
    other = edit.put(job, found.move.path, found.move.value)
    assert all(isinstance(r, str) for r in out_findings(other, families.build(other), never))
    lost = with_things(REAR, spare(behind_mm=300, fate="gone", good_for="step", out_way="stays"))
    (asked,) = [f for f in fit(lost).findings if f.id == "lost spare"]
    assert asked.move is None  # no size of the part brings a step back
