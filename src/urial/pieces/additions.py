"""Changes that add steel to what a family has made, or move where something goes on: braces, gussets, plates
stood on a face, doublers.
"""

from __future__ import annotations

import math
from dataclasses import replace

from urial.assembly.build import Beads, Build, Named, Takes, end_runs, loop, thick_of
from urial.assembly.model import LOAD, Eye, Joint, Weld
from urial.geometry import axis
from urial.geometry import path as paths
from urial.geometry.outline import distance_to_edge, polygon, rectangle
from urial.geometry.path import Line
from urial.geometry.place import Place, Vec, X, Y, Z, add, along, cross, dot, minus, norm, times, unit
from urial.geometry.shape import Bar, Cope, End, Hole, Plate, Slant
from urial.job.change import BevelOn, BraceTo, DoublerOn, GussetIn, PlateOn, SocketAt
from urial.pieces.spots import Refused, Spot, face_of, locate
from urial.stock import catalogue

LEAST_ANGLE = 0.34
"""Sine of the flattest way a brace may land, 20°."""


def gusset(b: Build, change: GussetIn, n: int, mirrored: bool) -> None:
    """Tips at the two places; the corner where the two faces meet, in the plane both look along."""
    one, two = locate(b, change.at, mirrored), locate(b, change.to, mirrored)
    bent = one.part.shape.folds if isinstance(one.part.shape, Plate) else ()  # it may stand in their corner
    if one.part.key == two.part.key and not bent:
        raise Refused("both of its tips are on one part; pick another for the second.")
    if abs(dot(one.normal, two.normal)) > 0.26:
        raise Refused("the two faces do not stand square to each other, within 15°; pick two that do.")
    width = unit(cross(one.normal, two.normal))
    out = unit(cross(two.normal, width))  # along the second face, away from the first
    # on both faces, level with the first place
    down = dot(minus(one.point, two.point), two.normal)
    foot = along(one.point, two.normal, -down)
    up = dot(minus(two.point, foot), one.normal)
    if down < 12 or up < 12:
        raise Refused(
            f"its tips lie {down:.0f} and {up:.0f} mm from the corner; 12 mm is the least on each face."
        )
    sheet = catalogue.plate(change.plate)
    t = sheet.thickness
    sign = 1.0 if dot(out, one.normal) > 0 else -1.0
    out = times(out, sign)
    if abs(dot(minus(two.point, foot), width)) > 60:
        raise Refused(
            "its tips do not lie in one plane across the corner; pick the second opposite the first."
        )
    normal = cross(two.normal, out)
    place = Place(along(foot, normal, -t / 2), two.normal, out, normal)
    nose = min(6.0, down / 3, up / 3)
    free = 8.0  # of bead at the corner
    corners = [(0.0, 0.0), (down, 0.0), (down, nose), (nose, up), (0.0, up)]
    if one.part.key == two.part.key:  # in the corner of a bend: cut away where the metal is round
        round_off = max(f.inside * math.tan(abs(f.angle) / 2) for f in bent) + 2.0
        if min(down, up) < round_off + 12.0:
            raise Refused(f"its tips must lie {round_off + 12.0:.0f} mm from the corner, clear of the bend.")
        corners[:1] = [(0.0, round_off), (round_off, 0.0)]
        free = round_off
    instance = f"{n}{'2' if mirrored else ''}"
    made = b.plate(
        Named("added gusset", instance=instance, called="added gusset"),
        Plate(polygon(corners), t, place),
        change.steel,
        f"plate {sheet.name}",
    )
    ways = (("first", one, two.normal, down), ("second", two, out, up))
    for name, spot, way, size in ways:
        lines = [
            (along(along(foot, normal, h), way, free), along(along(foot, normal, h), way, size))
            for h in (-t / 2, t / 2)
        ]
        b.weld(
            Named(f"added gusset {name} weld", instance=instance, called=f"added gusset to {spot.part.name}"),
            spot.part,
            made,
            Beads(lines, change.weld_mm, "", normal=spot.normal),
        )


def _end(spot: Spot, way: Vec, brace: float) -> tuple[Vec, End]:
    """Where a brace's middle line ends on a place, and how it is cut; ``way`` runs from the place out along
    it.
    """
    shape = spot.part.shape
    if isinstance(shape, Bar) and shape.stock.shape in ("round_tube", "round_bar"):
        here = axis.frame_at(shape, spot.s)
        if brace > shape.stock.width:
            raise Refused(f"the brace is thicker than the {spot.part.name}, {shape.stock.width:.4g} mm.")
        if norm(cross(unit(way), here.x)) < LEAST_ANGLE:
            raise Refused(f"it runs along the {spot.part.name}; end it where it comes in at 20° at least.")
        return here.o, Cope(shape.stock.width / 2, here.o, here.x)
    if dot(unit(way), spot.normal) < LEAST_ANGLE:
        raise Refused(
            f"it lies along the face of the {spot.part.name}; pick the face that looks at its other end."
        )
    return spot.point, Slant(spot.normal)


def brace(b: Build, change: BraceTo, n: int, mirrored: bool) -> None:
    """A round bar from place to place."""
    one, two = locate(b, change.at, mirrored), locate(b, change.to, mirrored)
    if one.part.key == two.part.key:
        raise Refused("both of its ends are on one part; pick another for the second.")
    stock = catalogue.bar(change.bar)
    if stock.shape not in ("round_tube", "round_bar"):
        raise Refused(f"{stock.title} is not round; braces are of round tube or bar.")
    way = minus(two.point, one.point)
    if norm(way) < 2 * stock.width:
        raise Refused(f"its ends are only {norm(way):.0f} mm apart.")
    start, cut_i = _end(one, way, stock.width)
    end, cut_j = _end(two, times(way, -1), stock.width)
    instance = f"{n}{'2' if mirrored else ''}"
    line = unit(minus(end, start))
    up = Z if abs(dot(line, Z)) < 0.9 else X if abs(dot(line, X)) < 0.9 else Y
    made = b.bar(
        Named("added brace", instance=instance, called="added brace"),
        Bar(stock, Line(start, end), up=up, end_i=cut_i, end_j=cut_j),
        change.steel,
    )
    for name, which, spot in (("first", "i", one), ("second", "j", two)):
        b.weld(
            Named(f"added brace {name} weld", instance=instance, called=f"added brace to {spot.part.name}"),
            spot.part,
            made,
            Beads(end_runs(made, which), change.weld_mm, "", normal=spot.normal),  # type: ignore[arg-type]
        )


# ---- a plate stood on a face


def _directions(spot: Spot) -> tuple[Vec, Vec]:
    """Along and across the face at a place."""
    shape = spot.part.shape
    first = axis.frame_at(shape, spot.s).x if isinstance(shape, Bar) else face_of(spot).place.x
    return first, cross(spot.normal, first)


def _room(spot: Spot, corners: list[Vec], what: str) -> None:
    """Refused where something on a face reaches over its edge."""
    part, shape = spot.part, spot.part.shape
    if isinstance(shape, Plate):
        face = face_of(spot)
        flat = [face.place.local(p) for p in corners]
        if any(distance_to_edge(shape.outline, u, v) < -0.01 for u, v, _ in flat):
            raise Refused(f"{what} reaches over the edge of the {part.name} there.")
        if any(distance_to_edge(face.outline, u, v) < -0.01 for u, v, _ in flat):
            raise Refused(f"{what} reaches into a bend of the {part.name} there.")
        return
    assert isinstance(shape, Bar)
    here, stock = axis.frame_at(shape, spot.s), shape.stock
    beside = abs(dot(spot.normal, here.y)) > 0.7
    flat_width = (stock.height if beside else stock.width) - 2 * stock.radius
    if stock.shape in ("round_tube", "round_bar"):
        flat_width = 2.0
    across = here.z if beside else here.y
    for p in corners:
        off = minus(p, here.o)
        if abs(dot(off, across)) > flat_width / 2 + 0.5:
            raise Refused(f"{what} is wider than the flat of the {part.name}, {max(flat_width, 0):.0f} mm.")
        if not 0 <= spot.s + dot(off, here.x) <= paths.length(shape.path):
            raise Refused(f"{what} reaches over the end of the {part.name}.")


def plate(b: Build, change: PlateOn, n: int, mirrored: bool) -> None:
    """Square to the face, welded along both sides of its foot; an eye where it has a hole."""
    spot = locate(b, change.at, mirrored)
    sheet = catalogue.plate(change.plate)
    t, wide, high, d = sheet.thickness, change.long_mm, change.high_mm, change.hole_mm
    e, across = _directions(spot)
    if change.turned:
        e, across = across, times(e, -1)
    ends = [along(spot.point, e, k * wide / 2) for k in (-1, 1)]
    _room(spot, ends, "its foot")
    side = cross(e, spot.normal)
    place = Place(along(spot.point, side, -t / 2), e, spot.normal, side)
    top = min(wide / 2, high / 2)  # the eye's middle below the top edge
    if d and (d / 2 + 4 > top or change.pin_mm > d):
        raise Refused(
            f"a {d:.4g} mm hole does not fit a plate {wide:.4g} by {high:.4g} mm with a "
            f"{change.pin_mm:.4g} mm pin in it; make the plate larger or the pin thinner."
        )
    c = min(wide / 4, high / 3) * (1.0 if d else 0.5)
    h = wide / 2
    corners = [(-h, 0.0), (h, 0.0), (h, high - c), (h - c, high), (c - h, high), (-h, high - c)]
    instance = f"{n}{'2' if mirrored else ''}"
    made = b.plate(
        Named("added plate", instance=instance, called="plate stood on it"),
        Plate(polygon(corners), t, place, holes=((0.0, high - top, d),) if d else ()),
        change.steel,
        f"plate {sheet.name}",
    )
    lines = [(along(ends[0], side, k * t / 2), along(ends[1], side, k * t / 2)) for k in (-1, 1)]
    b.weld(
        Named("added plate weld", instance=instance, called=f"plate stood on the {spot.part.name}"),
        spot.part,
        made,
        Beads(lines, change.weld_mm, "", normal=spot.normal),
    )
    if d:
        at = Place.facing(place.point((0.0, high - top, t / 2)), side, e)
        b.socket(f"added ring.{instance}", made, at, Takes("ring"))
        b.joint(
            Named("added ring", instance=instance, called="shackle in the plate stood on it"),
            made,
            LOAD,
            at,
            Eye(change.pin_mm, d),
        )


# ---- a doubler round a hole


def _hole_at(spot: Spot, reach: float) -> tuple[Vec, float]:
    """The hole through a face nearest to a place: its middle on the face, its diameter."""
    shape, found = spot.part.shape, []
    if isinstance(shape, Plate):
        face = face_of(spot)
        height = face.place.local(spot.point)[2]
        found = [(face.place.point((u, v, height)), d) for u, v, d in face.holes]
    elif isinstance(shape, Bar):
        for cut in shape.cuts:
            if isinstance(cut, Hole) and abs(dot(cut.axis, spot.normal)) > 0.99:
                down = dot(minus(spot.point, cut.centre), spot.normal)
                found.append((along(cut.centre, spot.normal, down), cut.diameter))
    near = min(found, key=lambda h: norm(minus(h[0], spot.point)), default=None)
    if near is None or norm(minus(near[0], spot.point)) > reach:
        raise Refused(f"there is no hole of the {spot.part.name} there; pick the face beside one.")
    return near


def doubler(b: Build, change: DoublerOn, n: int, mirrored: bool) -> None:
    """A square plate on the face, its hole the part's."""
    spot = locate(b, change.at, mirrored)
    middle, d = _hole_at(spot, change.size_mm)
    sheet, half = catalogue.plate(change.plate), change.size_mm / 2
    if half < d / 2 + sheet.thickness:
        raise Refused(
            f"a square of {change.size_mm:.4g} mm leaves too little round a {d:.4g} mm hole; take at least "
            f"{d + 2 * sheet.thickness:.0f} mm."
        )
    e, _ = _directions(spot)
    place = Place(middle, e, cross(spot.normal, e), spot.normal)
    _room(spot, [place.point((x * half, y * half, 0.0)) for x in (-1, 1) for y in (-1, 1)], "it")
    instance = f"{n}{'2' if mirrored else ''}"
    made = b.plate(
        Named("doubler", instance=instance, called=f"doubler on the {spot.part.name}"),
        Plate(rectangle(-half, -half, half, half), sheet.thickness, place, holes=((0.0, 0.0, d),)),
        change.steel,
        f"plate {sheet.name}",
    )
    b.parts[made.key] = made = replace(made, doubles=spot.part.key)
    b.weld(
        Named("doubler weld", instance=instance, called=f"doubler to {spot.part.name}"),
        spot.part,
        made,
        Beads(loop(place, 2 * half, 2 * half), change.weld_mm, "", normal=spot.normal, edge=sheet.thickness),
    )


NEAR = 80.0
"""A weld whose beads are no farther from a place is the one that is meant, mm."""


def _off(p: Vec, a: Vec, b: Vec) -> float:
    """How far a place is from a straight bead, mm."""
    run = minus(b, a)
    share = min(max(dot(minus(p, a), run) / max(dot(run, run), 1e-9), 0.0), 1.0)
    return norm(minus(p, add(a, times(run, share))))


def bevel(b: Build, change: BevelOn, mirrored: bool) -> None:
    """The weld nearest to the place bevelled to where it is fused through: half of the thinner metal from
    either side, or all of it from one.
    """
    spot = locate(b, change.at, mirrored)
    welds = [
        j
        for j in b.joints.values()
        if isinstance(j.how, Weld) and spot.part.key in (j.a, j.b) and j.how.host is None
    ]

    def off(j: Joint) -> float:
        assert isinstance(j.how, Weld)
        return min(_off(spot.point, r.a, r.b) for r in j.how.runs)

    weld = min(welds, key=off, default=None)
    if weld is None or off(weld) > NEAR:
        raise Refused(f"no weld on the {spot.part.name} is near there; click beside its bead.")
    how = weld.how
    assert isinstance(how, Weld)
    if any(r.radius for r in how.runs):
        raise Refused(f"the beads of {weld.name} lie beside round corners; there is no edge to bevel.")
    thin = min(thick_of(b.parts[k].shape) for k in (weld.a, weld.b))
    deep = thin / 2 if change.sides == "both" else thin
    runs = tuple(replace(r, groove=deep) for r in how.runs)
    b.joints[weld.key] = replace(weld, how=replace(how, runs=runs, through=change.sides == "both"))


# ---- where something goes on


def movable(b: Build, key: str) -> str:
    """Why a socket of this piece cannot be moved by hand; empty where it can."""
    held = next((s for s in b.sockets if s.key == key), None)
    name = key.split("/", 1)[1]
    if held is None:
        return f"there is no place called {name} now."
    if held.depth or held.inner:
        return f"{name} is a bore; move the part it is in."
    if any(isinstance(j.how, Eye) and norm(minus(j.place.o, held.place.o)) < 1 for j in b.joints.values()):
        return f"{name} is in a hole; move the hole."
    return ""


def socket(b: Build, change: SocketAt, mirrored: bool) -> None:
    """Something goes on at another place; which way it faces stays."""
    spot, key = locate(b, change.at, mirrored), f"{b.piece}/{change.socket}"
    why = movable(b, key)
    if why:
        raise Refused(why)
    for k, s in enumerate(b.sockets):
        if s.key == key:
            by = minus(spot.point, s.place.o)
            b.sockets[k] = replace(
                s,
                part=spot.part.key,
                place=replace(s.place, o=spot.point),
                lands=along(s.lands, by, 1.0) if s.lands else None,
            )
