"""Measure: the vehicle from the tape; holes of each side on their own; how far the sides differ."""

from __future__ import annotations

from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QWidget

from urial import units
from urial.assembly.model import BuildError
from urial.desk.stations.base import Station
from urial.desk.widgets.fields import clear, form, label
from urial.job import edit
from urial.job.model import HardPoint

REAR = ("rail_spacing_mm", "rail_bottom_mm", "rail_height_mm", "rail_end_mm", "rail_width_mm", "rail_wall_mm", "rail_material",
        "rear_overhang_mm", "bumper_bottom_mm", "bumper_height_mm", "bumper_depth_mm")  # fmt: skip
WHOLE = ("name", "wheelbase_mm", "track_mm", "tyre_mm", "tyre_width_mm", "front_kg", "rear_kg", "squat_mm_per_100kg")
LIMITS = ("tow_rating_kg", "tongue_rating_kg", "front_rating_kg", "rear_rating_kg", "gross_rating_kg", "combination_rating_kg")


class Measure(Station):
    """Where does it bolt, what is in the way."""

    name = "Measure"
    view = "side"
    wide = True
    survey = True

    def fill(self) -> None:
        self.column.addWidget(label("Where does it bolt?", "title"))
        self.column.addWidget(label("From the middle of the rear axle rearward, and up from the ground, vehicle empty. Measure each side by itself.", "quiet", wrap=True))
        self.holes = QWidget()
        self.hole_rows = QGridLayout(self.holes)
        self.hole_rows.setContentsMargins(0, 4, 0, 0)
        self.hole_rows.setHorizontalSpacing(6)
        self.column.addWidget(self.holes)
        self.asymmetry = label("", "quiet", wrap=True)
        self.column.addWidget(self.asymmetry)
        self.problem = label("", "problem", wrap=True)
        self.problem.hide()
        self.column.addWidget(self.problem)
        self.column.addWidget(form(self.store, [f"vehicle.{n}" for n in REAR], "Rear frame and bumper"))
        self.column.addWidget(form(self.store, [f"vehicle.{n}" for n in WHOLE], "Vehicle"))
        self.column.addWidget(form(self.store, [f"vehicle.{n}" for n in LIMITS], "Maker's limits"))
        self._shown: tuple[int, int] = (0, 0)

    def refresh(self) -> None:
        v = self.store.job.vehicle
        if (len(v.left), len(v.right)) != self._shown:
            self._shown = (len(v.left), len(v.right))
            self._rows()
        self.asymmetry.setText(self._difference())

    def _rows(self) -> None:
        from urial.desk.widgets.fields import Field

        clear(self.hole_rows)
        row = 0
        for side in ("left", "right"):
            points = getattr(self.store.job.vehicle, side)
            head = QHBoxLayout()
            head.addWidget(label(f"{side.capitalize()} rail: {len(points)} hole{'s' if len(points) > 1 else ''}", "head"), 1)
            for text, tip, slot in (("+ hole", f"Add a hole on the {side}", lambda _=False, s=side: self._add(s)), ("− hole", f"Take the last {side} hole away", lambda _=False, s=side: self._drop(s))):
                button = QPushButton(text)
                button.setObjectName(f"{text[0]}{side}")
                button.setToolTip(tip)
                button.setProperty("segment", True)
                button.clicked.connect(slot)
                head.addWidget(button)
            self.hole_rows.addLayout(head, row, 0, 1, 3)
            row += 1
            for n, words in enumerate(("behind axle", "height", "hole")):
                self.hole_rows.addWidget(label(words, "quiet"), row, n)
            row += 1
            for k in range(len(points)):
                for n, name in enumerate(("behind_mm", "height_mm", "hole_mm")):
                    field = Field(self.store, f"vehicle.{side}.{k}.{name}", title="")
                    field.alone()
                    self.hole_rows.addWidget(field, row, n)
                row += 1

    def _change(self, side: str, points: tuple[HardPoint, ...], words: str) -> None:
        try:
            self.store.put_job(edit.put(self.store.job, f"vehicle.{side}", points), f"vehicle.{side}", words)
            self.problem.hide()
        except (edit.EditError, BuildError) as error:
            self.problem.setText(str(error))
            self.problem.show()

    def _add(self, side: str) -> None:
        points = getattr(self.store.job.vehicle, side)
        last = points[-1]
        step = last.behind_mm - points[-2].behind_mm if len(points) > 1 else 60.0
        self._change(side, (*points, last.model_copy(update={"behind_mm": last.behind_mm + step})), f"add {side} hole")

    def _drop(self, side: str) -> None:
        points = getattr(self.store.job.vehicle, side)
        if len(points) > 1:
            self._change(side, points[:-1], f"take away {side} hole")

    def _gaps(self) -> list[float]:
        v = self.store.job.vehicle
        return [max(abs(a.behind_mm - b.behind_mm), abs(a.height_mm - b.height_mm)) for a, b in zip(v.left, v.right, strict=False)]

    def _difference(self) -> str:
        v, job = self.store.job.vehicle, self.store.job
        if len(v.left) != len(v.right):
            return f"Left has {len(v.left)} holes, right {len(v.right)}: two different plates will be cut."
        worst = max(self._gaps())
        if worst < 0.5:
            return "Left and right mirror each other: one plate, cut twice."
        return f"The sides differ by up to {units.show(worst, 'length', job.units, job.nearest)}: two different plates will be cut."

    def open_words(self) -> tuple[str, bool]:
        gaps = self._gaps()
        differ = len(self.store.job.vehicle.left) != len(self.store.job.vehicle.right) or max(gaps) >= 0.5
        return ("sides differ" if differ else "clear"), False
