"""Endurance of bolts and plug welds: ranges of tension and shear in each.

A joint that does not slip spares its bolts the shear: where the whole range, taken as if it all went one way,
stays below what friction is sure to hold at the torque of the list (AISC J3.9, class A), none is counted;
above the nominal resistance all of it is, between them a share; timber creeps and holds none.  That a tight
bolt also feels only a part of a pull that comes and goes is not counted.
"""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from urial.assembly.model import HOST, Bolts, Joint, Plugs
from urial.geometry.shape import Plate
from urial.stock import catalogue
from urial.strength import bolts
from urial.strength.check import Array, Check, Line, Working, figure
from urial.strength.checks.bolts import bolt_tensions, prying
from urial.strength.checks.clamps import plug_stresses
from urial.strength.checks.common import About
from urial.strength.checks.endurance import CLAUSE, Ranges, again, details

LARGE = 30.0
"""Over this diameter a thread bears less, mm."""


def size_effect(diameter: float) -> float:
    """How much harder a range of tension is on a bolt over M30 (EN 1993-1-9 table 8.1, detail 14)."""
    return max(1.0, float((diameter / LARGE) ** 0.25))


@again(Bolts)
def _bolts(r: Ranges, j: Joint) -> Iterable[Check]:
    how, context = j.how, r.context
    assert isinstance(how, Bolts)
    part = context.part(j.a)
    if not isinstance(part.shape, Plate):
        return
    bolt, holes = how.bolt, np.array(how.holes)
    u, v = holes.mean(axis=0)
    force, moment = context.forces.own(j, j.place.point((float(u), float(v), 0.0)))
    # a range has no sign: the end of the swing that pulls the bolts is not known to be the one or the other
    tension = np.maximum(*(bolt_tensions(j, how, part, s * force, s * moment) for s in (1.0, -1.0)))
    pry = prying(context, j, how, part).most
    shear = np.sqrt((bolts.elastic_shears(holes, force[:, :2], moment[:, 2]) ** 2).sum(axis=2))
    area = bolt.stress_area if how.threads_in_plane else bolt.area
    large = size_effect(bolt.diameter)
    pulled, sheared = r.summed(tension), r.summed(shear)
    held = bolts.held_by_friction(how)
    sigma = pulled * pry / bolt.stress_area * large
    felt = bolts.slipping(sheared, held)
    tau = felt * sheared / area
    k = int((sigma.max(axis=0) / 50 + tau.max(axis=0) / 100).argmax())  # the bolt that is worst off

    def lines(d: int) -> Working:
        return (
            Line(
                "range of tension",
                "Δσ = ΔT (1 + Q) / As; a preload's relief is not counted",
                f"hole {k + 1}: {figure(float(pulled[d, k]))} N, 1 + Q {pry:.3f}, "
                f"As {bolt.stress_area:.1f} mm²",
                f"{sigma[d, k]:.1f} MPa",
            ),
            Line(
                "range of shear",
                "none to where friction is sure to hold, Δτ = ΔV / A from where it slips, a share between",
                f"{figure(float(sheared[d, k]))} N, friction {figure(held / 1.5)} to {figure(held)} N; "
                f"felt {felt[d, k]:.2f}; A {figure(area)} mm²",
                f"{tau[d, k]:.1f} MPa",
            ),
        )

    about = About(
        f"{j.key}: bolts, endurance",
        f"{j.name}, again and again",
        part.mark,
        context.link(j),
        "fatigue",
        "MPa",
        f"{CLAUSE} table 8.1",
        path=how.path,
    )
    named = details()[0]
    steel = catalogue.material("S235")  # bolts are steel whatever they hold
    yield r.check(about, (sigma[:, k], tau[:, k]), (named["thread"], named["bolt_shear"], steel), lines)


@again(Plugs)
def _plugs(r: Ranges, j: Joint) -> Iterable[Check]:
    how, context = j.how, r.context
    assert isinstance(how, Plugs)
    u, v = np.array(how.spots).mean(axis=0)
    shear, pull = plug_stresses(how, *context.forces.own(j, j.place.point((float(u), float(v), 0.0))))
    tau, sigma = r.summed(shear), r.summed(pull)
    k = int((sigma.max(axis=0) / 36 + tau.max(axis=0) / 80).argmax())
    part = context.part(j.b if j.b != HOST else j.a)

    def lines(d: int) -> Working:
        return (
            Line(
                "ranges of stress",
                "in the worst plug, over its area; pull on its root",
                f"plug {k + 1} of {len(how.spots)}",
                f"Δσ {sigma[d, k]:.1f}, Δτ {tau[d, k]:.1f} MPa",
            ),
        )

    about = About(
        f"{j.key}: plugs, endurance",
        f"plug welds, {j.name}, again and again",
        part.mark,
        context.link(j),
        "fatigue",
        "MPa",
        f"{CLAUSE} table 8.5",
        path=how.path,
    )
    named = details()[0]
    found: tuple[Array, Array] = (sigma[:, k], tau[:, k])
    yield r.check(about, found, (named["root"], named["shear"], part.material), lines)


__all__: list[str] = []
