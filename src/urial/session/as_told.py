"""Figures as people tell them: a share of the trailer for the tongue, a coupler so much lower than the
receiver.  Each becomes the figure the job keeps, before it is written.
"""

from __future__ import annotations

import re

from urial import units
from urial.assembly.model import Assembly
from urial.job.edit import EditError
from urial.job.model import Job
from urial.stock import catalogue

TONGUE, COUPLER = "duty.tongue_mass_kg", "duty.coupler_height_mm"
_SHARE = re.compile(r"\s*(?P<share>\d+(?:[.,]\d+)?)\s*(?:%|per\s?cent)\s*", re.IGNORECASE)
_BESIDE = re.compile(
    r"(?:the\s+)?(?:coupler\s+(?:is\s+)?)?(?P<size>.+?)\s+(?P<way>lower|below|under|higher|above|over)"
    r"(?:\s+(?:than\s+)?(?:the\s+)?(?:receiver|bar|hitch)(?:['’]s\s+top)?)?\s*",
    re.IGNORECASE,
)


def figure_of(job: Job, assembly: Assembly | None, path: str, written: str) -> str:
    """What to write at ``path`` for what was told; the same text where it needs nothing.  EditError in a
    sentence where it cannot be told so.
    """
    if path == TONGUE and (found := _SHARE.fullmatch(written)):
        share = float(found["share"].replace(",", "."))
        if not 0 < share < 100:
            raise EditError(f"Tongue weight: {written.strip()} of the trailer cannot be; 4 to 15 % is usual.")
        return f"{share / 100 * job.duty.trailer_mass_kg:.6g} kg"
    if path == COUPLER and (found := _BESIDE.fullmatch(written)):
        top = receiver_top(assembly)
        if top is None:
            raise EditError(
                "Coupler height: there is no receiver yet to be lower than; give it over the ground."
            )
        try:
            off = units.parse(found["size"], "length", job.units)
        except units.UnitError as error:
            raise EditError(f"Coupler height: {error}") from None
        down = found["way"].lower() in ("lower", "below", "under")
        return f"{top - off if down else top + off:.6g} mm"
    return written


def receiver_top(assembly: Assembly | None) -> float | None:
    """Ground to the top face of the bar in the first receiver, empty, mm; None where there is none."""
    bore = next((s for s in assembly.sockets if s.kind == "receiver"), None) if assembly else None
    if assembly is None or bore is None or "mouth" not in assembly.places:
        return None
    return assembly.places["mouth"][2] + catalogue.receiver(bore.size).bar / 2


__all__ = ["figure_of", "receiver_top"]
