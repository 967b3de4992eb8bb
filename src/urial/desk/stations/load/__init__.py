"""Load: what it will carry, pull and suffer.  One page for each question about it."""

from __future__ import annotations

from urial.desk.stations.load.cases_page import CasesPage
from urial.desk.stations.load.deck_page import DeckPage
from urial.desk.stations.load.duties_page import DutiesPage
from urial.desk.stations.load.stance_page import StancePage
from urial.desk.stations.load.sway_page import SwayPage
from urial.desk.stations.load.swing_page import SwingPage
from urial.desk.stations.load.weigh_page import WeighPage
from urial.desk.stations.load.winch_page import WinchPage
from urial.desk.stations.page import PagedStation
from urial.loads import towing


class Load(PagedStation):
    """What it will carry, and what that does."""

    name = "Load"
    view = "side"
    wide = True
    arrows = True
    needs_part = False
    columns = 5
    PAGES = (DutiesPage, CasesPage, DeckPage, WeighPage, StancePage, SwingPage, SwayPage, WinchPage)

    def page_of(self, path: str) -> str:
        """The page a field of the load is on, or nothing."""
        for start, page in (("duty.", DutiesPage), ("duties.", DutiesPage), ("running.speed", SwayPage), ("running.jerk", SwayPage), ("running.grip", SwayPage), ("running.trailer_grip", SwayPage), ("running.", SwingPage), ("deck.", DeckPage)):
            if path.startswith(start) and not path.startswith("duty.factors"):
                return page.name
        return ""

    def open_words(self) -> tuple[str, bool]:
        limits = sum(c.short for c in self.store.verdict.checks if c.kind == "rating")
        if limits:
            return f"{limits} over limit", True
        if self.store.has_part and self.store.job.duty.towed and towing.tongue_advice(self.store.job).warn:
            return "tongue weight", True
        return (f"{len(self.store.job.duties)} duties" if not self.store.has_part and self.store.job.duties else "clear"), False
