"""Cross-sections: shape in millimetres to area, second moments, torsion constant and moduli.

Axes as in the frame: width along y, height along z, the centroid at the origin.
Iy = ∫z² dA resists bending in the x–z plane.  Corners of tubes are true arcs, not squares.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import Literal

STEEL_DENSITY = 7850.0  # kg/m³

Shape = Literal["rect_tube", "round_tube", "round_bar", "rect_bar", "angle", "channel"]


class SectionError(ValueError):
    """A section that cannot exist; the message names the size that is wrong."""


@dataclass(frozen=True)
class Section:
    """Properties about the centroid in mm units: area, Iy, Iz, Iyz, J, elastic and plastic moduli, shear
    areas.

    ``width``/``height`` are overall sizes, ``wall`` the (thinnest) wall or thickness, ``radius`` the outer
    corner.
    """

    shape: Shape
    width: float
    height: float
    wall: float
    radius: float
    area: float
    Iy: float
    Iz: float
    Iyz: float
    J: float
    Wely: float
    Welz: float
    Wply: float
    Wplz: float
    Avy: float
    Avz: float

    @property
    def mass_per_m(self) -> float:
        """kg/m in steel of 7850 kg/m³."""
        return self.area * STEEL_DENSITY * 1e-6

    @property
    def ry(self) -> float:
        """Radius of gyration about y, mm."""
        return math.sqrt(self.Iy / self.area)

    @property
    def rz(self) -> float:
        """Radius of gyration about z, mm."""
        return math.sqrt(self.Iz / self.area)

    @property
    def torsion_modulus(self) -> float:
        """C of AISC H3.1 for closed tubes (mm³); J over the extreme radius or wall for the rest."""
        b, h, t = self.width, self.height, self.wall
        if self.shape == "rect_tube":
            return 2 * (b - t) * (h - t) * t - 4.5 * (4 - math.pi) * t**3
        if self.shape == "round_tube":
            return math.pi * (b - t) ** 2 * t / 2
        if self.shape == "round_bar":
            return math.pi * b**3 / 16
        if self.shape == "rect_bar":
            return rect_bar_torsion_modulus(max(b, h), min(b, h))
        return self.J / t


def _positive(**sizes: float) -> None:
    for name, size in sizes.items():
        if not (size > 0 and math.isfinite(size)):
            raise SectionError(f"{name} is {size:g}; it must be a size above zero.")


def _rounded_rectangle(b: float, h: float, r: float) -> tuple[float, float, float]:
    """Area, ∫z² dA and twice the first moment of the upper half of a b × h rectangle with corner radius r."""
    quarter = math.pi * r * r / 4
    square_z, arc_z = h / 2 - r / 2, h / 2 - r + 4 * r / (3 * math.pi) if r else h / 2
    square_i = r**4 / 12 + r * r * square_z**2
    arc_i = r**4 * (math.pi / 16 - 4 / (9 * math.pi)) + quarter * arc_z**2
    area = b * h - 4 * (r * r - quarter)
    second = b * h**3 / 12 - 4 * (square_i - arc_i)
    plastic = b * h * h / 4 - 4 * (r * r * square_z - quarter * arc_z)
    return area, second, plastic


@lru_cache(maxsize=4096)
def rect_tube(width: float, height: float, wall: float, outer_radius: float | None = None) -> Section:
    """Rectangular hollow section; outer corner radius 2·wall unless given (never more than half a side),
    inner = outer − wall.

    J is Bredt's on the mid-line with real corners plus the wall's own Σ s t³/3.
    """
    _positive(width=width, height=height, wall=wall)
    if 2 * wall >= min(width, height):
        raise SectionError(
            f"wall {wall:g} mm leaves no bore in a {width:g} × {height:g} mm tube; choose a thinner wall."
        )
    ro = min(2 * wall, width / 2, height / 2) if outer_radius is None else outer_radius
    if ro < 0 or 2 * ro > min(width, height) * (1 + 1e-9):
        raise SectionError(f"outer_radius {ro:g} mm does not fit a {width:g} × {height:g} mm tube.")
    ri = max(ro - wall, 0.0)
    bi, hi = width - 2 * wall, height - 2 * wall
    ao, iyo, pyo = _rounded_rectangle(width, height, ro)
    ai, iyi, pyi = _rounded_rectangle(bi, hi, ri)
    _, izo, pzo = _rounded_rectangle(height, width, ro)
    _, izi, pzi = _rounded_rectangle(hi, bi, ri)
    bm, hm, rm = width - wall, height - wall, max(ro - wall / 2, 0.0)
    enclosed = bm * hm - (4 - math.pi) * rm**2
    around = 2 * (bm + hm) - (8 - 2 * math.pi) * rm
    iy, iz = iyo - iyi, izo - izi
    return Section(
        "rect_tube",
        width,
        height,
        wall,
        ro,
        ao - ai,
        iy,
        iz,
        0.0,
        4 * enclosed**2 * wall / around + around * wall**3 / 3,
        iy / (height / 2),
        iz / (width / 2),
        pyo - pyi,
        pzo - pzi,
        2 * (width - wall) * wall * 0.9,
        2 * (height - wall) * wall * 0.9,
    )


def _round(
    shape: Shape, od: float, wall: float, area: float, second: float, plastic: float, shear: float
) -> Section:
    """A round's values are the same about every axis."""
    elastic = second / (od / 2)
    return Section(
        shape,
        od,
        od,
        wall,
        od / 2,
        area,
        second,
        second,
        0.0,
        2 * second,
        elastic,
        elastic,
        plastic,
        plastic,
        shear,
        shear,
    )


@lru_cache(maxsize=4096)
def round_tube(od: float, wall: float) -> Section:
    """Round hollow section, exact."""
    _positive(od=od, wall=wall)
    if 2 * wall >= od:
        raise SectionError(f"wall {wall:g} mm leaves no bore in a {od:g} mm tube; choose a thinner wall.")
    bore = od - 2 * wall
    area = math.pi * (od**2 - bore**2) / 4
    second = math.pi * (od**4 - bore**4) / 64
    plastic = (od**3 - bore**3) / 6
    return _round("round_tube", od, wall, area, second, plastic, area / 2)


@lru_cache(maxsize=1024)
def round_bar(od: float) -> Section:
    """Solid round, exact."""
    _positive(od=od)
    area, second = math.pi * od**2 / 4, math.pi * od**4 / 64
    return _round("round_bar", od, od, area, second, od**3 / 6, 0.9 * area)


def rect_bar_torsion(long: float, short: float) -> float:
    """St Venant torsion constant of a solid rectangle by its series (Timoshenko & Goodier §109), mm⁴."""
    series = sum(math.tanh(n * math.pi * long / (2 * short)) / n**5 for n in range(1, 40, 2))
    return long * short**3 / 3 * (1 - 192 / math.pi**5 * (short / long) * series)


def rect_bar_torsion_modulus(long: float, short: float) -> float:
    """Torque over greatest shear stress (at the middle of the long side) of a solid rectangle, mm³."""
    slender = math.pi * long / (2 * short)
    # 1/cosh as decaying exponentials: cosh of a thin strip's argument overflows
    series = sum(
        2 * math.exp(-n * slender) / (n**2 * (1 + math.exp(-2 * n * slender))) for n in range(1, 20, 2)
    )
    return rect_bar_torsion(long, short) / (short * (1 - 8 / math.pi**2 * series))


@lru_cache(maxsize=4096)
def rect_bar(width: float, height: float) -> Section:
    """Solid rectangle."""
    _positive(width=width, height=height)
    b, h = width, height
    return Section(
        "rect_bar",
        b,
        h,
        min(b, h),
        0.0,
        b * h,
        b * h**3 / 12,
        h * b**3 / 12,
        0.0,
        rect_bar_torsion(max(b, h), min(b, h)),
        b * h * h / 6,
        h * b * b / 6,
        b * h * h / 4,
        h * b * b / 4,
        5 / 6 * b * h,
        5 / 6 * b * h,
    )


_Rect = tuple[float, float, float, float]  # y0, y1, z0, z1


def _plastic(rects: list[_Rect], axis: int) -> float:
    """Plastic modulus about the equal-area axis, for strips measured along y (axis 0) or z (axis 2)."""
    strips = [
        (r[axis], r[axis + 1], abs((r[1] - r[0]) * (r[3] - r[2]) / (r[axis + 1] - r[axis]))) for r in rects
    ]
    half = sum((hi - lo) * b for lo, hi, b in strips) / 2
    cuts = sorted({x for lo, hi, _ in strips for x in (lo, hi)})
    below, neutral = 0.0, cuts[0]
    for lo, hi in pairwise(cuts):
        breadth = sum(b for s_lo, s_hi, b in strips if s_lo <= lo and s_hi >= hi)
        if below + breadth * (hi - lo) >= half:
            neutral = lo + (half - below) / breadth
            break
        below += breadth * (hi - lo)
    total = 0.0
    for lo, hi, b in strips:
        for s, e in ((lo, min(hi, neutral)), (max(lo, neutral), hi)):
            if e > s:
                total += b * (e - s) * abs((s + e) / 2 - neutral)
    return total


def _from_rectangles(
    shape: Shape,
    rects: list[_Rect],
    width: float,
    height: float,
    wall: float,
    j: float,
    shear: tuple[float, float],
) -> Section:
    areas = [(y1 - y0) * (z1 - z0) for y0, y1, z0, z1 in rects]
    area = sum(areas)
    cy = sum(a * (r[0] + r[1]) / 2 for a, r in zip(areas, rects, strict=True)) / area
    cz = sum(a * (r[2] + r[3]) / 2 for a, r in zip(areas, rects, strict=True)) / area
    iy = iz = iyz = 0.0
    for a, (y0, y1, z0, z1) in zip(areas, rects, strict=True):
        dy, dz = (y0 + y1) / 2 - cy, (z0 + z1) / 2 - cz
        iy += a * ((z1 - z0) ** 2 / 12 + dz * dz)
        iz += a * ((y1 - y0) ** 2 / 12 + dy * dy)
        iyz += a * dy * dz
    reach_y = max(cy - min(r[0] for r in rects), max(r[1] for r in rects) - cy)
    reach_z = max(cz - min(r[2] for r in rects), max(r[3] for r in rects) - cz)
    return Section(
        shape,
        width,
        height,
        wall,
        0.0,
        area,
        iy,
        iz,
        iyz,
        j,
        iy / reach_z,
        iz / reach_y,
        _plastic(rects, 2),
        _plastic(rects, 0),
        shear[0],
        shear[1],
    )


@lru_cache(maxsize=1024)
def angle(leg_z: float, leg_y: float, thickness: float) -> Section:
    """Angle with sharp corners, heel at −y −z; J = Σ b t³/3."""
    _positive(leg_z=leg_z, leg_y=leg_y, thickness=thickness)
    t = thickness
    if t >= min(leg_y, leg_z):
        raise SectionError(f"thickness {t:g} mm is as wide as a leg; an angle's leg must be longer.")
    rects: list[_Rect] = [(0, t, 0, leg_z), (t, leg_y, 0, t)]
    return _from_rectangles(
        "angle", rects, leg_y, leg_z, t, (leg_z + leg_y - t) * t**3 / 3, (leg_y * t, leg_z * t)
    )


@lru_cache(maxsize=1024)
def channel(depth: float, flange: float, web: float, flange_thickness: float) -> Section:
    """Parallel-flange channel with sharp corners, web on −y, depth along z; J = Σ b t³/3."""
    _positive(depth=depth, flange=flange, web=web, flange_thickness=flange_thickness)
    if web >= flange or 2 * flange_thickness >= depth:
        raise SectionError("the web or the flanges of this channel are thicker than the channel itself.")
    tf = flange_thickness
    rects: list[_Rect] = [(0, web, tf, depth - tf), (0, flange, 0, tf), (0, flange, depth - tf, depth)]
    j = (2 * flange * tf**3 + (depth - 2 * tf) * web**3) / 3
    return _from_rectangles("channel", rects, flange, depth, min(web, tf), j, (2 * flange * tf, depth * web))
