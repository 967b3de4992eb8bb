"""A tacked weldment from above: as drawn, and where its corners really lie, drawn so much larger."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF

from urial.desk.scene.canvas import Canvas, lettered
from urial.desk.theme import Theme, font
from urial.geometry.place import Vec
from urial.making.corners import NAMES
from urial.making.fitup import FitUp, Placed
from urial.making.setout import Seen

SHOWN = 46.0
"""So many pixels is the greatest way drawn at most."""
TIMES = (200, 100, 50, 20, 10, 5, 2, 1)
RING = (0, 1, 3, 2)
"""The corners in turn round the frame."""


class FitUpView(Canvas):
    """``show_fit``: the weldment from above, its places, and what was found."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "fit-up view")
        self.setAccessibleName("The weldment from above, and how far its corners lie off the drawing")
        self.seen: Seen | None = None
        self.points: Mapping[str, Vec] = {}
        self.found: FitUp | None = None
        self.tape = ("", "")
        self.waiting = ""
        self.says: Callable[[Placed], str] = lambda _: ""
        self.times = 0

    def show_fit(
        self, seen: Seen | None, points: Mapping[str, Vec], found: FitUp | None, waiting: str = ""
    ) -> None:
        """Another state of it."""
        self.seen, self.points, self.found, self.waiting = seen, points, found, waiting
        self.update()

    def show_tape(self, a: str, b: str) -> None:
        """Between which places is read just now."""
        self.tape = (a, b)
        self.update()

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        px, pal = self.theme.px, self.theme.palette
        p.setFont(font(self.theme, 13))
        if self.seen is None:
            p.setPen(QColor(pal.quiet))
            box = QRectF(px(30), 0, self.width() - px(60), self.height())
            p.drawText(box, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.waiting)
            p.end()
            return
        long, wide = self.seen.size
        room_x, room_y = self.width() - px(200), self.height() - px(190)
        scale = min(room_x / max(long, 1.0), room_y / max(wide, 1.0))
        left, top = (self.width() - long * scale) / 2, (self.height() - wide * scale) / 2 + px(10)

        def at(x: float, y: float) -> QPointF:
            return QPointF(left + x * scale, top + (wide - y) * scale)  # the front to the left, left below

        self._drawn(p, at)
        self._moved(p, at, scale)
        p.setPen(QColor(pal.quiet))
        p.setFont(font(self.theme, 12))
        said = (
            f"From above, the front to the left. Ways drawn {self.times} times as large."
            if self.times
            else ("From above, the front to the left.")
        )
        p.drawText(QPointF(px(14), self.height() - px(12)), said)
        p.end()

    def _drawn(self, p: QPainter, at: Callable[[float, float], QPointF]) -> None:
        """The pieces as drawn, quiet; the edge that is read just now, in the colour of what is touched."""
        pal = self.theme.palette
        assert self.seen is not None
        p.setPen(QPen(QColor(pal.line), 1))
        p.setBrush(QColor(pal.well))
        for rings, _edges in self.seen.layers:
            for ring in rings:
                p.drawPolygon(QPolygonF([at(x, y) for x, y in ring]))
        a, b = (self.points.get(n) for n in self.tape)
        if a is not None and b is not None and a != b:
            p.setPen(QPen(QColor(pal.touch), 2))
            p.drawLine(at(a[0], a[1]), at(b[0], b[1]))

    def _moved(self, p: QPainter, at: Callable[[float, float], QPointF], scale: float) -> None:
        px, pal = self.theme.px, self.theme.palette
        placed = self.found.by_name if self.found is not None else {}
        far = max((max(abs(n.off[0]), abs(n.off[1])) for n in placed.values()), default=0.0)
        self.times = next((t for t in TIMES if far * t * scale <= px(SHOWN)), 1) if far > 0.05 else 0
        ends = {}
        for name, point in self.points.items():
            here = at(point[0], point[1])
            n = placed.get(name)
            ends[name] = here
            if n is not None and self.times:
                ends[name] = here + QPointF(n.off[0], -n.off[1]) * (self.times * scale)
        if self.times and all(n in ends for n in NAMES):
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(QColor(pal.brick), 2, Qt.PenStyle.DashLine))
            p.drawPolygon(QPolygonF([ends[NAMES[k]] for k in RING]))
        middle = at(self.seen.size[0] / 2, self.seen.size[1] / 2) if self.seen else QPointF()
        for name, point in self.points.items():
            here, n = at(point[0], point[1]), placed.get(name)
            p.setPen(QPen(QColor(pal.ink), 1.5))
            p.setBrush(QColor(pal.card))
            p.drawEllipse(here, px(5), px(5))
            shift = ends[name] - here
            if abs(shift.x()) + abs(shift.y()) > 1.0:
                p.setPen(QPen(QColor(pal.brick), 2))
                p.drawLine(here, ends[name])
                p.setBrush(QColor(pal.brick))
                p.drawEllipse(ends[name], px(3.5), px(3.5))
            above = here.y() < middle.y()
            y = min(here.y(), ends[name].y()) if above else max(here.y(), ends[name].y())
            self._named(p, name, QPointF(here.x(), y), n, above)

    def _named(self, p: QPainter, name: str, here: QPointF, n: Placed | None, above: bool) -> None:
        px, pal = self.theme.px, self.theme.palette
        said = self.says(n) if n is not None else ""
        rows = [name, *(f"move {said}".split("\n") if said else [])]
        p.setFont(font(self.theme, 12))
        wide = max(p.fontMetrics().horizontalAdvance(r) for r in rows) + px(10)
        high = px(17)
        y = here.y() - px(14) - high * len(rows) if above else here.y() + px(14)
        x = min(max(here.x() - wide / 2, px(6)), self.width() - wide - px(6))
        for k, row in enumerate(rows):
            box = QRectF(x, y + k * high, wide, high)
            lettered(p, self.theme, box, row, QColor(pal.ink if k == 0 else pal.brick))


__all__ = ["FitUpView"]
