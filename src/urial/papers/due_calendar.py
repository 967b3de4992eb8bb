"""What is due of the shop's jobs as a calendar file (RFC 5545): a day for each, with a reminder before it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import date, datetime, timedelta

from icalendar import Alarm, Calendar, Event

BEFORE = timedelta(days=7)


def due_calendar(rows: Iterable[Mapping[str, object]], now: datetime) -> bytes:
    """Of the book's jobs, those with a day by which something is due; a job keeps its entry however often the
    file is taken in.  ``rows``: ``id``, ``title``, ``due`` (ISO day or empty), ``due_why``; what has no day
    is left out.
    """
    out = Calendar()
    out.add("prodid", "-//Urial//due//EN")
    out.add("version", "2.0")
    for row in sorted(rows, key=lambda r: (str(r["due"]), str(r["title"]))):
        try:
            day = date.fromisoformat(str(row["due"]))
        except ValueError:
            continue
        event = Event()
        event.add("uid", f"{row['id']}-due@urial")
        event.add("dtstamp", now)
        event.add("dtstart", day)
        event.add("dtend", day + timedelta(days=1))
        event.add("summary", f"{row['title']}: due")
        event.add("description", str(row["due_why"]))
        event.add("transp", "TRANSPARENT")
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", str(row["due_why"]))
        alarm.add("trigger", -BEFORE)
        event.add_component(alarm)
        out.add_component(event)
    return bytes(out.to_ical())


__all__ = ["due_calendar"]
