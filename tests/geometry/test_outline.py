"""Plane outlines with true arcs, against shapely and closed forms."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import MultiPoint, Point, Polygon

from urial.geometry import outline

coordinates = st.floats(-500, 500)
points = st.lists(st.tuples(coordinates, coordinates), min_size=3, max_size=12)


def shape(of, degrees=0.5):
    return Polygon(outline.flatten(of, math.radians(degrees)))


@given(points)
def test_the_hull_is_shapelys_and_runs_to_the_left(found):
    hull = outline.convex_hull(found)
    truth = MultiPoint(found).convex_hull
    if truth.area < 1.0:  # as good as a line
        return
    assert Polygon(hull).area == pytest.approx(truth.area, rel=1e-6)
    assert outline.area(tuple((x, y, 0.0) for x, y in hull)) > 0
    grown = Polygon(hull).buffer(1e-5)
    assert all(grown.contains(Point(p)) for p in found)


@given(points, st.floats(0.5, 80))
def test_discs_along_a_string_span_the_grown_hull(centres, radius):
    """Area of a grown convex hull: A + P r + π r² (Steiner)."""
    hull = outline.convex_hull(centres)
    if len(hull) < 3 or Polygon(hull).area < 1.0:
        return
    made = outline.rounded_hull(centres, radius)
    steiner = Polygon(hull).area + Polygon(hull).length * radius + math.pi * radius**2
    assert outline.area(made) == pytest.approx(steiner, rel=1e-9)
    assert shape(made).area == pytest.approx(steiner, rel=1e-4)
    assert all(outline.distance_to_edge(made, *c) > radius * 0.99 for c in hull)


def test_one_disc_and_two_are_a_circle_and_a_slot():
    assert outline.area(outline.rounded_hull([(3.0, 4.0)], 10.0)) == pytest.approx(math.pi * 100)
    slot = outline.rounded_hull([(0.0, 0.0), (40.0, 0.0)], 10.0)
    assert outline.area(slot) == pytest.approx(800 + math.pi * 100)
    assert outline.bounds(slot) == pytest.approx((-10.0, -10.0, 50.0, 10.0), abs=0.03)


@given(st.floats(5, 300), st.floats(5, 300), st.floats(0, 400))
def test_a_rectangle_with_round_corners_lacks_four_corners(wide, high, radius):
    made = outline.rectangle(-wide / 2, 1.0, wide / 2, 1.0 + high, radius)
    r = min(radius, wide / 2 * 0.999, high / 2 * 0.999) if radius > 0 else 0.0
    assert outline.area(made) == pytest.approx(wide * high - (4 - math.pi) * r**2, rel=1e-6)
    assert outline.bounds(made) == pytest.approx((-wide / 2, 1.0, wide / 2, 1.0 + high), abs=1e-2 + 0.003 * r)


@given(points)
def test_a_polygon_runs_to_the_left_whichever_way_it_was_given(found):
    ring = [p for k, p in enumerate(found) if p not in found[:k]]
    one, other = outline.polygon(ring), outline.polygon(ring[::-1])
    if abs(outline.area(one)) < 1e-6:
        return
    assert outline.area(one) > 0 and outline.area(one) == pytest.approx(outline.area(other))


@given(st.floats(-1.5, 1.5).filter(lambda b: abs(b) > 1e-3), coordinates, coordinates)
def test_an_arc_begins_and_ends_where_it_should(bulge, x, y):
    """A bulge is the tangent of a quarter of the arc's angle."""
    a, b = (x, y), (x + 60.0, y - 25.0)
    (cx, cy), r, start, sweep = outline.arc(a, b, bulge)
    assert math.tan(sweep / 4) == pytest.approx(bulge)
    assert (cx + r * math.cos(start), cy + r * math.sin(start)) == pytest.approx(a, abs=1e-6)
    end = start + sweep
    assert (cx + r * math.cos(end), cy + r * math.sin(end)) == pytest.approx(b, abs=1e-6)
    height = abs(bulge) * math.dist(a, b) / 2  # the rise of the arc over its chord
    assert r - r * math.cos(abs(sweep) / 2) == pytest.approx(height, rel=1e-6)


@given(points, coordinates, coordinates, st.floats(2, 40))
def test_the_distance_to_the_edge_is_shapelys_and_negative_outside(centres, u, v, radius):
    hull = outline.convex_hull(centres)
    if len(hull) < 3 or Polygon(hull).area < 1.0:
        return
    made = outline.rounded_hull(centres, radius)
    truth = shape(made, 3)
    found = outline.distance_to_edge(made, u, v)
    assert abs(found) == pytest.approx(truth.exterior.distance(Point(u, v)), abs=1e-6)
    assert (found > 0) == truth.contains(Point(u, v)) or abs(found) < 1e-6


def test_finer_steps_come_nearer_to_the_arc():
    circle = outline.rounded_hull([(0.0, 0.0)], 100.0)
    lost = [math.pi * 1e4 - shape(circle, d).area for d in (30, 15, 7.5)]
    assert lost == sorted(lost, reverse=True) and lost[0] / lost[2] == pytest.approx(16, rel=0.05)
    assert np.allclose(np.hypot(*np.array(outline.flatten(circle)).T), 100.0)
