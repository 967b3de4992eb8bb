"""The drawing under the hand: picking, panning, turning, zooming, walking its sizes by keys."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QEvent, QPointF, QRectF, Qt
from PySide6.QtGui import (
    QKeyEvent,
    QMouseEvent,
    QWheelEvent,
)

from urial.assembly.model import BuildError, Dimension, Part
from urial.desk.scene import places
from urial.desk.scene.board import Board
from urial.desk.scene.findings import SIZE, spots
from urial.families import build
from urial.geometry.flat import cut_length
from urial.geometry.place import Vec
from urial.geometry.shape import Bar
from urial.job import edit
from urial.job.model import Job
from urial.making.buying import KERF, TRIM
from urial.making.buying import LENGTHS as SOLD
from urial.measure.snaps import Snap, even_lengths, nearest, snaps


def _vec(a: np.ndarray) -> Vec:
    return (float(a[0]), float(a[1]), float(a[2]))


GRIP, REACH = 9, 7
"""How near a pointer takes an end, and how near an end is drawn to what it may meet, pixels."""
TRY = 1.0
"""A size is changed by so much to see which of its ends moves, mm."""


@dataclass(frozen=True)
class Grab:
    """A size of the drawing under the hand: where it was taken hold of, and the job it was taken in."""

    size: Dimension
    at: QPointF
    job: Job
    follows: float = 1.0  # how far what was grabbed goes for each mm of the size
    start: float = 0.0  # where along the size's axis it was, mm
    snaps: tuple[Snap, ...] = ()
    even: tuple[tuple[float, str], ...] = ()  # sizes that leave nothing of a bought length


class Hands(Board):
    """What pointer and keys do to the drawing."""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Up and down walk the sizes on the drawing; Enter types over the one that is framed."""
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
        paths = [d.path for _, d in self._labels]
        if step and paths:
            here = paths.index(self._hover) if self._hover in paths else (-1 if step > 0 else 0)
            self._hover = paths[(here + step) % len(paths)]
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._hover in paths:
            self.open_editor(*self._labels[paths.index(self._hover)])
        elif event.key() == Qt.Key.Key_Escape and self.store.chosen.question is not None:
            self.store.ask_spot("", None)
        else:
            super().keyPressEvent(event)

    def label_at(self, pos: QPointF) -> tuple[QRectF, Dimension] | None:
        """The dimension label under a point."""
        return next(((box, d) for box, d in self._labels if box.contains(pos)), None)

    def part_at(self, pos: QPointF) -> str | None:
        """The mark of the nearest part under a point."""
        found = self._nearest(pos)
        return None if found is None else self.shown.parts[found[0]].mark

    def spot_at(self, pos: QPointF) -> tuple[Part, Vec, Vec] | None:
        """The nearest part under a point, the place on its surface and the surface's normal, host axes."""
        found = self._nearest(pos)
        if found is None:
            return None
        number, corners = found
        a, b, c = self._mesh().points[corners]
        normal = np.cross(b - a, c - a)
        size = float(np.linalg.norm(normal))
        towards = self.camera.axes()[2]
        if size < 1e-9 or abs(float(normal @ towards)) < 1e-9 * size:
            return None
        flat = self.camera.project(np.array([a]))[0]
        right, up, _ = self.camera.axes()
        off = (np.array([pos.x(), pos.y()]) - flat) / self.camera.scale
        there = a + off[0] * right - off[1] * up  # under the pointer; then along the eye's way on to the face
        there = there + towards * float(((a - there) @ normal) / (towards @ normal))
        normal = normal / size
        return self.shown.parts[number], _vec(there), _vec(normal)

    def _nearest(self, pos: QPointF) -> tuple[int, np.ndarray] | None:
        """Number of the part nearest to the eye under a point, and its triangle's corners there."""
        mesh = self._mesh()
        if not mesh.triangles.size:
            return None
        flat = self.camera.project(mesh.points)
        depth = mesh.points @ self.camera.axes()[2]
        tri = flat[mesh.triangles]
        q = np.array([pos.x(), pos.y()])

        def side(a: np.ndarray, b: np.ndarray) -> np.ndarray:
            out: np.ndarray = (b[:, 0] - a[:, 0]) * (q[1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (q[0] - a[:, 0])
            return out

        s0, s1, s2 = side(tri[:, 0], tri[:, 1]), side(tri[:, 1], tri[:, 2]), side(tri[:, 2], tri[:, 0])
        inside = ((s0 >= 0) & (s1 >= 0) & (s2 >= 0)) | ((s0 <= 0) & (s1 <= 0) & (s2 <= 0))
        whole = s0 + s1 + s2
        hits = np.flatnonzero(inside & (np.abs(whole) > 1e-9))  # one seen edge-on hides nothing
        if not hits.size:
            return None
        # how near each is just there: a side's share belongs to the corner across from it
        d0, d1, d2 = depth[mesh.triangles[hits]].T
        there = (s1[hits] * d0 + s2[hits] * d1 + s0[hits] * d2) / whole[hits]
        nearest = hits[there.argmax()]
        return int(mesh.part_of_triangle[nearest]), mesh.triangles[nearest]

    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        self._press, self._moved = event.position(), False
        found = self.label_at(event.position())
        free = event.button() == Qt.MouseButton.LeftButton and self.store.chosen.question is None
        size = found[1] if found and free else None
        self._grab = (
            self._taken(size, event.position(), "")
            if size is not None and size.path.startswith("stack.")
            else None
        )
        end = self.end_at(event.position()) if free and found is None else None
        if end is not None:
            self._grab = self._taken(end[0], event.position(), end[1])

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._press is None or not event.buttons():
            found = self.label_at(event.position())
            hover = found[1].path if found else None
            asked = self.store.chosen.question is not None
            end = None if asked or found else self.end_at(event.position())
            self.setCursor(
                Qt.CursorShape.CrossCursor
                if asked
                else Qt.CursorShape.IBeamCursor
                if found
                else Qt.CursorShape.OpenHandCursor
                if end is not None
                else Qt.CursorShape.ArrowCursor
            )
            grip = (end[0].path, end[1]) if end is not None else None
            if grip != self.grip:
                self.grip = grip
                self.update()
            if hover != self._hover:
                self._hover = hover
                self.update()
            return
        move = event.position() - self._press
        if not self._moved and move.manhattanLength() < 4:
            return
        self.close_editor()
        self._moved = True
        if self._grab is not None:
            self._pull(
                self._grab, event.position(), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            )
            return
        self._press = event.position()
        if self.camera.view == "turned" and event.buttons() & Qt.MouseButton.LeftButton:
            self.camera.azimuth += 0.4 * move.x()
            self.camera.elevation = min(89.0, max(-89.0, self.camera.elevation + 0.4 * move.y()))
        else:
            self.camera.pan(move.x(), move.y())
        self._invalidate("image")

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._press is not None and not self._moved:
            found = self.label_at(event.position())
            if self.store.chosen.question is not None:
                self._answer(event.position())
            elif found:
                self.open_editor(*found)
            elif self.editor is not None and self.editor.property("wrong"):
                pass  # what was refused stays to be mended; Escape leaves it
            elif self.sockets and (
                place := places.place_at(self.camera, self.theme, self.store.places, event.position())
            ):
                self.close_editor()
                self.store.choose_place(place)
            elif self.findings and (ident := self._finding_at(event.position())):
                self.close_editor()
                self.store.choose_finding(ident)
            else:
                self.close_editor()
                self.store.select_part(self.part_at(event.position()))
        self._press = self._grab = None

    def _finding_at(self, pos: QPointF) -> str:
        """The finding whose mark is under a point, or nothing."""
        rows = self.store.fit.findings if self.store.fit is not None else ()
        reach = self.theme.px(SIZE + 3)
        for f, at in zip(rows, spots(self.camera, rows), strict=True):
            if abs(at.x() - pos.x()) <= reach and abs(at.y() - pos.y()) <= reach:
                return f.id
        return ""

    def end_at(self, pos: QPointF) -> tuple[Dimension, str] | None:
        """The size whose end lies under a point, an edge of a plate or an end of a tube, and which end."""
        if self.camera.view == "turned":
            return None
        best: tuple[float, Dimension, str] | None = None
        for _, d in self._labels:
            if not d.path.startswith("stack."):
                continue
            for which, at in (("a", d.a), ("b", d.b)):
                x, y = (float(v) for v in self.camera.project(np.array([at]))[0])
                off = float(np.hypot(x - pos.x(), y - pos.y()))
                if off <= self.theme.px(GRIP) and (best is None or off < best[0]):
                    best = (off, d, which)
        return best[1:] if best is not None else None

    def _taken(self, d: Dimension, pos: QPointF, end: str) -> Grab | None:
        """A size taken by its figure or by an end: how the end follows the size is seen by trying it."""
        job, line = self.store.job, np.eye(3)["xyz".index(d.axis)]
        sign = 1.0 if (np.subtract(d.b, d.a) @ line) >= 0 else -1.0
        if not end:
            return Grab(d, pos, job, sign)
        try:
            before = float(edit.get(job, d.path))
            other = build(edit.put(job, d.path, before + TRY))
        except (edit.EditError, BuildError, TypeError):
            return None
        moved = next((e for e in other.dimensions if (e.path, e.name) == (d.path, d.name)), None)
        if moved is None:
            return None
        here, there = (np.array(getattr(x, end)) @ line for x in (d, moved))
        follows = float(there - here) / TRY
        if abs(follows) < 0.2:
            return None  # this end stands still; the other one moves
        parts = self.shown.parts
        whole = {
            SOLD.get(p.shape.stock.system, 6000.0)
            for p in parts
            if isinstance(p.shape, Bar) and d.path in p.paths and abs(cut_length(p.shape) - before) < 0.5
        }
        even = tuple(e for sold in whole for e in even_lengths(sold - TRIM, KERF))
        both = zip(snaps(self.shown, job.vehicle), snaps(other, job.vehicle), strict=False)
        still = [s for s, t in both if abs(float(np.subtract(s.at, t.at) @ line)) < 1e-6]
        return Grab(d, pos, job, follows, float(here), tuple(still), even)

    def _pull(self, grab: Grab, pos: QPointF, fine: bool) -> None:
        """A size follows the hand along its own line, in round steps; Shift: in fine ones."""
        d, job = grab.size, grab.job
        formula = edit.formula_of(job, d.path)
        if formula:
            self.tell(f"{d.name[0].upper()}{d.name[1:]} follows {formula}; type over it to set it free.")
            return
        right, up, _ = self.camera.axes()
        line = np.eye(3)["xyz".index(d.axis)]
        way = np.array([line @ right, -(line @ up)]) * self.camera.scale  # pixels for each mm
        if way @ way < 1e-6:
            return  # seen end on
        move = np.array([pos.x() - grab.at.x(), pos.y() - grab.at.y()])
        along = float(move @ way / (way @ way))
        step = (25.4 / (16 if fine else 4)) if job.units == "inch" else (0.5 if fine else 5.0)
        before, meets = float(edit.get(job, d.path)), ""
        value = round((before + along / grab.follows) / step) * step
        if not fine:
            reach = REACH / float(np.sqrt(way @ way))
            met = nearest(list(grab.snaps), d, grab.start + along, reach)
            even = min(grab.even, key=lambda e: abs(e[0] - before - along / grab.follows), default=None)
            if met is not None:
                value, meets = before + (met[0] - grab.start) / grab.follows, f", level with {met[1]}"
            elif even is not None and abs(even[0] - before - along / grab.follows) <= reach:
                value, meets = even[0], f", {even[1]}"
        value = round(value, 3)
        self.setCursor(Qt.CursorShape.ClosedHandCursor)
        try:
            self.store.drag(d.path, value, job)
        except edit.EditError as refusal:
            self.tell(str(refusal))
            return
        self.tell(f"{d.name} {edit.shown(self.store.job, d.path)}{meets}")

    def _answer(self, pos: QPointF) -> None:
        """A place was asked for, and this is where somebody clicked."""
        if self.store.chosen.question is None:
            return
        _, answer = self.store.chosen.question
        if isinstance(answer, tuple):
            number, take = answer
            found = self.behind.place_at(self.store, self.camera, number, pos, self.theme.px(GRIP))
            if found is None:
                self.tell("The backdrop is not under the pointer; click on it, or press Escape.")
                return
            self.store.ask_spot("", None)
            take(*found)
            return
        spot = self.spot_at(pos)
        if spot is None:
            self.tell("There is no part under the pointer; click on one, or press Escape.")
            return
        self.store.ask_spot("", None)
        answer(*spot)

    def mouseDoubleClickEvent(self, _: QMouseEvent) -> None:
        self.fit()

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.close_editor()
        at = np.array([event.position().x(), event.position().y()])
        factor = 1.0015 ** event.angleDelta().y()
        off = at - np.array(self.camera.size) / 2
        # keep what is under the pointer there: pan by what the zoom would shift it
        self.camera.scale = min(20.0, max(0.02, self.camera.scale * factor))
        self.camera.pan(*(off * (1 - factor)))
        self._invalidate("image")

    def leaveEvent(self, _: QEvent) -> None:
        self._hover = None
        self.update()
