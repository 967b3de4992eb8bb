"""Bought, salvaged or copied insert: measured as it is, its bar in the receiver judged, itself held to its
rating; where nobody gives it one, that is said.
"""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Literal

from urial.assembly.build import Build, Named, Takes
from urial.assembly.model import BuildError, Dimension, Part, Seat
from urial.families.registry import Family, register
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Bar, Hole, Turned
from urial.job.duty import Carrier, Item
from urial.job.fields import choice, length, mass, maybe_mass, number, stock
from urial.job.model import Design, Job
from urial.pieces.bought import UNKNOWN, Metal, as_its_metal_is, metal_of, note_unknown
from urial.pieces.shank import hitch_pin, receiver_for, shank
from urial.stock import catalogue
from urial.stock.catalogue import StockSection
from urial.stock.drills import nearest_drill


class BoughtInsert(Design):
    """What is measured of a bought, salvaged or copied insert."""

    family: Literal["bought-insert"] = "bought-insert"
    takes: Literal["deck", "ring", "ball", "hook", "receiver"] = choice(
        "deck",
        "is for",
        words={
            "deck": "carrying",
            "ring": "a rope or shackle",
            "ball": "towing on its ball",
            "hook": "towing on its hook",
            "receiver": "another insert: it has a bore",
        },
        group="Piece",
    )
    metal: Metal = metal_of()
    bore: str = stock("2", "its bore", "receiver", "Of a piece with a bore of its own.", group="Piece")
    bore_deep_mm: float = length(
        90.0, "bore, mouth to pin", "Of a piece with a bore of its own.", lo=20, hi=400, group="Piece"
    )
    kg: float = mass(14.0, "mass", "Weigh it, bar and all.", lo=0.5, hi=300, group="Piece")
    rated_kg: float | None = maybe_mass(
        "stamped or sold for",
        "Its own rating: what it carries, pulls or tows. Empty: none, and nothing judges the piece itself.",
        lo=1,
        group="Piece",
    )
    out_mm: float = length(
        260.0, "pin to the load", "Hitch pin to where the load acts, outward.", lo=40, hi=1500, group="Piece"
    )
    up_mm: float = length(
        60.0,
        "load above the bar",
        "The bar's middle to where the load acts.",
        lo=-400,
        hi=1000,
        group="Piece",
    )
    cut_mm: float = length(
        0.0,
        "cut off its bar",
        "What has been sawn off; a cut piece is no longer what its rating was given for.",
        lo=0,
        hi=500,
        group="Piece",
    )
    scale: float = number(
        1.0,
        "copied at",
        "1: as it is. A copy k times as large is k² as strong and k³ as heavy, by the same steel.",
        lo=0.2,
        hi=3.0,
        group="Piece",
    )
    bar: str = stock(
        "2x2x1/4", "its bar", "bar", "As the calliper finds it.", only="square,rect_tube", group="Bar"
    )
    steel: Literal["unknown", "known"] = choice(
        "unknown",
        "steel of the bar",
        "Unknown steel is taken as the lowest structural grade.",
        words={"unknown": "unknown", "known": "known"},
        group="Bar",
    )
    bar_material: str = stock("A500-B", "which", "material", "Where it is known.", group="Bar")
    past_pin_mm: float = length(40.0, "bar past pin", lo=12, hi=400, group="Bar")
    bar_mm: float = length(
        150.0, "pin to the bar's end", "Where the rest of it begins.", lo=70, hi=900, group="Bar"
    )
    old_hole_mm: float = length(
        0.0, "old hole in it", "0: none. An offcut that was drilled before.", lo=0, hi=60, group="Bar"
    )
    old_hole_at_mm: float = length(
        80.0, "pin to that hole", "Outward along the bar.", lo=5, hi=900, group="Bar"
    )
    old_hole_through: Literal["sides", "top"] = choice(
        "top", "it goes through", words={"sides": "its sides", "top": "top and bottom"}, group="Bar"
    )
    pin_material: str = stock("4140-QT", "hitch pin steel", "material", group="Bar")


def build(p: BoughtInsert, b: Build) -> None:
    """Own axes: the hitch pin's middle is the origin, x runs into the receiver, z up."""
    bar = catalogue.bar(p.bar)
    if p.out_mm < p.bar_mm - 30:
        raise BuildError(
            f"The load acts {p.out_mm:.4g} mm from the pin and the bar ends at {p.bar_mm:.4g} mm; "
            "measure both again."
        )
    steel = p.bar_material if p.steel == "known" else UNKNOWN
    beam = shank(
        b,
        Named("bar", called="bought piece's bar", paths=("bar", "bar_mm")),
        bar,
        p.bar_mm,
        p.past_pin_mm,
        steel,
    )
    if p.old_hole_mm > 0:
        beam = _drilled(b, p, beam, bar)
    own = (bar.section().area * (p.bar_mm + p.past_pin_mm)) * 7850e-9
    rest = max(p.kg * p.scale**3 - own, 0.2)
    side = (4 * rest / (math.pi * 7850e-9)) ** (1 / 3)  # drawn as a round block of the rest of its mass
    at: Vec = (-p.out_mm, 0.0, p.up_mm)
    cut = p.cut_mm > 0
    stands = p.rated_kg is not None and not cut
    rated = p.rated_kg * p.scale**2 if p.rated_kg is not None and stands else None
    body = b.turned(
        Named("bought piece", paths=("rated_kg", "kg")),
        Turned(Place((-p.bar_mm - side / 2, 0.0, -side / 2), X, Y, Z), ((side, side, 0),)),
        UNKNOWN,
        f"bought, {'rated ' + format(rated, '.4g') + ' kg' if rated else 'no rating'}",
        rated=stands,
    )
    b.joint(
        Named("held", called="the bought piece on its own bar"),
        beam,
        body,
        Place.facing((-p.bar_mm, 0.0, 0.0), times(X, -1), Y),
        Seat((True, True, True), (True, True, True)),
    )
    if p.takes == "receiver":  # its bore looks outward from where the load would act
        way = Place(at, Z, Y, times(X, -1))
        deep = (p.bore_deep_mm, min(p.bore_deep_mm, p.out_mm / 2))
        b.socket(
            "receiver", body, way, Takes("receiver", size=p.bore, rating_kg=rated, bore=deep, path="rated_kg")
        )
    else:
        b.socket("load", body, Place(at, X, Y, Z), Takes(p.takes, rating_kg=rated, path="rated_kg"))
    if p.takes in ("ball", "hook"):
        b.places.update(ball=at)
    as_its_metal_is(b, p.metal, (beam, body))
    hitch_pin(b, receiver_for(bar), p.pin_material)
    if p.steel == "unknown":
        note_unknown(b, "the bar's steel")
    if cut:
        b.warn(
            f"{p.cut_mm:.4g} mm have been cut off the bought piece's bar; its rating was given for the whole "
            "piece and is not counted."
        )
    if abs(p.scale - 1) > 1e-6:
        k = p.scale
        holes = "drill its holes to the next standard size, not to the scaled one."
        if p.old_hole_mm > 0:
            holes = (
                f"its {p.old_hole_mm:.4g} mm hole would be {p.old_hole_mm * k:.4g} mm and is drilled "
                f"{_hole(p, bar):.4g} mm, the nearest drill."
            )
        b.warn(
            f"Copied at {k:.4g} times its size: its strength goes with {k**2:.3g}, its mass with {k**3:.3g}; "
            f"{holes}"
        )
    b.dimension(
        Dimension(
            "pin to the bar's end", (0.0, 0.0, 0.0), (-p.bar_mm, 0.0, 0.0), "x", ("side", "top"), "bar_mm"
        )
    )
    b.dimension(
        Dimension(
            "pin to the load", (0.0, 0.0, 0.0), (-p.out_mm, 0.0, 0.0), "x", ("side", "top"), "out_mm", row=1
        )
    )


def _hole(p: BoughtInsert, bar: StockSection) -> float:
    """The old hole as it is; in a copy the scaled one as it can be drilled, mm."""
    if abs(p.scale - 1) < 1e-6:
        return p.old_hole_mm
    return nearest_drill(p.old_hole_mm * p.scale, bar.system)


def _drilled(b: Build, p: BoughtInsert, beam: Part, bar: StockSection) -> Part:
    """Its bar with the hole it came with."""
    if p.old_hole_at_mm > p.bar_mm - p.old_hole_mm:
        raise BuildError(
            f"The old hole is {p.old_hole_at_mm:.4g} mm from the pin and the bar ends at {p.bar_mm:.4g} mm; "
            "measure both again."
        )
    wide, size = bar.width if p.old_hole_through == "top" else bar.height, _hole(p, bar)
    if size > wide - 2 * bar.wall - 2:
        raise BuildError(
            f"An old hole of {size:.4g} mm leaves nothing of a bar {wide:.4g} mm wide; measure it again."
        )
    assert isinstance(beam.shape, Bar)
    hole = Hole((-p.old_hole_at_mm, 0.0, 0.0), Z if p.old_hole_through == "top" else Y, size)
    made = replace(beam, shape=replace(beam.shape, cuts=(*beam.shape.cuts, hole)))
    b.parts[beam.key] = made
    return made


def duty(job: Job) -> Job:
    """A vice and a small anvil on it."""
    items = (
        Item(
            name="vice and anvil",
            kg=62.0,
            behind_mm=190.0,
            above_mm=120.0,
            long_mm=260.0,
            wide_mm=200.0,
            high_mm=220.0,
        ),
    )
    return job.model_copy(
        update={
            "duties": (Carrier(title="vice", items=items),),
            "duty": job.duty.model_copy(update={"towed": False}),
        }
    )


register(
    Family(
        "bought-insert",
        "Bought or salvaged insert",
        BoughtInsert,
        build,
        on="receiver",
        on_host=False,
        does="carry",
        stands_on="rear-receiver",
        offers=("deck", "ring", "ball", "hook", "receiver"),
        duty=duty,
        about="A piece you have already: measured, weighed, held to its stamp, or said to have none.",
    )
)
