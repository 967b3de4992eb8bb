"""The proof test: with what to load it, where to jack or stack ballast, how far it should give there, and
what may be left when the load is off.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from urial import units
from urial.geometry.place import Vec, cross, minus
from urial.loads import trailing
from urial.loads.case import Case
from urial.loads.towing import policy
from urial.prove.verdict import Verdict
from urial.strength.check import APART

LEFT = 0.10
"""Share of the deflection under load that may be left; more means that something has yielded or slipped
(house rule)."""
READS = 0.05
"""What a dial gauge with its foot on the rail is read to, mm."""
WAYS = (("forward", "rearward"), ("to the left", "to the right"), ("up", "down"))


@dataclass(frozen=True)
class Deflects:
    """A place under the test load: how far it should go along the vehicle, across it and up, mm."""

    name: str
    at: Vec
    moves: Vec

    @property
    def main(self) -> tuple[float, str]:
        """The way it goes furthest: how far, mm, and which way."""
        k = max(range(3), key=lambda n: abs(self.moves[n]))
        return abs(self.moves[k]), WAYS[k][self.moves[k] < 0]


@dataclass(frozen=True)
class ProofTest:
    """One test: its case, what to do with it line by line, where to measure."""

    case: Case
    loads: tuple[str, ...]
    gauge: Deflects
    limit_mm: float
    steps: tuple[str, ...]


def proof_tests(v: Verdict) -> tuple[ProofTest, ...]:
    """A test for each duty: towing's held proof load, of the others the case that uses the part most."""
    if v.forces is None:
        return ()
    out = []
    towed = [k for k, c in enumerate(v.cases) if c.id == "proof" and v.job.duty.towed]
    groups: list[list[int]] = [towed] if towed else []
    rows = {r.id for r in policy()}
    names: dict[str, list[int]] = {}
    for k, c in enumerate(v.cases):
        if ": " in c.id and c.id not in rows:
            names.setdefault(c.id.rsplit(": ", 1)[0], []).append(k)
    groups += list(names.values())
    for group in groups:
        out.append(_test(v, max(group, key=lambda k: max(used(v, k).values(), default=0.0))))
    return tuple(out)


def used(v: Verdict, k: int) -> dict[str, float]:
    """How far each part is used in the case of that number where most, 1 at its limit."""
    out: dict[str, float] = {}
    for c in v.checks:
        if c.kind not in APART:
            out[c.part] = max(out.get(c.part, 0.0), float(c.by_case[k]))
    return out


def pull_kN(v: Verdict, t: ProofTest) -> float:
    """What the load cell should read, kN: the largest of the forces that are put on one by one, each along,
    across or up; the others are ballast and jacks beside it.
    """
    return max((abs(f) for _, force in v.places(t.case) for f in force), default=0.0) / 1000


def _test(v: Verdict, k: int) -> ProofTest:
    case = v.cases[k]
    gauge = max((_moves(v, k, name) for name in case.loads), key=lambda d: d.main[0])
    far, way = gauge.main
    limit = max(LEFT * far, READS)
    show = v.job.units

    def length(mm: float) -> str:
        return f"{mm:.2f} mm" if show == "metric" else f"{mm / 25.4:.3f} in ({mm:.2f} mm)"

    loads = (*(line for at, force in v.places(case) for line in _said(v, at, force)), *_under_way(v, case))
    less = (
        " It is reckoned with the trailer's own mass as hard as the cargo's; a little less is what to expect."
        if case.field
        else ""
    )
    steps = (
        "Put it on as it will be used, wheels chocked, nobody under the load or in line with it.",
        f"Set a dial gauge at the {gauge.name}, its foot on the host's own rail or frame, so that it "
        f"reads what goes {way}. Take up a tenth of the load, let it off, set the gauge to nothing: the play "
        "is out then.",
        f"Load in three steps and hold a minute. The gauge should read about {length(far)}; half as much "
        f"again, or a reading that creeps, means stop.{less}",
        f"Let it off: no more than {length(limit)} may be left. More means that something has yielded or "
        "slipped; find it before it is used.",
        "Look at every weld's toe with dye or a glass, and put the torque wrench on every bolt again.",
    )
    return ProofTest(case, loads, gauge, limit, steps)


def _moves(v: Verdict, k: int, name: str) -> Deflects:
    """How far a loaded place goes in a case, the load as it is, not weighted."""
    assert v.forces is not None
    point, net, raw = v.points[name], v.forces.net, v.forces.raw
    node = net.at_part[point.part][name]
    u = raw.displacements[k, raw.node_index[node]]
    arm = minus(point.at, net.nodes[node])
    turned = cross((float(u[3]), float(u[4]), float(u[5])), arm)
    part = v.assembly.by_key[point.part]
    moves = np.array(u[:3]) + np.array(turned)
    return Deflects(part.name, point.at, (float(moves[0]), float(moves[1]), float(moves[2])))


def _under_way(v: Verdict, case: Case) -> list[str]:
    """What lies on a trailer while its coupler is pulled: its cargo, as heavy as the case has it."""
    down, shown = (
        math.fsum(f[2] for f in case.loads.values()),
        math.fsum(f[2] for _, f in v.places(case)),
    )
    if case.field is None or math.isclose(down, shown, rel_tol=0.01):
        return []
    kg = math.fsum(c.kg for c in trailing.cargo(v.job, v.assembly))
    heavy = -case.field.push[2] / units.STANDARD_GRAVITY
    mass = units.show(_round(kg * heavy), "mass", v.job.units)
    force = units.show(kg * heavy * units.STANDARD_GRAVITY, "force", v.job.units)
    return [f"{force} down: {mass} of ballast; at the cargo's places on the deck, the wheels on the ground"]


def _said(v: Verdict, at: Vec, force: Vec) -> list[str]:
    """A force as what to do: pull, push or ballast, and where it acts."""
    biggest = max(abs(f) for f in force)
    out = []
    for k, f in enumerate(force):
        if abs(f) < 0.01 * biggest or not f:
            continue
        size = units.show(abs(f), "force", v.job.units)
        if k == 2 and f < 0:
            ballast = units.show(_round(abs(f) / units.STANDARD_GRAVITY), "mass", v.job.units)
            out.append(f"{size} down: {ballast} of ballast, or a jack under a beam")
        elif k == 2:
            out.append(f"{size} up: a jack on the ground under it, with a load cell")
        else:
            with_ = "a chain hoist, or a jack against something that stands, with a load cell"
            out.append(f"{size} {WAYS[k][f < 0]}: {with_}")
    where = ", ".join(
        f"{units.show(abs(x), 'length', v.job.units, v.job.nearest)} {words[x < 0]}"
        for x, words in zip(at, (("ahead", "behind"), ("left", "right"), ("up", "down")), strict=True)
        if abs(x) > 0.5
    )
    return [f"{line}; at {where} of the host's zero" for line in out]


def _round(kg: float) -> float:
    """Ballast to what can be stacked: half a kilogram below fifty, five above."""
    step = 0.5 if kg < 50 else 5.0
    return math.ceil(kg / step) * step
