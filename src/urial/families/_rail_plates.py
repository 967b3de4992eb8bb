"""Plates bolted to the frame rails, each from its own measured holes, and their bolts."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from urial.assembly import outline as outlines
from urial.assembly.model import Beam, BoltJoint, Builder, BuildError, Part, PlateShape, TurnedShape, Vec, WeldJoint, loop
from urial.assembly.throats import fillet_throat
from urial.job.host import HardPoint, Side, Vehicle
from urial.stock import catalogue
from urial.stock.sections import rect_bar

if TYPE_CHECKING:
    from urial.families.rear_receiver import RearReceiver

X: Vec = (1.0, 0.0, 0.0)
Y: Vec = (0.0, 1.0, 0.0)
Z: Vec = (0.0, 0.0, 1.0)


def bolted_points(v: Vehicle, side: Side) -> tuple[HardPoint, ...]:
    """The hard points of a side that the plate bolts to."""
    points = tuple(h for h in v.points(side) if h.bolted)
    if not points:
        raise BuildError(f"No hole on the {side} is marked as one the part bolts to; mark at least one.")
    return points


def rail_face(b: Builder, p: RearReceiver, v: Vehicle, side: Side, points: tuple[HardPoint, ...]) -> float:
    """The face a plate lies on, mm from the centre plane: where its holes differ, the face that stands proudest."""
    faces = [abs(v.across(side, h)) for h in points]
    if max(faces) - min(faces) > 1.0:
        b.warnings.append(f"The faces round the {side} holes differ by {max(faces) - min(faces):.1f} mm; the plate lies on the proudest, pack the others.")
    return max(faces) if p.plates_on == "outside" else min(faces)


def place_side_plate(b: Builder, p: RearReceiver, v: Vehicle, name: Side, points: tuple[HardPoint, ...], centre: Vec, face: float, tube_end: float,
                t: float, tube: catalogue.StockSection, tube_steel: catalogue.Material, electrode: catalogue.Electrode) -> None:  # fmt: skip
    side, steel, bolt = 1 if name == "left" else -1, catalogue.material(p.plate_material), catalogue.bolt(p.bolt)
    x, z = centre[0], centre[2]
    holes = [(-h.behind_mm, h.height_mm) for h in points]
    _check_holes(p, name, holes, points, bolt)
    d, e = max(h.hole_mm for h in points), p.hole_edge_mm
    if p.plate_outline:
        outline = outlines.polygon([(-behind, height) for behind, height in p.plate_outline])
    else:
        # discs of one radius: round each hole, and in the corners of the tube's margin
        du, dv = max(tube.width / 2 + p.tube_margin_mm - e, 0), max(tube.height / 2 + p.tube_margin_mm - e, 0)
        outline = outlines.rounded_hull([*holes, *((x + a * du, z + c * dv) for a in (-1, 1) for c in (-1, 1))], e)
    for n, (u, w) in enumerate(holes, 1):
        if outlines.distance_to_edge(outline, u, w) < d / 2 + 1:
            raise BuildError(f"Hole {n} of the {name} plate is outside the plate or breaks its edge; move the outline or the hole.")
    if outlines.distance_to_edge(outline, x, z) < min(tube.width, tube.height) / 2:
        raise BuildError(f"The cross tube hangs over the edge of the {name} plate; give the outline room round the tube.")
    inner = side * tube_end
    y_mid = inner + side * t / 2
    cu, cw = sum(u for u, _ in holes) / len(holes), sum(w for _, w in holes) / len(holes)
    b.nodes[f"foot {name}"] = (cu, y_mid, cw)
    reach = math.hypot(cu - x, cw - z)
    if reach < tube.height / 2:
        raise BuildError(f"The bolts of the {name} plate fall on the end of the cross tube, where no spanner goes; change the drop.")
    # Whitmore: the tube's force spreads 30° over the height of its end; the narrowest cut of the plate may be less
    lowest = min(w for _, w in holes)
    cuts = [outlines.width_at(outline, z + tube.height / 2 + f * max(lowest - z - tube.height / 2, 1.0)) for f in (0.02, 0.35, 0.65)]
    spread = tube.width + 2 * tube.height * math.tan(math.radians(30))
    strip = min([spread, *(c for c in cuts if c > 0)])
    near = min(tube.height / 2 / reach, 0.9)
    far = min((cw - lowest) / reach, 0.9 - near) if lowest < cw else 0.0
    b.beams.append(Beam(f"side plate {name}", f"foot {name}", f"tube {name}", rect_bar(strip, t), steel, (0, 1, 0), f"B{name[0].upper()}", "plates", f"{name} side plate",
                        k=2.0, judged=(far, 1 - near), offset_j=(0, y_mid - inner, 0)))  # fmt: skip
    b.joints.append(WeldJoint(f"weld plate {name}", f"cross tube to {name} plate", "weld plates", ("A", f"B{name[0].upper()}"),
                              loop((x, inner, z), X, Z, tube.width, tube.height, tube.radius), p.weld_plate_mm, fillet_throat(p.weld_plate_mm), electrode.FEXX,
                              ((tube_steel, tube.wall * tube_steel.wall_factor), (steel, t)), ((f"cross tube {name}", "i"),), None, "design.weld_plate_mm"))  # fmt: skip
    u0, v0, u1, v1 = outlines.bounds(outline)
    rail = _metal_behind(v, points)
    rail_edge = min(min(w - v.rail_bottom_mm, v.rail_bottom_mm + v.rail_height_mm - w) for _, w in holes)
    if rail_edge < d / 2 + 1:
        raise BuildError(f"A {name} hole is not in the rail: the rail runs from {v.rail_bottom_mm:.0f} to {v.rail_bottom_mm + v.rail_height_mm:.0f} mm above ground; measure the hole or the rail again.")
    steps = [math.hypot(a[0] - c[0], a[1] - c[1]) for k, a in enumerate(holes) for c in holes[:k]]
    pitch = min([*steps, 2 * e, 4 * max(reach - tube.height / 2, d)])
    prying_b = max(min(lowest - (z + tube.height / 2), reach - tube.height / 2), d)
    b.joints.append(BoltJoint(
        f"bolts {name}", f"{name} rail bolts", "bolts", f"foot {name}", f"B{name[0].upper()}", side, side if p.plates_on == "outside" else -side, tuple((u, side * face, w) for u, w in holes), d, bolt,
        catalogue.bolt_grade(p.bolt_grade), p.threads_in_plane, (steel, t), rail, outline, tuple(holes), rail_edge,
        (max(cu - u0, e), max(u1 - cu, e), min(max(cw - v0, e), max(cw - v.rail_bottom_mm, e)), max(v1 - cw, e)), (prying_b, e, max(pitch, d * 1.2))))  # fmt: skip
    origin_y = inner if side > 0 else inner - t
    _plate_part(b, p, side, PlateShape(outline, tuple((u, w, bolt.hole) for u, w in holes), t, (0, origin_y + t, 0), X, Z,
                                       ((x - tube.width / 2, z, x + tube.width / 2, z), (x, z - tube.height / 2, x, z + tube.height / 2)),))  # fmt: skip


def _metal_behind(v: Vehicle, points: tuple[HardPoint, ...]) -> tuple[catalogue.Material, float]:
    """The weakest metal behind a side's bolts: least Fu·t of what was measured at each hole, else the rail's."""
    at = [(catalogue.material(h.wall_material or v.rail_material), h.wall_mm or v.rail_wall_mm) for h in points]
    return min(at, key=lambda m: m[0].Fu * m[1])


def _check_holes(p: RearReceiver, name: str, holes: list[tuple[float, float]], points: tuple[HardPoint, ...], bolt: catalogue.Bolt) -> None:
    for n, point in enumerate(points, 1):
        if bolt.diameter > point.hole_mm:
            raise BuildError(f"A {bolt.name} bolt does not go through the {point.hole_mm:.4g} mm hole {n} on the {name}; choose a smaller bolt or open the hole.")
        if point.fixing != "through" and point.thread and point.thread != bolt.name:
            raise BuildError(f"Hole {n} on the {name} has a thread {point.thread}, and the rail bolts are {bolt.name}; choose {point.thread} bolts or leave that hole out.")
    for n, a in enumerate(holes):
        for m, c in enumerate(holes[:n]):
            if math.hypot(a[0] - c[0], a[1] - c[1]) < 1.5 * bolt.diameter:
                raise BuildError(f"Holes {m + 1} and {n + 1} on the {name} run into each other; measure them again.")
    if p.hole_edge_mm < bolt.hole / 2 + 2:
        raise BuildError(f"Metal round holes is {p.hole_edge_mm:.4g} mm, which leaves no edge beside a {bolt.hole:.4g} mm hole; give at least {1.25 * bolt.diameter:.0f} mm.")


def _plate_part(b: Builder, p: RearReceiver, side: int, shape: PlateShape) -> None:
    """The left plate, and the right one: one line when they are mirror images, two when the rails differ."""
    name, steel = ("left", "right")[side < 0], catalogue.material(p.plate_material)
    b.parts.append(Part(f"B{name[0].upper()}", f"{name} side plate", f"plate {catalogue.plate(p.plate).name}", steel, (shape,), "plates", side=name))


def place_bolts(b: Builder, p: RearReceiver, bolted: dict[Side, tuple[HardPoint, ...]], t: float) -> None:
    """Bolt, washers and nut through an open hole; bolt and washer in a thread; washer and nut on a stud."""
    bolt, grade, steel = catalogue.bolt(p.bolt), catalogue.bolt_grade(p.bolt_grade), catalogue.material("4140-QT")
    step = 5.0 if bolt.system == "metric" else 6.35
    screws: dict[float, list[TurnedShape]] = {}
    nuts, washers = [], []

    def washer(x: float, y: float, z: float, axis: Vec) -> None:
        washers.append(TurnedShape((x, y, z), axis, ((bolt.washer, bolt.washer_od, 0),), bolt.diameter + 0.5))

    for joint, points in zip((j for j in b.joints if isinstance(j, BoltJoint)), bolted.values(), strict=True):
        out = joint.away  # heads on the plate, nuts inside the rail
        axis = (0.0, -float(out), 0.0)
        for (x, y, z), point in zip(joint.holes, points, strict=True):
            wall = point.wall_mm or joint.rail[1]
            washer(x, y + out * (t + bolt.washer), z, axis)
            if point.fixing == "stud":
                nuts.append(TurnedShape((x, y + out * (t + bolt.washer + bolt.nut), z), axis, ((bolt.nut, bolt.across_flats, 6),), bolt.diameter))
                continue
            if point.fixing == "through":
                size = math.ceil((t + wall + 2 * bolt.washer + bolt.nut + 3 * bolt.pitch) / step) * step
                washer(x, y - out * wall, z, axis)
                nuts.append(TurnedShape((x, y - out * (wall + bolt.washer), z), axis, ((bolt.nut, bolt.across_flats, 6),), bolt.diameter))
            else:
                size = math.ceil((t + wall + bolt.washer + bolt.pitch) / step) * step
            screws.setdefault(size, []).append(TurnedShape((x, y + out * (t + bolt.washer + bolt.head), z), axis, ((bolt.head, bolt.across_flats, 6), (size, bolt.diameter, 0))))
    for n, (size, shapes) in enumerate(sorted(screws.items())):
        long = f"{size:g} mm" if bolt.system == "metric" else f"{size / 25.4:g} in"
        b.parts.append(Part("X1" if n == 0 else f"X{5 + n}", f"bolt {bolt.name} × {long}", f"{bolt.name} grade {grade.name}", steel, tuple(shapes), "bolts", hardware=True))
    if nuts:
        b.parts.append(Part("X4", f"self-locking nut {bolt.name}", f"{bolt.name} for grade {grade.name}", steel, tuple(nuts), "bolts", hardware=True))
    b.parts.append(Part("X5", f"washer {bolt.name}", bolt.name, catalogue.material("A36"), tuple(washers), "bolts", hardware=True))
