"""The rear receiver's bodies: closed, of the weight of steel, clear of each other; outlines by closed
forms.
"""

import math

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from urial import families
from urial.assembly import bodies
from urial.geometry import outline, solids
from urial.geometry.place import Place
from urial.geometry.shape import Plate, Turned
from urial.job import edit
from urial.prove.verdict import host_bodies


def test_every_piece_is_a_closed_solid_with_the_weight_of_steel(verdict):
    for part in verdict.assembly.parts:
        s = bodies.body(part)
        assert s.status().name == "NoError" and s.volume() > 0 and s.genus() >= 0
        if isinstance(part.shape, Plate):
            plate = outline.area(part.shape.outline) - sum(
                math.pi * d * d / 4 for _, _, d in part.shape.holes
            )
            assert bodies.face_area(part.shape) == pytest.approx(plate, rel=2e-3)
    total = sum(bodies.mass(p) for p in verdict.assembly.parts)
    assert bodies.total_mass(verdict.assembly) == pytest.approx(total)
    assert 15 < total < 60


def test_the_centre_of_mass_lies_in_the_plane_of_symmetry_but_for_the_plug_bracket(job):
    import dataclasses

    bare = families.build(edit.put(job, "stack.1.plug_bracket", False))
    no_pin = dataclasses.replace(bare, parts=tuple(p for p in bare.parts if p.key != "2/hitch pin"))
    assert abs(bodies.centre_of_mass(no_pin)[1]) < 1e-3
    assert bodies.centre_of_mass(families.build(job))[1] > 0.05


def test_nothing_runs_through_anything(verdict, job):
    assert bodies.overlaps(verdict.assembly, host_bodies(job)) == ()


def test_a_cross_tube_through_both_rails_is_said(job):
    """Finding: at a small drop the tube went through both rails and nothing said so. The rail is 65 wide and
    125 high from 545 up; at a drop of −15 the tube's middle is 545 + 15 + (63.5 + 76.2)/2 = 629.9, so it
    lies wholly inside the rails' height."""
    low = edit.put(job, "stack.1.drop_mm", -15.0)
    for path, value in (
        ("stack.1.plate_outline", ((780.0, 720.0), (1150.0, 720.0), (1150.0, 540.0), (780.0, 540.0))),
        ("stack.1.gussets", "none"),
        ("stack.1.mouth_to_tube_mm", 350.0),
        ("stack.1.receiver_length_mm", 420.0),
    ):
        low = edit.put(low, path, value)
    a = families.build(low)
    found = bodies.overlaps(a, host_bodies(low))
    assert {o.names[1] for o in found if o.a == "A"} == {"left frame rail", "right frame rail"}
    tube = next(o for o in found if o.a == "A")
    area = a.part("A").shape.stock.section().area
    assert tube.volume == pytest.approx(area * 65, rel=0.02)
    assert "runs 65 mm into the" in tube.words


def test_the_pin_can_be_slid_in_from_either_side(verdict):
    x, _, z = verdict.assembly.places["pin"]
    way = solids.solid(Turned(Place.facing((x, -250, z), (0, 1, 0)), ((500, 26, 0),)))
    for part in verdict.assembly.parts:
        if part.key not in ("1/receiver", "2/bar", "2/hitch pin"):
            assert (way ^ bodies.body(part)).volume() < 1, part.name


@pytest.mark.parametrize("mount", ["notched", "through"])
def test_the_receiver_fits_its_opening(job, mount):
    job = edit.put(edit.put(job, "stack.1.cross_tube", "4x4x3/8"), "stack.1.mount", mount)
    a = families.build(job)
    tube_solid, receiver = (bodies.body(a.part(m)) for m in ("A", "C"))
    assert (tube_solid ^ receiver).volume() < 1.0


def test_rounded_hull_has_the_area_of_a_grown_polygon():
    square = outline.rounded_hull([(0, 0), (100, 0), (100, 60), (0, 60), (50, 30)], 15)
    assert outline.area(square) == pytest.approx(6000 + 320 * 15 + math.pi * 225)
    assert outline.distance_to_edge(square, 0, 0) == pytest.approx(15, rel=1e-3)
    assert outline.distance_to_edge(square, -20, 0) == pytest.approx(-5, rel=1e-2)
    assert outline.bounds(square) == pytest.approx((-15, -15, 115, 75))


@given(
    st.lists(st.tuples(st.floats(-200, 200), st.floats(-200, 200)), min_size=3, max_size=9), st.floats(5, 60)
)
@example([(0.0, 2.00001), (0.0, -30.0), (-1.0, 0.0)], 5.0)
@example([(0.0, 0.0), (0.0, -1.0), (1.0, 0.0), (-1.3021082283725524e-169, 0.0)], 5.0)
def test_every_disc_is_inside_its_hull(points, radius):
    spread = np.ptp(np.array(points), axis=0)
    if min(spread) < 1:
        return
    shape = outline.rounded_hull(points, radius)
    for x, y in points:
        assert outline.distance_to_edge(shape, x, y) > radius * 0.995 - 0.05


def test_elevations_hide_what_is_behind(verdict):
    for view in ("side", "rear", "top"):
        pieces = bodies.elevation(verdict.assembly, view)
        depths = [p.depth for p in pieces]
        assert depths == sorted(depths)
        right, up, towards = (np.array(a) for a in bodies.view_axes(view))
        assert np.cross(right, up) == pytest.approx(towards)


def test_a_piece_that_only_moved_keeps_its_solids(job):
    """A drop of 10 mm more moves the ball mount and leaves its shapes the same values."""
    one, two = families.build(job), families.build(edit.put(job, "stack.1.drop_mm", 130.0))
    for key in ("2/bar", "2/ball plate", "2/drop plate", "2/ball"):
        assert one.by_key[key].shape is two.by_key[key].shape
        assert two.by_key[key].place.o[2] == pytest.approx(one.by_key[key].place.o[2] - 10)
