"""Fit-up: tacked, is it square?  Readings in; which corner to move, which way and how far, out."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject
from PySide6.QtWidgets import QGridLayout, QLineEdit, QWidget

from urial import units
from urial.desk.scene.fitup_view import FitUpView
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import clear, label
from urial.desk.widgets.pickers import Picker
from urial.job.log import standing
from urial.making.corners import FLAT, Corners, Lies, corners
from urial.making.fitup import FitUp, Height, Placed, Read, Tape, fit_up
from urial.making.plan import called, things
from urial.making.setout import Seen, lie, seen_from
from urial.making.step import Step

FINE = 1.5
"""What is off by no more is not moved, mm: less is not read with a tape (house rule)."""
FAR, LEAST = 0.05, 50.0
"""A tape that is farther than this share of what is drawn, and than so many mm, off it was misread (house
rule)."""
AT = "fit-up "
"""Before the names of these readings in the log, so that they are nobody else's."""


def called_so(r: Read) -> str:
    """A reading's name, on the page and in the log."""
    return f"height of {r.at}" if isinstance(r, Height) else f"{r.a} – {r.b}"


class FitUpPage(Page):
    """Is it square, and which corner do I move?"""

    name = "Fit-up"
    question = "Is it square, and which corner do I move?"
    reads_plan = True
    bench_at = "check"
    needs_part = True

    def fill(self) -> None:
        self.canvas = self.picture = FitUpView(self.theme)
        self.picture.says = self.move_words
        self.which = Picker()
        self.which.setObjectName("weldment")
        self.which.currentIndexChanged.connect(lambda _: self._chosen())
        self.column.addWidget(self.which)
        self.answer = label("", "title", wrap=True)
        self.answer.setObjectName("fit-up answer")
        self.column.addWidget(self.answer)
        self.more = label("", "", wrap=True)
        self.doubt = label("", "problem", wrap=True)
        for w in (self.more, self.doubt):
            self.column.addWidget(w)
        self.column.addWidget(label("What the tape reads", "head"))
        self.holder = QWidget()
        self.grid = QGridLayout(self.holder)
        self.grid.setContentsMargins(0, 0, 0, 0)
        self.grid.setColumnStretch(0, 1)
        self.column.addWidget(self.holder)
        self.column.addWidget(
            label(
                "Tacked, not welded. Outer corner to outer corner; grey is as drawn, and a line left empty "
                "is not counted. Heights are read up from something level, a straight table or a line "
                "below: only their differences count. Bars cut to length count as cut. Read again after "
                "each push.",
                "quiet",
                wrap=True,
            )
        )
        self.lines: dict[str, QLineEdit] = {}
        self.known: list[tuple[tuple[str, ...], str, Corners, Seen]] = []
        self.found: FitUp | None = None
        self._of: object = None
        self._unread = True
        self._kept: dict[str, tuple[str, float]] = {}
        """What stands in a line and what was meant by it, mm: finer than it is written."""

    # ---- what there is

    def refresh(self) -> None:
        v = self.store.verdict
        key = (id(v.assembly), self.store.job.units, self.store.job.nearest)
        if key != self._of:
            self._of = key
            self.known = []
            for keys in (k for k in things(v.assembly) if len(k) > 1):
                found = corners(v.assembly, keys)
                if found is not None:
                    seen = seen_from(v.assembly, lie(v.assembly, keys), found.lies.view)
                    self.known.append((keys, called(v.assembly, keys), found, seen))
            self.offer(self.which, [name for _, name, *_ in self.known])
            self.which.setVisible(len(self.known) > 1)
            self._chosen()
            return
        if self._unread and self._step() is not None:  # the plan came later than the page
            self._from_log()
            self._note(self._figures()[0])  # what was typed meanwhile
        self._reckon()

    def _here(self) -> tuple[tuple[str, ...], str, Corners, Seen] | None:
        n = self.which.currentIndex()
        return self.known[n] if 0 <= n < len(self.known) else None

    def _chosen(self) -> None:
        """Lines for the readings of the weldment that is chosen."""
        here = self._here()
        clear(self.grid)
        self.lines, self._kept = {}, {}
        if here is not None:
            for n, r in enumerate(here[2].usual):
                name = called_so(r)
                line = QLineEdit()
                line.setObjectName(f"read:{name}")
                line.setAccessibleName(name)
                line.setPlaceholderText(self.length(r.mm))
                line.setFixedWidth(self.theme.px(118))
                line.editingFinished.connect(self._typed)
                line.installEventFilter(self)
                self.grid.addWidget(label(name, wrap=True), n, 0)
                self.grid.addWidget(line, n, 1)
                self.lines[name] = line
        self._from_log()
        self._reckon()
        self.grow()

    def _from_log(self) -> None:
        """What was read before stands in its lines, but where somebody has written since."""
        self._unread = self._step() is None
        for name, mm in self._logged().items():
            line = self.lines.get(name)
            if line is not None and not line.text() and not line.hasFocus():
                line.setText(self.length(mm))
                self._kept[name] = line.text(), mm

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """The picture shows where the tape goes for the line that has the keys."""
        if event.type() in (QEvent.Type.FocusIn, QEvent.Type.FocusOut):
            here = self._here()
            into = event.type() == QEvent.Type.FocusIn
            for r in here[2].usual if here is not None else ():
                if self.lines.get(called_so(r)) is watched:
                    self.picture.show_tape(*((r.places[0], r.places[-1]) if into else ("", "")))
        return False

    # ---- readings

    def _step(self) -> Step | None:
        """The plan's check of this weldment."""
        here, work = self._here(), self.store.making.work
        if here is None or work is None:
            return None
        return next((s for s in work.plan.steps if s.kind == "check" and set(s.parts) == set(here[0])), None)

    def _logged(self) -> dict[str, float]:
        """What was read of it last, by the readings' names."""
        step = self._step()
        if step is None:
            return {}
        rows = [e for e in standing(self.store.document.log) if e.step == step.key and e.what == "read"]
        own = [{k.removeprefix(AT): v for k, v in e.figures.items() if k.startswith(AT)} for e in rows]
        return next((figures for figures in reversed(own) if figures), {})

    def _figures(self) -> tuple[dict[str, float], str]:
        """What is typed, mm, by name; what of it cannot be read, in a sentence: then what was read before
        keeps counting.
        """
        here, before = self._here(), self._logged()
        drawn = {called_so(r): r for r in here[2].usual} if here is not None else {}
        out, wrong = {}, ""
        for name, line in self.lines.items():
            bad, text = "", line.text()
            if text.strip():
                try:
                    was, mm = self._kept.get(name, ("", 0.0))
                    out[name] = mm if text == was else units.parse(text, "length", self.store.job.units)
                    bad = self._unlikely(drawn[name], out[name])
                except ValueError as error:
                    bad = str(error)
                if bad:
                    out.pop(name, None)
                    if name in before:
                        out[name] = before[name]
                    wrong = wrong or f"{name[0].upper()}{name[1:]}: {bad}"
                else:
                    self._kept[name] = text, out[name]
            if bool(line.property("wrong")) != bool(bad):
                line.setProperty("wrong", bool(bad))
                line.style().unpolish(line)
                line.style().polish(line)
        return out, wrong

    def _unlikely(self, r: Read, mm: float) -> str:
        """Why no tacked frame reads so: another unit, a figure too few."""
        if isinstance(r, Height) or abs(mm - r.mm) <= max(FAR * r.mm, LEAST):
            return ""
        return f"It is {self.length(r.mm)} as drawn; a tacked frame is never so far off. Read it again."

    def _typed(self) -> None:
        """A reading was typed or taken away: reckoned with, and noted in the log."""
        self._note(self._figures()[0])
        self._reckon()

    def _note(self, figures: dict[str, float]) -> None:
        step, before = self._step(), self._logged()
        if step is None or figures == before:
            return
        noted = {AT + k: v for k, v in figures.items()}
        if not self.store.making.read(step, 1, noted):
            self.say(self.store.making.said)

    # ---- what follows

    def _reckon(self) -> None:
        here = self._here()
        if here is None:
            self.found = None
            self.answer.setText("Nothing of it is a frame whose corners a tape can reach.")
            for w in (self.more, self.doubt):
                w.setText("")
            self.picture.show_fit(None, None, None, self.answer.text())
            return
        figures, wrong = self._figures()
        _, _, where, seen = here
        reads: list[Read] = []
        for r in where.usual:
            mm = figures.get(called_so(r))
            if mm is not None:
                reads.append(Height(r.at, mm) if isinstance(r, Height) else Tape(r.a, r.b, mm))
        told = {n for r in reads for n in r.places} | {*where.lies.names}  # of a socket once it is read
        points = {n: p for n, p in where.points.items() if n in told}
        self.found = fit_up(points, reads, where.hold, where.members) if reads else None
        self.answer.setText(self._answer(wrong))
        a, b, _ = where.hold
        stays = f"The line from {a} to {b} stays where it is." if self.found is not None else ""
        self.more.setText(" ".join(w for w in (self._missing(), stays) if w))
        self.more.setVisible(bool(self.more.text()))
        self.doubt.setText(self._doubted(reads))
        self.doubt.setVisible(bool(self.doubt.text()))
        self.say(wrong)
        self.picture.show_fit(seen, where, self.found)

    def move_words(self, n: Placed) -> str:
        """Where a place is to go, way by way in a line each; nothing of what is too little to move."""
        rows = []
        here = self._here()
        lies: Lies = here[2].lies if here is not None else FLAT
        for k, (back, on) in enumerate(lies.ways):
            v = n.off[k]
            if abs(v) >= max(FINE, n.sigma[k]):
                rows.append(f"{self.length(abs(v))} {back if v > 0 else on}")
        return "\n".join(rows)

    def _answer(self, wrong: str) -> str:
        if self.found is None:
            return "Read both diagonals first."
        if self.found.doubted or wrong:  # nothing is moved by readings that contradict each other
            return "Move nothing yet, and weld nothing: read again first."
        moves = [(n, self.move_words(n).replace("\n", ", ")) for n in self.found.places]
        rows = [f"Move {n.name}: {words}." for n, words in moves if words]
        if rows:
            return "\n".join(rows)
        if not self._told():
            return "What was read so far shows nothing out of place."
        # no surer than it was read
        least = max(FINE, *(s for n in self.found.places for s in n.sigma))
        return f"It lies as drawn, within {self.length(least)}: weld it."

    def _told(self) -> bool:
        """Do the readings tell where every corner lies?"""
        here = self._here()
        if self.found is None or here is None:
            return False
        return not any(self.found.by_name[n].unknown for n in here[2].lies.names)

    def _missing(self) -> str:
        if self.found is None or self._told():
            return ""
        blind = [
            f"how {'high' if k == 2 else 'far ' + ('along' if k == 0 else 'across')} {n.name} lies"
            for n in self.found.places
            for k in sorted(n.unknown)
        ]
        wanted = [called_so(r) for r in self.found.wanted]
        if any(w.startswith("height") for w in wanted):  # one height alone tells nothing
            wanted = [w for w in wanted if not w.startswith("height")] + ["the four heights"]
        told = f" Read {', '.join(dict.fromkeys(wanted))}." if wanted else ""
        return f"Not told yet: {'; '.join(blind)}.{told}"

    def _doubted(self, reads: list[Read]) -> str:
        if self.found is None or not self.found.doubted:
            return ""
        names = [called_so(reads[k]) for k in self.found.doubted]
        off = max(abs(self.found.misfits[k]) for k in self.found.doubted)
        one = names[0] if len(names) == 1 else f"one of {', '.join(names)}"
        return (
            f"Read again {one}: with the others and the bars as cut it does not agree by "
            f"{self.length(off)}. If it reads the same, a bar is not as long as drawn."
        )


__all__ = ["FitUpPage", "called_so"]
