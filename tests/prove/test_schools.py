"""Every way of judging beside the others, and what is meant to give way first."""

import dataclasses
import math

import pytest

from urial import families
from urial.job import edit
from urial.prove.schools import side_by_side
from urial.prove.sizing import Wish, size
from urial.prove.verdict import prove


@pytest.fixture(scope="module")
def job():
    return families.new_job("rear-receiver")


def test_each_way_is_the_verdict_that_way(job):
    ways = side_by_side(job)
    assert {w.path for w in ways} == {"proof.basis", "proof.weld_method", "proof.foot"}
    assert len(ways) == 3 + 2 + 3 and sum(w.own for w in ways) == 3
    for w in ways:
        checks = [
            c for c in prove(edit.put(job, w.path, w.value)).checks if c.kind not in ("rating", "fatigue")
        ]
        assert w.utilisation == checks[0].utilisation and w.governs == checks[0].name
    own = {w.utilisation for w in ways if w.own}
    assert len(own) == 1  # the job as it is, three times
    assert side_by_side(job, stopped=lambda: True) == ()


def hard(v):
    return [c for c in v.checks if c.kind not in ("rating", "fatigue")]


def test_what_is_meant_to_give_way_first_is_held_to_be_the_weakest(job):
    v = prove(job)
    weakest = next(c for c in hard(v) if c.link in {link.id for link in v.links})
    fine = prove(edit.put(job, "proof.gives_first", weakest.link))
    assert not any("give way first" in w for w in fine.warnings) or hard(v)[0].link != weakest.link
    other = next(link for link in reversed(v.links) if link.yours and any(c.link == link.id for c in hard(v)))
    mine = max(c.utilisation for c in hard(v) if c.link == other.id)
    told = [w for w in prove(edit.put(job, "proof.gives_first", other.id)).warnings if "give way first" in w]
    assert len(told) == 1 and f"{100 * mine:.0f} %" in told[0] and hard(v)[0].name in told[0]
    gone = prove(edit.put(job, "proof.gives_first", "9/nothing"))
    assert any("not in the load chain" in w for w in gone.warnings)


def test_it_is_a_matter_of_strength_and_not_of_endurance(job):
    v = prove(job)
    assert v.governing.kind == "fatigue"
    tired = edit.put(job, "proof.gives_first", v.governing.link)
    strong = hard(v)[0].link != v.governing.link
    assert any("gives way before it" in w for w in prove(tired).warnings) == strong


def test_sizes_keep_it_the_weakest(job):
    v = prove(job)
    links = {link.id for link in v.links if link.yours}
    first = next(c for c in hard(v) if c.link in links)
    held = edit.put(job, "proof.gives_first", first.link)
    before = [w for w in prove(held).warnings if "give way first" in w]
    assert not before or hard(v)[0].link not in links  # only the vehicle itself is weaker
    found = size(held, Wish(only=("stack.1.plate", "stack.1.gusset")))
    for s in found.found:
        said = [w for w in prove(s.job).warnings if "give way first" in w]
        assert not said or before
    assert dataclasses.is_dataclass(found) and not math.isnan(found.found[0].mass_kg)
