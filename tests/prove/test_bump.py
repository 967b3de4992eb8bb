"""Backed into something: how hard, where, and what gives first."""

import math
from pathlib import Path

import pytest

from urial import families
from urial.assembly import bodies
from urial.families import new_job
from urial.families.registry import families as kinds
from urial.job import edit, file
from urial.prove.bump import OTHER_KG, SPEED_KMH, bump, outermost
from urial.prove.verdict import prove


@pytest.fixture(scope="module")
def mounted():
    return prove(new_job("ball-mount"))


def test_the_force_is_that_of_a_mass_into_a_spring(mounted):
    hit = bump(mounted)
    # all of m v²/2 in a spring pushed by F: F²/(2 k), so F = v √(m k); v = 2.5/3.6 m/s, k in N/m
    energy = hit.kg * (2.5 / 3.6) ** 2 / 2
    assert SPEED_KMH == 2.5
    assert hit.force_N**2 / (2 * hit.stiffness * 1000) == pytest.approx(energy)
    assert hit.kg == max(mounted.job.vehicle.front_kg + mounted.job.vehicle.rear_kg, OTHER_KG)


def test_a_light_vehicle_is_hit_by_another_car():
    hit = bump(prove(new_job("two-wheeler")))
    assert hit.kg == OTHER_KG


def test_the_rearmost_part_is_hit_at_its_middle(mounted):
    part, at, way = outermost(mounted)
    rearmost = min(bodies.corners(p)[0][0] for p in mounted.assembly.parts)
    assert way == 1.0 and at[0] == pytest.approx(rearmost, abs=30.0)
    low, high = bodies.corners(part)
    assert low[1] - 0.1 <= at[1] <= high[1] + 0.1 and at[1] == pytest.approx(0.0, abs=1.0)


def test_what_sticks_out_ahead_is_pushed_rearward():
    v = prove(new_job("front-receiver"))
    part, at, way = outermost(v)
    host = v.job.vehicle
    ahead = max(bodies.corners(p)[1][0] for p in v.assembly.parts)
    assert way == -1.0 and at[0] == pytest.approx(ahead, abs=30.0)
    assert at[0] > host.wheelbase_mm + host.front_overhang_mm
    assert bump(v).part is part


def test_a_longer_lever_is_softer_and_is_pushed_less():
    near = bump(prove(new_job("ball-mount")))
    job = new_job("ball-mount")
    far = next(k for k in edit.all_specs(job) if k.endswith("drop_mm"))
    more = bump(prove(edit.put(job, far, 200.0)))
    assert more.stiffness < near.stiffness and more.force_N < near.force_N


def test_the_pin_of_a_stout_receiver_gives_before_the_truck(mounted):
    hit = bump(mounted)
    # A 5/8 in pin in double shear with the gaps of the bore bends first; at that push its own check is at 1
    assert hit.right and hit.first is hit.replaced and "pin" in hit.first.name
    assert hit.gives_N(hit.first) < hit.gives_N(hit.stays)
    assert "which can be replaced" in hit.words and "stays on the vehicle" in hit.words


def test_what_gives_where_is_linear_in_the_push(mounted):
    """Twice the energy is √2 the force: the other car at twice the mass uses everything √2 as much."""
    heavy = mounted.job
    for name in ("front_kg", "rear_kg"):
        heavy = edit.put(heavy, f"vehicle.{name}", 2 * getattr(heavy.vehicle, name))
    one, two = bump(mounted), bump(prove(heavy))
    assert two.force_N / one.force_N == pytest.approx(math.sqrt(2), rel=1e-6)
    assert two.gives_N(two.first) == pytest.approx(one.gives_N(one.first), rel=1e-6)


def test_a_weak_rail_under_a_stout_insert_is_said():
    job = file.load(Path(families.__file__).parent / "demo" / "water-clevis.urial").job
    hit = bump(prove(job))
    assert not hit.right and hit.first is hit.stays
    assert "stays on the vehicle" in hit.words and "would spare the vehicle" in hit.words
    assert hit.briefly.endswith("It stays on the vehicle.")


def test_what_does_not_stick_out_is_not_hit():
    assert bump(prove(new_job("flat-trailer"))) is None  # on its own wheels, nobody's bumper
    job = new_job("post-mount")
    assert bump(prove(job)) is None


@pytest.mark.parametrize("family", sorted(kinds()))
def test_every_kind_is_hit_or_is_not(family):
    verdict = prove(new_job(family))
    hit = bump(verdict)
    if hit is not None:
        assert hit.force_N > 0 and hit.words.startswith("Backed into") and hit.first is not None
        assert (hit.replaced is None) or hit.replaced.utilisation > 0
