"""A deck on one to three axles: tongue weight, axle and tyre loads, roll-over, and the range they run
through on the way.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from urial.job.duty import Cargo, Deck


@dataclass(frozen=True)
class Lump:
    """A mass (kg) at x behind the coupling, y to the left, z above ground (mm)."""

    kg: float
    x: float
    y: float
    z: float


@dataclass(frozen=True)
class Balance:
    """How the trailer stands: totals in kg, the centre of mass in mm, each axle's and each tyre's load
    (left, right).
    """

    total_kg: float
    tongue_kg: float
    axle_kg: float
    axles: int
    centre: tuple[float, float, float]
    tyres: tuple[float, float]

    @property
    def percent(self) -> float:
        """Tongue weight in percent of all."""
        return 100 * self.tongue_kg / self.total_kg


@dataclass(frozen=True)
class Placed:
    """A block in place: underside above ground (mm)."""

    cargo: Cargo
    base_mm: float

    def lump(self, deck: Deck, kg: float | None = None, shift_mm: float = 0.0) -> Lump:
        """The block as a mass."""
        c = self.cargo
        return Lump(
            c.kg if kg is None else kg,
            deck.front_mm + c.front_mm + c.long_mm / 2 + shift_mm,
            c.across_mm,
            self.base_mm + c.high_mm / 2,
        )


def _overlap(a: Cargo, b: Cargo) -> bool:
    return (
        a.front_mm < b.front_mm + b.long_mm - 1
        and b.front_mm < a.front_mm + a.long_mm - 1
        and abs(a.across_mm - b.across_mm) < (a.wide_mm + b.wide_mm) / 2 - 1
    )


def stacked(deck: Deck) -> tuple[Placed, ...]:
    """Every block on the deck or on top of the earlier ones it lies over."""
    out: list[Placed] = []
    for c in deck.cargo:
        under = [p.base_mm + p.cargo.high_mm for p in out if _overlap(c, p.cargo)]
        out.append(Placed(c, max([deck.height_mm, *under])))
    return tuple(out)


def axle_places(deck: Deck) -> tuple[float, ...]:
    """Each axle behind the coupling, mm."""
    n = int(deck.axles)
    return tuple(deck.axle_mm + (k - (n - 1) / 2) * deck.spread_mm for k in range(n))


def empty(deck: Deck) -> Lump:
    """The empty trailer as a mass: where its own tongue weight puts it."""
    return Lump(
        deck.empty_kg, deck.axle_mm * (1 - deck.empty_tongue_kg / deck.empty_kg), 0.0, deck.empty_height_mm
    )


def balance(deck: Deck, lumps: Sequence[Lump]) -> Balance:
    """Static equilibrium of masses on the coupling and on axles that share alike (linked by springs or
    rockers).

    The coupling, a ball, takes no rolling moment, so the tyres take it over the track.
    """
    total = sum(m.kg for m in lumps)
    x, y, z = (sum(m.kg * getattr(m, k) for m in lumps) / total for k in "xyz")
    on_axles = total * x / deck.axle_mm
    side = total * y / deck.track_mm
    n = int(deck.axles)
    return Balance(
        total,
        total - on_axles,
        on_axles,
        n,
        (x, y, z),
        ((on_axles / 2 + side) / n, (on_axles / 2 - side) / n),
    )


def loaded(deck: Deck) -> Balance:
    """The trailer with everything on it."""
    return balance(deck, [empty(deck), *(p.lump(deck) for p in stacked(deck))])


def shift(c: Cargo) -> float:
    """How far a block's centre can move fore and aft by itself, mm each way.

    A tank filled to ``fill`` of its length when all its liquid has run to one end: its middle is then half
    the empty length off. An animal walks in its pen likewise.
    """
    return (1 - c.fill / 100) * c.long_mm / 2 if c.kind in ("liquid", "animal") else 0.0


@dataclass(frozen=True)
class Range:
    """Least and greatest tongue weight on the way, as kg and percent, and what makes each."""

    least: Balance
    most: Balance
    least_why: str
    most_why: str


def _states(p: Placed, deck: Deck) -> list[tuple[Lump | None, str]]:
    """What a block may be on the way: full or used up, fore or aft, there or not yet."""
    c, s = p.cargo, shift(p.cargo)
    out: list[tuple[Lump | None, str]] = []
    for kg, why in [(c.kg, "")] + ([(c.least_kg, f"{c.name} used up")] if c.least_kg is not None else []):
        for move in (-s, s) if s > 0 else (0.0,):
            note = why or ("" if not s else f"{c.name} {'ahead' if move < 0 else 'astern'}")
            out.append((p.lump(deck, kg, move) if kg > 0 else None, note))
    if c.kind == "later":
        out.append((None, f"without {c.name}"))
    return out


def tongue_range(deck: Deck) -> Range:
    """Tongue weight over every state: loads used up or not, picked up or not yet, liquids and animals fore
    or aft.

    Every block's states are tried together with every other's, as sums of mass and moment; beyond a million
    of them the last blocks stay as loaded.
    """
    base = empty(deck)
    options = [_states(p, deck) for p in stacked(deck)]
    mass, moment, shape = np.array([base.kg]), np.array([base.kg * base.x]), []
    for states in options:
        if mass.size * len(states) > 1_000_000:
            states[:] = states[:1]
        kg = np.array([m.kg if m else 0.0 for m, _ in states])
        arm = np.array([m.kg * m.x if m else 0.0 for m, _ in states])
        mass, moment = (mass[:, None] + kg).ravel(), (moment[:, None] + arm).ravel()
        shape.append(len(states))
    share = 1 - moment / (deck.axle_mm * mass)

    def state(k: int) -> tuple[Balance, str]:
        picks = [options[n][int(i)] for n, i in enumerate(np.unravel_index(k, shape))] if shape else []
        return balance(deck, [base, *(m for m, _ in picks if m)]), ", ".join(
            w for _, w in picks if w
        ) or "as loaded"

    (least, why_least), (most, why_most) = state(int(share.argmin())), state(int(share.argmax()))
    return Range(least, most, why_least, why_most)


def place_for(deck: Deck, number: int, percent: float) -> float:
    """Where a block's front edge must be, mm behind the deck's front, for a tongue weight of ``percent``.

    ValueError with one sentence when that is off the deck.
    """
    blocks = stacked(deck)
    others = [empty(deck), *(p.lump(deck) for k, p in enumerate(blocks) if k != number)]
    c = blocks[number].cargo
    total = sum(m.kg for m in others) + c.kg
    # tongue = total − Σ m·x / axle, wanted = percent of total
    moment = total * (1 - percent / 100) * deck.axle_mm - sum(m.kg * m.x for m in others)
    front = moment / c.kg - deck.front_mm - c.long_mm / 2
    if not -1e-6 <= front <= deck.long_mm - c.long_mm + 1e-6:
        way, edge = ("ahead of", -front) if front < 0 else ("behind", front + c.long_mm - deck.long_mm)
        raise ValueError(
            f"“{c.name}” alone cannot make {percent:g} %: it would stand {edge:.0f} mm {way} the "
            "deck; move something heavier too."
        )
    return min(max(front, 0.0), deck.long_mm - c.long_mm)


def tip_g(deck: Deck, b: Balance) -> float:
    """Sideways acceleration (in g) at which the inner tyres lift: half the track, less how far off the
    middle is, over the height.
    """
    return max(deck.track_mm / 2 - abs(b.centre[1]), 0.0) / b.centre[2]


def highest_centre(deck: Deck, b: Balance, g: float = 0.5) -> float:
    """The height of the centre of mass at which it would tip at ``g`` sideways, mm."""
    return max(deck.track_mm / 2 - abs(b.centre[1]), 0.0) / g


@dataclass(frozen=True)
class Limit:
    """A rating of the trailer: what is on it and what it takes, kg."""

    name: str
    load_kg: float
    rating_kg: float

    @property
    def used(self) -> float:
        """Share of the rating."""
        return self.load_kg / self.rating_kg


def limits(deck: Deck, b: Balance) -> tuple[Limit, ...]:
    """Gross, axle, tyre and coupling ratings."""
    return (
        Limit("gross", b.total_kg, deck.gross_rating_kg),
        Limit("each axle", b.axle_kg / b.axles, deck.axle_rating_kg),
        Limit("heavier tyre", max(b.tyres), deck.tyre_rating_kg),
        Limit("coupling", max(b.tongue_kg, 0.0), deck.tongue_rating_kg),
    )


def yaw_inertia(deck: Deck, lumps: Sequence[Lump], b: Balance) -> float:
    """Yaw inertia of the loaded trailer about its centre of mass, kg·m²: blocks as points and the empty
    trailer as a bar from the coupling to the deck's end."""
    bar = deck.empty_kg * ((deck.front_mm + deck.long_mm) / 1000) ** 2 / 12
    return bar + sum(m.kg * ((m.x - b.centre[0]) ** 2 + (m.y - b.centre[1]) ** 2) for m in lumps) / 1e6
