"""Sub-pixel help for picking in a picture: the middle of a hole, a corner, an edge.  Grey pictures (rows,
columns), 0–1.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from urial.measure.rectify import PictureError, inverse, project

Array = NDArray[np.float64]


def sample(grey: Array, x: NDArray[Any], y: NDArray[Any]) -> Array:
    """Bilinear values at pixel places; the border's value outside."""
    high, wide = grey.shape
    x, y = np.clip(x, 0, wide - 1.001), np.clip(y, 0, high - 1.001)
    i, j = np.floor(y).astype(int), np.floor(x).astype(int)
    fy, fx = y - i, x - j
    out: Array = (grey[i, j] * (1 - fx) + grey[i, j + 1] * fx) * (1 - fy) + (
        grey[i + 1, j] * (1 - fx) + grey[i + 1, j + 1] * fx
    ) * fy
    return out


@dataclass(frozen=True)
class Rim:
    """A hole's middle and radius on the plane (mm), its middle in the picture (pixels), and the fit's
    standard deviation.
    """

    u: float
    v: float
    radius: float
    px: float
    py: float
    sigma_mm: float


def fit_circle(points: Array) -> tuple[float, float, float]:
    """Middle and radius of the circle through points (n, 2): least squares on x² + y² (Kåsa 1976), then on
    distance.
    """
    a = np.column_stack([2 * points, np.ones(len(points))])
    (cx, cy, c), *_ = np.linalg.lstsq(a, (points**2).sum(axis=1), rcond=None)
    r = float(np.sqrt(max(c + cx**2 + cy**2, 1e-12)))
    for _ in range(8):  # Gauss–Newton on the true distances
        away = points - [cx, cy]
        size = np.maximum(np.linalg.norm(away, axis=1), 1e-12)
        step, *_ = np.linalg.lstsq(
            np.column_stack([away / size[:, None], np.ones(len(points))]), size - r, rcond=None
        )
        cx, cy, r = cx + step[0], cy + step[1], r + float(step[2])
    return float(cx), float(cy), r


def _rim_points(
    grey: Array, back: Array, u: float, v: float, search: float, step: float, near: float | None
) -> Array:
    """Edge places (n, 2) on the plane along 96 spokes: on each the steepest change of the common sign, to
    a part of a pixel.
    """
    angle = np.linspace(0, 2 * np.pi, 96, endpoint=False)
    radius = np.arange(2 * step, search, step / 2)
    if near is not None:
        radius = radius[(radius > 0.6 * near) & (radius < 1.5 * near)]
    if len(radius) < 5:
        return np.zeros((0, 2))
    cos, sin = np.cos(angle)[:, None], np.sin(angle)[:, None]
    flat = np.stack([u + cos * radius, v + sin * radius], axis=-1).reshape(-1, 2)
    place = project(back, flat)
    value = sample(grey, place[:, 0], place[:, 1]).reshape(len(angle), len(radius))
    change = np.asarray(np.gradient(value, axis=1), dtype=np.float64)
    sign = 1.0 if change.max(axis=1).mean() >= -change.min(axis=1).mean() else -1.0
    steep = sign * change
    if near is None:
        # over all spokes together a rim stands out where a straight edge near by does not; take the
        # innermost that does
        profile = np.convolve(np.clip(steep, 0, None).mean(axis=0), np.ones(5) / 5, "same")
        peak = (
            (profile[1:-1] >= profile[:-2])
            & (profile[1:-1] >= profile[2:])
            & (profile[1:-1] > 0.5 * profile.max())
        )
        rough = radius[int(peak.argmax()) + 1] if peak.any() else radius[int(profile.argmax())]
        steep = np.where((radius > 0.5 * rough) & (radius < 1.6 * rough), steep, -1.0)
    k = steep.argmax(axis=1)
    k = np.clip(k, 1, len(radius) - 2)
    rows = np.arange(len(angle))
    a, b, c = steep[rows, k - 1], steep[rows, k], steep[rows, k + 1]
    bend = a - 2 * b + c
    shift = np.where(bend < -1e-12, np.clip(0.5 * (a - c) / np.where(bend < -1e-12, bend, 1.0), -1, 1), 0.0)
    at = radius[k] + shift * (radius[1] - radius[0])
    strong = b > max(0.35 * float(np.median(b)), 0.004)
    out: Array = np.stack([u + np.cos(angle) * at, v + np.sin(angle) * at], axis=1)[strong]
    return out


def find_hole(grey: Array, h: Array, px: float, py: float, search_mm: float) -> Rim:
    """The hole round a click: its rim found on the plane, where a round hole is round, whatever the
    picture's slant.

    ``h`` maps pixels to mm. ``search_mm`` is the largest radius looked for. PictureError when there is no
    rim.
    """
    high, wide = grey.shape
    if not (0 <= px < wide and 0 <= py < high):
        raise PictureError("That place is outside the picture; click inside it.")
    back = inverse(h)
    ((u, v),) = project(h, [(px, py)])
    near = project(h, [(px + 1, py), (px, py + 1)]) - [u, v]
    step = float(np.sqrt(abs(near[0, 0] * near[1, 1] - near[0, 1] * near[1, 0])))  # mm a pixel covers
    radius: float | None = None
    kept = np.zeros((0, 2))
    for _ in range(8):
        points = _rim_points(grey, back, u, v, search_mm, step, radius)
        if len(points) < 24:
            break
        kept = points
        for _ in range(4):  # leave out spokes that caught something else
            u, v, radius = fit_circle(kept)
            off = np.abs(np.hypot(kept[:, 0] - u, kept[:, 1] - v) - radius)
            limit = max(3 * 1.4826 * float(np.median(off)), 0.25 * step)
            if (off <= limit).all() or (off <= limit).sum() < 24:
                break
            kept = kept[off <= limit]
    if radius is None or len(kept) < 24 or not step < radius < search_mm * 1.05:
        raise PictureError(
            "No round rim is clear there; click nearer the hole's middle, or pick it as a point."
        )
    u, v, radius = fit_circle(kept)
    off = np.hypot(kept[:, 0] - u, kept[:, 1] - v) - radius
    spread = float(np.sqrt((off**2).sum() / max(len(kept) - 3, 1)))
    if spread > 0.12 * radius:
        raise PictureError(
            "What is there is not round; click nearer the hole's middle, or pick it as a point."
        )
    ((cx, cy),) = project(back, [(u, v)])
    return Rim(u, v, radius, float(cx), float(cy), spread * float(np.sqrt(2 / len(kept))))


def snap_corner(grey: Array, px: float, py: float, window: float = 9.0) -> tuple[float, float, float]:
    """The corner nearest a click, pixels, and its standard deviation: where the gradients round it best
    agree.

    Förstner and Gülch 1987: the place x with Σ w·g·gᵀ·(p − x) = 0. The click comes back where there is no
    corner.
    """
    x, y = px, py
    sigma = 1.0
    reach = np.arange(-int(window), int(window) + 1, dtype=np.float64)
    for _ in range(12):
        gx, gy = np.meshgrid(reach, reach)
        qx, qy = x + gx, y + gy
        dx = (sample(grey, qx + 1.0, qy) - sample(grey, qx - 1.0, qy)) / 2
        dy = (sample(grey, qx, qy + 1.0) - sample(grey, qx, qy - 1.0)) / 2
        w = np.exp(-(gx**2 + gy**2) / (2 * (window / 2) ** 2))
        n = np.array([[(w * dx * dx).sum(), (w * dx * dy).sum()], [(w * dx * dy).sum(), (w * dy * dy).sum()]])
        values = np.linalg.eigvalsh(n)
        if values[0] < 1e-4 or values[0] < 0.02 * values[1]:
            return px, py, 1.0
        b = np.array([(w * (dx * dx * gx + dx * dy * gy)).sum(), (w * (dx * dy * gx + dy * dy * gy)).sum()])
        step = np.linalg.solve(n, b)
        x, y = x + float(step[0]), y + float(step[1])
        if np.hypot(x - px, y - py) > window:
            return px, py, 1.0
        miss = w * (dx * (gx - step[0]) + dy * (gy - step[1])) ** 2
        sigma = float(np.sqrt(miss.sum() / w.sum() * np.trace(np.linalg.inv(n)) / 2))
        if np.abs(step).max() < 1e-3:
            break
    return x, y, min(max(sigma, 0.05), 1.0)


def snap_edge(grey: Array, px: float, py: float, window: float = 8.0) -> tuple[float, float]:
    """The steepest change nearest a click along the local gradient, to a part of a pixel; the click where
    all is flat.
    """
    reach = np.arange(-int(window), int(window) + 1, dtype=np.float64)
    gx, gy = np.meshgrid(reach, reach)
    dx = (sample(grey, px + gx + 1, py + gy) - sample(grey, px + gx - 1, py + gy)) / 2
    dy = (sample(grey, px + gx, py + gy + 1) - sample(grey, px + gx, py + gy - 1)) / 2
    xx, yy, xy = (dx * dx).sum(), (dy * dy).sum(), (dx * dy).sum()
    if xx + yy < 1e-3:
        return px, py
    turn = 0.5 * np.arctan2(2 * xy, xx - yy)
    way = np.array([np.cos(turn), np.sin(turn)])
    t = np.arange(-window, window + 0.25, 0.25)
    steep = np.abs(np.gradient(sample(grey, px + t * way[0], py + t * way[1])))
    k = int(np.clip((steep * np.exp(-((t / window) ** 2))).argmax(), 1, len(t) - 2))
    bend = steep[k - 1] - 2 * steep[k] + steep[k + 1]
    at = t[k] + (0.25 * 0.5 * (steep[k - 1] - steep[k + 1]) / bend if bend < -1e-12 else 0.0)
    return float(px + at * way[0]), float(py + at * way[1])
