"""Sway of a car and trailer: the linear single-track model, its damping against speed, and its answer to a
steering jerk.

States v (sideways speed of the vehicle's centre of mass, m/s), r (its yaw rate, rad/s), φ (trailer's angle
to the vehicle, rad), φ̇. The equations, with Y the hitch force and u the speed:

    m(v̇+ur) + mt(v̇+ur − hṙ − l1(ṙ+φ̈)) = F1+F2+F3
    Iz ṙ = a F1 − b F2 − h Y,   Y = F3 − mt(v̇+ur − hṙ − l1(ṙ+φ̈))
    It(ṙ+φ̈) = −l1 Y − (l−l1) F3
    F1 = −C1((v+ar)/u − δ),  F2 = −C2(v−br)/u,  F3 = −C3((v − hr − l(r+φ̇))/u − φ)
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import scipy.linalg
from numpy.typing import NDArray

from urial.job.duty import Deck
from urial.job.host import Vehicle
from urial.job.model import Job
from urial.road import deck as decks

Array = NDArray[np.float64]
KMH = 1 / 3.6
SLOWEST, FASTEST = 5.0, 200.0  # km/h that speeds are sought in


@dataclass(frozen=True)
class Rig:
    """Vehicle: mass (kg), yaw inertia (kg·m²), a and b (centre of mass to front and rear axle, m), hitch
    (centre of mass to ball, m), axle cornering stiffnesses C1, C2 (N/rad). Trailer: mass, inertia, l1 (ball
    to centre of mass), l (ball to axle), C3."""

    m: float
    Iz: float
    a: float
    b: float
    h: float
    C1: float
    C2: float
    mt: float
    It: float
    l1: float
    l: float  # noqa: E741  (the equations' own letter)
    C3: float


def systems(rig: Rig, u: Array) -> tuple[Array, Array]:
    """A (n, 4, 4) and the column B (4,) of x' = A x + B δ at speeds u (n,) in m/s."""
    s = rig
    mass = np.array(
        [
            [s.m + s.mt, -s.mt * (s.h + s.l1), -s.mt * s.l1],
            [-s.h * s.mt, s.Iz + s.h * s.mt * (s.h + s.l1), s.h * s.mt * s.l1],
            [-s.l1 * s.mt, s.It + s.l1 * s.mt * (s.h + s.l1), s.It + s.mt * s.l1**2],
        ]
    )
    # forces at the three axles: what goes with 1/u, with the articulation, and the turning masses with u
    f1, f2 = np.array([-s.C1, -s.C1 * s.a, 0.0, 0.0]), np.array([-s.C2, s.C2 * s.b, 0.0, 0.0])
    f3 = np.array([-s.C3, s.C3 * (s.h + s.l), 0.0, s.C3 * s.l])
    swung, spin = np.array([0.0, 0.0, s.C3, 0.0]), np.array([0.0, 1.0, 0.0, 0.0])
    slow = np.stack([f1 + f2 + f3, s.a * f1 - s.b * f2 - s.h * f3, -s.l * f3])
    still = np.stack([swung, -s.h * swung, -s.l * swung])
    fast = np.stack([-(s.m + s.mt) * spin, s.h * s.mt * spin, s.l1 * s.mt * spin])
    steer = np.array([s.C1, s.a * s.C1, 0.0])
    solved = scipy.linalg.solve(mass, np.column_stack([slow, still, fast, steer]))
    by = np.asarray(u, dtype=float)[:, None, None]
    rows = solved[:, :4] / by + solved[:, 4:8] + solved[:, 8:12] * by
    out = np.zeros((len(by), 4, 4))
    out[:, (0, 1, 3)] = rows
    out[:, 2, 3] = 1.0
    return out, np.array([solved[0, 12], solved[1, 12], 0.0, solved[2, 12]])


def matrices(rig: Rig, u: float) -> tuple[Array, Array]:
    """A (4, 4) and B (4,) at one speed."""
    a, b = systems(rig, np.array([u]))
    return a[0], b


def modes(rig: Rig, u: Array) -> tuple[Array, Array]:
    """At speeds u (n,): the least damping ratio over the oscillating modes (inf where none oscillates), and
    the greatest real root of the rest (-inf where there is none).
    """
    roots = np.linalg.eigvals(systems(rig, u)[0])
    size = np.abs(roots)
    wave = np.abs(roots.imag) > 1e-9 * np.maximum(size, 1e-12)
    ratio = np.where(wave, -roots.real / np.maximum(size, 1e-300), np.inf).min(axis=1)
    return ratio, np.where(wave, -np.inf, roots.real).max(axis=1)


Condition = Callable[[Array], NDArray[np.bool_]]
"""Of speeds in km/h."""


def _first(over: Condition) -> float | None:
    """The lowest speed at which a condition holds, to a millionth; None if at none."""
    low, high, parts = SLOWEST, FASTEST, round((FASTEST - SLOWEST) / 0.5)
    for n in range(7):
        speeds = np.linspace(low, high, parts + 1)
        held = over(speeds)
        if not held.any():
            return None if n == 0 else high
        k = int(held.argmax())
        if k == 0:
            return float(speeds[0])
        low, high, parts = float(speeds[k - 1]), float(speeds[k]), 64
    return high


@dataclass(frozen=True)
class Sway:
    """Damping ratio at each asked speed; the speeds (km/h) where it falls to 0, to 0.10, and where the rig
    folds without swinging."""

    damping: tuple[float | None, ...]
    critical_kmh: float | None
    slow_down_kmh: float | None
    divergence_kmh: float | None


def damping(rig: Rig, speeds_kmh: Sequence[float]) -> tuple[float | None, ...]:
    """Least damping ratio at each speed; None where nothing oscillates."""
    found = modes(rig, np.asarray(speeds_kmh, dtype=float) * KMH)[0]
    return tuple(float(r) if math.isfinite(r) else None for r in found)


def sway(rig: Rig, speeds_kmh: Sequence[float]) -> Sway:
    """The rig's damping against speed (5–200 km/h is searched for the limits)."""

    def below(level: float) -> Condition:
        return lambda kmh: modes(rig, kmh * KMH)[0] <= level

    return Sway(
        damping(rig, speeds_kmh),
        _first(below(0.0)),
        _first(below(0.10)),
        _first(lambda kmh: modes(rig, kmh * KMH)[1] > 0),
    )


@dataclass(frozen=True)
class Track:
    """A run: time (n,), states (n, 4), the vehicle's place and heading (n, 3: x, y in m, rad), the
    steering (n,).
    """

    time: Array
    states: Array
    pose: Array
    steer: Array


def jerk(rig: Rig, speed_kmh: float, steer_deg: float, seconds: float = 8.0, step: float = 0.02) -> Track:
    """A steering jerk of half a second each way, begun after half a second, at a steady speed.

    Steps are exact for the steering held over each (matrix exponential).
    """
    u = speed_kmh * KMH
    A, B = matrices(rig, u)
    block = np.zeros((5, 5))
    block[:4, :4], block[:4, 4] = A * step, B * step
    go = scipy.linalg.expm(block)
    n = round(seconds / step) + 1
    time = np.arange(n) * step
    steer = np.where(
        (time >= 0.5) & (time < 1.0), 1.0, np.where((time >= 1.0) & (time < 1.5), -1.0, 0.0)
    ) * math.radians(steer_deg)
    x, pose = np.zeros((n, 4)), np.zeros((n, 3))
    for k in range(n - 1):
        x[k + 1] = go[:4, :4] @ x[k] + go[:4, 4] * steer[k]
        heading = pose[k, 2] + step * x[k, 1]
        pose[k + 1] = (
            pose[k, 0] + step * (u * math.cos(heading) - x[k, 0] * math.sin(heading)),
            pose[k, 1] + step * (u * math.sin(heading) + x[k, 0] * math.cos(heading)),
            heading,
        )
    return Track(np.asarray(time, dtype=np.float64), x, pose, np.asarray(steer, dtype=np.float64))


SOFT = 0.75
"""So much of the stiffness that is assumed soft or worn tyres have: what nobody measured promises no more."""


def rig_of(job: Job, ball_overhang_mm: float, deck: Deck | None = None, grip: float = 1.0) -> Rig:
    """The job's rig: masses from the host and the deck (or the duty while the deck is bare), stiffness from
    the loads on the axles, ``grip`` times as stiff as the job says.

    Yaw inertia of the vehicle is m·a·b, near the truth for most cars and trucks (Dixon, *Tires, suspension
    and handling*, 1996); tyres give side force in proportion to the load on them, the factor being a
    setting.
    """
    host, d = job.vehicle, job.duty
    assert isinstance(host, Vehicle)
    plan = deck or job.deck
    g = 9.80665
    m = host.front_kg + host.rear_kg
    b = host.front_kg / m * host.wheelbase_mm / 1000
    a = host.wheelbase_mm / 1000 - b
    if plan.cargo:
        lumps = [decks.empty(plan), *(p.lump(plan) for p in decks.stacked(plan))]
        stand = decks.balance(plan, lumps)
        mt, l1, length, inertia, tongue = (
            stand.total_kg,
            stand.centre[0] / 1000,
            plan.axle_mm / 1000,
            decks.yaw_inertia(plan, lumps, stand),
            stand.tongue_kg,
        )
    else:
        mt, length, tongue = d.trailer_mass_kg, d.axle_behind_mm / 1000, d.tongue_mass_kg
        l1 = length * (1 - tongue / mt)
        inertia = mt * (0.3 * (d.bed_length_mm / 1000 + 0.5)) ** 2
    over, base = ball_overhang_mm, host.wheelbase_mm
    front = host.front_kg - tongue * over / base
    rear = host.rear_kg + tongue * (1 + over / base)
    run = job.running
    return Rig(
        m,
        m * a * b,
        a,
        b,
        b + over / 1000,
        grip * run.grip_per_rad * max(front, 1.0) * g,
        grip * run.grip_per_rad * max(rear, 1.0) * g,
        mt,
        inertia,
        l1,
        length,
        grip * run.trailer_grip_per_rad * max(mt - tongue, 1.0) * g,
    )
