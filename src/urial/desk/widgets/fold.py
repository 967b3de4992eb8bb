"""What opens at a press: a button, and under it a box; and the kind of box that asks one question and says
what came of it.
"""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFrame, QPushButton, QVBoxLayout, QWidget

from urial.desk.store import Store
from urial.desk.widgets.fields import label
from urial.desk.widgets.plain import plain
from urial.desk.worker import Worker
from urial.prove.verdict import Verdict

Stale = Callable[[], bool]
Tell = Callable[[str], None]


class Fold(QWidget):
    """A button that shows and hides a box; ``refresh`` is called when it is pressed."""

    def __init__(self, title: str, name: str, tip: str) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.open = QPushButton(title)
        self.open.setObjectName(name)
        self.open.setCheckable(True)
        self.open.setToolTip(plain(tip))
        self.open.clicked.connect(lambda: self.refresh())
        column.addWidget(self.open)
        self.box = QFrame()
        self.box.hide()
        self.inner = QVBoxLayout(self.box)
        self.inner.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.box)

    def refresh(self) -> None:
        """Show or hide what is in it."""
        self.box.setVisible(self.open.isChecked())


class Told(Fold):
    """Asks ``question`` of the verdict shown, off the window's thread, and says the answer; again when the
    job has changed.
    """

    def __init__(
        self,
        store: Store,
        words: tuple[str, str, str],
        question: Callable[[Verdict, Stale, Tell], str],
        kind: str = "",
    ) -> None:
        title, name, tip = words
        super().__init__(title, name, tip)
        self.store, self.question = store, question
        self.said = label("", kind, wrap=True)
        self.said.setObjectName(f"{name} said")
        self.said.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.inner.addWidget(self.said)
        self._worker = Worker(self, self._take, self._meanwhile)
        self._told: list[str] = []
        self._of: object = None

    def refresh(self) -> None:
        """Ask, when it is open and the job another."""
        super().refresh()
        verdict = self.store.verdict
        if not self.open.isChecked():
            self._worker.drop()
            self._of = None
            return
        if self._of is verdict or not self.store.has_part or self.store.refusal:
            return
        self._of, self._told = verdict, []
        told = self._told.append
        self.said.setText("Looking…")
        self._worker.ask(lambda stale: (self.question(verdict, stale, told),))

    def ask_again(self) -> None:
        """What is asked about is another: its answer is not this one's."""
        self._of = None
        self.refresh()

    def _meanwhile(self) -> None:
        if self._told:
            self.said.setText(f"Looking… {self._told[-1]}")

    def _take(self, result: object) -> None:
        text = result[0] if isinstance(result, tuple) else "It could not be worked out; the journal says why."
        self.said.setText(self.store.said(str(text)))


__all__ = ["Fold", "Told"]
