"""The order the tape goes: every box of the survey sheet, numbered, and where it is on the drawing."""

from __future__ import annotations

from dataclasses import dataclass

from urial.geometry.place import Vec
from urial.job import edit
from urial.job.host import SIDES
from urial.job.model import Job
from urial.measure.drawing import dimensions
from urial.measure.forgotten import asked_of

_ANSWERS = {
    "second side": ("second_side_mm",),
    "nuts": ("nut_room_mm",),
    "mouth to pin": ("bar_mouth_to_pin_mm",),
    "pin room": ("pin_room_mm",),
    "heights": ("empty_mm", "loaded_mm"),
    "usable": ("usable_mm",),
    "swings": ("swing_mm",),
}
# groups of the host's own fields in the order one walks: round the wheels, along the frame, then what is
# read off plates and scales
GROUPS = ("Wheels", "Rear frame", "Body", "Linkage", "Masses", "Maker's limits")
OF_A_POINT = ("behind_mm", "height_mm", "across_mm", "hole_mm", "wall_mm")


@dataclass(frozen=True)
class Box:
    """A numbered box: the field it fills, what to write in it, its group, and where on the host it is
    measured, if drawn.
    """

    number: int
    path: str
    title: str
    group: str
    at: Vec | None


def boxes(job: Job) -> tuple[Box, ...]:
    """Every box of the job's host, in the order the tape goes: hard points first, while the datum is
    hooked.
    """
    table = edit.all_specs(job)
    drawn = {d.path: d for d in dimensions(job)}
    out: list[Box] = []

    def add(path: str, title: str, group: str, at: Vec | None = None) -> None:
        d = drawn.get(path)
        if d is not None:
            at = ((d.a[0] + d.b[0]) / 2, (d.a[1] + d.b[1]) / 2, (d.a[2] + d.b[2]) / 2)
        out.append(Box(len(out) + 1, path, title, group, at))

    for side in SIDES:
        for n in range(len(job.vehicle.points(side))):
            for field in OF_A_POINT:
                path = f"vehicle.{side}.{n}.{field}"
                add(
                    path,
                    edit.spec_of(job, path).title.split(", ", 1)[1],
                    f"{side.capitalize()} hole {n + 1}",
                    job.vehicle.place(side, n),
                )
    for group in GROUPS:
        for path, spec in table.items():
            if (
                path.startswith("vehicle.")
                and spec.group == group
                and spec.kind in ("length", "mass", "angle", "number")
            ):
                add(path, spec.title, group)
    for question in asked_of(job.vehicle):
        for name in _ANSWERS[question]:
            path = f"survey.answers.{name}"
            add(path, table[path].title, "What people forget")
    return tuple(out)
