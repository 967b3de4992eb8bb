"""Pintle: a hook built up of plate layers on a base plate and a shank, two flats for a latch, its pivot and
its safety pin.
"""

from __future__ import annotations

from typing import Literal

from urial.assembly.build import Beads, Build, Named, loop
from urial.assembly.model import BuildError, Dimension
from urial.families.registry import Family, register
from urial.geometry.outline import rectangle
from urial.geometry.place import Place, X, Y, Z, times
from urial.geometry.shape import Plate
from urial.job.fields import length, number, stock
from urial.job.model import Design, Job
from urial.pieces.hook import HookSpec, check_hook, hook_on
from urial.pieces.shank import hitch_pin, receiver_for, shank
from urial.stock import catalogue


class Pintle(Design):
    """Parameters of a pintle hook."""

    family: Literal["pintle"] = "pintle"
    shank: str = stock("square 2", "shank", "bar", only="square,rect_tube", group="Shank")
    shank_material: str = stock("A572-50", "shank steel", "material", group="Shank")
    past_pin_mm: float = length(45.0, "bar past pin", lo=12, hi=400, group="Shank")
    reach_mm: float = length(
        95.0,
        "pin to base plate",
        "Hitch pin to the plate the hook stands on.",
        lo=60,
        hi=600,
        group="Shank",
        lever=True,
    )
    base: str = stock("1", "base plate", "plate", group="Base")
    base_wide_mm: float = length(110.0, "base wide", lo=50, hi=400, group="Base")
    ring_mm: float = length(
        32.0,
        "lunette's bar",
        "Diameter of the ring's own bar, where it hangs in the hook.",
        lo=12,
        hi=70,
        group="Hook",
    )
    layer: str = stock("1/2", "layer", "plate", group="Hook")
    layers: float = number(
        3, "layers", "Clamped, ground alike and welded along all their edges.", lo=1, hi=6, group="Hook"
    )
    steel: str = stock("A572-50", "hook and base steel", "material", group="Hook")
    deep_mm: float = length(
        42.0, "metal under the seat", "And before it, in the horn.", lo=12, hi=150, group="Hook"
    )
    back_mm: float = length(40.0, "base to seat", "Metal behind the ring.", lo=15, hi=200, group="Hook")
    latch: str = stock("1/4", "latch flats", "plate", "Two of them, one each side.", group="Latch")
    latch_high_mm: float = length(30.0, "latch high", lo=12, hi=100, group="Latch")
    latch_pin: str = stock("round 1/2", "pivot and safety pin", "bar", only="round_bar", group="Latch")
    latch_pin_material: str = stock("1045-HR", "their steel", "material", group="Latch")
    weld_mm: float = length(8.0, "weld leg", lo=3, hi=25, group="Welds")
    pin_material: str = stock("4140-QT", "hitch pin steel", "material", group="Shank")


def build(p: Pintle, b: Build) -> None:
    """Own axes: the hitch pin's middle is the origin, x runs into the receiver, z up; the hook opens
    upward.
    """
    bar, base = catalogue.bar(p.shank), catalogue.plate(p.base)
    hook = HookSpec(
        catalogue.plate(p.layer),
        int(p.layers),
        p.steel,
        p.ring_mm,
        p.deep_mm,
        p.back_mm,
        catalogue.plate(p.latch),
        p.latch_high_mm,
        catalogue.bar(p.latch_pin),
        p.latch_pin_material,
        p.weld_mm,
    )
    top, low = hook.top, hook.low
    check_hook(hook)
    if p.base_wide_mm < max(bar.width, hook.wide) + 2 * p.weld_mm + 8:
        raise BuildError(
            f"The base is {p.base_wide_mm:.4g} mm wide and shank or hook with their welds take "
            f"{max(bar.width, hook.wide) + 2 * p.weld_mm + 8:.0f} mm; make it wider."
        )
    beam = shank(
        b,
        Named("shank", paths=("shank", "shank_material", "reach_mm")),
        bar,
        p.reach_mm,
        p.past_pin_mm,
        p.shank_material,
    )
    face = -p.reach_mm - base.thickness
    half, margin = p.base_wide_mm / 2, 2 * p.weld_mm + 4
    board = b.plate(
        Named("base plate", paths=("base", "steel", "base_wide_mm")),
        Plate(
            rectangle(-half, min(low, -bar.height / 2) - margin, half, max(top, bar.height / 2) + margin),
            base.thickness,
            Place((face, 0.0, 0.0), Y, Z, X),
        ),
        p.steel,
        f"plate {base.name}",
    )
    b.weld(
        Named("base weld", called="shank to base plate"),
        beam,
        board,
        Beads(
            loop(Place.facing((-p.reach_mm, 0.0, 0.0), times(X, -1), Y), bar.width, bar.height, bar.radius),
            p.weld_mm,
            "weld_mm",
            normal=times(X, -1),
        ),
    )
    seat = hook_on(b, board, hook, (face, 0.0, 0.0), "hook")
    b.note(
        "clamp the layers, grind them alike, weld along all their edges, then to the base; look at the "
        "safety pin's clip before every trip"
    )
    hitch_pin(b, receiver_for(bar), p.pin_material)
    b.places.update(ball=seat)
    b.dimension(
        Dimension(
            "pin to base plate", (0.0, 0.0, 0.0), (-p.reach_mm, 0.0, 0.0), "x", ("side", "top"), "reach_mm"
        )
    )
    b.dimension(
        Dimension(
            "base to seat", (face, 0.0, 0.0), (face - p.back_mm, 0.0, 0.0), "x", ("side", "top"), "back_mm"
        )
    )
    b.dimension(
        Dimension(
            "metal under the seat",
            (seat[0], 0.0, low),
            (seat[0], 0.0, -hook.radius),
            "z",
            ("side",),
            "deep_mm",
        )
    )


def duty(job: Job) -> Job:
    """Tows by its pintle."""
    return job.model_copy(update={"duty": job.duty.model_copy(update={"towed": True, "hitch": "pintle"})})


register(
    Family(
        "pintle",
        "Pintle",
        Pintle,
        build,
        on="receiver",
        on_host=False,
        does="tow",
        stands_on="rear-receiver",
        offers=("hook",),
        duty=duty,
        about="A hook of plate layers with a latch, for a trailer with a lunette: rough ground.",
    )
)
