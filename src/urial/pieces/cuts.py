"""Changes that cut or bend what a family has made: holes, openings, notches, bends, tabs and slots, another
section.
"""

from __future__ import annotations

import math
from dataclasses import replace

from shapely.geometry import Point, Polygon
from shapely.geometry import box as shapely_box

from urial.assembly.build import Build
from urial.assembly.model import Part
from urial.geometry import axis
from urial.geometry import path as paths
from urial.geometry.folded import bent_metal, face_at, frame_at, in_bend
from urial.geometry.outline import (
    Outline,
    bounds,
    distance_to_edge,
    flatten,
    polygon,
    rectangle,
)
from urial.geometry.path import Bent
from urial.geometry.place import Place, Vec, add, along, cross, dot, minus, norm, times, unit
from urial.geometry.profile import extent
from urial.geometry.shape import Bar, Capped, Fold, Hole, Plate, Slots, Square
from urial.geometry.slotted import slot_rows
from urial.job.change import BendIn, HoleIn, NotchIn, OtherSection, TabIn, WindowIn
from urial.pieces.spots import Refused, Spot, face_of, locate, on_flat, other_side, part_called, spots_of
from urial.stock import catalogue


def hole(b: Build, change: HoleIn, mirrored: bool) -> None:
    """Round holes in a row."""
    spot, d = locate(b, change.at, mirrored), change.diameter_mm
    part, shape = spot.part, spot.part.shape
    count = int(change.count)
    if count > 1 and change.pitch_mm < d + 3:
        raise Refused(f"holes of {d:.4g} mm run into each other {change.pitch_mm:.4g} mm apart.")
    if isinstance(shape, Bar):
        whole, size = paths.length(shape.path), shape.stock
        across = size.height if abs(dot(spot.normal, axis.frame_at(shape, spot.s).y)) > 0.7 else size.width
        if d > 0.6 * across:
            raise Refused(
                f"a {d:.4g} mm hole takes more than three fifths of the {part.name}, {across:.4g} mm."
            )
        way = 1.0 if spot.s <= whole / 2 else -1.0
        cuts = list(shape.cuts)
        for k in range(count):
            s = spot.s + way * k * change.pitch_mm
            if not d / 2 + 2 <= s <= whole - d / 2 - 2:
                raise Refused(f"hole {k + 1} breaks out of the end of the {part.name}.")
            here = axis.frame_at(shape, s)
            y, z = dot(spot.normal, here.y), dot(spot.normal, here.z)
            cuts.append(Hole(here.o, here.y if abs(y) > abs(z) else here.z, d))
        b.parts[part.key] = replace(part, shape=replace(shape, cuts=tuple(cuts)))
        return
    assert isinstance(shape, Plate)
    u, v, _ = on_flat(shape, spot.point)
    middle = (bounds(shape.outline)[0] + bounds(shape.outline)[2]) / 2
    way = 1.0 if u <= middle else -1.0
    holes = list(shape.holes)
    for k in range(count):
        at = u + way * k * change.pitch_mm
        if distance_to_edge(shape.outline, at, v) < d / 2 + 2:
            raise Refused(f"hole {k + 1} of {d:.4g} mm breaks the edge of the {part.name}.")
        if in_bend(shape, at, v, d / 2) is not None:
            raise Refused(f"hole {k + 1} of {d:.4g} mm runs into a bend of the {part.name}.")
        near = next((h for h in holes if norm((at - h[0], v - h[1], 0.0)) < (d + h[2]) / 2 + 2), None)
        if near is not None:
            raise Refused(f"hole {k + 1} of {d:.4g} mm runs into a {near[2]:.4g} mm hole of the {part.name}.")
        holes.append((at, v, d))
    b.parts[part.key] = replace(part, shape=replace(shape, holes=tuple(holes)))


def notch(b: Build, change: NotchIn, mirrored: bool) -> None:
    """Cut in from the nearest edge; rounded corners of the outline become short chords."""
    spot = locate(b, change.at, mirrored)
    part, shape = spot.part, spot.part.shape
    if not isinstance(shape, Plate):
        raise Refused(f"the {part.name} is no plate.")
    u, v, _ = on_flat(shape, spot.point)
    low_u, low_v, high_u, high_v = bounds(shape.outline)
    gaps = {"left": u - low_u, "right": high_u - u, "low": v - low_v, "high": high_v - v}
    edge = min(gaps, key=lambda k: gaps[k])
    half, far = change.wide_mm / 2, max(high_u - low_u, high_v - low_v)
    box = {
        "left": (low_u - far, v - half, u, v + half),
        "right": (u, v - half, high_u + far, v + half),
        "low": (u - half, low_v - far, u + half, v),
        "high": (u - half, v, u + half, high_v + far),
    }[edge]
    tool = shapely_box(*box)
    if change.round_mm > 0:
        if change.round_mm > half:
            raise Refused(
                f"a corner radius of {change.round_mm:.4g} mm does not fit a notch "
                f"{change.wide_mm:.4g} mm wide."
            )
        tool = tool.buffer(-change.round_mm).buffer(change.round_mm)
    left = Polygon(flatten(shape.outline)).difference(tool)
    if not isinstance(left, Polygon) or left.interiors or left.is_empty:
        raise Refused(f"it would cut the {part.name} in two, or open a window in it.")
    if any(Point(h[0], h[1]).buffer(h[2] / 2 + 1).intersects(tool) for h in shape.holes):
        raise Refused(f"it runs into a hole of the {part.name}.")
    outline = polygon([(float(x), float(y)) for x, y in list(left.exterior.coords)[:-1]])
    b.parts[part.key] = replace(part, shape=replace(shape, outline=outline))


def section(b: Build, change: OtherSection, mirrored: bool) -> None:
    """Another section or steel of a bar."""
    part = part_called(b, other_side(change.at.part) if mirrored else change.at.part)
    shape = part.shape
    if not isinstance(shape, Bar):
        raise Refused(f"the {part.name} is no bar.")
    new = catalogue.bar(change.bar) if change.bar else shape.stock
    same = (new.width, new.height) == (shape.stock.width, shape.stock.height)
    if new.shape.split("_")[0] != shape.stock.shape.split("_")[0] or not same:
        raise Refused(
            f"the {part.name} is {shape.stock.title} and {new.title} is not as large outside, so that "
            "welds and what goes into it would not fit; change its size instead."
        )
    steel = catalogue.material(change.steel) if change.steel else part.material
    b.parts[part.key] = replace(part, shape=replace(shape, stock=new), material=steel, stock=new.title)


def _keeps_clear(name: str, shape: Plate, opening: Outline, metal: float) -> None:
    """Refused where an opening breaks a plate's edge or runs into a hole or another opening."""
    wide = Polygon(flatten(opening)).buffer(metal)
    if not Polygon(flatten(shape.outline)).contains(wide):
        raise Refused(f"it breaks the edge of the {name}, or leaves less than {metal:.0f} mm beside it.")
    for u, v, d in shape.holes:
        if wide.intersects(Point(u, v).buffer(d / 2)):
            raise Refused(f"it runs into a {d:.4g} mm hole of the {name}.")
    if any(wide.intersects(Polygon(flatten(other))) for other in shape.openings):
        raise Refused(f"it runs into another opening of the {name}.")
    middle = Polygon(flatten(opening)).centroid
    if not Polygon(flatten(face_at(shape, middle.x, middle.y).outline)).contains(wide):
        raise Refused(f"it runs into a bend of the {name}.")


def window(b: Build, change: WindowIn, mirrored: bool) -> None:
    """Openings with metal all round, in a row."""
    spot, count = locate(b, change.at, mirrored), int(change.count)
    part, shape = spot.part, spot.part.shape
    if not isinstance(shape, Plate):
        raise Refused(f"the {part.name} is no plate; a bar takes holes.")
    if change.round_mm > min(change.long_mm, change.wide_mm) / 2 + 1e-6:
        raise Refused(
            f"a corner radius of {change.round_mm:.4g} mm does not fit an opening "
            f"{min(change.long_mm, change.wide_mm):.4g} mm wide."
        )
    if count > 1 and change.pitch_mm < change.long_mm + 3:
        raise Refused(
            f"openings {change.long_mm:.4g} mm long run into each other {change.pitch_mm:.4g} mm apart."
        )
    u, v, _ = on_flat(shape, spot.point)
    low, _, high, _ = bounds(shape.outline)
    way = 1.0 if u <= (low + high) / 2 else -1.0
    for k in range(count):
        at, half, tall = u + way * k * change.pitch_mm, change.long_mm / 2, change.wide_mm / 2
        opening = rectangle(at - half, v - tall, at + half, v + tall, change.round_mm)
        _keeps_clear(part.name, shape, opening, 3.0)
        shape = replace(shape, windows=(*shape.windows, opening))
    b.parts[part.key] = replace(part, shape=shape)


# ---- bends


def _touching(b: Build, part: Part) -> list[tuple[str, Vec]]:
    """Every place where something holds a part or stands on it, with what it is called."""
    out: list[tuple[str, Vec]] = []
    for j in b.joints.values():
        if part.key in (j.a, j.b):
            out += [(j.name, p) for p in spots_of(j)]
    out += [(s.key.split("/", 1)[1], s.place.o) for s in b.sockets if s.part == part.key]
    return out + [(p.kind, p.place.o) for p in b.plugs if p.part == part.key]


def bend(b: Build, change: BendIn, mirrored: bool) -> None:
    """A bar's free end, or a plate's rim, turned towards the picked face."""
    spot = locate(b, change.at, mirrored)
    if isinstance(spot.part.shape, Bar):
        _bend_bar(b, change, spot, spot.part.shape)
    elif isinstance(spot.part.shape, Plate):
        _bend_plate(b, change, spot, spot.part.shape)


def _bend_bar(b: Build, change: BendIn, spot: Spot, shape: Bar) -> None:
    part, whole = spot.part, paths.length(shape.path)
    first = spot.s <= whole / 2  # its first end is the one that bends
    angle, radius = math.radians(change.angle_deg), change.inside_mm
    tangent = radius * math.tan(angle / 2)
    if radius < shape.stock.height / 2:
        raise Refused(
            f"a centre-line radius of {radius:.4g} mm is less than half the {part.name}'s size; take at "
            f"least {shape.stock.height:.4g} mm."
        )
    if not isinstance(shape.end_i if first else shape.end_j, (Square, Capped)):
        raise Refused(f"that end of the {part.name} is fitted to something and cannot be bent away.")
    from_end = spot.s if first else whole - spot.s
    for name, p in _touching(b, part):
        s = paths.nearest(shape.path, p)
        if (s if first else whole - s) < from_end + tangent + 1.0:
            raise Refused(f"{name} is on the end that would bend; bend it farther out or shorter.")
    for cut in shape.cuts:
        s = paths.nearest(shape.path, cut.centre if isinstance(cut, Hole) else cut.place.o)
        if (s if first else whole - s) < from_end + tangent + 1.0:
            raise Refused(f"a hole of the {part.name} is on the end that would bend.")
    points = list(shape.path.points if isinstance(shape.path, Bent) else (shape.path.a, shape.path.b))
    radii = list(shape.path.radii) if isinstance(shape.path, Bent) else []
    if first:
        points, radii = points[::-1], radii[::-1]
    corner = axis.frame_at(shape, spot.s).o
    leg = minus(points[-1], points[-2])
    if dot(minus(corner, points[-2]), leg) < 0:
        raise Refused(f"the {part.name} is bent between that place and its end already.")
    way = unit(leg)
    side = unit(minus(spot.normal, times(way, dot(spot.normal, way))))
    slots, longer = _slots(change, part, side, spot)
    rest = from_end + 2 * tangent - (radius + longer) * angle  # so that the bar is cut as long as before
    if rest < tangent + 1:
        raise Refused(
            f"only {from_end:.0f} mm are left beyond the bend, too short for a radius of {radius:.4g} mm."
        )
    on = add(times(way, math.cos(angle)), times(side, math.sin(angle)))
    points = [*points[:-1], corner, along(corner, on, rest)]
    radii = [*radii, radius]
    up = shape.up
    if first:
        points, radii = points[::-1], radii[::-1]
        up = paths.turned(up, cross(way, side), angle)
    made = replace(shape, path=Bent(tuple(points), tuple(radii)), up=up, slots=slots)
    slot_rows(made)
    b.parts[part.key] = replace(part, shape=made)


def _slots(change: BendIn, part: Part, side: Vec, spot: Spot) -> tuple[Slots | None, float]:
    """How a bend is made where there is no bender, and how far its hinge lies outside the centre line, mm."""
    shape = part.shape
    assert isinstance(shape, Bar)
    bent = isinstance(shape.path, Bent)
    if not change.slots_mm:
        if bent and shape.slots is not None:
            raise Refused(
                f"the other bends of the {part.name} are made of slots; make this one of slots too."
            )
        return None, 0.0
    here = axis.frame_at(shape, spot.s)
    low, high = extent(shape.stock, (dot(side, here.y), dot(side, here.z)))
    slots = Slots(change.slots_mm, high - low - change.left_mm, change.vee_mm)
    if bent and shape.slots != slots:
        raise Refused(f"the {part.name} has bends made otherwise; a tube is bent in one way all along.")
    return slots, slots.deep - (high - low) / 2


def _bend_plate(b: Build, change: BendIn, spot: Spot, shape: Plate) -> None:
    """The rim beyond the place, over the whole width of the nearest edge."""
    part = spot.part
    u, v, _ = on_flat(shape, spot.point)
    low_u, low_v, high_u, high_v = bounds(shape.outline)
    gaps = {"left": u - low_u, "right": high_u - u, "low": v - low_v, "high": high_v - v}
    edge = min(gaps, key=lambda k: gaps[k])
    # what lies left of a fold's line turns up; the line runs over the whole plate
    a, c = {
        "left": ((u, low_v - 1), (u, high_v + 1)),
        "right": ((u, high_v + 1), (u, low_v - 1)),
        "low": ((high_u + 1, v), (low_u - 1, v)),
        "high": ((low_u - 1, v), (high_u + 1, v)),
    }[edge]
    size = math.hypot(c[0] - a[0], c[1] - a[1])
    left = (-(c[1] - a[1]) / size, (c[0] - a[0]) / size)

    def beyond(p: tuple[float, float]) -> float:
        return (p[0] - u) * left[0] + (p[1] - v) * left[1]

    for name, p in _touching(b, part):
        x, y, _ = on_flat(shape, p)
        if beyond((x, y)) > -2.0:
            raise Refused(f"{name} is on the rim that would bend; bend it nearer to the edge.")
    angle = math.radians(change.angle_deg)
    if gaps[edge] < 2 * shape.t + angle * (change.inside_mm + shape.t):
        raise Refused(
            f"the rim beyond is {gaps[edge]:.0f} mm, too short to bend about {change.inside_mm:.4g} mm."
        )
    for x, y, d in shape.holes:
        if beyond((x, y)) > -d / 2 - 2.0 and beyond((x, y)) - d / 2 < angle * (change.inside_mm + shape.t):
            raise Refused(f"a {d:.4g} mm hole lies in the bend.")
    if any(beyond((x, y)) > -2.0 for o in shape.openings for x, y, _ in o):
        raise Refused("an opening lies in the rim that would bend.")
    sign = 1.0 if dot(spot.normal, (shape.place @ frame_at(shape, u, v)).z) > 0 else -1.0
    fold = Fold(a, c, sign * angle, change.inside_mm)
    keep = (u - left[0] * 5, v - left[1] * 5)
    if all(_beyond(other, keep) <= 0 for other in shape.folds):
        # the part that holds the origin stays: the plate is said again about a place that stays
        shape, (fold,) = _about(shape, keep), _moved((fold,), keep)
    b.parts[part.key] = replace(part, shape=replace(shape, folds=_in_order(part, shape, fold)))


def _in_order(part: Part, shape: Plate, new: Fold) -> tuple[Fold, ...]:
    """All folds with a new one where it can be made: those on the metal it bends up come before it."""
    metal, zone = Polygon(flatten(shape.outline)), bent_metal(shape, new)
    before: list[Fold] = []
    after: list[Fold] = []
    for old in shape.folds:
        if bent_metal(shape, old).buffer(1.0).intersection(metal).intersects(zone):
            raise Refused(f"its line runs into another bend of the {part.name}.")
        (before if _beyond(new, old.a) > 0 else after).append(old)
    if _beyond(new, (0.0, 0.0)) > 0:
        raise Refused(f"it would turn up the side of the {part.name} that stays; bend the other side.")
    return (*before, new, *after)


def _beyond(fold: Fold, p: tuple[float, float]) -> float:
    (ax, ay), (bx, by) = fold.a, fold.b
    return ((p[1] - ay) * (bx - ax) - (p[0] - ax) * (by - ay)) / math.hypot(bx - ax, by - ay)


def _about(shape: Plate, p: tuple[float, float]) -> Plate:
    """The same plate with its origin at another place of it."""

    def ring(o: Outline) -> Outline:
        return tuple((x - p[0], y - p[1], bulge) for x, y, bulge in o)

    return replace(
        shape,
        outline=ring(shape.outline),
        place=shape.place @ Place((p[0], p[1], 0.0)),
        holes=tuple((x - p[0], y - p[1], d) for x, y, d in shape.holes),
        windows=tuple(ring(o) for o in shape.windows),
        slots=tuple(ring(o) for o in shape.slots),
        folds=_moved(shape.folds, p),
        centre_lines=tuple((q - p[0], r - p[1], s - p[0], t - p[1]) for q, r, s, t in shape.centre_lines),
    )


def _moved(folds: tuple[Fold, ...], p: tuple[float, float]) -> tuple[Fold, ...]:
    return tuple(
        replace(f, a=(f.a[0] - p[0], f.a[1] - p[1]), b=(f.b[0] - p[0], f.b[1] - p[1])) for f in folds
    )


# ---- tabs and slots


def tab(b: Build, change: TabIn, mirrored: bool) -> None:
    """The first plate gets the tab, the second the slot."""
    one, two = locate(b, change.at, mirrored), locate(b, change.to, mirrored)
    a, c = one.part, two.part
    if a.key == c.key or not (isinstance(a.shape, Plate) and isinstance(c.shape, Plate)):
        raise Refused("it takes two plates, one standing on the other.")
    on_a, on_c = face_of(one), face_of(two)
    if abs(dot(on_a.place.z, on_c.place.z)) > 0.05:
        raise Refused(f"the {a.name} does not stand square on the {c.name}.")
    heights = [on_c.place.local(on_a.place.point((x, y, 0.0)))[2] for x, y in flatten(on_a.outline)]
    if abs(min(heights) - c.shape.t) < 1.0:
        face, into = c.shape.t, times(on_c.place.z, -1)
    elif abs(max(heights)) < 1.0:
        face, into = 0.0, on_c.place.z
    else:
        raise Refused(f"the {a.name} does not end on a face of the {c.name}.")
    height = on_c.place.local(one.point)[2]
    foot = along(one.point, on_c.place.z, face - height)
    u, v, _ = on_a.place.local(foot)
    wu, wv, _ = on_a.place.inverse().vector(into)
    half = change.wide_mm / 2
    for sign in (-1.0, 1.0):  # its root must be metal on both sides
        corner = (u - sign * wv * half - wu * 2.0, v + sign * wu * half - wv * 2.0)
        if distance_to_edge(on_a.outline, *corner) <= 0:
            raise Refused(
                f"the edge of the {a.name} there is shorter than a tab {change.wide_mm:.4g} mm wide."
            )

    def box(
        middle: tuple[float, float], way: tuple[float, float], deep: tuple[float, float], wide: float
    ) -> list[tuple[float, float]]:
        side = (-way[1], way[0])
        return [
            (middle[0] + way[0] * d + side[0] * w, middle[1] + way[1] * d + side[1] * w)
            for d, w in ((deep[0], -wide), (deep[1], -wide), (deep[1], wide), (deep[0], wide))
        ]

    grown = Polygon(flatten(a.shape.outline)).union(Polygon(box((u, v), (wu, wv), (-1.0, c.shape.t), half)))
    if not isinstance(grown, Polygon) or grown.interiors:
        raise Refused(f"there is no edge of the {a.name} to put it on.")
    # the slot: as wide as the tab and as thick as its plate, with the clearance all round
    centre = along(foot, on_a.place.z, a.shape.t / 2 - dot(minus(foot, on_a.place.o), on_a.place.z))
    su, sv, _ = on_c.place.local(centre)
    nu, nv, _ = on_c.place.inverse().vector(on_a.place.z)
    thick = a.shape.t / 2 + change.clear_mm
    slot = polygon(box((su, sv), (nu, nv), (-thick, thick), half + change.clear_mm))
    _keeps_clear(c.name, c.shape, slot, 3.0)
    outline = polygon([(float(x), float(y)) for x, y in list(grown.exterior.coords)[:-1]])
    b.parts[a.key] = replace(a, shape=replace(a.shape, outline=outline))
    b.parts[c.key] = replace(c, shape=replace(c.shape, slots=(*c.shape.slots, slot)))
