"""Every load case as a small picture: its arrows on the part, from the side and from the rear; a click
chooses one.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF

from urial.assembly import bodies
from urial.desk.scene.canvas import Canvas, polygon
from urial.desk.theme import Theme, font
from urial.prove.verdict import Verdict


class CasesView(Canvas):
    """``chosen`` says the number of the case that was clicked."""

    chosen = Signal(int)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "cases view")
        self.setAccessibleName("Every load case as a small picture; click one")
        self.verdict: Verdict | None = None
        self.shown = -1
        self.force: Callable[[float], str] = lambda n: f"{n:.0f} N"
        self._outline: tuple[object, list[QPolygonF], np.ndarray] = (None, [], np.zeros((0, 2)))

    def show_cases(self, verdict: Verdict, shown: int) -> None:
        """The cases, and which of them is shown elsewhere."""
        self.verdict, self.shown = verdict, shown
        self.update()

    def _grid(self, count: int) -> tuple[int, int]:
        """Columns and rows that give the squarest cells."""
        best = (1, max(count, 1))
        for columns in range(1, count + 1):
            rows = math.ceil(count / columns)
            if abs(self.width() / columns - 1.25 * self.height() / rows) < abs(
                self.width() / best[0] - 1.25 * self.height() / best[1]
            ):
                best = (columns, rows)
        return best

    def cells(self) -> list[QRectF]:
        """One cell a case, in reading order."""
        count = len(self.verdict.cases) if self.verdict else 0
        if not count:
            return []
        columns, rows = self._grid(count)
        px = self.theme.px
        wide, high = (self.width() - px(12)) / columns, (self.height() - px(12)) / rows
        return [
            QRectF(px(6) + (n % columns) * wide, px(6) + (n // columns) * high, wide, high).adjusted(
                3, 3, -3, -3
            )
            for n in range(count)
        ]

    def mousePressEvent(self, event: QMouseEvent) -> None:
        hit = next((n for n, cell in enumerate(self.cells()) if cell.contains(event.position())), None)
        if hit is not None:
            self.chosen.emit(hit)

    def _part(self) -> tuple[list[QPolygonF], np.ndarray]:
        """The part's side view in mm, once a verdict, and its corners (low, high)."""
        v = self.verdict
        assert v is not None
        if self._outline[0] is not v.assembly:
            rings = [
                ring * (1.0, -1.0)
                for piece in bodies.elevation(v.assembly, "side")
                for ring in piece.polygons
            ]
            every = np.concatenate(rings) if rings else np.zeros((0, 2))
            ends = np.array([every.min(axis=0), every.max(axis=0)]) if rings else every
            self._outline = (v.assembly, [polygon(ring) for ring in rings], ends)
        return self._outline[1], self._outline[2]

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        v = self.verdict
        if v is None or not v.cases:
            self.tag(
                p, QPointF(self.width() / 2, self.height() / 2), "Nothing is asked yet: add a duty.", size=15
            )
            return
        most = (
            max((float(np.linalg.norm(f[1])) for case in v.cases for f in v.places(case)), default=1.0) or 1.0
        )
        for n, cell in enumerate(self.cells()):
            self._cell(p, n, cell, most)

    def _cell(self, p: QPainter, n: int, cell: QRectF, most: float) -> None:
        v, px, pal = self.verdict, self.theme.px, self.theme.palette
        assert v is not None
        case, on = v.cases[n], n == self.shown
        p.setPen(QPen(QColor(pal.touch if on else pal.line), 2 if on else 1))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(cell)
        head = px(20)
        p.setFont(font(self.theme, 12, bold=on))
        p.setPen(QColor(pal.touch if on else pal.ink))
        words = p.fontMetrics().elidedText(
            case.title, Qt.TextElideMode.ElideRight, int(cell.width() - px(10))
        )
        p.drawText(
            QRectF(cell.left() + px(6), cell.top() + px(2), cell.width() - px(10), head),
            Qt.AlignmentFlag.AlignVCenter,
            words,
        )
        rings, ends = self._part()
        acting = np.array([[-at[0], -at[2]] for at, _ in v.places(case)]).reshape(-1, 2)
        every = np.concatenate([ends, acting])
        room = cell.adjusted(px(30), head + px(16), -px(30), -px(34))
        if len(every):
            (left, top), (right, foot) = every.min(axis=0).tolist(), every.max(axis=0).tolist()
            self.fit((left, top), (right, foot), room)
        pen = QPen(QColor(pal.slate), 0.7)
        pen.setCosmetic(True)
        p.setPen(pen)
        p.setBrush(QColor(pal.well))
        p.save()
        p.translate(self.origin)
        p.scale(self.scale, self.scale)
        for ring in rings:
            p.drawPolygon(ring)
        p.restore()
        p.save()
        p.setClipRect(cell)
        for at, force in v.places(case):
            self._pull(p, cell, (at, force), most)
        p.restore()
        total = sum((np.array(f) for _, f in v.places(case)), np.zeros(3))
        p.setPen(QColor(pal.quiet))
        p.setFont(font(self.theme, 11))
        p.drawText(
            QRectF(cell.left(), cell.bottom() - px(20), cell.width() - px(6), px(18)),
            Qt.AlignmentFlag.AlignRight,
            self.force(float(np.linalg.norm(total))) if v.places(case) else "nothing pulls yet",
        )

    def _pull(
        self,
        p: QPainter,
        cell: QRectF,
        pull: tuple[tuple[float, float, float], tuple[float, float, float]],
        most: float,
    ) -> None:
        """A force from the side; what points across is a ring with a cross (away) or a dot (towards the
        reader).
        """
        (at, force), pal, px = pull, self.theme.palette, self.theme.px
        here = self.at(-at[0], -at[2])
        size = (0.18 + 0.3 * float(np.linalg.norm(force)) / most) * min(cell.width(), cell.height())
        flat = np.array([-force[0], -force[2]])
        blue = QColor(pal.touch)
        share = float(np.linalg.norm(flat)) / max(float(np.linalg.norm(force)), 1e-9)
        if share > 0.15:
            way = flat / np.linalg.norm(flat) * size * share
            self.arrow(p, here - QPointF(float(way[0]), float(way[1])), here, blue)
        if abs(force[1]) > 0.15 * float(np.linalg.norm(force)):
            p.setPen(QPen(blue, 2))
            p.setBrush(QColor(pal.card))
            p.drawEllipse(here, px(6), px(6))
            if force[1] > 0:  # to the left: towards the reader
                p.setBrush(blue)
                p.drawEllipse(here, px(2), px(2))
            else:
                d = px(4)
                p.drawLine(here - QPointF(d, d), here + QPointF(d, d))
                p.drawLine(here - QPointF(d, -d), here + QPointF(d, -d))
