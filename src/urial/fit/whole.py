"""All of it: every question asked of a job, worst answers first, moves tried, what is waived kept apart."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace

from urial.assembly import bodies
from urial.assembly.model import Assembly, Eye, Ground, Seat, StrapRound, Weld
from urial.families import build
from urial.fit import access, asked, bench, clash, clearance, holes, order, service, trims, widths
from urial.fit.fasteners import fasteners, pins
from urial.fit.model import Finding, Fit, OnOff, Step, Stopped, never
from urial.fit.moves import move_for
from urial.fit.room import Room, room_of, tools
from urial.geometry.place import Vec, minus, norm
from urial.job.model import UNPROVED, Job
from urial.job.remembered import Remembered
from urial.loads.duties import carried

RANK = {"clash": 0, "order": 1, "access": 2, "hole": 3, "stack": 4}
"""What stops a part from going on at all stands before what makes it hard."""
MOVED = 6
"""Findings for which a move is looked for."""


def _ask(job: Job, assembly: Assembly, room: Room, kind: str, stopped: Stopped) -> list[Finding | Step | str]:
    if kind == "clash":
        return [
            *clash.among_parts(assembly, room, stopped),
            *clash.with_keep_outs(job, assembly),
            *clash.of_cargo(job, room, carried(job, assembly), stopped),
        ]
    if kind == "access":
        return [
            *access.bolt_findings(job, assembly, room, stopped),
            *access.pin_findings(job, assembly, room, stopped),
            *asked.asked_findings(job, assembly),
            *service.drill_findings(job, assembly, room, stopped),
            *access.service_words(job, assembly, room, stopped),
            *service.out_findings(job, assembly, stopped),
        ]
    if kind == "seam":
        return list(access.seam_findings(assembly, stopped))
    if kind == "order":
        return list(order.order_findings(assembly, room, stopped))
    return [
        *holes.hole_findings(job, assembly),
        *holes.bores_findings(assembly),
        *holes.rattle_words(assembly),
        *widths.width_findings(job, assembly, stopped),
        *trims.trim_findings(job, assembly),
        *clearance.clearance_findings(job, assembly),
        *bench.tool_findings(job, assembly),
        *bench.tack_words(assembly),
        *bench.floor_words(assembly),
    ]


MOVABLE = ("clash ", "keep-out ", "cargo ", "bolt ", "pin ", "out ", "drill ", "clearance ")
"""Findings, by how their ids begin, that a size of the part may clear."""


def _again(finding: Finding, job: Job, assembly: Assembly, stopped: Stopped) -> bool:
    """Is a finding still there in another job?  Only what may bring it back is asked."""
    ident, room = finding.id, room_of(job, assembly)
    if ident.startswith("clash "):
        return clash.still(finding, room)
    rows: Iterable[Finding | str]
    if ident.startswith("keep-out "):
        rows = clash.with_keep_outs(job, assembly)
    elif ident.startswith("cargo "):
        rows = clash.of_cargo(job, room, carried(job, assembly), stopped)
    elif ident.startswith("out "):
        rows = service.out_findings(job, assembly, stopped)
    elif ident.startswith("drill "):
        rows = service.drill_findings(job, assembly, room, stopped)
    elif ident.startswith("clearance "):
        rows = clearance.clearance_findings(job, assembly)
    else:
        rows = (
            *access.bolt_findings(job, assembly, room, stopped, ident),
            *access.pin_findings(job, assembly, room, stopped, ident),
        )
    return any(isinstance(f, Finding) and f.id == ident for f in rows)


def _moved(job: Job, finding: Finding, kind: str, stopped: Stopped) -> Finding:
    """The finding with a move that clears it, if a single size does."""

    def whole(other: Job, made: Assembly) -> set[str]:
        found = _ask(other, made, room_of(other, made), kind, stopped)
        return {f.id for f in found if isinstance(f, Finding)}

    def gone(other: Job, made: Assembly) -> bool:
        return not _again(finding, other, made, stopped)

    return move_for(job, finding, gone, whole, stopped)


LOOKING = {
    "clash": "what runs into what",
    "order": "the order it goes on in",
    "access": "bolts and pins",
    "seam": "where the gun reaches",
    "stack": "whether the holes line up",
}
"""What is being looked at, in words."""


def fit(
    job: Job,
    assembly: Assembly | None = None,
    stopped: Stopped = never,
    moves: bool = True,
    tell: Callable[[str], None] = lambda _: None,
) -> Fit:
    """Will it go together?  BuildError when there is no part; ``stopped`` leaves it at what was found;
    ``tell`` hears what is being looked at.  What was looked at lately is not looked at again.
    """
    drawn = build(job) if assembly is None else assembly

    def look() -> Fit:
        return _look(job, drawn, stopped, moves, tell)

    if assembly is not None and assembly is not build(job):  # another shape than the job's own
        return look()
    named_alike = job.model_copy(update=UNPROVED)
    return _LOOKED.of((named_alike, moves), look, whole=lambda: not stopped())


_LOOKED: Remembered[tuple[Job, bool], Fit] = Remembered(6)


def _look(job: Job, made: Assembly, stopped: Stopped, moves: bool, tell: Callable[[str], None]) -> Fit:
    room = room_of(job, made)
    found: list[tuple[str, Finding]] = []
    steps: list[Step] = []
    facts: list[str] = []
    early: list[str] = []
    for kind in ("clash", "order", "access", "seam", "stack"):
        if stopped():
            early.append("Stopped before everything was looked at.")
            break
        tell(LOOKING[kind])
        for row in _ask(job, made, room, kind, stopped):
            if isinstance(row, Finding):
                found.append((kind, row))
            elif isinstance(row, Step):
                steps.append(row)
            elif row.startswith("!"):
                early.append(row[1:])
            else:
                facts.append(row)
    found.sort(key=lambda kf: (RANK[kf[1].kind], -(kf[1].amount or 0.0)))
    waived = {w.finding: w.reason for w in job.waived}
    out = []
    for n, (kind, f) in enumerate(found):
        kept = replace(f, waived=waived.get(f.id, ""))
        tell("what would clear it")
        if moves and n < MOVED and not kept.waived and f.id.startswith(MOVABLE) and not stopped():
            kept = _moved(job, kept, kind, stopped)
        out.append(kept)
    return Fit(
        tuple(out), tuple(steps), tuple(on_and_off(job, made)), tuple(dict.fromkeys(facts)), tuple(early)
    )


def on_and_off(job: Job, assembly: Assembly) -> list[OnOff]:
    """What each piece takes to put on: how heavy, where it balances, what is turned, how long."""
    t = tools()["lift"]
    out = []
    for piece in job.stack:
        own = [p for p in assembly.parts if p.piece == piece.id]
        if not own:
            continue
        alone = Assembly(tuple(own))
        kg, balance = bodies.total_mass(alone), bodies.centre_of_mass(alone)
        turned = fasteners(own)
        pushed = pins(alone)
        straps = sum(
            isinstance(j.how, StrapRound) and j.key.startswith(f"{piece.id}/") for j in assembly.joints
        )
        m, beads, rests = t["minutes"], *_crossing(piece.id, assembly)
        minutes = m["piece"] + m["bolt"] * len(turned) + m["pin"] * len(pushed) + m["strap"] * straps
        minutes += m["weld_per_m"] * beads / 1000
        sizes = tuple(sorted({round(g.across_flats, 2) for f in turned for g in (f.head, f.nut) if g}))
        name = assembly.titles.get(piece.id, f"piece {piece.id}")
        out.append(
            OnOff(
                piece.id,
                name,
                kg,
                balance,
                len(turned),
                len(pushed),
                sizes,
                minutes,
                _words(name, kg, balance, (len(turned), len(pushed), straps), sizes, minutes, (beads, rests)),
            )
        )
    return out


def _words(
    name: str,
    kg: float,
    balance: Vec,
    count: tuple[int, int, int],
    sizes: tuple[float, ...],
    minutes: float,
    stays: tuple[float, str],
) -> str:
    bolts, pushed, straps = count
    beads, rests = stays
    held = [f"{bolts} bolt{'s' if bolts > 1 else ''}"] if bolts else []
    held += [f"{pushed} pin{'s' if pushed > 1 else ''}"] if pushed else []
    held += [f"{straps} strap leg{'s' if straps > 1 else ''}"] if straps else []
    held += [f"{beads:.0f} mm of bead: welded on, it stays"] if beads else []
    spanners = ", ".join(f"{s:.4g} mm" for s in sizes)
    with_what = f"spanners {spanners}" if sizes else "a welder" if beads else "no tool"
    lift = _lift(kg, rests)
    x, _, z = balance
    return (
        f"{name[0].upper()}{name[1:]}: {kg:.1f} kg, {lift}; it balances {abs(x):.0f} mm "
        f"{'behind' if x <= 0 else 'ahead of'} the host's zero and {z:.0f} mm up. "
        f"{' and '.join(held) if held else rests or 'Nothing holds it'}; {with_what}, about "
        f"{minutes:.0f} minutes."
    )


WHEELS = "It stands on its own wheels and is coupled"
RESTS: dict[type, str] = {Ground: WHEELS, Seat: "It hangs on the linkage", Eye: "Its eye hangs on the pin"}
"""What holds a piece up that nothing fastens."""


def _crossing(piece: str, assembly: Assembly) -> tuple[float, str]:
    """The beads that join a piece to what is not of it, mm, and what else it rests on, in words."""
    across = [j for j in assembly.joints if (j.a.split("/")[0] == piece) != (j.b.split("/")[0] == piece)]
    beads = sum(norm(minus(run.b, run.a)) for j in across if isinstance(j.how, Weld) for run in j.how.runs)
    kinds = {type(j.how) for j in across}
    return beads, next((words for kind, words in RESTS.items() if kind in kinds), "")


def _lift(kg: float, rests: str) -> str:
    t = tools()["lift"]
    if rests == WHEELS:
        return "it rolls to its place"
    if kg > t["two_persons_kg"]:
        return "more than two people lift (50 kg): a hoist, or a jack under it"
    if kg > t["one_person_kg"]:
        return "more than one person lifts (25 kg): two people, a jack or a strap to hang it by"
    return "one person lifts it"
