"""Other duties: forces by hand, and what they do to the part."""

import math

import numpy as np
import pytest

from urial import families
from urial.assembly.model import BuildError
from urial.job import edit
from urial.job.duty import Anchor, Carrier, Implement, Item, Link, Recovery, Winch
from urial.loads import duties
from urial.loads.case import LoadPoint
from urial.prove.verdict import prove

G = 9.80665


def on(job, *rows, towed=True):
    return job.model_copy(update={"duties": rows, "duty": job.duty.model_copy(update={"towed": towed})})


def test_a_carrier_drops_hops_and_sways_by_its_policy(job):
    a = families.build(job)
    mouth = a.places["mouth"]
    rows = {
        c.id.split(": ")[1]: c
        for c in duties.duty_cases(
            on(job, Carrier(title="rack", items=(Item(kg=50, behind_mm=400, above_mm=300),))), a
        )
    }
    assert rows["drop"].pulls[0].force == pytest.approx((0, 0, -3 * 50 * G))
    assert rows["hop"].pulls[0].force == pytest.approx((0, 0, 1.5 * 50 * G))
    assert rows["sway left"].pulls[0].force == pytest.approx((0, 0.8 * 50 * G, -50 * G))
    assert rows["brake"].pulls[0].force == pytest.approx((0.8 * 50 * G, 0, -50 * G))
    assert rows["drop"].pulls[0].at == pytest.approx((mouth[0] - 400, 0, mouth[2] + 300))
    rough = duties.duty_cases(on(job, Carrier(items=(Item(kg=50),), ground="unpaved")), a)
    assert rough[0].pulls[0].force[2] == pytest.approx(-4.5 * 50 * G)


def test_folding_a_carrier_in_shortens_its_lever(job):
    a = families.build(job)
    out, folded = (
        duties.cases_on(on(job, Carrier(items=(Item(kg=60, behind_mm=700, in_behind_mm=200),), folded=f)), a)[
            0
        ]
        for f in (False, True)
    )
    lever = lambda c: c.loads["1/receiver mouth"][4] / c.loads["1/receiver mouth"][2]  # noqa: E731
    assert abs(lever(out)) == pytest.approx(700) and abs(lever(folded)) == pytest.approx(200)


def test_the_moment_at_the_mouth_is_the_sum_of_the_items(job):
    a = families.build(job)
    items = (Item(kg=30, behind_mm=300, across_mm=200), Item(kg=20, behind_mm=600, across_mm=-100))
    f = duties.cases_on(on(job, Carrier(items=items)), a)[0].loads["1/receiver mouth"]
    assert f[2] == pytest.approx(-3 * 50 * G)
    assert f[3] == pytest.approx(-3 * G * (30 * 200 - 20 * 100))  # about x: y × Fz
    assert f[4] == pytest.approx(-3 * G * (30 * 300 + 20 * 600))  # about y: −(x × Fz), x rearward negative


def test_a_winch_pulls_at_stall_and_off_straight(job):
    a = families.build(job)
    rows = {
        c.id.split(": ")[1]: c.pulls[0].force for c in duties.duty_cases(on(job, Winch(rated_N=20_000)), a)
    }
    assert rows["straight"] == pytest.approx((-25_000, 0, 0))
    assert rows["left"] == pytest.approx(
        (-25_000 * math.cos(math.radians(15)), 25_000 * math.sin(math.radians(15)), 0)
    )
    assert rows["down"][2] == pytest.approx(-25_000 * math.sin(math.radians(10)))


def test_a_heavier_carrier_needs_more_of_everything_it_hangs_on(job):
    def used(kg):
        v = prove(on(job, Carrier(items=(Item(kg=kg),)), towed=False))
        # the play of a bore does not grow with the load
        return {c.id: c.utilisation for c in v.checks if c.kind not in ("rating", "stiffness")}

    light, heavy = used(40), used(80)
    for name, u in light.items():  # twice as much, but for what the hitch itself weighs
        assert 1.2 * u - 1e-9 < heavy[name] < 2 * u + 1e-9, name


def test_towing_and_carrying_are_judged_together(job):
    both = prove(
        on(
            job,
            Carrier(title="rack", items=(Item(kg=120, behind_mm=500),)),
            Winch(title="winch"),
            Recovery(title="strap"),
        )
    )
    ids = [c.id for c in both.cases]
    assert (
        "brake" in ids
        and "rack: drop" in ids
        and "winch: left" in ids
        and "strap: snatch" in ids
        and len(set(ids)) == len(ids)
    )
    alone = prove(job)
    assert all(
        c.utilisation >= next((d.utilisation for d in alone.checks if d.id == c.id), 0.0) - 1e-9
        for c in both.checks
        if c.kind not in ("rating", "stiffness")  # what is towed has no droop of its own
    )
    limit = next(c for c in both.checks if c.id == "tongue limit")
    assert limit.demand == pytest.approx(190 + 120)


def test_a_job_that_tows_nothing_is_not_judged_by_trailer_limits(job):
    v = prove(on(job, Carrier(), towed=False))
    assert not {"towing limit", "combination", "ball rating"} & {c.id for c in v.checks}
    with pytest.raises(BuildError, match="Nothing is asked of the part"):
        prove(on(job, towed=False))


def test_a_changed_factor_counts_and_is_said(job):
    rack = Carrier(title="rack", factors={"drop/up": -4.0})
    v = prove(on(job, rack))
    case = next(c for c in v.cases if c.id == "rack: drop")
    assert case.changed and case.loads["1/receiver mouth"][2] == pytest.approx(-4 * 40 * G)
    assert not next(c for c in v.cases if c.id == "rack: hop").changed
    assert any("differ from the policy" in w for w in v.warnings)


def test_a_clevis_jerks_a_quarter_harder_than_a_ball(job):
    from urial.loads import towing

    a = families.build(job)
    ball, clevis = (
        next(c for c in towing.cases(edit.put(job, "duty.hitch", h), a) if c.id == "brake").loads["2/ball"]
        for h in ("ball", "clevis")
    )
    assert clevis[0] == pytest.approx(1.25 * ball[0]) and clevis[2] == ball[2]


def test_every_row_of_the_policy_has_a_reason_and_a_source():
    for kind, rows in duties.policy().items():
        assert kind in ("carrier", "winch", "recovery", "implement", "ballast", "anchor")
        for row in rows:
            assert row.reason.endswith((".", "it.", "judged")) and row.source, row.id


def test_an_implement_is_pushed_up_by_what_lifts_the_tractors_rear_axle():
    job = families.survey_job("tractor")
    implement = Implement(kg=180, payload_kg=120, tip_mm=1100)
    host = job.vehicle
    # about the front axle: N (wheelbase + axle to pins + pins to tip) = rear load × wheelbase
    expected = host.rear_kg * G * host.wheelbase_mm / (host.wheelbase_mm + host.lower_behind_mm + 1100)
    assert duties.push_up(host, implement) == pytest.approx(expected)
    rows = {
        c.id.split(": ")[1]: c for c in duties.duty_cases(job.model_copy(update={"duties": (implement,)}))
    }
    assert rows["push up"].pulls[0].force[2] == pytest.approx(0.5 * expected)
    assert rows["bounce"].pulls[0].force[2] == pytest.approx(-2 * 300 * G)
    assert rows["draft"].pulls[1].force == pytest.approx((-3000, 0, 0))
    assert rows["draft"].pulls[1].at[2] == pytest.approx(host.lower_height_mm - implement.depth_mm)


def test_an_anchors_links_are_held_against_their_working_limits():
    anchor = Anchor(
        pull_N=10_000,
        angle_deg=60,
        links=(
            Link(name="leg", legs=True, limit_N=30_000),
            Link(name="ring", limit_N=12_000, marked="working"),
        ),
    )
    (leg, pull, limit), (_, whole, working) = duties.links_of(anchor)
    assert leg == "leg" and pull == pytest.approx(10_000 / math.sqrt(3)) and limit == 10_000
    assert (whole, working) == (10_000, 12_000)


def test_two_duties_of_one_name_keep_their_cases_apart(job):
    ids = [
        c.id
        for c in duties.duty_cases(on(job, Carrier(title="rack"), Carrier(title="rack")), families.build(job))
    ]
    assert len(set(ids)) == len(ids) == 12


def test_items_are_boxes_where_they_are_carried(job):
    mouth = families.build(job).places["mouth"]
    rack = Carrier(
        items=(
            Item(
                name="box",
                behind_mm=400,
                above_mm=300,
                long_mm=200,
                wide_mm=300,
                high_mm=100,
                in_behind_mm=100,
                in_above_mm=500,
            ),
        )
    )
    ((name, low, high),) = duties.carried(on(job, rack), families.build(job))
    assert (
        name == "box"
        and low == pytest.approx((mouth[0] - 500, -150, mouth[2] + 250))
        and high == pytest.approx((mouth[0] - 300, 150, mouth[2] + 350))
    )
    ((_, low, _),) = duties.carried(on(job, rack.model_copy(update={"folded": True})), families.build(job))
    assert low[0] == pytest.approx(mouth[0] - 200)


def test_a_load_in_cradles_is_drawn_between_them():
    job = families.new_job("rail-cradle")
    built = families.build(job)
    boat = next(d for d in job.duties if isinstance(d, Carrier))
    cups = [built.socket_by_key[n].place.o for n in duties.taken_by(boat, built)]
    (_, low, high), *_ = duties.carried(job, built)
    assert cups and (low[1] + high[1]) / 2 == pytest.approx(
        sum(c[1] for c in cups) / 2 + boat.items[0].across_mm
    )


def test_the_packet_prints_duties_and_what_was_changed_from_the_policy(job):
    import pypdfium2

    from urial.making.parts import parts_list
    from urial.papers.packet import packet_pdf

    v = prove(
        on(
            edit.put(job, "duty.factors", {"brake/along": 1.2}),
            Carrier(title="rack", factors={"drop/up": -4.0}),
        )
    )
    doc = pypdfium2.PdfDocument(packet_pdf(v, parts_list(v.assembly)))
    text = " ".join(doc[n].get_textpage().get_text_range() for n in range(3))
    assert (
        "Factors changed from the policy" in text and "1.2" in text and "-4" in text and "rack, drop" in text
    )


def test_a_case_knows_its_duty_and_its_row_even_when_two_share_a_name(job):
    both = on(job, Carrier(title="rack"), Winch(title="winch"), Carrier(title="rack"))
    a = families.build(job)
    ids = [c.id for c in duties.duty_cases(both, a)]
    numbers = [duties.origin(both, i, a)[0] for i in ids]
    assert numbers == [0] * 6 + [1] * 7 + [2] * 6
    assert duties.origin(both, ids[-1], a)[1].id == "launch" and duties.origin(both, "brake", a) is None


def test_a_snatch_comes_from_the_bank_and_from_the_ditch(job):
    rows = {
        c.id.split(": ")[1]: c.pulls[0].force
        for c in duties.duty_cases(on(job, Recovery(stuck_kg=1500)), families.build(job))
    }
    size = 2 * 1500 * G
    assert rows["snatch"] == pytest.approx((-size, 0, 0))
    assert rows["snatch up"] == pytest.approx(
        (-size * math.cos(math.radians(10)), 0, size * math.sin(math.radians(10)))
    )
    assert rows["snatch down"][2] == pytest.approx(-rows["snatch up"][2])
    v = prove(on(job, Recovery(title="strap", stuck_kg=1500), towed=False))
    assert {"strap: snatch up", "strap: snatch down"} <= {c.id for c in v.cases}


def test_a_case_says_the_angle_that_is_really_asked():
    job = families.new_job("trunk-anchor")  # put up facing the pull: 10° aside, not the policy's 15°
    titles = {c.id: c.title for c in duties.duty_cases(job, families.build(job))}
    assert (
        titles["line: pull left"] == "line, pull, 10° left"
        and titles["line: pull up"] == "line, pull, 10° up"
    )
    plain = job.model_copy(update={"duties": (job.duties[0].model_copy(update={"factors": {}}),)})
    titles = {c.id: c.title for c in duties.duty_cases(plain, families.build(plain))}
    assert titles["line: pull left"] == "line, pull, 15° left"


@pytest.mark.parametrize("fy", [500.0, -500.0])
def test_what_leans_in_a_cradle_pushes_its_stop_and_turns_as_much_as_before(fy):
    """Force at the cradle and its couple about the origin by hand: M + P x F, before and after."""
    job = families.new_job("rail-cradle")
    a = families.build(job)
    key = next(s.key for s in a.sockets if s.kind == "cradle")
    points = {s.key: LoadPoint(s.part, s.place.o) for s in a.sockets}
    before = {key: (10.0, fy, -900.0, 1.0, 2.0, 3.0)}
    after = duties.leant(before, points, a)
    piece = key.split("/")[0]
    (stop,) = set(after) - {key}
    assert stop.split("/")[0] == piece and a.socket_by_key[stop].place.z[1] * fy < 0
    assert after[stop] == (0.0, fy, 0.0, 0.0, 0.0, 0.0) and after[key][1] == 0.0
    turns = [
        sum(np.array(six[3:]) + np.cross(points[name].at, six[:3]) for name, six in loads.items())
        for loads in (before, after)
    ]
    assert turns[1] == pytest.approx(turns[0], abs=1e-6)
    level = {key: (10.0, 0.0, -900.0, 0.0, 0.0, 0.0)}
    assert duties.leant(level, points, a) == level


def test_an_implement_that_drags_sideways_is_held_at_its_tip_and_weighs_what_it_weighs():
    """250 kg: 0.3 of it across, 735.5 N, at the tip; all of it down, 2 451.7 N, at its middle."""
    v = prove(families.new_job("three-point-carriage"))
    side = next(c for c in v.cases if c.id.endswith(": side"))
    (middle, down), (tip, across) = side.pulls
    assert down == pytest.approx((0.0, 0.0, -250 * 9.80665)) and across == pytest.approx(
        (0.0, 735.5, 0.0), abs=0.1
    )
    assert tip[0] < middle[0]
    assert [sum(f[k] for f in side.loads.values()) for k in range(3)] == pytest.approx(
        [0.0, 735.5, -2451.66], abs=0.1
    )


def test_weights_that_slide_lean_on_the_end_stop_and_bend_it():
    """Eight weights of 26 kg at 0.5 g: 1 020 N, halfway up the 110 mm that stand over the bar.  M = 1 020 ·
    55 on a plate 8 mm thick and as wide as the bar with its bead (60 + 2 · 8 = 76): Z = 76 · 8²/4 = 1 216
    mm³; S235, F11: 235 · 1 216 / 1.67.
    """
    v = prove(families.new_job("ballast-rack"))
    case = next(n for n, c in enumerate(v.cases) if c.id == "weights: sway left")
    push = 8 * 26 * 0.5 * 9.80665
    assert v.cases[case].loads["1/stop.left"][1] == pytest.approx(push)
    assert [six[1] for name, six in v.cases[case].loads.items() if "weights" in name] == [0.0, 0.0]
    stop = next(c for c in v.checks if c.name == "left end stop, combined forces")
    assert stop.by_case[case] == pytest.approx(push * 55 / (235 * 1216 / 1.67), rel=0.01)
