"""What is due stands on the start page: from the shop's book, the soonest first, opened by a press."""

from datetime import date, timedelta

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QPushButton

from urial.desk.start import Owed, owed
from urial.job.file import Document, save
from urial.shop.book import Book

TODAY = date.today()


def row(n, title, due, path="", why="look it over"):
    return {
        "id": f"{n:032d}",
        "title": title,
        "customer": "",
        "path": path,
        "state": "all done",
        "hours": 1.0,
        "due": due,
        "due_why": why,
    }


@pytest.fixture
def book(window, tmp_path, monkeypatch):
    monkeypatch.setenv("URIAL_BOOK", f"sqlite:///{tmp_path / 'shop.db'}")
    with Book() as book:
        yield book


def day(n):
    return (TODAY + timedelta(days=n)).isoformat()


def test_soonest_first_within_a_month_and_how_long_it_is_over(book):
    for n, (title, due) in enumerate(
        (("later", day(20)), ("far off", day(60)), ("over", day(-3)), ("today", day(0)), ("none", ""))
    ):
        book.note_job(row(n, title, due))
    assert [o.title for o in owed(TODAY)] == ["over", "today", "later"]
    assert owed(TODAY)[0].words(TODAY) == "3 days over   over: look it over"
    assert Owed(day(-1), "x", "y", "").words(TODAY).startswith("1 day over")
    assert owed(TODAY)[1].words(TODAY).startswith(f"by {day(0)}")
    assert len(owed(TODAY, most=2)) == 2


def test_a_date_that_is_none_is_left_out(book):
    book.note_job(row(1, "odd", "soon"))
    book.note_job(row(2, "right", day(1)))
    assert [o.title for o in owed(TODAY)] == ["right"]


def test_it_stands_on_the_start_page_and_opens_its_file(qtbot, window, book, tmp_path):
    path = tmp_path / "receiver.urial"
    save(path, Document(window.store.job))
    book.note_job(row(1, "Receiver", day(-2), str(path), "every bolt again"))
    book.note_job(row(2, "Lost", day(2), str(tmp_path / "gone.urial")))
    window.store.document.saved_job = window.store.job
    window.show_start()
    qtbot.waitUntil(lambda: window.start.findChild(QPushButton, "due:Receiver") is not None)
    here = window.start.findChild(QPushButton, "due:Receiver")
    assert here.text().startswith("2 days over") and "every bolt again" in here.text()
    assert not window.start.findChild(QPushButton, "due:Lost").isEnabled()
    assert window.start.due_head.isVisible()
    qtbot.mouseClick(here, Qt.MouseButton.LeftButton)
    assert window.store.document.path == path


def test_without_a_book_there_is_no_such_list(qtbot, window):
    window.store.document.saved_job = window.store.job
    window.show_start()
    assert not window.start.due_head.isVisible() and owed(TODAY) == []
