"""Swing: does the trailer clear the vehicle in every turn?"""

from __future__ import annotations

from PySide6.QtWidgets import QPushButton

from urial.desk.scene.swing_view import SwingView
from urial.desk.stations.page import Page, tone
from urial.desk.widgets.fields import form, label
from urial.families._stack import at_front
from urial.job.host import Vehicle
from urial.job.model import Job
from urial.loads.duties import carried
from urial.road import swing

PATHS = (
    "deck.front_mm",
    "running.nose_wide_mm",
    "running.nose_high_mm",
    "running.jack_mm",
    "running.jack_foot_mm",
    "running.pitch_deg",
    "running.roll_deg",
    "running.angle_deg",
)


class SwingPage(Page):
    """Does it clear?"""

    name = "Swing"
    question = "Does it clear in a turn?"
    needs_part = True

    @classmethod
    def fits(cls, job: Job) -> bool:
        return isinstance(job.vehicle, Vehicle) and not at_front(job)

    def fill(self) -> None:
        self.canvas = self.picture = SwingView(self.theme)
        self.picture.let_go.connect(
            lambda angle: self.put("running.angle_deg", angle, f"swing at {angle:.0f}°")
        )
        self.words = label("", "", wrap=True)
        self.column.addWidget(self.words)
        self.open_words = label("", "quiet", wrap=True)
        self.column.addWidget(self.open_words)
        self.tongue = label("", "quiet", wrap=True)
        self.column.addWidget(self.tongue)
        self.take = QPushButton("Take it as the jackknife angle")
        self.take.setObjectName("take angle")
        self.take.clicked.connect(self._take)
        self.column.addWidget(self.take)
        self.column.addWidget(
            label(
                "Drag the trailer round. The tongue's length and the nose are the deck's (coupling to "
                "deck), not the duty's.",
                "quiet",
                wrap=True,
            )
        )
        self.column.addWidget(form(self.store, PATHS, "Sizes"))
        self._touch: float | None = None
        self._asked: object = None
        self._least: float | None = None
        self._opened: swing.Touch | None = None

    def refresh(self) -> None:
        job, assembly = self.store.job, self.store.verdict.assembly
        run = job.running
        items = carried(job, assembly)
        fixed, trailer, ball = swing.bodies(job, assembly, items)
        asked = (
            job.vehicle,
            job.deck,
            job.survey.keep_outs,
            tuple(items),
            ball,
            run.model_copy(update={"angle_deg": 0.0}),
        )
        if asked != self._asked:
            self._asked = asked
            swings = swing.open_bodies(job)
            opened = (
                [swing.first_touch(swings, trailer, ball, s, run.pitch_deg, run.roll_deg) for s in (1, -1)]
                if swings
                else []
            )
            self._opened = min((t for t in opened if t), key=lambda t: t.angle_deg, default=None)
            self.found = [
                swing.first_touch(fixed, trailer, ball, s, run.pitch_deg, run.roll_deg) for s in (1, -1)
            ]
            bumper = [swing.Body(n, b.bounding_box()[:3], b.bounding_box()[3:]) for n, b in fixed[:2]]
            self._least = swing.least_tongue(bumper, trailer[-1], ball)
        touches = [t for t in self.found if t]
        self.picture.show_swing(fixed, trailer, ball, run.angle_deg, run.pitch_deg, run.roll_deg, touches)
        if touches:
            first = min(touches, key=lambda t: t.angle_deg)
            self.words.setText(
                f"First touch at {first.angle_deg:.0f}°: the trailer's {first.trailer} against the "
                f"{first.vehicle}."
                + ("" if first.angle_deg >= 60 else " Backing will jam it; lengthen the tongue.")
            )
            self._touch = first.angle_deg
        else:
            self.words.setText("It turns past 110° to both sides without touching.")
            self._touch = None
        self.open_words.setText(
            f"Standing, the {self._opened.vehicle} meets the trailer's {self._opened.trailer} as it "
            f"opens, from {self._opened.angle_deg:.0f}° on."
            if self._opened
            else ""
        )
        self.open_words.setVisible(self._opened is not None)
        tone(self.words, "problem" if touches and self._touch is not None and self._touch < 60 else "")
        nose = job.deck.front_mm
        self.tongue.setText(
            ""
            if self._least is None
            else "To turn square (90°) past bumper and body the nose must be "
            f"{self.length(self._least)} behind the ball; it is {self.length(nose)}."
        )
        self.take.setEnabled(
            self._touch is not None
            and 10 <= self._touch <= 110
            and abs(job.duty.articulation_deg - self._touch) > 0.5
        )

    def _take(self) -> None:
        if self._touch is not None:
            self.put("duty.articulation_deg", round(self._touch, 1), "jackknife angle from the swing")
