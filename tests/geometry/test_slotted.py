"""Rows of slots: the radius that is asked for is just enough, by hand and by trying it."""

import math
import re

import pytest

from urial.geometry.path import Bent, ShapeError
from urial.geometry.shape import Bar, Slots
from urial.geometry.slotted import LEAST_BETWEEN, slot_rows
from urial.stock import catalogue


def tube(radius):
    path = Bent(((0.0, 0.0, 0.0), (600.0, 0.0, 0.0), (600.0, 0.0, 600.0)), (radius,))
    return Bar(catalogue.bar("40x40x3"), path, slots=Slots(3.0, 36.0))


def test_the_radius_a_refusal_asks_for_is_just_enough():
    """40 mm deep, slots 3 wide and 36 deep turn by 2 atan(3/72) = 4.77°: 19 for 90°.  Between them 5 mm:
    (5 + 3) · 19 / (π/2) − 36 + 20 = 80.8 mm."""
    count = math.ceil(math.radians(90) / (2 * math.atan(3 / 72)))
    need = (LEAST_BETWEEN + 3) * count / math.radians(90) - 36 + 20
    assert count == 19 and need == pytest.approx(80.8, abs=0.05)
    with pytest.raises(ShapeError, match="slots 3 mm wide do not go into a bend of 60 mm radius") as refused:
        slot_rows(tube(60.0))
    asked = float(re.search(r"at least (\d+) mm", str(refused.value))[1])
    assert asked == math.ceil(need) and slot_rows(tube(asked))  # never rounded to what is refused again
    (row,) = slot_rows(tube(need + 0.1))
    assert row.count == 19 and row.pitch - row.wide == pytest.approx(LEAST_BETWEEN, abs=0.01)
    with pytest.raises(ShapeError):
        slot_rows(tube(need - 0.5))
