"""Cross-sections as polygons about their centroid (y, z), with holes and openings taken out, and what they
resist.

``Net.stress`` is exact for a linear stress over whatever is left: a section that lost one side has its
centroid moved, and an axial force then bends it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from urial.geometry.outline import flatten, rectangle
from urial.stock.catalogue import StockSection
from urial.stock.sections import Section

Array = NDArray[np.float64]
ROUND = 48
"""Sides a full circle is drawn with, in sections and solids alike."""


def circle(diameter: float) -> list[tuple[float, float]]:
    """Corners of a round, a hair outside the circle so that area and mass are the circle's."""
    step = 2 * math.pi / ROUND
    r = diameter / 2 * math.sqrt(step / math.sin(step))
    return [(r * math.cos(step * k), r * math.sin(step * k)) for k in range(ROUND)]


def rings(
    stock: StockSection, wall_factor: float = 1.0
) -> tuple[list[tuple[float, float]], list[tuple[float, float]] | None]:
    """Outer outline and bore about the centroid; the wall multiplied by ``wall_factor``, outer sizes
    unchanged.
    """
    w, h, t = stock.width, stock.height, stock.wall * wall_factor
    if stock.shape == "rect_tube":
        outer = flatten(rectangle(-w / 2, -h / 2, w / 2, h / 2, stock.radius))
        inner = flatten(rectangle(-w / 2 + t, -h / 2 + t, w / 2 - t, h / 2 - t, max(stock.radius - t, 0.0)))
        return outer, inner
    if stock.shape == "round_tube":
        return circle(w), circle(w - 2 * t)
    if stock.shape == "round_bar":
        return circle(w), None
    if stock.shape == "rect_bar":
        return flatten(rectangle(-w / 2, -h / 2, w / 2, h / 2)), None
    t = stock.wall
    if stock.shape == "angle":
        corners = [(0.0, 0.0), (w, 0.0), (w, t), (t, t), (t, h), (0.0, h)]
    else:
        tf = stock.extra or t
        corners = [(0.0, 0.0), (w, 0.0), (w, tf), (t, tf), (t, h - tf), (w, h - tf), (w, h), (0.0, h)]
    cy, cz = centroid_of(stock)
    return [(y - cy, z - cz) for y, z in corners], None


@lru_cache(maxsize=512)
def centroid_of(stock: StockSection) -> tuple[float, float]:
    """Centroid of an angle or channel from the outside of its heel (y, z), mm; zero for what is
    symmetrical.
    """
    w, h, t = stock.width, stock.height, stock.wall
    if stock.shape == "angle":
        parts = [(t * h, t / 2, h / 2), ((w - t) * t, t + (w - t) / 2, t / 2)]
    elif stock.shape == "channel":
        tf = stock.extra or t
        parts = [((h - 2 * tf) * t, t / 2, h / 2), (w * tf, w / 2, tf / 2), (w * tf, w / 2, h - tf / 2)]
    else:
        return 0.0, 0.0
    area = sum(a for a, _, _ in parts)
    return sum(a * y for a, y, _ in parts) / area, sum(a * z for a, _, z in parts) / area


@lru_cache(maxsize=512)
def polygon(stock: StockSection, wall_factor: float = 1.0) -> Polygon:
    """The section as a polygon about its centroid."""
    outer, inner = rings(stock, wall_factor)
    return Polygon(outer, [inner] if inner else [])


@dataclass(frozen=True)
class Net:
    """What is left of a section: ∫1, ∫y, ∫z, ∫y², ∫z², ∫yz about the gross centroid (mm units) and its
    corners (n, 2).
    """

    area: float
    sy: float
    sz: float
    syy: float
    szz: float
    syz: float
    corners: Array

    def stress(self, axial: Array, my: Array, mz: Array) -> Array:
        """Greatest normal stress (case,), MPa, for forces (case,) at the gross centroid: N tension, My =
        ∫σz, Mz = −∫σy.
        """
        by_n, by_mz, by_my = self._by_load
        out: Array = np.abs(
            np.multiply.outer(axial, by_n) - np.multiply.outer(mz, by_mz) + np.multiply.outer(my, by_my)
        ).max(axis=-1)
        return out

    @cached_property
    def _by_load(self) -> Array:
        """Stress at every corner (3, n) from 1 N, from ∫σy = 1 and from ∫σz = 1."""
        matrix = np.array(
            [[self.area, self.sy, self.sz], [self.sy, self.syy, self.syz], [self.sz, self.syz, self.szz]]
        )
        at = np.stack([np.ones(len(self.corners)), *self.corners.T])
        return np.linalg.solve(matrix, at)  # the matrix is its own transpose


def net_of(shape: BaseGeometry) -> Net | None:
    """Integrals of a polygon or several; None when nothing is left."""
    parts = [
        p
        for p in (shape.geoms if isinstance(shape, MultiPolygon) else [shape])
        if isinstance(p, Polygon) and p.area > 1e-6
    ]
    if not parts:
        return None
    sums = np.zeros(6)
    corners = []
    for part in parts:
        part = shapely.geometry.polygon.orient(part)
        corners.append(np.asarray(part.exterior.coords)[:-1])
        for ring in (part.exterior, *part.interiors):
            sums += _ring(np.asarray(ring.coords))
    area, sy, sz, syy, szz, syz = (float(v) for v in sums)
    return Net(area, sy, sz, syy, szz, syz, np.concatenate(corners))


def strips_net(pieces: list[tuple[float, float]], t: float) -> Net | None:
    """Integrals of flat strips of thickness t side by side along y, each from y0 to y1; None when nothing
    is left.
    """
    kept = [(a, b) for a, b in pieces if b - a > 1e-6]
    if not kept:
        return None
    area = sum(b - a for a, b in kept) * t
    sy = sum(b * b - a * a for a, b in kept) / 2 * t
    syy = sum(b**3 - a**3 for a, b in kept) / 3 * t
    corners = np.array([(y, z) for piece in kept for y in piece for z in (-t / 2, t / 2)])
    return Net(area, sy, 0.0, syy, area * t * t / 12, 0.0, corners)


def _ring(p: Array) -> Array:
    """Green's theorem round a closed ring, counter-clockwise positive."""
    x0, y0, x1, y1 = p[:-1, 0], p[:-1, 1], p[1:, 0], p[1:, 1]
    c = x0 * y1 - x1 * y0
    return np.array(
        [
            c.sum() / 2,
            ((x0 + x1) * c).sum() / 6,
            ((y0 + y1) * c).sum() / 6,
            ((x0 * x0 + x0 * x1 + x1 * x1) * c).sum() / 12,
            ((y0 * y0 + y0 * y1 + y1 * y1) * c).sum() / 12,
            ((x0 * y1 + 2 * x0 * y0 + 2 * x1 * y1 + x1 * y0) * c).sum() / 24,
        ]
    )


Band = tuple[float, float, float, float, float, float]
"""A strip of the section that a hole or an opening takes away: middle (y, z), unit direction along it (y,
z), half its width, and how far it reaches along the direction from the middle (inf: right through)."""


@lru_cache(maxsize=1024)
def net(stock: StockSection, wall_factor: float, bands: tuple[Band, ...]) -> Net | None:
    """The section less its bands."""
    left: BaseGeometry = polygon(stock, wall_factor)
    far = 4 * max(stock.width, stock.height)
    for y, z, dy, dz, half, reach in bands:
        back = far if math.isinf(reach) else 0.0
        ahead = far if math.isinf(reach) else reach
        ny, nz = -dz, dy
        left = left.difference(
            Polygon(
                [
                    (y - back * dy + half * ny, z - back * dz + half * nz),
                    (y - back * dy - half * ny, z - back * dz - half * nz),
                    (y + ahead * dy - half * ny, z + ahead * dz - half * nz),
                    (y + ahead * dy + half * ny, z + ahead * dz + half * nz),
                ]
            )
        )
    return net_of(left)


def extent(stock: StockSection, direction: tuple[float, float]) -> tuple[float, float]:
    """How far the section reaches from its centroid against and along a direction (y, z): low ≤ 0 ≤ high,
    mm.
    """
    outer, _ = rings(stock)
    reach = [y * direction[0] + z * direction[1] for y, z in outer]
    return min(reach), max(reach)


def principal(section: Section) -> tuple[float, float, float]:
    """Greater and lesser second moment, mm⁴, and the turn (radians, y towards z) to the axis the greater
    one is about.
    """
    half, diff = (section.Iy + section.Iz) / 2, (section.Iy - section.Iz) / 2
    r = math.hypot(diff, section.Iyz)
    if r < 1e-9 * half:
        return half, half, 0.0
    return half + r, half - r, 0.5 * math.atan2(-2 * section.Iyz, section.Iy - section.Iz)
