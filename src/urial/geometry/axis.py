"""A bar's axis and its section along it: frames, stations, and the strips that holes and openings take
from the section.
"""

from __future__ import annotations

import math
from functools import lru_cache

from urial.geometry import path as paths
from urial.geometry.path import Arc, Straight
from urial.geometry.place import Place, Vec, cross, dot, minus, norm, square_to, unit
from urial.geometry.profile import Band, Net, extent, net
from urial.geometry.shape import Bar, Box, Cut, Hole


def start_frame(shape: Bar) -> Place:
    """At the bar's first end: x along it, z as near to ``up`` as can be, y = z × x."""
    first = paths.runs(shape.path)[0]
    x = (
        unit(minus(first.b, first.a))
        if isinstance(first, Straight)
        else cross(first.axis, unit(minus(first.a, first.centre)))
    )
    z = square_to(x, shape.up)
    return Place(first.a, x, cross(z, x), z)


def frame_at(shape: Bar, s: float) -> Place:
    """The section's frame at a distance along the bar: x along it, y and z the section's own axes, carried
    round the bends.
    """
    place, gone = start_frame(shape), 0.0
    y, z = place.y, place.z
    for run in paths.runs(shape.path):
        if isinstance(run, Arc) and s > gone:
            turn = min((s - gone) / run.radius, run.angle)
            y, z = paths.turned(y, run.axis, turn), paths.turned(z, run.axis, turn)
        gone += run.length
    point, x = paths.at(shape.path, s)
    return Place(point, x, y, z)


def reach(shape: Bar, s: float, towards: Vec) -> float:
    """How far the section at a station reaches from the axis towards a direction (piece axes), mm."""
    here = frame_at(shape, s)
    y, z = dot(towards, here.y), dot(towards, here.z)
    size = math.hypot(y, z)
    return 0.0 if size < 1e-9 else extent(shape.stock, (y / size, z / size))[1]


@lru_cache(maxsize=4096)
def band(shape: Bar, cut: Cut) -> tuple[float, float, Band]:
    """Where a cut begins and ends along the bar, mm, and the strip of the section it takes at its worst."""
    if isinstance(cut, Hole):
        s = paths.nearest(shape.path, cut.centre)
        here = frame_at(shape, s)
        off, d = here.local(cut.centre), here.local_vector(unit(cut.axis))
        across = math.hypot(d[1], d[2])
        half = cut.diameter / 2
        if across < 1e-6:  # drilled into the bar's end: it takes a round, here its square
            return s - cut.depth, s, (off[1], off[2], 1.0, 0.0, half, math.inf)
        reach_ = cut.depth * across if cut.depth else math.inf
        return s - half, s + half, (off[1], off[2], d[1] / across, d[2] / across, half, reach_)
    corners = [
        cut.place.point((sx * cut.size[0] / 2, sy * cut.size[1] / 2, sz * cut.size[2] / 2))
        for sx in (-1, 1)
        for sy in (-1, 1)
        for sz in (-1, 1)
    ]
    along = [paths.nearest(shape.path, c) for c in corners]
    here = frame_at(shape, sum(along) / len(along))
    local = [here.local(c) for c in corners]
    low_y, high_y = min(p[1] for p in local), max(p[1] for p in local)
    low_z, high_z = min(p[2] for p in local), max(p[2] for p in local)
    return (
        min(along),
        max(along),
        (low_y, (low_z + high_z) / 2, 1.0, 0.0, (high_z - low_z) / 2, high_y - low_y),
    )


@lru_cache(maxsize=4096)
def section_at(shape: Bar, s: float, wall_factor: float = 1.0) -> Net | None:
    """The section at a station less every hole and opening there; None where nothing is left."""
    bands = []
    for cut in shape.cuts:
        low, high, strip = band(shape, cut)
        if low - 1e-9 <= s <= high + 1e-9:
            bands.append(strip)
    return net(shape.stock, wall_factor, tuple(bands))


def cut_stations(shape: Bar) -> tuple[tuple[float, Cut], ...]:
    """Every station where a cut leaves least, and the cut: a hole's middle, both ends of an opening."""
    out: list[tuple[float, Cut]] = []
    for cut in shape.cuts:
        low, high, _ = band(shape, cut)
        out += [((low + high) / 2, cut)] if isinstance(cut, Hole) else [(low, cut), (high, cut)]
    return tuple(out)


def offset_to_heel(shape_stock_centroid: tuple[float, float], place: Place) -> Vec:
    """From the outside of the heel to the centroid, in the axes around a frame."""
    y, z = shape_stock_centroid
    return minus(place.point((0.0, y, z)), place.o)


__all__ = [
    "Box",
    "band",
    "cut_stations",
    "frame_at",
    "norm",
    "offset_to_heel",
    "reach",
    "section_at",
    "start_frame",
]
