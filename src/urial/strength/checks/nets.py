"""Net sections: what is left at every hole and opening a force passes, judged on the side that carries
more.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import cast

import numpy as np

from urial.assembly import facts
from urial.assembly.mesh import SPREAD, Beam
from urial.assembly.model import BuildError, Eye, Part
from urial.geometry import axis
from urial.geometry.profile import Net, strips_net
from urial.geometry.shape import Bar, Hole, Plate
from urial.stock.catalogue import Material
from urial.strength.check import Array, Check, Line, Working, figure
from urial.strength.checks.common import About, Context, ratio


def net_checks(context: Context) -> Iterable[Check]:
    """One check for each hole or opening of every part that carries."""
    for part in context.assembly.parts:
        beams = context.forces.net.beams_of(part.key)
        if not beams or part.material.kind == "timber":
            continue
        if isinstance(part.shape, Bar):
            yield from _bar(context, part, part.shape, beams)
        elif isinstance(part.shape, Plate):
            yield from _plate(context, part, part.shape, beams)


def _sides(context: Context, beams: list[Beam], s: float) -> list[Array]:
    """Forces inside a bar just before and just after a station (case, 6)."""
    return [
        context.forces.inside(b.id, min(max((s - b.start) / b.size, 0.0), 1.0))
        for b in beams
        if b.start - 1e-6 <= s <= b.start + b.size + 1e-6
    ]


def _bar(context: Context, part: Part, shape: Bar, beams: list[Beam]) -> Iterable[Check]:
    gross = axis.section_at(shape, -1e9, facts.wall_factor(part))
    soft = part.material.beside_weld()
    heat = facts.heated_spans(part, context.assembly) if soft is not part.material else []
    worst: dict[int, tuple[float, Check]] = {}
    for s, cut in axis.cut_stations(shape):
        left = axis.section_at(shape, s, facts.wall_factor(part))
        what = f"{cut.diameter:.4g} mm hole" if isinstance(cut, Hole) else "opening"
        if left is None or gross is None or left.area < 0.02 * gross.area:
            raise BuildError(
                f"The {what} leaves nothing of the {part.name} ({shape.stock.title}); make the hole "
                "smaller or the bar larger."
            )
        loads = _sides(context, beams, s)
        if not loads:
            continue  # beyond the last joint: nothing reaches it
        steel = soft if any(h.low <= s <= h.high for h in heat) else part.material
        stresses = [left.stress(f[:, 0], f[:, 4], f[:, 5]) for f in loads]
        side = int(np.argmax([v.max() for v in stresses]))
        number = shape.cuts.index(cut)
        check = _check(
            context,
            part,
            f"{part.name} at the {what}",
            f"{part.key}: net {number + 1}",
            steel,
            (stresses[side], loads[side], left, gross.area, what),
        )
        if number not in worst or check.utilisation > worst[number][0]:
            worst[number] = (check.utilisation, check)
    yield from (c for _, c in worst.values())


def _plate(context: Context, part: Part, shape: Plate, beams: list[Beam]) -> Iterable[Check]:
    steel = facts.softened(part, context.assembly)
    eyes = [
        facts.in_plate(part, j.place.o)
        for j in context.assembly.joints_of.get(part.key, ())
        if isinstance(j.how, Eye)
    ]
    for number, hole in enumerate(shape.holes, 1):
        if any(np.hypot(hole[0] - u, hole[1] - v) < 1.0 for u, v, _ in eyes):
            continue  # an eye has its own limits (D5)
        best: Check | None = None
        for b in beams:
            key = ("net", b.id, b.strip, number)
            if key not in context.assembly.memo:
                context.assembly.memo[key] = _strip_net(shape, b, hole)
            found = cast("tuple[float, Net, float] | None", context.assembly.memo[key])
            if found is None:
                continue
            f, left, whole = found
            load = context.forces.inside(b.id, _between_bolts(b, f))
            what = f"{hole[2]:.4g} mm hole"
            check = _check(
                context,
                part,
                f"{part.name} at hole {number}" if len(shape.holes) > 1 else f"{part.name} at its hole",
                f"{part.key}: net {number}",
                steel,
                (left.stress(load[:, 0], load[:, 4], load[:, 5]), load, left, whole, what),
            )
            best = check if best is None or check.utilisation > best.utilisation else best
        if best is not None:
            yield best


def _between_bolts(b: Beam, f: float) -> float:
    """Where a strip's force counts for a hole: at the outermost bolt, for holes of the bolts behind it.

    The frame has a group of bolts as one spring in its middle; really the outermost bolt already takes its
    share, and behind it the plate's moment only falls (elastic group, or turning about the far edge)."""
    strip = b.strip
    assert strip is not None
    low, high = strip.bolted
    return min(max(f, low), high) if low <= high else f


def _strip_net(shape: Plate, b: Beam, hole: tuple[float, float, float]) -> tuple[float, Net, float] | None:
    """Where a strip passes a hole (fraction), what is left of it there, and its whole area; None when it
    does not.
    """
    strip = b.strip
    assert strip is not None
    d = ((strip.b[0] - strip.a[0]) / b.size, (strip.b[1] - strip.a[1]) / b.size)
    s = (hole[0] - strip.a[0]) * d[0] + (hole[1] - strip.a[1]) * d[1]
    off = (hole[0] - strip.a[0]) * -d[1] + (hole[1] - strip.a[1]) * d[0]
    if not -hole[2] / 2 <= s <= b.size + hole[2] / 2:
        return None
    p = (strip.a[0] + s * d[0], strip.a[1] + s * d[1])
    corners = facts.flat_corners(shape.outline)
    across = (-d[1], d[0])
    ahead, back = (
        float(x) for x in facts.rays(corners, np.array([p, p]), np.array([across, (-across[0], -across[1])]))
    )
    grow = strip.width / 2 + SPREAD * max(min(s, b.size - s), 0.0)
    high, low = min(ahead, grow), min(back, grow)
    if off - hole[2] / 2 >= high - 1e-6 or off + hole[2] / 2 <= -low + 1e-6:
        return None
    # the strip's section has z along the plate's normal and y = z × x, which is across
    whole = (low + high) * shape.t
    left = [(-low, high)]
    for u, v, size in shape.holes:
        hs = (u - p[0]) * d[0] + (v - p[1]) * d[1]
        ho = (u - p[0]) * across[0] + (v - p[1]) * across[1]
        if abs(hs) < size / 2:
            half = math.sqrt(size**2 / 4 - hs**2)
            left = facts.pieces_outside_of(left, ho - half, ho + half)
    net = strips_net(left, shape.t)
    if net is None:
        raise BuildError(
            f"A {hole[2]:.4g} mm hole leaves no metal across the plate; make the plate wider or the "
            "hole smaller."
        )
    return min(max(s / b.size, 0.0), 1.0), net, whole


def _check(
    context: Context,
    part: Part,
    name: str,
    id: str,
    steel: Material,
    found: tuple[Array, Array, Net, float, str],
) -> Check:
    """Yielding of what is left on elastic stress, and rupture by Fu (D2-2, F13)."""
    stress, load, left, gross, what = found
    basis = context.basis
    yielding, rupture = basis.available(steel.Fy, 1.67), basis.available(steel.Fu, 2.00)
    available = min(yielding, rupture)

    def work(k: int) -> Working:
        n, my, mz = load[k, 0], load[k, 4], load[k, 5]
        return (
            Line(
                "net section",
                what,
                f"A {figure(left.area)} of {figure(gross)} mm²; ∫z² {figure(left.szz)}, ∫y² "
                f"{figure(left.syy)} mm⁴, middle moved {left.sy / left.area:.2f}, "
                f"{left.sz / left.area:.2f} mm",
                "",
            ),
            Line(
                "forces",
                "on the side of the hole that carries more",
                f"N {figure(n)} N; My {figure(my)}, Mz {figure(mz)} N·mm",
                "",
            ),
            Line(
                "stress",
                "σ linear over what is left, greatest at its corners",
                "∫σ = N, ∫σz = My, ∫σy = −Mz",
                f"{stress[k]:.1f} MPa",
            ),
            Line(
                "available",
                "lesser of Fy and Fu, each by its factor",
                f"Fy {basis.words(1.67)} {figure(yielding)}, Fu {basis.words(2.0)} {figure(rupture)}",
                f"{available:.1f} MPa",
            ),
            ratio("σ", float(stress[k]), available, "MPa"),
        )

    return context.governed(
        stress,
        available,
        About.on(part, id, name, "net section", "MPa", "AISC 360-22 D2-2, F13"),
        work,
    )
