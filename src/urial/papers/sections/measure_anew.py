"""Of a plan set that is handed on: every figure it rests on, to be measured anew, with a line to write on."""

from __future__ import annotations

from urial.job import edit, origin
from urial.papers.pdf import BOLD, BRICK, Pages
from urial.papers.section import Shown, section


@section("measure anew", 15)
def measure_anew(p: Pages, s: Shown) -> None:
    """Nothing in a packet of one's own."""
    if not s.anew:
        return
    job = s.verdict.job
    p.start_page()
    p.heading("Measure anew before anything is cut")
    p.paragraph(
        "These are the sizes of one vehicle and the loads of one use. Another of the same name differs by "
        "more than a hole's play. Measure every line on yours, type it in, and have it judged again: no "
        "figure of this set is proven for another.",
        11,
        BRICK,
        BOLD,
    )
    p.gap(12)
    body = [[edit.spec_of(job, path).title, edit.shown(job, path), ""] for path in origin.assumed(job)]
    p.table(["what", "here", "yours"], body, [4, 2, 2], 8.5)


__all__ = ["measure_anew"]
