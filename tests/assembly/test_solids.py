import dataclasses
import math

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from urial import families
from urial.assembly import net, outline, solids
from urial.assembly.model import BarShape, Box, Hole, PlateShape
from urial.job import edit
from urial.stock import catalogue, sections

TUBE = catalogue.bar("2 1/2x2 1/2x1/4")


def tube(**more):
    return BarShape(TUBE, (0, 0, 0), (0, 500, 0), (0, 0, 1), **more)


def test_a_plain_tube_has_its_sections_volume():
    assert solids.solid(tube()).volume() == pytest.approx(TUBE.section().area * 500, rel=1e-3)


def test_a_hole_takes_two_wall_discs():
    drilled = solids.solid(tube(holes=(Hole((0, 250, 0), (1, 0, 0), 17.0),)))
    lost = solids.solid(tube()).volume() - drilled.volume()
    assert lost == pytest.approx(2 * math.pi * 17**2 / 4 * 6.35, rel=0.01)


def test_a_notch_takes_its_block():
    notched = solids.solid(tube(cuts=(Box((-50, 200, -40), (50, 260, -63.5 / 2 + 6.35)),)))
    corner = (4 - math.pi) * (12.7**2 - 6.35**2) / 2  # what the two lower corners' rounding leaves out
    assert solids.solid(tube()).volume() - notched.volume() == pytest.approx((63.5 * 6.35 - corner) * 60, rel=0.12)


def test_a_mitre_keeps_the_volume_and_lengthens_the_long_side():
    cut = solids.solid(tube(mitre=(math.radians(45), 0.0)))
    assert cut.volume() == pytest.approx(solids.solid(tube()).volume(), rel=1e-3)
    low = cut.bounding_box()
    assert low[4] - low[1] == pytest.approx(500 + 63.5 / 2, rel=1e-3)


def test_every_piece_is_a_closed_solid_with_the_weight_of_steel(verdict):
    for part in verdict.assembly.parts:
        for shape in part.shapes:
            s = solids.solid(shape)
            assert s.status().name == "NoError" and s.volume() > 0 and s.genus() >= 0
            if isinstance(shape, PlateShape):
                plate = outline.area(shape.outline) - sum(math.pi * d * d / 4 for _, _, d in shape.holes)
                assert solids.face_area(shape) == pytest.approx(plate, rel=2e-3)
    total = sum(solids.mass(p) for p in verdict.assembly.parts)
    assert solids.total_mass(verdict.assembly) == pytest.approx(total)
    assert 15 < total < 60


def test_the_centre_of_mass_lies_in_the_plane_of_symmetry_but_for_the_plug_bracket(job):
    bare = families.build(edit.put(job, "design.plug_bracket", False))
    no_pin = dataclasses.replace(bare, parts=tuple(p for p in bare.parts if p.mark != "X2"))
    assert abs(solids.centre_of_mass(no_pin)[1]) < 1e-3
    with_bracket = solids.centre_of_mass(families.build(job))
    assert with_bracket[1] > 0.05


def test_parts_that_should_not_meet_do_not(verdict):
    """Nothing but hardware in its holes shares space: the plates stand clear of the tube's walls, the bar of the receiver's."""
    steel = [(p.mark, solids.solid(s)) for p in verdict.assembly.parts if not p.hardware for s in p.shapes]
    for k, (a, one) in enumerate(steel):
        for b, two in steel[:k]:
            shared = (one ^ two).volume()
            assert shared < 60, (a, b, shared)


def test_the_pin_can_be_slid_in_from_either_side(verdict):
    from urial.assembly.model import TurnedShape

    x, _, z = verdict.assembly.places["pin"]
    way = solids.solid(TurnedShape((x, -250, z), (0, 1, 0), ((500, 26, 0),)))
    for part in verdict.assembly.parts:
        if part.mark not in ("C", "G", "X2"):
            assert all((way ^ solids.solid(s)).volume() < 1 for s in part.shapes), part.name


@pytest.mark.parametrize("mount", ["notched", "through"])
def test_the_receiver_fits_its_opening(job, mount):
    job = edit.put(edit.put(job, "design.cross_tube", "4x4x3/8"), "design.mount", mount)
    a = families.build(job)
    tube_solid, receiver = (solids.solid(a.part(m).shapes[0]) for m in ("A", "C"))
    assert (tube_solid ^ receiver).volume() < 1.0


def test_rounded_hull_has_the_area_of_a_grown_polygon():
    square = outline.rounded_hull([(0, 0), (100, 0), (100, 60), (0, 60), (50, 30)], 15)
    assert outline.area(square) == pytest.approx(6000 + 320 * 15 + math.pi * 225)
    assert outline.distance_to_edge(square, 0, 0) == pytest.approx(15, rel=1e-3)
    assert outline.distance_to_edge(square, -20, 0) == pytest.approx(-5, rel=1e-2)
    assert outline.width_at(square, 30) == pytest.approx(130)
    assert outline.bounds(square) == pytest.approx((-15, -15, 115, 75))


@given(st.lists(st.tuples(st.floats(-200, 200), st.floats(-200, 200)), min_size=3, max_size=9), st.floats(5, 60))
@example([(0.0, 2.00001), (0.0, -30.0), (-1.0, 0.0)], 5.0)
@example([(0.0, 0.0), (0.0, -1.0), (1.0, 0.0), (-1.3021082283725524e-169, 0.0)], 5.0)
def test_every_disc_is_inside_its_hull(points, radius):
    spread = np.ptp(np.array(points), axis=0)
    if min(spread) < 1:
        return
    shape = outline.rounded_hull(points, radius)
    for x, y in points:
        assert outline.distance_to_edge(shape, x, y) > radius * 0.995 - 0.05


def test_net_sections_by_hand():
    s = sections.rect_tube(60, 60, 5)
    area, wy, wz = net.cross_hole(s, 17)
    assert area == pytest.approx(s.area - 170)
    assert wz == pytest.approx((s.Iz - 2 * 17 * 5 * 27.5**2 - 2 * 17 * 125 / 12) / 30)
    assert wy > wz
    bar = sections.rect_bar(50, 50)
    assert net.cross_hole(bar, 17)[0] == 50 * 33
    sharp = net.opened_tube(sections.rect_tube(60, 60, 5, 0.0), -60, -60 + 30 + 5)  # nothing but the bottom wall
    iy = 300 * 27.5**2 + 2 * 5 * 50**3 / 12
    shift = 300 * 27.5 / 800
    assert sharp[0] == pytest.approx(60 * 5 + 2 * 5 * 50)
    assert sharp[1] == pytest.approx((iy + 300 * 25 / 12 - 800 * shift**2) / (25 + shift), rel=1e-6)


def test_elevations_hide_what_is_behind(verdict):
    for view in ("side", "rear", "top"):
        pieces = solids.elevation(verdict.assembly, view)
        depths = [p.depth for p in pieces]
        assert depths == sorted(depths)
        right, up, towards = (np.array(a) for a in solids.view_axes(view))
        assert np.cross(right, up) == pytest.approx(towards)
