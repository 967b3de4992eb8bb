"""One file per family: a kind of part as its parameters and one ``build``; and a job's pieces put together.

``build(job)`` makes each piece in its own axes, mates plug to socket, marks the steel, and says what is
loose or loud. A piece whose sizes did not change is not built again.
"""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache
from importlib import import_module
from itertools import pairwise
from pkgutil import iter_modules
from typing import Any

from urial import units
from urial.assembly.build import Build
from urial.assembly.marks import marked, marks
from urial.assembly.model import Assembly, BuildError, Joint, Plug
from urial.families.registry import Family, Setting, families, register
from urial.geometry import solids
from urial.geometry.path import ShapeError
from urial.geometry.place import Place
from urial.geometry.shape import Bar
from urial.job import host
from urial.job.change import Change
from urial.job.fields import specs
from urial.job.host import Host
from urial.job.model import Design, Job, Piece, Welding
from urial.mates.host import Face, HostSocket, host_dimensions, host_socket, host_sockets
from urial.mates.mating import Guest, Refusal, mate
from urial.pieces.changes import carry_out
from urial.stock import catalogue
from urial.stock.catalogue import StockError
from urial.stock.sections import SectionError

__all__ = [
    "Family",
    "Setting",
    "assemble",
    "build",
    "families",
    "fitting",
    "in_inches",
    "new_job",
    "register",
    "set_up",
    "sketch",
    "start_part",
    "states",
    "survey_job",
    "with_marks",
]


@lru_cache(maxsize=128)
def _piece(
    values: Design,
    number: str,
    welding: Welding,
    mount: HostSocket | None,
    changes: tuple[Change, ...] = (),
) -> Build:
    """One piece in its own axes with its changes, kept while nothing of it changes."""
    family = families()[values.family]
    if mount is not None and mount.refuses:
        raise BuildError(mount.refuses)
    b = Build(
        number,
        family.title.lower(),
        f"stack.{number}.",
        catalogue.electrode(welding.electrode),
        welding.process,
    )
    try:
        _right_shapes(values)
        family.build(values, b, *((mount,) if family.on_host else ()))
        carry_out(b, changes)
    except (StockError, SectionError, ShapeError) as error:
        raise BuildError(str(error)) from None
    return b


def _right_shapes(values: Design) -> None:
    """BuildError when a bar of another kind is chosen than the piece is made for."""
    for path, spec in specs(type(values)).items():
        if spec.shelf != "bar" or not spec.only or not getattr(values, path):
            continue
        bar = catalogue.bar(getattr(values, path))
        if not bar.is_of(spec.only):
            kinds = " or ".join(catalogue.KINDS_OF_BAR[k] for k in spec.only.split(","))
            raise BuildError(
                f"{spec.title[0].upper()}{spec.title[1:]} {bar.title} is not {kinds}; choose one that is."
            )


def no_part(job: Job) -> BuildError:
    """Nothing stands on the host yet."""
    return BuildError(
        f"“{job.title}” is a survey without a part yet, so there is nothing to build; start a "
        "part on it first."
    )


def assemble(job: Job, on: Host) -> Assembly:
    """The job's stack on a host.  BuildError with one sentence when it does not go together."""
    if not job.stack:
        raise no_part(job)
    whole = Assembly()
    for piece in job.stack:
        family = families()[piece.family]
        if family.on_host != (piece.on == "host"):
            raise BuildError(
                f"A {family.title.lower()} goes on "
                f"{'the host' if family.on_host else 'another piece'}; piece {piece.id} is put on "
                f"{'the host' if piece.on == 'host' else 'a piece'}."
            )
        if family.on_host:
            mount = _mount(family, piece, on)
            made = _piece(piece.values, piece.id, job.welding, mount, piece.changes).placed(Place())
            whole = _joined(
                whole, replace(made, dimensions=made.dimensions + host_dimensions(on, mount)), (), {}
            )
        else:
            whole = _plugged(whole, piece, _piece(piece.values, piece.id, job.welding, None, piece.changes))
    return marked(whole, job.marks)


def _mount(family: Family, piece: Piece, on: Host) -> HostSocket:
    face: Face = "inside" if getattr(piece.values, "plates_on", "outside") == "inside" else "outside"
    try:
        return host_socket(on, family.on, face)
    except BuildError:
        have = ", ".join(s.title for s in host_sockets(on))
        raise BuildError(
            f"A {family.title.lower()} does not go on a {on.words}: it wants {family.on}, and a "
            f"{on.words} has {have}."
        ) from None


def _joined(
    a: Assembly,
    b: Assembly,
    joints: tuple[Joint, ...],
    occupied: dict[str, str],
    warnings: tuple[str, ...] = (),
) -> Assembly:
    return Assembly(
        a.parts + b.parts,
        a.joints + b.joints + joints,
        a.sockets + b.sockets,
        {**a.occupied, **occupied},
        a.dimensions + b.dimensions,
        {**a.places, **b.places},
        a.warnings + b.warnings + warnings,
        {**a.titles, **b.titles},
        a.notes + b.notes,
        a.frees + b.frees,
    )


def _plugged(whole: Assembly, piece: Piece, made: Build) -> Assembly:
    """A piece put into a socket of the pieces before it."""
    family = families()[piece.family]
    plug = made.plugs[0]
    socket = whole.socket_by_key.get(piece.socket)
    if socket is None or socket.kind != plug.kind:
        have = ", ".join(s.key for s in whole.sockets if s.kind == plug.kind) or "none"
        raise BuildError(
            f"The {family.title.lower()} wants a {plug.kind} to go into, and “{piece.socket}” is none "
            f"here; there are: {have}."
        )
    if socket.key in whole.occupied:
        raise BuildError(f"Two pieces are put into {socket.key}; take one of them out.")
    place = socket.place @ plug.place.inverse()
    bar = made.parts[plug.part]
    assert isinstance(bar.shape, Bar)
    pin = next(
        (p.material for p in made.parts.values() if p.family.endswith("/hitch pin")),
        catalogue.material("4140-QT"),
    )
    mated = mate(
        socket,
        Guest(
            plug,
            bar.shape,
            piece.id,
            family.title.lower(),
            _rest(made, plug),
            pin,
            made.path("pin_material"),
        ),
    )
    if isinstance(mated, Refusal):
        raise BuildError(mated.words)
    return _joined(whole, made.placed(place), mated.joints, {socket.key: bar.key}, mated.warnings)


def _rest(made: Build, plug: Plug) -> float:
    """How far out of the plug's place the piece's other steel begins, mm."""
    out = []
    for part in made.parts.values():
        if part.hardware and not part.rated:
            continue
        if part.key == plug.part:
            continue
        low, high = solids.bounding_box(solids.solid(part.shape))
        out += [
            plug.place.local((x, y, z))[2]
            for x in (low[0], high[0])
            for y in (low[1], high[1])
            for z in (low[2], high[2])
        ]
    return min(out, default=float("inf"))


@lru_cache(maxsize=64)
def _built(
    stack: tuple[Piece, ...], welding: Welding, marks_: tuple[tuple[str, str], ...], on: Host
) -> Assembly:
    try:
        return assemble(Job(stack=stack, welding=welding, marks=dict(marks_)), on)
    except StockError as error:
        raise BuildError(f"On the {on.words}: {error}") from None


def build(job: Job, on: Host | None = None) -> Assembly:
    """The assembly of a job on its first host (or another).  BuildError with one sentence when the
    parameters make no part.
    """
    if not job.stack:
        raise no_part(job)
    return _built(job.stack, job.welding, tuple(job.marks.items()), on or job.vehicle)


def with_marks(job: Job) -> Job:
    """The job with a mark for every part it has now; marks given before stay, even of parts that have
    gone.
    """
    try:
        found = marks(build(job), job.marks) if job.stack else job.marks
    except BuildError:  # it is marked once it can be built
        return job
    return job if found == job.marks else job.model_copy(update={"marks": found})


def fitting(job: Job) -> list[Family]:
    """The families that go on the job's host."""
    kinds = {s.kind for s in host_sockets(job.vehicle)}
    return [f for f in families().values() if f.on_host and f.on in kinds]


def set_up(job: Job) -> tuple[str, ...]:
    """How the part is set up on each host it must serve: which row, which hole, how far an arm swings."""
    out: list[str] = []
    for one in job.hosts:
        try:
            notes = build(job, one).notes
        except BuildError:
            continue
        out += [f"{one.name}: {n}" if len(job.hosts) > 1 else n for n in notes]
    return tuple(dict.fromkeys(out))


def sketch(name: str) -> Assembly:
    """A family's own steel with its starting sizes on its usual host, to be drawn small."""
    return _sketch(name)


@lru_cache(maxsize=64)
def _sketch(name: str) -> Assembly:
    whole = build(new_job(name))
    own = next(p.id for p in new_job(name).stack if p.family == name)
    return Assembly(tuple(p for p in whole.parts if p.piece == own), titles=whole.titles)


def survey_job(kind: str) -> Job:
    """A survey of a kind of host, without a part yet."""
    if kind not in host.kinds():
        raise BuildError(f"There is no kind of host called “{kind}”; there are {', '.join(host.kinds())}.")
    return Job(title=f"Survey: {host.title(kind).lower()}", hosts=(host.starting_host(kind),))


def stack_of(name: str, on: tuple[str, ...] = ()) -> tuple[Piece, ...]:
    """A family's starting sizes on what it needs under it (``on``, nearest last, or its usual one), with
    what its duty needs on it.
    """
    for known in (name, *on):
        if known not in families():
            raise BuildError(f"There is no family called “{known}”; there are {', '.join(families())}.")
    names = [*on, name]
    for under, over in pairwise(names):
        if families()[over].on_host or families()[over].on not in families()[under].offers:
            raise BuildError(
                f"A {families()[over].title.lower()} does not sit on a "
                f"{families()[under].title.lower()}: it wants {families()[over].wants}."
            )
    while (under := families()[names[0]].stands_on) and not families()[names[0]].on_host:
        names.insert(0, under)
    sized: dict[int, dict[str, Any]] = {}
    while over := families()[names[-1]].bears:
        sized[len(names)] = families()[names[-1]].bears_as
        names.append(over)
    out: list[Piece] = []
    for n, one in enumerate(names, 1):
        family = families()[one]
        where, socket = ("host", family.on) if family.on_host else (str(n - 1), f"{n - 1}/{family.on}")
        out.append(
            Piece(
                id=str(n), on=where, socket=socket, values=family.design(family=one, **sized.get(n - 1, {}))
            )
        )
    for sizes in families()[name].more if families()[name].on_host else ():
        family = families()[name]
        out.append(
            Piece(
                id=str(len(out) + 1), on="host", socket=family.on, values=family.design(family=name, **sizes)
            )
        )
    return tuple(out)


def start_part(job: Job, name: str) -> Job:
    """The job with a family's starting sizes on its host, and its usual duty if none is asked of the part
    yet.
    """
    started = job.model_copy(update={"stack": stack_of(name), "marks": {}})
    started = in_inches(started) if job.units == "inch" else started
    return with_marks(_usual_duty(started, name) if not job.duties else started)


def _usual_duty(job: Job, name: str) -> Job:
    duty = families()[name].duty
    return duty(job) if duty else job


def new_job(name: str, kind: str | None = None, on: tuple[str, ...] = ()) -> Job:
    """A job with a family's starting values and its usual duty, on a kind of host and on other families if
    asked.
    """
    stack = stack_of(name, on)
    if kind is not None and kind not in host.kinds():
        raise BuildError(f"There is no kind of host called “{kind}”; there are {', '.join(host.kinds())}.")
    first = families()[stack[0].family]
    start = host.starting_host(kind or first.host, first.on)
    return with_marks(_usual_duty(Job(title=families()[name].title, stack=stack, hosts=(start,)), name))


def in_inches(job: Job) -> Job:
    """A starting job as an inch shop sets it: weld legs in sixteenths, where one is within a tenth of the
    size that starts; stock keeps its names.
    """
    sixteenth = units.MM_PER_INCH / 16
    stack = []
    for piece in job.stack:
        legs = {
            name: round(round(getattr(piece.values, name) / sixteenth) * sixteenth, 9)
            for name, spec in specs(type(piece.values)).items()
            if spec.kind == "length" and "leg" in spec.title.split()
        }
        near = {n: leg for n, leg in legs.items() if abs(leg / getattr(piece.values, n) - 1) < 0.1}
        stack.append(piece.model_copy(update={"values": piece.values.model_copy(update=near)}))
    return job.model_copy(update={"units": "inch", "stack": tuple(stack)})


def states(job: Job) -> tuple[tuple[str, Job], ...]:
    """Every way the job must hold: on each of its hosts, and in each setting of its pieces; in words (none
    for the first, as it is).
    """
    out: list[tuple[str, Job]] = []
    for n, one in enumerate(job.hosts):
        alone = job.model_copy(update={"hosts": (one,)}) if len(job.hosts) > 1 else job
        on = f"on {one.name}" if n else ""
        out.append((on, alone))
        for piece in job.stack:
            settings = families()[piece.family].settings
            for way in settings(piece.values, one) if settings else ():
                if (way.values, way.host) != (piece.values, one):
                    other = alone.with_values(piece.id, way.values)
                    out.append(
                        (
                            ", ".join(w for w in (on, way.words) if w),
                            other.with_vehicle(way.host) if way.host is not one else other,
                        )
                    )
    return tuple(out)


for _module in iter_modules(__path__):
    if _module.name not in ("registry",) and not _module.name.startswith("_"):
        import_module(f"{__name__}.{_module.name}")
