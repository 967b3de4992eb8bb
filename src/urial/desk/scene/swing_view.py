"""Vehicle, ball and trailer from above and from the left, at any articulation: drag the trailer round."""

from __future__ import annotations

import math

from manifold3d import Manifold
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QBrush, QColor, QMouseEvent, QPaintEvent, QPen

from urial.assembly.model import Vec
from urial.desk.scene.canvas import Canvas
from urial.desk.theme import Theme
from urial.road.swing import Body, Touch, hull_of, solid_of, turned

ABOVE = ((-1.0, 0.0, 0.0), (0.0, -1.0, 0.0))
BESIDE = ((-1.0, 0.0, 0.0), (0.0, 0.0, 1.0))


class SwingView(Canvas):
    """``angled`` says the articulation under the hand, ``let_go`` where it ended."""

    angled = Signal(float)
    let_go = Signal(float)

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "swing view")
        self.setAccessibleName("Trailer swinging about the ball; drag it round")
        self.fixed: list[tuple[str, Manifold]] = []
        self.trailer: list[Body] = []
        self.ball: Vec = (0.0, 0.0, 0.0)
        self.angle = self.pitch = self.roll = 0.0
        self.touches: list[Touch] = []
        self._held = False

    def show_swing(self, fixed: list[tuple[str, Manifold]], trailer: list[Body], ball: Vec, angle: float, pitch: float, roll: float, touches: list[Touch]) -> None:
        """Another state."""
        self.fixed, self.trailer, self.ball, self.pitch, self.roll, self.touches = fixed, trailer, ball, pitch, roll, touches
        if not self._held:
            self.angle = angle
        self.update()

    def _place(self) -> None:
        reach = 2300.0
        px = self.theme.px
        x = -self.ball[0]
        self.fit((x - 1300, -1250), (x + reach, 2350), QRectF(px(14), px(30), self.width() - px(28), self.height() - px(60)))

    def _angle_at(self, pos: QPointF) -> float:
        x, y = self.back(pos)
        # on the drawing rearward is to the right and the left side is below
        return max(-110.0, min(110.0, math.degrees(math.atan2(y + self.ball[1], x + self.ball[0]))))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        self._held = True
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held:
            self._place()
            self.angle = round(self._angle_at(event.position()), 1)
            self.angled.emit(self.angle)
            self.update()

    def mouseReleaseEvent(self, _: QMouseEvent) -> None:
        if self._held:
            self._held = False
            self.let_go.emit(self.angle)

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        self._place()
        pal, px = self.theme.palette, self.theme.px
        here = [(b.name, turned(solid_of(b), self.ball, self.angle, self.pitch, self.roll)) for b in self.trailer]
        hit = {name for name, body in here for _, stay in self.fixed if (body ^ stay).volume() > 1.0}
        lift = 2050.0  # the view from the left stands below the view from above
        for axes, shift in ((ABOVE, 0.0), (BESIDE, lift)):
            for group, moving in ((self.fixed, False), (here, True)):
                for name, rings in hull_of(group, axes):
                    for ring in rings:
                        shape = self.polygon([(u, shift - v) for u, v in ring])
                        struck = name in hit
                        p.setPen(QPen(QColor(pal.brick if struck else pal.ink), px(2) if struck else 1.4))
                        p.setBrush(QColor(pal.steel) if moving and not struck else QBrush(QColor(pal.brick), Qt.BrushStyle.BDiagPattern) if struck else QColor(pal.well))
                        p.drawPolygon(shape)
        for shift, v in ((0.0, self.ball[1]), (lift, self.ball[2])):
            p.setPen(QPen(QColor(pal.touch), px(2)))
            p.setBrush(QColor(pal.card))
            p.drawEllipse(self.at(-self.ball[0], shift - v), px(6), px(6))
        for touch in self.touches:
            for shift, v in ((0.0, touch.at[1]), (lift, touch.at[2])):
                spot = self.at(-touch.at[0], shift - v)
                p.setPen(QPen(QColor(pal.brick), px(2)))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawEllipse(spot, px(9), px(9))
            spot = self.at(-touch.at[0], -touch.at[1])
            self.tag(p, spot + QPointF(0, -px(20) if touch.at[1] > 0 else px(20)), f"touches at {touch.angle_deg:.0f}°", QColor(pal.brick), bold=True)
        self.tag(p, QPointF(px(70), px(18)), "from above", QColor(pal.quiet))
        self.tag(p, QPointF(px(70), self.at(0, lift).y() + px(16)), "from the left", QColor(pal.quiet))
        self.tag(p, QPointF(self.width() - px(90), px(18)), f"{abs(self.angle):.0f}° {'left' if self.angle > 0 else 'right' if self.angle < 0 else 'straight'}", QColor(pal.touch), bold=True, size=15)
