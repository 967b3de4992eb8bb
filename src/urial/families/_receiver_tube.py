"""A receiver tube on a cross tube: its welds, gussets, chain plate and plug bracket."""

from __future__ import annotations

from itertools import pairwise
from typing import TYPE_CHECKING

from urial.assembly import outline as outlines
from urial.assembly.model import BarShape, Beam, Builder, BuildError, EyeJoint, Hole, NetSection, Part, PlateShape, Vec, WallJoint, WeldJoint, loop
from urial.assembly.net import cross_hole
from urial.assembly.throats import fillet_throat, flare_throat
from urial.stock import catalogue
from urial.stock.sections import rect_bar

if TYPE_CHECKING:
    from urial.families.rear_receiver import RearReceiver

X: Vec = (1.0, 0.0, 0.0)
Y: Vec = (0.0, 1.0, 0.0)
Z: Vec = (0.0, 0.0, 1.0)


def bearing_nodes(p: RearReceiver, mouth: Vec, centre: Vec) -> dict[str, tuple[str, Vec]]:
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


def place_receiver(b: Builder, p: RearReceiver, mouth: Vec, centre: Vec, pipe: catalogue.StockSection, tube: catalogue.StockSection,
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
