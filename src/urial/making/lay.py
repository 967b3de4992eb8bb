"""Pieces laid along a bar, mitres back to back where that saves: in what order and turned how.

Between two pieces' faces there is a cut; where both faces are parallel one cut makes both.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from urial.making.blank import LEVEL, Blank, Slope, far, steep, times2, turns

EXACT = 6
"""So many pieces and no more are tried in every order."""


@dataclass(frozen=True)
class Laid:
    """One piece along a bar: which one, its faces as it lies, and where its box begins and ends, mm."""

    which: int
    first: Slope
    second: Slope
    start: float
    end: float


@dataclass(frozen=True)
class Row:
    """Pieces along a bar and how much of it they take, with the trim and the last cut, mm."""

    laid: tuple[Laid, ...]
    used: float


def _gap(a: Slope, b: Slope, piece: Blank, kerf: float) -> float:
    """Between the middles of two faces that meet: the cut, and the wedge where they are not parallel."""
    wedge = far(piece.stock, (a[0] - b[0], a[1] - b[1]))
    return wedge + kerf * max(steep(a), steep(b))


def _end(face: Slope, piece: Blank, kerf: float) -> float:
    """Beyond the last face's middle: its long point and its cut."""
    return far(piece.stock, face) + kerf * steep(face)


def lay(pieces: Sequence[Blank], kerf: float, trim: float) -> Row:
    """The shortest way found to lay pieces of one section along a bar; proven for a few of them.

    Args: kerf square to the blade and what the bar's first end loses, mm.
    """
    if not pieces:
        return Row((), trim)
    if all(p.first == LEVEL and p.second == LEVEL for p in pieces):
        order = sorted(range(len(pieces)), key=lambda n: -pieces[n].middle)
        return _row([(n, LEVEL, LEVEL) for n in order], pieces, kerf, trim)
    ways = [turns(p) for p in pieces]
    found = _tried(pieces, ways, kerf) if len(pieces) <= EXACT else _greedy(pieces, ways, kerf)
    return _row(found, pieces, kerf, trim)


Way = tuple[int, Slope, Slope]


def _tried(pieces: Sequence[Blank], ways: Sequence[Sequence[tuple[Slope, Slope]]], kerf: float) -> list[Way]:
    """The best of all orders and turns, by what is laid already and the face it ends with."""
    best: dict[tuple[int, Slope, Slope, int], tuple[float, list[Way]]] = {}
    for n, piece in enumerate(pieces):
        for a, b in ways[n]:
            cost = far(piece.stock, times2(a, -1))
            best[1 << n, a, b, n] = (cost, [(n, a, b)])
    whole = (1 << len(pieces)) - 1
    for _ in range(len(pieces) - 1):
        grown: dict[tuple[int, Slope, Slope, int], tuple[float, list[Way]]] = {}
        for (mask, _, b, last), (cost, row) in best.items():
            met: set[tuple[object, ...]] = set()
            for n, piece in enumerate(pieces):
                if mask >> n & 1:
                    continue
                for c, d in ways[n]:
                    alike = (piece, c, d)
                    if alike in met:  # equal pieces are not tried again
                        continue
                    met.add(alike)
                    key = mask | 1 << n, c, d, n
                    then = cost + _gap(b, c, pieces[last], kerf)
                    if key not in grown or then < grown[key][0] - 1e-9:
                        grown[key] = (then, [*row, (n, c, d)])
        best = grown
    ends = [
        (cost + _end(b, pieces[last], kerf), row)
        for (mask, _, b, last), (cost, row) in best.items()
        if mask == whole
    ]
    return min(ends, key=lambda e: (round(e[0], 6), e[1]))[1]


def _greedy(pieces: Sequence[Blank], ways: Sequence[Sequence[tuple[Slope, Slope]]], kerf: float) -> list[Way]:
    """From every beginning the piece that follows most closely, the longest of those first; the best row."""
    alike: dict[Blank, list[int]] = {}
    for n, p in enumerate(pieces):
        alike.setdefault(p, []).append(n)
    longest = sorted(alike, key=lambda p: -p.middle)
    found: list[tuple[float, list[Way]]] = []
    for begin in longest:
        for a, b in ways[alike[begin][0]]:
            spare = {p: list(reversed(row)) for p, row in alike.items()}
            cost, row = far(begin.stock, times2(a, -1)), [(spare[begin].pop(), a, b)]
            while len(row) < len(pieces):
                last = row[-1][2]
                gap, _, piece, c, d = min(
                    (
                        (_gap(last, c, piece, kerf), k, piece, c, d)
                        for k, piece in enumerate(longest)
                        if spare[piece]
                        for c, d in ways[alike[piece][0]]
                    ),
                    key=lambda m: m[:2],
                )
                cost += gap
                row.append((spare[piece].pop(), c, d))
            found.append((round(cost + _end(row[-1][2], begin, kerf), 6), row))
    return min(found, key=lambda f: f[0])[1]


def _row(found: Sequence[Way], pieces: Sequence[Blank], kerf: float, trim: float) -> Row:
    """The same with places along the bar."""
    out: list[Laid] = []
    before: Way | None = None
    at = trim  # where the last face's middle is
    for n, a, b in found:
        piece = pieces[n]
        out_by = far(piece.stock, times2(a, -1))
        at += out_by if before is None else _gap(before[2], a, pieces[before[0]], kerf)
        stop = at + piece.middle
        out.append(Laid(n, a, b, at - out_by, stop + far(piece.stock, b)))
        at, before = stop, (n, a, b)
    assert before is not None
    return Row(tuple(out), at + _end(before[2], pieces[before[0]], kerf))


__all__ = ["Laid", "Row", "lay"]
