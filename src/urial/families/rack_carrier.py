"""Rack carrier: a beam behind a folding joint, arms across it, on them a deck or wheel trays, sockets for
rods.
"""

from __future__ import annotations

from typing import Literal

from urial.assembly.build import SQUARE, Beads, Build, Named, Takes, loop
from urial.assembly.model import BuildError, Decking, Dimension, Eye, Part
from urial.families.registry import Family, register
from urial.geometry.outline import rectangle
from urial.geometry.path import Line
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Bar, Capped, End, Hole, Plate
from urial.job.duty import Carrier, Item
from urial.job.fields import choice, length, number, stock
from urial.job.model import Design, Job
from urial.pieces.shank import hitch_pin, receiver_for, shank
from urial.stock import catalogue
from urial.stock.catalogue import StockSection

PLAY = 0.5
"""Holes of the folding joint are drilled so much larger than its pins, mm."""
LIP = 12.0
"""Bar beyond the last pin, over the pin's own radius, mm."""


class RackCarrier(Design):
    """Parameters of a rack carrier."""

    family: Literal["rack-carrier"] = "rack-carrier"
    shank: str = stock(
        "2x2x1/4",
        "shank",
        "bar",
        "Slides into the receiver; the beam is of the same.",
        only="rect_tube",
        group="Beam",
    )
    shank_material: str = stock("A500-B", "shank and beam steel", "material", group="Beam")
    past_pin_mm: float = length(45.0, "bar past pin", lo=12, hi=400, group="Beam")
    reach_mm: float = length(
        190.0,
        "pin to folding joint",
        "Hitch pin to the first pin of the folding joint; without one, to where the beam is free.",
        lo=80,
        hi=900,
        group="Beam",
        lever=True,
    )
    beam_mm: float = length(
        560.0, "beam", "Folding joint's first pin to the beam's end.", lo=150, hi=1500, group="Beam"
    )
    folds: bool = choice(
        True,
        "folds up",
        "Two cheeks and two pins: draw the rear one and the beam tilts up. No: one bar right through.",
        group="Folding joint",
    )
    pins_mm: float = length(
        90.0,
        "between its pins",
        "The farther apart, the less each carries.",
        lo=40,
        hi=300,
        group="Folding joint",
    )
    cheek: str = stock("3/8", "cheek plate", "plate", group="Folding joint")
    cheek_material: str = stock("A36", "cheek steel", "material", group="Folding joint")
    cheek_high_mm: float = length(
        75.0,
        "cheek high",
        "Higher than the bar, so that there is a ledge to weld on.",
        lo=20,
        hi=250,
        group="Folding joint",
    )
    fold_pin: str = stock("round 5/8", "its pins", "bar", only="round_bar", group="Folding joint")
    fold_pin_material: str = stock("4140-QT", "its pins' steel", "material", group="Folding joint")
    arms: float = number(2, "arms", "Across the beam; wheel trays are arms too.", lo=1, hi=5, group="Arms")
    arm: str = stock("1 1/2x1 1/2x0.120", "arm", "bar", only="rect_tube,channel,angle", group="Arms")
    arm_material: str = stock("A500-B", "arm steel", "material", group="Arms")
    wide_mm: float = length(1150.0, "arms wide", "Tip to tip.", lo=200, hi=2600, group="Arms")
    first_mm: float = length(
        170.0, "folding joint to first arm", "From its first pin.", lo=20, hi=1200, group="Arms"
    )
    apart_mm: float = length(330.0, "between arms", lo=60, hi=900, group="Arms")
    deck: Literal["open", "sheet", "mesh"] = choice(
        "mesh",
        "deck",
        "Stitched to the first arm and screwed to the others; it carries the load on to the arms.",
        words={"open": "none", "sheet": "sheet", "mesh": "expanded metal"},
        group="Deck",
    )
    sheet: str = stock("3 mm", "deck sheet", "plate", group="Deck")
    rods: float = number(0, "rod holders", "Upright tubes on the last arm.", lo=0, hi=8, group="Deck")
    rod: str = stock("1 1/2 odx0.083", "rod holder", "bar", only="round_tube", group="Deck")
    rod_mm: float = length(220.0, "rod holder high", lo=60, hi=900, group="Deck")
    weld_mm: float = length(5.0, "weld leg", lo=2, hi=16, group="Welds")
    arm_weld_mm: float = length(
        8.0, "arm weld leg", "It fills the tubes' round corners.", lo=2, hi=20, group="Welds"
    )
    pin_material: str = stock("4140-QT", "hitch pin steel", "material", group="Beam")


def build(p: RackCarrier, b: Build) -> None:
    """Own axes: the hitch pin's middle is the origin, x runs into the receiver, z up; the beam runs
    rearward.
    """
    bar, arm = catalogue.bar(p.shank), catalogue.bar(p.arm)
    _fits(p, bar, arm)
    joint, tail = -p.reach_mm, -p.reach_mm - p.beam_mm
    beam = _folding(b, p, bar) if p.folds else _through(b, p, bar, tail)
    top = bar.height / 2
    n = int(p.arms)
    at = [joint - p.first_mm - k * p.apart_mm for k in range(n)]
    across = [_arm(b, p, beam, (k, x), top, arm) for k, x in enumerate(at, 1)]
    if p.deck != "open":
        _deck(b, p, across[0], (at[0], at[-1]), top + arm.height, arm)
    if p.rods >= 1:
        _rods(b, p, across[-1], at[-1], top + arm.height)
    hitch_pin(b, receiver_for(bar), p.pin_material)
    origin: Vec = (0.0, 0.0, 0.0)
    b.dimension(
        Dimension(
            "pin to folding joint" if p.folds else "pin to beam",
            origin,
            (joint, 0.0, 0.0),
            "x",
            ("side", "top"),
            "reach_mm",
        )
    )
    b.dimension(
        Dimension("beam", (joint, 0.0, 0.0), (tail, 0.0, 0.0), "x", ("side", "top"), "beam_mm", row=1)
    )
    b.dimension(
        Dimension(
            "to first arm", (joint, 0.0, top), (at[0], 0.0, top), "x", ("side", "top"), "first_mm", "high"
        )
    )
    if n > 1:
        b.dimension(
            Dimension(
                "between arms", (at[0], 0.0, top), (at[1], 0.0, top), "x", ("side", "top"), "apart_mm", "high"
            )
        )
    y = p.wide_mm / 2
    b.dimension(Dimension("arms wide", (at[0], y, top), (at[0], -y, top), "y", ("rear", "top"), "wide_mm"))


def _fits(p: RackCarrier, bar: StockSection, arm: StockSection) -> None:
    last = p.first_mm + (int(p.arms) - 1) * p.apart_mm
    if last + arm.width / 2 > p.beam_mm:
        raise BuildError(
            f"The last of {int(p.arms)} arms stands {last:.0f} mm behind the folding joint and the beam is "
            f"{p.beam_mm:.4g} mm; make it {last + arm.width / 2:.0f} mm long or the arms fewer or closer."
        )
    pin = catalogue.bar(p.fold_pin).width
    if p.folds and p.first_mm - arm.width / 2 < p.pins_mm + pin / 2 + LIP:
        raise BuildError(
            f"The first arm stands {p.first_mm:.4g} mm behind the joint and the cheeks reach "
            f"{p.pins_mm + pin / 2 + LIP:.0f} mm; set it farther back."
        )
    if p.folds and pin + PLAY > 0.5 * bar.height:
        raise BuildError(
            f"A {pin:.4g} mm pin takes more than half of the {bar.height:.4g} mm beam; take a thinner pin."
        )
    if p.folds and p.cheek_high_mm < bar.height + 2 * p.arm_weld_mm:
        raise BuildError(
            f"Cheeks {p.cheek_high_mm:.4g} mm high leave no room beside the {bar.height:.4g} mm bar for "
            f"{p.arm_weld_mm:.4g} mm beads; make them at least {bar.height + 2 * p.arm_weld_mm:.0f} mm high."
        )
    if p.wide_mm < bar.width + 60:
        raise BuildError(
            f"Arms {p.wide_mm:.4g} mm wide hardly reach past the {bar.width:.4g} mm beam; make them wider."
        )
    if int(p.arms) > 1 and p.apart_mm < arm.width + 20:
        raise BuildError(
            f"The arms are {arm.width:.4g} mm wide and {p.apart_mm:.4g} mm apart; set them farther apart."
        )


def _through(b: Build, p: RackCarrier, bar: StockSection, tail: float) -> Part:
    """Shank and beam in one."""
    name = Named("shank", called="shank and beam", paths=("shank", "shank_material", "beam_mm"))
    return shank(b, name, bar, -tail, p.past_pin_mm, p.shank_material, Capped(3.0))


def _folding(b: Build, p: RackCarrier, bar: StockSection) -> Part:
    """The shank ends before the joint; cheeks along its sides, the beam between them on two pins."""
    pin, cheek = catalogue.bar(p.fold_pin), catalogue.plate(p.cheek)
    front, rear = -p.reach_mm, -p.reach_mm - p.pins_mm
    hole, end = pin.width + PLAY, front + pin.width / 2 + LIP
    stub = end + 3.0  # a gap between the shank's end and the beam's
    high, t = p.cheek_high_mm, cheek.thickness
    lap = min(1.4 * bar.height, stub_room(p, stub))
    beam_shank = shank(
        b,
        Named("shank", paths=("shank", "shank_material", "reach_mm")),
        bar,
        -stub,
        p.past_pin_mm,
        p.shank_material,
    )
    cuts = tuple(Hole((x, 0.0, 0.0), Y, hole) for x in (front, rear))
    beam = b.bar(
        Named("beam", paths=("shank", "shank_material", "beam_mm")),
        Bar(bar, Line((end, 0.0, 0.0), (-p.reach_mm - p.beam_mm, 0.0, 0.0)), cuts=cuts, end_j=Capped(3.0)),
        p.shank_material,
    )
    pins = {}
    for name, x in (("front", front), ("rear", rear)):
        half = bar.width / 2 + t + pin.width / 2
        pins[name] = b.bar(
            Named(
                "fold pin",
                instance="1" if name == "front" else "2",
                called=f"{name} pin of the fold",
                paths=("fold_pin", "fold_pin_material"),
            ),
            Bar(pin, Line((x, half, 0.0), (x, -half, 0.0))),
            p.fold_pin_material,
        )
        for side, y in (("left", bar.width / 2), ("right", -bar.width / 2)):
            b.joint(
                Named(f"{name} beam hole", instance=side, called=f"{name} pin in the beam's {side} wall"),
                beam,
                pins[name],
                Place.facing((x, y, 0.0), Y, X),
                Eye(pin.width, hole, b.path("pins_mm")),
            )
    for side, s in (("left", 1.0), ("right", -1.0)):
        face = s * bar.width / 2
        plate = b.plate(
            Named("cheek", instance=side, paths=("cheek", "cheek_material")),
            Plate(
                rectangle(rear - hole / 2 - LIP, -high / 2, stub + lap, high / 2),
                t,
                Place((0.0, max(face, face + s * t), 0.0), X, Z, times(Y, -1)),
                holes=tuple((x, 0.0, hole) for x in (front, rear)),
            ),
            p.cheek_material,
            f"plate {cheek.name}",
        )
        lines = loop(Place.facing((stub + lap / 2, face, 0.0), times(Y, s), X), lap, bar.height)
        b.weld(
            Named("cheek weld", instance=side, called=f"{side} cheek to shank"),
            beam_shank,
            plate,
            Beads(
                lines[:1] + lines[1::2],  # not at the shank's end, where the beam comes close
                p.arm_weld_mm,
                "arm_weld_mm",
                radius=(0.0, bar.radius, bar.radius),
                normal=times(Y, s),
            ),
        )
        for name, x in (("front", front), ("rear", rear)):
            b.joint(
                Named(f"{name} cheek hole", instance=side, called=f"{name} pin in the {side} cheek"),
                plate,
                pins[name],
                Place.facing((x, face + s * t / 2, 0.0), Y, X),
                Eye(pin.width, hole, b.path("cheek")),
            )
    b.note("draw the rear pin of the fold and tilt the beam up about the front one")
    b.dimension(
        Dimension(
            "between its pins", (front, 0.0, 0.0), (rear, 0.0, 0.0), "x", ("side",), "pins_mm", "high", 1
        )
    )
    return beam


def stub_room(p: RackCarrier, stub: float) -> float:
    """How far a cheek may lie on the shank: up to 10 mm behind the receiver's mouth, as bars are drilled."""
    room = -stub - catalogue_mouth(p) - 10
    if room < 25:
        raise BuildError(
            f"The folding joint is {p.reach_mm:.4g} mm from the hitch pin, which leaves "
            f"{max(room, 0):.0f} mm of shank for the cheeks; set it farther out."
        )
    return room


def catalogue_mouth(p: RackCarrier) -> float:
    """Hitch pin to the receiver's mouth as such receivers are made, mm."""
    return receiver_for(catalogue.bar(p.shank)).pin_from_mouth


def _arm(b: Build, p: RackCarrier, beam: Part, at: tuple[int, float], top: float, arm: StockSection) -> Part:
    """One arm on the beam's top, and where a load rests on it left and right."""
    k, x = at
    y = p.wide_mm / 2
    open_ = arm.shape in ("channel", "angle")
    cap: End = SQUARE if open_ else Capped(2.0)
    made = b.bar(
        Named("arm", instance=str(k), paths=("arm", "arm_material", "wide_mm")),
        Bar(
            arm,
            Line((x, y, top + arm.height / 2), (x, -y, top + arm.height / 2)),
            end_i=cap,
            end_j=cap,
        ),
        p.arm_material,
    )
    assert isinstance(beam.shape, Bar)
    stock = beam.shape.stock
    round_ = 0.0 if open_ else arm.radius
    lines = loop(Place((x, 0.0, top), X, Y, Z), arm.width - round_, stock.width - stock.radius)
    b.weld(
        Named("arm weld", instance=str(k), called=f"arm {k} to beam"),
        beam,
        made,
        Beads(lines, p.arm_weld_mm, "arm_weld_mm", radius=(round_, stock.radius) * 2, normal=times(Z, -1)),
    )
    for side, s in (("left", 1.0), ("right", -1.0)):
        b.socket(
            f"deck {k}.{side}",
            made,
            Place.facing((x, s * 0.35 * p.wide_mm, top + arm.height), Z, X),
            Takes("deck", path="wide_mm"),
        )
    return made


def _deck(
    b: Build, p: RackCarrier, first: Part, ends: tuple[float, float], top: float, arm: StockSection
) -> None:
    """The sheet over the arms; expanded metal weighs less than half of the sheet it is made of, said as the
    sheet it equals.
    """
    sheet, y = catalogue.plate(p.sheet), p.wide_mm / 2
    t = sheet.thickness * (0.45 if p.deck == "mesh" else 1.0)
    x0, x1 = ends[1] - arm.width / 2, ends[0] + arm.width / 2
    made = b.plate(
        Named("deck", paths=("sheet", "wide_mm")),
        Plate(rectangle(x0, -y, x1, y), t, Place((0.0, 0.0, top), X, Y, Z)),
        "S235",
        f"{'expanded metal' if p.deck == 'mesh' else 'plate'} {sheet.name}",
    )
    lines: list[tuple[Vec, Vec]] = [
        ((ends[0], s - 20, top), (ends[0], s + 20, top)) for s in (-0.4 * p.wide_mm, 0.0, 0.4 * p.wide_mm)
    ]
    kind: Literal["mesh", "sheet"] = "mesh" if p.deck == "mesh" else "sheet"
    if int(p.arms) > 1:
        free = p.apart_mm - arm.width
        made = b.decking(made, Decking(kind, free, p.wide_mm, sheet.thickness))
    leg = min(p.weld_mm, max(sheet.thickness, 2.0))
    b.weld(Named("deck stitches", called="deck to the first arm"), first, made, Beads(lines, leg, "weld_mm"))


def _rods(b: Build, p: RackCarrier, arm: Part, x: float, top: float) -> None:
    """Upright tubes along the last arm's rear edge."""
    rod, n = catalogue.bar(p.rod), int(p.rods)
    if n * (rod.width + 15) > p.wide_mm:
        raise BuildError(
            f"{n} rod holders of {rod.width:.4g} mm do not stand on arms {p.wide_mm:.4g} mm wide; take fewer."
        )
    assert isinstance(arm.shape, Bar)
    back = x - arm.shape.stock.width / 2 - rod.width / 2
    base = top - arm.shape.stock.height
    for k in range(n):
        y = (k - (n - 1) / 2) * (p.wide_mm - rod.width) / max(n, 1)
        tube = b.bar(
            Named("rod holder", instance=str(k + 1), paths=("rod", "rod_mm")),
            Bar(rod, Line((back, y, base), (back, y, base + p.rod_mm))),
            "S235",
        )
        lines: list[tuple[Vec, Vec]] = [
            ((back + rod.width / 2, y + 1.0 * s, base), (back + rod.width / 2, y + 1.0 * s, top))
            for s in (-1, 1)
        ]
        b.weld(
            Named("rod weld", instance=str(k + 1), called=f"rod holder {k + 1} to arm"),
            arm,
            tube,
            Beads(lines, min(p.weld_mm, rod.wall + 1), "weld_mm", radius=rod.width / 2, normal=X),
        )


def duty(job: Job) -> Job:
    """A cooler and two boxes; nothing towed."""
    items = (
        Item(
            name="cooler",
            kg=32.0,
            behind_mm=480.0,
            above_mm=260.0,
            long_mm=400.0,
            wide_mm=620.0,
            high_mm=420.0,
        ),
        Item(
            name="boxes",
            kg=14.0,
            behind_mm=480.0,
            above_mm=190.0,
            across_mm=430.0,
            long_mm=380.0,
            wide_mm=240.0,
            high_mm=280.0,
        ),
        Item(
            name="rack", kg=17.0, behind_mm=430.0, above_mm=30.0, long_mm=500.0, wide_mm=1150.0, high_mm=60.0
        ),
    )
    return job.model_copy(
        update={
            "duties": (Carrier(title="rack", items=items),),
            "duty": job.duty.model_copy(update={"towed": False}),
        }
    )


register(
    Family(
        "rack-carrier",
        "Rack carrier",
        RackCarrier,
        build,
        on="receiver",
        on_host=False,
        does="carry",
        stands_on="rear-receiver",
        offers=("deck",),
        duty=duty,
        about="Arms across a beam that folds up: coolers, boxes, cycles in trays, rods.",
    )
)
