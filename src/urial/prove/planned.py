"""The plan of work of a part that was judged: the order Together finds, the proof tests, and what is cut or
taken off the host.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from urial.assembly.model import Assembly
from urial.fit import order
from urial.fit.model import Step as OnStep
from urial.fit.model import never
from urial.fit.room import room_of
from urial.job.model import Job
from urial.job.survey import Block
from urial.making.plan import Asked, Trial, plan
from urial.making.step import Plan
from urial.prove.prooftest import proof_tests, pull_kN, used
from urial.prove.verdict import Verdict
from urial.shop.snapshot import Shop

FATES = {
    "off": "Take the {} off; it goes back on after.",
    "gone": "Take the {} off for good.",
    "cut": "Cut the {}.",
}


def asked(v: Verdict) -> Asked:
    """For the plan of work."""
    trials, number = [], {c.id: k for k, c in enumerate(v.cases)}
    for t in proof_tests(v):
        words = f"Proof load “{t.case.title}”: {t.loads[0] if t.loads else 'as at Prove'}."
        shares = {part: round(100 * share, 2) for part, share in used(v, number[t.case.id]).items()}
        trials.append(Trial(t.case.id, round(pull_kN(v, t), 3), words, shares))
    return Asked(tuple(trials), trims(v.job))


def trims(job: Job) -> tuple[tuple[str, str], ...]:
    """What is done to the host first: name and words."""
    return tuple(
        (keep.name, FATES[keep.fate].format(keep.name))
        for keep in job.survey.keep_outs
        if isinstance(keep, Block) and keep.fate in FATES
    )


def goes_on(job: Job, assembly: Assembly, stopped: Callable[[], bool] = never) -> tuple[OnStep, ...]:
    """The order it goes on in, as Together finds it."""
    found = order.order_findings(assembly, room_of(job, assembly), stopped)
    return tuple(row for row in found if isinstance(row, OnStep))


def planned(v: Verdict, shop: Shop, steps: Sequence[OnStep] = ()) -> Plan:
    """The plan of a part that was judged; ``steps`` as ``goes_on`` found them."""
    return plan(v.assembly, steps, asked(v), shop, v.job.making)


__all__ = ["asked", "goes_on", "planned", "trims"]
