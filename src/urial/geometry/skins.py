"""A bar as one skin of rings along its path: many times quicker than joining its runs."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from urial.geometry import path as paths
from urial.geometry import profile
from urial.geometry.axis import frame_at
from urial.geometry.path import Arc, ShapeError
from urial.geometry.place import Place, Vec, add, dot, times, unit
from urial.geometry.shape import Bar, Capped, Cope, End, Mitre, Slant, Slugged, Square

Array = NDArray[np.float64]
Faces = NDArray[np.intp]

SAG = 0.25
"""How far a chord of a bend may lie inside its arc, mm."""
FINE, COARSE = math.radians(6), math.radians(18)
"""The most that a bend turns between two rings, in a solid and in a first picture."""


def skin(shape: Bar, step: float = FINE) -> tuple[Array, Faces] | None:
    """Points (n, 3) and triangles (m, 3) of the closed skin, holes not cut; None where an end or a section is
    not as simple as that.
    """
    outer, inner = profile.rings(shape.stock)
    plain = (Square, Mitre, Slant, Slugged)
    if (
        not (isinstance(shape.end_i, plain) and isinstance(shape.end_j, plain))
        or (inner is not None and len(inner) != len(outer))
        or (inner is None and shape.stock.shape not in ("rect_bar", "round_bar"))
    ):
        return None
    size = paths.length(shape.path)
    low = shape.end_i.length if isinstance(shape.end_i, Slugged) else 0.0
    high = size - (shape.end_j.length if isinstance(shape.end_j, Slugged) else 0.0)
    along = _stations(shape, step)
    bored = inner is not None and high - low > 1.0
    bore = _apart(sorted({low, high, *(s for s in along if low < s < high)})) if bored else []
    frames = {s: frame_at(shape, s) for s in {*along, *bore}}
    around = np.array(outer)
    tubes = [
        (np.array([_ring(shape, around, frames[s], s == along[0], s == along[-1]) for s in along]), False)
    ]
    if inner is not None and bored:
        within = np.array(inner)
        tubes.append((np.array([_ring(shape, within, frames[s], s == 0.0, s == size) for s in bore]), True))
    through_i, through_j = (
        inner is not None and not isinstance(e, Slugged) for e in (shape.end_i, shape.end_j)
    )
    return _sewn(tubes, through_i, through_j)


def rough(shape: Bar) -> tuple[Array, Faces] | None:
    """The skin as a first picture has it: bends in few steps, a coped end square inside what it is coped to,
    a capped one shut, no holes.
    """
    end_i, end_j = (
        Square() if isinstance(e, Cope) else Slugged(e.t) if isinstance(e, Capped) else e
        for e in (shape.end_i, shape.end_j)
    )
    return skin(replace(shape, end_i=end_i, end_j=end_j, cuts=()), COARSE)


ROUND_DRAWN = 24
"""Sides of a bolt or washer in a picture: at most a fifth of a millimetre from the round."""


@lru_cache(maxsize=1024)
def lathe(steps: tuple[tuple[float, float, int], ...]) -> tuple[Array, Faces]:
    """Coaxial steps along z as prisms end to end, each closed, for a picture: what is inside is not seen."""
    points, faces, base, at = [], [], 0, 0.0
    for length, diameter, sides in steps:
        n = sides or ROUND_DRAWN
        radius = diameter / 2 / math.cos(math.pi / n) if sides else diameter / 2
        turn = 2 * np.pi * np.arange(n) / n
        ring = radius * np.stack([np.cos(turn), np.sin(turn)], axis=1)
        points += [np.column_stack([ring, np.full(n, z)]) for z in (at, at + length)]
        k, nxt = base + np.arange(n), base + np.roll(np.arange(n), -1)
        sides_of = np.stack([k, nxt, nxt + n, k, nxt + n, k + n], axis=1).reshape(-1, 3)
        faces += [sides_of, _fan(base, n), _fan(base + n, n)[:, ::-1]]
        base, at = base + 2 * n, at + length
    return np.concatenate(points), np.concatenate(faces)


def _stations(shape: Bar, step: float) -> list[float]:
    """Where rings stand along the bar."""
    size, gone = paths.length(shape.path), 0.0
    at = {0.0, size}
    for run in paths.runs(shape.path):
        if isinstance(run, Arc):
            finest = 2 * math.acos(1 - SAG / max(run.radius, 2 * SAG)) if step == FINE else step
            steps = max(3, math.ceil(run.angle / min(step, finest)))
            at |= {gone + run.length * k / steps for k in range(1, steps)}
        gone += run.length
        at.add(min(gone, size))
    return _apart(sorted(at))


def _apart(stations: list[float]) -> list[float]:
    """Stations that are not next to each other."""
    out = [stations[0]]
    for s in stations[1:-1]:
        if s - out[-1] > 0.05 and stations[-1] - s > 0.05:
            out.append(s)
    return [*out, stations[-1]]


def end_normal(end: Mitre | Slant, at: Place) -> Vec:
    """The cut's outward normal at an end whose x runs out of the bar."""
    if isinstance(end, Slant):
        n = unit(end.normal)
        return n if dot(n, at.x) > 0 else times(n, -1)
    side = at.y if end.about_z else at.z
    return add(times(at.x, math.cos(end.angle)), times(side, math.sin(end.angle)))


def _ring(shape: Bar, ring: Array, here: Place, first: bool, last: bool) -> Array:
    """A section's outline (point, 3) at a station's frame, on the cut's plane at a slanted end."""
    points: Array = np.array(here.o) + ring[:, :1] * np.array(here.y) + ring[:, 1:] * np.array(here.z)
    end: End | None = shape.end_i if first else shape.end_j if last else None
    if isinstance(end, (Mitre, Slant)):
        out = times(here.x, -1.0 if first else 1.0)
        n = end_normal(end, Place(here.o, out, times(here.y, -1.0) if first else here.y, here.z))
        if dot(n, out) < 0.05:
            raise ShapeError(
                f"An end of {shape.stock.title} is cut so flat that it never closes; cut it steeper."
            )
        points = points + ((np.array(here.o) - points) @ np.array(n) / dot(out, n))[:, None] * np.array(out)
    return points


def _fan(start: int, around: int) -> Faces:
    """A convex ring's lid as triangles."""
    k = np.arange(1, around - 1)
    return np.stack([np.full(around - 2, start), start + k + 1, start + k], axis=1)


def _sewn(tubes: list[tuple[Array, bool]], open_i: bool, open_j: bool) -> tuple[Array, Faces]:
    """Rings (ring, point, 3) sewn into a closed skin: an outer one and perhaps a bore, whose ends are open
    or blind.
    """
    points, faces, starts = [], [], []
    base = 0
    for rings, inside in tubes:
        count, around, _ = rings.shape
        points.append(rings.reshape(-1, 3))
        a = base + np.arange(count - 1)[:, None] * around + np.arange(around)[None, :]
        b = base + np.arange(count - 1)[:, None] * around + np.roll(np.arange(around), -1)[None, :]
        quads = np.stack([a, b, b + around, a, b + around, a + around], axis=-1).reshape(-1, 3)
        faces.append(quads[:, ::-1] if inside else quads)
        starts.append((base, base + (count - 1) * around, around))
        base += count * around
    (o_i, o_j, around), bore = starts[0], starts[1] if len(starts) > 1 else None
    for n, (at, is_open) in enumerate(((o_i, open_i), (o_j, open_j))):
        turn = slice(None) if n == 0 else slice(None, None, -1)
        if bore is not None and is_open:
            k, nxt = np.arange(around), np.roll(np.arange(around), -1)
            c = bore[n]
            faces.append(
                np.concatenate(
                    [
                        np.stack([at + k, c + k, c + nxt], axis=1),
                        np.stack([at + k, c + nxt, at + nxt], axis=1),
                    ]
                )[:, turn]
            )
        else:
            faces.append(_fan(at, around)[:, turn])
            if bore is not None:  # a blind bore: its end faces the other way
                faces.append(_fan(bore[n], around)[:, turn][:, ::-1])
    return np.concatenate(points), np.concatenate(faces)
