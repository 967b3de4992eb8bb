"""Stance: what all of it does to the vehicle on its wheels."""

from __future__ import annotations

from PySide6.QtWidgets import QPushButton

from urial.desk.scene.stance_view import StanceView
from urial.desk.stations.page import Page, tone
from urial.desk.widgets.fields import Field, label
from urial.families._stack import at_front
from urial.families.ball_mount import BallMount, above_bar, levelled
from urial.job.host import Vehicle
from urial.job.model import Job
from urial.job.survey import Cone
from urial.loads.duties import mass_places, mouth_of
from urial.measure.keepout import clashes
from urial.road.stance import stance


class StancePage(Page):
    """How does it stand?"""

    name = "Stance"
    question = "How does it stand?"
    needs_part = True

    @classmethod
    def fits(cls, job: Job) -> bool:
        return isinstance(job.vehicle, Vehicle) and not at_front(job)

    def fill(self) -> None:
        self.canvas = self.picture = StanceView(self.theme)
        self.figures = label("", "mono", wrap=True)
        self.column.addWidget(self.figures)
        self.level = label("", "", wrap=True)
        self.column.addWidget(self.level)
        self.mend = QPushButton()
        self.mend.setObjectName("level it")
        self.mend.clicked.connect(self._level)
        self.column.addWidget(self.mend)
        self.limits = label("", "mono", wrap=True)
        self.column.addWidget(label("Against the maker's limits", "head"))
        self.column.addWidget(self.limits)
        self.seen = label("", "", wrap=True)
        self.column.addWidget(self.seen)
        self.column.addWidget(label("What it is reckoned from", "head"))
        for path in ("vehicle.squat_mm_per_100kg", "duty.coupler_height_mm", "running.jack_foot_mm"):
            self.column.addWidget(Field(self.store, path))
        self._drop = 0.0

    def refresh(self) -> None:
        job, verdict = self.store.job, self.store.verdict
        hung = [
            (kg, -at[0])
            for duty in job.duties
            for kg, at in mass_places(duty, mouth_of(job, verdict.assembly, duty))
        ]
        s = stance(job, verdict.assembly, hung)
        self.picture.length, self.picture.mass = self.length, self.mass
        self.picture.show_stance(job, verdict.assembly, s)
        self.figures.setText(
            f"front axle   {self.mass(s.front_kg)} ({s.front_change_percent:+.0f} %)\nrear axle    "
            f"{self.mass(s.rear_kg)}\nsquat        {self.length(s.squat_mm)}\n"
            f"ball, empty  {self.length(s.ball_empty_mm)}\nball, loaded "
            f"{self.length(s.ball_loaded_mm)}\ndeparture    {s.departure_deg:.0f}°\nbreakover    "
            f"{s.breakover_deg:.0f}°\n"
            f"under chains {self.length(s.under_chain_mm)}\nunder jack   {self.length(s.under_jack_mm)}"
        )
        self._drop = s.drop_change_mm
        off = abs(self._drop)
        towed = job.duty.towed
        if not towed or off < 15:
            self.level.setText("The trailer stands level." if towed else "")
            self.mend.hide()
        else:
            self.level.setText(
                f"The trailer stands nose {'up' if self._drop > 0 else 'down'} by {self.length(off)}."
            )
            self._offer(job)
        tone(self.level, "problem" if towed and off >= 50 else "quiet")
        rows = [c for c in verdict.checks if c.kind == "rating"]
        names = [f"{'SHORT ' if c.short else ''}{c.name}" for c in rows]
        wide = max(map(len, names), default=0)
        self.limits.setText(
            "\n".join(
                f"{name:<{wide}} {100 * c.utilisation:3.0f} %" for name, c in zip(names, rows, strict=True)
            )
        )
        hidden = [c for c in clashes(job, verdict.assembly) if isinstance(c.keep, Cone)]
        cones = [k.name for k in job.survey.keep_outs if isinstance(k, Cone)]
        self.seen.setText(
            "Hidden by the part: " + ", ".join(sorted({c.keep.name for c in hidden})) + "."
            if hidden
            else f"Still seen: {', '.join(cones)}."
            if cones
            else "Plate and lamps: draw what must be seen at Measure, In the way."
        )
        tone(self.seen, "problem" if hidden else "quiet")

    def _offer(self, job: Job) -> None:
        """What the ball mount could do about it."""
        piece = job.piece("ball-mount")
        if piece is None or not isinstance(piece.values, BallMount):
            self.mend.hide()
            return
        mount, off = piece.values, abs(self._drop)
        best = levelled(mount, self._drop)
        left = abs(above_bar(mount) - above_bar(best) - self._drop)
        if mount.shape == "holes":
            words = f"Hole {best.hole:.0f} is nearest to level"
        else:
            words = f"{'More' if self._drop > 0 else 'Less'} drop by {self.length(off)} levels it"
        self.mend.setText(words if left < 1 else f"{words}, {self.length(left)} off")
        self.mend.setVisible(best != mount)

    def _level(self) -> None:
        """Set the ball mount as near to level as it goes."""
        piece = self.store.job.piece("ball-mount")
        if piece is not None and isinstance(piece.values, BallMount):
            self.put(f"stack.{piece.id}", levelled(piece.values, self._drop), "level the trailer")
