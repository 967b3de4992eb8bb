"""One part judged every way there is to judge it: the bases, the two ways of weld groups, the feet."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from urial.assembly.model import BuildError
from urial.job.edit import put, spec_of
from urial.job.model import Job
from urial.prove.verdict import prove
from urial.strength.check import APART

WAYS = ("basis", "weld_method", "foot")
"""The choices of how it is judged that are set beside each other."""


@dataclass(frozen=True)
class Way:
    """One way of judging: the choice and its value, in words; whether it is the job's own; the worst check
    that depends on it, with its utilisation (nan: it cannot stand so).
    """

    path: str
    value: str
    words: str
    own: bool
    utilisation: float
    governs: str


def side_by_side(job: Job, stopped: Callable[[], bool] = lambda: False) -> tuple[Way, ...]:
    """Every value of every choice, the others as the job has them.  Ratings and endurance, which no basis
    touches, are left out.
    """
    out = []
    for name in WAYS:
        path = f"proof.{name}"
        spec, now = spec_of(job, path), getattr(job.proof, name)
        for value in spec.choices:
            if stopped():
                return ()
            words = spec.words.get(value, value)
            try:
                checks = prove(put(job, path, value)).checks
                worst = next(c for c in checks if c.kind not in APART)
                out.append(Way(path, value, words, value == now, worst.utilisation, worst.name))
            except (BuildError, StopIteration):
                out.append(Way(path, value, words, value == now, float("nan"), "cannot stand so"))
    return tuple(out)
