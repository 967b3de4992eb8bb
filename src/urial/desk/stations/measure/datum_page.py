"""Datum: where the tape starts, and what right angles are taken from."""

from __future__ import annotations

from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QPushButton

from urial import units
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import form, label
from urial.desk.widgets.pickers import Picker
from urial.job import datum
from urial.job.survey import Datum
from urial.measure import squaring
from urial.measure.places import places


class DatumPage(Page):
    """From where, and square to what?"""

    name = "Datum"
    question = "Where does the tape start?"

    def fill(self) -> None:
        self.where = label("", "", wrap=True)
        self.column.addWidget(self.where)
        row = QHBoxLayout()
        self.pick = Picker()
        self.pick.setObjectName("datum place")
        self.pick.setMinimumContentsLength(8)
        self.pick.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        row.addWidget(self.pick, 1)
        move = QPushButton("Move it there")
        move.setObjectName("move datum")
        move.clicked.connect(self._move)
        row.addWidget(move)
        self.column.addLayout(row)
        self.column.addWidget(
            label(
                "Nothing that was measured moves: every coordinate is only written from the new place.",
                "quiet",
                wrap=True,
            )
        )
        self.column.addWidget(
            form(self.store, [f"survey.datum.{n}" for n in ("called", "behind_mm", "across_mm", "height_mm")])
        )
        self.column.addWidget(form(self.store, ["survey.square_to"], "Square to what?"))
        self.worth = QLabel()
        self.worth.setProperty("role", "mono")
        self.column.addWidget(self.worth)
        self.reason = label("", "quiet", wrap=True)
        self.column.addWidget(self.reason)
        self.column.addWidget(
            form(self.store, ["survey.tape_sigma_mm", "survey.gauge_sigma_deg"], "How good is a reading?")
        )
        self.column.addWidget(form(self.store, ["survey.by"], "Who holds the tape?"))

    def _options(self) -> list[tuple[str, tuple[float, float, float]]]:
        return [(self.store.job.vehicle.origin, (0.0, 0.0, 0.0)), *places(self.store.job).items()]

    def refresh(self) -> None:
        job = self.store.job
        self.where.setText(f"The datum is {datum.called(job)}.")
        names = [n for n, _ in self._options()]
        if [self.pick.itemText(k) for k in range(self.pick.count())] != names:
            self.pick.clear()
            self.pick.addItems(names)
        rows = squaring.references(job.vehicle)
        self.worth.setText(
            "good to          at the rear face\n"
            + "\n".join(
                f"{'▸' if r.id == job.survey.square_to else ' '} {r.name:<18} "
                f"{units.figure(r.degrees, 2):>4}°  {self.length(r.at_rear_mm):>8}"
                for r in rows
            )
        )
        chosen = squaring.worth(job.vehicle, job.survey.square_to)
        self.reason.setText(
            self.store.said(
                f"The {chosen.name}: {chosen.reason}. House figures; no published value is known."
            )
        )

    def _move(self) -> None:
        name, (x, y, z) = self._options()[max(self.pick.currentIndex(), 0)]
        home = name == self.store.job.vehicle.origin
        new = (
            Datum()
            if home
            else Datum(called=name, behind_mm=round(-x, 6), across_mm=round(y, 6), height_mm=round(z, 6))
        )
        self.put("survey.datum", new, f"datum at {name}")
