"""A plate on a side's bolts, shaped round them and round what is welded to it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from shapely.geometry import LineString, Polygon

from urial.assembly.build import Beads, Build, Named, loop
from urial.assembly.model import HOST, BuildError, Part, Run, Weld
from urial.geometry import outline as outlines
from urial.geometry.outline import Outline
from urial.geometry.place import Place, Vec, X, Y, Z, times
from urial.geometry.shape import Bar, Plate
from urial.job.host import Side
from urial.mates.host import BoltPlace, WeldOn
from urial.pieces.bolted import bolt_on, middle
from urial.pieces.hardware import BoltSpec, check_holes
from urial.stock.catalogue import Plate as Sheet
from urial.stock.catalogue import StockSection


@dataclass(frozen=True)
class PlateSpec:
    """The plate of a side: steel, metal round holes and round the tube, its own outline if there is one,
    weld leg.
    """

    plate: Sheet
    material: str
    hole_edge: float
    margin: float
    own: tuple[tuple[float, float], ...]
    leg: float
    name: str = "side plate"
    bolts: str = "rail bolts"


def proudest(b: Build, places: Sequence[BoltPlace], side: str, outside: bool) -> float:
    """The face a plate lies on, mm from the centre plane: where its holes differ, the face that stands
    proudest.
    """
    faces = [abs(p.place.o[1]) for p in places]
    if max(faces) - min(faces) > 1.0:
        b.warn(
            f"The faces round the {side} holes differ by {max(faces) - min(faces):.1f} mm; the plate "
            "lies on the proudest, pack the others."
        )
    return max(faces) if outside else min(faces)


@dataclass(frozen=True)
class Welded:
    """Welded to the host instead of bolted: its metal, the bead's leg, and the joint's name."""

    on: WeldOn | None
    leg: float
    name: str = "rail weld"


def side_plate(
    b: Build,
    spec: PlateSpec,
    held: BoltSpec | Welded,
    places: Sequence[BoltPlace],
    face: float,
    tube: Part,
    centre: Vec,
) -> Part:
    """The plate of one side, the tube's end welded square to it at ``centre`` (x, y of the tube's end, z)."""
    assert isinstance(tube.shape, Bar)
    side, t, stock = places[0].side, spec.plate.thickness, tube.shape.stock
    left = 1.0 if side == "left" else -1.0
    x, inner, z = centre
    holes = [(p.place.o[0], p.place.o[2]) for p in places]
    bolt = held.bolt if isinstance(held, BoltSpec) else None
    if bolt:
        check_holes(places, bolt, side)
    outline = _outline(spec, (bolt.hole, bolt.diameter) if bolt else (0.0, 0.0), holes, (x, z), stock, side)
    _rooms(outline, places, holes, (x, z), stock, side)
    origin = inner + t if left > 0 else inner
    made = b.plate(
        Named(spec.name, instance=side, paths=("plate", "plate_material", "hole_edge_mm", "tube_margin_mm")),
        Plate(
            outline,
            t,
            Place((0.0, origin, 0.0), X, Z, times(Y, -1)),
            holes=tuple(((u, w, bolt.hole) for u, w in holes)) if bolt else (),
            centre_lines=(
                (x - stock.width / 2, z, x + stock.width / 2, z),
                (x, z - stock.height / 2, x, z + stock.height / 2),
            ),
        ),
        spec.material,
        f"plate {spec.plate.name}",
    )
    b.weld(
        Named(
            f"{spec.name} weld",
            instance=side,
            called=f"cross tube to {side} {spec.name.removeprefix('side ')}",
        ),
        tube,
        made,
        Beads(
            loop(Place.facing((x, inner, z), times(Y, left), X), stock.width, stock.height, stock.radius),
            spec.leg,
            "weld_plate_mm",
            normal=times(Y, left),
        ),
    )
    if isinstance(held, Welded):
        weld_on(b, made, held, outline, (side, left * face))
        return made
    mx, _, mz = middle(places)
    on = Named(spec.bolts, instance=side, called=f"{side} {spec.bolts}")
    bolt_on(b, on, made, places, (mx, left * face, mz), held)
    return made


def weld_on(b: Build, plate: Part, held: Welded, outline: Outline, at: tuple[Side, float]) -> None:
    """A bead round what of the plate's edge lies on the rail's face."""
    side, y = at
    on = held.on
    if on is None:
        raise BuildError("There is nothing here that plates may be welded to; bolt them on.")
    if on.maker == "forbidden":
        raise BuildError("The vehicle's maker forbids welding to its rails; bolt the plates on.")
    if (on.maker == "unknown" or on.treated != "no") and not on.override.strip():
        raise BuildError(
            "Whether the rails may be welded is not known (or they are heat-treated); find out, bolt "
            "the plates on, or write at Measure, Host who answers for it."
        )
    corners = dict(on.faces)[side]
    rail = Polygon([(c[0], c[2]) for c in corners]).buffer(-held.leg)
    edge = LineString([*(pts := outlines.flatten(outline, math.radians(15))), pts[0]]).intersection(rail)
    lines: list[tuple[Vec, Vec]] = []
    for line in getattr(edge, "geoms", [edge]):
        spots = list(line.coords)
        lines += [((p[0], y, p[1]), (q[0], y, q[1])) for p, q in pairwise(spots) if math.dist(p, q) > 0.5]
    if sum(math.dist(p, q) for p, q in lines) < 80:
        raise BuildError(
            f"Less than 80 mm of the {side} plate's edge lies on the rail, too little to weld it by; "
            "make the plate reach farther up the rail."
        )
    if on.treated != "no":
        b.warn(f"The {side} rail is taken as it is, softening beside the weld not known: “{on.override}”.")
    out = times(Y, 1.0 if y > 0 else -1.0)
    how = Weld(
        tuple(Run(p, q) for p, q in lines),
        held.leg,
        b.electrode,
        b.process,
        b.path("weld_rail_mm"),
        host=on.metal,
    )
    place = Place.facing(middle_of(lines), out, X)
    called = f"{side} {'plate' if held.name == 'rail weld' else plate.family.split('/')[-1]} to rail"
    b.joint(Named(held.name, instance=side, called=called), plate, HOST, place, how)


def middle_of(lines: list[tuple[Vec, Vec]]) -> Vec:
    """Middle of runs by their length."""
    whole = sum(math.dist(p, q) for p, q in lines)
    return tuple(sum((p[k] + q[k]) / 2 * math.dist(p, q) for p, q in lines) / whole for k in range(3))  # type: ignore[return-value]


def _outline(
    spec: PlateSpec,
    drilled: tuple[float, float],
    holes: list[tuple[float, float]],
    tube: tuple[float, float],
    stock: StockSection,
    side: str,
) -> Outline:
    e, (hole, diameter) = spec.hole_edge, drilled
    if spec.own:
        return outlines.polygon([(-behind, height) for behind, height in spec.own])
    if e < hole / 2 + 2:
        raise BuildError(
            f"Metal round holes is {e:.4g} mm, which leaves no edge beside a {hole:.4g} mm hole; give "
            f"at least {1.25 * diameter:.0f} mm."
        )
    # discs of one radius: round each hole, and in the corners of the tube's margin
    du, dv = max(stock.width / 2 + spec.margin - e, 0), max(stock.height / 2 + spec.margin - e, 0)
    return outlines.rounded_hull(
        [*holes, *((tube[0] + a * du, tube[1] + c * dv) for a in (-1, 1) for c in (-1, 1))], e
    )


def _rooms(
    outline: Outline,
    places: Sequence[BoltPlace],
    holes: list[tuple[float, float]],
    tube: tuple[float, float],
    stock: StockSection,
    side: str,
) -> None:
    for p, (u, w) in zip(places, holes, strict=True):
        if outlines.distance_to_edge(outline, u, w) < p.hole_d / 2 + 1:
            raise BuildError(
                f"Hole {p.number} of the {side} plate is outside the plate or breaks its edge; move "
                "the outline or the hole."
            )
        if p.face and not _in_metal(p, u, w):
            low, high = min(c[2] for c in p.face), max(c[2] for c in p.face)
            rear = -min(c[0] for c in p.face)
            raise BuildError(
                f"The {side} hole {p.number} is not in the rail: the rail runs from {low:.0f} to "
                f"{high:.0f} mm above ground and ends {rear:.0f} mm behind the axle; measure the hole "
                "or the rail again."
            )
    corners = [
        (tube[0] + a * stock.width / 2, tube[1] + c * stock.height / 2) for a in (-1, 1) for c in (-1, 1)
    ]
    if any(outlines.distance_to_edge(outline, u, w) < -0.3 * stock.radius for u, w in corners):
        raise BuildError(
            f"The cross tube hangs over the edge of the {side} plate; give the outline room round the tube."
        )
    cu, cw = sum(u for u, _ in holes) / len(holes), sum(w for _, w in holes) / len(holes)
    if math.hypot(cu - tube[0], cw - tube[1]) < stock.height / 2:
        raise BuildError(
            f"The bolts of the {side} plate fall on the end of the cross tube, where no spanner goes; "
            "change the drop."
        )


def _in_metal(p: BoltPlace, u: float, w: float) -> bool:
    xs, zs = [c[0] for c in p.face], [c[2] for c in p.face]
    room = p.hole_d / 2 + 1
    return min(xs) + room <= u <= max(xs) - room and min(zs) + room <= w <= max(zs) - room
