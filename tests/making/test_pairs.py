"""Two bars are alike where one, turned or turned end for end, is the other; else a left and a right of one
size are a pair, and the list says so: two alike ones with holes in the wrong leg fit nothing.
"""

import pytest

from urial.families import build, new_job
from urial.geometry.path import Line
from urial.geometry.shape import Bar, Hole
from urial.making.parts import _falls_on, parts_list
from urial.stock import catalogue


def bar(stock, *holes):
    """500 mm long; holes (along, y, z, which way)."""
    ways = {"y": (0.0, 1.0, 0.0), "z": (0.0, 0.0, 1.0)}
    cuts = tuple(Hole((x, y, z), ways[way], 11.0) for x, y, z, way in holes)
    return Bar(catalogue.bar(stock), Line((0.0, 0, 0), (500.0, 0, 0)), cuts=cuts)


def own_mirror(shape):
    return _falls_on(shape, shape, True)


@pytest.mark.parametrize(
    ("shape", "same"),
    [
        (bar("60 × 60 × 3", (100.0, 0.0, 0.0, "y")), True),  # turned over it is its mirror image
        (bar("60 × 60 × 3", (100.0, 0.0, 10.0, "y")), True),  # off the middle too: turned about its length
        (bar("60 × 60 × 3", (100.0, 0.0, 10.0, "y"), (300.0, 10.0, 0.0, "z")), False),  # two ways: a corner
        (bar("L 50 × 50 × 6", (100.0, 10.0, 0.0, "z")), False),  # in one leg, nearer one end
        (bar("L 50 × 50 × 6", (250.0, 10.0, 0.0, "z")), True),  # at the middle: turned end for end
    ],
)
def test_what_is_its_own_mirror_image(shape, same):
    assert own_mirror(shape) == same


def test_end_for_end_is_alike_and_another_place_is_not():
    one = bar("60 × 60 × 3", (100.0, 0.0, 0.0, "y"))
    assert _falls_on(one, bar("60 × 60 × 3", (400.0, 0.0, 0.0, "y")), False)
    assert not _falls_on(one, bar("60 × 60 × 3", (102.0, 0.0, 0.0, "y")), False)
    angle = bar("L 50 × 50 × 6", (100.0, 10.0, 0.0, "z"))
    other_leg = bar("L 50 × 50 × 6", (100.0, 0.0, 10.0, "y"))
    assert not _falls_on(angle, other_leg, False) and _falls_on(angle, other_leg, True)
    assert _falls_on(angle, bar("L 50 × 50 × 6", (400.0, 0.0, 10.0, "y")), False)  # turned end for end


def test_the_uprights_of_a_carriage_are_a_left_and_a_right():
    """Angles with three holes in one leg, 92 to 212 mm from the bottom of 504."""
    row = next(r for r in parts_list(build(new_job("three-point-carriage"))) if r.mark == "A")
    assert row.qty == 2 and row.mirror and row.name == "upright, one left one right"
