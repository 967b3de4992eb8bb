"""Measure: where does it bolt, what is in the way.  One page for each way of looking at the survey."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout, QWidget

from urial.desk.stations.base import Station
from urial.desk.stations.measure.datum_page import DatumPage
from urial.desk.stations.measure.forgotten_page import ForgottenPage
from urial.desk.stations.measure.holes_page import HolesPage
from urial.desk.stations.measure.host_page import HostPage
from urial.desk.stations.measure.keep_out_page import KeepOutPage
from urial.desk.stations.measure.page import Page
from urial.desk.stations.measure.photo_page import PhotoPage
from urial.desk.stations.measure.sheet_page import SheetPage
from urial.desk.stations.measure.tapes_page import TapesPage
from urial.desk.widgets.segments import Segments
from urial.measure import agree, sides
from urial.measure.forgotten import forgotten
from urial.measure.keepout import clashes

PAGES: tuple[type[Page], ...] = (HolesPage, HostPage, SheetPage, DatumPage, TapesPage, PhotoPage, KeepOutPage, ForgottenPage)


class Measure(Station):
    """The survey, page by page; a page is made when it is first shown."""

    name = "Measure"
    view = "side"
    wide = True
    survey = True
    needs_part = False

    def fill(self) -> None:
        self.tabs = Segments([(p.name, p.name) for p in PAGES], 4, "page", self.show_page, {p.name: p.question for p in PAGES})
        self.column.addWidget(self.tabs)
        self.pages: dict[str, Page] = {}
        self.place = QVBoxLayout()
        self.column.addLayout(self.place)
        self.current = HolesPage.name

    @property
    def canvas(self) -> QWidget | None:
        """What a page shows in the scene's place, if anything."""
        page = self.pages.get(self.current)
        return page.canvas if page else None

    def show_page(self, name: str) -> None:
        """Open a page."""
        if name != self.current:
            self.store.point_at("")
        self.current = name
        if name not in self.pages:
            kind = next(p for p in PAGES if p.name == name)
            page = kind(self.store, self.theme)
            self.pages[name] = page
            self.place.addWidget(page)
            page.refresh()
        for other, page in self.pages.items():
            page.setVisible(other == name)
        self.tabs.choose(name)
        self.pages[name].refresh()
        self.store.paged.emit()

    def page_of(self, path: str) -> str:
        """The page a field of the survey is on."""
        if path.startswith("survey.answers."):
            return ForgottenPage.name
        return DatumPage.name if path.startswith("survey.") else HostPage.name

    def refresh(self) -> None:
        if self.isVisible():
            self.show_page(self.current)

    def open_words(self) -> tuple[str, bool]:
        job, assembly = self.store.job, self.store.verdict.assembly
        if agree.cross_check(job).agreement is not None and agree.cross_check(job).wrong:
            return "a reading is off", True
        hits = len(clashes(job, assembly)) if assembly.parts else 0
        if hits:
            return f"{hits} in the way", True
        left = sum(i.state == "open" for i in forgotten(job, assembly))
        if left:
            return f"{left} open", False
        return ("sides differ" if not sides.compare(job.vehicle).alike else "clear"), False
