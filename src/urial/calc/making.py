"""Calculators: bend_layout, cable, cope, plate_bend, weld_settings, distortion, fit_up."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field

from urial.calc.registry import Answer, CalcError, Question, calculator
from urial.calc.structure import NonNegative, Positive
from urial.geometry.flat import bend_zone
from urial.geometry.shape import Fold
from urial.making.bends import NoBend, Tube, layout
from urial.making.copes import Meeting, Method, NoCope, depths
from urial.making.fitup import AXES, Height, Read, Tape
from urial.making.fitup import fit_up as fitted
from urial.making.heat import Process, camber, setting
from urial.making.wiring import NoCable, book, cable, drop, fuse, needed, terminal

Angle = Annotated[float, Field(gt=0, lt=180)]
Point = tuple[float, float, float]


class BendLayoutQuestion(Question):
    """Corners of the middle line, the tube, the die, and the die's log (angle set, angle on the machine)."""

    points_mm: Annotated[tuple[Point, ...], Field(min_length=2, max_length=200)]
    od_mm: Positive
    wall_mm: Positive
    clr_mm: Positive
    clamp_mm: NonNegative = 0.0
    min_tail_mm: NonNegative = 0.0
    springback: Annotated[tuple[tuple[Angle, Positive], ...], Field(max_length=100)] | None = None


@calculator("bend_layout", BendLayoutQuestion)
def bend_layout(q: BendLayoutQuestion) -> Answer:
    """Length to cut, and for each bend its angle, twist and marks from the first end."""
    if 2 * q.wall_mm > q.od_mm:
        raise CalcError(f"wall_mm ({q.wall_mm:.4g}) fills the tube, which is {q.od_mm:.4g} mm across.")
    if 2 * q.clr_mm <= q.od_mm:
        raise CalcError(f"clr_mm ({q.clr_mm:.4g}) is no radius for a tube {q.od_mm:.4g} mm across.")
    set_angles = [row[0] for row in q.springback or ()]
    if len(set(set_angles)) < len(set_angles):
        raise CalcError("springback has an angle twice; keep one of them.")
    tube = Tube(q.od_mm, q.wall_mm, q.clr_mm, q.clamp_mm, q.min_tail_mm)
    try:
        found = layout(q.points_mm, tube, q.springback or ())
    except NoBend as refusal:
        raise CalcError(str(refusal)) from None
    return {
        "cut_length_mm": found.cut,
        "bends": [
            {
                "angle_deg": b.angle,
                "machine_deg": b.machine,
                "rotation_deg": b.rotation,
                "straight_before_mm": b.straight,
                "arc_mm": b.arc,
                "start_mark_mm": b.start,
                "clamp_mark_mm": b.clamp,
            }
            for b in found.bends
        ],
        "last_straight_mm": found.last,
        "warnings": list(found.warnings),
    }


class CableQuestion(Question):
    """A current over a length one way; ``ways`` 1 where a body is the way back."""

    current_A: Positive
    length_m: Positive
    drop_V: Positive | None = None
    ways: Literal[1, 2] = 2
    system: Literal["metric", "inch"] = "metric"


@calculator("cable", CableQuestion)
def cable_size(q: CableQuestion) -> Answer:
    """The thinnest cable that drops no more and stands its fuse; metric sizes, or American gauges."""
    mm, most = 1000 * q.length_m, q.drop_V or book().rules.lamp_drop_V
    try:
        guard = fuse(q.current_A)
        chosen = cable(q.current_A, mm, most, q.system, q.ways, guard)
    except NoCable as refusal:
        raise CalcError(str(refusal)) from None
    return {
        "needed_mm2": needed(q.current_A, mm, most, q.ways),
        "cable": chosen.name,
        "cable_mm2": chosen.mm2,
        "carries_A": chosen.carries,
        "fuse_A": guard,
        "drop_V": drop(q.current_A, mm, chosen.mm2, q.ways),
        "terminal": terminal(chosen.mm2),
    }


class CopeQuestion(Question):
    """A round branch on a round main."""

    branch_od_mm: Positive
    branch_wall_mm: Positive
    main_od_mm: Positive
    angle_deg: Angle
    offset_mm: float = 0.0
    points: Annotated[int, Field(ge=4, le=3600)] = 36
    method: Method = "hole_saw"


@calculator("cope", CopeQuestion)
def cope(q: CopeQuestion) -> Answer:
    """How deep the branch is cut, in equal steps round its outside."""
    if 2 * q.branch_wall_mm > q.branch_od_mm:
        raise CalcError(f"branch_wall_mm ({q.branch_wall_mm:.4g}) fills the branch.")
    meeting = Meeting(q.branch_od_mm / 2, q.branch_wall_mm, q.main_od_mm / 2, q.angle_deg, q.offset_mm)
    try:
        rows = depths(meeting, q.points, q.method)
    except NoCope as refusal:
        raise CalcError(str(refusal)) from None
    deep = [d for _, d in rows]
    return {"template_mm": [list(row) for row in rows], "max_mm": max(deep), "min_mm": min(deep)}


class PlateBendQuestion(Question):
    """A plate bent from flat by an angle; ``k`` where a test strip gave it."""

    thickness_mm: Positive
    inside_radius_mm: NonNegative
    angle_deg: Angle
    k: Annotated[float, Field(gt=0, le=1)] | None = None


@calculator("plate_bend", PlateBendQuestion)
def plate_bend(q: PlateBendQuestion) -> Answer:
    """Allowance θ (Rin + K t), and what is taken off the sum of the outside legs."""
    theta = math.radians(q.angle_deg)
    k = (
        q.k
        if q.k is not None
        else bend_zone(q.thickness_mm, Fold((0.0, 0.0), (1.0, 0.0), theta, q.inside_radius_mm)).k
    )
    allowance = theta * (q.inside_radius_mm + k * q.thickness_mm)
    back = 2 * (q.inside_radius_mm + q.thickness_mm) * math.tan(theta / 2)
    return {"allowance_mm": allowance, "deduction_mm": back - allowance, "k": k}


class WeldSettingsQuestion(Question):
    """What is welded, and with what."""

    thickness_mm: Positive
    machine_A: Annotated[float, Field(ge=10, le=2000)]
    process: Process


@calculator("weld_settings", WeldSettingsQuestion)
def weld_settings(q: WeldSettingsQuestion) -> Answer:
    """Where to start; the coupon decides."""
    found = setting(q.thickness_mm, q.machine_A, q.process)
    return {"amps": found.amps, "passes": found.passes, "bevel": found.bevel, "note": found.note}


class DistortionQuestion(Question):
    """A fillet along a bar."""

    leg_mm: Positive
    length_mm: Positive
    I_mm4: Positive
    offset_mm: NonNegative


@calculator("distortion", DistortionQuestion)
def distortion(q: DistortionQuestion) -> Answer:
    """How far the bar bows."""
    return {"camber_mm": camber(q.leg_mm, q.length_mm, q.I_mm4, q.offset_mm)}


Name = Annotated[str, Field(min_length=1, max_length=40)]
Coordinate = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
Tapes = Annotated[tuple[tuple[Name, Name, Annotated[float, Field(gt=0, le=1e5)]], ...], Field(max_length=200)]
Heights = Annotated[tuple[tuple[Name, Coordinate], ...], Field(max_length=40)]


class FitUpQuestion(Question):
    """Places as drawn (x along, y across, z up), what was read between them and how high they lie over
    something level, pairs with a bar between them that was cut to length, and the three places that hold it.
    """

    points_mm: Annotated[
        dict[Name, tuple[Coordinate, Coordinate, Coordinate]], Field(min_length=3, max_length=40)
    ]
    tapes_mm: Tapes = ()
    heights_mm: Heights = ()
    members: Annotated[tuple[tuple[Name, Name], ...], Field(max_length=200)] = ()
    hold: tuple[Name, Name, Name]
    tape_sigma_mm: Annotated[float, Field(gt=0, le=100)] = 1.0
    height_sigma_mm: Annotated[float, Field(gt=0, le=100)] = 1.0


@calculator("fit_up", FitUpQuestion)
def fit_up(q: FitUpQuestion) -> Answer:
    """How far each place lies off the drawing, what does not agree, what is not told and what tells it."""
    reads: list[Read] = [Tape(a, b, mm, q.tape_sigma_mm) for a, b, mm in q.tapes_mm]
    reads += [Height(at, mm, q.height_sigma_mm) for at, mm in q.heights_mm]
    lost = next((n for pair in q.members for n in pair if n not in q.points_mm), None)
    if lost is not None:
        raise CalcError(f"members names “{lost}”, which is none of points_mm.")
    try:
        found = fitted(q.points_mm, reads, q.hold, q.members)
    except ValueError as error:
        raise CalcError(str(error)) from None
    return {
        "places": {
            n.name: {
                "off_mm": list(n.off),
                "sigma_mm": [None if k in n.unknown else s for k, s in enumerate(n.sigma)],
                "unknown": [AXES[k] for k in sorted(n.unknown)],
            }
            for n in found.places
        },
        "misfits_mm": list(found.misfits),
        "doubted": list(found.doubted),
        "wanted": [list(r.places) for r in found.wanted],
    }
