"""A list of the job as rows of fields, with a button to add one and one to take each away."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from urial.assembly.model import BuildError
from urial.desk.store import Store
from urial.desk.widgets.fields import Field, clear, label
from urial.desk.widgets.plain import plain
from urial.job import edit
from urial.job.model import Job


class Rows(QWidget):
    """Rows of ``path``; ``columns`` are field names and headings; ``fresh`` makes a new row for a job."""

    def __init__(
        self,
        store: Store,
        path: str,
        title: str,
        noun: str,
        columns: Sequence[tuple[str, str]],
        fresh: Callable[[Job], object],
        least: int = 0,
    ) -> None:
        super().__init__()
        self.store, self.path, self.noun, self.columns, self.fresh, self.least = (
            store,
            path,
            noun,
            columns,
            fresh,
            least,
        )
        self.setObjectName(f"rows:{path}")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        head = QHBoxLayout()
        head.addWidget(label(title, "head"), 1)
        self.add_button = QPushButton(f"+ {noun}")
        self.add_button.setObjectName(f"add:{path}")
        self.add_button.setProperty("segment", True)
        self.add_button.clicked.connect(self.add)
        head.addWidget(self.add_button)
        column.addLayout(head)
        self.grid = QGridLayout()
        self.grid.setHorizontalSpacing(5)
        self.grid.setVerticalSpacing(0)
        column.addLayout(self.grid)
        self.problem = label("", "problem", wrap=True)
        self.problem.hide()
        column.addWidget(self.problem)
        self._made = -1

    def rows(self) -> tuple[object, ...]:
        """The rows as they are in the job."""
        return tuple(edit.get(self.store.job, self.path))

    def refresh(self) -> None:
        """Make the fields again if the number of rows has changed; the fields follow their own values."""
        count = len(self.rows())
        if count == self._made:
            return
        self._made = count
        clear(self.grid)
        named = self.columns[0][0] == "name"  # a name has a line of its own
        columns = self.columns[1:] if named else self.columns
        for n, (_, heading) in enumerate(columns):
            self.grid.setColumnStretch(n, 1)
            if count:
                self.grid.addWidget(label(heading, "quiet"), 0, n)
        for k in range(count):
            row = 2 * k + 1
            if named:
                name = Field(self.store, f"{self.path}.{k}.name", title=f"{self.noun} {k + 1}")
                self.grid.addWidget(name, row, 0, 1, len(columns))
            for n, (field_name, _) in enumerate(columns):
                field = Field(self.store, f"{self.path}.{k}.{field_name}", title="", alone=True)
                self.grid.addWidget(field, row + named, n)
            drop = QPushButton("×")
            drop.setObjectName(f"drop:{self.path}.{k}")
            drop.setToolTip(plain(f"Take this {self.noun} away"))
            drop.setProperty("segment", True)
            drop.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
            drop.setEnabled(count > self.least)
            drop.clicked.connect(lambda _=False, row=k: self.drop(row))
            self.grid.addWidget(drop, row + named, len(columns), Qt.AlignmentFlag.AlignTop)

    def _put(self, rows: tuple[object, ...], words: str) -> None:
        try:
            self.store.put_job(edit.put(self.store.job, self.path, rows), self.path, words)
            self.problem.hide()
        except (edit.EditError, BuildError, ValueError) as error:
            self.problem.setText(str(error))
            self.problem.show()

    def add(self) -> None:
        """A new row at the end."""
        try:
            new = self.fresh(self.store.job)
        except ValueError as error:
            self.problem.setText(str(error))
            self.problem.show()
            return
        self._put((*self.rows(), new), f"add {self.noun}")

    def drop(self, row: int) -> None:
        """Take a row away."""
        rows = list(self.rows())
        del rows[row]
        self._put(tuple(rows), f"take away {self.noun}")
