"""Job to verdict: build, cases, analyse, check, rank.  Each arrow one function; nothing keeps state."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

from urial.assembly.model import Assembly, BoltJoint, Builder, BuildError, ChainLink, WeldJoint
from urial.assembly.outline import distance_to_edge
from urial.families import build
from urial.job.model import Job
from urial.loads import duties, towing
from urial.loads.towing import Case, Rating
from urial.measure.concerns import concerns
from urial.stock import catalogue
from urial.strength import bolts, welds
from urial.strength.analysis import Forces, analyse
from urial.strength.basis import Basis, basis_of
from urial.strength.check import Check, Line, Working
from urial.strength.checks import judge
from urial.strength.frame import FrameError

CAUTION = (
    "Planning values by the stated methods, for the loads and sizes given here. Road use, carrying people and anything sold "
    "are decided by the local code, the vehicle maker's limits, a qualified welder and a licensed engineer or inspector."
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


@dataclass(frozen=True)
class Verdict:
    """Everything derived from one job: assembly, cases, forces, checks ranked largest utilisation first, warnings."""

    job: Job
    assembly: Assembly
    cases: tuple[Case, ...]
    forces: Forces | None  # None for a survey without a part
    checks: tuple[Check, ...]
    basis: Basis

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
        yours = {c.id for c in self.assembly.chain if c.yours}
        return next((c for c in self.checks if c.link in yours), self.checks[0])

    @cached_property
    def chain(self) -> tuple[LinkState, ...]:
        """The load chain from the ball to the rail."""
        worst: dict[str, Check] = {}
        for c in self.checks:
            worst.setdefault(c.link, c)
        return tuple(LinkState(link, worst.get(link.id)) for link in self.assembly.chain)

    @cached_property
    def short(self) -> tuple[Check, ...]:
        """The checks that fail."""
        return tuple(c for c in self.checks if c.short)

    @cached_property
    def warnings(self) -> tuple[str, ...]:
        """What is not a strength but will spoil the job: fits, least sizes, tongue weight."""
        out = list(self.assembly.warnings)
        out += concerns(self.job, self.assembly)
        if self.checks and self.job.duty.towed and towing.tongue_advice(self.job).warn:
            out.append(towing.tongue_advice(self.job).words)
        for joint in self.assembly.joints:
            if isinstance(joint, WeldJoint):
                out += _weld_warnings(joint)
            elif isinstance(joint, BoltJoint):
                out += _bolt_warnings(joint)
        changed = len(self.job.duty.factors) + sum(len(d.factors) for d in self.job.duties)
        if changed:
            out.append(f"{changed} load factor(s) differ from the policy; they are marked on the sheet.")
        return tuple(dict.fromkeys(out))

    def part_utilisation(self) -> dict[str, float]:
        """Worst utilisation by part mark."""
        out: dict[str, float] = {}
        for c in self.checks:
            out.setdefault(c.part, c.utilisation)
        return out


def _weld_warnings(j: WeldJoint) -> list[str]:
    thinner = min(t for _, t in j.base)
    out = []
    least = welds.minimum_leg(thinner)
    if j.leg < least:
        out.append(f"The weld of {j.name} has a {j.leg:.3g} mm leg; on {thinner:.3g} mm metal at least {least:.0f} mm is needed for heat (J2.4).")
    if j.edge is not None and j.leg > welds.maximum_leg_at_edge(j.edge) + 0.1:
        out.append(f"The weld of {j.name} has a {j.leg:.3g} mm leg along a {j.edge:.3g} mm edge; {welds.maximum_leg_at_edge(j.edge):.0f} mm is the most that leaves the edge whole.")
    return out


def _bolt_warnings(j: BoltJoint) -> list[str]:
    side, least = ("left", "right")[j.side < 0], bolts.minimum_edge_distance(j.bolt.diameter)
    out = []
    edge = min(distance_to_edge(j.outline, u, v) for u, v in j.outline_holes)
    if edge < least - 0.05:
        out.append(f"The {side} plate has {edge:.0f} mm from a hole to the edge; {least:.0f} mm is the least for {j.bolt.name} (J3.4).")
    holes = np.array(j.outline_holes)
    gaps = [float(np.hypot(*(a - b))) for n, a in enumerate(holes) for b in holes[:n]]
    if gaps and min(gaps) < 2.67 * j.bolt.diameter:
        out.append(f"Two {side} holes are {min(gaps):.0f} mm apart; {2.67 * j.bolt.diameter:.0f} mm is the least for {j.bolt.name} (J3.3).")
    if j.hole_diameter > j.bolt.hole + 1.1:
        out.append(f"A {side} rail hole is {j.hole_diameter:.3g} mm for an {j.bolt.name} bolt: oversize, so use thick washers and tighten fully.")
    if len(j.holes) == 1:
        out.append(f"One bolt on the {side} lets the plate turn; stop it with a second bolt or a shoulder.")
    return out


def rating_check(r: Rating, case: str, basis: Basis, cases: Sequence[Case]) -> Check:
    """Somebody else's limit as a check: kg against kg."""
    used = r.demand / r.limit

    def work() -> Working:
        return (Line(r.name, "what is asked / what is allowed", f"{r.demand:.0f} kg / {r.limit:.0f} kg", f"{used:.2f}"),
                Line("source", r.source, "", ""))  # fmt: skip

    return Check(r.id, r.name, "ball" if r.link == "ball" else "vehicle", r.link, "rating", case, r.demand, r.limit, "kg", used, basis.name, r.source,
                 np.full(len(cases), used), work, path=r.path)  # fmt: skip


def ball_overhang(job: Job, assembly: Assembly) -> float:
    """Ball behind the rear axle, mm."""
    return -assembly.places["ball"][0]


def rank(checks: Sequence[Check]) -> tuple[Check, ...]:
    """Largest utilisation first; equals keep the order of the chain."""
    return tuple(sorted(checks, key=lambda c: -c.utilisation))


def unproved(job: Job) -> Verdict:
    """A survey without a part yet: nothing built or judged; its duties' forces, and what it has to say."""
    nothing = Builder().build((), "", ("", ""))
    asked = tuple(Case(c.id, c.title, {}, c.reason, c.source, 1.0, c.changed, tuple((p.at, p.force) for p in c.pulls)) for c in duties.duty_cases(job))
    return Verdict(job, nothing, asked, None, (), basis_of(job.proof))


def prove(job: Job, assembly: Assembly | None = None) -> Verdict:
    """The verdict of a job.  BuildError with one sentence when the part cannot be built or cannot stand."""
    assembly = assembly or build(job)
    basis = basis_of(job.proof)
    cases = (*towing.cases(job, assembly), *duties.cases_on(job, assembly))
    if not cases:
        raise BuildError("Nothing is asked of the part: let it tow a trailer, or add a carrier, a winch or a recovery strap at Load.")
    try:
        forces = analyse(assembly, cases, job.proof.foot, basis.load_factor)
    except FrameError as error:
        raise BuildError(f"The part cannot stand as drawn. {error}") from None
    checks = judge(forces, basis, job.proof.weld_method)
    ball = catalogue.ball(job.design.ball_mount.ball)  # type: ignore[union-attr]
    hung = [(kg, -at[0]) for duty in job.duties for kg, at in duties.mass_places(duty, assembly.places["mouth"])]
    checks += [rating_check(r, "standing", basis, cases) for r in towing.ratings(job, ball_overhang(job, assembly), ball.rated_kg, hung)]
    return Verdict(job, assembly, cases, forces, rank(checks), basis)
