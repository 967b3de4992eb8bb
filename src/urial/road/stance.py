"""The hitched vehicle on its wheels: axles, squat, level, ground under what hangs lowest."""

from __future__ import annotations

import math
from dataclasses import dataclass

from urial.assembly import bodies
from urial.assembly.model import Assembly
from urial.job.host import Vehicle
from urial.job.model import Job
from urial.road import balance


@dataclass(frozen=True)
class Stance:
    """Masses in kg, heights in mm, angles in degrees. ``drop_change_mm`` is what the ball must come down
    (positive) to be level with the coupler; ``ball_empty_mm`` and ``ball_loaded_mm`` its height range."""

    front_kg: float
    rear_kg: float
    front_change_percent: float
    squat_mm: float
    ball_empty_mm: float
    ball_loaded_mm: float
    drop_change_mm: float
    departure_deg: float
    breakover_deg: float
    under_chain_mm: float
    under_jack_mm: float


def stance(job: Job, assembly: Assembly, hung: list[tuple[float, float]]) -> Stance:
    """How the vehicle stands with the trailer's tongue weight and the ``hung`` masses (kg, mm behind the
    rear axle).

    The rear sinks by the stated squat for each 100 kg at the ball; what hangs elsewhere counts by its lever
    about the front axle. Departure and breakover by the lowest corner of the part and by the trailer's jack.
    """
    host, d = job.vehicle, job.duty
    assert isinstance(host, Vehicle)
    ball = assembly.places.get("ball") or assembly.places["mouth"]
    overhang = -ball[0]
    tongue = d.tongue_mass_kg if d.towed else 0.0
    total = tongue + sum(kg for kg, _ in hung)
    moment = tongue * overhang + sum(kg * x for kg, x in hung)
    axles = balance.axle_loads(
        host.wheelbase_mm, moment / total if total else 0.0, host.front_kg, host.rear_kg, total
    )
    at_ball = sum(kg * (host.wheelbase_mm + x) for kg, x in [(tongue, overhang), *hung]) / (
        host.wheelbase_mm + overhang
    )
    squat = host.squat_mm_per_100kg * at_ball / 100
    r = host.tyre_mm / 2

    def rise(x: float, z: float) -> float:
        """Angle of the ground line, tangent to the rear tyre, that just passes under a point; z already
        loaded.
        """
        behind, over = -x, z - r
        return math.degrees(
            math.atan2(over, behind) + math.asin(min(r / max(math.hypot(behind, over), r), 1.0))
        )

    low = [bodies.corners(p)[0] for p in assembly.parts]
    lowest_corners = [(c[0], c[2] - squat) for c in low]
    departure = min((rise(x, z) for x, z in lowest_corners if x < -r), default=90.0)
    chains = [bodies.corners(p)[0][2] for p in assembly.parts if p.family.endswith("/chain plate")]
    under_chain = min(chains or [c[2] for c in low], default=ball[2]) - squat
    ball_loaded = ball[2] - squat
    # a crest between the rear axle and the trailer's axle touches what hangs lowest there
    lowest = min(under_chain, job.running.jack_foot_mm)
    breakover = math.degrees(math.atan2(lowest, overhang) + math.atan2(lowest, d.axle_behind_mm))
    return Stance(
        axles.front_kg,
        axles.rear_kg,
        axles.front_change_percent,
        squat,
        ball[2],
        ball_loaded,
        ball_loaded - d.coupler_height_mm,
        departure,
        breakover,
        under_chain,
        job.running.jack_foot_mm,
    )
