"""Levers between axles, coupling and load; coupling values of UN Regulation 55.  Tonnes, kN, mm, kg as
named.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from urial.units import STANDARD_GRAVITY


def d_value(towing_t: float, trailer_t: float) -> float:
    """D = g·T·R/(T+R), kN (UN R55 2.12): the along-the-road force between vehicle and trailer."""
    return STANDARD_GRAVITY * towing_t * trailer_t / (towing_t + trailer_t)


def v_value(axle_t: float, bed_length_m: float, drawbar_m: float, air_suspension: bool = False) -> float:
    """V = a·(X²/L²)·C, kN (UN R55 2.12): the added vertical force of a centre-axle trailer; X²/L² at least
    1.
    """
    a = 1.8 if air_suspension else 2.4
    return a * max(1.0, (bed_length_m / drawbar_m) ** 2) * axle_t


@dataclass(frozen=True)
class AxleLoads:
    """Axle loads with the trailer hitched, kg."""

    front_kg: float
    rear_kg: float
    front_change_percent: float


def axle_loads(
    wheelbase_mm: float, ball_overhang_mm: float, front_kg: float, rear_kg: float, tongue_kg: float
) -> AxleLoads:
    """Tongue mass at ``ball_overhang_mm`` behind the rear axle lifts the front and adds to the rear."""
    lift = tongue_kg * ball_overhang_mm / wheelbase_mm
    return AxleLoads(front_kg - lift, rear_kg + tongue_kg + lift, -100 * lift / front_kg)


@dataclass(frozen=True)
class TrailerBalance:
    """Total, on the coupling, on the axles together, kg."""

    total_kg: float
    tongue_kg: float
    axle_kg: float


def trailer_balance(axles_mm: Sequence[float], masses: Sequence[tuple[float, float]]) -> TrailerBalance:
    """Masses (kg, mm behind the coupling) on a trailer whose axles share alike."""
    axle = sum(axles_mm) / len(axles_mm)
    total = sum(kg for kg, _ in masses)
    on_axles = sum(kg * x for kg, x in masses) / axle
    return TrailerBalance(total, total - on_axles, on_axles)


def hitch_drop(receiver_mm: float, coupler_mm: float, ball_mm: float, squat_mm: float) -> float:
    """Drop of the ball mount that sets the coupler level, mm; positive = drop, negative = rise."""
    return receiver_mm - squat_mm + ball_mm - coupler_mm


def front_share_left(
    wheelbase_mm: float, front_kg: float, standing_kg: float, hung_kg: float, behind_mm: float
) -> float:
    """What the front axle keeps, in percent of the unladen mass, with a mass hung behind the rear axle
    (least 20 % on a tractor).
    """
    return 100 * (front_kg - hung_kg * behind_mm / wheelbase_mm) / standing_kg


@dataclass(frozen=True)
class Ballasted:
    """What ballast adds to the rear and takes off the front axle (kg), and the traction it gives (N)."""

    rear_gain_kg: float
    front_loss_kg: float
    traction_N: float


def ballasted(wheelbase_mm: float, kg: float, behind_mm: float, grip: float) -> Ballasted:
    """Ballast ``behind_mm`` behind the driving rear axle, by the lever; traction = grip × what the axle
    gains.
    """
    loss = kg * behind_mm / wheelbase_mm
    return Ballasted(kg + loss, loss, grip * (kg + loss) * STANDARD_GRAVITY)
