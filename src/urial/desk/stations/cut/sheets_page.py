"""Sheets: which plate comes out of which sheet, and what is cut by hand."""

from __future__ import annotations

import re
from collections import Counter

from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urial import units
from urial.desk.scene.sheets_view import SheetsView
from urial.desk.stations.cut.off_box import OffBox
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import clear, label
from urial.making.sheets import SheetCut
from urial.making.status import Stood


class SheetsPage(Page):
    """Which plate comes out of which sheet?"""

    name = "Sheets"
    reads_plan = True
    bench_at = "cut plate"
    question = "Which plate comes out of which sheet?"
    needs_part = True

    def fill(self) -> None:
        self.canvas = self.picture = SheetsView(self.theme)
        self.sum = label("", "quiet", wrap=True)
        self.column.addWidget(self.sum)
        self.off = OffBox(self.store, self.theme, ("cut plate",))
        self.column.addWidget(self.off)
        self.rows = QVBoxLayout()
        box = QWidget()
        box.setLayout(self.rows)
        self.rows.setContentsMargins(0, 0, 0, 0)
        self.column.addWidget(box)
        self._of: tuple[object, ...] | None = None

    def refresh(self) -> None:
        making = self.store.making
        nests, work = making.nests, making.work
        self.picture.length, self.picture.said = self.length, lambda t: self.store.said(t, beside=True)
        self.picture.waiting = "Every plate is cut." if nests is not None else "Plates are being laid out…"
        self.picture.show_sheets(nests.sheets.sheets if nests is not None else ())
        self.off.refresh()
        as_said = nests, work, making.stood, self.store.job.units
        if self._of is not None and all(a is b for a, b in zip(as_said, self._of, strict=True)):
            self.say(making.said)  # what is being typed stays
            return
        self._of = as_said
        clear(self.rows)
        if nests is None or work is None:
            self.sum.setText("")
            return
        count = len(nests.sheets.sheets)
        hand = ", ".join(nests.sheets.by_hand)
        self.sum.setText(
            f"{count} sheet{'s' if count != 1 else ''} for about {nests.sheets.price:.2f} "
            f"{work.shop.currency}; their rectangles are packed, {work.shop.table.gap_mm:.0f} mm apart. "
            + (f"Not on the table, so by hand: {hand}." if hand else "")
        )
        for n, sheet in enumerate(nests.sheets.sheets, 1):
            self._sheet(n, sheet)
        for r in making.stood:
            if r.step.kind == "cut plate":
                self._plate(r)
        self.say(making.said)

    def _sheet(self, n: int, sheet: SheetCut) -> None:
        """A sheet that is cut in one go, and what is left of it."""
        marks = Counter(x.piece.mark for x in sheet.placed)
        what = ", ".join(m if k == 1 else f"{k} × {m}" for m, k in marks.items())
        from_ = f", from the rack: {sheet.rack} {sheet.where}".rstrip() if sheet.rack else ""
        self.rows.addWidget(label(self.store.said(f"Sheet {n}, {sheet.stock}{from_}: {what}"), "", wrap=True))
        line = QHBoxLayout()
        left = QLineEdit()
        left.setObjectName(f"left of sheet {n}")
        left.setPlaceholderText("rest: long × wide")
        left.setAccessibleName(f"what is left of sheet {n}, long × wide")
        button = QPushButton("All of it is cut")
        button.setObjectName(f"sheet {n} cut")
        button.setToolTip("Ticks every plate on it; the sheet is off the rack, and what is left lies there")
        button.clicked.connect(lambda: self._cut(sheet, left.text()))
        line.addWidget(left, 3)
        line.addWidget(button, 2)
        self.rows.addLayout(line)

    def _cut(self, sheet: SheetCut, text: str) -> None:
        left = None
        if text.strip():
            sides = [x for x in re.split(r"\s*[×x*]\s*", text.strip()) if x]
            try:
                if len(sides) != 2:
                    raise units.UnitError("Two sizes say what is left, long × wide: 400 × 300.")
                long, wide = (units.parse(x, "length", self.store.job.units) for x in sides)
            except units.UnitError as error:
                self.say(str(error))
                return
            if min(long, wide) <= 0:
                self.say("What is left has two sizes over nothing; leave it empty where nothing is kept.")
                return
            left = long, wide
        if self.store.making.cut_sheet(sheet, left):
            self.say("")
        else:
            self.say(self.store.making.said)

    def _plate(self, r: Stood) -> None:
        mark = r.step.marks[0]
        text = f"{mark}  {len(r.done)} of {r.step.count} cut"
        button = QPushButton(text if r.left else f"{mark}  all cut")
        button.setObjectName(f"plate {mark}")
        button.setProperty("flat", True)
        button.setEnabled(bool(r.left))
        button.setToolTip("Press when one more is cut")
        button.clicked.connect(lambda _=False, row=r: self.store.making.tick(row.step, row.left[0]))
        self.rows.addWidget(button)
        self.rows.addWidget(label(self.store.said(r.step.words), "quiet", wrap=True))


__all__ = ["SheetsPage"]
