"""A document is edited, saved and kept safe without a window."""

import pytest

from urial import families
from urial.job import edit
from urial.job.file import Document, FileChanged, load, save
from urial.job.origin import Origin
from urial.job.recovery import Recovery, leftovers
from urial.session.document import OpenDocument


@pytest.fixture
def document(tmp_path):
    return OpenDocument(families.new_job("rear-receiver"), Recovery(tmp_path / "recovery"))


def test_an_edit_is_a_step_and_says_where_its_figures_come_from(document):
    before = document.job
    assert document.put(edit.put(before, "vehicle.left.0.behind_mm", 77.0), "vehicle.left.0.behind_mm")
    assert document.dirty and document.history.undo_name
    assert document.job.origins["vehicle.left.0.behind_mm"].how == "typed"
    assert not document.put(document.job, "vehicle.left.0.behind_mm")  # nothing changes
    given = Origin(how="read", by="scales", on="2026-09-18")
    document.put(edit.put(document.job, "duty.trailer_mass_kg", 2100.0), "duty", "weighed", given)
    assert document.job.origins["duty.trailer_mass_kg"] == given and document.history.undo_name == "weighed"
    while document.history.undo():
        pass
    assert document.job == before and not document.dirty


def test_a_starting_value_is_confirmed_once(document):
    path = next(p for p in document.assumed if p.startswith("vehicle."))
    assert document.confirm(path) and path not in document.assumed and not document.confirm(path)
    assert document.history.undo_name.endswith("is right")


def test_however_far_it_is_dragged_it_is_one_step(document):
    start = document.job
    for mm in (130.0, 140.0, 150.0):
        assert document.drag("stack.1.drop_mm", mm, start)
    assert not document.drag("stack.1.drop_mm", 150.0, start)
    document.history.undo()
    assert document.job == start


def test_what_is_kept_safe_outlives_it_and_goes_when_it_is_saved(document, tmp_path):
    document.put(edit.put(document.job, "stack.1.drop_mm", 131.0), "stack.1.drop_mm")
    document.keep()
    (copy,) = (tmp_path / "recovery").glob("*.urial")
    assert load(copy).job == document.job and leftovers(tmp_path / "recovery") == []  # its owner lives
    document.save(tmp_path / "here.urial")
    assert not document.dirty and not copy.exists()


def test_somebody_elses_file_is_not_written_over_unasked(document, tmp_path):
    path = tmp_path / "shared.urial"
    save(path, Document(document.job))
    document.take(load(path), path, saved=True)
    document.put(edit.put(document.job, "stack.1.drop_mm", 131.0), "stack.1.drop_mm")
    save(path, Document(edit.put(document.job, "stack.1.drop_mm", 222.0)))
    with pytest.raises(FileChanged, match=r"shared\.urial"):
        document.save()
    assert edit.get(load(path).job, "stack.1.drop_mm") == 222.0 and document.dirty
    document.save(over=True)
    assert edit.get(load(path).job, "stack.1.drop_mm") == 131.0


def test_only_what_the_job_shows_is_saved_and_undo_has_it_still(document):
    document.attach("photos/none.png", b"unseen")
    document.attach("notes.txt", b"kept")
    assert dict(document.as_file().attachments) == {"notes.txt": b"kept"}
    assert "photos/none.png" in document.attachments


def test_a_safety_copy_that_cannot_be_kept_is_said(document, tmp_path):
    (tmp_path / "file").write_text("in the way")
    document.recovery = Recovery(tmp_path / "file" / "recovery")
    document.keep()
    assert "could not be kept" in document.autosave_problem


def test_another_document_counts_on_and_forgets_the_one_before(document):
    first = document.generation
    document.put(edit.put(document.job, "stack.1.drop_mm", 131.0), "stack.1.drop_mm")
    document.take(Document(families.new_job("pintle")), None, saved=False)
    assert document.generation == first + 1 and document.history.undo_name is None
    assert document.path is None and document.dirty
