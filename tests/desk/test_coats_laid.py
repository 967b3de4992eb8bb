"""Finish in the real window: a scheme is chosen, air is read, coats are ticked and the clock says when."""

from datetime import datetime, timedelta
from uuid import uuid4

import pytest
from PySide6.QtCore import Qt

from tests.desk.hands import click, field
from urial.job.log import Entry, standing
from urial.making.finish import AIR, HUMIDITY, STEEL
from urial.making.step import key_of


@pytest.fixture
def page(qtbot, window):
    window.activateWindow()
    window.go("Finish")
    click(qtbot, window, "page:Coats")
    qtbot.waitUntil(lambda: window.store.making.work is not None)
    return window.stations["Finish"].pages["Coats"]


def laid(window, number, ago):
    at = (datetime.now().astimezone() - ago).isoformat(timespec="milliseconds")
    entry = Entry(id=uuid4().hex, step=key_of("job", "coat", str(number)), at=at)
    window.store.document.enter(entry)


def type_in(qtbot, window, name, text):
    line = window.findChild(type(window.stations["Finish"].pages["Coats"].read[STEEL]), f"air:{name}")
    line.setFocus(Qt.FocusReason.TabFocusReason)
    line.selectAll()
    qtbot.keyClicks(line, text)
    return line


def test_it_says_how_much_what_stays_bare_and_that_nothing_is_laid(qtbot, window, page):
    assert page.times.text() == "Nothing is laid yet."
    assert "m² in 3 coats: " in page.sum.text() and "l of two-pack colour" in page.sum.text()
    assert "receiver" in page.bare.text() and "the pin goes in by hand" in page.bare.text()
    assert page.picture.isVisible() and not page.weather.isVisible()


def test_air_that_is_read_sets_the_clock_and_stands_in_the_log(qtbot, window, page):
    laid(window, 1, timedelta(hours=2))
    qtbot.keyClick(type_in(qtbot, window, STEEL, "20"), Qt.Key.Key_Return)
    (read,) = [e for e in standing(window.store.document.log) if e.step == AIR]
    assert read.figures == {STEEL: 20.0, "air °C": 20.0, HUMIDITY: 60.0}
    assert page.times.text().startswith("Coat 2 of 3, two-pack colour, may go on from ")
    laid(window, 2, timedelta(hours=30))
    page.refresh()
    assert "is too late since " in page.times.text() and "sand coat 2 dull first" in page.times.text()
    qtbot.keyClick(type_in(qtbot, window, STEEL, "68 F"), Qt.Key.Key_Return)
    newest = [e for e in standing(window.store.document.log) if e.step == AIR][-1]
    assert newest.figures[STEEL] == pytest.approx(20.0)
    type_in(qtbot, window, STEEL, "4")
    click(qtbot, window, "note air")
    assert "wants steel of 10 to 35 °C" in page.weather.text()


def test_nobody_paints_on_dew_and_nonsense_is_refused_in_a_sentence(qtbot, window, page):
    type_in(qtbot, window, HUMIDITY, "95")
    click(qtbot, window, "note air")
    assert "95 % humidity is more than 85 %" in page.weather.text()
    assert "water settles on it" in page.weather.text()
    count = len(window.store.document.log)
    for text, said in (("wet", "is no figure for humidity, %"), ("140", "must be between 1 and 100")):
        type_in(qtbot, window, HUMIDITY, text)
        click(qtbot, window, "note air")
        assert said in page.problem.text() and len(window.store.document.log) == count


def test_what_is_sent_out_shows_its_closed_hollows_and_comes_back_by_undo(qtbot, window, page):
    before = window.store.job
    proved = window.store.verdict
    box = field(qtbot, window, "making.finish.scheme")
    qtbot.mouseClick(box.buttons["galvanised"], Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: "closed hollow and bursts in the zinc" in page.first.text())
    assert not page.picture.isVisible() and page.part.about == {"A"}
    now, was = ([(c.id, c.utilisation) for c in v.checks] for v in (window.store.verdict, proved))
    assert now == was  # what is painted on it changes no verdict
    steps = window.store.making.work.plan.steps
    assert [s.kind for s in steps].count("send out") == 1 and "coat" not in {s.kind for s in steps}
    window.undo_action.trigger()
    assert window.store.job == before
    qtbot.waitUntil(lambda: page.times.text() == "Nothing is laid yet.")


def test_at_the_bench_a_coat_says_when_it_may_go_on(qtbot, window, page):
    laid(window, 1, timedelta(minutes=30))
    window.store.making.air(20.0, 20.0, 50.0)
    bench = window.bench
    window.toggle_bench()
    bench.key = key_of("job", "coat", "2")
    bench.refresh()
    assert "Coat 2 of 3, two-pack colour, may go on from " in bench.mind.text()
    assert "isocyanates" in bench.mind.text()
