"""A page for who uses it, in large letters: what it may do, what of the host is off or cut, what to do each
time, after the first trips and each year.
"""

from __future__ import annotations

from collections.abc import Iterator

from urial import units
from urial.assembly.model import LOAD, Assembly, Bolts, Clamp, Hook, Pin, StrapRound
from urial.job.survey import Block
from urial.making.due import FIRST, YEAR
from urial.making.parts import IN_TIMBER
from urial.making.plan import plan
from urial.papers.pdf import BOLD, BRICK, INK, Pages
from urial.papers.section import Shown, section
from urial.prove.rating_plate import rated, unsure
from urial.prove.verdict import Verdict

LARGE = 12.0
BOX = 9.0
SPOTS = 4
"""So many places are named to look at."""


@section("handover", 125)
def handover(p: Pages, s: Shown) -> None:
    """One page; nothing of a survey."""
    v = s.verdict
    if not v.checks:
        return
    p.start_page()
    p.heading(f"For who uses it: {v.job.title}", 16)
    p.paragraph(f"Number {v.job.id[:8].upper()}. On the {v.job.vehicle.name} alone.", LARGE)
    against = unsure(v)
    if against:
        p.paragraph("Not to be used: nothing is promised of it while this stands.", 14, BRICK, BOLD)
        for words in against:
            p.paragraph(words, LARGE, BRICK)
    else:
        p.heading("It may", 13)
        for r in rated(v.job, v):
            figure = units.show(r.most, r.kind, v.job.units, v.job.nearest)
            p.paragraph(f"{r.what}: {figure}", LARGE)
        p.paragraph("What stands on its plate counts; without a plate it was not proven.", LARGE)
    for head, rows in (
        ("Of the vehicle", _off(v)),
        ("Each time", _each_time(v)),
        (f"After the first trips, within {FIRST.days} days", _again(s)),
        (f"Every {YEAR.days // 30} months, and after a knock", _look(v)),
    ):
        if rows:
            p.gap(6)
            p.heading(head, 13)
            for row in rows:
                _ticked(p, row)


def _ticked(p: Pages, row: str) -> None:
    """A line with a box before it."""
    p.need(LARGE * 1.35)
    p.canvas.setStrokeColor(INK)
    p.canvas.setLineWidth(0.8)
    p.canvas.rect(p.margin, p.y - LARGE * 1.35 - 0.5, BOX, BOX)
    p.paragraph(row, LARGE, indent=18)
    p.gap(3)


def _off(v: Verdict) -> list[str]:
    """What of the host is off for good or cut, and what does its work now."""
    out = []
    for keep in v.job.survey.keep_outs:
        if not isinstance(keep, Block) or keep.fate not in ("gone", "cut"):
            continue
        done = "is off for good" if keep.fate == "gone" else "has been cut"
        if keep.instead:
            now = f"; {keep.instead} does its work"
        elif keep.good_for != "nothing":
            now = f"; it was the {keep.good_for}, and nothing does that now"
        else:
            now = ""
        out.append(f"The {keep.name} {done}{now}.")
    return out


def _each_time(v: Verdict) -> list[str]:
    """What is looked at before every trip, by what there is."""
    a = v.assembly
    out = [f"The {name} is through, and its clip is on." for name in _named(a, Pin)]
    out += [f"The latch of {name} is shut." for name in _named(a, Hook)]
    if any(isinstance(j.how, StrapRound) for j in a.joints):
        out.append("Every strap is drawn up, dry on its edges, its end tucked in.")
    kinds = {x.kind for x in a.sockets}
    if v.job.duty.towed:
        out.append("The coupler is locked on the ball, and tried by lifting the tongue.")
    if "chain eye" in kinds and v.job.duty.towed:
        out.append("Both safety chains are on, crossed under the tongue, and hang clear of the road.")
    if v.job.duty.towed:
        out.append("Lamps, indicators and the number plate are seen; the brake cable is on.")
    if any(d.kind == "carrier" for d in v.job.duties):
        out.append("What is carried is lashed to the part itself, no higher and no farther out than above.")
    return out


def _named(a: Assembly, how: type) -> Iterator[str]:
    return iter(dict.fromkeys(j.name for j in a.joints if isinstance(j.how, how) and LOAD not in (j.a, j.b)))


def _again(s: Shown) -> list[str]:
    """Every bolt with its torque once more."""
    a = s.verdict.assembly
    out = []
    for step in plan(a, shop=s.shop).steps:
        if step.kind == "torque":
            j = a.joint_by_key[step.joints[0]]
            if isinstance(j.how, Bolts | Clamp):
                tight = f"{step.reads[0].wanted:.0f} N·m" if step.reads else IN_TIMBER
                out.append(f"{j.name}, {j.how.bolt.name}: {tight}")
    alike: dict[str, int] = {}
    for row in out:
        alike[row] = alike.get(row, 0) + 1
    return [f"{row}" + (f", {n} times" if n > 1 else "") for row, n in alike.items()]


def _look(v: Verdict) -> list[str]:
    """Where it is used most, by name: there a crack begins."""
    tired = [c for c in v.checks if c.kind == "fatigue"]
    names = list(dict.fromkeys(c.name for c in tired or v.checks if c.kind != "rating"))[:SPOTS]
    what = "Cracks, with a glass and a bright light, first at" if tired else "Look first at"
    out = [f"{what}: {'; '.join(names)}."] if names else []
    out.append("Pins, clips, holes worn long, paint that cracks over a weld, rust that runs from a joint.")
    out.append("After a knock or an overload: not used until it is looked at by who made it.")
    return out


__all__ = ["handover"]
