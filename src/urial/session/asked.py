"""The questions of a session, each registered by its name.

verdict: what follows from the job · fit: does it go together · size: sizes that hold · remedies, pairs: what
would mend a check · moves: what a way out of a clash costs · what if: a sweep, the most, the chance ·
offers: what goes into a place · versions: two jobs beside each other · proof test, second, schools: in words.
"""

from __future__ import annotations

from dataclasses import replace
from threading import Event
from typing import cast

from urial.assembly import bodies
from urial.assembly.model import Assembly, BuildError, Unasked
from urial.families import _stack as stack
from urial.families import build
from urial.fit import Fit, fit
from urial.fit.clearance import gaps
from urial.job.edit import EditError, put
from urial.job.model import Job
from urial.prove.costs import Cost, cost
from urial.prove.offers import Offer, offers
from urial.prove.remedies import Remedies, remedies
from urial.prove.sizing import Sized, Wish, size
from urial.prove.trade import Way, two_steps
from urial.prove.verdict import Verdict, prove, unasked, unproved
from urial.prove.versions import Compared, compared
from urial.prove.whatif import Bar, Envelope, Sweep, envelope, sweep, tornado
from urial.session.dearer import Dearer
from urial.session.questions import State, Stopped, Tell, register
from urial.strength.check import Check

Outcome = Verdict | BuildError
DRAWS_IN = 0.06
"""Seconds an edit's judgement waits for its picture."""
MOST, MATTERS, CHANCE = "*most", "*matters", "*chance"
"""Of “what if”: the most it may carry (of one duty: ``*most:path``), what matters most, the chance of being
short; anything else is a figure's path that is swept."""


def never() -> bool:
    """Nobody stops it."""
    return False


def silent(_: object) -> None:
    """Nobody hears it."""


def derived(job: Job, tell: Tell = silent, seen: Event | None = None) -> Outcome:
    """What follows from a job: its verdict (for a survey without a part the empty one), or why it cannot be
    built.

    ``tell`` gets the shape as soon as it is built and its solids are made, before it is judged; ``seen`` is
    set when it has been drawn: judging waits for that a moment, for the two only hold each other up.
    """
    try:
        if job.has_part:
            shape = build(job)
            bodies.first_mesh(shape)
            tell(shape)
            if seen is not None:
                seen.wait(DRAWS_IN)
            bodies.mesh(shape)
        verdict = prove(job) if job.has_part else unproved(job)
        _ = verdict.softest
        _ = gaps(job, verdict.assembly)
        _ = (
            verdict.warnings
        )  # with the solids, shadows and clashes every view asks for: found here, remembered there
    except Unasked as words:
        return unasked(job, str(words))
    except BuildError as error:
        return error
    return verdict


@register("opening", key=lambda s: s.job)
@register("verdict", key=lambda s: s.job)
def _verdict(s: State, stopped: Stopped, tell: Tell) -> Outcome:
    return derived(s.job, tell, s.about if isinstance(s.about, Event) else None)


@register("fit", key=lambda s: s.job)
def _fit(s: State, stopped: Stopped, tell: Tell) -> Fit:
    return fit(s.job, cast(Assembly, s.about), stopped=stopped, tell=tell)


@register("size", key=lambda s: (s.job, s.about))
def _size(s: State, stopped: Stopped, tell: Tell) -> Sized:
    return size(s.job, cast(Wish, s.about), stopped, tell)


def _of_check(s: State) -> tuple[Job, str, int]:
    return s.job, cast(Check, s.about).id, s.shop


@register("remedies", key=_of_check)
def _remedies(s: State, stopped: Stopped, tell: Tell) -> Remedies:
    found, price = remedies(s.job, cast(Check, s.about), stopped=stopped), Dearer(s.job)
    return replace(
        found,
        found=tuple(replace(r, money=price.than(_put(s.job, r.path, r.value))) for r in found.found),
        less=tuple(replace(r, money=price.than(_put(s.job, r.path, r.value))) for r in found.less),
    )


def _put(job: Job, path: str, value: object) -> Job | None:
    try:
        return put(job, path, value)
    except EditError:
        return None


@register("moves", key=lambda s: (s.job, s.about))
def _moves(s: State, stopped: Stopped, tell: Tell) -> dict[tuple[str, float], Cost]:
    """What each move that clears a finding would cost in strength, before anybody makes it."""
    now, out = prove(s.job), {}
    for path, value in cast(tuple[tuple[str, float], ...], s.about):
        if stopped():
            break
        try:
            out[path, value] = cost(now, prove(put(s.job, path, value)))
        except (EditError, BuildError):
            continue
    return out


@register("pairs", key=_of_check)
def _pairs(s: State, stopped: Stopped, tell: Tell) -> list[Way]:
    price = Dearer(s.job)
    found = two_steps(s.job, cast(Check, s.about), stopped, tell)
    return [replace(w, money=price.than(w.job)) for w in found]


@register("what if", key=lambda s: (s.job, s.about))
def _what_if(s: State, stopped: Stopped, tell: Tell) -> object:
    return what_if(s.job, cast(str, s.about), stopped, tell)


def what_if(
    job: Job, what: str, stopped: Stopped = never, tell: Tell = silent
) -> Sweep | Envelope | list[Bar] | object:
    """The most it may carry, what matters most, the chance, or a sweep of a figure."""
    if what.partition(":")[0] == MOST:
        return envelope(job, stopped, tell, what.partition(":")[2])
    if what == MATTERS:
        return tornado(job, stopped, tell)
    if what == CHANCE:
        from urial.prove.chance import chance  # brings joblib

        return chance(job, stopped=stopped, tell=tell)
    return sweep(job, what, None, stopped, tell)


@register("offers", key=lambda _: None)  # the shop's own kinds lie in files
def _offers(s: State, stopped: Stopped, tell: Tell) -> list[Offer]:
    return offers(s.job, cast(stack.Open, s.about), stopped)


@register("versions", key=lambda s: (s.job, s.about))
def _versions(s: State, stopped: Stopped, tell: Tell) -> Compared | str:
    other, called = cast(tuple[Job, str], s.about)
    try:
        return compared(prove(s.job), other, called)
    except BuildError as error:
        return f"The other cannot be built: {error}"


__all__ = ["CHANCE", "MATTERS", "MOST", "Outcome", "derived", "what_if"]
