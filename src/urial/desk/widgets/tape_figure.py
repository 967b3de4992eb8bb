"""Beside the field of the survey that is being filled: a picture of the host and where the tape goes."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPoint, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QApplication, QFrame, QScrollArea, QWidget

from urial.desk.scene.camera import Camera
from urial.desk.scene.canvas import lettered, polygon
from urial.desk.scene.easel import Easel
from urial.desk.scene.host import paint_outline
from urial.desk.store import Store
from urial.desk.theme import Theme, font
from urial.desk.widgets.fields import Field
from urial.job import edit
from urial.measure import drawing
from urial.measure.taped import Tape, tape

WIDE, HIGH, WORDS = 320, 220, 44
NEAR = 5.0
"""A near picture shows so many times as much as is measured."""
SEEN = {"side": "from its left side", "rear": "from behind", "top": "from above"}


class TapeFigure(QFrame):
    """Shown while a field of a host has the keys and something can be laid to it; it takes no click.

    It stands left of the field, over the drawing, so that nothing moves for it."""

    def __init__(self, store: Store, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent)
        self.store, self.theme, self.page = store, theme, parent
        self.setObjectName("card")
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.field: Field | None = None
        self.laid: Tape | None = None
        self.hide()
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        app.focusChanged.connect(self._focus)
        store.changed.connect(self.refresh)

    def _focus(self, _: QWidget | None, now: QWidget | None) -> None:
        at = now
        while at is not None and not isinstance(at, Field):
            at = at.parentWidget()
        self.field = at if isinstance(at, Field) and at.window() is self.window() else None
        self.refresh()

    def refresh(self) -> None:
        """Look again at what is being filled."""
        try:
            seen = self.field is not None and not self.field.visibleRegion().isEmpty()
        except RuntimeError:  # its page was made anew
            self.field, seen = None, False
        self.laid = tape(self.store.job, self.field.path) if self.field is not None and seen else None
        if self.laid is None or self.field is None:
            self.hide()
            return
        px, parent = self.theme.px, self.page
        self.resize(px(WIDE), px(HIGH + WORDS))
        corner = self.field.mapTo(self.window(), QPoint(0, 0))
        here = parent.mapFrom(self.window(), corner)
        x = max(here.x() - self.width() - px(18), 0)
        page: QWidget = self.field
        while not isinstance(page, QScrollArea) and (above := page.parentWidget()):
            page = above
        top = parent.mapFrom(self.window(), page.mapTo(self.window(), QPoint(0, 0))).y()
        y = min(here.y() - self.height() // 2, top + page.height() - self.height() - px(2))
        self.move(x, max(y, top + px(44)))
        self.show()
        self.raise_()
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        if self.laid is None or self.field is None:
            return
        laid, px, pal, job = self.laid, self.theme.px, self.theme.palette, self.store.job
        camera = Camera(laid.view, size=(self.width(), px(HIGH)))
        ends = np.array([laid.a, laid.b])
        if laid.near:
            half = NEAR / 2 * max(float(np.linalg.norm(ends[1] - ends[0])), 12.0)
            middle = ends.mean(axis=0)
            camera.fit(np.array([middle - half, middle + half]), (px(12), px(10), px(12), px(10)))
        else:
            lines = [line for group in drawing.outline(job.vehicle).values() for line in group]
            every = np.concatenate([*lines, ends])
            camera.fit(every, (px(26), px(20), px(26), px(26)))
        p = QPainter(self)
        p.setClipRect(1, 1, self.width() - 2, px(HIGH))
        paint_outline(Easel(p, camera, self.theme, job), strong=True)
        if laid.near:  # what is measured may lie behind something else
            p.setPen(QPen(QColor(pal.quiet), 1.4))
            for line in drawing.outline(job.vehicle).get("rails", []):
                p.drawPolyline(polygon(camera.project(line)))
        self._tape(p, camera, laid)
        p.setClipping(False)
        p.setPen(QColor(pal.ink))
        p.setFont(font(self.theme, 13))
        words = f"{self.store.said(laid.words)}. Seen {SEEN[laid.view]}."
        box = QRectF(px(10), px(HIGH), self.width() - px(20), px(WORDS - 4))
        p.drawText(box, Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap, words)
        p.end()

    def _tape(self, p: QPainter, camera: Camera, laid: Tape) -> None:
        """The tape between its two places, a stroke across each end, and the figure it shows."""
        px, pal = self.theme.px, self.theme.palette
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        a, b = (QPointF(*xy) for xy in camera.project(np.array([laid.a, laid.b])))
        touch = QColor(pal.touch)
        p.setPen(QPen(touch, px(3)))
        p.drawLine(a, b)
        along = b - a
        size = max(float(np.hypot(along.x(), along.y())), 1e-6)
        square = QPointF(-along.y() / size, along.x() / size) * px(8)
        for end in (a, b):
            p.drawLine(end - square, end + square)
        assert self.field is not None
        figure = edit.shown(self.store.job, self.field.path)
        p.setFont(font(self.theme, 13, bold=True))
        wide = p.fontMetrics().horizontalAdvance(figure) + px(8)
        middle = (a + b) / 2
        box = QRectF(0, 0, wide, px(20))
        flat = abs(along.x()) > abs(along.y())
        box.moveCenter(middle + (QPointF(0, -px(16)) if flat else QPointF(wide / 2 + px(8), 0)))
        box.moveLeft(min(max(box.left(), px(4)), self.width() - wide - px(4)))
        box.moveTop(min(max(box.top(), px(4)), px(HIGH - 24)))
        lettered(p, self.theme, box, figure, QColor(pal.ink))


__all__ = ["TapeFigure"]
