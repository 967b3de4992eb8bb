"""The outer faces of a bar, unrolled: what a tape and a scriber reach.  mm.

Each face is seen from outside with the bar's first end at the left; going down the list the next face is
turned up, so that neighbours share an edge.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from urial.geometry import path as paths
from urial.geometry.axis import frame_at
from urial.geometry.place import Place, Vec, dot, minus, times
from urial.geometry.profile import centroid_of, rings
from urial.geometry.shape import Bar, Cope, End, Mitre, Slant
from urial.geometry.skins import end_normal
from urial.stock.catalogue import StockSection

Slope = tuple[float, float]
LEVEL: Slope = (0.0, 0.0)
Which = Literal["i", "j"]


@dataclass(frozen=True)
class Face:
    """An outer face in the section's axes (y, z): the way it looks, the way that is up on it, how far it lies
    from the centroid, and from where to where it reaches along ``up``.
    """

    letter: str
    normal: tuple[float, float]
    up: tuple[float, float]
    out: float
    low: float
    high: float

    @property
    def wide(self) -> float:
        """From edge to edge."""
        return self.high - self.low

    def at(self, v: float) -> tuple[float, float]:
        """The place (y, z) on the face so far along its ``up`` from the centroid."""
        (ny, nz), (uy, uz) = self.normal, self.up
        return self.out * ny + v * uy, self.out * nz + v * uz


@lru_cache(maxsize=512)
def faces(stock: StockSection) -> tuple[Face, ...]:
    """The flat outer faces of a section; none of a round one."""
    w, h = stock.width, stock.height
    if stock.shape in ("rect_tube", "rect_bar"):
        return (
            Face("A", (0.0, 1.0), (1.0, 0.0), h / 2, -w / 2, w / 2),
            Face("B", (-1.0, 0.0), (0.0, 1.0), w / 2, -h / 2, h / 2),
            Face("C", (0.0, -1.0), (-1.0, 0.0), h / 2, -w / 2, w / 2),
            Face("D", (1.0, 0.0), (0.0, -1.0), w / 2, -h / 2, h / 2),
        )
    if stock.shape in ("angle", "channel"):
        cy, cz = centroid_of(stock)
        web = Face("B", (-1.0, 0.0), (0.0, 1.0), cy, -cz, h - cz)
        foot = Face("C", (0.0, -1.0), (-1.0, 0.0), cz, cy - w, cy)
        top = Face("A", (0.0, 1.0), (1.0, 0.0), h - cz, -cy, w - cy)
        return (top, web, foot) if stock.shape == "channel" else (web, foot)
    return ()


def slope(shape: Bar, end: End, s: float) -> Slope:
    """A plane end as x = slope·(y, z) in the section's axes there, x along the bar; level for any other."""
    if not isinstance(end, (Mitre, Slant)):
        return LEVEL
    here = frame_at(shape, s)
    out = here if s > 0 else Place(here.o, times(here.x, -1), times(here.y, -1), here.z)
    n = end_normal(end, out)
    nx, ny, nz = dot(n, here.x), dot(n, here.y), dot(n, here.z)
    return (-ny / nx + 0.0, -nz / nx + 0.0)


def beyond(shape: Bar, which: Which, y: float, z: float) -> float:
    """How far the metal reaches beyond an end's own middle at a place (y, z) of the section, mm."""
    end, s = (shape.end_i, 0.0) if which == "i" else (shape.end_j, paths.length(shape.path))
    outward = -1.0 if which == "i" else 1.0
    if isinstance(end, (Mitre, Slant)):
        a, b = slope(shape, end, s)
        return outward * (a * y + b * z)
    if isinstance(end, Cope):
        return coped(frame_at(shape, s), end, outward, (y, z))
    return 0.0


def coped(here: Place, end: Cope, outward: float, at: tuple[float, float]) -> float:
    """The same where an end is fitted on to a round: a line along the bar against a cylinder.  Where it
    passes by the round the metal stands as far out as the round's middle and its radius.
    """
    d: Vec = minus(here.point((0.0, *at)), end.on)
    ax, da = dot(here.x, end.axis), dot(d, end.axis)
    a = 1 - ax * ax
    b, c = dot(d, here.x) - da * ax, dot(d, d) - da * da - end.radius**2
    root = b * b - a * c
    if a < 1e-9 or root < -1e-9:
        return end.radius
    hits = [(-b + sign * math.sqrt(max(root, 0.0))) / a for sign in (-1, 1)]
    return -max(-outward * t for t in hits)


@lru_cache(maxsize=4096)
def longest(shape: Bar, which: Which) -> float:
    """How far an end's long point stands beyond its own middle, mm."""
    return max(beyond(shape, which, y, z) for y, z in round_it(shape.stock))


@lru_cache(maxsize=512)
def round_it(stock: StockSection) -> tuple[tuple[float, float], ...]:
    """Places (y, z) round the outside of a section, its corners among them, a few millimetres apart."""
    ring = rings(stock)[0]
    out: list[tuple[float, float]] = []
    for (y0, z0), (y1, z1) in zip(ring, [*ring[1:], ring[0]], strict=True):
        n = max(math.ceil(math.hypot(y1 - y0, z1 - z0) / 4.0), 1)
        out += [(y0 + (y1 - y0) * k / n, z0 + (z1 - z0) * k / n) for k in range(n)]
    return tuple(out)


__all__ = ["LEVEL", "Face", "Slope", "Which", "beyond", "coped", "faces", "longest", "round_it", "slope"]
