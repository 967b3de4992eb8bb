"""Coats over time: when each was laid, when the next may go on, when it is too late, and where now is."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import datetime, timedelta

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPaintEvent, QPen

from urial.desk.scene.canvas import Canvas
from urial.desk.theme import Theme, font
from urial.making.finish import Laid

Across = Callable[[datetime], float]
BACK = timedelta(hours=2)
STEPS_H = (1, 2, 4, 6, 12, 24, 48)


class CoatView(Canvas):
    """``show_coats``: the coats, the time now, and what is not known yet, in words."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "coat view")
        self.setAccessibleName("The coats over time: too early, may be coated, too late")
        self.coats: tuple[Laid, ...] = ()
        self.now = datetime.now().astimezone()
        self.waiting = ""

    def show_coats(self, coats: Sequence[Laid], now: datetime, waiting: str = "") -> None:
        """Another state of it."""
        self.coats, self.now, self.waiting = tuple(coats), now, waiting
        self.update()

    def span(self) -> tuple[datetime, datetime]:
        """From when to when it is drawn."""
        laid = [c.laid for c in self.coats if c.laid is not None]
        start = min([*laid, self.now]) - BACK
        ends = [t for c in self.coats for t in (c.may, c.hard) if t is not None and c.laid is not None]
        return start, max([*ends, self.now + timedelta(hours=6)], default=self.now) + BACK

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        px, pal = self.theme.px, self.theme.palette
        p.setFont(font(self.theme, 13))
        if not self.coats:
            p.setPen(QColor(pal.quiet))
            box = QRectF(px(30), 0, self.width() - px(60), self.height())
            p.drawText(box, Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap, self.waiting)
            p.end()
            return
        start, end = self.span()
        left, right = px(190), self.width() - px(30)
        whole = (end - start).total_seconds()

        def x(at: datetime) -> float:
            share = (min(max(at, start), end) - start).total_seconds() / whole
            return left + share * (right - left)

        top, step = px(70), min(px(92), (self.height() - px(84)) / len(self.coats))
        self._hours(p, start, end, x, top - px(22), top + step * len(self.coats))
        for n, c in enumerate(self.coats):
            y = top + n * step
            p.setPen(QColor(pal.ink))
            p.setFont(font(self.theme, 14, bold=True))
            name = f"{c.number}  {c.product.title}"
            if step < px(60):
                name = p.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, int(left - px(26)))
            p.drawText(
                QRectF(px(16), y, left - px(26), step * 0.8),
                Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap,
                name,
            )
            box = QRectF(left, y + step * 0.2, right - left, step * 0.42)
            after = self.coats[n + 1].laid if n + 1 < len(self.coats) else None
            self._coat(p, c, box, x, after or end, after is not None)
        p.setPen(QPen(QColor(pal.touch), px(3)))
        here = x(self.now)
        p.drawLine(QPointF(here, top - px(18)), QPointF(here, top + step * len(self.coats)))
        p.setFont(font(self.theme, 13, bold=True))
        wide = px(90)
        p.drawText(
            QRectF(min(max(here - wide / 2, 0), self.width() - wide), top - px(64), wide, px(20)),
            Qt.AlignmentFlag.AlignCenter,
            f"now {self.now:%H:%M}",
        )
        p.end()

    def _hours(self, p: QPainter, start: datetime, end: datetime, x: Across, top: float, foot: float) -> None:
        px, pal = self.theme.px, self.theme.palette
        room = (end - start).total_seconds() / 3600
        every = next((h for h in STEPS_H if room / h <= 8), 96)
        at = start.replace(minute=0, second=0, microsecond=0)
        p.setFont(font(self.theme, 12))
        while at <= end:
            at += timedelta(hours=1)
            if at.hour % min(every, 24) or (every > 24 and at.toordinal() % (every // 24)):
                continue
            p.setPen(QPen(QColor(pal.line), 1))
            p.drawLine(QPointF(x(at), top), QPointF(x(at), foot))
            p.setPen(QColor(pal.quiet))
            words = f"{at:%a %d}" if at.hour == 0 else f"{at:%H:%M}"
            p.drawText(
                QRectF(x(at) - px(32), top - px(20), px(64), px(18)), Qt.AlignmentFlag.AlignCenter, words
            )

    def _coat(self, p: QPainter, c: Laid, box: QRectF, x: Across, end: datetime, coated: bool) -> None:
        """A bar in three: too early (ruled), may be coated (open), too late (filled); as far as the next coat
        where that is laid.
        """
        px, pal = self.theme.px, self.theme.palette
        if c.laid is None:
            p.setPen(QPen(QColor(pal.line), 1, Qt.PenStyle.DashLine))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawRect(box)
            p.setPen(QColor(pal.quiet))
            p.setFont(font(self.theme, 13))
            p.drawText(box.adjusted(px(8), 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, "not laid yet")
            return
        may, late = min(c.may or end, end), min(c.late or end, end)
        spells = (
            (c.laid, may, pal.ochre, Qt.BrushStyle.BDiagPattern, "too early"),
            (may, late, pal.slate, Qt.BrushStyle.NoBrush, "may be coated"),
            (late, end, pal.brick, Qt.BrushStyle.SolidPattern, "sand it first"),
        )
        p.setFont(font(self.theme, 13, bold=True))
        for a, b, colour, brush, words in spells:
            if b <= a:
                continue
            row = QRectF(x(a), box.top(), x(b) - x(a), box.height())
            p.setPen(QPen(QColor(colour), 2))
            p.setBrush(Qt.BrushStyle.NoBrush)
            if brush != Qt.BrushStyle.NoBrush:
                p.fillRect(row, QColor(pal.card))
                p.setBrush(QBrush(QColor(colour), brush))
            p.drawRect(row)
            if p.fontMetrics().horizontalAdvance(words) + px(12) < row.width():
                wide = p.fontMetrics().horizontalAdvance(words) + px(10)
                chip = QRectF(row.left() + px(6), row.center().y() - px(10), wide, px(20))
                p.fillRect(chip, QColor(pal.card))
                p.setPen(QColor(pal.ink))
                p.drawText(chip, Qt.AlignmentFlag.AlignCenter, words)
        if coated:
            return
        p.setFont(font(self.theme, 12))
        for at, words, low in ((c.may, "from", 1), (c.late, "until", 1), (c.hard, "hard", 17)):
            if at is not None and at < end:
                p.setPen(QColor(pal.quiet))
                row = QRectF(x(at) - px(60), box.bottom() + px(low), px(120), px(18))
                p.drawText(row, Qt.AlignmentFlag.AlignCenter, f"{words} {at:%H:%M}")


__all__ = ["CoatView"]
