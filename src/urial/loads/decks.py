"""Loads where they stand on a deck: blocks as areas, vehicles on their wheels, rolled to where they are
worst; cargo that leans on side rails and on the stops at its ends.

A deck is carried at the crossings of a grid: rows of supports across it, some places on each.  What stands
between two crossings goes to both by lever, as it does along boards and along the supports; what the whole
block does to the deck (it is rigid, and pushes high above it) stays the same to the last N and N·mm.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from operator import add

import numpy as np

from urial.assembly.model import Assembly
from urial.geometry.place import Vec
from urial.job.duty import Carrier, Item
from urial.loads.case import Case, Field, LoadPoint, Six
from urial.units import STANDARD_GRAVITY as G

ROLLING = 1.25
"""What rolls on to a deck, times its weight; house rule."""
HELD = 0.3
"""Cargo on a deck is held by friction with so much of what it presses; EN 12195-1 table B.1, sawn wood on
steel or wood.
"""
Pulls = tuple[tuple[Vec, Vec], ...]


@dataclass(frozen=True)
class Grid:
    """Crossings of a deck: rows along x and places across, mm, and the load point at each (row, place)."""

    xs: tuple[float, ...]
    ys: tuple[float, ...]
    names: tuple[tuple[str, ...], ...]


def grid(assembly: Assembly, names: Sequence[str]) -> Grid | None:
    """The grid of some deck sockets, where a deck lies on them; None where none does, or they are no grid."""
    return assembly.once(("grid", tuple(names)), lambda: _grid(assembly, names))


def _grid(assembly: Assembly, names: Sequence[str]) -> Grid | None:
    sockets = [assembly.socket_by_key[n] for n in names if n in assembly.socket_by_key]
    pieces = {n.split("/", 1)[0] for n in names}
    decked = {p.piece for p in assembly.parts if p.decking is not None}
    if len(sockets) != len(names) or len(pieces) != 1 or not pieces <= decked:
        return None
    xs, ys = (sorted({round(s.place.o[k], 3) for s in sockets}) for k in (0, 1))
    found = {(round(s.place.o[0], 3), round(s.place.o[1], 3)): s.key for s in sockets}
    if len(found) != len(xs) * len(ys) or len(xs) < 2:
        return None
    return Grid(tuple(xs), tuple(ys), tuple(tuple(found[x, y] for y in ys) for x in xs))


def hats(nodes: Sequence[float], low: float, high: float) -> list[float]:
    """What of an even load from ``low`` to ``high`` goes to each of some supports in a row, by lever between
    two of them and all to the last beyond the ends; a place where both are the same.  They sum to 1.
    """
    out = [0.0] * len(nodes)
    cuts = sorted({low, high, *(n for n in nodes if low < n < high)})
    spans = list(pairwise(cuts)) or [(low, low)]
    for a, b in spans:
        part, middle = ((b - a) / (high - low) if high > low else 1.0), (a + b) / 2
        if middle <= nodes[0] or len(nodes) == 1:
            out[0] += part
        elif middle >= nodes[-1]:
            out[-1] += part
        else:
            k = max(n for n in range(len(nodes) - 1) if nodes[n] <= middle)
            ahead = (middle - nodes[k]) / (nodes[k + 1] - nodes[k])
            out[k] += part * (1 - ahead)
            out[k + 1] += part * ahead
    return out


def _on(g: Grid, x: tuple[float, float], y: tuple[float, float]) -> dict[str, float]:
    along, across = hats(g.xs, *x), hats(g.ys, *y)
    return {
        g.names[i][k]: along[i] * across[k]
        for i in range(len(g.xs))
        for k in range(len(g.ys))
        if along[i] * across[k] > 1e-12
    }


def wheels_of(item: Item, at: Vec) -> list[tuple[float, float]]:
    """Where an item on wheels touches the deck, mm."""
    us = (-item.wheelbase_mm / 2, item.wheelbase_mm / 2)
    vs = (-item.track_mm / 2, item.track_mm / 2) if item.track_mm > 0 else (0.0,)
    return [(at[0] + u, at[1] + v) for u in us for v in vs]


def stands_on(g: Grid, item: Item, at: Vec) -> dict[str, float]:
    """What part of an item each crossing has under it, by where it touches the deck."""
    if item.stands == "block":
        return _on(
            g,
            (at[0] - item.long_mm / 2, at[0] + item.long_mm / 2),
            (at[1] - item.wide_mm / 2, at[1] + item.wide_mm / 2),
        )
    out: dict[str, float] = {}
    touches = wheels_of(item, at)
    for x, y in touches:
        for name, part in _on(g, (x, x), (y, y)).items():
            out[name] = out.get(name, 0.0) + part / len(touches)
    return out


def spread(at: Mapping[str, Vec], share: Mapping[str, float], pulls: Pulls) -> dict[str, Six]:
    """Pulls on a rigid thing that presses each of some places with its share: force on each, N, so that all
    of them together are the pulls to the last couple.  Upright, what is ``share`` (1 + a·x + b·y); sideways,
    share and a turn about their middle.  What lies in one line or place keeps the couple as a moment, N·mm.
    """
    names = [n for n in share if share[n] > 0]
    s, p = np.array([share[n] for n in names]), np.array([at[n] for n in names])
    part = s / s.sum()
    middle = part @ p
    arms = np.array([place for place, _ in pulls]) - middle
    forces = np.array([f for _, f in pulls])
    force, moment = forces.sum(axis=0), _couple(arms, forces)
    d = p - middle
    x, y = d[:, 0], d[:, 1]
    out = np.zeros((len(names), 6))
    out[:, :3] = part[:, None] * force
    across, along, both = s @ (y * y), s @ (x * x), s @ (x * y)
    if across + along > 1.0:  # what one line or one place cannot hold stays a moment, below
        a, b = _tilt(across, along, both, moment)
        out[:, 2] += s * (a * y + b * x)
        turn = moment[2] / (across + along)
        out[:, 0] -= s * y * turn
        out[:, 1] += s * x * turn
    out[:, 3:] = part[:, None] * (moment - _couple(d, out[:, :3]))
    return {n: tuple(row) for n, row in zip(names, out.tolist(), strict=True)}  # type: ignore[misc]


def _tilt(across: float, along: float, both: float, moment: np.ndarray) -> tuple[float, float]:
    """Slopes of what presses upright, across and along, so that it makes up a moment, N·mm, as far as
    places with these second moments can; those in one line, at any angle, hold nothing about it.
    """
    polar, det = across + along, across * along - both * both
    if det > 1e-6 * polar**2:
        return (along * moment[0] + both * moment[1]) / det, -(both * moment[0] + across * moment[1]) / det
    return (
        (across * moment[0] - both * moment[1]) / polar**2,
        (both * moment[0] - along * moment[1]) / polar**2,
    )


def _couple(arms: np.ndarray, forces: np.ndarray) -> np.ndarray:
    """Sum of the moments of some forces at some arms, rows of three each: N·mm."""
    m = arms.T @ forces
    return np.array([m[1, 2] - m[2, 1], m[2, 0] - m[0, 2], m[0, 1] - m[1, 0]])


def loads_of(
    assembly: Assembly,
    points: Mapping[str, LoadPoint],
    names: Sequence[str],
    item: Item,
    at: Vec,
    pull: Vec,
    pulled_at: Vec | None = None,
) -> dict[str, Six] | None:
    """What an item with its middle at a place does to a deck, pulled there or at another place of it, and to
    the side rail or stop it leans on; None where it stands on no deck's grid.
    """
    g = grid(assembly, names)
    if g is None:
        return None
    leans, pulls = _leans(assembly, names, item, pulled_at or at, pull)
    share = stands_on(g, item, at)
    return summed((leans, spread({n: points[n].at for n in share}, share, pulls)))


def _leans(
    assembly: Assembly, names: Sequence[str], item: Item, at: Vec, pull: Vec
) -> tuple[dict[str, Six], Pulls]:
    """What of a level push goes into side rails and the stops at a deck's ends: what friction under a block
    does not hold.
    """
    out: dict[str, Six] = {}
    pulls: list[tuple[Vec, Vec]] = [(at, pull)]
    level = float(np.hypot(pull[0], pull[1]))
    slides = level - HELD * max(-pull[2], 0.0)
    if slides <= 0 or item.stands != "block":
        return {}, tuple(pulls)
    piece = names[0].split("/", 1)[0]
    for kind, way, beside, half in (("side", 1, 0, item.long_mm / 2), ("end", 0, 1, item.wide_mm / 2)):
        holds = [
            s
            for s in assembly.sockets
            if s.kind == kind and s.key.split("/", 1)[0] == piece and s.place.z[way] * pull[way] > 0
        ]
        if not holds:
            continue
        holds.sort(key=lambda s: s.place.o[beside])
        part = hats([s.place.o[beside] for s in holds], at[beside] - half, at[beside] + half)
        for s, share in zip(holds, part, strict=True):
            if share > 0:
                push = share * slides * pull[way] / level
                x, y = (push, 0.0) if way == 0 else (0.0, push)
                out[s.key] = (x, y, 0.0, 0.0, 0.0, 0.0)
                pulls.append((s.place.o, (-x, -y, 0.0)))
    return out, tuple(pulls)


def summed(several: Sequence[Mapping[str, Six]]) -> dict[str, Six]:
    """Loads by load point of several things together."""
    out: dict[str, Six] = {}
    for loads in several:
        for name, six in loads.items():
            before = out.get(name, (0.0,) * 6)
            out[name] = tuple(map(add, before, six))
    return out


def rolled(
    assembly: Assembly,
    points: Mapping[str, LoadPoint],
    names: Sequence[str],
    duty: Carrier,
    named: str,
    at: Sequence[Vec],
) -> list[Case]:
    """Everything on wheels as it rolls on from behind: either axle over each row of supports, counted from
    the front, as far to either side as the deck goes.  What is not on the deck yet stands on the ramp.
    """
    g = grid(assembly, names)
    if g is None:
        return []
    out = []
    for item, place in zip(duty.items, at, strict=True):
        if item.stands != "wheels":
            continue
        for n, x in enumerate(reversed(g.xs), 1):
            for axle, behind in (("front", item.wheelbase_mm), ("rear", -item.wheelbase_mm)):
                if x - behind > g.xs[-1] + 1.0:
                    continue  # it would have rolled off the front
                for side, edge in (("left", g.ys[-1]), ("right", g.ys[0])):
                    out.append(
                        _rolled(g, points, item, (x, behind), (side, edge), (named, axle, n, place[2]))
                    )
    return out


def _rolled(
    g: Grid,
    points: Mapping[str, LoadPoint],
    item: Item,
    along: tuple[float, float],
    across: tuple[str, float],
    named: tuple[str, str, int, float],
) -> Case:
    (x, behind), (side, edge), (duty, axle, n, high) = along, across, named
    y = edge - item.track_mm / 2 if edge > 0 else edge + item.track_mm / 2
    each = item.kg * G * ROLLING / (4 if item.track_mm > 0 else 2)
    tracks = (-item.track_mm / 2, item.track_mm / 2) if item.track_mm > 0 else (0.0,)
    spots = [(u, y + v) for u in (x, x - behind) for v in tracks]
    on_deck = [(u, v) for u, v in spots if u >= g.xs[0] - 1.0 and u <= g.xs[-1] + 1.0]
    loads = []
    for u, v in on_deck:
        share = _on(g, (u, u), (v, v))
        down: Pulls = (((u, v, high), (0.0, 0.0, -each)),)
        loads.append(spread({k: points[k].at for k in share}, share, down))
    return Case(
        f"{duty}: rolled on, {axle} wheels over support {n}, {side}",
        f"{axle} on {n}, {side}: {item.name} rolls on",
        summed(loads),
        "What has wheels rolls over the whole deck before it stands where it belongs, and not always in its "
        "middle.",
        f"statics of its wheels, × {ROLLING:g} as it rolls (house rule)",
        pulls=tuple(((u, v, points[g.names[0][0]].at[2]), (0.0, 0.0, -each)) for u, v in on_deck),
        field=Field((0.0, 0.0, -G)),
    )
