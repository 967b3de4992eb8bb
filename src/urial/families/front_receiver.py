"""Front receiver: on the tow-eye bolts, a pair of bracket plates each side round the tow hook, an outrigger
plate tying each pair, a cross tube between the inner plates, a receiver in the middle."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from urial.assembly.build import Beads, Build, Named
from urial.assembly.model import BuildError, Dimension, Part
from urial.families.registry import Family, register
from urial.geometry import outline as outlines
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Plate
from urial.job.duty import Carrier, Item
from urial.job.fields import choice, length, stock
from urial.job.host import Side
from urial.job.model import Design, Job
from urial.mates.host import BoltPlace, HostSocket
from urial.pieces.bolted import bolt_on, middle
from urial.pieces.hardware import BoltSpec, check_holes, place_bolts
from urial.pieces.receiver_tube import (
    Cross,
    GussetSpec,
    cross_tube,
    fits,
    gussets,
    receiver_tube,
    weld_to_tube,
)
from urial.pieces.side_plates import PlateSpec, Welded, proudest, side_plate, weld_on
from urial.stock import catalogue
from urial.stock.catalogue import StockSection


class FrontReceiver(Design):
    """Parameters of a front receiver."""

    family: Literal["front-receiver"] = "front-receiver"
    held: Literal["bolted", "welded"] = choice(
        "bolted",
        "held",
        "Bolted through the tow eyes' holes, or the brackets' edges welded to both sides of the rail.",
        words={"bolted": "bolted", "welded": "welded on"},
        group="Brackets",
    )
    weld_rail_mm: float = length(6.0, "rail weld leg", "Welded on only.", lo=3, hi=20, group="Brackets")
    plate: str = stock(
        "3/8", "bracket plate", "plate", "Thickness of the four plates on the rails.", group="Brackets"
    )
    plate_material: str = stock("A36", "bracket steel", "material", group="Brackets")
    hole_edge_mm: float = length(28.0, "metal round holes", lo=2, hi=150, group="Brackets")
    tube_margin_mm: float = length(16.0, "metal round tube", lo=0, hi=150, group="Brackets")
    pair_gap_mm: float = length(
        70.0,
        "between the pair",
        "Outer plate to inner plate: the rail, or the tow hook, is between them.",
        lo=20,
        hi=300,
        group="Brackets",
    )
    outrigger: str = stock(
        "3/8", "outrigger plate", "plate", "Ties the pair under the hook.", group="Brackets"
    )
    outrigger_mm: float = length(
        70.0, "outrigger long", "Along the vehicle.", lo=25, hi=300, group="Brackets"
    )
    hook_room_mm: float = length(
        45.0,
        "room for the hook",
        "Lowest bolt to the outrigger: what the tow hook still needs.",
        lo=15,
        hi=300,
        group="Brackets",
    )
    cross_tube: str = stock("2 1/2x2 1/2x1/4", "cross tube", "bar", group="Cross tube", only="rect_tube")
    cross_tube_material: str = stock("A500-B", "cross tube steel", "material", group="Cross tube")
    receiver: str = stock("2", "receiver", "receiver", group="Receiver")
    receiver_material: str = stock("A500-B", "receiver steel", "material", group="Receiver")
    receiver_length_mm: float = length(260.0, "receiver length", lo=60, hi=1200, group="Receiver", lever=True)
    mount: Literal["under", "notched", "through"] = choice(
        "under",
        "receiver sits",
        words={"under": "under the tube", "notched": "notched into it", "through": "through it"},
        group="Receiver",
    )
    notch_mm: float = length(12.0, "notch depth", lo=1, hi=100, group="Receiver")
    drop_mm: float = length(
        60.0, "drop", "Lowest bolt to the cross tube's middle.", lo=-300, hi=600, group="Receiver", lever=True
    )
    ahead_mm: float = length(
        40.0,
        "bolts to cross tube",
        "Foremost bolt to the cross tube's middle, forward.",
        lo=-400,
        hi=600,
        group="Receiver",
        lever=True,
    )
    mouth_to_tube_mm: float = length(
        150.0, "mouth to cross tube", lo=10, hi=1200, group="Receiver", lever=True
    )
    mouth_to_pin_mm: float = length(
        63.5,
        "mouth to pin",
        "Measure it on the bar: the holes miss by millimetres otherwise.",
        lo=15,
        hi=300,
        group="Receiver",
    )
    gussets: Literal["none", "front", "both"] = choice(
        "front",
        "gussets",
        words={"none": "none", "front": "before the tube", "both": "before and behind"},
        group="Gussets",
        strengthens=True,
    )
    gusset: str = stock("3/8", "gusset plate", "plate", group="Gussets")
    gusset_along_mm: float = length(70.0, "gusset along receiver", lo=15, hi=400, group="Gussets")
    gusset_up_mm: float = length(40.0, "gusset up the tube", lo=10, hi=200, group="Gussets")
    weld_receiver_mm: float = length(6.0, "receiver weld leg", lo=2, hi=25, group="Welds")
    weld_plate_mm: float = length(6.0, "bracket weld leg", lo=2, hi=25, group="Welds")
    bolt: str = stock("M12", "tow-eye bolts", "bolt", group="Bolts")
    bolt_grade: str = stock("10.9", "bolt grade", "bolt grade", group="Bolts")
    threads_in_plane: bool = choice(True, "threads in the shear plane", group="Bolts")


def build(p: FrontReceiver, b: Build, eyes: HostSocket) -> None:
    """From the bolts: inner plates and tube, receiver forward, outer plates and outriggers."""
    size, tube = catalogue.receiver(p.receiver), catalogue.bar(p.cross_tube)
    pipe, plate = catalogue.bar(size.tube), catalogue.plate(p.plate)
    sides = eyes.sides("No tow-eye bolt on the {side} is recorded; add them at Measure as tow eyes, front.")
    front = max(h.place.o[0] for holes in sides.values() for h in holes)
    low = min(h.place.o[2] for holes in sides.values() for h in holes)
    outer = {side: proudest(b, holes, side, True) for side, holes in sides.items()}
    inner = {side: face - p.pair_gap_mm for side, face in outer.items()}
    ends = {side: face - plate.thickness for side, face in inner.items()}
    centre: Vec = (front + p.ahead_mm, 0.0, low - p.drop_mm)
    cross = _cross(p, pipe, tube, centre)
    _fits(p, cross, ends, eyes.weld.wide if eyes.weld else 0.0)
    across = cross_tube(
        b,
        cross,
        (ends["left"], ends["right"]),
        p.notch_mm,
        p.cross_tube_material,
        ("cross_tube", "cross_tube_material", "ahead_mm"),
    )
    bolts = BoltSpec(catalogue.bolt(p.bolt), catalogue.bolt_grade(p.bolt_grade), p.threads_in_plane)
    spec = PlateSpec(
        plate,
        p.plate_material,
        p.hole_edge_mm,
        p.tube_margin_mm,
        (),
        p.weld_plate_mm,
        "inner bracket",
        "inner bolts",
    )
    for side, holes in sides.items():
        left = 1.0 if side == "left" else -1.0
        within = tuple(
            replace(
                h, place=Place.facing((h.place.o[0], left * inner[side], h.place.o[2]), times(Y, -left), X)
            )
            for h in holes
        )
        held = Welded(eyes.weld, p.weld_rail_mm, "inner rail weld") if p.held == "welded" else bolts
        inside = side_plate(
            b, spec, held, within, inner[side], across, (centre[0], left * ends[side], centre[2])
        )
        on = Welded(eyes.weld, p.weld_rail_mm, "outer rail weld") if p.held == "welded" else bolts
        outside = _outer(b, p, on, (side, left * outer[side]), holes, centre)
        _outrigger(b, p, (side, left), (inside, outside), (inner[side], outer[side]), centre)
    if p.held == "bolted":  # one bolt goes through both plates and what is between them
        place_bolts(
            b,
            [
                replace(h, metal=replace(h.metal, t=p.pair_gap_mm + plate.thickness))
                for holes in sides.values()
                for h in holes
            ],
            plate.thickness,
            bolts,
        )
        b.note(
            f"each bolt goes through both plates of its pair and the {p.pair_gap_mm:.0f} mm between; "
            "where that is hollow put a spacer tube round the bolt, so that tightening does not crush it"
        )
    _receiver(b, p, cross, across)
    b.frees.append("tow eyes, front")  # the pair stands round the hook
    b.plug("tow eyes, front", across, Place())


def _fits(p: FrontReceiver, c: Cross, ends: dict[Side, float], rail: float) -> None:
    pipe, tube = c.pipe, c.tube
    if p.held == "welded" and rail and abs(p.pair_gap_mm - rail) > 2:
        raise BuildError(
            f"The rail is {rail:.4g} mm wide and the plates of a pair stand {p.pair_gap_mm:.4g} mm apart, so "
            "they do not both lie on it to be welded; make the gap the rail's width."
        )
    if min(ends.values()) < pipe.width:
        raise BuildError(
            f"The rails and the pairs' gap ({p.pair_gap_mm:.4g} mm) leave {sum(ends.values()):.0f} mm "
            "for the cross tube, less than two receivers side by side; make the gap smaller or "
            "measure again."
        )
    fits(c, p.mouth_to_tube_mm, p.notch_mm)
    if p.outrigger_mm > tube.width + 2 * p.tube_margin_mm:
        raise BuildError(
            f"The outrigger is {p.outrigger_mm:.4g} mm long and the brackets are "
            f"{tube.width + 2 * p.tube_margin_mm:.0f} mm wide there; shorten it or give the tube more "
            "margin."
        )
    top = p.drop_mm - catalogue.plate(p.outrigger).thickness / 2
    if top < p.hook_room_mm:
        raise BuildError(
            f"The outrigger lies {top:.0f} mm below the lowest bolt and the tow hook needs "
            f"{p.hook_room_mm:.4g} mm; make the drop larger by {p.hook_room_mm - top:.0f} mm."
        )


def _cross(p: FrontReceiver, pipe: StockSection, tube: StockSection, centre: Vec) -> Cross:
    """Mouth ahead of the tube, the bore running rearward from it."""
    sunk = {"under": 0.0, "notched": p.notch_mm, "through": (tube.height + pipe.height) / 2}[p.mount]
    mouth: Vec = (centre[0] + p.mouth_to_tube_mm, 0.0, centre[2] - (pipe.height + tube.height) / 2 + sunk)
    if mouth[2] - pipe.height / 2 < 40:
        raise BuildError(
            "The receiver would be in the ground; make the drop smaller or check the height of the bolts."
        )
    return Cross(mouth, centre, pipe, tube, p.mount, p.receiver_length_mm, p.weld_receiver_mm, -1.0)


def _receiver(b: Build, p: FrontReceiver, cross: Cross, across: Part) -> None:
    mouth, centre = cross.mouth, cross.centre
    pin_x = mouth[0] - p.mouth_to_pin_mm
    made = receiver_tube(b, cross, catalogue.receiver(p.receiver), pin_x, p.receiver_material)
    main = weld_to_tube(b, cross, across, made)
    if p.gussets != "none":
        gussets(
            b,
            cross,
            main,
            across,
            made,
            GussetSpec(
                catalogue.plate(p.gusset), p.plate_material, p.gussets, p.gusset_along_mm, p.gusset_up_mm
            ),
        )
    b.places.update(mouth=mouth, pin=(pin_x, 0.0, mouth[2]))
    b.dimension(
        Dimension("mouth to pin", mouth, (pin_x, 0.0, mouth[2]), "x", ("side",), "mouth_to_pin_mm", row=1)
    )
    b.dimension(
        Dimension("mouth to cross tube", mouth, centre, "x", ("side", "top"), "mouth_to_tube_mm", row=2)
    )
    b.dimension(
        Dimension(
            "receiver length",
            mouth,
            (cross.inner, 0.0, mouth[2]),
            "x",
            ("side", "top"),
            "receiver_length_mm",
            row=3,
        )
    )
    b.dimension(Dimension("drop", (centre[0], 0.0, centre[2] + p.drop_mm), centre, "z", ("side",), "drop_mm"))


def _outer(
    b: Build,
    p: FrontReceiver,
    held: BoltSpec | Welded,
    at: tuple[Side, float],
    holes: tuple[BoltPlace, ...],
    centre: Vec,
) -> Part:
    """The outer plate of a pair: round its bolts and round the outrigger's end."""
    side, face = at
    out = 1.0 if face > 0 else -1.0
    plate, t = catalogue.plate(p.plate), catalogue.plate(p.plate).thickness
    spots = [(h.place.o[0], h.place.o[2]) for h in holes]
    bolts = held if isinstance(held, BoltSpec) else None
    if bolts:
        check_holes(holes, bolts.bolt, side)
    if bolts and p.hole_edge_mm < bolts.bolt.hole / 2 + 2:
        raise BuildError(
            f"Metal round holes is {p.hole_edge_mm:.4g} mm, which leaves no edge beside a "
            f"{bolts.bolt.hole:.4g} mm hole; give at least {1.25 * bolts.bolt.diameter:.0f} mm."
        )
    du, dv = (
        max(p.outrigger_mm / 2 + p.tube_margin_mm - p.hole_edge_mm, 0.0),
        max(catalogue.plate(p.outrigger).thickness / 2 + p.tube_margin_mm - p.hole_edge_mm, 0.0),
    )
    outline = outlines.rounded_hull(
        [*spots, *((centre[0] + a * du, centre[2] + c * dv) for a in (-1, 1) for c in (-1, 1))],
        p.hole_edge_mm,
    )
    made = b.plate(
        Named("outer bracket", instance=side, paths=("plate", "plate_material", "hole_edge_mm")),
        Plate(
            outline,
            t,
            Place((0.0, face + t if out > 0 else face, 0.0), X, Z, times(Y, -1)),
            holes=tuple((u, v, bolts.bolt.hole) for u, v in spots) if bolts else (),
        ),
        p.plate_material,
        f"plate {plate.name}",
    )
    if isinstance(held, Welded):
        weld_on(b, made, held, outline, (side, face))
        return made
    x, _, z = middle(holes)
    bolt_on(
        b, Named("outer bolts", instance=side, called=f"{side} outer bolts"), made, holes, (x, face, z), held
    )
    return made


def _outrigger(
    b: Build,
    p: FrontReceiver,
    at: tuple[Side, float],
    plates: tuple[Part, Part],
    faces: tuple[float, float],
    centre: Vec,
) -> None:
    """The plate that ties a pair in the line of the cross tube, under the hook."""
    side, left = at
    plate, (near, far) = catalogue.plate(p.outrigger), faces
    t, (x, _, z) = plate.thickness, centre
    x0, x1, y0, y1 = (
        x - p.outrigger_mm / 2,
        x + p.outrigger_mm / 2,
        min(left * near, left * far),
        max(left * near, left * far),
    )
    made = b.plate(
        Named("outrigger", instance=side, paths=("outrigger", "outrigger_mm", "pair_gap_mm")),
        Plate(outlines.rectangle(x0, y0, x1, y1), t, Place((0.0, 0.0, z - t / 2), X, Y, Z)),
        p.plate_material,
        f"plate {plate.name}",
    )
    for name, other, y, way in (
        ("outrigger to inner", plates[0], left * near, -left),
        ("outrigger to outer", plates[1], left * far, left),
    ):
        lines: list[tuple[Vec, Vec]] = [((x0, y, h), (x1, y, h)) for h in (z - t / 2, z + t / 2)]
        b.weld(
            Named(name, instance=side, called=f"{side} {name}"),
            other,
            made,
            Beads(lines, p.weld_plate_mm, "weld_plate_mm", normal=times(Y, way)),
        )


def duty(job: Job) -> Job:
    """A folded ramp on its carrier; tow nothing from the front."""
    items = (
        Item(
            name="ramp", kg=38.0, behind_mm=260.0, above_mm=330.0, long_mm=160.0, wide_mm=900.0, high_mm=560.0
        ),
        Item(
            name="carrier frame",
            kg=12.0,
            behind_mm=180.0,
            above_mm=60.0,
            long_mm=240.0,
            wide_mm=700.0,
            high_mm=50.0,
        ),
    )
    return job.model_copy(
        update={
            "duties": (Carrier(title="ramp carrier", items=items),),
            "duty": job.duty.model_copy(update={"towed": False}),
        }
    )


register(
    Family(
        "front-receiver",
        "Front receiver",
        FrontReceiver,
        build,
        on="tow eyes, front",
        on_host=True,
        does="carry",
        host="van",
        offers=("receiver",),
        duty=duty,
        about="Plates in pairs on the tow-eye bolts, the tow hook still free, a bore in the middle.",
    )
)
