"""A plate cut to an outline out of a file: read beside the window, looked at over the plate, scaled, its
islands bridged, then taken in as a change of its piece.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urial import units
from urial.assembly.model import BuildError, Part
from urial.desk.scene.outline_view import OutlineView
from urial.desk.store import Store
from urial.desk.theme import Theme
from urial.desk.widgets.fields import label
from urial.desk.worker import Failed, Worker
from urial.families import build
from urial.geometry.fitted import NoOutline
from urial.geometry.shape import Plate
from urial.job import edit
from urial.job.change import OutlineAs
from urial.measure.outline_file import Traced, bridged, faults, read
from urial.measure.taken import BackdropError
from urial.pieces.outlined import laid, outline_change
from urial.pieces.spots import Refused
from urial.shop.snapshot import usual

KINDS = "Outlines (*.dxf *.svg *.png *.jpg *.jpeg *.bmp *.tif *.tiff)"
FEW = 6
"""So many faults are told in words."""


class OutlineCard(QDialog):
    """Of one plate; ``change`` is what was taken in."""

    def __init__(self, store: Store, theme: Theme, part: Part, path: Path, parent: QWidget) -> None:
        super().__init__(parent)
        assert isinstance(part.shape, Plate)
        self.store, self.theme, self.part, self.path = store, theme, part, path
        self.change: OutlineAs | None = None
        self.first: Traced | None = None
        self.now: Traced | None = None
        self.setWindowTitle(f"Outline for the {part.name}")
        self.resize(theme.px(900), theme.px(600))
        row = QHBoxLayout(self)
        self.view = OutlineView(theme)
        self.view.waiting = f"Reading {path.name}…"
        self.view.show_plate(part.shape)
        self.view.marked.connect(self._marked)
        row.addWidget(self.view, 3)
        row.addLayout(self._side(), 2)
        self._worker = Worker(self, self._read)

        def work(stale: Callable[[], bool]) -> object:
            try:
                return read(path, stale)
            except BackdropError as words:
                return words

        self._worker.ask(work)

    def _side(self) -> QVBoxLayout:
        """What is said of the outline, and what may be typed."""
        side = QVBoxLayout()
        side.addWidget(
            label(
                "Grey dashes: the plate as it is. Its holes and welds stay where they are.",
                "quiet",
                wrap=True,
            )
        )
        self.sized = label("", "head", wrap=True)
        self.sized.setObjectName("outline size")
        side.addWidget(self.sized)
        grid = QGridLayout()
        self.wide = self._line("outline wide", "the whole outline is wide", grid, 0)
        self.apart = self._line("outline apart", "two clicked places are apart", grid, 1)
        self.turn = self._line("outline turn", "turned, degrees", grid, 2)
        self.bridge = self._line("outline bridge", "islands held by bridges of", grid, 3)
        side.addLayout(grid)
        self.wide.returnPressed.connect(self._widened)
        self.apart.returnPressed.connect(self._spread)
        self.turn.returnPressed.connect(self._turned)
        self.bridge.returnPressed.connect(self._bridged)
        self.over = QPushButton("Turn it over")
        self.over.setObjectName("outline over")
        self.over.setCheckable(True)
        self.over.setAutoDefault(False)  # Enter belongs to what is typed
        self.over.toggled.connect(lambda _: self._show())
        side.addWidget(self.over)
        self.told = label("", "", wrap=True)
        self.told.setObjectName("outline told")
        side.addWidget(self.told)
        self.problem = label("", "problem", wrap=True)
        self.problem.setObjectName("outline problem")
        side.addWidget(self.problem)
        side.addStretch(1)
        side.addLayout(self._ends())
        return side

    def _ends(self) -> QHBoxLayout:
        ends = QHBoxLayout()
        self.take = QPushButton("Cut it so")
        self.take.setObjectName("outline take")
        self.take.setEnabled(False)
        self.take.setDefault(False)
        self.take.setAutoDefault(False)
        self.take.clicked.connect(self._take)
        leave = QPushButton("Leave it")
        leave.setObjectName("outline leave")
        leave.setAutoDefault(False)
        leave.clicked.connect(self.reject)
        ends.addWidget(leave)
        ends.addWidget(self.take)
        return ends

    def _line(self, name: str, words: str, grid: QGridLayout, row: int) -> QLineEdit:
        line = QLineEdit()
        line.setObjectName(name)
        line.setAccessibleName(words)
        grid.addWidget(label(words, "", wrap=True), row, 0)
        grid.addWidget(line, row, 1)
        return line

    def reject(self) -> None:
        self._worker.drop()
        super().reject()

    # ---- what was read

    def _read(self, found: object) -> None:
        if not isinstance(found, Traced):
            words = str(found) if isinstance(found, BackdropError) else f"{self.path.name} could not be read."
            assert isinstance(found, (BackdropError, Failed)) or found is None
            self.view.waiting = ""
            self.view.update()
            self._say(words)
            return
        self.first = self.now = found
        try:
            self.change = outline_change(self.part, found)
        except Refused as why:
            self._say(str(why))
            return
        self.over.blockSignals(True)
        self.over.setChecked(self.change.over)
        self.over.blockSignals(False)
        self._show()

    def _say(self, words: str) -> None:
        self.problem.setText(self.store.said(words))

    def _length(self, mm: float) -> str:
        return units.show(mm, "length", self.store.job.units, self.store.job.nearest)

    def _laid(self) -> Traced | None:
        """The outline in the plate's own plane, as the change has it."""
        if self.change is None or self.now is None:
            return None
        shape = self.part.shape
        assert isinstance(shape, Plate)
        rim, holes, openings = laid(self.change, shape, self.now.islands)
        many = len(self.change.windows)
        return replace(self.now, rim=rim, holes=holes, windows=openings[:many], islands=openings[many:])

    def _show(self) -> None:
        if self.change is None or self.now is None:
            return
        self.change = self.change.model_copy(
            update={
                "over": self.over.isChecked(),
                "rim": self.now.rim,
                "holes": self.now.holes,
                "windows": self.now.windows,
            }
        )
        lying = self._laid()
        assert lying is not None
        shape = self.part.shape
        assert isinstance(shape, Plate)
        work = self.store.making.work
        kerf = (work.shop if work is not None else usual()).table.kerf_mm
        found = faults(lying, shape.t / self.part.layers, kerf)
        self.view.show_outline(lying, found)
        c = self.change
        high = self.now.size[1] * c.wide_mm / self.now.size[0]
        arcs = sum(bool(b) for _, _, b in self.now.rim)
        self.sized.setText(
            f"{self._length(c.wide_mm)} × {self._length(high)}, {len(self.now.rim)} edges, {arcs} of them "
            f"arcs, {len(self.now.holes)} holes, {len(self.now.windows)} openings"
        )
        for line, text in (
            (self.wide, self._length(c.wide_mm)),
            (self.turn, f"{c.turn_deg:g}"),
        ):
            if not line.hasFocus() or not line.isModified():
                line.setText(text)
        self.bridge.setEnabled(bool(self.now.islands))
        words = [f"{n}  {self.store.said(f.words)}" for n, f in enumerate(found[:FEW], 1)]
        if len(found) > FEW:
            words.append(f"and {len(found) - FEW} more")
        if self.now.others:
            words.append(f"The largest piece of the file; {self.now.others} beside it are left out.")
        self.told.setText("\n".join(words))
        self._say(self._refusal())
        self.take.setEnabled(not self.problem.text())

    def _refusal(self) -> str:
        """Why the plate cannot be cut so; nothing where it can."""
        assert self.change is not None
        piece = self.store.job.numbered(self.part.piece)
        if piece is None:
            return "Its piece was taken off meanwhile."
        path = f"stack.{piece.id}.changes"
        try:
            built = build(edit.put(self.store.job, path, (*piece.changes, self.change)))
        except (edit.EditError, BuildError) as why:
            return str(why)
        mine = f"Change {len(piece.changes) + 1},"
        said = next((w for w in built.warnings if w.startswith(mine)), "")
        return said.partition("left out: ")[2]

    # ---- what is asked of it

    def _put(self, **more: object) -> None:
        if self.change is not None:
            self.change = self.change.model_copy(update=more)
            self._show()

    def _figure(self, line: QLineEdit, kind: units.Kind, low: float, high: float) -> float | None:
        try:
            value = units.parse(line.text(), kind, self.store.job.units)
        except units.UnitError as error:
            self._say(str(error))
            return None
        if not low <= value <= high:
            self._say(f"Between {low:g} and {high:g}, please.")
            return None
        line.setModified(False)
        return value

    def _widened(self) -> None:
        value = self._figure(self.wide, "length", 1.0, 20_000.0)
        if value is not None:
            self._put(wide_mm=value)

    def _turned(self) -> None:
        value = self._figure(self.turn, "angle", -360.0, 360.0)
        if value is not None:
            self._put(turn_deg=value)

    def _marked(self, x: float, y: float) -> None:
        marks = self.view.marks if len(self.view.marks) < 2 else []
        self.view.marks = [*marks, (x, y)]
        self.view.update()
        if len(self.view.marks) == 2:
            (a, b), (c, d) = self.view.marks
            self.apart.setText(self._length(math.hypot(c - a, d - b)))
            self.apart.setFocus()
            self.apart.selectAll()

    def _spread(self) -> None:
        if len(self.view.marks) != 2 or self.change is None:
            self._say("Click two places of the outline first, then say how far they are apart.")
            return
        value = self._figure(self.apart, "length", 0.5, 20_000.0)
        (a, b), (c, d) = self.view.marks
        seen = math.hypot(c - a, d - b)
        if value is not None and seen > 1e-6:
            wide = self.change.wide_mm * value / seen
            if not 1.0 <= wide <= 20_000.0:
                self._say("That makes it smaller than a millimetre or larger than 20 m.")
                return
            self.view.marks = []
            self._put(wide_mm=wide)

    def _bridged(self) -> None:
        value = self._figure(self.bridge, "length", 0.5, 1000.0)
        if value is None or self.first is None or self.change is None:
            return
        scale = self.change.wide_mm / self.first.size[0]
        try:
            self.now = bridged(self.first, value / scale)
        except NoOutline as why:
            self._say(f"It {why}.")
            return
        self._show()

    def _take(self) -> None:
        self.accept()


__all__ = ["KINDS", "OutlineCard"]
