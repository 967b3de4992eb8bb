"""The hosts a part must serve: the first is drawn and surveyed, the part must hold on all of them."""

from __future__ import annotations

from itertools import count

from urial.job.edit import EditError
from urial.job.model import Job
from urial.job.origin import Origin

MOST = 8
"""So many hosts a job may have."""


def with_another(job: Job) -> Job:
    """One host more, of the first one's kind and with its figures, none of them measured.  EditError where
    there are as many as may be.
    """
    if len(job.hosts) >= MOST:
        raise EditError(f"A part may serve {MOST} hosts; take one off before another comes.")
    names = {h.name for h in job.hosts}
    name = next(f"{job.vehicle.name} {n}" for n in count(2) if f"{job.vehicle.name} {n}" not in names)
    more = job.vehicle.model_copy(update={"name": name[:200]})
    return job.model_copy(update={"hosts": (*job.hosts, more)})


def without(job: Job, number: int) -> Job:
    """The job without one of its other hosts (1 is the second), the rest keeping where their figures come
    from.  EditError where there is none.
    """
    if not 1 <= number < len(job.hosts):
        raise EditError("That host is not there any more; the first one stays.")
    origins: dict[str, Origin] = {}
    for path, origin in job.origins.items():
        head, _, rest = path.partition(".")
        row, _, leaf = rest.partition(".")
        if head == "hosts" and row.isdigit():
            if int(row) == number:
                continue
            path = f"hosts.{int(row) - (int(row) > number)}.{leaf}"
        origins[path] = origin
    hosts = tuple(h for n, h in enumerate(job.hosts) if n != number)
    return job.model_copy(update={"hosts": hosts, "origins": origins})


__all__ = ["MOST", "with_another", "without"]
