"""One file per family: parameters → Assembly.  A new family is one new file here; it registers itself."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from importlib import import_module
from pkgutil import iter_modules
from typing import Any

from urial.assembly.model import Assembly, BuildError
from urial.job import host
from urial.job.host import Host
from urial.job.model import Design, Job, register_design
from urial.stock.catalogue import StockError
from urial.stock.sections import SectionError


@dataclass(frozen=True)
class Family:
    """A kind of part: its name, title, parameter model, builder, and the job it starts from."""

    name: str
    title: str
    design: type[Design]
    host: type[Host]
    build: Callable[[Any, Any], Assembly]


_FAMILIES: dict[str, Family] = {}


def register(family: Family) -> Family:
    """Make a family known by name; its parameters become part of the document's schema."""
    _FAMILIES[family.name] = family
    register_design(family.name, family.design)
    return family


def families() -> dict[str, Family]:
    """Every family by name."""
    return dict(sorted(_FAMILIES.items()))


def build(job: Job) -> Assembly:
    """The assembly of a job.  BuildError with one sentence when the parameters do not make a part."""
    if job.design is None:
        raise BuildError(f"“{job.title}” is a survey without a part yet, so there is nothing to build; start a part on it first.")
    family = _FAMILIES[job.design.family]
    if not isinstance(job.vehicle, family.host):
        raise BuildError(f"A {family.title.lower()} does not go on a {job.vehicle.words}; it wants a {family.host.words} with frame rails.")
    try:
        return family.build(job.design, job.vehicle)
    except (StockError, SectionError) as error:
        raise BuildError(str(error)) from None


def fitting(job: Job) -> list[Family]:
    """The families that go on the job's host."""
    return [f for f in families().values() if isinstance(job.vehicle, f.host)]


def survey_job(kind: str) -> Job:
    """A survey of a kind of host, without a part yet."""
    if kind not in host.kinds():
        raise BuildError(f"There is no kind of host called “{kind}”; there are {', '.join(host.kinds())}.")
    return Job(title=f"Survey: {host.title(kind).lower()}", vehicle=host.starting_host(kind), design=None)


def start_part(job: Job, name: str) -> Job:
    """The job with a family's starting sizes on its host."""
    return job.model_copy(update={"design": _FAMILIES[name].design(family=name)})


def new_job(name: str) -> Job:
    """A job with a family's starting values."""
    if name not in _FAMILIES:
        raise BuildError(f"There is no family called “{name}”; there are {', '.join(families())}.")
    return Job(title=_FAMILIES[name].title, design=_FAMILIES[name].design(family=name))


for _module in iter_modules(__path__):
    if not _module.name.startswith("_"):
        import_module(f"{__name__}.{_module.name}")
