"""The duties beside towing as load cases: each a force at a place, from the policy, with a reason and a source."""

from __future__ import annotations

import math
import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from urial.assembly.model import Assembly
from urial.geometry.place import Vec
from urial.job.duty import Anchor, Ballast, Carrier, Implement, OtherDuty, Recovery, Winch
from urial.job.host import Host, Post, Tractor, Wheeled
from urial.job.model import Job
from urial.loads.case import MOUTH, Case, load_points
from urial.loads.towing import PolicyError
from urial.units import STANDARD_GRAVITY as G

NAMES = ("along", "across", "up", "static", "times", "turn", "rise")


@dataclass(frozen=True)
class Row:
    """One row of a duty's policy."""

    id: str
    title: str
    factors: Mapping[str, float]
    reason: str
    source: str


@cache
def policy() -> dict[str, tuple[Row, ...]]:
    """The policy's rows by kind of duty."""
    raw = tomllib.loads((files("urial.loads") / "data" / "duties.toml").read_text(encoding="utf-8"))
    out = {}
    for kind, rows in raw.items():
        try:
            out[kind] = tuple(Row(r["id"], r["title"], {k: float(r[k]) for k in NAMES if k in r}, r["reason"], r["source"]) for r in rows)
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
    """One case of a duty: its pulls, and whether they come through a bar in the receiver."""

    id: str
    title: str
    pulls: tuple[Pull, ...]
    reason: str
    source: str
    changed: bool
    in_receiver: bool


def _off(turn_deg: float, rise_deg: float, size: float) -> Vec:
    """A pull straight rearward, turned left and up."""
    t, r = math.radians(turn_deg), math.radians(rise_deg)
    return (-size * math.cos(r) * math.cos(t), size * math.cos(r) * math.sin(t), size * math.sin(r))


def mass_places(duty: OtherDuty, mouth: Vec) -> list[tuple[float, Vec]]:
    """What a duty hangs on the host: kg and place.  Empty for pulls."""
    if isinstance(duty, Carrier):
        return [(i.kg, (mouth[0] - (i.in_behind_mm if duty.folded else i.behind_mm), mouth[1] + i.across_mm, mouth[2] + (i.in_above_mm if duty.folded else i.above_mm))) for i in duty.items]
    return []


def carried(job: Job, mouth: Vec) -> list[tuple[str, Vec, Vec]]:
    """Every item on a carrier as a box: name, low and high corner in the host's axes, mm."""
    out = []
    for duty in job.duties:
        if isinstance(duty, Carrier):
            for item, (_, at) in zip(duty.items, mass_places(duty, mouth), strict=True):
                half = (item.long_mm / 2, item.wide_mm / 2, item.high_mm / 2)
                low, high = ((at[0] + s * half[0], at[1] + s * half[1], at[2] + s * half[2]) for s in (-1, 1))
                out.append((item.name, low, high))
    return out


def _pulls(duty: OtherDuty, row: Row, host: Host, mouth: Vec) -> tuple[Pull, ...]:
    f = {n: factor(duty, row, n) for n in NAMES}
    if isinstance(duty, Carrier):
        rough = 1.5 if duty.ground == "unpaved" else 1.0
        return tuple(Pull(at, (rough * f["along"] * kg * G, rough * f["across"] * kg * G, (rough * f["up"] - f["static"]) * kg * G)) for kg, at in mass_places(duty, mouth))
    if isinstance(duty, Winch):
        at = (mouth[0] - duty.behind_mm, mouth[1], mouth[2] + duty.above_mm)
        return (Pull(at, _off(f["turn"], f["rise"], f["times"] * duty.rated_N)),)
    if isinstance(duty, Recovery):
        at = (mouth[0] - duty.behind_mm, mouth[1], mouth[2] + duty.above_mm)
        return (Pull(at, _off(f["turn"], f["rise"], f["times"] * duty.stuck_kg * G)),)
    if isinstance(duty, Implement):
        return _implement(duty, row, f, host)
    if isinstance(duty, Ballast):
        return (Pull((-duty.behind_mm, 0.0, 500.0), (0.0, 0.0, f["up"] * duty.kg * G)),)
    return (Pull((-host.face("left"), 0.0, duty.height_mm), (-f["times"] * duty.pull_N, 0.0, 0.0)),)


def lower_pins(host: Host) -> Vec:
    """Middle of the lower hitch points, or a fair guess behind the last hole."""
    if isinstance(host, Tractor):
        return (-host.lower_behind_mm, 0.0, host.lower_height_mm)
    last = host.left[-1]
    return (-last.behind_mm - 200.0, 0.0, last.height_mm)


def push_up(host: Host, duty: Implement) -> float:
    """The upward force at the tip that takes all load off the rear axle: the tractor tips about its front axle, so
    N = rear weight × wheelbase / (wheelbase + rear axle to tip), N."""
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
        return (weight, Pull((middle[0], 0.0, middle[2] - duty.depth_mm), (-f["times"] * duty.draft_N, 0.0, 0.0)))
    return (Pull(middle, (0.0, 0.0, f["up"] * total * G)),)


def mouth_of(job: Job, assembly: Assembly | None) -> Vec:
    """Where the receiver's mouth is: the part's, or on a bare survey the rear face at the holes' height."""
    if assembly is not None and "mouth" in assembly.places:
        return assembly.places["mouth"]
    host = job.vehicle
    back = host.rear_overhang_mm if isinstance(host, Wheeled) else host.face("left") if isinstance(host, Post) else host.left[-1].behind_mm
    return (-back, 0.0, max(host.left[0].height_mm - 150.0, 100.0))


def duty_cases(job: Job, assembly: Assembly | None = None) -> tuple[DutyCase, ...]:
    """Every case of every other duty."""
    mouth = mouth_of(job, assembly)
    out = []
    for n, duty in enumerate(job.duties, 1):
        named = duty.title if duty.title != "duty" else f"{duty.kind} {n}"
        for row in policy()[duty.kind]:
            changed = any(k.startswith(f"{row.id}/") for k in duty.factors)
            out.append(DutyCase(f"{named}: {row.id}", f"{named}, {row.title}", _pulls(duty, row, job.vehicle, mouth), row.reason, row.source, changed,
                                isinstance(duty, (Carrier, Winch, Recovery))))  # fmt: skip
    seen: dict[str, int] = {}
    unique = []
    for c in out:  # two duties of one name keep their cases apart
        seen[c.id] = seen.get(c.id, 0) + 1
        unique.append(c if seen[c.id] == 1 else DutyCase(f"{c.id} ({seen[c.id]})", f"{c.title} ({seen[c.id]})", c.pulls, c.reason, c.source, c.changed, c.in_receiver))
    return tuple(unique)


def origin(job: Job, case_id: str, assembly: Assembly | None = None) -> tuple[int, Row] | None:
    """Which duty (its number) and which row of its policy a case comes from; None for a towing case."""
    rows = [(n, row) for n, duty in enumerate(job.duties) for row in policy()[duty.kind]]
    return next((where for where, case in zip(rows, duty_cases(job, assembly), strict=True) if case.id == case_id), None)


def cases_on(job: Job, assembly: Assembly) -> tuple[Case, ...]:
    """The cases that come through a bar in the receiver, carried to its mouth as force and moment."""
    bores = [s.key + MOUTH for s in assembly.sockets if s.kind == "receiver"]
    if not bores:
        return ()
    node = load_points(assembly)[bores[0]].at
    out = []
    for c in duty_cases(job, assembly):
        if not c.in_receiver:
            continue
        fx = fy = fz = mx = my = mz = 0.0
        for p in c.pulls:
            rx, ry, rz = (a - b for a, b in zip(p.at, node, strict=True))
            x, y, z = p.force
            fx, fy, fz = fx + x, fy + y, fz + z
            mx, my, mz = mx + ry * z - rz * y, my + rz * x - rx * z, mz + rx * y - ry * x
        out.append(Case(c.id, c.title, {bores[0]: (fx, fy, fz, mx, my, mz)}, c.reason, c.source, 1.0, c.changed, tuple((p.at, p.force) for p in c.pulls)))
    return tuple(out)


def links_of(duty: Anchor) -> list[tuple[str, float, float]]:
    """Name, load and working limit (N) of every link of an anchor; the legs share by their angle."""
    from urial.road.winch import leg_pull

    leg = leg_pull(duty.pull_N, duty.angle_deg, int(duty.legs))
    return [(link.name, leg if link.legs else duty.pull_N, link.limit_N / (duty.design_factor if link.marked == "break" else 1.0)) for link in duty.links]
