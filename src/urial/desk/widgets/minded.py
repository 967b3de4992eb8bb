"""What is to be minded, as a list: by what somebody does about it, the gravest first; each row shows its
place, and what is no problem lies folded.
"""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from urial.desk.store import Store
from urial.desk.widgets.fields import clear, label
from urial.desk.widgets.fold import Fold
from urial.desk.widgets.plain import plain
from urial.desk.widgets.word_button import WordButton
from urial.prove.minds import GROUPS, Mind, spoken_of

SHOWN = 4
"""So many of a group are shown; the rest opens at a press."""


class Minded(QWidget):
    """``chosen(mark)``: the part a row speaks of."""

    chosen = Signal(str)

    def __init__(self, store: Store) -> None:
        super().__init__()
        self.store = store
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(2)
        self._shown: object = None

    def refresh(self) -> None:
        """Show what is to be minded now; nothing is made anew while it stays the same."""
        minds = self.store.verdict.minds
        shown = (minds, self.store.job.units)
        if shown == self._shown:
            return
        self._shown = shown
        clear(self.column)
        for do, title in GROUPS.items():
            rows = [Mind(do, one) for m in minds if m.do == do for one in m.each or (m.words,)]
            if not rows:
                continue
            if rows[0].note:
                self.column.addWidget(self._folded(f"{title} ({len(rows)})…", f"minded:{do}", rows))
                continue
            head = label(title, "problem", wrap=True)
            head.setObjectName(f"minded:{do}")
            self.column.addWidget(head)
            for m in rows[:SHOWN]:
                self.column.addWidget(self._row(m))
            if len(rows) > SHOWN:
                left = rows[SHOWN:]
                self.column.addWidget(self._folded(f"{len(left)} more…", f"minded more:{do}", left))

    def _folded(self, title: str, name: str, rows: list[Mind]) -> Fold:
        fold = Fold(title, name, title.rstrip("…"))
        fold.open.setProperty("segment", True)
        for m in rows:
            fold.inner.addWidget(self._row(m))
        return fold

    def _row(self, m: Mind) -> WordButton:
        words = self.store.said(f"{m.words[0].upper()}{m.words[1:]}")
        row = WordButton(words)
        row.setProperty("flat", True)
        row.setProperty("words", True)
        part = spoken_of(m.words, self.store.verdict.assembly.parts)
        row.setEnabled(part is not None)
        row.setToolTip(plain(f"Show the {part.name} and its sizes" if part else words))
        if part is not None:
            row.clicked.connect(lambda _=False, mark=part.mark: self.chosen.emit(mark))
        return row


__all__ = ["Minded"]
