"""The linkage from the side: by virtual work, against the four-bar moved a little."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import fsolve

from urial import families
from urial.job import edit
from urial.prove.verdict import prove
from urial.road.linkage import Linkage

USUAL = Linkage((-20.0, 380.0), (760.0, 420.0), (120.0, 780.0), (640.0, 880.0))


def moved(links, turn):
    """Both pins after the lower link has turned a little: the top pin by both its lengths."""
    (ax, az), (bx, bz) = links.lower_pivot, links.lower_pin
    c, s = math.cos(turn), math.sin(turn)
    b = (ax + c * (bx - ax) - s * (bz - az), az + s * (bx - ax) + c * (bz - az))
    top = math.dist(links.top_pivot, links.top_pin)
    coupler = math.dist(links.lower_pin, links.top_pin)

    def off(d):
        return [math.dist(links.top_pivot, d) - top, math.dist(b, d) - coupler]

    return b, tuple(fsolve(off, links.top_pin, xtol=1e-13))


@given(st.floats(0, 1500), st.floats(300, 500), st.floats(700, 850), st.floats(860, 1000))
def test_speeds_are_those_of_the_four_bar_moved_a_little(behind, low, pivot, top):
    links = Linkage((-20.0, 380.0), (760.0, low), (120.0, pivot), (640.0, top))
    h = 1e-6
    (b0, d0), (b1, d1) = moved(links, -h), moved(links, h)
    turn = (math.atan2(d1[1] - b1[1], d1[0] - b1[0]) - math.atan2(d0[1] - b0[1], d0[0] - b0[0])) / (2 * h)
    up = (b1[1] - b0[1]) / (2 * h)
    at = up + turn * behind  # a place level with the lower pin, so far behind it
    assert links.speed_at(760.0 + behind) == pytest.approx(at / up, rel=1e-4, abs=1e-4)


def test_parallel_links_lift_as_much_anywhere_and_others_less_farther_out():
    level = Linkage((0.0, 400.0), (800.0, 420.0), (100.0, 800.0), (700.0, 815.0))
    assert level.centre is None and level.lift_at(750.0, 2000.0) == 750.0
    x, _ = USUAL.centre
    for far in (0.0, 300.0, 900.0):
        assert USUAL.lift_at(750.0, 760.0 + far) == pytest.approx(750.0 * (760 - x) / (760 + far - x))
    assert USUAL.lift_at(750.0, 400.0) == 750.0  # nearer than the pins the arms are the limit


def test_a_load_far_behind_the_pins_is_held_against_what_is_left_there():
    job = families.new_job("three-point-carriage")
    n = next(k for k, d in enumerate(job.duties) if d.kind == "implement")

    def check(j):
        return next(c for c in prove(j).checks if c.id == "lift at the load")

    near = check(job)
    far = check(edit.put(job, f"duties.{n}.behind_mm", job.duties[n].behind_mm + 700.0))
    assert far.available < near.available and far.utilisation > near.utilisation
    x, _ = USUAL.centre
    assert near.available == pytest.approx(
        job.vehicle.lift_kg * (760 - x) / (760 + job.duties[n].behind_mm - x)
    )
    assert not any("falls with the distance" in u.what for u in prove(job).unchecked)
