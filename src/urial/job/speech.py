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
        return tuple(sorted(filter(units.holds_figure, set(_names(job))), key=lambda t: (-len(t), t)))

    return _KNOWN.of(job, reckon)


def _names(value: object) -> Iterator[str]:
    """Texts that a person wrote freely, anywhere below; names of stock are the trade's."""
    match value:
        case BaseModel():
            for name, info in type(value).model_fields.items():
                inner = getattr(value, name)
                if isinstance(inner, str):
                    extra = info.json_schema_extra
                    if isinstance(extra, dict) and extra.get("kind") == "text":
                        yield inner
                else:
                    yield from _names(inner)
        case dict():
            for one in value.values():
                yield from _names(one)
        case tuple() | list():
            for one in value:
                yield from _names(one)
        case _:
            return


__all__ = ["names", "said"]
