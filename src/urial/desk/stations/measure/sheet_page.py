"""Sheet: the numbered boxes of the paper sheet, typed in one after the other by Tab or Enter; print and
tables.
"""

from __future__ import annotations

from datetime import date
from itertools import groupby
from pathlib import Path

from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import QFileDialog, QVBoxLayout

from urial.assembly.model import BuildError
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import Field, clear, label
from urial.job.file import FileError, named, os_words, write_atomically
from urial.job.origin import Origin
from urial.measure.sheet import boxes
from urial.measure.table import TableError, read_csv, write_csv
from urial.papers.survey_sheet import survey_pdf


class SheetPage(Page):
    """Enter a filled sheet in the order the tape went."""

    name = "Sheet"
    question = "Type in the sheet"

    def fill(self) -> None:
        self.column.addWidget(
            label(
                "Print the blank sheet, fill it in under the vehicle, then type it in here: Tab goes "
                "in the order of the boxes, and the drawing shows where each one is.",
                "quiet",
                wrap=True,
            )
        )
        self.column.addLayout(
            self.row(
                ("Blank sheet…", "blank sheet", self._ask_blank),
                ("Table out…", "csv out", self._ask_out),
                ("Table in…", "csv in", self._ask_in),
            )
        )
        self.done = label("", "quiet", wrap=True)
        self.done.hide()
        self.column.addWidget(self.done)
        self.place = QVBoxLayout()
        self.place.setSpacing(0)
        self.column.addLayout(self.place)
        self._made: object = None
        self.fields: list[Field] = []

    def refresh(self) -> None:
        every = boxes(self.store.job)
        shape = tuple(b.path for b in every)
        if shape == self._made:
            return
        self._made = shape
        clear(self.place)
        self.fields = []
        for group, rows in groupby(every, key=lambda b: b.group):
            self.place.addWidget(label(group, "head"))
            for box in rows:
                number = len(self.fields)
                field = Field(self.store, box.path, title=f"{box.number}  {box.title}")
                if field.line is not None:
                    field.line.installEventFilter(self)
                    field.line.returnPressed.connect(lambda n=number: self._next(n))
                self.fields.append(field)
                self.place.addWidget(field)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() == QEvent.Type.FocusIn:
            field = next((f for f in self.fields if f.line is watched), None)
            if field is not None:
                self.store.point_at(field.path)
        return super().eventFilter(watched, event)

    def _next(self, number: int) -> None:
        """Enter goes on to the next box unless this one is wrong."""
        self.fields[number].commit()
        line = self.fields[number].line
        if line is not None and not line.property("wrong") and number + 1 < len(self.fields):
            after = self.fields[number + 1].line
            if after is not None:
                after.setFocus()
                after.selectAll()

    # ---- papers

    def _done(self, words: str) -> None:
        self.done.setText(words)
        self.done.setVisible(bool(words))

    def _ask_blank(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, "Blank survey sheet", str(Path.home() / "survey sheet.pdf"), "PDF (*.pdf)"
        )
        target = self._named(name, ".pdf")
        if target is not None:
            self.write_blank(target)

    def write_blank(self, path: Path) -> None:
        """Write the blank sheet as PDF."""
        self._write(path, survey_pdf(self.store.job))

    def _ask_out(self) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, "Survey as a table", str(Path.home() / "survey.csv"), "Tables (*.csv)"
        )
        target = self._named(name, ".csv")
        if target is not None:
            self._write(target, write_csv(self.store.job).encode())

    def _named(self, name: str, suffix: str) -> Path | None:
        """The name as typed with its kind at the end; a longer name that is taken is refused, for nobody
        was asked about it.
        """
        if not name:
            return None
        target = named(Path(name), suffix)
        if target != Path(name) and target.exists():
            self.say(
                f"{target.name} is already there and was left as it is; give another name, or its "
                "whole name to write over it."
            )
            return None
        return target

    def _write(self, path: Path, data: bytes) -> None:
        try:
            write_atomically(path, data)
        except FileError as error:
            self._done("")
            self.say(str(error))
            return
        self.say("")
        self._done(f"Written to {path}")

    def _ask_in(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Read a survey table", str(Path.home()), "Tables (*.csv)")
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Take a table in as one edit; a bad line is named and nothing changes."""
        self._done("")
        try:
            job = read_csv(self.store.job, path.read_text(encoding="utf-8-sig"))
            self.store.put_job(
                job,
                "survey",
                f"survey from {path.name}",
                Origin(how="read", by=path.name, on=date.today().isoformat()),
            )
        except OSError as error:
            self.say(f"{path.name} cannot be read: {os_words(error)}.")
        except UnicodeDecodeError:
            self.say(f"{path.name} is not UTF-8 text; save it as CSV in UTF-8.")
        except (TableError, BuildError) as error:
            self.say(str(error))
        else:
            self.say("")
            self._done(f"Read {path.name}; undo takes it back.")
