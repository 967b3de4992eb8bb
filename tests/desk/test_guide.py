"""The guide from the Help menu: its pictures are there, and the pages it names are those of the window."""

import re
from pathlib import Path

from urial.desk import guide
from urial.desk.guide import Guide, text


def test_it_opens_from_help_stays_one_and_shows_every_picture(qtbot, window):
    window.acts_by_name = {a.text(): a for m in window.menuBar().actions() for a in m.menu().actions()}
    act = next(a for words, a in window.acts_by_name.items() if words.startswith("Guide"))
    act.trigger()
    act.trigger()
    (opened,) = window.findChildren(Guide)
    assert opened.isVisible() and "From tape to plate" in opened.page.toPlainText()
    assert opened.page.toPlainText().count("\ufffc") == len(re.findall(r"!\[", text()[0]))
    assert window.store.is_open and window.isEnabled()  # the work goes on beside it
    opened.reject()
    assert not opened.isVisible()


def test_what_it_names_is_there(window):
    words, folder = text()
    for picture in re.findall(r"!\[[^\]]*\]\(([^)]+)\)", words):
        assert (folder / picture).is_file(), picture
    for name in window.stations:
        assert re.search(rf"^## \d {name}$", words, re.M), name
    for name in (n for s in ("Cut", "Weld", "Finish", "Book") for n in window.stations[s].tabs.buttons):
        assert f"**{name}**" in words, name
    for name in re.findall(r"^- \*\*(\w[\w ]*)\*\*", words.split("## 2 Load")[0], re.M):
        assert name in window.stations["Measure"].tabs.buttons, name
    assert "licensed engineer" in words


def test_where_it_is_missing_it_says_where_it_should_be(monkeypatch, tmp_path):
    monkeypatch.setattr(guide, "places", lambda: (tmp_path / "guide.md", Path("/nowhere/guide.md")))
    words, folder = text()
    assert folder is None and str(tmp_path / "guide.md") in words
