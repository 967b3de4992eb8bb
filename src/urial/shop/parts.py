"""Parts list: stock, cut length, end cuts, mass and mark of every part; mirror pairs named."""

from __future__ import annotations

import math
from dataclasses import dataclass

from urial.assembly import solids
from urial.assembly.model import Assembly, BarShape, BoltJoint, Part, PlateShape
from urial.assembly.outline import bounds
from urial.strength import bolts


@dataclass(frozen=True)
class Row:
    """One line: ``mass_kg`` is for all ``qty``; ``cut_length_mm`` is the long point of a bar, the long side of a plate."""

    mark: str
    name: str
    stock: str
    qty: int
    cut_length_mm: float
    width_mm: float
    ends: str
    material: str
    mass_kg: float
    paint_mm2: float
    mirror: bool
    hardware: bool
    parts: tuple[str, ...]


def _size(part: Part) -> tuple[float, float, str]:
    """Cut length, width and how the ends are cut."""
    shape = part.shapes[0]
    if isinstance(shape, BarShape):
        run = math.dist(shape.start, shape.end)
        depth = shape.stock.height
        extra = sum(depth / 2 * math.tan(abs(m)) for m in shape.mitre)
        words = "square" if not any(shape.mitre) else " / ".join(f"{math.degrees(m):.1f}°" for m in shape.mitre)
        return run + extra, shape.stock.width, words
    if isinstance(shape, PlateShape):
        u0, v0, u1, v1 = bounds(shape.outline)
        return max(u1 - u0, v1 - v0), min(u1 - u0, v1 - v0), ""
    return sum(step[0] for step in shape.steps), max(step[1] for step in shape.steps), ""


def mirrored(a: PlateShape, b: PlateShape, tolerance: float = 0.5) -> bool:
    """Are two plates on opposite sides the same seen from outside each (outline and holes, to half a millimetre)?"""
    if len(a.outline) != len(b.outline) or len(a.holes) != len(b.holes) or a.thickness != b.thickness:
        return False
    close = all(abs(x - y) <= tolerance for p, q in zip(a.outline, b.outline, strict=True) for x, y in zip(p[:2], q[:2], strict=True))
    return close and all(abs(x - y) <= tolerance for p, q in zip(a.holes, b.holes, strict=True) for x, y in zip(p, q, strict=True))


def _row(part: Part, mark: str, name: str, members: tuple[Part, ...], mirror: bool) -> Row:
    long, wide, ends = _size(part)
    return Row(mark, name, part.stock, sum(len(p.shapes) for p in members), long, wide, ends, part.material.title,
               sum(solids.mass(p) for p in members), sum(solids.surface(p) for p in members), mirror, part.hardware,
               tuple(p.mark for p in members))  # fmt: skip


def parts_list(assembly: Assembly) -> list[Row]:
    """Every line, steel first, hardware after, by mark.  A true left and right pair is one line of two, marked mirror."""
    rows: list[Row] = []
    done: set[str] = set()
    for part in assembly.parts:
        if part.mark in done:
            continue
        twin = next((p for p in assembly.parts if part.side and p.side and p is not part and p.mark[:-1] == part.mark[:-1]), None)
        shape, other = part.shapes[0], twin.shapes[0] if twin else None
        if twin and isinstance(shape, PlateShape) and isinstance(other, PlateShape) and mirrored(shape, other):
            rows.append(_row(part, part.mark[:-1], part.name.replace(f"{part.side} ", "") + ", one left one right", (part, twin), True))
            done |= {part.mark, twin.mark}
        else:
            rows.append(_row(part, part.mark, part.name, (part,), False))
            done.add(part.mark)
    return sorted(rows, key=lambda r: (r.hardware, r.mark))


def torque_note(assembly: Assembly) -> str:
    """How hard to tighten the rail bolts, dry, to 75 % of proof."""
    joint = next(j for j in assembly.joints if isinstance(j, BoltJoint))
    preload = bolts.preload(joint.grade.proof, joint.bolt.stress_area)
    torque = bolts.torque(joint.bolt.diameter, preload) / 1000
    return f"{joint.bolt.name} grade {joint.grade.name}: {torque:.0f} N·m dry (K 0.20), {torque * 0.75:.0f} N·m oiled, for {preload / 1000:.1f} kN; retorque after the first trip."
