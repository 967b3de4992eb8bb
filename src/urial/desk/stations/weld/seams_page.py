"""Every seam with where to start the machine, in which order its runs are laid, how long to wait."""

from __future__ import annotations

from itertools import groupby
from math import dist

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QListWidget, QListWidgetItem

from urial import units
from urial.desk.scene.weld_view import WeldView
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import label
from urial.making.welding.order import Laid
from urial.making.welding.seams import Seam
from urial.session.work import Welding

TURN = Qt.ItemDataRole.UserRole


class SeamsPage(Page):
    """Where do I start, and what do I weld next?"""

    name = "Seams"
    reads_plan = True
    bench_at = "run"
    question = "Where do I start, and what do I weld next?"
    needs_part = True

    def fill(self) -> None:
        self.canvas = self.picture = WeldView(self.theme)
        self.sum = label("", "", wrap=True)
        self.pull = label("", "quiet", wrap=True)
        self.odds = label("", "problem", wrap=True)
        for w in (self.sum, self.pull, self.odds):
            self.column.addWidget(w)
        self.column.addWidget(label("Seams", "head"))
        self.list = self._listed("seams", 150)
        self.list.currentRowChanged.connect(lambda _: self._seam())
        self.words = label("", "", wrap=True)
        self.column.addWidget(self.words)
        self.column.addWidget(label("In this order", "head"))
        self.runs = self._listed("runs", 190)
        self.runs.currentRowChanged.connect(lambda _: self._run())
        self.column.addWidget(
            label(
                "Settings are where to start, never where to stay: run a coupon in the same metal first. "
                "Pull is an estimate that compares orders; measure the diagonals.",
                "quiet",
                wrap=True,
            )
        )
        self._of: tuple[Welding | None, str] = (None, "")

    def _listed(self, name: str, high: float) -> QListWidget:
        out = QListWidget()
        out.setObjectName(name)
        out.setMinimumHeight(self.theme.px(high))
        out.setMaximumHeight(self.theme.px(high + 40))
        out.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.column.addWidget(out)
        return out

    @property
    def found(self) -> Welding | None:
        """Seams and order, once they are known."""
        return self.store.making.welding

    def refresh(self) -> None:
        self.store.making.look_at_welds()
        found = self.found
        as_said = found, self.store.job.units
        if found is not None and found is self._of[0] and as_said[1] == self._of[1]:
            return
        self._of = as_said
        for box in (self.list, self.runs):
            box.blockSignals(True)
            box.clear()
        if found is None:
            self.sum.setText(
                "The order is being sought…" if self.store.making.work else "The plan is being made…"
            )
            for w in (self.pull, self.odds, self.words):
                w.setText("")
            self.picture.waiting = self.sum.text()
            self.picture.show_welds(None, (), "", (), 0)
        elif not found.seams:
            self.sum.setText("Nothing of it is welded.")
            self.picture.waiting = self.sum.text()
            self.picture.show_welds(None, (), "", (), 0)
        else:
            self._fill(found)
        for box in (self.list, self.runs):
            box.blockSignals(False)
        if found is not None and found.seams:
            self.list.setCurrentRow(0)
            self._seam()

    def _fill(self, found: Welding) -> None:
        order = found.order
        arc, wait = (sum(getattr(x, k) for x in order.laid) / 60 for k in ("arc", "wait"))
        count = len({x.turn for x in order.laid})
        lost = [s.number for s in found.seams if not s.reached]
        self.sum.setText(
            f"{len(found.seams)} seams in {count} short runs; {arc:.0f} minutes of arc and {wait:.0f} of "
            f"waiting." + (f" No gun reaches {', '.join(lost)}." if lost else "")
        )
        one, two = order.as_listed, order.in_order
        self.pull.setText(
            self.store.said(
                f"Expected pull, seam after seam: bow {one.camber:.1f} mm, lean {one.angle:.2f}°. "
                f"In this order: {two.camber:.1f} mm, {two.angle:.2f}°."
            )
        )
        self.odds.setText(found.odds)
        self.odds.setVisible(bool(found.odds))
        for s in found.seams:
            size = (
                f"⌀ {self.length(s.leg)}"
                if s.kind == "plug"
                else f"{units.show_leg(s.leg, self.store.job.units)}, {self.length(s.length)} long"
            )
            sign = "" if s.reached else "  ⚠"
            self.list.addItem(QListWidgetItem(f"{s.number}   {s.marks[0]} – {s.marks[1]}   {size}{sign}"))
        for turn, rows in groupby(order.laid, lambda x: x.turn):
            own = list(rows)
            wait_words = f"   first wait {own[0].wait / 60:.1f} min" if own[0].wait > 1 else ""
            item = QListWidgetItem(f"{turn}   {own[0].seam}{wait_words}")
            item.setData(TURN, turn)
            self.runs.addItem(item)

    def _chosen(self) -> Seam | None:
        found, n = self.found, self.list.currentRow()
        return found.seams[n] if found is not None and 0 <= n < len(found.seams) else None

    def _laid(self, number: str) -> tuple[Laid, ...]:
        found = self.found
        return tuple(x for x in found.order.laid if x.seam == number) if found is not None else ()

    def _seam(self) -> None:
        found, s = self.found, self._chosen()
        if found is None or s is None:
            return
        self.words.setText(self._words(s))
        self.grow()
        self.picture.show_welds(found.assembly, found.seams, s.number, self._laid(s.number), 0)

    def _words(self, s: Seam) -> str:
        times = f"{s.arc.passes} passes" if s.arc.passes > 1 else "one pass"
        rows = [
            f"{s.name}: {s.kind}. Start at {s.arc.amps:.0f} A, {s.arc.volts:.0f} V, "
            f"{s.process.replace('_', ' ')}, {times}."
        ]
        rows += [self.store.said(f"{w[0].upper()}{w[1:]}.") for w in (s.prep, s.warm, s.note) if w]
        turns = [str(t) for t in dict.fromkeys(x.turn for x in self._laid(s.number))]
        rows.append(f"Its runs are number {', '.join(turns)} of the order.")
        return "\n".join(rows)

    def _run(self) -> None:
        """The run that is chosen: where it begins, where it ends (a dot)."""
        found, item = self.found, self.runs.currentItem()
        if found is None or item is None:
            return
        turn = int(item.data(TURN))
        own = [x for x in found.order.laid if x.turn == turn]
        n = next((k for k, s in enumerate(found.seams) if s.number == own[0].seam), 0)
        self.list.blockSignals(True)
        self.list.setCurrentRow(n)
        self.list.blockSignals(False)
        seam = found.seams[n]
        seconds = sum(x.arc for x in own)
        wait = f" Wait {own[0].wait / 60:.1f} min before it." if own[0].wait > 1 else ""
        long = self.length(sum(dist(x.a, x.b) for x in own))
        self.words.setText(
            f"Run {turn}, of {seam.number}: {long} from the bare end to the dot, {seconds:.0f} s of "
            f"arc.{wait}\n" + self._words(seam)
        )
        self.picture.show_welds(found.assembly, found.seams, seam.number, self._laid(seam.number), turn)


__all__ = ["SeamsPage"]
