"""Cut: what comes out of which bar and sheet, what is done, and the papers.  One page for each question."""

from __future__ import annotations

from pathlib import Path

from urial.desk.making import ACCOUNT
from urial.desk.stations.cut.bars_page import BarsPage
from urial.desk.stations.cut.finish_page import FinishPage
from urial.desk.stations.cut.parts_page import PartsPage
from urial.desk.stations.cut.pieces_page import PiecesPage
from urial.desk.stations.cut.price_page import PricePage
from urial.desk.stations.cut.proof_page import ProofPage
from urial.desk.stations.cut.sheets_page import SheetsPage
from urial.desk.stations.cut.welds_page import WeldsPage
from urial.desk.stations.cut.work_page import WorkPage
from urial.desk.stations.page import PagedStation
from urial.measure import agree

NEWS = ("plan", "nests", "closer", "welding", "price", ACCOUNT)


class Cut(PagedStation):
    """What do I cut?"""

    name = "Cut"
    marks = True
    view = "side"
    columns = 5
    PAGES = (
        PartsPage,
        PiecesPage,
        BarsPage,
        SheetsPage,
        WeldsPage,
        FinishPage,
        ProofPage,
        WorkPage,
        PricePage,
    )

    def fill(self) -> None:
        super().fill()
        self.store.answered.connect(self._heard)

    def _heard(self, name: str) -> None:
        if name in NEWS and not self.store.asking.busy("plan"):
            self.store.titled.emit()
            if name == "plan" and self.isVisible():
                self.store.making.look()  # the nests come after the plan
            page = self.pages.get(self.current)
            if self.isVisible() and self.useful and page is not None and page.reads_plan:
                page.refresh()

    def refresh(self) -> None:
        if self.isVisible():
            self.store.making.look()
        super().refresh()

    @property
    def parts(self) -> PartsPage:
        """The page with the papers; shown where it has not been yet."""
        if PartsPage.name not in self.pages:
            self.show_page(PartsPage.name)
        page = self.pages[PartsPage.name]
        assert isinstance(page, PartsPage)
        return page

    @property
    def writing(self) -> Path | None:
        """Where a packet is being written just now."""
        page = self.pages.get(PartsPage.name)
        return page.writing if isinstance(page, PartsPage) else None

    def finish(self, stop: bool = False) -> str:
        """Have a packet that is being written finished, or stopped; what came of it, in words."""
        return self.parts.finish(stop)

    def ask_folder(self) -> None:
        """Ask where the packet goes, then write it."""
        self.show_page(PartsPage.name)
        self.parts.ask_folder()

    def open_words(self) -> tuple[str, bool]:
        if self.store.refusal:
            return "not built", True
        if agree.contradicts(self.store.job):
            return "wait: survey", True
        known = self.store.making.summary
        if known is not None and (known.done or known.stale or known.begun):
            return known.words, bool(known.stale)
        wait = self._waits()
        return (f"wait: {wait}", True) if wait else ("ready", False)

    def _waits(self) -> str:
        """Why nobody should cut yet, in two words; the gravest first."""
        v, fit = self.store.verdict, self.store.fit
        lapsed = sum(w.startswith("Change ") for w in v.warnings)
        blocked = len(fit.open) if fit is not None else 0
        assumed = len(self.store.document.assumed)
        return next(
            (
                words
                for count, words in (
                    (len(v.short), "short"),
                    (len(v.unchecked), "unjudged"),
                    (lapsed, "a change lapsed"),
                    (blocked, f"{blocked} in the way"),
                    (assumed, "measure"),
                )
                if count
            ),
            "",
        )


__all__ = ["Cut"]
