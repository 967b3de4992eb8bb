"""Bumper with receiver: mounts on the rails, a tube between them, a folded skin standing off it, a receiver
under it, recovery tabs through slots in the skin.
"""

from __future__ import annotations

import math
from typing import Literal

from urial.assembly.build import Beads, Build, Named, Takes, loop
from urial.assembly.model import LOAD, BuildError, Dimension, Eye, Part, Seat
from urial.families.registry import Family, register
from urial.geometry.outline import convex_hull, polygon
from urial.geometry.path import Line
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Bar, Fold, Plate
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
    receiver_tube,
    weld_to_tube,
)
from urial.pieces.side_plates import PlateSpec, proudest, side_plate
from urial.stock import catalogue
from urial.stock.catalogue import StockSection

SLOT = 3.0
"""A slot in the skin is so much wider than its tab each side, mm."""


class BumperReceiver(Design):
    """Parameters of a bumper with a receiver."""

    family: Literal["bumper-receiver"] = "bumper-receiver"
    plate: str = stock("1/2", "mount plate", "plate", "On the outside of the rails.", group="Mounts")
    plate_material: str = stock("A36", "plate steel", "material", group="Mounts")
    hole_edge_mm: float = length(32.0, "metal round holes", lo=2, hi=150, group="Mounts")
    tube_margin_mm: float = length(24.0, "metal round tube", lo=0, hi=150, group="Mounts")
    cross_tube: str = stock("4x4x1/4", "cross tube", "bar", group="Cross tube", only="rect_tube")
    cross_tube_material: str = stock("A500-B", "cross tube steel", "material", group="Cross tube")
    skin: str = stock("5 mm", "skin", "plate", "Cut a card mock-up first and hold it up.", group="Skin")
    skin_material: str = stock("S235", "skin steel", "material", group="Skin")
    wide_mm: float = length(1500.0, "skin wide", lo=400, hi=2600, group="Skin")
    high_mm: float = length(
        170.0, "skin high", "From over the receiver up to the fold.", lo=60, hi=600, group="Skin"
    )
    fold_mm: float = length(80.0, "top folded forward", "Its width; 0: no fold.", lo=0, hi=400, group="Skin")
    bend_mm: float = length(8.0, "fold's inside radius", lo=1, hi=60, group="Skin")
    setback_mm: float = length(
        -30.0, "setback", "Old bumper's face to the new skin, forward.", lo=-300, hi=800, group="Skin"
    )
    standoff: str = stock(
        "40x40x3", "standoff", "bar", "Four short ones carry the skin.", only="rect_tube", group="Skin"
    )
    standoff_mm: float = length(60.0, "skin to cross tube", lo=20, hi=400, group="Skin")
    receiver: str = stock("2", "receiver", "receiver", group="Receiver")
    receiver_material: str = stock("A500-B", "receiver steel", "material", group="Receiver")
    receiver_length_mm: float = length(320.0, "receiver length", lo=60, hi=1200, group="Receiver", lever=True)
    proud_mm: float = length(
        12.0, "mouth behind skin", "So that a pin's clip is reached.", lo=-60, hi=200, group="Receiver"
    )
    mouth_to_pin_mm: float = length(63.5, "mouth to pin", lo=15, hi=300, group="Receiver")
    drop_mm: float = length(
        140.0,
        "drop",
        "Rail underside to the receiver's middle.",
        lo=-300,
        hi=900,
        group="Receiver",
        lever=True,
    )
    gusset: str = stock("1/2", "gusset plate", "plate", group="Gussets")
    gusset_along_mm: float = length(90.0, "gusset along receiver", lo=15, hi=400, group="Gussets")
    gusset_up_mm: float = length(45.0, "gusset up the tube", lo=10, hi=200, group="Gussets")
    chain_plate: str = stock("1/2", "chain plate", "plate", group="Chain plate")
    chain_spacing_mm: float = length(130.0, "between chain holes", lo=30, hi=460, group="Chain plate")
    chain_hole_mm: float = length(25.0, "chain hole", lo=6, hi=60, group="Chain plate")
    chain_hook_mm: float = length(12.7, "chain hook or shackle pin", lo=4, hi=40, group="Chain plate")
    tabs: bool = choice(True, "recovery tabs", "Through the skin, welded to the mounts.", group="Tabs")
    tab: str = stock("1", "tab plate", "plate", group="Tabs")
    tab_material: str = stock("A572-50", "tab steel", "material", group="Tabs")
    tab_high_mm: float = length(84.0, "tab high", lo=40, hi=250, group="Tabs")
    tab_lap_mm: float = length(95.0, "tab along the mount", lo=30, hi=300, group="Tabs")
    tab_out_mm: float = length(36.0, "skin to eye", lo=15, hi=200, group="Tabs")
    tab_hole_mm: float = length(26.0, "eye", lo=8, hi=60, group="Tabs")
    tab_pin_mm: float = length(22.0, "shackle's pin", lo=6, hi=58, group="Tabs")
    weld_receiver_mm: float = length(8.0, "receiver weld leg", lo=2, hi=25, group="Welds")
    weld_plate_mm: float = length(8.0, "mount and tab weld leg", lo=2, hi=25, group="Welds")
    weld_chain_mm: float = length(10.0, "chain plate weld leg", lo=2, hi=25, group="Welds")
    weld_skin_mm: float = length(3.0, "skin weld leg", lo=2, hi=12, group="Welds")
    bolt: str = stock("M12", "rail bolts", "bolt", group="Bolts")
    bolt_grade: str = stock("10.9", "bolt grade", "bolt grade", group="Bolts")
    threads_in_plane: bool = choice(True, "threads in the shear plane", group="Bolts")


def build(p: BumperReceiver, b: Build, rails: HostSocket) -> None:
    """The way it is measured: skin from the old bumper, receiver from the rails, tube behind the skin."""
    size, tube = catalogue.receiver(p.receiver), catalogue.bar(p.cross_tube)
    pipe, plate = catalogue.bar(size.tube), catalogue.plate(p.plate)
    sides = rails.sides("No hole on the {side} is marked as one the part bolts to; mark at least one.")
    faces = {side: proudest(b, holes, side, True) for side, holes in sides.items()}
    bumper, _, underside = rails.place.o
    skin_x, t = bumper + p.setback_mm, catalogue.plate(p.skin).thickness
    mouth: Vec = (skin_x - p.proud_mm, 0.0, underside - p.drop_mm)
    centre: Vec = (
        skin_x + t + p.standoff_mm + tube.width / 2,
        0.0,
        mouth[2] + (pipe.height + tube.height) / 2,
    )
    cross = Cross(mouth, centre, pipe, tube, "under", p.receiver_length_mm, p.weld_receiver_mm)
    fits(cross, centre[0] - mouth[0], 0.0)
    if mouth[2] - pipe.height / 2 < 40:
        raise BuildError(
            "The receiver would be in the ground; make the drop smaller or check the height of the rails."
        )
    across = cross_tube(
        b,
        cross,
        (faces["left"], faces["right"]),
        0.0,
        p.cross_tube_material,
        ("cross_tube", "cross_tube_material", "standoff_mm"),
    )
    bolts = BoltSpec(catalogue.bolt(p.bolt), catalogue.bolt_grade(p.bolt_grade), p.threads_in_plane)
    spec = PlateSpec(plate, p.plate_material, p.hole_edge_mm, p.tube_margin_mm, (), p.weld_plate_mm)
    for side, holes in sides.items():
        s = 1.0 if side == "left" else -1.0
        mount = side_plate(
            b, spec, bolts, holes, faces[side], across, (centre[0], s * faces[side], centre[2])
        )
        if p.tabs:
            _tab(b, p, mount, side, (skin_x, s * (faces[side] + plate.thickness), centre), tube)
    place_bolts(b, [h for holes in sides.values() for h in holes], plate.thickness, bolts)
    _receiver(b, p, cross, across)
    outer = {side: face + plate.thickness for side, face in faces.items()}
    _skin(b, p, across, (skin_x, t), centre, (tube, outer))
    b.plug("frame rails", across, Place())
    b.note(
        "the skin is screwed to its standoffs through slotted holes, so that it hangs free of the "
        "tube's bending and comes off; hold the card mock-up against spare wheel, lamps "
        "and tailgate before the sheet is cut"
    )


def _receiver(b: Build, p: BumperReceiver, cross: Cross, across: Part) -> None:
    mouth = cross.mouth
    pin_x = mouth[0] + p.mouth_to_pin_mm
    made = receiver_tube(b, cross, catalogue.receiver(p.receiver), pin_x, p.receiver_material)
    main = weld_to_tube(b, cross, across, made)
    sheet = catalogue.plate(p.gusset)
    gussets(
        b,
        cross,
        main,
        across,
        made,
        GussetSpec(sheet, p.plate_material, "inner", p.gusset_along_mm, p.gusset_up_mm),
    )
    edge = p.chain_hole_mm / 2 + 17.5
    chain_plate(
        b,
        cross,
        made,
        ChainSpec(
            catalogue.plate(p.chain_plate),
            p.plate_material,
            p.chain_spacing_mm + 2 * edge,
            90.0,
            40.0,
            p.chain_spacing_mm,
            p.chain_hole_mm,
            p.chain_hook_mm,
            edge,
            p.weld_chain_mm,
        ),
    )
    b.places.update(mouth=mouth, pin=(pin_x, 0.0, mouth[2]))
    end: Vec = (cross.inner, 0.0, mouth[2])
    b.dimension(
        Dimension("mouth to pin", mouth, (pin_x, 0.0, mouth[2]), "x", ("side",), "mouth_to_pin_mm", row=1)
    )
    b.dimension(Dimension("receiver length", mouth, end, "x", ("side", "top"), "receiver_length_mm", row=3))
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


def _skin(
    b: Build,
    p: BumperReceiver,
    across: Part,
    at: tuple[float, float],
    centre: Vec,
    sizes: tuple[StockSection, dict[Side, float]],
) -> None:
    """The sheet with its slots, its top folded forward, on four standoffs from the tube's rear face."""
    (x, t), (tube, outer), off = at, sizes, catalogue.bar(p.standoff)
    low = centre[2] - tube.height / 2 + 4
    high, half = low + p.high_mm, p.wide_mm / 2
    if half < max(outer.values()) + 40:
        raise BuildError(
            f"The skin is {p.wide_mm:.4g} mm wide and the mounts stand {2 * max(outer.values()):.0f} mm "
            "apart outside; make it wider."
        )
    top = centre[2] + p.tab_high_mm / 2 + SLOT
    if p.tabs and top > high - 12 - p.bend_mm:
        raise BuildError(
            f"The tabs' slots reach {top - low:.0f} mm up a skin {p.high_mm:.4g} mm high; make it at least "
            f"{top - low + 12 + p.bend_mm:.0f} mm high or the tabs lower."
        )
    corners: list[tuple[float, float]] = [(-half, low)]
    tab = catalogue.plate(p.tab).thickness
    slots = [
        (-outer["right"] - tab - SLOT, -outer["right"] + SLOT),
        (outer["left"] - SLOT, outer["left"] + tab + SLOT),
    ]
    for y0, y1 in slots if p.tabs else ():
        corners += [(y0, low), (y0, top), (y1, top), (y1, low)]
    flange = 0.0
    folds: tuple[Fold, ...] = ()
    if p.fold_mm:
        if p.fold_mm < p.bend_mm + t + 5:
            raise BuildError(
                f"A fold {p.fold_mm:.4g} mm wide is too narrow for its radius of {p.bend_mm:.4g} mm; make "
                f"it at least {p.bend_mm + t + 5:.0f} mm."
            )
        # the flat blank: where the bend begins, its own length on the neutral line, what is straight after it
        arc = math.pi / 2 * (p.bend_mm + 0.4 * t)
        flange = arc + p.fold_mm - p.bend_mm - t
        begins = high - p.bend_mm - t
        folds = (Fold((-half, begins), (half, begins), math.pi / 2, p.bend_mm),)
        high = begins + flange
    corners += [(half, low), (half, high), (-half, high)]
    skin = b.plate(
        Named("skin", paths=("skin", "skin_material", "wide_mm", "high_mm")),
        Plate(polygon(corners), t, Place((x, 0.0, 0.0), Y, Z, X), folds=folds),
        p.skin_material,
        f"plate {catalogue.plate(p.skin).name}",
    )
    inner, face = x + t, centre[0] - tube.width / 2
    reach = min(outer.values())
    for k, y in enumerate((0.82 * reach, 0.32 * reach, -0.32 * reach, -0.82 * reach), 1):
        made = b.bar(
            Named("standoff", instance=str(k), paths=("standoff", "standoff_mm")),
            Bar(off, Line((inner, y, centre[2]), (face, y, centre[2]))),
            p.skin_material,
        )
        b.weld(
            Named("standoff weld", instance=str(k), called=f"standoff {k} to the cross tube"),
            across,
            made,
            Beads(
                loop(Place.facing((face, y, centre[2]), X, Y), off.width, off.height, off.radius),
                p.weld_skin_mm,
                "weld_skin_mm",
                normal=X,
            ),
        )
        # slotted, so that the sheet is no second beam beside the tube: the outer two hold it back, the inner
        # two up, one sideways
        b.joint(
            Named("skin screw", instance=str(k), called=f"skin on standoff {k}"),
            made,
            skin,
            Place.facing((inner, y, centre[2]), X, Y),
            Seat((k == 2, k in (2, 3), k in (1, 4)), (k == 2, False, False)),
        )
    b.dimension(Dimension("skin wide", (x, half, low), (x, -half, low), "y", ("rear", "top"), "wide_mm"))
    b.dimension(
        Dimension(
            "skin high", (x, half, low), (x, half, low + p.high_mm), "z", ("rear", "side"), "high_mm", "high"
        )
    )


def _tab(
    b: Build, p: BumperReceiver, mount: Part, side: Side, at: tuple[float, float, Vec], tube: StockSection
) -> None:
    """A plate on the mount's outer face, through the skin, with an eye for a shackle."""
    (skin_x, face, centre), sheet, s = at, catalogue.plate(p.tab), 1.0 if side == "left" else -1.0
    t, h, z = sheet.thickness, p.tab_high_mm / 2, centre[2]
    rear = centre[0] - tube.width / 2 - p.tube_margin_mm  # of the mount
    eye, r = skin_x - p.tab_out_mm, p.tab_high_mm / 2
    if p.tab_pin_mm > p.tab_hole_mm:
        raise BuildError(
            f"A {p.tab_pin_mm:.4g} mm shackle pin does not go into a {p.tab_hole_mm:.4g} mm eye; drill "
            "it larger."
        )
    if p.tab_hole_mm / 2 + 8 > r:
        raise BuildError(
            f"A tab {p.tab_high_mm:.4g} mm high leaves no metal round a {p.tab_hole_mm:.4g} mm eye; make "
            f"it at least {p.tab_hole_mm + 16:.0f} mm."
        )
    if p.tab_lap_mm > tube.width + 2 * p.tube_margin_mm:
        raise BuildError(
            f"The tab lies {p.tab_lap_mm:.4g} mm along a mount {tube.width + 2 * p.tube_margin_mm:.0f} mm "
            "wide there; make it shorter or give the tube more margin."
        )
    if h + p.weld_plate_mm > tube.height / 2 + p.tube_margin_mm:
        raise BuildError(
            f"A tab {p.tab_high_mm:.4g} mm high hangs over the mount's edge; the mount is "
            f"{tube.height + 2 * p.tube_margin_mm:.0f} mm high there."
        )
    ring = [(eye + r * math.cos(k * math.pi / 16), z + r * math.sin(k * math.pi / 16)) for k in range(32)]
    front = rear + p.tab_lap_mm
    made = b.plate(
        Named("recovery tab", instance=side, paths=("tab", "tab_material", "tab_high_mm")),
        Plate(
            polygon(convex_hull([*ring, (front, z - h), (front, z + h)])),
            t,
            Place((0.0, max(face, face + s * t), 0.0), X, Z, times(Y, -1)),
            holes=((eye, z, p.tab_hole_mm),),
        ),
        p.tab_material,
        f"plate {sheet.name}",
    )
    rows: list[tuple[Vec, Vec]] = [((rear, face, z + v), (front, face, z + v)) for v in (-h, h)]
    rows += [((u, face, z - h), (u, face, z + h)) for u in (rear, front)]
    b.weld(
        Named("tab weld", instance=side, called=f"{side} recovery tab to its mount"),
        mount,
        made,
        Beads(rows, p.weld_plate_mm, "weld_plate_mm", normal=times(Y, s)),
    )
    place = Place.facing((eye, face + s * t / 2, z), Y, X)
    b.socket(f"ring.{side}", made, place, Takes("ring", path="tab_pin_mm"))
    b.joint(
        Named("ring", instance=side, called=f"shackle in the {side} tab"),
        made,
        LOAD,
        place,
        Eye(p.tab_pin_mm, p.tab_hole_mm, b.path("tab_high_mm")),
    )


register(
    Family(
        "bumper-receiver",
        "Bumper with receiver",
        BumperReceiver,
        build,
        on="frame rails",
        on_host=True,
        does="tow",
        bears="ball-mount",
        offers=("receiver", "chain eye", "ring"),
        seen="rear",
        about="A plate bumper on the rails with a receiver and recovery tabs; the spare wheel stays.",
    )
)
