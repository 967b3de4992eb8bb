"""A button whose words go over as many lines as they need: no advice loses its end."""

from __future__ import annotations

from PySide6.QtCore import QRect, QSize, Qt
from PySide6.QtGui import QPaintEvent
from PySide6.QtWidgets import QPushButton, QSizePolicy, QStyle, QStyleOptionButton, QStylePainter, QWidget

WRAPPED = Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
TALLEST = 10_000


class WordButton(QPushButton):
    """A push button as wide as it is given, as high as its words then are."""

    def __init__(self, text: str, parent: QWidget | None = None) -> None:
        super().__init__(text, parent)
        policy = QSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)

    def hasHeightForWidth(self) -> bool:
        return True

    def _inside(self, rect: QRect) -> QRect:
        """Where the words go in a button of this size."""
        option = QStyleOptionButton()
        self.initStyleOption(option)
        option.rect = rect
        inner = self.style().subElementRect(QStyle.SubElement.SE_PushButtonContents, option, self)
        return inner if inner.isValid() else rect.adjusted(8, 5, -8, -5)

    def heightForWidth(self, width: int) -> int:
        self.ensurePolished()  # the sheet's weight and size, before it is first shown
        inner = self._inside(QRect(0, 0, max(width, 60), 200))
        around = 200 - inner.height()
        words = self.fontMetrics().boundingRect(
            QRect(0, 0, max(inner.width(), 40), TALLEST), int(WRAPPED), self.text()
        )
        return words.height() + max(around, 6)

    def sizeHint(self) -> QSize:
        wide = max(self.width(), 200)
        return QSize(wide, self.heightForWidth(wide))

    def minimumSizeHint(self) -> QSize:
        return QSize(60, self.heightForWidth(max(self.width(), 200)))

    def paintEvent(self, _: QPaintEvent) -> None:
        painter = QStylePainter(self)
        option = QStyleOptionButton()
        self.initStyleOption(option)
        text, option.text = option.text, ""
        painter.drawControl(QStyle.ControlElement.CE_PushButton, option)
        painter.setPen(option.palette.buttonText().color())
        painter.drawText(self._inside(self.rect()), int(WRAPPED), text)


__all__ = ["WordButton"]
