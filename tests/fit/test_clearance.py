"""Clearances pinned to the drawing: the air is the least there is, and lies where it is drawn."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from manifold3d import Manifold

from tests.fit.test_fit import block
from urial import families
from urial.assembly.model import Assembly
from urial.fit import fit
from urial.fit.clearance import clearance_findings, gaps, nearest, on_faces, things
from urial.fit.model import Finding
from urial.job import edit
from urial.job.file import Document, load, save
from urial.job.model import Pinned
from urial.job.survey import Block
from urial.papers.together_page import known
from urial.prove.verdict import prove

JOB = families.new_job("rear-receiver")


def pinned(job, *pins):
    return job.model_copy(update={"clearances": tuple(Pinned(a=a, b=b, wanted_mm=w) for a, b, w in pins)})


def two(gap):
    return Assembly(
        (block("left", (0, 0, 0), (10, 20, 30)), block("right", (10 + gap, 5, 5), (30 + gap, 15, 15)))
    )


@pytest.mark.parametrize("gap", [0.5, 7.0, 120.0])
def test_the_air_between_two_blocks_is_what_a_rule_says(gap):
    job = pinned(JOB, ("1/left", "1/right", 7.0))
    (g,) = gaps(job, two(gap))
    assert g.mm == pytest.approx(gap, abs=1e-6) and g.short == (gap < 7.0)
    p, q = g.ends
    assert p[0] == pytest.approx(10) and q[0] == pytest.approx(10 + gap) and p[1:] == pytest.approx(q[1:])
    found = [f for f in clearance_findings(job, two(gap)) if isinstance(f, Finding)]
    assert bool(found) == (gap < 7.0)
    if found:
        assert found[0].kind == "clash" and found[0].amount == pytest.approx(7.0 - gap)


def test_what_runs_into_each_other_has_no_air():
    (g,) = gaps(pinned(JOB, ("1/left", "1/right", 0.0)), two(-3.0))
    assert g.mm == 0.0 and g.ends[0] == g.ends[1]


BODY = st.tuples(st.floats(4, 50), st.floats(4, 50), st.floats(4, 50), st.integers(0, 2))


@given(BODY, BODY, st.tuples(*[st.floats(-150, 150)] * 3), st.tuples(*[st.floats(0, 360)] * 6))
@settings(max_examples=80, deadline=None)
def test_the_two_places_are_as_near_as_the_bodies(one, other, off, turn):
    def body(size, angles):
        x, y, z, kind = size
        made = Manifold.cube([x, y, z], True) if kind < 2 else Manifold.cylinder(z, x / 2, y / 2, 20)
        if kind == 1:
            made = made + Manifold.cube([x / 3, 2 * y, z / 3], True).translate([x / 2, 0, 0])
        return made.rotate(list(angles))

    a, b = body(one, turn[:3]), body(other, turn[3:]).translate(list(off))
    if (a ^ b).volume() > 0:
        return
    mm = float(a.min_gap(b, 5000.0))
    p, q = nearest(a, b, mm)
    assert np.linalg.norm(np.subtract(p, q)) == pytest.approx(mm, abs=0.02)


@given(st.lists(st.tuples(*[st.floats(-20, 20)] * 3), min_size=4, max_size=4))
def test_the_nearest_point_of_a_triangle_is_nearer_than_any_other_of_it(points):
    p, *corners = np.array(points)
    best = on_faces(p, np.array([corners]))
    grid = [(u, v) for u in np.linspace(0, 1, 15) for v in np.linspace(0, 1, 15) if u + v <= 1]
    others = [corners[0] + u * (corners[1] - corners[0]) + v * (corners[2] - corners[0]) for u, v in grid]
    assert np.linalg.norm(best - p) <= min(np.linalg.norm(o - p) for o in others) + 1e-6


def test_host_and_keep_outs_count_and_what_has_gone_is_named():
    box = Block(name="box", behind_mm=1400, long_mm=100, across_mm=0, wide_mm=200, height_mm=430)
    job = JOB.model_copy(update={"survey": JOB.survey.model_copy(update={"keep_outs": (box,)})})
    build = families.build(job)
    known = things(job, build)
    rail = next(k for k in known if k.startswith("host "))
    job = pinned(job, ("1/receiver", "keep-out box", 20.0), ("1/receiver", rail, 5.0), ("1/gone", rail, 1.0))
    box_gap, rail_gap = gaps(job, build)
    assert box_gap.ends[1][0] == pytest.approx(-1400, abs=0.01) and rail_gap.mm > 0
    said = [f for f in clearance_findings(job, build) if isinstance(f, str)]
    assert len(said) == 1 and "1/gone" in said[0] and "not there now" in said[0]
    lower = edit.put(job, "stack.1.drop_mm", 110.0)
    assert gaps(lower, families.build(lower))[1].mm != rail_gap.mm  # it follows the part


def test_a_pin_is_kept_with_the_job_and_found_by_fit(tmp_path):
    job = pinned(JOB, ("2/drop plate", "1/side plate.left", 900.0))
    save(tmp_path / "a.urial", Document(job))
    again = load(tmp_path / "a.urial").job
    assert again.clearances == job.clearances
    found = [f for f in fit(again, moves=False).findings if f.id.startswith("clearance ")]
    assert len(found) == 1 and "900 mm are pinned" in found[0].words


def test_a_packet_written_again_says_what_was_pinned_since():
    """The page once kept what it had found for the same pieces, whatever was pinned after it."""
    parts = [p.key for p in families.build(JOB).parts if not p.hardware][:2]
    before = known(prove(JOB))
    after = known(prove(pinned(JOB, (*parts, 900.0))))
    assert len(after.findings) == len(before.findings) + 1
