"""A job's sentences: figures in its own units, what a person called a thing left as it was written."""

from __future__ import annotations

from collections.abc import Iterator

from pydantic import BaseModel

from urial import units
from urial.job.model import Job
from urial.job.remembered import Remembered

_KNOWN: Remembered[Job, tuple[str, ...]] = Remembered(8)


def said(job: Job, text: str, beside: bool = False) -> str:
    """``text`` as this job speaks (:func:`urial.units.in_words`); a duty called “50 mm strap” stays that."""
    return units.in_words(text, job.units, job.nearest, beside, names(job))


def names(job: Job) -> tuple[str, ...]:
    """What a person wrote in this job that holds a size with a unit, the longest first."""

    def reckon() -> tuple[str, ...]:
        return tuple(sorted(filter(units.holds_figure, set(_texts(job))), key=lambda t: (-len(t), t)))

    return _KNOWN.of(job, reckon)


def _texts(value: object) -> Iterator[str]:
    match value:
        case str():
            yield value
        case BaseModel():
            for name in type(value).model_fields:
                yield from _texts(getattr(value, name))
        case dict():
            for one in value.values():
                yield from _texts(one)
        case tuple() | list():
            for one in value:
                yield from _texts(one)
        case _:
            return


__all__ = ["names", "said"]
