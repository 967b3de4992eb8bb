"""What opens at a press: a button, and under it a box; and the kind of box that asks one question and says
what came of it.
"""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFrame, QPushButton, QVBoxLayout, QWidget

from urial.desk.store import LOST, Store
from urial.desk.widgets.fields import label
from urial.desk.widgets.plain import plain
from urial.session.questions import State


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
    """Asks a question of the session whose answer is a text, and says it; again when the job has changed.
    ``about``: what else it is about.
    """

    def __init__(
        self,
        store: Store,
        words: tuple[str, str, str],
        question: str,
        kind: str = "",
        about: Callable[[], object] = lambda: None,
    ) -> None:
        title, name, tip = words
        super().__init__(title, name, tip)
        self.store, self.question, self.about = store, question, about
        self.said = label("", kind, wrap=True)
        self.said.setObjectName(f"{name} said")
        self.said.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.inner.addWidget(self.said)
        self._of: object = None
        store.answered.connect(self._answered)

    def refresh(self) -> None:
        """Ask, when it is open and the job another."""
        super().refresh()
        verdict = self.store.verdict
        if not self.open.isChecked():
            if self._of is not None:
                self.store.asking.drop(self.question)
            self._of = None
            return
        if self._of is verdict or not self.store.has_part or self.store.refusal:
            return
        self._of = verdict
        self.said.setText("Looking…")
        self.store.asking.ask(self.question, State(self.store.job, about=self.about()))

    def ask_again(self) -> None:
        """What is asked about is another: its answer is not this one's."""
        self._of = None
        self.refresh()

    def _answered(self, name: str) -> None:
        if name != self.question or self._of is None:
            return
        asking = self.store.asking
        if asking.busy(name):
            words = asking.words(name)
            self.said.setText(f"Looking… {words}" if words else "Looking…")
        elif asking.about(name) is not None:
            self.said.setText(self.store.said(str(asking.answer(name) or LOST)))


__all__ = ["Fold", "Told"]
