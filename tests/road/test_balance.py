import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial.road import balance


@given(
    st.floats(1000, 6000), st.floats(0, 3000), st.floats(100, 3000), st.floats(100, 3000), st.floats(0, 500)
)
def test_axle_loads_balance_about_both_axles(base, over, front, rear, tongue):
    a = balance.axle_loads(base, over, front, rear, tongue)
    assert a.front_kg + a.rear_kg == pytest.approx(front + rear + tongue)
    assert a.rear_kg * base == pytest.approx(rear * base + tongue * (base + over))  # about the front axle


@given(
    st.lists(st.tuples(st.floats(1, 2000), st.floats(-500, 6000)), min_size=1, max_size=6),
    st.lists(st.floats(1500, 5000), min_size=1, max_size=3),
)
def test_trailer_balance_is_static_equilibrium(masses, axles):
    b = balance.trailer_balance(axles, masses)
    assert b.tongue_kg + b.axle_kg == pytest.approx(b.total_kg)
    about_coupling = sum(kg * x for kg, x in masses)
    assert b.axle_kg * sum(axles) / len(axles) == pytest.approx(about_coupling, abs=1e-6)


def test_drop_by_hand():
    assert balance.hitch_drop(500, 450, 54, 20) == 84


def test_an_implement_leaves_the_front_axle_what_the_lever_says():
    # 300 kg, 1280 mm behind the axle of a 1640 mm wheelbase, lifts 234 kg off a front axle of 470 kg
    assert balance.front_share_left(1640, 470, 1110, 300, 1280) == pytest.approx(
        100 * (470 - 300 * 1280 / 1640) / 1110
    )
    assert balance.front_share_left(1640, 470, 1110, 300, 0) == pytest.approx(100 * 470 / 1110)


def test_ballast_is_in_equilibrium_and_grips_by_what_it_presses():
    b = balance.ballasted(1600, 200, 800, 0.5)
    assert (b.rear_gain_kg, b.front_loss_kg) == (300, 100) and b.rear_gain_kg - b.front_loss_kg == 200
    assert b.traction_N == pytest.approx(0.5 * 300 * 9.80665)
    ahead = balance.ballasted(1600, 200, -400, 0.5)
    assert ahead.front_loss_kg == -50 and ahead.rear_gain_kg == 150
