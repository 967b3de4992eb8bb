"""What could go into an open place: every family tried there, built and judged, or the reason why it does
not go.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from urial import units
from urial.assembly import bodies
from urial.assembly.chain import VEHICLE
from urial.assembly.model import BuildError, Unasked
from urial.families import _stack as stack
from urial.families import build, with_marks
from urial.families._shop import ShopKind, shelf
from urial.families._shop import put_on as shop_put_on
from urial.families.registry import Family, families
from urial.job.model import Job
from urial.prove.verdict import prove


@dataclass(frozen=True)
class Offer:
    """A family for an open place: does it go there, in words (how it does, or why it does not), and the
    job with it in.
    """

    family: Family
    fits: bool
    words: str
    job: Job | None = None
    holds: bool = True
    shop: ShopKind | None = None


def offers(job: Job, place: stack.Open, stopped: Callable[[], bool] = lambda: False) -> list[Offer]:
    """Every family, those that fit first: its own mass and its worst use with today's duties, or why not."""
    out = []
    for family in families().values():
        if stopped():
            return []
        out.append(_offer(job, place, family))
    for kind in shelf().kinds:
        if stopped():
            return []
        if kind.family.on == place.kind:
            put = with_marks(shop_put_on(job, kind, place.on, place.socket))
            out.append(replace(_tried(put, kind.family), shop=kind))
    return sorted(out, key=lambda o: (not o.fits, not o.holds, o.job is None, o.family.title))


def _offer(job: Job, place: stack.Open, family: Family) -> Offer:
    if family.on != place.kind:
        return Offer(family, False, f"goes on {family.wants}; this is the {place.words}")
    return _tried(with_marks(stack.put_on(job, family.name, place.on, place.socket)), family)


def _tried(put: Job, family: Family) -> Offer:
    """How a job does with its last piece in it."""
    number = put.stack[-1].id
    try:
        v = prove(put)
    except Unasked:
        kg = sum(bodies.mass(p) for p in build(put).parts if p.piece == number)
        return Offer(family, True, f"fits · {kg:.1f} kg · nothing is asked of it yet", put)
    except BuildError as error:
        return Offer(family, False, str(error), put)
    kg = sum(bodies.mass(p) for p in v.assembly.parts if p.piece == number)
    own = [c for c in v.checks if any(p.mark == c.part and p.piece == number for p in v.assembly.parts)]
    over = max(
        (c for c in v.checks if c.kind == "rating" and c.short and c.link != VEHICLE),
        key=lambda c: c.utilisation,
        default=None,
    )
    if over is not None:
        asked, allowed = (units.show(x, "mass", put.units) for x in (over.demand, over.available))
        return Offer(
            family,
            True,
            f"goes in, but is too small for what is asked: {over.name} {allowed}, asked {asked}",
            put,
            holds=False,
        )
    used = max((c.utilisation for c in v.checks), default=0.0)
    mine = max((c.utilisation for c in own), default=0.0)
    words = f"fits · {kg:.1f} kg · {100 * mine:.0f} % used" + (
        f", and {v.governing.name} {100 * used:.0f} %" if used >= 1 > mine else ""
    )
    return Offer(family, True, words, put, used < 1)
