"""Load arrows of a case, to scale, with their forces written beside them."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from urial import units
from urial.desk.scene.camera import Camera
from urial.desk.scene.canvas import lettered
from urial.desk.theme import Theme, font
from urial.loads.endurance import Repeated
from urial.prove.verdict import Verdict


def paint_arrows(
    p: QPainter,
    camera: Camera,
    theme: Theme,
    verdict: Verdict,
    shown: int | Repeated,
    over: tuple[list[QRectF], int],
) -> None:
    """Arrows of a case by its number, or of what goes to and fro; figures step aside from the boxes in
    ``over`` and keep within its width."""
    biggest = max(
        (float(np.linalg.norm(force)) for c in verdict.cases for _, force in verdict.places(c)), default=0.0
    )
    if isinstance(shown, int):
        case = verdict.cases[shown]
        rows = [(place, load, not case.pulls) for place, load in verdict.places(case)]
    else:
        rows = [(at, f, not s.one.pulls) for s in shown.swings for at, f in s.places(verdict.points)]
    to_and_fro = not isinstance(shown, int)
    figures: list[tuple[str, tuple[np.ndarray, np.ndarray]]] = []
    for place, load, at_socket in rows:
        at_ball = at_socket and place == verdict.assembly.places.get("ball")
        for axis in range(3):
            force = load[axis]
            if abs(force) < 0.01 * biggest:
                continue
            direction = np.zeros(3)
            direction[axis] = np.sign(force)
            tip = camera.project(np.array(place)[None])[0]
            flat = camera.project((np.array(place) + direction)[None])[0] - tip
            size = float(np.hypot(*flat))
            if size < 0.25 * camera.scale:
                continue  # straight into the picture
            way = flat / size
            # an arrow that pushes ends at the point; drawn from outside towards it
            length = theme.px(26 + 74 * abs(force) / biggest)
            end = tip - way * theme.px(16) if at_ball else tip - way * 4
            start = end - way * length
            p.setPen(QPen(QColor(theme.palette.touch), theme.px(3)))
            p.drawLine(QPointF(*(start + way * 6 if to_and_fro else start)), QPointF(*(end - way * 6)))
            _head(p, theme, end, way)
            if to_and_fro:
                _head(p, theme, start, -way)
            text = units.show(abs(force), "force", verdict.job.units)
            figures.append((f"± {text}" if to_and_fro else text, (start, way)))
    taken = list(over[0])
    for text, arrow in figures:  # over every arrow, and aside from each other
        taken.append(_figure(p, theme, text, arrow, (taken, over[1])))


def _head(p: QPainter, theme: Theme, end: np.ndarray, way: np.ndarray) -> None:
    side, head = np.array([-way[1], way[0]]), theme.px(7)
    p.setBrush(QColor(theme.palette.touch))
    p.setPen(Qt.PenStyle.NoPen)
    back = end - way * head * 1.7
    p.drawPolygon(QPolygonF([QPointF(*end), QPointF(*(back + side * head)), QPointF(*(back - side * head))]))


def _figure(
    p: QPainter,
    theme: Theme,
    text: str,
    arrow: tuple[np.ndarray, np.ndarray],
    over: tuple[list[QRectF], int],
) -> QRectF:
    (start, way), (labels, width) = arrow, over
    p.setFont(font(theme, 14, bold=True, mono=True))
    wide, high = p.fontMetrics().horizontalAdvance(text), p.fontMetrics().height()
    spot = start - way * 8
    x = spot[0] - wide / 2 - way[0] * wide / 2
    y = spot[1] - way[1] * high / 2
    x = min(max(x, 4), width - wide - 4)
    box = QRectF(x - 3, y - high / 2, wide + 6, high)
    box = clear_of(box, labels, float(start[0]), width)
    lettered(p, theme, box, text, QColor(theme.palette.touch))
    return box


def clear_of(box: QRectF, labels: list[QRectF], start: float, width: float) -> QRectF:
    """A box stepped aside from others, to the right of them and of where its arrow starts; where that leaves
    the drawing, down from them instead.
    """
    aside = QRectF(box)
    for taken in labels:
        if taken.intersects(aside):
            aside.moveLeft(max(taken.right(), start) + 6)
    if aside.right() <= width:
        return aside
    below = QRectF(box)
    while hit := next((taken for taken in labels if taken.intersects(below)), None):
        below.moveTop(hit.bottom() + 1)
    return below
