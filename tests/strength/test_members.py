import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial.stock import catalogue, sections
from urial.strength import members

A500 = catalogue.material("A500-C")
A36 = catalogue.material("A36")


def test_published_moment_strength_of_a_square_tube():
    # AISC Manual 15th ed. table 3-13: HSS 4x4x1/4, Fy 50 ksi: Mn/Ω = 11.7 kip·ft
    s = catalogue.bar("4x4x1/4").section(0.93)
    assert members.flexure(s, A500, "y", 0) / 1.67 / 1.355818e6 == pytest.approx(11.7, rel=0.01)


def test_stocky_and_middling_columns_follow_e3():
    s = catalogue.bar("4x4x1/4").section(0.93)
    assert members.compression(s, A500, 1.0) == pytest.approx(345 * s.area, rel=1e-5)
    # at Fy/Fe = 1 the column carries 0.658 of its yield load
    length = math.pi * math.sqrt(200_000 / 345) * s.ry
    assert members.compression(s, A500, length) == pytest.approx(0.658 * 345 * s.area, rel=1e-9)


def test_slender_columns_follow_euler():
    s = sections.round_bar(10)
    ratio = 2000 / s.ry
    assert members.compression(s, A36, 2000) == pytest.approx(
        0.877 * math.pi**2 * 200_000 / ratio**2 * s.area
    )


def test_a_thin_flange_and_a_thin_web_lose_strength():
    thin = sections.rect_tube(150, 150, 2.0)
    full = A500.Fy * thin.Wply
    assert members.flexure(thin, A500, "y", 0) < 0.9 * full
    stocky = sections.rect_tube(50, 50, 5.0)
    assert members.flexure(stocky, A500, "y", 0) == A500.Fy * stocky.Wply


def test_a_flat_on_edge_buckles_sideways_when_long():
    flat = sections.rect_bar(6, 100)
    assert members.flexure(flat, A36, "y", 20) == pytest.approx(min(1.5, 1.6) * 248 * flat.Wely)
    ratio = 900 * 100 / 36
    assert members.flexure(flat, A36, "y", 900) == pytest.approx(1.9 * 200_000 / ratio * flat.Wely)
    assert members.flexure(flat, A36, "z", 3000) == pytest.approx(1.5 * 248 * flat.Welz)


def test_round_tube_limits():
    assert members.flexure(sections.round_tube(60, 5), A36, "y", 0) == pytest.approx(
        248 * sections.round_tube(60, 5).Wply
    )
    thin = sections.round_tube(300, 3)
    assert members.flexure(thin, A36, "y", 0) == pytest.approx((0.021 * 200_000 / 100 + 248) * thin.Wely)


def test_shear_and_torsion_of_a_tube_by_hand():
    s = sections.rect_tube(63.5, 63.5, 5.9055)
    assert members.shear(s, A36, "z") == pytest.approx(0.6 * 248 * 2 * (63.5 - 3 * 5.9055) * 5.9055)
    c = 2 * (63.5 - 5.9055) ** 2 * 5.9055 - 4.5 * (4 - math.pi) * 5.9055**3
    assert members.torsion(s, A36) == pytest.approx(0.6 * 248 * c)


def test_angle_yields_at_one_and_a_half_times_the_reduced_yield_moment():
    s = sections.angle(50, 50, 6)
    assert members.flexure(s, A36, "y", 0) == pytest.approx(1.5 * 0.8 * 248 * s.Wely)


@given(st.floats(40, 120), st.floats(0.03, 0.12), st.floats(1.01, 1.5))
def test_a_thicker_wall_is_never_weaker(b, ratio, more):
    thin, thick = sections.rect_tube(b, b, b * ratio), sections.rect_tube(b, b, b * ratio * more)
    a, c = members.nominal(thin, A500, 800, 800), members.nominal(thick, A500, 800, 800)
    for name in ("tension", "compression", "T", "My", "Mz"):
        assert getattr(c, name) >= getattr(a, name) * (1 - 1e-9)
