"""What the saw makes of a bar: how long, which ends tilted in which plane, what is left for a second set-up.

A face is x = slope·(y, z) in the section's axes, x along the bar from its first end to its second; a slope of
(0, 0) is a square end.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from urial.geometry import flat
from urial.geometry import path as paths
from urial.geometry.faces import LEVEL, Slope, slope
from urial.geometry.path import Line
from urial.geometry.profile import extent
from urial.geometry.shape import Bar, Cope
from urial.geometry.slotted import longer
from urial.stock.catalogue import StockSection

SAME = 1e-6
"""Slopes nearer than this are one."""


@lru_cache(maxsize=4096)
def far(stock: StockSection, slope: Slope) -> float:
    """How far a face stands beyond its own middle at its farthest place, mm."""
    size = math.hypot(*slope)
    return 0.0 if size < SAME else size * extent(stock, (slope[0] / size, slope[1] / size))[1]


def steep(slope: Slope) -> float:
    """How much more of a bar a cut takes along it than the saw's kerf: 1/cos of its tilt."""
    return math.hypot(1.0, *slope)


@dataclass(frozen=True)
class Blank:
    """A straight piece as it comes from the saw: the distance between its faces' middles (mm), the slopes of
    both, and the ends ("i", "j") that are cut after, in another set-up.  ``box`` is from long point to long
    point.
    """

    stock: StockSection
    middle: float
    first: Slope = LEVEL
    second: Slope = LEVEL
    later: tuple[Literal["i", "j"], ...] = ()

    @property
    def box(self) -> float:
        """From long point to long point, mm."""
        return self.middle + far(self.stock, times2(self.first, -1)) + far(self.stock, self.second)

    @property
    def plane(self) -> Literal["y", "z"]:
        """In which of the section's axes its ends are tilted (z where they are square)."""
        return "y" if abs(self.first[0]) + abs(self.second[0]) > SAME else "z"

    @property
    def tilts(self) -> tuple[float, float]:
        """Degrees from square of both ends, + where the long point lies on the plane's positive side."""
        k = 0 if self.plane == "y" else 1
        return (
            math.degrees(math.atan(-self.first[k])) + 0.0,
            math.degrees(math.atan(self.second[k])) + 0.0,
        )


def times2(s: Slope, k: float) -> Slope:
    """A slope times a number."""
    return (k * s[0], k * s[1])


def _planar(slopes: list[Slope], round_: bool) -> list[Slope] | None:
    """The same slopes where one set-up of the saw cuts them all, turned into one plane for a round; else
    None.
    """
    for k in (0, 1):
        if all(abs(s[1 - k]) < SAME for s in slopes):
            return slopes
    if not round_:
        return None
    lead = max(slopes, key=lambda s: math.hypot(*s))
    size = math.hypot(*lead)
    uy, uz = lead[0] / size, lead[1] / size
    if any(abs(s[0] * uz - s[1] * uy) > SAME for s in slopes):
        return None
    return [(0.0, s[0] * uy + s[1] * uz) for s in slopes]


def blank(shape: Bar) -> Blank:
    """What the saw makes of a bar; ends that are coped, bent tubes' ends and those of another plane are left
    long and square, and cut after.
    """
    size = paths.length(shape.path)
    long = size + longer(shape)
    faces = [slope(shape, shape.end_i, 0.0), slope(shape, shape.end_j, size)]
    round_ = shape.stock.shape in ("round_tube", "round_bar")
    whole = flat.cut_length(shape)
    straight = isinstance(shape.path, Line)
    tries: tuple[tuple[int, ...], ...] = ((0, 1), (0,), (1,), ()) if straight else ((),)
    for which in tries:
        cut = _planar([faces[k] for k in which], round_) if which else []
        if cut is None:
            continue
        ends = [LEVEL, LEVEL]
        for k, tilt in zip(which, cut, strict=True):
            ends[k] = tilt
        stays = [k for k in (0, 1) if _is_cut_after(shape, k) or (k not in which and faces[k] != LEVEL)]
        over = far(shape.stock, times2(ends[0], -1)) + far(shape.stock, ends[1])
        names: tuple[Literal["i", "j"], ...] = ("i", "j")
        # what is left long keeps its long point: the box is that of the finished piece
        middle = long if not stays else whole - over
        return Blank(shape.stock, middle, ends[0], ends[1], tuple(names[k] for k in stays))
    raise AssertionError("a square cut is always planar")


def _is_cut_after(shape: Bar, k: int) -> bool:
    """Is an end neither square nor straight across a plane: coped?"""
    return isinstance((shape.end_i, shape.end_j)[k], Cope)


def turns(b: Blank) -> tuple[tuple[Slope, Slope], ...]:
    """The faces a blank may be laid with: turned as its section's own symmetry allows, end for end too."""
    a, c = b.first, b.second
    shape, square = b.stock.shape, abs(b.stock.width - b.stock.height) < SAME
    ways: list[tuple[Slope, Slope]] = [(a, c)]

    def over(f: Slope) -> Slope:  # half a turn about the section's y axis, faces changing places
        return (-f[0], f[1])

    def along(f: Slope) -> Slope:  # half a turn about the section's z axis, faces changing places
        return (f[0], -f[1])

    if shape in ("rect_tube", "rect_bar", "round_tube", "round_bar"):
        ways += [(over(c), over(a)), (along(c), along(a)), (times2(a, -1), times2(c, -1))]
        if square or shape.startswith("round"):  # a quarter turn
            ways += [((-p[1], p[0]), (-q[1], q[0])) for p, q in tuple(ways)]
    elif shape == "channel":  # alike above and below: half a turn about its y axis
        ways.append((over(c), over(a)))
    elif shape == "angle" and square:  # legs change places: half a turn about the line between them
        ways.append(((-c[1], -c[0]), (-a[1], -a[0])))
    level = [w for w in ways if abs(w[0][0]) < SAME and abs(w[1][0]) < SAME]  # one set-up of the saw for all
    unique = dict.fromkeys(((w[0] + 0.0, w[1] + 0.0), (v[0] + 0.0, v[1] + 0.0)) for w, v in level or ways)
    return tuple(unique)


__all__ = ["LEVEL", "SAME", "Blank", "Slope", "blank", "far", "steep", "times2", "turns"]
