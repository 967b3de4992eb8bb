"""Weigh: tongue weight from a jack on a scale, a beam, or a weighbridge; kept with its date; the scale
read live.
"""

from __future__ import annotations

from datetime import date

from PySide6.QtWidgets import QVBoxLayout

from urial import units
from urial.desk.scene.weigh_view import WeighView
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import Field, clear, label
from urial.desk.widgets.instrument import LiveReading
from urial.job.duty import Weighing
from urial.job.host import Post, Tractor
from urial.job.model import Job
from urial.job.origin import Origin
from urial.road.weighing import weigh
from urial.services.lines import SCALE
from urial.services.simulated import Simulated, scale_line

OF = {
    "jack": ("reading_kg", "jack_behind_mm", "axle_mm"),
    "beam": ("reading_kg", "coupler_mm", "scale_mm"),
    "bridge": ("alone_front_kg", "alone_rear_kg", "hitched_front_kg", "hitched_rear_kg", "trailer_axles_kg"),
}
HOW = {
    "jack": "Trailer level, wheels chocked. Scale under the jack or under the coupling; write how far "
    "the jack is behind the coupling.",
    "beam": "A stout beam on a fixed support at one end and a small scale at the other, the coupler "
    "between: the scale carries only its share.",
    "bridge": "Each axle of the vehicle alone, then hitched, and the trailer's axles, all on the same "
    "bridge.",
}


class WeighPage(Page):
    """What does the tongue weigh?"""

    name = "Weigh"
    question = "What does the tongue weigh?"

    @classmethod
    def fits(cls, job: Job) -> bool:
        return not isinstance(job.vehicle, (Post, Tractor))

    def fill(self) -> None:
        self.canvas = self.picture = WeighView(self.theme)
        self.live = LiveReading(
            "scale",
            SCALE,
            lambda: Simulated(value=186.0, line=scale_line, noise=0.2),
            lambda kg: f"The scale reads {self.mass(kg)}.",
            pattern=True,
        )
        self.column.addWidget(self.live)
        self.column.addLayout(
            self.row(
                ("+ weighing", "add weighing", self._add),
                ("Take reading", "take reading", self._take),
                ("Into the duty", "use weighing", self._use),
            )
        )
        self.result = label("", "", wrap=True)
        self.column.addWidget(self.result)
        self.form = QVBoxLayout()
        self.column.addLayout(self.form)
        self.kept = label("", "quiet", wrap=True)
        self.column.addWidget(self.kept)
        self._made: object = None

    def refresh(self) -> None:
        rows = self.store.job.weighings
        shape = (len(rows), rows[-1].method if rows else "")
        if shape != self._made:
            self._made = shape
            clear(self.form)
            if rows:
                n = len(rows) - 1
                for name in ("date", "method"):
                    self.form.addWidget(
                        Field(self.store, f"weighings.{n}.{name}", title=Weighing.model_fields[name].title)
                    )
                self.form.addWidget(label(HOW[rows[n].method], "quiet", wrap=True))
                for name in (*OF[rows[n].method], "sigma_kg"):
                    self.form.addWidget(
                        Field(self.store, f"weighings.{n}.{name}", title=Weighing.model_fields[name].title)
                    )
        self.result.setText(self._words(rows[-1], len(rows) - 1) if rows else "No weighing yet.")
        self.picture.length, self.picture.mass = self.length, self.mass
        self.picture.show_weighing(
            rows[-1] if rows else None, self._words(rows[-1], len(rows) - 1) if rows else ""
        )
        earlier = [f"{w.date}: {self._words(w, n)}" for n, w in enumerate(rows[:-1])]
        self.kept.setText("Earlier\n" + "\n".join(earlier) if earlier else "")

    def _words(self, w: Weighing, number: int) -> str:
        try:
            found = weigh(w)
        except ValueError as error:
            return str(error)
        words = "SIMULATED: " if self._origin(number).how == "simulated" else ""
        words += f"Tongue {self.mass(found.tongue_kg)} ± {self.mass(2 * found.tongue_sigma)}"
        if found.trailer_kg is not None and found.trailer_sigma is not None:
            words += f", trailer {self.mass(found.trailer_kg)} ± {self.mass(2 * found.trailer_sigma)}"
            return words + f": {units.figure(100 * found.tongue_kg / found.trailer_kg, 1)} %."
        return (
            words + f": {units.figure(100 * found.tongue_kg / self.store.job.duty.trailer_mass_kg, 1)} % "
            "of the trailer as written."
        )

    def _add(self) -> None:
        last = self.store.job.weighings[-1] if self.store.job.weighings else Weighing()
        new = Weighing(date=date.today().isoformat(), method=last.method, sigma_kg=last.sigma_kg)
        self.put("weighings", (*self.store.job.weighings, new), "add weighing")

    def _take(self) -> None:
        if self.live.value is None:
            self.say("There is no reading to take; connect the scale first.")
            return
        if not self.store.job.weighings:
            self._add()
        rows = self.store.job.weighings
        if rows[-1].method == "bridge":
            self.say("A weighbridge is not read through the port; type its slips in.")
            return
        self.put(
            "weighings",
            (*rows[:-1], rows[-1].model_copy(update={"reading_kg": round(max(self.live.value, 0.0), 1)})),
            "scale reading",
            self.live.origin(),
        )

    def _use(self) -> None:
        """The newest weighing becomes the duty's tongue weight (and trailer mass, from a weighbridge)."""
        if not self.store.job.weighings:
            self.say("There is no weighing to use yet.")
            return
        try:
            found = weigh(self.store.job.weighings[-1])
        except ValueError as error:
            self.say(str(error))
            return
        duty = self.store.job.duty
        data = {
            **{k: getattr(duty, k) for k in type(duty).model_fields},
            "tongue_mass_kg": round(found.tongue_kg, 1),
        }
        if found.trailer_kg is not None:
            data["trailer_mass_kg"] = round(found.trailer_kg, 1)
        try:
            new = type(duty).model_validate(data)
        except ValueError:
            self.say(
                f"A tongue weight of {self.mass(found.tongue_kg)} cannot be that of this trailer; "
                "weigh again, or correct the trailer's mass."
            )
            return
        self.put("duty", new, "tongue weight as weighed", self._origin(len(self.store.job.weighings) - 1))

    def _origin(self, number: int) -> Origin:
        """Where what a weighing says comes from: simulated if one of its readings is."""
        mine = [o for path, o in self.store.job.origins.items() if path.startswith(f"weighings.{number}.")]
        made_up = next((o for o in mine if o.how == "simulated"), None)
        when = self.store.job.weighings[number].date
        return made_up or Origin(how="measured", by=self.store.job.survey.by or "weighing", on=when)
