"""What nobody foresaw is logged and said in one sentence; the window and the work go on."""

import logging
import sys

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QPushButton

from tests.desk.hands import click
from urial.desk import unexpected
from urial.desk.actions import ACTS, keys_in_words
from urial.journal import state_dir


def test_an_error_in_the_middle_of_a_click_is_said_with_where_its_log_lies(
    qtbot, window, monkeypatch, caplog
):
    monkeypatch.setattr(sys, "excepthook", sys.excepthook)
    unexpected.watch(window)
    try:
        raise ZeroDivisionError("nobody thought of it")
    except ZeroDivisionError as error:
        with caplog.at_level(logging.ERROR, "urial"):
            logging.getLogger("urial").propagate = True
            sys.excepthook(type(error), error, error.__traceback__)
    assert "nobody thought of it" in caplog.text
    qtbot.waitUntil(lambda: window.alarm.isVisible())
    said = window.alarm.said.text()
    assert str(state_dir() / "urial.log") in said and "your work is kept" in said
    assert "ZeroDivision" not in said and "\n" not in said
    window.store.put("stack.1.drop_mm", 131.0)  # it goes on
    assert window.store.job.piece("rear-receiver").values.drop_mm == 131.0
    qtbot.mouseClick(window.findChild(QPushButton, "unexpected away"), Qt.MouseButton.LeftButton)
    assert not window.alarm.isVisible()


def test_every_action_is_declared_once_and_does_something(window):
    assert len({a.name for a in ACTS}) == len(ACTS) and len({k for a in ACTS for k in a.keys}) == sum(
        len(a.keys) for a in ACTS
    )
    for act in window.acts:
        way = act.do.partition(":")[0]
        target = window
        for name in way.split("."):
            target = getattr(target, name)
        assert callable(target), act.name
        action = window.actions_by_name[act.name]
        assert [k.toString() for k in action.shortcuts()] == list(act.keys)
    words = keys_in_words(window.acts)
    assert "Ctrl+Shift+Z or Ctrl+Y   Redo" in words and "3   Go to Build" in words


def test_menus_keys_and_finding_do_the_same(qtbot, window):
    window.actions_by_name["go Prove"].trigger()
    assert window.station == "Prove"
    found = next(e for e in window.entries() if e.words == "Go to Build" and e.kind == "command")
    found.act()
    assert window.station == "Build"
    before = window.scene.camera.view
    window.actions_by_name["turn"].trigger()
    assert window.scene.camera.view != before


def test_what_needs_a_part_is_off_without_one(qtbot, window):
    window.new_survey("pickup")
    on = {name for name, a in window.actions_by_name.items() if a.isEnabled()}
    assert "go Measure" in on and "go Prove" not in on and "save" in on and "undo" not in on
    click(qtbot, window, "tab:Measure")
    window.show_start()
    on = {name for name, a in window.actions_by_name.items() if a.isEnabled()}
    assert "open" in on and "save" not in on and "go Measure" not in on
