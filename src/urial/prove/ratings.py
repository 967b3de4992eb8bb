"""What others limit: the host's maker, the stamp on a bought thing, the class of a bore.  Each rule reads the
assembly and the duties and says what is asked and what is allowed, in kg.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from urial import units
from urial.assembly.chain import VEHICLE
from urial.assembly.model import Assembly, Part, Socket
from urial.geometry.place import Vec
from urial.job.duty import Carrier, Implement
from urial.job.model import Job
from urial.loads import duties, towing, trailing
from urial.loads.case import Case
from urial.loads.ratings import SHELF, Asked, Rating, on_wheels, ratings, standing
from urial.stock import catalogue
from urial.strength.basis import Basis
from urial.strength.check import Check, Line, Unchecked, Working

CLASS = "SAE J684: the heaviest trailer of the class such bores are made for"
STANDING, HARDEST = "standing", "hardest pull"


@dataclass(frozen=True)
class Limit:
    """A rating, when it is asked for, and of which part (None: of the vehicle)."""

    rating: Rating
    when: str = STANDING
    part: Part | None = None


@dataclass(frozen=True)
class _About:
    """What the rules read."""

    job: Job
    assembly: Assembly
    cases: Sequence[Case]

    @cached_property
    def placed(self) -> tuple[tuple[float, Vec], ...]:
        """What hangs on the part beside a trailer: kg and where."""
        return tuple(duties.hung(self.job, self.assembly))

    @cached_property
    def hung(self) -> list[tuple[float, float]]:
        """The same as kg and mm behind the host's origin."""
        return [(kg, -at[0]) for kg, at in self.placed]

    @property
    def whole(self) -> float:
        """What the trailer weighs or may weigh, kg; 0 where none is towed."""
        duty = self.job.duty
        return max(duty.permissible_kg or 0.0, duty.trailer_mass_kg) if duty.towed else 0.0

    def part(self, socket: Socket) -> Part:
        """The part a socket is of."""
        return self.assembly.by_key[socket.part]

    def stamped(
        self, s: Socket, name: str, words: str, asked: float, may: float, when: str = STANDING
    ) -> Limit:
        """A limit that is stamped on what has a socket."""
        return Limit(Rating(f"{s.key}: {name}", words, "ball", asked, may, s.path, SHELF), when, self.part(s))


Rule = Callable[[_About], Iterator[Limit]]


def _bores(about: _About) -> Iterator[Limit]:
    """The class of trailer that a bore in use is made for."""
    for bore in about.assembly.sockets:
        if bore.kind != "receiver" or bore.key not in about.assembly.occupied:
            continue
        towed = catalogue.receiver(bore.size).towed
        if about.job.duty.towed and towed:
            words, asked = f"class of a {bore.size} in receiver", about.job.duty.trailer_mass_kg
            rating = Rating(f"{bore.key}: class", words, "ball", asked, towed, bore.path, CLASS)
            yield Limit(rating, STANDING, about.part(bore))


def _stamps(about: _About) -> Iterator[Limit]:
    """What a bought receiver or hook is stamped for: the trailer it may tow, and what may rest on it."""
    duty = about.job.duty
    down = (duty.tongue_mass_kg if duty.towed else 0.0) + sum(kg for kg, _ in about.hung)
    for s in about.assembly.sockets:
        if s.kind == "receiver" and s.key not in about.assembly.occupied:
            continue
        name = about.part(s).name
        if s.kind in ("receiver", "hook") and s.rating_kg and about.whole:
            yield about.stamped(s, "stamp", f"{name}, stamped", about.whole, s.rating_kg)
        if s.down_kg and down and s.kind not in ("coupler", "coupled"):
            yield about.stamped(s, "resting", f"{name}, what rests on it", down, s.down_kg)


def _coupler(about: _About) -> Iterator[Limit]:
    """A trailer's own half of the coupling against its stamps: the trailer's mass, D, what rests on it."""
    half = next((s for s in about.assembly.sockets if s.kind in ("coupler", "coupled")), None)
    if not about.job.duty.towed or half is None:
        return
    own = half.kind == "coupled"
    c = trailing.coupling(about.job, about.assembly) if own else towing.coupling(about.job)
    if half.rating_kg and not own:  # a whole trailer's is held to what is built
        yield about.stamped(half, "rating", "coupler, stamped", about.whole, half.rating_kg)
    if half.along_N:
        asked, most = (v / units.STANDARD_GRAVITY for v in (1000 * c.D, half.along_N))
        yield about.stamped(half, "D", "coupler, stamped D", asked, most)
    if half.down_kg:
        asked = max(1000 * c.S / units.STANDARD_GRAVITY, 0.0)
        yield about.stamped(half, "S", "coupler, stamped S", asked, half.down_kg)


def _wheels(about: _About) -> Iterator[Limit]:
    """Each wheel of a trailer that is built."""
    for r in on_wheels(about.assembly, about.placed):
        yield Limit(r, STANDING, about.part(about.assembly.socket_by_key[r.id.split(": ")[0]]))


def _ropes(about: _About) -> Iterator[Limit]:
    """The working load of what a rope or a shackle hangs in."""
    for ring in about.assembly.sockets:
        if ring.kind not in duties.HOLDS_A_ROPE or not ring.rating_kg:
            continue
        pulls = [math.hypot(*c.loads[ring.key][:3]) for c in about.cases if ring.key in c.loads]
        if pulls and max(pulls) > 0:
            words, kg = f"{about.part(ring).name}, stamped working load", max(pulls) / units.STANDARD_GRAVITY
            yield about.stamped(ring, "stamp", words, kg, ring.rating_kg, HARDEST)


def _straps(about: _About) -> Iterator[Limit]:
    """The strap that holds cargo down."""
    for tie in about.assembly.sockets:
        if tie.kind != "tie" or not tie.rating_kg:
            continue
        up = max((c.loads[tie.key][2] for c in about.cases if tie.key in c.loads), default=0.0)
        if up > 0:
            words = f"strap over the load, at the {about.part(tie).name}"
            yield about.stamped(tie, "strap", words, up / units.STANDARD_GRAVITY, tie.rating_kg, HARDEST)


def _decks(about: _About) -> Iterator[Limit]:
    """What a deck is stamped for."""
    carried = sum(i.kg for d in about.job.duties if isinstance(d, Carrier) for i in d.items)
    for deck in about.assembly.sockets:
        if deck.kind == "deck" and deck.rating_kg and carried:
            words = f"{about.part(deck).name}, stamped load"
            yield about.stamped(deck, "stamp", words, carried, deck.rating_kg)


def _forks(about: _About) -> Iterator[Limit]:
    """A pair of forks, less where the load's middle lies past the one they are stamped at."""
    forks = [s for s in about.assembly.sockets if s.kind == "fork" and s.rating_kg]
    payload = sum(d.kg + d.payload_kg for d in about.job.duties if isinstance(d, Implement))
    if not forks or not payload:
        return
    limit, words = sum(s.rating_kg or 0.0 for s in forks), "forks, stamped rating"
    past = duties.past_centre(about.job, forks[0])
    if past > 1.0:
        limit /= past
        words += (
            f" at {forks[0].centre:.0f} mm, the load's middle {past * forks[0].centre:.0f} mm from the heel"
        )
    yield Limit(
        Rating("fork rating", words, "ball", payload, limit, forks[0].path, SHELF),
        STANDING,
        about.part(forks[0]),
    )


RULES: tuple[Rule, ...] = (_bores, _stamps, _coupler, _wheels, _ropes, _straps, _decks, _forks)


def rating_checks(
    job: Job, assembly: Assembly, basis: Basis, cases: Sequence[Case]
) -> tuple[list[Check], list[Unchecked]]:
    """The limits of the host's maker and every stamp; what no maker gives a figure for."""
    about = _About(job, assembly, cases)
    of_maker, silent = _of_maker(about)
    limits = [*of_maker, *(limit for rule in RULES for limit in rule(about))]
    return [_check(limit, basis, cases) for limit in limits], silent


def _of_maker(about: _About) -> tuple[list[Limit], list[Unchecked]]:
    """The host's own limits, and the ball's stamp."""
    socket = next((s for s in about.assembly.sockets if s.kind == "ball"), None)
    ball = (socket.rating_kg, socket.path) if socket and socket.rating_kg else None
    part = about.part(socket) if socket else None
    asked = Asked(ball_overhang(about.assembly), ball, about.hung, standing(about.assembly, about.placed))
    rows, silent = ratings(about.job.vehicle, about.job, asked)
    limits = [Limit(r, STANDING, part if r.link == "ball" else None) for r in rows]
    return limits, [Unchecked("vehicle", words, VEHICLE) for words in silent]


def ball_overhang(assembly: Assembly) -> float:
    """Ball behind the rear axle, mm; the mouth where there is no ball."""
    return -(assembly.places.get("ball") or assembly.places.get("mouth") or (0.0, 0.0, 0.0))[0]


def _check(limit: Limit, basis: Basis, cases: Sequence[Case]) -> Check:
    """Somebody else's limit as a check: kg against kg."""
    r, part = limit.rating, limit.part
    used = r.demand / r.limit

    def work() -> Working:
        figures = f"{r.demand:.5g} kg / {r.limit:.5g} kg"
        return (
            Line(r.name, "what is asked / what is allowed", figures, f"{used:.2f}"),
            Line("source", r.source, "", ""),
        )

    return Check(
        r.id,
        r.name,
        part.mark if part else "vehicle",
        r.link if r.link != "ball" else part.family if part else VEHICLE,
        "rating",
        limit.when,
        r.demand,
        r.limit,
        "kg",
        used,
        basis.name,
        r.source,
        np.full(len(cases), used),
        work,
        path=r.path,
    )


__all__ = ["Limit", "ball_overhang", "rating_checks"]
