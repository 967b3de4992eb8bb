"""``urial demo --shots``: each main view of the demo job at 1280x800, drawn without a display."""

from __future__ import annotations

import os
import sys
import time
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from urial.desk.stations.prove import Prove
    from urial.desk.window import Window


def _wait(milliseconds: int) -> None:
    from PySide6.QtCore import QEventLoop, QTimer

    loop = QEventLoop()
    QTimer.singleShot(milliseconds, loop.quit)
    loop.exec()


def _changed(window: Window) -> None:
    """A hole, a notch and a gusset in the winch base, their list open."""
    import numpy as np

    from urial.desk.stations.build import Build
    from urial.job import edit
    from urial.job.change import GussetIn, HoleIn, NotchIn, Pick

    station = window.stations["Build"]
    assert isinstance(station, Build)
    corner = Pick(part="base plate", along_mm=190.0, across_mm=200.0, face="front")
    changes = (
        GussetIn(
            at=corner, to=Pick(part="gusset.left", along_mm=130.0, across_mm=70.0, face="front"), pair=True
        ),
        HoleIn(
            at=Pick(part="base plate", along_mm=40.0, across_mm=110.0, face="front"),
            diameter_mm=18.0,
            count=3,
        ),
        NotchIn(at=Pick(part="base plate", along_mm=190.0, across_mm=45.0, face="front"), wide_mm=90.0),
    )
    store = window.store
    store.put_job(edit.put(store.job, "stack.1.changes", changes), "stack.1.changes", "three changes")
    station.show_piece("1")
    station.changes.head.setChecked(True)
    station.changes.show_change(1)
    _wait(1500)
    camera = window.scene.camera
    camera.azimuth, camera.elevation = -88.0, 52.0
    window.scene.fit()
    camera.focus = np.array(store.verdict.assembly.places["winch"]) - np.array([0.0, 60.0, 110.0])
    camera.scale *= 2.1
    station.ensureWidgetVisible(station.changes, 0, 0)


def _looked_at(window: Window) -> None:
    """It is known whether it goes together, 20 s at most; then it is half apart."""
    from urial.desk.stations.together import Together

    station = window.stations["Together"]
    assert isinstance(station, Together)
    for _ in range(400):
        _wait(50)
        if window.store.fit is not None:
            break
    _wait(300)
    station.slider.setValue(station.slider.maximum() // 2)


def _sized(window: Window) -> None:
    """Sizes are looked for and shown, two minutes at most."""
    from urial.desk.stations.prove import Prove

    station = window.stations["Prove"]
    assert isinstance(station, Prove)
    station.sizer.open.click()
    station.sizer.go.click()
    for _ in range(2400):
        _wait(50)
        if not window.store.sizes_looking:
            break
    _wait(100)
    _scrolled(station, station.sizer.open)


def _what_if(window: Window) -> None:
    """The most it may carry, 20 s at most."""
    from urial.desk.stations.prove import Prove

    station = window.stations["Prove"]
    assert isinstance(station, Prove)
    station.what_if.open.click()
    for _ in range(400):
        _wait(50)
        if station.what_if.found is not None:
            break
    _wait(100)
    _scrolled(station, station.what_if.open)


def _scrolled(station: Prove, top: QWidget) -> None:
    """A station's column moved so that a widget stands at its top."""
    from PySide6.QtCore import QPoint

    column = station.widget()
    assert column is not None
    station.verticalScrollBar().setValue(top.mapTo(column, QPoint(0, 0)).y() - 8)
    _wait(50)


class _Camera:
    """Takes pictures of a window into a folder."""

    def __init__(self, window: Window, folder: Path) -> None:
        from urial.desk.start import demo_jobs

        self.window, self.folder, self.done = window, folder, list[str]()
        self.jobs = demo_jobs()
        self.demos = {path.stem: path for path, _, _ in self.jobs}

    def shoot(self, name: str) -> None:
        end = time.monotonic() + 8
        while True:
            _wait(20)
            known = self.window.store.advice.remedies is not None and not self.window.store.fit_looking
            if known or time.monotonic() > end:
                break
        self.window.scene.settle()
        _wait(5)
        if not self.window.grab().save(str(self.folder / f"{name}.png")):
            raise OSError(f"{self.folder} does not take pictures; choose another folder")
        self.done.append(name)

    def stations(self) -> None:
        self.shoot("start")
        self.window.open_demo(self.jobs[0][0])
        for station in ("Measure", "Load", "Build", "Prove", "Cut"):
            self.window.go(station)
            self.shoot(station.lower())

    def measure(self) -> None:
        window = self.window
        pages = window.paged("Measure")
        assert pages is not None
        window.go("Measure")
        pages.show_page("Host")
        _focused(window, "vehicle.rail_bottom_mm")
        self.shoot("measure-tape")
        pages.show_page("Tapes")
        self.shoot("measure-tapes")
        for name, stem, page in (
            ("measure-photo", "ramp-van", "Photo"),
            ("measure-in-the-way", "spreader-tractor", "In the way"),
            ("measure-behind", "ramp-front-receiver", "Behind"),
        ):
            window.open_demo(self.demos[stem])
            pages.show_page(page)
            if page == "Behind":
                window.scene.set_view("turned")
                window.scene.camera.azimuth = 145.0
                window.store.looked.emit(window.scene.behind.boxes(window.store)[0])
            self.shoot(name)
        pages.show_page("Holes")

    def build(self) -> None:
        window = self.window
        window.open_demo(self.demos["river-fittings"])
        window.scene.set_view("turned")
        window.go("Build")
        _changed(window)
        self.shoot("build-change")
        window.store.document.saved_job = window.store.job  # nobody is to be asked what becomes of it
        window.open_demo(self.demos["river-rack"])
        window.scene.set_view("turned")
        window.go("Together")
        _looked_at(window)
        self.shoot("together")
        window.scene.set_view("side")

    def load(self) -> None:
        from urial.desk.stations.load.sway_page import SwayPage

        window = self.window
        window.open_demo(self.jobs[0][0])
        pages = window.paged("Load")
        assert pages is not None
        window.go("Load")
        for page in ("Cases", "Deck", "Sway"):
            pages.show_page(page)
            sway = pages.pages[page]
            if isinstance(sway, SwayPage):
                sway.start_jerk(1.7)
            self.shoot(f"load-{page.lower()}")
        pages.show_page("Duties")

    def answers(self) -> None:
        window = self.window
        window.go("Build")
        window.show_tool("strap_anchor")
        self.shoot("drawer")
        window.open_demo(self.jobs[1][0])
        window.scene.set_view("side")
        window.go("Prove")
        _sized(window)
        self.shoot("short")
        window.open_demo(self.demos["generator-carrier"])
        window.go("Prove")
        _what_if(window)
        self.shoot("what-if")

    def making(self) -> None:
        from urial.desk.stations.cut.pieces_page import PiecesPage

        window = self.window
        window.open_demo(self.demos["boat-cradles"])
        window.go("Cut")
        pages = window.paged("Cut")
        assert pages is not None
        _laid_out(window)
        pages.show_page("Bars")
        self.shoot("cut-bars")
        window.toggle_bench()
        self.shoot("bench")
        window.toggle_bench()
        window.open_demo(self.demos["river-rack"])
        window.go("Cut")
        pages.show_page("Pieces")
        _laid_out(window)
        pieces = pages.pages["Pieces"]
        assert isinstance(pieces, PiecesPage)
        pieces.choose("G")
        self.shoot("cut-pieces")
        window.open_demo(self.demos["rescue-receiver"])
        window.go("Weld")
        _laid_out(window)
        _welded(window)
        self.shoot("weld-seams")
        _coated(window)
        window.go("Finish")
        self.shoot("finish-coats")
        window.go("Book")
        _priced(window)
        self.shoot("book-price")


def _focused(window: Window, path: str) -> None:
    """A field with the keys, in sight."""
    from PySide6.QtCore import Qt

    from urial.desk.widgets.fields import Field

    field = window.findChild(Field, f"field:{path}")
    assert field is not None and field.line is not None
    window.activateWindow()
    window.stations[window.station].ensureWidgetVisible(field, 0, 60)
    field.line.setFocus(Qt.FocusReason.TabFocusReason)
    _wait(100)


def _coated(window: Window) -> None:
    """Two coats are laid, and it was read how warm it is."""
    from datetime import datetime, timedelta
    from uuid import uuid4

    from urial.job.log import Entry
    from urial.making.finish import AIR, HUMIDITY, STEEL
    from urial.making.step import key_of

    now = datetime.now().astimezone()
    for step, hours, what, figures in (
        (AIR, 7.0, "read", {STEEL: 18.0, HUMIDITY: 60.0}),
        (key_of("job", "coat", "1"), 6.5, "done", {}),
        (key_of("job", "coat", "2"), 1.0, "done", {}),
    ):
        at = (now - timedelta(hours=hours)).isoformat(timespec="milliseconds")
        entry = {"id": uuid4().hex, "step": step, "what": what, "at": at, "figures": figures}
        window.store.document.enter(Entry.model_validate(entry))


def _priced(window: Window) -> None:
    """Until it is known what it costs, 30 s at most."""
    for _ in range(600):
        _wait(50)
        window.store.making.look_at_price()
        if window.store.making.price is not None:
            break
    _wait(100)


def _welded(window: Window) -> None:
    """Until the order of the runs is there, 30 s at most."""
    for _ in range(600):
        _wait(50)
        if window.store.making.welding is not None:
            break


def _laid_out(window: Window) -> None:
    """Until the plan and the nests are there, 20 s at most."""
    for _ in range(400):
        _wait(50)
        if window.store.making.nests is not None:
            break


def render_all(folder: Path) -> int:
    """Write the pictures into a folder; 0, or 2 with one sentence when the place will not take them."""
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    os.environ.setdefault("URIAL_STATE_DIR", str(folder / ".state"))
    from PySide6.QtWidgets import QApplication

    from urial.desk.contact_sheet import contact_sheet
    from urial.desk.scene.render import Renderer
    from urial.desk.theme import load_fonts
    from urial.desk.window import Window
    from urial.job.file import os_words

    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        print(f"The folder {folder} cannot be made: {os_words(error)}.", file=sys.stderr)
        return 2
    app = QApplication.instance() or QApplication(["urial"])
    assert isinstance(app, QApplication)
    load_fonts()
    window = Window()
    window.show()
    window.scene.attach(Renderer())
    camera = _Camera(window, folder)
    try:
        for step in (
            camera.stations,
            camera.measure,
            camera.build,
            camera.load,
            camera.answers,
            camera.making,
        ):
            step()
        if not contact_sheet(window.theme, Renderer()).save(str(folder / "families.png")):
            raise OSError(f"{folder} does not take pictures; choose another folder")
        camera.done.append("families")
    except OSError as error:
        print(f"The pictures could not be written: {error}.", file=sys.stderr)
        return 2
    window.store.document.recovery.drop()
    print("\n".join(str(folder / f"{name}.png") for name in camera.done))
    return 0
