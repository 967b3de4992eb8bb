"""The packet's page on putting it together: drawn apart, the order, what is in the way, what each takes."""

from __future__ import annotations

from urial import units
from urial.fit import Fit, fit
from urial.fit.steps import drawn_apart
from urial.papers.pdf import BRICK, Elevation, Pages
from urial.prove.verdict import Verdict

PICTURE = 210.0
"""Height of the picture, points."""


def known(v: Verdict) -> Fit:
    """What the packet says of it."""
    return fit(v.job, v.assembly, moves=False)


def _under(p: Pages, words: str) -> None:
    """A small heading with room above it."""
    p.y -= 8
    p.heading(words, 11)


def add_together(p: Pages, v: Verdict, found: Fit) -> None:
    """One page, or a little more."""
    p.new_page()
    p.heading("Putting it together")
    if len(found.steps) > 1:
        drawing = Elevation(drawn_apart(v.assembly, found.steps), "side")
        drawing.fit(p.margin, p.y - PICTURE, p.width - 2 * p.margin, PICTURE, border=14)
        drawing.draw(p.canvas)
        p.y -= PICTURE + 8
    if found.open:
        _under(p, "In the way")
        for f in found.open:
            p.paragraph(f"· {f.words} {f.remedy}", 9, BRICK)
    elif not found.early:
        p.paragraph("Nothing was found in the way of parts, bolts, pins, tools or the gun.", 9)
    for words in found.early:
        p.paragraph(f"· {words}", 9, BRICK)
    waived = [f for f in found.findings if f.waived]
    if waived:
        _under(p, "Lived with")
        for f in waived:
            p.paragraph(f"· {f.words} Reason: {f.waived}", 9)
    if found.steps:
        _under(p, "On, in this order")
        p.table(
            ["", "what", "how"],
            [[str(n), s.name, s.words.split(": ", 1)[-1]] for n, s in enumerate(found.steps, 1)],
            [0.3, 2, 4],
            9,
        )
    _under(p, "On and off")
    p.table(
        ["piece", "spanners", "weighs", "bolts", "pins", "minutes"],
        [
            [
                o.name,
                ", ".join(p.length(s) for s in o.spanners) or "none",
                units.show(o.kg, "mass", v.job.units),
                str(o.bolts),
                str(o.pins),
                f"{o.minutes:.0f}",
            ]
            for o in found.pieces
        ],
        [2, 1.6, 1, 0.7, 0.7, 0.8],
        9,
        right=(2, 3, 4, 5),
    )
    if found.facts:
        _under(p, "To mind at the bench")
        for fact in found.facts:
            p.paragraph(f"· {fact}", 9)
