"""The host on the scene: its outline to scale, keep-outs hatched, and everything the survey knows of
places.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen, QPolygonF

from urial.desk.scene.camera import Camera
from urial.desk.scene.canvas import lettered
from urial.desk.theme import Theme, blend, font
from urial.geometry.outline import convex_hull
from urial.geometry.place import Vec
from urial.job import datum
from urial.job.model import Job
from urial.measure import agree, drawing, keepout
from urial.measure.places import fixes, hard_points, where
from urial.measure.sheet import boxes

Array = NDArray[np.float64]
ENLARGED = 10.0  # a tape's uncertainty is millimetres: its ellipsoid is drawn ten times as large, and says so


TONES = {"body": 0.42, "glass": 0.12, "bars": 0.75, "rails": 0.95, "bumper": 0.7, "tyres": 0.8, "rims": 0.45}
"""How far each piece of a host is from the paper towards its line colour."""
TUBE_MM = 34.0


def _triple(v: np.ndarray) -> tuple[float, float, float]:
    return float(v[0]), float(v[1]), float(v[2])


def _between(a: str, b: str, share: float) -> QColor:
    return QColor.fromRgbF(*blend(a, b, share))


def paint_outline(
    p: QPainter,
    camera: Camera,
    theme: Theme,
    job: Job,
    size: tuple[int, int],
    moving: bool,
    strong: bool = False,
) -> None:
    """The host as a soft filled silhouette under everything, its holes, and the ground; ``strong`` while the
    host itself is what is looked at; without smoothing while something is dragged."""
    pal = theme.palette
    inside = any(getattr(q.values, "plates_on", "outside") == "inside" for q in job.stack)
    patches = drawing.silhouette(job.vehicle, inside)
    p.setRenderHint(QPainter.RenderHint.Antialiasing, not moving)
    if camera.view in ("side", "rear"):
        _ground(p, camera, theme, size)
    flat = camera.project(np.concatenate([f for q in patches for f in q.faces]))
    at = 0
    for patch in patches:
        tone = _between(pal.card, pal.line, TONES[patch.group] * (1.0 if strong else 0.72))
        faces = []
        for face in patch.faces:
            faces.append(flat[at : at + len(face)])
            at += len(face)
        if patch.bar:
            p.setPen(
                QPen(
                    tone,
                    max(TUBE_MM * camera.scale, 1.5),
                    Qt.PenStyle.SolidLine,
                    Qt.PenCapStyle.RoundCap,
                    Qt.PenJoinStyle.RoundJoin,
                )
            )
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.drawPolyline(_polygon(faces[0]))
            continue
        p.setPen(QPen(tone, 1))
        p.setBrush(tone)
        if patch.hull:
            p.drawPolygon(
                _polygon(np.array(convex_hull([(float(x), float(y)) for x, y in np.concatenate(faces)])))
            )
            continue
        for face in faces:
            p.drawPolygon(_polygon(face))
    holes = (
        drawing.outline(job.vehicle, inside)["holes"] if "holes" not in drawing.hidden_in(camera.view) else []
    )
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(QPen(QColor(pal.quiet), 1 if moving else 1.6))
    for ring in holes:
        p.drawPolyline(_polygon(camera.project(ring)))
    p.setRenderHint(QPainter.RenderHint.Antialiasing)


def _polygon(xy: Array) -> QPolygonF:
    return QPolygonF([QPointF(float(x), float(y)) for x, y in xy])


def _ground(p: QPainter, camera: Camera, theme: Theme, size: tuple[int, int]) -> None:
    y = float(camera.project(np.zeros((1, 3)))[0, 1])
    if y < size[1]:
        p.fillRect(QRectF(0, y, size[0], size[1] - y), _between(theme.palette.card, theme.palette.line, 0.28))
        p.setPen(QPen(QColor(theme.palette.line), 1.5))
        p.drawLine(QPointF(0, y), QPointF(size[0], y))


def paint_keep_outs(
    p: QPainter,
    camera: Camera,
    theme: Theme,
    job: Job,
    chosen: int | None = None,
    named: bool = False,
    moving: bool = False,
    touched: frozenset[str] = frozenset(),
    over: bool = False,
) -> None:
    """Every keep-out as a faint body with an outline; its margin dashed while it is chosen; hatched only
    where something touches it; only its hull while the view turns. Those that are touched are painted
    ``over`` the part, the others under it."""
    pal, px = theme.palette, theme.px
    right, up, _ = camera.axes()
    middle = np.array([camera.focus @ right, camera.focus @ up])
    half = np.array(camera.size) / 2
    axes = _triple(right), _triple(up)
    taken: list[QRectF] = []
    p.setRenderHint(QPainter.RenderHint.Antialiasing, not moving)
    for number, keep in enumerate(job.survey.keep_outs):
        hit = keep.name in touched
        if hit != over:
            continue
        colour = QColor(pal.brick if hit else pal.touch if number == chosen else pal.ochre)
        for margin in (True, False) if number == chosen and not moving else (False,):
            rings = (
                keepout.hull(keep, job.vehicle, *axes)
                if moving
                else keepout.outline(keep, job.vehicle, *axes, margin)
            )
            for ring in rings:
                xy = (ring - middle) * camera.scale * [1, -1] + half
                shape = QPolygonF([QPointF(float(x), float(y)) for x, y in xy])
                if margin:
                    p.setBrush(Qt.BrushStyle.NoBrush)
                    p.setPen(QPen(colour, 1, Qt.PenStyle.DashLine))
                else:
                    soft = QColor(colour)
                    soft.setAlpha(150 if hit else 26)
                    p.setBrush(QBrush(soft, Qt.BrushStyle.BDiagPattern) if hit else soft)
                    edge = QColor(colour)
                    edge.setAlpha(255 if hit or number == chosen else 120)
                    p.setPen(QPen(edge, 1.4 if hit or number == chosen else 1))
                p.drawPolygon(shape)
            if named and not margin and rings:
                top = max(rings, key=lambda r: float(r[:, 1].max()))
                x, y = (top[top[:, 1].argmax()] - middle) * camera.scale * [1, -1] + half
                spot = min(max(float(y) - px(11), px(46)), camera.size[1] - px(40))
                _tag(p, theme, float(x), spot, keep.name, colour, camera.size, taken=taken)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)


def paint_carried(
    p: QPainter, camera: Camera, theme: Theme, items: list[tuple[str, Vec, Vec]], named: bool
) -> None:
    """What hangs on a carrier, as boxes to scale."""
    pal = theme.palette
    for name, low, high in items:
        corners = np.array(
            [(x, y, z) for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])]
        )
        flat = camera.project(corners)
        hull = convex_hull([(float(x), float(y)) for x, y in flat])
        fill = QColor(pal.steel)
        fill.setAlpha(90)
        p.setPen(QPen(QColor(pal.ink), 1.4))
        p.setBrush(fill)
        p.drawPolygon(QPolygonF([QPointF(x, y) for x, y in hull]))
        if named:
            x, y = flat.mean(axis=0)
            _tag(p, theme, float(x), float(y), name, QColor(pal.ink), camera.size)


def _tag(
    p: QPainter,
    theme: Theme,
    x: float,
    y: float,
    text: str,
    colour: QColor,
    size: tuple[int, int],
    bold: bool = False,
    taken: list[QRectF] | None = None,
) -> None:
    """A word on the drawing, kept inside it and clear of those in ``taken``, to which it is added."""
    p.setFont(font(theme, 12, bold=bold))
    wide, high = p.fontMetrics().horizontalAdvance(text) + theme.px(8), theme.px(18)
    box = QRectF(min(max(x - wide / 2, 4), size[0] - wide - 4), y - high / 2, wide, high)
    for other in taken or ():
        if other.intersects(box):
            box.moveTop(other.bottom() + 1)
    if taken is not None:
        taken.append(box)
    lettered(p, theme, box, text, colour)


def _names(
    p: QPainter, theme: Theme, spots: dict[str, QPointF], taken: list[QRectF], size: tuple[int, int]
) -> None:
    """Names over their places, those in one spot together, each clear of what is ``taken``, with a leader
    where it had to move.
    """
    px, pal = theme.px, theme.palette
    groups: list[tuple[QPointF, list[str]]] = []
    for name, here in spots.items():
        near = next((names for at, names in groups if (at - here).manhattanLength() < px(9)), None)
        if near is None:
            groups.append((here, [name]))
        else:
            near.append(name)
    p.setFont(font(theme, 12, bold=True))
    for here, names in groups:
        text = " · ".join(names)
        box = QRectF(0, 0, p.fontMetrics().horizontalAdvance(text) + px(6), px(16))
        box.moveCenter(here + QPointF(0, -px(15)))
        if (
            -px(40) < here.x() < size[0] + px(40)
        ):  # as long as its place is nearly in the picture, the name is
            box.moveLeft(min(max(box.left(), 4.0), size[0] - box.width() - 4))
        home = box.center()
        for _ in range(8):  # step up until nothing is covered
            hit = next((t for t in taken if t.intersects(box)), None)
            if hit is None:
                break
            box.moveBottom(hit.top() - 1)
        taken.append(box)
        if (box.center() - home).manhattanLength() > px(6):
            p.setPen(QPen(QColor(pal.quiet), 1))
            p.drawLine(here, QPointF(box.center().x(), box.bottom()))
        lettered(p, theme, box, text, QColor(pal.ink))


def paint_survey(
    p: QPainter, camera: Camera, theme: Theme, job: Job, pointed: str, labels: list[QRectF]
) -> None:
    """Datum, named places, check tapes, fixes with their uncertainty, and the box being filled; names step
    aside from ``labels``."""
    pal, px = theme.palette, theme.px
    size = camera.size

    def spot(place: tuple[float, float, float]) -> QPointF:
        x, y = camera.project(np.array([place]))[0]
        return QPointF(float(x), float(y))

    d = job.survey.datum
    zero = spot((-d.behind_mm, d.across_mm, d.height_mm))
    p.setPen(QPen(QColor(pal.touch), px(2)))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawEllipse(zero, px(7), px(7))
    for dx, dy in ((px(12), 0), (0, px(12))):
        p.drawLine(zero - QPointF(dx, dy), zero + QPointF(dx, dy))
    _tag(
        p,
        theme,
        zero.x(),
        zero.y() + px(23),
        "datum: " + datum.called(job) if datum.is_moved(job) or d.called else "datum",
        QColor(pal.touch),
        size,
        bold=True,
    )
    points = hard_points(job.vehicle)
    marks = {m.name: at for m in job.survey.marks if (at := where(m)) is not None}
    check = agree.cross_check(job)
    suspects = {s.reading.path for s in check.agreement.suspects} if check.agreement else set()
    known = {**marks, **points}
    for n, tape in enumerate(job.survey.tapes):
        if tape.start in known and tape.end in known:
            wrong = f"survey.tapes.{n}.length_mm" in suspects
            p.setPen(
                QPen(
                    QColor(pal.brick if wrong else pal.quiet),
                    px(2.5) if wrong else 1,
                    Qt.PenStyle.SolidLine if wrong else Qt.PenStyle.DashDotLine,
                )
            )
            p.drawLine(spot(known[tape.start]), spot(known[tape.end]))
    for name in marks:
        here = spot(marks[name])
        p.setPen(QPen(QColor(pal.ink), px(2)))
        p.drawLine(here - QPointF(px(5), px(5)), here + QPointF(px(5), px(5)))
        p.drawLine(here - QPointF(px(5), -px(5)), here + QPointF(px(5), -px(5)))
    _names(p, theme, {name: spot(place) for name, place in {**points, **marks}.items()}, list(labels), size)
    right, up, _ = camera.axes()
    for found in fixes(job.vehicle, job.survey):
        if found.located is None:
            continue
        here = spot(_triple(found.located.point))
        for start in found.starts:
            p.setPen(QPen(QColor(pal.touch), 1, Qt.PenStyle.DotLine))
            p.drawLine(spot(known[start]), here)
        flat = np.stack([right, up]) @ found.located.covariance @ np.stack([right, up]).T
        values, ways = np.linalg.eigh(flat)
        around = np.linspace(0, 2 * np.pi, 49)
        ring = (
            (ways * np.sqrt(np.maximum(values, 0) * 7.815))
            @ np.stack([np.cos(around), np.sin(around)])
            * ENLARGED
            * camera.scale
        )
        p.setPen(QPen(QColor(pal.touch), px(1.5)))
        fill = QColor(pal.touch)
        fill.setAlpha(40)
        p.setBrush(fill)
        p.drawPolygon(QPolygonF([here + QPointF(float(x), float(-y)) for x, y in ring.T]))
        p.setBrush(QColor(pal.touch))
        p.drawEllipse(here, px(3), px(3))
        _tag(
            p,
            theme,
            here.x(),
            here.y() + px(20),
            f"{found.fix.name} (95 % × {ENLARGED:.0f})",
            QColor(pal.touch),
            size,
            bold=True,
        )
    box_at = (
        next((b for b in boxes(job) if b.path == pointed and b.at is not None), None) if pointed else None
    )
    if box_at is not None and box_at.at is not None:
        here = spot(box_at.at)
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(QColor(pal.touch), px(3)))
        p.drawEllipse(here, px(16), px(16))
        _tag(
            p,
            theme,
            here.x(),
            here.y() - px(26),
            f"{box_at.number}  {box_at.title}",
            QColor(pal.touch),
            size,
            bold=True,
        )
