"""Ball towing: coupling values and the load cases of the policy, as forces on the ball and the chain holes
(N).
"""

from __future__ import annotations

import math
import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

from urial.assembly.model import Assembly, BuildError, Unasked
from urial.job.host import Quad, Trailer, TwoWheeler, Vehicle
from urial.job.model import Job
from urial.loads.case import Case, Six, sockets_of
from urial.mates.coupling import COUPLINGS, TRAILERS
from urial.road import balance
from urial.units import STANDARD_GRAVITY

JERKED = ("along", "angled")  # along the trailer: a clevis or pintle with play makes these larger
PLAY = {"ball": 1.0, "clevis": 1.25, "pintle": 1.25}
"""House rule for the jerk of a coupling with play; no published value is known."""
FACTORS = ("along", "across", "angled", "static", "bounce", "pitch", "chain")


class PolicyError(ValueError):
    """The policy file is wrong; the message names the row."""


@dataclass(frozen=True)
class Row:
    """One row of the policy."""

    id: str
    title: str
    factors: Mapping[str, float]
    spread_deg: float
    judged: str
    reason: str
    source: str


@dataclass(frozen=True)
class Coupling:
    """UN R55 values of this vehicle and trailer: D, Dc, V in kN; static tongue force S in kN; ``pitch``,
    what braking with D adds on the ball, kN; ``words`` say which masses they are of."""

    D: float
    Dc: float
    V: float
    S: float
    pitch: float = 0.0
    words: str = ""


@cache
def policy() -> tuple[Row, ...]:
    """The rows of the towing policy."""
    raw = tomllib.loads((files("urial.loads") / "data" / "towing.toml").read_text(encoding="utf-8"))
    rows = []
    for entry in raw["case"]:
        try:
            rows.append(
                Row(
                    entry["id"],
                    entry["title"],
                    {k: float(entry[k]) for k in FACTORS if k in entry},
                    float(entry.get("spread_deg", 0.0)),
                    entry.get("judged", "service"),
                    entry["reason"],
                    entry["source"],
                )
            )
        except KeyError as missing:
            raise PolicyError(
                f"Row {entry.get('id', '?')} of the towing policy has no {missing}; add it."
            ) from None
    return tuple(rows)


def towing_mass(job: Job) -> tuple[float, str]:
    """What tows, kg, and in words which mass that is.  BuildError for a host that does not tow, and for a
    trailer of which nobody said what tows it.
    """
    d, v = job.duty, job.vehicle
    if isinstance(v, Trailer):
        if d.towing_kg is None:
            raise BuildError(
                "What tows this trailer is not known; write the vehicle's permissible mass at Load, More of "
                "the trailer."
            )
        return d.towing_kg, "as said"
    if not isinstance(v, (Vehicle, Quad, TwoWheeler)):
        raise BuildError(
            f"A {v.words} does not tow by these load cases; say at Load that it tows no "
            "trailer, or choose a vehicle that does."
        )
    weighed = v.front_kg + v.rear_kg + d.tongue_mass_kg
    if v.gross_rating_kg >= weighed:
        return v.gross_rating_kg, "its gross rating"
    return weighed, "what it weighs, which is over its gross rating"


def coupling(job: Job) -> Coupling:
    """D, Dc, V and S of the job, kN."""
    d = job.duty
    kg, of = towing_mass(job)
    towing = kg / 1000
    trailer = max(d.permissible_kg or 0.0, d.trailer_mass_kg) / 1000
    axle = max(trailer - d.tongue_mass_kg / 1000, 1e-6)
    push = balance.d_value(towing, trailer)
    # the inertia acts at the trailer's middle, the ball holds it lower down: the couple is held by ball and
    # axle
    pitch = push * max(d.middle_height_mm - d.coupler_height_mm, 0.0) / d.axle_behind_mm
    who = (
        "its permissible mass"
        if d.permissible_kg and d.permissible_kg >= d.trailer_mass_kg
        else "its loaded mass"
    )
    words = f"vehicle {1000 * towing:.5g} kg ({of}), trailer {1000 * trailer:.5g} kg ({who})"
    return Coupling(
        push,
        balance.d_value(towing, axle),
        balance.v_value(axle, d.bed_length_mm, d.axle_behind_mm, d.air_suspension),
        d.tongue_mass_kg / 1000 * STANDARD_GRAVITY,
        pitch,
        words,
    )


def factor(job: Job, row: Row, name: str) -> float:
    """A factor of the policy, or the job's own."""
    return float(job.duty.factors.get(f"{row.id}/{name}", row.factors.get(name, 0.0)))


def cases(job: Job, assembly: Assembly) -> tuple[Case, ...]:
    """Every towing case of the job on this assembly; none when it tows nothing."""
    if not job.duty.towed:
        return ()
    kind, couplings = coupled_at(assembly)
    if not couplings:
        raise Unasked(
            "There is nothing to tow with: put a ball mount, a clevis tongue or a pintle into the "
            "receiver, or say at Load that it tows no trailer."
        )
    c = coupling(job)
    play = max(PLAY[job.duty.hitch], PLAY[COUPLINGS[kind]])  # what is there has its play, whatever is said
    out: list[Case] = []
    for row in policy():
        changed = any(key.startswith(f"{row.id}/") for key in job.duty.factors)
        service = row.judged == "service" or ("chain" in row.factors and job.duty.chains_judged == "service")
        weight = 1.0 if service else 1 / 1.67
        if "chain" in row.factors:
            out += _chains(job, assembly, row, (factor(job, row, "chain") * _way(kind), weight), changed)
            continue
        swing = math.radians(job.duty.articulation_deg)
        angled = factor(job, row, "angled")
        # a trailer swung to the left pushes forward and to the right
        angled *= play
        fx = play * factor(job, row, "along") * c.D + abs(angled) * c.D * math.cos(swing)
        fy = factor(job, row, "across") * c.D - angled * c.D * math.sin(swing)
        fz = (
            -factor(job, row, "static") * c.S
            - factor(job, row, "bounce") * c.V
            - play * factor(job, row, "pitch") * c.pitch
        )
        loads = on_couplings(assembly, (fx, fy, fz))
        out.append(Case(row.id, row.title, loads, row.reason, row.source, weight, changed))
    return tuple(out)


def on_couplings(assembly: Assembly, force: tuple[float, float, float]) -> dict[str, Six]:
    """A force on the coupling, kN, as N on each place that is coupled."""
    kind, couplings = coupled_at(assembly)
    share = _way(kind) * 1000 / max(len(couplings), 1)
    load: Six = (share * force[0], share * force[1], share * force[2], 0.0, 0.0, 0.0)
    return dict.fromkeys(couplings, load)


def _way(kind: str) -> float:
    """1 on the vehicle's half of a coupling; −1 on the trailer's, which is pulled the other way."""
    return -1.0 if kind in TRAILERS else 1.0


def coupled_at(assembly: Assembly) -> tuple[str, list[str]]:
    """The kind and the sockets a trailer is coupled to: one, or the layers of one hook, which share alike."""
    for kind in COUPLINGS:
        found = sockets_of(assembly, kind)
        if found:
            piece = found[0].split("/", 1)[0]
            return kind, found[:1] if kind != "hook" else [k for k in found if k.split("/", 1)[0] == piece]
    return "ball", []


def _chains(job: Job, assembly: Assembly, row: Row, judged: tuple[float, float], changed: bool) -> list[Case]:
    """Each chain alone holds the trailer, straying sideways or up and down."""
    times, weight = judged
    pull, stray = (
        times * max(job.duty.permissible_kg or 0.0, job.duty.trailer_mass_kg) * STANDARD_GRAVITY,
        math.radians(row.spread_deg),
    )
    out = []
    for node in sockets_of(assembly, "chain eye"):
        side, sign = ("left", 1) if node.endswith(".left") else ("right", -1)
        for word, y, z in (("outward", sign, 0), ("inward", -sign, 0), ("up", 0, 1), ("down", 0, -1)):
            load: Six = (
                -pull * math.cos(stray),
                y * pull * math.sin(stray),
                z * pull * math.sin(stray),
                0.0,
                0.0,
                0.0,
            )
            out.append(
                Case(
                    f"{side} chain {word}",
                    f"{side} chain alone, {word}",
                    {node: load},
                    row.reason,
                    row.source,
                    weight,
                    changed,
                )
            )
    return out


@dataclass(frozen=True)
class TongueAdvice:
    """Where the tongue weight stands in the chosen school: percent, band, and what to do if it is outside."""

    percent: float
    low: float
    high: float
    words: str
    warn: bool


def tongue_advice(job: Job) -> TongueAdvice:
    """Judge the tongue weight by the school chosen; below 4 % always says what happens."""
    d = job.duty
    percent = 100 * d.tongue_mass_kg / d.trailer_mass_kg
    low, high = (10.0, 15.0) if d.school == "10-15" else (4.0, 8.0)
    if percent < 4:
        return TongueAdvice(
            percent,
            low,
            high,
            f"{percent:.1f} % on the ball: below 4 % the trailer wanders and can start to sway by "
            "itself. Move cargo forward.",
            True,
        )
    if percent < low:
        return TongueAdvice(
            percent,
            low,
            high,
            f"{percent:.1f} % is under this school's {low:.0f} %. Move "
            f"{(low - percent) / 100 * d.trailer_mass_kg:.0f} kg worth of tongue weight forward, or "
            "choose the other school.",
            True,
        )
    if percent > high:
        return TongueAdvice(
            percent,
            low,
            high,
            f"{percent:.1f} % is over this school's {high:.0f} %. It unloads the steering axle; move "
            "cargo back.",
            True,
        )
    return TongueAdvice(
        percent, low, high, f"{percent:.1f} % is inside this school's {low:.0f}–{high:.0f} %.", False
    )
