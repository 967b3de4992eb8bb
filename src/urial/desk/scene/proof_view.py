"""Load over deflection as it is pulled, on what was foretold and the band it must stay in."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF

from urial.desk.scene.canvas import Canvas
from urial.desk.theme import Theme, font
from urial.prove.proof_record import SOFT, STIFF, Foretold, Reading
from urial.prove.whatif import ticks

Show = Callable[[float], str]


class ProofView(Canvas):
    """``show_proof``: what was foretold, what is read, how figures are written."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "proof view")
        self.setAccessibleName("Load over deflection: foretold, its band, and what is read")
        self.wanted: Foretold | None = None
        self.readings: tuple[Reading, ...] = ()
        self.now: tuple[float, float] | None = None
        self.waiting = ""
        self.force: Show = str
        self.length: Show = str
        self.shown = (1.0, 1.0)
        """Millimetres and kilonewtons of what the axes count in (an inch, a pound-force)."""

    def show_proof(
        self,
        wanted: Foretold | None,
        readings: Sequence[Reading],
        now: tuple[float, float] | None = None,
        waiting: str = "",
    ) -> None:
        """Another state of it; ``now``: mm and kN as they are read this moment."""
        self.wanted, self.readings, self.now, self.waiting = wanted, tuple(readings), now, waiting
        self.update()

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        px, pal, w = self.theme.px, self.theme.palette, self.wanted
        p.setFont(font(self.theme, 14))
        if w is None or not w.kN or not w.mm:
            p.setPen(QColor(pal.quiet))
            box = QRectF(self.rect()).adjusted(px(30), 0, -px(30), 0)
            p.drawText(box, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.waiting)
            p.end()
            return
        far = max([SOFT * w.mm, *(r.mm for r in self.readings)]) * 1.08
        low = min([0.0, *(r.mm for r in self.readings)])
        high = max([w.kN, *(r.kN for r in self.readings)]) * 1.15
        box = QRectF(px(86), px(30), self.width() - px(116), self.height() - px(90))

        def at(mm: float, kN: float) -> QPointF:
            return QPointF(
                box.left() + (mm - low) / (far - low) * box.width(), box.bottom() - kN / high * box.height()
            )

        self._axes(p, box, at, (low, far), high)
        band = QPolygonF([at(0, 0), at(STIFF * w.mm, w.kN), at(SOFT * w.mm, w.kN)])
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(pal.well))
        p.drawPolygon(band)
        p.setPen(QPen(QColor(pal.quiet), 2, Qt.PenStyle.DashLine))
        p.drawLine(at(0, 0), at(w.mm, w.kN))
        p.setPen(QPen(QColor(pal.ochre), 2))
        p.drawLine(at(low, w.kN), at(far, w.kN))
        p.setPen(QPen(QColor(pal.brick), px(3)))
        foot = at(w.limit, 0)
        p.drawLine(foot + QPointF(0, px(24)), foot - QPointF(0, px(26)))
        self._word(
            p, at(far, w.kN) + QPointF(-px(4), -px(16)), f"asked for: {self.force(w.kN)}", pal.ink, True
        )
        self._word(p, at(0.6 * w.mm, 0.6 * w.kN) - QPointF(px(10), px(4)), "foretold", pal.quiet, True)
        self._word(p, foot + QPointF(0, px(36)), f"{self.length(w.limit)} may be left", pal.brick)
        rows = sorted(self.readings, key=lambda r: r.at)
        p.setPen(QPen(QColor(pal.touch), px(2)))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawPolyline(QPolygonF([at(r.mm, r.kN) for r in rows]))
        p.setBrush(QColor(pal.touch))
        if len(rows) < 80:
            for r in rows:
                p.drawEllipse(at(r.mm, r.kN), px(4), px(4))
        if self.now is not None:
            p.setBrush(QColor(pal.card))
            p.drawEllipse(at(*self.now), px(7), px(7))
        p.end()

    def _word(self, p: QPainter, at: QPointF, text: str, colour: str, ends: bool = False) -> None:
        p.setFont(font(self.theme, 13, bold=True))
        p.setPen(QColor(colour))
        wide = p.fontMetrics().horizontalAdvance(text) + 2
        left = at.x() - wide if ends else min(at.x(), self.width() - wide - 4)
        p.drawText(QRectF(left, at.y() - 9, wide, 20), Qt.AlignmentFlag.AlignVCenter, text)

    def _axes(
        self,
        p: QPainter,
        box: QRectF,
        at: Callable[[float, float], QPointF],
        mm: tuple[float, float],
        high: float,
    ) -> None:
        px, pal = self.theme.px, self.theme.palette
        p.setFont(font(self.theme, 12))
        for x in (k * self.shown[0] for k in ticks(mm[0] / self.shown[0], mm[1] / self.shown[0])):
            p.setPen(QPen(QColor(pal.line), 1))
            p.drawLine(at(x, 0), QPointF(at(x, 0).x(), box.top()))
            p.setPen(QColor(pal.quiet))
            row = QRectF(at(x, 0).x() - px(60), box.bottom() + px(4), px(120), px(20))
            p.drawText(row, Qt.AlignmentFlag.AlignHCenter, self.length(x))
        for y in (k * self.shown[1] for k in ticks(0.0, high / self.shown[1])):
            p.setPen(QPen(QColor(pal.line), 1))
            p.drawLine(at(mm[0], y), QPointF(box.right(), at(mm[0], y).y()))
            p.setPen(QColor(pal.quiet))
            row = QRectF(0, at(mm[0], y).y() - px(10), box.left() - px(8), px(20))
            p.drawText(row, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, self.force(y))


__all__ = ["ProofView"]
