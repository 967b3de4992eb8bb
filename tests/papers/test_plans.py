"""The weld plan and the buying list against the assembly they are read from."""

from __future__ import annotations

import math

import pypdfium2
import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import families
from urial.assembly.model import Plugs, Weld
from urial.families import build
from urial.geometry.shape import Bar, Plate
from urial.making.buying import KERF, LENGTHS, TRIM, _packed, buying_list
from urial.making.parts import parts_list
from urial.making.welds import weld_plan
from urial.papers import packet
from urial.prove.verdict import prove


def words(pdf: bytes) -> str:
    return " ".join(
        " ".join(page.get_textpage().get_text_range() for page in pypdfium2.PdfDocument(pdf)).split()
    )


@pytest.mark.parametrize("name", list(families.families()))
def test_every_weld_is_in_the_plan_once_and_no_bead_is_lost(name):
    assembly = build(families.new_job(name))
    plan = [r for r in weld_plan(assembly) if r.kind != "butt"]  # slots are closed within one part
    joints = [j for j in assembly.joints if isinstance(j.how, (Weld, Plugs))]
    assert sum(r.qty for r in plan) == len(joints) and len({r.number for r in plan}) == len(plan)
    laid = sum(math.dist(r.a, r.b) for j in joints if isinstance(j.how, Weld) for r in j.how.runs)
    assert sum(r.qty * r.length for r in plan) == pytest.approx(laid, rel=0.01)
    marks = (
        {p.mark.rstrip("LR") or p.mark for p in assembly.parts} | {p.mark for p in assembly.parts} | {"host"}
    )
    assert all(set(r.marks) <= marks for r in plan)


def test_a_left_and_a_right_alike_are_one_line_of_two_named_for_both():
    rows = {r.what: r for r in weld_plan(build(families.new_job("rear-receiver")))}
    assert (
        rows["cross tube to plate"].qty == 2
        and rows["cross tube to plate"].all_round
        and rows["gusset to cross tube"].both_sides
    )
    assert (
        rows["receiver to cross tube"].kind == "flare-bevel"
        and rows["chain plate to receiver"].kind == "fillet and flare-bevel"
    )
    assert not rows["chain plate to receiver"].all_round


@given(st.lists(st.floats(50, 5900), min_size=1, max_size=40))
def test_cuts_fit_into_what_is_bought_and_none_is_lost(sizes):
    room = LENGTHS["metric"] - TRIM
    bars = _packed([(f"A{n}", s) for n, s in enumerate(sizes)], room)
    assert sorted(c for bar in bars for c in bar) == sorted((f"A{n}", s) for n, s in enumerate(sizes))
    assert all(sum(s + KERF for _, s in bar) <= room + 1e-6 or len(bar) == 1 for bar in bars)
    least = max(
        math.ceil(sum(s + KERF for s in sizes) / room - 1e-9), sum(s + KERF > room / 2 for s in sizes)
    )  # nobody can do with less
    assert least <= len(bars) <= 1.7 * least + 1


@pytest.mark.parametrize("name", list(families.families()))
def test_the_buying_list_holds_every_part(name):
    assembly = build(families.new_job(name))
    rows = parts_list(assembly)
    found = buying_list(assembly, rows)
    bars = sum(isinstance(p.shape, Bar) and not p.hardware for p in assembly.parts)
    plates = sum(p.layers for p in assembly.parts if isinstance(p.shape, Plate) and not p.hardware)
    kinds = sum(isinstance(p.shape, Plate) and not p.hardware for p in assembly.parts)
    assert (
        sum(len(one) for b in found.bars for one in b.bars) == bars
        and sum(len(s.pieces) for s in found.sheets) == plates
    )
    assert sum(n for _, n in found.hardware) == len(assembly.parts) - bars - kinds
    assert all(b.left >= -1e-6 for b in found.bars)


def test_the_packet_carries_plan_holes_and_buying_list_and_names_what_it_is():
    named = {
        "title": "Sled hitch",
        "customer": "rescue post",
        "revision": "C",
        "date": "2026-09-18",
        "drawn": "Ada",
        "checked": "Bo",
        "notes": "Paint after the tow.",
    }
    v = prove(families.new_job("rear-receiver").model_copy(update=named))
    files = packet.packet(v).files
    text = words(files["packet.pdf"])
    first = words(files["packet.pdf"])[:2600]
    for wanted in (
        "Sled hitch",
        "for rescue post",
        "revision C",
        "2026-09-18",
        "drawn by Ada",
        "checked: Bo",
        "Weakest link",
        "Assumed, not measured",
    ):
        assert wanted in first, wanted
    assert (
        "Paint after the tow." in text
        and "To buy" in text
        and "At the drill, a bit at a time" in text
        and "Drawings" in text
        and "Set-out" in text
    )
    assert all(f" {r.number} " in text for r in weld_plan(v.assembly)) and "E70" in text
    sheet = words(files["templates.pdf"])
    for wanted in ("FRONT", "UP", "H1", "looks to the", "MIRRORED"):
        assert wanted in sheet, wanted


def test_papers_are_set_in_the_applications_own_typeface():
    v = prove(families.new_job("flat-carrier"))
    for pdf in (packet.packet(v).files["packet.pdf"], packet.packet(v).files["templates.pdf"]):
        assert b"B612" in pdf
        document = pypdfium2.PdfDocument(pdf)
        page = document[0]
        fonts = {o.get_font().get_base_name() for o in page.get_objects(filter=[1]) if hasattr(o, "get_font")}
        assert all("B612" in name for name in fonts)
