"""Finish: which coats, how much, what stays bare, and when the next coat may go on."""

from __future__ import annotations

from datetime import datetime

from PySide6.QtCore import QTimer
from PySide6.QtGui import QHideEvent, QResizeEvent, QShowEvent
from PySide6.QtWidgets import QGridLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from urial import units
from urial.desk.scene.coat_view import CoatView
from urial.desk.scene.work_view import WorkView
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import form, label
from urial.making import coats
from urial.making.finish import AMBIENT, GUESSED, HUMIDITY, STEEL, Finished, Laid, airs, clock_words

PATHS = ("making.finish.scheme", "making.finish.when", "making.finish.colour")
MINUTE_MS = 20_000
LIMITS = {STEEL: (-40.0, 80.0), AMBIENT: (-40.0, 60.0), HUMIDITY: (1.0, 100.0)}
BEGIN = {STEEL: 20.0, AMBIENT: 20.0, HUMIDITY: 60.0}


class _Both(QWidget):
    """The clock over the part; where there is no room for both, the clock alone."""

    def __init__(self, clock: CoatView, part: WorkView, least: int) -> None:
        super().__init__()
        self.clock, self.part, self.least = clock, part, least
        over = QVBoxLayout(self)
        over.setContentsMargins(0, 0, 0, 0)
        over.addWidget(clock, 3)
        over.addWidget(part, 2)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.share(not self.clock.isHidden())

    def share(self, timed: bool) -> None:
        """Show the clock where there is one, and the part where it has room."""
        self.clock.setVisible(timed)
        self.part.setVisible(not timed or self.height() > self.least)


class CoatsPage(Page):
    """What goes on it, and when?"""

    name = "Coats"
    reads_plan = True
    bench_at = "coat"
    question = "What goes on it, and when may the next coat go on?"
    needs_part = True

    def fill(self) -> None:
        self.picture, self.part = CoatView(self.theme), WorkView(self.theme)
        self.canvas = self.both = _Both(self.picture, self.part, self.theme.px(400))
        self.first = label("", "problem", wrap=True)
        self.times = label("", "head", wrap=True)
        self.times.setObjectName("coat times")
        self.weather = label("", "problem", wrap=True)
        for w in (self.first, self.times, self.weather):
            self.column.addWidget(w)
        self.air_head = label("By the part now", "head")
        self.column.addWidget(self.air_head)
        self.air_row = self._air()
        self.column.addWidget(self.air_row)
        self.column.addLayout(
            self.row(
                ("Note it", "note air", self._note),
                tips=("It holds until it is noted again; the coats' times go by all of them. 68 F will do",),
            )
        )
        self.column.addWidget(label("Coats", "head"))
        self.sum = label("", "", wrap=True)
        self.column.addWidget(self.sum)
        self.column.addWidget(form(self.store, list(PATHS)))
        self.about = label("", "quiet", wrap=True)
        self.column.addWidget(self.about)
        self.column.addWidget(label("Stays bare", "head"))
        self.bare = label("", "", wrap=True)
        self.bare.setObjectName("stays bare")
        self.column.addWidget(self.bare)
        self.hidden = label("", "quiet", wrap=True)
        self.column.addWidget(self.hidden)
        self.column.addWidget(
            label(
                "Films, litres and hours are those of usual products: what stands on the tin counts.",
                "quiet",
                wrap=True,
            )
        )
        self.tick = QTimer(self)
        self.tick.setInterval(MINUTE_MS)
        self.tick.timeout.connect(self._clock)

    def _air(self) -> QWidget:
        holder = QWidget()
        grid = QGridLayout(holder)
        grid.setContentsMargins(0, 0, 0, 0)
        self.read: dict[str, QLineEdit] = {}
        for n, (name, words) in enumerate(
            ((STEEL, "steel, °C"), (AMBIENT, "air, °C"), (HUMIDITY, "humidity, %"))
        ):
            line = QLineEdit()
            line.setObjectName(f"air:{name}")
            line.setAccessibleName(words)
            line.returnPressed.connect(self._note)
            grid.addWidget(label(words), 0, n)
            grid.addWidget(line, 1, n)
            self.read[name] = line
        return holder

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.tick.start()

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        self.tick.stop()

    @property
    def found(self) -> Finished | None:
        """What there is to say of the finish, once the plan is made."""
        work = self.store.making.work
        return work.finish if work is not None else None

    def refresh(self) -> None:
        found = self.found
        if found is None:
            self.sum.setText(self.store.refusal or "The plan is being made…")
            self.picture.show_coats((), datetime.now().astimezone(), self.sum.text())
            return
        self.about.setText(self.store.said(found.scheme.words))
        self.sum.setText(self._sum(found))
        self.first.setText("\n".join(self.store.said(w) for w in (*found.sent, *found.words)))
        self.first.setVisible(bool(self.first.text()))
        kept = [f"{m.mark}: {self.store.said(m.what)}, or {self.store.said(m.why)}." for m in found.masked]
        self.bare.setText("\n".join(kept) or "Nothing of it.")
        self.hidden.setText(
            f"Coated before it goes on, or never: where {', '.join(found.covered)} lie on something (blue)."
            if found.covered and not found.scheme.sent
            else ""
        )
        self.hidden.setVisible(bool(self.hidden.text()))
        known = airs(self.store.document.log)
        for name, line in self.read.items():
            if not line.text() and not line.hasFocus():
                line.setText(f"{known[-1].steel_C if known and name == STEEL else BEGIN[name]:.0f}")
        timed = bool(found.scheme.coats)
        note = self.findChild(QPushButton, "note air")
        assert note is not None
        self.both.share(timed)
        for w in (self.air_head, self.air_row, note):
            w.setVisible(timed)
        work = self.store.making.work
        assert work is not None
        by_key = work.verdict.assembly.by_key
        coated = {by_key[k].mark for k in found.area.parts}
        closed = {by_key[k].mark for x in found.closed for k in x.bars}
        self.part.show_work(work.verdict.assembly, coated, closed if found.scheme.sent else found.covered)
        self._clock()
        self.grow()
        self.say(self.store.making.said)

    def _sum(self, found: Finished) -> str:
        sets = int(self.store.job.making.sets)
        m2 = sets * found.area.mm2 * 1e-6
        area = units.in_words(f"{m2:.2f} m²", self.store.job.units)
        if found.scheme.sent:
            return f"{area} are {found.scheme.sent}."
        if not found.scheme.coats:
            return f"{area} of bare steel."
        rows: dict[str, float] = {}
        for name, litre in zip(found.scheme.coats, found.area.litres, strict=True):
            title = coats.book().products[name].title
            rows[title] = rows.get(title, 0.0) + sets * litre
        paint = ", ".join(f"{litre:.2f} l of {title}" for title, litre in rows.items())
        return units.in_words(f"{area} in {len(found.scheme.coats)} coats: {paint}, mixed.", "metric")

    def _clock(self) -> None:
        """The coats as they stand this minute."""
        found, now = self.found, datetime.now().astimezone()
        if found is None:
            return
        rows = self.store.making.coats()
        said = [w for w in (clock_words(rows, now),) if w]
        if any(c.laid is not None for c in rows) and not airs(self.store.document.log):
            said.append(f"Nobody has read how warm it is: {GUESSED:.0f} °C is taken.")
        self.times.setText("\n".join(said))
        self.times.setVisible(bool(said))
        self._weather(rows)
        waiting = (
            f"{found.scheme.title[0].upper()}{found.scheme.title[1:]}: there is no coat to time."
            if not rows
            else ""
        )
        self.picture.show_coats(rows, now, waiting)

    def _figures(self) -> dict[str, float] | str:
        """What is typed beside the part; in a sentence what is wrong."""
        out = {}
        for name, line in self.read.items():
            low, high = LIMITS[name]
            title = line.accessibleName()
            text = line.text().strip().replace(",", ".")
            hot = name != HUMIDITY and text.upper().endswith("F")
            try:
                value = float(text.rstrip("°CFcf% "))
            except ValueError:
                return f"“{line.text()}” is no figure for {title}; type one from {low:.0f} to {high:.0f}."
            if hot:  # 68 F
                value = (value - 32.0) / 1.8
            if not low <= value <= high:
                return f"{title.capitalize()} must be between {low:.0f} and {high:.0f}; it is {value:.4g}."
            out[name] = value
        return out

    def _weather(self, rows: tuple[Laid, ...]) -> None:
        """Should the next coat be laid in this air?"""
        figures = self._figures()
        following = next((c for c in rows if c.laid is None), None)
        said: tuple[str, ...] = ()
        if isinstance(figures, dict) and following is not None:
            said = coats.weather(following.product, figures[AMBIENT], figures[HUMIDITY], figures[STEEL])
        self.weather.setText("\n".join(said))
        self.weather.setVisible(bool(said))

    def _note(self) -> None:
        figures = self._figures()
        if isinstance(figures, str):
            self.say(figures)
            return
        self.say("")
        if self.store.making.air(figures[STEEL], figures[AMBIENT], figures[HUMIDITY]):
            self._clock()


__all__ = ["CoatsPage"]
