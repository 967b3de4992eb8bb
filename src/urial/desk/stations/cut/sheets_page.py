"""Sheets: which plate comes out of which sheet, and what is cut by hand."""

from __future__ import annotations

import re
from collections import Counter

from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urial import units
from urial.desk.scene.sheets_view import SheetsView
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import clear, form, label
from urial.desk.widgets.off_box import OffBox
from urial.desk.widgets.pickers import Picker
from urial.making.remnants import Rest, straight_rest, whole_rest
from urial.making.sheet_model import SheetCut
from urial.making.status import Stood
from urial.shop.snapshot import usual

MEASURED = "as measured…"


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
        self.column.addLayout(
            self.row(
                ("Lay them closer", "lay closer", lambda: self.store.making.lay_closer()),
                ("Enough", "stop closer", lambda: self.store.making.stop_closer()),
                ("Have them cut…", "have cut", self._have_cut),
                tips=(
                    "Search for ten seconds for sheets that leave more",
                    "Stop; the best so far stays",
                    "A cutting service's price beside the own table and by hand; or order there",
                ),
            )
        )
        self.going = label("", "quiet", wrap=True)
        self.going.setObjectName("laying")
        self.column.addWidget(self.going)
        self.column.addWidget(form(self.store, ["making.turning"]))
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
        for name, on in (
            ("lay closer", not making.laying and nests is not None),
            ("stop closer", making.laying),
        ):
            button = self.findChild(QPushButton, name)
            if button is not None:
                button.setEnabled(bool(on))
        self.going.setText(self.store.said(making.laying))
        self.going.setVisible(bool(making.laying))
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
        bought = sum(not (s.rack or s.begun) for s in nests.sheets.sheets)
        self.sum.setText(
            f"{count} sheet{'s' if count != 1 else ''}, {bought} to buy for about {nests.sheets.price:.2f} "
            f"{work.shop.currency}; laid by their outlines, {self.length(work.shop.table.gap_mm)} apart. "
            + (f"Not on the table, so by hand: {hand}." if hand else "")
        )
        for n, sheet in enumerate((*nests.sheets.sheets, *nests.sheets.over), 1):
            self._sheet(n, sheet)
        for r in making.stood:
            if r.step.kind == "cut plate":
                self._plate(r)
        self.say(making.said)

    def _have_cut(self) -> None:
        from urial.desk.order_card import OrderCard  # what speaks HTTP is fetched when somebody asks

        OrderCard(self.store, self.theme, self.window()).exec()

    def _sheet(self, n: int, sheet: SheetCut) -> None:
        """A sheet that is cut in one go, and what is left of it."""
        marks = Counter(x.piece.mark for x in sheet.placed)
        what = ", ".join(m if k == 1 else f"{k} × {m}" for m, k in marks.items())
        rack = f"{sheet.rack} {sheet.where}".rstrip()
        from_ = f", from the rack: {rack}" if rack else ""
        if sheet.begun:
            from_ = f", begun, {len(sheet.cut)} out of it"
        told = f"Sheet {n}, {sheet.stock}{from_}: {what or 'nothing more comes out of it'}"
        self.rows.addWidget(label(self.store.said(told), "", wrap=True))
        line = QHBoxLayout()
        keep = Picker()
        keep.setObjectName(f"rest of sheet {n}")
        keep.setAccessibleName(f"what of sheet {n} goes to the rack")
        keep.setSizeAdjustPolicy(Picker.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        keep.setMinimumContentsLength(12)
        rests = self._rests(sheet)
        keep.addItems([words for words, _ in rests])
        keep.setCurrentIndex(1 if len(rests) > 2 else 0)  # a rest worth keeping is kept
        left = QLineEdit()
        left.setObjectName(f"left of sheet {n}")
        left.setPlaceholderText("long × wide")
        left.setAccessibleName(f"what is left of sheet {n}, long × wide")
        left.hide()
        keep.currentTextChanged.connect(lambda words: left.setVisible(words == MEASURED))
        button = QPushButton("All cut" if sheet.placed else "Lay it away")
        button.setObjectName(f"sheet {n} cut")
        button.setToolTip("Ticks every plate on it; the sheet is off the rack, and what is left lies there")
        button.clicked.connect(lambda: self._cut(sheet, rests[keep.currentIndex()], left.text()))
        keep.setToolTip("What goes to the rack: by one straight cut, with its own outline, or as measured")
        line.addWidget(keep, 4)
        line.addWidget(left, 2)
        line.addWidget(button, 2)
        self.rows.addLayout(line)

    def _rests(self, sheet: SheetCut) -> list[tuple[str, Rest | None]]:
        """What of a sheet may be kept, and in what words."""
        out: list[tuple[str, Rest | None]] = [("nothing is kept", None)]
        work = self.store.making.work
        shop = work.shop if work is not None else usual()
        for words, rest in (
            ("keep", straight_rest(sheet, shop)),
            ("as it is", whole_rest(sheet, shop)),
        ):
            if rest is not None:
                long, wide = (self.length(float(round(n))) for n in rest.size)
                out.append((f"{words} {long.removesuffix(' mm')} × {wide}", rest))
        return [*out, (MEASURED, None)]

    def _cut(self, sheet: SheetCut, kept: tuple[str, Rest | None], text: str) -> None:
        left = kept[1]
        if kept[0] == MEASURED:
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
            left = Rest((max(long, wide), min(long, wide)))
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
