"""``./run clicks [SECONDS] [SEED]``: clicks, keys, wheel and texts at random over every demo job in the whole
window, as somebody who does not know it, until the time is over; every error that comes up is printed once,
and the counts at the end.
"""

from __future__ import annotations

import faulthandler
import os
import random
import shutil
import sys
import tempfile
import time
import traceback
from collections import Counter
from pathlib import Path
from types import TracebackType

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QCoreApplication, QPoint, QPointF, Qt, QTimer
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QLineEdit,
    QMenu,
    QMenuBar,
    QPlainTextEdit,
    QTabBar,
    QTextEdit,
    QWidget,
)

EVERY_MS = 25
HELD_S = 3.0
"""Where the window's thread is held longer is printed."""
TEXTS = (
    *("", "0", "-1", "12", "1 1/2", "5 ft 3 in", "nan", "1e9", "<b>x</b>", "40", "60*2", "abc", "100"),
    *("3,5", "   ", " 50 mm", "½", "= wide / 2", "a" * 300),
)
KEYS = (
    *(Qt.Key.Key_Return, Qt.Key.Key_Escape, Qt.Key.Key_Tab, Qt.Key.Key_Space, Qt.Key.Key_Delete),
    *(Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_PageDown),
    *(Qt.Key.Key_Home, Qt.Key.Key_End, Qt.Key.Key_F1),
)
EDITS = (QLineEdit, QPlainTextEdit, QTextEdit)
ACTING = (QAbstractButton, QComboBox, QAbstractItemView, QTabBar, QMenuBar)
LEFT, NONE = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
CONTROL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


class Hands:
    """Somebody at the window until the time is over."""

    def __init__(self, seconds: float, seed: int, folder: Path) -> None:
        from urial.desk.start import demo_jobs
        from urial.desk.store import Store
        from urial.desk.theme import Theme, load_fonts
        from urial.desk.window import Window
        from urial.job.recovery import Recovery

        load_fonts()
        self.folder, self.seed, self.rng = folder, seed, random.Random(seed)
        self.end = time.monotonic() + seconds
        self.demos = [path for path, _, _ in demo_jobs()]
        self.done: Counter[str] = Counter()
        self.found: dict[str, str] = {}
        self.longest, self.last = 0.0, time.monotonic()
        self.window = Window(Theme(), Store(Recovery(folder / "recovery")))
        self.window.open_demo(self.rng.choice(self.demos))
        self.window.show()

    def seen(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        """Print an error the first time it comes up in a place."""
        rows = traceback.format_exception(kind, error, trace)
        key = rows[-1] + (rows[-2] if len(rows) > 1 else "")
        if key not in self.found:
            self.found[key] = "".join(rows)
            print("FOUND", self.found[key], flush=True)

    def pump(self) -> None:
        """Do one thing, and the next a little later: also while a dialog of the first stands open."""
        faulthandler.dump_traceback_later(HELD_S)
        now = time.monotonic()
        if now > self.end:
            for top in QApplication.topLevelWidgets():
                if isinstance(top, QDialog):
                    top.reject()
            QTimer.singleShot(300, self.finish)
            return
        QTimer.singleShot(EVERY_MS, self.pump)
        self.longest = max(self.longest, now - self.last)
        try:
            self.done[self.act()] += 1
        except RuntimeError as error:
            if "already deleted" not in str(error):  # of what a click before took away
                self.seen(*sys.exc_info())  # type: ignore[arg-type]
        self.last = time.monotonic()

    def finish(self) -> None:
        """Print the counts, and go without asking: what still reckons, or waits in a box, is nobody's now."""
        counts = ", ".join(f"{n} {what}" for what, n in self.done.most_common())
        print(f"seed {self.seed}: {sum(self.done.values())} actions ({counts})")
        print(f"longest wait {self.longest:.2f} s; {len(self.found)} faults", flush=True)
        shutil.rmtree(self.folder, ignore_errors=True)
        os._exit(bool(self.found))

    def act(self) -> str:
        """One thing; what it was."""
        rng, window = self.rng, self.window
        for top in QApplication.topLevelWidgets():
            if isinstance(top, QFileDialog) and top.isVisible():  # other people's files are not touched
                top.reject()
                return "file dialogs left"
        over = QApplication.activePopupWidget() or QApplication.activeModalWidget()
        if over is not None and (rng.random() < 0.15 or isinstance(over, QMenu)):
            return self._over(over)
        if not window.isVisible():
            window.show()
        what = rng.random()
        if over is None and what < 0.05:
            QTest.keyClick(window, rng.choice([Qt.Key.Key_Z, Qt.Key.Key_Y]), CONTROL)
            return "undo and redo"
        if over is None and what < 0.07:
            window.go(rng.choice(list(window.stations)))
            return "stations"
        if over is None and what < 0.075:
            window.store.document.saved_job = window.store.job
            window.open_demo(rng.choice(self.demos))
            return "jobs opened"
        there = [
            w
            for w in (over or window).findChildren(QWidget)
            if w.isVisible() and w.isEnabled() and min(w.width(), w.height()) > 3
        ]
        edits = [w for w in there if isinstance(w, EDITS)]
        if what < 0.35 and edits:
            one = rng.choice(edits)
            QTest.mouseClick(one, LEFT)
            QTest.keyClick(one, Qt.Key.Key_A, CONTROL)
            QTest.keyClicks(one, rng.choice(TEXTS))
            QTest.keyClick(one, rng.choice([Qt.Key.Key_Return, Qt.Key.Key_Tab]))
            return "texts typed"
        acting = [w for w in there if isinstance(w, ACTING)]
        return self._hand(rng.choice(acting if what < 0.8 and acting else there or [window]))

    def _over(self, over: QWidget) -> str:
        acts = [a for a in over.actions() if a.isEnabled() and not a.isSeparator() and "uit" not in a.text()]
        if isinstance(over, QMenu) and acts and self.rng.random() > 0.15:
            QTest.mouseClick(over, LEFT, NONE, over.actionGeometry(self.rng.choice(acts)).center())
            return "menus"
        QTest.keyClick(over, Qt.Key.Key_Escape)
        return "left by Escape"

    def _hand(self, one: QWidget) -> str:
        rng = self.rng
        at, how = QPoint(rng.randrange(one.width()), rng.randrange(one.height())), rng.random()
        if how < 0.65:
            QTest.mouseClick(one, LEFT, rng.choice([NONE] * 4 + [SHIFT, CONTROL]), at)
            return "clicks"
        if how < 0.72:
            QTest.mouseDClick(one, LEFT, NONE, at)
            return "double clicks"
        if how < 0.80:
            QTest.mouseClick(one, Qt.MouseButton.RightButton, NONE, at)
            return "right clicks"
        if how < 0.88:
            turn, place = QPoint(0, rng.choice([-120, 120])), QPointF(one.mapToGlobal(at))
            none = Qt.MouseButton.NoButton
            wheel = QWheelEvent(
                QPointF(at), place, QPoint(), turn, none, NONE, Qt.ScrollPhase.NoScrollPhase, False
            )
            QCoreApplication.sendEvent(one, wheel)
            return "wheel"
        if how < 0.92:
            QTest.mousePress(one, LEFT, NONE, at)
            QTest.mouseMove(one, at + QPoint(rng.randint(-60, 60), rng.randint(-60, 60)))
            QTest.mouseRelease(one, LEFT, NONE, at)
            return "drags"
        QTest.keyClick(one, rng.choice(KEYS))
        return "keys"


def main(seconds: float, seed: int) -> None:
    """Until the time is over; the process ends with 0 when nothing came up."""
    folder = Path(tempfile.mkdtemp(prefix="urial-clicks-"))
    os.environ.update(
        HOME=str(folder),
        URIAL_STATE_DIR=str(folder / "state"),
        XDG_CONFIG_HOME=str(folder / "settings"),
        XDG_DATA_HOME=str(folder / "data"),
    )
    os.chdir(folder)
    app = QApplication([])
    hands = Hands(seconds, seed, folder)
    sys.excepthook = hands.seen
    QTimer.singleShot(500, hands.pump)
    app.exec()


if __name__ == "__main__":
    main(
        float(sys.argv[1]) if len(sys.argv) > 1 else 60.0,
        int(sys.argv[2]) if len(sys.argv) > 2 else random.SystemRandom().randrange(2**31),
    )
