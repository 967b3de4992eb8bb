"""Bolted joints in their own plane: shear with tension and prying, bearing and tear-out in every metal in
the direction each bolt pushes, block shear."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from urial.assembly import facts
from urial.assembly.model import HOST, Bolts, BuildError, Joint, Part, Weld
from urial.geometry.shape import Bar, Plate
from urial.strength import bolts, plates
from urial.strength.check import Array, Check, Line, Unchecked, Working, figure
from urial.strength.checks import timber
from urial.strength.checks.common import About, Context, Finding, ratio, register


@dataclass(frozen=True)
class _Layer:
    """One metal the bolts pass: its corners in the joint's plane, holes, thicknesses and strengths, and
    whom it belongs to.
    """

    name: str
    part: str
    link: str
    corners: Array
    hole_d: Array
    t: Array
    fu: Array
    sign: float  # which way the bolts push it, of the force on part a
    through: float = 0.0  # Fy of a hollow bar that they go right through: nothing holds its wall inside
    at: Array | None = None  # where its holes are, if not where the joint has them


@register(Bolts)
def bolt_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """Bolts of one joint: shear with tension and prying, bearing and tear-out, block shear."""
    how = j.how
    assert isinstance(how, Bolts)
    part = context.part(j.a)
    if not isinstance(part.shape, Plate):
        yield Unchecked(
            part.mark, f"{j.name}: bolts through something that is no flat plate", context.link(j)
        )
        return
    holes = np.array(how.holes)
    centre = holes.mean(axis=0)
    middle = j.place.point((float(centre[0]), float(centre[1]), 0.0))
    force, moment = context.forces.own(j, middle)
    try:
        shears = bolts.elastic_shears(holes, force[:, :2], moment[:, 2])
    except bolts.BoltError as error:
        raise BuildError(f"{j.name[0].upper()}{j.name[1:]}: {error}") from None
    if context.method == "centre" and len(holes) > 1:
        shears = _by_centre(holes, force, moment, shears)
    yield _shear_and_tension(context, j, how, part, (force, moment), shears)
    if j.b == HOST and any(m.material.kind == "timber" for m in how.metal):
        yield timber.dowels(context, j, how, part, shears)
    for layer in _layers(context, j, how, part):
        yield _bearing(context, j, how, layer, shears)
    yield _block_shear(context, j, how, part, force)
    if j.b == HOST and how.metal and all(m.material.kind == "metal" for m in how.metal):
        yield from _host_pulled(context, j, how, bolt_tensions(j, how, part, force, moment))


def _host_pulled(context: Context, j: Joint, how: Bolts, tension: Array) -> Iterator[Check]:
    """The host's metal under what pulls on the bolts: its wall bent round each of them where they pass
    through it, its thread where they are screwed into it.
    """
    basis, d = context.basis, how.bolt.diameter
    if not tension.any():
        return
    held = []
    for m in how.metal:
        if m.tapped:
            held.append(basis.available(bolts.thread_strip(d, m.t, m.material.Fu), 2.00))
        else:
            held.append(basis.available(bolts.pulled_through(m.material.Fy, m.t), 1.67))
    used = tension / np.array(held)
    by_case, worst = used.max(axis=1), used.argmax(axis=1)
    k0 = int(by_case.argmax())
    rated, tapped = held[int(worst[k0])], how.metal[int(worst[k0])].tapped

    def work(k: int) -> Working:
        w = int(worst[k])
        m = how.metal[w]
        formula = (
            "0.60 Fu · 0.5 π d Le, " + basis.words(2.0)
            if m.tapped
            else "π Fy t², a fan of yield lines, " + basis.words(1.67)
        )
        numbers = f"hole {w + 1}, t {m.t:.3g} mm, Fy {m.material.Fy:.0f}, Fu {m.material.Fu:.0f} MPa"
        return (
            Line("available", formula, numbers, f"{figure(held[w])} N"),
            ratio("pull on the bolt", float(tension[k, w]), held[w], "N"),
        )

    what = "thread in the host" if tapped else "host's wall pulled by the bolts"
    about = About(
        id=f"{j.key}: host pulled",
        name=f"{part_side(j)}{what}" if part_side(j) else f"{j.name}, {what}",
        part="rail",
        link=HOST,
        kind="wall",
        unit="N",
        clause="FED-STD-H28, thread in shear" if tapped else "yield lines (Johansen), 4 π m",
        path=how.path,
    )
    yield context.governed(by_case * rated, rated, about, work, by_case=by_case)


def _by_centre(holes: Array, force: Array, moment: Array, elastic: Array) -> Array:
    """Shears (case, bolt, 2) whose greatest is the instantaneous centre's; their directions are the
    elastic ones.
    """
    size = np.sqrt((elastic * elastic).sum(axis=2)).max(axis=1)
    in_plane = np.hypot(force[:, 0], force[:, 1])
    out = elastic.copy()
    for k in range(len(force)):
        if in_plane[k] > 0 and size[k] > 0:
            c = bolts.group_coefficient(holes, (float(force[k, 0]), float(force[k, 1])), float(moment[k, 2]))
            out[k] *= in_plane[k] / c / size[k]
    return out


def _shear_and_tension(
    context: Context, j: Joint, how: Bolts, part: Part, load: tuple[Array, Array], shears: Array
) -> Check:
    force, moment = load
    basis, grade, bolt = context.basis, how.grade.of(how.bolt.diameter), how.bolt
    holes = np.array(how.holes)
    per_bolt = np.sqrt((shears**2).sum(axis=2))
    left, right, low, high = _bearing_edges(j, how, part)
    tension = bolt_tensions(j, how, part, force, moment)
    fnt, fnv = (
        bolts.nominal_tension_stress(grade.Fu),
        bolts.nominal_shear_stress(grade.Fu, how.threads_in_plane),
    )
    ta, va = basis.available(fnt * bolt.area, 2.00), basis.available(fnv * bolt.area, 2.00)
    tee = prying(context, j, how, part)
    b, a, pitch = tee.b, tee.a, tee.pitch
    steel, t = context.steel(part), facts.thickness(part)
    q = tee.factor(ta, t, steel.Fu, 1 / basis.available(1.0, 1.67))
    rt, rv = tension / (q * ta), per_bolt / va
    used = np.maximum(np.maximum(rt, rv), (rt + rv) / 1.3)
    by_case = used.max(axis=1)
    worst = used.argmax(axis=1)

    def work(k: int) -> Working:
        w = int(worst[k])
        return (
            Line(
                "bolts",
                f"{len(holes)} × {bolt.name} grade {grade.name}",
                f"area {figure(bolt.area)} mm², Fu {grade.Fu:.0f}, Fnt {fnt:.0f}, Fnv {fnv:.0f} MPa, "
                f"threads {'in' if how.threads_in_plane else 'out of'} the plane",
                "",
            ),
            Line(
                "load on the joint",
                "at the bolts' middle; x, y in its plane, z out of the host",
                f"F ({', '.join(figure(v) for v in force[k])}) N; M "
                f"({', '.join(figure(v) for v in moment[k])}) N·mm",
                "",
            ),
            Line(
                "shear, worst bolt",
                "instantaneous centre" if context.method == "centre" else "V/n + M·r/Σr²",
                f"hole {w + 1}",
                f"{figure(per_bolt[k, w])} N",
            ),
            Line(
                "tension, worst bolt",
                "pull/n + overturning about the edge the plate bears on",
                f"hole {w + 1}; edges {left:.0f}, {right:.0f}, {low:.0f}, {high:.0f} mm",
                f"{figure(tension[k, w])} N",
            ),
            Line(
                "prying",
                "Q of AISC part 9",
                f"b {b:.0f}, a {a:.0f}, p {pitch:.0f} mm, plate {t:.3g} mm",
                f"{q:.3f}",
            ),
            Line(
                "available",
                "0.75 Fu A and Fnv A, each " + basis.words(2.0),
                f"tension {figure(q * ta)} N after prying",
                f"shear {figure(va)} N",
            ),
            Line(
                "together (J3-3)",
                "greatest of rt, rv, (rt + rv)/1.3",
                f"rt {rt[k, w]:.3f}, rv {rv[k, w]:.3f}",
                f"{by_case[k]:.3f}",
            ),
        )

    return context.governed(
        by_case,
        1.0,
        About(
            id=f"{j.key}: bolts",
            name=f"{j.name}, shear and tension",
            part=part.mark,
            link=context.link(j),
            kind="bolts",
            unit="1",
            clause="AISC 360-22 J3.7, J3.8; prying part 9",
            path=how.path,
        ),
        work,
    )


def _bearing_edges(j: Joint, how: Bolts, part: Part) -> tuple[float, float, float, float]:
    """How far the plate bears beyond the bolts' middle: left, right, low, high, mm."""
    left, right, low, high = (
        max(v, how.bolt.diameter / 2) for v in facts.bolt_edges(how, j.place, part).bearing
    )
    return left, right, low, high


def bolt_tensions(j: Joint, how: Bolts, part: Part, force: Array, moment: Array) -> Array:
    """Tension in each bolt (case, bolt), N, before prying: the pull shared, and overturning about the edge
    the plate bears on; from force and moment (case, 3) about the bolts' middle.
    """
    holes = np.array(how.holes)
    arms = holes - holes.mean(axis=0)
    left, right, low, high = _bearing_edges(j, how, part)
    # the host pulls the part on to itself along −z: that is the bolts' tension
    pull = np.clip(-force[:, 2], 0, None)[:, None] / len(holes)
    out: Array = (
        pull
        + bolts.tensions_about_edge(arms[:, 1], -moment[:, 0], low, high)
        + bolts.tensions_about_edge(arms[:, 0], moment[:, 1], left, right)
    )
    return out


def prying(context: Context, j: Joint, how: Bolts, part: Part) -> bolts.Prying:
    """A joint's bolts as those of a tee."""
    b, a, pitch = prying_arms(context, j, how, part)
    return bolts.Prying(b, a, pitch, how.hole_d, how.bolt.diameter)


def prying_arms(context: Context, j: Joint, how: Bolts, part: Part) -> tuple[float, float, float]:
    """The arms of a joint, kept with the assembly."""
    return context.assembly.once(("prying", j.key), lambda: _prying_arms(context, j, how, part))


def _prying_arms(context: Context, j: Joint, how: Bolts, part: Part) -> tuple[float, float, float]:
    """b: bolt line to the nearest weld on the plate; a: least edge; pitch: what of the plate one bolt
    bends, mm.
    """
    d = how.hole_d
    corners = []
    for other in context.assembly.joints_of.get(part.key, ()):
        if isinstance(other.how, Weld) and other.key != j.key:
            corners.append(np.array([j.place.local(p)[:2] for r in other.how.runs for p in (r.a, r.b)]))
    holes = np.array(how.holes)
    edges = facts.bolt_edges(how, j.place, part)
    a = max(float(edges.plate.min()), d / 2 + 1)
    if corners:
        b = max(min(_to_box(holes, c) for c in corners), how.bolt.diameter)
    else:
        b = a
    gaps = [float(np.hypot(*(p - q))) for n, p in enumerate(holes) for q in holes[:n]]
    return (
        b,
        a,
        max(min([*gaps, 2 * a, 2 * b]), 1.2 * d),
    )  # no more than 2 b for a bolt in all, nor its spacing


def _to_box(points: Array, corners: Array) -> float:
    """Least distance from points to the box round some corners."""
    low, high = facts.box_round(corners)
    return float(np.hypot(*np.maximum(np.maximum(low - points, points - high), 0.0).T).min())


def _layers(context: Context, j: Joint, how: Bolts, part: Part) -> Iterator[_Layer]:
    n = len(how.holes)
    steel = context.steel(part)
    yield _Layer(
        part.name,
        part.mark,
        part.family,
        facts.plate_corners(part, j.place),
        np.full(n, how.hole_d),
        np.full(n, facts.thickness(part)),
        np.full(n, steel.Fu),
        1.0,
        at=facts.drilled(part, j.place, np.array(how.holes)),
    )
    if j.b == HOST:
        if how.metal and all(m.material.kind == "metal" for m in how.metal):
            own = np.array(how.host_face) if how.host_face else None
            yield _Layer(
                "metal of the host behind it",
                "rail",
                HOST,
                own if own is not None else np.zeros((0, 2)),
                np.array(how.host_hole_d),
                np.array([m.t for m in how.metal]),
                np.array([m.material.Fu for m in how.metal]),
                -1.0,
            )
        return
    other = context.part(j.b)
    if isinstance(other.shape, (Plate, Bar)):
        fu = context.steel(other, j).Fu
        yield _Layer(
            other.name,
            other.mark,
            other.family,
            facts.face_corners(other, j.place),
            np.full(n, how.hole_d),
            np.full(n, facts.thickness(other)),
            np.full(n, fu),
            -1.0,
            context.steel(other, j).Fy if _hollow(other) else 0.0,
            facts.drilled(other, j.place, np.array(how.holes)),
        )


def _hollow(part: Part) -> bool:
    return isinstance(part.shape, Bar) and part.shape.stock.shape in ("rect_tube", "round_tube")


def _clear(layer: _Layer, holes: Array, push: Array) -> Array:
    """Clear distance (case, bolt) from each hole's edge to the metal's edge or the next hole, in the way
    it is pushed.
    """
    size = np.sqrt((push * push).sum(axis=2))
    way = push / np.where(size > 0, size, 1.0)[:, :, None]
    radius = layer.hole_d / 2
    out = np.full(size.shape, np.inf)
    if len(layer.corners):
        out = (
            facts.rays(
                layer.corners, np.broadcast_to(holes, push.shape).reshape(-1, 2), way.reshape(-1, 2)
            ).reshape(size.shape)
            - radius
        )
    to = holes - holes[:, None]  # (bolt, other, 2)
    ahead = (way[:, :, None] * to).sum(axis=3)
    off = np.abs(way[:, :, None, 0] * to[..., 1] - way[:, :, None, 1] * to[..., 0])
    half = np.sqrt(np.maximum(radius**2 - off**2, 0.0))
    gap = np.where((off < radius) & (ahead > 0), ahead - half - radius[:, None], np.inf)
    clear: Array = np.maximum(np.minimum(out, gap.min(axis=2)), 0.5)
    return clear


def _bearing(context: Context, j: Joint, how: Bolts, layer: _Layer, shears: Array) -> Check:
    basis, d = context.basis, how.bolt.diameter
    push = layer.sign * shears
    clear = _clear(layer, np.array(how.holes) if layer.at is None else layer.at, push)
    stress = np.full(len(layer.t), 1.8 * layer.through) if layer.through else 2.4 * layer.fu
    bear = stress * d * layer.t
    tear = 1.2 * clear * layer.t * layer.fu
    available = basis.available(1.0, 2.00) * np.minimum(bear, tear)
    demand = np.sqrt((push * push).sum(axis=2))
    used = demand / available
    by_case, worst = used.max(axis=1), used.argmax(axis=1)
    k0 = int(by_case.argmax())
    rated = float(available[k0, worst[k0]])

    def work(k: int) -> Working:
        w = int(worst[k])
        edge = f"{clear[k, w]:.1f}" if np.isfinite(clear[k, w]) else "far"
        return (
            Line(
                "bearing",
                "1.8 Fy d t: right through a hollow bar (J3.11c, J7)" if layer.through else "2.4 d t Fu",
                f"1.8 × {layer.through:.0f} × {d:g} × {layer.t[w]:.3g}"
                if layer.through
                else f"2.4 × {d:g} × {layer.t[w]:.3g} × {layer.fu[w]:.0f}",
                f"{figure(float(bear[w]))} N",
            ),
            Line(
                "tear-out",
                "1.2 lc t Fu, in the way this bolt pushes",
                f"hole {w + 1}, lc {edge} mm",
                f"{figure(float(tear[k, w]))} N",
            ),
            Line("available", "the lesser, " + basis.words(2.0), "", f"{figure(float(available[k, w]))} N"),
            ratio("shear of the bolt", float(demand[k, w]), float(available[k, w]), "N"),
        )

    side = part_side(j)
    return context.governed(
        by_case * rated,
        rated,
        About(
            id=f"{j.key}: holes in {layer.link}",
            name=f"{side}{layer.name}, bearing at the bolts".replace(f"{side}{side}", side),
            part=layer.part,
            link=layer.link,
            kind="bearing",
            unit="N",
            clause="AISC 360-22 J3.11",
            path=how.path,
        ),
        work,
        by_case=by_case,
    )


def part_side(j: Joint) -> str:
    """left or right with a space, for a name."""
    tail = j.key.rsplit(".", 1)[-1]
    return f"{tail} " if tail in ("left", "right") else ""


def _block_shear(context: Context, j: Joint, how: Bolts, part: Part, force: Array) -> Check:
    """The block between the bolts and the plate's edge, in each of the four directions the bolts may push
    it.
    """
    basis = context.basis
    material, t = context.steel(part), facts.thickness(part)
    h = facts.drilled(part, j.place, np.array(how.holes))
    corners = facts.plate_corners(part, j.place)
    spread = np.ptp(h, axis=0)
    d = how.hole_d + 2
    rows = [len({round(v / 5) for v in h[:, k]}) for k in (0, 1)]
    options: list[tuple[Array, float, str]] = []
    ways = np.array([(1.0, 0.0), (-1.0, 0.0), (0.0, 1.0), (0.0, -1.0)])
    ahead = (
        facts.rays(corners, np.tile(h, (4, 1)), np.repeat(ways, len(h), axis=0))
        .reshape(4, len(h))
        .max(axis=1)
    )
    for axis in (0, 1):
        for sign in (1, -1):
            length = float(ahead[2 * axis + (sign < 0)])
            across, n_across, n_along = float(spread[1 - axis]), rows[1 - axis], rows[axis]
            nominal = plates.block_shear(
                material.Fy,
                material.Fu,
                t,
                2 * length,
                max(2 * (length - (n_along - 0.5) * d), 0.0),
                max(across - (n_across - 1) * d, 0.0) if across > 0 else 0.0,
            )
            word = "along the plate's x" if axis == 0 else "along the plate's y"
            options.append(
                (
                    np.clip(sign * force[:, axis], 0, None),
                    max(basis.available(nominal, 2.00), 1.0),
                    f"{word}, {'+' if sign > 0 else '−'}",
                )
            )
    used = np.stack([f / a for f, a, _ in options])
    pick = used.max(axis=0)
    k = int(pick.argmax())
    demand, available, word = options[int(used[:, k].argmax())]

    def work(_: int) -> Working:
        return (
            Line(
                "block",
                f"torn out of the plate {word}",
                f"bolts {spread[0]:.0f} × {spread[1]:.0f} mm, holes taken as {d:.3g} mm, plate "
                f"{t:.3g} mm {material.name}",
                "",
            ),
            Line(
                "available",
                "0.60 Fu Anv + Fu Ant ≤ 0.60 Fy Agv + Fu Ant",
                basis.words(2.0),
                f"{figure(available)} N",
            ),
            ratio("force", float(demand[k]), available, "N"),
        )

    return context.governed(
        pick * available,
        float(available),
        About(
            id=f"{j.key}: block shear",
            name=f"{part.name}, block shear",
            part=part.mark,
            link=part.family,
            kind="block shear",
            unit="N",
            clause="AISC 360-22 J4.3",
        ),
        work,
        by_case=pick,
    )


def bolt_warnings(j: Joint, how: Bolts, part: Part, stopped: bool = False) -> list[str]:
    """Edges, spacing, oversize holes, a lone bolt (unless something else stops the part turning on it)."""
    side, d = part_side(j).strip() or j.name, how.bolt.diameter
    least = bolts.minimum_edge_distance(d)
    edges = facts.bolt_edges(how, j.place, part)
    out = []
    if d - 0.05 <= edges.plate.min() < least - 0.05:  # less is a failure of its own
        out.append(
            f"The {side} plate has {edges.plate.min():.0f} mm from a hole to the edge; {least:.0f} mm "
            f"is the least for {how.bolt.name} (J3.4)."
        )
    if how.host_face and d - 0.05 <= edges.host.min() < least - 0.05:
        out.append(
            f"The rail has {edges.host.min():.0f} mm from a {side} hole to its edge or end; "
            f"{least:.0f} mm is the least for {how.bolt.name} (J3.4)."
        )
    holes = np.array(how.holes)
    gaps = [float(np.hypot(*(a - b))) for n, a in enumerate(holes) for b in holes[:n]]
    if gaps and d - 0.05 <= min(gaps) - max(how.hole_d, *how.host_hole_d, 0.0) and min(gaps) < 2.67 * d:
        out.append(
            f"Two {side} holes are {min(gaps):.0f} mm apart; {2.67 * d:.0f} mm is the least for "
            f"{how.bolt.name} (J3.3)."
        )
    if max(how.host_hole_d, default=0.0) > how.bolt.hole + 1.1:
        out.append(
            f"A {side} rail hole is {max(how.host_hole_d):.3g} mm for an {how.bolt.name} bolt: "
            "oversize, so use thick washers and tighten fully."
        )
    if len(holes) == 1 and not stopped:
        out.append(f"One bolt on the {side} lets the plate turn; stop it with a second bolt or a shoulder.")
    return out
