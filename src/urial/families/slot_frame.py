"""Slot-bent subframe: a hoop of square tube round the rear wheel of a small two-wheeler, bent without a
bender by slots that are closed and welded; tabs at the peg bolts, struts to the seat bolts, a small receiver.
"""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Literal

from shapely.geometry import LineString, box

from urial.assembly.build import Beads, Build, Named, loop
from urial.assembly.model import BuildError, Dimension, Part
from urial.families.registry import Family, register
from urial.geometry.outline import flatten, rectangle, rounded_hull
from urial.geometry.path import Bent
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Bar, Plate, Slots
from urial.job.fields import choice, length, stock
from urial.job.host import SIDES, Side
from urial.job.model import Design, Job
from urial.mates.host import BoltPlace, HostSocket
from urial.pieces.bolted import bolt_on, proud
from urial.pieces.hardware import BoltSpec, check_holes, place_bolts
from urial.pieces.receiver_tube import (
    ChainSpec,
    Cross,
    chain_plate,
    receiver_tube,
)
from urial.stock import catalogue

CORNER = 4.0
"""Radius of the plates' corners, mm."""
FEET = {"tab": "foot_mm", "strut": "strut_foot_mm"}


class SlotFrame(Design):
    """Parameters of a slot-bent subframe."""

    family: Literal["slot-frame"] = "slot-frame"
    tube: str = stock("50x50x3", "hoop tube", "bar", only="rect_tube", group="Hoop")
    tube_material: str = stock("S355", "hoop steel", "material", group="Hoop")
    behind_mm: float = length(
        430.0,
        "axle to hoop",
        "Rear axle to the middle of the run behind the wheel.",
        lo=100,
        hi=1500,
        group="Hoop",
    )
    drop_mm: float = length(
        52.0, "peg bolt to hoop", "Down to the tube's middle.", lo=-300, hi=300, group="Hoop", lever=True
    )
    bend_mm: float = length(
        120.0,
        "bend radius",
        "Of the tube's middle line, round the wheel's corners.",
        lo=30,
        hi=600,
        group="Hoop",
    )
    slot_mm: float = length(3.2, "slot wide", "What the blade or disc cuts.", lo=0.8, hi=12, group="Slots")
    left_mm: float = length(
        4.0, "left uncut", "Of the tube, at the outside of the bend: the hinge.", lo=1, hi=60, group="Slots"
    )
    vee_mm: float = length(
        0.0,
        "edges ground to a V",
        "0: cut as they are. A V as deep as the wall is fused through; left square, a bead reaches less.",
        lo=0,
        hi=12,
        group="Slots",
    )
    plate: str = stock("5 mm", "tabs and struts", "plate", group="Tabs")
    plate_material: str = stock("S355", "plate steel", "material", group="Tabs")
    hole_edge_mm: float = length(20.0, "metal round holes", lo=6, hi=80, group="Tabs")
    foot_mm: float = length(
        90.0, "hoop on its tab", "Length of tube that lies on a tab.", lo=30, hi=400, group="Tabs"
    )
    strut_mm: float = length(
        250.0,
        "strut foot behind the axle",
        "Where the struts from the seat bolts meet the hoop.",
        lo=-300,
        hi=900,
        group="Tabs",
    )
    strut_foot_mm: float = length(70.0, "strut on hoop", lo=25, hi=300, group="Tabs")
    bolt: str = stock("M8", "bolts", "bolt", group="Tabs")
    bolt_grade: str = stock("10.9", "bolt grade", "bolt grade", group="Tabs")
    threads_in_plane: bool = choice(True, "threads in the shear plane", group="Tabs")
    receiver: str = stock("1 1/4", "receiver", "receiver", group="Receiver")
    receiver_material: str = stock("A500-B", "receiver steel", "material", group="Receiver")
    receiver_length_mm: float = length(120.0, "receiver length", lo=60, hi=500, group="Receiver", lever=True)
    mouth_to_pin_mm: float = length(
        40.0,
        "mouth to pin",
        "Measure it on the bar: the holes miss by millimetres otherwise.",
        lo=15,
        hi=300,
        group="Receiver",
    )
    back: str = stock("6 mm", "back plate", "plate", group="Receiver")
    back_mm: float = length(90.0, "back plate wide", lo=30, hi=400, group="Receiver")
    chain_plate: str = stock("6 mm", "chain plate", "plate", group="Chains")
    chain_width_mm: float = length(130.0, "chain plate wide", lo=40, hi=400, group="Chains")
    chain_length_mm: float = length(60.0, "chain plate long", lo=20, hi=300, group="Chains")
    chain_edge_mm: float = length(22.0, "chain hole to rear edge", lo=6, hi=100, group="Chains")
    chain_spacing_mm: float = length(86.0, "chain holes apart", lo=20, hi=360, group="Chains")
    chain_hole_mm: float = length(16.0, "chain hole", lo=6, hi=40, group="Chains")
    chain_hook_mm: float = length(8.0, "chain hook or shackle pin", lo=4, hi=30, group="Chains")
    weld_plate_mm: float = length(4.0, "tab weld leg", lo=2, hi=12, group="Welds")
    weld_receiver_mm: float = length(5.0, "receiver weld leg", lo=2, hi=15, group="Welds")
    weld_chain_mm: float = length(4.0, "chain plate weld leg", lo=2, hi=15, group="Welds")


def build(p: SlotFrame, b: Build, pegs: HostSocket) -> None:
    """Tabs and struts on both sides, the hoop round the wheel between them, the receiver under its run."""
    tube, t = catalogue.bar(p.tube), catalogue.plate(p.plate).thickness
    spec = BoltSpec(catalogue.bolt(p.bolt), catalogue.bolt_grade(p.bolt_grade), p.threads_in_plane)
    pairs = {side: _pair(pegs, side) for side in SIDES}
    z = min(low.place.o[2] for _, low in pairs.values()) - p.drop_mm
    front = max(low.place.o[0] for _, low in pairs.values()) + p.foot_mm / 2
    faces = {side: proud(pair, (0.0, 1.0 if side == "left" else -1.0, 0.0)) for side, pair in pairs.items()}
    _fits(p, spec, front, z)
    out = {side: face + t + tube.width / 2 for side, face in faces.items()}
    hoop = _hoop(b, p, front, (out["left"], -out["right"]), z)
    for side, (high, low) in pairs.items():
        check_holes((high, low), spec.bolt, side)
        s = 1.0 if side == "left" else -1.0
        here = _Side(side, s * faces[side], t, z)
        tab = _plate(b, p, "tab", here, low, (front - p.foot_mm, front))
        strut = _plate(
            b, p, "strut", here, high, (-p.strut_mm - p.strut_foot_mm / 2, -p.strut_mm + p.strut_foot_mm / 2)
        )
        for name, made, hole in (("tab", tab, low), ("strut", strut, high)):
            on = Named(f"{name} bolt", instance=side, called=f"{side} {name} bolt")
            bolt_on(b, on, made, (hole,), (hole.place.o[0], s * faces[side], hole.place.o[2]), spec)
        _lap(b, p, "tab", here, (tab, hoop))
        _lap(b, p, "strut", here, (strut, hoop))
    place_bolts(b, [h for pair in pairs.values() for h in pair], t, spec)
    _receiver(b, p, hoop, z)
    b.plug("peg and seat bolts", hoop, Place())


def _pair(pegs: HostSocket, side: Side) -> tuple[BoltPlace, BoltPlace]:
    """The high and the low bolt of a side."""
    holes = pegs.side(side)
    if len(holes) < 2:
        raise BuildError(
            f"The subframe hangs on two bolts a side, a high and a low one; {len(holes)} marked on the "
            f"{side}. Mark another at Measure."
        )
    return max(holes, key=lambda h: h.place.o[2]), min(holes, key=lambda h: h.place.o[2])


def _fits(p: SlotFrame, spec: BoltSpec, front: float, z: float) -> None:
    tube = catalogue.bar(p.tube)
    head = 0.9 * spec.bolt.diameter + 4
    if abs(p.drop_mm) < tube.height / 2 + head:
        raise BuildError(
            f"The hoop lies over the peg bolt's head: {p.drop_mm:.4g} mm from bolt to its middle, and half "
            f"the tube with the head takes {tube.height / 2 + head:.0f} mm; move it down."
        )
    if z < tube.height / 2 + 60:
        raise BuildError(
            f"The hoop would be {z - tube.height / 2:.0f} mm above the ground; make the drop smaller or "
            "check the height of the peg bolts."
        )
    straight = front + p.behind_mm - p.bend_mm
    if straight < p.foot_mm:
        raise BuildError(
            f"The hoop's legs are {straight:.0f} mm straight and their tabs take {p.foot_mm:.4g} mm; let the "
            "run lie farther back or shorten the tabs."
        )
    rear = -p.strut_mm - p.strut_foot_mm / 2
    if rear < -p.behind_mm + p.bend_mm:
        raise BuildError(
            f"The struts meet the hoop {-rear:.0f} mm behind the axle, in its bend, which begins "
            f"{p.behind_mm - p.bend_mm:.0f} mm behind it; bring them forward."
        )
    if -p.strut_mm + p.strut_foot_mm / 2 > front - p.foot_mm - 5:
        raise BuildError(
            "The struts' feet and the tabs lie on the same length of tube; bring the struts back."
        )


def _hoop(b: Build, p: SlotFrame, front: float, ends: tuple[float, float], z: float) -> Part:
    """The tube from one tab round the wheel to the other."""
    tube, rear = catalogue.bar(p.tube), -p.behind_mm
    if p.left_mm >= tube.width:
        raise BuildError(
            f"{p.left_mm:.4g} mm left uncut is the whole of a tube {tube.width:.4g} mm wide; leave less."
        )
    if ends[0] - ends[1] < 2 * p.bend_mm + 60:
        raise BuildError(
            f"The legs are {ends[0] - ends[1]:.0f} mm apart, too near for two bends of {p.bend_mm:.4g} mm "
            "with room for the receiver between them; make the bend radius smaller."
        )
    b.dimension(Dimension("axle to hoop", (0.0, 0.0, z), (rear, 0.0, z), "x", ("side", "top"), "behind_mm"))
    low = (front - p.foot_mm / 2, ends[0], z + p.drop_mm)
    b.dimension(Dimension("peg bolt to hoop", low, (low[0], ends[0], z), "z", ("side",), "drop_mm"))
    return b.bar(
        Named("hoop", paths=("tube", "tube_material", "bend_mm", "slot_mm", "left_mm", "vee_mm")),
        Bar(
            tube,
            Bent(
                ((front, ends[0], z), (rear, ends[0], z), (rear, ends[1], z), (front, ends[1], z)),
                (p.bend_mm, p.bend_mm),
            ),
            slots=Slots(p.slot_mm, tube.width - p.left_mm, p.vee_mm),
        ),
        p.tube_material,
    )


class _Side:
    """Which side, its face on the host (y), the plates' thickness, the hoop's height."""

    def __init__(self, side: Side, face: float, t: float, z: float) -> None:
        self.side, self.face, self.t, self.z = side, face, t, z
        self.out = 1.0 if face > 0 else -1.0


def _plate(
    b: Build, p: SlotFrame, name: str, here: _Side, hole: BoltPlace, foot: tuple[float, float]
) -> Part:
    """A plate round one bolt and behind a length of the hoop."""
    bolt = catalogue.bolt(p.bolt)
    if p.hole_edge_mm < bolt.hole / 2 + 3:
        raise BuildError(
            f"Metal round holes is {p.hole_edge_mm:.4g} mm, which leaves no edge beside a {bolt.hole:.4g} mm "
            f"hole; give at least {1.5 * bolt.diameter:.0f} mm."
        )
    r, (u, w) = CORNER, (hole.place.o[0], hole.place.o[2])
    low, high = _flat(p, here.z)
    if high - low < 10:
        raise BuildError(
            f"The flat of the hoop's side is {_flat_of(p):.0f} mm high, too little for beads of "
            f"{p.weld_plate_mm:.4g} mm; choose a taller tube or a smaller bead."
        )
    around = p.hole_edge_mm - r
    spots = [
        (u + around * math.cos(math.pi * k / 12), w + around * math.sin(math.pi * k / 12)) for k in range(24)
    ]
    spots += [(x, v) for x in (foot[0] + r, foot[1] - r) for v in (low + r, high - r)]
    return b.plate(
        Named(name, instance=here.side, paths=("plate", "plate_material", "hole_edge_mm", f"{FEET[name]}")),
        Plate(
            rounded_hull(spots, r),
            here.t,
            Place((0.0, here.face + here.t if here.out > 0 else here.face, 0.0), X, Z, times(Y, -1)),
            holes=((u, w, bolt.hole),),
        ),
        p.plate_material,
        f"plate {catalogue.plate(p.plate).name}",
    )


def _flat_of(p: SlotFrame) -> float:
    tube = catalogue.bar(p.tube)
    return tube.height - 2 * tube.radius


def _flat(p: SlotFrame, z: float) -> tuple[float, float]:
    """From the plates' lower edge, above which a bead has its ledge, to the top of the hoop's flat."""
    half = _flat_of(p) / 2
    return z - half + p.weld_plate_mm + 1, z + half


def _lap(b: Build, p: SlotFrame, name: str, here: _Side, parts: tuple[Part, Part]) -> None:
    """Fillets along what of a plate's edge lies on the flat of the hoop's side."""
    plate, y = parts[0].shape, here.face + here.out * here.t
    assert isinstance(plate, Plate)
    low, high = _flat(p, here.z)
    corners = flatten(plate.outline, math.radians(20))
    band = box(-1e4, low - 0.5, 1e4, high)
    edge = LineString([*corners, corners[0]]).intersection(band)
    lines: list[tuple[Vec, Vec]] = []
    for line in getattr(edge, "geoms", [edge]):
        lines += [
            ((q[0], y, q[1]), (r[0], y, r[1])) for q, r in pairwise(line.coords) if math.dist(q, r) > 3.0
        ]
    b.weld(
        Named(f"{name} weld", instance=here.side, called=f"{here.side} {name} to hoop"),
        *parts,
        Beads(
            lines,
            p.weld_plate_mm,
            "weld_plate_mm",
            normal=times(Y, here.out),
            note="round the plate's foot, on the flat of the hoop",
        ),
    )


def _receiver(b: Build, p: SlotFrame, hoop: Part, z: float) -> None:
    """Square on a back plate that stands on the run's rear face, a chain plate under it."""
    size, tube, back = catalogue.receiver(p.receiver), catalogue.bar(p.tube), catalogue.plate(p.back)
    pipe, face = catalogue.bar(size.tube), -p.behind_mm - tube.width / 2
    half, high = p.back_mm / 2, pipe.height / 2 + p.weld_receiver_mm + 3
    if p.back_mm < pipe.width + 2 * p.weld_receiver_mm + 4:
        raise BuildError(
            f"The back plate is {p.back_mm:.4g} mm wide and the receiver with its beads "
            f"{pipe.width + 2 * p.weld_receiver_mm + 4:.0f} mm; make it wider."
        )
    plate = b.plate(
        Named("back plate", paths=("back", "plate_material", "back_mm")),
        Plate(
            rectangle(-half, z - high, half, z + high),
            back.thickness,
            Place((face - back.thickness, 0.0, 0.0), Y, Z, X),
        ),
        p.plate_material,
        f"plate {back.name}",
    )
    up = min(_flat_of(p) / 2, high) - 1
    b.weld(
        Named("back plate weld", called="back plate to hoop"),
        hoop,
        plate,
        Beads(
            [((face, y, z - up), (face, y, z + up)) for y in (-half, half)],
            p.weld_receiver_mm,
            "weld_receiver_mm",
            normal=times(X, -1),
            note="up both ends of the plate, on the flat of the hoop",
        ),
    )
    end = face - back.thickness
    mouth: Vec = (end - p.receiver_length_mm, 0.0, z)
    cross = Cross(mouth, (end, 0.0, z), pipe, tube, "under", p.receiver_length_mm, p.weld_receiver_mm)
    pin_x = mouth[0] + p.mouth_to_pin_mm
    made = receiver_tube(b, cross, size, pin_x, p.receiver_material)
    b.weld(
        Named("receiver weld", called="receiver to back plate"),
        plate,
        made,
        Beads(
            loop(Place.facing((end, 0.0, z), times(X, -1), Y), pipe.width, pipe.height, pipe.radius),
            p.weld_receiver_mm,
            "weld_receiver_mm",
            normal=times(X, -1),
        ),
    )
    chain_plate(
        b,
        cross,
        made,
        ChainSpec(
            catalogue.plate(p.chain_plate),
            p.plate_material,
            p.chain_width_mm,
            p.chain_length_mm,
            10.0,
            p.chain_spacing_mm,
            p.chain_hole_mm,
            p.chain_hook_mm,
            p.chain_edge_mm,
            p.weld_chain_mm,
        ),
    )
    b.places.update(mouth=mouth, pin=(pin_x, 0.0, mouth[2]))
    b.dimension(
        Dimension("mouth to pin", mouth, (pin_x, 0.0, mouth[2]), "x", ("side",), "mouth_to_pin_mm", row=1)
    )
    b.dimension(
        Dimension("receiver length", mouth, (end, 0.0, z), "x", ("side", "top"), "receiver_length_mm", row=2)
    )


def duty(job: Job) -> Job:
    """Tow a light two-wheeled trailer by its lunette."""
    towed = job.duty.model_copy(
        update={
            "towed": True,
            "hitch": "pintle",
            "trailer_name": "parcel trailer",
            "trailer_mass_kg": 80.0,
            "tongue_mass_kg": 6.0,
            "school": "4-8",
            "coupler_height_mm": 310.0,
            "axle_behind_mm": 1350.0,
            "bed_length_mm": 1200.0,
            "middle_height_mm": 460.0,
            "articulation_deg": 70.0,
        }
    )
    return job.model_copy(update={"duty": towed})


register(
    Family(
        "slot-frame",
        "Slot-bent subframe",
        SlotFrame,
        build,
        on="peg and seat bolts",
        on_host=True,
        does="tow",
        bears="pintle",
        bears_as={
            "shank": "square 1 1/4",
            "base": "3/8",
            "base_wide_mm": 80.0,
            "reach_mm": 80.0,
            "ring_mm": 20.0,
            "layer": "3/8",
            "layers": 2,
            "deep_mm": 24.0,
            "back_mm": 24.0,
            "latch": "3/16",
            "latch_high_mm": 20.0,
            "latch_pin": "round 3/8",
            "weld_mm": 5.0,
        },
        host="two-wheeler",
        offers=("receiver", "chain eye"),
        seen="top",
        duty=duty,
        about="A hoop of square tube round a small two-wheeler's wheel, bent by slots for want of a bender.",
    )
)
