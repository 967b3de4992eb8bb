"""What a day of switching leaves behind: nothing."""

import gc

import pytest
from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import QApplication, QCompleter


def settled() -> None:
    for _ in range(4):
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
        QApplication.processEvents()
    gc.collect()


def standing(window) -> tuple[int, int, int]:
    """Widgets of the whole application, objects under the window, completers that Python still holds."""
    settled()
    return (
        len(QApplication.allWidgets()),
        len(window.findChildren(QObject)),
        sum(isinstance(o, QCompleter) for o in gc.get_objects()),
    )


@pytest.mark.parametrize("what", ["night", "bench_size", "switch_units", "toggle_drawer"])
def test_switching_to_and_fro_leaves_no_objects_behind(qtbot, window, what):
    for _ in range(2):  # the first time makes what is kept
        getattr(window, what)()
    before = standing(window)
    for _ in range(6):
        getattr(window, what)()
        settled()
    after = standing(window)
    assert all(now <= then for now, then in zip(after, before, strict=True)), (before, after)
