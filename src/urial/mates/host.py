"""The host's own places as sockets: rails, side bolts, three-point pins, a rail to clamp, a trunk to strap
round.

Every bolt place has its own face (z out of the host), the metal behind it and how far that metal reaches, so
that a part and its checks need to know nothing of vehicles.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import singledispatch
from typing import Literal

from urial.assembly.model import BuildError, Dimension, HostBar, Metal
from urial.geometry.place import Place, Vec, X, Y, Z, along, minus, times
from urial.job.host import (
    GROUPS,
    SIDES,
    HardPoint,
    Host,
    Post,
    Quad,
    Side,
    Tractor,
    Trailer,
    TwoWheeler,
    Vehicle,
)
from urial.stock import catalogue
from urial.stock.catalogue import StockSection

Face = Literal["outside", "inside"]
NOSE = 60.0
"""The rails' front ends stand so far behind a vehicle's front face, mm, until somebody measures them."""


@dataclass(frozen=True)
class BoltPlace:
    """One hole: its middle on the face (z out of the host, towards the part), diameter, metal behind, the
    metal's outline.

    ``face`` are corners (host axes) of the flat metal the hole is in; empty when only the hole is known."""

    name: str
    side: Side
    number: int
    place: Place
    hole_d: float
    metal: Metal
    point: HardPoint
    face: tuple[Vec, ...] = ()


@dataclass(frozen=True)
class WeldOn:
    """Metal of the host that a part may be welded to: what it is, what its maker says, who answers for it,
    its faces by side.
    """

    metal: Metal
    maker: Literal["unknown", "allowed", "forbidden"]
    treated: Literal["unknown", "no", "yes"]
    override: str
    faces: tuple[tuple[Side, tuple[Vec, ...]], ...]
    wide: float = 0.0  # of what the faces belong to, across


@dataclass(frozen=True)
class HostLine:
    """Something long to clamp, strap, weld on or stand on: section (width, height, mm) and the line through
    its middle.
    """

    name: str
    width: float
    height: float
    a: Vec
    b: Vec
    round: bool = False


@dataclass(frozen=True)
class Linkage:
    """A three-point linkage: its lower links' eyes, how far apart, how far the top link's eye stands over
    them, mm, and where that link turns on the tractor.
    """

    spread: float
    mast: float
    left: Vec
    right: Vec
    pivot: Vec


@dataclass(frozen=True)
class Wheels:
    """Wheels of one axle: width and diameter of a tyre, mm, and their middles."""

    wide: float
    diameter: float
    left: Vec
    right: Vec


@dataclass(frozen=True)
class HostSocket:
    """What a host offers in one place: bolt places, or a line to clamp or strap, a linkage, wheels."""

    kind: str
    title: str
    bolts: tuple[BoltPlace, ...] = ()
    place: Place = field(default_factory=Place)
    line: HostLine | None = None
    linkage: Linkage | None = None
    wheels: Wheels | None = None
    weld: WeldOn | None = None
    bodies: tuple[tuple[str, Place, Vec], ...] = ()  # blocks of the host's own metal: name, middle, size
    refuses: str = ""  # why nothing can be built on it as it is, in a sentence
    hollow: HostBar | None = None  # the bar as what bends, where it is a tube

    def the_line(self) -> HostLine:
        """The line there is; BuildError where the host offers none in this place."""
        if self.line is None:
            raise BuildError(f"The host's {self.title} is nothing long that a part could be put on.")
        return self.line

    @property
    def middle(self) -> Vec | None:
        """Midway along what is there to be taken hold of; None where there are only bolts."""
        ends = (
            (self.line.a, self.line.b)
            if self.line
            else (self.linkage.left, self.linkage.right)
            if self.linkage
            else (self.wheels.left, self.wheels.right)
            if self.wheels
            else None
        )
        return along(ends[0], minus(ends[1], ends[0]), 0.5) if ends else None

    def side(self, side: Side) -> tuple[BoltPlace, ...]:
        """The bolt places of a side."""
        return tuple(b for b in self.bolts if b.side == side)

    def sides(self, none: str) -> dict[Side, tuple[BoltPlace, ...]]:
        """The bolt places of both; BuildError with the words of ``none`` (“{side}” in them) where a side has
        none.
        """
        out: dict[Side, tuple[BoltPlace, ...]] = {side: self.side(side) for side in SIDES}
        for side, holes in out.items():
            if not holes:
                raise BuildError(none.format(side=side))
        return out


def _metal(point: HardPoint, material: str, t: float) -> Metal:
    steel = catalogue.material(point.wall_material or material)
    return Metal(steel, point.wall_mm or t, point.fixing == "threaded")


def side_bolts(
    host: Host,
    face: Face,
    material: str,
    wall: float,
    outline: Callable[[Side], tuple[Vec, ...]] | None,
    group: str = "main",
) -> tuple[BoltPlace, ...]:
    """The hard points of both sides that a part bolts to, on the outside or the inside faces of the rails."""
    out = []
    for side in SIDES:
        away = 1.0 if (side == "left") == (face == "outside") else -1.0
        for n, h in enumerate(host.points(side), 1):
            if h.bolted and h.group == group:
                at: Vec = (-h.behind_mm, host.across(side, h), h.height_mm)
                out_of = {
                    "side": times(Y, away),
                    "front": X,
                    "rear": times(X, -1),
                    "up": Z,
                    "down": times(Z, -1),
                }[h.facing]
                place = Place.facing(at, out_of, X if h.facing in ("side", "up", "down") else Y)
                out.append(
                    BoltPlace(
                        f"{side} hole {n}",
                        side,
                        n,
                        place,
                        h.hole_mm,
                        _metal(h, material, wall),
                        h,
                        outline(side) if outline and h.facing == "side" else (),
                    )
                )
    return tuple(out)


def other_places(
    host: Host, material: str, wall: float, weld: WeldOn | None = None
) -> tuple[HostSocket, ...]:
    """A socket for each further group of hard points: tow eyes, recovery points, pegs, posts, at any face.
    ``weld``: the metal those at the front are in, where a part may be welded to it.
    """
    found = dict.fromkeys(
        h.group for side in SIDES for h in host.points(side) if h.bolted and h.group != "main"
    )
    return tuple(
        HostSocket(
            group,
            GROUPS[group],
            side_bolts(host, "outside", material, wall, None, group),
            weld=weld if group.endswith(", front") else None,
        )
        for group in found
    )


@singledispatch
def host_sockets(host: Host, face: Face = "outside") -> tuple[HostSocket, ...]:
    """Everything a host offers."""
    raise BuildError(f"Nothing is known that goes on a {host.words}.")


@host_sockets.register
def _(host: Vehicle, face: Face = "outside") -> tuple[HostSocket, ...]:
    def rail(side: Side) -> tuple[Vec, ...]:
        y = host.face(side) if side == "left" else -host.face(side)
        rear, front = -host.rail_end_mm, host.wheelbase_mm
        low, high = host.rail_bottom_mm, host.rail_bottom_mm + host.rail_height_mm
        return ((rear, y, low), (front, y, low), (front, y, high), (rear, y, high))

    x0, x1, z = -host.rail_end_mm, host.wheelbase_mm, host.rail_bottom_mm + host.rail_height_mm / 2
    half = (host.rail_spacing_mm - host.rail_width_mm) / 2
    bodies = tuple(
        (
            f"{side} frame rail",
            Place(((x0 + x1) / 2, y, z)),
            (x1 - x0, host.rail_width_mm, host.rail_height_mm),
        )
        for side, y in (("left", half), ("right", -half))
    )
    weld = WeldOn(
        Metal(catalogue.material(host.rail_material), host.rail_wall_mm),
        host.rail_welding,
        host.rail_treated,
        host.rail_override,
        tuple((side, rail(side)) for side in SIDES),
        host.rail_width_mm,
    )
    ahead = host.wheelbase_mm + host.front_overhang_mm - NOSE

    def front_rail(side: Side) -> tuple[Vec, ...]:
        return tuple((x if x < 0 else ahead, y, z) for x, y, z in rail(side))

    front_weld = replace(weld, faces=tuple((side, front_rail(side)) for side in SIDES))
    bumper = Place((-host.rear_overhang_mm, 0.0, host.rail_bottom_mm))
    return (
        HostSocket(
            "frame rails",
            "frame rails, rear",
            side_bolts(host, face, host.rail_material, host.rail_wall_mm, rail),
            bumper,
            bodies=bodies,
            weld=weld,
        ),
        *other_places(host, host.rail_material, host.rail_wall_mm, front_weld),
    )


@host_sockets.register
def _(host: Quad, face: Face = "outside") -> tuple[HostSocket, ...]:
    return (
        HostSocket("frame bolts", "rear frame bolts", side_bolts(host, face, "S235", 3.0, None)),
        *other_places(host, "S235", 3.0),
    )


@host_sockets.register
def _(host: TwoWheeler, face: Face = "outside") -> tuple[HostSocket, ...]:
    return (
        HostSocket(
            "peg and seat bolts", "foot-peg and seat-frame bolts", side_bolts(host, face, "S235", 4.0, None)
        ),
        *other_places(host, "S235", 4.0),
    )


@host_sockets.register
def _(host: Tractor, face: Face = "outside") -> tuple[HostSocket, ...]:
    half, back, up = host.lower_spread_mm / 2, -host.lower_behind_mm, host.lower_height_mm
    return (
        HostSocket(
            "three-point",
            "three-point linkage",
            place=Place.facing((back, 0.0, up), times(X, -1), Z),
            linkage=Linkage(
                2 * half,
                host.top_height_mm - up,
                (back, half, up),
                (back, -half, up),
                (-host.top_pivot_behind_mm, 0.0, host.top_pivot_height_mm),
            ),
        ),
        HostSocket("casting bolts", "rear casting bolts", side_bolts(host, face, "S235", 20.0, None)),
        *other_places(host, "S235", 20.0),
    )


@host_sockets.register
def _(host: Trailer, face: Face = "outside") -> tuple[HostSocket, ...]:
    half, top = host.rail_spacing_mm / 2, host.deck_mm
    low, steel, wall = top - host.rail_height_mm, host.rail_material, host.rail_wall_mm
    front, back = -host.bed_behind_mm, -host.bed_behind_mm - host.bed_length_mm
    return (
        HostSocket(
            "side rail",
            "long rails",
            side_bolts(host, face, steel, wall, None),
            line=HostLine(
                "rail",
                host.rail_width_mm,
                host.rail_height_mm,
                (back, half - host.rail_width_mm / 2, (top + low) / 2),
                (front, half - host.rail_width_mm / 2, (top + low) / 2),
            ),
            # nobody has measured its cross members: it is held where the bed begins and over the axle
            hollow=HostBar(
                "left rail",
                StockSection(
                    "rail",
                    "rect_tube",
                    "metric",
                    host.rail_width_mm,
                    host.rail_height_mm,
                    wall,
                    None,
                    "measured",
                ),
                catalogue.material(steel),
                front + host.axle_behind_mm,
            ),
        ),
        HostSocket(
            "trailer nose",
            "drawbar and nose",
            place=Place.facing((front, 0.0, (top + low) / 2), X, Z),
            line=HostLine(
                "front rail",
                host.rail_width_mm,
                host.rail_height_mm,
                (front, half, (top + low) / 2),
                (front, -half, (top + low) / 2),
            ),
            weld=WeldOn(Metal(catalogue.material(steel), wall), "allowed", "no", "", ()),
        ),
        HostSocket(
            "wheels",
            "wheels on the ground",
            place=Place((-host.axle_behind_mm, 0.0, host.tyre_mm / 2), X, Y, Z),
            wheels=Wheels(
                host.tyre_width_mm,
                host.tyre_mm,
                (-host.axle_behind_mm, host.track_mm / 2, host.tyre_mm / 2),
                (-host.axle_behind_mm, -host.track_mm / 2, host.tyre_mm / 2),
            ),
            refuses=""
            if host.axles == "1"
            else f"A frame is built on one axle, and the host has {host.axles}: how several share the load "
            "is not reckoned here. Set axles to 1, or leave the frame to its maker.",
        ),
        HostSocket("timber deck", "deck", place=Place((front, 0.0, top), X, Y, Z)),
        *other_places(host, steel, wall),
    )


@host_sockets.register
def _(host: Post, face: Face = "outside") -> tuple[HostSocket, ...]:
    lean = math.radians(host.lean_deg)
    axis: Vec = (-math.sin(lean), 0.0, math.cos(lean))
    return (
        HostSocket(
            "trunk",
            "trunk or post",
            side_bolts(host, face, "C24 timber", host.width_mm, None)
            if host.made_of == "timber"
            else side_bolts(host, face, "S235", host.wall_mm, None),
            Place.facing((0.0, 0.0, host.left[0].height_mm), times(X, -1), Z),
            HostLine(
                "trunk",
                host.width_mm,
                host.width_mm,
                (0.0, 0.0, 0.0),
                times(axis, host.top_mm),
                host.section == "round",
            ),
        ),
    )


def host_dimensions(host: Host, socket: HostSocket) -> tuple[Dimension, ...]:
    """Sizes of the host that a part on this socket follows, for its drawing."""
    if not isinstance(host, Vehicle) or socket.kind != "frame rails" or not socket.bolts:
        return ()
    x, face, rail = socket.place.o[0], host.rail_spacing_mm / 2, host.rail_bottom_mm
    middle = sum(b.place.o[0] for b in socket.bolts) / len(socket.bolts)
    return (
        Dimension(
            "rail spacing",
            (middle, face, rail),
            (middle, -face, rail),
            "y",
            ("rear", "top"),
            "vehicle.rail_spacing_mm",
            "high",
            0,
        ),
        Dimension(
            "underside of rails",
            (x, face, 0.0),
            (x, face, rail),
            "z",
            ("rear",),
            "vehicle.rail_bottom_mm",
            "low",
            0,
        ),
    )


def host_socket(host: Host, kind: str, face: Face = "outside") -> HostSocket:
    """The host's socket of a kind.  BuildError says what the host has instead."""
    have = host_sockets(host, face)
    for s in have:
        if s.kind == kind:
            return s
    raise BuildError(
        f"It does not go on a {host.words}: it wants {kind}, and a {host.words} has "
        f"{', '.join(s.title for s in have)}."
    )
