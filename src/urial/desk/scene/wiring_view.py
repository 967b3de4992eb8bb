"""A plug's cables, one under the other: contact, colour, what it does, cable, current, what it loses."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPaintEvent, QPen, QResizeEvent

from urial.desk.scene.canvas import Canvas
from urial.desk.theme import Theme, font
from urial.making.wiring import Wired

WRAPPED = Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextWordWrap

PAINT = {
    "white": "#f4f4f0",
    "black": "#22211f",
    "red": "#c0392b",
    "green": "#2f8f4e",
    "yellow": "#e3b505",
    "blue": "#2b6cb0",
    "brown": "#7a4a24",
    "orange": "#e07b1a",
    "pink": "#e58aa8",
    "grey": "#8d8d8a",
    "purple": "#7d4ea3",
}
"""What a cable's colour looks like; it is always named beside it."""


TOP, LEAST, MOST = 64, 24, 44
"""Where the rows begin, and how high one may be."""
COLUMNS = (0.0, 0.14, 0.31, 0.51, 0.60, 0.67, 0.77, 0.86)
"""Where contact, colour, what it does, cable, current, length, loss and end or fuse begin, of the width."""


class WiringView(Canvas):
    """``show_wiring``: the table and what has to be said of it, or in words why there is none."""

    told = Signal(bool)
    """Whether the words have room under the table: else they are shown elsewhere."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "wiring view")
        self.setAccessibleName("The cables of the plug, contact by contact")
        self.wired: Wired | None = None
        self.waiting = self.words = ""
        self.room = False
        self.length: Callable[[float], str] = lambda mm: f"{mm:.0f} mm"

    def show_wiring(self, wired: Wired | None, waiting: str = "", words: str = "") -> None:
        """Another table."""
        self.wired, self.waiting, self.words = wired, waiting, words
        self.setAccessibleDescription(words or waiting)
        self._measure()
        self.update()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._measure()

    def _rows(self) -> int:
        return len(self.wired.wires) + len(self.wired.free) if self.wired is not None else 0

    def _high(self) -> float:
        """How high the words are under the table."""
        box = QRectF(0, 0, self.width() - self.theme.px(48), 10_000)
        return QFontMetricsF(font(self.theme, 12)).boundingRect(box, WRAPPED, self.words).height()

    def _measure(self) -> None:
        px = self.theme.px
        room = self._high() + px(TOP) + px(LEAST) * self._rows() + px(28) <= self.height()
        if room != self.room:
            self.room = room
            self.told.emit(room)

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        px, pal = self.theme.px, self.theme.palette
        if self.wired is None:
            p.setFont(font(self.theme, 13))
            p.setPen(QColor(pal.quiet))
            box = QRectF(px(30), 0, self.width() - px(60), self.height())
            p.drawText(box, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.waiting)
            p.end()
            return
        wide, under = self.width() - px(48), self._high() + px(28) if self.room else px(16)
        high = min(px(MOST), (self.height() - px(TOP) - under) / max(self._rows(), 1))
        p.setFont(font(self.theme, 14, True))
        p.setPen(QColor(pal.ink))
        title = f"{self.wired.plug.title} · {self.wired.plug.source}"
        p.drawText(QRectF(px(24), px(10), wide, px(24)), Qt.AlignmentFlag.AlignLeft, title)
        p.setFont(font(self.theme, 12))
        p.setPen(QColor(pal.quiet))
        p.drawText(
            QRectF(px(24), px(32), wide, px(22)), Qt.AlignmentFlag.AlignLeft, f"colours: {self.wired.school}"
        )
        y = float(px(TOP))
        for w in self.wired.wires:
            end = f"fuse {w.fuse:g} A" if w.fuse else w.terminal.split(",")[0]
            figures = (f"{w.amps:.1f} A", self.length(w.mm), f"−{w.drop:.2f} V", end)
            self._row(p, QRectF(0, y, self.width(), high), (w.at, w.colour, w.does, w.cable.name, *figures))
            y += high
        for c in self.wired.free:
            self._row(p, QRectF(0, y, self.width(), high), (c.at, "", c.does, "free"))
            y += high
        if self.room:
            p.setFont(font(self.theme, 12))
            p.setPen(QColor(pal.ink))
            p.drawText(QRectF(px(24), y + px(10), wide, self._high() + px(8)), WRAPPED, self.words)
        p.end()

    def _row(self, p: QPainter, at: QRectF, said: tuple[str, ...]) -> None:
        """One contact: its name, its cable in its colour with the colour's name, and its figures."""
        px, pal = self.theme.px, self.theme.palette
        wide, used = self.width() - px(48), len(said) > 4
        for n, text in enumerate(said):
            x = px(24) + COLUMNS[n] * wide
            end = px(24) + (COLUMNS[n + 1] if n + 1 < len(COLUMNS) else 1.0) * wide - px(6)
            if n == 1 and text:
                self._cable(p, QPointF(x, at.center().y()), text)
                x += px(36)
            p.setFont(font(self.theme, 12, n in (0, 3) or (n == 2 and used)))
            p.setPen(QColor(pal.ink if used or n == 0 else pal.quiet))
            fit = p.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, int(end - x))
            box = QRectF(x, at.y(), end - x, at.height())
            p.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, fit)
        p.setPen(QPen(QColor(pal.line), 1))
        p.drawLine(QPointF(px(24), at.bottom()), QPointF(self.width() - px(24), at.bottom()))

    def _cable(self, p: QPainter, a: QPointF, colour: str) -> None:
        """A piece of cable in its colour, with its second one as a stripe."""
        px = self.theme.px
        paints = [PAINT[c] for c in colour.split(" and ") if c in PAINT]
        if not paints:  # any colour will do
            return
        for paint, thick in ((self.theme.palette.ink, 9), *zip(paints, (7, 3), strict=False)):
            p.setPen(QPen(QColor(paint), px(thick), Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap))
            p.drawLine(a, QPointF(a.x() + px(28), a.y()))


__all__ = ["PAINT", "WiringView"]
