"""Work off the GUI thread.  A thread only reckons: it never touches a Qt object, and no Qt object dies in
it.
"""

from __future__ import annotations

import gc
import logging
import sys
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor, wait
from time import monotonic

from PySide6.QtCore import QCoreApplication, QObject, QTimer

log = logging.getLogger("urial")

Work = Callable[[Callable[[], bool]], object]
"""What is to be reckoned; it may ask now and then whether anybody still waits for it."""

SWITCH_S = 0.001
"""So long one thread keeps Python before another that waits for it has its turn: Qt gives it up at every
call, so that at the usual 5 ms a click beside a proof waits for it again and again.
"""
LOOK_MS = 8
TIDY_MS = 500


class Failed:
    """In place of a result: the work came to grief; the log says how."""


def _tidy() -> None:
    """Collect what Python's own threshold would have collected, oldest generation last."""
    for generation, threshold in enumerate(gc.get_threshold()):
        if gc.get_count()[generation] <= threshold:
            break
        gc.collect(generation)


def share_python() -> None:
    """Let the window have Python soon while something is reckoned; that loses no pace by it."""
    sys.setswitchinterval(SWITCH_S)


def collect_in_gui_thread() -> None:
    """Let cyclic garbage be collected by the GUI thread alone.

    Python collects in whichever thread happens to allocate, and a widget that dies outside the GUI thread
    takes the window with it; so automatic collection is off while the window runs, and a timer does it
    instead.
    """
    app = QCoreApplication.instance()
    if app is None or app.findChild(QTimer, "tidy") is not None:
        if app is not None:
            gc.disable()
        return
    timer = QTimer(app)
    timer.setObjectName("tidy")
    timer.setInterval(TIDY_MS)
    timer.timeout.connect(_tidy)
    timer.start()
    gc.disable()


class Worker(QObject):
    """One thread that does the newest thing asked of it and forgets the others."""

    def __init__(
        self, parent: QObject, take: Callable[[object], None], meanwhile: Callable[[], None] | None = None
    ) -> None:
        super().__init__(parent)
        collect_in_gui_thread()
        self._take, self._meanwhile = take, meanwhile
        self._pool = ThreadPoolExecutor(1, "urial")
        self._newest = [0]
        self._future: Future[object] | None = None
        self._timer = QTimer(self)
        self._timer.setInterval(LOOK_MS)
        self._timer.timeout.connect(self._look)
        app = QCoreApplication.instance()
        if app is not None:
            app.aboutToQuit.connect(self.drop)

    @property
    def busy(self) -> bool:
        """Is the newest thing asked still being worked out?"""
        return self._future is not None

    def ask(self, work: Work, patience: float = 0.0) -> None:
        """Begin; within ``patience`` seconds the result is taken before this returns, later from the event
        loop.
        """
        self.drop()
        newest, number = self._newest, self._newest[0]

        def stale() -> bool:
            return newest[0] != number

        def run() -> object:
            if stale():
                return None
            try:
                return work(stale)
            except Exception:  # the window must outlive it
                log.exception("background work")
                return Failed()

        self._future = self._pool.submit(run)
        if patience and wait([self._future], patience).done:
            self._look()
        else:
            self._timer.start()

    def linger(self, patience: float, enough: Callable[[], bool]) -> None:
        """Wait at most ``patience`` seconds for what was asked, less when ``enough`` says so; take it if
        it is there.
        """
        end = monotonic() + patience
        while (
            self._future is not None
            and not wait([self._future], min(0.003, max(end - monotonic(), 0.0))).done
        ):
            if enough() or monotonic() >= end:
                return
        self._look()

    def drop(self) -> None:
        """Nobody waits for what was asked any more."""
        self._newest[0] += 1
        if self._future is not None:
            self._future.cancel()
        self._future = None
        self._timer.stop()

    def _look(self) -> None:
        if self._future is not None and self._future.done():
            result = self._future.result()
            self._future = None
            self._timer.stop()
            self._take(result)
        elif self._future is not None and self._meanwhile is not None:
            self._meanwhile()


__all__ = ["Failed", "Work", "Worker", "collect_in_gui_thread"]
