"""A tacked weldment from above: as drawn, and where its corners really lie, drawn so much larger."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF

from urial.desk.scene.canvas import Canvas, lettered
from urial.desk.theme import Theme, font
from urial.making.corners import UPRIGHT, Corners
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
        self.where: Corners | None = None
        self.found: FitUp | None = None
        self.tape = ("", "")
        self.waiting = ""
        self.says: Callable[[Placed], str] = lambda _: ""
        self.times = 0

    def show_fit(
        self, seen: Seen | None, where: Corners | None, found: FitUp | None, waiting: str = ""
    ) -> None:
        """Another state of it."""
        self.seen, self.where, self.found, self.waiting = seen, where, found, waiting
        self.update()

    def show_tape(self, a: str, b: str) -> None:
        """Between which places is read just now."""
        self.tape = (a, b)
        self.update()

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        px, pal = self.theme.px, self.theme.palette
        p.setFont(font(self.theme, 13))
        if self.seen is None or self.where is None:
            p.setPen(QColor(pal.quiet))
            box = QRectF(px(30), 0, self.width() - px(60), self.height())
            p.drawText(box, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.waiting)
            p.end()
            return
        long, wide = self.seen.size  # of what is drawn, from its corner
        room_x, room_y = self.width() - px(200), self.height() - px(190)
        scale = min(room_x / max(long, 1.0), room_y / max(wide, 1.0))
        left, top = (self.width() - long * scale) / 2, (self.height() - wide * scale) / 2 + px(10)

        def at(x: float, y: float) -> QPointF:
            return QPointF(left + x * scale, top + (wide - y) * scale)

        self._drawn(p, at)
        self._moved(p, at, scale)
        p.setPen(QColor(pal.quiet))
        p.setFont(font(self.theme, 12))
        side = "From the rear" if self.where.lies is UPRIGHT else "From above, the front to the left"
        said = f"{side}. Ways drawn {self.times} times as large." if self.times else f"{side}."
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
        assert self.where is not None
        a, b = (self.where.points.get(n) for n in self.tape)
        if a is not None and b is not None and a != b:
            p.setPen(QPen(QColor(pal.touch), 2))
            p.drawLine(at(*self.where.seen(a)), at(*self.where.seen(b)))

    def _moved(self, p: QPainter, at: Callable[[float, float], QPointF], scale: float) -> None:
        px, pal, where = self.theme.px, self.theme.palette, self.where
        assert where is not None
        placed = self.found.by_name if self.found is not None else {}
        far = max((max(abs(n.off[0]), abs(n.off[1])) for n in placed.values()), default=0.0)
        self.times = next((t for t in TIMES if far * t * scale <= px(SHOWN)), 1) if far > 0.05 else 0
        starts = {name: at(*where.seen(point)) for name, point in where.points.items()}
        ends = dict(starts)
        for name, n in placed.items():
            there = [v + self.times * o for v, o in zip(where.points[name], n.off, strict=True)]
            ends[name] = at(*where.seen(there))
        corners = where.lies.names
        if self.times:
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(QColor(pal.brick), 2, Qt.PenStyle.DashLine))
            p.drawPolygon(QPolygonF([ends[corners[k]] for k in RING]))
        middle = at(self.seen.size[0] / 2, self.seen.size[1] / 2) if self.seen else QPointF()
        for name, here in starts.items():
            at_it = placed.get(name)
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
            self._named(p, name, QPointF(here.x(), y), at_it, above)

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
