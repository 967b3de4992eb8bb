"""Bolts: which group is next, how long and how tight, which hole first."""

from __future__ import annotations

from PySide6.QtWidgets import QVBoxLayout, QWidget

from urial.desk.scene.bolt_view import BoltView
from urial.desk.scene.work_view import WorkView
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import clear, label
from urial.desk.widgets.segments import Segments
from urial.making.fastened import Bolted, words


class BoltsPage(Page):
    """Which bolt is next, and how tight?"""

    name = "Bolts"
    reads_plan = True
    bench_at = "torque"
    question = "Which bolt is next, and how tight?"
    needs_part = True

    def fill(self) -> None:
        self.canvas = QWidget()
        over = QVBoxLayout(self.canvas)
        over.setContentsMargins(0, 0, 0, 0)
        self.picture, self.part = BoltView(self.theme), WorkView(self.theme)
        over.addWidget(self.picture, 1)
        over.addWidget(self.part, 1)
        self.groups: tuple[Bolted, ...] = ()
        self.chosen = 0
        self.which = Segments((), 1, "bolts", self._choose)
        self.place = QVBoxLayout()
        self.column.addLayout(self.place)
        self.about = label("", "", wrap=True)
        self.about.setObjectName("about bolts")
        self.column.addWidget(self.about)
        self.bad = label("", "problem", wrap=True)
        self.column.addWidget(self.bad)
        self.column.addWidget(
            label(
                "Half the torque round once, then all of it, then once more; again after the first trips. "
                "Nuts that lock themselves are used once.",
                "quiet",
                wrap=True,
            )
        )
        self._of: object = None

    def refresh(self) -> None:
        work = self.store.making.work
        if work is None:
            self.picture.show_group(None, self.store.refusal or "The plan is being made…")
            return
        if self._of is not work:
            self._of = work
            self.groups = work.bolts
            clear(self.place)
            rows = [(str(n), f"{n + 1}  {self.store.said(r.name)}") for n, r in enumerate(self.groups)]
            self.which = Segments(rows, 1, "bolts", self._choose)
            self.place.addWidget(self.which)
        self._shown()
        self.grow()
        self.say(self.store.making.said)

    def _choose(self, key: str) -> None:
        self.chosen = int(key)
        self._shown()

    def _shown(self) -> None:
        work = self.store.making.work
        if work is None:
            return
        assembly = work.verdict.assembly
        if not self.groups:
            self.about.setText("Nothing is bolted.")
            self.bad.hide()
            self.picture.show_group(None, "Nothing is bolted.")
            self.part.show_work(assembly, {p.mark for p in assembly.parts}, ())
            return
        self.chosen = min(self.chosen, len(self.groups) - 1)
        row = self.groups[self.chosen]
        self.which.choose(str(self.chosen))
        self.about.setText(self.store.said(words(row)))
        self.bad.setText(self.store.said("\n".join(row.minds)))
        self.bad.setVisible(bool(self.bad.text()))
        tight = f"{row.torque:.0f} N·m dry" if row.torque else "by feel"
        self.picture.show_group(row, self.store.said(f"{row.name}: {row.count} × {row.bolt}, {tight}"))
        marks = {assembly.by_key[k].mark for k in row.parts}
        self.part.show_work(assembly, {p.mark for p in assembly.parts}, marks)


__all__ = ["BoltsPage"]
