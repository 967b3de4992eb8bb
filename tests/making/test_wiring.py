"""Wiring: cables by hand against drop, current and fuse; plugs against their standards; what is said."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import families
from urial.job.making import PLUGS, Making, Wiring
from urial.making import wiring
from urial.making.nested import nested
from urial.making.parts import parts_list
from urial.making.plan import ALL, plan
from urial.making.price import quote
from urial.making.status import status
from urial.making.step import key_of
from urial.making.wiring import LAMPS, SOCKET, NoCable, book, cable, cables, drop, fuse, gauge, needed, wired
from urial.prove.verdict import prove
from urial.shop.snapshot import usual

ON = Wiring(what=LAMPS, plug="7-round", run_mm=6000.0)


def by(found):
    return {w.at: w for w in found.wires}


# ---- one cable


def test_a_drop_by_hand():
    """There and back 12 m at 3.5 A in 1.5 mm²: 12 · 3.5 · 0.021 / 1.5 = 0.588 V; 0.4 V want 2.205 mm²."""
    assert drop(3.5, 6000, 1.5) == pytest.approx(0.588)
    assert needed(3.5, 6000, 0.4) == pytest.approx(2.205)
    assert cable(3.5, 6000, 0.4).name == "2.5 mm²"
    assert drop(3.5, 6000, 1.5, 1) == pytest.approx(0.294) and cable(3.5, 6000, 0.4, ways=1).name == "1.5 mm²"


def test_a_cable_exactly_thick_enough_will_do_and_a_hair_less_will_not():
    most = drop(3.5, 6000, 2.5)
    assert cable(3.5, 6000, most).name == "2.5 mm²" and cable(3.5, 6000, most - 1e-6).name == "4 mm²"


def test_a_short_cable_is_as_thick_as_its_fuse_and_its_current_want():
    """20 A want a fuse of 25 A; 2.5 mm² carries 25, 1.5 mm² 18."""
    assert fuse(20.0) == 25.0 and cable(20.0, 100, 0.4, carries=25.0).name == "2.5 mm²"
    assert cable(20.0, 100, 0.4, carries=25.1).name == "4 mm²" and cable(18.1, 100, 0.4).name == "2.5 mm²"
    assert cable(1.0, 100, 0.4, least=1.5).name == "1.5 mm²"


@pytest.mark.parametrize(("amps", "rated"), [(0.1, 2), (1.6, 2), (1.61, 3), (4.0, 5), (6.0, 7.5), (32.0, 40)])
def test_a_fuse_stands_five_quarters_of_the_current(amps, rated):
    assert fuse(amps) == rated


def test_what_is_too_much_is_refused_with_what_to_do():
    with pytest.raises(NoCable, match="share it between two"):
        fuse(32.1)
    with pytest.raises(NoCable, match="shorten it"):
        cable(30.0, 100_000, 0.4)


@pytest.mark.parametrize(
    ("n", "mm2"), [(18, 0.823), (16, 1.31), (14, 2.08), (12, 3.31), (10, 5.26), (4, 21.15)]
)
def test_american_gauges_as_published(n, mm2):
    assert gauge(n) == pytest.approx(mm2, rel=5e-3)


def test_a_gauge_has_its_least_metal_and_carries_what_a_thinner_metric_one_does():
    """14 AWG: 2.08 · 0.88 = 1.83 mm²: as 1.5 mm², 18 A.  18 AWG: 0.724 mm², thinner than the thinnest."""
    by_name = {c.name: c for c in cables("inch")}
    assert by_name["14 AWG"].mm2 == pytest.approx(1.832, abs=2e-3) and by_name["14 AWG"].carries == 18
    assert by_name["18 AWG"].carries == pytest.approx(10 * 0.7243 / 0.75, rel=1e-3)


@given(
    st.floats(0.1, 32), st.floats(100, 20_000), st.sampled_from(["metric", "inch"]), st.sampled_from([1, 2])
)
def test_what_is_chosen_holds_and_the_next_thinner_does_not(amps, mm, system, ways):
    try:
        guard = fuse(amps)
        chosen = cable(amps, mm, 0.4, system, ways, guard)
    except NoCable:
        thickest = cables(system)[-1]
        assert drop(amps, mm, thickest.mm2, ways) > 0.4
        return
    assert drop(amps, mm, chosen.mm2, ways) <= 0.4 + 1e-9 and chosen.carries >= guard >= amps
    thinner = [c for c in cables(system) if c.mm2 < chosen.mm2]
    assert not thinner or drop(amps, mm, thinner[-1].mm2, ways) > 0.4 or thinner[-1].carries < guard


@pytest.mark.parametrize(
    ("mm2", "words"), [(0.75, "red"), (1.5, "red"), (2.5, "blue"), (4, "yellow"), (6, "yellow")]
)
def test_crimps_by_their_colour(mm2, words):
    assert wiring.terminal(mm2) == f"{words} crimp, insulated"


def test_thick_cable_gets_a_bare_lug():
    assert wiring.terminal(10).startswith("bare lug")


# ---- plugs


def test_seven_round_contacts_by_the_standard():
    """ISO 1724."""
    rows = {c.at.split()[0]: (c.does, c.colours[0]) for c in book().plugs["7-round"].contacts}
    assert rows == {
        "1": ("left turn", "yellow"),
        "2": ("rear fog", "blue"),
        "3": ("earth", "white"),
        "4": ("right turn", "green"),
        "5": ("right tail and plate", "brown"),
        "6": ("stop", "red"),
        "7": ("left tail and plate", "black"),
    }


def test_thirteen_contacts_by_both_schools():
    """ISO 11446: the first eight as the seven, then the feeds, each with its own earth."""
    plug = book().plugs["13-round"]
    assert [c.at for c in plug.contacts] == [str(n) for n in range(1, 14)]
    assert [c.colours for c in plug.contacts[7:10]] == [
        ("pink", "grey"),
        ("orange", "brown and blue"),
        ("grey", "brown and red"),
    ]
    assert (plug.on("supply").earth, plug.on("switched supply").earth) == ("13", "11")
    seven = book().plugs["7-round"].contacts
    assert [(c.does, c.colours[0]) for c in plug.contacts[:7]] == [(c.does, c.colours[0]) for c in seven]


def test_blades_by_both_schools():
    """Trailer looms and camper looms agree on earth, brakes and supply alone."""
    plug = book().plugs["7-blade"]
    same = {c.does for c in plug.contacts if c.colours[0] == c.colours[1]}
    assert same == {"earth", "brakes", "supply"}
    assert plug.on("left stop and turn").colours == ("yellow", "red")
    assert plug.on("right stop and turn").colours == ("green", "brown")
    assert plug.on("tail and plate").colours == ("brown", "green")


@pytest.mark.parametrize("name", sorted(PLUGS))
def test_no_colour_is_there_twice_in_a_school_but_an_earths(name):
    plug = book().plugs[name]
    for school in range(len(plug.schools)):
        own = [c.colours[school] for c in plug.contacts if c.does not in ("earth", "earth of 9")]
        assert len(set(own)) == len(own)


def test_two_white_earths_are_told_apart():
    wishes = ON.model_copy(update={"plug": "13-round", "supply_A": 8.0, "colours": "second"})
    found = wired(wishes, 0.0)
    assert any("3 and 13 are both white" in w for w in found.words) and "older" in found.school
    assert not any("both" in w for w in wired(wishes.model_copy(update={"colours": "first"}), 0.0).words)


# ---- all of it


def test_a_trailers_lamps_by_hand():
    """6 m of 7 round contacts with bulbs: fog 21, stop 42, both turns 42, tails and plates 20 W are 125 W, so
    10.42 A at once; 0.2 V of earth want 6 · 10.4167 · 0.021 / 0.2 = 6.5625 mm²: 10 mm² loses 0.13125 V.  A
    turn lamp has 0.26875 V left: 6 · 1.75 · 0.021 / 0.26875 = 0.82 mm², and no less than 1.5: 0.147 V.
    """
    found = by(wired(ON, 0.0))
    earth, turn, stop = found["3 (31)"], found["1 (L)"], found["6 (54)"]
    assert earth.amps == pytest.approx(125 / 12) and earth.cable.name == "10 mm²"
    assert earth.drop == pytest.approx(0.13125)
    assert turn.amps == 1.75 and turn.cable.name == "1.5 mm²" and turn.drop == pytest.approx(0.27825)
    assert stop.cable.name == "2.5 mm²" and stop.drop == pytest.approx(6 * 3.5 * 0.021 / 2.5 + 0.13125)


def test_through_the_frame_only_a_lead_of_a_metre_counts_for_the_earth():
    """1 m at 10.42 A: 0.21875 V in 1 mm²; 1.5 mm² loses 0.1458 V, and 0.2 V want 1.094 mm²."""
    earth = by(wired(ON.model_copy(update={"earth": "through the frame"}), 0.0))["3 (31)"]
    assert (
        earth.mm == 1000 and earth.cable.name == "1.5 mm²" and earth.drop == pytest.approx(0.14583, abs=1e-5)
    )


def test_what_may_be_lit_at_once_by_hand():
    """Thirteen contacts: reversing adds 42 W to 125.  Blades: stop and turn are one lamp: 42, tails and
    plates 20, reversing 42 W.
    """
    plugs = book().plugs
    amps, when = wiring.at_once(plugs["13-round"], "bulbs")
    assert amps == pytest.approx(167 / 12) and "reversing" in when
    assert wiring.at_once(plugs["7-blade"], "bulbs")[0] == pytest.approx(104 / 12)
    assert wiring.at_once(plugs["7-round"], "LED")[0] == pytest.approx((4 + 8 + 8 + 4) / 12)


def test_a_supply_has_its_own_earth_and_a_fuse_that_is_named():
    found = wired(ON.model_copy(update={"plug": "13-round", "supply_A": 8.0}), 0.0)
    feed, back = by(found)["9"], by(found)["13"]
    assert (
        feed.earth == "13"
        and back.amps == 8.0
        and feed.drop == pytest.approx(drop(8.0, 6000, feed.cable.mm2, 1) + back.drop)
    )
    assert feed.drop <= 0.4 and feed.fuse == 0.0 and any("fuse of 10 A" in w for w in found.words)
    assert {c.at for c in found.free} == {"10", "11", "12"}


def test_a_feeds_own_earth_is_a_cable_though_the_lamps_go_through_the_frame():
    wishes = {"plug": "13-round", "supply_A": 8.0, "earth": "through the frame"}
    found = by(wired(ON.model_copy(update=wishes), 0.0))
    assert found["3"].mm == 1000 and found["13"].mm == 6000


def test_what_the_lamps_cables_stand_is_told():
    """1.5 mm² carries 18 A: 15; 16 AWG is 1.15 mm² and carries 14: 10."""
    assert any("stands a fuse of 15 A" in w for w in wired(ON, 0.0).words)
    inch = wired(ON.model_copy(update={"plug": "4-flat", "run_mm": 3000.0}), 0.0, "inch")
    assert any("stands a fuse of 10 A" in w for w in inch.words)


def test_a_powered_converter_is_fed_from_the_battery_by_a_cable_of_its_own():
    """7 blades, bulbs: 104 W, 8.667 A at once, fused at 15; 6 m of 2.5 mm² lose 0.4368 V, of 4 mm² 0.273."""
    wishes = Wiring(what=SOCKET, plug="7-blade", watched=True, battery_mm=6000.0)
    found = wired(wishes, 0.0)
    feed = by(found)["converter"]
    assert feed.amps == pytest.approx(104 / 12) and feed.fuse == 15.0 and feed.cable.name == "4 mm²"
    assert feed.drop == pytest.approx(0.273, abs=1e-4) and any("fuse 15 A" in b.what for b in found.bought)
    with pytest.raises(NoCable, match="powered converter"):
        wired(wishes.model_copy(update={"battery_mm": None}), 0.0)


def test_where_there_is_one_earth_it_carries_brakes_and_supply_too():
    wishes = ON.model_copy(update={"plug": "7-blade", "lamps": "LED", "brake_A": 6.0, "supply_A": 10.0})
    earth = by(wired(wishes, 0.0))["at 7 o'clock"]
    assert earth.amps == pytest.approx((8 + 4 + 8) / 12 + 16.0)
    assert any("breakaway" in w for w in wired(wishes, 0.0).words)


def test_a_socket_is_fed_from_the_battery_through_a_fuse():
    """20 A over 6 m, its body the way back: fuse 25 A."""
    wishes = Wiring(what=SOCKET, plug="7-blade", supply_A=20.0, battery_mm=6000.0, host_lamps="together")
    found = wired(wishes, 0.0)
    feed = by(found)["at 1 o'clock"]
    assert feed.mm == 6000 and feed.fuse == 25.0 and feed.drop <= 0.4
    assert any("relay" in w for w in found.words) and any("200 mm" in w for w in found.words)
    assert not any("converter" in b.what for b in found.bought)


def test_a_feed_of_unknown_length_is_refused_rather_than_reckoned_short():
    with pytest.raises(NoCable, match="battery to the socket is not measured"):
        wired(Wiring(what=SOCKET, plug="7-blade", brake_A=6.0), 0.0)
    assert wired(Wiring(what=SOCKET, plug="7-round", brake_A=6.0), 0.0).wires  # there is no contact to feed


@pytest.mark.parametrize(
    ("plug", "host", "watched", "wanted"),
    [
        ("13-round", "separate", False, None),
        ("13-round", "together", False, "converter"),
        ("7-blade", "separate", False, "converter"),
        ("7-blade", "together", False, None),
        ("7-blade", "together", True, "powered converter"),
        ("4-flat", "separate", True, "powered converter"),
    ],
)
def test_a_converter_where_stop_and_turn_differ_or_the_host_watches(plug, host, watched, wanted):
    wishes = Wiring(what=SOCKET, plug=plug, host_lamps=host, watched=watched, battery_mm=6000.0)
    found = wired(wishes, 0.0)
    assert [b.what for b in found.bought if "converter" in b.what] == ([wanted] if wanted else [])
    assert any("onverter between" in w for w in found.words) == (
        (book().plugs[plug].host == "separate") != (host == "separate")
    )


def test_a_plug_without_the_contact_says_so():
    said = " ".join(wired(ON.model_copy(update={"brake_A": 6.0, "supply_A": 5.0}), 0.0).words)
    assert "no contact for the brakes" in said and "no contact for a supply" in said
    flat = " ".join(wired(ON.model_copy(update={"plug": "4-flat"}), 0.0).words)
    assert "no contact for rear fog and reversing" in flat


def test_what_is_thicker_than_its_contact_ends_in_a_box():
    assert any("3 (31) (10 mm²)" in w and "box" in w for w in wired(ON, 0.0).words)
    assert not any("box" in w for w in wired(ON.model_copy(update={"run_mm": 1000.0}), 0.0).words)


@given(
    st.sampled_from(sorted(PLUGS)),
    st.sampled_from(["bulbs", "LED"]),
    st.sampled_from(["by a cable", "through the frame"]),
    st.sampled_from(["metric", "inch"]),
    st.floats(500, 9000),
    st.none() | st.floats(0.5, 12),
)
def test_no_lamp_loses_more_than_it_may_whatever_is_asked(plug, lamps, earth, system, run, supply):
    wishes = Wiring(what=LAMPS, plug=plug, lamps=lamps, earth=earth, run_mm=run, supply_A=supply)
    found = wired(wishes, 0.0, system)
    assert found.worst <= book().rules.lamp_drop_V + 1e-9 and not found.guessed
    assert all(w.cable.carries >= w.amps for w in found.wires)
    assert {w.at for w in found.wires} | {c.at for c in found.free} == {
        c.at for c in book().plugs[plug].contacts
    }


def test_what_is_bought_by_hand():
    """6 m and a tenth: 6.6, bought as 7 m; two stop lamps want it twice: 13.2, bought as 13.5."""
    bought = {b.what: b.amount for b in wired(ON, 0.0).bought}
    assert bought["cable 1.5 mm², yellow"] == 7.0 and bought["cable 2.5 mm², red"] == 13.5
    assert bought["clip, lined"] == 21 and bought["plug, 7 round contacts"] == 1
    assert bought["red crimp, insulated"] == 10 and bought["blue crimp, insulated"] == 4


# ---- in the job


@pytest.fixture(scope="module")
def made():
    return prove(families.new_job("flat-trailer"))


def test_along_the_outside_of_the_part(made):
    """3310 long, 1705 wide over its axle, 402 high: 3310 + 852.5 + 402, with 600 for the loop and 300 for the
    ends 5464.5; no finer than 50.
    """
    assert wiring.along(made.assembly) == 5500


def test_the_plan_wires_it_last_and_a_thicker_cable_makes_that_stale(made):
    wishes = Making(wiring=ON)
    steps = plan(made.assembly, wishes=wishes).by_key
    step = next(s for s in steps.values() if s.kind == "wire")
    assert step.key in steps[key_of(ALL, "hand over")].needs
    assert (
        step.needs
        and step.figures["cable of 3 (31)"] == 10.0
        and step.minutes == pytest.approx(7 * 9 + 6 * 3)
    )
    assert not any(s.kind == "wire" for s in plan(made.assembly).steps)
    unknown = Making(wiring=Wiring(what=SOCKET, plug="7-blade", brake_A=6.0))
    told = next(s for s in plan(made.assembly, wishes=unknown).steps if s.kind == "wire")
    assert "not measured" in told.words


def test_cable_and_hours_are_in_the_price(made):
    shop, rows = usual(), parts_list(made.assembly)

    def priced(wishes):
        stood = status(plan(made.assembly, wishes=wishes), ())
        nests = nested(made.assembly, stood, (), shop, wishes)
        wires = wiring.bought_for(made.assembly, wishes.wiring)
        return quote(made.assembly, rows, stood, nests, shop, wishes, wires)

    bare, two = priced(Making(sets=2)), priced(Making(sets=2, wiring=ON))
    line = next(p for p in two.lines if p.what == "cable 10 mm², white")
    assert line.amount == 14.0 and line.price == pytest.approx(14.0 * 10 * 0.45)
    assert two.hours - bare.hours == pytest.approx(2 * (7 * 9 + 6 * 3) / 60)
    assert two.material > bare.material
