"""A second source for the frame: the same model through PyNiteFEA, an independent program (extra “second”).

That program knows straight beams without shear deformation and nothing else, so everything else is put to it
as beams: a member's shear deformation as a slide at its middle (shear is the same all along a member that is
loaded only at its ends, so where it slides does not matter), and a joint as three short bars in its own axes,
each of which only stretches and twists, hung between stiff arms about the joint's place. Which one-way joints
carry in a case is taken from the first solution; that the second finds the same signs there confirms it.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from urial.assembly.model import BuildError
from urial.strength.analysis import Forces, at_nodes, frame_of, in_words
from urial.strength.frame import Frame, FrameResult, Link, Loads, Member, Vec

Array = NDArray[np.float64]
ARM = 50.0
"""Length of the stiff arms, mm."""
STIFFER = 1e3
"""So many times as stiff as the joint it belongs to is an arm that stands for rigid; more, and rounding
tells.
"""
GONE = 1e-5
"""Share of its stiffness a joint keeps where it has let go."""
LEVER = 1000.0
"""What turns one kind of figure into the other where one of them is nothing, mm."""
ALIKE = 1e-2
"""Figures that differ by no more than this share of the largest of their kind are the same: arms that stand
for rigid give a little, and what barely holds shows it.
"""

MISSING = (
    "The second solver is not installed; add it with “pip install PyNiteFEA”, or install urial with its "
    "extra “second”."
)


@dataclass(frozen=True)
class Pair:
    """One figure from both: what and where, in which case, its unit, here, there, and the largest of its kind
    in that case.
    """

    what: str
    case: str
    unit: str
    here: float
    there: float
    scale: float

    @property
    def apart(self) -> float:
        """The difference as a share of the largest of its kind."""
        return abs(self.here - self.there) / self.scale if self.scale > 0 else 0.0


@dataclass(frozen=True)
class Second:
    """Both solutions side by side, those farthest apart first; how many figures were held together."""

    pairs: tuple[Pair, ...]
    compared: int

    @property
    def largest(self) -> tuple[Pair, ...]:
        """The largest figure of each unit."""
        units = dict.fromkeys(p.unit for p in self.pairs)
        return tuple(max((p for p in self.pairs if p.unit == u), key=lambda p: abs(p.here)) for u in units)

    @property
    def agrees(self) -> bool:
        """Every figure is the same."""
        return all(p.apart <= ALIKE for p in self.pairs)

    @property
    def words(self) -> str:
        """In one sentence."""
        worst = max((p.apart for p in self.pairs), default=0.0)
        if self.agrees:
            return (
                f"An independent solver finds the same: {self.compared} figures, none further apart than "
                f"{100 * worst:.2g} % of the largest of its kind."
            )
        n = sum(p.apart > ALIKE for p in self.pairs)
        return (
            f"An independent solver differs in {n} of {self.compared} figures, by up to {100 * worst:.2g} %; "
            "do not build on these figures before it is known why."
        )


def available() -> bool:
    """Is the second solver installed?"""
    from importlib.util import find_spec

    return find_spec("Pynite") is not None


@cache
def _unbroken() -> type:
    """Their beam, which breaks at every node it passes through, made to keep to its two ends: what it passes
    by here is not joined to it.
    """
    from Pynite.PhysMember import PhysMember

    class Unbroken(PhysMember):  # type: ignore[misc]
        def descritize(self) -> None:
            every = self.model.nodes
            self.model.nodes = {n.name: n for n in (self.i_node, self.j_node)}
            try:
                super().descritize()
            finally:
                self.model.nodes = every

    return Unbroken


class _Model:
    """The other program's model, in its own terms."""

    def __init__(self, frame: Frame) -> None:
        from Pynite import FEModel3D

        self.frame, self.fe, self.count = frame, FEModel3D(), 0
        self.at: dict[str, Vec] = {}
        for name, p in frame.nodes.items():
            self.node(name, p)
        for n, m in enumerate(frame.members):
            self.member(n, m)
        for name, held in frame.supports.items():
            self.fe.def_support(name, *(bool(h) for h in held))

    def node(self, name: str, p: Vec) -> str:
        self.at[name] = p
        self.fe.add_node(name, *(float(x) for x in p))
        return name

    def beam(
        self,
        name: str,
        ends: tuple[str, str],
        metal: tuple[float, float],
        area: float,
        own: tuple[float, float, float],
        y: Vec | None = None,
    ) -> Any:
        """A beam of theirs: E and G, area, Iy, Iz and J, and where its y axis points."""
        e, g = metal
        steel = f"E {e:.9g} G {g:.9g}"
        if steel not in self.fe.materials:
            self.fe.add_material(steel, e, g, 0.3, 0.0)
        self.fe.add_section(name, area, *own)
        self.fe.add_member(name, *ends, steel, name)
        made = self.fe.members[name]
        made.__class__ = _unbroken()
        if y is not None:
            first = made.T()[:3, :3]  # their own axes before any turning
            made.rotation = math.degrees(math.atan2(float(np.dot(first[2], y)), float(np.dot(first[1], y))))
        return made

    def member(self, n: int, m: Member) -> None:
        """One of the frame's members, cut at its middle where it slides in shear."""
        a, b = (np.array(self.at[k], dtype=float) for k in (m.i, m.j))
        x = (b - a) / np.linalg.norm(b - a)
        z = np.array(m.up) - np.dot(m.up, x) * x
        z /= np.linalg.norm(z)
        y = np.cross(z, x)
        second = np.array([[m.Iz, m.Iyz], [m.Iyz, m.Iy]])  # ∫y², ∫yz, ∫z²
        values, vectors = np.linalg.eigh(second) if m.Iyz else (np.array([m.Iz, m.Iy]), np.eye(2))
        main = _vec(vectors[0, 0] * y + vectors[1, 0] * z)
        own, metal = (float(values[1]), float(values[0]), m.J), (m.E, m.G)
        if m.Avy is None and m.Avz is None:
            self.beam(f"m{n}", (m.i, m.j), metal, m.area, own, main)
            return
        middle = _vec((a + b) / 2)
        ends = [self.node(f"m{n} slide {k}", middle) for k in "ab"]
        self.beam(f"m{n}", (m.i, ends[0]), metal, m.area, own, main)
        self.beam(f"m{n} rest", (ends[1], m.j), metal, m.area, own, main)
        long = float(np.linalg.norm(b - a))
        rigid = STIFFER * m.E * m.area / long
        turn = STIFFER * max(m.E * max(m.Iy, m.Iz), m.G * m.J) / long
        slide = [m.G * av / long if av else rigid for av in (m.Avy, m.Avz)]
        six = (rigid, slide[0], slide[1], turn, turn, turn)
        axes = (_vec(x), _vec(y), _vec(z))
        self.joint(f"m{n} slide", (ends[0], ends[1]), middle, axes, six, (rigid, turn))

    def joint(
        self,
        name: str,
        ends: tuple[str, str],
        at: Vec,
        axes: Sequence[Vec],
        six: Sequence[float],
        rigid: tuple[float, float] | None = None,
    ) -> None:
        """Six springs at a place: along and about each axis one bar that stretches and twists, hung between
        arms from both ends.
        """
        push, turn = max(six[:3]), max(six[3:])
        arms = rigid or (STIFFER * max(push, turn / ARM**2), STIFFER * max(turn, push * ARM**2))
        for n, axis in enumerate(axes):
            stretch, twist = six[n], six[3 + n]
            if not stretch and not twist:
                continue
            tips = []
            for side, end in zip((-1.0, 1.0), ends, strict=True):
                to = _vec(np.array(at) + side * ARM * np.array(axis))
                tips.append(self.arm(f"{name} tip {n} {side:g}", end, to, arms))
            key, long = f"{name} bar {n}", 2 * ARM
            own = (1.0, 1.0, twist * long / 77_000.0)
            self.beam(key, (tips[0], tips[1]), (200_000.0, 77_000.0), stretch * long / 200_000.0, own)
            self.fe.def_releases(key, Ryi=True, Rzi=True, Ryj=True, Rzj=True)

    def arm(self, name: str, start: str, to: Vec, rigid: tuple[float, float]) -> str:
        """A place carried stiffly by a node; the node itself where it lies there. ``rigid``: N/mm and
        N·mm/rad.
        """
        long = math.dist(self.at[start], to)
        if long < 1e-6:
            return start
        self.node(name, to)
        e = 200_000.0
        area, inertia = rigid[0] * long / e, rigid[1] * long / e
        self.beam(f"{name} arm", (start, name), (e, e / 2.6), area, (inertia, inertia, 2.6 * inertia))
        return name

    def link(self, link: Link, carries: bool) -> None:
        """One of the frame's joints; one that has let go keeps next to nothing of what it carries one way."""
        j = link.j
        if j is None:
            j = self.node(f"ground of {link.id}", link.at)
            self.fe.def_support(j, *(True,) * 6)
        six = list(link.stiffness)
        if not carries and link.one_way is not None:
            six[link.one_way[0]] *= GONE  # what holds sideways stays, as in the first solution
        self.joint(f"link {link.id}", (link.i, j), link.at, link.axes, six)

    def solve(self, loads: Loads) -> None:
        for case, by in loads.items():
            for node, v in by.items():
                for d, x in zip(("FX", "FY", "FZ", "MX", "MY", "MZ"), v, strict=True):
                    if x:
                        self.fe.add_node_load(node, d, float(x), case)
            self.fe.add_load_combo(case, {case: 1.0})
        self.fe.analyze_linear(log=False, check_stability=False, check_statics=False, sparse=True)

    def moved(self, case: str) -> Array:
        """Movements of the frame's own nodes (node, 6)."""
        rows = []
        for name in self.frame.nodes:
            n = self.fe.nodes[name]
            rows.append([getattr(n, d)[case] for d in ("DX", "DY", "DZ", "RX", "RY", "RZ")])
        return np.array(rows, dtype=float)

    def inside(self, n: int, case: str) -> Array:
        """N, T, My and Mz at the member's first end, what beyond puts on it; in its own y and z."""
        m = self.frame.members[n]
        made = self.fe.members[f"m{n}"]
        f = np.array(made.f(case), dtype=float).ravel()
        t = made.T()[:3, :3]
        force, moment = t.T @ f[:3], t.T @ f[3:6]  # on its first end, the frame's axes
        x = t[0]
        z = np.array(m.up) - np.dot(m.up, x) * x
        z /= np.linalg.norm(z)
        y = np.cross(z, x)
        return np.array([force @ x, force @ y, force @ z, moment @ x, moment @ y, moment @ z])


def _vec(a: Array | Sequence[float]) -> Vec:
    return (float(a[0]), float(a[1]), float(a[2]))


KINDS = (
    ("force along", "N"),
    ("shear across y", "N"),
    ("shear across z", "N"),
    ("twist", "N·mm"),
    ("moment about y", "N·mm"),
    ("moment about z", "N·mm"),
)


def recompute(
    forces: Forces,
    foot: str,
    stopped: Callable[[], bool] = lambda: False,
    tell: Callable[[str], None] = lambda _: None,
) -> Second:
    """The solved frame of a job once more by the second solver.  BuildError when it is not installed."""
    if not available():
        raise BuildError(MISSING)
    frame = frame_of(forces.assembly, forces.net, foot)  # type: ignore[arg-type]
    loads = at_nodes(forces.assembly, forces.cases, forces.points, forces.net, forces.raw)
    pairs = held_against(frame, loads, forces.raw, stopped, tell)
    parts = {b.id: forces.assembly.by_key[b.part] for b in forces.net.beams}
    names = {id: f"in the {part.name} ({part.mark})" for id, part in parts.items()}

    def said(what: str) -> str:
        kind, _, beam = what.partition(", ")
        return f"{kind} {names[beam]}" if beam in names else in_words(what, forces.assembly)

    found = [Pair(said(p.what), p.case, p.unit, p.here, p.there, p.scale) for p in pairs]
    return Second(tuple(sorted(found, key=lambda p: -p.apart)), len(found))


def held_against(
    frame: Frame,
    loads: Loads,
    first: FrameResult,
    stopped: Callable[[], bool] = lambda: False,
    tell: Callable[[str], None] = lambda _: None,
) -> list[Pair]:
    """Every movement and member end force of one solution and the other."""
    states: dict[bytes, list[int]] = {}
    for c in range(len(first.cases)):
        states.setdefault(first.carries[c].tobytes(), []).append(c)
    out: list[Pair] = []
    for k, cases in enumerate(states.values(), 1):
        if stopped():
            break
        tell(f"{k} of {len(states)}")
        model = _Model(frame)
        for n, link in enumerate(frame.links):
            model.link(link, bool(first.carries[cases[0], n]))
        some: Mapping[str, Mapping[str, Sequence[float]]] = {
            first.cases[c]: loads[first.cases[c]] for c in cases
        }
        model.solve(some)
        for c in cases:
            out += _of_case(model, first, c, _pushed(loads[first.cases[c]]))
    return out


def _scales(six: Array, lever: float) -> tuple[float, float]:
    """The largest of the straight and of the turning figures (n, 6); none is smaller than what the other
    makes of it over a short lever, since nothing is known better than that.
    """
    straight, turning = (float(np.abs(six[:, k : k + 3]).max(initial=0.0)) for k in (0, 3))
    return max(straight, turning / LEVER), max(turning, straight * lever)


def _pushed(by_node: Mapping[str, Sequence[float]]) -> float:
    """The largest force a case puts on, N; of moments what they push with over a lever."""
    rows = np.array(list(by_node.values()), dtype=float).reshape(-1, 6)
    return max(_scales(rows, 0.0)) if rows.size else 0.0


def _of_case(model: _Model, first: FrameResult, c: int, pushed: float) -> list[Pair]:
    frame, case = model.frame, first.cases[c]
    out = []
    there, here = model.moved(case), first.displacements[c]
    most = _scales(here, 1 / LEVER)
    for part, what, unit in ((slice(0, 3), "movement of", "mm"), (slice(3, 6), "turning of", "rad")):
        scale = most[part.start // 3]
        for n, name in enumerate(frame.nodes):
            k = int(np.abs(here[n, part] - there[n, part]).argmax()) + part.start
            out.append(Pair(f"{what} node {name}", case, unit, float(here[n, k]), float(there[n, k]), scale))
    inside = np.array([model.inside(n, case) for n in range(len(frame.members))]).reshape(-1, 6)
    mine = first.end_forces[c, :, :6]
    least = pushed / LEVER, pushed  # what loads pass by is not judged by its own rounding
    most = max(_scales(mine, 1.0)[0], least[0]), max(_scales(mine, 1.0)[1], least[1])
    for kinds in ((0, 1, 2), (3, 4, 5)):
        scale = most[kinds[0] // 3]
        for n, m in enumerate(frame.members):
            k = max(kinds, key=lambda q: abs(mine[n, q] - inside[n, q]))
            what, unit = KINDS[k]
            out.append(Pair(f"{what}, {m.id}", case, unit, float(mine[n, k]), float(inside[n, k]), scale))
    return out
