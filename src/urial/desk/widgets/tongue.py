"""Tongue weight on a scale of percent, with both schools' bands, the 4 % floor, and the range on the way."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from urial import units
from urial.desk.theme import Theme, font

MOST = 20.0


class TongueScale(QWidget):
    """``show_value`` says where it stands."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.percent, self.school, self.warn = 0.0, "10-15", False
        self.range: tuple[float, float] | None = None
        self.setFixedHeight(theme.px(74))
        self.setAccessibleName("Tongue weight in percent of the trailer")

    def show_value(
        self, percent: float, school: str, warn: bool, spread: tuple[float, float] | None = None
    ) -> None:
        """Where the tongue weight stands, in which school, and between what it runs on the way."""
        self.percent, self.school, self.warn, self.range = percent, school, warn, spread
        self.update()

    def paintEvent(self, _: QPaintEvent) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        t, pal, px = self.theme, self.theme.palette, self.theme.px
        left, wide = px(6), self.width() - px(12)
        top, high = px(26), px(16)

        def x(percent: float) -> float:
            return left + wide * min(max(percent, 0), MOST) / MOST

        p.fillRect(QRectF(left, top, wide, high), QColor(pal.well))
        p.fillRect(QRectF(left, top, x(4) - left, high), QColor.fromRgbF(*t.ramp(1.05)))
        for low, upper, school in ((4, 8, "4-8"), (10, 15, "10-15")):
            box = QRectF(x(low), top, x(upper) - x(low), high)
            chosen = self.school == school
            p.fillRect(box, QColor(pal.steel) if chosen else QColor(pal.line))
            if chosen:
                p.setPen(QPen(QColor(pal.ink), 1.5))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawRect(box)
        if self.range:
            p.setPen(QPen(QColor(pal.touch), px(4)))
            p.drawLine(QPointF(x(self.range[0]), top + high / 2), QPointF(x(self.range[1]), top + high / 2))
        p.setPen(QColor(pal.quiet))
        p.setFont(font(t, 11, mono=True))
        for tick in (0, 4, 8, 10, 15, 20):
            p.drawText(
                QRectF(x(tick) - 20, top + high + 2, 40, px(16)), Qt.AlignmentFlag.AlignHCenter, str(tick)
            )
        here = x(self.percent)
        p.setPen(QPen(QColor(pal.brick if self.warn else pal.touch), px(3)))
        p.drawLine(QPointF(here, top - 5), QPointF(here, top + high + 5))
        p.setFont(font(t, 15, bold=True, mono=True))
        text = f"{units.figure(self.percent, 1)} %"
        w = p.fontMetrics().horizontalAdvance(text)
        p.drawText(QPointF(min(max(here - w / 2, left), left + wide - w), top - px(9)), text)
