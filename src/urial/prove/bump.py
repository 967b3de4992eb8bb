"""The parking bump: how hard something that is backed into pushes, and what gives first.

A vehicle that rolls at v has m v²/2 to lose.  Taken up by a spring of stiffness k, the part and what holds
it in series, that makes F = v √(m k).  The stiffness is the frame's own, at the outermost place, along the
vehicle; the vehicle itself is taken as stiff, so that the force is the most it can be.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from urial.assembly import bodies
from urial.assembly.model import HOST, Assembly, Part
from urial.geometry import solids
from urial.geometry.place import Vec, cross, minus, norm
from urial.geometry.shape import Bar
from urial.job.host import Wheeled
from urial.loads.case import Case, LoadPoint
from urial.prove.verdict import Verdict
from urial.strength.analysis import Forces, analyse
from urial.strength.check import APART, Check
from urial.strength.checks import judge

SPEED_KMH = 2.5
OTHER_KG = 1500.0
"""Another car, as heavy as most."""
ACCIDENT = 1 / 1.67
"""It is an accident: judged at nominal strength."""
NAME = "parking bump"
ROUND = 2.0
"""What lies so near the outermost place is hit with it, mm."""
PROBE_N = 1000.0
SOURCE = "energy into a spring: F = v √(m k); the order in which things give is a house rule"


@dataclass(frozen=True)
class Bump:
    """A push at the outermost place ``at`` (host axes, mm) of a part, along the vehicle; ``force_N`` the most
    it can be.  ``replaced`` is the worst check of what can be taken off and bought or built again,
    ``stays`` of what stays on the vehicle (the vehicle's own metal too), each at ``force_N``; None where
    there is none.
    """

    part: Part
    at: Vec
    kg: float
    stiffness: float  # N/mm
    force_N: float
    replaced: Check | None
    stays: Check | None

    @property
    def first(self) -> Check | None:
        """What gives first."""
        return max((c for c in (self.replaced, self.stays) if c), key=lambda c: c.utilisation, default=None)

    @property
    def holds(self) -> bool:
        """Nothing gives at all."""
        return self.first is None or self.first.utilisation < 1.0

    @property
    def right(self) -> bool:
        """Nothing gives, or what can be replaced gives before what stays."""
        return self.holds or self.first is self.replaced

    def gives_N(self, check: Check) -> float:
        """The push at which a check is used up."""
        return self.force_N / check.utilisation

    @property
    def briefly(self) -> str:
        """In one sentence, what gives first."""
        what = f"Backed into at {SPEED_KMH} km/h: up to {self.force_N / 1000:.1f} kN"
        if self.first is None or self.holds:
            return f"{what}, and nothing gives."
        ends = "It stays on the vehicle." if self.first is self.stays else "It can be replaced."
        return (
            f"{what}. First to give, at {self.gives_N(self.first) / 1000:.1f} kN: {self.first.name}. {ends}"
        )

    @property
    def words(self) -> str:
        """In a few sentences; figures in mm, kg, kN."""
        said = [
            f"Backed into something at {SPEED_KMH} km/h with {self.kg:.0f} kg behind it, the "
            f"{self.part.name} is pushed with up to {self.force_N / 1000:.1f} kN."
        ]
        one, two = self.replaced, self.stays
        if self.holds:
            said.append(f"Nothing gives: {self._used()}.")
        elif one is not None and self.first is one:
            said.append(f"First {self._gives(one)}, which can be replaced.")
            if two is not None:
                said.append(f"Of what stays on the vehicle, {self._gives(two)}.")
        elif two is not None:
            said.append(f"First {self._gives(two)}, and that stays on the vehicle.")
            if one is not None:
                said.append(
                    f"What can be replaced holds longer: {self._gives(one)}. A lighter piece there, or one "
                    f"that shears at less than {self.gives_N(two) / 1000:.1f} kN, would spare the vehicle."
                )
        return " ".join(said)

    def _gives(self, c: Check) -> str:
        return f"{c.name} gives at {self.gives_N(c) / 1000:.1f} kN"

    def _used(self) -> str:
        return f"{self.first.name} is {100 * self.first.utilisation:.0f} % used" if self.first else "no check"


def bump(v: Verdict) -> Bump | None:
    """The bump of a part on wheels; None where nothing sticks out or it was not judged."""
    if v.forces is None or not isinstance(v.job.vehicle, Wheeled):
        return None
    hit = outermost(v)
    if hit is None:
        return None
    part, at, way = hit
    kg = max(v.job.vehicle.standing(), OTHER_KG)
    point = {NAME: LoadPoint(part.key, at, _lands(v.forces, part, at))}

    def pushed(force: float) -> Forces:
        push = (way * force, 0.0, 0.0, 0.0, 0.0, 0.0)
        case = Case(NAME, NAME, {NAME: push}, "backed into at walking pace", SOURCE, ACCIDENT)
        return analyse(v.assembly, (case,), point, v.job.proof.foot, v.basis.load_factor)

    gives = way * _moves(pushed(PROBE_N), part, at)
    if gives <= 0.0:
        return None
    stiffness = PROBE_N / gives
    force = SPEED_KMH / 3.6 * math.sqrt(kg * stiffness * 1000.0)
    stays = staying(v.assembly)
    worst: dict[bool, Check | None] = {True: None, False: None}  # whether it stays
    for c in judge(pushed(force), v.basis, v.job.proof.weld_method)[0]:
        kept = HOST in (c.link, c.part) or c.part in stays
        before = worst[kept]
        if c.kind not in APART and c.utilisation > (before.utilisation if before else 0.0):
            worst[kept] = c
    return Bump(part, at, kg, stiffness, force, worst[False], worst[True])


def outermost(v: Verdict) -> tuple[Part, Vec, float] | None:
    """The part of the frame that sticks out furthest beyond the vehicle, the middle of what is hit first,
    and which way along x it is pushed; None where all of it lies within the vehicle's length.
    """
    host = v.job.vehicle
    assert v.forces is not None and isinstance(host, Wheeled)
    boxes = [(p, *bodies.corners(p)) for p in v.assembly.parts if p.key in v.forces.net.at_part]
    if not boxes:
        return None
    last, first = min(boxes, key=lambda b: b[1][0]), max(boxes, key=lambda b: b[2][0])
    behind, ahead = -host.rear_overhang_mm - last[1][0], first[2][0] - foremost(host)
    if max(behind, ahead) <= 0.0:
        return None
    part, way = (last[0], 1.0) if behind >= ahead else (first[0], -1.0)
    points = np.asarray(part.place.points(solids.triangles(part.shape)[0]), dtype=float)
    near = points[way * points[:, 0] <= (way * points[:, 0]).min() + ROUND]
    middle = (near.min(axis=0) + near.max(axis=0)) / 2
    return part, (float(middle[0]), float(middle[1]), float(middle[2])), way


def foremost(host: Wheeled) -> float:
    """The front end of a vehicle ahead of its rear axle, mm."""
    return host.wheelbase_mm + host.front_overhang_mm


def _lands(forces: Forces, part: Part, at: Vec) -> Vec | None:
    """Where a push enters the frame: on a bar right there, on a plate at the nearest of the places where it
    is held already, since between them lies metal for certain.
    """
    if isinstance(part.shape, Bar):
        return None
    nodes = [forces.net.nodes[n] for n in forces.net.at_part[part.key].values()]
    return min(nodes, key=lambda n: norm(minus(n, at)))


def _moves(forces: Forces, part: Part, at: Vec) -> float:
    """How far a place of a part goes along x in the first case, not weighted, mm."""
    net, raw = forces.net, forces.raw
    node = net.at_part[part.key][NAME]
    u = raw.displacements[0, raw.node_index[node]]
    turned = cross((float(u[3]), float(u[4]), float(u[5])), minus(at, net.nodes[node]))
    return float(u[0]) + turned[0]


def staying(assembly: Assembly) -> frozenset[str]:
    """Marks of what stays on the vehicle when somebody pulls the pin: the pieces joined to the host that
    another piece is plugged into.  Where nothing is plugged into anything, all of it comes off with its
    bolts, and only the host stays.
    """
    bores = {s.part for s in assembly.sockets if s.kind == "receiver" and s.key in assembly.occupied}
    pieces = {key.split("/")[0] for key in bores}
    return frozenset(p.mark for p in assembly.parts if p.key.split("/")[0] in pieces)


__all__ = ["Bump", "bump", "outermost", "staying"]
