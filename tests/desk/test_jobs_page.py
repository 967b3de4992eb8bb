"""Book, Jobs: what the shop has built is found by a word, is opened, and is due in a calendar."""

from datetime import date, timedelta

import pytest
from icalendar import Calendar
from PySide6.QtCore import Qt

from tests.desk.hands import click
from urial.desk.stations.book.jobs_page import due_words
from urial.job.file import Document, save
from urial.shop.book import Book

TODAY = date.today()


def row(n, title, days=None, **more):
    due = "" if days is None else (TODAY + timedelta(days=days)).isoformat()
    plain = {"customer": "", "path": "", "state": "all done", "hours": 1.5, "due_why": "look it over"}
    return {"id": f"{n:032d}", "title": title, "due": due, **plain, **more}


@pytest.fixture
def page(qtbot, window, tmp_path, monkeypatch):
    monkeypatch.setenv("URIAL_BOOK", f"sqlite:///{tmp_path / 'shop.db'}")
    path = tmp_path / "receiver.urial"
    save(path, Document(window.store.job))
    with Book() as book:
        book.note_job(row(1, "Hay carriage", 20, customer="alpine dairy"))
        book.note_job(row(2, "Receiver", -3, path=str(path)))
        book.note_job(row(3, "Boat cradles", None, state="3 of 40 done", path=str(tmp_path / "gone.urial")))
    window.activateWindow()
    window.go("Book")
    click(qtbot, window, "page:Jobs")
    page = window.stations["Book"].pages["Jobs"]
    qtbot.waitUntil(lambda: page.list.count() == 3)
    return page


def titles(page):
    return [page.list.item(n).text().splitlines()[0] for n in range(page.list.count())]


def test_what_is_due_comes_first_and_how_long_it_is_over_is_said(page):
    assert titles(page) == ["Receiver", "Hay carriage", "Boat cradles"]
    assert "3 days over" in page.list.item(0).text() and "1.5 h" in page.list.item(0).text()
    assert page.sum.text() == "3 jobs; of 2 something is due, 1 over."
    assert page.words.text().startswith("3 days over: look it over.")
    assert due_words({"due": "soon"}, TODAY) == "" and due_words(row(1, "x", 0), TODAY) == f"due by {TODAY}"
    assert due_words(row(1, "x", -1), TODAY) == "1 day over"


def test_any_word_finds_a_job_and_what_finds_none_is_said(qtbot, page):
    qtbot.keyClicks(page.sought, "DAIRY hay")
    assert titles(page) == ["Hay carriage"] and page.sum.text() == "1 of 3 jobs."
    assert "For alpine dairy." in page.words.text()
    qtbot.keyClicks(page.sought, "zzz")
    assert titles(page) == [] and page.words.text() == "Nothing of that name."
    assert not page.opens.isEnabled() and page.calendar.isEnabled()
    page.sought.clear()
    assert len(titles(page)) == 3


def test_a_job_is_opened_and_one_that_is_gone_is_named(qtbot, window, page):
    page.list.setCurrentRow(2)
    click(qtbot, window, "open job")
    assert "Boat cradles lies no longer" in page.problem.text() and page.problem.isVisible()
    page.list.setCurrentRow(0)
    window.store.document.saved_job = window.store.job
    qtbot.keyClick(page.list, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: window.store.document.path is not None)
    assert window.store.document.path.name == "receiver.urial"


def test_what_is_due_goes_into_a_calendar(page, tmp_path):
    page.write_calendar(tmp_path / "due.ics")
    events = Calendar.from_ical((tmp_path / "due.ics").read_bytes()).walk("VEVENT")
    assert [str(e["summary"]) for e in events] == ["Receiver: due", "Hay carriage: due"]
    assert [e.decoded("dtstart") for e in events] == [TODAY - timedelta(days=3), TODAY + timedelta(days=20)]
    assert page.words.text() == "due.ics is written."
    page.write_calendar(tmp_path / "no such folder" / "due.ics")
    assert "was not written" in page.problem.text()


def test_without_a_book_it_says_what_brings_a_job_in(qtbot, window, tmp_path, monkeypatch):
    monkeypatch.setenv("URIAL_BOOK", f"sqlite:///{tmp_path / 'none.db'}")
    window.go("Book")
    click(qtbot, window, "page:Jobs")
    page = window.stations["Book"].pages["Jobs"]
    qtbot.waitUntil(lambda: page.sum.text() == "No job is in the shop's book yet.")
    assert not page.opens.isEnabled() and not page.calendar.isEnabled()
