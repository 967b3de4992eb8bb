"""The end of a round branch that fits a round main: how deep it is cut round its outside."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from urial.words import Complaint

Method = Literal["hole_saw", "wrap"]
THROUGH_WALL = 9
"""So many radii from the inside to the outside are looked at where the whole wall is ground to fit."""


class NoCope(Complaint):
    """The branch cannot be fitted so."""


@dataclass(frozen=True)
class Meeting:
    """A branch on a main: outside radii and the branch's wall (mm), the angle between their axes (degrees),
    how far the branch's axis passes the main's (mm).
    """

    branch: float
    wall: float
    main: float
    angle: float
    offset: float = 0.0


def depths(meeting: Meeting, points: int, method: Method) -> list[tuple[float, float]]:
    """Places round the branch's outside and how deep it is cut there, mm, from the shallowest.

    s(φ) = (√(R² − (r sin φ + e)²) + r cos φ cos θ)/sin θ, φ right-handed looking away from the main, 0 on
    the side where cos φ cos θ counts, positive sines on the side the branch is offset to.  A hole saw leaves
    the cylinder of the main through the whole wall; wrapped and ground, the greatest over the wall counts.
    Raises NoCope where the branch passes beside the main.
    """
    m = meeting
    if m.branch + abs(m.offset) > m.main + 1e-9:
        raise NoCope(
            f"The branch, {2 * m.branch:.4g} mm wide and {abs(m.offset):.4g} mm off, is not covered by the "
            f"main, {2 * m.main:.4g} mm: take a smaller branch or less offset."
        )
    theta = math.radians(m.angle)
    radii = [m.branch]
    if method == "wrap":
        inside = max(m.branch - m.wall, 0.0)
        radii = [inside + (m.branch - inside) * k / (THROUGH_WALL - 1) for k in range(THROUGH_WALL)]

    def s(phi: float, r: float) -> float:
        across = max(m.main**2 - (r * math.sin(phi) + m.offset) ** 2, 0.0)
        return (math.sqrt(across) + r * math.cos(phi) * math.cos(theta)) / math.sin(theta)

    turns = [2 * math.pi * k / points for k in range(points)]
    deep = [max(s(phi, r) for r in radii) for phi in turns]
    least = min(deep)
    return [(m.branch * phi, d - least) for phi, d in zip(turns, deep, strict=True)]


BRIDGED = 1.6
"""A bead bridges so wide a gap as it is, mm (AWS D1.1:2020 7.21.1)."""


def two_cuts(half: float, main: float) -> tuple[float, float]:
    """Two straight saw cuts that meet on a bar's middle line instead of a cope: how far each is tilted from
    square (degrees) and the widest gap they leave, mm.

    Square on the main, axes meeting.  Each cut touches the main once; its gap on the middle line,
    R/cos β − R, is made that at the bar's side, R/cos β − r tan β − √(R² − r²): tan β = (R − √(R² − r²))/r.

    Args: half of what the bar is wide across the main, and the main's outside radius, mm.  NoCope where the
    bar is wider than the main.
    """
    if half > main + 1e-9:
        raise NoCope(f"A bar {2 * half:.4g} mm wide reaches past a main of {2 * main:.4g} mm: cope it.")
    beta = math.atan((main - math.sqrt(max(main**2 - half**2, 0.0))) / half)
    return math.degrees(beta), main / math.cos(beta) - main


__all__ = ["BRIDGED", "Meeting", "Method", "NoCope", "depths", "two_cuts"]
