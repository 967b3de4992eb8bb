"""Keep-outs as solids against closed forms, and what comes into them against distances worked by hand."""

import math

import numpy as np
import pytest

from urial import families
from urial.assembly.bodies import view_axes
from urial.job.host import starting_host
from urial.job.survey import Block, Cone, Drum, Spanner, Survey, Swing, WheelSweep
from urial.measure import keepout

PICKUP = starting_host("pickup")


def test_blocks_drums_and_cones_have_their_volume_and_place():
    block = keepout.solid(
        Block(behind_mm=900, long_mm=200, across_mm=50, wide_mm=400, height_mm=500, high_mm=150), PICKUP
    )
    assert block.volume() == pytest.approx(200 * 400 * 150)
    assert block.bounding_box() == pytest.approx((-1100, -150, 500, -900, 250, 650))
    for axis, extent in (("along", (400, 60, 60)), ("across", (60, 400, 60)), ("upright", (60, 60, 400))):
        drum = keepout.solid(Drum(axis=axis, diameter_mm=60, long_mm=400), PICKUP)
        box = np.array(drum.bounding_box())
        assert box[3:] - box[:3] == pytest.approx(extent, abs=0.2)
        assert drum.volume() == pytest.approx(math.pi * 30**2 * 400, rel=0.005)
    cone = keepout.solid(Cone(half_deg=20, long_mm=600, mouth_mm=20, behind_mm=1180, height_mm=560), PICKUP)
    r0, r1 = 10, 10 + 600 * math.tan(math.radians(20))
    assert cone.volume() == pytest.approx(math.pi * 600 / 3 * (r0**2 + r0 * r1 + r1**2), rel=0.005)
    assert cone.bounding_box()[0] == pytest.approx(-1780)  # it looks straight rearward


def test_a_cone_turned_left_and_up_looks_there():
    cone = np.array(
        keepout.solid(
            Cone(turn_deg=90, half_deg=5, long_mm=500, behind_mm=1000, across_mm=0, height_mm=600), PICKUP
        ).bounding_box()
    )
    assert cone[4] == pytest.approx(500, abs=1) and cone[3] - cone[0] < 120
    up = np.array(
        keepout.solid(
            Cone(rise_deg=90, half_deg=5, long_mm=500, behind_mm=1000, height_mm=600), PICKUP
        ).bounding_box()
    )
    assert up[5] == pytest.approx(1100, abs=1)


def test_a_hatch_sweeps_a_sector():
    swing = Swing(
        hinge="across",
        behind_mm=1100,
        height_mm=1700,
        panel_mm=900,
        wide_mm=1200,
        thick_mm=1,
        start_deg=0,
        stop_deg=90,
    )
    body = keepout.solid(swing, PICKUP)
    assert body.volume() == pytest.approx(math.pi / 4 * 900**2 * 1200, rel=0.01)
    box = body.bounding_box()
    assert (
        box[0] == pytest.approx(-2000, abs=2)
        and box[2] == pytest.approx(800, abs=2)
        and box[5] == pytest.approx(1700, abs=2)
    )


def test_a_door_swings_from_the_left_round_to_the_rear():
    door = np.array(
        keepout.solid(
            Swing(
                hinge="upright",
                behind_mm=1000,
                across_mm=-600,
                height_mm=500,
                panel_mm=1000,
                wide_mm=800,
                thick_mm=1,
                start_deg=0,
                stop_deg=90,
            ),
            PICKUP,
        ).bounding_box()
    )
    assert (
        door[0] == pytest.approx(-2000, abs=2)
        and door[4] == pytest.approx(400, abs=2)
        and (door[2], door[5]) == pytest.approx((500, 1300))
    )


def test_a_wheel_at_bump_and_lock_holds_every_place_of_the_tyre():
    keep = WheelSweep(axle="front", side="left", bump_mm=90, droop_mm=60, lock_deg=35)
    body = keepout.solid(keep, PICKUP)
    r, w = PICKUP.tyre_mm / 2, PICKUP.tyre_width_mm / 2
    rng = np.random.default_rng(0)
    for _ in range(60):
        steer, lift = math.radians(rng.uniform(-35, 35)), rng.uniform(-60, 90)
        a, y = rng.uniform(0, 2 * math.pi), rng.uniform(-w, w)
        x, z = r * 0.985 * math.cos(a), r * 0.985 * math.sin(a)
        place = (
            PICKUP.wheelbase_mm + x * math.cos(steer) - y * math.sin(steer),
            PICKUP.track_mm / 2 + x * math.sin(steer) + y * math.cos(steer),
            r + z + lift,
        )
        probe = keepout.solid(
            Block(
                behind_mm=-place[0] - 0.5,
                long_mm=1,
                across_mm=place[1],
                wide_mm=1,
                height_mm=place[2] - 0.5,
                high_mm=1,
            ),
            PICKUP,
        )
        assert (body ^ probe).volume() > 0.5


def test_a_spanner_needs_its_sector():
    body = keepout.solid(Spanner(reach_mm=180, deep_mm=60, start_deg=0, stop_deg=90), PICKUP)
    assert body.volume() == pytest.approx(math.pi / 4 * 180**2 * 60, rel=0.01)


def test_a_part_inside_near_and_clear_of_a_keep_out_is_told_apart(job):
    assembly = families.build(job)
    ball = assembly.places["ball"]
    radius = 25.4  # the 2 in ball

    def met(gap, margin=20.0):
        keep = Block(
            name="wall",
            behind_mm=-ball[0] + radius + gap,
            long_mm=50,
            across_mm=0,
            wide_mm=10,
            height_mm=ball[2] - 2,
            high_mm=4,
            margin_mm=margin,
        )
        return [
            c
            for c in keepout.clashes(job.model_copy(update={"survey": Survey(keep_outs=(keep,))}), assembly)
            if "ball 2 in" in c.part
        ]

    assert not met(40.0) and not met(5.0, margin=2.0)
    near = met(10.0)
    assert (
        len(near) == 1 and near[0].gap_mm == pytest.approx(10.0, abs=0.15) and "10 mm of air" in near[0].words
    )
    inside = met(-10.0)
    assert inside[0].gap_mm == 0 and inside[0].volume_mm3 > 100 and "cuts into" in inside[0].words


def test_clashes_are_said_in_the_verdict_and_block_nothing(job):
    from urial.prove.verdict import prove

    keep = Block(
        name="spare wheel", reason="hangs there", behind_mm=950, long_mm=200, height_mm=400, high_mm=200
    )
    verdict = prove(job.model_copy(update={"survey": Survey(keep_outs=(keep,))}))
    assert verdict.holds and any("spare wheel" in w and "hangs there" in w for w in verdict.warnings)


@pytest.mark.parametrize("view", ["side", "rear", "top"])
def test_the_outline_in_a_view_has_the_shadows_area(view):
    right, up, _ = view_axes(view)
    keep = Block(long_mm=200, wide_mm=400, high_mm=150, margin_mm=20)
    (ring,) = keepout.outline(keep, PICKUP, right, up, False)
    x, y = ring.T
    area = abs(np.dot(x, np.roll(y, 1)) - np.dot(y, np.roll(x, 1))) / 2
    assert area == pytest.approx({"side": 200 * 150, "rear": 400 * 150, "top": 200 * 400}[view], rel=1e-6)
    (grown,) = keepout.outline(keep, PICKUP, right, up, True)
    assert np.ptp(grown, axis=0) == pytest.approx(np.ptp(ring, axis=0) + 40, abs=0.5)


def test_a_swing_that_ends_where_it_starts_is_refused():
    with pytest.raises(ValueError, match="ends where it starts"):
        Swing(start_deg=90, stop_deg=90)
    with pytest.raises(ValueError, match="second angle"):
        Spanner(start_deg=50, stop_deg=40)
