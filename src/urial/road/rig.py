"""Deck and duty are one trailer: do their masses agree, and does it fit behind the vehicle at all?"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from urial import units
from urial.assembly.model import Assembly
from urial.geometry.place import Vec
from urial.job.host import Vehicle
from urial.job.model import Job
from urial.road import deck as decks
from urial.road import swing

APART = 0.02
"""Share of the trailer's mass by which deck and duty may differ without a word."""


@dataclass(frozen=True)
class Masses:
    """Trailer and tongue as the duty has them and as the deck adds up to, kg."""

    duty: tuple[float, float]
    deck: tuple[float, float]

    @property
    def agree(self) -> bool:
        """Within a fiftieth of the trailer's mass, both."""
        return all(
            abs(a - b) <= APART * max(self.duty[0], self.deck[0])
            for a, b in zip(self.duty, self.deck, strict=True)
        )


def masses(job: Job) -> Masses | None:
    """Both, where a trailer is towed and something stands on its deck."""
    if not job.duty.towed or not job.deck.cargo:
        return None
    b = decks.loaded(job.deck)
    return Masses((job.duty.trailer_mass_kg, job.duty.tongue_mass_kg), (b.total_kg, b.tongue_kg))


def masses_words(job: Job) -> str:
    """A sentence where deck and duty are two different trailers, else nothing."""
    found = masses(job)
    if found is None or found.agree:
        return ""
    a, b, c, d = (units.show(x, "mass", job.units) for x in (*found.duty, *found.deck))
    return (
        f"The duty says {a} with {b} on the tongue, the deck adds up to {c} with {d}: one trailer "
        "cannot be both. Strength goes by the duty, sway and swing by the deck; take the deck's masses "
        "into the duty, or mend the deck."
    )


def impossible(job: Job, assembly: Assembly, carried: Sequence[tuple[str, Vec, Vec]] = ()) -> str:
    """What cannot be as it is written: the trailer touches the vehicle (or what it has ``carried``) straight
    behind it, lifts the ball, or is over a rating of its own."""
    if not job.duty.towed or not isinstance(job.vehicle, Vehicle) or not assembly.parts:
        return ""
    fixed, trailer, ball = swing.bodies(job, assembly, carried)
    moving = [(b.name, swing.solid_of(b)) for b in trailer]
    hit = swing.hits(fixed, moving, ball, 0.0, job.running.pitch_deg, job.running.roll_deg)
    if hit:
        return (
            f"Straight behind the vehicle the trailer's {hit[0]} already stands in the {hit[1]}; "
            "measure the tongue and the trailer's nose again."
        )
    if job.deck.cargo:
        b = decks.loaded(job.deck)
        over = next((x for x in decks.limits(job.deck, b) if x.used > 1), None)
        if b.tongue_kg < 0:
            return "As it stands on the deck, the load lifts the ball; move it forward."
        if over is not None:
            return (
                f"On the deck, the {over.name} is over its rating by "
                f"{units.show(over.load_kg - over.rating_kg, 'mass', job.units)}."
            )
    return ""
