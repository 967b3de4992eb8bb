"""The places of a weldment that a tape hooks on before it is welded: the corners of its frame, and the
middles of the sockets it holds; between which of them a bar lies that was cut to length.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from types import MappingProxyType

import numpy as np

from urial.assembly import bodies
from urial.assembly.model import Assembly
from urial.geometry.place import Vec
from urial.making.fitup import Height, Read, Tape
from urial.making.setout import Laid, Lie, lie, rails

NAMES = ("front left", "front right", "rear left", "rear right")
HOLD = (NAMES[0], NAMES[1], NAMES[2])
"""What stays: the front left corner, the front edge's line, and the plane of three corners."""
SOCKETS = MappingProxyType({"receiver": "receiver mouth", "ball": "ball", "coupler": "coupler"})
NEAR = 30.0
"""Corners nearer to each other cannot be taped, mm."""


@dataclass(frozen=True)
class Corners:
    """``points``: by name, from the front, from the left and from the bottom (mm), the four corners first;
    ``members``: pairs with a bar between them that was cut to length.
    """

    points: dict[str, Vec]
    members: tuple[tuple[str, str], ...]

    @property
    def usual(self) -> tuple[Read, ...]:
        """What a shop reads, as drawn: both diagonals, the four sides, the corners' heights, and from both
        front corners to each socket.
        """
        a, b, c, d = NAMES
        pairs = [(a, d), (b, c), (a, b), (c, d), (a, c), (b, d)]
        pairs += [(n, s) for s in list(self.points)[4:] for n in (a, b)]
        tapes = [Tape(x, y, self.apart(x, y)) for x, y in pairs]
        return (*tapes, *(Height(n, self.points[n][2]) for n in NAMES))

    def apart(self, a: str, b: str) -> float:
        """How far two places are from each other as drawn, mm."""
        return float(np.linalg.norm(np.subtract(self.points[a], self.points[b])))


def corners(assembly: Assembly, keys: Iterable[str]) -> Corners | None:
    """Of the weldment of these parts; None where its corners lie too near to each other to be taped."""
    keys = tuple(keys)
    found = lie(assembly, keys)
    four, members = _of_rails(found) or (_farthest(found), ())
    points = dict(zip(NAMES, four, strict=True))
    if min(float(np.linalg.norm(np.subtract(x, y))) for n, x in enumerate(four) for y in four[:n]) < NEAR:
        return None
    for socket in assembly.sockets:
        word = SOCKETS.get(socket.kind)
        if word is None or socket.part not in keys:
            continue
        count = sum(name.startswith(word) for name in points)
        points[f"{word} {count + 1}" if count else word] = found.place(socket.place.o)
    return Corners(points, members)


def _of_rails(s: Lie) -> tuple[list[Vec], tuple[tuple[str, str], ...]] | None:
    """The outer corners of its outermost pair of rails, at their tops."""
    found = rails(s.laid, s.parts)
    if found is None:
        return None
    run, one, two = found
    a, b, c, d = NAMES

    def at(n: Laid, front: bool, left: bool) -> Vec:
        return (n.spans[0][0 if front else 1], n.spans[1][0 if left else 1], n.spans[2][1])

    if run == 1:  # a front and a rear rail, across
        four = [at(one, True, True), at(one, True, False), at(two, False, True), at(two, False, False)]
        members = [(a, b), (c, d)]
        sides = [(a, c), (b, d)]
        gap = (one.spans[0][1], two.spans[0][0])
    else:
        four = [at(one, True, True), at(two, True, False), at(one, False, True), at(two, False, False)]
        members = [(a, c), (b, d)]
        sides = [(a, b), (c, d)]
        gap = (one.spans[1][1], two.spans[1][0])
    between = [
        n
        for n in s.laid
        if n is not one
        and n is not two
        and n.spans[1 - run][0] <= gap[0] + 2.0
        and n.spans[1 - run][1] >= gap[1] - 2.0
    ]
    middles = sorted(sum(n.spans[run]) / 2 for n in between)
    wide = max(one.spans[run][1], two.spans[run][1]) - min(one.spans[run][0], two.spans[run][0])
    if len(middles) >= 2 and middles[-1] - middles[0] > wide / 2:  # both ends are kept apart by cut bars
        members += sides
    return four, tuple(members)


def _farthest(s: Lie) -> list[Vec]:
    """Of what has no rails: the farthest point of it towards each corner of its plan."""
    points = np.concatenate([np.array(bodies.body(p).to_mesh().vert_properties)[:, :3] for p in s.parts])
    x, y, z = points.T
    local = np.column_stack([s.high[0] - x, s.high[1] - y, z - s.low[2]])
    out = []
    for x, y in ((-1, -1), (-1, 1), (1, -1), (1, 1)):
        far = local @ np.array([x, y, 0.0])
        most = local[far > far.max() - 0.5]
        at = most[int(most[:, 2].argmax())]
        out.append((float(at[0]), float(at[1]), float(at[2])))
    return out


__all__ = ["HOLD", "NAMES", "Corners", "corners"]
