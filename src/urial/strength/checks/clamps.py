"""What holds by being pressed, pulled round or leant on: clamps, straps, one-way bearings."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from urial.assembly.model import HOST, Clamp, Contact, Joint, StrapRound
from urial.strength import bolts
from urial.strength.check import Line, Unchecked, Working, figure
from urial.strength.checks.common import Context, Finding, ratio, register


def _mark(context: Context, j: Joint) -> str:
    return context.mark(j.a if j.a != HOST else j.b)


@register(Clamp)
def clamp_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """Slip by friction of the preloaded bolts (J3.8, clamping lost to the pull), the bolts' own tension, and opening."""
    how, basis = j.how, context.basis
    assert isinstance(how, Clamp)
    grade = how.grade.of(how.bolt.diameter)
    force, moment = context.forces.own(j)
    preload = bolts.preload(grade.proof, how.bolt.stress_area)
    w, h = how.size
    # moments in the pressed face open one side: their couple over the face's length acts as pull there
    pull = np.clip(-force[:, 2], 0, None) + 2 * np.abs(moment[:, 0]) / h + 2 * np.abs(moment[:, 1]) / w
    slide = np.hypot(force[:, 0], force[:, 1]) + np.abs(moment[:, 2]) / (np.hypot(w, h) / 4)
    total = how.count * preload
    grip = basis.available(1.0, 1.50) * how.faces * bolts.slip(total, how.mu)
    # slip: V/(μ T) + N/T ≤ 1 (J3-5a as one ratio)
    slipping = slide / grip + pull / (basis.available(1.0, 1.50) * 1.13 * total)
    tension = basis.available(bolts.nominal_tension_stress(grade.Fu) * how.bolt.area * how.count, 2.00)

    def slip_work(k: int) -> Working:
        return (Line("preload", "0.75 proof × As, each bolt", f"{how.count} × {how.bolt.name} grade {grade.name}", f"{figure(total)} N"),
                Line("grip", f"μ Du n Tb, {how.faces} faces, " + basis.words(1.5), f"μ {how.mu:g}, Du 1.13", f"{figure(float(grip))} N"),
                Line("slides", "shear in the face, twist over a quarter of its diagonal", f"{figure(slide[k])} N; opens with {figure(pull[k])} N", ""),
                ratio("slip", float(slipping[k]), 1.0, "1"))  # fmt: skip

    yield context.governed(slipping, 1.0, id=f"{j.key}: grip", name=f"{j.name}, grip", part=_mark(context, j), link=context.link(j), kind="slip", unit="1",
                           clause="AISC 360-22 J3.9, J3.10", work=slip_work, path=how.path)  # fmt: skip

    def pull_work(k: int) -> Working:
        return (Line("pull", "straight, and the couple of the moments over the face", "", f"{figure(pull[k])} N"),
                Line("available", "0.75 Fu A of all bolts, " + basis.words(2.0), f"{how.count} bolts", f"{figure(float(tension))} N"),
                ratio("pull", float(pull[k]), float(tension), "N"))  # fmt: skip

    yield context.governed(pull, float(tension), id=f"{j.key}: bolts", name=f"{j.name}, bolts pulled", part=_mark(context, j), link=context.link(j), kind="bolts", unit="N",
                           clause="AISC 360-22 J3.7", work=pull_work, path=how.path)  # fmt: skip


@register(StrapRound)
def strap_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """The strap's pull against its working limit, which has its own reserve: no basis is put on top of it."""
    how = j.how
    assert isinstance(how, StrapRound)
    force, _ = context.forces.own(j)
    pull = np.abs(force[:, 2])

    def work(k: int) -> Working:
        return (Line("pull", "tension of the strap where it holds; slack otherwise", "", f"{figure(pull[k])} N"),
                Line("working limit", how.source, "", f"{figure(how.limit)} N"),
                ratio("pull", float(pull[k]), how.limit, "N"))  # fmt: skip

    yield context.governed(pull, how.limit, id=f"{j.key}: strap", name=f"{j.name}, working limit", part=_mark(context, j), link=context.link(j), kind="strap", unit="N",
                           clause=how.source, work=work, path=how.path)  # fmt: skip


@register(Contact)
def contact_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """A bearing that only pushes: what it presses is not judged, and whether it slides is."""
    how = j.how
    assert isinstance(how, Contact)
    force, _ = context.forces.own(j)
    press, slide = np.abs(force[:, 2]), np.hypot(force[:, 0], force[:, 1])
    yield Unchecked(_mark(context, j), f"{j.name}: the pressure where it bears", context.link(j))
    if how.mu <= 0 or not slide.any():
        return
    used = slide / np.maximum(how.mu * press, 1e-9 + 1e-3 * slide)

    def work(k: int) -> Working:
        return (Line("presses", "along the bearing's own axis", "", f"{figure(press[k])} N"),
                ratio("slides", float(slide[k]), float(max(how.mu * press[k], 1e-9)), "N"))  # fmt: skip

    yield context.governed(used, 1.0, id=f"{j.key}: slides", name=f"{j.name}, sliding", part=_mark(context, j), link=context.link(j), kind="slip", unit="1",
                           clause="friction μ N", work=work)  # fmt: skip
