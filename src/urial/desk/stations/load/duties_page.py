"""Duties: what the part must do, the trailer it tows one of them."""

from __future__ import annotations

import math
from collections.abc import Callable

from PySide6.QtWidgets import QPushButton, QVBoxLayout

from urial.desk.stations.load.trailer_page import TrailerForm, can_tow
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import Field, clear, label
from urial.desk.widgets.rows import Rows
from urial.desk.widgets.segments import Segments
from urial.job.duty import MODELS, Carrier, Item, Link
from urial.job.host import Tractor, Wheeled
from urial.loads import duties
from urial.loads.classes import reads_as
from urial.road import balance
from urial.road.winch import leg_pull

TRAILER = -1
"""The number of the trailer among the duties: it is one of them, and comes first."""
CALLED = {
    "tow": "Trailer",
    "carrier": "Carrier",
    "winch": "Winch",
    "recovery": "Recovery",
    "implement": "Implement",
    "ballast": "Ballast",
    "anchor": "Anchor",
}


class DutiesPage(Page):
    """What must it do?"""

    name = "Duties"
    question = "What must it do?"

    def fill(self) -> None:
        self.kinds = Segments(
            [(k, f"+ {w}") for k, w in CALLED.items()],
            4,
            "duty",
            self._add,
            {"tow": "A trailer towed on a ball, a clevis or a pintle"},
            checkable=False,
        )
        self.column.addWidget(self.kinds)
        self.list = QVBoxLayout()
        self.list.setSpacing(0)
        self.column.addLayout(self.list)
        self.said = label("", "", wrap=True)
        self.column.addWidget(self.said)
        self.trailer: TrailerForm | None = None
        self.form = QVBoxLayout()
        self.column.addLayout(self.form)
        self.chosen: int | None = None
        self._made: object = None
        self._opened: object = None
        self._rows: list[Rows] = []

    def _offered(self) -> list[int]:
        """The duties there are: the trailer first, then the rest by number."""
        return [
            *([TRAILER] if self.store.job.duty.towed and can_tow(self.store.job) else []),
            *range(len(self.store.job.duties)),
        ]

    def _title(self, n: int) -> str:
        """What a duty is called on its button."""
        if n == TRAILER:
            return (
                f"Trailer: {self.store.job.duty.trailer_name}"
                if self.store.job.duty.trailer_name not in ("", "Trailer")
                else "Trailer"
            )
        duty = self.store.job.duties[n]
        return duty.title if duty.title != "duty" else CALLED[duty.kind]

    def refresh(self) -> None:
        rows, there = self.store.job.duties, self._offered()
        if self.chosen not in there:
            self.chosen = there[min(len(there) - 1, max(self.chosen or 0, 0))] if there else None
        self.kinds.offer(
            [k for k in CALLED if k != "tow" or (can_tow(self.store.job) and not self.store.job.duty.towed)]
        )
        shape = (tuple((n, self._title(n)) for n in there), self.chosen)
        if shape != self._made:
            self._made = shape
            clear(self.list)
            for n in there:
                button = QPushButton(self._title(n))
                button.setCheckable(True)
                button.setChecked(n == self.chosen)
                button.setProperty("segment", True)
                button.setObjectName("chosen duty:trailer" if n == TRAILER else f"chosen duty:{n}")
                button.clicked.connect(lambda _=False, k=n: self._choose(k))
                self.list.addWidget(button)
        duty = rows[self.chosen] if self.chosen not in (None, TRAILER) else None
        opened = (
            self.chosen,
            duty.kind if duty else "",
            len(rows),
            duty.socket if duty else "",
            tuple(s.key for s in self.store.verdict.assembly.sockets),
            self._decked(),
            any(i.stands == "wheels" for i in duty.items) if isinstance(duty, Carrier) else False,
        )
        if opened != self._opened:
            self._opened = opened
            self._fields()
        for r in self._rows:
            r.refresh()
        if self.trailer is not None:
            self.trailer.refresh()
        words = self._words()
        self.said.setText(words)
        self.said.setVisible(bool(words))

    def _decked(self) -> bool:
        """Is there a deck to stand on?"""
        return any(p.decking is not None for p in self.store.verdict.assembly.parts)

    def _words(self) -> str:
        """What the chosen duty comes to, in a sentence."""
        if self.chosen is None:
            return (
                self.store.verdict.unasked
                or "Nothing yet: add what it has to do. Each duty brings its own load cases, with "
                "reason and source."
            )
        if self.chosen == TRAILER:
            return reads_as(self.store.job)
        duty, host = self.store.job.duties[self.chosen], self.store.job.vehicle
        mine = duties.duty_cases(
            self.store.job.model_copy(update={"duties": (duty,)}), self.store.verdict.assembly
        )

        def size(c: duties.DutyCase) -> float:
            return math.hypot(*(sum(p.force[k] for p in c.pulls) for k in range(3)))

        worst = max(mine, key=size)
        words = f"Hardest: {worst.title.split(', ', 1)[1]}, {self.force(size(worst))}. "
        if duty.kind == "carrier":
            kg = sum(i.kg for i in duty.items)
            words += f"{self.mass(kg)} in all."
        elif duty.kind == "implement":
            total = duty.kg + duty.payload_kg
            if isinstance(host, Tractor):
                left = balance.front_share_left(
                    host.wheelbase_mm,
                    host.front_kg,
                    host.standing(),
                    total,
                    host.lower_behind_mm + duty.behind_mm,
                )
                words += (
                    f"{self.mass(total)} against a lift capacity of {self.mass(host.lift_kg)} at the "
                    "pins; what its distance behind them adds depends on the linkage and is not "
                    "reckoned here. "
                )
                words += f"The front axle keeps {left:.0f} % of the unladen mass" + (
                    "; 20 % is the least: add weight in front." if left < 20 else "."
                )
        elif duty.kind == "ballast":
            if isinstance(host, Wheeled):
                b = balance.ballasted(host.wheelbase_mm, duty.kg, duty.behind_mm, duty.grip)
                words += (
                    f"The rear axle gains {self.mass(b.rear_gain_kg)}, the front "
                    f"{'loses' if b.front_loss_kg > 0 else 'gains'} {self.mass(abs(b.front_loss_kg))}; "
                    f"traction gains {self.force(b.traction_N)}."
                )
        elif duty.kind == "anchor":
            words += (
                f"Each leg pulls {self.force(leg_pull(duty.pull_N, duty.angle_deg, int(duty.legs)))}; "
                "see Winch for the links."
            )
        return words

    def _fields(self) -> None:
        clear(self.form)
        self._rows = []
        self.trailer = None
        n = self.chosen
        if n is None:
            return
        if n == TRAILER:
            self.trailer = TrailerForm(self.store, self.theme)
            self.form.addWidget(self.trailer)
            self._away("It tows nothing", lambda: self.put("duty.towed", False, "tows nothing"))
            return
        duty = self.store.job.duties[n]
        for name, info in type(duty).model_fields.items():
            if isinstance(info.json_schema_extra, dict) and name != "socket":
                self.form.addWidget(Field(self.store, f"duties.{n}.{name}", title=info.title))
        self._acts_at(n)
        places = (
            ("name", "name"),
            ("kg", "mass"),
            ("behind_mm", "behind"),
            ("above_mm", "above"),
            ("across_mm", "left"),
        )
        if duty.kind == "carrier":
            self._rows.append(
                Rows(
                    self.store,
                    f"duties.{n}.items",
                    "Items, folded out",
                    "item",
                    places,
                    lambda job: Item(),
                    least=1,
                )
            )
            self._rows.append(
                Rows(
                    self.store,
                    f"duties.{n}.items",
                    "Their sizes",
                    "item",
                    (("long_mm", "long"), ("wide_mm", "wide"), ("high_mm", "high")),
                    lambda job: Item(),
                    least=1,
                )
            )
            if self._decked():
                self._rows.append(
                    Rows(
                        self.store,
                        f"duties.{n}.items",
                        "How they stand on the deck",
                        "item",
                        (("stands", "on"),),
                        lambda job: Item(),
                        least=1,
                    )
                )
            if self._decked() and any(item.stands == "wheels" for item in duty.items):
                self._rows.append(
                    Rows(
                        self.store,
                        f"duties.{n}.items",
                        "Their wheels",
                        "item",
                        (("wheelbase_mm", "wheelbase"), ("track_mm", "track"), ("tyre_mm", "tyre wide")),
                        lambda job: Item(),
                        least=1,
                    )
                )
            self._rows.append(
                Rows(
                    self.store,
                    f"duties.{n}.items",
                    "Folded in",
                    "item",
                    (("in_behind_mm", "behind"), ("in_above_mm", "above")),
                    lambda job: Item(),
                    least=1,
                )
            )
        elif duty.kind == "anchor":
            self._rows.append(
                Rows(
                    self.store,
                    f"duties.{n}.links",
                    "Links, load to anchor",
                    "link",
                    (
                        ("name", "name"),
                        ("what", "is a"),
                        ("limit_N", "marked"),
                        ("marked", "as"),
                        ("legs", "in legs"),
                    ),
                    lambda job: Link(),
                )
            )
        for rows in self._rows:
            self.form.addWidget(rows)
        self._away("Take this duty away", lambda: self._drop(n))

    def _away(self, words: str, act: Callable[[], object]) -> None:
        button = QPushButton(words)
        button.setObjectName("drop duty")
        button.clicked.connect(lambda: act())
        self.form.addWidget(button)

    def _acts_at(self, n: int) -> None:
        """Which socket takes the duty: chosen by itself, or one of those that could."""
        duty = self.store.job.duties[n]
        assembly = self.store.verdict.assembly
        decked = {p.piece for p in assembly.parts if p.decking is not None}  # one place, by its whole deck
        could = [
            s
            for s in assembly.sockets
            if s.kind in duties.TAKES[duty.kind]
            and not (s.kind == "deck" and s.key.split("/", 1)[0] in decked and s.key != duty.socket)
        ]
        if len(could) < 2 and not duty.socket:
            return
        self.form.addWidget(label("Acts at", "head"))
        said = {
            "": "by itself",
            **{
                s.key: f"{s.key.split('/', 1)[1].replace('.', ', ')} of piece {s.key.split('/', 1)[0]}"
                for s in could
            },
        }
        if duty.socket and duty.socket not in said:
            said[duty.socket] = f"{duty.socket} (gone: by itself)"
        taken = Segments(
            list(said.items()),
            2,
            "acts",
            lambda key: self.put(
                f"duties.{n}.socket",
                key,
                f"{duty.title} acts {'by itself' if not key else 'at ' + said[key]}",
            ),
        )
        taken.choose(duty.socket)
        self.form.addWidget(taken)

    def _choose(self, n: int | None) -> None:
        self.chosen = n
        self.refresh()

    def choose_for(self, path: str) -> None:
        """Show the duty a field belongs to."""
        head, *rest = path.split(".")
        self._choose(
            TRAILER
            if head == "duty"
            else int(rest[0])
            if head == "duties" and rest and rest[0].isdigit()
            else self.chosen
        )

    def _add(self, kind: str) -> None:
        if kind == "tow":
            before, self.chosen = self.chosen, TRAILER
            if not self.put("duty.towed", True, "add trailer"):
                self.chosen = before
            return
        rows = self.store.job.duties
        new = MODELS[kind].model_validate({"title": CALLED[kind].lower()})
        before, self.chosen = self.chosen, len(rows)
        if not self.put("duties", (*rows, new), f"add {kind}"):
            self.chosen = before

    def _drop(self, n: int) -> None:
        rows = list(self.store.job.duties)
        if n >= len(rows):
            return  # a second click on a card that is gone already
        gone = rows.pop(n)
        self.put("duties", tuple(rows), f"take away {gone.title}")
