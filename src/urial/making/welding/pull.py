"""How a weldment is pulled by its beads: bars bow, plates lean, parallel bars turn against each other.

A bead shrinks along and across itself.  On a bar a run of volume V at an offset d from the centroid kinks it
by k V d / I there (k of Blodgett's camber for what runs along it: a bead over a whole bar then gives
0.005 Aw d L²/I).  Kinks add up to a bow from the chord of the ends.  The first run of a place pulls freely,
those after it against what holds already: 1 / (1 + held · share laid before it).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from urial.assembly import facts
from urial.assembly.model import Assembly, Part
from urial.geometry import axis
from urial.geometry import path as paths
from urial.geometry.outline import distance_to_edge
from urial.geometry.path import Line
from urial.geometry.place import Vec, dot, minus, norm, times, unit
from urial.geometry.shape import Bar, Plate
from urial.making.welding.figures import figures
from urial.making.welding.seams import Piece, Seam

Array = NDArray[np.float64]
PLACE = 60.0
"""Runs nearer than this along a bar hold each other, mm."""
APART = 50.0
"""Bars farther apart than this turn against each other, mm."""
INCH = 25.4
ON_EDGE = 3.0
"""A seam that lies nearer to a plate's rim runs along its edge, mm."""


@dataclass(frozen=True)
class Pull:
    """The largest bow of any bar from the chord of its ends (mm), the largest lean of any seam's piece and
    the largest turn of two parallel bars against each other (degrees).
    """

    camber: float
    angle: float
    twist: float
    cost: float


@dataclass(frozen=True)
class _Bar:
    """A straight enough bar: its rows in the matrix (two for each place), what it may bow, its direction."""

    part: Part
    rows: slice
    stations: tuple[float, ...]
    way: Vec
    y: Vec
    z: Vec
    mid: Vec
    long: float


class Model:
    """Of some seams: which run does what where, ready for any order."""

    def __init__(self, assembly: Assembly, seams: Sequence[Seam]) -> None:
        self.runs = tuple((n, r) for n, s in enumerate(seams) for r in s.runs)
        """Every run: its seam's place in the list, and itself."""
        self.seams = tuple(seams)
        count = len(self.runs)
        self.bars: list[_Bar] = []
        rows: list[Array] = []
        holds = np.zeros((count, count))
        for part in assembly.parts:
            own = [
                k
                for k, (n, _) in enumerate(self.runs)
                # what closes slots makes the bend, which is read after it
                if part.key in seams[n].parts and seams[n].kind != "butt"
            ]
            straight = isinstance(part.shape, Bar) and isinstance(part.shape.path, Line)
            if own and straight and isinstance(part.shape, Bar) and not part.hardware:
                self._bar(part, part.shape, own, rows, holds)
        self.lean_rows = self._leans(assembly, rows, holds)
        self.matrix = np.array(rows) if rows else np.zeros((0, count))
        self.holds = holds
        self._pairs = self._parallel()

    # ---- what each run does

    def _bar(self, part: Part, shape: Bar, own: Sequence[int], rows: list[Array], holds: Array) -> None:
        whole = paths.length(shape.path)
        section = shape.stock.section()
        spots = [part.place.local(self.runs[k][1].middle) for k in own]
        at = [paths.nearest(shape.path, p) for p in spots]
        kinks = []
        for k, s, p in zip(own, at, spots, strict=True):
            here = axis.frame_at(shape, s)
            _, y, z = here.local(p)
            strain = sum(
                _strain(piece, part.place.local_vector(minus(piece.b, piece.a)), here.x)
                for piece in self.runs[k][1].pieces
            )
            kinks.append((strain * y / section.Iz, strain * z / section.Iy))
        self._held(own, at, holds)
        stations = tuple(sorted({round(s, 1) for s in at}))
        start = len(rows)
        for x in stations:
            for c in (0, 1):
                row = np.zeros(len(self.runs))
                for k, s, kink in zip(own, at, kinks, strict=True):
                    row[k] = kink[c] * min(x, s) * (whole - max(x, s)) / whole
                rows.append(row)
        here = axis.frame_at(shape, whole / 2)
        self.bars.append(
            _Bar(
                part,
                slice(start, len(rows)),
                stations,
                part.place.vector(here.x),
                part.place.vector(here.y),
                part.place.vector(here.z),
                part.place.point(here.o),
                whole,
            )
        )

    def _held(self, own: Sequence[int], at: Sequence[float], holds: Array) -> None:
        """Of each run's place the share that every other run is, by volume."""
        size = np.array([self.runs[k][1].volume for k in own])
        near = np.abs(np.subtract.outer(at, at)) < PLACE
        np.fill_diagonal(near, False)
        for m, k in enumerate(own):
            whole = float((size * near[m]).sum())
            if whole > 0:
                for q in (int(x) for x in np.flatnonzero(near[m])):
                    holds[k, own[q]] = max(holds[k, own[q]], size[q] / whole)

    def _leans(self, assembly: Assembly, rows: list[Array], holds: Array) -> slice:
        """What stands on a seam leans to the side that is welded, as far as that side's share of the
        whole.
        """
        start = len(rows)
        for n, s in enumerate(self.seams):
            own = [k for k, (m, _) in enumerate(self.runs) if m == n]
            parts = [assembly.by_key[k] for k in s.parts if k in assembly.by_key]
            if s.kind in ("plug", "butt") or not own or len(parts) < 2:
                continue
            spots = [self.runs[k][1].middle for k in own]
            long = [self.runs[k][1].length for k in own]
            ends = [q for k in own for p in self.runs[k][1].pieces for q in (p.a, p.b)]
            for way, centre, angle in _stands(parts, ends, s.leg):
                offs = [dot(p, way) - centre for p in spots]
                far = max(abs(x) for x in offs)
                if far < 0.5:
                    continue
                row = np.zeros(len(self.runs))
                sides = [
                    sum(w * abs(x) for w, x in zip(long, offs, strict=True) if x * sign > 0)
                    for sign in (1, -1)
                ]
                for k, w, x in zip(own, long, offs, strict=True):
                    row[k] = angle * w * x / max(sides)
                rows.append(row)
            whole = sum(long)
            for k in own:
                for m, w in zip(own, long, strict=True):
                    if m != k:
                        holds[k, m] = max(holds[k, m], w / whole)
        return slice(start, len(rows))

    def _parallel(self) -> list[tuple[int, int, Vec, float]]:
        """Pairs of parallel bars: which, the direction square to both, how far apart."""
        out = []
        for i, one in enumerate(self.bars):
            for k in range(i):
                two = self.bars[k]
                between = minus(one.mid, two.mid)
                across = minus(between, times(one.way, dot(between, one.way)))
                if abs(dot(one.way, two.way)) < 0.99 or norm(across) < APART:
                    continue
                w, u = one.way, unit(across)
                n: Vec = (w[1] * u[2] - w[2] * u[1], w[2] * u[0] - w[0] * u[2], w[0] * u[1] - w[1] * u[0])
                out.append((i, k, n, norm(across)))
        return out

    # ---- what an order does

    def shares(self, order: Sequence[int]) -> Array:
        """How much of its pull each run has left in an order (a permutation of all runs)."""
        turn = np.empty(len(order), dtype=int)
        turn[list(order)] = np.arange(len(order))
        before = turn[None, :] < turn[:, None]
        held = np.minimum((self.holds * before).sum(axis=1), 1.0)
        out: Array = 1.0 / (1.0 + figures()["pull"]["held"] * held)
        return out

    def pull(self, order: Sequence[int]) -> Pull:
        """What an order leaves; ``cost``: Σ (pull / allowed)² over bars, seams and pairs of bars."""
        f = figures()["pull"]
        moved = self.matrix @ self.shares(order) if len(self.runs) else np.zeros(0)
        cost, camber = 0.0, 0.0
        bows = []
        for b in self.bars:
            v = moved[b.rows].reshape(-1, 2)
            size = np.hypot(v[:, 0], v[:, 1])
            worst = int(size.argmax())
            bows.append(v[worst])
            camber = max(camber, float(size[worst]))
            cost += (float(size[worst]) / (0.5 + f["camber_mm_m"] * b.long / 1000)) ** 2
        leans = np.abs(np.degrees(moved[self.lean_rows]))
        cost += float(((leans / f["angle_deg"]) ** 2).sum())
        twist = 0.0
        for i, k, n, apart in self._pairs:
            one, two = (
                float(v[0]) * dot(b.y, n) + float(v[1]) * dot(b.z, n)
                for b, v in ((self.bars[i], bows[i]), (self.bars[k], bows[k]))
            )
            turned = math.degrees(math.atan(abs(one - two) / apart))
            twist = max(twist, turned)
            cost += (turned / f["twist_deg"]) ** 2
        return Pull(camber, float(leans.max()) if len(leans) else 0.0, twist, cost)


def _strain(piece: Piece, run: Vec, way: Vec) -> float:
    """What a piece of a bead takes from a bar along it: strain by section by length, mm³."""
    f = figures()["pull"]
    cos = abs(dot(unit(run), way)) if norm(run) > 1e-9 else 0.0
    volume = piece.area * (piece.length or 1.0)
    return volume * float(f["along"] * cos**2 + f["across"] * (1 - cos**2))


def _stands(parts: Sequence[Part], ends: Sequence[Vec], leg: float) -> list[tuple[Vec, float, float]]:
    """The directions in which the piece that stands on a seam may lean, where its middle lies along each, and
    how far it leans for a bead all along one side of it, rad.

    A plate on its edge: 0.04 ω^1.3 / t² in inches, t of what it stands on (Blodgett's flange: what its edge
    lifts, over its half width).  A bar on its end: what is welded shrinks by a butt's 0.2 Aw / t, over the
    bar's depth.  What lies flat, or goes by, does not lean.
    """
    middle_ = tuple(sum(q[k] for q in ends) / len(ends) for k in range(3))
    for p, base in ((parts[0], parts[1]), (parts[1], parts[0])):
        if isinstance(p.shape, Plate) and not p.shape.folds:
            n = p.flat_place.z
            local = [p.flat_place.local(q) for q in ends]
            if max(abs(distance_to_edge(p.shape.outline, q[0], q[1])) for q in local) > ON_EDGE:
                continue
            if abs(dot(n, _face(base, (middle_[0], middle_[1], middle_[2])))) < 0.5:
                t = max(facts.thickness(base), 1.0) / INCH
                at = dot(p.flat_place.o, n) + p.shape.t / 2
                return [(n, at, 0.04 * (leg / INCH) ** 1.3 / t**2)]
    for p in parts:
        if isinstance(p.shape, Bar):
            whole = paths.length(p.shape.path)
            near = [paths.nearest(p.shape.path, p.place.local(q)) for q in ends]
            deep = 1.5 * max(p.shape.stock.width, p.shape.stock.height)
            if max(near) < deep or min(near) > whole - deep:
                here = axis.frame_at(p.shape, 0.0 if max(near) < deep else whole)
                shrink = 0.2 * leg**2 / 2 / max(facts.thickness(p), 1.0)
                sizes = ((here.y, p.shape.stock.width), (here.z, p.shape.stock.height))
                ways = [(p.place.vector(way), size) for way, size in sizes]
                return [(w, dot(p.place.point(here.o), w), shrink / size) for w, size in ways]
    return []


def _face(p: Part, at: Vec) -> Vec:
    """The way the face of a part looks that is nearest to a place."""
    if isinstance(p.shape, Plate):
        return p.flat_place.z
    if not isinstance(p.shape, Bar):
        return (0.0, 0.0, 0.0)
    local = p.place.local(at)
    here = axis.frame_at(p.shape, paths.nearest(p.shape.path, local))
    _, y, z = here.local(local)
    flat = abs(y) / p.shape.stock.width > abs(z) / p.shape.stock.height
    return p.place.vector(here.y if flat else here.z)


__all__ = ["Model", "Pull"]
