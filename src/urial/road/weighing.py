"""Tongue weight and trailer mass from what a scale reads, with their uncertainty."""

from __future__ import annotations

import math
from dataclasses import dataclass

from urial.job.duty import Weighing

LENGTH_SIGMA = 2.0  # mm; a lever measured by tape


@dataclass(frozen=True)
class Weighed:
    """Tongue weight and, from a weighbridge, the whole trailer; one standard deviation each, kg."""

    tongue_kg: float
    tongue_sigma: float
    trailer_kg: float | None = None
    trailer_sigma: float | None = None


def weigh(w: Weighing) -> Weighed:
    """What a weighing says.  ValueError with one sentence when it cannot be so.

    Jack at j behind the coupling, axles at L: moments about the axles give S = R·(L − j)/L.
    Beam on a fixed support, scale at D from it and coupler at d: S = R·D/d.
    Weighbridge: what hitching adds to the vehicle's axles; the trailer is that and its own axles.
    """
    r, s = w.reading_kg, w.sigma_kg
    if w.method == "jack":
        if w.jack_behind_mm >= w.axle_mm:
            raise ValueError("The jack is behind the trailer's axles, where it lifts no tongue; measure both from the coupling again.")
        arm = (w.axle_mm - w.jack_behind_mm) / w.axle_mm
        lever = r * LENGTH_SIGMA * math.hypot(1, w.jack_behind_mm / w.axle_mm) / w.axle_mm if w.jack_behind_mm else 0.0
        return Weighed(r * arm, math.hypot(s * arm, lever))
    if w.method == "beam":
        if w.coupler_mm > w.scale_mm:
            raise ValueError("The coupler stands beyond the scale; put it between the two supports.")
        ratio = w.scale_mm / w.coupler_mm
        lever = r * ratio * math.hypot(LENGTH_SIGMA / w.scale_mm, LENGTH_SIGMA / w.coupler_mm)
        return Weighed(r * ratio, math.hypot(s * ratio, lever))
    tongue = w.hitched_front_kg + w.hitched_rear_kg - w.alone_front_kg - w.alone_rear_kg
    if w.trailer_axles_kg <= 0:
        raise ValueError("The trailer's axles were not on the bridge; weigh them hitched as well.")
    if tongue < -3 * 2 * s:
        raise ValueError(f"Hitched, the vehicle weighs {-tongue:.0f} kg less than alone: the trailer lifts it. Weigh again, or load the trailer farther forward.")
    return Weighed(tongue, 2 * s, tongue + w.trailer_axles_kg, math.sqrt(5) * s)
