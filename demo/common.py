"""What the demo jobs are made with: tapes that are a little off, holes by rows, a kind put on a host."""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np

from urial import families
from urial.fit import fit
from urial.job import edit
from urial.job.file import Document
from urial.job.host import HardPoint
from urial.job.model import Job, Waiver
from urial.job.survey import (
    Answers,
    Survey,
    Tape,
)
from urial.measure.places import hard_points

HERE = Path(__file__).parents[1] / "src" / "urial" / "families" / "demo"
"""Where they ship."""


def lived_with(job: Job, view: str, way: str = "") -> Job:
    """The job with what its cargo stands in lived with: the ``view`` it takes, the ``way`` of a gate."""
    out = list(job.waived)
    for f in fit(job, moves=False).findings:
        reason = view if "in the view of" in f.words else way if "from opening" in f.words else ""
        if f.id.startswith("cargo ") and reason:
            out.append(Waiver(finding=f.id, reason=reason))
    return job.model_copy(update={"waived": tuple(out)})


def noisy(mm: float, seed: int) -> float:
    """A tape as it reads: to the nearest half millimetre."""
    return round(2 * (mm + float(np.random.default_rng(seed).normal(0, 0.5)))) / 2


def diagonals(job: Job) -> tuple[Tape, ...]:
    """The two diagonals and the two spacings, as read."""
    at = hard_points(job.vehicle)
    a, b = f"L{sum(h.bolted for h in job.vehicle.left)}", f"R{len(job.vehicle.right)}"
    return tuple(
        Tape(start=p, end=q, length_mm=noisy(math.dist(at[p], at[q]), n))
        for n, (p, q) in enumerate((("L1", b), (a, "R1"), ("L1", "R1"), (a, b)))
    )


def answered(job: Job, **others: float) -> Answers:
    """The forgotten things, measured."""
    at = hard_points(job.vehicle)
    diagonal = noisy(math.dist(at["L1"], at[f"R{len(job.vehicle.right)}"]), 9)
    return Answers(second_side_mm=diagonal, **others)


def holes(rows: list[tuple[float, float, float]], **common: object) -> tuple[HardPoint, ...]:
    return tuple(
        HardPoint.model_validate({"behind_mm": x, "height_mm": z, "hole_mm": d, **common}) for x, z, d in rows
    )


def sized(job: Job, **values: object) -> Job:
    """The job with other sizes, by last name."""
    for key, value in values.items():
        job = edit.put(job, edit.find_path(job, key), value)
    return families.with_marks(job)


def standing(family: str, document: Document, title: str, customer: str, **sizes: object) -> Job:
    """A part on the host of a survey, the survey with it: its usual duty, its own sizes."""
    base = families.new_job(family, document.job.vehicle.kind)
    host = document.job.vehicle
    if (more := tuple(h for h in base.vehicle.left if h.group != "main")) and not any(
        h.group != "main" for h in host.left
    ):
        host = host.model_copy(update={"left": (*host.left, *more), "right": (*host.right, *more)})
    survey = Survey()  # the part is designed; what is in its way is told on the survey's own job
    job = base.model_copy(
        update={
            "title": title,
            "customer": customer,
            "hosts": (host,),
            "survey": survey,
            "units": document.job.units,
        }
    )
    return sized(job, **sizes)
