"""Trailer: its mass, its tongue weight and the school it is judged by."""

from __future__ import annotations

from urial import families
from urial.desk.stations.page import Page
from urial.desk.widgets.fields import form, label
from urial.desk.widgets.tongue import TongueScale
from urial.job.host import Quad, Trailer, TwoWheeler, Vehicle
from urial.job.model import Job
from urial.loads import thresholds, towing
from urial.mates.coupling import TRAILERS

FIRST = ("trailer_name", "trailer_mass_kg", "tongue_mass_kg", "school")
MORE = (
    "hitch",
    "coupler_height_mm",
    "axle_behind_mm",
    "bed_length_mm",
    "middle_height_mm",
    "permissible_kg",
    "towing_kg",
    "articulation_deg",
    "air_suspension",
    "chains_judged",
)


def can_tow(job: Job) -> bool:
    """Does the kind of host tow, or is it a trailer whose own drawbar is made?"""
    if isinstance(job.vehicle, Trailer):
        return any(set(TRAILERS) & set(families.families()[p.family].offers) for p in job.stack)
    return isinstance(job.vehicle, (Vehicle, Quad, TwoWheeler))


class TrailerForm(Page):
    """The trailer as one of the duties: shown where its row is chosen."""

    def fill(self) -> None:
        self.column.addWidget(form(self.store, [f"duty.{n}" for n in FIRST]))
        self.scale = TongueScale(self.theme)
        self.column.addWidget(self.scale)
        self.advice = label("", "quiet", wrap=True)
        self.column.addWidget(self.advice)
        self.column.addWidget(
            label(
                "10–15 % keeps long, fast or softly sprung rigs straight (default). 4–8 % suits "
                "short, balanced trailers at lower speed with a maker's hard limit. Never below 4 %.",
                "quiet",
                wrap=True,
            )
        )
        self.forces = label("", "quiet", wrap=True)
        self.column.addWidget(self.forces)
        self.column.addWidget(form(self.store, [f"duty.{n}" for n in MORE], "More of the trailer"))

    def refresh(self) -> None:
        job = self.store.job
        advice = towing.tongue_advice(job)
        self.scale.show_value(advice.percent, job.duty.school, advice.warn)
        self.advice.setText(self.store.said(advice.words))
        known = job.duty.towed and self.store.has_part
        self.forces.setVisible(known)
        if known:
            c = towing.coupling(job)
            self.forces.setText(
                f"Coupling values (UN R55): along the road D {self.force(c.D * 1000)}, bounce V "
                f"{self.force(c.V * 1000)}, standing S {self.force(c.S * 1000)}."
                + "".join(f"\n{self.store.said(words)}" for words in thresholds.sides(job))
            )
