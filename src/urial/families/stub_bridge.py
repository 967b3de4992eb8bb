"""Stub bridge: two stub receivers bolted on in place of the tow eyes, a bridge that slides into both and is
pinned, a receiver in its middle.  Off comes the bridge, the stubs stay.
"""

from __future__ import annotations

from typing import Literal

from urial.assembly.build import Beads, Build, Named, loop
from urial.assembly.model import BuildError, Dimension, Part, Plug, Socket
from urial.families.registry import Family, register
from urial.geometry import outline as outlines
from urial.geometry.path import Line
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Bar, Capped, Hole, Plate, Slant, Turned
from urial.job.duty import Carrier, Item
from urial.job.fields import choice, length, stock
from urial.job.host import Side
from urial.job.model import Design, Job
from urial.mates.host import BoltPlace, HostSocket
from urial.mates.mating import Guest, Refusal, mate
from urial.pieces.bolted import bolt_on, middle
from urial.pieces.hardware import BoltSpec, check_holes, place_bolts
from urial.pieces.receiver_tube import Cross, fits, receiver_tube, weld_to_tube
from urial.pieces.side_plates import proudest
from urial.stock import catalogue

RATTLE = "M10"
"""The bolt that presses a leg against its stub."""


class StubBridge(Design):
    """Parameters of a stub bridge."""

    family: Literal["stub-bridge"] = "stub-bridge"
    plate: str = stock("1/2", "stub plate", "plate", "On the outside of each rail.", group="Stubs")
    plate_material: str = stock("A36", "stub plate steel", "material", group="Stubs")
    hole_edge_mm: float = length(30.0, "metal round bolts", lo=6, hi=150, group="Stubs")
    stub_mm: float = length(
        190.0,
        "stub long",
        "Its longer side; the end by the bolts is cut slanted.",
        lo=110,
        hi=600,
        group="Stubs",
    )
    slant_mm: float = length(
        35.0,
        "slant",
        "So much shorter away from the plate: room for a spanner on the bolts.",
        lo=0,
        hi=120,
        group="Stubs",
    )
    clear_mm: float = length(30.0, "foremost bolt to stub", lo=12, hi=300, group="Stubs")
    drop_mm: float = length(
        0.0,
        "stub below the bolts",
        "Bolts' middle to the stub's middle.",
        lo=-200,
        hi=300,
        group="Stubs",
        lever=True,
    )
    receiver_material: str = stock("A500-B", "stub and receiver steel", "material", group="Stubs")
    stub_pin_mm: float = length(63.5, "stub's mouth to pin", lo=15, hi=300, group="Stubs")
    leg: str = stock(
        "square 2", "bridge leg", "bar", "Slides into the stubs.", only="square,rect_tube", group="Bridge"
    )
    leg_material: str = stock("A36", "leg steel", "material", group="Bridge")
    past_pin_mm: float = length(45.0, "leg past its pin", lo=12, hi=400, group="Bridge")
    stand_mm: float = length(
        25.0,
        "stub's mouth to bridge",
        "Free between the stubs and the bridge's tube.",
        lo=4,
        hi=300,
        group="Bridge",
    )
    bridge: str = stock(
        "3x3x1/4", "bridge tube", "bar", "Its ends are capped.", only="rect_tube", group="Bridge"
    )
    past_leg_mm: float = length(40.0, "bridge past its legs", lo=0, hi=400, group="Bridge")
    anti_rattle: bool = choice(
        True, "anti-rattle bolts", "A bolt through each stub's side that presses the leg.", group="Bridge"
    )
    receiver: str = stock("2", "receiver", "receiver", "The stubs are of the same.", group="Receiver")
    receiver_length_mm: float = length(230.0, "receiver long", lo=60, hi=1200, group="Receiver", lever=True)
    mouth_to_tube_mm: float = length(
        140.0, "mouth to bridge's middle", lo=10, hi=1200, group="Receiver", lever=True
    )
    mouth_to_pin_mm: float = length(63.5, "mouth to pin", lo=15, hi=300, group="Receiver")
    weld_plate_mm: float = length(8.0, "stub weld leg", lo=3, hi=25, group="Welds")
    weld_receiver_mm: float = length(8.0, "bridge weld leg", lo=3, hi=25, group="Welds")
    bolt: str = stock("M12", "tow-eye bolts", "bolt", group="Bolts")
    bolt_grade: str = stock("10.9", "bolt grade", "bolt grade", group="Bolts")
    threads_in_plane: bool = choice(True, "threads in the shear plane", group="Bolts")
    pin_material: str = stock("4140-QT", "hitch pin steel", "material", group="Bolts")


def build(p: StubBridge, b: Build, eyes: HostSocket) -> None:
    """Host axes: stubs ahead of the tow-eye bolts, the bridge before their mouths."""
    sides = eyes.sides("No tow-eye bolt on the {side} is recorded; add them at Measure as tow eyes, front.")
    spec = BoltSpec(catalogue.bolt(p.bolt), catalogue.bolt_grade(p.bolt_grade), p.threads_in_plane)
    size, tube = catalogue.receiver(p.receiver), catalogue.bar(p.bridge)
    pipe, leg = catalogue.bar(size.tube), catalogue.bar(p.leg)
    front = max(h.place.o[0] for holes in sides.values() for h in holes)
    heights = [h.place.o[2] for holes in sides.values() for h in holes]
    z = sum(heights) / len(heights) - p.drop_mm
    rear = front + p.clear_mm
    mouth = rear + p.stub_mm
    _fits(p, pipe.width, leg.height, tube.height - 2 * tube.radius)
    centre: Vec = (mouth + p.stand_mm + tube.width / 2, 0.0, z)
    t = catalogue.plate(p.plate).thickness
    out = {side: proudest(b, holes, side, True) + t + pipe.width / 2 for side, holes in sides.items()}
    ends = {side: y + leg.width / 2 + p.past_leg_mm for side, y in out.items()}
    bridge = b.bar(
        Named("bridge", called="bridge tube", paths=("bridge", "receiver_material")),
        Bar(
            tube,
            Line((centre[0], ends["left"], z), (centre[0], -ends["right"], z)),
            end_i=Capped(3.0),
            end_j=Capped(3.0),
        ),
        p.receiver_material,
    )
    for side, holes in sides.items():
        s = 1.0 if side == "left" else -1.0
        stub = _stub(b, p, side, holes, (rear, mouth, s * out[side], z), spec)
        _leg(b, p, side, stub, bridge, (mouth, s * out[side], z))
    place_bolts(b, [h for holes in sides.values() for h in holes], t, spec)
    ahead: Vec = (centre[0] + p.mouth_to_tube_mm, 0.0, z - (pipe.height + tube.height) / 2)
    if ahead[2] - pipe.height / 2 < 40:
        raise BuildError("The receiver would be in the ground; check the height of the bolts.")
    cross = Cross(ahead, centre, pipe, tube, "under", p.receiver_length_mm, p.weld_receiver_mm, -1.0)
    fits(cross, p.mouth_to_tube_mm, 0.0)
    pin_x = ahead[0] - p.mouth_to_pin_mm
    made = receiver_tube(b, cross, size, pin_x, p.receiver_material)
    weld_to_tube(b, cross, bridge, made)
    b.places.update(mouth=ahead, pin=(pin_x, 0.0, ahead[2]))
    b.frees.append("tow eyes, front")
    b.plug("tow eyes, front", bridge, Place())
    b.dimension(
        Dimension("mouth to pin", ahead, (pin_x, 0.0, ahead[2]), "x", ("side",), "mouth_to_pin_mm", row=1)
    )
    b.dimension(Dimension("mouth to bridge", ahead, centre, "x", ("side", "top"), "mouth_to_tube_mm", row=2))
    y = out["left"]
    b.dimension(Dimension("stub long", (rear, y, z), (mouth, y, z), "x", ("side", "top"), "stub_mm", "high"))
    b.dimension(
        Dimension(
            "stub to bridge", (mouth, y, z), (mouth + p.stand_mm, y, z), "x", ("top",), "stand_mm", "high", 1
        )
    )


def _fits(p: StubBridge, pipe: float, leg: float, flat: float) -> None:
    inner = p.stub_mm - p.stub_pin_mm
    if inner < p.past_pin_mm + p.slant_mm:
        raise BuildError(
            f"Behind its pin the stub is {inner:.0f} mm long, {p.slant_mm:.4g} mm of it slanted, and the leg "
            f"goes {p.past_pin_mm:.4g} mm past the pin; make the stub at least "
            f"{p.stub_pin_mm + p.past_pin_mm + p.slant_mm:.0f} mm long."
        )
    if leg > flat + 1:
        raise BuildError(
            f"A leg {leg:.4g} mm high is welded to the bridge's flat of {flat:.0f} mm; take a larger "
            "bridge tube or a smaller leg."
        )
    if p.stub_pin_mm < 20:
        raise BuildError("The stub's pin hole is too near its mouth; leave at least 20 mm.")


def _stub(
    b: Build,
    p: StubBridge,
    side: Side,
    holes: tuple[BoltPlace, ...],
    at: tuple[float, float, float, float],
    spec: BoltSpec,
) -> Part:
    """A plate on the rail's outside, round its bolts and along the stub; the stub, slanted by the bolts."""
    check_holes(holes, spec.bolt, side)
    (rear, mouth, y, z), s = at, 1.0 if side == "left" else -1.0
    size, sheet = catalogue.receiver(p.receiver), catalogue.plate(p.plate)
    pipe, face = catalogue.bar(size.tube), s * proudest(b, holes, side, True)
    if p.hole_edge_mm < spec.bolt.hole / 2 + 2:
        raise BuildError(
            f"Metal round bolts is {p.hole_edge_mm:.4g} mm, which leaves no edge beside a "
            f"{spec.bolt.hole:.4g} mm hole; give at least {1.25 * spec.bolt.diameter:.0f} mm."
        )
    spots = [(h.place.o[0], h.place.o[2]) for h in holes]
    e, pin_x = p.hole_edge_mm, mouth - p.stub_pin_mm
    end = min(mouth - 0.25 * p.stub_mm, pin_x - 0.8 * size.pin - 5.0)  # the pin's head passes before it
    dv = max(pipe.height / 2 + 2 * p.weld_plate_mm - e, 0.0)
    hull = [
        *spots,
        *((end - e, z + k * dv) for k in (-1, 1)),
        *((rear + e, z + k * dv) for k in (-1, 1)),
    ]
    plate = b.plate(
        Named("stub plate", instance=side, paths=("plate", "plate_material", "hole_edge_mm")),
        Plate(
            outlines.rounded_hull(hull, e),
            sheet.thickness,
            Place((0.0, max(face, face + s * sheet.thickness), 0.0), X, Z, times(Y, -1)),
            holes=tuple((u, v, spec.bolt.hole) for u, v in spots),
        ),
        p.plate_material,
        f"plate {sheet.name}",
    )
    x, _, zm = middle(holes)
    bolt_on(
        b, Named("stub bolts", instance=side, called=f"{side} stub bolts"), plate, holes, (x, face, zm), spec
    )
    lean = p.slant_mm / pipe.width
    middle_rear = rear + p.slant_mm / 2
    wall = y + s * pipe.width / 2
    tapped = Hole(
        (pin_x + 0.5 * p.stub_pin_mm, wall + s, z),
        times(Y, -s),
        catalogue.bolt(RATTLE).diameter + 0.5,
        pipe.wall + 2.0,
    )
    stub = b.bar(
        Named("stub", instance=side, paths=("receiver", "receiver_material", "stub_mm")),
        Bar(
            pipe,
            Line((middle_rear, y, z), (mouth, y, z)),
            end_i=Slant((1.0, -s * lean, 0.0)),
            cuts=(Hole((pin_x, y, z), Y, size.pin_hole), *((tapped,) if p.anti_rattle else ())),
        ),
        p.receiver_material,
    )
    inner = face + s * sheet.thickness
    half = pipe.height / 2
    rows: list[tuple[Vec, Vec]] = [((rear, inner, v), (end, inner, v)) for v in (z - half, z + half)]
    back = [((rear, inner, z - half + pipe.radius), (rear, inner, z + half - pipe.radius))]
    b.weld(
        Named("stub weld", instance=side, called=f"{side} stub to its plate"),
        stub,
        plate,
        Beads(
            [*rows, *back],
            p.weld_plate_mm,
            "weld_plate_mm",
            radius=(pipe.radius, pipe.radius, 0.0),
            normal=times(Y, -s),
            note="flare-bevel along the stub's corners, fillet across its slanted end",
        ),
    )
    return stub


def _leg(b: Build, p: StubBridge, side: Side, stub: Part, bridge: Part, at: Vec) -> None:
    """A leg of the bridge, pinned in its stub by the same rules as any bar in a receiver."""
    mouth, y, z = at
    size, own = catalogue.receiver(p.receiver), catalogue.bar(p.leg)
    pin_x = mouth - p.stub_pin_mm
    face = mouth + p.stand_mm
    leg = b.bar(
        Named(
            "leg", instance=side, called=f"{side} bridge leg", paths=("leg", "leg_material", "past_pin_mm")
        ),
        Bar(
            own,
            Line((pin_x - p.past_pin_mm, y, z), (face, y, z)),
            cuts=(Hole((pin_x, y, z), Y, size.pin_hole),),
        ),
        p.leg_material,
    )
    b.weld(
        Named("leg weld", instance=side, called=f"{side} leg to bridge"),
        bridge,
        leg,
        Beads(
            loop(Place.facing((face, y, z), X, Y), own.width, own.height, own.radius),
            p.weld_receiver_mm,
            "weld_receiver_mm",
            normal=X,
        ),
    )
    bore = Socket(
        f"{b.piece}/stub {side}",
        "receiver",
        stub.key,
        Place((pin_x, y, z), Z, times(Y, -1.0), X),
        size.name,
        depth=p.stub_pin_mm,
        inner=pin_x - (mouth - p.stub_mm),
    )
    assert isinstance(leg.shape, Bar)
    guest = Guest(
        Plug("receiver", leg.key, bore.place, size.name, p.past_pin_mm),
        leg.shape,
        f"{b.piece}/{side} stub",
        f"{side} leg",
        p.stub_pin_mm + p.stand_mm,
        catalogue.material(p.pin_material),
        b.path("pin_material"),
    )
    mated = mate(bore, guest)
    if isinstance(mated, Refusal):
        raise BuildError(mated.words)
    for j in mated.joints:
        b.joints[j.key] = j
    for words in mated.warnings:
        b.warn(words)
    tube, out = catalogue.bar(size.tube), 1.0 if y > 0 else -1.0
    b.turned(
        Named(
            "hitch pin",
            instance=side,
            called=f"hitch pin {size.pin:.4g} mm with clip",
            paths=("pin_material",),
        ),
        Turned(
            Place.facing((pin_x, y + out * (tube.width / 2 + 20), z), times(Y, -out), X),
            ((8, size.pin * 1.6, 0), (tube.width + 32, size.pin, 0)),
        ),
        p.pin_material,
        f"{size.pin:.4g} mm {catalogue.material(p.pin_material).name}",
        rated=False,
    )
    if p.anti_rattle:
        bolt = catalogue.bolt(RATTLE)
        start: Vec = (pin_x + 0.5 * p.stub_pin_mm, y + out * (tube.width / 2 + bolt.nut + bolt.head), z)
        b.turned(
            Named("anti-rattle bolt", instance=side, called="anti-rattle bolt M10"),
            Turned(
                Place.facing(start, times(Y, -out), X),
                ((bolt.head, bolt.across_flats, 6), (bolt.nut + tube.wall, bolt.diameter, 0)),
            ),
            "4140-QT",
            "M10, nut welded on",
        )


def duty(job: Job) -> Job:
    """A folded ramp and its frame at the front; nothing towed from there."""
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
        "stub-bridge",
        "Stub bridge",
        StubBridge,
        build,
        on="tow eyes, front",
        on_host=True,
        does="carry",
        host="van",
        offers=("receiver",),
        duty=duty,
        seen="top",
        about="Two stubs for the tow eyes and a bridge that lifts off, a receiver in its middle.",
    )
)
