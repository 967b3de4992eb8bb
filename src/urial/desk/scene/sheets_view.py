"""Sheets to scale with the plates that come out of them, true outlines, holes too."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPen

from urial.desk.scene.canvas import Canvas, polygon
from urial.desk.theme import Theme, font
from urial.geometry.outline import flatten
from urial.making.sheets import Placed, SheetCut, box_of

SPARE = 60.0
"""Of a sheet that is hardly used so much more is shown, mm."""


def _used(s: SheetCut) -> tuple[float, float]:
    """How far its plates reach from its corner, mm."""
    reach = [(0.0, 0.0)]
    for x in s.placed:
        box = box_of(x.piece.shape, x.piece.mirrored, bool(x.turned))
        reach.append((box[2] + x.at[0], box[3] + x.at[1]))
    return max(r[0] for r in reach), max(r[1] for r in reach)


class SheetsView(Canvas):
    """All sheets beside and under each other, at one scale."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "sheets view")
        self.setAccessibleName("Sheets with the plates that come out of them")
        self.sheets: tuple[SheetCut, ...] = ()
        self.length: Callable[[float], str] = lambda mm: f"{mm:.1f} mm"
        self.said: Callable[[str], str] = lambda text: text
        self.waiting = ""

    def show_sheets(self, sheets: tuple[SheetCut, ...]) -> None:
        """Other sheets."""
        self.sheets = sheets
        self.update()

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        if not self.sheets:
            self.tag(p, QPointF(self.width() / 2, self.height() / 2), self.waiting, size=15)
            return
        px = self.theme.px
        count = len(self.sheets)
        columns = next(c for c in range(1, count + 1) if math.ceil(count / c) <= max(c + 1, 1))
        rows = math.ceil(count / columns)
        wide, tall = self.width() / columns, (self.height() - px(8)) / rows
        for n, sheet in enumerate(self.sheets):
            corner = QPointF(px(18) + n % columns * wide, px(34) + n // columns * tall)
            self._sheet(p, sheet, corner, (wide - px(36), tall - px(52)))

    def _sheet(self, p: QPainter, s: SheetCut, corner: QPointF, room: tuple[float, float]) -> None:
        """A sheet as large as it goes: of one that is hardly used the corner that is."""
        px, pal = self.theme.px, self.theme.palette
        wide, tall = (min(n, 1.2 * used + SPARE) for n, used in zip(s.size, _used(s), strict=True))
        corner_only = "" if (wide, tall) == s.size else ", its corner"
        lies = tall > wide  # what reaches farther up than along is drawn lying down
        seen = (tall, wide) if lies else (wide, tall)
        scale = min(room[0] / seen[0], room[1] / seen[1])
        size = f"{self.length(s.size[0])} × {self.length(s.size[1])}"
        p.setFont(font(self.theme, 13, bold=True))
        p.setPen(QColor(pal.ink))
        head = f"{self.said(s.stock)}  {s.material}  ·  {size}{corner_only}" + (
            f"  ·  {s.rack}" if s.rack else ""
        )
        head = p.fontMetrics().elidedText(head, Qt.TextElideMode.ElideRight, int(room[0]))
        p.drawText(QRectF(corner.x(), corner.y() - px(24), room[0], px(20)), Qt.AlignmentFlag.AlignLeft, head)
        low = corner.y() + seen[1] * scale
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(pal.well))
        p.drawRect(QRectF(corner.x(), corner.y(), seen[0] * scale, seen[1] * scale))
        p.setPen(QPen(QColor(pal.quiet), 1.4))  # the two edges everything is measured from
        p.drawLine(QPointF(corner.x(), corner.y()), QPointF(corner.x(), low))
        other = corner.y() if lies else low
        p.drawLine(QPointF(corner.x(), other), QPointF(corner.x() + seen[0] * scale, other))
        for placed in s.placed:
            self._plate(p, placed, QPointF(corner.x(), corner.y() if lies else low), (scale, lies))

    def _plate(self, p: QPainter, placed: Placed, corner: QPointF, drawn: tuple[float, bool]) -> None:
        """A plate; ``drawn``: pixels per mm, and whether the sheet lies on its side."""
        pal = self.theme.palette
        scale, lies = drawn

        def seen(points: list[tuple[float, float]]) -> np.ndarray:
            xy = np.asarray(points, dtype=float)
            if placed.piece.mirrored:
                xy = xy * (-1, 1)
            if placed.turned:
                xy = np.stack([-xy[:, 1], xy[:, 0]], axis=1)
            xy = xy + placed.at
            # y goes up on the sheet and down on the screen; a sheet on its side is turned, never mirrored
            across, down = (xy[:, 1], xy[:, 0]) if lies else (xy[:, 0], -xy[:, 1])
            return np.stack([corner.x() + across * scale, corner.y() + down * scale], axis=1)

        path = QPainterPath()
        path.setFillRule(Qt.FillRule.OddEvenFill)
        shape = placed.piece.shape
        outer = seen(flatten(shape.outline))
        path.addPolygon(polygon(np.concatenate([outer, outer[:1]])))
        for ring in shape.openings:
            inner = seen(flatten(ring))
            path.addPolygon(polygon(np.concatenate([inner, inner[:1]])))
        for u, v, d in shape.holes:
            at = seen([(u, v)])[0]
            path.addEllipse(QPointF(*at), d / 2 * scale, d / 2 * scale)
        p.setPen(QPen(QColor(pal.ink), 1))
        p.setBrush(QColor(pal.steel))
        p.drawPath(path)
        box = path.boundingRect()
        p.setFont(font(self.theme, 12, bold=True, mono=True))
        if p.fontMetrics().horizontalAdvance(placed.piece.mark) <= box.width() and box.height() > 12:
            p.setPen(QColor(pal.ink))
            p.drawText(box, Qt.AlignmentFlag.AlignCenter, placed.piece.mark)


__all__ = ["SheetsView"]
