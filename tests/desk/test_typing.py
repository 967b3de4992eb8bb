"""Tab into a field, wait, type: what was there is replaced, whatever is answered meanwhile."""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from urial.desk.start import demo_jobs
from urial.desk.widgets.fields import Field

JOBS = {path.stem: path for path, *_ in demo_jobs()}
PAUSE_MS = 30
"""Between the Tab and the first key, long enough for answers to the edit before to arrive."""


def focused_field() -> Field | None:
    here = QApplication.focusWidget()
    while here is not None and not isinstance(here, Field):
        here = here.parentWidget()
    return here


def pages(window):
    for name, station in window.stations.items():
        if not station.useful:
            continue
        window.go(name)
        groups = getattr(station, "groups", None)
        if groups:
            for group in list(groups):
                station.show_group(group)
                yield f"{name}, {group}"
        elif hasattr(station, "show_page"):
            for title, page in station.pages.items():
                if page.fits(window.store.job):
                    station.show_page(title)
                    yield f"{name}, {title}"
        else:
            yield name


@pytest.mark.parametrize("job", ["rescue-receiver", "milk-trailer"])
def test_tab_pause_and_type_replaces_what_was_there_in_every_field(qtbot, window, job):
    """Each length: written a little longer, key by key; what is typed stands whole before it is left."""
    window.store.document.saved_job = window.store.job
    window.open_demo(JOBS[job])
    seen: set[str] = set()
    for page in pages(window):
        QApplication.processEvents()
        for path in [f.path for f in window.findChildren(Field) if f.isVisible() and f.line is not None]:
            here = next((f for f in window.findChildren(Field) if f.isVisible() and f.path == path), None)
            if path in seen or here is None or not here.line.isEnabled() or here.spec.quantity != "length":
                continue
            seen.add(path)
            here.line.setFocus(Qt.FocusReason.TabFocusReason)
            QTest.qWait(PAUSE_MS)
            here = focused_field()
            where = (page, path)
            assert here is not None and here.path == path, where
            assert here.line.selectedText() == here.line.text(), where
            shown = here.line.text()
            window.store.changed.emit()  # whatever else tells of the job meanwhile
            assert here.line.selectedText() == shown, where
            typed = ""
            for key in "123.4 mm":
                qtbot.keyClick(here.line, key)
                typed += key
                window.store.changed.emit()
                now = focused_field()
                assert now is here and here.line.text() == typed, where
            qtbot.keyClick(here.line, Qt.Key.Key_Escape)
            assert here.line.text() == shown, where
            if len(seen) % 6 == 0:  # taken, so that answers come while the next is written
                qtbot.keyClick(here.line, Qt.Key.Key_Home)
                QTest.keyClicks(here.line, "0")
                qtbot.keyClick(here.line, Qt.Key.Key_Tab)
    assert len(seen) > 30


def test_digits_space_and_brackets_alone_never_leave_a_page(qtbot, window):
    """They belong to typing: a station by Alt and its number, the rest while the drawing has the focus."""
    window.go("Build")
    window.unit_button.setFocus()
    view, link = window.scene.camera.view, window.store.shown_check().link
    for key in ("1", "2", "5", "[", "]", Qt.Key.Key_Space):
        for where in (window.slates.currentWidget(), window.unit_button, window.title):
            qtbot.keyClick(where, key)
            assert window.station == "Build", key
    assert window.scene.camera.view == view and window.store.shown_check().link == link
    qtbot.keyClick(window, "5", Qt.KeyboardModifier.AltModifier)
    assert window.station == "Prove"
    window.chain.setFocus()
    qtbot.keyClick(window.chain, "]")
    assert window.store.shown_check().link != link
