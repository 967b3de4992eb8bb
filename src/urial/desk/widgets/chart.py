"""Small charts: one figure against another with what takes over where, and bars of what matters."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF

from urial.desk.scene.canvas import Canvas
from urial.desk.theme import Theme, font
from urial.prove.whatif import ticks

Show = Callable[[float], str]


@dataclass(frozen=True)
class Curve:
    """What is drawn: points (nan: nothing there), what stands at each, marks, where it stands now, how
    figures are written, the level that must not be passed (none: nan), and whether it is filled under.
    """

    x: Sequence[float]
    y: Sequence[float]
    words: Sequence[str]
    marks: Sequence[float]
    now: tuple[float, float]
    show_x: Show
    show_y: Show
    limit: float = math.nan
    filled: bool = False


@dataclass(frozen=True)
class Lever:
    """A bar: what it is, and what less and more of it make of the figure in the middle."""

    title: str
    less: float
    more: float


class Chart(Canvas):
    """``show_curve`` or ``show_bars``; the pointer reads a value off."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "chart")
        self.curve: Curve | None = None
        self.bars: tuple[Lever, ...] = ()
        self.middle = 0.0
        self.pointer: float | None = None
        self.setMinimumHeight(theme.px(210))

    def show_curve(self, curve: Curve | None, name: str = "") -> None:
        """A curve, or nothing."""
        self.curve, self.bars = curve, ()
        self.setAccessibleName(name)
        self.update()

    def show_bars(self, bars: Sequence[Lever], middle: float, name: str = "") -> None:
        """Bars about a figure."""
        self.curve, self.bars, self.middle = None, tuple(bars), middle
        self.setMinimumHeight(self.theme.px(40 + 26 * len(bars)))
        self.setAccessibleName(name)
        self.update()

    def point(self, x: float | None) -> None:
        """Read the curve off at a value, as the pointer would; None: no more."""
        if x is None or self.curve is None:
            self.pointer = None
        else:
            left, right = min(self.curve.x), max(self.curve.x)
            box = self._box()
            self.pointer = box.left() + box.width() * (x - left) / max(right - left, 1e-12)
        self.update()

    def _box(self) -> QRectF:
        """Where the curve is drawn."""
        px = self.theme.px
        return QRectF(px(58), px(12), self.width() - px(72), self.height() - px(40))

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        self.pointer = event.position().x()
        self.update()

    def leaveEvent(self, _: object) -> None:
        self.pointer = None
        self.update()

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        if self.curve is not None:
            self._curve(p, self.curve)
        elif self.bars:
            self._bars(p)

    def _curve(self, p: QPainter, c: Curve) -> None:
        pal, px = self.theme.palette, self.theme.px
        ys = [y for y in c.y if math.isfinite(y)]
        if len(ys) < 2:
            return
        box = self._box()
        left, right = min(c.x), max(c.x)
        top = 1.12 * max([*ys, c.now[1], *([c.limit] if math.isfinite(c.limit) else [])])

        def at(x: float, y: float) -> QPointF:
            return QPointF(
                box.left() + box.width() * (x - left) / (right - left), box.bottom() - box.height() * y / top
            )

        self._grid(p, box, (left, right, top), c)
        points = [at(x, y) for x, y in zip(c.x, c.y, strict=True) if math.isfinite(y)]
        if c.filled:
            p.setPen(Qt.PenStyle.NoPen)
            fill = QColor(pal.steel)
            fill.setAlpha(70)
            p.setBrush(fill)
            p.drawPolygon(
                QPolygonF(
                    [QPointF(points[0].x(), box.bottom()), *points, QPointF(points[-1].x(), box.bottom())]
                )
            )
        if math.isfinite(c.limit):
            p.setPen(QPen(QColor(pal.brick), px(2), Qt.PenStyle.DashLine))
            p.drawLine(at(left, c.limit), at(right, c.limit))
        p.setPen(QPen(QColor(pal.ink), px(2)))
        p.drawPolyline(QPolygonF(points))
        for x in c.marks:
            p.setPen(QPen(QColor(pal.ochre), px(1.5), Qt.PenStyle.DotLine))
            p.drawLine(at(x, 0), at(x, top))
        p.setPen(QPen(QColor(pal.card), px(2)))
        p.setBrush(QColor(pal.touch))
        if left <= c.now[0] <= right:
            p.drawEllipse(at(*c.now), px(6), px(6))
        if self.pointer is not None and box.left() <= self.pointer <= box.right():
            x = left + (right - left) * (self.pointer - box.left()) / box.width()
            k = min(range(len(c.x)), key=lambda n: abs(c.x[n] - x))
            p.setPen(QPen(QColor(pal.touch), 1))
            p.drawLine(at(c.x[k], 0), at(c.x[k], top))
            if math.isfinite(c.y[k]):
                text = f"{c.show_x(c.x[k])}: {c.show_y(c.y[k])}"
                self.tag(p, QPointF(at(c.x[k], 0).x(), box.top() + px(8)), text, bold=True)
                self.tag(p, QPointF(box.center().x(), box.top() + px(26)), c.words[k], size=11)

    def _grid(self, p: QPainter, box: QRectF, span: tuple[float, float, float], c: Curve) -> None:
        """Three or four round lines each way, with their figures."""
        pal, px = self.theme.palette, self.theme.px
        left, right, top = span
        p.setFont(font(self.theme, 11, mono=True))
        for y in ticks(0.0, top):
            v = box.bottom() - box.height() * y / top
            p.setPen(QPen(QColor(pal.line), 1))
            p.drawLine(QPointF(box.left(), v), QPointF(box.right(), v))
            p.setPen(QColor(pal.quiet))
            p.drawText(
                QRectF(0, v - px(8), box.left() - px(5), px(16)),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                c.show_y(y),
            )
        taken = -1.0
        for x in ticks(left, right):
            u = box.left() + box.width() * (x - left) / (right - left)
            p.setPen(QPen(QColor(pal.line), 1))
            p.drawLine(QPointF(u, box.top()), QPointF(u, box.bottom()))
            p.setPen(QColor(pal.quiet))
            wide = p.fontMetrics().horizontalAdvance(c.show_x(x)) + px(8)
            start = min(max(u - wide / 2, 0.0), self.width() - wide)
            if start < taken:
                continue
            taken = start + wide
            p.drawText(
                QRectF(start, box.bottom() + px(4), wide, px(18)), Qt.AlignmentFlag.AlignHCenter, c.show_x(x)
            )

    def _bars(self, p: QPainter) -> None:
        pal, px = self.theme.palette, self.theme.px
        reach = max(
            (abs(v - self.middle) for b in self.bars for v in (b.less, b.more) if math.isfinite(v)), default=0
        )
        reach = reach or 0.01
        words = self.width() * 0.46
        axis, half = words + (self.width() - words) / 2, (self.width() - words) / 2 - px(46)
        p.setFont(font(self.theme, 11))
        for n, b in enumerate(self.bars):
            y = px(22 + 26 * n)
            p.setPen(QColor(pal.ink))
            p.setFont(font(self.theme, 12))
            p.drawText(
                QRectF(px(6), y, words - px(10), px(20)),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                p.fontMetrics().elidedText(b.title, Qt.TextElideMode.ElideRight, int(words - px(10))),
            )
            for v, colour in ((b.less, pal.slate), (b.more, pal.ochre)):
                if not math.isfinite(v):
                    continue
                u = axis + half * (v - self.middle) / reach
                p.fillRect(QRectF(min(axis, u), y + px(3), abs(u - axis), px(14)), QColor(colour))
                if abs(u - axis) > px(10):
                    p.setPen(QColor(pal.quiet))
                    p.setFont(font(self.theme, 11, mono=True))
                    side = px(3) if u > axis else -px(38)
                    p.drawText(
                        QRectF(u + side, y, px(36), px(20)), Qt.AlignmentFlag.AlignVCenter, f"{100 * v:.0f} %"
                    )
        p.setPen(QPen(QColor(pal.ink), 1))
        p.drawLine(QPointF(axis, px(18)), QPointF(axis, px(24 + 26 * len(self.bars))))
        p.setFont(font(self.theme, 11))
        p.setPen(QColor(pal.quiet))
        p.drawText(
            QRectF(0, px(2), self.width() - px(6), px(16)),
            Qt.AlignmentFlag.AlignRight,
            "dark: a tenth less, light: a tenth more",
        )
