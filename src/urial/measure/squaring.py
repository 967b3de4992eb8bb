"""What a squaring reference is worth: how crooked it may be, and what that makes at the ball."""

from __future__ import annotations

import math
from dataclasses import dataclass

from urial.job.host import Host, Trailer, Vehicle, Wheeled


@dataclass(frozen=True)
class Reference:
    """A thing right angles are taken from. ``degrees`` is how far it may be off, ``reason`` why,
    ``reach_mm`` how far off that puts a place at the host's rearmost face."""

    id: str
    name: str
    degrees: float
    reason: str
    at_rear_mm: float


def _angle(miss_mm: float, over_mm: float) -> float:
    return math.degrees(math.atan2(miss_mm, over_mm))


def references(host: Host) -> tuple[Reference, ...]:
    """Each reference's worth on this host, best first. House figures for the misses (no published value
    known): hub centre 2 mm, disc run-out 0.1 mm with hub play 0.1°, pressed rail 3 mm over its length, rim
    run-out 1.5 mm with toe 0.25°, bumper 8 mm."""
    track = float(getattr(host, "track_mm", 600.0))
    tyre = float(getattr(host, "tyre_mm", 600.0))
    if isinstance(host, Vehicle):
        rail = host.rail_end_mm + host.tyre_mm / 2
    elif isinstance(host, Trailer):
        rail = host.bed_length_mm
    else:
        rail = float(getattr(host, "wheelbase_mm", 800.0)) / 2
    reach = (
        host.rear_overhang_mm if isinstance(host, Wheeled) else float(getattr(host, "bed_behind_mm", 1000.0))
    )
    rows = (
        (
            "axle",
            "axle, hub to hub",
            _angle(2.0, track),
            f"each hub's middle is found to about 2 mm, over a track of {track:.0f} mm",
        ),
        (
            "disc",
            "brake disc",
            math.hypot(_angle(0.1, 0.4 * tyre), 0.1),
            "a turned face with 0.1 mm of run-out, and 0.1° of play in the hub",
        ),
        (
            "rail",
            "frame rail",
            _angle(3.0, max(rail, 300.0)),
            f"a pressed rail wanders by 3 mm over {max(rail, 300.0):.0f} mm",
        ),
        (
            "wheel",
            "wheel plane",
            math.hypot(_angle(1.5, 0.6 * tyre), 0.25),
            "1.5 mm of run-out at the rim, and a quarter of a degree of toe",
        ),
        (
            "bumper",
            "bumper",
            _angle(8.0, max(track, 400.0)),
            "a bumper is hung to look straight; 8 mm out is usual",
        ),
    )
    out = [Reference(i, name, deg, why, reach * math.tan(math.radians(deg))) for i, name, deg, why in rows]
    return tuple(sorted(out, key=lambda r: r.degrees))


def worth(host: Host, chosen: str) -> Reference:
    """The worth of one reference."""
    return next(r for r in references(host) if r.id == chosen)
