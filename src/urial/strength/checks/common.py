"""What all checks share: the worst case governs."""

from __future__ import annotations

from collections.abc import Callable

from urial.strength.analysis import Forces
from urial.strength.basis import Basis
from urial.strength.check import Array, Check, Line, Working, figure


def governed(forces: Forces, basis: Basis, demand: Array, available: float, *, id: str, name: str, part: str, link: str, kind: str,
           unit: str, clause: str, work: Callable[[int], Working], place: str = "", path: str = "", by_case: Array | None = None) -> Check:  # fmt: skip
    """A check from demands (case,) against one available strength; the worst case governs."""
    used = demand / available if by_case is None else by_case
    k = int(used.argmax())
    return Check(id, name, part, link, kind, forces.cases[k].id, float(demand[k]), available, unit, float(used[k]), basis.name, clause,
                 used, lambda: work(k), place, path)  # fmt: skip


def ratio(name: str, demand: float, available: float, unit: str) -> Line:
    return Line("utilisation", f"{name} / available", f"{figure(demand)} / {figure(available)} {unit}", f"{demand / available:.2f}")
