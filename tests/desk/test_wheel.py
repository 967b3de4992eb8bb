"""The wheel over a picker or a slider scrolls the page and changes nothing that was not clicked first."""

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtWidgets import (
    QAbstractSlider,
    QAbstractSpinBox,
    QApplication,
    QComboBox,
    QScrollBar,
    QWidget,
)


def turn(widget, steps=-1):
    """As a mouse does it: the wheel over the middle of a widget."""
    from PySide6.QtGui import QWheelEvent

    at = QPointF(widget.rect().center())
    event = QWheelEvent(
        at,
        QPointF(widget.mapToGlobal(at.toPoint())),
        QPoint(0, 0),
        QPoint(0, 120 * steps),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(widget, event)
    return event


def changeable(window):
    found = window.findChildren(QWidget)
    kinds = (QComboBox, QAbstractSpinBox, QAbstractSlider)
    return [w for w in found if isinstance(w, kinds) and not isinstance(w, QScrollBar)]


def test_nothing_that_the_wheel_changes_takes_the_focus_from_it(window):
    for name in window.stations:
        window.go(name)
        for w in changeable(window):
            w.ensurePolished()
            assert w.focusPolicy() != Qt.FocusPolicy.WheelFocus, (name, w.objectName())


def test_a_picker_in_passing_leaves_the_wheel_to_its_page_and_the_steel_stays(qtbot, window):
    window.go("Build")
    station = window.stations["Build"]
    before = window.store.job
    station.show_group("Side plates")
    pickers = [w for w in station.findChildren(QComboBox) if w.isVisible() and not w.hasFocus()]
    assert pickers
    for picker in pickers:
        here = picker.currentIndex()
        assert not turn(picker).isAccepted()  # what nobody takes scrolls what it lies in
        assert picker.currentIndex() == here and window.store.job == before and not picker.hasFocus()
    window.go("Prove")
    station = window.stations["Prove"]
    station.what_if.open.click()
    slider = station.what_if.slider
    here = slider.value()
    assert not turn(slider).isAccepted() and slider.value() == here


def test_what_was_clicked_follows_the_wheel(qtbot, window):
    window.go("Build")
    station = window.stations["Build"]
    station.show_group("Side plates")
    window.activateWindow()
    picker = next(
        w for w in station.findChildren(QComboBox) if w.isVisible() and 0 <= w.currentIndex() < w.count() - 1
    )
    picker.setFocus()
    qtbot.waitUntil(picker.hasFocus)
    here = picker.currentIndex()
    turn(picker)
    assert picker.currentIndex() == here + 1
