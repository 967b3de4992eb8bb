"""Shapes against closed forms, sections cut from the solids, and each other."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from urial.geometry import axis, flat, path, profile, solids
from urial.geometry.outline import rectangle
from urial.geometry.path import Bent, Line, ShapeError
from urial.geometry.place import Place, angle_axis, minus, norm
from urial.geometry.shape import (
    Bar,
    Box,
    Capped,
    Cope,
    Flattened,
    Fold,
    Hole,
    Mitre,
    Plate,
    Slant,
    Slugged,
    Strap,
    Turned,
)
from urial.stock import catalogue, sections

TUBE = catalogue.bar("2 1/2x2 1/2x1/4")
ROUND = next(b for b in catalogue.bars().values() if b.shape == "round_tube" and b.width > 30 and b.wall > 2)
ANGLE = next(b for b in catalogue.bars().values() if b.shape == "angle" and b.width != b.height)


def tube(**more):
    return Bar(TUBE, Line((0, 0, 0), (0, 500, 0)), **more)


directions = st.tuples(*[st.floats(-1, 1)] * 3).filter(lambda v: norm(v) > 0.2)


@given(directions, directions, st.floats(-3, 3), st.tuples(*[st.floats(-500, 500)] * 3))
def test_a_place_and_its_inverse_undo_each_other(z, x, turn, p):
    here = Place.facing((3, -4, 5), z, x) @ angle_axis(x, turn)
    assert (here.inverse() @ here).point(p) == pytest.approx(p, abs=1e-9)
    assert here.local(here.point(p)) == pytest.approx(p, abs=1e-9)
    assert np.linalg.det(here.rotation) == pytest.approx(1)
    assert here.points(np.array([p]))[0] == pytest.approx(here.point(p))


def test_a_plain_tube_has_its_sections_volume():
    assert solids.volume(tube()) == pytest.approx(TUBE.section().area * 500, rel=1e-3)


def test_a_hole_takes_two_wall_discs_and_a_blind_one_takes_one():
    lost = solids.volume(tube()) - solids.volume(tube(cuts=(Hole((0, 250, 0), (1, 0, 0), 17.0),)))
    assert lost == pytest.approx(2 * math.pi * 17**2 / 4 * 6.35, rel=0.01)
    one = solids.volume(tube()) - solids.volume(tube(cuts=(Hole((0, 250, 0), (1, 0, 0), 17.0, depth=60.0),)))
    assert one == pytest.approx(lost / 2, rel=1e-3)


def test_a_mitre_keeps_the_volume_and_lengthens_the_cut():
    cut = tube(end_i=Mitre(math.radians(45)), end_j=Slant((0.0, 1.0, 1.0)))
    assert solids.volume(cut) == pytest.approx(solids.volume(tube()), rel=1e-3)
    low, high = solids.bounding_box(solids.solid(cut))
    assert high[1] - low[1] == pytest.approx(500 + 63.5, rel=1e-3)
    assert flat.cut_length(cut) == pytest.approx(500 + 63.5, rel=1e-3)


@given(st.floats(20, 150), st.floats(-80, 80), st.floats(100, 400))
def test_a_bent_bars_volume_is_section_times_centre_line(degrees, twist, radius):
    a, b = math.radians(degrees), math.radians(twist)
    leg = 400 + radius * math.tan(a / 2)
    p1 = (leg, 0.0, 0.0)
    p2 = (p1[0] + leg * math.cos(a), leg * math.sin(a) * math.cos(b), leg * math.sin(a) * math.sin(b))
    bent = Bar(ROUND, Bent(((0, 0, 0), p1, p2), (radius,)))
    size = path.length(bent.path)
    assert size == pytest.approx(2 * (leg - radius * math.tan(a / 2)) + radius * a)
    assert solids.volume(bent) == pytest.approx(
        ROUND.section().area * size, rel=6e-3
    )  # Pappus; the round is drawn with 48 sides
    end = axis.frame_at(bent, size)
    assert end.o == pytest.approx(p2, abs=1e-6)
    assert end.x == pytest.approx(tuple(v / norm(minus(p2, p1)) for v in minus(p2, p1)), abs=1e-9)
    # the swept solid is where its axis is: a slice square to it half way round has its centroid there
    half = axis.frame_at(bent, size / 2)
    turned = solids.solid(bent).transform(half.inverse().matrix)
    sliced = turned.transform(np.array([[0, 1.0, 0, 0], [0, 0, 1, 0], [1, 0, 0, 0]])).slice(0.0)
    rings = [shapely.Polygon(r) for r in sliced.to_polygons()]
    near = min(rings, key=lambda r: math.hypot(r.centroid.x, r.centroid.y))
    assert math.hypot(near.centroid.x, near.centroid.y) < 0.5


@given(
    st.floats(-25, 25), st.floats(0, math.pi), st.floats(5, 20), st.sampled_from(["tube", "round", "angle"])
)
def test_net_sections_are_the_sections_cut_from_the_solid(off, turn, d, kind):
    stock = {"tube": TUBE, "round": ROUND, "angle": ANGLE}[kind]
    hole = Hole(
        (200.0, -off * math.sin(turn), off * math.cos(turn)), (0.0, math.cos(turn), math.sin(turn)), d
    )
    bar = Bar(stock, Line((0, 0, 0), (400, 0, 0)), cuts=(hole,))
    left = axis.section_at(bar, 200.0)
    cut = solids.solid(bar).transform(np.array([[0, 1.0, 0, 0], [0, 0, 1, 0], [1, 0, 0, 0]])).slice(200.0)
    assert left.area == pytest.approx(cut.area(), rel=2e-2)
    assert axis.section_at(bar, 300.0).area == pytest.approx(stock.section().area, rel=4e-3)


def test_the_gross_section_has_the_catalogues_properties():
    for stock in (TUBE, ANGLE, catalogue.bar("square 2")):
        n, s = axis.section_at(Bar(stock, Line((0, 0, 0), (10, 0, 0))), 5.0), stock.section()
        assert (n.area, n.szz, n.syy, n.syz) == pytest.approx((s.area, s.Iy, s.Iz, s.Iyz), rel=3e-3, abs=1)
        assert abs(n.sy) + abs(n.sz) < 1e-6 * n.area * stock.width


def test_stress_of_a_net_section_by_hand():
    """A 100 × 10 flat with a 20 mm hole at its edge's quarter: what is left is two strips, and the pull is
    off their middle.
    """
    bar = next(b for b in catalogue.bars().values() if b.shape == "rect_bar")
    hole = Hole((50.0, 0.0, 0.0), (0.0, 1.0, 0.0), bar.height / 5)
    n = axis.section_at(Bar(bar, Line((0, 0, 0), (100, 0, 0)), cuts=(hole,)), 50.0)
    b, h = bar.width, bar.height
    inertia = b * (h**3 - (h / 5) ** 3) / 12
    one = np.array([1000.0])
    assert n.stress(one, 0 * one, 0 * one)[0] == pytest.approx(1000 / (b * h * 0.8))
    assert n.stress(0 * one, one * 1e4, 0 * one)[0] == pytest.approx(1e7 / inertia * h / 2)
    edge = axis.section_at(
        Bar(bar, Line((0, 0, 0), (100, 0, 0)), cuts=(Hole((50.0, 0.0, h / 2), (0.0, 1.0, 0.0), h / 2),)), 50.0
    )
    # a quarter gone from the top: the pull bends what is left about its own middle
    left, arm = 0.75 * h, h / 8
    assert edge.stress(one, 0 * one, 0 * one)[0] == pytest.approx(
        1000 / (b * left) + 1000 * arm * 6 / (b * left**2)
    )


def test_principal_axes_of_an_angle_diagonalise_its_inertia():
    s = sections.angle(90, 60, 8)
    big, small, turn = profile.principal(s)
    c, si = math.cos(turn), math.sin(turn)
    rotated = c * c * s.Iy + si * si * s.Iz - 2 * c * si * s.Iyz  # about the turned y axis
    assert rotated == pytest.approx(big)
    assert big + small == pytest.approx(s.Iy + s.Iz)
    assert big * small == pytest.approx(s.Iy * s.Iz - s.Iyz**2)


def test_an_angle_stands_on_its_own_centroid():
    body = solids.solid(Bar(ANGLE, Line((0, 0, 0), (100, 0, 0))))
    low, high = solids.bounding_box(body)
    cy, cz = profile.centroid_of(ANGLE)
    assert (low[1], low[2]) == pytest.approx((-cy, -cz))
    assert (high[1], high[2]) == pytest.approx((ANGLE.width - cy, ANGLE.height - cz))


@given(st.floats(30, 120), st.floats(3, 25), st.booleans())
def test_a_folded_plates_legs_and_blank(degrees, inside, down):
    t, wide, base, leg = 6.0, 80.0, 60.0, 90.0
    angle = math.radians(-degrees if down else degrees)
    fold = Fold((base, wide), (base, 0.0), angle, inside)  # what lies left of it, at larger u, turns
    zone = flat.bend_zone(t, fold).length
    bent = Plate(rectangle(0, 0, base + zone + leg, wide), t, folds=(fold,))
    body = solids.solid(bent)
    assert body.volume() == pytest.approx(
        t * wide * (base + leg) + wide * abs(angle) * ((inside + t) ** 2 - inside**2) / 2, rel=4e-3
    )
    assert solids.volume(bent) == pytest.approx(t * wide * (base + zone + leg))
    low, high = solids.bounding_box(body)
    rise = (inside + t) - inside * math.cos(angle) + leg * math.sin(abs(angle)) if degrees <= 90 else None
    if rise is not None and not down:
        assert high[2] >= leg * math.sin(angle)
    assert (low[2] < -1) == down
    assert len(flat.flat(bent).bend_lines) == 2


def test_folds_outside_the_plate_and_bends_too_near_are_refused():
    with pytest.raises(ShapeError, match="outside its plate"):
        solids.solid(Plate(rectangle(0, 0, 50, 50), 5, folds=(Fold((80, 50), (80, 0), 1.0, 5),)))
    with pytest.raises(ShapeError, match="set them farther apart or bend tighter"):
        path.runs(Bent(((0, 0, 0), (100, 0, 0), (100, 100, 0)), (150.0,)))
    with pytest.raises(ShapeError, match="at one place"):
        path.runs(Bent(((0, 0, 0), (0, 0, 0), (100, 100, 0)), (15.0,)))


def test_slugs_caps_and_flats_weigh_what_they_should():
    plain = Bar(ROUND, Line((0, 0, 0), (600, 0, 0)))
    bore = ROUND.width - 2 * ROUND.wall
    slug = Bar(ROUND, Line((0, 0, 0), (600, 0, 0)), end_j=Slugged(60))
    assert solids.volume(slug) - solids.volume(plain) == pytest.approx(math.pi * bore**2 / 4 * 60, rel=4e-3)
    cap = Bar(TUBE, Line((0, 0, 0), (500, 0, 0)), end_j=Capped(5))
    assert solids.bounding_box(solids.solid(cap))[1][0] == pytest.approx(505)
    pressed = Bar(ROUND, Line((0, 0, 0), (600, 0, 0)), end_j=Flattened(60))
    assert solids.volume(pressed) == pytest.approx(
        solids.volume(plain), rel=0.06
    )  # pressing takes no metal away
    low, high = solids.bounding_box(solids.solid(pressed).trim_by_plane([1, 0, 0], 545))
    assert high[2] - low[2] == pytest.approx(2 * ROUND.wall, rel=1e-6)
    assert high[1] - low[1] == pytest.approx(math.pi * (ROUND.width - ROUND.wall) / 2, rel=1e-6)
    with pytest.raises(ShapeError, match="Only round tube"):
        solids.solid(Bar(TUBE, Line((0, 0, 0), (500, 0, 0)), end_j=Flattened(60)))


@given(st.floats(40, 90), st.floats(-5, 5))
def test_a_copes_template_is_where_the_solid_ends(degrees, offset):
    a, big = math.radians(degrees), ROUND.width * 0.9
    main = (math.cos(a), math.sin(a), 0.0)
    # the branch comes along +x and ends on the axis of the main round at x = 600
    cope = Cope(big, (600.0, 0.0, offset), main)
    bar = Bar(ROUND, Line((0, 0, 0), (600, 0, 0)), end_j=cope)
    body = solids.solid(bar)
    r = ROUND.width / 2
    for u, back in flat.cope_depths(bar, cope, 600.0, 8):
        phi = u / r
        y, z = (r - 0.05) * math.cos(phi + 0.02), (r - 0.05) * math.sin(phi + 0.02)
        probe = solids.solid(Turned(Place.facing((500.0, y, z), (1, 0, 0)), ((200.0, 0.05, 0),)))
        touched = (body ^ probe).bounding_box()
        assert touched[3] == pytest.approx(600 - back, abs=1.5)
    template = flat.wrap_template(bar, "j")
    assert min(d for _, d in template) == 0
    assert flat.cut_length(bar) == pytest.approx(600 - min(d for _, d in flat.cope_depths(bar, cope, 600.0)))


@pytest.mark.parametrize("end", [Slant((1.0, 0.3, 0.5)), Cope(30.0, (600.0, 0.0, 4.0), (0.5, 0.8, 0.3))])
def test_the_same_end_has_the_same_paper_whichever_way_the_bar_is_drawn(end):
    """Drawn from the other end, y points the other way: the paper begins on the opposite line along the
    tube and is else the same.
    """
    there = flat.wrap_paper(Bar(ROUND, Line((0, 0, 0), (600, 0, 0)), end_j=end), "j")
    back = flat.wrap_paper(Bar(ROUND, Line((600, 0, 0), (0, 0, 0)), end_i=end), "i")
    size = math.pi * ROUND.width

    def height(sheet, u):
        edge = sorted((x, y) for x, y, _ in sheet.outline if y > 1e-9)
        return np.interp(u % size, [x for x, _ in edge], [y for _, y in edge])

    for u in np.linspace(0.0, size, 37)[:-1]:
        assert height(back, u + size / 2) == pytest.approx(height(there, u), abs=0.05), u
    highest = max(y for _, y, _ in there.outline)
    assert highest - min(y for _, y, _ in there.outline if y > 1e-9) > 5.0
    assert min(y for _, y, _ in there.outline if y > 1e-9) == pytest.approx(flat.BACK)
    assert (
        len({round(height(there, u), 3) for u in (0.0, size / 4, size / 2, size * 3 / 4)}) > 2
    )  # no symmetry hides a mirrored paper


def test_a_slants_paper_by_hand_and_square_or_flat_ends_need_none():
    """A plane tilted 30° about z: the long point is opposite the short one, D tan 30° apart."""
    bar = Bar(
        ROUND,
        Line((0, 0, 0), (600, 0, 0)),
        end_j=Slant((math.cos(math.radians(30)), math.sin(math.radians(30)), 0.0)),
    )
    sheet = flat.wrap_paper(bar, "j")
    heights = [y for _, y, _ in sheet.outline if y > 1e-9]
    assert max(heights) - min(heights) == pytest.approx(ROUND.width * math.tan(math.radians(30)), rel=1e-3)
    lowest = min((y, x) for x, y, _ in sheet.outline if y > 1e-9)[
        1
    ]  # most is gone where y is greatest: at the paper's edge
    assert min(lowest, math.pi * ROUND.width - lowest) == pytest.approx(0.0, abs=1.0)
    assert (
        flat.wrap_paper(bar, "i") is None and flat.wrap_paper(tube(end_j=Slant((0.9, 0.3, 0.0))), "j") is None
    )


def test_an_opening_takes_its_block_and_straps_have_their_length():
    notched = tube(cuts=(Box(Place((0, 230, -63.5 / 2)), (80, 60, 20)),))
    low, high, _ = axis.band(notched, notched.cuts[0])
    assert (low, high) == pytest.approx((200, 260))
    left = axis.section_at(notched, 230.0)
    assert left.area < TUBE.section().area - 63.5 * 6.35 * 0.8
    assert axis.section_at(notched, 100.0).area == pytest.approx(TUBE.section().area, rel=2e-3)
    assert len(axis.cut_stations(notched)) == 2
    belt = Strap(((0, 0, 0), (300, 0, 0), (300, 400, 0)), 50, 3)
    assert flat.cut_length(belt) == pytest.approx(700)
    assert solids.volume(belt) == pytest.approx(700 * 150, rel=0.01)


def test_the_centroid_of_a_channel_and_an_angle_by_their_rectangles():
    """Channel: web (h − 2 tf) tw, flanges b tf.  Angle 50 × 50 × 6: (300·25 + 264·3) / 564 = 14.70 with
    sharp corners; rolled ones have 14.5."""
    for stock in catalogue.bars().values():
        b, h, tw = stock.width, stock.height, stock.wall
        if stock.shape == "channel":
            tf = stock.extra or tw
            web, flange = (h - 2 * tf) * tw, b * tf
            y = (web * tw / 2 + 2 * flange * b / 2) / (web + 2 * flange)
            assert profile.centroid_of(stock) == pytest.approx((y, h / 2))
    y, z = profile.centroid_of(catalogue.bar("L 50x50x6"))
    assert y == pytest.approx(z) == pytest.approx((300 * 25 + 264 * 3) / 564)
    assert profile.centroid_of(catalogue.bar("60x60x6")) == (0.0, 0.0)


def test_a_hole_drilled_into_a_bars_end_takes_its_depth_of_the_bar():
    bar = Bar(catalogue.bar("square 2"), Line((0.0, 0.0, 0.0), (200.0, 0.0, 0.0)))
    low, high, taken = axis.band(bar, Hole((200.0, 5.0, 0.0), (1.0, 0.0, 0.0), 12.0, depth=40.0))
    assert (low, high) == pytest.approx((160.0, 200.0))
    assert abs(taken[0]) + abs(taken[1]) == pytest.approx(5.0) and taken[4] == 6.0
    low, high, taken = axis.band(bar, Hole((80.0, 0.0, 0.0), (0.0, 1.0, 0.0), 17.0))
    assert (low, high) == pytest.approx((71.5, 88.5)) and taken[5] == math.inf
