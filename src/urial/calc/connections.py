"""Calculators: weld_group, bolt_group, bolt_torque, pin."""

from __future__ import annotations

import math
from typing import Annotated

import numpy as np
from pydantic import Field

from urial.calc.registry import Answer, CalcError, Question, calculator
from urial.calc.structure import NonNegative, Positive, Three
from urial.strength import bolts, pins, welds

Two = Annotated[list[float], Field(min_length=2, max_length=2)]
Four = Annotated[list[float], Field(min_length=4, max_length=4)]


class WeldGroupQuestion(Question):
    """Fillet runs in the plane z = 0 under a force at a point, with an optional moment."""

    segments_mm: Annotated[list[Four], Field(min_length=1)]
    leg_mm: Positive
    electrode_MPa: Positive
    base_Fy_MPa: Positive | None = None
    base_Fu_MPa: Positive | None = None
    base_thickness_mm: Positive | None = None
    force_N: Three
    point_mm: Three
    moment_Nmm: Three | None = None


def _base_cap(q: WeldGroupQuestion) -> float:
    """Allowable N/mm of the base metal, infinity when it is not given."""
    given = [q.base_Fy_MPa is not None, q.base_Fu_MPa is not None, q.base_thickness_mm is not None]
    if not any(given):
        return math.inf
    if q.base_thickness_mm is None or not (given[0] or given[1]):
        raise CalcError(
            "base metal needs base_thickness_mm with base_Fy_MPa or base_Fu_MPa; add what is missing."
        )
    yielding, rupture = welds.base_metal_per_length(
        q.base_Fy_MPa or math.inf, q.base_Fu_MPa or math.inf, q.base_thickness_mm
    )
    return min(yielding / 1.50, rupture / 2.00)


@calculator("weld_group", WeldGroupQuestion)
def weld_group(q: WeldGroupQuestion) -> Answer:
    """Line properties, the worst point by the elastic method, and the group by its instantaneous centre."""
    runs = np.array(q.segments_mm, dtype=float)
    flat = np.zeros(len(runs))
    lines = welds.WeldLines(np.column_stack([runs[:, :2], flat]), np.column_stack([runs[:, 2:], flat]))
    short = np.flatnonzero(lines.lengths < 1e-6)
    if short.size:
        raise CalcError(f"segments_mm: run {short[0] + 1} has no length; give its ends different places.")
    force, point = np.array(q.force_N), np.array(q.point_mm)
    moment = np.cross(point - lines.centroid, force) + np.array(q.moment_Nmm or [0.0, 0.0, 0.0])
    if not (force.any() or np.abs(moment).max() > 0):
        raise CalcError("force_N and moment_Nmm are both zero; give the load the weld carries.")
    cap = _base_cap(q)
    available = min(welds.available_per_length_asd(q.electrode_MPa, q.leg_mm), cap)
    per_length = np.sqrt((lines.force_per_length(force[None], moment[None])[0] ** 2).sum(axis=1))
    worst = int(per_length.argmax())
    size = float(np.abs(force).max()) * max(float(np.abs(lines.corners).max()), 1.0) + float(
        np.abs(moment).max()
    )
    leaves = (
        abs(force[2]) > 1e-9 * float(np.abs(force).max() + 1e-30) or np.abs(moment[:2]).max() > 1e-9 * size
    )
    s = lines.second_moments
    return {
        "length_mm": lines.length,
        "centroid_mm": lines.centroid[:2].tolist(),
        "Ix_mm3": float(s[1, 1]),
        "Iy_mm3": float(s[0, 0]),
        "Ixy_mm3": float(s[0, 1]),
        "J_mm3": float(s[0, 0] + s[1, 1]),
        "elastic": {
            "max_N_per_mm": float(per_length[worst]),
            "at_mm": lines.corners[worst, :2].tolist(),
            "available_N_per_mm": available,
            "utilisation": float(per_length[worst]) / available,
        },
        "instantaneous_centre": None if leaves else _by_centre(runs, q, force, float(moment[2]), cap),
    }


def _by_centre(
    runs: welds.Array, q: WeldGroupQuestion, force: welds.Array, moment: float, cap: float
) -> Answer:
    group = welds.in_plane_group(runs, q.leg_mm, q.electrode_MPa, 2.00 * cap)
    times = welds.instantaneous_centre_capacity(group, (float(force[0]), float(force[1])), moment)
    size = math.hypot(force[0], force[1])
    pure = size == 0
    return {
        "nominal_N": None if pure else times * size,
        "available_N": None if pure else times * size / 2.00,
        "utilisation": 2.00 / times,
    }


class BoltGroupQuestion(Question):
    """Bolts in single shear under an in-plane force at a point."""

    bolts_mm: Annotated[list[Two], Field(min_length=1)]
    diameter_mm: Positive
    Fu_MPa: Positive
    threads_in_plane: bool
    force_N: Two
    point_mm: Two


@calculator("bolt_group", BoltGroupQuestion)
def bolt_group(q: BoltGroupQuestion) -> Answer:
    """The worst bolt by the elastic method and the group's coefficient by its instantaneous centre."""
    xy = np.array(q.bolts_mm, dtype=float)
    force = np.array(q.force_N)
    size = float(np.hypot(*force))
    if size == 0:
        raise CalcError("force_N is zero; give the force the bolts carry.")
    for n in range(len(xy)):
        if n and np.hypot(*(xy[:n] - xy[n]).T).min() < 1e-6:
            raise CalcError(
                f"bolts_mm: bolt {n + 1} is in the same place as another; move it or leave it out."
            )
    arm = np.array(q.point_mm) - xy.mean(axis=0)
    moment = float(arm[0] * force[1] - arm[1] * force[0])
    if abs(moment) <= 1e-9 * size * max(1.0, float(np.abs(arm).max())):
        moment = 0.0
    if len(xy) == 1 and moment:
        raise CalcError(
            "bolts_mm: a single bolt cannot stop a part from turning about it; add a second bolt."
        )
    available = (
        bolts.nominal_shear_stress(q.Fu_MPa, q.threads_in_plane) * math.pi * q.diameter_mm**2 / 4 / 2.00
    )
    shears = bolts.elastic_shears(xy, force[None], np.array([moment]))
    greatest = float(np.hypot(shears[0, :, 0], shears[0, :, 1]).max())
    coefficient = bolts.group_coefficient(xy, (float(force[0]), float(force[1])), moment)
    return {
        "elastic": {"max_shear_N": greatest, "utilisation": greatest / available},
        "instantaneous_centre": {"coefficient": coefficient, "utilisation": size / (coefficient * available)},
        "bolt_available_N": available,
    }


class BoltTorqueQuestion(Question):
    """A bolt to be tightened to 75 % of proof."""

    diameter_mm: Positive
    stress_area_mm2: Positive
    proof_MPa: Positive
    k: Positive


@calculator("bolt_torque", BoltTorqueQuestion)
def bolt_torque(q: BoltTorqueQuestion) -> Answer:
    """75 % of proof, and K d F."""
    tension = bolts.preload(q.proof_MPa, q.stress_area_mm2)
    return {"preload_N": tension, "torque_Nm": bolts.torque(q.diameter_mm, tension, q.k) / 1000}


class PinQuestion(Question):
    """A pin in double shear through two outer plates and one inner."""

    load_N: Positive
    diameter_mm: Positive
    Fu_MPa: Positive
    Fy_MPa: Positive
    outer_thickness_mm: Positive
    inner_thickness_mm: Positive
    gap_mm: NonNegative
    plate_Fy_MPa: Positive


@calculator("pin", PinQuestion)
def pin(q: PinQuestion) -> Answer:
    """ASD utilisations of the pin and of the plates it bears on."""
    shear = pins.shear_stress(q.load_N, q.diameter_mm)
    moment = pins.bending_moment(q.load_N, q.outer_thickness_mm, q.inner_thickness_mm, q.gap_mm)
    stress = moment / pins.elastic_modulus(q.diameter_mm)
    fy = min(q.Fy_MPa, q.plate_Fy_MPa)
    outer = pins.bearing(fy, q.diameter_mm, q.outer_thickness_mm) / 2.00
    inner = pins.bearing(fy, q.diameter_mm, q.inner_thickness_mm) / 2.00
    return {
        "shear": {"demand_MPa": shear, "utilisation": shear / (pins.nominal_shear_stress(q.Fu_MPa) / 2.00)},
        "bending": {"moment_Nmm": moment, "stress_MPa": stress, "utilisation": stress / (q.Fy_MPa / 1.67)},
        "bearing_outer": {"utilisation": q.load_N / 2 / outer},
        "bearing_inner": {"utilisation": q.load_N / inner},
    }
