import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.assembly.trial import foot, judged, start
from urial.assembly.build import Takes
from urial.assembly.marks import marked
from urial.geometry.place import Place, Y
from urial.stock import catalogue
from urial.strength import bolts, pins, plates
from urial.strength.bolts import BoltError


def column(n, pitch):
    return np.array([[0, (k - (n - 1) / 2) * pitch] for k in range(n)])


@pytest.mark.parametrize(
    ("n", "ex_in", "published"),
    # AISC Manual 15th ed. table 7-6, one vertical row, s = 3 in, angle 0
    [(2, 2, 1.18), (2, 3, 0.88), (3, 2, 2.23), (3, 4, 1.40), (4, 3, 2.81)],
)
def test_group_coefficients_are_the_published_ones(n, ex_in, published):
    c = bolts.group_coefficient(column(n, 76.2), (0.0, -1.0), -ex_in * 25.4)
    assert c == pytest.approx(published, rel=0.012)


def pole_search(xy, force, point):
    """The textbook way: slide the pole until what the bolts give is along the load and turns as the load
    does.
    """
    from scipy.optimize import minimize

    unit = np.array(force) / np.hypot(*force)

    def at(pole):
        r = xy - pole
        d = np.hypot(*r.T)
        give = (1 - np.exp(-0.394 * 8.64 * d / d.max())) ** 0.55
        push = np.column_stack([-r[:, 1], r[:, 0]]) / d[:, None]
        total, turning = (give[:, None] * push).sum(axis=0), (give * d).sum()
        arm = np.array(point) - pole
        lever = arm[0] * unit[1] - arm[1] * unit[0]
        size = turning / abs(lever)
        return np.hypot(*(np.sign(lever) * total - size * unit)) / size, size

    starts = [
        xy.mean(axis=0) + f * np.ptp(xy) * np.array([math.cos(a), math.sin(a)])
        for a in np.linspace(0.1, 2 * np.pi, 16)
        for f in (0.15, 0.6)
    ]
    tries = [
        minimize(
            lambda q: at(q)[0],
            start,
            method="Nelder-Mead",
            options={"xatol": 1e-8, "fatol": 1e-13, "maxiter": 4000},
        )
        for start in sorted(starts, key=lambda q: at(q)[0])[:6]  # it goes on where it begins well
    ]
    near = [
        t for t in tries if np.abs(t.x - xy.mean(axis=0)).max() < 20 * np.ptp(xy)
    ]  # the pole at infinity is the centred force
    best = min(near, key=lambda t: t.fun)
    assert best.fun < 1e-5
    return at(best.x)[1]


@pytest.mark.parametrize(
    ("force", "point"), [((0, -1), (150, 0)), ((1, -1), (120, 60)), ((0.3, 1), (-200, 20))]
)
def test_group_coefficients_agree_with_an_independent_search(force, point):
    xy = np.array([[-40, -75], [40, -75], [-40, 0], [40, 0], [-40, 75], [45, 80.0]])
    arm = np.array(point) - xy.mean(axis=0)
    mine = bolts.group_coefficient(xy, force, arm[0] * force[1] - arm[1] * force[0])
    assert mine == pytest.approx(pole_search(xy, force, point), rel=1e-3)


def test_a_centred_force_gives_the_number_of_bolts():
    assert bolts.group_coefficient(column(5, 60), (3.0, 4.0), 0.0) == 5


def test_a_single_bolt_cannot_hold_a_moment():
    with pytest.raises(BoltError):
        bolts.group_coefficient(np.zeros((1, 2)), (1.0, 0.0), 10.0)
    with pytest.raises(BoltError):
        bolts.elastic_shears(np.zeros((1, 2)), np.array([[1.0, 0.0]]), np.array([10.0]))


@given(
    st.integers(2, 8),
    st.floats(-1e4, 1e4),
    st.floats(-1e4, 1e4),
    st.floats(-1e6, 1e6),
    st.integers(0, 10_000),
)
def test_elastic_shears_balance_the_load(n, fx, fy, m, seed):
    xy = np.random.default_rng(seed).uniform(-100, 100, (n, 2))
    shears = bolts.elastic_shears(xy, np.array([[fx, fy]]), np.array([m]))[0]
    arms = xy - xy.mean(axis=0)
    assert shears.sum(axis=0) == pytest.approx([fx, fy], abs=1e-6 * 1e4)
    assert (arms[:, 0] * shears[:, 1] - arms[:, 1] * shears[:, 0]).sum() == pytest.approx(m, abs=1e-6 * 1e6)


@given(st.floats(0.1, 400), st.floats(0, 2 * math.pi))
def test_the_plastic_group_is_never_weaker_than_the_elastic_one(ecc, angle):
    xy = np.array([[-40, -60], [40, -60], [-40, 60], [40, 60], [0, 0.0]])
    force = np.array([math.cos(angle), math.sin(angle)])
    moment = ecc * force[1]
    worst = np.hypot(*bolts.elastic_shears(xy, force[None], np.array([moment]))[0].T).max()
    assert bolts.group_coefficient(xy, tuple(force), moment) >= 0.9814 / worst - 1e-6


def test_tension_about_the_bearing_edge_balances_the_moment():
    levers = np.array([-40.0, 0.0, 40.0])
    up = bolts.tensions_about_edge(levers, np.array([1e6]), 60.0, 80.0)[0]
    assert (up * (levers + 60)).sum() == pytest.approx(1e6)
    down = bolts.tensions_about_edge(levers, np.array([-1e6]), 60.0, 80.0)[0]
    assert (down * (80 - levers)).sum() == pytest.approx(1e6)
    assert up[2] > up[0] > 0


def test_bolts_that_shear_and_pull_are_used_up_where_j3_3b_says():
    """Two M12 8.8 in a plate too thick to pry, 15 kN across each: F'nt = 1.3 Fnt − Ω Fnt frv / Fnv, and
    the pull that makes ft = F'nt / Ω.
    """
    grade, area = catalogue.bolt_grade("8.8").of(12.0), math.pi * 144 / 4
    fnt, fnv, across = 0.75 * grade.Fu, 0.45 * grade.Fu, 15_000.0
    pull = (1.3 * fnt - 2.00 * fnt * (across / area) / fnv) / 2.00 * area
    assert 0.3 < pull / (fnt * area / 2) < 0.95  # the two do share
    b = start()
    plate, place = foot(b, "plate", Place.facing((0.0, 0.0, 500.0), (-1.0, 0.0, 0.0), Y), t=40.0)
    b.socket("eye", plate, place, Takes("eye"))
    checks, _, _ = judged(
        marked(b.placed(Place()), {}), {"both": {"1/eye": (-2 * pull, 0.0, -2 * across, 0, 0, 0)}}
    )
    assert checks["1/plate bolts: bolts"].utilisation == pytest.approx(1.0, abs=2e-3)


def test_prying_is_the_manuals():
    """Part 9: a thick flange pries nothing; at the thickness t_c the bolt is just fully used."""
    p = bolts.Prying(b=40, a=35, pitch=80, hole=18, diameter=16)
    available = 60_000.0
    critical = math.sqrt(1.67 * 4 * available * (40 - 8) / (80 * 400))
    assert p.factor(available, critical * 1.001, 400) == 1.0
    delta = 1 - 18 / 80
    rho = (40 - 8) / (35 + 8)
    half = critical / 2
    alpha = (4 - 1) / (delta * (1 + rho))
    assert p.factor(available, half, 400) == pytest.approx(0.25 * (1 + delta * min(alpha, 1)))
    assert p.factor(available, 6, 400) < p.factor(available, 12, 400) < 1


def test_torque_and_preload_are_the_published_ones():
    # VDI-style check: M12 8.8, 84.3 mm², 75 % of 600 MPa → 37.9 kN; 0.2·12·37.9 = 91 N·m
    tension = bolts.preload(600, 84.3)
    assert tension == pytest.approx(37_935)
    assert bolts.torque(12, tension) / 1000 == pytest.approx(91.0, rel=1e-3)


def test_pin_by_hand():
    # 16 mm pin, 20 kN, plates 6 / 50 / 6 with 1 mm gaps
    assert pins.shear_stress(20_000, 16) == pytest.approx(20_000 / (2 * 201.06), rel=1e-4)
    assert pins.bending_moment(20_000, 6, 50, 1) == pytest.approx(10_000 * (3 + 1 + 12.5))
    assert pins.bearing(250, 16, 6) == pytest.approx(1.8 * 250 * 96)
    assert pins.plate_shear(400, 10, 20, 16) == pytest.approx(0.6 * 400 * 20 * 28)
    assert pins.plate_rupture(400, 10, 100) == pytest.approx(2 * 10 * 36 * 400)


def test_block_shear_and_wall_rules_by_hand():
    assert plates.block_shear(250, 400, 10, 100, 80, 30) == pytest.approx(
        min(0.6 * 400 * 800, 0.6 * 250 * 1000) + 400 * 300
    )
    assert plates.wall_yielding(317, 5.9, 12.7, 60, False) == pytest.approx(2 * 317 * 5.9 * (63.5 + 60))
    assert plates.wall_yielding(317, 5.9, 12.7, 60, True) == pytest.approx(2 * 317 * 5.9 * (31.75 + 60))


def test_edge_distances_follow_the_table():
    assert [bolts.minimum_edge_distance(d) for d in (16, 20, 24)] == [22, 26, 30]
    assert bolts.minimum_edge_distance(12) == pytest.approx(16.5)


@pytest.mark.parametrize("b, a, hole", [(40, 35, 18), (30, 60, 14), (55, 25, 22)])
def test_the_most_prying_is_that_of_a_plate_bent_both_ways(b, a, hole):
    """A plate just so thick that it yields at the bolts and at the tee: AISC's share is one over the most."""
    p = bolts.Prying(b=b, a=a, pitch=80, hole=hole, diameter=16)
    inner, outer, delta = p.arms
    pull, fu = 60_000.0, 400.0
    needed = math.sqrt(1.67 * 4 * pull * inner / (80 * fu))
    t = needed / math.sqrt(1 + delta * (1 + inner / outer))
    assert p.factor(pull, t, fu) == pytest.approx(1 / p.most)
    # at any other thickness the plate bends less at the bolts, and these are pried less
    assert all(p.factor(pull, t * k, fu) > 1 / p.most for k in (1.1, 1.5, 3.0))
    # by hand: the pull's moment b' is shared by two sections 1 : δ, and Q a' is the one at the bolts
    at_tee = inner / (1 + delta)
    assert p.most == pytest.approx(1 + delta * at_tee / outer)
