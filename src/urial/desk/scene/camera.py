"""Four cameras on one set of solids: three elevations and a turned view, all parallel projections at one
true scale.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from urial.assembly.bodies import view_axes
from urial.geometry.place import Vec, dot
from urial.strength.vectors import cross

Array = NDArray[np.float64]
VIEWS = ("side", "rear", "top", "turned")


@dataclass
class Camera:
    """Where one looks from; ``scale`` in pixels per mm, ``focus`` the world point in the middle of the
    widget.
    """

    view: str = "side"
    azimuth: float = 35.0  # degrees, from dead astern towards the left
    elevation: float = 24.0
    scale: float = 0.5
    focus: Array = field(default_factory=lambda: np.zeros(3))
    size: tuple[int, int] = (100, 100)

    def axes(self) -> tuple[Array, Array, Array]:
        """Right, up and towards the viewer."""
        if self.view != "turned":
            right, up, towards = (np.array(a, dtype=float) for a in view_axes(self.view))  # type: ignore[arg-type]
            return right, up, towards
        a, e = math.radians(self.azimuth), math.radians(self.elevation)
        towards = np.array([-math.cos(e) * math.cos(a), math.cos(e) * math.sin(a), math.sin(e)])
        right = np.array([-math.sin(a), -math.cos(a), 0.0])
        return right, cross(towards, right), towards

    def project(self, points: Array) -> Array:
        """World points (n, 3) to widget pixels (n, 2), y down."""
        right, up, _ = self.axes()
        rel = np.atleast_2d(points) - self.focus
        x, y = rel @ right, rel @ up
        out: Array = np.stack([self.size[0] / 2 + x * self.scale, self.size[1] / 2 - y * self.scale], axis=1)
        return out

    def flat(self) -> Callable[[Vec], tuple[float, float]]:
        """:meth:`project` for one place after another, under this camera as it stands now."""
        right, up, _ = (tuple(axis) for axis in self.axes())
        scale, (fx, fy, fz) = self.scale, self.focus.tolist()
        middle, centre = self.size[0] / 2, self.size[1] / 2

        def at(place: Vec) -> tuple[float, float]:
            rel = place[0] - fx, place[1] - fy, place[2] - fz
            return middle + dot(rel, right) * scale, centre - dot(rel, up) * scale

        return at

    def pan(self, dx: float, dy: float) -> None:
        """Move by pixels."""
        right, up, _ = self.axes()
        self.focus = self.focus - (dx * right - dy * up) / self.scale

    def fit(self, points: Array, margins: tuple[float, float, float, float]) -> None:
        """Show all points inside margins (left, top, right, bottom) in pixels."""
        right, up, _ = self.axes()
        u, v = points @ right, points @ up
        left, top, rgt, bottom = margins
        room = max(self.size[0] - left - rgt, 50), max(self.size[1] - top - bottom, 50)
        self.scale = min(room[0] / max(np.ptp(u), 1), room[1] / max(np.ptp(v), 1))
        middle = (
            (u.min() + u.max()) / 2 - (left - rgt) / 2 / self.scale,
            (v.min() + v.max()) / 2 + (top - bottom) / 2 / self.scale,
        )
        depth = float(points.mean(axis=0) @ self.axes()[2])
        self.focus = middle[0] * right + middle[1] * up + depth * self.axes()[2]
