"""Marks, angles and twists of a bent tube: by hand, and by bending it again."""

import json
import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from urial.calc import registry
from urial.making.bends import NoBend, Tube, layout, machine_angle

TUBE = Tube(38.0, 3.0, 100.0)


def bent(found, start, way, plane):
    """The corners a bender makes of a layout: push, turn about the way, bend about the plane's normal."""

    def turned(v, axis, deg):
        a = np.asarray(axis) / np.linalg.norm(axis)
        c, s = math.cos(math.radians(deg)), math.sin(math.radians(deg))
        return v * c + np.cross(a, v) * s + a * (a @ v) * (1 - c)

    at, way, normal = np.array(start, float), np.array(way, float), np.array(plane, float)
    corners = [at]
    back = 0.0
    for b in found.bends:
        normal = turned(normal, way, b.rotation)
        out = 100.0 * math.tan(math.radians(b.angle) / 2)
        at = at + way * (back + b.straight + out)
        corners.append(at)
        way = turned(way, normal, b.angle)
        back = out
    corners.append(at + way * (back + found.last))
    return np.array(corners)


def test_a_tube_with_two_bends_by_hand():
    """Legs of 500, 400, 300 and two right angles on 100: tangents 100, so straights 400, 200, 200 and arcs of
    157.08; the second plane stands square to the first, a quarter turn to the right along y (z to x).
    """
    found = layout([(0, 0, 0), (500, 0, 0), (500, 400, 0), (500, 400, 300)], Tube(38, 3, 100, 80, 50))
    arc = 50 * math.pi
    assert [(b.angle, b.rotation, b.straight) for b in found.bends] == [
        pytest.approx((90, 0, 400)),
        pytest.approx((90, 90, 200)),
    ]
    assert [b.start for b in found.bends] == pytest.approx([400, 600 + arc])
    assert [b.clamp for b in found.bends] == pytest.approx([320, 520 + arc])
    assert found.last == pytest.approx(200) and found.cut == pytest.approx(800 + 2 * arc)
    assert found.warnings == ()


@given(
    st.lists(
        st.tuples(st.floats(-1, 1), st.floats(-1, 1), st.floats(-1, 1), st.floats(350, 900)),
        min_size=2,
        max_size=6,
    )
)
def test_bending_it_again_gives_the_corners_back(rows):
    """Corner by corner from the layout alone: what a bender does gives the line that was asked for."""
    points = [np.zeros(3)]
    for x, y, z, long in rows:
        way = np.array([x, y, z])
        assume(np.linalg.norm(way) > 0.2)
        points.append(points[-1] + long * way / np.linalg.norm(way))
    ways = np.diff(points, axis=0)
    ways /= np.linalg.norm(ways, axis=1)[:, None]
    angles = np.degrees(np.arccos(np.clip((ways[:-1] * ways[1:]).sum(axis=1), -1, 1)))
    assume(((angles > 2) & (angles < 115)).all())
    found = layout([tuple(map(float, p)) for p in points], TUBE)
    first = np.cross(ways[0], ways[1])
    again = bent(found, points[0], ways[0], first / np.linalg.norm(first))
    assert again == pytest.approx(np.array(points), abs=1e-5)


def test_a_corner_in_line_is_none_and_two_in_one_plane_without_a_straight_are_a_hoop():
    straight = layout([(0, 0, 0), (100, 0, 0), (300, 0, 0)], TUBE)
    assert straight.bends == () and straight.cut == straight.last == 300
    hoop = layout(
        [(0, 0, 0), (400, 0, 0), (400, 200, 0), (0, 200, 0)], TUBE
    )  # 200 between: tangents 100, 100
    (bend,) = hoop.bends
    assert bend.angle == pytest.approx(180) and bend.arc == pytest.approx(100 * math.pi)
    ess = layout(
        [(0, 0, 0), (400, 0, 0), (400, 200, 0), (800, 200, 0)], TUBE
    )  # the same, the other way round
    assert [b.rotation for b in ess.bends] == pytest.approx([0, 180]) and len(ess.bends) == 2


def test_the_dies_log_is_read_between_its_entries_and_held_at_its_ends():
    log = [(90.0, 93.0), (45.0, 47.0)]
    assert machine_angle(67.5, log) == (pytest.approx(70.0), False)  # half way from 47 to 93
    assert machine_angle(90.0, log) == (93.0, False) and machine_angle(45.0, log) == (47.0, False)
    assert machine_angle(120.0, log) == (123.0, True) and machine_angle(10.0, log) == (12.0, True)
    assert machine_angle(30.0, []) == (30.0, False)
    found = layout([(0, 0, 0), (500, 0, 0), (500 + 400 * math.cos(2), 400 * math.sin(2), 0)], TUBE, log)
    assert "outside the die's log" in found.warnings[0]


def test_short_straights_tails_and_thin_tubes_are_said():
    points = [(0, 0, 0), (170, 0, 0), (170, 250, 0), (170, 250, 140)]  # straights 70, 50, 40
    said = " ".join(layout(points, Tube(38, 1.5, 100, 60, 80)).warnings)
    assert (
        "Bend 2: the straight before it is 50 mm, and the clamp holds 60 mm" in said and "Bend 1" not in said
    )
    assert "first straight is 70 mm" in said and "last straight is 40 mm" in said
    assert "kinks" in said  # 2.6 diameters, a wall of 1/25
    assert "kinks" not in " ".join(layout(points, Tube(38, 2.0, 100)).warnings)  # 1/19
    assert "kinks" not in " ".join(layout(points, Tube(33, 1.5, 100)).warnings)  # 3.03 diameters


@pytest.mark.parametrize(
    ("points", "said"),
    [
        ([(0, 0, 0), (500, 0, 0), (500, 150, 0), (900, 150, 0)], "Corners 2 and 3 are 150 mm apart"),
        ([(0, 0, 0), (90, 0, 0), (90, 500, 0)], "Corners 1 and 2"),
        ([(0, 0, 0), (0, 0, 0), (90, 500, 0)], "Points 1 and 2 are the same"),
        ([(0, 0, 0), (500, 0, 0), (100, 0, 0)], "turns back on itself"),
        ([(0, 0, 0)], "two points"),
    ],
)
def test_what_no_die_bends_is_refused_by_its_corner(points, said):
    with pytest.raises(NoBend, match=said):
        layout(points, TUBE)


def ask(name, **question):
    return registry.ask(name, json.dumps(question))


def test_the_calculators_keep_their_contract():
    found = ask(
        "bend_layout",
        points_mm=[[0, 0, 0], [500, 0, 0], [500, 400, 0]],
        od_mm=38,
        wall_mm=3,
        clr_mm=100,
        clamp_mm=80,
        min_tail_mm=50,
        springback=[[45, 47], [90, 93]],
    )
    assert set(found) == {"cut_length_mm", "bends", "last_straight_mm", "warnings"}
    assert found["bends"][0]["machine_deg"] == 93 and found["bends"][0]["clamp_mark_mm"] == pytest.approx(320)
    # 6 mm round 8 by 90°: K 0.40, π/2 · 10.4 = 16.336; 2 · 14 − 16.336 = 11.664
    assert ask("plate_bend", thickness_mm=6, inside_radius_mm=8, angle_deg=90) == {
        "allowance_mm": pytest.approx(16.3363, abs=1e-4),
        "deduction_mm": pytest.approx(11.6637, abs=1e-4),
        "k": 0.4,
    }
    ks = [
        ask("plate_bend", thickness_mm=6, inside_radius_mm=r, angle_deg=30)["k"] for r in (5.9, 6, 18, 18.1)
    ]
    assert ks == [0.33, 0.40, 0.40, 0.45]
    assert ask("plate_bend", thickness_mm=6, inside_radius_mm=8, angle_deg=90, k=0.5)["k"] == 0.5
    # 200 round by 90° is 314.16; a slot of 2 in 40 closes 2 atan(1/40) = 2.864°: 32 of them
    slots = ask("slot_bend", od_mm=48, wall_mm=3, angle_deg=90, radius_mm=200, slot_mm=2, depth_mm=40)
    assert slots["slots"] == 32 and slots["angle_per_slot_deg"] == pytest.approx(2.8642, abs=1e-4)
    assert slots["pitch_mm"] == pytest.approx(314.159 / 32, rel=1e-5)
    assert slots["hinge_pitch_mm"] == pytest.approx(216 * math.pi / 2 / 32)
    for wrong in (
        {"od_mm": 48, "wall_mm": 3, "angle_deg": 90, "radius_mm": 200, "slot_mm": 2},
        {"od_mm": 48, "wall_mm": 3, "angle_deg": 90, "radius_mm": 200, "slot_mm": 2, "depth_mm": 48},
        {
            "od_mm": 48,
            "wall_mm": 3,
            "angle_deg": 90,
            "radius_mm": 200,
            "slot_mm": 2,
            "depth_mm": 9,
            "left_mm": 3,
        },
        {"width_mm": 48, "wall_mm": 3, "angle_deg": 90, "radius_mm": 200, "slot_mm": 2, "left_mm": 3},
    ):
        with pytest.raises(registry.CalcError):
            ask("slot_bend", **wrong)
