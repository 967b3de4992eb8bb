"""A station of the work itself: its pages read the plan and the log, its tab says how far its steps are."""

from __future__ import annotations

from typing import ClassVar

from urial.desk.making import ACCOUNT
from urial.desk.stations.page import PagedStation
from urial.making.status import Summary, summary

NEWS = ("plan", "nests", "closer", "welding", "price", ACCOUNT)


class WorkStation(PagedStation):
    """Of some kinds of steps."""

    marks = True
    view = "side"
    kinds: ClassVar[frozenset[str]] = frozenset()
    """The kinds of steps its tab counts; none: it counts nothing."""

    def fill(self) -> None:
        super().fill()
        self.store.answered.connect(self._heard)

    def _heard(self, name: str) -> None:
        if name in NEWS and not self.store.asking.busy("plan"):
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
    def summary(self) -> Summary | None:
        """How far its own steps are; None until the plan is made, or where it has none."""
        making = self.store.making
        if making.work is None:
            return None
        rows = [r for r in making.stood if r.step.kind in self.kinds]
        return summary(rows) if rows else None

    def open_words(self) -> tuple[str, bool]:
        if self.store.refusal:
            return "not built", True
        known = self.summary
        if known is None:
            return "", False
        if not (known.done or known.begun or known.stale):
            return "to do", False
        return known.words, bool(known.stale)


__all__ = ["NEWS", "WorkStation"]
