"""Bars: which bar next, what comes out of it, and the tick when it is cut."""

from __future__ import annotations

from collections import Counter

from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from urial.desk.scene.bars_view import BarsView
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import clear, label
from urial.desk.widgets.off_box import OffBox
from urial.desk.widgets.plain import plain
from urial.making.nests import BarCut


def ends_of(bar: BarCut) -> str:
    """How the next piece's ends are cut, for the saw."""
    a, b = bar.cuts[0].tilts
    if abs(a) < 1e-6 and abs(b) < 1e-6:
        return "square at both ends"
    said = []
    for name, t in (("first", a), ("second", b)):
        on_saw = f"{abs(t):.1f}° ({90 - abs(t):.1f}° between blade and bar)"
        said.append(f"{name} end {on_saw if abs(t) > 1e-6 else 'square'}")
    return ", ".join(said)


class BarsPage(Page):
    """Which bar next, and what comes out of it?"""

    name = "Bars"
    reads_plan = True
    bench_at = "saw"
    question = "Which bar next, and what comes out of it?"
    needs_part = True

    def fill(self) -> None:
        self.canvas = self.picture = BarsView(self.theme)
        self.picture.chosen.connect(self._chosen)
        self.next_head = label("", "strong", wrap=True)
        self.figure = label("", "big")
        self.figure.setObjectName("next cut")
        self.how = label("", "", wrap=True)
        for w in (self.next_head, self.figure, self.how):
            self.column.addWidget(w)
        self.cut = QPushButton("It is cut")
        self.cut.setObjectName("cut it")
        self.cut.setProperty("main", True)
        self.cut.clicked.connect(self._tick)
        self.column.addWidget(self.cut)
        self.column.addLayout(
            self.row(
                ("Take the last one back", "uncut", self._untick),
                tips=("An entry of the log is taken back by another; the piece is open again",),
            )
        )
        holding = self.row(
            ("Hold these for this job", "hold bars", lambda: self.store.making.hold()),
            ("Let them go", "let bars go", lambda: self.store.making.hold(False)),
            tips=(
                "Bars of the rack that this nest takes are free for no other job, for a fortnight",
                "What is held for this job is free for others again",
            ),
        )
        self.column.addLayout(holding)
        self.column.addWidget(label("F8: the same, readable from two metres", "quiet"))
        self.off = OffBox(self.store, self.theme, ("saw",))
        self.column.addWidget(self.off)
        self.sum = label("", "quiet", wrap=True)
        self.column.addWidget(self.sum)
        self.rows = QVBoxLayout()
        box = QWidget()
        box.setLayout(self.rows)
        self.rows.setContentsMargins(0, 0, 0, 0)
        self.column.addWidget(box)
        self.last: list[tuple[str, int]] = []

    @property
    def bars(self) -> tuple[BarCut, ...]:
        """Those with something to cut, the begun ones first."""
        nests = self.store.making.nests
        return tuple(sorted(nests.bars.bars, key=lambda b: not b.begun)) if nests is not None else ()

    def refresh(self) -> None:
        making, bars = self.store.making, self.bars
        work = making.work
        self.picture.length, self.picture.said = self.length, lambda t: self.store.said(t, beside=True)
        self.picture.waiting = (
            "Everything that comes out of a bar is cut."
            if making.nests is not None
            else "Bars are being laid out…"
        )
        self.picture.show_bars(bars, work.shop.saw.remnant_mm if work is not None else 300.0)
        self._next(bars)
        self._sums(bars)
        rack = bool(making.held_bars())
        for name in ("hold bars", "let bars go"):
            button = self.findChild(QPushButton, name)
            if button is not None:
                button.setVisible(rack)
        self.off.refresh()
        self.say(making.said)

    def _next(self, bars: tuple[BarCut, ...]) -> None:
        self.cut.setEnabled(bool(bars))
        if not bars:
            making = self.store.making
            self.next_head.setText("" if making.nests is None else "Nothing is left to cut from bars.")
            self.figure.setText("")
            self.how.setText("")
            return
        bar = bars[min(self.picture.selected, len(bars) - 1)]
        piece = bar.cuts[0].piece
        from_ = f", {bar.where}" if bar.where else ""
        rack = f" ({bar.rack} on the rack{from_})" if bar.rack else ""
        self.next_head.setText(
            self.store.said(f"Next: {piece.mark} from {bar.stock} {bar.material}", beside=True) + rack
        )
        self.figure.setText(self.length(bar.cuts[0].end - bar.cuts[0].start))
        rest = f"; {len(bar.cuts) - 1} more come out of this bar" if len(bar.cuts) > 1 else ""
        self.how.setText(f"{ends_of(bar)[0].upper()}{ends_of(bar)[1:]}{rest}.")

    def _sums(self, bars: tuple[BarCut, ...]) -> None:
        clear(self.rows)
        making = self.store.making
        nests, work = making.nests, making.work
        if nests is None or work is None:
            self.sum.setText("")
            return
        money = f"{nests.bars.price:.2f} {work.shop.currency}"
        least = (
            "and no way costs less"
            if nests.bars.price <= nests.bars.bound + 0.005
            else f"and nothing costs less than {nests.bars.bound:.2f}"
        )
        count = f"{len(bars)} bar{'s' if len(bars) != 1 else ''}"
        self.sum.setText(f"{count}, bought for about {money}, {least}. {work.why or work.shop.words}")
        for words in nests.bars.refused:
            self.rows.addWidget(label(self.store.said(words), "problem", wrap=True))
        for n, bar in enumerate(bars):
            cuts = self._cuts(bar)
            button = QPushButton(self.store.said(f"{n + 1}  {bar.stock}", beside=True))
            button.setObjectName(f"bar {n + 1}")
            button.setProperty("flat", True)
            button.setToolTip(plain(f"Cut from this one next: {cuts}"))
            button.clicked.connect(lambda _=False, k=n: self._chosen(k))
            self.rows.addWidget(button)
            self.rows.addWidget(label(cuts, "quiet", wrap=True))

    def _cuts(self, bar: BarCut) -> str:
        """What comes out of a bar, like pieces together."""
        alike = Counter((c.piece.mark, self.length(c.end - c.start)) for c in bar.cuts)
        return ", ".join(f"{n} × {m} {size}" if n > 1 else f"{m} {size}" for (m, size), n in alike.items())

    def _chosen(self, n: int) -> None:
        self.picture.choose(n)
        self._next(self.bars)

    def _tick(self) -> None:
        bars = self.bars
        work = self.store.making.work
        if not bars or work is None:
            return
        bar = bars[min(self.picture.selected, len(bars) - 1)]
        piece = bar.cuts[0].piece
        step = work.plan.by_key[piece.key]
        if self.store.making.tick(step, piece.unit, cut=(bar, bar.cuts[0])):
            self.last.append((piece.key, piece.unit))
            self.picture.selected = 0

    def _untick(self) -> None:
        making = self.store.making
        if making.work is None:
            return
        done = [r for r in making.stood if r.step.kind == "saw" and r.done]
        known = {r.step.key: r.step for r in done}
        while self.last:
            key, unit = self.last.pop()
            if key in known and making.untick(known[key], unit):
                return
        if done:
            making.untick(done[-1].step)


__all__ = ["BarsPage", "ends_of"]
