"""A window as a user has it, with the demo job open."""

from __future__ import annotations

import gc

import pytest
from PySide6.QtCore import QCoreApplication, QEvent
from PySide6.QtWidgets import QMessageBox

from tests.desk.hands import HANGS_MS
from urial.desk.scene import render
from urial.desk.start import demo_jobs
from urial.desk.store import Store
from urial.desk.theme import Theme, load_fonts
from urial.desk.window import Window
from urial.job.model import Job
from urial.job.recovery import Recovery
from urial.job.remembered import Remembered
from urial.session import asked
from urial.session.scheduler import KEPT as KEPT_BY_A_WINDOW
from urial.session.scheduler import Scheduler

TESTS = iter(range(1, 10**9))
THOROUGH = 30
"""After so many tests everything is looked at again: a window that something still held when it was set
aside would stay for good."""


@pytest.fixture(autouse=True)
def collected():
    """A window collects garbage in its own thread by a timer; after a test nobody runs that timer.  What is
    left then is remembered on purpose, and the next collection need not look at it."""
    yield
    if next(TESTS) % THOROUGH == 0:
        gc.unfreeze()
    gc.collect()
    gc.freeze()
    gc.enable()


OPENED: Remembered[Job, asked.Outcome] = Remembered(6)


def opened(job, tell=asked.silent, seen=None, *, reckon=asked.derived):
    """A job that a test before has opened is not worked out anew: what follows from it is a value."""
    if seen is not None:  # edited, not opened
        return reckon(job, tell, seen)
    return OPENED.of(job, lambda: reckon(job, tell, seen))


OF_ITS_WINDOW = {"plan", "nests", "welding", "price"}
"""What hangs on a log's or a shop's revision: a number that another window has for another log."""


class Answers(Remembered[tuple[str, object], object]):
    """What windows before have answered of jobs alone: equal questions have equal answers, whoever asks."""

    shared = Remembered(48)

    def of(self, question, reckon, whole=lambda: True):
        if question[0] in OF_ITS_WINDOW:
            return super().of(question, reckon, whole)
        return self.shared.of(question, reckon, whole)


KEPT: list[render.Renderer] = []


def renderer():
    """One a window before has left: everything it shows is set anew, and its driver has its room already."""
    return KEPT.pop() if KEPT else Kept()


class Kept(render.Renderer):
    """One that the next window gets."""


@pytest.fixture
def qtbot(qtbot, monkeypatch):
    """pytest-qt's own, patient: nobody can click what has not got its room yet."""
    wait, expect, press = type(qtbot).waitUntil, type(qtbot).waitSignal, type(qtbot).mouseClick

    def click(widget, *args, **kwargs):
        if widget.rect().isEmpty():
            wait(qtbot, lambda: not widget.rect().isEmpty(), timeout=HANGS_MS)
        press(widget, *args, **kwargs)

    monkeypatch.setattr(type(qtbot), "mouseClick", staticmethod(click))
    monkeypatch.setattr(type(qtbot), "waitUntil", lambda self, seen, **_: wait(self, seen, timeout=HANGS_MS))
    monkeypatch.setattr(
        type(qtbot), "waitSignal", lambda self, signal, **_: expect(self, signal, timeout=HANGS_MS)
    )
    return qtbot


@pytest.fixture
def window(qtbot, tmp_path, monkeypatch):
    built = Scheduler.__init__

    def remembering(self, *given, **named):
        built(self, *given, **named)
        self._memory = Answers(KEPT_BY_A_WINDOW)

    monkeypatch.setattr(Scheduler, "__init__", remembering)

    def unanswered(box):  # nobody is there to press a button
        discard = QMessageBox.StandardButton.Discard
        return discard if box.standardButtons() & discard else QMessageBox.StandardButton.Ok

    monkeypatch.setattr(QMessageBox, "exec", unanswered)
    monkeypatch.setenv(
        "URIAL_STATE_DIR", str(tmp_path / "state")
    )  # what one test leaves to be remembered is not the next one's
    load_fonts()
    monkeypatch.setattr(asked, "derived", opened)
    monkeypatch.setattr(render, "Renderer", renderer)
    monkeypatch.setattr(
        Store, "patience", 60.0
    )  # what is looked at next is there; that the window does not wait has a test of its own
    monkeypatch.setattr(Store, "hasty", False)
    monkeypatch.setattr(Store, "hands_rest_ms", 3_600_000)  # looked at when asked; resting has its own test
    w = Window(Theme(), Store(Recovery(tmp_path / "recovery")))
    w.open_demo(demo_jobs()[0][0])
    w.show()
    qtbot.waitExposed(w)
    yield w
    w.store.document.saved_job = w.store.job
    if isinstance(w.scene.renderer, Kept):
        KEPT.append(w.scene.renderer)
    w.close()
    w.deleteLater()  # and at once: outside an event loop nobody else would take it away
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)


@pytest.fixture
def short_window(window):
    window.open_demo(demo_jobs()[1][0])
    return window
