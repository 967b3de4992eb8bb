"""What a part must bear again and again: for each duty the swings of its force about what is always there."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from urial.assembly.model import Assembly
from urial.geometry.place import Vec, minus, times
from urial.job.model import Job
from urial.loads import duties, towing
from urial.loads.case import Case, LoadPoint
from urial.loads.towing import PolicyError

CYCLES = 2e6
"""How often a detail category is borne, and so the only count a range can be held against it directly."""
KINDS = ("towed", "carrier", "implement", "ballast")


@dataclass(frozen=True)
class Row:
    """One swing of the policy: ± factors of D, V or g·m; only for trailers over ``from_kg``."""

    id: str
    along: float
    bounce: float
    up: float
    from_kg: float
    reason: str
    source: str


@dataclass(frozen=True)
class Swing:
    """Two cases a part goes to and fro between; what lies between them is the range."""

    row: Row
    one: Case
    other: Case

    @property
    def half(self) -> Vec:
        """How far the whole force goes either way from its middle, along, across and up, N."""
        a, b = ([sum(f[k] for f in c.loads.values()) for k in range(3)] for c in (self.one, self.other))
        return (abs(a[0] - b[0]) / 2, abs(a[1] - b[1]) / 2, abs(a[2] - b[2]) / 2)

    def places(self, points: Mapping[str, LoadPoint]) -> list[tuple[Vec, Vec]]:
        """Where it acts, and how far the force there goes either way, N."""
        a, b = (
            list(c.pulls) or [(points[n].at, (f[0], f[1], f[2])) for n, f in c.loads.items()]
            for c in (self.one, self.other)
        )
        return [(at, times(minus(f, g), 0.5)) for (at, f), (_, g) in zip(a, b, strict=True)]


@dataclass(frozen=True)
class Repeated:
    """A duty's swings, and how often they come.  They are not in step: their ranges are added."""

    id: str
    swings: tuple[Swing, ...]
    cycles: float

    @property
    def loaded(self) -> frozenset[str]:
        """The places it loads."""
        return frozenset(name for s in self.swings for name in s.one.loads)


@cache
def policy() -> tuple[float, Mapping[str, tuple[Row, ...]]]:
    """How often, and the rows by kind of duty.  PolicyError names what a row misses."""
    raw = tomllib.loads((files("urial.loads") / "data" / "endurance.toml").read_text(encoding="utf-8"))
    out = {}
    for kind in KINDS:
        try:
            out[kind] = tuple(
                Row(
                    r["id"],
                    float(r.get("along", 0.0)),
                    float(r.get("bounce", 0.0)),
                    float(r.get("up", 0.0)),
                    float(r.get("from_kg", 0.0)),
                    r["reason"],
                    r["source"],
                )
                for r in raw.get(kind, [])
            )
        except KeyError as missing:
            raise PolicyError(f"A row of endurance, {kind}, has no {missing}; add it.") from None
    if float(raw["cycles"]) != CYCLES:
        raise PolicyError(
            f"Endurance is held against categories of {CYCLES:g} cycles; the policy must ask that."
        )
    return CYCLES, out


def repeated(job: Job, assembly: Assembly) -> tuple[Repeated, ...]:
    """What each duty of the job repeats on this assembly; pulls that are rare (winch, recovery, anchor)
    repeat nothing.
    """
    cycles, rows = policy()
    out = []
    if job.duty.towed:
        swings = tuple(_towed(job, assembly, r) for r in rows["towed"] if _heavy(job) > r.from_kg)
        out.append(Repeated("endurance: towing", swings, cycles))
    up, down = (duties.cases_on(job, assembly, _as_duties(rows, way)) for way in (1.0, -1.0))
    for one, other in zip(up, down, strict=True):
        name, row = one.id.rsplit(": ", 1)
        found = next(r for kind in KINDS[1:] for r in rows[kind] if row.startswith(r.id))
        out.append(Repeated(f"endurance: {name}", (Swing(found, one, other),), cycles))
    return tuple(out)


def _heavy(job: Job) -> float:
    return max(job.duty.permissible_kg or 0.0, job.duty.trailer_mass_kg)


def _towed(job: Job, assembly: Assembly, r: Row) -> Swing:
    """The coupling pushed one way and the other, the tongue's weight always on it."""
    c = towing.coupling(job)

    def case(way: float) -> Case:
        along, down = way * r.along * c.D, c.S + way * r.bounce * c.V
        loads = towing.on_couplings(assembly, (along, 0.0, -down))
        return Case(f"endurance, {r.id}", r.id, loads, r.reason, r.source)

    return Swing(r, case(1.0), case(-1.0))


def _as_duties(rows: Mapping[str, tuple[Row, ...]], way: float) -> dict[str, tuple[duties.Row, ...]]:
    """The swings as rows of the other duties' policy, at one end of the swing.  A carrier's weight is
    reckoned by its ``static``; an implement's and weights' by ``up`` alone.
    """

    def row(kind: str, r: Row) -> duties.Row:
        own = {"up": way * r.up, "static": 1.0} if kind == "carrier" else {"up": way * r.up - 1.0}
        return duties.Row(r.id, r.id, own, r.reason, r.source)

    return {kind: tuple(row(kind, r) for r in rows[kind]) for kind in KINDS[1:]}
