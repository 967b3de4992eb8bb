"""Cases: every load case with its arrows, its factors beside the policy's, the reason and the source."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Protocol

from PySide6.QtWidgets import QGridLayout, QLineEdit, QListWidget, QListWidgetItem, QPushButton, QWidget

from urial import units
from urial.assembly.model import BuildError
from urial.desk.scene.cases_view import CasesView
from urial.desk.stations.page import Page, tone
from urial.desk.widgets.fields import clear, label
from urial.job import edit
from urial.loads import duties, towing
from urial.loads import factors as factors_

OF_A_DUTY = {"along": "along, × weight", "across": "across, × weight", "static": "standing, × weight"}
WORDS = {
    "along": "along, × D",
    "across": "across, × D",
    "angled": "along the trailer, × D",
    "static": "standing, × S",
    "bounce": "bounce, × V",
    "pitch": "pitching, × its share of D",
    "chain": "× trailer weight",
    "times": "times",
    "turn": "turned left, °",
    "rise": "raised, °",
    "end": "along the drum, 1 its left end",
    "up": "up, × weight",
}


class _Row(Protocol):
    """A row of the load policy, of towing or of another duty."""

    @property
    def id(self) -> str:
        """Which case."""

    @property
    def title(self) -> str:
        """In words."""

    @property
    def factors(self) -> Mapping[str, float]:
        """Its factors."""


class CasesPage(Page):
    """What does it suffer?"""

    name = "Cases"
    question = "What does it suffer?"

    def fill(self) -> None:
        self.canvas = self.picture = CasesView(self.theme)
        self.picture.chosen.connect(self._picked)
        self.cases = QListWidget()
        self.cases.setObjectName("cases")
        self.cases.setMinimumHeight(self.theme.px(230))
        self.cases.currentRowChanged.connect(self._picked)
        self.column.addWidget(self.cases)
        self.none = label("Nothing is asked yet: add a duty.", "quiet", wrap=True)
        self.column.addWidget(self.none)
        self.again = label("", "", wrap=True)
        self.again.setObjectName("again and again")
        self.column.addWidget(self.again)
        self.reason = label("", "", wrap=True)
        self.source = label("", "quiet", wrap=True)
        self.column.addWidget(self.reason)
        self.column.addWidget(self.source)
        holder = QWidget()
        self.grid = QGridLayout(holder)
        self.grid.setContentsMargins(0, 4, 0, 0)
        self.column.addWidget(holder)
        self.back = QPushButton("Put the policy's factors back")
        self.back.setObjectName("policy back")
        self.back.clicked.connect(self._back)
        self.column.addWidget(self.back)
        self._made: object = None
        self.editors: dict[str, QLineEdit] = {}

    def _row(self) -> tuple[str, _Row, str] | None:
        """Where the shown case's factors are kept, the policy's row, and the row's id."""
        shown = self.store.shown_case()
        job = self.store.job
        if any(c.id == shown and not c.pulls for c in self.store.verdict.cases):
            row = next((r for r in towing.policy() if r.id == shown), None) or next(
                r for r in towing.policy() if "chain" in r.factors
            )
            return "duty.factors", row, row.id
        found = duties.origin(job, shown, self.store.verdict.assembly)
        return None if found is None else (f"duties.{found[0]}.factors", found[1], found[1].id)

    def refresh(self) -> None:
        verdict = self.store.verdict
        self.cases.blockSignals(True)
        self.cases.clear()
        for case in verdict.cases:
            parts = [f for _, f in case.pulls] or [f[:3] for f in case.loads.values()]
            size = sum(sum(f[k] for f in parts) ** 2 for k in range(3)) ** 0.5
            much = f"   {self.force(size)}" if parts else ""
            self.cases.addItem(QListWidgetItem(f"{case.title}{'  (changed)' if case.changed else ''}{much}"))
        ids = [c.id for c in verdict.cases]
        self.cases.setVisible(bool(ids))
        self.none.setVisible(not ids)
        if ids:
            row = ids.index(self.store.shown_case())
            self.cases.setCurrentRow(row)
            self.reason.setText(verdict.cases[row].reason)
            self.source.setText(f"Source: {verdict.cases[row].source}.")
        self.cases.blockSignals(False)
        self._again()
        self.picture.force = self.force
        self.picture.show_cases(verdict, ids.index(self.store.shown_case()) if ids else -1)
        self._factors()

    def _again(self) -> None:
        """What it must bear for its whole life, under what it must bear once."""
        swings = [(d, s) for d in self.store.verdict.repeated for s in d.swings]
        rows = [
            f"{d.id.split(': ')[-1]}, {s.row.id}, ± {self.force(sum(f * f for f in s.half) ** 0.5)}"
            for d, s in swings
        ]
        count = f"{swings[0][0].cycles / 1e6:g} million times" if swings else ""
        self.again.setText(f"Again and again, {count}: {'; '.join(rows)}.")
        self.again.setToolTip("\n".join(f"{s.row.reason} Source: {s.row.source}." for _, s in swings))
        self.again.setVisible(bool(rows))

    def _factors(self) -> None:
        found = self._row() if self.store.verdict.cases else None
        self.back.setVisible(found is not None)
        if found is None:
            clear(self.grid)
            self._made = None
            return
        where, row, _ = found
        own = edit.get(self.store.job, where)
        if (where, row.id) != self._made:
            self._made = (where, row.id)
            clear(self.grid)
            self.editors = {}
            words = self._words(where)
            for n, (name, policy) in enumerate(row.factors.items()):
                editor = QLineEdit()
                editor.setObjectName(f"factor:{name}")
                editor.setAccessibleName(f"{row.title}, {words.get(name, name)}")
                editor.editingFinished.connect(lambda k=name, at=(where, row.id): self._typed(k, at))
                self.editors[name] = editor
                self.grid.addWidget(label(words.get(name, name)), n, 0)
                self.grid.addWidget(editor, n, 1)
                self.grid.addWidget(label(f"policy {policy:g}", "quiet"), n, 2)
        for name, editor in self.editors.items():
            text = f"{own.get(f'{row.id}/{name}', row.factors[name]):g}"
            writing = editor.hasFocus() and (editor.isModified() or editor.text() == text)
            if not editor.property("wrong") and not writing:
                editor.setText(text)
        self.back.setEnabled(any(k.startswith(f"{row.id}/") for k in own))

    def _picked(self, row: int) -> None:
        if row >= 0:
            self.store.select_case(self.store.verdict.cases[row].id)

    @staticmethod
    def _words(where: str) -> dict[str, str]:
        return {**WORDS, **(OF_A_DUTY if where.startswith("duties") else {})}

    def _typed(self, name: str, opened: tuple[str, str]) -> None:
        """A factor goes into the case its box was opened on, or nowhere."""
        found = self._row()
        if found is not None and (found[0], found[2]) == opened and name in self.editors:
            self.set_factor(name, self.editors[name].text())

    def set_factor(self, name: str, text: str) -> None:
        """Take a factor as typed; nothing, or the policy's own figure, puts the policy back."""
        found = self._row()
        if found is None:
            return
        where, row, _ = found
        factors = dict(edit.get(self.store.job, where))
        before = factors.pop(f"{row.id}/{name}", row.factors[name])
        editor = self.editors[name]
        try:
            value = units.parse(text, "number") if text.strip() else row.factors[name]
            why = factors_.refused(row.title, self._words(where).get(name, name), row.factors, name, value)
            if why:
                raise edit.EditError(why)
            self.store.select_case(
                self.store.shown_case()
            )  # it stays chosen, whatever is the weak link afterwards
            if value != row.factors[name]:
                factors[f"{row.id}/{name}"] = value
            if value != before:
                self.store.put_job(
                    edit.put(self.store.job, where, factors), where, f"factor {row.title} {name} {value:g}"
                )
        except (units.UnitError, edit.EditError, BuildError) as error:
            editor.setProperty("wrong", True)
            self.say(str(error))
        else:
            editor.setProperty("wrong", False)
            self.say("")
            self._factors()
        tone(editor, "")
        editor.style().unpolish(editor)
        editor.style().polish(editor)

    def _back(self) -> None:
        found = self._row()
        if found is not None:
            where, _, row_id = found
            factors = {
                k: v for k, v in edit.get(self.store.job, where).items() if not k.startswith(f"{row_id}/")
            }
            self.put(where, factors, f"factors of {row_id} as the policy")
