"""A trailer on its own wheels, worked out as a page of statics and held against the program: what stands
where, what the ball gets, what the axle bends with."""

import math

import numpy as np
import pytest

from urial import families
from urial.assembly import bodies
from urial.job import edit
from urial.job.duty import Carrier, Item
from urial.loads import standing, trailing
from urial.prove.verdict import prove

G = 9.80665
BALL_TO_AXLE = 2350.0
TRACK = 1500.0


@pytest.fixture(scope="module")
def job():
    return families.new_job("flat-trailer")


@pytest.fixture(scope="module")
def verdict(job):
    return prove(job)


def number(v, id):
    return next(n for n, c in enumerate(v.cases) if c.id == id)


def ground(v, n):
    """Up on the left and the right wheel, and what the ball gives the coupler, N."""
    at = lambda key: v.forces.wrench(v.assembly.joint_by_key[key])[0][n]  # noqa: E731
    return at("1/ground.left")[2], at("1/ground.right")[2], at("1/coupled")


def own(v):
    """Mass of steel and timber, kg, and its middle behind the ball, mm: summed part by part."""
    rows = [(bodies.mass(p), bodies.centre(p)) for p in v.assembly.parts]
    kg = sum(m for m, _ in rows)
    return kg, -sum(m * c[0] for m, c in rows) / kg


def cargo_behind(v):
    deck = [s.place.o[0] for s in v.assembly.sockets if s.kind == "deck"]
    return -sum(deck) / len(deck) - 60.0  # the churns stand 60 mm ahead of the deck's middle


def test_three_g_down_is_shared_by_lever_the_steel_with_the_cargo(verdict):
    kg, middle = own(verdict)
    left, right, ball = ground(verdict, number(verdict, "churns: drop"))
    axle = 3 * G * (kg * middle + 620 * cargo_behind(verdict)) / BALL_TO_AXLE
    assert left == pytest.approx(axle / 2, rel=1e-3) and right == pytest.approx(axle / 2, rel=1e-3)
    assert left + right + ball[2] == pytest.approx(3 * G * (kg + 620), rel=1e-4)


def test_the_axle_bends_between_pad_and_wheel_as_a_beam_does(verdict):
    """A wheel's push, less the wheel's and the stub's own weight, times the arm to the pad: nothing holds the
    wheels against each other sideways.
    """
    n = number(verdict, "churns: drop")
    left, _, _ = ground(verdict, n)
    beams = verdict.forces.net.beams_of("1/axle")
    outer = min(beams, key=lambda b: abs(verdict.forces.net.nodes[b.i][1] - 650))
    nodes = [verdict.forces.net.nodes[k] for k in (outer.i, outer.j)]
    y = sorted(p[1] for p in nodes)
    assert y == pytest.approx([545.0, 652.5], abs=0.5)  # pad under the rail's middle; the hub's face
    inside = verdict.forces.inside(outer.id, 0.0 if nodes[0][1] < nodes[1][1] else 1.0)[n]
    stub = 60 * 60 * 107.5 * 7850e-9 / 2 + 60 * 60 * (652.5 - 652.5) * 7850e-9
    by_hand = (left - 3 * G * 16.0) * (750 - 545) - 3 * G * stub * 107.5
    assert abs(inside[4]) == pytest.approx(by_hand, rel=0.01)
    assert abs(inside[4]) > 1.9e6  # N·mm; the arch between two held wheels would leave a quarter


def test_the_ball_gets_the_coupling_values_of_the_policy(job, verdict):
    """D = g·T·R/(T + R) of 2 600 kg and what is built and loaded; S by lever; V = 2.4·(X²/L² ≥ 1)·C."""
    kg, middle = own(verdict)
    whole = kg + 620
    axle = (kg * middle + 620 * cargo_behind(verdict)) / BALL_TO_AXLE
    d = G * 2600 * whole / (2600 + whole)
    s, v = (whole - axle) * G, 2.4 * axle
    for id, force in {
        "brake": (d, 0, -s),
        "launch": (-d, 0, -s),
        "bump": (0, 0, -s - v),
        "rebound": (0, 0, -s + v),
        "bump, pulling": (-0.6 * d, 0, -s - v),
        "corner left": (0, 0.3 * d, -s),
    }.items():
        _, _, ball = ground(verdict, number(verdict, id))
        assert -ball == pytest.approx(force, rel=1e-3, abs=2.0), id


def test_braking_pitches_it_on_to_the_ball_by_its_middles_height(verdict):
    """Nose down by D·(h − h_ball)/L more than standing: h is the middle of steel and churns."""
    n, s = number(verdict, "brake, pitching"), standing.stance(verdict.assembly)
    rows = [(bodies.mass(p), bodies.centre(p)[2]) for p in verdict.assembly.parts]
    churns = verdict.cases[number(verdict, "churns: drop")].pulls[0][0][2]
    h = (sum(m * z for m, z in rows) + 620 * churns) / (sum(m for m, _ in rows) + 620)
    _, _, ball = ground(verdict, n)
    _, _, level = ground(verdict, number(verdict, "brake"))
    d = -ball[0]
    assert ball[2] - level[2] == pytest.approx(d * (h - s.ball[2]) / BALL_TO_AXLE, rel=2e-3)


def test_one_wheel_over_a_bump_takes_the_axles_whole_load(verdict):
    kg, middle = own(verdict)
    axle = G * (kg * middle + 620 * cargo_behind(verdict)) / BALL_TO_AXLE
    left, right, _ = ground(verdict, number(verdict, "left wheel over a bump"))
    assert left == pytest.approx(axle, rel=1e-3) and right == pytest.approx(0, abs=axle * 1e-3)
    left, right, _ = ground(verdict, number(verdict, "right wheel over a bump"))
    assert right == pytest.approx(axle, rel=1e-3) and left == pytest.approx(0, abs=axle * 1e-3)
    twists = verdict.forces.local[number(verdict, "left wheel over a bump")]
    both = verdict.forces.local[number(verdict, "churns: drop")]
    rail = [verdict.forces.raw.member_index[b.id] for b in verdict.forces.net.beams_of("1/rail.left")]
    assert np.abs(twists[rail, 3]).max() > np.abs(both[rail, 3]).max() / 3  # it does twist the rails


def test_swerving_is_held_by_friction_shared_by_what_each_wheel_presses(verdict):
    """0.8 g sideways: the wheels by their share of the mass, leaning over by height and half the track."""
    case = verdict.cases[number(verdict, "churns: sway left")]
    kg, middle = own(verdict)
    across = 0.8 * G * (kg * middle + 620 * cargo_behind(verdict)) / BALL_TO_AXLE
    held = [case.ground[f"1/wheel.{side}"][1] for side in ("left", "right")]
    assert -sum(held) == pytest.approx(across, rel=1e-3)
    left, right, _ = ground(verdict, number(verdict, "churns: sway left"))
    assert held[0] / held[1] == pytest.approx(left / right, rel=1e-2)
    assert all(abs(h) <= 0.8 * n * 1.001 for h, n in zip(held, (left, right), strict=True))


def test_a_high_load_lifts_the_inner_wheel_before_the_tyres_slide(job):
    """Its middle so high that it would roll over at less than 0.8 g: the case ends where the wheel lifts,
    says so, and all of the axle's load is on the outer wheel.
    """
    items = (Item(name="hay", kg=500.0, behind_mm=-60.0, above_mm=1100.0, wide_mm=1100.0),)
    v = prove(job.model_copy(update={"duties": (Carrier(title="hay", items=items),)}))
    n = number(v, "hay: sway left")
    left, right, _ = ground(v, n)
    kg, middle = own(v)
    at = v.cases[number(v, "hay: drop")].pulls[0][0]
    axle = G * (kg * middle + 500 * -at[0]) / BALL_TO_AXLE
    assert right == pytest.approx(0, abs=20) and left == pytest.approx(axle, rel=0.01)
    assert "roll" in v.cases[n].reason
    rows = [(bodies.mass(p), bodies.centre(p)) for p in v.assembly.parts] + [(500.0, at)]
    whole = sum(m for m, _ in rows)
    # it tips about the line from the outer wheel to the ball: a·Σ m h = g·Σ m e, in the plane of the axle
    s = standing.stance(v.assembly)
    push = abs(v.cases[n].field.push[1]) / G
    over = sum(m * p[2] for m, p in rows) / whole
    line = s.ball[2] * (whole * G - axle) / (whole * G)  # what the ball holds acts at its own height
    assert push == pytest.approx(axle * TRACK / 2 / (whole * G) / (over - line), rel=0.02)


def test_more_grip_than_the_ground_has_is_not_held(job):
    slick = prove(edit.put(job, "stack.1.grip", 0.4))
    case = slick.cases[number(slick, "churns: sway left")]
    left, right, _ = ground(slick, number(slick, "churns: sway left"))
    assert abs(case.field.push[1]) == pytest.approx(0.4 * G, rel=1e-3) and "slides" in case.reason
    assert -sum(case.ground[k][1] for k in case.ground) == pytest.approx(0.4 * (left + right), rel=1e-3)


def test_what_lies_behind_the_axle_lifts_the_nose_and_is_short(job):
    behind = edit.put(job, "duties.0.items.0.behind_mm", 450.0)
    v = prove(behind)
    nose = next(c for c in v.checks if c.id == "1/coupler: nose")
    kg, middle = own(v)
    moment = kg * (BALL_TO_AXLE - middle) + 620 * (BALL_TO_AXLE - cargo_behind(v) - 60 - 450)
    assert (nose.utilisation >= 1) == (moment < 0) and nose.short
    assert nose.demand - nose.available == pytest.approx(-moment / BALL_TO_AXLE, rel=1e-3)


def test_a_load_off_the_middle_is_held_against_each_wheel_by_itself(job):
    off = prove(edit.put(job, "duties.0.items.0.across_mm", 200.0))
    wheel = {s: next(c for c in off.checks if c.id == f"1/wheel.{s}: rating") for s in ("left", "right")}
    kg, middle = own(off)
    axle = (kg * middle + 620 * cargo_behind(off)) / BALL_TO_AXLE
    # the ball holds nothing against rolling: all of 620 kg · 200 mm is between the wheels
    assert wheel["left"].demand == pytest.approx(axle / 2 + 620 * 200 / TRACK, rel=2e-3)
    assert wheel["right"].demand == pytest.approx(axle / 2 - 620 * 200 / TRACK, rel=2e-3)


def test_axle_and_tongue_are_held_to_what_was_typed(job):
    typed = prove(edit.put(edit.put(job, "vehicle.axle_rating_kg", 700.0), "vehicle.tongue_rating_kg", 50.0))
    asked = {c.id: c for c in typed.checks}
    kg, middle = own(typed)
    axle = (kg * middle + 620 * cargo_behind(typed)) / BALL_TO_AXLE
    assert asked["axle limit"].utilisation == pytest.approx(axle / 700, rel=1e-3)
    assert asked["tongue limit"].utilisation == pytest.approx((kg + 620 - axle) / 50, rel=1e-3)
    assert asked["gross trailer"].demand == pytest.approx(kg + 620, rel=1e-6)


def test_the_couplers_d_and_s_are_held(job):
    stamped = edit.put(edit.put(job, "stack.1.coupler_D_N", 5000.0), "stack.1.coupler_S_kg", 60.0)
    found = {c.id: c for c in prove(stamped).checks}
    c = trailing.coupling(stamped, families.build(stamped))
    assert found["1/coupler: D"].utilisation == pytest.approx(1000 * c.D / 5000)
    assert found["1/coupler: S"].utilisation == pytest.approx(1000 * c.S / G / 60)


def test_two_axles_are_refused_in_a_sentence(job):
    from urial.assembly.model import BuildError

    with pytest.raises(BuildError, match="built on one axle"):
        prove(edit.put(job, "vehicle.axles", "2"))


def test_a_trailer_that_may_weigh_more_is_coupled_for_more(job):
    heavier = edit.put(job, "duty.permissible_kg", 1300.0)
    a = families.build(heavier)
    assert pytest.approx(G * 2.6 * 1.3 / 3.9) == trailing.coupling(heavier, a).D
    v = prove(heavier)
    _, _, ball = ground(v, number(v, "launch"))
    assert ball[0] == pytest.approx(1000 * G * 2.6 * 1.3 / 3.9, rel=1e-3)


def test_again_and_again_it_is_pushed_along_an_inclined_line(job, verdict):
    """±0.6 D at 15°, or 20° where S (N) > 120 D (kN); up and down, since a whole trailer has no fixings."""
    c = trailing.coupling(job, verdict.assembly)
    lean = math.radians(20 if 1000 * c.S > 120 * c.D else 15)
    names = [r.id for r in verdict.repeated if r.id.startswith("endurance: towing")]
    assert len(names) == 2
    for r in verdict.repeated:
        if r.id in names:
            half = r.swings[0].half
            assert half[0] == pytest.approx(600 * c.D * math.cos(lean), rel=1e-6)
            assert half[2] == pytest.approx(600 * c.D * math.sin(lean), rel=1e-6)
