"""What a load factor may be."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial.loads.factors import ANGLES, BOUNDS, refused

POLICY = {"bounce": 2.0, "pitch": -0.5, "turn": 30.0}


@given(st.sampled_from(sorted(BOUNDS)), st.floats(0, 1))
def test_within_its_bounds_a_factor_without_a_policy_is_taken(name, share):
    low, high = BOUNDS[name]
    assert refused("Bump", "factor", {}, name, low + share * (high - low)) == ""


@given(st.sampled_from(sorted(BOUNDS)), st.floats(0.01, 100))
def test_beyond_them_it_is_refused_with_both_bounds(name, over):
    low, high = BOUNDS[name]
    for value in (low - over, high + over):
        said = refused("Bump", "how hard", {}, name, value)
        assert (
            said.startswith("Bump, how hard: ")
            and f"between {low:g} and {high:g}" in said
            and said.endswith(".")
        )


@pytest.mark.parametrize(("name", "value", "way"), [("bounce", -1.0, "positive"), ("pitch", 0.4, "negative")])
def test_the_other_sign_would_be_another_case(name, value, way):
    said = refused("Bump", "bounce", POLICY, name, value)
    assert f"write it {way}, or 0" in said
    assert refused("Bump", "bounce", POLICY, name, 0.0) == ""
    assert refused("Bump", "bounce", POLICY, name, -value) == ""


def test_an_angle_may_go_either_way():
    assert all(refused("Winch", "side", POLICY, name, -30.0) == "" for name in ANGLES)
