"""Where every figure of a job comes from: a starting value nobody measured, typed, measured by somebody,
read from an instrument.

``Job.origins`` keeps an origin for each path that has one; a fact without one is *assumed*. Facts are what
is true of the host, the load and its machines whether or not anybody measured it; sizes of the part are
decisions and no facts.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from functools import lru_cache
from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, Field

from urial.job.fields import Value, spec

if TYPE_CHECKING:
    from urial.job.model import Job

How = Literal["typed", "measured", "read", "simulated"]
WORDS: dict[How, str] = {
    "typed": "typed",
    "measured": "measured",
    "read": "read from",
    "simulated": "simulated by",
}


LONGEST = 120
"""So much of a name or a file's name says who it was."""


def _short(name: object) -> object:
    """However long a name somebody has, or gives a file: it refuses no figure."""
    return name[: LONGEST - 1] + "…" if isinstance(name, str) and len(name) > LONGEST else name


class Origin(Value):
    """How a figure came into the job, by whom or what, and when (ISO date)."""

    how: How = "typed"
    by: Annotated[str, BeforeValidator(_short)] = ""
    on: str = Field("", max_length=40)

    @property
    def words(self) -> str:
        """In a few words: measured by Ada, 2026-05-04."""
        by = self.by if self.how in ("read", "simulated") else f"by {self.by}" if self.by else ""
        said = " ".join(x for x in (WORDS[self.how], by) if x)
        return f"{said}, {self.on}" if self.on else said


BRANCHES = ("vehicle", "hosts", "survey", "duty", "duties", "deck", "running", "weighings")
"""Where facts are kept: the first host's as the vehicle's, the others' under ``hosts``."""
HOSTS = ("vehicle", "hosts")
DECIDED = {
    "survey.datum",
    "survey.tape_sigma_mm",
    "survey.gauge_sigma_deg",
    "survey.photos",
    "survey.backdrops",
    "duty.factors",
    "deck.target",
    "running.jerk_deg",
    "running.angle_deg",
}
"""Decisions, settings and what is picked, among the facts."""
DECIDED_ENDS = ("margin_mm", "sigma_kg", "zero_deg", "design_factor")
PICKED = ("category", "axles", "section", "soil", "marked")
"""Choices that are true of the world or not; those that begin as “unknown” say so themselves, and how a hole
is fixed is asked with the hole.
"""
FILLED = ("survey.marks", "survey.tapes", "survey.levels", "survey.fixes", "survey.answers", "weighings")
"""What starts empty: once filled, somebody filled it."""


@lru_cache(maxsize=256)
def _leaves(model: type[BaseModel]) -> tuple[tuple[str, bool, bool], ...]:
    """The fields of a model: name, is it a fact wherever it stands (a quantity, or a choice that is true or
    not), is it one on a host (a name on a shelf).
    """
    out = []
    for name, info in model.model_fields.items():
        kind = spec(name, info) if isinstance(info.json_schema_extra, dict) else None
        decided = name.endswith(DECIDED_ENDS)
        out.append(
            (
                name,
                kind is not None and (kind.quantity is not None or name in PICKED) and not decided,
                kind is not None and kind.kind == "stock" and not decided,
            )
        )
    return tuple(out)


def _walk(value: Any, path: str) -> Iterator[tuple[str, float | str]]:
    if path == "hosts":  # the first is the vehicle
        for n, item in enumerate(value[1:], 1):
            yield from _walk(item, f"hosts.{n}")
    elif isinstance(value, BaseModel):
        host = path.startswith(HOSTS)
        for name, fact, shelf in _leaves(type(value)):
            here, item = f"{path}.{name}", getattr(value, name)
            if here in DECIDED or item is None:
                continue
            if isinstance(item, (BaseModel, tuple)):
                yield from _walk(item, here)
            elif fact or (shelf and host):
                yield here, item
    elif isinstance(value, tuple):
        for n, item in enumerate(value):
            yield from _walk(item, f"{path}.{n}")


def _at(job: Job, path: str) -> Any:
    """The value at a path of facts, None where there is none."""
    value: Any = job
    for part in path.split("."):
        if isinstance(value, tuple):
            value = value[int(part)] if part.isdigit() and int(part) < len(value) else None
        else:
            value = getattr(value, part, None)
    return value


def facts(job: Job) -> dict[str, float | str]:
    """Every fact of a job that is given, by path."""
    out: dict[str, float | str] = {}
    for branch in BRANCHES:
        out.update(_walk(getattr(job, branch), branch))
    return out


def assumed(job: Job) -> tuple[str, ...]:
    """Paths of the facts that take part and that nobody has typed or measured: the host, what is in the
    way, and what is asked.
    """
    branches = (
        ["vehicle", "hosts", "survey", "duties"]
        + (["duty"] if job.duty.towed else [])
        + (["deck"] if job.deck.cargo else [])
    )
    return tuple(
        p
        for b in branches
        for p, _ in _walk(getattr(job, b), b)
        if p not in job.origins and not p.startswith(FILLED) and of_use(job, p)
    )


DRAWN = ("roof_mm", "bonnet_mm", "cab_ahead_mm", "bars_mm", "bars_width_mm", "tail_height_mm")
"""Of a host, what only its picture needs."""
SWEPT = ("sill_mm", "bed_mm")
"""What a trailer's nose may meet as it turns; without one the picture alone needs them."""
TOWED_ONLY = ("tow_rating_kg", "combination_rating_kg")
ON_WHEELS = ("wheelbase_mm", "track_mm", "tyre_mm")
FOLDED_IN = ("in_behind_mm", "in_above_mm")


def of_use(job: Job, path: str) -> bool:
    """Does anything reckoned for this job read a fact?  What only draws the host, and what belongs to a way
    of carrying or towing that is not asked, is nobody's to measure.
    """
    owner, _, leaf = path.rpartition(".")
    model = _at(job, owner)
    if path.startswith(HOSTS):
        return leaf not in DRAWN and (job.duty.towed or leaf not in (*SWEPT, *TOWED_ONLY))
    if path.startswith("duties.") and ".items." in path:
        if leaf in ON_WHEELS:
            return getattr(model, "stands", "") == "wheels"
        if leaf in FOLDED_IN:
            return bool(getattr(_at(job, owner.split(".items.")[0]), "folded", False))
    return True


def is_fact(job: Job, path: str) -> bool:
    """Is what a path holds true of the world, whether or not anybody measured it, and given?"""
    owner, _, leaf = path.rpartition(".")
    if path.split(".", 1)[0] not in BRANCHES or any(path == d or path.startswith(d + ".") for d in DECIDED):
        return False
    model = _at(job, owner)
    if not isinstance(model, BaseModel) or getattr(model, leaf, None) is None:
        return False
    return any(
        name == leaf and (fact or (shelf and path.startswith(HOSTS)))
        for name, fact, shelf in _leaves(type(model))
    )


def is_assumed(job: Job, path: str) -> bool:
    """Is a value a fact of use that nobody has measured, whether its branch takes part or not?"""
    return (
        path not in job.origins and not path.startswith(FILLED) and is_fact(job, path) and of_use(job, path)
    )


def simulated(job: Job) -> tuple[str, ...]:
    """Paths of the facts that came from a simulated instrument."""
    there = facts(job)
    return tuple(p for p, o in job.origins.items() if o.how == "simulated" and p in there)


def _lists(value: Any, path: str) -> Iterator[tuple[str, tuple[Any, ...]]]:
    """Every list of rows under a value, by path."""
    if isinstance(value, BaseModel):
        for name in type(value).model_fields:
            yield from _lists(getattr(value, name), f"{path}.{name}")
    elif isinstance(value, tuple) and any(isinstance(x, BaseModel) for x in value):
        yield path, value
        for n, row in enumerate(value):
            yield from _lists(row, f"{path}.{n}")


def _same_row(new: int, now: tuple[Any, ...], was: tuple[Any, ...]) -> int | None:
    """Which earlier row a row is: itself, its equal, or the one at its number where none came or went."""
    row = now[new]
    for test in (lambda old: old is row, lambda old: old == row):
        found = [n for n, old in enumerate(was) if test(old)]
        if found:
            return new if new in found else found[0]
    return new if len(now) == len(was) else None


def _earlier(path: str, rows: Mapping[str, tuple[tuple[Any, ...], tuple[Any, ...]]]) -> str | None:
    """The path a value had before rows came or went; None for a new row's."""
    parts = path.split(".")
    for k, part in enumerate(parts):
        if part.isdigit():
            head = ".".join(parts[:k])
            if head in rows:
                old = _same_row(int(part), *rows[head])
                if old is None:
                    return None
                parts[k] = str(old)
    return ".".join(parts)


def _there(job: Job, path: str) -> bool:
    """Was there a place for a value, filled or empty?"""
    owner, _, leaf = path.rpartition(".")
    return hasattr(_at(job, owner), leaf)


def follow(before: Job, after: Job, given: Origin | None, new_rows: bool = False) -> Job:
    """The job ``after`` with its origins: kept where the figure is the same, ``given`` where it changed,
    none for new rows.

    ``given`` None: what changed is assumed (a starting value, a copy). ``new_rows``: new rows come from
    there too. Rows are followed when others come or go.
    """
    if after is before:
        return after
    now, was = facts(after), facts(before)
    lists_now, lists_was = (
        {k: v for b in BRANCHES for k, v in _lists(getattr(j, b), b)} for j in (after, before)
    )
    rows = {k: (v, lists_was[k]) for k, v in lists_now.items() if k in lists_was and v is not lists_was[k]}
    origins: dict[str, Origin] = {}
    another = getattr(before.vehicle, "kind", "") != getattr(after.vehicle, "kind", "")
    for path, value in now.items():
        if another and path.startswith("vehicle."):
            continue  # another host: that a figure is the same is chance
        old = _earlier(path, rows)
        if old is not None and was.get(old) == value:
            if old in before.origins:
                origins[path] = before.origins[old]
        elif given is not None and (
            new_rows or old in was or path.startswith(FILLED) or (old is not None and _there(before, old))
        ):
            origins[path] = given
    return after if origins == after.origins else after.model_copy(update={"origins": origins})


def mark(job: Job, paths: Iterable[str], origin: Origin | None) -> Job:
    """The job with an origin for some of its facts; None makes them assumed again."""
    there = facts(job)
    origins = dict(job.origins)
    for path in paths:
        if path in there and origin is not None:
            origins[path] = origin
        else:
            origins.pop(path, None)
    return job.model_copy(update={"origins": origins})


def on_another(job: Job) -> Job:
    """The same part on another host of the same kind: every figure of host and survey is assumed again, and
    what was read on the one before (marks, tapes, levels, answers, photos) goes.
    """
    empty = {
        name: type(job.survey).model_fields[name].get_default(call_default_factory=True)
        for name in ("marks", "tapes", "levels", "fixes", "answers", "photos")
    }
    keep = {p: o for p, o in job.origins.items() if not p.startswith((*HOSTS, "survey", "weighings"))}
    survey = job.survey.model_copy(update=empty)
    return job.model_copy(update={"origins": keep, "survey": survey, "weighings": ()})


def told_apart(job: Job, starting: Job) -> Job:
    """A job from before origins were kept: what differs from its kind's starting values was typed by
    somebody.
    """
    first = facts(starting)
    return job.model_copy(
        update={
            "origins": {
                p: Origin(how="typed")
                for p, v in facts(job).items()
                if first.get(p) != v or p.startswith(FILLED)
            }
        }
    )
