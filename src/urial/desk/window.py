"""The main window: header, stations, scene, slate, load chain."""

from __future__ import annotations

import logging
from collections.abc import Callable
from time import strftime
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QCloseEvent, QShowEvent
from PySide6.QtWidgets import (
    QApplication,
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from urial.desk.commands import Commands
from urial.desk.theme import Theme, font, stylesheet
from urial.desk.unexpected import Alarm
from urial.desk.widgets.plain import plain
from urial.desk.widgets.tab import Tab
from urial.desk.worker import Worker

if TYPE_CHECKING:
    from urial.desk.start import StartPage
    from urial.desk.store import Store
    from urial.job.model import Job

log = logging.getLogger("urial")


APART = 6
"""Between the tabs of the stations."""


class Window(Commands):
    """One job at a time."""

    def __init__(
        self, theme: Theme | None = None, store: Store | None = None, furnished: bool = True
    ) -> None:
        """``furnished`` False shows the bare window first; ``furnish`` then brings in everything else."""
        super().__init__()
        self.theme = theme or Theme()
        self.setWindowTitle("Urial")
        self.resize(1280, 800)
        self.setMinimumSize(900, 600)
        self.station = ""
        self._painted = self.furnished = False
        self._store = store
        self._loader = Worker(self, self._attach)
        if furnished:
            self.furnish()
        else:
            self._curtain()

    def _curtain(self) -> None:
        """What is painted first, while the rest is fetched."""
        page = QWidget()
        page.setStyleSheet(f"background: {self.theme.palette.paper}; color: {self.theme.palette.ink};")
        column = QVBoxLayout(page)
        column.setContentsMargins(54, 90, 54, 54)
        for text, size, bold in (
            ("Urial", 26, True),
            ("From tape measure to shop sheet", 15, False),
            ("Laying out the tools…", 13, False),
        ):
            line = QLabel(text)
            line.setTextFormat(Qt.TextFormat.PlainText)
            line.setFont(font(self.theme, size, bold))
            column.addWidget(line)
        column.addStretch(1)
        self.setCentralWidget(page)

    def furnish(self) -> None:
        """Bring in the core, the stations and the start page."""
        if self.furnished:
            return
        from urial.desk import kit, store

        self.kit = kit
        self.furnished = True
        self.store = self._store or store.Store()
        self.store.setParent(self)  # it goes with the window: it and its workers hold each other
        self._actions()
        self._bare()
        self._compose()
        self.store.changed.connect(self._head)
        self.store.titled.connect(self._head)
        self.store.paged.connect(self._staged)
        self.store.wanted.connect(self.open_file)
        self.restyle()
        if self._painted:
            QTimer.singleShot(0, self._load_vtk)

    # ---- layout

    def _compose(self) -> None:
        """Everything that depends on the theme's scale; made again when it changes."""
        px = self.theme.px
        page = QWidget()
        page.setObjectName("page")
        outer = QVBoxLayout(page)
        outer.setContentsMargins(px(14), px(8), px(14), px(10))
        outer.setSpacing(px(8))
        outer.addLayout(self._header())
        self.alarm = Alarm()
        outer.addWidget(self.alarm)
        self.pages = QStackedWidget()
        outer.addWidget(self.pages, 1)
        self.work = self._bench()
        self.start = self._start_page()
        self.pages.addWidget(self.start)
        self.pages.addWidget(self.work)
        self.bench = self.kit.BenchView(self.store, self.theme)
        self.bench.left.connect(self.toggle_bench)
        self.pages.addWidget(self.bench)
        self.store.opened.connect(self._forget)
        self.setCentralWidget(page)
        self.tape = self.kit.TapeFigure(self.store, self.theme, page)
        for station in self.stations.values():
            station.verticalScrollBar().valueChanged.connect(self.tape.refresh)
        self.store.answered.connect(self._said_of)
        self._keys_within()
        self.go(self.station or next(iter(self.stations)))
        self.pages.setCurrentWidget(self.work if self.store.is_open else self.start)
        self._head()

    def _said_of(self, name: str) -> None:
        """What the tabs count has changed."""
        if name in self.kit.NEWS and not self.store.asking.busy("plan"):
            self.store.titled.emit()

    def _header(self) -> QHBoxLayout:
        """Name of the job, the stations, units and whether it is saved."""
        px = self.theme.px
        head = QHBoxLayout()
        head.setSpacing(APART)
        self.title, self.subtitle = self.kit.plain("", "title"), self.kit.plain("", "quiet")
        names = QVBoxLayout()
        names.setSpacing(0)
        names.addWidget(self.title)
        names.addWidget(self.subtitle)
        head.addLayout(names)
        head.addSpacing(px(16))
        self.tabs: dict[str, Tab] = {}
        for n, station in enumerate(self.kit.STATIONS, 1):
            name = station.name
            tab = Tab(self.theme, n, name)
            tab.setCheckable(True)
            tab.setObjectName(f"tab:{name}")
            tab.setMinimumWidth(tab.wanted())
            tab.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            tab.clicked.connect(lambda _=False, k=name: self.go(k))
            head.addWidget(tab)
            self.tabs[name] = tab
        head.addStretch(1)
        right = QVBoxLayout()
        right.setSpacing(px(2))
        self.unit_button = QPushButton()
        self.unit_button.setObjectName("units")
        self.unit_button.setProperty("segment", True)
        self.unit_button.setToolTip("Inches or millimetres (Ctrl+U); any field takes either")
        self.unit_button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.unit_button.clicked.connect(self.switch_units)
        self.saved = self.kit.plain("", "quiet")
        self.saved.setAlignment(Qt.AlignmentFlag.AlignRight)
        right.addWidget(self.unit_button)
        right.addWidget(self.saved)
        head.addLayout(right)
        return head

    def _bench(self) -> QWidget:
        """Scene, slate or drawer beside it, and the load chain under both."""
        work = QWidget()
        column = QVBoxLayout(work)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(self.theme.px(8))
        middle = QHBoxLayout()
        middle.setSpacing(self.theme.px(8))
        self.scene = self.kit.Scene(self.store, self.theme)
        self.stage = QStackedWidget()
        self.stage.addWidget(self.scene)
        self.drawer = self.kit.Drawer(self.store, self.theme)
        self.drawer.hide()
        self.drawer.shut.connect(self.toggle_drawer)
        self.slate = self._slate()
        middle.addWidget(self.stage, 1)
        middle.addWidget(self.drawer)
        middle.addWidget(self.slate)
        column.addLayout(middle, 1)
        self.chain = self.kit.LoadChain(self.store, self.theme)
        self.chain.opened.connect(self.open_check)
        column.addWidget(self.chain)
        return work

    def _slate(self) -> QFrame:
        """The card on the right, a page for each station."""
        slate = QFrame()
        slate.setObjectName("card")
        slate.setFixedWidth(self.theme.px(366))
        inner = QVBoxLayout(slate)
        inner.setContentsMargins(0, 0, 0, 0)
        self.slates = QStackedWidget()
        inner.addWidget(self.slates)
        self.stations = {station.name: station(self.store, self.theme) for station in self.kit.STATIONS}
        for s in self.stations.values():
            self.slates.addWidget(s)
            if isinstance(s, self.kit.Build):
                s.swing.toggled.connect(lambda on, b=s: self.scene.show_swing(b.softest() if on else None))
            if isinstance(s, self.kit.Together):
                s.apart.connect(self.scene.take_apart)
        return slate

    def _start_page(self) -> StartPage:
        """Where a job is begun or opened."""
        start: StartPage = self.kit.StartPage(self.theme)
        start.new_job.connect(self.new_job)
        start.new_survey.connect(self.new_survey)
        start.open_demo.connect(self.open_demo)
        start.open_file.connect(self.open_file)
        start.browse.connect(self.ask_open)
        start.recover.connect(self.recover)
        return start

    def _bare(self) -> None:
        """Widgets are made many times faster while no style sheet is in force."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        app.setStyleSheet("")

    def restyle(self) -> None:
        """Apply the theme."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        app.setStyleSheet(stylesheet(self.theme))

    def _recompose(self) -> None:
        renderer = self.scene.renderer
        turned_to = {n: p.current for n in self.stations if (p := self.paged(n)) is not None}
        self.store.changed.disconnect()
        self.store.selected.disconnect()
        self.store.case_changed.disconnect()
        self.store.answered.disconnect()
        self.store.pointed.disconnect()
        self.store.placed.disconnect()
        self.store.shaped.disconnect()
        self.store.opened.disconnect()
        self._bare()
        self._compose()
        for name, page in turned_to.items():  # the page that was open is open again
            paged = self.paged(name)
            if paged is not None and page in paged.tabs.buttons:
                paged.current = page
                if name == self.station and self.store.is_open:
                    paged.show_page(page)
        self.store.changed.connect(self._head)
        self.restyle()
        self._head()  # measured in the letters that are in force now
        if renderer is not None:
            self.scene.attach(renderer)

    def _forget(self) -> None:
        """Another job comes: nothing of the one before stays on screen."""
        self.scene.close_editor()
        self.scene.show_swing(None)
        self.chain.followed = ""
        self.stage.setCurrentWidget(self.scene)
        for station in self.stations.values():
            station.forget()

    def _about(self, job: Job) -> str:
        """Host and duties in a line."""
        asked = ([job.duty.trailer_name] if job.duty.towed and self.store.has_part else []) + [
            d.title for d in job.duties
        ]
        return " · ".join([job.vehicle.name, *(asked or ["survey"])])

    def _head(self) -> None:
        job, document = self.store.job, self.store.document
        opened = self.store.is_open
        room = self.theme.px(360)
        if opened:  # what tabs and units leave, with what stands between them
            taken = sum(t.minimumWidth() for t in self.tabs.values())
            apart = self.theme.px(16) + APART * (len(self.tabs) + 3) + 2 * self.theme.px(14)
            room = min(room, self.width() - taken - self.unit_button.sizeHint().width() - apart)
        for line, text in (
            (self.title, job.title if opened else "Urial"),
            (self.subtitle, self._about(job) if opened else "From tape measure to shop sheet"),
        ):
            line.setFixedWidth(max(room, 90))
            line.ensurePolished()  # measured in the letters it is written in
            line.setText(line.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, max(room, 90)))
            line.setToolTip(plain(text))
        self.chain.setVisible(opened and self.store.has_part)
        if opened and not self.stations[self.station].useful:
            self.go("Measure")
            return
        for name, station in self.stations.items():
            tab = self.tabs[name]
            useful = opened and station.useful
            if not self.store.reckoning:  # until then there is nothing new to say
                tab.say(*(station.open_words() if useful else ("", False)))
            tab.setVisible(useful)
            tab.setChecked(name == self.station)
        large = self.theme.scale > 1.0  # nine tabs leave little room
        self.unit_button.setText("inches" if job.units == "inch" else "mm" if large else "millimetres")
        self.unit_button.setVisible(opened)
        state = document.autosave_problem or (
            "not saved" if document.dirty else f"saved {strftime('%H:%M')}" if document.path else ""
        )
        self.saved.setText(state if opened else "")
        title = document.path.name if document.path else job.title
        self.setWindowTitle(f"{title}{' *' if document.dirty else ''} – Urial" if opened else "Urial")
        undo, redo = document.history.undo_name, document.history.redo_name
        self.undo_action.setText(f"Undo: {undo}" if undo else "Undo")
        self.redo_action.setText(f"Redo: {redo}" if redo else "Redo")
        self._enable(opened)

    def go(self, station: str) -> None:
        """Show a station, by its name; those that judge a part are not there without one."""
        if self.store.is_open and not self.stations[station].useful:
            return
        self.station = station
        if self.pages.currentWidget() is self.bench:
            self.pages.setCurrentWidget(self.work)
        self.drawer.hide()
        self.slate.show()
        self.slates.setCurrentWidget(self.stations[station])
        here = self.stations[station]
        self.scene.arrows, self.scene.marks, self.scene.survey, self.scene.sockets = (
            here.arrows,
            here.marks,
            here.survey,
            here.sockets,
        )
        self.scene.findings = here.findings
        self.scene.show_swing(None)
        self.scene.close_editor()
        if here.wide != self.scene.wide or self.scene.framed != here.arrows:
            self.scene.wide, self.scene.framed = here.wide, here.arrows
            if self.store.is_open:
                self.scene.fit()
        self.scene.update()
        self._staged()
        self._head()

    def _staged(self) -> None:
        """The scene, or what the station's page shows in its place."""
        canvas = getattr(self.stations[self.station], "canvas", None)
        if canvas is not None and self.stage.indexOf(canvas) < 0:
            self.stage.addWidget(canvas)
        self.stage.setCurrentWidget(canvas or self.scene)
        self.scene.update()

    # ---- life

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        if not self._painted:
            self._painted = True
            if self.furnished:
                QTimer.singleShot(0, self._load_vtk)

    def _load_vtk(self) -> None:
        """Import VTK beside the window, after its first paint."""

        def work(_: Callable[[], bool]) -> bool:
            import urial.desk.scene.render  # noqa: F401

            return True

        self._loader.ask(work)

    def _attach(self, loaded: object) -> None:
        if loaded is not True:  # without VTK the elevations are still drawn flat; the log says why
            return
        try:
            from urial.desk.scene.render import Renderer

            self.scene.attach(Renderer())
        except Exception:  # a missing graphics driver must not take the window down
            log.exception("3-D view")

    def closeEvent(self, event: QCloseEvent) -> None:
        if not self.furnished:
            event.accept()
        elif self._may_leave():
            self.store.document.recovery.drop()
            event.accept()
        else:
            event.ignore()
