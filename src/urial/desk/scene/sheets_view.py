"""Sheets to scale with the plates that come out of them, true outlines, holes too."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPen

from urial.desk.scene.canvas import Canvas, polygon
from urial.desk.theme import Theme, font
from urial.geometry.outline import flatten
from urial.making.sheet_model import Placed, SheetCut

SPARE = 60.0
"""Of a sheet that is hardly used so much more is shown, mm."""


def _used(s: SheetCut) -> tuple[float, float]:
    """How far its plates reach from its corner, mm."""
    reach = [(0.0, 0.0), *(x.metal.bounds[2:] for x in (*s.cut, *s.placed))]
    return max(r[0] for r in reach), max(r[1] for r in reach)


def _seen(xy: NDArray[np.float64], corner: QPointF, scale: float, lies: bool) -> NDArray[np.float64]:
    """Places on a sheet as pixels: y goes up on the sheet and down on the screen; a sheet on its side is
    turned, never mirrored.
    """
    across, down = (xy[:, 1], xy[:, 0]) if lies else (xy[:, 0], -xy[:, 1])
    return np.stack([corner.x() + across * scale, corner.y() + down * scale], axis=1)


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
            self._sheet(p, n + 1, sheet, (corner, wide - px(36), tall - px(52)))

    def _sheet(self, p: QPainter, number: int, s: SheetCut, into: tuple[QPointF, float, float]) -> None:
        """A sheet as large as it goes: of one that is hardly used the corner that is."""
        px, pal = self.theme.px, self.theme.palette
        corner, room = into[0], into[1:]
        wide, tall = (min(n, 1.2 * used + SPARE) for n, used in zip(s.size, _used(s), strict=True))
        corner_only = "" if (wide, tall) == s.size else ", its corner"
        lies = tall > wide  # what reaches farther up than along is drawn lying down
        seen = (tall, wide) if lies else (wide, tall)
        scale = min(room[0] / seen[0], room[1] / seen[1])
        size = f"{self.length(s.size[0])} × {self.length(s.size[1])}"
        p.setFont(font(self.theme, 13, bold=True))
        p.setPen(QColor(pal.ink))
        head = f"{number}  {self.said(s.stock)}  {s.material}  ·  {size}{corner_only}" + (
            f"  ·  {s.rack}" if s.rack else ""
        )
        head = p.fontMetrics().elidedText(head, Qt.TextElideMode.ElideRight, int(room[0]))
        p.drawText(QRectF(corner.x(), corner.y() - px(24), room[0], px(20)), Qt.AlignmentFlag.AlignLeft, head)
        low = corner.y() + seen[1] * scale
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(pal.well))
        origin = QPointF(corner.x(), corner.y() if lies else low)
        if s.outline:
            p.drawPolygon(polygon(_seen(np.asarray(s.outline, dtype=float), origin, scale, lies)))
        else:
            p.drawRect(QRectF(corner.x(), corner.y(), seen[0] * scale, seen[1] * scale))
        p.setPen(QPen(QColor(pal.quiet), 1.4))  # the two edges everything is measured from
        p.drawLine(QPointF(corner.x(), corner.y()), QPointF(corner.x(), low))
        other = corner.y() if lies else low
        p.drawLine(QPointF(corner.x(), other), QPointF(corner.x() + seen[0] * scale, other))
        for placed in s.cut:  # what is out of it already: a hole with an edge
            gone = np.asarray(placed.metal.exterior.coords, dtype=float)
            p.setPen(QPen(QColor(pal.quiet), 1, Qt.PenStyle.DashLine))
            p.setBrush(QColor(pal.paper))
            p.drawPolygon(polygon(_seen(gone, origin, scale, lies)))
        for placed in s.placed:
            self._plate(p, placed, origin, (scale, lies))

    def _plate(self, p: QPainter, placed: Placed, corner: QPointF, drawn: tuple[float, bool]) -> None:
        """A plate; ``drawn``: pixels per mm, and whether the sheet lies on its side."""
        pal = self.theme.palette
        scale, lies = drawn
        turn = math.radians(placed.turned)
        c, s = math.cos(turn), math.sin(turn)

        def seen(points: list[tuple[float, float]]) -> np.ndarray:
            xy = np.asarray(points, dtype=float)
            if placed.piece.mirrored:
                xy = xy * (-1, 1)
            xy = xy @ np.array([[c, s], [-s, c]]) + placed.at
            return _seen(xy, corner, scale, lies)

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
        p.setFont(font(self.theme, 12, bold=True, mono=True))
        box = path.boundingRect()
        if p.fontMetrics().horizontalAdvance(placed.piece.mark) <= box.width() and box.height() > 12:
            metal = placed.metal  # its mark stands on its metal: what lies in its opening has its own
            on = metal.centroid if metal.contains(metal.centroid) else metal.representative_point()
            middle = QPointF(*_seen(np.array([[on.x, on.y]]), corner, scale, lies)[0])
            p.setPen(QColor(pal.ink))
            p.drawText(
                QRectF(middle.x() - 40, middle.y() - 12, 80, 24),
                Qt.AlignmentFlag.AlignCenter,
                placed.piece.mark,
            )


__all__ = ["SheetsView"]
