"""Where the work stands, read from the log: which steps are done, to how many pieces, which were done to
other sizes, and what was done for a plan that has changed since.

Entries count as sets: their order and their clocks say nothing.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from urial.job.log import Entry, standing
from urial.making.nests import Begun
from urial.making.parts import natural
from urial.making.step import Plan, Reading, Step

State = Literal["open", "part", "done", "stale", "gone"]
WANTED = "wanted "
"""Before a figure's name in a decision: what was wanted when it was made."""
LOOSE = 0.5
"""A figure that nobody measures may differ by so much, mm or degrees."""


@dataclass(frozen=True)
class Off:
    """A figure of the steel that is no longer the figure wanted: of which piece, what it is, what it
    should be.
    """

    unit: int
    what: str
    have: float
    wanted: float
    unit_of: str = "mm"

    @property
    def words(self) -> str:
        """In a sentence."""
        if self.unit_of == "%":  # of a part that was tried
            return f"{self.what} was {self.have:.0f} % when it was tried, and is {self.wanted:.0f} % now"
        has, wants = f"{self.have:.1f} {self.unit_of}", f"{self.wanted:.1f} {self.unit_of}"
        return f"piece {self.unit}: {self.what} is {has}, and {wants} is wanted now"


@dataclass(frozen=True)
class Stood:
    """A step and where it stands: the units that are done, and what of them is no longer right."""

    step: Step
    state: State
    done: frozenset[int] = frozenset()
    off: tuple[Off, ...] = ()
    minutes: float = 0.0

    @property
    def left(self) -> tuple[int, ...]:
        """The units still to do."""
        return tuple(n for n in range(1, self.step.count + 1) if n not in self.done)


def status(plan: Plan, log: Iterable[Entry]) -> tuple[Stood, ...]:
    """Every step of the plan in its order, then what was done for steps that are gone."""
    entries: dict[str, list[Entry]] = defaultdict(list)
    for e in entered(plan, log):
        entries[e.step].append(e)
    out = [_stood(step, entries.get(step.key, ())) for step in plan.steps]
    known = {s.key for s in plan.steps}
    for key in sorted(set(entries) - known):
        done = frozenset(e.unit for e in entries[key] if e.what == "done")
        if done:
            out.append(Stood(_gone(key, entries[key]), "gone", done))
    return tuple(out)


def entered(plan: Plan, log: Iterable[Entry]) -> tuple[Entry, ...]:
    """What stands in the log, each entry at the step its part belongs to now."""
    at: dict[tuple[str, str, str], Step] = {
        (s.kind, s.key.split("|")[-1], p): s for s in plan.steps for p in s.parts
    }
    return tuple(_now(e, at) for e in standing(log))


def _now(e: Entry, at: Mapping[tuple[str, str, str], Step]) -> Entry:
    """An entry at the step its part belongs to now: pieces that were alike then may differ since, and others
    be alike.
    """
    kind, feature = e.step.split("|")[-2:] if e.step.count("|") >= 2 else ("", "")
    step = at.get((kind, feature, e.part)) if e.part else None
    if step is None:
        return e
    alike = sorted(step.parts, key=natural)
    unit = (e.unit - 1) // e.of * len(alike) + alike.index(e.part) + 1
    return e.model_copy(update={"step": step.key, "unit": unit})


def part_of(step: Step, unit: int) -> str:
    """Which part a unit of a step is, where each part is one piece; else nothing."""
    alike = sorted(step.parts, key=natural)
    return alike[(unit - 1) % len(alike)] if alike and step.count % len(alike) == 0 and _single(step) else ""


def _single(step: Step) -> bool:
    """Is a part one piece, not several layers?"""
    return step.kind != "cut plate" or step.count == len(step.parts)


def _stood(step: Step, entries: Sequence[Entry]) -> Stood:
    done = frozenset(e.unit for e in entries if e.what == "done" and e.unit <= step.count)
    minutes = sum(e.minutes or 0.0 for e in entries)
    if not done:
        return Stood(step, "open", minutes=minutes)
    off = tuple(_off(step, [e for e in entries if e.unit in done]))
    state: State = "stale" if off else "done" if len(done) >= step.count else "part"
    return Stood(step, state, done, off, minutes)


def _off(step: Step, entries: Sequence[Entry]) -> list[Off]:
    """What the steel has that the plan no longer wants: a reading counts before what it was meant to be."""
    reads: Mapping[str, Reading] = {r.what: r for r in step.reads}
    out = []
    for unit in sorted({e.unit for e in entries}):
        own = [e for e in entries if e.unit == unit]
        kept = [e.figures for e in own if e.what == "decided"]
        for name, wanted in step.figures.items():
            have = [e.figures[name] for e in own if e.what == "done" and name in e.figures]
            read = [e.figures[name] for e in own if e.what == "read" and name in e.figures]
            slack, unit_of = step.slack.get(name, (LOOSE, "mm"))
            allowed, unit_of = (
                (reads[name].tolerance, reads[name].unit) if name in reads else (slack, unit_of)
            )
            values = read or have
            # two copies of a log may hold two readings: the one that is farther off is looked at
            worst = max(values, key=lambda v: abs(v - wanted), default=wanted)
            # kept for what was wanted then: wanted otherwise since, somebody decides again
            lived = any(abs(f.get(WANTED + name, math.inf) - wanted) <= allowed for f in kept if name in f)
            if not lived and abs(worst - wanted) > allowed + 1e-9:
                out.append(Off(unit, name, worst, wanted, unit_of))
    return out


def _gone(key: str, entries: Sequence[Entry]) -> Step:
    part, kind, feature = (*key.split("|"), "", "")[:3]
    what = f"{kind} {feature}".strip()
    count = max(e.unit for e in entries)
    return Step(
        key,
        kind if kind else "check",  # type: ignore[arg-type]
        count,
        (),
        (),
        f"Done for a part that is gone ({part}: {what}): the steel is for the rack, or for the scrap bin.",
        0.0,
    )


def begun(log: Iterable[Entry]) -> tuple[Begun, ...]:
    """Bars that were begun and what they still hold; ``left`` of a bar is what its last cut left, mm."""
    rows = [e for e in standing(log) if e.what == "done" and e.bar]
    cut = {f"{e.step}#{e.unit}" for e in rows}
    bars: dict[str, list[Entry]] = defaultdict(list)
    for e in rows:
        bars[e.bar].append(e)
    out = []
    for name, entries in sorted(bars.items()):
        # every entry says what was still to come: what all of them agree is left and nobody has cut
        rest = [n for n in max((e.rest for e in entries), key=len) if n not in cut]
        left = min((e.figures["left"] for e in entries if "left" in e.figures), default=0.0)
        stock, material = (*name.split(" · "), "")[:2]
        if rest:
            out.append(Begun(name, stock, material, left, tuple(rest)))
    return tuple(out)


@dataclass(frozen=True)
class Summary:
    """Counts for a tab or the start page."""

    steps: int
    done: int
    stale: int
    gone: int
    begun: int = 0

    @property
    def words(self) -> str:
        """In a few words."""
        if self.stale:
            return f"{self.stale} to look at"
        if not self.done:
            return "begun" if self.begun else "not begun"
        return "all done" if self.done == self.steps else f"{self.done} of {self.steps} done"


def summary(rows: Iterable[Stood]) -> Summary:
    """How much of it is done."""
    rows = tuple(rows)
    counted = [r for r in rows if r.state != "gone"]
    return Summary(
        len(counted),
        sum(r.state == "done" for r in counted),
        sum(r.state == "stale" for r in counted),
        len(rows) - len(counted),
        sum(r.state == "part" for r in counted),
    )


__all__ = ["Off", "State", "Stood", "Summary", "begun", "entered", "part_of", "status", "summary"]
