"""Swing against brute force: the same boxes sampled point by point."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial.road.swing import Body, first_touch, least_tongue, rotation

BALL = (-1400.0, 0.0, 450.0)
BUMPER = Body("bumper", (-1180.0, -900.0, 400.0), (-1080.0, 900.0, 700.0))


def nose(tongue, half=900.0, long=2000.0):
    return Body("nose", (-tongue - long, -half, -50.0), (-tongue, half, 400.0))


def sampled(body, step=8.0):
    """Points on a body's edges and corners in its own axes."""
    lo, hi = np.array(body.low), np.array(body.high)
    axes = [np.linspace(lo[k], hi[k], max(2, int((hi[k] - lo[k]) / step) + 1)) for k in range(3)]
    rows = []
    for k in range(3):
        i, j = (n for n in range(3) if n != k)
        for a in (lo[i], hi[i]):
            for b in (lo[j], hi[j]):
                p = np.zeros((len(axes[k]), 3))
                p[:, k], p[:, i], p[:, j] = axes[k], a, b
                rows.append(p)
    return np.concatenate(rows)


def brute(vehicle, trailer, side, pitch, roll, step=0.25):
    """First angle at which an edge point of one body is inside the other."""
    moving, fixed = sampled(trailer), sampled(vehicle)
    lo, hi, tlo, thi = (np.array(v) for v in (vehicle.low, vehicle.high, trailer.low, trailer.high))
    for angle in np.arange(0, 110 + step, step):
        R = rotation(side * angle, pitch, roll)
        world = moving @ R.T + BALL
        back = (fixed - BALL) @ R
        if ((world > lo) & (world < hi)).all(axis=1).any() or ((back > tlo) & (back < thi)).all(axis=1).any():
            return float(angle)
    return None


@given(
    st.floats(500, 1300),
    st.floats(300, 1000),
    st.sampled_from((1, -1)),
    st.sampled_from((0.0, 8.0, -6.0)),
    st.sampled_from((0.0, 5.0)),
)
def test_the_first_touch_is_where_brute_force_finds_it(tongue, half, side, pitch, roll):
    body = nose(tongue, half)
    found, expected = (
        first_touch([BUMPER], [body], BALL, side, pitch, roll),
        brute(BUMPER, body, side, pitch, roll),
    )
    if expected is None:
        assert found is None or found.angle_deg > 108
    elif found is not None:
        assert found.angle_deg == pytest.approx(expected, abs=0.8)
    else:
        raise AssertionError("brute force touches and the search does not")


def test_a_nose_corner_meets_the_bumper_where_the_circle_does():
    # the corner runs on a circle about the ball, and the bumper's rear face is 220 mm ahead of the ball
    body = nose(600.0, 500.0)
    r = math.hypot(600, 500)
    expected = math.degrees(math.acos(-220 / r) - math.atan2(500, 600))
    found = first_touch([BUMPER], [body], BALL)
    assert found.angle_deg == pytest.approx(expected, abs=0.02)
    assert (found.trailer, found.vehicle) == ("nose", "bumper") and found.at[0] == pytest.approx(-1180, abs=5)


def test_left_and_right_are_mirror_images():
    body = nose(650.0, 800.0)
    left, right = first_touch([BUMPER], [body], BALL, 1), first_touch([BUMPER], [body], BALL, -1)
    assert left.angle_deg == pytest.approx(right.angle_deg, abs=0.01) and left.at[1] == pytest.approx(
        -right.at[1], abs=5
    )


def test_the_least_tongue_just_turns_square():
    half = 900.0
    least = least_tongue([BUMPER], nose(0.0, half), BALL)
    # square across, the nose's near side lies `half` ahead of the ball and its front corner at the tongue's
    # length to the side;
    # it clears when the corner circle does: the corner must not pass the bumper's face within the bumper's
    # width
    assert all(first_touch([BUMPER], [nose(least, half)], BALL, s, farthest=90.0) is None for s in (1, -1))
    assert first_touch([BUMPER], [nose(least - 3, half)], BALL, farthest=90.0) is not None
    assert least_tongue([BUMPER], nose(0.0, 200.0), BALL) < 400 < least
