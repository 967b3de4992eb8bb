"""Tube on tube, again and again: the stress at the foot of a branch, where the chord's wall bends under it.

The nominal stresses of branch and chord are raised by factors of concentration and held against the
hot-spot category.  Square and rectangular tubes by the formulas of CIDECT design guide 8 (van Wingerden,
Packer, Wardenier; T joints), round ones by Efthymiou's.  Where a joint is outside their limits nothing is
judged, and that is said.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from urial.assembly import facts
from urial.assembly.model import Joint, Weld
from urial.geometry import path as paths
from urial.geometry.axis import frame_at
from urial.geometry.place import cross, dot, unit
from urial.geometry.shape import Bar
from urial.strength.check import Array, Check, Line, Unchecked, Working
from urial.strength.checks.common import About, Finding
from urial.strength.checks.endurance import Detail, Ranges, again, details
from urial.strength.checks.landing import Landing, landing

HOT_SPOT = 114.0
"""Hot-spot category of a wall 16 mm thick, MPa (CIDECT 8, IIW XIII-1804)."""
THIN = 4.0
"""Thinner walls crack from the root first, and get no bonus for being thin, mm."""
FILLET = 1.4
"""On the branch's side a fillet is so much worse than the fused weld that the formulas are for (CIDECT 8)."""


def category(t: float) -> float:
    """Range borne 2·10⁶ times at the hot spot of a wall ``t`` mm thick, MPa:
    log N = (12.476 − 3 log S)/(1 − 0.18 log(16/t)), for thin walls as for 16 mm.
    """
    bonus = 1 - 0.18 * math.log10(16 / t) if t >= THIN else 1.0
    return float(10 ** ((12.476 - bonus * math.log10(2e6)) / 3))


@dataclass(frozen=True)
class Factors:
    """Of one line of the seam: on the branch's own stress by thrust and by bending in the plane and out of
    it, and on the chord's; whether it lies on the branch.
    """

    thrust: float
    in_plane: float
    out_plane: float
    chord: float
    branch: bool


def square(beta: float, width: float, tau: float) -> dict[str, Factors]:
    """Rectangular tubes, T: β the branch's width over the chord's, ``width`` 2γ the chord's face over its
    wall, τ the branch's wall over the chord's.  Out of the plane there is no formula, and the thrust's
    counts.
    """
    # past τ = 1, where the formulas end, the force that a branch brings stresses the chord, and grows as τ
    b, g, s = beta, width, tau**0.75 if tau <= 1 else tau

    def line(thrust: float, bent: float, chord: float, branch: bool = False) -> Factors:
        ax, ip = (max(v, 0.0) for v in (thrust, bent))
        return Factors(ax, ip, ax, chord, branch)

    return {
        "A, E": line(
            FILLET * (0.013 + 0.693 * b - 0.278 * b**2) * g ** (0.790 + 1.898 * b - 2.109 * b**2),
            FILLET * (0.390 - 1.054 * b + 1.115 * b**2) * g ** (-0.154 + 4.555 * b - 3.809 * b**2),
            0.0,
            branch=True,
        ),
        "B": line(
            (0.143 - 0.204 * b + 0.064 * b**2) * g ** (1.377 + 1.715 * b - 1.103 * b**2) * s,
            (-0.011 + 0.085 * b - 0.073 * b**2) * g ** (1.722 + 1.151 * b - 0.697 * b**2) * s,
            0.0,
        ),
        "C": line(
            (0.077 - 0.129 * b + 0.061 * b**2 - 0.0003 * g) * g ** (1.565 + 1.874 * b - 1.028 * b**2) * s,
            (0.952 - 3.062 * b + 2.382 * b**2 + 0.0228 * g) * g ** (-0.690 + 5.817 * b - 4.685 * b**2) * s,
            0.725 * g ** (0.248 * b) * tau**0.19,
        ),
        "D": line(
            (0.208 - 0.387 * b + 0.209 * b**2) * g ** (0.925 + 2.389 * b - 1.881 * b**2) * s,
            (-0.054 + 0.332 * b - 0.258 * b**2) * g ** (2.084 - 1.062 * b + 0.527 * b**2) * s,
            1.373 * g ** (0.205 * b) * tau**0.24,
        ),
    }


def round_(beta: float, gamma: float, tau: float, theta: float, alpha: float) -> dict[str, Factors]:
    """Round tubes, T and Y: γ the chord's radius over its wall, θ between the axes, α twice the chord's
    length over its diameter (Efthymiou 1988, as in DNV-RP-C203).
    """
    b, g, t, sine = beta, gamma, tau, math.sin(theta)
    saddle = g * t**1.1 * (1.11 - 3 * (b - 0.52) ** 2) * sine**1.6
    crown = g**0.2 * t * (2.65 + 5 * (b - 0.65) ** 2) + t * b * (0.25 * alpha - 3) * sine
    bent = 1.45 * b * t**0.85 * g ** (1 - 0.68 * b) * sine**0.7
    across = g * t * b * (1.7 - 1.05 * b**3) * sine**1.6
    return {
        "chord, saddle": Factors(saddle, 0.0, across, 0.0, branch=False),
        "chord, crown": Factors(max(crown, 1.5), bent, 0.0, 1.25, branch=False),
        "branch, saddle": Factors(
            1.3
            + g * t**0.52 * alpha**0.1 * (0.187 - 1.25 * b**1.1 * (b - 0.96)) * sine ** (2.7 - 0.01 * alpha),
            0.0,
            t**-0.54 * g**-0.05 * (0.99 - 0.47 * b + 0.08 * b**4) * across,
            0.0,
            branch=True,
        ),
        "branch, crown": Factors(
            3 + g**1.2 * (0.12 * math.exp(-4 * b) + 0.011 * b**2 - 0.045) + b * t * (0.1 * alpha - 1.2),
            1 + 0.65 * b * t**0.4 * g ** (1.09 - 0.77 * b) * sine ** (0.06 * g - 1.16),
            0.0,
            0.0,
            branch=True,
        ),
    }


@again(Weld)
def hot_spots(r: Ranges, j: Joint) -> Iterator[Check]:
    """The greatest stress at a branch's foot, by line of the seam."""
    for found in _judged(r, j):
        if isinstance(found, Check):
            yield found


def unjudged_feet(r: Ranges) -> list[Unchecked]:
    """Branches whose foot is outside what the formulas are for, and is moved again and again."""
    out = []
    for j in r.context.assembly.joints:
        if isinstance(j.how, Weld) and not {j.a, j.b} & r.context.forces.net.still:
            out += [f for f in _judged(r, j) if isinstance(f, Unchecked)]
    return out


def _judged(r: Ranges, j: Joint) -> Iterator[Finding]:
    met = landing(r.context.assembly, j)
    if met is None:
        return
    force, moment = r.context.forces.wrench(j, j.place.o)
    if max(float(np.abs(force).max(initial=0.0)), float(np.abs(moment).max(initial=0.0))) < 1.0:
        return
    lines = _factors(r, met)
    if isinstance(lines, str):
        words = f"the foot of the {met.branch.name} on the {met.chord.name}, again and again: {lines}"
        yield Unchecked(met.chord.mark, words, r.context.link(j))
        return
    yield _check(r, j, met, lines, (force, moment))


def _factors(r: Ranges, met: Landing) -> Mapping[str, Factors] | str:
    """The factors of a joint, or why there are none."""
    assert isinstance(met.chord.shape, Bar) and isinstance(met.branch.shape, Bar)
    chord, branch = met.chord.shape.stock, met.branch.shape.stock
    t0, t1 = facts.thickness(met.chord), facts.thickness(met.branch)
    tau, cosine = t1 / t0, abs(dot(met.way, met.here.x))
    if tau > 2:
        return (
            f"its wall is far thicker than the chord's ({t1:.3g} on {t0:.3g} mm); no formula here is for that"
        )
    if chord.shape == "round_tube":
        beta, gamma = branch.width / chord.width, chord.width / (2 * t0)
        theta = math.acos(min(cosine, 1.0))
        if not 0.2 <= beta <= 1.0 or gamma > 32 or math.degrees(theta) < 20:
            return f"β {beta:.2f}, γ {gamma:.0f}, {math.degrees(theta):.0f}° are outside Efthymiou's limits"
        alpha = min(max(2 * paths.length(met.chord.shape.path) / chord.width, 4.0), 40.0)
        return round_(beta, max(gamma, 8.0), max(tau, 0.2), theta, alpha)
    if cosine > 0.1:
        return f"it stands at {math.degrees(math.acos(cosine)):.0f}°, and the formulas are for 90°"
    side = abs(dot(met.way, met.here.y)) > 0.9
    if not side and abs(dot(met.way, met.here.z)) < 0.9:
        return "it stands on a corner"
    face = chord.height if side else chord.width
    across = met.here.z if side else met.here.y
    section = met.branch.place @ frame_at(met.branch.shape, facts.on_bar(met.branch, met.here.o))
    wide = branch.width if abs(dot(section.y, across)) > abs(dot(section.z, across)) else branch.height
    beta, thin = min(wide / face, 1.0), face / t0
    if beta < 0.35 or thin > 25:
        return f"β {beta:.2f} and 2γ {thin:.0f} are outside CIDECT 8 (β from 0.35, 2γ to 25)"
    return square(beta, max(thin, 12.5), max(tau, 0.25))


def _check(
    r: Ranges, j: Joint, met: Landing, lines: Mapping[str, Factors], load: tuple[Array, Array]
) -> Check:
    assert isinstance(met.branch.shape, Bar) and isinstance(met.chord.shape, Bar)
    force, moment = load
    branch = met.branch.shape.stock.section(facts.wall_factor(met.branch))
    flat = cross(met.way, met.here.x)
    plane = unit(flat)
    turned = unit(cross(plane, met.way))
    frame = met.branch.place @ frame_at(met.branch.shape, facts.on_bar(met.branch, j.place.o))
    upright = abs(dot(frame.y, plane)) > abs(dot(frame.z, plane))
    w_in, w_out = (branch.Wely, branch.Welz) if upright else (branch.Welz, branch.Wely)
    thrust = r.summed(force @ np.array(met.way)) / branch.area
    in_plane = r.summed(moment @ np.array(plane)) / w_in
    out_plane = r.summed(moment @ np.array(turned)) / w_out
    own = _chord_range(r, met)
    rows = {
        name: f.thrust * thrust + f.in_plane * in_plane + f.out_plane * out_plane + f.chord * own
        for name, f in lines.items()
    }
    by = {name: category(facts.thickness(met.branch if f.branch else met.chord)) for name, f in lines.items()}
    used = np.stack([rows[n] / by[n] for n in rows])
    which = list(rows)[int(used.max(axis=1).argmax())]
    f, stress = lines[which], rows[which]
    steel = met.chord.material if not f.branch else met.branch.material
    share = 28 / 80  # as its other welds stand to steel's
    detail = Detail(
        f"hot spot on the {'branch' if f.branch else 'chord'} ({which})",
        by[which],
        by[which] * share,
        "CIDECT design guide 8; IIW XIII-1804",
    )

    def working(d: int) -> Working:
        return (
            Line(
                "nominal ranges",
                "of the branch: thrust, in the plane, out of it; of the chord",
                "",
                f"{thrust[d]:.1f}, {in_plane[d]:.1f}, {out_plane[d]:.1f}; {own[d]:.1f} MPa",
            ),
            Line(
                "factors",
                "CIDECT 8, T joint" if "A, E" in lines else "Efthymiou",
                f"line {which}: {f.thrust:.2f}, {f.in_plane:.2f}, {f.out_plane:.2f}; {f.chord:.2f}",
                "",
            ),
            Line("hot spot", "Σ factor × nominal", "", f"{stress[d]:.1f} MPa"),
        )

    about = About.on(
        met.chord,
        f"{j.key}: hot spot",
        f"{met.chord.name} and {met.branch.name}, hot spot where they meet",
        "fatigue",
        "MPa",
        "CIDECT design guide 8" if "A, E" in lines else "Efthymiou; IIW XIII-1804",
    )
    about = About(**{**about.__dict__, "place": ",".join(f"{x:.0f}" for x in j.place.o)})
    return r.check(
        about, (stress, np.zeros_like(stress)), (detail, details()[0]["wall_shear"], steel), working
    )


def _chord_range(r: Ranges, met: Landing) -> Array:
    """The chord's own greatest nominal range just there (duty,), MPa."""
    out = np.zeros(len(r.repeated))
    for b in r.context.forces.net.beams_of(met.chord.key):
        if b.start - 1e-6 <= met.s <= b.start + b.size + 1e-6:
            f = r.context.forces.inside(b.id, min(max((met.s - b.start) / b.size, 0.0), 1.0))
            sec = b.section
            size = np.abs(f)
            out = np.maximum(
                out, r.summed(size[:, 0] / sec.area + size[:, 4] / sec.Wely + size[:, 5] / sec.Welz)
            )
    return out
