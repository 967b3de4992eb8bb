"""Bolts, nuts and washers through the holes of a joint."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from urial.assembly.build import Build, Named
from urial.assembly.model import BuildError
from urial.geometry.place import Place, Vec, along, minus, norm, times
from urial.geometry.shape import Turned
from urial.mates.host import BoltPlace
from urial.stock import catalogue
from urial.stock.catalogue import Bolt, BoltGrade, Material, StockSection

STEEL, WASHER = "4140-QT", "A36"


@dataclass(frozen=True)
class BoltSpec:
    """Which bolts, of which grade, and whether their threads lie in the shear plane."""

    bolt: Bolt
    grade: BoltGrade
    threads_in_plane: bool


def bolt_bar(bolt: Bolt) -> StockSection:
    """A bolt's shank as a round bar, for one that is bent as a pin is; its threads kept out of the way."""
    d = bolt.diameter
    return StockSection(f"shank {bolt.name}", "round_bar", bolt.system, d, d, d, None, "its bolt's")


def bolt_steel(spec: BoltSpec) -> Material:
    """A bolt's steel as a pin's: yield taken as its proof stress, strength as its grade has it."""
    grade = spec.grade.of(spec.bolt.diameter)
    steel = catalogue.material(STEEL)
    return replace(
        steel,
        name=f"grade {grade.name}",
        title=f"bolt steel grade {grade.name}",
        Fy=grade.proof,
        Fu=grade.Fu,
        source=grade.source,
    )


def check_holes(places: Sequence[BoltPlace], bolt: Bolt, side: str) -> None:
    """Refuse holes a bolt does not go through, other threads, and holes that run into each other."""
    for b in places:
        if bolt.diameter > b.hole_d:
            raise BuildError(
                f"A {bolt.name} bolt does not go through the {b.hole_d:.4g} mm hole {b.number} on the "
                f"{side}; choose a smaller bolt or open the hole."
            )
        if b.point.fixing != "through" and b.point.thread and b.point.thread != bolt.name:
            raise BuildError(
                f"Hole {b.number} on the {side} has a thread {b.point.thread}, and the rail bolts are "
                f"{bolt.name}; choose {b.point.thread} bolts or leave that hole out."
            )
    for n, a in enumerate(places):
        for c in places[:n]:
            if norm(minus(a.place.o, c.place.o)) < 1.5 * bolt.diameter:
                raise BuildError(
                    f"Holes {c.number} and {a.number} on the {side} run into each other; measure them again."
                )


def place_bolts(b: Build, places: Sequence[BoltPlace], plate: float, spec: BoltSpec) -> None:
    """Bolt, washers and nut through an open hole; bolt and washer in a thread; washer and nut on a stud."""
    bolt, _grade = spec.bolt, spec.grade
    step = 5.0 if bolt.system == "metric" else 6.35
    screws: dict[float, list[tuple[Vec, Vec]]] = {}
    nuts: list[tuple[Vec, Vec]] = []
    washers: list[tuple[Vec, Vec]] = []
    for here in places:
        out, wall = here.place.z, here.metal.t
        back = times(out, -1)

        def at(s: float, o: Vec = here.place.o, z: Vec = out) -> Vec:
            return along(o, z, s)

        washers.append((at(plate + bolt.washer), back))
        if here.point.fixing == "stud":
            nuts.append((at(plate + bolt.washer + bolt.nut), back))
            continue
        if here.point.fixing == "through":
            size = math.ceil((plate + wall + 2 * bolt.washer + bolt.nut + 3 * bolt.pitch) / step) * step
            washers.append((at(-wall), back))
            nuts.append((at(-wall - bolt.washer), back))
        else:
            size = math.ceil((plate + wall + bolt.washer + bolt.pitch) / step) * step
        screws.setdefault(size, []).append((at(plate + bolt.washer + bolt.head), back))
    _made(b, spec, screws, nuts, washers)


def fasten(
    b: Build, spots: Sequence[tuple[Vec, Vec]], grip: float, spec: BoltSpec, path: str = "bolt"
) -> None:
    """A bolt, two washers and a self-locking nut at each spot: its middle on the face under the head, and
    the way the bolt points.
    """
    bolt = spec.bolt
    step = 5.0 if bolt.system == "metric" else 6.35
    size = math.ceil((grip + 2 * bolt.washer + bolt.nut + 3 * bolt.pitch) / step) * step
    _made(
        b,
        spec,
        {size: [(along(o, z, -bolt.washer - bolt.head), z) for o, z in spots]},
        [(along(o, z, grip + bolt.washer), z) for o, z in spots],
        [(along(o, z, s), z) for o, z in spots for s in (-bolt.washer, grip)],
        path,
    )


def _made(
    b: Build,
    spec: BoltSpec,
    screws: dict[float, list[tuple[Vec, Vec]]],
    nuts: list[tuple[Vec, Vec]],
    washers: list[tuple[Vec, Vec]],
    path: str = "bolt",
) -> None:
    """Bolts by length, nuts and washers as parts."""
    bolt, grade = spec.bolt, spec.grade
    tag = f" {bolt.name}" if path != "bolt" else ""
    for size, spots in sorted(screws.items()):
        long = f"{size:g} mm" if bolt.system == "metric" else f"{size / 25.4:g} in"
        for n, (o, z) in enumerate(spots, 1):
            b.turned(
                Named(
                    f"bolt{tag} {size:g}", instance=str(n), called=f"bolt {bolt.name} × {long}", paths=(path,)
                ),
                Turned(Place.facing(o, z), ((bolt.head, bolt.across_flats, 6), (size, bolt.diameter, 0))),
                STEEL,
                f"{bolt.name} grade {grade.name}",
            )
    for n, (o, z) in enumerate(nuts, 1):
        b.turned(
            Named(f"nut{tag}", instance=str(n), called=f"self-locking nut {bolt.name}", paths=(path,)),
            Turned(Place.facing(o, z), ((bolt.nut, bolt.across_flats, 6),), bore=bolt.diameter),
            STEEL,
            f"{bolt.name} for grade {grade.name}",
        )
    for n, (o, z) in enumerate(washers, 1):
        b.turned(
            Named(f"washer{tag}", instance=str(n), called=f"washer {bolt.name}", paths=(path,)),
            Turned(Place.facing(o, z), ((bolt.washer, bolt.washer_od, 0),), bore=bolt.diameter + 0.5),
            WASHER,
            bolt.name,
        )
