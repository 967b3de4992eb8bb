"""Endurance: the strength curves of EN 1993-1-9 for ranges of nominal stress, and Miner's sum.

A detail category Δσc is the range it bears 2·10⁶ times (95 % survival).  The curve falls with slope 3 to
5·10⁶ cycles, then with slope 5 to 10⁸, below which a range does no damage (7.1, figure 7.1; A.5 for the sum).
"""

from __future__ import annotations

import math
from collections.abc import Iterable

CATEGORY = 2.0e6
KNEE = 5.0e6
CUT_OFF = 1.0e8


def knee(category: float) -> float:
    """Δσ_D, the range borne 5·10⁶ times, MPa (7.1(2))."""
    return category * math.pow(CATEGORY / KNEE, 1 / 3)


def cut_off(category: float) -> float:
    """Δσ_L, the range below which there is no damage, MPa (7.1(3))."""
    return knee(category) * math.pow(KNEE / CUT_OFF, 1 / 5)


def cycles(stress_range: float, category: float) -> float:
    """How often a detail bears a range, MPa both; inf below the cut-off."""
    if stress_range < cut_off(category) * (1 - 1e-12):
        return math.inf
    at_knee = knee(category)
    slope = 3 if stress_range >= at_knee else 5
    return KNEE * math.pow(at_knee / stress_range, slope)


def damage(ranges: Iterable[tuple[float, float]], category: float, gamma: float = 1.0) -> float:
    """Miner's sum Σ n/N over (range MPa, cycles), the category divided by the partial factor ``gamma``."""
    reduced = category / gamma
    return sum(n / cycles(r, reduced) for r, n in ranges)
