"""The rating plate: what it promises is what was judged, and it is refused while something speaks against."""

import io
import re
from xml.etree import ElementTree

import ezdxf
import pytest

from urial import families, units
from urial.assembly import bodies
from urial.job import edit, origin
from urial.job.log import Entry
from urial.job.origin import Origin
from urial.loads import towing
from urial.making.status import status
from urial.papers import rating_plate as papers
from urial.prove.planned import goes_on, planned
from urial.prove.rating_plate import against, rated, rating_plate
from urial.prove.verdict import CAUTION, prove
from urial.shop.snapshot import usual


def known(job):
    """The job with every figure measured by somebody."""
    return origin.mark(job, origin.assumed(job), Origin(how="measured", by="the shop"))


@pytest.fixture(scope="module")
def made():
    job = known(families.new_job("ball-mount"))
    v = prove(job)
    return v, planned(v, usual(), goes_on(job, v.assembly))


def ticked(plan, leave=()):
    """The log of all of it, but for steps of some kinds."""
    return tuple(
        Entry(
            id=f"{n:032x}{unit:04x}", step=s.key, unit=unit, what="done", at="2026-12-01T12:00:00.000+00:00"
        )
        for n, s in enumerate(plan.steps)
        for unit in range(1, s.count + 1)
        if s.kind not in leave
    )


def test_nothing_speaks_against_what_holds_is_measured_made_and_proven(made):
    v, plan = made
    rows = status(plan, ticked(plan))
    assert against(v, rows) == ()
    plate = rating_plate(v, rows, "the shop", "2026-12-01")
    assert plate.reason == "" and plate.against == () and plate.caution == CAUTION
    assert plate.by == "the shop" and plate.day == "2026-12-01"


@pytest.mark.parametrize(
    ("kind", "words"),
    [
        ("run", r"^\d+ beads? not run"),
        ("torque", r"not tightened"),
        ("mount", r"pieces? not on"),
        ("proof", r"Not proven"),
    ],
)
def test_what_is_open_speaks_against_it(made, kind, words):
    v, plan = made
    assert any(s.kind == kind for s in plan.steps), kind
    found = against(v, status(plan, ticked(plan, (kind,))))
    assert len(found) == 1 and re.search(words, found[0])
    with pytest.raises(ValueError, match="Give a reason"):
        rating_plate(v, status(plan, ticked(plan, (kind,))))


def test_a_proof_nobody_planned_is_missing_too(made):
    v, plan = made
    rows = [r for r in status(plan, ticked(plan)) if r.step.kind != "proof"]
    assert against(v, rows) == ("Not proven: no proof test is ticked at the bench.",)


def test_short_unjudged_assumed_and_simulated_speak_against_it(made):
    v, plan = made
    rows = status(plan, ticked(plan))
    bare = v.job.model_copy(update={"origins": {}})
    assert re.match(r"\d+ figures it rests on are assumed", against(prove(bare), rows)[0])
    far = prove(edit.put(v.job, "stack.2.pin_to_ball_mm", 400.0))
    assert not far.holds and against(far, rows)[0].startswith("Short: ") and "% used" in against(far, rows)[0]
    read = origin.mark(v.job, ["vehicle.rear_kg"], Origin(how="simulated", by="scale"))
    assert any("simulated instrument" in w for w in against(prove(read), rows))
    silent = prove(known(families.new_job("drawbar")))
    assert any(w.startswith("Not judged by any rule here") for w in against(silent, rows))


def test_a_reason_lets_it_be_written_and_stands_on_it(made):
    v, plan = made
    rows = status(plan, ())
    plate = rating_plate(v, rows, reason="  trial fit,\n not for the road ")
    assert plate.reason == "trial fit, not for the road" and len(plate.against) >= 4
    text = " ".join(line.text for line in papers.laid(plate, "metric").lines)
    assert "REASON: trial fit, not for the road" in text and "Not proven" in text
    with pytest.raises(ValueError, match="longer than 200"):
        rating_plate(v, rows, reason="x" * 201)
    clean = rating_plate(v, status(plan, ticked(plan)), reason="nothing speaks against it")
    assert clean.reason == ""  # then no reason is needed, and none printed


def test_it_promises_what_was_judged_and_no_more(made):
    """What may be heavier on the trailer's own plate is not what was judged with its tongue weight."""
    v, _ = made
    job = edit.put(v.job, "duty.permissible_kg", 2400.0)
    c = towing.coupling(job)
    told = {r.what: (r.most, r.kind) for r in rated(job, prove(job))}
    assert told["trailer with its load, at most"] == (job.duty.trailer_mass_kg, "mass")
    assert told["on the ball, at most"][0] == pytest.approx(1000 * c.S / 9.80665)
    assert told["D, at most"] == (pytest.approx(1000 * c.D), "force")


def test_a_trailer_that_is_built_is_rated_as_it_is_built_and_loaded():
    """What was typed of some towed trailer (1 850 kg) is not what this one was judged with: what is drawn and
    the 620 kg that lie on it."""
    job = edit.put(families.new_job("flat-trailer"), "duty.towed", True)
    v = prove(job)
    told = {r.what: r.most for r in rated(job, v)}
    whole = bodies.total_mass(v.assembly) + 620.0
    assert job.duty.trailer_mass_kg == 1850.0 and whole < 900.0
    assert told["trailer with its load, at most"] == pytest.approx(whole)
    assert told["its middle behind the deck's middle"] == pytest.approx(-60.0)


def test_what_is_carried_is_rated_for_its_roads_and_its_place():
    job = families.new_job("rack-carrier")
    duty = job.duties[0]
    total = sum(i.kg for i in duty.items)
    told = {r.what: r.most for r in rated(job, prove(job))}
    for what, leaf in (("behind", "behind_mm"), ("over", "above_mm")):
        middle = sum(i.kg * getattr(i, leaf) for i in duty.items) / total
        assert told[f"its middle {what} the mouth"] == pytest.approx(middle)
    for ground, words in (("paved", " on paved roads"), ("unpaved", "")):
        there = edit.put(job, "duties.0.ground", ground)
        assert f"{duty.title}{words}, at most" in {r.what for r in rated(there, prove(there))}


def test_weights_are_rated_as_they_hang_and_not_as_they_were_typed():
    job = edit.put(families.new_job("ballast-rack"), "duties.0.kg", 900.0)
    told = {r.what: r.most for r in rated(job, prove(job))}
    assert told[f"{job.duties[0].title}, at most"] == pytest.approx(8 * 26.0)


@pytest.mark.parametrize(
    ("family", "what", "figure"),
    [
        ("winch-cradle", "pull at most", "rated_N"),
        ("shackle-insert", "stuck at most", "stuck_kg"),
        ("ballast-rack", "at most", "kg"),
        ("ring-backing", "pull at most", "pull_N"),
    ],
)
def test_each_duty_has_its_line(family, what, figure):
    job = families.new_job(family)
    duty = job.duties[0]
    row = next(r for r in rated(job, prove(job)) if r.what.startswith(duty.title) and r.what.endswith(what))
    assert row.most == getattr(duty, figure)


@pytest.mark.parametrize("system", ["metric", "inch"])
def test_all_three_files_say_the_same_and_keep_inside(made, system):
    v, plan = made
    job = edit.put(
        v.job, "title", "A very long name of a part for a rescue post high in the hills & <b>x</b> " * 2
    )
    plate = rating_plate(prove(job), status(plan, ()), "the shop", reason="to be seen")
    at = papers.laid(plate, system)
    words = [line.text for line in at.lines]
    for line in at.lines:
        assert line.y > 0 and line.y + line.size < at.high and line.x + line.wide < papers.WIDE - 1
        for x, y in at.holes:
            clear = line.x > x + papers.HOLE / 2 or line.x + line.wide < x - papers.HOLE / 2
            assert clear or abs(line.y - y) > papers.HOLE / 2
    assert " ".join(words).count("licensed engineer") == 1  # the caution, once and whole
    figures = [papers.show(r, system) for r in plate.rows]
    assert all(f in words for f in figures)
    root = ElementTree.fromstring(papers.svg(at))
    tag = "{http://www.w3.org/2000/svg}"
    assert [t.text for t in root.iter(f"{tag}text")] == words and len(list(root.iter(f"{tag}circle"))) == 4
    drawing = ezdxf.read(io.StringIO(papers.dxf(at).decode()))
    space = drawing.modelspace()
    assert [t.dxf.text for t in space.query("TEXT")] == words and len(space.query("CIRCLE")) == 4
    assert not drawing.audit().errors
    assert papers.pdf(at).startswith(b"%PDF")
    mass = next(r for r in plate.rows if r.kind == "mass")
    assert (" kg" in papers.show(mass, system).replace("\u00a0", " ")) == (system == "metric")
    assert units.parse(papers.show(mass, system), "mass", system) == pytest.approx(mass.most, rel=0.01)
