"""Wiring in the real window: a plug is chosen, a run is typed, a feed without a length is refused."""

import pytest

from tests.desk.hands import click, field
from urial.desk.scene.wiring_view import PAINT
from urial.desk.widgets.fields import Field
from urial.making.wiring import book


@pytest.fixture
def page(qtbot, window):
    window.activateWindow()
    window.go("Finish")
    click(qtbot, window, "page:Wiring")
    return window.stations["Finish"].pages["Wiring"]


def choose(qtbot, window, name, option):
    click(qtbot, window, f"choice:making.wiring.{name}:{option}")


def typed(qtbot, window, name, text):
    line = field(qtbot, window, f"making.wiring.{name}").line
    line.setFocus()
    line.selectAll()
    qtbot.keyClicks(line, text)
    line.editingFinished.emit()


def test_nothing_is_wired_until_somebody_says_so_and_undo_takes_it_back(qtbot, window, page):
    assert page.picture.wired is None and "Nothing is wired yet" in page.picture.waiting
    choose(qtbot, window, "what", "lamps on it")
    assert len(page.picture.wired.wires) == 8 and "nobody measured" in page.words.text()
    assert "clip, lined" in page.bought.text()
    before = page.picture.wired.wires[0].mm
    typed(qtbot, window, "run_mm", "6 m")
    assert page.picture.wired.wires[0].mm == 6000.0
    assert before != 6000.0 and "nobody measured" not in page.words.text()
    window.undo_action.trigger()
    window.undo_action.trigger()
    assert page.picture.wired is None


def test_a_feed_of_unknown_length_is_said_beside_the_fields_and_mended_there(qtbot, window, page):
    choose(qtbot, window, "what", "lamps on it")
    here = page.findChild(Field, "field:making.wiring.battery_mm")
    assert not here.isVisible() and page.findChild(Field, "field:making.wiring.earth").isVisible()
    choose(qtbot, window, "what", "a socket on the host")
    assert here.isVisible() and not page.findChild(Field, "field:making.wiring.earth").isVisible()
    choose(qtbot, window, "plug", "7-blade")
    typed(qtbot, window, "brake_A", "6")
    assert page.problem.isVisible()
    assert "battery to the socket is not measured" in page.problem.text() and page.picture.wired is None
    typed(qtbot, window, "battery_mm", "5.5 m")
    assert not page.problem.isVisible()
    feed = next(w for w in page.picture.wired.wires if w.does == "brakes")
    assert feed.mm == 5500.0 and feed.fuse == 7.5


def test_the_step_is_in_the_plan_and_its_cable_in_inches_is_a_gauge(qtbot, window, page):
    choose(qtbot, window, "what", "lamps on it")
    making = window.store.making
    qtbot.waitUntil(lambda: making.work is not None)
    assert any(s.kind == "wire" for s in making.work.plan.steps)
    window.switch_units()
    assert page.picture.wired.wires[0].cable.name.endswith("AWG")
    assert " ft cable" in page.bought.text()


def test_every_colour_there_is_can_be_painted():
    for plug in book().plugs.values():
        for c in plug.contacts:
            for colour in c.colours:
                assert colour == "left free" or all(one in PAINT for one in colour.split(" and ")), colour
