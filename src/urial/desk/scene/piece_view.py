"""One piece's drawing, or a weldment's set-out, as large as fits: painted from the list that paper has."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPen

from urial.desk.scene.canvas import Canvas
from urial.desk.theme import Theme, font
from urial.making.drawings import Drawing
from urial.making.setout import SetOut
from urial.papers.picture import Picture, Words, laid_out, picture

BORDER = 14.0
"""Round the picture, pixels."""


class PieceView(Canvas):
    """``length`` writes millimetres as the job has them."""

    def __init__(self, theme: Theme, name: str = "piece view") -> None:
        super().__init__(theme, name)
        self.setAccessibleName("Drawing of one piece with its figures")
        self.shown: Drawing | SetOut | None = None
        self.length: Callable[[float], str] = lambda mm: f"{mm:.1f}"
        self.waiting = ""
        self.figure_px = 13.0

    def show_piece(self, shown: Drawing | SetOut | None) -> None:
        """Another piece."""
        self.shown = shown
        self.update()

    def _made(self) -> tuple[Picture | None, float]:
        """The picture in the room there is, and how many pixels a point is."""
        k = self.theme.px(self.figure_px) / 7.5
        border = 2 * self.theme.px(BORDER)
        room = ((self.width() - border) / k, (self.height() - border) / k)
        if isinstance(self.shown, SetOut):
            return laid_out(self.shown, room, self.length, exact=False), k
        return (picture(self.shown, room, self.length, exact=False) if self.shown else None), k

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        made, k = self._made()
        if made is None:
            said = self.waiting
            if isinstance(self.shown, Drawing):
                size = self.length(self.shown.long)
                wide = f" × {self.length(self.shown.wide)}" if self.shown.kind == "plate" else ""
                said = f"{self.shown.mark}: cut square, {size}{wide}; nothing else is done to it."
            self.tag(p, QPointF(self.width() / 2, self.height() / 2), said, size=15)
            return
        left = (self.width() - made.wide * k) / 2
        top = (self.height() - made.high * k) / 2

        def at(x: float, y: float) -> QPointF:
            return QPointF(left + x * k, top + (made.high - y) * k)

        pal = self.theme.palette
        tones = {"ink": QColor(pal.ink), "grey": QColor(pal.quiet), "blue": QColor(pal.touch)}
        for s in made.strokes:
            path = QPainterPath(at(*s.points[0]))
            for q in s.points[1:]:
                path.lineTo(at(*q))
            if s.closed:
                path.closeSubpath()
            pen = QPen(tones[s.tone], max(s.wide * k, 1.0))
            if s.dashed:
                pen.setStyle(Qt.PenStyle.DashLine)
            p.setPen(pen)
            p.setBrush(QColor(pal.card) if s.closed else Qt.BrushStyle.NoBrush)
            p.drawPath(path)
        p.setPen(QPen(tones["ink"], 1.4))
        p.setBrush(QColor(pal.card))
        for r in made.rounds:
            p.drawEllipse(at(r.x, r.y), r.r * k, r.r * k)
        for w in made.words:
            self._word(p, at(w.x, w.y), w, k, tones[w.tone])

    def _word(self, p: QPainter, place: QPointF, w: Words, k: float, colour: QColor) -> None:
        face = font(self.theme, 12, bold=w.bold)
        face.setPixelSize(max(round(w.size * k), 9))
        p.setFont(face)
        p.setPen(colour)
        wide = p.fontMetrics().horizontalAdvance(w.text)
        back = {"start": 0.0, "middle": wide / 2, "end": float(wide)}[w.anchor]
        p.save()
        p.translate(place)
        if w.turned:
            p.rotate(-90)
        p.drawText(QPointF(-back, 0.0), w.text)
        p.restore()


__all__ = ["PieceView"]
