"""Limits set by others, by levers and sums worked out here."""

import pytest

from urial import families
from urial.job import edit, origin
from urial.loads.ratings import Asked, on_wheels, ratings

TRUCK = families.new_job("rear-receiver")
TRACTOR = families.new_job("three-point-carriage")
TRAILER = families.new_job("flat-trailer")


def rows(job, asked=None):
    found, silent = ratings(job.vehicle, job, asked or Asked())
    return {r.id: r for r in found}, silent


def test_the_tongue_presses_the_rear_axle_and_lifts_the_front_by_its_lever():
    """Tongue T at a behind the rear axle of wheelbase L: rear + T (1 + a/L), front − T a/L."""
    host, tongue, behind = TRUCK.vehicle, TRUCK.duty.tongue_mass_kg, 1180.0
    found, _ = rows(TRUCK, Asked(behind))
    share = behind / host.wheelbase_mm
    assert found["rear axle"].demand == pytest.approx(host.rear_kg + tongue * (1 + share))
    assert found["front axle"].demand == pytest.approx(host.front_kg - tongue * share)
    assert found["gross vehicle"].demand == pytest.approx(host.front_kg + host.rear_kg + tongue)
    assert found["tongue limit"].demand == pytest.approx(tongue)
    assert found["combination"].demand == pytest.approx(
        host.front_kg + host.rear_kg + TRUCK.duty.trailer_mass_kg
    )


def test_what_hangs_behind_counts_as_tongue_and_what_hangs_ahead_does_not():
    bare, _ = rows(TRUCK)
    behind, _ = rows(TRUCK, Asked(hung=((80.0, 900.0),)))
    ahead, _ = rows(TRUCK, Asked(hung=((80.0, -4000.0),)))
    assert behind["tongue limit"].demand == pytest.approx(bare["tongue limit"].demand + 80.0)
    assert ahead["tongue limit"].demand == pytest.approx(bare["tongue limit"].demand)
    assert ahead["front axle"].demand > behind["front axle"].demand
    for found in (behind, ahead):  # it is carried, wherever it hangs
        assert found["gross vehicle"].demand == pytest.approx(bare["gross vehicle"].demand + 80.0)


def test_a_limit_nobody_gave_is_said_and_one_nobody_read_is_assumed():
    bike = families.new_job("two-wheeler")
    bare = bike.model_copy(update={"vehicle": bike.vehicle.model_copy(update={"tow_rating_kg": None})})
    found, silent = rows(bare)
    assert "towing limit" not in found and "towing limit: none given by the maker" in silent
    guessed, _ = rows(TRUCK)
    assert (
        guessed["towing limit"].name.endswith("(assumed)")
        and "nobody has read" in guessed["towing limit"].source
    )
    typed = origin.follow(
        TRUCK, edit.write(TRUCK, "vehicle.tow_rating_kg", "3210 kg"), origin.Origin(how="typed")
    )
    read, _ = rows(typed)
    assert read["towing limit"].limit == 3210.0 and "assumed" not in read["towing limit"].name


def test_a_ball_is_held_to_its_stamp_only_while_it_tows():
    stamped = Asked(1000.0, (1500.0, "stack.2.ball"))
    found, _ = rows(TRUCK, stamped)
    assert (found["ball rating"].demand, found["ball rating"].limit) == (TRUCK.duty.trailer_mass_kg, 1500.0)
    alone = TRUCK.model_copy(update={"duty": TRUCK.duty.model_copy(update={"towed": False})})
    found, _ = rows(alone, stamped)
    assert not {"ball rating", "towing limit", "combination"} & set(found)


def test_a_tractor_keeps_a_fifth_of_its_mass_on_the_front_axle():
    """The implement's mass times its lever behind the front axle over the wheelbase comes off in front."""
    host = TRACTOR.vehicle
    (duty,) = (d for d in TRACTOR.duties if d.kind == "implement")
    found, _ = rows(TRACTOR)
    total, behind = duty.kg + duty.payload_kg, host.lower_behind_mm + duty.behind_mm
    left = host.front_kg - total * behind / host.wheelbase_mm
    assert found["steering"].limit == pytest.approx(left)
    assert found["steering"].demand == pytest.approx(0.2 * host.standing())
    assert found["lift capacity"].demand == found["lift at the load"].demand == pytest.approx(total)
    assert found["lift at the load"].limit < found["lift capacity"].limit  # farther behind the pins


def test_a_tractor_that_lifts_nothing_has_no_limits_to_meet():
    bare = TRACTOR.model_copy(update={"duties": ()})
    assert rows(bare) == ({}, ())


def test_a_trailers_wheels_share_it_by_the_lever_of_its_coupling():
    a = families.build(TRAILER)
    from urial.assembly import bodies

    wheels = [s for s in a.sockets if s.kind == "wheel"]
    behind = -sum(s.place.o[0] for s in wheels) / 2
    own, middle = bodies.total_mass(a), -bodies.centre_of_mass(a)[0]
    cargo = (300.0, (-behind, 0.0, 900.0))  # right over the axle
    found = {r.id: r for r in on_wheels(a, [cargo])}
    on_axle = own * middle / behind + 300.0
    for s in wheels:
        assert found[f"{s.key}: rating"].demand == pytest.approx(on_axle / 2, rel=1e-4)
    assert on_wheels(families.build(TRUCK), [cargo]) == ()
