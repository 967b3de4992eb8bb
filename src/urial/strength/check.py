"""What a check is: demand, available, utilisation, the clause, and its working, made only when it is
opened.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


class Line(NamedTuple):
    """One line of working: what, the formula, the numbers put in, the result."""

    what: str
    formula: str
    numbers: str
    result: str


Working = tuple[Line, ...]


@dataclass(frozen=True)
class Unchecked:
    """Something no check knows: the part's mark, what it is, the link of the chain it belongs to."""

    part: str
    what: str
    link: str = ""


APART = frozenset({"rating", "fatigue", "stiffness", "minimum"})
"""Kinds that say nothing of one hard load: what others limit, what wears out, what is too soft, what a code
asks whatever the load."""


@dataclass(frozen=True)
class Check:
    """One limit state of one part or joint, over every load case.

    ``demand`` and ``available`` are those of the governing case, in ``unit``; ``by_case`` (case,) holds
    every case's utilisation = 1 / (how many times the loads could grow).
    """

    id: str
    name: str
    part: str
    link: str
    kind: str
    case: str
    demand: float
    available: float
    unit: str
    utilisation: float
    basis: str
    clause: str
    by_case: Array
    work: Callable[[], Working]
    place: str = ""
    path: str = ""
    other_school: float = 0.0  # of endurance: what is used as the other school judges it

    @property
    def short(self) -> bool:
        """Does it fail?"""
        return self.utilisation >= 1.0

    def working(self) -> Working:
        """Formula, numbers and result, line by line."""
        return self.work()


def figure(value: float) -> str:
    """A figure for a working: four significant digits, thousands apart; what is left of a sum that comes to
    nothing is 0.
    """
    size = abs(value)
    if size < 1e-6:
        return "0"
    if size >= 10_000:
        return f"{value:,.0f}".replace(",", "\u202f")
    if size >= 1000:
        return f"{value:.0f}"
    return f"{value:.4g}"
