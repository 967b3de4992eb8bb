"""In the window: a formula typed into a field; a piece kept as the shop's own kind, offered and shared."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QLineEdit, QPushButton

from tests.desk.hands import click
from urial.desk.start import demo_jobs
from urial.desk.widgets.fields import Field
from urial.families import _shop as shop
from urial.job import edit

PLATE = {p.stem: p for p, _, _ in demo_jobs()}["tool-plate"]


@pytest.fixture
def build(window):
    window.open_demo(PLATE)
    window.go("Build")
    station = window.stations["Build"]
    station.show_path("stack.3.high_mm")
    return station


def field(build, path):
    return next(w for w in build.findChildren(Field) if w.path == path)


def type_into(qtbot, window, box, text):
    box.line.setFocus()
    box.line.selectAll()
    qtbot.keyClicks(box.line, text)
    qtbot.keyClick(box.line, Qt.Key.Key_Return)
    window.setFocus()


def test_a_formula_typed_into_a_field_is_worked_out_shown_and_undone(qtbot, window, build):
    high = field(build, "stack.3.high_mm")
    before = window.store.job
    type_into(qtbot, window, high, "= wide / 2 - 60 mm")
    assert edit.get(window.store.job, "stack.3.high_mm") == pytest.approx(190.0)
    assert high.note.text() == "= wide / 2 - 60 mm" and high.line.text() == "190 mm"
    type_into(qtbot, window, field(build, "stack.3.wide_mm"), "480")
    assert edit.get(window.store.job, "stack.3.high_mm") == pytest.approx(180.0)
    assert high.line.text() == "180 mm"
    type_into(qtbot, window, high, "= high")
    assert "circle" in high.note.text() and bool(high.line.property("wrong"))
    qtbot.keyClick(high.line, Qt.Key.Key_Escape)
    window.store.undo()
    window.store.undo()
    assert window.store.job == before


def test_looking_at_a_formula_changes_nothing(qtbot, window, build):
    high = field(build, "stack.3.high_mm")
    type_into(qtbot, window, high, "= wide / 2 - 60 mm")
    job = window.store.job
    high.show_formula()
    assert high.line.text() == "= wide / 2 - 60 mm"
    high.commit()
    assert window.store.job is job and high.line.text() == "190 mm"


def test_a_piece_is_kept_as_the_shops_own_offered_shared_forgotten_and_taken_in(
    qtbot, window, build, tmp_path, monkeypatch
):
    build.show_piece("3")
    click(qtbot, build, "shop kinds")
    click(qtbot, build, "keep kind")
    assert "name first" in build.own.said.text()
    qtbot.keyClicks(build.own.findChild(QLineEdit, "shop kind name"), "Saw plate")
    click(qtbot, build, "keep kind")
    assert "“Saw plate” is kept" in build.own.said.text()
    target = tmp_path / "saw.urial-kind"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(target), ""))
    click(qtbot, build, "share:Saw plate")
    assert target.exists()
    click(qtbot, build, "forget:Saw plate")
    assert build.findChild(QPushButton, "share:Saw plate") is None or not build.own.rows.count()
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(target), ""))
    click(qtbot, build, "take kind in")
    assert "is on the shelf" in build.own.said.text()
    click(qtbot, build, "take kind in")
    assert "here already" in build.own.said.text()
    build.offer_swap("3")
    qtbot.waitUntil(lambda: "kinds go there" in build.offers.said.text(), timeout=60_000)
    click(qtbot, build, "offer:Saw plate")
    assert window.store.job.stack[-1].family == "flat-carrier"
    target.write_text("nonsense")
    build.own.open.setChecked(True)
    click(qtbot, build, "take kind in")
    assert "damaged" in build.own.said.text()


def test_a_new_job_starts_with_one_of_the_shops_own(qtbot, window, build):
    window.store.put("stack.3.wide_mm", 420.0)
    shop.keep(shop.kind_of(window.store.job, "3", "Saw plate"))
    window.store.undo()
    start = window.start
    window.pages.setCurrentWidget(start)
    start.show_does("carry")
    start.show_kind("pickup")
    button = start.findChild(QPushButton, "new:shop:saw-plate")
    assert button is not None and button.accessibleName() == "Start a saw plate"
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert window.store.job.title == "Saw plate" and edit.get(window.store.job, "stack.2.wide_mm") == 420.0
    assert window.store.verdict.checks
