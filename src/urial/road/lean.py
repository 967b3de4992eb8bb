"""A hitch on two wheels: the plain mechanics of mass ratio, height and rolling moment.  No verdict, no
speed.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from urial.job.host import TwoWheeler
from urial.units import STANDARD_GRAVITY

SIDE_G = 0.3
"""Sideways share of the load at the hitch that is looked at, in g; house figure."""


@dataclass(frozen=True)
class Lean:
    """``mass_ratio`` trailer over machine; ``moment_Nmm`` about the ground of a side force at the hitch;
    ``lean_deg`` how far the machine would have to lean to balance it; ``steer_percent`` what the tongue
    takes off the front wheel."""

    mass_ratio: float
    moment_Nmm: float
    lean_deg: float
    steer_percent: float


def lean(
    host: TwoWheeler, hitch_height_mm: float, hitch_behind_mm: float, tongue_kg: float, trailer_kg: float
) -> Lean:
    """Side force SIDE_G × the tongue's mass at the hitch, against the machine's weight at about seat height
    × 0.7.

    Moment F·h about the ground; the lean that balances it is asin(F·h / ((m·h_cg + tongue·h)·g)); the front
    wheel loses tongue × behind / wheelbase.
    """
    machine = host.standing()
    moment = SIDE_G * tongue_kg * STANDARD_GRAVITY * hitch_height_mm
    righting = STANDARD_GRAVITY * (machine * 0.7 * host.seat_mm + tongue_kg * hitch_height_mm)
    return Lean(
        trailer_kg / machine,
        moment,
        math.degrees(math.asin(min(moment / righting, 1.0))),
        100 * tongue_kg * hitch_behind_mm / host.wheelbase_mm / host.front_kg,
    )
