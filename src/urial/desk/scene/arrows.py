"""Load arrows of a case, to scale, with their forces written beside them."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from urial import units
from urial.desk.scene.camera import Camera
from urial.desk.scene.canvas import lettered
from urial.desk.theme import Theme, font
from urial.strength.verdict import Verdict


def paint_arrows(
    p: QPainter, camera: Camera, theme: Theme, verdict: Verdict, number: int, labels: list[QRectF], width: int
) -> None:
    """Arrows of case ``number``; figures step aside from ``labels``."""
    pal = theme.palette
    case = verdict.cases[number]
    biggest = max(float(np.linalg.norm(force)) for c in verdict.cases for _, force in verdict.places(c))
    for place, load in verdict.places(case):
        tip_world = np.array(place)
        tip = camera.project(tip_world[None])[0]
        at_ball = not case.pulls and place == verdict.assembly.places.get("ball")
        for axis in range(3):
            force = load[axis]
            if abs(force) < 0.01 * biggest:
                continue
            direction = np.zeros(3)
            direction[axis] = np.sign(force)
            flat = camera.project((tip_world + direction)[None])[0] - tip
            size = float(np.hypot(*flat))
            if size < 0.25 * camera.scale:
                continue  # straight into the picture
            way = flat / size
            # an arrow that pushes ends at the point; drawn from outside towards it
            length = theme.px(26 + 74 * abs(force) / biggest)
            end = tip - way * theme.px(16) if at_ball else tip - way * 4
            start = end - way * length
            p.setPen(QPen(QColor(pal.touch), theme.px(3)))
            p.drawLine(QPointF(*start), QPointF(*(end - way * 6)))
            side = np.array([-way[1], way[0]])
            head = theme.px(7)
            p.setBrush(QColor(pal.touch))
            p.setPen(Qt.PenStyle.NoPen)
            p.drawPolygon(
                QPolygonF(
                    [
                        QPointF(*end),
                        QPointF(*(end - way * head * 1.7 + side * head)),
                        QPointF(*(end - way * head * 1.7 - side * head)),
                    ]
                )
            )
            _figure(p, theme, units.show(abs(force), "force", verdict.job.units), start, way, labels, width)


def _figure(
    p: QPainter, theme: Theme, text: str, start: np.ndarray, way: np.ndarray, labels: list[QRectF], width: int
) -> None:
    p.setFont(font(theme, 14, bold=True, mono=True))
    wide, high = p.fontMetrics().horizontalAdvance(text), p.fontMetrics().height()
    spot = start - way * 8
    x = spot[0] - wide / 2 - way[0] * wide / 2
    y = spot[1] - way[1] * high / 2
    x = min(max(x, 4), width - wide - 4)
    box = QRectF(x - 3, y - high / 2, wide + 6, high)
    for taken in labels:
        if taken.intersects(box):  # step aside from a dimension
            box.moveLeft(max(taken.right(), float(start[0])) + 6)
    lettered(p, theme, box, text, QColor(theme.palette.touch))
