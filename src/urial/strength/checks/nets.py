"""Net sections: what is left at every hole and opening a force passes, judged on the side that carries
more.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from urial.assembly import facts
from urial.assembly.mesh import SPREAD, Beam
from urial.assembly.model import BuildError, Eye, Part, Shank
from urial.geometry import axis, folded
from urial.geometry.outline import Outline, bounds
from urial.geometry.place import Vec
from urial.geometry.profile import Net, strips_net
from urial.geometry.shape import Bar, Hole, Plate
from urial.stock.catalogue import Material
from urial.strength.check import Array, Check, Line, Working, figure
from urial.strength.checks.common import About, Context, ratio

Found = tuple[Array, Array, "Passed", str]
"""Greatest stress (case,), forces there (case, 6), what is left, and what the opening is."""
Judged = Callable[[Context, Part, str, str, Material, Found], Check]


def net_checks(context: Context, judge: Judged | None = None) -> Iterable[Check]:
    """One check for each hole or opening of every part that carries; by its static strength, or by
    ``judge``.
    """
    judge = judge or _check
    for part in context.assembly.parts:
        beams = context.forces.net.beams_of(part.key)
        if not beams or part.material.kind == "timber":
            continue
        if isinstance(part.shape, Bar):
            yield from _bar(context, part, part.shape, beams, judge)
        elif isinstance(part.shape, Plate):
            yield from _plate(context, part, part.shape, beams, judge)


def _sides(context: Context, beams: list[Beam], s: float) -> list[Array]:
    """Forces inside a bar just before and just after a station (case, 6)."""
    return [
        context.forces.inside(b.id, min(max((s - b.start) / b.size, 0.0), 1.0))
        for b in beams
        if b.start - 1e-6 <= s <= b.start + b.size + 1e-6
    ]


def _bar(context: Context, part: Part, shape: Bar, beams: list[Beam], judge: Judged) -> Iterable[Check]:
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
        check = judge(
            context,
            part,
            f"{part.name} at the {what}",
            f"{part.key}: net {number + 1}",
            steel,
            (
                stresses[side],
                loads[side],
                Passed(
                    0.0, left, gross.area, at=part.place.point(cut.centre) if isinstance(cut, Hole) else None
                ),
                what,
            ),
        )
        if number not in worst or check.utilisation > worst[number][0]:
            worst[number] = (check.utilisation, check)
    yield from (c for _, c in worst.values())


def _plate(context: Context, part: Part, shape: Plate, beams: list[Beam], judge: Judged) -> Iterable[Check]:
    steel = facts.softened(part, context.assembly)
    eyes = [
        facts.in_plate(part, facts.at_hole(part, j.place).o)
        for j in context.assembly.joints_of.get(part.key, ())
        if isinstance(j.how, Eye)
    ]
    holes = [
        (n, hole)
        for n, hole in enumerate(shape.holes, 1)
        if not any(np.hypot(hole[0] - u, hole[1] - v) < 1.0 for u, v, _ in eyes)  # an eye has its own (D5)
    ]
    many, once = len(shape.holes) > 1, context.assembly.once
    for number, hole in holes:
        key, where = f"net {number}", f"hole {number}" if many else "its hole"
        most = _bent_by_flange(context, part, hole)
        yield from _worst(
            context,
            part,
            (key, where, f"{hole[2]:.4g} mm hole"),
            steel,
            [
                (b, once(("net", b.id, b.strip, number), partial(_strip_net, part, shape, b, hole, most)))
                for b in beams
            ],
            judge,
        )
    for number, window in enumerate(shape.openings, 1):
        low_u, low_v, high_u, high_v = bounds(window)
        words = f"{high_u - low_u:.4g} × {high_v - low_v:.4g} mm cut-out"
        where = f"cut-out {number}" if len(shape.openings) > 1 else "its cut-out"
        found = [
            (b, n)
            for b in beams
            for n in once(("window", b.id, b.strip, number), partial(_window_nets, shape, b, window))
        ]
        yield from _worst(context, part, (f"window {number}", where, words), steel, found, judge)


def _worst(
    context: Context,
    part: Part,
    names: tuple[str, str, str],
    steel: Material,
    found: Sequence[tuple[Beam, Passed | None]],
    judge: Judged,
) -> Iterable[Check]:
    """The check of an opening on the strip, and at the station of it, that is worst off."""
    key, where, what = names
    best: Check | None = None
    for b, passed in found:
        if passed is None:
            continue
        load = context.forces.inside(b.id, _between_bolts(b, passed.f))
        stress = passed.net.stress(load[:, 0], load[:, 4], load[:, 5]) + passed.rack * np.abs(load[:, 1])
        check = judge(
            context,
            part,
            f"{part.name} at {where}",
            f"{part.key}: {key}",
            steel,
            (stress, load, passed, what),
        )
        best = check if best is None or check.utilisation > best.utilisation else best
    if best is not None:
        yield best


@dataclass(frozen=True)
class Passed:
    """An opening a strip passes: at what fraction of it, what is left there, the whole area, mm², and the
    stress that 1 N of shear in the plate's plane puts into the legs beside a long opening, MPa/N.
    """

    f: float
    net: Net
    whole: float
    rack: float = 0.0
    legs: tuple[tuple[float, float], ...] = ()
    at: Vec | None = None  # a round hole's middle, host axes


def _between_bolts(b: Beam, f: float) -> float:
    """Where a strip's force counts for a hole: at the outermost bolt, for holes of the bolts behind it.

    The frame has a group of bolts as one spring in its middle; really the outermost bolt already takes its
    share, and behind it the plate's moment only falls (elastic group, or turning about the far edge)."""
    strip = b.strip
    assert strip is not None
    low, high = strip.bolted
    return min(max(f, low), high) if low <= high else f


def _bent_by_flange(context: Context, part: Part, hole: tuple[float, float, float]) -> float:
    """The width on which a flange that is turned round this hole bends the plate, mm: a stiff disc of radius
    r bends a wide plate beside it by M/(2π r).  No bound where no flange stands.
    """
    for j in context.assembly.joints_of.get(part.key, ()):
        if isinstance(j.how, Shank):
            u, v, _ = facts.in_plate(part, j.place.o)
            if np.hypot(hole[0] - u, hole[1] - v) < 1.0:
                return math.pi * j.how.flange
    return math.inf


def _strip_net(
    part: Part, shape: Plate, b: Beam, hole: tuple[float, float, float], most: float
) -> Passed | None:
    """What a strip passes at a hole, on no more than ``most`` mm of it; None when it does not."""
    strip = b.strip
    assert strip is not None
    d = strip.way
    s = (hole[0] - strip.a[0]) * d[0] + (hole[1] - strip.a[1]) * d[1]
    off = (hole[0] - strip.a[0]) * -d[1] + (hole[1] - strip.a[1]) * d[0]
    if not -hole[2] / 2 <= s <= b.size + hole[2] / 2:
        return None
    found = _section(shape, b, s, (off - hole[2] / 2, off + hole[2] / 2), f"A {hole[2]:.4g} mm hole", most)
    at = part.flat_place.point(folded.point_at(shape, hole[0], hole[1], shape.t / 2))
    return replace(found, at=at) if found else None


def _window_nets(shape: Plate, b: Beam, window: Outline) -> list[Passed]:
    """What a strip passes along an opening: at its ends, its middle and between.

    Beside it the plate is two legs that rack: shear V in the plate's plane bends each leg by its share of
    V, as the legs' I, times half the opening's length (a frame with stiff ends)."""
    strip = b.strip
    assert strip is not None
    d = strip.way
    off = facts.flat_corners(window) - np.array(strip.a)
    along, across = off @ np.array(d), off @ np.array((-d[1], d[0]))
    low, high = float(along.min()), float(along.max())
    out = []
    for part in (0.02, 0.25, 0.5, 0.75, 0.98):
        s = low + part * (high - low)
        if 0 <= s <= b.size:
            reach = (float(across.min()), float(across.max()))
            found = _section(shape, b, s, reach, "A cut-out")
            if found is not None:
                out.append(found)
    if not out:
        return []
    rack = max(_racking(legs, high - low, shape.t) for legs in (p.legs for p in out))
    return [replace(p, rack=rack) for p in out]


def _racking(legs: tuple[tuple[float, float], ...], length: float, t: float) -> float:
    """Greatest stress in the legs beside an opening for 1 N of shear across it, MPa/N."""
    wide = [high - low for low, high in legs]
    stiff = sum(w**3 for w in wide)
    # share w³/Σw³, moment share·L/2, modulus t w²/6
    return max(w**3 / stiff * length / 2 / (t * w * w / 6) for w in wide)


def _section(
    shape: Plate, b: Beam, s: float, opening: tuple[float, float], called: str, most: float = math.inf
) -> Passed | None:
    """What is left of a strip's section at ``s``; None where the opening (across the strip, mm) misses it."""
    strip = b.strip
    assert strip is not None
    d = strip.way
    p = (strip.a[0] + s * d[0], strip.a[1] + s * d[1])
    corners = facts.flat_corners(shape.outline)
    across = (-d[1], d[0])
    ahead, back = (
        float(x) for x in facts.rays(corners, np.array([p, p]), np.array([across, (-across[0], -across[1])]))
    )
    grow = min(strip.width / 2 + SPREAD * strip.from_ends(s), most / 2)
    high, low = min(ahead, grow), min(back, grow)
    if opening[0] >= high - 1e-6 or opening[1] <= -low + 1e-6:
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
    for gap in facts.window_gaps(shape.openings, p, across):
        left = facts.pieces_outside_of(left, *gap)
    net = strips_net(left, shape.t)
    if net is None:
        raise BuildError(
            f"{called} leaves no metal across the plate; make the plate wider or the opening smaller."
        )
    return Passed(min(max(s / b.size, 0.0), 1.0), net, whole, 0.0, tuple(left))


def _check(
    context: Context,
    part: Part,
    name: str,
    id: str,
    steel: Material,
    found: Found,
) -> Check:
    """Yielding of what is left on elastic stress, and rupture by Fu (D2-2, F13)."""
    stress, load, passed, what = found
    left, gross = passed.net, passed.whole
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
                f"{stress[k] - passed.rack * abs(load[k, 1]):.1f} MPa",
            ),
            *(
                [
                    Line(
                        "racking",
                        "the legs beside the opening bend: + share of V · L/2 / (t w²/6)",
                        f"{passed.rack:.3g} MPa/N × {figure(abs(load[k, 1]))} N",
                        f"{passed.rack * abs(load[k, 1]):.1f} MPa",
                    )
                ]
                if passed.rack
                else []
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
