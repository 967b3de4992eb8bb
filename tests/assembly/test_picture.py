"""The mesh that is drawn: every part's own triangles, closed where it is steel, rough only where said."""

import dataclasses

import numpy as np
import pytest

from tests.assembly.trial import TRIALS
from urial import families
from urial.assembly import bodies
from urial.geometry import solids
from urial.geometry.shape import Turned

KINDS = ["rear-receiver", "two-wheeler", "flat-trailer", "slot-frame"]


@pytest.fixture(params=KINDS)
def built(request):
    return families.build(families.new_job(request.param))


def of_part(mesh, number):
    return mesh.triangles[mesh.part_of_triangle == number]


def volume(points, triangles):
    a, b, c = (points[triangles[:, k]] for k in range(3))
    return float((np.cross(a, b) * c).sum() / 6)


def test_every_part_has_its_triangles_and_points_where_its_body_is(built):
    mesh = bodies.mesh(built)
    assert mesh.triangles.max() < len(mesh.points) == len(mesh.part_of_point)
    for number, part in enumerate(built.parts):
        rows = of_part(mesh, number)
        assert len(rows) and (mesh.part_of_point[rows] == number).all(), part.key
        low, high = bodies.corners(part)
        own = mesh.points[mesh.part_of_point == number]
        slack = 0.1 * max(np.subtract(high, low)) if isinstance(part.shape, Turned) else 1e-3
        assert (own.min(axis=0) >= np.array(low) - slack).all() and (
            own.max(axis=0) <= np.array(high) + slack
        ).all()


def test_the_triangles_of_steel_enclose_what_it_weighs(built):
    mesh = bodies.mesh(built)
    for number, part in enumerate(built.parts):
        if part.hardware:
            continue
        body = solids.solid(part.shape).volume()
        assert volume(mesh.points, of_part(mesh, number)) == pytest.approx(body, rel=1e-3), part.key


def test_edges_join_points_of_one_part(built):
    mesh = bodies.mesh(built)
    a, b = mesh.part_of_point[mesh.edges].T
    assert (a == b).all() and len(mesh.edges)


def test_it_is_made_once_and_the_best_there_is_is_shown():
    a = dataclasses.replace(TRIALS["bent tube"](1.0)[0])
    rough = bodies.first_mesh(a)
    assert bodies.picture(a) is rough  # nothing better yet
    fine = bodies.mesh(a)
    assert fine is bodies.mesh(a) is bodies.picture(a) is bodies.first_mesh(a)
    tube = next(n for n, p in enumerate(a.parts) if p.name == "tube")
    one, two = (volume(m.points, of_part(m, tube)) for m in (rough, fine))
    assert one == pytest.approx(two, rel=0.05)


def test_nothing_built_is_an_empty_picture():
    nothing = dataclasses.replace(TRIALS["clamp"](1.0)[0], parts=(), joints=(), sockets=())
    mesh = bodies.mesh(nothing)
    assert mesh.points.shape == (0, 3) and mesh.triangles.shape == (0, 3) and mesh.edges.shape == (0, 2)
    assert bodies.lowest(nothing) is None
