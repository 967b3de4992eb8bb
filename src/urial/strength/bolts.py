"""Bolts: strengths of one bolt, groups in the plane (elastic and instantaneous centre), tension, prying,
preload.

Sources: AISC 360-22 J3 (Ω 2.00, slip Ω 1.50), Manual parts 7 (groups, Crawford and Kulak curve) and 9
(prying).
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from urial.assembly.model import Bolts, Clamp
from urial.strength.welds import match_direction

Array = NDArray[np.float64]

CURVE_RATE = 0.394  # per mm (10 per inch)
CURVE_POWER = 0.55
CURVE_LIMIT = 8.64  # mm at the farthest bolt


class BoltError(ValueError):
    """A bolt group that cannot carry what is asked; the message says why."""


def nominal_shear_stress(fu: float, threads_in_plane: bool) -> float:
    """Fnv, MPa: 0.45 Fu with threads in the shear plane, 0.563 Fu without (table J3.2)."""
    return (0.45 if threads_in_plane else 0.563) * fu


def nominal_tension_stress(fu: float) -> float:
    """Fnt, MPa: 0.75 Fu on the nominal area (table J3.2)."""
    return 0.75 * fu


def bearing(diameter: float, thickness: float, fu: float) -> float:
    """Nominal bearing on the wall of one hole, N: 2.4 d t Fu (J3-6a)."""
    return 2.4 * diameter * thickness * fu


DU = 1.0
"""Mean over least pretension: 1.0 for bolts set by torque, as here (J3.9 has 1.13 for those set by turn)."""


def slip(preload: float, mu: float = 0.30, filler: float = 1.0) -> float:
    """Nominal slip resistance of one bolt, one face, N: μ Du hf Tb (J3-4)."""
    return mu * DU * filler * preload


def held_by_friction(how: Bolts) -> float:
    """Nominal slip resistance of each bolt at the torque of the list, N; timber creeps and holds none."""
    return slip(tightened(how))


TAPPED = 2.0
"""A bolt in a tapped hole is tightened to no more than this part of what would strip the thread: AISC's Ω of
such a rupture."""


def tightened(how: Bolts | Clamp) -> float:
    """Tension each bolt is tightened to, N: what its clamp is drawn to, else 75 % of proof, but in a tapped
    hole no more than its thread stands with a reserve of 2; 0 through timber, which gives under any of it.
    """
    if isinstance(how, Clamp) and how.preload:
        return how.preload
    metal = how.metal if isinstance(how, Bolts) else ()
    if any(m.material.kind == "timber" for m in metal):
        return 0.0
    d = how.bolt.diameter
    full = preload(how.grade.of(d).proof, how.bolt.stress_area)
    return min([full, *(thread_strip(d, m.t, m.material.Fu) / TAPPED for m in metal if m.tapped)])


def slipping(shear: Array, nominal: float) -> Array:
    """How much of a range of shear a bolt feels, 0 to 1: nothing below what friction is sure to hold
    (nominal / 1.50), all from the nominal slip resistance on, straight between, so that no bolt is suddenly
    far worse off by a newton.  ``nominal`` 0: all.
    """
    sure = nominal / 1.50
    out: Array = np.clip((shear - sure) / max(nominal - sure, 1e-9), 0.0, 1.0)
    return out


def thread_strip(diameter: float, engaged: float, fu: float) -> float:
    """Nominal pull at which a tapped hole's thread shears off, N: 0.60 Fu on half of π d over the length
    engaged, since the bolt's crests leave about half of the root cylinder (FED-STD-H28's area for coarse
    threads, on the safe side).
    """
    return 0.60 * fu * 0.5 * math.pi * diameter * engaged


def pulled_through(fy: float, t: float) -> float:
    """Nominal pull of one bolt that a wall ``t`` mm thick bears in bending, N: a fan of yield lines held at
    its rim, 4 π m with m = Fy t²/4 (Johansen); its edges are taken as far as the fan.
    """
    return math.pi * fy * t**2


def preload(proof: float, stress_area: float) -> float:
    """Tension at 75 % of proof, N."""
    return 0.75 * proof * stress_area


DRY, OILED = 0.20, 0.15
"""K of a thread as it comes and of an oiled one."""


def torque(diameter: float, tension: float, k: float = DRY) -> float:
    """Tightening torque K d F, N·mm (``DRY`` or ``OILED``)."""
    return k * diameter * tension


def minimum_edge_distance(diameter: float) -> float:
    """Least distance hole centre to edge, mm (table J3.4M: about 1.25 d; steps of the table for M16 and
    larger).
    """
    table = {16: 22, 20: 26, 22: 28, 24: 30, 27: 34, 30: 38, 36: 46}
    for size, distance in table.items():
        if abs(diameter - size) < 0.2:
            return float(distance)
    return 1.375 * diameter if diameter <= 16 else 1.25 * diameter + 2


def elastic_shears(xy: Array, force: Array, moment: Array) -> Array:
    """Shear on each bolt (case, bolt, 2), N, for forces (case, 2) and moments about the centroid (case,)."""
    arms = xy - xy.mean(axis=0)
    polar = float((arms**2).sum())
    direct = force[:, None, :] / len(xy)
    if polar < 1e-9:
        if np.abs(moment).max(initial=0.0) > 1e-6 * (np.abs(force).max(initial=0.0) + 1e-9) * 1.0 + 1e-6:
            raise BoltError("A single bolt cannot stop a part from turning about it; add a second bolt.")
        return np.broadcast_to(direct, (len(force), len(xy), 2)).copy()
    turn = np.stack([-arms[:, 1], arms[:, 0]], axis=1) / polar
    out: Array = direct + moment[:, None, None] * turn[None]
    return out


def group_coefficient(xy: Array, force: tuple[float, float], moment: float) -> float:
    """C: the group's strength along the given load over one bolt's, by the instantaneous centre (Manual part
    7).

    ``xy`` (n, 2) mm, ``moment`` about the centroid. A centred force gives n. Units cancel: one bolt's is
    Rult.
    """
    n = len(xy)
    size = math.hypot(*force)
    arms = xy - xy.mean(axis=0)
    reach = float(np.hypot(*arms.T).max())
    if abs(moment) <= 1e-9 * size * max(reach, 1.0):
        return float(n)
    if reach < 1e-9:
        raise BoltError("A single bolt cannot stop a part from turning about it; add a second bolt.")
    if size == 0:
        raise BoltError("A pure moment has no force to compare with one bolt's strength; give a force.")
    x, y = arms.T

    def resistance(motion: Array) -> Array:
        u, v, w = motion
        dx, dy = u - w * y / reach, v + w * x / reach
        far = np.hypot(dx, dy)
        far = np.maximum(far, 1e-12 * far.max())
        pull = (1 - np.exp(-CURVE_RATE * CURVE_LIMIT * far / far.max())) ** CURVE_POWER
        fx, fy = pull * dx / far, pull * dy / far
        return np.array([fx.sum(), fy.sum(), (x * fy - y * fx).sum() / reach])

    load = np.array([force[0], force[1], moment / reach])
    guess = np.array([force[0] / n, force[1] / n, moment * reach / float((arms**2).sum())])
    return match_direction(resistance, guess, load) * size


def tensions_about_edge(levers: Array, moment: Array, lever_low: float, lever_high: float) -> Array:
    """Bolt tensions (case, bolt) from an out-of-plane moment, turning about the plate's bearing edge, N.

    ``levers`` (bolt,) are positions across the turning axis from the bolts' centroid; a positive moment
    lifts the high side and bears at ``lever_low`` below, a negative one bears at ``lever_high`` above (both
    distances > 0).
    """
    from_low, from_high = levers + lever_low, lever_high - levers
    up = np.clip(moment, 0, None)[:, None] * from_low / float((from_low**2).sum())
    down = np.clip(-moment, 0, None)[:, None] * from_high / float((from_high**2).sum())
    out: Array = up + down
    return out


@dataclass(frozen=True)
class Prying:
    """Tee-stub geometry of one bolt, mm: to the tee face, to the edge, tributary length, hole, bolt."""

    b: float
    a: float
    pitch: float
    hole: float
    diameter: float

    @property
    def arms(self) -> tuple[float, float, float]:
        """b′ and a′, mm, and δ, the share of the plate's length left by the hole."""
        inner = max(self.b - self.diameter / 2, 1e-6)
        outer = min(self.a, 1.25 * self.b) + self.diameter / 2
        return inner, outer, 1 - self.hole / self.pitch

    @property
    def most(self) -> float:
        """The most a bolt is pulled for a pull on it of 1, whatever the plate: bent both ways along its whole
        length, α = 1, so that Q = ρ δ / (1 + δ).
        """
        inner, outer, delta = self.arms
        return 1.0 + inner / outer * delta / (1.0 + delta)

    def factor(self, available_tension: float, thickness: float, fu: float, omega: float = 1.67) -> float:
        """Q ≤ 1: the share of a bolt's available tension left after prying (Manual part 9)."""
        b1, a1, delta = self.arms
        rho = b1 / a1
        needed = math.sqrt(omega * 4 * available_tension * b1 / (self.pitch * fu))
        alpha = ((needed / thickness) ** 2 - 1) / (delta * (1 + rho))
        if alpha <= 0:
            return 1.0
        return (thickness / needed) ** 2 * (1 + delta * min(alpha, 1.0))
