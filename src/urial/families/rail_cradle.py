"""Rail cradle: a J of mitred square tube across a trailer's rail, held by a pair of angles over the rail
and a flat under it.
"""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Literal

from urial.assembly.build import Beads, Build, Named, Takes, loop
from urial.assembly.model import HOST, BentBy, BuildError, Clamp, Dimension, HostBar, Part
from urial.families.registry import Family, register
from urial.geometry.outline import rectangle
from urial.geometry.path import Line
from urial.geometry.place import Place, Vec, X, Y, Z, add, along, times, unit
from urial.geometry.shape import Bar, Capped, Hole, Mitre, Plate
from urial.job.duty import Carrier, Item
from urial.job.fields import choice, force, length, number, stock
from urial.job.model import Design, Job
from urial.mates.host import HostSocket
from urial.pieces.hardware import BoltSpec, fasten
from urial.stock import catalogue
from urial.units import STANDARD_GRAVITY


class RailCradle(Design):
    """Parameters of one cradle."""

    family: Literal["rail-cradle"] = "rail-cradle"
    side: Literal["left", "right"] = choice(
        "left", "on the rail", words={"left": "left", "right": "right"}, group="Place"
    )
    along_mm: float = length(
        700.0,
        "from the bed's front",
        "Front end of the rail to the cradle's middle; slide it along.",
        lo=0,
        hi=15_000,
        group="Place",
    )
    tube: str = stock("40x40x3", "tube", "bar", only="rect_tube", group="J")
    tube_material: str = stock("S235", "tube steel", "material", group="J")
    base_mm: float = length(
        420.0, "base", "Corner to corner, on the tube's middle line.", lo=120, hi=1500, group="J"
    )
    outboard_mm: float = length(
        210.0,
        "base beyond the rail",
        "Rail's middle to the outer corner, outward.",
        lo=0,
        hi=1200,
        group="J",
        lever=True,
    )
    high_mm: float = length(420.0, "upright", "Corner to its top.", lo=60, hi=1500, group="J")
    lean_deg: float = number(12.0, "upright leans out", lo=-20, hi=45, kind="angle", group="J")
    lip_mm: float = length(140.0, "lip", "Corner to its top.", lo=30, hi=800, group="J")
    lip_lean_deg: float = number(25.0, "lip leans in", lo=0, hi=60, kind="angle", group="J")
    angle: str = stock("L 50x50x6", "clamp angle", "bar", only="angle", group="Clamp")
    clamp_material: str = stock("S235", "clamp steel", "material", group="Clamp")
    flat: str = stock("10 mm", "flat under the rail", "plate", group="Clamp")
    bolt: str = stock("M10", "clamp bolts", "bolt", group="Clamp")
    bolt_grade: str = stock("8.8", "bolt grade", "bolt grade", group="Clamp")
    tight: float = number(
        35.0,
        "tightened to",
        "Share of the bolt's proof load. More grips better and bends the flat more.",
        lo=5,
        hi=75,
        kind="percent",
        group="Clamp",
    )
    friction: float = number(
        0.2,
        "friction on the rail",
        "0.2 painted steel, 0.3 bare and clean; nothing oily.",
        lo=0.05,
        hi=0.5,
        group="Clamp",
    )
    strap_N: float = force(
        3500.0,
        "strap over the load holds",
        "Its working limit: a third of what it breaks at. It goes from the upright's top to the lip's, one "
        "on each cradle.",
        lo=50,
        hi=100_000,
        group="Strap",
    )
    weld_mm: float = length(4.0, "weld leg", lo=2, hi=12, group="Welds")


def build(p: RailCradle, b: Build, rail: HostSocket) -> None:
    """Host axes: the base lies across the rail's top, the upright outward."""
    held = rail.the_line()
    wide, high, back, front = held.width, held.height, held.a, held.b
    if p.along_mm > front[0] - back[0]:
        raise BuildError(
            f"The cradle is {p.along_mm:.0f} mm behind the front of a rail {front[0] - back[0]:.0f} "
            "mm long; bring it forward."
        )
    s = 1.0 if p.side == "left" else -1.0
    tube, x = catalogue.bar(p.tube), front[0] - p.along_mm
    y, top = s * abs(front[1]), front[2] + high / 2
    middle = top + tube.height / 2
    outer: Vec = (x, y + s * p.outboard_mm, middle)
    inner: Vec = (x, outer[1] - s * p.base_mm, middle)
    angle, _bolt = catalogue.bar(p.angle), catalogue.bolt(p.bolt)
    _fits(p, wide, abs(s * (y - inner[1])), angle.width)
    tilt, tilt_in = math.radians(90 - p.lean_deg) / 2, math.radians(90 - p.lip_lean_deg) / 2
    base = b.bar(
        Named("base", paths=("tube", "tube_material", "base_mm")),
        Bar(tube, Line(inner, outer), end_i=Mitre(tilt_in), end_j=Mitre(tilt)),
        p.tube_material,
    )
    up = (0.0, s * math.sin(math.radians(p.lean_deg)), math.cos(math.radians(p.lean_deg)))
    lip_up = (0.0, -s * math.sin(math.radians(p.lip_lean_deg)), math.cos(math.radians(p.lip_lean_deg)))
    upright = b.bar(
        Named("upright", paths=("tube", "high_mm")),
        Bar(
            tube,
            Line(outer, along(outer, up, p.high_mm)),
            up=(0.0, -s, 0.0),
            end_i=Mitre(tilt),
            end_j=Capped(3.0),
        ),
        p.tube_material,
    )
    lip = b.bar(
        Named("lip", paths=("tube", "lip_mm")),
        Bar(
            tube,
            Line(inner, along(inner, lip_up, p.lip_mm)),
            up=(0.0, s, 0.0),
            end_i=Mitre(tilt_in),
            end_j=Capped(3.0),
        ),
        p.tube_material,
    )
    for name, part, corner, way, out, half in (
        ("upright weld", upright, outer, up, s, tilt),
        ("lip weld", lip, inner, lip_up, -s, tilt_in),
    ):
        n = unit(add((0.0, out, 0.0), way))  # square to the mitre
        b.weld(
            Named(name, called=f"mitre at the {part.name}"),
            base,
            part,
            Beads(
                loop(Place.facing(corner, n, X), tube.width, tube.height / math.cos(half), tube.radius),
                p.weld_mm,
                "weld_mm",
                normal=n,
            ),
        )
    assert rail.hollow is not None
    hollow = replace(rail.hollow, name=f"{p.side} rail", s=p.along_mm, axis=(0.0, 0.0, -high / 2))
    _clamp(b, p, (x, y, top), hollow, base)
    seat: Vec = (x, (outer[1] + inner[1]) / 2, middle + tube.height / 2)
    b.socket("cradle", base, Place.facing(seat, Z, X), Takes("cradle", path="base_mm"))
    for name, part, foot, way, out, size in (
        ("stop.out", upright, outer, up, s, 0.6 * p.high_mm),
        ("stop.in", lip, inner, lip_up, -s, 0.6 * p.lip_mm),
    ):
        b.socket(name, part, Place.facing(along(foot, way, size), (0.0, -out, 0.0), X), Takes("stop"))
    for name, part, foot, way, size in (
        ("tie.out", upright, outer, up, p.high_mm),
        ("tie.in", lip, inner, lip_up, p.lip_mm),
    ):
        takes = Takes("tie", rating_kg=p.strap_N / STANDARD_GRAVITY, path="strap_N")
        b.socket(name, part, Place.facing(along(foot, way, size), way, X), takes)
    b.note("a strap over the load from the upright's top to the lip's keeps it down; friction alone does not")
    b.dimension(Dimension("base", inner, outer, "y", ("rear", "top"), "base_mm"))
    b.dimension(
        Dimension("upright", outer, along(outer, Z, p.high_mm), "z", ("rear", "side"), "high_mm", side="high")
    )
    b.dimension(
        Dimension("from the bed's front", (front[0], y, top), (x, y, top), "x", ("side", "top"), "along_mm")
    )
    b.plug("side rail", base, Place())


def _fits(p: RailCradle, wide: float, inboard: float, leg: float) -> None:
    bolt = catalogue.bolt(p.bolt)
    need = wide / 2 + 2 * bolt.diameter + 1.5 * bolt.diameter
    tube = catalogue.bar(p.tube)
    for size, name in ((p.outboard_mm - tube.height / 2, "outboard"), (inboard - tube.height / 2, "inboard")):
        if size < need:
            raise BuildError(
                f"The base reaches {size:.0f} mm {name} of the rail's middle and the clamp takes "
                f"{need:.0f} mm; make the base longer or shift it."
            )
    if leg - catalogue.bar(p.angle).wall < 3.2 * bolt.diameter:
        raise BuildError(
            f"{catalogue.bar(p.angle).title} is too narrow for {bolt.name} bolts beside the tube; "
            "take a wider angle or a thinner bolt."
        )


def _clamp(b: Build, p: RailCradle, at: Vec, rail: HostBar, base: Part) -> None:
    """Two angles along the base's sides, their flat legs on the rail; a flat under it; four bolts, two
    each side of the rail.  They bear where the rail's flat begins, inside its rounded corners, and only the
    angles' faces hold by friction before the flat has slipped with its bolts.
    """
    x, y, top = at
    wide, high, flat_wide = rail.stock.width, rail.stock.height, rail.stock.width - 2 * rail.stock.radius
    if flat_wide <= 0:
        raise BuildError(
            f"A rail {wide:.4g} mm wide with a wall of {rail.stock.wall:.4g} mm has no flat to clamp; "
            "measure it again."
        )
    angle, flat, bolt, grade = (
        catalogue.bar(p.angle),
        catalogue.plate(p.flat),
        catalogue.bolt(p.bolt),
        catalogue.bolt_grade(p.bolt_grade),
    )
    tube, out = catalogue.bar(p.tube), wide / 2 + bolt.hole / 2 + 1.5
    half = out + 1.5 * bolt.diameter + 1
    gage = (
        tube.width / 2 + angle.wall + 1.7 * bolt.diameter
    )  # from the tube's middle to the bolts: room for a washer
    preload = p.tight / 100 * grade.of(bolt.diameter).proof * bolt.stress_area
    spots: list[tuple[float, float]] = []
    for name, way in (("front", 1.0), ("rear", -1.0)):
        xb = x + way * gage
        mine = [(xb, y - out), (xb, y + out)]
        spots += mine
        # heel on the tube's side at the rail's top; legs up along the tube and away from it
        ends = (
            (x + way * tube.width / 2, y + way * half, top),
            (x + way * tube.width / 2, y - way * half, top),
        )
        iron = b.bar(
            Named(
                "clamp angle",
                instance="1" if way > 0 else "2",
                called=f"{name} clamp angle",
                paths=("angle", "clamp_material"),
            ),
            Bar(
                angle, Line(ends[0], ends[1]), cuts=tuple((Hole((u, v, top), Z, bolt.hole) for u, v in mine))
            ),
            p.clamp_material,
            heel=True,
        )
        w = x + way * tube.width / 2
        leg = min(angle.height, tube.height - tube.radius)
        lines: list[tuple[Vec, Vec]] = [
            ((w, y - half, top + leg), (w, y + half, top + leg)),
            ((w, y - half, top + tube.radius), (w, y - half, top + leg)),
            ((w, y + half, top + tube.radius), (w, y + half, top + leg)),
        ]
        b.weld(
            Named("angle weld", instance=iron.key[-1], called=f"base to {name} angle"),
            iron,
            base,
            Beads(lines, p.weld_mm, "weld_mm", normal=times(X, -way), edge=angle.wall),
        )
        seat = Place.facing((x + way * (tube.width / 2 + angle.width / 2), y, top), Z, X)
        steel = catalogue.material(p.clamp_material)
        here = replace(rail, s=rail.s - (seat.o[0] - x))
        bent = (
            BentBy(
                "flat, from bolt to bolt", angle.width, flat.thickness, out - flat_wide / 2, 2, steel, True
            ),
            BentBy(
                "angle's leg, from bolts to heel",
                2 * half - 2 * bolt.hole,
                angle.wall,
                gage - tube.width / 2 - angle.wall,
                1,
                steel,
                False,
            ),
        )
        b.joint(
            Named("clamp", instance=iron.key[-1], called=f"{name} clamp on the rail"),
            iron,
            HOST,
            seat,
            Clamp(
                bolt, grade, 2, 1, p.friction, (angle.width, flat_wide), b.path("bolt"), preload, bent, here
            ),
        )
    u0, u1 = x - gage - 1.5 * bolt.diameter - 2, x + gage + 1.5 * bolt.diameter + 2
    under = top - high
    under_it = b.plate(
        Named("clamp flat", called="clamp flat", paths=("flat", "clamp_material")),
        Plate(
            rectangle(u0, y - half, u1, y + half),
            flat.thickness,
            Place((0.0, 0.0, under - flat.thickness), X, Y, Z),
            holes=tuple(((u, v, bolt.hole) for u, v in spots)),
        ),
        p.clamp_material,
        f"flat {flat.name}",
    )
    b.with_(under_it, iron)
    fasten(
        b,
        [((u, v, top + angle.wall), times(Z, -1)) for u, v in spots],
        angle.wall + high + flat.thickness,
        BoltSpec(bolt, grade, True),
    )


def duty(job: Job) -> Job:
    """A boat across two cradles; nothing towed by the trailer itself."""
    items = (
        Item(
            name="river boat",
            kg=58.0,
            behind_mm=0.0,
            above_mm=190.0,
            long_mm=3600.0,
            wide_mm=380.0,
            high_mm=330.0,
        ),
    )
    return job.model_copy(
        update={
            "duties": (Carrier(title="river boat", items=items, ground="unpaved"),),
            "duty": job.duty.model_copy(update={"towed": False}),
        }
    )


register(
    Family(
        "rail-cradle",
        "Rail cradle",
        RailCradle,
        build,
        on="side rail",
        on_host=True,
        does="hold",
        host="trailer",
        offers=("cradle",),
        duty=duty,
        seen="rear",
        more=({"along_mm": 2100.0},),
        about="A J of square tube clamped round a trailer's rail: boats, poles, pipes.",
    )
)
