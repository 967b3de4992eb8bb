"""What holds by being pressed, pulled round or leant on: clamps, straps, one-way bearings."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from urial.assembly.model import HOST, BentBy, Clamp, Contact, Ground, Joint, Plugs, Seat, StrapRound
from urial.strength import bolts
from urial.strength.check import Array, Line, Unchecked, Working, figure
from urial.strength.checks.common import About, Context, Finding, ratio, register

WOOD = 2.5
"""Bearing across the grain, MPa: EN 338, C24, characteristic."""


def _mark(context: Context, j: Joint) -> str:
    return context.mark(j.a if j.a != HOST else j.b)


@register(Clamp)
def clamp_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """Slip by friction of the preloaded bolts (J3.8, clamping lost to the pull), the bolts' own tension,
    and opening.
    """
    how, basis = j.how, context.basis
    assert isinstance(how, Clamp)
    grade = how.grade.of(how.bolt.diameter)
    force, moment = context.forces.own(j)
    preload = bolts.tightened(how)
    w, h = how.size
    # moments in the pressed face open one side: their couple over the face's length acts as pull there
    pull = np.clip(-force[:, 2], 0, None) + 2 * np.abs(moment[:, 0]) / h + 2 * np.abs(moment[:, 1]) / w
    slide = np.hypot(force[:, 0], force[:, 1]) + np.abs(moment[:, 2]) / (np.hypot(w, h) / 4)
    total = how.count * preload
    grip = basis.available(1.0, 1.50) * how.faces * bolts.slip(total, how.mu)
    # slip: V/(μ T) + N/T ≤ 1 (J3-5a as one ratio)
    slipping = slide / grip + pull / (basis.available(1.0, 1.50) * bolts.DU * total)
    tension = basis.available(bolts.nominal_tension_stress(grade.Fu) * how.bolt.area * how.count, 2.00)

    def slip_work(k: int) -> Working:
        return (
            Line(
                "preload",
                "each bolt" if how.preload else "0.75 proof × As, each bolt",
                f"{how.count} × {how.bolt.name} grade {grade.name}",
                f"{figure(total)} N",
            ),
            Line(
                "grip",
                f"μ Du n Tb, {how.faces} faces, " + basis.words(1.5),
                f"μ {how.mu:g}, Du {bolts.DU:g}",
                f"{figure(float(grip))} N",
            ),
            Line(
                "slides",
                "shear in the face, twist over a quarter of its diagonal",
                f"{figure(slide[k])} N; opens with {figure(pull[k])} N",
                "",
            ),
            ratio("slip", float(slipping[k]), 1.0, "1"),
        )

    yield context.governed(
        slipping,
        1.0,
        About(
            id=f"{j.key}: grip",
            name=f"{j.name}, grip",
            part=_mark(context, j),
            link=context.link(j),
            kind="slip",
            unit="1",
            clause="AISC 360-22 J3.9, J3.10",
            path=how.path,
        ),
        slip_work,
    )

    def pull_work(k: int) -> Working:
        return (
            Line("pull", "straight, and the couple of the moments over the face", "", f"{figure(pull[k])} N"),
            Line(
                "available",
                "0.75 Fu A of all bolts, " + basis.words(2.0),
                f"{how.count} bolts",
                f"{figure(float(tension))} N",
            ),
            ratio("pull", float(pull[k]), float(tension), "N"),
        )

    yield context.governed(
        pull,
        float(tension),
        About(
            id=f"{j.key}: bolts",
            name=f"{j.name}, bolts pulled",
            part=_mark(context, j),
            link=context.link(j),
            kind="bolts",
            unit="N",
            clause="AISC 360-22 J3.7",
            path=how.path,
        ),
        pull_work,
    )
    for m in how.bent:
        yield _bent(context, j, m, pull, total)
    if j.b == HOST:
        yield Unchecked(
            HOST, f"the host's metal inside {j.name}: a thin wall can be crushed by tightening", HOST
        )


def _bent(context: Context, j: Joint, m: BentBy, pull: Array, total: float) -> Finding:
    """Metal the bolts bend: tightening does so before any load, and only what opens the clamp adds to
    that.
    """
    how, basis = j.how, context.basis
    assert isinstance(how, Clamp)
    demand = (np.maximum(pull, total) if m.tightened else pull) / m.share * m.arm
    holds = basis.available(
        min(m.steel.Fy * m.width * m.t**2 / 4, 1.6 * m.steel.Fy * m.width * m.t**2 / 6), 1.67
    )

    def work(k: int) -> Working:
        return (
            Line(
                "moment",
                "pull over those that share it × arm"
                + ("; the preload, or the load where it is more" if m.tightened else ""),
                f"{figure(max(float(pull[k]), total if m.tightened else 0.0))} N / {m.share} × "
                f"{m.arm:.1f} mm",
                f"{figure(float(demand[k]))} N·mm",
            ),
            Line(
                "available",
                "Fy Z ≤ 1.6 Fy S (F11), " + basis.words(1.67),
                f"{m.width:.0f} × {m.t:.3g} mm, Fy {m.steel.Fy:.0f}",
                f"{figure(holds)} N·mm",
            ),
            ratio("bending", float(demand[k]), holds, "N·mm"),
        )

    return context.governed(
        demand,
        holds,
        About(
            id=f"{j.key}: {m.name}",
            name=f"{j.name}, {m.name}",
            part=_mark(context, j),
            link=context.link(j),
            kind="plate",
            unit="N·mm",
            clause="AISC 360-22 F11",
            path=how.path,
        ),
        work,
    )


@register(StrapRound)
def strap_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """The strap's pull against its working limit, which has its own reserve: no basis is put on top of it."""
    how = j.how
    assert isinstance(how, StrapRound)
    force, _ = context.forces.own(j)
    pull = np.clip(force[:, 2], 0.0, None)

    def work(k: int) -> Working:
        return (
            Line(
                "pull",
                "tension of the strap where it holds, on top of what it is drawn up to",
                f"{figure(how.tension)} N drawn up",
                f"{figure(pull[k])} N",
            ),
            Line("working limit", how.source, "", f"{figure(how.limit)} N"),
            ratio("pull", float(pull[k]), how.limit, "N"),
        )

    yield context.governed(
        pull,
        how.limit,
        About(
            id=f"{j.key}: strap",
            name=f"{j.name}, working limit",
            part=_mark(context, j),
            link=context.link(j),
            kind="strap",
            unit="N",
            clause=how.source,
            path=how.path,
        ),
        work,
    )
    if how.radius > 0:
        yield _bark(context, j, pull)
    yield from _grip(context, j)


def _bark(context: Context, j: Joint, pull: Array) -> Finding:
    """What a strap presses what it goes round with: p = T / (r b), as a hoop, hardest at its tauter end."""
    how = j.how
    assert isinstance(how, StrapRound)
    presses, available = pull / (how.radius * how.wide), context.basis.available(WOOD, 1.67)

    def work(k: int) -> Working:
        return (
            Line(
                "presses",
                "p = T / (r b), a hoop",
                f"{figure(pull[k])} N / ({how.radius:.0f} × {how.wide:.0f} mm)",
                f"{presses[k]:.2f} MPa",
            ),
            Line(
                "available",
                "across the grain, " + context.basis.words(1.67),
                f"{WOOD:g} MPa",
                f"{available:.2f} MPa",
            ),
            ratio("pressure", float(presses[k]), available, "MPa"),
        )

    about = About(
        id=f"{j.key}: bark",
        name=f"bark under the {j.name}",
        part=HOST,
        link=HOST,
        kind="bearing",
        unit="MPa",
        clause="EN 338 C24 across the grain; hoop",
        path=how.path,
    )
    return context.governed(presses, available, about, work)


@register(Contact)
def contact_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """A bearing that only pushes: what it presses is not judged, and whether it slides is."""
    how = j.how
    assert isinstance(how, Contact)
    force, _ = context.forces.own(j)
    press = np.abs(force[:, 2])
    if how.area > 0 and how.limit > 0:
        available = context.basis.available(how.limit * how.area, 1.67)

        def work(k: int) -> Working:
            return (
                Line("presses", "along the bearing's own axis, where it bears", "", f"{figure(press[k])} N"),
                Line(
                    "available",
                    "limit × area, " + context.basis.words(1.67),
                    f"{how.limit:.3g} MPa × {figure(how.area)} mm²",
                    f"{figure(available)} N",
                ),
                ratio("presses", float(press[k]), available, "N"),
            )

        yield context.governed(
            press,
            available,
            About(
                id=f"{j.key}: bearing",
                name=f"{j.name}, pressure",
                part=_mark(context, j),
                link=context.link(j),
                kind="bearing",
                unit="N",
                clause=how.source,
            ),
            work,
        )
    else:
        yield Unchecked(_mark(context, j), f"{j.name}: the pressure where it bears", context.link(j))
    yield from _grip(context, j)


def _grip(context: Context, j: Joint) -> Iterator[Finding]:
    """Friction of everything of a piece that presses on the host or is pulled tight round it, once for them
    all.

    Where one begins to creep the others take more, so what slides is summed over them and so is what holds
    it."""
    piece = j.key.split("/", 1)[0]
    alike = [
        o
        for o in context.assembly.joints
        if HOST in (o.a, o.b)
        and o.key.split("/", 1)[0] == piece
        and isinstance(o.how, (Contact, StrapRound))
        and o.how.mu > 0
    ]
    if not alike or alike[0].key != j.key:
        return
    slide, hold = np.zeros(len(context.forces.cases)), np.zeros(len(context.forces.cases))
    for o in alike:
        force, _ = context.forces.own(o)
        slide += np.hypot(force[:, 0], force[:, 1])
        hold += o.how.mu * np.abs(force[:, 2])  # type: ignore[union-attr]
    if not slide.any():
        return
    used = slide / np.maximum(hold, 1e-9 + 1e-3 * slide)

    def work(k: int) -> Working:
        return (
            Line(
                "holds",
                "Σ μ N of what presses and what is pulled tight",
                f"{len(alike)} places",
                f"{figure(hold[k])} N",
            ),
            ratio("Σ of what would slide", float(slide[k]), float(max(hold[k], 1e-9)), "N"),
        )

    yield context.governed(
        used,
        1.0,
        About(
            id=f"{piece}/friction: slides",
            name=f"grip on the host by friction, {len(alike)} places",
            part=_mark(context, j),
            link=context.link(j),
            kind="slip",
            unit="1",
            clause="friction μ N, summed",
        ),
        work,
    )


@register(Plugs)
def plug_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """Plug welds as discs in the face the parts meet at: shear and pull together on the filled area (J2.3,
    table J2.5).
    """
    how, basis = j.how, context.basis
    assert isinstance(how, Plugs)
    spots = np.array(how.spots)
    centre = spots.mean(axis=0)
    force, moment = context.forces.own(j, j.place.point((float(centre[0]), float(centre[1]), 0.0)))
    n, area = len(spots), np.pi * how.diameter**2 / 4
    shear, pull = plug_stresses(how, force, moment)
    stress = np.sqrt(shear**2 + pull**2)
    worst = stress.max(axis=1)
    parts = [context.part(k) for k in (j.a, j.b)]
    metal = min(
        basis.available(0.60 * context.steel(p, j).Fu * 4 * how.depth / how.diameter, 2.00) for p in parts
    )  # round the plug's girth, over its area
    weld = basis.available(0.60 * how.electrode.FEXX, 2.00)
    available = min(weld, metal)

    def work(k: int) -> Working:
        return (
            Line(
                "plugs",
                f"{n} of {how.diameter:.3g} mm, area πd²/4 each",
                f"filled {how.depth:.3g} mm deep",
                f"{figure(area)} mm²",
            ),
            Line(
                "load on them",
                "about their middle, x and y in the face",
                f"F ({', '.join(figure(v) for v in force[k])}) N; M "
                f"({', '.join(figure(v) for v in moment[k])}) N·mm",
                "",
            ),
            Line(
                "worst stress",
                "shear V/A + M r/J and pull N/A + M c/I, as √(τ² + σ²); by J2.3 plugs are for shear, "
                "pull is counted as if it were",
                "",
                f"{worst[k]:.1f} MPa",
            ),
            Line(
                "available",
                "lesser of 0.60 FEXX and 0.60 Fu round the girth, " + basis.words(2.0),
                f"{figure(weld)}, {figure(metal)} MPa",
                f"{available:.1f} MPa",
            ),
            ratio("stress", float(worst[k]), available, "MPa"),
        )

    yield context.governed(
        worst,
        available,
        About(
            id=f"{j.key}: plugs",
            name=f"plug welds, {j.name}",
            part=_mark(context, j),
            link=context.link(j),
            kind="weld",
            unit="MPa",
            clause="AISC 360-22 J2.3, table J2.5",
            path=how.path,
        ),
        work,
    )


def plug_stresses(how: Plugs, force: Array, moment: Array) -> tuple[Array, Array]:
    """Shear and pull in each plug (case, plug), MPa, from force and moment (case, 3) about their middle."""
    spots = np.array(how.spots)
    arms, n, r = spots - spots.mean(axis=0), len(spots), how.diameter / 2
    area = np.pi * r**2
    own = area * r**2 / 4
    ix, iy = (float((arms[:, c] ** 2).sum()) * area + n * own for c in (1, 0))
    polar = ix + iy
    shear = (
        force[:, None, :2] / (n * area)
        + moment[:, 2, None, None] / polar * np.stack([-arms[:, 1], arms[:, 0]], axis=1)[None]
    )
    edge = np.abs(moment[:, 2]) / polar * r  # to the plug's rim
    pull = (
        np.abs(force[:, 2])[:, None] / (n * area)
        + np.abs(moment[:, 0])[:, None] * (np.abs(arms[:, 1]) + r) / ix
        + np.abs(moment[:, 1])[:, None] * (np.abs(arms[:, 0]) + r) / iy
    )
    return np.sqrt((shear**2).sum(axis=2)) + edge[:, None], pull


def plug_warnings(j: Joint, how: Plugs, thickness: float) -> list[str]:
    """Plug welds wider than they need be (J2.3b); those that are too small or too near are failures."""
    most = max(2.25 * how.depth, thickness + 11)
    if how.diameter <= most + 0.05:
        return []
    return [
        f"The plug welds of {j.name} are {how.diameter:.3g} mm through {thickness:.3g} mm metal; J2.3b wants "
        f"{thickness + 8:.0f} to {most:.0f} mm."
    ]


@register(Ground)
def ground_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """A wheel is held to its own mark, and what it presses on is the road: nothing more to judge here."""
    yield from ()


@register(Seat)
def seat_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """A bought piece's own hook: its rating is judged apart; what is ours on the host, nobody's figure."""
    if j.b != HOST and context.part(j.b).hardware and not context.part(j.b).rated:
        bought = context.part(j.b)
        yield Unchecked(
            bought.mark,
            f"{bought.name}: nobody gives it a rating, and what it holds is not judged",
            context.link(j),
        )
    on_host = context.part(j.a)
    said = any(isinstance(k.how, Seat) and k.b == j.a for k in context.assembly.joints_of[j.a])
    if j.b == HOST and not on_host.rated and not (on_host.hardware and said):
        yield Unchecked(_mark(context, j), f"{j.name}: the host's own metal there", context.link(j))
