"""Pieces: the drawing of each, and of each weldment, with where to put the tape."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QListWidget, QListWidgetItem

from urial.desk.scene.piece_view import PieceView
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import label
from urial.making.drawings import Drawing, Feature, drawings, figures
from urial.making.parts import parts_list
from urial.making.plan import called, things
from urial.making.setout import AXES, SetOut, set_out
from urial.shop.snapshot import usual

ROWS = 60
"""So many lines at most stand under the list; paper has all."""


class PiecesPage(Page):
    """Where do I put the tape on this piece?"""

    name = "Pieces"
    reads_plan = True
    question = "Where do I put the tape on this piece?"
    needs_part = True

    def fill(self) -> None:
        self.canvas = self.picture = PieceView(self.theme)
        self.list = QListWidget()
        self.list.setObjectName("pieces")
        self.list.setMinimumHeight(self.theme.px(170))
        self.list.setMaximumHeight(self.theme.px(230))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentRowChanged.connect(lambda _: self._shown())
        self.column.addWidget(self.list)
        self.datum = label("", "strong", wrap=True)
        self.mirror = label("", "problem", wrap=True)
        self.mirror.setText("Mirror pair: one as drawn, one mirrored. Mark each before it is drilled.")
        self.column.addWidget(self.datum)
        self.column.addWidget(self.mirror)
        self.lines = label("", "", wrap=True)
        self.lines.setObjectName("piece lines")
        self.column.addWidget(self.lines)
        self.made: tuple[Drawing | SetOut, ...] = ()
        self._of: object = None

    def refresh(self) -> None:
        v, making = self.store.verdict, self.store.making
        shop = making.work.shop if making.work is not None else usual()
        self.picture.length = lambda mm: self.length(mm).removesuffix(" mm")
        key = (id(v.assembly), shop, self.store.job.units, self.store.job.nearest)
        if key != self._of:
            self._of = key
            rows = parts_list(v.assembly)
            welded = [k for k in things(v.assembly) if len(k) > 1]
            self.made = (
                *drawings(v.assembly, rows, shop),
                *(set_out(v.assembly, called(v.assembly, k), k) for k in welded),
            )
            self._offer()
        self._shown()

    def _offer(self) -> None:
        here = self.list.currentItem()
        was = here.text() if here is not None else ""
        self.list.blockSignals(True)
        self.list.clear()
        for d in self.made:
            words = f"Set-out of the {d.name}" if isinstance(d, SetOut) else f"{d.mark}   {d.qty} × {d.name}"
            self.list.addItem(QListWidgetItem(words))
        same = next((n for n in range(len(self.made)) if self.list.item(n).text() == was), None)
        first = next((n for n, d in enumerate(self.made) if isinstance(d, Drawing) and d.views), 0)
        self.list.setCurrentRow(same if same is not None else first)
        self.list.blockSignals(False)

    def choose(self, mark: str) -> None:
        """Show the piece of a mark."""
        for n, d in enumerate(self.made):
            if isinstance(d, Drawing) and d.mark == mark:
                self.list.setCurrentRow(n)

    def _shown(self) -> None:
        n = self.list.currentRow()
        shown = self.made[n] if 0 <= n < len(self.made) else None
        self.picture.show_piece(shown)
        said: list[str] = []
        self.mirror.setVisible(isinstance(shown, Drawing) and shown.mirror)
        if isinstance(shown, Drawing):
            said = self._piece(shown)
        elif shown is not None:
            said = self._weldment(shown)
        else:
            self.datum.setText("")
        self.lines.setText("\n".join(said))
        self.grow()

    def _piece(self, d: Drawing) -> list[str]:
        size = self.length(d.long) + (f" × {self.length(d.wide)}" if d.kind == "plate" else "")
        self.datum.setText(f"{self.store.said(d.stock, beside=True)}, {size}. Hook the tape on: {d.datum}.")
        said = [
            f"{e.which.capitalize()} end: {self.store.said(e.words)}." for e in d.ends if e.kind != "square"
        ]
        said += [self.store.said(note) for note in d.notes]
        said += [self._line(f) for f in d.features[:ROWS]]
        if len(d.features) > ROWS:
            said.append(f"And {len(d.features) - ROWS} more on paper.")
        return said

    def _line(self, f: Feature) -> str:
        face = f"face {f.view}, " if len(f.view) == 1 else ""
        along = f"{self.length(f.along)} along" if f.along is not None else ""
        up = f", {self.length(f.up)} up" if f.up is not None else ""
        words = f"; {self.store.said(f.words)}" if f.words else ""
        return f"{f.which}  {face}{along}{up}, {figures(f, self.length)}".rstrip(", ") + words

    def _weldment(self, s: SetOut) -> list[str]:
        long, wide, high = (self.length(x) for x in s.size)
        self.datum.setText(f"Over all {long} × {wide} × {high}. Every figure {', '.join(AXES)}.")
        said = [f"Diagonal {self.length(mm)}: {name}." for name, mm in s.diagonals]
        for n in s.laid:
            spans = "; ".join(f"{self.length(a)} to {self.length(b)}" for a, b in n.spans)
            said.append(f"{n.mark}  {n.name}: {spans}")
        return said


__all__ = ["PiecesPage"]
