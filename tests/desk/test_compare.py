"""Two versions beside each other, from the user's side."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QLabel, QPushButton

from urial.assembly.bodies import corners, total_mass
from urial.desk.start import demo_jobs
from urial.job import edit
from urial.job.file import Document, load, save
from urial.prove.verdict import prove


def press(qtbot, window, name):
    qtbot.mouseClick(window.findChild(QPushButton, name), Qt.MouseButton.LeftButton)


def ghostly(window):
    """Pixels of the ghost's colour on the drawing."""
    window.scene.settle()
    window.scene.repaint()
    image = window.scene.grab().toImage()
    want = QColor(window.theme.palette.ochre)
    seen = 0
    for x in range(0, image.width(), 2):
        for y in range(0, image.height(), 2):
            c = image.pixelColor(x, y)
            seen += (
                abs(c.red() - want.red()) + abs(c.green() - want.green()) + abs(c.blue() - want.blue()) < 40
            )
    return seen


@pytest.fixture
def panel(window):
    window.go("Prove")
    window.scene.set_view("side")
    return window.slates.currentWidget().versions


def wait(qtbot, panel):
    qtbot.waitUntil(lambda: not panel.store.asking.busy("versions"), timeout=30_000)


def test_with_a_file_the_other_is_listed_and_drawn_and_put_away(qtbot, window, panel, tmp_path, monkeypatch):
    other = edit.put(window.store.job, "stack.1.drop_mm", 160.0)
    path = tmp_path / "heavier.urial"
    save(path, Document(other))
    monkeypatch.setattr("PySide6.QtWidgets.QFileDialog.getOpenFileName", lambda *a, **k: (str(path), ""))
    before = ghostly(window)
    press(qtbot, window, "compare file")
    wait(qtbot, panel)
    said = window.findChild(QLabel, "compared").text()
    assert said.startswith("In heavier:") and f"{total_mass(prove(other).assembly):.1f}" in said.replace(
        "\u202f", ""
    )
    assert "drop: 120 mm here, 160 mm in heavier" in panel.differs.text()
    links = {name: (a, b) for name, a, b in panel.found.links}
    mine, theirs = window.store.verdict, prove(other)
    for v, k in ((mine, 0), (theirs, 1)):
        for s in v.chain:
            assert links[s.link.id.split("/")[-1]][k] == pytest.approx(s.utilisation)
    assert ghostly(window) > before + 20
    press(qtbot, window, "compare away")
    assert window.store.ghost is None and not panel.said.isVisible()
    assert ghostly(window) == pytest.approx(before, abs=10)


def test_with_what_was_saved_it_follows_every_edit(qtbot, window, panel):
    assert not panel.saved.isEnabled()
    window.store.put("stack.1.drop_mm", 140.0)
    assert panel.saved.isEnabled()
    press(qtbot, window, "compare saved")
    wait(qtbot, panel)
    assert "drop: 140 mm here, 120 mm as saved" in panel.differs.text()
    window.store.put("stack.1.drop_mm", 150.0)
    wait(qtbot, panel)
    assert "drop: 150 mm here" in panel.differs.text()
    low, here = (
        corners(a.by_key["1/receiver"])[0] for a in (panel.found.shape, window.store.verdict.assembly)
    )
    assert low[2] - here[2] == pytest.approx(30.0)
    window.store.document.saved_job = window.store.job
    window.open_demo(next(p for p, _, _ in demo_jobs() if p.stem == "generator-carrier"))
    assert window.store.ghost is None and panel.other is None


def test_a_file_that_does_not_open_or_has_no_part_is_said(qtbot, window, panel, tmp_path):
    bad = tmp_path / "bad.urial"
    bad.write_bytes(b"no job")
    panel.with_file(bad)
    assert panel.said.isVisible() and "bad" in panel.said.text() and window.store.ghost is None
    survey = next(p for p, _, _ in demo_jobs() if p.stem == "ramp-van")
    panel.with_file(survey)
    wait(qtbot, panel)
    assert "cannot be built" in panel.said.text() and window.store.ghost is None
    assert load(survey).job.stack == ()
