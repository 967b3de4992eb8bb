"""Folded plates: flat pattern and bent plate are each other's image, and the solid is where they say."""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from manifold3d import Manifold
from shapely.geometry import Polygon

from urial.geometry import flat, folded, outline, solids
from urial.geometry.outline import rectangle
from urial.geometry.path import ShapeError
from urial.geometry.place import Place, minus, norm
from urial.geometry.shape import Fold, Plate

LOW, HIGH, HALF = -70.0, 230.0, 40.0


def across(u, degrees, inside, beyond=1):
    """A fold square to u; what lies on the side of greater u (beyond 1) or lesser is turned up."""
    ends = ((u, HALF + 1), (u, -HALF - 1))
    a, b = ends if beyond > 0 else ends[::-1]
    return Fold(a, b, math.radians(degrees), inside)


turns = st.floats(8, 120) | st.floats(-120, -8)


@st.composite
def plates(draw):
    """Two folds one beyond the other to the right, one to the left, any way up; room for each other."""
    t = draw(st.floats(1, 12))
    inside = draw(st.floats(0.5, 14))
    folds = (
        across(185.0, draw(st.floats(8, 60) | st.floats(-60, -8)), inside),
        across(60.0, draw(turns), inside),
        across(-20.0, draw(st.floats(8, 80) | st.floats(-80, -8)), min(inside, 6.0), -1),
    )
    return Plate(rectangle(LOW, -HALF, HIGH, HALF), t, folds=folds)


@given(plates(), st.floats(LOW, HIGH), st.floats(-HALF, HALF), st.floats(0, 1))
def test_what_is_folded_and_unfolded_is_where_it_was(plate, u, v, share):
    flat_point = (u, v, share * plate.t)
    bent = folded.point_at(plate, *flat_point)
    back = folded.unfolded(plate, bent)
    assert folded.point_at(plate, *back) == pytest.approx(bent, abs=1e-6)
    assert folded.frame_at(plate, u, v).point(flat_point) == pytest.approx(bent, abs=1e-6)
    turn = folded.frame_at(plate, u, v).rotation
    assert turn @ turn.T == pytest.approx(np.eye(3), abs=1e-9) and np.linalg.det(turn) == pytest.approx(1)


@given(plates(), st.floats(LOW + 1, HIGH - 1), st.floats(-HALF + 1, HALF - 1))
def test_the_solid_has_metal_where_the_flat_pattern_is_folded_to(plate, u, v):
    x, y, z = folded.point_at(plate, u, v, plate.t / 2)
    size = min(plate.t, 2.0) / 2
    cube = Manifold.cube([size] * 3, True).translate([x, y, z])
    assert (solids.solid(plate) ^ cube).volume() > 0.97 * size**3


def test_a_right_angle_is_where_the_workshop_expects_it():
    """Bent 90° up about 10 mm inside: the outside of the upright face stands R + t beyond the line, and its
    inside begins R above the base's face."""
    plate = Plate(rectangle(LOW, -HALF, HIGH, HALF), 6.0, folds=(across(60.0, 90.0, 10.0),))
    allowance = math.pi / 2 * (10 + 0.40 * 6)  # K 0.40 between t and 3 t
    low, high = solids.bounding_box(solids.solid(plate))
    assert high[0] == pytest.approx(60 + 10 + 6, abs=1e-6) and low[2] == pytest.approx(0, abs=1e-9)
    assert high[2] == pytest.approx(10 + 6 + (HIGH - 60 - allowance), abs=1e-6)
    away = Plate(plate.outline, 6.0, folds=(across(60.0, -90.0, 10.0),))
    low, high = solids.bounding_box(solids.solid(away))
    assert high[2] == pytest.approx(6.0, abs=1e-6) and low[2] == pytest.approx(
        -10 - (HIGH - 60 - allowance), abs=1e-6
    )
    up = folded.frame_at(plate, 200.0, 5.0)
    assert up.x == pytest.approx((0, 0, 1)) and up.z == pytest.approx((-1, 0, 0))


@given(plates())
def test_the_faces_are_flat_and_with_the_bends_make_up_the_blank(plate):
    whole = Polygon(outline.flatten(plate.outline))
    places = [-65.0, 20.0, 150.0, 228.0]
    faces = [folded.face_at(plate, u, 0.0) for u in places]
    bends = sum(folded.bent_metal(plate, f).intersection(whole).area for f in plate.folds)
    assert sum(abs(outline.area(f.outline)) for f in faces) + bends == pytest.approx(whole.area, rel=1e-6)
    for u, face in zip(places, faces, strict=True):
        assert not face.folds and face.t == plate.t
        assert face.place.point((u, 3.0, 1.0)) == pytest.approx(folded.point_at(plate, u, 3.0, 1.0), abs=1e-6)


@given(plates(), st.floats(LOW, HIGH), st.floats(LOW, HIGH), st.floats(-HALF, HALF))
def test_a_way_over_the_bends_is_as_long_as_in_the_flat_but_for_its_chords(plate, a, b, v):
    """At the neutral depth, K t from the inside, the way round a bend is the bend allowance."""
    ends = [0.0, *folded.splits(plate, (a, 0.0), (b, v)), 1.0]
    assert ends == sorted(ends)
    for low, high in pairwise(ends):
        middle = (low + high) / 2
        number = folded.in_bend(plate, a + middle * (b - a), middle * v)
        if number is None:
            continue
        fold = plate.folds[number]
        deep = flat.bend_zone(plate.t, fold).k * plate.t
        w = plate.t - deep if fold.angle > 0 else deep
        at = [low + (high - low) * k / 60 for k in range(61)]
        spots = [folded.point_at(plate, a + f * (b - a), f * v, w) for f in at]
        long = sum(norm(minus(q, r)) for q, r in pairwise(spots))
        assert long == pytest.approx((high - low) * math.dist((a, 0.0), (b, v)), rel=1e-3, abs=1e-6)


def test_a_flat_plate_is_its_own_face_and_a_fold_off_the_plate_is_refused():
    plain = Plate(rectangle(0, 0, 50, 50), 5.0, Place((1, 2, 3)))
    assert folded.face_at(plain, 10, 10) is plain
    assert folded.splits(plain, (0, 0), (40, 40)) == [] and folded.in_bend(plain, 25, 25) is None
    with pytest.raises(ShapeError, match="lies outside its plate"):
        solids.solid(Plate(plain.outline, 5.0, folds=(across(90.0, 90.0, 5.0),)))


def test_marks_of_a_fold_say_how_it_is_bent():
    plate = Plate(
        rectangle(LOW, -HALF, HIGH, HALF),
        6.0,
        folds=(across(60.0, 90.0, 10.0), across(-20.0, -45.0, 6.0, -1)),
    )
    one, two = flat.fold_marks(plate)
    allowance = math.pi / 2 * (10 + 0.40 * 6)
    assert one.at == pytest.approx((60.0, 0.0)) and one.wide == pytest.approx(allowance)
    assert one.words(1, "{:.1f} mm".format) == (
        f"bend 1: 90° UP, towards you, 10.0 mm inside radius, {allowance:.1f} mm between its lines"
    )
    assert "45° DOWN, away from you" in two.words(2, str)
