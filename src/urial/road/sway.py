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
from collections.abc import Sequence
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


def matrices(rig: Rig, u: float) -> tuple[Array, Array]:
    """A (4, 4) and the column B (4,) of x' = A x + B δ at a speed u in m/s."""
    s = rig
    mass = np.array(
        [
            [s.m + s.mt, -s.mt * (s.h + s.l1), -s.mt * s.l1],
            [-s.h * s.mt, s.Iz + s.h * s.mt * (s.h + s.l1), s.h * s.mt * s.l1],
            [-s.l1 * s.mt, s.It + s.l1 * s.mt * (s.h + s.l1), s.It + s.mt * s.l1**2],
        ]
    )
    f1 = np.array([-s.C1 / u, -s.C1 * s.a / u, 0.0, 0.0])
    f2 = np.array([-s.C2 / u, s.C2 * s.b / u, 0.0, 0.0])
    f3 = np.array([-s.C3 / u, s.C3 * (s.h + s.l) / u, s.C3, s.C3 * s.l / u])
    spin = np.array([0.0, 1.0, 0.0, 0.0])
    right = np.stack(
        [
            f1 + f2 + f3 - (s.m + s.mt) * u * spin,
            s.a * f1 - s.b * f2 - s.h * f3 + s.h * s.mt * u * spin,
            -s.l * f3 + s.l1 * s.mt * u * spin,
        ]
    )
    steer = np.array([s.C1, s.a * s.C1, 0.0])
    solved = scipy.linalg.solve(mass, np.column_stack([right, steer]))
    out = np.zeros((4, 4))
    out[0], out[1], out[3] = solved[0, :4], solved[1, :4], solved[2, :4]
    out[2, 3] = 1.0
    return out, np.array([solved[0, 4], solved[1, 4], 0.0, solved[2, 4]])


def modes(rig: Rig, u: float) -> tuple[float | None, float]:
    """Least damping ratio over the oscillating modes (None where none oscillates), and the greatest real
    root of the rest.
    """
    roots = np.linalg.eigvals(matrices(rig, u)[0])
    wave = [z for z in roots if abs(z.imag) > 1e-9 * max(abs(z), 1e-12)]
    real = [float(z.real) for z in roots if abs(z.imag) <= 1e-9 * max(abs(z), 1e-12)]
    return (min(float(-z.real / abs(z)) for z in wave) if wave else None), max(real, default=-math.inf)


def _crossing(low: float, high: float, over: object) -> float:
    """Where a condition that is false at ``low`` and true at ``high`` turns, km/h."""
    for _ in range(60):
        middle = (low + high) / 2
        if over(middle):  # type: ignore[operator]
            high = middle
        else:
            low = middle
    return high


def _first(rig: Rig, over: object) -> float | None:
    """The lowest speed at which a condition holds, to a millionth; None if at none."""
    speeds = np.arange(SLOWEST, FASTEST + 1e-9, 0.5)
    before = SLOWEST
    for s in speeds:
        if over(float(s)):  # type: ignore[operator]
            return float(s) if s == SLOWEST else _crossing(before, float(s), over)
        before = float(s)
    return None


@dataclass(frozen=True)
class Sway:
    """Damping ratio at each asked speed; the speeds (km/h) where it falls to 0, to 0.10, and where the rig
    folds without swinging."""

    damping: tuple[float | None, ...]
    critical_kmh: float | None
    slow_down_kmh: float | None
    divergence_kmh: float | None


def sway(rig: Rig, speeds_kmh: Sequence[float]) -> Sway:
    """The rig's damping against speed (5–200 km/h is searched for the limits)."""

    def below(level: float) -> object:
        def over(kmh: float) -> bool:
            ratio = modes(rig, kmh * KMH)[0]
            return ratio is not None and ratio <= level

        return over

    return Sway(
        tuple(modes(rig, s * KMH)[0] for s in speeds_kmh),
        _first(rig, below(0.0)),
        _first(rig, below(0.10)),
        _first(rig, lambda kmh: modes(rig, kmh * KMH)[1] > 0),
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


def rig_of(job: Job, ball_overhang_mm: float, deck: Deck | None = None) -> Rig:
    """The job's rig: masses from the host and the deck (or the duty while the deck is bare), stiffness from
    the loads on the axles.

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
        run.grip_per_rad * max(front, 1.0) * g,
        run.grip_per_rad * max(rear, 1.0) * g,
        mt,
        inertia,
        l1,
        length,
        run.trailer_grip_per_rad * max(mt - tongue, 1.0) * g,
    )
