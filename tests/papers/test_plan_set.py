"""A plan set that is handed on: nothing of whose it was, everything that must be measured anew."""

import io

import pypdfium2
import pytest

from urial.desk.start import demo_jobs
from urial.job import edit, origin
from urial.job.file import load
from urial.papers.plan_set import handed_on, plan_set
from urial.prove.verdict import prove

PATHS = {p.stem: p for p, *_ in demo_jobs()}
WHOSE = {
    "customer": "the post on the ridge",
    "notes": "ring twice at the gate",
    "checked": "B. Stone",
    "title": "Ridge post: their own",
}


@pytest.fixture(scope="module")
def job():
    job = load(PATHS["rescue-receiver"]).job
    for name, words in WHOSE.items():
        job = edit.put(job, name, words)
    return edit.put(job, "survey.by", "C. Heather")


@pytest.fixture(scope="module")
def made(job):
    return plan_set(prove(job), "Receiver, rear")


def text(data):
    document = pypdfium2.PdfDocument(io.BytesIO(data))
    return " ".join(" ".join(x.get_textpage().get_text_range() for x in document).split())


def test_nothing_in_any_file_says_whose_it_was(job, made):
    for name, data in made.files.items():
        said = text(data) if name.endswith(".pdf") else data.decode("utf-8", errors="replace")
        for words in (*WHOSE.values(), "C. Heather", job.id[:8], job.id[:8].upper()):
            assert words not in said, (name, words)


def test_it_is_called_as_asked_and_every_figure_it_rests_on_is_to_be_measured(job, made):
    said = text(made.files["packet.pdf"])
    assert "Receiver, rear" in said and "Measure anew before anything is cut" in said
    bare = handed_on(job, "Receiver, rear")
    rests_on = origin.assumed(bare)
    assert len(rests_on) > 20 and "vehicle.left.0.height_mm" in rests_on
    shown = [p for p in rests_on if edit.spec_of(bare, p).title.split(", ")[-1] in said]
    assert len(shown) == len(rests_on)
    assert (
        said.count("of one vehicle: measure anew before anything is cut") > 5
    )  # on every page but the first


def test_the_steel_is_the_same_and_what_cuts_it_is_there(job, made):
    theirs, own = prove(handed_on(job, "x")), prove(job)
    assert {c.id: c.utilisation for c in theirs.checks} == {c.id: c.utilisation for c in own.checks}
    names = set(made.files)
    assert {"packet.pdf", "templates.pdf", "parts.csv", "pieces.csv"} <= names
    assert not {"labels.pdf", "results.json"} & names and any(n.endswith(".dxf") for n in names)


def test_without_a_title_it_is_called_what_it_is(job):
    v = prove(job)
    first = next(iter(v.assembly.titles.values()))
    assert first and handed_on(job, first).title == first
