"""Calculators: strap_anchor, sway, deck, weigh, swing, fatigue."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from urial.calc.registry import Answer, Question, calculator
from urial.calc.structure import NonNegative, Positive
from urial.job.duty import Deck, Weighing
from urial.road import deck as decks
from urial.road import sway as swaying
from urial.road import swing as swinging
from urial.road import weighing
from urial.road.winch import leg_pull
from urial.strength import fatigue as endurance


class StrapQuestion(Question):
    """A pull held by one strap or two."""

    pull_N: Positive
    leg_angle_deg: Annotated[float, Field(ge=0, lt=180)]
    break_N: Positive
    legs: Literal[1, 2]
    design_factor: Annotated[float, Field(ge=1)] = 3.0


@calculator("strap_anchor", StrapQuestion)
def strap_anchor(q: StrapQuestion) -> Answer:
    """Each leg's pull against the working limit of its strap."""
    leg, limit = leg_pull(q.pull_N, q.leg_angle_deg, q.legs), q.break_N / q.design_factor
    return {"leg_N": leg, "working_limit_N": limit, "utilisation": leg / limit}


class SwayVehicle(Question):
    """The towing vehicle of the single-track model."""

    mass_kg: Positive
    Iz_kgm2: Positive
    a_m: Positive
    b_m: Positive
    hitch_m: Positive
    C1_N_rad: Positive
    C2_N_rad: Positive


class SwayTrailer(Question):
    """The trailer of the single-track model."""

    mass_kg: Positive
    Iz_kgm2: Positive
    l1_m: float
    l_m: Positive
    C3_N_rad: Positive


class SwayQuestion(Question):
    """A rig and the speeds asked for."""

    vehicle: SwayVehicle
    trailer: SwayTrailer
    speeds_kmh: list[Annotated[float, Field(gt=0, le=1000)]] = Field(default_factory=list)


@calculator("sway", SwayQuestion)
def sway(q: SwayQuestion) -> Answer:
    """Least damping ratio at each speed, and the speeds where it matters."""
    v, t = q.vehicle, q.trailer
    rig = swaying.Rig(
        v.mass_kg,
        v.Iz_kgm2,
        v.a_m,
        v.b_m,
        v.hitch_m,
        v.C1_N_rad,
        v.C2_N_rad,
        t.mass_kg,
        t.Iz_kgm2,
        t.l1_m,
        t.l_m,
        t.C3_N_rad,
    )
    r = swaying.sway(rig, q.speeds_kmh)
    return {
        "damping": list(r.damping),
        "critical_kmh": r.critical_kmh,
        "speed_at_0_10_kmh": r.slow_down_kmh,
        "divergence_kmh": r.divergence_kmh,
    }


class DeckQuestion(Question):
    """A deck with its cargo, keys as in the job document; ``solve`` asks where a block must stand for a
    tongue weight.
    """

    deck: Deck
    solve_block: Annotated[int, Field(ge=0)] | None = None
    solve_percent: Positive | None = None


@calculator("deck", DeckQuestion)
def deck(q: DeckQuestion) -> Answer:
    """Loads, ratings, roll-over, the range on the way, and the place asked for."""
    d = q.deck
    b, r = decks.loaded(d), decks.tongue_range(d)
    out: Answer = {
        "total_kg": b.total_kg,
        "tongue_kg": b.tongue_kg,
        "tongue_percent": b.percent,
        "axle_kg": b.axle_kg,
        "each_axle_kg": b.axle_kg / b.axles,
        "tyre_left_kg": b.tyres[0],
        "tyre_right_kg": b.tyres[1],
        "centre_mm": list(b.centre),
        "tip_g": decks.tip_g(d, b),
        "limits": [
            {"name": x.name, "load_kg": x.load_kg, "rating_kg": x.rating_kg, "utilisation": x.used}
            for x in decks.limits(d, b)
        ],
        "least": {"tongue_kg": r.least.tongue_kg, "tongue_percent": r.least.percent, "when": r.least_why},
        "most": {"tongue_kg": r.most.tongue_kg, "tongue_percent": r.most.percent, "when": r.most_why},
    }
    if q.solve_block is not None:
        if q.solve_block >= len(d.cargo):
            raise ValueError(
                f"solve_block {q.solve_block} is not on the deck; there are {len(d.cargo)} blocks, "
                "counted from 0."
            )
        out["front_mm"] = decks.place_for(d, q.solve_block, q.solve_percent or d.target)
    return out


class WeighQuestion(Question):
    """A weighing, keys as in the job document."""

    method: Literal["jack", "beam", "bridge"]
    sigma_kg: Positive = 1.0
    reading_kg: NonNegative = 0.0
    jack_behind_mm: NonNegative = 0.0
    axle_mm: Positive = 3300.0
    coupler_mm: Positive = 300.0
    scale_mm: Positive = 900.0
    alone_front_kg: NonNegative = 0.0
    alone_rear_kg: NonNegative = 0.0
    hitched_front_kg: NonNegative = 0.0
    hitched_rear_kg: NonNegative = 0.0
    trailer_axles_kg: NonNegative = 0.0


@calculator("weigh", WeighQuestion)
def weigh(q: WeighQuestion) -> Answer:
    """Tongue weight, and with a weighbridge the trailer, each with one standard deviation."""
    w = weighing.weigh(Weighing(**q.model_dump()))
    return {
        "tongue_kg": w.tongue_kg,
        "tongue_sigma_kg": w.tongue_sigma,
        "trailer_kg": w.trailer_kg,
        "trailer_sigma_kg": w.trailer_sigma,
    }


Point3 = tuple[float, float, float]


class BodyQuestion(Question):
    """A block by its low and high corner, mm: the vehicle's in its own axes, the trailer's with the ball
    as origin.
    """

    name: str
    low_mm: Point3
    high_mm: Point3


class SwingQuestion(Question):
    """Vehicle and trailer bodies, the ball, and how the road lies."""

    vehicle: Annotated[list[BodyQuestion], Field(min_length=1)]
    trailer: Annotated[list[BodyQuestion], Field(min_length=1)]
    ball_mm: Point3
    pitch_deg: Annotated[float, Field(ge=-60, le=60)] = 0.0
    roll_deg: Annotated[float, Field(ge=-60, le=60)] = 0.0


@calculator("swing", SwingQuestion)
def swing(q: SwingQuestion) -> Answer:
    """First touch to the left and to the right, up to 110°, and the least tongue for the first trailer
    body to turn 90°.
    """
    for b in (*q.vehicle, *q.trailer):
        if any(hi <= lo for lo, hi in zip(b.low_mm, b.high_mm, strict=True)):
            raise ValueError(f"body “{b.name}” has no size; give low_mm below high_mm in every direction.")
    fixed = [swinging.Body(b.name, b.low_mm, b.high_mm) for b in q.vehicle]
    moving = [swinging.Body(b.name, b.low_mm, b.high_mm) for b in q.trailer]
    out: Answer = {}
    for name, side in (("left", 1), ("right", -1)):
        t = swinging.first_touch(fixed, moving, q.ball_mm, side, q.pitch_deg, q.roll_deg)
        out[name] = (
            None
            if t is None
            else {"angle_deg": t.angle_deg, "trailer": t.trailer, "vehicle": t.vehicle, "at_mm": list(t.at)}
        )
    out["least_tongue_mm"] = swinging.least_tongue(fixed, moving[0], q.ball_mm)
    return out


class FatigueQuestion(Question):
    """Ranges of nominal stress and how often each comes, on a detail of a category (MPa at 2e6 cycles)."""

    ranges_MPa: Annotated[list[tuple[NonNegative, NonNegative]], Field(min_length=1, max_length=100_000)]
    category: Positive
    gamma: Annotated[float, Field(ge=1, le=3)]


@calculator("fatigue", FatigueQuestion)
def fatigue(q: FatigueQuestion) -> Answer:
    """Miner's sum by EN 1993-1-9, and how often all of it may come; null where nothing does damage."""
    found = endurance.damage(q.ranges_MPa, q.category, q.gamma)
    return {"damage": found, "life_repeats": 1 / found if found > 0 else None}
