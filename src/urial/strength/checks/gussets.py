"""A gusset between two parts: its own metal between its beads, and the tube walls it stands on."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from urial.assembly import facts
from urial.assembly.model import Joint, Part, Weld
from urial.geometry.axis import frame_at
from urial.geometry.place import dot, minus, norm, unit
from urial.geometry.shape import Bar
from urial.strength import plates, welds
from urial.strength.check import Array, Check, Line, Unchecked, Working, figure
from urial.strength.checks.common import About, Context, Finding, ratio


def gusset_checks(
    context: Context, foot: Joint, back: Joint, plate: Part, beads: tuple[Array, Array]
) -> Iterator[Finding]:
    """``beads``: N/mm (case, bead's end, 3) along the foot and along the back."""
    size = [np.sqrt((b * b).sum(axis=2)).max(axis=1) for b in beads]
    yield _own_metal(context, foot, plate, (size[0], size[1]))
    for joint, bead in ((foot, beads[0]), (back, beads[1])):
        found = _wall(context, joint, plate, bead)
        if found is not None:
            yield found


def _own_metal(context: Context, foot: Joint, plate: Part, peaks: tuple[Array, Array]) -> Check:
    """Two beads on one plate: shear of its own thickness (J4.2)."""
    basis, steel, t = context.basis, facts.softened(plate, context.assembly), facts.thickness(plate)
    demand = 2 * np.maximum(*peaks)
    yielding, rupture = welds.base_metal_per_length(steel.Fy, steel.Fu, t)
    available = min(basis.available(yielding, 1.50), basis.available(rupture, 2.00))

    def work(k: int) -> Working:
        return (
            Line(
                "two beads on one plate",
                "2 × greatest f along the gusset",
                f"2 × {demand[k] / 2:.0f}",
                f"{demand[k]:.0f} N/mm",
            ),
            Line(
                "available",
                "lesser of 0.60 Fy t and 0.60 Fu t",
                f"t {t:.3g} mm, {steel.title}",
                f"{available:.0f} N/mm",
            ),
            ratio("f", float(demand[k]), available, "N/mm"),
        )

    return context.governed(
        demand,
        available,
        replace(
            About.on(
                plate,
                f"{plate.key}: metal",
                f"{plate.name}, its own metal ({foot.name})",
                "gusset",
                "N/mm",
                "AISC 360-22 J4.2",
            ),
            link=context.link(foot),
        ),
        work,
    )


def _wall(context: Context, joint: Joint, plate: Part, bead: Array) -> Finding | None:
    """The tube wall under a gusset's edge: plate-to-tube limit states, for the pull square to the wall.

    The line load is not even: its greatest value, as if along the whole edge, is set against the strength of
    the edge.
    """
    assert isinstance(joint.how, Weld)
    chord = context.part(joint.a if joint.b == plate.key else joint.b)
    if not isinstance(chord.shape, Bar) or chord.shape.stock.shape not in ("rect_tube", "round_tube"):
        return None
    if chord.shape.stock.shape == "round_tube":
        return Unchecked(
            chord.mark,
            f"the wall of the {chord.name} under the {plate.name}: no rule here for a plate on a round",
            context.link(joint),
        )
    run = joint.how.runs[0]
    edge = norm(minus(run.b, run.a))
    s = facts.on_bar(chord, joint.place.o)
    here = chord.place @ frame_at(chord.shape, s)
    lengthwise = abs(dot(unit(minus(run.b, run.a)), here.x)) > 0.7
    section = chord.shape.stock.section(facts.wall_factor(chord))
    out = unit(minus(joint.place.o, here.o))
    side = abs(dot(out, here.y)) > abs(dot(out, here.z))
    face = section.height if side else section.width
    steel, t, tp = context.steel(chord, joint), section.wall, facts.thickness(plate)
    basis = context.basis
    if lengthwise:
        nominal, words, clause = (
            plates.longitudinal_plate(steel.Fy, t, face, tp, edge),
            "Fy t²/(1 − tp/B)·(2 lb/B + 4 √(1 − tp/B))",
            "AISC 360-22 table K2.1, longitudinal plate",
        )
        omega = 1.50
    else:
        nominal, words, clause = (
            plates.transverse_plate(steel.Fy, t, face, edge),
            "least of 10/(B/t)·Fy t Bp and Fy t² (2 + 2.8 β)/√(1 − 0.9 β)",
            "AISC 360-22 table K2.1; EN 1993-1-8 table 7.13",
        )
        omega = 1.58
    available = basis.available(nominal, omega)
    peak = np.abs(bead @ np.array(out)).max(axis=1)
    demand = 2 * peak * edge

    def work(k: int) -> Working:
        return (
            Line(
                "edge on the wall",
                "lengthwise" if lengthwise else "across the tube",
                f"{edge:.0f} mm on a face {face:.4g} mm wide, design wall {t:.3g}, gusset {tp:.3g} mm",
                "",
            ),
            Line(
                "pull square to the wall",
                "2 × greatest line load of a bead, as if along the whole edge",
                f"2 × {peak[k]:.0f} N/mm × {edge:.0f} mm",
                f"{figure(demand[k])} N",
            ),
            Line("available", words, basis.words(omega), f"{figure(available)} N"),
            ratio("pull", float(demand[k]), available, "N"),
        )

    return context.governed(
        demand,
        available,
        About(
            id=f"{joint.key}: wall",
            name=f"{chord.name}'s wall under the gusset ({joint.name})",
            part=chord.mark,
            link=context.link(joint),
            kind="wall",
            unit="N",
            clause=clause,
            path=plate.paths[0] if plate.paths else "",
        ),
        work,
    )
