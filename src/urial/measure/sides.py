"""Left against right: the second side is not the mirror of the first."""

from __future__ import annotations

import math
from dataclasses import dataclass

from urial.job.host import Host

SAME = 0.5  # mm below which two sides are called alike


@dataclass(frozen=True)
class Difference:
    """One pair of holes: right minus left, mm."""

    number: int
    behind: float
    across: float
    height: float

    @property
    def size(self) -> float:
        """The larger of what a slot would have to take."""
        return max(abs(self.behind), abs(self.height))


@dataclass(frozen=True)
class Sides:
    """``rows`` the pairs; ``skew_deg`` how far a mirrored pair of plates would turn the part (positive: it
    points left); ``slot_mm`` what short slots in a mirrored pair can take; ``count`` holes left and right."""

    rows: tuple[Difference, ...]
    skew_deg: float
    slot_mm: float
    count: tuple[int, int]

    @property
    def worst(self) -> float:
        """Largest difference, mm."""
        return max((max(r.size, abs(r.across)) for r in self.rows), default=0.0)

    @property
    def alike(self) -> bool:
        """Do the sides mirror each other?"""
        return self.count[0] == self.count[1] and self.worst < SAME

    @property
    def beyond_slots(self) -> bool:
        """More than slots in a mirrored pair can take."""
        return self.count[0] != self.count[1] or any(r.size > self.slot_mm for r in self.rows)


def slot_play(hole_mm: float) -> float:
    """How far a bolt that fills a hole moves in a short slot, mm (EN 1090-2:2018 table 11: 4 mm to M14, 6 to
    M22, 8 at M24, 10 above)."""
    return 4.0 if hole_mm < 17 else 6.0 if hole_mm < 25 else 8.0 if hole_mm < 28 else 10.0


def compare(host: Host) -> Sides:
    """Differences of the holes the part bolts to."""
    left, right = ([h for h in side if h.bolted] for side in (host.left, host.right))
    rows = []
    for n, (a, b) in enumerate(zip(left, right, strict=False), 1):
        rows.append(
            Difference(
                n,
                b.behind_mm - a.behind_mm,
                -host.across("right", b) - host.across("left", a),
                b.height_mm - a.height_mm,
            )
        )
    spread = [host.across("left", a) - host.across("right", b) for a, b in zip(left, right, strict=False)]
    mean, wide = sum(r.behind for r in rows) / max(len(rows), 1), sum(spread) / max(len(spread), 1)
    skew = math.degrees(math.atan2(mean, wide)) if wide > 1 else 0.0
    hole = min((h.hole_mm for h in (*left, *right)), default=14.0)
    return Sides(tuple(rows), skew, slot_play(hole), (len(left), len(right)))
