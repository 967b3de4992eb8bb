"""Rear receiver: side plates bolted to the rails, a cross tube between them, a receiver tube, chain plate, ball mount."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from urial.assembly.model import (
    Assembly,
    BarShape,
    Beam,
    Box,
    Builder,
    BuildError,
    ChainLink,
    Dimension,
    NetSection,
    Part,
    Vec,
)
from urial.assembly.net import opened_tube
from urial.families import Family, register
from urial.families._ball_mount import BallMount, ball_height_above_bar, place
from urial.families._rail_plates import bolted_points, place_bolts, place_side_plate, rail_face
from urial.families._receiver_tube import bearing_nodes, place_receiver
from urial.job.fields import choice, length, stock
from urial.job.host import SIDES, Side, Vehicle
from urial.job.model import Design
from urial.stock import catalogue

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
    bolted = {side: bolted_points(v, side) for side in SIDES}
    faces = {side: rail_face(b, p, v, side, bolted[side]) for side in SIDES}
    ends = {side: face if p.plates_on == "outside" else face - plate_t for side, face in faces.items()}
    mouth = (-v.rear_overhang_mm + p.setback_mm, 0.0, v.rail_bottom_mm - p.drop_mm)
    sunk = {"under": 0.0, "notched": p.notch_mm, "through": (tube.height + pipe.height) / 2}[p.mount]
    centre = (mouth[0] + p.mouth_to_tube_mm, 0.0, mouth[2] + (pipe.height + tube.height) / 2 - sunk)
    _fits(p, tube, pipe, ends, mouth, centre)
    place_receiver(b, p, mouth, centre, pipe, tube, pipe_steel, size, electrode)
    _cross_tube(b, p, centre, ends, tube, pipe, tube_steel, electrode)
    for name in SIDES:
        place_side_plate(b, p, v, name, bolted[name], centre, faces[name], ends[name], plate_t, tube, tube_steel, electrode)
    place_bolts(b, p, bolted, plate_t)
    place(b, p.ball_mount, mouth, size, pipe, pipe_steel, electrode, bearing_nodes(p, mouth, centre))
    _dimensions(b, p, v, mouth, centre)
    _ground(b, v, mouth, pipe)
    return b.build(CHAIN, "ball", ("chain left", "chain right"))


def _fits(p: RearReceiver, tube: catalogue.StockSection, pipe: catalogue.StockSection, ends: dict[Side, float], mouth: Vec, centre: Vec) -> None:
    """Refuse what cannot be put together."""
    if min(ends.values()) < pipe.width:
        raise BuildError(f"Rail spacing leaves {sum(ends.values()):.0f} mm for the cross tube, less than two receivers side by side; measure the spacing again.")
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


def _cross_tube(b: Builder, p: RearReceiver, centre: Vec, ends: dict[Side, float], tube: catalogue.StockSection, pipe: catalogue.StockSection,
                steel: catalogue.Material, electrode: catalogue.Electrode) -> None:  # fmt: skip
    section, x, z, half = tube.section(steel.wall_factor), centre[0], centre[2], pipe.width / 2
    b.nodes["tube middle"] = centre
    for name, end in ends.items():
        b.nodes[f"tube {name}"] = (x, end if name == "left" else -end, z)
        b.beams.append(Beam(f"cross tube {name}", f"tube {name}", "tube middle", section, steel.beside_weld(), (0, 0, 1), "A", "tube", "cross tube",
                            unbraced=sum(ends.values()), judged=(0.0, 1 - half / end)))  # fmt: skip
    cuts: tuple[Box, ...] = ()
    foot = z - tube.height / 2
    if p.mount == "notched":
        cuts = (Box((x - tube.width, -half, foot - 1), (x + tube.width, half, foot + p.notch_mm)),)
    elif p.mount == "through":
        cuts = (Box((x - tube.width, -half, z - pipe.height / 2), (x + tube.width, half, z + pipe.height / 2)),)
    b.parts.append(Part("A", "cross tube", tube.title, steel, (BarShape(tube, (x, ends["left"], z), (x, -ends["right"], z), (0, 0, 1), (), cuts),), "tube"))
    if p.mount != "under":
        low = foot if p.mount == "notched" else z - pipe.height / 2
        high = foot + p.notch_mm if p.mount == "notched" else z + pipe.height / 2
        area, wy, wz = opened_tube(section, low - z, high - z)
        for name, end in ends.items():
            b.joints.append(NetSection(f"cross tube {name} at receiver", "cross tube at the opening for the receiver", "tube", "A", f"cross tube {name}", 1 - half / end,
                                       steel.beside_weld(), section, area, wy, wz, f"opening for the receiver ({p.mount})"))  # fmt: skip


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
    if p.ball_mount.shape != "straight":
        bar_top = mouth[2] + catalogue.bar(p.ball_mount.bar).height / 2
        b.dimensions.append(Dimension("drop or rise", (ball[0], 0, bar_top), (ball[0], 0, bar_top + ball_height_above_bar(p.ball_mount)), "z", ("side",), m + "ball_drop_mm", "high", 0))


def _ground(b: Builder, v: Vehicle, mouth: Vec, pipe: catalogue.StockSection) -> None:
    low = min(mouth[2] - pipe.height / 2, b.places["ball_seat"][2])
    if low < 180:
        b.warnings.append(f"Only {low:.0f} mm to the ground when empty, less when loaded; a smaller drop clears ramps and kerbs.")
    b.places["departure"] = (b.places["ball"][0], 0.0, low)


register(Family("rear-receiver", "Rear receiver with ball mount", RearReceiver, Vehicle, build))
