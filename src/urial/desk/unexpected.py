"""When something unexpected happens: it is logged, and whoever sits before the window reads one sentence."""

from __future__ import annotations

import logging
import sys
from types import TracebackType

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QWidget

from urial.journal import state_dir

log = logging.getLogger("urial")


def words() -> str:
    """The sentence."""
    return (
        "Something unexpected happened, and what you see may be incomplete; your work is kept. "
        f"What it was is written in {state_dir() / 'urial.log'}: save, and open the job again."
    )


class Alarm(QFrame):
    """A line over the pages that says so, until it is put away."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("alarm")
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 4, 8, 4)
        self.said = QLabel()
        self.said.setObjectName("unexpected")
        self.said.setTextFormat(Qt.TextFormat.PlainText)
        self.said.setProperty("role", "problem")
        self.said.setWordWrap(True)
        self.said.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        row.addWidget(self.said, 1)
        away = QPushButton("Put it away")
        away.setObjectName("unexpected away")
        away.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        away.clicked.connect(self.hide)
        row.addWidget(away, 0, Qt.AlignmentFlag.AlignTop)
        self.hide()

    def ring(self) -> None:
        """Say it, from whatever was going on."""
        self.said.setText(words())
        QTimer.singleShot(0, self.show)


def watch(window: QWidget) -> None:
    """Log what nobody catches from now on, and say so in ``window``."""

    def caught(kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        log.error("unexpected", exc_info=(kind, error, trace))
        alarm = window.findChild(Alarm)
        if alarm is not None:
            alarm.ring()

    sys.excepthook = caught


__all__ = ["Alarm", "watch", "words"]
