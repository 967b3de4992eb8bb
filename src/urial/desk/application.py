"""Start of the window: display, fonts, log, and the last line of defence against an unexpected failure."""

from __future__ import annotations

import os
from pathlib import Path


class NoDisplay(Exception):
    """There is no display to open a window on."""


def has_display() -> bool:
    """Is there something to draw on?"""
    platform = os.environ.get("QT_QPA_PLATFORM", "")
    if platform.split(":")[0] in ("offscreen", "minimal", "vnc", "linuxfb", "eglfs"):
        return True
    return bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"))


def run(path: Path | None, demo: bool = False) -> int:
    """Open the window, on a file or on the first demo job, and stay until it is closed."""
    if not has_display():
        raise NoDisplay
    from PySide6.QtCore import QLocale, QTimer
    from PySide6.QtGui import QIcon, QPixmap
    from PySide6.QtWidgets import QApplication

    from urial import units
    from urial.desk import settings
    from urial.desk.theme import load_fonts
    from urial.desk.unexpected import watch
    from urial.desk.window import Window
    from urial.journal import start_log

    start_log()
    app = QApplication.instance() or QApplication(["urial"])
    assert isinstance(app, QApplication)
    app.setApplicationName("urial")
    app.setDesktopFileName("urial")
    mark = settings.remembered("decimals")
    units.write_decimals(mark if len(mark) == 1 else QLocale.system().decimalPoint())
    load_fonts()
    from importlib.resources import files

    pixmap = QPixmap()
    pixmap.loadFromData((files("urial.desk.theme") / "urial.png").read_bytes())
    app.setWindowIcon(QIcon(pixmap))
    window = Window(furnished=False)
    watch(window)

    def begin() -> None:
        from urial.desk.start import demo_jobs

        window.furnish()
        if path is not None:
            window.open_file(path)
        elif demo:
            window.open_demo(demo_jobs()[0][0])

    window.show()
    QTimer.singleShot(30, begin)  # after the first paint
    return int(app.exec())
