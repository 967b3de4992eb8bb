"""Every joint and part of an assembly to checks: small functions registered by the kind of joint,
vectorised over the cases.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable

from urial.assembly.model import HOST, LOAD, Weld
from urial.strength.analysis import Forces
from urial.strength.basis import Basis
from urial.strength.check import Check, Unchecked
from urial.strength.checks import bolts as _bolts
from urial.strength.checks import clamps as _clamps
from urial.strength.checks import endurance_bolts as _endurance_bolts
from urial.strength.checks import hooks as _hooks
from urial.strength.checks import pins as _pins
from urial.strength.checks import rails as _rails
from urial.strength.checks import timber as _timber
from urial.strength.checks import walls as _walls
from urial.strength.checks import welds as _welds
from urial.strength.checks.common import Context, Finding, judges, names
from urial.strength.checks.ends import bend_checks, end_checks
from urial.strength.checks.members import member_checks
from urial.strength.checks.nets import net_checks
from urial.strength.checks.pegs import peg_checks
from urial.strength.checks.silent import missing
from urial.strength.checks.slots import slot_checks

__all__ = ["judge"]
_EVERYWHERE: list[Callable[[Context], Iterable[Finding]]] = [
    member_checks,
    net_checks,
    end_checks,
    bend_checks,
    slot_checks,
    peg_checks,
]
EVERYWHERE = frozenset(
    {"member_checks", "net_checks", "end_checks", "bend_checks", "slot_checks", "peg_checks"}
)
"""The checks of parts that there must be."""
_REGISTERED = (_bolts, _clamps, _endurance_bolts, _hooks, _pins, _rails, _timber, _walls, _welds)


def judge(forces: Forces, basis: Basis, method: str) -> tuple[list[Check], list[Unchecked]]:
    """Every strength check of an assembly, and everything no check knows."""
    context = Context(forces, basis, method)
    found: list[Finding] = [f for check in _EVERYWHERE for f in check(context)]
    for j in forces.assembly.joints:
        if isinstance(j.how, Weld) and j.how.helps:
            continue  # judged with what it helps
        if {j.a, j.b} & forces.net.still:
            continue  # nothing reaches it
        known = judges(type(j.how))
        if not known:
            where = context.mark(j.a if j.a not in (HOST, LOAD) else j.b)
            found.append(
                Unchecked(
                    where, f"{j.name}: no check knows a {type(j.how).__name__.lower()} joint", context.link(j)
                )
            )
        for check in known:
            found += list(check(context, j))
    checks, unchecked = ([f for f in found if isinstance(f, kind)] for kind in (Check, Unchecked))
    return checks, [*unchecked, *missing(context, judges), *missing_everywhere()]  # type: ignore[list-item,return-value]


def missing_everywhere() -> list[Unchecked]:
    """Checks of parts, wherever they are, that there must be and are not."""
    gone = sorted(EVERYWHERE - names(_EVERYWHERE))
    return [Unchecked("", f"every part: {name} is not there") for name in gone]
