"""Weld groups as lines: elastic vector method in three dimensions, instantaneous centre in the plane.

Sources: AISC 360-22 J2 (strengths, Ω 2.00), Blodgett *Design of Welded Structures* §7.4 (weld treated as a
line), AISC 360-22 J2.4 / Manual part 8 (load–deformation of fillets, instantaneous centre).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from urial.strength.vectors import cross

Array = NDArray[np.float64]

FILLET_THROAT = math.sqrt(0.5)


class WeldError(ValueError):
    """A weld group that cannot carry what is asked; the message says why."""


@dataclass(frozen=True)
class WeldLines:
    """Straight weld runs: ``start`` and ``stop`` (n, 3) in mm; ``weight`` (n,) their throats, where they
    differ.

    With weights the group is an area, and what a place carries is a stress; without, it is a force per
    length.
    """

    start: Array
    stop: Array
    weight: Array | None = None

    @cached_property
    def lengths(self) -> Array:
        """Length of each run (n,), mm."""
        out: Array = np.sqrt(((self.stop - self.start) ** 2).sum(axis=1))
        return out

    @cached_property
    def length(self) -> float:
        """Total length, mm."""
        return float(self.lengths.sum())

    @cached_property
    def directions(self) -> Array:
        """Unit vector along each run (n, 3)."""
        out: Array = (self.stop - self.start) / self.lengths[:, None]
        return out

    @cached_property
    def carrying(self) -> Array:
        """Length of each run times its weight (n,)."""
        out: Array = self.lengths if self.weight is None else self.lengths * self.weight
        return out

    @cached_property
    def centroid(self) -> Array:
        """Centroid of the lines (3,), mm."""
        middle = (self.start + self.stop) / 2
        out: Array = (middle * self.carrying[:, None]).sum(axis=0) / self.carrying.sum()
        return out

    @cached_property
    def second_moments(self) -> Array:
        """∫ r rᵀ ds about the centroid (3, 3), mm³."""
        run = self.stop - self.start
        arm = (self.start + self.stop) / 2 - self.centroid
        # a run's own part is L³/12 along its direction: run runᵀ L / 12
        weight = self.carrying
        out: Array = (arm * weight[:, None]).T @ arm + (run * (weight / 12)[:, None]).T @ run
        return out

    @cached_property
    def inertia(self) -> Array:
        """Inertia tensor of the lines about the centroid: tr(S)·1 − S (3, 3), mm³."""
        s = self.second_moments
        out: Array = np.trace(s) * np.eye(3) - s
        return out

    @cached_property
    def corners(self) -> Array:
        """Both ends of every run (2n, 3); the force per length is greatest at one of them."""
        return np.concatenate([self.start, self.stop])

    @cached_property
    def _twist(self) -> tuple[Array, Array | None]:
        """Moment → rotation rate; and the unit axis about which the group has no stiffness (one straight
        line).
        """
        inertia = self.inertia
        size = float(np.trace(inertia))
        if np.linalg.det(inertia) > 1e-7 * size**3:  # far from a lone line
            inverse: Array = np.linalg.inv(inertia).astype(np.float64, copy=False)
            return inverse, None
        values, vectors = np.linalg.eigh(inertia)
        weak = values < 1e-9 * max(values[-1], 1e-30)
        inverse = (vectors * np.where(weak, 0.0, 1 / np.where(weak, 1.0, values))) @ vectors.T
        return inverse, (vectors[:, 0] if weak[0] else None)

    def stiffness(self, origin: Array) -> Array:
        """Force and moment (6, 6) about a point for a unit of movement and turn, each bead a spring by its
        length and weight.

        A lone line has nothing about itself; it is given a millionth, so that groups can be set one behind
        the other."""
        w = float(self.carrying.sum())
        c = self.centroid - origin
        arm = np.array([[0, -c[2], c[1]], [c[2], 0, -c[0]], [-c[1], c[0], 0]])
        values, axes = np.linalg.eigh(self.inertia)
        turning = (axes * np.maximum(values, 1e-6 * values[-1])) @ axes.T
        out = np.zeros((6, 6))
        out[:3, :3] = w * np.eye(3)
        out[:3, 3:] = -w * arm
        out[3:, :3] = w * arm
        out[3:, 3:] = turning - w * arm @ arm
        return out

    def force_per_length(self, force: Array, moment: Array) -> Array:
        """Elastic force per length (case, corner, 3) in N/mm (with weights: stress, MPa) for forces and
        moments about the centroid (case, 3).

        f = F/L + ω × r with I ω = M.  Raises WeldError when a lone line is twisted about itself.
        """
        inverse, axis = self._twist
        if axis is not None:
            twist = np.abs(moment @ axis)
            size = np.abs(moment).max() + np.abs(force).max() * self.length
            if (twist > 1e-6 * size + 1e-9).any():
                raise WeldError(
                    "A single straight weld cannot carry a twist about its own line; weld a second side."
                )
        omega = moment @ inverse
        r = self.corners - self.centroid
        out: Array = force[:, None, :] / self.carrying.sum() + cross(omega[:, None, :], r[None, :, :])
        return out


def throat(leg: float) -> float:
    """Effective throat of an equal-leg fillet, mm (J2.2a)."""
    return FILLET_THROAT * leg


def nominal_per_length(electrode: float, effective_throat: float, direction_factor: float = 1.0) -> float:
    """Rn per mm of weld, N/mm: 0.60 FEXX × factor × throat (J2.4)."""
    return 0.60 * electrode * direction_factor * effective_throat


def base_metal_per_length(fy: float, fu: float, thickness: float) -> tuple[float, float]:
    """Base metal shear beside a weld, N/mm: yield 0.60 Fy t (Ω 1.50) and rupture 0.60 Fu t (Ω 2.00), J4.2."""
    return 0.60 * fy * thickness, 0.60 * fu * thickness


def available_per_length_asd(
    electrode: float, leg: float, base: tuple[float, float, float] | None = None
) -> float:
    """Allowable N/mm of a fillet, capped by base metal (Fy, Fu, thickness) when given."""
    available = nominal_per_length(electrode, throat(leg)) / 2.00
    if base is not None:
        yielding, rupture = base_metal_per_length(*base)
        available = min(available, yielding / 1.50, rupture / 2.00)
    return available


def minimum_leg(thinner: float) -> float:
    """Least fillet leg by the thinner part joined, mm (table J2.4)."""
    return 3.0 if thinner <= 6 else 5.0 if thinner <= 13 else 6.0 if thinner <= 19 else 8.0


def maximum_leg_at_edge(thickness: float) -> float:
    """Greatest fillet leg along an edge, mm (J2.2b)."""
    return thickness if thickness < 6 else thickness - 2


def direction_factor(theta: Array) -> Array:
    """1 + 0.5 sin^1.5 θ, θ between force and weld axis in radians (J2-5)."""
    out: Array = 1 + 0.5 * np.abs(np.sin(theta)) ** 1.5
    return out


@dataclass(frozen=True)
class InPlaneGroup:
    """A planar group cut into short pieces for the instantaneous-centre method."""

    xy: Array  # (k, 2) piece centres about the group's centroid
    along: Array  # (k, 2) unit direction of each piece's weld axis
    ds: Array  # (k,) piece lengths
    leg: float
    electrode: float
    cap: float = math.inf  # base metal, nominal N/mm at Ω 2.00 equivalent

    @cached_property
    def reach(self) -> float:
        """Largest distance from the centroid, mm; makes moments comparable to forces."""
        return float(np.hypot(*self.xy.T).max())

    def resistance(self, motion: Array) -> Array:
        """Nominal (Fx, Fy, M/reach) in N the group gives when pushed along ``motion`` (u, v, ω·reach)."""
        u, v, w = motion
        x, y = self.xy.T
        dx, dy = u - w * y / self.reach, v + w * x / self.reach
        size = np.hypot(dx, dy)
        size = np.maximum(size, 1e-9 * size.max())
        cos = np.clip(np.abs(dx * self.along[:, 0] + dy * self.along[:, 1]) / size, 0, 1)
        degrees = np.degrees(np.arccos(cos))
        at_max = 0.209 * (degrees + 2) ** -0.32 * self.leg
        ultimate = np.minimum(1.087 * (degrees + 6) ** -0.65 * self.leg, 0.17 * self.leg)
        delta = size * (ultimate / size).min()
        p = delta / at_max
        stress = 0.60 * self.electrode * direction_factor(np.radians(degrees)) * (p * (1.9 - 0.9 * p)) ** 0.3
        pull = np.minimum(stress * throat(self.leg), self.cap) * self.ds
        fx, fy = pull * dx / size, pull * dy / size
        return np.array([fx.sum(), fy.sum(), (x * fy - y * fx).sum() / self.reach])


def in_plane_group(
    lines: Array, leg: float, electrode: float, cap: float = math.inf, pieces: int = 240
) -> InPlaneGroup:
    """Cut segments (n, 4: x1 y1 x2 y2, mm) into about ``pieces`` short pieces, at least 20 a run."""
    a, b = lines[:, :2], lines[:, 2:]
    run = b - a
    length = np.hypot(*run.T)
    centroid = ((a + b) / 2 * length[:, None]).sum(axis=0) / length.sum()
    counts = np.maximum(20, np.round(pieces * length / length.sum())).astype(int)
    xy = [a[n] + (np.arange(k) + 0.5)[:, None] / k * run[n] for n, k in enumerate(counts)]
    return InPlaneGroup(
        np.concatenate(xy) - centroid,
        np.repeat(run / length[:, None], counts, axis=0),
        np.repeat(length / counts, counts),
        leg,
        electrode,
        cap,
    )


def match_direction(resistance: object, elastic_guess: Array, load: Array) -> float:
    """How many times ``load`` (Fx, Fy, M/reach) a group can carry, by the motion whose resistance is along
    it.

    ``resistance`` maps a motion (3,) to a resistance (3,). The instantaneous centre is the motion's pole:
    this form holds for every pole, at infinity (a centred force) and at the centroid (a pure moment) alike.
    """
    from scipy.optimize import root  # half the cost of a cold start, and only needed here

    give = resistance
    assert callable(give)
    size = float(np.linalg.norm(load))
    aim = load / size
    first = np.cross(aim, [0.0, 0.0, 1.0] if abs(aim[2]) < 0.9 else [1.0, 0.0, 0.0])
    first /= np.linalg.norm(first)
    second = np.cross(aim, first)
    start = elastic_guess / np.linalg.norm(elastic_guess)
    t1 = np.cross(start, first if abs(start @ first) < 0.9 else second)
    t1 /= np.linalg.norm(t1)
    t2 = np.cross(start, t1)

    def miss(q: Array) -> Array:
        r = give(start + q[0] * t1 + q[1] * t2)
        r = r / np.linalg.norm(r)
        return np.array([r @ first, r @ second])

    best: tuple[float, float] | None = None
    for q0 in (
        (0.0, 0.0),
        (0.5, 0.0),
        (-0.5, 0.0),
        (0.0, 0.5),
        (0.0, -0.5),
        (1.5, 0.0),
        (0.0, 1.5),
        (-1.5, 0.0),
        (0.0, -1.5),
    ):
        found = root(miss, np.array(q0), method="hybr", tol=1e-10)
        r = give(start + found.x[0] * t1 + found.x[1] * t2)
        error = float(np.abs(miss(found.x)).max())
        along = float(r @ aim)
        if along > 0 and (best is None or error < best[0]):
            best = (error, along / size)
        if best is not None and best[0] < 1e-6:
            break
    if best is None or best[0] > 1e-3:
        raise WeldError("No turning point balances this load; check the group's shape.")
    return best[1]


def instantaneous_centre_capacity(group: InPlaneGroup, force: tuple[float, float], moment: float) -> float:
    """Nominal strength over demand for an in-plane force (N) and moment about the centroid (N·mm)."""
    load = np.array([force[0], force[1], moment / group.reach])
    polar = float((group.ds * (group.xy**2).sum(axis=1)).sum())
    total = float(group.ds.sum())
    guess = np.array([force[0] / total, force[1] / total, moment * group.reach / polar])
    return match_direction(group.resistance, guess, load)
