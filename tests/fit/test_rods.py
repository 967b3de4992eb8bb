"""A rod of a tool hits what a boolean of the two bodies says it does."""

import math

import numpy as np
import pytest
from manifold3d import Manifold

from urial import families
from urial.assembly import bodies
from urial.fit.room import TOUCH, Body, Rod, length_inside, shared

TUBE = Manifold.cube([200, 60, 60], True) - Manifold.cube([201, 50, 50], True)


def body(solid):
    return Body("it", "it", "k", "", "part", solid)


@pytest.mark.parametrize(
    ("a", "b", "inside"),
    [
        ((0, 0, -100), (0, 0, 100), 10.0),  # through both walls
        ((0, 0, -100), (0, 0, 0), 5.0),  # into the bore
        ((0, 0, -100), (0, 0, -28), 2.0),  # it ends in a wall
        ((0, 0, -28), (0, 0, 100), 8.0),  # it begins in one
        ((-50, 0, 27.5), (50, 0, 27.5), 100.0),  # it never leaves the wall
        ((-50, 0, 0), (50, 0, 0), 0.0),  # in the bore, and meets nothing
        ((-50, 0, 40), (50, 0, 40), 0.0),  # beside it
        ((-300, 0, 27.5), (300, 0, 27.5), 200.0),  # along the wall from end to end
    ],
)
def test_how_much_of_a_line_lies_in_a_tube(a, b, inside):
    assert length_inside(TUBE, a, b) == pytest.approx(inside, abs=1e-3)


def random_rods(solid, rng, count):
    """Rods of the gun's sizes that begin near a body, whichever way they point."""
    low, high = np.reshape(solid.bounding_box(), (2, 3))
    for _ in range(count):
        way = rng.normal(size=3)
        o = rng.uniform(low - 20, high + 20)
        wide, long, may = ((2.0, 14.0, 5.0), (16.0, 60.0, TOUCH), (30.0, 90.0, TOUCH))[rng.integers(3)]
        yield Rod(tuple(o.tolist()), tuple((way / np.linalg.norm(way)).tolist()), wide, long, may)


@pytest.mark.parametrize("name", ["rear-receiver", "two-wheeler", "winch-cradle", "hook-plate"])
def test_rods_at_random_hit_what_a_boolean_says(name):
    rng = np.random.default_rng(len(name))
    solids = [bodies.body(p) for p in families.build(families.new_job(name)).parts if not p.hardware][:5]
    hits = 0
    for solid in [*solids, TUBE]:
        for rod in random_rods(solid, rng, 60):
            space = shared(rod.solid, solid)
            assert rod.hits(body(solid)) == (space > rod.may), (rod, space)
            hits += space > rod.may
    assert hits > 20


def test_a_rod_that_lies_on_a_face_or_slides_along_it_hits_nothing():
    plate = Manifold.cube([100, 100, 10], True)
    for height, hit in ((7.0 + 8.0, False), (5.0 + 8.0, False), (5.0 + 5.0, True)):
        flat = Rod((-40.0, 0.0, height), (1.0, 0.0, 0.0), 16.0, 60.0)
        assert flat.hits(body(plate)) == hit
    standing = Rod((0.0, 0.0, 5.0), (0.0, 0.0, 1.0), 16.0, 60.0)
    assert not standing.hits(body(plate))
    slanted = Rod((0.0, 0.0, 5.0), (math.sqrt(0.5), 0.0, math.sqrt(0.5)), 16.0, 60.0)
    assert slanted.hits(body(plate))  # its end's lower half lies in the metal
