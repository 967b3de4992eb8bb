"""Plates laid on sheets by their true outlines: each into the first free place from the sheet's datum end,
in openings of others too, on whole sheets and on rests of any shape.

Where a piece could go is seen on a raster (the metal that is there, correlated with the piece); the place
found is then proven by the outlines themselves and pushed home against what it meets.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy import fft
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry
from shapely.prepared import PreparedGeometry, prep

from urial.making.silhouette import laid

CELLS = 48_000
"""A sheet's raster has about so many cells."""
LOOKS = 60
"""So many places a raster offers are looked at, the best first."""
PUSHES = 3
HAIR = 0.02
"""Room kept beyond the gap, so that nothing rests on rounding, mm."""

Spot = tuple[float, tuple[float, float]]
"""How far a piece is turned, degrees, and where its drawing's origin comes to lie, mm."""


@dataclass
class _Turned:
    """A piece as it lies when turned: outline with its box's low corner at nought, and what that moved it."""

    angle: float
    metal: Polygon
    low: tuple[float, float]
    size: tuple[float, float]
    spectrum: NDArray[np.complex64] | None = None


@dataclass
class Room:
    """A sheet that is being filled.

    Args: ``free``: where metal may be cut, mm; ``gap``: between pieces, mm; ``kept``: pieces as turned, for
    sheets that are alike.
    """

    free: BaseGeometry
    gap: float
    kept: dict[tuple[object, ...], _Turned] = field(default_factory=dict)
    taken: list[BaseGeometry] = field(default_factory=list)
    full: set[tuple[object, float]] = field(default_factory=set)
    """Pieces, as turned, that found no place: they find none later either."""

    def __post_init__(self) -> None:
        self.none = self.free.is_empty
        if self.none:
            return
        self.low_x, self.low_y, high_x, high_y = self.free.bounds
        self.cell = max(np.sqrt((high_x - self.low_x) * (high_y - self.low_y) / CELLS), 0.5)
        self.pad = int(np.ceil(self.gap / self.cell)) + 1
        self.shape = (
            int(np.ceil((high_x - self.low_x) / self.cell)) + 2 * self.pad,
            int(np.ceil((high_y - self.low_y) / self.cell)) + 2 * self.pad,
        )
        self.fast = tuple(fft.next_fast_len(n, real=True) for n in self.shape)
        self.xs = self.low_x + (np.arange(self.shape[0]) - self.pad + 0.5) * self.cell
        self.ys = self.low_y + (np.arange(self.shape[1]) - self.pad + 0.5) * self.cell
        grid = np.meshgrid(self.xs, self.ys, indexing="ij")
        outside = np.logical_not(np.asarray(shapely.contains_xy(self.free.buffer(self.gap), *grid)))
        # what is taken, a cell generously (where it says free, it is) and by the cells' middles
        self.rasters: list[NDArray[np.bool_]] = [outside, outside.copy()]
        self.spectra: list[NDArray[np.complex64] | None] = [None, None]
        self.within: PreparedGeometry[BaseGeometry] = prep(self.free.buffer(1e-6))
        self.blocked: list[PreparedGeometry[BaseGeometry]] = []

    def _turn(self, name: object, metal: Polygon, angle: float) -> _Turned:
        """The piece turned, its spectrum on this raster; kept for its like."""
        key = (name, angle, self.cell, self.pad, self.fast)
        if key not in self.kept:
            turned = laid(metal, angle, (0.0, 0.0))
            x0, y0, x1, y1 = turned.bounds
            there = laid(turned, 0.0, (-x0, -y0))
            one = _Turned(angle, there, (x0, y0), (x1 - x0, y1 - y0))
            if all(s <= n * self.cell for s, n in zip(one.size, self.shape, strict=True)):
                grown = there.buffer(self.gap)
                n = [int(np.ceil(s / self.cell)) + 2 * self.pad for s in one.size]
                at = [(np.arange(k) - self.pad + 0.5) * self.cell for k in n]
                mask = shapely.contains_xy(grown, *np.meshgrid(*at, indexing="ij")).astype(np.float32)
                one.spectrum = np.conj(fft.rfft2(mask, self.fast))
            self.kept[key] = one
        return self.kept[key]

    def _clear(self, metal: Polygon) -> bool:
        """Does it lie on free metal, the gap away from everything?"""
        return bool(self.within.contains(metal)) and not any(b.intersects(metal) for b in self.blocked)

    def place(self, name: object, metal: Polygon, angles: Sequence[float]) -> Spot | None:
        """Lay a piece as near to the datum end as it goes; None where it does not go.

        Args: ``name``: equal for equal pieces.
        """
        if self.none:
            return None
        best: tuple[float, float, float, Polygon, _Turned] | None = None
        for angle in angles:
            if (name, angle) in self.full:
                continue
            one = self._turn(name, metal, angle)
            found = self._first(one, best[0] if best is not None else np.inf)
            if found is None:
                if best is None:
                    self.full.add((name, angle))
                continue
            x, y, there = found
            reach = x + one.size[0]
            if best is None or (round(reach, 1), y) < (round(best[0], 1), best[2]):
                best = (reach, x, y, there, one)
        if best is None:
            return None
        _, x, y, there, one = best
        self.take(there)
        return one.angle, (x - one.low[0], y - one.low[1])

    def take(self, metal: BaseGeometry) -> None:
        """Metal that is taken."""
        self.taken.append(metal)
        self.blocked.append(prep(metal.buffer(self.gap + HAIR)))
        for raster, shape in zip(self.rasters, (metal.buffer(0.71 * self.cell), metal), strict=True):
            x0, y0, x1, y1 = shape.bounds
            i = slice(*np.searchsorted(self.xs, (x0, x1)))
            j = slice(*np.searchsorted(self.ys, (y0, y1)))
            grid = np.meshgrid(self.xs[i], self.ys[j], indexing="ij")
            if grid[0].size:
                raster[i, j] |= shapely.contains_xy(shape, *grid)
        self.spectra = [None, None]

    def _first(self, one: _Turned, beat: float) -> tuple[float, float, Polygon] | None:
        """The low corner nearest the datum end where the piece is clear, and the piece there."""
        if one.spectrum is None:
            return None
        for n in range(len(self.rasters)):
            own = self._spectrum(n)
            found = self._seen(one, fft.irfft2(own * one.spectrum, self.fast), beat)
            if found is not None:
                return found
        return None

    def _spectrum(self, n: int) -> NDArray[np.complex64]:
        known = self.spectra[n]
        if known is None:
            known = np.asarray(fft.rfft2(self.rasters[n].astype(np.float32), self.fast))
            self.spectra[n] = known
        return known

    def _seen(
        self, one: _Turned, hits: NDArray[np.float32], beat: float
    ) -> tuple[float, float, Polygon] | None:
        """The first of the places a raster offers that is one."""
        # the mask's own pad and the raster's are the same: cell (i, j) has the low corner on a cell's edge
        n = [int(s // self.cell) for s in one.size]
        many = [self.shape[k] - 2 * self.pad - n[k] + 1 for k in (0, 1)]
        if min(many) <= 0:
            return None
        open_ = np.argwhere(hits[: many[0], : many[1]] < 0.5)
        for i, j in open_[:LOOKS]:
            x, y = self.low_x + i * self.cell, self.low_y + j * self.cell
            if x + one.size[0] > beat + 3 * self.cell:
                return None
            there = laid(one.metal, 0.0, (x, y))
            if self._clear(there):
                return self._pushed(one, x, y)
        return None

    def _pushed(self, one: _Turned, x: float, y: float) -> tuple[float, float, Polygon]:
        """Pushed towards the datum end and the datum edge as far as it goes."""
        for _ in range(PUSHES):
            before = (x, y)
            for dx, dy in ((1.0, 0.0), (0.0, 1.0)):
                step = 2 * self.cell
                while step > 0.05:
                    u, v = max(x - dx * step, self.low_x), max(y - dy * step, self.low_y)
                    if (u, v) != (x, y) and self._clear(laid(one.metal, 0.0, (u, v))):
                        x, y = u, v
                    else:
                        step /= 2
            if before == (x, y):
                break
        return x, y, laid(one.metal, 0.0, (x, y))

    @property
    def used(self) -> float:
        """How far from the datum end metal is taken, mm."""
        return max((t.bounds[2] for t in self.taken), default=self.low_x) - self.low_x


@dataclass(frozen=True)
class Item:
    """A piece to be laid: equal names for equal pieces, its silhouette, which piece it is."""

    name: object
    metal: Polygon
    which: int


Laid = tuple[int, Spot]


def fill(
    items: Sequence[Item],
    rooms: Callable[[int], tuple[BaseGeometry, bool]],
    gap: float,
    angles: Sequence[float],
    stopped: Callable[[], bool] = lambda: False,
) -> list[list[Laid]] | None:
    """Pieces in their order into the first sheet they go on; None where one goes on none, or when stopped.

    Args: ``rooms(n)``: the free metal of the n-th sheet to be had, and whether all that follow are like it: a
    piece that does not go on it when it is empty goes nowhere; ``gap``: between pieces, mm.
    """
    open_: list[Room] = []
    kept: dict[tuple[object, ...], _Turned] = {}
    out: list[list[Laid]] = []
    for item in items:
        if stopped():
            return None
        spot, n, last = None, -1, False
        while spot is None:
            n += 1
            if n == len(open_):
                if last:
                    return None
                free, last = rooms(n)
                open_.append(Room(free, gap, kept))
                out.append([])
            spot = open_[n].place(item.name, item.metal, angles)
        out[n].append((item.which, spot))
    return out


__all__ = ["Item", "Laid", "Room", "Spot", "fill"]
