"""A racked, twisted or wrongly cut frame is found from the tape's readings, as far as they tell; synthetic
frames whose true places are known, closed forms of a shop's rule, and readings that do not suffice.
"""

import json
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from urial import families
from urial.calc.registry import CalcError, ask
from urial.geometry.shape import Bar
from urial.making.corners import NAMES, UPRIGHT, corners
from urial.making.fitup import KNOWN, Height, Tape, fit_up
from urial.making.plan import plan, things
from urial.making.setout import lie, set_out

LONG, WIDE = 2200.0, 1200.0
A, B, C, D = NAMES
HOLD = (A, B, C)
DRAWN = {A: (0.0, 0.0, 0.0), B: (0.0, WIDE, 0.0), C: (LONG, 0.0, 0.0), D: (LONG, WIDE, 0.0)}
BARS = ((A, B), (C, D), (A, C), (B, D))
EVERY = [(a, b) for n, a in enumerate(NAMES) for b in NAMES[:n]]


def tape(true, a, b, more=0.0):
    return Tape(a, b, math.dist(true[a], true[b]) + more)


def racked(mm):
    """The rear pushed ``mm`` to the right, every bar as long as it was."""
    lean = math.asin(mm / LONG)
    back = LONG * math.cos(lean)
    return {A: DRAWN[A], B: DRAWN[B], C: (back, mm, 0.0), D: (back, WIDE + mm, 0.0)}


@pytest.mark.parametrize("mm", [-25.0, -4.0, 0.0, 7.0, 40.0])
def test_two_diagonals_and_cut_bars_tell_how_far_a_frame_is_racked(mm):
    """By the cosine rule the diagonals differ as d1² − d2² = 4 · wide · mm: half of it is what shops push."""
    true = racked(mm)
    reads = [tape(true, A, D), tape(true, B, C)]
    assert reads[0].mm ** 2 - reads[1].mm ** 2 == pytest.approx(4 * WIDE * mm, abs=1e-6)
    found = fit_up(DRAWN, reads, HOLD, BARS)
    for name in (C, D):
        assert found.by_name[name].off[1] == pytest.approx(mm, abs=0.02 + 0.002 * abs(mm))
        assert found.by_name[name].unknown <= {2}
    assert found.by_name[A].far == pytest.approx(0, abs=1e-6) and not found.doubted


def test_what_stays_stays_and_the_spread_is_that_of_adjustment():
    """Nothing but both diagonals and the bars: the rear's lateral spread is that of (d1² − d2²)/4w, σ of each
    diagonal 1 mm: √2 · 2d / 4w, and a little by the bars' own 0.7 mm.
    """
    found = fit_up(DRAWN, [tape(DRAWN, A, D), tape(DRAWN, B, C)], HOLD, BARS)
    d = math.hypot(LONG, WIDE)
    alone = math.sqrt(2) * 2 * d / (4 * WIDE)
    assert alone <= found.by_name[C].sigma[1] < 1.25 * alone
    assert max(found.by_name[A].sigma) < 0.01 and max(found.by_name[B].sigma[k] for k in (0, 2)) < 0.01


def test_a_twist_is_told_by_heights_alone_however_the_table_leans():
    true = {**DRAWN, D: (LONG, WIDE, 9.0)}
    flat = [tape(true, A, D), tape(true, B, C)]
    blind = fit_up(DRAWN, flat, HOLD, BARS)
    assert blind.by_name[D].unknown == {2} and blind.by_name[D].off[2] == 0.0
    assert {type(r) for r in blind.wanted} == {Height} and len(blind.wanted) == 4
    heights = [Height(n, 850 + true[n][2] + 0.004 * true[n][0] - 0.01 * true[n][1]) for n in NAMES]
    found = fit_up(DRAWN, [*flat, *heights], HOLD, BARS)
    assert found.by_name[D].off[2] == pytest.approx(9.0, abs=0.01) and not found.wanted
    assert found.by_name[D].sigma[2] == pytest.approx(2.0, abs=0.01)  # four heights of 1 mm each


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.floats(-30, 30), min_size=5, max_size=5),
    st.integers(0, 2**32 - 1),
    st.floats(0.05, 2.0),
)
def test_crooked_frames_are_found_within_what_the_tape_errs(off, seed, sigma):
    """All six tapes, bars not as cut, the tape erring by σ: what is found lies within four of its own spreads
    of what is true.
    """
    true = {
        A: DRAWN[A],
        B: (0.0, WIDE + off[0], 0.0),
        C: (LONG + off[1], off[2], 0.0),
        D: (LONG + off[3], WIDE + off[4], 0.0),
    }
    rng = np.random.default_rng(seed)
    reads = [Tape(a, b, math.dist(true[a], true[b]) + float(rng.normal(0, sigma)), sigma) for a, b in EVERY]
    found = fit_up(DRAWN, reads, HOLD)
    for name in NAMES:
        n = found.by_name[name]
        for k in (0, 1):
            assert k not in n.unknown or n.sigma[k] > KNOWN
            assert abs(n.off[k] - (true[name][k] - DRAWN[name][k])) < 4.5 * n.sigma[k] + 0.05


@pytest.mark.parametrize("wrong", range(6))
def test_a_tape_read_a_handful_wrong_is_doubted_where_others_tell(wrong):
    """One of six tapes 15 mm off: with the bars as cut the wrong one is among those named; with nothing to
    check it none is.
    """
    true = racked(6.0)
    reads = [tape(true, a, b, 15.0 if n == wrong else 0.0) for n, (a, b) in enumerate(EVERY)]
    found = fit_up(DRAWN, reads, HOLD, BARS)
    assert wrong in found.doubted and len(found.doubted) <= 2
    assert abs(found.misfits[wrong]) > 5
    lonely = fit_up(DRAWN, reads[:1], HOLD)
    assert not lonely.doubted


def test_what_readings_cannot_tell_is_named_with_what_would():
    found = fit_up(DRAWN, [tape(DRAWN, A, B)], HOLD)
    assert found.by_name[C].unknown == {0, 1} and found.by_name[D].unknown == {0, 1, 2}
    asked = {frozenset(r.places) for r in found.wanted if isinstance(r, Tape)}
    assert len(asked) == 4  # each of the two corners from two places
    more = [tape(DRAWN, *sorted(p)) for p in asked]
    then = fit_up(DRAWN, [tape(DRAWN, A, B), *more], HOLD)
    assert not then.by_name[C].unknown and then.by_name[D].unknown <= {2}


def test_a_socket_off_the_middle_is_found_from_both_corners():
    drawn = {**DRAWN, "receiver mouth": (2300.0, 600.0, 0.0)}
    true = {**drawn, "receiver mouth": (2300.0, 608.0, 0.0)}
    reads = [
        tape(true, A, D),
        tape(true, B, C),
        tape(true, A, "receiver mouth"),
        tape(true, B, "receiver mouth"),
    ]
    n = fit_up(drawn, reads, HOLD, BARS).by_name["receiver mouth"]
    assert n.off[:2] == pytest.approx((0.0, 8.0), abs=0.02) and n.unknown == {2}


@pytest.mark.parametrize(
    ("reads", "hold", "words"),
    [
        ([Tape(A, "nowhere", 10.0)], HOLD, "names “nowhere”"),
        ([Tape(A, A, 10.0)], HOLD, "to itself"),
        ([Tape(A, B, -1.0)], HOLD, "is no length"),
        ([Height(A, math.nan)], HOLD, "is no length"),
        ([], (A, A, B), "Three places hold it"),
        ([], (A, B, "x"), "Three places hold it"),
        ([], (A, B, "middle"), "in one line"),
    ],
)
def test_what_cannot_be_is_said_in_a_sentence(reads, hold, words):
    points = {**DRAWN, "middle": (0.0, WIDE / 2, 0.0)}
    with pytest.raises(ValueError, match=words) as said:
        fit_up(points, reads, hold)
    assert str(said.value).endswith(".")


# ---- corners of real weldments


@pytest.mark.parametrize("name", families.families())
def test_the_corners_of_every_kind_lie_on_its_metal_and_as_far_apart_as_its_set_out_says(name):
    a = families.build(families.new_job(name))
    for keys in (k for k in things(a) if len(k) > 1):
        found = corners(a, keys)
        if found is None:
            continue
        laid = lie(a, keys)
        upright = found.lies is UPRIGHT
        first, second, third, last = found.lies.names
        for corner in found.lies.names:
            x, y, z = found.points[corner]
            if upright:  # from the top, the left, the front
                x, y, z = z, y, found.high - x
            assert any(
                all(lo - 0.6 <= v <= hi + 0.6 for v, (lo, hi) in zip((x, y, z), n.spans, strict=True))
                for n in laid.laid
            )
        wanted = sorted(mm for _, mm in set_out(a, name, keys).diagonals)
        ways = ((first, last), (second, third))
        flat = sorted(math.dist(found.points[p][:2], found.points[q][:2]) for p, q in ways)
        if found.members and not upright:  # of a frame, whose corners are the rails'
            assert flat == pytest.approx(wanted, abs=0.1)
        by_key = a.by_key
        for p, q in found.members[:2]:  # the rails themselves: a bar of that length is there
            long = found.apart(p, q)
            assert any(
                isinstance(by_key[n.key].shape, Bar)
                and max(hi - lo for lo, hi in n.spans) == pytest.approx(long, abs=1.0)
                for n in laid.laid
            )
        kinds = {s.kind for s in a.sockets if s.part in keys}
        assert ("middle of the mouth" in found.points) == ("receiver" in kinds)
        fitted = fit_up(found.points, found.usual, found.hold, found.members)
        assert all(p.far < 1e-6 for p in fitted.places) and not fitted.doubted


def test_a_frame_that_stands_upright_lies_on_its_front_to_be_measured():
    """The forks' carriage: its two cross tubes above one another are the frame."""
    a = families.build(families.new_job("three-point-carriage"))
    (keys,) = (k for k in things(a) if len(k) > 1)
    found = corners(a, keys)
    assert found is not None and found.lies is UPRIGHT
    laid = {n.key: n for n in lie(a, keys).laid}
    top = max(n.spans[2][1] for n in laid.values() if n.spans[1][1] - n.spans[1][0] > 500)
    assert found.high - found.points["upper left"][0] == pytest.approx(top, abs=60)
    across = found.points["upper right"][1] - found.points["upper left"][1]
    assert across > 500 and found.points["lower left"][0] - found.points["upper left"][0] > 100
    u, v = found.seen(found.points["upper left"])
    assert (
        v == pytest.approx(found.high - found.points["upper left"][0]) and u == found.points["upper left"][1]
    )
    # leaning 5 mm to the left at the bottom: the bottom goes to the right
    hold = found.hold
    off = dict(found.points)
    for name in ("lower left", "lower right"):
        x, y, z = off[name]
        off[name] = (x, y - 5.0, z)
    reads = [
        Tape(p, q, math.dist(off[p], off[q]))
        for p, q in (("upper left", "lower right"), ("upper right", "lower left"))
    ]
    n = fit_up(found.points, reads, hold, found.members).by_name["lower left"]
    assert n.off[1] == pytest.approx(-5.0, abs=1.0) or n.unknown
    assert found.lies.ways[1] == ("to the left", "to the right") and found.lies.ways[0] == ("up", "down")


def test_a_drawbar_is_held_by_its_wide_end_and_told_by_the_usual_readings():
    """From a nose 79 mm wide no tape tells how far across the legs end; from the legs' ends it does."""
    a = families.build(families.new_job("drawbar"))
    (keys,) = (k for k in things(a) if len(k) > 1)
    found = corners(a, keys)
    assert found.hold[:2] == (C, D)
    told = fit_up(found.points, found.usual, found.hold, found.members)
    assert not any(p.unknown for p in told.places)
    assert fit_up(found.points, found.usual, (A, B, C), found.members).by_name[C].unknown


def test_a_check_of_the_plan_names_diagonals_that_are_there():
    """Not those of the box round it, whose corner no drawbar has."""
    a = families.build(families.new_job("flat-trailer"))
    keys = max(things(a), key=len)
    step = next(s for s in plan(a).steps if s.kind == "check" and set(s.parts) == set(keys))
    ways = lie(a, keys).diagonals
    assert ways == set_out(a, "", keys).diagonals and len(ways) == 2
    assert f"{ways[0][1]:.0f} mm and alike" in step.words and ways[0][0] in step.words
    box = math.hypot(*(r.wanted for r in step.reads[:2]))
    assert abs(box - ways[0][1]) > 500 and f"{box:.0f}" not in step.words


# ---- the calculator


def test_the_calculator_says_the_same():
    true = racked(7.0)
    question = {
        "points_mm": {k: list(v) for k, v in DRAWN.items()},
        "tapes_mm": [[A, D, math.dist(true[A], true[D])], [B, C, math.dist(true[B], true[C])]],
        "members": [list(p) for p in BARS],
        "hold": list(HOLD),
    }
    found = ask("fit_up", json.dumps(question))
    assert found["places"][C]["off_mm"][1] == pytest.approx(7.0, abs=0.05)
    assert found["places"][D]["unknown"] == ["up"] and found["places"][D]["sigma_mm"][2] is None
    assert found["doubted"] == [] and [D] in found["wanted"] and "NaN" not in json.dumps(found)
    for change, words in (
        ({"members": [[A, "x"]]}, "members names “x”"),
        ({"hold": [A, B, B]}, "Three places hold it"),
        ({"tapes_mm": [[A, "x", 5]]}, "names “x”"),
    ):
        with pytest.raises(CalcError, match=words):
            ask("fit_up", json.dumps({**question, **change}))
