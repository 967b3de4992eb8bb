"""A place from tapes to known places: least squares, its uncertainty, and the tape that does not fit."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]

CHI2_95 = (
    7.814727903251179  # χ² of three degrees of freedom that holds 95 % (closed form checked in the tests)
)
SUSPECT = (
    3.29  # a normalised residual beyond this happens once in a thousand sound tapes (Baarda's data snooping)
)
RARE = 1e-3  # how seldom sound tapes are taken for unsound ones
FLATTEST = 0.03  # least sine between the tapes and their common plane


class TapeError(ValueError):
    """The tapes cannot be used; the message says which and what to do."""


@dataclass(frozen=True)
class Located:
    """A place found by tapes.

    ``point`` (3,) mm; ``other`` the mirror place that fits as well, or None; ``residuals`` (n,) tape read
    minus distance found, mm; ``normalised`` (n,) residual over its own standard deviation, 0 where nothing
    checks the tape; ``covariance`` (3, 3) mm²; ``suspect`` the number of the tape that does not fit;
    ``disagree`` True where one of them is wrong, even if it cannot be told which.
    """

    point: Array
    other: Array | None
    residuals: Array
    normalised: Array
    covariance: Array
    suspect: int | None
    disagree: bool

    @property
    def sigma(self) -> Array:
        """Standard deviation along each axis (3,), mm."""
        out: Array = np.sqrt(np.diag(self.covariance))
        return out

    @property
    def ellipsoid(self) -> tuple[Array, Array]:
        """Half axes (3,) in mm of the 95 % ellipsoid, largest first, and their directions as rows (3, 3)."""
        values, vectors = np.linalg.eigh(self.covariance)
        order = values.argsort()[::-1]
        return np.sqrt(CHI2_95 * values[order]), vectors.T[order]


def _starts(known: Array, tapes: Array) -> list[Array]:
    """One or two rough places: linear in the span of the known places, and a height over it where they lie
    in a plane.
    """
    middle = known.mean(axis=0)
    rel = known - middle
    _, spread, axes = np.linalg.svd(rel)
    if spread[1] < 1e-3 * spread[0]:
        raise TapeError(
            "The known places lie in one line, and tapes from a line fit a whole circle; hook one "
            "tape on a place off the line."
        )
    flat = spread[2] < 0.02 * spread[0] if len(spread) > 2 else True
    span = axes[:2] if flat else axes
    inside = rel @ span.T
    # |p − k|² = t²; subtracting the mean of all removes |p|²
    left = 2 * (inside - inside.mean(axis=0))
    size = (rel**2).sum(axis=1) - tapes**2
    q, *_ = np.linalg.lstsq(left, size - size.mean(), rcond=None)
    base = middle + q @ span
    if not flat:
        return [base]
    height = float(np.sqrt(max(np.mean(tapes**2 - ((inside - q) ** 2).sum(axis=1)), 1e-6)))
    return [base + height * axes[2], base - height * axes[2]]


def _refine(known: Array, tapes: Array, start: Array) -> tuple[Array, Array, Array]:
    """Gauss–Newton with step control: place, residuals, and the tapes' unit vectors (n, 3)."""
    p = start.copy()
    for _ in range(60):
        away = p - known
        size = np.maximum(np.linalg.norm(away, axis=1), 1e-9)
        unit, rest = away / size[:, None], tapes - size
        step, *_ = np.linalg.lstsq(unit, rest, rcond=1e-6)
        length = float(np.linalg.norm(step))
        p = p + step * min(1.0, 0.5 * float(tapes.min()) / max(length, 1e-12))
        if length < 1e-7:
            break
    away = p - known
    size = np.maximum(np.linalg.norm(away, axis=1), 1e-9)
    return p, tapes - size, away / size[:, None]


@dataclass(frozen=True)
class _Off:
    """The one tape without which all others meet, and where they do."""

    tape: int
    point: Array


def _rarely_over(freedom: int) -> float:
    """What χ² of so many degrees of freedom passes by chance no more often than ``RARE``."""
    from scipy.special import chdtri  # a sixth of a cold start, and only needed with tapes to spare

    return float(chdtri(freedom, RARE))


def _one_off(known: Array, tapes: Array, sigma: float) -> _Off | None:
    """Each tape left out in turn, and both sides of the plane tried: the one whose absence makes the rest
    meet.

    None with fewer than five tapes (four without one always meet), where the rest meet without none of them,
    or without more than one: then nobody can say which is wrong. Meeting is χ² below its one-in-a-thousand
    value.
    """
    if len(tapes) < 5:
        return None
    rows = []
    for k in range(len(tapes)):
        keep = np.arange(len(tapes)) != k
        try:
            sides = [_refine(known[keep], tapes[keep], s) for s in _starts(known[keep], tapes[keep])]
        except TapeError:
            return None
        best = min(sides, key=lambda f: float((f[1] ** 2).sum()))
        rows.append((float((best[1] ** 2).sum()) / sigma**2, k, best[0]))
    rows.sort(key=lambda r: r[0])
    limit = _rarely_over(len(tapes) - 4)
    return _Off(rows[0][1], rows[0][2]) if rows[0][0] <= limit < rows[1][0] else None


def locate(
    known_mm: ArrayLike,
    tapes_mm: ArrayLike,
    sigma_mm: float = 1.0,
    known_sigma_mm: float = 0.0,
    towards: ArrayLike | None = None,
) -> Located:
    """The place whose distances from ``known_mm`` (n, 3), n ≥ 3, are best the ``tapes_mm`` (n,).

    ``sigma_mm`` is the standard deviation of a tape, ``known_sigma_mm`` of each coordinate of the known
    places: along a tape both count, so its variance is their sum of squares. ``towards`` (3,) is a
    direction: of two mirror places the one farther that way is taken. Covariance σ²(JᵀJ)⁻¹ with the tapes'
    directions J (Mikhail and Gracie, *Analysis and adjustment of survey measurements*, 1981). TapeError when
    the tapes do not meet, or cannot say where.
    """
    known, tapes = np.asarray(known_mm, dtype=float), np.asarray(tapes_mm, dtype=float)
    if len(known) != len(tapes) or len(tapes) < 3:
        raise TapeError(
            f"{min(len(known), len(tapes))} tapes are too few; a place wants tapes from three known "
            "places or more."
        )
    if (tapes <= 0).any():
        raise TapeError("A tape of no length finds nothing; measure it again.")
    gaps = np.linalg.norm(known[:, None] - known[None], axis=2)[np.triu_indices(len(known), 1)]
    if (gaps < 1e-6).any():
        raise TapeError("Two tapes start at the same place; hook one of them elsewhere.")
    sigma = float(np.hypot(sigma_mm, known_sigma_mm))
    found = [_refine(known, tapes, s) for s in _starts(known, tapes)]
    fit = [float((f[1] ** 2).sum()) for f in found]
    best = min(fit)
    off = _one_off(known, tapes, sigma) if best / sigma**2 > _rarely_over(max(len(tapes) - 3, 1)) else None
    if off is not None:  # the others say on which side it lies, whatever the wrong one says
        found = [
            min(
                (_refine(known, tapes, off.point), *found),
                key=lambda f: float(np.linalg.norm(f[0] - off.point)),
            )
        ]
    elif len(found) == 2 and abs(fit[0] - fit[1]) > max(9 * sigma**2, 4 * best):
        found = [found[int(np.argmin(fit))]]  # the tapes leave the plane enough to tell the sides apart
    way = np.asarray(towards if towards is not None else (0.0, 0.0, 1.0), dtype=float)
    found.sort(key=lambda f: -float(f[0] @ way))
    point, residuals, unit = found[0]
    other = found[1][0] if len(found) == 2 and np.linalg.norm(found[1][0] - point) > 1e-3 else None
    worst = float(np.abs(residuals).max())
    free = len(tapes) - 3
    if worst > (5 * sigma if not free else 200 * sigma):
        raise TapeError(
            f"The tapes do not meet: the nearest place misses one of them by {worst:.1f} mm; measure "
            "them again."
        )
    values = np.linalg.svd(unit, compute_uv=False)
    if values[2] < FLATTEST * values[0]:
        raise TapeError(
            "The place lies in the plane of the known places, where tapes cannot tell which side it "
            "is on; hook one tape well outside that plane."
        )
    normal: Array = np.asarray(np.linalg.inv(unit.T @ unit), dtype=np.float64)
    share = np.clip(
        1 - np.einsum("ij,jk,ik->i", unit, normal, unit), 0, 1
    )  # how far the others check each tape
    checked = share > 1e-6
    normalised = np.where(checked, residuals / (sigma * np.sqrt(np.where(checked, share, 1.0))), 0.0)
    size = np.abs(normalised)
    disagree = bool(size.max() > SUSPECT)
    return Located(
        point,
        other,
        residuals,
        normalised,
        np.asarray(sigma**2 * normal, dtype=np.float64),
        off.tape if off is not None else None,
        disagree or off is not None,
    )
