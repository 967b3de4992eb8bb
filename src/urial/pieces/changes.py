"""A piece's changes carried out on what its family has built.  One that no longer fits is left out and named;
the rest goes on.
"""

from __future__ import annotations

from collections.abc import Sequence

from urial.assembly.build import Build
from urial.assembly.model import BuildError
from urial.geometry.path import ShapeError
from urial.job.change import (
    TITLES,
    AngleAs,
    BendIn,
    BevelOn,
    BraceTo,
    Change,
    DoublerOn,
    GussetIn,
    HoleAs,
    HoleIn,
    LengthAs,
    NotchIn,
    OtherSection,
    OutlineAs,
    PlateOn,
    SocketAt,
    TabIn,
    WindowIn,
)
from urial.pieces import additions, as_made, cuts, outlined
from urial.pieces.spots import Refused, Spot, locate, on_part, pick_at
from urial.stock.catalogue import StockError


def carry_out(b: Build, changes: Sequence[Change]) -> None:
    """Every change in force, in order; a warning for each that does not fit, which then leaves nothing."""
    for n, change in enumerate(changes, 1):
        if not change.on:
            continue
        before = (dict(b.parts), dict(b.joints), list(b.sockets))
        try:
            for mirrored in (False, True) if change.pair else (False,):
                _one(b, change, n, mirrored)
        except (Refused, BuildError, StockError, ShapeError) as why:
            b.parts, b.joints, b.sockets = before
            b.warn(f"Change {n}, the {TITLES[change.kind]}, does not fit and is left out: {why}")


def _one(b: Build, change: Change, n: int, mirrored: bool) -> None:
    match change:
        case HoleIn():
            cuts.hole(b, change, mirrored)
        case WindowIn():
            cuts.window(b, change, mirrored)
        case NotchIn():
            cuts.notch(b, change, mirrored)
        case BendIn():
            cuts.bend(b, change, mirrored)
        case TabIn():
            cuts.tab(b, change, mirrored)
        case OtherSection():
            cuts.section(b, change, mirrored)
        case LengthAs():
            as_made.length_as(b, change)
        case HoleAs():
            as_made.hole_as(b, change)
        case AngleAs():
            as_made.angle_as(b, change)
        case PlateOn():
            additions.plate(b, change, n, mirrored)
        case DoublerOn():
            additions.doubler(b, change, n, mirrored)
        case BraceTo():
            additions.brace(b, change, n, mirrored)
        case GussetIn():
            additions.gusset(b, change, n, mirrored)
        case BevelOn():
            additions.bevel(b, change, mirrored)
        case OutlineAs():
            outlined.outline(b, change, mirrored)
        case SocketAt():
            additions.socket(b, change, mirrored)


__all__ = ["Spot", "carry_out", "locate", "on_part", "pick_at"]
