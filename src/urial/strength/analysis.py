"""Assembly and load cases to forces: the frame model, its feet, and resultants at joints."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from urial.assembly.model import Assembly, Beam, BoltJoint, End, Vec
from urial.loads.towing import Case
from urial.strength import frame as frames
from urial.strength.vectors import cross

Array = NDArray[np.float64]
Foot = Literal["bolts", "fixed", "pinned"]


def foot_stiffness(joint: BoltJoint) -> tuple[float, ...]:
    """Springs of a bolted foot (N/mm ×3, N·mm/rad ×3) from its bolts.

    Each bolt: shear k11 and bearing k12 on plate and rail in series (EN 1993-1-8 table 6.11), and the bolt's own
    stretch across the faces.  Turning out of plane is held by each bolt against the bearing edge.
    """
    d, fub = joint.bolt.diameter, joint.grade.Fu
    shear = d**2 * fub
    soft = 1 / shear
    for material, t in (joint.plate, joint.rail):
        kt = min(1.5 * t / 16, 2.5)
        soft += 1 / (24 * 1.25 * kt * d * material.Fu)
    k = 1 / soft
    grip = joint.plate[1] + joint.rail[1] + 2 * joint.bolt.washer + (joint.bolt.head + joint.bolt.nut) / 2
    pull = 1.6 * joint.bolt.stress_area * 200_000 / grip
    holes = np.array(joint.holes)
    arms = holes - holes.mean(axis=0)
    rear, front, down, up = joint.contact
    n = len(holes)
    about_x = float((np.maximum(np.abs(arms[:, 2]), min(down, up)) ** 2).sum())
    about_z = float((np.maximum(np.abs(arms[:, 0]), min(rear, front)) ** 2).sum())
    polar = float((arms[:, 0] ** 2 + arms[:, 2] ** 2).sum())
    return (n * k, n * pull, n * k, pull * about_x, k * polar, pull * about_z)


def _member(b: Beam) -> frames.Member:
    s, steel = b.section, b.material
    return frames.Member(b.id, b.i, b.j, steel.E, steel.G, s.area, s.Iy, s.Iz, s.J, b.up, s.Avy, s.Avz,
                         b.release_i, b.release_j, b.offset_i, b.offset_j)  # fmt: skip


def frame_of(assembly: Assembly, foot: Foot = "bolts") -> frames.Frame:
    """The analysis model of an assembly with its feet as asked."""
    feet = [j for j in assembly.joints if isinstance(j, BoltJoint)]
    members = [_member(b) for b in assembly.beams]
    if foot == "bolts":
        return frames.Frame(assembly.nodes, members, {}, {j.node: foot_stiffness(j) for j in feet})
    # pinned: the plate may bend out of its plane; in its own plane two bolts still hold it from turning
    flags = (1, 1, 1, 1, 1, 1) if foot == "fixed" else (1, 1, 1, 0, 1, 0)
    return frames.Frame(assembly.nodes, members, {j.node: flags for j in feet})


@dataclass(frozen=True)
class Forces:
    """The solved frame, every force multiplied by each case's weight and the basis's load factor.

    Arrays run (case, …).  ``raw`` is the unweighted result.
    """

    assembly: Assembly
    cases: tuple[Case, ...]
    raw: frames.FrameResult
    weight: Array

    @cached_property
    def local(self) -> Array:
        """Member end forces (case, member, 12), local, weighted."""
        out: Array = self.raw.end_forces * self.weight[:, None, None]
        return out

    @cached_property
    def globals(self) -> Array:
        """Member end forces (case, member, 4, 3): force and moment at i, force and moment at j, global, weighted."""
        blocks = self.local.reshape(len(self.cases), -1, 4, 3)
        out: Array = np.einsum("cmbk,mkx->cmbx", blocks, self.raw.rotation)
        return out

    def resultant(self, ends: Sequence[End], about: Vec | Array) -> tuple[Array, Array]:
        """Force and moment (case, 3) that the named beam ends bring, about a point."""
        force, moment, point = np.zeros((len(self.cases), 3)), np.zeros((len(self.cases), 3)), np.asarray(about)
        for beam, end in ends:
            m = self.raw.member_index[beam]
            k = 0 if end == "i" else 1
            f = self.globals[:, m, 2 * k]
            force += f
            moment += self.globals[:, m, 2 * k + 1] + cross(self.raw.ends[m, k] - point, f)
        return force, moment

    def reaction(self, node: str) -> tuple[Array, Array]:
        """Force and moment (case, 3) of the ground on a foot."""
        r = self.raw.reactions[:, self.raw.node_index[node]] * self.weight[:, None]
        return r[:, :3], r[:, 3:]


def analyse(assembly: Assembly, cases: tuple[Case, ...], foot: Foot = "bolts", load_factor: float = 1.0) -> Forces:
    """Solve every case on the assembly's frame."""
    raw = frames.solve(frame_of(assembly, foot), {c.id: c.loads for c in cases})
    return Forces(assembly, cases, raw, np.array([c.weight * load_factor for c in cases]))
