"""What is in the way, on the drawing: a notched square at each place, its number in it, the chosen one
with its words.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from urial.desk.scene.camera import Camera
from urial.desk.scene.canvas import lettered
from urial.desk.theme import Theme, font
from urial.fit import Finding

SIZE = 12
"""Half a mark's side, pixels at scale 1."""


def spots(camera: Camera, findings: Sequence[Finding]) -> list[QPointF]:
    """Where they are on the picture; those on one place step aside."""
    out: list[QPointF] = []
    for f in findings:
        x, y = (float(v) for v in camera.project(np.array([f.at]))[0])
        at = QPointF(x, y)
        while any((at - o).manhattanLength() < SIZE for o in out):
            at += QPointF(2 * SIZE + 4, 0)
        out.append(at)
    return out


def _notched(at: QPointF, r: float) -> QPolygonF:
    """A square with a notch in its upper edge: a part that is short looks like that everywhere."""
    n = 0.35 * r
    return QPolygonF(
        [at + QPointF(x, y) for x, y in ((-r, -r), (-n, -r), (0, -r + n), (n, -r), (r, -r), (r, r), (-r, r))]
    )


def paint_findings(
    p: QPainter,
    camera: Camera,
    theme: Theme,
    findings: Sequence[Finding],
    chosen: str,
    words: str,
) -> None:
    """A mark for each, waived ones hollow; beside the chosen one what it is."""
    px, pal = theme.px, theme.palette
    for n, (f, at) in enumerate(zip(findings, spots(camera, findings), strict=True), 1):
        colour = QColor(pal.quiet if f.waived else pal.brick)
        r = px(SIZE if f.id == chosen else SIZE - 3)
        p.setPen(QPen(colour, px(2)))
        p.setBrush(QColor(pal.card) if f.waived else colour)
        p.drawPolygon(_notched(at, r))
        p.setPen(colour if f.waived else QColor(pal.card))
        p.setFont(font(theme, 11, bold=True, mono=True))
        p.drawText(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r), Qt.AlignmentFlag.AlignCenter, str(n))
        if f.id == chosen and words:
            p.setFont(font(theme, 12, bold=True))
            box = QRectF(0, 0, p.fontMetrics().horizontalAdvance(words) + px(12), px(22))
            box.moveCenter(at + QPointF(0, -px(30)))
            box.moveLeft(min(max(box.left(), 6.0), max(p.viewport().width() - box.width() - 6.0, 6.0)))
            lettered(p, theme, box, words, colour)
