"""A simple scaled drawing of the vehicle's rear from its numbers: wheels, rails, bumper, ground.  World polylines, no Qt."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from urial.job.model import Job

Array = NDArray[np.float64]


def _box(x0: float, x1: float, y0: float, y1: float, z0: float, z1: float) -> list[Array]:
    """Twelve edges of a block as closed rings and struts."""
    low = [(x0, y0, z0), (x1, y0, z0), (x1, y1, z0), (x0, y1, z0), (x0, y0, z0)]
    high = [(x, y, z1) for x, y, _ in low]
    struts = [np.array([a, b], dtype=float) for a, b in zip(low[:4], high[:4], strict=True)]
    return [np.array(low, dtype=float), np.array(high, dtype=float), *struts]


def _ring(y: float, radius: float, z: float) -> Array:
    a = np.linspace(0, 2 * np.pi, 73)
    return np.stack([radius * np.cos(a), np.full_like(a, y), z + radius * np.sin(a)], axis=1)


def outline(job: Job) -> dict[str, list[Array]]:
    """Named groups of polylines (n, 3) in vehicle axes."""
    v = job.vehicle
    half, r, w = v.track_mm / 2, v.tyre_mm / 2, v.tyre_width_mm / 2
    wheels: list[Array] = []
    for side in (1, -1):
        for y in (side * half - w, side * half + w):
            wheels += [_ring(y, r, r), _ring(y, r * 0.58, r)]
        for angle in np.radians([0, 90, 180, 270]):
            x, z = r * np.cos(angle), r + r * np.sin(angle)
            wheels.append(np.array([(x, side * half - w, z), (x, side * half + w, z)]))
    face = v.rail_spacing_mm / 2
    outside = getattr(job.design, "plates_on", "outside") == "outside"
    rails: list[Array] = []
    for side in (1, -1):
        near, far = side * face, side * (face - v.rail_width_mm if outside else face + v.rail_width_mm)
        rails += _box(-v.rail_end_mm, r + 250, min(near, far), max(near, far), v.rail_bottom_mm, v.rail_bottom_mm + v.rail_height_mm)
    wide = half + w
    bumper = _box(-v.rear_overhang_mm, -v.rear_overhang_mm + v.bumper_depth_mm, -wide, wide, v.bumper_bottom_mm, v.bumper_bottom_mm + v.bumper_height_mm)
    holes = []
    for side, points in ((1, v.left), (-1, v.right)):
        for h in points:
            a = np.linspace(0, 2 * np.pi, 25)
            holes.append(np.stack([-h.behind_mm + h.hole_mm / 2 * np.cos(a), np.full_like(a, side * face), h.height_mm + h.hole_mm / 2 * np.sin(a)], axis=1))
    return {"wheels": wheels, "rails": rails, "bumper": bumper, "holes": holes}


def hidden_in(view: str) -> set[str]:
    """Groups that would clutter a view."""
    return {"top": {"holes"}, "rear": set(), "side": set(), "turned": set()}[view]
