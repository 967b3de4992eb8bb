"""A plate's SVG is the plate: read back by a stranger's reader it has the same outline, holes and windows."""

import math
import re

import pytest

from urial.families import build, families, new_job
from urial.geometry.outline import area, bounds, rectangle, rounded_hull
from urial.geometry.shape import Plate
from urial.measure.outline_file import FINE, traced
from urial.measure.rings import rings_of
from urial.papers.svg import plate_svg


def back(tmp_path, shape):
    path = tmp_path / "plate.svg"
    path.write_bytes(plate_svg(shape, ("A  <2 off> & mirrored",)))
    rings, unit = rings_of("svg", path)
    assert unit == "mm"
    return traced(rings, FINE, "plate")


@pytest.mark.parametrize("name", sorted(families()))
def test_every_family_s_plates_come_back_the_same(name, tmp_path):
    seen = set()
    for p in build(new_job(name)).parts:
        if p.hardware or not isinstance(p.shape, Plate) or p.mark in seen or len(seen) > 3:
            continue
        seen.add(p.mark)
        t = back(tmp_path, p.shape)
        u0, v0, u1, v1 = bounds(p.shape.outline)
        assert t.size == pytest.approx((u1 - u0, v1 - v0), abs=0.25)  # chords of a family become arcs
        assert area(t.rim) == pytest.approx(area(p.shape.outline), rel=5e-3)
        middle = ((u0 + u1) / 2, (v0 + v1) / 2)
        want = sorted((u - middle[0], v - middle[1], d) for u, v, d in p.shape.holes)
        have = sorted(t.holes)
        assert len(have) == len(want)
        for a, b in zip(have, want, strict=True):
            assert a == pytest.approx(b, abs=0.2)
        assert sum(map(area, t.windows)) == pytest.approx(
            sum(abs(area(o)) for o in p.shape.openings), rel=5e-3, abs=0.1
        )


def test_arcs_are_arcs_and_keep_their_sense(tmp_path):
    """A keyhole: an arc of more than half a turn; a bite out of an edge turns the other way."""
    key = Plate(((0, 0, 0), (40, 0, 0), (40, 30, math.tan(math.radians(270) / 4)), (0, 30, 0.0)), 6.0)
    bite = Plate(
        ((0, 0, 0.0), (100, 0, 0.0), (100, 60, 0.0), (70, 60, -0.5), (30, 60, 0.0), (0, 60, 0.0)), 6.0
    )
    for shape in (key, bite, Plate(rectangle(0, 0, 80, 50, 12), 6.0), Plate(rounded_hull([(0, 0)], 30), 6.0)):
        text = plate_svg(shape, ("x",)).decode()
        assert len(re.findall(r"A[\d.]+ ", text)) == sum(bool(b) for _, _, b in shape.outline)
        t = back(tmp_path, shape)
        assert area(t.rim) == pytest.approx(area(shape.outline), rel=2e-3)
