"""Ends of round tube pressed flat, where the two walls side by side are all there is; bars and plates in
their bends.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from urial.assembly import facts
from urial.assembly.mesh import Beam
from urial.assembly.model import Part
from urial.geometry import folded
from urial.geometry import path as paths
from urial.geometry.path import Arc
from urial.geometry.path import Line as Straight
from urial.geometry.shape import Bar, Flattened, Fold, Plate
from urial.strength.check import Check, Line, Unchecked, Working, figure
from urial.strength.checks.common import About, Context, Finding, ratio

Array = NDArray[np.float64]


def end_checks(context: Context) -> Iterator[Check]:
    """Each flattened end that carries: N and both moments where the flat begins (D2, F11), the walls not
    bonded to each other.
    """
    for part in context.assembly.parts:
        beams = context.forces.net.beams_of(part.key)
        shape = part.shape
        if not isinstance(shape, Bar) or not beams:
            continue
        size = paths.length(shape.path)
        for word, end in (("i", shape.end_i), ("j", shape.end_j)):
            if not isinstance(end, Flattened):
                continue
            s = end.length if word == "i" else size - end.length
            here = [b for b in beams if b.start - 1e-6 <= s <= b.start + b.size + 1e-6]
            if not here:
                continue
            load = context.forces.inside(here[0].id, min(max((s - here[0].start) / here[0].size, 0.0), 1.0))
            wall, steel, basis = (
                shape.stock.wall * part.material.wall_factor,
                context.steel(part),
                context.basis,
            )
            wide = math.pi * (shape.stock.width - shape.stock.wall) / 2
            weak = load[:, 5] if end.about_z else load[:, 4]
            strong = load[:, 4] if end.about_z else load[:, 5]
            pull = basis.available(steel.Fy * 2 * wide * wall, 1.67)
            flat = basis.available(1.6 * steel.Fy * 2 * wide * wall**2 / 6, 1.67)
            edge = basis.available(1.6 * steel.Fy * 2 * wall * wide**2 / 6, 1.67)
            terms = np.stack([np.abs(load[:, 0]) / pull, np.abs(weak) / flat, np.abs(strong) / edge])
            used = terms.sum(axis=0)

            def work(
                k: int,
                wide: float = wide,
                wall: float = wall,
                limits: tuple[float, float, float] = (pull, flat, edge),
                terms: np.ndarray = terms,
            ) -> Working:
                return (
                    Line(
                        "flat",
                        "half the mid-line wide, two walls thick, not bonded to each other",
                        f"{wide:.1f} mm, 2 × {wall:.2f} mm",
                        "",
                    ),
                    *(
                        Line(name, formula, f"of {figure(limit)}", f"{t:.3f}")
                        for name, formula, limit, t in zip(
                            ("pull", "across the flat", "along the flat"),
                            ("Fy A", "1.6 Fy S of two walls", "1.6 Fy S"),
                            limits,
                            terms[:, k],
                            strict=True,
                        )
                    ),
                    ratio("together", float(terms[:, k].sum()), 1.0, "1"),
                )

            yield context.governed(
                used,
                1.0,
                About.on(
                    part,
                    f"{part.key}: flat {word}",
                    f"{part.name} at its flattened end",
                    "member",
                    "1",
                    "AISC 360-22 D2, F11",
                ),
                work,
            )


def bend_checks(context: Context) -> Iterator[Finding]:
    """Each bend of a bar: first yield of the curved section, its wall thinned by the bending (Winkler and
    Bach).
    """
    for part in context.assembly.parts:
        beams = context.forces.net.beams_of(part.key)
        shape = part.shape
        if isinstance(shape, Plate):
            yield from _folds(context, part, shape, beams)
        if not isinstance(shape, Bar) or not beams or isinstance(shape.path, Straight) or shape.slots:
            continue
        gone = 0.0
        for number, run in enumerate(paths.runs(shape.path), 1):
            start, gone = gone, gone + run.length
            if not isinstance(run, Arc):
                continue
            curve = _curved(shape, run, part.material.wall_factor)
            if curve is None:
                yield Unchecked(
                    part.mark,
                    f"the bend of the {part.name}: no rule here for a bent {shape.stock.title}",
                    part.family,
                )
                continue
            yield _bend(context, part, (number, start, run), curve, beams)


def sharpened(part: Part, beam: Beam) -> float:
    """How many times the stress of bending on the inside of a bend is that of a straight beam; 1 where it is
    none.
    """
    shape = part.shape
    if isinstance(shape, Plate):
        if beam.strip is None or beam.strip.bend is None:
            return 1.0
        return shape.t**2 / 6 / _fold_modulus(shape.t, shape.folds[beam.strip.bend].inside)
    if not isinstance(shape, Bar) or isinstance(shape.path, Straight) or shape.slots:
        return 1.0
    middle, gone = beam.start + beam.size / 2, 0.0
    for run in paths.runs(shape.path):
        if gone <= middle <= gone + run.length and isinstance(run, Arc):
            curve = _curved(shape, run, part.material.wall_factor)
            return max(min(beam.section.Wely, beam.section.Welz) / curve[1], 1.0) if curve else 1.0
        gone += run.length
    return 1.0


def _fold_modulus(t: float, inside: float) -> float:
    """At the inside of a plate bent about ``inside``, for each mm of its width, mm²."""
    neutral = t / math.log((inside + t) / inside)
    return t * (inside + t / 2 - neutral) * inside / (neutral - inside)


def _curved(shape: Bar, run: Arc, wall_factor: float) -> tuple[float, float, str] | None:
    """Area, modulus at the inside of the curve, and how they were reached; None for a section without a
    rule.
    """
    s, big = shape.stock, run.radius
    if s.shape == "round_tube":
        wall = s.wall * wall_factor * big / (big + s.width / 2)
        r = (s.width - s.wall) / 2
        if big <= r:
            return None
        area, neutral, inner = 2 * math.pi * r * wall, math.sqrt(big**2 - r**2), big - r
        words = f"wall thinned to t R/(R + D/2) {wall:.2f} mm; neutral radius √(R² − r²) {neutral:.1f} mm"
    elif s.shape in ("rect_bar", "round_bar"):
        deep = min(s.width, s.height) if s.shape == "rect_bar" else s.width  # bent about its flat
        wide = max(s.width, s.height) if s.shape == "rect_bar" else math.pi * s.width / 4
        if big <= deep / 2:
            return None
        area, inner = wide * deep, big - deep / 2
        neutral = deep / math.log((big + deep / 2) / inner)
        words = f"neutral radius h / ln(ro/ri) {neutral:.1f} mm"
    else:
        return None
    offset = big - neutral
    return area, area * offset * inner / (neutral - inner), words


def _bend(
    context: Context,
    part: Part,
    bend: tuple[int, float, Arc],
    curve: tuple[float, float, str],
    beams: list[Beam],
) -> Check:
    (number, start, run), (area, modulus, words), basis = bend, curve, context.basis
    stress = np.zeros(len(context.forces.cases))
    for f in (0.0, 0.25, 0.5, 0.75, 1.0):
        s = start + f * run.length
        for b in beams:
            if b.start - 1e-6 <= s <= b.start + b.size + 1e-6:
                load = context.forces.inside(b.id, min(max((s - b.start) / b.size, 0.0), 1.0))
                stress = np.maximum(
                    stress, np.abs(load[:, 0]) / area + np.hypot(load[:, 4], load[:, 5]) / modulus
                )
                break
    available = basis.available(part.material.Fy, 1.67)

    def work(k: int) -> Working:
        return (
            Line(
                "curved section",
                words,
                f"R {run.radius:.0f} mm, {math.degrees(run.angle):.0f}°; A {figure(area)} mm², W at "
                f"the inside {figure(modulus)} mm³",
                "",
            ),
            Line(
                "stress",
                "N/A + M/W at the inside of the bend, the greatest along it",
                "",
                f"{stress[k]:.1f} MPa",
            ),
            ratio("σ", float(stress[k]), available, "MPa"),
        )

    return context.governed(
        stress,
        available,
        About.on(
            part,
            f"{part.key}: bend {number}",
            f"{part.name} in its bend",
            "member",
            "MPa",
            "Winkler and Bach; first yield, Ω 1.67",
        ),
        work,
    )


def _folds(context: Context, part: Part, shape: Plate, beams: list[Beam]) -> Iterator[Check]:
    """Each fold of a plate that a force goes round: first yield on its inside, as wide as the strip."""
    basis, count = context.basis, len(shape.folds)
    available = basis.available(facts.softened(part, context.assembly).Fy, 1.67)
    for number, fold in enumerate(shape.folds):
        inner = _fold_modulus(shape.t, fold.inside)
        found: list[tuple[Array, float]] = []
        for b in beams:
            if b.strip is None or b.strip.bend != number:
                continue
            wide = b.strip.width
            for f in (0.0, 0.5, 1.0):
                load = np.abs(context.forces.inside(b.id, f))
                stress = load[:, 0] / (shape.t * wide) + load[:, 4] / (inner * wide)
                found.append((stress + load[:, 5] / (shape.t * wide**2 / 6), wide))
        if not found:
            continue
        worst, wide = max(found, key=lambda one: float(one[0].max()))

        def work(
            k: int,
            stress: Array = worst,
            wide: float = wide,
            fold: Fold = fold,
            inner: float = inner,
        ) -> Working:
            return (
                Line(
                    "curved section",
                    "a strip as wide as the force has spread; neutral radius t / ln(ro/ri)",
                    f"{math.degrees(abs(fold.angle)):.0f}° about {fold.inside:.4g} mm inside, "
                    f"t {shape.t:.4g} mm, {wide:.1f} mm wide; W at the inside {figure(inner * wide)} mm³",
                    "",
                ),
                Line(
                    "stress",
                    "N/A + M/W at the inside of the bend, and across the strip M/(t b²/6)",
                    "",
                    f"{stress[k]:.1f} MPa",
                ),
                ratio("σ", float(stress[k]), available, "MPa"),
            )

        which = f"bend {number + 1}" if count > 1 else "its bend"
        yield context.governed(
            worst,
            available,
            About.on(
                part,
                f"{part.key}: fold {number + 1}",
                f"{part.name} in {which}",
                "member",
                "MPa",
                "Winkler and Bach; first yield, Ω 1.67",
            ),
            work,
        )


def bend_warnings(part: Part) -> list[str]:
    """A wall so thin on a bend so tight that it kinks; a plate bent so tight that it cracks, or a hole so
    near its bend that it is pulled out of round.
    """
    shape = part.shape
    if isinstance(shape, Plate):
        return _fold_warnings(part, shape)
    if not isinstance(shape, Bar) or shape.stock.shape != "round_tube":
        return []
    d, t = shape.stock.width, shape.stock.wall
    tight = min((r.radius for r in paths.runs(shape.path) if isinstance(r, Arc)), default=math.inf)
    if tight / d < 3 and d / t > 20:
        return [
            f"The {part.name} ({part.mark}) is bent to {tight / d:.1f} of its diameter and its wall "
            f"is {d / t:.0f} times thinner than that: it will kink. Fill it with sand, bend it wider, "
            "or take a thicker wall."
        ]
    return []


def _fold_warnings(part: Part, shape: Plate) -> list[str]:
    out = []
    if any(f.inside < 0.99 * shape.t for f in shape.folds):
        tight = min(f.inside for f in shape.folds)
        out.append(
            f"The {part.name} ({part.mark}) is bent about {tight:.4g} mm inside, less than its thickness of "
            f"{shape.t:.4g} mm: structural plate may crack on the outside. Bend it across the rolling "
            f"direction about {shape.t:.4g} mm or more, and look at the outside after."
        )
    near = next(
        (h for h in shape.holes if folded.in_bend(shape, h[0], h[1], h[2] / 2 + 2 * shape.t) is not None),
        None,
    )
    if near is not None:
        out.append(
            f"A {near[2]:.4g} mm hole of the {part.name} ({part.mark}) is less than two thicknesses from a "
            "bend: it is pulled out of round if it is there when the plate is bent. Drill it after bending."
        )
    return out
