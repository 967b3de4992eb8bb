"""Tapes: places found by tapes from known ones, tapes and gauge readings that check the survey, and the
live gauge.
"""

from __future__ import annotations

import math
from functools import partial

from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout

from urial import units
from urial.desk.stations.page import Page, tone
from urial.desk.widgets.fields import Field, clear, label
from urial.desk.widgets.instrument import LiveReading
from urial.desk.widgets.rows import Rows
from urial.job.host import SIDES
from urial.job.model import Job
from urial.job.survey import Fix, Level, Mark, Tape, TapeTo
from urial.measure import agree
from urial.measure.places import Found, fixes, known_places
from urial.measure.survey_photo import Found as Picked
from urial.measure.survey_photo import as_hard_point
from urial.services.lines import ANGLE_GAUGE
from urial.services.simulated import Simulated


def _fresh_mark(job: Job) -> Mark:
    taken = {m.name for m in job.survey.marks}
    names = ["left hub", "right hub", "bumper corner", "rail end", *(f"mark {n}" for n in range(1, 60))]
    return Mark(name=next(n for n in names if n not in taken))


def _fresh_level(job: Job) -> Level:
    return Level(start="L1", end=f"L{len(job.vehicle.left)}" if len(job.vehicle.left) > 1 else "R1")


def _fresh_tape(job: Job) -> Tape:
    known = known_places(job.vehicle, job.survey)
    have = {frozenset((t.start, t.end)) for t in job.survey.tapes}
    last_left, last_right = (
        f"{side[0].upper()}{max(n for n, h in enumerate(job.vehicle.points(side), 1) if h.bolted or n == 1)}"
        for side in SIDES
    )
    wanted = [
        ("L1", last_right),
        (last_left, "R1"),
        ("L1", "R1"),
        (last_left, last_right),
        ("L1", last_left),
        ("R1", last_right),
    ]
    wanted += [(a, b) for a in known for b in known if a < b]
    start, end = next(((a, b) for a, b in wanted if a != b and frozenset((a, b)) not in have), ("L1", "R1"))
    return Tape(start=start, end=end)


def _fresh_fix(job: Job) -> Fix:
    """Tapes from three places well apart, and two more to check them; none read yet."""
    known = known_places(job.vehicle, job.survey)
    names = list(known)
    if len(names) < 3:
        raise ValueError("A fix wants three known places; add a mark or a hole first.")
    first = names[0]
    second = max(names, key=lambda n: math.dist(known[n], known[first]))
    third = max(
        (n for n in names if n not in (first, second)),
        key=lambda n: math.dist(known[n], known[first]) + math.dist(known[n], known[second]),
    )
    chosen = [first, second, third, *(n for n in names if n not in (first, second, third))][:5]
    number = len(job.survey.fixes) + 1
    return Fix(name=f"P{number}", towards="rear", tapes=tuple(TapeTo(start=n) for n in chosen))


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
        self.tapes = Rows(
            self.store, "survey.tapes", "Check tapes", "tape", (*ends, ("length_mm", "reads")), _fresh_tape
        )
        self.levels = Rows(
            self.store,
            "survey.levels",
            "Angle gauge",
            "reading",
            (*ends, ("reading_deg", "reads"), ("zero_deg", "on level")),
            _fresh_level,
        )
        self.column.addWidget(self.tapes)
        self.column.addWidget(self.levels)
        self._gauge()
        self.marks = Rows(
            self.store,
            "survey.marks",
            "Marks: known places",
            "mark",
            (
                ("name", "name"),
                ("behind_mm", "behind"),
                ("across_mm", "to the left"),
                ("height_mm", "height"),
            ),
            _fresh_mark,
        )
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
        self._made: int | None = None
        self._said: dict[int, QLabel] = {}
        self._rows: list[Rows] = []

    def refresh(self) -> None:
        job = self.store.job
        check = agree.cross_check(job)
        self.verdict.setText(self.store.said(" ".join([check.words, *check.unused])))
        tone(self.verdict, "problem" if check.wrong else "quiet")
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
                words.setText(self.store.said(self._words(found)))
                tone(
                    words,
                    "problem"
                    if (found.located is not None and found.located.disagree)
                    or (found.located is None and not found.waits)
                    else "",
                )

    # ---- fixes

    def _fix_forms(self) -> None:
        clear(self.fixes)
        self._said, self._rows = {}, []
        for n in range(len(self.store.job.survey.fixes)):
            path = f"survey.fixes.{n}"
            self.fixes.addWidget(Field(self.store, f"{path}.name", title="name"))
            self.fixes.addWidget(Field(self.store, f"{path}.towards", title="it lies to the"))
            rows = Rows(
                self.store,
                f"{path}.tapes",
                "its tapes",
                "tape",
                (("start", "from"), ("length_mm", "tape")),
                lambda job: TapeTo(start="L1"),
                least=3,
            )
            self._rows.append(rows)
            self.fixes.addWidget(rows)
            said = label("", "", wrap=True)
            said.setObjectName(f"fix:{n}")
            self._said[n] = said
            self.fixes.addWidget(said)
            self.fixes.addLayout(
                self.row(
                    ("Hole on the left", f"take left:{n}", partial(self._take, n, "left")),
                    ("on the right", f"take right:{n}", partial(self._take, n, "right")),
                    ("Take away", f"drop fix:{n}", partial(self._drop, n)),
                )
            )

    def _words(self, found: Found) -> str:
        if found.located is None:
            return found.problem
        x, y, z = (float(v) for v in found.located.point)
        half, _ = found.located.ellipsoid
        d = self.store.job.survey.datum
        side = "left" if y - d.across_mm >= 0 else "right"
        words = (
            f"{found.fix.name}: {self.length(-x - d.behind_mm)} behind, "
            f"{self.length(abs(y - d.across_mm))} to the {side}, {self.length(z - d.height_mm)} high; "
            f"within {units.figure(float(half[0]), 1)} mm at 95 %. "
        )
        words += (
            "Tapes miss by "
            + ", ".join(
                f"{t} {units.figure(r, 1, True)} mm"
                for t, r in zip(found.starts, found.located.residuals, strict=True)
            )
            + ". "
        )
        if found.located.suspect is not None:
            words += (
                f"Measure the tape from {found.starts[found.located.suspect]} again: it does not fit "
                "the others."
            )
        elif found.located.disagree:
            words += "One of the tapes is wrong; a fifth from elsewhere would tell which."
        elif found.located.other is not None:
            side = {"up": "top", "down": "bottom"}.get(found.fix.towards, found.fix.towards)
            words += f"Two places fit; this one lies to the {side}."
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
        point = as_hard_point(Picked(found.fix.name, (x, y, z), (0.0, 0.0), None)).model_copy(
            update={"across_mm": round(abs(y), 1)}
        )
        points = self.store.job.vehicle.points(side)
        self.put(
            f"vehicle.{side}",
            (*points, point),
            f"{side} hole from {found.fix.name}",
            self.store.document.by_hand("vehicle"),
        )

    # ---- gauge

    def _gauge(self) -> None:
        self._zeroed = 0.0
        self.gauge = LiveReading(
            "gauge",
            ANGLE_GAUGE,
            lambda: Simulated(value=1.3),
            lambda v: self.store.said(
                f"{v - self._zeroed:+.2f}° from level (reads {v:+.2f}°, level {self._zeroed:+.2f}°)"
            ),
        )
        self.column.addWidget(self.gauge)
        self.column.addLayout(
            self.row(
                ("Zero here", "gauge zero", self._zero),
                ("Take reading", "gauge take", self._take_reading),
                tips=(
                    "Take what it reads now as level, for new readings",
                    "Put what it reads into the last reading",
                ),
            )
        )

    def _zero(self) -> None:
        if self.gauge.value is not None:
            self._zeroed = self.gauge.value

    def _take_reading(self) -> None:
        levels = self.store.job.survey.levels
        if self.gauge.value is None:
            self.say("There is no reading to take; connect the gauge first.")
            return
        last = levels[-1] if levels else _fresh_level(self.store.job)
        new = last.model_copy(
            update={"reading_deg": round(self.gauge.value, 2), "zero_deg": round(self._zeroed, 2)}
        )
        self.put("survey.levels", (*levels[:-1], new), "gauge reading", self.gauge.origin())
