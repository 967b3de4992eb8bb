"""What fits an open place, and what is too small for what is asked: bore, stamp, class."""

from __future__ import annotations

from urial import families
from urial.families import _stack as stack
from urial.families import build
from urial.job import edit
from urial.job.model import Job
from urial.prove.offers import Offer, offers
from urial.prove.verdict import prove


def for_the_bore(job: Job) -> dict[str, Offer]:
    place = next(p for p in stack.open_places(job, build(job)) if p.kind == "receiver")
    return {o.family.name: o for o in offers(job, place)}


def bare_receiver(**towed: object) -> Job:
    job = stack.take_off(families.new_job("rear-receiver"), "2")
    return job.model_copy(update={"duty": job.duty.model_copy(update={"towed": True, **towed})})


def test_a_ball_stamped_for_less_than_the_trailer_is_offered_with_its_reason_and_last_of_those_that_go_in():
    light = for_the_bore(bare_receiver(trailer_mass_kg=1500.0, tongue_mass_kg=150.0))["ball-mount"]
    assert light.fits and light.holds
    found = for_the_bore(bare_receiver(trailer_mass_kg=3000.0, tongue_mass_kg=300.0))
    heavy = found["ball-mount"]
    assert heavy.fits and not heavy.holds and "stamped rating 2722\xa0kg, asked 3000\xa0kg" in heavy.words
    order = [o for o in found.values() if o.fits]
    assert not [o.family.name for o in order[order.index(heavy) :] if o.holds]


def test_a_bore_too_small_is_refused_by_its_size():
    job = edit.put(bare_receiver(), "stack.1.receiver", "1 1/4")
    assert "wider than the 1 1/4 in receiver" in for_the_bore(job)["ball-mount"].words


def test_a_receiver_is_held_to_the_heaviest_trailer_of_its_class():
    # SAE J684: class 2 to 3500 lb, class 4 to 10 000 lb; 0.45359237 kg a pound
    for size, pounds in (("1 1/4", 3500), ("2", 10_000)):
        job = families.new_job("rear-receiver")
        job = edit.put(job, "stack.1.receiver", size)
        job = (
            edit.put(edit.put(job, "stack.2.bar", "square 1 1/4"), "stack.2.ball", "1 7/8 in")
            if size == "1 1/4"
            else job
        )
        checks = {c.id: c for c in prove(job).checks}
        found = checks["1/receiver: class"]
        assert (
            abs(found.available - pounds * 0.45359237) < 1
            and found.utilisation == job.duty.trailer_mass_kg / found.available
        )
        assert found.kind == "rating" and "J684" in found.clause
    job = edit.put(
        edit.put(families.new_job("rear-receiver"), "stack.1.receiver", "2 1/2"),
        "stack.2.bar",
        "2 1/2x2 1/2x1/4",
    )
    assert not any(
        "class" in c.id for c in prove(job).checks
    )  # the standard has no class for it: no figure is made up
