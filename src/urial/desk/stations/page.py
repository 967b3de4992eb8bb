"""A page of a station, and the station that turns them: a page is made when it is first shown."""

from __future__ import annotations

from collections.abc import Callable
from typing import ClassVar, Literal

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from urial import units
from urial.assembly.model import BuildError
from urial.desk.stations.base import Station
from urial.desk.store import Store
from urial.desk.theme import Theme
from urial.desk.widgets.fields import label
from urial.desk.widgets.plain import plain
from urial.desk.widgets.segments import Segments
from urial.job import edit
from urial.job.model import Job
from urial.job.origin import Origin


class Page(QWidget):
    """One page: its name, the question it answers, a column, and perhaps a canvas in the scene's place."""

    name = ""
    question = ""
    needs_part = False
    canvas: QWidget | None = None
    shows_canvas = True
    reads_plan = False  # it shows what the plan, the nests or the log say
    bench_at = ""
    """The step or kind of work that the bench view opens at from here."""

    @classmethod
    def fits(cls, job: Job) -> bool:
        """Does the page make sense for the job's host and duties?  One that does not is not offered."""
        return True

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(theme.px(4))
        if self.question:
            self.column.addWidget(label(self.question, "title", wrap=True))
        self.problem = label("", "problem", wrap=True)
        self.problem.hide()
        self.fill()
        self.column.addWidget(self.problem)

    def fill(self) -> None:
        """Make the widgets once."""

    def refresh(self) -> None:
        """Show the store's present state."""

    def grow(self) -> None:
        """Let the slate grow with a text that became longer: it measures itself anew when it is resized."""
        slate = self.parentWidget()
        if slate is not None:
            QTimer.singleShot(0, slate, lambda: slate.resize(slate.width(), slate.height() + 1))

    def choose_for(self, path: str) -> None:
        """Show the row a field belongs to, on a page that shows one at a time."""

    def length(self, mm: float) -> str:
        """A length in the job's units."""
        return units.show(mm, "length", self.store.job.units, self.store.job.nearest)

    def mass(self, kg: float) -> str:
        """A mass in the job's units."""
        return units.show(kg, "mass", self.store.job.units)

    def force(self, newton: float) -> str:
        """A force in the job's units."""
        return units.show(newton, "force", self.store.job.units)

    def put(
        self, path: str, value: object, words: str, source: Origin | Literal["assumed", "hand"] = "hand"
    ) -> bool:
        """Propose an edit; a refusal is said and the old value kept."""
        try:
            self.store.put_job(edit.put(self.store.job, path, value), path, words, source)
        except (edit.EditError, BuildError, ValueError) as error:
            self.say(str(error))
            return False
        self.say("")
        return True

    def row(self, *buttons: tuple[str, str, Callable[[], None]], tips: tuple[str, ...] = ()) -> QHBoxLayout:
        """Small buttons side by side: words, name, what a click does."""
        line = QHBoxLayout()
        for n, (words, name, act) in enumerate(buttons):
            button = QPushButton(words)
            button.setObjectName(name)
            button.setProperty("segment", True)
            button.setToolTip(plain(tips[n] if n < len(tips) else ""))
            button.clicked.connect(lambda _=False, do=act: do())
            line.addWidget(button)
        return line

    def offer(self, pick: QComboBox, names: list[str]) -> None:
        """Other names in a picker, without a signal; the one that was open stays open."""
        if [pick.itemText(k) for k in range(pick.count())] == names:
            return
        here = pick.currentIndex()
        pick.blockSignals(True)
        pick.clear()
        pick.addItems(names)
        pick.setCurrentIndex(min(max(here, 0), len(names) - 1))
        pick.blockSignals(False)

    def say(self, words: str) -> None:
        """What is wrong, or nothing."""
        self.problem.setText(self.store.said(words))
        self.problem.setVisible(bool(words))


def tone(widget: QWidget, role: str) -> None:
    """Give a label another role of the style sheet."""
    if widget.property("role") != role:
        widget.setProperty("role", role)
        widget.style().unpolish(widget)
        widget.style().polish(widget)


class PagedStation(Station):
    """A station of pages."""

    PAGES: ClassVar[tuple[type[Page], ...]] = ()
    columns = 4

    def fill(self) -> None:
        self.tabs = Segments(
            [(p.name, p.name) for p in self.PAGES],
            self.columns,
            "page",
            self.show_page,
            {p.name: p.question for p in self.PAGES},
            look="page",
        )
        self.column.addWidget(self.tabs)
        self.unmeasured = label("", "quiet", wrap=True)
        self.unmeasured.setTextFormat(Qt.TextFormat.RichText)
        self.unmeasured.setObjectName("unmeasured")
        self.column.addWidget(self.unmeasured)
        self.pages: dict[str, Page] = {}
        self.place = QVBoxLayout()
        self.column.addLayout(self.place)
        self.current = self.PAGES[0].name

    def page_of(self, path: str) -> str:
        """The page a field is on, or nothing."""
        return ""

    @property
    def canvas(self) -> QWidget | None:
        """What a page shows in the scene's place, if anything."""
        page = self.pages.get(self.current)
        return page.canvas if page and page.shows_canvas else None

    def show_page(self, name: str) -> None:
        """Open a page; one that needs a part gives way on a bare survey."""
        if name != self.current:
            self.store.point_at("")
        fitting = [p.name for p in self.PAGES if p.fits(self.store.job)]
        open_ones = [
            p.name for p in self.PAGES if p.name in fitting and (self.store.has_part or not p.needs_part)
        ]
        if not open_ones:  # there is no job yet, or none of them is for it
            return
        self.current = name if name in open_ones else open_ones[0]
        new = self.current not in self.pages
        if new:
            page = next(p for p in self.PAGES if p.name == self.current)(self.store, self.theme)
            self.pages[self.current] = page
            page.hide()
            self.place.addWidget(page)
            page.refresh()  # filled before it is shown, so that all of it appears at once
        for other, page in self.pages.items():
            page.setVisible(other == self.current)
        for other, button in self.tabs.buttons.items():
            button.setEnabled(other in open_ones)
        self.tabs.offer(fitting)
        self.tabs.choose(self.current)
        if not new:
            self.pages[self.current].refresh()
        self.store.paged.emit()

    branches: ClassVar[tuple[str, ...]] = ()

    @property
    def bench_at(self) -> str:
        page = self.pages.get(self.current)
        return page.bench_at if page is not None else ""

    def forget(self) -> None:
        for page in self.pages.values():
            self.place.removeWidget(page)
            page.hide()
            if page.canvas is not None:
                page.canvas.hide()
                page.canvas.deleteLater()
            page.deleteLater()
        self.pages = {}
        self.current = self.PAGES[0].name

    @property
    def assumed(self) -> list[str]:
        """The facts of this station's pages that take part and that nobody has measured."""
        return [p for p in self.store.document.assumed if p.startswith(self.branches)]

    def refresh(self) -> None:
        if self.isVisible():
            count = len(self.assumed)
            self.unmeasured.setVisible(bool(count))
            if count:
                one = count == 1
                self.unmeasured.setText(
                    f"<span style='color:{self.theme.palette.ochre}'>▌</span>{count} "
                    f"figure{'' if one else 's'} with a bar {'is a' if one else 'are'} starting "
                    f"value{'' if one else 's'} nobody measured. Type over {'it' if one else 'them'}; "
                    "Enter in one that is right keeps it."
                )
            self.show_page(self.current)
