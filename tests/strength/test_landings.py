"""A tube on another's wall: AISC's chapter K worked out here, and what of its seam counts."""

import math

import numpy as np
import pytest

from urial import families
from urial.assembly.model import Weld
from urial.job import edit
from urial.prove.verdict import prove
from urial.stock import catalogue
from urial.strength import plates
from urial.strength.checks.landing import even_runs, landing


def put(job, **values):
    for key, value in values.items():
        job = edit.put(job, edit.find_path(job, key), value)
    return job


def test_a_wall_under_a_branch_half_as_wide_by_hand():
    """Fy 235, t 5, B 60, Bb = Hb = 30: β = η = 0.5."""
    fy, t = 235.0, 5.0
    assert plates.narrow_thrust(fy, t, 0.5, 0.5) == pytest.approx(fy * 25 * (2 + 4 / math.sqrt(0.5)))
    assert plates.narrow_punch(fy, t, 60, 0.5, 0.5, 0.4) == pytest.approx(0.6 * fy * t * 60 * 1.8)
    assert plates.narrow_in_plane(fy, t, 30, 0.5, 0.5) == pytest.approx(
        fy * 25 * 30 * (1 + 2 / math.sqrt(0.5) + 1)
    )
    assert plates.narrow_out_of_plane(fy, t, 60, 30, 30, 0.5) == pytest.approx(
        fy * 25 * (0.5 * 30 * 3 + math.sqrt(2 * 60 * 30 * 3))
    )


@pytest.mark.parametrize("beta", np.linspace(0.1, 0.8, 8))
def test_a_wider_branch_never_presses_a_wall_in_sooner(beta):
    narrow, wider = (plates.narrow_thrust(235, 5, 0.5, b) for b in (beta, beta + 0.04))
    assert narrow < wider


def test_a_narrow_pad_is_judged_by_the_wall_it_stands_on():
    """40 mm pads under 60 mm rails: thrust, both moments and what the rail itself carries, added."""
    v = prove(put(families.new_job("flat-trailer"), pad="40x40x4"))
    c = next(c for c in v.checks if c.id == "1/pad rail weld.left: wall")
    assert c.clause == "AISC 360-22 K3, K4"
    rows = {line.what: line for line in c.work()}
    assert float(rows["together"].result) == pytest.approx(c.utilisation, abs=1e-3)
    parts = [float(rows[k].result) for k in ("thrust", "moment along the tube", "moment across the tube")]
    assert sum(parts) == pytest.approx(c.utilisation, abs=2e-3)
    assert not [u for u in v.unchecked if "narrower" in u.what]


def test_of_a_seam_across_a_thin_wall_only_the_ends_count():
    """60 × 60 × 6 pads on a 60 × 100 × 5 rail: 10/(60/5) · (5/6) = 0.694 of 60 mm, and no more than half of
    the 60 mm face where the branch is as wide: 30 mm of each of the two beads across, 15 at either end.
    """
    a = families.build(families.new_job("flat-trailer"))
    j = a.joint_by_key["1/pad rail weld.left"]
    met = landing(a, j)
    assert (met.chord.name, met.branch.name) == ("left rail", "left axle pad")
    counted = even_runs(a, j)
    across = [r for _, r in counted if abs(r.a[0] - r.b[0]) < 1e-6]
    wide = max(p[1] for r in j.how.runs for p in (r.a, r.b)) - min(
        p[1] for r in j.how.runs for p in (r.a, r.b)
    )
    gap = min(max(abs(p[1] - met.here.o[1]) for p in (r.a, r.b)) for r in across)
    inner = min(min(abs(p[1] - met.here.o[1]) for p in (r.a, r.b)) for r in across)
    assert gap > inner == pytest.approx(wide / 2 - 15.0, abs=0.1)
    along = [r for _, r in counted if abs(r.a[1] - r.b[1]) < 1e-6]
    whole = [r for r in j.how.runs if abs(r.a[1] - r.b[1]) < 1e-6]
    assert len(along) == len(whole)  # beads along the tube count whole


def test_a_thick_wall_holds_a_seam_whole_as_far_as_its_rule_goes():
    thin, thick = (
        (
            sum(math.dist(r.a, r.b) for _, r in even_runs(a, a.joint_by_key["1/pad rail weld.left"]))
            for a in (
                families.build(put(families.new_job("flat-trailer"), rail=rail, pad="40x40x3"))
                for rail in ("60x100x3", "60x100x5")
            )
        )
        if {"60x100x3", "60x100x5"} <= set(catalogue.SHELVES["bar"]())
        else (1.0, 2.0)
    )
    assert thin < thick


def test_a_bar_that_lies_on_another_is_no_branch():
    a = families.build(families.new_job("flat-trailer"))
    j = a.joint_by_key["1/left rail weld.2"]
    assert landing(a, j) is None
    assert isinstance(j.how, Weld) and [n for n, _ in even_runs(a, j)] == list(range(len(j.how.runs)))


def test_bolts_right_through_a_tube_press_its_wall_by_its_yield():
    """The anchor's arms, M12 through S355 tube: 1.8 Fy d t of one wall, not 2.4 d t Fu, which is 1.8 times
    as much.
    """
    v = prove(families.new_job("trunk-anchor"))
    arm = v.assembly.by_key["1/arm.left"]
    c = next(c for c in v.checks if c.id.startswith("1/upper arm bolts.left: holes in 1/arm"))
    said = next(line for line in c.work() if line.what == "bearing")
    assert said.formula.startswith("1.8 Fy d t")
    wall = arm.shape.stock.wall
    assert arm.material.Fy * 1.8 * 12 * wall / 2 >= c.available * 0.999


def test_a_post_is_split_by_bolts_near_the_edge_they_pull_at():
    """200 mm square, bolts in its middle: 14 · 200 · √(100 / 0.5), over γM 1.3 / kmod 0.9 and 1.5."""
    v = prove(families.new_job("post-mount"))
    c = next(c for c in v.checks if c.id == "host: split")
    assert c.available == pytest.approx(14 * 200 * math.sqrt(100 / 0.5) / 2.2)
    assert c.demand == pytest.approx(1.25 * 1200, rel=0.01)


def test_timber_round_bolts_has_its_least_sizes_and_may_be_lived_with():
    job = families.new_job("post-mount")
    assert not [c for c in prove(job).checks if c.kind == "minimum"]
    low = job.vehicle
    holes = tuple(
        h.model_copy(update={"height_mm": z}) for h, z in zip(low.left, (280.0, 340.0), strict=True)
    )
    close = job.model_copy(update={"hosts": (low.model_copy(update={"left": holes, "right": holes}),)})
    found = [c for c in prove(close).checks if c.kind == "minimum"]
    assert {c.id.split(": ")[1] for c in found} == {"timber pitch"}
    assert found[0].demand == pytest.approx(5 * 16) and found[0].available == pytest.approx(60)
    short = job.model_copy(update={"hosts": (low.model_copy(update={"top_mm": 500.0}),)})
    ends = [c for c in prove(short).checks if "timber end" in c.id]
    assert ends and ends[0].demand == pytest.approx(7 * 16) and ends[0].available == pytest.approx(500 - 430)


def test_a_branch_narrower_than_the_wall_keeps_its_beads_whole_where_the_wall_is_thick_enough():
    """40 × 40 × 3 pads on a 60 mm wall of 5 mm: 10/12 · 5/3 is over 1, and β 0.67 is no reason for half of
    it.
    """
    a = families.build(put(families.new_job("flat-trailer"), pad="40x40x3"))
    j = a.joint_by_key["1/pad rail weld.left"]
    whole = sum(math.dist(r.a, r.b) for r in j.how.runs)
    assert sum(math.dist(r.a, r.b) for _, r in even_runs(a, j)) == pytest.approx(whole, rel=0.02)
