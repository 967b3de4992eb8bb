"""In what order the runs are laid so that they pull least, each from which end, and how long to wait.

The order is sought from several starts (as listed, by turns over all seams, from the middle out) by
exchanging and moving runs until nothing gets better or the tries are spent; it is never worse than the list.
Heat: each seam with the metal beside it is one lump that cools to the air, and no run begins on one that is
warmer than the interpass limit.
"""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import dist

from urial.assembly import facts
from urial.assembly.model import Assembly
from urial.geometry.place import Vec
from urial.making.welding.figures import figures
from urial.making.welding.pull import Model, Pull
from urial.making.welding.seams import Seam

TRIES = 4000
"""So many orders at most are looked at."""
WORTH = 1e-9
WORSE = 1e4
"""What it costs to make one of the three figures worse than as listed, for its share."""


@dataclass(frozen=True)
class Laid:
    """A straight piece of a run in its turn: its seam's number, from here to there, how long to wait before
    it (s), the seconds its arc burns, and which run of the order it belongs to (from 1).
    """

    seam: str
    a: Vec
    b: Vec
    wait: float
    arc: float
    turn: int = 0


@dataclass(frozen=True)
class Order:
    """The runs in their turn, what they pull so and as listed, and whether it was stopped early."""

    laid: tuple[Laid, ...]
    as_listed: Pull
    in_order: Pull
    whole: bool = True


def weld_order(
    assembly: Assembly, seams: Sequence[Seam], stopped: Callable[[], bool] = lambda: False
) -> Order:
    """The order found, its waits with it.  Stopped, it is the best so far."""
    model = Model(assembly, seams)
    count = len(model.runs)
    listed = list(range(count))
    before = model.pull(listed)
    if not count:
        return Order((), before, before)
    best, done = sought(model, stopped)
    best = cooler(assembly, model, best, stopped)
    after = model.pull(best)
    return Order(_laid(assembly, model, best), before, after, done)


def sought(
    model: Model, stopped: Callable[[], bool] = lambda: False, tries: int = TRIES
) -> tuple[list[int], bool]:
    """The order of least cost that was found, and whether the search came to its end."""
    count = len(model.runs)
    listed = model.pull(range(count))

    def price(order: Sequence[int]) -> float:
        """Its cost, and far more where anything of it is worse than as listed."""
        p = model.pull(order)
        worse = sum(
            max(a - b, 0.0) / (b + 1e-3)
            for a, b in ((p.camber, listed.camber), (p.angle, listed.angle), (p.twist, listed.twist))
        )
        return p.cost + WORSE * worse

    best = min([list(range(count)), _by_turns(model), _middle_out(model)], key=price)
    least = price(best)
    rng, spent = random.Random(7), 0
    while spent < tries and count > 1:
        found = False
        for _ in range(min(tries - spent, 40 * count)):
            if stopped():
                return best, False
            spent += 1
            trial = list(best)
            i, k = rng.sample(range(count), 2)
            if rng.random() < 0.5:
                trial[i], trial[k] = trial[k], trial[i]
            else:
                trial.insert(k, trial.pop(i))
            cost = price(trial)
            if cost < least - WORTH:
                best, least, found = trial, cost, True
        if not found:
            break
    return best, True


COOLER, GIVEN = 600, 1.03
"""So many exchanges are tried for less waiting, and so much more the pull may then cost; never more than half
of what the order gained."""


def cooler(
    assembly: Assembly, model: Model, order: Sequence[int], stopped: Callable[[], bool] = lambda: False
) -> list[int]:
    """The same runs with less waiting: heat is kept apart while the pull stays what it is, or nearly."""
    listed, best = model.pull(range(len(order))), list(order)
    now = model.pull(best).cost
    most = min(now * GIVEN, (now + listed.cost) / 2)
    lumps, burnt = _heat(assembly, model)
    least = sum(_waits(lumps, burnt, best))
    rng = random.Random(11)
    for _ in range(COOLER if least > 1.0 and len(best) > 1 else 0):
        if stopped():
            break
        trial = list(best)
        i, k = rng.sample(range(len(trial)), 2)
        trial.insert(k, trial.pop(i))
        waits = sum(_waits(lumps, burnt, trial))
        if waits >= least - 0.5:
            continue
        p = model.pull(trial)
        if (
            p.cost <= most
            and p.camber <= listed.camber
            and p.angle <= listed.angle
            and p.twist <= listed.twist
        ):
            best, least = trial, waits
    return best


def _waits(
    lumps: Sequence[Lump], burnt: Sequence[tuple[int, float, float]], order: Sequence[int]
) -> list[float]:
    """How long to wait before each run of an order, s."""
    limit = float(figures()["heat"]["interpass_C"])
    for one in lumps:
        one.at, one.now = one.air, 0.0
    now, out = 0.0, []
    for k in order:
        n, seconds, joules = burnt[k]
        wait = lumps[n].wait(now, limit)
        now += wait + seconds
        lumps[n].warm(now, joules)
        out.append(wait)
    return out


def _by_turns(model: Model) -> list[int]:
    """One run of each seam, then the next of each, every other one from the far end."""
    own: dict[int, list[int]] = {}
    for k, (n, _) in enumerate(model.runs):
        own.setdefault(n, []).append(k)
    out: list[int] = []
    queues = [list(v) for v in own.values()]
    turn = 0
    while any(queues):
        for q in queues:
            if q:
                out.append(q.pop(0 if turn % 2 == 0 else -1))
        turn += 1
    return out


def _middle_out(model: Model) -> list[int]:
    """From the middle of everything outwards, left and right in turn by their distance."""
    spots = [r.middle for _, r in model.runs]
    centre = tuple(sum(p[n] for p in spots) / len(spots) for n in range(3))
    return sorted(range(len(spots)), key=lambda k: (round(dist(spots[k], centre), 1), k))


# ---- from which end, and when


def _laid(assembly: Assembly, model: Model, order: Sequence[int]) -> tuple[Laid, ...]:
    lumps, burnt = _heat(assembly, model)
    done, out = set[int](), list[Laid]()
    for turn, (k, wait) in enumerate(zip(order, _waits(lumps, burnt, order), strict=True), 1):
        n, seconds, _ = burnt[k]
        for m, (a, b, share) in enumerate(_ends(model, k, done)):
            out.append(Laid(model.seams[n].number, a, b, 0.0 if m else wait, seconds * share, turn))
        done.add(k)
    return tuple(out)


def _heat(assembly: Assembly, model: Model) -> tuple[list[Lump], list[tuple[int, float, float]]]:
    """The seams' metal, and of every run its seam, the seconds of its arc and its joules."""
    return (
        [lump(assembly, s) for s in model.seams],
        [(n, *_burnt(model.seams[n], run.volume)) for n, run in model.runs],
    )


def _burnt(seam: Seam, volume: float) -> tuple[float, float]:
    """Seconds of arc and joules for some of a seam's metal, mm³."""
    area = seam.arc.area
    return seam.arc.second_mm * volume / area, seam.arc.joule_mm * volume / area


def _ends(model: Model, k: int, done: set[int]) -> list[tuple[Vec, Vec, float]]:
    """Back-step: a run begins away from metal that is laid already and ends on it.  Its pieces, each from
    here to there and its share of the run.
    """
    n, run = model.runs[k]
    there = [q for d in done if model.runs[d][0] == n for p in model.runs[d][1].pieces for q in (p.a, p.b)]
    first, last = run.pieces[0].a, run.pieces[-1].b
    back = bool(there) and min(dist(first, q) for q in there) < min(dist(last, q) for q in there)
    whole = run.volume
    rows = [(p.a, p.b, p.area * (p.length or 1.0) / whole) for p in run.pieces]
    return [(b, a, share) for a, b, share in reversed(rows)] if back else rows


class Lump:
    """A seam's metal: its mass (kg) and what it gives to the air (W/K); as warm as the air at first."""

    def __init__(self, mass: float, loss: float) -> None:
        f = figures()["heat"]
        self.air = self.at = float(f["air_C"])
        self.now = 0.0
        self.capacity: float = mass * float(f["steel_J_kgK"])
        self.slow = self.capacity / loss
        """Time after which it is 1/e as warm, s."""

    def degrees(self, now: float) -> float:
        """How warm it is, °C."""
        return self.air + (self.at - self.air) * math.exp(-(now - self.now) / self.slow)

    def wait(self, now: float, limit: float) -> float:
        """How long until it is no warmer than a limit, s."""
        warm = self.degrees(now)
        over = (warm - self.air) / (limit - self.air)
        return self.slow * math.log(over) if over > 1.0 else 0.0

    def warm(self, now: float, joules: float) -> None:
        """Heat goes in."""
        self.at, self.now = self.degrees(now) + joules / self.capacity, now


def lump(assembly: Assembly, seam: Seam) -> Lump:
    """A seam with the metal beside it, on each of the two pieces as wide as the figures say."""
    f = figures()["heat"]
    wide, long = f["beside_mm"] / 1000, max(seam.length, 2 * seam.leg) / 1000
    parts = [assembly.by_key[k] for k in seam.parts if k in assembly.by_key]
    mass = loss = 0.0
    for p in parts:
        thick = facts.thickness(p) / 1000
        mass += p.material.density * thick * wide * long
        loss += f["film_W_m2K"] * 2 * wide * long
    return Lump(mass, loss)


__all__ = ["Laid", "Lump", "Order", "cooler", "lump", "sought", "weld_order"]
