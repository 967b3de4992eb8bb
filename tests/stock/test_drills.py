"""What a scaled hole is drilled to."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import families
from urial.geometry.shape import Hole
from urial.job import edit
from urial.stock.drills import nearest_drill


@pytest.mark.parametrize(
    ("wanted", "system", "drill"),
    [
        (19.2, "metric", 19.0),
        (13.3, "metric", 13.5),
        (32.4, "metric", 32.0),
        (40.6, "metric", 41.0),
        (0.1, "metric", 0.5),
        (10.0, "inch", 25 / 64 * 25.4),
        (20.0, "inch", 25 / 32 * 25.4),
        (31.0, "inch", 20 / 16 * 25.4),
    ],
)
def test_a_hole_is_drilled_to_a_size_there_is(wanted, system, drill):
    assert nearest_drill(wanted, system) == pytest.approx(drill, abs=1e-3)


@given(st.floats(0.3, 90), st.sampled_from(["metric", "inch"]))
def test_it_is_never_farther_off_than_half_a_step_and_stays_when_drilled_again(diameter, system):
    size = nearest_drill(diameter, system)
    step = 1.0 if system == "metric" else 25.4 / 16
    assert abs(size - diameter) <= step / 2 + 1e-3 or diameter < step
    assert nearest_drill(size, system) == pytest.approx(size)


def test_a_copied_piece_has_its_hole_snapped_and_says_so():
    def built(scale):
        job = families.new_job("bought-insert")
        for key, value in (("old_hole_mm", 16.0), ("old_hole_at_mm", 60.0), ("scale", scale)):
            job = edit.put(job, f"stack.2.{key}", value)
        a = families.build(job)
        cuts = [c for c in a.by_key["2/bar"].shape.cuts if isinstance(c, Hole)]
        return cuts[-1].diameter, " ".join(a.warnings)

    same, quiet = built(1.0)
    assert same == 16.0 and "Copied at" not in quiet
    copied, said = built(1.21)
    assert abs(copied - 19.36) <= 25.4 / 64 and copied == nearest_drill(copied, "inch")
    assert "16 mm hole would be 19.36 mm and is drilled" in said and "the nearest drill" in said
