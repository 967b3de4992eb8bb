"""Ends of round tube pressed flat: the two walls side by side are all there is."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from urial.geometry import path as paths
from urial.geometry.shape import Bar, Flattened
from urial.strength.check import Check, Line, Working, figure
from urial.strength.checks.common import Context, ratio


def end_checks(context: Context) -> Iterator[Check]:
    """Each flattened end that carries: N and both moments where the flat begins (D2, F11), the walls not bonded to each other."""
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
            wall, steel, basis = shape.stock.wall * part.material.wall_factor, context.steel(part), context.basis
            wide = math.pi * (shape.stock.width - shape.stock.wall) / 2
            weak = load[:, 5] if end.about_z else load[:, 4]
            strong = load[:, 4] if end.about_z else load[:, 5]
            pull = basis.available(steel.Fy * 2 * wide * wall, 1.67)
            flat = basis.available(1.6 * steel.Fy * 2 * wide * wall**2 / 6, 1.67)
            edge = basis.available(1.6 * steel.Fy * 2 * wall * wide**2 / 6, 1.67)
            terms = np.stack([np.abs(load[:, 0]) / pull, np.abs(weak) / flat, np.abs(strong) / edge])
            used = terms.sum(axis=0)

            def work(k: int, wide: float = wide, wall: float = wall, limits: tuple[float, float, float] = (pull, flat, edge), terms: np.ndarray = terms) -> Working:
                return (Line("flat", "half the mid-line wide, two walls thick, not bonded to each other", f"{wide:.1f} mm, 2 × {wall:.2f} mm", ""),
                        *(Line(name, formula, f"of {figure(limit)}", f"{t:.3f}") for name, formula, limit, t in zip(
                            ("pull", "across the flat", "along the flat"), ("Fy A", "1.6 Fy S of two walls", "1.6 Fy S"), limits, terms[:, k], strict=True)),
                        ratio("together", float(terms[:, k].sum()), 1.0, "1"))  # fmt: skip

            yield context.governed(used, 1.0, id=f"{part.key}: flat {word}", name=f"{part.name} at its flattened end", part=part.mark, link=part.family, kind="member", unit="1",
                                   clause="AISC 360-22 D2, F11", work=work, path=part.paths[0] if part.paths else "")  # fmt: skip
