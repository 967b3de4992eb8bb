"""Proof: the test pulled with load cell and gauge read live, judged as it goes, signed into the log."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from time import monotonic

from PySide6.QtWidgets import QGridLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urial import units
from urial.desk.scene.proof_view import ProofView
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import clear, label
from urial.desk.widgets.instrument import LiveReading
from urial.desk.widgets.off_box import OffBox
from urial.desk.widgets.segments import Segments
from urial.making.status import Stood
from urial.prove.proof_record import MOST, Foretold, Outcome, Pull, Reading, foretold, judged
from urial.prove.prooftest import ProofTest, proof_tests
from urial.services.lines import DIAL_GAUGE, LOAD_CELL
from urial.services.simulated import Simulated, gauge_line, load_line, pulled

APART_S = 0.5
"""Readings come no closer while it is recorded."""
KEPT = 60
"""So many pairs of a record stand in the log."""
POUND_kN = units.KG_PER_POUND * units.STANDARD_GRAVITY / 1000


class ProofPage(Page):
    """Does it hold what it must?"""

    name = "Proof"
    reads_plan = True
    bench_at = "proof"
    question = "Does it hold what it must?"
    needs_part = True

    def fill(self) -> None:
        self.canvas = self.picture = ProofView(self.theme)
        self.picture.force = lambda kN: units.show(1000 * kN, "force", self.store.job.units)
        self.picture.length = self._fine
        self.tests: tuple[ProofTest, ...] = ()
        self.chosen = 0
        self.recording = False
        self.which = Segments((), 1, "proof", self._choose)
        self.place = QVBoxLayout()
        self.column.addLayout(self.place)
        self.off = OffBox(self.store, self.theme, ("proof",))
        self.column.addWidget(self.off)
        self.outcome = label("", "head", wrap=True)
        self.outcome.setObjectName("proof outcome")
        self.column.addWidget(self.outcome)
        self.loads = label("", "", wrap=True)
        self.column.addWidget(self.loads)
        self.cell = LiveReading(
            "cell",
            LOAD_CELL,
            lambda: Simulated(line=load_line, noise=0.002, course=pulled(self._wanted_kN())),
            lambda kN: f"The load cell reads {self.picture.force(kN)}.",
            pattern=True,
        )
        self.gauge = LiveReading(
            "dial",
            DIAL_GAUGE,
            lambda: Simulated(line=gauge_line, noise=0.002, course=self._gives()),
            lambda mm: f"The gauge reads {self._fine(mm)}.",
            pattern=True,
        )
        self.gauge.port.setText("/dev/ttyUSB1")
        for live in (self.cell, self.gauge):
            self.column.addWidget(live)
            live.came.connect(self._came)
        self.column.addWidget(self._typed())
        self.column.addLayout(
            self.row(
                ("Take this reading", "take reading", self._take),
                ("Record", "record", self._record),
                ("Begin anew", "begin anew", self._anew),
                tips=(
                    "What is typed, or what both instruments read now",
                    "Every half second while both instruments are read, until it is pressed again",
                    "Drop what was read of this test; nothing is in the log yet",
                ),
            )
        )
        self.by = QLineEdit()
        self.by.setObjectName("proof by")
        self.by.setPlaceholderText("who tested it")
        self.by.setAccessibleName("who tested it")
        self.column.addWidget(self.by)
        self.column.addLayout(
            self.row(
                ("Sign it into the log", "sign proof", self._sign),
                tips=("A passed test ticks its step; a failed one is kept too, and leaves the part unrated",),
            )
        )
        self.done = label("", "quiet", wrap=True)
        self.column.addWidget(self.done)
        self._of: object = None

    def _typed(self) -> QWidget:
        holder = QWidget()
        grid = QGridLayout(holder)
        grid.setContentsMargins(0, 0, 0, 0)
        self.pull, self.moved = QLineEdit(), QLineEdit()
        for n, (line, words) in enumerate(((self.pull, "load, by hand"), (self.moved, "gauge, by hand"))):
            line.setObjectName(words.split(",")[0] + " typed")
            line.setAccessibleName(words)
            grid.addWidget(label(words), 0, n)
            grid.addWidget(line, 1, n)
        self.moved.returnPressed.connect(self._take)
        return holder

    @property
    def pulled(self) -> Pull:
        """The chosen test as far as it was pulled; kept with the store, so that no other page or size of the
        window loses it.
        """
        return self.store.making.pull(self._case())

    def _case(self) -> str:
        return self.tests[min(self.chosen, len(self.tests) - 1)].case.id if self.tests else ""

    @property
    def readings(self) -> list[Reading]:
        """What was read of the chosen test."""
        return self.pulled.readings

    # ---- what is asked for

    @property
    def wanted(self) -> Foretold | None:
        """What the chosen test should show."""
        if not self.tests:
            return None
        return foretold(self.store.verdict, self.tests[min(self.chosen, len(self.tests) - 1)])

    def _wanted_kN(self) -> float:
        return self.wanted.kN if self.wanted is not None else 1.0

    def _gives(self) -> Callable[[float], float]:
        """A stand-in gauge on a part that gives what was foretold under what the stand-in cell reads."""
        w, course = self.wanted, pulled(self._wanted_kN())
        begun = self.cell.simulated

        def mm(t: float) -> float:
            load = self.cell.value if begun is not None and self.cell.value is not None else course(t)
            return load * w.slope if w is not None else 0.0

        return mm

    def _step(self) -> Stood | None:
        if not self.tests:
            return None
        name = self.tests[min(self.chosen, len(self.tests) - 1)].case.id
        rows = (r for r in self.store.making.stood if r.step.kind == "proof" and r.state != "gone")
        return next((r for r in rows if r.step.key.endswith(f"|{name}")), None)

    def _choose(self, name: str) -> None:
        self.chosen, self.recording = int(name), False
        self.done.setText("")
        self.say("")
        self.refresh()

    # ---- what is read

    def _came(self) -> None:
        now = self._live()
        if self.recording and now is not None:
            at = monotonic() - self.pulled.begun
            if not self.readings or at - self.readings[-1].at >= APART_S:
                self._add(*now)
        self._shown()

    def _live(self) -> tuple[float, float] | None:
        """kN and mm as both instruments read now."""
        if self.cell.value is None or self.gauge.value is None:
            return None
        return self.cell.value, self.gauge.value

    def _add(self, force: float, far: float) -> None:
        stand_in = self.cell.simulated is not None or self.gauge.simulated is not None
        wanted = self.wanted
        pulls, job = self.store.making.pulls, self.store.job.id
        if wanted is not None and not pulls.add(job, self._case(), wanted, (force, far), stand_in):
            self.recording = False
            self.say(f"{MOST} readings are kept of a test; begin anew, or sign it.")

    def _take(self) -> None:
        self.say("")
        typed = self.pull.text().strip(), self.moved.text().strip()
        if any(typed):
            job = self.store.job
            try:
                force = units.parse(typed[0], "force", job.units) / 1000
                far = units.parse(typed[1], "length", job.units)
            except units.UnitError as error:
                self.say(str(error))
                return
        else:
            now = self._live()
            if now is None:
                self.say("Type the load and what the gauge reads, or read both instruments.")
                return
            force, far = now
        self._add(force, far)
        self.pull.clear()
        self.moved.clear()
        self.pull.setFocus()
        self._shown()

    def _record(self) -> None:
        if not self.recording and self._live() is None:
            self.say("Both instruments must be read to record; press Read or Simulated at each.")
            return
        self.recording = not self.recording
        self.say("")
        self._shown()

    def _anew(self) -> None:
        self.recording = False
        if self.tests:
            self.store.making.pull_anew(self.tests[self.chosen].case.id)
        self.done.setText("")
        self.say("")
        self.refresh()

    # ---- shown, judged, signed

    def refresh(self) -> None:
        v = self.store.verdict
        if v is not self._of:
            self._of = v
            self.tests = proof_tests(v) if self.store.has_part else ()
            self.chosen = min(self.chosen, max(len(self.tests) - 1, 0))
            clear(self.place)
            options = [(str(n), t.case.title) for n, t in enumerate(self.tests)]
            self.which = Segments(options if len(options) > 1 else (), 1, "proof", self._choose)
            self.place.addWidget(self.which)
        self.which.choose(str(self.chosen))
        self.off.refresh()
        n = len(self.readings)
        if (self.store.job.id, self._case()) in self.store.making.pulls.found:
            self.done.setText(
                f"{n} reading{'' if n == 1 else 's'} of before Urial ended {'is' if n == 1 else 'are'} here "
                "still: go on, sign, or begin anew."
            )
        self._shown()

    def judged(self) -> Outcome | None:
        """What the readings say, as far as they go."""
        return judged(self.wanted, self.readings) if self.wanted is not None else None

    def _shown(self) -> None:
        w, found = self.wanted, self.judged()
        if w is None or found is None:
            self.outcome.setText("Nothing is asked of it that could be tried.")
            self.picture.show_proof(None, (), None, self.outcome.text())
            return
        test = self.tests[self.chosen]
        inch = self.store.job.units == "inch"
        self.picture.shown = (units.MM_PER_INCH, POUND_kN) if inch else (1.0, 1.0)
        self.outcome.setText("\n".join(self.store.said(x) for x in found.words))
        self.loads.setText(
            "\n".join(test.loads)
            + self.store.said(
                f"\nThe gauge at the {test.gauge.name} should go {w.way} by {w.mm:.2f} mm at the full load."
            )
        )
        button = self.findChild(QPushButton, "record")
        assert button is not None
        button.setText("Stop recording" if self.recording else "Record")
        live = self._live()
        self.picture.show_proof(w, self.readings, (live[1], live[0]) if live is not None else None)

    def _sign(self) -> None:
        w, found, row = self.wanted, self.judged(), self._step()
        if w is None or found is None or row is None:
            self.say("The plan is being made; a moment." if w is not None else self.outcome.text())
            return
        if self.readings and self.pulled.wanted != w:
            self.say("The part, or what is asked of it, was changed since the test was begun: begin it anew.")
            return
        if found.state == "open":
            self.say(f"It is not at its end: {self.store.said(found.words[0])}")
            return
        if not self.by.text().strip():
            self.say("Say who tested it; the record is signed by name.")
            return
        self.recording = False
        if self.pulled.simulated:
            self.say("A simulated instrument proves nothing: this was for practice, and nothing is noted.")
            return
        every = max(len(self.readings) // KEPT, 1)
        pairs = " ".join(f"{r.kN:.2f}/{r.mm:.2f}" for r in self.readings[::every])
        words = f"{' '.join(found.words)} {self.by.text().strip()}, {date.today():%d %B %Y}. kN/mm: {pairs}"
        unit = next(iter(row.left), 1)
        if self.store.making.prove(row.step, unit, found, w.kN, words):
            kept = "ticked" if found.state == "passed" else "kept, and the part stays unrated"
            self.store.making.pulls.signed(self.store.job.id, self._case())
            self.done.setText(f"Signed by {self.by.text().strip()}: {kept}.")
        self.say(self.store.making.said)

    def _fine(self, mm: float) -> str:
        """A gauge's reading: hundredths, or thousandths of an inch."""
        return f"{mm:.2f} mm" if self.store.job.units == "metric" else f"{mm / 25.4:.3f} in"


__all__ = ["ProofPage"]
