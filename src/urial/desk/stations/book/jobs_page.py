"""Jobs: what the shop has built, where each stands, what is due; found by any word, opened by a press."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, date, datetime
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QLineEdit, QListWidget, QListWidgetItem, QPushButton

from urial import units
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import label
from urial.desk.widgets.plain import plain
from urial.desk.worker import Worker
from urial.job.file import FileError, named, os_words, write_atomically
from urial.papers.due_calendar import due_calendar
from urial.shop.where import there

ROW = Qt.ItemDataRole.UserRole
Row = dict[str, object]


def _rows() -> tuple[list[Row], str]:
    """Every job of the book, what is due first; what could not be read, in a sentence."""
    if not there():
        return [], ""
    from urial.shop.book import Book, BookError

    try:
        with Book() as book:
            rows = book.jobs()
    except BookError as error:
        return [], str(error)
    return sorted(rows, key=lambda r: (not r["due"], str(r["due"]), str(r["title"]).lower())), ""


def due_words(row: Row, today: date) -> str:
    """By when something is due, or how long it is over; nothing where nothing is."""
    try:
        day = date.fromisoformat(str(row["due"]))
    except ValueError:
        return ""
    over = (today - day).days
    return f"{over} day{'s' if over != 1 else ''} over" if over > 0 else f"due by {day}"


class JobsPage(Page):
    """What have we built, and what is due of it?"""

    name = "Jobs"
    question = "What have we built, and what is due of it?"

    def fill(self) -> None:
        self.rows: list[Row] = []
        self.sum = label("", "", wrap=True)
        self.column.addWidget(self.sum)
        self.sought = QLineEdit()
        self.sought.setObjectName("find job")
        self.sought.setPlaceholderText("any word of it")
        self.sought.setClearButtonEnabled(True)
        self.sought.textChanged.connect(lambda _: self._list())
        self.column.addWidget(self.sought)
        self.list = QListWidget()
        self.list.setObjectName("jobs")
        self.list.setMinimumHeight(self.theme.px(220))
        self.list.setWordWrap(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentRowChanged.connect(lambda _: self._one())
        self.list.itemActivated.connect(lambda _: self._open())
        self.column.addWidget(self.list)
        self.words = label("", "", wrap=True)
        self.column.addWidget(self.words)
        buttons = QHBoxLayout()
        self.opens, self.calendar = (
            self._button(buttons, *how)
            for how in (
                ("Open it", "open job", self._open, "The job's file, where it lay when it was last saved"),
                (
                    "What is due as a calendar…",
                    "calendar",
                    self._ask_calendar,
                    "A file that any calendar takes in: a day for each, with a reminder a week before",
                ),
            )
        )
        self.column.addLayout(buttons)
        self.column.addWidget(
            label(
                "A job comes into the book when work is ticked at it, or by “urial book "
                "add JOB”. Who it is for stands in this book alone.",
                "quiet",
                wrap=True,
            )
        )
        self._clerk = Worker(self, self._read)

    @staticmethod
    def _button(row: QHBoxLayout, words: str, name: str, act: Callable[[], None], tip: str) -> QPushButton:
        button = QPushButton(words)
        button.setObjectName(name)
        button.setProperty("segment", True)
        button.setToolTip(plain(tip))
        button.clicked.connect(lambda _=False: act())
        row.addWidget(button)
        return button

    def refresh(self) -> None:
        if self.isVisible() or not self.rows:
            self._clerk.ask(lambda _: _rows())

    def _read(self, found: object) -> None:
        if not isinstance(found, tuple):
            return
        self.rows, wrong = found
        self.say(wrong)
        self._list()

    def _shown(self) -> list[Row]:
        """The jobs in which every word stands that is looked for."""
        words = self.sought.text().lower().split()
        return [
            r
            for r in self.rows
            if all(
                any(w in str(r.get(k, "")).lower() for k in ("title", "customer", "state", "due_why"))
                for w in words
            )
        ]

    def _list(self) -> None:
        today, shown = date.today(), self._shown()
        chosen = self._chosen()
        self.list.blockSignals(True)
        self.list.clear()
        for r in shown:
            when = due_words(r, today)
            hours = float(str(r["hours"]))
            rest = ", ".join(
                w for w in (str(r["state"]), units.bare(f"{hours:.1f} h") if hours else "", when) if w
            )
            item = QListWidgetItem(f"{r['title']}\n{rest}")
            item.setData(ROW, r)
            self.list.addItem(item)
        kept = [n for n, r in enumerate(shown) if chosen is not None and r["id"] == chosen["id"]]
        self.list.setCurrentRow(kept[0] if kept else 0 if shown else -1)
        self.list.blockSignals(False)
        owed = [r for r in self.rows if r["due"]]
        late = [r for r in owed if due_words(r, today).endswith("over")]
        count = len(self.rows)
        if not count:
            self.sum.setText("No job is in the shop's book yet.")
        elif len(shown) < count:
            self.sum.setText(f"{len(shown)} of {count} jobs.")
        else:
            self.sum.setText(
                f"{count} job{'s' if count > 1 else ''}; of {len(owed)} something is due"
                + (f", {len(late)} over." if late else ".")
            )
        self._one()

    def _chosen(self) -> Row | None:
        item = self.list.currentItem()
        row: Row | None = item.data(ROW) if item is not None else None
        return row

    def _one(self) -> None:
        row = self._chosen()
        self.opens.setEnabled(row is not None)
        self.calendar.setEnabled(any(r["due"] for r in self.rows))
        if row is None:
            self.words.setText("Nothing of that name." if self.rows else "")
            return
        rows = [f"For {row['customer']}."] if row.get("customer") else []
        if row["due"]:
            rows.append(f"{due_words(row, date.today()).capitalize()}: {row['due_why']}.")
        rows.append(f"It lay at {row['path']}." if row["path"] else "It was never saved to a file.")
        self.words.setText("\n".join(rows))
        self.grow()

    def _open(self) -> None:
        row = self._chosen()
        if row is None:
            return
        path = Path(str(row["path"]))
        if not row["path"] or not path.is_file():
            self.say(f"{row['title']} lies no longer at {path}; find it and open it, which tells the book.")
            return
        self.say("")
        self.store.wanted.emit(path)

    def _ask_calendar(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Calendar of what is due", "due.ics", "Calendar (*.ics)")
        if name:
            self.write_calendar(named(Path(name), ".ics"))

    def write_calendar(self, path: Path) -> None:
        """Write what is due; what went wrong is said."""
        try:
            write_atomically(path, due_calendar(self.rows, datetime.now(UTC)))
        except (FileError, OSError) as error:
            why = str(error) if isinstance(error, FileError) else os_words(error)
            self.say(f"{path.name} was not written: {why}")
            return
        self.say("")
        self.words.setText(f"{path.name} is written.")


__all__ = ["JobsPage", "due_words"]
