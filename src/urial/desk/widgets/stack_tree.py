"""What stands on what: the host, each piece on it, each place still open, as a tree one can work on."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from urial import units
from urial.assembly import bodies
from urial.desk.store import Store
from urial.desk.theme import Theme
from urial.desk.widgets.fields import clear, label
from urial.desk.widgets.plain import plain
from urial.families import _stack as stack
from urial.families.registry import families
from urial.job.model import Piece


class StackTree(QWidget):
    """Signals: a piece chosen, an open place chosen, a piece to take off, to swap, or to move along (−1
    forward, 1 rearward)."""

    chosen = Signal(str)
    opened = Signal(object)
    off = Signal(str)
    swapped = Signal(str)
    moved = Signal(str, float)

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        self.setObjectName("stack")
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, theme.px(4))
        self.column.setSpacing(0)
        self._shown: object = None

    def refresh(self, piece: str) -> None:
        """Show the stack as it is, one piece chosen."""
        job, places = self.store.job, self.store.places
        masses = self._masses()
        shown = (
            job.vehicle.name,
            tuple((p.id, p.family, p.on) for p in job.stack),
            places,
            piece,
            tuple(sorted(masses.items())),
            self.store.chosen.place,
            job.units,
        )
        if shown == self._shown:
            return
        self._shown = shown
        clear(self.column)
        self.column.addWidget(self._line(0, label(f"●  {job.vehicle.name}", "strong")))
        self._under("host", 1, piece, masses)

    def _masses(self) -> dict[str, tuple[float, int]]:
        out: dict[str, tuple[float, int]] = {}
        for p in self.store.verdict.assembly.parts:
            kg, n = out.get(p.piece, (0.0, 0))
            out[p.piece] = (kg + bodies.mass(p), n + (0 if p.hardware else 1))
        return out

    def _under(self, on: str, depth: int, chosen: str, masses: dict[str, tuple[float, int]]) -> None:
        for p in self.store.job.stack:
            if p.on == on:
                self.column.addWidget(self._line(depth, *self._piece(p, p.id == chosen, masses.get(p.id))))
                self._under(p.id, depth + 1, chosen, masses)
        for place in self.store.places:
            if place.on == on:
                self.column.addWidget(self._line(depth, self._place(place)))

    def _piece(self, p: Piece, chosen: bool, mass: tuple[float, int] | None) -> tuple[QWidget, ...]:
        title = families()[p.family].title
        weighs = f"   {units.show(mass[0], 'mass', self.store.job.units)}" if mass else ""
        made = f", made of {mass[1]} part{'s' if mass[1] != 1 else ''}" if mass else ""
        name = self._button(
            f"●  {title}{weighs}",
            f"piece:{p.id}",
            lambda: self.chosen.emit(p.id),
            f"Show the sizes of the {title.lower()}{made}",
        )
        name.setSizePolicy(
            QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed
        )  # it gives way to what stands beside it
        name.setChecked(chosen)
        swap = self._button(
            "Swap",
            f"swap:{p.id}",
            lambda: self.swapped.emit(p.id),
            f"See what else could go where the {title.lower()} is",
        )
        off = self._button(
            "Take off",
            f"off:{p.id}",
            lambda: self.off.emit(p.id),
            f"Take the {title.lower()} off, and what stands on it",
        )
        moves = []
        if "along_mm" in type(p.values).model_fields:
            for sign, words, way in ((-1.0, "◂", "forward"), (1.0, "▸", "rearward")):
                moves.append(
                    self._button(
                        words,
                        f"move:{p.id}:{way}",
                        lambda _=False, k=sign: self.moved.emit(p.id, k),
                        f"Move it along, {way}",
                    )
                )
        for b in (swap, off, *moves):
            b.setCheckable(False)
        return name, *moves, swap, off

    def _place(self, place: stack.Open) -> QPushButton:
        button = self._button(
            f"○  open: {place.words}",
            f"open:{place.socket}",
            lambda: self.opened.emit(place),
            "See what fits here",
        )
        button.setChecked(self.store.chosen.place == place)
        button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        return button

    def _button(self, words: str, name: str, act: object, tip: str) -> QPushButton:
        button = QPushButton(words)
        button.setObjectName(name)
        button.setCheckable(True)
        button.setProperty("flat", True)
        button.setProperty("tree", True)
        button.setToolTip(plain(tip))
        button.setCursor(Qt.CursorShape.PointingHandCursor)
        button.clicked.connect(act)
        return button

    def _line(self, depth: int, *widgets: QWidget) -> QWidget:
        line = QWidget()
        row = QHBoxLayout(line)
        row.setContentsMargins(self.theme.px(14) * depth, 0, 0, 0)
        row.setSpacing(self.theme.px(2))
        for n, w in enumerate(widgets):
            row.addWidget(w, 1 if n == 0 else 0)
        return line
