"""Words that stand for a direction or an amount are held against the thing itself."""

import math
import re

import pytest

from urial.assembly.model import HOST, Bolts
from urial.families import build, new_job
from urial.fit.asked import _where
from urial.fit.order import _turned
from urial.fit.whole import WHEELS, _lift
from urial.fit.widths import filling
from urial.geometry.place import X, Y, Z, cross


@pytest.mark.parametrize("axis", [X, Y, Z])
@pytest.mark.parametrize("sign", [1.0, -1.0])
def test_a_tilt_says_where_the_front_or_the_left_side_really_goes(axis, sign):
    """What a right-handed turn does to what lies ahead (about x: to the left) is the axis crossed with it."""
    watched = Y if axis == X else X
    moves = cross(axis, watched)
    way = {
        "up": (0, 0, 1),
        "down": (0, 0, -1),
        "to the left": (0, 1, 0),
        "to the right": (0, -1, 0),
    }[_turned(axis, sign)]
    assert tuple(round(sign * m) for m in moves) == way


@pytest.mark.parametrize(("gap", "play"), [(10.0, 1.0), (6.0, 0.5), (3.4, 0.4), (40.0, 2.0)])
def test_what_fills_a_gap_is_the_gap_less_its_play(gap, play):
    words = filling(gap, 12.0, play)
    tube = re.search(r"cut ([\d.]+) mm", words)
    if tube:
        assert float(tube[1]) == pytest.approx(gap - play, abs=0.06)
        return
    total = sum(int(n) * float(t) for n, t in re.findall(r"(\d+) (?:washers?|shims?) of ([\d.]+) mm", words))
    assert math.isclose(total, gap - play, abs_tol=0.21), words


def test_nothing_fills_no_gap():
    assert filling(1.0, 12.0, 1.0) == "" and filling(1.04, 12.0, 1.0) == ""


@pytest.mark.parametrize(
    ("kg", "rests", "said"),
    [
        (25.0, "", "one person lifts it"),
        (25.1, "", "more than one person lifts (25 kg)"),
        (50.0, "", "more than one person lifts (25 kg)"),
        (50.1, "", "more than two people lift (50 kg)"),
        (400.0, WHEELS, "it rolls to its place"),
    ],
)
def test_who_lifts_it(kg, rests, said):
    assert _lift(kg, rests).startswith(said)


def test_what_is_asked_points_at_the_bolts_the_bore_or_the_first_place_there_is():
    assembly = build(new_job("rear-receiver"))
    nut = next(j for j in assembly.joints if isinstance(j.how, Bolts) and j.b == HOST)
    assert _where(assembly, "nuts") == nut.place.o
    bore = next(s for s in assembly.sockets if s.kind == "receiver")
    assert _where(assembly, "pin") == bore.place.o
    bare = build(new_job("recovery-point"))
    assert not any(s.kind == "receiver" for s in bare.sockets)
    assert _where(bare, "pin") == bare.sockets[0].place.o
