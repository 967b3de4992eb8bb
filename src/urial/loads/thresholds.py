"""Where a rule begins or ends: said on both sides of it, so that a jump is known for the rule's and not taken
for the steel's.
"""

from __future__ import annotations

import math

from urial.job.model import Job
from urial.loads.endurance import Row, heavy, policy

NEAR = 0.15
"""A rule that begins so little above what is towed is worth a word before it is met."""
LONG = 0.5
"""So far above its threshold a rule is no news any more."""


def thresholds() -> tuple[float, ...]:
    """Masses of a trailer at which what its coupling must bear again and again changes, kg."""
    rows = policy()[1]["towed"]
    return tuple(sorted({x for r in rows for x in (r.from_kg, r.to_kg) if 0 < x < math.inf}))


def sides(job: Job) -> tuple[str, ...]:
    """For each threshold the trailer is near to or not far above: what counts on either side."""
    if not job.duty.towed:
        return ()
    kg, out = heavy(job), []
    for at in thresholds():
        below, above = _asked(at), _asked(at * (1 + 1e-6))
        if at * (1 - NEAR) < kg <= at:
            out.append(
                f"A harder rule begins over {at:.0f} kg, and this trailer is near it: {above} counts there "
                f"instead of {below}, and a weld may jump to several times as much. Try it before you "
                "promise more."
            )
        elif at < kg <= at * (1 + LONG):
            out.append(
                f"Over {at:.0f} kg {above} counts, up to it {below}: a jump there is the rule's, not the "
                "steel's."
            )
    return tuple(out)


def crossed(mine: Job, theirs: Job) -> tuple[str, ...]:
    """What two jobs with trailers on either side of a threshold are judged by."""
    if not (mine.duty.towed and theirs.duty.towed):
        return ()
    low, high = sorted((heavy(mine), heavy(theirs)))
    return tuple(
        f"They lie on either side of {at:.0f} kg: the lighter is judged by {_asked(at)}, the heavier by "
        f"{_asked(at * (1 + 1e-6))}; a jump between them is the rule's"
        for at in thresholds()
        if low <= at < high
    )


def _asked(kg: float) -> str:
    """What a coupling must bear behind a trailer of a mass, in the letters of its source."""
    rows = [r for r in policy()[1]["towed"] if r.from_kg < kg <= r.to_kg]
    return f"{' and '.join(map(_letters, rows))} (UN R55)"


def _letters(r: Row) -> str:
    if r.bounce:
        return f"±{r.bounce:g} V"
    return f"±{r.along:g} {'Dc' if r.axle else 'D'}{', inclined' if r.incline else ''}"


__all__ = ["crossed", "sides", "thresholds"]
