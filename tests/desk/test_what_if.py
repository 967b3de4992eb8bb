"""What if, from the user's side."""

import pypdfium2
import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QComboBox, QLabel, QPushButton

from urial.desk.start import demo_jobs
from urial.prove import whatif


@pytest.fixture
def panel(qtbot, window, monkeypatch):
    monkeypatch.setattr(whatif, "PLACES", 4)
    monkeypatch.setattr(whatif, "POINTS", 7)
    window.go("Prove")
    qtbot.mouseClick(window.findChild(QPushButton, "what if"), Qt.MouseButton.LeftButton)
    return window.slates.currentWidget().what_if


def choose(qtbot, panel, what):
    box = panel.findChild(QComboBox, "swept")
    box.setCurrentIndex(box.findData(what))
    box.activated.emit(box.currentIndex())
    qtbot.waitUntil(lambda: not panel.store.asking.busy("what if"), timeout=60_000)
    return panel.findChild(QLabel, "swept said").text()


def test_a_size_is_swept_and_read_off_the_chart(qtbot, window, panel):
    said = choose(qtbot, panel, "stack.2.ball_plate_mm")
    assert said.startswith("Holds down to") and "94 % used" in said and panel.chart.isVisible()
    assert "From " in panel.more.text()
    before = panel.chart.grab().toImage()
    at = QPointF(panel.chart.width() * 0.6, panel.chart.height() / 2)
    none = Qt.MouseButton.NoButton
    event = QMouseEvent(QMouseEvent.Type.MouseMove, at, at, none, none, Qt.KeyboardModifier.NoModifier)
    panel.chart.mouseMoveEvent(event)
    assert panel.chart.grab().toImage() != before  # the value under the pointer is written there
    panel.chart.leaveEvent(None)
    assert panel.chart.grab().toImage() == before


def test_what_matters_most_is_listed_with_both_its_ends(qtbot, window, panel):
    said = choose(qtbot, panel, "*matters")
    assert "matters most" in said and panel.chart.bars[0].title in said
    assert panel.chart.bars[0].less > panel.chart.bars[0].more


def test_the_slider_reads_the_sweep_off_and_takes_a_figure_in_one_step(qtbot, window, panel):
    choose(qtbot, panel, "stack.2.ball_plate_mm")
    assert panel.slide.isVisible() and not panel.take.isEnabled()  # it stands at what it is now
    here = panel.findChild(QLabel, "sweep here")
    before = here.text()
    assert "94 % used" in before
    drawn = panel.chart.grab().toImage()
    panel.slider.setValue(panel.slider.maximum())
    assert here.text() != before and panel.take.isEnabled() and panel.chart.grab().toImage() != drawn
    panel.slider.setFocus()
    qtbot.keyClick(panel.slider, Qt.Key.Key_Left)  # by the keyboard too
    value = panel._at(panel.found)
    assert value == round(value) and f"{value:.0f} mm" in panel.take.text()
    used = float(here.text().split("about ")[1].split(" %")[0])
    old = window.store.job.stack
    qtbot.mouseClick(panel.take, Qt.MouseButton.LeftButton)
    assert window.store.job.stack[1].values.ball_plate_mm == value
    assert 100 * window.store.verdict.governing.utilisation == pytest.approx(used, abs=12)
    window.undo_action.trigger()
    assert window.store.job.stack == old
    choose(qtbot, panel, "*matters")
    assert not panel.slide.isVisible() and not here.isVisible()


def test_the_chance_of_being_short_is_counted_and_drawn(qtbot, window, panel, monkeypatch):
    monkeypatch.setattr("urial.prove.chance.chance.__defaults__", (16, 1, "", bool, lambda _: None))
    said = choose(qtbot, panel, "*chance")
    assert "In one hard load:" in said and "of 16" in said and "95 % sure" in said
    curve = panel.chart.curve
    assert len(curve.x) == 16 and list(curve.x) == sorted(curve.x) and curve.y[-1] == 1.0
    assert (
        "JCSS" in panel.more.toolTip()
        and "leg of a hand-laid bead" in panel.more.text()
        and not panel.plate.isVisible()
    )


def test_the_most_it_may_carry_stands_with_its_caution(qtbot, window, panel, tmp_path, monkeypatch):
    window.open_demo(next(p for p, _, _ in demo_jobs() if p.stem == "generator-carrier"))
    window.go("Prove")
    said = choose(qtbot, panel, "*most")
    assert said.startswith("Carried: up to") and "Asked now" in said
    assert "Planning values" in panel.more.text()
    target = tmp_path / "plate"
    monkeypatch.setattr(
        "PySide6.QtWidgets.QFileDialog.getSaveFileName", lambda *a, **k: (str(target), "PDF (*.pdf)")
    )
    qtbot.mouseClick(panel.plate, Qt.MouseButton.LeftButton)
    document = pypdfium2.PdfDocument(target.with_suffix(".pdf").read_bytes())
    wide, high = document[0].get_size()
    assert len(document) == 1 and (wide, high) == pytest.approx((100 * 72 / 25.4, 80 * 72 / 25.4), abs=0.1)
    text = " ".join(document[0].get_textpage().get_text_range().split())
    assert "Planning values" in text and "104 kg" in text and "licensed engineer or inspector." in text


def test_an_edit_asks_again_and_stopping_stops(qtbot, window, panel):
    choose(qtbot, panel, "stack.2.ball_plate_mm")
    first = panel.found
    window.store.put("stack.2.ball_plate_width_mm", 118.0)
    qtbot.waitUntil(lambda: not panel.store.asking.busy("what if"), timeout=60_000)
    assert panel.found is not None and panel.found is not first
    box = panel.findChild(QComboBox, "swept")
    box.setCurrentIndex(box.findData("*matters"))
    box.activated.emit(box.currentIndex())
    qtbot.mouseClick(panel.stop, Qt.MouseButton.LeftButton)
    assert not panel.store.asking.busy("what if") and "Stopped" in panel.said.text() and panel.stop.isHidden()


def test_shut_it_asks_nothing(qtbot, window, panel):
    choose(qtbot, panel, "stack.2.ball_plate_mm")
    qtbot.mouseClick(panel.open, Qt.MouseButton.LeftButton)
    found = panel.found
    window.store.put("stack.2.ball_plate_width_mm", 121.0)
    assert panel.found is found and not panel.store.asking.busy("what if")
