"""The plan of work, derived: what is bought, cut, bent, drilled, welded, put on, tightened and tried, and
what must be done before.

A pure function of the assembly, the order Together found, what Prove asks, the shop and how many are made.
Nobody edits a plan: it changes with the sizes.
"""

from __future__ import annotations

import heapq
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import dist
from types import MappingProxyType
from typing import Any

from urial.assembly import bodies, facts
from urial.assembly.model import (
    HOST,
    LOAD,
    Assembly,
    Bolts,
    Clamp,
    Joint,
    Plugs,
    Shank,
    StrapRound,
    Weld,
)
from urial.fit.model import Step as OnStep
from urial.fit.steps import owners
from urial.job.making import Finish, Making, Wiring
from urial.making import work
from urial.making.coats import book, hours, painted
from urial.making.fastened import sleeves
from urial.making.finish import area, masked, sent
from urial.making.parts import IN_TIMBER, Row, lead, natural, parts_list, thread_limit
from urial.making.step import RANK, Kind, Plan, Reading, Step, key_of
from urial.making.welds import seam_numbers
from urial.making.wiring import NoCable, Wire, wiring_of
from urial.making.wiring import book as wiring_book
from urial.shop.snapshot import Shop, usual
from urial.strength import bolts

ALL = "job"
"""The part of steps that are done to all of it."""


@dataclass(frozen=True)
class Trial:
    """A proof test that is asked for: its name, the pull in kN, in words how, and how far each part is used
    in it where most, %, by its mark: other steel is used otherwise, and is not proven by it.
    """

    name: str
    kN: float
    words: str
    used: Mapping[str, float] = field(default_factory=lambda: MappingProxyType({}))


USED = "use of "
DRIFT = 2.0
"""A part used so much more or less than the one that was proven, in per cent of its strength, is another
one: what a size cut a little off does stays below it."""


@dataclass(frozen=True)
class Asked:
    """What Prove and the survey want of the work: proof tests, and what is cut or taken off the host (its
    name and how, in words).
    """

    trials: tuple[Trial, ...] = ()
    trims: tuple[tuple[str, str], ...] = ()


@dataclass
class _Sheet:
    """The plan while it is written: steps by key; for every part the steps after which it is ready."""

    shop: Shop
    sets: int
    extra: Mapping[str, float]
    numbers: Mapping[str, str]
    steps: dict[str, Step] = field(default_factory=dict)
    ready: dict[str, frozenset[str]] = field(default_factory=dict)

    def add(self, step: Step) -> str:
        """One more; of the same key the first stays."""
        self.steps.setdefault(step.key, step)
        return step.key


def plan(
    assembly: Assembly,
    order: Sequence[OnStep] = (),
    asked: Asked | None = None,
    shop: Shop | None = None,
    wishes: Making | None = None,
) -> Plan:
    """Every step, in an order that can be done.

    Args: ``order`` as ``fit`` found it (without it, what is nearest to the host goes on first); ``wishes``:
    how many are made, what is left long, which steps somebody wants first.
    """
    asked, wishes = asked or Asked(), wishes or Making()
    sheet = _Sheet(shop or usual(), int(wishes.sets), wishes.extra, seam_numbers(assembly))
    rows = parts_list(assembly)
    for row in rows:
        _line(assembly, row, sheet)
    welded = things(assembly)
    runs = _welds(assembly, welded, sheet)
    early = wishes.finish.when == "before it goes on"
    coat = _coated(assembly, wishes.finish, frozenset(runs.values()), sheet) if early else ""
    on = _mounts(assembly, welded, order, asked, runs, sheet, coat)
    last = _tightened(assembly, on, sheet)
    before = {*on.values(), *last, *runs.values(), *([coat] if coat else [])}
    before |= _wire(assembly, wishes.wiring, frozenset(before), sheet)
    _ends(assembly, asked, before, sheet, None if early else wishes.finish)
    return Plan(_ordered(sheet.steps.values(), wishes.first))


# ---- a line of the parts list


def _line(assembly: Assembly, row: Row, sheet: _Sheet) -> None:
    steps = work.of_line(assembly, row, sheet.shop, sheet.sets, sheet.extra.get(lead(row), 0.0))
    for s in steps:
        sheet.add(s)
    needed = {n for s in steps for n in s.needs}
    done = frozenset(s.key for s in steps if s.key not in needed)
    for key in row.parts:
        sheet.ready[key] = done


# ---- welds


def things(assembly: Assembly) -> list[tuple[str, ...]]:
    """What is welded together, by part keys; hardware stays out."""
    above: dict[str, str] = {p.key: p.key for p in assembly.parts if not p.hardware}

    def top(k: str) -> str:
        while above[k] != k:
            k = above[k]
        return k

    for j in assembly.joints:
        if isinstance(j.how, (Weld, Plugs)) and j.a in above and j.b in above:
            one, two = sorted((top(j.a), top(j.b)), key=natural)
            above[two] = one
    groups: dict[str, list[str]] = defaultdict(list)
    for k in above:
        groups[top(k)].append(k)
    return sorted((tuple(sorted(g, key=natural)) for g in groups.values()), key=lambda g: natural(g[0]))


def _mark(assembly: Assembly, key: str) -> str:
    return "the vehicle" if key == HOST else assembly.by_key[key].mark


def _welds(assembly: Assembly, things: Sequence[tuple[str, ...]], sheet: _Sheet) -> dict[str, str]:
    """Tacks, the check between, and every bead.  What ends each run, by the run's key."""
    thing_of = {k: t for t in things for k in t}
    tacks: dict[tuple[str, ...], set[str]] = defaultdict(set)
    inner = [
        j for j in assembly.joints if isinstance(j.how, (Weld, Plugs)) and j.a in thing_of and j.b in thing_of
    ]
    for j in inner:
        bevel = work.bevel(assembly, j, sheet.shop, sheet.sets, sheet.ready[j.a])
        if bevel is not None:
            sheet.ready[j.a] = frozenset({sheet.add(bevel)})
    for j in inner:
        tacks[thing_of[j.a]].add(sheet.add(_tack(assembly, j, sheet.ready[j.a] | sheet.ready[j.b], sheet)))
    checks = {
        t: sheet.add(work.check(assembly, t, frozenset(n), sheet.shop, sheet.sets)) for t, n in tacks.items()
    }
    out: dict[str, str] = {}
    for j in inner:
        before = frozenset({checks[thing_of[j.a]]})
        for step in work.runs(assembly, j, before, sheet.shop, sheet.sets, sheet.numbers.get(j.key, "")):
            out[sheet.add(step)] = step.key
        _dressed(assembly, j, out, sheet)
    return out


def _tack(assembly: Assembly, j: Joint, needs: frozenset[str], sheet: _Sheet) -> Step:
    a, b = _mark(assembly, j.a), _mark(assembly, j.b)
    return Step(
        key_of(j.key, "tack"),
        "tack",
        sheet.sets,
        tuple(k for k in (j.a, j.b) if k != HOST),
        tuple(x for x in (a, b) if x != "the vehicle"),
        f"Tack {a} to {b}: {sheet.numbers.get(j.key, '')} {j.name}.",
        sheet.shop.minutes["tack_joint"] * sheet.sets,
        (j.key,),
        needs,
        "welder",
    )


def _dressed(assembly: Assembly, j: Joint, runs: dict[str, str], sheet: _Sheet) -> None:
    """A weld that is ground flush is done only then."""
    if not (isinstance(j.how, Weld) and j.how.ground):
        return
    own = frozenset(k for k in runs if sheet.steps[k].joints == (j.key,))
    long = sum(dist(r.a, r.b) for r in j.how.runs)
    key = sheet.add(
        Step(
            key_of(j.key, "dress"),
            "dress",
            sheet.sets,
            (j.a,),
            (_mark(assembly, j.a),),
            f"Grind {j.name} flush, along the load and not across it: {long:.0f} mm.",
            sheet.shop.minutes["dress_m"] * long / 1000 * sheet.sets,
            (j.key,),
            own,
            "grinder",
        )
    )
    runs.update(dict.fromkeys(own, key))


# ---- coats


def _coated(assembly: Assembly, finish: Finish, before: frozenset[str], sheet: _Sheet) -> str:
    """What stays bare is masked, then coat after coat, and a wait until the last is hard; or it is sent out
    for it.  The step after which it may be put on; nothing where it stays bare.
    """
    scheme = book().schemes[finish.scheme]
    whole = area(assembly, (p.key for p in assembly.parts), scheme)
    if not whole.parts or not (scheme.coats or scheme.sent):
        return ""
    needs = before | {k for p in whole.parts for k in sheet.ready.get(p, ())}
    marks = tuple(dict.fromkeys(assembly.by_key[k].mark for k in whole.parts))
    minutes = {**usual().minutes, **sheet.shop.minutes}
    colour = f", {finish.colour}" if finish.colour else ""

    def step(kind: Kind, feature: str, words: str, time: float, needs: frozenset[str], **more: Any) -> str:
        key = key_of(ALL, kind, feature) if feature else key_of(ALL, kind)
        return sheet.add(
            Step(key, kind, sheet.sets, whole.parts, marks, words, time * sheet.sets, (), needs, **more)
        )

    kept = [m for m in masked(assembly) if m.part in whole.parts]
    if kept:
        said = "; ".join(f"{m.mark}: {m.what}" for m in kept)
        mask = step("mask", "", f"Mask what stays bare. {said}.", minutes["mask"] * len(kept), needs)
        needs = frozenset({mask})
    if scheme.sent:
        kg = sum(bodies.mass(assembly.by_key[k]) for k in whole.parts)
        words = f"Send it out to be {scheme.sent}{colour}: {kg:.0f} kg."
        return step("send out", "coat", words, minutes["send_out"], needs, hazards=sent(assembly, scheme))
    m2 = whole.mm2 * 1e-6
    for n, (name, litre) in enumerate(zip(scheme.coats, whole.litres, strict=True), 1):
        paint = book().products[name]
        words = f"Coat {n} of {len(scheme.coats)}, {paint.title}{colour if n > 1 else ''}: {m2:.2f} m²"
        words += f", {litre * sheet.sets:.2f} l mixed."
        words += " Degrease first." if n == 1 else ""
        time = minutes["coat_setup"] / sheet.sets + minutes["coat_m2"] * m2
        hazards = (paint.hazard,) if paint.hazard else ()
        needs = frozenset({step("coat", str(n), words, time, needs, tool="spray gun", hazards=hazards)})
    last = book().products[scheme.coats[-1]]
    hard = hours(last.hard_h, 20.0)
    return step(
        "wait", "hard", f"Leave it until it is hard: {hard:.0f} hours at 20 °C.", minutes["wait"], needs
    )


# ---- on to the vehicle


def _order(assembly: Assembly, things: Sequence[tuple[str, ...]], order: Sequence[OnStep]) -> list[OnStep]:
    """The things in the order they go on: as Together found it, what it does not know after."""
    known = {k for s in order for k in s.keys}
    deep = facts.layers(assembly)
    rest = [t for t in things if not known & set(t)]
    rest.sort(key=lambda t: (min((deep.get(k, 99) for k in t), default=99), natural(t[0])))
    more = [
        OnStep(called(assembly, t), t, (-1.0, 0.0, 0.0), 0.0, f"Put the {called(assembly, t)} on.")
        for t in rest
    ]
    return [*order, *more]


def called(assembly: Assembly, keys: Sequence[str]) -> str:
    """What a thing of these parts is called: its piece's title where it is all of it."""
    first = assembly.by_key[keys[0]]
    whole = sum(p.piece == first.piece and not p.hardware for p in assembly.parts) == len(keys)
    return assembly.titles.get(first.piece, first.name) if whole or len(keys) > 3 else first.name


def _mounts(
    assembly: Assembly,
    things: Sequence[tuple[str, ...]],
    order: Sequence[OnStep],
    asked: Asked,
    runs: Mapping[str, str],
    sheet: _Sheet,
    coat: str = "",
) -> dict[str, str]:
    """Each thing on, in its turn, after its last coat; the step that puts on each part, by the part's key."""
    steps = _order(assembly, things, order)
    if not steps:
        return {}
    own = owners(assembly, steps)
    trims = frozenset(
        sheet.add(work.trim(name, words, sheet.shop, sheet.sets)) for name, words in asked.trims
    )
    keys = [key_of(min(s.keys, key=natural), "mount") for s in steps]
    made: dict[int, list[Joint]] = defaultdict(list)
    for j in assembly.joints:
        if LOAD in (j.a, j.b) or isinstance(j.how, (Weld, Plugs, Bolts, Clamp, Shank)):
            continue
        made[max(own.get(j.a, 0), own.get(j.b, 0))].append(j)
    before: frozenset[str] = trims
    for n, s in enumerate(steps):
        parts = sorted((k for k, m in own.items() if m == n), key=natural)
        ends = {runs[k] for k in runs if set(sheet.steps[k].parts) & set(s.keys)}
        needs = before | frozenset(ends) | frozenset(k for p in parts for k in sheet.ready.get(p, ()))
        if coat and any(painted(assembly.by_key[k]) > 0 for k in parts):
            needs |= {coat}
        sheet.add(_mount(assembly, s, keys[n], parts, made[n], needs, sheet))
        before = frozenset({keys[n]})
    return {k: keys[n] for k, n in own.items()}


def _mount(
    assembly: Assembly,
    s: OnStep,
    key: str,
    parts: Sequence[str],
    joints: Sequence[Joint],
    needs: frozenset[str],
    sheet: _Sheet,
) -> Step:
    kg = sum(bodies.mass(assembly.by_key[k]) for k in parts)
    m = sheet.shop.minutes
    straps = sum(isinstance(j.how, StrapRound) for j in joints)
    marks = tuple(dict.fromkeys(assembly.by_key[k].mark for k in parts if not assembly.by_key[k].hardware))
    return Step(
        key,
        "mount",
        sheet.sets,
        tuple(parts),
        marks,
        s.words,
        (m["mount"] + m["strap"] * straps) * sheet.sets,
        tuple(j.key for j in joints),
        needs,
        "hoist, or two people" if kg > work.TWO_LIFT_KG else "",
        hazards=(f"{kg:.0f} kg: a jack or a strap holds it until it is bolted.",)
        if kg > work.ONE_LIFTS_KG
        else (),
    )


def _tightened(assembly: Assembly, on: Mapping[str, str], sheet: _Sheet) -> set[str]:
    """Bolts after what they hold is on; beads on the vehicle too."""
    out: set[str] = set()
    for j in assembly.joints:
        needs = frozenset(on[k] for k in (j.a, j.b) if k in on)
        if isinstance(j.how, (Bolts, Clamp, Shank)) and LOAD not in (j.a, j.b):
            out.add(sheet.add(_torque(assembly, j, needs, sheet)))
        elif isinstance(j.how, (Weld, Plugs)) and HOST in (j.a, j.b):
            tack = sheet.add(replace(_tack(assembly, j, needs, sheet), hazards=(work.ON_VEHICLE,)))
            for step in work.runs(
                assembly, j, frozenset({tack}), sheet.shop, sheet.sets, sheet.numbers.get(j.key, "")
            ):
                out.add(sheet.add(replace(step, hazards=(work.ON_VEHICLE,))))
    return out


def _torque(assembly: Assembly, j: Joint, needs: frozenset[str], sheet: _Sheet) -> Step:
    parts = tuple(k for k in (j.a, j.b) if k != HOST)
    marks = tuple(assembly.by_key[k].mark for k in parts)
    reads: tuple[Reading, ...] = ()
    if isinstance(j.how, (Bolts, Clamp)):
        count = len(j.how.holes) if isinstance(j.how, Bolts) else j.how.count
        bolt, grade = j.how.bolt, j.how.grade.of(j.how.bolt.diameter)
        torque = bolts.torque(bolt.diameter, bolts.tightened(j.how)) / 1000
        words = f"Tighten {j.name}: {count} × {bolt.name} grade {grade.name}, "
        if torque:
            oiled = torque * bolts.OILED / bolts.DRY
            words += f"{torque:.0f} N·m dry, {oiled:.0f} N·m oiled, crosswise in two rounds."
            words += f" {limit[0].upper()}{limit[1:]}." if (limit := thread_limit(j.how)) else ""
            reads = (Reading("torque", torque, 0.1 * torque, "torque wrench, clicked twice", "N·m"),)
        else:
            words += f"{IN_TIMBER}."
        if (hollow := sleeves(assembly).get(j.key)) is not None:
            words += f" First: {hollow}."
    else:
        count, words = (
            1,
            f"Tighten {j.name} as its maker says, its nut's thread full and its washer under it.",
        )
    minutes = sheet.shop.minutes["bolt"] * count * sheet.sets
    figures = MappingProxyType({r.what: r.wanted for r in reads})
    return Step(
        key_of(j.key, "torque"),
        "torque",
        sheet.sets,
        parts,
        marks,
        words,
        minutes,
        (j.key,),
        needs,
        "torque wrench",
        reads=reads,
        figures=figures,
    )


def _wire(assembly: Assembly, wishes: Wiring, needs: frozenset[str], sheet: _Sheet) -> set[str]:
    """Lamps or a socket wired once all is on, by the table of its plug."""
    minutes = {**usual().minutes, **sheet.shop.minutes}
    most = wiring_book().rules.lamp_drop_V
    wires: tuple[Wire, ...] = ()
    try:
        found = wiring_of(assembly, wishes)
    except NoCable as refusal:
        words = f"Wire {wishes.what}. {refusal}"
    else:
        if found is None:
            return set()
        wires = found.wires
        words = (
            f"Wire {wishes.what}: {found.plug.title}, {len(wires)} cables by its table; then every lamp by "
            f"itself and all at once, no more than {most:g} V lost at the farthest."
        )
    run = max((w.mm for w in wires), default=0.0)
    figures = {f"cable of {w.at}": round(w.cable.mm2, 3) for w in wires}
    step = Step(
        key_of(ALL, "wire"),
        "wire",
        sheet.sets,
        (),
        (),
        words,
        (minutes["wire_circuit"] * len(wires) + minutes["wire_m"] * run / 1000) * sheet.sets,
        (),
        needs,
        "crimper and meter",
        hazards=("Battery's earth off until the last fuse is in.",),
        figures=MappingProxyType(figures),
        slack=MappingProxyType(dict.fromkeys(figures, (0.01, "mm²"))),
    )
    return {sheet.add(step)}


def _ends(
    assembly: Assembly, asked: Asked, before: Iterable[str], sheet: _Sheet, finish: Finish | None
) -> None:
    """Proof tests once all is on, coats after them where they are wanted then, and handing over."""
    done = frozenset(before) or frozenset(sheet.steps)
    proofs = set()
    for t in asked.trials:
        shares = {f"{USED}{part}": share for part, share in t.used.items()}
        figures = {**({"pull": t.kN} if t.kN else {}), **shares}
        reads = (Reading("pull", t.kN, 0.03 * t.kN, "load cell, held a minute", "kN"),) if t.kN else ()
        proofs.add(
            sheet.add(
                Step(
                    key_of(ALL, "proof", t.name),
                    "proof",
                    sheet.sets,
                    (),
                    (),
                    t.words,
                    sheet.shop.minutes["proof"] * sheet.sets,
                    (),
                    done,
                    "load cell",
                    reads=reads,
                    hazards=("Nobody in line with the pull, and a blanket over the rope.",),
                    figures=MappingProxyType(figures),
                    slack=MappingProxyType(dict.fromkeys(shares, (DRIFT, "%"))),
                )
            )
        )
    if finish is not None:
        coat = _coated(assembly, finish, done | frozenset(proofs), sheet)
        proofs |= {coat} if coat else set()
    sheet.add(
        Step(
            key_of(ALL, "hand over"),
            "hand over",
            sheet.sets,
            (),
            (),
            "Hand it over: what is off while it is on, what to look at after the first trip, when it is "
            "due again.",
            sheet.shop.minutes["hand_over"] * sheet.sets,
            (),
            done | frozenset(proofs),
        )
    )


# ---- in an order that can be done


def _needed(by_key: Mapping[str, Step], keys: Iterable[str]) -> set[str]:
    """Some steps and everything they need."""
    out: set[str] = set()
    new = set(keys) & set(by_key)
    while new:
        out |= new
        new = {n for k in new for n in by_key[k].needs if n in by_key} - out
    return out


def _ordered(steps: Iterable[Step], first: Sequence[str] = ()) -> tuple[Step, ...]:
    """Every need before what needs it; else by the kind of work, by mark, by key: the same whatever the order
    they come in.  What somebody wants ``first`` comes first, after what it needs.
    """
    by_key = {s.key: s for s in steps}
    pulled = _needed(by_key, first)
    waits = {k: set(s.needs) & set(by_key) for k, s in by_key.items()}
    after: dict[str, list[str]] = defaultdict(list)
    for k, needs in waits.items():
        for n in needs:
            after[n].append(k)

    def rank(s: Step) -> tuple[object, ...]:
        return (s.key not in pulled, RANK[s.kind], natural(s.marks[0]) if s.marks else (), natural(s.key))

    heap = [(rank(by_key[k]), k) for k, needs in waits.items() if not needs]
    heapq.heapify(heap)
    out: list[Step] = []
    while heap:
        _, k = heapq.heappop(heap)
        out.append(by_key[k])
        for later in after[k]:
            waits[later].discard(k)
            if not waits[later]:
                heapq.heappush(heap, (rank(by_key[later]), later))
    assert len(out) == len(by_key), "a plan has no circle"
    return tuple(replace(s, needs=s.needs & frozenset(by_key)) for s in out)


__all__ = ["ALL", "Asked", "Kind", "Trial", "called", "plan", "things"]
