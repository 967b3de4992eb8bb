"""The datum: where the tape starts.  Stored places never move with it; what is written and shown does."""

from __future__ import annotations

import re

from urial.job.model import Job

_COORDINATE = re.compile(
    r"^(?:vehicle\.(left|right)|survey\.(?:marks|keep_outs|backdrops))\.\d+\.(behind|across|height)_mm$"
    r"|^survey\.photos\.\d+\.at_(behind|across|height)_mm$"
)


def offset(job: Job, path: str) -> float:
    """What a field at ``path`` shows less than it stores, mm; 0 for anything but a place.

    A hard point's ``across`` is a size from the centre plane on its own side, so a datum off the centre is
    nearer to one side and farther from the other.
    """
    datum = job.survey.datum
    found = _COORDINATE.match(path)
    if found is None:
        return 0.0
    axis = found[2] or found[3]
    if axis == "behind":
        return datum.behind_mm
    if axis == "height":
        return datum.height_mm
    return -datum.across_mm if found[1] == "right" else datum.across_mm


def called(job: Job) -> str:
    """The datum in words."""
    d = job.survey.datum
    if d.called:
        return d.called
    moved = any((d.behind_mm, d.across_mm, d.height_mm))
    return "a place off the " + job.vehicle.behind_what if moved else job.vehicle.origin


def is_moved(job: Job) -> bool:
    """Is the datum somewhere else than the host's own origin?"""
    d = job.survey.datum
    return any((d.behind_mm, d.across_mm, d.height_mm))
