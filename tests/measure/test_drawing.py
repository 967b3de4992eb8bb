"""A host as lines and soft pieces: rings closed, on the ground, as wide as it was measured; shadows against
shapely.
"""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Polygon
from shapely.ops import unary_union

from urial import families
from urial.job import host as hosts
from urial.measure import drawing

HOSTS = {
    "truck": families.new_job("rear-receiver").vehicle,
    "two-wheeler": families.new_job("two-wheeler").vehicle,
    "tractor": families.new_job("three-point-carriage").vehicle,
    "trailer": families.new_job("winch-base").vehicle,
    "trunk": families.new_job("trunk-anchor").vehicle,
    "post": hosts.Post(section="square", lean_deg=8.0),
    "quad": hosts.Quad(),
}
ORDER = ("body", "glass", "bars", "rails", "bumper", "tyres", "rims")


@pytest.mark.parametrize("name", HOSTS)
def test_every_line_is_finite_and_every_hole_is_a_ring_where_it_was_measured(name):
    host = HOSTS[name]
    groups = drawing.outline(host)
    assert groups and all(
        np.isfinite(line).all() and line.shape[1] == 3 for g in groups.values() for line in g
    )
    places = [(side, n) for side in ("left", "right") for n in range(len(host.points(side)))]
    assert len(groups["holes"]) == len(places)
    for ring, (side, n) in zip(groups["holes"], places, strict=True):
        assert np.allclose(ring[0], ring[-1])
        assert ring[:-1].mean(axis=0) == pytest.approx(host.place(side, n), abs=1e-6)
        assert np.ptp(ring, axis=0).max() == pytest.approx(host.points(side)[n].hole_mm, rel=0.01)


@pytest.mark.parametrize("name", ["truck", "two-wheeler", "tractor", "quad"])
def test_wheels_stand_on_the_ground(name):
    wheels = np.concatenate(drawing.outline(HOSTS[name])["wheels"])
    assert wheels[:, 2].min() == pytest.approx(0.0, abs=1.0)


@pytest.mark.parametrize("name", ["truck", "tractor", "quad"])
def test_what_has_two_sides_is_drawn_alike_on_both(name):
    every = np.concatenate(
        [line for k, g in drawing.outline(HOSTS[name]).items() if k != "holes" for line in g]
    )
    assert every[:, 1].max() == pytest.approx(-every[:, 1].min(), rel=1e-6)


def test_a_leaning_post_leans_by_its_angle():
    post = HOSTS["post"]
    rings = [line for line in drawing.outline(post)["body"] if len(line) > 2]
    low, high = (min(rings, key=lambda r: r[0, 2]), max(rings, key=lambda r: r[0, 2]))
    run = high[:-1].mean(axis=0) - low[:-1].mean(axis=0)
    assert math.degrees(math.atan2(math.hypot(run[0], run[1]), run[2])) == pytest.approx(8.0, abs=1e-6)
    assert np.ptp(low[:, 0]) == pytest.approx(post.width_mm)


@pytest.mark.parametrize("name", HOSTS)
def test_its_soft_pieces_lie_on_each_other_in_one_order_and_on_its_lines(name):
    host = HOSTS[name]
    pieces = drawing.silhouette(host)
    ranks = [ORDER.index(p.group) for p in pieces]
    assert pieces and ranks == sorted(ranks)
    lines = np.concatenate([line for k, g in drawing.outline(host).items() if k != "holes" for line in g])
    low, high = lines.min(axis=0) - 1e-6, lines.max(axis=0) + 1e-6
    for piece in pieces:
        points = np.concatenate(piece.faces)
        assert (points >= low).all() and (points <= high).all()
        assert len(piece.faces) == 2 or not piece.swept


# ---- shadows


@st.composite
def rings(draw):
    """A star-shaped polygon, either way round."""
    n = draw(st.integers(3, 9))
    radii = [draw(st.floats(10, 100)) for _ in range(n)]
    ring = np.array(
        [(r * math.cos(2 * math.pi * k / n), r * math.sin(2 * math.pi * k / n)) for k, r in enumerate(radii)]
    )
    return ring[::-1] if draw(st.booleans()) else ring


@given(rings(), st.floats(-300, 300), st.floats(-300, 300))
def test_a_prisms_shadow_is_covered_and_nothing_beside_it(near, dx, dy):
    """Against the union of all faces of the prism: both ends and every side wall."""
    far = near + np.array([dx, dy])
    walls = [
        Polygon([a, b, d, c]).buffer(0)
        for a, b, c, d in zip(near, np.roll(near, -1, 0), far, np.roll(far, -1, 0), strict=True)
    ]
    truth = unary_union([Polygon(near), Polygon(far), *walls])
    found = unary_union([Polygon(p).buffer(0) for p in drawing.swept(near, far)])
    assert truth.symmetric_difference(found.buffer(1e-7)).area < 2e-3 * truth.area + 1e-3


def test_an_end_seen_edge_on_still_throws_its_shadow():
    near = np.array([(0.0, 0.0), (100.0, 0.0), (100.0, 0.0), (0.0, 0.0)])
    found = unary_union(
        [Polygon(p).buffer(0) for p in drawing.swept(near, near + np.array([0.0, 40.0])) if len(p) > 3]
    )
    assert found.area == pytest.approx(4000.0, rel=1e-6)


@given(rings())
def test_rounded_corners_stay_inside_a_convex_ring_and_close_to_it(ring):
    hull = np.array(Polygon(ring).convex_hull.exterior.coords)
    flat = np.column_stack([hull, np.zeros(len(hull))])
    soft = drawing._rounded(flat, 5.0)
    assert Polygon(hull).buffer(1e-6).contains(Polygon(soft[:, :2]))
    assert Polygon(soft[:, :2]).area > 0.8 * Polygon(hull).area


@given(rings())
def test_twice_the_area_has_the_sign_of_the_turn(ring):
    assert drawing.turned(ring) == pytest.approx(-drawing.turned(ring[::-1]))
    assert abs(drawing.turned(ring)) / 2 == pytest.approx(Polygon(ring).area)
