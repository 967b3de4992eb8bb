"""A plan set to hand on or to sell: drawings, templates, cut list and order of work, without whose it was;
and what must be measured anew, for no other vehicle is this one.
"""

from __future__ import annotations

from collections.abc import Callable

from urial.job.model import Job
from urial.papers.packet import Packet, packet
from urial.papers.section import sections
from urial.prove.verdict import Verdict, prove
from urial.shop.snapshot import Shop

LEFT_OUT = frozenset({"survey", "handover"})
"""Sections that speak of one vehicle or of who uses it."""
NOT_IN_IT = ("labels.pdf", "results.json")


def handed_on(job: Job, title: str) -> Job:
    """The job without whose it was: no customer, number, notes or checker, nobody who measured, no reading;
    and so nothing of it counts as measured.
    """
    bare = {"by": "", "tapes": (), "levels": (), "photos": (), "backdrops": ()}
    return job.model_copy(
        update={
            "id": "",
            "title": title,
            "customer": "",
            "notes": "",
            "checked": "",
            "origins": {},
            "weighings": (),
            "survey": job.survey.model_copy(update=bare),
        }
    )


def plan_set(
    v: Verdict,
    title: str = "",
    paper: str = "A4",
    progress: Callable[[str], None] = lambda _: None,
    shop: Shop | None = None,
) -> Packet:
    """The files of a packet that whoever builds it anew needs.  ``title``: what it is called; else what the
    part is.
    """
    called = title.strip() or next(iter(v.assembly.titles.values()), "part")
    called = called[0].upper() + called[1:]
    wanted = [s.name for s in sections() if s.name not in LEFT_OUT]
    made = packet(prove(handed_on(v.job, called)), paper, progress, wanted, shop, anew=True)
    return Packet({name: data for name, data in made.files.items() if name not in NOT_IN_IT})


__all__ = ["LEFT_OUT", "handed_on", "plan_set"]
