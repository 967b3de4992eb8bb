"""Straight pieces out of bars: the least bought price, then length, then the fewest bars, then the longest
single rest.

A pattern says how often each length comes out of one bar.  Where there are few patterns all of them are
known and the answer is proven; where there are many, those that a linear programme over patterns asks for
are made one by one (Gilmore and Gomory, *Operations Research* 9 and 11, 1961 and 1963), its value is the
bound, and bars filled one after the other as full as they go, in many orders, are laid beside them.  HiGHS
chooses how often each is cut.
"""

from __future__ import annotations

import math
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import Bounds, LinearConstraint, linprog, milp
from scipy.sparse import csr_array

from urial.words import Complaint

Array = NDArray[np.float64]
MOST_PATTERNS = 4000
"""So many patterns and no more are all made; else they are found as they are wanted."""
SECONDS = 10.0
SAME = 1e-6
"""Lengths nearer than this are one length, mm."""


class NoBar(Complaint):
    """The pieces cannot be cut from what there is; the message names the piece."""


@dataclass(frozen=True)
class Piece:
    """What is wanted: so many of a mark, each so long, mm."""

    mark: str
    length: float
    count: int = 1


@dataclass(frozen=True)
class Stock:
    """Bars to be had: length in mm, price of one, how many (None: as many as are wanted); ``owned``: a rest
    that lies there already, whose length is not bought and which is rather used than left.
    """

    length: float
    price: float = 0.0
    available: int | None = None
    owned: bool = False


@dataclass(frozen=True)
class CutBar:
    """A bar: its length, the marks cut from it in order, the longest first, and what is left, mm."""

    stock: float
    cuts: tuple[str, ...]
    left: float


@dataclass(frozen=True)
class Nest:
    """Bars, what they cost and how long they are, mm; no nest is cheaper than ``bound``.  ``proven``: nothing
    cheaper, shorter or fewer can be had.
    """

    bars: tuple[CutBar, ...]
    price: float
    bought: float
    bound: float
    proven: bool


@dataclass(frozen=True)
class _Asked:
    """Pieces by length, the longest first; stocks; what a cut and a trim take."""

    lengths: Array
    demand: NDArray[np.int64]
    stock: tuple[Stock, ...]
    kerf: float
    trim: float

    @property
    def sizes(self) -> Array:
        """What each length takes of a bar."""
        return self.lengths + self.kerf

    def room(self, k: int) -> float:
        """What a bar has for pieces and their cuts."""
        return self.stock[k].length - self.trim


def cut_stock(
    pieces: Sequence[Piece],
    stock: Sequence[Stock],
    kerf: float = 0.0,
    trim: float = 0.0,
    *,
    seconds: float = SECONDS,
    stopped: Callable[[], bool] = lambda: False,
    tell: Callable[[str], None] = lambda _: None,
) -> Nest:
    """Cut all pieces from bars.

    Args: lengths in mm; every piece takes its length and one kerf, every bar one end trim.  After
    ``seconds``, or when ``stopped``, the best so far is the answer.
    Raises: NoBar naming a piece that no bar holds, or when the bars do not suffice.
    """
    free = not any(s.price for s in stock)  # nobody knows a price: the least length is looked for
    asked, marks = _asked(pieces, [replace(s, price=s.length) for s in stock] if free else stock, kerf, trim)
    if not marks:
        return Nest((), 0.0, 0.0, 0.0, True)
    end = time.monotonic() + seconds

    def over() -> bool:
        return stopped() or time.monotonic() > end

    tell("patterns")
    pool, whole = _all_patterns(asked)
    bound, best = 0.0, None
    if not whole:
        pool, bound = _columns(asked, over)
        more, best = _filled(asked, bound, lambda: over() or time.monotonic() > end - seconds / 2)
        pool = list(dict.fromkeys((*pool, *more)))
    by_size = min(s.price / r for k, s in enumerate(asked.stock) if (r := asked.room(k)) > 0)
    bound = max(bound, float(asked.demand @ asked.sizes) * by_size)
    tell("bars")
    least = best is not None and len(asked.stock) == 1 and len(best) <= _fewest(asked, bound)
    found, proven = (None, True) if least else _choose(asked, pool, max(end - time.monotonic(), 0.5))
    ways = [(*_cost(asked, w), len(w), w) for w in (found, best) if w is not None]
    if not ways:
        raise NoBar(_too_few(asked, marks))
    price, bought, _, chosen = min(ways, key=lambda w: w[:3])
    if whole and proven:
        bound = price
    paid, at_least = (0.0, 0.0) if free else (price, min(bound, price))
    bars = _laid_out(asked, marks, chosen)
    return Nest(bars, paid, bought, at_least, least or (proven and whole))


def _fewest(asked: _Asked, bound: float) -> int:
    """So many bars of the one stock there must be."""
    price, room = asked.stock[0].price, asked.room(0)
    by_size = math.ceil(float(asked.demand @ asked.sizes) / room - SAME) if room > 0 else 0
    return max(by_size, math.ceil(bound / price - SAME) if price else 0)


def _asked(
    pieces: Sequence[Piece], stock: Sequence[Stock], kerf: float, trim: float
) -> tuple[_Asked, list[list[str]]]:
    """The question by lengths, and the marks of each length in order."""
    longest = max((s.length for s in stock if s.available is None or s.available > 0), default=0.0)
    rows: list[tuple[float, list[str]]] = []
    for p in sorted(pieces, key=lambda p: -p.length):
        if p.count <= 0:
            continue
        if p.length + kerf + trim > longest + SAME:
            holds = max(longest - kerf - trim, 0.0)
            raise NoBar(
                f"“{p.mark}” is {p.length:.4g} mm long and no bar is long enough: with a cut of {kerf:.4g} "
                f"and a trim of {trim:.4g} mm the longest, {longest:.4g} mm, holds {holds:.4g} mm; take a "
                "longer bar, or splice it."
            )
        if rows and abs(rows[-1][0] - p.length) < SAME:
            rows[-1][1].extend([p.mark] * p.count)
        else:
            rows.append((p.length, [p.mark] * p.count))
    lengths = np.array([length for length, _ in rows])
    demand = np.array([len(marks) for _, marks in rows], dtype=np.int64)
    return _Asked(lengths, demand, tuple(stock), kerf, trim), [marks for _, marks in rows]


Pattern = tuple[int, tuple[int, ...]]
"""A bar's number among the stocks, and how often each length comes out of it."""


def _all_patterns(asked: _Asked) -> tuple[list[Pattern], bool]:
    """Every pattern to which no piece can be added, of every stock; False where there are too many."""
    out: list[Pattern] = []
    sizes = [float(x) for x in asked.sizes]
    for k in range(len(asked.stock)):
        if asked.stock[k].available == 0:
            continue
        found: list[tuple[int, ...]] = []
        if not _maximal(sizes, asked.demand, asked.room(k) + SAME, found):
            return [], False
        out += [(k, row) for row in found if any(row)]
        if len(out) > MOST_PATTERNS:
            return [], False
    return out, True


def _maximal(
    sizes: Sequence[float], demand: NDArray[np.int64], room: float, found: list[tuple[int, ...]]
) -> bool:
    """Add every maximal pattern of a bar; False when there are too many."""
    row = [0] * len(sizes)
    steps = 0

    def go(n: int, left: float) -> bool:
        nonlocal steps
        steps += 1
        if steps > 50 * MOST_PATTERNS or len(found) > MOST_PATTERNS:
            return False
        if n == len(sizes):
            if all(row[k] >= demand[k] or size > left for k, size in enumerate(sizes)):
                found.append(tuple(row))
            return True
        for count in range(min(int(demand[n]), int(left // sizes[n])), -1, -1):
            row[n] = count
            if not go(n + 1, left - count * sizes[n]):
                return False
        row[n] = 0
        return True

    return go(0, room)


# ---- patterns as they are wanted


def _dearest(asked: _Asked) -> float:
    """What the dearest bar costs."""
    return max(s.price for s in asked.stock)


def _columns(asked: _Asked, over: Callable[[], bool]) -> tuple[list[Pattern], float]:
    """Patterns that the linear programme asks for and its value, a bound; 0 where it, or a search for the
    pattern it asks for, came to no end.
    """
    pool = _first_fit(asked)
    kinds = set(pool)
    scale = _dearest(asked) or 1.0
    cost = np.array(
        [s.price + 1e-7 * scale * s.length / max(t.length for t in asked.stock) for s in asked.stock]
    )
    while True:
        value, prices, limits = _relaxed(asked, pool, cost)
        new, whole = [], True
        for k in range(len(asked.stock)):
            if asked.stock[k].available == 0:
                continue
            worth, row, done = _knapsack(asked.sizes, prices, asked.demand, asked.room(k) + SAME)
            whole = whole and done
            if worth + limits[k] > cost[k] * (1 + 1e-9) + 1e-9 * scale and (k, row) not in kinds:
                new.append((k, row))
        if not new:
            return pool, value / (1 + 1e-7) if whole else 0.0
        pool += new
        kinds.update(new)
        if over():
            return pool, 0.0


def _first_fit(asked: _Asked) -> list[Pattern]:
    """Patterns to begin with: one length alone, and what first-fit decreasing lays out, of each stock."""
    out: dict[Pattern, None] = {}
    for k in range(len(asked.stock)):
        if asked.stock[k].available == 0:
            continue
        room = asked.room(k) + SAME
        for n, size in enumerate(asked.sizes):
            fits = min(int(room // size), int(asked.demand[n]))
            if fits:
                row = [0] * len(asked.sizes)
                row[n] = fits
                out[k, tuple(row)] = None
        left = asked.demand.copy()
        while left.any():
            row, rest = [0] * len(left), room
            for n, size in enumerate(asked.sizes):
                row[n] = min(int(rest // size), int(left[n]))
                rest -= row[n] * size
            if not any(row):
                break
            out[k, tuple(row)] = None
            left -= np.array(row)
    return list(out)


def _relaxed(asked: _Asked, pool: Sequence[Pattern], cost: Array) -> tuple[float, Array, Array]:
    """The linear programme over some patterns: value, what a piece of each length is worth, what a bar more
    of each stock would save (negative or 0).
    """
    counts = np.array([row for _, row in pool], dtype=float).T
    c = np.array([cost[k] for k, _ in pool])
    limited = [k for k, s in enumerate(asked.stock) if s.available is not None]
    # a piece that the limited bars do not hold is bought at a price nobody pays, so that there is an answer
    dear = 1e4 * (_dearest(asked) or 1.0)
    count = len(asked.demand)
    upper = np.zeros((count + len(limited), len(pool) + count))
    upper[:count, : len(pool)] = -counts
    upper[:count, len(pool) :] = -np.eye(count)
    for r, k in enumerate(limited):
        upper[count + r, : len(pool)] = [float(of == k) for of, _ in pool]
    right = np.concatenate(
        [-asked.demand.astype(float), [float(asked.stock[k].available or 0) for k in limited]]
    )
    found = linprog(np.concatenate([c, np.full(count, dear)]), A_ub=upper, b_ub=right, method="highs")
    worth = -found.ineqlin.marginals
    limits = np.zeros(len(asked.stock))
    for r, k in enumerate(limited):
        limits[k] = -worth[count + r]
    assert found.fun is not None  # bought dear, every piece has its bar
    return float(found.fun), worth[:count], limits


def _filled(
    asked: _Asked, bound: float, over: Callable[[], bool]
) -> tuple[list[Pattern], list[Pattern] | None]:
    """Patterns of whole nests and the cheapest of these: every bar takes the longest piece that is left and
    is filled as full as it goes (minimum bin slack, Gupta and Ho, *Production Planning & Control* 10, 1999),
    in many seeded orders.  Ends early at a nest that no other can be cheaper than.
    """
    rng = np.random.default_rng(1)
    out: dict[Pattern, None] = {}
    best: tuple[tuple[float, float, int], list[Pattern]] | None = None
    one = len(asked.stock) == 1
    least = _fewest(asked, bound) * asked.stock[0].length if one else -math.inf
    rounds = 0
    while rounds == 0 or not over():
        spread = 0.0 if rounds == 0 else 0.08 * rng.random()
        rounds += 1
        nest = _one_nest(asked, asked.sizes * (1 + spread * rng.random(len(asked.sizes))), rng, spread)
        if nest is None:
            continue
        rank = (*_cost(asked, nest), len(nest))
        out.update(dict.fromkeys(nest))
        if best is None or rank < best[0]:
            best = (rank, nest)
        if rank[1] <= least + SAME or len(out) > MOST_PATTERNS:
            break
    return list(out), best[1] if best else None


def _cost(asked: _Asked, bars: Sequence[Pattern]) -> tuple[float, float]:
    """Price and bought length of bars."""
    return sum(asked.stock[k].price for k, _ in bars), sum(_bought(asked, k, row) for k, row in bars)


RATHER = 1e-3
"""A millimetre that comes out of a rest saves so much of a bought one: of two equal ways rests go first."""


def _bought(asked: _Asked, k: int, row: tuple[int, ...]) -> float:
    """How much a bar adds to the bought length."""
    s = asked.stock[k]
    return -RATHER * float(np.array(row) @ asked.sizes) if s.owned else s.length


def _one_nest(asked: _Asked, worth: Array, rng: np.random.Generator, spread: float) -> list[Pattern] | None:
    """Bars filled one after the other; None where they do not suffice."""
    left, have = asked.demand.copy(), [s.available for s in asked.stock]
    nest: list[Pattern] = []
    while left.any():
        first = int(np.flatnonzero(left)[0])  # the longest that is left
        rest = left.copy()
        rest[first] -= 1
        tries = []
        for k, s in enumerate(asked.stock):
            room = asked.room(k) + SAME - float(asked.sizes[first])
            if have[k] == 0 or room < 0:
                continue
            row = list(_knapsack(asked.sizes, worth, rest, room, FEW)[1])
            row[first] += 1
            used = float(np.dot(row, asked.sizes))
            tries.append(((s.price or s.length) / used * (1 + spread * rng.random()), k, tuple(row)))
        if not tries:
            return None
        _, k, row_ = min(tries)
        if (n := have[k]) is not None:
            have[k] = n - 1
        nest.append((k, row_))
        left -= np.array(row_)
    return nest


FEW = 2000
"""Steps of branch and bound for one bar of a quick nest."""


def _knapsack(
    sizes: Array, worth: Array, most: NDArray[np.int64], room: float, steps_most: int = 200_000
) -> tuple[float, tuple[int, ...], bool]:
    """The pattern worth most in a bar, by branch and bound over lengths, the best for a millimetre first."""
    order = sorted((n for n in range(len(sizes)) if worth[n] > 0), key=lambda n: -worth[n] / sizes[n])
    size = [float(sizes[n]) for n in order]
    value = [float(worth[n]) for n in order]
    limit = [int(most[n]) for n in order]
    best, row, picked = 0.0, [0] * len(order), [0] * len(order)
    steps = 0

    def go(n: int, left: float, sum_: float) -> None:
        nonlocal best, picked, steps
        steps += 1
        if sum_ > best + 1e-12:
            best, picked = sum_, row.copy()
        if n == len(order) or steps > steps_most or sum_ + left * value[n] / size[n] <= best + 1e-12:
            return
        for count in range(min(limit[n], int(left // size[n])), -1, -1):
            row[n] = count
            go(n + 1, left - count * size[n], sum_ + count * value[n])
        row[n] = 0

    go(0, room, 0.0)
    out = [0] * len(sizes)
    for n, count in zip(order, picked, strict=True):
        out[n] = count
    return best, tuple(out), steps <= steps_most


# ---- how often each is cut


@dataclass
class _Model:
    """Rows of a programme over how often each pattern is cut."""

    rows: list[Array] = field(default_factory=list)
    low: list[float] = field(default_factory=list)
    high: list[float] = field(default_factory=list)

    def add(self, row: Array, low: float, high: float) -> None:
        """One row: low ≤ row·x ≤ high."""
        self.rows.append(row)
        self.low.append(low)
        self.high.append(high)


def _choose(asked: _Asked, pool: Sequence[Pattern], seconds: float) -> tuple[list[Pattern] | None, bool]:
    """Bars by how often each pattern is cut: least price, then length, then bars, one after the other; None
    where the bars do not suffice.  True where each was proven.
    """
    counts = np.array([row for _, row in pool], dtype=float).T
    model = _Model()
    for n, demand in enumerate(asked.demand):
        model.add(counts[n], float(demand), math.inf)
    for k, s in enumerate(asked.stock):
        if s.available is not None:
            model.add(np.array([float(of == k) for of, _ in pool]), -math.inf, float(s.available))
    aims = (
        np.array([asked.stock[k].price for k, _ in pool]),
        np.array([_bought(asked, k, row) for k, row in pool]),
        np.array([0.0 if asked.stock[k].owned else 1.0 for k, _ in pool]),
    )
    chosen: Array | None = None
    proven = True
    for aim in aims:
        if not aim.any() or (float(np.ptp(aim)) < SAME and chosen is not None and aim is not aims[-1]):
            continue
        found = milp(
            aim,
            constraints=LinearConstraint(csr_array(np.array(model.rows)), model.low, model.high),
            integrality=np.ones(len(pool), dtype=np.int64),
            bounds=Bounds(0, np.inf),
            options={"time_limit": seconds / len(aims), "mip_rel_gap": 0.0},
        )
        if found.x is None:
            return (None if chosen is None else _counted(pool, chosen)), False
        proven = proven and found.status == 0
        chosen = np.round(found.x)
        model.add(aim, -math.inf, float(aim @ chosen) + SAME * max(1.0, float(np.abs(aim).max())))
    return (None if chosen is None else _counted(pool, chosen)), proven


def _counted(pool: Sequence[Pattern], chosen: Array) -> list[Pattern]:
    return [pool[p] for p, n in enumerate(chosen) for _ in range(int(n))]


def _laid_out(asked: _Asked, marks: list[list[str]], bars: Sequence[Pattern]) -> tuple[CutBar, ...]:
    """Bars with their marks; on one of them as little as can be, so that its rest is the longest."""
    rows = _longest_rest(asked, bars)
    left = [list(m) for m in marks]
    out = []
    for k, row in rows:
        cuts = [left[n].pop(0) for n, count in enumerate(row) for _ in range(count)]
        used = float(sum(count * asked.sizes[n] for n, count in enumerate(row)))
        out.append(CutBar(asked.stock[k].length, tuple(cuts), round(max(asked.room(k) - used, 0.0), 6)))
    return tuple(sorted(out, key=lambda b: (-b.stock, b.left)))


def _longest_rest(asked: _Asked, bars: Sequence[Pattern]) -> list[Pattern]:
    """The same bars with no piece too many, and on one of them as little as can be.

    Every piece keeps its bar or goes to where it fits: a programme over which length lies on which bar, one
    for each stock among them, if they are few; else what is too many is taken from the last bars.
    """
    demand = asked.demand
    best = _trimmed(bars, demand)
    if len(bars) < 2 or len(bars) * len(demand) > 800:
        return best
    longest = max(_rest(asked, b) for b in best)
    for k in sorted({k for k, _ in bars}):
        found = _emptied(asked, [of for of, _ in bars], k)
        if found is not None and max(_rest(asked, b) for b in found) > longest + SAME:
            best, longest = found, max(_rest(asked, b) for b in found)
    return best


def _rest(asked: _Asked, bar: Pattern) -> float:
    return asked.room(bar[0]) - float(np.dot(bar[1], asked.sizes))


def _trimmed(bars: Sequence[Pattern], demand: NDArray[np.int64]) -> list[Pattern]:
    """What is cut once too often is taken off the bars that hold least, the last ones."""
    surplus = np.sum([row for _, row in bars], axis=0) - demand
    out = []
    for k, row in reversed(bars):
        kept = list(row)
        for n in range(len(kept)):
            drop = min(kept[n], int(surplus[n]))
            kept[n] -= drop
            surplus[n] -= drop
        out.append((k, tuple(kept)))
    return [b for b in reversed(out) if any(b[1])]


def _emptied(asked: _Asked, kinds: Sequence[int], k: int) -> list[Pattern] | None:
    """All lengths on these bars with the least on one of stock ``k``; None where it is not found in time."""
    one = kinds.index(k)
    b, n = len(kinds), len(asked.demand)
    aim = np.zeros(b * n)
    aim[one * n : one * n + n] = asked.sizes
    model = _Model()
    for m in range(n):
        row = np.zeros(b * n)
        row[m::n] = 1.0
        model.add(row, float(asked.demand[m]), float(asked.demand[m]))
    for at, kind in enumerate(kinds):
        row = np.zeros(b * n)
        row[at * n : at * n + n] = asked.sizes
        model.add(row, -math.inf, asked.room(kind) + SAME)
    found = milp(
        aim,
        constraints=LinearConstraint(csr_array(np.array(model.rows)), model.low, model.high),
        integrality=np.ones(b * n, dtype=np.int64),
        bounds=Bounds(0, np.tile(asked.demand.astype(float), b)),
        options={"time_limit": 2.0},
    )
    if found.x is None:
        return None
    x = np.round(found.x).astype(int).reshape(b, n)
    return [(kind, tuple(int(v) for v in row)) for kind, row in zip(kinds, x, strict=True) if row.any()]


def _too_few(asked: _Asked, marks: list[list[str]]) -> str:
    """Which piece finds no bar any more, by laying the longest first."""
    bars: list[float] = []
    for s, k in sorted(((s.length, k) for k, s in enumerate(asked.stock)), reverse=True):
        bars += [s - asked.trim] * (asked.stock[k].available or 0)
    for n, size in enumerate(asked.sizes):
        for mark in marks[n]:
            at = next((i for i, left in enumerate(bars) if left + SAME >= size), None)
            if at is None:
                return (
                    f"The bars there are do not suffice: “{mark}”, {asked.lengths[n]:.4g} mm, finds none; "
                    "take one bar more."
                )
            bars[at] -= float(size)
    return f"The bars there are do not suffice for “{marks[-1][-1]}”; take one bar more."


__all__ = ["CutBar", "Nest", "NoBar", "Piece", "Stock", "cut_stock"]
