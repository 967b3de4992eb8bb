"""Commands of what goes on at the end: bolts, wiring.  No logic of their own."""

from __future__ import annotations

import argparse

from urial.arguments import Refused
from urial.opened import opened_part, print_json


def bolts(args: argparse.Namespace) -> int:
    """Group by group in the order of the plan."""
    from urial import units
    from urial.job.speech import said
    from urial.making.fastened import bolted, words
    from urial.making.plan import plan
    from urial.papers.finish_tables import bolts_json

    document, v = opened_part(args.job)
    job = document.job
    rows = bolted(v.assembly, plan(v.assembly, wishes=job.making))
    if args.json:
        print_json(bolts_json(rows))
        return 0
    for n, row in enumerate(rows, 1):
        told = said(job, " ".join((words(row), *row.minds)))
        print(f"{n:3} {said(job, row.name)}: {units.in_words(told, job.units, job.nearest)}")
    if not rows:
        print("Nothing is bolted.")
    return 0


def wiring(args: argparse.Namespace) -> int:
    """Cable by cable; what the options say goes before what the job says."""
    from urial import units
    from urial.making.wiring import NoCable, wiring_of
    from urial.papers.finish_tables import wiring_json

    document, v = opened_part(args.job)
    job = document.job
    said = {k: getattr(args, k) for k in ("what", "plug", "lamps") if getattr(args, k)}
    wishes = job.making.wiring.model_copy(update=said)
    try:
        found = wiring_of(v.assembly, wishes, job.units)
    except NoCable as refusal:
        raise Refused(str(refusal)) from None
    if args.json:
        print_json(wiring_json(found))
        return 0
    if found is None:
        print("Nothing is wired: choose it at Finish, or say --what.")
        return 0
    print(f"{found.plug.title}, {found.plug.source}; colours: {found.school}")
    for w in found.wires:
        fuse = f"  fuse {w.fuse:g} A" if w.fuse else ""
        long = units.show(w.mm, "length", job.units, job.nearest)
        print(
            f"{w.at:16} {w.does:22} {w.colour:16} {w.amps:6.2f} A {long:>12} {w.cable.name:>9} "
            f"{w.drop:5.2f} V  {w.terminal}{fuse}"
        )
    for c in found.free:
        print(f"{c.at:16} {c.does:22} left free")
    for words in found.words:
        print(units.in_words(words, job.units))
    for b in found.bought:
        print(b.said(job.units))
    return 0


__all__ = ["bolts", "wiring"]
