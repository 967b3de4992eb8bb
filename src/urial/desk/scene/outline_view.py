"""An outline out of a file over the plate it is for, to scale: what is cut, what falls out, where a cutter
would make it badly, and two places that are clicked to say how far they are apart.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPainterPath, QPaintEvent, QPen

from urial.desk.scene.canvas import Canvas, polygon
from urial.desk.theme import Theme, font
from urial.geometry.outline import Outline, flatten
from urial.geometry.shape import Plate
from urial.measure.outline_file import Fault, Traced

BORDER = 26.0
STEP = math.radians(4)


class OutlineView(Canvas):
    """``marked(x, y)``: a place was clicked, in the outline's own figures."""

    marked = Signal(float, float)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "outline view")
        self.setAccessibleName("The outline over the plate it is for")
        self.traced: Traced | None = None
        self.faults: list[Fault] = []
        self.plate: list[Outline] = []
        self.holes: list[tuple[float, float, float]] = []
        self.marks: list[tuple[float, float]] = []
        self.waiting = ""

    def show_outline(self, traced: Traced | None, faults: list[Fault]) -> None:
        """An outline, lying in the plate's own plane, and what would be made badly."""
        self.traced, self.faults = traced, faults
        self.update()

    def show_plate(self, shape: Plate) -> None:
        """What it is for."""
        self.plate = [shape.outline, *shape.openings]
        self.holes = list(shape.holes)
        self.update()

    def _frame(self) -> tuple[float, float, float]:
        """Pixels per mm, and where nought lies."""
        rings = [np.array(flatten(o, STEP)) for o in self.plate[:1]]
        if self.traced is not None:
            rings.append(np.array(flatten(self.traced.rim, STEP)))
        every = np.vstack(rings) if rings else np.zeros((1, 2))
        low, high = every.min(axis=0), every.max(axis=0)
        size = np.maximum(high - low, 1e-6)
        border = self.theme.px(BORDER)
        scale = min((self.width() - 2 * border) / size[0], (self.height() - 2 * border) / size[1])
        middle = (low + high) / 2
        return scale, self.width() / 2 - scale * middle[0], self.height() / 2 + scale * middle[1]

    def _seen(self, o: Outline) -> NDArray[np.float64]:
        scale, x, y = self._frame()
        xy = np.array(flatten(o, STEP))
        return np.stack([x + scale * xy[:, 0], y - scale * xy[:, 1]], axis=1)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton and self.traced is not None:
            scale, x, y = self._frame()
            at = event.position()
            self.marked.emit((at.x() - x) / scale, (y - at.y()) / scale)

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        if self.traced is None:
            self.tag(p, QPointF(self.width() / 2, self.height() / 2), self.waiting, size=15)
            return
        pal, t = self.theme.palette, self.traced
        scale, x, y = self._frame()
        path = QPainterPath()
        path.setFillRule(Qt.FillRule.OddEvenFill)
        for ring in (t.rim, *t.windows):
            path.addPolygon(polygon(self._closed(ring)))
        for u, v, d in t.holes:
            path.addEllipse(QPointF(x + scale * u, y - scale * v), d / 2 * scale, d / 2 * scale)
        p.setPen(QPen(QColor(pal.ink), 1.6))
        p.setBrush(QColor(pal.steel))
        p.drawPath(path)
        for o in t.islands:
            p.setPen(QPen(QColor(pal.brick), 1.6, Qt.PenStyle.DashLine))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawPolygon(polygon(self._closed(o)))
        p.setPen(QPen(QColor(pal.quiet), 1.4, Qt.PenStyle.DashLine))
        p.setBrush(Qt.BrushStyle.NoBrush)
        for ring in self.plate:
            p.drawPolygon(polygon(self._closed(ring)))
        for u, v, d in self.holes:
            p.drawEllipse(QPointF(x + scale * u, y - scale * v), d / 2 * scale, d / 2 * scale)
        self._marks(p, scale, (x, y))

    def _marks(self, p: QPainter, scale: float, at: tuple[float, float]) -> None:
        pal = self.theme.palette
        p.setFont(font(self.theme, 13, bold=True))
        for n, f in enumerate(self.faults, 1):
            here = QPointF(at[0] + scale * f.at[0], at[1] - scale * f.at[1])
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(pal.brick))
            box = QRectF(here.x() - 9, here.y() - 9, 18, 18)
            p.drawRect(box)
            p.setPen(QColor(pal.paper))
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, str(n))
        p.setPen(QPen(QColor(pal.touch), 2))
        ends = [QPointF(at[0] + scale * u, at[1] - scale * v) for u, v in self.marks]
        for e in ends:
            p.drawLine(QPointF(e.x() - 8, e.y()), QPointF(e.x() + 8, e.y()))
            p.drawLine(QPointF(e.x(), e.y() - 8), QPointF(e.x(), e.y() + 8))
        if len(ends) > 1:
            p.drawLine(ends[0], ends[1])

    def _closed(self, o: Outline) -> NDArray[np.float64]:
        xy = self._seen(o)
        return np.concatenate([xy, xy[:1]])


__all__ = ["OutlineView"]
