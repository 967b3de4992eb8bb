"""What would mend a short check: the nearest changes of stock, weld, bolt or lever that hold, each really
tried.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

from urial.assembly.facts import thickness
from urial.assembly.model import HOST, Assembly, BuildError, Weld
from urial.job.edit import EditError, all_specs, get, put, shown, spec_of
from urial.job.model import Job
from urial.prove.costs import Money, cost, no_change_helps
from urial.prove.verdict import Verdict, prove
from urial.stock import catalogue
from urial.strength.check import Check


@dataclass(frozen=True)
class Remedy:
    """One edit: parameter, value, what it is called, where the check and the whole part then stand, and what
    it costs; ``money``: so much dearer in steel and wire, where somebody reckons it.
    """

    path: str
    value: object
    words: str
    utilisation: float
    worst: float
    mass_change_kg: float
    worse: tuple[str, ...] = ()
    money: Money | None = None


@dataclass(frozen=True)
class Remedies:
    """What mends a check, best first; what asks less of it, which nobody does unasked; and the single change
    that came nearest where none does.
    """

    found: tuple[Remedy, ...] = ()
    less: tuple[Remedy, ...] = ()
    nearest: Remedy | None = None

    def why_none(self, check: Check) -> str:
        """Why nothing mends it and what shops do then, in a sentence or two; empty where something does."""
        if self.found:
            return ""
        near = self.nearest
        return no_change_helps(check, near.words if near else "", near.utilisation if near else math.inf)


ASKED = ("duty.trailer_mass_kg", "duty.tongue_mass_kg")
"""What the customer asks: changed only where somebody asks how much less it would have to be."""
GROWS = ("weld", "plate", "spacing", "margin", "edge", "gusset", "past")
"""Sizes whose names hold one of these are tried larger; the others smaller: they are levers."""


def levers(job: Job, verdict: Verdict, check: Check) -> list[str]:
    """Parameters that may mend a check: its own, those of the joint or part it belongs to, and of what
    that joins.
    """
    assembly = verdict.assembly
    out = [check.path] if check.path else []
    out += [p for part in assembly.parts if part.family == check.link for p in part.paths]
    for j in assembly.joints:
        ends = [assembly.by_key[k] for k in (j.a, j.b) if k in assembly.by_key]
        touches = (
            j.family == check.link
            or (check.link == HOST and HOST in (j.a, j.b))
            or any(p.family == check.link for p in ends)
        )
        if touches:
            out.append(getattr(j.how, "path", ""))
            if j.family == check.link or check.link == HOST:
                out += [p for part in ends for p in part.paths]
    if check.kind == "rating":
        out += ASKED
    if check.kind == "fatigue" and ": toe on " in check.id:
        out.append("welding.toes")
    table = all_specs(job)
    return [p for p in dict.fromkeys(out) if p in table]


def _bigger_tubes(name: str) -> Iterator[str]:
    here = catalogue.bar(name)
    same = [
        b
        for b in catalogue.bars().values()
        if b.shape == here.shape
        and b.system == here.system
        and b.section().Wply >= here.section().Wply * 1.01
        and b.width >= here.width
        and b.height >= here.height
    ]
    yield from (b.name for b in sorted(same, key=lambda b: b.section().area)[:12])


def _thicker_plates(name: str) -> Iterator[str]:
    here = catalogue.plate(name)
    yield from (
        p.name
        for p in sorted(catalogue.plates().values(), key=lambda p: p.thickness)
        if p.thickness > here.thickness and p.system == here.system
    )


def _stronger(shelf: str, name: str) -> Iterator[str]:
    table = catalogue.SHELVES[shelf]()
    strength: Callable[[object], float] = lambda row: getattr(row, "Fy", getattr(row, "Fu", 0.0))  # noqa: E731
    here = catalogue.find(shelf, name)
    same = [
        r
        for r in table.values()
        if strength(r) > strength(here)
        and getattr(r, "system", "") == getattr(here, "system", "")
        and getattr(r, "wall_factor", 1) == getattr(here, "wall_factor", 1)
        and getattr(r, "haz_Fy", 1) == 1
        and getattr(r, "E", 2e5) == getattr(here, "E", 2e5)
    ]
    yield from (r.name for r in sorted(same, key=strength)[:2])


def candidates(job: Job, path: str) -> Iterator[object]:
    """Values of a parameter worth trying, smallest change first."""
    value, field = get(job, path), spec_of(job, path)
    if value is None:  # a rating nobody typed: nothing to change it from
        return
    if field.shelf == "bar":
        yield from _bigger_tubes(value)
    elif field.shelf == "plate":
        yield from _thicker_plates(value)
    elif field.shelf in ("material", "bolt grade"):
        yield from _stronger(field.shelf, value)
    elif field.shelf == "bolt":
        here = catalogue.bolt(value)
        yield from (
            b.name
            for b in catalogue.bolts().values()
            if b.system == here.system and b.diameter > here.diameter
        )
    elif field.shelf == "receiver":
        yield from (r.name for r in catalogue.receivers().values() if r.bar > catalogue.receiver(value).bar)
    elif field.shelf == "ball":  # the coupler says which ball; only its shank and its stamp are ours
        ball = catalogue.ball(value)
        yield from (
            r.name for r in catalogue.balls().values() if r.ball == ball.ball and r.rated_kg > ball.rated_kg
        )
    elif field.choices == ("yes", "no"):
        yield not value
    elif field.kind == "choice":
        at = field.choices.index(value)  # choices run from the quickest to the strongest
        yield from field.choices[at + 1 :]
    elif field.quantity == "length":
        step = 25.4 / 16 if job.units == "inch" else 1.0
        grows = any(word in path.rsplit(".", 1)[-1] for word in GROWS)
        for k in (1, 2, 3, 4, 6, 8, 10, 14, 20, 30, 45, 60, 80):
            yield round((value + k * step) if grows else value - k * step, 4)
    elif field.quantity == "mass":
        yield from (round(value * (1 - 0.02 * k)) for k in range(1, 26))


def leg_limit(assembly: Assembly, path: str) -> float:
    """The largest leg worth advising for welds sized by a parameter, mm: the thicker metal beside them;
    inf if it sizes none.
    """
    legs = [
        max(thickness(assembly.by_key[k]) for k in (j.a, j.b) if k in assembly.by_key)
        for j in assembly.joints
        if isinstance(j.how, Weld) and j.how.path == path
    ]
    return max(legs, default=math.inf)


def remedies(
    job: Job, check: Check, target: float = 1.0, stopped: Callable[[], bool] = lambda: False
) -> Remedies:
    """For a check, the least change of each parameter that brings it under ``target``; best first.  What
    came nearest is kept where none does.
    """
    out: list[Remedy] = []
    nearest: Remedy | None = None
    now = prove(job)
    here = now.governing.utilisation
    for path in levers(job, now, check):
        most = leg_limit(now.assembly, path)
        for value in candidates(job, path):
            if stopped():
                return _ranked(out, nearest)
            if isinstance(value, float) and value > most + 0.01:
                break
            try:
                tried = put(job, path, value)
                verdict = prove(tried)
            except (EditError, BuildError):
                continue
            same = next((c for c in verdict.checks if c.id == check.id), None)
            used = same.utilisation if same else 0.0
            no_worse = verdict.governing.utilisation <= here + 1e-6
            mends = used < target and no_worse
            if not mends and (not no_worse or (nearest is not None and used >= nearest.utilisation)):
                continue
            words = f"{spec_of(tried, path).title} {shown(tried, path)}"
            worst = max((c.utilisation for c in verdict.checks if c.id != check.id), default=0.0)
            price = cost(now, verdict)
            remedy = Remedy(path, value, words, used, max(worst, used), price.kg, price.worse)
            if mends:
                out.append(remedy)
                break
            if path not in ASKED:
                nearest = remedy
    return _ranked(out, nearest)


def _ranked(out: Iterable[Remedy], nearest: Remedy | None) -> Remedies:
    ranked = sorted(out, key=lambda r: (r.worst >= 1, len(r.worse), abs(r.mass_change_kg)))
    return Remedies(
        tuple(r for r in ranked if r.path not in ASKED), tuple(r for r in ranked if r.path in ASKED), nearest
    )
