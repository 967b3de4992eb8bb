"""Names, units and words as a person meets them: the job's card, finding, undo said, recent files, inches
everywhere.
"""

from __future__ import annotations

import re

import pypdfium2
import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QPushButton

from tests.desk.hands import field
from tests.desk.test_load import type_into
from urial.desk import settings
from urial.desk.job_card import JobCard
from urial.desk.start import demo_jobs, remember
from urial.desk.theme import DAY, NIGHT
from urial.desk.widgets.fields import Field, label
from urial.desk.widgets.tab import warning_on
from urial.job.file import Document, save
from urial.papers.packet import packet

METRIC = re.compile(r"\d\s?(mm|kg|kN|N·m|MPa|km/h)\b(?!²|³| \()")


def demo(window, stem):
    window.open_demo(next(p for p, _, _ in demo_jobs() if p.stem == stem))


def test_the_job_is_named_in_one_place_and_the_papers_carry_it(qtbot, window):
    card = JobCard(window, window.store)
    card.show()
    for name, text in (
        ("title", "Sled hitch <b>rev B</b>"),
        ("customer", "rescue post"),
        ("revision", "B"),
        ("drawn", "Ada"),
        ("checked", "Bo"),
    ):
        type_into(qtbot, card.findChild(Field, f"field:{name}").line, text)
    card.notes.setPlainText("Paint after the test tow.")
    card.accept()
    job = window.store.job
    assert (job.title, job.revision, job.notes) == (
        "Sled hitch <b>rev B</b>",
        "B",
        "Paint after the test tow.",
    )
    assert (
        "<b>" in window.title.text() and window.title.textFormat() == Qt.TextFormat.PlainText
    )  # shown as it was typed, not as markup
    window.undo_action.trigger()
    assert window.store.job.notes == ""


def test_labels_never_read_markup(qtbot):
    assert label("<h1>x</h1>").textFormat() == Qt.TextFormat.PlainText


def test_finding_goes_where_it_says(qtbot, window):
    def find(wanted, kind):
        found = [e for e in window.entries() if wanted in e.words.lower() and e.kind.startswith(kind)]
        assert found, wanted
        found[0].act()
        return window.station, getattr(window.stations[window.station], "current", "")

    assert find("sway", "page of Load") == ("Load", "Sway")
    assert find("tapes", "page of Measure") == ("Measure", "Tapes")
    assert (
        find("spare wheel", "keep-out") == ("Measure", "In the way")
        and window.store.chosen.keep_out is not None
    )
    assert find("trailer", "duty") == ("Load", "Duties")
    assert find("drop", "size")[0] == "Build"


def test_undo_says_what_it_undid(qtbot, window):
    window.store.put("stack.1.drop_mm", 131.0)
    window.undo_action.trigger()
    assert (
        window.scene.told.isVisible()
        and window.scene.told.text().startswith("Undone: drop")
        and "131 mm" in window.scene.told.text()
    )
    window.redo_action.trigger()
    assert window.scene.told.text().startswith("Done again: drop")


def test_escape_puts_back_then_leaves_the_field(qtbot, window):
    window.activateWindow()
    window.go("Measure")
    line = field(qtbot, window, "vehicle.left.0.height_mm").line
    line.setFocus()
    before = line.text()
    qtbot.keyClicks(line, "9")
    qtbot.keyClick(line, Qt.Key.Key_Escape)
    assert line.text() == before
    qtbot.keyClick(line, Qt.Key.Key_Escape)
    assert not line.hasFocus()


def test_sizes_on_the_drawing_are_reached_by_keys(qtbot, window):
    window.go("Build")
    window.scene.repaint()
    window.scene.setFocus()
    qtbot.keyClick(window.scene, Qt.Key.Key_Down)
    first = window.scene._hover
    qtbot.keyClick(window.scene, Qt.Key.Key_Down)
    assert first and window.scene._hover != first
    qtbot.keyClick(window.scene, Qt.Key.Key_Up)
    assert window.scene._hover == first
    qtbot.keyClick(window.scene, Qt.Key.Key_Return)
    assert window.scene.editor is not None and window.scene.editor.accessibleName()
    qtbot.keyClick(window.scene.editor, Qt.Key.Key_Escape)


def test_your_own_work_stands_before_the_demo_jobs_and_is_kept_up_to_date(qtbot, window, tmp_path):
    path = tmp_path / "mine.urial"
    save(path, Document(window.store.job))
    window.store.document.saved_job = window.store.job
    window.show_start()
    assert not window.start.findChildren(QPushButton, "recent:mine.urial")
    remember(path)
    window.start.hide()
    window.start.show()
    mine = window.start.findChild(QPushButton, "recent:mine.urial")
    first = window.start.findChild(QPushButton, f"demo:{demo_jobs()[0][0].stem}")
    qtbot.waitUntil(lambda: mine.mapTo(window.start, QPoint()).y() < first.mapTo(window.start, QPoint()).y())


def test_a_new_job_is_in_the_units_last_used(qtbot, window):
    demo(window, "rescue-receiver")
    window.switch_units()
    try:
        window.store.document.saved_job = window.store.job
        window.new_job("flat-carrier")
        assert window.store.job.units == "inch"
    finally:
        settings.remember("units", "metric")
    window.store.document.saved_job = window.store.job
    window.new_job("flat-carrier")
    assert window.store.job.units == "metric"


def test_an_inch_packet_says_nothing_in_millimetres_but_its_workings(window):
    demo(window, "rescue-receiver")
    window.store.put("units", "inch")
    import pypdfium2

    pages = [
        p.get_textpage().get_text_range()
        for p in pypdfium2.PdfDocument(packet(window.store.verdict).files["packet.pdf"])
    ]
    text = "\n".join(pages).split("Every check with its working")[0]
    found = [m.group(0) for m in METRIC.finditer(text)]
    assert not found, found


# ---- can it be read?


def contrast(a: str, b: str) -> float:
    """WCAG 2.2 contrast ratio of two colours."""
    from PySide6.QtGui import QColor

    def light(colour: str) -> float:
        parts = [
            c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in QColor(colour).getRgbF()[:3]
        ]
        return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]

    low, high = sorted((light(a), light(b)))
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("pal", [DAY, NIGHT], ids=["day", "night"])
def test_every_text_can_be_read_on_what_it_stands_on(pal):
    pairs = [
        ("ink", "paper"),
        ("ink", "card"),
        ("ink", "well"),
        ("quiet", "card"),
        ("quiet", "paper"),
        ("quiet", "well"),
        ("touch", "card"),
        ("on_touch", "touch"),
        ("on_dark", "dark"),
        ("brick", "card"),
        ("brick", "paper"),
        ("ochre", "card"),
        ("slate", "card"),
    ]
    for text, ground in pairs:
        assert contrast(getattr(pal, text), getattr(pal, ground)) >= 4.5, (text, ground)
    assert contrast(warning_on(pal), pal.dark) >= 4.5


def test_a_comma_stands_in_fields_and_papers_and_not_in_files(qtbot, window):
    try:
        window.switch_decimals()
        window.store.put("vehicle.left.0.height_mm", 611.5)
        window.go("Measure")
        here = field(qtbot, window, "vehicle.left.0.height_mm")
        assert here.line.text() == "611,5 mm" and settings.remembered("decimals") == ","
        type_into(qtbot, here.line, "612,5")
        assert window.store.job.vehicle.left[0].height_mm == 612.5 and here.line.text() == "612,5 mm"
        type_into(qtbot, here.line, "1.234")
        assert here.line.property("wrong") and "1,234 or 1234" in here.note.text()
        files = packet(window.store.verdict).files
        text = "".join(
            page.get_textpage().get_text_range() for page in pypdfium2.PdfDocument(files["packet.pdf"])
        )
        assert re.search(r"\d,\d mm", text) and not re.search(r"\d\.\d+[ \u00a0](mm|kN|kg|MPa)\b", text)
        for name, data in files.items():
            if name.endswith((".csv", ".json", ".dxf")):
                assert not re.search(rb"\d,\d mm", data), name
    finally:
        window.switch_decimals()
    assert field(qtbot, window, "vehicle.left.0.height_mm").line.text() == "612.5 mm"
