"""Badge cover: stacked outlines on a short shank that fill a receiver's mouth, and stand a foot on them."""

from __future__ import annotations

import math
from typing import Literal

from urial.assembly.build import Beads, Build, Named, Takes, loop
from urial.assembly.model import BuildError, Dimension, Part, Plugs
from urial.families.registry import Family, register
from urial.geometry.outline import Outline, bounds, convex_hull, polygon, rectangle
from urial.geometry.place import Place, X, Y, Z, times
from urial.geometry.shape import Plate
from urial.job.duty import Carrier, Item
from urial.job.fields import choice, length, number, stock
from urial.job.model import Design, Job
from urial.pieces.shank import hitch_pin, receiver_for, shank
from urial.stock import catalogue


class BadgeCover(Design):
    """Parameters of a badge cover."""

    family: Literal["badge-cover"] = "badge-cover"
    shank: str = stock("2x2x1/4", "shank", "bar", only="square,rect_tube", group="Shank")
    shank_material: str = stock("A500-B", "shank steel", "material", group="Shank")
    past_pin_mm: float = length(35.0, "bar past pin", lo=12, hi=400, group="Shank")
    reach_mm: float = length(
        80.0,
        "pin to plate",
        "Hitch pin to the first plate: just clear of the mouth.",
        lo=40,
        hi=400,
        group="Shank",
        lever=True,
    )
    shape: Literal["disc", "rectangle", "hexagon", "shield"] = choice(
        "shield",
        "outline",
        words={"disc": "disc", "rectangle": "rectangle", "hexagon": "hexagon", "shield": "shield"},
        group="Badge",
    )
    wide_mm: float = length(150.0, "wide", lo=60, hi=500, group="Badge")
    high_mm: float = length(130.0, "high", lo=60, hi=400, group="Badge")
    plate: str = stock("1/4", "first plate", "plate", group="Badge")
    plate_material: str = stock("A36", "plate steel", "material", group="Badge")
    layers: float = number(3, "layers", "The first plate and those stacked on it.", lo=1, hi=6, group="Badge")
    layer: str = stock("1/8", "further layers", "plate", group="Badge")
    inset_mm: float = length(10.0, "each smaller by", "All round.", lo=3, hi=60, group="Badge")
    plug_mm: float = length(
        12.0, "plug weld", "Holes in each layer, filled on to the one under it.", lo=6, hi=30, group="Welds"
    )
    weld_mm: float = length(5.0, "weld leg", lo=2, hi=16, group="Welds")
    pin_material: str = stock("4140-QT", "pin steel", "material", group="Shank")


def outline(shape: str, wide: float, high: float) -> Outline:
    """An outline about its middle, mm."""
    if shape == "rectangle":
        return rectangle(-wide / 2, -high / 2, wide / 2, high / 2, min(wide, high) / 8)
    if shape == "disc":
        return polygon(
            [
                (wide / 2 * math.cos(k * math.pi / 24), high / 2 * math.sin(k * math.pi / 24))
                for k in range(48)
            ]
        )
    if shape == "hexagon":
        return polygon(
            [
                (
                    wide / 2 * math.cos(k * math.pi / 3),
                    high / 2 * math.sin(k * math.pi / 3) / math.sin(math.pi / 3),
                )
                for k in range(6)
            ]
        )
    # a shield: level on top, its sides drawn in to a point below
    sides = [
        (wide / 2 * math.cos(k * math.pi / 24), -high / 2 + high * 0.62 * (1 - math.sin(k * math.pi / 24)))
        for k in range(25)
    ]
    return polygon(convex_hull([(wide / 2, high / 2), (-wide / 2, high / 2), *sides]))


def build(p: BadgeCover, b: Build) -> None:
    """Own axes: the hitch pin's middle is the origin, x runs into the receiver, z up; the badge faces
    rearward.
    """
    bar, first = catalogue.bar(p.shank), catalogue.plate(p.plate)
    n, face = int(p.layers), -p.reach_mm
    least = min(p.wide_mm, p.high_mm)
    if least < max(bar.width, bar.height) + 2 * p.weld_mm:
        raise BuildError(
            f"The badge is {least:.4g} mm across and the {bar.title} shank with its welds "
            f"{max(bar.width, bar.height) + 2 * p.weld_mm:.0f} mm; make it larger."
        )
    if least - 2 * (n - 1) * p.inset_mm < 4 * p.plug_mm:
        raise BuildError(
            f"The last of {n} layers, each {p.inset_mm:.4g} mm smaller all round, is too small for its plug "
            "welds; take fewer layers or a smaller step."
        )
    beam = shank(
        b,
        Named("shank", paths=("shank", "shank_material", "reach_mm")),
        bar,
        p.reach_mm,
        p.past_pin_mm,
        p.shank_material,
    )
    below = b.plate(
        Named("badge", called="first plate", paths=("plate", "plate_material", "wide_mm", "high_mm")),
        Plate(
            outline(p.shape, p.wide_mm, p.high_mm),
            first.thickness,
            Place((face - first.thickness, 0.0, 0.0), Y, Z, X),
        ),
        p.plate_material,
        f"plate {first.name}",
    )
    b.weld(
        Named("badge weld", called="shank to first plate"),
        beam,
        below,
        Beads(
            loop(Place.facing((face, 0.0, 0.0), times(X, -1), Y), bar.width, bar.height, bar.radius),
            p.weld_mm,
            "weld_mm",
            normal=times(X, -1),
        ),
    )
    out = face - first.thickness
    b.socket("deck", below, Place.facing((out, 0.0, p.high_mm / 2), Z, Y), Takes("deck", path="high_mm"))
    for k in range(1, n):
        below, out = _layer(b, p, below, k, out)
    hitch_pin(b, receiver_for(bar), p.pin_material)
    low, high = bounds(outline(p.shape, p.wide_mm, p.high_mm))[1::2]
    b.dimension(
        Dimension("pin to plate", (0.0, 0.0, 0.0), (face, 0.0, 0.0), "x", ("side", "top"), "reach_mm")
    )
    w = p.wide_mm / 2
    b.dimension(Dimension("wide", (face, w, low), (face, -w, low), "y", ("rear", "top"), "wide_mm"))
    b.dimension(
        Dimension("high", (face, 0.0, low), (face, 0.0, high), "z", ("side", "rear"), "high_mm", "high")
    )


def _layer(b: Build, p: BadgeCover, below: Part, k: int, face: float) -> tuple[Part, float]:
    """The next layer on the one below, by two plug welds; itself and its own face."""
    sheet, off = catalogue.plate(p.layer), 2 * k * p.inset_mm
    wide, high = p.wide_mm - off, p.high_mm - off
    spots = ((-wide / 4.4, high / 12), (wide / 4.4, high / 12))
    made = b.plate(
        Named(f"layer {k + 1}", paths=("layer", "inset_mm")),
        Plate(
            outline(p.shape, wide, high),
            sheet.thickness,
            Place((face - sheet.thickness, 0.0, 0.0), Y, Z, X),
            holes=tuple((u, v, p.plug_mm) for u, v in spots),
        ),
        p.plate_material,
        f"plate {sheet.name}",
    )
    plane = Place((face, 0.0, 0.0), Y, Z, X)
    b.joint(
        Named("plugs", instance=str(k), called=f"plug welds of layer {k + 1}"),
        made,
        below,
        plane,
        Plugs(spots, p.plug_mm, sheet.thickness, b.electrode, b.path("plug_mm")),
    )
    return made, face - sheet.thickness


def duty(job: Job) -> Job:
    """Somebody steps on it to reach the roof; nothing towed."""
    items = (
        Item(
            name="somebody's foot",
            kg=100.0,
            behind_mm=25.0,
            above_mm=65.0,
            long_mm=90.0,
            wide_mm=110.0,
            high_mm=60.0,
        ),
    )
    return job.model_copy(
        update={
            "duties": (Carrier(title="step", items=items),),
            "duty": job.duty.model_copy(update={"towed": False}),
        }
    )


register(
    Family(
        "badge-cover",
        "Badge cover",
        BadgeCover,
        build,
        on="receiver",
        on_host=False,
        does="carry",
        stands_on="rear-receiver",
        duty=duty,
        seen="rear",
        about="Stacked outlines that fill the mouth; they stand a foot stepping on them.",
    )
)
