"""The page for who uses it: what the verdict says, by what the part has, on one sheet."""

import io

import pypdfium2
import pytest

from urial import families
from urial.job import edit, origin
from urial.job.origin import Origin
from urial.job.survey import Block
from urial.making.parts import parts_list
from urial.papers.pdf import Pages
from urial.papers.section import Shown
from urial.papers.sections.handover import handover
from urial.prove.verdict import CAUTION, prove, unproved


def page(job):
    v = prove(job)
    p = Pages(job.title, CAUTION, job.units, job.nearest)
    handover(p, Shown(v, list(parts_list(v.assembly))))
    document = pypdfium2.PdfDocument(io.BytesIO(p.finish()))
    text = "\n".join(x.get_textpage().get_text_range() for x in document).replace("\r", "")
    return v, " ".join(text.split()), len(document)


def measured(job):
    """Every fact of it looked at by somebody."""
    return origin.mark(job, origin.facts(job), Origin(how="measured", by="A. Fell", on="2026-12-02"))


def test_it_says_what_was_judged_each_time_and_the_torque_after_the_first_trips():
    job = measured(families.new_job("rear-receiver"))
    v, text, pages = page(job)
    assert pages == 1 and v.holds and not v.unchecked
    assert f"trailer with its load, at most: {job.duty.trailer_mass_kg:.0f} kg" in text
    assert "The hitch pin is through, and its clip is on." in text
    assert "Both safety chains are on, crossed under the tongue" in text
    tired = next(c for c in v.checks if c.kind == "fatigue")
    assert f"first at: {tired.name};" in text
    assert "N·m" in text and "within 14 days" in text and "licensed engineer" in text
    assert "?" not in text  # every letter is in the typeface


def test_what_is_short_may_nothing():
    job = measured(edit.put(families.new_job("rear-receiver"), "duty.trailer_mass_kg", 4000.0))
    v, text, _ = page(job)
    assert v.short and "Not to be used" in text and f"Short: {v.short[0].name}" in text
    assert "at most" not in text


def test_what_rests_on_guesses_or_is_not_judged_promises_nothing():
    """The same as a plate is refused for: figures nobody measured, places no rule here judges."""
    _, text, _ = page(families.new_job("rear-receiver"))
    assert "Not to be used" in text and "assumed" in text and "at most" not in text
    v, text, _ = page(measured(families.new_job("flat-trailer")))
    assert bool(v.unchecked) == ("Not judged by any rule here" in text)


def test_what_is_off_or_cut_is_said_with_what_does_its_work_now():
    job = families.new_job("rear-receiver")
    blocks = (
        Block(name="plate lamp", fate="gone", good_for="lamp", instead="a lamp on the bumper"),
        Block(name="step", fate="cut", good_for="step"),
        Block(name="spare wheel", fate="off"),
    )
    survey = job.survey.model_copy(update={"keep_outs": blocks})
    _, text, _ = page(job.model_copy(update={"survey": survey}))
    assert "The plate lamp is off for good; a lamp on the bumper does its work." in text
    assert "The step has been cut; it was the step, and nothing does that now." in text
    assert "spare wheel" not in text  # it is back on


@pytest.mark.parametrize("name", sorted(families.families()))
def test_every_kind_has_its_page_on_one_sheet(name):
    _, text, pages = page(families.new_job(name))
    assert pages == 1 and "For who uses it" in text and "Every 12 months" in text


def test_a_survey_has_none():
    v = unproved(families.survey_job("pickup"))
    p = Pages("x", CAUTION, "metric")
    high = p.y
    handover(p, Shown(v, []))
    assert p.y == high and p.page == 1
