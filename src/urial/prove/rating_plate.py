"""The rating plate: what the part may do, as it was judged, and what stands against saying so.

A plate is a promise in steel.  It is refused while anything it rests on is short, unjudged, assumed or not
done; somebody may write one all the same, and then the reason stands on it.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from urial import units
from urial.assembly import bodies
from urial.job import origin
from urial.job.duty import Anchor, Ballast, Carrier, Implement, Recovery, Winch
from urial.job.model import Job
from urial.loads import duties, towing, trailing
from urial.making.status import Stood
from urial.prove.verdict import CAUTION, Verdict

LONGEST = 200
"""A reason on a plate is no longer."""


@dataclass(frozen=True)
class Rated:
    """One line: what, how much in core units, and its kind."""

    what: str
    most: float
    kind: units.Kind


@dataclass(frozen=True)
class RatingPlate:
    """What stands on a plate.  ``against``: what speaks against it; then there is a ``reason``."""

    title: str
    number: str
    day: str
    by: str
    rows: tuple[Rated, ...]
    basis: str
    against: tuple[str, ...] = ()
    reason: str = ""
    caution: str = CAUTION


def against(v: Verdict, rows: Iterable[Stood]) -> tuple[str, ...]:
    """What speaks against a plate, in sentences, the gravest first: what is open of the judgement, then work
    that is open, a size that is off, a proof that is missing.

    Args: ``rows``: every step and where it stands.
    """
    return (*unsure(v), *_work(tuple(rows)))


def unsure(v: Verdict) -> tuple[str, ...]:
    """What of the judgement itself speaks against a promise, in sentences, the gravest first: a check
    that is short, a place nobody judged, a figure nobody measured or a stand-in read.
    """
    out = []
    short = v.short
    if short:
        more = f" and {len(short) - 1} more" if len(short) > 1 else ""
        out.append(f"Short: {short[0].name}, {100 * short[0].utilisation:.0f} % used{more}.")
    silent = list(dict.fromkeys(u.what for u in v.unchecked))
    if silent:
        more = f" and {len(silent) - 1} more" if len(silent) > 1 else ""
        out.append(f"Not judged by any rule here: {silent[0]}{more}.")
    guessed = origin.assumed(v.job)
    if guessed:
        n = len(guessed)
        out.append(f"{n} figure{'' if n == 1 else 's'} it rests on {'is' if n == 1 else 'are'} assumed.")
    if origin.simulated(v.job):
        out.append("Some of its figures were read from a simulated instrument.")
    return tuple(out)


def _work(rows: tuple[Stood, ...]) -> list[str]:
    """What of the work is open or off."""
    out = []
    for kinds, one, many, verb in (
        (("run", "dress"), "bead", "beads", "not run or not dressed"),
        (("mount",), "piece", "pieces", "not on"),
        (("torque",), "set of bolts", "sets of bolts", "not tightened"),
    ):
        n = sum(len(r.left) for r in rows if r.step.kind in kinds and r.state != "gone")
        if n:
            out.append(f"{n} {one if n == 1 else many} {verb}.")
    off = sum(len({o.unit for o in r.off}) for r in rows if r.step.kind != "proof")
    if off:
        out.append(f"{off} piece{'' if off == 1 else 's'} of another size than judged.")
    proofs = [r for r in rows if r.step.kind == "proof"]
    if not proofs or any(r.left for r in proofs):
        out.append("Not proven: no proof test is ticked at the bench.")
    elif any(r.off for r in proofs):
        out.append("Not proven as it is now: what was pulled was used otherwise than what is judged.")
    return out


def rated(job: Job, v: Verdict) -> tuple[Rated, ...]:
    """What the job asks of the part, which is what was judged: no more is promised.  A trailer that is built
    weighs what is drawn and lies on it, whatever was typed of one that is towed.
    """
    out: list[Rated] = []
    duty = job.duty
    own = any(s.kind == "coupled" for s in v.assembly.sockets)
    if duty.towed:
        c = trailing.coupling(job, v.assembly) if own else towing.coupling(job)
        whole = sum(kg for kg, _ in trailing.total(job, v.assembly)) if own else duty.trailer_mass_kg
        out += [
            Rated("trailer with its load, at most", whole, "mass"),
            Rated(f"on the {duty.hitch}, at most", 1000.0 * c.S / units.STANDARD_GRAVITY, "mass"),
            Rated("D, at most", 1000.0 * c.D, "force"),
        ]
    for asked in job.duties:
        d = duties.as_hung(asked, v.assembly)
        name = d.title if d.title != "duty" else d.kind
        match d:
            case Carrier() if d.items:
                out += _carried(d, name, "the deck's middle" if own else "the mouth")
            case Winch():
                out.append(Rated(f"{name}, pull at most", d.rated_N, "force"))
            case Recovery():
                out.append(Rated(f"{name}, stuck at most", d.stuck_kg, "mass"))
            case Implement():
                out.append(Rated(f"{name} with its load, at most", d.kg + d.payload_kg, "mass"))
                out.append(Rated("its middle behind the pins, at most", d.behind_mm, "length"))
            case Ballast():
                out.append(Rated(f"{name}, at most", d.kg, "mass"))
            case Anchor():
                out.append(Rated(f"{name}, pull at most", d.pull_N, "force"))
    return (*out, Rated("the part itself", bodies.total_mass(v.assembly), "mass"))


def _carried(d: Carrier, name: str, origin: str) -> list[Rated]:
    """What a carrier takes, on which roads, and where all of it has its middle: on another road, further out
    or higher it was not judged.
    """
    total = sum(i.kg for i in d.items)
    roads = "" if d.ground == "unpaved" else " on paved roads"
    out = [Rated(f"{name}{roads}, at most", total, "mass")]
    if total > 0:
        for what, leaf in (("behind", "behind_mm"), ("over", "above_mm")):
            far = sum(i.kg * float(getattr(i, leaf)) for i in d.items) / total
            out.append(Rated(f"its middle {what} {origin}", far, "length"))
    return out


def rating_plate(
    v: Verdict, rows: Iterable[Stood], by: str = "", day: str = "", reason: str = ""
) -> RatingPlate:
    """The plate of a judged job.

    Args: ``by``: who signs; ``day`` as an ISO date, today by default; ``reason``: why it is written although
    something speaks against it.  ValueError in a sentence where something does and no reason is given.
    """
    found, why = against(v, rows), " ".join(reason.split())
    if found and not why:
        raise ValueError(
            "No plate is written while this speaks against it: " + " ".join(found) + " Give a reason in "
            "writing if it is to be written all the same; it will stand on the plate."
        )
    if len(why) > LONGEST:
        raise ValueError(
            f"The reason is longer than {LONGEST} characters, and a plate is small; say it in fewer."
        )
    job = v.job
    return RatingPlate(
        job.title,
        job.id[:8].upper() + (f" rev. {job.revision}" if job.revision else ""),
        day or date.today().isoformat(),
        by or job.drawn,
        rated(job, v),
        v.basis.name,
        found,
        why if found else "",
    )


__all__ = ["LONGEST", "Rated", "RatingPlate", "against", "rated", "rating_plate", "unsure"]
