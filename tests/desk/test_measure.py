"""Measure from the user's side: keys and clicks on every page, a photo picked, a gauge read, a sheet typed
in.
"""

import io
import math

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtWidgets import QApplication, QLabel, QPushButton

from tests.desk.hands import click, field
from tests.measure.pictures import camera, render, through
from urial.desk.start import demo_jobs
from urial.job.file import load
from urial.mates.host import host_sockets
from urial.measure import agree
from urial.measure.places import hard_points, places


@pytest.fixture
def measure(qtbot, window):
    window.activateWindow()
    window.scene.setFocus()
    qtbot.keyClick(window.scene, "1", Qt.KeyboardModifier.AltModifier)
    return window.stations["Measure"]


def open_page(qtbot, window, name):
    click(qtbot, window, f"page:{name}")
    return window.stations["Measure"].pages[name]


def type_into(qtbot, editor, text, end=Qt.Key.Key_Return):
    editor.setFocus()
    editor.selectAll()
    qtbot.keyClicks(editor, text)
    qtbot.keyClick(editor, end)


def demo(window, stem):
    window.open_demo(next(p for p, _, _ in demo_jobs() if p.stem == stem))


# ---- the whole survey by keyboard


def test_a_whole_sheet_is_typed_in_by_tab_with_the_units_switched_midway_and_undone(qtbot, window, measure):
    window.new_survey("quad")
    page = open_page(qtbot, window, "Sheet")
    before = window.store.job
    lines = [f.line for f in page.fields]
    lines[0].setFocus()
    typed = {0: "262", 1: "18 in", 2: "205 mm", 3: "7/16 in", 4: "6"}
    for n in range(5):
        here = QApplication.focusWidget()
        assert here is lines[n], n
        assert window.store.chosen.field == page.fields[n].path
        here.selectAll()
        qtbot.keyClicks(here, typed[n])
        qtbot.keyClick(here, Qt.Key.Key_Tab)
    h = window.store.job.vehicle.left[0]
    assert (h.behind_mm, h.height_mm, h.across_mm, h.hole_mm, h.wall_mm) == (
        262,
        pytest.approx(457.2),
        205,
        pytest.approx(11.1125),
        6,
    )
    window.switch_units()
    assert lines[0].text() == '10 5/16"' and QApplication.focusWidget() is lines[5]
    for n in range(5, len(lines)):  # the rest in inches, Enter going on as Tab does
        here = QApplication.focusWidget()
        assert here is lines[n], page.fields[n].path
        kind = page.fields[n].spec.kind
        text = here.text() or ("1/4" if page.fields[n].path.endswith("wall_mm") else "5")
        here.selectAll()
        qtbot.keyClicks(here, f"{text[:-1]}" if kind == "length" and text.endswith('"') else text)
        qtbot.keyClick(here, Qt.Key.Key_Return)
    assert not any(line.property("wrong") for line in lines)
    assert window.store.job.survey.answers.pin_room_mm == pytest.approx(127)
    steps = 0
    while window.undo_action.isEnabled():
        window.undo_action.trigger()
        steps += 1
    assert window.store.job == before and steps > 10


def test_wrong_text_in_a_box_stays_there_and_enter_does_not_go_on(qtbot, window, measure):
    page = open_page(qtbot, window, "Sheet")
    first = page.fields[1]
    type_into(qtbot, first.line, "-50 mm")
    assert first.line.property("wrong") and "must be between" in first.note.text() and first.line.hasFocus()
    assert window.store.job.vehicle.left[0].height_mm == 607


def test_the_sheet_prints_and_the_table_goes_out_and_in(qtbot, window, measure, tmp_path):
    page = open_page(qtbot, window, "Sheet")
    page.write_blank(tmp_path / "blank.pdf")
    assert (tmp_path / "blank.pdf").read_bytes().startswith(b"%PDF") and "Written" in page.done.text()
    page.write_blank(tmp_path / "no" / "where.pdf")
    assert page.problem.isVisible() and "could not be saved" in page.problem.text()
    table = tmp_path / "t.csv"
    table.write_text("path,value\nvehicle.left.0.behind_mm,921\n")
    page.read(table)
    assert (
        window.store.job.vehicle.left[0].behind_mm == 921
        and window.undo_action.text() == "Undo: survey from t.csv"
    )
    table.write_text("path,value\nvehicle.left.9.behind_mm,921\nvehicle.left.0.hole_mm,wide\n")
    page.read(table)
    assert "Line 3" in page.problem.text() and window.store.job.vehicle.left[0].behind_mm == 921


# ---- holes, datum, host


def test_the_thread_and_the_reach_of_a_hole_are_said_beside_it(qtbot, window, measure):
    open_page(qtbot, window, "Holes")
    click(qtbot, window, "more:right:1")
    click(qtbot, window, "choice:vehicle.right.1.reach:outside")
    click(qtbot, window, "choice:vehicle.right.1.fixing:threaded")
    editor = field(qtbot, window, "vehicle.right.1.thread")
    type_into(qtbot, editor.line, "M14")
    h = window.store.job.vehicle.right[1]
    assert (h.reach, h.fixing, h.thread) == ("outside", "threaded", "M14")
    type_into(qtbot, editor.line, "M10")
    editor = field(qtbot, window, "vehicle.right.1.thread")
    assert (
        editor.note.isVisible()
        and "has a thread M10" in editor.note.text()
        and "has a thread M10" in window.store.refusal
    )
    window.undo_action.trigger()
    assert window.store.refusal == "" and window.store.job.vehicle.right[1].thread == "M14"


def test_sides_beyond_slots_are_shown_in_numbers(qtbot, window, measure):
    page = open_page(qtbot, window, "Holes")
    type_into(qtbot, field(qtbot, window, "vehicle.right.0.behind_mm").line, "914")
    assert (
        "Short slots would take 4 mm only" in page.compared.text()
        and page.compared.property("role") == "problem"
    )
    assert any("+9.0" in cell.text() for cell in page.table.findChildren(QLabel))


def test_moving_the_datum_rewrites_the_fields_and_moves_nothing(qtbot, window, measure):
    at = hard_points(window.store.job.vehicle)
    page = open_page(qtbot, window, "Datum")
    page.pick.setCurrentText("L1")
    click(qtbot, window, "move datum")
    assert hard_points(window.store.job.vehicle) == at
    open_page(qtbot, window, "Holes")
    assert (
        field(qtbot, window, "vehicle.left.0.behind_mm").line.text() == "0 mm"
        and field(qtbot, window, "vehicle.left.2.behind_mm").line.text() == "160 mm"
    )
    type_into(qtbot, field(qtbot, window, "vehicle.left.1.behind_mm").line, "82")
    assert window.store.job.vehicle.left[1].behind_mm == 905 + 82
    assert not field(qtbot, window, "vehicle.left.1.behind_mm").note.isVisible()
    window.undo_action.trigger()
    window.undo_action.trigger()
    assert field(qtbot, window, "vehicle.left.0.behind_mm").line.text() == "905 mm"


def test_another_kind_of_host_is_one_click_and_one_undo(qtbot, window, measure):
    open_page(qtbot, window, "Host")
    click(qtbot, window, "kind:tractor")
    click(qtbot, window, "change host")  # it says first what goes
    assert window.store.job.vehicle.kind == "tractor" and not window.store.has_part
    shown = [n for n, t in window.tabs.items() if t.isVisible()]
    assert shown == ["Measure", "Load", "Build"] and not window.chain.isVisible()
    qtbot.keyClick(window.scene, "5", Qt.KeyboardModifier.AltModifier)
    assert window.slates.currentWidget() is measure
    type_into(qtbot, field(qtbot, window, "vehicle.lower_spread_mm").line, "27 in")
    assert window.store.job.vehicle.lower_spread_mm == pytest.approx(685.8)
    window.undo_action.trigger()
    window.undo_action.trigger()
    assert (
        window.store.has_part
        and all(t.isVisible() for t in window.tabs.values())
        and window.chain.isVisible()
    )


def test_a_survey_becomes_a_job_by_starting_a_part_on_it(qtbot, window, measure):
    window.new_survey("pickup")
    open_page(qtbot, window, "Host")
    click(qtbot, window, "start:rear-receiver")
    assert window.store.has_part and window.store.verdict.checks
    qtbot.keyClick(window.scene, "5", Qt.KeyboardModifier.AltModifier)
    assert window.slates.currentWidget().name == "Prove"


def test_a_demo_of_every_kind_of_host_opens_on_every_page_in_every_view(qtbot, window):
    kinds = {load(path).job.vehicle.kind: path for path, _, _ in demo_jobs()}
    assert len(kinds) >= 8
    for path in kinds.values():
        demo(window, path.stem)
        window.go("Measure")
        for name in window.stations["Measure"].tabs.buttons:
            open_page(qtbot, window, name)
            window.repaint()
        for view in ("side", "rear", "top", "turned"):
            window.scene.set_view(view)
            window.scene.repaint()
        shipped = load(path).job.model_copy(update={"id": window.store.job.id})  # a copy is another job
        assert window.store.job == shipped, path.stem
        window.store.document.saved_job = window.store.job


# ---- tapes and gauge


def test_a_wrong_check_tape_is_named_on_the_page_and_on_the_tab(qtbot, window, measure):
    page = open_page(qtbot, window, "Tapes")
    assert "agree" in page.verdict.text()
    click(qtbot, window, "add:survey.tapes")
    row = len(window.store.job.survey.tapes) - 1
    here = window.store.job.survey.tapes[row]
    assert (
        here.length_mm is None and "One row waits" in page.verdict.text()
    )  # a new tape takes no part until it is read
    at = places(window.store.job)
    type_into(
        qtbot,
        field(qtbot, window, f"survey.tapes.{row}.length_mm").line,
        f"{math.dist(at[here.start], at[here.end]) + 40:.1f}",
    )
    assert f"{here.start}" in page.verdict.text() and page.verdict.property("role") == "problem"
    assert window.tabs["Measure"].words == "contradicts itself"
    click(qtbot, window, f"drop:survey.tapes.{row}")
    assert "agree" in page.verdict.text()


def test_a_place_is_found_by_tapes_and_becomes_a_hole(qtbot, window, measure):
    page = open_page(qtbot, window, "Tapes")
    click(qtbot, window, "add:survey.fixes")
    n = len(window.store.job.survey.fixes) - 1
    assert "0 of 5 tapes read" in page._said[n].text()
    known, target = places(window.store.job), (-1190.0, 120.0, 430.0)
    for k, t in enumerate(window.store.job.survey.fixes[n].tapes):
        type_into(
            qtbot,
            field(qtbot, window, f"survey.fixes.{n}.tapes.{k}.length_mm").line,
            f"{math.dist(known[t.start], target):.1f} mm",
        )
    assert "within" in page._said[n].text()
    name = window.store.job.survey.fixes[n].name
    spot = places(window.store.job)[name]
    before = len(window.store.job.vehicle.left)
    qtbot.mouseClick(page.findChild(QPushButton, f"take left:{n}"), Qt.MouseButton.LeftButton)
    if len(window.store.job.vehicle.left) == before:  # a hole outside the rail is refused with the reason
        assert page.problem.isVisible() and "rail" in page.problem.text()
    else:
        assert window.store.job.vehicle.left[-1].behind_mm == pytest.approx(-spot[0], abs=0.06)
    tape = field(qtbot, window, f"survey.fixes.{n}.tapes.0.length_mm")
    type_into(qtbot, tape.line, "20")
    assert "do not meet" in page._said[n].text() and page._said[n].isVisible()


def test_tapes_that_do_not_meet_leave_the_survey_standing(qtbot, window, measure):
    page = open_page(qtbot, window, "Tapes")
    type_into(qtbot, field(qtbot, window, "survey.fixes.0.tapes.0.length_mm").line, "100 mm")
    assert "do not meet" in page._said[0].text()
    assert any("Fix ball now" in w for w in window.store.verdict.warnings) and window.store.verdict.holds


def test_the_simulated_gauge_is_read_live_zeroed_and_taken(qtbot, window, measure):
    page = open_page(qtbot, window, "Tapes")
    click(qtbot, window, "gauge simulated")
    qtbot.waitUntil(lambda: page.gauge.value is not None, timeout=5000)
    assert "from level" in page.gauge.live.text()
    page.gauge.simulated.noise = 0.0
    page.gauge.simulated.value = 1.30
    qtbot.waitUntil(lambda: page.gauge.value == 1.30, timeout=5000)
    click(qtbot, window, "gauge zero")
    page.gauge.simulated.value = 1.55
    qtbot.waitUntil(lambda: page.gauge.value == 1.55, timeout=5000)
    click(qtbot, window, "gauge take")
    level = window.store.job.survey.levels[-1]
    assert (level.reading_deg, level.zero_deg) == (1.55, 1.30)
    page.gauge.simulated.fault = "garbage"
    qtbot.waitUntil(lambda: "not a reading" in page.gauge.live.text(), timeout=5000)
    page.gauge.simulated.fault = "dropout"
    qtbot.waitUntil(lambda: "quiet" in page.gauge.live.text(), timeout=5000)
    click(qtbot, window, "gauge take")
    assert "no reading" in page.problem.text()
    page.gauge.simulated.fault = "none"
    qtbot.waitUntil(lambda: page.gauge.value is not None, timeout=5000)
    page.gauge.stop()
    page.gauge.port.setText("/dev/no-such-port")
    click(qtbot, window, "gauge read")
    assert "cannot be opened" in page.gauge.live.text()


# ---- in the way


def test_a_keep_out_is_added_chosen_changed_and_taken_away(qtbot, window, measure):
    page = open_page(qtbot, window, "In the way")
    before = window.store.job
    n = len(before.survey.keep_outs)
    click(qtbot, window, "keep:Box")
    assert (
        len(window.store.job.survey.keep_outs) == n + 1
        and window.undo_action.text() == "Undo: add keep-out box"
    )
    for name, text in (("behind_mm", "1000"), ("long_mm", "200"), ("height_mm", "380"), ("high_mm", "120")):
        type_into(qtbot, field(qtbot, window, f"survey.keep_outs.{n}.{name}").line, text)
    assert "cuts into “box”" in page.hits.text() and "in the way" in window.tabs["Measure"].words
    type_into(qtbot, field(qtbot, window, f"survey.keep_outs.{n}.margin_mm").line, "-4")
    assert "must be between" in field(qtbot, window, f"survey.keep_outs.{n}.margin_mm").note.text()
    click(qtbot, window, "drop keep-out")
    assert window.store.job.survey.keep_outs == before.survey.keep_outs and "too near" in page.hits.text()


def test_every_ready_made_keep_out_can_be_added_to_hosts_of_every_shape(qtbot, window, measure):
    from urial.desk.stations.measure.keep_out_page import PRESETS

    for kind in ("pickup", "two-wheeler", "post"):
        window.new_survey(kind)
        page = open_page(qtbot, window, "In the way")
        for name in PRESETS:
            click(qtbot, window, f"keep:{name}")
            assert not page.problem.isVisible(), (kind, page.problem.text())
        assert len(window.store.job.survey.keep_outs) == len(PRESETS), kind
        window.scene.repaint()


# ---- what people forget


def test_forgotten_things_are_answered_by_measuring(qtbot, window, measure):
    demo(window, "first-idea")
    window.go("Measure")
    page = open_page(qtbot, window, "Forgotten")
    assert page.count.text().startswith("7 of 7 still open") and window.tabs["Measure"].words == "4 assumed"
    type_into(qtbot, field(qtbot, window, "survey.answers.bar_mouth_to_pin_mm").line, "3 in")
    assert "miss by" in page.lines["mouth to pin"][1].text() and any(
        "miss by" in w for w in window.store.verdict.warnings
    )
    type_into(qtbot, field(qtbot, window, "survey.answers.bar_mouth_to_pin_mm").line, "2 1/2")
    assert (
        page.lines["mouth to pin"][1].text().startswith("Measured. ")
        and window.tabs["Measure"].words == "4 assumed"
    )


# ---- off a photo


PLATE = [(0, 0), (200, 0), (200, 100), (0, 100)]
HOLES = [(-110, -40, 14), (-30, -41, 14), (50, -40, 14)]


@pytest.fixture(scope="module")
def picture(tmp_path_factory):
    h = camera((-40, 90, 720), (20, 10, 0))
    grey = render(h, HOLES, (200, 100), sub=3, noise=0.01)
    path = tmp_path_factory.mktemp("photo") / "left rail.png"
    Image.fromarray((255 * grey).astype(np.uint8)).save(path)
    return path, h


def tap(qtbot, page, x, y):
    """A click on a pixel of the picture."""
    page.canvas.repaint()
    at = page.canvas.to_widget(x, y)
    qtbot.mouseClick(page.canvas, Qt.MouseButton.LeftButton, pos=QPoint(round(at.x()), round(at.y())))


def test_holes_are_picked_on_a_photo_and_become_the_side_of_the_survey(
    qtbot, window, measure, picture, tmp_path
):
    path, h = picture
    page = open_page(qtbot, window, "Photo")
    assert window.stage.currentWidget() is page.canvas
    start = window.store.job
    page.add(path)
    window.repaint()
    for name, text in (
        ("width_mm", "200"),
        ("height_mm", "100"),
        ("at_behind_mm", "1010"),
        ("at_height_mm", "650"),
    ):
        type_into(qtbot, field(qtbot, window, f"survey.photos.0.{name}").line, text)
    for corner in through(h, PLATE):
        tap(qtbot, page, *corner)
    assert len(window.store.job.survey.photos[0].corners) == 4 and page.canvas.squared is not None
    click(qtbot, window, "mode:hole")
    for spot in through(h, [(u + 1, v - 1) for u, v, _ in HOLES]):
        tap(qtbot, page, *spot)
    picks = window.store.job.survey.photos[0].picks
    assert [p.hole_mm for p in picks] == pytest.approx([14, 14, 14], abs=0.4)
    assert "behind" in page.found.text() and "H1 to H2" in page.distances.text()
    click(qtbot, window, "take picks")
    left = window.store.job.vehicle.left
    assert [p.behind_mm for p in left] == pytest.approx([900, 980, 1060], abs=0.6)
    assert [p.height_mm for p in left] == pytest.approx([610, 609, 610], abs=0.6)
    # saved with its picture, and opened again
    target = tmp_path / "with photo.urial"
    assert window._save_to(target)
    again = load(target)
    assert set(again.attachments) == {again.job.survey.photos[0].file} and again.job == window.store.job
    while window.store.document.history.undo_name:
        window.undo_action.trigger()
    assert window.store.job == start
    window.store.save(target)
    assert not load(target).attachments
    window.redo_action.trigger()  # the picture is still at hand
    assert page.canvas.pixmap is not None
    open_page(qtbot, window, "Holes")
    assert window.stage.currentWidget() is window.scene


def test_what_is_no_photo_and_corners_that_cross_are_refused_and_the_old_kept(
    qtbot, window, measure, picture, tmp_path
):
    path, h = picture
    page = open_page(qtbot, window, "Photo")
    junk = tmp_path / "notes.jpg"
    junk.write_text("not a picture")
    page.add(junk)
    assert "not a picture" in page.problem.text() and not window.store.job.survey.photos
    page.add(tmp_path / "missing.jpg")
    assert "no such file" in page.problem.text()
    page.add(path)
    click(qtbot, window, "mode:hole")
    tap(qtbot, page, *through(h, [HOLES[0][:2]])[0])
    assert "four corners first" in page.problem.text()
    click(qtbot, window, "mode:corners")
    px = through(h, PLATE)
    for k in (0, 2, 1, 3):
        tap(qtbot, page, *px[k])
    assert "cross" in page.problem.text() and len(window.store.job.survey.photos[0].corners) == 3
    click(qtbot, window, "clear corners")
    for corner in px:
        tap(qtbot, page, *corner)
    assert len(window.store.job.survey.photos[0].corners) == 4
    click(qtbot, window, "mode:hole")
    tap(qtbot, page, *through(h, [(100, 180)])[0])
    assert "round" in page.problem.text() and not window.store.job.survey.photos[0].picks
    click(qtbot, window, "drop photo")
    assert not window.store.job.survey.photos


def test_the_wheel_and_a_drag_move_the_photo_and_home_brings_it_back(qtbot, window, measure, picture):
    page = open_page(qtbot, window, "Photo")
    page.add(picture[0])
    view = page.canvas
    zoom = view.zoom
    place = view.to_picture(QPointF(200, 200))
    from PySide6.QtGui import QWheelEvent

    event = QWheelEvent(
        QPointF(200, 200),
        view.mapToGlobal(QPointF(200, 200)),
        QPoint(),
        QPoint(0, 240),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(view, event)
    assert view.zoom > zoom and view.to_picture(QPointF(200, 200)) == pytest.approx(place)
    corners = len(window.store.job.survey.photos[0].corners)
    qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=QPoint(300, 300))
    qtbot.mouseMove(view, QPoint(340, 320))
    qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=QPoint(340, 320))
    assert len(window.store.job.survey.photos[0].corners) == corners
    qtbot.keyClick(view, Qt.Key.Key_Home)
    assert view.zoom == pytest.approx(zoom)


def test_work_on_a_survey_is_recovered_with_its_photo(qtbot, window, measure, picture):
    from urial.job.recovery import leftovers

    page = open_page(qtbot, window, "Photo")
    page.add(picture[0])
    note = next(window.store.document.recovery.folder.glob("*.json"))
    note.write_text(note.read_text().replace('"started": "', '"started": "9'))  # as if that process were gone
    (left,) = leftovers(window.store.document.recovery.folder)
    assert left.document.job.survey.photos and next(iter(left.document.attachments.values()))
    assert Image.open(io.BytesIO(next(iter(left.document.attachments.values())))).size == (1200, 900)


def test_ctrl_k_leads_to_a_field_of_the_survey(qtbot, window, measure):
    window.show_field("survey.answers.swing_mm")
    assert measure.current == "Forgotten" and field(qtbot, window, "survey.answers.swing_mm").line.hasFocus()
    window.show_field("vehicle.track_mm")
    assert measure.current == "Host" and field(qtbot, window, "vehicle.track_mm").line.hasFocus()


def test_the_survey_agrees_in_every_demo():
    for path, _, _ in demo_jobs():
        assert not agree.cross_check(load(path).job).wrong, path


def test_holes_of_another_face_are_entered_in_the_window_and_become_a_place_of_their_own(
    qtbot, window, measure
):
    before = window.store.job
    kinds = {s.kind for s in host_sockets(before.vehicle)}
    click(qtbot, window, "+left")
    last = len(window.store.job.vehicle.left) - 1
    click(qtbot, window, f"more:left:{last}")
    click(qtbot, window, f"choice:vehicle.left.{last}.bolted:yes")
    click(qtbot, window, f"choice:vehicle.left.{last}.group:tow eyes, front")
    click(qtbot, window, f"choice:vehicle.left.{last}.facing:front")
    (eyes,) = (s for s in host_sockets(window.store.job.vehicle) if s.kind not in kinds)
    assert eyes.kind == "tow eyes, front" and len(eyes.bolts) == 1
    assert window.store.has_part and not window.store.refusal  # the receiver still bolts to the rails alone
    for _ in range(4):
        window.undo_action.trigger()
    assert window.store.job.vehicle == before.vehicle


# ---- where the tape goes


def test_a_field_with_the_keys_shows_where_the_tape_goes_and_takes_no_click(qtbot, window, measure):
    open_page(qtbot, window, "Host")
    figure, line = window.tape, field(qtbot, window, "vehicle.rail_bottom_mm").line
    assert not figure.isVisible()
    measure.ensureWidgetVisible(line)
    line.setFocus(Qt.FocusReason.TabFocusReason)
    assert figure.isVisible()
    assert figure.laid.words == "Plumb, ground to the underside of the rail"
    assert figure.testAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
    beside = figure.mapTo(window, figure.rect().topRight()).x()
    assert beside < line.mapTo(window, QPoint(0, 0)).x()
    foot = figure.mapTo(window, figure.rect().bottomLeft()).y()
    assert foot < window.chain.mapTo(window, QPoint(0, 0)).y()  # the chain stays seen
    before = figure.grab().toImage()
    qtbot.keyClicks(line, "700")
    qtbot.keyClick(line, Qt.Key.Key_Return)
    assert window.store.job.vehicle.rail_bottom_mm == 700.0
    assert figure.isVisible() and figure.laid.b[2] == 700.0 and figure.grab().toImage() != before
    field(qtbot, window, "vehicle.front_kg").line.setFocus(Qt.FocusReason.TabFocusReason)
    assert not figure.isVisible()  # nobody lays a tape to a mass
    line.setFocus(Qt.FocusReason.TabFocusReason)
    assert figure.isVisible()
    bar = measure.verticalScrollBar()
    bar.setValue(bar.minimum() if bar.value() > bar.maximum() / 2 else bar.maximum())
    assert not figure.isVisible()  # its field is scrolled away
    measure.ensureWidgetVisible(line)
    assert figure.isVisible()
    window.go("Build")
    assert not figure.isVisible()


def test_every_field_of_the_sheet_that_is_a_length_shows_its_tape_inside_the_window(qtbot, window, measure):
    for stem in ("rescue-receiver", "hay-net-carriage"):
        window.store.document.saved_job = window.store.job
        demo(window, stem)
        window.go("Measure")
        page = open_page(qtbot, window, "Sheet")
        shown = 0
        for one in page.fields:
            window.stations["Measure"].ensureWidgetVisible(one.line)
            one.line.setFocus(Qt.FocusReason.TabFocusReason)
            if window.tape.isVisible():
                shown += 1
                assert window.rect().contains(
                    window.tape.geometry().translated(window.centralWidget().pos())
                ), one.path
        lengths = [f for f in page.fields if f.spec.kind == "length" and f.path.startswith("vehicle.")]
        assert shown >= 0.7 * len(lengths) > 10
