"""Words of a stranger are shown as they are: a name that is markup names no picture to load."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QMessageBox, QPushButton, QWidget

from urial.desk.widgets.plain import plain
from urial.job import edit

EVIL = '<img src="/dev/zero">&lt;b&gt; <b>bold</b>'


@pytest.mark.parametrize("words", [EVIL, "5 < 6 & 7", "<!-- -->", "plain words", "a\nb"])
def test_what_qt_takes_for_markup_is_shown_as_it_is(qtbot, words):
    shown = QLabel(plain(words))
    qtbot.addWidget(shown)
    shown.show()
    from PySide6.QtGui import QTextDocument

    if plain(words) == words:
        assert "<" not in words and "&" not in words
    else:
        document = QTextDocument()
        document.setHtml(plain(words))
        assert document.toPlainText() == words
    assert "<img" not in plain(words) and "<b>" not in plain(words)


def test_a_title_that_is_markup_is_only_a_title(qtbot, window, monkeypatch):
    """In the head and its tip, in every box that names the job, on the papers' lines: nothing loads it."""
    window.store.put("title", EVIL)
    asked = []

    def shown(box):
        asked.append((box.textFormat(), box.text()))
        return QMessageBox.StandardButton.Cancel

    monkeypatch.setattr(QMessageBox, "exec", shown)
    assert not window._may_leave()
    assert asked[0][0] == Qt.TextFormat.PlainText and EVIL in asked[0][1]
    for name in window.stations:
        window.go(name)
        for widget in window.findChildren(QWidget):
            tip = widget.toolTip()
            assert "<img" not in tip and "<b>" not in tip, tip
            if isinstance(widget, QLabel) and "<" in widget.text():
                assert widget.textFormat() == Qt.TextFormat.PlainText, widget.text()


def test_a_refusal_that_quotes_markup_is_a_sentence(qtbot, window, monkeypatch, tmp_path):
    said = []
    monkeypatch.setattr(QMessageBox, "exec", lambda box: said.append((box.textFormat(), box.text())))
    path = tmp_path / "<img src=x>.urial"
    path.write_bytes(b"no job")
    window.store.document.saved_job = window.store.job
    assert not window.open_file(path)
    assert said and said[0][0] == Qt.TextFormat.PlainText and "<img src=x>" in said[0][1]


def test_a_host_with_an_odd_name_has_plain_tips(qtbot, window):
    job = window.store.job
    window.store.put_job(edit.put(job, "vehicle.name", EVIL), "vehicle.name")
    window.go("Measure")
    for button in window.findChildren(QPushButton):
        assert "<img" not in button.toolTip()
