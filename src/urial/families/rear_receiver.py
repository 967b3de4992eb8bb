"""Rear receiver: side plates bolted to the rails, a cross tube between them, a receiver tube, chain plate, ball mount."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Annotated, Literal

from pydantic import Field

from urial.assembly import outline as outlines
from urial.assembly.model import (
    Assembly,
    BarShape,
    Beam,
    BoltJoint,
    Box,
    Builder,
    BuildError,
    ChainLink,
    Dimension,
    EyeJoint,
    Hole,
    NetSection,
    Part,
    PlateShape,
    TurnedShape,
    Vec,
    View,
    WallJoint,
    WeldJoint,
    loop,
)
from urial.assembly.net import cross_hole, opened_tube
from urial.assembly.throats import fillet_throat, flare_throat
from urial.families import Family, register
from urial.families._ball_mount import BallMount, ball_height_above_bar, place
from urial.job.fields import choice, length, stock
from urial.job.model import Design, HardPoint, Vehicle
from urial.stock import catalogue
from urial.stock.sections import rect_bar

Corner = tuple[float, float]
X: Vec = (1.0, 0.0, 0.0)
Y: Vec = (0.0, 1.0, 0.0)
Z: Vec = (0.0, 0.0, 1.0)


class RearReceiver(Design):
    """Parameters of a rear receiver hitch."""

    family: Literal["rear-receiver"] = "rear-receiver"
    plate: str = stock("1/2", "side plate", "plate", "Thickness of the plates on the rails.", group="Side plates")
    plate_material: str = stock("A36", "side plate steel", "material", group="Side plates")
    plates_on: Literal["outside", "inside"] = choice("outside", "plates on", "Which face of the rails the plates lie on.", words={"outside": "outside faces", "inside": "inside faces"}, group="Side plates")
    hole_edge_mm: float = length(32.0, "metal round holes", "Hole centre to the plate's edge.", lo=2, hi=150, group="Side plates")
    tube_margin_mm: float = length(20.0, "metal round tube", "Tube's side to the plate's edge, room for the weld.", lo=0, hi=150, group="Side plates")
    plate_outline: tuple[Annotated[Corner, Field()], ...] = Field((), title="own plate outline", max_length=40)
    cross_tube: str = stock("3x3x1/4", "cross tube", "bar", group="Cross tube", only="rect_tube")
    cross_tube_material: str = stock("A500-B", "cross tube steel", "material", group="Cross tube")
    receiver: str = stock("2", "receiver", "receiver", "Nominal bar size in inches.", group="Receiver")
    receiver_material: str = stock("A500-B", "receiver steel", "material", group="Receiver")
    receiver_length_mm: float = length(320.0, "receiver length", lo=60, hi=1200, group="Receiver")
    mount: Literal["under", "notched", "through"] = choice("under", "receiver sits", "Under the tube is quickest; through it is strongest and lifts the mouth.", words={"under": "under the tube", "notched": "notched into it", "through": "through it"}, group="Receiver")
    notch_mm: float = length(12.0, "notch depth", "How far the receiver is let into the tube, when notched.", lo=1, hi=100, group="Receiver")
    drop_mm: float = length(120.0, "drop", "Rail underside to the receiver's middle.", lo=-300, hi=900, group="Receiver")
    setback_mm: float = length(0.0, "setback", "Bumper face to the receiver mouth, forward.", lo=-500, hi=1500, group="Receiver")
    mouth_to_tube_mm: float = length(180.0, "mouth to cross tube", "Receiver mouth to the cross tube's middle.", lo=10, hi=1200, group="Receiver")
    chain_plate: str = stock("1/2", "chain plate", "plate", group="Chain plate")
    chain_width_mm: float = length(190.0, "chain plate width", lo=50, hi=500, group="Chain plate")
    chain_length_mm: float = length(90.0, "chain plate length", "Along the receiver.", lo=25, hi=400, group="Chain plate")
    chain_from_mouth_mm: float = length(40.0, "mouth to chain plate", lo=0, hi=600, group="Chain plate")
    chain_spacing_mm: float = length(130.0, "between chain holes", lo=30, hi=460, group="Chain plate")
    chain_hole_mm: float = length(25.0, "chain hole", lo=6, hi=60, group="Chain plate")
    chain_hook_mm: float = length(12.7, "chain hook or shackle pin", lo=4, hi=40, group="Chain plate")
    chain_edge_mm: float = length(30.0, "chain hole to edge", "Hole centre to the plate's rear edge.", lo=6, hi=120, group="Chain plate")
    plug_bracket: bool = choice(True, "plug bracket", group="Chain plate")
    gussets: Literal["none", "rear", "both"] = choice("both", "gussets", "Triangles on the receiver against the tube.", words={"none": "none", "rear": "behind the tube", "both": "behind and in front"}, group="Gussets")
    gusset: str = stock("1/2", "gusset plate", "plate", group="Gussets")
    gusset_along_mm: float = length(85.0, "gusset along receiver", lo=15, hi=400, group="Gussets")
    gusset_up_mm: float = length(45.0, "gusset up the tube", lo=10, hi=200, group="Gussets")
    weld_receiver_mm: float = length(8.0, "receiver weld leg", lo=2, hi=25, group="Welds")
    weld_plate_mm: float = length(6.0, "side plate weld leg", lo=2, hi=25, group="Welds")
    weld_chain_mm: float = length(6.0, "chain plate weld leg", lo=2, hi=25, group="Welds")
    electrode: str = stock("E70", "electrode", "electrode", group="Welds")
    bolt: str = stock("M12", "rail bolts", "bolt", group="Bolts")
    bolt_grade: str = stock("10.9", "bolt grade", "bolt grade", group="Bolts")
    threads_in_plane: bool = choice(True, "threads in the shear plane", group="Bolts")
    ball_mount: BallMount = Field(default_factory=BallMount)


CHAIN = (
    ChainLink("ball", "ball"), ChainLink("mount", "ball mount"), ChainLink("pin", "pin"), ChainLink("receiver", "receiver"),
    ChainLink("chains", "chain plate"), ChainLink("weld receiver", "weld, receiver"), ChainLink("tube", "cross tube"),
    ChainLink("weld plates", "weld, plates"), ChainLink("plates", "side plates"), ChainLink("bolts", "bolts"),
    ChainLink("rail", "frame rail", yours=False), ChainLink("vehicle", "vehicle limits", yours=False),
)  # fmt: skip


def build(p: RearReceiver, v: Vehicle) -> Assembly:
    """Place the parts the way they are measured: mouth from the bumper, receiver from the rails, tube, plates, bolts."""
    b = Builder()
    size, electrode = catalogue.receiver(p.receiver), catalogue.electrode(p.electrode)
    tube, pipe = catalogue.bar(p.cross_tube), catalogue.bar(size.tube)
    tube_steel, pipe_steel = catalogue.material(p.cross_tube_material), catalogue.material(p.receiver_material)
    if tube.shape != "rect_tube":
        raise BuildError(f"Cross tube {tube.title} is not a square or rectangular tube; choose one that is.")
    plate_t = catalogue.plate(p.plate).thickness
    face = v.rail_spacing_mm / 2
    tube_end = face if p.plates_on == "outside" else face - plate_t
    mouth = (-v.rear_overhang_mm + p.setback_mm, 0.0, v.rail_bottom_mm - p.drop_mm)
    sunk = {"under": 0.0, "notched": p.notch_mm, "through": (tube.height + pipe.height) / 2}[p.mount]
    centre = (mouth[0] + p.mouth_to_tube_mm, 0.0, mouth[2] + (pipe.height + tube.height) / 2 - sunk)
    _fits(p, tube, pipe, tube_end, mouth, centre)
    _receiver(b, p, mouth, centre, pipe, tube, pipe_steel, size, electrode)
    _cross_tube(b, p, centre, tube_end, tube, pipe, tube_steel, electrode)
    for side, points in ((1, v.left), (-1, v.right)):
        _side_plate(b, p, v, side, points, centre, tube_end, plate_t, tube, tube_steel, electrode)
    _bolts(b, p, v, plate_t)
    place(b, p.ball_mount, mouth, size, pipe, pipe_steel, electrode, _walls(p, mouth, centre))
    _dimensions(b, p, v, mouth, centre)
    _ground(b, v, mouth, pipe)
    return b.build(CHAIN, "ball", ("chain left", "chain right"))


def _fits(p: RearReceiver, tube: catalogue.StockSection, pipe: catalogue.StockSection, tube_end: float, mouth: Vec, centre: Vec) -> None:
    """Refuse what cannot be put together."""
    if tube_end < pipe.width:
        raise BuildError(f"Rail spacing leaves {2 * tube_end:.0f} mm for the cross tube, less than two receivers side by side; measure the spacing again.")
    if p.mouth_to_tube_mm + tube.width / 2 > p.receiver_length_mm:
        raise BuildError(f"The receiver ({p.receiver_length_mm:.0f} mm) ends under the cross tube; make it at least {p.mouth_to_tube_mm + tube.width / 2:.0f} mm long or bring the tube nearer the mouth.")
    if p.mouth_to_tube_mm < tube.width / 2:
        raise BuildError("The cross tube sits across the receiver's mouth; move it farther from the mouth.")
    if p.mount == "through" and pipe.height > tube.height - 2 * tube.wall:
        raise BuildError(f"A receiver {pipe.height:.4g} mm high does not go through a cross tube {tube.height:.4g} mm high; choose a taller tube or mount it under.")
    if p.mount == "notched" and p.notch_mm > tube.height - 2 * tube.wall:
        raise BuildError(f"A notch {p.notch_mm:.4g} mm deep cuts the {tube.title} cross tube in two; make it shallower.")
    if mouth[2] - pipe.height / 2 < 40:
        raise BuildError("The receiver would be in the ground; make the drop smaller or check the height of the rails.")


def _walls(p: RearReceiver, mouth: Vec, centre: Vec) -> dict[str, tuple[str, Vec]]:
    """Which receiver node (and offset to the receiver's axis) each contact of the bar bears on."""
    at = _stations(p)
    out: dict[str, tuple[str, Vec]] = {}
    for contact, name in (("mouth contact", "mouth"), ("pin contact", "pin"), ("end contact", "bar")):
        node, offset = _node_of(at, at[name], mouth, centre)
        out[contact] = (node, offset)
    return out


def _stations(p: RearReceiver) -> dict[str, float]:
    """Distances from the mouth, mm, of everything that joins the receiver's axis."""
    m = p.ball_mount
    return {"mouth": 0.0, "pin": m.mouth_to_pin_mm, "bar": min(m.mouth_to_pin_mm + m.past_pin_mm, p.receiver_length_mm),
            "chain": p.chain_from_mouth_mm + p.chain_length_mm / 2, "tube": p.mouth_to_tube_mm}  # fmt: skip


def _node_of(at: dict[str, float], x: float, mouth: Vec, centre: Vec) -> tuple[str, Vec]:
    """The node that carries a place on the receiver: the cross tube's middle, or one of the receiver's own."""
    if abs(x - at["tube"]) < 1.0:
        return "tube middle", (0.0, 0.0, mouth[2] - centre[2])
    return next(f"receiver {n}" for n in ("mouth", "pin", "bar", "chain") if abs(at[n] - x) < 1.0), (0.0, 0.0, 0.0)


def _receiver(b: Builder, p: RearReceiver, mouth: Vec, centre: Vec, pipe: catalogue.StockSection, tube: catalogue.StockSection,
              steel: catalogue.Material, size: catalogue.Receiver, electrode: catalogue.Electrode) -> None:  # fmt: skip
    mx, _, z = mouth
    pin_x = mx + p.ball_mount.mouth_to_pin_mm
    at = _stations(p)
    if not 0 < p.ball_mount.mouth_to_pin_mm < p.receiver_length_mm:
        raise BuildError("The pin hole is outside the receiver; check mouth to pin against the receiver's length.")
    section = pipe.section(steel.wall_factor)
    places: list[float] = []
    for x in sorted(at.values()):
        if not places or x - places[-1] >= 1.0:
            places.append(x)
    for x in places:
        node, _ = _node_of(at, x, mouth, centre)
        if node != "tube middle":
            b.nodes[node] = (mx + x, 0.0, z)
    beams = []
    for k, (x0, x1) in enumerate(pairwise(places)):
        (i, off_i), (j, off_j) = _node_of(at, x0, mouth, centre), _node_of(at, x1, mouth, centre)
        # at the tube the receiver is held over the tube's width: it is judged up to the tube's faces
        clear = tube.width / 2 / (x1 - x0)
        judged = (min(clear, 1.0) if i == "tube middle" else 0.0, max(1 - clear, 0.0) if j == "tube middle" else 1.0)
        beams.append(Beam(f"receiver {k + 1}", i, j, section, steel.beside_weld(), (0, 0, 1), "C", "receiver", "receiver", k=2.0,
                          unbraced=p.mouth_to_tube_mm, judged=judged if judged[0] <= judged[1] else (0.5, 0.5), offset_i=off_i, offset_j=off_j))  # fmt: skip
    b.beams += beams
    ends = tuple((m.id, e) for m in beams for e, n in (("i", m.i), ("j", m.j)) if n == "tube middle")
    b.parts.append(Part("C", f"receiver {size.name} in", pipe.title, steel, (BarShape(
        pipe, mouth, (mx + p.receiver_length_mm, 0, z), (0, 0, 1), (Hole((pin_x, 0, z), (0, 1, 0), size.pin_hole),)),), "receiver"))  # fmt: skip
    area, wy, wz = cross_hole(section, size.pin_hole)
    near = next(m for m in beams if abs(b.nodes.get(m.i, centre)[0] - pin_x) < 1.0 or abs(b.nodes.get(m.j, centre)[0] - pin_x) < 1.0)
    fraction = 0.0 if abs(b.nodes.get(near.i, centre)[0] - pin_x) < 1.0 else 1.0
    b.joints.append(NetSection("receiver at pin hole", "receiver at pin hole", "receiver", "C", near.id, fraction, steel.beside_weld(), section, area, wy, wz,
                               f"{size.pin_hole:.4g} mm pin hole"))  # fmt: skip
    _receiver_welds(b, p, mouth, centre, pipe, tube, steel, electrode, ends)
    _chain_plate(b, p, mouth, centre, pipe, steel, electrode, at)


def _receiver_welds(b: Builder, p: RearReceiver, mouth: Vec, centre: Vec, pipe: catalogue.StockSection, tube: catalogue.StockSection,
                    steel: catalogue.Material, electrode: catalogue.Electrode, ends: tuple[tuple[str, str], ...]) -> None:  # fmt: skip
    tube_steel = catalogue.material(p.cross_tube_material)
    top, foot = mouth[2] + pipe.height / 2, centre[2] - tube.height / 2
    w, radius = p.weld_receiver_mm, min(pipe.radius, tube.radius)
    base = ((steel, pipe.wall * steel.wall_factor), (tube_steel, tube.wall * tube_steel.wall_factor))
    note = ""
    if p.mount == "under":
        # flare-bevel beads all round; their middle lies half a corner radius inside the outlines
        lines = loop((centre[0], 0, top), X, Y, tube.width - tube.radius, pipe.width - pipe.radius)
        effective = flare_throat(w, radius)
        note = "flare-bevel beads where the tubes' round corners meet the flats"
    elif p.mount == "notched":
        half, faces = pipe.width / 2, []
        for x in (centre[0] - tube.width / 2, centre[0] + tube.width / 2):
            faces += [((x, -half, foot), (x, -half, top)), ((x, -half, top), (x, half, top)), ((x, half, top), (x, half, foot))]
        x0, x1 = centre[0] - tube.width / 2, centre[0] + tube.width / 2
        lines = (*faces, ((x0, -half, foot), (x1, -half, foot)), ((x0, half, foot), (x1, half, foot)))
        effective = fillet_throat(w)
    else:
        lines = tuple(run for x in (centre[0] - tube.width / 2, centre[0] + tube.width / 2)
                      for run in loop((x, 0, mouth[2]), Y, Z, pipe.width, pipe.height, pipe.radius))  # fmt: skip
        effective = fillet_throat(w)
    on_tube, on_receiver = list(lines), list(lines)
    gusseted = p.gussets != "none" and _gussets(b, p, mouth, centre, pipe, tube, on_tube, on_receiver)
    for where, runs in ((" at the tube", on_tube), (" at the receiver", on_receiver)) if gusseted else (("", on_tube),):
        b.joints.append(WeldJoint(f"weld receiver{where}", "receiver to cross tube" + where.replace(" at", ", at"),
                                  "weld receiver", ("A", "C"), tuple(runs), w, effective, electrode.FEXX, base, ends, None, "design.weld_receiver_mm", note,
                                  (catalogue.material(p.plate_material), catalogue.plate(p.gusset).thickness, len(lines)) if gusseted else None))  # fmt: skip
    if p.mount == "under":
        b.joints.append(WallJoint("tube wall at receiver", "cross tube wall under the receiver", "tube", "A", tube.section(tube_steel.wall_factor), tube_steel,
                                  ends, (centre[0], 0, foot), pipe.width))  # fmt: skip


def _gussets(b: Builder, p: RearReceiver, mouth: Vec, centre: Vec, pipe: catalogue.StockSection, tube: catalogue.StockSection,
             on_tube: list[tuple[Vec, Vec]], on_receiver: list[tuple[Vec, Vec]]) -> bool:  # fmt: skip
    """Triangles in the centre plane standing on the receiver's top against the tube's upright faces; False if no room."""
    t, top = catalogue.plate(p.gusset).thickness, mouth[2] + pipe.height / 2
    foot = max(top, centre[2] - tube.height / 2)
    room = centre[2] + tube.height / 2 - tube.radius - top
    up = min(p.gusset_up_mm, room)
    if up < 12:
        b.warnings.append("There is no flat side of the cross tube above the receiver for gussets to stand against; they are left out.")
        return False
    if up < p.gusset_up_mm:
        b.warnings.append(f"The gussets are {up:.0f} mm high, as much as the cross tube's flat side takes.")
    start = foot + (tube.radius if p.mount == "under" else 0.0)
    shapes = []
    for way in (-1, 1) if p.gussets == "both" else (-1,):
        x = centre[0] + way * tube.width / 2
        tip = x + way * p.gusset_along_mm
        if not mouth[0] <= tip <= mouth[0] + p.receiver_length_mm:
            raise BuildError("The gusset runs past the end of the receiver; make it shorter along the receiver.")
        shapes.append(PlateShape(outlines.polygon([(x, top), (tip, top), (tip, top + 6), (x + way * 6, top + up), (x, top + up)]), (), t, (0, t / 2, 0), X, Z))
        for y in (-t / 2, t / 2):
            if top + up > start + 1:
                on_tube.append(((x, y, start), (x, y, top + up)))
            on_receiver.append(((x, y, top), (tip, y, top)))
    b.parts.append(Part("F", "gusset", f"plate {catalogue.plate(p.gusset).name}", catalogue.material(p.plate_material), tuple(shapes), "weld receiver"))
    return True


def _chain_plate(b: Builder, p: RearReceiver, mouth: Vec, centre: Vec, pipe: catalogue.StockSection, steel: catalogue.Material,
                 electrode: catalogue.Electrode, at: dict[str, float]) -> None:  # fmt: skip
    t, plate_steel = catalogue.plate(p.chain_plate).thickness, catalogue.material(p.plate_material)
    x0 = mouth[0] + p.chain_from_mouth_mm
    x1, bottom = x0 + p.chain_length_mm, mouth[2] - pipe.height / 2
    if x1 > mouth[0] + p.receiver_length_mm:
        raise BuildError("The chain plate runs past the front of the receiver; shorten it or move it rearward.")
    half, hole_x, hole_y = p.chain_width_mm / 2, x0 + p.chain_edge_mm, p.chain_spacing_mm / 2
    edge = min(p.chain_edge_mm, half - hole_y, x1 - hole_x) - p.chain_hole_mm / 2
    if edge < 3:
        raise BuildError("A chain hole breaks out of the chain plate's edge; make the plate wider or longer, or the hole smaller.")
    if hole_y - p.chain_hole_mm / 2 < pipe.width / 2 + 2:
        raise BuildError("The chain holes are under the receiver where no hook goes in; set them farther apart.")
    outline = outlines.rectangle(x0, -half, x1, half, min(15.0, p.chain_length_mm / 4))
    holes = tuple((hole_x, s * hole_y, p.chain_hole_mm) for s in (1, -1))
    b.parts.append(Part("D", "chain plate", f"plate {catalogue.plate(p.chain_plate).name}", plate_steel, (PlateShape(
        outline, holes, t, (0, 0, bottom - t), X, Y, ((x0 - 5, 0, x1 + 5, 0),)),), "chains"))  # fmt: skip
    node, offset = _node_of(at, at["chain"], mouth, centre)
    strip = rect_bar(p.chain_length_mm, t)
    for name, s in (("left", 1), ("right", -1)):
        b.nodes[f"chain {name}"] = (hole_x, s * hole_y, bottom - t / 2)
        y = s * pipe.width / 2
        b.beams.append(Beam(f"chain plate {name}", node, f"chain {name}", strip, plate_steel, (0, 0, 1), "D", "chains", "chain plate", k=2.0,
                            offset_i=(offset[0], y, offset[2] - pipe.height / 2 - t / 2)))  # fmt: skip
        b.joints.append(EyeJoint(f"chain hole {name}", f"{name} chain hole", "chains", "D", (f"chain plate {name}", "j"), plate_steel, t, p.chain_hole_mm, p.chain_hook_mm, edge))
    w = pipe.width / 2 - pipe.radius / 2
    lines: tuple[tuple[Vec, Vec], ...] = (((x0, w, bottom), (x1, w, bottom)), ((x0, -w, bottom), (x1, -w, bottom)), ((x1, -w, bottom), (x1, w, bottom)))
    b.joints.append(WeldJoint("weld chain plate", "chain plate to receiver", "chains", ("C", "D"), lines, p.weld_chain_mm, flare_throat(p.weld_chain_mm, pipe.radius),
                              electrode.FEXX, ((steel, pipe.wall * steel.wall_factor), (plate_steel, t)), (("chain plate left", "i"), ("chain plate right", "i")), None, "design.weld_chain_mm",
                              "flare-bevel along the receiver's lower corners, fillet across the front"))  # fmt: skip
    if p.plug_bracket:
        y0, bz = pipe.width / 2, bottom + 43  # clear of the chain plate
        plug_x = mouth[0] + p.ball_mount.mouth_to_pin_mm + 38  # and forward of the pin, which slides in from the side
        b.parts.append(Part("E", "plug bracket", "plate 11 ga", plate_steel, (PlateShape(
            outlines.rectangle(y0, bz - 40, y0 + 82, bz + 40, 8), ((y0 + 42, bz, 56.0),), catalogue.plate("11 ga").thickness, (plug_x, 0, 0), Y, Z),), "receiver"))  # fmt: skip


def _cross_tube(b: Builder, p: RearReceiver, centre: Vec, tube_end: float, tube: catalogue.StockSection, pipe: catalogue.StockSection,
                steel: catalogue.Material, electrode: catalogue.Electrode) -> None:  # fmt: skip
    section, x, z = tube.section(steel.wall_factor), centre[0], centre[2]
    b.nodes["tube middle"] = centre
    clear = pipe.width / 2 / tube_end
    for name, s in (("left", 1), ("right", -1)):
        b.nodes[f"tube {name}"] = (x, s * tube_end, z)
        b.beams.append(Beam(f"cross tube {name}", f"tube {name}", "tube middle", section, steel.beside_weld(), (0, 0, 1), "A", "tube", "cross tube",
                            unbraced=2 * tube_end, judged=(0.0, 1 - clear)))  # fmt: skip
    cuts: tuple[Box, ...] = ()
    foot, half = z - tube.height / 2, pipe.width / 2
    if p.mount == "notched":
        cuts = (Box((x - tube.width, -half, foot - 1), (x + tube.width, half, foot + p.notch_mm)),)
    elif p.mount == "through":
        cuts = (Box((x - tube.width, -half, z - pipe.height / 2), (x + tube.width, half, z + pipe.height / 2)),)
    b.parts.append(Part("A", "cross tube", tube.title, steel, (BarShape(tube, (x, tube_end, z), (x, -tube_end, z), (0, 0, 1), (), cuts),), "tube"))
    if p.mount != "under":
        low = foot if p.mount == "notched" else z - pipe.height / 2
        high = foot + p.notch_mm if p.mount == "notched" else z + pipe.height / 2
        area, wy, wz = opened_tube(section, low - z, high - z)
        for name in ("left", "right"):
            b.joints.append(NetSection(f"cross tube {name} at receiver", "cross tube at the opening for the receiver", "tube", "A", f"cross tube {name}", 1 - clear,
                                       steel.beside_weld(), section, area, wy, wz, f"opening for the receiver ({p.mount})"))  # fmt: skip


def _side_plate(b: Builder, p: RearReceiver, v: Vehicle, side: int, points: tuple[HardPoint, ...], centre: Vec, tube_end: float,
                t: float, tube: catalogue.StockSection, tube_steel: catalogue.Material, electrode: catalogue.Electrode) -> None:  # fmt: skip
    name, steel, bolt = ("left", "right")[side < 0], catalogue.material(p.plate_material), catalogue.bolt(p.bolt)
    x, z = centre[0], centre[2]
    holes = [(-h.behind_axle_mm, h.height_mm) for h in points]
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
    rail = (catalogue.material(v.rail_material), v.rail_wall_mm)
    rail_edge = min(min(w - v.rail_bottom_mm, v.rail_bottom_mm + v.rail_height_mm - w) for _, w in holes)
    if rail_edge < d / 2 + 1:
        raise BuildError(f"A {name} hole is not in the rail: the rail runs from {v.rail_bottom_mm:.0f} to {v.rail_bottom_mm + v.rail_height_mm:.0f} mm above ground; measure the hole or the rail again.")
    steps = [math.hypot(a[0] - c[0], a[1] - c[1]) for k, a in enumerate(holes) for c in holes[:k]]
    pitch = min([*steps, 2 * e, 4 * max(reach - tube.height / 2, d)])
    prying_b = max(min(lowest - (z + tube.height / 2), reach - tube.height / 2), d)
    b.joints.append(BoltJoint(
        f"bolts {name}", f"{name} rail bolts", "bolts", f"foot {name}", f"B{name[0].upper()}", side, side if p.plates_on == "outside" else -side, tuple((u, side * face_of(p, v), w) for u, w in holes), d, bolt,
        catalogue.bolt_grade(p.bolt_grade), p.threads_in_plane, (steel, t), rail, outline, tuple(holes), rail_edge,
        (max(cu - u0, e), max(u1 - cu, e), min(max(cw - v0, e), max(cw - v.rail_bottom_mm, e)), max(v1 - cw, e)), (prying_b, e, max(pitch, d * 1.2))))  # fmt: skip
    origin_y = inner if side > 0 else inner - t
    _plate_part(b, p, side, PlateShape(outline, tuple((u, w, bolt.hole) for u, w in holes), t, (0, origin_y + t, 0), X, Z,
                                       ((x - tube.width / 2, z, x + tube.width / 2, z), (x, z - tube.height / 2, x, z + tube.height / 2)),))  # fmt: skip


def face_of(p: RearReceiver, v: Vehicle) -> float:
    """y of the rail face the plates lie on, mm from the centre plane."""
    return v.rail_spacing_mm / 2


def _check_holes(p: RearReceiver, name: str, holes: list[tuple[float, float]], points: tuple[HardPoint, ...], bolt: catalogue.Bolt) -> None:
    for n, point in enumerate(points, 1):
        if bolt.diameter > point.hole_mm:
            raise BuildError(f"A {bolt.name} bolt does not go through the {point.hole_mm:.4g} mm hole {n} on the {name}; choose a smaller bolt or open the hole.")
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


def _bolts(b: Builder, p: RearReceiver, v: Vehicle, t: float) -> None:
    bolt, grade, steel = catalogue.bolt(p.bolt), catalogue.bolt_grade(p.bolt_grade), catalogue.material("4140-QT")
    grip = t + v.rail_wall_mm
    step = 5.0 if bolt.system == "metric" else 6.35
    size = math.ceil((grip + 2 * bolt.washer + bolt.nut + 3 * bolt.pitch) / step) * step
    screws, nuts, washers = [], [], []
    for joint in [j for j in b.joints if isinstance(j, BoltJoint)]:
        s = joint.side
        out = s if p.plates_on == "outside" else -s  # heads on the plate, nuts inside the rail
        for x, y, z in joint.holes:
            head = y + out * (t + bolt.washer + bolt.head)
            axis = (0.0, -float(out), 0.0)
            screws.append(TurnedShape((x, head, z), axis, ((bolt.head, bolt.across_flats, 6), (size, bolt.diameter, 0))))
            washers.append(TurnedShape((x, y + out * (t + bolt.washer), z), axis, ((bolt.washer, bolt.washer_od, 0),), bolt.diameter + 0.5))
            washers.append(TurnedShape((x, y - out * v.rail_wall_mm, z), axis, ((bolt.washer, bolt.washer_od, 0),), bolt.diameter + 0.5))
            nuts.append(TurnedShape((x, y - out * (v.rail_wall_mm + bolt.washer), z), axis, ((bolt.nut, bolt.across_flats, 6),), bolt.diameter))
    long = f"{size:g} mm" if bolt.system == "metric" else f"{size / 25.4:g} in"
    b.parts += [Part("X1", f"bolt {bolt.name} × {long}", f"{bolt.name} grade {grade.name}", steel, tuple(screws), "bolts", hardware=True),
                Part("X4", f"self-locking nut {bolt.name}", f"{bolt.name} for grade {grade.name}", steel, tuple(nuts), "bolts", hardware=True),
                Part("X5", f"washer {bolt.name}", bolt.name, catalogue.material("A36"), tuple(washers), "bolts", hardware=True)]  # fmt: skip


def _dimensions(b: Builder, p: RearReceiver, v: Vehicle, mouth: Vec, centre: Vec) -> None:
    ball, pin = b.places["ball"], b.places["pin"]
    m = "design.ball_mount."
    face, rail = v.rail_spacing_mm / 2, v.rail_bottom_mm
    b.dimensions += [
        Dimension("pin to ball", pin, ball, "x", ("side", "top"), m + "pin_to_ball_mm", "low", 0),
        Dimension("mouth to pin", mouth, pin, "x", ("side",), m + "mouth_to_pin_mm", "low", 1),
        Dimension("mouth to cross tube", mouth, centre, "x", ("side", "top"), "design.mouth_to_tube_mm", "low", 2),
        Dimension("drop", (mouth[0] + p.receiver_length_mm, 0, rail), (mouth[0] + p.receiver_length_mm, 0, mouth[2]), "z", ("side",), "design.drop_mm", "low", 0),
        Dimension("rail spacing", (centre[0], face, rail), (centre[0], -face, rail), "y", ("rear", "top"), "vehicle.rail_spacing_mm", "high", 0),
        Dimension("chain holes", (mouth[0], p.chain_spacing_mm / 2, mouth[2] - 30), (mouth[0], -p.chain_spacing_mm / 2, mouth[2] - 30), "y", ("rear",), "design.chain_spacing_mm", "low", 0),
        Dimension("receiver length", mouth, (mouth[0] + p.receiver_length_mm, 0, mouth[2]), "x", ("side", "top"), "design.receiver_length_mm", "low", 3),
        Dimension("underside of rails", (mouth[0], face, 0), (mouth[0], face, rail), "z", ("rear",), "vehicle.rail_bottom_mm", "low", 0),
    ]  # fmt: skip
    for side, points, y in (("left", v.left, face), ("right", v.right, -face)):
        first = (-points[0].behind_axle_mm, y, points[0].height_mm)
        views: tuple[View, ...] = ("side",) if side == "left" else ()
        b.dimensions += [
            Dimension(f"{side} hole 1 behind the axle", (0, y, first[2]), first, "x", views, f"vehicle.{side}.0.behind_axle_mm", "high", 0, survey=True),
            Dimension(f"{side} hole 1 above ground", (first[0], y, 0), first, "z", (*views, "rear"), f"vehicle.{side}.0.height_mm", "low" if side == "left" else "high", 0, survey=True),
        ]
    b.dimensions += [
        Dimension("axle to bumper face", (0, 0, v.bumper_bottom_mm), (-v.rear_overhang_mm, 0, v.bumper_bottom_mm), "x", ("side",), "vehicle.rear_overhang_mm", "low", 0, survey=True),
        Dimension("underside of rails above ground", (-v.rail_end_mm, 0, 0), (-v.rail_end_mm, 0, rail), "z", ("side",), "vehicle.rail_bottom_mm", "high", 0, survey=True),
        Dimension("rail spacing, measured", (centre[0], face, rail), (centre[0], -face, rail), "y", ("rear", "top"), "vehicle.rail_spacing_mm", "high", 0, survey=True),
    ]  # fmt: skip
    if p.ball_mount.shape != "straight":
        bar_top = mouth[2] + catalogue.bar(p.ball_mount.bar).height / 2
        b.dimensions.append(Dimension("drop or rise", (ball[0], 0, bar_top), (ball[0], 0, bar_top + ball_height_above_bar(p.ball_mount)), "z", ("side",), m + "ball_drop_mm", "high", 0))


def _ground(b: Builder, v: Vehicle, mouth: Vec, pipe: catalogue.StockSection) -> None:
    low = min(mouth[2] - pipe.height / 2, b.places["ball_seat"][2])
    if low < 180:
        b.warnings.append(f"Only {low:.0f} mm to the ground when empty, less when loaded; a smaller drop clears ramps and kerbs.")
    b.places["departure"] = (b.places["ball"][0], 0.0, low)


register(Family("rear-receiver", "Rear receiver with ball mount", RearReceiver, build))
