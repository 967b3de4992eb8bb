"""Where the tape goes: for each length of a host, the two places it runs between and the view that shows it.

The places are on the host as it is drawn (``measure/drawing.py``), in its own axes, mm, so that a picture of
the tape lies on the picture of the host; between them lies the very figure, which the tests hold them to.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

from urial.geometry.place import Vec
from urial.job import host as hosts
from urial.job.host import Host
from urial.job.model import Job

View = Literal["side", "rear", "top"]


@dataclass(frozen=True)
class Tape:
    """One measurement: seen from where, from which place to which, and in words where it is hooked and read.
    ``near``: the picture shows only what is close about it, since it is small.
    """

    view: View
    a: Vec
    b: Vec
    words: str
    near: bool = False


def tape(job: Job, path: str) -> Tape | None:
    """Where the tape goes for a figure of the job's first host (``vehicle.…``); None where none is laid: a
    mass, a choice, a thickness nobody can see.
    """
    kind, _, name = path.partition(".")
    if kind != "vehicle":
        return None
    host = job.vehicle
    side, _, rest = name.partition(".")
    if side in ("left", "right"):
        number, _, field = rest.partition(".")
        if not number.isdecimal() or int(number) >= len(host.points(side)):
            return None
        return _hole(job, side, int(number), field)
    found = next((_TAPES[c, name] for c in type(host).__mro__ if (c, name) in _TAPES), None)
    return found(host) if found is not None else None


def _hole(job: Job, side: str, number: int, field: str) -> Tape | None:
    host, d = job.vehicle, job.survey.datum
    at = host.place(side, number)
    point = host.points(side)[number]
    called = f"{side} hole {number + 1}"
    if field == "behind_mm":
        return Tape(
            "side", (-d.behind_mm, at[1], at[2]), at, f"Level, from under the datum to the middle of {called}"
        )
    if field == "height_mm":
        return Tape(
            "side",
            (at[0], at[1], d.height_mm),
            at,
            f"Plumb, from the datum's level to the middle of {called}",
        )
    if field == "across_mm":
        return Tape("rear", (at[0], 0.0, at[2]), at, f"From the centre plane to the face that {called} is in")
    if field == "hole_mm":
        r = point.hole_mm / 2
        return Tape(
            "side",
            (at[0] + r, at[1], at[2]),
            (at[0] - r, at[1], at[2]),
            f"Across {called}, edge to edge, with a caliper",
            near=True,
        )
    return None


Ends = Callable[[Any], tuple[Vec, Vec]]
_TAPES: dict[tuple[type[Host], str], Callable[[Host], Tape]] = {}


def _of(kind: type[Host], name: str, view: View, words: str, *, ends: Ends, near: bool = False) -> None:
    """Make known where the tape goes for a figure of a kind of host."""

    def laid(host: Host) -> Tape:
        a, b = ends(host)
        return Tape(view, a, b, words, near)

    _TAPES[kind, name] = laid


def _up(x: float, y: float, low: float, high: float) -> tuple[Vec, Vec]:
    return (x, y, low), (x, y, high)


def _along(x0: float, x1: float, y: float, z: float) -> tuple[Vec, Vec]:
    return (x0, y, z), (x1, y, z)


def _across(x: float, wide: float, z: float, middle: float = 0.0) -> tuple[Vec, Vec]:
    return (x, middle + wide / 2, z), (x, middle - wide / 2, z)


W, V, Q, M, T, R, P = (
    hosts.Wheeled,
    hosts.Vehicle,
    hosts.Quad,
    hosts.TwoWheeler,
    hosts.Tractor,
    hosts.Trailer,
    hosts.Post,
)


def _half(h: Host) -> float:
    """From the centre plane to a rear tyre's middle."""
    return float(getattr(h, "track_mm", 0.0)) / 2


# what rolls on two axles
_of(
    W,
    "wheelbase_mm",
    "side",
    "Level, hub to hub, wheels straight ahead",
    ends=lambda h: _along(h.wheelbase_mm, 0.0, _half(h), h.tyre_mm / 2),
)
_of(
    W,
    "tyre_mm",
    "side",
    "Ground to the top of the rear tyre, as it stands",
    ends=lambda h: _up(0.0, _half(h), 0.0, h.tyre_mm),
)
_of(
    W,
    "tyre_width_mm",
    "rear",
    "Across the rear tyre, sidewall to sidewall",
    near=True,
    ends=lambda h: _across(0.0, h.tyre_width_mm, h.tyre_mm / 2, _half(h)),
)
_of(
    W,
    "rear_overhang_mm",
    "side",
    "Level, from the rear hub to a plumb line off the rearmost face",
    ends=lambda h: _along(0.0, -h.rear_overhang_mm, _half(h), h.tyre_mm / 2),
)
_of(
    W,
    "front_overhang_mm",
    "side",
    "Level, from the front hub to a plumb line off the front face",
    ends=lambda h: _along(h.wheelbase_mm, h.wheelbase_mm + h.front_overhang_mm, _half(h), h.tyre_mm / 2),
)
_of(
    W,
    "track_mm",
    "rear",
    "Middle of the left tyre to the middle of the right, on the ground",
    ends=lambda h: _across(0.0, h.track_mm, 0.0),
)

# two rails, a bumper, a body
_of(
    V,
    "rail_spacing_mm",
    "rear",
    "Between the two faces the side plates go on",
    ends=lambda h: _across(-h.rail_end_mm, h.rail_spacing_mm, h.rail_bottom_mm),
)
_of(
    V,
    "rail_bottom_mm",
    "rear",
    "Plumb, ground to the underside of the rail",
    ends=lambda h: _up(-h.rail_end_mm, h.rail_spacing_mm / 2, 0.0, h.rail_bottom_mm),
)
_of(
    V,
    "rail_height_mm",
    "side",
    "Underside to top of the rail",
    near=True,
    ends=lambda h: _up(-h.rail_end_mm + 30.0, 0.0, h.rail_bottom_mm, h.rail_bottom_mm + h.rail_height_mm),
)
_of(
    V,
    "rail_width_mm",
    "rear",
    "Across the rail's underside",
    near=True,
    ends=lambda h: _across(
        -h.rail_end_mm, h.rail_width_mm, h.rail_bottom_mm, h.rail_spacing_mm / 2 - h.rail_width_mm / 2
    ),
)
_of(
    V,
    "rail_end_mm",
    "side",
    "Level, from the rear hub to the rear end of the rail",
    ends=lambda h: _along(0.0, -h.rail_end_mm, 0.0, h.rail_bottom_mm + h.rail_height_mm / 2),
)
_of(
    V,
    "rail_wall_mm",
    "rear",
    "The metal's thickness, with a caliper at a hole's edge or the open end",
    near=True,
    ends=lambda h: _across(
        -h.rail_end_mm,
        h.rail_wall_mm,
        h.rail_bottom_mm + h.rail_height_mm / 2,
        h.rail_spacing_mm / 2 - h.rail_wall_mm / 2,
    ),
)
_of(
    V,
    "bumper_bottom_mm",
    "side",
    "Plumb, ground to the bumper's lower edge",
    ends=lambda h: _up(-h.rear_overhang_mm, 0.0, 0.0, h.bumper_bottom_mm),
)
_of(
    V,
    "bumper_height_mm",
    "side",
    "Lower to upper edge of the bumper",
    near=True,
    ends=lambda h: _up(-h.rear_overhang_mm, 0.0, h.bumper_bottom_mm, h.bumper_bottom_mm + h.bumper_height_mm),
)
_of(
    V,
    "bumper_depth_mm",
    "side",
    "Front to back of the bumper",
    near=True,
    ends=lambda h: _along(
        -h.rear_overhang_mm,
        -h.rear_overhang_mm + h.bumper_depth_mm,
        0.0,
        h.bumper_bottom_mm + h.bumper_height_mm,
    ),
)
_of(
    V,
    "roof_mm",
    "side",
    "Ground to the highest point of the roof; lay a straight edge across",
    ends=lambda h: _up(0.5 * h.wheelbase_mm, 0.0, 0.0, h.roof_mm),
)
_of(
    V,
    "bonnet_mm",
    "side",
    "Ground to the bonnet at the windscreen's foot",
    ends=lambda h: _up(0.85 * h.wheelbase_mm, 0.0, 0.0, h.bonnet_mm),
)
_of(
    V,
    "sill_mm",
    "side",
    "Ground to the body's lower edge between the wheels",
    ends=lambda h: _up(0.5 * h.wheelbase_mm, 0.0, 0.0, h.sill_mm),
)
_of(
    V,
    "cab_ahead_mm",
    "side",
    "Level, from the rear hub forward to the cab's back wall",
    ends=lambda h: _along(0.0, h.cab_ahead_mm, 0.0, h.bed_mm),
)
_of(
    V,
    "bed_mm",
    "side",
    "Ground to the top edge of the bed's side",
    ends=lambda h: _up(-h.rear_overhang_mm + h.bumper_depth_mm, 0.0, 0.0, h.bed_mm),
)

# a quad
_of(
    Q,
    "frame_mm",
    "rear",
    "Outside to outside of the rear frame's tubes",
    ends=lambda h: _across(-0.75 * h.rear_overhang_mm, h.frame_mm, h.frame_height_mm),
)
_of(
    Q,
    "frame_height_mm",
    "side",
    "Ground to the middle of the lower frame tube",
    ends=lambda h: _up(-0.5 * h.rear_overhang_mm, 0.0, 0.0, h.frame_height_mm),
)
_of(
    Q,
    "rack_mm",
    "side",
    "Ground to the top of the rear rack",
    ends=lambda h: _up(-h.rear_overhang_mm, 0.0, 0.0, h.rack_mm),
)
_of(Q, "seat_mm", "side", "Ground to the top of the seat", ends=lambda h: _up(0.0, 0.0, 0.0, h.seat_mm))
_of(
    Q,
    "bars_mm",
    "side",
    "Ground to the top of the handlebar",
    ends=lambda h: _up(0.72 * h.wheelbase_mm, 0.0, 0.0, h.bars_mm),
)

# two wheels
_of(
    M,
    "tail_mm",
    "rear",
    "Across the frame at the bolts the part goes on",
    ends=lambda h: _across(-0.5 * h.rear_overhang_mm, h.tail_mm, h.tail_height_mm),
)
_of(
    M,
    "seat_mm",
    "side",
    "Ground to the seat, upright on its own weight",
    ends=lambda h: _up(0.36 * h.wheelbase_mm, 0.0, 0.0, h.seat_mm),
)
_of(
    M,
    "bars_mm",
    "side",
    "Ground to the top of the handlebar, upright",
    ends=lambda h: _up(0.68 * h.wheelbase_mm, 0.0, 0.0, h.bars_mm),
)
_of(
    M,
    "bars_width_mm",
    "rear",
    "End to end of the handlebar",
    ends=lambda h: _across(0.68 * h.wheelbase_mm, h.bars_width_mm, h.bars_mm),
)
_of(
    M,
    "tail_height_mm",
    "side",
    "Ground to the rear frame above the wheel, upright",
    ends=lambda h: _up(-0.5 * h.rear_overhang_mm, 0.0, 0.0, h.tail_height_mm),
)

# a tractor
_of(
    T,
    "front_tyre_mm",
    "side",
    "Ground to the top of the front tyre",
    ends=lambda h: _up(h.wheelbase_mm, h.front_track_mm / 2, 0.0, h.front_tyre_mm),
)
_of(
    T,
    "front_track_mm",
    "rear",
    "Middle of the left front tyre to the middle of the right",
    ends=lambda h: _across(h.wheelbase_mm, h.front_track_mm, 0.0),
)
_of(
    T,
    "casting_mm",
    "rear",
    "Across the machined faces the holes are in",
    ends=lambda h: _across(-0.25 * h.tyre_mm, h.casting_mm, 0.57 * h.tyre_mm),
)
_of(
    T,
    "bonnet_mm",
    "side",
    "Ground to the top of the bonnet",
    ends=lambda h: _up(0.7 * h.wheelbase_mm, 0.0, 0.0, h.bonnet_mm),
)
_of(
    T, "seat_mm", "side", "Ground to the seat", ends=lambda h: _up(0.02 * h.wheelbase_mm, 0.0, 0.0, h.seat_mm)
)
_of(
    T,
    "frame_top_mm",
    "side",
    "Ground to the top of the roll-over frame",
    ends=lambda h: _up(-0.22 * h.wheelbase_mm, 0.0, 0.0, h.frame_top_mm),
)
_of(
    T,
    "lower_behind_mm",
    "side",
    "Level, from the rear hub to the lower pins, links level",
    ends=lambda h: _along(0.0, -h.lower_behind_mm, 0.0, h.lower_height_mm),
)
_of(
    T,
    "lower_height_mm",
    "side",
    "Ground to the middle of a lower pin, links level",
    ends=lambda h: _up(-h.lower_behind_mm, 0.0, 0.0, h.lower_height_mm),
)
_of(
    T,
    "lower_spread_mm",
    "rear",
    "Middle of the left lower ball to the middle of the right",
    ends=lambda h: _across(-h.lower_behind_mm, h.lower_spread_mm, h.lower_height_mm),
)
_of(
    T,
    "top_behind_mm",
    "side",
    "Level, from the rear hub to the top link's outer pin",
    ends=lambda h: _along(0.0, -h.top_behind_mm, 0.0, h.top_height_mm),
)
_of(
    T,
    "top_height_mm",
    "side",
    "Ground to the middle of the top link's outer pin",
    ends=lambda h: _up(-h.top_behind_mm, 0.0, 0.0, h.top_height_mm),
)
_of(
    T,
    "lower_pivot_behind_mm",
    "side",
    "Level, from the rear hub to where the lower links turn",
    ends=lambda h: _along(0.0, -h.lower_pivot_behind_mm, 0.0, h.lower_pivot_height_mm),
)
_of(
    T,
    "lower_pivot_height_mm",
    "side",
    "Ground to where the lower links turn on the tractor",
    ends=lambda h: _up(-h.lower_pivot_behind_mm, 0.0, 0.0, h.lower_pivot_height_mm),
)
_of(
    T,
    "top_pivot_behind_mm",
    "side",
    "Level, from the rear hub to where the top link turns",
    ends=lambda h: _along(0.0, -h.top_pivot_behind_mm, 0.0, h.top_pivot_height_mm),
)
_of(
    T,
    "top_pivot_height_mm",
    "side",
    "Ground to where the top link turns on the tractor",
    ends=lambda h: _up(-h.top_pivot_behind_mm, 0.0, 0.0, h.top_pivot_height_mm),
)

# a trailer
_of(
    R,
    "axle_behind_mm",
    "side",
    "Level, from under the coupling to the middle of the axles",
    ends=lambda h: _along(0.0, -h.axle_behind_mm, 0.0, h.tyre_mm / 2),
)
_of(
    R,
    "axle_spread_mm",
    "side",
    "Hub to hub of two axles",
    ends=lambda h: _along(
        -h.axle_behind_mm + h.axle_spread_mm / 2,
        -h.axle_behind_mm - h.axle_spread_mm / 2,
        0.0,
        h.tyre_mm / 2,
    ),
)
_of(
    R,
    "track_mm",
    "rear",
    "Middle of the left tyre to the middle of the right, on the ground",
    ends=lambda h: _across(-h.axle_behind_mm, h.track_mm, 0.0),
)
_of(
    R,
    "tyre_mm",
    "side",
    "Ground to the top of the tyre, as it stands",
    ends=lambda h: _up(-h.axle_behind_mm, 0.0, 0.0, h.tyre_mm),
)
_of(
    R,
    "tyre_width_mm",
    "rear",
    "Across the tyre, sidewall to sidewall",
    near=True,
    ends=lambda h: _across(-h.axle_behind_mm, h.tyre_width_mm, h.tyre_mm / 2, h.track_mm / 2),
)
_of(
    R,
    "coupling_mm",
    "side",
    "Level, ground to where the middle of the ball sits",
    ends=lambda h: _up(0.0, 0.0, 0.0, h.coupling_mm),
)
_of(
    R,
    "bed_behind_mm",
    "side",
    "Level, from the coupling to the front edge of the bed",
    ends=lambda h: _along(0.0, -h.bed_behind_mm, 0.0, h.deck_mm),
)
_of(
    R,
    "bed_length_mm",
    "side",
    "Front to rear edge of the bed",
    ends=lambda h: _along(-h.bed_behind_mm, -h.bed_behind_mm - h.bed_length_mm, 0.0, h.deck_mm),
)
_of(
    R,
    "bed_width_mm",
    "rear",
    "Across the bed, edge to edge",
    ends=lambda h: _across(-h.bed_behind_mm - h.bed_length_mm, h.bed_width_mm, h.deck_mm),
)
_of(
    R,
    "deck_mm",
    "side",
    "Ground to the top of the deck, level",
    ends=lambda h: _up(-h.bed_behind_mm - 0.15 * h.bed_length_mm, 0.0, 0.0, h.deck_mm),
)
_of(
    R,
    "rail_spacing_mm",
    "rear",
    "Outside to outside of the two long rails",
    ends=lambda h: _across(
        -h.bed_behind_mm - h.bed_length_mm, h.rail_spacing_mm, h.deck_mm - 30 - h.rail_height_mm
    ),
)
_of(
    R,
    "rail_height_mm",
    "side",
    "Underside to top of a long rail",
    near=True,
    ends=lambda h: _up(-h.bed_behind_mm - 60.0, 0.0, h.deck_mm - 30 - h.rail_height_mm, h.deck_mm - 30),
)
_of(
    R,
    "rail_width_mm",
    "rear",
    "Across a long rail's underside",
    near=True,
    ends=lambda h: _across(
        -h.bed_behind_mm - h.bed_length_mm,
        h.rail_width_mm,
        h.deck_mm - 30 - h.rail_height_mm,
        h.rail_spacing_mm / 2 - h.rail_width_mm / 2,
    ),
)
_of(
    R,
    "rail_wall_mm",
    "rear",
    "The metal's thickness, with a caliper at an open end or a hole",
    near=True,
    ends=lambda h: _across(
        -h.bed_behind_mm - h.bed_length_mm,
        h.rail_wall_mm,
        h.deck_mm - 30 - h.rail_height_mm / 2,
        h.rail_spacing_mm / 2 - h.rail_wall_mm / 2,
    ),
)

# a post or trunk
_of(
    P,
    "width_mm",
    "rear",
    "Across at the height of the holes; of a trunk the girth / 3.1416",
    ends=lambda h: _across(0.0, h.width_mm, h.left[0].height_mm),
)
_of(
    P,
    "wall_mm",
    "rear",
    "The metal's thickness, at its open end or at a drilled hole",
    near=True,
    ends=lambda h: _across(0.0, h.wall_mm, h.left[0].height_mm, h.width_mm / 2 - h.wall_mm / 2),
)
_of(P, "top_mm", "rear", "Ground to the top", ends=lambda h: _up(0.0, h.width_mm / 2, 0.0, h.top_mm))
_of(
    P,
    "buried_mm",
    "rear",
    "How deep it is set: probe beside it, or ask who set it",
    ends=lambda h: _up(0.0, h.width_mm / 2, -h.buried_mm, 0.0),
)

__all__ = ["Tape", "tape"]
