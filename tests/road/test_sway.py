"""Sway against two second sources: the full nonlinear two-body equations in time, and the constrained
descriptor system.
"""

import math

import numpy as np
import pytest
import scipy.linalg
from scipy.integrate import solve_ivp

from urial import families
from urial.road.sway import KMH, Rig, damping, jerk, matrices, rig_of, sway

RIG = Rig(
    m=2200.0,
    Iz=3600.0,
    a=1.5,
    b=1.6,
    h=2.8,
    C1=120e3,
    C2=130e3,
    mt=1800.0,
    It=2600.0,
    l1=3.1,
    l=3.4,
    C3=110e3,
)
BAD = Rig(
    m=1500.0,
    Iz=2400.0,
    a=1.25,
    b=1.45,
    h=2.45,
    C1=90e3,
    C2=80e3,
    mt=1700.0,
    It=4200.0,
    l1=3.35,
    l=3.4,
    C3=60e3,
)


def nonlinear(rig, u, x0, seconds):
    """Vehicle and trailer as two free bodies in the plane, joined by a hitch force solved for at every
    instant.

    Coordinates X, Y, ψ, θ (trailer's heading) and their rates; the speed along the vehicle is held by a
    thrust. Tyre forces by the true slip angles. Nothing is linearised. Returns time and φ = θ − ψ.
    """
    s = rig

    def rates(_, q):
        psi, theta, vx, vy, r, w = q  # velocities of the vehicle's centre in its own axes
        n, t = np.array([-math.sin(psi), math.cos(psi)]), np.array([math.cos(psi), math.sin(psi)])
        nt, tt = np.array([-math.sin(theta), math.cos(theta)]), np.array([math.cos(theta), math.sin(theta)])
        f1 = -s.C1 * math.atan2(vy + s.a * r, vx)
        f2 = -s.C2 * math.atan2(vy - s.b * r, vx)
        vehicle = vx * t + vy * n
        hitch = vehicle - s.h * r * n
        axle = hitch - s.l * w * nt
        f3 = -s.C3 * math.atan2(float(axle @ nt), float(axle @ tt))
        # unknowns: thrust, vy', r', w', hitch force (2) on the trailer.  The vehicle's speed along itself is
        # held: vx' = 0
        A, b = np.zeros((6, 6)), np.zeros(6)
        # vehicle: m (vx' − r vy) t + m (vy' + r vx) n = thrust t + (f1 + f2) n − H
        for k in range(2):
            A[k] = [-t[k], s.m * n[k], 0, 0, 1.0 if k == 0 else 0.0, 1.0 if k == 1 else 0.0]
            b[k] = (f1 + f2) * n[k] + s.m * r * vy * t[k] - s.m * r * vx * n[k]
        # yaw of the vehicle: Iz r' = a f1 − b f2 + (−h)(−H·n)
        A[2] = [0, 0, s.Iz, 0, -s.h * n[0], -s.h * n[1]]
        b[2] = s.a * f1 - s.b * f2
        # the trailer's centre: hitch − l1 along tt
        for k in range(2):
            # a = (−r vy) t + (vy' + r vx) n − h (r' n − r² t) − l1 (w' nt − w² tt)
            A[3 + k] = [
                0,
                s.mt * n[k],
                -s.mt * s.h * n[k],
                -s.mt * s.l1 * nt[k],
                -1.0 if k == 0 else 0.0,
                -1.0 if k == 1 else 0.0,
            ]
            b[3 + k] = f3 * nt[k] - s.mt * (
                -r * vy * t[k] + r * vx * n[k] + s.h * r * r * t[k] + s.l1 * w * w * tt[k]
            )
        # yaw of the trailer: It w' = l1 (H·nt) − (l − l1) f3
        A[5] = [0, 0, 0, s.It, -s.l1 * nt[0], -s.l1 * nt[1]]
        b[5] = -(s.l - s.l1) * f3
        _, dvy, dr, dw, _, _ = np.linalg.solve(A, b)
        return [r, w, 0.0, dvy, dr, dw]

    v, r, phi, phidot = x0
    run = solve_ivp(
        rates,
        (0, seconds),
        [0.0, phi, u, v, r, r + phidot],
        rtol=1e-10,
        atol=1e-13,
        max_step=0.01,
        dense_output=True,
    )
    time = np.linspace(0, seconds, 2001)
    q = run.sol(time)
    return time, q[1] - q[0]


@pytest.mark.parametrize("rig", [RIG, BAD])
@pytest.mark.parametrize("kmh", [50, 90, 120])
def test_the_linear_model_follows_the_nonlinear_one_at_small_angles(rig, kmh):
    u = kmh * KMH
    A, _ = matrices(rig, u)
    x0 = np.array([0.0, 0.0, 1e-4, 0.0])
    time, phi = nonlinear(rig, u, x0, 4.0)
    linear = np.array([(scipy.linalg.expm(A * t) @ x0)[2] for t in time[::40]])
    assert np.abs(phi[::40] - linear).max() < 2e-3 * np.abs(linear).max()


@pytest.mark.parametrize("rig", [RIG, BAD])
@pytest.mark.parametrize("kmh", [30, 70, 110, 150])
def test_the_damping_is_that_of_the_constrained_two_body_system(rig, kmh):
    """An independent eigenproblem: both bodies free, the hitch as a constraint, E x' = A x solved as a
    pencil.
    """
    s, u = rig, kmh * KMH
    # states: y, ψ, η, θ (sideways places and headings, inertial), their rates, and the hitch force λ
    M = np.diag([s.m, s.Iz, s.mt, s.It])
    D, K = np.zeros((4, 4)), np.zeros((4, 4))
    for c, body, arm in ((s.C1, 0, s.a), (s.C2, 0, -s.b), (s.C3, 2, -(s.l - s.l1))):
        row = np.zeros(4)
        row[body], row[body + 1] = 1.0, arm
        D += c / u * np.outer(row, row)
        K -= c * np.outer(row, np.eye(4)[body + 1])
    J = np.array([[1.0, -s.h, -1.0, -s.l1]])  # y − hψ = η + l1 θ
    E, A = np.zeros((9, 9)), np.zeros((9, 9))
    E[:4, :4], E[4:8, 4:8] = np.eye(4), M
    A[:4, 4:8], A[4:8, :4], A[4:8, 4:8], A[4:8, 8:] = np.eye(4), -K, -D, J.T
    A[8:, :4] = J
    roots = scipy.linalg.eigvals(A, E)
    roots = roots[np.isfinite(roots) & (np.abs(roots) < 1e6)]
    wave = [z for z in roots if abs(z.imag) > 1e-6 * max(abs(z), 1e-9) and abs(z) > 1e-3]
    expected = min(float(-z.real / abs(z)) for z in wave)
    assert damping(rig, [u / KMH])[0] == pytest.approx(expected, abs=2e-6)


def test_the_speeds_found_are_where_the_damping_is_what_is_asked():
    found = sway(BAD, [40, 80, 120])
    assert len(found.damping) == 3 and found.damping[0] > found.damping[1] > found.damping[2]
    assert damping(BAD, [found.slow_down_kmh])[0] == pytest.approx(0.10, abs=1e-6)
    if found.critical_kmh is not None:
        assert damping(BAD, [found.critical_kmh])[0] == pytest.approx(0.0, abs=1e-6)
        assert found.slow_down_kmh < found.critical_kmh
    good = sway(RIG, [80])
    assert good.slow_down_kmh is None or good.slow_down_kmh > found.slow_down_kmh


def test_a_tail_heavy_trailer_is_worse_and_a_longer_tongue_better():
    import dataclasses

    def at(rig):
        return damping(rig, [90])[0]

    assert at(dataclasses.replace(RIG, l1=3.38)) < at(RIG)
    assert at(dataclasses.replace(RIG, l1=RIG.l1 + 1, l=RIG.l + 1)) > at(RIG)
    assert at(dataclasses.replace(RIG, h=3.6)) < at(RIG)
    assert at(dataclasses.replace(RIG, It=2 * RIG.It)) < at(RIG)


def test_a_rig_that_oversteers_folds_at_the_speed_its_steering_gain_says():
    import dataclasses

    # a trailer of no mass leaves the car alone: its divergence speed is the textbook one, √(C1 C2 L² / (m (a
    # C1 − b C2)))
    car = dataclasses.replace(RIG, a=2.0, b=1.1, mt=1e-3, It=1e-3, C3=100.0)
    L = car.a + car.b
    textbook = math.sqrt(car.C1 * car.C2 * L**2 / (car.m * (car.a * car.C1 - car.b * car.C2))) / KMH
    assert sway(car, []).divergence_kmh == pytest.approx(textbook, rel=1e-3)


def test_a_steering_jerk_dies_out_as_its_damping_says():
    run = jerk(RIG, 80, 2.0)
    assert run.states.shape == (401, 4) and np.abs(run.states[:26]).max() == 0
    fine = jerk(RIG, 80, 2.0, step=0.01)
    assert np.abs(fine.states[::2] - run.states).max() < 1e-9  # steps are exact while the steering is held
    assert np.abs(run.states[-20:, 2]).max() < 0.05 * np.abs(run.states[:, 2]).max()
    assert run.pose[-1, 0] == pytest.approx(80 * KMH * 8, rel=0.01)
    assert np.allclose(jerk(RIG, 80, 4.0).states, 2 * run.states)


def test_the_jobs_rig_is_made_of_its_own_numbers(job):
    over = 1340.0
    rig = rig_of(job, over)
    assert rig.a + rig.b == pytest.approx(3.2) and rig.m == 2200 and rig.h == pytest.approx(rig.b + 1.34)
    assert pytest.approx(9 * 9.80665 * (2200 + 190)) == rig.C1 + rig.C2
    assert rig.mt == 1850 and rig.l1 == pytest.approx(3.3 * (1 - 190 / 1850))
    light = rig_of(
        job.model_copy(update={"duty": job.duty.model_copy(update={"tongue_mass_kg": 60.0})}), over
    )
    assert damping(light, [90])[0] < damping(rig, [90])[0]  # too little tongue weight wanders


def test_a_cargo_on_the_deck_makes_the_rig(job):
    from urial.job.duty import Cargo
    from urial.road import deck as decks

    def laden(front):
        return job.deck.model_copy(
            update={"cargo": (Cargo(kg=900, front_mm=front, long_mm=1000, wide_mm=1000),)}
        )

    ahead, astern = rig_of(job, 1340, laden(1200.0)), rig_of(job, 1340, laden(2500.0))
    assert ahead.mt == astern.mt == 1420
    assert ahead.l1 * 1000 == pytest.approx(decks.loaded(laden(1200.0)).centre[0])
    assert damping(astern, [90])[0] < damping(ahead, [90])[0]
    assert families.families()
