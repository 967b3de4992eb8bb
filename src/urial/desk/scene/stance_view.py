"""How the vehicle stands: its silhouette sunk by what it carries, ball and coupler heights, departure and
breakover lines.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen

from urial.assembly import bodies
from urial.assembly.model import Assembly
from urial.desk.scene.canvas import Canvas, silhouette
from urial.desk.scene.host import TONES, TUBE_MM, between
from urial.desk.theme import Theme
from urial.job.model import Job
from urial.measure import drawing
from urial.road.stance import Stance


class StanceView(Canvas):
    """``show_stance`` draws the vehicle from the left, rear to the right, loaded; the empty ball's place
    dotted.
    """

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "stance view")
        self.setAccessibleName("The vehicle as it stands loaded, from the left")
        self.job: Job | None = None
        self.assembly = Assembly()
        self.stance: Stance | None = None
        self.length: Callable[[float], str] = lambda mm: f"{mm:.0f} mm"
        self.mass: Callable[[float], str] = lambda kg: f"{kg:.0f} kg"

    def show_stance(self, job: Job, assembly: Assembly, stance: Stance) -> None:
        """The job, its part and how it stands."""
        self.job, self.assembly, self.stance = job, assembly, stance
        self.update()

    def _sunk(self, xyz: np.ndarray) -> np.ndarray:
        """Points of the vehicle as they stand: turned about the front axle's ground so that the ball sinks
        by the squat.
        """
        assert self.job is not None and self.stance is not None
        front = float(getattr(self.job.vehicle, "wheelbase_mm", 3000.0))
        ball = self.assembly.places.get("ball") or self.assembly.places["mouth"]
        pitch = self.stance.squat_mm / max(front - ball[0], 1.0)
        p = np.asarray(xyz, dtype=float)
        return np.stack([-p[:, 0], -(p[:, 2] - pitch * (front - p[:, 0]))], axis=1)

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        job, s = self.job, self.stance
        if job is None or s is None:
            return
        px, pal = self.theme.px, self.theme.palette
        front, r = (
            float(getattr(job.vehicle, "wheelbase_mm", 3000.0)),
            float(getattr(job.vehicle, "tyre_mm", 700.0)) / 2,
        )
        ball = self.assembly.places.get("ball") or self.assembly.places["mouth"]
        patches = drawing.silhouette(job.vehicle)
        every = np.concatenate([f for q in patches for f in q.faces])
        far = -ball[0] + 900
        self.fit(
            (float(-every[:, 0].max()) - 100, float(-every[:, 2].max()) - 250),
            (far, 420),
            QRectF(px(20), px(30), self.width() - px(40), self.height() - px(60)),
        )
        ground = self.at(0, 0).y()
        p.fillRect(QRectF(0, ground, self.width(), self.height() - ground), QColor(pal.well))
        p.setPen(QPen(QColor(pal.line), 2))
        p.drawLine(QPointF(0, ground), QPointF(self.width(), ground))
        self._silhouette(p, patches)
        p.setPen(QPen(QColor(pal.ink), 1))
        p.setBrush(QColor(pal.steel))
        for piece in bodies.elevation(self.assembly, "side"):
            for ring in piece.polygons:  # seen from the left: u is −x, v is z
                p.drawPolygon(
                    self.polygon(self._sunk(np.column_stack([-ring[:, 0], np.zeros(len(ring)), ring[:, 1]])))
                )
        self._angles(p, s, r, -ball[0])
        for x, kg, change in (
            (-front, s.front_kg, f" ({s.front_change_percent:+.0f} %)"),
            (0.0, s.rear_kg, ""),
        ):
            self.tag(p, self.at(x, 0) + QPointF(0, px(20)), f"{self.mass(kg)}{change}", bold=True, size=14)
        self._heights(p, s, ball)

    def _silhouette(self, p: QPainter, patches: tuple[drawing.Patch, ...]) -> None:
        pal = self.theme.palette
        for patch in patches:
            tone = between(pal.card, pal.line, TONES[patch.group])
            p.setPen(
                QPen(tone, max(TUBE_MM * self.scale, 1.5), Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap)
                if patch.bar
                else Qt.PenStyle.NoPen
            )
            p.setBrush(Qt.BrushStyle.NoBrush if patch.bar else tone)
            wheels = patch.group in ("tyres", "rims")
            flat = [np.stack([-f[:, 0], -f[:, 2]], axis=1) if wheels else self._sunk(f) for f in patch.faces]
            if patch.bar:
                p.drawPolyline(self.polygon(flat[0]))
            else:
                p.drawPath(silhouette(patch, [self.pixels(f) for f in flat]))

    def _angles(self, p: QPainter, s: Stance, r: float, overhang: float) -> None:
        """Departure: the line from the rear tyre that just passes under the part; breakover in words
        beside it.
        """
        px, pal = self.theme.px, self.theme.palette
        steep = math.radians(min(s.departure_deg, 80.0))
        touch = (r * math.sin(steep), -r * (1 - math.cos(steep)))
        size = overhang * 1.25
        p.setPen(QPen(QColor(pal.touch), 2, Qt.PenStyle.DashLine))
        p.drawLine(
            self.at(*touch), self.at(touch[0] + size * math.cos(steep), touch[1] - size * math.sin(steep))
        )
        self.tag(
            p,
            self.at(overhang * 1.1 + 260, -0.5 * overhang * math.tan(steep)),
            f"departure {s.departure_deg:.0f}°",
            QColor(pal.touch),
            bold=True,
            size=14,
        )
        self.tag(
            p,
            self.at(overhang + 300, 0) + QPointF(0, px(20)),
            f"breakover {s.breakover_deg:.0f}°",
            QColor(pal.touch),
            bold=True,
            size=14,
        )

    def _heights(self, p: QPainter, s: Stance, ball: tuple[float, float, float]) -> None:
        px, pal = self.theme.px, self.theme.palette
        assert self.job is not None
        x = -ball[0] + 330
        rows = [(s.ball_loaded_mm, f"ball, loaded {self.length(s.ball_loaded_mm)}", pal.ink)]
        if self.job.duty.towed:
            off = abs(s.drop_change_mm) >= 15
            rows.append(
                (
                    self.job.duty.coupler_height_mm,
                    f"coupler, level {self.length(self.job.duty.coupler_height_mm)}",
                    pal.brick if off else pal.slate,
                )
            )
        rows.sort(key=lambda row: -row[0])
        for n, (z, words, colour) in enumerate(rows):
            y = self.at(0, -z).y()
            p.setPen(QPen(QColor(colour), 2, Qt.PenStyle.DotLine))
            p.drawLine(QPointF(self.at(-ball[0] - 60, 0).x(), y), QPointF(self.at(x, 0).x(), y))
            self.tag(
                p,
                QPointF(self.at(x + 150, 0).x(), y + px(9) * (-1 if n == 0 else 1)),
                words,
                QColor(colour),
                bold=True,
                size=13,
            )
        if s.squat_mm >= 1:
            self.tag(
                p,
                QPointF(self.width() / 2, px(30)),
                f"sinks {self.length(s.squat_mm)} at the ball",
                bold=True,
                size=15,
            )
