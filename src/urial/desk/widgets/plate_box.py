"""The rating plate in the window: what speaks against it, who signs, and the file."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QLineEdit, QPushButton

from urial.desk.making import ACCOUNT
from urial.desk.store import Store
from urial.desk.widgets.fields import label
from urial.desk.widgets.fold import Fold
from urial.job.file import FileError, named, os_words, write_atomically
from urial.papers.rating_plate import FORMATS, laid
from urial.prove.rating_plate import LONGEST, against, rating_plate

KINDS = {"PDF (*.pdf)": ".pdf", "SVG, to engrave (*.svg)": ".svg", "DXF, to engrave (*.dxf)": ".dxf"}


class PlateBox(Fold):
    """A button that opens what speaks against a plate and what writes one."""

    def __init__(self, store: Store) -> None:
        super().__init__(
            "Rating plate…", "rating plate", "What the part may do, to rivet on: refused while it is not so"
        )
        self.store = store
        self.said = label("", "", wrap=True)
        self.said.setObjectName("plate said")
        self.inner.addWidget(self.said)
        self.by, self.why = QLineEdit(), QLineEdit()
        for box, name, hint, most in (
            (self.by, "plate by", "who signs it", 60),
            (self.why, "plate why", "why all the same: it is printed", LONGEST),
        ):
            box.setObjectName(name)
            box.setPlaceholderText(hint)
            box.setAccessibleName(hint)
            box.setMaxLength(most)
            self.inner.addWidget(box)
        self.why.textChanged.connect(lambda _: self._allowed())
        self.write = QPushButton("Write the plate…")
        self.write.setObjectName("write plate")
        self.write.clicked.connect(self._write)
        self.inner.addWidget(self.write)
        self.done = label("", "quiet", wrap=True)
        self.done.setObjectName("plate done")
        self.done.hide()
        self.inner.addWidget(self.done)
        self._found: tuple[str, ...] | None = None
        store.answered.connect(self._answered)

    def refresh(self) -> None:
        """What speaks against it, once the plan is known."""
        super().refresh()
        if not self.open.isChecked() or not self.store.has_part or self.store.refusal:
            self._found = None
            self._allowed()
            return
        if not self.by.text() and not self.by.hasFocus():
            self.by.setText(self.store.job.drawn)
        self.store.making.look()
        work = self.store.making.work
        if work is None:
            self._found = None
            self.said.setText("Looking at what was done…")
        else:
            self._found = against(self.store.verdict, self.store.making.stood)
            told = "\n".join(f"· {self.store.said(w)}" for w in self._found)
            self.said.setText(f"This speaks against it:\n{told}" if told else "Nothing speaks against it.")
        self.why.setVisible(bool(self._found))
        self._allowed()

    def _allowed(self) -> None:
        """Whether it may be written as it is."""
        known = self._found is not None
        self.write.setEnabled(known and (not self._found or bool(self.why.text().strip())))

    def _answered(self, name: str) -> None:
        if name in ("plan", ACCOUNT) and self.open.isChecked() and self.isVisible():
            self.refresh()

    def _write(self) -> None:
        job = self.store.job
        try:
            made = rating_plate(
                self.store.verdict, self.store.making.stood, self.by.text().strip(), reason=self.why.text()
            )
        except ValueError as error:
            self._tell(str(error))
            return
        name, kind = QFileDialog.getSaveFileName(self, "Rating plate", "plate.pdf", ";;".join(KINDS))
        if not name:
            return
        path = Path(name)
        if path.suffix.lower() not in FORMATS:
            path = named(path, KINDS.get(kind, ".pdf"))
        try:
            write_atomically(path, FORMATS[path.suffix.lower()](laid(made, job.units, job.nearest)))
            self._tell(f"Written to {path}.")
        except FileError as error:
            self._tell(str(error))
        except OSError as error:
            self._tell(f"The plate cannot be written there: {os_words(error)}.")

    def _tell(self, words: str) -> None:
        self.done.setText(words)
        self.done.show()


__all__ = ["PlateBox"]
