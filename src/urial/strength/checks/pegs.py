"""Pegs that ropes go round: a turned stud welded on by its foot, bent where it stands on what carries it."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from urial.assembly.model import HOST, Joint, Part, Weld
from urial.geometry.shape import Turned
from urial.strength import pins
from urial.strength.check import Check, Line, Working, figure
from urial.strength.checks.common import About, Context, ratio


def peg_checks(context: Context) -> Iterator[Check]:
    """Every turned part that a rope pulls on and a weld holds, at that weld."""
    roped = {s.part for s in context.assembly.sockets if s.kind == "ring"}
    for part in context.assembly.parts:
        if part.key not in roped or part.rated or not isinstance(part.shape, Turned):
            continue
        for j in context.assembly.joints_of.get(part.key, ()):
            if (
                isinstance(j.how, Weld)
                and HOST not in (j.a, j.b)
                and not {j.a, j.b} & context.forces.net.still
            ):
                yield _bent(context, part, part.shape, j)


def _bent(context: Context, part: Part, shape: Turned, j: Joint) -> Check:
    """A round in bending, pull and shear together: (M/MR + N/NR)² + (V/VR)² ≤ 1."""
    basis, steel, d = context.basis, context.steel(part, j), shape.steps[0][1]
    foot = part.place @ shape.place
    axis = np.array(foot.z)
    force, moment = context.forces.wrench(j, foot.o)
    along = force @ axis
    across = np.linalg.norm(force - along[:, None] * axis, axis=1)
    bending = np.linalg.norm(moment - (moment @ axis)[:, None] * axis, axis=1)
    area = math.pi * d**2 / 4
    bends = basis.available(pins.plastic_moment(steel.Fy, d), 1.67)
    pulls = basis.available(steel.Fy * area, 1.67)
    shears = basis.available(0.60 * steel.Fy * area, 1.67)
    used = np.hypot(bending / bends + np.abs(along) / pulls, across / shears)

    def work(k: int) -> Working:
        return (
            Line(
                "at its foot",
                "a peg held by its weld: pull across × its arm, and the pull along it",
                f"M {figure(bending[k])} N·mm, V {figure(across[k])} N, N {figure(abs(along[k]))} N",
                "",
            ),
            Line(
                "holds",
                "MR: Fy Z ≤ 1.6 Fy S (F11); VR 0.60 Fy A; NR Fy A; each " + basis.words(1.67),
                f"d {d:.4g} mm, Fy {steel.Fy:.0f} MPa",
                f"{figure(bends)} N·mm, {figure(shears)} N, {figure(pulls)} N",
            ),
            ratio("√((M/MR + N/NR)² + (V/VR)²)", float(used[k]), 1.0, "1"),
        )

    clause = "AISC 360-22 F11, G, D2; with shear as EN 1993-1-8 table 3.10"
    about = About.on(part, f"{part.key}: foot", f"{part.name}, bent at its foot", "member", "1", clause)
    return context.governed(used, 1.0, about, work)
