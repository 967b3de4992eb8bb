"""What every station has: a number, a name, a line that says what is open there, and a slate."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QFrame, QScrollArea, QVBoxLayout, QWidget

from urial.desk.store import Store
from urial.desk.theme import Theme


class Station(QScrollArea):
    """A slate: the selected thing's few numbers, in one scrolling column."""

    name = ""
    view = "side"
    wide = False  # show the whole rear of the vehicle, or the part alone
    arrows = False  # load arrows
    marks = False  # marks of the parts list
    survey = False  # the vehicle's dimensions instead of the part's
    sockets = False  # open places glow
    findings = False  # what is in the way is marked
    needs_part = True  # not shown for a survey without a part

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        self.setObjectName(f"station:{self.name}")
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.body = QWidget()
        self.column = QVBoxLayout(self.body)
        self.column.setContentsMargins(theme.px(16), theme.px(12), theme.px(14), theme.px(12))
        self.column.setSpacing(theme.px(4))
        self.setWidget(self.body)
        self.fill()
        self.column.addStretch(1)
        self._late = True  # filled when it is first seen
        for signal in (store.changed, store.selected, store.case_changed):
            signal.connect(self._news)

    def _news(self) -> None:
        """Show it now if this station is seen, else when it is."""
        self._late = not self.isVisible() or not self.useful
        if not self._late:
            self.refresh()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        if self._late and self.useful:
            self._late = False
            self.refresh()

    @property
    def useful(self) -> bool:
        """Has it anything to show for this job?"""
        return not self.needs_part or self.store.has_part

    def fill(self) -> None:
        """Make the widgets once."""

    def refresh(self) -> None:
        """Show the store's present state."""

    def forget(self) -> None:
        """Another job is opened: nothing of the one before stays."""

    @property
    def bench_at(self) -> str:
        """The step or kind of work that the bench view opens at from here."""
        return ""

    def open_words(self) -> tuple[str, bool]:
        """What is open here, and whether it needs a hand."""
        return "clear", False
