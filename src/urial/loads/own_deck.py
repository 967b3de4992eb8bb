"""The trailer that is being built, as a deck: where the ball, the axle and the bed are, what it weighs empty,
and what its duties put on it.  There is one trailer in such a job, and this is it.
"""

from __future__ import annotations

from urial.assembly import bodies
from urial.assembly.model import Assembly, BuildError
from urial.job.duty import Cargo, Deck
from urial.job.model import Job
from urial.loads import trailing
from urial.loads.standing import stance


def own_deck(job: Job, assembly: Assembly) -> Deck | None:
    """A trailer that stands on its own wheels and has a deck, as it is built and loaded; None for anything
    else.  Ratings nobody stamped on it are those of the job's deck.
    """
    try:
        s = stance(assembly)
    except BuildError:
        return None
    bed = next((p for p in assembly.parts if p.decking is not None), None)
    if s is None or bed is None:
        return None
    low, high = bodies.corners(bed)
    masses = bodies.masses(assembly)
    kg = sum(m for m, _ in masses)
    lever = s.ball[0] - s.axle
    tongue = sum(m * (p[0] - s.axle) for m, p in masses) / lever
    wheels = [x for x in assembly.sockets if x.kind == "wheel"]
    tyre = max(bodies.corners(assembly.by_key[w.part])[1][2] for w in wheels)
    rated = [w.rating_kg for w in wheels if w.rating_kg is not None]
    each = min(rated) if len(rated) == len(wheels) else job.deck.tyre_rating_kg
    coupled = next(x for x in assembly.sockets if x.kind == "coupled")
    axle = next((x for x in assembly.sockets if x.kind == "axle"), None)
    stamped = axle.rating_kg if axle is not None else None
    bears = stamped if stamped is not None else 2 * each
    return job.deck.model_copy(
        update={
            "front_mm": s.ball[0] - high[0],
            "long_mm": high[0] - low[0],
            "wide_mm": high[1] - low[1],
            "height_mm": high[2],
            "axles": "1",
            "axle_mm": lever,
            "track_mm": abs(s.left[1][1] - s.right[1][1]),
            "tyre_mm": tyre,
            "coupling_mm": s.ball[2],
            "empty_kg": kg,
            "empty_tongue_kg": tongue,
            "empty_height_mm": sum(m * p[2] for m, p in masses) / kg,
            "tyre_rating_kg": each,
            "axle_rating_kg": bears,
            "gross_rating_kg": job.duty.permissible_kg or bears + max(tongue, 0.0),
            "tongue_rating_kg": coupled.down_kg or job.deck.tongue_rating_kg,
            "cargo": _cargo(job, assembly, high),
        }
    )


def _cargo(job: Job, assembly: Assembly, front: tuple[float, float, float]) -> tuple[Cargo, ...]:
    """What its duties put on it, as blocks on the deck."""
    out = []
    for c in trailing.cargo(job, assembly)[::2]:  # each thing comes as two halves
        out.append(
            Cargo.model_construct(
                name=c.item.name,
                kind="solid",
                kg=2 * c.kg,
                least_kg=None,
                front_mm=front[0] - (c.middle[0] + c.item.long_mm / 2),
                across_mm=c.middle[1],
                long_mm=c.item.long_mm,
                wide_mm=c.item.wide_mm,
                high_mm=c.item.high_mm,
                fill=100.0,
            )
        )
    return tuple(out)


__all__ = ["own_deck"]
