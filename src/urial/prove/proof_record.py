"""A proof test as it was pulled: readings of load and gauge, what they say against what was foretold, and
whether the part has passed.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from itertools import groupby
from time import monotonic
from typing import Literal

import numpy as np

from urial.prove.prooftest import READS, ProofTest, pull_kN
from urial.prove.verdict import Verdict

REACHED = 0.97
"""So much of the load asked for counts as reached (load cells are good to a few per cent)."""
HOLD_S = 60.0
SOFT, STIFF = 1.5, 0.5
"""A part that gives half as much again is not the part that was reckoned; one that gives half as little has
its gauge or its load elsewhere, and nothing is proven (house rule).  What a gauge cannot tell counts as
nothing: twice what it is read to.
"""
TAKEN_UP = 0.1
"""Play is out at so much of the load."""
LET_OFF = 0.05
CREEPS = 0.05
"""So much more in the held minute, of the deflection, is creep."""
MOST = 2000
"""So many readings are kept of a test."""


@dataclass(frozen=True)
class Reading:
    """What load and gauge read at a moment: s since the test was begun, kN, mm."""

    at: float
    kN: float
    mm: float


@dataclass(frozen=True)
class Foretold:
    """What a test should show: its load, kN, how far the gauge should go there, mm, which way, and what may
    be left.
    """

    name: str
    kN: float
    mm: float
    way: str
    limit: float

    @property
    def slope(self) -> float:
        """mm a kN."""
        return self.mm / self.kN if self.kN else 0.0


@dataclass
class Pull:
    """A test while it is pulled: what was read so far, what was foretold when it began, whether a stand-in
    read any of it, and when it began.
    """

    readings: list[Reading] = field(default_factory=list)
    wanted: Foretold | None = None
    simulated: bool = False
    begun: float = field(default_factory=monotonic)

    def add(self, wanted: Foretold, kN: float, mm: float, simulated: bool = False) -> bool:
        """One more reading, now; False where no more are kept."""
        if len(self.readings) >= MOST:
            return False
        self.wanted = self.wanted or wanted
        self.simulated |= simulated
        self.readings.append(Reading(monotonic() - self.begun, kN, mm))
        return True


def foretold(v: Verdict, t: ProofTest) -> Foretold:
    """Of a test as Prove plans it: what the load cell should read, the gauge where it moves most."""
    far, way = t.gauge.main
    return Foretold(t.case.title, pull_kN(v, t), far, way, t.limit_mm)


@dataclass(frozen=True)
class Outcome:
    """What came of it: passed, failed, or not to the end; why, in sentences; the figures (None: not known):
    the most that was pulled, mm a kN on the way up, mm left, s held.
    """

    state: Literal["passed", "failed", "open"]
    words: tuple[str, ...]
    most_kN: float
    slope: float | None = None
    left: float | None = None
    held_s: float = 0.0

    @property
    def figures(self) -> Mapping[str, float]:
        """For the log."""
        known = {"most": self.most_kN, "slope": self.slope, "left": self.left, "held": self.held_s}
        return {k: round(x, 4) for k, x in known.items() if x is not None}


def judged(wanted: Foretold, readings: Sequence[Reading]) -> Outcome:
    """Slope on the way up, held minute, creep, what is left; the gravest first."""
    rows = sorted(readings, key=lambda r: r.at)
    if not rows:
        return Outcome("open", ("Nothing is read yet.",), 0.0)
    top = max(range(len(rows)), key=lambda n: rows[n].kN)
    most, full = rows[top].kN, REACHED * wanted.kN
    up = [r for r in rows[: top + 1] if r.kN >= TAKEN_UP * wanted.kN]
    slope = _slope(up)
    held = _held(rows, full)
    held_s = held[-1].at - held[0].at if held else 0.0
    start = next((r for r in rows[:top] if r.kN <= LET_OFF * wanted.kN), None)
    ended = [r for r in rows[top:] if r.kN <= LET_OFF * wanted.kN]
    left = ended[-1].mm - start.mm if ended and start is not None else None
    gives = slope * wanted.kN if slope is not None else None
    bad = []
    if slope is not None and gives is not None and gives > max(SOFT * wanted.mm, wanted.mm + 2 * READS):
        bad.append(
            f"At its full load it would give {gives:.2f} mm where {wanted.mm:.2f} mm was "
            "foretold: let it off, and find what gives."
        )
    if len(held) > 1:
        creep = held[-1].mm - held[0].mm
        if creep > max(CREEPS * wanted.mm, READS):
            bad.append(f"It crept {creep:.2f} mm while the load was held: something yields or slips.")
    if left is not None and abs(left) > wanted.limit and most > 0.5 * wanted.kN:
        bad.append(f"{left:.2f} mm is left where {wanted.limit:.2f} mm may be: something yielded or slipped.")
    if bad:
        return Outcome("failed", tuple(bad), most, slope, left, held_s)
    more = []
    if most < full:
        more.append(f"{most:.2f} kN reached; {wanted.kN:.2f} kN is asked for.")
    elif held_s < HOLD_S:
        more.append(f"Held {held_s:.0f} of {HOLD_S:.0f} s.")
    if most >= full and start is None:
        more.append("Nothing was read with the load off before it; begin anew with that.")
    elif most >= full and left is None:
        more.append("Let it off, and read what is left.")
    if slope is None:
        more.append("Read it at three loads at least on the way up.")
    elif gives is not None and gives < STIFF * wanted.mm - 2 * READS:
        more.append(
            f"The gauge goes {gives:.2f} mm where {wanted.mm:.2f} mm {wanted.way} was foretold: it stands "
            "elsewhere, counts the other way, or the load does not get there. Nothing is proven so."
        )
    if more:
        return Outcome("open", tuple(more), most, slope, left, held_s)
    said = (
        f"Passed: {most:.2f} kN held {held_s:.0f} s; it gives {gives:.2f} mm at its full load "
        f"({wanted.mm:.2f} mm foretold); {left:.2f} mm is left, and {wanted.limit:.2f} mm may be."
    )
    return Outcome("passed", (said,), most, slope, left, held_s)


def _held(rows: Sequence[Reading], full: float) -> list[Reading]:
    """The longest stretch of readings one after another that are all at the full load."""
    stretches = [list(g) for at_full, g in groupby(rows, lambda r: r.kN >= full) if at_full]
    return max(stretches, key=lambda g: g[-1].at - g[0].at, default=[])


def _slope(rows: Sequence[Reading]) -> float | None:
    """mm a kN by least squares; None before three loads that differ."""
    loads = np.array([r.kN for r in rows])
    if len(rows) < 3 or np.ptp(loads) < 0.1 * max(float(loads.max()), 1e-9):
        return None
    return float(np.polyfit(loads, [r.mm for r in rows], 1)[0])


__all__ = ["Foretold", "Outcome", "Pull", "Reading", "foretold", "judged"]
