"""Calculators: bend_layout, cope, plate_bend, weld_settings, distortion."""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import Field

from urial.calc.registry import Answer, CalcError, Question, calculator
from urial.calc.structure import NonNegative, Positive
from urial.geometry.flat import bend_zone
from urial.geometry.shape import Fold
from urial.making.bends import NoBend, Tube, layout
from urial.making.copes import Meeting, Method, NoCope, depths
from urial.making.heat import Process, camber, setting

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
