"""Work off the GUI thread: the newest wins, a failure is said and outlived, nobody waits for what was
dropped.
"""

import gc
import threading

import pytest
from PySide6.QtCore import QObject

from urial.desk.store import Store
from urial.desk.worker import Failed, Worker
from urial.job.recovery import Recovery


@pytest.fixture
def taken():
    return []


@pytest.fixture
def worker(qapp, taken):
    parent = QObject()
    yield Worker(parent, taken.append)
    parent.deleteLater()


def test_a_quick_answer_is_there_at_once_and_a_slow_one_later(qtbot, worker, taken):
    worker.ask(lambda _: threading.current_thread().name, patience=10.0)
    assert taken and taken[0] != threading.current_thread().name and not worker.busy
    gate = threading.Event()
    worker.ask(lambda _: gate.wait(30) and "slow", patience=0.01)
    assert worker.busy and len(taken) == 1
    gate.set()
    qtbot.waitUntil(lambda: taken[-1] == "slow")
    assert not worker.busy


def test_only_the_newest_question_is_answered(qtbot, worker, taken):
    gate, begun, seen = threading.Event(), [], []

    def work(number):
        def run(stale):
            begun.append(number)
            gate.wait(30)
            seen.append((number, stale()))
            return number

        return run

    for n in range(5):
        worker.ask(work(n))
        if n == 0:
            qtbot.waitUntil(lambda: begun == [0])
    gate.set()
    qtbot.waitUntil(lambda: bool(taken))
    qtbot.wait(60)
    assert taken == [4]
    assert begun == [0, 4] and seen == [(0, True), (4, False)]  # those between were never begun


def test_a_failure_is_handed_over_and_the_worker_goes_on(worker, taken):
    worker.ask(lambda _: 1 / 0, patience=10.0)
    worker.ask(lambda _: "well", patience=10.0)
    assert isinstance(taken[0], Failed) and taken[1] == "well"


def test_what_was_dropped_never_arrives(qtbot, worker, taken):
    gate = threading.Event()
    worker.ask(lambda _: gate.wait(30))
    worker.drop()
    gate.set()
    qtbot.wait(60)
    assert not taken and not worker.busy


@pytest.fixture
def pythons_own_threshold():
    before = gc.get_threshold()
    gc.set_threshold(700, 10, 10)
    yield
    gc.set_threshold(*before)


def test_garbage_with_widgets_in_it_dies_in_the_gui_thread(qtbot, worker, taken, pythons_own_threshold):
    """A worker that allocates a great deal would, with automatic collection, take a forgotten widget away
    in its own thread.
    """
    died = []

    class Ring(QObject):
        def __init__(self):
            super().__init__()
            self.itself = self  # only the collector can free it

        def __del__(self):
            died.append(threading.current_thread())

    assert not gc.isenabled()
    for _ in range(50):
        Ring()
    worker.ask(lambda _: len([[n] for n in range(200_000)]), patience=30.0)
    assert taken == [200_000] and not died
    kept = [[n] for n in range(5000)]  # enough to be worth collecting
    qtbot.waitUntil(lambda: len(died) == 50, timeout=10_000)  # the timer's doing
    assert kept
    assert set(died) == {threading.main_thread()}


def test_an_edit_that_cannot_be_worked_out_says_so_and_loses_nothing(qtbot, tmp_path, monkeypatch):
    store = Store(Recovery(tmp_path))
    before = store.verdict
    monkeypatch.setattr(Store, "patience", 30.0)
    monkeypatch.setattr(Store, "hasty", False)
    monkeypatch.setattr("urial.session.asked.prove", lambda job: 1 / 0)
    store.put("stack.1.drop_mm", 131.0)
    assert "could not be worked out" in store.refusal and store.verdict is before
    assert store.job.piece("rear-receiver").values.drop_mm == 131.0
    monkeypatch.undo()
    monkeypatch.setattr(Store, "patience", 30.0)
    monkeypatch.setattr(Store, "hasty", False)
    store.undo()
    assert not store.refusal and store.job == before.job
