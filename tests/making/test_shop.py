"""What goes to the saw, to the merchant and to the welder: every family's lists against its own solids."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import families
from urial.assembly import bodies
from urial.assembly.model import Plugs, Weld
from urial.geometry import solids
from urial.geometry.place import minus, norm
from urial.geometry.shape import Bar, Plate
from urial.making import buying
from urial.making.buying import KERF, SCRAP, TRIM, buying_list
from urial.making.parts import parts_list, sold_as, torque_note
from urial.making.welds import weld_plan

NAMES = sorted(families.families())


@pytest.fixture(params=NAMES)
def assembly(request):
    return families.build(families.new_job(request.param))


def is_mirror_image(left, right) -> bool:
    """Do the corners of the two solids lie symmetrically to a plane, as they are or each turned about?"""
    sizes = []
    for part in (left, right):
        points = solids.triangles(part.shape)[0]
        # all of them: which corners come first depends on the end a bar begins at
        apart = np.linalg.norm(points[:, None] - points[None], axis=2)
        sizes.append(np.sort(apart.max(axis=1))[-12:])
    return bool(np.allclose(sizes[0], sizes[1], rtol=2e-3, atol=0.6))


# ---- the parts list


def test_every_part_stands_in_the_list_once(assembly):
    listed = [key for row in parts_list(assembly) for key in row.parts]
    assert sorted(listed) == sorted(p.key for p in assembly.parts)
    layers = {p.key: p.layers for p in assembly.parts}
    assert all(row.qty == sum(layers[key] for key in row.parts) for row in parts_list(assembly))


def test_a_row_holds_parts_that_can_be_cut_alike(assembly):
    for row in parts_list(assembly):
        parts = [assembly.by_key[key] for key in row.parts]
        assert len({(p.stock, p.material.name, p.hardware) for p in parts}) == 1
        masses = [bodies.mass(p) for p in parts]
        assert max(masses) - min(masses) < 1e-3 * max(masses) + 1e-6
        if row.mirror:
            assert [p.side for p in parts] == ["left", "right"] and is_mirror_image(*parts)


def test_the_lists_mass_is_that_of_the_whole(assembly):
    rows = parts_list(assembly)
    assert sum(row.mass_kg for row in rows) == pytest.approx(bodies.total_mass(assembly))
    assert sum(row.paint_mm2 for row in rows) == pytest.approx(
        sum(bodies.surface(p) for p in assembly.parts), rel=1e-6
    )


def test_a_bar_is_at_least_as_long_as_it_reaches(assembly):
    """A cut length is along the bar's longest side: never less than between the ends of its middle line."""
    for row in parts_list(assembly):
        shape = assembly.by_key[row.parts[0]].shape
        if isinstance(shape, Bar) and not row.hardware and hasattr(shape.path, "a"):
            assert row.cut_length_mm >= norm(minus(shape.path.b, shape.path.a)) - 2 * shape.stock.width


def test_marks_are_given_once(assembly):
    steel = [row.mark for row in parts_list(assembly) if not row.hardware]
    assert len(steel) == len(set(steel))


def test_bolts_of_a_part_have_a_torque_and_parts_without_have_none():
    bolted = families.build(families.new_job("rear-receiver"))
    assert "M12 grade 10.9" in torque_note(bolted) and "N·m dry" in torque_note(bolted)
    assert torque_note(replace(bolted, joints=())) == ""


@pytest.mark.parametrize(
    ("stock", "keeps"),
    [
        ("plate 1/2", True),
        ("plate 12 mm", True),
        ("plate 25.4 mm", False),
        ("plate 11.3 mm", False),
        ("3 × 3 × 1/4", True),
        ("M12 for grade 10.9", True),
    ],
)
def test_a_trade_name_is_kept_and_a_mere_thickness_is_not(stock, keeps):
    assert sold_as(stock) is keeps


# ---- what to buy


def test_every_cut_comes_out_of_a_bought_length(assembly):
    rows = parts_list(assembly)
    found = buying_list(assembly, rows)
    wanted: dict[tuple[str, str], list[tuple[str, float]]] = {}
    for row in rows:
        if not row.hardware and isinstance(assembly.by_key[row.parts[0]].shape, Bar):
            wanted.setdefault((row.stock, row.material), []).extend([(row.mark, row.cut_length_mm)] * row.qty)
    assert {(b.stock, b.material) for b in found.bars} == set(wanted)
    for b in found.bars:
        assert sorted(itertools.chain(*b.bars)) == sorted(wanted[b.stock, b.material])
        for cuts in b.bars:
            assert sum(size + KERF for _, size in cuts) <= b.length - TRIM + 1e-6
        assert b.left >= -1e-6


def test_sheet_is_enough_for_its_rectangles_and_hardware_is_counted(assembly):
    rows = parts_list(assembly)
    found = buying_list(assembly, rows)
    for sheet in found.sheets:
        assert sheet.area == pytest.approx(SCRAP * sum(a * b for _, a, b in sheet.pieces))
        assert all(a >= b for _, a, b in sheet.pieces)
    plates = sum(
        row.qty for row in rows if not row.hardware and isinstance(assembly.by_key[row.parts[0]].shape, Plate)
    )
    assert sum(len(s.pieces) for s in found.sheets) == plates
    counted = sum(n for _, n in found.hardware)
    assert counted == sum(
        row.qty
        for row in rows
        if row.hardware or not isinstance(assembly.by_key[row.parts[0]].shape, (Bar, Plate))
    )


def least_bars(sizes: list[float], room: float) -> int:
    """By trying every way: the least number of lengths that takes them all."""
    best = len(sizes)

    def place(k: int, free: list[float]) -> None:
        nonlocal best
        if len(free) >= best:
            return
        if k == len(sizes):
            best = len(free)
            return
        need = sizes[k] + KERF
        for n, f in enumerate(free):
            if need <= f + 1e-9 and f not in free[:n]:
                place(k + 1, [*free[:n], f - need, *free[n + 1 :]])
        place(k + 1, [*free, room - need])

    place(0, [])
    return best


@given(st.lists(st.floats(200, 2900), min_size=1, max_size=8))
def test_no_more_is_bought_than_the_rule_promises(sizes):
    """First fit decreasing takes at most 11/9 of the least number, and one."""
    room = 6000.0 - TRIM
    packed = buying._packed([("A", s) for s in sizes], room)
    least = least_bars(sorted(sizes, reverse=True), room)
    assert least <= len(packed) <= math.floor(11 / 9 * least + 1)
    assert sorted(s for cuts in packed for _, s in cuts) == sorted(sizes)
    assert all(sum(s + KERF for _, s in cuts) <= room + 1e-6 for cuts in packed)


def test_a_cut_longer_than_a_bought_length_stands_alone():
    packed = buying._packed([("A", 7000.0), ("B", 500.0)], 7000.0 + KERF)
    assert [[m for m, _ in cuts] for cuts in packed] == [["A"], ["B"]]


# ---- the weld plan


def test_every_weld_is_in_the_plan_with_its_leg_and_length(assembly):
    plan = [row for row in weld_plan(assembly) if row.kind != "butt"]  # slots are closed within one part
    welds = [j for j in assembly.joints if isinstance(j.how, Weld)]
    plugs = [j for j in assembly.joints if isinstance(j.how, Plugs)]
    assert sum(row.qty for row in plan) == len(welds) + len(plugs)
    assert len({row.number for row in plan}) == len(plan)
    plan = [row for row in plan if row.kind != "plug"]
    assert {round(row.leg, 6) for row in plan} == {round(j.how.leg, 6) for j in welds}
    total = sum(norm(minus(r.b, r.a)) for j in welds for r in j.how.runs)
    assert sum(row.length * row.qty for row in plan) == pytest.approx(total, rel=0.01)


def test_a_plan_names_marks_that_are_in_the_parts_list(assembly):
    known = {row.mark for row in parts_list(assembly)} | {p.mark for p in assembly.parts} | {"host"}
    for row in weld_plan(assembly):
        assert set(row.marks) <= known, row.number
