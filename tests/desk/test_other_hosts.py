"""Several hosts of one job from the window: one more, measured by keys, judged, taken off, undone."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLineEdit

from tests.desk.hands import click, field, shown


def test_a_second_tractor_is_added_measured_judged_and_taken_off(qtbot, window):
    window.new_job("hook-plate")
    window.go("Measure")
    click(qtbot, window, "page:Host")
    before = window.store.verdict.governing.utilisation
    click(qtbot, window, "one more host")
    assert len(window.store.job.hosts) == 2
    click(qtbot, window, "host 1")
    box = field(qtbot, window, "hosts.1.front_kg").findChild(QLineEdit)
    assert "hosts.1.front_kg" in window.store.document.assumed
    box.setFocus()
    box.selectAll()
    qtbot.keyClicks(box, "400 kg")
    qtbot.wait(60)  # a pause, and the page is refreshed meanwhile
    qtbot.keyClick(box, Qt.Key.Key_Return)
    assert window.store.job.hosts[1].front_kg == 400.0 and box.isVisible()
    assert "hosts.1.front_kg" not in window.store.document.assumed
    qtbot.waitUntil(lambda: window.store.verdict.governing.utilisation > before + 0.05, timeout=30_000)
    assert window.store.verdict.governing.name.endswith("on Tractor 2")
    # its name, as people call it; its row stays open
    name = field(qtbot, window, "hosts.1.name").findChild(QLineEdit)
    name.setFocus()
    name.selectAll()
    qtbot.keyClicks(name, "Sedge 40")
    qtbot.keyClick(name, Qt.Key.Key_Return)
    others = shown(qtbot, window, "host 1")
    qtbot.waitUntil(lambda: others is not None and window.store.job.hosts[1].name == "Sedge 40")
    assert shown(qtbot, window, "host 1").text() == "Sedge 40" and field(qtbot, window, "hosts.1.front_kg")
    click(qtbot, window, "host away 1")
    assert len(window.store.job.hosts) == 1
    window.undo_action.trigger()
    assert window.store.job.hosts[1].name == "Sedge 40" and window.store.job.hosts[1].front_kg == 400.0
    assert "hosts.1.front_kg" not in window.store.document.assumed
