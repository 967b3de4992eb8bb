"""Small choices on the way from checks to words, each with what it must be by hand: which load is told
first, what a link is used to in some cases, what a kilogram costs, what may be left after a test.
"""

import math
from types import SimpleNamespace

import numpy as np
import pytest

from urial import families
from urial.assembly.bodies import mass
from urial.assembly.model import Weld
from urial.geometry.shape import Bar
from urial.job import edit
from urial.job.host import Wheeled
from urial.prove import bump as bumps
from urial.prove import costs, rating_plate, remedies, sizing, trade
from urial.prove.prooftest import proof_tests
from urial.prove.verdict import prove
from urial.stock import catalogue


@pytest.fixture(scope="module")
def anchors():
    """Six places, each with cases of its own."""
    return prove(families.new_job("front-rail"))


def cases_of(v, socket):
    return [
        n for n, c in enumerate(v.cases) if any(name.removesuffix(" mouth") == socket for name in c.loads)
    ]


@pytest.mark.parametrize("name", ["recovery-point", "front-rail", "rack-carrier", "ball-mount"])
def test_the_place_whose_cases_use_the_part_most_is_told_first(name):
    v = prove(families.new_job(name))
    used = {
        s: max(c.by_case[n] for c in v.checks if len(c.by_case) == len(v.cases) for n in cases_of(v, s))
        for s in v.loaded
    }
    assert [used[s] for s in v.loaded] == sorted(used.values(), reverse=True)
    assert max(used.values()) > 0


def test_a_link_of_one_place_is_used_as_the_worst_of_that_place_s_cases(anchors):
    v = anchors
    apart = 0
    for socket in v.loaded:
        some = cases_of(v, socket)
        for c in (c for c in v.checks if len(c.by_case) == len(v.cases)):
            assert v._in_cases(c, some).utilisation == pytest.approx(max(c.by_case[n] for n in some))
        assert 0 < len(some) < len(v.cases)
        for link in v.chain_from((socket,)):
            of_link = [c for c in v.checks if c.link == link.link.id and len(c.by_case) == len(v.cases)]
            if not of_link or link.worst is None:
                continue
            worst = max(max(float(c.by_case[n]) for n in some) for c in of_link)
            assert link.worst.utilisation == pytest.approx(worst)
            if link.worst.kind != "fatigue":
                assert link.worst.case in {v.cases[n].id for n in some}
            apart += worst < max(c.utilisation for c in of_link) - 1e-6
    assert apart  # the other place's cases are worse somewhere, and are not told here


def test_a_price_is_the_sum_of_bars_plates_and_bought_pieces_each_by_its_own_kilogram():
    a = families.build(families.new_job("winch-cradle"))
    kg = {"bar": 0.0, "plate": 0.0, "hardware": 0.0}
    for p in a.parts:
        kind = "hardware" if p.hardware else "bar" if isinstance(p.shape, Bar) else "plate"
        kg[kind] += mass(p)
    assert min(kg.values()) > 0
    each = {"bar": 1.0, "plate": 100.0, "hardware": 1e4}
    assert sizing.price_of(a, each) == pytest.approx(sum(each[k] * kg[k] for k in kg))
    for k in each:
        assert sizing.price_of(a, {n: v for n, v in each.items() if n != k}) is None


@pytest.mark.parametrize(("times", "target", "words"), [(3.0, 1.0, "is short"), (1.0, 0.01, "% used")])
def test_somebody_else_s_limit_is_said_as_short_or_as_used(times, target, words):
    job = families.new_job("rear-receiver")
    for path in ("duty.trailer_mass_kg", "duty.tongue_mass_kg"):
        job = edit.put(job, path, edit.get(job, path) * times)
    found = sizing.size(job, sizing.Wish(target=target))
    assert not found.found and found.why.startswith("No size mends what somebody else limits")
    assert words in found.why


def test_no_more_than_two_stronger_steels_are_tried_the_least_first():
    strength = {m.name: m.Fy for m in catalogue.materials().values()}
    found = list(remedies._stronger("material", "S235"))
    assert len(found) == 2
    assert strength["S235"] < strength[found[0]] <= strength[found[1]]


def test_a_tenth_of_the_way_may_be_left_after_a_proof_and_what_a_gauge_can_read():
    for name in ("rear-receiver", "flat-carrier", "rail-cradle"):
        for t in proof_tests(prove(families.new_job(name))):
            assert t.limit_mm == pytest.approx(max(t.gauge.main[0] / 10, 0.05))


def test_a_bump_is_the_energy_of_the_heavier_of_both_in_the_part_s_spring():
    """F = v √(m k), v 2.5 km/h, m its own mass, no less than another car's 1 500 kg."""
    v = prove(families.new_job("ball-mount"))
    assert isinstance(v.job.vehicle, Wheeled)
    own = v.job.vehicle.standing()
    for kg, want in ((own, max(own, 1500.0)), (700.0, 1500.0)):
        with pytest.MonkeyPatch.context() as patch:
            patch.setattr(Wheeled, "standing", lambda _, kg=kg: kg)
            b = bumps.bump(v)
        assert b.kg == want
        assert b.force_N == pytest.approx(2.5 / 3.6 * math.sqrt(want * b.stiffness * 1000))


def test_how_many_more_are_short_is_the_rest_of_them():
    v = prove(families.new_job("rear-receiver"))
    for count, words in ((1, "used."), (2, "and 1 more."), (5, "and 4 more.")):
        about = SimpleNamespace(short=v.checks[:count], unchecked=(), job=v.job)
        assert rating_plate.unsure(about)[0].endswith(words)


# ---- ways of the trade


def test_a_share_is_two_at_least_and_longer_ones_go_before():
    a, b, c = (SimpleNamespace(key=k) for k in "abc")
    rows = [(900.0 - n, a, b if n % 2 else c, None, None) for n in range(2 * trade.BRACES)]
    kept = list(trade._spread(rows))
    each = max(trade.BRACES // 2, 2)
    assert [r[0] for r in kept] == [900.0 - n for n in range(2 * each)]
    many = [(500.0, a, SimpleNamespace(key=str(n // 5)), None, None) for n in range(10 * trade.BRACES)]
    assert len(list(trade._spread(many))) == 2 * (2 * trade.BRACES)


def test_braces_are_looked_for_from_the_longest_on(monkeypatch):
    v = prove(families.new_job("front-rail"))
    asked = []
    monkeypatch.setattr(trade, "_spread", lambda rows: asked.extend(r[0] for r in rows) or [])
    assert not list(trade._braces(v.job, v, trade.weakest(v)))
    assert len(asked) > 3 and asked == sorted(asked, reverse=True)


def test_a_gusset_is_as_thick_and_as_welded_as_the_thinner_of_both_lets_it(monkeypatch):
    v = prove(families.new_job("flat-carrier"))
    asked = []
    monkeypatch.setattr(trade, "_plate_name", lambda job, t: asked.append(t) or "6 mm")
    seen = 0
    for kind, change, *_ in trade._gussets(v.job, v.assembly, trade.weakest(v)):
        family = kind.removeprefix("gusset ")
        j = next(j for j in v.assembly.joints if j.family == family and isinstance(j.how, Weld))
        both = [v.assembly.by_key[k].shape for k in (j.a, j.b)]
        thin = min(m.stock.wall if isinstance(m, Bar) else m.t for m in both)
        assert asked[-1] == pytest.approx(0.75 * thin)
        assert change.weld_mm == pytest.approx(min(max(round(0.6 * thin), 3.0), 8.0))
        seen += 1
    assert seen and np.isfinite(asked).all()


def test_where_one_of_two_has_no_parts_there_is_no_shape_to_compare():
    whole = families.build(families.new_job("ball-mount"))
    empty = SimpleNamespace(parts=())
    assert costs._shape(empty, whole) == costs._shape(whole, empty) == []


def test_what_swings_keeps_its_own_case_and_the_worst_of_those_it_is_asked_in():
    v = prove(families.new_job("ball-mount"))
    c = next(c for c in v.checks if c.kind == "fatigue" and min(c.by_case) == 0.0 < max(c.by_case))
    loaded, idle = int(np.argmax(c.by_case)), int(np.argmin(c.by_case))
    both = v._in_cases(c, [idle, loaded])
    assert both.utilisation == max(c.by_case) and both.case == c.case
    assert v._in_cases(c, [idle]).utilisation == 0.0
