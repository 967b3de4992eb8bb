"""Steel that is no longer what is wanted: keep it, or make it anew; and what was made for a part that is
gone.
"""

from __future__ import annotations

from collections.abc import Callable, Collection

from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from urial.assembly.model import BuildError
from urial.desk.store import Store
from urial.desk.theme import Theme
from urial.desk.widgets.fields import clear, label
from urial.job import edit
from urial.making.as_made import can_be_taken
from urial.making.status import Stood


class OffBox(QWidget):
    """Of the kinds of work it is for; hidden while all is right."""

    def __init__(self, store: Store, theme: Theme, kinds: Collection[str] = ()) -> None:
        super().__init__()
        self.store, self.theme, self.kinds = store, theme, kinds
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.hide()

    def refresh(self) -> None:
        """Show what is off now."""
        clear(self.column)
        rows = [r for r in self.store.making.stood if not self.kinds or r.step.kind in self.kinds]
        off = [r for r in rows if r.state == "stale"]
        for r in off:
            self._stale(r)
        for r in rows:
            if r.state == "gone":
                self.column.addWidget(label(self.store.said(r.step.words), "quiet", wrap=True))
        self.setVisible(bool(off) or any(r.state == "gone" for r in rows))

    def _as_cut(self, r: Stood) -> bool:
        try:
            return self.store.making.as_cut(r)
        except (edit.EditError, BuildError) as error:
            self.store.making.said = str(error)
            self.refresh()
            return False

    def _stale(self, r: Stood) -> None:
        marks = ", ".join(r.step.marks) or r.step.kind.capitalize()
        words = "; ".join(self.store.said(o.words) for o in r.off[:4])
        self.column.addWidget(label(f"{marks}: {words}.", "problem", wrap=True))
        if r.step.kind == "proof":
            self._unproven(r)
            return
        sawn = can_be_taken(r)
        ways: tuple[tuple[str, str, Callable[[Stood], bool]], ...] = (
            ("Take its size into the part", "as cut", self._as_cut),
            ("It is right as it is", "keep", self.store.making.keep),
            ("Make it anew", "remake", self.store.making.remake),
        )
        for text, name, act in ways[0 if sawn else 1 :]:
            button = QPushButton(text)
            button.setObjectName(f"{name} {r.step.key}")
            button.setProperty("segment", True)
            button.clicked.connect(lambda _=False, do=act, row=r: do(row))
            self.column.addWidget(button)
        self.column.addWidget(
            label(
                "With its size taken in every check runs again. Kept without it, another part is judged "
                "than lies "
                "there."
                if sawn
                else "Kept as it is, it is no longer what was judged: put its size in at Build, so that "
                "every check runs again.",
                "quiet",
                wrap=True,
            )
        )

    def _unproven(self, r: Stood) -> None:
        """A proof is of the steel that was pulled; nobody can say that it is right for other steel."""
        button = QPushButton("Pull it again")
        button.setObjectName(f"remake {r.step.key}")
        button.setProperty("segment", True)
        button.clicked.connect(lambda: self.store.making.remake(r))
        self.column.addWidget(button)
        self.column.addWidget(
            label(
                "Another part was pulled than is judged now: it proves nothing of this one.",
                "quiet",
                wrap=True,
            )
        )


__all__ = ["OffBox"]
