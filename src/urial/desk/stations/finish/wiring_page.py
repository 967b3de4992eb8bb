"""Wiring: which cable goes on which contact, how thick, how long, behind which fuse."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from urial.desk.scene.wiring_view import WiringView
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import form, label
from urial.making.wiring import LAMPS, SOCKET, NoCable, wiring_of

OWN = (
    "plug",
    "colours",
    "lamps",
    "earth",
    "host_lamps",
    "watched",
    "run_mm",
    "brake_A",
    "supply_A",
    "battery_mm",
)


UNASKED = {"earth": SOCKET, "battery_mm": LAMPS}
"""Fields that change nothing in one of the two: a host's body is the way back, a trailer has no battery."""


class WiringPage(Page):
    """Which cable, how thick, on which contact?"""

    name = "Wiring"
    bench_at = "wire"
    question = "Which cable, how thick, on which contact?"
    needs_part = True

    def fill(self) -> None:
        self.canvas = self.picture = WiringView(self.theme)
        self.picture.length = self.length
        self.column.addWidget(form(self.store, ["making.wiring.what"]))
        self.own = form(self.store, [f"making.wiring.{n}" for n in OWN])
        self.column.addWidget(self.own)
        self.words = label("", "", wrap=True)
        self.words.setObjectName("wiring words")
        self.column.addWidget(self.words)
        self.picture.told.connect(
            lambda room: self.words.setVisible(self.picture.wired is not None and not room)
        )
        self.bought_head = label("To buy", "head")
        self.column.addWidget(self.bought_head)
        self.bought = label("", "", wrap=True)
        self.bought.setObjectName("wiring bought")
        self.column.addWidget(self.bought)
        self.caution = label(
            "What the roads of the place want of lamps and plugs is asked there; a meter on the contact "
            "decides, not the colour.",
            "quiet",
            wrap=True,
        )
        self.column.addWidget(self.caution)

    def refresh(self) -> None:
        job = self.store.job
        wishes = job.making.wiring
        on = wishes.what != "nothing"
        self.words.hide()
        for w in (self.own, self.bought_head, self.bought, self.caution):
            w.setVisible(on)
        for name, of in UNASKED.items():
            row = self.findChild(QWidget, f"field:making.wiring.{name}")
            assert row is not None
            row.setVisible(wishes.what != of)
        if not on:
            self.picture.show_wiring(
                None, "Nothing is wired yet. Choose at the right: lamps on it, or a socket on the host."
            )
            self.say("")
            return
        try:
            found = wiring_of(self.store.verdict.assembly, wishes, job.units)
        except NoCable as refusal:
            self.bought.setText("")
            self.bought_head.hide()
            self.picture.show_wiring(None, self.store.said(str(refusal)))
            self.say(str(refusal))
            return
        assert found is not None
        self.say("")
        guess = "How long the cable is nobody measured: lay a cord where it goes, and type it."
        said = [*([guess] if found.guessed else []), *found.words]
        words = "\n".join(self.store.said(w) for w in said)
        rows = "\n".join(b.said(job.units) for b in found.bought)
        self.bought.setText(self.store.said(rows))
        self.picture.show_wiring(found, words=words)
        self.words.setText(words)
        self.words.setVisible(not self.picture.room)
        self.grow()


__all__ = ["WiringPage"]
