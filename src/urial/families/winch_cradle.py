"""Winch cradle: a floor plate along the top of a shank, the winch's own bolt pattern in it, a fairlead plate
standing on its edge.
"""

from __future__ import annotations

from typing import Literal

from urial.assembly.build import Beads, Build, Named
from urial.assembly.model import BuildError, Dimension
from urial.families.registry import Family, register
from urial.geometry.outline import rectangle
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Plate
from urial.job.duty import Winch
from urial.job.fields import choice, length, mass, stock
from urial.job.model import Design, Job
from urial.pieces.hardware import BoltSpec
from urial.pieces.shank import hitch_pin, receiver_for, shank
from urial.pieces.winch import LeadSpec, WinchSpec, check_pattern, fairlead, pattern, winch_on
from urial.stock import catalogue


class WinchCradle(Design):
    """Parameters of a winch cradle."""

    family: Literal["winch-cradle"] = "winch-cradle"
    shank: str = stock(
        "square 2",
        "shank",
        "bar",
        "Bar or tube that slides into the receiver, under the whole floor plate.",
        only="square,rect_tube",
        group="Shank",
    )
    shank_material: str = stock("A572-50", "shank steel", "material", group="Shank")
    past_pin_mm: float = length(45.0, "bar past pin", lo=12, hi=400, group="Shank")
    reach_mm: float = length(
        85.0,
        "pin to plate",
        "Hitch pin to the floor plate's front edge.",
        lo=60,
        hi=600,
        group="Shank",
        lever=True,
    )
    floor: str = stock(
        "1/2", "floor plate", "plate", "It bends between the shank and the winch's bolts.", group="Floor"
    )
    floor_material: str = stock("A572-50", "floor steel", "material", group="Floor")
    floor_long_mm: float = length(190.0, "floor long", "Along the vehicle.", lo=80, hi=700, group="Floor")
    floor_wide_mm: float = length(330.0, "floor wide", lo=80, hi=1000, group="Floor")
    winch_kg: float = mass(18.0, "winch", "Weigh it with its rope.", lo=1, hi=200, group="Winch")
    drum_up_mm: float = length(
        75.0, "drum above feet", "Feet to the rope on the drum.", lo=20, hi=300, group="Winch"
    )
    drum_long_mm: float = length(230.0, "drum long", lo=30, hi=800, group="Winch")
    across_mm: float = length(
        254.0, "winch bolts, across", "Its pattern, between middles.", lo=30, hi=900, group="Winch"
    )
    along_mm: float = length(114.3, "winch bolts, along", "0: one row of bolts.", lo=0, hi=500, group="Winch")
    winch_bolt: str = stock("M10", "winch bolts", "bolt", group="Winch")
    winch_grade: str = stock("8.8", "winch bolt grade", "bolt grade", group="Winch")
    threads_in_plane: bool = choice(True, "threads in the shear plane", group="Winch")
    lead: str = stock("1/4", "fairlead plate", "plate", group="Fairlead")
    lead_material: str = stock("A36", "fairlead steel", "material", group="Fairlead")
    lead_high_mm: float = length(130.0, "fairlead plate high", lo=40, hi=500, group="Fairlead")
    window_mm: float = length(70.0, "rope's window", lo=12, hi=250, group="Fairlead")
    lead_bolts_mm: float = length(254.0, "fairlead's bolts apart", lo=30, hi=800, group="Fairlead")
    weld_mm: float = length(5.0, "weld leg", lo=3, hi=20, group="Welds")
    pin_material: str = stock("4140-QT", "hitch pin steel", "material", group="Shank")


def build(p: WinchCradle, b: Build) -> None:
    """Own axes: the hitch pin's middle is the origin, x runs into the receiver, z up; the rope leaves
    rearward.
    """
    bar, floor = catalogue.bar(p.shank), catalogue.plate(p.floor)
    spec = WinchSpec(p.winch_kg, p.drum_up_mm, p.drum_long_mm, p.across_mm, p.along_mm)
    front, back, top = -p.reach_mm, -p.reach_mm - p.floor_long_mm, bar.height / 2 + floor.thickness
    half = p.floor_wide_mm / 2
    bolts = BoltSpec(catalogue.bolt(p.winch_bolt), catalogue.bolt_grade(p.winch_grade), p.threads_in_plane)
    lead = catalogue.plate(p.lead)
    x = (front + back + lead.thickness) / 2  # midway between the front edge and the fairlead
    spots = pattern(spec, x)
    check_pattern(spec, spots, ((back + lead.thickness, -half, 0.0), (front, half, 0.0)), bolts.bolt.diameter)
    if p.across_mm < bar.width + 2 * p.weld_mm + bolts.bolt.washer_od:
        raise BuildError(
            f"The winch's bolts are {p.across_mm:.4g} mm apart and fall on the {bar.width:.4g} mm shank and "
            "its welds, where no nut goes on; turn the winch or take a narrower shank."
        )
    beam = shank(
        b,
        Named("shank", paths=("shank", "shank_material", "reach_mm")),
        bar,
        -back,
        p.past_pin_mm,
        p.shank_material,
    )
    plate = b.plate(
        Named("floor plate", paths=("floor", "floor_material", "floor_long_mm", "floor_wide_mm")),
        Plate(
            rectangle(back, -half, front, half),
            floor.thickness,
            Place((0.0, 0.0, bar.height / 2), X, Y, Z),
            holes=tuple((u, v, bolts.bolt.hole) for u, v in spots),
        ),
        p.floor_material,
        f"plate {floor.name}",
    )
    z, w = bar.height / 2, bar.width / 2
    lines: list[tuple[Vec, Vec]] = [((back, y, z), (front, y, z)) for y in (-w, w)]
    ends: list[tuple[Vec, Vec]] = [((back, -w, z), (back, w, z))] if bar.radius == 0 else []
    b.weld(
        Named("floor weld", called="floor plate to shank"),
        beam,
        plate,
        Beads([*lines, *ends], p.weld_mm, "weld_mm", radius=(bar.radius, bar.radius, *(0.0 for _ in ends))),
    )
    winch_on(b, plate, spec, (x, 0.0, top), bolts)
    fairlead(
        b,
        plate,
        LeadSpec(
            lead, p.lead_material, p.floor_wide_mm, p.lead_high_mm, p.window_mm, p.lead_bolts_mm, p.weld_mm
        ),
        (back, 0.0, top),
        times(X, -1),
        p.drum_up_mm,
    )
    hitch_pin(b, receiver_for(bar), p.pin_material)
    b.dimension(Dimension("pin to plate", (0.0, 0.0, 0.0), (front, 0.0, z), "x", ("side", "top"), "reach_mm"))
    b.dimension(
        Dimension("floor long", (front, half, z), (back, half, z), "x", ("side", "top"), "floor_long_mm")
    )
    b.dimension(
        Dimension("floor wide", (back, half, z), (back, -half, z), "y", ("rear", "top"), "floor_wide_mm")
    )
    b.dimension(
        Dimension(
            "drum above feet",
            (x, half, top),
            (x, half, top + p.drum_up_mm),
            "z",
            ("side", "rear"),
            "drum_up_mm",
            "high",
        )
    )
    b.note("the rope runs straight from drum to fairlead; what it turns there presses on the fairlead plate")


def duty(job: Job) -> Job:
    """A winch of 12 kN on its cradle; nothing towed."""
    return job.model_copy(
        update={
            "duties": (Winch(title="winch", rated_N=12_000.0),),
            "duty": job.duty.model_copy(update={"towed": False}),
        }
    )


register(
    Family(
        "winch-cradle",
        "Winch cradle",
        WinchCradle,
        build,
        on="receiver",
        on_host=False,
        does="pull",
        stands_on="rear-receiver",
        offers=("winch",),
        duty=duty,
        about="A winch that goes into any receiver, front or rear, with its fairlead.",
    )
)
