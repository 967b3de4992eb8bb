"""The drawer of bench calculators: each answers, is drawn, takes from the job and puts into it."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from urial.calc.registry import answer, find
from urial.desk.tools import TOOLS
from urial.road.stance import stance


@pytest.fixture
def drawer(qtbot, window):
    window.activateWindow()
    qtbot.waitUntil(window.isActiveWindow, timeout=5000)
    window.scene.setFocus()
    qtbot.keyClick(window.scene, Qt.Key.Key_F9)
    assert window.drawer.isVisible()
    return window.drawer


def type_in(qtbot, drawer, key, text):
    editor = drawer.editors[key]
    editor.setFocus()
    editor.selectAll()
    qtbot.keyClicks(editor, text)


def test_every_tool_answers_at_once_and_is_drawn(window, drawer):
    window.resize(1280, 800)
    for tool in TOOLS:
        window.show_tool(tool.name)
        assert drawer.question.text() == tool.question and drawer.big.text(), tool.name
        assert not drawer.problem.isVisible(), tool.name
        image = drawer.picture.grab().toImage()
        colours = {image.pixel(x, y) for x in range(0, image.width(), 3) for y in range(0, image.height(), 3)}
        assert len(colours) > 3, tool.name
        drawer.take_from_job()
        assert drawer.big.text() and not drawer.problem.isVisible(), tool.name
        QTest.qWait(20)
        boxes = [e.geometry() for e in drawer.editors.values()]
        least = drawer.editors[drawer.tool.asks[0].key].minimumSizeHint().height() - 2
        for n, box in enumerate(boxes):  # however many, each is whole: beyond what is seen it scrolls
            assert box.height() >= least and not any(box.intersects(o) for o in boxes[:n]), tool.name


def test_the_drawer_asks_the_same_calculators_as_the_command_line(qtbot, window, drawer):
    window.show_tool("strap_anchor")
    for key, text in (("pull_N", "12 kN"), ("angle_deg", "90"), ("break_N", "60 kN"), ("legs", "2")):
        type_in(qtbot, drawer, key, text)
    expected = answer(
        find("strap_anchor"), {"pull_N": 12_000.0, "leg_angle_deg": 90.0, "break_N": 60_000.0, "legs": 2}
    )
    assert (
        drawer.found == expected
        and "8.49\u00a0kN in each leg" in drawer.big.text()
        and "42 %" in drawer.rest.text()
    )


def test_wrong_text_is_marked_and_said_and_the_old_answer_stays(qtbot, window, drawer):
    window.show_tool("strap_anchor")
    before = drawer.big.text()
    type_in(qtbot, drawer, "pull_N", "hard")
    assert "Pull: “hard” is not a force" in drawer.problem.text() and drawer.big.text() == before
    type_in(qtbot, drawer, "pull_N", "-3 kN")
    assert "“pull”" in drawer.problem.text() and "pull_N" not in drawer.problem.text()


def test_the_ball_is_set_level_by_taking_and_putting(qtbot, window, drawer):
    window.store.put("duty.coupler_height_mm", 520.0)
    assert abs(stance(window.store.job, window.store.verdict.assembly, []).drop_change_mm) > 50
    window.show_tool("hitch_height")
    qtbot.mouseClick(drawer.findChild(QPushButton, "tool take"), Qt.MouseButton.LeftButton)
    assert drawer.values["hitch_height"]["coupler_mm"] == 520.0
    qtbot.mouseClick(drawer.findChild(QPushButton, "tool put"), Qt.MouseButton.LeftButton)
    assert abs(stance(window.store.job, window.store.verdict.assembly, []).drop_change_mm) < 1.0
    assert window.store.document.history.undo_name == "ball mount's drop from the bench"


def test_the_drawer_speaks_the_jobs_units(qtbot, window, drawer):
    window.show_tool("hitch_height")
    window.switch_units()
    assert '"' in drawer.editors["coupler_mm"].text() and '"' in drawer.big.text()
    type_in(qtbot, drawer, "coupler_mm", "20 1/2")
    assert drawer.values["hitch_height"]["coupler_mm"] == pytest.approx(520.7)


def test_rows_keep_their_height_in_a_small_window(window, drawer):
    window.resize(900, 600)
    window.bench_size()
    window.toggle_drawer()
    window.show_tool("pin")
    for editor in window.drawer.editors.values():
        assert editor.height() >= 0.95 * editor.sizeHint().height()


def test_finding_opens_a_calculator(window):
    entry = next(e for e in window.entries() if e.kind.startswith("calculator") and "pin hold" in e.kind)
    entry.act()
    assert window.drawer.isVisible() and window.drawer.tool.name == "pin"
