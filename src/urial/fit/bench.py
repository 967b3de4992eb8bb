"""At the bench and on the ground: what is tacked on the vehicle, whether a piece stands by itself, what comes
off without tools.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from shapely import MultiPoint, Point

from urial.assembly import bodies
from urial.assembly.model import HOST, LOAD, Assembly, Bolts, Clamp, Joint, Part, Weld
from urial.fit.model import Finding
from urial.geometry.place import minus, norm
from urial.job.model import Job

SPAN = 150.0
"""Feet on the vehicle that are farther apart are set to each other on the vehicle, mm."""
FLAT = 3.0
"""What is no higher than this over the lowest point stands on the floor too, mm."""
HELD_KG = 8.0
"""What weighs less is held in one hand meanwhile."""
SURE = 20.0
"""How far inside its feet the balance point lies before a piece is said to stand, mm."""


def crossing(assembly: Assembly, piece: str) -> list[Joint]:
    """The joints that hold a piece to something else."""
    own = {p.key for p in assembly.parts if p.piece == piece}
    return [j for j in assembly.joints if LOAD not in (j.a, j.b) and (j.a in own) != (j.b in own)]


# ---- without tools


def tool_findings(job: Job, assembly: Assembly) -> Iterator[Finding | str]:
    """Pieces that are to come off without tools and are bolted."""
    for piece in job.tool_free:
        name = assembly.titles.get(piece)
        if name is None:
            continue
        bolted = [j for j in crossing(assembly, piece) if isinstance(j.how, (Bolts, Clamp, Weld))]
        if not bolted:
            yield f"The {name} comes off without tools."
            continue
        j = bolted[0]
        part = assembly.by_key.get(j.a) or assembly.by_key[j.b]
        what = "welds" if isinstance(j.how, Weld) else "bolts"
        others = f" and {len(bolted) - 1} more" if len(bolted) > 1 else ""
        yield Finding(
            f"tools {piece}",
            "access",
            (part.mark or part.name,),
            j.place.o,
            None,
            f"The {name} is to come off without tools, and {what} hold it: {j.name}{others}.",
            advice="Let it sit in a bore with a pin and clip, or put pins with clips where the bolts are.",
        )


# ---- tacked on the vehicle


def tack_words(assembly: Assembly) -> Iterator[str]:
    """Pieces whose feet on the vehicle are set to each other by their welds: tacked there, welded at the
    bench.
    """
    for piece, name in assembly.titles.items():
        feet = [
            j
            for j in assembly.joints
            if isinstance(j.how, Bolts) and j.b == HOST and j.a.startswith(f"{piece}/")
        ]
        parts = list(dict.fromkeys(assembly.by_key[j.a].key for j in feet))
        far = max((norm(minus(a.place.o, b.place.o)) for a in feet for b in feet), default=0.0)
        if len(parts) < 2 or far < SPAN:
            continue
        welded = [
            assembly.by_key[k]
            for j in assembly.joints
            if isinstance(j.how, Weld) and (set(parts) & {j.a, j.b})
            for k in (j.a, j.b)
            if k in assembly.by_key and k not in parts
        ]
        between = next((p for p in welded if sum(_joined(assembly, p.key, k) for k in parts) > 1), None)
        if between is None:
            continue
        feet_names = _names([assembly.by_key[k] for k in parts])
        yield (
            f"Before an arc is struck on the vehicle for the {name}: the battery's earth off, plugs of "
            "control units pulled, the welder's clamp beside the bead and never across a bearing, fuel and "
            "brake lines covered, an extinguisher at hand."
        )
        yield (
            f"Tack the {name} on the vehicle: bolt the {feet_names} on hand-tight, set the {between.name} "
            "between them "
            f"and tack it at both ends, tack a straight flat across, then take it off and weld it. What lies "
            "flat on each other keeps its place with two 6 mm dowels drilled through before it comes off."
        )


def _joined(assembly: Assembly, a: str, b: str) -> bool:
    return any(isinstance(j.how, Weld) and {j.a, j.b} == {a, b} for j in assembly.joints_of.get(a, ()))


def _names(parts: list[Part]) -> str:
    names = list(dict.fromkeys(p.name.removeprefix("left ").removeprefix("right ") for p in parts))
    return " and ".join(f"{n}s" if len(parts) > len(names) else n for n in names)


# ---- on the floor


def stands(assembly: Assembly, piece: str) -> tuple[bool, tuple[float, float]]:
    """Does a piece set down as it hangs stand by itself, and which way (x, y) its balance point lies beyond
    its feet, mm (0, 0 where it stands)?
    """
    own = Assembly(tuple(p for p in assembly.parts if p.piece == piece))
    x, y, _ = bodies.centre_of_mass(own)
    spots = np.concatenate([np.asarray(bodies.body(p).to_mesh().vert_properties)[:, :3] for p in own.parts])
    feet = spots[spots[:, 2] < spots[:, 2].min() + FLAT][:, :2]
    base = MultiPoint(feet.tolist()).convex_hull
    here = Point(x, y)
    if base.buffer(-SURE).contains(here):
        return True, (0.0, 0.0)
    near = base.boundary if base.area > 0 else base
    at = near.interpolate(near.project(here)) if near.length > 0 else base.centroid
    off = (x - at.x, y - at.y)
    return False, off if not base.contains(here) else (-off[0], -off[1])


def floor_words(assembly: Assembly) -> Iterator[str]:
    """Which pieces, too heavy to be held meanwhile, tip when they are set down, and which way."""
    for piece, name in assembly.titles.items():
        own = tuple(p for p in assembly.parts if p.piece == piece)
        if not own or bodies.total_mass(Assembly(own)) < HELD_KG:
            continue
        good, (dx, dy) = stands(assembly, piece)
        if good:
            continue
        along = "forward" if dx > 0 else "rearward"
        way = along if abs(dx) >= abs(dy) else f"to the {'left' if dy > 0 else 'right'}"
        yield f"Set down as it hangs, the {name} tips {way}: prop it there, or lay it down."


__all__ = ["crossing", "floor_words", "stands", "tack_words", "tool_findings"]
