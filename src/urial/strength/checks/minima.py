"""Least sizes that a code asks for however small the load: legs, edges, room between holes.

One that is not met is a failure like any other, with what it needs, unless somebody takes it on himself in
writing (a waiver of the job, which the packet prints).
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from urial.assembly import facts
from urial.assembly.model import Bolts, Joint, Part, Plugs, Weld
from urial.geometry.shape import Plate
from urial.strength import welds
from urial.strength.check import Check, Line, Working, figure
from urial.strength.checks.bolts import part_side
from urial.strength.checks.common import Context
from urial.strength.checks.welds import INCH_LEG

SLACK = 0.05
"""What a tape does not tell, mm."""


def minimum_checks(context: Context) -> Iterator[Check]:
    """Every least size that is not met."""
    for j in context.assembly.joints:
        parts = [context.part(k) for k in (j.a, j.b) if k in context.assembly.by_key]
        if isinstance(j.how, Weld):
            yield from _leg(context, j, j.how, parts)
        elif isinstance(j.how, Bolts) and isinstance(parts[0].shape, Plate):
            yield from _holes(context, j, j.how, parts[0])
        elif isinstance(j.how, Plugs):
            yield from _plugs(context, j, j.how, facts.thickness(parts[0]))


def _plugs(context: Context, j: Joint, how: Plugs, t: float) -> Iterator[Check]:
    """A plug's hole is wide enough to be fused at its bottom; plugs stand four diameters apart (J2.3b)."""
    if how.diameter < t + 8 - SLACK:
        what = (
            "plug",
            f"plug welds of {j.name}, their diameter",
            f"{t:.3g} mm thick: a rod reaches no bottom",
        )
        yield least_size(context, j, what, (t + 8, how.diameter), "AISC 360-22 J2.3b", how.path)
    spots = np.array(how.spots)
    gaps = [float(np.hypot(*(a - b))) for n, a in enumerate(spots) for b in spots[:n]]
    if gaps and min(gaps) < 4 * how.diameter - SLACK:
        what = ("plug pitch", f"plug welds of {j.name}, from one to the next", "what is between is softened")
        yield least_size(context, j, what, (4 * how.diameter, min(gaps)), "AISC 360-22 J2.3b", how.path)


def _leg(context: Context, j: Joint, how: Weld, parts: list[Part]) -> Iterator[Check]:
    """The least fillet by the thinner part (J2.4): less is chilled by the metal and cracks."""
    if not parts or how.through or how.ground:
        return
    thinner = min([*(facts.thickness(p) for p in parts), *([how.host.t] if how.host else [])])
    least = welds.minimum_leg(thinner)
    if how.leg < least - INCH_LEG:
        name = f"least leg of the weld, {j.name}"
        why = f"the thinner part is {thinner:.3g} mm; a smaller bead is chilled by it"
        yield least_size(
            context, j, ("least leg", name, why), (least, how.leg), "AISC 360-22 table J2.4", how.path
        )


def _holes(context: Context, j: Joint, how: Bolts, part: Part) -> Iterator[Check]:
    """Clear metal between holes (J3.4), and from a hole's middle to an edge: each at least the bolt."""
    d, holes = how.bolt.diameter, np.array(how.holes)
    hole = max(how.hole_d, *how.host_hole_d, 0.0)
    gaps = [float(np.hypot(*(a - b))) - hole for n, a in enumerate(holes) for b in holes[:n]]
    side = part_side(j).strip() or j.name
    if gaps and min(gaps) < d - SLACK:
        what = ("clear distance", f"clear metal between the {side} holes", f"for {how.bolt.name} bolts")
        yield least_size(context, j, what, (d, max(min(gaps), 0.1)), "AISC 360-22 J3.4", how.path)
    edges = facts.bolt_edges(how, j.place, part)
    rows = [("edge", f"{part.name}, hole to its edge", float(edges.plate.min()))]
    if how.host_face:
        rows.append(
            ("host edge", f"the host's metal, {side} hole to its edge or end", float(edges.host.min()))
        )
    for key, name, has in rows:
        if has < d - SLACK:
            what = (key, name, f"less than the {how.bolt.name} bolt's own diameter: it tears out")
            yield least_size(
                context, j, what, (d, max(has, 0.1)), "AISC 360-22 J3.5, house limit 1.0 d", how.path
            )


def least_size(
    context: Context, j: Joint, what: tuple[str, str, str], sizes: tuple[float, float], clause: str, path: str
) -> Check:
    """A least size that is not met, as a failure: key, name and why; what it needs and has, mm."""
    (key, name, why), (needs, has) = what, sizes
    used = needs / has

    def work() -> Working:
        return (
            Line("why", why, "", ""),
            Line("least size", "needs / has", f"{figure(needs)} / {figure(has)} mm", f"{used:.2f}"),
        )

    return Check(
        f"{j.key}: {key}",
        name,
        context.mark(j.a if j.a in context.assembly.by_key else j.b),
        context.link(j),
        "minimum",
        "whatever the load",
        needs,
        has,
        "mm",
        used,
        "least size",
        clause,
        np.full(len(context.forces.cases), used),
        work,
        path=path,
    )
