"""The rating plate from the window: refused with reasons, written with one, and what is on it."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QLabel, QLineEdit, QPushButton

from tests.desk.hands import click, shown
from tests.desk.test_making import JOBS


def test_a_plate_is_refused_until_there_is_a_reason(qtbot, window, tmp_path, monkeypatch):
    monkeypatch.setenv("URIAL_BOOK", f"sqlite:///{tmp_path / 'none' / 'shop.db'}")
    window.open_demo(JOBS["rescue-receiver"])
    window.go("Prove")
    click(qtbot, window, "rating plate")
    said = shown(qtbot, window, "plate said", QLabel)
    qtbot.waitUntil(lambda: "speaks against it" in said.text(), timeout=60_000)
    assert "Not proven" in said.text() and "beads not run" in said.text()
    write = window.findChild(QPushButton, "write plate")
    assert not write.isEnabled()
    why = shown(qtbot, window, "plate why", QLineEdit)
    qtbot.mouseClick(why, Qt.MouseButton.LeftButton)
    qtbot.keyClicks(why, "trial fit at the shop")
    qtbot.wait(60)
    assert write.isEnabled() and why.text() == "trial fit at the shop"
    target = tmp_path / "on the bar"
    monkeypatch.setattr(
        QFileDialog, "getSaveFileName", lambda *_, **__: (str(target), "SVG, to engrave (*.svg)")
    )
    click(qtbot, window, "write plate")
    written = target.with_name("on the bar.svg")
    assert written.exists() and "trial fit at the shop" in written.read_text(encoding="utf-8")
    assert str(written) in shown(qtbot, window, "plate done", QLabel).text()
    why.clear()
    assert not write.isEnabled()


def test_a_folder_that_may_not_be_written_is_said(qtbot, window, tmp_path, monkeypatch):
    monkeypatch.setenv("URIAL_BOOK", f"sqlite:///{tmp_path / 'none' / 'shop.db'}")
    window.open_demo(JOBS["rescue-receiver"])
    window.go("Prove")
    click(qtbot, window, "rating plate")
    write = window.findChild(QPushButton, "write plate")
    why = shown(qtbot, window, "plate why", QLineEdit)
    why.setText("trial fit")
    qtbot.waitUntil(write.isEnabled, timeout=60_000)
    gone = tmp_path / "gone" / "plate.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: (str(gone), "PDF (*.pdf)"))
    click(qtbot, window, "write plate")
    told = shown(qtbot, window, "plate done", QLabel).text()
    assert told and "Written" not in told and not gone.exists()
