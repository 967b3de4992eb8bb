"""Ways of a force through a plate that lie over each other, and round its folds, against hand statics."""

import dataclasses
import math

import numpy as np
import pytest

from tests.assembly.trial import TRIALS, foot, judged, start
from urial.assembly import facts
from urial.assembly.build import Beads, Takes, loop
from urial.assembly.marks import marked
from urial.geometry import folded
from urial.geometry.outline import rectangle
from urial.geometry.path import Line
from urial.geometry.place import Place, Y
from urial.geometry.shape import Bar, Fold
from urial.stock import catalogue
from urial.strength.checks import ends

WALL = Place.facing((0.0, 0.0, 500.0), (-1.0, 0.0, 0.0), Y)  # u left, v down, out of the host


def plate_on_host(outline, spots, folds=(), t=8.0):
    """A plate on two M12 80 mm apart across; a place to load at each spot (u, v)."""
    b = start()
    plate, _ = foot(b, "plate", WALL, t=t)
    shape = dataclasses.replace(plate.shape, outline=outline, folds=folds)
    b.parts[plate.key] = plate = dataclasses.replace(plate, shape=shape)
    for n, (u, v) in enumerate(spots):
        at = shape.place.point(folded.point_at(shape, u, v, t / 2))
        b.socket(f"spot{n}", plate, Place(at), Takes("ring"))
    return marked(b.placed(Place()), {})


def used(a, loads, key="1/plate: forces"):
    checks, _, forces = judged(a, {"load": loads})
    return checks[key].utilisation, forces


def test_two_loads_one_behind_the_other_bend_the_plate_together():
    """Hand statics: beyond the outer bolt, 40 mm from their middle, both loads' moments on the plate's whole
    width: M = P (150 − 40) + P (300 − 40); Mc = Fy b t²/4 / 1.67 (F11)."""
    a = plate_on_host(rectangle(-60.0, -45.0, 340.0, 45.0), [(150.0, 0.0), (300.0, 0.0)])
    p = 450.0
    (outwards,) = [WALL.z]
    one = {"1/spot0": (*(p * v for v in outwards), 0, 0, 0)}
    two = {"1/spot1": (*(p * v for v in outwards), 0, 0, 0)}
    capacity = 355 * 90 * 8**2 / 4 / 1.67
    assert used(a, one)[0] == pytest.approx(p * 110 / capacity, rel=1e-3)
    assert used(a, two)[0] == pytest.approx(p * 260 / capacity, rel=1e-3)
    assert used(a, one | two)[0] == pytest.approx(p * (110 + 260) / capacity, rel=1e-3)


def test_loads_that_balance_leave_the_metal_before_them_alone():
    a = plate_on_host(rectangle(-60.0, -45.0, 340.0, 45.0), [(150.0, 0.0), (300.0, 0.0)])
    pull = {"1/spot0": (0, 6000.0, 0, 0, 0, 0), "1/spot1": (0, -6000.0, 0, 0, 0, 0)}
    only = used(a, {"1/spot1": pull["1/spot1"]})[1]
    _, _, forces = judged(a, {"load": pull})
    first = next(b for b in forces.net.beams if b.size == pytest.approx(150.0))
    assert abs(forces.inside(first.id, 0.5)[0, 0]) < 1e-6
    assert abs(only.inside(first.id, 0.5)[0, 0]) == pytest.approx(6000.0)  # a way beside it through its metal
    second = next(b for b in forces.net.beams if b.size == pytest.approx(300.0))
    assert abs(forces.inside(second.id, 0.8)[0, 0]) == pytest.approx(6000.0)


def test_ways_to_opposite_sides_share_no_metal():
    a = plate_on_host(rectangle(-340.0, -45.0, 340.0, 45.0), [(-150.0, 0.0), (150.0, 0.0)])
    p = {f"1/spot{n}": (-700.0, 0, 0, 0, 0, 0) for n in (0, 1)}
    assert used(a, p)[0] == pytest.approx(used(a, {"1/spot0": p["1/spot0"]})[0])


def test_two_ways_side_by_side_share_what_lies_over_each_other():
    """Turned away from the first, the second way's share of the first's metal falls from all of it without a
    jump to nothing at 60°."""
    ratio = []
    for off in np.linspace(2.0, 290.0, 25):
        a = plate_on_host(rectangle(-60.0, -320.0, 340.0, 320.0), [(160.0, 0.0), (160.0, -off)])
        on, off_it = ((-700.0, 0, 0, 0, 0, 0), (0.0, 0, 0, 0, 0, 0))
        made = [used(a, {"1/spot0": on, "1/spot1": other})[1] for other in (off_it, on)]
        first = next(b.id for b in made[0].net.beams if b.strip.b == (160.0, 0.0))
        alone, both = (forces.inside(first, 0.5)[0, 4] for forces in made)
        ratio.append(both / alone)
    assert ratio[0] == pytest.approx(2.0, rel=0.02) and ratio[-1] == pytest.approx(1.0, abs=1e-9)
    assert all(abs(x - y) < 0.15 for x, y in zip(ratio[1:], ratio[:-1], strict=True))


# ---- round a fold


def bracket(degrees=90.0, inside=10.0, t=8.0, lip=130.0):
    """Its top bent out; loaded on the flange in the middle, so far from the bolts in the flat."""
    fold = Fold((61.0, -60.0), (-61.0, -60.0), math.radians(degrees), inside)
    return plate_on_host(rectangle(-60.0, -200.0, 60.0, 45.0), [(0.0, -lip)], (fold,), t)


def test_a_bend_is_judged_by_its_lever_and_curve():
    """By hand, 90° about 10 mm, t 8: the mid-line's radius is 14; the load stands on the flange
    130 − 60 − π/2 (10 + 0.4 · 8) beyond the bend.  Where the bend begins M = P × (that + 14), N = P; on the
    inside σ = N/A + M (rn − ri)/(A e ri) (Winkler and Bach), first yield over 1.67."""
    p, b, t, r = 900.0, 120.0, 8.0, 10.0
    beyond = 130 - 60 - math.pi / 2 * (r + 0.4 * t)
    rn = t / math.log((r + t) / r)
    e = r + t / 2 - rn
    moment = p * (beyond + r + t / 2)
    sigma = p / (b * t) + moment * (rn - r) / (b * t * e * r)
    a = bracket()
    got, forces = used(a, {"1/spot0": (0, 0, -p, 0, 0, 0)}, "1/plate: fold 1")
    assert got == pytest.approx(sigma * 1.67 / 355, rel=0.01)
    # and the strip's nodes stand on the bent plate: the load's node on the flange, 14 mm above the line
    x, _, z = forces.net.nodes[forces.net.at_part["1/plate"]["1/spot0"]]
    assert (x, z) == pytest.approx((-(t + r + beyond), 500 + 60 + r + t / 2), abs=1e-6)


def test_a_load_along_the_flange_has_no_lever_on_the_bend():
    a = bracket()
    z = 500 + 60 + 14
    straight = {"1/spot0": (-900.0, 0, 0, 0, 0, 0)}
    _, forces = used(a, straight)
    chords = [b for b in forces.net.beams if b.strip.bend == 0]
    assert len(chords) == 4  # 90° in chords of 22.5°
    last = forces.inside(chords[-1].id, 1.0)[0]
    assert abs(last[4]) < 1e-6 and abs(last[0]) > 850  # pulled straight through the flange's mid-line
    base = next(b for b in forces.net.beams if b.i.endswith("@0") or b.start == 0)
    assert abs(forces.inside(base.id, 0.0)[0, 4]) == pytest.approx(900 * (z - 500), rel=1e-6)


def test_a_flat_plate_and_one_bent_by_next_to_nothing_are_used_alike():
    plain = plate_on_host(rectangle(-60.0, -200.0, 60.0, 45.0), [(0.0, -130.0)])
    bent = bracket(degrees=0.05)
    loads = {"1/spot0": (-300.0, 100.0, -200.0, 0, 0, 0)}
    assert used(bent, loads)[0] == pytest.approx(used(plain, loads)[0], rel=0.01)


def test_bolts_on_a_flange_have_the_edges_of_the_flange():
    """A bolt 30 mm beyond a bend's end bears on the flange alone: towards the bend its metal counts to where
    the bend begins, and the flange's own edges round it; all of it is read in the flange's plane."""
    a = bracket(lip=130.0)
    plate = a.by_key["1/plate"]
    ends = 60 + math.pi / 2 * (10 + 0.4 * 8)
    flange = plate.flat_place @ folded.frame_at(plate.shape, 0.0, -130.0)
    place = Place.facing(flange.point((0.0, -ends - 30.0, 0.0)), flange.z, flange.x)
    beside, least = facts.room_round(plate, place, 13.5)
    assert beside == pytest.approx(30 - 13.5 / 2, abs=0.05)
    assert least == pytest.approx(200 - ends, rel=0.01)  # along the flange; across it is 120
    edge, t = facts.eye_metal(plate, place, 13.5)
    assert (edge, t) == (pytest.approx(30 - 13.5 / 2, abs=0.05), 8.0)


def test_a_bead_on_a_flange_knows_its_ledge():
    b = start()
    plate, _ = foot(b, "plate", WALL)
    fold = Fold((61.0, -60.0), (-61.0, -60.0), math.radians(90), 10.0)
    shape = dataclasses.replace(plate.shape, outline=rectangle(-60.0, -200.0, 60.0, 45.0), folds=(fold,))
    b.parts[plate.key] = plate = dataclasses.replace(plate, shape=shape)
    tube = catalogue.bar("40x40x3")
    flange = shape.place @ folded.frame_at(shape, 0.0, -150.0)
    on = Place.facing(flange.point((36.0, -150.0, 8.0)), flange.z, flange.x)  # 4 mm from the flange's side
    stub = b.bar("stub", Bar(tube, Line(on.o, on.point((0.0, 0.0, 90.0))), up=flange.y), "S235")
    b.weld("stub weld", plate, stub, Beads(loop(on, 40.0, 40.0, tube.radius), 5.0, "", normal=flange.z))
    a = marked(b.placed(Place()), {})
    joint = next(j for j in a.joints if j.key.endswith("stub weld"))
    ledges = facts.ledges(joint.how.runs, a.by_key["1/plate"], joint.place.o)
    assert np.nanmin(ledges) == pytest.approx(4.0, abs=0.05)


def test_a_tight_bend_and_a_hole_beside_it_are_warned_of():
    from urial.strength.checks.ends import bend_warnings

    part = bracket(inside=5.0).by_key["1/plate"]
    (said,) = bend_warnings(part)
    assert "less than its thickness" in said and "crack" in said
    near = dataclasses.replace(part.shape, holes=(*part.shape.holes, (0.0, -92.0, 14.0)))
    (_, hole) = bend_warnings(dataclasses.replace(part, shape=near))
    assert "14 mm hole" in hole and "Drill it after bending" in hole
    assert not bend_warnings(bracket().by_key["1/plate"])


# ---- what swings again and again sees the inside of a bend


@pytest.mark.parametrize(("t", "inside"), [(8.0, 10.0), (4.0, 4.0), (12.0, 60.0)])
def test_a_plates_bend_is_as_much_sharper_as_a_curved_bar_cut_in_slices(t, inside):
    """By slices of the section: rn = A / Σ dA/r, σi = M (rn − ri)/(A (R − rn) ri), against 6 M / t²."""
    r = inside + (np.arange(20_000) + 0.5) * t / 20_000
    da = t / 20_000
    rn = t / (da / r).sum()
    sharper = (rn - inside) / (t * (inside + t / 2 - rn) * inside) * t**2 / 6
    part = bracket(inside=inside, t=t).by_key["1/plate"]
    net = used(bracket(inside=inside, t=t), {"1/spot0": (0, 0, -900.0, 0, 0, 0)})[1].net
    found = {b.strip.bend: ends.sharpened(part, b) for b in net.beams}
    assert found[None] == 1.0 and found[0] == pytest.approx(sharper, rel=1e-4) and sharper > 1


def test_a_bent_tubes_bend_is_sharper_by_its_curve_and_its_thinner_wall():
    """A thin ring at mean radius r bent about R: slices of the ring at cos φ, its wall t R/(R + D/2)."""
    a, loads = TRIALS["bent tube"](1.0)
    _, _, forces = judged(a, loads)
    part = a.by_key["1/tube"]
    stock, big = part.shape.stock, part.shape.path.radii[0]
    ring = (stock.width - stock.wall) / 2
    made = part.material.wall_factor  # the wall it is reckoned with
    wall = made * stock.wall * big / (big + stock.width / 2)
    phi = (np.arange(200_000) + 0.5) * 2 * math.pi / 200_000
    radius, da = big - ring * np.cos(phi), ring * wall * 2 * math.pi / 200_000
    area = 2 * math.pi * ring * wall
    rn = area / (da / radius).sum()
    modulus = area * (big - rn) * (big - ring) / (rn - (big - ring))
    factors = [ends.sharpened(part, b) for b in forces.net.beams_of("1/tube")]
    assert min(factors) == 1.0
    expected = stock.section(made).Wely / modulus
    assert min(f for f in factors if f > 1) == pytest.approx(expected, rel=1e-3)
