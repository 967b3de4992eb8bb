"""Prove: the verdict, the weak link, what would mend it, every check ranked, and the working of the open
one.
"""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QHideEvent, QShowEvent
from PySide6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from urial import units
from urial.assembly.model import BuildError
from urial.desk.advice import WORTH
from urial.desk.making import ACCOUNT
from urial.desk.stations.base import Station
from urial.desk.store import LOST
from urial.desk.widgets.fields import Field, clear, form, label
from urial.desk.widgets.fold import Told
from urial.desk.widgets.marks import Mark
from urial.desk.widgets.pickers import Picker
from urial.desk.widgets.plain import plain
from urial.desk.widgets.plate_box import PlateBox
from urial.desk.widgets.ranking import Ranking, Row
from urial.desk.widgets.sizer import SizeIt, way_button
from urial.desk.widgets.versions import Versions
from urial.desk.widgets.what_if import WhatIf
from urial.desk.widgets.word_button import WordButton
from urial.job import edit
from urial.job.model import Waiver
from urial.loads.thresholds import sides
from urial.making.stands import as_it_stands
from urial.prove.bump import Bump
from urial.prove.remedies import Remedy
from urial.prove.verdict import CAUTION
from urial.session.questions import State
from urial.strength.check import Check, figure

ROOM = 4 * 42
"""What four mends take, at the bench scale."""
KINDS: dict[str, units.Kind] = {
    "N": "force",
    "N/mm": "line_force",
    "MPa": "stress",
    "kg": "mass",
    "mm": "length",
}
"""What a check's figures are, by their unit."""


def say(check: Check) -> tuple[str, str]:
    """The headline and the sentence of a check."""
    left = 100 * (1 - check.utilisation)
    headline = f"{-left:.0f} % over" if check.short else f"{left:.0f} % to spare"
    where = "" if check.kind == "rating" else f"in “{check.case}”, "
    return headline, f"{where}{100 * check.utilisation:.0f} % used"


TEST = (
    ("Proof test…", "proof test", "How to try it before it is used: load, gauge, what may be left"),
    "proof test",
    "",
)
SECOND = (
    (
        "Recompute with a second solver…",
        "recompute",
        "The frame once more by an independent program, both side by side",
    ),
    "second",
    "",
)
BESIDE = (
    ("Every way of judging, side by side", "side by side", "All bases, weld methods and feet at once"),
    "schools",
    "mono",
)


class Prove(Station):
    """What is the weak link, and by how much?"""

    name = "Prove"
    arrows = True
    view = "side"

    def fill(self) -> None:
        self.verdict_line = label("", "title", wrap=True)
        self.column.addWidget(self.verdict_line)
        self.stands = label("", "problem", wrap=True)
        self.stands.setObjectName("as it stands")
        self.column.addWidget(self.stands)
        top = QHBoxLayout()
        words = QVBoxLayout()
        self.what = label("", "head", wrap=True)
        self.headline = label("", "big")
        self.where = label("", "quiet", wrap=True)
        for w in (self.what, self.headline, self.where):
            words.addWidget(w)
        self.sides = label("", "quiet", wrap=True)
        self.sides.setObjectName("thresholds")
        words.addWidget(self.sides)
        self.mark = Mark(self.theme, 30)
        top.addLayout(words, 1)
        top.addWidget(self.mark, 0, Qt.AlignmentFlag.AlignTop)
        self.column.addLayout(top)
        self.figures = label("", "mono", wrap=True)
        self.column.addWidget(self.figures)
        self.lever = QWidget()
        self.lever_row = QVBoxLayout(self.lever)
        self.lever_row.setContentsMargins(0, 0, 0, 0)
        self.column.addWidget(self.lever)
        self.waiver = QWidget()
        self.waiver_rows = QVBoxLayout(self.waiver)
        self.waiver_rows.setContentsMargins(0, 0, 0, 0)
        self.column.addWidget(self.waiver)
        self.either_head = label("", "quiet", wrap=True)
        self.column.addWidget(self.either_head)
        self.mends = QWidget()  # its room is there before what goes in it: nothing appears under a pointer
        held = QVBoxLayout(self.mends)
        held.setContentsMargins(0, 0, 0, 0)
        held.setSpacing(0)
        self.either = QVBoxLayout()
        self.either.setSpacing(0)
        held.addLayout(self.either)
        held.addStretch(1)
        self.column.addWidget(self.mends)
        self._asks_less = False
        self.sizer = SizeIt(self.store, self.theme)
        self.column.addWidget(self.sizer)
        self.what_if = WhatIf(self.store, self.theme)
        self.column.addWidget(self.what_if)
        self.versions = Versions(self.store, self.theme)
        self.column.addWidget(self.versions)
        self.backed = label("", "quiet", wrap=True)
        self.backed.setObjectName("parking bump")
        self.column.addWidget(self.backed)
        self.folds = [Told(self.store, *asked) for asked in (TEST, SECOND)]
        for fold in self.folds:
            self.column.addWidget(fold)
        self.plate = PlateBox(self.store)
        self.column.addWidget(self.plate)
        self.working_button = QPushButton("Show the working")
        self.working_button.setObjectName("working")
        self.working_button.setCheckable(True)
        self.working_button.clicked.connect(self._working)
        self.column.addWidget(self.working_button)
        self.working = QFrame()
        self.working_rows = QVBoxLayout(self.working)
        self.working_rows.setContentsMargins(0, 0, 0, 0)
        self.working_rows.setSpacing(self.theme.px(3))
        self.working.hide()
        self.column.addWidget(self.working)
        self.column.addWidget(label("All checks, worst first", "head"))
        self.list = Ranking(self.theme)
        self.list.setFixedHeight(self.theme.px(250))
        self.list.picked.connect(self._picked)
        self.column.addWidget(self.list)
        self.unjudged = label("", "problem", wrap=True)
        self.unjudged.setObjectName("unchecked")
        self.column.addWidget(self.unjudged)
        self.caution = label(CAUTION, "quiet", wrap=True)
        self.column.addWidget(self.caution)
        self.column.addWidget(
            form(
                self.store,
                [
                    "proof.basis",
                    "proof.factor_of_safety",
                    "proof.weld_method",
                    "proof.foot",
                    "proof.endured",
                    "proof.endurance",
                    "welding.toes",
                ],
                "How it is judged",
            )
        )
        self.fuse = Picker()
        self.fuse.setObjectName("gives first")
        self.fuse.setAccessibleName("what is meant to give way first")
        self.fuse.setToolTip("A link that is meant to give way before the rest, so that the vehicle does not")
        self.fuse.activated.connect(self._choose_fuse)
        self.column.addWidget(label("To give way first"))
        self.column.addWidget(self.fuse)
        self.folds.append(Told(self.store, *BESIDE))
        self.column.addWidget(self.folds[-1])
        self._lever_path = ""
        self._waivers_shown: tuple[object, ...] = ()
        self.store.answered.connect(self._answered)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.store.advice.want_pairs(True)
        self._bump()

    def hideEvent(self, event: QHideEvent) -> None:
        super().hideEvent(event)
        self.store.advice.want_pairs(False)

    def refresh(self) -> None:
        v, check = self.store.verdict, self.store.shown_check()
        n = len(v.short)
        last = "Sizes disagree; this is the last part that could be built. " if self.store.refusal else ""
        self.verdict_line.setText(
            last + (self._holds() if v.holds else f"Short in {n} place{'s' if n > 1 else ''}.")
        )
        self._stands()
        name = self.store.said(check.name)
        self.what.setText(name[0].upper() + name[1:])
        headline, where = say(check)
        self.headline.setText(headline)
        colour = self.theme.tone(check.utilisation).name()
        self.headline.setStyleSheet(f"color: {colour};")
        self.where.setText(where)
        here = sides(self.store.job) if check.kind == "fatigue" and "towing" in check.case else ()
        self.sides.setText(self.store.said("\n".join(here)))
        self.sides.setVisible(bool(here))
        self.mark.show_value(check.utilisation)
        self.figures.setText(self._figures(check))
        self._lever(check)
        self._waivers(check)
        self._suggest()
        self.sizer.refresh()
        self.what_if.refresh()
        self.versions.refresh()
        for fold in (*self.folds, self.plate):
            fold.refresh()
        self._fuses()
        self._bump()
        said = list(dict.fromkeys(f"{u.part}: {u.what}" for u in v.unchecked))
        self.unjudged.setText(
            f"Not judged by any rule here ({len(said)}):\n" + "\n".join("· " + w for w in said)
            if said
            else ""
        )
        self.unjudged.setVisible(bool(said))
        self.list.show_rows(
            tuple(Row(c.utilisation, self.store.said(c.name), c.case, c.clause) for c in v.checks),
            next((k for k, c in enumerate(v.checks) if c.id == check.id), -1),
        )
        if self.working_button.isChecked():
            self._working()

    def _holds(self) -> str:
        """That it holds, and what that rests on."""
        v, assumed = self.store.verdict, len(self.store.document.assumed)
        it = "It" if not v.unchecked else f"What is judged ({len(v.unchecked)} places are not)"
        if not assumed:
            return f"{it} holds."
        one = assumed == 1
        return (
            f"{it} would hold: {assumed} figure{'' if one else 's'} it rests on "
            f"{'is a starting value' if one else 'are starting values'} nobody measured."
        )

    def _figures(self, c: Check) -> str:
        kind = KINDS.get(c.unit)

        def show(value: float) -> str:
            return units.show(value, kind, self.store.job.units) if kind else figure(value)

        return (
            f"demand     {show(c.demand)}\navailable  {show(c.available)} ({c.basis})"
            if c.unit != "1"
            else f"interaction {figure(c.demand).replace('.', units.decimal_mark())} of 1 ({c.basis})"
        )

    def _lever(self, check: Check) -> None:
        """The one parameter that belongs to this check, ready to type into."""
        path = check.path if check.path in edit.all_specs(self.store.job) else ""
        if path == self._lever_path:
            return
        self._lever_path = path
        clear(self.lever_row)
        if path:
            self.lever_row.addWidget(Field(self.store, path))

    def _waivers(self, check: Check) -> None:
        """A least size of a code may be lived with for a reason in writing; what is, is listed and taken back
        here.
        """
        shown = (
            check.id if check.kind == "minimum" else "",
            tuple(c.id for c, _ in self.store.verdict.waived),
        )
        if shown == self._waivers_shown:
            return
        self._waivers_shown = shown
        clear(self.waiver_rows)
        if check.kind == "minimum":
            row = QHBoxLayout()
            why = QLineEdit()
            why.setObjectName("waive why")
            why.setPlaceholderText("why it may stay as it is")
            why.setAccessibleName("why it may stay as it is")
            why.setMaxLength(300)
            keep = QPushButton("Live with it")
            keep.setObjectName("waive keep")
            keep.setToolTip("A reason in writing, which the packet prints; without one it stays a failure")
            for signal in (why.returnPressed, keep.clicked):
                signal.connect(lambda *_, i=check.id, w=why: self._waive(i, w.text()))
            row.addWidget(why, 1)
            row.addWidget(keep)
            self.waiver_rows.addLayout(row)
        for c, reason in self.store.verdict.waived:
            self.waiver_rows.addWidget(
                label(self.store.said(f"Lived with: {c.name}. {reason}"), "quiet", wrap=True)
            )
            back = QPushButton("Take it up again")
            back.setObjectName(f"unwaive:{c.id}")
            back.clicked.connect(lambda *_, i=c.id: self._waive(i, ""))
            self.waiver_rows.addWidget(back)

    def _waive(self, ident: str, why: str) -> None:
        job, reason = self.store.job, why.strip()
        if not reason and all(w.finding != ident for w in job.waived):
            return
        rest = tuple(w for w in job.waived if w.finding != ident)
        more = (Waiver(finding=ident[:300], reason=reason),) if reason else ()
        words = "live with a least size" if reason else "take a least size up again"
        self.store.put_job(job.model_copy(update={"waived": (*rest, *more)}), "waived", words)

    def _stands(self) -> None:
        """What the steel is worth as it stands, once anything was done to it."""
        if self.store.document.log:
            self.store.making.look()
        words = as_it_stands(self.store.making.stood)
        self.stands.setText(words)
        self.stands.setVisible(bool(words))

    def _bump(self) -> None:
        """What gives first when it is backed into: asked for when somebody looks."""
        asking, job = self.store.asking, self.store.job
        about = asking.about("parking bump")
        if self.isVisible() and not self.store.refusal and (about is None or about.job is not job):
            asking.ask("parking bump", State(job))
            return
        found = asking.answer("parking bump") if about is not None and about.job is job else None
        words = "" if not isinstance(found, Bump) else found.briefly if found.right else found.words
        self.backed.setText(self.store.said(words))
        self.backed.setProperty("role", "quiet" if not isinstance(found, Bump) or found.right else "problem")
        self.backed.style().unpolish(self.backed)
        self.backed.style().polish(self.backed)
        self.backed.setVisible(bool(words))

    def _answered(self, name: str) -> None:
        if name == "parking bump":
            self._bump()
        if name in ("plan", ACCOUNT) and not self.store.asking.busy("plan") and self.isVisible():
            self._stands()
        if name in ("remedies", "pairs"):
            self._suggest()

    def _suggest(self) -> None:
        clear(self.either)
        if not self.store.has_part:
            return
        found, pairs = self.store.advice.remedies, self.store.advice.pairs
        check = self.store.shown_check()
        self.mends.setMinimumHeight(self.theme.px(ROOM) if check.utilisation >= WORTH else 0)
        if found is None:
            self.either_head.setText("Looking for what would mend it…")
        elif found.found:
            self.either_head.setText("Any one of these mends it:")
            for r in found.found[:4]:
                self.either.addWidget(self._remedy(r))
        elif self.store.asking.failed("remedies"):
            self.either_head.setText(LOST)
        elif self.store.advice.pairing:
            self.either_head.setText("No single change mends this; looking for two…")
        elif pairs:
            self.either_head.setText("No single change mends this.")
        else:
            self.either_head.setText(
                "" if check.utilisation < WORTH else self.store.said(found.why_none(check))
            )
        if pairs:
            self.either.addWidget(label("Any of these two together make the part hold:", "quiet", wrap=True))
        for n, pair in enumerate(pairs):
            self.either.addWidget(way_button(self.store, pair, f"two:{n}"))
        if found is not None and found.less:
            self._less(found.less)
        self.either_head.setVisible(bool(self.either_head.text()))

    def _less(self, less: Sequence[Remedy]) -> None:
        """What the customer gave is changed only by who asks how much less it would have to be."""
        ask = QPushButton("How much less would it have to be asked?")
        ask.setObjectName("ask less")
        ask.setProperty("segment", True)
        ask.setCheckable(True)
        ask.setChecked(self._asks_less)
        ask.toggled.connect(self._show_less)
        self.either.addWidget(ask)
        if self._asks_less:
            for r in less:
                self.either.addWidget(self._remedy(r))

    def _show_less(self, shown: bool) -> None:
        self._asks_less = shown
        self._suggest()

    def _remedy(self, r: Remedy) -> WordButton:
        spare = f"{100 * (1 - r.utilisation):.0f} % to spare"
        weight = (
            ""
            if abs(r.mass_change_kg) < 0.05
            else self.store.said(f", {units.figure(r.mass_change_kg, 1, True)} kg")
        )
        money = f", {r.money.words}" if r.money else ""
        worse = "".join(f"; {w}" for w in r.worse[:1]) or ("; nothing gets worse" if r.worst < 1 else "")
        rest = "" if r.worst < 1 or r.worse else f"; next weakest {100 * r.worst:.0f} %"
        button = WordButton(
            f"{self.store.said(r.words)}\n{self.store.said(f'{spare}{weight}{money}{worse}{rest}')}"
        )
        button.setProperty("flat", True)
        costs = ". ".join(self.store.said(w).rstrip(".") for w in r.worse)
        button.setToolTip(plain(f"{button.text()}\n{costs}\nClick to make this change; undo takes it back"))
        button.clicked.connect(lambda: self._take(r))
        return button

    def _take(self, r: Remedy) -> None:
        try:
            self.store.put(r.path, r.value)
        except (edit.EditError, BuildError) as error:
            self.either_head.setText(str(error))

    def _picked(self, row: int) -> None:
        self.store.select_check(self.store.verdict.checks[row].id)

    def _fuses(self) -> None:
        """The links that may be meant to give way first."""
        links = [link for link in self.store.verdict.links if link.yours]
        wanted = self.store.job.proof.gives_first
        rows = [("", "nothing chosen"), *((link.id, link.name) for link in links)]
        if wanted and wanted not in dict(rows):
            rows.append((wanted, f"{wanted.split('/')[-1]}, not there"))
        if rows != [(self.fuse.itemData(n), self.fuse.itemText(n)) for n in range(self.fuse.count())]:
            self.fuse.clear()
            for key, words in rows:
                self.fuse.addItem(words, key)
        self.fuse.setCurrentIndex(max(self.fuse.findData(wanted), 0))

    def _choose_fuse(self) -> None:
        self.store.put("proof.gives_first", str(self.fuse.currentData()))

    def _working(self) -> None:
        shown = self.working_button.isChecked()
        self.working_button.setText("Hide the working" if shown else "Show the working")
        clear(self.working_rows)
        self.working.setVisible(shown)
        if not shown:
            return
        check = self.store.shown_check()
        self.working_rows.addWidget(label(check.clause, "quiet", wrap=True))
        for line in check.working():
            head = label(line.what, "", wrap=True)
            head.setStyleSheet("font-weight: bold;")
            self.working_rows.addWidget(head)
            text = (
                line.formula
                + (f"\n{self.store.said(line.numbers, beside=True)}" if line.numbers else "")
                + (f"\n= {self.store.said(line.result, beside=True)}" if line.result else "")
            )
            body = label(text, "mono", wrap=True)
            body.setStyleSheet(f"font-size: {self.theme.px(11)}px;")
            body.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
            self.working_rows.addWidget(body)

    def open_words(self) -> tuple[str, bool]:
        n, unknown = len(self.store.verdict.short), len(self.store.verdict.unchecked)
        if self.store.refusal:
            return "not built", True
        if n:
            return f"{n} short", True
        if unknown:
            return f"{unknown} unjudged", True
        assumed = len(self.store.document.assumed)
        return (f"{assumed} assumed" if assumed else "holds"), False
