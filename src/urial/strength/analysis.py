"""Assembly and load cases to forces: the frame, its solution, and what every joint passes on."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal, cast

import numpy as np
from numpy.typing import NDArray

from urial.assembly.mesh import Beam, Mesh, mesh
from urial.assembly.model import LOAD, Assembly, BuildError, Joint
from urial.assembly.overlaps import Beside, beside
from urial.geometry.place import Vec, cross, minus
from urial.loads.case import Case, LoadPoint, Six
from urial.strength import frame as frames
from urial.strength.stiffness import links_of

Array = NDArray[np.float64]
Foot = Literal["bolts", "fixed", "pinned"]
BY_CASE = ("displacements", "reactions", "end_forces", "link_forces")
"""What a solved frame holds case by case."""
Loads = dict[str, dict[str, tuple[float, ...]]]


def _member(b: Beam, assembly: Assembly) -> frames.Member:
    s, steel = b.section, assembly.by_key[b.part].material
    return frames.Member(
        b.id, b.i, b.j, steel.E, steel.G, s.area, s.Iy, s.Iz, s.J, b.up, s.Avy, s.Avz, Iyz=s.Iyz
    )


def frame_of(assembly: Assembly, net: Mesh, foot: Foot = "bolts") -> frames.Frame:
    """The analysis model of an assembly with its feet as asked."""
    return frames.Frame(
        net.nodes, [_member(b, assembly) for b in net.beams], {}, {}, links_of(assembly, net, foot)
    )


def at_nodes(cases: Sequence[Case], points: Mapping[str, LoadPoint], net: Mesh) -> Loads:
    """Each case's forces as forces and moments on the nodes that stand for the places they act at."""
    out: Loads = {}
    for case in cases:
        by_node: dict[str, np.ndarray] = {}
        for name, load in case.loads.items():
            point = points[name]
            node = net.at_part[point.part][name]
            force = np.array(load, dtype=float)
            force[3:] += cross(minus(point.at, net.nodes[node]), load[:3])
            by_node[node] = by_node.get(node, np.zeros(6)) + force
        out[case.id] = {n: tuple(float(x) for x in v) for n, v in by_node.items()}
    return out


@dataclass(frozen=True)
class Forces:
    """The solved frame, every force multiplied by each case's weight and the basis's load factor.

    Arrays run (case, …).  ``raw`` is the unweighted result.
    """

    assembly: Assembly
    net: Mesh
    cases: tuple[Case, ...]
    points: Mapping[str, LoadPoint]
    raw: frames.FrameResult
    weight: Array

    @cached_property
    def local(self) -> Array:
        """Member end forces (case, member, 12), local, weighted."""
        out: Array = self.raw.end_forces * self.weight[:, None, None]
        return out

    def wrench(self, joint: Joint, about: Vec | Array | None = None) -> tuple[Array, Array]:
        """Force and moment (case, 3) that b puts on a through a joint, about a place (the joint's own),
        host axes.
        """
        point = np.array(joint.place.o if about is None else about, dtype=float)
        if joint.b == LOAD:
            return self._applied(joint, point)
        if joint.key not in self.raw.link_index:
            nothing = np.zeros((len(self.cases), 3))
            return nothing, nothing.copy()
        force, moment = frames.link_forces_at(
            self.raw, joint.key, (float(point[0]), float(point[1]), float(point[2]))
        )
        return force * self.weight[:, None], moment * self.weight[:, None]

    def _applied(self, joint: Joint, point: Array) -> tuple[Array, Array]:
        force, moment = np.zeros((len(self.cases), 3)), np.zeros((len(self.cases), 3))
        for c, case in enumerate(self.cases):
            load = case.loads.get(joint.key)
            if load is not None:
                arm = minus(self.points[joint.key].at, (float(point[0]), float(point[1]), float(point[2])))
                force[c], moment[c] = load[:3], np.array(load[3:]) + cross(arm, load[:3])
        return force * self.weight[:, None], moment * self.weight[:, None]

    def own(self, joint: Joint, about: Vec | Array | None = None) -> tuple[Array, Array]:
        """The same in the joint's own axes."""
        force, moment = self.wrench(joint, about)
        rows = joint.place.rotation
        return force @ rows.T, moment @ rows.T

    def only(self, numbers: Sequence[int]) -> Forces:
        """The same frame in some of its cases."""
        pick = list(numbers)
        raw = replace(
            self.raw,
            cases=tuple(self.raw.cases[n] for n in pick),
            **{name: getattr(self.raw, name)[pick] for name in BY_CASE},
            carries=self.raw.carries[pick],
        )
        return replace(self, cases=tuple(self.cases[n] for n in pick), raw=raw, weight=self.weight[pick])

    def less(self, other: Forces) -> Forces:
        """What lies between these cases and as many others, force by force: the ranges of what swings
        between them, unweighted.
        """
        between = {name: getattr(self.raw, name) - getattr(other.raw, name) for name in BY_CASE}
        cases = tuple(
            replace(
                a,
                loads={
                    k: cast(Six, tuple(x - y for x, y in zip(v, b.loads.get(k, (0.0,) * 6), strict=True)))
                    for k, v in a.loads.items()
                },
            )
            for a, b in zip(self.cases, other.cases, strict=True)
        )
        raw = replace(self.raw, **between)
        return replace(self, cases=cases, raw=raw, weight=np.ones(len(cases)))

    def inside(self, beam: str, fraction: float) -> Array:
        """N, Vy, Vz, T, My, Mz (case, 6) inside a beam, weighted: what lies beyond the cut puts on it, and
        through a plate's strip what others beside it pass through the same metal.
        """
        m = self.raw.member_index[beam]
        out = self._alone(m, fraction)
        for other in self._beside(m, np.array([fraction])):
            n = self.raw.member_index[other.beam]
            out += other.share[0] * (self._alone(n, float(other.at[0])) @ other.turn)
        return out

    def along(self, members: NDArray[np.intp], fractions: Array) -> Array:
        """The same of many beams (row,) at fractions (row, station): (case, row, station, 6)."""
        start = self.local[:, members, None, :6]
        x = fractions * self.raw.lengths[members, None]
        out = np.empty((*start.shape[:2], fractions.shape[1], 6))
        out[...] = -start
        out[..., 4] -= start[..., 2] * x
        out[..., 5] += start[..., 1] * x
        for row, m in enumerate(members):
            for other in self._beside(int(m), fractions[row]):
                n = self.raw.member_index[other.beam]
                theirs = np.stack([self._alone(n, float(f)) for f in other.at], axis=1)
                out[:, row] += other.share[:, None] * (theirs @ other.turn)
        return out

    def _beside(self, member: int, fractions: Array) -> tuple[Beside, ...]:
        beam = self.net.beams[member]
        return beside(self.net, beam, fractions) if beam.strip else ()

    def _alone(self, member: int, fraction: float) -> Array:
        start, x = self.local[:, member, :6], fraction * self.raw.lengths[member]
        out: Array = -start
        out[:, 4] -= start[:, 2] * x
        out[:, 5] += start[:, 1] * x
        return out


def used_points(cases: Sequence[Case], points: Mapping[str, LoadPoint]) -> tuple[tuple[str, LoadPoint], ...]:
    """The places that some case loads, in a fixed order."""
    names = dict.fromkeys(name for case in cases for name in case.loads)
    return tuple((n, points[n]) for n in names)


def analyse(
    assembly: Assembly,
    cases: tuple[Case, ...],
    points: Mapping[str, LoadPoint],
    foot: Foot = "bolts",
    load_factor: float = 1.0,
) -> Forces:
    """Solve every case on the assembly's frame.  BuildError in words when it cannot stand."""
    used = used_points(cases, points)

    def model() -> tuple[Mesh, frames.Frame]:
        net = mesh(assembly, [(name, p.part, p.lands or p.at) for name, p in used])
        return net, frame_of(assembly, net, foot)

    net, frame = assembly.once(("frame", used, foot), model)
    if not net.nodes:
        raise BuildError(
            "Nothing holds the part: it is not joined to the host; bolt or plug it to something."
        )
    try:
        raw = frames.solve(frame, at_nodes(cases, points, net))
    except frames.FrameError as error:
        raise BuildError(f"The part cannot stand as drawn. {in_words(str(error), assembly)}") from None
    return Forces(assembly, net, cases, points, raw, np.array([c.weight * load_factor for c in cases]))


def in_words(text: str, assembly: Assembly) -> str:
    """A frame's complaint with parts by their marks and names instead of its nodes."""
    for part in sorted(assembly.parts, key=lambda p: -len(p.key)):
        text = text.replace(f"node {part.key}@", f"the {part.name} ({part.mark}) at its place ")
    for joint in sorted(assembly.joints, key=lambda j: -len(j.key)):
        text = text.replace(joint.key, joint.name)
    return text


__all__ = ["Foot", "Forces", "analyse", "at_nodes", "frame_of", "in_words", "used_points"]
