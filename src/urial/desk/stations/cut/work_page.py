"""Work: the plan of work by kinds, what can be done now, and what is done."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QPushButton

from urial.desk.scene.work_view import WorkView
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import label
from urial.desk.widgets.off_box import OffBox
from urial.desk.widgets.segments import Segments
from urial.job.making import Making
from urial.making.stands import as_it_stands
from urial.making.status import Stood
from urial.making.step import RANK

KEY = Qt.ItemDataRole.UserRole
SIGNS = {"open": "☐", "part": "◪", "done": "☑", "stale": "⚠", "gone": "–"}
LONG = {"metric": 20.0, "inch": 19.05}
"""So much a bar is left long, mm: 3/4 in."""
MADE = ("saw", "cut plate", "buy")


class WorkPage(Page):
    """What is to be done, and what is done?"""

    name = "Work"
    reads_plan = True
    question = "What is to be done, and what is done?"
    needs_part = True

    def fill(self) -> None:
        self.canvas = self.picture = WorkView(self.theme)
        self.sum = label("", "", wrap=True)
        self.column.addWidget(self.sum)
        self.stands = label("", "problem", wrap=True)
        self.column.addWidget(self.stands)
        self.off = OffBox(self.store, self.theme)
        self.column.addWidget(self.off)
        self.kinds = Segments([(k, k) for k in RANK], 3, "kind", self._kind)
        self.column.addWidget(self.kinds)
        self.list = QListWidget()
        self.list.setObjectName("steps")
        self.list.setWordWrap(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setMinimumHeight(self.theme.px(260))
        self.list.currentItemChanged.connect(lambda *_: self._shown())
        self.list.itemActivated.connect(lambda _: self._tick())
        self.words = label("", "quiet", wrap=True)
        self.tick = QPushButton("It is done")
        self.tick.setObjectName("tick")
        self.tick.setProperty("main", True)
        self.tick.clicked.connect(self._tick)
        self.column.addWidget(self.tick)
        self.column.addLayout(
            self.row(
                ("Take it back", "untick", self._untick),
                tips=("The last tick of this step is taken back by an entry of its own",),
            )
        )
        self.column.addLayout(
            self.row(
                ("Do it first", "first", self._first),
                ("Leave it long", "left long", self._long),
                tips=(
                    "This step, and what it needs, before everything else",
                    "Saw it longer, offer it up, measure, and cut it then",
                ),
            )
        )
        self.column.addWidget(self.words)
        self.column.addWidget(self.list)
        self.kind = ""

    @property
    def row_now(self) -> Stood | None:
        """The step that is chosen in the list."""
        item = self.list.currentItem()
        key = item.data(KEY) if item is not None else None
        return next((r for r in self.store.making.stood if r.step.key == key), None)

    def refresh(self) -> None:
        making = self.store.making
        rows = making.stood
        known = making.summary
        if known is None:
            self.sum.setText(self.store.refusal or "The plan is being made…")
            self.list.clear()
            return
        left = sum(r.step.minutes * len(r.left) / r.step.count for r in rows if r.state != "gone")
        work = making.work
        whose = "" if work is None or not work.shop.usual else " by a usual shop's minutes"
        self.sum.setText(
            f"{known.done} of {known.steps} steps done; about {left / 60:.1f} hours left{whose}."
        )
        self.stands.setText(as_it_stands(rows))
        self.stands.setVisible(bool(self.stands.text()))
        present = list(dict.fromkeys(r.step.kind for r in rows if r.state != "gone"))
        self.kinds.offer(present)
        for kind in present:
            own = [r for r in rows if r.step.kind == kind]
            done = sum(r.state == "done" for r in own)
            self.kinds.buttons[kind].setText(f"{kind} {done}/{len(own)}")
        if self.kind not in present:
            open_ = making.open_steps()
            self.kind = open_[0].step.kind if open_ else present[0]
        self._fill()
        self.off.refresh()
        self.say(making.said)

    def _kind(self, kind: str) -> None:
        self.kind = kind
        self._fill()

    def _fill(self) -> None:
        self.kinds.choose(self.kind)
        here = self.row_now
        self.list.blockSignals(True)
        self.list.clear()
        rows = [r for r in self.store.making.stood if r.step.kind == self.kind and r.state != "gone"]
        chosen = 0
        for n, r in enumerate(rows):
            count = f" {len(r.done)}/{r.step.count}" if r.step.count > 1 else ""
            item = QListWidgetItem(f"{SIGNS[r.state]}{count}  {self.store.said(r.step.words)}")
            item.setData(KEY, r.step.key)
            self.list.addItem(item)
            if here is not None and r.step.key == here.step.key:
                chosen = n
        if here is None or here.step.kind != self.kind or here.state == "done":
            chosen = next((n for n, r in enumerate(rows) if r.state != "done"), chosen)
        self.list.setCurrentRow(chosen)
        self.list.blockSignals(False)
        self._shown()

    def _shown(self) -> None:
        r, making = self.row_now, self.store.making
        work = making.work
        if r is None or work is None:
            return
        done = {x.step.key for x in making.stood if x.state == "done"}
        waits = [work.plan.by_key[k] for k in r.step.needs if k not in done]
        said = []
        if waits:
            first = self.store.said(waits[0].words)
            more = f" and {len(waits) - 1} more" if len(waits) > 1 else ""
            said.append(f"Waits for: {first}{more}")
        said += [self.store.said(h) for h in r.step.hazards]
        said += [
            self.store.said(f"{x.what}: {x.wanted:.1f} {x.unit} ± {x.tolerance:.1f} {x.unit}, {x.how}")
            for x in r.step.reads[:4]
        ]
        notes, pictures = making.remarks(r.step.key)
        said += [f"Noted: {n}" for n in notes[-4:]]
        if pictures:
            said.append(f"{pictures} picture{'s' if pictures > 1 else ''} of it kept with the job")
        said.append(f"About {r.step.minutes:.0f} minutes" + (f", {r.step.tool}." if r.step.tool else "."))
        self.words.setText("\n".join(said))
        self.tick.setEnabled(bool(r.left))
        wishes = self.store.job.making
        pinned, sawn = r.step.key in wishes.first, r.step.kind == "saw"
        self._called("first", "In its own turn" if pinned else "Do it first", True)
        left = r.step.key.split("|", 1)[0] in wishes.extra
        can = sawn and not r.done and work.verdict.assembly.by_key[r.step.parts[0]].decking is None
        self._called("left long", "To size again" if left else f"Leave {self._extra()} long", can)
        self.bench_at = r.step.key
        made = {m for x in making.stood if x.step.kind in MADE and x.state == "done" for m in x.step.marks}
        self.picture.show_work(work.verdict.assembly, made, _marks(r))

    def _extra(self) -> str:
        return self.length(LONG[self.store.job.units])

    def _called(self, name: str, words: str, can: bool) -> None:
        button = self.findChild(QPushButton, name)
        assert button is not None
        button.setText(words)
        button.setEnabled(can)

    def _tick(self) -> None:
        r = self.row_now
        if r is None:
            return
        for unit in r.left if r.step.kind == "buy" else r.left[:1]:
            self.store.making.tick(r.step, unit)

    def _wish(self, making: Making, words: str) -> None:
        self.put("making", making, words)

    def _first(self) -> None:
        """Pin the step, or let it go again."""
        r, wishes = self.row_now, self.store.job.making
        if r is not None:
            first = r.step.key not in wishes.first
            self._wish(wishes.pinned(r.step.key, first), "a step first" if first else "a step in its turn")

    def _long(self) -> None:
        """Leave a bar long, or saw it to size again."""
        r, wishes = self.row_now, self.store.job.making
        if r is None or r.step.kind != "saw" or r.done:
            return
        part = r.step.key.split("|", 1)[0]
        extra = None if part in wishes.extra else LONG[self.store.job.units]
        self._wish(wishes.leaving(part, extra), "left long" if extra else "to size")

    def _untick(self) -> None:
        r = self.row_now
        if r is not None and r.done:
            self.store.making.untick(r.step)


def _marks(r: Stood) -> set[str]:
    """The marks a step is about, left and right too."""
    return {x for m in r.step.marks for x in (m, f"{m}L", f"{m}R")}


__all__ = ["WorkPage"]
