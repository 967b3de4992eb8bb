"""The job's card: what it is called, for whom, which revision, who drew and checked it, and notes."""

from __future__ import annotations

from PySide6.QtWidgets import QDialog, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from urial.desk.store import Store
from urial.desk.widgets.fields import form, label
from urial.job import edit

PATHS = ("title", "customer", "revision", "date", "drawn", "checked", "making.sets")


class JobCard(QDialog):
    """Every field is an edit like any other, undone like any other."""

    def __init__(self, parent: QWidget, store: Store) -> None:
        super().__init__(parent)
        self.store = store
        self.setWindowTitle("This job")
        self.setObjectName("job card")
        column = QVBoxLayout(self)
        column.addWidget(label("This job", "title"))
        column.addWidget(form(store, PATHS))
        column.addWidget(label("Notes", "head"))
        self.notes = QPlainTextEdit(store.job.notes)
        self.notes.setObjectName("notes")
        self.notes.setTabChangesFocus(True)
        column.addWidget(self.notes)
        close = QPushButton("Done")
        close.setObjectName("card done")
        close.setProperty("main", True)
        close.clicked.connect(self.accept)
        column.addWidget(close)
        self.resize(520, 460)

    def done(self, result: int) -> None:
        """Notes are kept as they stand when the card is put away."""
        text = self.notes.toPlainText()[:20_000]
        if text != self.store.job.notes:
            self.store.put_job(edit.put(self.store.job, "notes", text), "notes", "notes")
        super().done(result)
