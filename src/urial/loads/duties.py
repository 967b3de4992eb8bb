"""The duties beside towing as load cases: each a force at a place, from the policy, with a reason and a
source.
"""

from __future__ import annotations

import math
import re
import tomllib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache
from importlib.resources import files

from urial.assembly import bodies
from urial.assembly.model import Assembly, Socket, StrapRound
from urial.geometry.place import Vec, cross, minus, norm, times
from urial.job.duty import Anchor, Ballast, Carrier, Implement, OtherDuty, Recovery, Winch
from urial.job.host import Host, Post, Tractor, Trailer, Wheeled
from urial.job.model import Job
from urial.loads import decks
from urial.loads.case import MOUTH, Case, Field, LoadPoint, Six, load_points
from urial.loads.standing import on_wheels, stance
from urial.loads.towing import PolicyError
from urial.units import STANDARD_GRAVITY as G

NAMES = ("along", "across", "up", "static", "times", "turn", "rise", "end")


@dataclass(frozen=True)
class Row:
    """One row of a duty's policy."""

    id: str
    title: str
    factors: Mapping[str, float]
    reason: str
    source: str


Policy = Mapping[str, tuple[Row, ...]]


@cache
def policy() -> dict[str, tuple[Row, ...]]:
    """The policy's rows by kind of duty."""
    raw = tomllib.loads((files("urial.loads") / "data" / "duties.toml").read_text(encoding="utf-8"))
    out = {}
    for kind, rows in raw.items():
        try:
            out[kind] = tuple(
                Row(r["id"], r["title"], {k: float(r[k]) for k in NAMES if k in r}, r["reason"], r["source"])
                for r in rows
            )
        except KeyError as missing:
            raise PolicyError(f"A row of the {kind} policy has no {missing}; add it.") from None
    return out


def factor(duty: OtherDuty, row: Row, name: str) -> float:
    """A factor of the policy, or the duty's own."""
    return float(duty.factors.get(f"{row.id}/{name}", row.factors.get(name, 1.0 if name == "times" else 0.0)))


@dataclass(frozen=True)
class Pull:
    """A force (3,) N at a place in the host's axes (mm)."""

    at: Vec
    force: Vec


@dataclass(frozen=True)
class DutyCase:
    """One case of a duty: its pulls, the number of the duty in the job, and what pushes on every kilogram of
    the part itself meanwhile, N/kg (None: nothing that counts); ``end``: where along a drum the rope leaves
    it, −1 its right end, 1 its left one."""

    id: str
    title: str
    pulls: tuple[Pull, ...]
    reason: str
    source: str
    changed: bool
    duty: int
    push: Vec | None = None
    end: float = 0.0


def _off(turn_deg: float, rise_deg: float, size: float, out: float) -> Vec:
    """A pull straight out (rearward, or forward at the front), turned left and up."""
    t, r = math.radians(turn_deg), math.radians(rise_deg)
    return (out * size * math.cos(r) * math.cos(t), size * math.cos(r) * math.sin(t), size * math.sin(r))


def outward(assembly: Assembly | None) -> float:
    """Which way along x the receiver's mouth looks: −1 rearward, 1 forward."""
    bore = next((s for s in assembly.sockets if s.kind == "receiver"), None) if assembly else None
    return 1.0 if bore is not None and bore.place.z[0] > 0.5 else -1.0


def mass_places(duty: OtherDuty, mouth: Vec, out: float = -1.0) -> list[tuple[float, Vec]]:
    """What a duty hangs on the host: kg and place.  Empty for pulls.  ``out``: the way the mouth looks
    along x.
    """
    if isinstance(duty, Carrier):
        return [
            (
                i.kg,
                (
                    mouth[0] + out * (i.in_behind_mm if duty.folded else i.behind_mm),
                    mouth[1] + i.across_mm,
                    mouth[2] + (i.in_above_mm if duty.folded else i.above_mm),
                ),
            )
            for i in duty.items
        ]
    return []


def as_hung(duty: OtherDuty, assembly: Assembly | None) -> OtherDuty:
    """The duty with what really hangs there: weights on a bar by their number and what each weighs."""
    if isinstance(duty, Ballast) and assembly is not None:
        found = [
            assembly.socket_by_key[k].hangs_kg for k in taken_by(duty, assembly) if not k.endswith(MOUTH)
        ]
        kg = sum(k for k in found if k)
        return duty.model_copy(update={"kg": kg}) if kg else duty
    return duty


def hung(job: Job, assembly: Assembly) -> list[tuple[float, Vec]]:
    """Everything the duties put on the host or the part, standing: kg and where."""
    out = []
    for duty in job.duties:
        mouth = mouth_of(job, assembly, duty)
        out += mass_places(duty, mouth, outward(assembly))
        if isinstance(duty, Ballast):
            at = mouth if taken_by(duty, assembly) else (-duty.behind_mm, 0.0, 500.0)
            out.append((as_hung(duty, assembly).kg, at))  # type: ignore[union-attr]
    return out


def said_otherwise(job: Job, assembly: Assembly) -> list[str]:
    """Duties, and a trailer's typed mass, that say another mass than what is built, in sentences."""
    out = []
    if isinstance(job.vehicle, Trailer) and stance(assembly) is not None:
        built, typed = sum(kg for kg, _ in bodies.masses(assembly)), job.vehicle.empty_kg
        if abs(built - typed) > 0.05 * built:
            out.append(
                f"The trailer is said to weigh {typed:.0f} kg empty, and what is drawn weighs {built:.0f} "
                "kg; what is drawn is counted. Weigh it when it is built."
            )
    for duty in job.duties:
        real = as_hung(duty, assembly)
        if isinstance(duty, Ballast) and isinstance(real, Ballast) and abs(real.kg - duty.kg) > 0.5:
            out.append(
                f"The weights on the bar are {real.kg:.0f} kg, and “{duty.title}” says {duty.kg:.0f} kg; "
                "what hangs on the bar is counted."
            )
    return out


def carried(job: Job, assembly: Assembly | None) -> list[tuple[str, Vec, Vec]]:
    """Every item on a carrier as a box where its duty is taken: name, low and high corner in the host's
    axes, mm.
    """
    boxes = []
    for duty in job.duties:
        if isinstance(duty, Carrier):
            for item, (_, at) in zip(
                duty.items, mass_places(duty, mouth_of(job, assembly, duty), outward(assembly)), strict=True
            ):
                half = (item.long_mm / 2, item.wide_mm / 2, item.high_mm / 2)
                low, high = ((at[0] + s * half[0], at[1] + s * half[1], at[2] + s * half[2]) for s in (-1, 1))
                boxes.append((item.name, low, high))
    return boxes


def _pulls(
    duty: OtherDuty, row: Row, host: Host, mouth: Vec, out: float, in_bore: bool, held_at: Vec | None
) -> tuple[Pull, ...]:
    """Where a row of a duty pulls and how hard.  ``held_at``: the eye, hook or drum that takes a rope, which
    pulls there and nowhere else; without one it is measured from the mouth.
    """
    f = {n: factor(duty, row, n) for n in NAMES}
    if isinstance(duty, Carrier):
        rough = 1.5 if duty.ground == "unpaved" else 1.0
        return tuple(
            Pull(
                at,
                (
                    rough * f["along"] * kg * G,
                    rough * f["across"] * kg * G,
                    (rough * f["up"] - f["static"]) * kg * G,
                ),
            )
            for kg, at in mass_places(duty, mouth, out)
        )
    if isinstance(duty, Winch):
        at = held_at or (mouth[0] + out * duty.behind_mm, mouth[1], mouth[2] + duty.above_mm)
        return (Pull(at, _off(f["turn"], f["rise"], f["times"] * duty.rated_N, out)),)
    if isinstance(duty, Recovery):
        at = held_at or (mouth[0] + out * duty.behind_mm, mouth[1], mouth[2] + duty.above_mm)
        return (Pull(at, _off(f["turn"], f["rise"], f["times"] * duty.stuck_kg * G, out)),)
    if isinstance(duty, Implement):
        return _implement(duty, row, f, host)
    if isinstance(duty, Ballast):
        force = (0.0, f["across"] * duty.kg * G, (f["up"] - f["static"]) * duty.kg * G)
        return (Pull(mouth if in_bore else (-duty.behind_mm, 0.0, 500.0), force),)
    if in_bore:
        at = held_at or mouth
        return (Pull(at, _off(f["turn"], f["rise"], f["times"] * duty.pull_N, out)),)
    return (
        Pull(
            (-host.face("left"), 0.0, duty.height_mm),
            _off(f["turn"], f["rise"], f["times"] * duty.pull_N, -1.0),
        ),
    )


def push_on(duty: OtherDuty, row: Row) -> Vec | None:
    """What a row does to every kilogram of the part itself, N/kg: what carries moves with what it carries.
    None for ropes, and for a push from the ground, which the part's own weight would only relieve.
    """
    f = {n: factor(duty, row, n) for n in NAMES}
    if isinstance(duty, Carrier):
        rough = 1.5 if duty.ground == "unpaved" else 1.0
        return (rough * f["along"] * G, rough * f["across"] * G, (rough * f["up"] - f["static"]) * G)
    if isinstance(duty, Implement):
        return None if row.id in ("push up", "lift off") else (0.0, 0.0, (f["up"] - f["static"]) * G)
    if isinstance(duty, Ballast):
        return (0.0, f["across"] * G, (f["up"] - f["static"]) * G)
    return None


def lower_pins(host: Host) -> Vec:
    """Middle of the lower hitch points, or a fair guess behind the last hole."""
    if isinstance(host, Tractor):
        return (-host.lower_behind_mm, 0.0, host.lower_height_mm)
    last = host.left[-1]
    return (-last.behind_mm - 200.0, 0.0, last.height_mm)


def past_centre(job: Job, fork: Socket) -> float:
    """How many times farther from a fork's heel what it carries has its middle than the stamp counts on: by
    so much less may it weigh, for the same moment at the heel.
    """
    carried = [(d.kg + d.payload_kg, d) for d in job.duties if isinstance(d, Implement)]
    whole = sum(kg for kg, _ in carried)
    if fork.heel is None or not fork.centre or not whole:
        return 1.0
    behind = sum(kg * d.behind_mm for kg, d in carried) / whole
    return (fork.heel[0] - (lower_pins(job.vehicle)[0] - behind)) / fork.centre


def push_up(host: Host, duty: Implement) -> float:
    """The upward force at the tip that takes all load off the rear axle: the tractor tips about its front
    axle, so N = rear weight × wheelbase / (wheelbase + rear axle to tip), N."""
    if not isinstance(host, Wheeled):
        return 0.0
    reach = -lower_pins(host)[0] + duty.tip_mm
    return host.rear_kg * G * host.wheelbase_mm / max(host.wheelbase_mm + reach, 1.0)


def _implement(duty: Implement, row: Row, f: Mapping[str, float], host: Host) -> tuple[Pull, ...]:
    pins = lower_pins(host)
    total = duty.kg + duty.payload_kg
    middle, tip = (pins[0] - duty.behind_mm, 0.0, pins[2]), (pins[0] - duty.tip_mm, 0.0, pins[2])
    weight = Pull(middle, (0.0, 0.0, -f["static"] * total * G))
    if row.id == "side":
        return (weight, Pull(tip, (0.0, f["across"] * total * G, 0.0)))
    if row.id == "push up":
        return (Pull(tip, (0.0, 0.0, f["times"] * push_up(host, duty))),)
    if row.id == "draft":
        return (
            weight,
            Pull((middle[0], 0.0, middle[2] - duty.depth_mm), (-f["times"] * duty.draft_N, 0.0, 0.0)),
        )
    return (Pull(middle, (0.0, 0.0, f["up"] * total * G)),)


ON_THE_HOOK = ("pick up", "lift off")
"""Rows of an implement that act on a coupler's upper hook alone: while it is picked up, against its latch."""


def rows_of(duty: OtherDuty, assembly: Assembly | None, rows: Policy | None = None) -> tuple[Row, ...]:
    """The rows of the policy that a duty has on what is built: some are only for a hook."""
    every = (policy() if rows is None else rows).get(duty.kind, ())
    taken = taken_by(duty, assembly)[:1] if assembly is not None else []
    hook = any(assembly and k in assembly.socket_by_key and is_top_hook(assembly, k) for k in taken)
    return every if hook else tuple(r for r in every if r.id not in ON_THE_HOOK)


def is_top_hook(assembly: Assembly, name: str) -> bool:
    """Is a load point the upper hook of a coupler?"""
    return name in assembly.socket_by_key and assembly.socket_by_key[name].kind == "top hook"


TAKES = {
    "carrier": ("deck", "cradle", "receiver"),
    "winch": ("winch", "receiver", "ring"),
    "recovery": ("ring", "receiver"),
    "implement": ("fork", "linkage", "top hook"),
    "ballast": ("weights",),
    "anchor": ("ring", "receiver"),
}
"""Kinds of socket that take a duty, the likeliest first."""


def taken_by(duty: OtherDuty, assembly: Assembly) -> list[str]:
    """The load points a duty acts on: the socket it names, else the open ones of the likeliest kind, else
    the bore (on the bar in it).
    """
    named = assembly.socket_by_key.get(duty.socket)
    if named is not None:
        return [named.key + MOUTH if named.kind == "receiver" else named.key]
    for kind in TAKES[duty.kind]:
        found = [
            s.key
            for s in assembly.sockets
            if s.kind == kind and (kind == "receiver" or s.key not in assembly.occupied)
        ]
        if found:
            return [found[0] + MOUTH] if kind == "receiver" else found
    return []


def mouth_of(job: Job, assembly: Assembly | None, duty: OtherDuty | None = None) -> Vec:
    """Where a duty is measured from: the receiver's mouth, else the middle of the sockets that take it; on a
    bare survey the rear face at the holes' height."""
    if assembly is not None and assembly.parts:
        taken = taken_by(duty, assembly) if duty is not None else []
        if (
            not duty or not taken or taken[0].endswith(MOUTH) or "mouth" in assembly.places
        ) and "mouth" in assembly.places:
            return assembly.places["mouth"]
        if taken:
            points = load_points(assembly)
            at = [points[n].at for n in taken]
            return tuple(sum(p[k] for p in at) / len(at) for k in range(3))  # type: ignore[return-value]
    host = job.vehicle
    back = (
        host.rear_overhang_mm
        if isinstance(host, Wheeled)
        else host.face("left")
        if isinstance(host, Post)
        else host.left[-1].behind_mm
    )
    return (-back, 0.0, max(host.left[0].height_mm - 150.0, 100.0))


def _tail(name: str, among: list[str]) -> str:
    """What tells a socket from the others a duty goes to: its last word, with its piece where that is not
    enough.
    """
    tails = [n.split("/", 1)[-1].rsplit(".", 1)[-1] for n in among]
    mine = tails[among.index(name)]
    return mine if tails.count(mine) == 1 else f"{mine} of piece {name.split('/', 1)[0]}"


def on_top_hook(name: str, hook: Vec, pins: Vec, pulls: tuple[tuple[Vec, Vec], ...]) -> dict[str, Six]:
    """What the upper hook of a coupler holds of an implement on three points: the moment of everything about
    the lower pins over the hook's height above them, along the vehicle.  The pins hold the rest.
    """
    turn = sum((at[2] - pins[2]) * f[0] - (at[0] - pins[0]) * f[2] for at, f in pulls)
    return {name: (turn / max(hook[2] - pins[2], 1.0), 0.0, 0.0, 0.0, 0.0, 0.0)}


def _leaves(assembly: Assembly, name: str, end: float) -> Vec:
    """Where a rope leaves what holds it: a ring's middle, a drum somewhere along it."""
    socket = assembly.socket_by_key[name]
    return socket.place.point((0.0, end * socket.reach, 0.0))


HOLDS_A_ROPE = ("ring", "winch")
"""Kinds of socket a rope pulls on at the place itself."""


def _held_at(duty: OtherDuty, assembly: Assembly | None) -> Vec | None:
    """Where a rope is held: the first ring or drum the duty goes to; None when it goes into a bore."""
    first = taken_by(duty, assembly)[:1] if assembly is not None else []
    socket = assembly.socket_by_key.get(first[0]) if assembly is not None and first else None
    return socket.place.o if socket is not None and socket.kind in HOLDS_A_ROPE else None


def duty_cases(
    job: Job, assembly: Assembly | None = None, rows: Policy | None = None
) -> tuple[DutyCase, ...]:
    """Every case of every other duty, by the policy or by ``rows`` of one's own."""
    out = []
    for n, asked in enumerate(job.duties, 1):
        duty = as_hung(asked, assembly)
        mouth = mouth_of(job, assembly, duty)
        held_at = _held_at(duty, assembly)
        named = called(duty, n)
        for row in rows_of(duty, assembly, rows):
            changed = any(k.startswith(f"{row.id}/") for k in duty.factors)
            out.append(
                DutyCase(
                    f"{named}: {row.id}",
                    f"{named}, {_entitled(duty, row)}",
                    _pulls(
                        duty,
                        row,
                        job.vehicle,
                        mouth,
                        outward(assembly),
                        assembly is not None and bool(assembly.parts),
                        held_at,
                    ),
                    row.reason,
                    row.source,
                    changed,
                    n - 1,
                    push_on(duty, row),
                    factor(duty, row, "end"),
                )
            )
    seen: dict[str, int] = {}
    unique = []
    for c in out:  # two duties of one name keep their cases apart
        seen[c.id] = seen.get(c.id, 0) + 1
        unique.append(
            c
            if seen[c.id] == 1
            else replace(c, id=f"{c.id} ({seen[c.id]})", title=f"{c.title} ({seen[c.id]})")
        )
    return tuple(unique)


def origin(job: Job, case_id: str, assembly: Assembly | None = None) -> tuple[int, Row] | None:
    """Which duty (its number) and which row of its policy a case comes from; None for a towing case."""
    rows = [(n, row) for n, duty in enumerate(job.duties) for row in rows_of(duty, assembly)]
    return next(
        (
            where
            for where, case in zip(rows, duty_cases(job, assembly), strict=True)
            if case.id == case_id or case_id.startswith(f"{case.id}, ")
        ),
        None,
    )


def cases_on(job: Job, assembly: Assembly, rows: Policy | None = None) -> tuple[Case, ...]:
    """Every case of the other duties whose socket the assembly has, as force and moment at the places that
    take it.

    Several sockets that take one duty share it as a rigid load does, by lever; what touches the ground
    touches it with one of them, and a rope is hooked to one ring at a time."""
    points = load_points(assembly)
    out = []
    for c in duty_cases(job, assembly, rows):
        duty = job.duties[c.duty]
        names = taken_by(duty, assembly)
        if not names:
            continue
        rope = names[0] in assembly.socket_by_key and assembly.socket_by_key[names[0]].kind in HOLDS_A_ROPE
        one_by_one = len(names) > 1 and (
            rope or (duty.kind == "implement" and c.id.split(": ")[-1].startswith("push up"))
        )
        for name in names if one_by_one else [""]:
            on = [name] if one_by_one else names
            word = f", {_tail(name, names)}" if one_by_one else ""
            pulls = tuple((_leaves(assembly, on[0], c.end) if rope else p.at, p.force) for p in c.pulls)
            field = Field(c.push) if c.push else None
            if is_top_hook(assembly, names[0]):
                hook = points[names[0]].at
                if c.id.split(": ")[-1] in ON_THE_HOOK:
                    pulls = tuple((hook, force) for _, force in pulls)
                    loads: dict[str, Six] = {names[0]: (*pulls[0][1], 0.0, 0.0, 0.0)}
                else:
                    loads = on_top_hook(names[0], hook, lower_pins(job.vehicle), pulls)
                out.append(Case(c.id, c.title, loads, c.reason, c.source, 1.0, c.changed, pulls, field))
                continue

            def made(
                pulls: Pulls, field: Field | None, on: list[str] = on, c: DutyCase = c, word: str = word
            ) -> Case:
                loads = _stood(duty, on, pulls, points, assembly) or leant(
                    shared({n: points[n].at for n in on}, pulls), points, assembly
                )
                loads = tied(loads, points, assembly)
                loads, pulls = through_fairlead(loads, pulls, points, assembly)
                return Case(
                    c.id + word, c.title + word, loads, c.reason, c.source, 1.0, c.changed, pulls, field
                )

            straight = tuple((at, (f[0], 0.0, f[2])) for at, f in pulls)
            upright = field.leaning(0.0) if field else None
            leaning = made(pulls, field)
            case = on_wheels(assembly, points, leaning, made(straight, upright))
            if case is not None:
                out.append(case)
    if out and rows is None:
        out += tightened(assembly)
        out += [c for n, duty in enumerate(job.duties, 1) for c in _rolled(job, assembly, points, duty, n)]
    return tuple(out)


def _stood(
    duty: OtherDuty, on: Sequence[str], pulls: Pulls, points: Mapping[str, LoadPoint], assembly: Assembly
) -> dict[str, Six]:
    """What is carried on a deck where each thing stands on it; nothing where there is no deck."""
    if not isinstance(duty, Carrier) or decks.grid(assembly, on) is None:
        return {}
    each = (
        decks.loads_of(assembly, points, on, item, at, force)
        for item, (at, force) in zip(duty.items, pulls, strict=True)
    )
    return decks.summed([loads for loads in each if loads])


def _entitled(duty: OtherDuty, row: Row) -> str:
    """A row's title, with the angle that is really asked where somebody has changed it."""
    for name in ("turn", "rise"):
        if f"{row.id}/{name}" in duty.factors and row.factors.get(name):
            return re.sub(r"[\d.]+°", f"{abs(factor(duty, row, name)):g}°", row.title)
    return row.title


def called(duty: OtherDuty, n: int) -> str:
    """A duty's name in its cases: its title, or its kind and number."""
    return duty.title if duty.title != "duty" else f"{duty.kind} {n}"


def _rolled(
    job: Job, assembly: Assembly, points: Mapping[str, LoadPoint], duty: OtherDuty, n: int
) -> list[Case]:
    """What has wheels as it rolls on to the deck, where the trailer then stands on its own wheels."""
    if not isinstance(duty, Carrier):
        return []
    at = [p for _, p in mass_places(duty, mouth_of(job, assembly, duty), outward(assembly))]
    found = decks.rolled(assembly, points, taken_by(duty, assembly), duty, called(duty, n), at)
    stood = (on_wheels(assembly, points, c, c) for c in found)
    return [c for c in stood if c is not None]


def tightened(assembly: Assembly) -> list[Case]:
    """The anchor as its straps are drawn up, before anything pulls on it."""
    drawn = [j.how.tension for j in assembly.joints if isinstance(j.how, StrapRound) and j.how.tension]
    if not drawn:
        return []
    reason = "Drawing the straps tight presses on everything they pull together, and stays in every case."
    return [Case("tightened", "straps drawn up, no load", {}, reason, "the tension stated for the ratchet")]


Pulls = tuple[tuple[Vec, Vec], ...]


def shared(at: Mapping[str, Vec], pulls: tuple[tuple[Vec, Vec], ...]) -> dict[str, Six]:
    """Pulls on a rigid thing that rests on one or several places: what each place takes, force (N) and
    moment (N·mm) about it.

    Where the places lie apart (along x or y), each takes 1/n and its part of the couple by lever; across
    that direction the pull's own line counts."""
    middle = [sum(p[k] for p in at.values()) / len(at) for k in range(3)]
    spread = [sum((p[k] - middle[k]) ** 2 for p in at.values()) for k in range(3)]
    apart = [spread[k] > 1.0 and k < 2 for k in range(3)]
    out = {}
    for name, here in at.items():
        six = [0.0] * 6
        for place, force in pulls:
            part = 1 / len(at) + sum(
                (place[k] - middle[k]) * (here[k] - middle[k]) / spread[k] for k in range(2) if apart[k]
            )
            x, y, z = (part * f for f in force)
            rx, ry, rz = ((0.0 if apart[k] else place[k] - here[k]) for k in range(3))
            for k, v in enumerate((x, y, z, ry * z - rz * y, rz * x - rx * z, rx * y - ry * x)):
                six[k] += v
        out[name] = (six[0], six[1], six[2], six[3], six[4], six[5])
    return out


def through_fairlead(
    loads: dict[str, Six],
    pulls: tuple[tuple[Vec, Vec], ...],
    points: Mapping[str, LoadPoint],
    assembly: Assembly,
) -> tuple[dict[str, Six], tuple[tuple[Vec, Vec], ...]]:
    """A rope that bends over a fairlead: the drum holds its whole pull straight to the fairlead, which takes
    the difference.  Nothing changes where there is none.
    """
    for name in list(loads):
        drum = assembly.socket_by_key.get(name)
        lead = next(
            (
                s
                for s in assembly.sockets
                if drum is not None
                and drum.kind == "winch"
                and s.kind == "fairlead"
                and s.key.split("/")[0] == name.split("/")[0]
            ),
            None,
        )
        if lead is None:
            continue
        force = loads[name][:3]
        size, leaves = norm(force), pulls[0][0]
        way = minus(lead.place.o, leaves)
        straight = times(way, size / norm(way))
        rest = minus(force, straight)
        out = dict(loads)
        out[name] = (*straight, *cross(minus(leaves, points[name].at), straight))
        out[lead.key] = (*rest, 0.0, 0.0, 0.0)
        return out, ((lead.place.o, force),)
    return loads, pulls


LEANS = ("cradle", "weights")
"""Kinds of socket beside which a stop holds what would slide."""


def leant(loads: dict[str, Six], points: Mapping[str, LoadPoint], assembly: Assembly) -> dict[str, Six]:
    """What lies in a cradle, or weights on their bar, push sideways against the stop on that side: the
    force goes there, its couple stays in balance.
    """
    out = dict(loads)
    for name, (fx, fy, fz, mx, my, mz) in loads.items():
        stops = [
            s
            for s in assembly.sockets
            if s.kind == "stop"
            and s.key.split("/")[0] == name.split("/")[0]
            and assembly.socket_by_key[name].kind in LEANS
        ]
        stop = next((s for s in stops if s.place.z[1] * fy < 0), None)
        if stop is not None:
            rx, _, rz = (a - b for a, b in zip(stop.place.o, points[name].at, strict=True))
            out[name] = (fx, 0.0, fz, mx + rz * fy, my, mz - rx * fy)
            held = out.get(stop.key, (0.0,) * 6)[1]
            out[stop.key] = (0.0, held + fy, 0.0, 0.0, 0.0, 0.0)
    return out


def tied(loads: dict[str, Six], points: Mapping[str, LoadPoint], assembly: Assembly) -> dict[str, Six]:
    """What would lift out of a cradle hangs on the strap over it: its two ends hold it up by lever.

    What the strap pulls sideways at one end it pulls at the other, and is left to the load it goes round.
    """
    out = dict(loads)
    for name, (fx, fy, fz, mx, my, mz) in loads.items():
        socket = assembly.socket_by_key.get(name)
        if fz <= 0 or socket is None or socket.kind != "cradle":
            continue
        piece = name.split("/")[0]
        ties = [s for s in assembly.sockets if s.kind == "tie" and s.key.split("/")[0] == piece]
        if len(ties) != 2:
            continue
        y, (y1, y2) = points[name].at[1], (t.place.o[1] for t in ties)
        part = min(max((y - y2) / (y1 - y2) + mx / (fz * (y1 - y2)), 0.0), 1.0)
        for tie, share in zip(ties, (part, 1 - part), strict=True):
            here = tie.place.o
            out[tie.key] = (0.0, 0.0, share * fz, 0.0, 0.0, 0.0)
            mx, my = mx - (here[1] - y) * share * fz, my + (here[0] - points[name].at[0]) * share * fz
        out[name] = (fx, fy, 0.0, mx, my, mz)
    return out


def links_of(duty: Anchor) -> list[tuple[str, float, float]]:
    """Name, load and working limit (N) of every link of an anchor; the legs share by their angle."""
    from urial.road.winch import leg_pull

    leg = leg_pull(duty.pull_N, duty.angle_deg, int(duty.legs))
    return [
        (
            link.name,
            leg if link.legs else duty.pull_N,
            link.limit_N / (duty.design_factor if link.marked == "break" else 1.0),
        )
        for link in duty.links
    ]
