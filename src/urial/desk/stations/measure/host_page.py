"""Host: what it bolts to, from its numbers."""

from __future__ import annotations

from itertools import groupby

from PySide6.QtWidgets import QPushButton, QVBoxLayout

from urial.desk.stations.page import Page
from urial.desk.widgets.fields import clear, form, label
from urial.desk.widgets.segments import Segments
from urial.families import fitting, start_part
from urial.job import edit
from urial.job.host import kinds, title


class HostPage(Page):
    """What is it bolted to?"""

    name = "Host"
    question = "What does it go on?"

    def fill(self) -> None:
        self.column.addWidget(label("A kind starts from round figures of its size; measure and type over them. The drawing follows.", "quiet", wrap=True))
        self.kinds = Segments([(k, title(k)) for k in kinds()], 3, "kind", self._choose)
        self.column.addWidget(self.kinds)
        self.start_holder = QVBoxLayout()
        self.column.addLayout(self.start_holder)
        self.place = QVBoxLayout()
        self.column.addLayout(self.place)
        self._made: object = None

    def _choose(self, kind: str) -> None:
        job = self.store.job
        if kind != getattr(job.vehicle, "kind", ""):
            self.store.put_job(edit.with_host(job, kind), "vehicle", f"host {title(kind).lower()}", "assumed")
        self.refresh()

    def _start(self, family: str) -> None:
        from urial.assembly.model import BuildError

        try:
            self.store.put_job(start_part(self.store.job, family), "stack", f"start {family}", "assumed")
        except BuildError as error:
            self.say(str(error))

    def refresh(self) -> None:
        job = self.store.job
        self.kinds.choose(getattr(job.vehicle, "kind", ""))
        shape = (type(job.vehicle), job.has_part)
        if shape == self._made:
            return
        self._made = shape
        clear(self.place)
        clear(self.start_holder)
        if not job.has_part:
            fits = fitting(job)
            for family in fits:
                button = QPushButton(f"Start a {family.title.lower()} on it")
                button.setObjectName(f"start:{family.name}")
                button.setProperty("main", True)
                button.clicked.connect(lambda _=False, n=family.name: self._start(n))
                self.start_holder.addWidget(button)
            if not fits:
                self.start_holder.addWidget(label(f"There is no part for a {job.vehicle.words} yet: the survey, its sheet and its table are complete without one.", "quiet", wrap=True))
        table = [(path, spec) for path, spec in edit.all_specs(job).items() if path.startswith("vehicle.") and path != "vehicle.kind"]
        for group, rows in groupby(sorted(table, key=lambda r: list(dict.fromkeys(s.group for _, s in table)).index(r[1].group)), key=lambda r: r[1].group):
            self.place.addWidget(form(self.store, [path for path, _ in rows], group))
