"""Cut: what comes out of which bar and sheet, what is done, and the papers.  One page for each question."""

from __future__ import annotations

from pathlib import Path

from urial.desk.stations.cut.bars_page import BarsPage
from urial.desk.stations.cut.parts_page import PartsPage
from urial.desk.stations.cut.pieces_page import PiecesPage
from urial.desk.stations.cut.sheets_page import SheetsPage
from urial.desk.stations.cut.work_page import WorkPage
from urial.desk.stations.work import WorkStation
from urial.making.step import RANK
from urial.measure import agree


class Cut(WorkStation):
    """What do I cut?"""

    name = "Cut"
    columns = 5
    kinds = frozenset(k for k, n in RANK.items() if n < RANK["jig"])
    PAGES = (
        PartsPage,
        PiecesPage,
        BarsPage,
        SheetsPage,
        WorkPage,
    )

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
        known = self.summary
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
