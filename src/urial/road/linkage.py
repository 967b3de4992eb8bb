"""The three-point linkage from the side: a four-bar whose coupler is the implement, and what it can lift
where.

The lower and the top link turn about their pivots on the tractor; at any moment the implement turns about the
place where their lines cross. By virtual work the force at the lower pins and that at the load are as their
upward speeds, which are as their horizontal distances from that place. x behind the rear axle, z over the
ground, mm.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

Spot = tuple[float, float]
LEVEL = 1e-6
"""Sine of the angle below which two links are parallel."""


@dataclass(frozen=True)
class Linkage:
    """Pivots on the tractor and pins on the implement."""

    lower_pivot: Spot
    lower_pin: Spot
    top_pivot: Spot
    top_pin: Spot

    @property
    def centre(self) -> Spot | None:
        """Where the lines of both links cross; None where they are parallel."""
        (ax, az), (bx, bz) = self.lower_pivot, self.lower_pin
        (cx, cz), (dx, dz) = self.top_pivot, self.top_pin
        ux, uz, vx, vz = bx - ax, bz - az, dx - cx, dz - cz
        cross = ux * vz - uz * vx
        if abs(cross) < LEVEL * math.hypot(ux, uz) * math.hypot(vx, vz):
            return None
        t = ((cx - ax) * vz - (cz - az) * vx) / cross
        return ax + t * ux, az + t * uz

    def speed_at(self, x: float) -> float:
        """Upward speed at ``x`` for a speed of 1 at the lower pins."""
        centre = self.centre
        if centre is None:
            return 1.0
        arm = self.lower_pin[0] - centre[0]
        return (x - centre[0]) / arm if abs(arm) > 1e-9 else math.inf

    def lift_at(self, at_pins_kg: float, x: float) -> float:
        """What can be lifted at ``x`` where ``at_pins_kg`` can at the lower pins, kg; no more than that at
        the pins themselves, since the arms are what the maker rates.
        """
        speed = self.speed_at(x)
        return at_pins_kg if speed <= 1.0 else at_pins_kg / speed


__all__ = ["Linkage"]
