"""What stands where in a weighing: jack on a scale, beam on a support and a scale, or axle by axle on the
bridge.
"""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen

from urial.desk.scene.canvas import Canvas
from urial.desk.theme import Theme
from urial.job.duty import Weighing

DRAWN = {"jack_behind_mm": 400.0, "axle_mm": 3300.0, "coupler_mm": 300.0, "scale_mm": 900.0}
"""Where things are drawn while their own figure is not written yet, mm."""


class WeighView(Canvas):
    """``show_weighing`` draws one, from the side, to scale; what is not filled in yet has a question mark."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "weigh view")
        self.setAccessibleName("The weighing from the side: supports, scale and distances")
        self.weighing: Weighing | None = None
        self.length: Callable[[float], str] = lambda mm: f"{mm:.0f} mm"
        self.mass: Callable[[float], str] = lambda kg: f"{kg:.0f} kg"
        self.found = ""

    def show_weighing(self, weighing: Weighing | None, found: str) -> None:
        """The newest weighing and what it comes to."""
        self.weighing, self.found = weighing, found
        self.update()

    def _mm(self, name: str) -> float:
        value = getattr(self.weighing, name)
        return DRAWN[name] if value is None else float(value)

    def _said(self, name: str) -> str:
        value = getattr(self.weighing, name)
        return "?" if value is None else (self.mass if name.endswith("_kg") else self.length)(float(value))

    def paintEvent(self, _: QPaintEvent) -> None:
        p = self.begin()
        if self.weighing is None:
            self.tag(
                p,
                QPointF(self.width() / 2, self.height() / 2),
                "Add a weighing: the picture shows what stands where.",
                size=15,
            )
            return
        {"jack": self._jack, "beam": self._beam, "bridge": self._bridge}[self.weighing.method](p)
        if self.found:
            self.tag(p, QPointF(self.width() / 2, self.theme.px(34)), self.found, bold=True, size=16)

    # ---- pieces

    def _room(self, low: tuple[float, float], high: tuple[float, float]) -> None:
        px = self.theme.px
        self.fit(low, high, QRectF(px(50), px(70), self.width() - px(100), self.height() - px(150)))

    def _ground(self, p: QPainter) -> None:
        y = self.at(0, 0).y()
        p.fillRect(QRectF(0, y, self.width(), self.height() - y), QColor(self.theme.palette.well))
        p.setPen(QPen(QColor(self.theme.palette.line), 2))
        p.drawLine(QPointF(0, y), QPointF(self.width(), y))

    def _body(self, p: QPainter, x0: float, x1: float, y0: float, y1: float, role: str) -> None:
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(QColor(getattr(self.theme.palette, role)))
        p.drawRect(QRectF(self.at(x0, y0), self.at(x1, y1)).normalized())

    def _wheel(self, p: QPainter, x: float, r: float) -> None:
        p.setPen(Qt.PenStyle.NoPen)
        for share, role in ((1.0, "line"), (0.55, "well")):
            p.setBrush(QColor(getattr(self.theme.palette, role)))
            p.drawEllipse(self.at(x, -r), r * share * self.scale, r * share * self.scale)

    def _scale(self, p: QPainter, x: float, reading: str, size: float = 150.0) -> None:
        self._body(p, x - size, x + size, 0, -50, "touch")
        self.tag(
            p,
            self.at(x, 0) + QPointF(0, self.theme.px(20)),
            reading,
            QColor(self.theme.palette.touch),
            bold=True,
            size=15,
        )

    def _size(self, p: QPainter, x0: float, x1: float, row: int, text: str) -> None:
        y = self.at(0, 0).y() + self.theme.px(54 + 26 * row)
        p.setPen(QPen(QColor(self.theme.palette.quiet), 1))
        a, b = QPointF(self.at(x0, 0).x(), y), QPointF(self.at(x1, 0).x(), y)
        p.drawLine(a, b)
        for end in (a, b):
            p.drawLine(end + QPointF(-4, 4), end + QPointF(4, -4))
        self.tag(p, (a + b) / 2, text, QColor(self.theme.palette.ink), bold=True, size=13)

    # ---- the three ways; x right is towards the trailer's rear, y down, ground at 0

    def _jack(self, p: QPainter) -> None:
        jack, axle = self._mm("jack_behind_mm"), self._mm("axle_mm")
        self._room((-250, -1000), (axle + 900, 60))
        self._ground(p)
        self._body(p, 0, 1100, -470, -400, "line")
        self._body(p, 1100, axle + 800, -560, -400, "line")
        self._wheel(p, axle, 310)
        self._body(p, jack - 22, jack + 22, -470, -50, "slate")
        self._scale(p, jack, f"scale reads {self._said('reading_kg')}")
        self._size(p, 0, axle, 1, f"coupling to axles {self._said('axle_mm')}")
        if jack > 1:
            self._size(p, 0, jack, 0, f"jack {self._said('jack_behind_mm')}")
        self.tag(p, self.at(0, -470) + QPointF(0, -self.theme.px(16)), "coupling")

    def _beam(self, p: QPainter) -> None:
        coupler, scale = self._mm("coupler_mm"), self._mm("scale_mm")
        self._room((-250, -520), (scale + 350, 40))
        self._ground(p)
        self._body(p, -60, 60, -180, 0, "slate")
        self._scale(p, scale, f"scale reads {self._said('reading_kg')}", 110)
        self._body(p, scale - 40, scale + 40, -180, -50, "slate")
        self._body(p, -120, scale + 120, -230, -180, "steel")
        self._body(p, coupler - 34, coupler + 34, -330, -230, "ink")
        self.arrow(p, self.at(coupler, -480), self.at(coupler, -335), QColor(self.theme.palette.touch))
        self.tag(p, self.at(coupler, -480) + QPointF(0, -self.theme.px(14)), "tongue")
        self.tag(p, self.at(0, -90) + QPointF(-self.theme.px(60), 0), "fixed support")
        self._size(p, 0, coupler, 0, f"to the coupler {self._said('coupler_mm')}")
        self._size(p, 0, scale, 1, f"to the scale {self._said('scale_mm')}")

    def _bridge(self, p: QPainter) -> None:
        rows = (
            ("alone", (("alone_front_kg", 0.0), ("alone_rear_kg", 3000.0))),
            (
                "hitched",
                (("hitched_front_kg", 0.0), ("hitched_rear_kg", 3000.0), ("trailer_axles_kg", 7200.0)),
            ),
        )
        self._room((-1100, -4300), (9000, 300))
        for n, (words, axles) in enumerate(rows):
            up = -2500.0 * (1 - n)
            y = self.at(0, up).y()
            p.setPen(QPen(QColor(self.theme.palette.line), 2))
            p.drawLine(QPointF(0, y), QPointF(self.width(), y))
            self._body(p, -800, 3900, up - 1250, up - 350, "line")
            if n:
                self._body(p, 4500, 8600, up - 900, up - 450, "line")
                self._body(p, 3900, 4500, up - 560, up - 480, "line")
            for name, x in axles:
                p.setBrush(QColor(self.theme.palette.steel))
                p.setPen(Qt.PenStyle.NoPen)
                p.drawEllipse(self.at(x, up - 350), 350 * self.scale, 350 * self.scale)
                self.tag(
                    p,
                    self.at(x, up) + QPointF(0, self.theme.px(16)),
                    self._said(name),
                    QColor(self.theme.palette.touch),
                    bold=True,
                    size=14,
                )
            self.tag(p, self.at(1500, up - 800), words, bold=True, size=14)
