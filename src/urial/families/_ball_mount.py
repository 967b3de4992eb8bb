"""A straight, drop or rise ball mount in a receiver: shank, drop plate, ball plate, ball and pin."""

from __future__ import annotations

from typing import Literal

from urial.assembly.model import (
    BarShape,
    Beam,
    Builder,
    BuildError,
    FitJoint,
    Hole,
    NetSection,
    Part,
    PinJoint,
    PlateShape,
    TurnedShape,
    Vec,
    WeldJoint,
    loop,
)
from urial.assembly.net import cross_hole
from urial.assembly.outline import rectangle
from urial.assembly.throats import fillet_throat
from urial.job.fields import Value, choice, length, stock
from urial.stock import catalogue
from urial.stock.catalogue import StockSection
from urial.stock.sections import Section, rect_bar

LAP = 70.0  # length a straight mount's ball plate laps over the bar, mm


class BallMount(Value):
    """Parameters of the bar that carries the ball."""

    shape: Literal["straight", "drop", "rise"] = choice("drop", "shape", group="Ball mount")
    bar: str = stock("square 2", "bar", "bar", "Solid bar or tube that slides into the receiver.", only="square,rect_tube", group="Ball mount")
    bar_material: str = stock("1045-HR", "bar steel", "material", group="Ball mount")
    mouth_to_pin_mm: float = length(63.5, "mouth to pin", "Receiver mouth to the middle of the pin hole: measure it, the holes miss by millimetres otherwise.", lo=15, hi=300, group="Ball mount")
    past_pin_mm: float = length(45.0, "bar past pin", "Bar end beyond the pin hole's middle.", lo=12, hi=400, group="Ball mount")
    pin_to_ball_mm: float = length(235.0, "pin to ball", "The lever: pin hole to the middle of the ball.", lo=40, hi=1500, group="Ball mount")
    ball_drop_mm: float = length(50.0, "drop or rise", "Bar's top face to the ball plate's top face, as a size; the shape says which way.", lo=0, hi=500, group="Ball mount")
    drop_plate_mm: float = length(25.4, "drop plate thickness", lo=5, hi=60, group="Ball mount")
    drop_plate_width_mm: float = length(63.5, "drop plate width", lo=25, hi=200, group="Ball mount")
    ball_plate_mm: float = length(25.4, "ball plate thickness", lo=6, hi=60, group="Ball mount")
    ball_plate_width_mm: float = length(76.2, "ball plate width", lo=30, hi=200, group="Ball mount")
    ball_plate_reach_mm: float = length(48.0, "ball to drop plate", "Middle of the ball to the drop plate's face.", lo=25, hi=300, group="Ball mount")
    plate_material: str = stock("A572-50", "plate steel", "material", group="Ball mount")
    weld_mm: float = length(12.7, "mount weld leg", lo=2, hi=30, group="Welds")
    ball: str = stock("2 in, 1 shank", "ball", "ball", "Its rating is stamped on it.", group="Ball mount")
    pin_material: str = stock("4140-QT", "pin steel", "material", group="Pin")


def ball_height_above_bar(p: BallMount) -> float:
    """Ball plate's top above the bar's top face, mm (negative for a drop)."""
    if p.shape == "straight":
        return p.ball_plate_mm
    return -p.ball_drop_mm if p.shape == "drop" else p.ball_drop_mm


def place(b: Builder, p: BallMount, mouth: Vec, receiver: catalogue.Receiver, receiver_tube: StockSection,
          receiver_material: catalogue.Material, electrode: catalogue.Electrode,
          wall_at: dict[str, tuple[str, Vec]]) -> None:  # fmt: skip
    """Place the mount in a receiver whose mouth is at ``mouth``; ``wall_at`` gives the receiver's nodes to bear on."""
    bar = catalogue.bar(p.bar)
    steel, plate_steel = catalogue.material(p.bar_material), catalogue.material(p.plate_material)
    ball, pin_steel = catalogue.ball(p.ball), catalogue.material(p.pin_material)
    if bar.shape not in ("rect_tube", "rect_bar"):
        raise BuildError(f"Ball mount bar {bar.title} is not square; a receiver takes square bar or tube.")
    if max(bar.width, bar.height) > receiver.opening:
        raise BuildError(f"Ball mount bar {bar.title} ({max(bar.width, bar.height):.4g} mm) is wider than the {receiver.name} in receiver's {receiver.opening:.4g} mm opening; choose a smaller bar or a bigger receiver.")
    clearance = (receiver.opening - min(bar.width, bar.height)) / 2
    if clearance > 3:
        b.warnings.append(f"The bar is {2 * clearance:.1f} mm loose in the receiver and will rattle; choose a {receiver.name} in bar.")
    mx, _, z = mouth
    pin_x, ball_x = mx + p.mouth_to_pin_mm, mx + p.mouth_to_pin_mm - p.pin_to_ball_mm
    end_x = pin_x + p.past_pin_mm
    top = z + bar.height / 2 + ball_height_above_bar(p)
    plate_z, ball_z = top - p.ball_plate_mm / 2, top + ball.height
    straight = p.shape == "straight"
    face_x = ball_x + p.ball_plate_reach_mm  # rear face of the drop plate, or the bar's rear end
    bar_x = face_x if straight else face_x + p.drop_plate_mm
    if bar_x > mx - 3:
        raise BuildError("Pin to ball is so short that the ball mount runs into the receiver's mouth; lengthen pin to ball or shorten mouth to pin.")
    if not straight and p.ball_drop_mm < p.ball_plate_mm:
        raise BuildError("The ball mount's drop or rise is less than the ball plate is thick; make the shape straight or the drop larger.")
    nodes = {"bar end": (end_x, 0.0, z), "bar pin": (pin_x, 0.0, z), "bar mouth": (mx, 0.0, z), "ball": (ball_x, 0.0, ball_z)}
    nodes["bar tail"] = (face_x + LAP / 2 if straight else bar_x, 0.0, z)
    if straight and face_x + LAP / 2 > mx - 3:
        raise BuildError("Pin to ball is so short that the ball plate runs into the receiver's mouth; lengthen pin to ball.")
    b.nodes.update(nodes)
    section = bar.section(steel.wall_factor if bar.shape == "rect_tube" else 1.0)
    stick = mx - ball_x
    for name, i, j in (("bar past pin", "bar end", "bar pin"), ("bar in receiver", "bar pin", "bar mouth"), ("bar", "bar mouth", "bar tail")):
        b.beams.append(Beam(name, i, j, section, steel, (0, 0, 1), "G", "mount", "ball mount bar", k=2.0, unbraced=stick))
    d = receiver.pin_hole
    shank = BarShape(bar, (face_x, 0, z) if straight else (bar_x, 0, z), (end_x, 0, z), (0, 0, 1), (Hole((pin_x, 0, z), (0, 1, 0), d),))
    b.parts.append(Part("G", "ball mount bar", bar.title, steel, (shank,), "mount"))
    weld_edge = min(p.ball_plate_mm, p.drop_plate_mm)
    half = p.ball_plate_width_mm / 2
    front = face_x + LAP if straight else face_x
    back = ball_x - max(half, ball.shank + 12)
    b.parts.append(Part("J", "ball plate", f"plate {p.ball_plate_mm:g} mm", plate_steel, (PlateShape(
        rectangle(back, -half, front, half), ((ball_x, 0.0, ball.shank + 0.8),), p.ball_plate_mm, (0, 0, top - p.ball_plate_mm),
        (1, 0, 0), (0, 1, 0), ((ball_x - 30, 0, ball_x + 30, 0), (ball_x, -30, ball_x, 30))),), "mount"))  # fmt: skip
    flat = rect_bar(p.ball_plate_width_mm, p.ball_plate_mm)
    to_ball = (0.0, 0.0, plate_z - ball_z)
    if straight:
        b.beams.append(Beam("ball plate", "bar tail", "ball", flat, plate_steel, (0, 0, 1), "J", "mount", "ball plate", k=2.0,
                            offset_i=(0, 0, plate_z - z), offset_j=to_ball))  # fmt: skip
        w, runs_z = bar.width / 2, z + bar.height / 2
        lines: tuple[tuple[Vec, Vec], ...] = (((face_x, -w, runs_z), (front, -w, runs_z)), ((front, -w, runs_z), (front, w, runs_z)), ((front, w, runs_z), (face_x, w, runs_z)))
        b.joints.append(WeldJoint("weld ball plate", "ball plate to bar", "mount", ("G", "J"), lines, p.weld_mm, fillet_throat(p.weld_mm),
                                  electrode.FEXX, ((steel, bar.wall if bar.shape == "rect_tube" else bar.height), (plate_steel, p.ball_plate_mm)),
                                  (("ball plate", "i"),), p.ball_plate_mm, "design.ball_mount.weld_mm"))  # fmt: skip
    else:
        _drop_plate(b, p, z, plate_z, face_x, bar, steel, plate_steel, electrode, flat, to_ball, weld_edge)
    half_bar, half_tube = bar.height / 2, receiver_tube.height / 2
    pin_length = receiver_tube.width + 32
    b.parts.append(Part("X2", f"hitch pin {receiver.pin:.4g} mm with clip", f"{receiver.pin:.4g} mm {pin_steel.name}", pin_steel, (TurnedShape(
        (pin_x, -receiver_tube.width / 2 - 20, z), (0, 1, 0), ((8, receiver.pin * 1.6, 0), (pin_length, receiver.pin, 0))),), "pin", hardware=True))  # fmt: skip
    b.parts.append(Part("X3", f"ball {ball.name}", ball.name, pin_steel, (TurnedShape(
        (ball_x, 0, top - p.ball_plate_mm - 1.1 * ball.shank), (0, 0, 1),
        ((0.9 * ball.shank, 1.6 * ball.shank, 6), (0.2 * ball.shank + p.ball_plate_mm, ball.shank, 0), (6.0, 1.7 * ball.shank, 0),
         (ball.height - 0.3 * ball.ball - 6, 0.62 * ball.ball, 0)),
        sphere=(1.1 * ball.shank + p.ball_plate_mm + ball.height, ball.ball)),), "ball", hardware=True))  # fmt: skip
    for contact, node, passes in (("mouth contact", "bar mouth", (0, 1, 1, 1)), ("end contact", "bar end", (0, 1, 1, 0)), ("pin contact", "bar pin", (1, 0, 0, 0))):
        wall_node, offset = wall_at[contact]
        b.contact(contact, node, wall_node, offset, steel, "pin" if contact == "pin contact" else "receiver", passes)
    wall = receiver_tube.wall
    inner = 2 * bar.wall if bar.shape == "rect_tube" else bar.width
    b.joints.append(PinJoint("pin", "hitch pin", "pin", "pin contact", receiver.pin, pin_steel, (receiver_material, wall), (steel, inner),
                             clearance, p.past_pin_mm - d / 2, p.mouth_to_pin_mm - d / 2, d))  # fmt: skip
    area, wy, wz = cross_hole(section, d)
    b.joints.append(NetSection("bar at pin hole", "bar at pin hole", "mount", "G", "bar in receiver", 0.0, steel, section, area, wy, wz, f"{d:.4g} mm pin hole"))
    for contact, at_end, where in (("mouth contact", True, "at the mouth"), ("end contact", False, "at the bar's inner end")):
        b.joints.append(FitJoint(f"receiver wall {where}", f"receiver wall {where}", "receiver", contact, receiver_material,
                                 wall * receiver_material.wall_factor, receiver_tube.radius, at_end))  # fmt: skip
    b.places.update(ball=(ball_x, 0, ball_z), mouth=mouth, pin=(pin_x, 0, z), ball_seat=(ball_x, 0, top))
    b.places["engagement"] = (p.mouth_to_pin_mm + p.past_pin_mm, clearance, half_bar + half_tube)


def _drop_plate(b: Builder, p: BallMount, z: float, plate_z: float, face_x: float, bar: StockSection, steel: catalogue.Material,
                plate_steel: catalogue.Material, electrode: catalogue.Electrode, flat: Section, to_ball: Vec, edge: float) -> None:  # fmt: skip
    """The upright plate between bar and ball plate, and the two welds on it."""
    t, half = p.drop_plate_mm, p.drop_plate_width_mm / 2
    spare = min(8.0, p.weld_mm)
    low = min(z - bar.height / 2 - spare, plate_z - p.ball_plate_mm / 2 - spare)
    high = max(z + bar.height / 2 + spare, plate_z + p.ball_plate_mm / 2 + spare)
    b.parts.append(Part("H", "drop plate", f"plate {t:g} mm", plate_steel, (PlateShape(
        rectangle(-half, low, half, high), (), t, (face_x, 0, 0), (0, 1, 0), (0, 0, 1)),), "mount"))  # fmt: skip
    b.nodes["drop top"], b.nodes["drop foot"] = (face_x + t / 2, 0.0, z), (face_x + t / 2, 0.0, plate_z)
    # the plate bends between the two welds only: its clear height is judged
    clear = abs(z - plate_z) - bar.height / 2 - p.ball_plate_mm / 2
    span = abs(z - plate_z)
    judged = (bar.height / 2 / span, 1 - p.ball_plate_mm / 2 / span) if clear > 0 else (0.5, 0.5)
    upright = rect_bar(p.drop_plate_width_mm, t)
    b.beams.append(Beam("bar tail", "bar tail", "drop top", bar.section(), steel, (0, 0, 1), None, "mount", "weld zone"))
    b.beams.append(Beam("drop plate", "drop top", "drop foot", upright, plate_steel, (1, 0, 0), "H", "mount", "drop plate", k=2.0, judged=judged))
    b.beams.append(Beam("ball plate", "drop foot", "ball", flat, plate_steel, (0, 0, 1), "J", "mount", "ball plate", k=2.0,
                        offset_i=(-t / 2, 0, 0), offset_j=to_ball))  # fmt: skip
    tube_wall = bar.wall if bar.shape == "rect_tube" else bar.height
    path = "design.ball_mount.weld_mm"
    b.joints.append(WeldJoint("weld bar", "bar to drop plate", "mount", ("G", "H"),
                              loop((face_x + t, 0, z), (0, 1, 0), (0, 0, 1), bar.width, bar.height, bar.radius), p.weld_mm, fillet_throat(p.weld_mm),
                              electrode.FEXX, ((steel, tube_wall), (plate_steel, t)), (("bar tail", "i"),), None, path))  # fmt: skip
    b.joints.append(WeldJoint("weld ball plate", "ball plate to drop plate", "mount", ("H", "J"),
                              loop((face_x, 0, plate_z), (0, 1, 0), (0, 0, 1), min(p.ball_plate_width_mm, 2 * half), p.ball_plate_mm), p.weld_mm, fillet_throat(p.weld_mm),
                              electrode.FEXX, ((plate_steel, t), (plate_steel, p.ball_plate_mm)), (("ball plate", "i"),), edge, path))  # fmt: skip
