"""What the steel is worth as it stands: the verdict is of the design, this of what was done."""

from __future__ import annotations

from collections.abc import Iterable

from urial.making.status import Stood


def as_it_stands(rows: Iterable[Stood]) -> str:
    """In a sentence, from the log; nothing while nothing was done.

    A seam that is half run, a loose bolt or a size that is off rate nothing, whatever the design holds.
    """
    rows = tuple(rows)
    if not any(r.done for r in rows):
        return ""
    open_: list[str] = []
    for kind, one, many, verb in (
        ("run", "bead", "beads", "not run"),
        ("dress", "weld", "welds", "not ground flush"),
        ("mount", "piece", "pieces", "not on"),
        ("torque", "set of bolts", "sets of bolts", "not tightened"),
    ):
        missing = sum(len(r.left) for r in rows if r.step.kind == kind and r.state != "gone")
        if missing:
            open_.append(f"{missing} {one if missing == 1 else many} {verb}")
    off = sum(len({o.unit for o in r.off}) for r in rows)
    if off:
        open_.append(f"{off} piece{'' if off == 1 else 's'} of another size than judged")
    if open_:
        return f"As it stands it rates nothing: {', '.join(open_)}."
    if any(r.step.kind == "proof" and r.left for r in rows):
        return "As it stands it is made as it was judged, and not proven yet."
    return "As it stands it is what was judged."


__all__ = ["as_it_stands"]
