"""Synthetic pictures: a flat face with holes, seen by a pinhole camera at a known pose."""

from __future__ import annotations

from functools import lru_cache

import numpy as np


def camera(eye, target, focal_px=1500.0, size=(1200, 900)):
    """H (3, 3) from the plane z = 0 (u, v in mm) to pixels, for a camera at ``eye`` that looks at
    ``target``.
    """
    eye, target = np.asarray(eye, dtype=float), np.asarray(target, dtype=float)
    ahead = (target - eye) / np.linalg.norm(target - eye)
    right = np.cross(ahead, [0, 1, 0])
    right /= np.linalg.norm(right)
    down = np.cross(ahead, right)
    turn = np.stack([right, down, ahead])
    inside = np.array([[focal_px, 0, size[0] / 2], [0, focal_px, size[1] / 2], [0, 0, 1]])
    return inside @ np.column_stack([turn[:, 0], turn[:, 1], -turn @ eye])


def through(h, points):
    p = np.column_stack([np.atleast_2d(points), np.ones(len(np.atleast_2d(points)))]) @ h.T
    return p[:, :2] / p[:, 2:]


def render(h, holes, rectangle, size=(1200, 900), sub=4, noise=0.0, seed=0):
    """Grey picture: a light face with dark round holes (u, v, diameter) and a dark frame round a light
    rectangle (w, h).
    """
    grey = _clean(h.tobytes(), tuple(map(tuple, holes)), tuple(rectangle), size, sub)
    if noise:
        grey = grey + np.random.default_rng(seed).normal(0, noise, grey.shape)
    return np.clip(grey, 0, 1)


@lru_cache(maxsize=4)
def _clean(h, holes, rectangle, size, sub):
    """The picture without noise: every pixel the mean of ``sub`` × ``sub`` looks."""
    back = np.linalg.inv(np.frombuffer(h).reshape(3, 3))
    offsets = (np.arange(sub) + 0.5) / sub - 0.5
    grey = np.zeros((size[1], size[0]))
    w, t = rectangle
    for oy in offsets:
        for ox in offsets:
            x, y = (np.arange(size[0]) + ox)[None], (np.arange(size[1]) + oy)[:, None]
            u, v, one = (row[0] * x + row[1] * y + row[2] for row in back)
            u /= one
            v /= one
            value = np.full(u.shape, 0.75)
            value[(u > -12) & (u < w + 12) & (v > -12) & (v < t + 12)] = 0.25
            value[(u > 0) & (u < w) & (v > 0) & (v < t)] = 0.9
            for cu, cv, d in holes:
                value[(u - cu) ** 2 + (v - cv) ** 2 < (d / 2) ** 2] = 0.08
            grey += value
    return grey / (sub * sub)
