"""Places picked on a piece: where they lie on its parts now, and the pick that means a place."""

from __future__ import annotations

from dataclasses import dataclass

from urial.assembly.build import Build
from urial.assembly.model import Bolts, Joint, Part, Plugs, Weld
from urial.geometry import axis
from urial.geometry import path as paths
from urial.geometry.folded import face_at, frame_at, in_bend, unfolded
from urial.geometry.outline import bounds, distance_to_edge
from urial.geometry.place import Vec, along, dot, times
from urial.geometry.shape import Bar, Plate
from urial.job.change import Pick


@dataclass(frozen=True)
class Spot:
    """A place found: its part, the point on its surface, the face's normal, and for a bar how far along."""

    part: Part
    point: Vec
    normal: Vec
    s: float = 0.0


class Refused(Exception):
    """Why a change does not fit."""


def part_called(b: Build, key: str) -> Part:
    found = b.parts.get(f"{b.piece}/{key}")
    if found is None:
        raise Refused(f"there is no part called {key} now.")
    return found


def spots_of(j: Joint) -> list[Vec]:
    """Where a joint holds: the ends of its beads, its bolts or plugs, else the middle of its place."""
    if isinstance(j.how, Weld):
        return [p for r in j.how.runs for p in (r.a, r.b)]
    holes = j.how.holes if isinstance(j.how, Bolts) else j.how.spots if isinstance(j.how, Plugs) else ()
    return [j.place.point((u, v, 0.0)) for u, v in holes] if holes else [j.place.o]


def other_side(key: str) -> str:
    return (
        key[:-5] + ".right"
        if key.endswith(".left")
        else key[:-6] + ".left"
        if key.endswith(".right")
        else key
    )


def locate(b: Build, pick: Pick, mirrored: bool = False) -> Spot:
    """The place a pick means now, or its mirror image across the middle.  Refused when the part or the
    place on it has gone.
    """
    spot = on_part(part_called(b, pick.part), pick)
    if not mirrored:
        return spot
    twin = part_called(b, other_side(pick.part))
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
            raise Refused(
                f"the {part.name} is {whole:.0f} mm long now, and the place was "
                f"{pick.along_mm:.0f} mm along it."
            )
        s = pick.along_mm if pick.start == "near" else whole - pick.along_mm
        here = axis.frame_at(shape, s)
        ways = {"+y": (here.y, shape.stock.width), "-y": (times(here.y, -1), shape.stock.width)}
        ways |= {"+z": (here.z, shape.stock.height), "-z": (times(here.z, -1), shape.stock.height)}
        if pick.face not in ways:
            raise Refused(f"the {part.name} is a bar now and has no {pick.face}.")
        way, size = ways[pick.face]
        return Spot(part, along(here.o, way, size / 2), way, s)
    if isinstance(shape, Plate):
        if pick.face not in ("front", "back"):
            raise Refused(f"the {part.name} is a plate now and has no such face.")
        low_u, low_v, high_u, high_v = bounds(shape.outline)
        u = low_u + pick.along_mm if pick.start == "near" else high_u - pick.along_mm
        v = low_v + pick.across_mm if pick.edge == "near" else high_v - pick.across_mm
        if distance_to_edge(shape.outline, u, v) <= 0:
            raise Refused(f"the place is off the {part.name} now.")
        if any(distance_to_edge(o, u, v) > 0 for o in shape.openings):
            raise Refused(f"the place lies in an opening of the {part.name} now.")
        if in_bend(shape, u, v) is not None:
            raise Refused(f"the place lies in a bend of the {part.name} now.")
        front = pick.face == "front"
        here = shape.place @ frame_at(shape, u, v)
        normal = here.z if front else times(here.z, -1)
        return Spot(part, here.point((u, v, shape.t if front else 0.0)), normal)
    raise Refused(f"the {part.name} is neither a bar nor a plate.")


def on_flat(shape: Plate, point: Vec) -> Vec:
    """A point in the piece's axes as u, v, w of a plate's flat pattern."""
    return unfolded(shape, shape.place.local(point))


def face_of(spot: Spot) -> Plate:
    """The flat face of a plate that a place is on, in the flat pattern's coordinates."""
    shape = spot.part.shape
    assert isinstance(shape, Plate)
    u, v, _ = on_flat(shape, spot.point)
    return face_at(shape, u, v)


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
    if isinstance(shape, Plate):
        low_u, low_v, high_u, high_v = bounds(shape.outline)
        u, v, _ = on_flat(shape, point)
        left, low = u - low_u <= high_u - u, v - low_v <= high_v - v
        return Pick(
            part=key,
            along_mm=round(max(u - low_u if left else high_u - u, 0.0), 1),
            start="near" if left else "far",
            across_mm=round(max(v - low_v if low else high_v - v, 0.0), 1),
            edge="near" if low else "far",
            face="front" if dot(normal, (shape.place @ frame_at(shape, u, v)).z) >= 0 else "back",
        )
    return None
