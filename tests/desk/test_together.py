"""Together, by clicks: what is in the way and where, the move that clears it, living with it, the order
played.
"""

from threading import Event

import numpy as np
import pytest
from PySide6.QtCore import QCoreApplication, QPoint, Qt
from PySide6.QtWidgets import QCheckBox, QComboBox, QLabel, QLineEdit, QPushButton

from tests.desk.hands import click, shown
from urial.desk.scene.findings import spots
from urial.desk.start import demo_jobs
from urial.desk.store import Store
from urial.desk.widgets.fields import Field
from urial.fit import Fit
from urial.job import edit
from urial.job.file import load
from urial.job.survey import Block
from urial.session import asked

RESCUE = {p.stem: p for p, _, _ in demo_jobs()}["rescue-receiver"]


def known(qtbot, window):
    qtbot.waitUntil(lambda: window.store.fit is not None and not window.store.reckoning, timeout=20_000)
    return window.store.fit


@pytest.fixture
def together(qtbot, window):
    window.open_demo(RESCUE)
    window.scene.set_view("turned")
    window.go("Together")
    known(qtbot, window)
    return window.stations["Together"]


def something_in_the_way(window):
    low = next(p for p in window.store.verdict.assembly.parts if p.name == "chain plate")
    from urial.assembly.bodies import corners

    (x, _, z), _ = corners(low)
    keep = Block(
        name="pipe",
        behind_mm=-x - 60.0,
        across_mm=0.0,
        height_mm=z - 53.0,
        long_mm=120.0,
        wide_mm=200.0,
        high_mm=50.0,
        margin_mm=6.0,
    )
    job = edit.put(window.store.job, "survey.keep_outs", (*window.store.job.survey.keep_outs, keep))
    window.store.put_job(job, "survey.keep_outs", "a pipe")


def test_a_part_that_goes_together_says_so_with_its_order_and_what_it_takes(window, together):
    assert together.verdict_line.text() == "It goes together." and window.tabs["Together"].words == "fits"
    assert "1  Rear receiver" in together.order.text() and "2  Ball mount" in together.order.text()
    assert "6 bolts" in together.pieces.text() and "kg" in together.pieces.text()
    assert "weld receiver to cross tube" in together.facts.text()


def test_what_is_in_the_way_is_found_again_after_an_edit_marked_moved_and_undone(qtbot, window, together):
    before = window.store.job
    something_in_the_way(window)
    assert window.store.fit is None  # what was found is of another shape
    found = known(qtbot, window)
    row = next(f for f in found.findings if "pipe" in f.parts)
    assert "in the way" in together.verdict_line.text() and window.tabs["Together"].words.endswith(
        "in the way"
    )
    # its mark on the drawing is clicked, and its card lights up
    window.scene.settle()
    at = spots(window.scene.camera, found.findings)[found.findings.index(row)]
    qtbot.mouseClick(window.scene, Qt.MouseButton.LeftButton, pos=QPoint(round(at.x()), round(at.y())))
    assert window.store.chosen.finding == row.id
    assert shown(qtbot, together, f"finding:{row.id}").isChecked()
    assert row.move is not None and "instead of" in row.move.words
    click(qtbot, together, f"move:{row.id}")
    after = known(qtbot, window)
    assert row.id not in {f.id for f in after.findings}
    assert window.undo_action.text().endswith("so that it clears")
    window.undo_action.trigger()
    window.undo_action.trigger()
    assert window.store.job == before


def test_living_with_it_asks_why_is_kept_in_the_file_and_can_be_taken_back(qtbot, window, together, tmp_path):
    window.store.put_job(edit.put(window.store.job, "vehicle.left.0.reach", "outside"), "vehicle", "one side")
    (row,) = known(qtbot, window).findings
    click(qtbot, together, f"waive:{row.id}")
    why = together.findChild(QLineEdit, "waive why")
    click(qtbot, together, "waive keep")  # without a reason it stays as it was
    assert window.store.job.waived == ()
    click(qtbot, together, f"waive:{row.id}")
    why = together.findChild(QLineEdit, "waive why")
    qtbot.keyClicks(why, "a nut on a strip is in there")
    qtbot.keyClick(why, Qt.Key.Key_Return)
    assert known(qtbot, window).clear and "waived" in together.verdict_line.text()
    window.store.save(tmp_path / "a.urial")
    assert load(tmp_path / "a.urial").job.waived[0].reason == "a nut on a strip is in there"
    click(qtbot, together, f"unwaive:{row.id}")
    assert not known(qtbot, window).clear and window.store.job.waived == ()


def test_it_is_taken_apart_by_the_slider_and_together_again_when_left(window, together):
    window.scene.settle()
    steps = window.store.fit.steps
    assert together.slider.maximum() == 100 * len(steps)
    together.slider.setValue(100)  # the ball mount is off, the receiver still on
    from urial.fit.steps import taken_off

    moved = taken_off(window.store.verdict.assembly, steps, window.scene.off)
    assert np.linalg.norm(moved["2/bar"]) > 100 and np.linalg.norm(moved["1/cross tube"]) == 0
    assert moved["2/bar"][0] < 0  # rearward, out of the receiver
    window.go("Prove")
    assert window.scene.off == 0.0


def test_the_order_is_played_and_stands_still_when_asked(qtbot, window, together):
    click(qtbot, together, "play the order")
    high = together.slider.value()
    qtbot.waitUntil(lambda: together.slider.value() < high, timeout=4000)
    click(qtbot, together, "play the order")
    assert not together.timer.isActive()


def test_looking_can_be_stopped_and_begun_again(qtbot, window, together):
    window.store.look_at_fit()
    assert together.looking.isVisible() and "Looking at" in together.progress.text()
    qtbot.mouseClick(
        together.findChild(QPushButton, "stop looking"), Qt.MouseButton.LeftButton
    )  # at once: else it is known already
    assert not together.looking.isVisible() and together.again.isVisible()
    click(qtbot, together, "look again")
    assert known(qtbot, window).clear


def test_nothing_of_one_job_is_said_of_the_next(qtbot, window, together):
    window.store.choose_finding("something")
    window.open_demo({p.stem: p for p, _, _ in demo_jobs()}["river-post-mount"])
    assert window.store.chosen.finding == ""
    found = known(qtbot, window)
    assert isinstance(found, Fit) and "Ball mount" not in together.order.text()


def test_when_hands_rest_the_tab_knows_without_a_click(qtbot, window):
    window.open_demo(RESCUE)
    assert window.station != "Together" and window.store.fit is None
    window.store._idle.start(30)
    known(qtbot, window)
    qtbot.waitUntil(lambda: window.tabs["Together"].words == "fits", timeout=4000)


def test_a_clearance_is_pinned_watched_and_taken_away(qtbot, window):
    window.go("Together")
    click(qtbot, window, "pin clearance")
    a, b = (window.findChild(QComboBox, f"clearance {k}") for k in "ab")
    a.setCurrentIndex(a.findData("2/drop plate"))
    b.setCurrentIndex(b.findData("2/drop plate"))
    wanted = window.findChild(QLineEdit, "clearance wanted")
    click(qtbot, window, "clearance add")
    said = window.findChild(QLabel, "clearance said")
    assert "the same" in said.text() and said.isVisible() and not window.store.job.clearances
    b.setCurrentIndex(b.findData("1/side plate.left"))
    wanted.setText("a lot")
    click(qtbot, window, "clearance add")
    assert said.isVisible() and not window.store.job.clearances
    wanted.setText("900 mm")
    before = window.scene.grab().toImage()
    click(qtbot, window, "clearance add")
    assert window.store.job.clearances[0].wanted_mm == 900 and not said.isVisible()
    row = window.findChild(QLabel, "clearance:0")
    assert "900 mm wanted" in row.text()
    assert window.scene.grab().toImage() != before  # it stands on the drawing
    click(qtbot, window, "clearance add")
    assert "pinned already" in said.text()
    click(qtbot, window, "clearance away:0")
    assert not window.store.job.clearances
    window.undo_action.trigger()
    assert len(window.store.job.clearances) == 1


def test_what_is_done_with_a_thing_in_the_way_opens_its_own_fields(qtbot, window):
    keeps = window.store.job.survey.keep_outs
    block = Block(name="skin", behind_mm=1300, wide_mm=1500, height_mm=430, high_mm=180)
    window.store.put("survey.keep_outs", (*keeps, block))
    n = len(keeps)
    window.go("Measure")
    station = window.slates.currentWidget()
    station.show_page("In the way")
    click(qtbot, station, f"chosen:{n}")
    assert window.store.chosen.keep_out == n

    def fields():
        QCoreApplication.processEvents()
        page = station.findChildren(Field)
        return {f.path.rsplit(".", 1)[-1] for f in page if f.isVisibleTo(station)}

    assert "fate" in fields() and not {"off_kg", "cut_wide_mm"} & fields()
    window.store.put(f"survey.keep_outs.{n}.fate", "gone")
    assert {"off_kg", "good_for", "instead"} <= fields() and "cut_wide_mm" not in fields()
    window.store.put(f"survey.keep_outs.{n}.fate", "cut")
    assert {"off_kg", "cut_from", "cut_wide_mm", "cut_deep_mm", "cut_pair"} <= fields()


def test_coming_off_without_tools_is_asked_with_a_tick(qtbot, window, together):
    box = next(b for b in together.findChildren(QCheckBox, "tool free:1") if b.isVisibleTo(together))
    box.click()
    assert window.store.job.tool_free == ("1",)
    found = known(qtbot, window)
    assert any(f.id == "tools 1" for f in found.open)
    window.undo_action.trigger()
    assert window.store.job.tool_free == ()


def test_what_is_still_being_worked_out_is_not_looked_at(qtbot, window, together, monkeypatch):
    """A size that makes no part: until that is known the last shape stands, and is of another job."""
    gate, derived = Event(), asked.derived
    monkeypatch.setattr(asked, "derived", lambda *given: (gate.wait(60), derived(*given))[1])
    monkeypatch.setattr(Store, "patience", 0.0)
    window.store.put("stack.1.mouth_to_tube_mm", 800.0)
    window.store.look_at_fit()
    assert window.store.reckoning and not window.store.asking.busy("fit")
    gate.set()
    qtbot.waitUntil(lambda: bool(window.store.refusal))
    window.store.undo()
    assert known(qtbot, window).clear  # and asked again by itself
