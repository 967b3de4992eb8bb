"""What nobody judges is said: parts that no check touches, and checks that there should be and are not."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence

from urial.assembly.model import (
    Backing,
    Bolts,
    Clamp,
    Contact,
    Eye,
    Fit,
    Ground,
    Hook,
    Pin,
    Plugs,
    Recess,
    Seat,
    Shank,
    StrapRound,
    Stud,
    Weld,
)
from urial.strength.check import Check, Unchecked
from urial.strength.checks.common import Context, names

NEEDED: Mapping[type, frozenset[str]] = {
    Backing: frozenset({"backing_checks"}),
    Bolts: frozenset({"bolt_checks"}),
    Clamp: frozenset({"clamp_checks", "rail_checks"}),
    Contact: frozenset({"contact_checks"}),
    Eye: frozenset({"eye_checks"}),
    Fit: frozenset({"fit_checks"}),
    Ground: frozenset({"ground_checks"}),
    Hook: frozenset({"hook_checks"}),
    Pin: frozenset({"pin_checks"}),
    Plugs: frozenset({"plug_checks"}),
    Recess: frozenset({"recess_checks"}),
    Seat: frozenset({"seat_checks"}),
    Shank: frozenset({"shank_checks"}),
    StrapRound: frozenset({"strap_checks"}),
    Stud: frozenset({"stud_checks"}),
    Weld: frozenset({"weld_checks", "wall_checks"}),
}
"""The checks every joint of a kind must have, by their names."""
AGAIN: Mapping[type, frozenset[str]] = {
    Bolts: frozenset({"_bolts"}),
    Eye: frozenset({"_eye"}),
    Pin: frozenset({"_pin"}),
    Plugs: frozenset({"_plugs"}),
    Weld: frozenset({"_roots", "hot_spots"}),
}
"""The same of what comes again and again."""


def missing(
    context: Context, registered: Callable[[type], Iterable[Callable[..., object]]]
) -> list[Unchecked]:
    """Kinds of joint of an assembly of which a check that there must be is not there."""
    out = []
    for kind in dict.fromkeys(type(j.how) for j in context.assembly.joints):
        gone = NEEDED.get(kind, frozenset()) - names(registered(kind))
        if gone and gone != NEEDED[kind]:  # without any, each joint is named by itself
            out.append(
                Unchecked("", f"every {kind.__name__.lower()} joint: {', '.join(sorted(gone))} is not there")
            )
    return out


def missing_again(
    context: Context, registered: Mapping[type, Sequence[Callable[..., object]]]
) -> list[Unchecked]:
    """The same of endurance."""
    out = []
    for kind in dict.fromkeys(type(j.how) for j in context.assembly.joints):
        gone = AGAIN.get(kind, frozenset()) - names(registered.get(kind, ()))
        if gone:
            what = f"every {kind.__name__.lower()} joint, again and again: nobody judges it"
            out.append(Unchecked("", what))
    return out


def silent_parts(context: Context, found: Sequence[Check], said: Sequence[Unchecked]) -> list[Unchecked]:
    """Parts of metal that no check of strength touches and nothing says so of; bought pieces are held to
    their ratings, hardware is judged with what it joins.
    """
    touched = {c.part for c in found if c.kind not in ("rating", "minimum")} | {u.part for u in said}
    still, out = context.forces.net.still, []
    for p in context.assembly.parts:
        if p.hardware or p.rated or p.idle or p.material.kind != "metal" or p.mark in touched:
            continue
        beside = p.judged_with or p.doubles  # a doubler's metal counts at the hole it surrounds
        if beside and context.part(beside).mark in touched:
            continue
        why = "nothing asked here loads it" if p.key in still else "no check touches it"
        out.append(Unchecked(p.mark, f"{p.name}: {why}", p.family))
    return out
