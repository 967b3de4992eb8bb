"""From the user's side: keys and clicks in a real window."""

import os
import signal
import subprocess
import sys
import threading
import time
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtWidgets import QLineEdit, QListView, QMessageBox, QPushButton, QWidget

from urial.desk.palette import Finder
from urial.desk.stations.cut import Cut
from urial.desk.store import Store
from urial.desk.widgets.fields import Field
from urial.job import file
from urial.job.recovery import leftovers
from urial.prove.verdict import prove
from urial.session import asked


def field(window, path) -> Field:
    found = [f for f in window.findChildren(QWidget, f"field:{path}") if f.isVisible()]
    assert found, f"{path} is not on screen"
    return found[0]


def type_into(qtbot, editor, text):
    editor.setFocus()
    editor.selectAll()
    qtbot.keyClicks(editor, text)
    qtbot.keyClick(editor, Qt.Key.Key_Return)


def shown_dimension(window, path):
    window.scene.repaint()
    return next((box, d) for box, d in window.scene._labels if d.path == path)


def test_the_start_page_opens_a_demo_job_with_one_click(qtbot, window):
    window.show_start()
    assert window.pages.currentWidget() is window.start
    qtbot.mouseClick(window.start.findChild(QPushButton, "demo:rescue-receiver"), Qt.MouseButton.LeftButton)
    assert window.pages.currentWidget() is window.work
    assert "crew cab" in window.title.text()


def test_a_new_job_starts_from_sizes_that_hold(qtbot, window):
    window.show_start()
    qtbot.mouseClick(window.start.findChild(QPushButton, "new:rear-receiver"), Qt.MouseButton.LeftButton)
    assert window.store.verdict.holds and window.store.document.dirty


def test_number_keys_walk_the_stations(qtbot, window):
    window.activateWindow()
    window.scene.setFocus()
    for n, name in enumerate(
        ("Measure", "Load", "Build", "Together", "Prove", "Cut", "Weld", "Finish", "Book")
    ):
        qtbot.keyClick(window.scene, str(n + 1), Qt.KeyboardModifier.AltModifier)
        assert window.slates.currentWidget().name == name
        assert window.tabs[name].isChecked()


def test_changing_the_tube_changes_the_verdict_and_undo_takes_it_back(qtbot, window):
    qtbot.keyClick(window.scene, "3", Qt.KeyboardModifier.AltModifier)
    station = window.slates.currentWidget()
    station.show_group("Cross tube")
    before = window.store.job
    assert window.store.verdict.holds
    type_into(qtbot, field(window, "stack.1.cross_tube").line, "2 1/2 x 2 1/2 x 0.120")
    assert window.store.job.piece("rear-receiver").values.cross_tube == "2 1/2x2 1/2x0.120"
    assert not window.store.verdict.holds
    assert "short" in window.tabs["Prove"].words
    assert window.undo_action.text() == "Undo: cross tube 2 1/2 × 2 1/2 × 0.120"
    window.undo_action.trigger()
    assert window.store.job == before and window.store.verdict.holds
    assert field(window, "stack.1.cross_tube").line.text() == "4 × 3 × 5/16"
    window.redo_action.trigger()
    assert not window.store.verdict.holds


WRONG = [
    ("3", "Receiver", "stack.1.drop_mm", "deep", "not a length"),
    ("3", "Receiver", "stack.1.receiver_length_mm", "2 m", "between"),
    ("3", "Cross tube", "stack.1.cross_tube", "9x9x9", "No bar called"),
    ("2", "", "duty.tongue_mass_kg", "0", "cannot be right"),
    ("2", "", "duty.trailer_mass_kg", "heavy", "not a mass"),
    ("1", "", "vehicle.left.0.height_mm", "-4", "must be between"),
    ("1", "Host", "vehicle.rail_material", "putty", "No material"),
]


def test_wrong_text_stays_marked_with_its_reason_and_the_old_value_keeps_working(qtbot, window):
    before = window.store.job
    for station, group, path, wrong, reason in WRONG:
        qtbot.keyClick(window.scene, station, Qt.KeyboardModifier.AltModifier)
        if group:
            here = window.slates.currentWidget()
            here.show_page(group) if station == "1" else here.show_group(group)
        editor = field(window, path)
        type_into(qtbot, editor.line, wrong)
        assert window.store.job == before, path
        assert editor.line.text() == wrong and editor.line.property("wrong"), path
        assert editor.note.isVisible() and reason in editor.note.text(), path
        qtbot.keyClick(editor.line, Qt.Key.Key_Escape)
        assert editor.line.text() != wrong and not editor.line.property("wrong"), path
        assert reason not in editor.note.text(), path


def test_sizes_that_disagree_are_kept_and_the_last_shape_stays_dimmed_with_the_sentence(qtbot, window):
    """A bar too wide for its receiver, then a receiver that takes it: two edits that only together make a
    part.
    """
    qtbot.keyClick(window.scene, "3", Qt.KeyboardModifier.AltModifier)
    build = window.slates.currentWidget()
    build.show_group("Ball mount")
    shape = window.store.verdict.assembly
    bright = window.scene.grab().toImage().pixelColor(window.scene.width() // 2, window.scene.height() // 2)
    type_into(qtbot, field(window, "stack.2.bar").line, "square 2 1/2")
    assert (
        window.store.job.piece("ball-mount").values.bar == "square 2 1/2"
        and window.store.verdict.assembly is shape
    )
    assert "wider than" in window.store.refusal
    editor = field(window, "stack.2.bar")
    assert editor.line.property("wrong") and "wider than" in editor.note.text()
    assert "wider than" in build.refused.text() and "last shape" in build.refused.text()
    assert (
        window.scene.grab().toImage().pixelColor(window.scene.width() // 2, window.scene.height() // 2)
        != bright
        or not window.scene._mesh().triangles.size
    )
    qtbot.keyClick(window.scene, "6", Qt.KeyboardModifier.AltModifier)
    assert not window.slates.currentWidget().parts.write_button.isEnabled()
    qtbot.keyClick(window.scene, "3", Qt.KeyboardModifier.AltModifier)
    build.show_group("Receiver")
    type_into(qtbot, field(window, "stack.1.receiver").line, "2 1/2")
    assert window.store.refusal == "" and window.store.verdict.assembly is not shape
    build.show_group("Ball mount")
    assert not field(window, "stack.2.bar").line.property("wrong")
    window.undo_action.trigger()
    window.undo_action.trigger()
    assert window.store.job.piece("ball-mount").values.bar == "square 2" and window.store.refusal == ""


def test_a_job_whose_sizes_make_no_part_opens_where_they_are_mended(qtbot, window, tmp_path):
    from urial.job import edit as edits

    broken = edits.put(window.store.job, "stack.2.bar", "square 3")
    file.save(tmp_path / "broken.urial", file.Document(broken))
    window.open_file(tmp_path / "broken.urial")
    assert (
        window.store.job == broken
        and "wider than" in window.store.refusal
        and not window.store.document.dirty
    )
    qtbot.keyClick(window.scene, "3", Qt.KeyboardModifier.AltModifier)
    build = window.slates.currentWidget()
    assert build.name == "Build"
    build.show_group("Ball mount")
    type_into(qtbot, field(window, "stack.2.bar").line, "square 2")
    assert window.store.has_part and window.store.refusal == ""


def test_the_window_does_not_wait_for_an_edit_and_the_newest_wins(qtbot, window, monkeypatch):
    proved, gate, done = asked.derived, threading.Event(), []

    def held_back(job, *_):
        gate.wait(300)
        try:
            return proved(job)
        finally:
            done.append(job)

    monkeypatch.setattr(Store, "patience", 0.01)
    monkeypatch.setattr(asked, "derived", held_back)
    before = window.store.verdict
    window.store.put("stack.1.drop_mm", 125.0)  # comes back though nothing can be worked out yet
    assert not done and window.store.reckoning and window.store.verdict is before
    window.store.put("stack.1.drop_mm", 140.0)
    assert window.store.job.piece("rear-receiver").values.drop_mm == 140
    gate.set()
    qtbot.waitUntil(lambda: not window.store.reckoning)
    assert window.store.verdict.job.piece("rear-receiver").values.drop_mm == 140
    qtbot.waitUntil(lambda: done[-1].piece("rear-receiver").values.drop_mm == 140)
    qtbot.wait(20)  # an older one that arrives now is not taken
    assert window.store.verdict.job.piece("rear-receiver").values.drop_mm == 140
    window.undo_action.trigger()
    qtbot.waitUntil(lambda: not window.store.reckoning, timeout=20_000)
    assert window.store.verdict.job.piece("rear-receiver").values.drop_mm == 125


def test_a_field_takes_the_other_unit_and_says_what_it_understood(qtbot, window):
    qtbot.keyClick(window.scene, "3", Qt.KeyboardModifier.AltModifier)
    window.slates.currentWidget().show_group("Receiver")
    editor = field(window, "stack.1.drop_mm")
    type_into(qtbot, editor.line, '4 11/16"')
    assert window.store.job.piece("rear-receiver").values.drop_mm == pytest.approx(119.0625)
    assert editor.line.text() == "119.1 mm"
    assert '4 11/16"' in editor.note.text()


def test_units_switch_everywhere_at_any_time(qtbot, window):
    qtbot.mouseClick(window.unit_button, Qt.MouseButton.LeftButton)
    assert window.store.job.units == "inch"
    qtbot.keyClick(window.scene, "1", Qt.KeyboardModifier.AltModifier)
    window.slates.currentWidget().show_page("Host")
    assert field(window, "vehicle.rail_spacing_mm").line.text() == '37 13/16"'
    type_into(qtbot, field(window, "vehicle.rail_spacing_mm").line, "38")
    assert window.store.job.vehicle.rail_spacing_mm == pytest.approx(38 * 25.4)
    window.undo_action.trigger()
    window.undo_action.trigger()
    assert window.store.job.units == "metric" and window.store.job.vehicle.rail_spacing_mm == 960


def test_a_dimension_on_the_drawing_can_be_clicked_and_typed_over(qtbot, window):
    qtbot.keyClick(window.scene, "3", Qt.KeyboardModifier.AltModifier)
    box, _ = shown_dimension(window, "stack.2.pin_to_ball_mm")
    qtbot.mouseClick(window.scene, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    editor = window.scene.editor
    assert isinstance(editor, QLineEdit) and editor.text() == "200 mm"
    type_into(qtbot, editor, "far")
    assert window.scene.problem.isVisible() and window.scene.editor.text() == "far"
    type_into(qtbot, window.scene.editor, '10"')
    assert window.scene.editor is None and not window.scene.problem.isVisible()
    assert window.store.job.piece("ball-mount").values.pin_to_ball_mm == 254
    box, _ = shown_dimension(window, "stack.2.pin_to_ball_mm")
    qtbot.mouseClick(window.scene, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    qtbot.keyClick(window.scene.editor, Qt.Key.Key_Escape)
    assert window.scene.editor is None and window.store.job.piece("ball-mount").values.pin_to_ball_mm == 254


def test_the_survey_can_be_typed_into_the_drawing(qtbot, window):
    qtbot.keyClick(window.scene, "1", Qt.KeyboardModifier.AltModifier)
    box, d = shown_dimension(window, "vehicle.rear_overhang_mm")
    assert d.survey
    qtbot.mouseClick(window.scene, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    type_into(qtbot, window.scene.editor, '46"')
    assert window.store.job.vehicle.rear_overhang_mm == pytest.approx(1168.4)
    assert window.undo_action.text() == "Undo: axle to rear face 1168.4 mm"


def test_a_click_on_a_part_selects_it_and_opens_its_group(qtbot, window):
    qtbot.keyClick(window.scene, "3", Qt.KeyboardModifier.AltModifier)
    ball = window.store.verdict.assembly.places["ball"]
    x, y = window.scene.camera.project(np.array([ball]))[0]
    qtbot.mouseClick(window.scene, Qt.MouseButton.LeftButton, pos=QPoint(round(x), round(y)))
    assert window.store.chosen.part == "X3"
    assert window.slates.currentWidget().current == "Ball mount"


def test_space_turns_the_view_and_every_dimension_agrees_with_the_part(qtbot, window):
    qtbot.keyClick(window.scene, "3", Qt.KeyboardModifier.AltModifier)
    window.scene.setFocus()
    seen = []
    for _ in range(4):
        seen.append(window.scene.camera.view)
        window.scene.repaint()
        for _, d in window.scene._labels:
            a, b = window.scene.camera.project(np.array([d.a, d.b]))
            span = np.abs(b - a).max() / window.scene.camera.scale
            size = abs(np.array(d.b) - np.array(d.a))["xyz".index(d.axis)]
            assert span == pytest.approx(size, rel=1e-6), d.name
        qtbot.keyClick(window.scene, Qt.Key.Key_Space)
    assert seen == ["side", "rear", "top", "turned"]


def test_dragging_turns_and_the_wheel_zooms_about_the_pointer(qtbot, window):
    window.scene.set_view("turned")
    before = window.scene.camera.azimuth
    qtbot.mousePress(window.scene, Qt.MouseButton.LeftButton, pos=QPoint(300, 200))
    for x in (320, 350, 380):
        window.scene.mouseMoveEvent(_move(x, 210))
    qtbot.mouseRelease(window.scene, Qt.MouseButton.LeftButton, pos=QPoint(380, 210))
    assert window.scene.camera.azimuth > before + 20
    point = np.array([[-1100.0, 0, 400]])
    at = window.scene.camera.project(point)[0]
    window.scene.wheelEvent(_wheel(QPointF(*at), 240))
    assert window.scene.camera.project(point)[0] == pytest.approx(at, abs=1e-6)


def _move(x, y):
    from PySide6.QtCore import QEvent
    from PySide6.QtGui import QMouseEvent

    return QMouseEvent(
        QEvent.Type.MouseMove,
        QPointF(x, y),
        QPointF(x, y),
        Qt.MouseButton.NoButton,
        Qt.MouseButton.LeftButton,
        Qt.KeyboardModifier.NoModifier,
    )


def _wheel(at, turn):
    from PySide6.QtGui import QWheelEvent

    return QWheelEvent(
        at,
        at,
        QPoint(0, 0),
        QPoint(0, turn),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )


def test_brackets_walk_the_load_chain_and_a_click_opens_a_link(qtbot, window):
    qtbot.keyClick(window.scene, "5", Qt.KeyboardModifier.AltModifier)
    first = window.store.shown_check().link
    window.scene.setFocus()
    qtbot.keyClick(window.scene, "]")
    second = window.store.shown_check().link
    assert second != first
    qtbot.keyClick(window.scene, "[")
    assert window.store.shown_check().link == first
    names = [s.link.name for s in window.store.verdict.chain]
    box = window.chain._boxes()[names.index("pin")]
    qtbot.mouseClick(window.chain, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    assert window.store.shown_check().link == "2/pin" and window.store.chosen.part == "X2"


def test_the_working_of_a_check_opens_with_formula_and_numbers(qtbot, window):
    qtbot.keyClick(window.scene, "5", Qt.KeyboardModifier.AltModifier)
    window.open_check("1/cross tube: forces")
    prove_station = window.slates.currentWidget()
    assert not prove_station.working.isVisible()
    qtbot.mouseClick(prove_station.findChild(QPushButton, "working"), Qt.MouseButton.LeftButton)
    from PySide6.QtWidgets import QLabel

    qtbot.waitUntil(lambda: any(w.isVisible() for w in prove_station.working.findChildren(QLabel)))
    text = " ".join(w.text() for w in prove_station.working.findChildren(QLabel) if w.isVisible())
    assert "H1-1" in text and "Fy" in text


def test_a_short_part_is_mended_by_a_click_on_a_suggestion(qtbot, short_window):
    w = short_window
    qtbot.keyClick(w.scene, "5", Qt.KeyboardModifier.AltModifier)
    assert "Short in" in w.slates.currentWidget().verdict_line.text()
    qtbot.waitUntil(
        lambda: w.store.advice.remedies is not None and len(w.store.advice.remedies.found) > 0, timeout=30_000
    )
    short_id = w.store.shown_check().id
    station = w.slates.currentWidget()
    button = station.either.itemAt(0).widget()
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)
    again = next((c for c in w.store.verdict.checks if c.id == short_id), None)
    assert again is None or not again.short
    assert w.undo_action.isEnabled()


def test_the_list_of_checks_is_ranked_and_opens_a_check(qtbot, window):
    qtbot.keyClick(window.scene, "5", Qt.KeyboardModifier.AltModifier)
    rows = window.slates.currentWidget().findChild(QListView, "checks")
    assert rows.model().rowCount() == len(window.store.verdict.checks)
    rows.scrollTo(rows.model().index(7, 0))
    spot = rows.visualRect(rows.model().index(7, 0)).center()
    qtbot.mouseClick(rows.viewport(), Qt.MouseButton.LeftButton, pos=spot)
    assert rows.currentIndex().row() == 7
    assert window.store.shown_check().id == window.store.verdict.checks[7].id


def test_a_case_is_picked_in_load_and_its_factor_changed(qtbot, window):
    qtbot.keyClick(window.scene, "2", Qt.KeyboardModifier.AltModifier)
    station = window.slates.currentWidget()
    station.show_page("Cases")
    page = station.pages["Cases"]
    page.cases.setCurrentRow(1)
    assert window.store.shown_case() == "brake"
    type_into(qtbot, page.editors["along"], "0.5")
    case = next(c for c in window.store.verdict.cases if c.id == "brake")
    assert (
        case.changed
        and "(changed)" in page.cases.item(1).text()
        and window.undo_action.text() == "Undo: factor braking along 0.5"
    )
    type_into(qtbot, page.editors["along"], "silly")
    assert "not a number" in page.problem.text() and page.editors["along"].text() == "silly"
    assert window.store.job.duty.factors == {"brake/along": 0.5}
    page.editors["along"].selectAll()
    qtbot.keyClick(page.editors["along"], Qt.Key.Key_Delete)
    qtbot.keyClick(page.editors["along"], Qt.Key.Key_Return)
    assert not window.store.job.duty.factors and page.editors["along"].text() == "1"


def test_holes_are_added_and_taken_away_on_one_side(qtbot, window):
    qtbot.keyClick(window.scene, "1", Qt.KeyboardModifier.AltModifier)
    for _ in range(2):  # the tow hook's, then the last one the plate bolts to
        qtbot.mouseClick(window.findChild(QPushButton, "−left"), Qt.MouseButton.LeftButton)
    assert (len(window.store.job.vehicle.left), len(window.store.job.vehicle.right)) == (2, 3)
    assert "two different plates" in window.slates.currentWidget().pages["Holes"].compared.text()
    window.undo_action.trigger()
    assert len(window.store.job.vehicle.left) == 3


def test_ctrl_k_finds_parts_checks_sizes_and_commands(qtbot, window):
    finder = Finder(window, window.entries())
    qtbot.addWidget(finder)
    finder.show()
    qtbot.keyClicks(finder.line, "pin to ball")
    assert finder.list.count() >= 1
    qtbot.keyClick(finder.line, Qt.Key.Key_Return)
    assert window.slates.currentWidget().name == "Build"
    assert field(window, "stack.2.pin_to_ball_mm").line.hasFocus()
    finder = Finder(window, window.entries())
    qtbot.addWidget(finder)
    qtbot.keyClicks(finder.line, "hitch pin bending")
    qtbot.keyClick(finder.line, Qt.Key.Key_Return)
    assert window.store.shown_check().id == "2/pin: bending with shear"


def test_bench_size_and_night_keep_the_job_and_the_station(qtbot, window):
    qtbot.keyClick(window.scene, "5", Qt.KeyboardModifier.AltModifier)
    height = window.chain.height()
    window.bench_size()
    assert window.chain.height() > 1.4 * height and window.slates.currentWidget().name == "Prove"
    qtbot.waitUntil(lambda: window.chain.width() > 1000)
    boxes = [b for b, s in zip(window.chain._boxes(), window.store.verdict.chain, strict=True) if s.worst]
    for left, right in pairwise(boxes):  # a percentage is drawn only where it does not run into the next one
        assert left.width() > 90 or left.width() < 33
        assert left.right() <= right.left()
    shown = window.store.shown_check().link
    assert (
        next(
            b
            for b, s in zip(window.chain._boxes(), window.store.verdict.chain, strict=True)
            if s.link.id == shown
        ).width()
        > 90
    )
    bare = next(
        s
        for b, s in zip(window.chain._boxes(), window.store.verdict.chain, strict=True)
        if s.worst and b.width() < 33
    )
    box = window.chain._boxes()[[s.link.id for s in window.store.verdict.chain].index(bare.link.id)]
    qtbot.mouseClick(
        window.chain, Qt.MouseButton.LeftButton, pos=box.center().toPoint()
    )  # a bare link opens like any other
    assert window.store.shown_check().link == bare.link.id
    window.night()
    window.store.put("stack.1.drop_mm", 130.0)
    window.bench_size()
    window.night()
    assert window.chain.height() == height
    assert window.store.job.piece("rear-receiver").values.drop_mm == 130


def test_the_packet_is_written_from_the_window(qtbot, window, tmp_path):
    qtbot.keyClick(window.scene, "6", Qt.KeyboardModifier.AltModifier)
    assert isinstance(window.slates.currentWidget(), Cut)
    cut = window.slates.currentWidget().parts
    cut.write_to(tmp_path / "papers")
    qtbot.waitUntil(lambda: "files written" in cut.said.text(), timeout=60_000)
    assert (tmp_path / "papers" / "packet.pdf").read_bytes().startswith(b"%PDF")
    assert cut.open_button.isVisible()
    (tmp_path / "taken").write_text("x")
    cut.write_to(tmp_path / "taken")
    qtbot.waitUntil(lambda: "cannot be made" in cut.said.text(), timeout=60_000)
    assert cut.write_button.isEnabled()


def test_a_plan_set_is_written_from_the_window(qtbot, window, tmp_path):
    qtbot.keyClick(window.scene, "6", Qt.KeyboardModifier.AltModifier)
    page = window.stations["Cut"].parts
    qtbot.mouseClick(page.hand_on, Qt.MouseButton.LeftButton, pos=QPoint(8, page.hand_on.height() // 2))
    assert page.hand_on.isChecked()
    page.write_to(tmp_path / "set")
    qtbot.waitUntil(lambda: "files written" in page.said.text(), timeout=60_000)
    names = {p.name for p in (tmp_path / "set").iterdir()}
    assert "packet.pdf" in names and "labels.pdf" not in names and page.open_button.isVisible()


def test_save_close_and_reopen(qtbot, window, tmp_path, monkeypatch):
    window.store.put("stack.1.drop_mm", 131.0)
    assert window.store.document.dirty and "*" in window.windowTitle()
    monkeypatch.setattr(
        "urial.desk.files.QFileDialog.getSaveFileName", lambda *a, **k: (str(tmp_path / "mine"), "")
    )
    assert window.save()
    path = tmp_path / "mine.urial"
    assert not window.store.document.dirty and "saved" in window.saved.text()
    assert leftovers(tmp_path / "recovery") == []
    window.store.put("stack.1.drop_mm", 132.0)
    assert window.open_file(path)
    assert (
        window.store.job.piece("rear-receiver").values.drop_mm == 131 and not window.undo_action.isEnabled()
    )


def test_a_damaged_file_is_refused_and_the_open_job_stays(qtbot, window, tmp_path, monkeypatch):
    said = []
    monkeypatch.setattr(QMessageBox, "exec", lambda box: said.append(box.text()))
    bad = tmp_path / "bad.urial"
    bad.write_bytes(file.to_bytes(window.store.document.as_file())[:-100])
    before = window.store.job
    assert not window.open_file(bad)
    assert window.store.job is before and "damaged" in said[0]


def test_a_save_that_fails_says_why_and_loses_nothing(qtbot, window, tmp_path, monkeypatch):
    said = []
    monkeypatch.setattr(QMessageBox, "exec", lambda box: said.append(box.text()))
    window.store.put("stack.1.drop_mm", 133.0)
    window.store.document.path = tmp_path / "gone" / "a.urial"
    assert not window.save()
    assert "could not be saved" in said[0] and window.store.document.dirty
    assert list((tmp_path / "recovery").glob("*.urial"))


SCRIPT = """
import os, sys
os.environ["QT_QPA_PLATFORM"] = "offscreen"
from PySide6.QtWidgets import QApplication
from urial.desk.window import Window
from urial.desk.start import demo_jobs
app = QApplication([])
w = Window(); w.show(); w.open_demo(demo_jobs()[0][0])
w.store.put("stack.1.drop_mm", 137.0)
print("edited", flush=True)
app.exec()
"""


def test_kill_recover_and_carry_on(qtbot, window, tmp_path, monkeypatch):
    state = tmp_path / "state"
    p = subprocess.Popen(
        [sys.executable, "-c", SCRIPT],
        stdout=subprocess.PIPE,
        text=True,
        env={**os.environ, "URIAL_STATE_DIR": str(state)},
    )
    assert p.stdout.readline() == "edited\n"
    os.kill(p.pid, signal.SIGKILL)
    p.wait()
    monkeypatch.setenv("URIAL_STATE_DIR", str(state))
    from urial.desk.start import StartPage

    page = StartPage(window.theme)
    qtbot.addWidget(page)
    page.recover.connect(window.recover)
    page.show()
    qtbot.mouseClick(page.findChild(QPushButton, "recover"), Qt.MouseButton.LeftButton)
    assert window.store.job.piece("rear-receiver").values.drop_mm == 137 and window.store.document.dirty
    assert leftovers(state / "recovery") == []


def test_vtk_arrives_after_the_first_paint_and_draws_the_part(qtbot, window):
    qtbot.waitUntil(lambda: window.scene.renderer is not None, timeout=30_000)
    window.scene.settle()
    image = window.scene.image
    assert image is not None and image.hasAlphaChannel()
    ball = window.store.verdict.assembly.places["ball"]
    x, y = window.scene.camera.project(np.array([ball]))[0]
    ratio = image.width() / window.scene.width()
    assert image.pixelColor(round(x * ratio), round(y * ratio)).alpha() == 255
    assert image.pixelColor(2, 2).alpha() == 0
    window.scene.toggle_deflection()
    window.scene.settle()
    assert window.scene.image != image


def test_the_bent_shape_follows_the_frame(window):
    from urial.assembly import bodies
    from urial.desk.scene import picture

    v = window.store.verdict
    mesh = bodies.mesh(v.assembly)
    case = [c.id for c in v.cases].index("bump")
    moved = picture.displaced(v, mesh, case, 1.0) - mesh.points
    ball_part = next(n for n, p in enumerate(v.assembly.parts) if p.key == "2/ball plate")
    tip = moved[mesh.part_of_point == ball_part].mean(axis=0)
    node = v.forces.raw.displacements[
        case, v.forces.raw.node_index[v.forces.net.at_part["2/ball plate"]["2/ball seat"]], :3
    ]
    assert tip[2] == pytest.approx(node[2], rel=0.2)
    assert (
        abs(
            moved[
                mesh.part_of_point
                == next(n for n, p in enumerate(v.assembly.parts) if p.key == "1/side plate.left")
            ]
        ).max()
        < abs(moved).max()
    )
    assert tip[2] < 0


def test_reading_a_job_changes_nothing_on_disk(window, tmp_path):
    path = tmp_path / "a.urial"
    file.save(path, window.store.document.as_file())
    before = (path.read_bytes(), path.stat().st_mtime_ns)
    window.open_file(path)
    time.sleep(0.01)
    prove(window.store.job)
    assert (path.read_bytes(), path.stat().st_mtime_ns) == before
    assert Path(path).exists()


def test_every_editor_has_a_name_for_those_who_cannot_see_it(qtbot, window):
    for name in window.stations:
        window.go(name)
        for editor in window.slates.currentWidget().findChildren(Field):
            target = editor.combo or editor.line
            if target is not None:
                assert target.accessibleName()
