"""A backdrop as a user puts it: taken in, its known places clicked, set by them, looked at, taken away."""

from __future__ import annotations

import threading

import numpy as np
import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QPushButton

from urial.job.file import load
from urial.measure import backdrop, foreign

PLATE = np.array([(x, y, z) for z in (0.0, 8.0) for y in (0.0, 100.0) for x in (0.0, 200.0)])
FACES = np.array(
    [
        *((0, 2, 3), (0, 3, 1), (4, 5, 7), (4, 7, 6), (0, 1, 5), (0, 5, 4)),
        *((2, 6, 7), (2, 7, 3), (0, 4, 6), (0, 6, 2), (1, 3, 7), (1, 7, 5)),
    ]
)


@pytest.fixture
def page(window):
    """The page, with the demo job of the rear receiver."""
    window.go("Measure")
    station = window.paged("Measure")
    station.show_page("Behind")
    return station.pages["Behind"]


@pytest.fixture
def plate(tmp_path):
    """A plate, 200 × 100 × 8, in a file."""
    path = tmp_path / "plate.stl"
    path.write_bytes(foreign.stl(PLATE, FACES))
    return path


def press(qtbot, page, name):
    qtbot.wait(1)  # rows made anew are shown by the event loop
    (button,) = (b for b in page.findChildren(QPushButton, name) if b.isVisibleTo(page))
    qtbot.mouseClick(button, Qt.MouseButton.LeftButton)


def take(qtbot, page, path):
    page.add(path)
    qtbot.waitUntil(lambda: page._reading is None, timeout=30_000)


def click(qtbot, window, at):
    """Click a place of the host on the drawing."""
    x, y = window.scene.camera.project(np.array([at]))[0]
    qtbot.mouseClick(window.scene, Qt.MouseButton.LeftButton, pos=QPoint(round(float(x)), round(float(y))))


def backdrops(window):
    return window.store.job.survey.backdrops


def test_a_body_is_taken_in_shown_undone_saved_and_taken_away(qtbot, window, page, plate, tmp_path):
    before = window.store.job
    take(qtbot, page, plate)
    (b,) = backdrops(window)
    assert (b.title, b.kind, page.told.text()) == ("plate", "body", "plate.stl: 12 faces.")
    assert window.scene.behind.there(window.store)
    window.undo_action.trigger()
    assert window.store.job == before and not window.scene.behind.there(window.store)
    window.redo_action.trigger()
    assert backdrops(window) == (b,)
    path = tmp_path / "job.urial"
    window.store.save(path)
    assert b.file in load(path).attachments
    window.store.open(path)
    window.go("Measure")
    station = window.paged("Measure")
    station.show_page("Behind")
    page = station.pages["Behind"]
    assert page.pick.currentText() == "1  plate" and window.scene.behind.there(window.store)
    press(qtbot, page, "drop backdrop")
    assert backdrops(window) == ()
    window.store.save(path)
    assert b.file not in load(path).attachments


def test_what_cannot_stand_behind_is_said_and_changes_nothing(qtbot, window, page, tmp_path):
    before, path = window.store.job, tmp_path / "odd.step"
    path.write_bytes(b"ISO-10303-21; nothing")
    take(qtbot, page, path)
    assert page.problem.isVisible() and page.problem.text().startswith("odd.step ")
    assert window.store.job == before
    page.add(tmp_path / "gone.stl")
    page.stop.click()
    qtbot.wait(50)
    assert "Stopped" in page.told.text() and window.store.job == before


def test_its_corners_are_clicked_where_they_were_measured_and_set_it(qtbot, window, page, plate):
    take(qtbot, page, plate)
    window.scene.set_view("top")
    known = backdrop.named_places(window.store.job.vehicle, window.store.job.survey)
    for name, corner in (("L1", (0.0, 0.0, 8.0)), ("R1", (200.0, 0.0, 8.0))):
        press(qtbot, page, "look at backdrop")
        page.which.setCurrentText(name)
        press(qtbot, page, "pick known")
        assert window.store.chosen.question is not None
        click(qtbot, window, backdrop.spot_on_host(backdrops(window)[0], corner))
        assert window.store.chosen.question is None
        assert page.told.text() == f"{name}: a corner."
    b = backdrops(window)[0]
    assert [(m.x, m.y, m.z, m.to) for m in b.meets] == [(0, 0, 8, "L1"), (200, 0, 8, "R1")]
    press(qtbot, page, "set by places")
    offs = [o.mm for o in backdrop.offs(backdrops(window)[0], known)]
    apart = float(np.linalg.norm(np.subtract(known["L1"], known["R1"])))
    assert offs == pytest.approx([abs(apart - 200) / 2] * 2, abs=0.01)  # what is too long lies at both ends
    assert "as large as measured" in page.advice.text()
    press(qtbot, page, "drop known:0")
    assert [m.to for m in backdrops(window)[0].meets] == ["R1"]
    window.undo_action.trigger()
    assert len(backdrops(window)[0].meets) == 2


def test_a_click_beside_it_asks_again_and_escape_leaves(qtbot, window, page, plate):
    take(qtbot, page, plate)
    window.scene.set_view("top")
    press(qtbot, page, "look at backdrop")
    press(qtbot, page, "pick known")
    click(qtbot, window, backdrop.spot_on_host(backdrops(window)[0], (100.0, 160.0, 8.0)))
    assert window.store.chosen.question is not None and "not under the pointer" in window.scene.told.text()
    qtbot.keyClick(window.scene, Qt.Key.Key_Escape)
    assert window.store.chosen.question is None and not backdrops(window)[0].meets


def test_a_place_of_it_becomes_a_mark_that_says_where_it_is_from(qtbot, window, page, plate):
    take(qtbot, page, plate)
    window.scene.set_view("top")
    press(qtbot, page, "look at backdrop")
    marks = len(window.store.job.survey.marks)
    press(qtbot, page, "mark place")
    at = backdrop.spot_on_host(backdrops(window)[0], (200.0, 100.0, 8.0))
    click(qtbot, window, at)
    new = window.store.job.survey.marks[marks]
    assert (-new.behind_mm, new.across_mm, new.height_mm) == pytest.approx(at, abs=0.06)
    assert window.store.job.origins[f"survey.marks.{marks}.behind_mm"].words.startswith("read from plate")


def test_how_near_the_part_comes_is_said(qtbot, window, page, plate):
    take(qtbot, page, plate)
    b = backdrops(window)[0].model_copy(update={"behind_mm": 3000.0})
    page._replace(b, "away")
    fold = page.nearness
    fold.open.click()
    qtbot.waitUntil(lambda: "Looking" not in fold.said.text() and fold.said.text() != "", timeout=30_000)
    assert "Nothing of the part" in fold.said.text()
    # its lower face 60 mm above the highest place of a part: just so much air
    from urial.assembly.bodies import body

    part = max(window.store.verdict.assembly.parts, key=lambda p: body(p).bounding_box()[5])
    x0, y0, _, x1, y1, z1 = body(part).bounding_box()
    page._replace(
        b.model_copy(
            update={
                "behind_mm": -(x0 + x1) / 2 + 100,
                "across_mm": (y0 + y1) / 2 - 50,
                "height_mm": z1 + 60,
            }
        ),
        "over it",
    )
    qtbot.waitUntil(lambda: "60.0 mm" in fold.said.text(), timeout=30_000)
    assert fold.said.text().splitlines()[0].startswith(part.name)


def test_another_backdrop_is_asked_about_anew_and_a_hidden_one_is_not_picked_from(qtbot, window, page, plate):
    take(qtbot, page, plate)
    fold = page.nearness
    fold.open.click()
    qtbot.waitUntil(lambda: fold.said.text() not in ("", "Looking…"), timeout=30_000)
    first = fold.said.text()
    b = backdrops(window)[0]
    away = b.model_copy(update={"title": "away", "behind_mm": 9000.0})
    page.put("survey.backdrops", (b, away), "another")
    page.refresh()
    page.pick.setCurrentIndex(1)
    qtbot.waitUntil(lambda: "Nothing of the part" in fold.said.text(), timeout=30_000)
    page.pick.setCurrentIndex(0)
    qtbot.waitUntil(lambda: fold.said.text() == first, timeout=30_000)
    page._replace(b.model_copy(update={"shown": False}), "hide")
    press(qtbot, page, "mark place")
    assert window.store.chosen.question is None and "is not shown" in page.problem.text()


def test_a_broken_driver_leaves_the_lines(qtbot, window, page, plate):
    take(qtbot, page, plate)

    class Broken:
        def __init__(self):
            raise RuntimeError("no such driver")

    kept = window.scene.behind._drawn  # what draws goes with its window, not before
    window.scene.behind.eye, window.scene.behind._drawn = Broken, None
    window.scene.camera.pan(3, 0)
    window.scene.repaint()
    assert window.scene.behind.eye is None and window.scene.isVisible()
    window.scene.behind._drawn = kept


def rough(n):
    """A hilly sheet of 2 n² faces."""
    u, v = np.meshgrid(np.linspace(0, 900, n + 1), np.linspace(0, 500, n + 1), indexing="ij")
    points = np.stack([u, v, 20 * np.sin(u / 9) * np.cos(v / 7)], axis=-1).reshape(-1, 3)
    k = np.arange(n * (n + 1)).reshape(n, n + 1)[:, :-1].ravel()
    return points, np.concatenate(
        [np.stack([k, k + n + 1, k + 1], 1), np.stack([k + 1, k + n + 1, k + n + 2], 1)]
    )


def test_a_large_backdrop_of_a_file_is_read_while_the_window_goes_on(
    qtbot, window, page, tmp_path, monkeypatch
):
    scan, file = tmp_path / "scan.stl", tmp_path / "job.urial"
    scan.write_bytes(foreign.stl(*rough(60)))
    take(qtbot, page, scan)
    window.store.save(file)
    window.new_job("rail-cradle")  # which shows no backdrop
    backdrop._READ.clear()
    threads, real = [], backdrop._body
    monkeypatch.setattr(
        backdrop, "_body", lambda data: (threads.append(threading.current_thread().name), real(data))[1]
    )
    window.store.open(file)
    window.go("Measure")
    assert not window.scene.behind.there(window.store) and not window.scene.behind.boxes(window.store)
    qtbot.waitUntil(lambda: bool(window.scene.behind.there(window.store)), timeout=20_000)
    assert len(threads) == 1 and threads[0].startswith("urial")  # once, and not in the window's thread
    (box,) = window.scene.behind.boxes(window.store)
    inside = window.scene.camera.project(box)
    assert inside.min() > 0 and (inside < window.scene.camera.size).all()  # the drawing makes room for it


def test_a_damaged_backdrop_is_said_and_leaves_the_others(qtbot, window, page, plate, tmp_path):
    scan = tmp_path / "scan.stl"
    scan.write_bytes(foreign.stl(*rough(60)))
    take(qtbot, page, scan)
    take(qtbot, page, plate)
    first, second = backdrops(window)
    data = bytearray(window.store.document.attachments[first.file])
    data[84 + 12 : 84 + 16] = b"\x00\x00\xc0\x7f"  # not a number
    backdrop._READ.clear()
    window.store.document.attach(first.file, bytes(data))
    window.store.changed.emit()
    qtbot.wait(300)
    assert [b.file for _, b, _ in window.scene.behind.there(window.store)] == [second.file]
    page.pick.setCurrentIndex(0)
    assert "damaged" in page.advice.text()
