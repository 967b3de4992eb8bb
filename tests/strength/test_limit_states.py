"""Every branch of every limit state, each with its figure worked out here: AISC 360-22 chapters D to K.

The steel has E 200 000 and Fy 200 MPa, so that √(E/Fy) is 31.623 and E/Fy 1 000, and limits read off at once.
"""

import math
from dataclasses import replace

import numpy as np
import pytest

from urial.stock import catalogue, sections
from urial.strength import bolts, members, pins, plates, throats, welds

STEEL = replace(catalogue.material("A36"), Fy=200.0, Fu=400.0, E=200_000.0)
ROOT = 31.6228


def tube(b, h, t):
    return sections.rect_tube(b, h, t)


# ---- F7


def test_a_compact_tube_reaches_its_plastic_moment():
    s = tube(150, 150, 5)  # 27 of 35.4
    assert members.flexure(s, STEEL, "y", 0) == pytest.approx(200 * s.Wply)


def test_a_flange_between_compact_and_slender():
    s = tube(150, 150, 3.6)  # (150 − 10.8)/3.6 = 38.67, between 35.4 and 44.3
    full, first = 200 * s.Wply, 200 * s.Wely
    assert members.flexure(s, STEEL, "y", 0) == pytest.approx(full - 0.36529 * (full - first), rel=1e-4)


def test_a_slender_flange():
    s = tube(150, 150, 2)  # 72: be = 1.92 · 2 · 31.623 · (1 − 0.38/72 · 31.623) = 101.16 of 144 mm
    inertia = s.Iy - 2 * (144 - 101.164) * 2 * 74**2
    assert members.flexure(s, STEEL, "y", 0) == pytest.approx(200 * inertia / 75, rel=1e-4)


def test_a_web_past_compact():
    s = tube(40, 300, 3)  # 97 of 76.5; its flange, 10.3, is compact
    full, first = 200 * s.Wply, 200 * s.Wely
    assert members.flexure(s, STEEL, "y", 0) == pytest.approx(full - 0.19756 * (full - first), rel=1e-4)


def test_a_deep_tube_buckles_sideways_when_long_and_longer():
    s = tube(40, 120, 4)
    full, first = 200 * s.Wply, 200 * s.Wely
    twist = math.sqrt(s.J * s.area)
    short = 26_000 * s.rz * twist / full
    long = 400_000 * s.rz * twist / (140 * s.Wely)
    assert members.flexure(s, STEEL, "y", 0.99 * short) == pytest.approx(full)
    half = (short + long) / 2
    assert members.flexure(s, STEEL, "y", half) == pytest.approx((full + 0.7 * first) / 2)
    assert members.flexure(s, STEEL, "y", 2 * long) == pytest.approx(0.35 * first)
    assert members.flexure(s, STEEL, "z", 2 * long) == pytest.approx(200 * s.Wplz)  # not about its weak axis


# ---- F8, F10, F11


@pytest.mark.parametrize(
    ("wall", "stress"),
    [(5.0, None), (2.0, 242.0), (0.5, 0.33 * 200_000 / 400)],  # D/t 40, 100, 400
)
def test_round_tubes(wall, stress):
    s = sections.round_tube(200, wall)
    expected = 200 * s.Wply if stress is None else stress * s.Wely
    assert members.flexure(s, STEEL, "y", 0) == pytest.approx(expected)


@pytest.mark.parametrize(
    ("t", "times"),
    [(8.0, 1.5), (5.0, 2.43 - 1.72 * 20 / ROOT), (3.0, 0.71 * 200_000 / (100 / 3) ** 2 / 200)],
)
def test_legs_of_angles_stocky_middling_and_slender(t, times):
    s = sections.angle(100, 100, t)  # 12.5 and 20 and 33.3, of 17.1 and 28.8
    assert members.flexure(s, STEEL, "y", 0) == pytest.approx(times * 0.8 * 200 * s.Wely, rel=1e-4)


@pytest.mark.parametrize("length", [300.0, 3000.0, 12_000.0])
def test_a_long_angle_twists_sideways(length):
    """F10-5a, its toe in compression: Mcr = 0.58 E b⁴ t/L² (√(1 + 0.88 (L t/b²)²) − 1)."""
    s = sections.angle(60, 60, 6)
    first = 0.8 * 200 * s.Wely
    spread = length * 6 / 3600
    mcr = 0.58 * 200_000 * 60**4 * 6 / length**2 * (math.sqrt(1 + 0.88 * spread**2) - 1)
    x = first / mcr
    expected = first * min(1.5, 1.92 - 1.17 * math.sqrt(x)) if x <= 1 else (0.92 - 0.17 / x) * mcr
    assert members.flexure(s, STEEL, "y", length) == pytest.approx(min(expected, 1.5 * first))


@pytest.mark.parametrize(("length", "times"), [(40.0, 1.5), (300.0, 1.383), (1500.0, 0.76)])
def test_flats_on_edge_short_middling_and_long(length, times):
    s = sections.rect_bar(6, 60)  # L d/t²: 67, 500, 2 500 of 80 and 1 900
    assert members.flexure(s, STEEL, "y", length) == pytest.approx(times * 200 * s.Wely, rel=1e-3)


def test_a_round_bar_is_capped_at_one_point_six_times_first_yield():
    s = sections.round_bar(30)
    assert members.flexure(s, STEEL, "y", 9000) == pytest.approx(1.6 * 200 * s.Wely)


# ---- E3, E7


def test_a_thin_square_column_loses_the_middle_of_its_walls():
    """72 of 44.3: Fel = (1.38 · 44.272/72)² · 200 = 144; be = 144 (1 − 0.2 · 0.84855) 0.84855 = 101.455."""
    s = tube(150, 150, 2)
    assert members.compression(s, STEEL, 1.0) == pytest.approx(
        200 * (s.area - 4 * (144 - 101.455) * 2), rel=1e-4
    )


def test_a_thin_round_column():
    s = sections.round_tube(200, 1)  # D/t 200 of 110: 0.038 · 1000/200 + 2/3
    assert members.compression(s, STEEL, 1.0) == pytest.approx(200 * 0.856667 * s.area, rel=1e-5)


def test_columns_change_curve_at_four_and_three_quarter_roots():
    s = sections.round_bar(20)
    limit = 4.71 * ROOT * s.ry
    for length in (0.999 * limit, 1.001 * limit):
        elastic = math.pi**2 * 200_000 / (length / s.ry) ** 2
        stress = 0.658 ** (200 / elastic) * 200 if length < limit else 0.877 * elastic
        assert members.compression(s, STEEL, length) == pytest.approx(stress * s.area)


# ---- G, H3


@pytest.mark.parametrize(("t", "factor"), [(5.0, 1.0), (3.4, 0.91254), (3.0, 0.80242)])
def test_webs_in_shear(t, factor):
    s = tube(60, 300, t)  # 57, 85.2 and 97 of 77.8 and 96.9
    assert members.shear(s, STEEL, "z") == pytest.approx(0.6 * 200 * 2 * (300 - 3 * t) * t * factor, rel=1e-4)
    assert members.shear(s, STEEL, "y") == pytest.approx(0.6 * 200 * 2 * (60 - 3 * t) * t)


@pytest.mark.parametrize(("t", "stress"), [(5.0, 120.0), (1.0, 0.78 * 200_000 / 200**1.5)])
def test_round_tubes_in_shear(t, stress):
    s = sections.round_tube(200, t)
    assert members.shear(s, STEEL, "z") == pytest.approx(stress * s.area / 2)


def test_an_angle_and_a_bar_in_shear():
    s = sections.angle(80, 50, 6)
    assert members.shear(s, STEEL, "z") == pytest.approx(120 * 80 * 6)
    assert members.shear(s, STEEL, "y") == pytest.approx(120 * 50 * 6)
    assert members.shear(sections.rect_bar(10, 40), STEEL, "y") == pytest.approx(120 * 400)


@pytest.mark.parametrize(("t", "stress"), [(5.0, 120.0), (3.0, 120 * 77.476 / 97), (2.5, 66.042)])
def test_tubes_in_torsion(t, stress):
    s = tube(60, 300, t)  # 57, 97 and 117 of 77.5 and 97.1
    assert members.torsion(s, STEEL) == pytest.approx(stress * s.torsion_modulus, rel=1e-4)


@pytest.mark.parametrize(("t", "stress"), [(5.0, 120.0), (1.0, 0.6 * 200_000 / 200**1.5)])
def test_round_tubes_in_torsion(t, stress):
    s = sections.round_tube(200, t)
    assert members.torsion(s, STEEL) == pytest.approx(stress * s.torsion_modulus)


# ---- J4, J10, K


def test_block_shear_by_rupture_and_by_yielding():
    assert plates.block_shear(200, 400, 10, 200, 150, 40) == pytest.approx(0.6 * 200 * 2000 + 400 * 400)
    assert plates.block_shear(200, 400, 10, 200, 90, 40) == pytest.approx(0.6 * 400 * 900 + 400 * 400)


def test_walls_under_a_branch_as_wide_as_the_tube():
    assert plates.wall_yielding(200, 5, 10, 60, False) == pytest.approx(2 * 200 * 5 * 110)
    assert plates.wall_yielding(200, 5, 10, 60, True) == pytest.approx(2 * 200 * 5 * 85)
    assert plates.wall_crippling(STEEL, 5, 100, 60) == pytest.approx(
        1.6 * 25 * (1 + 180 / 85) * 6324.555, rel=1e-6
    )
    assert plates.in_plane_moment(STEEL, 5, 60) == pytest.approx(0.5 * 200 * 5 * 85**2)
    walls, distorted = 200 * 5 * 55 * 85, 2 * 200 * 5 * (60 * 5 + math.sqrt(60 * 100 * 5 * 160))
    assert plates.out_of_plane_moment(STEEL, 5, 60, 100, 60) == pytest.approx(min(walls, distorted))
    thick = 2 * 200 * 20 * (60 * 20 + math.sqrt(60 * 100 * 20 * 160))
    assert plates.out_of_plane_moment(STEEL, 20, 60, 100, 60) == pytest.approx(
        min(200 * 20 * 40 * 160, thick)
    )


def test_plates_on_a_tubes_face():
    assert plates.longitudinal_plate(200, 5, 80, 8, 100) == pytest.approx(
        200 * 25 / 0.9 * (2 * 100 / 80 + 4 * math.sqrt(0.9))
    )
    wide = plates.transverse_plate(200, 5, 80, 76)  # over 0.85 of the face: uneven yielding alone
    assert wide == pytest.approx(10 / 16 * 200 * 5 * 76)
    narrow = plates.transverse_plate(200, 5, 80, 40)  # β 0.5
    assert narrow == pytest.approx(min(10 / 16 * 200 * 5 * 40, 200 * 25 * 3.4 / math.sqrt(0.55)))


def test_a_round_branch_on_a_round_chord():
    sine = math.sin(math.radians(60))
    assert plates.round_thrust(200, 5, 0.5, 12, sine) == pytest.approx(200 * 25 * 7.0 * 12**0.2 / sine)
    assert plates.round_in_plane(200, 5, 60, 0.5, 12, sine) == pytest.approx(
        5.39 * 200 * 25 * math.sqrt(12) * 30 / sine
    )
    assert plates.round_out_of_plane(200, 5, 60, 0.5, sine) == pytest.approx(200 * 25 * 60 * 3 / 0.595 / sine)


# ---- J2, J3, D5


@pytest.mark.parametrize(
    ("thinner", "leg"),
    [(3.0, 3.0), (6.0, 3.0), (6.1, 5.0), (13.0, 5.0), (13.1, 6.0), (19.0, 6.0), (19.1, 8.0)],
)
def test_least_legs_by_the_thinner_part(thinner, leg):
    assert welds.minimum_leg(thinner) == pytest.approx(min(leg, thinner), abs=0.3)


@pytest.mark.parametrize(("t", "leg"), [(5.0, 5.0), (6.0, 4.0), (10.0, 8.0)])
def test_most_leg_along_an_edge(t, leg):
    assert welds.maximum_leg_at_edge(t) == pytest.approx(leg, abs=0.4)


def test_beads_in_flares_and_on_narrow_or_short_ground():
    assert throats.counted_leg(8, 6, 100) == 6 and throats.counted_leg(8, 20, 20) == 5
    assert throats.flare_throat(6, 8, "wire") == 0.0  # R under 10 mm: nothing up to flush
    assert throats.flare_throat(10, 8, "wire") == pytest.approx(math.sqrt(0.5) * 2)
    assert throats.flare_throat(12, 12, "wire") == pytest.approx(min(math.sqrt(0.5) * 12, 7.5))
    assert throats.flare_throat(12, 12, "stick") == pytest.approx(3.75)
    assert throats.bevelled_throat(6, 4) == pytest.approx(math.sqrt(0.5) * 10)
    assert throats.bevelled_throat(3, 4) == pytest.approx(5.0)


def test_bolts_by_hand():
    assert bolts.nominal_tension_stress(800) == 600
    assert bolts.nominal_shear_stress(800, True) == 360
    assert bolts.nominal_shear_stress(800, False) == pytest.approx(450, rel=2e-3)
    # two bolts 100 mm apart, 1 kN aside and 100 N·m: 500 N each and 1 000 N along the other way
    shear = bolts.elastic_shears(
        np.array([[0.0, -50.0], [0.0, 50.0]]), np.array([[1000.0, 0.0]]), np.array([1e5])
    )
    assert sorted(np.hypot(*shear[0].T)) == pytest.approx([500.0, 1500.0])
    lever = bolts.tensions_about_edge(np.array([-50.0, 50.0]), np.array([1e6]), 80.0, 80.0)
    assert lever[0] == pytest.approx([1e6 * 30 / (30**2 + 130**2), 1e6 * 130 / (30**2 + 130**2)])


def test_prying_takes_nothing_from_a_thick_plate_and_most_from_a_thin_one():
    p = bolts.Prying(b=40, a=60, pitch=80, hole=18, diameter=16)
    b1, a1, delta = p.arms
    assert (b1, a1, delta) == pytest.approx((32, 50 + 8, 1 - 18 / 80))
    assert p.factor(50_000, 60, 400) == 1.0
    needed = math.sqrt(1.67 * 4 * 50_000 * 32 / (80 * 400))
    assert p.factor(50_000, 3.0, 400) == pytest.approx((3 / needed) ** 2 * (1 + delta))


@pytest.mark.parametrize(("pin", "hole", "share"), [(20, 21, 1.0), (20, 21.01, 0.9157), (22, 48, 0.756)])
def test_eyes_looser_than_a_millimetre(pin, hole, share):
    assert pins.looseness(pin, hole) == pytest.approx(share, abs=2e-3)
