"""Plates and tube walls: block shear, Whitmore width, side walls under a branch, concentrated thrust on a
wall.

Sources: AISC 360-22 J4.3, J10.2, K2.3/K4; Manual part 9 (Whitmore); T. J. Jaramillo, Deflections and moments
due to a concentrated load on a cantilever plate of infinite length, J. Appl. Mech. 17 (1950).
"""

from __future__ import annotations

import math

from urial.stock.catalogue import Material


def block_shear(
    fy: float, fu: float, thickness: float, gross_shear: float, net_shear: float, net_tension: float
) -> float:
    """J4-5: 0.60 Fu Anv + Fu Ant ≤ 0.60 Fy Agv + Fu Ant, N; lengths in mm (Ω 2.00)."""
    pull = fu * net_tension * thickness
    return min(0.60 * fu * net_shear * thickness, 0.60 * fy * gross_shear * thickness) + pull


EDGE_LOAD, FAR_LOAD = 0.509, 1 / math.pi
"""Greatest bending at the held edge of an endless cantilever plate under a load of 1 N on its free edge
(Jaramillo; it does not depend on how far the plate stands out), and under one far inside it (clamped half
plane), N·mm/mm."""


def bent_width(width: float, arm: float, beyond: float) -> float:
    """The width a plate held along one edge would need, bent evenly, for the greatest bending that a force
    at a point square to it makes there, mm: ``arm`` from that edge, ``beyond`` from the free edge.

    A narrow plate is a beam; an endless one bends most in front of the force, by the two closed forms and a
    blend between them; so is what lies between narrow and endless.  Within 6 % of plate elements for plates
    1.4 to 4.5 arms wide whose free edge is 0.3 to 2 arms beyond.
    """
    if arm <= 0.0:
        return width
    near, far = 1 / EDGE_LOAD, 1 / FAR_LOAD
    endless = arm * (near + (far - near) * (1 - math.exp(-4 * max(beyond, 0.0) / (3 * arm))))
    return float((width**-2.5 + endless**-2.5) ** -0.4)


def wall_yielding(fy: float, wall: float, k: float, bearing: float, at_end: bool) -> float:
    """J10-2/J10-3 for both side walls of a tube: 2 Fy t (5k + lb), or 2.5k near an end, N (Ω 1.50)."""
    return 2 * fy * wall * ((2.5 if at_end else 5.0) * k + bearing)


def wall_crippling(steel: Material, wall: float, depth: float, bearing: float) -> float:
    """K2-10: 1.6 t² (1 + 3 lb/(H − 3t)) √(E Fy), N (Ω 2.00), inward thrust only; H the depth of the side
    walls.
    """
    return 1.6 * wall**2 * (1 + 3 * bearing / (depth - 3 * wall)) * math.sqrt(steel.E * steel.Fy)


def in_plane_moment(steel: Material, wall: float, along: float) -> float:
    """K4: side-wall yielding under a branch moment along the tube, 0.5 Fy t (Hb + 5t)², N·mm (Ω 1.50)."""
    return 0.5 * steel.Fy * wall * (along + 5 * wall) ** 2


def narrow_thrust(fy: float, t: float, eta: float, beta: float) -> float:
    """Wall of a rectangular tube under a branch narrower than it, T joint (K3-7): Fy t² (2 η/(1 − β) + 4/√(1
    − β)), N; Ω 1.50.
    """
    return fy * t**2 * (2 * eta / (1 - beta) + 4 / math.sqrt(1 - beta))


def narrow_punch(fy: float, t: float, width: float, eta: float, beta: float, effective: float) -> float:
    """Its wall sheared through round the branch (K3-8): 0.6 Fy t B (2 η + 2 βeop), N; Ω 1.58."""
    return 0.6 * fy * t * width * (2 * eta + 2 * min(effective, beta))


def narrow_in_plane(fy: float, t: float, high: float, eta: float, beta: float) -> float:
    """The same under bending along the tube (K4-6): Fy t² Hb (1/(2 η) + 2/√(1 − β) + η/(1 − β)), N·mm; Ω
    1.50.
    """
    return fy * t**2 * high * (1 / (2 * eta) + 2 / math.sqrt(1 - beta) + eta / (1 - beta))


def narrow_out_of_plane(fy: float, t: float, width: float, high: float, wide: float, beta: float) -> float:
    """And across it (K4-9): Fy t² (0.5 Hb (1 + β)/(1 − β) + √(2 B Bb (1 + β)/(1 − β))), N·mm; Ω 1.50."""
    ratio = (1 + beta) / (1 - beta)
    return fy * t**2 * (0.5 * high * ratio + math.sqrt(2 * width * wide * ratio))


def out_of_plane_moment(steel: Material, wall: float, face: float, depth: float, along: float) -> float:
    """K4: side-wall yielding or chord distortion under a moment across the tube, N·mm (Ω 1.50)."""
    walls = steel.Fy * wall * (face - wall) * (along + 5 * wall)
    distortion = 2 * steel.Fy * wall * (along * wall + math.sqrt(face * depth * wall * (face + depth)))
    return min(walls, distortion)


def longitudinal_plate(fy: float, wall: float, face: float, plate: float, edge: float) -> float:
    """A plate's edge lengthwise on a tube's face, pulled square to it: plastification, N (table K2.1, Ω
    1.50).
    """
    ratio = min(plate / face, 0.95)
    return fy * wall**2 / (1 - ratio) * (2 * edge / face + 4 * math.sqrt(1 - ratio))


def transverse_plate(fy: float, wall: float, face: float, edge: float) -> float:
    """A plate's edge across a tube's face, pulled square to it, N (Ω 1.58).

    Uneven yielding of the plate 10/(B/t) Fy t Bp (table K2.1), and for plates up to 0.85 of the face its
    plastification Fy t² (2 + 2.8 β)/√(1 − 0.9 β) (EN 1993-1-8 table 7.13).
    """
    beta = min(edge / face, 1.0)
    uneven = 10 / (face / wall) * fy * wall * edge
    return (
        min(uneven, fy * wall**2 * (2 + 2.8 * beta) / math.sqrt(1 - 0.9 * beta)) if beta <= 0.85 else uneven
    )


def round_thrust(fy: float, wall: float, beta: float, gamma: float, sine: float) -> float:
    """A round branch on a round chord: plastification by thrust, N (table K3.1, T and Y, Ω 1.67)."""
    return float(fy * wall**2 * (3.1 + 15.6 * beta**2) * gamma**0.2 / sine)


def round_in_plane(fy: float, wall: float, branch: float, beta: float, gamma: float, sine: float) -> float:
    """The same by a moment in the plane of both, N·mm (table K4.1, Ω 1.67)."""
    return 5.39 * fy * wall**2 * math.sqrt(gamma) * beta * branch / sine


def round_out_of_plane(fy: float, wall: float, branch: float, beta: float, sine: float) -> float:
    """The same by a moment out of the plane, N·mm (table K4.1, Ω 1.67)."""
    return fy * wall**2 * branch * 3.0 / (1 - 0.81 * beta) / sine
