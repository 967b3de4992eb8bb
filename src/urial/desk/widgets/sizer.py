"""Size it: what is to be least, what may change; looked for off the window's thread; three answers, one click
each.
"""

from __future__ import annotations

import math

from PySide6.QtCore import QLocale
from PySide6.QtWidgets import (
    QCheckBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from urial import units
from urial.assembly.bodies import total_mass
from urial.desk.store import Store
from urial.desk.theme import Theme
from urial.desk.widgets.fields import clear, label
from urial.desk.widgets.fold import Fold
from urial.desk.widgets.pickers import Picker
from urial.desk.widgets.word_button import WordButton
from urial.job import edit
from urial.prove.sizing import Aim, Sized, Sizes, Wish, choosable
from urial.prove.trade import Way

AIMS: tuple[tuple[Aim, str], ...] = (
    ("mass", "least mass"),
    ("fewest", "fewest stocks"),
    ("price", "least price"),
)
PRICED = ("bar", "plate", "hardware")


def way_button(store: Store, way: Way, name: str) -> QPushButton:
    """A way of the trade as a button that takes it, one step of undo."""
    now = ("gone then" if way.utilisation <= 0 else f"{100 * way.utilisation:.0f} % used then") + (
        f", next weakest {100 * way.worst:.0f} %" if way.worst > way.utilisation + 0.005 else ""
    )
    weight = f", {units.figure(way.kg, 1, True)} kg" if abs(way.kg) >= 0.05 else ""
    money = f", {way.money.words}" if way.money else ""
    button = WordButton(store.said(f"{way.words[0].upper()}{way.words[1:]}\n{now}{weight}{money}"))
    button.setObjectName(name)
    button.setProperty("flat", True)
    button.setToolTip("Click to make this change; one step of undo takes it back")
    button.clicked.connect(lambda: store.put_job(way.job, way.changes[0][0], way.words))
    return button


class SizeIt(Fold):
    """A button that opens what may be asked, and the answers under it."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__("Size it…", "size it", "Sizes from stock that hold, the lightest first")
        self.store, self.theme = store, theme
        inner = self.inner
        top = QGridLayout()
        self.aim = Picker()
        self.aim.setObjectName("size for")
        self.aim.setAccessibleName("what is to be least")
        for key, words in AIMS:
            self.aim.addItem(words, key)
        self.aim.currentIndexChanged.connect(self.refresh)
        self.target = QLineEdit("100")
        self.target.setObjectName("size target")
        self.target.setAccessibleName("used at most, percent")
        top.addWidget(label("wanted"), 0, 0)
        top.addWidget(self.aim, 0, 1)
        top.addWidget(label("used at most, %"), 1, 0)
        top.addWidget(self.target, 1, 1)
        self.leg = QLineEdit()
        self.leg.setObjectName("size leg")
        self.leg.setAccessibleName("largest weld leg")
        self.leg.setPlaceholderText("any")
        self.leg.setToolTip("What the machine lays in one pass; empty: any leg")
        top.addWidget(label("largest leg"), 2, 0)
        top.addWidget(self.leg, 2, 1)
        self.prices: dict[str, QLineEdit] = {}
        self.price_rows: list[QWidget] = []
        for n, kind in enumerate(PRICED, 3):
            self.prices[kind] = QLineEdit()
            self.prices[kind].setObjectName(f"price:{kind}")
            self.prices[kind].setAccessibleName(f"price of a kilogram, {kind}")
            costs = label(f"a kg of {kind} costs")
            top.addWidget(costs, n, 0)
            top.addWidget(self.prices[kind], n, 1)
            self.price_rows += [costs, self.prices[kind]]
        inner.addLayout(top)
        self.racked = QCheckBox("only what lies on the rack")
        self.racked.setObjectName("size rack")
        inner.addWidget(self.racked)
        self.which = QPushButton()
        self.which.setObjectName("what may change")
        self.which.setCheckable(True)
        self.which.setProperty("flat", True)
        self.which.clicked.connect(self.refresh)
        inner.addWidget(self.which)
        self.tick_box = QWidget()
        self.ticks = QVBoxLayout(self.tick_box)
        self.ticks.setContentsMargins(0, 0, 0, 0)
        self.ticks.setSpacing(0)
        inner.addWidget(self.tick_box)
        buttons = QHBoxLayout()
        self.go = QPushButton("Find sizes")
        self.go.setObjectName("find sizes")
        self.go.clicked.connect(self._ask)
        self.stop = QPushButton("Stop")
        self.stop.setObjectName("stop sizing")
        self.stop.clicked.connect(lambda: self.store.asking.drop("size"))
        buttons.addWidget(self.go, 1)
        buttons.addWidget(self.stop)
        inner.addLayout(buttons)
        self.said = label("", "quiet", wrap=True)
        self.said.setObjectName("sizing")
        inner.addWidget(self.said)
        self.answers = QVBoxLayout()
        inner.addLayout(self.answers)
        self.kept: set[str] = set()
        self._ticked: object = None
        self._told: object = None
        self.store.answered.connect(self._answered)
        self.refresh()

    def refresh(self) -> None:
        """Show what may be asked, what is being looked for, and what was found."""
        super().refresh()
        if not self.open.isChecked():
            return
        self.racked.setVisible(bool(self.store.making.rack))
        for w in self.price_rows:
            w.setVisible(self.aim.currentData() == "price")
        self._tick()
        self.tick_box.setVisible(self.which.isChecked())
        looking = self.store.sizes_looking
        self.go.setEnabled(not looking and self.store.has_part and not self.store.refusal)
        self.stop.setVisible(bool(looking))
        found = self.store.sized
        if looking:
            self.said.setText(f"Looking… {looking}")
        elif found is not None:
            self.said.setText(
                self.store.said(found.why)
                if not found.found
                else f"{found.tried} tried; the best that hold:"
                if len(found.found) > 1
                else f"{found.tried} tried; what holds:"
            )
        elif self._told is not None:
            self.said.setText("")
        if found is not self._told:
            self._told = found
            clear(self.answers)
            for n, s in enumerate(found.found if found else ()):
                self.answers.addWidget(self._answer(n, s))
            if found is not None and not found.found:
                if found.nearest is not None:
                    self.answers.addWidget(label("This comes nearest, and is still short:", "", wrap=True))
                    self.answers.addWidget(self._answer(0, found.nearest, ""))
                if found.ways:
                    self._ways(found)

    def _wish(self, target: float, keep: tuple[str, ...], prices: dict[str, float], leg: float) -> Wish:
        only = self.racked.isVisible() and self.racked.isChecked()
        stocks = frozenset(self.store.making.rack) if only else frozenset[str]()
        return Wish(self.aim.currentData(), target, keep, prices=prices, leg_mm=leg, stocks=stocks)

    def _answered(self, name: str) -> None:
        if name in ("size", "rack"):
            self.refresh()

    def _tick(self) -> None:
        """A tick for every size that may be chosen."""
        job = self.store.job
        paths = choosable(job) if self.store.has_part else ()
        free = len([p for p in paths if p not in self.kept])
        all_ = "all" if free == len(paths) else f"{free} of {len(paths)}"
        self.which.setText(f"May change: {all_} sizes{'' if self.which.isChecked() else '…'}")
        if (paths, job.units) == self._ticked:
            return
        self._ticked = (paths, job.units)
        clear(self.ticks)
        names = {p.id: p.family for p in job.stack}
        for path in paths:
            piece = names.get(path.split(".")[1], "").replace("-", " ")
            box = QCheckBox(
                f"{edit.spec_of(job, path).title}, {piece}"
                if len(names) > 1
                else edit.spec_of(job, path).title
            )
            box.setObjectName(f"size:{path}")
            box.setChecked(path not in self.kept)
            box.toggled.connect(lambda on, p=path: self._keep(p, not on))
            self.ticks.addWidget(box)

    def _keep(self, path: str, kept: bool) -> None:
        """A size stays as it is, or may change again."""
        if kept:
            self.kept.add(path)
        else:
            self.kept.discard(path)
        self._tick()

    def _answer(self, n: int, s: Sizes, head: str | None = None) -> QFrame:
        head = f"{n + 1}   " if head is None else head
        now = total_mass(self.store.verdict.assembly)
        price = f", price {QLocale().toString(s.price, 'f', 2)}" if s.price is not None else ""
        change = units.figure(s.mass_kg - now, 1, True)
        weight = f"{units.show(s.mass_kg, 'mass', self.store.job.units)} ({change} kg)"
        rows = [
            f"{edit.spec_of(s.job, p).title}: {edit.shown(self.store.job, p)} → {edit.shown(s.job, p)}"
            for p in s.changes
            if not p.endswith(".changes")
        ]
        if s.also:
            rows.insert(0, f"as the trade would: {self.store.said(s.also)}")
        card = QFrame()
        card.setObjectName("card")
        inner = QVBoxLayout(card)
        inner.setContentsMargins(10, 6, 10, 6)
        inner.setSpacing(self.theme.px(2))
        said = self.store.said
        inner.addWidget(label(said(f"{head}{weight}{price}, {s.stocks} stocks"), "strong", wrap=True))
        inner.addWidget(label(said(f"{100 * s.utilisation:.0f} % used, {s.words}"), "quiet", wrap=True))
        inner.addWidget(label("\n".join(rows or ["as it is"]), "", wrap=True))
        if s.changes:
            take = QPushButton("Take these sizes")
            take.setObjectName(f"sizes:{n}")
            take.setToolTip("One step of undo takes them back")
            take.clicked.connect(lambda: self._take(s))
            inner.addWidget(take)
        return card

    def _ways(self, found: Sized) -> None:
        """What the trade would do, the most for a kilogram first."""
        head = label("What the trade would do takes this off the weak link, the most for a kilogram first:")
        head.setWordWrap(True)
        self.answers.addWidget(head)
        for n, way in enumerate(found.ways):
            self.answers.addWidget(way_button(self.store, way, f"way:{n}"))

    def _take(self, s: Sizes) -> None:
        self.store.put_job(s.job, next(iter(s.changes)), f"sizes from stock, {len(s.changes)} changed")

    def _ask(self) -> None:
        """Begin, if what is asked for can be understood."""
        try:
            target = units.parse(self.target.text(), "number") / 100
            if not 0 < target <= 1:
                raise ValueError("Used at most: between 1 and 100 %.")
            leg = self.leg.text().strip()
            most = units.parse(leg, "length", self.store.job.units) if leg else math.inf
            prices = {}
            if self.aim.currentData() == "price":
                for kind, box in self.prices.items():
                    prices[kind] = units.parse(box.text(), "number")
                    if prices[kind] < 0:
                        raise ValueError(f"A kilogram of {kind} cannot cost less than nothing.")
        except ValueError as error:
            self.said.setText(str(error))
            return
        keep = tuple(sorted(self.kept))
        self.store.size_it(self._wish(target, keep, prices, most))
