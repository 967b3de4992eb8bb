"""The seams in the window: settings, order, waits; chosen by keys; the bench shows the seam in hand."""

from PySide6.QtCore import Qt

from tests.desk.test_making import JOBS, laid_out, page
from urial.making.welding.seams import Seam


def opened(qtbot, window, name, tmp_path, monkeypatch):
    monkeypatch.setenv("URIAL_BOOK", f"sqlite:///{tmp_path / 'shop.db'}")
    window.open_demo(JOBS[name])
    window.go("Weld")
    welds = page(window, "Seams")
    qtbot.waitUntil(lambda: window.store.making.welding is not None, timeout=90_000)
    qtbot.waitUntil(lambda: welds.list.count() > 0 or "Nothing" in welds.sum.text(), timeout=10_000)
    return welds


def test_every_seam_is_there_with_its_setting_and_its_turns(qtbot, window, tmp_path, monkeypatch):
    welds = opened(qtbot, window, "rescue-receiver", tmp_path, monkeypatch)
    found = window.store.making.welding
    assert welds.list.count() == len(found.seams) and isinstance(found.seams[0], Seam)
    assert welds.runs.count() == len({x.turn for x in found.order.laid})
    assert "short runs" in welds.sum.text() and "In this order" in welds.pull.text()
    welds.list.setFocus()
    seen = set()
    for n, s in enumerate(found.seams):
        if n:
            qtbot.keyClick(welds.list, Qt.Key.Key_Down)
        assert f"Start at {s.arc.amps:.0f} A" in welds.words.text() and welds.picture.seam == s.number
        seen.add(welds.picture.view)
        assert not welds.picture.grab().isNull()
    assert len(seen) > 1  # each is seen from where it is seen longest
    # and a run of the order, where it lies
    order = found.order
    waits = [x for x in order.laid if x.wait > 60]
    welds.runs.setCurrentRow(waits[0].turn - 1)
    assert welds.picture.turn == waits[0].turn and welds.picture.seam == waits[0].seam
    assert f"Run {waits[0].turn}" in welds.words.text() and "min before it" in welds.words.text()
    assert welds.found.seams[welds.list.currentRow()].number == waits[0].seam
    assert not welds.picture.grab().isNull()
    # the bench opens at the work of the page it is opened from, and shows the seam in hand
    laid_out(qtbot, window)
    window.toggle_bench()
    bench = window.bench
    assert bench.row.step.kind == "run" and bench.pictures.currentWidget() is bench.weld
    seam = next(s for s in window.store.making.welding.seams if s.number == bench.weld.seam)
    assert seam.key in bench.row.step.joints


def test_what_is_bolted_has_nothing_to_weld(qtbot, window, tmp_path, monkeypatch):
    monkeypatch.setenv("URIAL_BOOK", f"sqlite:///{tmp_path / 'shop.db'}")
    window.new_job("ring-backing")
    window.go("Weld")
    welds = page(window, "Seams")
    qtbot.waitUntil(lambda: "Nothing of it is welded" in welds.sum.text(), timeout=60_000)
    assert welds.list.count() == 0


def test_another_size_asks_for_another_order(qtbot, window, tmp_path, monkeypatch):
    welds = opened(qtbot, window, "rescue-receiver", tmp_path, monkeypatch)
    first = window.store.making.welding
    piece = window.store.job.stack[0]
    window.store.write(f"stack.{piece.id}.receiver_length_mm", f"{piece.values.receiver_length_mm + 40:g}")
    qtbot.waitUntil(
        lambda: window.store.making.welding not in (None, first) and welds.list.count() > 0, timeout=90_000
    )


def test_other_units_are_shown_at_once_and_undone(qtbot, window, tmp_path, monkeypatch):
    welds = opened(qtbot, window, "rescue-receiver", tmp_path, monkeypatch)
    metric = welds.sum.text(), welds.list.item(0).text()
    assert "mm" in metric[1]
    window.store.write("units", "inch")
    qtbot.waitUntil(lambda: welds.list.count() > 0 and '"' in welds.list.item(0).text(), timeout=90_000)
    assert "mm" not in welds.list.item(0).text()
    window.undo_action.trigger()
    qtbot.waitUntil(lambda: welds.list.count() > 0 and "mm" in welds.list.item(0).text(), timeout=90_000)
    assert (welds.sum.text(), welds.list.item(0).text()) == metric
