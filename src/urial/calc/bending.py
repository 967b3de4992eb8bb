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
    """A square or rectangular tube, ``height_mm`` of it in the plane of the bend; the bend, and the saw."""

    width_mm: Positive
    height_mm: Positive
    wall_mm: Annotated[float, Field(ge=0.1)]
    outer_radius_mm: NonNegative | None = None
    angle_deg: Annotated[float, Field(ge=0.01, le=170)]
    radius_mm: Positive
    slot_mm: Annotated[float, Field(ge=0.1, le=100)]
    left_mm: Positive
    vee_mm: NonNegative = 0.0


@calculator("slot_bend", SlotBendQuestion)
def slot_bend(q: SlotBendQuestion) -> Answer:
    """Where the slots are cut along the tube, how much longer it is cut, what the closed section is worth.

    Radius on the tube's middle line; moduli of the closed slots at their inner corner and of the plain tube,
    mm³."""
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
