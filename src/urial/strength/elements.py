"""Stiffness of the frame's elements: Timoshenko members and six-way links, and the global matrix made of
them.

Matrices are formed for all members together as (m, 12, 12) arrays. Source of the member: Przemieniecki,
*Theory of Matrix Structural Analysis*, §5.6 (shear parameter Φ = 12EI/GA_vL²).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from scipy import sparse

from urial.strength.vectors import cross

if TYPE_CHECKING:
    from urial.strength.frame import Frame, Link, Member

Array = NDArray[np.float64]
DENSE = 420
"""Unknowns up to which the matrix is kept full: below, a full factorisation is the quicker one."""


class FrameError(ValueError):
    """The model cannot be solved; the message names the member or node and says why."""


@dataclass(frozen=True)
class Elements:
    """Members and links as arrays: their unknowns, transforms into local axes, local stiffness."""

    names: tuple[str, ...]
    index: dict[str, int]
    dofs: NDArray[np.intp]  # (m, 12)
    transform: Array  # (m, 12, 12): global node displacements to local end displacements
    local: Array  # (m, 12, 12), releases condensed
    rotation: Array  # (m, 3, 3)
    ends: Array  # (m, 2, 3)
    lengths: Array
    condensed: dict[
        int, tuple[Array, list[int]]
    ]  # members with releases: their whole stiffness, the freed ends
    link_dofs: NDArray[
        np.intp
    ]  # (l, 12); a link to the ground has its j at the node itself, with no part in it
    link_stretch: Array  # (l, 6, 12): node displacements to the link's own stretch
    link_stiffness: Array  # (l, 6)

    @property
    def size(self) -> int:
        """Unknowns, held ones included."""
        return 6 * len(self.names)

    @cached_property
    def member_blocks(self) -> tuple[NDArray[np.intp], NDArray[np.intp], Array]:
        """Rows, columns and values of the members' part of the global matrix."""
        blocks = self.transform.transpose(0, 2, 1) @ self.local @ self.transform
        return _triplets(self.dofs, blocks)

    def link_blocks(self, share: Array) -> tuple[NDArray[np.intp], NDArray[np.intp], Array]:
        """The same of the links, their springs multiplied by ``share`` (link, 6): 1 carries, next to 0 has
        let go.
        """
        stiff = self.link_stiffness * share
        blocks = self.link_stretch.transpose(0, 2, 1) @ (stiff[:, :, None] * self.link_stretch)
        return _triplets(self.link_dofs, blocks)


def _triplets(dofs: NDArray[np.intp], blocks: Array) -> tuple[NDArray[np.intp], NDArray[np.intp], Array]:
    rows = np.repeat(dofs, 12, axis=1).ravel()
    columns = np.tile(dofs, (1, 12)).ravel()
    return rows, columns, blocks.ravel()


def global_matrix(frame: Frame, elements: Elements, share: Array) -> Array | sparse.csc_matrix:
    """The stiffness matrix, full when it is small and sparse when it is not."""
    parts: list[tuple[NDArray[np.intp], NDArray[np.intp], Array]] = [
        elements.member_blocks,
        elements.link_blocks(share),
    ]
    springs = [
        (6 * known(elements.index, node, "A spring"), spring) for node, spring in frame.springs.items()
    ]
    if springs:
        at = np.concatenate([np.arange(start, start + 6) for start, _ in springs]).astype(np.intp)
        stiff: Array = np.concatenate([np.asarray(s, dtype=float) for _, s in springs])
        parts.append((at, at, stiff))
    rows = np.concatenate([p[0] for p in parts])
    columns = np.concatenate([p[1] for p in parts])
    values = np.concatenate([p[2] for p in parts])
    n = elements.size
    if n <= DENSE:
        summed: Array = np.asarray(np.bincount(rows * n + columns, values, n * n), dtype=np.float64)
        out: Array = summed.reshape(n, n)
        return out
    return sparse.coo_matrix((values, (rows, columns)), shape=(n, n)).tocsc()


def known(index: Mapping[str, int], node: str, what: str) -> int:
    """A node's number.  FrameError when it does not exist."""
    if node not in index:
        raise FrameError(f"{what} is at node {node}, which does not exist; add it or rename the node.")
    return index[node]


def elements_of(frame: Frame) -> Elements:
    """A frame's members and links as arrays.  FrameError names what is wrong with one of them."""
    names = tuple(frame.nodes)
    index = {name: n for n, name in enumerate(names)}
    members = frame.members
    for m in members:
        for node in (m.i, m.j):
            if node not in index:
                raise FrameError(
                    f"Member {m.id} ends at node {node}, which does not exist; add it or rename the end."
                )
    six = np.arange(6)
    if members:
        rotation, ends, lengths = _local_axes(frame, index)
        local = local_stiffness(members, lengths)
        condensed = {n: done for n, m in enumerate(members) if (done := _condense(local[n], m)) is not None}
        # end displacement = node displacement + rotation × offset; then into local axes
        transform = np.zeros((len(members), 12, 12))
        for block in range(4):
            transform[:, 3 * block : 3 * block + 3, 3 * block : 3 * block + 3] = rotation
        off = np.array([(m.offset_i, m.offset_j) for m in members], dtype=float)
        if off.any():
            for end in (0, 1):
                rows = slice(6 * end, 6 * end + 3)
                transform[:, rows, 6 * end + 3 : 6 * end + 6] = rotation @ _lever(off[:, end])
        starts = np.array([(6 * index[m.i], 6 * index[m.j]) for m in members])
        dofs = (starts[:, :, None] + six).reshape(len(members), 12)
    else:
        rotation, ends, lengths = np.zeros((0, 3, 3)), np.zeros((0, 2, 3)), np.zeros(0)
        local = transform = np.zeros((0, 12, 12))
        dofs, condensed = np.zeros((0, 12), dtype=np.intp), {}
    link_dofs, stretch, stiff = _links(frame.links, frame, index)
    return Elements(
        names, index, dofs, transform, local, rotation, ends, lengths, condensed, link_dofs, stretch, stiff
    )


def _lever(arm: Array) -> Array:
    """Matrices (n, 3, 3) that turn a rotation into the movement of a point ``arm`` away: θ × arm."""
    x, y, z = arm.T
    out = np.zeros((len(arm), 3, 3))
    out[:, 0, 1], out[:, 0, 2] = z, -y
    out[:, 1, 0], out[:, 1, 2] = -z, x
    out[:, 2, 0], out[:, 2, 1] = y, -x
    return out


def _links(
    links: Sequence[Link], frame: Frame, index: Mapping[str, int]
) -> tuple[NDArray[np.intp], Array, Array]:
    if not links:
        return np.zeros((0, 12), dtype=np.intp), np.zeros((0, 6, 12)), np.zeros((0, 6))
    rotation = np.array([link.axes for link in links], dtype=float)
    at = np.array([link.at for link in links], dtype=float)
    first = np.array([known(index, link.i, f"Link {link.id}") for link in links])
    second = np.array(
        [known(index, link.j, f"Link {link.id}") if link.j else first[n] for n, link in enumerate(links)]
    )
    xyz = np.array(list(frame.nodes.values()), dtype=float).reshape(-1, 3)
    stretch = np.zeros((len(links), 6, 12))
    for end, nodes, sign in ((0, first, -1.0), (1, second, 1.0)):
        grounded = np.array([end == 1 and link.j is None for link in links])
        way = np.where(grounded, 0.0, sign)[:, None, None]
        at6 = 6 * end
        stretch[:, 0:3, at6 : at6 + 3] = way * rotation
        stretch[:, 0:3, at6 + 3 : at6 + 6] = way * (rotation @ _lever(at - xyz[nodes]))
        stretch[:, 3:6, at6 + 3 : at6 + 6] = way * rotation
    starts = np.stack([6 * first, 6 * second], axis=1)
    dofs = (starts[:, :, None] + np.arange(6)).reshape(len(links), 12)
    return dofs, stretch, np.array([link.stiffness for link in links], dtype=float)


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
        raise FrameError(
            f"Member {members[int(np.argmin(up_size))].id} has no up direction; give one that is not zero."
        )
    up = up / up_size[:, None]
    ey = cross(up, ex)
    size = np.sqrt((ey * ey).sum(axis=1))
    parallel = np.flatnonzero(size < 1e-6)
    if parallel.size:
        raise FrameError(
            f"Member {members[parallel[0]].id} has its up direction along itself; give an up to one side."
        )
    ey /= size[:, None]
    return np.stack([ex, ey, cross(ex, ey)], axis=1), ends, lengths


def local_stiffness(members: Sequence[Member], length: Array) -> Array:
    """Timoshenko beam stiffness (m, 12, 12) in the section's axes."""
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
    for inertia, av, v, rot, s in ((iz, avy, 1, 5, 1.0), (iy, avz, 2, 4, -1.0)):
        phi = 12 * e * inertia / (g * av * length**2)
        c = e * inertia / (length**3 * (1 + phi))
        shear, mixed = 12 * c, 6 * c * length * s
        near, far = (4 + phi) * c * length**2, (2 - phi) * c * length**2
        k[:, v, v] = k[:, v + 6, v + 6] = shear
        k[:, v, v + 6] = k[:, v + 6, v] = -shear
        k[:, v, rot] = k[:, rot, v] = k[:, v, rot + 6] = k[:, rot + 6, v] = mixed
        k[:, v + 6, rot] = k[:, rot, v + 6] = k[:, v + 6, rot + 6] = k[:, rot + 6, v + 6] = -mixed
        k[:, rot, rot] = k[:, rot + 6, rot + 6] = near
        k[:, rot, rot + 6] = k[:, rot + 6, rot] = far
    for n, m in enumerate(members):
        if m.Iyz:
            k[n] = _skew_stiffness(m, float(length[n]))
    return k


def _skew_stiffness(m: Member, length: float) -> Array:
    """The same of a section whose axes are not principal, (12, 12): bending both ways is coupled, shear is
    not.

    From what the end j gives when i is held: x″ = S·(Mz, −My) with S the inverse of E·[[Iz, Iyz], [Iyz, Iy]],
    v and w along y and z; then both ends from equilibrium.
    """
    s = np.linalg.inv(m.E * np.array([[m.Iz, m.Iyz], [m.Iyz, m.Iy]]))
    turned = np.array([[0.0, 1.0], [-1.0, 0.0]])  # of (My, Mz): (Mz, −My); of slopes (v′, w′): (θy, θz)
    gives = np.zeros((6, 6))  # movements u v w θx θy θz of j by forces there
    gives[0, 0], gives[3, 3] = length / (m.E * m.area), length / (m.G * m.J)
    shear = np.diag([length / (m.G * av) if av else 0.0 for av in (m.Avy, m.Avz)])
    gives[1:3, 1:3] = length**3 / 3 * s + shear
    gives[1:3, 4:6] = length**2 / 2 * s @ turned
    gives[4:6, 1:3] = gives[1:3, 4:6].T
    gives[4:6, 4:6] = length * turned.T @ s @ turned
    far = np.linalg.inv(gives)
    carried = np.eye(6)  # forces at i that hold those at j, with the sign turned
    carried[4, 2], carried[5, 1] = -length, length
    out = np.zeros((12, 12))
    out[6:, 6:] = far
    out[:6, 6:] = -carried @ far
    out[6:, :6] = out[:6, 6:].T
    out[:6, :6] = carried @ far @ carried.T
    return out


def _condense(k: Array, member: Member) -> tuple[Array, list[int]] | None:
    """Static condensation of one member's released degrees of freedom, in place; None if there are none.

    They are eliminated one after the other. One that the others have already freed (torsion released at both
    ends) has no pivot left and carries no force.
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
