"""Calculator: slot_bend."""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import Field

from urial.calc.registry import Answer, CalcError, Question, calculator
from urial.calc.structure import NonNegative, Positive
from urial.geometry import slotted
from urial.geometry.path import Bent, ShapeError
from urial.geometry.shape import Bar, Slots
from urial.stock.catalogue import StockSection
from urial.strength.checks.slots import closed


class SlotBendQuestion(Question):
    """A square or rectangular tube, ``height_mm`` of it in the plane of the bend, ``left_mm`` of it left by
    the saw; or a round one, ``od_mm``, cut ``depth_mm`` deep.  The bend, and the saw.
    """

    width_mm: Positive | None = None
    height_mm: Positive | None = None
    od_mm: Positive | None = None
    depth_mm: Positive | None = None
    wall_mm: Annotated[float, Field(ge=0.1)]
    outer_radius_mm: NonNegative | None = None
    angle_deg: Annotated[float, Field(ge=0.01, le=170)]
    radius_mm: Positive
    slot_mm: Annotated[float, Field(ge=0.1, le=100)]
    left_mm: Positive | None = None
    vee_mm: NonNegative = 0.0


@calculator("slot_bend", SlotBendQuestion)
def slot_bend(q: SlotBendQuestion) -> Answer:
    """Where the slots are cut along the tube, how much longer it is cut, what the closed section is worth.

    Radius on the tube's middle line; moduli of the closed slots at their inner corner and of the plain tube,
    mm³.
    """
    square, round_ = (q.width_mm, q.height_mm, q.left_mm), (q.od_mm, q.depth_mm)
    if all(x is None for x in square):
        if q.od_mm is None or q.depth_mm is None:
            raise CalcError("Give od_mm and depth_mm of a round tube, or width_mm, height_mm and left_mm.")
        return _round_tube(q, q.od_mm, q.depth_mm)
    if any(x is not None for x in round_):
        raise CalcError(
            "od_mm and depth_mm are of a round tube, width_mm, height_mm, left_mm of a square one."
        )
    if q.width_mm is None or q.height_mm is None or q.left_mm is None:
        missing = next(k for k in ("width_mm", "height_mm", "left_mm") if getattr(q, k) is None)
        raise CalcError(f"{missing} is missing.")
    small = min(q.width_mm, q.height_mm)
    if 2 * q.wall_mm >= small:
        raise CalcError(f"wall_mm ({q.wall_mm:.4g}) fills the tube, which is {small:.4g} mm across.")
    if q.left_mm >= q.height_mm:
        raise CalcError(f"left_mm ({q.left_mm:.4g}) is the whole height_mm ({q.height_mm:.4g}) of the tube.")
    sizes = q.width_mm, q.height_mm, q.wall_mm, q.outer_radius_mm
    tube = StockSection("tube", "rect_tube", "metric", *sizes, "")
    if 2 * tube.radius > small:
        raise CalcError(f"outer_radius_mm ({tube.radius:.4g}) is more than half of the tube's smaller side.")
    a = math.radians(q.angle_deg)
    leg = q.radius_mm * math.tan(a / 2) + q.height_mm + 100.0
    corners = ((-leg, 0.0, 0.0), (0.0, 0.0, 0.0), (leg * math.cos(a), 0.0, leg * math.sin(a)))
    slots = Slots(q.slot_mm, q.height_mm - q.left_mm, q.vee_mm)
    shape = Bar(tube, Bent(corners, (q.radius_mm,)), slots=slots)
    try:
        (row,) = slotted.slot_rows(shape)
    except ShapeError as refusal:
        raise CalcError(str(refusal)) from None
    section = closed(row, q.wall_mm)
    whole = tube.section()
    return {
        "slots": row.count,
        "pitch_mm": row.pitch,
        "deep_mm": row.deep,
        "each_deg": math.degrees(row.each),
        "gap_mm": row.gap,
        "bend_mm": row.pitch * row.count,
        "longer_mm": slotted.longer(shape),
        "bead_mm": row.bead,
        "weld_mm": row.bead * row.count,
        "throat_mm": section.throat,
        "throat_by": section.rule,
        "modulus_mm3": section.plane / section.inner,
        "tube_modulus_mm3": whole.Wely,
    }


def _round_tube(q: SlotBendQuestion, od: float, deep: float) -> Answer:
    """Slots of a round tube: each closes 2·atan(k/2h); so many as the bend takes, even on the middle line."""
    if 2 * q.wall_mm >= od:
        raise CalcError(f"wall_mm ({q.wall_mm:.4g}) fills the tube, which is {od:.4g} mm across.")
    if deep >= od:
        raise CalcError(f"depth_mm ({deep:.4g}) cuts the tube of od_mm ({od:.4g}) in two.")
    theta = math.radians(q.angle_deg)
    each = 2 * math.atan(q.slot_mm / (2 * deep))
    count = math.ceil(theta / each - 1e-9)
    length = q.radius_mm * theta
    return {
        "slots": count,
        "pitch_mm": length / count,
        "angle_per_slot_deg": math.degrees(each),
        "length_mm": length,
        "hinge_pitch_mm": (q.radius_mm - od / 2 + deep) * theta / count,
    }
