"""Trailer classes and chain grades, so that a rating can be read against them; never an approval."""

from __future__ import annotations

import tomllib
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from urial import units
from urial.job.model import Job


@dataclass(frozen=True)
class TrailerClass:
    """A class and the gross trailer mass it goes up to, kg."""

    name: str
    to_kg: float
    source: str


@dataclass(frozen=True)
class Chain:
    """A chain of a grade and a wire size, mm: its working load and what it breaks at, kg."""

    grade: str
    wire: float
    working_kg: float
    breaks_kg: float
    source: str


@cache
def tables() -> tuple[tuple[TrailerClass, ...], tuple[Chain, ...]]:
    """The classes, lightest first; the chains, weakest first."""
    raw = tomllib.loads((files("urial.loads") / "data" / "classes.toml").read_text(encoding="utf-8"))
    classes = tuple(TrailerClass(r["name"], float(r["to_kg"]), r["source"]) for r in raw["trailer"])
    chains = [
        Chain(r["grade"], float(wire), float(kg), float(kg) * r["breaks"], r["source"])
        for r in raw["chain"]
        for wire, kg in r["working"]
    ]
    return classes, tuple(sorted(chains, key=lambda c: c.breaks_kg))


def trailer_class(kg: float) -> TrailerClass | None:
    """The class of a trailer; None above the heaviest."""
    return next((c for c in tables()[0] if kg <= c.to_kg), None)


def chain_for(kg: float, grade: str) -> Chain | None:
    """The smallest chain of a grade that breaks at no less than a trailer's mass (SAE J684: each of two)."""
    return next((c for c in tables()[1] if c.grade == grade and c.breaks_kg >= kg), None)


def reads_as(job: Job) -> str:
    """What the trailer reads as, and which chains are strong enough; nothing where none is towed."""
    if not job.duty.towed:
        return ""
    kg = max(job.duty.permissible_kg or 0.0, job.duty.trailer_mass_kg)
    found = trailer_class(kg)

    def mass(value: float) -> str:
        return units.show(value, "mass", job.units)

    first = (
        f"Reads as {found.name} of {found.source}, to {mass(found.to_kg)}."
        if found
        else f"Heavier than any class of SAE J684, which ends at {mass(tables()[0][-1].to_kg)}."
    )
    grades = dict.fromkeys(c.grade for c in tables()[1])
    rows = [
        f"{units.show(c.wire, 'length', job.units, job.nearest)} of grade {c.grade}"
        for g in sorted(grades)
        if (c := chain_for(kg, g)) is not None
    ]
    chains = f" Each chain should break at no less than {mass(kg)}: {', '.join(rows)}." if rows else ""
    return f"{first}{chains} That is no approval."
