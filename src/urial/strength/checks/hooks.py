"""A hook cut from plate: bent as a curved bar, twisted by a pull across, pressed by its ring, closed by a
latch.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from urial.assembly import facts
from urial.assembly.model import Hook, Joint
from urial.strength import pins
from urial.strength.check import Line, Working, figure
from urial.strength.checks.common import About, Context, Finding, ratio, register


def curved(radius: float, deep: float, wide: float) -> tuple[float, float, float]:
    """Area, middle radius, and stress at the inside for 1 N through the seat's middle, of a rectangular
    curved bar (Winkler–Bach): σ = N/A + N R (rn − ri)/(A e ri), with rn = h / ln(ro/ri), e = R − rn.
    """
    area, middle = deep * wide, radius + deep / 2
    neutral = deep / math.log((radius + deep) / radius)
    e = middle - neutral
    return area, middle, 1 / area + middle * (neutral - radius) / (area * e * radius)


@register(Hook)
def hook_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """Every pull in the hook's plane is taken as opening it at the section square to the pull; one across
    twists it, each layer for itself; upward the latch holds alone.
    """
    how, basis = j.how, context.basis
    assert isinstance(how, Hook)
    part = context.part(j.a)
    steel, wide = context.steel(part), facts.thickness(part)
    force, _ = context.forces.own(j)
    plane, across = np.hypot(force[:, 0], force[:, 1]), np.abs(force[:, 2])
    area, middle, per_newton = curved(how.radius, how.deep, wide)
    layer = wide / how.layers
    modulus = how.layers * how.deep * layer**2 / 3  # each layer a thin rectangle: τ = 3 T/(Σ h t²)
    normal = plane * per_newton
    shear = 1.5 * across / area + across * middle / modulus
    stress = np.sqrt(normal**2 + 3 * shear**2)
    available = basis.available(steel.Fy, 1.67)

    def bend(k: int) -> Working:
        return (
            Line(
                "opened",
                "σ = N/A + N R (rn − ri)/(A e ri), Winkler–Bach",
                f"N {figure(plane[k])} N, ri {how.radius:.4g}, h {how.deep:.4g}, b {wide:.4g} mm",
                f"{normal[k]:.0f} MPa",
            ),
            Line(
                "across",
                "τ = 1.5 V/A + 3 V R/(Σ h t²), each layer for itself",
                f"V {figure(across[k])} N, R {middle:.4g} mm, {how.layers} layers of {layer:.4g} mm",
                f"{shear[k]:.0f} MPa",
            ),
            Line("together", "√(σ² + 3 τ²)", "", f"{stress[k]:.0f} MPa"),
            Line("available", "Fy, " + basis.words(1.67), f"Fy {steel.Fy:.0f} MPa", f"{available:.0f} MPa"),
            ratio("stress", float(stress[k]), available, "MPa"),
        )

    def about(what: str, name: str, unit: str, clause: str) -> About:
        return About.on(part, f"{j.key}: {what}", name, "hook", unit, clause, how.path)

    opened = about("hook", f"{part.name}, opened and twisted", "MPa", "Winkler–Bach curved bar; von Mises")
    yield context.governed(stress, available, opened, bend)
    held = basis.available(pins.bearing(steel.Fy, how.ring, wide), 2.00)

    def press(k: int) -> Working:
        return (
            Line(
                "available", "1.8 Fy d t, " + basis.words(2.0), f"ring {how.ring:.4g} mm", f"{figure(held)} N"
            ),
            ratio("pull on the seat", float(plane[k]), held, "N"),
        )

    yield context.governed(
        plane, held, about("seat", f"{part.name} under its ring", "N", "AISC 360-22 J7"), press
    )
    lift = np.clip(force[:, 1], 0.0, None)  # the place's y points out of the seat
    strength, rows = _latch(context, how)

    def close(k: int) -> Working:
        return (*rows, ratio("lift of the ring", float(lift[k]), strength, "N"))

    latch = about("latch", "latch and its pins", "N", "AISC 360-22 F11, J3.7")
    yield context.governed(lift, strength, latch, close)


def _latch(context: Context, how: Hook) -> tuple[float, Working]:
    """What lift two flats from pin to pin hold in their middle, with their pins in double shear, N."""
    basis, latch = context.basis, how.latch
    plastic = 2 * latch.thick * latch.high**2 / 4
    bent = basis.available(latch.steel.Fy * plastic, 1.67) * 4 / latch.span
    sheared = basis.available(2 * 0.563 * latch.pin_steel.Fu * math.pi * latch.pin**2 / 4, 2.00) * 2
    rows = (
        Line(
            "flats bent",
            "M = P L/4, two flats, " + basis.words(1.67),
            f"{latch.thick:.4g} × {latch.high:.4g} mm, L {latch.span:.4g} mm, Fy {latch.steel.Fy:.0f} MPa",
            f"{figure(bent)} N",
        ),
        Line(
            "pins sheared",
            "0.563 Fu A on two planes, half the lift on each pin, " + basis.words(2.0),
            f"d {latch.pin:.4g} mm, Fu {latch.pin_steel.Fu:.0f} MPa",
            f"{figure(sheared)} N",
        ),
    )
    return min(bent, sheared), rows


__all__ = ["curved", "hook_checks"]
