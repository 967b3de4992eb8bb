"""The list of what is to be minded: groups, places, and notes that are no problems."""

from PySide6.QtWidgets import QLabel

from tests.desk.hands import HANGS_MS, click, minded
from urial.desk.widgets.word_button import WordButton


def test_notes_lie_folded_and_are_not_counted(qtbot, window):
    window.go("Build")
    build = window.stations["Build"]
    notes = [m for m in window.store.verdict.minds if m.note]
    rest = [m for m in window.store.verdict.minds if not m.note]
    assert notes
    words = window.tabs["Build"].words
    assert words == f"{len(rest)} to look at" if rest else "to look at" not in words
    rows = [r for r in build.minded.findChildren(WordButton) if "Welding" in r.text()]
    assert rows and not any(r.isVisible() for r in rows)
    click(qtbot, build, "minded:weld")
    assert all(r.isVisible() for r in rows)
    assert all(m.words[:10] in minded(build) for m in notes)


def test_a_row_shows_its_part_and_the_whole_sentence_is_readable(qtbot, window):
    window.store.document.saved_job = window.store.job
    window.new_job("flat-trailer")
    window.go("Build")
    build = window.stations["Build"]
    qtbot.waitUntil(
        lambda: any(r.isVisible() for r in build.minded.findChildren(WordButton)), timeout=HANGS_MS
    )
    head = next(h for h in build.minded.findChildren(QLabel, "minded:judge"))
    assert "Nobody judges" in head.text()
    row = next(r for r in build.minded.findChildren(WordButton) if r.isEnabled() and r.isVisible())
    row.click()
    part = next(p for p in window.store.verdict.assembly.parts if p.mark == window.store.chosen.part)
    assert part.name in row.text().lower()

    def whole():
        rows = [r for r in build.minded.findChildren(WordButton) if r.isVisible()]
        return rows and all(r.height() >= r.heightForWidth(r.width()) - 1 for r in rows)

    qtbot.waitUntil(whole, timeout=HANGS_MS)
