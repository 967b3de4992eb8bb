"""How long the shop really takes: minutes of its logs against what the plan gave for the same pieces."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from types import MappingProxyType

from urial.job.log import Entry
from urial.making.status import entered
from urial.making.step import Plan

KEYS: Mapping[str, tuple[str, ...]] = MappingProxyType(
    {
        "saw": ("saw_setup", "saw_piece", "saw_cm2"),
        "cope": ("cope",),
        "slot": ("slot",),
        "flatten": ("flatten",),
        "bend": ("bend",),
        "cut plate": ("cut_plate_setup", "cut_m"),
        "drill": ("drill_hole", "drill_cm"),
        "fold": ("fold",),
        "bevel": ("bevel_m",),
        "tack": ("tack_joint",),
        "check": ("check",),
        "run": ("run_setup", "run_m"),
        "dress": ("dress_m",),
        "mount": ("mount",),
        "torque": ("bolt",),
        "proof": ("proof",),
    }
)
"""The shop's figures that a kind of work goes by."""
ENOUGH = 3
"""So many timed pieces of a kind, and no fewer, say something."""
HASTE, REST = 0.1, 10.0
"""A piece that took so little or so much of what was planned was ticked late, or left lying: it does not
count."""


def factors(work: Iterable[tuple[Plan, Iterable[Entry]]]) -> dict[str, float]:
    """By kind of work how many times as long as planned it took, over several jobs; kinds of which too little
    was timed are not named.
    """
    taken: dict[str, list[tuple[float, float]]] = defaultdict(list)
    for plan, log in work:
        by_key = plan.by_key
        for e in entered(plan, log):
            step = by_key.get(e.step)
            if step is None or e.what != "done" or not e.minutes or step.minutes <= 0:
                continue
            planned = step.minutes / step.count
            if HASTE <= e.minutes / planned <= REST:
                taken[step.kind].append((e.minutes, planned))
    return {
        kind: sum(t for t, _ in rows) / sum(p for _, p in rows)
        for kind, rows in taken.items()
        if kind in KEYS and len(rows) >= ENOUGH
    }


def learned(minutes: Mapping[str, float], found: Mapping[str, float]) -> dict[str, float]:
    """A shop's minutes with what was learned in them."""
    out = dict(minutes)
    for kind, times in found.items():
        for key in KEYS[kind]:
            out[key] = round(minutes[key] * times, 4)
    return out


__all__ = ["ENOUGH", "KEYS", "factors", "learned"]
