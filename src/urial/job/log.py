"""The log of a job: what was done to the steel.  Entries are only ever added, and one is taken back by
another; they stand beside the job, outside undo and outside everything a verdict depends on.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field, ValidationError, field_validator

from urial.job.fields import Value

Key = Annotated[str, Field(max_length=400)]
Ident = Annotated[str, Field(min_length=1, max_length=64)]


class Spot(Value):
    """Where a piece (``key#unit``) is still to come out of a sheet, mm and degrees."""

    name: Key
    x_mm: float = Field(ge=-1e6, le=1e6, allow_inf_nan=False)
    y_mm: float = Field(ge=-1e6, le=1e6, allow_inf_nan=False)
    turned_deg: float = Field(0.0, ge=-360, le=360, allow_inf_nan=False)


class OnSheet(Value):
    """Where on its sheet a plate was cut: the sheet's size, the plate's drawing from its corner (mirrored
    first where it is the other of a pair), mm and degrees; the sheet's id on the rack, its outline where it
    is no rectangle; ``rest``: what was still to come out of it, and where; ``ended``: nothing more does.
    """

    long_mm: float = Field(gt=0, le=1e6, allow_inf_nan=False)
    wide_mm: float = Field(gt=0, le=1e6, allow_inf_nan=False)
    x_mm: float = Field(ge=-1e6, le=1e6, allow_inf_nan=False)
    y_mm: float = Field(ge=-1e6, le=1e6, allow_inf_nan=False)
    turned_deg: float = Field(0.0, ge=-360, le=360, allow_inf_nan=False)
    rack: Annotated[str, Field(max_length=120)] = ""
    where: Annotated[str, Field(max_length=120)] = ""
    outline: Annotated[tuple[tuple[float, float], ...], Field(max_length=400)] = ()
    rest: Annotated[tuple[Spot, ...], Field(max_length=600)] = ()
    ended: bool = False


class Entry(Value):
    """One thing done, undone, read or decided at a step of the plan.

    ``unit``: which of several equal ones the job makes; ``part``: the part's key, one ``of`` so many alike in
    a set then, so that it is found again when they are no longer alike; ``made``: the piece of steel, born at
    its first cut; ``figures``: the sizes it was done to, mm and degrees by name; ``takes_back``: the entry
    that is so undone; ``at``: when, with its offset from UTC; ``who``: an id, no name; ``bar``: the bar or
    sheet it was cut from, with the pieces (``key#unit``) that were still to come out of it; ``sheet``: where
    on it; ``heat``: the steel's batch.
    """

    id: Ident
    step: Key
    unit: int = Field(1, ge=1, le=10_000)
    part: Key = ""
    of: int = Field(1, ge=1, le=10_000)
    made: Annotated[str, Field(max_length=64)] = ""
    what: Literal["done", "undone", "read", "decided", "photo"] = "done"
    takes_back: Annotated[str, Field(max_length=64)] = ""
    at: Annotated[str, Field(max_length=40)]
    who: Annotated[str, Field(max_length=64)] = ""
    figures: Annotated[Mapping[Annotated[str, Field(max_length=100)], float], Field(max_length=200)] = Field(
        default_factory=dict
    )
    minutes: float | None = Field(None, ge=0, le=100_000, allow_inf_nan=False)
    bar: Annotated[str, Field(max_length=120)] = ""
    rest: Annotated[tuple[Key, ...], Field(max_length=400)] = ()
    sheet: OnSheet | None = None
    heat: Annotated[str, Field(max_length=120)] = ""
    note: Annotated[str, Field(max_length=4000)] = ""

    @field_validator("at")
    @classmethod
    def _with_its_offset(cls, at: str) -> str:
        when = datetime.fromisoformat(at)
        if when.tzinfo is None:
            raise ValueError("An entry says when with its offset from UTC, 2026-09-18T14:05:00+02:00.")
        return at


def standing(log: Iterable[Entry]) -> tuple[Entry, ...]:
    """The entries that nothing has taken back, in their order.  An entry that takes one back may be taken
    back itself: then the first one stands again.
    """
    rows = list({e.id: e for e in log}.values())
    takers: dict[str, list[str]] = {}
    for e in rows:
        if e.takes_back:
            takers.setdefault(e.takes_back, []).append(e.id)

    def stands(ident: str, above: frozenset[str]) -> bool:
        below = above | {ident}
        return not any(t not in below and stands(t, below) for t in takers.get(ident, ()))

    return tuple(e for e in rows if not e.takes_back and stands(e.id, frozenset()))


def union(*logs: Iterable[Entry]) -> tuple[Entry, ...]:
    """Every entry of several copies of a log once, by when it was made, then by its id: the same whatever
    their order.
    """
    rows = {e.id: e for log in logs for e in log}
    return tuple(sorted(rows.values(), key=lambda e: (datetime.fromisoformat(e.at), e.id)))


def lines(log: Iterable[Entry]) -> bytes:
    """One line of JSON an entry."""
    rows = (json.dumps(e.model_dump(mode="json"), ensure_ascii=False) + "\n" for e in log)
    return "".join(rows).encode()


def read_lines(data: bytes) -> tuple[Entry, ...]:
    """The entries of such lines.  A last line that is torn is what a crash left, and is ignored; ValueError
    names the first other line that is none.
    """
    rows = data.split(b"\n")
    whole = data.endswith(b"\n")
    out: dict[str, Entry] = {}
    for number, row in enumerate(rows, 1):
        if not row.strip():
            continue
        try:
            entry = Entry.model_validate(json.loads(row))
        except (ValueError, RecursionError, ValidationError):
            if number == len(rows) and not whole:
                continue
            raise ValueError(f"line {number} of its log is no entry") from None
        out.setdefault(entry.id, entry)
    return tuple(out.values())


__all__ = ["Entry", "OnSheet", "Spot", "lines", "read_lines", "standing", "union"]
