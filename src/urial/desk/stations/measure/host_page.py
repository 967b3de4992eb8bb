"""Host: what it bolts to, from its numbers."""

from __future__ import annotations

from itertools import groupby

from PySide6.QtWidgets import QPushButton, QVBoxLayout

from urial.desk.stations.measure.other_hosts import OtherHosts
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import clear, form, label
from urial.desk.widgets.fold import Fold
from urial.desk.widgets.segments import Segments
from urial.families import families, fitting, start_part
from urial.job import edit, origin
from urial.job.host import kinds, title


class HostPage(Page):
    """What is it bolted to?"""

    name = "Host"
    question = "What does it go on?"

    def fill(self) -> None:
        self.column.addWidget(
            label(
                "A kind starts from round figures of its size; measure and type over them. The "
                "drawing follows.",
                "quiet",
                wrap=True,
            )
        )
        self.kinds = Segments([(k, title(k)) for k in kinds()], 3, "kind", self._choose)
        self.column.addWidget(self.kinds)
        self.warned = label("", "problem", wrap=True)
        self.warned.setObjectName("what goes")
        self.column.addWidget(self.warned)
        self.change = QPushButton()
        self.change.setObjectName("change host")
        self.change.clicked.connect(self._change)
        self.keep = QPushButton()
        self.keep.setObjectName("keep host")
        self.keep.clicked.connect(self._keep)
        self.another = QPushButton()
        self.another.setObjectName("another host")
        self.another.setToolTip(
            "The same part for the next one that comes in: its figures stand as starting values until they "
            "are measured. What was read on the one before goes; undo brings it back"
        )
        self.another.clicked.connect(self._another)
        for button in (self.change, self.keep, self.another):
            self.column.addWidget(button)
        self._wanted, self._asked_again = "", False
        self.start_holder = QVBoxLayout()
        self.column.addLayout(self.start_holder)
        self.place = QVBoxLayout()
        self.column.addLayout(self.place)
        self.others = OtherHosts(self.store)
        self.column.addWidget(self.others)
        self._made: object = None

    def _choose(self, kind: str) -> None:
        again = kind == getattr(self.store.job.vehicle, "kind", "")
        self._asked_again = again and bool(self._known())
        self._wanted = "" if again else kind
        if self._wanted and not self._dropped(kind):
            self._change()
        self.refresh()

    def _dropped(self, kind: str) -> list[str]:
        """What goes when the host becomes another kind: the pieces that do not fit it, and what was
        measured.
        """
        job = self.store.job
        out = []
        if job.stack and not edit.with_host(job, kind).stack:
            names = [families()[p.family].title.lower() for p in job.stack]
            out.append(f"the part ({', '.join(dict.fromkeys(names))})")
        known = [p for p in job.origins if p.startswith("vehicle.")]
        if known:
            out.append(
                f"{len(known)} measured figure{'' if len(known) == 1 else 's'} of the {job.vehicle.words}"
            )
        return out

    def _change(self) -> None:
        kind, self._wanted = self._wanted, ""
        self.store.put_job(
            edit.with_host(self.store.job, kind), "vehicle", f"host {title(kind).lower()}", "assumed"
        )
        self.refresh()

    def _known(self) -> list[str]:
        """What is known of this host: paths of what somebody measured or typed of it."""
        return [p for p in self.store.job.origins if p.startswith((*origin.HOSTS, "survey"))]

    def _another(self) -> None:
        self._asked_again = False
        job = self.store.job
        self.store.put_job(
            origin.on_another(job), "vehicle", f"another {job.vehicle.words}, same part", "assumed"
        )
        self.refresh()

    def _keep(self) -> None:
        self._wanted, self._asked_again = "", False
        self.refresh()

    def _start(self, family: str) -> None:
        from urial.assembly.model import BuildError

        try:
            self.store.put_job(start_part(self.store.job, family), "stack", f"start {family}", "assumed")
        except BuildError as error:
            self.say(str(error))

    def refresh(self) -> None:
        job = self.store.job
        self.kinds.choose(self._wanted or getattr(job.vehicle, "kind", ""))
        known = len(self._known())
        self._asked_again = self._asked_again and known > 0
        for widget in (self.warned, self.keep):
            widget.setVisible(bool(self._wanted) or self._asked_again)
        self.change.setVisible(bool(self._wanted))
        self.another.setVisible(known > 0 and job.has_part and not self._wanted)
        self.another.setText(f"Another {job.vehicle.words}, same part")
        if self._asked_again:
            one = known == 1
            self.warned.setText(
                f"Is it another {job.vehicle.words}? Then {known} figure{'' if one else 's'} that "
                f"{'was' if one else 'were'} measured or typed count{'s' if one else ''} as assumed again."
            )
            self.keep.setText(f"It is the same {job.vehicle.words}")
        if self._wanted:
            self.warned.setText(
                f"With a {title(self._wanted).lower()} these go: "
                f"{'; '.join(self._dropped(self._wanted))}. Undo brings them back."
            )
            self.change.setText(f"Change to a {title(self._wanted).lower()}")
            self.keep.setText(f"Keep the {job.vehicle.words}")
        self.others.refresh()
        shape = (type(job.vehicle), job.has_part, job.duty.towed)
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
                self.start_holder.addWidget(
                    label(
                        f"There is no part for a {job.vehicle.words} yet: the survey, its sheet and "
                        "its table are complete without one.",
                        "quiet",
                        wrap=True,
                    )
                )
        table = [
            (path, spec)
            for path, spec in edit.all_specs(job).items()
            if path.startswith("vehicle.") and path != "vehicle.kind"
        ]
        drawn = [path for path, _ in table if not origin.of_use(job, path)]
        table = [row for row in table if row[0] not in drawn]
        for group, rows in groupby(
            sorted(table, key=lambda r: list(dict.fromkeys(s.group for _, s in table)).index(r[1].group)),
            key=lambda r: r[1].group,
        ):
            self.place.addWidget(form(self.store, [path for path, _ in rows], group))
        if drawn:
            rest = Fold(
                "Only drawn, not reckoned with…",
                "only drawn",
                "They make the picture like your host; leave them if it looks right",
            )
            rest.inner.addWidget(form(self.store, drawn))
            self.place.addWidget(rest)
