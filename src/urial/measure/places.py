"""Every named place of a survey: hard points L1, R1 …, marks, and the places that tapes found."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from urial.geometry.place import Vec
from urial.job.host import SIDES, Host
from urial.job.model import Job
from urial.job.survey import Fix, Mark, Survey
from urial.measure.triangulate import Located, TapeError, locate

TOWARDS: dict[str, Vec] = {
    "left": (0, 1, 0),
    "right": (0, -1, 0),
    "rear": (-1, 0, 0),
    "front": (1, 0, 0),
    "up": (0, 0, 1),
    "down": (0, 0, -1),
}


def where(item: Mark) -> Vec | None:
    """A mark in the host's axes; None while it is not measured."""
    at = item.measured
    return None if at is None else (-at[0], at[1], at[2])


def hard_points(host: Host) -> dict[str, Vec]:
    """Hard points by short name: L1 is the first on the left."""
    return {
        f"{side[0].upper()}{n + 1}": host.place(side, n)
        for side in SIDES
        for n in range(len(host.points(side)))
    }


@dataclass(frozen=True)
class Found:
    """A fix and what its tapes say, or why they say nothing; ``waits`` for tapes that are not read yet."""

    fix: Fix
    located: Located | None
    problem: str = ""
    waits: bool = False

    @property
    def starts(self) -> tuple[str, ...]:
        """Where the tapes that were read start, in the order of the residuals."""
        return tuple(t.start for t in self.fix.tapes if t.length_mm is not None)


def known_places(host: Host, survey: Survey) -> dict[str, Vec]:
    """Hard points and marks by name; a mark may not take a hard point's name."""
    return {**{m.name: at for m in survey.marks if (at := where(m)) is not None}, **hard_points(host)}


@lru_cache(maxsize=64)
def fixes(host: Host, survey: Survey) -> tuple[Found, ...]:
    """Every fix of the survey solved by its tapes."""
    known, out = known_places(host, survey), []
    for fix in survey.fixes:
        read = [(t.start, t.length_mm) for t in fix.tapes if t.length_mm is not None]
        if len(read) < 3:
            out.append(
                Found(
                    fix,
                    None,
                    f"{len(read)} of {len(fix.tapes)} tapes read; three are needed before it takes part.",
                    waits=True,
                )
            )
            continue
        missing = [start for start, _ in read if start not in known]
        if missing:
            out.append(
                Found(
                    fix,
                    None,
                    f"“{missing[0]}” is neither a mark nor a hard point; name one of "
                    f"{', '.join(known) or 'none yet'}.",
                )
            )
            continue
        try:
            out.append(
                Found(
                    fix,
                    locate(
                        [known[start] for start, _ in read],
                        [size for _, size in read],
                        survey.tape_sigma_mm,
                        0.0,
                        TOWARDS[fix.towards],
                    ),
                )
            )
        except TapeError as error:
            out.append(Found(fix, None, str(error)))
    return tuple(out)


def places(job: Job) -> dict[str, Vec]:
    """Every place with a name: known ones and found ones."""
    out = known_places(job.vehicle, job.survey)
    for found in fixes(job.vehicle, job.survey):
        if found.located is not None:
            x, y, z = (float(v) for v in np.asarray(found.located.point))
            out.setdefault(found.fix.name, (x, y, z))
    return out
