"""Pages that had no picture have one, and what it shows follows the job."""

from __future__ import annotations

import numpy as np
import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QApplication

from urial.desk.scene.weigh_view import WeighView
from urial.desk.start import demo_jobs
from urial.job.duty import Weighing
from urial.measure import drawing
from urial.road.stance import stance


def pixels(widget) -> np.ndarray:
    image = widget.grab().toImage()
    return np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), image.width(), -1).copy()


def page(qtbot, window, name):
    window.go("Load")
    window.stations["Load"].show_page(name)
    window.stage.currentWidget().repaint()
    return window.stations["Load"].pages[name]


def test_every_case_is_a_small_picture_and_a_click_chooses_it(qtbot, window):
    cases = page(qtbot, window, "Cases")
    view = cases.canvas
    assert window.stage.currentWidget() is view and len(view.cells()) == len(window.store.verdict.cases)
    cells = view.cells()
    assert all(not a.intersects(b) for n, a in enumerate(cells) for b in cells[:n]) and all(
        view.rect().contains(c.toAlignedRect()) for c in cells
    )
    qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=cells[5].center().toPoint())
    assert window.store.shown_case() == window.store.verdict.cases[5].id and cases.cases.currentRow() == 5


@pytest.mark.parametrize("method", ["jack", "beam", "bridge"])
def test_a_weighing_shows_what_stands_where_and_what_is_missing(qtbot, window, method):
    weigh = page(qtbot, window, "Weigh")
    window.store.put("weighings.0.method", method)
    view = weigh.canvas
    assert view.weighing.method == method
    before = pixels(view)
    name = {"jack": "axle_mm", "beam": "scale_mm", "bridge": "trailer_axles_kg"}[method]
    assert view._said("alone_front_kg") == "?"
    window.store.put(f"weighings.0.{name}", 1234.0)
    view.repaint()
    assert (pixels(view) != before).any() and "1234" in view._said(name)


def test_a_scale_nearer_the_support_is_drawn_nearer(window):
    near, far = WeighView(window.theme), WeighView(window.theme)
    for view, mm in ((near, 400.0), (far, 900.0)):
        view.resize(800, 500)
        view.show_weighing(Weighing(method="beam", coupler_mm=300.0, scale_mm=mm), "")
        view.grab()
    assert (near.at(400.0, 0) - near.at(0, 0)).x() / near.scale == pytest.approx(400.0)
    assert near.scale > far.scale  # the shorter beam fills the same room


def test_the_vehicle_sinks_on_the_stance_page_by_what_it_carries(qtbot, window):
    view = page(qtbot, window, "Stance").canvas
    ball = np.array([window.store.verdict.assembly.places["ball"]])
    s = stance(window.store.job, window.store.verdict.assembly, [])
    assert -view._sunk(ball)[0, 1] == pytest.approx(ball[0, 2] - s.squat_mm, abs=0.5)
    front = np.array([[window.store.job.vehicle.wheelbase_mm, 0.0, 0.0]])
    assert view._sunk(front)[0, 1] == pytest.approx(0.0)  # it turns about the front axle
    before = pixels(view)
    window.store.put("duty.tongue_mass_kg", 260.0)
    view.repaint()
    assert (pixels(view) != before).any()


def test_a_host_is_a_soft_filled_silhouette_under_the_part(window):
    window.go("Measure")
    window.scene.settle()
    window.scene.repaint()
    host = window.store.job.vehicle
    patches = drawing.silhouette(host)
    assert {q.group for q in patches} == {"body", "glass", "rails", "bumper", "tyres", "rims"}
    x, y = window.scene.camera.project(np.array([[0.0, 0.0, 0.85 * host.tyre_mm]]))[0]  # in the rear tyre
    image = window.scene.grab().toImage()
    tyre = image.pixelColor(QPoint(round(x), round(y)))
    card = max(image.pixelColor(across, 140).lightness() for across in range(20, image.width() - 20, 20))
    assert tyre.lightness() < card - 5


def test_keep_outs_are_faint_until_something_touches_them(window):
    window.go("Measure")
    assert not window.scene.touched
    keeps = window.store.job.survey.keep_outs
    n = next(k for k, keep in enumerate(keeps) if keep.name == "exhaust")
    window.store.put(f"survey.keep_outs.{n}.height_mm", 470.0)
    window.store.put(f"survey.keep_outs.{n}.across_mm", 0.0)
    assert window.scene.touched == {"exhaust"} and window.tabs["Measure"].words.endswith("in the way")


def test_figures_on_the_drawing_cover_no_other_at_any_size(window):
    for stem in ("rescue-receiver", "ramp-front-receiver", "hay-net-carriage", "boat-cradles"):
        from urial.desk.start import demo_jobs

        window.open_demo(next(p for p, _, _ in demo_jobs() if p.stem == stem))
        for station in ("Measure", "Build"):
            window.go(station)
            for view in ("side", "rear", "top"):
                window.scene.set_view(view)
                window.scene.fit()
                window.scene.repaint()
                boxes = [b for b, _ in window.scene._labels]
                hits = [
                    (a, b)
                    for n, a in enumerate(boxes)
                    for b in boxes[:n]
                    if a.adjusted(1, 1, -1, -1).intersects(b)
                ]
                assert not hits, (stem, station, view)


def test_every_page_fits_its_slate(window):
    """Nothing runs out of the column to the right, in millimetres or inches, at desk or bench size."""
    wide = []
    for path, *_ in (demo_jobs()[0], demo_jobs()[5]):
        window.store.document.saved_job = window.store.job
        window.open_demo(path)
        first = path == demo_jobs()[0][0]
        for change in (lambda: None, window.switch_units, window.bench_size):
            change()
            if change == window.switch_units and not first:
                continue  # of the second not at desk size in the other units
            for number, station in window.stations.items():
                window.go(number)
                for name in station.tabs.buttons if hasattr(station, "show_page") else (None,):
                    if name and station.tabs.buttons[name].isEnabled():
                        station.show_page(name)
                    QApplication.processEvents()
                    least = station.body.minimumSizeHint().width()
                    if least > station.viewport().width():
                        wide.append((path.stem, station.name, name, least))
        window.bench_size()
    assert not wide
