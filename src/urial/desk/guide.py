"""The guide beside the work: ``docs/guide.md`` with its pictures, from the checkout or from where it was
installed.
"""

from __future__ import annotations

import sys
from pathlib import Path

from PySide6.QtCore import QUrl
from PySide6.QtGui import QTextBlockFormat, QTextCursor, QTextDocument, QTextImageFormat
from PySide6.QtWidgets import QDialog, QTextBrowser, QVBoxLayout, QWidget

from urial.desk.theme import Theme

NAME = "guide.md"
HERE = Path(__file__).parents[3]
WIDE, HIGH = 760, 720
AIR = 1.25
"""Lines stand so far apart."""


def places() -> tuple[Path, ...]:
    """Where the guide may lie: beside the source, or where an installed Urial keeps its papers."""
    return (HERE / "docs" / NAME, Path(sys.prefix) / "share" / "urial" / "docs" / NAME)


def text() -> tuple[str, Path | None]:
    """The guide and the folder its pictures are in; where it is not there, a sentence and None."""
    for path in places():
        if path.is_file():
            return path.read_text(encoding="utf-8"), path.parent
    looked = " or ".join(str(p) for p in places())
    return f"The guide is not here: it should lie at {looked}.", None


class Guide(QDialog):
    """A window of its own, closed by Escape; the work goes on beside it."""

    def __init__(self, parent: QWidget, theme: Theme) -> None:
        super().__init__(parent)
        self.setObjectName("guide")
        self.setWindowTitle("From tape to plate")
        self.resize(theme.px(WIDE), theme.px(HIGH))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.page = QTextBrowser()
        self.page.setObjectName("guide text")
        self.page.setOpenLinks(False)
        column.addWidget(self.page)
        words, folder = text()
        if folder is not None:
            self.page.document().setBaseUrl(QUrl.fromLocalFile(f"{folder}/"))
            self.page.setSearchPaths([str(folder)])
        self.page.document().setDocumentMargin(theme.px(22))
        self.page.document().setMarkdown(words, QTextDocument.MarkdownFeature.MarkdownNoHTML)
        self._laid_out(theme)

    def _laid_out(self, theme: Theme) -> None:
        """Pictures as wide as the page, lines with air between."""
        document = self.page.document()
        room = self.width() - theme.px(2 * 22 + 26)
        block = document.begin()
        while block.isValid():
            it = block.begin()
            while not it.atEnd():
                fragment = it.fragment()
                if fragment.isValid() and fragment.charFormat().isImageFormat():
                    shown = QTextImageFormat(fragment.charFormat().toImageFormat())
                    shown.setWidth(room)
                    cursor = QTextCursor(document)
                    cursor.setPosition(fragment.position())
                    cursor.setPosition(
                        fragment.position() + fragment.length(), QTextCursor.MoveMode.KeepAnchor
                    )
                    cursor.setCharFormat(shown)
                    break  # its block was changed: go on with the next
                it += 1
            block = block.next()
        cursor = QTextCursor(document)
        cursor.select(QTextCursor.SelectionType.Document)
        spaced = QTextBlockFormat()
        spaced.setLineHeight(100 * AIR, QTextBlockFormat.LineHeightTypes.ProportionalHeight.value)
        cursor.mergeBlockFormat(spaced)


def show_guide(window: QWidget, theme: Theme) -> Guide:
    """Open it, or bring the one that is open to the front."""
    open_ = window.findChild(Guide, "guide")
    guide = open_ if open_ is not None else Guide(window, theme)
    guide.show()
    guide.raise_()
    return guide


__all__ = ["Guide", "places", "show_guide", "text"]
