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
from urial.desk.widgets.fields import label
from urial.families._stack import at_front
from urial.loads import towing
from urial.loads.duties import carried
from urial.road import rig


class Load(PagedStation):
    """What it will carry, and what that does."""

    name = "Load"
    view = "side"
    wide = True
    arrows = True
    needs_part = False
    branches = ("duty", "duties", "deck")
    columns = 5
    PAGES = (DutiesPage, CasesPage, DeckPage, WeighPage, StancePage, SwingPage, SwayPage, WinchPage)

    _impossible: tuple[tuple[object, ...] | None, str]

    def impossible(self) -> str:
        """What of the load cannot be as it is written; kept while nothing of it changes."""
        job, assembly = self.store.job, self.store.verdict.assembly
        key = (job.vehicle, job.stack, job.duty, job.deck, job.running, job.survey.keep_outs, job.duties)
        if self._impossible[0] is None or any(
            a is not b for a, b in zip(key, self._impossible[0], strict=True)
        ):
            self._impossible = (
                key,
                rig.impossible(job, assembly, carried(job, assembly))
                if self.store.has_part and not at_front(job)
                else "",
            )
        return self._impossible[1]

    def fill(self) -> None:
        self._impossible = (None, "")
        super().fill()
        self.cannot = label("", "problem", wrap=True)
        self.cannot.setObjectName("impossible")
        self.column.insertWidget(2, self.cannot)

    def refresh(self) -> None:
        if self.isVisible():
            words = " ".join(
                x
                for x in (self.impossible(), rig.masses_words(self.store.job) if self.store.has_part else "")
                if x
            )
            self.cannot.setText(words)
            self.cannot.setVisible(bool(words))
        super().refresh()

    def page_of(self, path: str) -> str:
        """The page a field of the load is on, or nothing."""
        for start, page in (
            ("duty.", DutiesPage),
            ("duties.", DutiesPage),
            ("running.speed", SwayPage),
            ("running.jerk", SwayPage),
            ("running.grip", SwayPage),
            ("running.trailer_grip", SwayPage),
            ("running.", SwingPage),
            ("deck.", DeckPage),
        ):
            if path.startswith(start) and not path.startswith("duty.factors"):
                return page.name
        return ""

    def open_words(self) -> tuple[str, bool]:
        said = self.impossible()
        if said:
            return "cannot be so", True
        limits = sum(c.short for c in self.store.verdict.checks if c.kind == "rating")
        if limits:
            return f"{limits} over limit", True
        if self.store.has_part and self.store.job.duty.towed and towing.tongue_advice(self.store.job).warn:
            return "tongue weight", True
        if self.assumed:
            return f"{len(self.assumed)} assumed", False
        return (
            f"{count} dut{'y' if count == 1 else 'ies'}"
            if (count := len(self.store.job.duties)) and not self.store.has_part
            else "clear"
        ), False
