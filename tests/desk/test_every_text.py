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
METRIC_ONLY = re.compile(r"\d[ \u00a0]?(mm|kg|kN|kN·m|N·m|MPa|km/h)\b(?!²|³| \()")
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


def machinery(kind: str, text: str, system: str) -> bool:
    """Something of the program itself is shown."""
    return bool(NOT_WORDS.search(text))


def other_system(kind: str, text: str, system: str) -> bool:
    """The other system's unit, but for trade names and a figure that has the other beside it in brackets."""
    if kind in ("QComboBox", "_Escaping") and re.fullmatch(r"\d+(\.\d+)? mm", text):
        return False  # a plate is called so
    other = METRIC_ONLY if system == "inch" else INCH_ONLY
    return bool(other.search(TRADE.sub("", text)))


def kept_point(kind: str, text: str, system: str) -> bool:
    """A figure with a unit that kept its point though commas are wanted."""
    return units.decimal_mark() == "," and bool(POINT.search(TRADE.sub("", text)))


def no_sentence(kind: str, text: str, system: str) -> bool:
    """More than a heading or a figure, and neither begun nor ended as a sentence is."""
    text = text.strip()
    if kind != "Words" or len(text) < 70 or "\n" in text:
        return False
    return not (text[0].isupper() or not text[0].isalpha()) or text[-1] not in ".:!?…)”\"'"


RULES = (machinery, other_system, kept_point, no_sentence)


def read(window, system: str) -> int:
    """Every page: each text against each rule; how many there were."""
    seen = 0
    for page in pages(window):
        for kind, text in texts(window):
            broken = [rule.__doc__ for rule in RULES if rule(kind, text, system)]
            assert not broken, (page, text, broken)
            seen += bool(text)
        for button in window.findChildren(QPushButton):
            if button.isVisible():
                words = button.text() or button.accessibleName() or button.toolTip()
                assert words.strip(), (page, button.objectName())
    return seen


@pytest.mark.parametrize(
    "stem",
    ["rescue-receiver", "first-idea", "weir-anchor", "hay-net-carriage", "boat-cradles"],
)
def test_every_text_is_for_a_person_in_one_system_and_with_one_mark(window, stem):
    window.store.document.saved_job = window.store.job
    window.open_demo(JOBS[stem])
    QApplication.processEvents()
    for system in ("metric", "inch"):
        if window.store.job.units != system:
            window.switch_units()
        assert read(window, system) > 100
    if stem not in ("rescue-receiver", "hay-net-carriage"):  # a comma is a comma in every job
        return
    try:
        window.switch_decimals()
        QApplication.processEvents()
        assert read(window, "inch") > 100
        window.switch_units()
        assert read(window, "metric") > 100
    finally:
        units.write_decimals(".")


@pytest.mark.parametrize(
    ("text", "rule", "system"),
    [
        ("it is None wide", machinery, "metric"),
        ("5.05e-24 mm", machinery, "metric"),
        ("leg 12 mm", other_system, "inch"),
        ("1.5 lb more", other_system, "metric"),
    ],
)
def test_the_rules_can_be_broken(text, rule, system):
    assert rule("Words", text, system) and not rule("Words", 'plate 12 mm (1/2")', system)
