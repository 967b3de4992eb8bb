"""Typing over a size on the drawing: an editor in its place, refused text kept in it with the reason."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import (
    QFocusEvent,
    QKeyEvent,
)
from PySide6.QtWidgets import QLineEdit

from urial.assembly.model import BuildError, Dimension
from urial.desk.scene.board import Board
from urial.job import edit


class Typed(QLineEdit):
    """The editor over a dimension."""

    escaped = Signal()
    left = Signal()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.escaped.emit()
            return
        super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.left.emit()


class TypesOver(Board):
    """An editor over a size on the drawing."""

    def open_editor(self, box: QRectF, d: Dimension) -> None:
        """Put an editor over a dimension."""
        self.close_editor()
        self.editor = Typed(self)
        self.editor.setObjectName("dimension editor")
        self.editor.setAccessibleName(d.name)
        self.editor.setText(edit.shown(self.store.job, d.path))
        self.editor.setGeometry(box.adjusted(-16, -5, 16, 5).toRect())
        self.editor.selectAll()
        self.editor.returnPressed.connect(lambda: self._typed(d.path))
        self.editor.escaped.connect(self.close_editor)
        self.editor.left.connect(lambda: self._left(d.path))
        self.editor.show()
        self.editor.setFocus()

    def _left(self, path: str) -> None:
        """Clicking away keeps what was typed, like a field; what cannot be taken stays in its box, with
        the reason.
        """
        if self.editor is None:
            return
        if self.editor.text().strip() in ("", edit.shown(self.store.job, path)):
            self.close_editor()
        elif not self.editor.property("wrong"):
            self._typed(path)

    def _typed(self, path: str) -> None:
        assert self.editor is not None
        text = self.editor.text()
        try:
            self.store.write(path, text)
        except (edit.EditError, BuildError) as error:
            # wrong text stays, marked, with the reason beside it; the old value keeps working
            assert self.editor is not None
            self.editor.setProperty("wrong", True)
            self.editor.style().unpolish(self.editor)
            self.editor.style().polish(self.editor)
            self.problem.setText(str(error))
            self.problem.setFixedWidth(self.theme.px(300))
            self.problem.adjustSize()
            x = min(self.editor.x(), self.width() - self.problem.width() - 8)
            y = self.editor.geometry().bottom() + 4
            if y + self.problem.height() > self.height():
                y = self.editor.y() - self.problem.height() - 4
            self.problem.move(x, y)
            self.problem.show()
            self.problem.raise_()
            return
        self.close_editor()

    def close_editor(self) -> None:
        """Leave the editor without a change."""
        self.problem.hide()
        if self.editor is not None:
            editor, self.editor = self.editor, None
            editor.hide()
            editor.deleteLater()
            self.setFocus()
