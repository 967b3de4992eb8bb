"""Every field of every page of the window, whatever the job: what it shows it reads, what it cannot read it
refuses in one sentence, and nothing else of the job moves.
"""

from __future__ import annotations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QPushButton

from urial import units
from urial.desk.start import demo_jobs
from urial.desk.widgets.fields import Field
from urial.job import edit, origin

JOBS = {path.stem: path for path, *_ in demo_jobs()}
NONSENSE = ("twelve", "1 m)", "5'6'7", "--3", "12 parsec")


def pages(window):
    """Every page that is offered for this job, shown."""
    for number, station in window.stations.items():
        if not station.useful:
            continue
        window.go(number)
        if not hasattr(station, "show_page"):
            yield station.name
            continue
        for name, page in station.pages.items():
            if page.fits(window.store.job):
                station.show_page(name)
                QApplication.processEvents()
                yield f"{station.name}, {name}"


def fields(window) -> list[Field]:
    return [f for f in window.findChildren(Field) if f.isVisible() and f.line is not None]


def write(qtbot, field: Field, text: str) -> None:
    field.line.setFocus()
    field.line.setText(text)
    qtbot.keyClick(field.line, Qt.Key.Key_Return)


@pytest.fixture(params=["rescue-receiver", "weir-anchor", "hay-net-carriage"])
def opened(request, window):
    window.store.document.saved_job = window.store.job
    window.open_demo(JOBS[request.param])
    return window


def test_a_field_reads_back_what_it_shows_and_is_left_as_it_was_entered(qtbot, opened):
    """To the figure it shows: what a person sees and confirms is what is reckoned with from then on; going in
    and out of it changes nothing.
    """
    seen = 0
    for _ in range(2):
        opened.switch_units()
        before, system = opened.store.job, opened.store.job.units
        for page in pages(opened):
            for field in fields(opened):
                text = field.line.text()
                if field.spec.quantity and text:
                    kind = edit.quantity_kind(field.spec)
                    value = units.parse(text, kind, system)
                    assert units.show(value, kind, system, before.nearest) == text, (page, field.path)
                    seen += 1
                field.line.setFocus()
                qtbot.keyClick(field.line, Qt.Key.Key_Escape)
                qtbot.keyClick(field.line, Qt.Key.Key_Escape)
        assert opened.store.job is before
    assert seen > 40


def test_nonsense_is_refused_in_one_sentence_beside_the_field(qtbot, opened):
    before, seen = opened.store.job, 0
    for page in pages(opened):
        for field in fields(opened)[:6]:
            if not field.spec.quantity or not field.isEnabled():
                continue
            shown = field.line.text()
            text = NONSENSE[seen % len(NONSENSE)]
            write(qtbot, field, text)
            where = (page, field.path, text)
            assert field.line.property("wrong") and field.note.isVisible(), where
            said = field.note.text()
            assert said.endswith(".") and "\n" not in said and "Error" not in said, (*where, said)
            assert opened.store.job is before, where
            qtbot.keyClick(field.line, Qt.Key.Key_Escape)
            assert field.line.text() == shown and not field.line.property("wrong"), where
            seen += 1
    assert seen > 12


def test_one_edit_moves_one_value_and_undo_brings_back_the_very_same_job(qtbot, opened):
    """Each size once, by a little: its own path changes, the rest of the job stays what it was."""
    seen = 0
    for page in pages(opened):
        for path in [f.path for f in fields(opened) if f.spec.quantity == "length"][:3]:
            here = next((f for f in fields(opened) if f.path == path), None)
            before = opened.store.job
            now = edit.get(before, path)
            if here is None or not now or not here.isEnabled():
                continue
            new = float(now) + (2.0 if float(now) < 40 else 3.0)
            if here.spec.hi is not None and new > here.spec.hi:
                continue
            write(qtbot, here, f"{new - 0.0} mm" if "datum" not in path else f"{new} mm")
            after = opened.store.job
            if after is before:  # refused, and said so
                assert here.line.property("wrong") and here.note.text().endswith("."), (page, path)
                qtbot.keyClick(here.line, Qt.Key.Key_Escape)
                continue
            changed = {
                k
                for k in set(origin.facts(before)) | set(origin.facts(after))
                if origin.facts(before).get(k) != origin.facts(after).get(k)
            }
            assert changed <= {path} or path.startswith("stack"), (page, path, changed)
            opened.undo_action.trigger()
            assert opened.store.job == before, (page, path)
            seen += 1
    assert seen > 5


def test_every_choice_can_be_made_and_taken_back(qtbot, window):
    """A click on any option: the job has it, or a sentence says why not; undo restores the job."""
    seen, opened = 0, window
    window.store.document.saved_job = window.store.job
    window.open_demo(JOBS["weir-anchor"])
    for page in pages(opened):
        choices = [f for f in opened.findChildren(Field) if f.isVisible() and len(f.buttons) > 1]
        for path, options in [(f.path, list(f.buttons)) for f in choices][:4]:
            if path.endswith("kind"):  # another host drops what was measured, and asks first
                continue
            before = opened.store.job
            for option in options:
                name = f"choice:{path}:{option}"
                button = next((b for b in opened.findChildren(QPushButton, name) if b.isVisible()), None)
                if button is None or button.isChecked():
                    continue
                button.click()
                QApplication.processEvents()
                store = opened.store
                if store.job is not before:
                    assert str(edit.get(store.job, path)).lower() in (
                        option.lower(),
                        str(option == "yes").lower(),
                    )
                    opened.undo_action.trigger()
                    assert store.job == before and not store.refusal, (page, path, option)
                seen += 1
                break
    assert seen > 3


def test_a_field_that_was_made_before_the_job_was_opened_writes_into_the_one_that_is_open(qtbot, window):
    """Twice the same kind of job, one after the other: the page keeps its fields, and they still commit."""
    for size in (33.0, 37.0):
        window.store.document.saved_job = window.store.job
        window.open_demo(JOBS["rescue-receiver"])
        window.go("Build")
        QApplication.processEvents()
        here = next(f for f in fields(window) if f.path == "stack.1.hole_edge_mm")
        write(qtbot, here, f"{size:.0f} mm")
        assert window.store.job.stack[0].values.hole_edge_mm == size
        window.go("Prove")
        QApplication.processEvents()


def test_what_was_typed_for_one_job_never_reaches_the_next(qtbot, window):
    window.go("Build")
    QApplication.processEvents()
    here = next(f for f in fields(window) if f.path == "stack.1.hole_edge_mm")
    here.line.setFocus()
    here.line.setText("44 mm")  # typed and not entered yet
    window.store.document.saved_job = window.store.job
    window.open_demo(JOBS["first-idea"])
    here.commit()
    assert window.store.job.stack[0].values.hole_edge_mm != 44 and not window.store.document.dirty
    assert here.line.text() != "44 mm"
