import dataclasses
import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import families
from urial.assembly.model import HOST
from urial.job import edit
from urial.job.host import HardPoint
from urial.loads import towing
from urial.loads.case import load_points
from urial.prove.remedies import leg_limit, remedies
from urial.prove.verdict import prove
from urial.strength.analysis import analyse
from urial.strength.basis import AllowableStrength, LoadAndResistance, PlainFactor, basis_of
from urial.strength.checks import judge


def scaled(case, times):
    return dataclasses.replace(case, loads={n: tuple(times * x for x in v) for n, v in case.loads.items()})


def strength_checks(job, times=1.0, basis=None, method="elastic"):
    assembly = families.build(job)
    cases = tuple(scaled(c, times) for c in towing.cases(job, assembly))
    basis = basis or AllowableStrength()
    checks, unchecked = judge(
        analyse(assembly, cases, load_points(assembly), job.proof.foot, basis.load_factor), basis, method
    )
    assert not unchecked
    return {c.id: c for c in checks}


@given(
    st.floats(0.3, 4),
    st.sampled_from([AllowableStrength(), LoadAndResistance(), PlainFactor(2.0)]),
    st.sampled_from(["under", "notched", "through"]),
)
def test_scaling_every_load_scales_every_strength_utilisation(times, basis, mount):
    job = edit.put(
        edit.put(families.new_job("rear-receiver"), "stack.1.cross_tube", "4x4x3/8"), "stack.1.mount", mount
    )
    one, more = strength_checks(job, 1.0, basis), strength_checks(job, times, basis)
    assert one.keys() == more.keys()
    for key, check in one.items():
        assert more[key].utilisation == pytest.approx(times * check.utilisation, rel=1e-6, abs=1e-9), key


def test_doubling_holds_by_the_instantaneous_centre_too(job):
    one, two = strength_checks(job, 1.0, method="centre"), strength_checks(job, 2.0, method="centre")
    assert all(two[k].utilisation == pytest.approx(2 * one[k].utilisation, rel=1e-4, abs=1e-9) for k in one)


@pytest.mark.parametrize(
    ("path", "sizes", "ids"),
    [
        (
            "stack.1.cross_tube",
            ["2 1/2x2 1/2x0.120", "2 1/2x2 1/2x3/16", "2 1/2x2 1/2x1/4", "2 1/2x2 1/2x5/16"],
            ["1/cross tube: forces", "1/receiver weld: wall"],
        ),
        (
            "stack.1.plate",
            ["1/4", "3/8", "1/2", "3/4"],
            ["1/side plate.left: forces", "1/rail bolts.left: holes in 1/side plate"],
        ),
        (
            "stack.1.chain_plate",
            ["1/4", "3/8", "1/2", "5/8"],
            ["1/chain plate: forces", "1/chain hole.left: eye"],
        ),
        ("stack.2.ball_plate_mm", [15.0, 19.0, 25.0, 32.0], ["2/ball plate: forces", "2/ball plate: net 1"]),
    ],
)
def test_a_thicker_wall_never_raises_its_own_utilisation(job, path, sizes, ids):
    seen = [strength_checks(edit.put(job, path, size)) for size in sizes]
    for key in ids:
        used = [checks[key].utilisation for checks in seen]
        assert all(b <= a * 1.02 for a, b in pairwise(used)), (
            key,
            used,
        )  # what is stiffer draws a little more


def mirrored(job):
    v = job.vehicle
    return job.with_vehicle(v.model_copy(update={"left": v.right, "right": v.left}))


@given(st.floats(-40, 40), st.floats(-25, 20), st.integers(0, 2))
def test_mirrored_input_gives_mirrored_results(dx, dz, which):
    job = families.new_job("rear-receiver")
    points = list(job.vehicle.right)
    points[which] = HardPoint(
        behind_mm=points[which].behind_mm + dx, height_mm=points[which].height_mm + dz, hole_mm=14
    )
    job = job.with_vehicle(job.vehicle.model_copy(update={"right": tuple(points)}))
    swap = str.maketrans({"L": "R", "R": "L"})
    one, two = strength_checks(job), strength_checks(mirrored(job))
    for key, check in one.items():
        twin = key.replace("left", "#").replace("right", "left").replace("#", "right")
        assert two[twin].utilisation == pytest.approx(check.utilisation, rel=1e-6, abs=1e-9), key
    assert "BL".translate(swap) == "BR"


@given(
    st.floats(60, 300),
    st.floats(190, 320),
    st.floats(300, 3000),
    st.sampled_from(["bolts", "fixed", "pinned"]),
)
def test_every_case_is_in_equilibrium(drop, lever, trailer, foot):
    """The whole by its feet, and every part by its joints."""
    job = families.new_job("rear-receiver")
    for path, value in (
        ("stack.1.drop_mm", drop),
        ("stack.2.pin_to_ball_mm", lever),
        ("duty.tongue_mass_kg", 30.0),
        ("duty.trailer_mass_kg", trailer),
        ("proof.foot", foot),
    ):
        job = edit.put(job, path, value)
    v = prove(job)
    balance(v, None)
    for part in v.assembly.parts:
        if part.key not in v.forces.net.still:
            balance(v, part.key)


def balance(v, key):
    """Forces and moments on a part (None: on everything) sum to nothing in every case."""
    count = len(v.cases)
    force, moment, size = np.zeros((count, 3)), np.zeros((count, 3)), 1.0
    for j in v.assembly.joints:
        if j.key in v.forces.raw.link_index and (HOST in (j.a, j.b) if key is None else key in (j.a, j.b)):
            f, m = v.forces.wrench(j, (0.0, 0.0, 0.0))
            sign = 1.0 if key is None or j.a == key else -1.0
            force += sign * f
            moment += sign * m
            size = max(size, float(np.abs(f).max()))
    for c, case in enumerate(v.cases):
        for name, load in case.loads.items():
            point = v.points[name]
            if key in (None, point.part):
                force[c] += case.weight * np.array(load[:3])
                moment[c] += case.weight * (np.array(load[3:]) + np.cross(point.at, load[:3]))
    assert np.abs(force).max() < 1e-4 * size, key
    assert np.abs(moment).max() < 1e-4 * size * 1000, key


def test_statics_of_the_lever_by_hand(job):
    """The bump on the ball: pin pull, contact couple and the tube's torque follow from statics alone."""
    v = prove(job)
    c = [case.id for case in v.cases].index("bump")
    down = -v.cases[c].loads["2/ball"][2]
    ball, mouth, pin = (v.assembly.places[k] for k in ("ball", "mouth", "pin"))
    joints = v.assembly.joint_by_key
    end = pin[0] + job.piece("ball-mount").values.past_pin_mm
    thrust, _ = v.forces.wrench(joints["2/mouth"])
    assert abs(thrust[c, 2]) == pytest.approx(down * (end - ball[0]) / (end - mouth[0]), rel=1e-4)
    assert abs(v.forces.wrench(joints["2/pin"])[0][c, 0]) < 1e-3 * down
    tube = joints["1/receiver weld"]
    force, moment = v.forces.wrench(tube)
    assert abs(force[c, 2]) == pytest.approx(down, rel=1e-4)
    assert abs(moment[c, 1]) == pytest.approx(down * (tube.place.o[0] - ball[0]), rel=1e-4)
    for side in ("left", "right"):  # each side carries half
        assert v.forces.wrench(joints[f"1/rail bolts.{side}"])[0][c, 2] == pytest.approx(down / 2, rel=1e-4)


def test_doubling_the_lever_doubles_the_moment(job):
    near, far = (prove(edit.put(job, "stack.2.pin_to_ball_mm", x)) for x in (200.0, 400.0))
    root = lambda v: v.forces.inside("2/bar#0", 1.0)[[c.id for c in v.cases].index("bump"), 4]  # noqa: E731
    mouth_to_pin = job.piece("rear-receiver").values.mouth_to_pin_mm
    assert root(far) / root(near) == pytest.approx((400 - mouth_to_pin) / (200 - mouth_to_pin), rel=1e-4)


def test_the_verdict_is_ranked_and_explained(verdict):
    used = [c.utilisation for c in verdict.checks]
    assert used == sorted(used, reverse=True)
    assert verdict.governing.utilisation == max(used)
    assert verdict.holds == (max(used) < 1)
    for c in verdict.checks:
        assert c.demand >= 0 and c.available > 0 and np.isfinite(c.utilisation)
        assert c.utilisation == pytest.approx(c.demand / c.available, rel=1e-6)
        assert c.clause and c.working()
        assert c.by_case.max() == pytest.approx(c.utilisation)


def test_every_link_of_the_chain_is_judged(verdict):
    assert [s.link.name for s in verdict.chain] == [
        "ball",
        "ball plate",
        "ball plate weld",
        "drop plate",
        "bar weld",
        "chain plate",
        "bar",
        "chain plate weld",
        "pin",
        "receiver",
        "receiver weld",
        "cross tube",
        "side plate weld",
        "side plate",
        "rail bolts",
        "frame rail",
        "vehicle limits",
    ]
    assert all(s.worst for s in verdict.chain)


@pytest.mark.parametrize("mount", ["under", "notched", "through"])
@pytest.mark.parametrize("shape", ["straight", "drop", "rise"])
def test_every_shape_builds_and_is_judged_on_every_basis(job, mount, shape):
    for path, value in (
        ("stack.1.cross_tube", "3 1/2x3 1/2x3/8"),
        ("stack.1.mount", mount),
        ("stack.2.shape", shape),
    ):
        job = edit.put(job, path, value)
    for basis in ("ASD", "LRFD", "FoS"):
        for method in ("elastic", "centre"):
            v = prove(edit.put(edit.put(job, "proof.basis", basis), "proof.weld_method", method))
            assert v.basis.name == basis
            assert all(c.working() for c in v.checks)


def test_bases_by_hand():
    assert basis_of(families.new_job("rear-receiver").proof).available(100, 2.0) == 50
    assert LoadAndResistance().available(100, 1.67) / LoadAndResistance().load_factor == pytest.approx(
        100 * 0.898 / 1.6, rel=1e-3
    )
    assert PlainFactor(3.0).available(100, 1.67) == pytest.approx(100 / 3)


def test_the_instantaneous_centre_is_used_where_the_load_stays_in_the_plane(job):
    elastic, centre = strength_checks(job), strength_checks(job, method="centre")
    sideways = [k for k in elastic if k.endswith(": bolts")]
    assert all(centre[k].utilisation <= elastic[k].utilisation * 1.05 for k in sideways)


def test_remedies_really_mend_what_they_say(job):
    job = edit.put(job, "stack.2.ball_plate_mm", 25.0)
    short = prove(job).governing
    assert short.short
    found = remedies(job, short).found
    assert found
    for r in found:
        again = prove(edit.put(job, r.path, r.value))
        same = next((c for c in again.checks if c.id == short.id), None)
        assert same is None or same.utilisation == pytest.approx(r.utilisation)
        assert same is None or not same.short
        assert again.governing.utilisation <= short.utilisation


def test_no_bead_is_advised_thicker_than_the_metal_beside_it(job):
    thin = edit.put(edit.put(job, "stack.1.gusset", "1/4"), "stack.1.cross_tube", "3x3x5/16")
    v = prove(thin)
    legs = [
        p
        for p in (
            "stack.1.weld_receiver_mm",
            "stack.1.weld_plate_mm",
            "stack.1.weld_chain_mm",
            "stack.2.weld_mm",
        )
        if p in edit.all_specs(thin)
    ]
    assert len(legs) == 4
    # receiver under its cross tube: 0.93 of the tube's 5/16 in wall (A500), more than the receiver's own 1/4
    # in
    assert leg_limit(v.assembly, legs[0]) == pytest.approx(max(0.93 * 7.9375, 6.35), abs=0.01)
    assert leg_limit(v.assembly, "stack.1.drop_mm") == math.inf
    for check in v.checks[:3]:
        for r in remedies(thin, check, target=0.9 * check.utilisation).found:
            if r.path in legs:
                assert r.value <= leg_limit(v.assembly, r.path) + 0.01, r.words


def test_weld_and_edge_rules_are_warned_about(job):
    v = prove(edit.put(job, "stack.1.weld_plate_mm", 2.0))
    assert any(c.kind == "minimum" and c.short for c in v.checks)
    v = prove(edit.put(job, "stack.1.hole_edge_mm", 14.0))
    assert any("J3.4" in w for w in v.warnings)
    v = prove(edit.put(job, "duty.tongue_mass_kg", 40.0))
    assert any("below 4 %" in w for w in v.warnings)


def test_ratings_are_checks_too(job):
    v = prove(edit.put(job, "vehicle.tow_rating_kg", 1500.0))
    tow = next(c for c in v.checks if c.id == "towing limit")
    assert tow.short and tow.utilisation == pytest.approx(1850 / 1500)
    assert not v.holds
