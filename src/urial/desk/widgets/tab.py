"""A station's tab: its number and name, and under them what is still open there."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetrics, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QPushButton

from urial.desk.theme import Palette, Theme, font
from urial.desk.widgets.plain import plain


def warning_on(pal: Palette) -> str:
    """The warning colour on a chosen tab, which is dark by day and light by night."""
    return "#F0A090" if QColor(pal.dark).lightness() < 128 else "#A4372A"


class Tab(QPushButton):
    """Two lines; dark when its station is shown."""

    def __init__(self, theme: Theme, number: int, name: str) -> None:
        super().__init__()
        self.theme, self.number, self.name = theme, number, name
        self.words, self.needs = "", False
        self.setFixedHeight(theme.px(46))

    def wanted(self) -> int:
        """How wide name and key are, side by side, and not too narrow for a few words under them; at bench
        size nine of them leave the words little room, and the tip says them whole.
        """
        px = self.theme.px
        name = QFontMetrics(font(self.theme, 15, bold=True)).horizontalAdvance(self.name)
        both = int(name + QFontMetrics(font(self.theme, 9.5)).horizontalAdvance(self.key) + px(22))
        return max(both, px(88 if self.key else 52))

    @property
    def key(self) -> str:
        """What goes to it with Alt, as it stands on the tab; at bench size its room is the job's title's, and
        menu and tip alone say it.
        """
        return str(self.number) if self.theme.scale <= 1.0 else ""

    def say(self, words: str, needs: bool) -> None:
        """What is open here."""
        self.words, self.needs = words, needs
        self.setAccessibleName(f"{self.name}, {words}")
        self.setToolTip(plain(f"{self.name} (Alt+{self.number}): {words}"))
        self.update()

    def paintEvent(self, _: QPaintEvent) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        t, pal, px = self.theme, self.theme.palette, self.theme.px
        box = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        cut = px(9)
        shape = QPolygonF(
            [
                box.topLeft(),
                box.topRight(),
                QPointF(box.right(), box.bottom() - cut),
                QPointF(box.right() - cut, box.bottom()),
                box.bottomLeft(),
            ]
        )
        on = self.isChecked()
        p.setBrush(QColor(pal.dark if on else pal.well if self.underMouse() else pal.card))
        p.setPen(QPen(QColor(pal.dark if on else pal.line), 1))
        p.drawPolygon(shape)
        ink = QColor(pal.on_dark if on else pal.ink)
        p.setPen(ink)
        p.setFont(font(t, 15, bold=True))
        p.drawText(QPointF(px(9), px(20)), self.name)
        wide = p.fontMetrics().horizontalAdvance(self.name)
        p.setFont(font(t, 9.5))
        p.setPen(QColor(pal.on_dark if on else pal.quiet))
        p.drawText(QPointF(px(9) + wide + px(6), px(19)), self.key)
        p.setFont(font(t, 11.5))
        quiet = QColor(pal.on_dark if on else pal.quiet)
        p.setPen(QColor(warning_on(pal) if on else pal.brick) if self.needs else quiet)
        room = self.width() - px(11)
        words = p.fontMetrics().elidedText(self.words, Qt.TextElideMode.ElideRight, int(room))
        p.drawText(QRectF(px(9), px(24), room, px(18)), Qt.AlignmentFlag.AlignLeft, words)
