"""Three-dimensional frames of Timoshenko beams and six-way links, solved for all load cases at once.

Each member has two nodes, twelve degrees of freedom, and may have rigid offsets at its ends (global axes),
end releases (local axes), shear flexibility and a section without symmetry. A link joins two nodes, or a
node and the ground, at a place of its own by six springs in its own axes; a one-way link carries only push
or only pull and lets go of everything when it would have to do the other. Axes and units as everywhere: mm,
N, N·mm, MPa; member x from i to j, z as near to ``up`` as it can be, y = z × x.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy import sparse
from scipy.linalg import lapack

from urial.strength.elements import Elements, FrameError, elements_of, global_matrix, known
from urial.strength.vectors import cross

Array = NDArray[np.float64]
Vec = tuple[float, float, float]
DIRECTIONS = ("move along x", "move along y", "move along z", "turn about x", "turn about y", "turn about z")
LET_GO = 1e-7
"""Share of its stiffness that a link keeps where it has let go, so that what hangs loose stays near."""

__all__ = [
    "DIRECTIONS",
    "Frame",
    "FrameError",
    "FrameResult",
    "Link",
    "Loads",
    "Member",
    "solve",
    "stiffness_matrix",
]


@dataclass(frozen=True)
class Member:
    """A beam from node ``i`` to node ``j``.

    Area and shear areas mm² (``Avy``/``Avz`` None: no shear deformation), Iy, Iz, Iyz, J mm⁴, E, G MPa.
    ``release_i`` and ``release_j`` hold six flags (Fx Fy Fz Mx My Mz, local), 1 = free. Offsets are rigid
    and global, mm.
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
    up: Vec = (0.0, 0.0, 1.0)
    Avy: float | None = None
    Avz: float | None = None
    release_i: tuple[int, ...] = (0, 0, 0, 0, 0, 0)
    release_j: tuple[int, ...] = (0, 0, 0, 0, 0, 0)
    offset_i: Vec = (0.0, 0.0, 0.0)
    offset_j: Vec = (0.0, 0.0, 0.0)
    Iyz: float = 0.0


@dataclass(frozen=True)
class Link:
    """Springs between nodes ``i`` and ``j`` (None: the ground) at a place: N/mm ×3 and N·mm/rad ×3 along and
    about its axes.

    ``axes`` are rows. The stretch is j's movement less i's, both carried rigidly to ``at``. ``one_way``
    names a component (0–5) and the sign of stretch in which the link carries: (2, −1) carries only push
    along z.  ``drawn``, N, is what one that carries one way is drawn up to before any load, which is among
    the loads: it lets go when it has lost all of that, and what it was drawn up to goes with it.
    """

    id: str
    i: str
    j: str | None
    at: Vec
    stiffness: tuple[float, ...]
    axes: tuple[Vec, Vec, Vec] = ((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
    one_way: tuple[int, int] | None = None
    drawn: float = 0.0


@dataclass(frozen=True)
class Frame:
    """Nodes (name → x, y, z in mm), members, links, supports (six flags, 1 = held) and springs (N/mm,
    N·mm/rad).
    """

    nodes: Mapping[str, Vec]
    members: Sequence[Member]
    supports: Mapping[str, Sequence[int]] = field(default_factory=dict)
    springs: Mapping[str, Sequence[float]] = field(default_factory=dict)
    links: Sequence[Link] = ()

    @cached_property
    def elements(self) -> Elements:
        """Members and links as arrays, made once.  FrameError names what is wrong with one of them."""
        return elements_of(self)


Loads = Mapping[str, Mapping[str, Sequence[float]]]
"""Case name → node → [Fx, Fy, Fz, Mx, My, Mz] in N and N·mm, global axes."""


@dataclass(frozen=True)
class FrameResult:
    """Displacements (case, node, 6), reactions (case, node, 6), local member end forces (case, member, 12),
    and what each link passes on to its node i (case, link, 6) in its own axes at its place, with whether it
    carries (case, link)."""

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
    link_index: dict[str, int]
    link_forces: Array
    carries: NDArray[np.bool_]

    @cached_property
    def end_displacements(self) -> Array:
        """Local displacement of each member's ends (case, member, 12), after releases."""
        model = self.frame.elements
        u = self.displacements.reshape(len(self.cases), -1)
        d = np.einsum("mab,cmb->cma", model.transform, u[:, model.dofs])
        out: Array = d.copy()
        for m, (whole, free) in model.condensed.items():
            kept = [n for n in range(12) if n not in free]
            back = (
                np.linalg.pinv(whole[np.ix_(free, free)], rcond=1e-10, hermitian=True)
                @ whole[np.ix_(free, kept)]
            )
            out[:, m, free] = -d[:, m, kept] @ back.T
        return out


Solve = Callable[[Array], Array]


def _factorised(matrix: Array | sparse.csc_matrix, free: NDArray[np.intp], names: Sequence[str]) -> Solve:
    """A function that solves the free part of the matrix for many right-hand sides.  FrameError for a
    mechanism.
    """
    if sparse.issparse(matrix):
        return _factorised_sparse(matrix[free][:, free].tocsc(), free, names)
    kff = matrix[np.ix_(free, free)]
    diagonal = np.diag(kff)
    scale = 1 / np.sqrt(np.where(diagonal > 0, diagonal, 1.0))
    scaled = kff * scale[:, None] * scale[None, :]
    factor, info = lapack.dpotrf(scaled, lower=1, clean=0, overwrite_a=0)
    # rounding leaves a mechanism a tiny pivot; a small one is only a suspicion, which the softest mode
    # settles
    if (
        info != 0
        or diagonal.min() <= 0
        or (np.diag(factor).min() ** 2 < 1e-9 and np.linalg.eigvalsh(scaled)[0] < 1e-13)
    ):
        _, vectors = np.linalg.eigh(scaled)
        raise _mechanism(free, np.abs(vectors[:, 0]), names)

    def solved(force: Array) -> Array:
        out, _ = lapack.dpotrs(factor, scale[:, None] * force, lower=1)
        result: Array = scale[:, None] * out
        return result

    return solved


def _factorised_sparse(kff: sparse.csc_matrix, free: NDArray[np.intp], names: Sequence[str]) -> Solve:
    from scipy.sparse.linalg import SuperLU, splu

    diagonal = kff.diagonal()
    scale = 1 / np.sqrt(np.where(diagonal > 0, diagonal, 1.0))
    spread = sparse.diags(scale)
    scaled = (spread @ kff @ spread).tocsc()

    def factorise(k: sparse.csc_matrix) -> SuperLU:
        return splu(k, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options={"SymmetricMode": True})

    try:
        factor = factorise(scaled)
        pivots = np.abs(factor.U.diagonal())
    except RuntimeError:  # exactly singular
        pivots = np.zeros(1)
    if diagonal.min() <= 0 or pivots.min() < 1e-9:
        # the softest mode, by inverse iteration on a matrix a hair stiffer
        soft = factorise((scaled + 1e-11 * sparse.identity(scaled.shape[0])).tocsc())
        mode = np.random.default_rng(0).normal(size=scaled.shape[0])
        for _ in range(12):
            mode = soft.solve(mode / np.linalg.norm(mode))
        mode /= np.linalg.norm(mode)
        if diagonal.min() <= 0 or mode @ (scaled @ mode) < 1e-13:
            raise _mechanism(free, np.abs(mode), names)

    def solved(force: Array) -> Array:
        result: Array = scale[:, None] * factor.solve(np.ascontiguousarray(scale[:, None] * force))
        return result

    return solved


def _mechanism(free: NDArray[np.intp], motion: Array, names: Sequence[str]) -> FrameError:
    """Name the node and direction that moves most in the softest mode."""
    # among directions that take part fully, prefer the first: a whole part that swings is named by its first
    # node
    worst = int(free[int(np.argmax(motion > 0.98 * motion.max()))])
    node, direction = names[worst // 6], DIRECTIONS[worst % 6]
    return FrameError(
        f"The frame is a mechanism: node {node} is free to {direction}; hold it or join it to something."
    )


def stiffness_matrix(frame: Frame) -> tuple[Array, NDArray[np.intp]]:
    """The free part of the global stiffness matrix (n, n), full, and the degrees of freedom it keeps."""
    model = frame.elements
    free = _free_dofs(frame, model)
    whole = global_matrix(frame, model, np.ones((len(frame.links), 6)))
    full = whole.toarray() if sparse.issparse(whole) else whole
    return full[np.ix_(free, free)], free


def _free_dofs(frame: Frame, model: Elements) -> NDArray[np.intp]:
    held = np.zeros(model.size, dtype=bool)
    for node, flags in frame.supports.items():
        at = known(model.index, node, "A support") * 6
        held[at : at + 6] = [bool(flag) for flag in flags]
    return np.flatnonzero(~held)


def solve(frame: Frame, loads: Loads) -> FrameResult:
    """Displacements, reactions, member end forces and link forces for every case.

    Raises FrameError for a mechanism (naming a free node and direction), unknown nodes, members with no
    length or an ``up`` along the member, and for a load that nothing holds once the one-way links have let
    go (naming both).
    """
    model = frame.elements
    force = np.zeros((model.size, len(loads)))
    for c, (case, by_node) in enumerate(loads.items()):
        for node, vector in by_node.items():
            at = known(model.index, node, f"A load of case {case}") * 6
            force[at : at + 6, c] += vector
    free = _free_dofs(frame, model)
    u, carries, again = _by_states(frame, model, free, force, tuple(loads))
    for n, link in enumerate(frame.links):
        if link.drawn and link.one_way:
            force[:, ~carries[:, n]] += _pulling(model, n, link)[:, None]
    if not np.isfinite(u).all():
        raise FrameError(
            "The frame's numbers run out of range; check sizes and loads for a misplaced decimal point."
        )
    return _balanced(frame, model, tuple(loads), force, (u, carries, free), again)


def _pulling(model: Elements, n: int, link: Link) -> Array:
    """What a link that is drawn up puts on its two nodes, as what the frame holds (unknown,)."""
    part, sign = link.one_way or (0, 1)
    out = np.zeros(model.size)
    np.add.at(out, model.link_dofs[n], sign * link.drawn * model.link_stretch[n, part])
    return out


UNBALANCED = 1e-7
"""Of the largest force, what may be left over at a node before displacements are refined."""


def _balanced(
    frame: Frame,
    model: Elements,
    cases: tuple[str, ...],
    force: Array,
    found: tuple[Array, NDArray[np.bool_], NDArray[np.intp]],
    again: Solve,
) -> FrameResult:
    """The result with every free node in balance: what rounding left over is solved for and added, three
    times at most (iterative refinement, Wilkinson).

    A stubby stiff member beside soft springs makes the matrix's condition as large as their ratio.  What is
    left over is summed element by element, where a member's two ends cancel exactly, whatever its stiffness.
    """
    u, carries, free = found
    result = _result(frame, model, cases, force, u, carries)
    largest = np.abs(force).max(initial=0.0)
    springs = np.zeros(model.size)  # which hold a free node with a reaction of their own
    for node, stiff in frame.springs.items():
        springs[6 * model.index[node] : 6 * model.index[node] + 6] += stiff
    for _ in range(3):
        left = (-result.reactions.reshape(len(cases), -1).T - springs[:, None] * u)[free]
        if np.abs(left).max(initial=0.0) <= UNBALANCED * largest:
            break
        u[free] += again(left)
        result = _result(frame, model, cases, force, u, carries)
    return result


def _by_states(
    frame: Frame, model: Elements, free: NDArray[np.intp], force: Array, cases: tuple[str, ...]
) -> tuple[Array, NDArray[np.bool_], Solve]:
    """Displacements (unknown, case), which links carry (case, link), each case in the state of its one-way
    links; and what solves for further forces (unknown free, case) in those states.

    Active set: every case starts with all links carrying; those that would have to do the other let go,
    those that close again carry. If a case has not settled after a while only its worst link changes at a
    time, which ends since the energy falls with every change. The matrix is factorised once, with all links
    carrying; what a link's letting go changes follows from the stretches it causes
    (Sherman–Morrison–Woodbury), a system as small as the links are few.
    """
    links = frame.links
    carries = np.ones((len(cases), len(links)), dtype=bool)
    u = np.zeros((model.size, len(cases)))
    if not free.size:
        return u, carries, lambda more: more
    solved = _factorised(global_matrix(frame, model, np.ones((len(links), 6))), free, model.names)
    u[free] = solved(force[free])
    one_way = np.array([n for n, link in enumerate(links) if link.one_way], dtype=np.intp)
    if not one_way.size:
        return u, carries, solved
    found = _one_way(links, model, one_way, free, solved)
    stretch = found.column.T @ u[free]  # (one-way link, case), all carrying
    waiting = np.arange(len(cases))
    for turn in range(40 + 4 * len(one_way)):
        now = np.stack([found.stretched(stretch[:, c], ~carries[c, one_way]) for c in waiting]) + found.drawn
        waiting = _changed(
            now,
            found.sign,
            model.link_stiffness[one_way, found.part],
            one_way,
            carries,
            waiting,
            gently=turn > 12,
        )
        if not waiting.size:
            break
    else:
        raise FrameError(
            f"The joints that carry only one way do not settle in case {cases[int(waiting[0])]}; give "
            "one of them a second direction."
        )
    states = _settled(frame, model, (free, one_way), carries, found)

    def again(more: Array) -> Array:
        out = solved(more)
        for numbers, settle in states:
            out[:, numbers] = settle(out[:, numbers], more[:, numbers], False)
        return out

    for numbers, settle in states:
        here = np.ix_(free, numbers)
        u[here] = settle(u[here], force[here], True)
    _refuse_unheld(links, model, one_way, u, carries, force, cases)
    return u, carries, again


SMALL = 1e5
"""Condition of the small system beyond which a state's own matrix is factorised: little then holds the
part.
"""


@dataclass(frozen=True)
class _OneWay:
    """One-way links of a frame: the component each carries in and its sign; the stretch of each by the free
    displacements (unknown, link), the displacements by a unit pull of each (unknown, link), the stretch of
    each by each (link, link), the stiffness that goes when it lets go, and the stretch that what it is drawn
    up to stands for."""

    part: NDArray[np.intp]
    sign: Array
    column: Array
    moved: Array
    mutual: Array
    lost: Array
    drawn: Array

    def relief(self, stretch: Array, gone: NDArray[np.bool_]) -> Array:
        """What the links that let go cease to carry (link gone,)."""
        small = np.diag(1 / self.lost[gone]) - self.mutual[np.ix_(gone, gone)]
        had = stretch[gone] + self.drawn[gone]
        out: Array = np.asarray(np.linalg.lstsq(small, had, rcond=None)[0], dtype=np.float64)
        return out

    def stretched(self, stretch: Array, gone: NDArray[np.bool_]) -> Array:
        """Every one-way link's stretch when some have let go (link,)."""
        if not gone.any():
            return stretch
        out: Array = stretch + self.mutual[:, gone] @ self.relief(stretch, gone)
        return out


def _one_way(
    links: Sequence[Link], model: Elements, one_way: NDArray[np.intp], free: NDArray[np.intp], solved: Solve
) -> _OneWay:
    ways = [links[n].one_way or (0, 1) for n in one_way]
    part = np.array([w[0] for w in ways], dtype=np.intp)
    whole = np.zeros((model.size, len(one_way)))
    for c, (n, k) in enumerate(zip(one_way, part, strict=True)):
        np.add.at(whole[:, c], model.link_dofs[n], model.link_stretch[n, k])
    column = whole[free]
    moved = solved(column)
    return _OneWay(
        part,
        np.array([float(w[1]) for w in ways]),
        column,
        moved,
        column.T @ moved,
        model.link_stiffness[one_way, part] * (1 - LET_GO),
        np.array([w[1] * links[n].drawn for n, w in zip(one_way, ways, strict=True)])
        / model.link_stiffness[one_way, part],
    )


Settle = Callable[[Array, Array, bool], Array]
"""Displacements with all links carrying, and the forces that caused them, to displacements in a state; with
what links are drawn up to among them, or without.
"""


def _settled(
    frame: Frame,
    model: Elements,
    which: tuple[NDArray[np.intp], NDArray[np.intp]],
    carries: NDArray[np.bool_],
    found: _OneWay,
) -> list[tuple[NDArray[np.intp], Settle]]:
    """The states in which some link has let go: their cases, and what makes their displacements."""
    free, one_way = which
    states: dict[bytes, list[int]] = {}
    for c in range(len(carries)):
        states.setdefault(carries[c].tobytes(), []).append(c)
    out: list[tuple[NDArray[np.intp], Settle]] = []
    for numbers in states.values():
        gone = ~carries[numbers[0], one_way]
        if not gone.any():
            continue
        small = np.diag(1 / found.lost[gone]) - found.mutual[np.ix_(gone, gone)]
        if np.linalg.cond(small * found.lost[gone][:, None]) < SMALL:
            moved, column, drawn = found.moved[:, gone], found.column[:, gone], found.drawn[gone]

            def settle(
                u: Array,
                _: Array,
                with_drawn: bool,
                by: tuple[Array, Array, Array, Array] = (moved, small, column, drawn),
            ) -> Array:
                moved, small, column, drawn = by
                had = column.T @ u + (drawn[:, None] if with_drawn else 0.0)
                result: Array = u + moved @ np.linalg.solve(small, had)
                return result
        else:
            own = _factorised(
                global_matrix(frame, model, _shares(frame.links, carries[numbers[0]])), free, model.names
            )

            let_go = sum(
                (_pulling(model, int(n), frame.links[n]) for n in one_way[gone] if frame.links[n].drawn),
                np.zeros(model.size),
            )[free]

            def settle(  # type: ignore[misc]
                _: Array, force: Array, with_drawn: bool, own: Solve = own, let_go: Array = let_go
            ) -> Array:
                return own(force + let_go[:, None] if with_drawn else force)

        out.append((np.array(numbers, dtype=np.intp), settle))
    return out


def _shares(links: Sequence[Link], carries: NDArray[np.bool_]) -> Array:
    """How much of each link's six springs there is (link, 6): all, or of a link that has let go all but what
    it carries one way.

    What holds sideways stays: a state then never costs energy to enter, so that stepping from state to state
    ends."""
    out = np.ones((len(links), 6))
    for n, link in enumerate(links):
        if link.one_way and not carries[n]:
            out[n, link.one_way[0]] = LET_GO
    return out


def _stretch(model: Elements, u: Array, which: NDArray[np.intp]) -> Array:
    """Stretch (case, link, 6) of some links, in their axes."""
    out: Array = np.einsum("lab,lbc->cla", model.link_stretch[which], u[model.link_dofs[which]])
    return out


def _changed(
    stretch: Array,
    sign: Array,
    stiffness: Array,
    one_way: NDArray[np.intp],
    carries: NDArray[np.bool_],
    waiting: NDArray[np.intp],
    gently: bool,
) -> NDArray[np.intp]:
    """Opens and closes one-way links in place by their stretch (case waiting, link); the cases in which
    one changed.
    """
    off = stretch * sign
    tiny = 1e-12 * np.abs(stretch).max(axis=1, initial=0.0)[:, None]
    now = carries[np.ix_(waiting, one_way)]
    wrong = np.where(now, off < -tiny, off > tiny)
    if gently and wrong.any():
        size = np.where(wrong, np.abs(off) * stiffness, -1.0)
        only = np.zeros_like(wrong)
        only[np.arange(len(waiting)), size.argmax(axis=1)] = wrong.any(axis=1)
        wrong = only
    carries[np.ix_(waiting, one_way)] = now ^ wrong
    changed: NDArray[np.intp] = waiting[wrong.any(axis=1)]
    return changed


def _refuse_unheld(
    links: Sequence[Link],
    model: Elements,
    one_way: NDArray[np.intp],
    u: Array,
    carries: NDArray[np.bool_],
    force: Array,
    cases: tuple[str, ...],
) -> None:
    stretch = _stretch(model, u, one_way)
    part = np.array([(links[n].one_way or (0, 1))[0] for n in one_way])
    each = np.arange(len(one_way))
    stray = (
        np.abs(stretch[:, each, part] * model.link_stiffness[one_way, part] * LET_GO) * ~carries[:, one_way]
    )
    loose = stray > 1e-3 * np.abs(force).max(axis=0)[:, None]
    if loose.any():
        c, n = (int(v) for v in np.argwhere(loose)[0])
        raise FrameError(
            f"In case {cases[c]} nothing holds the load: {links[int(one_way[n])].id} carries only one "
            "way and lets go; hold the part against it."
        )


def _result(
    frame: Frame, model: Elements, cases: tuple[str, ...], force: Array, u: Array, carries: NDArray[np.bool_]
) -> FrameResult:
    """Forces from displacements; reactions from the equilibrium of every node."""
    by_case = u.T
    local_u = np.einsum("mab,cmb->cma", model.transform, by_case[:, model.dofs])
    end_forces = np.einsum("mab,cmb->cma", model.local, local_u)
    every = np.arange(len(frame.links))
    shares = np.stack([_shares(frame.links, row) for row in carries])
    held = _stretch(model, u, every) * model.link_stiffness * shares
    link_forces = np.where(shares < 1.0, 0.0, held)  # a trace is kept, which is nobody's force
    balance = -force.T.copy()
    flat = np.einsum("mba,cmb->cma", model.transform, end_forces)
    for c in range(len(cases)):
        balance[c] += np.bincount(model.dofs.ravel(), flat[c].ravel(), model.size)
    if len(frame.links):
        pushed = np.einsum("lba,clb->cla", model.link_stretch, held)
        for c in range(len(cases)):
            balance[c] += np.bincount(model.link_dofs.ravel(), pushed[c].ravel(), model.size)
    return FrameResult(
        frame,
        cases,
        model.index,
        {m.id: n for n, m in enumerate(frame.members)},
        by_case.reshape(len(cases), -1, 6),
        balance.reshape(len(cases), -1, 6),
        end_forces,
        model.rotation,
        model.ends,
        model.lengths,
        {link.id: n for n, link in enumerate(frame.links)},
        link_forces,
        carries,
    )


def link_forces_at(result: FrameResult, link: str, point: Vec) -> tuple[Array, Array]:
    """What a link passes on to its node i: force and moment (case, 3) about a point, global axes."""
    n = result.link_index[link]
    value = result.frame.links[n]
    rows = np.array(value.axes)
    own = result.link_forces[:, n]
    force, moment = own[:, :3] @ rows, own[:, 3:] @ rows
    return force, moment + cross(np.array(value.at) - np.array(point), force)
