"""At bench size on a small screen: the job is still named, buttons are whole, every tab's words have room."""

import pytest
from PySide6.QtGui import QFontMetrics

from tests.desk.test_making import JOBS
from urial.desk.theme import font


@pytest.mark.parametrize("large", [False, True])
def test_names_and_buttons_are_whole_on_a_small_screen(qtbot, window, large):
    window.resize(1280, 800)
    window.open_demo(JOBS["rescue-receiver"])
    if large:
        window.bench_size()
    window.go("Prove")
    judged = ("Measure", "Load", "Build", "Prove", "Cut")  # the rest is not known until somebody looks
    qtbot.waitUntil(lambda: all(window.tabs[n].words for n in judged))
    assert window.width() == 1280
    for line in (window.title, window.subtitle):
        shown = line.text().rstrip("…")
        assert len(shown) >= 12 and line.toolTip().startswith(shown[:8])
        assert line.fontMetrics().horizontalAdvance(line.text()) <= line.width()
    switch = window.chain.switch
    qtbot.waitUntil(switch.isVisible)
    assert switch.height() >= switch.fontMetrics().height()
    assert switch.width() >= switch.fontMetrics().horizontalAdvance(switch.text())
    assert switch.x() + switch.width() <= window.chain.width()
    for tab in window.tabs.values():
        small = QFontMetrics(font(window.theme, 11.5))
        assert small.horizontalAdvance(tab.words) <= tab.width() - window.theme.px(11)
        assert (
            tab.mapTo(window, tab.rect().topRight()).x()
            < window.unit_button.mapTo(window, window.rect().topLeft()).x()
        )
