"""The part from three sides, dimensioned, with its marks."""

from __future__ import annotations

import math

from urial import units
from urial.assembly import bodies
from urial.assembly.model import View
from urial.papers.pdf import (
    BOLD,
    FONT,
    GREY,
    INK,
    MM,
    WHITE,
    Elevation,
    Pages,
    plain,
)
from urial.papers.section import Shown, section
from urial.papers.survey_sheet import hatch
from urial.prove.verdict import Verdict

VIEW_TITLES: dict[View, str] = {"side": "Side, from the left", "rear": "Rear", "top": "Top"}


@section("elevations", 20)
def elevations(p: Pages, s: Shown) -> None:
    """A page a view."""
    v = s.verdict
    job = v.job
    for view in ("side", "rear", "top"):
        p.start_page()
        p.heading(VIEW_TITLES[view])
        drawing = Elevation(v.assembly, view)
        scale = drawing.fit(p.margin, 30 * MM, p.width - 2 * p.margin, p.y - 40 * MM)
        hatch(drawing, p, job)
        drawing.draw(p.canvas)
        for d in v.assembly.dimensions:
            if view in d.views:
                size = abs({"x": d.b[0] - d.a[0], "y": d.b[1] - d.a[1], "z": d.b[2] - d.a[2]}[d.axis])
                drawing.dimension(
                    p.canvas, d, f"{d.name} {units.show(size, 'length', job.units, job.nearest)}"
                )
        _marks(p, v, drawing)
        p.canvas.setFont(FONT, 8)
        p.canvas.setFillColor(GREY)
        p.canvas.drawString(
            p.margin,
            20 * MM,
            f"scale 1 : {units.figure(MM / scale, 1)} on this page; work to the figures, not the drawing",
        )


def _marks(p: Pages, v: Verdict, drawing: Elevation) -> None:
    """The marks of the parts list on the parts of a drawing, each once, clear of each other."""
    taken: list[tuple[float, float]] = []
    said: set[str] = set()
    c = p.canvas
    for part in v.assembly.parts:
        if part.mark in said:
            continue
        said.add(part.mark)
        low, high = bodies.corners(part)
        x, y = drawing.at([(a + b) / 2 for a, b in zip(low, high, strict=True)])
        bx, by = x, y
        for k in range(1, 60):
            if all(abs(bx - tx) > 17 or abs(by - ty) > 12 for tx, ty in taken):
                break
            bx, by = x + 3.2 * k**0.8 * math.cos(2.4 * k), y + 3.2 * k**0.8 * math.sin(2.4 * k)
        taken.append((bx, by))
        c.setStrokeColor(GREY)
        c.setLineWidth(0.4)
        if math.hypot(bx - x, by - y) > 8:
            c.line(x, y, bx, by)
        c.setFillColor(WHITE)
        c.setStrokeColor(INK)
        c.roundRect(bx - 8, by - 5, 16, 10, 5, stroke=1, fill=1)
        c.setFillColor(INK)
        c.setFont(BOLD, 6.5)
        c.drawCentredString(bx, by - 2.4, plain(part.mark))
