"""The drawings of pieces in the window: chosen by keys, in the job's units, and at the drill from afar."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QListWidget

from tests.desk.test_making import JOBS, laid_out, page
from urial.making.drawings import Drawing
from urial.making.setout import SetOut
from urial.papers.picture import picture


def said(box):
    return [t for w in box.findChildren(QLabel) if w.isVisible() for t in w.text().split("\n") if t]


def opened(qtbot, window, name, tmp_path, monkeypatch):
    monkeypatch.setenv("URIAL_BOOK", f"sqlite:///{tmp_path / 'shop.db'}")
    window.open_demo(JOBS[name])
    window.go("Cut")
    return page(window, "Pieces")


def test_every_piece_is_there_and_the_arrow_keys_walk_through_them(qtbot, window, tmp_path, monkeypatch):
    pieces = opened(qtbot, window, "boat-cradles", tmp_path, monkeypatch)
    names = [pieces.list.item(n).text() for n in range(pieces.list.count())]
    assert names[0].startswith("A ") and any(n.startswith("Set-out of the") for n in names)
    box = window.findChild(QListWidget, "pieces")
    box.setFocus()
    box.setCurrentRow(0)
    first = pieces.picture.shown
    assert isinstance(first, Drawing) and "long point" in pieces.datum.text()
    ends = "saw at 32.5° from square (57.5° between face and bar), long point on face C"
    qtbot.waitUntil(lambda: any(ends in t for t in said(pieces)))
    for _ in range(len(names) - 1):
        qtbot.keyClick(box, Qt.Key.Key_Down)
        qtbot.wait(5)
        assert pieces.picture.shown is not first
        assert not pieces.picture.grab().isNull()
    assert isinstance(pieces.picture.shown, SetOut)
    assert any(t.startswith("Diagonal") for t in said(pieces))


def test_a_hole_is_told_from_one_end_and_one_edge_in_the_jobs_units(qtbot, window, tmp_path, monkeypatch):
    pieces = opened(qtbot, window, "rescue-receiver", tmp_path, monkeypatch)
    pieces.choose("C")
    qtbot.waitUntil(lambda: any(t.startswith("H1") for t in said(pieces)))
    lines = [t for t in said(pieces) if t.startswith("H1")]
    assert "face B, 63.5 mm along, 31.8 mm up, ⌀ 17 mm" in lines[0]
    assert "through both walls, B and D, centred" in lines[0]
    shown = [w.text for w in picture(pieces.picture.shown, (400, 300), pieces.picture.length, False).words]
    assert "63.5" in shown and "31.8" in shown
    window.store.write("units", "inch")
    qtbot.waitUntil(lambda: any('2 1/2" along, 1 1/4" up' in t for t in said(pieces)), timeout=20_000)
    shown = [w.text for w in picture(pieces.picture.shown, (400, 300), pieces.picture.length, False).words]
    assert '2 1/2"' in shown


def test_another_size_draws_another_piece_and_keeps_the_one_that_was_chosen(
    qtbot, window, tmp_path, monkeypatch
):
    pieces = opened(qtbot, window, "rescue-receiver", tmp_path, monkeypatch)
    pieces.choose("C")
    long = pieces.picture.shown.long
    job = window.store.job
    piece = job.stack[0]
    window.store.write(f"stack.{piece.id}.receiver_length_mm", f"{piece.values.receiver_length_mm + 40:g}")
    qtbot.waitUntil(
        lambda: pieces.picture.shown is not None and pieces.picture.shown.long != long, timeout=20_000
    )
    assert pieces.picture.shown.mark == "C" and pieces.picture.shown.long == long + 40.0


def test_at_the_drill_the_bench_shows_the_holes_of_the_piece_in_hand(qtbot, window, tmp_path, monkeypatch):
    opened(qtbot, window, "rescue-receiver", tmp_path, monkeypatch)
    laid_out(qtbot, window)
    window.toggle_bench()
    bench = window.bench
    steps = bench.steps
    n = next(k for k, r in enumerate(steps) if r.step.kind == "drill")
    for _ in range(n):
        qtbot.keyClick(bench, Qt.Key.Key_Right)
    assert bench.row.step.kind == "drill"
    shown = bench.piece.shown
    assert bench.pictures.currentWidget() is bench.piece and shown.mark in bench.row.step.marks
    assert shown.features and all(f.which.startswith("H") for f in shown.features)
    assert not bench.piece.grab().isNull()


def test_a_longer_text_makes_the_slate_longer(qtbot, window, tmp_path, monkeypatch):
    """The set-out of a trailer has thirty lines; they were cut off at the height of what was shown before."""
    pieces = opened(qtbot, window, "milk-trailer", tmp_path, monkeypatch)
    qtbot.wait(50)
    pieces.list.setCurrentRow(pieces.list.count() - 1)
    lines, body = pieces.lines, window.stations["Cut"].body
    qtbot.waitUntil(lambda: lines.height() >= lines.heightForWidth(lines.width()) > 400)
    assert body.height() > window.stations["Cut"].viewport().height()
