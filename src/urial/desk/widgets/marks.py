"""Utilisation as shape and colour together: open ring, half-filled ring, notched square."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from urial.desk.theme import Theme


def paint_mark(p: QPainter, theme: Theme, utilisation: float, centre: QPointF, size: float) -> None:
    """Draw the mark: ring under 0.7, half-filled ring to 1.0, filled square with a notch above."""
    colour = theme.tone(utilisation)
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    box = QRectF(centre.x() - size / 2, centre.y() - size / 2, size, size)
    if utilisation >= 1:
        path = QPainterPath(box.bottomLeft())
        for point in (
            box.topLeft(),
            QPointF(box.center().x() - size * 0.22, box.top()),
            QPointF(box.center().x(), box.top() + size * 0.36),
            QPointF(box.center().x() + size * 0.22, box.top()),
            box.topRight(),
            box.bottomRight(),
        ):
            path.lineTo(point)
        path.closeSubpath()
        p.fillPath(path, colour)
    else:
        pen = max(1.5, size * 0.13)
        p.setPen(QPen(colour, pen))
        p.setBrush(Qt.BrushStyle.NoBrush)
        ring = box.adjusted(pen / 2, pen / 2, -pen / 2, -pen / 2)
        p.drawEllipse(ring)
        if utilisation >= 0.7:
            p.setBrush(colour)
            p.drawPie(ring, -90 * 16, 180 * 16)
    p.restore()


class Mark(QWidget):
    """A utilisation mark on its own."""

    def __init__(self, theme: Theme, size: float = 24) -> None:
        super().__init__()
        self.theme, self.size_px, self.utilisation = theme, size, 0.0
        self.setFixedSize(QSize(theme.px(size) + 2, theme.px(size) + 2))

    def show_value(self, utilisation: float) -> None:
        """Change what is shown."""
        self.utilisation = utilisation
        self.setFixedSize(QSize(self.theme.px(self.size_px) + 2, self.theme.px(self.size_px) + 2))
        self.setAccessibleName(f"{100 * utilisation:.0f} percent used")
        self.update()

    def paintEvent(self, _: QPaintEvent) -> None:
        paint_mark(
            QPainter(self),
            self.theme,
            self.utilisation,
            QPointF(self.width() / 2, self.height() / 2),
            self.theme.px(self.size_px),
        )
