"""What differs between two states of a job, in words a person can go by."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from pydantic import BaseModel

from urial import units
from urial.job.fields import spec
from urial.job.model import Job


def _walk(mine: Any, theirs: Any, path: str, called: str, job: Job, there: str) -> Iterator[str]:
    if mine == theirs:
        return
    if isinstance(mine, BaseModel) and type(mine) is type(theirs):
        for name, info in type(mine).model_fields.items():
            if name in ("origins", "marks", "id", "next_piece"):
                continue
            here, other = getattr(mine, name), getattr(theirs, name)
            if here == other:
                continue
            if isinstance(here, (BaseModel, tuple)):
                deeper = called if name == "values" else info.title or name  # a piece's sizes are the piece's
                yield from _walk(here, other, f"{path}.{name}", deeper, job, there)
                continue
            field = spec(name, info)

            def shown(value: Any, kind: Any = field.quantity) -> str:
                return (
                    "nothing"
                    if value is None or value == ""
                    else units.show(float(value), kind, job.units, job.nearest)
                    if kind
                    else str(value)
                )

            name_of = f"{called}, {field.title}" if called else field.title
            yield f"{name_of}: {shown(here)} here, {shown(other)} {there}"
    elif isinstance(mine, tuple) and isinstance(theirs, tuple):
        if len(mine) != len(theirs):
            yield f"{called}: {len(mine)} here, {len(theirs)} {there}"
        for n, (a, b) in enumerate(zip(mine, theirs, strict=False), 1):
            kind = getattr(a, "family", None)
            one = kind.replace("-", " ") if kind else f"{called.removesuffix('s')} {n}"
            yield from _walk(a, b, f"{path}.{n}", one, job, there)
    else:
        yield f"{called}: another kind here than {there}"


def differences(mine: Job, theirs: Job, most: int = 60, there: str = "on disk") -> list[str]:
    """Every figure that differs, mine first; cut after ``most`` lines with how many more there are."""
    found = list(_walk(mine, theirs, "", "", mine, there))
    return found if len(found) <= most else [*found[:most], f"and {len(found) - most} more"]
