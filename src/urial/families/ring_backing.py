"""Ring backing: a bought ring in a pocket of a timber deck, bolted to a plate that spreads its pull."""

from __future__ import annotations

import math
from typing import Literal

from urial.assembly.build import Build, Named, Takes
from urial.assembly.model import HOST, Backing, Bolts, BuildError, Contact, Dimension, Metal, Recess
from urial.families.registry import Family, register
from urial.geometry.outline import rectangle
from urial.geometry.place import Place, X, Y, Z, times
from urial.geometry.shape import Plate, Turned
from urial.job.duty import Anchor, Link
from urial.job.fields import length, mass, number, stock
from urial.job.model import Design, Job
from urial.mates.host import HostSocket
from urial.pieces.hardware import BoltSpec, fasten
from urial.stock import catalogue

TIMBER, SOURCE = 2.5, "EN 338 C24, 2.5 MPa characteristic"
"""Softwood across its grain; the deck's own class may be better and was not asked."""
FLANGE = 4.0
"""A ring pan's flange is taken as so thick, mm."""


class RingBacking(Design):
    """Parameters of a tie-down ring with its backing plate."""

    family: Literal["ring-backing"] = "ring-backing"
    along_mm: float = length(600.0, "behind the bed's front", lo=50, hi=15_000, group="Place")
    across_mm: float = length(
        420.0, "left of the middle", "Negative: right of it.", lo=-1500, hi=1500, group="Place"
    )
    timber_mm: float = length(38.0, "deck thick", "Drill once and measure.", lo=12, hi=150, group="Place")
    pan_mm: float = length(100.0, "pocket across", "The bought ring's pan.", lo=30, hi=300, group="Ring")
    pocket_mm: float = length(
        18.0, "pocket deep", "So that the ring lies under the deck's face.", lo=2, hi=120, group="Ring"
    )
    pass_mm: float = length(6.0, "router takes at once", "Depth of one pass.", lo=1, hi=40, group="Ring")
    ring_kg: float = mass(0.7, "ring with its pan", lo=0.05, hi=20, group="Ring")
    pattern_mm: float = length(
        52.0, "its bolts apart", "Square pattern, between middles.", lo=15, hi=250, group="Ring"
    )
    rated_kg: float = mass(
        550.0, "ring marked with", "Its working load limit, as stamped.", lo=5, hi=20_000, group="Ring"
    )
    plate: str = stock("6 mm", "backing plate", "plate", group="Plate")
    plate_material: str = stock("S235", "plate steel", "material", group="Plate")
    plate_long_mm: float = length(150.0, "plate long", lo=30, hi=800, group="Plate")
    plate_wide_mm: float = length(150.0, "plate wide", lo=30, hi=800, group="Plate")
    bolts: float = number(4, "bolts", "Two or four.", lo=2, hi=4, group="Bolts")
    bolt: str = stock("M8", "bolts' thread", "bolt", group="Bolts")
    bolt_grade: str = stock("8.8", "bolt grade", "bolt grade", group="Bolts")


def build(p: RingBacking, b: Build, deck: HostSocket) -> None:
    """Host axes: the ring in the deck's top, the plate against its underside."""
    x, y, top = deck.place.o[0] - p.along_mm, p.across_mm, deck.place.o[2]
    bolts = BoltSpec(catalogue.bolt(p.bolt), catalogue.bolt_grade(p.bolt_grade), True)
    half = p.pattern_mm / 2
    spots = [(x + u, y + v) for u in (-half, half) for v in (-half, half)]
    if int(p.bolts) < 4:
        spots = [spots[0], spots[3]]
    _fits(p, bolts.bolt.hole, half)
    sheet, under = catalogue.plate(p.plate), top - p.timber_mm
    plate = b.plate(
        Named("backing plate", paths=("plate", "plate_long_mm", "plate_wide_mm")),
        Plate(
            rectangle(
                x - p.plate_long_mm / 2,
                y - p.plate_wide_mm / 2,
                x + p.plate_long_mm / 2,
                y + p.plate_wide_mm / 2,
                8.0,
            ),
            sheet.thickness,
            Place((0.0, 0.0, under - sheet.thickness), X, Y, Z),
            holes=tuple((u, v, bolts.bolt.hole) for u, v in spots),
        ),
        p.plate_material,
        f"plate {sheet.name}",
    )
    floor = top - p.pocket_mm
    drawn = min(math.sqrt(4 * p.ring_kg / (math.pi * 7850e-9 * p.pocket_mm)), p.pan_mm)  # as heavy as it is
    ring = b.turned(
        Named("ring", called="recessed ring", paths=("pan_mm", "ring_kg")),
        Turned(Place((x, y, floor), X, Y, Z), ((p.pocket_mm, drawn, 0),)),
        "S235",
        f"bought, {p.rated_kg:.4g} kg",
    )
    face = Place.facing((x, y, under), times(Z, -1), X)
    b.joint(
        Named("ring bolts"),
        plate,
        ring,
        face,
        Bolts(
            tuple(face.local((u, v, under))[:2] for u, v in spots),
            bolts.bolt.hole,
            (bolts.bolt.hole,) * len(spots),
            bolts.bolt,
            bolts.grade,
            True,
            (Metal(catalogue.material("S235"), FLANGE),) * len(spots),
            path=b.path("bolt"),
        ),
    )
    grip = p.timber_mm - p.pocket_mm + FLANGE + sheet.thickness
    fasten(b, [((u, v, floor + FLANGE), times(Z, -1)) for u, v in spots], grip, bolts)
    area = p.plate_long_mm * p.plate_wide_mm - len(spots) * math.pi * bolts.bolt.hole**2 / 4
    over = max(p.plate_long_mm, p.plate_wide_mm) / 2 - half
    b.joint(
        Named("under the deck", called="backing plate under the deck"),
        plate,
        HOST,
        Place.facing((x, y, under), Z, X),
        Backing(area, TIMBER, SOURCE, over, path=b.path("plate_long_mm")),
    )
    b.joint(
        Named("pocket", called="ring's pan in its pocket"),
        ring,
        HOST,
        Place((x, y, floor + p.pocket_mm / 2), X, Y, Z),
        Recess(p.pan_mm, p.pocket_mm, TIMBER, SOURCE, b.path("pocket_mm")),
    )
    b.joint(
        Named("pocket floor", called="ring's pan on its pocket's floor"),
        ring,
        HOST,
        Place.facing((x, y, floor), times(Z, -1), X),
        Contact(0.0, area=math.pi * p.pan_mm**2 / 4, limit=TIMBER, source=SOURCE),
    )
    b.socket("ring", ring, Place((x, y, top), X, Y, Z), Takes("ring", rating_kg=p.rated_kg, path="rated_kg"))
    passes = math.ceil(p.pocket_mm / p.pass_mm - 1e-9)
    b.note(
        f"rout the pocket {p.pan_mm:.0f} mm across and {p.pocket_mm:.4g} mm deep in {passes} passes of "
        f"{p.pocket_mm / passes:.3g} mm, then drill from above; "
        f"{p.timber_mm - p.pocket_mm:.4g} mm of board is left"
    )
    b.plug("timber deck", plate, Place())
    b.dimension(
        Dimension(
            "behind the bed's front", (deck.place.o[0], y, top), (x, y, top), "x", ("side", "top"), "along_mm"
        )
    )
    b.dimension(
        Dimension("left of the middle", (x, 0.0, top), (x, y, top), "y", ("rear", "top"), "across_mm")
    )
    b.dimension(
        Dimension(
            "plate long",
            (x - p.plate_long_mm / 2, y, under),
            (x + p.plate_long_mm / 2, y, under),
            "x",
            ("side", "top"),
            "plate_long_mm",
            row=1,
        )
    )


def _fits(p: RingBacking, hole: float, half: float) -> None:
    if p.pocket_mm > 0.6 * p.timber_mm:
        raise BuildError(
            f"A pocket {p.pocket_mm:.4g} mm deep leaves {p.timber_mm - p.pocket_mm:.4g} mm of a "
            f"{p.timber_mm:.4g} mm board; leave at least two fifths of it."
        )
    if p.pattern_mm * math.sqrt(2) + hole > p.pan_mm + 4:
        raise BuildError(
            f"The ring's bolts, {p.pattern_mm:.4g} mm apart, fall outside its {p.pan_mm:.4g} mm pan; "
            "measure the pattern again."
        )
    least = min(p.plate_long_mm, p.plate_wide_mm) / 2 - half
    if least < 1.5 * hole:
        raise BuildError(
            f"The backing plate leaves {least:.0f} mm beside the ring's bolts; make it at least "
            f"{2 * (half + 1.5 * hole):.0f} mm each way."
        )


def duty(job: Job) -> Job:
    """A lashing of 1.6 kN, straight up and to every side."""
    turned = {
        "pull up/rise": 75.0,
        "pull left/turn": 80.0,
        "pull right/turn": -80.0,
        "pull left/rise": 30.0,
        "pull right/rise": 30.0,
        "pull down/rise": 0.0,
    }
    strap = Link(name="lashing strap", what="strap", limit_N=25_000.0)
    return job.model_copy(
        update={
            "duties": (Anchor(title="lashing", pull_N=1_600.0, legs="1", links=(strap,), factors=turned),),
            "duty": job.duty.model_copy(update={"towed": False}),
        }
    )


register(
    Family(
        "ring-backing",
        "Ring backing",
        RingBacking,
        build,
        on="timber deck",
        on_host=True,
        does="hold",
        host="trailer",
        offers=("ring",),
        duty=duty,
        about="A tie-down ring let into a timber deck, a plate under it that spreads the pull.",
    )
)
