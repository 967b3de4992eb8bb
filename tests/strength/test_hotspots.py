"""Where a tube ends on another's wall: factors worked out here from the printed formulas, the hot-spot
curve, and joints that the formulas are not for.
"""

import itertools
import math

import numpy as np
import pytest

from urial import families
from urial.job import edit
from urial.prove.verdict import prove
from urial.strength.checks import hotspots


def test_the_curve_gives_114_at_16_mm_and_more_on_thin_walls_down_to_4():
    """log S = (12.476 − log 2e6) / 3 = 2.058; at 4 mm log N is 0.8916 of that."""
    assert hotspots.category(16.0) == pytest.approx(114.4, abs=0.1)
    assert hotspots.category(4.0) == pytest.approx(
        10 ** ((12.476 - (1 - 0.18 * math.log10(4)) * 6.30103) / 3)
    )
    assert hotspots.category(4.0) == pytest.approx(193.2, abs=0.1)
    assert hotspots.category(3.9) == hotspots.category(16.0)  # cracks from the root: no bonus
    assert hotspots.category(25.0) < hotspots.category(16.0)


@pytest.mark.parametrize(
    ("line", "thrust", "bent"),
    [
        # β 0.5, 2γ 20, τ 0.5, so τ^0.75 = 0.5946
        ("B", 0.057 * 20**1.95875 * 0.5946, 0.01325 * 20**2.12325 * 0.5946),
        ("C", 0.02175 * 20**2.245 * 0.5946, 0.4725 * 20**1.04725 * 0.5946),
        ("D", 0.06675 * 20**1.64925 * 0.5946, 0.0475 * 20**1.68475 * 0.5946),
        ("A, E", 1.4 * 0.29 * 20**1.21175, 1.4 * 0.14175 * 20**1.17125),
    ],
)
def test_a_square_branch_half_as_wide_by_hand(line, thrust, bent):
    f = hotspots.square(0.5, 20.0, 0.5)[line]
    assert f.thrust == pytest.approx(thrust, rel=2e-3)
    assert f.in_plane == pytest.approx(bent, rel=2e-3)
    assert f.out_plane == f.thrust


def test_the_chords_own_stress_by_hand():
    f = hotspots.square(0.5, 20.0, 0.5)
    assert f["C"].chord == pytest.approx(0.725 * 20**0.124 * 0.5**0.19)
    assert f["D"].chord == pytest.approx(1.373 * 20**0.1025 * 0.5**0.24)


def test_a_round_branch_square_to_its_chord_by_hand():
    """β 0.5, γ 12, τ 0.6, 90°, α 12."""
    f = hotspots.round_(0.5, 12.0, 0.6, math.pi / 2, 12.0)
    assert f["chord, saddle"].thrust == pytest.approx(12 * 0.6**1.1 * (1.11 - 3 * 0.02**2))
    assert f["chord, crown"].thrust == pytest.approx(12**0.2 * 0.6 * (2.65 + 5 * 0.15**2))  # 0.25 α = 3
    assert f["chord, crown"].in_plane == pytest.approx(1.45 * 0.5 * 0.6**0.85 * 12**0.66)
    assert f["chord, saddle"].out_plane == pytest.approx(12 * 0.6 * 0.5 * (1.7 - 1.05 / 8))
    assert f["branch, crown"].in_plane == pytest.approx(1 + 0.65 * 0.5 * 0.6**0.4 * 12**0.705)


@pytest.mark.parametrize("make", [hotspots.square])
def test_a_thicker_branch_never_stresses_the_chord_less(make):
    for line in "BCD":
        values = [make(0.6, 18.0, t)[line].thrust for t in np.linspace(0.3, 1.8, 16)]
        assert all(b > a for a, b in itertools.pairwise(values))


def test_a_brace_on_a_round_tube_is_held_at_its_hot_spot():
    v = prove(families.new_job("two-wheeler"))
    c = next(c for c in v.checks if c.id == "1/brace weld.left: hot spot")
    assert c.kind == "fatigue" and c.available == pytest.approx(hotspots.category(3.0))  # its wall is thin
    assert 0.2 < c.utilisation < 1.0
    said = {line.what: line for line in c.work()}
    assert "Efthymiou" in said["factors"].formula


def test_a_pad_on_a_rail_is_held_at_its_hot_spot_and_a_thinner_rail_is_worse():
    job = families.new_job("flat-trailer")
    pads = []
    for rail in ("60x100x5", "60x100x4"):
        try:
            v = prove(edit.put(job, "stack.1.rail", rail))
        except edit.EditError:
            continue
        pads.append(next(c for c in v.checks if c.id == "1/pad rail weld.left: hot spot").utilisation)
    assert pads and pads == sorted(pads)


def test_a_foot_outside_the_formulas_is_said():
    """A post 0.3 of a wide tube's face is narrower than the formulas go."""
    job = families.new_job("flat-trailer")
    job = edit.put(edit.put(job, "stack.1.side_mm", 300.0), "stack.1.side", "60x40x4")
    v = prove(job)
    assert [c for c in v.checks if "hot spot" in c.id]
    thin = edit.put(edit.put(job, "stack.1.pad", "20x20x2"), "stack.1.rail", "60x100x5")
    said = [u.what for u in prove(thin).unchecked if "again and again" in u.what]
    assert said and "outside CIDECT 8" in said[0]


def test_in_aluminium_a_hot_spot_bears_what_its_other_welds_do_of_steels():
    """28 of 80 (EN 1999-1-3 beside EN 1993-1-9): 114.4 becomes 40.0."""
    job = edit.put(families.new_job("two-wheeler"), "welding.electrode", "ER5356")
    for path in ("stack.1.tube_material", "stack.1.plate_material"):
        job = edit.put(job, path, "6061-T6")
    c = next(c for c in prove(job).checks if c.id == "1/brace weld.left: hot spot")
    assert c.available == pytest.approx(hotspots.category(16.0) * 28 / 80, rel=1e-3)
