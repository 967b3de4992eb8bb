"""Places that an edge may be meant to meet, and sizes that leave nothing of a bought length."""

import pytest

from urial import families
from urial.assembly.model import Dimension
from urial.measure.snaps import Snap, even_lengths, nearest, snaps


def test_holes_of_plates_and_bars_and_of_the_host_are_places():
    job = families.new_job("rear-receiver")
    a = families.build(job)
    found = snaps(a, job.vehicle)
    plate = a.by_key["1/side plate.left"]
    u, v, _ = plate.shape.holes[0]
    at = plate.flat_place.point((u, v, plate.shape.t / 2))
    assert any(s.at == pytest.approx(at) and "hole of the left side plate" in s.words for s in found)
    pin = a.by_key["1/receiver"].shape.cuts[0].centre
    assert any(s.at == pytest.approx(pin) and "hole of the receiver" in s.words for s in found)
    assert sum("of the host" in s.words for s in found) == 6


def test_the_nearest_along_the_axis_counts_and_only_within_reach():
    d = Dimension("x", (0, 0, 0), (100, 0, 0), "x", ("side",), "stack.1.x")
    rows = [Snap((50.0, 9.0, 9.0), "one"), Snap((58.0, 0.0, 0.0), "two")]
    assert nearest(rows, d, 55.0, 10.0) == (58.0, "two")
    assert nearest(rows, d, 40.0, 5.0) is None and nearest([], d, 0.0, 5.0) is None


def test_so_many_to_a_bought_length_with_their_saw_cuts():
    for size, words in even_lengths(6000.0, 3.0):
        n = int(words.split()[0])
        assert n * (size + 3.0) == pytest.approx(6000.0)
