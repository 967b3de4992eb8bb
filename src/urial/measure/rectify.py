"""A flat face in a picture, squared up: the homography from known points, places picked on it, and how sure
they are.

Pixels run right and down from the picture's upper left corner, pixel centres at whole numbers; the plane's u
and v run along and up, in mm.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[np.float64]


class PictureError(ValueError):
    """The picture, its corners or a pick cannot be used; the message says why and what to do."""


def _normaliser(points: Array) -> Array:
    """Moves points (…, n, 2) to their middle and scales them to a mean distance of √2 (Hartley 1997)."""
    middle = points.mean(axis=-2)
    off = points - middle[..., None, :]
    size = np.maximum(np.sqrt((off * off).sum(axis=-1)).mean(axis=-1), 1e-12)
    out = np.zeros((*middle.shape[:-1], 3, 3))
    out[..., 0, 0] = out[..., 1, 1] = np.sqrt(2) / size
    out[..., :2, 2] = -middle * out[..., :1, 0]
    out[..., 2, 2] = 1.0
    return out


def homography(source: ArrayLike, target: ArrayLike) -> Array:
    """H (…, 3, 3) with target ~ H·source for points (…, n, 2), n ≥ 4: direct linear transform (Hartley and
    Zisserman 2004, 4.1).
    """
    a, b = np.asarray(source, dtype=float), np.asarray(target, dtype=float)
    ta, tb = _normaliser(a), _normaliser(b)
    p, q = project(ta, a), project(tb, b)
    one = np.concatenate([p, np.ones((*p.shape[:-1], 1))], axis=-1)
    zero = np.zeros_like(one)
    along = np.concatenate([one, zero, -q[..., :1] * one], axis=-1)
    up = np.concatenate([zero, one, -q[..., 1:] * one], axis=-1)
    h = np.linalg.svd(np.concatenate([along, up], axis=-2))[2][..., -1, :]
    out = np.linalg.inv(tb) @ h.reshape(*h.shape[:-1], 3, 3) @ ta
    scaled: Array = out / out[..., 2:, 2:]
    return scaled


def project(h: Array, points: ArrayLike) -> Array:
    """Points (…, n, 2) through a homography (…, 3, 3)."""
    p = np.atleast_2d(np.asarray(points, dtype=float))
    w = p @ np.swapaxes(h[..., :2], -1, -2) + h[..., None, :, 2]
    out: Array = w[..., :2] / w[..., 2:]
    return out


def inverse(h: Array) -> Array:
    """The homography back."""
    return np.asarray(np.linalg.inv(h), dtype=np.float64)


def _turns(points: Array) -> Array:
    """Twice the signed area at each corner of a ring (n,)."""
    before, after = np.roll(points, 1, axis=0), np.roll(points, -1, axis=0)
    a, b = points - before, after - points
    out: Array = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
    return out


def check_corners(pixels: Array, plane: Array) -> None:
    """Refuse corners that cross, run the wrong way round, lie in a line or on each other.  PictureError
    says which.
    """
    if len(pixels) < 4 or len(pixels) != len(plane):
        raise PictureError(
            f"{len(pixels)} corners are marked; four known points or more are needed to square a picture up."
        )
    for name, p in (("picture", pixels), ("plane", plane)):
        gaps = [float(np.hypot(*(a - b))) for a, b in combinations(p, 2)]
        if min(gaps) < 1e-6 * max(gaps):
            raise PictureError(f"Two corners are at the same place in the {name}; mark them apart.")
    if len(pixels) == 4:
        image, true = _turns(pixels * [1, -1]), _turns(plane)
        if bool((np.abs(image) < 1e-3 * np.abs(image).max()).any()) or bool(
            (np.abs(true) < 1e-9 * np.abs(true).max()).any()
        ):
            raise PictureError("Three corners lie in one line; mark corners of a true rectangle.")
        if bool((true > 0).all() or (true < 0).all()):
            if not bool((image > 0).all() or (image < 0).all()):
                raise PictureError(
                    "The corners cross: mark them in turn, lower left, lower right, upper right, upper left."
                )
            if image[0] * true[0] < 0:
                raise PictureError(
                    "The corners run the wrong way round: mark them in turn, lower left, lower right, "
                    "upper right, upper left."
                )


@dataclass(frozen=True)
class Squared:
    """Picks on the plane: ``points`` (n, 2) mm; ``covariance`` (2n, 2n) mm² of them all; ``misfit_px`` how
    far the known points beyond four miss, root mean square."""

    h: Array
    points: Array
    covariance: Array
    misfit_px: float

    @property
    def sigma(self) -> Array:
        """Standard deviation (n, 2), mm."""
        out: Array = np.sqrt(np.diag(self.covariance)).reshape(-1, 2)
        return out

    def distance(self, i: int, j: int) -> tuple[float, float]:
        """Distance between two picks and its standard deviation, mm."""
        run = self.points[j] - self.points[i]
        size = float(np.hypot(*run))
        slope = np.zeros(self.covariance.shape[0])
        unit = run / size if size > 0 else np.array([1.0, 0.0])
        slope[2 * j : 2 * j + 2], slope[2 * i : 2 * i + 2] = unit, -unit
        return size, math.sqrt(max(float(slope @ self.covariance @ slope), 0.0))


def square_up(
    corners_px: ArrayLike,
    corners_mm: ArrayLike,
    picks_px: ArrayLike,
    corner_sigma_px: float = 1.0,
    pick_sigma_px: float | Sequence[float] = 1.0,
    corner_sigma_mm: float = 0.0,
) -> Squared:
    """Picks (n, 2) in pixels on the plane of four or more known points (k, 2) in pixels and mm.

    The uncertainty is carried from the corners' and picks' own by the numerical derivative of the whole
    calculation, so picks far outside the known points say so. PictureError for corners that cannot be used
    or a pick beyond the horizon.
    """
    px, mm = (
        np.asarray(corners_px, dtype=float).reshape(-1, 2),
        np.asarray(corners_mm, dtype=float).reshape(-1, 2),
    )
    picks = np.asarray(picks_px, dtype=float).reshape(-1, 2)
    check_corners(px, mm)
    h = homography(px, mm)
    _in_front(h, px, picks)

    def answers(values: Array) -> Array:
        """Where the picks come out (try, 2·picks) from corners and picks (try, point, 2)."""
        k = len(px)
        found = project(homography(values[:, :k], values[:, k : 2 * k]), values[:, 2 * k :])
        return found.reshape(len(values), 2 * len(picks))

    every = np.concatenate([px, mm, picks])
    sigma = np.concatenate(
        [
            np.full(2 * len(px), corner_sigma_px),
            np.full(2 * len(mm), corner_sigma_mm),
            np.repeat(np.broadcast_to(pick_sigma_px, (len(picks),)), 2),
        ]
    )
    unsure = np.flatnonzero(sigma)
    steps = 1e-3 * np.eye(every.size)[unsure].reshape(-1, *every.shape)
    slopes = (answers(every + steps) - answers(every - steps)) / 2e-3 * sigma[unsure, None]
    covariance = slopes.T @ slopes
    miss = project(inverse(h), mm) - px
    spare = max(2 * len(px) - 8, 0)
    return Squared(
        h, project(h, picks), covariance, float(np.sqrt((miss**2).sum() / spare)) if spare else 0.0
    )


def _in_front(h: Array, corners: Array, picks: Array) -> None:
    """A place on the far side of the plane's horizon is not on the plane."""
    side = np.sign((corners @ h[2, :2] + h[2, 2]).mean())
    depth = (picks @ h[2, :2] + h[2, 2]) * side
    least = 0.02 * np.abs(corners @ h[2, :2] + h[2, 2]).min()
    for n in np.flatnonzero(depth < least):
        raise PictureError(
            f"Pick {n + 1} lies at or beyond the plane's horizon in the picture; pick a place on the "
            "squared-up face."
        )
