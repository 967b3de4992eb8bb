"""In the way: keep-outs, each with a margin and a reason, and what of the part comes too near."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QPushButton, QSizePolicy, QVBoxLayout

from urial.desk.stations.page import Page, tone
from urial.desk.widgets.fields import Field, clear, label
from urial.desk.widgets.plain import plain
from urial.desk.widgets.segments import Segments
from urial.job.fields import Value
from urial.job.host import Host, Wheeled
from urial.job.survey import CUT, FATE, OUT, Block, Cone, Drum, KeepOut, Spanner, Swing, WheelSweep
from urial.measure.keepout import clashes


def _rear(host: Host) -> float:
    return host.rear_overhang_mm if isinstance(host, Wheeled) else host.left[-1].behind_mm


def _roof(host: Host) -> float:
    return float(getattr(host, "roof_mm", 1200.0))


PRESETS: dict[str, Callable[[Host], Value]] = {
    "Spare wheel": lambda h: Drum(
        name="spare wheel",
        reason="lowered on its winch",
        axis="upright",
        diameter_mm=720,
        long_mm=230,
        behind_mm=_rear(h) - 620,
        height_mm=560,
        out_way="down",
        out_mm=300,
    ),
    "Exhaust": lambda h: Drum(
        name="exhaust",
        reason="hot, and moves on its rubbers",
        axis="along",
        diameter_mm=65,
        long_mm=500,
        behind_mm=_rear(h) - 250,
        across_mm=-430,
        height_mm=400,
        margin_mm=40,
    ),
    "Brake line": lambda h: Drum(
        name="brake line",
        reason="never touched, never heated",
        axis="along",
        diameter_mm=10,
        long_mm=400,
        behind_mm=_rear(h) - 500,
        across_mm=430,
        height_mm=520,
        margin_mm=25,
    ),
    "Box": lambda h: Block(
        name="box",
        reason="bumper skin, battery tray or pannier",
        behind_mm=_rear(h) - 150,
        long_mm=150,
        height_mm=420,
        high_mm=120,
        wide_mm=900,
        margin_mm=10,
    ),
    "Wheel": lambda h: WheelSweep(name="wheel at bump", reason="tyre at full bump and lock", margin_mm=30),
    "Hatch": lambda h: Swing(
        name="hatch",
        reason="must open over the load",
        behind_mm=_rear(h) - 60,
        height_mm=_roof(h) - 60,
        panel_mm=900,
        wide_mm=1200,
    ),
    "Tailgate": lambda h: Swing(
        name="tailgate",
        reason="must fold down flat",
        behind_mm=_rear(h) - 80,
        height_mm=float(getattr(h, "bed_mm", 1100.0)) - 480,
        panel_mm=480,
        wide_mm=1300,
        start_deg=90,
        stop_deg=180,
    ),
    "Door": lambda h: Swing(
        name="door",
        reason="must open past the part",
        hinge="upright",
        behind_mm=_rear(h) - 40,
        across_mm=-650,
        height_mm=500,
        panel_mm=1200,
        wide_mm=900,
        start_deg=0,
        stop_deg=110,
    ),
    "Sensor": lambda h: Cone(
        name="parking sensor",
        reason="it would see the part",
        behind_mm=_rear(h),
        across_mm=350,
        height_mm=560,
        half_deg=25,
        long_mm=500,
        margin_mm=0,
    ),
    "Plate": lambda h: Cone(
        name="number plate",
        reason="must be seen from behind",
        behind_mm=_rear(h),
        height_mm=720,
        half_deg=20,
        long_mm=700,
        mouth_mm=300,
        margin_mm=0,
    ),
    "Lamp": lambda h: Cone(
        name="rear lamp",
        reason="must be seen from behind",
        behind_mm=_rear(h),
        across_mm=620,
        height_mm=820,
        half_deg=30,
        long_mm=500,
        mouth_mm=120,
        margin_mm=0,
    ),
    "Spanner": lambda h: Spanner(
        name="spanner",
        reason="the nut must be reached",
        behind_mm=h.left[0].behind_mm,
        across_mm=h.across("left", h.left[0]) - 60,
        height_mm=h.left[0].height_mm,
        margin_mm=0,
    ),
}


def _form_of(keep: KeepOut) -> tuple[object, ...]:
    """What decides which fields a keep-out shows."""
    return (type(keep), keep.fate, keep.out_way)


class KeepOutPage(Page):
    """What is in the way?"""

    name = "In the way"
    question = "What is in the way?"

    def fill(self) -> None:
        self.hits = label("", "", wrap=True)
        self.column.addWidget(self.hits)
        self.column.addWidget(
            label(
                "Add what nothing may touch; it is hatched in every view and the part is held against it.",
                "quiet",
                wrap=True,
            )
        )
        self.column.addWidget(
            Segments([(name, f"+ {name}") for name in PRESETS], 3, "keep", self._add, checkable=False)
        )
        self.list = QVBoxLayout()
        self.list.setSpacing(0)
        self.column.addLayout(self.list)
        self.form = QVBoxLayout()
        self.column.addLayout(self.form)
        self._made: object = None
        self._opened: object = None

    def refresh(self) -> None:
        keeps = self.store.job.survey.keep_outs
        if self.store.chosen.keep_out is not None and self.store.chosen.keep_out >= len(keeps):
            self.store.chosen.keep_out = len(keeps) - 1 if keeps else None
        shape = (tuple(k.name for k in keeps), self.store.chosen.keep_out)
        if shape != self._made:
            self._made = shape
            clear(self.list)
            for n, keep in enumerate(keeps):
                button = QPushButton(f"{keep.name}  ·  {keep.reason}")
                button.setCheckable(True)
                button.setChecked(n == self.store.chosen.keep_out)
                button.setProperty("segment", True)
                button.setObjectName(f"chosen:{n}")
                button.setToolTip(plain(keep.reason))
                button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
                button.clicked.connect(lambda _=False, k=n: self._choose(k))
                self.list.addWidget(button)
        opened = (
            self.store.chosen.keep_out,
            _form_of(keeps[self.store.chosen.keep_out]) if self.store.chosen.keep_out is not None else None,
            len(keeps),
        )
        if opened != self._opened:
            self._opened = opened
            self._fields()
        found = clashes(self.store.job, self.store.verdict.assembly)
        self.hits.setText(
            self.store.said("\n".join(c.words for c in found))
            if found
            else "Nothing of the part comes too near."
            if keeps and self.store.has_part
            else ""
        )
        self.hits.setVisible(bool(self.hits.text()))
        tone(self.hits, "problem" if found else "quiet")

    def _fields(self) -> None:
        clear(self.form)
        n = self.store.chosen.keep_out
        if n is None:
            return
        keep = self.store.job.survey.keep_outs[n]
        groups = {FATE: keep.fate != "stays", CUT: keep.fate == "cut", OUT: keep.out_way != "stays"}
        for name, info in type(keep).model_fields.items():
            if isinstance(info.json_schema_extra, dict) and groups.get(
                str(info.json_schema_extra.get("group")), True
            ):
                field = Field(self.store, f"survey.keep_outs.{n}.{name}", title=info.title)
                self.form.addWidget(field)
        away = QPushButton("Take it away")
        away.setObjectName("drop keep-out")
        away.clicked.connect(lambda: self._drop(n))
        self.form.addWidget(away)

    def choose_for(self, path: str) -> None:
        """Show the one a field belongs to."""
        head, *rest = path.removeprefix("survey.").split(".")
        if head == "keep_outs" and rest and rest[0].isdigit():
            self.choose(int(rest[0]))

    def choose(self, n: int) -> None:
        """Show one of them."""
        if n != self.store.chosen.keep_out:
            self._choose(n)

    def _choose(self, n: int) -> None:
        self.store.chosen.keep_out = None if n == self.store.chosen.keep_out else n
        self.refresh()
        self.store.pointed.emit()

    def _add(self, name: str) -> None:
        keeps = self.store.job.survey.keep_outs
        self.store.chosen.keep_out = len(keeps)
        if not self.put(
            "survey.keep_outs",
            (*keeps, PRESETS[name](self.store.job.vehicle)),
            f"add keep-out {name.lower()}",
        ):
            self.store.chosen.keep_out = None

    def _drop(self, n: int) -> None:
        keeps = list(self.store.job.survey.keep_outs)
        gone = keeps.pop(n)
        self.store.chosen.keep_out = None
        self.put("survey.keep_outs", tuple(keeps), f"take away keep-out {gone.name}")
