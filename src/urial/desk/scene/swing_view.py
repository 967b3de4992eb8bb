"""Vehicle, ball and trailer from above and from the left, at any articulation: drag the trailer round."""

from __future__ import annotations

import math

from manifold3d import Manifold
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QMouseEvent, QPaintEvent, QPen

from urial.desk.scene.canvas import Turning
from urial.desk.theme import Theme
from urial.geometry.place import Vec
from urial.road.swing import Body, Touch, hull_of, solid_of, turned

ABOVE = ((-1.0, 0.0, 0.0), (0.0, -1.0, 0.0))
BESIDE = ((-1.0, 0.0, 0.0), (0.0, 0.0, 1.0))


class SwingView(Turning):
    """``angled`` says the articulation under the hand, ``let_go`` where it ended."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "swing view")
        self.setAccessibleName("Trailer swinging about the ball; drag it round")
        self.fixed: list[tuple[str, Manifold]] = []
        self.trailer: list[Body] = []
        self.ball: Vec = (0.0, 0.0, 0.0)
        self.pitch = self.roll = 0.0
        self.touches: list[Touch] = []

    def show_swing(
        self,
        fixed: list[tuple[str, Manifold]],
        trailer: list[Body],
        ball: Vec,
        angle: float,
        pitch: float,
        roll: float,
        touches: list[Touch],
    ) -> None:
        """Another state."""
        self.fixed, self.trailer, self.ball, self.pitch, self.roll, self.touches = (
            fixed,
            trailer,
            ball,
            pitch,
            roll,
            touches,
        )
        if not self._held:
            self.angle = angle
        self.update()

    def _place(self, beside: bool = False) -> None:
        """Scale and origin for the view from above, or for the one from the left below it."""
        px, x = self.theme.px, -self.ball[0]
        top = (self.height() - px(50)) * 0.66
        if beside:
            self.fit(
                (x - 1300, -1500),
                (x + 2300, 60),
                QRectF(px(14), px(34) + top, self.width() - px(28), self.height() - px(50) - top),
            )
        else:
            self.fit((x - 1300, -1700), (x + 2300, 1700), QRectF(px(14), px(28), self.width() - px(28), top))

    def _angle_at(self, pos: QPointF) -> float:
        x, y = self.back(pos)
        # on the drawing rearward is to the right and the left side is below
        return max(-110.0, min(110.0, math.degrees(math.atan2(y + self.ball[1], x + self.ball[0]))))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        self._held = True
        self.mouseMoveEvent(event)

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        self._place()
        pal, px = self.theme.palette, self.theme.px
        here = [
            (b.name, turned(solid_of(b), self.ball, self.angle, self.pitch, self.roll)) for b in self.trailer
        ]
        hit = {name for name, body in here for _, stay in self.fixed if (body ^ stay).volume() > 1.0}
        middle = (self.height() - px(50)) * 0.66 + px(31)
        for axes, beside in ((ABOVE, False), (BESIDE, True)):
            self._place(beside)
            p.setClipRect(
                QRectF(0, middle, self.width(), self.height() - middle)
                if beside
                else QRectF(0, 0, self.width(), middle)
            )
            for group, moving in ((self.fixed, False), (here, True)):
                for name, rings in hull_of(group, axes):
                    struck = name in hit
                    p.setPen(QPen(QColor(pal.brick if struck else pal.ink), px(2) if struck else 1.4))
                    p.setBrush(
                        QBrush(QColor(pal.brick), Qt.BrushStyle.BDiagPattern)
                        if struck
                        else QColor(pal.steel if moving else pal.well)
                    )
                    for ring in rings:
                        p.drawPolygon(self.polygon([(u, -v) for u, v in ring]))
            p.setPen(QPen(QColor(pal.touch), px(2)))
            p.setBrush(QColor(pal.card))
            p.drawEllipse(self.at(-self.ball[0], -self.ball[2 if beside else 1]), px(6), px(6))
            for touch in self.touches:
                spot = self.at(-touch.at[0], -touch.at[2 if beside else 1])
                p.setPen(QPen(QColor(pal.brick), px(2)))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawEllipse(spot, px(9), px(9))
                if not beside:
                    self.tag(
                        p,
                        spot + QPointF(0, -px(20) if touch.at[1] > 0 else px(20)),
                        f"touches at {touch.angle_deg:.0f}°",
                        QColor(pal.brick),
                        bold=True,
                    )
        p.setClipping(False)
        p.setPen(QPen(QColor(pal.line), 1))
        p.drawLine(QPointF(0, middle), QPointF(self.width(), middle))
        self._place()
        self.tag(p, QPointF(px(70), px(18)), "from above", QColor(pal.quiet))
        self.tag(p, QPointF(px(70), middle + px(14)), "from the left", QColor(pal.quiet))
        self.tag(
            p,
            QPointF(self.width() - px(90), px(18)),
            f"{abs(self.angle):.0f}° "
            f"{'left' if self.angle > 0 else 'right' if self.angle < 0 else 'straight'}",
            QColor(pal.touch),
            bold=True,
            size=15,
        )
