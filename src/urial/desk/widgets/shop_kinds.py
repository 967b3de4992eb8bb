"""The shop's own kinds of part: keep a piece as one, share one as a file, take one in, forget one."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urial.desk.store import Store
from urial.desk.theme import Theme
from urial.desk.widgets.fields import clear, label
from urial.desk.widgets.plain import plain
from urial.families import _shop as shop
from urial.job.file import os_words, write_atomically


class ShopKinds(QWidget):
    """Under a piece's sizes: closed until somebody wants it."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme, self.piece = store, theme, ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, theme.px(6), 0, 0)
        self.open = QPushButton("The shop's own kinds")
        self.open.setObjectName("shop kinds")
        self.open.setCheckable(True)
        self.open.setProperty("segment", True)
        self.open.setToolTip("Keep this piece, as it is changed, under a name of its own")
        self.open.toggled.connect(self._opened)
        column.addWidget(self.open)
        self.body = QWidget()
        self.body.hide()
        inner = QVBoxLayout(self.body)
        inner.setContentsMargins(0, 0, 0, 0)
        row = QHBoxLayout()
        self.title = QLineEdit()
        self.title.setObjectName("shop kind name")
        self.title.setPlaceholderText("name of the kind")
        self.title.setAccessibleName("name of the kind")
        self.title.setMaxLength(60)
        self.title.returnPressed.connect(self.keep)
        self.keeping = QPushButton("Keep")
        self.keeping.setObjectName("keep kind")
        self.keeping.clicked.connect(self.keep)
        row.addWidget(self.title, 1)
        row.addWidget(self.keeping)
        inner.addLayout(row)
        self.said = label("", "quiet", wrap=True)
        inner.addWidget(self.said)
        self.rows = QVBoxLayout()
        inner.addLayout(self.rows)
        take = QPushButton("Take one in from a file…")
        take.setObjectName("take kind in")
        take.clicked.connect(self.take_in)
        inner.addWidget(take)
        column.addWidget(self.body)

    def show_piece(self, number: str) -> None:
        """Which piece would be kept."""
        self.piece = number

    def _opened(self, wanted: bool) -> None:
        self.body.setVisible(wanted)
        if wanted:
            self._say("")
            self._list()

    def _list(self) -> None:
        clear(self.rows)
        here = shop.shelf()
        for kind in here.kinds:
            line = QHBoxLayout()
            line.addWidget(label(kind.title), 1)
            for word, do, tip in (
                ("Share…", self.share, "Write it to a file for somebody else"),
                ("Forget", self.forget, "Take it off the shelf; jobs that have it keep it"),
            ):
                button = QPushButton(word)
                button.setObjectName(f"{word.strip('…').lower()}:{kind.title}")
                button.setToolTip(plain(tip))
                button.clicked.connect(lambda _=False, k=kind, d=do: d(k))
                line.addWidget(button)
            self.rows.addLayout(line)
        for _, why in here.lost:
            self.rows.addWidget(label(f"{why} It is left where it is.", "problem", wrap=True))

    def _say(self, words: str, wrong: bool = False) -> None:
        self.said.setProperty("role", "problem" if wrong else "quiet")
        self.said.setText(words)
        self.said.setVisible(bool(words))
        self.said.style().unpolish(self.said)
        self.said.style().polish(self.said)

    def keep(self) -> None:
        """The piece shown, under the name that was typed; one of that name is put in place of the old."""
        name = self.title.text().strip()
        if not name:
            self._say("Give it a name first.", wrong=True)
            self.title.setFocus()
            return
        try:
            kind = shop.kind_of(self.store.job, self.piece, name)
            there = any(k.file == kind.file for k in shop.shelf().kinds)
            shop.keep(kind)
        except shop.ShopError as error:
            self._say(str(error), wrong=True)
            return
        self.title.clear()
        self._list()
        again = " in place of the one before" if there else ""
        self._say(
            f"“{kind.title}” is kept{again}; it is offered wherever a "
            f"{kind.piece.family.replace('-', ' ')} goes."
        )

    def share(self, kind: shop.ShopKind) -> None:
        """Write it to a file."""
        chosen, _ = QFileDialog.getSaveFileName(
            self, "Share a kind of part", str(Path.home() / kind.file), f"Kind of part (*{shop.ENDING})"
        )
        if not chosen:
            return
        try:
            write_atomically(Path(chosen), shop.as_bytes(kind))
        except OSError as error:
            self._say(f"{chosen} cannot be written: {os_words(error)}.", wrong=True)
            return
        self._say(f"“{kind.title}” is written to {Path(chosen).name}.")

    def forget(self, kind: shop.ShopKind) -> None:
        """Take it off the shelf; said, with the way back."""
        try:
            shop.forget(kind)
        except shop.ShopError as error:
            self._say(str(error), wrong=True)
            return
        self._list()
        self._say(f"“{kind.title}” is off the shelf; a job that has it still has it, and can keep it again.")

    def take_in(self) -> None:
        """One of somebody else's, from a file."""
        chosen, _ = QFileDialog.getOpenFileName(
            self, "Take in a kind of part", str(Path.home()), f"Kind of part (*{shop.ENDING})"
        )
        if not chosen:
            return
        path = Path(chosen)
        try:
            if not path.is_file():
                raise shop.ShopError(f"{path.name} is no file.")
            if path.stat().st_size > shop.LARGEST:
                raise shop.ShopError(f"{path.name} is larger than a kind of part can be.")
            kind = shop.read(path.read_bytes(), path.name)
            if any(k.file == kind.file for k in shop.shelf().kinds):
                raise shop.ShopError(
                    f"There is one called “{kind.title}” here already; forget it first, or ask for another "
                    "name."
                )
            shop.keep(kind)
        except shop.ShopError as error:
            self._say(str(error), wrong=True)
            return
        except OSError as error:
            self._say(f"{path.name} cannot be read: {os_words(error)}.", wrong=True)
            return
        self._list()
        self._say(f"“{kind.title}” is on the shelf.")
