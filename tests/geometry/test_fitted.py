"""Lines and arcs through rows of points: what was chopped into chords comes back as it was, and nothing lies
farther off than the tolerance.
"""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Point, Polygon

from urial.geometry.fitted import NoOutline, checked, circle, fitted, signed_area
from urial.geometry.outline import area, flatten, polygon, rectangle, rounded_hull

SHAPES = {
    "square corners": rectangle(0, 0, 50, 40),
    "round corners": rectangle(0, 0, 200, 100, 15),
    "hull": rounded_hull([(0, 0), (120, 10), (60, 90)], 25),
    "bulges in and out": ((0, 0, 0.0), (100, 0, 0.4), (100, 60, -0.3), (50, 60, 0.0), (0, 60, 0.0)),
    "slot": rounded_hull([(0, 0), (60, 0)], 9),
    "notched": polygon([(0, 0), (100, 0), (100, 50), (60, 50), (60, 20), (40, 20), (40, 50), (0, 50)]),
}


@pytest.mark.parametrize("name", SHAPES)
@pytest.mark.parametrize("degrees", [1, 3, 6])
@pytest.mark.parametrize("turn", [0, 1, 7])
def test_chords_come_back_as_the_lines_and_arcs_they_were(name, degrees, turn):
    outline = SHAPES[name]
    ring = np.roll(np.array(flatten(outline, math.radians(degrees))), turn, axis=0)
    found = fitted(ring, 0.05)
    assert len(found) <= len(outline) + 1  # the first place may lie in the middle of an edge
    assert area(found) == pytest.approx(area(outline), rel=2e-4)
    far = Polygon(flatten(found, math.radians(1))).symmetric_difference(
        Polygon(flatten(outline, math.radians(1)))
    )
    assert far.buffer(-0.05).is_empty


def test_a_ring_that_runs_with_the_clock_comes_out_against_it():
    ring = np.array(flatten(SHAPES["round corners"]))[::-1]
    assert signed_area(ring) < 0 < area(fitted(ring, 0.05))


@settings(max_examples=15, deadline=None)
@given(
    st.integers(0, 10**6),
    st.floats(0.05, 1.0),
    st.sampled_from(sorted(SHAPES)),
)
def test_no_place_lies_farther_off_than_the_tolerance(seed, tolerance, name):
    """Noise of a third of the tolerance on every place."""
    rng = np.random.default_rng(seed)
    ring = np.array(flatten(SHAPES[name], math.radians(3)))
    fine = np.vstack(
        [a + (b - a) * t for a, b in zip(ring, np.roll(ring, -1, axis=0), strict=True) for t in (0, 0.5)]
    )
    fine = fine + rng.uniform(-tolerance / 3, tolerance / 3, fine.shape)
    found = Polygon(flatten(fitted(fine, tolerance), math.radians(0.5))).exterior
    assert max(found.distance(Point(p)) for p in fine) <= 1.05 * tolerance
    assert len(fitted(fine, tolerance)) < len(fine) / 2 or name in ("square corners", "notched")


def test_a_circle_is_one_and_a_polygon_is_none():
    round_ = np.array(flatten(rounded_hull([(3, 4)], 20), 0.05))
    assert circle(round_, 0.05) == pytest.approx((3.0, 4.0, 40.0))
    noisy = round_ + np.random.default_rng(1).uniform(-0.02, 0.02, round_.shape)
    assert circle(noisy, 0.05) == pytest.approx((3.0, 4.0, 40.0), abs=0.02)
    for corners in (3, 6, 8, 12):
        turn = np.arange(corners) * 2 * math.pi / corners
        assert circle(20 * np.stack([np.cos(turn), np.sin(turn)], axis=1), 0.05) is None
    assert circle(np.array(flatten(rectangle(0, 0, 40, 40, 18), 0.05)), 0.05) is None
    half = round_[: len(round_) // 2]
    assert circle(half, 0.05) is None


def test_what_makes_no_outline_says_why():
    with pytest.raises(NoOutline, match="no area"):
        fitted([(0, 0), (1, 1)], 0.1)
    with pytest.raises(NoOutline, match="no area"):
        fitted([(0, 0), (0, 0), (5, 5), (5, 5)], 0.1)
    bow = ((0.0, 0.0, 0.0), (10.0, 10.0, 0.0), (10.0, 0.0, 0.0), (0.0, 9.0, 0.0))
    with pytest.raises(NoOutline, match="crosses itself at"):
        checked(bow)
    assert checked(SHAPES["slot"]) == SHAPES["slot"]
