"""Pins, the bar in its bore, eyes for hooks, and stems that carry a rating of their own."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from urial.assembly import facts
from urial.assembly.model import LOAD, Eye, Fit, Joint, Part, Pin, Shank, Stud, Weld
from urial.geometry import path as paths
from urial.geometry.place import Place, minus, norm
from urial.geometry.shape import Bar
from urial.strength import pins, plates
from urial.strength.check import Array, Line, Working, figure
from urial.strength.checks.common import About, Context, Finding, ratio, register


@register(Pin)
def pin_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """Shear, bending, bearing outside and inside, and the metal behind the holes; inner part a, outer part
    b.
    """
    how, basis = j.how, context.basis
    assert isinstance(how, Pin)
    force, _ = context.forces.own(j)
    load = np.abs(force[:, 0])
    bar, bore = context.part(j.a), context.part(j.b)
    if not (isinstance(bar.shape, Bar) and isinstance(bore.shape, Bar)):
        return
    stock = bar.shape.stock
    inner = 2 * stock.wall if stock.shape == "rect_tube" else stock.width
    outer = bore.shape.stock.wall
    inner_steel, outer_steel = context.steel(bar, j), context.steel(bore, j)
    inner_end, outer_end = (
        _end(bar.shape, facts.on_bar(bar, j.place.o), how.hole),
        _end(bore.shape, facts.on_bar(bore, j.place.o), how.hole),
    )
    area = 2 * math.pi * how.diameter**2 / 4
    shear = basis.available(pins.nominal_shear_stress(how.material.Fu) * area, 2.00)
    added = [p for p, _ in facts.doublers(bore, _across(j), context.assembly)]
    thick = outer + max((facts.thickness(p) for p in added), default=0.0)
    lever = pins.bending_moment(1.0, thick, inner, how.gap)
    plastic = pins.plastic_moment(how.material.Fy, how.diameter)
    elastic = how.material.Fy * pins.elastic_modulus(how.diameter)
    bending = basis.available(plastic, 1.67) / lever
    d = how.diameter
    doubled = _both_walls(context, bore, j, d, min(outer_steel.Fy, how.material.Fy))
    options: list[tuple[str, str, float, str, Working]] = [
        (
            "shear",
            "0.563 Fu on two planes",
            shear,
            "AISC 360-22 J3.7",
            (
                Line(
                    "shear strength",
                    "2 A · 0.563 Fu, " + basis.words(2.0),
                    f"2 × {area / 2:.0f} mm² × 0.563 × {how.material.Fu:.0f}",
                    f"{figure(shear)} N",
                ),
            ),
        ),
        (
            "bending",
            "M = P/2·(to/2 + gap + ti/4)",
            bending,
            "AISC 360-22 F11; pin moment by lug method",
            (
                Line(
                    "lever",
                    "(to/2 + gap + ti/4)/2",
                    f"to {thick:.3g}, gap {how.gap:.2f}, ti {inner:.3g} mm",
                    f"{lever:.2f} mm",
                ),
                Line(
                    "strength",
                    "Fy Z ≤ 1.6 Fy S over the lever, " + basis.words(1.67),
                    f"Fy {how.material.Fy:.0f} MPa, d {d:.4g} mm",
                    f"{figure(bending)} N",
                ),
                Line(
                    "it begins to bend at",
                    "Fy S over the lever, " + basis.words(1.67),
                    "elastic limit, for comparison",
                    f"{figure(basis.available(elastic, 1.67) / lever)} N",
                ),
            ),
        ),
        (
            "bending with shear",
            "(M/MR)² + (V/VR)² ≤ 1",
            pins.together(shear, bending),
            "EN 1993-1-8 table 3.10",
            (
                Line(
                    "together",
                    "1 / √(1/shear² + 1/bending²)",
                    f"{figure(shear)}, {figure(bending)} N",
                    f"{figure(pins.together(shear, bending))} N",
                ),
            ),
        ),
        (
            "bearing on receiver",
            "1.8 Fy d t, two walls",
            basis.available(
                2 * (pins.bearing(min(outer_steel.Fy, how.material.Fy), d, outer) + doubled.bearing), 2.00
            ),
            "AISC 360-22 J7-1",
            doubled.words,
        ),
        (
            "bearing on bar",
            "1.8 Fy d t",
            basis.available(pins.bearing(min(inner_steel.Fy, how.material.Fy), d, inner), 2.00),
            "AISC 360-22 J7-1",
            (),
        ),
        (
            "tear-out of bar",
            "0.60 Fu 2t(a + d/2)",
            basis.available(pins.plate_shear(inner_steel.Fu, inner, inner_end, d), 2.00),
            "AISC 360-22 D5-2",
            (),
        ),
        (
            "tear-out of receiver",
            "0.60 Fu 2t(a + d/2), two walls",
            basis.available(
                2 * (pins.plate_shear(outer_steel.Fu, outer, outer_end, d) + doubled.tearing), 2.00
            ),
            "AISC 360-22 D5-2",
            doubled.words,
        ),
    ]
    for what, formula, available, clause, lines in options:

        def work(
            k: int, formula: str = formula, available: float = available, lines: Working = lines
        ) -> Working:
            return (
                *lines,
                Line("available", formula, "", f"{figure(available)} N"),
                ratio("pull on the pin", float(load[k]), available, "N"),
            )

        link, mark, path = context.link(j), pin_mark(context, j), how.path
        if what.endswith("bar"):
            link, mark, path = bar.family, bar.mark, bar.paths[0] if bar.paths else ""
        elif what.endswith("receiver"):
            link, mark, path = bore.family, bore.mark, bore.paths[0] if bore.paths else ""
        yield context.governed(
            load,
            available,
            About(
                id=f"{j.key}: {what}",
                name=f"{j.name}, {what}",
                part=mark,
                link=link,
                kind="pin",
                unit="N",
                clause=clause,
                path=path,
            ),
            work,
        )


# ---- doublers round a hole


@dataclass(frozen=True)
class Doubled:
    """What a doubler adds to one wall, N, nominal: its own metal, no more than its weld brings into it."""

    bearing: float
    tearing: float
    rupture: float = 0.0
    words: Working = ()


def _across(j: Joint) -> Place:
    """A pin's place with z along the pin, as an eye has it."""
    return Place.facing(j.place.o, j.place.y, j.place.x)


def weld_strength(context: Context, weld: Joint, thinner: float, fu: float) -> float:
    """Nominal strength of a doubler's beads pulled any way in its face, N: 0.60 FEXX on the throat, no more
    than 0.60 Fu on the thinner metal beside them (J2.4; Ω 2.00 for both).
    """
    how = weld.how
    assert isinstance(how, Weld)
    size = sum(norm(minus(r.b, r.a)) for r in how.runs)
    return size * 0.60 * min(0.7071 * how.leg * how.electrode.FEXX, thinner * fu)


def _added(context: Context, part: Part, p: Part, weld: Joint, pin: tuple[Place, float, float]) -> Doubled:
    """What one doubler adds; ``pin``: place of its axis, diameter, the least Fy that bears on it."""
    place, d, fy = pin
    edge, t = facts.eye_metal(p, place, d)
    steel = context.steel(p, weld)
    thin = min(t, facts.thickness(part))
    most = weld_strength(context, weld, thin, min(steel.Fu, context.steel(part, weld).Fu))
    bearing = min(pins.bearing(min(fy, steel.Fy), d, t), most)
    tearing = min(pins.plate_shear(steel.Fu, t, edge, d), most)
    rupture = min(pins.plate_rupture(steel.Fu, t, edge), most)
    words = Line(
        "doubler",
        "its own metal, no more than its weld brings into it",
        f"t {t:.3g} mm; bearing {figure(bearing)}, tearing {figure(tearing)}, weld {figure(most)} N",
        "added to the wall",
    )
    return Doubled(bearing, tearing, rupture, (words,))


def _both_walls(context: Context, bore: Part, j: Joint, d: float, fy: float) -> Doubled:
    """What doublers on both walls add to each; nothing where only one wall has one, since the pin pulls on
    both.
    """
    place = _across(j)
    sides: dict[bool, list[Doubled]] = {True: [], False: []}
    for p, weld in facts.doublers(bore, place, context.assembly):
        out = place.local(p.flat_place.o)[2] > 0
        sides[out].append(_added(context, bore, p, weld, (place, d, fy)))
    if not (sides[True] and sides[False]):
        return Doubled(0.0, 0.0)
    one, other = (
        (sum(x.bearing for x in row), sum(x.tearing for x in row)) for row in (sides[True], sides[False])
    )
    return Doubled(min(one[0], other[0]), min(one[1], other[1]), words=sides[True][0].words)


def _end(shape: Bar, s: float, hole: float) -> float:
    """Metal between a hole's edge and the bar's nearer end, mm."""
    return max(min(s, paths.length(shape.path) - s) - hole / 2, 0.1)


def pin_mark(context: Context, j: Joint) -> str:
    piece = j.key.split("/", 1)[0]
    return next(
        (p.mark for p in context.assembly.parts if p.piece == piece and p.family.endswith("pin")),
        context.mark(j.a),
    )


@register(Fit)
def fit_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """The bar's thrust against the bore: yielding of the two walls that carry it (J10.2)."""
    how, basis = j.how, context.basis
    assert isinstance(how, Fit)
    bore = context.part(j.b)
    if not isinstance(bore.shape, Bar):
        return
    force, moment = context.forces.own(j)
    thrust = np.maximum(np.abs(force[:, 2]), np.abs(force[:, 1]))
    wall, steel, radius = facts.thickness(bore), context.steel(bore, j), bore.shape.stock.radius
    spread = 2 * wall
    available = basis.available(plates.wall_yielding(steel.Fy, wall, radius, spread, how.at_end), 1.50)

    def work(k: int) -> Working:
        return (
            Line(
                "thrust",
                "contact couple over the engaged length, from the frame",
                f"up or down {figure(abs(force[k, 2]))}, sideways {figure(abs(force[k, 1]))} N",
                f"{figure(thrust[k])} N",
            ),
            Line(
                "available",
                f"2 Fy t ({'2.5' if how.at_end else '5'} k + lb), lb taken as 2 t",
                f"Fy {steel.Fy:.0f}, t {wall:.3g}, k {radius:.3g} mm",
                f"{figure(available)} N",
            ),
            ratio("thrust", float(thrust[k]), available, "N"),
        )

    yield context.governed(
        thrust,
        available,
        About.on(bore, f"{j.key}: wall", j.name, "wall", "N", "AISC 360-22 J10.2"),
        work,
    )
    bar = context.part(j.a)
    if isinstance(bar.shape, Bar):
        if how.roll and np.abs(moment[:, 0]).max(initial=0.0) > 1.0:
            yield _rolled(context, j, bore, bar, (thrust, np.abs(moment[:, 0])))
        if bar.shape.stock.shape == "rect_tube":
            yield _insert_wall(context, j, bar, thrust)


def _rolled(context: Context, j: Joint, bore: Part, bar: Part, load: tuple[Array, Array]) -> Finding:
    """A bar that is rolled in its bore: a couple of contacts where its flats end, on two opposite walls,
    since with any play no more than two bear; each close to one side wall, which yields (J10.2, half).
    """
    assert isinstance(bore.shape, Bar) and isinstance(bar.shape, Bar)
    thrust, twist = load
    basis, outer, inner = context.basis, bore.shape.stock, bar.shape.stock
    wall, steel = facts.thickness(bore), context.steel(bore, j)
    corner = max(outer.radius - outer.wall, inner.radius, 0.0)
    arm = max(min(inner.width, inner.height) / 2 - corner, 1.0)
    one = thrust / 2 + twist / (2 * arm)
    available = basis.available(plates.wall_yielding(steel.Fy, wall, outer.radius, 2 * wall, True), 1.50) / 2

    def work(k: int) -> Working:
        return (
            Line(
                "contacts",
                "two, on opposite walls, b/2 − R from the middle: T / (2 (b/2 − R)), and half the thrust",
                f"T {figure(float(twist[k]))} N·mm, b/2 − R {arm:.1f} mm, "
                f"thrust {figure(float(thrust[k]))} N",
                f"{figure(float(one[k]))} N",
            ),
            Line(
                "available",
                "one side wall at the end: Fy t (2.5 k + lb), lb taken as 2 t, " + basis.words(1.5),
                f"Fy {steel.Fy:.0f}, t {wall:.3g}, k {outer.radius:.3g} mm",
                f"{figure(available)} N",
            ),
            ratio("contact", float(one[k]), available, "N"),
        )

    name = f"{j.name}, bar rolled in it"
    about = About.on(bore, f"{j.key}: roll", name, "wall", "N", "AISC 360-22 J10.2")
    return context.governed(one, available, about, work)


def _insert_wall(context: Context, j: Joint, bar: Part, thrust: Array) -> Finding:
    """The side walls of a tube that is pressed in a bore: yielding (J10.2), away from its ends."""
    assert isinstance(bar.shape, Bar)
    basis, wall, steel = context.basis, facts.thickness(bar), context.steel(bar, j)
    radius = bar.shape.stock.radius
    available = basis.available(plates.wall_yielding(steel.Fy, wall, radius, 2 * wall, False), 1.50)

    def work(k: int) -> Working:
        return (
            Line("thrust", "of the bore on the bar", "", f"{figure(float(thrust[k]))} N"),
            Line(
                "available",
                "2 Fy t (5 k + lb), lb taken as 2 t, " + basis.words(1.5),
                f"Fy {steel.Fy:.0f}, t {wall:.3g}, k {radius:.3g} mm",
                f"{figure(available)} N",
            ),
            ratio("thrust", float(thrust[k]), available, "N"),
        )

    about = About.on(
        bar, f"{j.key}: bar's wall", f"{bar.name}'s wall, {j.name}", "wall", "N", "AISC 360-22 J10.2"
    )
    return context.governed(thrust, available, about, work)


@register(Stud)
def stud_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """A pin standing out of one wall: shear, bending over its reach, bearing and tear-out of the wall, the
    wall bent by its foot.
    """
    how, basis = j.how, context.basis
    assert isinstance(how, Stud)
    part = context.part(j.a)
    force, _ = context.forces.own(j)
    radial = np.hypot(force[:, 0], force[:, 1])
    steel, t, d = context.steel(part, j), facts.thickness(part), how.diameter
    edge, wide = facts.room_round(part, j.place, d)
    lever = how.reach + t / 2
    foot = 2 * steel.Fy * t**2 / 4 * max(wide - d, 1.0) / max(lever - how.collar / 2, 0.25 * lever)
    shear = basis.available(pins.nominal_shear_stress(how.material.Fu) * math.pi * d**2 / 4, 2.00)
    bending = basis.available(pins.plastic_moment(how.material.Fy, d), 1.67) / lever
    options = (
        ("shear of the pin", "0.563 Fu A", shear, "AISC 360-22 J3.7"),
        (
            "bending of the pin",
            f"min(Fy Z, 1.6 Fy S) over {lever:.1f} mm",
            bending,
            "AISC 360-22 F11",
        ),
        (
            "bending with shear of the pin",
            "(M/MR)² + (V/VR)² ≤ 1",
            pins.together(shear, bending),
            "EN 1993-1-8 table 3.10",
        ),
        (
            "bearing of the wall",
            "1.8 Fy d t",
            basis.available(pins.bearing(min(steel.Fy, how.material.Fy), d, t), 2.00),
            "AISC 360-22 J7-1",
        ),
        (
            "tear-out of the wall",
            f"0.60 Fu 2t(a + d/2), a {edge:.1f} mm",
            basis.available(pins.plate_shear(steel.Fu, t, max(edge, 0.1), d), 2.00),
            "AISC 360-22 D5-2",
        ),
        (
            "wall bent by its foot",
            f"two hinge lines Fy t²/4 across {wide:.0f} mm less the hole, lever less half the "
            f"{how.collar:.3g} mm collar",
            basis.available(foot, 1.67),
            "yield lines; no clause",
        ),
    )
    for what, formula, available, clause in options:

        def work(k: int, formula: str = formula, available: float = available) -> Working:
            return (
                Line(
                    "available",
                    formula,
                    f"d {d:.3g}, t {t:.3g} mm, pin Fy {how.material.Fy:.0f}, wall Fy {steel.Fy:.0f} MPa",
                    f"{figure(available)} N",
                ),
                ratio("pull square to the pin", float(radial[k]), available, "N"),
            )

        mine = what.endswith("pin")
        yield context.governed(
            radial,
            available,
            About(
                id=f"{j.key}: {what}",
                name=f"{j.name}, {what}",
                part=pin_mark(context, j) if mine else part.mark,
                link=context.link(j) if mine else part.family,
                kind="pin",
                unit="N",
                clause=clause,
                path=how.path,
            ),
            work,
        )


@register(Eye)
def eye_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """A hook or a pin in a hole of a plate or of a tube's wall: bearing, rupture beside and shear
    behind the hole (D5, J7).
    """
    how, basis = j.how, context.basis
    assert isinstance(how, Eye)
    force, _ = context.forces.wrench(j)
    load = np.sqrt((force**2).sum(axis=1))
    if not load.any():
        return
    plate = context.part(j.a)
    edge, t = facts.eye_metal(plate, j.place, how.hole)
    steel, pin = context.steel(plate, j), min(how.hook, how.hole)
    about = About.on(plate, f"{j.key}: eye", j.name, "eye", "N", "AISC 360-22 D5, J7", how.path)
    if j.b != LOAD:  # between two parts it is a link of the chain by itself
        about = replace(about, link=context.link(j))
    more = [
        _added(context, plate, p, weld, (j.place, pin, steel.Fy))
        for p, weld in facts.doublers(plate, j.place, context.assembly)
    ]
    loose = pins.looseness(pin, how.hole)
    options = {
        "bearing 1.8 Fy d t": pins.bearing(steel.Fy, pin, t) + sum(m.bearing for m in more),
        "rupture 2 t be Fu": loose * pins.plate_rupture(steel.Fu, t, edge) + sum(m.rupture for m in more),
        "shear 0.60 Fu 2t(a + d/2)": loose * pins.plate_shear(steel.Fu, t, edge, pin)
        + sum(m.tearing for m in more),
    }
    formula = min(options, key=lambda k: options[k])
    available = basis.available(options[formula], 2.00)

    def work(k: int) -> Working:
        rows = tuple(
            Line(
                name.split(" ")[0],
                name.split(" ", 1)[1],
                f"t {t:.3g}, hook {how.hook:.3g}, hole {how.hole:.3g}, edge {edge:.3g} mm",
                f"{figure(v)} N",
            )
            for name, v in options.items()
        )
        slack = Line(
            "looser than 1 mm",
            "Cr = 1 − 0.275 √(1 − Dp²/Dh²) on rupture and shear (ASME BTH-1)",
            f"Dp {pin:.3g}, Dh {how.hole:.3g} mm",
            f"{loose:.3f}",
        )
        return (
            *((slack,) if loose < 1 else ()),
            *rows,
            *(line for m in more for line in m.words),
            Line("available", "the least, " + basis.words(2.0), formula, f"{figure(available)} N"),
            ratio("pull on the eye", float(load[k]), available, "N"),
        )

    yield context.governed(
        load,
        available,
        about,
        work,
    )


@register(Shank)
def shank_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """The stem is what its rating says, which is a check of its own; here the plate under its flange and
    nut (J7).
    """
    how, basis = j.how, context.basis
    assert isinstance(how, Shank)
    plate = context.part(j.a)
    force, moment = context.forces.own(j)
    steel = context.steel(plate)
    # overturning presses half the flange: a ring's edge carries M over its section modulus
    ring = math.pi * (how.flange**2 - how.diameter**2) / 4
    modulus = math.pi * (how.flange**4 - how.diameter**4) / (32 * how.flange)
    pressed = np.abs(force[:, 2]) / ring + np.hypot(moment[:, 0], moment[:, 1]) / modulus
    available = basis.available(1.8 * steel.Fy, 2.00)

    def work(k: int) -> Working:
        return (
            Line(
                "under the flange",
                "σ = F/A + M/W of the ring it stands on",
                f"flange {how.flange:.3g}, stem {how.diameter:.3g} mm",
                f"{pressed[k]:.0f} MPa",
            ),
            Line("available", "1.8 Fy, " + basis.words(2.0), f"Fy {steel.Fy:.0f}", f"{available:.0f} MPa"),
            ratio("pressure", float(pressed[k]), available, "MPa"),
        )

    yield context.governed(
        pressed,
        available,
        About.on(
            plate,
            f"{j.key}: seat",
            f"{plate.name} under the {context.part(j.b).family.split('/')[-1]}'s flange",
            "bearing",
            "MPa",
            "AISC 360-22 J7",
        ),
        work,
    )
