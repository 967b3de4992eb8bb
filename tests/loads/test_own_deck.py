"""The trailer that is built is the one that is loaded: its deck against the statics of its frame."""

import pytest

from urial.families import build, families, new_job
from urial.job.edit import put
from urial.loads import trailing
from urial.loads.own_deck import own_deck
from urial.road import deck as decks
from urial.units import STANDARD_GRAVITY as G


def job_with(**sizes):
    job = new_job("flat-trailer")
    for key, value in sizes.items():
        job = put(job, f"stack.1.{key}", value)
    return job


@pytest.mark.parametrize("sizes", [{}, {"front_mm": 1400.0}, {"long_mm": 2600.0, "wide_mm": 1400.0}])
def test_the_deck_is_as_large_and_the_tongue_as_heavy_as_the_trailer_that_is_built(sizes):
    job = job_with(**sizes)
    assembly = build(job)
    p = job.stack[0].values
    deck = own_deck(job, assembly)
    assert deck is not None
    assert (deck.front_mm, deck.long_mm, deck.wide_mm) == pytest.approx(
        (p.front_mm, p.long_mm, p.wide_mm), abs=1.0
    )
    assert deck.axles == "1"
    # the second source: the coupling values of the frame's own towing cases
    found = decks.loaded(deck)
    coupled = trailing.coupling(job, assembly)
    assert found.tongue_kg * G / 1000 == pytest.approx(coupled.S, rel=1e-6)
    assert found.total_kg == pytest.approx(sum(m for m, _ in trailing.total(job, assembly)))


def test_what_is_no_trailer_has_no_deck_of_its_own():
    for name in families():
        job = new_job(name)
        assert (own_deck(job, build(job)) is not None) == (name == "flat-trailer"), name
