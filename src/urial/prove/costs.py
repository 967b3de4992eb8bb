"""What a change costs beside what it mends: what becomes short, what is new to mind, what comes nearer to
something, how far it now hangs down and sticks out.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from urial import units
from urial.assembly import bodies
from urial.assembly.model import Assembly
from urial.measure.keepout import clashes
from urial.prove.verdict import Verdict
from urial.strength.check import Check

SEEN = 5.0
"""So much further down or out is worth saying, mm."""
RISES = 0.05
NAMED = 2
"""So many checks that become short are named."""


@dataclass(frozen=True)
class Money:
    """So much dearer than what stands, in a currency; ``guessed``: by prices of a usual shop."""

    amount: float
    currency: str
    guessed: bool = False

    @property
    def words(self) -> str:
        """With its sign, as the place writes decimals: for the window's own thread."""
        said = f"{units.figure(self.amount, 2, True)} {self.currency}"
        return f"about {said}" if self.guessed else said


@dataclass(frozen=True)
class Cost:
    """Mass in kg, the weakest check then, and sentences of what gets worse, the gravest first."""

    kg: float
    weakest: Check
    worse: tuple[str, ...]

    @property
    def breaks(self) -> bool:
        """Does something become short that held?"""
        return bool(self.worse) and self.worse[0].startswith(BREAKS)


BREAKS = "breaks "


def cost(now: Verdict, then: Verdict) -> Cost:
    """What it costs to go from one verdict to another."""
    return Cost(
        bodies.total_mass(then.assembly) - bodies.total_mass(now.assembly),
        then.governing,
        (*_short(now, then), *_nearer(now, then), *_shape(now.assembly, then.assembly), *_new(now, then)),
    )


def alike(warning: str) -> str:
    """A warning without its figures, to tell a new one from an old."""
    return re.sub(r"[\d.,]+", "#", warning)


def _short(now: Verdict, then: Verdict) -> list[str]:
    """Checks that held and are short then, or were short and are a good deal more so."""
    was = {c.id: c.utilisation for c in now.checks}
    worse = [
        c
        for c in then.checks
        if c.short and (was.get(c.id, 0.0) < 1.0 or c.utilisation > was[c.id] * (1 + RISES) + 1e-9)
    ]
    said = [f"{c.name} {100 * c.utilisation:.0f} %" for c in worse]
    if not said:
        return []
    more = len(dict.fromkeys(said)) - NAMED
    rest = f" and {more} more" if more > 0 else ""
    return [BREAKS + ", ".join(list(dict.fromkeys(said))[:NAMED]) + rest]


def _nearer(now: Verdict, then: Verdict) -> list[str]:
    """Keep-outs it comes too near that it did not."""
    before = {(c.part, c.keep.name) for c in clashes(now.job, now.assembly)}
    return [
        f"comes too near the {name}"
        for name in dict.fromkeys(
            c.keep.name for c in clashes(then.job, then.assembly) if (c.part, c.keep.name) not in before
        )
    ]


def _shape(now: Assembly, then: Assembly) -> list[str]:
    if not now.parts or not then.parts:
        return []
    (low, rear, front), (lower, rearward, forward) = (_reach(a) for a in (now, then))
    said = []
    if low - lower > SEEN:
        said.append(f"hangs {low - lower:.0f} mm lower")
    further = max(rear - rearward, forward - front)
    if further > SEEN:
        said.append(f"sticks out {further:.0f} mm further")
    return said


def _reach(assembly: Assembly) -> tuple[float, float, float]:
    """The lowest place, the rearmost (towards −x) and the foremost, mm in host axes."""
    boxes = [bodies.corners(p) for p in assembly.parts]
    return min(a[2] for a, _ in boxes), min(a[0] for a, _ in boxes), max(b[0] for _, b in boxes)


def _new(now: Verdict, then: Verdict) -> list[str]:
    """Warnings that are new, each by its first words."""
    had = {alike(w) for w in now.warnings}
    return [w for w in then.warnings if alike(w) not in had][:NAMED]


OFTEN = {
    "weld": "a heavier or longer bead, a bevelled joint, a gusset in the corner",
    "fatigue": "a bevelled or two-sided joint, a gusset that moves the bead out of the corner, a bigger tube",
    "member": "a bigger tube, a shorter reach, a brace",
    "wall": "a thicker wall, a plate on the face, ends as wide as the wall",
    "net section": "a bigger bar, a smaller hole, a doubler round it",
    "bearing": "a thicker plate, a bigger bolt, one bolt more",
    "block shear": "bolts further from the edge and from each other, a thicker plate",
    "bolts": "the next bolt up, a better grade, bolts further apart, one more",
    "slip": "more bolts or bigger ones, tightened to preload",
    "pin": "a bigger pin, closer cheeks; two pins share a load only where their holes are reamed together",
    "eye": "a thicker ear, more metal round the hole, a doubler",
    "plate": "a thicker plate, a smaller overhang",
    "gusset": "a thicker gusset, two of them",
    "hook": "a bigger hook, a bought one with a stamp",
    "strap": "a stronger strap, a smaller angle between the legs",
    "stiffness": "a bigger section, a shorter reach",
    "host": "longer plates that reach more of the rail, more bolts, a plate on the inside",
    "minimum": "the least size the code names, or a reason in writing why it may stay",
}
"""What shops usually do, by what is short."""


def no_change_helps(check: Check, nearest: str, used: float) -> str:
    """Why nothing that was tried mends a check, and what ordinary shops do then.  ``nearest``: the change
    that came nearest, in words, and how far the check is ``used`` with it.
    """
    if check.kind == "rating":
        return (
            "This is a limit that its maker stamped on it: no steel of yours raises it. Ask less of it, or "
            "choose one with a higher stamp."
        )
    miss = (
        f"The nearest single change, {nearest}, still leaves it {units.figure(100 * used, 0)} % used."
        if nearest and used < check.utilisation - 1e-9
        else "No single size that belongs to it takes anything off it."
    )
    often = OFTEN.get(check.kind, "another shape, a shorter lever")
    return f"{miss} What shops do then: {often}; or ask less of it."


__all__ = ["BREAKS", "Cost", "Money", "alike", "cost", "no_change_helps"]
