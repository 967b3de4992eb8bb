"""A document is edited, saved and kept safe without a window."""

import json
from dataclasses import replace

import pytest

from urial import families
from urial.job import edit, recovery
from urial.job.file import Document, FileChanged, load, save
from urial.job.log import Entry
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


def leave(folder):
    """As a window that was killed leaves its copy: nobody is its owner any more."""
    (note,) = folder.glob("*.json")
    note.write_text(json.dumps({**json.loads(note.read_text()), "pid": 2**22, "started": "0"}))


def test_a_large_attachment_is_written_once_however_often_the_job_changes(document, tmp_path, monkeypatch):
    folder, big = tmp_path / "recovery", bytes(range(256)) * 40_000
    document.attach("notes.bin", big)
    written = []
    real = recovery.write_atomically
    monkeypatch.setattr(
        recovery, "write_atomically", lambda p, data, **k: (written.append(len(data)), real(p, data, **k))
    )
    for mm in (131.0, 132.0, 133.0):
        document.put(edit.put(document.job, "stack.1.drop_mm", mm), "stack.1.drop_mm")
        document.keep()
    assert sum(n >= len(big) for n in written) == 1 and sum(written) < len(big) + 1_000_000
    leave(folder)
    (left,) = leftovers(folder)
    assert dict(left.document.attachments) == {"notes.bin": big} and left.document.job == document.job
    assert float(left.size.split()[0]) > len(big) / 1000
    recovery.forget(left)
    assert list(folder.iterdir()) == []


def test_a_copy_whose_attachment_is_damaged_comes_back_without_it(document, tmp_path):
    folder = tmp_path / "recovery"
    document.attach("notes.txt", b"kept")
    document.attach("more.txt", b"kept too")
    document.keep()
    leave(folder)
    for file in (next(folder.glob("*.files"))).iterdir():
        if file.read_bytes() == b"kept":
            file.write_bytes(b"kep")
    (left,) = leftovers(folder)
    assert dict(left.document.attachments) == {"more.txt": b"kept too"}


def test_another_attachment_of_the_same_name_is_the_one_that_comes_back(document, tmp_path):
    for data in (b"first", b"second"):
        document.attach("notes.txt", data)
        document.keep()
    leave(tmp_path / "recovery")
    (left,) = leftovers(tmp_path / "recovery")
    assert left.document.attachments["notes.txt"] == b"second"


def done(ident):
    return Entry(id=ident, step="A|saw|ends", at=f"2026-09-18T14:0{ident}:00+02:00")


def test_what_was_done_stays_done_here_and_on_disk(document, tmp_path):
    path = tmp_path / "shared.urial"
    start = Document(document.job, (done("1"),)).numbered()
    start = replace(start, log=(done("1"),))
    save(path, start)
    document.take(load(path), path, saved=True)
    document.log = (*document.log, done("2"))
    save(path, replace(start, log=(done("1"), done("3"))))  # a colleague, meanwhile
    document.take(load(path), path, saved=True)  # the one on disk
    assert [e.id for e in document.log] == ["1", "2", "3"]
    save(path, replace(start, log=(done("1"), done("4"))))
    document.save(over=True)
    assert [e.id for e in load(path).log] == ["1", "2", "3", "4"]
    document.take(Document(families.new_job("pintle")), None, saved=False)  # another job
    assert document.log == ()
