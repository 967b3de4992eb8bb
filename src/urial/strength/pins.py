"""Pins in double shear and the plates they pass through; the bar in its receiver.

Sources: AISC 360-22 J3 (shear), F1 (bending, Ω 1.67), J7 (bearing 1.8 Fy A, Ω 2.00), D5 (pin-connected
plates); EN 1993-1-8 table 3.10 (bending with shear); pin moment M = P/2·(to/2 + gap + ti/4) as in Melcon and
Hoblit's lug method.
"""

from __future__ import annotations

import math


def shear_stress(load: float, diameter: float) -> float:
    """Mean shear in each of the two planes, MPa."""
    return load / (2 * math.pi * diameter**2 / 4)


def nominal_shear_stress(fu: float) -> float:
    """0.563 Fu, MPa: no threads in the planes."""
    return 0.563 * fu


def bending_moment(load: float, outer: float, inner: float, gap: float) -> float:
    """Greatest moment in the pin, N·mm."""
    return load / 2 * (outer / 2 + gap + inner / 4)


FOUNDATION = 0.3
"""Stiffness of a close hole under a pin, over E of the pin: N/mm for each mm of length and of sinking, E
times this.  House value between a line contact's 0.5 and a loose fit.
"""


def elastic_moment(load: float, outer: float, inner: float, gap: float, diameter: float) -> float:
    """Greatest moment while nothing yields, N·mm: a pin through a thick inner part bears mostly near its two
    faces, as a long beam on an elastic bed does (Hetényi, *Beams on Elastic Foundation*, 1946, semi-infinite
    beam under end shear and end moment); never more than with even bearing.
    """
    inertia = math.pi * diameter**4 / 64
    decay = math.pow(FOUNDATION / (4 * inertia), 0.25)  # λ = (k / 4EI)^¼, 1/mm
    shear, end = load / 2, load / 2 * (outer / 2 + gap)
    # M(t) = e^-t (M0 (cos t + sin t) + V/λ sin t), t = λx: greatest where its slope is nothing
    t = math.atan2(shear / decay, 2 * end + shear / decay)
    most = math.exp(-t) * (end * (math.cos(t) + math.sin(t)) + shear / decay * math.sin(t))
    return min(most, bending_moment(load, outer, inner, gap))


def elastic_modulus(diameter: float) -> float:
    """πd³/32, mm³."""
    return math.pi * diameter**3 / 32


def plastic_moment(fy: float, diameter: float) -> float:
    """F11-1: Fy Z of a round, no more than 1.6 Fy S, N·mm (Ω 1.67)."""
    return min(fy * diameter**3 / 6, 1.6 * fy * elastic_modulus(diameter))


def together(shear: float, bending: float) -> float:
    """The load a pin bears in bending and shear together where it would bear each alone, N:
    (M/MR)² + (V/VR)² ≤ 1 (EN 1993-1-8 table 3.10, pins).
    """
    return 1.0 / math.hypot(1.0 / shear, 1.0 / bending)


def bearing(fy: float, diameter: float, thickness: float) -> float:
    """Nominal bearing 1.8 Fy d t, N (J7-1); Fy the lesser of pin and plate."""
    return 1.8 * fy * diameter * thickness


CLOSE = 1.0
"""A hole no more than so much larger than its pin is within D5.2, mm."""


def looseness(pin: float, hole: float) -> float:
    """What is left of a pin-plate's strength where the hole is looser than D5.2 has it: Cr of ASME BTH-1,
    3-3.3.1, 1 − 0.275 √(1 − Dp²/Dh²); 1 where it is close, a step of some per cent at that millimetre.
    """
    if hole <= pin + CLOSE:
        return 1.0
    return 1 - 0.275 * math.sqrt(1 - (pin / hole) ** 2)


def plate_rupture(fu: float, thickness: float, edge_across: float) -> float:
    """D5-1: 2 t be Fu with be = 2t + 16 mm, no more than the metal at the side of the hole, N (Ω 2.00)."""
    return 2 * thickness * min(2 * thickness + 16, edge_across) * fu


def plate_shear(fu: float, thickness: float, end_distance: float, diameter: float) -> float:
    """D5-2: 0.60 Fu · 2 t (a + d/2), N (Ω 2.00); ``end_distance`` from the hole's edge to the plate's end."""
    return 0.60 * fu * 2 * thickness * (end_distance + diameter / 2)
