"""Which of the six motions the host holds a part against, and which motion of its loaded place is softest.

Read from stiffness: the joints to the host as springs under a rigid part say what is held at all; unit loads
on the frame say how far the loaded place gives.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from urial.assembly.model import HOST
from urial.loads.case import LoadPoint
from urial.strength import frame as frames
from urial.strength.analysis import Forces, frame_of

Array = NDArray[np.float64]
WAYS = ("fore and aft", "sideways", "up and down", "rolling", "nodding", "turning")
MOTIONS = ("surging fore and aft", "wagging sideways", "nodding up and down")
LENGTH = 300.0
"""Length that makes turns comparable to movements, mm."""


@dataclass(frozen=True)
class Restraint:
    """``held`` both ways and ``one_way`` (only while what pushes or pulls does), by motion; the softest
    motion of the loaded place: in words, its direction, N per mm, and each node's movement for 1 mm there
    (node, 6)."""

    held: tuple[bool, ...]
    one_way: tuple[bool, ...]
    softest: str
    direction: tuple[float, float, float]
    stiffness: float
    movement: Array

    @property
    def words(self) -> str:
        """Two sentences."""
        free = [w for w, h, o in zip(WAYS, self.held, self.one_way, strict=True) if not h and not o]
        half = [w for w, o in zip(WAYS, self.one_way, strict=True) if o]
        if free:
            first = f"Not held {', '.join(free)}."
        elif len(half) == 6:
            first = "Held in all six directions, only while it is pressed on or pulled tight."
        elif half:
            first = (
                f"Held in all six directions; {', '.join(half)} only while it is pressed on or pulled tight."
            )
        else:
            first = "Held in all six directions."
        kn = self.stiffness / 1000
        return (
            f"{first} Softest: {self.softest}, 1 mm at {kn:.0f} kN."
            if kn >= 10
            else f"{first} Softest: {self.softest}, 1 mm at {kn:.2g} kN."
        )


def restraint(forces: Forces, name: str, point: LoadPoint) -> Restraint:
    """Of a solved part, at one of its load points."""
    frame = frame_of(forces.assembly, forces.net)
    held, half = _held(forces, frame)
    node = forces.net.at_part[point.part][name]
    rigid = frames.Frame(
        frame.nodes,
        frame.members,
        frame.supports,
        frame.springs,
        tuple(_both_ways(link) for link in frame.links),
    )
    unit = {
        axis: {node: tuple(1000.0 if k == n else 0.0 for k in range(6))}
        for n, axis in enumerate(("x", "y", "z"))
    }
    result = frames.solve(rigid, unit)
    at = result.node_index[node]
    give = result.displacements[:, at, :3].T / 1000.0  # mm per N
    values, vectors = np.linalg.eigh((give + give.T) / 2)
    way = vectors[:, -1]
    way = way if way[np.argmax(np.abs(way))] > 0 else -way
    moved: Array = np.einsum("c,cnk->nk", way, result.displacements) / 1000.0 / float(values[-1])
    return Restraint(
        held,
        half,
        MOTIONS[int(np.argmax(np.abs(way)))],
        (float(way[0]), float(way[1]), float(way[2])),
        1.0 / float(values[-1]),
        moved,
    )


def _both_ways(link: frames.Link) -> frames.Link:
    return replace(link, one_way=None)


def _held(forces: Forces, frame: frames.Frame) -> tuple[tuple[bool, ...], tuple[bool, ...]]:
    """Which motions of a rigid part its joints to the host resist, by those that carry both ways and by
    those that do not.
    """
    joints = forces.assembly.joint_by_key
    middle = np.array(list(frame.nodes.values())).mean(axis=0)
    both, all_ = np.zeros((6, 6)), np.zeros((6, 6))
    for link in frame.links:
        if joints[link.id].b != HOST and joints[link.id].a != HOST:
            continue
        rows = np.array(link.axes)  # rows: the link's axes
        arm = np.array(link.at) - middle
        skew = np.array([[0, -arm[2], arm[1]], [arm[2], 0, -arm[0]], [-arm[1], arm[0], 0]]) / LENGTH
        move = np.block(
            [[rows, -rows @ skew], [np.zeros((3, 3)), rows / LENGTH]]
        )  # (dx, LENGTH·turn) → the link's own six
        k = move.T @ np.diag(link.stiffness) @ move
        all_ += k
        if link.one_way is None:
            both += k
    return _resists(both, all_), _only(both, all_)


def _resists(both: Array, scale: Array) -> tuple[bool, ...]:
    values, vectors = np.linalg.eigh(both)
    loose = vectors[:, values < 1e-7 * max(float(np.linalg.eigvalsh(scale)[-1]), 1e-30)]
    return tuple(bool(not loose.size or np.abs(loose[n]).max() < 0.35) for n in range(6))


def _only(both: Array, every: Array) -> tuple[bool, ...]:
    firm, held = _resists(both, every), _resists(every, every)
    return tuple(h and not f for f, h in zip(firm, held, strict=True))
