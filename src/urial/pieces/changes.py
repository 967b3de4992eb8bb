"""A piece's changes carried out on what its family has built.  One that no longer fits is left out and named;
the rest goes on.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from shapely.geometry import Point, Polygon
from shapely.geometry import box as shapely_box

from urial.assembly.build import Beads, Build, Named, end_runs
from urial.assembly.model import BuildError, Part
from urial.geometry import axis
from urial.geometry import path as paths
from urial.geometry.outline import bounds, distance_to_edge, flatten, polygon
from urial.geometry.path import Line, ShapeError
from urial.geometry.place import Place, Vec, X, Y, Z, along, cross, dot, minus, norm, times, unit
from urial.geometry.shape import Bar, Cope, End, Hole, Plate, Slant
from urial.job.change import TITLES, BraceTo, Change, GussetIn, HoleIn, NotchIn, OtherSection, Pick
from urial.stock import catalogue
from urial.stock.catalogue import StockError

LEAST_ANGLE = 0.34
"""Sine of the flattest way a brace may land, 20°."""


@dataclass(frozen=True)
class Spot:
    """A place found: its part, the point on its surface, the face's normal, and for a bar how far along."""

    part: Part
    point: Vec
    normal: Vec
    s: float = 0.0


class _No(Exception):
    """Why a change does not fit."""


def carry_out(b: Build, changes: Sequence[Change]) -> None:
    """Every change in force, in order; a warning for each that does not fit."""
    for n, change in enumerate(changes, 1):
        if not change.on:
            continue
        try:
            for mirrored in (False, True) if change.pair else (False,):
                _one(b, change, n, mirrored)
        except (_No, BuildError, StockError, ShapeError) as why:
            b.warn(f"Change {n}, the {TITLES[change.kind]}, does not fit and is left out: {why}")


def _one(b: Build, change: Change, n: int, mirrored: bool) -> None:
    if isinstance(change, HoleIn):
        _hole(b, change, mirrored)
    elif isinstance(change, OtherSection):
        _section(b, change, mirrored)
    elif isinstance(change, NotchIn):
        _notch(b, change, mirrored)
    elif isinstance(change, GussetIn):
        _gusset(b, change, n, mirrored)
    else:
        _brace(b, change, n, mirrored)


# ---- where a pick lies


def _part(b: Build, key: str) -> Part:
    found = b.parts.get(f"{b.piece}/{key}")
    if found is None:
        raise _No(f"there is no part called {key} now.")
    return found


def _other_side(key: str) -> str:
    return (
        key[:-5] + ".right"
        if key.endswith(".left")
        else key[:-6] + ".left"
        if key.endswith(".right")
        else key
    )


def locate(b: Build, pick: Pick, mirrored: bool = False) -> Spot:
    """The place a pick means now, or its mirror image across the middle.  _No when the part or the place on
    it has gone.
    """
    spot = on_part(_part(b, pick.part), pick)
    if not mirrored:
        return spot
    twin = _part(b, _other_side(pick.part))
    flip = (1.0, -1.0, 1.0)
    point: Vec = tuple(v * f for v, f in zip(spot.point, flip, strict=True))  # type: ignore[assignment]
    normal: Vec = tuple(v * f for v, f in zip(spot.normal, flip, strict=True))  # type: ignore[assignment]
    s = paths.nearest(twin.shape.path, point) if isinstance(twin.shape, Bar) else 0.0
    return Spot(twin, point, normal, s)


def on_part(part: Part, pick: Pick) -> Spot:
    """A pick's place on a part, in the piece's axes."""
    shape = part.shape
    if isinstance(shape, Bar):
        whole = paths.length(shape.path)
        if pick.along_mm > whole:
            raise _No(
                f"the {part.name} is {whole:.0f} mm long now, and the place was "
                f"{pick.along_mm:.0f} mm along it."
            )
        s = pick.along_mm if pick.start == "near" else whole - pick.along_mm
        here = axis.frame_at(shape, s)
        ways = {"+y": (here.y, shape.stock.width), "-y": (times(here.y, -1), shape.stock.width)}
        ways |= {"+z": (here.z, shape.stock.height), "-z": (times(here.z, -1), shape.stock.height)}
        if pick.face not in ways:
            raise _No(f"the {part.name} is a bar now and has no {pick.face}.")
        way, size = ways[pick.face]
        return Spot(part, along(here.o, way, size / 2), way, s)
    if isinstance(shape, Plate) and not shape.folds:
        if pick.face not in ("front", "back"):
            raise _No(f"the {part.name} is a plate now and has no such face.")
        low_u, low_v, high_u, high_v = bounds(shape.outline)
        u = low_u + pick.along_mm if pick.start == "near" else high_u - pick.along_mm
        v = low_v + pick.across_mm if pick.edge == "near" else high_v - pick.across_mm
        if distance_to_edge(shape.outline, u, v) <= 0:
            raise _No(f"the place is off the {part.name} now.")
        front = pick.face == "front"
        normal = shape.place.z if front else times(shape.place.z, -1)
        return Spot(part, shape.place.point((u, v, shape.t if front else 0.0)), normal)
    raise _No(f"the {part.name} is neither a bar nor a flat plate.")


def pick_at(part: Part, point: Vec, normal: Vec) -> Pick | None:
    """The pick that means a place on a part (piece axes); None where a part takes none."""
    shape, key = part.shape, part.key.split("/", 1)[1]
    if isinstance(shape, Bar):
        whole = paths.length(shape.path)
        s = paths.nearest(shape.path, point)
        here = axis.frame_at(shape, s)
        y, z = dot(normal, here.y), dot(normal, here.z)
        face = ("+y" if y > 0 else "-y") if abs(y) > abs(z) else ("+z" if z > 0 else "-z")
        near = s <= whole / 2
        return Pick(
            part=key,
            along_mm=round(s if near else whole - s, 1),
            start="near" if near else "far",
            face=face,
        )
    if isinstance(shape, Plate) and not shape.folds:
        low_u, low_v, high_u, high_v = bounds(shape.outline)
        u, v, _ = shape.place.local(point)
        left, low = u - low_u <= high_u - u, v - low_v <= high_v - v
        return Pick(
            part=key,
            along_mm=round(max(u - low_u if left else high_u - u, 0.0), 1),
            start="near" if left else "far",
            across_mm=round(max(v - low_v if low else high_v - v, 0.0), 1),
            edge="near" if low else "far",
            face="front" if dot(normal, shape.place.z) >= 0 else "back",
        )
    return None


# ---- what is done there


def _hole(b: Build, change: HoleIn, mirrored: bool) -> None:
    spot, d = locate(b, change.at, mirrored), change.diameter_mm
    part, shape = spot.part, spot.part.shape
    count = int(change.count)
    if count > 1 and change.pitch_mm < d + 3:
        raise _No(f"holes of {d:.4g} mm run into each other {change.pitch_mm:.4g} mm apart.")
    if isinstance(shape, Bar):
        whole, size = paths.length(shape.path), shape.stock
        across = size.height if abs(dot(spot.normal, axis.frame_at(shape, spot.s).y)) > 0.7 else size.width
        if d > 0.6 * across:
            raise _No(f"a {d:.4g} mm hole takes more than three fifths of the {part.name}, {across:.4g} mm.")
        way = 1.0 if spot.s <= whole / 2 else -1.0
        cuts = list(shape.cuts)
        for k in range(count):
            s = spot.s + way * k * change.pitch_mm
            if not d / 2 + 2 <= s <= whole - d / 2 - 2:
                raise _No(f"hole {k + 1} breaks out of the end of the {part.name}.")
            here = axis.frame_at(shape, s)
            y, z = dot(spot.normal, here.y), dot(spot.normal, here.z)
            cuts.append(Hole(here.o, here.y if abs(y) > abs(z) else here.z, d))
        b.parts[part.key] = replace(part, shape=replace(shape, cuts=tuple(cuts)))
        return
    assert isinstance(shape, Plate)
    u, v, _ = shape.place.local(spot.point)
    middle = (bounds(shape.outline)[0] + bounds(shape.outline)[2]) / 2
    way = 1.0 if u <= middle else -1.0
    holes = list(shape.holes)
    for k in range(count):
        at = u + way * k * change.pitch_mm
        if distance_to_edge(shape.outline, at, v) < d / 2 + 2:
            raise _No(f"hole {k + 1} of {d:.4g} mm breaks the edge of the {part.name}.")
        near = next((h for h in holes if norm((at - h[0], v - h[1], 0.0)) < (d + h[2]) / 2 + 2), None)
        if near is not None:
            raise _No(f"hole {k + 1} of {d:.4g} mm runs into a {near[2]:.4g} mm hole of the {part.name}.")
        holes.append((at, v, d))
    b.parts[part.key] = replace(part, shape=replace(shape, holes=tuple(holes)))


def _notch(b: Build, change: NotchIn, mirrored: bool) -> None:
    """Cut in from the nearest edge; rounded corners of the outline become short chords."""
    spot = locate(b, change.at, mirrored)
    part, shape = spot.part, spot.part.shape
    if not isinstance(shape, Plate):
        raise _No(f"the {part.name} is no plate.")
    u, v, _ = shape.place.local(spot.point)
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
            raise _No(
                f"a corner radius of {change.round_mm:.4g} mm does not fit a notch "
                f"{change.wide_mm:.4g} mm wide."
            )
        tool = tool.buffer(-change.round_mm).buffer(change.round_mm)
    left = Polygon(flatten(shape.outline)).difference(tool)
    if not isinstance(left, Polygon) or left.interiors or left.is_empty:
        raise _No(f"it would cut the {part.name} in two, or open a window in it.")
    if any(Point(h[0], h[1]).buffer(h[2] / 2 + 1).intersects(tool) for h in shape.holes):
        raise _No(f"it runs into a hole of the {part.name}.")
    outline = polygon([(float(x), float(y)) for x, y in list(left.exterior.coords)[:-1]])
    b.parts[part.key] = replace(part, shape=replace(shape, outline=outline))


def _gusset(b: Build, change: GussetIn, n: int, mirrored: bool) -> None:
    """Tips at the two places; the corner where the two faces meet, in the plane both look along."""
    one, two = locate(b, change.at, mirrored), locate(b, change.to, mirrored)
    if one.part.key == two.part.key:
        raise _No("both of its tips are on one part; pick another for the second.")
    if abs(dot(one.normal, two.normal)) > 0.26:
        raise _No("the two faces do not stand square to each other, within 15°; pick two that do.")
    width = unit(cross(one.normal, two.normal))
    out = unit(cross(two.normal, width))  # along the second face, away from the first
    # on both faces, level with the first place
    down = dot(minus(one.point, two.point), two.normal)
    foot = along(one.point, two.normal, -down)
    up = dot(minus(two.point, foot), one.normal)
    if down < 12 or up < 12:
        raise _No(
            f"its tips lie {down:.0f} and {up:.0f} mm from the corner; 12 mm is the least on each face."
        )
    sheet = catalogue.plate(change.plate)
    t = sheet.thickness
    sign = 1.0 if dot(out, one.normal) > 0 else -1.0
    out = times(out, sign)
    if abs(dot(minus(two.point, foot), width)) > 60:
        raise _No("its tips do not lie in one plane across the corner; pick the second opposite the first.")
    normal = cross(two.normal, out)
    place = Place(along(foot, normal, -t / 2), two.normal, out, normal)
    nose = min(6.0, down / 3, up / 3)
    corners = [(0.0, 0.0), (down, 0.0), (down, nose), (nose, up), (0.0, up)]
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
            (along(along(foot, normal, h), way, 8.0), along(along(foot, normal, h), way, size))
            for h in (-t / 2, t / 2)
        ]
        b.weld(
            Named(f"added gusset {name} weld", instance=instance, called=f"added gusset to {spot.part.name}"),
            spot.part,
            made,
            Beads(lines, change.weld_mm, "", normal=spot.normal),
        )


def _section(b: Build, change: OtherSection, mirrored: bool) -> None:
    part = _part(b, _other_side(change.at.part) if mirrored else change.at.part)
    shape = part.shape
    if not isinstance(shape, Bar):
        raise _No(f"the {part.name} is no bar.")
    new = catalogue.bar(change.bar) if change.bar else shape.stock
    same = (new.width, new.height) == (shape.stock.width, shape.stock.height)
    if new.shape.split("_")[0] != shape.stock.shape.split("_")[0] or not same:
        raise _No(
            f"the {part.name} is {shape.stock.title} and {new.title} is not as large outside, so that "
            "welds and what goes into it would not fit; change its size instead."
        )
    steel = catalogue.material(change.steel) if change.steel else part.material
    b.parts[part.key] = replace(part, shape=replace(shape, stock=new), material=steel, stock=new.title)


def _end(spot: Spot, way: Vec, brace: float) -> tuple[Vec, End]:
    """Where a brace's middle line ends on a place, and how it is cut; ``way`` runs from the place out along
    it.
    """
    shape = spot.part.shape
    if isinstance(shape, Bar) and shape.stock.shape in ("round_tube", "round_bar"):
        here = axis.frame_at(shape, spot.s)
        if brace > shape.stock.width:
            raise _No(f"the brace is thicker than the {spot.part.name}, {shape.stock.width:.4g} mm.")
        if norm(cross(unit(way), here.x)) < LEAST_ANGLE:
            raise _No(f"it runs along the {spot.part.name}; end it where it comes in at 20° at least.")
        return here.o, Cope(shape.stock.width / 2, here.o, here.x)
    if dot(unit(way), spot.normal) < LEAST_ANGLE:
        raise _No(
            f"it lies along the face of the {spot.part.name}; pick the face that looks at its other end."
        )
    return spot.point, Slant(spot.normal)


def _brace(b: Build, change: BraceTo, n: int, mirrored: bool) -> None:
    one, two = locate(b, change.at, mirrored), locate(b, change.to, mirrored)
    if one.part.key == two.part.key:
        raise _No("both of its ends are on one part; pick another for the second.")
    stock = catalogue.bar(change.bar)
    if stock.shape not in ("round_tube", "round_bar"):
        raise _No(f"{stock.title} is not round; braces are of round tube or bar.")
    way = minus(two.point, one.point)
    if norm(way) < 2 * stock.width:
        raise _No(f"its ends are only {norm(way):.0f} mm apart.")
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
    try:
        for name, which, spot in (("first", "i", one), ("second", "j", two)):
            b.weld(
                Named(
                    f"added brace {name} weld", instance=instance, called=f"added brace to {spot.part.name}"
                ),
                spot.part,
                made,
                Beads(end_runs(made, which), change.weld_mm, "", normal=spot.normal),  # type: ignore[arg-type]
            )
    except BuildError:
        b.parts.pop(made.key)
        for name in ("first", "second"):
            b.joints.pop(f"{b.piece}/added brace {name} weld.{instance}", None)
        raise


__all__ = ["Spot", "carry_out", "locate", "on_part", "pick_at"]
