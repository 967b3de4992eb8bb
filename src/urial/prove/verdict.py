"""Job to verdict: build, cases, analyse, check, rank.  Each arrow one function; nothing keeps state."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np

from urial.assembly import bodies, facts
from urial.assembly.chain import VEHICLE, ChainLink, chain
from urial.assembly.model import HOST, Assembly, Bolts, BuildError, Contact, Joint, Plugs, Unasked, Weld
from urial.families import build, states
from urial.geometry.place import dot, minus, norm, times
from urial.job import speech
from urial.job.formula import applied
from urial.job.host import Post
from urial.job.model import UNPROVED, Job
from urial.job.remembered import Remembered
from urial.loads import duties, towing, trailing
from urial.loads.case import Case, LoadPoint, apart, load_points
from urial.loads.endurance import Repeated, repeated
from urial.mates.host import host_sockets
from urial.measure.concerns import concerns
from urial.prove.minds import GROUPS, Do, Mind
from urial.prove.ratings import rating_checks
from urial.road.rig import masses_words
from urial.strength.analysis import Forces, analyse
from urial.strength.basis import Basis, basis_of
from urial.strength.check import APART, Check, Unchecked
from urial.strength.checks import judge
from urial.strength.checks.bolts import bolt_warnings
from urial.strength.checks.clamps import plug_warnings
from urial.strength.checks.common import Context
from urial.strength.checks.decking import deck_checks
from urial.strength.checks.droop import droop_checks
from urial.strength.checks.ends import bend_warnings
from urial.strength.checks.endurance import JUDGES_AGAIN, endurance_checks, ranges_of
from urial.strength.checks.hotspots import unjudged_feet
from urial.strength.checks.members import open_warnings
from urial.strength.checks.minima import minimum_checks
from urial.strength.checks.posts import post_checks
from urial.strength.checks.silent import missing_again, silent_parts
from urial.strength.checks.weldable import unjudged_welds, weldability_words
from urial.strength.checks.welds import weld_warnings
from urial.strength.restraint import Restraint, restraint

CAUTION = (
    "Planning values by the stated methods, for the loads and sizes given here. Road use, carrying "
    "people and anything sold "
    "are decided by the local code, the vehicle maker's limits, a qualified welder and a licensed "
    "engineer or inspector."
)


@dataclass(frozen=True)
class LinkState:
    """A link of the load chain with its worst check."""

    link: ChainLink
    worst: Check | None

    @property
    def utilisation(self) -> float:
        """0 when nothing is judged there."""
        return self.worst.utilisation if self.worst else 0.0


BESIDE = 60.0
"""A bolt that stands so far beside another's axis stops what both hold from turning, mm."""


@dataclass(frozen=True)
class Verdict:
    """Everything derived from one job: assembly, cases, forces, checks ranked largest utilisation first,
    what no check knows, warnings."""

    job: Job
    assembly: Assembly
    cases: tuple[Case, ...]
    forces: Forces | None  # None for a survey without a part
    checks: tuple[Check, ...]
    basis: Basis
    unchecked: tuple[Unchecked, ...] = ()
    unasked: str = ""  # what to ask of a part that is only built
    repeated: tuple[Repeated, ...] = ()  # what it must bear again and again
    waived: tuple[tuple[Check, str], ...] = ()  # least sizes that somebody lives with, and why

    @cached_property
    def points(self) -> dict[str, LoadPoint]:
        """The places that cases load."""
        return load_points(self.assembly)

    def places(self, case: Case) -> list[tuple[tuple[float, float, float], tuple[float, float, float]]]:
        """Places and forces of a case as they really act."""
        return list(case.pulls) or [(self.points[n].at, (f[0], f[1], f[2])) for n, f in case.loads.items()]

    @property
    def holds(self) -> bool:
        """No check is short."""
        return not any(c.short for c in self.checks[:1])

    @property
    def verdict(self) -> Literal["holds", "short"]:
        """In one word."""
        return "holds" if self.holds else "short"

    @property
    def governing(self) -> Check:
        """The check with the largest utilisation."""
        return self.checks[0]

    @cached_property
    def weak_link(self) -> Check:
        """The worst check of the part itself, the vehicle's own limits apart."""
        return next(
            (c for c in self.checks if c.link not in (HOST, VEHICLE) and c.kind != "rating"), self.checks[0]
        )

    @cached_property
    def links(self) -> tuple[ChainLink, ...]:
        """The load chain from every loaded place back to the vehicle."""
        return self.links_from(self.loaded)

    @cached_property
    def loaded(self) -> tuple[str, ...]:
        """The sockets that some case loads, the one whose cases use the part most first."""
        used: dict[str, float] = {}
        most = (
            np.max([c.by_case for c in self.checks if len(c.by_case) == len(self.cases)], axis=0)
            if self.checks
            else np.zeros(len(self.cases))
        )
        for n, case in enumerate(self.cases):
            for name in case.loads:
                key = name.removesuffix(" mouth")
                used[key] = max(used.get(key, 0.0), float(most[n]))
        return tuple(sorted(used, key=lambda k: -used[k]))

    def links_from(self, sockets: tuple[str, ...]) -> tuple[ChainLink, ...]:
        """The load chain from some loaded places back to the vehicle."""
        named = {
            "vehicle": "frame rail",
            "quad": "frame",
            "two-wheeler": "frame",
            "tractor": "linkage",
            "trailer": "trailer's rail",
            "post": "trunk",
        }.get(self.job.vehicle.words, "host")
        return chain(self.assembly, sockets, named) if self.assembly.parts else ()

    @cached_property
    def chain(self) -> tuple[LinkState, ...]:
        """The load chain with the worst check of each link; what lies off it counts in the link it hangs
        on.
        """
        return self.chain_from(self.loaded)

    def chain_from(self, sockets: tuple[str, ...]) -> tuple[LinkState, ...]:
        """The chain of some loaded places: each link's worst check in the cases that load one of them."""
        some = [
            n
            for n, case in enumerate(self.cases)
            if any(name.removesuffix(" mouth") in sockets for name in case.loads)
        ]
        whole = len(some) == len(self.cases)
        worst: dict[str, Check] = {}
        for c in self.checks if whole else (self._in_cases(c, some) for c in self.checks):
            if c.link not in worst or c.utilisation > worst[c.link].utilisation:
                worst[c.link] = c
        return tuple(LinkState(link, worst.get(link.id)) for link in self.links_from(sockets))

    def _in_cases(self, c: Check, some: list[int]) -> Check:
        """A check as it is in some of the cases."""
        if len(c.by_case) != len(self.cases) or not some:
            return c
        if c.kind == "fatigue":  # its case is a swing of its own
            return replace(c, utilisation=float(max(c.by_case[k] for k in some)))
        n = max(some, key=lambda k: float(c.by_case[k]))
        return replace(c, case=self.cases[n].id, utilisation=float(c.by_case[n]))

    @cached_property
    def short(self) -> tuple[Check, ...]:
        """The checks that fail."""
        return tuple(c for c in self.checks if c.short)

    @cached_property
    def softest(self) -> Restraint | None:
        """How the host holds the part, and the motion of the loaded place that gives most; None before it
        is judged.
        """
        if self.forces is None:
            return None
        names = list(dict.fromkeys(n for c in self.cases for n in c.loads))[:6]
        return min(
            (restraint(self.forces, n, self.points[n]) for n in names),
            key=lambda r: r.stiffness,
            default=None,
        )

    @property
    def warnings(self) -> tuple[str, ...]:
        """What is not a strength but will spoil the job: fits, least sizes, tongue weight; in the job's
        units.
        """
        return tuple(dict.fromkeys(speech.said(self.job, m.words) for m in self.minds))

    @property
    def minds(self) -> tuple[Mind, ...]:
        """The same as values, by what is to be done, the gravest first, each once."""
        found = [*self._minded, *(Mind("load", w) for w in (masses_words(self.job),) if w)]
        order = list(GROUPS)
        return tuple(sorted(dict.fromkeys(found), key=lambda m: order.index(m.do)))

    @cached_property
    def _minded(self) -> tuple[Mind, ...]:
        unjudged = tuple(dict.fromkeys(u.what for u in self.unchecked))
        n = len(self.unchecked)
        summed = f"{n} place{'s are' if n > 1 else ' is'} not judged by any rule here: {'; '.join(unjudged)}."
        return (
            *([Mind("judge", summed, unjudged)] if unjudged else []),
            *(Mind(do, w) for do, words in self._words() for w in words),
        )

    def _words(self) -> Iterator[tuple[Do, Iterable[str]]]:
        """Sentences by what is to be done about them."""
        job, assembly = self.job, self.assembly
        yield "change", [self.unasked] if self.unasked else []
        yield "change", assembly.warnings
        yield "measure", concerns(job, assembly)
        yield (
            "change",
            (f"A formula does not fit, and its size keeps its last figure. {w}" for w in applied(job)[1]),
        )
        if self.checks and job.duty.towed and towing.tongue_advice(job).warn:
            yield "load", [towing.tongue_advice(job).words]
        yield "weld", weldability_words(assembly)
        yield "load", duties.said_otherwise(job, assembly)
        for j in assembly.joints:
            parts = tuple(assembly.by_key[k] for k in (j.a, j.b) if k in assembly.by_key)
            if isinstance(j.how, Weld):
                yield "change", weld_warnings(parts, j)
            elif isinstance(j.how, Bolts):
                yield "change", bolt_warnings(j, j.how, parts[0], self._stopped(j))
            elif isinstance(j.how, Plugs):
                yield "change", plug_warnings(j, j.how, facts.thickness(parts[0]))
        for part in assembly.parts:
            yield "change", bend_warnings(part)
        if self.forces is not None:
            yield "judge", open_warnings(self.forces)
        yield "change", (o.words for o in bodies.overlaps(assembly, host_bodies(job)))
        yield "change", ground_words(assembly)
        yield (
            "note",
            (
                f"Waived in writing: {c.name} needs {c.demand:.3g} mm and has {c.available:.3g} mm "
                f"({c.clause}). Reason: {why}"
                for c, why in self.waived
            ),
        )
        yield "note", self._by_one_sample()
        yield "change", self._gives_first()
        changed = len(job.duty.factors) + sum(len(d.factors) for d in job.duties)
        if changed:
            yield "note", [f"{changed} load factor(s) differ from the policy; they are marked on the sheet."]

    def _by_one_sample(self) -> list[str]:
        """What only the school of the type test lets pass, or would."""
        tired = [c for c in self.checks if c.kind == "fatigue"]
        if self.job.proof.endured == "type test":
            only = [c for c in tired if not c.short and c.other_school >= 1.0]
            if not only:
                return []
            first = f"{only[0].name[0].upper()}{only[0].name[1:]}"
            hold = f"{first} and {len(only) - 1} more hold" if len(only) > 1 else f"{first} holds"
            return [
                f"{hold} as one sample on the test bench does and not by the category: about half of such "
                "parts would crack there."
            ]
        if not any(c.short for c in tired) or any(c.short for c in self.checks if c.kind != "fatigue"):
            return []
        would = max(c.other_school for c in tired)
        ending = "so ordinary parts get by" if would < 1 else "which it would not pass either"
        return [
            "What is short is so in two million swings only. Ordinary parts were pulled once, or one sample "
            f"of them was tested, where this is {100 * would:.0f} % used, {ending}; bevel and fuse the weld "
            "through, shorten the lever, take a bigger tube or put a plate under it."
        ]

    def _gives_first(self) -> list[str]:
        """Is what is meant to give way first weakest in a hard pull?  What wears out is another matter."""
        wanted = self.job.proof.gives_first
        if not wanted or not self.checks:
            return []
        hard = [c for c in self.checks if c.kind not in APART]
        mine = next((c for c in hard if c.link == wanted), None)
        name = next((link.name for link in self.links if link.id == wanted), wanted.split("/")[-1])
        if mine is None:
            return [f"What is to give way first, {name}, is not in the load chain; choose another at Prove."]
        before = next((c for c in hard if c.link != wanted and c.utilisation > mine.utilisation), None)
        if before is None:
            return []
        return [
            f"The {name} is meant to give way first and is {100 * mine.utilisation:.0f} % used at most; "
            f"{before.name} is at {100 * before.utilisation:.0f} % and gives way before it."
        ]

    def _stopped(self, bolted: Joint) -> bool:
        """Does anything stop the part turning about its one bolt: a shoulder on the host, or another bolt
        beside its axis, on the part or on what is welded to it from part to part?
        """
        reached, left = {bolted.a}, [bolted.a]
        while left:
            here = left.pop()
            for j in self.assembly.joints_of.get(here, ()):
                other = j.b if j.a == here else j.a
                if isinstance(j.how, Weld) and other != HOST and other not in reached:
                    reached.add(other)
                    left.append(other)
        axis = bolted.place.z
        for j in (j for k in reached for j in self.assembly.joints_of.get(k, ()) if HOST in (j.a, j.b)):
            if isinstance(j.how, Contact):
                return True
            off = minus(j.place.o, bolted.place.o)
            if isinstance(j.how, Bolts) and norm(minus(off, times(axis, dot(off, axis)))) > BESIDE:
                return True
        return False

    def part_utilisation(self) -> dict[str, float]:
        """Worst utilisation by part mark."""
        out: dict[str, float] = {}
        for c in self.checks:
            out.setdefault(c.part, c.utilisation)
        return out


def host_bodies(job: Job) -> list[bodies.HostBody]:
    """The host's own metal that a part must not run through."""
    return [b for s in host_sockets(job.vehicle) for b in s.bodies] if job.stack else []


LOW = 180.0
"""Ground clearance, empty, below which a part is warned of, mm."""


def ground_words(assembly: Assembly) -> list[str]:
    """A part near the ground."""
    low = bodies.lowest(assembly)
    if low is None or low[2] >= LOW:
        return []
    return [
        f"Only {low[2]:.0f} mm to the ground when empty, less when loaded; a smaller drop clears "
        "ramps and kerbs."
    ]


def rank(checks: Sequence[Check]) -> tuple[Check, ...]:
    """Largest utilisation first; equals keep the order of the chain."""
    return tuple(sorted(checks, key=lambda c: -c.utilisation))


def unproved(job: Job) -> Verdict:
    """A survey without a part yet: nothing built or judged; its duties' forces, and what it has to say."""
    nothing = Assembly()
    asked = tuple(
        Case(c.id, c.title, {}, c.reason, c.source, 1.0, c.changed, tuple((p.at, p.force) for p in c.pulls))
        for c in duties.duty_cases(job)
    )
    return Verdict(job, nothing, asked, None, (), basis_of(job.proof))


def unasked(job: Job, words: str) -> Verdict:
    """A part that is built and not judged, since nothing is asked of it yet; ``words`` say what to ask."""
    return replace(unproved(job), assembly=build(job), unasked=words)


Making = Callable[[Job], Assembly]
_PROVED: Remembered[Job, Verdict] = Remembered(8)
_IN_OTHER_WORDS: Remembered[Job, Verdict] = Remembered(8)


def prove(job: Job, make: Making = build) -> Verdict:
    """The verdict of a job, on every host it must serve and in every setting, built as drawn or as ``make``
    makes it.  BuildError with one sentence when it cannot be built or stand.
    """
    if make is not build:
        return _in_every_state(job, make)
    return _PROVED.of(job, lambda: _proved_alike(job))


def _proved_alike(job: Job) -> Verdict:
    """As a job was proved that differs only in what it is called and in the units it speaks."""
    alike = job.model_copy(update={**UNPROVED, "units": "metric", "nearest": 16})
    found = _IN_OTHER_WORDS.of(alike, lambda: _in_every_state(job, build))
    return found if found.job is job else replace(found, job=job)


def _in_every_state(job: Job, make: Making) -> Verdict:
    ways = states(job)
    if len(ways) == 1:
        return _prove(job, make)
    found = []
    for words, way in ways:
        try:
            found.append((words, _prove(way, make)))
        except Unasked:
            raise
        except BuildError as error:
            raise BuildError(f"{words[0].upper()}{words[1:]}: {error}" if words else str(error)) from None
    return _worst_of(job, found)


def _worst_of(job: Job, found: list[tuple[str, Verdict]]) -> Verdict:
    """The first way's verdict with every check as it is in the way where it is worst, that way named."""
    worst: dict[str, Check] = {}
    for words, v in found:
        for c in v.checks:
            if c.id not in worst or c.utilisation > worst[c.id].utilisation:
                worst[c.id] = replace(c, name=f"{c.name}, {words}") if words else c
    first = found[0][1]
    unchecked = tuple(dict.fromkeys(u for _, v in found for u in v.unchecked))
    return Verdict(
        job,
        first.assembly,
        first.cases,
        first.forces,
        rank(tuple(worst.values())),
        first.basis,
        unchecked,
        repeated=first.repeated,
        waived=tuple({c.id: (c, why) for _, v in found for c, why in v.waived}.values()),
    )


def _prove(job: Job, make: Making) -> Verdict:
    """The verdict on the first host."""
    assembly = make(job)
    basis = basis_of(job.proof)
    cases = apart((*trailing.towed(job, assembly), *duties.cases_on(job, assembly)))
    if not cases:
        raise Unasked(
            "Nothing is asked of the part: let it tow a trailer, or add a carrier, a winch or a "
            "recovery strap at Load."
        )
    swung = repeated(job, assembly)
    ends = [s.one for r in swung for s in r.swings] + [s.other for r in swung for s in r.swings]
    every = tuple(replace(c, id=f"{c.id} #{n}") for n, c in enumerate(ends))
    solved = analyse(assembly, (*cases, *every), load_points(assembly), job.proof.foot, basis.load_factor)
    forces = solved.only(range(len(cases)))
    context = Context(forces, basis, job.proof.weld_method)
    checks, unchecked = judge(forces, basis, job.proof.weld_method)
    if swung:
        both = solved.only(range(len(cases), len(cases) + len(every)))
        ranges = ranges_of(context, both, swung, job)
        checks += endurance_checks(ranges)
        unchecked += unjudged_feet(ranges)
        checks += droop_checks(context, both, swung)
    if isinstance(job.vehicle, Post):
        for found in post_checks(context, job.vehicle):
            (checks if isinstance(found, Check) else unchecked).append(found)  # type: ignore[arg-type]
    checks += deck_checks(context, job)
    if swung:
        unchecked += missing_again(context, JUDGES_AGAIN)
    unchecked += silent_parts(context, checks, unchecked)
    if job.welding.hard_steels == "not judged":
        unchecked += unjudged_welds(context)
    written = {w.finding: w.reason for w in job.waived}
    minima = [*minimum_checks(context), *(c for c in checks if c.kind == "minimum")]
    checks = [c for c in checks if c.kind != "minimum"] + [c for c in minima if c.id not in written]
    waived = tuple((c, written[c.id]) for c in minima if c.id in written)
    limits, silent = rating_checks(job, assembly, basis, cases)
    checks += limits
    unchecked += silent
    if not checks:
        raise Unasked("Nothing of the part could be judged; load one of its sockets.")
    return Verdict(
        job, assembly, cases, forces, rank(checks), basis, tuple(unchecked), repeated=swung, waived=waived
    )
