"""Two windows on one file, files changed, read-only or no files at all, and what a crash leaves behind."""

from __future__ import annotations

import json
import os
import time
from pathlib import Path

import pytest
from PySide6.QtWidgets import QMessageBox

from urial import families
from urial.job import edit
from urial.job.compare import differences
from urial.job.file import Document, FileError, fingerprint, load, save, write_atomically
from urial.job.recovery import Recovery, leftovers


@pytest.fixture
def shared(window, tmp_path):
    """A file open in the window that somebody else has changed meanwhile."""
    path = tmp_path / "shared.urial"
    save(path, Document(window.store.job))
    window.store.document.saved_job = window.store.job
    assert window.open_file(path)
    window.store.put("stack.1.drop_mm", 131.0)
    theirs = edit.put(load(path).job, "stack.1.drop_mm", 125.0)
    time.sleep(0.02)
    save(path, Document(theirs))
    return path


def answered(monkeypatch, words):
    """Answer the question by the button of that name; the details that were offered."""
    seen = {}

    def chosen(box):
        seen["details"] = box.detailedText()
        seen["button"] = next((b for b in box.buttons() if b.text().replace("&", "") == words), None)
        return 0

    monkeypatch.setattr(QMessageBox, "exec", chosen)
    monkeypatch.setattr(QMessageBox, "clickedButton", lambda box: seen["button"])
    return seen


def test_a_file_changed_meanwhile_is_not_written_over_unasked(window, shared, monkeypatch):
    before = shared.read_bytes()
    seen = answered(monkeypatch, "Cancel")
    assert not window.save() and shared.read_bytes() == before and window.store.document.dirty
    assert "drop: 131 mm here, 125 mm on disk" in seen["details"]


def test_both_can_be_kept(window, shared, monkeypatch):
    before = shared.read_bytes()
    answered(monkeypatch, "Keep both")
    assert window.save() and shared.read_bytes() == before
    beside = shared.with_name("shared (2).urial")
    assert (
        load(beside).job == window.store.job
        and window.store.document.path == beside
        and not window.store.document.dirty
    )


def test_theirs_can_be_taken_or_written_over(window, shared, monkeypatch):
    answered(monkeypatch, "Take the one on disk")
    assert window.save() and edit.get(window.store.job, "stack.1.drop_mm") == 125.0
    window.store.put("stack.1.drop_mm", 133.0)
    save(shared, Document(edit.put(window.store.job, "stack.1.drop_mm", 127.0)))
    answered(monkeypatch, "Write over it")
    assert window.save() and edit.get(load(shared).job, "stack.1.drop_mm") == 133.0
    window.store.put("stack.1.drop_mm", 134.0)
    assert window.save()  # once it is ours again nobody is asked


def test_one_on_disk_that_is_damaged_takes_nobodys_work_with_it(window, shared, monkeypatch):
    """Kept are the work, that it is not saved, and its safety copy."""
    shared.write_bytes(b"PK\x03\x04 not a job any more")
    said = []

    def chosen(box):
        said.append(box.text())
        seen["button"] = next((b for b in box.buttons() if b.text() == "Take the one on disk"), None)
        return 0

    seen = {}
    monkeypatch.setattr(QMessageBox, "exec", chosen)
    monkeypatch.setattr(QMessageBox, "clickedButton", lambda box: seen["button"])
    mine = window.store.job
    assert not window.save()
    assert window.store.job == mine and window.store.document.dirty
    assert "What you have here is kept" in said[-1]
    assert load(window.store.document.recovery._path).job == mine


def test_recovered_work_is_not_written_over_what_somebody_saved_since(window, tmp_path, monkeypatch):
    path = tmp_path / "job.urial"
    save(path, Document(window.store.job))
    window.store.document.saved_job = window.store.job
    assert window.open_file(path)
    window.store.put("stack.1.drop_mm", 131.0)
    copy, note = window.store.document.recovery._path, window.store.document.recovery._note
    lost = tmp_path / "lost"
    lost.mkdir()
    for kept in (copy, note):
        (lost / kept.name).write_bytes(kept.read_bytes())
    raw = json.loads((lost / note.name).read_text())
    (lost / note.name).write_text(json.dumps({**raw, "pid": 2**22, "started": "0"}))
    time.sleep(0.02)
    save(path, Document(edit.put(load(path).job, "stack.1.drop_mm", 125.0)))  # a colleague, meanwhile
    (left,) = leftovers(lost)
    window.store.document.saved_job = window.store.job
    window.recover(left)
    theirs = path.read_bytes()
    seen = answered(monkeypatch, "Cancel")
    assert not window.save() and path.read_bytes() == theirs and "details" in seen
    answered(monkeypatch, "Write over it")
    assert window.save() and edit.get(load(path).job, "stack.1.drop_mm") == 131.0


def test_recovered_work_is_saved_unasked_where_nobody_was_there(window, tmp_path):
    path = tmp_path / "job.urial"
    save(path, Document(window.store.job))
    window.store.document.saved_job = window.store.job
    assert window.open_file(path)
    disk = fingerprint(path)
    work = Document(edit.put(window.store.job, "stack.1.drop_mm", 131.0))
    window.store.take(work, path, saved=False, disk=disk)
    assert window.save() and edit.get(load(path).job, "stack.1.drop_mm") == 131.0


def test_a_file_that_was_removed_is_written_again(window, shared):
    shared.unlink()
    assert window.save() and load(shared).job == window.store.job


def test_what_differs_is_said_by_name():
    job = families.new_job("rear-receiver")
    other = edit.put(edit.put(job, "vehicle.left", job.vehicle.left[:2]), "duty.trailer_mass_kg", 1700.0)
    found = differences(job, other)
    assert "trailer, loaded: 1850\u00a0kg here, 1700\u00a0kg on disk" in " | ".join(found) and any(
        "left holes: 3 here, 2 on disk" in x for x in found
    )
    assert not differences(job, job)


@pytest.mark.parametrize("kind", ["folder", "fifo", "read-only"])
def test_what_must_not_be_replaced_is_left_alone(tmp_path, kind):
    path = tmp_path / "thing.urial"
    if kind == "folder":
        path.mkdir()
    elif kind == "fifo":
        os.mkfifo(path)
    else:
        path.write_bytes(b"kept")
        path.chmod(0o444)
    with pytest.raises(FileError, match=r"folder|device|read-only"):
        write_atomically(path, b"new")
    assert kind != "read-only" or path.read_bytes() == b"kept"
    assert [p.name for p in tmp_path.iterdir()] == ["thing.urial"]


# ---- what a crash leaves


def gone(folder: Path, **note: object) -> Path:
    """A recovery copy whose application is no longer there."""
    folder.mkdir(parents=True, exist_ok=True)
    copy = folder / "abc.urial"
    save(copy, Document(families.new_job("flat-carrier")))
    copy.with_suffix(".json").write_text(json.dumps({"pid": 2**22, "started": "0", "origin": None, **note}))
    return copy


def test_a_copy_kept_from_a_relative_path_knows_the_whole_one(tmp_path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    recovery = Recovery(tmp_path / "state")
    recovery.keep(Document(families.new_job("flat-carrier")), Path("job.urial"))
    note = json.loads(next((tmp_path / "state").glob("*.json")).read_text())
    assert note["origin"] == str(tmp_path / "job.urial")


@pytest.mark.parametrize("origin", [5, ["x"], {"a": 1}, "relative.urial", "", True])
def test_an_odd_note_keeps_the_work_and_names_no_file(tmp_path, origin):
    gone(tmp_path, origin=origin)
    assert [left.origin for left in leftovers(tmp_path)] == [None]


@pytest.mark.parametrize(
    "text", ["", "[]", "null", "5", '{"pid": "x"}', '{"pid": 1e999}', "[" * 10_000, "\x00"]
)
def test_a_hostile_note_stops_nothing(tmp_path, text, qtbot):
    copy = gone(tmp_path)
    copy.with_suffix(".json").write_text(text)
    assert leftovers(tmp_path) == [] and copy.exists()
    recovery = Recovery(tmp_path)
    recovery.keep(Document(families.new_job("flat-carrier")), None)
    recovery._note.write_text(text)
    recovery.keep(Document(families.new_job("flat-carrier")), None)  # an edit goes on


def test_halves_and_unfinished_writes_are_swept_when_they_are_old(tmp_path):
    old, young = tmp_path / "old.urial", tmp_path / "young.urial"
    unfinished = tmp_path / ".abc.urial.x1"
    for path in (old, young, unfinished):
        path.write_bytes(b"x")
    for path in (old, unfinished):
        os.utime(path, (time.time() - 30 * 86400,) * 2)
    pair = gone(tmp_path)
    os.utime(pair, (time.time() - 30 * 86400,) * 2)
    assert len(leftovers(tmp_path)) == 1
    assert sorted(p.name for p in tmp_path.iterdir()) == ["abc.json", "abc.urial", "young.urial"]


def test_the_only_copy_is_not_forgotten_while_another_cannot_be_kept(window, tmp_path, monkeypatch):
    copy = gone(tmp_path / "lost")
    left = leftovers(tmp_path / "lost")[0]

    def full(*_: object, **__: object) -> None:
        raise FileError("the disk is full")

    monkeypatch.setattr(Recovery, "keep", full)
    window.store.document.saved_job = window.store.job
    window.recover(left)
    assert window.store.document.autosave_problem and copy.exists()


@pytest.mark.parametrize("text", ["", "{}", "[5, null, {}]", '["\\u0000"]', "[" * 5000])
def test_an_odd_list_of_recent_files_stops_nothing(window, tmp_path, text):
    state = Path(os.environ["URIAL_STATE_DIR"])
    state.mkdir(parents=True, exist_ok=True)
    (state / "recent.json").write_text(text)
    window.store.document.saved_job = window.store.job
    window.show_start()
    assert window.start.isVisible()
