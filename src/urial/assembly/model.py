"""What a family builds: parts with their shapes, the beams that carry them, joints between them, and the load chain.

Everything is a frozen value in vehicle axes (x forward, y left, z up, mm).  Shapes hash, so a solid is made once.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

from urial.assembly.outline import Outline
from urial.stock.catalogue import Bolt, BoltGrade, Material, StockSection
from urial.stock.sections import Section

Vec = tuple[float, float, float]
View = Literal["side", "rear", "top"]


class BuildError(ValueError):
    """The parameters do not make a part; the message says what, where and what to do."""


@dataclass(frozen=True)
class Hole:
    """A round hole through ``centre`` along ``axis``."""

    centre: Vec
    axis: Vec
    diameter: float


@dataclass(frozen=True)
class Box:
    """An axis-aligned block cut away."""

    low: Vec
    high: Vec


@dataclass(frozen=True)
class BarShape:
    """A straight bar or tube from ``start`` to ``end`` (centre line); section z as near to ``up`` as can be.

    ``mitre`` tilts each end's cut about the section's y axis, radians, 0 = square; ends are at the centre line.
    """

    stock: StockSection
    start: Vec
    end: Vec
    up: Vec
    holes: tuple[Hole, ...] = ()
    cuts: tuple[Box, ...] = ()
    mitre: tuple[float, float] = (0.0, 0.0)


@dataclass(frozen=True)
class PlateShape:
    """A flat plate: outline in its own u–v plane, thickness along u × v from ``origin``."""

    outline: Outline
    holes: tuple[tuple[float, float, float], ...]  # u, v, diameter
    thickness: float
    origin: Vec
    u: Vec
    v: Vec
    centre_lines: tuple[tuple[float, float, float, float], ...] = ()
    fold_lines: tuple[tuple[float, float, float, float], ...] = ()


@dataclass(frozen=True)
class TurnedShape:
    """Coaxial steps (length, diameter, sides; 0 = round) stacked from ``base`` along ``axis``, and a sphere on top."""

    base: Vec
    axis: Vec
    steps: tuple[tuple[float, float, int], ...]
    bore: float = 0.0
    sphere: tuple[float, float] | None = None  # centre above base, diameter


Shape = BarShape | PlateShape | TurnedShape


@dataclass(frozen=True)
class Part:
    """A line of the parts list and its pieces in place."""

    mark: str
    name: str
    stock: str
    material: Material
    shapes: tuple[Shape, ...]
    link: str
    hardware: bool = False
    mirror: bool = False  # the pieces are a left and a right
    side: str = ""


@dataclass(frozen=True)
class Beam:
    """A member of the analysis; ``part`` None for contacts, which carry force but are not judged."""

    id: str
    i: str
    j: str
    section: Section
    material: Material
    up: Vec
    part: str | None
    link: str
    name: str
    k: float = 1.0  # effective length factor
    unbraced: float = 0.0  # mm; 0 = the beam's own length
    judged: tuple[float, float] = (0.0, 1.0)
    release_i: tuple[int, ...] = (0, 0, 0, 0, 0, 0)
    release_j: tuple[int, ...] = (0, 0, 0, 0, 0, 0)
    offset_i: Vec = (0.0, 0.0, 0.0)
    offset_j: Vec = (0.0, 0.0, 0.0)


End = tuple[str, str]  # beam id, "i" or "j"


@dataclass(frozen=True)
class WeldJoint:
    """Weld runs that pass on what the named beam ends bring."""

    id: str
    name: str
    link: str
    parts: tuple[str, str]
    lines: tuple[tuple[Vec, Vec], ...]
    leg: float
    throat: float  # effective, mm
    electrode: float  # FEXX, MPa
    base: tuple[tuple[Material, float], ...]  # material and thickness of each side
    ends: tuple[End, ...]
    edge: float | None = None  # thickness at an edge the weld runs along
    path: str = ""  # parameter of the leg
    note: str = ""
    gusset: tuple[Material, float, int] | None = None  # its steel and thickness; runs from this number on are its pairs


@dataclass(frozen=True)
class BoltJoint:
    """Bolts that hold a plate to the rail, normal along y; a foot of the frame."""

    id: str
    name: str
    link: str
    node: str
    part: str
    side: int  # +1 left, -1 right
    away: int  # sign of y that lifts the plate off the rail
    holes: tuple[Vec, ...]
    hole_diameter: float
    bolt: Bolt
    grade: BoltGrade
    threads_in_plane: bool
    plate: tuple[Material, float]
    rail: tuple[Material, float]
    outline: Outline
    outline_holes: tuple[tuple[float, float], ...]
    rail_edge: float  # hole centre to the nearest rail edge, mm
    contact: tuple[float, float, float, float]  # bearing edges from the centroid: rearward, forward, down, up (mm > 0)
    prying: tuple[float, float, float]  # b, a, pitch


@dataclass(frozen=True)
class PinJoint:
    """The hitch pin: receiver walls outside, bar inside; the load is the named contact's shear along x."""

    id: str
    name: str
    link: str
    contact: str
    diameter: float
    material: Material
    outer: tuple[Material, float]
    inner: tuple[Material, float]  # total bearing thickness of the bar
    gap: float
    bar_end: float  # pin hole's edge to the bar's end, mm
    receiver_end: float  # pin hole's edge to the mouth, mm
    hole: float


@dataclass(frozen=True)
class FitJoint:
    """Bar in receiver: a contact's thrust against one wall pair, near the end or inside."""

    id: str
    name: str
    link: str
    contact: str
    material: Material
    wall: float
    radius: float
    at_end: bool


@dataclass(frozen=True)
class NetSection:
    """A section weakened by a cross hole or a notch, judged on elastic moduli at a beam's place."""

    id: str
    name: str
    link: str
    part: str
    beam: str
    fraction: float
    material: Material
    gross: Section
    area: float
    Wy: float
    Wz: float
    what: str


@dataclass(frozen=True)
class WallJoint:
    """A branch landing across a rectangular tube: the tube's side walls (AISC K2, K4)."""

    id: str
    name: str
    link: str
    part: str
    chord: Section
    material: Material
    ends: tuple[End, ...]
    at: Vec  # middle of the footprint
    along: float  # footprint along the tube, mm


@dataclass(frozen=True)
class EyeJoint:
    """A chain hole: bearing of the hook, rupture and shear of the plate (AISC D5, J7)."""

    id: str
    name: str
    link: str
    part: str
    end: End
    material: Material
    thickness: float
    hole: float
    hook: float
    edge: float  # hole's edge to the plate's nearest edge, mm


Joint = WeldJoint | BoltJoint | PinJoint | FitJoint | NetSection | WallJoint | EyeJoint


@dataclass(frozen=True)
class ChainLink:
    """One link of the load chain from the load back to the vehicle."""

    id: str
    name: str
    yours: bool = True


@dataclass(frozen=True)
class Dimension:
    """A size on the drawing: where it runs, which views show it, and the parameter a typed value goes to."""

    name: str
    a: Vec
    b: Vec
    axis: Literal["x", "y", "z"]
    views: tuple[View, ...]
    path: str
    side: Literal["low", "high"] = "low"  # which side of the part its line stands on
    row: int = 0  # 0 nearest to the part
    survey: bool = False  # a measurement of the vehicle, shown while measuring


@dataclass(frozen=True)
class Assembly:
    """Everything built from one set of parameters."""

    parts: tuple[Part, ...]
    nodes: dict[str, Vec]
    beams: tuple[Beam, ...]
    joints: tuple[Joint, ...]
    chain: tuple[ChainLink, ...]
    dimensions: tuple[Dimension, ...]
    load_node: str
    chain_nodes: tuple[str, str]
    places: dict[str, Vec]  # ball, mouth, pin, … for arrows and sheets
    warnings: tuple[str, ...] = ()

    def part(self, mark: str) -> Part:
        """The part with a mark."""
        return next(p for p in self.parts if p.mark == mark)


@dataclass
class Builder:
    """Collects what a family places, then freezes it."""

    parts: list[Part] = field(default_factory=list)
    nodes: dict[str, Vec] = field(default_factory=dict)
    beams: list[Beam] = field(default_factory=list)
    joints: list[Joint] = field(default_factory=list)
    dimensions: list[Dimension] = field(default_factory=list)
    places: dict[str, Vec] = field(default_factory=dict)
    warnings: list[str] = field(default_factory=list)

    def contact(self, name: str, bar_node: str, wall_node: str, wall_offset: Vec, material: Material, link: str,
                passes: tuple[int, ...]) -> None:  # fmt: skip
        """A stiff block between bar and receiver that passes only some forces (x, y, z, roll about x)."""
        from urial.stock.sections import rect_bar

        depth = 25.0
        x, y, z, roll = passes
        release = (1 - z, 1 - y, 1 - x, 1, 1, 1 - roll)
        offset = (wall_offset[0], wall_offset[1], wall_offset[2] - depth)
        self.beams.append(Beam(name, bar_node, wall_node, rect_bar(30.0, 30.0), material, (1, 0, 0), None, link, name,
                               release_i=release, offset_j=offset))  # fmt: skip

    def build(self, chain: Sequence[ChainLink], load_node: str, chain_nodes: tuple[str, str]) -> Assembly:
        """The frozen assembly."""
        return Assembly(tuple(self.parts), dict(self.nodes), tuple(self.beams), tuple(self.joints), tuple(chain),
                        tuple(self.dimensions), load_node, chain_nodes, dict(self.places), tuple(self.warnings))  # fmt: skip


def loop(centre: Vec, u: Vec, v: Vec, width: float, height: float, radius: float = 0.0) -> tuple[tuple[Vec, Vec], ...]:
    """Weld runs round a rectangle, corners cut by chords when rounded."""
    w, h, r = width / 2, height / 2, radius
    if r > 0:
        flat = [(w - r, -h), (w, -h + r), (w, h - r), (w - r, h), (-w + r, h), (-w, h - r), (-w, -h + r), (-w + r, -h)]
    else:
        flat = [(w, -h), (w, h), (-w, h), (-w, -h)]
    points = [tuple(centre[k] + a * u[k] + b * v[k] for k in range(3)) for a, b in flat]
    pairs = zip(points, [*points[1:], points[0]], strict=True)
    return tuple((a, b) for a, b in pairs if a != b)  # type: ignore[misc]
