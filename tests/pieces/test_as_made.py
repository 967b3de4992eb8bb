"""A hole where it was drilled, a bend as it was bent: what is judged then, and what is refused."""

import math
import re
from dataclasses import replace

import pytest

from urial.assembly import facts
from urial.assembly.build import Build
from urial.assembly.model import Bolts, Eye, Pin
from urial.families import build, new_job
from urial.geometry import path as paths
from urial.geometry.path import Arc, Bent
from urial.geometry.place import Place
from urial.geometry.shape import Bar, Box, Hole
from urial.job.change import AngleAs, HoleAs, Pick
from urial.job.edit import put
from urial.making.drawings import drawing
from urial.making.parts import parts_list
from urial.pieces.as_made import angle_as
from urial.prove.verdict import prove
from urial.shop.snapshot import usual
from urial.stock import catalogue


def drawn(job, mark):
    assembly = build(job)
    row = next(r for r in parts_list(assembly) if r.mark == mark)
    return assembly, row, drawing(assembly, row, usual())


def with_hole(job, name, f, along=0.0, up=0.0, d=0.0, piece="1"):
    at = Pick(part=name, along_mm=f.along, across_mm=f.up or 0.0, face="front" if not f.view else "+z")
    change = HoleAs(
        at=at, along_mm=f.along + along, across_mm=(f.up or 0.0) + up, diameter_mm=f.size("⌀") + d
    )
    return put(job, f"stack.{piece}.changes", (change,))


def left_out(job):
    return [w for w in build(job).warnings if "does not fit" in w]


# ---- plates


RECOVERY = new_job("recovery-point")


def eye(job, side="left"):
    assembly = build(job)
    j = next(j for j in assembly.joints if isinstance(j.how, Eye) and side in j.a)
    return facts.eye_metal(assembly.by_key[j.a], j.place, j.how.hole)[0], j


def test_an_eye_nearer_to_its_edge_has_less_metal_and_is_judged_with_it():
    """R 38 round an eye of 28: 24 mm of metal; 3 mm farther out 21 are left."""
    _, _, d = drawn(RECOVERY, "A")
    hole = next(f for f in d.features if f.size("⌀") == 28.0)
    job = with_hole(RECOVERY, "recovery plate.left", hole, along=3.0)
    assert not left_out(job)
    assert eye(RECOVERY)[0] == pytest.approx(24.0, abs=0.3) and eye(job)[0] == pytest.approx(21.0, abs=0.3)
    assert eye(job, "right")[0] == eye(RECOVERY, "right")[0]

    edges = [
        str(next(c for c in prove(x).checks if c.id == "1/ring.left: eye").working()) for x in (RECOVERY, job)
    ]
    assert [float(re.search(r"edge ([\d.]+) mm", e)[1]) for e in edges] == pytest.approx([24, 21], abs=0.3)
    assert not [c.id for c in prove(job).checks if c.id == "1/recovery plate.left: net 4"]  # once is enough


def bolted(job, name):
    assembly = build(job)
    return next(j for j in assembly.joints if isinstance(j.how, Bolts) and j.a == name)


def test_a_bolt_hole_within_its_play_is_judged_where_it_is():
    """The plate's metal beside the bolt is measured from the hole that is there."""
    _, _, d = drawn(RECOVERY, "A")
    hole = d.features[0]
    j = bolted(RECOVERY, "1/recovery plate.left")
    play = j.how.hole_d - j.how.bolt.diameter
    job = with_hole(RECOVERY, "recovery plate.left", hole, up=-0.9 * play)
    assert not left_out(job)
    part, now = build(job).by_key["1/recovery plate.left"], bolted(job, "1/recovery plate.left")
    before = facts.bolt_edges(j.how, j.place, build(RECOVERY).by_key["1/recovery plate.left"])
    after = facts.bolt_edges(now.how, now.place, part)
    assert before.plate.min() - after.plate.min() == pytest.approx(0.9 * play, abs=0.05)
    assert (before.host == after.host).all()


def test_a_bolt_that_no_longer_finds_its_hole_is_refused_with_what_to_file():
    _, _, d = drawn(RECOVERY, "A")
    job = with_hole(RECOVERY, "recovery plate.left", d.features[0], along=4.0)
    (words,) = left_out(job)
    assert "off its place at most" in words and "file it to" in words and "M" in words
    assert (
        build(job).by_key["1/recovery plate.left"].shape
        == build(RECOVERY).by_key["1/recovery plate.left"].shape
    )


def test_a_wider_hole_is_wider_for_its_bolt_and_its_net():
    _, _, d = drawn(RECOVERY, "A")
    job = with_hole(RECOVERY, "recovery plate.left", d.features[0], d=2.0)
    assert not left_out(job)
    assert bolted(job, "1/recovery plate.left").how.hole_d == d.features[0].size("⌀") + 2.0
    assert max(
        h[2] for h in build(job).by_key["1/recovery plate.left"].shape.holes if h[2] < 20
    ) == pytest.approx(18.0)


@pytest.mark.parametrize(("off", "fits"), [(-1.9, True), (-2.1, False)])
def test_no_bolt_goes_through_a_hole_smaller_than_it(off, fits):
    """An M14 bolt in a hole drawn 16 mm."""
    _, _, d = drawn(RECOVERY, "A")
    how = bolted(RECOVERY, "1/recovery plate.left").how
    assert (how.bolt.diameter, d.features[0].size("⌀")) == (14.0, 16.0)
    words = left_out(with_hole(RECOVERY, "recovery plate.left", d.features[0], d=off))
    assert fits == (not words)
    assert fits or "does not go through 13.9 mm" in words[0]


def test_a_smaller_hole_has_less_play():
    """Of 2 mm round the bolt in each plate 0.5 are left in one: (0.5 + 2)/2 = 1.25 mm either way."""
    _, _, d = drawn(RECOVERY, "A")
    hole = d.features[0]
    assert not left_out(with_hole(RECOVERY, "recovery plate.left", hole, up=-1.2, d=-1.5))
    (words,) = left_out(with_hole(RECOVERY, "recovery plate.left", hole, up=-1.3, d=-1.5))
    assert "takes it 1.2 mm off" in words or "takes it 1.3 mm off" in words


@pytest.mark.parametrize(("along", "said"), [(9.0, "another hole"), (-9.0, "another hole")])
def test_a_hole_that_is_far_off_is_another_hole(along, said):
    _, _, d = drawn(RECOVERY, "A")
    (words,) = left_out(with_hole(RECOVERY, "recovery plate.left", d.features[-0], along=along))
    assert said in words


def test_a_place_without_a_hole_is_told():
    at = Pick(part="recovery plate.left", along_mm=160.0, across_mm=38.0, face="front")
    change = HoleAs(at=at, along_mm=161.0, across_mm=38.0, diameter_mm=16.0)
    (words,) = left_out(put(RECOVERY, "stack.1.changes", (change,)))
    assert "has no hole there" in words


# ---- bars


REAR = new_job("rear-receiver")


def test_a_pin_hole_of_a_bar_off_its_place_leaves_less_to_the_end():
    """63.5 mm from the receiver's mouth drawn, 60 drilled: the pin tears out of 3.5 mm less."""
    assembly, _, d = drawn(REAR, "C")
    hole = d.features[0]
    assert hole.along == 63.5
    job = with_hole(REAR, "receiver", hole, along=-3.5) if "1/receiver" in assembly.by_key else None
    key = next(p.key for p in assembly.parts if p.mark == "C")
    job = with_hole(REAR, key.split("/", 1)[1], hole, along=-3.5)
    assert not left_out(job)
    j = next(j for j in build(REAR).joints if key in (j.a, j.b) and type(j.how).__name__ == "Pin")
    was, now = (facts.eye_metal(build(x).by_key[key], j.place, 17.0)[0] for x in (REAR, job))
    # beside the hole: half of 63.5 less half the hole, as before, for the end is farther than that
    assert was == now == pytest.approx(63.5 / 2 - 8.5)
    moved = facts.drift(build(job).by_key[key], j.place.o)
    assert math.hypot(*moved) == pytest.approx(3.5)
    assert facts.drift(build(REAR).by_key[key], j.place.o) == (0.0, 0.0, 0.0)


@pytest.mark.parametrize("key", ["1/receiver", "2/bar"])
def test_no_pin_goes_through_a_hole_smaller_than_it(key):
    assembly, _, d = drawn(REAR, build(REAR).by_key[key].mark)
    pin = next(j.how for j in assembly.joints if key in (j.a, j.b) and isinstance(j.how, Pin))
    spare = 17.0 - pin.diameter
    name = key.split("/", 1)[1]
    hole, piece = next(f for f in d.features if f.size("⌀") == 17.0), key[0]
    assert not left_out(with_hole(REAR, name, hole, d=-spare, piece=piece))
    (words,) = left_out(with_hole(REAR, name, hole, d=-spare - 0.1, piece=piece))
    assert f"its {pin.diameter:.4g} mm hitch pin does not go through" in words


def test_a_hole_breaking_out_of_an_end_is_refused():
    assembly, _, d = drawn(new_job("rail-cradle"), "D")
    key = next(p.key for p in assembly.parts if p.mark == "D")
    job = new_job("rail-cradle")
    at = Pick(part=key.split("/", 1)[1], along_mm=16.0, face="+z")
    change = HoleAs(at=at, along_mm=11.0, diameter_mm=22.0)
    (words,) = left_out(put(job, "stack.1.changes", (change,)))
    assert "breaks out of the end" in words or "off its place" in words
    assert d.features


# ---- bends


HOOP = new_job("front-rail")


def angles(job, key):
    return [
        math.degrees(r.angle) for r in paths.runs(build(job).by_key[key].shape.path) if isinstance(r, Arc)
    ]


def hoop_key():
    return next(p.key for p in build(HOOP).parts if p.mark == "A")


def bent(n, to):
    name = hoop_key().split("/", 1)[1]
    change = AngleAs(at=Pick(part=name, face="+z", along_mm=0.0), bend=n, angle_deg=to)
    return put(HOOP, "stack.1.changes", (change,))


def test_a_bend_as_it_is_swings_what_lies_beyond_it():
    """Half a degree over the second bend: 635 mm of leg and the tangent swing by 0.5°."""
    job = bent(2, 90.2)
    assert not left_out(job)
    assert angles(job, hoop_key()) == pytest.approx([90.0, 90.2])
    was, now = (build(x).by_key[hoop_key()].shape.path for x in (HOOP, job))
    leg = math.dist(was.points[-1], was.points[-2])
    assert math.dist(was.points[-1], now.points[-1]) == pytest.approx(
        2 * leg * math.sin(math.radians(0.1)), rel=1e-6
    )
    assert was.points[:-1] == now.points[:-1]


def test_a_bend_swings_about_its_own_corner_where_the_next_is_nearer():
    """90° and then at once 45° on one die: the second corner lies nearer to the first arc's centre than its
    own.  A pin hole and a notch beyond the bends swing with them.
    """
    r, far = 100.0, 500.0
    one, two = (0.0, 0.0, 0.0), (0.0, r + r * math.tan(math.pi / 8) + 5.0, 0.0)
    end = (-far * math.sqrt(0.5), two[1] + far * math.sqrt(0.5), 0.0)
    path = Bent(((-600.0, 0.0, 0.0), one, two, end), (r, r))
    assert paths.corners(path) == (1, 2)
    spot = tuple((a + b) / 2 for a, b in zip(two, end, strict=True))
    stock = build(HOOP).by_key[hoop_key()].shape.stock
    cuts = (Hole(spot, (0.0, 0.0, 1.0), 12.0), Box(Place(spot), (20.0, 20.0, 200.0)))
    b = Build("1", "trial", "stack.1.", catalogue.electrode("E70"))
    b.parts["1/bow"] = replace(build(HOOP).by_key[hoop_key()], key="1/bow", shape=Bar(stock, path, cuts=cuts))
    angle_as(b, AngleAs(at=Pick(part="bow", face="+z"), bend=1, angle_deg=91.0))
    now = b.parts["1/bow"].shape
    assert [math.degrees(a.angle) for a in paths.runs(now.path) if isinstance(a, Arc)] == pytest.approx(
        [91.0, 45.0]
    )
    assert now.path.points[:2] == path.points[:2]
    turn = 2 * math.sin(math.radians(0.5))
    assert math.dist(now.path.points[2], two) == pytest.approx(turn * two[1])
    hole, notch = now.cuts
    assert hole.centre == pytest.approx(notch.place.o)
    assert paths.nearest(now.path, hole.centre) > 0 and math.dist(hole.centre, now.path.points[3]) == (
        pytest.approx(far / 2)
    )
    assert math.dist(notch.place.x, (1.0, 0.0, 0.0)) == pytest.approx(turn)


def test_a_bend_that_is_far_off_is_bent_again():
    (words,) = left_out(bent(1, 97.0))
    assert "bend it again" in words


def test_what_is_joined_beyond_must_still_meet():
    (words,) = left_out(bent(1, 93.0))
    assert "off its place" in words or "bridge a gap" in words


def test_a_fold_as_it_is():
    job = new_job("bumper-receiver")
    assembly = build(job)
    key = next(p.key for p in assembly.parts if p.mark == "G")
    at = Pick(part=key.split("/", 1)[1], face="front", along_mm=0.0)
    off = put(job, "stack.1.changes", (AngleAs(at=at, bend=1, angle_deg=88.0),))
    assert not left_out(off)
    assert math.degrees(abs(build(off).by_key[key].shape.folds[0].angle)) == pytest.approx(88.0)
    (words,) = left_out(put(job, "stack.1.changes", (AngleAs(at=at, bend=2, angle_deg=88.0),)))
    assert "has 1 bends" in words or "bends now" in words
