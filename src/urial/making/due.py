"""What is due after handing over: bolts again after the first trips, and a look at all of it every year."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from urial.job.log import Entry, standing
from urial.making.plan import ALL
from urial.making.step import Plan, key_of

HANDED = key_of(ALL, "hand over")
AGAIN, LOOKED = key_of(ALL, "torque", "again"), key_of(ALL, "check", "looked over")
FIRST, YEAR = timedelta(days=14), timedelta(days=365)


@dataclass(frozen=True)
class Due:
    """What is to be done, and by when."""

    what: str
    on: date


def _last(log: Iterable[Entry], key: str) -> date | None:
    days = [datetime.fromisoformat(e.at).date() for e in log if e.step == key and e.what == "done"]
    return max(days, default=None)


def due(plan: Plan, log: Iterable[Entry]) -> tuple[Due, ...]:
    """What is due of a part that was handed over, the soonest first."""
    rows = standing(log)
    handed = _last(rows, HANDED)
    if handed is None:
        return ()
    out = []
    bolted = any(s.kind == "torque" for s in plan.steps)
    again, looked = _last(rows, AGAIN), _last(rows, LOOKED)
    if bolted and (again is None or again < handed):
        out.append(
            Due("every bolt and nut with the torque wrench again, after the first trips", handed + FIRST)
        )
    out.append(
        Due(
            "look it over: weld toes, pins and clips, holes, paint; bolts with the wrench",
            max(handed, looked or handed) + YEAR,
        )
    )
    return tuple(sorted(out, key=lambda d: d.on))


__all__ = ["AGAIN", "HANDED", "LOOKED", "Due", "due"]
