"""The towing cases on a trailer's own frame: the other side of the same ball.

What the ball gets from the trailer in a case of the policy, the trailer's own mass and its cargo bring about:
each kilogram is pushed along, and more upwards or sideways the farther it is ahead of the axle (the trailer
pitches and turns about its axle), so that frame, tongue and coupler carry the force on the ball to where the
mass is.  Forces N, lengths mm, masses kg.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from urial.assembly import bodies
from urial.assembly.model import Assembly
from urial.geometry.place import Vec, times
from urial.job.duty import Carrier, Item
from urial.job.model import Job
from urial.loads import decks, duties, towing
from urial.loads.case import Case, Field, LoadPoint, Six, load_points
from urial.loads.standing import Stance, on_wheels, stance
from urial.road import balance
from urial.units import STANDARD_GRAVITY as G


@dataclass(frozen=True)
class Cargo:
    """What lies on the deck: kg, its middle, the load points that carry it, what it is and where all of it
    has its middle.
    """

    kg: float
    at: Vec
    on: tuple[str, ...]
    item: Item
    middle: Vec


def cargo(job: Job, assembly: Assembly) -> tuple[Cargo, ...]:
    """Everything the job's carriers have on the trailer, each thing as two halves at its radius of gyration
    from its middle, so that it also rolls with its own width.
    """
    out = []
    for duty in job.duties:
        names = duties.taken_by(duty, assembly)
        if not isinstance(duty, Carrier) or not names:
            continue
        placed = duties.mass_places(duty, duties.mouth_of(job, assembly, duty), duties.outward(assembly))
        for item, (kg, at) in zip(duty.items, placed, strict=True):
            off = item.wide_mm / math.sqrt(12)
            for s in (1.0, -1.0):
                out.append(Cargo(kg / 2, (at[0], at[1] + s * off, at[2]), tuple(names), item, at))
    return tuple(out)


def total(job: Job, assembly: Assembly) -> tuple[tuple[float, Vec], ...]:
    """Every mass of the trailer as it is built and loaded: kg and where."""
    return (*bodies.masses(assembly), *((c.kg, c.at) for c in cargo(job, assembly)))


def coupling(job: Job, assembly: Assembly) -> towing.Coupling:
    """The coupling values of the trailer as it is built and loaded, or as it may be where that is more."""
    s = stance(assembly)
    assert s is not None
    kg, of = towing.towing_mass(job)
    masses = total(job, assembly)
    built = sum(m for m, _ in masses)
    whole = max(job.duty.permissible_kg or 0.0, built)
    lever = s.ball[0] - s.axle
    nose = sum(m * (p[0] - s.axle) for m, p in masses) / lever
    axle = whole - nose
    deck = [p.place.o[0] for p in assembly.sockets if p.kind == "deck"]
    bed = max(deck) - min(deck) if deck else lever
    who = "its permissible mass" if whole > built else "built and loaded"
    return towing.Coupling(
        balance.d_value(kg / 1000, whole / 1000),
        balance.d_value(kg / 1000, axle / 1000),
        balance.v_value(axle / 1000, bed, lever, job.duty.air_suspension),
        nose * G / 1000,
        0.0,
        f"vehicle {kg:.5g} kg ({of}), trailer {whole:.5g} kg ({who})",
    )


def field_for(
    s: Stance, masses: Sequence[tuple[float, Vec]], force: Vec, along: Vec, tyres: float, pitch: bool
) -> Field:
    """The field that brings about a force on the ball, N: ``along`` is what pushes every kilogram forward and
    up, N/kg, ``tyres`` what the trailer puts sideways on its wheels.

    How it lifts ahead of the axle follows from the pitch about it, unless that is left as it comes (``pitch``
    false); how it is pushed sideways, and veers ahead of the axle, from what ball and tyres get and the yaw.
    """
    lever, x = s.ball[0] - s.axle, s.axle
    whole, first, second = (sum(m * (p[0] - x) ** k for m, p in masses) for k in (0, 1, 2))
    lift = veer = across = 0.0
    if pitch:  # Σ m (z ax − x′ (az + lift x′)) − z_b F_x + lever F_z = 0, the ball pushing back with −F
        turn = sum(m * (p[2] * along[0] - (p[0] - x) * along[2]) for m, p in masses)
        lift = (turn - s.ball[2] * force[0] + lever * force[2]) / second
    if force[1] or tyres:  # Σ m (ay + veer x′) = F_y + tyres; Σ m (x′ (ay + veer x′) − y ax) = lever F_y
        turn = lever * force[1] + sum(m * p[1] * along[0] for m, p in masses)
        veer = (whole * turn - first * (force[1] + tyres)) / (whole * second - first**2)
        across = (force[1] + tyres - first * veer) / whole
    return Field((along[0], across, along[2]), (x, 0.0, 0.0), veer, lift)


def _loads(
    assembly: Assembly, things: Sequence[Cargo], points: dict[str, LoadPoint], field: Field
) -> dict[str, Six]:
    out = []
    for c in things:
        force = times(field.at(c.at), c.kg)
        on_deck = decks.loads_of(assembly, points, c.on, c.item, c.middle, force, c.at)
        out.append(on_deck or duties.shared({n: points[n].at for n in c.on}, ((c.at, force),)))
    return decks.summed(out)


def case_of(job: Job, assembly: Assembly, named: Case, force: Vec, push: Vec, pitch: bool = True) -> Case:
    """A case that puts ``force`` on the ball, N, while every kilogram is pushed with ``push``, N/kg, along
    and up, and the tyres hold sideways what that is of the axle's load.
    """
    s, points, things = stance(assembly), load_points(assembly), cargo(job, assembly)
    assert s is not None
    masses = total(job, assembly)

    held = sum(m * (s.ball[0] - p[0]) for m, p in masses) / (s.ball[0] - s.axle)

    def made(force: Vec, push: Vec) -> Case:
        field = field_for(s, masses, force, push, held * push[1], pitch)
        return replace(
            named,
            loads=_loads(assembly, things, points, field),
            field=field,
            pulls=((s.ball, (-force[0], -force[1], -force[2])),),
        )

    straight = made((force[0], 0.0, force[2]), (push[0], 0.0, push[2]))
    leaning = made(force, push) if force[1] or push[1] else straight
    return on_wheels(assembly, points, leaning, straight) or leaning


def cases(job: Job, assembly: Assembly) -> tuple[Case, ...]:
    """Every towing case of the policy on a trailer that stands on its own wheels, where it is towed, and one
    wheel over a bump, where it is towed or carries something.
    """
    if not job.duty.towed:
        return one_wheel(job, assembly) if cargo(job, assembly) else ()
    c = coupling(job, assembly)
    whole = sum(m for m, _ in total(job, assembly))
    swing = math.radians(job.duty.articulation_deg)
    out = []
    for row in towing.policy():
        if "chain" in row.factors:
            continue

        def f(name: str, row: towing.Row = row) -> float:
            return towing.factor(job, row, name)

        changed = any(key.startswith(f"{row.id}/") for key in job.duty.factors)
        weight = 1.0 if row.judged == "service" else 1 / 1.67
        play = towing.PLAY[job.duty.hitch]
        angled = play * f("angled")
        fx = 1000 * (play * f("along") * c.D + abs(angled) * c.D * math.cos(swing))
        fy = 1000 * (f("across") * c.D - angled * c.D * math.sin(swing))
        fz = -1000 * (f("static") * c.S + f("bounce") * c.V)
        push = (fx / whole, f("across") * G, -f("static") * G)
        named = Case(row.id, row.title, {}, row.reason, row.source, weight, changed)
        out.append(case_of(job, assembly, named, (fx, fy, fz), push, pitch="pitch" not in row.factors))
    return (*out, *one_wheel(job, assembly))


def towed(job: Job, assembly: Assembly) -> tuple[Case, ...]:
    """The towing cases of whatever is built: of a trailer on its own wheels, else on the coupling alone."""
    return cases(job, assembly) if stance(assembly) is not None else towing.cases(job, assembly)


def one_wheel(job: Job, assembly: Assembly) -> tuple[Case, ...]:
    """One wheel over a bump: all of the axle's load on it, twice what it carries standing, the other just off
    the ground; the frame between them twists with what the mass does against the roll.
    """
    s, points, things = stance(assembly), load_points(assembly), cargo(job, assembly)
    assert s is not None
    masses = total(job, assembly)
    up, lever = (0.0, 0.0, -G), s.axle - s.ball[0]
    middle = (s.left[1][1] + s.right[1][1]) / 2
    out = []
    for side, (_, on) in (("left", s.left), ("right", s.right)):
        # all that holds it up but the ball stands at one wheel: Σ m (y − y_w share) (−g + roll y) = 0
        def off(roll: float, on: Vec = on) -> float:
            total_x = total_y = 0.0
            for m, p in masses:
                fz = m * (-G + roll * (p[1] - middle))
                total_x += p[1] * fz
                total_y += (p[0] - s.ball[0]) * fz
            return total_x - on[1] * total_y / lever

        roll = -off(0.0) / (off(1.0) - off(0.0))
        field = Field(up, (s.axle, middle, 0.0), roll=roll)
        loads = _loads(assembly, things, points, field)
        pulls = tuple((c.at, (0.0, 0.0, field.at(c.at)[2] * c.kg)) for c in things)
        out.append(
            Case(
                f"{side} wheel over a bump",
                f"{side} wheel over a bump",
                loads,
                "One wheel takes the axle's whole load, twice its own, and twists the frame.",
                "house rule: 2 g on one wheel, the other off the ground",
                pulls=pulls,
                field=field,
            )
        )
    return tuple(out)
