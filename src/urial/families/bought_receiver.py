"""Bought or salvaged receiver on the frame rails: measured as it is, its bolts, arms and bore judged, itself
held to its plate; where it has none, that is said.
"""

from __future__ import annotations

import math
from typing import Literal

from urial.assembly.build import Build, Named, Takes
from urial.assembly.model import BuildError, Dimension, Part, Seat
from urial.families.registry import Family, register
from urial.geometry.outline import rounded_hull
from urial.geometry.path import Line
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Bar, Hole, Plate, Turned
from urial.job.fields import choice, length, mass, maybe_mass, stock
from urial.job.host import Side
from urial.job.model import Design, Job
from urial.mates.host import HostSocket
from urial.pieces.bolted import bolt_on, middle
from urial.pieces.bought import UNKNOWN, Metal, as_its_metal_is, metal_of, note_unknown
from urial.pieces.hardware import BoltSpec, check_holes, place_bolts
from urial.pieces.side_plates import proudest
from urial.stock import catalogue

WHOLE = (True, True, True)


class BoughtReceiver(Design):
    """What is measured of a receiver that is there already."""

    family: Literal["bought-receiver"] = "bought-receiver"
    receiver: str = stock("2", "its bore", "receiver", group="Piece")
    kg: float = mass(26.0, "mass", "Weigh it, or read its papers.", lo=2, hi=300, group="Piece")
    rated_kg: float | None = maybe_mass(
        "plate: trailer", "What its own plate lets it tow. Empty: it has none.", lo=50, group="Piece"
    )
    down_kg: float | None = maybe_mass(
        "plate: tongue", "What its own plate lets rest on it. Empty: it has none.", lo=5, group="Piece"
    )
    changed: Literal["no", "cut", "welded", "bent"] = choice(
        "no",
        "has been changed",
        "What was cut, welded or bent is no longer what its plate was given for.",
        words={"no": "no", "cut": "cut or drilled", "welded": "welded on", "bent": "bent or straightened"},
        group="Piece",
    )
    metal: Metal = metal_of()
    setback_mm: float = length(
        25.0, "mouth ahead of the bumper", "Negative: it sticks out behind.", lo=-400, hi=800, group="Bore"
    )
    bore_height_mm: float = length(
        380.0, "bore above ground", "Its middle, empty, on level ground.", lo=100, hi=1200, group="Bore"
    )
    receiver_length_mm: float = length(180.0, "mouth to its beam", lo=60, hi=900, group="Bore", lever=True)
    mouth_to_pin_mm: float = length(
        63.5,
        "mouth to pin",
        "Measure it: the holes miss by millimetres otherwise.",
        lo=15,
        hi=300,
        group="Bore",
    )
    steel: Literal["unknown", "known"] = choice(
        "unknown",
        "its steel",
        "Unknown steel is taken as the lowest structural grade.",
        words={"unknown": "unknown", "known": "known"},
        group="Arms",
    )
    material: str = stock("S355", "which", "material", "Where it is known.", group="Arms")
    arm_mm: float = length(
        12.0, "arms thick", "As the calliper finds them.", lo=2, hi=40, group="Arms", lever=True
    )
    hole_edge_mm: float = length(32.0, "metal round holes", "The least there is.", lo=8, hi=150, group="Arms")
    bolt: str = stock("M12", "rail bolts", "bolt", group="Bolts")
    bolt_grade: str = stock("10.9", "bolt grade", "bolt grade", "By the marks on their heads.", group="Bolts")
    threads_in_plane: bool = choice(True, "threads in the shear plane", group="Bolts")


def build(p: BoughtReceiver, b: Build, rails: HostSocket) -> None:
    """The bore where it is measured, arms down from the rails' bolts, and the beam between as one lump."""
    size = catalogue.receiver(p.receiver)
    pipe = catalogue.bar(size.tube)
    sides = rails.sides("No hole on the {side} is marked as one the part bolts to; mark at least one.")
    faces = {side: proudest(b, holes, side, True) for side, holes in sides.items()}
    mouth: Vec = (rails.place.o[0] + p.setback_mm, 0.0, p.bore_height_mm)
    if not 0 < p.mouth_to_pin_mm < p.receiver_length_mm - 20:
        raise BuildError(
            f"The pin is {p.mouth_to_pin_mm:.4g} mm from the mouth and the bore ends at "
            f"{p.receiver_length_mm:.4g} mm; measure both again."
        )
    steel = p.material if p.steel == "known" else UNKNOWN
    end, pin_x = mouth[0] + p.receiver_length_mm, mouth[0] + p.mouth_to_pin_mm
    tube = b.bar(
        Named("receiver", called=f"receiver {size.name} in", paths=("receiver", "receiver_length_mm")),
        Bar(pipe, Line(mouth, (end, 0.0, mouth[2])), cuts=(Hole((pin_x, 0.0, mouth[2]), Y, size.pin_hole),)),
        steel,
    )
    span = faces["left"] + faces["right"]
    own = pipe.section().area * p.receiver_length_mm * 7850e-9
    rest = max(p.kg - own, 1.0)
    thick = math.sqrt(4 * rest / (math.pi * span * 7850e-9))  # drawn as a round beam of the rest of its mass
    middle_x = end + thick / 2
    stands = p.rated_kg is not None and p.changed == "no"
    beam = b.turned(
        Named("bought beam", paths=("rated_kg", "kg")),
        Turned(Place((middle_x, -faces["right"], mouth[2]), X, times(Z, -1), Y), ((span, thick, 0),)),
        UNKNOWN,
        f"bought, {'plate ' + format(p.rated_kg, '.4g') + ' kg' if stands else 'no plate'}",
        rated=stands,
    )
    b.joint(
        Named("bore on its beam", called="the bore on its own beam"),
        tube,
        beam,
        Place.facing((end, 0.0, mouth[2]), X, Y),
        Seat(WHOLE, WHOLE),
    )
    spec = BoltSpec(catalogue.bolt(p.bolt), catalogue.bolt_grade(p.bolt_grade), p.threads_in_plane)
    arms = [
        _arm(b, p, (side, faces[side], steel), rails, (beam, (middle_x, 0.0, mouth[2]), thick), spec)
        for side in sides
    ]
    place_bolts(b, [h for holes in sides.values() for h in holes], p.arm_mm, spec)
    b.socket(
        "receiver",
        tube,
        Place((pin_x, 0.0, mouth[2]), Z, Y, times(X, -1)),
        Takes(
            "receiver",
            size=size.name,
            rating_kg=p.rated_kg if stands else None,
            down_kg=p.down_kg if p.changed == "no" else None,
            bore=(p.mouth_to_pin_mm, p.receiver_length_mm - p.mouth_to_pin_mm),
            path="rated_kg",
        ),
    )
    b.plug("frame rails", tube, Place())
    _say(b, p, (tube, beam, *arms))
    b.places.update(mouth=mouth, pin=(pin_x, 0.0, mouth[2]))
    b.dimension(
        Dimension("mouth to pin", mouth, (pin_x, 0.0, mouth[2]), "x", ("side",), "mouth_to_pin_mm", row=1)
    )
    inner: Vec = (end, 0.0, mouth[2])
    b.dimension(
        Dimension("mouth to its beam", mouth, inner, "x", ("side", "top"), "receiver_length_mm", row=2)
    )
    b.dimension(
        Dimension("bore above ground", (mouth[0], 0.0, 0.0), mouth, "z", ("side", "rear"), "bore_height_mm")
    )


def _arm(
    b: Build,
    p: BoughtReceiver,
    at: tuple[Side, float, str],
    rails: HostSocket,
    beam: tuple[Part, Vec, float],
    spec: BoltSpec,
) -> Part:
    """One arm from its bolts to the beam's end."""
    (side, face, steel), (lump, centre, thick) = at, beam
    holes, s = rails.side(side), 1.0 if side == "left" else -1.0
    check_holes(holes, spec.bolt, side)
    if p.hole_edge_mm < spec.bolt.hole / 2 + 2:
        raise BuildError(
            f"Metal round holes is {p.hole_edge_mm:.4g} mm, which leaves no edge beside a "
            f"{spec.bolt.hole:.4g} mm hole; measure it again."
        )
    spots = [(h.place.o[0], h.place.o[2]) for h in holes]
    du = max(thick / 2 + 6 - p.hole_edge_mm, 0.0)
    ends = [(centre[0] + a * du, centre[2] + c * du) for a in (-1, 1) for c in (-1, 1)]
    made = b.plate(
        Named("arm", instance=side, paths=("arm_mm", "hole_edge_mm")),
        Plate(
            rounded_hull([*spots, *ends], p.hole_edge_mm),
            p.arm_mm,
            Place((0.0, s * face + (p.arm_mm if s > 0 else 0.0), 0.0), X, Z, times(Y, -1)),
            holes=tuple((u, w, spec.bolt.hole) for u, w in spots),
        ),
        steel,
        f"plate {p.arm_mm:g} mm",
    )
    x, _, z = middle(holes)
    on = Named("rail bolts", instance=side, called=f"{side} rail bolts")
    bolt_on(b, on, made, holes, (x, s * face, z), spec)
    b.joint(
        Named("arm on its beam", instance=side, called=f"{side} arm on its own beam"),
        lump,
        made,
        Place.facing((centre[0], s * face, centre[2]), times(Y, s), X),
        Seat(WHOLE, WHOLE),
    )
    return made


def _say(b: Build, p: BoughtReceiver, parts: tuple[Part, ...]) -> None:
    """What its owner ought to know."""
    as_its_metal_is(b, p.metal, parts)
    if p.steel == "unknown":
        note_unknown(b, "its steel")
    if p.changed != "no" and (p.rated_kg is not None or p.down_kg is not None):
        done = {"cut": "cut or drilled", "welded": "welded on", "bent": "bent or straightened"}[p.changed]
        b.warn(f"It has been {done}; its plate was given for the whole piece and is not counted.")


def duty(job: Job) -> Job:
    """A light trailer: nobody knows its steel."""
    towed = {"towed": True, "trailer_mass_kg": 1000.0, "tongue_mass_kg": 100.0}
    return job.model_copy(update={"duty": job.duty.model_copy(update=towed)})


register(
    Family(
        "bought-receiver",
        "Bought receiver",
        BoughtReceiver,
        build,
        on="frame rails",
        on_host=True,
        does="tow",
        bears="ball-mount",
        offers=("receiver",),
        duty=duty,
        about="A receiver that is there already: bolts, arms and bore judged, itself held to its plate.",
    )
)
