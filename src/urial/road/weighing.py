"""Tongue weight and trailer mass from what a scale reads, with their uncertainty."""

from __future__ import annotations

import math
from dataclasses import dataclass

from urial.job.duty import Weighing

LENGTH_SIGMA = 2.0  # mm; a lever measured by tape


class NotWeighed(ValueError):
    """A reading is still missing; the message says which."""


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
    s = w.sigma_kg
    if w.method == "bridge":
        return _bridge(w)
    r = _read(w, "reading_kg")
    if w.method == "jack":
        return _jack(r, s, _read(w, "jack_behind_mm"), _read(w, "axle_mm"))
    return _beam(r, s, _read(w, "coupler_mm"), _read(w, "scale_mm"))


def _read(w: Weighing, name: str) -> float:
    """A reading; ValueError while it is missing."""
    value: float | None = getattr(w, name)
    if value is None:
        raise NotWeighed(f"Not weighed yet: “{Weighing.model_fields[name].title}” is still to be filled in.")
    return value


def _jack(r: float, s: float, jack: float, axle: float) -> Weighed:
    if jack >= axle:
        raise ValueError(
            "The jack is behind the trailer's axles, where it lifts no tongue; measure both from the "
            "coupling again."
        )
    arm = (axle - jack) / axle
    lever = r * LENGTH_SIGMA * math.hypot(1, jack / axle) / axle if jack else 0.0
    return Weighed(r * arm, math.hypot(s * arm, lever))


def _beam(r: float, s: float, coupler: float, scale: float) -> Weighed:
    if coupler > scale:
        raise ValueError("The coupler stands beyond the scale; put it between the two supports.")
    ratio = scale / coupler
    lever = r * ratio * math.hypot(LENGTH_SIGMA / scale, LENGTH_SIGMA / coupler)
    return Weighed(r * ratio, math.hypot(s * ratio, lever))


def _bridge(w: Weighing) -> Weighed:
    s = w.sigma_kg
    tongue = (
        _read(w, "hitched_front_kg")
        + _read(w, "hitched_rear_kg")
        - _read(w, "alone_front_kg")
        - _read(w, "alone_rear_kg")
    )
    axles = _read(w, "trailer_axles_kg")
    if axles <= 0:
        raise ValueError("The trailer's axles were not on the bridge; weigh them hitched as well.")
    if tongue < -3 * 2 * s:
        raise ValueError(
            f"Hitched, the vehicle weighs {-tongue:.0f} kg less than alone: the trailer lifts it. "
            "Weigh again, or load the trailer farther forward."
        )
    return Weighed(tongue, 2 * s, tongue + axles, math.sqrt(5) * s)
