"""Ctrl+K: find any part, check, size or command by typing a few letters of it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QLineEdit, QListWidget, QVBoxLayout, QWidget


@dataclass(frozen=True)
class Entry:
    """Something that can be found, and what happens then."""

    words: str
    kind: str
    act: Callable[[], None]


class Finder(QDialog):
    """A line to type in and what matches under it."""

    def __init__(self, parent: QWidget, entries: list[Entry]) -> None:
        super().__init__(parent)
        self.setWindowTitle("Find")
        self.setObjectName("finder")
        self.entries, self.found = entries, entries
        column = QVBoxLayout(self)
        self.line = QLineEdit()
        self.line.setObjectName("find")
        self.line.setPlaceholderText("part, check, size or command")
        self.list = QListWidget()
        column.addWidget(self.line)
        column.addWidget(self.list)
        self.resize(560, 420)
        self.line.textChanged.connect(self._filter)
        self.line.returnPressed.connect(self._take)
        self.list.itemActivated.connect(lambda _: self._take())
        self._filter("")

    def _filter(self, text: str) -> None:
        wanted = text.lower().split()
        self.found = [e for e in self.entries if all(w in f"{e.words} {e.kind}".lower() for w in wanted)]
        self.list.clear()
        for e in self.found[:200]:
            self.list.addItem(f"{e.words}   ·   {e.kind}")
        self.list.setCurrentRow(0)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
        if step:
            self.list.setCurrentRow(min(max(self.list.currentRow() + step, 0), self.list.count() - 1))
        else:
            super().keyPressEvent(event)

    def _take(self) -> None:
        row = self.list.currentRow()
        if 0 <= row < len(self.found):
            self.accept()
            self.found[row].act()
