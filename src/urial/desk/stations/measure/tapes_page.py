"""Tapes: places found by tapes from known ones, tapes and gauge readings that check the survey, and the live gauge."""

from __future__ import annotations

import math

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout

from urial.bench.lines import ANGLE_GAUGE, InstrumentError, LineReader
from urial.bench.simulated import Simulated
from urial.desk.stations.measure.page import Page
from urial.desk.widgets.fields import Field, clear, label
from urial.desk.widgets.rows import Rows
from urial.job.host import SIDES
from urial.job.model import Job
from urial.job.survey import Fix, Level, Mark, Tape, TapeTo
from urial.measure import agree
from urial.measure.places import Found, fixes, known_places
from urial.measure.survey_photo import Found as Picked
from urial.measure.survey_photo import as_hard_point


def _fresh_mark(job: Job) -> Mark:
    taken = {m.name for m in job.survey.marks}
    names = ["left hub", "right hub", "bumper corner", "rail end", *(f"mark {n}" for n in range(1, 60))]
    name = next(n for n in names if n not in taken)
    tyre, track = float(getattr(job.vehicle, "tyre_mm", 600.0)), float(getattr(job.vehicle, "track_mm", 800.0))
    spots = {"left hub": (0.0, track / 2, tyre / 2), "right hub": (0.0, -track / 2, tyre / 2)}
    behind, across, height = spots.get(name, (job.vehicle.left[-1].behind_mm + 100, 0.0, job.vehicle.left[-1].height_mm))
    return Mark(name=name, behind_mm=behind, across_mm=across, height_mm=height)


def _fresh_tape(job: Job) -> Tape:
    known = known_places(job.vehicle, job.survey)
    have = {frozenset((t.start, t.end)) for t in job.survey.tapes}
    last_left, last_right = (f"{side[0].upper()}{max(n for n, h in enumerate(job.vehicle.points(side), 1) if h.bolted or n == 1)}" for side in SIDES)
    wanted = [("L1", last_right), (last_left, "R1"), ("L1", "R1"), (last_left, last_right), ("L1", last_left), ("R1", last_right)]
    wanted += [(a, b) for a in known for b in known if a < b]
    start, end = next(((a, b) for a, b in wanted if a != b and frozenset((a, b)) not in have), ("L1", "R1"))
    return Tape(start=start, end=end, length_mm=round(max(math.dist(known[start], known[end]), 1.0), 1))


def _fresh_fix(job: Job) -> Fix:
    """Three tapes from places well apart to one a hand's breadth behind the last hole."""
    known = known_places(job.vehicle, job.survey)
    names = list(known)
    if len(names) < 3:
        raise ValueError("A fix wants three known places; add a mark or a hole first.")
    first = names[0]
    second = max(names, key=lambda n: math.dist(known[n], known[first]))
    third = max((n for n in names if n not in (first, second)), key=lambda n: math.dist(known[n], known[first]) + math.dist(known[n], known[second]))
    xs = [known[n][0] for n in names]
    target = (min(xs) - 200.0, 30.0, max(known[first][2] - 180.0, 60.0))
    chosen = [first, second, third, *(n for n in names if n not in (first, second, third))][:5]
    number = len(job.survey.fixes) + 1
    return Fix(name=f"P{number}", towards="rear", tapes=tuple(TapeTo(start=n, length_mm=round(math.dist(known[n], target), 0)) for n in chosen))


class TapesPage(Page):
    """Find a place by tapes; does the survey agree with itself?"""

    name = "Tapes"
    question = "Does it agree with itself?"

    def fill(self) -> None:
        self.verdict = label("", "", wrap=True)
        self.verdict.setObjectName("cross-check")
        self.column.addWidget(self.verdict)
        self.names = label("", "quiet", wrap=True)
        self.column.addWidget(self.names)
        ends = (("start", "from"), ("end", "to"))
        self.tapes = Rows(self.store, "survey.tapes", "Check tapes", "tape", (*ends, ("length_mm", "reads")), _fresh_tape)
        self.levels = Rows(self.store, "survey.levels", "Angle gauge", "reading", (*ends, ("reading_deg", "reads"), ("zero_deg", "on level")), lambda job: Level(start="L1", end=f"L{len(job.vehicle.left)}" if len(job.vehicle.left) > 1 else "R1"))
        self.column.addWidget(self.tapes)
        self.column.addWidget(self.levels)
        self._gauge()
        self.marks = Rows(self.store, "survey.marks", "Marks: known places", "mark", (("name", "name"), ("behind_mm", "behind"), ("across_mm", "to the left"), ("height_mm", "height")), _fresh_mark)
        self.column.addWidget(self.marks)
        head = QHBoxLayout()
        head.addWidget(label("Places found by tapes", "head"), 1)
        add = QPushButton("+ place")
        add.setObjectName("add:survey.fixes")
        add.setProperty("segment", True)
        add.clicked.connect(self._add_fix)
        head.addWidget(add)
        self.column.addLayout(head)
        self.fixes = QVBoxLayout()
        self.column.addLayout(self.fixes)
        self._made: object = None
        self._said: dict[int, object] = {}
        self._rows: list[Rows] = []

    def refresh(self) -> None:
        job = self.store.job
        check = agree.cross_check(job)
        self.verdict.setText(" ".join([check.words, *check.unused]))
        role = "problem" if check.wrong else "quiet"
        if self.verdict.property("role") != role:
            self.verdict.setProperty("role", role)
            self.verdict.style().unpolish(self.verdict)
            self.verdict.style().polish(self.verdict)
        self.names.setText("Places by name: " + ", ".join(known_places(job.vehicle, job.survey)))
        for rows in (self.tapes, self.levels, self.marks):
            rows.refresh()
        if len(job.survey.fixes) != self._made:
            self._made = len(job.survey.fixes)
            self._fix_forms()
        for rows in self._rows:
            rows.refresh()
        for n, found in enumerate(fixes(job.vehicle, job.survey)):
            words = self._said.get(n)
            if words is not None:
                words.setText(self._words(found))  # type: ignore[attr-defined]

    # ---- fixes

    def _fix_forms(self) -> None:
        clear(self.fixes)
        self._said, self._rows = {}, []
        for n in range(len(self.store.job.survey.fixes)):
            path = f"survey.fixes.{n}"
            self.fixes.addWidget(Field(self.store, f"{path}.name", title="name"))
            self.fixes.addWidget(Field(self.store, f"{path}.towards", title="it lies to the"))
            rows = Rows(self.store, f"{path}.tapes", "its tapes", "tape", (("start", "from"), ("length_mm", "tape")), lambda job: TapeTo(start="L1", length_mm=500.0), least=3)
            self._rows.append(rows)
            self.fixes.addWidget(rows)
            said = label("", "", wrap=True)
            said.setObjectName(f"fix:{n}")
            self._said[n] = said
            self.fixes.addWidget(said)
            row = QHBoxLayout()
            for words, name, slot in (("Hole on the left", f"take left:{n}", lambda _=False, k=n: self._take(k, "left")), ("on the right", f"take right:{n}", lambda _=False, k=n: self._take(k, "right")), ("Take away", f"drop fix:{n}", lambda _=False, k=n: self._drop(k))):
                button = QPushButton(words)
                button.setObjectName(name)
                button.setProperty("segment", True)
                button.clicked.connect(slot)
                row.addWidget(button)
            self.fixes.addLayout(row)

    def _words(self, found: Found) -> str:
        if found.located is None:
            return found.problem
        x, y, z = (float(v) for v in found.located.point)
        half, _ = found.located.ellipsoid
        d = self.store.job.survey.datum
        side = "left" if y - d.across_mm >= 0 else "right"
        words = f"{found.fix.name}: {self.length(-x - d.behind_mm)} behind, {self.length(abs(y - d.across_mm))} to the {side}, {self.length(z - d.height_mm)} high; within {float(half[0]):.1f} mm at 95 %. "
        words += "Tapes miss by " + ", ".join(f"{t.start} {r:+.1f}" for t, r in zip(found.fix.tapes, found.located.residuals, strict=True)) + " mm. "
        if found.located.suspect is not None:
            words += f"Measure the tape from {found.fix.tapes[found.located.suspect].start} again: it does not fit the others."
        elif found.located.disagree:
            words += "One of the tapes is wrong; a fifth from elsewhere would tell which."
        elif found.located.other is not None:
            words += f"Two places fit; this one lies to the {found.fix.towards if found.fix.towards not in ('up', 'down') else {'up': 'top', 'down': 'bottom'}[found.fix.towards]}."
        return words

    def _add_fix(self) -> None:
        try:
            new = _fresh_fix(self.store.job)
        except ValueError as error:
            self.say(str(error))
            return
        self.put("survey.fixes", (*self.store.job.survey.fixes, new), "add place by tapes")

    def _drop(self, n: int) -> None:
        rows = list(self.store.job.survey.fixes)
        del rows[n]
        self._made = None
        self.put("survey.fixes", tuple(rows), "take away place by tapes")

    def _take(self, n: int, side: str) -> None:
        """The place becomes a hard point of a side."""
        found = fixes(self.store.job.vehicle, self.store.job.survey)[n]
        if found.located is None:
            self.say(found.problem)
            return
        x, y, z = (float(v) for v in found.located.point)
        point = as_hard_point(Picked(found.fix.name, (x, y, z), (0.0, 0.0), None)).model_copy(update={"across_mm": round(abs(y), 1)})
        points = self.store.job.vehicle.points(side)
        self.put(f"vehicle.{side}", (*points, point), f"{side} hole from {found.fix.name}")

    # ---- gauge

    def _gauge(self) -> None:
        self.port = QLineEdit("/dev/ttyUSB0")
        self.port.setObjectName("gauge port")
        self.port.setAccessibleName("port of the angle gauge")
        self.live = label("Gauge not connected.", "quiet", wrap=True)
        self.live.setObjectName("gauge live")
        self.buttons: dict[str, QPushButton] = {}
        first, second = QHBoxLayout(), QHBoxLayout()
        first.addWidget(self.port, 1)
        second.addWidget(self.live, 1)
        for row, words, tip, slot in ((first, "Read", "Read the gauge on this port", self.toggle_gauge), (first, "Simulated", "A simulated gauge, to try it out", self.start_simulated),
                                      (second, "Zero", "Take what it reads now as level, for new readings", self._zero), (second, "Take", "Put what it reads into the last reading", self._take_reading)):  # fmt: skip
            button = QPushButton(words)
            button.setObjectName(f"gauge {words.lower()}")
            button.setToolTip(tip)
            button.setProperty("segment", True)
            button.clicked.connect(slot)
            row.addWidget(button)
            self.buttons[words] = button
        self.column.addLayout(first)
        self.column.addLayout(second)
        self._reader: LineReader | None = None
        self._simulated: Simulated | None = None
        self._value: float | None = None
        self._zeroed = 0.0
        self._quiet = 0
        self._timer = QTimer(self)
        self._timer.setInterval(100)
        self._timer.timeout.connect(self.poll)

    def start_simulated(self) -> None:
        """A simulated gauge on its own port."""
        self.stop_gauge()
        self._simulated = Simulated(value=1.3)
        self.port.setText(self._simulated.start())
        self.toggle_gauge()

    def toggle_gauge(self) -> None:
        """Begin to read, or stop."""
        if self._reader is not None:
            self.stop_gauge()
            return
        try:
            self._reader = LineReader(self.port.text().strip(), ANGLE_GAUGE, wait_s=0.005)
        except InstrumentError as error:
            self.live.setText(str(error))
            return
        self._quiet = 0
        self.buttons["Read"].setText("Stop")
        self.live.setText("Listening…")
        self._timer.start()

    def stop_gauge(self) -> None:
        """Let go of the port."""
        self._timer.stop()
        if self._reader:
            self._reader.close()
        if self._simulated:
            self._simulated.stop()
        self._reader = self._simulated = self._value = None
        self.buttons["Read"].setText("Read")
        self.live.setText("Gauge not connected.")

    def poll(self) -> None:
        """Take the newest reading; say what is wrong and go on."""
        if self._reader is None:
            return
        try:
            value = self._reader.latest()
        except InstrumentError as error:
            self._value = None
            self.live.setText(str(error))
            return
        self._quiet = 0 if value is not None else self._quiet + 1
        if value is not None:
            self._value = value
            self.live.setText(f"{value - self._zeroed:+.2f}° from level (reads {value:+.2f}°, level {self._zeroed:+.2f}°)")
        elif self._quiet > 15:
            self._value = None
            self.live.setText("The gauge has gone quiet; wake it or check the plug.")

    def _zero(self) -> None:
        if self._value is not None:
            self._zeroed = self._value

    def _take_reading(self) -> None:
        levels = self.store.job.survey.levels
        if self._value is None:
            self.say("There is no reading to take; connect the gauge first.")
            return
        last = levels[-1] if levels else Level(start="L1", end=f"L{len(self.store.job.vehicle.left)}" if len(self.store.job.vehicle.left) > 1 else "R1")
        new = last.model_copy(update={"reading_deg": round(self._value, 2), "zero_deg": round(self._zeroed, 2)})
        self.put("survey.levels", (*levels[:-1], new), "gauge reading")
