"""What people forget, answered at Measure, and what the answers say against the part."""

from __future__ import annotations

from collections.abc import Iterator

from urial.assembly.model import HOST, Assembly, Bolts, Joint
from urial.fit.model import Finding, Kind
from urial.geometry.place import Vec
from urial.job.model import Job
from urial.measure.forgotten import forgotten

LEAST = 30.0
"""Room for nut, washer and a spanner, mm."""
KINDS: dict[str, Kind] = {
    "nuts": "access",
    "pin room": "access",
    "mouth to pin": "hole",
    "usable": "access",
    "swings": "clash",
}
"""Which answers bear on putting it together, and as what."""


def asked_findings(job: Job, assembly: Assembly) -> Iterator[Finding | str]:
    """Answers that speak against the part: no hand behind a nut, no room beside the mouth, a bar's pin
    elsewhere.
    """
    for item in forgotten(job, assembly):
        kind = KINDS.get(item.id)
        if kind is None or item.state != "mind" or (item.id == "nuts" and not _narrow(job, assembly)):
            continue
        yield Finding(
            f"asked {item.id}",
            kind,
            ("host",),
            _where(assembly, item.id),
            item.off_mm,
            item.words,
            advice="The answer is at Measure, Forgotten.",
        )


def _narrow(job: Job, assembly: Assembly) -> bool:
    """Is the room behind the holes too little for the nuts there are? Who can hold them is asked hole by
    hole.
    """
    room = job.survey.answers.nut_room_mm
    return room is not None and room < LEAST and bool(_nuts(assembly))


def _nuts(assembly: Assembly) -> list[Joint]:
    """Joints to the host that take nuts."""
    pieces = {p.piece for p in assembly.parts if p.hardware and "nut" in p.name.split()}
    return [
        j
        for j in assembly.joints
        if isinstance(j.how, Bolts) and j.b == HOST and j.a.split("/", 1)[0] in pieces
    ]


def _where(assembly: Assembly, item: str) -> Vec:
    """Where on the drawing an answer belongs."""
    if item == "nuts":
        return _nuts(assembly)[0].place.o
    bore = next((s for s in assembly.sockets if s.kind == "receiver"), None)
    if bore is not None:
        return bore.place.o
    return next((s.place.o for s in assembly.sockets), (0.0, 0.0, 0.0))


__all__ = ["asked_findings"]
