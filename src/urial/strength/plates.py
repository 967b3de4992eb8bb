"""Plates and tube walls: block shear, Whitmore width, side walls under a branch, concentrated thrust on a wall.

Sources: AISC 360-22 J4.3, J10.2, K2.3/K4; Manual part 9 (Whitmore).
"""

from __future__ import annotations

import math

from urial.stock.catalogue import Material
from urial.stock.sections import Section


def block_shear(fy: float, fu: float, thickness: float, gross_shear: float, net_shear: float, net_tension: float) -> float:
    """J4-5: 0.60 Fu Anv + Fu Ant ≤ 0.60 Fy Agv + Fu Ant, N; lengths in mm (Ω 2.00)."""
    pull = fu * net_tension * thickness
    return min(0.60 * fu * net_shear * thickness, 0.60 * fy * gross_shear * thickness) + pull


def whitmore_width(start: float, length: float) -> float:
    """Width a force has spread to at 30° either side over ``length``, mm."""
    return start + 2 * length * math.tan(math.radians(30))


def wall_yielding(fy: float, wall: float, k: float, bearing: float, at_end: bool) -> float:
    """J10-2/J10-3 for both side walls of a tube: 2 Fy t (5k + lb), or 2.5k near an end, N (Ω 1.50)."""
    return 2 * fy * wall * ((2.5 if at_end else 5.0) * k + bearing)


def wall_crippling(steel: Material, chord: Section, bearing: float) -> float:
    """K2-10: 1.6 t² (1 + 3 lb/(H − 3t)) √(E Fy), N (Ω 2.00), inward thrust only."""
    t = chord.wall
    return 1.6 * t**2 * (1 + 3 * bearing / (chord.height - 3 * t)) * math.sqrt(steel.E * steel.Fy)


def in_plane_moment(steel: Material, chord: Section, along: float) -> float:
    """K4: side-wall yielding under a branch moment along the tube, 0.5 Fy t (Hb + 5t)², N·mm (Ω 1.50)."""
    return 0.5 * steel.Fy * chord.wall * (along + 5 * chord.wall) ** 2


def out_of_plane_moment(steel: Material, chord: Section, along: float) -> float:
    """K4: side-wall yielding or chord distortion under a moment across the tube, N·mm (Ω 1.50)."""
    t, b, h = chord.wall, chord.width, chord.height
    walls = steel.Fy * t * (b - t) * (along + 5 * t)
    distortion = 2 * steel.Fy * t * (along * t + math.sqrt(b * h * t * (b + h)))
    return min(walls, distortion)
