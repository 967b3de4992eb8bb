"""Bends of a tube without a bender: a row of slots from the inside, closed and welded.  mm, radians.

A slot ``wide`` at its mouth and ``deep`` turns by 2 atan(wide / 2 deep) when its lips meet; the metal left
outside is the hinge, and along it the tube keeps its length.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from urial.geometry import axis
from urial.geometry import path as paths
from urial.geometry.path import Arc, ShapeError
from urial.geometry.place import dot, minus, unit
from urial.geometry.profile import extent
from urial.geometry.shape import Bar

LEAST_BETWEEN = 5.0
"""Metal between two slots that does not burn away while they are welded, mm."""


@dataclass(frozen=True)
class SlotRow:
    """The slots of one bend.  ``first``: from the tube's first end to the middle of the first slot, along the
    uncut face; ``pitch`` from slot to slot; ``angle`` of the whole bend, ``each``
    of one slot; ``gap``: what is left between the lips when the bend is right; ``across``: the slotted face,
    ``depth``: the tube in the plane of the bend; ``about_z``: it bends about the section's z axis;
    ``corner``: its outside corner's radius."""

    first: float
    pitch: float
    count: int
    wide: float
    deep: float
    vee: float
    angle: float
    each: float
    gap: float
    across: float
    depth: float
    about_z: bool
    corner: float

    @property
    def side(self) -> float:
        """From a slot's end up a side to the middle of the tube's round corner, along the metal."""
        return self.deep - self.corner + math.pi * self.corner / 4

    @property
    def bead(self) -> float:
        """Length of one slot round its three faces, along the metal: what is welded, the paper's height."""
        return self.across - 2 * self.corner + math.pi * self.corner / 2 + 2 * self.side


def slot_rows(shape: Bar) -> tuple[SlotRow, ...]:
    """The slots of every bend.  ShapeError where the bend does not lie square to a face, the slots leave no
    hinge or cut each other.
    """
    if shape.slots is None:
        return ()
    s, stock = shape.slots, shape.stock
    if stock.shape != "rect_tube":
        raise ShapeError(f"Slots are for square tube, and {stock.title} is not; choose a square tube.")
    out, gone, flat = [], 0.0, 0.0
    for run in paths.runs(shape.path):
        if not isinstance(run, Arc):
            gone += run.length
            flat += run.length
            continue
        here = axis.frame_at(shape, gone)
        inward = unit(minus(run.centre, run.a))
        iy, iz = abs(dot(inward, here.y)), abs(dot(inward, here.z))
        if max(iy, iz) < 0.999:
            raise ShapeError("A bend of slots lies square to a face of its tube; turn the tube or the bend.")
        spans = [extent(stock, way) for way in ((1.0, 0.0), (0.0, 1.0))]
        wide, high = (b - a for a, b in spans)
        depth, across = (wide, high) if iy > iz else (high, wide)
        out.append(_row(shape, run, flat, (depth, across, iy > iz)))
        gone += run.length
        flat += (run.radius + s.deep - depth / 2) * run.angle
    return tuple(out)


def _row(shape: Bar, run: Arc, flat: float, face: tuple[float, float, bool]) -> SlotRow:
    s, (depth, across, about_z) = shape.slots, face
    assert s is not None
    wall, corner = shape.stock.wall, shape.stock.radius
    if s.deep > depth - wall + 1e-9 or s.deep < depth / 2:
        raise ShapeError(
            f"Slots {s.deep:.4g} mm deep in a tube {depth:.4g} mm across "
            + ("cut its outer wall; leave " if s.deep > depth / 2 else "do not let it bend; leave ")
            + f"between {wall:.4g} and {depth / 2:.4g} mm uncut."
        )
    one = 2 * math.atan(s.wide / (2 * s.deep))
    count = max(1, math.ceil(run.angle / one - 1e-9))
    length = (run.radius + s.deep - depth / 2) * run.angle
    pitch = length / count
    if count > 1 and pitch - s.wide < LEAST_BETWEEN:
        need = (LEAST_BETWEEN + s.wide) * count / run.angle - s.deep + depth / 2
        raise ShapeError(
            f"{count} slots {s.wide:.4g} mm wide do not go into a bend of {run.radius:.4g} mm radius: "
            f"{max(pitch - s.wide, 0):.1f} mm would be left between them. Make the radius at least "
            f"{math.ceil(need)} mm or the slots wider."
        )
    each = run.angle / count
    gap = max(s.wide - 2 * s.deep * math.tan(each / 2), 0.0)
    vee = min(s.vee, wall)
    start = flat + pitch / 2
    sizes = s.wide, s.deep, vee, run.angle, each, gap
    return SlotRow(start, pitch, count, *sizes, across, depth, about_z, corner)


def longer(shape: Bar) -> float:
    """How much longer the tube is cut than its centre line: the hinge lies outside it, mm."""
    return sum((r.deep - r.depth / 2) * r.angle for r in slot_rows(shape))


def words(row: SlotRow) -> str:
    """Where a bend's slots are cut and what they are closed to, for the saw; mm."""
    return (
        f"{row.count} slots {row.wide:.4g} mm wide, {row.deep:.1f} mm deep into the sides, every "
        f"{row.pitch:.1f} mm, the first {row.first:.1f} mm from the first end; closed to "
        f"{math.degrees(row.angle):.1f}°"
    )
