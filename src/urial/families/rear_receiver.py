"""Rear receiver: side plates bolted to the rails, a cross tube between them, a receiver tube, a chain
plate.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from urial.assembly.build import Build
from urial.assembly.model import BuildError, Dimension
from urial.families.registry import Family, register
from urial.geometry.place import Place, Vec
from urial.job.fields import choice, length, stock
from urial.job.host import Side
from urial.job.model import Design
from urial.mates.host import HostSocket
from urial.pieces.hardware import BoltSpec, place_bolts
from urial.pieces.receiver_tube import (
    ChainSpec,
    Cross,
    GussetSpec,
    chain_plate,
    cross_tube,
    fits,
    gussets,
    plug_bracket,
    receiver_tube,
    weld_to_tube,
)
from urial.pieces.side_plates import PlateSpec, Welded, proudest, side_plate
from urial.stock import catalogue

Corner = tuple[float, float]


class RearReceiver(Design):
    """Parameters of a rear receiver hitch."""

    family: Literal["rear-receiver"] = "rear-receiver"
    plate: str = stock(
        "1/2", "side plate", "plate", "Thickness of the plates on the rails.", group="Side plates"
    )
    plate_material: str = stock("A36", "side plate steel", "material", group="Side plates")
    plates_on: Literal["outside", "inside"] = choice(
        "outside",
        "plates on",
        "Which face of the rails the plates lie on.",
        words={"outside": "outside faces", "inside": "inside faces"},
        group="Side plates",
    )
    hole_edge_mm: float = length(
        32.0, "metal round holes", "Hole centre to the plate's edge.", lo=2, hi=150, group="Side plates"
    )
    tube_margin_mm: float = length(
        20.0,
        "metal round tube",
        "Tube's side to the plate's edge, room for the weld.",
        lo=0,
        hi=150,
        group="Side plates",
    )
    plate_outline: tuple[Annotated[Corner, Field()], ...] = Field(
        (), title="own plate outline", max_length=40
    )
    cross_tube: str = stock("4x3x5/16", "cross tube", "bar", group="Cross tube", only="rect_tube")
    cross_tube_material: str = stock("A500-B", "cross tube steel", "material", group="Cross tube")
    receiver: str = stock("2", "receiver", "receiver", "Nominal bar size in inches.", group="Receiver")
    receiver_material: str = stock("A500-B", "receiver steel", "material", group="Receiver")
    receiver_length_mm: float = length(320.0, "receiver length", lo=60, hi=1200, group="Receiver", lever=True)
    mount: Literal["under", "notched", "through"] = choice(
        "under",
        "receiver sits",
        "Under the tube is quickest; through it is strongest and lifts the mouth.",
        words={"under": "under the tube", "notched": "notched into it", "through": "through it"},
        group="Receiver",
    )
    notch_mm: float = length(
        12.0,
        "notch depth",
        "How far the receiver is let into the tube, when notched.",
        lo=1,
        hi=100,
        group="Receiver",
    )
    drop_mm: float = length(
        120.0,
        "drop",
        "Rail underside to the receiver's middle.",
        lo=-300,
        hi=900,
        group="Receiver",
        lever=True,
    )
    setback_mm: float = length(
        0.0, "setback", "Bumper face to the receiver mouth, forward.", lo=-500, hi=1500, group="Receiver"
    )
    mouth_to_tube_mm: float = length(
        130.0,
        "mouth to cross tube",
        "Receiver mouth to the cross tube's middle.",
        lo=10,
        hi=1200,
        group="Receiver",
        lever=True,
    )
    mouth_to_pin_mm: float = length(
        63.5,
        "mouth to pin",
        "Receiver mouth to the middle of the pin hole: measure it on the bar, the holes miss by "
        "millimetres otherwise.",
        lo=15,
        hi=300,
        group="Receiver",
    )
    chain_plate: str = stock("1/2", "chain plate", "plate", group="Chain plate")
    chain_width_mm: float = length(190.0, "chain plate width", lo=50, hi=500, group="Chain plate")
    chain_length_mm: float = length(
        90.0, "chain plate length", "Along the receiver.", lo=25, hi=400, group="Chain plate"
    )
    chain_from_mouth_mm: float = length(40.0, "mouth to chain plate", lo=0, hi=600, group="Chain plate")
    chain_spacing_mm: float = length(130.0, "between chain holes", lo=30, hi=460, group="Chain plate")
    chain_hole_mm: float = length(25.0, "chain hole", lo=6, hi=60, group="Chain plate")
    chain_hook_mm: float = length(12.7, "chain hook or shackle pin", lo=4, hi=40, group="Chain plate")
    chain_edge_mm: float = length(
        30.0, "chain hole to edge", "Hole centre to the plate's rear edge.", lo=6, hi=120, group="Chain plate"
    )
    plug_bracket: bool = choice(True, "plug bracket", group="Chain plate")
    gussets: Literal["none", "rear", "both"] = choice(
        "both",
        "gussets",
        "Triangles on the receiver against the tube.",
        words={"none": "none", "rear": "behind the tube", "both": "behind and in front"},
        group="Gussets",
        strengthens=True,
    )
    gusset: str = stock("1/2", "gusset plate", "plate", group="Gussets")
    gusset_along_mm: float = length(50.0, "gusset along receiver", lo=15, hi=400, group="Gussets")
    gusset_up_mm: float = length(45.0, "gusset up the tube", lo=10, hi=200, group="Gussets")
    weld_receiver_mm: float = length(8.0, "receiver weld leg", lo=2, hi=25, group="Welds")
    weld_plate_mm: float = length(6.0, "side plate weld leg", lo=2, hi=25, group="Welds")
    weld_chain_mm: float = length(10.0, "chain plate weld leg", lo=2, hi=25, group="Welds")
    held: Literal["bolted", "welded"] = choice(
        "bolted",
        "plates are",
        "Bolted comes off again and leaves the rails as they were: the default. Welded is lighter and "
        "needs no holes, where the vehicle's maker allows it.",
        words={"bolted": "bolted on", "welded": "welded on"},
        group="Bolts",
    )
    weld_rail_mm: float = length(
        6.0, "rail weld leg", "Where the plates are welded to the rails.", lo=2, hi=25, group="Welds"
    )
    bolt: str = stock("M12", "rail bolts", "bolt", group="Bolts")
    bolt_grade: str = stock("10.9", "bolt grade", "bolt grade", group="Bolts")
    threads_in_plane: bool = choice(True, "threads in the shear plane", group="Bolts")


def build(p: RearReceiver, b: Build, rails: HostSocket) -> None:
    """The way it is measured: mouth from the bumper, receiver from the rails, tube, plates, bolts."""
    size, tube = catalogue.receiver(p.receiver), catalogue.bar(p.cross_tube)
    pipe, plate = catalogue.bar(size.tube), catalogue.plate(p.plate)
    sides = rails.sides("No hole on the {side} is marked as one the part bolts to; mark at least one.")
    outside = p.plates_on == "outside"
    faces = {side: proudest(b, holes, side, outside) for side, holes in sides.items()}
    ends = {side: face if outside else face - plate.thickness for side, face in faces.items()}
    bumper, _, underside = rails.place.o
    mouth: Vec = (bumper + p.setback_mm, 0.0, underside - p.drop_mm)
    sunk = {"under": 0.0, "notched": p.notch_mm, "through": (tube.height + pipe.height) / 2}[p.mount]
    centre: Vec = (mouth[0] + p.mouth_to_tube_mm, 0.0, mouth[2] + (pipe.height + tube.height) / 2 - sunk)
    cross = Cross(mouth, centre, pipe, tube, p.mount, p.receiver_length_mm, p.weld_receiver_mm)
    _fits(p, cross, ends)
    across = cross_tube(
        b,
        cross,
        (ends["left"], ends["right"]),
        p.notch_mm,
        p.cross_tube_material,
        ("cross_tube", "cross_tube_material", "mouth_to_tube_mm"),
    )
    bolts = BoltSpec(catalogue.bolt(p.bolt), catalogue.bolt_grade(p.bolt_grade), p.threads_in_plane)
    spec = PlateSpec(
        plate, p.plate_material, p.hole_edge_mm, p.tube_margin_mm, p.plate_outline, p.weld_plate_mm
    )
    for side, holes in sides.items():
        left = 1.0 if side == "left" else -1.0
        on = Welded(rails.weld, p.weld_rail_mm) if p.held == "welded" else bolts
        side_plate(b, spec, on, holes, faces[side], across, (centre[0], left * ends[side], centre[2]))
    pin_x = mouth[0] + p.mouth_to_pin_mm
    receiver = receiver_tube(b, cross, size, pin_x, p.receiver_material)
    main = weld_to_tube(b, cross, across, receiver)
    chain_plate(
        b,
        cross,
        receiver,
        ChainSpec(
            catalogue.plate(p.chain_plate),
            p.plate_material,
            p.chain_width_mm,
            p.chain_length_mm,
            p.chain_from_mouth_mm,
            p.chain_spacing_mm,
            p.chain_hole_mm,
            p.chain_hook_mm,
            p.chain_edge_mm,
            p.weld_chain_mm,
        ),
    )
    if p.plug_bracket:
        plug_bracket(b, cross, receiver, pin_x, p.plate_material, catalogue.plate("11 ga"))
    if p.gussets != "none":
        gussets(
            b,
            cross,
            main,
            across,
            receiver,
            GussetSpec(
                catalogue.plate(p.gusset), p.plate_material, p.gussets, p.gusset_along_mm, p.gusset_up_mm
            ),
        )
    if p.held == "bolted":
        place_bolts(b, [h for holes in sides.values() for h in holes], plate.thickness, bolts)
    b.plug("frame rails", across, Place())
    _dimensions(b, p, mouth, centre)


def _fits(p: RearReceiver, c: Cross, ends: dict[Side, float]) -> None:
    """Refuse what cannot be put together."""
    pipe = c.pipe
    if min(ends.values()) < pipe.width:
        raise BuildError(
            f"Rail spacing leaves {sum(ends.values()):.0f} mm for the cross tube, less than two "
            "receivers side by side; measure the spacing again."
        )
    fits(c, p.mouth_to_tube_mm, p.notch_mm)
    if c.mouth[2] - pipe.height / 2 < 40:
        raise BuildError(
            "The receiver would be in the ground; make the drop smaller or check the height of the rails."
        )


def _dimensions(b: Build, p: RearReceiver, mouth: Vec, centre: Vec) -> None:
    end: Vec = (mouth[0] + p.receiver_length_mm, 0.0, mouth[2])
    pin: Vec = (mouth[0] + p.mouth_to_pin_mm, 0.0, mouth[2])
    b.places.update(mouth=mouth, pin=pin)
    b.dimension(Dimension("mouth to pin", mouth, pin, "x", ("side",), "mouth_to_pin_mm", row=1))
    b.dimension(
        Dimension("mouth to cross tube", mouth, centre, "x", ("side", "top"), "mouth_to_tube_mm", row=2)
    )
    b.dimension(Dimension("drop", (end[0], 0.0, mouth[2] + p.drop_mm), end, "z", ("side",), "drop_mm"))
    half = p.chain_spacing_mm / 2
    b.dimension(
        Dimension(
            "chain holes",
            (mouth[0], half, mouth[2] - 30),
            (mouth[0], -half, mouth[2] - 30),
            "y",
            ("rear",),
            "chain_spacing_mm",
        )
    )
    b.dimension(Dimension("receiver length", mouth, end, "x", ("side", "top"), "receiver_length_mm", row=3))


register(
    Family(
        "rear-receiver",
        "Rear receiver",
        RearReceiver,
        build,
        on="frame rails",
        on_host=True,
        does="tow",
        bears="ball-mount",
        offers=("receiver", "chain eye"),
        about="Bolts to the rear frame rails and takes a bar in its bore.",
    )
)
