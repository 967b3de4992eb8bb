"""The small chart for the plate on the part: the most it may carry, what it stands for, the caution."""

from __future__ import annotations

import io
from itertools import pairwise

from reportlab.pdfgen.canvas import Canvas

from urial import units
from urial.job.model import Job
from urial.papers.pdf import BOLD, FONT, GREY, INK, MM, PALE, SLATE, _fonts, plain, wrapped
from urial.prove.verdict import CAUTION
from urial.prove.whatif import Envelope, ticks

WIDE, HIGH = 100.0, 80.0
"""Size of the plate, mm."""


def plate_chart(job: Job, e: Envelope) -> bytes:
    """One page of the plate's size, PDF."""
    _fonts()
    buffer = io.BytesIO()
    c = Canvas(buffer, pagesize=(WIDE * MM, HIGH * MM), invariant=1)
    c.setTitle(plain(f"{job.title}: the most it may carry"))
    kind: units.Kind = "mass" if e.unit == "kg" else "force"
    turned = "degrees" in e.across

    def across(value: float) -> str:
        return f"{value:.0f}°" if turned else units.show(value, "length", job.units, job.nearest)

    def upwards(value: float) -> str:
        return units.show(value, kind, job.units)

    c.setFillColor(INK)
    c.setFont(BOLD, 9)
    c.drawString(5 * MM, (HIGH - 8) * MM, plain(job.title)[:60])
    c.setFont(FONT, 7)
    c.drawString(5 * MM, (HIGH - 12) * MM, plain(f"Most: {e.upwards}, against {e.across}"))
    left, low, wide, high = 20 * MM, 24 * MM, 72 * MM, 41 * MM
    first, last, top = float(e.values[0]), float(e.values[-1]), 1.1 * float(e.most.max())

    def at(x: float, y: float) -> tuple[float, float]:
        return left + wide * (x - first) / (last - first), low + high * y / top

    c.setStrokeColor(PALE)
    c.setFont(FONT, 6.5)
    c.setFillColor(GREY)
    for y in ticks(0.0, top):
        c.line(*at(first, y), *at(last, y))
        c.drawRightString(left - 2 * MM, at(first, y)[1] - 2, plain(upwards(y)))
    for x in ticks(first, last):
        c.line(*at(x, 0), *at(x, top))
        c.drawCentredString(at(x, 0)[0], low - 4 * MM, plain(across(x)))
    c.setStrokeColor(INK)
    c.setLineWidth(1.4)
    points = [at(float(x), float(y)) for x, y in zip(e.values, e.most, strict=True)]
    for a, b in pairwise(points):
        c.line(*a, *b)
    if first <= e.now[0] <= last:
        c.setFillColor(SLATE)
        c.circle(*at(*e.now), 2.2, stroke=0, fill=1)
    c.setFillColor(INK)
    c.setFont(FONT, 5.6)
    y = low - 9 * MM
    said = f"The dot is what is asked: {upwards(e.now[1])} at {across(e.now[0])}. {CAUTION}"
    for line in wrapped(said, FONT, 5.6, (WIDE - 10) * MM):
        c.drawString(5 * MM, y, line)
        y -= 6.6
    c.rect(1 * MM, 1 * MM, (WIDE - 2) * MM, (HIGH - 2) * MM)
    c.showPage()
    c.save()
    return buffer.getvalue()
