"""Does the survey agree with itself?  All readings adjusted together; the one that does not fit is named."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from urial.geometry.place import Vec
from urial.measure.triangulate import SUSPECT

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Reading:
    """One thing that was read: a coordinate (axis 0–2 of a place), a tape between two places, or a slope
    between them.
    """

    words: str
    path: str
    kind: str  # "coordinate", "tape", "slope"
    start: str
    end: str
    axis: int
    value: float  # mm, or radians for a slope
    sigma: float


@dataclass(frozen=True)
class Judged:
    """A reading after the adjustment: what it misses by (read minus fitted), that over its standard
    deviation, and how far the reading itself would be off if it alone were wrong (the residual over the
    share of it that the others check)."""

    reading: Reading
    residual: float
    normalised: float
    error: float


@dataclass(frozen=True)
class Agreement:
    """``judged`` every reading; ``suspects`` those that may be wrong, likeliest first (more than one where
    the readings cannot tell them apart); ``redundancy`` how many readings there are beyond need;
    ``unit_weight`` about 1 when the stated accuracy is kept."""

    judged: tuple[Judged, ...]
    suspects: tuple[Judged, ...]
    redundancy: int
    unit_weight: float

    @property
    def agrees(self) -> bool:
        """Nothing stands out."""
        return not self.suspects


def _model(reading: Reading, at: dict[str, int], x: Array) -> tuple[float, dict[int, Array]]:
    """The reading's value at places ``x`` (n, 3), and its derivative by place number."""
    if reading.kind == "coordinate":
        row = np.zeros(3)
        row[reading.axis] = 1.0
        return float(x[at[reading.start], reading.axis]), {at[reading.start]: row}
    i, j = at[reading.start], at[reading.end]
    run = x[j] - x[i]
    if reading.kind == "tape":
        size = max(float(np.linalg.norm(run)), 1e-9)
        return size, {i: -run / size, j: run / size}
    flat = max(float(np.hypot(run[0], run[1])), 1e-9)
    square = flat**2 + run[2] ** 2
    slope = np.array([-run[2] * run[0] / (flat * square), -run[2] * run[1] / (flat * square), flat / square])
    return math.atan2(float(run[2]), flat), {i: -slope, j: slope}


def adjust(places: dict[str, Vec], readings: Sequence[Reading]) -> Agreement:
    """Weighted least squares of every reading over every place, and Baarda's test of each (w = v / σ_v,
    critical 3.29).

    ``places`` are the starting values. Readings on places not in it are a KeyError. A single check cannot
    tell which of the readings it ties together is wrong: then all of them are suspects, the tape or gauge
    first.
    """
    names = sorted(
        {n for r in readings for n in ((r.start,) if r.kind == "coordinate" else (r.start, r.end))}
    )
    at = {n: k for k, n in enumerate(names)}
    x = np.array([places[n] for n in names], dtype=float).reshape(-1, 3)
    weight = np.array([1 / r.sigma for r in readings])
    rows = np.zeros((len(readings), 3 * len(names)))
    rest = np.zeros(len(readings))
    for _ in range(12):
        rows[:] = 0
        for k, r in enumerate(readings):
            value, slopes = _model(r, at, x)
            rest[k] = r.value - value
            for n, d in slopes.items():
                rows[k, 3 * n : 3 * n + 3] += d
        step, *_ = np.linalg.lstsq(rows * weight[:, None], rest * weight, rcond=None)
        x += step.reshape(-1, 3)
        if np.abs(step).max(initial=0.0) < 1e-9:
            break
    scaled = rows * weight[:, None]
    hat = scaled @ np.linalg.pinv(scaled)
    share = np.clip(1 - np.diag(hat), 0, 1)
    v = rest * weight
    checked = share > 1e-9
    w = np.where(checked, v / np.sqrt(np.where(checked, share, 1.0)), 0.0)
    judged = tuple(
        Judged(r, float(rest[k]), float(w[k]), float(rest[k] / share[k]) if checked[k] else 0.0)
        for k, r in enumerate(readings)
    )
    redundancy = len(readings) - int(np.linalg.matrix_rank(scaled)) if len(readings) else 0
    worst = max((abs(j.normalised) for j in judged), default=0.0)
    suspects: tuple[Judged, ...] = ()
    if worst > SUSPECT:
        tied = [j for j in judged if abs(j.normalised) > 0.98 * worst]
        suspects = tuple(sorted(tied, key=lambda j: (j.reading.kind == "coordinate", -abs(j.normalised))))
    unit = math.sqrt(float(v @ v) / redundancy) if redundancy else 0.0
    return Agreement(judged, suspects, redundancy, unit)
