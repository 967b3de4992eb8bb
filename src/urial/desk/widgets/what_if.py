"""What if: a size or a load swept, what matters most, the most it may carry; off the window's thread."""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QPushButton, QWidget

from urial import units
from urial.assembly.model import BuildError
from urial.desk.store import Store
from urial.desk.theme import Theme
from urial.desk.widgets.chart import Chart, Curve, Lever
from urial.desk.widgets.fields import label
from urial.desk.widgets.fold import Fold
from urial.desk.widgets.pickers import Picker, Slider
from urial.job import edit
from urial.job.file import FileError, named, os_words, write_atomically
from urial.papers.plate_chart import plate_chart
from urial.prove.chance import Chance, rows
from urial.prove.verdict import CAUTION
from urial.prove.whatif import Bar, Envelope, Sweep, carried, span_of, sweepable
from urial.session.asked import CHANCE, MATTERS, MOST
from urial.session.questions import State

QUESTION = "what if"
SLIDES = 1000
"""Steps of the slider."""
SHOWN = 9
"""So many bars are shown."""


class WhatIf(Fold):
    """A button that opens a choice of figures, and a chart of the one chosen."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__(
            "What if…",
            "what if",
            "Sweeps a size or a load; what matters most; the most it may carry; the chance of being short",
        )
        self.store, self.theme = store, theme
        inner = self.inner
        self.choice = Picker()
        self.choice.setObjectName("swept")
        self.choice.setAccessibleName("what is changed")
        self.choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.choice.activated.connect(self._ask)
        inner.addWidget(self.choice)
        row = QHBoxLayout()
        self.said = label("", "", wrap=True)
        self.said.setObjectName("swept said")
        row.addWidget(self.said, 1)
        self.stop = QPushButton("Stop")
        self.stop.setObjectName("stop sweeping")
        self.stop.clicked.connect(self._stop)
        row.addWidget(self.stop, 0, Qt.AlignmentFlag.AlignTop)
        inner.addLayout(row)
        self.chart = Chart(theme)
        inner.addWidget(self.chart)
        self.slide = QWidget()
        slide = QHBoxLayout(self.slide)
        slide.setContentsMargins(0, 0, 0, 0)
        self.slider = Slider(Qt.Orientation.Horizontal)
        self.slider.setObjectName("sweep slider")
        self.slider.setAccessibleName("the figure that is swept")
        self.slider.setRange(0, SLIDES)
        self.slider.setPageStep(SLIDES // 20)
        self.slider.valueChanged.connect(self._slid)
        slide.addWidget(self.slider, 1)
        self.take = QPushButton()
        self.take.setObjectName("sweep take")
        self.take.setToolTip("Puts this figure into the job; one step of undo takes it back")
        self.take.clicked.connect(self._take_it)
        slide.addWidget(self.take)
        self.slide.hide()
        inner.addWidget(self.slide)
        self.here = label("", "", wrap=True)
        self.here.setObjectName("sweep here")
        self.here.hide()
        inner.addWidget(self.here)
        self.more = label("", "quiet", wrap=True)
        inner.addWidget(self.more)
        self.plate = QPushButton("Chart for the plate…")
        self.plate.setObjectName("plate chart")
        self.plate.setToolTip("A small PDF, 100 by 80 mm, to print beside the rating plate")
        self.plate.clicked.connect(self._plate)
        self.plate.hide()
        inner.addWidget(self.plate)
        store.answered.connect(self._answered)
        self._asked: tuple[object, str] | None = None
        self._listed: object = None
        self.found: Sweep | Envelope | Chance | list[Bar] | None = None

    def refresh(self) -> None:
        """Show what may be chosen; what was found of another job is found again."""
        super().refresh()
        if not self.open.isChecked() or not self.store.has_part or self.store.refusal:
            self._drop()
            return
        self._list()
        if self._asked is None or self._asked[0] is not self.store.job:
            self._ask()

    def _list(self) -> None:
        job = self.store.job
        paths = sweepable(job)
        most = carried(job)
        if (paths, most, job.units) == self._listed:
            return
        self._listed = (paths, most, job.units)
        before = self.choice.currentData()
        self.choice.clear()
        self.choice.addItem("the most it may carry", MOST)
        for key, title in list(most.items())[1:]:
            self.choice.addItem(f"the most of {title}", f"{MOST}:{key}")
        self.choice.addItem("what matters most", MATTERS)
        self.choice.addItem("the chance of being short", CHANCE)
        names = {p.id: p.family.replace("-", " ") for p in job.stack}
        for path in paths:
            of = names.get(path.split(".")[1], "") if path.startswith("stack.") else ""
            title = edit.spec_of(job, path).title
            self.choice.addItem(f"{title}, {of}" if of and len(names) > 1 else title, path)
        self.choice.setCurrentIndex(max(self.choice.findData(before), 0))

    def _ask(self) -> None:
        """Begin; the newest question wins."""
        job, what = self.store.job, str(self.choice.currentData() or MOST)
        self._asked, self.found = (job, what), None
        self.stop.show()
        self.more.setText("")
        self.more.setToolTip("")
        for w in (self.chart, self.plate, self.slide, self.here):
            w.hide()
        self.said.setText("Looking…")
        self.store.asking.ask(QUESTION, State(job, about=what))

    def _drop(self) -> None:
        """Nobody waits for it any more."""
        if self.store.asking.busy(QUESTION):
            self.store.asking.drop(QUESTION)

    def _stop(self) -> None:
        self._drop()
        self.stop.hide()
        self.said.setText("Stopped before it was known.")

    def _answered(self, name: str) -> None:
        if name != QUESTION:
            return
        asking = self.store.asking
        if asking.busy(name):
            words = asking.words(name)
            self.said.setText(f"Looking… {words}" if words else "Looking…")
        elif asking.about(name) is not None:
            self._take(asking.answer(name))

    def _take(self, found: object) -> None:
        self.stop.hide()
        self.found = None
        if isinstance(found, Sweep):
            self.found = found
            self._sweep(found)
        elif isinstance(found, Envelope):
            self.found = found
            self._envelope(found)
        elif isinstance(found, Chance):
            self.found = found
            self._chance(found)
        elif isinstance(found, list) and found:
            self.found = found
            self._matters(found)
        else:
            self.said.setText("There is nothing here to sweep.")

    def _show(self, path: str, value: float) -> str:
        kind = edit.spec_of(self.store.job, path).quantity
        job = self.store.job
        return units.show(value, kind, job.units, job.nearest) if kind else f"{value:.4g}"

    def _sweep(self, s: Sweep) -> None:
        def show(value: float) -> str:
            return self._show(s.path, value)

        now = next((u for v, u in zip(s.values, s.used, strict=True) if v == s.now), math.nan)
        self.chart.show_curve(
            Curve(
                [float(v) for v in s.values],
                [float(u) for u in s.used],
                [self.store.said(g) for g in s.governs],
                [k.value for k in s.kinks],
                (s.now, float(now)),
                show,
                lambda u: f"{100 * u:.0f} %",
                limit=1.0,
            ),
            "governing utilisation against " + edit.spec_of(self.store.job, s.path).title,
        )
        self.chart.show()
        self._slide_to(s)
        edges = [
            f"down to {show(s.least)}" if s.least is not None else "",
            f"up to {show(s.most)}" if s.most is not None else "",
        ]
        low, high = span_of(self.store.job, s.path)
        if math.isfinite(now) and now < 1:
            held = " and ".join(e for e in edges if e) or f"from {show(low)} to {show(high)}"
            self.said.setText(f"Holds {held}; now {show(s.now)}, {100 * now:.0f} % used.")
        else:
            first = next(
                (
                    v
                    for v, u in sorted(zip(s.values, s.used, strict=True), key=lambda x: abs(x[0] - s.now))
                    if u < 1
                ),
                None,
            )
            self.said.setText(
                f"Short as it is; would hold at {show(float(first))}."
                if first is not None
                else f"Short as it is, and from {show(low)} to {show(high)}."
            )
        self.more.setText(
            self.store.said(
                "\n".join(
                    f"From {show(k.value)}: {k.after or 'cannot be built'}, before it {k.before}."
                    for k in s.kinks
                )
            )
        )

    def _slide_to(self, s: Sweep) -> None:
        """Show the slider at what the figure is now."""
        self.slider.blockSignals(True)
        self.slider.setValue(self._place_of(s))
        self.slider.blockSignals(False)
        self.slide.show()
        self.here.show()
        self._slid()

    def _place_of(self, s: Sweep) -> int:
        """Where the slider stands for what the figure is now."""
        low, high = float(s.values[0]), float(s.values[-1])
        return round(SLIDES * min(max((s.now - low) / max(high - low, 1e-12), 0.0), 1.0))

    def _at(self, s: Sweep) -> float:
        """The figure the slider stands for, in round steps of the job's units."""
        low, high = float(s.values[0]), float(s.values[-1])
        if self.slider.value() == self._place_of(s):
            return s.now
        value = low + (high - low) * self.slider.value() / SLIDES
        if edit.spec_of(self.store.job, s.path).quantity == "length":
            step = units.MM_PER_INCH / 16 if self.store.job.units == "inch" else 1.0
            value = min(max(round(value / step) * step, low), high)
        return value

    def _slid(self) -> None:
        """What the sweep says at the slider's figure, between the values that were proved."""
        s = self.found
        if not isinstance(s, Sweep):
            return
        value = self._at(s)
        known = [(float(v), float(u)) for v, u in zip(s.values, s.used, strict=True) if math.isfinite(u)]
        moved = abs(value - s.now) > 1e-6
        self.chart.point(value if moved else None)
        self.take.setText(f"Take {self._show(s.path, value)}")
        self.take.setEnabled(moved)
        if not known:
            self.here.setText("It cannot be built at any of these.")
            return
        k = min(range(len(s.values)), key=lambda n: abs(float(s.values[n]) - value))
        used = float(np.interp(value, [v for v, _ in known], [u for _, u in known]))
        what = self.store.said(s.governs[k]) or "it cannot be built there"
        self.here.setText(f"At {self._show(s.path, value)} about {100 * used:.0f} % used: {what}.")

    def _take_it(self) -> None:
        if isinstance(self.found, Sweep):
            try:
                self.store.put(self.found.path, self._at(self.found))
            except (edit.EditError, BuildError) as error:
                self.here.setText(str(error))

    def _envelope(self, e: Envelope) -> None:
        kind: units.Kind = "mass" if e.unit == "kg" else "force"
        across: units.Kind | None = None if "degrees" in e.across else "length"
        job = self.store.job

        def show_x(value: float) -> str:
            return units.show(value, across, job.units, job.nearest) if across else f"{value:.0f}°"

        def show_y(value: float) -> str:
            return units.show(value, kind, job.units)

        self.chart.show_curve(
            Curve(
                [float(v) for v in e.values],
                [float(v) for v in e.most],
                [self.store.said(w) for w in e.limits],
                [],
                e.now,
                show_x,
                show_y,
                filled=True,
            ),
            f"{e.upwards} against {e.across}",
        )
        self.chart.show()
        k = min(range(len(e.values)), key=lambda n: abs(e.values[n] - e.now[0]))
        self.said.setText(
            f"{e.upwards[0].upper()}{e.upwards[1:]}: up to {show_y(float(e.most[k]))} "
            f"at {show_x(float(e.values[k]))}, "
            f"then {self.store.said(e.limits[k])}. Asked now: {show_y(e.now[1])}."
        )
        self.more.setText(f"Across: {e.across}. {CAUTION}")
        self.plate.show()

    def _chance(self, c: Chance) -> None:
        """Of so many parts as they might come out, which share uses no more than what."""
        share = c.hard if c.again is None or c.hard.as_drawn >= c.again.as_drawn else c.again
        n = len(share.used)
        if n > 1:
            self.chart.show_curve(
                Curve(
                    [float(u) for u in share.used],
                    [(k + 1) / n for k in range(n)],
                    ["short" if u >= 1 else "holds" for u in share.used],
                    [1.0] if share.used[0] < 1.0 < share.used[-1] else [],
                    (share.as_drawn, float((share.used <= share.as_drawn).mean())),
                    lambda u: f"{100 * u:.0f} %",
                    lambda y: f"{100 * y:.0f} %",
                    filled=True,
                ),
                "share of the parts that use no more than this",
            )
            self.chart.show()
        self.said.setText("\n".join(c.words))
        links = [f"{self.store.said(name)} in {count}" for name, count in share.governs[:3]]
        self.more.setText(
            f"Up: the share of the parts that use no more than what is across"
            f"{', again and again' if share is c.again else ''}. Weakest: {'; '.join(links)}. "
            f"What strays: {'; '.join(r.words for r in rows().values())}. "
            "Loads, limits of the vehicle and categories of endurance stay as they are."
        )
        self.more.setToolTip("\n".join(f"{r.words}: {r.said}. {r.source}" for r in rows().values()))

    def _plate(self) -> None:
        """Write the chart for the plate where somebody chooses."""
        if not isinstance(self.found, Envelope):
            return
        name, _ = QFileDialog.getSaveFileName(self, "Chart for the plate", "plate.pdf", "PDF (*.pdf)")
        if not name:
            return
        try:
            path = named(Path(name), ".pdf")
            write_atomically(path, plate_chart(self.store.job, self.found))
            self.said.setText(f"Written to {path}.")
        except FileError as error:
            self.said.setText(str(error))
        except OSError as error:
            self.said.setText(f"The chart cannot be written there: {os_words(error)}.")

    def _matters(self, bars: list[Bar]) -> None:
        shown = [b for b in bars if b.span > 0.002][:SHOWN]
        middle = self.store.verdict.weak_link.utilisation
        self.chart.show_bars([Lever(b.title, b.less, b.more) for b in shown], middle, "what matters most")
        self.chart.show()
        if shown:
            self.said.setText(
                f"A tenth of {shown[0].title} matters most: {100 * shown[0].less:.0f} % with less, "
                f"{100 * shown[0].more:.0f} % with more; now {100 * middle:.0f} %."
            )
        else:
            self.said.setText("A tenth of no figure changes the weak link.")
        rest = len(bars) - len(shown)
        self.more.setText(f"{rest} other figures change it by less, or not at all." if rest else "")
