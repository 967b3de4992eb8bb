"""Load: trailer, tongue weight and its school, what it does to the axles, and every load case with its reason."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QPushButton, QSizePolicy, QWidget

from urial import units
from urial.assembly.model import BuildError
from urial.desk.stations.base import Station
from urial.desk.store import Store
from urial.desk.theme import Theme, font
from urial.desk.widgets.fields import form, label
from urial.job import edit
from urial.loads import towing
from urial.road import balance
from urial.strength.verdict import ball_overhang

TRAILER = ("trailer_name", "trailer_mass_kg", "tongue_mass_kg", "school", "coupler_height_mm", "axle_behind_mm", "bed_length_mm", "articulation_deg", "air_suspension")


class TongueScale(QWidget):
    """Tongue weight on a scale of percent, with both schools' bands and the 4 % floor."""

    def __init__(self, store: Store, theme: Theme) -> None:
        super().__init__()
        self.store, self.theme = store, theme
        self.setFixedHeight(theme.px(74))
        self.setAccessibleName("Tongue weight in percent of the trailer")
        store.changed.connect(self.update)

    def paintEvent(self, _: QPaintEvent) -> None:
        p = QPainter(self)
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        t, pal, px = self.theme, self.theme.palette, self.theme.px
        advice = towing.tongue_advice(self.store.job)
        left, wide = px(6), self.width() - px(12)
        top, high = px(26), px(16)

        def x(percent: float) -> float:
            return left + wide * min(max(percent, 0), 20) / 20

        p.fillRect(QRectF(left, top, wide, high), QColor(pal.well))
        p.fillRect(QRectF(left, top, x(4) - left, high), QColor(t.ramp(1.05)[0] * 255, t.ramp(1.05)[1] * 255, t.ramp(1.05)[2] * 255))
        for low, upper, school in ((4, 8, "4-8"), (10, 15, "10-15")):
            box = QRectF(x(low), top, x(upper) - x(low), high)
            chosen = self.store.job.duty.school == school
            p.fillRect(box, QColor(pal.steel) if chosen else QColor(pal.line))
            if chosen:
                p.setPen(QPen(QColor(pal.ink), 1.5))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawRect(box)
        p.setPen(QColor(pal.quiet))
        p.setFont(font(t, 11, mono=True))
        for tick in (0, 4, 8, 10, 15, 20):
            p.drawText(QRectF(x(tick) - 20, top + high + 2, 40, px(16)), Qt.AlignmentFlag.AlignHCenter, str(tick))
        here = x(advice.percent)
        p.setPen(QPen(QColor(pal.brick if advice.warn else pal.touch), px(3)))
        p.drawLine(QPointF(here, top - 5), QPointF(here, top + high + 5))
        p.setFont(font(t, 15, bold=True, mono=True))
        text = f"{advice.percent:.1f} %"
        w = p.fontMetrics().horizontalAdvance(text)
        p.drawText(QPointF(min(max(here - w / 2, left), left + wide - w), top - px(9)), text)


class Load(Station):
    """What it will carry, and what that does."""

    name = "Load"
    view = "side"
    wide = True
    arrows = True

    def fill(self) -> None:
        self.column.addWidget(label("What does it tow?", "title"))
        self.column.addWidget(form(self.store, [f"duty.{n}" for n in TRAILER[:4]]))
        self.scale = TongueScale(self.store, self.theme)
        self.column.addWidget(self.scale)
        self.advice = label("", "quiet", wrap=True)
        self.column.addWidget(self.advice)
        self.column.addWidget(label("10–15 % keeps long, fast or softly sprung rigs straight (default). 4–8 % suits short, balanced trailers at lower speed with a maker's hard limit. Never below 4 %.", "quiet", wrap=True))
        self.column.addWidget(label("On the vehicle", "head"))
        self.axles = label("", "mono", wrap=True)
        self.column.addWidget(self.axles)
        self.column.addWidget(label("Load cases", "head"))
        self.forces = label("", "quiet", wrap=True)
        self.column.addWidget(self.forces)
        self.cases = QListWidget()
        self.cases.setObjectName("cases")
        self.cases.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
        self.cases.setFixedHeight(self.theme.px(190))
        self.cases.currentRowChanged.connect(self._picked)
        self.column.addWidget(self.cases)
        self.reason = label("", "quiet", wrap=True)
        self.column.addWidget(self.reason)
        self.change = QPushButton("Change a factor of this case…")
        self.change.clicked.connect(self.change_factor)
        self.column.addWidget(self.change)
        self.column.addWidget(form(self.store, [f"duty.{n}" for n in TRAILER[4:]], "More of the trailer"))

    def refresh(self) -> None:
        job, verdict = self.store.job, self.store.verdict
        show = lambda kg: units.show(kg, "mass", job.units)  # noqa: E731
        advice = towing.tongue_advice(job)
        self.advice.setText(advice.words)
        v, d = job.vehicle, job.duty
        over = ball_overhang(job, verdict.assembly)
        a = balance.axle_loads(v.wheelbase_mm, over, v.front_kg, v.rear_kg, d.tongue_mass_kg)
        squat = v.squat_mm_per_100kg * d.tongue_mass_kg / 100
        ball_z = verdict.assembly.places["ball"][2]
        length = lambda mm: units.show(mm, "length", job.units, job.nearest)  # noqa: E731
        slope = d.coupler_height_mm - (ball_z - squat)
        level = "level" if abs(slope) < 15 else f"nose {'up' if slope < 0 else 'down'} by {length(abs(slope))}: {'more' if slope < 0 else 'less'} drop levels it"
        self.axles.setText(f"front {show(a.front_kg)} ({a.front_change_percent:+.0f} %)\nrear  {show(a.rear_kg)} of {show(v.rear_rating_kg)}\n"
                           f"ball  {length(ball_z - squat)} up, loaded\nsquat {length(squat)}\ntrailer {level}")  # fmt: skip
        c = towing.coupling(job)
        force = lambda kn: units.show(kn * 1000, "force", job.units)  # noqa: E731
        self.forces.setText(f"Coupling values (UN R55): along the road D {force(c.D)}, bounce V {force(c.V)}, standing S {force(c.S)}.")
        self.cases.blockSignals(True)
        self.cases.clear()
        for case in verdict.cases:
            f = next(iter(case.loads.values()))
            size = sum(x * x for x in f[:3]) ** 0.5
            self.cases.addItem(QListWidgetItem(f"{case.title}{'  (changed)' if case.changed else ''}   {units.show(size, 'force', job.units)}"))
        row = [c.id for c in verdict.cases].index(self.store.shown_case())
        self.cases.setCurrentRow(row)
        self.cases.blockSignals(False)
        case = verdict.cases[row]
        self.reason.setText(f"{case.reason} Source: {case.source}.")

    def _picked(self, row: int) -> None:
        if row >= 0:
            self.store.select_case(self.store.verdict.cases[row].id)

    def change_factor(self) -> None:
        """Ask for a factor of the shown case's policy row; empty text puts the policy's own back."""
        from PySide6.QtWidgets import QInputDialog

        shown = self.store.shown_case()
        row = next((r for r in towing.policy() if r.id == shown), None) or next(r for r in towing.policy() if r.id == "chain")
        names = list(row.factors)
        name, ok = QInputDialog.getItem(self, "Change a factor", f"Which factor of “{row.title}”?", [f"{n} = {towing.factor(self.store.job, row, n):g} (policy {row.factors[n]:g})" for n in names], 0, False)
        if not ok:
            return
        key = next(k for k in names if name.startswith(k + " "))
        text, ok = QInputDialog.getText(self, "Change a factor", f"{row.title}, {key}: a number, or nothing for the policy's {row.factors[key]:g}", text=f"{towing.factor(self.store.job, row, key):g}")
        if ok:
            self.set_factor(row.id, key, text)

    def set_factor(self, row: str, key: str, text: str) -> None:
        """Take a factor as typed."""
        factors = dict(self.store.job.duty.factors)
        factors.pop(f"{row}/{key}", None)
        try:
            if text.strip():
                factors[f"{row}/{key}"] = units.parse(text, "number")
            self.store.put_job(edit.put(self.store.job, "duty.factors", factors), "duty.factors", f"factor {row} {key} {text.strip() or 'as the policy'}")
        except (units.UnitError, edit.EditError, BuildError) as error:
            self.reason.setText(str(error))

    def open_words(self) -> tuple[str, bool]:
        limits = sum(c.short for c in self.store.verdict.checks if c.kind == "rating")
        if limits:
            return f"{limits} over limit", True
        return ("tongue weight", True) if towing.tongue_advice(self.store.job).warn else ("clear", False)
