"""Bars to scale, one under the other: what comes out of each, its marks, which way its mitres lean, what is
left.
"""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF, QWheelEvent

from urial.desk.scene.canvas import Canvas
from urial.desk.theme import Theme, font
from urial.making.nests import BarCut, Cut


class BarsView(Canvas):
    """``chosen`` says which bar was clicked.  ``one``: only the chosen bar, as large as it goes."""

    chosen = Signal(int)
    ROW = 78.0

    def __init__(self, theme: Theme, name: str = "bars view") -> None:
        super().__init__(theme, name)
        self.setAccessibleName("Bars with the pieces that come out of them")
        self.bars: tuple[BarCut, ...] = ()
        self.selected = 0
        self.top = 0
        self.one = False
        self.next = 0
        self.keep = 300.0
        self.length: Callable[[float], str] = lambda mm: f"{mm:.1f} mm"
        self.said: Callable[[str], str] = lambda text: text
        self.waiting = ""

    def show_bars(self, bars: tuple[BarCut, ...], keep: float) -> None:
        """Other bars; a rest of ``keep`` mm is kept."""
        self.bars, self.keep = bars, keep
        self.choose(min(self.selected, max(len(bars) - 1, 0)))

    def choose(self, n: int) -> None:
        """Which bar is next."""
        self.selected = n
        rows = self._rows()
        self.top = min(max(self.top, n - rows + 1, 0), n) if rows else 0
        self.update()

    def _rows(self) -> int:
        return max(int((self.height() - self.theme.px(40)) / self.theme.px(self.ROW)), 1)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        n = self.top + int((event.position().y() - self.theme.px(30)) / self.theme.px(self.ROW))
        if not self.one and 0 <= n < len(self.bars):
            self.chosen.emit(n)

    def wheelEvent(self, event: QWheelEvent) -> None:
        step = -1 if event.angleDelta().y() > 0 else 1
        self.top = min(max(self.top + step, 0), max(len(self.bars) - self._rows(), 0))
        self.update()

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        px = self.theme.px
        if not self.bars:
            self.tag(p, QPointF(self.width() / 2, self.height() / 2), self.waiting, size=15)
            return
        if self.one:
            self._bar(p, self.bars[self.selected], QRectF(0, 0, self.width(), self.height()), True)
            return
        rows = self._rows()
        for k, bar in enumerate(self.bars[self.top : self.top + rows]):
            box = QRectF(0, px(30) + k * px(self.ROW), self.width(), px(self.ROW))
            self._bar(p, bar, box, self.top + k == self.selected)
        more = len(self.bars) - self.top - rows
        if more > 0:
            words = f"{more} more bar{'s' if more > 1 else ''} below: ↓"
            self.tag(p, QPointF(self.width() / 2, self.height() - px(14)), words)

    def _bar(self, p: QPainter, bar: BarCut, box: QRectF, selected: bool) -> None:
        """One bar in a box: its words, and under them the bar itself."""
        px, pal = self.theme.px, self.theme.palette
        margin = px(18)
        longest = bar.length if self.one else max(b.length for b in self.bars)
        scale = (box.width() - 2 * margin) / longest
        p.setFont(font(self.theme, 13, bold=selected))
        p.setPen(QColor(pal.touch if selected else pal.ink))
        head = f"{self.said(bar.stock)}  {bar.material}  ·  {self.length(bar.length)}"
        head += f"  ·  {bar.rack}" + (f", {bar.where}" if bar.where else "") if bar.rack else ""
        head += "  ·  begun" if bar.begun else ""
        words = QRectF(margin, box.top() + px(4), box.width() - 2 * margin, px(20))
        p.drawText(words, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, head)
        rest = f"{self.length(bar.left)} left" + ("" if bar.left >= self.keep else ", scrap")
        p.setPen(QColor(pal.quiet))
        p.setFont(font(self.theme, 12))
        p.drawText(words, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, rest)
        tall = min(px(40), box.height() - px(34)) if not self.one else px(90)
        y = box.top() + px(28) if not self.one else box.center().y() - tall / 2
        p.setPen(QPen(QColor(pal.line), 1))
        p.setBrush(QColor(pal.well))
        p.drawRect(QRectF(margin, y, bar.length * scale, tall))
        for n, cut in enumerate(bar.cuts):
            self._cut(p, cut, QRectF(margin, y, scale, tall), first=selected and n == self.next)

    def _cut(self, p: QPainter, cut: Cut, frame: QRectF, first: bool) -> None:
        """A piece; ``frame``: where the bar begins, pixels per mm as its width, and how tall it is drawn."""
        pal, scale = self.theme.palette, frame.width()
        a, b = cut.leans(scale)
        left, right = frame.left() + cut.start * scale, frame.left() + cut.end * scale
        top, low = frame.top(), frame.bottom()
        shape = QPolygonF(
            [
                QPointF(left + max(-a, 0.0), top),
                QPointF(right - max(-b, 0.0), top),
                QPointF(right - max(b, 0.0), low),
                QPointF(left + max(a, 0.0), low),
            ]
        )
        p.setPen(QPen(QColor(pal.ink), 1.2))
        p.setBrush(QColor(pal.touch if first else pal.steel))
        p.drawPolygon(shape)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(pal.ink))
        for x, lean in ((left, a), (right, b)):  # a dot at each long point
            if lean:
                p.drawEllipse(QPointF(x, top if lean > 0 else low), self.theme.px(2.5), self.theme.px(2.5))
        wide = right - left
        size = 15 if self.one else 12
        p.setFont(font(self.theme, size, bold=True, mono=True))
        colour = QColor(pal.on_touch if first else pal.ink)
        p.setPen(colour)
        text = f"{cut.piece.mark} {self.length(cut.end - cut.start)}"
        if p.fontMetrics().horizontalAdvance(text) > wide - 6:
            text = cut.piece.mark
        if p.fontMetrics().horizontalAdvance(text) <= wide - 2:
            p.drawText(QRectF(left, top, wide, low - top), Qt.AlignmentFlag.AlignCenter, text)


__all__ = ["BarsView"]
