"""Nominal strengths of members, AISC 360-22 chapters D, E, F, G and H3.  Sections carry their design wall.

Ω is 1.67 for all of them.  Every function returns N or N·mm.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

from urial.stock.catalogue import Material
from urial.stock.sections import Section

OMEGA = 1.67


def _slenderness(steel: Material) -> float:
    return math.sqrt(steel.E / steel.Fy)


def tension_yield(s: Section, steel: Material) -> float:
    """D2-1: Fy Ag."""
    return steel.Fy * s.area


def compression(s: Section, steel: Material, effective_length: float) -> float:
    """E3 flexural buckling; E7 effective area where walls are slender."""
    ratio = max(effective_length / min(s.ry, s.rz), 1e-6)
    elastic = math.pi**2 * steel.E / ratio**2
    power = steel.Fy / elastic
    critical = 0.658**power * steel.Fy if power <= 2.25 else 0.877 * elastic
    return critical * _effective_area(s, steel, critical)


def _effective_area(s: Section, steel: Material, critical: float) -> float:
    if s.shape == "round_tube":
        d_t = s.width / s.wall
        return (
            s.area
            if d_t <= 0.11 * steel.E / steel.Fy
            else (0.038 * steel.E / (steel.Fy * d_t) + 2 / 3) * s.area
        )
    if s.shape != "rect_tube":
        return s.area
    limit, area = 1.40 * _slenderness(steel), s.area
    for flat in (s.width - 3 * s.wall, s.height - 3 * s.wall):
        ratio = flat / s.wall
        if ratio > limit * math.sqrt(steel.Fy / critical):
            local = (1.38 * limit / ratio) ** 2 * steel.Fy
            root = math.sqrt(local / critical)
            area -= 2 * (flat - flat * (1 - 0.20 * root) * root) * s.wall
    return area


def flexure(s: Section, steel: Material, axis: str, unbraced: float) -> float:
    """Mn about ``axis`` "y" or "z" by the shape's section of chapter F (F7, F8, F10, F11)."""
    elastic, plastic = (s.Wely, s.Wply) if axis == "y" else (s.Welz, s.Wplz)
    if s.shape == "rect_tube":
        return _flexure_rect(s, steel, axis, elastic, plastic, unbraced)
    if s.shape == "round_tube":
        return _flexure_round(s, steel, elastic, plastic)
    if s.shape in ("rect_bar", "round_bar"):
        return _flexure_bar(s, steel, axis, elastic, plastic, unbraced)
    if s.shape == "angle":
        return _flexure_angle(s, steel, elastic, unbraced)
    return min(steel.Fy * plastic, 1.6 * steel.Fy * elastic)


def _flexure_rect(
    s: Section, steel: Material, axis: str, elastic: float, plastic: float, unbraced: float
) -> float:
    """F7: yielding, flange and web local buckling, lateral-torsional buckling about the strong axis."""
    depth, breadth, t = (s.height, s.width, s.wall) if axis == "y" else (s.width, s.height, s.wall)
    full, first, root = steel.Fy * plastic, steel.Fy * elastic, _slenderness(steel)
    flange, web = (breadth - 3 * t) / t, (depth - 3 * t) / t
    best = full
    if flange > 1.40 * root:
        effective = min(1.92 * t * root * (1 - 0.38 / flange * root), breadth - 3 * t)
        lost = (breadth - 3 * t - effective) * t
        inertia = (s.Iy if axis == "y" else s.Iz) - 2 * lost * ((depth - t) / 2) ** 2
        best = min(best, steel.Fy * inertia / (depth / 2))
    elif flange > 1.12 * root:
        best = min(best, full - (full - first) * (3.57 * flange / root - 4.0))
    if web > 2.42 * root:
        best = min(best, full - (full - first) * (0.305 * web / root - 0.738))
    if depth > breadth:
        r_weak = min(s.ry, s.rz)
        twist = math.sqrt(s.J * s.area)
        short, long = 0.13 * steel.E * r_weak * twist / full, 2 * steel.E * r_weak * twist / (0.7 * first)
        if unbraced > long:
            best = min(best, 2 * steel.E * twist * r_weak / unbraced)
        elif unbraced > short:
            best = min(best, full - (full - 0.7 * first) * (unbraced - short) / (long - short))
    return best


def _flexure_round(s: Section, steel: Material, elastic: float, plastic: float) -> float:
    """F8."""
    ratio = s.width / s.wall
    if ratio <= 0.07 * steel.E / steel.Fy:
        return steel.Fy * plastic
    if ratio <= 0.31 * steel.E / steel.Fy:
        return (0.021 * steel.E / ratio + steel.Fy) * elastic
    return 0.33 * steel.E / ratio * elastic


def _flexure_bar(
    s: Section, steel: Material, axis: str, elastic: float, plastic: float, unbraced: float
) -> float:
    """F11: Mp ≤ 1.6 My, and lateral-torsional buckling of a rectangle bent about its strong axis."""
    full, first = min(steel.Fy * plastic, 1.6 * steel.Fy * elastic), steel.Fy * elastic
    depth, t = (s.height, s.width) if axis == "y" else (s.width, s.height)
    if s.shape == "round_bar" or depth <= t:
        return full
    ratio = unbraced * depth / t**2
    if ratio <= 0.08 * steel.E / steel.Fy:
        return full
    if ratio <= 1.9 * steel.E / steel.Fy:
        return min(full, (1.52 - 0.274 * ratio * steel.Fy / steel.E) * first)
    return min(full, 1.9 * steel.E / ratio * elastic)


def _flexure_angle(s: Section, steel: Material, elastic: float, unbraced: float) -> float:
    """F10 about a leg's axis: 1.5 My, twisting sideways with its toe in compression (F10-2, F10-3, F10-5a; of
    unequal legs the shorter), leg local buckling; 0.8 My for free twist (F10.2).
    """
    first = 0.8 * steel.Fy * elastic
    ratio, root = max(s.width, s.height) / s.wall, _slenderness(steel)
    best = 1.5 * first
    if unbraced > 0:
        b = min(s.width, s.height)
        spread = unbraced * s.wall / b**2
        twists = 0.58 * steel.E * b**4 * s.wall / unbraced**2 * (math.sqrt(1 + 0.88 * spread**2) - 1)
        x = first / twists
        best = min(best, (1.92 - 1.17 * math.sqrt(x)) * first if x <= 1 else (0.92 - 0.17 / x) * twists)
    if ratio > 0.91 * root:
        best = min(best, 0.71 * steel.E / ratio**2 * 0.8 * elastic)
    elif ratio > 0.54 * root:
        best = min(best, steel.Fy * 0.8 * elastic * (2.43 - 1.72 * ratio / root))
    return best


def shear(s: Section, steel: Material, axis: str) -> float:
    """Vn along ``axis`` "y" or "z": G4 for tubes, G5 for rounds, 0.60 Fy A for solid bars."""
    if s.shape == "rect_tube":
        clear = (s.height if axis == "z" else s.width) - 3 * s.wall
        ratio, limit = clear / s.wall, math.sqrt(5 * steel.E / steel.Fy)
        factor = (
            1.0
            if ratio <= 1.10 * limit
            else 1.10 * limit / ratio
            if ratio <= 1.37 * limit
            else 1.51 * 5 * steel.E / (ratio**2 * steel.Fy)
        )
        return 0.6 * steel.Fy * 2 * clear * s.wall * factor
    if s.shape == "round_tube":
        return float(min(0.6 * steel.Fy, 0.78 * steel.E / (s.width / s.wall) ** 1.5) * s.area / 2)
    if s.shape == "angle":
        return 0.6 * steel.Fy * (s.height if axis == "z" else s.width) * s.wall
    return 0.6 * steel.Fy * s.area


def torsion(s: Section, steel: Material) -> float:
    """H3: Fcr C for tubes; 0.60 Fy over the torsion modulus for the rest."""
    if s.shape == "rect_tube":
        flat = max(s.width, s.height) - 3 * s.wall
        ratio, root = flat / s.wall, _slenderness(steel)
        if ratio <= 2.45 * root:
            stress = 0.6 * steel.Fy
        elif ratio <= 3.07 * root:
            stress = 0.6 * steel.Fy * 2.45 * root / ratio
        else:
            stress = 0.458 * math.pi**2 * steel.E / ratio**2
        return stress * s.torsion_modulus
    if s.shape == "round_tube":
        return float(min(0.6 * steel.Fy, 0.60 * steel.E / (s.width / s.wall) ** 1.5) * s.torsion_modulus)
    return 0.6 * steel.Fy * s.torsion_modulus


@dataclass(frozen=True)
class Nominal:
    """Nominal strengths of one member: tension, compression, shears, torsion, moments."""

    tension: float
    compression: float
    Vy: float
    Vz: float
    T: float
    My: float
    Mz: float


@lru_cache(maxsize=2048)
def nominal(s: Section, steel: Material, effective_length: float, unbraced: float) -> Nominal:
    """All nominal strengths of a member."""
    return Nominal(
        tension_yield(s, steel),
        compression(s, steel, effective_length),
        shear(s, steel, "y"),
        shear(s, steel, "z"),
        torsion(s, steel),
        flexure(s, steel, "y", unbraced),
        flexure(s, steel, "z", unbraced),
    )
