"""Behind: a scan, a model or a drawn outline stands behind the part, set by places measured on both."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from pathlib import Path

from PySide6.QtWidgets import QComboBox, QFileDialog, QHBoxLayout, QPushButton, QVBoxLayout

from urial.desk.stations.page import Page, tone
from urial.desk.widgets.fields import clear, label, within
from urial.desk.widgets.fold import Told
from urial.desk.widgets.pickers import Picker
from urial.desk.worker import Failed, Worker
from urial.geometry.place import Vec
from urial.job.origin import Origin
from urial.job.survey import Backdrop, BodyBehind, Mark, Meet, OutlineBehind
from urial.measure import backdrop, foreign
from urial.measure.taken import BackdropError
from urial.prove.verdict import prove
from urial.session.questions import State, Stopped, Tell, register

KINDS = "Bodies and outlines (*.step *.stp *.igs *.iges *.stl *.obj *.ply *.dxf);;All files (*)"
FIELDS = (
    "title",
    "shown",
    "unit",
    "behind_mm",
    "across_mm",
    "height_mm",
    "lies",
    "turn_deg",
    "tip_deg",
    "roll_deg",
    "scale",
)
FAR_OFF = 3.0
"""A known place is told in red from so many times what a tape is good to."""


@register("backdrop nearness", key=lambda s: (s.job, s.about))
def nearness_words(s: State, stopped: Stopped, tell: Tell) -> str:
    """The air between a backdrop and each part, the least first."""
    if not isinstance(s.about, tuple):
        return "There is no backdrop now."
    b, data = s.about
    if data is None:
        return "Its file is missing from the job."
    try:
        rows = backdrop.air(backdrop.load(data, b.file), b, prove(s.job).assembly, stopped)
    except BackdropError as words:
        return str(words)
    lines = [f"{name}: " + ("shares room with it" if mm <= 0 else f"{mm:.1f} mm") for name, mm in rows[:6]]
    return "\n".join(lines) or f"Nothing of the part comes nearer than {backdrop.FAR:.0f} mm."


class BackdropPage(Page):
    """What stands behind it."""

    name = "Behind"
    question = "What stands behind it?"

    def fill(self) -> None:
        self.column.addWidget(
            label(
                "A scan, a maker's model or a traced card stands behind the part: to look at, to pick places "
                "from. Nothing is judged by it.",
                "quiet",
                wrap=True,
            )
        )
        row = QHBoxLayout()
        self.pick = Picker()
        self.pick.setObjectName("backdrop")
        self.pick.setAccessibleName("backdrop")
        self.pick.setMinimumContentsLength(8)
        self.pick.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.pick.currentIndexChanged.connect(self._show)
        row.addWidget(self.pick, 1)
        row.addLayout(
            self.row(
                ("+ file…", "add backdrop", self._ask),
                ("Take away", "drop backdrop", self._drop),
                tips=("STEP, IGES, STL, OBJ, PLY or DXF",),
            )
        )
        self.column.addLayout(row)
        reading = QHBoxLayout()
        self.told = label("", "quiet", wrap=True)
        self.stop = QPushButton("Stop")
        self.stop.setObjectName("stop reading")
        self.stop.setProperty("segment", True)
        self.stop.clicked.connect(self._stop)
        reading.addWidget(self.told, 1)
        reading.addWidget(self.stop)
        self.column.addLayout(reading)
        self.stop.hide()
        self.told.hide()
        self.places = QVBoxLayout()
        self.column.addLayout(self.places)
        self.advice = label("", "quiet", wrap=True)
        self.column.addWidget(self.advice)
        self.form = QVBoxLayout()
        self.column.addLayout(self.form)
        self.nearness = Told(
            self.store,
            (
                "How near does the part come?",
                "backdrop nearness",
                "The air between it and each part, least first",
            ),
            "backdrop nearness",
            "quiet",
            self._about_nearness,
        )
        self.nearness.hide()
        self.column.addWidget(self.nearness)
        self._worker = Worker(self, self._taken)
        self._reading: Path | None = None
        self._made: object = None
        self._rows: object = None
        self._asked = -1

    # ---- what is shown

    @property
    def number(self) -> int:
        """Which one is open, or -1."""
        return self.pick.currentIndex() if self.store.job.survey.backdrops else -1

    def _open(self) -> Backdrop | None:
        every = self.store.job.survey.backdrops
        return every[self.number] if 0 <= self.number < len(every) else None

    def refresh(self) -> None:
        names = [f"{n}  {b.title}" for n, b in enumerate(self.store.job.survey.backdrops, 1)]
        self.offer(self.pick, names)
        self._show()

    def choose_for(self, path: str) -> None:
        number = path.removeprefix("survey.backdrops.").split(".")[0]
        if number.isdigit():
            self.pick.setCurrentIndex(int(number))

    def _show(self) -> None:
        b = self._open()
        if self._asked != self.number:
            self._asked = self.number
            self.nearness.ask_again()
        else:
            self.nearness.refresh()
        made = (self.number, None if b is None else b.kind)
        if made != self._made:
            self._made = made
            clear(self.form)
            for name in FIELDS if b is not None else ():
                field = within(self.store, f"survey.backdrops.{self.number}.{name}")
                self.form.addWidget(field)
            self.nearness.setVisible(b is not None)
        self._known(b)

    def _known(self, b: Backdrop | None) -> None:
        """The places that are known, how far each is off, and what can be done about it."""
        job = self.store.job
        known = backdrop.named_places(job.vehicle, job.survey)
        rows = tuple((o.meet.to, o.mm) for o in backdrop.offs(b, known)) if b else ()
        now = (self.number, b is None, rows, tuple(known), job.units)
        if now != self._rows:
            self._rows = now
            clear(self.places)
            if b is not None:
                self._place_rows(rows, tuple(known), FAR_OFF * job.survey.tape_sigma_mm)
        words = self._advice(b, known) if b else ""
        self.advice.setText(words)
        self.advice.setVisible(bool(words))

    def _place_rows(
        self, rows: tuple[tuple[str, float | None], ...], known: tuple[str, ...], most: float
    ) -> None:
        for n, (name, mm) in enumerate(rows):
            line = QHBoxLayout()
            words = "is not measured any more" if mm is None else f"{self.length(mm)} off"
            text = label(f"{name}  ·  {words}")
            tone(text, "problem" if mm is None or mm > most else "quiet")
            line.addWidget(text, 1)
            away = QPushButton("×")
            away.setObjectName(f"drop known:{n}")
            away.setAccessibleName(f"{name} is not known")
            away.setProperty("segment", True)
            away.clicked.connect(lambda _=False, k=n: self._forget(k))
            line.addWidget(away)
            self.places.addLayout(line)
        line = QHBoxLayout()
        self.which = Picker()
        self.which.setObjectName("known place")
        self.which.setAccessibleName("measured place")
        taken = {name for name, _ in rows}
        self.which.addItems([*(k for k in known if k not in taken), *(k for k in known if k in taken)])
        line.addWidget(self.which, 1)
        line.addLayout(
            self.row(
                ("is here…", "pick known", self._ask_known),
                ("Set it by them", "set by places", self._set),
                tips=(
                    "Click this measured place on the backdrop",
                    "Move and turn it so that its known places lie where they were measured",
                ),
            )
        )
        self.places.addLayout(line)
        self.places.addLayout(
            self.row(
                ("Mark a place of it…", "mark place", self._ask_mark),
                ("Look at it", "look at backdrop", self.look),
                tips=("A place clicked on the backdrop becomes a mark of the survey", "It fills the drawing"),
            )
        )

    def _advice(self, b: Backdrop, known: dict[str, Vec]) -> str:
        """What is wrong with it, or what to do next."""
        data = self.store.document.attachments.get(b.file)
        if data is None:
            return f"What {b.title} showed is missing from the job; take the file in again."
        try:
            backdrop.check(data, b.file)
        except BackdropError as words:
            return str(words)
        fitting = backdrop.times_too_small(b, known)
        if fitting is not None and abs(fitting[0] - 1) > 0.02 and fitting[1] < 0.05:
            unit = backdrop.unit_that_fits(b, fitting[0])
            return f"Between its known places it is {1 / fitting[0]:.4g} times as large as measured" + (
                f": the file is in {unit}, so choose that." if unit else "; look at unit and scale."
            )
        if not b.meets:
            return "Choose a measured place, click “is here…”, then click it on the backdrop; three set it."
        if abs(b.scale - 1) > 1e-9:
            k = b.scale
            return (
                f"Shown at {k:.4g} times its size. A copy made so has {k**2:.3g} times the strength and "
                f"{k**3:.3g} times the mass; drill its holes to the next standard size."
            )
        return ""

    # ---- taking in

    def _ask(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Take in a body or an outline", str(Path.home()), KINDS)
        if name:
            self.add(Path(name))

    def add(self, path: Path) -> None:
        """Read a file, off this thread; what was read before comes first."""
        self._reading = path
        self.say("")
        self.told.setText(f"Reading {path.name}…")
        self.told.show()
        self.stop.show()

        def read(stale: Callable[[], bool]) -> object:
            try:
                taken = foreign.take(path, stale)
                backdrop.load(taken.data, taken.name)  # its edges are found here, not when it is painted
                return taken
            except BackdropError as words:
                return words

        self._worker.ask(read)

    def _stop(self) -> None:
        self._worker.drop()
        self._reading = None
        self.stop.hide()
        self.told.setText("Stopped; nothing was taken in.")

    def _taken(self, result: object) -> None:
        path, self._reading = self._reading, None
        self.stop.hide()
        self.told.hide()
        if path is None:
            return
        if isinstance(result, BackdropError):
            self.say(str(result))
            return
        if isinstance(result, Failed) or not isinstance(result, foreign.Taken):
            self.say(f"{path.name} could not be read; the log says why.")
            return
        self.store.document.attach(result.name, result.data)
        kind = OutlineBehind if result.kind == "outline" else BodyBehind
        host = self.store.job.vehicle
        new = kind(
            title=path.stem[:60],
            file=result.name,
            unit=result.unit,
            behind_mm=host.left[0].behind_mm,
            height_mm=host.left[0].height_mm,
        )
        every = self.store.job.survey.backdrops
        if self.put("survey.backdrops", (*every, new), f"put {path.stem} behind"):
            self.refresh()
            self.pick.setCurrentIndex(len(every))
            self.told.setText(f"{path.name}: {result.told}.")
            self.told.show()

    def _drop(self) -> None:
        every = list(self.store.job.survey.backdrops)
        if every:
            gone = every.pop(self.number)
            self.put("survey.backdrops", tuple(every), f"take away backdrop {gone.title}")
            self.told.hide()
            self.refresh()

    # ---- where it stands

    def _replace(self, changed: Backdrop, words: str) -> bool:
        every = list(self.store.job.survey.backdrops)
        every[self.number] = changed
        return self.put("survey.backdrops", tuple(every), words)

    def _ask_known(self) -> None:
        name, b = self.which.currentText(), self._shown()
        if b is not None and name:
            number = self.number
            self.store.ask_behind(
                f"Click {name} on {b.title}.", number, lambda at, what: self._meet(number, name, at, what)
            )

    def _meet(self, number: int, name: str, at: Vec, what: str) -> None:
        self.pick.setCurrentIndex(number)
        b = self._open()
        if b is None:
            return
        x, y, z = (round(v, 6) for v in at)
        rest = tuple(m for m in b.meets if m.to != name)
        changed = b.model_copy(update={"meets": (*rest, Meet(x=x, y=y, z=z, to=name))})
        if self._replace(changed, f"{name} on {b.title}"):
            self.told.setText(f"{name}: {what}.")
            self.told.show()
            self.refresh()

    def _forget(self, n: int) -> None:
        b = self._open()
        if b is not None:
            meets = tuple(m for k, m in enumerate(b.meets) if k != n)
            self._replace(b.model_copy(update={"meets": meets}), f"forget {b.meets[n].to} on {b.title}")

    def _set(self) -> None:
        b, job = self._open(), self.store.job
        if b is None:
            return
        try:
            changed = backdrop.set_by_places(b, backdrop.named_places(job.vehicle, job.survey))
        except BackdropError as words:
            self.say(str(words))
            return
        if self._replace(changed, f"set {b.title} by its places"):
            self.refresh()

    def look(self) -> None:
        """Fill the drawing with it."""
        b = self._open()
        if b is None or b.file not in self.store.document.attachments:
            return
        try:
            shape = backdrop.load(self.store.document.attachments[b.file], b.file)
        except BackdropError as words:
            self.say(str(words))
            return
        self.store.looked.emit(backdrop.box_on_host(b, shape))

    def _about_nearness(self) -> tuple[Backdrop, bytes | None] | None:
        """The open backdrop and its file, as the question is about them."""
        every = self.store.job.survey.backdrops
        if not 0 <= self._asked < len(every):
            return None
        return every[self._asked], self.store.document.attachments.get(every[self._asked].file)

    def _shown(self) -> Backdrop | None:
        """The open one, if it can be clicked on; said where it cannot."""
        b = self._open()
        if b is not None and not b.shown:
            self.say(f"{b.title} is not shown; show it to pick a place on it.")
            return None
        return b

    def _ask_mark(self) -> None:
        b = self._shown()
        if b is not None:
            number = self.number
            self.store.ask_behind(
                f"Click the place on {b.title}.", number, lambda at, what: self._mark(number, at, what)
            )

    def _mark(self, number: int, at: Vec, what: str) -> None:
        job = self.store.job
        b = job.survey.backdrops[number]
        x, y, z = (round(float(v), 1) for v in backdrop.spot_on_host(b, at))
        taken = set(backdrop.named_places(job.vehicle, job.survey))
        name = next(n for k in range(1, 1000) if (n := f"M{k}") not in taken)
        mark = Mark(name=name, behind_mm=-x, across_mm=y, height_mm=z)
        source = Origin(how="read", by=b.title, on=date.today().isoformat())
        if self.put("survey.marks", (*job.survey.marks, mark), f"mark {name} on {b.title}", source):
            self.told.setText(f"{name}: {what} of {b.title}, among the marks now.")
            self.told.show()
