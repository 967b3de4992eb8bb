"""What hands do in a window: find what is on the screen, by the name it goes by, and click it."""

import os

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QPushButton, QWidget

from urial.desk.widgets.word_button import WordButton

HANGS_MS = int(os.environ.get("URIAL_TEST_HANGS_MS", "300000"))
"""What takes so long hangs, however loaded the machine: a wait ends when what it waits for is there."""


def shown(qtbot, where, name, kind=QPushButton):
    """The one of a name that is on the screen.  What is made new is shown by the event loop, and one that was
    there before may not be gone yet, so it is waited for."""

    def there():
        QApplication.processEvents()
        return next((b for b in where.findChildren(kind, name) if b.isVisible()), None)

    found = there()
    if found is None:
        qtbot.waitUntil(lambda: there() is not None, timeout=HANGS_MS)
        found = there()
    return found


def click(qtbot, where, name, kind=QPushButton):
    """Click the one of a name that is on the screen; one that is grey is none to click."""
    found = shown(qtbot, where, name, kind)
    assert found.isEnabled(), name
    qtbot.mouseClick(found, Qt.MouseButton.LeftButton)


def field(qtbot, where, path):
    """The field of a size."""
    return shown(qtbot, where, f"field:{path}", QWidget)


def minded(build):
    """All that is to be minded at Build, as it stands in its list."""
    build.refresh()
    return "\n".join(row.text() for row in build.minded.findChildren(WordButton))
