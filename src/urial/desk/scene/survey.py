"""What a survey knows of places, on the scene: datum, hard points, marks, tapes, fixes."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen

from urial.desk.scene.canvas import lettered, polygon
from urial.desk.scene.easel import Easel
from urial.desk.theme import font
from urial.geometry.place import Vec
from urial.job import datum
from urial.measure import agree
from urial.measure.places import Found, fixes, hard_points, where
from urial.measure.sheet import boxes
from urial.measure.triangulate import CHI2_95

ENLARGED = 10.0  # a tape's uncertainty is millimetres: its ellipsoid is drawn ten times as large, and says so


def paint_survey(e: Easel, pointed: str) -> None:
    """Datum, named places, check tapes, fixes with their uncertainty, and the box being filled."""
    points = hard_points(e.job.vehicle)
    marks = {m.name: at for m in e.job.survey.marks if (at := where(m)) is not None}
    known = {**marks, **points}
    e.p.setRenderHint(QPainter.RenderHint.Antialiasing, not e.moving)
    _datum(e)
    _tapes(e, known)
    for place in marks.values():
        _cross(e, place)
    if e.named:
        _names(e, {name: e.spot(place) for name, place in {**points, **marks}.items()})
    for found in fixes(e.job.vehicle, e.job.survey):
        if found.located is not None:
            _fix(e, found, known)
    if pointed:
        _box(e, pointed)
    e.p.setRenderHint(QPainter.RenderHint.Antialiasing)


def _datum(e: Easel) -> None:
    p, px, colour = e.p, e.theme.px, QColor(e.theme.palette.touch)
    d = e.job.survey.datum
    zero = e.spot((-d.behind_mm, d.across_mm, d.height_mm))
    p.setPen(QPen(colour, px(2)))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawEllipse(zero, px(7), px(7))
    for dx, dy in ((px(12), 0), (0, px(12))):
        p.drawLine(zero - QPointF(dx, dy), zero + QPointF(dx, dy))
    if e.named:
        words = "datum: " + datum.called(e.job) if datum.is_moved(e.job) or d.called else "datum"
        e.tag(zero + QPointF(0, px(23)), words, colour, bold=True)


def _tapes(e: Easel, known: dict[str, Vec]) -> None:
    """Each tape as a line; the one that is off in warning colour."""
    pal, px = e.theme.palette, e.theme.px
    check = agree.cross_check(e.job)
    suspects = {s.reading.path for s in check.agreement.suspects} if check.agreement else set()
    good = QPen(QColor(pal.quiet), 1, Qt.PenStyle.DashDotLine)
    for n, tape in enumerate(e.job.survey.tapes):
        if tape.start in known and tape.end in known:
            wrong = f"survey.tapes.{n}.length_mm" in suspects
            e.p.setPen(QPen(QColor(pal.brick), px(2.5)) if wrong else good)
            e.p.drawLine(e.spot(known[tape.start]), e.spot(known[tape.end]))


def _cross(e: Easel, place: Vec) -> None:
    here, arm = e.spot(place), e.theme.px(5)
    e.p.setPen(QPen(QColor(e.theme.palette.ink), e.theme.px(2)))
    for way in (QPointF(arm, arm), QPointF(arm, -arm)):
        e.p.drawLine(here - way, here + way)


def _names(e: Easel, spots: dict[str, QPointF]) -> None:
    """Names over their places, those in one spot together, each clear of what is written already, with a
    leader where it had to move.
    """
    p, px, pal, (width, _) = e.p, e.theme.px, e.theme.palette, e.camera.size
    groups: list[tuple[QPointF, list[str]]] = []
    for name, here in spots.items():
        near = next((names for at, names in groups if (at - here).manhattanLength() < px(9)), None)
        if near is None:
            groups.append((here, [name]))
        else:
            near.append(name)
    p.setFont(font(e.theme, 12, bold=True))
    for here, names in groups:
        text = " · ".join(names)
        box = QRectF(0, 0, p.fontMetrics().horizontalAdvance(text) + px(6), px(16))
        box.moveCenter(here + QPointF(0, -px(15)))
        if -px(40) < here.x() < width + px(40):  # as long as its place is nearly in the picture, the name is
            box.moveLeft(min(max(box.left(), 4.0), width - box.width() - 4))
        home = box.center()
        for _ in range(8):  # step up until nothing is covered
            hit = next((t for t in e.taken if t.intersects(box)), None)
            if hit is None:
                break
            box.moveBottom(hit.top() - 1)
        e.taken.append(box)
        if (box.center() - home).manhattanLength() > px(6):
            p.setPen(QPen(QColor(pal.quiet), 1))
            p.drawLine(here, QPointF(box.center().x(), box.bottom()))
        lettered(p, e.theme, box, text, QColor(pal.ink))


def _fix(e: Easel, found: Found, known: dict[str, Vec]) -> None:
    """A place found by tapes: lines from where they start, and within what it lies."""
    assert found.located is not None
    p, px, touch = e.p, e.theme.px, QColor(e.theme.palette.touch)
    x, y, z = found.located.point.tolist()
    here = e.spot((x, y, z))
    p.setPen(QPen(touch, 1, Qt.PenStyle.DotLine))
    for start in found.starts:
        p.drawLine(e.spot(known[start]), here)
    screen = np.stack(e.camera.axes()[:2])
    values, ways = np.linalg.eigh(screen @ found.located.covariance @ screen.T)
    around = np.linspace(0, 2 * np.pi, 17 if e.moving else 49)
    ring = (ways * np.sqrt(np.maximum(values, 0) * CHI2_95)) @ np.stack([np.cos(around), np.sin(around)])
    p.setPen(QPen(touch, px(1.5)))
    fill = QColor(touch)
    fill.setAlpha(40)
    p.setBrush(fill)
    p.drawPolygon(polygon(ring.T * ENLARGED * e.camera.scale * [1, -1] + [here.x(), here.y()]))
    p.setBrush(touch)
    p.drawEllipse(here, px(3), px(3))
    if e.named:
        words = f"{found.fix.name} (95 % × {ENLARGED:.0f})"
        e.tag(here + QPointF(0, px(20)), words, touch, bold=True)


def _box(e: Easel, pointed: str) -> None:
    """A ring round the place whose box is being filled."""
    px, colour = e.theme.px, QColor(e.theme.palette.touch)
    box = next((b for b in boxes(e.job) if b.path == pointed), None)
    if box is None or box.at is None:
        return
    here = e.spot(box.at)
    e.p.setBrush(Qt.BrushStyle.NoBrush)
    e.p.setPen(QPen(colour, px(3)))
    e.p.drawEllipse(here, px(16), px(16))
    e.tag(here - QPointF(0, px(26)), f"{box.number}  {box.title}", colour, bold=True)
