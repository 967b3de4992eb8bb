"""Coats: how much by hand, when the next one may go on by sums of hours, what stays bare, what is closed."""

import math
from datetime import datetime, timedelta, timezone

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from urial import families
from urial.assembly.model import HOST, LOAD, Bolts, Clamp, Pin
from urial.geometry import path, solids
from urial.job import edit
from urial.job.change import HoleIn, Pick
from urial.job.log import Entry
from urial.job.making import SCHEMES, Finish, Making
from urial.making import coats, finish
from urial.making.coats import Air, book, dew_point, hours, reached, weather, window
from urial.making.plan import Asked, Trial, plan
from urial.making.step import key_of

START = datetime(2026, 12, 1, 8, 0, tzinfo=timezone(timedelta(hours=1)))
PRIMER, COLOUR = book().products["epoxy-primer"], book().products["colour"]
NAMES = sorted(families.families())


def h(n):
    return timedelta(hours=n)


# ---- the clock


def test_at_a_temperature_of_the_sheet_it_takes_the_sheets_hours():
    for steel, n in PRIMER.next_h:
        assert reached(PRIMER, PRIMER.next_h, START, [Air(START, steel, 50)]) == START + h(n)
    late = window(PRIMER, START, [Air(START, 20, 50)])
    assert (late.may, late.late, late.hard) == (START + h(4), START + h(120), START + h(24))


def test_between_them_it_lies_on_a_straight_line_of_logarithms():
    """9 h at 10 °C and 4 h at 20 °C: at 15 °C the root of 36, 6 h."""
    assert hours(PRIMER.next_h, 15.0) == pytest.approx(6.0)
    assert hours(PRIMER.next_h, -5.0) == 9.0 and hours(PRIMER.next_h, 40.0) == 2.5


def test_a_cold_night_is_reckoned_in():
    """By hand: two hours at 20 °C bring 2/4; then 10 °C at 1/9 an hour: the other half takes 4.5 h."""
    airs = [Air(START, 20, 50), Air(START + h(2), 10, 60)]
    assert reached(PRIMER, PRIMER.next_h, START, airs) == START + h(6.5)


def test_below_its_least_temperature_nothing_comes_of_it_and_warmed_it_goes_on():
    cold = Air(START, 4, 50)
    assert reached(PRIMER, PRIMER.next_h, START, [cold]) is None
    warmed = [cold, Air(START + h(10), 20, 50)]
    assert reached(PRIMER, PRIMER.next_h, START, warmed) == START + h(14)


def test_what_was_read_before_and_after_counts_for_its_time():
    """A reading holds until the next, the first one before it too; those of earlier days do not."""
    early, at_once = Air(START - h(30), 30, 50), Air(START - h(1), 10, 50)
    assert reached(PRIMER, PRIMER.next_h, START, [at_once, early]) == START + h(9)
    assert reached(PRIMER, PRIMER.next_h, START, [Air(START + h(5), 20, 50)]) == START + h(4)


@given(st.lists(st.tuples(st.floats(0.1, 20), st.floats(10, 35)), min_size=1, max_size=6))
def test_when_it_is_reached_the_hours_of_each_spell_add_up_to_one(spells):
    airs, at = [], START
    for length, steel in spells:
        airs.append(Air(at, steel, 50))
        at += h(length)
    then = reached(PRIMER, PRIMER.next_h, START, airs)
    ends = [a.at for a in airs[1:]] + [max(then, at)]
    parts = [
        max((min(end, then) - a.at).total_seconds(), 0)
        / 3600
        / np.exp(np.interp(a.steel_C, [10, 20, 30], np.log([9, 4, 2.5])))
        for a, end in zip(airs, ends, strict=True)
    ]
    assert sum(parts) == pytest.approx(1.0, abs=1e-6)


def test_without_a_reading_it_says_so():
    with pytest.raises(ValueError, match="Nobody has read"):
        reached(PRIMER, PRIMER.next_h, START, [])


def test_the_dew_point_is_that_of_published_tables():
    """Psychrometric tables: 20 °C at 50 % gives 9.3 °C, at 100 % itself; 10 °C at 80 % 6.7 °C."""
    assert dew_point(20, 50) == pytest.approx(9.27, abs=0.1)
    assert dew_point(20, 100) == pytest.approx(20.0, abs=1e-9)
    assert dew_point(10, 80) == pytest.approx(6.7, abs=0.1)


def test_nobody_paints_on_dew_in_fog_or_in_frost():
    assert weather(PRIMER, 20, 50, 18) == ()
    (wet,) = weather(PRIMER, 20, 70, 15)  # dew at 14.4 °C
    assert "water settles on it at 14.4 °C" in wet and "warm it to 18 °C" in wet
    assert any("more than 85 %" in w for w in weather(PRIMER, 20, 90, 30))
    assert any("wants steel of 10 to 35 °C" in w for w in weather(PRIMER, 8, 40, 8))


# ---- the file


def test_every_scheme_a_job_may_choose_is_known_and_every_product_is_sound():
    assert set(book().schemes) == set(SCHEMES)
    for p in book().products.values():
        assert "guess" in p.source and p.low_C < p.high_C
        for steel in range(5, 36):
            may, hard = hours(p.next_h, steel), hours(p.hard_h, steel)
            assert may < hard
            if p.latest_h:
                assert may < hours(p.latest_h, steel)


def test_a_sheet_that_contradicts_itself_is_refused():
    raw = PRIMER.model_dump()
    with pytest.raises(ValueError, match="too late before"):
        coats.Product.model_validate({**raw, "latest_h": ((10, 5), (20, 3), (30, 2))})
    with pytest.raises(ValueError, match="coldest first"):
        coats.Product.model_validate({**raw, "hard_h": ((20, 24), (10, 60))})
    with pytest.raises(ValueError, match="coats nobody knows"):
        coats.Book.model_validate(
            {**book().model_dump(), "schemes": {"bare": {"title": "", "words": "", "coats": ["tar"]}}}
        )


def test_the_least_holes_are_those_of_the_standard():
    """EN ISO 14713-2: 40 mm square 14, 50 mm 16, 100 mm 25, for one hole at each end."""
    assert [book().vents.hole(s) for s in (20, 40, 41, 50, 100, 999)] == [10, 14, 16, 16, 25, 50]


# ---- how much


def test_of_a_tube_only_the_outside_is_painted():
    """By hand, a cross tube: 2 (w + h) − (8 − 2π) r round, by its length, and a ring at each end;
    about half of all its surface.
    """
    assembly = families.build(families.new_job("rear-receiver"))
    part = assembly.by_key["1/cross tube"]
    stock, long = part.shape.stock, path.length(part.shape.path)
    outer = 2 * (stock.width + stock.height) - (8 - 2 * math.pi) * stock.radius
    assert coats.painted(part) == pytest.approx(outer * long + 2 * stock.section().area, rel=0.01)
    assert coats.painted(part) < 0.6 * solids.surface(part.shape)
    pin = next(p for p in assembly.parts if p.hardware)
    assert coats.painted(pin) == 0.0


def test_litres_by_hand():
    """1 m² of 60 µm dry at half solids is 0.12 l on the steel, and 0.12 / 0.65 from the gun."""
    assert coats.litres(PRIMER, 1e6) == pytest.approx(0.12 / 0.65)


# ---- what stays bare, what is closed


@pytest.mark.parametrize("name", NAMES)
def test_every_bolted_face_and_every_pin_hole_of_painted_steel_stays_bare(name):
    assembly = families.build(families.new_job(name))
    kept = {(m.part, m.what) for m in finish.masked(assembly)}
    for j in assembly.joints:
        if isinstance(j.how, Bolts | Clamp | Pin):
            for key in (j.a, j.b):
                part = assembly.by_key.get(key)
                if key in (HOST, LOAD) or part is None or coats.painted(part) == 0:
                    continue
                assert any(p == key and j.name in what for p, what in kept), (j.key, key)
    whole = finish.area(assembly, [p.key for p in assembly.parts], book().schemes["two-pack"])
    assert all(not assembly.by_key[k].hardware for k in whole.parts)


def test_a_tube_between_plates_is_closed_until_somebody_drills_it():
    job = families.new_job("rear-receiver")
    (closed,) = finish.hollows(families.build(job))
    assert closed.bars == ("1/cross tube",)
    tube = families.build(job).by_key["1/cross tube"].shape.stock
    assert closed.hole == book().vents.hole(max(tube.width, tube.height))
    hole = HoleIn(at=Pick(part="cross tube", along_mm=60.0, across_mm=20.0, face="-z"), diameter_mm=12.0)
    drilled = edit.put(job, "stack.1.changes", (hole,))
    assert finish.hollows(families.build(drilled)) == ()


@pytest.mark.parametrize(("mount", "tube"), [("notched", "4x3x5/16"), ("through", "4x4x1/4")])
def test_a_notch_that_a_receiver_is_welded_into_vents_nothing(mount, tube):
    """The saw opened the tube, the receiver closes it: it would burst in the zinc."""
    job = edit.put(families.new_job("rear-receiver"), "stack.1.cross_tube", tube)
    assembly = families.build(edit.put(job, "stack.1.mount", mount))
    assert assembly.by_key["1/cross tube"].shape.cuts
    assert [x.bars for x in finish.hollows(assembly)] == [("1/cross tube",)]


def test_tubes_mitred_together_are_one_hollow_and_an_open_end_is_none():
    job = families.new_job("rail-cradle")
    found = finish.hollows(families.build(job))
    assert all(len(x.bars) == 3 for x in found)  # base, lip and upright open into each other
    assert finish.hollows(families.build(families.new_job("ball-mount")))[0].bars == ("1/cross tube",)


def test_what_is_sent_out_says_what_must_be_seen_to_first():
    assembly = families.build(families.new_job("rear-receiver"))
    hot = finish.sent(assembly, book().schemes["galvanised"])
    assert any("closed hollow and bursts" in w and "EN ISO 14713-2" in w for w in hot)
    baked = finish.sent(assembly, book().schemes["powder"])
    assert any("blows its coat off" in w for w in baked) and not any("zinc" in w for w in baked)
    assert finish.sent(assembly, book().schemes["two-pack"]) == ()


def test_gloss_that_does_not_match_is_said():
    scheme = book().schemes["liner"].model_copy(update={"coats": ("epoxy-primer", "colour", "liner")})
    assert "gloss and textured" in finish.gloss(scheme)
    assert finish.gloss(book().schemes["two-pack-clear"]) == ""


# ---- in the plan


def coated(name, **more):
    return plan(families.build(families.new_job(name)), wishes=Making(finish=Finish(**more)))


@pytest.mark.parametrize("name", NAMES)
def test_no_coat_before_the_last_bead_and_nothing_goes_on_before_it_is_hard(name):
    found = coated(name)
    by_key, assembly = found.by_key, families.build(families.new_job(name))
    kinds = [s.kind for s in found.steps]
    assert kinds.count("coat") == 3 and kinds.count("wait") == 1
    place = {s.key: n for n, s in enumerate(found.steps)}
    first, hard = place[key_of("job", "coat", "1")], place[key_of("job", "wait", "hard")]
    painted = set(by_key[key_of("job", "coat", "1")].parts)
    for s in found.steps:
        on_host = any(HOST in (assembly.joint_by_key[j].a, assembly.joint_by_key[j].b) for j in s.joints)
        if s.kind in ("run", "dress") and not on_host:
            assert place[s.key] < first, s.key
        if s.kind == "mount" and painted & set(s.parts):
            assert hard < place[s.key], s.key


def test_after_the_proof_it_is_coated_last_and_bare_it_is_not():
    assembly = families.build(families.new_job("rear-receiver"))
    trial = Asked(trials=(Trial("pull", 10.0, "Pull it."),))
    late = plan(assembly, asked=trial, wishes=Making(finish=Finish(when="after the proof")))
    order = [s.kind for s in late.steps]
    assert order.index("proof") < order.index("coat") < order.index("hand over")
    assert "coat" not in {s.kind for s in coated("rear-receiver", scheme="bare").steps}
    out = coated("rear-receiver", scheme="galvanised").by_key[key_of("job", "send out", "coat")]
    assert out.words.startswith("Send it out to be hot-dip galvanised: ") and out.hazards


def test_the_clock_reads_the_log_and_of_two_sets_the_one_and_the_other():
    scheme = book().schemes["two-pack"]

    def done(n, unit, at):
        return Entry(id=f"{n}-{unit}", step=key_of("job", "coat", str(n)), unit=unit, at=at.isoformat())

    air = Entry(id="a", step=finish.AIR, what="read", at=START.isoformat(), figures={finish.STEEL: 20.0})
    one, *rest = finish.clock(scheme, [air, done(1, 1, START), done(1, 2, START + h(2))], sets=2)
    assert one.may == START + h(6) and one.late == START + h(120) and not any(c.laid for c in rest)
    assert [one.state(START + h(n)) for n in (3, 7, 30, 121)] == ["drying", "ready", "hard", "late"]
    (half, *_) = finish.clock(scheme, [air, done(1, 1, START)], sets=2)
    assert half.laid is None and half.state(START) == "open"
    back = Entry(
        id="b", step=key_of("job", "coat", "1"), what="undone", takes_back="1-1", at=START.isoformat()
    )
    assert finish.clock(scheme, [air, done(1, 1, START), back])[0].laid is None
