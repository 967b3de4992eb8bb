"""The chance of being short: what strays strays as its table says, and the count is the count."""

import dataclasses
import math

import numpy as np
import pytest
from scipy import stats

from urial import families
from urial.assembly.model import Bolts, BuildError, Weld
from urial.geometry.shape import Bar, Plate
from urial.prove import chance as chances
from urial.prove.chance import Draw, Share, chance, rows, sample, strayed, strayed_lengths
from urial.prove.verdict import prove


@pytest.fixture(scope="module")
def job():
    return families.new_job("shackle-insert")


@pytest.mark.parametrize("kind", ["thickness", "leg", "yield", "tensile", "filler", "bolt"])
def test_factors_have_the_mean_and_the_scatter_of_their_table(kind):
    drawn = np.array([Draw(7, n).times(kind, "x") for n in range(3000)])
    row = rows()[kind]
    assert drawn.min() > 0
    assert drawn.mean() == pytest.approx(row.mean, abs=4 * row.mean * row.cov / math.sqrt(3000))
    assert drawn.std() / drawn.mean() == pytest.approx(row.cov, rel=0.06)


def test_tensile_strength_follows_yield_strength_as_far_as_the_table_says():
    both = np.array([[Draw(3, n).times(k, "x") for k in ("yield", "tensile")] for n in range(3000)])
    assert np.corrcoef(np.log(both.T))[0, 1] == pytest.approx(rows()["tensile"].with_yield, abs=0.03)


def test_a_draw_is_its_own_whoever_asks_first():
    one, other = Draw(1, 5), Draw(1, 5)
    first = (one.times("leg", "a"), one.times("leg", "b"))
    assert (other.times("leg", "b"), other.times("leg", "a")) == first[::-1]
    assert Draw(1, 6).times("leg", "a") != first[0] != Draw(2, 5).times("leg", "a")


def test_everything_named_strays_and_what_is_sold_with_a_rating_does_not():
    start = families.new_job("rear-receiver")
    draw = Draw(1, 1)
    before, after = families.build(start), strayed(families.build(start), draw)
    for a, b in zip(before.parts, after.parts, strict=True):
        if a.rated:
            assert a == b
            continue
        assert a.material.Fy != b.material.Fy <= b.material.Fu
        if isinstance(a.shape, Plate):
            assert 0.8 < b.shape.t / a.shape.t < 1.2 and b.shape.t != a.shape.t
        if isinstance(a.shape, Bar) and a.shape.stock.wall:
            assert b.shape.stock.wall != a.shape.stock.wall
    left, right = (p for p in after.parts if p.name.endswith("side plate"))
    assert left.shape.t == right.shape.t and left.material == right.material  # cut from one sheet
    for a, b in zip(before.joints, after.joints, strict=True):
        if isinstance(a.how, Weld):
            assert a.how.leg != b.how.leg and a.how.electrode.FEXX != b.how.electrode.FEXX
        if isinstance(a.how, Bolts):
            assert a.how.grade.Fu != b.how.grade.Fu
    lengths = strayed_lengths(start, draw)
    values = [p.values for p in start.stack], [p.values for p in lengths.stack]
    changed = {
        k
        for a, b in zip(*values, strict=True)
        for k in type(a).model_fields
        if getattr(a, k) != getattr(b, k)
    }
    assert {"pin_to_ball_mm", "drop_mm"} <= changed
    assert not {k for k in changed if "weld" in k or "plate_mm" in k}


def test_weaker_steel_alone_is_used_more_by_as_much(job, monkeypatch):
    """With nothing else straying, a plain yield check goes as one over the strength."""
    still = {
        k: dataclasses.replace(r, mean=1.0, cov=0.0, sd_mm=0.0, with_yield=0.0) for k, r in rows().items()
    }
    half = {k: dataclasses.replace(r, mean=0.8) if k in ("yield", "tensile") else r for k, r in still.items()}
    monkeypatch.setattr(chances, "rows", lambda: still)
    as_drawn = prove(job)
    same = prove(job, lambda j: strayed(families.build(j), Draw(1, 1)))
    assert [c.utilisation for c in same.checks] == pytest.approx([c.utilisation for c in as_drawn.checks])
    monkeypatch.setattr(chances, "rows", lambda: half)
    weak = {c.id: c for c in prove(job, lambda j: strayed(families.build(j), Draw(1, 1))).checks}
    times = [weak[c.id].utilisation / c.utilisation for c in as_drawn.checks if c.utilisation > 1e-6]
    assert min(times) > 1 - 1e-9 and max(times) < 1 / 0.8 + 1e-9
    assert sum(t == pytest.approx(1 / 0.8) for t in times) > len(times) / 4


def test_the_count_is_that_of_the_samples_one_by_one(job):
    found = chance(job, 12)
    each = [sample(job, 1, n) for n in range(12)]
    assert found.hard.used.tolist() == sorted(o.hard[0] for o in each if o)
    assert found.unbuilt == sum(o is None for o in each)
    assert sum(n for _, n in found.hard.governs) == len(found.hard.used)
    worst = max(c.utilisation for c in prove(job).checks if c.kind not in ("rating", "fatigue"))
    assert found.hard.as_drawn == worst


def test_the_interval_is_clopper_and_pearsons():
    share = Share(np.array([0.5] * 45 + [1.2] * 5), (), 0.5)
    test = stats.binomtest(5, 50).proportion_ci(0.95, method="exact")
    assert share.between == pytest.approx((test.low, test.high)) and share.chance == 0.1
    none = Share(np.full(50, 0.5), (), 0.5)
    assert none.between[0] == 0 and none.between[1] == pytest.approx(1 - 0.025 ** (1 / 50))
    assert "none of 50 short" in none.words
    assert "every one of 3 short" in Share(np.full(3, 2.0), (), 2.0).words
    assert Share(np.zeros(0), (), 0.5).words.startswith("none of the samples")


def test_other_processes_and_a_cluster_find_the_very_same(job, monkeypatch):
    here = [sample(job, 4, n) for n in range(6)]
    used = sorted(o.hard[0] for o in here if o)
    monkeypatch.setattr(chances, "FEW", 0)
    monkeypatch.setattr(chances, "CHUNK", 2)
    told = []
    assert chance(job, 6, 4, tell=told.append).hard.used.tolist() == used
    assert told[-1] == "6 of 6"
    from distributed import LocalCluster

    with LocalCluster(n_workers=1, threads_per_worker=2, processes=False, dashboard_address=None) as cluster:
        assert chance(job, 6, 4, cluster.scheduler_address).hard.used.tolist() == used


def test_stopped_early_what_is_known_counts(job):
    turns = iter([False, True, True, True])
    found = chance(job, 24, stopped=lambda: next(turns))
    assert len(found.hard.used) + found.unbuilt == chances.CHUNK and found.asked == 24


def test_a_cluster_that_is_not_there_is_said_in_one_sentence(job):
    with pytest.raises(BuildError, match="No Dask scheduler answers at nonsense"):
        chance(job, 2, dask="nonsense://nowhere")


@pytest.mark.parametrize(("z", "off"), [(9.0, 3.0), (-9.0, -3.0), (1.5, 1.5), (-2.9, -2.9)])
def test_a_length_is_never_off_by_more_than_three_times_its_scatter(monkeypatch, z, off):
    monkeypatch.setattr(Draw, "normal", lambda self, kind, of: z)
    assert Draw(1, 1).off("x") == pytest.approx(off * rows()["length"].sd_mm)
