"""The hitched vehicle on its wheels, by levers and tangents worked by hand."""

import math

import pytest

from urial import families
from urial.assembly import bodies
from urial.job import edit
from urial.road.stance import stance


def test_axles_squat_and_level_by_hand(job):
    a = families.build(job)
    s = stance(job, a, [])
    over = -a.places["ball"][0]
    assert s.front_kg == pytest.approx(1150 - 190 * over / 3200) and s.front_kg + s.rear_kg == pytest.approx(
        2200 + 190
    )
    assert s.squat_mm == pytest.approx(9 * 1.9)
    assert s.ball_empty_mm - s.ball_loaded_mm == pytest.approx(s.squat_mm)
    assert s.drop_change_mm == pytest.approx(a.places["ball"][2] - s.squat_mm - job.duty.coupler_height_mm)


def test_what_hangs_nearer_counts_less_and_not_towing_nothing(job):
    a = families.build(job)
    over = -a.places["ball"][0]
    alone = job.model_copy(update={"duty": job.duty.model_copy(update={"towed": False})})
    assert stance(alone, a, []).squat_mm == 0
    assert stance(alone, a, [(100.0, over)]).squat_mm == pytest.approx(9)
    assert stance(alone, a, [(100.0, 0.0)]).squat_mm == pytest.approx(9 * 3200 / (3200 + over))


def test_the_departure_line_touches_the_tyre_and_the_lowest_corner(job):
    a = families.build(job)
    s = stance(job, a, [])
    r, angle = job.vehicle.tyre_mm / 2, math.radians(s.departure_deg)
    # the line tangent to the tyre at that angle: no part's corner is below it, and one is on it
    heights = []
    for p in a.parts:
        (x, _, z), _ = bodies.corners(p)
        if x < -r:
            on_line = r - r / math.cos(angle) + -x * math.tan(angle)
            heights.append(z - s.squat_mm - on_line)
    assert min(heights) == pytest.approx(0, abs=0.01)


def test_less_ground_under_the_jack_means_less_breakover(job):
    a = families.build(job)
    low = edit.put(job, "running.jack_foot_mm", 120.0)
    assert stance(low, a, []).breakover_deg < stance(job, a, []).breakover_deg
