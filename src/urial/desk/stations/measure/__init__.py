"""Measure: where does it bolt, what is in the way.  One page for each way of looking at the survey."""

from __future__ import annotations

from urial.desk.stations.measure.backdrop_page import BackdropPage
from urial.desk.stations.measure.datum_page import DatumPage
from urial.desk.stations.measure.forgotten_page import ForgottenPage
from urial.desk.stations.measure.holes_page import HolesPage
from urial.desk.stations.measure.host_page import HostPage
from urial.desk.stations.measure.keep_out_page import KeepOutPage
from urial.desk.stations.measure.photo_page import PhotoPage
from urial.desk.stations.measure.sheet_page import SheetPage
from urial.desk.stations.measure.tapes_page import TapesPage
from urial.desk.stations.page import PagedStation
from urial.measure import agree, sides
from urial.measure.forgotten import forgotten
from urial.measure.keepout import clashes


class Measure(PagedStation):
    """The survey, page by page."""

    name = "Measure"
    view = "side"
    wide = True
    survey = True
    needs_part = False
    branches = ("vehicle", "survey")
    columns = 5
    PAGES = (
        HolesPage,
        HostPage,
        SheetPage,
        DatumPage,
        TapesPage,
        PhotoPage,
        BackdropPage,
        KeepOutPage,
        ForgottenPage,
    )

    def page_of(self, path: str) -> str:
        """The page a field of the survey is on, or nothing."""
        if not path.startswith(("vehicle.", "survey.")):
            return ""
        if path.startswith("survey.answers."):
            return ForgottenPage.name
        if path.startswith("survey.backdrops."):
            return BackdropPage.name
        return DatumPage.name if path.startswith("survey.") else HostPage.name

    def open_words(self) -> tuple[str, bool]:
        job, assembly = self.store.job, self.store.verdict.assembly
        if agree.contradicts(job):
            return "contradicts itself", True
        hits = len(clashes(job, assembly)) if assembly.parts else 0
        if hits:
            return f"{hits} in the way", True
        if self.assumed:
            return f"{len(self.assumed)} assumed", False
        left = sum(i.state == "open" for i in forgotten(job, assembly))
        if left:
            return f"{left} open", False
        return ("sides differ" if not sides.compare(job.vehicle).alike else "clear"), False
