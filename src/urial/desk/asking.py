"""The session's questions in a window: asked here, worked out in other threads, answered by one signal."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QCoreApplication, QEventLoop, QObject, QTimer, Signal

from urial.desk.worker import LOOK_MS, collect_in_gui_thread, share_python
from urial.session import asked, in_words, work
from urial.session.questions import State
from urial.session.scheduler import Failed, Scheduler

PAUSE_MS = 10
REGISTERED = asked, in_words, work
"""The modules whose questions there are once they are imported."""


class Asking(QObject):
    """``answered(name)``: something is new about a question: it was begun or dropped, has told how far it
    is, or there is its answer.
    """

    answered = Signal(str)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        collect_in_gui_thread()
        share_python()
        self.scheduler = Scheduler()
        self._timer = QTimer(self)
        self._timer.setInterval(LOOK_MS)
        self._timer.timeout.connect(self.look)
        app = QCoreApplication.instance()
        if app is not None:
            app.aboutToQuit.connect(self.scheduler.forget)

    def ask(self, name: str, state: State) -> None:
        """Begin; the newest asked of a question wins."""
        self.scheduler.ask(name, state)
        self._timer.start()
        self.answered.emit(name)

    def drop(self, name: str) -> None:
        """Leave it at that."""
        known = self.scheduler.state(name) is not None
        self.scheduler.drop(name)
        if known:
            self.answered.emit(name)

    def busy(self, name: str) -> bool:
        """Is it still being worked out?"""
        return self.scheduler.busy(name)

    def answer(self, name: str) -> object:
        """The answer to what was asked last; None while there is none, or where the work came to grief."""
        found = self.scheduler.answer(name)
        return None if isinstance(found, Failed) else found

    def failed(self, name: str) -> bool:
        """Did its work come to grief?"""
        return isinstance(self.scheduler.answer(name), Failed)

    def about(self, name: str) -> State | None:
        """What it was asked of last."""
        return self.scheduler.state(name)

    def told(self, name: str) -> tuple[object, ...]:
        """What its work has told so far."""
        return self.scheduler.told(name)

    def words(self, name: str) -> str:
        """How far its work is, in words; nothing where it is not worked on."""
        if not self.busy(name):
            return ""
        said = [t for t in self.told(name) if isinstance(t, str)]
        return said[-1] if said else ""

    def linger(self, name: str, seconds: float, enough: Callable[[], bool] = lambda: False) -> None:
        """Wait a moment for an answer, less when ``enough`` says so; what is there is reported at once."""
        self.scheduler.wait(name, seconds, enough)
        self.look()

    def wait(self, name: str) -> None:
        """Let the window paint itself until there is an answer; keys and clicks wait with it."""
        loop = QEventLoop()
        pause = QTimer()
        pause.setInterval(PAUSE_MS)
        pause.timeout.connect(lambda: None if self.scheduler.busy(name) else loop.quit())
        pause.start()
        self.look()
        if self.scheduler.busy(name):
            loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
        self.look()

    def look(self) -> None:
        """Report what is new."""
        for name in self.scheduler.news():
            self.answered.emit(name)
        if self.scheduler.idle:
            self._timer.stop()


__all__ = ["Asking"]
