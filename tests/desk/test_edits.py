"""Edits land where they were meant: load factors, hosts, names of files, packets, and nothing of one job
in the next.
"""

from __future__ import annotations

from pathlib import Path
from threading import Event

import pytest
from PySide6.QtWidgets import QFileDialog, QMessageBox

from tests.desk.hands import click, field
from tests.desk.test_load import type_into
from urial.desk.start import demo_jobs
from urial.job import origin
from urial.job.file import load, named


@pytest.fixture
def cases(qtbot, window):
    window.go("Load")
    click(qtbot, window, "page:Cases")
    return window.stations["Load"].pages["Cases"]


# ---- load cases


def test_a_typed_factor_stays_in_its_case_though_another_becomes_the_weakest(qtbot, window, cases):
    store = window.store
    ids = [c.id for c in store.verdict.cases]
    store.select_case(None)
    several = ("bump", "bump, pulling", "brake, pitching")  # cases of more than one factor
    store.select_check(next(c.id for c in store.verdict.checks if c.case in several))
    shown = store.shown_case()
    row = ids.index(shown)
    name = next(n for n in cases.editors if n in ("static", "bounce", "along"))
    type_into(qtbot, cases.editors[name], "0")  # now another case governs
    assert store.shown_case() == shown and cases.cases.currentRow() == row
    assert list(store.job.duty.factors) == [f"{shown}/{name}"]
    second = next(n for n in cases.editors if n != name)
    own = float(cases.editors[second].text())
    type_into(qtbot, cases.editors[second], f"{own * 1.1:g}")
    assert {k.split("/")[0] for k in store.job.duty.factors} == {shown}


def test_a_box_opened_on_one_case_writes_nothing_into_another(qtbot, window, cases):
    name = next(iter(cases.editors))
    cases.editors[name].setText("0.123")
    other = next(c.id for c in window.store.verdict.cases if c.id != window.store.shown_case())
    old = cases.editors[name]
    window.store.select_case(other)  # while the text stands there
    old.editingFinished.emit()
    assert not window.store.job.duty.factors


def test_a_factor_that_cannot_be_is_refused_in_words_and_the_old_one_kept(qtbot, window, cases):
    window.store.select_case(next(c.id for c in window.store.verdict.cases if c.id.startswith("brake")))
    for name, text, says in (
        ("along", "-1", "other sign"),
        ("static", "-1", "between 0 and 5"),
        ("along", "30", "between -10 and 10"),
        ("along", "much", "“much”"),
    ):
        type_into(qtbot, cases.editors[name], text)
        assert says in cases.problem.text() and cases.problem.isVisible(), text
        assert not window.store.job.duty.factors, text


# ---- hosts


def test_another_kind_of_host_says_what_goes_before_it_does(qtbot, window):
    window.go("Measure")
    click(qtbot, window, "page:Host")
    page = window.stations["Measure"].pages["Host"]
    before = window.store.job
    click(qtbot, window, "kind:tractor")
    assert (
        window.store.job is before
        and "rear receiver, ball mount" in page.warned.text()
        and "measured figures" in page.warned.text()
    )
    click(qtbot, window, "keep host")
    assert window.store.job is before and not page.warned.isVisible()
    click(qtbot, window, "kind:tractor")
    click(qtbot, window, "change host")
    assert window.store.job.vehicle.kind == "tractor" and not window.store.job.stack
    assert not [p for p in window.store.job.origins if p.startswith("vehicle")] and origin.assumed(
        window.store.job
    )
    window.undo_action.trigger()
    assert window.store.job == before


# ---- files


@pytest.mark.parametrize(
    ("typed", "kept"),
    [
        ("truck rev.2", "truck rev.2.urial"),
        ("truck", "truck.urial"),
        ("truck.urial", "truck.urial"),
        ("Truck.URIAL", "Truck.URIAL"),
        ("a.b.c", "a.b.c.urial"),
    ],
)
def test_a_name_is_kept_as_it_was_typed(typed, kept):
    assert named(Path("/x") / typed, ".urial") == Path("/x") / kept


def test_save_as_asks_before_it_writes_over_what_nobody_was_asked_about(window, tmp_path, monkeypatch):
    there = tmp_path / "truck rev.2.urial"
    there.write_bytes(b"somebody else's")
    other = tmp_path / "truck rev.urial"
    other.write_bytes(b"a stranger's")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "truck rev.2"), ""))
    asked = []
    monkeypatch.setattr(
        QMessageBox, "exec", lambda box: asked.append(box.text()) or QMessageBox.StandardButton.Cancel
    )
    assert not window.save_as() and "truck rev.2.urial" in asked[0]
    assert there.read_bytes() == b"somebody else's" and other.read_bytes() == b"a stranger's"
    monkeypatch.setattr(QMessageBox, "exec", lambda box: QMessageBox.StandardButton.Save)
    assert window.save_as() and load(there).job == window.store.job and other.read_bytes() == b"a stranger's"


def test_a_packet_is_not_written_over_another_unasked(qtbot, window, tmp_path):
    window.go("Cut")
    cut = window.stations["Cut"].parts
    folder = tmp_path / "packet"
    cut.write_or_ask(folder)
    qtbot.waitUntil(lambda: "files written" in cut.said.text(), timeout=60_000)
    first = (folder / "packet.pdf").read_bytes()
    stale = folder / "plate-ZZ.dxf"
    stale.write_text("of an earlier revision")
    window.store.put("stack.1.drop_mm", 133.0)
    cut.said.setText("")
    cut.write_or_ask(folder)
    assert cut.asked.isVisible() and (folder / "packet.pdf").read_bytes() == first
    click(qtbot, window, "packet beside")
    qtbot.waitUntil(lambda: "files written" in cut.said.text(), timeout=60_000)
    assert (tmp_path / "packet-2" / "packet.pdf").exists() and (folder / "packet.pdf").read_bytes() == first
    cut.said.setText("")
    cut.write_or_ask(folder)
    click(qtbot, window, "packet over")
    qtbot.waitUntil(lambda: "files written" in cut.said.text(), timeout=60_000)
    assert (
        folder / "packet.pdf"
    ).read_bytes() != first and not stale.exists()  # no plate of an earlier revision stays
    assert not [p for p in folder.iterdir() if p.name.startswith(".packet")]


def test_a_disk_that_fills_leaves_the_earlier_packet_whole(window, tmp_path, monkeypatch):
    from urial.job.file import FileError
    from urial.papers import packet, packet_folder

    made = packet.Packet({"packet.pdf": b"new", "results.json": b"new"})
    old = packet_folder.write_packet(
        packet.Packet({"packet.pdf": b"old", "results.json": b"old", "plate-A.dxf": b"old"}), tmp_path
    )
    real = packet_folder.write_atomically

    def full(path, data, **_):
        if path.name == "results.json":
            raise FileError("the disk is full")
        real(path, data)

    monkeypatch.setattr(packet_folder, "write_atomically", full)
    with pytest.raises(FileError):
        packet_folder.write_packet(made, tmp_path)
    assert [p.read_bytes() for p in old] == [b"old"] * 3 and sorted(
        p.name for p in tmp_path.iterdir()
    ) == sorted(p.name for p in old)


# ---- one job after another


def test_nothing_of_a_job_stays_when_another_opens(qtbot, window):
    window.go("Load")
    click(qtbot, window, "page:Weigh")
    window.stations["Load"].pages["Weigh"].say("something of the old job")
    window.stations["Cut"].parts.said.setText("12 files written to somewhere")
    window.chain.followed = window.store.verdict.loaded[0]
    window.scene.settle()
    window.open_demo(next(p for p, _, _ in demo_jobs() if p.stem == "weir-anchor"))
    window.go("Load")
    assert window.stations["Load"].current == "Duties" and "Weigh" not in window.stations["Load"].pages
    assert window.stations["Cut"].parts.said.text() == "" and window.chain.followed == ""
    assert field(qtbot, window, "duties.0.pull_N").isVisible()
    window.open_demo(demo_jobs()[0][0])
    assert window.stations["Load"].pages["Duties"].trailer is not None


def test_text_that_stands_in_a_field_of_one_job_is_not_written_into_the_next(qtbot, window):
    window.go("Measure")
    click(qtbot, window, "page:Holes")
    line = field(qtbot, window, "vehicle.left.0.height_mm").line
    line.setFocus()
    line.selectAll()
    qtbot.keyClicks(line, "633 mm")
    window.open_demo(next(p for p, _, _ in demo_jobs() if p.stem == "first-idea"))
    assert (
        window.store.job.vehicle.left[0].height_mm != 633 and window.store.document.history.undo_name is None
    )


@pytest.mark.parametrize("answer", ["Wait until it is there", "Stop writing it", "Cancel"])
def test_who_leaves_while_a_packet_is_written_is_asked(qtbot, window, tmp_path, monkeypatch, answer):
    """Waited for it is there and said; stopped nothing is; and who stays, stays."""
    from urial.desk.stations.cut import parts_page as cut_

    begun, go_on = Event(), Event()
    real = cut_.packet

    def slow(verdict, paper, step, **more):
        begun.set()
        assert go_on.wait(60)
        return real(verdict, paper, step, **more)

    monkeypatch.setattr(cut_, "packet", slow)
    cut = window.stations["Cut"]
    window.go("Cut")
    cut.parts.write_to(tmp_path / "out")
    assert begun.wait(60) and cut.writing == tmp_path / "out"
    seen = {}

    def asked(box):
        seen["text"] = box.text()
        seen["button"] = next((b for b in box.buttons() if b.text().replace("&", "") == answer), None)
        go_on.set()
        return 0

    monkeypatch.setattr(QMessageBox, "exec", asked)
    monkeypatch.setattr(QMessageBox, "clickedButton", lambda box: seen["button"])
    window.store.document.saved_job = window.store.job
    window.show_start()
    assert "being written into out" in seen["text"]
    if answer == "Cancel":
        assert window.store.is_open
        qtbot.waitUntil(lambda: cut.writing is None)
        return
    assert window.start.isVisible() and cut.writing is None
    there = (tmp_path / "out" / "packet.pdf").exists()
    assert there == (answer == "Wait until it is there")
    assert ("files written to" if there else "nothing was written") in window.start.said.text()
