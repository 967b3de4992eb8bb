"""Swing: at what articulation the trailer first touches the vehicle, where, and the tongue that lets it turn
square.

Bodies are blocks: the vehicle's stay, the trailer's turn about the ball by articulation, pitch and roll.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from manifold3d import Manifold
from numpy.typing import NDArray

from urial.assembly.model import Assembly
from urial.geometry.place import Vec
from urial.job.host import Vehicle
from urial.job.model import Job
from urial.measure import keepout

Array = NDArray[np.float64]
FARTHEST = 110.0


@dataclass(frozen=True)
class Body:
    """A named block, low and high corner in mm: the vehicle's in host axes, the trailer's behind the ball (x
    rearward negative, ball at the origin)."""

    name: str
    low: Vec
    high: Vec


@dataclass(frozen=True)
class Touch:
    """First touch: articulation in degrees, which bodies, and where (host axes, mm)."""

    angle_deg: float
    trailer: str
    vehicle: str
    at: Vec


def solid_of(body: Body) -> Manifold:
    """A body as a solid."""
    size = [max(h - lo, 0.5) for lo, h in zip(body.low, body.high, strict=True)]
    return Manifold.cube(size).translate(list(body.low))


def turned(body: Manifold, ball: Vec, yaw_deg: float, pitch_deg: float, roll_deg: float) -> Manifold:
    """A trailer body at an articulation (positive: its tail to the left), pitch (nose down positive) and
    roll, in host axes.
    """
    return (
        body.rotate([roll_deg, 0, 0])
        .rotate([0, -pitch_deg, 0])
        .rotate([0, 0, -yaw_deg])
        .translate(list(ball))
    )


def rotation(yaw_deg: float, pitch_deg: float, roll_deg: float) -> Array:
    """The same turn as a matrix (3, 3)."""
    y, p, r = math.radians(-yaw_deg), math.radians(-pitch_deg), math.radians(roll_deg)
    rx = np.array([[1, 0, 0], [0, math.cos(r), -math.sin(r)], [0, math.sin(r), math.cos(r)]])
    ry = np.array([[math.cos(p), 0, math.sin(p)], [0, 1, 0], [-math.sin(p), 0, math.cos(p)]])
    rz = np.array([[math.cos(y), -math.sin(y), 0], [math.sin(y), math.cos(y), 0], [0, 0, 1]])
    out: Array = rz @ ry @ rx
    return out


def hits(
    fixed: list[tuple[str, Manifold]],
    moving: list[tuple[str, Manifold]],
    ball: Vec,
    angle: float,
    pitch: float,
    roll: float,
) -> tuple[str, str, Vec] | None:
    """Which body of the trailer stands in which of the vehicle at an articulation, and where (mm); None if
    none does.
    """
    for name, body in moving:
        here = turned(body, ball, angle, pitch, roll)
        box = here.bounding_box()
        for other, stay in fixed:
            b = stay.bounding_box()
            if any(box[k] > b[k + 3] or b[k] > box[k + 3] for k in range(3)):
                continue
            both = here ^ stay
            if both.volume() > 1e-6:
                x0, y0, z0, x1, y1, z1 = both.bounding_box()
                return name, other, ((x0 + x1) / 2, (y0 + y1) / 2, (z0 + z1) / 2)
    return None


def first_touch(
    vehicle: list[Body] | list[tuple[str, Manifold]],
    trailer: list[Body],
    ball: Vec,
    side: int = 1,
    pitch_deg: float = 0.0,
    roll_deg: float = 0.0,
    farthest: float = FARTHEST,
) -> Touch | None:
    """The first touch as the trailer's tail swings to a side (+1 left, −1 right), to a hundredth of a
    degree; None if none.
    """
    fixed = [(b.name, solid_of(b)) if isinstance(b, Body) else b for b in vehicle]
    moving = [(b.name, solid_of(b)) for b in trailer]
    before = 0.0
    for angle in np.arange(0.0, farthest + 1e-9, 1.0):
        found = hits(fixed, moving, ball, side * float(angle), pitch_deg, roll_deg)
        if found:
            low, high = before, float(angle)
            while high - low > 0.005:
                middle = (low + high) / 2
                hit = hits(fixed, moving, ball, side * middle, pitch_deg, roll_deg)
                if hit:
                    high, found = middle, hit
                else:
                    low = middle
            return Touch(high, *found)
        before = float(angle)
    return None


def least_tongue(vehicle: list[Body], nose: Body, ball: Vec, step: float = 1.0) -> float | None:
    """The least distance from ball to the trailer's nose that turns 90° to both sides without touching, mm,
    to 1 mm.

    ``nose`` is the trailer's body; it is slid back along the tongue.  None when 10 m would not do.
    """
    fixed: list[Body] = vehicle
    long = nose.high[0] - nose.low[0]

    def clears(tongue: float) -> bool:
        moved = Body(
            nose.name, (-tongue - long, nose.low[1], nose.low[2]), (-tongue, nose.high[1], nose.high[2])
        )
        return all(first_touch(fixed, [moved], ball, side, farthest=90.0) is None for side in (1, -1))

    low, high = 0.0, 10_000.0
    if not clears(high):
        return None
    while high - low > step:
        middle = (low + high) / 2
        if clears(middle):
            high = middle
        else:
            low = middle
    return high


def bodies(
    job: Job, assembly: Assembly, carried: Sequence[tuple[str, Vec, Vec]] = ()
) -> tuple[list[tuple[str, Manifold]], list[Body], Vec]:
    """The job's vehicle bodies (bumper, body, what is ``carried`` by name and corners, spare wheel and other
    solid keep-outs), the trailer's bodies, and the ball."""
    host, run, deck = job.vehicle, job.running, job.deck
    assert isinstance(host, Vehicle)
    ball = assembly.places.get("ball") or assembly.places["mouth"]
    wide = host.track_mm / 2 + host.tyre_width_mm / 2
    rear = -host.rear_overhang_mm
    fixed: list[tuple[str, Manifold]] = [
        (
            "bumper",
            solid_of(
                Body(
                    "bumper",
                    (rear, -wide, host.bumper_bottom_mm),
                    (rear + host.bumper_depth_mm, wide, host.bumper_bottom_mm + host.bumper_height_mm),
                )
            ),
        ),
        (
            "body",
            solid_of(
                Body(
                    "body",
                    (rear + host.bumper_depth_mm, -wide, host.sill_mm),
                    (rear + host.bumper_depth_mm + 600, wide, host.bed_mm),
                )
            ),
        ),
    ]
    fixed += [(name, solid_of(Body(name, low, high))) for name, low, high in carried]
    fixed += [
        (k.name, keepout.solid(k, host))
        for k in job.survey.keep_outs
        if k.there and k.shape in ("block", "drum")
    ]  # spare wheel, steps, skins
    nose = deck.front_mm
    trailer = [
        Body("tongue", (-nose, -50.0, -120.0), (-60.0, 50.0, -20.0)),
        Body(
            "jack",
            (-run.jack_mm - 60, -120.0, run.jack_foot_mm - deck.coupling_mm),
            (-run.jack_mm + 60, 60.0, 350.0),
        ),
        Body(
            "nose",
            (-nose - 500, -run.nose_wide_mm / 2, deck.height_mm - deck.coupling_mm - 60),
            (-nose, run.nose_wide_mm / 2, deck.height_mm - deck.coupling_mm + run.nose_high_mm),
        ),
    ]
    return fixed, trailer, ball


def open_bodies(job: Job) -> list[tuple[str, Manifold]]:
    """What swings open on the vehicle while it stands: tailgate, hatch, doors, with their whole sweep."""
    return [
        (k.name, keepout.solid(k, job.vehicle))
        for k in job.survey.keep_outs
        if k.there and k.shape == "swing"
    ]


def hull_of(
    vehicle: list[tuple[str, Manifold]], axes: tuple[Vec, Vec]
) -> list[tuple[str, tuple[Array, ...]]]:
    """Shadows of bodies along right × up, for drawing."""
    r, u = (np.array(a) for a in axes)
    out = []
    for name, body in vehicle:
        flat = body.transform(np.column_stack([np.stack([r, u, np.cross(r, u)]), np.zeros(3)])).project()
        out.append((name, tuple(np.asarray(p, dtype=float) for p in flat.to_polygons())))
    return out
