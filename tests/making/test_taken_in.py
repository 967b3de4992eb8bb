"""Steel that came out otherwise, taken into the part by what was measured at its step: then the step is right
again, for that one piece.
"""

import math

import pytest

from urial.families import build, new_job
from urial.geometry import path as paths
from urial.geometry.path import Arc
from urial.job.log import Entry
from urial.making.as_made import can_be_taken, taken_in
from urial.making.plan import plan
from urial.making.status import part_of, status
from urial.shop.snapshot import usual

SHOP = usual()
AT = "2026-11-03T08:00:00+00:00"


def entry(step, unit, what, figures):
    part = part_of(step, unit)
    of = max(len(step.parts), 1) if part else 1
    return Entry(id=f"{step.key}{unit}{what}", step=step.key, unit=unit, what=what, at=AT,
                 part=part, of=of, figures=figures)  # fmt: skip


def measured(job, kind, mark, **off):
    """A step of a job done as drawn and then measured, some of its figures off by so much."""
    made = plan(build(job))
    step = next(s for s in made.steps if s.kind == kind and s.marks == (mark,))
    names = {k.replace("_", " "): v for k, v in off.items()}
    log = [
        entry(step, 1, "done", dict(step.figures)),
        entry(step, 1, "read", {k: step.figures[k] + v for k, v in names.items()}),
    ]
    return next(r for r in status(made, log) if r.step.key == step.key), log


def again(job, log, key_kind, part):
    rows = [r for r in status(plan(build(job)), log) if r.step.kind == key_kind and part in r.step.parts]
    return rows[0]


@pytest.mark.parametrize(("what", "off"), [("H1_along", 0.7), ("H1_up", -0.8)])
def test_a_hole_of_a_plate(what, off):
    job = new_job("recovery-point")
    row, log = measured(job, "drill", "A", **{what: off})
    assert row.state == "stale" and can_be_taken(row)
    part = part_of(row.step, 1)
    after = taken_in(job, build(job), SHOP, row)
    assert not [w for w in build(after).warnings if "does not fit" in w]
    was, now = (build(x).by_key[part].shape.holes for x in (job, after))
    moved = [math.dist(a[:2], b[:2]) for a, b in zip(was, now, strict=True)]
    assert sorted(moved) == pytest.approx([0, 0, 0, abs(off)], abs=1e-6)
    other = next(p for p in row.step.parts if p != part)
    assert build(after).by_key[other].shape == build(job).by_key[other].shape
    assert again(after, log, "drill", part).state in ("done", "part")
    # said anew, it stands in the place of what was said before
    twice = taken_in(after, build(after), SHOP, row) or after
    assert len(twice.stack[0].changes) == len(after.stack[0].changes)


def test_a_hole_of_a_bar():
    job = new_job("rear-receiver")
    row, log = measured(job, "drill", "C", H1_along=-1.5)
    after = taken_in(job, build(job), SHOP, row)
    part = part_of(row.step, 1)
    was, now = (build(x).by_key[part].shape.cuts[0].centre for x in (job, after))
    assert math.dist(was, now) == pytest.approx(1.5)
    assert again(after, log, "drill", part).state == "done"


def test_a_hole_of_a_bar_off_its_middle_is_for_a_person_to_draw():
    row, _ = measured(new_job("rear-receiver"), "drill", "C", H1_up=1.5)
    job = new_job("rear-receiver")
    assert can_be_taken(row) and taken_in(job, build(job), SHOP, row) is None


def test_a_bend():
    job = new_job("front-rail")
    row, log = measured(job, "bend", "A", angle=1.2)
    assert row.state == "stale"
    after = taken_in(job, build(job), SHOP, row)
    said = [w for w in build(after).warnings if "does not fit" in w]
    part = part_of(row.step, 1)
    arcs = [r for r in paths.runs(build(after).by_key[part].shape.path) if isinstance(r, Arc)]
    if said:  # what is welded beyond it would stand off: then it says so and stays as drawn
        assert "bridge a gap" in said[0] or "off its place" in said[0]
    else:
        assert math.degrees(arcs[0].angle) == pytest.approx(91.2)
        assert again(after, log, "bend", part).state == "done"


def test_a_bar():
    job = new_job("rear-receiver")
    row, log = measured(job, "saw", "A", length=-2.0)
    after = taken_in(job, build(job), SHOP, row)
    assert again(after, log, "saw", part_of(row.step, 1)).state == "done"


def test_what_no_part_can_have_is_not_taken():
    job = new_job("rear-receiver")
    made = plan(build(job))
    step = next(s for s in made.steps if s.kind == "run")
    log = [
        entry(step, 1, "done", dict(step.figures)),
        entry(step, 1, "read", {"leg": step.figures["leg"] - 2}),
    ]
    row = next(r for r in status(made, log) if r.step.key == step.key)
    assert row.state == "stale" and not can_be_taken(row)
    assert taken_in(job, build(job), SHOP, row) is None
