"""Plates to have cut elsewhere: a service's price beside the own table and a hand with a grinder, what it
complains of drawn on the plate, and the order.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import cast

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from urial.desk import settings
from urial.desk.scene.outline_view import OutlineView
from urial.desk.store import Store
from urial.desk.theme import Theme
from urial.desk.widgets.fields import label
from urial.desk.widgets.pickers import Picker
from urial.desk.worker import Worker
from urial.geometry.outline import bounds
from urial.geometry.shape import Plate
from urial.making.parts import lead, parts_list
from urial.making.step import key_of
from urial.measure.outline_file import Fault, Traced, moved
from urial.papers.have_cut import compared, order_key, to_have_cut
from urial.services.cutting import (
    FINISHES,
    CuttingService,
    Finish,
    Offer,
    PartWanted,
    Placed,
    ServiceError,
)
from urial.services.cutting_house import CuttingHouse

REMEMBERED = "cutting service"
HEADS = ("", "plate", "off", "own table", "by hand", "service")


class OrderCard(QDialog):
    """Of the job as it stands when it is opened."""

    def __init__(self, store: Store, theme: Theme, parent: QWidget) -> None:
        super().__init__(parent)
        self.store, self.theme = store, theme
        self.offer: Offer | None = None
        self.asked: tuple[PartWanted, ...] = ()
        self.placed: Placed | None = None
        self.house: CuttingHouse | None = None
        self.setWindowTitle("Have plates cut")
        self.resize(theme.px(940), theme.px(560))
        row = QHBoxLayout(self)
        left = QVBoxLayout()
        row.addLayout(left, 3)
        line = QHBoxLayout()
        self.address = QLineEdit(settings.remembered(REMEMBERED))
        self.address.setObjectName("service address")
        self.address.setAccessibleName("address of the cutting service")
        self.address.setPlaceholderText("https://… of a cutting service")
        self.address.returnPressed.connect(self._ask)
        self.finish = Picker()
        self.finish.setObjectName("service finish")
        self.finish.addItems(list(FINISHES))
        self.finish.currentIndexChanged.connect(lambda _: self._forget())
        self.ask = self._button("Ask the price", "ask service", self._ask)
        self.stop = self._button("Stop", "stop service", self._stop)
        self.stop.hide()
        line.addWidget(self.address, 3)
        line.addWidget(self.finish, 1)
        line.addWidget(self.ask)
        line.addWidget(self.stop)
        left.addLayout(line)
        self.table = QTableWidget(0, len(HEADS))
        self.table.setObjectName("plates to cut")
        self.table.setHorizontalHeaderLabels(list(HEADS))
        self.table.verticalHeader().hide()
        self.table.setSelectionBehavior(QTableWidget.SelectionBehavior.SelectRows)
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.table.horizontalHeader().setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        self.table.currentCellChanged.connect(lambda *_: self._draw())
        self.table.itemChanged.connect(self._ticked)
        left.addWidget(self.table, 1)
        self.told = label("", "head", wrap=True)
        self.told.setObjectName("service told")
        self.problem = label("", "problem", wrap=True)
        self.problem.setObjectName("service problem")
        left.addWidget(self.told)
        left.addWidget(self.problem)
        left.addWidget(
            label(
                "Drawings of the ticked plates go to the service, and nothing else of the job. Own figures "
                "are metal and the plan's minutes at the shop's rate.",
                "quiet",
                wrap=True,
            )
        )
        ends = QHBoxLayout()
        ends.addWidget(self._button("Try a simulated one", "simulated service", self._simulate))
        ends.addWidget(self._button("Close", "close service", self.reject))
        self.order = self._button("Order it", "order service", self._order)
        self.order.setEnabled(False)
        ends.addWidget(self.order)
        left.addLayout(ends)
        self.view = OutlineView(theme)
        self.view.waiting = "No plate is to be cut."
        row.addWidget(self.view, 2)
        self._worker = Worker(self, self._answered)
        self._fill()

    def _button(self, words: str, name: str, act: Callable[[], None]) -> QPushButton:
        button = QPushButton(words)
        button.setObjectName(name)
        button.setAutoDefault(False)
        button.clicked.connect(lambda _=False: act())
        return button

    def reject(self) -> None:
        self._worker.drop()
        if self.house is not None:
            self.house.stop()
            self.house = None
        super().reject()

    # ---- the plates

    def _parts(self) -> list[PartWanted]:
        work = self.store.making.work
        if work is None:
            return []
        finish = cast("Finish", FINISHES[self.finish.currentIndex()])
        sets = int(self.store.job.making.sets)
        assembly = work.verdict.assembly
        return to_have_cut(assembly, work.rows, self.store.making.stood, sets, finish)

    def _chosen(self) -> list[PartWanted]:
        ticked = set()
        for n in range(self.table.rowCount()):
            item = self.table.item(n, 0)
            if item is not None and item.checkState() == Qt.CheckState.Checked:
                ticked.add(item.data(Qt.ItemDataRole.UserRole))
        return [p for p in self._parts() if p.mark in ticked]

    def _fill(self) -> None:
        """Every plate with its ways; ticks stay."""
        work = self.store.making.work
        if work is None:
            self._say("The plan is being made; open this again in a moment.")
            return
        off = {
            item.data(Qt.ItemDataRole.UserRole)
            for n in range(self.table.rowCount())
            if (item := self.table.item(n, 0)) is not None and item.checkState() != Qt.CheckState.Checked
        }
        parts = self._parts()
        assembly = work.verdict.assembly
        ways = compared(assembly, work.rows, self.store.making.stood, parts, self.offer, work.shop)
        names = {r.mark: r.name for r in work.rows}
        here = self.table.currentRow()
        self.table.blockSignals(True)
        self.table.setRowCount(len(ways))
        for n, w in enumerate(ways):
            tick = QTableWidgetItem()
            tick.setFlags(Qt.ItemFlag.ItemIsUserCheckable | Qt.ItemFlag.ItemIsEnabled)
            tick.setCheckState(Qt.CheckState.Unchecked if w.mark in off else Qt.CheckState.Checked)
            tick.setData(Qt.ItemDataRole.UserRole, w.mark)
            self.table.setItem(n, 0, tick)
            prices = (f"{x.price:.2f}" if x is not None else "—" for x in (w.table, w.hand, w.service))
            for k, text in enumerate((f"{w.mark}  {names[w.mark]}", str(w.count), *prices), 1):
                item = QTableWidgetItem(text)
                if k > 1:
                    item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.table.setItem(n, k, item)
        self.table.setColumnWidth(0, self.theme.px(28))
        for k in range(2, len(HEADS)):
            self.table.setColumnWidth(k, self.theme.px(78))
        self.table.blockSignals(False)
        self.table.setCurrentCell(min(max(here, 0), len(ways) - 1), 1)
        self._draw()

    def _ticked(self, item: QTableWidgetItem) -> None:
        if item.column() == 0:
            self._forget()

    def _forget(self) -> None:
        """Other plates or another finish: the offer is no longer for what is asked."""
        if self.offer is not None:
            self.offer = None
            self.order.setEnabled(False)
            self.told.setText("Something else is asked for now; ask the price again.")
            self._fill()

    def _draw(self) -> None:
        """The chosen plate as it is drawn, with what the service complains of."""
        work, item = self.store.making.work, self.table.item(self.table.currentRow(), 0)
        if work is None or item is None:
            return
        mark = item.data(Qt.ItemDataRole.UserRole)
        row = next((r for r in work.rows if r.mark == mark), None)
        if row is None:
            return
        shape = work.verdict.assembly.by_key[lead(row)].shape
        assert isinstance(shape, Plate)
        u0, v0, _, _ = bounds(shape.outline)
        flat = moved(Traced(mark, shape.outline, shape.holes, shape.openings), (-u0, -v0))
        lines = self.offer.lines if self.offer is not None else ()
        troubles = next((line.troubles for line in lines if line.mark == mark), ())
        self.view.show_plate(
            replace(shape, outline=flat.rim, holes=flat.holes, windows=flat.windows, slots=())
        )
        self.view.show_outline(flat, [Fault(t.at_mm, t.words) for t in troubles])

    def _say(self, words: str) -> None:
        self.problem.setText(self.store.said(words))

    # ---- asked and answered

    def _simulate(self) -> None:
        if self.house is None:
            self.house = CuttingHouse().__enter__()
        self.address.setText(self.house.address)
        self._ask()

    def _busy(self, on: bool) -> None:
        self.ask.setEnabled(not on)
        self.stop.setVisible(on)
        self.order.setEnabled(not on and self._whole() is not None and self.placed is None)

    def _whole(self) -> float | None:
        return self.offer.total({p.mark: p.count for p in self.asked}) if self.offer is not None else None

    def _ask(self) -> None:
        parts = self._chosen()
        if not parts:
            self._say("Tick the plates that are to be cut.")
            return
        try:
            service = CuttingService(self.address.text())
        except ServiceError as error:
            self._say(str(error))
            return
        self.asked, self.offer, self.placed = tuple(parts), None, None
        self._say("")
        self.told.setText("Asking…")
        self._send(lambda stopped: service.quote(parts, stopped))

    def _order(self) -> None:
        offer = self.offer
        if offer is None:
            return
        service, key = CuttingService(self.address.text()), order_key(self.store.job.id, self.asked)
        self._send(lambda stopped: service.order(offer.id, key, stopped))

    def _send(self, question: Callable[[Callable[[], bool]], object]) -> None:
        def work(stopped: Callable[[], bool]) -> object:
            try:
                return question(stopped)
            except ServiceError as error:
                return error

        self._busy(True)
        self._worker.ask(work)

    def _stop(self) -> None:
        self._worker.drop()
        self._busy(False)
        self.told.setText(
            "Stopped. An order that was under way may stand there: press it once more, it is one."
        )

    def _answered(self, found: object) -> None:
        if isinstance(found, ServiceError):
            self.told.setText("")
            self._say(str(found))
        elif isinstance(found, Offer):
            self.offer = found
            self._fill()
            self._say("")
            total = self._whole()
            if self.house is None:
                settings.remember(REMEMBERED, self.address.text().strip())
            faulty = [line.mark for line in found.lines if line.troubles]
            self.told.setText(
                f"{found.house or 'The service'}: "
                + (
                    f"{total:.2f} {found.currency} with delivery, {found.days} working days."
                    if total is not None
                    else f"no price for {', '.join(faulty)}; what is wrong is marked on the plate."
                )
            )
            if faulty:
                self._show_mark(faulty[0])
        elif isinstance(found, Placed):
            self.placed = found
            self._note(found)
            self.told.setText(
                f"Ordered: {found.order}" + (f", promised for {found.promised}." if found.promised else ".")
            )
        else:
            self._say("It could not be asked; the log says why.")
        self._busy(False)

    def _show_mark(self, mark: str) -> None:
        for n in range(self.table.rowCount()):
            item = self.table.item(n, 0)
            if item is not None and item.data(Qt.ItemDataRole.UserRole) == mark:
                self.table.setCurrentCell(n, 1)

    def _note(self, found: Placed) -> None:
        """The order's number stands in the job's log, at every plate it is of."""
        work = self.store.making.work
        if work is None:
            return
        whom = found.house or self.address.text().strip()
        words = f"ordered of {whom}: {found.order}" + (
            f", promised {found.promised}" if found.promised else ""
        )
        leads = {r.mark: lead(r) for r in parts_list(work.verdict.assembly)}
        for p in self.asked:
            step = work.plan.by_key.get(key_of(leads[p.mark], "cut plate"))
            if step is not None:
                self.store.making.note(step, 1, words)


__all__ = ["OrderCard"]
