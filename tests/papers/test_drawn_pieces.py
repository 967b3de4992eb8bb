"""Drawings of pieces and weldments on paper: every figure at its place, none on another, none off the page;
and no page with nothing on it.
"""

import csv
import dataclasses
import io
import math
from itertools import pairwise

import numpy as np
import pypdfium2
import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import families
from urial.assembly import bodies
from urial.geometry.path import Line
from urial.geometry.shape import Bar, Hole, Mitre
from urial.making.bent import bent_bars
from urial.making.drawings import drawings
from urial.making.drawings.bars import of_bar
from urial.making.parts import parts_list
from urial.making.plan import called, things
from urial.making.setout import set_out
from urial.papers import packet, tables
from urial.papers.picture import APART, LEFT, MM, _spread, laid_out, picture
from urial.prove.verdict import prove
from urial.shop.snapshot import usual
from urial.stock import catalogue
from urial.units import show_length

NAMES = list(families.families())
ROOM = (500.0, 300.0)


def write(mm):
    return show_length(mm, "metric").removesuffix(" mm")


def every_picture():
    for name in NAMES:
        assembly = families.build(families.new_job(name))
        for d in drawings(assembly, parts_list(assembly), usual()):
            made = picture(d, ROOM, write)
            if made is not None:
                yield name, d, made
        for keys in things(assembly):
            if len(keys) > 1:
                s = set_out(assembly, called(assembly, keys), keys)
                yield name, s, laid_out(s, (500.0, 420.0), write)


def test_nothing_is_drawn_off_its_rectangle_and_no_figure_on_another():
    for name, d, made in every_picture():
        where = (name, getattr(d, "mark", getattr(d, "name", "")))
        for s in made.strokes:
            for x, y in s.points:
                assert -1 <= x <= made.wide + 1 and -1 <= y <= made.high + 1, where
        turned = sorted((w for w in made.words if w.turned), key=lambda w: (-round(w.y), w.x))
        for a, b in pairwise(turned):
            assert abs(a.y - b.y) > 20 or b.x - a.x > APART - 0.01, (where, a, b)
        for w in made.words:
            assert 0 <= w.y <= made.high + 2 and 0 <= w.x <= made.wide, (where, w)


def test_every_figure_stands_at_its_own_place():
    for name, d, made in every_picture():
        if not hasattr(d, "views") or len(d.views) != 1:
            continue
        k = made.scale * MM
        low = min(min(x for ring in v.rings for x, _ in ring) for v in d.views)
        leaders = [s.points for s in made.strokes if len(s.points) == 3]
        turned = [w for w in made.words if w.turned]
        for w in turned:
            value = float(w.text.replace("\u202f", "").replace(" ", ""))
            at = next(p for p in leaders if abs(p[2][0] + 2.6 - w.x) < 0.01)
            v = d.views[0]
            high = max(x for ring in v.rings for x, _ in ring)
            place = high - value if v.from_right else value - min(low, 0.0)
            assert at[0][0] == pytest.approx(LEFT + place * k, abs=0.06 * k + 0.01), name


def turned(ring):
    """Twice the area a ring encloses, positive where it runs against the clock."""
    return sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(ring, [*ring[1:], ring[0]], strict=True))


def test_no_plate_is_drawn_as_its_mirror_image():
    """Outlines run against the clock in the plate's own face; so they must on paper."""
    seen = set()
    for name in NAMES:
        assembly = families.build(families.new_job(name))
        for d in drawings(assembly, parts_list(assembly), usual()):
            made = picture(d, ROOM, write)
            if d.kind == "plate" and made is not None:
                ring = next(s.points for s in made.strokes if s.closed)
                assert turned(ring) > 0, (name, d.mark)
                seen.add((d.views[0].from_right, d.views[0].from_top))
    assert {(False, False), (True, False), (False, True)} <= seen


def test_a_bar_measured_from_its_second_end_is_drawn_with_its_first_end_left():
    """A mitred first end and holes off the middle: the face as one looks at it, tape from the right."""
    shape = Bar(
        catalogue.bar("60 × 60 × 3"),
        Line((0.0, 0, 0), (500.0, 0, 0)),
        end_i=Mitre(math.radians(30)),
        cuts=(Hole((400.0, 0.0, 10.0), (0.0, 1.0, 0.0), 13.0),),
    )
    assembly = families.build(families.new_job("rear-receiver"))
    part = next(p for p in assembly.parts if isinstance(p.shape, Bar))
    d = of_bar(dataclasses.replace(part, shape=shape), shape, usual())
    (view,) = [v for v in d.views if v.letter == "B"]
    assert view.from_right and view.edges == ("edge to A", "edge to C")
    (hole,) = d.features
    assert (hole.view, hole.along, hole.up) == ("B", 100.0, 40.0)
    made = picture(dataclasses.replace(d, views=(view,)), ROOM, write)
    (round_,) = made.rounds
    k = made.scale * MM
    assert round_.x == pytest.approx(LEFT + (d.long - 100.0) * k)  # near the right end
    ring = next(s.points for s in made.strokes if s.closed)
    low = min(y for _, y in ring)
    # seen on face B the section's z is up: 10 over the middle is 40 from the edge to C, the lower one
    assert round_.y - low == pytest.approx(40.0 * k)
    # the first end, cut with its long point at the bottom, is left
    left = [x for x, y in ring if y - low < 1.0]
    right_of = [x for x, y in ring if y - low > 59.0 * k]
    assert min(left) < min(right_of) and max(left) == pytest.approx(max(right_of))


@given(st.lists(st.floats(0, 500), min_size=1, max_size=30))
def test_figures_are_pushed_apart_and_stay_in_order(places):
    places = sorted(places)
    out = _spread(places, places[0], max(places[-1], places[0] + APART * len(places)))
    assert all(b - a >= APART - 1e-6 for a, b in pairwise(out))


def test_a_weldment_is_laid_out_from_one_corner():
    """Against the solids: each piece's box from the front end, the left side and the lowest place."""
    for name in NAMES:
        assembly = families.build(families.new_job(name))
        for keys in things(assembly):
            s = set_out(assembly, "it", keys)
            boxes = {k: bodies.corners(assembly.by_key[k]) for k in keys}
            front = max(b[1][0] for b in boxes.values())
            left = max(b[1][1] for b in boxes.values())
            low = min(b[0][2] for b in boxes.values())
            for n in s.laid:
                a, b = boxes[n.key]
                wanted = ((front - b[0], front - a[0]), (left - b[1], left - a[1]), (a[2] - low, b[2] - low))
                for one, two in zip(n.spans, wanted, strict=True):
                    assert one == pytest.approx(two, abs=1e-6), (name, n.key)
            assert min(n.spans[0][0] for n in s.laid) == 0 == min(n.spans[2][0] for n in s.laid)


def test_a_frames_diagonals_are_those_of_its_cross_members():
    """A flat trailer's cross members are 1256 long, from 1102 to 3302 behind the tongue's front: √(1256² +
    2200²).
    """
    assembly = families.build(families.new_job("flat-trailer"))
    (keys,) = [k for k in things(assembly) if len(k) > 6]
    s = set_out(assembly, "trailer", keys)
    members = [n for n in s.laid if n.name.startswith("cross member")]
    across = members[0].spans[1][1] - members[0].spans[1][0]
    deep = max(n.spans[0][1] for n in members) - min(n.spans[0][0] for n in members)
    assert (across, deep) == (pytest.approx(1256.0), pytest.approx(2200.0))
    assert [mm for _, mm in s.diagonals] == [pytest.approx(math.hypot(1256, 2200))] * 2


def test_no_page_is_empty_and_a_deck_makes_no_sheet_for_each_board():
    v = prove(families.new_job("flat-trailer"))
    rows = parts_list(v.assembly)
    for names in (["drawings"], ["set-out"], ["drawings", "set-out", "holes"]):
        pdf = pypdfium2.PdfDocument(packet.packet_pdf(v, rows, pages=names))
        for page in pdf:
            assert len(page.get_textpage().get_text_range()) > 420, names  # head and foot alone are less
    sheets = pypdfium2.PdfDocument(packet.template_pdf(v, rows))
    plates = packet.plate_pieces(v, rows)
    with_holes = {d.mark for d in drawings(v.assembly, rows, usual()) if d.features}
    assert len([m for m, _, _ in plates if m not in with_holes]) >= 2
    text = "".join(p.get_textpage().get_text_range() for p in sheets)
    for mark, _, _ in plates:
        assert (f"Template {mark}:" in text) == (mark in with_holes)


def test_the_list_for_a_spreadsheet_is_in_the_jobs_units():
    assembly = families.build(families.new_job("rear-receiver"))
    rows = parts_list(assembly)
    mm = list(csv.DictReader(io.StringIO(tables.parts_csv(rows).decode())))
    inch = list(csv.DictReader(io.StringIO(tables.parts_csv(rows, "inch").decode())))
    assert float(inch[0]["cut_length_in"]) * 25.4 == pytest.approx(float(mm[0]["cut_length_mm"]), abs=0.1)
    assert float(inch[0]["mass_lb"]) / 2.20462 == pytest.approx(float(mm[0]["mass_kg"]), abs=0.01)


def test_bars_to_buy_are_told_as_they_are_sold():
    job = families.in_inches(families.new_job("rear-receiver"))
    v = prove(job)
    pdf = pypdfium2.PdfDocument(packet.packet_pdf(v, parts_list(v.assembly), pages=["buying"]))
    text = " ".join("".join(p.get_textpage().get_text_range() for p in pdf).split())
    assert "× 20 ft" in text and '240"' not in text


def rebuilt(rows):
    """Corners of a middle line from lengths, rotations and angles alone, as the table writes them."""
    at, way, up = np.zeros(3), np.array([1.0, 0, 0]), np.array([0, 0, 1.0])
    corners, before = [at], 0.0
    for r in rows:
        if r["bend"] == "start":
            continue
        straight = float(r["length_mm"])
        if r["bend"] == "end":
            corners.append(at + way * (straight + before))
            break
        angle, turn = math.radians(float(r["angle_deg"])), math.radians(float(r["rotation_deg"]))
        tangent = float(r["radius_mm"]) * math.tan(angle / 2)
        at = at + way * (before + straight + tangent)
        corners.append(at)
        up = up * math.cos(turn) + np.cross(way, up) * math.sin(turn)
        way = way * math.cos(angle) + np.cross(up, way) * math.sin(angle)
        before = tangent
    return corners


@pytest.mark.parametrize("name", ["front-rail", "two-wheeler"])
def test_a_bent_tube_is_made_again_from_its_table(name):
    """To a tenth of a millimetre, from corner to corner, in the hand that it has."""
    assembly = families.build(families.new_job(name))
    bent = bent_bars(assembly, parts_list(assembly), usual())
    table = list(csv.DictReader(io.StringIO(tables.bends_csv(bent).decode())))
    assert {r["mark"] for r in table} == {b.mark for b in bent}
    for b in bent:
        rows = [r for r in table if r["mark"] == b.mark]
        made, wanted = rebuilt(rows), [np.array(c) for c in b.corners]
        written = [np.array([float(r[k]) for k in ("x_mm", "y_mm", "z_mm")]) for r in rows]
        assert len(made) == len(wanted) == len(written)
        for i in range(len(made)):
            assert np.linalg.norm(written[i] - wanted[i]) < 0.01
            for k in range(i):
                assert np.linalg.norm(made[i] - made[k]) == pytest.approx(
                    np.linalg.norm(wanted[i] - wanted[k]), abs=0.15
                )
        if len(made) > 3:

            def hand(q):
                return float(np.dot(np.cross(q[1] - q[0], q[2] - q[1]), q[3] - q[2]))

            assert hand(made) == pytest.approx(hand(wanted), rel=1e-3, abs=10.0)


def test_every_feature_of_every_piece_is_in_the_table():
    assembly = families.build(families.new_job("rail-cradle"))
    made = drawings(assembly, parts_list(assembly), usual())
    rows = list(csv.DictReader(io.StringIO(tables.pieces_csv(made).decode())))
    assert [(r["mark"], r["which"]) for r in rows] == [(d.mark, f.which) for d in made for f in d.features]
    inch = list(csv.DictReader(io.StringIO(tables.pieces_csv(made, "inch").decode())))
    for a, b in zip(rows, inch, strict=True):
        if a["along_mm"]:
            assert float(b["along_in"]) * 25.4 == pytest.approx(float(a["along_mm"]), abs=0.07)
