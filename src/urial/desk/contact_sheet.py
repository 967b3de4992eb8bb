"""One picture of every kind of part, made from their starting sizes: turned, named, with its mass."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QFont, QImage, QPainter, QPen

from urial import families, units
from urial.assembly import bodies
from urial.assembly.model import Assembly
from urial.desk.scene.camera import Camera
from urial.desk.scene.render import Renderer
from urial.desk.theme import Theme

ACROSS = 5
BOX, WORDS, GAP = (250, 170), 46, 12


def contact_sheet(theme: Theme, renderer: Renderer) -> QImage:
    """Every family in a box of its own, in the order of its title."""
    every = sorted(families.families().values(), key=lambda f: f.title)
    rows = math.ceil(len(every) / ACROSS)
    wide, high = ACROSS * (BOX[0] + GAP) + GAP, rows * (BOX[1] + WORDS + GAP) + GAP
    out = QImage(2 * wide, 2 * high, QImage.Format.Format_RGB32)
    out.setDevicePixelRatio(2.0)
    out.fill(QColor(theme.palette.paper))
    p = QPainter(out)
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    for n, family in enumerate(every):
        x, y = (
            GAP + n % ACROSS * (BOX[0] + GAP),
            GAP + n // ACROSS * (BOX[1] + WORDS + GAP),
        )
        assembly = families.sketch(family.name)
        p.drawImage(QRectF(x, y, *BOX), _picture(assembly, theme, renderer, family.seen == "top"))
        p.setPen(QPen(QColor(theme.palette.ink)))
        p.setFont(QFont("B612", 10, QFont.Weight.Bold))
        p.drawText(QRectF(x, y + BOX[1], BOX[0], 20), Qt.AlignmentFlag.AlignHCenter, family.title)
        p.setFont(QFont("B612", 9))
        mass = units.show(bodies.total_mass(assembly), "mass", "metric")
        said = f"goes on {family.on if family.on_host else family.wants} · {mass}"
        p.drawText(QRectF(x, y + BOX[1] + 20, BOX[0], 20), Qt.AlignmentFlag.AlignHCenter, said)
    p.end()
    return out


def _picture(assembly: Assembly, theme: Theme, renderer: Renderer, from_above: bool) -> QImage:
    """The part alone, turned towards the viewer's left, all of one steel."""
    mesh = bodies.mesh(assembly)
    camera = Camera("turned", elevation=38.0 if from_above else 22.0, size=BOX)
    camera.fit(mesh.points, (10, 10, 10, 10))
    renderer.set_ink(theme.palette.ink)
    renderer.set_mesh(mesh)
    steel = QColor(theme.palette.steel)
    renderer.set_colours(
        np.tile(np.array([[steel.red(), steel.green(), steel.blue()]], dtype=np.uint8), (len(mesh.points), 1))
    )
    return renderer.image(camera, 2.0, True)


__all__ = ["contact_sheet"]
