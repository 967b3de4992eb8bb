"""A group of bolts as one sees it, numbered in the order it is tightened."""

from __future__ import annotations

from itertools import pairwise

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPaintEvent, QPen

from urial.desk.scene.canvas import Canvas
from urial.desk.theme import Theme, font
from urial.making.fastened import Bolted


class BoltView(Canvas):
    """``show_group``: one group, or none."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "bolt view")
        self.setAccessibleName("The holes of the group, numbered in the order they are tightened")
        self.row: Bolted | None = None
        self.title = ""

    def show_group(self, row: Bolted | None, title: str = "") -> None:
        """Another group."""
        self.row, self.title = row, title
        self.update()

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        px, pal = self.theme.px, self.theme.palette
        p.setFont(font(self.theme, 14, True))
        p.setPen(QColor(pal.ink))
        head = QRectF(px(24), px(10), self.width() - px(48), px(26))
        p.drawText(
            head,
            Qt.AlignmentFlag.AlignLeft,
            p.fontMetrics().elidedText(self.title, Qt.TextElideMode.ElideRight, int(head.width())),
        )
        if self.row is None or not self.row.spots:
            p.end()
            return
        spots, r = self.row.spots, px(19)
        xs, ys = [x for x, _ in spots], [-y for _, y in spots]
        room = QRectF(px(90), px(70), self.width() - px(180), self.height() - px(130))
        self.fit((min(xs) - 10, min(ys) - 10), (max(xs) + 10, max(ys) + 10), room)
        places = [QPointF(self.at(x, -y)) for x, y in spots]
        p.setPen(QPen(QColor(pal.quiet), 1, Qt.PenStyle.DashLine))
        for a, b in pairwise(places):
            p.drawLine(a, b)
        for n, (at, name) in enumerate(zip(places, self.row.order, strict=True), 1):
            p.setPen(QPen(QColor(pal.ink), 1.6))
            p.setBrush(QColor(pal.touch if n == 1 else pal.steel))
            p.drawEllipse(at, r, r)
            p.setFont(font(self.theme, 15, True))
            p.setPen(QColor(pal.card if n == 1 else pal.ink))
            p.drawText(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r), Qt.AlignmentFlag.AlignCenter, str(n))
            if not name.isdecimal():
                p.setFont(font(self.theme, 12))
                p.setPen(QColor(pal.quiet))
                box = QRectF(at.x() - px(80), at.y() + r + px(2), px(160), px(20))
                p.drawText(box, Qt.AlignmentFlag.AlignHCenter, name)
        p.end()


__all__ = ["BoltView"]
