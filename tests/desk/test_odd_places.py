"""Folders that vanish or become read-only while work goes on; clocks that are set back."""

import os
import shutil
import time

import pytest
from PySide6.QtWidgets import QMessageBox

from urial.job.file import Document, load, save
from urial.job.recovery import leftovers


@pytest.fixture
def opened(window, tmp_path):
    """A job in a folder of its own, open and changed."""
    place = tmp_path / "jobs"
    place.mkdir()
    path = place / "job.urial"
    save(path, Document(window.store.job))
    window.store.document.saved_job = window.store.job
    assert window.open_file(path)
    window.store.put("stack.1.drop_mm", 131.0)
    return path


def said(monkeypatch):
    heard = []
    monkeypatch.setattr(QMessageBox, "exec", lambda box: heard.append(box.text()) or 0)
    return heard


def test_a_folder_that_vanished_takes_no_work_with_it(window, opened, monkeypatch):
    shutil.rmtree(opened.parent)
    heard = said(monkeypatch)
    assert not window.save() and window.store.document.dirty
    assert len(heard) == 1 and heard[0].endswith(".") and "\n" not in heard[0]
    assert load(window.store.document.recovery._path).job == window.store.job
    opened.parent.mkdir()
    assert window.save() and load(opened).job == window.store.job


def test_a_file_made_read_only_is_left_and_the_work_kept(window, opened, monkeypatch):
    opened.chmod(0o444)
    before = opened.read_bytes()
    heard = said(monkeypatch)
    assert not window.save() and window.store.document.dirty and opened.read_bytes() == before
    assert "read-only" in heard[0]


def test_a_folder_put_in_the_files_place_is_said(window, opened, monkeypatch):
    opened.unlink()
    opened.mkdir()
    heard = said(monkeypatch)
    monkeypatch.setattr(QMessageBox, "clickedButton", lambda box: None)
    assert not window.save() and window.store.document.dirty and heard


def test_a_clock_set_back_loses_no_recovery(window, opened, tmp_path):
    """Copies from the future are neither swept away nor left out."""
    copy, note = window.store.document.recovery._path, window.store.document.recovery._note
    lost = tmp_path / "lost"
    lost.mkdir()
    for kept in (copy, note):
        there = lost / kept.name
        there.write_bytes(kept.read_bytes())
        os.utime(there, (time.time() + 40 * 86_400,) * 2)
    text = (lost / note.name).read_text()
    (lost / note.name).write_text(text.replace(f'"pid": {os.getpid()}', '"pid": 4194304'))
    os.utime(lost / note.name, (time.time() + 40 * 86_400,) * 2)
    (left,) = leftovers(lost)
    assert left.document.job == window.store.job and left.origin == opened and left.disk is not None
