"""Front rail: a bent tube standing on a trailer's nose, coped braces back to its frame, tie-down spools on a
pitch along it.
"""

from __future__ import annotations

from typing import Literal

from urial.assembly.build import Beads, Build, Named, Takes, end_runs, ring
from urial.assembly.model import BuildError, Dimension, Part
from urial.families.registry import Family, register
from urial.geometry.path import Bent, Line
from urial.geometry.place import Place, Vec, X, Y, Z, add, minus, unit
from urial.geometry.shape import Bar, Cope, Slant, Turned
from urial.job.duty import Anchor, Carrier, Item, Link
from urial.job.fields import length, number, stock
from urial.job.model import Design, Job
from urial.mates.host import HostSocket
from urial.pieces.welded import OnHost, weld_to_host
from urial.stock import catalogue
from urial.stock.catalogue import StockSection

RIM, ROPE = 5.0, 8.0
"""Of a spool: its rim, and the rope that lies against it at the worst, mm."""


class FrontRail(Design):
    """Parameters of a front rail."""

    family: Literal["front-rail"] = "front-rail"
    tube: str = stock("48.3 odx3.2", "tube", "bar", only="round_tube", group="Hoop")
    tube_material: str = stock("S235", "tube steel", "material", group="Hoop")
    high_mm: float = length(700.0, "high", "Frame's top to the tube's middle.", lo=100, hi=2200, group="Hoop")
    bend_mm: float = length(
        150.0, "bend radius", "Middle line, as the bender's die has it.", lo=20, hi=800, group="Hoop"
    )
    inset_mm: float = length(
        25.0,
        "posts in from the rail's end",
        "Long rail's outside to the post's middle.",
        lo=0,
        hi=1000,
        group="Hoop",
    )
    brace: str = stock("42.4 odx3.2", "brace", "bar", only="round_tube", group="Braces")
    brace_up_mm: float = length(
        420.0, "brace meets the post", "Above the frame's top.", lo=40, hi=2000, group="Braces"
    )
    brace_back_mm: float = length(380.0, "brace's foot behind the post", lo=60, hi=2500, group="Braces")
    spools: float = number(
        4, "tie-down spools", "Along the tube's top, from its middle.", lo=0, hi=12, group="Spools"
    )
    pitch_mm: float = length(180.0, "between spools", lo=40, hi=900, group="Spools")
    spool_mm: float = length(20.0, "spool's core", lo=8, hi=60, group="Spools")
    spool_out_mm: float = length(35.0, "spool stands out", lo=10, hi=120, group="Spools")
    weld_mm: float = length(4.0, "weld leg", lo=2, hi=16, group="Welds")


def build(p: FrontRail, b: Build, nose: HostSocket) -> None:
    """Host axes: the hoop on the front rail's top, the braces' feet on the long rails."""
    assert nose.weld is not None
    rail = nose.the_line()
    wide, high, left = rail.width, rail.height, rail.a
    tube, brace = catalogue.bar(p.tube), catalogue.bar(p.brace)
    x, y, top = left[0] - wide / 2, left[1] - p.inset_mm, left[2] + high / 2
    _fits(p, tube, brace, y, wide)
    z = top + p.high_mm
    feet: tuple[Vec, Vec] = ((x, y, top), (x, -y, top))
    hoop = b.bar(
        Named("hoop", paths=("tube", "tube_material", "high_mm", "bend_mm")),
        Bar(tube, Bent((feet[0], (x, y, z), (x, -y, z), feet[1]), (p.bend_mm, p.bend_mm)), up=X),
        p.tube_material,
    )
    on = OnHost(nose.weld.metal, Z, p.weld_mm, "weld_mm")
    for side, s, foot in (("left", 1.0, feet[0]), ("right", -1.0, feet[1])):
        rows = ring(Place(foot, X, Y, Z), tube.width)
        weld_to_host(
            b, Named("post weld", instance=side, called=f"{side} post on the front rail"), hoop, rows, on
        )
        _brace(b, p, hoop, (side, s * y), (x, top), on)
    _spools(b, p, hoop, (x, z), tube)
    for side, s in (("left", 1.0), ("right", -1.0)):
        reach = max(y - p.bend_mm - 20, 20.0)
        b.socket(
            f"deck.{side}",
            hoop,
            Place.facing((x, s * min(reach, 0.6 * y), z + tube.width / 2), Z, X),
            Takes("deck", path="high_mm"),
        )
    b.plug("trailer nose", hoop, Place())
    b.dimension(Dimension("high", (x, y, top), (x, y, z), "z", ("side", "rear"), "high_mm", "high"))
    b.dimension(
        Dimension(
            "brace meets the post",
            (x, y, top),
            (x, y, top + p.brace_up_mm),
            "z",
            ("side", "rear"),
            "brace_up_mm",
            "high",
            1,
        )
    )
    b.dimension(
        Dimension(
            "brace's foot behind",
            (x, y, top),
            (x - p.brace_back_mm, y, top),
            "x",
            ("side", "top"),
            "brace_back_mm",
        )
    )


def _fits(p: FrontRail, tube: StockSection, brace: StockSection, y: float, wide: float) -> None:
    if tube.width > wide or brace.width > wide:
        raise BuildError(
            f"A {max(tube.width, brace.width):.4g} mm tube does not stand on a rail {wide:.4g} mm wide; take "
            "a thinner tube, or measure the rail again."
        )
    if brace.width > tube.width:
        raise BuildError(
            f"A {brace.width:.4g} mm brace is thicker than the {tube.width:.4g} mm tube it is coped on to; "
            "take a thinner brace."
        )
    if y < 2 * p.bend_mm:
        raise BuildError(
            f"Two bends of {p.bend_mm:.4g} mm radius do not fit between posts {2 * y:.0f} mm apart; bend "
            "tighter or set the posts farther out."
        )
    if p.brace_up_mm + brace.width > p.high_mm - p.bend_mm:
        raise BuildError(
            f"The brace meets the post {p.brace_up_mm:.4g} mm up, where the bend begins at "
            f"{p.high_mm - p.bend_mm:.0f} mm; bring it down by "
            f"{p.brace_up_mm + brace.width - p.high_mm + p.bend_mm:.0f} mm."
        )
    if int(p.spools) > 1 and (int(p.spools) - 1) * p.pitch_mm / 2 > y - p.bend_mm:
        raise BuildError(
            f"{int(p.spools)} spools {p.pitch_mm:.4g} mm apart run into the bends; the straight between them "
            f"is {2 * (y - p.bend_mm):.0f} mm."
        )


def _brace(
    b: Build, p: FrontRail, hoop: Part, at: tuple[str, float], foot: tuple[float, float], on: OnHost
) -> None:
    """From the long rail's top up and forward on to the post."""
    (side, y), (x, top) = at, foot
    tube, brace = catalogue.bar(p.tube), catalogue.bar(p.brace)
    low: Vec = (x - p.brace_back_mm, y, top)
    high: Vec = (x, y, top + p.brace_up_mm)
    made = b.bar(
        Named("brace", instance=side, paths=("brace", "brace_up_mm", "brace_back_mm")),
        Bar(brace, Line(low, high), up=Y, end_i=Slant(Z), end_j=Cope(tube.width / 2, high, Z)),
        p.tube_material,
    )
    b.weld(
        Named("brace weld", instance=side, called=f"{side} brace to post"),
        hoop,
        made,
        Beads(end_runs(made, "j"), p.weld_mm, "weld_mm", normal=unit(minus(high, low))),
    )
    name = Named("foot weld", instance=side, called=f"{side} brace's foot on the long rail")
    weld_to_host(b, name, made, end_runs(made, "i"), on)


def _spools(b: Build, p: FrontRail, hoop: Part, at: tuple[float, float], tube: StockSection) -> None:
    """Spools on the front of the tube's straight: a core and a rim that keeps the rope on."""
    (x, z), n, core = at, int(p.spools), p.spool_mm
    face = x + tube.width / 2
    for k in range(n):
        y = ((n - 1) / 2 - k) * p.pitch_mm
        foot: Vec = (face, y, z)
        made = b.turned(
            Named("spool", instance=str(k + 1), paths=("spool_mm", "spool_out_mm")),
            Turned(Place.facing(foot, X, Y), ((p.spool_out_mm - RIM, core, 0), (RIM, 1.8 * core, 0))),
            "S235",
            f"round {core:.4g} mm",
            hardware=False,
            rated=False,
        )
        b.weld(
            Named("spool weld", instance=str(k + 1), called=f"spool {k + 1} to the tube"),
            hoop,
            made,
            Beads(ring(Place.facing(foot, X, Y), core), p.weld_mm, "weld_mm", normal=X),
        )
        b.socket(
            f"ring {k + 1}",
            made,
            Place.facing(add(foot, (p.spool_out_mm - RIM - ROPE / 2, 0.0, 0.0)), X, Y),
            Takes("ring", path="spool_mm"),
        )
        if k == 1:
            b.dimension(
                Dimension(
                    "between spools",
                    (face, y + p.pitch_mm, z),
                    (face, y, z),
                    "y",
                    ("rear", "top"),
                    "pitch_mm",
                    "high",
                )
            )


def duty(job: Job) -> Job:
    """Poles leaning on it over rough ground, and a rope round any spool."""
    items = (
        Item(
            name="survey poles",
            kg=36.0,
            behind_mm=0.0,
            above_mm=60.0,
            long_mm=1800.0,
            wide_mm=300.0,
            high_mm=80.0,
        ),
    )
    rope = Link(name="rope", what="rope", limit_N=9_000.0)
    return job.model_copy(
        update={
            "duties": (
                Carrier(title="poles", items=items, ground="unpaved"),
                Anchor(title="tie-down", pull_N=1_800.0, legs="1", links=(rope,)),
            ),
            "duty": job.duty.model_copy(update={"towed": False}),
        }
    )


register(
    Family(
        "front-rail",
        "Front rail",
        FrontRail,
        build,
        on="trailer nose",
        on_host=True,
        does="hold",
        host="trailer",
        offers=("ring", "deck"),
        duty=duty,
        seen="rear",
        about="A hoop on the nose that holds the load back, with spools to tie it to.",
    )
)
