"""What goes into an open place: each kind of part drawn small, how it would do there, or why it does not
go.
"""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QIcon
from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from urial.desk.store import Store
from urial.desk.theme import Theme
from urial.desk.widgets.fields import clear, label
from urial.desk.widgets.plain import plain
from urial.desk.widgets.sketch import sketch, sketch_shop
from urial.families import _stack as stack
from urial.job.model import Job
from urial.prove.offers import Offer
from urial.session.questions import State


class Offers(QWidget):
    """Asks off the GUI thread; ``take`` gets the job with the chosen piece in it and what was done, in
    words.
    """

    def __init__(
        self, store: Store, theme: Theme, take: Callable[[Job, str], None], leave: Callable[[], None]
    ) -> None:
        super().__init__()
        self.store, self.theme, self.take, self.leave = store, theme, take, leave
        self.setObjectName("offers")
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(theme.px(5))
        self.title = label("", "title", wrap=True)
        self.said = label("", "quiet", wrap=True)
        self.column.addWidget(self.title)
        self.column.addWidget(self.said)
        self.rows = QVBoxLayout()
        self.rows.setSpacing(theme.px(4))
        self.column.addLayout(self.rows)
        back = QPushButton("Leave it open")
        back.setObjectName("leave open")
        back.clicked.connect(lambda: self.leave())
        self.column.addWidget(back)
        store.answered.connect(self._answered)
        self._what = ""

    def ask(self, job: Job, place: stack.Open, what: str) -> None:
        """Ask what goes into a place of a job; ``what`` is done when one is taken: put in, or put in place
        of.
        """
        self._what = what
        self.title.setText(f"What goes {'on' if place.on == 'host' else 'into'} the {place.words}?")
        self.said.setText("Trying each kind of part there…")
        clear(self.rows)
        self.store.asking.ask("offers", State(job, about=place))

    def _answered(self, name: str) -> None:
        asking = self.store.asking
        if name == "offers" and not asking.busy(name) and asking.about(name) is not None:
            self._arrived(asking.answer(name))

    def _arrived(self, found: object) -> None:
        rows = found if isinstance(found, list) else []
        clear(self.rows)
        fits = sum(o.fits for o in rows)
        self.said.setText(
            f"{fits} of {len(rows)} kinds go there. A click puts one in; undo takes it out again."
            if fits
            else "Nothing on the shelf goes there."
        )
        for offer in rows:
            self.rows.addWidget(self._row(offer))

    def _row(self, offer: Offer) -> QWidget:
        px = self.theme.px
        if not offer.fits:
            words = label(self.store.said(f"{offer.family.title}: {offer.words}"), "quiet", wrap=True)
            words.setObjectName(f"refused:{offer.family.name}")
            return words
        own = " · the shop's own" if offer.shop is not None else ""
        button = QPushButton(self.store.said(f"{offer.family.title}{own}\n{offer.words}"))
        button.setObjectName(f"offer:{offer.shop.title if offer.shop else offer.family.name}")
        button.setProperty("offer", True)
        button.setToolTip(plain(offer.family.about))
        icon = (
            sketch_shop(offer.shop, self.theme, px(72), px(48))
            if offer.shop is not None
            else sketch(offer.family, self.theme, px(72), px(48))
        )
        button.setIcon(QIcon(icon))
        button.setIconSize(QSize(px(72), px(48)))
        button.setCursor(Qt.CursorShape.PointingHandCursor)
        assert offer.job is not None
        job = offer.job
        button.clicked.connect(lambda: self.take(job, f"{self._what} {offer.family.title.lower()}"))
        return button
