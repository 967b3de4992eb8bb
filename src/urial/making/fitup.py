"""Tacked and not yet welded: where the corners of a weldment really lie, from a tape's and a level's
readings; which of them to move, how far and which way; and what the readings cannot tell.

The places are those of the drawing, each moved by an unknown way; what is known are the readings and the
lengths of bars that were cut.  Weighted least squares by Gauss–Newton, and the inverse of its normal matrix
as the spread of every place (adjustment of observations: Mikhail & Ackermann, *Observations and Least
Squares*, 1976).  A reading is doubted by its standardised residual (Baarda's data snooping).
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
import numpy.typing as npt

from urial.geometry.place import Vec

Array = npt.NDArray[np.float64]
TAPE, LEVEL, CUT = 1.0, 1.0, 0.7
"""Standard deviations of a tape's reading, of a height over a level line, and of a bar that was cut to its
length, mm (house rule)."""
LOOSE = 1e4
"""How far a place that nothing ties may lie, mm: much farther than any frame is crooked."""
HELD = 1e-3
"""What stays stays, mm."""
KNOWN = 5.0
"""A way whose standard deviation is more is not told by what was read, mm (house rule)."""
DOUBT = 3.3
"""A residual so many of its own standard deviations is a reading gone wrong, or a piece (Baarda)."""
TOLD = 0.04
"""A reading whose residual keeps less than this share of its variance is checked by no other."""
ALIKE = 0.95
"""Residuals so near to the greatest are as much to be doubted."""
ROUNDS = 25
AXES = ("along", "across", "up")


@dataclass(frozen=True)
class Tape:
    """A distance between two places, mm; ``sigma`` its standard deviation."""

    a: str
    b: str
    mm: float
    sigma: float = TAPE

    @property
    def places(self) -> tuple[str, ...]:
        """The places it is read at."""
        return (self.a, self.b)


@dataclass(frozen=True)
class Height:
    """How high a place lies over something level (a laser's line, water), mm; only differences count."""

    at: str
    mm: float
    sigma: float = LEVEL

    @property
    def places(self) -> tuple[str, ...]:
        """The place it is read at."""
        return (self.at,)


Read = Tape | Height


@dataclass(frozen=True)
class Placed:
    """A place: how far it lies off the drawing along x, y, z (mm), the standard deviation of each, and which
    of the three nobody can tell; what cannot be told is 0 in ``off``.
    """

    name: str
    off: Vec
    sigma: Vec
    unknown: frozenset[int]

    @property
    def far(self) -> float:
        """How far off it lies, as far as that is known, mm."""
        return math.hypot(*self.off)


@dataclass(frozen=True)
class FitUp:
    """Every place; the readings' misfits (read less what the places say, mm, in the order given); the ones of
    which one contradicts the rest, by their numbers; and readings that would tell what is unknown, the most
    telling first.
    """

    places: tuple[Placed, ...]
    misfits: tuple[float, ...]
    doubted: tuple[int, ...]
    wanted: tuple[Read, ...]

    @property
    def by_name(self) -> dict[str, Placed]:
        """Each place by its name."""
        return {p.name: p for p in self.places}


def fit_up(
    points: Mapping[str, Vec],
    reads: Sequence[Read],
    hold: tuple[str, str, str],
    members: Iterable[tuple[str, str]] = (),
) -> FitUp:
    """Where the places lie.

    ``points``: as drawn (mm; x along, y across, z up), three at least.  ``hold``: the place that stays; the
    one that stays in line with it seen from above, and in height; a third that stays in height: with them
    the weldment is laid over its drawing.  ``members``: pairs with a bar between them that was cut as drawn.

    ValueError with one sentence: a reading that names no place or one place twice or is no length, places
    held that are one or lie in line.
    """
    names = list(points)
    at = {n: k for k, n in enumerate(names)}
    drawn = np.array([points[n] for n in names], dtype=float)
    _sound(names, reads, hold)
    held = _pinned(drawn, [at[n] for n in hold])
    cut = [Tape(a, b, float(np.linalg.norm(drawn[at[a]] - drawn[at[b]])), CUT) for a, b in members]
    every: list[Read] = [*reads, *cut]
    x = np.zeros(drawn.size + 3)  # every place's way, then the level line: its height and its two slopes
    for _ in range(ROUNDS):
        jacobian, said = _seen(every, at, drawn, x)
        misfit = np.array([r.mm for r in every]) - said
        normal, right = _normal(jacobian, misfit, every, held, x)
        step = np.linalg.solve(normal, right)
        x = x + step
        if float(np.abs(step[: drawn.size]).max()) < 1e-9:
            break
    jacobian, said = _seen(every, at, drawn, x)
    misfit = np.array([r.mm for r in every]) - said
    normal, _ = _normal(jacobian, misfit, every, held, x)
    spread: Array = np.asarray(np.linalg.inv(normal), dtype=np.float64)
    places = []
    for k, name in enumerate(names):
        sigma = np.sqrt(np.maximum(np.diag(spread)[3 * k : 3 * k + 3], 0.0))
        unknown = frozenset(n for n in range(3) if sigma[n] > KNOWN)
        off = [0.0 if n in unknown else float(x[3 * k + n]) for n in range(3)]
        places.append(
            Placed(name, (off[0], off[1], off[2]), tuple(float(s) for s in sigma), unknown)  # type: ignore[arg-type]
        )
    doubted = _doubted(jacobian, misfit, every, spread, len(reads))
    wanted = _wanted(names, at, drawn, x, spread, reads)
    return FitUp(tuple(places), tuple(float(v) for v in misfit[: len(reads)]), doubted, wanted)


def _sound(names: Sequence[str], reads: Sequence[Read], hold: tuple[str, str, str]) -> None:
    for r in reads:
        lost = next((n for n in r.places if n not in names), None)
        if lost is not None:
            raise ValueError(f"A reading names “{lost}”; the places are {', '.join(names)}.")
        if isinstance(r, Tape) and r.a == r.b:
            raise ValueError(f"A reading goes from {r.a} to itself; name two places.")
        if not math.isfinite(r.mm) or (isinstance(r, Tape) and r.mm <= 0):
            raise ValueError(f"What was read at {' and '.join(r.places)} is no length; read it again.")
    lost = next((n for n in hold if n not in names), None)
    if lost is not None or len(set(hold)) < 3:
        raise ValueError(f"Three places hold it, each another one of {', '.join(names)}.")


def _pinned(drawn: Array, hold: Sequence[int]) -> Array:
    """One row for each way that stays."""
    a, b, c = hold
    along, other = drawn[b, :2] - drawn[a, :2], drawn[c, :2] - drawn[a, :2]
    size = float(np.linalg.norm(along))
    if size < 1.0 or abs(along[0] * other[1] - along[1] * other[0]) < 1.0 * size:
        raise ValueError("The three places that hold it lie in one line; choose others.")
    rows = np.zeros((6, drawn.size + 3))
    for n in range(3):
        rows[n, 3 * a + n] = 1.0
    rows[3, 3 * b], rows[3, 3 * b + 1] = -along[1] / size, along[0] / size
    rows[4, 3 * b + 2] = rows[5, 3 * c + 2] = 1.0
    return rows


def _seen(every: Sequence[Read], at: Mapping[str, int], drawn: Array, x: Array) -> tuple[Array, Array]:
    """What each reading would be with the places where they are now, and how it changes with each way."""
    now = drawn + x[: drawn.size].reshape(-1, 3)
    jacobian, said = np.zeros((len(every), len(x))), np.zeros(len(every))
    for k, r in enumerate(every):
        if isinstance(r, Tape):
            a, b = at[r.a], at[r.b]
            way = now[b] - now[a]
            said[k] = max(float(np.linalg.norm(way)), 1e-6)
            jacobian[k, 3 * b : 3 * b + 3] = way / said[k]
            jacobian[k, 3 * a : 3 * a + 3] = -way / said[k]
        else:
            p = at[r.at]
            level = (1.0, drawn[p, 0] / 1000, drawn[p, 1] / 1000)
            said[k] = now[p, 2] + float(np.dot(level, x[-3:]))
            jacobian[k, 3 * p + 2], jacobian[k, -3:] = 1.0, level
    return jacobian, said


def _normal(
    jacobian: Array, misfit: Array, every: Sequence[Read], held: Array, x: Array
) -> tuple[Array, Array]:
    """The normal equations of readings, of what stays, and of what nothing ties."""
    weight = np.array([1 / r.sigma**2 for r in every])
    loose = np.full(len(x), LOOSE**-2)
    normal = (jacobian.T * weight) @ jacobian + held.T @ held / HELD**2 + np.diag(loose)
    right = (jacobian.T * weight) @ misfit - held.T @ (held @ x) / HELD**2 - loose * x
    return normal, right


def _doubted(
    jacobian: Array, misfit: Array, every: Sequence[Read], spread: Array, count: int
) -> tuple[int, ...]:
    """The readings whose residuals are most of their own standard deviations, where that is too many: several
    where nothing tells them apart.
    """
    off = np.zeros(len(every))
    for k, r in enumerate(every):
        own = r.sigma**2 - float(jacobian[k] @ spread @ jacobian[k])
        if own > TOLD * r.sigma**2:
            off[k] = abs(misfit[k]) / math.sqrt(own)
    worst = float(off.max(initial=0.0))
    return tuple(k for k in range(count) if off[k] > max(DOUBT, ALIKE * worst)) if worst > DOUBT else ()


def _wanted(
    names: Sequence[str], at: Mapping[str, int], drawn: Array, x: Array, spread: Array, reads: Sequence[Read]
) -> tuple[Read, ...]:
    """Readings that were not taken, until every way is told: each time the one that takes most off the
    spread.  Their ``mm`` are as drawn.
    """
    taken = {(type(r), frozenset(r.places)) for r in reads}
    open_: list[Read] = [
        Tape(a, b, float(np.linalg.norm(drawn[at[b]] - drawn[at[a]]))) for a, b in combinations(names, 2)
    ]
    open_ += [Height(n, float(drawn[at[n], 2])) for n in names]
    open_ = [r for r in open_ if (type(r), frozenset(r.places)) not in taken]
    out: list[Read] = []
    for _ in range(3 * len(names)):
        unknown = np.sqrt(np.maximum(np.diag(spread)[: drawn.size], 0.0)) > KNOWN
        if not unknown.any() or not open_:
            break
        jacobian, _ = _seen(open_, at, drawn, x)
        gains = []
        for row, r in zip(jacobian, open_, strict=True):
            told = spread @ row
            gains.append(float((told[: drawn.size] ** 2).sum()) / (r.sigma**2 + float(row @ told)))
        best = int(np.argmax(gains))
        if gains[best] < KNOWN**2:
            break
        told = spread @ jacobian[best]
        spread = spread - np.outer(told, told) / (open_[best].sigma ** 2 + float(jacobian[best] @ told))
        out.append(open_.pop(best))
    return tuple(out)


__all__ = ["AXES", "FitUp", "Height", "Placed", "Read", "Tape", "fit_up"]
