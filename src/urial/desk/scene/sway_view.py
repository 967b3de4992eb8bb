"""Damping against speed, and the rig from above after a steering jerk."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, QTimer
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF

from urial import units
from urial.desk.scene.canvas import Canvas
from urial.desk.theme import Theme, font
from urial.road.sway import Rig, Track

FRAME = 33  # ms


class SwayView(Canvas):
    """``show_sway`` gives the curves, ``play`` runs the jerk in its own time."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "sway view")
        self.setAccessibleName("Damping of sway against speed, and the rig from above")
        self.speeds: list[float] = []
        self.curves: list[tuple[str, list[float | None], str]] = []
        self.marks: list[tuple[float, str]] = []
        self.speed = 90.0
        self.system: units.System = "metric"
        self.rig: Rig | None = None
        self.track: Track | None = None
        self.time = 0.0
        self.timer = QTimer(self)
        self.timer.setInterval(FRAME)
        self.timer.timeout.connect(self._step)

    def show_sway(
        self,
        speeds: list[float],
        curves: Sequence[tuple[str, Sequence[float | None], str]],
        marks: list[tuple[float, str]],
        speed: float,
        system: units.System,
    ) -> None:
        """Curves by name, values and colour role; marked speeds; the speed asked about; all in km/h, lettered
        in the ``system``'s.
        """
        self.system = system
        self.speeds, self.curves, self.marks, self.speed = (
            speeds,
            [(n, list(v), c) for n, v, c in curves],
            marks,
            speed,
        )
        self.update()

    def play(self, rig: Rig, track: Track) -> None:
        """Run a jerk."""
        self.rig, self.track, self.time = rig, track, 0.0
        self.timer.start()
        self.update()

    def stop(self) -> None:
        """Stand still."""
        self.timer.stop()

    def _step(self) -> None:
        self.time += FRAME / 1000
        if self.track is None or self.time >= self.track.time[-1]:
            self.timer.stop()
        self.update()

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        px = self.theme.px
        plot = QRectF(px(64), px(30), self.width() - px(90), self.height() * 0.5 - px(60))
        self._plot(p, plot)
        road = QRectF(
            px(10), self.height() * 0.5 + px(6), self.width() - px(20), self.height() * 0.5 - px(16)
        )
        self._road(p, road)

    def _plot(self, p: QPainter, box: QRectF) -> None:
        pal, px = self.theme.palette, self.theme.px
        low, high = -0.1, 0.6
        fastest = max(self.speeds, default=150.0)

        def at(kmh: float, ratio: float) -> QPointF:
            return QPointF(
                box.left() + box.width() * kmh / fastest,
                box.bottom() - box.height() * (min(max(ratio, low), high) - low) / (high - low),
            )

        p.fillRect(
            QRectF(at(0, 0.1).x(), at(0, 0.1).y(), box.width(), at(0, 0).y() - at(0, 0.1).y()),
            QColor.fromRgbF(*self.theme.ramp(0.85)),
        )
        p.fillRect(
            QRectF(at(0, 0).x(), at(0, 0).y(), box.width(), at(0, low).y() - at(0, 0).y()),
            QColor.fromRgbF(*self.theme.ramp(1.05)),
        )
        p.setFont(font(self.theme, 11, mono=True))
        for tick in (0.0, 0.1, 0.2, 0.4, 0.6):
            p.setPen(QPen(QColor(pal.line), 1))
            p.drawLine(at(0, tick), at(fastest, tick))
            p.setPen(QColor(pal.quiet))
            p.drawText(
                QRectF(0, at(0, tick).y() - px(8), box.left() - px(6), px(16)),
                Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
                f"{100 * tick:.0f} %",
            )
        step = units.parse("20", "speed", self.system)
        for n in range(int(fastest / step) + 1):
            kmh = step * n
            p.setPen(QColor(pal.quiet))
            p.drawText(
                QRectF(at(kmh, low).x() - 24, box.bottom() + 2, 48, px(16)),
                Qt.AlignmentFlag.AlignHCenter,
                str(20 * n),
            )
        for _, values, role in self.curves:
            line = QPolygonF([at(s, v) for s, v in zip(self.speeds, values, strict=True) if v is not None])
            p.setPen(
                QPen(
                    QColor(getattr(pal, role)),
                    px(2.5),
                    Qt.PenStyle.SolidLine if role == "ink" else Qt.PenStyle.DashLine,
                )
            )
            p.drawPolyline(line)
        for n, (name, _, role) in enumerate(self.curves):
            at_left = QPointF(box.left() + px(68), box.top() + px(10) + px(20) * n)
            self.tag(p, at_left, name, QColor(getattr(pal, role)), bold=True)
        for speed, words in self.marks:
            p.setPen(QPen(QColor(pal.brick), px(1.5), Qt.PenStyle.DashLine))
            p.drawLine(at(speed, low), at(speed, high))
            self.tag(p, at(speed, high) + QPointF(0, px(12)), words, QColor(pal.brick), bold=True)
        p.setPen(QPen(QColor(pal.touch), px(2)))
        p.drawLine(at(self.speed, low), at(self.speed, high))
        self.tag(
            p,
            QPointF(box.center().x(), px(14)),
            f"how fast sway dies out: damping against speed, {'mph' if self.system == 'inch' else 'km/h'}",
            QColor(pal.quiet),
        )

    def _road(self, p: QPainter, box: QRectF) -> None:
        pal, px = self.theme.palette, self.theme.px
        p.fillRect(box, QColor(pal.well))
        if self.track is None or self.rig is None:
            self.tag(p, box.center(), "Play the jerk to see it from above", QColor(pal.quiet))
            return
        k = min(int(np.searchsorted(self.track.time, self.time)), len(self.track.time) - 1)
        x0, y0, heading = (float(v) for v in self.track.pose[k])
        trailer = heading + float(self.track.states[k, 2])
        scale = box.width() / 26.0  # metres across
        middle = QPointF(box.left() + box.width() * 0.36, box.center().y())

        def at(x: float, y: float) -> QPointF:  # the picture rides along with the rig; forward is to the left
            return QPointF(middle.x() - (x - x0) * scale, middle.y() + (y - 0.0) * scale)

        p.setClipRect(box)
        p.setPen(QPen(QColor(pal.line), px(3), Qt.PenStyle.DashLine))
        for lane in (-1.75, 1.75):
            start = math.floor((x0 - 20) / 6) * 6
            for n in range(8):
                p.drawLine(at(start + 6 * n, lane), at(start + 6 * n + 3, lane))
        path = self.track.pose[: k + 1]
        p.setPen(QPen(QColor(pal.touch), 1))
        p.drawPolyline(QPolygonF([at(float(a), float(b)) for a, b, _ in path[-200:]]))
        r = self.rig
        hitch = (x0 - r.h * math.cos(heading), y0 - r.h * math.sin(heading))

        def body(cx: float, cy: float, angle: float, front: float, back: float, half: float) -> QPolygonF:
            c, s = math.cos(angle), math.sin(angle)
            return QPolygonF(
                [
                    at(cx + a * c - b * s, cy + a * s + b * c)
                    for a, b in ((front, -half), (front, half), (back, half), (back, -half))
                ]
            )

        p.setPen(QPen(QColor(pal.ink), px(2)))
        p.setBrush(QColor(pal.steel))
        p.drawPolygon(body(x0, y0, heading, r.a + 0.8, -r.b - 1.0, 0.9))
        p.drawPolygon(body(*hitch, trailer, -1.1, -r.l - 1.2, 0.9))
        p.drawLine(at(*hitch), at(hitch[0] - 1.1 * math.cos(trailer), hitch[1] - 1.1 * math.sin(trailer)))
        p.setBrush(QColor(pal.touch))
        p.drawEllipse(at(*hitch), px(4), px(4))
        phi = math.degrees(float(self.track.states[k, 2]))
        self.tag(
            p,
            QPointF(box.right() - px(110), box.top() + px(16)),
            f"{units.figure(self.time, 1):>4} s   trailer {units.figure(phi, 1, True):>5}°",
            mono=True,
        )
