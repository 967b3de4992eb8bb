"""Tube walls where another tube lands on them."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from urial.assembly import facts
from urial.assembly.model import HOST, Joint, Part, Weld
from urial.geometry import path as paths
from urial.geometry.axis import frame_at
from urial.geometry.place import Place, Vec, cross, dot, minus, norm, times, unit
from urial.geometry.shape import Bar
from urial.strength import plates
from urial.strength.check import Array, Check, Line, Unchecked, Working, figure
from urial.strength.checks.common import About, Context, Finding, register
from urial.strength.checks.landing import landing

NOTHING = 0.1
"""N or N·mm that is only what rounding leaves."""


@register(Weld)
def wall_checks(context: Context, j: Joint) -> Iterator[Finding]:
    """Side walls of a tube under a branch across its full width: thrust and both moments together (K2, K4).

    Only where all beads lie in one plane on the chord's face: a branch that is let in passes its force on
    otherwise.
    """
    if HOST in (j.a, j.b):
        yield Unchecked(
            HOST,
            f"the host's metal round the weld of {j.name}: its wall and what is behind it are its "
            "maker's to judge",
            HOST,
        )
        return
    assert isinstance(j.how, Weld)
    depth, met = facts.layers(context.assembly), landing(context.assembly, j)
    # the one that ends there is the branch; of two that pass, the one nearer to the host is the chord
    chord, branch = (
        (met.chord, met.branch)
        if met
        else (context.part(k) for k in sorted((j.a, j.b), key=lambda k: depth.get(k, 0)))
    )
    if not (
        isinstance(chord.shape, Bar)
        and isinstance(branch.shape, Bar)
        and chord.shape.stock.shape in ("rect_tube", "round_tube")
    ):
        return
    if max(float(np.abs(v).max()) for v in context.forces.wrench(j, j.place.o)) < NOTHING:
        return  # it only hangs there
    s = facts.on_bar(chord, j.place.o)
    here = chord.place @ frame_at(chord.shape, s)
    out = (
        unit(minus(j.place.o, here.o))
        if dot(minus(j.place.o, here.o), minus(j.place.o, here.o)) > 1
        else here.z
    )
    if (
        chord.shape.stock.shape == "round_tube"
        and branch.shape.stock.shape in ("round_tube", "round_bar")
        and not _at_end(chord, s)
    ):
        yield _round(context, j, chord, branch, here)
        return
    heights = [dot(minus(p, here.o), out) for r in j.how.runs for p in (r.a, r.b)]
    if chord.shape.stock.shape == "round_tube" and not _at_end(chord, s):
        yield Unchecked(
            chord.mark,
            f"the wall of the {chord.name} under the {branch.name}: no rule here for these shapes",
            context.link(j),
        )
        return
    if max(heights) - min(heights) > 1.0 or abs(dot(out, here.x)) > 0.1:
        return
    if branch.shape.stock.shape != "rect_tube" or max(abs(dot(out, here.y)), abs(dot(out, here.z))) < 0.99:
        yield Unchecked(
            chord.mark,
            f"the wall of the {chord.name} under the {branch.name}: no rule here for these shapes",
            context.link(j),
        )
        return
    side = abs(dot(out, here.y)) > 0.9
    section = chord.shape.stock.section(facts.wall_factor(chord))
    face, depth_ = (section.height, section.width) if side else (section.width, section.height)
    across = here.z if side else here.y
    along, wide = _extent(j.how, here.x), _extent(j.how, across)
    force, moment = context.forces.wrench(j, j.place.o)
    if j.a == branch.key:
        force = -force  # what the branch brings; its moment counts either way
    if wide < 0.85 * face:
        yield _narrow(context, j, (chord, branch), (here, out, across), (face, along, wide), (force, moment))
        return
    steel, t, basis = context.steel(chord, j), section.wall, context.basis
    radius = chord.shape.stock.radius
    outward = basis.available(plates.wall_yielding(steel.Fy, t, radius, along, False), 1.50)
    inward = min(outward, basis.available(plates.wall_crippling(steel, t, depth_, along), 2.00))
    ip = basis.available(plates.in_plane_moment(steel, t, along), 1.50)
    op = basis.available(plates.out_of_plane_moment(steel, t, face, depth_, along), 1.50)
    push = -(force @ np.array(out))
    about_across, about_along = np.abs(moment @ np.array(across)), np.abs(moment @ np.array(here.x))
    p = np.where(push > 0, push / inward, -push / outward)
    used = p + about_across / ip + about_along / op

    def work(k: int) -> Working:
        return (
            Line(
                "footprint",
                f"branch {wide:.0f} of the tube's {face:.4g} mm width (β ≈ 1)",
                f"{along:.0f} mm along the tube, design wall {t:.3g} mm",
                "",
            ),
            Line(
                "thrust",
                "side-wall yielding 2 Fy t (5k + lb); crippling inward",
                f"{figure(abs(push[k]))} N of {figure(inward if push[k] > 0 else outward)} N",
                f"{p[k]:.3f}",
            ),
            Line(
                "moment along the tube",
                "0.5 Fy t (Hb + 5t)²",
                f"{figure(about_across[k])} of {figure(ip)} N·mm",
                f"{about_across[k] / ip:.3f}",
            ),
            Line(
                "moment across the tube",
                "lesser of side walls and chord distortion",
                f"{figure(about_along[k])} of {figure(op)} N·mm",
                f"{about_along[k] / op:.3f}",
            ),
            Line("together", "sum of the three (K4)", "", f"{used[k]:.3f}"),
        )

    yield context.governed(
        used,
        1.0,
        About.on(
            chord,
            f"{j.key}: wall",
            f"{chord.name} wall under the {branch.name}",
            "wall",
            "1",
            "AISC 360-22 K2.3, K4, J10.2",
        ),
        work,
    )


def _narrow(
    context: Context,
    j: Joint,
    parts: tuple[Part, Part],
    ways: tuple[Place, Vec, Vec],
    sizes: tuple[float, float, float],
    load: tuple[Array, Array],
) -> Check:
    """A rectangular branch narrower than 85 % of the face it stands on: the face plastified, or sheared
    through round it, by thrust and both moments (K3-7, K3-8, K4-6, K4-9), less by what the tube itself
    carries.
    """
    (chord, branch), (here, out, across), (face, along, wide), (force, moment) = parts, ways, sizes, load
    steel, basis, t = context.steel(chord, j), context.basis, facts.thickness(chord)
    beta, eta = max(wide / face, 0.05), along / face
    t_b, fy_b = facts.thickness(branch), context.steel(branch, j).Fy
    effective = min(10 / (face / t) * (steel.Fy * t) / (fy_b * t_b), 1.0) * beta
    u = _chord_stress(context, chord, j)
    qf = np.clip(1.3 - 0.4 * u / beta, 0.1, 1.0)
    plastic = basis.available(plates.narrow_thrust(steel.Fy, t, eta, beta), 1.50)
    punched = basis.available(plates.narrow_punch(steel.Fy, t, face, eta, beta, effective), 1.58)
    ip = basis.available(plates.narrow_in_plane(steel.Fy, t, along, eta, beta), 1.50)
    op = basis.available(plates.narrow_out_of_plane(steel.Fy, t, face, along, wide, beta), 1.50)
    push = np.abs(force @ np.array(out))
    about_across, about_along = np.abs(moment @ np.array(across)), np.abs(moment @ np.array(here.x))
    used = push / np.minimum(plastic * qf, punched) + (about_across / ip + about_along / op) / qf

    def work(k: int) -> Working:
        return (
            Line(
                "shapes",
                "β = Bb/B, η = lb/B; Qf = 1.3 − 0.4 U/β ≤ 1",
                f"β {beta:.3f}, η {eta:.3f}, U {u[k]:.3f}, design wall {t:.3g} mm",
                f"Qf {qf[k]:.3f}",
            ),
            Line(
                "thrust",
                "lesser of Fy t² (2η/(1−β) + 4/√(1−β)) Qf and 0.6 Fy t B (2η + 2βeop)",
                f"{figure(push[k])} of {figure(min(plastic * float(qf[k]), punched))} N",
                f"{push[k] / min(plastic * float(qf[k]), punched):.3f}",
            ),
            Line(
                "moment along the tube",
                "Fy t² Hb (1/2η + 2/√(1−β) + η/(1−β)) Qf",
                f"{figure(about_across[k])} of {figure(ip * float(qf[k]))} N·mm",
                f"{about_across[k] / (ip * qf[k]):.3f}",
            ),
            Line(
                "moment across the tube",
                "Fy t² (0.5 Hb (1+β)/(1−β) + √(2 B Bb (1+β)/(1−β))) Qf",
                f"{figure(about_along[k])} of {figure(op * float(qf[k]))} N·mm",
                f"{about_along[k] / (op * qf[k]):.3f}",
            ),
            Line("together", "sum of the three (K4)", "", f"{used[k]:.3f}"),
        )

    about = About.on(
        chord,
        f"{j.key}: wall",
        f"{chord.name} wall under the {branch.name}",
        "wall",
        "1",
        "AISC 360-22 K3, K4",
    )
    return context.governed(used, 1.0, about, work)


def _at_end(chord: Part, s: float) -> bool:
    """Two bars that meet end to end are no branch and chord."""
    assert isinstance(chord.shape, Bar)
    size = paths.length(chord.shape.path)
    return s < 1.0 or s > size - 1.0


def _round(context: Context, j: Joint, chord: Part, branch: Part, here: Place) -> Finding:
    """A round branch on a round chord: chord plastification by thrust and both moments (K3, table K4.1)."""
    assert isinstance(chord.shape, Bar) and isinstance(branch.shape, Bar)
    basis, steel = context.basis, context.steel(chord, j)
    t, big, small = facts.thickness(chord), chord.shape.stock.width, branch.shape.stock.width
    s = facts.on_bar(branch, j.place.o)
    way = (branch.place @ frame_at(branch.shape, s)).x
    sine = math.sqrt(max(1 - dot(way, here.x) ** 2, 0.0))
    beta, gamma = small / big, big / (2 * t)
    if beta > 1.0 or sine < 0.5 or gamma > 25:
        return Unchecked(
            chord.mark,
            f"the wall of the {chord.name} under the {branch.name}: β {beta:.2f}, angle "
            f"{math.degrees(math.asin(sine)):.0f}°, D/2t {gamma:.0f} are outside table K3.1A",
            context.link(j),
        )
    force, moment = context.forces.wrench(j, j.place.o)
    flat = cross(way, here.x)
    plane = times(flat, 1 / max(norm(flat), 1e-9))
    axial = np.abs(force @ np.array(way))
    in_plane = np.abs(moment @ np.array(plane))
    out_plane = np.abs(moment @ np.array(cross(plane, way)))
    u = _chord_stress(context, chord, j)
    thrust = basis.available(plates.round_thrust(steel.Fy, t, beta, gamma, sine), 1.67)
    ip = basis.available(plates.round_in_plane(steel.Fy, t, small, beta, gamma, sine), 1.67)
    op = basis.available(plates.round_out_of_plane(steel.Fy, t, small, beta, sine), 1.67)
    linear, square = axial / thrust + out_plane / op, in_plane / ip
    alone = (
        linear + np.sqrt(linear**2 + 4 * square**2)
    ) / 2  # the multiplier of p + m_ip² + m_op = 1, upside down
    # with λ p = Qf(λ U), Qf = 1 − 0.3 λU (1 + λU): the chord's own stress grows with the load too
    a = alone + 0.3 * u
    by_case = np.where(alone > 1e-9, (a + np.sqrt(a * a + 1.2 * u * u)) / 2, 0.0)

    def work(k: int) -> Working:
        return (
            Line("shapes", "β = Db/D, γ = D/2t", f"β {beta:.3f}, γ {gamma:.1f}, sin θ {sine:.3f}", ""),
            Line(
                "thrust",
                "Fy t² (3.1 + 15.6 β²) γ^0.2 / sin θ",
                f"{figure(axial[k])} of {figure(thrust)} N",
                f"{axial[k] / thrust:.3f}",
            ),
            Line(
                "moment in the plane",
                "5.39 Fy t² γ^0.5 β Db / sin θ",
                f"{figure(in_plane[k])} of {figure(ip)} N·mm",
                f"{square[k]:.3f}",
            ),
            Line(
                "moment out of it",
                "Fy t² Db 3/(1 − 0.81 β) / sin θ",
                f"{figure(out_plane[k])} of {figure(op)} N·mm",
                f"{out_plane[k] / op:.3f}",
            ),
            Line("together", "p + m_ip² + m_op = 1, as a load multiplier", "", f"{alone[k]:.3f}"),
            Line(
                "chord's own stress",
                "Qf = 1 − 0.3 U (1 + U) at the load where it fails",
                f"U {u[k]:.3f}",
                f"{by_case[k]:.3f}",
            ),
        )

    return context.governed(
        by_case,
        1.0,
        About.on(
            chord,
            f"{j.key}: wall",
            f"{chord.name} wall under the {branch.name}",
            "wall",
            "1",
            "AISC 360-22 tables K3.1, K4.1",
        ),
        work,
    )


def _chord_stress(context: Context, chord: Part, j: Joint) -> Array:
    """U of K1.3: what the chord itself carries there over its yield (case,)."""
    assert isinstance(chord.shape, Bar)
    s = facts.on_bar(chord, j.place.o)
    section = chord.shape.stock.section(facts.wall_factor(chord))
    steel = context.steel(chord, j)
    u = np.zeros(len(context.forces.cases))
    for b in context.forces.net.beams_of(chord.key):
        if b.start - 1e-6 <= s <= b.start + b.size + 1e-6:
            f = context.forces.inside(b.id, min(max((s - b.start) / b.size, 0.0), 1.0))
            squeeze = np.clip(-f[:, 0], 0, None) / section.area
            u = np.maximum(u, (squeeze + np.hypot(f[:, 4], f[:, 5]) / section.Wely) / steel.Fy)
    return u


def _extent(weld: Weld, direction: Vec) -> float:
    """How far a weld reaches along a direction, toe to toe, mm."""
    at = [(dot(p, direction), facts.toe(r, direction)) for r in weld.runs for p in (r.a, r.b)]
    return max(a + t for a, t in at) - min(a - t for a, t in at)
