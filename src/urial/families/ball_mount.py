"""Ball mount: a bar that slides into a receiver, a plate for the ball, straight or dropped or risen on an
upright plate.
"""

from __future__ import annotations

import math
from typing import Literal

from urial.assembly.build import Beads, Build, Named, loop
from urial.assembly.model import Bolts, BuildError, Dimension, Part
from urial.families.registry import Family, Setting, register
from urial.geometry.outline import rectangle
from urial.geometry.path import Line
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Bar, Hole, Plate
from urial.job.fields import choice, length, number, stock
from urial.job.host import Host
from urial.job.model import Design
from urial.pieces.ball import FLANGE, ball_on
from urial.pieces.hardware import BoltSpec, fasten
from urial.pieces.shank import PLUG, hitch_pin, receiver_for
from urial.stock import catalogue
from urial.stock.catalogue import Ball, StockSection

LAP = 70.0
"""Length a straight mount's ball plate laps over the bar, mm."""


class BallMount(Design):
    """Parameters of the bar that carries the ball."""

    family: Literal["ball-mount"] = "ball-mount"
    shape: Literal["straight", "drop", "rise", "holes"] = choice(
        "drop",
        "shape",
        "Holes: the ball's plate is bolted to a row of holes and moved for each trailer; every hole "
        "is judged.",
        words={"straight": "straight", "drop": "drop", "rise": "rise", "holes": "drop, set by holes"},
        group="Ball mount",
    )
    bar: str = stock(
        "square 2",
        "bar",
        "bar",
        "Solid bar or tube that slides into the receiver.",
        only="square,rect_tube",
        group="Ball mount",
    )
    bar_material: str = stock("A572-50", "bar steel", "material", group="Ball mount")
    past_pin_mm: float = length(
        45.0, "bar past pin", "Bar end beyond the pin hole's middle.", lo=12, hi=400, group="Ball mount"
    )
    pin_to_ball_mm: float = length(
        200.0,
        "pin to ball",
        "The lever: pin hole to the middle of the ball.",
        lo=40,
        hi=1500,
        group="Ball mount",
        lever=True,
    )
    ball_drop_mm: float = length(
        75.0,
        "drop or rise",
        "Bar's top face to the ball plate's top face, as a size; the shape says which way.",
        lo=0,
        hi=500,
        group="Ball mount",
    )
    drop_plate_mm: float = length(31.75, "drop plate thickness", lo=5, hi=60, group="Ball mount")
    drop_plate_width_mm: float = length(100.0, "drop plate width", lo=25, hi=200, group="Ball mount")
    ball_plate_mm: float = length(31.75, "ball plate thickness", lo=6, hi=60, group="Ball mount")
    ball_plate_width_mm: float = length(120.0, "ball plate width", lo=30, hi=200, group="Ball mount")
    ball_plate_reach_mm: float = length(
        48.0,
        "ball to drop plate",
        "Middle of the ball to the drop plate's face.",
        lo=25,
        hi=300,
        group="Ball mount",
    )
    plate_material: str = stock("A572-50", "plate steel", "material", group="Ball mount")
    weld_mm: float = length(8.0, "mount weld leg", lo=2, hi=30, group="Welds")
    ball_plate_edge: Literal["square", "bevelled"] = choice(
        "bevelled",
        "ball plate's edge",
        "A fillet on a square edge leaves a root inside, where a crack begins after some hundred thousand "
        "pulls; bevelled from both sides and fused to the middle there is none.",
        words={"square": "square, fillets only", "bevelled": "bevelled both sides, fused through"},
        group="Welds",
        strengthens=True,
    )
    bar_edge: Literal["square", "bevelled"] = choice(
        "bevelled",
        "bar's end",
        "As for the ball plate: bevelled all round to its middle and fused through there is no root. Steel "
        "with much carbon is warmed before.",
        words={"square": "square, fillets only", "bevelled": "bevelled all round, fused through"},
        group="Welds",
        strengthens=True,
    )
    holes: float = number(4, "heights", "How many the ball can be set to.", lo=2, hi=10, group="Set by holes")
    hole: float = number(1, "set to, from the top", lo=1, hi=10, group="Set by holes")
    pitch_mm: float = length(50.0, "hole to hole", lo=15, hi=150, group="Set by holes")
    slide_mm: float = length(20.0, "slide plate thickness", lo=5, hi=60, group="Set by holes")
    slide_bolt: str = stock("M16", "slide bolts", "bolt", "Two, a pitch apart.", group="Set by holes")
    slide_grade: str = stock("8.8", "slide bolt grade", "bolt grade", group="Set by holes")
    ball: str = stock("2 in, 1 shank", "ball", "ball", "Its rating is stamped on it.", group="Ball mount")
    pin_material: str = stock("4140-QT", "pin steel", "material", group="Pin")


def above_bar(p: BallMount) -> float:
    """Ball plate's top above the bar's top face, mm (negative for a drop)."""
    if p.shape == "straight":
        return p.ball_plate_mm
    if p.shape == "holes":
        return -p.ball_drop_mm - (round(p.hole) - 1) * p.pitch_mm
    return -p.ball_drop_mm if p.shape == "drop" else p.ball_drop_mm


def levelled(p: BallMount, lower_mm: float) -> BallMount:
    """The mount with its ball brought down by ``lower_mm`` (up when negative), as near as it goes: a row of
    holes to its nearest hole, a bar bent for it by its drop or rise, no less than the plate is thick.
    """
    want = above_bar(p) - lower_mm
    if p.shape == "holes":
        hole = 1 + round((-p.ball_drop_mm - want) / p.pitch_mm)
        return p.model_copy(update={"hole": float(min(max(hole, 1), round(p.holes)))})
    size = max(round(abs(want), 1), p.ball_plate_mm)
    return p.model_copy(update={"shape": "drop" if want < 0 else "rise", "ball_drop_mm": size})


def build(p: BallMount, b: Build) -> None:
    """Own axes: the pin's middle is the origin, x runs into the receiver, z up."""
    bar, ball = catalogue.bar(p.bar), catalogue.ball(p.ball)
    size = receiver_for(bar)
    top = bar.height / 2 + above_bar(p)
    ball_x, straight = -p.pin_to_ball_mm, p.shape == "straight"
    face = ball_x + p.ball_plate_reach_mm  # the drop plate's rear face, or the bar's rear end
    tail = face if straight else face + p.drop_plate_mm
    _fits(p, ball, tail, straight)
    shank = b.bar(
        Named("bar", called="ball mount bar", paths=("bar", "bar_material", "pin_to_ball_mm", "bar_edge")),
        Bar(
            bar,
            Line((tail, 0.0, 0.0), (p.past_pin_mm, 0.0, 0.0)),
            cuts=(Hole((0.0, 0.0, 0.0), Y, size.pin_hole),),
        ),
        p.bar_material,
    )
    if straight:
        seat = _ball_plate(b, p, ball, top, face + LAP)
        w, z = bar.width / 2, bar.height / 2
        lines: list[tuple[Vec, Vec]] = [
            ((face, -w, z), (face + LAP, -w, z)),
            ((face + LAP, -w, z), (face + LAP, w, z)),
            ((face + LAP, w, z), (face, w, z)),
        ]
        b.weld(
            Named("ball plate weld", called="ball plate to bar"),
            shank,
            seat,
            Beads(lines, p.weld_mm, "weld_mm", edge=p.ball_plate_mm),
        )
    elif p.shape == "holes":
        seat = _set_by_holes(b, p, shank, bar, ball, (face, tail, top))
    else:
        upright = _drop_plate(b, p, bar, top, face)
        seat = _ball_plate(b, p, ball, top, face)
        _weld_bar(b, p, (shank, upright, "bar to drop plate"), bar, tail)
        _weld_seat(b, p, (upright, seat, "ball plate to drop plate"), (face, p.drop_plate_mm), top)
    ball_on(b, ball, (ball_x, 0.0, top), p.ball_plate_mm, seat)
    hitch_pin(b, size, p.pin_material)
    b.plug("receiver", shank, PLUG, past=p.past_pin_mm)
    b.dimension(
        Dimension("pin to ball", (0.0, 0.0, 0.0), (ball_x, 0.0, top), "x", ("side", "top"), "pin_to_ball_mm")
    )
    if not straight:
        b.dimension(
            Dimension(
                "drop or rise",
                (ball_x, 0.0, bar.height / 2),
                (ball_x, 0.0, top),
                "z",
                ("side",),
                "ball_drop_mm",
                side="high",
            )
        )


def _weld_bar(b: Build, p: BallMount, joined: tuple[Part, Part, str], bar: StockSection, tail: float) -> None:
    """All round the bar's rear end."""
    one, other, called = joined
    b.weld(
        Named("bar weld", called=called),
        one,
        other,
        Beads(
            loop(Place.facing((tail, 0.0, 0.0), times(X, -1), Y), bar.width, bar.height, bar.radius),
            p.weld_mm,
            "weld_mm",
            normal=times(X, -1),
            through=_to_the_middle(bar) if p.bar_edge == "bevelled" else 0.0,
        ),
    )


def _to_the_middle(bar: StockSection) -> float:
    """How thick what is fused from both sides is: a tube's wall, all of a solid bar, mm."""
    return bar.wall or min(bar.width, bar.height)


def _weld_seat(
    b: Build, p: BallMount, joined: tuple[Part, Part, str], on: tuple[float, float], top: float
) -> None:
    """All round the ball plate's edge, on a plate whose rear face and thickness are given."""
    (one, other, called), (face, thick) = joined, on
    wide = min(p.ball_plate_width_mm, p.drop_plate_width_mm)
    # the beads up its sides lie on what one plate is wider
    stands_out = abs(p.ball_plate_width_mm - p.drop_plate_width_mm) / 2
    b.weld(
        Named("ball plate weld", called=called),
        one,
        other,
        Beads(
            loop(Place((face, 0.0, top - p.ball_plate_mm / 2), Y, Z, X), wide, p.ball_plate_mm),
            p.weld_mm,
            "weld_mm",
            ledge=(stands_out, math.inf) * 2,
            normal=times(X, -1),
            edge=min(p.ball_plate_mm, thick),
            through=p.ball_plate_mm if p.ball_plate_edge == "bevelled" else 0.0,
        ),
    )


def _room_for_holes(p: BallMount, bar: StockSection, ball: Ball, first: float) -> None:
    """Does the row of holes go between the bar's weld and the slide plate's edges?"""
    n, bolt = round(p.holes), catalogue.bolt(p.slide_bolt)
    if round(p.hole) > n:
        raise BuildError(f"The ball is set to hole {round(p.hole)} and there are {n}; set it to one of them.")
    if first > -bar.height / 2 - bolt.across_flats / 2 - p.weld_mm:
        need = p.ball_drop_mm + first + bar.height / 2 + bolt.across_flats / 2 + p.weld_mm
        raise BuildError(
            f"At a drop of {p.ball_drop_mm:.4g} mm the upper {bolt.name} bolt falls on the bar's "
            f"weld; let the least drop be {need:.0f} mm."
        )
    if p.pitch_mm < max(2.67 * bolt.diameter, bolt.across_flats + 4):
        raise BuildError(
            f"Holes {p.pitch_mm:.4g} mm apart are too close for {bolt.name} bolts; "
            f"{max(2.67 * bolt.diameter, bolt.across_flats + 4):.0f} mm is the least."
        )
    if p.drop_plate_width_mm / 2 < 1.6 * bolt.diameter + 2:
        raise BuildError(
            f"The drop plate is {p.drop_plate_width_mm:.4g} mm wide, too narrow round "
            f"{bolt.hole:.4g} mm holes; make it {3.2 * bolt.diameter + 4:.0f} mm."
        )
    if p.ball_plate_reach_mm - p.slide_mm < FLANGE * ball.shank / 2:
        raise BuildError(
            f"The ball is {p.ball_plate_reach_mm:.4g} mm from the drop plate and the slide plate "
            f"takes {p.slide_mm:.4g} mm of it, too little for the ball's flange; move the ball out."
        )


def _set_by_holes(
    b: Build, p: BallMount, shank: Part, bar: StockSection, ball: Ball, at: tuple[float, float, float]
) -> Part:
    """A rack of holes welded to the bar, a slide plate on two of its bolts, the ball's plate welded to
    that.
    """
    (face, tail, top), bolt = at, catalogue.bolt(p.slide_bolt)
    n, half, edge = round(p.holes), p.drop_plate_width_mm / 2, 1.6 * bolt.diameter
    first = bar.height / 2 - p.ball_drop_mm - p.ball_plate_mm / 2 + p.pitch_mm / 2  # the uppermost bolt
    _room_for_holes(p, bar, ball, first)
    b.note(f"ball in hole {round(p.hole)} of {n}, counted from the top")
    rows = [first - k * p.pitch_mm for k in range(n + 1)]
    rack = b.plate(
        Named(
            "drop plate",
            called="rack of holes",
            paths=("drop_plate_mm", "drop_plate_width_mm", "plate_material", "pitch_mm"),
        ),
        Plate(
            rectangle(-half, rows[-1] - edge, half, bar.height / 2 + min(8.0, p.weld_mm)),
            p.drop_plate_mm,
            Place((face, 0.0, 0.0), Y, Z, X),
            holes=tuple((0.0, z, bolt.hole) for z in rows),
        ),
        p.plate_material,
    )
    _weld_bar(b, p, (shank, rack, "bar to rack"), bar, tail)
    middle = top - p.ball_plate_mm / 2
    reach = p.pitch_mm / 2 + edge
    slide = b.plate(
        Named("slide plate", paths=("slide_mm", "plate_material")),
        Plate(
            rectangle(-half, middle - reach, half, middle + reach),
            p.slide_mm,
            Place((face - p.slide_mm, 0.0, 0.0), Y, Z, X),
            holes=tuple((0.0, middle + k * p.pitch_mm / 2, bolt.hole) for k in (1, -1)),
        ),
        p.plate_material,
    )
    place = Place.facing((face, 0.0, middle), times(X, -1), Y)
    spots = [(face - p.slide_mm, 0.0, middle + k * p.pitch_mm / 2) for k in (1.0, -1.0)]
    b.joint(
        Named("slide bolts", called=f"slide bolts in hole {round(p.hole)}"),
        slide,
        rack,
        place,
        Bolts(
            tuple(place.local(q)[:2] for q in spots),
            bolt.hole,
            (),
            bolt,
            catalogue.bolt_grade(p.slide_grade),
            True,
            path=b.path("slide_bolt"),
        ),
    )
    fasten(
        b,
        [(q, X) for q in spots],
        p.slide_mm + p.drop_plate_mm,
        BoltSpec(bolt, catalogue.bolt_grade(p.slide_grade), True),
        "slide_bolt",
    )
    seat = _ball_plate(b, p, ball, top, face - p.slide_mm)
    _weld_seat(b, p, (slide, seat, "ball plate to slide plate"), (face - p.slide_mm, p.slide_mm), top)
    return seat


def settings(p: BallMount, host: Host) -> tuple[Setting, ...]:
    """The highest and the lowest hole, where it is set by holes."""
    if p.shape != "holes":
        return ()
    return tuple(
        Setting(f"ball in hole {n}", p.model_copy(update={"hole": float(n)}), host)
        for n in (1, round(p.holes))
    )


def _fits(p: BallMount, ball: Ball, tail: float, straight: bool) -> None:
    flange = FLANGE * ball.shank
    if p.ball_plate_width_mm < flange:
        raise BuildError(
            f"The ball plate is {p.ball_plate_width_mm:.4g} mm wide and the ball's flange "
            f"{flange:.1f} mm: it would stand over the edge. Make the plate at least "
            f"{math.ceil(flange)} mm wide, or take a ball with a thinner shank."
        )
    if p.ball_plate_reach_mm < flange / 2:
        raise BuildError(
            f"The ball is {p.ball_plate_reach_mm:.4g} mm from the drop plate and its flange reaches "
            f"{flange / 2:.1f} mm; move the ball out."
        )
    if not straight and p.ball_drop_mm < p.ball_plate_mm:
        raise BuildError(
            "The ball mount's drop or rise is less than the ball plate is thick; make the shape "
            "straight or the drop larger."
        )
    if tail > -12:
        raise BuildError(
            "Pin to ball is so short that the bar ends at its own pin hole; lengthen pin to ball, or "
            "bring the ball nearer to the drop plate."
        )


def _ball_plate(b: Build, p: BallMount, ball: Ball, top: float, front: float) -> Part:
    half, x = p.ball_plate_width_mm / 2, -p.pin_to_ball_mm
    back = x - max(half, ball.shank + 12)
    return b.plate(
        Named(
            "ball plate",
            paths=(
                "ball_plate_mm",
                "ball_plate_width_mm",
                "plate_material",
                "ball_plate_reach_mm",
                "ball_plate_edge",
            ),
        ),
        Plate(
            rectangle(back, -half, front, half),
            p.ball_plate_mm,
            Place((0.0, 0.0, top - p.ball_plate_mm), X, Y, Z),
            holes=((x, 0.0, ball.shank + 0.8),),
            centre_lines=((x - 30, 0.0, x + 30, 0.0), (x, -30.0, x, 30.0)),
        ),
        p.plate_material,
    )


def _drop_plate(b: Build, p: BallMount, bar: StockSection, top: float, face: float) -> Part:
    """The upright plate between bar and ball plate, standing past both as far as their beads need."""
    half, middle = p.drop_plate_width_mm / 2, top - p.ball_plate_mm / 2
    spare = min(8.0, p.weld_mm)
    low = min(-bar.height / 2 - spare, middle - p.ball_plate_mm / 2 - spare)
    high = max(bar.height / 2 + spare, middle + p.ball_plate_mm / 2 + spare)
    return b.plate(
        Named("drop plate", paths=("drop_plate_mm", "drop_plate_width_mm", "plate_material", "ball_drop_mm")),
        Plate(rectangle(-half, low, half, high), p.drop_plate_mm, Place((face, 0.0, 0.0), Y, Z, X)),
        p.plate_material,
    )


register(
    Family(
        "ball-mount",
        "Ball mount",
        BallMount,
        build,
        on="receiver",
        on_host=False,
        does="tow",
        stands_on="rear-receiver",
        offers=("ball",),
        settings=settings,
        about="A bar with a ball on it, straight, dropped, risen or set by holes.",
    )
)
