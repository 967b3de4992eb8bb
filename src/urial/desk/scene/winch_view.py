"""A pull from above: the line, the legs to the anchor with the angle under the hand, and where a broken
line goes.
"""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QMouseEvent, QPaintEvent, QPen

from urial.desk.scene.canvas import Turning
from urial.desk.theme import Theme
from urial.road.winch import danger_zone

LEG = 0.22  # a leg's length over the line's, for the drawing


class WinchView(Turning):
    """``angled`` says the angle between the legs while it is dragged, ``let_go`` where it ended."""

    places = 0

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "winch view")
        self.setAccessibleName("Line, legs and danger zone from above; drag a leg")
        self.length, self.angle, self.legs = 12.0, 60.0, 2
        self.words: tuple[str, str] = ("", "")
        self.over = False

    def show_pull(
        self, length_m: float, angle_deg: float, legs: int, line: str, leg: str, over: bool
    ) -> None:
        """Line length, angle, legs, and what the line and each leg carry."""
        self.length, self.legs, self.words, self.over = length_m, legs, (line, leg), over
        if not self._held:
            self.angle = angle_deg
        self.update()

    def _place(self) -> None:
        size = 1000 * self.length
        px = self.theme.px
        self.fit(
            (-0.1 * size, -0.36 * size),
            (1.35 * size, 0.36 * size),
            QRectF(px(20), px(30), self.width() - px(40), self.height() - px(60)),
        )

    def ends(self) -> list[tuple[float, float]]:
        """Where the legs meet the anchor, mm (the ring at the line's end)."""
        size = 1000 * self.length
        if self.legs == 1:
            return [(size * (1 + LEG), 0.0)]
        half = math.radians(self.angle) / 2
        return [(size * (1 + LEG * math.cos(half)), s * size * LEG * math.sin(half)) for s in (-1, 1)]

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self._place()
        self.setFocus()
        self._held = self.legs == 2 and any(
            (self.at(*e) - event.position()).manhattanLength() < self.theme.px(40) for e in self.ends()
        )

    def _angle_at(self, pos: QPointF) -> float:
        x, y = self.back(pos)
        return min(max(2 * math.degrees(math.atan2(abs(y), x - 1000 * self.length)), 0.0), 170.0)

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        self._place()
        pal, px = self.theme.palette, self.theme.px
        size = 1000 * self.length
        zone = danger_zone((0.0, 0.0), (size, 0.0))
        brick = QColor(pal.brick)
        soft = QColor(pal.brick)
        soft.setAlpha(110)
        half = len(zone) // 2
        for origin, arc in (((0.0, 0.0), zone[:half]), ((size, 0.0), zone[half:])):
            p.setPen(QPen(brick, 1, Qt.PenStyle.DashLine))
            p.setBrush(QBrush(soft, Qt.BrushStyle.BDiagPattern))
            p.drawPolygon(self.polygon([origin, *arc]))
        p.setPen(QPen(QColor(pal.ink), px(4)))
        p.drawLine(self.at(0, 0), self.at(size, 0))
        for end in self.ends():
            p.setPen(QPen(brick if self.over else QColor(pal.touch), px(4)))
            p.drawLine(self.at(size, 0), self.at(*end))
            p.setPen(QPen(QColor(pal.touch), px(2)))
            p.setBrush(QColor(pal.card))
            p.drawEllipse(self.at(*end), px(10), px(10))
        p.setPen(QPen(QColor(pal.ink), px(2)))
        p.setBrush(QColor(pal.steel))
        p.drawRect(QRectF(self.at(-0.07 * size, -0.05 * size), self.at(0, 0.05 * size)))
        p.drawEllipse(self.at(size, 0), px(8), px(8))
        self.tag(p, self.at(size / 2, 0) + QPointF(0, -px(18)), self.words[0], bold=True, mono=True, size=14)
        end = self.ends()[0]
        self.tag(
            p,
            self.at((size + end[0]) / 2, end[1] / 2) + QPointF(0, -px(20)),
            self.words[1],
            brick if self.over else QColor(pal.touch),
            bold=True,
            mono=True,
            size=14,
        )
        if self.legs == 2:
            self.tag(
                p,
                self.at(size, 0) + QPointF(px(46), 0),
                f"{self.angle:.0f}°",
                QColor(pal.touch),
                bold=True,
                mono=True,
            )
        self.tag(
            p,
            self.at(size * 0.5, 0.2 * size),
            "nobody stands here while the line is loaded",
            brick,
            bold=True,
        )
        self.tag(p, QPointF(px(120), px(18)), "from above; drag an end of the legs", QColor(pal.quiet))
