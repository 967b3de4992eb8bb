"""Chance of being short: the job judged many times as it might come out of the shop.

Lengths stray as a tape does, plates and walls as the mill rolls them, legs as a hand lays them, and strengths
lie above their minimum and about a mean (``scatter.toml``, each with its source). What is cut from one stock
is of one heat and one thickness; every kind of bead has a leg of its own. Loads, vehicle limits and
categories of endurance stay as they are. A sample is drawn from its own seed, so that neither the number of
processes nor who shares the work changes what comes out.
"""

from __future__ import annotations

import math
import tomllib
from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, replace
from functools import cache
from importlib.resources import files

import numpy as np
from numpy.typing import NDArray

from urial.assembly.model import Assembly, Bolts, BuildError, Clamp, Joint, Part, Pin, Plugs, Stud, Weld
from urial.families import build
from urial.geometry.shape import Bar, Plate
from urial.job.edit import EditError, all_specs, get, put
from urial.job.model import Job
from urial.prove.verdict import Verdict, prove
from urial.stock.catalogue import BoltGrade, Electrode, Material
from urial.strength.check import APART

Array = NDArray[np.float64]
SAMPLES, MOST = 400, 100_000
CHUNK = 8
"""So many samples are one piece of work for a process."""
FEW = 32
"""No more than so many are judged here, without other processes."""
SURE = 0.95


@dataclass(frozen=True)
class Row:
    """How one kind of figure strays."""

    words: str
    mean: float
    cov: float
    sd_mm: float
    source: str
    with_yield: float = 0.0

    @property
    def said(self) -> str:
        """Mean and scatter in words."""
        return f"± {self.sd_mm:g} mm" if self.sd_mm else f"{self.mean:g} times, scatter {100 * self.cov:g} %"


@cache
def rows() -> Mapping[str, Row]:
    """The table of what strays, by name."""
    raw = tomllib.loads((files("urial.prove") / "data" / "scatter.toml").read_text(encoding="utf-8"))
    return {
        name: Row(
            r["words"],
            float(r.get("mean", 1.0)),
            float(r.get("cov", 0.0)),
            float(r.get("sd_mm", 0.0)),
            r["source"],
            float(r.get("with_yield", 0.0)),
        )
        for name, r in raw.items()
    }


class Draw:
    """One sample's figures, each drawn once: ``times(kind, of)`` by name of what strays and of what it is.

    Each figure has a seed of its own made of all three names, so that a part more or less moves no other.
    """

    def __init__(self, seed: int, number: int) -> None:
        self.seed, self.number = seed, number

    def normal(self, kind: str, of: str) -> float:
        """A standard normal figure."""
        name = f"{kind}\0{of}".encode()
        return float(np.random.default_rng([self.seed, self.number, *name]).standard_normal())

    def times(self, kind: str, of: str) -> float:
        """A factor with the kind's mean and scatter, lognormal: never negative."""
        row = rows()[kind]
        z = self.normal(kind, of)
        if row.with_yield:
            r = row.with_yield
            z = r * self.normal("yield", of) + math.sqrt(1 - r * r) * z
        s = math.sqrt(math.log1p(row.cov**2))
        return row.mean * math.exp(s * z - s * s / 2)

    def off(self, of: str) -> float:
        """How far a length is off, mm; never more than three times its scatter, as a tape would show."""
        return rows()["length"].sd_mm * min(max(self.normal("length", of), -3.0), 3.0)


# ---- a job as it might come out


def strayed_lengths(job: Job, draw: Draw) -> Job:
    """The job with every length of its pieces as cut; one that cannot be is left as drawn."""
    for path, spec in all_specs(job).items():
        if not path.startswith("stack.") or spec.quantity != "length" or not get(job, path):
            continue
        if "thick" in spec.title or "leg" in spec.title.split():  # these stray as stock and beads do
            continue
        try:
            job = put(job, path, get(job, path) + draw.off(path))
        except EditError:
            continue
    return job


def strayed(assembly: Assembly, draw: Draw) -> Assembly:
    """An assembly with walls, thicknesses, beads and strengths as they came."""
    parts = tuple(p if p.rated else _part(p, draw) for p in assembly.parts)
    return replace(assembly, parts=parts, joints=tuple(_joint(j, draw) for j in assembly.joints))


def _metal(m: Material, stock: str, draw: Draw) -> Material:
    of = f"{m.name}, {stock}"
    fy, fu = m.Fy * draw.times("yield", of), m.Fu * draw.times("tensile", of)
    return replace(m, Fy=min(fy, fu), Fu=fu)


def _part(p: Part, draw: Draw) -> Part:
    shape, metal = p.shape, _metal(p.material, p.stock, draw)
    if isinstance(shape, Bar) and shape.stock.wall > 0:
        wall = shape.stock.wall * draw.times("thickness", shape.stock.name)
        shape = replace(shape, stock=replace(shape.stock, wall=wall))
    elif isinstance(shape, Plate):
        of = f"{p.material.name}, {shape.t:.6g}"
        shape = replace(shape, t=shape.t * draw.times("thickness", of))
    return replace(p, shape=shape, material=metal)


def _filler(e: Electrode, draw: Draw) -> Electrode:
    return replace(e, FEXX=e.FEXX * draw.times("filler", e.name))


def _grade(g: BoltGrade, draw: Draw) -> BoltGrade:
    k = draw.times("bolt", g.name)
    return replace(g, Fu=g.Fu * k, small_Fu=g.small_Fu * k)


def _joint(j: Joint, draw: Draw) -> Joint:
    how = j.how
    if isinstance(how, Weld):
        leg = how.leg * draw.times("leg", j.family)
        return replace(j, how=replace(how, leg=leg, electrode=_filler(how.electrode, draw)))
    if isinstance(how, Plugs):
        return replace(j, how=replace(how, electrode=_filler(how.electrode, draw)))
    if isinstance(how, (Bolts, Clamp)):
        return replace(j, how=replace(how, grade=_grade(how.grade, draw)))
    if isinstance(how, (Pin, Stud)):
        return replace(j, how=replace(how, material=_metal(how.material, "pin", draw)))
    return j


# ---- many of them


@dataclass(frozen=True)
class Outcome:
    """One sample: how far the weakest link is used in one hard load and again and again (0 where nothing is
    judged so), and which links those are.
    """

    hard: tuple[float, str] = (0.0, "")
    again: tuple[float, str] = (0.0, "")


def sample(job: Job, seed: int, number: int) -> Outcome | None:
    """Judge one part as it might come out; None when it cannot be built."""
    draw = Draw(seed, number)
    try:
        return _outcome(prove(strayed_lengths(job, draw), lambda one: strayed(build(one), draw)))
    except BuildError:
        return None


def _outcome(v: Verdict) -> Outcome:
    def worst(kinds: Callable[[str], bool]) -> tuple[float, str]:
        return next(((c.utilisation, c.name) for c in v.checks if kinds(c.kind)), (0.0, ""))

    return Outcome(worst(lambda k: k not in APART), worst(lambda k: k == "fatigue"))


def _some(job: Job, seed: int, numbers: Sequence[int]) -> list[Outcome | None]:
    return [sample(job, seed, n) for n in numbers]


@dataclass(frozen=True)
class Share:
    """How far the weakest link was used in each sample (n,), in rising order; how often each link was it; as
    drawn.
    """

    used: Array
    governs: tuple[tuple[str, int], ...]
    as_drawn: float

    @property
    def short(self) -> int:
        """So many use more than is allowed."""
        return int((self.used >= 1.0).sum())

    @property
    def chance(self) -> float:
        """The share of them; nan of none."""
        return self.short / len(self.used) if len(self.used) else math.nan

    @property
    def between(self) -> tuple[float, float]:
        """What the share of all parts may be, 95 % sure (Clopper and Pearson)."""
        from scipy.stats import beta

        n, k, a = len(self.used), self.short, 1 - SURE
        low = float(beta.ppf(a / 2, k, n - k + 1)) if k else 0.0
        high = float(beta.ppf(1 - a / 2, k + 1, n - k)) if k < n else 1.0
        return low, high

    def at(self, share: float) -> float:
        """What a share of them use no more than."""
        return float(np.quantile(self.used, share))

    @property
    def words(self) -> str:
        """One sentence for the shop."""
        n = len(self.used)
        if not n:
            return "none of the samples could be built."
        low, high = self.between
        if not self.short:
            head = f"none of {n} short, a chance below {_percent(high)}"
        elif self.short == n:
            head = f"every one of {n} short, a chance above {_percent(low)}"
        else:
            head = f"{self.short} of {n} short, a chance of {_percent(low)} to {_percent(high)}"
        return (
            f"{head} (95 % sure); half of them use less than {100 * self.at(0.5):.0f} %, "
            f"nineteen of twenty less than {100 * self.at(0.95):.0f} %."
        )


@dataclass(frozen=True)
class Chance:
    """What came of the samples: in one hard load, again and again (None where nothing is judged so), how many
    could not be built, how many were asked for.
    """

    hard: Share
    again: Share | None
    unbuilt: int
    asked: int

    @property
    def words(self) -> tuple[str, ...]:
        """What came of it, a sentence each."""
        out = [f"In one hard load: {self.hard.words}"]
        if self.again is not None:
            out.append(f"Again and again: {self.again.words}")
        if self.unbuilt:
            out.append(f"{self.unbuilt} could not be built as they strayed and are not counted.")
        return tuple(out)


def _percent(share: float) -> str:
    p = 100 * share
    return f"{p:.0f} %" if p >= 10 else f"{p:.1f} %" if p >= 1 else f"{p:.2g} %"


@contextmanager
def _who(dask: str) -> Iterator[int]:
    """Who shares the work: this machine's processors, or a Dask cluster by its scheduler's address."""
    import joblib

    if not dask:
        yield joblib.cpu_count()
        return
    try:
        from distributed import Client
    except ImportError:
        raise BuildError(
            "A Dask cluster needs the packages dask and distributed; install urial with its extra “cluster”."
        ) from None
    try:
        client = Client(dask, timeout=10)
    except (OSError, ValueError):
        raise BuildError(f"No Dask scheduler answers at {dask}; give its address, tcp://host:8786.") from None
    with client, joblib.parallel_config("dask", client=client):
        yield max(sum(client.nthreads().values()), 1)


def chance(
    job: Job,
    samples: int = SAMPLES,
    seed: int = 1,
    dask: str = "",
    stopped: Callable[[], bool] = lambda: False,
    tell: Callable[[str], None] = lambda _: None,
) -> Chance:
    """Judge ``samples`` parts as they might come out.  Stopped early, what is known so far counts.

    BuildError when the job itself cannot be built, or no cluster answers.
    """
    drawn = _outcome(prove(job))
    chunks = [range(k, min(k + CHUNK, samples)) for k in range(0, samples, CHUNK)]
    done: list[Outcome | None] = []
    if samples <= FEW and not dask:
        for numbers in chunks:
            if stopped():
                break
            done += _some(job, seed, numbers)
            tell(f"{len(done)} of {samples}")
    else:
        _shared(job, seed, chunks, dask, done, stopped, lambda: tell(f"{len(done)} of {samples}"))
    built = [o for o in done if o is not None]
    hard = _share([o.hard for o in built], drawn.hard[0])
    again = _share([o.again for o in built], drawn.again[0]) if drawn.again[1] else None
    return Chance(hard, again, len(done) - len(built), samples)


def _share(found: Sequence[tuple[float, str]], as_drawn: float) -> Share:
    counted = Counter(name for _, name in found if name)
    return Share(np.sort(np.array([u for u, _ in found])), tuple(counted.most_common()), as_drawn)


def _shared(
    job: Job,
    seed: int,
    chunks: Sequence[Sequence[int]],
    dask: str,
    done: list[Outcome | None],
    stopped: Callable[[], bool],
    told: Callable[[], None],
) -> None:
    """The chunks by joblib, a round of one chunk for each worker at a time, so that it can be stopped."""
    import joblib

    with _who(dask) as workers:
        try:
            for k in range(0, len(chunks), workers):
                if stopped():
                    return
                work = (joblib.delayed(_some)(job, seed, numbers) for numbers in chunks[k : k + workers])
                for part in joblib.Parallel(n_jobs=workers)(work):
                    done += part
                told()
        finally:
            if not dask:
                from joblib.externals.loky import get_reusable_executor

                get_reusable_executor().shutdown(wait=False)
