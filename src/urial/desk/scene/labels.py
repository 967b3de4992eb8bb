"""What is lettered over the scene: dimensions, marks of parts, its title, which sizes disagree; and the
flat drawing.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from urial import units
from urial.assembly import bodies
from urial.assembly.model import Assembly, Dimension
from urial.desk.scene import picture
from urial.desk.scene.canvas import polygon
from urial.desk.theme import font
from urial.job import origin
from urial.measure import drawing

if TYPE_CHECKING:
    from urial.desk.scene.view import Scene

TITLES = {"side": "Side, from the left", "rear": "Rear", "top": "Top", "turned": "Turned"}


def paint_refusal(scene: Scene, p: QPainter) -> None:
    """Which two sizes disagree, over the dimmed shape."""
    if not scene.store.refusal:
        return
    t = scene.theme
    p.setFont(font(t, 15, bold=True))
    room = QRectF(t.px(24), t.px(56), scene.width() - t.px(48), scene.height())
    flags = Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextWordWrap
    text = p.boundingRect(room, flags, scene.store.refusal)
    box = text.adjusted(-t.px(12), -t.px(8), t.px(12), t.px(8))
    p.fillRect(box, QColor(t.palette.card))
    p.setPen(QPen(t.tone(1.2), 2))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawRect(box)
    p.drawText(text, flags, scene.store.refusal)


def paint_flat(scene: Scene, p: QPainter) -> None:
    """Elevations by silhouettes, while VTK loads or where it cannot run."""
    pal = scene.theme.palette
    worst = scene.store.verdict.part_utilisation()
    right, up, _ = scene.camera.axes()
    middle = np.array([scene.camera.focus @ right, scene.camera.focus @ up])
    half = np.array(scene.camera.size) / 2

    def place(uv: np.ndarray) -> QPolygonF:
        xy = (uv - middle) * scene.camera.scale * [1, -1] + half
        return polygon(xy)

    for piece in bodies.elevation(scene.shown, scene.camera.view):  # type: ignore[arg-type]
        p.setPen(QPen(QColor(pal.ink), 1.2))
        used = worst.get(piece.mark, 0.0) if scene.show_paint else 0.0
        p.setBrush(
            QColor(pal.touch)
            if piece.mark == scene.store.chosen.part
            else QColor.fromRgbF(*scene.theme.ramp(used))
        )
        for ring in piece.polygons:
            p.drawPolygon(place(ring))


@dataclass(frozen=True)
class _Line:
    """A dimension laid out: the dimension line from a to b (pixels), and the lines that lead to it."""

    dimension: Dimension
    a: QPointF
    b: QPointF
    leads: tuple[tuple[QPointF, QPointF], ...]

    def spot(self, share: float) -> QPointF:
        """A place along the line."""
        return self.a + (self.b - self.a) * share

    @property
    def strip(self) -> QRectF:
        """The line as a thin box, which no other dimension's label may cover."""
        return QRectF(self.a, self.b).normalized().adjusted(-2, -2, 2, 2)


def paint_dimensions(scene: Scene, p: QPainter) -> list[tuple[QRectF, Dimension]]:
    """Sizes on the drawing, each in a box that can be typed over: the boxes and what they are."""
    if scene.camera.view == "turned" or scene.show_deflection:
        return []
    pal = scene.theme.palette
    lines = _laid_out(scene)
    for line in lines:
        p.setPen(QPen(QColor(pal.quiet), 1))
        for start, end in (*line.leads, (line.a, line.b)):
            p.drawLine(start, end)
        p.setPen(QPen(QColor(pal.ink), 1.6))
        for end in (line.a, line.b):
            p.drawLine(end + QPointF(-4, 4), end + QPointF(4, -4))
    labels: list[tuple[QRectF, Dimension]] = []
    for line in lines:
        box = _lettered(
            scene, p, line, [other.strip for other in lines if other is not line], [box for box, _ in labels]
        )
        if box is not None:
            labels.append((box, line.dimension))
    return labels


def paint_grip(scene: Scene, p: QPainter) -> None:
    """The end of a size that the hand would take hold of."""
    if scene.grip is None:
        return
    path, which = scene.grip
    d = next((d for _, d in scene._labels if d.path == path), None)
    if d is not None:
        at = QPointF(*(float(v) for v in scene.camera.project(np.array([getattr(d, which)]))[0]))
        p.setPen(QPen(QColor(scene.theme.palette.touch), scene.theme.px(2)))
        p.setBrush(QColor(scene.theme.palette.card))
        r = scene.theme.px(6)
        p.drawRect(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r))


def _laid_out(scene: Scene) -> list[_Line]:
    """Every dimension of the view on a lane of its own, outside the part or beside the place it measures."""
    view, px, job = scene.camera.view, scene.theme.px, scene.store.job
    corners = scene.camera.project(_dimensioned(scene, scene._mesh()))
    low, high = corners.min(axis=0), corners.max(axis=0)
    rows: dict[str, int] = {}
    every = drawing.dimensions(job) if scene.survey else scene.shown.dimensions
    shown = _once(scene, [d for d in every if view in d.views])
    below = sum(d.axis != "z" and d.side == "low" for d in shown)
    step = min(px(25), (scene.height() - px(38) - px(22) - float(high[1])) / max(below - 1, 1))
    out = []
    at = scene.camera.flat()
    for d in shown:
        a, b = QPointF(*at(d.a)), QPointF(*at(d.b))
        flat = abs(b.x() - a.x()) >= abs(b.y() - a.y())
        row = rows[f"{flat}{d.side}"] = rows.get(f"{flat}{d.side}", -1) + 1
        if flat:
            y = float(high[1]) + px(22) + step * row if d.side == "low" else float(low[1]) - px(20 + 25 * row)
            out.append(
                _Line(
                    d,
                    QPointF(a.x(), y),
                    QPointF(b.x(), y),
                    ((a, QPointF(a.x(), y + 4)), (b, QPointF(b.x(), y + 4))),
                )
            )
            continue
        if scene.survey:
            x = (
                min(a.x(), b.x()) - px(34 + 30 * row)
                if d.side == "low"
                else max(a.x(), b.x()) + px(34 + 30 * row)
            )
        else:
            x = float(low[0]) - px(26 + 34 * row) if d.side == "low" else float(high[0]) + px(30 + 34 * row)
        x = min(max(x, px(52)), scene.width() - px(52))
        out.append(
            _Line(d, QPointF(x, a.y()), QPointF(x, b.y()), ((a, QPointF(x, a.y())), (b, QPointF(x, b.y()))))
        )
    return out


ALONG = (0.5, 0.38, 0.62, 0.26, 0.74, 0.14, 0.86)
"""Where along its line a label is tried, as shares."""


def _lettered(
    scene: Scene, p: QPainter, line: _Line, lines: list[QRectF], boxes: list[QRectF]
) -> QRectF | None:
    """A dimension's figure on its line, where it covers no other figure and no other line; None when it is
    out of the picture.
    """
    pal, px, job, d = scene.theme.palette, scene.theme.px, scene.store.job, line.dimension
    size = abs({"x": d.b[0] - d.a[0], "y": d.b[1] - d.a[1], "z": d.b[2] - d.a[2]}[d.axis])
    guessed = origin.is_assumed(job, d.path)
    text = ("≈ " if guessed else "") + units.show(size, "length", job.units, job.nearest)
    p.setFont(font(scene.theme, 13, bold=True))
    box = QRectF(0, 0, p.fontMetrics().horizontalAdvance(text) + px(12), px(21))
    for taken in ([*lines, *boxes], boxes):
        spot = next(
            (share for share in ALONG if not any(_moved(box, line.spot(share)).intersects(t) for t in taken)),
            None,
        )
        if spot is not None:
            break
    box.moveCenter(line.spot(spot if spot is not None else 0.5))
    if spot is None:
        _step_aside(box, boxes, px(3))
    if scene.survey and not QRectF(scene.rect()).contains(box):
        return None
    p.setPen(QPen(QColor(pal.touch), 2) if scene._hover == d.path else Qt.PenStyle.NoPen)
    p.setBrush(QColor(pal.card))
    p.drawRect(box)
    p.setPen(QColor(pal.ochre if guessed else pal.touch))
    p.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
    return box


def _moved(box: QRectF, middle: QPointF) -> QRectF:
    out = QRectF(box)
    out.moveCenter(middle)
    return out


def _once(scene: Scene, dimensions: list[Dimension]) -> list[Dimension]:
    """Like pieces one behind the other show the same size in the same place: it is drawn once, for the
    first of them.
    """
    drawn: dict[tuple[object, ...], Dimension] = {}
    at = scene.camera.flat()
    for d in dimensions:
        ends = (round(xy) for end in (d.a, d.b) for xy in at(end))
        drawn.setdefault((d.name, d.axis, d.side, *ends), d)
    return list(drawn.values())


def _step_aside(box: QRectF, others: list[QRectF], gap: float) -> None:
    """Move a box down its line until it covers no other."""
    for _ in others:
        hit = next((o for o in others if o.intersects(box)), None)
        if hit is None:
            return
        box.moveTop(hit.bottom() + gap)


def _dimensioned(scene: Scene, mesh: bodies.Mesh) -> np.ndarray:
    """What dimension lines keep clear of: the part, or while surveying the places that are dimensioned."""
    if scene.survey or not mesh.points.size:
        ends = [
            end
            for d in drawing.dimensions(scene.store.job)
            if scene.camera.view in d.views and d.axis != "z"
            for end in (d.a, d.b)
        ]
        if not mesh.points.size and ends:
            return np.array(ends)
    return mesh.points if mesh.points.size else np.zeros((1, 3))


def paint_marks(scene: Scene, p: QPainter) -> None:
    """The parts list's marks on the parts."""
    pal, px = scene.theme.palette, scene.theme.px
    p.setFont(font(scene.theme, 13, bold=True, mono=True))
    taken: list[QRectF] = []
    said: set[str] = set()
    for part in scene.shown.parts:
        if part.mark in said:
            continue
        said.add(part.mark)
        box = np.array(bodies.corners(part))
        x, y = scene.camera.project(box.mean(axis=0)[None])[0]
        label = QRectF(0, 0, max(p.fontMetrics().horizontalAdvance(part.mark) + px(10), px(22)), px(22))
        label.moveCenter(QPointF(float(x), float(y)))
        for _ in range(12):  # step aside until nothing is covered
            hit = next((t for t in taken if t.intersects(label)), None)
            if hit is None:
                break
            label.moveLeft(hit.right() + 2)
        taken.append(label)
        p.setPen(QPen(QColor(pal.ink), 1.2))
        p.setBrush(QColor(pal.card))
        p.drawRoundedRect(label, px(11), px(11))
        p.drawText(label, Qt.AlignmentFlag.AlignCenter, part.mark)


def paint_ghost(scene: Scene, p: QPainter, ghost: Assembly) -> None:
    """Another version's edges over the part."""
    made = bodies.picture(ghost)
    flat = scene.camera.project(made.points)
    ends = flat[made.edges].reshape(-1, 4)
    p.setPen(QPen(QColor(scene.theme.palette.ochre), 1.2, Qt.PenStyle.DashLine))
    p.drawLines([QLineF(*row) for row in ends.tolist()])


def _shown(scene: Scene) -> str:
    swing = None if scene.show_deflection else scene.store.shown_swing()
    return swing.id if swing else scene.store.verdict.cases[scene._case_number()].title


def paint_title(scene: Scene, p: QPainter) -> None:
    t = scene.theme
    p.setPen(QColor(t.palette.quiet))
    p.setFont(font(t, 12))
    cases = scene.store.verdict.cases
    ratio = 25.4 / scene.logicalDpiX() / (1 / scene.camera.scale)
    scale = f"1 : {units.figure(1 / ratio, 1)}" if ratio > 0 else ""
    text = (
        f"{TITLES[scene.camera.view]} · {scale}"
        + (
            " · ≈ assumed, nobody measured it"
            if any(origin.is_assumed(scene.store.job, d.path) for _, d in scene._labels)
            else ""
        )
        + (f" · load shown: {_shown(scene)}" if cases and (scene.arrows or scene.show_deflection) else "")
    )
    if scene.show_deflection and cases and scene.store.verdict.forces is not None:
        text += f" · bending × {picture.exaggeration(scene.store.verdict, scene._case_number()):.0f}"
    back = QColor(t.palette.card)
    back.setAlpha(225)
    p.fillRect(
        QRectF(
            t.px(10), scene.height() - t.px(25), p.fontMetrics().horizontalAdvance(text) + t.px(8), t.px(21)
        ),
        back,
    )
    p.drawText(QPointF(t.px(14), scene.height() - t.px(10)), text)
    if scene._hover:
        hovered = next((d.name for _, d in scene._labels if d.path == scene._hover), None)
        if hovered:
            p.setPen(QColor(t.palette.touch))
            p.drawText(QPointF(t.px(14), t.px(22)), f"{hovered}: click to type")
