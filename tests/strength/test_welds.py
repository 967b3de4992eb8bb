import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import minimize

from urial.strength import welds
from urial.strength.welds import WeldError, WeldLines


def lines(*runs):
    a = np.array(runs, dtype=float)
    return WeldLines(
        np.column_stack([a[:, :2], np.zeros(len(a))]), np.column_stack([a[:, 2:], np.zeros(len(a))])
    )


def box(b, d):
    return lines((0, 0, b, 0), (b, 0, b, d), (b, d, 0, d), (0, d, 0, 0))


def test_a_box_of_weld_has_its_textbook_properties():
    # Blodgett table: Sw = bd + d²/3, Jw = (b + d)³/6
    b, d = 80.0, 120.0
    group = box(b, d)
    s = group.second_moments
    assert group.length == pytest.approx(2 * (b + d))
    assert group.centroid[:2] == pytest.approx([b / 2, d / 2])
    assert s[1, 1] / (d / 2) == pytest.approx(b * d + d * d / 3)
    assert s[0, 0] + s[1, 1] == pytest.approx((b + d) ** 3 / 6)


def test_two_lines_under_bending_and_torsion():
    b, d = 100.0, 200.0
    group = lines((0, 0, 0, d), (b, 0, b, d))
    bend = group.force_per_length(np.zeros((1, 3)), np.array([[1e6, 0, 0]]))
    assert np.abs(bend[0, :, 2]).max() == pytest.approx(1e6 / (d * d / 3))
    twist = group.force_per_length(np.zeros((1, 3)), np.array([[0, 0, 1e6]]))
    polar = d * (3 * b * b + d * d) / 6
    assert np.linalg.norm(twist[0], axis=1).max() == pytest.approx(1e6 * math.hypot(b / 2, d / 2) / polar)


@given(
    st.lists(st.tuples(*[st.floats(-100, 100)] * 4), min_size=2, max_size=6),
    st.tuples(*[st.floats(-1e4, 1e4)] * 3),
    st.tuples(*[st.floats(-1e6, 1e6)] * 3),
)
def test_the_elastic_forces_balance_the_load(runs, force, moment):
    runs = [r for r in runs if math.hypot(r[2] - r[0], r[3] - r[1]) > 5]
    if len(runs) < 2:
        return
    group = lines(*runs)
    if np.linalg.eigvalsh(group.inertia)[0] < 1.0:
        return
    f = group.force_per_length(np.array([force]), np.array([moment]))[0]
    n = len(runs)
    start, stop = f[:n], f[n:]
    total = ((start + stop) / 2 * group.lengths[:, None]).sum(axis=0)
    r0, r1 = group.start - group.centroid, group.stop - group.centroid
    # Simpson along each run is exact: r × f is quadratic along it
    mid = np.cross((r0 + r1) / 2, (start + stop) / 2)
    turning = ((np.cross(r0, start) + 4 * mid + np.cross(r1, stop)) / 6 * group.lengths[:, None]).sum(axis=0)
    assert total == pytest.approx(force, abs=1e-6 * 1e4)
    assert turning == pytest.approx(moment, abs=1e-5 * 1e6)


def test_a_lone_line_cannot_be_twisted_about_itself():
    with pytest.raises(WeldError, match="single straight weld"):
        lines((0, 0, 100, 0)).force_per_length(np.zeros((1, 3)), np.array([[1e5, 0, 0]]))


def test_a_centred_load_along_the_weld_has_the_plain_strength():
    runs = np.array([[0, -50, 0, 50], [60, -50, 60, 50]], dtype=float)
    group = welds.in_plane_group(runs, 6.0, 482.0)
    # at the group's peak every piece reaches the curve's maximum; p at Δu: 0.17w over 0.209·2^-0.32 w
    p = 0.17 / (0.209 * 2**-0.32)
    exact = 0.60 * 482 * 6 * math.sqrt(0.5) * 200 * (p * (1.9 - 0.9 * p)) ** 0.3
    assert welds.instantaneous_centre_capacity(group, (0, 1000.0), 0.0) * 1000 == pytest.approx(
        exact, rel=1e-3
    )


def test_a_centred_transverse_load_is_half_as_strong_again():
    runs = np.array([[0, -50, 0, 50], [60, -50, 60, 50]], dtype=float)
    group = welds.in_plane_group(runs, 6.0, 482.0)
    along = welds.instantaneous_centre_capacity(group, (0, 1000.0), 0.0)
    across = welds.instantaneous_centre_capacity(group, (1000.0, 0), 0.0)
    assert across / along == pytest.approx(1.5, rel=0.01)


def independent_capacity(runs, w, fexx, force, point):
    """The textbook search: move the pole until forces and moments balance, deformations set by the
    critical piece.
    """
    pieces, directions, sizes = [], [], []
    for x0, y0, x1, y1 in runs:
        n = 60
        t = (np.arange(n) + 0.5) / n
        pieces.append(np.column_stack([x0 + t * (x1 - x0), y0 + t * (y1 - y0)]))
        size = math.hypot(x1 - x0, y1 - y0)
        directions.append(np.tile([(x1 - x0) / size, (y1 - y0) / size], (n, 1)))
        sizes.append(np.full(n, size / n))
    xy, along, ds = np.concatenate(pieces), np.concatenate(directions), np.concatenate(sizes)
    unit = np.array(force) / np.hypot(*force)

    def at(pole):
        r = xy - pole
        d = np.hypot(*r.T)
        push = np.column_stack([-r[:, 1], r[:, 0]]) / d[:, None]
        theta = np.degrees(np.arccos(np.clip(np.abs((push * along).sum(axis=1)), 0, 1)))
        dm, du = 0.209 * (theta + 2) ** -0.32 * w, np.minimum(1.087 * (theta + 6) ** -0.65 * w, 0.17 * w)
        p = d * (du / d).min() / dm
        pull = (
            0.6
            * fexx
            * (1 + 0.5 * np.sin(np.radians(theta)) ** 1.5)
            * (p * (1.9 - 0.9 * p)) ** 0.3
            * w
            * math.sqrt(0.5)
            * ds
        )
        total = (pull[:, None] * push).sum(axis=0)
        arm = np.array(point) - pole
        lever = arm[0] * unit[1] - arm[1] * unit[0]
        turning = (pull * d).sum()
        sign = np.sign(lever)
        magnitude = turning / abs(lever)
        miss = np.hypot(*(sign * total - magnitude * unit))
        return miss / magnitude, magnitude

    best = None
    centroid = (xy * ds[:, None]).sum(axis=0) / ds.sum()
    reach = np.ptp(xy, axis=0).max()
    starts = [
        centroid + far * reach * np.array([math.cos(angle), math.sin(angle)])
        for angle in np.linspace(0, 2 * np.pi, 24, endpoint=False)
        for far in (0.1, 0.4, 1.5)
    ]
    for start in sorted(starts, key=lambda q: at(q)[0])[:8]:  # the search goes on where it begins well
        found = minimize(
            lambda q: at(q)[0],
            start,
            method="Nelder-Mead",
            options={"xatol": 1e-6, "fatol": 1e-12, "maxiter": 2000},
        )
        if np.abs(found.x - centroid).max() < 20 * reach and (best is None or found.fun < best[0]):
            best = (found.fun, at(found.x)[1])
    assert best[0] < 1e-4
    return best[1]


@pytest.mark.parametrize(
    ("runs", "force", "point"),
    [
        ([[0, 0, 0, 150]], (0, -1.0), (80, 75)),
        ([[0, 0, 0, 150], [60, 0, 60, 150]], (0, -1.0), (200, 75)),
        ([[60, 0, 0, 0], [0, 0, 0, 150], [0, 150, 60, 150]], (0, -1.0), (220, 75)),
        ([[0, 0, 0, 150], [0, 0, 80, 0]], (0.5, -1.0), (150, 40)),
    ],
)
def test_the_instantaneous_centre_agrees_with_an_independent_search(runs, force, point):
    group = welds.in_plane_group(np.array(runs, dtype=float), 8.0, 482.0)
    a = np.array(runs, dtype=float)
    length = np.hypot(a[:, 2] - a[:, 0], a[:, 3] - a[:, 1])
    centroid = ((a[:, :2] + a[:, 2:]) / 2 * length[:, None]).sum(axis=0) / length.sum()
    arm = np.array(point) - centroid
    moment = arm[0] * force[1] - arm[1] * force[0]
    mine = welds.instantaneous_centre_capacity(group, force, moment) * math.hypot(*force)
    assert mine == pytest.approx(independent_capacity(runs, 8.0, 482.0, force, point), rel=0.01)


def test_leg_rules_follow_the_tables():
    assert [welds.minimum_leg(t) for t in (6, 6.1, 13, 13.1, 19, 19.1)] == [3, 5, 5, 6, 6, 8]
    assert welds.maximum_leg_at_edge(5) == 5
    assert welds.maximum_leg_at_edge(10) == 8
    assert welds.available_per_length_asd(482, 6) == pytest.approx(0.6 * 482 * 6 * 0.70711 / 2, rel=1e-4)
    assert welds.available_per_length_asd(482, 20, (250, 400, 6)) == pytest.approx(
        min(0.6 * 250 * 6 / 1.5, 0.6 * 400 * 6 / 2)
    )
