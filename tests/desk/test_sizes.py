"""Size it and endurance, from the user's side."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QComboBox, QLabel, QLineEdit, QPushButton

from urial import families
from urial.desk.start import demo_jobs
from urial.job import edit
from urial.prove import sizing
from urial.prove.trade import weakest
from urial.prove.verdict import prove

KEEPS = ("stack.1.plate", "stack.1.gusset")


def press(qtbot, window, name):
    qtbot.mouseClick(window.findChild(QPushButton, name), Qt.MouseButton.LeftButton)


@pytest.fixture
def sizer(qtbot, window):
    window.go("Prove")
    press(qtbot, window, "size it")
    press(qtbot, window, "what may change")
    station = window.slates.currentWidget()
    for box in station.findChildren(QCheckBox):
        path = box.objectName().removeprefix("size:")
        if box.objectName().startswith("size:") and path not in KEEPS:
            box.click()
    return station.sizer


def wait(qtbot, window):
    qtbot.waitUntil(lambda: not window.store.sizes_looking, timeout=60_000)


def test_sizes_are_found_taken_and_taken_back_in_one_step(qtbot, window, sizer):
    before, now = window.store.job, prove(window.store.job)
    assert "2 of" in sizer.which.text()
    press(qtbot, window, "find sizes")
    wait(qtbot, window)
    found = window.store.sized.found
    assert found and all(set(s.changes) <= set(KEEPS) for s in found)
    cards = [sizer.answers.itemAt(n).widget() for n in range(sizer.answers.count())]
    texts = [label.text() for label in cards[0].findChildren(QLabel)]
    assert any("kg" in t and "stocks" in t for t in texts) and any("→" in t for t in texts)
    press(qtbot, window, "sizes:0")
    assert window.store.job.stack == found[0].job.stack and window.store.verdict.holds
    assert window.store.sized is None and sizer.answers.count() == 0  # of a job that is no more
    assert "sizes from stock" in window.undo_action.text()
    window.undo_action.trigger()
    assert window.store.job == before
    assert window.store.verdict.governing.utilisation == pytest.approx(now.governing.utilisation)


def test_a_search_is_stopped_and_an_edit_ends_it(qtbot, window, sizer):
    for box in sizer.findChildren(QCheckBox):
        if not box.isChecked():
            box.click()
    press(qtbot, window, "find sizes")
    assert window.store.sizes_looking and not sizer.go.isEnabled()
    press(qtbot, window, "stop sizing")
    assert not window.store.sizes_looking and sizer.go.isEnabled() and window.store.sized is None
    press(qtbot, window, "find sizes")
    window.store.put("stack.1.drop_mm", 125.0)
    assert not window.store.sizes_looking and window.store.sized is None


def test_a_target_that_is_none_is_said_and_nothing_begins(qtbot, window, sizer):
    for text in ("", "0", "140", "much", "nan"):
        sizer.said.setText("")
        sizer.target.setText(text)
        press(qtbot, window, "find sizes")
        assert sizer.said.text() and not window.store.sizes_looking, text


def test_a_price_needs_prices(qtbot, window, sizer):
    aim = window.findChild(QComboBox, "size for")
    aim.setCurrentIndex(aim.findData("price"))
    box = window.findChild(QLineEdit, "price:plate")
    assert box.isVisible()
    press(qtbot, window, "find sizes")
    assert sizer.said.text() and not window.store.sizes_looking
    for kind, text in (("bar", "2"), ("plate", "1.5"), ("hardware", "7")):
        window.findChild(QLineEdit, f"price:{kind}").setText(text)
    press(qtbot, window, "find sizes")
    wait(qtbot, window)
    assert window.store.sized.found[0].price > 0


def test_what_goes_to_and_fro_is_said_at_load_and_drawn_at_prove(qtbot, window):
    window.go("Load")
    load = window.paged("Load")
    load.show_page("Cases")
    said = window.findChild(QLabel, "again and again")
    assert said.isVisible() and "2 million times" in said.text() and "±" in said.text()
    assert "R55" in said.toolTip()
    window.go("Prove")
    governing = window.store.shown_check()
    assert governing.kind == "fatigue"
    swing = window.store.shown_swing()
    assert swing is not None and swing.id == governing.case
    still = next(c for c in window.store.verdict.checks if c.kind == "member")
    window.store.select_check(still.id)
    assert window.store.shown_swing() is None
    window.store.select_check(governing.id)
    assert window.store.shown_swing() is swing


def test_ground_toes_are_a_choice_under_how_it_is_judged(qtbot, window):
    window.go("Prove")
    toe = next(c for c in window.store.verdict.checks if ": toe on " in c.id)
    window.store.put("welding.toes", "ground")
    better = next(c for c in window.store.verdict.checks if c.id == toe.id)
    assert better.utilisation < toe.utilisation
    window.store.put("proof.endurance", "1.35")
    worse = next(c for c in window.store.verdict.checks if c.id == toe.id)
    assert worse.utilisation == pytest.approx(1.35 * better.utilisation)
    assert edit.shown(window.store.job, "proof.endurance") == "1.35, not seen"


def test_the_proof_test_is_said_on_a_click_and_follows_the_part(qtbot, window):
    window.go("Prove")
    said = window.findChild(QLabel, "proof test said")
    assert not said.isVisible()
    press(qtbot, window, "proof test")
    qtbot.waitUntil(lambda: "rearward" in said.text(), timeout=10_000)
    assert said.isVisible() and "may be left" in said.text()
    before = said.text()
    window.store.put("duty.trailer_mass_kg", 1500.0)
    window.store.put("duty.permissible_kg", None)
    qtbot.waitUntil(lambda: "rearward" in said.text() and said.text() != before, timeout=10_000)


def test_the_frame_is_recomputed_by_a_second_solver_beside_the_first(qtbot, window, monkeypatch):
    window.go("Prove")
    said = window.findChild(QLabel, "recompute said")
    press(qtbot, window, "recompute")
    qtbot.waitUntil(lambda: "finds the same" in said.text(), timeout=30_000)
    assert said.isVisible() and said.text().count(" here, ") == 4 and "° here" in said.text()
    monkeypatch.setattr("urial.prove.second.available", lambda: False)
    window.store.put("duty.trailer_mass_kg", 1500.0)
    qtbot.waitUntil(lambda: "extra “second”" in said.text(), timeout=10_000)


def test_every_way_of_judging_stands_beside_the_others(qtbot, window):
    window.go("Prove")
    press(qtbot, window, "side by side")
    said = window.findChild(QLabel, "side by side said")
    qtbot.waitUntil(lambda: "chosen" in said.text(), timeout=30_000)
    assert said.text().count("chosen") == 3 and "allowable (ASD), chosen" in said.text()
    window.store.put("proof.basis", "LRFD")
    qtbot.waitUntil(lambda: "factored (LRFD), chosen" in said.text(), timeout=30_000)


def test_a_link_is_chosen_to_give_way_first_and_it_is_said_where_it_does_not(qtbot, window):
    window.go("Prove")
    box = window.findChild(QComboBox, "gives first")
    last = window.store.verdict.links[-3]
    box.setCurrentIndex(box.findData(last.id))
    box.activated.emit(box.currentIndex())
    assert window.store.job.proof.gives_first == last.id
    assert any("give way first" in w for w in window.store.verdict.warnings)
    window.undo_action.trigger()
    assert window.store.job.proof.gives_first == "" and box.currentData() == ""


def test_two_changes_that_together_make_it_hold_are_offered_and_taken_in_one_step(qtbot, window):
    job = families.new_job("recovery-point")
    job = edit.put(job, "duties.0.stuck_kg", 2 * edit.get(job, "duties.0.stuck_kg"))
    window.store.put_job(job, "duties.0.stuck_kg")
    window.go("Prove")
    window.store.select_check(weakest(window.store.verdict).id)  # not what the vehicle's maker limits
    qtbot.waitUntil(lambda: bool(window.store.advice.pairs), timeout=30_000)
    assert not window.store.verdict.holds
    said = window.findChild(QPushButton, "two:0").text()
    assert ", and " in said and "used then" in said
    press(qtbot, window, "two:0")
    assert window.store.verdict.weak_link.utilisation < 1
    window.undo_action.trigger()
    assert window.store.job.stack == job.stack


def test_where_no_size_holds_what_the_trade_would_do_is_offered(qtbot, window, sizer):
    window.store.put("stack.2.ball_plate_edge", "square")
    for box in sizer.findChildren(QCheckBox):
        path = box.objectName().removeprefix("size:")
        if box.isChecked() != (path == "stack.2.weld_mm"):
            box.click()
    sizer.kept |= {"stack.2.ball_plate_edge", "welding.toes"}
    press(qtbot, window, "find sizes")
    wait(qtbot, window)
    found = window.store.sized
    assert not found.found and found.ways
    before = window.store.verdict.weak_link.utilisation
    press(qtbot, window, "way:0")
    check = window.store.verdict.weak_link
    assert check.utilisation <= before and window.store.job.stack == found.ways[0].job.stack


def test_the_droop_of_what_is_carried_is_shown_with_its_own_swing(qtbot, window):
    window.open_demo(next(p for p, _, _ in demo_jobs() if p.stem == "generator-carrier"))
    window.go("Prove")
    check = next(c for c in window.store.verdict.checks if c.kind == "stiffness")
    window.store.select_check(check.id)
    assert window.store.shown_swing().id == check.case
    assert "(under its own weight)" in window.slates.currentWidget().figures.text()


def test_a_least_size_is_lived_with_for_a_reason_and_taken_up_again(qtbot, window):
    """A 2 mm bead on 12.7 mm plate: short at any load, until somebody writes down why it may stay."""
    store = window.store
    store.put("stack.1.weld_plate_mm", 2.0)
    window.go("Prove")
    station = window.slates.currentWidget()
    least = next(c for c in store.verdict.checks if c.kind == "minimum")
    assert least.short and not store.verdict.holds
    store.select_check(least.id)
    qtbot.waitUntil(lambda: len(station.findChildren(QLineEdit, "waive why")) == 1)
    why, keep = station.findChild(QLineEdit, "waive why"), station.findChild(QPushButton, "waive keep")
    qtbot.waitUntil(lambda: why.isVisible() and keep.isVisible())
    qtbot.mouseClick(keep, Qt.MouseButton.LeftButton)  # without a reason nothing is lived with
    assert not store.job.waived
    why.setFocus()
    qtbot.keyClicks(why, "TIG by hand, coupon tested")
    qtbot.keyClick(why, Qt.Key.Key_Return)
    assert [w.reason for w in store.job.waived] == ["TIG by hand, coupon tested"]
    assert least.id not in {c.id for c in store.verdict.checks}
    back = station.findChild(QPushButton, f"unwaive:{least.id}")
    qtbot.waitUntil(back.isVisible)
    assert any("coupon tested" in x.text() for x in station.findChildren(QLabel) if x.isVisible())
    qtbot.mouseClick(back, Qt.MouseButton.LeftButton)
    assert not store.job.waived and least.id in {c.id for c in store.verdict.checks}
    window.undo_action.trigger()
    assert [w.finding for w in store.job.waived] == [least.id]


def test_where_nothing_holds_what_comes_nearest_is_shown_and_can_be_taken(qtbot, window, monkeypatch):
    """The first idea: no sizes hold, and one click takes those that come nearest; another takes them back."""
    monkeypatch.setattr(sizing, "ways", lambda *_: [])  # what the trade would do takes its time
    window.open_demo(next(p for p, _, _ in demo_jobs() if p.stem == "first-idea"))
    window.go("Prove")
    before, short = window.store.job, window.store.verdict.governing.utilisation
    press(qtbot, window, "size it")
    press(qtbot, window, "what may change")
    sizer = window.slates.currentWidget().sizer
    for box in window.slates.currentWidget().findChildren(QCheckBox):
        path = box.objectName().removeprefix("size:")
        if box.objectName().startswith("size:") and path not in ("stack.1.cross_tube", "stack.2.weld_mm"):
            box.click()
    press(qtbot, window, "find sizes")
    wait(qtbot, window)
    assert not window.store.sized.found and window.store.sized.nearest is not None
    assert "comes nearest" in sizer.answers.itemAt(0).widget().text()
    card = sizer.answers.itemAt(1).widget()
    assert any("% used" in t.text() for t in card.findChildren(QLabel))
    press(qtbot, window, "sizes:0")
    assert 1.0 < window.store.verdict.governing.utilisation < short
    window.undo_action.trigger()
    assert window.store.job == before


def test_what_else_is_looked_for_waits_while_sizes_are_and_goes_on_then(qtbot, window, monkeypatch):
    """One search at a time: what would mend the weak link is found after the sizes were, or were stopped."""
    monkeypatch.setattr(sizing, "ways", lambda *_: [])
    window.open_demo(next(p for p, _, _ in demo_jobs() if p.stem == "first-idea"))
    window.go("Prove")
    press(qtbot, window, "size it")
    press(qtbot, window, "find sizes")
    assert window.store.sizes_looking and not window.store.asking.busy("remedies")
    press(qtbot, window, "stop sizing")
    assert not window.store.sizes_looking
    qtbot.waitUntil(
        lambda: window.store.advice.remedies is not None and bool(window.store.advice.remedies.found)
    )
    press(qtbot, window, "find sizes")
    window.new_job("shackle-insert")  # what was looked for belongs to a job that is closed
    assert not window.store.sizes_looking and window.store.sized is None
