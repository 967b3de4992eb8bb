"""The order played: where every part is when so many things are off, and all of it drawn apart."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from urial.assembly.model import Assembly
from urial.fit.model import Step
from urial.geometry.place import Vec, along, times

LEAST = 160.0
"""So far a thing is drawn off though it is free at once, mm."""
SHIFTED = 0.2
EACH = 70.0
"""What each thing is drawn farther off than the one before it, mm."""


def owners(assembly: Assembly, steps: Sequence[Step]) -> dict[str, int]:
    """Which step each part goes with; bolts, nuts and pins with the step of their piece that comes last of
    what they join.
    """
    out = {key: n for n, step in enumerate(steps) for key in step.keys}
    first: dict[str, int] = {}
    for key, n in out.items():
        piece = key.split("/", 1)[0]
        first[piece] = min(first.get(piece, n), n)
    for p in assembly.parts:
        out.setdefault(p.key, first.get(p.piece, 0))
    return out


def taken_off(assembly: Assembly, steps: Sequence[Step], off: float) -> dict[str, Vec]:
    """How far each part has been moved when ``off`` things are off (a fraction: one on its way), mm."""
    shares = [min(max(off - (len(steps) - 1 - n), 0.0), 1.0) for n in range(len(steps))]
    ways = [_on_its_way(s, share) for s, share in zip(steps, shares, strict=True)]
    return {key: ways[n] for key, n in owners(assembly, steps).items()} if steps else {}


def _on_its_way(s: Step, share: float) -> Vec:
    """Where a thing is: shifted in the first fifth of the time where it must be, then along its way."""
    long = max(s.far, LEAST) * 1.2
    if s.via == (0.0, 0.0, 0.0):
        return times(s.off, share * long)
    first = min(share / SHIFTED, 1.0)
    return along(times(s.via, first), s.off, max(share - SHIFTED, 0.0) / (1 - SHIFTED) * long)


def drawn_apart(assembly: Assembly, steps: Sequence[Step]) -> Assembly:
    """All of it apart, each thing along its way, for a picture."""
    own = owners(assembly, steps)
    parts = []
    for p in assembly.parts:
        step = steps[own[p.key]] if steps else None
        by = times(step.off, max(step.far, 0.4 * LEAST) + EACH * own[p.key]) if step else (0.0, 0.0, 0.0)
        if step is not None and own[p.key] == 0 and len(steps) > 1:
            by = (0.0, 0.0, 0.0)  # what goes on first stays where it is
        parts.append(replace(p, place=replace(p.place, o=along(p.place.o, by, 1.0))))
    return Assembly(tuple(parts), titles=assembly.titles)
