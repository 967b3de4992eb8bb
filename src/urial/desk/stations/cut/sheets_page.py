"""Sheets: which plate comes out of which sheet, and what is cut by hand."""

from __future__ import annotations

from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from urial.desk.scene.sheets_view import SheetsView
from urial.desk.stations.cut.off_box import OffBox
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import clear, label
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

    def refresh(self) -> None:
        making = self.store.making
        nests, work = making.nests, making.work
        self.picture.length, self.picture.said = self.length, lambda t: self.store.said(t, beside=True)
        self.picture.waiting = "Every plate is cut." if nests is not None else "Plates are being laid out…"
        self.picture.show_sheets(nests.sheets.sheets if nests is not None else ())
        self.off.refresh()
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
        for r in making.stood:
            if r.step.kind == "cut plate":
                self._plate(r)
        self.say(making.said)

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
