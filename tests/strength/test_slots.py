"""Bends made of slots: where they are cut, what they close to, what the closed tube bears."""

from __future__ import annotations

import math

import numpy as np
import pypdfium2
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely.geometry import box
from shapely.ops import unary_union

from urial import families
from urial.assembly.model import BuildError
from urial.calc.registry import CalcError, answer, find
from urial.geometry import flat, slotted
from urial.geometry import path as paths
from urial.geometry.outline import bounds
from urial.geometry.path import Bent, ShapeError
from urial.geometry.shape import Bar, Slots
from urial.job import edit
from urial.making.parts import parts_list
from urial.making.welds import weld_plan
from urial.papers.packet import packet
from urial.papers.pieces_to_cut import slot_pieces
from urial.prove.verdict import prove
from urial.stock import catalogue
from urial.strength.checks import slots

CUT = Slots(3.2, 46.0)
TUBE = catalogue.bar("50x50x3")


def hoop(radius: float = 120.0, degrees: float = 90.0, cut: Slots = CUT) -> Bar:
    """Two legs of 400 mm with a bend between them, flat on the ground."""
    a = math.radians(degrees)
    points = ((-400.0, 0.0, 0.0), (0.0, 0.0, 0.0), (400 * math.cos(a), 400 * math.sin(a), 0.0))
    return Bar(TUBE, Bent(points, (radius,)), slots=cut)


def test_the_slots_of_a_right_angle_by_hand():
    (row,) = slotted.slot_rows(hoop())
    # one slot turns by 2 atan(3.2 / 92) = 3.984°, so 90° takes 22.6 of them
    assert row.count == 23
    # the hinge is 46 - 25 = 21 mm outside the middle line: its arc is 141 mm × π/2 = 221.48 mm
    assert row.pitch == pytest.approx(221.482 / 23, abs=1e-3)
    # the bend begins 120 mm before the corner
    assert row.first == pytest.approx(280 + 221.482 / 46, abs=1e-3)
    # 90°/23 = 3.913° a slot: 2 · 46 · tan(1.957°) = 3.143 mm are taken up
    assert row.gap == pytest.approx(3.2 - 3.143, abs=1e-3)
    assert flat.cut_length(hoop()) == pytest.approx(280 + 221.482 + 280, abs=1e-3)
    # round the face and down both sides, over corners of 6 mm
    assert row.bead == pytest.approx(38 + 2 * 40 + math.pi * 6, abs=1e-6)


def test_the_paper_has_each_slot_as_wide_as_the_blade_and_a_pitch_from_the_next():
    ((_, sheet),) = flat.slot_papers(hoop())
    rows = [bounds(w) for w in sheet.windows]
    assert len(rows) == 23 and [r[2] - r[0] for r in rows] == pytest.approx([3.2] * 23)
    assert np.diff([(r[0] + r[2]) / 2 for r in rows]) == pytest.approx([221.482 / 23] * 22, abs=1e-3)
    middle = (rows[0][0] + rows[-1][2]) / 2
    assert any(a == c == pytest.approx(middle) for a, _, c, _ in sheet.centre_lines)


@pytest.mark.parametrize(("radius", "goes"), [(98.8, False), (99.2, True)])
def test_five_millimetres_between_two_slots_do_not_burn_away(radius, goes):
    """23 slots of 3.2 mm on an arc 21 mm outside the middle line: (r + 21) pi/2 / 23 - 3.2 is 5 at 99.07."""
    try:
        slotted.slot_rows(hoop(radius=radius))
    except ShapeError:
        assert not goes
    else:
        assert goes


@given(
    st.floats(1.0, 6.0),
    st.floats(26.0, 47.0),
    st.floats(10.0, 150.0),
    st.floats(60.0, 200.0),
)
def test_slots_closed_one_by_one_bring_the_tube_where_it_is_to_be(wide, deep, degrees, radius):
    shape = hoop(radius, degrees, Slots(wide, deep))
    assume(radius * math.tan(math.radians(degrees) / 2) < 390)
    try:
        (row,) = slotted.slot_rows(shape)
    except ShapeError as refusal:
        assert "between them" in str(refusal)
        return
    one = 2 * math.atan(row.wide / (2 * row.deep))
    assert row.count * one >= row.angle - 1e-9 > (row.count - 1) * one - 1e-9
    assert 0 <= row.gap < row.wide
    # walk along the hinge, turning at every slot
    at, way = np.array([-400.0, -(deep - 25)]), 0.0
    for k in range(row.count):
        at = at + (row.first if k == 0 else row.pitch) * np.array([math.cos(way), math.sin(way)])
        way += row.each
    rest = flat.cut_length(shape) - row.first - (row.count - 1) * row.pitch
    at = at + rest * np.array([math.cos(way), math.sin(way)])
    a = math.radians(degrees)
    end = 400 * np.array([math.cos(a), math.sin(a)]) - (deep - 25) * np.array([-math.sin(a), math.cos(a)])
    assert way == pytest.approx(a)
    # chords for an arc: at most the arc's rise over a pitch, at every slot
    assert np.linalg.norm(at - end) < row.count * row.pitch**2 / (8 * radius) * row.each + 0.5


@pytest.mark.parametrize(
    ("shape", "words"),
    [
        (hoop(cut=Slots(3.2, 48.0)), "cut its outer wall; leave between 3 and 25 mm"),
        (hoop(cut=Slots(3.2, 20.0)), "do not let it bend"),
        # (5 + 3.2) · 23 / (π/2) − 46 + 25 = 99.06 mm: 99 would be refused again
        (hoop(radius=40.0), "Make the radius at least 100 mm"),
        (Bar(catalogue.bar("33.7 od x 4"), hoop().path, slots=Slots(3, 20)), "not; choose a square tube"),
        (Bar(TUBE, hoop().path, up=(0.0, 1.0, 1.0), slots=Slots(3.2, 46)), "square to a face"),
    ],
)
def test_what_cannot_be_bent_so_is_refused(shape, words):
    with pytest.raises(ShapeError, match=words):
        slotted.slot_rows(shape)


def test_the_radius_that_is_asked_for_is_enough():
    for radius in (99.5, 98.0):
        try:
            slotted.slot_rows(hoop(radius=radius))
            assert radius == 99.5
        except ShapeError:
            assert radius == 98.0


def test_what_a_bead_reaches():
    assert slots.throat(3.0, 0.0)[0] == pytest.approx(2.2)
    assert slots.throat(5.0, 0.0)[0] == pytest.approx(2.5)
    assert slots.throat(8.0, 0.0)[0] == 0.0
    assert slots.throat(3.0, 1.0)[0] == pytest.approx(2.2)  # a shallow V does no harm
    assert slots.throat(8.0, 6.0)[0] == 6.0
    assert slots.throat(3.0, 9.0)[0] == 3.0


@pytest.mark.parametrize("vee", [0.0, 3.0])
def test_the_closed_section_is_that_of_its_rectangles(vee):
    (row,) = slotted.slot_rows(hoop(cut=Slots(3.2, 46.0, vee)))
    c = slots.closed(row, 3.0)
    e = c.throat
    # d from the outer face inward, across along the face: whole wall outside, stubs of 4 - 3 = 1 mm, beads
    metal = unary_union(
        [
            box(0, -25, 3, 25),
            *(box(3, s * 25 - (3 if s > 0 else 0), 4, s * 25 + (3 if s < 0 else 0)) for s in (-1, 1)),
            *(box(4, s * 25 - (e if s > 0 else 0), 50, s * 25 + (e if s < 0 else 0)) for s in (-1, 1)),
            box(50 - e, -25, 50, 25),
        ]
    )
    step = 0.1
    d, w = np.meshgrid(np.arange(step / 2, 50, step), np.arange(-25 + step / 2, 25, step), indexing="ij")
    import shapely

    inside = shapely.contains_xy(metal, d.ravel(), w.ravel()).reshape(d.shape)
    area = inside.sum() * step**2
    middle = (d * inside).sum() * step**2 / area
    assert c.area == pytest.approx(area, rel=5e-3)
    assert c.off == pytest.approx(middle - 25, abs=0.05)
    assert c.plane == pytest.approx((((d - middle) ** 2) * inside).sum() * step**2, rel=5e-3)
    assert c.across == pytest.approx(((w**2) * inside).sum() * step**2, rel=0.02)
    if vee:  # fused through: the tube itself, its corners sharp
        assert c.area == pytest.approx(50**2 - 44**2)
        assert c.off == pytest.approx(0.0, abs=1e-9)
        assert c.plane == pytest.approx((50**4 - 44**4) / 12)


def test_stresses_of_single_forces_by_hand():
    (row,) = slotted.slot_rows(hoop(cut=Slots(3.2, 46.0, 3.0)))
    c = slots.closed(row, 3.0)
    pull, bend, push, turn = (
        slots.stresses(np.array([load]), c, True)
        for load in (
            (10_000.0, 0, 0, 0, 0, 0),
            (0.0, 0, 0, 0, 0, 1e6),
            (0.0, 5000.0, 0, 0, 0, 0),
            (0.0, 0, 0, 1e6, 0, 0),
        )
    )
    assert pull.bead[0] == pytest.approx(10_000 / 564)
    assert bend.bead[0] == pytest.approx(1e6 * 25 / ((50**4 - 44**4) / 12)) == bend.wall[0]
    assert push.shear[0] == pytest.approx(5000 / (2 * 3 * 50))
    assert turn.shear[0] == pytest.approx(1e6 / (2 * 3 * 47 * 47))  # Bredt


def with_sizes(**sizes):
    job = families.new_job("slot-frame")
    for path, value in sizes.items():
        job = edit.put(job, f"stack.1.{path}", value)
    return job


@pytest.fixture(scope="module")
def verdict():
    return prove(families.new_job("slot-frame"))


def by_id(v):
    return {c.id: c for c in v.checks}


def test_the_subframe_holds_its_slots_are_judged_once_and_again_and_again(verdict):
    assert verdict.holds
    found = by_id(verdict)
    for n in (1, 2):
        assert found[f"1/hoop: slots {n}"].kind == "weld"
        assert found[f"1/hoop: slots {n} wall"].kind == "member"
        assert found[f"1/hoop: slots {n} endurance"].kind == "fatigue"
    assert not [w for w in verdict.warnings if "lets the plate turn" in w]  # two bolts a side hold each other
    assert not [u for u in verdict.unchecked if "hoop" in u.what]


def test_edges_ground_to_a_v_bear_more_and_the_used_share_is_that_of_the_working(verdict):
    better = by_id(prove(with_sizes(vee_mm=3.0)))
    plain = by_id(verdict)
    for n in (1, 2):
        assert better[f"1/hoop: slots {n}"].utilisation < 0.95 * plain[f"1/hoop: slots {n}"].utilisation
    rows = plain["1/hoop: slots 1"].working()
    across, along = (
        next(r for r in rows if r.what == name) for name in ("across the bead", "along the bead")
    )
    s, t = (float(r.result.split()[0]) for r in (across, along))
    sa, ta = (float(r.numbers.split()[-2]) for r in (across, along))
    assert math.hypot(s / sa, t / ta) == pytest.approx(plain["1/hoop: slots 1"].utilisation, abs=0.01)


def test_a_wall_too_thick_for_square_edges_is_said_not_judged():
    v = prove(with_sizes(tube="60x60x8", drop_mm=60.0, left_mm=10.0))
    assert any("grind the edges to a V" in u.what for u in v.unchecked)
    assert "1/hoop: slots 1" not in by_id(v)


def test_slots_are_in_the_list_the_weld_plan_and_on_paper(verdict):
    rows = parts_list(verdict.assembly)
    hoop_row = next(r for r in rows if r.name == "hoop")
    assert hoop_row.ends == "square, 23 slots, 23 slots"
    part = verdict.assembly.by_key["1/hoop"]
    one, two = slotted.slot_rows(part.shape)
    closings = [r for r in weld_plan(verdict.assembly) if r.kind == "butt"]
    assert [r.length for r in closings] == pytest.approx([one.count * one.bead, two.count * two.bead])
    papers = slot_pieces(verdict, rows)
    assert [m for m, _, _ in papers] == [f"{hoop_row.mark} slots"] * 2
    for (_, sheet, words), row in zip(papers, (one, two), strict=True):
        starts = sorted(min(u for u, *_ in w) for w in sheet.windows)
        assert len(starts) == row.count
        assert np.diff(starts) == pytest.approx(row.pitch)
        begins = float(words.split("begins at ")[1].split()[0])
        assert begins + starts[0] + row.wide / 2 == pytest.approx(row.first, abs=0.1)
    # the second bend lies as far from the other end as the first from this one
    length = flat.cut_length(part.shape)
    assert two.first + (two.count - 1) * two.pitch == pytest.approx(length - one.first, abs=1e-6)
    assert length > paths.length(part.shape.path)


@pytest.mark.parametrize(
    ("sizes", "words"),
    [
        ({"drop_mm": 20.0}, "over the peg bolt's head"),
        ({"drop_mm": 300.0}, "above the ground"),
        ({"strut_mm": 300.0}, "in its bend"),
        ({"strut_mm": -290.0}, "same length of tube"),
        ({"left_mm": 50.0}, "the whole of a tube"),
        ({"left_mm": 2.0}, "cut its outer wall"),
        ({"bend_mm": 180.0, "strut_mm": 100.0}, "too near for two bends"),
        ({"back_mm": 50.0}, "make it wider"),
        ({"tube": "25x25x3"}, "choose a taller tube"),
        ({"hole_edge_mm": 6.0}, "leaves no edge"),
    ],
)
def test_sizes_of_the_subframe_that_disagree_are_named(sizes, words):
    with pytest.raises(BuildError, match=words):
        prove(with_sizes(**sizes))


# ---- the same as a calculator


BEND = {
    "width_mm": 50.0,
    "height_mm": 50.0,
    "wall_mm": 3.0,
    "outer_radius_mm": 6.0,
    "angle_deg": 90.0,
    "radius_mm": 120.0,
    "slot_mm": 3.2,
    "left_mm": 4.0,
}


def test_the_calculator_says_what_the_part_is_built_by():
    found = answer(find("slot_bend"), BEND)
    (row,) = slotted.slot_rows(hoop())
    assert found["slots"] == row.count == 23
    assert found["pitch_mm"] == pytest.approx(row.pitch)
    assert found["bead_mm"] == pytest.approx(row.bead)
    assert found["longer_mm"] == pytest.approx(21 * math.pi / 2)  # the hinge is 21 mm outside the middle line
    assert found["bend_mm"] == pytest.approx(141 * math.pi / 2)
    assert found["throat_mm"] == pytest.approx(2.2)
    assert found["modulus_mm3"] < found["tube_modulus_mm3"]
    fused = answer(find("slot_bend"), {**BEND, "vee_mm": 3.0, "outer_radius_mm": 0.0})
    assert fused["modulus_mm3"] == pytest.approx(fused["tube_modulus_mm3"])


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"wall_mm": 25.0}, "fills the tube"),
        ({"left_mm": 50.0}, "is the whole"),
        ({"left_mm": 2.0}, "cut its outer wall"),
        ({"radius_mm": 40.0}, "at least 100 mm"),
        ({"outer_radius_mm": 26.0}, "more than half"),
        ({"angle_deg": 171.0}, "angle_deg"),
    ],
)
def test_the_calculator_refuses_in_a_sentence(change, words):
    with pytest.raises(CalcError, match=words):
        answer(find("slot_bend"), {**BEND, **change})


def test_the_packet_says_where_the_slots_are_cut(verdict):
    pdf = pypdfium2.PdfDocument(packet(verdict).files["packet.pdf"])
    text = " ".join(" ".join(page.get_textpage().get_text_range().split()) for page in pdf)
    for n, row in enumerate(slotted.slot_rows(verdict.assembly.by_key["1/hoop"].shape), 1):
        assert f"bend {n}: {row.count} slots" in text
        assert f"the first {row.first:.1f} mm from the first end" in text
