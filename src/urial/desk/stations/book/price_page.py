"""Price: what it costs, whose figures these are, hours planned against timed, and a quote on paper."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QFileDialog, QLineEdit, QListWidget, QListWidgetItem

from urial import units
from urial.desk import settings
from urial.desk.scene.price_view import NAMES, PriceView
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import label
from urial.job.file import FileError, named, os_words, write_atomically
from urial.making.price import hours_by_trade
from urial.papers.offer import Offer, offer_pdf
from urial.prove.verdict import CAUTION


class PricePage(Page):
    """What does it cost?"""

    name = "Price"
    reads_plan = True
    question = "What does it cost?"
    needs_part = True

    def fill(self) -> None:
        self.canvas = self.picture = PriceView(self.theme)
        self.sum = label("", "title", wrap=True)
        self.whose = label("", "quiet", wrap=True)
        self.timed = label("", "", wrap=True)
        for w in (self.sum, self.whose, self.timed):
            self.column.addWidget(w)
        self.list = QListWidget()
        self.list.setObjectName("price lines")
        self.list.setWordWrap(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setMinimumHeight(self.theme.px(190))
        self.column.addWidget(self.list)
        self.column.addWidget(label("On paper", "head"))
        self.number = QLineEdit()
        self.number.setObjectName("offer number")
        self.number.setPlaceholderText("number of the quote or invoice")
        self.number.setAccessibleName("number of the quote or invoice")
        self.column.addWidget(self.number)
        self.lines = QCheckBox("every line, not the sums alone")
        self.lines.setObjectName("offer lines")
        self.lines.setChecked(True)
        self.column.addWidget(self.lines)
        self.column.addLayout(
            self.row(
                ("Quote…", "quote paper", lambda: self._ask("quote")),
                ("Invoice…", "invoice paper", lambda: self._ask("invoice")),
                tips=(
                    "What it comes to, tax apart, as PDF; it holds for thirty days",
                    "The same as an invoice; it wants a number and the shop's own prices",
                ),
            )
        )
        self.done = label("", "quiet", wrap=True)
        self.done.hide()
        self.column.addWidget(self.done)

    def refresh(self) -> None:
        making = self.store.making
        making.look_at_price()
        q, work = making.price, making.work
        rows = hours_by_trade(making.stood)
        if q is None or work is None:
            words = self.store.refusal or "It is being reckoned…"
            self.sum.setText(words)
            self.picture.show_price(None, (), words)
            self.list.clear()
            return
        self.sum.setText(units.bare(f"{q.total:.2f} {q.currency}, with tax {q.taxed:.2f}"))
        self.whose.setText(
            f"{work.shop.words} An hour is {units.bare(f'{work.shop.rates.labour_h:.2f}')}, tax "
            f"{units.bare(f'{work.shop.rates.tax_percent:.3g}')} % (Job, The shop)."
        )
        timed = sum(h.timed for h in rows)
        done = sum(h.done for h in rows)
        self.timed.setText(
            units.bare(f"{q.hours:.1f} hours planned")
            + (
                units.bare(f"; {done:.1f} of them done in {timed:.1f}") + " hours that were timed."
                if timed
                else "."
            )
        )
        self.list.clear()
        for r in q.lines:
            amount, unit = r.amount_in(self.store.job.units)
            text = f"{self.store.said(r.what)}   {units.bare(f'{amount:.3g} {unit}   {r.price:.2f}')}"
            item = QListWidgetItem(text)
            item.setToolTip(NAMES[r.of])
            self.list.addItem(item)
        self.picture.said = self.store.said
        self.picture.show_price(q, rows, system=self.store.job.units)

    def _ask(self, kind: str) -> None:
        name, _ = QFileDialog.getSaveFileName(
            self, kind.capitalize(), str(Path.home() / f"{kind}.pdf"), "PDF (*.pdf)"
        )
        if name:
            self.write(named(Path(name), ".pdf"), kind)

    def write(self, path: Path, kind: str) -> None:
        """Write a quote or an invoice; what came of it is said."""
        making = self.store.making
        q, work = making.price, making.work
        if q is None or work is None:
            self.say("It is being reckoned; a moment.")
            return
        offer = Offer("invoice" if kind == "invoice" else "quote", self.number.text(), self.lines.isChecked())
        paper = str(settings.remembered("paper"))
        try:
            made = offer_pdf(
                self.store.job, q, work.shop, offer, CAUTION, datetime.now(), paper if paper else "A4"
            )
            write_atomically(path, made)
        except (ValueError, FileError) as error:
            self.say(str(error))
            return
        except OSError as error:
            self.say(f"{path.name} could not be written: {os_words(error)}.")
            return
        self.say("")
        self.done.setText(f"Written: {path}")
        self.done.show()


__all__ = ["PricePage"]
