"""Sizes that drills are sold in: what a scaled hole is drilled to."""

from __future__ import annotations

INCH = 25.4
METRIC = ((32.0, 0.5), (1e9, 1.0))
"""Up to a diameter, in steps of (mm): the half millimetres of a shop's set, whole ones above."""
IMPERIAL = ((0.5 * INCH, INCH / 64), (INCH, INCH / 32), (1e9, INCH / 16))


def nearest_drill(diameter: float, system: str = "metric") -> float:
    """The drill nearest to a diameter, of a system ("metric" or "inch"), mm; never none at all."""
    for to, step in METRIC if system == "metric" else IMPERIAL:
        size = max(round(diameter / step), 1) * step
        if size <= to + 1e-9:
            return round(size, 4)
    raise AssertionError("the last row has no end")
