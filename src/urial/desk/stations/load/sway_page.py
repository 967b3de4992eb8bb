"""Sway: how fast may this very load be towed?"""

from __future__ import annotations

from PySide6.QtWidgets import QPushButton

from urial import units
from urial.desk.scene.sway_view import SwayView
from urial.desk.stations.page import Page, tone
from urial.desk.widgets.fields import form, label
from urial.job import origin
from urial.job.host import TwoWheeler, Vehicle
from urial.job.model import Job
from urial.prove.ratings import ball_overhang
from urial.road import sway
from urial.road.lean import SIDE_G, lean

SPEEDS = [float(s) for s in range(10, 151, 5)]
MOVED = 500.0  # mm the cargo is moved back for the second curve

TYRES = ("running.grip_per_rad", "running.trailer_grip_per_rad")


class SwayPage(Page):
    """How fast?"""

    name = "Sway"
    question = "How fast may it go?"

    @classmethod
    def fits(cls, job: Job) -> bool:
        return isinstance(job.vehicle, (Vehicle, TwoWheeler))

    def fill(self) -> None:
        self.canvas = self.picture = SwayView(self.theme)
        self.words = label("", "", wrap=True)
        self.column.addWidget(self.words)
        self.moved = label("", "quiet", wrap=True)
        self.column.addWidget(self.moved)
        self.play = QPushButton("Play the steering jerk")
        self.play.setObjectName("play sway")
        self.play.setProperty("main", True)
        self.play.clicked.connect(lambda: self.start_jerk())
        self.column.addWidget(self.play)
        self.sizes = form(
            self.store,
            ("running.speed_kmh", "running.jerk_deg", "running.grip_per_rad", "running.trailer_grip_per_rad"),
            "Speed and tyres",
        )
        self.small = label(
            "Linear single-track model: small angles, level road, no hitch damper, no brakes. Below "
            "10 % damping a gust sets it swinging for long; at 0 it swings by itself. Planning "
            "values: wind, load and tyres on the day decide.",
            "quiet",
            wrap=True,
        )
        self.column.addWidget(self.sizes)
        self.column.addWidget(self.small)
        self._asked: object = None

    def _without(self) -> None:
        """What can be said where the model does not apply: two wheels, or no hitch yet."""
        job, host = self.store.job, self.store.job.vehicle
        self.moved.hide()
        self._asked = None
        if not isinstance(host, TwoWheeler):
            self.words.setText(
                "Sway is reckoned once a hitch is started on a vehicle with frame rails: its ball is "
                "the pivot."
            )
            return
        hole = max((h for h in (*host.left, *host.right) if h.bolted), key=lambda h: h.behind_mm)
        found = lean(
            host,
            hole.height_mm,
            max(host.rear_overhang_mm, hole.behind_mm),
            job.duty.tongue_mass_kg,
            job.duty.trailer_mass_kg,
        )
        self.words.setText(
            f"No verdict for two wheels. Plainly: the trailer is {100 * found.mass_ratio:.0f} % of "
            f"the machine; {self.mass(job.duty.tongue_mass_kg)} at {self.length(hole.height_mm)} "
            f"pushed sideways with {SIDE_G:g} g "
            f"rolls it with {units.show(found.moment_Nmm, 'moment', job.units)}, a lean of "
            f"{units.figure(found.lean_deg, 1)}°; the front wheel loses {found.steer_percent:.0f} %. "
            "A high hitch rolls the machine: keep it low, near the axle, centred, and the mass small, "
            "and ask the maker whether it may tow at all."
        )
        tone(self.words, "")

    def refresh(self) -> None:
        job = self.store.job
        modelled = self.store.has_part and isinstance(job.vehicle, Vehicle)
        self.shows_canvas = modelled
        for widget in (self.play, self.sizes, self.small):
            widget.setVisible(modelled)
        if not modelled:
            self._without()
            return
        over = ball_overhang(self.store.verdict.assembly)
        rig = sway.rig_of(job, over)
        asked = (rig, job.deck)
        if asked != self._asked:
            self._asked = asked
            self.now = sway.sway(rig, SPEEDS)
            self.aft: sway.Sway | None = None
            if job.deck.cargo:
                back = tuple(
                    c.model_copy(update={"front_mm": min(c.front_mm + MOVED, job.deck.long_mm - c.long_mm)})
                    for c in job.deck.cargo
                )
                self.aft = sway.sway(
                    sway.rig_of(job, over, job.deck.model_copy(update={"cargo": back})), SPEEDS
                )
        curves = [("as loaded", self.now.damping, "ink")]
        if self.aft is not None:
            curves.append((f"cargo {self.length(MOVED)} back", self.aft.damping, "ochre"))
        marks = [
            (s, w)
            for s, w in (
                (self.now.slow_down_kmh, "10 %"),
                (self.now.critical_kmh, "critical"),
                (self.now.divergence_kmh, "folds"),
            )
            if s is not None and s <= SPEEDS[-1]
        ]
        self.picture.show_sway(SPEEDS, curves, marks, job.running.speed_kmh, job.units)
        ten, critical = self.now.slow_down_kmh, self.now.critical_kmh
        says = (
            f"Damping falls to 10 % at {ten:.0f} km/h"
            if ten is not None
            else "Damping stays above 10 % to 200 km/h"
        )
        says += f", and to nothing at {critical:.0f} km/h." if critical is not None else "."
        if self.now.divergence_kmh is not None:
            says += (
                f" At {self.now.divergence_kmh:.0f} km/h the vehicle itself turns round: too much "
                "weight on its tail."
            )
        guessed = [p for p in TYRES if origin.is_assumed(job, p)]
        if guessed:  # a promise rests on what somebody knows
            rig = sway.rig_of(job, over, grip=sway.SOFT)
            soft = sway.sway(rig, SPEEDS)
            slow = soft.slow_down_kmh
            said = f"at {slow:.0f} km/h" if slow is not None else "above 200 km/h"
            says = (
                "Nobody knows these tyres: their stiffness is a starting value. With soft or worn ones "
                f"damping falls to 10 % {said}; go by that. As assumed: {says[0].lower()}{says[1:]}"
            )
        (here,) = sway.damping(rig, [job.running.speed_kmh])
        if here is not None:
            says += f" At {job.running.speed_kmh:.0f} km/h it is {100 * here:.0f} %."
        self.words.setText(
            f"{self.store.said(says)} Reckoned with the "
            f"{'deck as it is loaded' if job.deck.cargo else 'masses of the duty, since the deck is bare'}."
        )
        tone(self.words, "problem" if here is not None and here < 0.1 else "")
        if self.aft is not None:
            a = self.aft.slow_down_kmh
            self.moved.setText(
                self.store.said(f"With the cargo {self.length(MOVED)} farther back: 10 % at {a:.0f} km/h.")
                if a is not None
                else f"With the cargo {self.length(MOVED)} farther back it stays above 10 %."
            )
        self.moved.setVisible(self.aft is not None)

    def start_jerk(self, held_at_s: float | None = None) -> None:
        """Play the jerk, or show it held at a moment."""
        job = self.store.job
        rig = sway.rig_of(job, ball_overhang(self.store.verdict.assembly))
        self.picture.play(rig, sway.jerk(rig, job.running.speed_kmh, job.running.jerk_deg))
        if held_at_s is not None:
            self.picture.stop()
            self.picture.time = held_at_s
