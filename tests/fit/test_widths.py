"""What a pin and a bolt pass: gaps are measured and filled from stock, and what is meant to be there is no
gap.
"""

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.fit.test_fit import BARE, STEEL, block, bolt, nut
from urial import families
from urial.assembly.model import Assembly, Part
from urial.fit import fit, widths
from urial.fit.model import Finding, never
from urial.fit.widths import PIECES, Passed, Stack, filling, stacks, width_findings
from urial.geometry.place import Place
from urial.geometry.shape import Turned
from urial.job import edit


def two_plates(gap, *more):
    """Plates of 10 mm with air between them, a bolt from above and its nut below."""
    upper = block("upper", (-40, -40, gap / 2), (40, 40, gap / 2 + 10), holes=((40, 40, 13.5),))
    lower = block("lower", (-40, -40, -gap / 2 - 10), (40, 40, -gap / 2), holes=((40, 40, 13.5),))
    head = bolt("bolt", (0, 0, gap / 2 + 17.5), (0, 0, -1), gap + 40)
    return Assembly((upper, lower, head, nut("nut", (0, 0, -gap / 2 - 10), (0, 0, -1)), *more))


def found(assembly):
    return [f for f in width_findings(BARE, assembly, never) if isinstance(f, Finding)]


def washer(low, high):
    ring = Turned(Place((0, 0, low)), ((high - low, 24.0, 0),), bore=13.0)
    return Part("1/packing", "packing", ring, STEEL, "", mark="P")


@pytest.mark.parametrize("gap", [1.0, 5.0, 12.5])
def test_a_gap_that_a_bolt_draws_shut_is_found_and_packed_it_is_clean(gap):
    (one,) = found(two_plates(gap))
    assert one.amount == pytest.approx(gap, abs=0.01) and one.kind == "stack" and "bends them" in one.words
    assert {"UPP", "LOW"} <= set(one.parts) and one.at[2] == pytest.approx(0, abs=0.01)
    assert one.advice.startswith("Fill it with")
    assert found(two_plates(gap, washer(-gap / 2, gap / 2))) == []
    (left,) = found(two_plates(gap, washer(-gap / 2, gap / 2 - 0.8)))
    assert left.amount == pytest.approx(0.8, abs=0.01)


@pytest.mark.parametrize(("gap", "said"), [(0.28, False), (0.33, True)])
def test_what_paint_and_flatness_make_anyway_is_no_gap(gap, said):
    assert bool(found(two_plates(gap))) is said


def test_plates_that_touch_have_no_gap_and_are_passed_in_order():
    (s,) = stacks(two_plates(0.0))
    assert [p.name for p in s.passed] == ["upper", "lower"] and s.gaps == ()
    assert [p.high - p.low for p in s.passed] == pytest.approx([10, 10], abs=0.01)


@given(st.floats(0.2, 60.0), st.sampled_from([5, 8, 12, 16, 20, 25.4, 30]), st.sampled_from([0.0, 0.5]))
def test_what_fills_a_gap_adds_up_to_it(gap, diameter, play):
    words = filling(gap, diameter, play)
    want = gap - play
    if want <= 0.05:
        assert words == ""
    elif words.startswith("a spacer tube"):
        assert float(re.search(r"cut ([\d.]+) mm", words)[1]) == pytest.approx(want, abs=0.051)
    else:
        rows = [(int(n), float(t)) for n, t in re.findall(r"(\d+) (?:washers?|shims?) of ([\d.]+) mm", words)]
        assert sum(n for n, _ in rows) <= PIECES
        assert sum(n * t for n, t in rows) == pytest.approx(want, abs=0.21)


def test_a_clevis_leaves_the_trailers_eye_its_room_and_says_how_much():
    start = families.new_job("clevis-tongue")
    for eye in (25.0, 31.0):
        job = edit.put(start, "stack.2.eye_mm", eye)
        facts = fit(job, moves=False).facts
        assert any(f"leaves {eye:.1f} mm between" in f and "what hangs on it" in f for f in facts)


def test_the_balls_of_a_linkage_are_held_against_its_pins():
    start = families.new_job("three-point-carriage")
    assert any("35 mm wide (category 1)" in f for f in fit(start, moves=False).facts)
    wide = edit.put(start, "vehicle.category", "3")
    rows = [
        r for r in width_findings(wide, families.build(start), never) if "top pin" in getattr(r, "words", "")
    ]
    assert rows and all("51 mm wide" in r.words and r.amount == pytest.approx(3.0) for r in rows)


def test_pins_and_balls_of_unlike_categories_are_bushed_or_refused():
    start = families.new_job("three-point-carriage")
    build = families.build(start)

    def said(category):
        job = edit.put(start, "vehicle.category", category)
        return list(width_findings(job, build, never))

    assert any("quick coupler" in str(r) and "22 × 36.6 mm" in str(r) for r in said("1"))
    assert any("wants a bush 22 × 28 mm in the ball (category 2)" in str(r) for r in said("2"))
    thin = [r for r in said("0") if isinstance(r, Finding) and r.id.startswith("bore ")]
    assert thin and all("bored for 16 mm" in r.words for r in thin)


@pytest.mark.parametrize("name", sorted(families.families()))
def test_no_kind_of_part_starts_with_a_gap_that_is_not_meant(name):
    job = families.new_job(name)
    assert [f for f in width_findings(job, families.build(job), never) if isinstance(f, Finding)] == []


@pytest.mark.parametrize("tight", [True, False])
def test_both_walls_of_a_tube_are_named_where_a_bolt_draws_them_together(tight):
    """5 mm walls 40 mm apart: a bolt squeezes them, a pin does not."""
    walls = (Passed("1/tube", "tube", "T", 0.0, 5.0), Passed("1/tube", "tube", "T", 45.0, 50.0))
    round_ = two_plates(0.0).parts[2]
    stack = Stack(round_, "bolt", (0.0, 0.0, 0.0), (0.0, 0.0, 1.0), 12.0, tight, walls)
    with pytest.MonkeyPatch.context() as patched:
        patched.setattr(widths, "stacks", lambda assembly: [stack])
        said = [f for f in width_findings(BARE, two_plates(0.0), never) if isinstance(f, str)]
    assert any("both walls of the tube, 40.0 mm apart" in f for f in said) is tight


def test_more_than_four_pieces_are_a_tube_cut_to_length():
    """Whatever the gap."""
    for tenths in range(2, 600):
        pieces = sum(int(n) for n in re.findall(r"(\d+) (?:washer|shim)", filling(tenths / 10, 12.0, 0.0)))
        assert pieces <= 4
