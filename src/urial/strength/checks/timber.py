"""Steel on timber: a backing plate pressed on it, a pan let into it.  The boards are not judged."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from urial.assembly import facts
from urial.assembly.model import HOST, Backing, Bolts, Joint, Part, Recess
from urial.strength.check import Array, Check, Line, Unchecked, Working, figure
from urial.strength.checks.common import About, Context, Finding, ratio, register


@register(Backing)
def backing_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """Pressure across the grain, greatest at the edge where the pull leans the plate (p = F/A + M/W of a
    square as large), and the plate bent by it beyond its bolts (m = p c²/2 on a strip 1 wide, plastic).
    """
    how, basis = j.how, context.basis
    assert isinstance(how, Backing)
    plate = context.part(j.a)
    force, moment = context.forces.own(j)
    push = np.clip(np.abs(force[:, 2]), 0.0, None)
    side = math.sqrt(how.area)
    pressure = push / how.area + np.hypot(moment[:, 0], moment[:, 1]) * 6 / side**3
    limit = basis.available(how.limit, 2.00)

    def press(k: int) -> Working:
        return (
            Line(
                "pressed on the timber",
                "p = F/A + 6 M/a³",
                f"F {figure(push[k])} N, A {figure(how.area)} mm², a = √A",
                f"{pressure[k]:.2f} MPa",
            ),
            Line("available", "fc,90 across the grain, " + basis.words(2.0), how.source, f"{limit:.2f} MPa"),
            ratio("pressure", float(pressure[k]), limit, "MPa"),
        )

    yield context.governed(
        pressure,
        limit,
        About.on(plate, f"{j.key}: timber", j.name, "bearing", "MPa", "EN 1995-1-1 6.1.5", how.path),
        press,
    )
    steel, t = context.steel(plate), facts.thickness(plate)
    bent = pressure * how.overhang**2 / 2 / (t**2 / 4)  # over the plastic modulus of a strip 1 wide
    strength = basis.available(steel.Fy, 1.67)

    def bend(k: int) -> Working:
        return (
            Line(
                "bent beyond its bolts",
                "σ = p c²/2 over t²/4, of a strip 1 wide",
                f"p {pressure[k]:.2f} MPa, c {how.overhang:.1f}, t {t:.3g} mm",
                f"{bent[k]:.1f} MPa",
            ),
            Line("available", "Fy, " + basis.words(1.67), f"Fy {steel.Fy:.0f} MPa", f"{strength:.0f} MPa"),
            ratio("bending", float(bent[k]), strength, "MPa"),
        )

    yield context.governed(
        bent,
        strength,
        About.on(
            plate,
            f"{j.key}: bent",
            f"{plate.name}, bent beyond its bolts",
            "plate",
            "MPa",
            "AISC 360-22 F11",
        ),
        bend,
    )
    yield Unchecked(
        plate.mark, f"{j.name}: the boards' own bending and what they are screwed to", context.link(j)
    )


@register(Recess)
def recess_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """The pocket's wall pressed sideways: F over diameter times depth."""
    how, basis = j.how, context.basis
    assert isinstance(how, Recess)
    pan = context.part(j.a)
    force, _ = context.forces.own(j)
    pressure = np.hypot(force[:, 0], force[:, 1]) / (how.diameter * how.depth)
    limit = basis.available(how.limit, 2.00)

    def work(k: int) -> Working:
        return (
            Line(
                "pocket's wall",
                "p = F/(d h)",
                f"d {how.diameter:.4g}, h {how.depth:.4g} mm",
                f"{pressure[k]:.2f} MPa",
            ),
            Line("available", "fc,90 across the grain, " + basis.words(2.0), how.source, f"{limit:.2f} MPa"),
            ratio("pressure", float(pressure[k]), limit, "MPa"),
        )

    yield context.governed(
        pressure,
        limit,
        About.on(pan, f"{j.key}: pocket", j.name, "bearing", "MPa", "EN 1995-1-1 6.1.5", how.path),
        work,
    )


DENSITY = 350.0
"""Characteristic density of C24 softwood, kg/m³ (EN 338)."""
WOOD_OMEGA = 2.2
"""γM 1.3 / kmod 0.9 on the strength and 1.5 on the load (EN 1995-1-1 2.4, EN 1990)."""


def embedment(d: float, to_grain: Array) -> Array:
    """fh,k of a bolt in softwood by its angle to the grain (radians), MPa (EN 1995-1-1 8.5.1.1)."""
    along = 0.082 * (1 - 0.01 * d) * DENSITY
    k90 = 1.35 + 0.015 * d
    out: Array = along / (k90 * np.sin(to_grain) ** 2 + np.cos(to_grain) ** 2)
    return out


def dowels(context: Context, j: Joint, how: Bolts, part: Part, shears: Array) -> Check:
    """Bolts through timber with steel on both faces: the wood crushed across half its thickness, or the bolt
    bent in it (Johansen; EN 1995-1-1 8.12, thin plates).  The grain runs along the joint's y.
    """
    basis, d, fu = context.basis, how.bolt.diameter, how.grade.of(how.bolt.diameter).Fu
    t = np.array([m.t for m in how.metal])
    size = np.sqrt((shears**2).sum(axis=2))
    up = np.abs(shears[:, :, 1])  # a side's joint has its y along the post
    angle = np.arccos(np.clip(up / np.where(size > 0, size, 1.0), 0.0, 1.0))
    fh = embedment(d, angle)
    yields = 0.3 * fu * d**2.6
    crush = 0.5 * fh * t * d
    bend = 1.15 * np.sqrt(2 * yields * fh * d)
    rated = basis.available(1.0, WOOD_OMEGA) * np.minimum(crush, bend)
    used = size / rated
    by_case, worst = used.max(axis=1), used.argmax(axis=1)
    k0 = int(by_case.argmax())
    best = float(rated[k0, worst[k0]])

    def work(k: int) -> Working:
        w = int(worst[k])
        return (
            Line(
                "wood round a bolt",
                "fh,k = 0.082 (1 − 0.01 d) ρ, less across the grain",
                f"d {d:g} mm, ρ {DENSITY:.0f} kg/m³, {math.degrees(angle[k, w]):.0f}° to the grain",
                f"{fh[k, w]:.1f} MPa",
            ),
            Line("crushed", "0.5 fh t d on a plane", f"t {t[w]:.4g} mm", f"{figure(float(crush[k, w]))} N"),
            Line(
                "bolt bent in it",
                "1.15 √(2 My fh d), My = 0.3 fu d^2.6",
                f"fu {fu:.0f} MPa",
                f"{figure(float(bend[k, w]))} N",
            ),
            Line(
                "available", "the lesser, " + basis.words(WOOD_OMEGA), "", f"{figure(float(rated[k, w]))} N"
            ),
            ratio("shear of the bolt", float(size[k, w]), float(rated[k, w]), "N"),
        )

    return context.governed(
        by_case * best,
        best,
        About(
            id=f"{j.key}: holes in host",
            name=f"{j.name}, timber round them",
            part="rail",
            link=HOST,
            kind="bearing",
            unit="N",
            clause="EN 1995-1-1 8.5.1, 8.2.3",
            path=how.path,
        ),
        work,
        by_case=by_case,
    )
