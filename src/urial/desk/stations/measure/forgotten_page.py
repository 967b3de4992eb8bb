"""Forgotten: what people forget to measure, answered by a measurement; what is open stays open and blocks
nothing.
"""

from __future__ import annotations

from PySide6.QtWidgets import QLabel, QVBoxLayout

from urial.desk.stations.page import Page, tone
from urial.desk.widgets.fields import Field, clear, label
from urial.measure.forgotten import forgotten

WORDS = {"open": "Open. ", "mind": "Mind: ", "good": "Measured. "}


class ForgottenPage(Page):
    """What did we forget?"""

    name = "Forgotten"
    question = "What do people forget?"

    def fill(self) -> None:
        self.count = label("", "quiet", wrap=True)
        self.column.addWidget(self.count)
        self.place = QVBoxLayout()
        self.column.addLayout(self.place)
        self._made: object = None
        self.lines: dict[str, tuple[QLabel, QLabel]] = {}

    def refresh(self) -> None:
        items = forgotten(self.store.job, self.store.verdict.assembly)
        shape = tuple(i.id for i in items)
        if shape != self._made:
            self._made = shape
            clear(self.place)
            self.lines = {}
            for item in items:
                head, words = label("", "head", wrap=True), label("", "quiet", wrap=True)
                head.setObjectName(f"forgotten:{item.id}")
                self.place.addWidget(head)
                for path in item.paths:
                    self.place.addWidget(Field(self.store, path))
                self.place.addWidget(words)
                self.lines[item.id] = (head, words)
        for item in items:
            head, words = self.lines[item.id]
            head.setText(item.question)
            words.setText(self.store.said(f"{WORDS[item.state]}{item.words}"))
            tone(words, "problem" if item.state == "mind" else "quiet")
        left = sum(i.state == "open" for i in items)
        self.count.setText(
            f"{left} of {len(items)} still open. They block nothing; they are printed in the packet."
            if left
            else "Everything is measured."
        )
