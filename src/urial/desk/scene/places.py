"""Open places on the drawing: a ring that glows, and what it is; and the softest motion, as lines that
swing.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QRadialGradient

from urial.desk.scene.camera import Camera
from urial.desk.scene.canvas import lettered
from urial.desk.theme import Theme, font
from urial.families._stack import Open
from urial.prove.verdict import Verdict
from urial.strength.restraint import Restraint

REACH = 16
"""Radius within which a click takes a place, pixels at scale 1."""


def spots(camera: Camera, places: Sequence[Open]) -> list[QPointF]:
    """Where the places are on the picture."""
    return [QPointF(*(float(v) for v in camera.project(np.array([o.at]))[0])) for o in places]


def place_at(camera: Camera, theme: Theme, places: Sequence[Open], pos: QPointF) -> Open | None:
    """The nearest open place under a point."""
    near = [(math.hypot(s.x() - pos.x(), s.y() - pos.y()), n) for n, s in enumerate(spots(camera, places))]
    best = min(near, default=(math.inf, 0))
    return places[best[1]] if best[0] <= theme.px(REACH) else None


def paint_places(
    p: QPainter,
    camera: Camera,
    theme: Theme,
    places: Sequence[Open],
    chosen: Open | None,
    avoid: Sequence[QRectF],
) -> None:
    """A glowing ring at every open place, its words beside it, clear of what is written already."""
    px, pal = theme.px, theme.palette
    taken = list(avoid)
    for place, at in zip(places, spots(camera, places), strict=True):
        if not QRectF(p.viewport()).adjusted(8, 8, -8, -8).contains(at):
            continue  # out of the picture; the tree beside it has it
        glow = QRadialGradient(at, px(26))
        inner, outer = QColor(pal.touch), QColor(pal.touch)
        inner.setAlpha(120 if place == chosen else 70)
        outer.setAlpha(0)
        glow.setColorAt(0.0, inner)
        glow.setColorAt(1.0, outer)
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(glow)
        p.drawEllipse(at, px(26), px(26))
        p.setPen(QPen(QColor(pal.touch), px(3)))
        p.setBrush(QColor(pal.card))
        p.drawEllipse(at, px(8), px(8))
        p.setFont(font(theme, 12, bold=True))
        text = f"{place.words}, open"
        box = QRectF(0, 0, p.fontMetrics().horizontalAdvance(text) + px(10), px(20))
        for dx, dy in ((0, -34), (0, 34), (-0.5, -56), (0.5, 56)):
            box.moveCenter(at + QPointF(dx * box.width(), px(dy)))
            if not any(box.intersects(t) for t in taken):
                break
        box.moveLeft(min(max(box.left(), 6.0), max(p.viewport().width() - box.width() - 6.0, 6.0)))
        taken.append(box)
        lettered(p, theme, box, text, QColor(pal.touch))


def paint_swing(
    p: QPainter, camera: Camera, theme: Theme, verdict: Verdict, soft: Restraint, phase: float
) -> None:
    """The part's centre lines swinging in their softest motion, enlarged to be seen."""
    if verdict.forces is None:
        return
    raw, net = verdict.forces.raw, verdict.forces.net
    at = np.array([raw.frame.nodes[n] for n in raw.node_index])
    move = soft.movement[:, :3]
    size = float(np.abs(move).max()) or 1.0
    here = at + move * (45.0 / size) * math.sin(phase)
    flat, rest = camera.project(here), camera.project(at)
    for rows, colour, width in ((rest, theme.palette.quiet, 1.2), (flat, theme.palette.touch, 3.5)):
        pen = QPen(QColor(colour), theme.px(width))
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        p.setPen(pen)
        for b in net.beams:
            i, j = raw.node_index[b.i], raw.node_index[b.j]
            p.drawLine(
                QPointF(float(rows[i, 0]), float(rows[i, 1])), QPointF(float(rows[j, 0]), float(rows[j, 1]))
            )
