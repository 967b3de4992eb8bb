"""Every text of every page: words for a person, in the job's units, with the place's decimal mark."""

from __future__ import annotations

import re

import pytest
from PySide6.QtWidgets import (
    QApplication,
    QComboBox,
    QLabel,
    QLineEdit,
    QListWidget,
    QPushButton,
    QTextEdit,
    QWidget,
)

from tests.desk.test_every_field import JOBS, pages
from urial import units

NOT_WORDS = re.compile(r"\b(None|nan|inf|True|False|Traceback|object at 0x|<class)\b|\de[-+]\d")
METRIC_ONLY = re.compile(r"\d[ \u00a0](mm|kN|kN·m|N·m|MPa|km/h)\b(?! \()")
INCH_ONLY = re.compile(r"\d[ \u00a0](lb|lbf|ft·lb|ksi|mph|ft)\b(?! \()")
POINT = re.compile(r"(?<![\w.,/])\d+\.\d+(?=[ \u00a0]?(?:%|°)|[ \u00a0](?:kN|N|mm|MPa|kg|m|lb|lbf|ft|in)\b)")
TRADE = re.compile(r"M\d+ × \d+[ \u202f]mm|plate \d+[ \u202f]mm|\d+(\.\d+)? × \d")
"""Names of stock, which stay as they are sold in either system."""


def texts(window):
    """Every text that can be read now, with the kind of widget that shows it."""
    for widget in window.findChildren(QWidget):
        if not widget.isVisible():
            continue
        kind = type(widget).__name__
        if isinstance(widget, (QLabel, QPushButton, QLineEdit)):
            yield kind, widget.text()
        elif isinstance(widget, QTextEdit):
            yield kind, widget.toPlainText()
        elif isinstance(widget, QListWidget):
            yield from ((kind, widget.item(n).text()) for n in range(widget.count()))
        elif isinstance(widget, QComboBox):
            yield kind, widget.currentText()


@pytest.fixture(params=["rescue-receiver", "medic-bike-hitch", "weir-anchor", "boat-cradles"])
def opened(request, window):
    window.store.saved_job = window.store.job
    window.open_demo(JOBS[request.param])
    QApplication.processEvents()
    return window


def test_nothing_of_the_machinery_is_shown(opened):
    seen = 0
    for page in pages(opened):
        for kind, text in texts(opened):
            assert not NOT_WORDS.search(text), (page, kind, text)
            seen += bool(text)
    assert seen > 100


@pytest.mark.parametrize("system", ["metric", "inch"])
def test_a_page_speaks_one_system(opened, system):
    """But for trade names, and for a figure that has the other beside it in brackets."""
    if opened.store.job.units != system:
        opened.switch_units()
    other = METRIC_ONLY if system == "inch" else INCH_ONLY
    for page in pages(opened):
        for kind, text in texts(opened):
            plain = TRADE.sub("", text)
            assert not other.search(plain), (page, kind, other.search(plain).group(), text)


def test_with_a_comma_no_figure_with_a_unit_keeps_its_point(opened):
    try:
        opened.switch_decimals()
        assert units.decimal_mark() == ","
        for page in pages(opened):
            for kind, text in texts(opened):
                plain = TRADE.sub("", text)
                assert not POINT.search(plain), (page, kind, text)
    finally:
        units.write_decimals(".")


def test_buttons_say_what_they_do(opened):
    """No button without a word or a name for those who cannot see it, and none that says the same as
    another of its page but for rows of a list.
    """
    for page in pages(opened):
        for button in opened.findChildren(QPushButton):
            if button.isVisible():
                assert (button.text() or button.accessibleName() or button.toolTip()).strip(), (
                    page,
                    button.objectName(),
                )


def test_sentences_end_and_begin_as_sentences_do(opened):
    """More than a heading or a figure is a sentence: a capital or a figure first, a stop at the end."""
    for page in pages(opened):
        for label in opened.findChildren(QLabel):
            text = label.text().strip()
            if not label.isVisible() or len(text) < 60 or label.property("role") in ("mono", "told"):
                continue
            if "\n" in text or not label.wordWrap():
                continue
            assert text[0].isupper() or not text[0].isalpha(), (page, text)
            assert text[-1] in ".:!?…)”\"'", (page, text)
