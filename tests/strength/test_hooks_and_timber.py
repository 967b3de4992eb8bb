"""Hooks as curved bars and steel on timber, against integration and against values worked out here."""

import math

import numpy as np
import pytest
from scipy.integrate import quad

from urial import families
from urial.job import edit
from urial.prove.verdict import prove
from urial.strength.checks.hooks import curved
from urial.strength.checks.timber import embedment


@pytest.mark.parametrize("radius, deep, wide", [(17.0, 42.0, 38.1), (10.0, 60.0, 12.0), (80.0, 25.0, 50.0)])
def test_a_curved_bars_stress_holds_its_force_and_its_moment(radius, deep, wide):
    """σ(r) = N/A + M (rn − r)/(A e r) integrates to 1 N and, about the middle, to 1 N × R."""
    area, middle, inside = curved(radius, deep, wide)
    neutral = deep / math.log((radius + deep) / radius)
    e = middle - neutral

    def stress(r):
        return 1 / area + middle * (neutral - r) / (area * e * r)

    assert stress(radius) == pytest.approx(inside)
    outer = radius + deep
    assert quad(lambda r: wide * stress(r), radius, outer)[0] == pytest.approx(1.0, rel=1e-6)
    turning = quad(lambda r: wide * stress(r) * (middle - r), radius, outer)[0]
    assert turning == pytest.approx(middle, rel=1e-6)


def test_a_hardly_curved_bar_is_a_straight_one():
    area, middle, inside = curved(4000.0, 40.0, 10.0)
    assert inside == pytest.approx(1 / area + 6 * middle / (10.0 * 40.0**2), rel=0.01)


def test_wood_round_a_bolt_is_stronger_along_the_grain():
    """M16 in C24: 0.082 × 0.84 × 350 = 24.1 MPa along, over 1.35 + 0.015 × 16 = 1.59 across (EN 1995-1-1)."""
    along, across = embedment(16.0, np.array([0.0, math.pi / 2]))
    assert along == pytest.approx(24.108, abs=0.01) and across == pytest.approx(24.108 / 1.59, abs=0.01)


def test_a_bolt_through_a_post_by_johansens_lesser_mode():
    """M16 8.8 (fu 800) in 200 mm of timber: crushing 0.5 fh t d, or bending 1.15 √(2 My fh d),
    My = 0.3 fu d^2.6."""
    v = prove(families.new_job("post-mount"))
    check = next(c for c in v.checks if c.id == "1/post bolts.left: holes in host")
    rows = {line.what: line.result for line in check.working()}
    fh = float(rows["wood round a bolt"].split()[0])
    bend = 1.15 * math.sqrt(2 * 0.3 * 800 * 16**2.6 * fh * 16)
    assert check.available == pytest.approx(min(0.5 * fh * 200 * 16, bend) / 2.2, rel=5e-3)


def test_a_steel_post_is_a_tube_and_its_bolts_bear_on_its_wall():
    job = edit.put(families.new_job("post-mount"), "vehicle.made_of", "steel")
    v = prove(job)
    bent = next(c for c in v.checks if c.id == "host: bending")
    assert bent.available == pytest.approx(235 / 1.67)
    inside = 200.0 - 2 * 5.0
    modulus = (200.0**4 - inside**4) / (6 * 200.0)
    wood = next(c for c in prove(families.new_job("post-mount")).checks if c.id == "host: bending")
    assert bent.demand / wood.demand == pytest.approx((200.0**3 / 6) / modulus, rel=1e-6)
    assert not [c for c in v.checks if "EN 1995" in c.clause]


@pytest.mark.parametrize("name, path", [("pintle", "stack.2"), ("hook-plate", "stack.1")])
def test_more_metal_in_a_hook_never_makes_it_weaker(name, path):
    job, before = families.new_job(name), None
    for deep in (28.0, 34.0, 40.0):
        v = prove(edit.put(job, f"{path}.deep_mm", deep))
        used = next(c for c in v.checks if c.id.endswith("hook: hook")).utilisation
        assert before is None or used < before
        before = used


def test_a_lift_is_held_by_the_latch_and_by_nothing_else():
    """Jackknife and bump press down or pull; only a rebound lifts: two flats hold it by M = P L/4."""
    v = prove(families.new_job("pintle"))
    latch = next(c for c in v.checks if c.id == "2/hook: latch")
    ups = [max(c.loads["2/hook"][2], 0.0) for c in v.cases if "2/hook" in c.loads]
    assert latch.demand == pytest.approx(max(ups), abs=1.0)
