"""Where the tape goes: its two ends lie as far apart as the figure says, on what is drawn, for every host."""

import numpy as np
import pytest

from urial import families
from urial.job import edit
from urial.job.host import kinds, starting_host
from urial.measure import drawing
from urial.measure.taped import tape

AXIS = {"side": (0, 2), "rear": (1, 2), "top": (0, 1)}
"""What of a place is seen in a view."""
NONE = {"squat_mm_per_100kg"}
"""Lengths that are the difference of two readings: no tape lies there."""
ROOM = 0.02


def job_of(kind):
    return families.survey_job(kind)


def lengths(job):
    return [p for p, s in edit.all_specs(job).items() if p.startswith("vehicle.") and s.kind == "length"]


@pytest.mark.parametrize("kind", kinds())
def test_every_length_of_every_host_has_its_tape(kind):
    job = job_of(kind)
    bare = [p for p in lengths(job) if tape(job, p) is None]
    assert {p.removeprefix("vehicle.") for p in bare} <= NONE
    for side in ("left", "right"):
        for field in ("behind_mm", "height_mm", "across_mm", "hole_mm"):
            assert tape(job, f"vehicle.{side}.0.{field}") is not None


@pytest.mark.parametrize("kind", kinds())
def test_between_its_ends_lies_the_very_figure_and_it_is_seen_whole(kind):
    """Level or plumb in its view, not foreshortened; other figures than the starting ones too."""
    job = job_of(kind)
    for path in lengths(job):
        spec = edit.spec_of(job, path)
        for value in (None, 0.93):
            now = edit.get(job, path)
            try:
                changed = job if value is None else edit.put(job, path, max(value * now, spec.lo))
            except edit.EditError:
                continue
            laid = tape(changed, path)
            if laid is None:
                continue
            a, b = np.array(laid.a), np.array(laid.b)
            assert np.linalg.norm(b - a) == pytest.approx(abs(edit.get(changed, path)), abs=1e-6), path
            u, v = AXIS[laid.view]
            assert np.hypot(b[u] - a[u], b[v] - a[v]) == pytest.approx(np.linalg.norm(b - a)), path
            assert np.count_nonzero(np.abs(b - a) > 1e-9) <= 1, path


@pytest.mark.parametrize("kind", kinds())
def test_both_ends_lie_on_what_is_drawn_or_on_the_ground(kind):
    """No end hangs in the air beside the picture: inside the outline's box in its view, or on the ground."""
    job = job_of(kind)
    every = np.concatenate([x for lines in drawing.outline(job.vehicle).values() for x in lines])
    low, high = every.min(axis=0), every.max(axis=0)
    spare = ROOM * (high - low)
    for path in lengths(job):
        laid = tape(job, path)
        for end in (laid.a, laid.b) if laid else ():
            for k in AXIS[laid.view]:
                assert low[k] - spare[k] <= end[k] <= high[k] + spare[k] or (k == 2 and end[k] == 0), path


def test_a_hole_is_taped_from_the_datum_and_along_its_own_side():
    """By hand: hole L1 905 behind the axle and 607 up; the datum 200 behind and 50 up."""
    job = job_of("pickup")
    job = edit.put(edit.put(job, "vehicle.left.0.behind_mm", 905.0), "vehicle.left.0.height_mm", 607.0)
    job = edit.put(edit.put(job, "survey.datum.behind_mm", 200.0), "survey.datum.height_mm", 50.0)
    half = job.vehicle.rail_spacing_mm / 2
    behind, up = (tape(job, f"vehicle.left.0.{f}") for f in ("behind_mm", "height_mm"))
    assert (behind.a, behind.b) == ((-200.0, half, 607.0), (-905.0, half, 607.0))
    assert (up.a, up.b) == ((-905.0, half, 50.0), (-905.0, half, 607.0))
    across = tape(job, "vehicle.right.0.across_mm")
    assert across.b[1] == -half and across.a[1] == 0 and across.view == "rear"
    assert "the middle of left hole 1" in behind.words


def test_what_no_tape_is_laid_to_has_none():
    job = job_of("pickup")
    for path in (
        "vehicle.front_kg",
        "vehicle.rail_material",
        "vehicle.name",
        "vehicle.left.0.fixing",
        "vehicle.left.99.behind_mm",
        "vehicle.left.first.behind_mm",
        "stack.1.drop_mm",
        "vehicle.squat_mm_per_100kg",
    ):
        assert tape(job, path) is None
    assert tape(job.with_vehicle(starting_host("trailer")), "vehicle.deck_mm").words.endswith("level")
