"""The main window: header, stations, scene, slate, load chain."""

from __future__ import annotations

import logging
from collections.abc import Callable
from pathlib import Path
from time import strftime
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QAction, QCloseEvent, QFontMetrics, QKeySequence, QShortcut, QShowEvent
from PySide6.QtWidgets import (
    QApplication,
    QFileDialog,
    QFrame,
    QHBoxLayout,
    QLabel,
    QMainWindow,
    QMessageBox,
    QPushButton,
    QStackedWidget,
    QToolTip,
    QVBoxLayout,
    QWhatsThis,
    QWidget,
)

from urial.desk.theme import DAY, NIGHT, Theme, font, stylesheet
from urial.desk.widgets.tab import Tab
from urial.desk.worker import Worker

if TYPE_CHECKING:
    from urial.desk.store import Store
    from urial.job.file import Document
    from urial.job.model import Job
    from urial.job.recovery import Leftover

log = logging.getLogger("urial")
NAMES = ("Measure", "Load", "Build", "Prove", "Cut")


class Window(QMainWindow):
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
        self.station = 0
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
        self._actions()
        self._bare()
        self._compose()
        self.store.changed.connect(self._head)
        self.store.titled.connect(self._head)
        self.store.paged.connect(self._staged)
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
        head = QHBoxLayout()
        self.title, self.subtitle = self.kit.plain(""), self.kit.plain("")
        self.title.setProperty("role", "title")
        self.subtitle.setProperty("role", "quiet")
        names = QVBoxLayout()
        names.setSpacing(0)
        names.addWidget(self.title)
        names.addWidget(self.subtitle)
        head.addLayout(names)
        head.addSpacing(px(16))
        self.tabs: list[Tab] = []
        for n, name in enumerate(NAMES):
            tab = Tab(self.theme, n + 1, name)
            tab.setCheckable(True)
            tab.setObjectName(f"tab:{name}")
            tab.setMinimumWidth(px(104))
            tab.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            tab.clicked.connect(lambda _=False, k=n: self.go(k))
            head.addWidget(tab)
            self.tabs.append(tab)
        head.addStretch(1)
        right = QVBoxLayout()
        right.setSpacing(px(2))
        self.unit_button = QPushButton()
        self.unit_button.setObjectName("units")
        self.unit_button.setProperty("segment", True)
        self.unit_button.setToolTip("Inches or millimetres (Ctrl+U); any field takes either")
        self.unit_button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.unit_button.clicked.connect(self.switch_units)
        self.saved = QLabel()
        self.saved.setProperty("role", "quiet")
        self.saved.setAlignment(Qt.AlignmentFlag.AlignRight)
        right.addWidget(self.unit_button)
        right.addWidget(self.saved)
        head.addLayout(right)
        outer.addLayout(head)
        self.pages = QStackedWidget()
        outer.addWidget(self.pages, 1)
        self.work = QWidget()
        column = QVBoxLayout(self.work)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(px(8))
        middle = QHBoxLayout()
        middle.setSpacing(px(8))
        self.scene = self.kit.Scene(self.store, self.theme)
        self.stage = QStackedWidget()
        self.stage.addWidget(self.scene)
        middle.addWidget(self.stage, 1)
        slate = QFrame()
        slate.setObjectName("card")
        slate.setFixedWidth(px(366))
        inner = QVBoxLayout(slate)
        inner.setContentsMargins(0, 0, 0, 0)
        self.slates = QStackedWidget()
        inner.addWidget(self.slates)
        self.stations = [station(self.store, self.theme) for station in self.kit.STATIONS]
        for s in self.stations:
            self.slates.addWidget(s)
            if isinstance(s, self.kit.Build):
                s.swing.toggled.connect(lambda on, b=s: self.scene.show_swing(b.softest() if on else None))
        self.drawer = self.kit.Drawer(self.store, self.theme)
        self.drawer.hide()
        self.drawer.shut.connect(self.toggle_drawer)
        middle.addWidget(self.drawer)
        middle.addWidget(slate)
        self.slate = slate
        column.addLayout(middle, 1)
        self.chain = self.kit.LoadChain(self.store, self.theme)
        self.chain.opened.connect(self.open_check)
        column.addWidget(self.chain)
        self.store.opened.connect(self._forget)
        self.start = self.kit.StartPage(self.theme)
        self.start.new_job.connect(self.new_job)
        self.start.new_survey.connect(self.new_survey)
        self.start.open_demo.connect(self.open_demo)
        self.start.open_file.connect(self.open_file)
        self.start.browse.connect(self.ask_open)
        self.start.recover.connect(self.recover)
        self.pages.addWidget(self.start)
        self.pages.addWidget(self.work)
        self.setCentralWidget(page)
        self.go(self.station)
        self.pages.setCurrentWidget(self.work if self.store.is_open else self.start)
        self._head()

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
        self.store.changed.disconnect()
        self.store.selected.disconnect()
        self.store.case_changed.disconnect()
        self.store.suggested.disconnect()
        self.store.pointed.disconnect()
        self.store.placed.disconnect()
        self.store.shaped.disconnect()
        self.store.opened.disconnect()
        self._bare()
        self._compose()
        self.store.changed.connect(self._head)
        self.restyle()
        if renderer is not None:
            self.scene.attach(renderer)

    def _forget(self) -> None:
        """Another job comes: nothing of the one before stays on screen."""
        self.scene.close_editor()
        self.scene.show_swing(None)
        self.chain.followed = ""
        self.stage.setCurrentWidget(self.scene)
        for station in self.stations:
            station.forget()

    def _about(self, job: Job) -> str:
        """Host and duties in a line."""
        asked = ([job.duty.trailer_name] if job.duty.towed and self.store.has_part else []) + [
            d.title for d in job.duties
        ]
        return " · ".join([job.vehicle.name, *(asked or ["survey"])])

    def _head(self) -> None:
        job = self.store.job
        opened = self.store.is_open
        room = (
            min(self.theme.px(360), self.width() - self.theme.px(5 * 116 + 170))
            if opened
            else self.theme.px(360)
        )
        for line, text, size in (
            (self.title, job.title if opened else "Urial", 17),
            (self.subtitle, self._about(job) if opened else "From tape measure to shop sheet", 12),
        ):
            line.setFixedWidth(max(room, 90))
            line.setText(
                QFontMetrics(font(self.theme, size, bold=size > 12)).elidedText(
                    text, Qt.TextElideMode.ElideRight, max(room, 90)
                )
            )
            line.setToolTip(text)
        self.chain.setVisible(self.store.has_part)
        if not self.stations[self.station].useful:
            self.go(0)
            return
        for n, (tab, station) in enumerate(zip(self.tabs, self.stations, strict=True)):
            words, needs = station.open_words() if station.useful else ("", False)
            tab.say(words, needs)
            tab.setVisible(opened and station.useful)
            tab.setChecked(n == self.station)
        self.unit_button.setText("inches" if job.units == "inch" else "millimetres")
        self.unit_button.setVisible(opened)
        state = self.store.autosave_problem or (
            "not saved" if self.store.dirty else f"saved {strftime('%H:%M')}" if self.store.path else ""
        )
        self.saved.setText(state if opened else "")
        name = self.store.path.name if self.store.path else job.title
        self.setWindowTitle(f"{name}{' *' if self.store.dirty else ''} – Urial" if opened else "Urial")
        undo, redo = self.store.history.undo_name, self.store.history.redo_name
        self.undo_action.setText(f"Undo: {undo}" if undo else "Undo")
        self.undo_action.setEnabled(undo is not None)
        self.redo_action.setText(f"Redo: {redo}" if redo else "Redo")
        self.redo_action.setEnabled(redo is not None)
        for action in self.job_actions:
            if action not in (self.undo_action, self.redo_action):
                action.setEnabled(opened)

    # ---- commands

    def _action(self, menu: str, words: str, keys: str, act: object, needs_job: bool = True) -> QAction:
        action = QAction(words, self)
        if keys:
            action.setShortcut(QKeySequence(keys))
        action.triggered.connect(act)
        self._menus[menu].addAction(action)
        self.addAction(action)
        if needs_job:
            self.job_actions.append(action)
        return action

    def _actions(self) -> None:
        self.job_actions: list[QAction] = []
        self._menus = {name: self.menuBar().addMenu(name) for name in ("Job", "Edit", "View", "Help")}
        self._action("Job", "Start page", "", self.show_start, needs_job=False)
        self._action("Job", "Open…", "Ctrl+O", self.ask_open, needs_job=False)
        self._action("Job", "Save", "Ctrl+S", self.save)
        self._action("Job", "Save as…", "Ctrl+Shift+S", self.save_as)
        self._action("Job", "Write the packet…", "Ctrl+P", self.write_packet)
        self._action("Job", "Name, customer, revision, notes…", "Ctrl+I", self.job_card)
        self._action("Job", "Leave", "Ctrl+Q", self.close, needs_job=False)
        self.undo_action = self._action("Edit", "Undo", "Ctrl+Z", self.undo)
        self.redo_action = self._action("Edit", "Redo", "Ctrl+Shift+Z", self.redo)
        self._action("Edit", "Find…", "Ctrl+K", self.find)
        self._action("View", "Inches or millimetres", "Ctrl+U", self.switch_units)
        self._action("View", "Bench size", "Ctrl+B", self.bench_size, needs_job=False)
        self._action("View", "Night or day", "Ctrl+D", self.night, needs_job=False)
        self._action("View", "Turn the view", "", lambda: self.scene.next_view())
        self._action("View", "Bench calculators", "F9", self.toggle_drawer)
        self._action("View", "Whole part", "", lambda: self.scene.fit())
        self._action("View", "Paint by utilisation", "", lambda: self.scene.toggle_paint())
        self._action("View", "Bent shape", "", lambda: self.scene.toggle_deflection())
        self._action("Help", "Keys and limits", "", self.about, needs_job=False)
        self._action("Help", "Explain what is under the pointer", "F1", self.explain, needs_job=False)
        for n in range(len(NAMES)):
            QShortcut(QKeySequence(str(n + 1)), self, activated=lambda k=n: self.go(k))  # type: ignore[call-overload]
        for key, act in (
            ("Space", lambda: self.scene.next_view()),
            ("[", lambda: self.chain.walk(-1)),
            ("]", lambda: self.chain.walk(1)),
            ("Ctrl+Y", self.redo),
        ):
            QShortcut(QKeySequence(key), self, activated=act)  # type: ignore[call-overload]

    def go(self, station: int) -> None:
        """Show a station; those that judge a part are not there without one."""
        if not self.stations[station].useful:
            return
        self.station = station
        self.drawer.hide()
        self.slate.show()
        self.slates.setCurrentIndex(station)
        here = self.stations[station]
        self.scene.arrows, self.scene.marks, self.scene.survey, self.scene.sockets = (
            here.arrows,
            here.marks,
            here.survey,
            here.sockets,
        )
        self.scene.show_swing(None)
        self.scene.close_editor()
        if here.wide != self.scene.wide or self.scene.framed != here.arrows:
            self.scene.wide, self.scene.framed = here.wide, here.arrows
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

    def open_check(self, check_id: str) -> None:
        """Open a check in Prove."""
        self.store.select_check(check_id)
        self.go([s.name for s in self.stations].index("Prove"))

    def switch_units(self) -> None:
        """Inches or millimetres; not an edit that undo should take back, but it is kept with the job."""
        self.store.put("units", "metric" if self.store.job.units == "inch" else "inch")
        self.kit.settings.remember("units", self.store.job.units)

    def job_card(self) -> None:
        """Name the job, say for whom, which revision, who signs."""
        self.kit.JobCard(self, self.store).exec()

    def undo(self) -> None:
        """One step back, and say which."""
        name = self.store.history.undo_name
        self.store.undo()
        self.scene.tell(f"Undone: {name}" if name else "There is nothing to undo.")

    def redo(self) -> None:
        """One step forward, and say which."""
        name = self.store.history.redo_name
        self.store.redo()
        self.scene.tell(f"Done again: {name}" if name else "There is nothing to do again.")

    def toggle_drawer(self) -> None:
        """Open the drawer of bench calculators, or put it away."""
        self.drawer.setVisible(not self.drawer.isVisible())
        self.slate.setVisible(
            not self.drawer.isVisible()
        )  # one of the two, so that the drawing keeps its room
        if self.drawer.isVisible():
            self.drawer.open(self.drawer.tool.name)
            next(iter(self.drawer.editors.values())).setFocus()

    def show_tool(self, name: str) -> None:
        """Open the drawer on one calculator."""
        if not self.drawer.isVisible():
            self.toggle_drawer()
        self.drawer.open(name)

    def bench_size(self) -> None:
        """Half as large again, or back."""
        self.theme.scale = 1.5 if self.theme.scale == 1.0 else 1.0
        self._recompose()

    def night(self) -> None:
        """Night or day."""
        self.theme.palette = NIGHT if self.theme.palette is DAY else DAY
        self._recompose()

    def find(self) -> None:
        """Ctrl+K."""
        self.kit.Finder(self, self.entries()).exec()

    def entries(self) -> list:
        """Everything that can be found."""
        out = [
            self.kit.Entry(c.name, f"check, {100 * c.utilisation:.0f} %", lambda i=c.id: self.open_check(i))
            for c in self.store.verdict.checks
        ]  # type: ignore[misc]
        for part in self.store.verdict.assembly.parts:
            out.append(
                self.kit.Entry(
                    f"{part.mark} {part.name}",
                    "part",
                    lambda m=part.mark: (self.go(2), self.store.select_part(m)),
                )
            )  # type: ignore[misc]
        for path, spec in self.kit.edit.all_specs(self.store.job).items():
            out.append(
                self.kit.Entry(
                    spec.title,
                    f"size, {self.kit.edit.shown(self.store.job, path)}",
                    lambda p=path: self.show_field(p),
                )
            )  # type: ignore[misc]
        out += [
            self.kit.Entry(t.title, f"calculator: {t.question}", lambda n=t.name: self.show_tool(n))
            for t in self.kit.TOOLS
        ]  # type: ignore[misc]
        for station in self.stations:
            for page in getattr(station, "PAGES", ()):
                if page.fits(self.store.job):
                    out.append(
                        self.kit.Entry(
                            page.name,
                            f"page of {station.name}: {page.question}",
                            lambda s=station, n=page.name: (self.go(self.stations.index(s)), s.show_page(n)),
                        )
                    )  # type: ignore[misc]
        duties = ([("Trailer", "duty.trailer_mass_kg")] if self.store.job.duty.towed else []) + [
            (d.title, f"duties.{n}.title") for n, d in enumerate(self.store.job.duties)
        ]
        out += [self.kit.Entry(name, "duty", lambda p=path: self.show_field(p)) for name, path in duties]  # type: ignore[misc]
        out += [
            self.kit.Entry(
                k.name, "keep-out", lambda p=f"survey.keep_outs.{n}.name", n=n: self._show_keep_out(n)
            )
            for n, k in enumerate(self.store.job.survey.keep_outs)
        ]  # type: ignore[misc]
        for menu in self._menus.values():
            out += [
                self.kit.Entry(a.text(), "command", a.trigger)
                for a in menu.actions()
                if a.isEnabled() and a.text()
            ]
        return out

    def _show_keep_out(self, number: int) -> None:
        """Open the page of what is in the way, on one of them."""
        measure = self.stations[0]
        self.go(0)
        measure.show_page(self.kit.KeepOutPage.name)
        measure.pages[self.kit.KeepOutPage.name].choose(number)

    def show_field(self, path: str) -> None:
        """Go to the field of a parameter and put the cursor in it."""
        for n, station in enumerate(self.stations):
            if isinstance(station, (self.kit.Measure, self.kit.Load)) and station.page_of(path):
                station.show_page(station.page_of(path))
                station.pages[station.current].choose_for(path)
            if isinstance(station, self.kit.Build) and path.startswith("stack."):
                station.show_path(path)
            for field in station.findChildren(QWidget, f"field:{path}"):
                if isinstance(station, self.kit.Prove) and path.startswith("stack."):
                    continue
                self.go(n)
                editor = getattr(field, "combo", None) or getattr(field, "line", None)
                station.ensureWidgetVisible(field)
                if editor is not None:
                    editor.setFocus()
                return

    def explain(self) -> None:
        """F1: what is under the pointer, in words."""
        from PySide6.QtGui import QCursor

        widget = QApplication.widgetAt(QCursor.pos())
        while widget is not None:
            if widget.whatsThis() or widget.toolTip():
                QToolTip.showText(QCursor.pos(), widget.whatsThis() or widget.toolTip(), widget)
                return
            widget = widget.parentWidget()
        QWhatsThis.enterWhatsThisMode()

    def about(self) -> None:
        """Keys and limits."""
        from urial import __version__

        QMessageBox.information(
            self,
            "Urial",
            f"Urial {__version__}\n\n1–5 stations · Space turns the view · [ ] walk the load chain · "
            "Ctrl+K find · Ctrl+U units · "
            f"Ctrl+B bench size · Ctrl+D night · F1 explains\n\n{self.kit.CAUTION}",
        )

    # ---- files

    def _refuse(self, words: str) -> None:
        self.start.said.setText(words)
        if self.store.is_open:
            QMessageBox.warning(self, "Urial", words)

    def _may_leave(self) -> bool:
        """Ask about unsaved work; True when it is safe to go on."""
        if not (self.store.is_open and self.store.dirty):
            return True
        answer = QMessageBox.question(
            self,
            "Urial",
            f"“{self.store.job.title}” has changes that are not saved. Save them?",
            QMessageBox.StandardButton.Save
            | QMessageBox.StandardButton.Discard
            | QMessageBox.StandardButton.Cancel,
        )
        if answer == QMessageBox.StandardButton.Save:
            return self.save()
        return answer == QMessageBox.StandardButton.Discard

    def _take(self, document: Document, path: Path | None, saved: bool) -> bool:
        try:
            self.store.take(document, path, saved)
        except self.kit.BuildError as error:
            self._refuse(f"{document.job.title} cannot be built: {error}")
            return False
        self.pages.setCurrentWidget(self.work)
        if not self.stations[self.station].useful:
            self.go(0)
        self._head()
        self.scene.fit()
        return True

    def _started(self, job: Job) -> Job:
        """A starting job in the units last used."""
        return job.model_copy(update={"units": self.kit.settings.remembered("units")})

    def new_survey(self, kind: str) -> None:
        """A survey of a kind of host, without a part yet."""
        if self._may_leave():
            self._take(
                self.kit.Document(self._started(self.kit.families.survey_job(kind))), None, saved=False
            )

    def new_job(self, family: str, kind: str | None = None) -> None:
        """A job with a family's starting sizes, on a kind of host."""
        if self._may_leave():
            self._take(
                self.kit.Document(self._started(self.kit.families.new_job(family, kind))), None, saved=False
            )
            self.scene.set_view(self.kit.families.families()[family].seen)  # as it shows best

    def open_demo(self, path: Path) -> None:
        """A copy of a demo job."""
        if self._may_leave():
            try:
                self._take(self.kit.load(path), None, saved=True)
            except self.kit.FileError as error:
                self._refuse(str(error))

    def open_file(self, path: Path) -> bool:
        """Open a file; a damaged one is refused in a sentence and left alone."""
        if not self._may_leave():
            return False
        try:
            document = self.kit.load(path)
        except self.kit.FileError as error:
            self._refuse(str(error))
            return False
        if self._take(document, path, saved=True):
            self.kit.remember(path)
            return True
        return False

    def recover(self, left: Leftover) -> None:
        """Take up work that a crash left behind; it counts as not saved."""
        if (
            self._may_leave()
            and self._take(left.document, left.origin, saved=False)
            and not self.store.autosave_problem
        ):
            self.kit.recovery.forget(left)  # only once another copy of it is safe

    def ask_open(self) -> None:
        """Choose a file."""
        name, _ = QFileDialog.getOpenFileName(
            self,
            "Open a job",
            str(self.store.path.parent if self.store.path else Path.home()),
            "Urial jobs (*.urial)",
        )
        if name:
            self.open_file(Path(name))

    def save(self) -> bool:
        """Save; asks for a name the first time."""
        if self.store.path is None:
            return self.save_as()
        return self._save_to(self.store.path)

    def save_as(self) -> bool:
        """Save under another name."""
        start = self.store.path or Path.home() / f"{self.store.job.title}.urial"
        name, _ = QFileDialog.getSaveFileName(self, "Save the job", str(start), "Urial jobs (*.urial)")
        target = self.kit.named(Path(name), ".urial") if name else None
        # the dialog has asked about the name that was typed; a longer one is asked about here
        if target is None or (target != Path(name) and target.exists() and not self._may_replace(target)):
            return False
        return self._save_to(target)

    def _may_replace(self, path: Path) -> bool:
        answer = QMessageBox.question(
            self,
            "Urial",
            f"{path.name} is already there. Write over it?",
            QMessageBox.StandardButton.Save | QMessageBox.StandardButton.Cancel,
            QMessageBox.StandardButton.Cancel,
        )
        return answer == QMessageBox.StandardButton.Save

    def _changed_on_disk(self, path: Path) -> bool:
        """Somebody else wrote the file: keep both, take theirs, or write over it; what differs can be read
        first.
        """
        try:
            theirs = self.kit.load(path)
            lines = self.kit.differences(self.store.job, theirs.job) or [
                "Nothing that shows; only how it was written."
            ]
        except self.kit.FileError as error:
            lines = [str(error)]
        box = QMessageBox(
            QMessageBox.Icon.Warning,
            "Urial",
            f"{path.name} has been changed on disk since it was opened here. What is to be kept?",
            parent=self,
        )
        box.setTextFormat(Qt.TextFormat.PlainText)
        box.setInformativeText(
            f"{len(lines)} differences: show the details to compare." if len(lines) > 1 else lines[0]
        )
        box.setDetailedText("\n".join(lines))
        both = box.addButton("Keep both", QMessageBox.ButtonRole.AcceptRole)
        reload = box.addButton("Take the one on disk", QMessageBox.ButtonRole.DestructiveRole)
        over = box.addButton("Write over it", QMessageBox.ButtonRole.DestructiveRole)
        box.addButton(QMessageBox.StandardButton.Cancel)
        box.exec()
        chosen = box.clickedButton()
        if chosen is both:
            beside = next(
                path.with_name(f"{path.stem} ({n}).urial")
                for n in range(2, 1000)
                if not path.with_name(f"{path.stem} ({n}).urial").exists()
            )
            return self._save_to(beside)
        if chosen is over:
            return self._save_to(path, over=True)
        if chosen is reload:
            self.store.saved_job = self.store.job  # the question has been answered
            return self.open_file(path)
        return False

    def _save_to(self, path: Path, over: bool = False) -> bool:
        try:
            self.store.save(path, over)
        except self.kit.FileChanged:
            return self._changed_on_disk(path)
        except self.kit.FileError as error:
            QMessageBox.warning(self, "Urial", str(error))
            return False
        self.kit.remember(path)
        self._head()
        return True

    def write_packet(self) -> None:
        """Go to Cut and write the packet."""
        self.go(len(NAMES) - 1)
        cut = self.stations[-1]
        assert isinstance(cut, self.kit.Cut)
        cut.ask_folder()

    def show_start(self) -> None:
        """Back to the start page; the job stays open behind it."""
        if self._may_leave():
            self.store.is_open = False
            self.pages.setCurrentWidget(self.start)
            self._head()

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
            self.store.recovery.drop()
            event.accept()
        else:
            event.ignore()
