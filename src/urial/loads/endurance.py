"""What a part must bear again and again: for each duty the swings of its force about what is always there."""

from __future__ import annotations

import math
import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cache
from importlib.resources import files

from urial.assembly.model import HOST, Assembly, Bolts, Weld
from urial.geometry.place import Vec, minus, times
from urial.job.model import Job
from urial.loads import duties, towing, trailing
from urial.loads.case import Case, LoadPoint
from urial.loads.standing import stance
from urial.loads.towing import PolicyError
from urial.units import STANDARD_GRAVITY as G

CYCLES = 2e6
"""How often a detail category is borne, and so the only count a range can be held against it directly."""
KINDS = ("towed", "carrier", "implement", "ballast")


@dataclass(frozen=True)
class Row:
    """One swing of the policy: ± factors of D (with ``axle`` of Dc), V or g·m; only for trailers over
    ``from_kg`` and up to ``to_kg``.  ``incline`` is how far the force along leans out of the level,
    degrees, and ``steep`` how far where the static tongue force is more than ``steep_over`` times D."""

    id: str
    along: float
    bounce: float
    up: float
    across: float
    axle: bool
    incline: float
    steep: float
    steep_over: float
    from_kg: float
    to_kg: float
    reason: str
    source: str

    def leans(self, S: float, D: float) -> float:
        """How far its force leans out of the level with a static tongue force S and D in like units, rad."""
        return math.radians(self.steep if self.steep_over * D < S else self.incline)


@dataclass(frozen=True)
class Swing:
    """Two cases a part goes to and fro between; what lies between them is the range."""

    row: Row
    one: Case
    other: Case

    def _whole(self) -> list[list[float]]:
        return [
            [sum(f[k] for f in ([p for _, p in c.pulls] or c.loads.values())) for k in range(3)]
            for c in (self.one, self.other)
        ]

    @property
    def lifts(self) -> float:
        """How far it goes up and down, in shares of what always stands there; 0 where nothing does."""
        a, b = (force[2] for force in self._whole())
        return abs((a - b) / (a + b)) if a + b else 0.0

    @property
    def half(self) -> Vec:
        """How far the whole force goes either way from its middle, along, across and up, N."""
        a, b = self._whole()
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
                    float(r.get("across", 0.0)),
                    bool(r.get("axle", False)),
                    float(r.get("incline_deg", 0.0)),
                    float(r.get("steep_deg", 0.0)),
                    float(r.get("steep_over", math.inf)),
                    float(r.get("from_kg", 0.0)),
                    float(r.get("to_kg", math.inf)),
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
        asked = [r for r in rows["towed"] if r.from_kg < heavy(job) <= r.to_kg]
        senses = inclined(assembly) if any(r.incline for r in asked) else (0.0,)
        for sense in senses:
            name = "endurance: towing" + (WORDS[sense] if len(senses) > 1 else "")
            out.append(Repeated(name, tuple(_towed(job, assembly, r, sense) for r in asked), cycles))
    if stance(assembly) is not None:  # nothing rolls in a bore: decks and frames ride up and down only
        rows = {kind: tuple(r for r in of_it if not r.across) for kind, of_it in rows.items()}
    up, down = (duties.cases_on(job, assembly, _as_duties(rows, way)) for way in (1.0, -1.0))
    swings: dict[str, list[Swing]] = {}
    for one, other in zip(up, down, strict=True):
        name, row = one.id.rsplit(": ", 1)
        found = next(r for kind in KINDS[1:] for r in rows[kind] if row.startswith(r.id))
        swings.setdefault(f"endurance: {name}{row.removeprefix(found.id)}", []).append(
            Swing(found, one, other)
        )
    return (*out, *(Repeated(name, tuple(of_it), cycles) for name, of_it in swings.items()))


DIPS, LIFTS = -1.0, 1.0
WORDS = {DIPS: ", nose down as it pushes", LIFTS: ", nose up as it pushes"}
BESIDE = 100.0
"""Fixings so far along the road from the nearest one count as standing with it, mm."""


def fixings(assembly: Assembly) -> list[Vec]:
    """Where the whole is fixed to its host: each bolt's middle, each bead's ends, the place of all else."""
    out: list[Vec] = []
    for j in assembly.joints_of.get(HOST, ()):
        if isinstance(j.how, Bolts):
            out += [j.place.point((u, v, 0.0)) for u, v in j.how.holes]
        elif isinstance(j.how, Weld):
            out += [p for run in j.how.runs for p in (run.a, run.b)]
        else:
            out.append(j.place.o)
    return out


def inclined(assembly: Assembly) -> tuple[float, ...]:
    """Which way the force on the coupling leans while it pushes forward: its line rises from the coupling
    towards the fixings nearest to it where the coupling stands below them, falls where it stands above, and
    both are judged where it lies between or nothing tells.
    """
    if stance(assembly) is not None:
        return (DIPS, LIFTS)  # a whole trailer has no fixings
    _, couplings = towing.coupled_at(assembly)
    held = fixings(assembly)
    if not couplings or not held:
        return (DIPS, LIFTS)
    x, _, z = assembly.socket_by_key[couplings[0]].place.o
    near = min(abs(p[0] - x) for p in held) + BESIDE
    heights = [p[2] for p in held if abs(p[0] - x) <= near]
    ahead = min((p[0] for p in held), key=lambda at: abs(at - x)) > x
    if z < min(heights):
        return (LIFTS,) if ahead else (DIPS,)
    if z > max(heights):
        return (DIPS,) if ahead else (LIFTS,)
    return (DIPS, LIFTS)


def heavy(job: Job) -> float:
    """What a trailer weighs or may weigh, the greater, kg."""
    return max(job.duty.permissible_kg or 0.0, job.duty.trailer_mass_kg)


def _towed(job: Job, assembly: Assembly, r: Row, sense: float) -> Swing:
    """The coupling pushed one way and the other, the tongue's weight always on it."""
    own = stance(assembly) is not None
    c = trailing.coupling(job, assembly) if own else towing.coupling(job)
    whole, lean = r.along * (c.Dc if r.axle else c.D), r.leans(c.S, c.D)

    def case(way: float) -> Case:
        along, up = way * whole * math.cos(lean), way * sense * whole * math.sin(lean)
        down = c.S + way * r.bounce * c.V - up
        named = Case(f"endurance, {r.id}", r.id, {}, r.reason, r.source)
        if own:
            kg = sum(m for m, _ in trailing.total(job, assembly))
            force = (1000 * along, 0.0, -1000 * down)
            return trailing.case_of(job, assembly, named, force, (1000 * along / kg, 0.0, -G))
        return replace(named, loads=towing.on_couplings(assembly, (along, 0.0, -down)))

    return Swing(r, case(1.0), case(-1.0))


def _as_duties(rows: Mapping[str, tuple[Row, ...]], way: float) -> dict[str, tuple[duties.Row, ...]]:
    """The swings as rows of the other duties' policy, at one end of the swing.  A carrier's weight is
    reckoned by its ``static``; an implement's and weights' by ``up`` alone.
    """

    def row(kind: str, r: Row) -> duties.Row:
        own = {"up": way * r.up, "static": 1.0} if kind == "carrier" else {"up": way * r.up - 1.0}
        return duties.Row(r.id, r.id, own | {"across": way * r.across}, r.reason, r.source)

    return {kind: tuple(row(kind, r) for r in rows[kind]) for kind in KINDS[1:]}
