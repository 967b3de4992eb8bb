"""What must hold for every calculator whatever the numbers: balance, superposition, turning, scaling."""

from __future__ import annotations

import json
import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from urial.calc.registry import CalcError, ask

size = st.floats(5.0, 400.0)
force = st.floats(-40_000.0, 40_000.0)


def put(name: str, **question: object):
    return ask(name, json.dumps(question))


# ---- sections


@given(st.floats(20, 200), st.floats(20, 200), st.floats(2, 9))
def test_a_square_cornered_tube_is_a_bar_less_a_bar(wide, high, wall):
    tube = put("section", shape="rect_tube", width_mm=wide, height_mm=high, wall_mm=wall, outer_radius_mm=0.0)
    outer = put("section", shape="rect_bar", width_mm=wide, height_mm=high)
    inner = put("section", shape="rect_bar", width_mm=wide - 2 * wall, height_mm=high - 2 * wall)
    for key in ("area_mm2", "Iy_mm4", "Iz_mm4", "mass_kg_per_m", "Wply_mm3", "Wplz_mm3"):
        assert tube[key] == pytest.approx(outer[key] - inner[key], rel=1e-6), key


@given(st.floats(15, 200), st.floats(1.5, 7.0))
def test_a_round_tube_is_a_round_less_a_round_and_alike_about_both_axes(od, wall):
    tube = put("section", shape="round_tube", od_mm=od, wall_mm=wall)
    outer, inner = (put("section", shape="round_bar", od_mm=d) for d in (od, od - 2 * wall))
    for key in ("area_mm2", "Iy_mm4", "J_mm4", "Wply_mm3"):
        assert tube[key] == pytest.approx(outer[key] - inner[key], rel=1e-6), key
    assert tube["Iy_mm4"] == tube["Iz_mm4"] and tube["J_mm4"] == pytest.approx(2 * tube["Iy_mm4"])
    assert tube["Wely_mm3"] == pytest.approx(tube["Iy_mm4"] / (od / 2))


@given(st.floats(20, 100), st.floats(20, 100), st.floats(2, 6), st.floats(1.1, 4.0))
def test_a_section_twice_as_large_has_powers_of_two_of_everything(wide, high, wall, times):
    small = put("section", shape="rect_tube", width_mm=wide, height_mm=high, wall_mm=wall)
    large = put(
        "section", shape="rect_tube", width_mm=times * wide, height_mm=times * high, wall_mm=times * wall
    )
    for key, power in (("area_mm2", 2), ("Iy_mm4", 4), ("J_mm4", 4), ("Welz_mm3", 3), ("Wply_mm3", 3)):
        assert large[key] == pytest.approx(small[key] * times**power, rel=1e-6), key


@given(st.floats(20, 100), st.floats(20, 100), st.floats(2, 6))
def test_a_section_laid_on_its_side_changes_its_axes_over(wide, high, wall):
    one = put("section", shape="rect_tube", width_mm=wide, height_mm=high, wall_mm=wall)
    two = put("section", shape="rect_tube", width_mm=high, height_mm=wide, wall_mm=wall)
    for y, z in (("Iy_mm4", "Iz_mm4"), ("Wely_mm3", "Welz_mm3"), ("Wply_mm3", "Wplz_mm3")):
        assert one[y] == pytest.approx(two[z]) and one[z] == pytest.approx(two[y])
    assert one["J_mm4"] == pytest.approx(two["J_mm4"])


# ---- frames

AXES = st.tuples(*[st.floats(-1, 1)] * 3).filter(lambda v: math.hypot(*v) > 0.2)


def portal(loads: dict[str, dict[str, list[float]]], turn: np.ndarray | None = None) -> dict[str, object]:
    """Two posts and a beam, fixed at the feet, all turned about the origin."""
    r = np.eye(3) if turn is None else turn
    nodes = {"A": (0, 0, 0), "B": (0, 0, 500), "C": (800, 100, 500), "D": (800, 100, 0)}
    member = {"E_MPa": 2e5, "G_MPa": 77200, "area_mm2": 900, "Iy_mm4": 9e5, "Iz_mm4": 4e5, "J_mm4": 6e5}
    ups = {"AB": (1, 0, 0), "BC": (0, 0, 1), "CD": (1, 0, 0)}
    turned = {
        case: {n: [*(r @ v[:3]).tolist(), *(r @ v[3:]).tolist()] for n, v in at.items()}
        for case, at in loads.items()
    }
    return {
        "nodes": {k: (r @ np.array(v, dtype=float)).tolist() for k, v in nodes.items()},
        "members": [
            {"id": m, "i": m[0], "j": m[1], "up": (r @ np.array(up, dtype=float)).tolist(), **member}
            for m, up in ups.items()
        ],
        "supports": {"A": [1] * 6, "D": [1] * 6},
        "loads": turned,
    }


load6 = st.lists(st.floats(-5000, 5000), min_size=6, max_size=6)


@given(load6, load6)
def test_what_two_loads_do_together_is_the_sum_of_what_each_does(one, two):
    out = ask("frame", json.dumps(portal({"1": {"B": one}, "2": {"C": two}, "12": {"B": one, "C": two}})))
    for n in "BC":
        got = np.array(out["12"]["displacements"][n])
        want = np.array(out["1"]["displacements"][n]) + np.array(out["2"]["displacements"][n])
        assert got == pytest.approx(want, rel=1e-6, abs=1e-9)


@given(st.integers(0, 5), st.integers(0, 5))
def test_a_push_here_moves_there_what_a_push_there_moves_here(i, j):
    """Maxwell and Betti."""
    at_b, at_c = [0.0] * 6, [0.0] * 6
    at_b[i], at_c[j] = 1000.0, 1000.0
    out = ask("frame", json.dumps(portal({"b": {"B": at_b}, "c": {"C": at_c}})))
    assert out["b"]["displacements"]["C"][j] == pytest.approx(
        out["c"]["displacements"]["B"][i], rel=1e-6, abs=1e-10
    )


@given(load6)
def test_the_feet_hold_what_is_put_on(load):
    out = ask("frame", json.dumps(portal({"it": {"C": load}})))["it"]["reactions"]
    total = np.array(load[:3], dtype=float)
    moment = np.array(load[3:]) + np.cross((800, 100, 500), load[:3])
    for foot, at in (("A", (0, 0, 0)), ("D", (800, 100, 0))):
        r = np.array(out[foot])
        total, moment = total + r[:3], moment + r[3:] + np.cross(at, r[:3])
    assert np.abs(total).max() < 1e-5 and np.abs(moment).max() < 1e-2


@given(AXES, st.floats(-3, 3), load6)
def test_a_turned_frame_bends_as_it_did_before(axis, angle, load):
    x, y, z = np.array(axis) / np.linalg.norm(axis)
    k = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    r = np.eye(3) + math.sin(angle) * k + (1 - math.cos(angle)) * k @ k
    straight = ask("frame", json.dumps(portal({"it": {"C": load}})))["it"]
    turned = ask("frame", json.dumps(portal({"it": {"C": load}}, r)))["it"]
    there = np.array(straight["displacements"]["C"])
    want = np.concatenate([r @ there[:3], r @ there[3:]])
    assert turned["displacements"]["C"] == pytest.approx(want, rel=1e-6, abs=1e-9)
    for m, ends in straight["members"].items():  # in the member's own axes, so the same figures
        assert turned["members"][m]["i"] == pytest.approx(ends["i"], rel=1e-6, abs=1e-3)


# ---- welds and bolts

RECTANGLE = [[0, 0, 0, 180], [90, 0, 90, 180], [0, 0, 90, 0], [0, 180, 90, 180]]


def weld(segments=RECTANGLE, leg=6.0, load=(3000.0, -9000.0, 0.0), at=(60.0, 300.0, 0.0)):
    return put("weld_group", segments_mm=segments, leg_mm=leg, electrode_MPa=482, force_N=load, point_mm=at)


@given(st.floats(3, 12), st.floats(0.1, 8))
def test_a_weld_is_used_in_proportion_to_its_load_and_its_leg(leg, times):
    one, more = weld(leg=leg), weld(leg=leg, load=(3000.0 * times, -9000.0 * times, 0.0))
    assert more["elastic"]["utilisation"] == pytest.approx(times * one["elastic"]["utilisation"])
    assert more["instantaneous_centre"]["utilisation"] == pytest.approx(
        times * one["instantaneous_centre"]["utilisation"], rel=2e-3
    )
    thicker = weld(leg=2 * leg)
    assert thicker["elastic"]["utilisation"] == pytest.approx(one["elastic"]["utilisation"] / 2)


@given(st.floats(-180, 180), st.floats(-300, 300), st.floats(-300, 300))
def test_a_weld_turned_and_moved_with_its_load_is_used_as_before(degrees, dx, dy):
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))

    def there(x, y):
        return c * x - s * y + dx, s * x + c * y + dy

    moved = [[*there(a, b), *there(d, e)] for a, b, d, e in RECTANGLE]
    fx, fy = 3000.0, -9000.0
    new = weld(moved, load=(c * fx - s * fy, s * fx + c * fy, 0.0), at=(*there(60.0, 300.0), 0.0))
    old = weld()
    assert new["elastic"]["max_N_per_mm"] == pytest.approx(old["elastic"]["max_N_per_mm"], rel=1e-6)
    assert new["instantaneous_centre"]["nominal_N"] == pytest.approx(
        old["instantaneous_centre"]["nominal_N"], rel=5e-3
    )


@given(force, force, st.floats(-400, 400), st.floats(-400, 400))
def test_the_elastic_method_never_finds_a_weld_stronger_than_its_nominal_strength(fx, fy, x, y):
    """By its nature: redistribution can only add, but for fillets along the load, which are weaker."""
    assume(math.hypot(fx, fy) > 100)
    out = weld(load=(fx, fy, 0.0), at=(x, y, 0.0))
    assert out["instantaneous_centre"]["utilisation"] <= 1.08 * out["elastic"]["utilisation"]


@given(st.lists(st.tuples(size, size), min_size=2, max_size=8, unique=True), force, force, size, size)
def test_bolts_share_a_force_and_its_moment(places, fx, fy, x, y):
    xs, ys = zip(*places, strict=True)
    spread = sum((a - sum(xs) / len(xs)) ** 2 + (b - sum(ys) / len(ys)) ** 2 for a, b in places)
    assume(math.hypot(fx, fy) > 500 and spread > 50)
    q = {"diameter_mm": 16, "Fu_MPa": 830, "threads_in_plane": True, "force_N": [fx, fy]}
    out = put("bolt_group", bolts_mm=places, point_mm=[x, y], **q)
    cx, cy = sum(xs) / len(xs), sum(ys) / len(ys)
    moment = (x - cx) * fy - (y - cy) * fx
    worst = max(
        math.hypot(
            fx / len(places) - moment * (b - cy) / spread, fy / len(places) + moment * (a - cx) / spread
        )
        for a, b in places
    )
    assert out["elastic"]["max_shear_N"] == pytest.approx(worst, rel=1e-6)


@given(st.floats(-800, 800))
def test_a_force_moved_along_its_own_line_asks_the_same(along):
    bolts = [[0, 0], [60, 0], [0, 80], [60, 80]]
    q = {"bolts_mm": bolts, "diameter_mm": 16, "Fu_MPa": 830, "threads_in_plane": False}
    one = put("bolt_group", **q, force_N=[3000, -4000], point_mm=[150, 20])
    two = put("bolt_group", **q, force_N=[3000, -4000], point_mm=[150 + 0.6 * along, 20 - 0.8 * along])
    assert one["elastic"]["max_shear_N"] == pytest.approx(two["elastic"]["max_shear_N"], rel=1e-6)


@given(st.floats(500, 50_000), st.floats(8, 30), st.floats(0.1, 6))
def test_a_pin_is_used_in_proportion_and_a_thicker_one_less(load, diameter, times):
    q = {
        "Fu_MPa": 860,
        "Fy_MPa": 655,
        "outer_thickness_mm": 6,
        "inner_thickness_mm": 50,
        "gap_mm": 1,
        "plate_Fy_MPa": 317,
    }
    one = put("pin", load_N=load, diameter_mm=diameter, **q)
    more = put("pin", load_N=times * load, diameter_mm=diameter, **q)
    thick = put("pin", load_N=load, diameter_mm=1.2 * diameter, **q)
    for what in ("shear", "bending", "bearing_outer", "bearing_inner"):
        assert more[what]["utilisation"] == pytest.approx(times * one[what]["utilisation"])
        assert thick[what]["utilisation"] < one[what]["utilisation"]
    assert thick["shear"]["utilisation"] == pytest.approx(one["shear"]["utilisation"] / 1.44)
    assert thick["bending"]["utilisation"] == pytest.approx(one["bending"]["utilisation"] / 1.2**3)


# ---- on the road


@given(st.floats(0.5, 4), st.floats(0.5, 4))
def test_a_coupling_does_not_mind_which_end_is_the_heavier(a, b):
    one, two = (put("coupling_values", towing_t=x, trailer_t=y)["D_kN"] for x, y in ((a, b), (b, a)))
    assert one == pytest.approx(two) and one < 9.80665 * min(a, b)


@given(
    st.floats(2000, 4000), st.floats(300, 1500), st.floats(500, 1500), st.floats(500, 1500), st.floats(0, 250)
)
def test_a_tongue_takes_from_the_front_what_it_adds_behind_beyond_itself(base, over, front, rear, tongue):
    out = put(
        "axle_loads",
        wheelbase_mm=base,
        ball_overhang_mm=over,
        front_kg=front,
        rear_kg=rear,
        tongue_kg=tongue,
    )
    assert out["front_kg"] + out["rear_kg"] == pytest.approx(front + rear + tongue)
    assert (out["rear_kg"] - rear) * base == pytest.approx(tongue * (base + over), abs=1e-3)


@given(st.floats(100, 20_000), st.floats(0, 150))
def test_two_legs_hold_a_pull_between_them(pull, angle):
    out = put("strap_anchor", pull_N=pull, leg_angle_deg=angle, break_N=60_000, legs=2)
    assert 2 * out["leg_N"] * math.cos(math.radians(angle / 2)) == pytest.approx(pull)


@given(st.tuples(st.floats(-500, 500), st.floats(-500, 500), st.floats(-500, 500)), st.floats(-180, 180))
def test_a_place_found_by_tapes_moves_and_turns_with_what_they_start_from(shift, degrees):
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))

    def there(p):
        return [c * p[0] - s * p[1] + shift[0], s * p[0] + c * p[1] + shift[1], p[2] + shift[2]]

    known = [[0, 400, 300], [0, -400, 300], [-900, 380, 520], [-900, -390, 560]]
    place = [-1300.0, 60.0, 210.0]
    tapes = [math.dist(place, p) + e for p, e in zip(known, (0.4, -0.7, 0.9, -0.3), strict=True)]
    one = put("triangulate", points_mm=known, tapes_mm=tapes)
    two = put("triangulate", points_mm=[there(p) for p in known], tapes_mm=tapes)
    assert two["point_mm"] == pytest.approx(there(one["point_mm"]), abs=1e-3)
    assert two["residuals_mm"] == pytest.approx(one["residuals_mm"], abs=1e-4)


@given(st.floats(-200, 200), st.floats(0, 60))
def test_a_receiver_that_stands_higher_wants_a_deeper_drop(up, squat):
    one, two = (
        put("hitch_height", receiver_mm=500 + x, coupler_mm=430, ball_mm=54, squat_mm=squat)["drop_mm"]
        for x in (0.0, up)
    )
    assert two - one == pytest.approx(up)


@given(
    st.lists(st.tuples(st.floats(20, 900), st.floats(300, 4500)), min_size=1, max_size=6),
    st.floats(1500, 3500),
)
def test_axles_and_tongue_carry_what_is_loaded(masses, axle):
    out = put("trailer_balance", axles_mm=[axle], masses=[{"kg": m, "x_mm": x} for m, x in masses])
    total = sum(m for m, _ in masses)
    assert out["total_kg"] == pytest.approx(total)
    about_the_axle = sum(m * (axle - x) for m, x in masses)
    assert out["tongue_kg"] * axle == pytest.approx(about_the_axle, abs=1e-6 * total * axle)


@pytest.mark.parametrize("figure", [1e13, -1e300, 10**200, 10**400])
def test_no_figure_that_nothing_is_gets_as_far_as_a_library(figure, capfd, recwarn):
    weld = {
        "segments_mm": [[0, 0, 0, 200], [100, 0, 100, figure]],
        "leg_mm": 6,
        "electrode_MPa": 482,
        "force_N": [0, -10000, 0],
        "point_mm": [50, 100, 0],
    }
    with pytest.raises(CalcError, match=r"segments_mm|figure|too large|range") as refused:
        ask("weld_group", json.dumps(weld))
    assert "\n" not in str(refused.value) and "http" not in str(refused.value)
    assert not recwarn.list and capfd.readouterr() == ("", "")


def test_weighing_refuses_in_our_own_words():
    with pytest.raises(CalcError) as refused:
        ask("weigh", json.dumps({"method": "bridge", "sigma_kg": 1e-9, "reading_kg": 20}))
    assert "validation error" not in str(refused.value) and "http" not in str(refused.value)
    assert "\n" not in str(refused.value)
