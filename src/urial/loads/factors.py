"""What a load factor may be: bounds by its kind, and the sign its case stands for."""

from __future__ import annotations

from collections.abc import Mapping

BOUNDS: dict[str, tuple[float, float]] = {
    "along": (-10, 10),
    "across": (-10, 10),
    "angled": (-10, 10),
    "up": (-10, 10),
    "static": (0, 5),
    "bounce": (-5, 5),
    "pitch": (-5, 5),
    "chain": (0, 5),
    "times": (0, 10),
    "turn": (-90, 90),
    "rise": (-90, 90),
    "end": (-1, 1),
}
"""Least and greatest value of each factor: times a force, degrees, or a part of half a drum."""
ANGLES = ("turn", "rise")
EITHER = (*ANGLES, "end")
"""What may go to either side of nothing."""


def refused(title: str, words: str, policy: Mapping[str, float], name: str, value: float) -> str:
    """Why a factor cannot be taken, in a sentence; nothing when it can."""
    low, high = BOUNDS.get(name, (-10, 10))
    if not low <= value <= high:
        return f"{title}, {words}: {value:g} cannot be right; it must be between {low:g} and {high:g}."
    own = policy.get(name, 0.0)
    if own * value < 0 and name not in EITHER:
        way = "positive" if own > 0 else "negative"
        return (
            f"{title}, {words}: the policy's {own:g} is {way}, and the other sign would be another "
            f"case; write it {way}, or 0."
        )
    return ""
