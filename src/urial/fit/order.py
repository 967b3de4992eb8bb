"""In what order it goes on, found by taking it off: one thing after another, each along a straight way that
nothing blocks; where none comes free, the fewest that block each other.

What is welded together is one thing.  A thing is free along a way when nothing lies ahead of it; it is moved
in steps shorter than its thinnest plate and the thinnest of what is there are together.  Where no thing has a
straight way, one is shifted or tilted a little first.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from urial.assembly.facts import layers
from urial.assembly.model import HOST, LOAD, Assembly, Bolts, Contact, Fit, Plugs, Weld
from urial.fit.model import Finding, Step, Stopped
from urial.fit.room import Body, Box, Room, apart, shared
from urial.geometry.place import Place, Vec, X, Y, Z, angle_axis, minus, times

WAYS: tuple[Vec, ...] = (
    (-1.0, 0.0, 0.0),
    (0.0, 0.0, -1.0),
    (0.0, 0.0, 1.0),
    (1.0, 0.0, 0.0),
    (0.0, 1.0, 0.0),
    (0.0, -1.0, 0.0),
)
STEP = 5.0
"""Steps of a way, mm: two plates of 2.5 mm cannot pass between two of them."""
FAR = 900.0
SLIVER = 0.02
"""Bodies whose shadows share no more, mm², share no space that counts on the way: 40 mm³ on 2 m."""
COUNTS = 40.0
"""Space by which more is shared on the way than where a body stands, mm³: from there on it is met."""
MOST = 4000
"""Bodies tried against each other before a search is given up."""


def words_of(way: Vec) -> str:
    """A way in words."""
    names = {0: ("forward", "rearward"), 1: ("to the left", "to the right"), 2: ("up", "down")}
    k = max(range(3), key=lambda n: abs(way[n]))
    slant = abs(way[k]) < 0.98
    return names[k][0 if way[k] > 0 else 1] + (" at a slant" if slant else "")


@dataclass(eq=False)
class Thing:
    """What moves as one: its name and bodies."""

    name: str
    bodies: tuple[Body, ...]
    ways: tuple[Vec, ...] = WAYS
    fixed: bool = False

    @property
    def keys(self) -> tuple[str, ...]:
        """Its parts."""
        return tuple(b.key for b in self.bodies)


@dataclass
class Budget:
    """How much may still be tried."""

    left: int = MOST
    spent: bool = field(default=False)

    def take(self) -> bool:
        """One more try; False when it is over."""
        self.left -= 1
        self.spent = self.left < 0
        return not self.spent


def _moved(box: Box, way: Vec, s: float) -> Box:
    return tuple(tuple(p + s * w for p, w in zip(c, way, strict=True)) for c in box)  # type: ignore[return-value]


def _ahead(a: Box, b: Box, way: Vec, far: float) -> bool:
    """May a, moved along a way, ever meet b?"""
    end = _moved(a, way, far)
    swept = (
        tuple(min(p, q) for p, q in zip(a[0], end[0], strict=True)),
        tuple(max(p, q) for p, q in zip(a[1], end[1], strict=True)),
    )
    return not apart(swept, b, -0.2)  # type: ignore[arg-type]


def way_out(thing: Thing, others: Sequence[Thing], way: Vec, budget: Budget) -> tuple[float, set[int]]:
    """How far a thing goes along a way until it is clear of all the others, mm; and which of them (by number)
    it meets on it, if any.
    """
    hits: set[int] = set()
    clear = 0.0
    for body in thing.bodies:
        for n, other in enumerate(others):
            if n in hits:
                continue
            for b in other.bodies:
                if not _ahead(body.box, b.box, way, FAR):
                    continue
                free, far = _passes(body, b, way, budget)
                if not free:
                    hits.add(n)
                    break
                clear = max(clear, far)
    return clear, hits


def _passes(body: Body, b: Body, way: Vec, budget: Budget) -> tuple[bool, float]:
    """Does a body pass another along a way; after how much is it clear of it, mm?"""
    beside = (body.shadow(way) ^ b.shadow(way)).area() <= SLIVER
    rest = 0.0 if beside else shared(body.solid, b.solid)  # where it stands (a thread in its nut)
    s = STEP
    while s <= FAR:
        box = _moved(body.box, way, s)
        if apart(box, b.box, -0.2):
            if not _ahead(box, b.box, way, FAR):
                return True, s
        elif not beside:
            if not budget.take():
                return True, s
            if shared(body.solid.translate([s * w for w in way]), b.solid) > rest + COUNTS:
                return False, s
        s += STEP if s < 400 else 2 * STEP
    return True, FAR


# ---- where no straight way is free: a shift or a tilt first


@dataclass(frozen=True)
class First:
    """What a thing does before it goes straight: shifted by ``shift``, or turned ``deg`` about ``axis``
    through ``about``, mm.
    """

    words: str
    back: str
    shift: Vec = (0.0, 0.0, 0.0)
    axis: Vec = (0.0, 0.0, 0.0)
    deg: float = 0.0
    about: Vec = (0.0, 0.0, 0.0)


SHIFTS = (15.0, 30.0, 60.0, 120.0)
TILTS = (10.0, 20.0, 30.0, 45.0)
TURN = 5.0
"""A tilt is tried in steps of so many degrees."""
CROOKED = 3000
"""Bodies tried against each other before crooked ways of one thing are given up."""


def crooked_out(
    thing: Thing, others: Sequence[Thing], budget: Budget, stopped: Stopped
) -> tuple[First, Vec, float] | None:
    """A way out with a shift or a tilt before it, the least of them; None where there is none."""
    for first, moved in (*_shifts(thing, others, budget), *_tilts(thing, others, budget)):
        for way in moved.ways:
            if stopped() or budget.spent:
                return None
            far, hits = way_out(moved, others, way, budget)
            if not hits:
                return first, way, far
    return None


def _posed(thing: Thing, place: Place) -> Thing:
    """A thing turned and shifted."""
    bodies = tuple(replace(b, solid=b.solid.transform(place.matrix)) for b in thing.bodies)
    return replace(thing, bodies=bodies)


def _clear(thing: Thing, start: Thing, others: Sequence[Thing], budget: Budget) -> bool:
    """Does a posed thing share no more room with the others than where it started?"""
    for body, was in zip(thing.bodies, start.bodies, strict=True):
        for other in others:
            for b in other.bodies:
                if apart(body.box, b.box, -0.2):
                    continue
                if not budget.take():
                    return False
                if shared(body.solid, b.solid) > shared(was.solid, b.solid) + COUNTS:
                    return False
    return True


def _shifts(thing: Thing, others: Sequence[Thing], budget: Budget) -> Iterator[tuple[First, Thing]]:
    found = []
    for way in thing.ways:
        gone = 0.0
        for far in SHIFTS:
            while gone < far:
                gone = min(gone + STEP, far)
                moved = _posed(thing, Place(times(way, gone)))
                if not _clear(moved, thing, others, budget):
                    gone = math.inf
            if gone > far:
                break
            first = First(
                f"shift it {far:.0f} mm {words_of(way)}",
                f"then shift it {far:.0f} mm {words_of(times(way, -1))}",
                times(way, far),
            )
            found.append((far, first, moved))
    yield from ((first, moved) for _, first, moved in sorted(found, key=lambda f: f[0]))


def _tilts(thing: Thing, others: Sequence[Thing], budget: Budget) -> Iterator[tuple[First, Thing]]:
    low = tuple(min(b.box[0][k] for b in thing.bodies) for k in range(3))
    high = tuple(max(b.box[1][k] for b in thing.bodies) for k in range(3))
    about: Vec = tuple((p + q) / 2 for p, q in zip(low, high, strict=True))  # type: ignore[assignment]
    found = []
    for axis, name in ((Y, "nose"), (X, "left side"), (Z, "nose")):
        for sign in (1.0, -1.0):
            deg = 0.0
            for far in TILTS:
                while deg < far:
                    deg = min(deg + TURN, far)
                    turn = angle_axis(axis, math.radians(sign * deg))
                    place = Place(minus(about, turn.point(about)), turn.x, turn.y, turn.z)
                    moved = _posed(thing, place)
                    if not _clear(moved, thing, others, budget):
                        deg = math.inf
                if deg > far:
                    break
                words = f"tilt it {far:.0f}°, its {name} {_turned(axis, sign)}"
                ways = tuple(dict.fromkeys((*thing.ways, *(_round(turn.vector(w)) for w in thing.ways))))
                first = First(words, "then straighten it", axis=axis, deg=sign * far, about=about)
                found.append((far, first, replace(moved, ways=ways)))
    yield from ((first, moved) for _, first, moved in sorted(found, key=lambda f: f[0]))


def _round(v: Vec) -> Vec:
    return (round(v[0], 6) + 0.0, round(v[1], 6) + 0.0, round(v[2], 6) + 0.0)


def _turned(axis: Vec, sign: float) -> str:
    """Where the front (or the left side) goes in a right-handed turn."""
    if axis == Y:
        return "down" if sign > 0 else "up"
    if axis == X:
        return "up" if sign > 0 else "down"
    return "to the left" if sign > 0 else "to the right"


@dataclass(frozen=True)
class Order:
    """Things in the order they come off, with the way and how far; what is left when nothing more comes
    free, and for each of those what blocks it on its best way; was it given up early?
    """

    off: tuple[tuple[Thing, Vec, float], ...]
    stuck: tuple[Thing, ...] = ()
    blocked: tuple[tuple[Thing, Vec, tuple[Thing, ...]], ...] = ()
    together: tuple[tuple[Thing, ...], ...] = ()
    early: bool = False
    firsts: Mapping[int, First] = field(default_factory=dict)  # by id of the thing: what it does before


@dataclass(frozen=True)
class Holds:
    """What holds what: which things (by id) are joined to which, and which to the host."""

    joined: Mapping[int, frozenset[int]] = field(default_factory=dict)
    hosted: frozenset[int] = frozenset()

    def held(self, things: Sequence[Thing]) -> set[int]:
        """Which of these are held by the host, through each other."""
        there = {id(t) for t in things}
        out, new = set[int](), there & self.hosted
        while new:
            out |= new
            new = {n for k in new for n in self.joined.get(k, ())} & there - out
        return out

    def lets_go(self, group: Sequence[Thing], left: Sequence[Thing]) -> bool:
        """May these be taken from what is left, so that nothing that was held hangs in the air?"""
        rest = [t for t in left if t not in group]
        return self.held(left) - {id(t) for t in group} <= self.held(rest)


def take_apart(
    things: Sequence[Thing], fixed: Sequence[Thing], stopped: Stopped, holds: Holds | None = None
) -> Order:
    """Take things off one after the other, the last ones first; what only comes off as one is said.  Nothing
    is taken off that holds something else up, where ``holds`` knows of it.
    """
    holds = holds or Holds()
    budget = Budget()
    left, off = list(things), list[tuple[Thing, Vec, float]]()
    together: list[tuple[Thing, ...]] = []
    firsts: dict[int, First] = {}
    while left and not stopped():
        found: tuple[list[Thing], Vec, float] | None = None
        blocked: list[tuple[Thing, Vec, tuple[Thing, ...]]] = []
        for thing in reversed(left):
            if not holds.lets_go([thing], left):
                continue
            others = [*(t for t in left if t is not thing), *fixed]
            tries = []
            for way in thing.ways:
                far, hits = way_out(thing, others, way, budget)
                if not hits:
                    found = ([thing], way, far)
                    break
                tries.append((way, tuple(others[n] for n in sorted(hits))))
            if found is not None:
                break
            way, by = min(tries, key=lambda t: (any(x.fixed for x in t[1]), len(t[1])))
            blocked.append((thing, way, by))
        if found is None:
            found = _crooked(left, fixed, firsts, stopped, holds)
        if found is None and len(left) > 1:
            found = _as_one(left, fixed, holds, budget)
        if found is None:
            why = tuple(_fewest(blocked))
            return Order(tuple(off), tuple(left), why, tuple(together), budget.spent, firsts)
        group, way, far = found
        if len(group) > 1:
            together.append(tuple(group))
        for thing in group:
            off.append((thing, way, far))
            left.remove(thing)
    return Order(tuple(off), together=tuple(together), early=budget.spent, firsts=firsts)


def _crooked(
    left: Sequence[Thing],
    fixed: Sequence[Thing],
    firsts: dict[int, First],
    stopped: Stopped,
    holds: Holds,
) -> tuple[list[Thing], Vec, float] | None:
    """The last thing that comes off with a shift or a tilt before it."""
    for thing in reversed(left):
        if not holds.lets_go([thing], left):
            continue
        others = [*(t for t in left if t is not thing), *fixed]
        out = crooked_out(thing, others, Budget(CROOKED), stopped)
        if out is not None:
            firsts[id(thing)] = out[0]
            return [thing], out[1], out[2]
    return None


def _as_one(
    left: Sequence[Thing],
    fixed: Sequence[Thing],
    holds: Holds,
    budget: Budget,
) -> tuple[list[Thing], Vec, float] | None:
    """The fewest things that come off together: each with what blocks it and what blocks those."""
    best: tuple[list[Thing], Vec, float] | None = None
    for thing in left:
        for way in thing.ways:
            group, far = [thing], 0.0
            while True:
                rest = [t for t in left if t not in group]
                others = [*rest, *fixed]
                met: set[int] = set()
                for one in group:
                    reach, hits = way_out(one, others, way, budget)
                    far = max(far, reach)
                    met |= set(hits)
                more = [others[n] for n in sorted(met)]  # in their own order, however Python hashes
                if not more and not holds.lets_go(group, left):
                    break
                if not more:
                    if best is None or len(group) < len(best[0]):
                        best = (group, way, far)
                    break
                if any(t.fixed for t in more) or (
                    best is not None and len(group) + len(more) >= len(best[0])
                ):
                    break
                group = [*group, *more]
    return best


def _groups(count: int, edges: Sequence[tuple[int, int]], kind: Literal["weak", "strong"]) -> list[list[int]]:
    """Connected groups of numbered things, each in order."""
    a, b = (np.array([e[k] for e in edges], dtype=int) for k in (0, 1))
    graph = coo_array((np.ones(len(edges)), (a, b)), shape=(count, count))
    _, label = connected_components(graph, directed=kind == "strong", connection=kind)
    return [list(map(int, np.flatnonzero(label == k))) for k in dict.fromkeys(label)]


def _fewest(
    blocked: Sequence[tuple[Thing, Vec, tuple[Thing, ...]]],
) -> list[tuple[Thing, Vec, tuple[Thing, ...]]]:
    """The smallest ring of things that block each other, or those that the host blocks."""
    number = {id(t): n for n, (t, _, _) in enumerate(blocked)}
    edges = [(n, number[id(o)]) for n, (_, _, by) in enumerate(blocked) for o in by if id(o) in number]
    rings = [r for r in _groups(len(blocked), edges, "strong") if len(r) > 1]
    if rings:
        return [blocked[n] for n in min(rings, key=len)]
    return [row for row in blocked if all(x.fixed for x in row[2])] or list(blocked[:1])


# ---- of an assembly


def things_of(assembly: Assembly, room: Room) -> list[Thing]:
    """What is welded together is one; bolts, nuts and pins are taken out before."""
    steel = [p for p in assembly.parts if not p.hardware]
    number = {p.key: n for n, p in enumerate(steel)}
    edges = [
        (number[j.a], number[j.b])
        for j in assembly.joints
        if isinstance(j.how, (Weld, Plugs)) and j.a in number and j.b in number
    ]
    bodies = {b.key: b for b in room.bodies if b.what == "part"}
    deep = layers(assembly)
    out: list[tuple[int, Thing]] = []
    for group in _groups(len(steel), edges, "weak"):
        keys = [steel[n].key for n in group]
        piece = keys[0].split("/", 1)[0]
        whole = sum(p.piece == piece for p in steel) == len(keys)
        first = assembly.by_key[keys[0]]
        name = assembly.titles.get(piece, first.name) if whole or len(keys) > 3 else first.name
        ways = list(WAYS)
        for j in assembly.joints:
            if not {j.a, j.b} & set(keys):
                continue
            if isinstance(j.how, (Bolts, Contact)):
                ways += [j.place.z, times(j.place.z, -1)]
            elif isinstance(j.how, Fit) and j.a in keys:  # a bar comes out of its bore first of all
                ways = [times(j.place.x, -1), *ways]
        depth = min((deep.get(k, 99) for k in keys), default=99)
        unique = list(dict.fromkeys(tuple(round(x, 3) + 0.0 for x in w) for w in ways))
        out.append((depth, Thing(name, tuple(bodies[k] for k in keys), tuple(unique))))  # type: ignore[arg-type]
    # what is nearest to the host goes on first and comes off last
    return [t for _, t in sorted(out, key=lambda row: row[0])]


def holds_of(assembly: Assembly, things: Sequence[Thing]) -> Holds:
    """What holds what, by the joints: also through bolts, nuts and pins, which go with what they hold."""
    of = {key: id(t) for t in things for key in t.keys}
    edges: dict[object, set[object]] = {}
    for j in assembly.joints:
        a, b = (of.get(k, k) for k in (j.a, j.b))
        if LOAD not in (j.a, j.b):
            edges.setdefault(a, set()).add(b)
            edges.setdefault(b, set()).add(a)
    joined: dict[int, frozenset[int]] = {}
    hosted = set()
    for start in set(of.values()):
        reached: set[object] = set()
        new: set[object] = {start}
        while new:  # on through hardware, up to the next thing or the host
            reached |= new
            new = {
                n
                for k in new
                if k == start or not (isinstance(k, int) or k == HOST)
                for n in edges.get(k, ())
            } - reached
        joined[start] = frozenset(k for k in reached if isinstance(k, int) and k != start)
        if HOST in reached:
            hosted.add(start)
    return Holds(joined, frozenset(hosted))


def bore_findings(
    assembly: Assembly, things: Sequence[Thing], fixed: Sequence[Thing], holds: Holds, budget: Budget
) -> Iterator[Finding]:
    """An insert comes out of its bore while its hitch stays where it is, with what stands on the insert."""
    of = {key: t for t in things for key in t.keys}
    seen: set[int] = set()
    for j in assembly.joints:
        if not isinstance(j.how, Fit) or j.a not in of or j.b not in of or id(of[j.a]) in seen:
            continue
        insert, hitch = of[j.a], of[j.b]
        if insert is hitch:
            continue
        seen.add(id(insert))
        stays = [t for t in things if t is not insert]
        kept = holds.held(stays)
        others = [*(t for t in stays if id(t) in kept or t is hitch), *fixed]
        way = times(j.place.x, -1)
        out = [insert, *(t for t in stays if id(t) not in kept and t is not hitch)]
        hit = {n for thing in out for n in way_out(thing, others, way, budget)[1]}
        if not hit or budget.spent:
            continue
        met = [others[n] for n in sorted(hit)]
        after = min(_gap(b, c, way, budget) for t in out for b in t.bodies for m in met for c in m.bodies)
        names = " and the ".join(dict.fromkeys(t.name for t in met))
        yield Finding(
            f"bore {insert.keys[0]}",
            "order",
            (insert.bodies[0].label, *dict.fromkeys(t.bodies[0].label for t in met)),
            j.place.o,
            after,
            f"The {insert.name} does not come out of its bore with the {hitch.name} where it is: "
            f"{words_of(way)} it meets the {names} after {after:.0f} mm.",
            advice=f"Move the {names}, or turn the bore so that the {insert.name} has its own length free.",
        )


def _gap(body: Body, b: Body, way: Vec, budget: Budget) -> float:
    """How far a body goes along a way before it meets another, mm, to a step; FAR where it passes."""
    if not _ahead(body.box, b.box, way, FAR):
        return FAR
    free, far = _passes(body, b, way, budget)
    if free:
        return FAR
    k = max(range(3), key=lambda n: abs(way[n]))
    gap = b.box[0][k] - body.box[1][k] if way[k] > 0 else body.box[0][k] - b.box[1][k]
    return max(gap, far - STEP, 0.0)  # the boxes' own gap is exact where they face each other


def order_findings(assembly: Assembly, room: Room, stopped: Stopped) -> Iterator[Finding | Step | str]:
    """The steps, first on first; what does not come on or off and why."""
    things = things_of(assembly, room)
    fixed = [Thing(b.name, (b,), fixed=True) for b in room.bodies if b.what != "part"]
    holds = holds_of(assembly, things)
    order = take_apart(things, fixed, stopped, holds)
    kept_in = list(bore_findings(assembly, things, fixed, holds, Budget()))
    yield from kept_in
    told = {f.id.removeprefix("bore ") for f in kept_in}
    as_one = {id(t): group for group in order.together for t in group}
    said: set[int] = set()
    for thing, way, far in reversed(order.off):
        group = as_one.get(id(thing))
        if group is not None:
            if id(group) in said:
                continue
            said.add(id(group))
            names = " and ".join(dict.fromkeys(t.name for t in group))
            yield f"The {names} go on as one: neither goes on without the other."
        names = thing.name if group is None else " and ".join(dict.fromkeys(t.name for t in group))
        keys = thing.keys if group is None else tuple(k for t in group for k in t.keys)
        on = words_of(times(way, -1))
        first = order.firsts.get(id(thing))
        said_on = f"move it {on} into place." if first is None else f"move it {on}, {first.back} into place."
        via = first.shift if first else (0.0, 0.0, 0.0)
        yield Step(names, keys, way, far, f"{names[0].upper()}{names[1:]}: {said_on}", via)
        if first is not None:
            yield f"The {names} comes off crooked: {first.words}, then move it {words_of(way)}."
    for thing, way, by in order.blocked:
        if thing.keys[0] in told:
            continue
        meets = [b.name for b in by]
        low = tuple(min(b.box[0][k] for b in thing.bodies) for k in range(3))
        high = tuple(max(b.box[1][k] for b in thing.bodies) for k in range(3))
        yield Finding(
            f"order {thing.keys[0]}",
            "order",
            (thing.bodies[0].label, *(b.bodies[0].label for b in by)),
            tuple((p + q) / 2 for p, q in zip(low, high, strict=True)),  # type: ignore[arg-type]
            None,
            f"The {thing.name} does not come off any way: {words_of(way)}, its best, it meets the "
            f"{' and the '.join(meets)}.",
            advice=f"Make it in two that bolt together, or cut the {meets[0]} so that it passes.",
        )
    if order.early:
        yield "!The order was not tried to its end; there are too many parts near each other."
