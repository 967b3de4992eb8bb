"""Bolts as they are tightened: which first, how long, how tight; a thin thread and timber are not torn."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import families
from urial.assembly.model import HOST, Bolts, Metal
from urial.geometry.place import Place
from urial.job import edit
from urial.making.fastened import bolted, crosswise, seen, words
from urial.making.parts import IN_TIMBER, parts_list, torque_note
from urial.making.plan import plan
from urial.measure.concerns import concerns
from urial.papers.section import Shown
from urial.papers.sections.handover import _again
from urial.prove.verdict import prove
from urial.stock import catalogue
from urial.strength import bolts as strong

NAMES = sorted(families.families())


def groups(name):
    a = families.build(families.new_job(name))
    return a, bolted(a, plan(a))


# ---- which first


def test_from_the_middle_out_by_hand():
    row = [(0.0, 0.0), (50.0, 0.0), (100.0, 0.0), (150.0, 0.0), (200.0, 0.0)]
    assert crosswise(row) == (2, 1, 3, 0, 4)  # then across from the last each time: 0 is 150 from hole 3
    square = [(0.0, 0.0), (80.0, 0.0), (80.0, 60.0), (0.0, 60.0)]
    assert crosswise(square) == (0, 2, 3, 1)  # 3 is 80 from hole 2, and 1 is 60
    assert crosswise([(5.0, 5.0)]) == (0,) and crosswise([]) == ()


def test_six_on_a_circle_go_across():
    ring = [(50 * math.cos(math.radians(60 * n)), 50 * math.sin(math.radians(60 * n))) for n in range(6)]
    order = crosswise(ring)
    assert order[0] == 0 and order[1] == 3  # straight across
    assert all(math.dist(ring[a], ring[b]) > 60 for a, b in ((order[0], order[1]), (order[2], order[3])))


@given(st.lists(st.tuples(st.integers(-200, 200), st.integers(-200, 200)), max_size=9, unique=True))
def test_every_hole_once_and_never_farther_out_before_nearer(holes):
    order = crosswise(holes)
    assert sorted(order) == list(range(len(holes)))
    if holes:
        middle = [sum(h[k] for h in holes) / len(holes) for k in (0, 1)]
        away = [round(math.dist(holes[n], middle)) for n in order]
        assert away == sorted(away)


# ---- how long


def test_a_rail_bolt_by_hand():
    """M12 through plate, rail and two washers; what is left past grip and nut shows."""
    a, rows = groups("rear-receiver")
    j = next(x for x in a.joints if x.name == "left rail bolts")
    row = next(r for r in rows if r.name == "left rail bolts")
    bolt = j.how.bolt
    plate = next(p.shape.t for p in a.parts if p.key == j.a)
    grip = plate + j.how.metal[0].t + 2 * bolt.washer
    assert row.grip == pytest.approx(grip, abs=0.01)
    assert row.shows == pytest.approx(40.0 - grip - bolt.nut, abs=0.01) and row.long == 40.0
    assert row.held is None and row.short == "" and row.count == len(j.how.holes)
    tension = 0.75 * j.how.grade.of(12.0).proof * bolt.stress_area
    assert row.torque == pytest.approx(0.2 * 12.0 * tension / 1000, rel=1e-3)
    assert row.order == ("left hole 2", "left hole 1", "left hole 3")


@pytest.mark.parametrize("name", NAMES)
def test_bolts_of_every_kind_are_long_enough_and_each_is_in_one_group(name):
    a, rows = groups(name)
    keys = [k for r in rows for k in r.joints]
    torqued = [s.joints[0] for s in plan(a).steps if s.kind == "torque"]
    known = [k for k in torqued if hasattr(a.joint_by_key[k].how, "bolt")]
    assert sorted(keys) == sorted(known)
    for r in rows:
        assert r.shows is None or r.shows >= catalogue.bolt(r.bolt).pitch - 1e-6, (name, r)
        assert r.long is not None, (name, r.name)


def test_joints_that_share_their_bolts_are_one_group_and_coaxial_ones_are_not():
    assert [r.name for r in groups("front-receiver")[1]] == [
        "left inner bolts and left outer bolts",
        "right inner bolts and right outer bolts",
    ]
    assert len(groups("two-wheeler")[1]) == 4  # left and right hang on the same line, each by its own


def test_seen_from_outside_front_holes_of_the_left_side_are_to_the_left():
    a = families.build(families.new_job("rear-receiver"))
    for side, sign in (("left", 1), ("right", -1)):
        j = next(x for x in a.joints if x.name == f"{side} rail bolts")
        at = seen(j, j.how.holes)
        rearward = [sign * x for x, _ in at]
        assert rearward == sorted(rearward) and len(rearward) == 3


def test_what_looks_down_is_seen_with_the_front_up():
    a = families.build(families.new_job("rear-receiver"))
    j = next(x for x in a.joints if x.name == "left rail bolts")
    flat = replace(j, place=Place((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, -1.0, 0.0), (0.0, 0.0, -1.0)))
    (front,) = seen(flat, [(10.0, 0.0)])  # x is forward
    assert front == pytest.approx((0.0, 10.0))


# ---- how tight


def thread(t, fu=360.0, d=8.0):
    return 0.60 * fu * 0.5 * math.pi * d * t


def test_a_thin_thread_limits_the_torque_by_hand():
    """M8 in 4 mm of S235: 0.6 · 360 · 0.5 π · 8 · 4 = 10 857 N strip it; half of it: 5 429 N, 8.7 N·m."""
    a, rows = groups("two-wheeler")
    assert thread(4.0) == pytest.approx(10_857, abs=1)
    row = rows[0]
    assert row.torque == pytest.approx(8.686, abs=2e-3) and row.held == pytest.approx(4.0)
    assert "half of what strips the thread it goes into, 4 mm deep" in row.limit
    assert "4.0 mm hold, and 14.4 mm would do" in row.short  # 0.75 · 1040 · 50.27 / (0.6 · 360 · 0.5 π · 8)
    step = next(s for s in plan(a).steps if s.kind == "torque")
    assert step.reads[0].wanted == pytest.approx(row.torque) and "No more: it is half" in step.words
    assert "9 N·m dry" in torque_note(a) and "strips the thread" in torque_note(a)


def test_a_deep_thread_does_not():
    """0.75 · 830 · 36.6 = 22 784 N for M8 10.9; half of what strips it reaches that at 16.8 mm."""
    job = families.new_job("two-wheeler")
    for side in ("left", "right"):
        for n in range(2):
            job = edit.put(job, f"vehicle.{side}.{n}.wall_mm", 17.0)
    a = families.build(job)
    row = bolted(a, plan(a))[0]
    assert row.limit == "" and row.short == "" and row.torque == pytest.approx(0.2 * 8 * 22.784, rel=2e-3)


def test_the_limit_itself_on_both_sides():
    a = families.build(families.new_job("two-wheeler"))
    how = next(j.how for j in a.joints if isinstance(j.how, Bolts) and HOST in (j.a, j.b))
    steel = how.metal[0].material
    full = strong.preload(how.grade.of(8.0).proof, how.bolt.stress_area)
    exact = full * 2.0 / (0.60 * steel.Fu * 0.5 * math.pi * 8.0)
    for t, wanted in ((exact + 0.01, full), (exact - 1.0, full * (exact - 1.0) / exact)):
        one = replace(how, metal=(Metal(steel, t, True),))
        assert strong.tightened(one) == pytest.approx(wanted, rel=1e-6)
    through = replace(how, metal=(Metal(steel, 1.0, False),))
    assert strong.tightened(through) == pytest.approx(full)
    assert strong.held_by_friction(through) == pytest.approx(0.3 * full)


def test_timber_is_drawn_up_by_feel():
    a, rows = groups("post-mount")
    assert rows[0].torque == 0 and IN_TIMBER in words(rows[0])
    step = next(s for s in plan(a).steps if s.kind == "torque")
    assert not step.reads and IN_TIMBER in step.words and IN_TIMBER in torque_note(a)
    v = prove(families.new_job("post-mount"))
    assert any(IN_TIMBER in row for row in _again(Shown(v, list(parts_list(v.assembly)))))


def test_a_thread_nobody_measured_is_said_once_for_all_its_holes():
    job = families.new_job("two-wheeler")
    a = families.build(job)
    said = [w for w in concerns(job, a) if "thread of hole" in w]
    assert len(said) == 1 and "left 1, left 2, right 1, right 2" in said[0] and "4 mm are taken" in said[0]
    deep = edit.put(job, "vehicle.left.0.wall_mm", 8.0)
    assert "left 1," not in next(w for w in concerns(deep, families.build(deep)) if "thread of hole" in w)


def test_a_bolt_through_both_walls_of_a_tube_wants_a_sleeve():
    """The sleeve is as long as what lies between its walls."""
    a, rows = groups("trunk-anchor")
    arm = next(p for p in a.parts if p.name == "left arm")
    inside = arm.shape.stock.width - 2 * arm.shape.stock.wall
    assert f"a sleeve {inside:.1f} mm long inside" in rows[0].limit and "only snug" in rows[0].minds[0]
    step = next(s for s in plan(a).steps if s.kind == "torque")
    assert f"sleeve {inside:.1f} mm long inside the left arm" in step.words
    assert not any("sleeve" in r.limit for r in groups("rear-receiver")[1])
