"""A bought winch on a plate: its feet's bolts by its own pattern, its drum as what a rope pulls on, and an
upright plate that guides the rope.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from urial.assembly.build import Beads, Build, Named, Takes
from urial.assembly.model import Bolts, BuildError, Metal, Part
from urial.geometry.outline import rectangle
from urial.geometry.place import Place, Vec, X, Y, Z, add, times
from urial.geometry.shape import Plate, Turned
from urial.pieces.hardware import BoltSpec, fasten
from urial.stock import catalogue
from urial.stock.catalogue import Plate as Sheet

FOOT = 8.0
"""A winch's foot is taken as so thick, mm: the grip of its bolts."""
STEEL = 7850e-9


@dataclass(frozen=True)
class WinchSpec:
    """A winch as it is measured: mass, drum's height over its feet and length, mm; bolt pattern across and
    along, mm.
    """

    kg: float
    drum_up: float
    drum_long: float
    across: float
    along: float


def pattern(spec: WinchSpec, x: float) -> list[tuple[float, float]]:
    """Its bolts about x: four, or two when it has one row."""
    rows = (-spec.along / 2, spec.along / 2) if spec.along > 0 else (0.0,)
    return [(x + u, v) for u in rows for v in (-spec.across / 2, spec.across / 2)]


def check_pattern(
    spec: WinchSpec, spots: list[tuple[float, float]], room: tuple[Vec, Vec], bolt: float
) -> None:
    """BuildError where a bolt has less than a diameter and a half of plate beside it; ``room`` are the
    plate's low and high corners.
    """
    low, high = room
    for u, v in spots:
        least = min(u - low[0], high[0] - u, v - low[1], high[1] - v)
        if least < 1.5 * bolt:
            raise BuildError(
                f"The winch's bolts are {spec.across:.4g} mm apart across and {spec.along:.4g} mm along, "
                f"which leaves {least:.0f} mm of plate beside one of them; make the plate at least "
                f"{1.5 * bolt - least:.0f} mm larger there."
            )


def winch_on(b: Build, plate: Part, spec: WinchSpec, top: Vec, bolts: BoltSpec) -> Part:
    """The winch over a level plate whose upper face's middle under the drum is ``top``; drawn as a drum of
    its mass.
    """
    size = math.sqrt(4 * spec.kg / (math.pi * STEEL * spec.drum_long))
    middle = add(top, (0.0, 0.0, spec.drum_up))
    made = b.turned(
        Named("winch", paths=("winch_kg", "drum_up_mm")),
        Turned(
            Place.facing(add(middle, (0.0, -spec.drum_long / 2, 0.0)), Y, X), ((spec.drum_long, size, 0),)
        ),
        "S235",
        f"bought, {spec.kg:.4g} kg",
    )
    spots = pattern(spec, top[0])
    under = plate.shape.t if isinstance(plate.shape, Plate) else 0.0
    face = Place.facing(top, times(Z, -1), X)
    b.joint(
        Named("winch bolts"),
        plate,
        made,
        face,
        Bolts(
            tuple(face.local((u, v, top[2]))[:2] for u, v in spots),
            bolts.bolt.hole,
            (bolts.bolt.hole,) * len(spots),
            bolts.bolt,
            bolts.grade,
            bolts.threads_in_plane,
            (Metal(catalogue.material("S235"), FOOT),) * len(spots),
            path=b.path("winch_bolt"),
            feet=_feet(spec, [face.local((u, v, top[2]))[:2] for u, v in spots], bolts.bolt.washer_od / 2),
        ),
    )
    fasten(
        b,
        [((u, v, top[2] + FOOT), times(Z, -1)) for u, v in spots],
        FOOT + under,
        bolts,
        "winch_bolt",
    )
    takes = Takes("winch", path="drum_up_mm", reach=spec.drum_long / 2)
    b.socket("winch", made, Place(middle, X, Y, Z), takes)
    b.places.update(winch=middle)
    return made


def _feet(spec: WinchSpec, spots: list[tuple[float, float]], least: float) -> tuple[tuple[float, float], ...]:
    """Corners of what its feet bear on: from bolt row to bolt row, as far as a washer where there is one row.
    Nobody knows how stiff a bought foot is past its bolt, so it levers no farther.
    """
    low, high = ([f(s[k] for s in spots) for k in (0, 1)] for f in (min, max))
    for k in (0, 1):
        if high[k] - low[k] < 2 * least:
            low[k], high[k] = (low[k] + high[k]) / 2 - least, (low[k] + high[k]) / 2 + least
    return ((low[0], low[1]), (high[0], low[1]), (high[0], high[1]), (low[0], high[1]))


@dataclass(frozen=True)
class LeadSpec:
    """The upright plate with the rope's window: sheet, steel, width and height, window, and its two bolts'
    distance, mm.
    """

    sheet: Sheet
    material: str
    wide: float
    high: float
    window: float
    apart: float
    leg: float


def fairlead(b: Build, floor: Part, spec: LeadSpec, foot: Vec, way: Vec, rope: float) -> Part:
    """The plate standing on a level floor plate at ``foot`` (middle of the face the rope leaves by), ``way``
    the rope's; ``rope`` is its height over the foot.
    """
    if rope + spec.window / 2 + 8 > spec.high or rope - spec.window / 2 < 8:
        raise BuildError(
            f"The rope leaves {rope:.0f} mm over the plate through a {spec.window:.4g} mm window, and the "
            f"fairlead plate is {spec.high:.4g} mm high; make it {rope + spec.window / 2 + 10:.0f} mm high "
            "or the window smaller."
        )
    if spec.apart / 2 + 20 > spec.wide / 2 or spec.apart < spec.window + 24:
        raise BuildError(
            f"The fairlead's bolts are {spec.apart:.4g} mm apart, on a plate {spec.wide:.4g} mm wide with a "
            f"{spec.window:.4g} mm window; they need 20 mm of plate outside and 12 mm inside."
        )
    t = spec.sheet.thickness
    across = times(Y, 1.0 if way[0] < 0 else -1.0)  # seen against the rope, left is right
    plane = Place(add(foot, times(way, -t)), times(across, -1.0), Z, way)
    made = b.plate(
        Named("fairlead plate", paths=("lead", "lead_material", "lead_high_mm")),
        Plate(
            rectangle(-spec.wide / 2, 0.0, spec.wide / 2, spec.high, 0.0),
            t,
            plane,
            holes=(
                (0.0, rope, spec.window),
                (-spec.apart / 2, rope, 11.0),
                (spec.apart / 2, rope, 11.0),
            ),
        ),
        spec.material,
        f"plate {spec.sheet.name}",
    )
    half = min(spec.wide / 2, 400.0)
    lines: list[tuple[Vec, Vec]] = [
        (add(foot, (u, -half, 0.0)), add(foot, (u, half, 0.0))) for u in (0.0, -way[0] * t)
    ]
    b.weld(
        Named("fairlead weld", called="fairlead plate to floor plate"),
        floor,
        made,
        Beads(lines, spec.leg, "weld_mm", normal=Z),
    )
    b.socket("fairlead", made, Place.facing(add(foot, (0.0, 0.0, rope)), way, Z), Takes("fairlead"))
    return made
