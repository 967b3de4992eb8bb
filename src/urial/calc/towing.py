"""Calculators: coupling_values, axle_loads, trailer_balance, hitch_height."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from urial.calc.registry import Answer, CalcError, Question, calculator
from urial.calc.structure import NonNegative, Positive
from urial.road import balance


class CouplingQuestion(Question):
    """Towing vehicle, trailer, and for a centre-axle trailer its axle load, bed and drawbar."""

    towing_t: Positive
    trailer_t: Positive
    axle_t: Positive | None = None
    air_suspension: bool = False
    bed_length_m: Positive | None = None
    drawbar_m: Positive | None = None
    static_vertical_kg: NonNegative | None = None


@calculator("coupling_values", CouplingQuestion)
def coupling_values(q: CouplingQuestion) -> Answer:
    """UN R55 forces in kN."""
    out: Answer = {"D_kN": balance.d_value(q.towing_t, q.trailer_t)}
    axle = q.axle_t
    if axle is None and q.static_vertical_kg is not None:
        axle = q.trailer_t - q.static_vertical_kg / 1000
        if axle <= 0:
            raise CalcError(
                "static_vertical_kg is as much as the trailer weighs; give the load on its axle instead."
            )
    if axle is not None:
        out["Dc_kN"] = balance.d_value(q.towing_t, axle)
        if q.bed_length_m is not None and q.drawbar_m is not None:
            out["V_kN"] = balance.v_value(axle, q.bed_length_m, q.drawbar_m, q.air_suspension)
    return out


class AxleLoadsQuestion(Question):
    """A two-axle vehicle with a mass hung behind the rear axle."""

    wheelbase_mm: Positive
    ball_overhang_mm: float
    front_kg: Positive
    rear_kg: NonNegative
    tongue_kg: NonNegative


@calculator("axle_loads", AxleLoadsQuestion)
def axle_loads(q: AxleLoadsQuestion) -> Answer:
    """Axle loads with the trailer hitched."""
    loads = balance.axle_loads(q.wheelbase_mm, q.ball_overhang_mm, q.front_kg, q.rear_kg, q.tongue_kg)
    return {
        "front_kg": loads.front_kg,
        "rear_kg": loads.rear_kg,
        "front_change_percent": loads.front_change_percent,
    }


class MassQuestion(Question):
    """A mass and how far behind the coupling its centre is."""

    kg: Positive
    x_mm: float


class TrailerBalanceQuestion(Question):
    """A trailer by its axles and the masses on it, measured behind the coupling."""

    axles_mm: Annotated[list[Positive], Field(min_length=1)]
    masses: Annotated[list[MassQuestion], Field(min_length=1)]


@calculator("trailer_balance", TrailerBalanceQuestion)
def trailer_balance(q: TrailerBalanceQuestion) -> Answer:
    """Tongue weight, its share, and what the axles carry."""
    b = balance.trailer_balance(q.axles_mm, [(m.kg, m.x_mm) for m in q.masses])
    return {
        "total_kg": b.total_kg,
        "tongue_kg": b.tongue_kg,
        "tongue_percent": 100 * b.tongue_kg / b.total_kg,
        "axle_kg": b.axle_kg,
    }


class HitchHeightQuestion(Question):
    """Heights measured empty, and the squat when hitched."""

    receiver_mm: Positive
    coupler_mm: Positive
    ball_mm: NonNegative
    squat_mm: float


@calculator("hitch_height", HitchHeightQuestion)
def hitch_height(q: HitchHeightQuestion) -> Answer:
    """Drop of the ball mount, positive downward."""
    return {"drop_mm": balance.hitch_drop(q.receiver_mm, q.coupler_mm, q.ball_mm, q.squat_mm)}
