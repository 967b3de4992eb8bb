"""What it costs, drawn: each line as long as its price, and hours planned against hours timed."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPaintEvent, QPen

from urial import units
from urial.desk.scene.canvas import Canvas
from urial.desk.theme import Theme, font
from urial.making.price import Hours, PriceLine, Quote
from urial.units import System

NAMES = {"material": "Material", "consumables": "Consumables", "labour": "Work"}
ROW = 21
"""A line is so high at least; where there is no room for all, the smaller ones of a sum stand together."""


class PriceView(Canvas):
    """``show_price``: a quote, its hours, and what is not known yet, in words."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "price view")
        self.setAccessibleName("What each thing costs, and hours planned against hours timed")
        self.quote: Quote | None = None
        self.hours: tuple[Hours, ...] = ()
        self.waiting = ""
        self.system: System = "metric"
        self.said: Callable[[str], str] = str

    def show_price(
        self, quote: Quote | None, hours: Sequence[Hours], waiting: str = "", system: System = "metric"
    ) -> None:
        """Another state of it."""
        self.quote, self.hours, self.waiting, self.system = quote, tuple(hours), waiting, system
        self.update()

    def rows(self, most: int = 99) -> list[tuple[str, float, str]]:
        """What is drawn in no more lines than that: words, price, and of which sum; the smaller ones
        together.
        """
        if self.quote is None:
            return []
        lines = sorted(self.quote.lines, key=lambda r: (list(NAMES).index(r.of), -r.price))
        keep = sorted(lines, key=lambda r: -r.price)[: max(most - len(NAMES), len(NAMES))]
        out: list[tuple[str, float, str]] = []
        for key in NAMES:
            own = [r for r in lines if r.of == key]
            out += [(self._words(r), r.price, key) for r in own if r in keep]
            rest = [r for r in own if r not in keep]
            if rest:
                words = f"{len(rest)} smaller" if len(rest) < len(own) else "all of it"
                out.append((words, sum(r.price for r in rest), key))
        return out

    def _words(self, r: PriceLine) -> str:
        amount, unit = r.amount_in(self.system)
        return f"{self.said(r.what)}  {units.bare(f'{amount:.3g} {unit}')}"

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        px, pal = self.theme.px, self.theme.palette
        if self.quote is None:
            p.setPen(QColor(pal.quiet))
            p.setFont(font(self.theme, 14))
            p.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, self.waiting)
            p.end()
            return
        foot = px(44 + 24 * len(self.hours)) if self.hours else 0
        if self.height() - foot < px(14 * ROW):
            foot = 0  # the hours stand in the words beside it
        high = self.height() - px(30) - foot
        rows = self.rows(int(high / px(ROW)) - len(NAMES) - 1)
        step = min(px(26), high / max(len(rows) + len(NAMES) + 1, 1))
        largest = max((price for _, price, _ in rows), default=1.0) or 1.0
        left, right = px(230), self.width() - px(110)
        y, before = float(px(14)), ""
        for words, price, key in rows:
            if key != before:
                y += step * 0.25
                before = key
                p.setPen(QColor(pal.ink))
                p.setFont(font(self.theme, 13, bold=True))
                whole = sum(r.price for r in self.quote.lines if r.of == key)
                head = f"{NAMES[key]}, {units.bare(f'{whole:.2f}')} {self.quote.currency}"
                p.drawText(QRectF(px(16), y, left + px(200), step), Qt.AlignmentFlag.AlignVCenter, head)
                y += step
            self._bar(p, words, units.bare(f"{price:.2f}"), price / largest, (left, right, y, step))
            y += step
        if foot:
            self._hours(p, self.height() - foot)
        p.end()

    def _bar(
        self, p: QPainter, words: str, figure: str, share: float, box: tuple[float, float, float, float]
    ) -> None:
        left, right, y, step = box
        px, pal = self.theme.px, self.theme.palette
        p.setFont(font(self.theme, 12))
        p.setPen(QColor(pal.ink))
        name = p.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(left - px(30)))
        p.drawText(QRectF(px(22), y, left - px(28), step), Qt.AlignmentFlag.AlignVCenter, name)
        row = QRectF(left, y + step * 0.2, max((right - left) * share, 1.0), step * 0.6)
        p.fillRect(row, QColor(pal.steel))
        p.setPen(QPen(QColor(pal.ink), 1))
        p.drawRect(row)
        p.setFont(font(self.theme, 13))
        p.drawText(QRectF(row.right() + px(6), y, px(110), step), Qt.AlignmentFlag.AlignVCenter, figure)

    def _hours(self, p: QPainter, top: float) -> None:
        """A bar for the plan, filled as far as it is done, and under it what was timed."""
        if not self.hours:
            return
        px, pal = self.theme.px, self.theme.palette
        p.setPen(QPen(QColor(pal.line), 1))
        p.drawLine(QPointF(px(12), top), QPointF(self.width() - px(12), top))
        p.setPen(QColor(pal.ink))
        p.setFont(font(self.theme, 13, bold=True))
        p.drawText(
            QRectF(px(16), top + px(6), self.width(), px(24)),
            Qt.AlignmentFlag.AlignVCenter,
            "Hours: planned (outline), done of it (hatched), timed (blue)",
        )
        left, right = px(230), self.width() - px(190)
        most = max(max(h.planned, h.timed) for h in self.hours)
        for n, h in enumerate(self.hours):
            y, high = top + px(36) + n * px(24), px(20)
            p.setPen(QColor(pal.ink))
            p.setFont(font(self.theme, 12))
            p.drawText(QRectF(px(22), y, left, high), Qt.AlignmentFlag.AlignVCenter, h.trade)
            scale = (right - left) / most
            plan = QRectF(left, y + px(2), max(h.planned * scale, 1.0), px(10))
            if h.done:
                part = QRectF(plan.left(), plan.top(), h.done * scale, plan.height())
                p.setPen(Qt.PenStyle.NoPen)
                p.setBrush(QBrush(QColor(pal.ink), Qt.BrushStyle.BDiagPattern))
                p.drawRect(part)
            p.setPen(QPen(QColor(pal.ink), 1.4))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(plan)
            if h.timed:
                p.fillRect(QRectF(left, y + px(13), h.timed * scale, px(6)), QColor(pal.touch))
            said = units.bare(f"{h.planned:.1f} h" + (f", timed {h.timed:.1f} h" if h.timed else ""))
            p.setPen(QColor(pal.ink))
            p.setFont(font(self.theme, 13))
            end = left + max(h.planned, h.timed) * scale
            p.drawText(QRectF(end + px(6), y, px(190), high), Qt.AlignmentFlag.AlignVCenter, said)


__all__ = ["PriceView"]
