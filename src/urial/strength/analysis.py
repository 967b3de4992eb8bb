"""Assembly and load cases to forces: the frame, its solution, and what every joint passes on."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal, cast

import numpy as np
from numpy.typing import NDArray

from urial.assembly import bodies
from urial.assembly.mesh import Beam, Mesh, mesh
from urial.assembly.model import HOST, LOAD, Assembly, BuildError, Joint, StrapRound, Stud
from urial.assembly.overlaps import Beside, beside
from urial.geometry.place import Vec, cross, minus, times
from urial.geometry.shape import Bar
from urial.loads.case import Case, Field, LoadPoint, Six
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
    """The analysis model of an assembly with its feet as asked, its straps drawn up and its play open."""
    members = [_member(b, assembly) for b in net.beams]
    frame = frames.Frame(net.nodes, members, {}, {}, links_of(assembly, net, foot))
    before = net.memo["before"] = {**drawn_up(assembly, net, frame), **with_play(assembly, frame)}
    if not before:
        return frame
    sign = {k.id: k.one_way[1] for k in frame.links if k.one_way}
    links = [replace(k, drawn=sign.get(k.id, 0) * before.get(k.id, 0.0)) for k in frame.links]
    return replace(frame, links=links)


def with_play(assembly: Assembly, frame: frames.Frame) -> dict[str, float]:
    """What a joint that only pushes once its play is used up would have to be pulled with to close it, along
    its own z, N.
    """
    out = {}
    for k in frame.links:
        how = assembly.joint_by_key[k.id].how
        if isinstance(how, Stud) and how.held and how.play and k.one_way:
            out[k.id] = -k.one_way[1] * k.stiffness[k.one_way[0]] * how.play
    return out


def drawn_up(assembly: Assembly, net: Mesh, frame: frames.Frame) -> dict[str, float]:
    """What each strap is to be shortened by, as the force it would have if nothing gave, so that once
    everything has given way it is pulled with what it is drawn up to, N.

    Each strap's pull slackens the others: T = f + K u(f), solved for f from what a unit of each does."""
    straps = [
        j
        for j in assembly.joints_of.get(HOST, ())
        if isinstance(j.how, StrapRound) and j.how.tension and net.ends.get(j.key, (None, None))[0]
    ]
    if not straps:
        return {}
    both_ways = replace(frame, links=[replace(k, one_way=None) for k in frame.links])
    units: Loads = {}
    for j in straps:
        by_node: dict[str, np.ndarray] = {}
        _draw(j, 1.0, net, by_node)
        units[j.key] = {n: tuple(float(x) for x in v) for n, v in by_node.items()}
    found = frames.solve(both_ways, units)
    at = [found.link_index[j.key] for j in straps]
    slackens = found.link_forces[:, at, 2].T  # (strap, by a unit of)
    wanted = np.array([j.how.tension for j in straps if isinstance(j.how, StrapRound)])
    shortened = np.linalg.solve(np.eye(len(straps)) + slackens, wanted)
    return {j.key: float(f) for j, f in zip(straps, shortened, strict=True)}


def _draw(j: Joint, force: float, net: Mesh, by_node: dict[str, np.ndarray]) -> None:
    """A strap's pull on the node it is fixed to, added."""
    node = str(net.ends[j.key][0])
    pull = np.array(times(j.place.z, force))
    drawn = by_node.setdefault(node, np.zeros(6))
    drawn[:3] += pull
    drawn[3:] += np.cross(np.array(j.place.o) - np.array(net.nodes[node]), pull)


@dataclass(frozen=True)
class OwnMass:
    """Every part's own mass on the nodes that carry it: masses (part,), kg, their middles (part, 3), mm,
    and how far those lie from the middle of what carries them; each node's share of each part (node, part)
    and whose moments it takes.
    """

    kg: Array
    at: Array
    arm: Array
    nodes: tuple[str, ...]
    share: Array
    turns: Array

    def pushed(self, push: Field) -> Array:
        """A field's forces and moments on the nodes (node, 6): each part's whole force goes through its
        middle.
        """
        force = self.kg[:, None] * push.on(self.at)
        return np.hstack([self.share @ force, self.turns @ np.cross(self.arm, force)])


def own_mass(assembly: Assembly, net: Mesh) -> OwnMass:
    """Every part's own mass on the nodes of what carries it: a bar's by the length of its beams, half at
    either end of each; a plate's on all its nodes alike; what only hangs on, on the nearest node of what it
    hangs on, or, where nothing is known of that (boards screwed down), on the deck's places.
    """
    rows: list[tuple[float, Vec, dict[str, float]]] = []
    deck = {
        node
        for s in assembly.sockets
        if s.kind == "deck" and (node := net.at_part.get(s.part, {}).get(s.key)) is not None
    }
    for part, (kg, at) in zip(assembly.parts, bodies.masses(assembly), strict=True):
        nodes = dict.fromkeys(net.at_part.get(part.key, {}).values(), 0.0)
        beams = net.beams_of(part.key)
        if isinstance(part.shape, Bar) and beams:
            whole = sum(b.size for b in beams)
            nodes = dict.fromkeys((n for b in beams for n in (b.i, b.j)), 0.0)
            for b in beams:
                nodes[b.i] += b.size / whole / 2
                nodes[b.j] += b.size / whole / 2
        elif nodes:
            nodes = dict.fromkeys(nodes, 1 / len(nodes))
        else:
            found = _hangs_on(assembly, net, part.key, at, sorted(deck))
            nodes = dict.fromkeys(found, 1 / max(len(found), 1))
        if nodes:
            rows.append((kg, at, nodes))
    carry = tuple(dict.fromkeys(n for _, _, nodes in rows for n in nodes))
    number = {n: k for k, n in enumerate(carry)}
    share, turns = np.zeros((len(carry), len(rows))), np.zeros((len(carry), len(rows)))
    for m, (_, _, nodes) in enumerate(rows):
        share[[number[n] for n in nodes], m] = list(nodes.values())
        turns[number[max(nodes, key=lambda n: nodes[n])], m] = 1.0
    where = np.array([net.nodes[n] for n in carry]).reshape(-1, 3)
    middle = np.array([at for _, at, _ in rows]).reshape(-1, 3)
    return OwnMass(np.array([kg for kg, _, _ in rows]), middle, middle - share.T @ where, carry, share, turns)


def _hangs_on(assembly: Assembly, net: Mesh, part: str, at: Vec, deck: list[str]) -> list[str]:
    """The nodes that carry a part which is none of the frame's."""
    seen, wave = {part}, [part]
    while wave:
        near = [k for key in wave for j in assembly.joints_of.get(key, ()) for k in (j.a, j.b)]
        live = [n for k in near for n in net.at_part.get(k, {}).values()]
        if live:
            return [_nearest(net, live, at)]
        wave = [k for k in dict.fromkeys(near) if k in assembly.by_key and k not in seen]
        seen.update(wave)
    if deck or not net.nodes:
        return deck
    return [_nearest(net, list(net.nodes), at)]


def _nearest(net: Mesh, nodes: list[str], at: Vec) -> str:
    away = np.array([net.nodes[n] for n in nodes]) - np.array(at)
    return nodes[int(np.argmin(np.einsum("ij,ij->i", away, away)))]


def at_nodes(
    assembly: Assembly,
    cases: Sequence[Case],
    points: Mapping[str, LoadPoint],
    net: Mesh,
    solved: frames.FrameResult | None = None,
) -> Loads:
    """Each case's forces as forces and moments on the nodes that stand for the places they act at, its field
    on the part's own mass and what straps are drawn up to among them; with a solution, only of straps that
    still carry in it.
    """
    out: Loads = {}
    own: OwnMass | None = None
    if any(c.field for c in cases):
        own = net.memo["own mass"] if "own mass" in net.memo else own_mass(assembly, net)
        net.memo["own mass"] = own
    for c, case in enumerate(cases):
        by_node: dict[str, np.ndarray] = {}
        for key, force in net.memo.get("before", {}).items():
            if solved is None or solved.carries[c, solved.link_index[key]]:
                _draw(assembly.joint_by_key[key], force, net, by_node)
        if case.field is not None and own is not None:
            for node, pushed in zip(own.nodes, own.pushed(case.field), strict=True):
                by_node[node] = by_node.get(node, 0.0) + pushed
        for name, load in (*case.loads.items(), *case.ground.items()):
            point = points[name]
            node = net.at_part[point.part][name]
            force = np.array(load, dtype=float)
            force[3:] += cross(minus(point.at, net.nodes[node]), load[:3])
            by_node[node] = by_node.get(node, np.zeros(6)) + force
        out[case.id] = {n: tuple(v.tolist()) for n, v in by_node.items()}
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
    drawn: bool = True  # what straps are drawn up to is in it, and play; not in what lies between two cases

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
        drawn = self.net.memo.get("before", {}).get(joint.key, 0.0) if self.drawn else 0.0
        if drawn:
            held = self.raw.carries[:, self.raw.link_index[joint.key], None]
            pull = held * np.array(times(joint.place.z, drawn))
            force, moment = force + pull, moment + np.cross(np.array(joint.place.o) - point, pull)
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
        return replace(self, cases=cases, raw=raw, weight=np.ones(len(cases)), drawn=False)

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
    names = dict.fromkeys(name for case in cases for name in (*case.loads, *case.ground))
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
        raw = frames.solve(frame, at_nodes(assembly, cases, points, net))
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
