"""Bends made of slots that are closed and welded: the beads at the inside, the uncut wall at the outside.

At a closed slot the outer wall is as it was; the other three are worth what the bead reaches into them.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from urial.assembly.model import Part, Weld
from urial.geometry import path as paths
from urial.geometry.path import Arc
from urial.geometry.shape import Bar
from urial.geometry.slotted import SlotRow, slot_rows
from urial.stock.catalogue import Electrode
from urial.strength.check import Array, Check, Line, Unchecked, Working, figure
from urial.strength.checks.common import About, Context, ratio

THIN, TWICE = 3.2, 6.4
"""Walls up to which a square edge is fused nearly through, and half through, from one side, mm."""
LEFT_OPEN = 0.8
"""What is not reached of a thin wall, mm."""
SHARES = (0.0, 0.25, 0.5, 0.75, 1.0)


def throat(wall: float, vee: float) -> tuple[float, str]:
    """What a bead from one side reaches into the edges of a wall, mm, and by what rule.

    Square edges by the prequalified part-depth butts of AWS D1.1 (B-P1a: wall less 0.8 mm up to 3.2 mm,
    B-P1c: half the wall up to 6.4 mm, the gap of a closing slot being its root opening); an edge ground to a
    V of 60° or more by its depth (AISC 360-22 table J2.1)."""
    if wall <= THIN:
        square, rule = max(wall - LEFT_OPEN, 0.0), "wall less 0.8 mm (AWS D1.1 B-P1a)"
    elif wall <= TWICE:
        square, rule = wall / 2, "half the wall (AWS D1.1 B-P1c)"
    else:
        square, rule = 0.0, "nothing: too thick for square edges"
    if vee > square:
        return min(vee, wall), "the depth of the V (AISC 360-22 table J2.1)"
    return square, rule


@dataclass(frozen=True)
class Closed:
    """The section at a closed slot: the tube's wall, the bead's throat and its rule, area, how far its middle
    lies outside the tube's own, second moments in the plane of the bend and across it, distances of inner
    face, outer face and sides, areas that take shear in the plane and across it, twist's modulus; mm.
    """

    wall: float
    throat: float
    rule: str
    area: float
    off: float
    plane: float
    across: float
    inner: float
    outer: float
    side: float
    shear: tuple[float, float]
    twist: float


def closed(row: SlotRow, wall: float) -> Closed:
    """The section of a closed slot of a tube with a wall, mm: rectangles, corners taken as sharp."""
    e, rule = throat(wall, row.vee)
    b, d, left = row.across, row.depth, row.depth - row.deep
    # (breadth, from, to) from the outer face inward
    strips = [
        (b, 0.0, wall),
        (2 * wall, wall, left),
        (2 * e, left, d - e),
        (b, d - e, d),
    ]
    area = sum(w * (z1 - z0) for w, z0, z1 in strips)
    middle = sum(w * (z1 - z0) * (z0 + z1) / 2 for w, z0, z1 in strips) / area
    plane = sum(
        w * (z1 - z0) ** 3 / 12 + w * (z1 - z0) * ((z0 + z1) / 2 - middle) ** 2 for w, z0, z1 in strips
    )
    flats = (wall + e) * b**3 / 12
    sides = 2 * (wall * (left - wall) + e * (d - e - left)) * (b / 2 - max(e, 1e-9) / 2) ** 2
    return Closed(
        wall,
        e,
        rule,
        area,
        middle - d / 2,
        plane,
        flats + sides,
        d - middle,
        middle,
        b / 2,
        (2 * e * d, 2 * e * b),
        2 * e * (b - wall) * (d - wall),
    )


@dataclass(frozen=True)
class Stress:
    """At a slot (case,), MPa: across the bead at the inside, in the uncut wall, shear along the bead."""

    bead: Array
    wall: Array
    shear: Array


def stresses(load: Array, c: Closed, about_z: bool) -> Stress:
    """From forces (case, 6) N, Vy, Vz, T, My, Mz of the tube's own middle."""
    n, vy, vz, t, my, mz = (np.abs(load[:, k]) for k in range(6))
    m, other, v, sideways = (mz, my, vy, vz) if about_z else (my, mz, vz, vy)
    m = m + n * abs(c.off)
    rest = n / c.area + other / c.across * c.side
    shear = np.hypot(v / c.shear[0], sideways / c.shear[1]) + t / c.twist
    return Stress(rest + m / c.plane * c.inner, rest + m / c.plane * c.outer, shear)


def along_bend(context: Context, part: Part, start: float, run: Arc) -> list[Array]:
    """Forces (case, 6) at a few places of a bend."""
    beams, out = context.forces.net.beams_of(part.key), []
    for f in SHARES:
        s = start + f * run.length
        for b in beams:
            if b.start - 1e-6 <= s <= b.start + b.size + 1e-6:
                out.append(context.forces.inside(b.id, min(max((s - b.start) / b.size, 0.0), 1.0)))
                break
    return out


def slotted_bends(context: Context) -> Iterator[tuple[Part, int, SlotRow, Closed, list[Array]]]:
    """Every bend made of slots in what carries: its part, number, slots, section and forces along it."""
    for part in context.assembly.parts:
        shape = part.shape
        if not isinstance(shape, Bar) or shape.slots is None or not context.forces.net.beams_of(part.key):
            continue
        gone, rows = 0.0, iter(slot_rows(shape))
        number = 0
        for run in paths.runs(shape.path):
            if isinstance(run, Arc):
                row, number = next(rows), number + 1
                section = closed(row, shape.stock.wall * part.material.wall_factor)
                if loads := along_bend(context, part, gone, run):  # nothing reaches a free end
                    yield part, number, row, section, loads
            gone += run.length


def electrode_of(context: Context, part: Part) -> Electrode | None:
    """What the part is welded with: what its other beads are of."""
    welds = [j.how for j in context.assembly.joints if isinstance(j.how, Weld)]
    own = [j.how for j in context.assembly.joints_of.get(part.key, ()) if isinstance(j.how, Weld)]
    return next((w.electrode for w in own + welds), None)


def slot_checks(context: Context) -> Iterator[Check | Unchecked]:
    """Beads and outer wall of every bend made of slots, at its worst place."""
    for part, number, row, c, loads in slotted_bends(context):
        rod = electrode_of(context, part)
        if rod is None or c.throat <= 0:
            why = (
                "nothing is welded here"
                if rod is None
                else f"no bead reaches a square edge {c.wall:.4g} mm thick"
            )
            words = f"the slots of the {part.name}: {why}; grind the edges to a V"
            yield Unchecked(part.mark, words, part.family)
            continue
        yield _beads(context, part, (number, row, c), (loads, rod))
        yield _wall(context, part, (number, row, c), loads)


def _worst(used: list[Array]) -> tuple[Array, Array]:
    """The greatest of some utilisations (case,), and at which place each is."""
    every = np.stack(used)
    return every.max(axis=0), every.argmax(axis=0)


def _section_lines(row: SlotRow, c: Closed) -> list[Line]:
    return [
        Line(
            "closed slot",
            f"the bead reaches {c.rule}; the wall outside is whole",
            f"throat {c.throat:.2f} mm, {row.count} slots {row.deep:.1f} mm deep",
            f"A {figure(c.area)} mm², middle {c.off:.2f} mm outside the tube's",
        ),
        Line(
            "second moments",
            "in the plane of the bend, and across it",
            "",
            f"{figure(c.plane)}, {figure(c.across)} mm⁴",
        ),
    ]


def _force_line(load: Array, k: int) -> Line:
    n, vy, vz, t, my, mz = (float(v) for v in load[k])
    return Line(
        "forces there",
        "at the worst place of the bend",
        f"N {figure(n)}, Vy {figure(vy)}, Vz {figure(vz)} N; "
        f"T {figure(t)}, My {figure(my)}, Mz {figure(mz)} N·mm",
        "",
    )


def _beads(
    context: Context, part: Part, bend: tuple[int, SlotRow, Closed], by: tuple[list[Array], Electrode]
) -> Check:
    (number, row, c), (loads, rod), basis, steel = bend, by, context.basis, part.material.beside_weld()
    pull = min(basis.available(0.60 * rod.FEXX, 1.88), basis.available(steel.Fu, 2.00))
    slide = min(basis.available(0.60 * rod.FEXX, 2.00), basis.available(0.60 * steel.Fu, 2.00))
    found = [stresses(load, c, row.about_z) for load in loads]
    used, where = _worst([np.hypot(s.bead / pull, s.shear / slide) for s in found])

    def work(k: int) -> Working:
        at = int(where[k])
        s = found[at]
        return (
            *_section_lines(row, c),
            _force_line(loads[at], k),
            Line(
                "across the bead",
                "N/A + (M + N e) zi / I + M' b / 2 I', at the inner corner",
                f"of the lesser of 0.60 FEXX ({basis.words(1.88)}) and Fu ({basis.words(2.00)}), "
                f"{pull:.0f} MPa",
                f"{float(s.bead[k]):.1f} MPa",
            ),
            Line(
                "along the bead",
                "V / A of the beads in its way, with T / 2 Am throat",
                f"of {slide:.0f} MPa",
                f"{float(s.shear[k]):.1f} MPa",
            ),
            ratio("√((σ/σa)² + (τ/τa)²)", float(used[k]), 1.0, "1"),
        )

    about = About.on(
        part,
        f"{part.key}: slots {number}",
        f"{part.name}, closed slots of its bend",
        "weld",
        "1",
        "AISC 360-22 J2.4, table J2.5 (part-depth groove)",
    )
    return context.governed(used, 1.0, about, work)


def _wall(context: Context, part: Part, bend: tuple[int, SlotRow, Closed], loads: list[Array]) -> Check:
    (number, row, c), basis, steel = bend, context.basis, part.material.beside_weld()
    found = [stresses(load, c, row.about_z) for load in loads]
    stress, where = _worst([np.sqrt(s.wall**2 + 3 * s.shear**2) for s in found])
    available = basis.available(steel.Fy, 1.67)

    def work(k: int) -> Working:
        at = int(where[k])
        s = found[at]
        return (
            *_section_lines(row, c),
            _force_line(loads[at], k),
            Line(
                "in the wall left outside",
                "√(σ² + 3τ²), σ = N/A + (M + N e) zo / I + M' b / 2 I'",
                f"σ {float(s.wall[k]):.1f}, τ {float(s.shear[k]):.1f} MPa",
                f"{float(stress[k]):.1f} MPa",
            ),
            ratio("σ", float(stress[k]), available, "MPa"),
        )

    about = About.on(
        part,
        f"{part.key}: slots {number} wall",
        f"{part.name}, wall left outside its bend",
        "member",
        "MPa",
        "first yield, AISC 360-22 F",
    )
    return context.governed(stress, available, about, work)
