"""Every joint and part of an assembly to checks: small functions registered by the kind of joint,
vectorised over the cases.
"""

from __future__ import annotations

from urial.assembly.model import HOST, LOAD, Weld
from urial.strength.analysis import Forces
from urial.strength.basis import Basis
from urial.strength.check import Check, Unchecked
from urial.strength.checks import bolts as _bolts
from urial.strength.checks import clamps as _clamps
from urial.strength.checks import endurance_bolts as _endurance_bolts
from urial.strength.checks import hooks as _hooks
from urial.strength.checks import pins as _pins
from urial.strength.checks import timber as _timber
from urial.strength.checks import walls as _walls
from urial.strength.checks import welds as _welds
from urial.strength.checks.common import Context, judges
from urial.strength.checks.ends import bend_checks, end_checks
from urial.strength.checks.members import member_checks
from urial.strength.checks.nets import net_checks
from urial.strength.checks.slots import slot_checks

__all__ = ["judge"]
_REGISTERED = (_bolts, _clamps, _endurance_bolts, _hooks, _pins, _timber, _walls, _welds)


def judge(forces: Forces, basis: Basis, method: str) -> tuple[list[Check], list[Unchecked]]:
    """Every strength check of an assembly, and everything no check knows."""
    context = Context(forces, basis, method)
    found = [
        *member_checks(context),
        *net_checks(context),
        *end_checks(context),
        *bend_checks(context),
        *slot_checks(context),
    ]
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
    return [f for f in found if isinstance(f, Check)], [f for f in found if isinstance(f, Unchecked)]
