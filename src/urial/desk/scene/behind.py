"""Backdrops on the scene: bodies and outlines of other programs, pale behind the part, and the places of them
that are known.
"""

from __future__ import annotations

import logging
from collections.abc import Callable
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QLineF, QObject, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QPen

from urial.assembly.bodies import Mesh
from urial.desk.scene.camera import Camera
from urial.desk.scene.easel import Easel
from urial.desk.store import Store
from urial.desk.theme import rgb
from urial.desk.worker import Worker
from urial.geometry.place import Vec
from urial.job.survey import Backdrop
from urial.measure import backdrop
from urial.measure.backdrop import Behind
from urial.measure.taken import BackdropError

if TYPE_CHECKING:
    from urial.desk.scene.render import Renderer

log = logging.getLogger("urial")
Array = NDArray[np.float64]
QUICK = 2500
"""Lines of a backdrop that are drawn while the view moves: the longest."""
LARGE = 100_000
"""Bytes of a body, some two thousand faces, from which on reading it takes longer than an eye's blink."""
PALE = 0.62
"""How much of a body is seen of what is behind it."""


class Behinds:
    """Paints them: ``eye`` makes what draws solids, once there is one; until then, and while the view moves,
    they are lines.  A large one is read off this thread; ``read`` is called when it is there."""

    def __init__(self, parent: QObject, read: Callable[[], None]) -> None:
        self.eye: type[Renderer] | None = None
        self._read, self._reader = read, Worker(parent, self._arrived)
        self._damaged: set[bytes] = set()
        self._asked: tuple[bytes, ...] = ()
        self._drawn: tuple[object, Renderer] | None = None

    def there(self, store: Store) -> list[tuple[int, Backdrop, Behind]]:
        """Those that are shown and can be: number, what the job says of it, its shape."""
        out, wanted = [], []
        for number, b in enumerate(store.job.survey.backdrops):
            data = store.document.attachments.get(b.file)
            if data is None or not b.shown or data in self._damaged:
                continue  # its page says so
            shape = backdrop.at_hand(data, b.file)
            if shape is None and len(data) > LARGE:
                wanted.append((data, b.file))
                continue
            try:
                out.append((number, b, shape or backdrop.load(data, b.file)))
            except BackdropError:
                self._damaged.add(data)
        self._ask(wanted)
        return out

    def _ask(self, wanted: list[tuple[bytes, str]]) -> None:
        """Have bodies read that are not remembered."""
        if not wanted or (self._reader.busy and self._asked == tuple(data for data, _ in wanted)):
            return
        self._asked = tuple(data for data, _ in wanted)

        def work(stale: Callable[[], bool]) -> object:
            damaged = []
            for data, name in wanted:
                if stale():
                    break
                try:
                    backdrop.load(data, name)
                except BackdropError:
                    damaged.append(data)
            return damaged

        self._reader.ask(work)

    def _arrived(self, damaged: object) -> None:
        self._damaged.update(damaged if isinstance(damaged, list) else self._asked)
        self._read()

    def boxes(self, store: Store) -> list[Array]:
        """The corners of what is shown, (8, 3) each, host axes: what belongs in the picture."""
        return [backdrop.box_on_host(b, shape) for _, b, shape in self.there(store)]

    def paint(self, e: Easel, store: Store) -> None:
        """All of them, behind everything but the host."""
        rows = self.there(store)
        if not rows:
            return
        bodies = [(b, shape) for _, b, shape in rows if len(shape.faces)]
        solid = None
        if bodies and not e.moving:
            try:
                solid = self._image(e, bodies)
            except Exception as error:  # a broken driver must not take the window down; the lines remain
                # in words: with its traceback the record would keep the painter of this picture
                log.error(f"a backdrop could not be drawn: {error!r}")
                self.eye = None
        if solid is not None:
            e.p.setOpacity(PALE)
            e.p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            e.p.drawImage(QRectF(0, 0, *e.camera.size), solid)
            e.p.setOpacity(1.0)
        for _, b, shape in rows:
            if solid is None or not len(shape.faces):
                self._lines(e, b, shape)

    def _lines(self, e: Easel, b: Backdrop, shape: Behind) -> None:
        towards = backdrop.rotation(b).T @ e.camera.axes()[2]
        lines = shape.longest_first[:QUICK] if e.moving else shape.silhouette(towards)
        flat = e.camera.project(backdrop.on_host(b, shape.points))
        ends = flat[lines].reshape(-1, 4)
        e.p.setPen(QPen(QColor(e.theme.palette.quiet), 1 if len(shape.faces) else 1.6))
        e.p.drawLines([QLineF(*row) for row in ends.tolist()])

    def _image(self, e: Easel, bodies: list[tuple[Backdrop, Behind]]) -> QImage | None:
        """The bodies as solids, in one pale colour."""
        if self.eye is None:
            return None
        key = tuple((b, id(shape)) for b, shape in bodies), e.theme.palette.line, e.theme.palette.steel
        if self._drawn is None:
            eye = self.eye()
            eye.two_sided()
            self._drawn = None, eye
        eye = self._drawn[1]
        if self._drawn[0] != key:
            points, faces, lines, base = [], [], [], 0
            for b, shape in bodies:
                points.append(backdrop.on_host(b, shape.points))
                faces.append(shape.faces + base)
                lines.append(shape.lines + base)
                base += len(shape.points)
            every = np.concatenate(points)
            none = np.zeros(0, dtype=np.intp)
            eye.set_mesh(Mesh(every, np.concatenate(faces), none, none, np.concatenate(lines)))
            tone = np.array(rgb(e.theme.palette.steel))
            eye.set_colours(np.tile((255 * tone).astype(np.uint8), (len(every), 1)))
            eye.set_ink(e.theme.palette.quiet)
            self._drawn = key, eye
        return eye.image(e.camera, e.p.device().devicePixelRatioF() * 1.5, True)

    def paint_known(self, e: Easel, store: Store) -> None:
        """The places of each that are known, with a line to where they were measured when they are off it."""
        if not (rows := self.there(store)):
            return
        known = backdrop.named_places(store.job.vehicle, store.job.survey)
        colour, px = QColor(e.theme.palette.touch), e.theme.px
        for _, b, _shape in rows:
            for off in backdrop.offs(b, known):
                m = off.meet
                here = e.spot(backdrop.spot_on_host(b, (m.x, m.y, m.z)))
                e.p.setPen(QPen(colour, px(2)))
                e.p.setBrush(Qt.BrushStyle.NoBrush)
                e.p.drawRect(QRectF(here.x() - px(4), here.y() - px(4), px(8), px(8)))
                if off.mm is not None and off.mm > 0.05:
                    e.p.setPen(QPen(colour, px(1.5), Qt.PenStyle.DotLine))
                    e.p.drawLine(here, e.spot(known[m.to]))
                    if e.named:
                        e.tag(here + QPointF(0, px(16)), f"{m.to} of {b.title}", colour)

    def place_at(
        self, store: Store, camera: Camera, number: int, pos: QPointF, reach: float
    ) -> tuple[Vec, str] | None:
        """The place of one of them under a point of the picture, in its file, and what it is."""
        row = next((r for r in self.there(store) if r[0] == number), None)
        if row is None:
            return None
        right, up, towards = camera.axes()
        dx, dy = pos.x() - camera.size[0] / 2, camera.size[1] / 2 - pos.y()
        at = camera.focus + (dx * right + dy * up) / camera.scale
        found = backdrop.picked(row[2], row[1], at, towards, reach / camera.scale)
        if found is None:
            return None
        (x, y, z), words = found
        return (float(x), float(y), float(z)), words
