"""A shape at home, carried back, is the shape itself: solids, triangles and edges kept there may be used
for it.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial.geometry import outline as outlines
from urial.geometry import solids
from urial.geometry.home import home
from urial.geometry.outline import rounded_hull
from urial.geometry.path import Bent, Line
from urial.geometry.place import Place, Vec, angle_axis
from urial.geometry.shape import Bar, Box, Cope, Fold, Hole, Mitre, Plate, Shape, Slant, Slugged, Turned
from urial.stock import catalogue

TUBE, SQUARE, ANGLE = (catalogue.bar(n) for n in ("33.7 od x 4", "50x50x5", "L 50x50x5"))
SIDE = rounded_hull(((10.0, 20.0), (150.0, 25.0), (60.0, 130.0)), 18.0)
SHAPES: list[Shape] = [
    Bar(
        SQUARE,
        Line((5.0, -40.0, 9.0), (5.0, -300.0, 60.0)),
        end_i=Mitre(0.4),
        cuts=(Hole((5.0, -100.0, 20.0), (1.0, 0.0, 0.0), 14.0),),
    ),
    Bar(
        SQUARE,
        Line((5.0, -40.0, 9.0), (5.0, -300.0, 60.0)),
        cuts=(Box(Place((5.0, -150.0, 30.0), (0.0, 1.0, 0.0), (-1.0, 0.0, 0.0)), (60.0, 20.0, 30.0)),),
    ),
    Bar(
        TUBE,
        Bent(
            ((0.0, -80.0, 400.0), (-160.0, -80.0, 400.0), (-200.0, -80.0, 60.0), (-400.0, 0.0, 50.0)),
            (90.0, 90.0),
        ),
        up=(0.0, -1.0, 0.0),
        end_i=Slugged(60.0),
        end_j=Slant((1.0, 0.0, 0.0)),
    ),
    Bar(
        TUBE,
        Line((0.0, -90.0, 0.0), (-300.0, -60.0, 80.0)),
        end_j=Cope(20.0, (-300.0, -60.0, 80.0), (0.1, 0.0, 1.0)),
    ),
    Bar(
        ANGLE,
        Line((0.0, -90.0, 0.0), (0.0, -90.0, 400.0)),
        up=(1.0, 0.0, 0.0),
        cuts=(Hole((12.0, -80.0, 100.0), (0.0, 1.0, 0.0), 12.0),),
    ),
    Plate(
        SIDE,
        8.0,
        Place((3.0, -50.0, 7.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0), (0.0, -1.0, 0.0)),
        holes=((60.0, 50.0, 13.0),),
    ),
    Plate(SIDE, 4.0, Place((3.0, 50.0, 7.0)), folds=(Fold((0.0, 80.0), (200.0, 80.0), 0.9, 6.0),)),
    Turned(
        Place((1.0, -2.0, 3.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0), (1.0, 0.0, 0.0)),
        ((20.0, 30.0, 6), (40.0, 16.0, 0)),
        bore=5.0,
    ),
]


def space_between(a: Shape, b: Shape) -> float:
    """What one has and the other not, mm³, made without going home."""
    one, two = solids._solid(a), solids._solid(b)
    return float((one - two).volume() + (two - one).volume())


@pytest.mark.parametrize("shape", SHAPES, ids=lambda s: type(s).__name__)
def test_what_comes_back_from_home_is_the_solid_itself(shape):
    straight = solids._solid(shape)
    back = solids.solid(shape)
    assert float((straight - back).volume() + (back - straight).volume()) < 2e-4 * float(straight.volume())
    points, faces = solids.triangles(shape)
    a, b, c = (points[faces[:, k]] for k in range(3))
    assert np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6 == pytest.approx(
        float(straight.volume()), rel=1e-4
    )  # outward, at its own place
    assert np.allclose(points.min(axis=0), solids.bounding_box(straight)[0], atol=1e-3)
    low, high = points[solids.creases(shape).T]
    assert (np.linalg.norm(high - low, axis=1) > 0).all()


def moved(shape: Shape, by: Vec) -> Shape:
    """A bar carried along, with all that is cut from it."""
    from urial.geometry.home import _through

    assert isinstance(shape, Bar)
    return _through(shape, lambda p: (p[0] + by[0], p[1] + by[1], p[2] + by[2]), lambda v: v)


@given(st.integers(0, 4), st.tuples(*[st.floats(-900, 900) for _ in range(3)]))
def test_a_bar_that_only_moved_has_the_same_home(which, by):
    shape = SHAPES[which]
    assert home(moved(shape, by)).shape == home(shape).shape


def test_a_tube_and_its_twin_share_a_home_and_an_angle_does_not():
    from urial.geometry.home import _over, _through

    for n in (1, 2, 3):
        one, other = home(SHAPES[n]), home(_through(SHAPES[n], _over, _over))
        assert one.shape == other.shape and one.mirrored != other.mirrored
    for n in (0, 4):  # a mitre given by its turn, and an angle: the mirror image is another bar
        one, other = home(SHAPES[n]), home(_through(SHAPES[n], _over, _over))
        assert one.shape != other.shape and not other.mirrored


def test_a_plate_turned_and_moved_is_made_once():
    one = SHAPES[5]
    assert isinstance(one, Plate)
    other = Plate(
        tuple((u + 7, v - 3, b) for u, v, b in one.outline),
        one.t,
        angle_axis((0.0, 0.0, 1.0), 0.7),
        tuple((u + 7, v - 3, d) for u, v, d in one.holes),
    )
    assert home(other).shape == home(one).shape and solids.volume(other) == solids.volume(one)
    assert space_between(other, one) > 1000  # and yet they lie elsewhere


@pytest.mark.parametrize("size", [0.4, 40.0])
def test_edges_are_drawn_where_faces_meet_at_more_than_28_degrees_however_large(size):
    """A prism over a hexagon has 18, all at 60° or 90°; over one with 20 corners only its two ends' 40."""
    for corners, edges in ((6, 18), (20, 40)):
        ring = [
            (size * math.cos(2 * math.pi * k / corners), size * math.sin(2 * math.pi * k / corners))
            for k in range(corners)
        ]
        shape = Plate(outlines.polygon(ring), size, Place((0.0, 0.0, 0.0)))
        assert len(solids.creases(shape)) == edges
