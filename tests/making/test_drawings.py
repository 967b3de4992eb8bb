"""A drawing tells all: the solids of every part of every family made again from its written figures alone,
each read off one datum; and what a tape cannot hook on is said.
"""

import math
from dataclasses import replace

import numpy as np
import pytest
from manifold3d import CrossSection, Manifold
from shapely.geometry import LineString, Point, Polygon

from urial.families import build, families, new_job
from urial.geometry import axis, outline
from urial.geometry import path as paths
from urial.geometry.faces import beyond, faces, round_it
from urial.geometry.path import Arc, Line
from urial.geometry.place import dot
from urial.geometry.profile import centroid_of, rings
from urial.geometry.shape import Bar, Hole, Mitre, Plate, Square
from urial.geometry.solids import solid
from urial.job.change import HoleIn, Pick
from urial.job.edit import put
from urial.making.drawings import drawing, drawings, figures
from urial.making.drawings.arcs import arced
from urial.making.drawings.bars import of_bar
from urial.making.parts import lead, parts_list
from urial.shop.snapshot import usual
from urial.stock import catalogue
from urial.units import parse, show_length

NAMES = list(families())


def read(mm):
    """What somebody reads who reads the paper: the figure as it is written there."""
    return float(show_length(mm, "metric").removesuffix(" mm").replace("\u202f", "").replace(" ", ""))


def degrees(value):
    return round(value, 1)


def thickest(one, two):
    """How far two solids differ: the thickest piece that only one of them has, mm (twice its volume over its
    surface, which for a thin piece is its thickness).
    """
    worst = 0.0
    for extra in (one - two, two - one):
        for piece in extra.decompose():
            if piece.volume() > 1e-3:
                worst = max(worst, 2 * piece.volume() / piece.surface_area())
    return worst


def cylinder(at, way, d, long):
    """A round from a place along a direction."""
    z = np.array(way) / np.linalg.norm(way)
    x = np.cross(z, [0.0, 0.0, 1.0] if abs(z[2]) < 0.9 else [1.0, 0.0, 0.0])
    x /= np.linalg.norm(x)
    matrix = np.column_stack([x, np.cross(z, x), z, at])
    return Manifold.cylinder(long, d / 2, d / 2, 64).transform(matrix.tolist())


def made_again(d, stock):
    """A straight bar from its drawing: x from its first end's long point, y and z the section's."""
    outer, inner = rings(stock)
    flat = CrossSection([outer]) - CrossSection([inner]) if inner else CrossSection([outer])
    body = flat.extrude(read(d.long))
    body = body.transform([[0, 0, 1, 0], [1, 0, 0, 0], [0, 1, 0, 0]])
    turn = " second end" in d.datum

    def x(along):
        return read(d.long) - read(along) if turn else read(along)

    flats = {f.letter: f for f in faces(stock)}
    for end in d.ends:
        way = -1.0 if end.which == "first" else 1.0
        if end.kind in ("mitre", "compound") and end.edges:
            places = []
            for name, along in end.edges:
                letters = name.removesuffix(" tip").split("/")
                f = flats[letters[0]]
                other = flats[letters[1]] if len(letters) > 1 else None
                v = f.high if other is not None and dot((*other.normal, 0), (*f.up, 0)) > 0.5 else f.low
                if other is None:  # the tip of a leg lies away from the heel
                    v = f.high if abs(f.high) > abs(f.low) else f.low
                places.append((x(along), *f.at(v)))
            p = np.array(places)
            _, _, vh = np.linalg.svd(p - p.mean(axis=0))
            n = vh[-1] * math.copysign(1.0, vh[-1][0]) * -way
            body = body.trim_by_plane(n.tolist(), float(n @ p.mean(axis=0)))
        elif end.kind == "mitre":
            tilt, turned = math.radians(degrees(end.size("saw°"))), math.radians(degrees(end.size("turned°")))
            long = np.array([0.0, math.cos(turned), math.sin(turned)])
            n = -way * np.array([math.cos(tilt), 0, 0]) + long * math.sin(tilt)
            at = np.array([x(end.size("middle")), 0.0, 0.0])
            body = body.trim_by_plane(n.tolist(), float(n @ at))
        elif end.kind == "cope":
            turned, lean = math.radians(end.size("turned°")), math.radians(end.size("lean°"))
            main = np.array(
                [math.sin(lean), math.cos(lean) * math.cos(turned), math.cos(lean) * math.sin(turned)]
            )
            side = np.cross([1.0, 0, 0], main)
            side /= np.linalg.norm(side)
            at = np.array([x(end.size("middle of the main")), 0, 0]) + side * end.size("off")
            round_ = cylinder(at - main * 500, main, read(end.size("main")), 1000)
            far = [way * 500.0, 0.0, 0.0]
            body = body - Manifold.batch_hull([round_, round_.translate(far)])
    for f in d.features:
        if f.which[0] == "H" and f.view in flats:
            face = flats[f.view]
            y, z = face.at(face.low + read(f.up))
            deep = dict(f.sizes).get("deep", 2000.0)
            n = np.array([0.0, *face.normal])
            start = np.array([x(f.along), y, z]) + n
            body = body - cylinder(start, -n, read(f.size("⌀")), read(deep) + 1.0)
        elif f.which[0] == "W":
            face = flats[f.view]
            low = face.low + read(f.up)
            deep = min(f.size("deep"), 2000.0)
            corners = [
                (x(f.along + a), *(np.array(face.at(low + b)) - c * np.array(face.normal)))
                for a in (0.0, read(f.size("long")))
                for b in (0.0, read(f.size("wide")))
                for c in (-1.0, read(deep))
            ]
            body = body - Manifold.hull_points(corners)
    return body


def stock_of(d):
    return catalogue.bar(d.stock)


def in_bar_axes(shape):
    here = axis.frame_at(shape, 0.0)
    back = max(beyond(shape, "i", y, z) for y, z in round_it(shape.stock))
    return solid(shape).transform(here.inverse().matrix).translate([back, 0.0, 0.0])


def every(kind):
    for name in NAMES:
        assembly = build(new_job(name))
        for row in parts_list(assembly):
            part = assembly.by_key[lead(row)]
            if not row.hardware and isinstance(part.shape, kind):
                yield name, part, drawing(assembly, row, usual())


@pytest.mark.parametrize("name", NAMES)
def test_every_line_of_the_list_that_is_made_has_a_drawing(name):
    assembly = build(new_job(name))
    rows = [r for r in parts_list(assembly) if not r.hardware]
    drawn = [d.mark for d in drawings(assembly, parts_list(assembly), usual())]
    assert drawn == [r.mark for r in rows]


def test_every_straight_bar_is_made_again_from_its_figures():
    seen = 0
    for name, part, d in every(Bar):
        shape = part.shape
        if not isinstance(shape.path, Line) or {e.kind for e in d.ends} & {"flattened", "slug", "cap"}:
            continue
        off = thickest(made_again(d, shape.stock), in_bar_axes(shape))
        assert off < 0.2, (name, d.mark, off)
        seen += 1
    assert seen > 50


def test_a_wrong_figure_would_be_seen():
    name, part, d = next(
        (n, p, d) for n, p, d in every(Bar) if any(f.which == "H1" and f.view == "B" for f in d.features)
    )
    del name
    hole = next(f for f in d.features if f.which == "H1")
    off = replace(d, features=(replace(hole, along=hole.along + 2.0), *d.features[1:]))
    assert thickest(made_again(off, part.shape.stock), in_bar_axes(part.shape)) > 0.5


def outline_again(rows, mirrored=False):
    """An outline from its corners as they are written: straight, or an arc about a centre, left or right
    about as one looks at it; figures from the right or from the top alone are its mirror image.
    """
    ring = []
    for here, there in zip(rows, [*rows[1:], rows[0]], strict=True):
        a, b = (read(here.along), read(here.up)), (read(there.along), read(there.up))
        sizes = dict(here.sizes)
        bulge = 0.0
        if "R" in sizes:
            u, v = read(sizes["centre along"]), read(sizes["centre up"])
            way = 1 if ("left about" in here.words) != mirrored else -1
            turn = math.atan2(b[1] - v, b[0] - u) - math.atan2(a[1] - v, a[0] - u)
            bulge = way * math.tan((way * turn) % (2 * math.pi) / 4)
            assert math.dist((u, v), a) == pytest.approx(read(sizes["R"]), abs=0.2)
        ring.append((*a, bulge))
    return Polygon(outline.flatten(tuple(ring)))


def box_again(long, wide, r):
    return Polygon(outline.flatten(outline.rectangle(0.0, 0.0, long, wide, r)))


def from_datum(shape, d, u, v):
    u0, v0, u1, v1 = outline.bounds(shape.outline)
    right, top = "its right" in d.datum, "its upper" in d.datum
    return (u1 - u if right else u - u0), (v1 - v if top else v - v0)


def test_every_plate_is_made_again_from_its_figures():
    seen = 0
    for name, part, d in every(Plate):
        shape = part.shape
        if part.decking is not None and part.decking.kind == "boards":
            continue
        corners = [f for f in d.features if f.which[0] == "P"]
        r = next((float(n.split("corners R ")[1].split(" mm")[0]) for n in d.notes if "corners R" in n), 0.0)
        mirrored = ("its right" in d.datum) != ("its upper" in d.datum)
        made = outline_again(corners, mirrored) if corners else box_again(read(d.long), read(d.wide), r)
        wanted = Polygon([from_datum(shape, d, u, v) for u, v in outline.flatten(shape.outline)])
        assert made.hausdorff_distance(wanted) < 0.5, (name, d.mark)
        holes = [f for f in d.features if f.which[0] == "H"]
        assert len(holes) == len(shape.holes)
        left = [(*from_datum(shape, d, u, v), size) for u, v, size in shape.holes]
        for h in holes:
            near = min(left, key=lambda x: math.dist(x[:2], (h.along, h.up)) + abs(x[2] - h.size("⌀")))
            left.remove(near)
            assert math.dist(near[:2], (read(h.along), read(h.up))) < 0.08, (name, d.mark, h)
            assert abs(near[2] - read(h.size("⌀"))) <= 0.0501
        assert len(d.features) >= len(shape.openings)
        for bend, fold in zip([f for f in d.features if f.which[0] == "B"], shape.folds, strict=True):
            line = LineString([from_datum(shape, d, *fold.a), from_datum(shape, d, *fold.b)])
            for at in ((bend.along, bend.up), (bend.size("to along"), bend.size("to up"))):
                assert line.distance(Point(read(at[0]), read(at[1]))) < 0.1
            assert degrees(bend.size("bend°")) == pytest.approx(abs(math.degrees(fold.angle)), abs=0.05)
            assert read(bend.size("inside R")) == pytest.approx(fold.inside, abs=0.05)
        seen += 1
    assert seen > 90


def test_every_bent_bar_is_made_again_from_its_figures():
    seen = 0
    for name, part, d in every(Bar):
        shape = part.shape
        if isinstance(shape.path, Line) or shape.slots is not None:
            continue
        first = " second end" not in d.datum
        origin = -max(beyond(shape, "i", y, z) for y, z in round_it(shape.stock))
        assert first, "the built-in bent bars start at their first end"
        at, way, up, point = 0.0, np.array([1.0, 0, 0]), np.array([0, 0, 1.0]), np.zeros(3)
        places = [point]
        for b in [f for f in d.features if f.which[0] == "B"]:
            angle, radius = math.radians(degrees(b.size("bend°"))), read(b.size("radius"))
            straight = read(b.along) + origin - at
            tangent = radius * math.tan(angle / 2)
            turn = math.radians(degrees(b.size("twist°")))
            up = up * math.cos(turn) + np.cross(way, up) * math.sin(turn)
            point = point + way * (straight + tangent)
            places.append(point)
            way = way * math.cos(angle) + np.cross(up, way) * math.sin(angle)
            point = point + way * tangent
            at = read(b.along) + origin + radius * angle
        long = read(d.long) + origin
        ends = max(beyond(shape, "j", y, z) for y, z in round_it(shape.stock))
        places.append(point + way * (long - ends - at))
        wanted = [np.array(p) for p in shape.path.points]
        assert len(places) == len(wanted)
        for i in range(len(places)):
            for j in range(i):
                one, two = np.linalg.norm(places[i] - places[j]), np.linalg.norm(wanted[i] - wanted[j])
                assert one == pytest.approx(two, abs=1.5), (name, d.mark, i, j)
        if len(places) > 3:  # the hand of it

            def hand(q):
                return float(np.dot(np.cross(q[1] - q[0], q[2] - q[1]), q[3] - q[2]))

            assert hand(places) == pytest.approx(hand(wanted), rel=0.01, abs=1e3)
        seen += 1
    assert seen >= 2


def test_slots_lie_where_their_bend_is():
    (d, shape) = next((d, p.shape) for _, p, d in every(Bar) if p.shape.slots is not None)
    rows = [f for f in d.features if f.which[0] == "S"]
    arcs = [r for r in paths.runs(shape.path) if isinstance(r, Arc)]
    assert len(rows) == len(arcs) and all(f.view in "ABCD" for f in rows)
    for f, arc in zip(rows, arcs, strict=True):
        assert f.size("bend°") == pytest.approx(math.degrees(arc.angle))
        # closed, each slot turns by 2 atan(w / 2h) at most
        assert f.size("slots") * 2 * math.atan(f.size("wide") / 2 / f.size("deep")) >= arc.angle - 1e-9


def test_plain_pieces_say_all_in_their_line_and_others_have_a_picture():
    for name in NAMES:
        assembly = build(new_job(name))
        for d in drawings(assembly, parts_list(assembly), usual()):
            assert bool(d.views) != d.plain, (name, d.mark)
            for v in d.views:
                xs = [x for ring in v.rings for x, _ in ring]
                assert min(xs) > -0.2 and max(xs) < d.long + 0.2, (name, d.mark)
                for x, _, _, which in v.circles:
                    assert -0.01 <= x <= d.long + 0.01, which
    deck = build(new_job("flat-trailer"))
    boards = [d for d in drawings(deck, parts_list(deck), usual()) if "board" in d.name or "deck" in d.name]
    assert boards and all(d.plain for d in boards)


def test_figures_are_from_one_datum_that_a_tape_hooks_on():
    """A mitred first end and a square second one: measured from the square end."""
    stock = catalogue.bar("60 × 60 × 3")
    shape = Bar(
        stock,
        Line((0.0, 0, 0), (500.0, 0, 0)),
        end_i=Mitre(math.radians(45)),
        end_j=Square(),
        cuts=(
            Hole((100.0, 0.0, 10.0), (0.0, 1.0, 0.0), 13.0),
            Hole((400.0, 0.0, 10.0), (0.0, 1.0, 0.0), 13.0),
        ),
    )
    assembly = build(new_job("rear-receiver"))
    part = next(p for p in assembly.parts if isinstance(p.shape, Bar))
    d = of_bar(replace(part, shape=shape), shape, usual())
    assert "second end" in d.datum and "long point" not in d.datum
    # long point of 45° on a tube 60 high: 30 beyond the middle
    assert d.long == pytest.approx(530.0)
    assert [(f.which, f.along, f.up) for f in d.features] == [("H1", 100.0, 40.0), ("H2", 400.0, 40.0)]
    assert dict(d.ends[0].edges) == pytest.approx({"A/D": 470.0, "A/B": 470.0, "B/C": 530.0, "C/D": 530.0})


def test_an_angle_is_laid_out_from_its_heel():
    """L 50 × 50 × 6 with a hole 30 mm up one leg."""
    stock = catalogue.bar("L 50 × 50 × 6")
    cy, _ = centroid_of(stock)
    shape = Bar(
        stock, Line((0.0, 0, 0), (96.0, 0, 0)), cuts=(Hole((20.0, 30.0 - cy, 0.0), (0.0, 0.0, 1.0), 11.0),)
    )
    assembly = build(new_job("rail-cradle"))
    part = next(p for p in assembly.parts if isinstance(p.shape, Bar))
    d = of_bar(replace(part, shape=shape), shape, usual())
    (hole,) = d.features
    # face C is the foot seen from below: its upper edge is the heel, so 30 from the heel is 20 from the tip
    assert (hole.view, hole.along, hole.up) == ("C", 20.0, pytest.approx(20.0))
    assert hole.words.startswith("through;")


def test_a_row_of_chords_is_said_as_one_arc():
    """Half a round of 42 mm in 16 chords, on a bar 172 mm long."""
    chords = [
        (172 + 42 * math.sin(k * math.pi / 16), 42 - 42 * math.cos(k * math.pi / 16)) for k in range(17)
    ]
    ring = outline.polygon([(0.0, 0.0), *chords, (0.0, 84.0)])
    said = arced(ring)
    assert len(said) == 4
    bulges = [b for _, _, b in said if b]
    assert bulges == [pytest.approx(1.0, abs=0.02)]
    square = outline.polygon([(0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0)])
    assert arced(square) == square


def test_drilling_says_pilot_step_and_what_no_bit_does():
    shop = usual()
    words = [
        drawn
        for _, _, d in every(Plate)
        for f in d.features
        if f.which[0] == "H"
        for drawn in [(f.size("⌀"), f.words)]
    ]
    for size, said in words:
        if size > shop.drill.largest_mm:
            assert "annular" in said
        elif size > shop.drill.pilot_mm:
            assert said.startswith(f"pilot ⌀ {shop.drill.pilot_mm:.4g} mm")


def test_inches_are_within_half_their_last_fraction():
    for _, _, d in every(Bar):
        for f in d.features:
            if f.along is not None:
                mm = parse(show_length(f.along, "inch", 16), "length", "inch")
                assert abs(mm - f.along) <= 25.4 / 32 + 1e-6


def test_holes_and_bends_that_a_person_adds_are_drawn_too():
    job = new_job("rack-carrier")
    piece = job.stack[-1]
    assembly = build(job)
    bar = next(
        p
        for p in assembly.parts
        if p.piece == str(piece.id)
        and isinstance(p.shape, Bar)
        and isinstance(p.shape.path, Line)
        and not p.shape.cuts
        and p.shape.stock.shape == "rect_tube"
    )
    name = bar.key.split("/", 1)[1]
    change = HoleIn(at=Pick(part=name, along_mm=60.0, face="+z"), diameter_mm=9.0, count=2, pitch_mm=30.0)
    job = put(job, f"stack.{piece.id}.changes", (*piece.changes, change))
    assembly = build(job)
    row = next(r for r in parts_list(assembly) if bar.key in r.parts)
    d = drawing(assembly, row, usual())
    assert [(f.which, f.view, f.size("⌀")) for f in d.features] == [("H1", "A", 9.0), ("H2", "A", 9.0)]
    apart = d.features[1].along - d.features[0].along
    assert apart == pytest.approx(30.0) and figures(d.features[0], lambda x: f"{x:g}") == "⌀ 9"
