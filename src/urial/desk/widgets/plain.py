"""Words of a stranger as they are: nothing in a name, a refusal or a tip is ever read as markup.

A box or a tip that takes its text for rich loads what that names: a device as a picture eats all memory, a
pipe hangs for ever.
"""

from __future__ import annotations

import html

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QMessageBox, QWidget

Buttons = QMessageBox.StandardButton


def plain(words: str) -> str:
    """Words that Qt shows as they are, where it decides by itself what is markup."""
    if "<" not in words and "&" not in words:
        return words
    return f'<p style="white-space: pre-wrap">{html.escape(words)}</p>'


def box_of(
    parent: QWidget | None,
    words: str,
    buttons: Buttons = Buttons.Ok,
    default: Buttons = Buttons.NoButton,
    icon: QMessageBox.Icon = QMessageBox.Icon.Warning,
) -> QMessageBox:
    """A box with a sentence, as it is."""
    box = QMessageBox(icon, "Urial", "", buttons, parent)
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.setText(words)
    if default != Buttons.NoButton:
        box.setDefaultButton(default)
    return box


def warn(parent: QWidget | None, words: str) -> None:
    """Say something that has to be heard."""
    box_of(parent, words).exec()


def ask(parent: QWidget | None, words: str, buttons: Buttons, default: Buttons = Buttons.NoButton) -> Buttons:
    """Ask something; the button that was pressed."""
    return Buttons(box_of(parent, words, buttons, default, QMessageBox.Icon.Question).exec())
