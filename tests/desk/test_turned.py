"""The turned view: solids by the renderer, dragged by the hand."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QApplication

from urial import families
from urial.assembly import bodies
from urial.desk.scene import easel, view
from urial.desk.scene.camera import Camera
from urial.desk.scene.render import Renderer
from urial.desk.scene.view import COARSE, SHARP
from urial.desk.start import demo_jobs
from urial.job.file import load

JOBS = {path.stem: path for path, *_ in demo_jobs()}


def opaque(image) -> np.ndarray:
    pixels = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), image.width(), 4)
    return pixels.astype(int)


@pytest.mark.parametrize("stem", ["rescue-receiver", "medic-bike-hitch", "weir-anchor"])
def test_no_face_is_inside_out(stem):
    """Faces that look away are left out when drawn: mirrored parts too must be seen from outside."""
    mesh = bodies.mesh(families.build(load(JOBS[stem]).job))
    renderer = Renderer()
    renderer.set_mesh(mesh)
    renderer.set_colours(np.full((len(mesh.points), 3), 180, np.uint8))
    camera = Camera("turned", size=(500, 400))
    camera.fit(mesh.points, (10, 10, 10, 10))
    for camera.azimuth in (35.0, 150.0, 260.0):
        culled = opaque(renderer.image(camera, 1.0, False))
        renderer.solid.GetProperty().BackfaceCullingOff()
        every = opaque(renderer.image(camera, 1.0, False))
        renderer.solid.GetProperty().BackfaceCullingOn()
        covered = (every[:, :, 3] > 0).sum()
        assert covered > 5000 and (np.abs(culled - every).max(axis=2) > 8).sum() < 0.001 * covered


@pytest.fixture
def turned(window):
    window.scene.attach(Renderer())
    window.go("Measure")
    window.scene.set_view("turned")
    window.scene.settle()
    return window.scene


def moved(scene, at: QPoint) -> None:
    spot = QPointF(at)
    QApplication.sendEvent(
        scene,
        QMouseEvent(
            QEvent.Type.MouseMove,
            spot,
            scene.mapToGlobal(spot),
            Qt.MouseButton.NoButton,
            Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
        ),
    )
    scene.repaint()


def test_the_view_follows_the_hand_and_is_sharp_when_it_rests(qtbot, turned):
    turned.settle()
    before, azimuth = opaque(turned.image), turned.camera.azimuth
    qtbot.mousePress(turned, Qt.MouseButton.LeftButton, pos=QPoint(200, 200))
    moved(turned, QPoint(240, 210))
    assert turned.camera.azimuth == azimuth + 16
    assert turned.image.width() < SHARP * turned.width() - 2
    qtbot.mouseRelease(turned, Qt.MouseButton.LeftButton, pos=QPoint(240, 210))
    with qtbot.waitSignal(turned.drawn, timeout=5000):
        pass
    after = opaque(turned.image)
    assert after.shape == before.shape and (after != before).any()


@pytest.mark.parametrize(("lags", "grain"), [(False, 1.0), (True, COARSE)])
def test_a_machine_that_would_lag_draws_coarser_until_it_rests(qtbot, turned, monkeypatch, lags, grain):
    monkeypatch.setattr(view, "LAG", 0.0 if lags else 60.0)
    turned._lags = False
    turned._invalidate("image")
    turned.repaint()  # the first one tells
    qtbot.mousePress(turned, Qt.MouseButton.LeftButton, pos=QPoint(200, 200))
    moved(turned, QPoint(240, 210))
    assert abs(turned.image.width() - grain * turned.width()) <= 1
    qtbot.mouseRelease(turned, Qt.MouseButton.LeftButton, pos=QPoint(240, 210))
    turned.settle()
    assert abs(turned.image.width() - SHARP * turned.width()) <= 1


def test_words_stand_clear_of_figures_and_of_each_other(window, monkeypatch):
    """In every view of the survey, with names, keep-outs, fixes and dimensions on one drawing."""
    written = []
    monkeypatch.setattr(easel, "lettered", lambda p, theme, box, text, colour: written.append(box))
    for stem in ("rescue-receiver", "boat-cradles"):
        window.store.document.saved_job = window.store.job
        window.open_demo(JOBS[stem])
        window.go("Measure")
        for way in ("side", "rear", "top"):
            window.scene.set_view(way)
            written.clear()
            window.scene.repaint()
            figures = [box for box, _ in window.scene._labels]
            assert written
            for n, box in enumerate(written):
                assert not any(box.intersects(other) for other in (*written[:n], *figures))
