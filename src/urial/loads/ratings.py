"""Limits set by somebody else: what the host's maker and the ball's stamp allow against what all duties
together ask, in kg.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import singledispatch

from urial.assembly import bodies
from urial.assembly.model import Assembly, Socket
from urial.geometry.place import Vec
from urial.job.duty import Carrier, Implement
from urial.job.host import Host, Tractor, Trailer, TwoWheeler, Wheeled
from urial.job.model import Job
from urial.job.origin import is_assumed
from urial.loads.standing import stance
from urial.road import balance
from urial.road.linkage import Linkage

PLATE = "the maker's plate or handbook"
ASSUMED = "assumed: a starting value, which nobody has read off the maker's plate yet"
SHELF = "planning value for its size: read the stamp"


@dataclass(frozen=True)
class Rating:
    """A limit set by somebody else: what is asked of it, what it allows, in kg."""

    id: str
    name: str
    link: str
    demand: float
    limit: float
    path: str
    source: str


def of_maker(job: Job, id: str, name: str, demand: float, limit: float, path: str) -> Rating:
    """A limit of the maker's; while nobody has typed it, it says that it is assumed."""
    guessed = is_assumed(job, path)
    return Rating(
        id,
        f"{name} (assumed)" if guessed else name,
        "vehicle",
        demand,
        limit,
        path,
        ASSUMED if guessed else PLATE,
    )


@dataclass(frozen=True)
class Asked:
    """What the duties put on the host: the ball's place behind the rear axle (mm), its own rating (kg,
    parameter's path), what is carried (kg, mm behind the rear axle), and how a trailer built here stands."""

    ball_behind: float = 0.0
    ball: tuple[float, str] | None = None
    hung: Sequence[tuple[float, float]] = ()
    standing: OnWheels | None = None


@singledispatch
def ratings(host: Host, job: Job, asked: Asked) -> tuple[tuple[Rating, ...], tuple[str, ...]]:
    """Limits of a host, and what its maker gives no figure for.  Nothing for what has no maker (a post)."""
    return (), ()


@ratings.register
def _(host: Wheeled, job: Job, asked: Asked) -> tuple[tuple[Rating, ...], tuple[str, ...]]:
    """Axles, gross mass, tongue, tow and combination limits, and the ball's stamp."""
    d = job.duty
    tongue = d.tongue_mass_kg if d.towed else 0.0
    moment = tongue * asked.ball_behind + sum(kg * x for kg, x in asked.hung)
    total = tongue + sum(kg for kg, _ in asked.hung)
    axles = balance.axle_loads(
        host.wheelbase_mm, moment / total if total else 0.0, host.front_kg, host.rear_kg, total
    )
    gross = host.front_kg + host.rear_kg + total
    out: list[Rating] = []
    silent: list[str] = []

    def limit(id: str, name: str, demand: float, field: str) -> None:
        """The maker's limit in a field; said to be none where the field is empty, nothing where the kind
        has none.
        """
        if not hasattr(host, field):
            return
        value = getattr(host, field)
        if value is None:
            silent.append(f"{name}: none given by the maker")
        else:
            out.append(of_maker(job, id, name, demand, value, f"vehicle.{field}"))

    if d.towed and asked.ball:
        out.append(
            Rating(
                "ball rating",
                "ball, stamped rating",
                "ball",
                d.trailer_mass_kg,
                asked.ball[0],
                asked.ball[1],
                SHELF,
            )
        )
    if d.towed:
        limit("towing limit", "towing limit", d.trailer_mass_kg, "tow_rating_kg")
    limit(
        "tongue limit", "tongue limit", tongue + sum(kg for kg, x in asked.hung if x > 0), "tongue_rating_kg"
    )
    limit("rear axle", "rear axle", max(axles.rear_kg, 0.0), "rear_rating_kg")
    limit("front axle", "front axle", max(axles.front_kg, 0.0), "front_rating_kg")
    if total:
        share, of, words = (
            (0.25, host.standing(), "a quarter of the machine's mass left on the front wheel")
            if isinstance(host, TwoWheeler)
            else (0.75, host.front_kg, "three quarters of its own load left on the front axle")
        )
        out.append(
            Rating(
                "steering",
                words,
                "vehicle",
                share * of,
                max(axles.front_kg, 1e-3),
                "vehicle.front_kg",
                "house rule: less and it steers and brakes badly; makers give no figure",
            )
        )
    if d.towed and isinstance(host, TwoWheeler):
        out.append(
            Rating(
                "trailer against machine",
                "trailer against half of the machine's mass",
                "vehicle",
                d.trailer_mass_kg,
                host.standing() / 2,
                "duty.trailer_mass_kg",
                "house rule, as several countries' road law has it: read your own",
            )
        )
    limit("gross vehicle", "gross vehicle mass", gross, "gross_rating_kg")
    if d.towed:
        limit("combination", "gross combination", gross + d.trailer_mass_kg - tongue, "combination_rating_kg")
    return tuple(out), tuple(silent)


@ratings.register
def _(host: Tractor, job: Job, asked: Asked) -> tuple[tuple[Rating, ...], tuple[str, ...]]:
    """Lift capacity at the lower hitch points, axles, and a fifth of the unladen mass left on the front
    axle.
    """
    lifted = [
        (d.kg + d.payload_kg, host.lower_behind_mm + d.behind_mm)
        for d in job.duties
        if isinstance(d, Implement)
    ]
    hung = [*lifted, *asked.hung]
    total, on_links = sum(kg for kg, _ in hung), sum(kg for kg, _ in lifted)
    if not total:
        return (), ()
    axles = balance.axle_loads(
        host.wheelbase_mm, sum(kg * x for kg, x in hung) / total, host.front_kg, host.rear_kg, total
    )
    links = Linkage(
        (host.lower_pivot_behind_mm, host.lower_pivot_height_mm),
        (host.lower_behind_mm, host.lower_height_mm),
        (host.top_pivot_behind_mm, host.top_pivot_height_mm),
        (host.top_behind_mm, host.top_height_mm),
    )
    middle = sum(kg * x for kg, x in lifted) / on_links if on_links else 0.0
    # kept on the front axle: least over what is left
    least, left = 0.2 * host.standing(), max(axles.front_kg, 1e-3)
    lifting = (
        of_maker(
            job, "lift capacity", "lift capacity at the lower pins", on_links, host.lift_kg, "vehicle.lift_kg"
        ),
        of_maker(
            job,
            "lift at the load",
            f"lift capacity {middle - host.lower_behind_mm:.0f} mm behind the pins",
            on_links,
            links.lift_at(host.lift_kg, middle),
            "vehicle.lift_kg",
        ),
    )
    rows = (
        *(lifting if on_links else ()),
        of_maker(
            job,
            "rear axle",
            "rear axle",
            max(axles.rear_kg, 0.0),
            host.rear_rating_kg,
            "vehicle.rear_rating_kg",
        ),
        Rating(
            "steering",
            "a fifth of the mass left on the front axle",
            "vehicle",
            least,
            left,
            "vehicle.front_kg",
            "20 % of the unladen mass, as tractors' handbooks ask",
        ),
        of_maker(
            job,
            "gross vehicle",
            "gross vehicle mass",
            host.standing() + total,
            host.gross_rating_kg,
            "vehicle.gross_rating_kg",
        ),
    )
    return rows, ()


@ratings.register
def _(host: Trailer, job: Job, asked: Asked) -> tuple[tuple[Rating, ...], tuple[str, ...]]:
    """Gross mass with what is carried; of a trailer that is built here, as it is built and loaded, with its
    axle and what its coupling may carry.
    """
    if asked.standing is None:
        carried = sum(i.kg for d in job.duties if isinstance(d, Carrier) for i in d.items)
        whole = host.empty_kg + carried
        rows = [("gross trailer", "gross trailer mass", whole, host.gross_rating_kg, "gross_rating_kg")]
    else:
        s = asked.standing
        whole, axle, nose = s.total_kg, max(s.left_kg + s.right_kg, 0.0), max(s.nose_kg, 0.0)
        rows = [
            ("gross trailer", "gross trailer mass, as built", whole, host.gross_rating_kg, "gross_rating_kg"),
            ("axle limit", "axle", axle, host.axle_rating_kg, "axle_rating_kg"),
            ("tongue limit", "nose weight on the coupling", nose, host.tongue_rating_kg, "tongue_rating_kg"),
        ]
    found = (of_maker(job, id, name, kg, most, f"vehicle.{path}") for id, name, kg, most, path in rows)
    return tuple(found), ()


@dataclass(frozen=True)
class OnWheels:
    """A trailer standing still: its mass, what either wheel and the coupling carry, kg (negative nose weight
    lifts the ball); what lies behind the axle and ahead of it, as kg at the coupling.
    """

    total_kg: float
    left_kg: float
    right_kg: float
    nose_kg: float
    behind_kg: float
    ahead_kg: float


def standing(assembly: Assembly, hung: Sequence[tuple[float, Vec]]) -> OnWheels | None:
    """How a trailer stands with what it carries (kg and where); None for what has no wheels of its own."""
    s = stance(assembly)
    if s is None:
        return None
    masses = [*bodies.masses(assembly), *hung]
    lever = s.ball[0] - s.axle
    ahead = sum(kg * (p[0] - s.axle) for kg, p in masses if p[0] > s.axle) / lever
    behind = sum(kg * (s.axle - p[0]) for kg, p in masses if p[0] <= s.axle) / lever
    total = sum(kg for kg, _ in masses)
    on_axle = total - ahead + behind
    track = s.left[1][1] - s.right[1][1]
    lean = sum(kg * (p[1] - s.right[1][1]) for kg, p in masses) - (ahead - behind) * -s.right[1][1]
    left = lean / track
    return OnWheels(total, left, on_axle - left, ahead - behind, behind, ahead)


def on_wheels(assembly: Assembly, hung: Sequence[tuple[float, Vec]]) -> tuple[Rating, ...]:
    """A trailer's own wheels, axle and coupler against their marks, standing, wheel by wheel: its parts and
    what it carries (kg, where) shared by lever; and that its nose presses on the ball at all.  Nothing for
    what has no wheels.
    """
    at, s = standing(assembly, hung), stance(assembly)
    if at is None or s is None:
        return ()
    out: list[Rating] = []

    def row(of: Socket, what: str, name: str, kg: float, most: float | None) -> None:
        if most:
            out.append(Rating(f"{of.key}: {what}", name, "ball", max(kg, 0.0), most, of.path, SHELF))

    for w in assembly.sockets:
        if w.kind == "wheel":
            kg = at.left_kg if w.key == s.left[0] else at.right_kg
            row(w, "rating", f"{assembly.by_key[w.part].side} wheel, hub and tyre".strip(), kg, w.rating_kg)
        elif w.kind == "axle":
            row(w, "rating", "axle, by its plate", at.left_kg + at.right_kg, w.rating_kg)
        elif w.kind == "coupled":
            row(w, "rating", "coupler, stamped", at.total_kg, w.rating_kg)
            what = "what lies behind the axle against what holds the nose down"
            ahead = max(at.ahead_kg, 1e-3)
            out.append(
                Rating(f"{w.key}: nose", what, "ball", at.behind_kg, ahead, "vehicle.axle_behind_mm", NOSE)
            )
    return tuple(out)


NOSE = "statics about the axle: from 1 on the nose lifts the ball and the trailer wanders"
