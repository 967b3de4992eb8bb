"""Every bent bar, from its marks back to its corners."""

import math

import numpy as np
import pytest

from urial.families import build, families, new_job
from urial.geometry import path as paths
from urial.making.bent import bent_bars
from urial.making.parts import parts_list
from urial.shop.snapshot import Die, usual

BENT = [n for n in families() if bent_bars(build(new_job(n)), parts_list(build(new_job(n))), usual())]


def walked(b):
    """Where a tube ends that is fed, turned and bent as its sheet says, from the origin along x."""
    at, x, side = np.zeros(3), np.array([1.0, 0, 0]), np.array([0.0, 1.0, 0])
    for bend, radius in zip(
        b.layout.bends, [x.arc / math.radians(x.angle) for x in b.layout.bends], strict=True
    ):
        at = at + x * bend.straight
        turn = math.radians(bend.rotation)
        side = side * math.cos(turn) + np.cross(x, side) * math.sin(turn)
        angle = math.radians(bend.angle)
        at = at + radius * (x * math.sin(angle) + side * (1 - math.cos(angle)))
        x, side = x * math.cos(angle) + side * math.sin(angle), side * math.cos(angle) - x * math.sin(angle)
    return at + x * b.layout.last


def test_some_families_bend_tubes():
    assert "two-wheeler" in BENT and "front-rail" in BENT


@pytest.mark.parametrize("name", BENT)
def test_a_tube_bent_by_its_sheet_ends_where_the_part_ends(name):
    assembly = build(new_job(name))
    for b in bent_bars(assembly, parts_list(assembly), usual()):
        part = next(p for p in assembly.parts if p.mark == b.mark or p.mark.startswith(b.mark))
        size = paths.length(part.shape.path)
        assert b.layout.cut == pytest.approx(size, abs=1e-6)
        reach = np.linalg.norm(np.subtract(b.corners[-1], b.corners[0]))
        assert np.linalg.norm(walked(b)) == pytest.approx(reach, abs=1e-6)


def test_a_die_of_the_shop_says_what_the_machine_is_set_to():
    assembly = build(new_job("two-wheeler"))
    rows = parts_list(assembly)
    b = bent_bars(assembly, rows, usual())[0]
    die = Die(od_mm=b.tube.od, clr_mm=b.tube.radius, log=((0.0, 0.0), (90.0, 93.0)))
    with_die = bent_bars(assembly, rows, usual().model_copy(update={"dies": (die,)}))[0]
    for plain, set_to in zip(b.layout.bends, with_die.layout.bends, strict=True):
        assert set_to.machine == pytest.approx(plain.angle * 93 / 90)
