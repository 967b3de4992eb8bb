"""Shackle insert: a bar in the receiver with an eye for a bow shackle, to pull something out or to be
pulled out.
"""

from __future__ import annotations

import math
from typing import Literal

from urial.assembly.build import Beads, Build, Named, Takes
from urial.assembly.model import LOAD, BuildError, Dimension, Eye
from urial.families.registry import Family, register
from urial.geometry.outline import convex_hull, polygon
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Plate
from urial.job.duty import Recovery
from urial.job.fields import length, stock
from urial.job.model import Design, Job
from urial.pieces.shank import hitch_pin, receiver_for, shank
from urial.stock import catalogue


class ShackleInsert(Design):
    """Parameters of a shackle insert."""

    family: Literal["shackle-insert"] = "shackle-insert"
    bar: str = stock(
        "square 2",
        "bar",
        "bar",
        "Solid bar that slides into the receiver.",
        only="square,rect_tube",
        group="Bar",
    )
    bar_material: str = stock("A572-50", "bar steel", "material", group="Bar")
    past_pin_mm: float = length(45.0, "bar past pin", lo=12, hi=400, group="Bar")
    reach_mm: float = length(
        90.0, "pin to bar's end", "The eye plate begins here.", lo=60, hi=600, group="Bar", lever=True
    )
    eye: str = stock("25 mm", "eye plate", "plate", "As thick as the shackle's jaw takes.", group="Eye")
    eye_material: str = stock("S355", "eye steel", "material", group="Eye")
    hole_mm: float = length(26.0, "eye", lo=8, hi=80, group="Eye")
    pin_mm: float = length(22.0, "shackle's pin", lo=6, hi=78, group="Eye")
    metal_mm: float = length(30.0, "eye's middle to edge", lo=12, hi=150, group="Eye")
    out_mm: float = length(45.0, "bar's end to eye", lo=20, hi=300, group="Eye")
    weld_mm: float = length(12.0, "weld leg", lo=3, hi=25, group="Welds")
    pin_material: str = stock("4140-QT", "hitch pin steel", "material", group="Bar")


def build(p: ShackleInsert, b: Build) -> None:
    """Own axes: the pin's middle is the origin, x runs into the receiver, z up; the eye's plate stands
    upright in the middle.
    """
    bar, plate = catalogue.bar(p.bar), catalogue.plate(p.eye)
    t, high = plate.thickness, bar.height
    if p.pin_mm > p.hole_mm:
        raise BuildError(
            f"A {p.pin_mm:.4g} mm shackle pin does not go into a {p.hole_mm:.4g} mm eye; drill it larger."
        )
    if p.metal_mm < p.hole_mm / 2 + 4:
        raise BuildError(
            f"The eye is {p.hole_mm:.4g} mm and its middle {p.metal_mm:.4g} mm from the edge, which "
            f"leaves no metal round it; make it at least {p.hole_mm:.0f} mm."
        )
    if t + 2 * p.weld_mm > bar.width + 1:
        raise BuildError(
            f"The eye plate ({t:.4g} mm) and two {p.weld_mm:.4g} mm beads are wider than the "
            f"{bar.width:.4g} mm bar's end; take a thinner plate or a smaller weld."
        )
    end, r = -p.reach_mm, p.metal_mm
    beam = shank(
        b,
        Named("bar", called="shackle bar", paths=("bar", "bar_material", "reach_mm")),
        bar,
        p.reach_mm,
        p.past_pin_mm,
        p.bar_material,
    )
    foot = high / 2 - 1
    ring = [
        (end - p.out_mm + r * math.cos(k * math.pi / 16), r * math.sin(k * math.pi / 16)) for k in range(32)
    ]
    outline = polygon(
        convex_hull([*(q for q in ring if q[0] <= end), (end, foot), (end, -foot)])
    )  # round about the eye, straight to the bar
    ear = b.plate(
        Named("eye plate", paths=("eye", "eye_material", "metal_mm", "out_mm")),
        Plate(
            outline,
            t,
            Place((0.0, t / 2, 0.0), X, Z, times(Y, -1)),
            holes=((end - p.out_mm, 0.0, p.hole_mm),),
        ),
        p.eye_material,
        f"plate {plate.name}",
    )
    lines: list[tuple[Vec, Vec]] = [((end, y, -foot), (end, y, foot)) for y in (-t / 2, t / 2)] + [
        ((end, -t / 2, z), (end, t / 2, z)) for z in (-foot, foot)
    ]
    b.weld(
        Named("eye weld", called="eye plate to bar"),
        beam,
        ear,
        Beads(lines, p.weld_mm, "weld_mm", normal=times(X, -1)),
    )
    at = Place.facing((end - p.out_mm, 0.0, 0.0), Y, X)
    b.socket("ring", ear, at, Takes("ring", path="pin_mm"))
    b.joint(Named("ring", called="shackle's eye"), ear, LOAD, at, Eye(p.pin_mm, p.hole_mm))
    hitch_pin(b, receiver_for(bar), p.pin_material)
    b.dimension(
        Dimension("pin to bar's end", (0.0, 0.0, 0.0), (end, 0.0, 0.0), "x", ("side", "top"), "reach_mm")
    )
    b.dimension(
        Dimension(
            "bar's end to eye", (end, 0.0, 0.0), (end - p.out_mm, 0.0, 0.0), "x", ("side", "top"), "out_mm"
        )
    )


def duty(job: Job) -> Job:
    """Somebody is stuck; nothing is towed."""
    return job.model_copy(
        update={
            "duties": (Recovery(title="strap", stuck_kg=900.0),),
            "duty": job.duty.model_copy(update={"towed": False}),
        }
    )


register(
    Family(
        "shackle-insert",
        "Shackle insert",
        ShackleInsert,
        build,
        on="receiver",
        on_host=False,
        does="pull",
        stands_on="rear-receiver",
        offers=("ring",),
        duty=duty,
        about="A bar with an eye for a bow shackle: recovery from any receiver.",
    )
)
