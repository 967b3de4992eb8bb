"""The proof test in the real window: read by hand and by both instruments, judged as it goes, signed."""

import pytest
from PySide6.QtWidgets import QLabel

from tests.desk.hands import click
from urial.job import edit
from urial.job.log import standing
from urial.prove.proof_record import Reading
from urial.prove.rating_plate import against
from urial.session.pulls import Pulls


@pytest.fixture
def page(qtbot, window):
    window.go("Finish")
    click(qtbot, window, "page:Proof")
    qtbot.waitUntil(lambda: bool(window.store.making.stood))
    return window.stations["Finish"].pages["Proof"]


def pull(page, *, left=0.0, held=65.0, times=1.0):
    """Readings as if an hour had gone by: three steps up, held, let off."""
    w = page.pulled.wanted = page.wanted
    rows = [(0, 0.0, 0.0), *((10 * n, w.kN * n / 3, times * w.mm * n / 3) for n in (1, 2, 3))]
    rows += [(30 + held, w.kN, times * w.mm), (50 + held, 0.0, left)]
    for at, kN, mm in rows:
        page.readings.append(Reading(at, kN, mm))
    page._shown()


def proofs(window):
    return [r for r in window.store.making.stood if r.step.kind == "proof"]


def test_by_hand_reading_by_reading_it_says_what_is_missing(qtbot, window, page):
    assert page.outcome.text() == "Nothing is read yet." and page.picture.wanted == page.wanted
    for load, gauge in (("0", "0"), ("1 kN", "0.02 mm"), ("400 lbf", "0.001 in")):
        page.pull.setText(load)
        page.moved.setText(gauge)
        click(qtbot, window, "take reading")
    kN, mm = zip(*((r.kN, r.mm) for r in page.readings), strict=True)
    assert kN == pytest.approx((0.0, 1.0, 1.779), abs=1e-3) and mm == pytest.approx((0, 0.02, 0.0254))
    assert "is asked for" in page.outcome.text() and not page.pull.text()
    page.pull.setText("a lot")
    click(qtbot, window, "take reading")
    assert page.problem.isVisible() and len(page.readings) == 3 and page.pull.text() == "a lot"
    click(qtbot, window, "begin anew")
    assert page.readings == [] and page.outcome.text() == "Nothing is read yet."


def test_a_passed_test_is_signed_by_name_and_ticks_its_step(qtbot, window, page):
    pull(page)
    assert page.outcome.text().startswith("Passed: ")
    click(qtbot, window, "sign proof")
    assert "Say who tested it" in page.problem.text() and proofs(window)[page.chosen].left
    page.by.setText("A. Fell")
    click(qtbot, window, "sign proof")
    assert "Signed by A. Fell: ticked." in page.done.text()
    row = page._step()
    assert row.state == "done" and not row.off
    (entry,) = [e for e in standing(window.store.document.log) if e.step == row.step.key]
    assert entry.figures["held"] == 65.0 and "A. Fell" in entry.note and "kN/mm: 0.00/0.00" in entry.note


def test_a_failed_one_is_kept_and_takes_the_tick_of_an_earlier_one_back(qtbot, window, page):
    pull(page)
    page.by.setText("A. Fell")
    click(qtbot, window, "sign proof")
    assert page._step().state == "done"
    click(qtbot, window, "begin anew")
    pull(page, left=page.wanted.limit + 0.5)
    assert "yielded or slipped" in page.outcome.text()
    click(qtbot, window, "sign proof")
    assert "stays unrated" in page.done.text() and page._step().state == "open"
    store = window.store
    assert any("no proof test is ticked" in w for w in against(store.verdict, store.making.stood))
    kept = [e for e in standing(store.document.log) if e.step == page._step().step.key]
    assert len(kept) == 1 and "yielded or slipped" in kept[0].note and kept[0].figures["left"] > 0.5


def test_what_is_not_at_its_end_is_not_signed(qtbot, window, page):
    pull(page, held=20.0)
    page.by.setText("A. Fell")
    click(qtbot, window, "sign proof")
    assert "It is not at its end: Held 20 of 60 s." in page.problem.text()
    assert all(r.left for r in proofs(window))


def test_simulated_instruments_show_how_it_goes_and_prove_nothing(qtbot, window, page):
    click(qtbot, window, "record")
    assert "Both instruments must be read" in page.problem.text() and not page.recording
    click(qtbot, window, "cell simulated")
    click(qtbot, window, "dial simulated")
    qtbot.waitUntil(lambda: page._live() is not None)
    click(qtbot, window, "record")
    qtbot.waitUntil(lambda: len(page.readings) >= 3)
    click(qtbot, window, "record")
    assert page.pulled.simulated and not page.recording
    assert all(b.at - a.at >= 0.5 for a, b in zip(page.readings, page.readings[1:], strict=False))
    page.cell.stop()
    page.gauge.stop()
    page.readings.clear()
    pull(page)
    assert page.pulled.simulated  # what a stand-in read stays so
    page.by.setText("A. Fell")
    click(qtbot, window, "sign proof")
    assert "simulated instrument proves nothing" in page.problem.text()
    pull(page, left=9.0)  # nor does a stand-in that fails take anything back
    click(qtbot, window, "sign proof")
    assert "proves nothing" in page.problem.text() and not window.store.document.log
    assert all(r.left for r in proofs(window))


def test_what_was_read_outlasts_another_size_of_the_window_and_another_test(qtbot, window, page):
    pull(page, held=20.0)
    read = list(page.readings)
    window.bench_size()
    window.go("Finish")
    window.stations["Finish"].show_page("Proof")
    anew = window.stations["Finish"].pages["Proof"]
    assert anew is not page and anew.readings == read and "Held 20 of 60 s." in anew.outcome.text()
    if len(anew.tests) > 1:
        anew._choose("1")
        assert anew.readings == []
        anew._choose("0")
    assert anew.readings == read
    before = window.store.job
    window.store.document.saved_job = before
    window.new_job("shackle-insert")
    window.go("Finish")
    window.stations["Finish"].show_page("Proof")
    assert window.stations["Finish"].pages["Proof"].readings == []  # another job is another test


def test_a_part_that_was_changed_meanwhile_is_tested_anew(qtbot, window, page):
    """The same load on another wall: what was read is not of this part."""
    pull(page)
    page.by.setText("A. Fell")
    window.store.put("stack.1.plate", "3/8")
    qtbot.waitUntil(lambda: bool(window.store.making.stood) and not window.store.reckoning)
    page.refresh()
    assert page.wanted != page.pulled.wanted
    click(qtbot, window, "sign proof")
    assert "begin it anew" in page.problem.text()
    assert all(r.left for r in proofs(window))


def test_a_test_that_was_begun_is_there_after_a_crash_until_it_is_signed(qtbot, window, page):
    for load, gauge in (("0", "0"), ("1 kN", "0.02 mm")):
        page.pull.setText(load)
        page.moved.setText(gauge)
        click(qtbot, window, "take reading")
    window.store.making.pulls = Pulls()  # as a window that is started anew has it
    page.refresh()
    assert [r.kN for r in page.readings] == [0.0, 1.0]
    assert "2 readings of before Urial ended are here still" in page.done.text()
    click(qtbot, window, "begin anew")
    window.store.making.pulls = Pulls()
    page.refresh()
    assert page.readings == [] and not page.done.text()


def test_a_thinner_part_is_not_proven_by_what_the_thicker_one_held(qtbot, window, page):
    """The same load, another wall: what was pulled was used less than what is judged now."""
    pull(page)
    page.by.setText("A. Fell")
    click(qtbot, window, "sign proof")
    store, before = window.store, page._step()
    assert before.state == "done"
    store.write("stack.1.drop_mm", str(float(edit.get(store.job, "stack.1.drop_mm")) + 60))
    qtbot.waitUntil(lambda: store.making.work is not None and store.making.work.verdict.job is store.job)
    now = page._step()
    more = {k: x - before.step.figures[k] for k, x in now.step.figures.items() if k in before.step.figures}
    assert max(more.values()) > 2 and now.state == "stale"
    assert {o.what for o in now.off} == {k for k, x in more.items() if abs(x) > 2}
    assert "use of " in now.off[0].words and "%" in now.off[0].words
    qtbot.waitUntil(lambda: page.off.isVisible())
    said = " ".join(x.text() for x in page.off.findChildren(QLabel))
    assert "when it was tried, and is" in said and "proves nothing of this one" in said
    assert not store.making.keep(now) and "pull it again" in store.making.said
    assert any("Not proven as it is now" in w for w in against(store.verdict, store.making.stood))
    window.undo_action.trigger()
    qtbot.waitUntil(lambda: store.making.work is not None and page._step().state == "done")
