"""A bar as long as it was cut: what is short opens a gap that its beads must fill."""

import pytest

from urial.families import build, new_job
from urial.geometry import flat
from urial.job.change import LengthAs, Pick
from urial.job.edit import put
from urial.prove.verdict import prove

JOB = new_job("rear-receiver")
TUBE = "1/cross tube"


def as_long(off, start="far"):
    have = flat.cut_length(build(JOB).by_key[TUBE].shape)
    change = LengthAs(at=Pick(part="cross tube", start=start), length_mm=have + off)
    return put(JOB, "stack.1.changes", (change,))


def beads(assembly):
    """The legs of the beads between the tube and either plate, by the plate's side."""
    return {
        side: assembly.joint_by_key[key].how.leg
        for side in ("left", "right")
        for key in assembly.joint_by_key
        if TUBE in (assembly.joint_by_key[key].a, assembly.joint_by_key[key].b)
        and f"1/side plate.{side}" in (assembly.joint_by_key[key].a, assembly.joint_by_key[key].b)
    }


@pytest.mark.parametrize(("start", "opened"), [("far", 1), ("near", 0)])
def test_a_gap_takes_from_the_beads_across_that_end_and_no_other(start, opened):
    plain, short = beads(build(JOB)), beads(build(as_long(-3.0, start)))
    lost = {side: plain[side] - short[side] for side in plain}
    assert sorted(lost.values()) == [0.0, 3.0]
    part = build(as_long(-3.0, start)).by_key[TUBE]
    moved = part.shape.path.b if opened else part.shape.path.a
    there = build(JOB).by_key[TUBE].shape.path.b if opened else build(JOB).by_key[TUBE].shape.path.a
    assert sum((p - q) ** 2 for p, q in zip(moved, there, strict=True)) ** 0.5 == pytest.approx(3.0)


def test_a_bead_that_fills_a_gap_is_used_as_much_more_as_its_leg_is_less():
    """A fillet's strength goes with its leg: 6 mm that fill 3 mm of gap count 3: twice as much is used."""
    side = next(s for s, leg in beads(build(as_long(-3.0))).items() if leg == 3.0)

    def used(job):
        checks = [c for c in prove(job).checks if c.kind == "weld" and f"{side} plate" in c.name]
        return max(c.utilisation for c in checks if "tube" in c.name)

    assert used(as_long(-3.0)) == pytest.approx(2 * used(JOB), rel=0.02)


def test_a_gap_that_a_fillet_bridges_as_it_is_takes_nothing():
    assert beads(build(as_long(-1.5))) == beads(build(JOB))
    assert beads(build(as_long(1.5))) == beads(build(JOB))


@pytest.mark.parametrize(
    ("off", "said"), [(-6.0, "bridge a gap of 6.0 mm"), (-11.0, "another bar"), (12.0, "another bar")]
)
def test_what_nobody_bridges_is_refused_with_what_to_do_and_leaves_nothing(off, said):
    assembly = build(as_long(off))
    assert any(said in w and "left out" in w for w in assembly.warnings)
    assert beads(assembly) == beads(build(JOB))
    assert assembly.by_key[TUBE].shape == build(JOB).by_key[TUBE].shape
