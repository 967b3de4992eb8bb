"""The host on the scene: its outline to scale, its keep-outs, and what it carries."""

from __future__ import annotations

from functools import lru_cache
from itertools import groupby

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QPainter, QPen

from urial.desk.scene.canvas import filled, polygon, seen_of
from urial.desk.scene.easel import Easel
from urial.desk.theme import blend
from urial.geometry.place import Vec
from urial.geometry.solids import hull
from urial.job.survey import KeepOut
from urial.measure import drawing, keepout

TONES = {"body": 0.42, "glass": 0.12, "bars": 0.75, "rails": 0.95, "bumper": 0.7, "tyres": 0.8, "rims": 0.45}
"""How far each piece of a host is from the paper towards its line colour."""
TUBE_MM = 34.0


@lru_cache(maxsize=256)
def between(a: str, b: str, share: float) -> QColor:
    """A colour on the way from one to another."""
    return QColor.fromRgbF(*blend(a, b, share))


def paint_outline(e: Easel, strong: bool = False) -> None:
    """The host as a soft filled silhouette under everything, its holes, and the ground; ``strong`` while the
    host itself is what is looked at."""
    p, camera, pal = e.p, e.camera, e.theme.palette
    inside = any(getattr(q.values, "plates_on", "outside") == "inside" for q in e.job.stack)
    patches = drawing.silhouette(e.job.vehicle, inside)
    p.setRenderHint(QPainter.RenderHint.Antialiasing, not e.moving)
    if camera.view in ("side", "rear"):
        _ground(e)
    seen = "holes" not in drawing.hidden_in(camera.view)
    holes = drawing.outline(e.job.vehicle, inside)["holes"] if seen else []
    lines = [f for q in patches for f in q.faces] + holes
    ends = np.cumsum([len(line) for line in lines])
    pixels = iter(np.split(camera.project(np.concatenate(lines)), ends[:-1]))
    for group, bar, alike in ((g, b, list(q)) for (g, b), q in groupby(patches, lambda q: (q.group, q.bar))):
        tone = between(pal.card, pal.line, TONES[group] * (1.0 if strong else 0.72))
        rings: list[np.ndarray] = []
        for patch in alike:
            faces = [next(pixels) for _ in patch.faces]
            if e.moving and patch.hull:
                faces = [face[::3] for face in faces]
            rings += faces if bar else seen_of(patch, faces)
        if bar:
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
            for line in rings:
                p.drawPolyline(polygon(line))
            continue
        p.setPen(Qt.PenStyle.NoPen)
        p.setBrush(tone)
        p.drawPath(filled(rings))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.setPen(QPen(QColor(pal.quiet), 1 if e.moving else 1.6))
    for ring in pixels:
        p.drawPolyline(polygon(ring))
    p.setRenderHint(QPainter.RenderHint.Antialiasing)


def _ground(e: Easel) -> None:
    (width, height), pal = e.camera.size, e.theme.palette
    y = e.spot((0.0, 0.0, 0.0)).y()
    if y < height:
        e.p.fillRect(QRectF(0, y, width, height - y), between(pal.card, pal.line, 0.28))
        e.p.setPen(QPen(QColor(pal.line), 1.5))
        e.p.drawLine(QPointF(0, y), QPointF(width, y))


OFF = {"gone": ", off", "off": ", off to fit", "cut": ", cut"}
"""What stands after the name of what is taken off or cut."""


def paint_keep_outs(
    e: Easel, touched: frozenset[str], *, over: bool = False, chosen: int | None = None
) -> None:
    """Every keep-out as a faint body with an outline; its margin dashed while it is chosen; hatched only
    where something touches it; only its hull while the view turns.  Those that are touched are painted
    ``over`` the part, the others under it."""
    e.p.setRenderHint(QPainter.RenderHint.Antialiasing, not e.moving)
    for number, keep in enumerate(e.job.survey.keep_outs):
        if (keep.name in touched) == over:
            _keep_out(e, keep, over, number == chosen)
    e.p.setRenderHint(QPainter.RenderHint.Antialiasing)


def _keep_out(e: Easel, keep: KeepOut, hit: bool, chosen: bool) -> None:
    p, camera, pal, px = e.p, e.camera, e.theme.palette, e.theme.px
    right, up, _ = camera.axes()
    (rx, ry, rz), (ux, uy, uz) = right.tolist(), up.tolist()
    axes = (rx, ry, rz), (ux, uy, uz)
    middle = np.array([camera.focus @ right, camera.focus @ up])

    def pixels(ring: np.ndarray) -> np.ndarray:
        out: np.ndarray = (ring - middle) * camera.scale * [1, -1] + np.array(camera.size) / 2
        return out

    colour = QColor(pal.brick if hit else pal.touch if chosen else pal.ochre)
    if chosen and not e.moving:
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(colour, 1, Qt.PenStyle.DashLine))
        for ring in keepout.outline(keep, e.job.vehicle, *axes, margin=True):
            p.drawPolygon(polygon(pixels(ring)))
    rings = (
        keepout.hull(keep, e.job.vehicle, *axes)
        if e.moving and camera.view == "turned"
        else keepout.outline(keep, e.job.vehicle, *axes, margin=False)
    )
    soft = QColor(colour)
    soft.setAlpha(150 if hit else 26)
    edge = colour if hit or chosen else between(pal.card, pal.ochre, 0.47)
    p.setBrush(QBrush(soft, Qt.BrushStyle.BDiagPattern) if hit else soft)
    p.setPen(QPen(edge, 1.4 if hit or chosen else 1))
    if not keep.there:  # only where it was
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(edge, 1, Qt.PenStyle.DotLine))
    for ring in rings:
        p.drawPolygon(polygon(pixels(ring)))
    if e.named and rings:
        spots = np.concatenate([pixels(ring) for ring in rings])
        x, y = spots[spots[:, 1].argmin()].tolist()
        e.tag(
            QPointF(x, min(max(y - px(11), px(46)), camera.size[1] - px(40))),
            keep.name + OFF.get(keep.fate, ""),
            colour,
        )


def paint_carried(e: Easel, items: list[tuple[str, Vec, Vec]]) -> None:
    """What hangs on a carrier, as boxes to scale."""
    p, pal = e.p, e.theme.palette
    for name, low, high in items:
        corners = np.array(
            [(x, y, z) for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])]
        )
        flat = e.camera.project(corners)
        fill = QColor(pal.steel)
        fill.setAlpha(90)
        p.setPen(QPen(QColor(pal.ink), 1.4))
        p.setBrush(fill)
        p.drawPolygon(polygon(hull(flat)))
        if e.named:
            e.tag(QPointF(*flat.mean(axis=0).tolist()), name, QColor(pal.ink))
