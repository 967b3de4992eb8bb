"""Fields: any takes any unit, shows what it understood, and keeps wrong text, marked, with a plain reason."""

from __future__ import annotations

import logging
import re
from collections.abc import Iterable

from PySide6.QtCore import Qt
from PySide6.QtGui import QFocusEvent, QKeyEvent, QShowEvent
from PySide6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QCompleter,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from urial import units
from urial.assembly.model import BuildError
from urial.desk.settings import remembered
from urial.desk.store import Store
from urial.desk.widgets.pickers import Picker
from urial.desk.widgets.plain import plain
from urial.job import datum, edit, formula, origin
from urial.job.fields import Spec
from urial.stock import catalogue

log = logging.getLogger("urial")


_TOGETHER = re.compile(r"(?<=\d) (?=\d+/\d+\"|%|(?:mm|m|kg|t|kN|N|N·m|MPa|km/h|mph|lb|lbf|ft|ft·lb)\b)")


class Words(QLabel):
    """A label that breaks no figure and no unit over two lines: 49 3/16", km/h."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.setText(text)

    def setText(self, text: str) -> None:
        """Show a text."""
        self._said = text
        super().setText(_TOGETHER.sub("\u00a0", text).replace("km/h", "km\u2060/\u2060h"))

    def text(self) -> str:
        """What was said, as it was said."""
        return self._said


def label(text: str, role: str = "", wrap: bool = False) -> QLabel:
    """A label in a role of the style sheet."""
    out = Words(text)
    out.setTextFormat(Qt.TextFormat.PlainText)  # what comes from a job is never read as markup
    if role:
        out.setProperty("role", role)
    out.setWordWrap(wrap)
    return out


def _restyle(widget: QWidget) -> None:
    if widget.testAttribute(Qt.WidgetAttribute.WA_WState_Polished):  # else it is when it is first shown
        widget.style().unpolish(widget)
        widget.style().polish(widget)


BY_KEYS = (
    Qt.FocusReason.TabFocusReason,
    Qt.FocusReason.BacktabFocusReason,
    Qt.FocusReason.ShortcutFocusReason,
    Qt.FocusReason.OtherFocusReason,
)


class _Escaping(QLineEdit):
    """A line edit whose Escape puts the old value back."""

    def __init__(self, owner: Field) -> None:
        super().__init__()
        self.owner = owner

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.owner.show_formula()
        if event.reason() in BY_KEYS:
            self.selectAll()  # however one came here without pointing at a letter: typing replaces

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            changed = self.text() != self.owner._text or bool(self.property("wrong"))
            self.owner.refresh(force=True)
            if changed:
                self.selectAll()
            else:  # nothing to take back: leave the field
                self.clearFocus()
            return
        super().keyPressEvent(event)


class Field(QWidget):
    """One parameter of the job: label, editor, and a line for what was understood or what is wrong."""

    def __init__(self, store: Store, path: str, title: str | None = None, alone: bool = False) -> None:
        """``alone`` shows the editor without its name, in a table that names its columns."""
        super().__init__()
        self.store, self.path = store, path
        self._late = False
        self._refused = False
        self._stocked: object = None
        self.combo: QComboBox | None = None
        self._opened = store.document.generation
        self._text = ""  # as it was last shown
        self.spec: Spec = edit.spec_of(store.job, path)
        self.setObjectName(f"field:{path}")
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 2, 0, 2)
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(1)
        self.title = title if title is not None else self.spec.title
        self.name: QLabel | None = None
        self._note: QLabel | None = None
        self._grid = grid
        editor = self._editor()
        if not alone:
            self.name = label(self.title or self.spec.title, wrap=True)
            self.name.setBuddy(editor)
            grid.addWidget(self.name, 0, 0)
            grid.setColumnStretch(0, 5)
        elif self.line is not None:
            grid.setHorizontalSpacing(0)
            self.line.setProperty("tight", True)
        self._tip(editor, self.help_words())
        editor.setAccessibleName(self.spec.title)
        grid.addWidget(editor, 0, 1)
        grid.setColumnStretch(1, 6)
        store.changed.connect(self.refresh)
        self.refresh(force=True)

    def help_words(self) -> str:
        """What F1 and the tip say: what it is, and between what it may lie."""
        spec, job = self.spec, self.store.job
        words = self.store.said(spec.help) or f"{spec.title[0].upper()}{spec.title[1:]}."
        if spec.quantity and spec.lo is not None and spec.hi is not None:
            low, high = (units.show(x, spec.quantity, job.units, job.nearest) for x in (spec.lo, spec.hi))
            words += f" Between {low} and {high}; any unit may be typed."
            if self.path.startswith("stack."):
                words += " Or let it follow other sizes: = wide / 2 - 20 mm."
        elif self.combo is not None and self.combo.count():
            words += (
                f" From the shelf: {self.combo.count()} to choose from; type a part of the name to find it."
            )
        return words

    def _tip(self, editor: QWidget, words: str) -> None:
        """The same tip at the name and at the editor."""
        for widget in (self.name, editor):
            if widget is not None:
                widget.setToolTip(plain(words))
                widget.setWhatsThis(plain(words))

    @property
    def note(self) -> QLabel:
        """The line under the editor, made when there is first something to say: most fields never say a
        word, and a label costs as much as the field.
        """
        if self._note is None:
            self._note = label("", "quiet", wrap=True)
            self._note.hide()
            self._grid.addWidget(self._note, 1, 0, 1, 2)
        return self._note

    def _editor(self) -> QWidget:
        self.line: QLineEdit | None = None
        self.choices: QWidget | None = None
        self.buttons: dict[str, QPushButton] = {}
        if self.spec.kind == "choice":
            return self._segments()
        if self.spec.kind == "stock":
            self.combo = Picker()
            self.combo.setEditable(True)
            self.combo.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
            self.combo.setMinimumContentsLength(8)
            self.combo.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            self.line = _Escaping(self)
            self.combo.setLineEdit(self.line)
            self.combo.activated.connect(lambda _: self.commit(picked=True))
        else:
            self.line = _Escaping(self)
        if self.spec.optional:
            usual = "not measured" if self.spec.quantity else "not known"
            self.line.setPlaceholderText(self.spec.empty or usual)
        self.line.editingFinished.connect(lambda: self.commit())
        self.line.returnPressed.connect(self._confirm)
        return self.combo or self.line

    def _segments(self) -> QWidget:
        holder = self.choices = QWidget()
        holder.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        holder.setProperty("role", "choices")
        words = [self.spec.words.get(o, o) for o in self.spec.choices]
        short = len(words) > 2 and max(len(w) for w in words) < 7
        row = QGridLayout(holder) if short else QHBoxLayout(holder) if len(words) < 3 else QVBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        group = QButtonGroup(self)
        group.setExclusive(True)
        for option in self.spec.choices:
            button = QPushButton(self.spec.words.get(option, option))
            button.setCheckable(True)
            button.setProperty("segment", True)
            button.setObjectName(f"choice:{self.path}:{option}")
            button.clicked.connect(lambda _=False, o=option: self._pick(o))
            group.addButton(button)
            if isinstance(row, QGridLayout):
                row.addWidget(button, len(self.buttons) // 3, len(self.buttons) % 3)
            else:
                row.addWidget(button)
            self.buttons[option] = button
        return holder

    def _here(self) -> object:
        """The stock that is chosen now; None where it is none."""
        try:
            return catalogue.find(self.spec.shelf, str(edit.get(self.store.job, self.path)))
        except (catalogue.StockError, edit.EditError):
            return None

    def _options(self) -> list[tuple[str, str]]:
        """Names and labels of the stock to pick from: the job's system first."""
        rows = list(catalogue.SHELVES[self.spec.shelf]().values())
        if self.spec.shelf == "material":  # wood and webbing are for parts that say so themselves
            rows = [r for r in rows if r.kind == "metal"]
        if self.spec.only:
            rows = [r for r in rows if r.is_of(self.spec.only)]
        system, rack = self.store.job.units, self.store.making.rack
        if remembered("stock") == "as the job":  # a shop has one system's stock, and what lies on its rack
            systems = {system, getattr(self._here(), "system", system)}
            rows = [r for r in rows if getattr(r, "system", system) in systems or r.name in rack]
        rows.sort(key=lambda r: (r.name not in rack, getattr(r, "system", system) != system))
        none = [("", "")] if self.spec.optional else []
        return none + [
            (r.name, getattr(r, "title", r.name) if self.spec.shelf == "bar" else r.name) for r in rows
        ]

    def refresh(self, force: bool = False) -> None:
        """Show the job's value; wrong text that is being mended stays, and so does what is being written.  A
        hidden field waits until it is seen.
        """
        if not force and not self.isVisible():
            self._late = True
            return
        self._late = False
        if (
            self._opened != self.store.document.generation
        ):  # another document: what was typed for the one before goes
            self._opened, force = self.store.document.generation, True
        title = self.store.said(self.title or self.spec.title)
        if self.name is not None and self.name.text() != title:
            self.name.setText(title)
        try:
            text = edit.shown(self.store.job, self.path)
        except (edit.EditError, IndexError, AttributeError):  # its row has been taken away
            return
        if self.buttons:
            key = self._chosen()
            for option, button in self.buttons.items():
                button.setChecked(option == key)
            self._show_origin()
            self._show_refusal()
            return
        assert self.line is not None
        if self.line.property("wrong") and not force and not self._refused:
            return
        if self.line.hasFocus() and not force and self._in_hand(text):
            self._show_origin()
            return
        if self.combo is not None:
            self._stock()
            self.combo.blockSignals(True)
            self.combo.setCurrentIndex(self.combo.findText(text))
            self.combo.blockSignals(False)
        self.line.setText(text)
        self._text = text
        if self.line.hasFocus():
            self.line.selectAll()  # what is typed now replaces it, as after a Tab
        else:
            self.line.setCursorPosition(0)
        self._show_origin()
        self._show_refusal()

    def _in_hand(self, text: str) -> bool:
        """Somebody is in this field, and has begun to write, or would be shown what stands there already."""
        assert self.line is not None
        return (
            self.line.text() != self._text or text == self._text or formula.is_formula(self._text)
        ) and not self._refused

    def _confirm(self) -> None:
        """Enter in a starting value that is right as it stands: somebody has looked."""
        assert self.line is not None
        try:
            same = self.line.text() == edit.shown(self.store.job, self.path)
        except (edit.EditError, IndexError, AttributeError):
            return
        if same and origin.is_assumed(self.store.job, self.path):
            self.store.confirm(self.path)
            self._show_origin()

    def _pick(self, option: str) -> None:
        """An option is clicked: another than before, or the one that stands, which says that it is right."""
        if origin.is_assumed(self.store.job, self.path) and self._chosen() == option:
            self.store.confirm(self.path)
            self._show_origin()
        else:
            self._try(option)

    def _chosen(self) -> str:
        value = edit.get(self.store.job, self.path)
        return ("yes" if value else "no") if isinstance(value, bool) else str(value)

    def _show_origin(self) -> None:
        """A bar beside a figure that nobody measured, and in the tip where it comes from."""
        box = self.combo or self.line or self.choices
        if box is None:
            return
        job = self.store.job
        known = job.origins.get(self.path)
        state = (
            "assumed"
            if origin.is_assumed(job, self.path)
            else "simulated"
            if known is not None and known.how == "simulated"
            else ""
        )
        said = (
            "A starting value that nobody measured: "
            + (
                "choose another, or click the one that is chosen if it is right."
                if self.choices is not None
                else "type over it, or press Enter in it if it is right."
            )
            if state == "assumed"
            else f"{known.words[0].upper()}{known.words[1:]}."
            if known
            else ""
        )
        tip = "\n".join(x for x in (self.help_words(), said) if x)
        if box.toolTip() != tip:
            self._tip(box, tip)
        if (box.property("origin") or "") != state:
            box.setProperty("origin", state)
            box.setAccessibleDescription(said)
            _restyle(box)

    def _show_refusal(self) -> None:
        """Sizes that make no part stay in their field, marked with the reason, while the last shape stays
        in the picture.
        """
        self._refused = bool(self.store.refusal) and self.store.refused_path == self.path
        self._say(self.store.refusal if self._refused else self._beside(), wrong=self._refused)

    def _other_size(self) -> str:
        """Stock keeps its trade name; in a job of the other system its size stands beside it."""
        if self.spec.shelf not in ("bar", "plate"):
            return ""
        name, job = edit.get(self.store.job, self.path), self.store.job
        row = catalogue.SHELVES[self.spec.shelf]().get(str(name).lower()) if name else None
        row = row or (catalogue.find(self.spec.shelf, str(name)) if name else None)
        if row is None or getattr(row, "system", job.units) == job.units:
            return ""
        sizes = (
            [row.thickness]
            if self.spec.shelf == "plate"
            else [row.width]
            if row.shape.startswith("round")
            else [row.width, row.height]
        )
        wall = getattr(row, "wall", None)
        if self.spec.shelf == "bar" and wall and row.shape not in ("rect_bar", "round_bar"):
            sizes.append(wall)
        return "that is " + " × ".join(units.show(x, "length", job.units, job.nearest) for x in sizes)

    def _stock(self) -> None:
        """Fill the picker, again only when the units or the shop's rack have changed."""
        rack = self.store.making.rack
        own = getattr(self._here(), "system", "")
        of = self.store.job.units, rack, remembered("stock"), own
        if self.combo is not None and self._stocked != of:
            self._stocked = of
            self.combo.blockSignals(True)
            self.combo.clear()
            for n, (name, shown) in enumerate(self._options()):
                self.combo.addItem(shown, name)
                if name in rack:
                    self.combo.setItemData(n, plain(rack[name]), Qt.ItemDataRole.ToolTipRole)
            old = self.combo.completer()
            if old is not None:
                old.deleteLater()
            completer = QCompleter([self.combo.itemText(n) for n in range(self.combo.count())], self.combo)
            completer.setFilterMode(Qt.MatchFlag.MatchContains)
            completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
            self.combo.setCompleter(completer)
            self.combo.blockSignals(False)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        if self._late:
            self.refresh()

    def commit(self, picked: bool = False) -> None:
        """Take what somebody wrote here, into the job it was written for, or not at all."""
        assert self.line is not None
        text = self.line.text()
        if self._opened != self.store.document.generation:
            return
        if not picked and text == self._text:  # nobody wrote anything
            if not self._refused:
                self._say(self._beside())
            if formula.is_formula(text):  # it was only looked at
                self.refresh(force=True)
            return
        try:
            now = edit.shown(self.store.job, self.path)
        except (
            edit.EditError,
            IndexError,
            AttributeError,
        ):  # the row this field belonged to has been taken away
            return
        if text == now:
            if not self._refused:
                self._say("")
            return
        self._try(text)

    def _try(self, text: str) -> None:
        try:
            self.store.write(self.path, text)
        except (edit.EditError, BuildError) as error:
            self._say(str(error), wrong=True)
            return
        except Exception:  # whatever it was: the field says so, and the job is as it was
            log.exception("edit of %s", self.path)
            self._say(
                "That could not be taken; the log in the state folder says why. The old value stands.",
                wrong=True,
            )
            return
        self._say("")
        self.refresh(force=True)
        if self.store.refusal or formula.is_formula(text):
            return
        if self.spec.quantity and self.line is not None:
            self._understood(text)

    def show_formula(self) -> None:
        """While somebody is in a field that follows others, its formula stands there to be changed."""
        text = edit.formula_of(self.store.job, self.path)
        if text and self.line is not None and not self.line.property("wrong"):
            self.line.setText(text)
            self._text = text

    def _beside(self) -> str:
        """What stands under the editor: the formula it follows, or its size in the other system."""
        return edit.formula_of(self.store.job, self.path) or self._other_size()

    def _understood(self, typed: str) -> None:
        """Say what was made of text that is written otherwise than it is shown."""
        kind, job = edit.quantity_kind(self.spec), self.store.job
        if edit.get(job, self.path) is None:
            return
        shown = edit.shown(job, self.path)
        value = float(edit.get(job, self.path)) - datum.offset(job, self.path)
        if abs(units.parse(shown, kind, job.units) - value) > 1e-6:
            other = units.show(value, kind, "metric" if job.units == "inch" else "inch", job.nearest)
            self._say(
                f"{typed.strip()} is {other}; shown to the nearest "
                f"{'1/' + str(job.nearest) if job.units == 'inch' else '0.1'}."
            )

    def _say(self, text: str, wrong: bool = False) -> None:
        text, role = self.store.said(text), "problem" if wrong else "quiet"
        if text or self._note is not None:
            if self.note.text() != text:
                self.note.setText(text)
                self.note.setVisible(bool(text))
            if self.note.property("role") != role:
                self.note.setProperty("role", role)
                _restyle(self.note)
        for widget in (self.line, self.combo):
            if widget is not None and bool(widget.property("wrong")) != wrong:
                widget.setProperty("wrong", wrong)
                _restyle(widget)


def within(store: Store, path: str) -> Field:
    """A field of a row that is named above it: its title without the row's name."""
    return Field(store, path, title=edit.spec_of(store.job, path).title.split(", ", 1)[1])


def form(store: Store, paths: Iterable[str], head: str = "") -> QWidget:
    """Fields under a heading."""
    holder = QWidget()
    column = QVBoxLayout(holder)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(2)
    if head:
        column.addWidget(label(head, "head"))
    for path in paths:
        column.addWidget(Field(store, path))
    return holder


def clear(layout: QVBoxLayout | QHBoxLayout | QGridLayout) -> None:
    """Take everything out of a layout."""
    while layout.count():
        item = layout.takeAt(0)
        assert item is not None  # it was counted
        widget, inner = item.widget(), item.layout()
        if widget is not None:
            widget.hide()
            widget.deleteLater()
        elif inner is not None:
            clear(inner)  # type: ignore[arg-type]
