"""The shop's card: what lies on its rack, its figures, its book as a file.  Nothing here waits for the book:
every reading and change is done beside the window and what came of it is shown then.
"""

from __future__ import annotations

import logging
from collections.abc import Callable
from pathlib import Path

from pydantic import ValidationError
from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QDialog,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QStackedWidget,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from urial.desk.store import Store
from urial.desk.widgets.fields import clear, label
from urial.desk.widgets.plain import plain
from urial.desk.widgets.segments import Segments
from urial.desk.worker import Worker
from urial.making.learned import ENOUGH, bends_learned, factors, learned, with_bends
from urial.shop.snapshot import RackBar, RackSheet, Shop, usual
from urial.shop.where import there
from urial.units import parse, show
from urial.words import Complaint

log = logging.getLogger("urial")
COLUMNS = ("id", "stock", "steel", "long", "wide", "how many", "price of one", "where", "a rest")
GROUPS = (
    ("", ("name", "currency")),
    ("Saw", ("saw",)),
    ("Cutting table", ("table",)),
    ("Bender", ("bender",)),
    ("Drill press", ("drill",)),
    ("Welder", ("welder",)),
    ("Prices", ("price",)),
    ("Consumables", ("consumables",)),
    ("Rates", ("rates",)),
)
WORDS = {
    "kerf_mm": "a cut takes",
    "end_trim_mm": "a bar's end loses",
    "mitre_to_deg": "tilts to, degrees from square",
    "longest_stop_mm": "longest stop",
    "fence_offset_mm": "stop's zero to the blade",
    "remnant_mm": "a rest is kept from",
    "bed_long_mm": "bed, long",
    "bed_wide_mm": "bed, wide",
    "margin_mm": "free at a sheet's edge",
    "gap_mm": "free between pieces",
    "thickest_mm": "thickest plate",
    "clamp_mm": "the clamp holds",
    "tail_mm": "least tail",
    "largest_od_mm": "largest tube",
    "largest_mm": "largest hole",
    "pilot_mm": "pilot",
    "machine_A": "the machine gives, A",
    "process": "welds by",
    "wire_mm": "wire",
    "tube_kg": "tube, a kg",
    "bar_kg": "bar, a kg",
    "plate_kg": "plate, a kg",
    "hardware_kg": "hardware, a kg",
    "bought_kg": "bought pieces, a kg",
    "stainless": "stainless, times",
    "aluminium": "aluminium, times",
    "send_out_percent": "sent out, % on top",
    "wire_kg": "wire, a kg",
    "wire_efficiency": "of it becomes bead",
    "gas_l_min": "gas, litres a minute",
    "gas_m3": "gas, a m³",
    "disc": "a grinding disc",
    "disc_m": "lasts, metres",
    "paint_m2": "paint, a m²",
    "power_kWh": "power, a kWh",
    "labour_h": "an hour's work",
    "tax_percent": "tax, %",
    "markup_percent": "on material, %",
    "name": "called",
    "currency": "money",
}
Row = RackBar | RackSheet


class ShopCard(QDialog):
    """Of one book; ``store`` only lends its units and hears that the shop has changed."""

    def __init__(self, parent: QWidget, store: Store) -> None:
        super().__init__(parent)
        self.store = store
        self.shop: Shop = usual()
        self._errands: list[Callable[[], str]] = []
        self._clerk = Worker(self, self._done)
        self.setObjectName("shop card")
        self.setWindowTitle("The shop")
        self.resize(1000, 660)
        column = QVBoxLayout(self)
        column.addWidget(label("The shop", "title"))
        self.whose = label("", "quiet", wrap=True)
        column.addWidget(self.whose)
        pages = [(n, n) for n in ("Rack", "Figures", "Book")]
        self.tabs = Segments(pages, 3, "shop", self._show, look="page")
        column.addWidget(self.tabs)
        self.pages = QStackedWidget()
        for page in (self._rack(), self._figures(), self._book()):
            self.pages.addWidget(page)
        column.addWidget(self.pages, 1)
        self.said = label("", "problem", wrap=True)
        self.said.setObjectName("shop said")
        column.addWidget(self.said)
        close = QPushButton("Done")
        close.setObjectName("shop done")
        close.setProperty("main", True)
        close.clicked.connect(self.accept)
        column.addWidget(close)
        self._show("Rack")
        self._ask(lambda: "")

    def _show(self, name: str) -> None:
        self.tabs.choose(name)
        self.pages.setCurrentIndex(list(self.tabs.buttons).index(name))

    # ---- the book, beside the window

    def _ask(self, errand: Callable[[], str]) -> None:
        self._errands.append(errand)
        if not self._clerk.busy:
            self._next()

    def _next(self) -> None:
        errand = self._errands.pop(0)

        def work(_: Callable[[], bool]) -> tuple[Shop | None, str]:
            from urial.shop.book import book

            try:
                words = errand()
            except Complaint as refusal:
                words = str(refusal)
            except Exception as error:  # the card must say so rather than be still
                log.exception("shop")
                words = f"It could not be done ({type(error).__name__}); the log says why."
            if not there():
                return usual(), words
            shop, why = book.snapshot()
            return shop, words or why

        self._clerk.ask(work)

    def _done(self, found: object) -> None:
        if isinstance(found, tuple):
            shop, words = found
            self.said.setText(words)
            if shop is not None:
                self._take(shop)
        if self._errands:
            self._next()

    @property
    def busy(self) -> bool:
        """Is anything still to be written?"""
        return self._clerk.busy or bool(self._errands)

    def _take(self, shop: Shop) -> None:
        changed = shop != self.shop
        self.shop = shop
        self.whose.setText(
            "No shop is entered yet: these are a usual small shop's figures, and guesses. What you "
            "change here is "
            "yours from then on."
            if shop.usual
            else "Every job here reads these figures; what other jobs hold counts as taken."
        )
        self._fill_rack()
        self._fill_figures()
        if changed:
            self.store.making.shop_revision += 1
            self.store.making.read_rack()
            self.store.making.look()

    # ---- the rack

    def _rack(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        self.table = QTableWidget(0, len(COLUMNS))
        self.table.setObjectName("rack")
        self.table.setHorizontalHeaderLabels(COLUMNS)
        self.table.verticalHeader().hide()
        self.table.horizontalHeader().setStretchLastSection(True)
        self.table.cellChanged.connect(self._edited)
        column.addWidget(self.table, 1)
        row = QHBoxLayout()
        for words, name, act in (
            ("+ bar", "add bar", lambda: self._add("bar")),
            ("+ sheet", "add sheet", lambda: self._add("sheet")),
            ("Take it off the rack", "take off", self._drop),
        ):
            button = QPushButton(words)
            button.setObjectName(name)
            button.clicked.connect(lambda _=False, do=act: do())
            row.addWidget(button)
        column.addLayout(row)
        return page

    @property
    def rows(self) -> tuple[Row, ...]:
        """What lies on the rack, bars first."""
        return (*self.shop.bars, *self.shop.sheets)

    def _length(self, mm: float) -> str:
        return show(mm, "length", self.store.job.units, self.store.job.nearest)

    def _fill_rack(self) -> None:
        self.table.blockSignals(True)
        self.table.setRowCount(len(self.rows))
        for n, r in enumerate(self.rows):
            bar = isinstance(r, RackBar)
            texts = (
                r.id,
                r.stock,
                r.material,
                self._length(r.length_mm if isinstance(r, RackBar) else r.long_mm),
                "" if isinstance(r, RackBar) else self._length(r.wide_mm),
                str(r.count),
                "" if r.price is None else f"{r.price:.2f}",
                r.where,
                "yes" if r.remnant else "",
            )
            for k, text in enumerate(texts):
                item = QTableWidgetItem(text)
                if k == 0 or (k == 4 and bar):
                    item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable)
                self.table.setItem(n, k, item)
        self.table.resizeColumnsToContents()
        self.table.blockSignals(False)

    def _edited(self, n: int, _: int) -> None:
        if n >= len(self.rows):
            return
        items = [self.table.item(n, k) for k in range(len(COLUMNS))]
        texts = [i.text().strip() if i is not None else "" for i in items]
        try:
            made = self._row(self.rows[n], texts)
        except (ValueError, ValidationError) as error:
            self.said.setText(plain_words(error))
            self._fill_rack()
            return
        self._put(made)

    def _row(self, was: Row, t: list[str]) -> Row:
        units = self.store.job.units
        common = {
            "id": was.id,
            "stock": t[1],
            "material": t[2],
            "count": int(float(t[5])) if t[5] else 0,
            "price": float(t[6].replace(",", ".")) if t[6] else None,
            "where": t[7],
            "remnant": t[8].lower() in ("yes", "y", "1", "x", "rest"),
        }
        long = parse(t[3], "length", units)
        if isinstance(was, RackBar):
            return RackBar.model_validate({**common, "length_mm": long})
        return RackSheet.model_validate({**common, "long_mm": long, "wide_mm": parse(t[4], "length", units)})

    def _put(self, row: Row) -> None:
        def errand() -> str:
            from urial.shop.book import Book
            from urial.shop.rack_csv import checked

            with Book() as book:
                book.put(checked(row))
            return ""

        self._ask(errand)

    def _add(self, kind: str) -> None:
        taken = {r.id for r in self.rows}
        ident = next(f"{kind[0]}{n}" for n in range(1, 10_000) if f"{kind[0]}{n}" not in taken)
        metric = self.store.job.units == "metric"
        if kind == "bar":
            stock, length = ("60x60x5", 6000.0) if metric else ("2 1/2x2 1/2x1/4", 6096.0)
            steel = "S235" if metric else "A500-B"
            self._put(RackBar(id=ident, stock=stock, material=steel, length_mm=length))
            return
        sheet = next(s for s in self.shop.sheet if s.system == self.store.job.units)
        steel, stock = ("S235", "plate 6 mm") if metric else ("A36", "plate 1/4")
        self._put(
            RackSheet(id=ident, stock=stock, material=steel, long_mm=sheet.long_mm, wide_mm=sheet.wide_mm)
        )

    def _drop(self) -> None:
        n = self.table.currentRow()
        if not 0 <= n < len(self.rows):
            self.said.setText("Choose the line that goes off the rack first.")
            return
        ident = self.rows[n].id

        def errand() -> str:
            from urial.shop.book import Book

            with Book() as book:
                book.drop(ident)
            return ""

        self._ask(errand)

    # ---- figures

    def _figures(self) -> QWidget:
        area = QScrollArea()
        area.setWidgetResizable(True)
        inside = QWidget()
        self.grid = QGridLayout(inside)
        area.setWidget(inside)
        return area

    def _fill_figures(self) -> None:
        focus = self.focusWidget()
        if isinstance(focus, QLineEdit) and focus.isModified():
            return  # what is being written stays
        clear(self.grid)
        raw = self.shop.model_dump(mode="json")
        n = 0
        for title, keys in GROUPS:
            if title:
                self.grid.addWidget(label(title, "head"), n, 0, 1, 4)
                n += 1
            fields = [(k, k) for k in keys] if not title else [(f"{keys[0]}.{k}", k) for k in raw[keys[0]]]
            for m, (path, name) in enumerate(fields):
                value = _at(raw, path)
                line = QLineEdit(self._figure(name, value))
                line.setObjectName(f"shop:{path}")
                line.setToolTip(plain(path))
                line.editingFinished.connect(lambda p=path, w=line: self._set(p, w))
                self.grid.addWidget(label(WORDS.get(name, name)), n + m // 2, 2 * (m % 2))
                self.grid.addWidget(line, n + m // 2, 2 * (m % 2) + 1)
            n += (len(fields) + 1) // 2
        self.grid.setRowStretch(n, 1)

    def _figure(self, name: str, value: object) -> str:
        if isinstance(value, float) and name.endswith("_mm"):
            return self._length(value)
        return f"{value:.10g}" if isinstance(value, float) else str(value)

    def _set(self, path: str, line: QLineEdit) -> None:
        if not line.isModified():
            return
        line.setModified(False)
        raw = self.shop.model_dump(mode="json")
        *way, last = path.split(".")
        at = raw
        for name in way:
            at = at[name]
        text = line.text().strip()
        try:
            if isinstance(at[last], str):
                at[last] = text
            elif last.endswith("_mm"):
                at[last] = parse(text, "length", self.store.job.units)
            else:
                at[last] = float(text.replace(",", "."))
            shop = Shop.model_validate({**raw, "usual": False})
        except (ValueError, ValidationError) as error:
            self.said.setText(f"{WORDS.get(last, last)}: {plain_words(error)}")
            self._fill_figures()
            return

        def errand() -> str:
            from urial.shop.book import Book

            with Book() as book:
                book.set(shop)
            return ""

        self._ask(errand)

    # ---- as a file

    def _book(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.addWidget(
            label(
                "The rack goes out and in as a table that any program reads. A backup is the whole book "
                "as one file; "
                "putting it back keeps what is there now beside it.",
                "quiet",
                wrap=True,
            )
        )
        for words, name, act in (
            ("Write the rack as a table…", "rack out", self.ask_out),
            ("Read a table into the rack…", "rack in", self.ask_in),
            ("Back the book up…", "back up", self.ask_backup),
            ("Put a backup back…", "restore", self.ask_restore),
            ("Take the minutes this job was timed at", "learn", self.learn),
            ("Take its bends into the dies' logs", "learn bends", self.learn_bends),
        ):
            button = QPushButton(words)
            button.setObjectName(name)
            button.clicked.connect(lambda _=False, do=act: do())
            column.addWidget(button)
        column.addStretch(1)
        return page

    def ask_out(self) -> None:
        """Where to, then write the rack."""
        name, _ = QFileDialog.getSaveFileName(self, "Write the rack", "rack.csv", "Tables (*.csv)")
        if name:
            self.out(Path(name))

    def out(self, path: Path) -> None:
        """The rack as a table."""
        rows = self.rows

        def errand() -> str:
            from urial.job.file import write_atomically
            from urial.shop.rack_csv import written

            write_atomically(path, written(rows).encode())
            return f"{len(rows)} lines written to {path.name}."

        self._ask(errand)

    def ask_in(self) -> None:
        """Which one, then read it."""
        name, _ = QFileDialog.getOpenFileName(self, "Read a table into the rack", "", "Tables (*.csv)")
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """A table into the rack; all of it or nothing."""

        def errand() -> str:
            from urial.shop.book import Book
            from urial.shop.rack_csv import read

            rows = read(path)
            with Book() as book:
                book.put(*rows)
            return f"{len(rows)} lines are on the rack."

        self._ask(errand)

    def ask_backup(self) -> None:
        """Where to, then back up."""
        name, _ = QFileDialog.getSaveFileName(self, "Back the book up", "shop-book.db", "Books (*.db)")
        if name:
            self.back_up(Path(name))

    def back_up(self, path: Path) -> None:
        """The whole book as one file."""

        def errand() -> str:
            from urial.shop.book import Book

            with Book() as book:
                book.backup(path)
            return f"The book is backed up as {path.name}."

        self._ask(errand)

    def learn(self) -> None:
        """The shop's minutes from what was timed at the bench in the open job."""
        work, log_ = self.store.making.work, self.store.document.log
        found = factors([(work.plan, log_)]) if work is not None else {}
        if not found:
            self.said.setText(
                f"No kind of work was timed {ENOUGH} times in this job; tick it at the bench view (F8)."
            )
            return
        shop = self.shop.model_copy(update={"minutes": learned(self.shop.minutes, found), "usual": False})
        words = ", ".join(f"{kind} × {times:.2f}" for kind, times in sorted(found.items()))

        def errand() -> str:
            from urial.shop.book import Book

            with Book() as book:
                book.set(shop)
            return f"Learned: {words}."

        self._ask(errand)

    def learn_bends(self) -> None:
        """The dies' logs from what was measured after each bend of the open job."""
        work, log_ = self.store.making.work, self.store.document.log
        found = bends_learned([(work.plan, log_, work.verdict.assembly)]) if work is not None else {}
        if not found:
            self.said.setText(
                "No bend of this job was ticked and measured; do both at the bench view (F8), and the "
                "die learns "
                "what it gives."
            )
            return
        shop = with_bends(self.shop, found)
        words = "; ".join(
            f"{od:.4g} mm on R {clr:.4g} mm: " + ", ".join(f"{m:.1f}° gave {a:.1f}°" for a, m in rows)
            for (od, clr), rows in sorted(found.items())
        )

        def errand() -> str:
            from urial.shop.book import Book

            with Book() as book:
                book.set(shop)
            return f"Learned: {words}."

        self._ask(errand)

    def ask_restore(self) -> None:
        """Which one, then put it back."""
        name, _ = QFileDialog.getOpenFileName(self, "Put a backup back", "", "Books (*.db)")
        if name:
            self.restore(Path(name))

    def restore(self, path: Path) -> None:
        """A backup in the book's place."""

        def errand() -> str:
            from urial.shop.book.book import restore

            restore(path)
            return f"{path.name} is the book now; the one before lies beside it."

        self._ask(errand)

    def done(self, result: int) -> None:
        """What is being written is waited for: it takes a moment, and is not lost."""
        while self.busy:
            self._clerk.linger(0.05, lambda: False)
        super().done(result)


def _at(raw: dict[str, object], path: str) -> object:
    at: object = raw
    for name in path.split("."):
        assert isinstance(at, dict)
        at = at[name]
    return at


def plain_words(error: Exception) -> str:
    """What a library complains of, in a sentence."""
    if isinstance(error, ValidationError):
        what = error.errors()[0]
        return f"{str(what['loc'][-1]).removesuffix('_mm')}: {what['msg'].lower()}."
    return str(error) if isinstance(error, Complaint) else f"that is no figure ({error})."


__all__ = ["ShopCard"]
