"""Questions of the making: the plan of work with the shop it is for, and the bars and sheets of what is open.

A tick of the log proves nothing anew: the plan hangs on the job and the shop alone, the nests on the log too.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import cast

from urial.assembly.model import Assembly, BuildError
from urial.fit import Fit
from urial.fit.access import seams_missed
from urial.job.log import Entry
from urial.job.model import ON_PAPER, Job
from urial.making.fastened import Bolted, bolted
from urial.making.finish import Finished, finished
from urial.making.nested import Nests, nested
from urial.making.parts import Row, parts_list
from urial.making.price import Quote, quote
from urial.making.sheet_model import SheetNest
from urial.making.sheet_strips import closer
from urial.making.status import Stood, status
from urial.making.step import Plan
from urial.making.welding.order import Order, weld_order
from urial.making.welding.seams import Seam, at_odds, seams
from urial.making.wiring import bought_for
from urial.prove.planned import goes_on, planned
from urial.prove.verdict import Verdict, prove
from urial.session.questions import State, Stopped, Tell, register
from urial.shop.snapshot import Shop, usual
from urial.shop.where import there


@dataclass(frozen=True)
class Work:
    """What is to be done: the plan, the verdict and the parts list it is of, the shop's figures, and why they
    are not the shop's own where its book cannot be read; what is coated and what not; the bolts as they are
    tightened.
    """

    plan: Plan
    verdict: Verdict
    rows: tuple[Row, ...]
    shop: Shop
    finish: Finished
    bolts: tuple[Bolted, ...]
    why: str = ""

    def stands(self, log: tuple[Entry, ...]) -> tuple[Stood, ...]:
        """Every step and where it stands."""
        return status(self.plan, log)


def _made_of(job: Job) -> Job:
    return job.model_copy(update=dict.fromkeys([n for n in ON_PAPER if n != "id"], ""))


def read_shop(job: str) -> tuple[Shop, str]:
    """The shop's figures; nobody has a book: the usual shop's, and no database is even looked for."""
    if not there():
        return usual(), ""
    from urial.shop.book import book  # a database's library is fetched only where there is a book

    return book.snapshot(job)


@register("plan", key=lambda s: (_made_of(s.job), s.shop))
def _plan(s: State, stopped: Stopped, tell: Tell) -> Work | str:
    """``about`` is the fit that is known already, if any."""
    try:
        v = prove(s.job)
    except BuildError as refusal:
        return str(refusal)
    shop, why = read_shop(s.job.id)
    known = s.about.steps if isinstance(s.about, Fit) else goes_on(s.job, v.assembly, stopped)
    done = finished(v.assembly, s.job.making.finish)
    made = planned(v, shop, known)
    return Work(made, v, tuple(parts_list(v.assembly)), shop, done, bolted(v.assembly, made), why)


@register("nests", key=lambda s: (_made_of(s.job), s.log, s.shop))
def _nests(s: State, stopped: Stopped, tell: Tell) -> Nests:
    """``about`` is the work and the log."""
    work, log = cast("tuple[Work, tuple[Entry, ...]]", s.about)
    assembly = work.verdict.assembly
    return nested(assembly, work.stands(log), log, work.shop, s.job.making, stopped=stopped)


CLOSER_S = 10.0
"""So long the plates are laid closer, at most."""


@register("closer", key=lambda s: None)
def _closer(s: State, stopped: Stopped, tell: Tell) -> SheetNest:
    """``about`` is the work and the nests.  It tells words, and what it has found so far; what it finds hangs
    on the time it has, so that nothing is remembered.
    """
    work, nests = cast("tuple[Work, Nests]", s.about)
    return closer(nests.sheets, work.shop, s.job.making.turning, CLOSER_S, stopped=stopped, tell=tell)


@register("price", key=lambda s: (_made_of(s.job), s.shop))
def _price(s: State, stopped: Stopped, tell: Tell) -> Quote:
    """Of all of it, whatever is done; ``about`` is the work."""
    work = cast("Work", s.about)
    assembly, wishes = work.verdict.assembly, s.job.making
    stood = status(work.plan, ())
    nests = nested(assembly, stood, (), work.shop, wishes, stopped=stopped)
    wires = bought_for(assembly, wishes.wiring, s.job.units)
    return quote(assembly, work.rows, stood, nests, work.shop, wishes, wires)


@dataclass(frozen=True)
class Welding:
    """Every seam with its setting, and the order of their runs."""

    assembly: Assembly
    seams: tuple[Seam, ...]
    order: Order
    odds: str = ""


@register("welding", key=lambda s: (_made_of(s.job), s.shop))
def _welding(s: State, stopped: Stopped, tell: Tell) -> Welding:
    """``about`` is the work."""
    work = cast("Work", s.about)
    assembly, process = work.verdict.assembly, s.job.welding.process
    found = seams(assembly, work.shop.welder, process, seams_missed(assembly))
    order = weld_order(assembly, found, stopped)
    return Welding(assembly, found, order, at_odds(process, work.shop.welder))


__all__ = ["Welding", "Work", "read_shop"]
