"""The stack as something one works on: put a piece into an open socket, take one off; and what is open.

Names start with an underscore so that nothing takes this file for a family.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from urial.assembly.model import Assembly, BuildError
from urial.families.registry import Family, families
from urial.geometry.place import Vec
from urial.job.host import Host
from urial.job.model import Job, Piece
from urial.mates.coupling import COUPLINGS
from urial.mates.host import HostSocket, host_sockets
from urial.stock import catalogue

MANY = ("side rail", "timber deck")
"""Places of the host that take any number of pieces."""


@dataclass(frozen=True)
class Open:
    """An open place: on the host or on a piece (its id), the socket's key, its kind, where it is, in
    words.
    """

    on: str
    socket: str
    kind: str
    at: Vec
    words: str


def wanted(kind: str) -> list[Family]:
    """The families that go into a kind of socket."""
    return [f for f in families().values() if f.on == kind]


def open_places(job: Job, assembly: Assembly) -> list[Open]:
    """Every place something could still go: the host's own, then those of the pieces, from the host
    outward.
    """
    out = []
    for s in host_sockets(job.vehicle):
        taken = any(p.on == "host" and families()[p.family].on == s.kind for p in job.stack)
        if (not taken or s.kind in MANY) and _usable(s) and wanted(s.kind):
            out.append(Open("host", s.kind, s.kind, host_place(s), f"{s.title} of the {job.vehicle.words}"))
    for k in assembly.sockets:
        if k.key not in assembly.occupied and wanted(k.kind):
            out.append(
                Open(
                    k.part.split("/", 1)[0],
                    k.key,
                    k.kind,
                    k.place.point((0.0, 0.0, k.depth)),
                    bore_words(k.size) if k.kind == "receiver" else k.kind,
                )
            )
    return out


def bore_words(size: str) -> str:
    """A receiver's bore in words: 2 in bore, 5/8 pin."""
    r = catalogue.receiver(size)
    pin = {12.7: "1/2", 15.875: "5/8", 19.05: "3/4"}.get(r.pin, f"{r.pin:.4g} mm")
    return f"{r.name} in bore, {pin} pin"


def at_front(job: Job) -> bool:
    """Does the part hang on the host's front?"""
    return any(families()[p.family].on.endswith(", front") for p in job.stack)


def _usable(s: HostSocket) -> bool:
    """Has the host measured points there, or something to take hold of?"""
    return bool(s.bolts or s.middle)


def host_place(s: HostSocket) -> Vec:
    """Where a socket of the host is shown: the middle of its bolts, or of its bar (a place for many: on
    the bar).
    """
    if s.bolts and not (s.middle is not None and s.kind in MANY):
        return tuple(sum(b.place.o[k] for b in s.bolts) / len(s.bolts) for k in range(3))  # type: ignore[return-value]
    return s.middle or s.place.o


MOST_PIECES = 9999


def put_on(job: Job, name: str, on: str, socket: str) -> Job:
    """A piece of a family, with its starting sizes, in an open place.  BuildError when there is no such
    family.
    """
    family = _family(name)
    number = job.next_free
    if number > MOST_PIECES:
        raise BuildError(
            f"This job has had {MOST_PIECES} pieces, and no number is given twice; begin a new job."
        )
    piece = Piece(
        id=str(number), on=on, socket=family.on if on == "host" else socket, values=family.design(family=name)
    )
    stack = (*job.stack, piece)
    return _asked(job.model_copy(update={"stack": stack, "next_piece": number + 1}), family)


def take_off(job: Job, number: str) -> Job:
    """Without a piece and everything that stands on it."""
    gone = {number}
    for p in job.stack:  # a piece stands on one before it
        if p.on in gone:
            gone.add(p.id)
    left = tuple(p for p in job.stack if p.id not in gone)
    return job.model_copy(update={"stack": left, "next_piece": job.next_free})


def _family(name: str) -> Family:
    if name not in families():
        raise BuildError(f"There is no family called “{name}”; there are {', '.join(families())}.")
    return families()[name]


def _asked(job: Job, family: Family) -> Job:
    """What is asked of it follows what is on it: a ball tows again; without one nothing is towed, and if
    nothing else is asked either, the new piece brings its usual duty."""
    if family.bears:  # what it is asked comes with what goes on it
        return job
    balls = any(set(COUPLINGS) & set(families()[p.family].offers) for p in job.stack)
    if family.does == "tow" and balls and not job.duty.towed and not job.duties:
        return job.model_copy(update={"duty": job.duty.model_copy(update={"towed": True})})
    if balls or not job.duty.towed:
        return _with_duty(job, family.duty) if not job.duty.towed and not job.duties else job
    job = job.model_copy(update={"duty": job.duty.model_copy(update={"towed": False})})
    return _with_duty(job, family.duty) if not job.duties else job


def _with_duty(job: Job, duty: Callable[[Job], Job] | None) -> Job:
    """With a family's usual duty, on the host that is there."""
    asked = duty(job) if duty else job
    return asked.model_copy(update={"hosts": job.hosts})


def hosts_of(family: Family, starting: Callable[[str, str], Host], kinds: list[str]) -> list[str]:
    """The kinds of host a family goes on (an insert: those of what it goes into)."""
    if not family.on_host:
        under = [f for f in families().values() if family.on in f.offers and f.on_host]
        return [k for k in kinds if any(k in hosts_of(f, starting, kinds) for f in under)]
    out = []
    for kind in kinds:
        found = next((s for s in host_sockets(starting(kind, family.on)) if s.kind == family.on), None)
        if found is not None and _usable(found):
            out.append(kind)
    return out
