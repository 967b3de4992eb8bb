"""The scene: solids by VTK under one of four cameras, and over them, drawn by Qt at screen resolution, the
vehicle, dimensions that can be clicked and typed over, load arrows, and labels."""

from __future__ import annotations

import logging
import time
from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import QRectF, Qt, QTimer, Signal
from PySide6.QtGui import (
    QColor,
    QImage,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
    QResizeEvent,
)
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QWidget

from urial import units
from urial.assembly import bodies
from urial.assembly.model import Assembly
from urial.desk.scene import labels, picture, places
from urial.desk.scene.arrows import paint_arrows
from urial.desk.scene.behind import Behinds
from urial.desk.scene.board import Stale
from urial.desk.scene.camera import VIEWS, Camera
from urial.desk.scene.easel import Easel
from urial.desk.scene.findings import paint_findings
from urial.desk.scene.gaps import paint_gaps
from urial.desk.scene.hands import Hands
from urial.desk.scene.host import paint_carried, paint_keep_outs, paint_outline
from urial.desk.scene.survey import paint_survey
from urial.desk.scene.typing_over import TypesOver
from urial.desk.store import Store
from urial.desk.theme import Theme, rgb
from urial.desk.widgets.plain import plain
from urial.fit.clearance import gaps
from urial.fit.steps import taken_off
from urial.job.host import Vehicle
from urial.loads.duties import carried
from urial.measure import drawing, keepout

if TYPE_CHECKING:
    from urial.desk.scene.render import Renderer
    from urial.strength.restraint import Restraint

log = logging.getLogger("urial")


SHARP = 1.5
"""Pixels of the sharp picture for each pixel of the window, along each side."""

COARSE = 0.6
"""The same while a hand drags or an edit settles, on a machine that would lag behind otherwise."""
LAG = 0.008
"""Seconds that the solids may take: beyond it a hand is not followed sixty times a second."""


class Scene(Hands, TypesOver):
    """The true-scale thing, dimensioned, always."""

    drawn = Signal()

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        self.setObjectName("scene")
        self.setAccessibleName("Drawing of the part on the vehicle")
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.camera = Camera()
        self.renderer: Renderer | None = None
        self.mesh: bodies.Mesh | None = None
        self.image: QImage | None = None
        self.show_paint, self.show_deflection = True, False
        self._stale: set[Stale] = {"geometry", "paint", "image"}
        self._labels = []
        self._press = self._grab = self.grip = None
        self._moved = False
        self._hover = None
        self._fitted = False
        self._lags = False  # whether this machine draws too slowly to follow the hand in full
        self.wide = self.whole = self.marks = False
        self.arrows = self.framed = True
        self.survey = self.sockets = self.findings = False
        self.behind = Behinds(self, self._behind_read)
        self.off = 0.0  # so many things are taken off, as the order has it
        self.soft: Restraint | None = None  # the softest motion, while it is shown
        self.swing = QTimer(self)
        self.swing.setInterval(40)
        self.swing.timeout.connect(self._swing)
        self._phase = 0.0
        self._touched: tuple[object, frozenset[str]] = (None, frozenset())
        self._kept: tuple[object, QPixmap] | None = None
        self.rest = QTimer(self)
        self.rest.setSingleShot(True)
        self.rest.setInterval(140)
        self.rest.timeout.connect(self._rested)
        self.editor = None
        self.problem = QLabel(self)
        self.problem.setTextFormat(Qt.TextFormat.PlainText)
        self.problem.setProperty("role", "problem")
        self.problem.setWordWrap(True)
        self.problem.setAutoFillBackground(True)
        self.problem.hide()
        self.told = QLabel(self)
        self.told.setObjectName("told")
        self.told.setTextFormat(Qt.TextFormat.PlainText)
        self.told.setProperty("role", "told")
        self.told.hide()
        self._telling = QTimer(self)
        self._telling.setSingleShot(True)
        self._telling.setInterval(3000)
        self._telling.timeout.connect(self.told.hide)
        self._bar()
        store.changed.connect(self._job_changed)
        store.selected.connect(lambda: self._invalidate("paint"))
        store.pointed.connect(self.update)
        store.placed.connect(self.update)
        store.spot.connect(self._question)
        store.looked.connect(self.look_at)
        store.shaped.connect(self._shaped)
        store.answered.connect(self._answered)
        store.case_changed.connect(lambda: self._invalidate("geometry" if self.show_deflection else "none"))

    def _answered(self, name: str) -> None:
        if name == "fit":
            self.update()

    def tell(self, words: str) -> None:
        """Say what has just been done, for three seconds."""
        self.told.setText(words)
        self.told.adjustSize()
        self.told.move(
            (self.width() - self.told.width()) // 2, self.height() - self.told.height() - self.theme.px(34)
        )
        self.told.show()
        self.told.raise_()
        self._telling.start()

    def _question(self) -> None:
        """Ask for a place, and go on asking until it is clicked or taken back."""
        if self.store.chosen.question is None:
            self.told.hide()
            return
        self.tell(self.store.chosen.question[0])
        self._telling.stop()
        self.setFocus()

    def _bar(self) -> None:
        self.bar = QWidget(self)
        row = QHBoxLayout(self.bar)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self.view_buttons: dict[str, QPushButton] = {}
        for view in VIEWS:
            button = QPushButton(view.capitalize())
            button.setCheckable(True)
            button.setProperty("segment", True)
            button.setObjectName(f"view:{view}")
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.clicked.connect(lambda _=False, v=view: self.set_view(v))
            row.addWidget(button)
            self.view_buttons[view] = button
        row.addSpacing(10)
        self.paint_button, self.bend_button = QPushButton("Paint"), QPushButton("Bent")
        for button, tip, slot in (
            (self.paint_button, "Paint parts by how near they are to their limit", self.toggle_paint),
            (self.bend_button, "Show the shape under load, enlarged", self.toggle_deflection),
        ):
            button.setCheckable(True)
            button.setProperty("segment", True)
            button.setToolTip(plain(tip))
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.clicked.connect(slot)
            row.addWidget(button)
        self.paint_button.setChecked(True)
        self.view_buttons["side"].setChecked(True)

    # ---- what is shown

    def attach(self, renderer: Renderer) -> None:
        """VTK has arrived."""
        self.renderer = renderer
        self.behind.eye = type(renderer)
        renderer.set_ink(self.theme.palette.ink if self.theme.palette.paper > "#8" else "#0C1012")
        self._invalidate("geometry")

    def set_view(self, view: str) -> None:
        """Change the camera."""
        self.close_editor()
        self.camera.view = view
        for name, button in self.view_buttons.items():
            button.setChecked(name == view)
        self.fit()

    def next_view(self) -> None:
        """The next of the four."""
        self.set_view(VIEWS[(VIEWS.index(self.camera.view) + 1) % len(VIEWS)])

    def toggle_paint(self) -> None:
        """Paint by utilisation, or bare steel."""
        self.show_paint = not self.show_paint
        self.paint_button.setChecked(self.show_paint)
        self._invalidate("paint")

    def toggle_deflection(self) -> None:
        """Straight, or bent as under the shown case."""
        self.show_deflection = not self.show_deflection and self._bends
        self.bend_button.setChecked(self.show_deflection)
        self._invalidate("geometry")

    @property
    def _bends(self) -> bool:
        """Is there anything to show bent: a part that something is asked of, judged as it stands?"""
        verdict = self.store.verdict
        return verdict.forces is not None and bool(verdict.cases) and self.store.shape is None

    def take_apart(self, off: float) -> None:
        """Draw so many things taken off, each along the way it comes off; 0 is together."""
        if off != self.off:
            self.off = off
            self._invalidate("geometry")

    def show_swing(self, soft: Restraint | None) -> None:
        """Let the part swing in its softest motion, or stop."""
        self.soft, self._phase = soft, 0.0
        if soft is None:
            self.swing.stop()
        else:
            self.swing.start()
        self.update()

    def _swing(self) -> None:
        self._phase += 0.18
        self.update()

    def fit(self) -> None:
        """Show the whole part with room for its dimensions."""
        self.camera.size = (max(self.width(), 50), max(self.height(), 50))
        self.look_at(self._surroundings(self._mesh().points))

    def look_at(self, points: np.ndarray) -> None:
        """Fill the drawing with some places (n, 3)."""
        px = self.theme.px
        margins = {
            "side": (66, 64, 110, 126),
            "rear": (80, 84, 50, 60),
            "top": (56, 64, 100, 104),
            "turned": (40, 56, 40, 36),
        }[self.camera.view]
        self.camera.fit(points, tuple(px(m) / (1 + 0.3 * (self.theme.scale > 1)) for m in margins))  # type: ignore[arg-type]
        self._invalidate("image")

    def _surroundings(self, points: np.ndarray) -> np.ndarray:
        """What belongs in the picture: the part and the rails just ahead of it; wide, the host's rear;
        without a part, all of it.
        """
        host = self.store.job.vehicle
        acting = (
            [np.array([at for at, _ in c.pulls]) for c in self.store.verdict.cases if c.pulls]
            if self.arrows
            else []
        )
        if self.whole or not points.size:
            lines = [line for rows in drawing.outline(host).values() for line in rows]
            rooms = [
                np.array(keepout.solid(k, host).bounding_box()).reshape(2, 3)
                for k in self.store.job.survey.keep_outs
            ]
            return np.concatenate([*lines, *rooms, *acting, *self.behind.boxes(self.store), np.zeros((1, 3))])
        out = [points, *acting, *(self.behind.boxes(self.store) if self.wide else [])]
        if isinstance(host, Vehicle):
            ahead, face = points[:, 0].max() + 60, host.rail_spacing_mm / 2
            out.append(
                np.array(
                    [
                        (ahead, face, host.rail_bottom_mm),
                        (ahead, -face, host.rail_bottom_mm + host.rail_height_mm),
                        (points[:, 0].min(), 0, points[:, 2].min() - 40),
                    ]
                )
            )
            if self.wide:
                r, half = host.tyre_mm / 2, host.track_mm / 2 + host.tyre_width_mm / 2
                out.append(
                    np.array(
                        [
                            (-r * 0.4, half, 0),
                            (-r, -half, host.tyre_mm),
                            (-host.rear_overhang_mm, 0, host.bumper_bottom_mm + host.bumper_height_mm),
                        ]
                    )
                )
        return np.concatenate(out)

    @property
    def shown(self) -> Assembly:
        """What is drawn: the newest shape that could be built, judged or not yet."""
        return self.store.shape or self.store.verdict.assembly

    def _behind_read(self) -> None:
        """A large backdrop is there."""
        self._kept = None
        if self.wide:
            self.fit()
        self.update()

    def _mesh(self) -> bodies.Mesh:
        if self.mesh is None:
            self.mesh = bodies.picture(self.shown)
        return self.mesh

    def _shaped(self) -> None:
        """An edit is built: draw it, its paint as it was until it is judged."""
        self.mesh = None
        self._invalidate("geometry")

    def _job_changed(self) -> None:
        self.close_editor()
        self.mesh = None
        self.show_swing(None)
        if (not self._fitted or not self.store.has_part) and self.isVisible():
            self.fit()
        self._invalidate("geometry")

    def _invalidate(self, what: Stale) -> None:
        follows: dict[Stale, set[Stale]] = {
            "geometry": {"geometry", "paint", "image"},
            "paint": {"paint", "image"},
            "image": {"image"},
            "none": set(),
        }
        self._stale |= follows[what]
        self.update()
        if self.renderer is not None:
            self.rest.start()

    # ---- drawing

    def _case_number(self) -> int:
        ids = [c.id for c in self.store.verdict.cases]
        return ids.index(self.store.shown_case())

    def _begin_image(self, fine: bool) -> bool:
        """Have the solids drawn as they stand now, if there are any."""
        mesh = self._mesh()
        if self.renderer is None or not mesh.triangles.size:
            self.image = None
            return False
        verdict = self.store.verdict
        if "geometry" in self._stale:
            points = None
            if self.show_deflection and self._bends:
                case = self._case_number()
                points = picture.displaced(verdict, mesh, case, picture.exaggeration(verdict, case))
            if self.off and self.store.fit is not None:
                moved = taken_off(self.shown, self.store.fit.steps, self.off)
                by = np.array([moved.get(q.key, (0.0, 0.0, 0.0)) for q in self.shown.parts])
                points = mesh.points + by[mesh.part_of_point]
            self.renderer.set_mesh(mesh, points)
        if "paint" in self._stale or "geometry" in self._stale:
            self.renderer.set_colours(self._colours(mesh))
        # sharp by drawing larger and painting smaller: half the time of the renderer's own smoothing
        grain = SHARP if fine else COARSE if self._lags else 1.0
        self.renderer.draw(self.camera, grain * self.devicePixelRatioF(), fine)
        self._stale.clear()
        return True

    def _colours(self, mesh: bodies.Mesh) -> np.ndarray:
        used = self.store.verdict.part_utilisation()
        rows = []
        for part in self.shown.parts:
            colour = np.array(self.theme.ramp(used.get(part.mark, 0.0) if self.show_paint else 0.0))
            if part.mark in self._marks(self.store.chosen.part):
                colour = 0.55 * colour + 0.45 * np.array(rgb(self.theme.palette.touch))
            rows.append(colour)
        return (255 * np.array(rows)[mesh.part_of_point]).astype(np.uint8)

    def _marks(self, mark: str | None) -> tuple[str, ...]:
        return (mark,) if mark else ()

    def _rested(self) -> None:
        """Time for the sharp picture, but not while an edit is being judged: each would hold the other up."""
        if self.store.reckoning:
            self.rest.start()
        else:
            self._draw_fine()

    def _draw_fine(self) -> None:
        try:
            if self._begin_image(fine=True) and self.renderer is not None:
                self.image = self.renderer.drawn()
        except Exception:  # a broken graphics driver must not take the window down; the flat drawing remains
            log.exception("drawing")
            self.renderer = None
        self.update()
        self.drawn.emit()

    def settle(self) -> None:
        """Draw finely now (for pictures and tests)."""
        self.rest.stop()
        if not self._fitted:
            self._fitted = True
            self.fit()
        self._draw_fine()

    @property
    def _dragged(self) -> bool:
        return self._moved and self._press is not None

    def paintEvent(self, _: QPaintEvent) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = self.theme
        job = self.store.job
        dragged = self._dragged
        # the solids are drawn by other threads while what is behind them is painted here
        start = time.perf_counter()
        begun = (self.image is None or "image" in self._stale) and self._begin_image(fine=False)
        spent = time.perf_counter() - start
        self._paper(p, dragged)
        chosen = self.store.chosen.keep_out if self.survey else None
        spun = dragged and self.camera.view == "turned"
        # words that whirl are read by nobody: they are back as soon as the view rests
        over = Easel(p, self.camera, t, job, spun, not spun)
        under = replace(over, named=self.survey and not spun)
        paint_keep_outs(under, self.touched, chosen=chosen)
        self._paint_solids(p, begun, spent, dragged)
        paint_keep_outs(over, self.touched, over=True, chosen=chosen)
        if job.duties:
            paint_carried(
                replace(over, named=self.arrows and not spun), carried(job, self.store.verdict.assembly)
            )
        if self.store.refusal:  # the last shape that could be built, dimmed
            veil = QColor(t.palette.card)
            veil.setAlpha(165)
            p.fillRect(self.rect(), veil)
        if self.store.ghost is not None:
            labels.paint_ghost(self, p, self.store.ghost)
        self._labels = labels.paint_dimensions(self, p)
        over.taken.extend(box for box, _ in self._labels)
        labels.paint_grip(self, p)
        if self.survey:
            paint_survey(over, self.store.chosen.field)
            self.behind.paint_known(over, self.store)
        over.letter()
        self._paint_results(p, over)
        labels.paint_title(self, p)
        labels.paint_refusal(self, p)
        p.setPen(QPen(QColor(t.palette.touch if self.hasFocus() else t.palette.line), 1))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(self.rect().adjusted(0, 0, -1, -1))
        self.store.drawn()

    def _paint_solids(self, p: QPainter, begun: bool, spent: float, dragged: bool) -> None:
        """The picture of the solids, or the flat drawing where nothing draws them; ``spent`` seconds went on
        beginning it.
        """
        if self.renderer is not None and self._mesh().triangles.size:
            if begun:
                start = time.perf_counter()
                self.image = self.renderer.drawn()
                spent += time.perf_counter() - start
                # a coarse picture that is very quick tells of one hitch, like the first picture's
                self._lags = spent > (LAG / 4 if self._lags else LAG)
            if self.image is not None:
                p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, not dragged)
                p.drawImage(QRectF(self.rect()), self.image)
        elif self._fitted and self.mesh is not None and self.camera.view != "turned":
            labels.paint_flat(self, p)

    def _paint_results(self, p: QPainter, over: Easel) -> None:
        """Forces, marks, places, findings, gaps, the swing, as they are switched on."""
        t = self.theme
        if self.arrows and self.store.verdict.cases:
            paint_arrows(
                p,
                self.camera,
                t,
                self.store.verdict,
                self.store.shown_swing() or self._case_number(),
                (over.taken, self.width()),
            )
        if self.marks:
            labels.paint_marks(self, p)
        if self.sockets and not self.store.refusal:
            places.paint_places(
                p,
                self.camera,
                t,
                self.store.places,
                self.store.chosen.place,
                over.taken,
            )
        if self.findings and self.store.fit is not None and not self.off and not self.store.refusal:
            rows, ident = self.store.fit.findings, self.store.chosen.finding
            words = next((f.remedy or f.words for f in rows if f.id == ident), "")
            paint_findings(p, self.camera, t, rows, ident, self.store.said(words))
        if self.store.job.clearances and not (self.survey or self.off or self.store.refusal):
            paint_gaps(p, self.camera, t, gaps(self.store.job, self.store.verdict.assembly), self._length)
        if self.soft is not None and self.store.has_part:
            places.paint_swing(p, self.camera, t, self.store.verdict, self.soft, self._phase)

    def _length(self, mm: float) -> str:
        """A length as this job writes it."""
        return units.show(mm, "length", self.store.job.units, self.store.job.nearest)

    @property
    def touched(self) -> frozenset[str]:
        """Names of the keep-outs that a part comes too near; found once a verdict."""
        v = self.store.verdict
        if self._touched[0] is not v:
            self._touched = (
                v,
                frozenset(c.keep.name for c in keepout.clashes(v.job, v.assembly))
                if v.assembly.parts
                else frozenset(),
            )
        return self._touched[1]

    def _paper(self, p: QPainter, moving: bool) -> None:
        """The paper with host and backdrops, kept while neither they nor the camera move."""
        t, job, c = self.theme, self.store.job, self.camera
        strong, size = self.survey or not self.store.has_part, (self.width(), self.height())
        if moving:
            p.fillRect(self.rect(), QColor(t.palette.card))
            moved = Easel(p, c, t, job, moving=True)
            paint_outline(moved, strong)
            self.behind.paint(moved, self.store)
            return
        inside = any(getattr(q.values, "plates_on", "") == "inside" for q in job.stack)
        key = (
            job.vehicle,
            job.survey.backdrops,
            self.renderer is None,
            inside,
            strong,
            size,
            c.view,
            tuple(c.focus),
            c.scale,
            c.azimuth,
            c.elevation,
            t.palette.card,
            t.scale,
            self.devicePixelRatioF(),
        )
        if self._kept is None or self._kept[0] != key:
            picture_ = QPixmap(self.size() * self.devicePixelRatioF())
            picture_.setDevicePixelRatio(self.devicePixelRatioF())
            picture_.fill(QColor(t.palette.card))
            q = QPainter(picture_)
            q.setRenderHint(QPainter.RenderHint.Antialiasing)
            still = Easel(q, c, t, job)
            paint_outline(still, strong)
            self.behind.paint(still, self.store)
            q.end()
            self._kept = (key, picture_)
        p.drawPixmap(0, 0, self._kept[1])

    def resizeEvent(self, event: QResizeEvent) -> None:
        self.bar.adjustSize()
        self.bar.move(self.width() - self.bar.sizeHint().width() - self.theme.px(8), self.theme.px(8))
        self.camera.size = (self.width(), self.height())
        if event.size().width() > 100:
            self._fitted = True
            self.fit()
