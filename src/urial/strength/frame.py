"""Three-dimensional frames of Timoshenko beams, solved for all load cases at once.

Each member has two nodes, twelve degrees of freedom, and may have rigid offsets at its ends (global axes), end
releases (local axes) and shear flexibility.  Axes and units as everywhere: mm, N, N·mm, MPa; member x from i to j,
z as near to ``up`` as it can be, y = z × x.  Stiffness matrices are formed for all members together as (m, 12, 12)
arrays; the free part of the global matrix is factorised once (Cholesky) for every case.

Source of the element: Przemieniecki, *Theory of Matrix Structural Analysis*, §5.6 (shear parameter Φ = 12EI/GA_vL²).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import lapack

from urial.strength.vectors import cross

Array = NDArray[np.float64]
DIRECTIONS = ("move along x", "move along y", "move along z", "turn about x", "turn about y", "turn about z")


class FrameError(ValueError):
    """The model cannot be solved; the message names the member or node and says why."""


@dataclass(frozen=True)
class Member:
    """A beam from node ``i`` to node ``j``.

    Area and shear areas mm² (``Avy``/``Avz`` None: no shear deformation), Iy, Iz, J mm⁴, E, G MPa.  ``release_i``
    and ``release_j`` hold six flags (Fx Fy Fz Mx My Mz, local), 1 = free.  Offsets are rigid and global, mm.
    """

    id: str
    i: str
    j: str
    E: float
    G: float
    area: float
    Iy: float
    Iz: float
    J: float
    up: tuple[float, float, float] = (0.0, 0.0, 1.0)
    Avy: float | None = None
    Avz: float | None = None
    release_i: tuple[int, ...] = (0, 0, 0, 0, 0, 0)
    release_j: tuple[int, ...] = (0, 0, 0, 0, 0, 0)
    offset_i: tuple[float, float, float] = (0.0, 0.0, 0.0)
    offset_j: tuple[float, float, float] = (0.0, 0.0, 0.0)


@dataclass(frozen=True)
class Frame:
    """Nodes (name → x, y, z in mm), members, supports (six flags, 1 = held) and springs (N/mm, N·mm/rad)."""

    nodes: Mapping[str, tuple[float, float, float]]
    members: Sequence[Member]
    supports: Mapping[str, Sequence[int]] = field(default_factory=dict)
    springs: Mapping[str, Sequence[float]] = field(default_factory=dict)


Loads = Mapping[str, Mapping[str, Sequence[float]]]
"""Case name → node → [Fx, Fy, Fz, Mx, My, Mz] in N and N·mm, global axes."""


@dataclass(frozen=True)
class FrameResult:
    """Displacements (case, node, 6), reactions (case, node, 6) and local member end forces (case, member, 12)."""

    frame: Frame
    cases: tuple[str, ...]
    node_index: dict[str, int]
    member_index: dict[str, int]
    displacements: Array
    reactions: Array
    end_forces: Array
    rotation: Array  # (member, 3, 3): rows are the member's local axes
    ends: Array  # (member, 2, 3): where the flexible part begins and ends, mm
    lengths: Array

    @cached_property
    def end_displacements(self) -> Array:
        """Local displacement of each member's ends (case, member, 12), after releases."""
        return self._local()

    def _local(self) -> Array:
        model = _assemble(self.frame)
        u = self.displacements.reshape(len(self.cases), -1)
        d = np.einsum("mab,cmb->cma", model.transform, u[:, model.dofs])
        out: Array = d.copy()
        for m, (whole, free) in model.condensed.items():
            kept = [n for n in range(12) if n not in free]
            back = np.linalg.pinv(whole[np.ix_(free, free)], rcond=1e-10, hermitian=True) @ whole[np.ix_(free, kept)]
            out[:, m, free] = -d[:, m, kept] @ back.T
        return out

    def force_at(self, member: str, fractions: Array) -> Array:
        """Internal forces (case, station, 6) N, Vy, Vz, T, My, Mz of the part beyond the cut, local axes.

        ``fractions`` (station,) run from 0 at end i to 1 at end j.  Tension is positive; members carry no load
        between their ends, so moments vary linearly.
        """
        m = self.member_index[member]
        start = self.end_forces[:, m, :6]
        x = np.asarray(fractions)[None, :] * self.lengths[m]
        out = np.empty((len(self.cases), x.shape[1], 6))
        out[:] = -start[:, None, :]
        out[:, :, 4] += -start[:, 2:3] * x  # My
        out[:, :, 5] += start[:, 1:2] * x  # Mz
        return out

    def global_end_force(self, member: str, end: str) -> tuple[Array, Array]:
        """Force and moment (case, 3) acting on a member's end in global axes, N and N·mm."""
        m = self.member_index[member]
        base = 0 if end == "i" else 6
        local = self.end_forces[:, m, base : base + 6]
        rot = self.rotation[m]
        return local[:, :3] @ rot, local[:, 3:] @ rot


@dataclass(frozen=True)
class _Model:
    dofs: NDArray[np.intp]
    transform: Array
    local_stiffness: Array
    rotation: Array
    ends: Array
    lengths: Array
    stiffness: Array
    condensed: dict[int, tuple[Array, list[int]]]  # members with releases: their whole stiffness, the freed ends


def _local_axes(frame: Frame, index: Mapping[str, int]) -> tuple[Array, Array, Array]:
    """Rotation (m, 3, 3), end points (m, 2, 3) and lengths (m,)."""
    xyz = np.array(list(frame.nodes.values()), dtype=float).reshape(-1, 3)
    members = frame.members
    i = np.array([index[m.i] for m in members])
    j = np.array([index[m.j] for m in members])
    off = np.array([(m.offset_i, m.offset_j) for m in members], dtype=float)
    up = np.array([m.up for m in members], dtype=float)
    ends = np.stack([xyz[i] + off[:, 0], xyz[j] + off[:, 1]], axis=1)
    along = ends[:, 1] - ends[:, 0]
    lengths = np.sqrt((along * along).sum(axis=1))
    short = np.flatnonzero(lengths < 1e-6)
    if short.size:
        raise FrameError(f"Member {members[short[0]].id} has no length; give its ends different places.")
    ex = along / lengths[:, None]
    up_size = np.sqrt((up * up).sum(axis=1))
    if (up_size < 1e-12).any():
        raise FrameError(f"Member {members[int(np.argmin(up_size))].id} has no up direction; give one that is not zero.")
    up = up / up_size[:, None]
    ey = cross(up, ex)
    size = np.sqrt((ey * ey).sum(axis=1))
    parallel = np.flatnonzero(size < 1e-6)
    if parallel.size:
        raise FrameError(f"Member {members[parallel[0]].id} has its up direction along itself; give an up to one side.")
    ey /= size[:, None]
    return np.stack([ex, ey, cross(ex, ey)], axis=1), ends, lengths


def _local_stiffness(members: Sequence[Member], length: Array) -> Array:
    """Timoshenko beam stiffness (m, 12, 12) in local axes."""
    inf = float("inf")
    props = np.array(
        [(m.E, m.G, m.area, m.Iy, m.Iz, m.J, m.Avy or inf, m.Avz or inf) for m in members], dtype=float
    ).T
    e, g, a, iy, iz, tor, avy, avz = props
    k = np.zeros((len(members), 12, 12))
    axial, twist = e * a / length, g * tor / length
    k[:, 0, 0] = k[:, 6, 6] = axial
    k[:, 0, 6] = k[:, 6, 0] = -axial
    k[:, 3, 3] = k[:, 9, 9] = twist
    k[:, 3, 9] = k[:, 9, 3] = -twist
    for inertia, av, v, r, s in ((iz, avy, 1, 5, 1.0), (iy, avz, 2, 4, -1.0)):
        phi = 12 * e * inertia / (g * av * length**2)
        c = e * inertia / (length**3 * (1 + phi))
        shear, mixed = 12 * c, 6 * c * length * s
        near, far = (4 + phi) * c * length**2, (2 - phi) * c * length**2
        k[:, v, v] = k[:, v + 6, v + 6] = shear
        k[:, v, v + 6] = k[:, v + 6, v] = -shear
        k[:, v, r] = k[:, r, v] = k[:, v, r + 6] = k[:, r + 6, v] = mixed
        k[:, v + 6, r] = k[:, r, v + 6] = k[:, v + 6, r + 6] = k[:, r + 6, v + 6] = -mixed
        k[:, r, r] = k[:, r + 6, r + 6] = near
        k[:, r, r + 6] = k[:, r + 6, r] = far
    return k


def _condense(k: Array, member: Member) -> tuple[Array, list[int]] | None:
    """Static condensation of one member's released degrees of freedom, in place; None if there are none.

    They are eliminated one after the other.  One that the others have already freed (torsion released at both ends)
    has no pivot left and carries no force.
    """
    free = [n for n, flag in enumerate((*member.release_i, *member.release_j)) if flag]
    if not free:
        return None
    whole = k.copy()
    for n in free:
        pivot = k[n, n]
        if pivot > 1e-9 * whole[n, n]:
            k -= np.multiply.outer(k[:, n], k[n, :] / pivot)
        k[n, :] = 0.0
        k[:, n] = 0.0
    return whole, free


def _assemble(frame: Frame) -> _Model:
    names = list(frame.nodes)
    index = {name: n for n, name in enumerate(names)}
    members = frame.members
    for m in members:
        for node in (m.i, m.j):
            if node not in index:
                raise FrameError(f"Member {m.id} ends at node {node}, which does not exist; add it or rename the end.")
    size = 6 * len(names)
    stiffness = np.zeros((size, size))
    if members:
        rotation, ends, lengths = _local_axes(frame, index)
        local = _local_stiffness(members, lengths)
        condensed = {n: done for n, m in enumerate(members) if (done := _condense(local[n], m)) is not None}
        # end displacement = node displacement + rotation × offset; then into local axes
        transform = np.zeros((len(members), 12, 12))
        for block in range(4):
            transform[:, 3 * block : 3 * block + 3, 3 * block : 3 * block + 3] = rotation
        off = np.array([(m.offset_i, m.offset_j) for m in members], dtype=float)
        if off.any():
            for end in (0, 1):
                x, y, z = off[:, end].T
                arm = np.zeros((len(members), 3, 3))
                arm[:, 0, 1], arm[:, 0, 2] = z, -y
                arm[:, 1, 0], arm[:, 1, 2] = -z, x
                arm[:, 2, 0], arm[:, 2, 1] = y, -x
                rows = slice(6 * end, 6 * end + 3)
                transform[:, rows, 6 * end + 3 : 6 * end + 6] = rotation @ arm
        globally = transform.transpose(0, 2, 1) @ local @ transform
        six = np.arange(6)
        starts = np.array([(6 * index[m.i], 6 * index[m.j]) for m in members])
        dofs = (starts[:, :, None] + six).reshape(len(members), 12)
        flat = (dofs[:, :, None] * size + dofs[:, None, :]).ravel()
        stiffness += np.bincount(flat, globally.ravel(), size * size).reshape(size, size)
    else:
        rotation, ends, lengths = np.zeros((0, 3, 3)), np.zeros((0, 2, 3)), np.zeros(0)
        local = transform = np.zeros((0, 12, 12))
        dofs, condensed = np.zeros((0, 12), dtype=np.intp), {}
    for node, spring in frame.springs.items():
        at = _known(index, node, "A spring") * 6
        stiffness[range(at, at + 6), range(at, at + 6)] += np.asarray(spring, dtype=float)
    return _Model(dofs, transform, local, rotation, ends, lengths, stiffness, condensed)


def _known(index: Mapping[str, int], node: str, what: str) -> int:
    if node not in index:
        raise FrameError(f"{what} is at node {node}, which does not exist; add it or rename the node.")
    return index[node]


def _mechanism(free: NDArray[np.intp], scaled: Array, names: Sequence[str]) -> FrameError:
    """Name the node and direction that moves most in the softest mode."""
    _, vectors = np.linalg.eigh(scaled)
    mode = np.abs(vectors[:, 0])
    # among directions that take part fully, prefer the first: a whole part that swings is named by its first node
    worst = int(free[int(np.argmax(mode > 0.98 * mode.max()))])
    node, direction = names[worst // 6], DIRECTIONS[worst % 6]
    return FrameError(f"The frame is a mechanism: node {node} is free to {direction}; hold it or join it to something.")


def stiffness_matrix(frame: Frame) -> tuple[Array, NDArray[np.intp]]:
    """The free part of the global stiffness matrix (n, n) and the degrees of freedom it keeps."""
    model = _assemble(frame)
    free = _free_dofs(frame)
    return model.stiffness[np.ix_(free, free)], free


def _free_dofs(frame: Frame) -> NDArray[np.intp]:
    index = {name: n for n, name in enumerate(frame.nodes)}
    held = np.zeros(6 * len(index), dtype=bool)
    for node, flags in frame.supports.items():
        at = _known(index, node, "A support") * 6
        held[at : at + 6] = [bool(flag) for flag in flags]
    return np.flatnonzero(~held)


def solve(frame: Frame, loads: Loads) -> FrameResult:
    """Displacements, reactions and member end forces for every case.

    Raises FrameError for a mechanism (naming a free node and direction), unknown nodes, members with no length or
    an ``up`` along the member.
    """
    model = _assemble(frame)
    names = list(frame.nodes)
    index = {name: n for n, name in enumerate(names)}
    size = 6 * len(names)
    force = np.zeros((size, len(loads)))
    for c, (case, by_node) in enumerate(loads.items()):
        for node, vector in by_node.items():
            at = _known(index, node, f"A load of case {case}") * 6
            force[at : at + 6, c] += vector
    free = _free_dofs(frame)
    u = np.zeros((size, len(loads)))
    if free.size:
        kff = model.stiffness[np.ix_(free, free)]
        diagonal = np.diag(kff)
        scale = 1 / np.sqrt(np.where(diagonal > 0, diagonal, 1.0))
        scaled = kff * scale[:, None] * scale[None, :]
        factor, info = lapack.dpotrf(scaled, lower=1, clean=0, overwrite_a=0)
        # rounding leaves a mechanism a tiny pivot; a small one is only a suspicion, which the softest mode settles
        if info != 0 or diagonal.min() <= 0 or (np.diag(factor).min() ** 2 < 1e-8 and np.linalg.eigvalsh(scaled)[0] < 1e-12):
            raise _mechanism(free, scaled, names)
        solution, _ = lapack.dpotrs(factor, scale[:, None] * force[free], lower=1)
        u[free] = scale[:, None] * solution
    if not np.isfinite(u).all():
        raise FrameError("The frame's numbers run out of range; check sizes and loads for a misplaced decimal point.")
    cases = len(loads)
    by_case = u.T
    local_u = np.einsum("mab,cmb->cma", model.transform, by_case[:, model.dofs])
    end_forces = np.einsum("mab,cmb->cma", model.local_stiffness, local_u)
    spring = np.zeros(size)
    for node, stiff in frame.springs.items():
        spring[6 * index[node] : 6 * index[node] + 6] = stiff
    members_only = model.stiffness - np.diag(spring)
    reactions = (members_only @ u - force).T.reshape(cases, -1, 6)
    return FrameResult(
        frame, tuple(loads), index, {m.id: n for n, m in enumerate(frame.members)},
        by_case.reshape(cases, -1, 6), reactions, end_forces, model.rotation, model.ends, model.lengths,
    )  # fmt: skip
