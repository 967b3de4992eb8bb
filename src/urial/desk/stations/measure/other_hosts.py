"""The other hosts a part must serve: added, measured and taken off, each with its own figures."""

from __future__ import annotations

from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from urial.desk.store import Store
from urial.desk.widgets.fields import Field, clear, label
from urial.desk.widgets.fold import Fold
from urial.job import edit, origin, serves
from urial.job.fields import specs
from urial.job.host import HardPoint


class OtherHosts(QWidget):
    """Under the first host: every other one folded, and a button for one more."""

    def __init__(self, store: Store) -> None:
        super().__init__()
        self.store = store
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(label("It must serve these too", "head"))
        self.words = label("", "quiet", wrap=True)
        column.addWidget(self.words)
        self.rows = QVBoxLayout()
        column.addLayout(self.rows)
        self.more = QPushButton()
        self.more.setObjectName("one more host")
        self.more.setToolTip(
            "Of the same kind, with the first one's figures to start from: measure what differs. Every check "
            "is made on each of them and the worst counts"
        )
        self.more.clicked.connect(self._more)
        column.addWidget(self.more)
        self._made: object = None

    def refresh(self) -> None:
        """As the job stands: rows are made anew only where hosts or their holes came or went."""
        job = self.store.job
        self.setVisible(job.has_part)
        self.more.setText(f"One more {job.vehicle.words} it must serve")
        self.more.setEnabled(len(job.hosts) < serves.MOST)
        others = len(job.hosts) - 1
        self.words.setText(
            "The part is built and judged on each, and the worst counts; the drawing shows the first."
            if others
            else "Only the one above, so far."
        )
        made = tuple((type(h), h.name, len(h.left), len(h.right)) for h in job.hosts[1:])
        if made == self._made:
            return
        opened = {f.open.objectName() for f in self.findChildren(Fold) if f.open.isChecked()}
        self._made = made
        clear(self.rows)
        for number in range(1, len(job.hosts)):
            self.rows.addWidget(self._row(number, f"host {number}" in opened))

    def _row(self, number: int, opened: bool) -> Fold:
        job = self.store.job
        host = job.hosts[number]
        row = Fold(host.name, f"host {number}", "What differs from the first one: measure it and type over")
        known = specs(type(host))
        of_use = [n for n in known if n != "kind" and origin.of_use(job, f"hosts.{number}.{n}")]
        for name in of_use:
            row.inner.addWidget(Field(self.store, f"hosts.{number}.{name}", known[name].title))
        own = {n: s.title for n, s in specs(HardPoint).items() if s.quantity}
        for side, holes in (("left", host.left), ("right", host.right)):
            for hole in range(len(holes)):
                row.inner.addWidget(label(f"{side.capitalize()} hole {hole + 1}", "head"))
                for name, title in own.items():
                    path = f"hosts.{number}.{side}.{hole}.{name}"
                    row.inner.addWidget(Field(self.store, path, title))
        away = QPushButton(f"It need not serve {host.name}")
        away.setObjectName(f"host away {number}")
        away.clicked.connect(lambda _=False, n=number: self._away(n))
        row.inner.addWidget(away)
        row.open.setChecked(opened)
        row.refresh()
        return row

    def _more(self) -> None:
        job = serves.with_another(self.store.job)
        self.store.put_job(job, "hosts", f"serves {job.hosts[-1].name} too", "assumed")

    def _away(self, number: int) -> None:
        try:
            job = serves.without(self.store.job, number)
        except edit.EditError:
            return  # a second press on the same button: it is off already
        self.store.put_job(job, "hosts", "one host less", "assumed")


__all__ = ["OtherHosts"]
