"""Clearances pinned to the drawing: between which two things, how much air is wanted, how much there is."""

from __future__ import annotations

from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urial import units
from urial.desk.store import Store
from urial.desk.widgets.fields import clear, label
from urial.desk.widgets.fold import Fold
from urial.desk.widgets.pickers import Picker
from urial.fit.clearance import gaps, things
from urial.job.model import Pinned


class Clearances(Fold):
    """What is pinned, each with its air and a way to take it away; two choices and a figure to pin more."""

    def __init__(self, store: Store) -> None:
        super().__init__(
            "Pin a clearance…",
            "pin clearance",
            "Keeps the air between two things on the drawing, and watched",
        )
        self.store = store
        self.pinned = QVBoxLayout()
        self.layout().insertLayout(0, self.pinned)  # type: ignore[union-attr]
        self.ends = []
        for name, words in (("clearance a", "between"), ("clearance b", "and")):
            row = QHBoxLayout()
            row.addWidget(label(words))
            box = Picker()
            box.setObjectName(name)
            box.setAccessibleName(words)
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            row.addWidget(box, 1)
            self.inner.addLayout(row)
            self.ends.append(box)
        row = QHBoxLayout()
        row.addWidget(label("air wanted"))
        self.wanted = QLineEdit()
        self.wanted.setObjectName("clearance wanted")
        self.wanted.setAccessibleName("air wanted")
        self.wanted.returnPressed.connect(self._pin)
        row.addWidget(self.wanted, 1)
        self.add = QPushButton("Pin it")
        self.add.setObjectName("clearance add")
        self.add.clicked.connect(self._pin)
        row.addWidget(self.add)
        self.inner.addLayout(row)
        self.said = label("", "problem", wrap=True)
        self.said.setObjectName("clearance said")
        self.said.hide()
        self.inner.addWidget(self.said)
        self._listed: object = None
        self._rows: object = None

    def refresh(self) -> None:
        """What is pinned now, and what may be."""
        super().refresh()
        job, assembly = self.store.job, self.store.verdict.assembly
        known = things(job, assembly)
        if tuple(known.items()) != self._listed:
            self._listed = tuple(known.items())
            for box in self.ends:
                before = box.currentData()
                box.clear()
                for key, (name, _) in known.items():
                    box.addItem(name, key)
                box.setCurrentIndex(max(box.findData(before), 0))
        if not self.wanted.text():
            self.wanted.setText(self._show(10.0))
        found = gaps(job, assembly)
        rows = (found, job.clearances, job.units)
        if rows == self._rows:
            return
        self._rows = rows
        clear(self.pinned)
        by_pin = {g.pin: g for g in found}
        for n, pin in enumerate(job.clearances):
            g = by_pin.get(pin)
            a, b = g.labels if g else (pin.a, pin.b)
            air = f"{self._show(g.mm)}, {self._show(pin.wanted_mm)} wanted" if g else "not there now"
            line = QWidget()
            row = QHBoxLayout(line)
            row.setContentsMargins(0, 0, 0, 0)
            words = label(f"{a} to {b}: {air}", "problem" if g is None or g.short else "", wrap=True)
            words.setObjectName(f"clearance:{n}")
            row.addWidget(words, 1)
            away = QPushButton("Take away")
            away.setObjectName(f"clearance away:{n}")
            away.clicked.connect(lambda _=False, k=n: self._drop(k))
            row.addWidget(away)
            self.pinned.addWidget(line)

    def _show(self, value: float) -> str:
        return units.show(value, "length", self.store.job.units, self.store.job.nearest)

    def _pin(self) -> None:
        a, b = (str(box.currentData() or "") for box in self.ends)
        try:
            wanted = units.parse(self.wanted.text(), "length", self.store.job.units)
            if not 0 <= wanted <= 5000:
                raise ValueError("The air wanted is from 0 to 5 m.")
            if a == b:
                raise ValueError("Both are the same; choose two different things.")
            if any({p.a, p.b} == {a, b} for p in self.store.job.clearances):
                raise ValueError("That clearance is pinned already; take it away to pin another figure.")
        except ValueError as error:
            self.said.setText(str(error))
            self.said.show()
            return
        self.said.hide()
        rows = (*self.store.job.clearances, Pinned(a=a, b=b, wanted_mm=wanted))
        self._put(rows, "pin a clearance")

    def _drop(self, n: int) -> None:
        rows = tuple(p for k, p in enumerate(self.store.job.clearances) if k != n)
        self._put(rows, "take a clearance away")

    def _put(self, rows: tuple[Pinned, ...], words: str) -> None:
        self.store.put_job(self.store.job.model_copy(update={"clearances": rows}), "clearances", words)


__all__ = ["Clearances"]
