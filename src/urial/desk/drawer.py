"""The drawer of bench calculators (F9): one question at a time, drawn to scale, its answer while one
types.
"""

from __future__ import annotations

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import (
    QComboBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from urial import units
from urial.calc.registry import Answer, CalcError, answer, find
from urial.desk.scene.canvas import Canvas
from urial.desk.store import Store
from urial.desk.theme import Theme
from urial.desk.tool import Tool
from urial.desk.tools import TOOLS
from urial.desk.widgets.fields import clear, label
from urial.desk.widgets.pickers import Picker
from urial.desk.widgets.plain import plain
from urial.desk.widgets.segments import Segments
from urial.job import edit
from urial.stock import catalogue

CAUTION = "Planning values; local codes, the maker's limits and qualified people decide."


class _Picture(Canvas):
    """The tool's own drawing."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "tool picture")
        self.tool: Tool | None = None
        self.values: dict[str, object] = {}
        self.found: Answer | None = None

    def paintEvent(self, _: QPaintEvent) -> None:
        p: QPainter = self.begin()
        if self.tool is not None and self.found is not None:
            self.tool.draw(self, p, self.values, self.found)


class Drawer(QFrame):
    """``shut`` when it is put away."""

    shut = Signal()

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        self.setObjectName("card")
        self.setFixedWidth(theme.px(366))
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        area, inside = QScrollArea(), QWidget()
        area.setWidgetResizable(True)
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(inside)
        outer.addWidget(area)
        self.inside, self.column = inside, QVBoxLayout(inside)
        column = self.column
        column.setContentsMargins(theme.px(14), theme.px(10), theme.px(14), theme.px(10))
        head = QHBoxLayout()
        head.addWidget(label("Bench calculators", "head"), 1)
        away = QPushButton("Put away")
        away.setObjectName("drawer shut")
        away.setProperty("segment", True)
        away.clicked.connect(self.shut.emit)
        head.addWidget(away)
        column.addLayout(head)
        self.choice = Segments(
            [(t.name, t.title) for t in TOOLS],
            3,
            "tool",
            self.open,
            {t.name: t.question for t in TOOLS},
            look="page",
        )
        column.addWidget(self.choice)
        self.question = label("", "title", wrap=True)
        column.addWidget(self.question)
        self.grid = QGridLayout()
        self.grid.setVerticalSpacing(theme.px(4))
        column.addLayout(self.grid)
        self.big = label("", "title", wrap=True)
        self.big.setObjectName("tool answer")
        self.rest = label("", "quiet", wrap=True)
        self.problem = label("", "problem", wrap=True)
        self.problem.setObjectName("tool problem")
        self.picture = _Picture(theme)
        self.picture.setMinimumHeight(theme.px(150))
        row = QHBoxLayout()
        self.take, self.put = QPushButton("Take from job"), QPushButton("Put into job")
        for button, name, act in (
            (self.take, "tool take", self.take_from_job),
            (self.put, "tool put", self.put_into_job),
        ):
            button.setObjectName(name)
            button.clicked.connect(lambda _=False, do=act: do())
            row.addWidget(button)
        for w in (self.big, self.rest, self.problem):
            column.addWidget(w)
        column.addLayout(row)
        column.addWidget(self.picture, 1)
        column.addWidget(label(CAUTION, "quiet", wrap=True))
        self.tool = TOOLS[0]
        self.editors: dict[str, QLineEdit | QComboBox] = {}
        self.values: dict[str, dict[str, float | str]] = {
            t.name: {a.key: a.start for a in t.asks} for t in TOOLS
        }
        self.found: Answer | None = None
        self._high = QTimer(self)
        self._high.setSingleShot(True)
        self._high.setInterval(0)
        self._high.timeout.connect(self._room)
        self._units = ""
        store.changed.connect(self._changed)

    # ---- asking

    def open(self, name: str) -> None:
        """Lay out a calculator."""
        self.tool = next(t for t in TOOLS if t.name == name)
        self.choice.choose(name)
        self.question.setText(self.tool.question)
        clear(self.grid)
        self.editors = {}
        self._units = self.store.job.units
        for n, ask in enumerate(self.tool.asks):
            self.grid.addWidget(label(ask.title), n, 0)
            editor: QLineEdit | QComboBox
            if ask.shelf:
                editor = Picker()
                rows = [
                    r
                    for r in catalogue.SHELVES[ask.shelf]().values()
                    if getattr(r, "kind", "metal") == "metal"
                ]
                for r in sorted(rows, key=lambda r: getattr(r, "system", self._units) != self._units):
                    editor.addItem(getattr(r, "title", r.name) if ask.shelf == "bar" else r.name, r.name)
                editor.setMinimumContentsLength(8)
                editor.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
                editor.currentIndexChanged.connect(
                    lambda _, k=ask.key, e=editor: self._set(k, str(e.currentData()))
                )
            else:
                editor = QLineEdit()
                editor.textEdited.connect(lambda text, k=ask.key: self._typed(k, text))
            editor.setObjectName(f"tool:{ask.key}")
            editor.setAccessibleName(ask.title)
            self.editors[ask.key] = editor
            self.grid.addWidget(editor, n, 1)
        self.show_values()

    def show_values(self) -> None:
        """Write every value into its box, in the job's units, and answer."""
        for ask in self.tool.asks:
            editor, value = self.editors[ask.key], self.values[self.tool.name][ask.key]
            editor.blockSignals(True)
            if isinstance(editor, QComboBox):
                editor.setCurrentIndex(max(editor.findData(value), 0))
                self.values[self.tool.name][ask.key] = str(editor.currentData())
            else:
                editor.setText(
                    units.show(float(value), ask.quantity, self.store.job.units, self.store.job.nearest)
                )
                editor.setProperty("wrong", False)
            editor.blockSignals(False)
        self._answer()

    def _set(self, key: str, value: float | str) -> None:
        self.values[self.tool.name][key] = value
        self._answer()

    def _typed(self, key: str, text: str) -> None:
        ask, editor = next(a for a in self.tool.asks if a.key == key), self.editors[key]
        wrong = ""
        try:
            self.values[self.tool.name][key] = units.parse(text, ask.quantity, self.store.job.units)
        except units.UnitError as error:
            wrong = f"{ask.title[0].upper()}{ask.title[1:]}: {error}"
        editor.setProperty("wrong", bool(wrong))
        editor.style().unpolish(editor)
        editor.style().polish(editor)
        if wrong:
            self.problem.setText(wrong)
            self.problem.show()
        else:
            self._answer()

    def _answer(self) -> None:
        values, job = self.values[self.tool.name], self.store.job
        try:
            self.found = answer(find(self.tool.name), self.tool.data(values))
            said = self.tool.say(self.found, values, job)
            self.problem.hide()
        except (CalcError, catalogue.StockError, KeyError) as error:
            self.found, said = None, ("", "")
            words = str(error).removeprefix(f"{self.tool.name}: ")
            self.problem.setText(self.store.said(self._plainly(words)))
            self.problem.show()
        self.big.setText(said[0])
        self.rest.setText("\n".join(said[1:]))
        self.picture.tool, self.picture.values, self.picture.found = self.tool, dict(values), self.found
        self.picture.update()
        self.put.setVisible(self.tool.put is not None)
        self.put.setEnabled(self._target() is not None)
        self.put.setToolTip(plain(f"Into the {self.tool.put.words}" if self.tool.put else ""))
        self.take.setEnabled(any(a.take(self.store.verdict) is not None for a in self.tool.asks))
        self._high.start()

    def _room(self) -> None:
        """As high as its words take at this width, once they are laid out: beyond what is seen it scrolls."""
        high = self.column.totalHeightForWidth(self.inside.width())
        self.inside.setMinimumHeight(max(high, self.column.totalMinimumSize().height()))

    def _plainly(self, words: str) -> str:
        """The registry's keys as the boxes are called here."""
        for ask in self.tool.asks:
            words = words.replace(ask.key, f"“{ask.title}”")
        return words

    # ---- the job

    def _changed(self) -> None:
        if not self.isVisible():
            return
        if self._units != self.store.job.units:
            self.open(self.tool.name)
        else:
            self._answer()

    def take_from_job(self) -> None:
        """Fill in what the job knows."""
        for ask in self.tool.asks:
            value = ask.take(self.store.verdict)
            if value is not None:
                self.values[self.tool.name][ask.key] = value
        self.show_values()

    def _target(self) -> tuple[str, object] | None:
        if self.tool.put is None or self.found is None:
            return None
        return self.tool.put.at(self.store.verdict, self.values[self.tool.name], self.found)

    def put_into_job(self) -> None:
        """Change the job by the answer: one edit, undone like any other."""
        target = self._target()
        if target is None:
            return
        path, value = target
        assert self.tool.put is not None
        try:
            self.store.put_job(
                edit.put(self.store.job, path, value), path, f"{self.tool.put.words} from the bench"
            )
        except edit.EditError as error:
            self.problem.setText(str(error))
            self.problem.show()
