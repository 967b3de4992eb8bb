"""Holes: the hard points, left and right measured separately, and how far the sides differ."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QWidget

from urial import units
from urial.desk.stations.page import Page, tone
from urial.desk.widgets.fields import Field, clear, label, within
from urial.desk.widgets.plain import plain
from urial.job import datum
from urial.job.host import SIDES, HardPoint
from urial.measure import sides

MORE = (
    "across_mm",
    "fixing",
    "thread",
    "thread_grade",
    "wall_mm",
    "wall_material",
    "reach",
    "keeps",
    "bolted",
    "group",
    "facing",
)


class HolesPage(Page):
    """Where does it bolt?"""

    name = "Holes"
    question = "Where does it bolt?"

    def fill(self) -> None:
        self.where = label("", "quiet", wrap=True)
        self.column.addWidget(self.where)
        holder = QWidget()
        self.rows = QGridLayout(holder)
        self.rows.setContentsMargins(0, 2, 0, 0)
        self.rows.setHorizontalSpacing(5)
        self.rows.setVerticalSpacing(0)
        self.column.addWidget(holder)
        self.column.addLayout(
            self.row(
                ("Copy left to right", "copy right", self._mirror),
                tips=(
                    "The right holes as the left ones mirrored; they are marked as assumed until "
                    "somebody measures them",
                ),
            )
        )
        self.compared = label("", "quiet", wrap=True)
        self.column.addWidget(self.compared)
        self.table = QWidget()
        self.differences = QGridLayout(self.table)
        self.differences.setContentsMargins(0, 2, 0, 4)
        self.column.addWidget(self.table)
        self.cells: list[QLabel] = []
        self.more_title = label("", "head")
        self.column.addWidget(self.more_title)
        more = QWidget()
        self.more = QGridLayout(more)
        self.more.setContentsMargins(0, 0, 0, 0)
        self.column.addWidget(more)
        self.chosen = ("left", 0)
        self._made: object = None
        self._opened: object = None

    def refresh(self) -> None:
        host, job = self.store.job.vehicle, self.store.job
        moved = datum.called(job)
        self.where.setText(f"Rearward and up from the datum: {moved}. Measure each side by itself.")
        shape = (type(host), len(host.left), len(host.right))
        if shape != self._made:
            self._made, self._opened = shape, None
            self._rows()
        if self.chosen[1] >= len(host.points(self.chosen[0])):
            self.chosen = (self.chosen[0], 0)
        if self._opened != (*shape, self.chosen):
            self._opened = (*shape, self.chosen)
            self._details()
        self._compare()

    def _rows(self) -> None:
        clear(self.rows)
        row = 0
        for side in SIDES:
            points = self.store.job.vehicle.points(side)
            head = QHBoxLayout()
            head.addWidget(
                label(f"{side.capitalize()}: {len(points)} hole{'s' if len(points) > 1 else ''}", "head"), 1
            )
            for text, tip, slot in (
                ("+ hole", f"Add a hole on the {side}", lambda _=False, s=side: self._add(s)),
                ("− hole", f"Take the last {side} hole away", lambda _=False, s=side: self._drop(s)),
            ):
                button = QPushButton(text)
                button.setObjectName(f"{text[0]}{side}")
                button.setToolTip(plain(tip))
                button.setProperty("segment", True)
                button.clicked.connect(slot)
                head.addWidget(button)
            self.rows.addLayout(head, row, 0, 1, 4)
            row += 1
            for n, words in enumerate(("", "behind", "height", "hole")):
                self.rows.addWidget(label(words, "quiet"), row, n)
            row += 1
            for k in range(len(points)):
                pick = QPushButton(f"{side[0].upper()}{k + 1}")
                pick.setObjectName(f"more:{side}:{k}")
                pick.setToolTip("Thread, metal behind it, who can reach it")
                pick.setCheckable(True)
                pick.setProperty("segment", True)
                pick.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
                pick.clicked.connect(lambda _=False, s=side, n=k: self._open(s, n))
                self.rows.addWidget(pick, row, 0)
                for n, name in enumerate(("behind_mm", "height_mm", "hole_mm"), 1):
                    field = Field(self.store, f"vehicle.{side}.{k}.{name}", title="", alone=True)
                    self.rows.addWidget(field, row, n)
                row += 1

    def _open(self, side: str, number: int) -> None:
        self.chosen = (side, number)
        self.refresh()

    def _details(self) -> None:
        side, number = self.chosen
        for button in self.findChildren(QPushButton):
            if button.objectName().startswith("more:"):
                button.setChecked(button.objectName() == f"more:{side}:{number}")
        clear(self.more)
        self.more_title.setText(f"More of {side} hole {number + 1}")
        for n, name in enumerate(MORE):
            path = f"vehicle.{side}.{number}.{name}"
            field = within(self.store, path)
            self.more.addWidget(field, n, 0)

    def _change(self, side: str, points: tuple[HardPoint, ...], words: str) -> None:
        self.put(f"vehicle.{side}", points, words)

    def _mirror(self) -> None:
        """The right side as the left one mirrored: copies, which nobody has measured."""
        self.put(
            "vehicle.right",
            tuple(h.model_copy() for h in self.store.job.vehicle.left),
            "left holes copied to the right",
            "assumed",
        )

    def _add(self, side: str) -> None:
        points = self.store.job.vehicle.points(side)
        last = points[-1]
        step = last.behind_mm - points[-2].behind_mm if len(points) > 1 else 60.0
        self._change(
            side,
            (*points, last.model_copy(update={"behind_mm": last.behind_mm + (step or 60.0)})),
            f"add {side} hole",
        )

    def _drop(self, side: str) -> None:
        points = self.store.job.vehicle.points(side)
        if len(points) > 1:
            self._change(side, points[:-1], f"take away {side} hole")

    def _compare(self) -> None:
        found = sides.compare(self.store.job.vehicle)
        if found.count[0] != found.count[1]:
            words = (
                f"Left has {found.count[0]} holes to bolt to, right {found.count[1]}: two different plates."
            )
        elif found.alike:
            words = "Left and right mirror each other: one plate, cut twice."
        else:
            words = (
                f"The sides differ by up to {self.length(found.worst)}; two different plates will be cut. "
            )
            words += (
                f"Short slots would take {self.length(found.slot_mm)} only."
                if found.beyond_slots
                else f"Short slots ({self.length(found.slot_mm)}) would take that."
            )
            if abs(found.skew_deg) > 0.02:
                words += (
                    f" A mirrored pair would turn the part {units.figure(abs(found.skew_deg), 2)}° to the "
                    f"{'left' if found.skew_deg > 0 else 'right'}."
                )
        self.compared.setText(words)
        tone(self.compared, "problem" if found.beyond_slots else "quiet")
        inch = self.store.job.units == "inch"

        def shown(mm: float) -> str:
            return units.figure(mm / 25.4, 3, True) if inch else units.figure(mm, 1, True)

        rows: list[tuple[str, ...]] = [
            (f"right − left, {'in' if inch else 'mm'}", "behind", "across", "height")
        ]
        rows += [
            (f"hole {r.number}", *(shown(mm) for mm in (r.behind, r.across, r.height))) for r in found.rows
        ]
        if len(self.cells) != 4 * len(rows):
            clear(self.differences)
            self.cells = [
                label("", "quiet" if n < 4 else "mono" if n % 4 else "") for n in range(4 * len(rows))
            ]
            for n, cell in enumerate(self.cells):
                self.differences.addWidget(cell, n // 4, n % 4)
        for cell, text in zip(self.cells, (text for row in rows for text in row), strict=True):
            cell.setText(text)
        self.table.setVisible(not found.alike and bool(found.rows))
