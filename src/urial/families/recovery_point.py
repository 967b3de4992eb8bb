"""Recovery point: a thick plate on the bolts of a rail's end with an eye for a bow shackle ahead of them."""

from __future__ import annotations

import math
from typing import Literal

from urial.assembly.build import Build, Named, Takes
from urial.assembly.model import LOAD, BuildError, Dimension, Eye
from urial.families.registry import Family, register
from urial.geometry.outline import convex_hull, polygon
from urial.geometry.place import Place, X, Y, Z, times
from urial.geometry.shape import Plate
from urial.job.duty import Recovery
from urial.job.fields import choice, length, stock
from urial.job.host import Side
from urial.job.model import Design, Job
from urial.mates.host import BoltPlace, HostSocket
from urial.pieces.bolted import bolt_on, middle
from urial.pieces.hardware import BoltSpec, check_holes, place_bolts
from urial.pieces.side_plates import proudest
from urial.stock import catalogue


class RecoveryPoint(Design):
    """Parameters of recovery points."""

    family: Literal["recovery-point"] = "recovery-point"
    sides: Literal["both", "left", "right"] = choice(
        "both",
        "on",
        "A rope is hooked to one at a time, and each must hold alone; a bridle to both is kinder.",
        words={"both": "both rails", "left": "the left rail", "right": "the right rail"},
        group="Place",
    )
    plate: str = stock("25 mm", "plate", "plate", "As thick as the shackle's jaw takes.", group="Plate")
    plate_material: str = stock("S355", "plate steel", "material", group="Plate")
    hole_edge_mm: float = length(34.0, "metal round bolts", lo=6, hi=150, group="Plate")
    ahead_mm: float = length(
        66.0, "bolts to eye", "Foremost bolt to the eye, forward.", lo=30, hi=400, group="Eye", lever=True
    )
    down_mm: float = length(
        0.0, "eye below bolts", "Foremost bolt's height to the eye's.", lo=-200, hi=200, group="Eye"
    )
    hole_mm: float = length(28.0, "eye", lo=8, hi=80, group="Eye")
    pin_mm: float = length(25.4, "shackle's pin", lo=6, hi=78, group="Eye")
    metal_mm: float = length(38.0, "eye's middle to edge", lo=12, hi=150, group="Eye")
    bolt: str = stock("M14", "bolts", "bolt", group="Bolts")
    bolt_grade: str = stock("10.9", "bolt grade", "bolt grade", group="Bolts")
    threads_in_plane: bool = choice(False, "threads in the shear plane", group="Bolts")


def build(p: RecoveryPoint, b: Build, rails: HostSocket) -> None:
    """Host axes: plates on the outside of the rails, their eyes ahead of the bolts."""
    sides = rails.sides("No recovery bolt on the {side} is recorded; add them at Measure as recovery, front.")
    spec = BoltSpec(catalogue.bolt(p.bolt), catalogue.bolt_grade(p.bolt_grade), p.threads_in_plane)
    if p.pin_mm > p.hole_mm:
        raise BuildError(
            f"A {p.pin_mm:.4g} mm shackle pin does not go into a {p.hole_mm:.4g} mm eye; drill it larger."
        )
    if p.metal_mm < p.hole_mm / 2 + 6:
        raise BuildError(
            f"The eye is {p.hole_mm:.4g} mm and its middle {p.metal_mm:.4g} mm from the edge, which leaves "
            f"no metal round it; make it at least {p.hole_mm:.0f} mm."
        )
    if p.hole_edge_mm < spec.bolt.hole / 2 + 2:
        raise BuildError(
            f"Metal round bolts is {p.hole_edge_mm:.4g} mm, which leaves no edge beside a "
            f"{spec.bolt.hole:.4g} mm hole; give at least {1.25 * spec.bolt.diameter:.0f} mm."
        )
    mine = {side: holes for side, holes in sides.items() if p.sides in ("both", side)}
    for side, holes in mine.items():
        _point(b, p, side, holes, spec)
    place_bolts(b, [h for holes in mine.values() for h in holes], catalogue.plate(p.plate).thickness, spec)


def _point(b: Build, p: RecoveryPoint, side: Side, holes: tuple[BoltPlace, ...], spec: BoltSpec) -> None:
    """One plate, its bolts and its eye."""
    check_holes(holes, spec.bolt, side)
    out = 1.0 if side == "left" else -1.0
    face, t = proudest(b, holes, side, True), catalogue.plate(p.plate).thickness
    front = max(holes, key=lambda h: h.place.o[0]).place.o
    eye = (front[0] + p.ahead_mm, front[2] - p.down_mm)
    if p.ahead_mm < p.metal_mm + spec.bolt.washer_od / 2:
        raise BuildError(
            f"The eye is {p.ahead_mm:.4g} mm from the foremost bolt and the shackle needs "
            f"{p.metal_mm + spec.bolt.washer_od / 2:.0f} mm beside its washer; set it farther ahead."
        )
    spots = [(h.place.o[0], h.place.o[2]) for h in holes]
    rim = [
        (u + r * math.cos(k * math.pi / 16), v + r * math.sin(k * math.pi / 16))
        for (u, v), r in (*((s, p.hole_edge_mm) for s in spots), (eye, p.metal_mm))
        for k in range(32)
    ]
    plate = b.plate(
        Named("recovery plate", instance=side, paths=("plate", "plate_material", "hole_edge_mm", "metal_mm")),
        Plate(
            polygon(convex_hull(rim)),
            t,
            Place((0.0, out * face + (t if out > 0 else 0.0), 0.0), X, Z, times(Y, -1)),
            holes=(*((u, v, spec.bolt.hole) for u, v in spots), (*eye, p.hole_mm)),
        ),
        p.plate_material,
        f"plate {catalogue.plate(p.plate).name}",
    )
    x, _, z = middle(holes)
    on = Named("recovery bolts", instance=side, called=f"{side} recovery bolts")
    bolt_on(b, on, plate, holes, (x, out * face, z), spec)
    at = Place.facing((eye[0], out * (face + t / 2), eye[1]), Y, X)
    ring = Named("ring", instance=side, called=f"shackle in the {side} eye")
    b.socket(f"ring.{side}", plate, at, Takes("ring", path="pin_mm"))
    b.joint(ring, plate, LOAD, at, Eye(p.pin_mm, p.hole_mm, b.path("metal_mm")))
    if side == "left" or p.sides == "right":
        y = out * face
        b.dimension(
            Dimension(
                "bolts to eye",
                (front[0], y, front[2]),
                (eye[0], y, front[2]),
                "x",
                ("side", "top"),
                "ahead_mm",
            )
        )
        if abs(p.down_mm) > 1:
            b.dimension(
                Dimension(
                    "eye below bolts", (eye[0], y, front[2]), (eye[0], y, eye[1]), "z", ("side",), "down_mm"
                )
            )
        b.plug("recovery, front", plate, Place())


def duty(job: Job) -> Job:
    """Pulled out of the bog, one point at a time; nothing towed."""
    return job.model_copy(
        update={
            "duties": (Recovery(title="bog", stuck_kg=2300.0),),
            "duty": job.duty.model_copy(update={"towed": False}),
        }
    )


register(
    Family(
        "recovery-point",
        "Recovery point",
        RecoveryPoint,
        build,
        on="recovery, front",
        on_host=True,
        does="pull",
        host="pickup",
        offers=("ring",),
        duty=duty,
        about="A thick plate on a rail's end with an eye for a shackle; each must hold alone.",
    )
)
