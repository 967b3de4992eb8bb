"""Clevis tongue: two drilled ears along the sides of a bar, a pin across them, spacers that keep the
trailer's eye in the middle.
"""

from __future__ import annotations

import math
from typing import Literal

from urial.assembly.build import Beads, Build, Named, Takes, loop
from urial.assembly.model import BuildError, Dimension, Eye, Part
from urial.families.registry import Family, register
from urial.geometry.outline import convex_hull, polygon
from urial.geometry.path import Line
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Bar, Plate, Turned
from urial.job.fields import length, stock
from urial.job.model import Design, Job
from urial.pieces.shank import hitch_pin, receiver_for, shank
from urial.stock import catalogue

PLAY = 1.0
"""A pin's hole is drilled so much larger than the pin, mm."""


class ClevisTongue(Design):
    """Parameters of a clevis tongue."""

    family: Literal["clevis-tongue"] = "clevis-tongue"
    bar: str = stock(
        "square 2",
        "bar",
        "bar",
        "Bar or tube that slides into the receiver; the ears lie on its sides.",
        only="square,rect_tube",
        group="Bar",
    )
    bar_material: str = stock("A572-50", "bar steel", "material", group="Bar")
    past_pin_mm: float = length(45.0, "bar past pin", lo=12, hi=400, group="Bar")
    reach_mm: float = length(
        180.0, "pin to bar's end", "Hitch pin to the end of the bar.", lo=80, hi=900, group="Bar", lever=True
    )
    ear: str = stock("1/2", "ear plate", "plate", group="Ears")
    ear_material: str = stock("A36", "ear steel", "material", group="Ears")
    lap_mm: float = length(
        90.0, "ear along the bar", "How far each ear lies on the bar's side.", lo=30, hi=500, group="Ears"
    )
    ear_high_mm: float = length(80.0, "ear high", lo=30, hi=300, group="Ears")
    out_mm: float = length(50.0, "bar's end to pin", lo=20, hi=300, group="Ears")
    metal_mm: float = length(32.0, "pin's middle to ear's edge", lo=12, hi=150, group="Ears")
    clevis_pin: str = stock(
        "round 1 1/4",
        "clevis pin",
        "bar",
        "Round bar the trailer's eye goes on.",
        only="round_bar",
        group="Pin",
    )
    clevis_pin_material: str = stock("4140-QT", "clevis pin steel", "material", group="Pin")
    eye_mm: float = length(
        25.0, "trailer's eye thick", "Spacers fill what is left between the ears.", lo=6, hi=200, group="Pin"
    )
    weld_mm: float = length(8.0, "weld leg", lo=3, hi=25, group="Welds")
    pin_material: str = stock("4140-QT", "hitch pin steel", "material", group="Bar")


def build(p: ClevisTongue, b: Build) -> None:
    """Own axes: the hitch pin's middle is the origin, x runs into the receiver, z up."""
    bar, pin = catalogue.bar(p.bar), catalogue.bar(p.clevis_pin)
    _fits(p, bar.width, bar.height, pin.width)
    end = -p.reach_mm
    beam = shank(
        b,
        Named("bar", called="tongue bar", paths=("bar", "bar_material", "reach_mm")),
        bar,
        p.reach_mm,
        p.past_pin_mm,
        p.bar_material,
    )
    t, at = catalogue.plate(p.ear).thickness, end - p.out_mm
    half = bar.width / 2 + t + pin.width / 2
    across = b.bar(
        Named("clevis pin", paths=("clevis_pin", "clevis_pin_material")),
        Bar(pin, Line((at, half, 0.0), (at, -half, 0.0))),
        p.clevis_pin_material,
    )
    for side, s in (("left", 1.0), ("right", -1.0)):
        _ear(b, p, beam, across, (side, s))
    _spacers(b, p, at, pin.width, bar.width)
    b.socket("clevis", across, Place.facing((at, 0.0, 0.0), Y, X), Takes("clevis", path="clevis_pin"))
    b.places.update(ball=(at, 0.0, 0.0))
    hitch_pin(b, receiver_for(bar), p.pin_material)
    origin: Vec = (0.0, 0.0, 0.0)
    b.dimension(
        Dimension("pin to bar's end", origin, (end, 0.0, 0.0), "x", ("side", "top"), "reach_mm", row=1)
    )
    b.dimension(
        Dimension("bar's end to pin", (end, 0.0, 0.0), (at, 0.0, 0.0), "x", ("side", "top"), "out_mm")
    )
    b.dimension(
        Dimension(
            "ear along the bar", (end, 0.0, 0.0), (end + p.lap_mm, 0.0, 0.0), "x", ("side", "top"), "lap_mm"
        )
    )
    h = p.ear_high_mm / 2
    b.dimension(
        Dimension("ear high", (end, 0.0, -h), (end, 0.0, h), "z", ("side",), "ear_high_mm", side="high")
    )


def _fits(p: ClevisTongue, wide: float, high: float, pin: float) -> None:
    if p.metal_mm < (pin + PLAY) / 2 + 6:
        raise BuildError(
            f"The {pin:.4g} mm pin's hole leaves {p.metal_mm - (pin + PLAY) / 2:.1f} mm of ear round it; "
            f"make the pin's middle at least {(pin + PLAY) / 2 + 6:.0f} mm from the ear's edge."
        )
    if p.ear_high_mm < high + 2 * p.weld_mm:
        raise BuildError(
            f"An ear {p.ear_high_mm:.4g} mm high leaves no room beside the {high:.4g} mm bar for a "
            f"{p.weld_mm:.4g} mm bead; make it at least {high + 2 * p.weld_mm:.0f} mm high."
        )
    if p.lap_mm > p.reach_mm - 10:
        raise BuildError(
            f"The ears lie {p.lap_mm:.4g} mm along the bar and its end is {p.reach_mm:.4g} mm from the "
            "hitch pin; shorten them or make the bar longer."
        )
    if p.out_mm < p.metal_mm:
        raise BuildError(
            f"The clevis pin is {p.out_mm:.4g} mm from the bar's end and the trailer's eye needs "
            f"{p.metal_mm:.4g} mm there; set it farther out."
        )
    if p.eye_mm > wide - 1:
        raise BuildError(
            f"The trailer's eye is {p.eye_mm:.4g} mm thick and there are {wide:.4g} mm between the ears; "
            "take a wider bar."
        )


def _ear(b: Build, p: ClevisTongue, beam: Part, pin: Part, at: tuple[str, float]) -> None:
    """One ear on the bar's side, welded all round the lap, with the pin's hole."""
    side, s = at
    bar, plate, d = catalogue.bar(p.bar), catalogue.plate(p.ear), catalogue.bar(p.clevis_pin).width
    t, end, h, r = plate.thickness, -p.reach_mm, p.ear_high_mm / 2, p.metal_mm
    x = end - p.out_mm
    ring = [(x + r * math.cos(k * math.pi / 16), r * math.sin(k * math.pi / 16)) for k in range(32)]
    outline = polygon(
        convex_hull(
            [*(q for q in ring if q[0] < end), (end, h), (end, -h), (end + p.lap_mm, -h), (end + p.lap_mm, h)]
        )
    )
    face = s * bar.width / 2
    ear = b.plate(
        Named("ear", instance=side, paths=("ear", "ear_material", "metal_mm", "out_mm")),
        Plate(
            outline,
            t,
            Place((0.0, max(face, face + s * t), 0.0), X, Z, times(Y, -1)),
            holes=((x, 0.0, d + PLAY),),
        ),
        p.ear_material,
        f"plate {plate.name}",
    )
    b.weld(
        Named("ear weld", instance=side, called=f"{side} ear to bar"),
        beam,
        ear,
        Beads(
            loop(
                Place.facing((end + p.lap_mm / 2, face, 0.0), times(Y, s), X),
                p.lap_mm,
                bar.height,
            ),
            p.weld_mm,
            "weld_mm",
            radius=(0.0, bar.radius, 0.0, bar.radius),
            normal=times(Y, s),
        ),
    )
    b.joint(
        Named("ear hole", instance=side, called=f"pin in the {side} ear"),
        ear,
        pin,
        Place.facing((x, face + s * t / 2, 0.0), Y, X),
        Eye(d, d + PLAY, b.path("metal_mm")),
    )


def _spacers(b: Build, p: ClevisTongue, x: float, pin: float, wide: float) -> None:
    """A ring each side of the eye, so that the ears stay where they are and the eye in the middle."""
    gap = (wide - p.eye_mm) / 2
    if gap < 1.0:
        return
    for side, s in (("left", 1.0), ("right", -1.0)):
        b.turned(
            Named("spacer", instance=side, called=f"spacer {gap:.4g} mm", paths=("eye_mm",)),
            Turned(
                Place.facing((x, s * wide / 2, 0.0), times(Y, -s), X), ((gap, 1.8 * pin, 0),), bore=pin + PLAY
            ),
            "S235",
            f"ring {1.8 * pin:.3g} × {pin + PLAY:.3g} mm",
            rated=False,
        )
    b.note(f"spacers of {gap:.1f} mm each side keep the trailer's eye in the middle of the pin")


def duty(job: Job) -> Job:
    """Tows by its clevis."""
    return job.model_copy(update={"duty": job.duty.model_copy(update={"towed": True, "hitch": "clevis"})})


register(
    Family(
        "clevis-tongue",
        "Clevis tongue",
        ClevisTongue,
        build,
        on="receiver",
        on_host=False,
        does="tow",
        stands_on="rear-receiver",
        offers=("clevis",),
        duty=duty,
        about="Two drilled ears and a pin for a trailer with an eye on its drawbar.",
    )
)
