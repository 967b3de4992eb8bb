"""A part welded to metal of the host."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from urial.assembly.build import Build, Named, must_take_an_arc
from urial.assembly.model import HOST, Joint, Metal, Part, Run, Weld
from urial.geometry.place import Place, Vec, X, Y, dot, times


@dataclass(frozen=True)
class OnHost:
    """The host's metal, the way its face looks, the bead's leg and its parameter, and the axis about which
    that metal twists, if it does.
    """

    metal: Metal
    out: Vec
    leg: float
    path: str
    gives: Vec | None = None


def weld_to_host(b: Build, name: Named, part: Part, rows: Sequence[tuple[Vec, Vec]], on: OnHost) -> Joint:
    """Beads along ``rows`` between the part and the host."""
    metal = on.metal.material
    must_take_an_arc(part.name, part.material, f"host's {metal.title}", metal, b.electrode)
    how = Weld(
        tuple(Run(p, q) for p, q in rows),
        on.leg,
        b.electrode,
        b.process,
        b.path(on.path),
        host=on.metal,
        gives=on.gives,
    )
    middle = tuple(sum((p[k] + q[k]) / 2 for p, q in rows) / len(rows) for k in range(3))
    place = Place.facing(middle, times(on.out, 1.0), X if abs(dot(on.out, X)) < 0.9 else Y)  # type: ignore[arg-type]
    return b.joint(name, part, HOST, place, how)
