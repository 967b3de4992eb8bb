"""What clears a finding: one size changed, really tried."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace

from urial import units
from urial.assembly.model import Assembly, BuildError
from urial.families import build
from urial.fit.model import Finding, Move, Stopped
from urial.job.edit import EditError, all_specs, get, put, shown, spec_of
from urial.job.model import Job

TRIES = 40
"""Shapes built for one finding at most."""
NEAR = 12.0
"""Added to what lacks when what lacks is not known, mm."""


def levers(job: Job, assembly: Assembly, finding: Finding) -> list[str]:
    """Lengths that move or size what is in the way: those drawn beside it first."""
    labels = set(finding.parts)
    pieces = {p.piece for p in assembly.parts if (p.mark or p.name) in labels}
    table = all_specs(job)
    own = [path for p in assembly.parts if (p.mark or p.name) in labels for path in p.paths]
    drawn = [d.path for d in assembly.dimensions if d.path.split(".")[1:2] and d.path.split(".")[1] in pieces]
    rest = [path for path in table if path.split(".")[0] == "stack" and path.split(".")[1] in pieces]
    return [
        p
        for p in dict.fromkeys([*drawn, *own, *rest])
        if p in table and table[p].quantity == "length" and "weld" not in p and p.startswith("stack.")
    ]


def _values(value: float, amount: float, step: float) -> Iterator[float]:
    """Values to try, the smallest change first, in round steps."""
    for share in (1.0, 2.0):
        by = max(round((amount * share + 1.0) / step + 0.4999) * step, step)
        yield value + by
        yield value - by


def move_for(
    job: Job,
    finding: Finding,
    gone: Callable[[Job, Assembly], bool],
    whole: Callable[[Job, Assembly], set[str]],
    stopped: Stopped,
) -> Finding:
    """The finding with the least move that clears it and brings no other of its kind; as it was where no
    single size does.  ``gone`` looks for this one alone, ``whole`` for all of its kind.
    """
    here = build(job)
    amount = finding.amount if finding.amount is not None else NEAR
    step = units.MM_PER_INCH / 16 if job.units == "inch" else 1.0
    tries = sorted(
        (
            (abs(new - float(get(job, path))), path, round(new, 6))
            for path in levers(job, here, finding)
            if isinstance(get(job, path), (int, float))
            for new in _values(float(get(job, path)), amount, step)
        ),
        key=lambda t: t[0],
    )
    before: set[str] | None = None
    for _, path, new in tries[:TRIES]:
        if stopped():
            break
        try:
            other = put(job, path, new)
            made = build(other)
            if not gone(other, made):
                continue
            before = whole(job, here) if before is None else before
            if whole(other, made) <= before:
                title = spec_of(other, path).title
                words = f"Make “{title}” {shown(other, path)} instead of {shown(job, path)}."
                return replace(finding, move=Move(path, new, words))
        except (EditError, BuildError, ValueError):
            continue
    return finding
