"""The places of a weldment that a tape hooks on before it is welded: the corners of its frame, and the
middles of the sockets it holds; between which of them a bar lies that was cut to length.

A frame is measured as it lies on the table: one that goes on flat as it goes on, one that stands upright (a
carriage for forks) on its front.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from types import MappingProxyType

import numpy as np

from urial.assembly import bodies
from urial.assembly.model import Assembly, View
from urial.geometry.place import Vec
from urial.geometry.shape import Bar
from urial.making.fitup import Height, Read, Tape
from urial.making.setout import Laid, Lie, lie, rails

SOCKETS = MappingProxyType({"receiver": "middle of the mouth", "ball": "ball", "coupler": "coupler"})
NEAR, SMALL = 60.0, 300.0
"""Of what has corners nearer to each other, or a shorter diagonal, a square says more than a tape, mm (house
rule)."""
Names = tuple[str, str, str, str]
Ways = tuple[tuple[str, str], tuple[str, str], tuple[str, str]]


@dataclass(frozen=True)
class Lies:
    """How it lies on the table: its four corners' names, seen from which side, which of its own axes (along,
    across, high) run along, across and up on the table, and in words the way back of what lies too far
    along, across, high, and of what does not far enough.
    """

    names: Names
    view: View
    axes: tuple[int, int, int]
    ways: Ways


FLAT = Lies(
    ("front left", "front right", "rear left", "rear right"),
    "top",
    (0, 1, 2),
    (("forward", "rearward"), ("to the left", "to the right"), ("down", "up")),
)
UPRIGHT = Lies(
    ("upper left", "upper right", "lower left", "lower right"),
    "rear",
    (2, 1, 0),
    (("up", "down"), ("to the left", "to the right"), ("forward", "rearward")),
)
NAMES = FLAT.names


@dataclass(frozen=True)
class Corners:
    """``points``: by name as they lie on the table (mm), the four corners first: from the front, the left and
    the bottom, or of what stands upright from the top, the left and the front; ``members``: pairs with a bar
    between them that was cut to length; ``high``: how high it stands, mm.
    """

    lies: Lies
    points: dict[str, Vec]
    members: tuple[tuple[str, str], ...]
    high: float

    @property
    def hold(self) -> tuple[str, str, str]:
        """What stays: the longer of the first and the last edge, from its left end, and the plane of that and
        of one corner of the other: of a drawbar not its nose, from which nothing can be told across.
        """
        a, b, c, d = self.lies.names
        return (c, d, a) if self.apart(c, d) > self.apart(a, b) + 1.0 else (a, b, c)

    @property
    def usual(self) -> tuple[Read, ...]:
        """What a shop reads, as drawn: both diagonals, the four sides, the corners' heights, and from both
        first corners to each socket.
        """
        a, b, c, d = self.lies.names
        pairs = [(a, d), (b, c), (a, b), (c, d), (a, c), (b, d)]
        pairs += [(n, s) for s in list(self.points)[4:] for n in (a, b)]
        tapes = [Tape(x, y, self.apart(x, y)) for x, y in pairs]
        return (*tapes, *(Height(n, self.points[n][2]) for n in self.lies.names))

    def apart(self, a: str, b: str) -> float:
        """How far two places are from each other as drawn, mm."""
        return float(np.linalg.norm(np.subtract(self.points[a], self.points[b])))

    def seen(self, point: Sequence[float]) -> tuple[float, float]:
        """Where a place lies in the set-out's view of that side: to the right and up from its corner, mm."""
        return (point[0], point[1]) if self.lies is FLAT else (point[1], self.high - point[0])


def corners(assembly: Assembly, keys: Iterable[str]) -> Corners | None:
    """Of the weldment of these parts; None where its corners lie too near to each other to be taped, however
    it lies.
    """
    keys = tuple(keys)
    found = lie(assembly, keys)
    return _lying(assembly, found, keys, FLAT) or _lying(assembly, found, keys, UPRIGHT)


def _lying(assembly: Assembly, found: Lie, keys: tuple[str, ...], lies: Lies) -> Corners | None:
    high = found.high[2] - found.low[2]

    def on_table(p: Sequence[float]) -> Vec:
        x, y, z = found.place(p)
        return (x, y, z) if lies is FLAT else (high - z, y, x)

    four, members = _of_rails(found, lies, high) or (_farthest(found, lies, high), ())
    points = dict(zip(lies.names, four, strict=True))
    flat = np.array(four)[:, :2]
    if min(float(np.linalg.norm(p - q)) for n, p in enumerate(flat) for q in flat[:n]) < NEAR:
        return None
    if min(float(np.linalg.norm(flat[0] - flat[3])), float(np.linalg.norm(flat[1] - flat[2]))) < SMALL:
        return None
    for socket in assembly.sockets:
        word = SOCKETS.get(socket.kind)
        if word is None or socket.part not in keys:
            continue
        count = sum(name.startswith(word) for name in points)
        points[f"{word} {count + 1}" if count else word] = on_table(socket.place.o)
    return Corners(lies, points, members, high)


def _turned(laid: Sequence[Laid], lies: Lies, high: float) -> list[Laid]:
    """The pieces as they lie on the table."""
    if lies is FLAT:
        return list(laid)
    out = []
    for n in laid:
        along, across, up = n.spans
        out.append(replace(n, spans=((high - up[1], high - up[0]), across, along)))
    return out


def _of_rails(s: Lie, lies: Lies, high: float) -> tuple[list[Vec], tuple[tuple[str, str], ...]] | None:
    """The outer corners of its outermost pair of rails, at their tops."""
    laid = _turned(s.laid, lies, high)
    found = rails(laid, s.parts, lies.axes)
    if found is None:
        return None
    run, one, two = found
    a, b, c, d = lies.names

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
        for n, p in zip(laid, s.parts, strict=True)
        if isinstance(p.shape, Bar)  # a sheet or a board keeps nothing apart
        and n is not one
        and n is not two
        and n.spans[1 - run][0] <= gap[0] + 2.0
        and n.spans[1 - run][1] >= gap[1] - 2.0
    ]
    middles = sorted(sum(n.spans[run]) / 2 for n in between)
    wide = max(one.spans[run][1], two.spans[run][1]) - min(one.spans[run][0], two.spans[run][0])
    if len(middles) >= 2 and middles[-1] - middles[0] > wide / 2:  # both ends are kept apart by cut bars
        members += sides
    return four, tuple(members)


def _farthest(s: Lie, lies: Lies, high: float) -> list[Vec]:
    """Of what has no rails: the farthest point of it towards each corner of it as it lies."""
    points = np.concatenate([np.array(bodies.body(p).to_mesh().vert_properties)[:, :3] for p in s.parts])
    x, y, z = points.T
    local = np.column_stack([s.high[0] - x, s.high[1] - y, z - s.low[2]])
    if lies is not FLAT:
        local = np.column_stack([high - local[:, 2], local[:, 1], local[:, 0]])
    out = []
    for u, v in ((-1, -1), (-1, 1), (1, -1), (1, 1)):
        far = local @ np.array([u, v, 0.0])
        most = local[far > far.max() - 0.5]
        at = most[int(most[:, 2].argmax())]
        out.append((float(at[0]), float(at[1]), float(at[2])))
    return out


__all__ = ["FLAT", "NAMES", "UPRIGHT", "Corners", "Lies", "corners"]
