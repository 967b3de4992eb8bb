"""Limits set by somebody else: what the host's maker and the ball's stamp allow against what all duties
together ask, in kg.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import singledispatch

from urial.assembly import bodies
from urial.assembly.model import Assembly
from urial.job.duty import Carrier, Implement
from urial.job.host import Host, Tractor, Trailer, Wheeled
from urial.job.model import Job
from urial.job.origin import is_assumed
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
    parameter's path), and what is carried (kg, mm behind the rear axle)."""

    ball_behind: float = 0.0
    ball: tuple[float, str] | None = None
    hung: Sequence[tuple[float, float]] = ()


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
    limit("gross vehicle", "gross vehicle mass", gross, "gross_rating_kg")
    if d.towed:
        limit("combination", "gross combination", gross + d.trailer_mass_kg - tongue, "combination_rating_kg")
    return tuple(out), tuple(silent)


@ratings.register
def _(host: Tractor, job: Job, asked: Asked) -> tuple[tuple[Rating, ...], tuple[str, ...]]:
    """Lift capacity at the lower hitch points, axles, and a fifth of the unladen mass left on the front
    axle.
    """
    hung = [
        (d.kg + d.payload_kg, host.lower_behind_mm + d.behind_mm)
        for d in job.duties
        if isinstance(d, Implement)
    ]
    total = sum(kg for kg, _ in hung)
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
    middle = sum(kg * x for kg, x in hung) / total
    # kept on the front axle: least over what is left
    least, left = 0.2 * host.standing(), max(axles.front_kg, 1e-3)
    rows = (
        of_maker(
            job, "lift capacity", "lift capacity at the lower pins", total, host.lift_kg, "vehicle.lift_kg"
        ),
        of_maker(
            job,
            "lift at the load",
            f"lift capacity {middle - host.lower_behind_mm:.0f} mm behind the pins",
            total,
            links.lift_at(host.lift_kg, middle),
            "vehicle.lift_kg",
        ),
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
    """Gross mass with what is carried."""
    carried = sum(i.kg for d in job.duties if isinstance(d, Carrier) for i in d.items)
    return (
        of_maker(
            job,
            "gross trailer",
            "gross trailer mass",
            host.empty_kg + carried,
            host.gross_rating_kg,
            "vehicle.gross_rating_kg",
        ),
    ), ()


def on_wheels(assembly: Assembly, hung: Sequence[tuple[float, float]]) -> tuple[Rating, ...]:
    """A trailer's own wheels and coupler against their marks, standing: its parts and what it carries
    (kg, mm behind the coupling) shared by lever; nothing for what has no wheels.
    """
    wheels = [s for s in assembly.sockets if s.kind == "wheel"]
    if not wheels:
        return ()
    axle = -sum(s.place.o[0] for s in wheels) / len(wheels)
    own, middle = bodies.total_mass(assembly), bodies.centre_of_mass(assembly)
    shared = balance.trailer_balance([axle], [(own, -middle[0]), *hung])
    out = [
        Rating(
            f"{s.key}: rating",
            f"{assembly.by_key[s.part].side} wheel, hub and tyre".strip(),
            "ball",
            shared.axle_kg / len(wheels),
            s.rating_kg or 0.0,
            s.path,
            SHELF,
        )
        for s in wheels
        if s.rating_kg
    ]
    for s in assembly.sockets:
        if s.kind == "axle" and s.rating_kg:
            name = "axle, by its plate"
            out.append(Rating(f"{s.key}: rating", name, "ball", shared.axle_kg, s.rating_kg, s.path, SHELF))
        if s.kind == "coupled" and s.rating_kg:
            whole = Rating(
                f"{s.key}: rating", "coupler, stamped", "ball", shared.total_kg, s.rating_kg, s.path, SHELF
            )
            out.append(whole)
    return tuple(out)
