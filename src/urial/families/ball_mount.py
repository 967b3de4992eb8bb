"""Ball mount: a bar that slides into a receiver, a plate for the ball, straight or dropped or risen on an upright plate."""

from __future__ import annotations

import math
from typing import Literal

from urial.assembly.build import Build, loop
from urial.assembly.model import BuildError, Part, Shank
from urial.families.registry import Family, register
from urial.geometry.outline import rectangle
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Hole
from urial.job.fields import choice, length, stock
from urial.job.model import Design
from urial.stock import catalogue
from urial.stock.catalogue import Ball, Receiver, StockSection

LAP = 70.0
"""Length a straight mount's ball plate laps over the bar, mm."""
FLANGE = 1.7
"""Diameter of a ball's seat over its shank's, as such balls are made."""


class BallMount(Design):
    """Parameters of the bar that carries the ball."""

    family: Literal["ball-mount"] = "ball-mount"
    shape: Literal["straight", "drop", "rise"] = choice("drop", "shape", group="Ball mount")
    bar: str = stock("square 2", "bar", "bar", "Solid bar or tube that slides into the receiver.", only="square,rect_tube", group="Ball mount")
    bar_material: str = stock("1045-HR", "bar steel", "material", group="Ball mount")
    past_pin_mm: float = length(45.0, "bar past pin", "Bar end beyond the pin hole's middle.", lo=12, hi=400, group="Ball mount")
    pin_to_ball_mm: float = length(235.0, "pin to ball", "The lever: pin hole to the middle of the ball.", lo=40, hi=1500, group="Ball mount")
    ball_drop_mm: float = length(50.0, "drop or rise", "Bar's top face to the ball plate's top face, as a size; the shape says which way.", lo=0, hi=500, group="Ball mount")
    drop_plate_mm: float = length(25.4, "drop plate thickness", lo=5, hi=60, group="Ball mount")
    drop_plate_width_mm: float = length(68.0, "drop plate width", lo=25, hi=200, group="Ball mount")
    ball_plate_mm: float = length(25.4, "ball plate thickness", lo=6, hi=60, group="Ball mount")
    ball_plate_width_mm: float = length(85.0, "ball plate width", lo=30, hi=200, group="Ball mount")
    ball_plate_reach_mm: float = length(48.0, "ball to drop plate", "Middle of the ball to the drop plate's face.", lo=25, hi=300, group="Ball mount")
    plate_material: str = stock("A572-50", "plate steel", "material", group="Ball mount")
    weld_mm: float = length(8.0, "mount weld leg", lo=2, hi=30, group="Welds")
    ball: str = stock("2 in, 1 shank", "ball", "ball", "Its rating is stamped on it.", group="Ball mount")
    pin_material: str = stock("4140-QT", "pin steel", "material", group="Pin")


def above_bar(p: BallMount) -> float:
    """Ball plate's top above the bar's top face, mm (negative for a drop)."""
    if p.shape == "straight":
        return p.ball_plate_mm
    return -p.ball_drop_mm if p.shape == "drop" else p.ball_drop_mm


def build(p: BallMount, b: Build) -> None:
    """Own axes: the pin's middle is the origin, x runs into the receiver, z up."""
    bar, ball = catalogue.bar(p.bar), catalogue.ball(p.ball)
    size = next((r for r in catalogue.receivers().values() if r.bar >= max(bar.width, bar.height) - 0.01), list(catalogue.receivers().values())[-1])
    top = bar.height / 2 + above_bar(p)
    ball_x, straight = -p.pin_to_ball_mm, p.shape == "straight"
    face = ball_x + p.ball_plate_reach_mm  # the drop plate's rear face, or the bar's rear end
    tail = face if straight else face + p.drop_plate_mm
    _fits(p, ball, tail, straight)
    shank = b.bar("bar", bar, (tail, 0.0, 0.0), (p.past_pin_mm, 0.0, 0.0), material=p.bar_material, cuts=(Hole((0.0, 0.0, 0.0), Y, size.pin_hole),), called="ball mount bar",
                  paths=("bar", "bar_material", "pin_to_ball_mm"))  # fmt: skip
    if straight:
        seat = _ball_plate(b, p, ball, top, face + LAP)
        w, z = bar.width / 2, bar.height / 2
        lines: list[tuple[Vec, Vec]] = [((face, -w, z), (face + LAP, -w, z)), ((face + LAP, -w, z), (face + LAP, w, z)), ((face + LAP, w, z), (face, w, z))]
        b.weld("ball plate weld", shank, seat, lines, p.weld_mm, path="weld_mm", called="ball plate to bar", edge=p.ball_plate_mm)
    else:
        upright = _drop_plate(b, p, bar, top, face)
        seat = _ball_plate(b, p, ball, top, face)
        b.weld("bar weld", shank, upright, loop(Place.facing((tail, 0.0, 0.0), times(X, -1), Y), bar.width, bar.height, bar.radius), p.weld_mm, path="weld_mm",
               normal=times(X, -1), called="bar to drop plate")  # fmt: skip
        lines = loop(Place((face, 0.0, top - p.ball_plate_mm / 2), Y, Z, X), min(p.ball_plate_width_mm, p.drop_plate_width_mm), p.ball_plate_mm)
        stands_out = abs(p.ball_plate_width_mm - p.drop_plate_width_mm) / 2  # the beads up its sides lie on what one plate is wider
        b.weld("ball plate weld", upright, seat, lines, p.weld_mm, ledge=(stands_out, math.inf) * 2, path="weld_mm", normal=times(X, -1), called="ball plate to drop plate", edge=min(p.ball_plate_mm, p.drop_plate_mm))
    _ball(b, p, ball, ball_x, top, seat)
    _pin(b, p, size)
    b.plug("receiver", shank, Place((0.0, 0.0, 0.0), Z, Y, times(X, -1)), past=p.past_pin_mm)
    b.dimension("pin to ball", (0.0, 0.0, 0.0), (ball_x, 0.0, top), "x", ("side", "top"), "pin_to_ball_mm", "low", 0)
    if not straight:
        b.dimension("drop or rise", (ball_x, 0.0, bar.height / 2), (ball_x, 0.0, top), "z", ("side",), "ball_drop_mm", "high", 0)


def _fits(p: BallMount, ball: Ball, tail: float, straight: bool) -> None:
    flange = FLANGE * ball.shank
    if p.ball_plate_width_mm < flange:
        raise BuildError(f"The ball plate is {p.ball_plate_width_mm:.4g} mm wide and the ball's flange {flange:.1f} mm: it would stand over the edge. Make the plate at least {math.ceil(flange)} mm wide, or take a ball with a thinner shank.")
    if p.ball_plate_reach_mm < flange / 2:
        raise BuildError(f"The ball is {p.ball_plate_reach_mm:.4g} mm from the drop plate and its flange reaches {flange / 2:.1f} mm; move the ball out.")
    if not straight and p.ball_drop_mm < p.ball_plate_mm:
        raise BuildError("The ball mount's drop or rise is less than the ball plate is thick; make the shape straight or the drop larger.")
    if tail > -12:
        raise BuildError("Pin to ball is so short that the bar ends at its own pin hole; lengthen pin to ball, or bring the ball nearer to the drop plate.")


def _ball_plate(b: Build, p: BallMount, ball: Ball, top: float, front: float) -> Part:
    half, x = p.ball_plate_width_mm / 2, -p.pin_to_ball_mm
    back = x - max(half, ball.shank + 12)
    return b.plate("ball plate", p.ball_plate_mm, rectangle(back, -half, front, half), Place((0.0, 0.0, top - p.ball_plate_mm), X, Y, Z), material=p.plate_material,
                   holes=((x, 0.0, ball.shank + 0.8),), centre_lines=((x - 30, 0.0, x + 30, 0.0), (x, -30.0, x, 30.0)),
                   paths=("ball_plate_mm", "ball_plate_width_mm", "plate_material", "ball_plate_reach_mm"))  # fmt: skip


def _drop_plate(b: Build, p: BallMount, bar: StockSection, top: float, face: float) -> Part:
    """The upright plate between bar and ball plate, standing past both as far as their beads need."""
    half, middle = p.drop_plate_width_mm / 2, top - p.ball_plate_mm / 2
    spare = min(8.0, p.weld_mm)
    low = min(-bar.height / 2 - spare, middle - p.ball_plate_mm / 2 - spare)
    high = max(bar.height / 2 + spare, middle + p.ball_plate_mm / 2 + spare)
    return b.plate("drop plate", p.drop_plate_mm, rectangle(-half, low, half, high), Place((face, 0.0, 0.0), Y, Z, X), material=p.plate_material,
                   paths=("drop_plate_mm", "drop_plate_width_mm", "plate_material", "ball_drop_mm"))  # fmt: skip


def _ball(b: Build, p: BallMount, ball: Ball, x: float, top: float, seat: Part) -> None:
    under = p.ball_plate_mm + 1.1 * ball.shank
    made = b.turned("ball", Place((x, 0.0, top - under), X, Y, Z), (
        (0.9 * ball.shank, 1.6 * ball.shank, 6), (0.2 * ball.shank + p.ball_plate_mm, ball.shank, 0), (6.0, FLANGE * ball.shank, 0),
        (ball.height - 0.3 * ball.ball - 6, 0.62 * ball.ball, 0)), material="4140-QT", stock=ball.name, sphere=(under + ball.height, ball.ball), called=f"ball {ball.name}", paths=("ball",))  # fmt: skip
    b.joint("ball seat", seat, made, Place((x, 0.0, top), X, Y, Z), Shank(ball.shank, FLANGE * ball.shank))
    middle: Vec = (x, 0.0, top + ball.height)
    b.socket("ball", "ball", made, Place(middle, X, Y, Z), size=ball.name, rating_kg=ball.rated_kg, path="ball")
    b.places.update(ball=middle, ball_seat=(x, 0.0, top))


def _pin(b: Build, p: BallMount, size: Receiver) -> None:
    tube = catalogue.bar(size.tube)
    b.turned("hitch pin", Place.facing((0.0, -tube.width / 2 - 20, 0.0), Y, X), ((8, size.pin * 1.6, 0), (tube.width + 32, size.pin, 0)), material=p.pin_material,
             stock=f"{size.pin:.4g} mm {catalogue.material(p.pin_material).name}", called=f"hitch pin {size.pin:.4g} mm with clip", rated=False, paths=("pin_material",))  # fmt: skip


register(Family("ball-mount", "Ball mount", BallMount, build, on="receiver", on_host=False, does="tow", stands_on="rear-receiver"))
