"""Decks against static equilibrium, weighings against the lever, winches and straps against their
formulas.
"""

import math
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial.job.duty import Cargo, Deck, Weighing
from urial.road import balance, winch
from urial.road import deck as decks
from urial.road.weighing import NotWeighed, weigh

BLOCK = st.builds(
    lambda kg, front, across, high: Cargo(
        kg=kg, front_mm=front, across_mm=across, long_mm=600, wide_mm=600, high_mm=high
    ),
    st.floats(5, 900),
    st.floats(0, 3000),
    st.floats(-600, 600),
    st.floats(100, 1500),
)
DECKS = st.builds(
    lambda cargo, axles, tongue: Deck(cargo=tuple(cargo), axles=axles, empty_tongue_kg=tongue),
    st.lists(BLOCK, max_size=6),
    st.sampled_from("123"),
    st.floats(0, 200),
)


@given(DECKS)
def test_every_load_is_in_equilibrium(deck):
    b = decks.loaded(deck)
    lumps = [decks.empty(deck), *(p.lump(deck) for p in decks.stacked(deck))]
    assert b.tongue_kg + b.axle_kg == pytest.approx(sum(m.kg for m in lumps))
    about_coupling = sum(m.kg * m.x for m in lumps)
    each = b.axle_kg / b.axles
    assert sum(each * x for x in decks.axle_places(deck)) == pytest.approx(about_coupling)
    assert sum(b.tyres) * b.axles == pytest.approx(b.axle_kg)
    rolling = sum(m.kg * m.y for m in lumps)
    assert (b.tyres[0] - b.tyres[1]) * b.axles * deck.track_mm / 2 == pytest.approx(rolling, abs=1e-6)
    other = balance.trailer_balance(decks.axle_places(deck), [(m.kg, m.x) for m in lumps])
    assert other.tongue_kg == pytest.approx(b.tongue_kg, abs=1e-6)


def test_the_empty_trailer_has_its_own_tongue_weight():
    b = decks.loaded(Deck(empty_kg=500, empty_tongue_kg=55))
    assert (b.total_kg, b.tongue_kg) == (500, pytest.approx(55))


def test_a_block_lies_on_what_is_under_it():
    a = Cargo(name="a", front_mm=0, high_mm=400)
    b = Cargo(name="b", front_mm=500, high_mm=300)  # overlaps a
    c = Cargo(name="c", front_mm=2000, high_mm=200)
    deck = Deck(cargo=(a, b, c), height_mm=560)
    assert [p.base_mm for p in decks.stacked(deck)] == [560, 960, 560]


@given(st.floats(8, 14), st.floats(0, 2800))
def test_put_it_where_the_tongue_weight_is_what_is_wanted(percent, front):
    deck = Deck(
        cargo=(
            Cargo(name="box", kg=700, front_mm=1500, long_mm=800),
            Cargo(name="gear", kg=120, front_mm=front),
        )
    )
    try:
        at = decks.place_for(deck, 0, percent)
    except ValueError as error:
        assert "alone cannot make" in str(error)
        return
    moved = deck.model_copy(
        update={"cargo": (deck.cargo[0].model_copy(update={"front_mm": at}), deck.cargo[1])}
    )
    assert decks.loaded(moved).percent == pytest.approx(percent)


def test_the_range_finds_the_worst_of_every_state():
    deck = Deck(
        cargo=(
            Cargo(name="water", kind="liquid", kg=300, least_kg=0, front_mm=200, long_mm=1200, fill=50),
            Cargo(name="calf", kind="animal", kg=120, front_mm=2000, long_mm=1400, fill=60),
            Cargo(name="hay", kind="later", kg=200, front_mm=2600, across_mm=0, long_mm=900, wide_mm=900),
        )
    )
    r = decks.tongue_range(deck)
    base = decks.empty(deck)
    percents = []
    for water in ((300, -300.0), (300, 300.0), (0, 0.0)):
        for calf in (-280.0, 280.0):
            for hay in (True, False):
                p = decks.stacked(deck)
                lumps = [base, p[1].lump(deck, None, calf)]
                if water[0]:
                    lumps.append(p[0].lump(deck, *water))
                if hay:
                    lumps.append(p[2].lump(deck))
                percents.append(decks.balance(deck, lumps).percent)
    assert r.least.percent == pytest.approx(min(percents)) and r.most.percent == pytest.approx(max(percents))
    assert "water used up" in r.least_why and "calf astern" in r.least_why
    assert r.least.percent < decks.loaded(deck).percent < r.most.percent


def test_a_half_full_tank_shifts_a_quarter_of_its_length():
    assert decks.shift(Cargo(kind="liquid", long_mm=1200, fill=50)) == 300
    assert (
        decks.shift(Cargo(kind="liquid", long_mm=1200, fill=100))
        == 0
        == decks.shift(Cargo(kind="solid", fill=50))
    )


def test_it_tips_where_half_the_track_stands_under_the_middle():
    deck = Deck(track_mm=1800)
    b = decks.loaded(deck)
    assert decks.tip_g(deck, b) == pytest.approx(900 / 520)
    assert decks.highest_centre(deck, b, 0.5) == pytest.approx(1800)


@pytest.mark.parametrize(
    ("values", "says"),
    [
        ({"axle_mm": 6000.0}, "last axle is behind the deck"),
        ({"axle_mm": 300.0, "axles": "3"}, "first axle is under the coupling"),
        ({"cargo": (Cargo(name="crate", front_mm=3000, long_mm=800),)}, "“crate” hangs over the edge"),
        ({"cargo": (Cargo(name="crate", across_mm=700, wide_mm=800),)}, "hangs over the edge"),
        ({"empty_tongue_kg": 600.0}, "as much as all of it"),
        ({"empty_kg": -5.0}, "greater than or equal"),
    ],
)
def test_a_deck_that_cannot_be_is_refused(values, says):
    with pytest.raises(ValueError, match=says):
        Deck(**values)


def test_a_load_that_weighs_more_used_up_than_full_is_refused():
    with pytest.raises(ValueError, match="used up than full"):
        Cargo(kg=10, least_kg=20)


# ---- weighing


@given(st.floats(20, 400), st.floats(0, 900))
def test_a_jack_behind_the_coupling_reads_more_than_the_tongue(tongue, behind):
    # a trailer of tongue weight S: held at the jack instead, R = S·L/(L − j)
    reading = tongue * 3300 / (3300 - behind)
    w = weigh(Weighing(method="jack", reading_kg=reading, jack_behind_mm=behind, axle_mm=3300))
    assert w.tongue_kg == pytest.approx(tongue) and w.tongue_sigma > 0.6


def test_a_beam_trebles_a_small_scale():
    w = weigh(Weighing(method="beam", reading_kg=62, coupler_mm=300, scale_mm=900, sigma_kg=0.5))
    assert w.tongue_kg == pytest.approx(186)
    assert w.tongue_sigma == pytest.approx(math.hypot(1.5, 186 * math.hypot(2 / 900, 2 / 300)))


def test_a_weighbridge_gives_tongue_and_trailer():
    w = weigh(
        Weighing(
            method="bridge",
            alone_front_kg=1150,
            alone_rear_kg=1050,
            hitched_front_kg=1070,
            hitched_rear_kg=1330,
            trailer_axles_kg=1650,
            sigma_kg=5,
        )
    )
    assert (
        (w.tongue_kg, w.trailer_kg) == (200, 1850)
        and w.tongue_sigma == 10
        and w.trailer_sigma == pytest.approx(5 * math.sqrt(5))
    )


READ = {
    "reading_kg": 100.0,
    "jack_behind_mm": 0.0,
    "axle_mm": 3300.0,
    "coupler_mm": 300.0,
    "scale_mm": 900.0,
    "alone_front_kg": 0.0,
    "alone_rear_kg": 0.0,
    "hitched_front_kg": 0.0,
    "hitched_rear_kg": 0.0,
    "trailer_axles_kg": 0.0,
}


@pytest.mark.parametrize(
    ("values", "says"),
    [
        ({"method": "jack", "jack_behind_mm": 3400.0}, "behind the trailer's axles"),
        ({"method": "beam", "coupler_mm": 1000.0}, "beyond the scale"),
        ({"method": "bridge"}, "not on the bridge"),
        ({"method": "bridge", "alone_front_kg": 1000.0, "trailer_axles_kg": 100.0}, "less than alone"),
    ],
)
def test_a_weighing_that_cannot_be_is_refused(values, says):
    with pytest.raises(ValueError, match=says):
        weigh(Weighing(**{**READ, **values}))


@pytest.mark.parametrize(
    ("method", "missing"),
    [("jack", "reading_kg"), ("jack", "axle_mm"), ("beam", "coupler_mm"), ("bridge", "trailer_axles_kg")],
)
def test_a_weighing_takes_no_part_until_it_is_filled(method, missing):
    title = str(Weighing.model_fields[missing].title)
    with pytest.raises(NotWeighed, match=f"Not weighed yet: “{re.escape(title)}”"):
        weigh(Weighing(**{**READ, "method": method, missing: None}))
    with pytest.raises(NotWeighed):
        weigh(Weighing(method=method))


# ---- winches and straps


def test_legs_pull_more_the_wider_they_are():
    assert winch.leg_pull(10_000, 0, 2) == 5000
    assert winch.leg_pull(10_000, 60, 2) == pytest.approx(10_000 / math.sqrt(3))
    assert winch.leg_pull(10_000, 120, 2) == pytest.approx(10_000)
    assert winch.leg_pull(10_000, 120, 1) == 10_000
    with pytest.raises(ValueError, match="in one line"):
        winch.leg_pull(10_000, 180, 2)


def test_the_pull_falls_layer_by_layer_and_the_rope_is_all_wound():
    rows = winch.layers(20_000, 63, 200, 8, 25)
    assert rows[0].pull_N == 20_000 and rows[1].pull_N == pytest.approx(20_000 * 71 / 87)
    assert rows[0].rope_m == pytest.approx(25 * math.pi * 0.071) and sum(
        r.rope_m for r in rows
    ) == pytest.approx(25)
    assert winch.layer_at(rows, 25).number == 1 and winch.layer_at(rows, 0).number == rows[-1].number
    torques = {round(r.pull_N * r.diameter_mm, 3) for r in rows}
    assert len(torques) == 1


def test_the_danger_zone_reaches_as_far_as_the_line_is_long():
    zone = winch.danger_zone((0, 0), (-10_000, 0))
    xs, ys = [x for x, _ in zone], [y for _, y in zone]
    assert min(xs) == pytest.approx(-10_000) and max(xs) == pytest.approx(0, abs=1)
    assert max(ys) == pytest.approx(10_000 * math.sin(math.radians(15)))


def test_a_high_hitch_rolls_a_two_wheeler_more():
    from urial.job.host import starting_host
    from urial.road.lean import lean

    host = starting_host("two-wheeler")
    low, high = lean(host, 350, 300, 25, 90), lean(host, 700, 300, 25, 90)
    assert low.moment_Nmm == pytest.approx(0.3 * 25 * 9.80665 * 350) and high.moment_Nmm == pytest.approx(
        2 * low.moment_Nmm
    )
    assert high.lean_deg > 1.9 * low.lean_deg and low.mass_ratio == pytest.approx(90 / 290)
    assert low.steer_percent == pytest.approx(100 * 25 * 300 / 1480 / 130)
