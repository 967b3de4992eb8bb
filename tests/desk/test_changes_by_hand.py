"""Changes picked on the drawing: a hole by one click, a brace by two, switched off, taken out, undone."""

from typing import get_args

import numpy as np
import pytest
from PySide6.QtCore import QCoreApplication, QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QCheckBox, QLabel, QLineEdit, QPushButton

from urial.assembly.model import Weld
from urial.desk.outline_card import OutlineCard
from urial.desk.start import demo_jobs
from urial.desk.widgets.fields import Field
from urial.geometry import folded
from urial.geometry import path as paths
from urial.geometry.outline import area, bounds, rectangle
from urial.job import edit
from urial.job.change import TITLES, Change, Pick
from urial.papers.dxf import plate_dxf

FITTINGS = {p.stem: p for p, _, _ in demo_jobs()}["river-fittings"]


@pytest.fixture
def build(window):
    window.open_demo(FITTINGS)
    window.scene.set_view("turned")
    window.go("Build")
    station = window.stations["Build"]
    station.changes.head.setChecked(True)
    return station


def press(qtbot, build, name):
    button = build.findChild(QPushButton, name)
    assert button is not None, name
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)


def click(qtbot, window, point):
    x, y = window.scene.camera.project(np.array([point]))[0]
    qtbot.mouseClick(window.scene, Qt.MouseButton.LeftButton, pos=QPoint(round(x), round(y)))


def part(window, key):
    return window.store.verdict.assembly.by_key[key]


def changes(window, number):
    return next(p.changes for p in window.store.job.stack if p.id == number)


def test_a_hole_is_put_where_somebody_clicks_changed_switched_off_taken_out_and_undone(qtbot, window, build):
    before = window.store.job
    press(qtbot, build, "add hole")
    assert window.scene.told.isVisible() and "where the hole goes" in window.scene.told.text()
    plate = part(window, "1/base plate").shape
    spot = plate.place.point((-1100.0, 100.0, plate.t))
    click(qtbot, window, spot)
    (hole,) = changes(window, "1")
    made = part(window, "1/base plate").shape.holes[-1]
    assert made[:2] == pytest.approx((-1100.0, 100.0), abs=2.0)
    assert not window.scene.told.isVisible() and window.store.chosen.question is None
    size = next(f for f in build.changes.findChildren(Field) if f.path.endswith("0.diameter_mm"))
    size.line.setText("14 mm")
    size.commit()
    assert part(window, "1/base plate").shape.holes[-1][2] == 14.0
    build.changes.findChild(QCheckBox, "change on:0").click()
    assert len(part(window, "1/base plate").shape.holes) == 4 and changes(window, "1")[0].on is False
    press(qtbot, build, "change gone:0")
    assert changes(window, "1") == () and hole.diameter_mm == 11.0
    for _ in range(4):
        window.undo_action.trigger()
    assert window.store.job == before


def test_a_brace_is_put_between_two_clicks(qtbot, window, build):
    hoop, strut = part(window, "2/hoop"), part(window, "2/brace.left")
    press(qtbot, build, "add brace")
    click(qtbot, window, paths.at(hoop.shape.path, 120.0)[0])
    assert "where the brace ends" in window.scene.told.text()
    click(qtbot, window, paths.at(strut.shape.path, 60.0)[0])
    (change,) = changes(window, "2")
    assert {change.at.part, change.to.part} == {"hoop", "brace.left"}
    assert "added brace" in {p.name for p in window.store.verdict.assembly.parts}
    assert window.undo_action.text().startswith("Undo: brace from the hoop")


def test_escape_takes_the_question_back_and_a_click_beside_says_so(qtbot, window, build):
    press(qtbot, build, "add hole")
    qtbot.mouseClick(window.scene, Qt.MouseButton.LeftButton, pos=QPoint(4, window.scene.height() - 6))
    assert (
        "no part under the pointer" in window.scene.told.text() and window.store.chosen.question is not None
    )
    qtbot.keyClick(window.scene, Qt.Key.Key_Escape)
    assert window.store.chosen.question is None and changes(window, "1") == ()


def test_hardware_and_plates_say_what_they_do_not_take(qtbot, window, build):
    drum = window.store.verdict.assembly.places["winch"]
    press(qtbot, build, "add hole")
    click(qtbot, window, drum)
    assert "takes no change" in build.changes.said.text()
    press(qtbot, build, "add section")
    plate = part(window, "1/base plate").shape
    click(qtbot, window, plate.place.point((-1100.0, 100.0, plate.t)))
    assert "is a plate" in build.changes.said.text() and changes(window, "1") == ()


def test_a_gusset_is_put_into_a_corner_by_two_clicks(qtbot, window, build):
    base, wall = part(window, "1/base plate").shape, part(window, "1/gusset.left").shape
    window.scene.camera.azimuth, window.scene.camera.elevation = (
        70.0,
        30.0,
    )  # from the left, where the corner is
    window.scene.fit()
    press(qtbot, build, "add gusset")
    x = sum(p[0] for p in wall.outline) / len(wall.outline)
    click(qtbot, window, (x, wall.place.o[1] + 45.0, base.place.o[2] + base.t))
    click(qtbot, window, (x, wall.place.o[1], base.place.o[2] + base.t + 50.0))
    (change,) = changes(window, "1")
    assert change.kind == "gusset" and (change.at.part, change.to.part) == ("base plate", "gusset.left")
    assert "added gusset" in {p.name for p in window.store.verdict.assembly.parts}
    window.undo_action.trigger()
    assert changes(window, "1") == ()


def drag(window, box, dx, dy, keys=Qt.KeyboardModifier.NoModifier):
    """A size taken by its figure and pulled."""
    start = box.center()
    left = Qt.MouseButton.LeftButton

    def send(kind, at, button, buttons):
        QCoreApplication.sendEvent(
            window.scene, QMouseEvent(kind, at, window.scene.mapToGlobal(at), button, buttons, keys)
        )

    send(QEvent.Type.MouseButtonPress, start, left, left)
    for f in (0.2, 0.5, 1.0):
        at = QPointF(start.x() + f * dx, start.y() + f * dy)
        send(QEvent.Type.MouseMove, at, Qt.MouseButton.NoButton, left)
    send(
        QEvent.Type.MouseButtonRelease, QPointF(start.x() + dx, start.y() + dy), left, Qt.MouseButton.NoButton
    )


def label_of(window, path):
    window.scene.grab()
    return next((box, d) for box, d in window.scene._labels if d.path == path)


def test_a_size_follows_the_hand_in_one_step_of_undo(qtbot, window):
    window.scene.set_view("side")
    window.go("Build")
    before = window.store.job
    path = "stack.1.mouth_to_tube_mm"
    box, _ = label_of(window, path)
    start = edit.get(before, path)
    drag(
        window, box, -40.0 * window.scene.camera.scale, 0.0
    )  # the rear is to the right: the tube moves forward
    assert edit.get(window.store.job, path) == pytest.approx(start + 40.0, abs=5.0)
    assert edit.get(window.store.job, path) % 5 == 0  # round steps
    assert window.undo_action.text().startswith("Undo: mouth to cross tube")
    window.undo_action.trigger()
    assert window.store.job == before


def test_pulled_back_to_where_it_was_nothing_has_happened_and_out_of_range_says_so(qtbot, window):
    window.scene.set_view("side")
    window.go("Build")
    before, undo = window.store.job, window.undo_action.text()
    path = "stack.1.mouth_to_pin_mm"
    box, _ = label_of(window, path)
    drag(window, box, -4000.0, 0.0)
    assert window.store.job == before and "must be between" in window.scene.told.text()
    assert window.undo_action.text() == undo


def test_a_size_that_follows_a_formula_is_not_pulled_loose(qtbot, window):
    window.scene.set_view("side")
    window.go("Build")
    path = "stack.1.mouth_to_tube_mm"
    window.store.put_job(edit.write(window.store.job, path, "= receiver length / 2"), path)
    box, _ = label_of(window, path)
    drag(window, box, 60.0, 0.0)
    assert edit.get(window.store.job, path) == pytest.approx(160.0)
    assert "follows = receiver length / 2" in window.scene.told.text()


def test_every_kind_of_change_has_a_button_that_asks_and_escape_takes_it_back(qtbot, window, build):
    kinds = [b.objectName() for b in build.changes.findChildren(QPushButton) if b.objectName()[:4] == "add "]
    assert len(kinds) == 14
    for name in kinds:
        press(qtbot, build, name)
        assert (
            window.store.chosen.question is not None and "Escape takes it back" in window.scene.told.text()
        ), name
        qtbot.keyClick(window.scene, Qt.Key.Key_Escape)
        assert window.store.chosen.question is None and changes(window, "1") == ()


@pytest.mark.parametrize(
    "kind, size, value",
    [("slot", "long_mm", 52.0), ("cut-out", "wide_mm", 30.0), ("plate", "high_mm", 45.0)],
)
def test_what_goes_on_a_face_is_one_click_and_its_sizes_can_be_typed(qtbot, window, build, kind, size, value):
    plate = part(window, "1/base plate").shape
    press(qtbot, build, f"add {kind}")
    click(qtbot, window, plate.place.point((-1100.0, 100.0, plate.t)))
    (change,) = changes(window, "1")
    assert change.kind == ("plate" if kind == "plate" else "window")
    assert kind in build.changes.findChild(QPushButton, "change:0").text()
    field = next(f for f in build.changes.findChildren(Field) if f.path.endswith(f"0.{size}"))
    field.line.setText(f"{value} mm")
    field.commit()
    assert getattr(changes(window, "1")[0], size) == value
    assert not [w for w in window.store.verdict.warnings if w.startswith("Change")]
    window.undo_action.trigger()
    window.undo_action.trigger()
    assert changes(window, "1") == ()


def test_a_tab_is_put_through_the_plate_clicked_second(qtbot, window, build):
    base, wall = part(window, "1/base plate").shape, part(window, "1/gusset.left").shape
    window.scene.camera.azimuth, window.scene.camera.elevation = (70.0, 30.0)
    window.scene.fit()
    press(qtbot, build, "add tab")
    x = sum(p[0] for p in wall.outline) / len(wall.outline)
    click(qtbot, window, (x, wall.place.o[1], base.place.o[2] + base.t + 30.0))
    assert "the plate it goes through" in window.scene.told.text()
    click(qtbot, window, (x, wall.place.o[1] + 45.0, base.place.o[2] + base.t))
    (change,) = changes(window, "1")
    assert (change.at.part, change.to.part) == ("gusset.left", "base plate")
    assert len(part(window, "1/base plate").shape.slots) == 1


def test_a_bend_asks_for_the_side_and_takes_a_radius_that_suits_the_bar(qtbot, window, build):
    hoop = part(window, "2/hoop")
    press(qtbot, build, "add bend")
    assert "on the side it bends to" in window.scene.told.text()
    click(qtbot, window, paths.at(hoop.shape.path, 120.0)[0])
    (change,) = changes(window, "2")
    assert change.kind == "bend" and change.inside_mm == 3.0 * hoop.shape.stock.height
    # the hoop is welded at its foot: it says so and stays as it is
    assert "would bend" in build.changes.rows.itemAt(1).widget().text()
    assert part(window, "2/hoop").shape == hoop.shape


def test_a_place_is_moved_by_a_click_near_it_and_one_where_it_goes(qtbot, window, build):
    plate = part(window, "1/base plate").shape
    press(qtbot, build, "add socket")
    spot = plate.place.point((-1100.0, 100.0, plate.t))
    click(qtbot, window, spot)
    assert "goes to" in window.scene.told.text()
    click(qtbot, window, spot)
    (change,) = changes(window, "1")
    assert change.kind == "socket"
    moved = window.store.verdict.assembly.socket_by_key[f"1/{change.socket}"]
    assert moved.place.o == pytest.approx(spot, abs=2.0)


def grips(window):
    """Every size that can be taken by an end, the end, and how far it follows."""
    window.scene.grab()
    out = []
    for _, d in window.scene._labels:
        for which in ("a", "b"):
            grab = window.scene._taken(d, QPointF(0, 0), which) if d.path.startswith("stack.") else None
            if grab is not None:
                out.append((d, which, grab))
    return out


def pull_end(window, d, which, mm, keys=Qt.KeyboardModifier.NoModifier):
    """An end pulled along its size's own line, so many mm of the world."""
    at = window.scene.camera.project(np.array([getattr(d, which)]))[0]
    far = np.array(getattr(d, which)) + np.eye(3)["xyz".index(d.axis)] * mm
    to = window.scene.camera.project(np.array([far]))[0]
    from PySide6.QtCore import QRectF

    box = QRectF(at[0] - 1, at[1] - 1, 2, 2)
    drag(window, box, float(to[0] - at[0]), float(to[1] - at[1]), keys)


def test_an_end_on_the_drawing_is_taken_hold_of_and_goes_where_the_hand_goes(qtbot, window):
    window.scene.set_view("side")
    window.go("Build")
    before = window.store.job
    d, which, grab = next(g for g in grips(window) if g[0].path == "stack.1.mouth_to_tube_mm")
    found = window.scene.end_at(
        QPointF(*(float(v) for v in window.scene.camera.project(np.array([getattr(d, which)]))[0]))
    )
    assert found is not None and found[0].path == d.path
    start = edit.get(before, d.path)
    pull_end(window, d, which, -20.0, Qt.KeyboardModifier.ShiftModifier)
    now = edit.get(window.store.job, d.path)
    assert now == pytest.approx(start - 20.0 / grab.follows, abs=1.0)
    moved = next(x for x in window.store.verdict.assembly.dimensions if x.path == d.path and x.name == d.name)
    k = "xyz".index(d.axis)
    assert getattr(moved, which)[k] == pytest.approx(getattr(d, which)[k] - 20.0, abs=1.5)
    window.undo_action.trigger()
    assert window.store.job == before


def test_an_end_pulled_near_a_hole_is_level_with_it(qtbot, window):
    window.store.put("stack.1.receiver_length_mm", 380.0)  # room for the tube to go forward
    window.scene.set_view("side")
    window.go("Build")
    d, which, grab = next(g for g in grips(window) if g[0].path == "stack.1.mouth_to_tube_mm")
    k = "xyz".index(d.axis)
    here = getattr(d, which)[k]
    hole = min(
        (s for s in grab.snaps if "hole" in s.words and 5 < abs(s.at[k] - here) < 40),
        key=lambda s: abs(s.at[k] - here),
    )
    pull_end(window, d, which, hole.at[k] - here + 1.0)  # a millimetre beyond it
    assert "level with" in window.scene.told.text()
    moved = next(x for x in window.store.verdict.assembly.dimensions if x.path == d.path and x.name == d.name)
    assert getattr(moved, which)[k] == pytest.approx(hole.at[k], abs=0.01)


def test_the_end_that_stands_still_is_not_taken(qtbot, window):
    window.scene.set_view("side")
    window.go("Build")
    held = {(d.path, which) for d, which, _ in grips(window)}
    every = {(d.path, w) for _, d in window.scene._labels for w in ("a", "b") if d.path.startswith("stack.")}
    assert held and held < every


def test_a_rim_is_bent_and_drilled_by_clicks_undone_saved_and_opened_again(qtbot, window, tmp_path):
    """From the first click to the file: the plate's top is bent, a wrong radius is refused where it is typed,
    a hole goes where the bent rim is clicked."""
    window.open_demo({p.stem: p for p, _, _ in demo_jobs()}["tool-plate"])
    window.scene.set_view("turned")
    window.go("Build")
    station, number = window.stations["Build"], "3"
    station.changes.head.setChecked(True)
    before = window.store.job
    for key, value in (("rim_mm", 0.0), ("high_mm", 420.0)):
        window.store.put(edit.find_path(before, key), value)
    steps = 2
    window.scene.camera.azimuth, window.scene.camera.elevation = 30.0, 20.0
    window.scene.fit()
    plate = part(window, "3/plate")
    top = max(v for _, v, _ in plate.shape.outline)
    press(qtbot, station, "add bend")
    click(qtbot, window, plate.flat_place.point((-150.0, top - 80.0, 0.0)))
    assert [c.kind for c in changes(window, number)] == ["bend"], station.changes.said.text()
    steps += 1
    bent = part(window, "3/plate")
    (fold,) = bent.shape.folds
    radius = next(f for f in station.changes.findChildren(Field) if f.path.endswith("0.inside_mm"))
    radius.line.setText("much")
    radius.commit()
    assert part(window, "3/plate").shape.folds == (fold,)  # refused, nothing lost
    radius.line.setText("12 mm")
    radius.commit()
    steps += 1
    bent = part(window, "3/plate")
    assert bent.shape.folds[0].inside == 12.0
    u = min(x for x, _, _ in bent.shape.outline) + 80.0
    rim = max(v for _, v, _ in bent.shape.outline) - 25.0
    window.scene.camera.elevation = 60.0
    window.scene.fit()
    there = bent.flat_place @ folded.frame_at(bent.shape, u, rim)
    seen = bent.shape.t if np.dot(there.z, window.scene.camera.axes()[2]) > 0 else 0.0
    press(qtbot, station, "add hole")
    click(qtbot, window, there.point((u, rim, seen)))
    assert [c.kind for c in changes(window, number)] == ["bend", "hole"], station.changes.said.text()
    steps += 1
    made = part(window, "3/plate")
    assert made.shape.holes[-1][1] == pytest.approx(rim, abs=3.0)
    done = window.store.job
    file = tmp_path / "bent.urial"
    window.store.save(file)
    for _ in range(steps):
        window.undo_action.trigger()
    assert window.store.job == before
    window.store.document.saved_job = window.store.job
    window.store.open(file)
    assert window.store.job == done and part(window, "3/plate").shape == made.shape


def test_a_weld_is_bevelled_by_a_click_beside_its_bead(qtbot, window, build):
    base = part(window, "1/base plate")
    joint = next(
        j
        for j in window.store.verdict.assembly.joints
        if base.key in (j.a, j.b) and isinstance(j.how, Weld) and j.how.host is None
    )
    bead = joint.how.runs[0]
    spot = tuple((2 * a + b) / 3 for a, b in zip(bead.a, bead.b, strict=True))
    press(qtbot, build, "add bevel")
    click(qtbot, window, spot)
    (made,) = changes(window, "1")
    now = next(j for j in window.store.verdict.assembly.joints if j.key == joint.key)
    assert made.kind == "bevel" and now.how.through and not joint.how.through
    window.undo_action.trigger()
    assert not changes(window, "1")


def test_every_kind_of_change_opens_to_its_sizes(qtbot, window, build):
    """What the log took in, too: a length, a hole, a bend as they are."""
    build.changes.head.setChecked(True)
    for kind in sorted(TITLES):
        model = next(m for m in get_args(get_args(Change)[0]) if m.model_fields["kind"].default == kind)
        plate = kind in ("notch", "window", "tab", "hole as", "outline")
        pick = Pick(part="side plate.left" if plate else "cross tube", face="front" if plate else "+z")
        more = {"to": pick} if "to" in model.model_fields else {}
        if kind == "outline":
            more = {"rim": rectangle(0, 0, 90, 60)}
        job = window.store.job
        window.store.put_job(edit.put(job, "stack.1.changes", (model(at=pick, **more),)), "", "a change")
        build.changes.show_change(0)
        qtbot.waitUntil(lambda: build.changes.findChild(QPushButton, "change:0") is not None)
        assert build.changes.findChildren(Field), f"{kind}: a row that opens to nothing"


def carded(qtbot, window, key, path):
    """The card of an outline's file over a plate, once the file is read."""
    card = OutlineCard(window.store, window.theme, part(window, key), path, window)
    qtbot.addWidget(card)
    card.show()
    problem = card.findChild(QLabel, "outline problem")
    qtbot.waitUntil(lambda: card.now is not None or bool(problem.text()), timeout=20_000)
    return card, problem


def typed(qtbot, card, name, text):
    line = card.findChild(QLineEdit, name)
    line.setFocus()
    line.selectAll()
    QTest.keyClicks(line, text)
    qtbot.keyClick(line, Qt.Key.Key_Return)


def test_a_plate_is_cut_to_a_drawing_that_is_looked_at_over_it_first(qtbot, window, build, tmp_path):
    """The base plate's own drawing with a corner more cut off, and a hole of its own."""
    plate = part(window, "1/base plate")
    path = tmp_path / "base.dxf"
    path.write_bytes(plate_dxf(plate.shape, ("x",)))
    card, problem = carded(qtbot, window, plate.key, path)
    assert not problem.text() and card.take.isEnabled()
    u0, v0, u1, v1 = bounds(plate.shape.outline)
    assert card.change.wide_mm == pytest.approx(u1 - u0, abs=0.05)
    typed(qtbot, card, "outline wide", "40 mm")  # its own holes would have no metal
    assert problem.text() and not card.take.isEnabled()
    typed(qtbot, card, "outline wide", "wide")
    assert "wide" in problem.text() and card.change.wide_mm == 40.0
    typed(qtbot, card, "outline apart", "90 mm")
    assert "Click two places" in problem.text()
    left, right = (card.view._seen(((u, v0, 0.0), (u, v1, 0.0), (u, v1, 0.0)))[0] for u in (u0, u1))
    laid = card._laid()
    x0, _, x1, _ = bounds(laid.rim)
    for u in (x0, x1):
        at = card.view._seen(((u, (v0 + v1) / 2, 0.0), (u, v1, 0.0), (u, v0, 0.0)))[0]
        qtbot.mouseClick(card.view, Qt.MouseButton.LeftButton, pos=QPoint(round(at[0]), round(at[1])))
    assert len(card.view.marks) == 2 and card.findChild(QLineEdit, "outline apart").text()
    typed(qtbot, card, "outline apart", f"{u1 - u0} mm")
    assert card.change.wide_mm == pytest.approx(u1 - u0, rel=0.03)
    typed(qtbot, card, "outline wide", f"{u1 - u0} mm")
    assert not problem.text() and card.take.isEnabled() and left is not right
    typed(qtbot, card, "outline turn", "90")
    turned = card.change.turn_deg
    assert turned == 90.0
    typed(qtbot, card, "outline turn", "0")
    before = window.store.job
    qtbot.mouseClick(card.take, Qt.MouseButton.LeftButton)
    build.changes._add("1", card.change, "outline of base")
    (change,) = changes(window, "1")
    assert change.kind == "outline" and change.name == "base"
    assert area(part(window, "1/base plate").shape.outline) == pytest.approx(
        area(plate.shape.outline), rel=1e-3
    )
    window.undo_action.trigger()
    assert window.store.job == before


def test_a_file_that_is_no_outline_is_said_on_the_card(qtbot, window, build, tmp_path):
    path = tmp_path / "poem.svg"
    path.write_text("roses are red")
    card, problem = carded(qtbot, window, "1/base plate", path)
    assert "poem.svg" in problem.text() and not card.take.isEnabled()
    qtbot.mouseClick(card.findChild(QPushButton, "outline leave"), Qt.MouseButton.LeftButton)
    assert not card.isVisible()


def test_an_outline_asks_for_a_plate_and_then_for_a_file(qtbot, window, build, monkeypatch):
    asked = []
    monkeypatch.setattr(
        "urial.desk.widgets.changes.QFileDialog.getOpenFileName", lambda *a: asked.append(a) or ("", "")
    )
    press(qtbot, build, "add outline")
    assert "gets another outline" in window.scene.told.text()
    plate = part(window, "1/base plate").shape
    click(qtbot, window, plate.place.point((-1100.0, 100.0, plate.t)))
    assert len(asked) == 1 and changes(window, "1") == ()
