"""What the drawn pages of Load share: a painter's card, a scale that fits, tags and hands."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import QByteArray, QDataStream, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPainterPath, QPen, QPolygonF
from PySide6.QtWidgets import QWidget

from urial.desk.theme import Theme, font
from urial.geometry.solids import hull
from urial.measure.drawing import Patch, swept, turned


def lettered(p: QPainter, theme: Theme, box: QRectF, text: str, colour: QColor) -> None:
    """Words in a box, the card's colour behind them so that lines do not run through; in the painter's
    font.
    """
    paper = QColor(theme.palette.card)
    paper.setAlpha(225)
    p.fillRect(box, paper)
    p.setPen(colour)
    p.drawText(box, Qt.AlignmentFlag.AlignCenter, text)


def polygon(xy: np.ndarray) -> QPolygonF:
    """Pixels (n, 2) as a polygon: read from bytes, which is four times as quick as point by point."""
    out = QPolygonF()
    QDataStream(QByteArray(len(xy).to_bytes(4, "big") + xy.astype(">f8").tobytes())) >> out
    return out


_ELEMENT = np.dtype([("kind", ">i4"), ("x", ">f8"), ("y", ">f8")])


def filled(rings: Sequence[np.ndarray]) -> QPainterPath:
    """Rings (n, 2) in pixels as one path, filled wherever one of them goes round; read from bytes at once."""
    every = np.concatenate([part for ring in rings for part in (ring, ring[:1])])
    rows = np.zeros(len(every), _ELEMENT)
    rows["kind"], rows["x"], rows["y"] = 1, every[:, 0], every[:, 1]  # lines,
    starts = np.cumsum([0, *(len(ring) + 1 for ring in rings[:-1])])
    rows["kind"][starts] = 0  # but for each ring's first place
    count, last, winding = (int(n).to_bytes(4, "big") for n in (len(rows), starts[-1], 1))
    path = QPainterPath()
    QDataStream(QByteArray(count + rows.tobytes() + last + winding)) >> path
    return path


def seen_of(patch: Patch, faces: Sequence[np.ndarray]) -> list[np.ndarray]:
    """What is seen of a patch whose faces (n, 2) lie in pixels: rings that all run the same way about."""
    if patch.hull:
        faces = [hull(np.concatenate(faces))]
    elif patch.swept:
        faces = swept(*faces)
    return [face if turned(face) > 0 else face[::-1] for face in faces]


def silhouette(patch: Patch, faces: Sequence[np.ndarray]) -> QPainterPath:
    """The same as one filled shape."""
    return filled(seen_of(patch, faces))


class Canvas(QWidget):
    """A drawing to scale: ``fit`` sets pixels per mm and where the world's origin is."""

    def __init__(self, theme: Theme, name: str) -> None:
        super().__init__()
        self.theme = theme
        self.setObjectName(name)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.scale, self.origin = 0.1, QPointF(0, 0)

    def fit(self, low: tuple[float, float], high: tuple[float, float], box: QRectF) -> None:
        """Show the world from ``low`` to ``high`` (x right, y down, mm) inside a box of pixels."""
        self.scale = min(box.width() / max(high[0] - low[0], 1.0), box.height() / max(high[1] - low[1], 1.0))
        self.origin = QPointF(
            box.center().x() - (low[0] + high[0]) / 2 * self.scale,
            box.center().y() - (low[1] + high[1]) / 2 * self.scale,
        )

    def at(self, x: float, y: float) -> QPointF:
        """A place of the world on the widget."""
        return QPointF(self.origin.x() + x * self.scale, self.origin.y() + y * self.scale)

    def back(self, pos: QPointF) -> tuple[float, float]:
        """A place of the widget in the world, mm."""
        return (pos.x() - self.origin.x()) / self.scale, (pos.y() - self.origin.y()) / self.scale

    def polygon(self, points: Sequence[Sequence[float]] | np.ndarray) -> QPolygonF:
        """Points of the world as a polygon."""
        return polygon(self.pixels(points))

    def pixels(self, points: Sequence[Sequence[float]] | np.ndarray) -> np.ndarray:
        """Points of the world (n, 2) on the widget."""
        origin = np.array([self.origin.x(), self.origin.y()])
        at: np.ndarray = np.asarray(points, dtype=float) * self.scale + origin
        return at

    def begin(self) -> QPainter:
        """A painter on a clean card."""
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.fillRect(self.rect(), QColor(self.theme.palette.card))
        p.setPen(QPen(QColor(self.theme.palette.line), 1))
        p.drawRect(self.rect().adjusted(0, 0, -1, -1))
        return p

    def tag(
        self,
        p: QPainter,
        at: QPointF,
        text: str,
        colour: QColor | None = None,
        bold: bool = False,
        mono: bool = False,
        size: float = 12,
    ) -> QRectF:
        """Words centred on a place, with the card behind them."""
        p.setFont(font(self.theme, size, bold=bold, mono=mono))
        wide, high = p.fontMetrics().horizontalAdvance(text) + self.theme.px(8), p.fontMetrics().height() + 2
        box = QRectF(min(max(at.x() - wide / 2, 3), self.width() - wide - 3), at.y() - high / 2, wide, high)
        lettered(p, self.theme, box, text, colour or QColor(self.theme.palette.ink))
        return box

    def arrow(self, p: QPainter, start: QPointF, stop: QPointF, colour: QColor) -> None:
        """An arrow from start to stop."""
        run = stop - start
        size = float(np.hypot(run.x(), run.y()))
        if size < 1:
            return
        way = run / size
        side = QPointF(-way.y(), way.x())
        head = self.theme.px(7)
        p.setPen(QPen(colour, self.theme.px(3)))
        p.drawLine(start, stop - way * head)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(colour)
        p.drawPolygon(
            QPolygonF([stop, stop - way * head * 1.7 + side * head, stop - way * head * 1.7 - side * head])
        )


class Turning(Canvas):
    """A drawing in which something is dragged round: ``angled`` says the angle meanwhile, ``let_go`` where it
    ended.
    """

    angled = Signal(float)
    let_go = Signal(float)
    places = 1
    """Decimals of an angle that is dragged."""

    def __init__(self, theme: Theme, name: str) -> None:
        super().__init__(theme, name)
        self.angle = 0.0
        self._held = False

    def _place(self) -> None:
        """Set the scale."""
        raise NotImplementedError

    def _angle_at(self, pos: QPointF) -> float:
        """The angle that a pointer there means, degrees."""
        raise NotImplementedError

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held:
            self._place()
            self.angle = round(self._angle_at(event.position()), self.places)
            self.angled.emit(self.angle)
            self.update()

    def mouseReleaseEvent(self, _: QMouseEvent) -> None:
        if self._held:
            self._held = False
            self.let_go.emit(self.angle)
