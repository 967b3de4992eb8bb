"""A branch's end fits its main: each point of the template lies on the main's surface."""

import json
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial.calc import registry
from urial.making.copes import Meeting, NoCope, depths, two_cuts


@given(st.floats(20, 160), st.floats(0.2, 1.0), st.floats(-1, 1), st.integers(4, 60))
def test_the_cut_branch_touches_the_main_all_round(angle, share, off, points):
    """The main lies along x; the branch comes down at an angle in the x–z plane, e to one side: the point of
    its outside at φ, s along its axis, is R from the main's axis.
    """
    main = 40.0
    branch = share * main
    e = off * (main - branch)
    theta = math.radians(angle)
    rows = depths(Meeting(branch, branch / 5, main, angle, e), points, "hole_saw")
    shift = []
    for along, deep in rows:
        phi = along / branch
        # s from the axes' meeting: the branch's axis (cos θ, 0, sin θ), across it −(sin θ, 0, −cos θ)
        high = math.sqrt(max(main**2 - (branch * math.sin(phi) + e) ** 2, 0.0))
        s = (high + branch * math.cos(phi) * math.cos(theta)) / math.sin(theta)
        z = s * math.sin(theta) - branch * math.cos(phi) * math.cos(theta)
        y = branch * math.sin(phi) + e
        assert math.hypot(y, z) == pytest.approx(main, rel=1e-9)
        shift.append(s - deep)
    assert max(shift) - min(shift) < 1e-9 and min(d for _, d in rows) == 0.0


def test_a_square_branch_of_forty_on_sixty_by_hand():
    """Down the side the main is √(30² − 20²) = 22.36 high, on its crown 30: 7.64 between."""
    rows = depths(Meeting(20, 3, 30, 90), 4, "hole_saw")
    assert [d for _, d in rows] == pytest.approx([30 - math.sqrt(500), 0, 30 - math.sqrt(500), 0], abs=1e-9)
    assert [a for a, _ in rows] == pytest.approx([0, 10 * math.pi, 20 * math.pi, 30 * math.pi])


def test_ground_through_the_wall_the_greatest_over_it_counts():
    """At 90° the inside of the wall, 17 out, stands √(30² − 17²) = 24.72 high on the side, over 22.36."""
    saw = depths(Meeting(20, 3, 30, 90), 4, "hole_saw")
    wrap = depths(Meeting(20, 3, 30, 90), 4, "wrap")
    assert saw[0][1] == pytest.approx(7.6393, abs=1e-4)
    assert wrap[0][1] == pytest.approx(30 - math.sqrt(900 - 289), abs=1e-4)


def test_a_branch_beside_the_main_is_refused_and_the_calculator_keeps_its_contract():
    with pytest.raises(NoCope, match="not covered by the main"):
        depths(Meeting(20, 3, 30, 90, 10.5), 8, "hole_saw")
    asked = {
        "branch_od_mm": 40,
        "branch_wall_mm": 3,
        "main_od_mm": 60,
        "angle_deg": 45,
        "offset_mm": 5,
        "points": 12,
        "method": "wrap",
    }
    found = registry.ask("cope", json.dumps(asked))
    assert len(found["template_mm"]) == 12 and found["min_mm"] == 0.0
    assert found["max_mm"] == max(d for _, d in found["template_mm"])
    for change in ({"angle_deg": 180}, {"offset_mm": 11}, {"method": "knife"}, {"branch_wall_mm": 21}):
        with pytest.raises(registry.CalcError):
            registry.ask("cope", json.dumps({**asked, **change}))


def test_two_straight_cuts_and_the_gap_they_leave():
    """26.9 on 48.3: √(24.15² − 13.45²) = 20.06, tan β = 4.09/13.45: 16.9°; 24.15/cos β − 24.15 = 1.09 mm;
    and by trying every tilt with the two cuts pushed on to the round.
    """
    beta, gap = two_cuts(13.45, 24.15)
    assert beta == pytest.approx(16.92, abs=0.02) and gap == pytest.approx(1.094, abs=0.005)
    ys = np.linspace(0, 13.45, 2001)
    round_ = np.sqrt(24.15**2 - ys**2)

    def widest(angle):
        line = -ys * math.tan(math.radians(angle))
        return float(np.max(line + np.max(round_ - line) - round_))

    tried = {a: widest(a) for a in np.linspace(0, 45, 901)}
    best = min(tried, key=tried.get)
    assert best == pytest.approx(beta, abs=0.06) and tried[best] == pytest.approx(gap, abs=0.01)
    with pytest.raises(NoCope, match="reaches past"):
        two_cuts(30.0, 24.0)
