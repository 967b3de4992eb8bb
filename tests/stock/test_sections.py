import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from sectionproperties.analysis import Section as Peer
from sectionproperties.pre.library import (
    angle_section,
    channel_section,
    circular_hollow_section,
    rectangular_hollow_section,
    rectangular_section,
)

from urial.stock import sections


def peer(geometry, mesh):
    geometry.create_mesh(mesh_sizes=[mesh])
    section = Peer(geometry)
    section.calculate_geometric_properties()
    section.calculate_warping_properties()
    section.calculate_plastic_properties()
    return section


@pytest.mark.parametrize(
    ("b", "h", "t", "ro"),
    [(63.5, 63.5, 6.35, 12.7), (50, 100, 4, 8), (80, 40, 5, 10), (76.2, 76.2, 7.9375, 15.875)],
)
def test_rectangular_tubes_agree_with_a_meshed_section(b, h, t, ro):
    mine = sections.rect_tube(b, h, t, ro)
    other = peer(rectangular_hollow_section(d=h, b=b, t=t, r_out=ro, n_r=16), 24)
    assert mine.area == pytest.approx(other.get_area(), rel=1e-3)
    ixx, iyy, _ = other.get_ic()
    assert mine.Iy == pytest.approx(ixx, rel=1e-3)
    assert mine.Iz == pytest.approx(iyy, rel=1e-3)
    assert pytest.approx(other.get_j(), rel=0.02) == mine.J  # thin-wall theory against the exact field
    sxx, syy = other.get_s()
    assert mine.Wply == pytest.approx(sxx, rel=2e-3)
    assert mine.Wplz == pytest.approx(syy, rel=2e-3)


def test_round_tube_agrees_with_a_meshed_section():
    mine, other = sections.round_tube(48.3, 3.2), peer(circular_hollow_section(d=48.3, t=3.2, n=96), 2)
    assert mine.area == pytest.approx(other.get_area(), rel=2e-3)
    assert mine.Iy == pytest.approx(other.get_ic()[0], rel=3e-3)
    assert pytest.approx(other.get_j(), rel=4e-3) == mine.J


@pytest.mark.parametrize(("b", "h"), [(10, 50), (50, 50), (25.4, 9.525)])
def test_solid_bars_agree_with_a_meshed_section(b, h):
    mine, other = sections.rect_bar(b, h), peer(rectangular_section(d=h, b=b), b * h / 300)
    assert pytest.approx(other.get_j(), rel=2e-3) == mine.J
    assert mine.Wply == pytest.approx(b * h * h / 4)


def test_square_bar_torsion_is_the_published_constant():
    # Timoshenko and Goodier, table 7: k1 = 0.1406 and k2 = 0.208 for a square; 0.229 and 0.246 at 2:1
    assert pytest.approx(0.1406e4, rel=1e-3) == sections.rect_bar(10, 10).J
    assert sections.rect_bar_torsion_modulus(10, 10) == pytest.approx(0.208e3, rel=2e-3)
    assert pytest.approx(0.229 * 20 * 1000, rel=2e-3) == sections.rect_bar(20, 10).J
    assert sections.rect_bar_torsion_modulus(20, 10) == pytest.approx(0.246 * 20 * 100, rel=2e-3)


def test_angle_agrees_with_a_meshed_section():
    mine, other = sections.angle(80, 60, 7), peer(angle_section(d=80, b=60, t=7, r_r=0, r_t=0, n_r=1), 4)
    ixx, iyy, ixy = other.get_ic()
    assert (mine.Iy, mine.Iz, mine.Iyz) == pytest.approx((ixx, iyy, ixy), rel=1e-6)
    assert pytest.approx(other.get_j(), rel=0.03) == mine.J
    zxx_plus, zxx_minus, zyy_plus, zyy_minus = other.get_z()
    assert mine.Wely == pytest.approx(min(zxx_plus, zxx_minus), rel=1e-6)
    assert mine.Welz == pytest.approx(min(zyy_plus, zyy_minus), rel=1e-6)
    assert mine.Wply == pytest.approx(other.get_s()[0], rel=1e-3)
    assert mine.Iyz < 0  # heel at −y −z


def test_channel_agrees_with_a_meshed_section():
    mine, other = (
        sections.channel(100, 50, 6, 8.5),
        peer(channel_section(d=100, b=50, t_f=8.5, t_w=6, r=0, n_r=1), 5),
    )
    ixx, iyy, _ = other.get_ic()
    assert (mine.Iy, mine.Iz) == pytest.approx((ixx, iyy), rel=1e-6)
    assert pytest.approx(other.get_j(), rel=0.08) == mine.J
    assert (mine.Wply, mine.Wplz) == pytest.approx(other.get_s(), rel=2e-3)


def test_published_tube_properties():
    # AISC Manual 15th ed. table 1-12, HSS 4x4x1/4 on its design wall 0.233 in: A 3.37 in², I 7.80 in⁴, Z
    # 4.69 in³, J 12.8 in⁴
    s = sections.rect_tube(4 * 25.4, 4 * 25.4, 0.233 * 25.4)
    assert s.area / 25.4**2 == pytest.approx(3.37, rel=0.01)
    assert s.Iy / 25.4**4 == pytest.approx(7.80, rel=0.01)
    assert s.Wply / 25.4**3 == pytest.approx(4.69, rel=0.01)
    assert pytest.approx(12.8, rel=0.015) == s.J / 25.4**4


@given(st.floats(20, 150), st.floats(20, 150), st.floats(0.03, 0.2))
def test_a_tube_turned_on_its_side_swaps_its_axes(b, h, ratio):
    t = min(b, h) * ratio
    one, two = sections.rect_tube(b, h, t), sections.rect_tube(h, b, t)
    assert (one.Iy, one.Wply, one.J) == pytest.approx((two.Iz, two.Wplz, two.J), rel=1e-9)


@given(st.floats(30, 150), st.floats(0.05, 0.2))
def test_real_corners_integrate_to_the_same_second_moment(b, ratio):
    t = b * ratio
    s = sections.rect_tube(b, b, t)
    z = np.linspace(-b / 2, b / 2, 40_001)

    def width(z, b, r):
        inside = np.maximum(np.abs(z) - (b / 2 - r), 0)
        return np.where(np.abs(z) <= b / 2, b - 2 * (r - np.sqrt(np.maximum(r * r - inside**2, 0))), 0)

    profile = width(z, b, 2 * t) - width(z, b - 2 * t, t)
    assert s.Iy == pytest.approx(np.trapezoid(profile * z**2, z), rel=2e-4)
    assert s.area == pytest.approx(np.trapezoid(profile, z), rel=2e-4)


@pytest.mark.parametrize("bad", [(50, 50, 30), (-50, 50, 3), (50, 50, 0), (math.nan, 50, 3)])
def test_impossible_tubes_are_refused(bad):
    with pytest.raises(sections.SectionError):
        sections.rect_tube(*bad)
