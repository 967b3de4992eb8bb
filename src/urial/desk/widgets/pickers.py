"""Pickers and sliders that the wheel does not change in passing: they follow it only once they were clicked
or reached by Tab, else what they lie in scrolls.
"""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtWidgets import QComboBox, QSlider, QWidget


def _only_in_hand(widget: QWidget, event: QWheelEvent, turn: Callable[[QWheelEvent], None]) -> None:
    """The wheel turns what has the focus; elsewhere it goes on to what scrolls."""
    if widget.hasFocus():
        turn(event)
    else:
        event.ignore()


class Picker(QComboBox):
    """One of several."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def wheelEvent(self, event: QWheelEvent) -> None:
        _only_in_hand(self, event, super().wheelEvent)


class Slider(QSlider):
    """A figure along a line."""

    def __init__(self, orientation: Qt.Orientation) -> None:
        super().__init__(orientation)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def wheelEvent(self, event: QWheelEvent) -> None:
        _only_in_hand(self, event, super().wheelEvent)


__all__ = ["Picker", "Slider"]
