"""Two versions of a job beside each other: mass, stocks, weak link, the chain link by link, what differs."""

from __future__ import annotations

from dataclasses import dataclass

from urial.assembly.bodies import total_mass
from urial.assembly.model import Assembly
from urial.job.compare import differences
from urial.job.model import Job
from urial.loads.thresholds import crossed
from urial.prove.sizing import stocks
from urial.prove.verdict import Verdict, prove


@dataclass(frozen=True)
class Version:
    """One of the two: mass, different stocks, whether it holds, its governing check and how it is used."""

    mass_kg: float
    stocks: int
    holds: bool
    governs: str
    used: float


@dataclass(frozen=True)
class Compared:
    """Here and there; each link of either chain with its utilisation in both (None: not there); what
    differs, in words; the other's shape.
    """

    here: Version
    there: Version
    links: tuple[tuple[str, float | None, float | None], ...]
    differs: tuple[str, ...]
    shape: Assembly


def compared(here: Verdict, there: Job, called: str) -> Compared:
    """A judged job beside another, which is ``called`` so.  BuildError when the other cannot be built."""
    other = prove(there)
    mine, theirs = _chain(here), _chain(other)
    names = list(dict.fromkeys((*mine, *theirs)))
    links = tuple((_name(n), mine.get(n), theirs.get(n)) for n in names)
    differs = (*differences(here.job, there, there=called), *crossed(here.job, there))
    return Compared(_version(here), _version(other), links, differs, other.assembly)


def _version(v: Verdict) -> Version:
    worst = v.governing
    return Version(total_mass(v.assembly), len(stocks(v.assembly)), v.holds, worst.name, worst.utilisation)


def _chain(v: Verdict) -> dict[str, float]:
    return {s.link.id: s.utilisation for s in v.chain}


def _name(link: str) -> str:
    return link.split("/")[-1]
