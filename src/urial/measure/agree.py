"""A job's readings as one adjustment: coordinates of hard points and marks, check tapes, gauge readings."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from urial.geometry.place import Vec
from urial.job.host import SIDES, Host
from urial.job.model import Job
from urial.job.survey import Survey
from urial.measure.adjust import Agreement, Reading, adjust
from urial.measure.places import fixes, known_places

AXES = (("behind_mm", "behind", -1.0), ("across_mm", "across", 1.0), ("height_mm", "height", 1.0))


@dataclass(frozen=True)
class CrossCheck:
    """The adjustment, readings that could not be used, and a sentence that says how the survey stands."""

    agreement: Agreement | None
    unused: tuple[str, ...]
    words: str
    wrong: bool


def _coordinates(host: Host, survey: Survey) -> list[tuple[str, str, str]]:
    """Name, words and path of every place whose coordinates were read."""
    out = [(m.name, f"mark {m.name}", f"survey.marks.{n}") for n, m in enumerate(survey.marks)]
    out += [
        (f"{side[0].upper()}{n + 1}", f"{side} hole {n + 1}", f"vehicle.{side}.{n}")
        for side in SIDES
        for n in range(len(host.points(side)))
    ]
    return out


def _nowhere(what: str, start: str, end: str, at: Mapping[str, Vec], apart: float) -> str:
    """Why something that runs between two named places cannot be used; empty when it can."""
    missing = [p for p in (start, end) if p not in at]
    if not missing and start != end and math.dist(at[start], at[end]) >= apart:
        return ""
    why = f"there is no place called “{missing[0]}”." if missing else "name two different places."
    return f"{what} runs from “{start}” to “{end}”; {why}"


def readings(host: Host, survey: Survey) -> tuple[list[Reading], list[str]]:
    """All readings over the places that some tape or gauge ties together, and what could not be used and
    why.
    """
    at = known_places(host, survey)
    used: set[str] = set()
    out: list[Reading] = []
    unused: list[str] = []
    sigma = survey.tape_sigma_mm
    for n, t in enumerate(survey.tapes):
        if t.length_mm is None:
            continue
        if words := _nowhere(f"Check tape {n + 1}", t.start, t.end, at, 0.0):
            unused.append(words)
            continue
        used |= {t.start, t.end}
        out.append(
            Reading(
                f"tape {t.start} to {t.end}",
                f"survey.tapes.{n}.length_mm",
                "tape",
                t.start,
                t.end,
                0,
                t.length_mm,
                sigma,
            )
        )
    for n, g in enumerate(survey.levels):
        if g.reading_deg is None:
            continue
        if words := _nowhere(f"Gauge reading {n + 1}", g.start, g.end, at, 1.0):
            unused.append(words)
            continue
        used |= {g.start, g.end}
        out.append(
            Reading(
                f"gauge {g.start} to {g.end}",
                f"survey.levels.{n}.reading_deg",
                "slope",
                g.start,
                g.end,
                0,
                math.radians(g.reading_deg - g.zero_deg),
                math.radians(survey.gauge_sigma_deg),
            )
        )
    for name, words, path in _coordinates(host, survey):
        if name in used:
            for axis, (field, word, _) in enumerate(AXES):
                out.append(
                    Reading(
                        f"{words}, {word}",
                        f"{path}.{field}",
                        "coordinate",
                        name,
                        name,
                        axis,
                        at[name][axis],
                        sigma,
                    )
                )
    return out, unused


def _waiting(survey: Survey) -> str:
    """How many rows stand ready and have no reading yet, in words."""
    count = sum(t.length_mm is None for t in survey.tapes) + sum(g.reading_deg is None for g in survey.levels)
    return (
        ""
        if not count
        else " One row waits for its reading."
        if count == 1
        else f" {count} rows wait for their readings."
    )


@lru_cache(maxsize=32)
def _cross_check(host: Host, survey: Survey) -> CrossCheck:
    every, unused = readings(host, survey)
    if not any(r.kind != "coordinate" for r in every):
        words = (
            "Nothing checks the survey yet: read one diagonal, left front hole to right rear hole, and "
            "the other."
        )
        return CrossCheck(None, tuple(unused), words + _waiting(survey), bool(unused))
    found = adjust(known_places(host, survey), every)
    checks = sum(r.kind != "coordinate" for r in every)
    if found.agrees:
        words = (
            f"{checks} check reading{'s' if checks > 1 else ''} agree{'' if checks > 1 else 's'} with "
            "the survey to "
            f"{max(abs(j.residual) for j in found.judged if j.reading.kind != 'slope'):.1f} mm."
        )
        return CrossCheck(found, tuple(unused), words + _waiting(survey), bool(unused))
    first = found.suspects[0]
    if first.reading.kind == "slope":
        off = f"{math.degrees(abs(first.error)):.2f}°"
    else:
        off = f"{abs(first.error):.1f} mm"
    if len(found.suspects) == 1:
        words = f"Measure again: {first.reading.words} does not fit the others; it is off by about {off}."
    else:
        ties = sorted({j.reading.start for j in found.suspects} | {j.reading.end for j in found.suspects})
        words = (
            f"{first.reading.words[0].upper()}{first.reading.words[1:]} does not fit where "
            f"{' and '.join(ties)} were measured; one more tape between other holes tells which is "
            "wrong."
        )
    return CrossCheck(found, tuple(unused), words, True)


def contradicts(job: Job) -> bool:
    """Does the survey contradict itself: do readings not fit each other, or the tapes of a place not meet?"""
    check = cross_check(job)
    if check.agreement is not None and not check.agreement.agrees:
        return True
    return any(
        (f.located is not None and f.located.disagree) or (f.located is None and not f.waits)
        for f in fixes(job.vehicle, job.survey)
    )


def cross_check(job: Job) -> CrossCheck:
    """Does the job's survey agree with itself?"""
    return _cross_check(job.vehicle, job.survey)
