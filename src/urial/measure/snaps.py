"""Places on the drawing that an edge or an end is likely meant to meet: hole middles, ends and faces of
parts, the host's own points; and sizes that leave nothing of a bought length.
"""

from __future__ import annotations

from dataclasses import dataclass

from urial.assembly import bodies
from urial.assembly.model import Assembly, Dimension
from urial.geometry.folded import point_at
from urial.geometry.place import Vec
from urial.geometry.shape import Bar, Hole, Plate
from urial.job.host import Host
from urial.mates.host import host_sockets


@dataclass(frozen=True)
class Snap:
    """A place, host axes, and what it is."""

    at: Vec
    words: str


def snaps(assembly: Assembly, host: Host) -> list[Snap]:
    """Every place worth meeting."""
    out = []
    for p in assembly.parts:
        shape = p.shape
        if p.hardware:
            continue
        if isinstance(shape, Plate):
            out += [
                Snap(p.flat_place.point(point_at(shape, u, v, shape.t / 2)), f"a hole of the {p.name}")
                for u, v, _ in shape.holes
            ]
        elif isinstance(shape, Bar):
            out += [
                Snap(p.place.point(c.centre), f"a hole of the {p.name}")
                for c in shape.cuts
                if isinstance(c, Hole)
            ]
        out += [Snap(c, f"an end of the {p.name}") for c in bodies.corners(p)]
    for socket in host_sockets(host):
        out += [Snap(b.place.o, f"{b.name} of the host") for b in socket.bolts]
    return out


def nearest(found: list[Snap], d: Dimension, at: float, reach: float) -> tuple[float, str] | None:
    """The coordinate along a dimension's axis nearest to ``at`` within ``reach``, and what is there."""
    k = "xyz".index(d.axis)
    best = min(found, key=lambda s: abs(s.at[k] - at), default=None)
    if best is None or abs(best.at[k] - at) > reach:
        return None
    return best.at[k], best.words


def even_lengths(sold: float, kerf: float, most: int = 12) -> list[tuple[float, str]]:
    """Sizes of which a bought length gives so many and nothing is left, mm."""
    return [((sold - n * kerf) / n, f"{n} to a bought length") for n in range(1, most + 1)]
