"""Size it: from the catalogue, the stock, thicknesses, legs and bolts that hold with least mass, price or
fewest different stocks.

Few combinations are all tried, in order of what is asked for, so the first three that hold are the best there
are. Of many, every single change is tried from where one stands and the best that holds is taken, until none
is better; then every change of two. What does not hold at first is made stronger at its weakest link, step by
step, and where no size is left, as the trade would (``trade.py``): an edge bevelled, toes ground, a gusset, a
doubler, a brace, a shorter lever, the one that saves most for a kilogram.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import product
from typing import Literal

import numpy as np

from urial.assembly.bodies import mass, total_mass
from urial.assembly.model import Assembly, BuildError
from urial.families import build
from urial.geometry.shape import Bar, Plate
from urial.job.edit import EditError, all_specs, get, put
from urial.job.fields import Spec
from urial.job.model import Job
from urial.prove.costs import alike
from urial.prove.remedies import levers
from urial.prove.trade import Way, ways
from urial.prove.verdict import Verdict, prove
from urial.stock import catalogue
from urial.strength.check import Check

Aim = Literal["mass", "price", "fewest"]
WHOLE = 100
"""So many combinations are all tried."""
STEPS = 60
"""So often a search may go on from where it stands."""
AHEAD = (1, 2, 3, 5, 8, 12)
"""So many values larger a size is tried at a step."""
CLEAR = 0.05
"""What is foretold to be over by more than this is not proved."""
NEARLY = 0.005
"""What a place costs is foretold to this share."""
FAINT = 0.02
"""What is used less tells nothing of how it changes."""
LIGHT = 0.1
"""A change that weighs less counts as so much, kg: a bead is not free."""
LEGS = {
    "metric": (3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 14.0, 16.0),
    "inch": tuple(25.4 / 16 * n for n in (2, 3, 4, 5, 6, 8, 10)),
}
BEST = 3


@dataclass(frozen=True)
class Variable:
    """A size that may be chosen: its parameter and the values to choose from, the lightest first."""

    path: str
    values: tuple[object, ...]


@dataclass(frozen=True)
class Sizes:
    """One answer: what is changed, mass, price (None where none is known), different stocks, the largest
    utilisation and the check it is of.
    """

    changes: Mapping[str, object]
    job: Job
    mass_kg: float
    price: float | None
    stocks: int
    utilisation: float
    governing: str
    words: str
    also: str = ""  # what the trade would do besides, in words


@dataclass(frozen=True)
class Sized:
    """The best, three at most; how many were tried; why there are none; what the trade would do where sizes
    alone do not hold, the most for a kilogram first; where nothing holds, what came nearest.
    """

    found: tuple[Sizes, ...]
    tried: int
    why: str = ""
    ways: tuple[Way, ...] = ()
    nearest: Sizes | None = None


@dataclass(frozen=True)
class Wish:
    """What is asked for: least of what, every utilisation no more than ``target``, what stays as it is
    (parameters, or pieces by number), what may change (everything, if nothing is named), price of a kilogram
    by stock name or by kind (bar, plate, hardware), largest leg, the stocks there are (any, if none is
    named), and how many times as far as now what is loaded may give under its worst case (what is strong
    enough may still be too soft to live with).
    """

    aim: Aim = "mass"
    target: float = 1.0
    keep: tuple[str, ...] = ()
    only: tuple[str, ...] = ()
    prices: Mapping[str, float] = field(default_factory=dict)
    leg_mm: float = math.inf
    stocks: frozenset[str] = frozenset()
    softer: float = 1.5


Built = dict[tuple[str, object], Assembly]
"""What was built with one size changed: its path and value, and what came of it."""
Used = Mapping[str, float]
"""How far each check is used that sizes decide, by its id."""


@dataclass(frozen=True)
class Tried:
    """What one size did where it was tried: the place it was changed at, every check there and then (None
    where it could not be built), and the parameters that mend what was short.
    """

    where: tuple[int, ...]
    before: Used
    after: Used | None
    mends: frozenset[str]


def _most(v: Verdict) -> float:
    return max(_used(v).values(), default=0.0)


def _used(v: Verdict) -> Used:
    return {c.id: c.utilisation for c in v.checks if c.kind != "rating"}


# ---- what may be chosen


def variables(job: Job, wish: Wish | None = None, seen: Built | None = None) -> list[Variable]:
    """Every size of the job's pieces that may be chosen, with its values; what only one value of can be
    built is left out.  ``seen`` gets what was built for it.
    """
    wish = wish or Wish()
    out = []
    for path, spec in all_specs(job).items():
        if not path.startswith("stack.") or _stays(path, wish):
            continue
        built = {v: a for v in _values(job, path, spec, wish) if (a := _built(job, path, v)) is not None}
        kinds = {(tuple(a.parts), tuple(a.joints)) for a in built.values()}
        if len(kinds) > 1:  # else nothing of the part follows it
            out.append(Variable(path, tuple(built)))
            if seen is not None:
                seen.update({(path, v): a for v, a in built.items()})
    return out


def choosable(job: Job) -> tuple[str, ...]:
    """The parameters a search would look at, in the order of the pieces; none of them is built."""
    wish = Wish()
    table = ((p, s) for p, s in all_specs(job).items() if p.startswith("stack."))
    return tuple(p for p, s in table if len(_values(job, p, s, wish)) > 1)


def _stays(path: str, wish: Wish) -> bool:
    if wish.only and path not in wish.only:
        return True
    return any(path == k or path.startswith(f"stack.{k}.") for k in wish.keep)


def _built(job: Job, path: str, value: object) -> Assembly | None:
    try:
        return build(put(job, path, value))
    except (EditError, BuildError):
        return None


def _values(job: Job, path: str, spec: Spec, wish: Wish) -> Sequence[object]:
    """Candidates of a parameter, the lightest first, what it is now among them."""
    now, last = get(job, path), path.rsplit(".", 1)[-1]
    if spec.shelf in catalogue.SHELVES:
        name = catalogue.find(spec.shelf, now).name
        there = _stocked(spec.shelf, name) if not wish.stocks else _of_those(spec.shelf, name, wish.stocks)
        return [now if v == name else v for v in there]
    if spec.quantity != "length":
        return ()
    if "thick" in spec.title:
        rows = [p for p in catalogue.plates().values() if p.system == job.units]
        thick = {p.thickness for p in rows if 0.4 <= p.thickness / now <= 2.2} | {now}
        return [t for t in sorted(thick) if _allowed(spec, t)]
    if last.startswith("weld") and last.endswith("_mm"):
        legs = {leg for leg in LEGS[job.units] if leg <= wish.leg_mm} | {now}
        return [leg for leg in sorted(legs) if _allowed(spec, leg)]
    return ()


def _of_those(shelf: str, name: str, stocks: frozenset[str]) -> list[str]:
    """What of the stocks there are may stand in place of one, the lightest first, itself among it."""
    if shelf == "bar":
        here = catalogue.bar(name)
        bars = [b for b in catalogue.bars().values() if b.shape == here.shape]
        alike = [b for b in bars if b.name in stocks or b.name == name]
        return [b.name for b in sorted(alike, key=lambda b: b.section().area)]
    return [v for v in _stocked(shelf, name) if shelf == "bolt" or v in stocks or v == name]


def _stocked(shelf: str, name: str) -> list[str]:
    """What may stand in place of a stock, the lightest first, itself among it; nothing where it is none."""
    if shelf == "bar":
        return _bars(name)
    if shelf == "plate":
        here = catalogue.plate(name)
        rows = [p for p in catalogue.plates().values() if p.system == here.system]
        near = [p for p in rows if 0.4 <= p.thickness / here.thickness <= 2.2]
        return [p.name for p in sorted(near, key=lambda p: p.thickness)]
    if shelf == "bolt":
        size = catalogue.bolt(name)
        bolts = [b for b in catalogue.bolts().values() if b.system == size.system]
        alike = [b for b in bolts if 0.6 <= b.diameter / size.diameter <= 1.7]
        return [b.name for b in sorted(alike, key=lambda b: b.diameter)]
    return []


def _allowed(spec: Spec, value: float) -> bool:
    return (spec.lo is None or value >= spec.lo) and (spec.hi is None or value <= spec.hi)


def _bars(name: str) -> list[str]:
    """Bars of the same shape and system, from a third to twice the area; none that is heavier than another
    and weaker both ways.
    """
    here = catalogue.bar(name)
    area = here.section().area
    rows = [
        b
        for b in catalogue.bars().values()
        if b.shape == here.shape and b.system == here.system and 0.35 <= b.section().area / area <= 2.2
    ]
    out: list[str] = []
    kept: list[tuple[float, float]] = []
    for b in sorted(rows, key=lambda b: (b.section().area, -b.section().Wply)):
        s = b.section()
        same = (b.width, b.height) == (here.width, here.height)
        beaten = any(y >= s.Wply and z >= s.Wplz for y, z in kept)
        if same or not beaten:
            out.append(b.name)
            kept.append((s.Wply, s.Wplz))
    return out


# ---- what it costs


def stocks(assembly: Assembly) -> set[tuple[str, str]]:
    """Different stocks of an assembly: what it is cut from, and of which steel."""
    out = set()
    for p in assembly.parts:
        if isinstance(p.shape, Bar):
            out.add((p.shape.stock.name, p.material.name))
        elif isinstance(p.shape, Plate) and not p.hardware:
            out.add((f"{p.shape.t:.4g} mm", p.material.name))
    return out


def price_of(assembly: Assembly, prices: Mapping[str, float]) -> float | None:
    """Σ mass × price of a kilogram; None where something of it has none."""
    total = 0.0
    for p in assembly.parts:
        kind = "bar" if isinstance(p.shape, Bar) else "plate" if isinstance(p.shape, Plate) else "hardware"
        name = p.shape.stock.name if isinstance(p.shape, Bar) else ""
        each = prices.get(name, prices.get("hardware" if p.hardware else kind))
        if each is None:
            return None
        total += each * mass(p)
    return total


def gives(v: Verdict) -> float:
    """How far a loaded place moves in its worst case, mm."""
    if v.forces is None:
        return 0.0
    net, raw = v.forces.net, v.forces.raw
    far = np.linalg.norm(raw.displacements[:, :, :3], axis=2)
    nodes = {n: raw.node_index[net.at_part[v.points[n].part][n]] for case in v.cases for n in case.loads}
    return max((float(far[k, nodes[n]]) for k, case in enumerate(v.cases) for n in case.loads), default=0.0)


# ---- the search


class _Search:
    """Combinations by the numbers of their values: each built once, proved once."""

    def __init__(
        self,
        job: Job,
        found: Sequence[Variable],
        wish: Wish,
        stopped: Callable[[], bool],
        tell: Callable[[str], None],
        seen: Built | None = None,
    ) -> None:
        self.seen = seen if seen is not None else {}
        self.alone: dict[tuple[int, int], tuple[float, ...] | None] = {}
        self.job, self.vars, self.wish, self.stopped, self.tell = job, list(found), wish, stopped, tell
        self.built: dict[tuple[int, ...], tuple[Job, Assembly, tuple[float, ...]] | None] = {}
        self.proved: dict[tuple[int, ...], Verdict | None] = {}
        self.minds: set[str] = set()
        self.gives = math.inf
        self.changed: dict[tuple[int, int, int], Tried] = {}

    def start(self) -> tuple[int, ...]:
        """Where the job stands."""
        return tuple(v.values.index(get(self.job, v.path)) for v in self.vars)

    def at(self, where: tuple[int, ...]) -> tuple[Job, Assembly, tuple[float, ...]] | None:
        """The job there, built, and its cost; None where it cannot be built."""
        if where not in self.built:
            job = self.job
            try:
                for v, n in zip(self.vars, where, strict=True):
                    if get(job, v.path) != v.values[n]:
                        job = put(job, v.path, v.values[n])
                assembly = build(job)
                self.built[where] = (job, assembly, self.cost(assembly))
            except (EditError, BuildError):
                self.built[where] = None
        return self.built[where]

    def cost(self, assembly: Assembly) -> tuple[float, ...]:
        """What is to be least, then mass."""
        whole = total_mass(assembly)
        if self.wish.aim == "fewest":
            return (float(len(stocks(assembly))), whole)
        if self.wish.aim == "price":
            return (price_of(assembly, self.wish.prices) or 0.0, whole)
        return (whole,)

    def verdict(self, where: tuple[int, ...]) -> Verdict | None:
        """The verdict there; None where it cannot be built or stand."""
        if where not in self.proved:
            found = self.at(where)
            try:
                self.proved[where] = prove(found[0]) if found else None
            except BuildError:
                self.proved[where] = None
            if len(self.proved) % 5 == 0:
                self.tell(f"{len(self.proved)} tried")
        return self.proved[where]

    def over(self, v: Verdict) -> float:
        """By how much the checks that sizes decide are over the target, added."""
        return sum(max(c.utilisation - self.wish.target, 0.0) for c in v.checks if c.kind != "rating")

    def holds(self, where: tuple[int, ...]) -> bool:
        """Nothing over the target, nothing new to mind."""
        v = self.verdict(where)
        if v is None:
            return False
        worst = _most(v)
        return worst < 1.0 and worst <= self.wish.target + 1e-12 and not self.bars(v)

    def bars(self, v: Verdict) -> bool:
        """Is it too soft, or does it bring something new to mind?"""
        return gives(v) > self.gives or bool({alike(w) for w in v.warnings} - self.minds)

    def better(self, here: tuple[int, ...], two: bool) -> tuple[int, ...] | None:
        """The cheapest change of one size, or of two, that holds and costs less than ``here``."""
        now = self.at(here)
        assert now is not None
        dear = now[2] if self.wish.aim == "fewest" else (now[2][0] + NEARLY * abs(now[2][0]),)
        for cost, there in sorted((c, w) for w in self.near(here, two) if (c := self.cost_near(w, here))):
            if self.stopped() or cost >= dear:
                return None
            if self.foretold(there, here) > self.wish.target + CLEAR:
                continue
            found = self.at(there)
            if found is not None and found[2] < now[2] and self.holds_beside(there, here):
                return there
        return None

    # ---- what is foretold: what a size has done before it does again

    def holds_beside(self, there: tuple[int, ...], here: tuple[int, ...]) -> bool:
        """Does a place hold?  What one size does to every check is remembered."""
        held = self.holds(there)
        steps = [k for k, (a, b) in enumerate(zip(here, there, strict=True)) if a != b]
        v, base = self.verdict(there), self.verdict(here)
        if len(steps) == 1 and base is not None:
            (k,) = steps
            over = [c for c in v.checks if c.utilisation > self.wish.target] if v is not None else []
            self.changed[k, here[k], there[k]] = Tried(
                here,
                _used(base),
                _used(v) if v is not None else None,
                frozenset(c.path for c in over if c.path),
            )
        return held

    def foretold(self, there: tuple[int, ...], here: tuple[int, ...]) -> float:
        """What is used most at a place, as each of its sizes alone changed every check when it was tried,
        here or elsewhere; 0 where nobody knows.
        """
        if there in self.proved:
            return 0.0
        v = self.verdict(here)
        steps = [k for k, (a, b) in enumerate(zip(here, there, strict=True)) if a != b]
        if v is None:
            return 0.0
        used = dict(_used(v))
        for k in steps:
            key = k, here[k], there[k]
            if key not in self.changed:
                if len(steps) == 1:
                    return 0.0
                self.holds_beside((*here[:k], there[k], *here[k + 1 :]), here)
            tried = self.changed[key]
            moved = {
                self.vars[n].path
                for n, (was, goes) in enumerate(zip(tried.where, there, strict=True))
                if was != goes and n != k
            }
            if tried.after is None or moved & tried.mends:  # it may be built, or hold, with the other size
                return 0.0
            for ident, u in tried.after.items():
                was = tried.before.get(ident, 0.0)
                if was <= FAINT or ident not in used:
                    used[ident] = u
                else:
                    used[ident] *= u / was
        return max(used.values(), default=0.0)

    def cost_near(self, there: tuple[int, ...], here: tuple[int, ...]) -> tuple[float, ...] | None:
        """What a place costs, about: each size adds what it adds where the job stands.  None where it cannot
        be built.
        """
        now = self.at(here)
        steps = [k for k, (a, b) in enumerate(zip(here, there, strict=True)) if a != b]
        rows = [(self._cost_alone(k, there[k]), self._cost_alone(k, here[k])) for k in steps]
        if now is None or self.wish.aim == "fewest" or any(a is None or b is None for a, b in rows):
            found = self.at(there)  # different stocks do not add up
            return found[2] if found is not None else None
        return tuple(c + sum(a[n] - b[n] for a, b in rows if a and b) for n, c in enumerate(now[2]))

    def _cost_alone(self, k: int, n: int) -> tuple[float, ...] | None:
        """What the job costs with one size changed."""
        if (k, n) not in self.alone:
            var = self.vars[k]
            built = self.seen.get((var.path, var.values[n]))
            if built is None:
                start = self.start()
                found = self.at((*start[:k], n, *start[k + 1 :]))
                built = found[1] if found is not None else None
            self.alone[k, n] = self.cost(built) if built is not None else None
        return self.alone[k, n]

    def near(self, where: tuple[int, ...], two: bool) -> Iterator[tuple[int, ...]]:
        """Every change of one size; or one up a step and another down one or two."""
        counts = [len(v.values) for v in self.vars]
        if not two:
            for k, count in enumerate(counts):
                yield from ((*where[:k], n, *where[k + 1 :]) for n in range(count) if n != where[k])
            return
        for k in range(len(counts)):
            for m in range(len(counts)):
                for down in (1, 2):
                    if m != k and where[k] + 1 < counts[k] and where[m] - down >= 0:
                        moved = list(where)
                        moved[k] += 1
                        moved[m] -= down
                        yield tuple(moved)

    def stronger(self, where: tuple[int, ...]) -> tuple[int, ...] | None:
        """From a place that does not hold to one that does, each step where it helps most for its mass."""
        for _ in range(STEPS):
            v = self.verdict(where)
            if v is None or self.stopped():
                return None
            if self.holds(where):
                return where
            over = [c for c in v.checks if c.kind != "rating" and c.utilisation > self.wish.target]
            ends: list[Check | None] = [*over] or [None]
            for short in ends:  # the weakest link first; where nothing mends it, the next
                helps = [(self._worth(there, v), there) for there in self._heavier(where, v, short)]
                if helps and max(helps)[0][1] > 0.0:
                    where = max(helps)[1]
                    nearer = self.verdict(where)
                    assert nearer is not None
                    self.tell(f"{len(self.proved)} tried, the nearest {100 * _most(nearer):.0f} % used")
                    break
            else:
                return None
        return None

    def _heavier(self, where: tuple[int, ...], v: Verdict, short: Check | None) -> Iterator[tuple[int, ...]]:
        """Places where one size that may mend a short check is larger."""
        mends = levers(v.job, v, short) if short else [x.path for x in self.vars]
        for k, var in enumerate(self.vars):
            if var.path in mends:
                for n in (where[k] + ahead for ahead in AHEAD):
                    if n < len(var.values):
                        yield (*where[:k], n, *where[k + 1 :])

    def _worth(self, there: tuple[int, ...], v: Verdict) -> tuple[bool, float]:
        """Does a place bring nothing new to mind, and what does it take off what is over for a kilogram?"""
        other = self.verdict(there)
        gain = self.over(v) - self.over(other) if other is not None else 0.0
        if other is None or gain < 1e-6:
            return False, 0.0
        heavier = total_mass(other.assembly) - total_mass(v.assembly)
        return not {alike(w) for w in other.warnings} - self.minds, gain / max(heavier, LIGHT)

    def nearest(self) -> Sizes | None:
        """What came nearest of all that was proved; None where that is how the job stands."""
        used = {w: _most(v) for w, v in self.proved.items() if v is not None}
        best = min(used, key=lambda w: used[w], default=self.start())
        return self.answer(best) if best != self.start() else None

    def answer(self, where: tuple[int, ...]) -> Sizes:
        """A place as an answer."""
        found, v = self.at(where), self.verdict(where)
        assert found is not None and v is not None
        job, assembly, _ = found
        changes = {
            x.path: x.values[n] for x, n, was in zip(self.vars, where, self.start(), strict=True) if n != was
        }
        worst = v.governing
        price = price_of(assembly, self.wish.prices) if self.wish.prices else None
        return Sizes(
            changes,
            job,
            total_mass(assembly),
            price,
            len(stocks(assembly)),
            worst.utilisation,
            worst.id,
            worst.name,
        )


def size(
    job: Job,
    wish: Wish | None = None,
    stopped: Callable[[], bool] = lambda: False,
    tell: Callable[[str], None] = lambda _: None,
    deep: int = 2,
) -> Sized:
    """The best sizes for a job; where sizes do not mend it, with up to ``deep`` ways of the trade first.
    ValueError when a price is asked for and none is known; BuildError when the job itself cannot be built.
    """
    wish = wish or Wish()
    now = prove(job)
    if wish.aim == "price" and price_of(now.assembly, wish.prices) is None:
        raise ValueError(
            "The least price needs what a kilogram costs: of bar, plate and hardware, or of each stock by "
            "name; give the prices."
        )
    limit = next(
        (c for c in now.checks if c.kind == "rating" and (c.short or c.utilisation > wish.target)), None
    )
    if limit is not None:
        how = "is short" if limit.short else f"is {100 * limit.utilisation:.0f} % used"
        return Sized((), 1, f"No size mends what somebody else limits: {limit.name} {how}.")
    tell("what may be chosen")
    seen: Built = {}
    search = _Search(job, variables(job, wish, seen), wish, stopped, tell, seen)
    if not search.vars:
        return Sized((), 1, "There is no size to choose: everything stays as it is.")
    search.gives = wish.softer * gives(now)
    search.minds = {alike(w) for w in now.warnings}
    places = _whole(search) if math.prod(len(v.values) for v in search.vars) <= WHOLE else _walk(search)
    if places:
        return Sized(tuple(search.answer(w) for w in places), len(search.proved))
    found = ways(job, now, None, lambda path: _stays(path, wish), stopped, tell)
    tried, nearest = len(search.proved), search.nearest()
    for way in found[: BEST if deep > 1 else 1] if deep else ():
        if stopped():
            break
        after = size(way.job, wish, stopped, tell, deep - 1)
        tried += after.tried
        if after.found:
            both = tuple(
                replace(s, changes={**dict(way.changes), **s.changes}, also=_also(way, s))
                for s in after.found
            )
            return Sized(both, tried, ways=tuple(found))
        if after.nearest is not None and (nearest is None or after.nearest.utilisation < nearest.utilisation):
            s = after.nearest
            nearest = replace(s, changes={**dict(way.changes), **s.changes}, also=_also(way, s))
    worst = next((c for c in now.checks if c.kind != "rating"), None)
    what = f"; {worst.name} stays short" if worst is not None and worst.short else ""
    return Sized(
        (),
        tried,
        f"No sizes from stock hold{what}. Change its shape, or ask less of it.",
        tuple(found),
        nearest,
    )


def _also(way: Way, s: Sizes) -> str:
    return ", and ".join(x for x in (way.words, s.also) if x)


def _whole(search: _Search) -> list[tuple[int, ...]]:
    """Every combination, the cheapest first, until three hold."""
    every = product(*(range(len(v.values)) for v in search.vars))
    priced = [(found[2], w) for w in every if not search.stopped() and (found := search.at(w)) is not None]
    out: list[tuple[int, ...]] = []
    for _, where in sorted(priced):
        if search.stopped() or len(out) == BEST:
            break
        if search.holds(where):
            out.append(where)
    return out


def _walk(search: _Search) -> list[tuple[int, ...]]:
    """From where it stands: strong enough first, then down to where no change of one or two sizes is better;
    the best met on the way.
    """
    where = search.stronger(search.start())
    if where is None:
        return []
    for _ in range(STEPS):
        better = search.better(where, two=False) or search.better(where, two=True)
        if better is None or search.stopped():
            break
        where = better
    held = [w for w, v in search.proved.items() if v is not None and search.holds(w)]
    best: dict[tuple[int, ...], tuple[int, ...]] = {}
    beads = [v.path.rsplit(".", 1)[-1].startswith("weld") for v in search.vars]
    for w in sorted(held, key=lambda w: search.built[w][2]):  # type: ignore[index]
        best.setdefault(tuple(n for n, bead in zip(w, beads, strict=True) if not bead), w)
    return list(best.values())[:BEST]  # what differs by a bead alone is no other answer
