"""How far what is carried hangs down: what gives under its weight, and the play of a bar in its bore.

A carrier that holds and droops drags its load on ramps and shakes it loose. What it gives is taken from the
swing of its weight, which the frame has solved already; the limit is a house rule.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

import numpy as np

from urial.assembly.model import HOST, Assembly, Fit, Pin
from urial.geometry.place import Vec, cross, minus, norm
from urial.loads.endurance import Repeated
from urial.strength.analysis import Forces
from urial.strength.check import Check, Line, Working
from urial.strength.checks.common import About, Context

SHARE = 50.0
"""Reach over droop that is allowed at least: a hand's breadth on two and a half metres."""
LEAST = 300.0
"""Reaches shorter than this count as this, mm."""


def droop_checks(context: Context, both: Forces, swung: Sequence[Repeated]) -> Iterator[Check]:
    """One check for each duty whose weight swings; ``both`` holds one end of every swing, then the other."""
    count = sum(len(r.swings) for r in swung)
    n = 0
    for r in swung:
        for swing in r.swings:
            if swing.row.up > 0 and swing.lifts > 0:
                found = _droop(context, both, (n, n + count), r, swing.lifts)
                if found is not None:
                    yield found
            n += 1


def _droop(context: Context, both: Forces, ends: tuple[int, int], r: Repeated, up: float) -> Check | None:
    forces, assembly = context.forces, context.assembly
    rows = []
    for name in sorted(r.loaded):
        point = both.points[name]
        node = both.net.at_part[point.part][name]
        between = np.subtract(*(both.raw.displacements[k, both.raw.node_index[node]] for k in ends))
        arm = minus(point.at, both.net.nodes[node])
        z = float(between[2]) + cross((float(between[3]), float(between[4]), float(between[5])), arm)[2]
        gives = abs(z) / (2 * up)  # the range is of twice so many g, its weight is of one
        reach = max(_reach(assembly, point.at), LEAST)
        play = rattle(assembly, point.part.split("/", 1)[0], point.at)
        rows.append(((gives + play) * SHARE / reach, gives, play, reach, point.part))
    if not rows:
        return None
    used, gives, play, reach, key = max(rows)
    part = assembly.by_key[key]

    def work() -> Working:
        return (
            Line("gives under its weight", "from the frame, 1 g", "", f"{gives:.2f} mm"),
            Line("play in its bore", "2 × clearance / engagement × how far out", "", f"{play:.2f} mm"),
            Line("allowed", f"reach / {SHARE:g} (house rule)", f"{reach:.0f} mm", f"{reach / SHARE:.1f} mm"),
        )

    names = [set(case.loads) for case in forces.cases]
    about = About.on(
        part,
        f"{r.id}: droop",
        f"droop of {part.name}, {r.id.split(': ')[-1]}",
        "stiffness",
        "mm",
        "house rule",
    )
    return Check(
        about.id,
        about.name,
        about.part,
        about.link,
        about.kind,
        r.id,
        gives + play,
        reach / SHARE,
        "mm",
        used,
        "under its own weight",
        about.clause,
        np.array([used * bool(n & r.loaded) for n in names]),
        work,
        path=about.path,
    )


def _reach(assembly: Assembly, at: Vec) -> float:
    """How far out from what holds the part to the host, level, mm."""
    feet = [j.place.o for j in assembly.joints if HOST in (j.a, j.b)]
    return min((math.hypot(at[0] - o[0], at[1] - o[1]) for o in feet), default=0.0)


def rattle(assembly: Assembly, piece: str, at: Vec, above: frozenset[str] = frozenset()) -> float:
    """How far the play of a piece's bar in its bore lets a place of it hang, mm; through what it sits in, too
    (``above``: pieces that have been gone through).
    """
    out = 0.0
    if piece in above:
        return out
    for j in assembly.joints:
        if not isinstance(j.how, Pin) or j.b not in assembly.by_key or not j.a.startswith(f"{piece}/"):
            continue
        ends = [k.place.o for k in assembly.joints if k.a == j.a and isinstance(k.how, Fit) and k.b == j.b]
        engaged = max((norm(minus(a, b)) for a in ends for b in ends), default=0.0)
        if j.how.gap > 0 and engaged > 1:
            far = math.hypot(at[0] - j.place.o[0], at[1] - j.place.o[1])
            out = max(out, 2 * j.how.gap / engaged * far)
            out += rattle(assembly, j.b.split("/", 1)[0], at, above | {piece})
    return out


__all__ = ["droop_checks", "rattle"]
