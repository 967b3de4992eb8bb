"""Bent plates in the parts list: what is one line, what a mirror pair, and what must not pass for it."""

import math

from urial.assembly.build import Build, Named
from urial.assembly.marks import marked
from urial.geometry.outline import rectangle
from urial.geometry.place import Place, X, Y, Z, times
from urial.geometry.shape import Fold, Plate
from urial.making.parts import parts_list
from urial.stock import catalogue


def plate(y, z, angle=60.0, at=20.0, wide=100.0):
    """A strip bent beside its middle, standing at y, its face towards z."""
    fold = Fold((at, 31.0), (at, -31.0), math.radians(angle), 8.0)
    place = Place.facing((0.0, y, 0.0), z, X)
    return Plate(rectangle(-wide / 2, -30.0, wide / 2, 30.0), 5.0, place, folds=(fold,))


def rows(*made):
    b = Build("1", "trial", "stack.1.", catalogue.electrode("E70"))
    for instance, shape in made:
        b.plate(Named("wing", instance=instance), shape, "S355", "plate 5")
    return [r for r in parts_list(marked(b.placed(Place()), {})) if not r.hardware]


def test_two_bent_to_each_other_are_a_mirror_pair():
    (row,) = rows(("left", plate(200.0, Y)), ("right", plate(-200.0, times(Y, -1))))
    assert (row.qty, row.mirror) == (2, False) and row.name.endswith("two alike")  # one turned half round
    (row,) = rows(("left", plate(200.0, Y)), ("right", plate(-200.0, Y, angle=-60.0)))
    assert row.qty == 2 and row.mirror is False  # its outline turned over bends the other way


def test_a_slanted_bend_makes_a_left_and_a_right():
    def slanted(y, sign):
        fold = Fold((10.0 - 8.0 * sign, 31.0), (10.0 + 8.0 * sign, -31.0), math.radians(60.0), 8.0)
        return Plate(rectangle(-50, -30, 50, 30), 5.0, Place.facing((0.0, y, 0.0), Z, X), folds=(fold,))

    (row,) = rows(("left", slanted(200.0, 1.0)), ("right", slanted(-200.0, -1.0)))
    assert (row.qty, row.mirror) == (2, True) and row.name.endswith("one left one right")


def test_bent_otherwise_is_another_part():
    for other in (plate(0.0, Y, angle=45.0), plate(0.0, Y, at=-20.0), plate(0.0, Y, wide=120.0)):
        assert [r.qty for r in rows(("1", plate(100.0, Y)), ("2", other))] == [1, 1]
    assert [r.qty for r in rows(("1", plate(100.0, Y)), ("2", plate(0.0, X)))] == [2]
