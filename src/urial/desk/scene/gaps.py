"""Pinned clearances on the drawing: a line where the air is least, with how much there is."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from urial.desk.scene.camera import Camera
from urial.desk.scene.canvas import lettered
from urial.desk.theme import Theme, font
from urial.fit.clearance import Gap


def paint_gaps(
    p: QPainter, camera: Camera, theme: Theme, gaps: Sequence[Gap], show: Callable[[float], str]
) -> None:
    """Each as a line between its two places with a bar across either end; too little air in the colour of
    what is short.
    """
    px, pal = theme.px, theme.palette
    for g in gaps:
        a, b = (QPointF(*(float(v) for v in row)) for row in camera.project(np.array(g.ends)))
        colour = QColor(pal.brick if g.short else pal.ink)
        along = b - a
        size = float(np.hypot(along.x(), along.y()))
        across = QPointF(-along.y(), along.x()) / size * px(5) if size > 0.5 else QPointF(0, px(5))
        p.setPen(QPen(colour, px(1.6)))
        p.drawLine(a, b)
        for end in (a, b):
            p.drawLine(end - across, end + across)
        text = f"{show(g.mm)}{f' of {show(g.pin.wanted_mm)}' if g.short else ''}"
        p.setFont(font(theme, 12, bold=True, mono=True))
        box = QRectF(0, 0, p.fontMetrics().horizontalAdvance(text) + px(10), px(20))
        box.moveCenter((a + b) / 2 + QPointF(0, px(18)))
        box.moveLeft(min(max(box.left(), 6.0), max(p.viewport().width() - box.width() - 6.0, 6.0)))
        lettered(p, theme, box, text, colour)
        p.setPen(Qt.PenStyle.NoPen)


__all__ = ["paint_gaps"]
