"""Weld, Fit-up: readings by keys, which corner to move, what is not told; kept in the log and there again."""

import math

import pytest
from PySide6.QtCore import Qt

from tests.desk.hands import click
from tests.desk.test_making import JOBS
from urial.job.log import standing
from urial.making.corners import NAMES

A, B, C, D = NAMES
FIRST, SECOND = f"{A} – {D}", f"{B} – {C}"


@pytest.fixture
def page(qtbot, window, tmp_path, monkeypatch):
    monkeypatch.setenv("URIAL_BOOK", f"sqlite:///{tmp_path / 'shop.db'}")
    window.activateWindow()
    window.open_demo(JOBS["milk-trailer"])
    return shown(qtbot, window)


def shown(qtbot, window):
    window.go("Weld")
    click(qtbot, window, "page:Fit-up")
    qtbot.waitUntil(lambda: window.store.making.work is not None)
    return window.stations["Weld"].pages["Fit-up"]


def type_in(qtbot, page, name, text):
    line = page.lines[name]
    line.setFocus(Qt.FocusReason.TabFocusReason)
    line.selectAll()
    qtbot.keyClick(line, Qt.Key.Key_Delete)
    qtbot.keyClicks(line, text)
    qtbot.keyClick(line, Qt.Key.Key_Return)


def drawn(page, name):
    a, b = name.split(" – ")
    return page._here()[2].apart(a, b)


def test_two_diagonals_say_which_way_the_rear_goes_and_the_heights_how_far_down(qtbot, window, page):
    assert page.answer.text() == "Read both diagonals first." and page.picture.found is None
    assert page.lines[FIRST].placeholderText() == page.length(drawn(page, FIRST))
    d, wide = drawn(page, FIRST), drawn(page, f"{A} – {B}")
    type_in(qtbot, page, FIRST, f"{d + 6:.1f}")
    type_in(qtbot, page, SECOND, f"{d - 6:.1f}")
    push = 12 * 2 * d / (4 * wide)  # d1² − d2² = 4 · wide · push
    rows = page.answer.text().splitlines()
    assert [r.split(":")[0] for r in rows] == [f"Move {C}", f"Move {D}"]
    for row in rows:
        assert row.endswith("mm to the left.")  # it lies too far right: the first diagonal is the long one
        assert float(row.split(": ")[1].split(" mm")[0]) == pytest.approx(push, abs=0.3)
    assert f"how high {D} lies" in page.more.text() and "Read the four heights." in page.more.text()
    for name, high in zip(NAMES, (300, 301, 300, 308), strict=True):
        type_in(qtbot, page, f"height of {name}", str(high))
    assert "7 mm down" in page.answer.text() and "Not told" not in page.more.text()
    assert not page.picture.grab().isNull() and page.picture.times > 1
    for name in (FIRST, SECOND):
        type_in(qtbot, page, name, f"{d:.1f}")
    type_in(qtbot, page, f"height of {D}", "301")
    assert page.answer.text().startswith("It lies as drawn, within ") and "weld it" in page.answer.text()


def test_readings_are_in_the_log_and_there_again_and_one_can_be_taken_away(qtbot, window, page):
    d = drawn(page, FIRST)
    type_in(qtbot, page, FIRST, f"{d + 6:.0f}")
    type_in(qtbot, page, SECOND, f"{d - 6:.0f}")

    def logged():
        rows = [e.figures for e in standing(window.store.document.log) if e.what == "read" and e.figures]
        return {k.removeprefix("fit-up "): v for k, v in rows[-1].items()} if rows else {}

    assert logged() == {FIRST: pytest.approx(round(d + 6), abs=0.05), SECOND: pytest.approx(round(d - 6))}
    words = page.answer.text()
    window.bench_size()  # made anew
    again = window.stations["Weld"].pages["Fit-up"]
    assert again is not page and again.answer.text() == words
    type_in(qtbot, again, SECOND, "")
    assert logged().keys() == {FIRST}
    window.bench_size()
    assert window.stations["Weld"].pages["Fit-up"].lines[SECOND].text() == ""


def test_readings_of_a_saved_job_are_there_when_the_plan_comes_later_than_the_page(
    qtbot, window, page, tmp_path
):
    d = drawn(page, FIRST)
    type_in(qtbot, page, FIRST, f"{d + 6:.0f}")
    words, path = page.answer.text(), tmp_path / "racked.urial"
    window.store.save(path)
    window.new_job("ring-backing")
    window.open_file(path)
    window.go("Weld")
    window.stations["Weld"].show_page("Fit-up")
    again = window.stations["Weld"].pages["Fit-up"]
    qtbot.waitUntil(lambda: again.lines[FIRST].text() != "")
    assert again.answer.text() == words and again.lines[SECOND].text() == ""


def test_what_does_not_agree_is_to_be_read_again_and_what_is_no_length_is_marked(qtbot, window, page):
    d = drawn(page, FIRST)
    type_in(qtbot, page, FIRST, f"{d + 14:.0f}")
    type_in(qtbot, page, SECOND, f"{d + 14:.0f}")  # both too long: no frame of these bars has them
    assert page.doubt.isVisible() and FIRST in page.doubt.text() and "Read again one of" in page.doubt.text()
    assert page.answer.text().startswith("Move nothing yet")
    type_in(qtbot, page, FIRST, "about two")
    assert page.lines[FIRST].property("wrong") and page.lines[FIRST].text() == "about two"
    assert page.problem.isVisible() and page.problem.text().endswith(".")
    assert page.answer.text().startswith("Move nothing yet")
    for text in ("-5", "258", "26000"):
        type_in(qtbot, page, FIRST, text)
        assert "never so far off" in page.problem.text() and page.lines[FIRST].property("wrong")
    kept = [e.figures for e in standing(window.store.document.log) if e.what == "read" and e.figures][-1]
    assert kept[f"fit-up {FIRST}"] == pytest.approx(round(d + 14))  # what was read before still counts
    type_in(qtbot, page, FIRST, "")
    assert not page.lines[FIRST].property("wrong") and not page.problem.isVisible()


def test_inches_go_in_and_come_out(qtbot, window, page):
    window.switch_units()
    page = window.stations["Weld"].pages["Fit-up"]
    inches = drawn(page, FIRST) / 25.4
    type_in(qtbot, page, FIRST, f"{inches + 0.25:.2f}")
    type_in(qtbot, page, SECOND, f"{inches - 0.25:.2f}")
    assert '"' in page.answer.text() and "mm" not in page.answer.text()
    assert page.lines[FIRST].text() == f"{inches + 0.25:.2f}"  # as it was typed

    def logged(name):
        rows = [e.figures for e in standing(window.store.document.log) if e.what == "read" and e.figures]
        return rows[-1][f"fit-up {name}"] / 25.4

    qtbot.waitUntil(lambda: page._step() is not None)
    type_in(qtbot, page, FIRST, f"{math.floor(inches)} 3/32")
    window.bench_size()  # shown in sixteenths, kept as it was read
    page = window.stations["Weld"].pages["Fit-up"]
    type_in(qtbot, page, SECOND, f"{math.floor(inches) + 1}")
    assert logged(FIRST) == pytest.approx(math.floor(inches) + 3 / 32)


def test_a_part_with_no_frame_says_so(qtbot, window, tmp_path, monkeypatch):
    monkeypatch.setenv("URIAL_BOOK", f"sqlite:///{tmp_path / 'shop.db'}")
    window.new_job("ring-backing")
    window.go("Weld")
    window.stations["Weld"].show_page("Fit-up")
    page = window.stations["Weld"].pages["Fit-up"]
    assert "Nothing of it is a frame" in page.answer.text() and not page.lines
