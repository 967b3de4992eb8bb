"""What stands on a deck presses it where it stands: by lever between two supports, and all of it to the last
N and N·mm."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import families
from urial.job import edit
from urial.job.duty import Carrier, Item
from urial.loads import decks
from urial.prove.verdict import prove
from urial.strength.checks.decking import plate_stress, under_block, under_wheel

G = 9.80665
finite = st.floats(-2000.0, 2000.0)


def test_an_even_load_goes_to_three_supports_as_a_quarter_a_half_and_a_quarter():
    assert decks.hats([0.0, 100.0, 200.0], 0.0, 200.0) == pytest.approx([0.25, 0.5, 0.25])


def test_a_wheel_between_two_supports_goes_to_both_by_lever_and_past_the_last_all_to_that():
    assert decks.hats([0.0, 100.0], 30.0, 30.0) == pytest.approx([0.7, 0.3])
    assert decks.hats([0.0, 100.0], 140.0, 180.0) == pytest.approx([0.0, 1.0])


@given(
    at=st.lists(st.tuples(finite, finite), min_size=1, max_size=9, unique=True),
    place=st.tuples(finite, finite, finite),
    force=st.tuples(finite, finite, finite),
)
def test_what_is_spread_is_all_of_it_and_turns_as_it_did(at, place, force):
    points = {str(n): (x, y, 500.0) for n, (x, y) in enumerate(at)}
    found = decks.spread(points, dict.fromkeys(points, 1 / len(points)), ((place, force),))
    total, turn = np.zeros(3), np.zeros(3)
    for name, six in found.items():
        total += six[:3]
        turn += np.array(six[3:]) + np.cross(np.array(points[name]) - place, six[:3])
    assert total == pytest.approx(np.array(force), abs=1e-6)
    assert turn == pytest.approx(np.zeros(3), abs=1e-3 * (1 + np.abs(force).max()))


def trailer(*items, **values):
    job = families.new_job("flat-trailer")
    for key, value in values.items():
        job = edit.put(job, edit.find_path(job, key), value)
    return job.model_copy(update={"duties": (Carrier(title="load", items=items),)})


def test_a_short_block_over_one_support_loads_that_one_alone_and_not_all_of_the_deck():
    """A 200 mm block right over the third of five cross members: 100 mm to either side of 537.5 mm, so that
    each neighbour has 100²/2 / 537.5 / 200 = 4.65 % of it."""
    job = trailer(Item(name="block", kg=100, behind_mm=0, above_mm=100, long_mm=200, wide_mm=1000))
    a = families.build(job)
    v = prove(job)
    case = next(c for c in v.cases if c.id == "load: drop")
    rows = {}
    for name, six in case.loads.items():
        k = name.split("deck ")[1].split(".")[0]
        rows[k] = rows.get(k, 0.0) + six[2]
    whole = -3 * 100 * G
    assert sum(rows.values()) == pytest.approx(whole)
    pitch = a.socket_by_key["1/deck 2.middle"].place.o[0] - a.socket_by_key["1/deck 3.middle"].place.o[0]
    side = (100**2 / 2) / pitch / 200
    assert rows["2"] == pytest.approx(side * whole, rel=1e-6)
    assert rows["3"] == pytest.approx((1 - 2 * side) * whole, rel=1e-6)
    assert "1" not in rows


def test_a_quad_rolls_over_every_support_far_to_either_side():
    """1.25 g on four wheels, the outer ones over the deck's edge; an axle that is not on the deck yet stands
    on the ramp, and one that would be past its front is not there."""
    quad = Item(
        name="quad",
        kg=320,
        behind_mm=0,
        above_mm=450,
        long_mm=1900,
        wide_mm=1100,
        stands="wheels",
        wheelbase_mm=1250,
        track_mm=850,
    )
    v = prove(trailer(quad))
    rolled = [c for c in v.cases if ": rolled on" in c.id]
    assert len(rolled) == 2 * (5 + 2)  # its rear wheels come no nearer to the first row than 1 250 mm
    one = next(c for c in rolled if c.id == "load: rolled on, rear wheels over support 5, left")
    each = 320 * G * 1.25 / 4
    assert len(one.pulls) == 4
    assert sum(six[2] for six in one.loads.values()) == pytest.approx(-each * len(one.pulls))
    edge = v.assembly.socket_by_key["1/deck 5.left edge"].place.o[1]
    assert max(p[1] for p, _ in one.pulls) == pytest.approx(edge)
    first = next(c for c in rolled if c.id == "load: rolled on, front wheels over support 5, left")
    assert len(first.pulls) == 2  # the rear axle stands on the ramp yet


def test_a_cross_member_under_a_cart_in_its_middle_bends_as_a_beam_between_the_rails_does():
    """Two wheels in line on the middle of the cross member behind the tongue, 3 g: P L/4 between the rails if
    they let it turn, no less than half of that where they hold it."""
    cart = Item(
        name="cart", kg=400, behind_mm=537.5, above_mm=200, stands="wheels", wheelbase_mm=1, track_mm=0
    )
    v = prove(trailer(cart))
    n = next(k for k, c in enumerate(v.cases) if c.id == "load: drop")
    moment = 3 * 400 * G * (1150 - 60) / 4
    member = next(c for c in v.checks if c.id == "1/cross member.4: forces")
    held = v.basis.available(tube_moment(50, 5), 1.67)
    assert 0.5 * moment / held < member.by_case[n] < 1.15 * moment / held


def tube_moment(b, t):
    """Fy Z of a square tube, S235, its corners taken off by a fifth of their squares."""
    z = b * b * b / 4 - (b - 2 * t) ** 3 / 4
    return 235 * 0.93 * z


def test_boards_bend_under_a_wheel_and_under_a_block_by_hand():
    """Boards of 27 mm, 145 mm wide, free span 487.5 + 27 mm."""
    job = trailer(Item(name="load", kg=600, behind_mm=-60, above_mm=400, long_mm=1900, wide_mm=1150))
    v = prove(job)
    c = next(c for c in v.checks if c.id == "1/deck: between supports")
    pitch = (
        v.assembly.socket_by_key["1/deck 1.middle"].place.o[0]
        - v.assembly.socket_by_key["1/deck 2.middle"].place.o[0]
    )
    span = pitch - 50 + 27
    q = 3 * 600 * G / (1900 * 1150)
    n = next(k for k, case in enumerate(v.cases) if case.id == "load: drop")
    assert c.by_case[n] == pytest.approx(q * span**2 / 8 / (27**2 / 6) / (24 / 2.16), rel=1e-6)
    cart = Item(name="cart", kg=200, above_mm=200, stands="wheels", wheelbase_mm=900, track_mm=0, tyre_mm=60)
    v = prove(trailer(cart))
    c = next(c for c in v.checks if c.id == "1/deck: between supports")
    n = next(k for k, case in enumerate(v.cases) if case.id == "load: drop")
    moment = 3 * 100 * G * (span / 4 - 100 / 8)  # two wheels
    assert c.by_case[n] == pytest.approx(moment / (145 * 27**2 / 6) / (24 / 2.16), rel=1e-6)


def navier(load, t, a, b, u, v, terms=399):
    """Greatest stress at the middle of a plate held all round under a load on u × v in its middle: Navier's
    double sine series (Timoshenko & Woinowsky-Krieger, article 30)."""
    total = 0.0
    for m in range(1, terms, 2):
        for n in range(1, terms, 2):
            p = (
                16
                * load
                / (math.pi**2 * m * n * u * v)
                * math.sin(m * math.pi / 2)
                * math.sin(n * math.pi / 2)
                * math.sin(m * math.pi * u / (2 * a))
                * math.sin(n * math.pi * v / (2 * b))
            )
            k = (m / a) ** 2 + (n / b) ** 2
            total += (
                p
                / (math.pi**2 * k**2)
                * ((n / b) ** 2 + 0.3 * (m / a) ** 2)
                * math.sin(m * math.pi / 2)
                * math.sin(n * math.pi / 2)
            )
    return 6 * total / t**2


@pytest.mark.parametrize(
    ("long", "short", "side"), [(1150.0, 330.0, 60.0), (600.0, 500.0, 80.0), (2000.0, 490.0, 120.0)]
)
def test_a_sheet_under_a_wheel_is_stressed_as_naviers_series_has_it(long, short, side):
    ours = plate_stress(1000.0, 4.0, short, long, side * side)
    assert ours == pytest.approx(navier(1000.0, 4.0, long, short, side, side), rel=0.04)


def test_a_small_load_is_never_stressed_without_end():
    assert plate_stress(1000.0, 10.0, 300.0, 600.0, 1e-6) < 3 * 1000 / (2 * math.pi * 100) * 7
    # a foot of 2 mm radius on 10 mm: r' = √(1.6·2² + 10²) − 6.75 = 3.565; β 0.958 at a/b 2
    hand = 3 * 1000 / (2 * math.pi * 100) * (1.3 * math.log(2 * 300 / (math.pi * 3.565)) + 0.958)
    assert plate_stress(1000.0, 10.0, 300.0, 600.0, math.pi * 4) == pytest.approx(hand, rel=2e-3)


def test_a_block_shorter_than_the_span_is_a_load_in_its_middle():
    assert under_block(2.0, 400.0, 400.0) == pytest.approx(2.0 * 400**2 / 8)
    assert under_block(2.0, 100.0, 400.0) == pytest.approx(200.0 * (100 - 12.5))
    assert under_wheel(1000.0, 400.0) == pytest.approx(1000 * (100 - 12.5))


def test_sheet_is_short_where_boards_hold_and_mesh_is_less_than_half_of_it():
    cart = Item(
        name="cart", kg=200, above_mm=200, stands="wheels", wheelbase_mm=900, track_mm=700, tyre_mm=120
    )
    used = {}
    for kind in ("timber", "tread", "mesh"):
        v = prove(trailer(cart, deck=kind))
        used[kind] = next(c for c in v.checks if c.id == "1/deck: between supports").utilisation
    assert used["timber"] < 1 < used["tread"]
    assert used["mesh"] == pytest.approx(used["tread"] / 0.45, rel=0.03)  # and the trailer weighs less


def test_cargo_leans_on_a_side_rail_with_what_friction_does_not_hold():
    """0.8 g sideways, 0.3 of 1 g held by friction: half its weight leans on the rail, and the deck holds what
    that turns."""
    load = Item(name="sacks", kg=500, behind_mm=-60, above_mm=300, long_mm=1800, wide_mm=1100)
    v = prove(trailer(load, side_mm=350.0))
    case = next(c for c in v.cases if c.id == "load: sway left")
    leans = sum(six[1] for name, six in case.loads.items() if "side" in name)
    assert leans == pytest.approx(0.5 * 500 * G, rel=1e-6)
    assert all(".left" in name for name in case.loads if "side" in name)
    whole = np.zeros(3)
    for six in case.loads.values():
        whole += six[:3]
    assert whole == pytest.approx(np.array([0.0, 0.8, -1.0]) * 500 * G, abs=1e-6)
    posts = {v.assembly.by_key[p.key].mark for p in v.assembly.parts if "post" in p.name and p.side == ""}
    assert any(c.by_case[v.cases.index(case)] > 0.05 for c in v.checks if c.part in posts)


def test_a_rack_without_a_sheet_shares_by_lever_as_it_did():
    a = families.build(families.new_job("rack-carrier"))
    names = [s.key for s in a.sockets if s.kind == "deck"]
    open_rack = edit.put(
        families.new_job("rack-carrier"), edit.find_path(families.new_job("rack-carrier"), "deck"), "open"
    )
    assert decks.grid(a, names) is not None
    assert decks.grid(families.build(open_rack), names) is None


def test_cargo_leans_on_the_stop_ahead_of_it_when_it_brakes():
    """0.8 g ahead, 0.3 of 1 g held by friction: half of 500 kg leans on the front stop, at its upper edge."""
    load = Item(name="sacks", kg=500, behind_mm=-60, above_mm=300, long_mm=1800, wide_mm=1000)
    v = prove(trailer(load))
    for row, name, way in (("brake", "front", 1.0), ("launch", "rear", -1.0)):
        case = next(c for c in v.cases if c.id == f"load: {row}")
        leans = {k: six for k, six in case.loads.items() if " end " in k}
        assert all(f"{name} end" in k for k in leans) and len(leans) == 2
        assert sum(six[0] for six in leans.values()) == pytest.approx(way * 0.5 * 500 * G, rel=1e-6)
        whole = np.sum([six[:3] for six in case.loads.values()], axis=0)
        assert whole == pytest.approx(np.array([way * 0.8, 0.0, -1.0]) * 500 * G, abs=1e-6)
    sway = next(c for c in v.cases if c.id == "load: sway left")
    assert not any(" end " in k for k in sway.loads)


def test_a_push_to_a_corner_is_held_by_friction_once():
    """0.6 g ahead and 0.8 g aside are 1 g: 0.7 of it slides, 0.42 against the stop, 0.56 against the rail."""
    load = Item(name="sacks", kg=100, behind_mm=-60, above_mm=300, long_mm=1800, wide_mm=1000)
    v = prove(trailer(load, side_mm=350.0))
    names = [s.key for s in v.assembly.sockets if s.kind == "deck"]
    w = 100 * G
    held, _ = decks._leans(v.assembly, names, load, (-2000.0, 0.0, 900.0), (0.6 * w, 0.8 * w, -w))
    assert sum(six[0] for six in held.values()) == pytest.approx(0.42 * w)
    assert sum(six[1] for six in held.values()) == pytest.approx(0.56 * w)


def test_the_beads_of_a_stop_hold_as_a_couple_between_foot_and_upper_corner():
    """The stop is pulled off its member about the foot's bead, by the upper one.  Member 50 × 50 × 5 with
    its foot's bead R + 6 over the underside: 29 mm below the upper bead, 111 mm below where it leans.  The
    member's own wall is the weaker: 0.6 · 235 · 5 / 1.5 = 470 N/mm (the beads 0.3 · 482 · 4.24 = 613).
    """
    load = Item(name="sacks", kg=500, behind_mm=-60, above_mm=300, long_mm=1800, wide_mm=1000)
    v = prove(trailer(load, cross="50x50x5"))
    case = next(k for k, c in enumerate(v.cases) if c.id == "load: brake")
    weld = next(c for c in v.checks if c.id.startswith("1/front stop weld") and c.kind == "weld")
    joint = v.assembly.joint_by_key["1/front stop weld"]
    foot, upper = joint.how.runs[0], joint.how.runs[1]
    assert upper.a[2] - foot.a[2] == pytest.approx(29.0) and upper.radius == 10.0
    leans = next(s for s in v.assembly.sockets if s.key == "1/front end 1").place.o[2] - foot.a[2]
    long = abs(upper.b[1] - upper.a[1])
    pulled = 0.5 * 500 * G * leans / 29.0 / long
    assert leans == pytest.approx(111.0, abs=1.0)
    # the short beads at its ends help a little
    assert weld.by_case[case] == pytest.approx(pulled / 470.0, rel=0.03)
