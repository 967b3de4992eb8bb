"""Compare: this job beside a file, or beside what was last saved; its shape drawn over this one's."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from urial import units
from urial.desk.store import Store
from urial.desk.theme import Theme
from urial.desk.widgets.fields import clear, label
from urial.job.file import FileError, load
from urial.job.model import Job
from urial.prove.versions import Compared
from urial.session.questions import State

LISTED = 12
"""So many differences are listed."""


class Versions(QWidget):
    """Two buttons, then the two versions side by side until they are put away."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        self.file = QPushButton("Compare with a file…")
        self.file.setObjectName("compare file")
        self.file.clicked.connect(self._ask_file)
        self.saved = QPushButton("with what was saved")
        self.saved.setObjectName("compare saved")
        self.saved.clicked.connect(self._with_saved)
        row.addWidget(self.file, 1)
        row.addWidget(self.saved)
        column.addLayout(row)
        self.said = label("", "", wrap=True)
        self.said.setObjectName("compared")
        column.addWidget(self.said)
        self.table = QWidget()
        self.grid = QGridLayout(self.table)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setVerticalSpacing(theme.px(2))
        column.addWidget(self.table)
        self.differs = label("", "quiet", wrap=True)
        column.addWidget(self.differs)
        self.away = QPushButton("Put it away")
        self.away.setObjectName("compare away")
        self.away.clicked.connect(self.forget)
        column.addWidget(self.away)
        store.answered.connect(self._answered)
        self.other: tuple[Job, str] | None = None
        self._of: Job | None = None
        self.found: Compared | None = None
        self.store.opened.connect(self.forget)
        self.forget()

    def forget(self) -> None:
        """Put the other version away."""
        self.store.asking.drop("versions")
        self.other = self._of = self.found = None
        for w in (self.said, self.table, self.differs, self.away):
            w.hide()
        if self.store.ghost is not None:
            self.store.draw_over(None)

    def refresh(self) -> None:
        """The same comparison with the job as it is now."""
        self.saved.setEnabled(self.store.document.saved_job is not None and self.store.document.dirty)
        if self.other is not None and self._of is not self.store.job and not self.store.refusal:
            self._begin(*self.other)

    def _ask_file(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Compare with", "", "Urial jobs (*.urial)")
        if name:
            self.with_file(Path(name))

    def with_file(self, path: Path) -> None:
        """Compare with a file's job; one that does not open says why."""
        try:
            job = load(path).job
        except FileError as error:
            self.forget()
            self.said.setText(str(error))
            self.said.show()
            return
        self._begin(job, f"in {path.stem}")

    def _with_saved(self) -> None:
        if self.store.document.saved_job is not None:
            self._begin(self.store.document.saved_job, "as saved")

    def _begin(self, job: Job, called: str) -> None:
        self.other, self._of = (job, called), self.store.job
        self.said.setText("Looking…")
        self.said.show()
        self.store.asking.ask("versions", State(self.store.job, about=(job, called)))

    def _answered(self, name: str) -> None:
        asking = self.store.asking
        if name == "versions" and not asking.busy(name) and asking.about(name) is not None:
            self._take(asking.answer(name))

    def _take(self, result: object) -> None:
        if self.other is None:
            return
        if not isinstance(result, Compared):
            self.said.setText(result if isinstance(result, str) else "It could not be compared.")
            return
        self.found = result
        here, there, called = result.here, result.there, self.other[1]
        change = units.figure(there.mass_kg - here.mass_kg, 1, True)
        self.said.setText(
            self.store.said(
                f"{called[0].upper()}{called[1:]}: {there.mass_kg:.1f} kg ({change} kg), "
                f"{there.stocks} stocks, "
                f"{'holds' if there.holds else 'short'}, {100 * there.used:.0f} % used by {there.governs}. "
                f"Here: {here.mass_kg:.1f} kg, {here.stocks} stocks, {'holds' if here.holds else 'short'}, "
                f"{100 * here.used:.0f} % by {here.governs}. The other is drawn dashed."
            )
        )
        clear(self.grid)
        for k, words in enumerate(("link", "here", "other")):
            self.grid.addWidget(label(words, "quiet"), 0, k)
        for n, (name, a, b) in enumerate(result.links, 1):
            self.grid.addWidget(label(name), n, 0)
            for k, used in ((1, a), (2, b)):
                self.grid.addWidget(label("–" if used is None else f"{100 * used:.0f} %", "mono"), n, k)
        more = len(result.differs) - LISTED
        lines = [*result.differs[:LISTED], *([f"and {more} more"] if more > 0 else [])]
        self.differs.setText("\n".join(lines) or "Nothing that shows differs.")
        for w in (self.table, self.differs, self.away):
            w.show()
        self.store.draw_over(result.shape)
