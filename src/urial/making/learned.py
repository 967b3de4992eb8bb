"""How long the shop really takes: minutes of its logs against what the plan gave for the same pieces."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from types import MappingProxyType

from urial.assembly.model import Assembly
from urial.geometry.shape import Bar
from urial.job.log import Entry
from urial.making.status import entered
from urial.making.step import Plan
from urial.shop.snapshot import Die, Shop

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


MACHINE = "machine"
"""What a bender was set to for a bend, degrees: with what was read after it a line of its die's log."""
ALIKE, MOST = 0.25, 60
"""Angles so near are one line of a log, which has no more lines than the second."""


def bends_learned(
    work: Iterable[tuple[Plan, Iterable[Entry], Assembly]],
) -> dict[tuple[float, float], tuple[tuple[float, float], ...]]:
    """By die (tube and radius, mm) what angle came out at what the machine was set to, from logs that have
    both: pairs (angle, machine angle), degrees.
    """
    out: dict[tuple[float, float], list[tuple[float, float]]] = defaultdict(list)
    for plan, log, assembly in work:
        by_key = plan.by_key
        set_to: dict[tuple[str, int], float] = {}
        came: dict[tuple[str, int], float] = {}
        for e in entered(plan, log):
            step = by_key.get(e.step)
            if step is None or step.kind != "bend":
                continue
            if e.what == "done" and MACHINE in e.figures:
                set_to[e.step, e.unit] = e.figures[MACHINE]
            if e.what == "read" and "angle" in e.figures:
                came[e.step, e.unit] = e.figures["angle"]
        for at, machine in set_to.items():
            step = by_key[at[0]]
            shape = assembly.by_key[step.parts[0]].shape if step.parts else None
            if at in came and isinstance(shape, Bar):
                die = (min(shape.stock.width, shape.stock.height), step.figures.get("radius", 0.0))
                out[die].append((came[at], machine))
    return {die: tuple(sorted(rows)) for die, rows in out.items()}


def with_bends(shop: Shop, found: Mapping[tuple[float, float], Sequence[tuple[float, float]]]) -> Shop:
    """A shop whose dies know what came out; a die that it did not have is new."""
    dies = list(shop.dies)
    for (od, clr), rows in sorted(found.items()):
        n = next(
            (k for k, d in enumerate(dies) if abs(d.od_mm - od) < 0.2 and abs(d.clr_mm - clr) < 1.0), None
        )
        old = dies[n].log if n is not None else ()
        kept = [r for r in old if all(abs(r[0] - a) > ALIKE for a, _ in rows)]
        log = tuple(sorted([*kept, *_together(rows)]))[:MOST]
        die = Die(od_mm=od, clr_mm=clr, log=log)
        if n is None:
            dies.append(die)
        else:
            dies[n] = dies[n].model_copy(update={"log": log})
    return shop.model_copy(update={"dies": tuple(dies), "usual": False})


def _together(rows: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    """Angles that are one within what a protractor tells, by their mean."""
    out: list[list[tuple[float, float]]] = []
    for row in sorted(rows):
        if out and row[0] - out[-1][0][0] <= ALIKE:
            out[-1].append(row)
        else:
            out.append([row])
    return [(sum(a for a, _ in g) / len(g), sum(m for _, m in g) / len(g)) for g in out]


__all__ = ["ENOUGH", "KEYS", "MACHINE", "bends_learned", "factors", "learned", "with_bends"]
