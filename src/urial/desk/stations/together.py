"""Together: will it go together?  What is in the way, worst first, with the move that clears it; the order it
goes on in, played; what each piece takes to put on and off.
"""

from __future__ import annotations

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QHideEvent, QShowEvent
from PySide6.QtWidgets import (
    QCheckBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from urial import units
from urial.desk.stations.base import Station
from urial.desk.stations.page import tone
from urial.desk.widgets.fields import clear, label
from urial.desk.widgets.pickers import Slider
from urial.desk.widgets.pins import Clearances
from urial.desk.widgets.plain import plain
from urial.desk.widgets.word_button import WordButton
from urial.fit import Finding
from urial.job import edit
from urial.job.model import Waiver
from urial.session.questions import State

KINDS = {
    "clash": "runs into",
    "access": "no way to it",
    "order": "does not go on",
    "hole": "holes",
    "stack": "adds up",
}
"""What kind of thing is in the way, in two words."""
PLAY_MS, PLAY_STEP = 40, 0.03


class Together(Station):
    """Will it go together?"""

    name = "Together"
    view = "turned"
    findings = True
    apart = Signal(float)
    """So many things are off, as the order has it."""

    def fill(self) -> None:
        self.verdict_line = label("", "title", wrap=True)
        self.column.addWidget(self.verdict_line)
        self.looking = QWidget()
        row = QHBoxLayout(self.looking)
        row.setContentsMargins(0, 0, 0, 0)
        self.progress = label("", "quiet", wrap=True)
        row.addWidget(self.progress, 1)
        self.stop = QPushButton("Stop")
        self.stop.setObjectName("stop looking")
        self.stop.clicked.connect(lambda: self.store.asking.drop("fit"))
        row.addWidget(self.stop)
        self.column.addWidget(self.looking)
        self.again = QPushButton("Look again")
        self.again.setObjectName("look again")
        self.again.clicked.connect(self.store.look_at_fit)
        self.column.addWidget(self.again)
        self.rows = QVBoxLayout()
        self.rows.setSpacing(self.theme.px(6))
        self.column.addLayout(self.rows)
        self.clearances = Clearances(self.store)
        self.column.addWidget(self.clearances)
        self.order_head = label("On, in this order", "head")
        self.column.addWidget(self.order_head)
        self.order = label("", "", wrap=True)
        self.column.addWidget(self.order)
        self.play_row = QWidget()
        play = QHBoxLayout(self.play_row)
        play.setContentsMargins(0, 0, 0, 0)
        self.slider = Slider(Qt.Orientation.Horizontal)
        self.slider.setObjectName("take apart")
        self.slider.setAccessibleName("take apart")
        self.slider.setToolTip("Takes it apart on the drawing, the last thing on first")
        self.slider.valueChanged.connect(self._pulled)
        self.play = QPushButton("Play")
        self.play.setObjectName("play the order")
        self.play.setToolTip("Puts it together on the drawing, one thing after the other")
        self.play.clicked.connect(self._play)
        play.addWidget(self.slider, 1)
        play.addWidget(self.play)
        self.column.addWidget(self.play_row)
        self.pieces_head = label("On and off", "head")
        self.column.addWidget(self.pieces_head)
        self.pieces = label("", "quiet", wrap=True)
        self.column.addWidget(self.pieces)
        self.by_hand = QVBoxLayout()
        self.column.addLayout(self.by_hand)
        self.facts_head = label("To mind at the bench", "head")
        self.column.addWidget(self.facts_head)
        self.facts = label("", "quiet", wrap=True)
        self.column.addWidget(self.facts)
        self.timer = QTimer(self)
        self.timer.setInterval(PLAY_MS)
        self.timer.timeout.connect(self._tick)
        self._shown: object = None
        self._waiving, self._why = "", ""
        self._prices: dict[tuple[str, float], QLabel] = {}
        self.store.answered.connect(self._found)

    # ---- seen or not

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.store.watch_fit(True)
        self.refresh()

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        self.store.watch_fit(False)
        self.timer.stop()
        self.slider.setValue(0)

    def forget(self) -> None:
        self._shown, self._waiving = None, ""
        self.timer.stop()
        self.slider.setValue(0)

    # ---- what is shown

    def _found(self, name: str) -> None:
        if name == "fit" and self.isVisible():
            self.refresh()
            self._price()
        elif name == "moves" and self.isVisible():
            self._say_prices()

    def _price(self) -> None:
        """Ask what the moves would cost in strength."""
        found = self.store.fit
        moves = tuple(
            dict.fromkeys((f.move.path, f.move.value) for f in (found.open if found else ()) if f.move)
        )
        if moves:
            self.store.asking.ask("moves", State(self.store.job, about=moves))

    def _say_prices(self) -> None:
        """Under each move what it costs, as soon as that is known."""
        known = self.store.asking.answer("moves")
        about = self.store.asking.about("moves")
        if not isinstance(known, dict) or about is None or about.job is not self.store.job:
            return
        for (path, value), words in self._prices.items():
            price = known.get((path, value))
            if price is None:
                continue
            said = "; ".join(price.worse) if price.worse else "nothing gets worse"
            kg = units.figure(price.kg, 1, True) if abs(price.kg) >= 0.05 else ""
            words.setText(self.store.said(f"Then {f'{kg} kg; ' if kg else ''}{said}."))
            tone(words, "problem" if price.breaks else "quiet")

    def refresh(self) -> None:
        found, looking = self.store.fit, self.store.fit_looking
        self.looking.setVisible(bool(looking))
        self.progress.setText(f"Looking at {looking}…" if looking else "")
        self.again.setVisible(found is None and not looking)
        if self.store.refusal:
            self.verdict_line.setText("Sizes disagree; there is nothing to put together yet.")
        elif found is None:
            self.verdict_line.setText("Does it go together?" if looking else "Stopped before it was known.")
        elif found.clear:
            lived = len(found.findings)
            self.verdict_line.setText(
                "It goes together." + (f" {lived} waived." if lived else "")
                if not found.early
                else "Nothing found, and not everything was looked at."
            )
        else:
            n = len(found.open)
            self.verdict_line.setText(f"{n} thing{'s are' if n > 1 else ' is'} in the way.")
        self.clearances.refresh()
        shown = (found, self.store.chosen.finding, self._waiving, self.store.job.units)
        if shown == self._shown:
            return
        self._shown = shown
        clear(self.rows)
        self._prices = {}
        for n, f in enumerate(found.findings if found else (), 1):
            self.rows.addWidget(self._row(n, f))
        said = self.store.said
        steps = found.steps if found else ()
        for w in (self.order_head, self.order):
            w.setVisible(bool(steps))
        self.play_row.setVisible(len(steps) > 0)
        self.order.setText("\n".join(f"{n}  {said(s.words)}" for n, s in enumerate(steps, 1)))
        self._say_prices()
        self.slider.setRange(0, 100 * len(steps))
        rows = [said(p.words) for p in found.pieces] if found else []
        self.pieces_head.setVisible(bool(rows))
        self.pieces.setText("\n".join(rows))
        self._tool_free()
        notes = [said(f) for f in (*found.facts, *found.early)] if found else []
        self.facts_head.setVisible(bool(notes))
        self.facts.setText("\n".join(f"· {n}" for n in notes))

    def _tool_free(self) -> None:
        """A tick for every piece that is to come off without tools."""
        clear(self.by_hand)
        for piece, name in self.store.verdict.assembly.titles.items():
            box = QCheckBox(f"without tools: {name}")
            box.setToolTip(plain(f"The {name} is to come off without tools"))
            box.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
            box.setObjectName(f"tool free:{piece}")
            box.setChecked(piece in self.store.job.tool_free)
            box.toggled.connect(lambda on, k=piece: self._ask_tool_free(k, on))
            self.by_hand.addWidget(box)

    def _ask_tool_free(self, piece: str, on: bool) -> None:
        rest = tuple(p for p in self.store.job.tool_free if p != piece)
        job = self.store.job.model_copy(update={"tool_free": (*rest, piece) if on else rest})
        self.store.put_job(job, "tool_free", "off without tools" if on else "tools are allowed")

    def _row(self, n: int, f: Finding) -> QFrame:
        """A finding: what, where, what to do, and living with it."""
        card = QFrame()
        card.setObjectName("card")
        inner = QVBoxLayout(card)
        inner.setContentsMargins(10, 6, 10, 6)
        inner.setSpacing(self.theme.px(2))
        chosen = f.id == self.store.chosen.finding
        amount = (
            units.show(f.amount, "length", self.store.job.units, self.store.job.nearest)
            if f.amount is not None
            else ""
        )
        named = " · ".join(p for p in f.parts if p)
        head = QPushButton("   ".join(x for x in (str(n), named, KINDS[f.kind], amount) if x))
        head.setObjectName(f"finding:{f.id}")
        head.setCheckable(True)
        head.setChecked(chosen)
        head.setProperty("segment", True)
        head.setToolTip(plain(f"{head.text()}: show it on the drawing"))
        head.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        head.clicked.connect(lambda _=False, i=f.id: self.store.choose_finding(i))
        inner.addWidget(head)
        inner.addWidget(label(self.store.said(f.words), "quiet" if f.waived else "", wrap=True))
        if f.waived:
            inner.addWidget(label(f"Lived with: {f.waived}", "quiet", wrap=True))
        buttons = QHBoxLayout()
        if f.move is not None and not f.waived:
            do = WordButton(self.store.said(f.move.words))
            do.setObjectName(f"move:{f.id}")
            do.setToolTip(plain(f"{do.text()}. One step of undo takes it back"))
            do.clicked.connect(lambda _=False, x=f: self._move(x))
            inner.addWidget(do)
            price = label("What it costs is being looked at…", "quiet", wrap=True)
            price.setObjectName(f"costs:{f.id}")
            self._prices[f.move.path, f.move.value] = price
            inner.addWidget(price)
        elif f.advice and not f.waived:
            inner.addWidget(label(self.store.said(f.advice), "strong", wrap=True))
        if f.waived:
            back = QPushButton("Take it up again")
            back.setObjectName(f"unwaive:{f.id}")
            back.clicked.connect(lambda _=False, i=f.id: self._waive(i, ""))
            buttons.addWidget(back)
        elif self._waiving == f.id:
            why = QLineEdit()
            why.setObjectName("waive why")
            why.setPlaceholderText("why it may stay")
            why.setAccessibleName("why it may stay")
            why.setMaxLength(300)
            why.setText(self._why)  # what was begun, where an answer came while it was written
            why.textEdited.connect(self._keep_why)
            why.returnPressed.connect(lambda i=f.id, w=why: self._waive(i, w.text()))
            keep = QPushButton("Keep")
            keep.setObjectName("waive keep")
            keep.clicked.connect(lambda _=False, i=f.id, w=why: self._waive(i, w.text()))
            buttons.addWidget(why, 1)
            buttons.addWidget(keep)
            QTimer.singleShot(0, why.setFocus)
        else:
            live = QPushButton("Live with it…")
            live.setObjectName(f"waive:{f.id}")
            live.setProperty("segment", True)
            live.clicked.connect(lambda _=False, i=f.id: self._ask_why(i))
            buttons.addWidget(live)
            buttons.addStretch(1)
        inner.addLayout(buttons)
        return card

    def _keep_why(self, text: str) -> None:
        self._why = text

    # ---- what is done

    def _move(self, f: Finding) -> None:
        assert f.move is not None
        title = edit.spec_of(self.store.job, f.move.path).title
        self.store.put_job(
            edit.put(self.store.job, f.move.path, f.move.value), f.move.path, f"{title}, so that it clears"
        )

    def _ask_why(self, ident: str) -> None:
        self._waiving, self._why = ident, ""
        self.refresh()

    def _waive(self, ident: str, why: str) -> None:
        """Live with a finding, for a reason; without one it counts again."""
        job, reason = self.store.job, why.strip()
        if not reason and all(w.finding != ident for w in job.waived):
            self._waiving = ""
            self.refresh()
            return
        rest = tuple(w for w in job.waived if w.finding != ident)
        more = (Waiver(finding=ident[:300], reason=reason),) if reason else ()
        self._waiving = ""
        self.store.put_job(
            job.model_copy(update={"waived": (*rest, *more)}),
            "waived",
            "live with a finding" if reason else "take a finding up again",
        )

    def _pulled(self, value: int) -> None:
        self.apart.emit(value / 100)

    def _play(self) -> None:
        """From all apart to together; a second click stops it where it is."""
        if self.timer.isActive():
            self.timer.stop()
            return
        self.slider.setValue(self.slider.maximum())
        self.timer.start()

    def _tick(self) -> None:
        left = self.slider.value() - max(round(100 * PLAY_STEP), 1)
        self.slider.setValue(max(left, 0))
        if left <= 0:
            self.timer.stop()

    def open_words(self) -> tuple[str, bool]:
        found = self.store.fit
        if found is None:
            return "looking" if self.store.fit_looking else "", False
        n = len(found.open)
        return (f"{n} in the way", True) if n else ("fits", False)
