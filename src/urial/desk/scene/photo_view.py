"""A photo in the scene's place: corners of a known rectangle, picks with sub-pixel help, a loupe, and the
squared-up grid.
"""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import QWidget

from urial.desk.theme import Theme, font
from urial.measure.rectify import Squared, inverse, project

MOST_LINES = 120
"""Lines of the squared-up grid each way, at most."""


class PhotoView(QWidget):
    """Shows a picture, its corners and picks; a click is said with its place in the picture's pixels."""

    clicked = Signal(float, float)

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.setObjectName("photo view")
        self.setAccessibleName("Photo: click its corners and holes")
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.pixmap: QPixmap | None = None
        self.corners: list[tuple[float, float]] = []
        self.picks: list[tuple[str, float, float, str]] = []  # name, pixels, words beside it
        self.squared: Squared | None = None
        self.grid_mm = 50.0
        self.hint = "Add a photo."
        self.zoom, self.offset = 1.0, QPointF(0, 0)
        self._press: QPointF | None = None
        self._moved = False
        self._at: QPointF | None = None

    def show_picture(self, data: bytes | None) -> None:
        """Another picture, or none."""
        image = QImage.fromData(data) if data else QImage()
        self.pixmap = QPixmap.fromImage(image) if not image.isNull() else None
        self.fit()

    def fit(self) -> None:
        """The whole picture."""
        if self.pixmap is not None:
            self.zoom = (
                min(self.width() / max(self.pixmap.width(), 1), self.height() / max(self.pixmap.height(), 1))
                * 0.98
            )
            self.offset = QPointF(
                (self.width() - self.pixmap.width() * self.zoom) / 2,
                (self.height() - self.pixmap.height() * self.zoom) / 2,
            )
        self.update()

    def to_picture(self, pos: QPointF) -> tuple[float, float]:
        """A place of the widget in pixels of the picture (pixel centres at whole numbers)."""
        p = (pos - self.offset) / self.zoom
        return p.x() - 0.5, p.y() - 0.5

    def to_widget(self, x: float, y: float) -> QPointF:
        """A pixel of the picture in the widget."""
        return QPointF((x + 0.5) * self.zoom, (y + 0.5) * self.zoom) + self.offset

    # ---- hands

    def resizeEvent(self, _: QResizeEvent) -> None:
        self.fit()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        self._press, self._moved = event.position(), False

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self._at = event.position()
        if self._press is not None and event.buttons():
            move = event.position() - self._press
            if self._moved or move.manhattanLength() > 5:
                self._moved = True
                self.offset += move
                self._press = event.position()
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._press is not None and not self._moved and self.pixmap is not None:
            self.clicked.emit(*self.to_picture(event.position()))
        self._press = None

    def mouseDoubleClickEvent(self, _: QMouseEvent) -> None:
        self._press = None

    def wheelEvent(self, event: QWheelEvent) -> None:
        factor = 1.0015 ** event.angleDelta().y()
        factor = min(max(self.zoom * factor, 0.05), 30.0) / self.zoom
        self.offset = event.position() - (event.position() - self.offset) * factor
        self.zoom *= factor
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Home:
            self.fit()
        else:
            super().keyPressEvent(event)

    def leaveEvent(self, _: object) -> None:
        self._at = None
        self.update()

    # ---- drawing

    def paintEvent(self, _: QPaintEvent) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        pal, px = self.theme.palette, self.theme.px
        p.fillRect(self.rect(), QColor(pal.well))
        if self.pixmap is not None:
            p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, self.zoom < 3)
            p.drawPixmap(
                QRectF(
                    self.offset.x(),
                    self.offset.y(),
                    self.pixmap.width() * self.zoom,
                    self.pixmap.height() * self.zoom,
                ),
                self.pixmap,
                QRectF(self.pixmap.rect()),
            )
            self._grid(p)
            self._marks(p)
        p.setFont(font(self.theme, 13, bold=True))
        box = QRectF(
            px(10),
            px(10),
            min(p.fontMetrics().horizontalAdvance(self.hint) + px(18), self.width() - px(20)),
            px(28),
        )
        back = QColor(pal.card)
        back.setAlpha(235)
        p.fillRect(box, back)
        p.setPen(QColor(pal.ink))
        p.drawText(box.adjusted(px(9), 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, self.hint)
        if self._at is not None and self.pixmap is not None and self._press is None:
            self._loupe(p)
        p.setPen(QPen(QColor(pal.line), 1))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(self.rect().adjusted(0, 0, -1, -1))

    def _grid(self, p: QPainter) -> None:
        """Lines every 50 mm on the squared-up face: if they do not lie on it, the corners are wrong."""
        if self.squared is None:
            return
        back = inverse(self.squared.h)
        flat = project(self.squared.h, self.corners)
        low, high = flat.min(axis=0) - self.grid_mm, flat.max(axis=0) + self.grid_mm
        span = float((high - low).max())
        if not np.isfinite(span):
            return
        step = self.grid_mm * max(
            1.0, np.ceil(span / self.grid_mm / MOST_LINES)
        )  # coarser rather than endless
        u0, v0 = np.floor(low / step) * step
        u1, v1 = np.ceil(high / step) * step
        colour = QColor(self.theme.palette.touch)
        colour.setAlpha(110)
        p.setPen(QPen(colour, 1))
        for u in np.arange(u0, u1 + 1, step):
            self._line(p, project(back, [(u, v0), (u, v1)]))
        for v in np.arange(v0, v1 + 1, step):
            self._line(p, project(back, [(u0, v), (u1, v)]))

    def _line(self, p: QPainter, ends: np.ndarray) -> None:
        p.drawLine(self.to_widget(*ends[0]), self.to_widget(*ends[1]))

    def _marks(self, p: QPainter) -> None:
        pal, px = self.theme.palette, self.theme.px
        dark, light = QColor(pal.dark), QColor("#FFFFFF")
        for n, (x, y) in enumerate(self.corners, 1):
            here = self.to_widget(x, y)
            for colour, width in ((light, px(4)), (QColor(pal.touch), px(2))):
                p.setPen(QPen(colour, width))
                for dx, dy in ((px(10), 0), (0, px(10))):
                    p.drawLine(here - QPointF(dx, dy), here + QPointF(dx, dy))
            self._tag(p, here + QPointF(px(14), -px(12)), str(n), QColor(pal.touch))
        for name, x, y, words in self.picks:
            here = self.to_widget(x, y)
            for colour, width in ((light, px(4)), (dark, px(2))):
                p.setPen(QPen(colour, width))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawEllipse(here, px(8), px(8))
                p.drawPoint(here)
            self._tag(p, here + QPointF(px(12), px(18)), f"{name}  {words}".strip(), dark)

    def _tag(self, p: QPainter, at: QPointF, text: str, colour: QColor) -> None:
        p.setFont(font(self.theme, 12, bold=True))
        box = QRectF(
            at.x(),
            at.y() - self.theme.px(9),
            p.fontMetrics().horizontalAdvance(text) + self.theme.px(8),
            self.theme.px(18),
        )
        p.fillRect(box, QColor(255, 255, 255, 225))
        p.setPen(QColor("#20292E") if colour.lightness() > 160 else colour)
        p.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def _loupe(self, p: QPainter) -> None:
        """Six times larger, in the corner away from the pointer, with a cross at the very place."""
        assert self._at is not None and self.pixmap is not None
        size, times = self.theme.px(150), 6.0
        x, y = self.to_picture(self._at)
        if not (0 <= x < self.pixmap.width() and 0 <= y < self.pixmap.height()):
            return
        left = (
            self.width() - size - self.theme.px(10) if self._at.x() < self.width() / 2 else self.theme.px(10)
        )
        frame = QRectF(left, self.height() - size - self.theme.px(10), size, size)
        half = size / 2 / times
        p.save()
        p.setClipRect(frame)
        p.fillRect(frame, QColor(self.theme.palette.well))
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)
        p.drawPixmap(frame, self.pixmap, QRectF(x + 0.5 - half, y + 0.5 - half, 2 * half, 2 * half))
        p.restore()
        p.setPen(QPen(QColor(self.theme.palette.touch), 1))
        p.drawLine(QPointF(frame.center().x(), frame.top()), QPointF(frame.center().x(), frame.bottom()))
        p.drawLine(QPointF(frame.left(), frame.center().y()), QPointF(frame.right(), frame.center().y()))
        p.setPen(QPen(QColor(self.theme.palette.ink), 2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(frame)
