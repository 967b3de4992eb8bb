"""What every page of Measure has: its name, the question it answers, a column, and perhaps a canvas in the scene's place."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout, QWidget

from urial import units
from urial.assembly.model import BuildError
from urial.desk.store import Store
from urial.desk.theme import Theme
from urial.desk.widgets.fields import label
from urial.job import edit


class Page(QWidget):
    """One page."""

    name = ""
    question = ""
    canvas: QWidget | None = None

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(theme.px(4))
        self.column.addWidget(label(self.question, "title", wrap=True))
        self.problem = label("", "problem", wrap=True)
        self.problem.hide()
        self.fill()
        self.column.addWidget(self.problem)

    def fill(self) -> None:
        """Make the widgets once."""

    def refresh(self) -> None:
        """Show the store's present state."""

    def length(self, mm: float) -> str:
        """A length in the job's units."""
        return units.show(mm, "length", self.store.job.units, self.store.job.nearest)

    def put(self, path: str, value: object, words: str) -> bool:
        """Propose an edit; a refusal is said and the old value kept."""
        try:
            self.store.put_job(edit.put(self.store.job, path, value), path, words)
        except (edit.EditError, BuildError, ValueError) as error:
            self.say(str(error))
            return False
        self.say("")
        return True

    def say(self, words: str) -> None:
        """What is wrong, or nothing."""
        self.problem.setText(words)
        self.problem.setVisible(bool(words))
