"""One step of the work in the whole window: its picture, the figure to set as tall as a hand, the next step
small, a clock, a tick.  Space, arrows and digits only.
"""

from __future__ import annotations

import json
from datetime import datetime
from pathlib import Path
from time import monotonic

from PySide6.QtCore import QEvent, QObject, Qt, QTimer, Signal
from PySide6.QtGui import QHideEvent, QKeyEvent, QShowEvent
from PySide6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from urial.desk.making import LONGEST_NOTE
from urial.desk.scene.bars_view import BarsView
from urial.desk.scene.piece_view import PieceView
from urial.desk.scene.weld_view import WeldView
from urial.desk.scene.work_view import WorkView
from urial.desk.store import Store
from urial.desk.theme import Theme, font
from urial.job.file import FileError, write_atomically
from urial.journal import state_dir
from urial.making.drawings import Drawing, drawing, holes_only
from urial.making.finish import clock_words
from urial.making.learned import MACHINE
from urial.making.nests import BarCut, Cut
from urial.making.parts import parts_list
from urial.making.status import Stood
from urial.making.step import Reading
from urial.session.work import Work
from urial.units import parse

MADE = ("saw", "cut plate", "buy")
MARKED = ("mitre", "cope", "slot", "bend", "trim", "drill", "ream", "tap", "fold", "cut plate")
"""Work that is marked out on a piece: its drawing is shown."""
WELDED = ("run", "tack")
STAY = "bench.json"
"""Member of the state folder: which step of which job was before somebody's eyes, and how long."""
LIMIT = 100_000
LARGEST = 64 * 1024 * 1024
"""A picture's file, bytes."""
KEYS = (
    "Space: done   ← →: another step   digits, Enter: what you measured   Backspace: take back   Esc: leave"
)


def _clock(seconds: float) -> str:
    minutes, rest = divmod(int(seconds), 60)
    hours, minutes = divmod(minutes, 60)
    return f"{hours}:{minutes:02d}:{rest:02d}" if hours else f"{minutes}:{rest:02d}"


class BenchView(QWidget):
    """``left`` when somebody goes back to the window."""

    left = Signal()

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        self.setObjectName("bench view")
        self.setAccessibleName("Bench view: one step of the work")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.key, self.typed = "", ""
        self._begun = monotonic()
        self._spent = 0.0
        self._told = ""
        self._fill()
        self._tick_timer = QTimer(self)
        self._tick_timer.setInterval(1000)
        self._tick_timer.timeout.connect(self._second)
        store.answered.connect(self._heard)
        store.changed.connect(self._changed)

    def _fill(self) -> None:
        px = self.theme.px
        column = QVBoxLayout(self)
        column.setContentsMargins(px(8), px(4), px(8), px(4))
        column.setSpacing(px(6))
        head = QHBoxLayout()
        self.what = self._label(30, bold=True)
        self.clock = self._label(30)
        head.addWidget(self.what, 1)
        head.addWidget(self.clock)
        column.addLayout(head)
        self.pictures = QStackedWidget()
        self.bar = BarsView(self.theme, "bench bar")
        self.bar.one = True
        self.part = WorkView(self.theme)
        self.piece = PieceView(self.theme, "bench piece")
        self.piece.figure_px = 20.0
        self.weld = WeldView(self.theme)
        for w in (self.bar, self.part, self.piece, self.weld):
            w.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            self.pictures.addWidget(w)
        column.addWidget(self.pictures, 1)
        self.figure = self._label(84, bold=True, mono=True)
        self.figure.setObjectName("bench figure")
        self.figure.setAlignment(Qt.AlignmentFlag.AlignCenter)
        column.addWidget(self.figure)
        self.words = self._label(20)
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        self.mind = self._label(16)
        self.mind.setWordWrap(True)
        column.addWidget(self.mind)
        self.read = self._label(24, mono=True)
        self.read.setObjectName("bench reading")
        column.addWidget(self.read)
        self.pen = QLineEdit()
        self.pen.setObjectName("bench words")
        self.pen.setPlaceholderText("What is to be remembered; Enter keeps it, Esc does not")
        self.pen.setMaxLength(LONGEST_NOTE)
        self.pen.setStyleSheet(f"font-size: {px(20)}px;")
        self.pen.returnPressed.connect(self._written)
        self.pen.installEventFilter(self)
        self.pen.hide()
        column.addWidget(self.pen)
        low = QHBoxLayout()
        self.next = self._label(16)
        self.next.setWordWrap(True)
        low.addWidget(self.next, 1)
        for text, name, act in (("Note", "bench note", self.write), ("Picture…", "bench picture", self.ask)):
            button = QPushButton(text)
            button.setObjectName(name)
            button.setFont(font(self.theme, 18))
            button.setStyleSheet(f"font-size: {px(18)}px; padding: {px(12)}px {px(18)}px;")
            button.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            button.clicked.connect(lambda _=False, do=act: do())
            low.addWidget(button)
        self.done = QPushButton("Done")
        self.done.setObjectName("bench done")
        self.done.setProperty("main", True)
        self.done.setFont(font(self.theme, 24, bold=True))
        self.done.setStyleSheet(f"font-size: {px(24)}px; padding: {px(14)}px {px(48)}px;")
        self.done.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.done.clicked.connect(self.tick)
        low.addWidget(self.done)
        column.addLayout(low)
        keys = self._label(13)
        keys.setText(KEYS)
        column.addWidget(keys)

    def _label(self, size: float, bold: bool = False, mono: bool = False) -> QLabel:
        out = QLabel()
        out.setTextFormat(Qt.TextFormat.PlainText)
        family = "B612 Mono" if mono else "B612"
        weight = "bold" if bold else "normal"
        out.setStyleSheet(
            f"font-family: '{family}'; font-size: {self.theme.px(size)}px; font-weight: {weight};"
        )
        return out

    # ---- which step

    @property
    def steps(self) -> list[Stood]:
        """What is not done yet, in the order of the plan."""
        rows = [r for r in self.store.making.stood if r.state in ("open", "part")]
        nth: dict[str, int] = {}
        for bar in self._bars():
            for cut in bar.cuts:
                nth.setdefault(cut.piece.key, len(nth))
        # at the saw bar by bar, each to its end
        sawn = iter(sorted((r for r in rows if r.step.kind == "saw"), key=lambda r: nth.get(r.step.key, 999)))
        return [next(sawn) if r.step.kind == "saw" else r for r in rows]

    @property
    def row(self) -> Stood | None:
        """The step that is shown."""
        rows = self.steps
        return next((r for r in rows if r.step.key == self.key), rows[0] if rows else None)

    def _bars(self) -> tuple[BarCut, ...]:
        nests = self.store.making.nests
        return tuple(sorted(nests.bars.bars, key=lambda b: not b.begun)) if nests is not None else ()

    def _cut_of(self, r: Stood) -> tuple[BarCut, Cut] | None:
        """The bar that a piece of this step comes out of, where it can be the next one, and the piece."""
        return self.store.making.cut_of(r.step.key) if r.step.kind == "saw" else None

    def _unit(self, r: Stood) -> int:
        """Which of a step's pieces is in hand."""
        cut = self._cut_of(r)
        return cut[1].piece.unit if cut is not None else r.left[0] if r.left else 1

    def go(self, by: int) -> None:
        """Another step."""
        rows, here = self.steps, self.row
        if here is None:
            return
        n = rows.index(here) + by
        if 0 <= n < len(rows):
            self._to(rows[n].step.key)

    def _to(self, key: str) -> None:
        self.key, self.typed, self._told = key, "", ""
        self._begun, self._spent = monotonic(), 0.0
        self._stay()
        self.refresh()

    def open(self, at: str = "") -> None:
        """At a step or a kind of work, else where it was, else at the first thing that can be done."""
        kept = self._kept()
        self.key = kept.get("step", "") if kept.get("job") == self.store.job.id else ""
        here = next((r for r in self.steps if r.step.key == self.key), None)
        if at and (here is None or at not in (here.step.key, here.step.kind)):
            wanted = (r.step.key for r in self.steps if at in (r.step.key, r.step.kind))
            self.key, kept = next(wanted, self.key), {}
        self._spent = float(kept.get("seconds", 0.0)) if self.key else 0.0
        self._begun = monotonic()
        self.store.making.look()
        self.refresh()

    # ---- shown

    def _changed(self) -> None:
        if self.isVisible():
            self.store.making.look()
            self.refresh()

    def _heard(self, name: str) -> None:
        if self.isVisible() and name in ("plan", "nests", "welding", "log"):
            self.refresh()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._tick_timer.start()
        self.setFocus()

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        self._tick_timer.stop()
        if self.key:
            self._stay()

    def _second(self) -> None:
        self.clock.setText(_clock(self.seconds))
        if int(self.seconds) % 10 == 0:
            self._stay()
            r = self.row
            if r is not None and r.step.kind in ("coat", "wait"):
                self._minded(r)  # the clock goes on

    @property
    def seconds(self) -> float:
        """How long this step has been before somebody's eyes, sleep of the machine left out."""
        return self._spent + monotonic() - self._begun

    def refresh(self) -> None:
        """Show the step as it stands."""
        making = self.store.making
        r, work = self.row, making.work
        self.done.setEnabled(r is not None)
        if r is None or work is None:
            self._nothing(work is not None)
            return
        if self.key != r.step.key:
            self.key = r.step.key
        several = r.step.count > 1 and r.step.kind != "buy"
        unit = f"  {len(r.done) + 1} of {r.step.count}" if several else ""
        marks = " ".join(r.step.marks[:6])
        self.what.setText(f"{r.step.kind.capitalize()}  {marks}{unit}")
        self.figure.setText(self._figure(r))
        self.figure.setVisible(bool(self.figure.text()))
        self.words.setText(self.store.said(r.step.words))
        self._minded(r)
        self._reading(r)
        self._next(r)
        cut = self._cut_of(r)
        if cut is not None:
            bar = cut[0]
            self.bar.length = self._length
            self.bar.said = lambda t: self.store.said(t, beside=True)
            self.bar.selected, self.bar.next = 0, bar.cuts.index(cut[1])
            self.bar.show_bars((bar,), work.shop.saw.remnant_mm)
            self.pictures.setCurrentWidget(self.bar)
        elif r.step.kind in WELDED and self._seam(r):
            self.pictures.setCurrentWidget(self.weld)
        elif r.step.kind in MARKED and (drawn := self._drawn(r, work)) is not None:
            self.piece.length = lambda mm: self._length(mm).removesuffix(" mm")
            self.piece.show_piece(drawn)
            self.pictures.setCurrentWidget(self.piece)
        else:
            made = {
                m for x in making.stood if x.step.kind in MADE and x.state == "done" for m in x.step.marks
            }
            about = {x for m in r.step.marks for x in (m, f"{m}L", f"{m}R")}
            self.part.show_work(work.verdict.assembly, made, about)
            self.pictures.setCurrentWidget(self.part)
        self.clock.setText(_clock(self.seconds))

    def _drawn(self, r: Stood, work: Work) -> Drawing | None:
        """The drawing of the piece in hand, where there is something to mark on it."""
        assembly = work.verdict.assembly
        row = next((x for x in parts_list(assembly) if set(r.step.parts) & set(x.parts)), None)
        made = drawing(assembly, row, work.shop) if row is not None else None
        if made is None or not made.views:
            return None
        return holes_only(made) if r.step.kind == "drill" else made

    def _seam(self, r: Stood) -> bool:
        """Show the seam of a step with the turns of its runs, once they are known."""
        making = self.store.making
        making.look_at_welds()
        found = making.welding
        seam = next((s for s in found.seams if s.key in r.step.joints), None) if found is not None else None
        if found is None or seam is None:
            return False
        turns = tuple(x for x in found.order.laid if x.seam == seam.number)
        self.weld.show_welds(found.assembly, found.seams, seam.number, turns, 0)
        return True

    def _nothing(self, known: bool) -> None:
        self.what.setText("Everything is done." if known else "The plan is being made…")
        for w in (self.figure, self.words, self.mind, self.read, self.next):
            w.setText("")

    def _length(self, mm: float) -> str:
        from urial import units

        return units.show(mm, "length", self.store.job.units, self.store.job.nearest)

    def _figure(self, r: Stood) -> str:
        """The one figure to set: a length, an angle, a torque, a leg; of a bend the machine's."""
        if MACHINE in r.step.settings:
            return f"{r.step.settings[MACHINE]:.1f}°"
        reads = {x.what: x for x in r.step.reads}
        for name in ("length", "angle", "torque", "leg", "pull", "long"):
            if name in reads:
                return self._said(reads[name])
        return ""

    def _said(self, x: Reading) -> str:
        return self._length(x.wanted) if x.unit == "mm" else f"{x.wanted:.4g} {x.unit}"

    def _waits(self, r: Stood) -> str:
        done = {x.step.key for x in self.store.making.stood if x.state == "done"}
        work = self.store.making.work
        open_ = [k for k in r.step.needs if k not in done]
        if work is None or not open_:
            return ""
        first = self.store.said(work.plan.by_key[open_[0]].words)
        return f"Not yet: {first}" + (f" And {len(open_) - 1} more before it." if len(open_) > 1 else "")

    def _minded(self, r: Stood) -> None:
        """What must be waited for, and what can hurt."""
        hazards = (self.store.said(h) for h in r.step.hazards[:2])
        self.mind.setText("\n".join(x for x in (self._waits(r), self._dries(r), *hazards) if x))
        self.mind.setVisible(bool(self.mind.text()))

    def _dries(self, r: Stood) -> str:
        """When the coat before it lets this one on, or the part; nothing at other work."""
        if r.step.kind not in ("coat", "wait"):
            return ""
        rows = self.store.making.coats()
        laid = any(c.laid is not None for c in rows)
        return clock_words(rows, datetime.now().astimezone()) if laid else ""

    def _reading(self, r: Stood) -> None:
        if self._told:
            self.read.setText(self._told)
        elif self.typed:
            self.read.setText(f"Measured: {self.typed}▏")
        elif r.step.reads:
            x = r.step.reads[0]
            give = self._length(x.tolerance) if x.unit == "mm" else f"{x.tolerance:.2g} {x.unit}"
            self.read.setText(f"{x.what}: ± {give}, {x.how}")
        else:
            self.read.setText("")

    def _next(self, r: Stood) -> None:
        rows = self.steps
        n = rows.index(r) + 1
        self.next.setText(
            f"Next: {self.store.said(rows[n].step.words)}" if n < len(rows) else "Nothing after this."
        )

    # ---- hands

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, text = event.key(), event.text()
        if key == Qt.Key.Key_Space:
            self.tick()
        elif key in (Qt.Key.Key_Right, Qt.Key.Key_Down):
            self.go(1)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Up):
            self.go(-1)
        elif key == Qt.Key.Key_Escape:
            self.left.emit()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.enter()
        elif key == Qt.Key.Key_Backspace:
            self._back()
        elif text and (text.isdigit() or text in ".,/-") and len(self.typed) < 12:
            self.typed, self._told = self.typed + text, ""
            self.refresh()
        else:
            super().keyPressEvent(event)

    def _back(self) -> None:
        """A digit back; with none typed the last tick of what is shown, or of what was ticked before it."""
        if self.typed:
            self.typed = self.typed[:-1]
            self.refresh()
            return
        making = self.store.making
        done = [e for e in making.done_entries() if e.what == "done"]
        row = next((r for r in making.stood if done and r.step.key == done[-1].step), None)
        if row is not None and making.untick(row.step, done[-1].unit):
            self._to(row.step.key)

    def tick(self) -> None:
        """This one is done; on to the next."""
        r, making = self.row, self.store.making
        if r is None or not r.left:
            return
        cut = self._cut_of(r)
        unit = self._unit(r)
        rows = self.steps
        n = rows.index(r)
        if not making.tick(r.step, unit, minutes=round(self.seconds / 60, 3), cut=cut):
            self._told = making.said
            self.refresh()
            return
        if r.step.kind == "buy":  # what lies there lies there, all of it
            for rest in r.left[1:]:
                making.tick(r.step, rest)
        more = len(r.left) > 1 and r.step.kind != "buy"
        after = r.step.key if more else rows[n + 1].step.key if n + 1 < len(rows) else ""
        self._to(after)

    def enter(self) -> None:
        """What was measured of the piece in hand."""
        r = self.row
        if r is None or not self.typed or not r.step.reads:
            return
        x = r.step.reads[0]
        try:
            value = (
                parse(self.typed, "length", self.store.job.units)
                if x.unit == "mm"
                else float(self.typed.replace(",", "."))
            )
        except ValueError as error:
            self._told = f"{error}"
            self.refresh()
            return
        if not abs(value) < LIMIT:
            self._told = "That is no measurement; type it again."
            self.refresh()
            return
        self.typed = ""
        unit = self._unit(r)
        if self.store.making.read(r.step, unit, {x.what: value}):
            off = value - x.wanted
            fine = abs(off) <= x.tolerance
            said = self._length(abs(off)) if x.unit == "mm" else f"{abs(off):.3g} {x.unit}"
            way = "long" if off > 0 else "short"
            self._told = "Measured, and right." if fine else f"{said} too {way}: look at it before you go on."
        self.refresh()

    # ---- words and pictures

    def write(self) -> None:
        """Let something be noted of the piece in hand."""
        if self.row is not None:
            self.pen.clear()
            self.pen.show()
            self.pen.setFocus()

    def _written(self) -> None:
        r, words = self.row, self.pen.text()
        self.pen.hide()
        self.setFocus()
        if r is not None and words.strip():
            kept = self.store.making.note(r.step, self._unit(r), words)
            self._told = "Noted." if kept else self.store.making.said
        self.refresh()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if watched is self.pen and isinstance(event, QKeyEvent) and event.key() == Qt.Key.Key_Escape:
            if event.type() == QEvent.Type.KeyPress:
                self.pen.hide()
                self.setFocus()
            return True
        return super().eventFilter(watched, event)

    def ask(self) -> None:
        """Ask for a picture of the work."""
        files = "Pictures (*.jpg *.jpeg *.png *.webp *.tif *.tiff)"
        name, _ = QFileDialog.getOpenFileName(self, "A picture of the work", "", files)
        if name:
            self.keep_picture(Path(name))

    def keep_picture(self, path: Path) -> None:
        """Keep a picture of the piece in hand with the job."""
        r = self.row
        if r is None:
            return
        try:
            if path.stat().st_size > LARGEST:
                raise OSError("it is larger than any camera makes them")
            data = path.read_bytes()
        except OSError as error:
            self._told = f"{path.name} cannot be read: {error}"
        else:
            kept = self.store.making.photo(r.step, self._unit(r), data, path.name)
            self._told = "Kept with the job." if kept else self.store.making.said
        self.refresh()

    # ---- where it was, after a power cut too

    def _stay(self) -> None:
        note = {"job": self.store.job.id, "step": self.key, "seconds": round(self.seconds, 1)}
        try:
            state_dir().mkdir(parents=True, exist_ok=True)
            write_atomically(state_dir() / STAY, json.dumps(note).encode(), durable=False)
        except (FileError, OSError):
            return

    @staticmethod
    def _kept() -> dict[str, str]:
        try:
            kept = json.loads((state_dir() / STAY).read_text(encoding="utf-8"))
        except (OSError, ValueError, RecursionError):
            return {}
        if not isinstance(kept, dict) or not isinstance(kept.get("seconds", 0.0), (int, float)):
            return {}
        return kept


__all__ = ["BenchView"]
