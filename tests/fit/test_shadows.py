"""Bodies whose shadows lie apart along a way never meet on it: what is left out would have found nothing."""

import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from manifold3d import Manifold

from urial.fit import order
from urial.fit.order import FAR, MOST, STEP, WAYS, Budget
from urial.fit.room import Body, shared
from urial.geometry.place import unit


def body(solid):
    return Body("b", "b", "b", "1", "part", solid)


def stepped(a, b, way):
    """Does a meet b on its way: by a step each, with nothing left out."""
    rest = shared(a.solid, b.solid)
    steps = itertools.takewhile(lambda s: s <= FAR, itertools.count(STEP, STEP))
    return any(shared(a.solid.translate([s * w for w in way]), b.solid) > rest + 40.0 for s in steps)


@pytest.mark.parametrize("way", WAYS)
def test_a_shadow_is_what_is_seen_along_the_way(way):
    sides = {0: 20.0 * 30.0, 1: 10.0 * 30.0, 2: 10.0 * 20.0}
    k = next(n for n in range(3) if way[n])
    assert body(Manifold.cube([10.0, 20.0, 30.0])).shadow(way).area() == pytest.approx(sides[k])


def test_a_shadow_at_a_slant():
    way = unit((1.0, 1.0, 0.0))  # of a cube along the diagonal of a face: √2 wide
    assert body(Manifold.cube([10.0] * 3)).shadow(way).area() == pytest.approx(100 * math.sqrt(2))


side = st.floats(5.0, 60.0)
spot = st.floats(-120.0, 120.0)


SLANT = unit((1.0, 1.0, 1.0))


@given(st.tuples(side, side, side), st.tuples(spot, spot, spot), st.sampled_from((*WAYS, SLANT)))
def test_what_passes_is_what_steps_alone_find(size, at, way):
    ring = Manifold.cube([80.0, 80.0, 20.0], True) - Manifold.cube([50.0, 50.0, 30.0], True)
    a, b = body(Manifold.cube(list(size), True)), body(ring.translate(list(at)))
    free, _ = order._passes(a, b, way, Budget())
    assert free == (not stepped(a, b, way))


@pytest.mark.parametrize(("aside", "clear"), [(0.0, 70.0), (200.0, 5.0)])
def test_through_a_ring_or_beside_it_costs_no_try(aside, clear):
    """From −60 its lower end is as high as the ring, 10, after 70; beside it the first step will do."""
    ring = body(Manifold.cylinder(10.0, 50.0, 50.0, 48) - Manifold.cylinder(10.0, 30.0, 30.0, 48))
    rod = body(Manifold.cylinder(40.0, 20.0, 20.0, 48).translate([aside, 0.0, -60.0]))
    budget = Budget()
    assert order._passes(rod, ring, (0.0, 0.0, 1.0), budget) == (True, clear) and budget.left == MOST
