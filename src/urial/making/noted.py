"""What the book keeps of a job: where it stands, its hours, what is due next."""

from __future__ import annotations

from collections.abc import Sequence

from urial.job.log import Entry, standing
from urial.job.model import Job
from urial.making.due import due
from urial.making.status import status, summary
from urial.making.step import Plan


def noted(job: Job, plan: Plan, log: Sequence[Entry], path: str = "") -> dict[str, object]:
    """A row of the book."""
    rows = standing(log)
    next_ = due(plan, log)
    return {
        "id": job.id,
        "title": job.title,
        "customer": job.customer,
        "path": path,
        "state": summary(status(plan, log)).words,
        "hours": round(sum(e.minutes or 0.0 for e in rows) / 60, 3),
        "due": next_[0].on.isoformat() if next_ else "",
        "due_why": next_[0].what if next_ else "",
    }


__all__ = ["noted"]
