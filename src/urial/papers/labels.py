"""Labels to stick on: a mark for every piece, with its size, its job, and both as a code a telephone
reads.
"""

from __future__ import annotations

from itertools import groupby

import segno
from reportlab.pdfgen.canvas import Canvas

from urial.job import speech
from urial.making.parts import Row
from urial.papers.pdf import BOLD, FONT, GREY, INK, PAPERS, Pages, plain, wrapped
from urial.prove.verdict import CAUTION, Verdict

MM = 72 / 25.4
WIDE, HIGH = 63.5 * MM, 38.1 * MM
"""A label: three across and seven down on either paper."""


def code_of(job: str, mark: str) -> str:
    """What a label's code says."""
    return f"urial:{job[:12] or 'new'}:{mark}"


def _code(c: Canvas, text: str, x: float, y: float, side: float) -> None:
    """A QR code, its lower left corner at x, y."""
    rows = [bytes(row) for row in segno.make(text, error="m", micro=False).matrix]
    cell = side / len(rows)
    c.setFillColor(INK)
    path = c.beginPath()
    for n, row in enumerate(rows):
        k = 0
        for dark, run in groupby(row):
            size = len(list(run))
            if dark:  # dark squares side by side are one stroke: no hairline between them
                path.rect(x + k * cell, y + side - (n + 1) * cell, size * cell, cell * 1.02)
            k += size
    c.drawPath(path, stroke=0, fill=1)


def labels_pdf(v: Verdict, rows: list[Row], paper: str = "A4") -> bytes:
    """A label for every piece of steel, as often as it is made; left and right have their own."""
    job = v.job
    p = Pages(
        f"{job.title}: labels",
        "Urial. " + CAUTION,
        job.units,
        job.nearest,
        PAPERS[paper],
        names=speech.names(job),
    )
    across = int((p.width - 2 * 8 * MM) // WIDE)
    down = int((p.height - 40 * MM) // HIGH)
    labels = [
        (v.assembly.by_key[key].mark, r)
        for r in rows
        if not r.hardware
        for key in sorted(r.parts)
        for _ in range(v.assembly.by_key[key].layers * int(job.making.sets))
    ]
    left = (p.width - across * WIDE) / 2
    for n, (mark, row) in enumerate(labels):
        spot = n % (across * down)
        if n and spot == 0:
            p.new_page()
        x = left + spot % across * WIDE
        y = p.height - 20 * MM - (spot // across + 1) * HIGH
        _label(p, mark, row, job.id, (x, y))
    return p.finish()


def _label(p: Pages, mark: str, row: Row, job: str, at: tuple[float, float]) -> None:
    c, (x, y) = p.canvas, at
    c.setStrokeColor(GREY)
    c.setLineWidth(0.3)
    c.rect(x, y, WIDE, HIGH)
    side = 20 * MM
    _code(c, code_of(job, mark), x + WIDE - side - 2 * MM, y + HIGH - side - 2 * MM, side)
    c.setFillColor(INK)
    c.setFont(BOLD, 30)
    c.drawString(x + 3 * MM, y + HIGH - 13 * MM, plain(mark))
    c.setFont(BOLD, 11)
    size = p.length(row.cut_length_mm) + (f" × {p.length(row.width_mm)}" if row.plate else "")
    c.drawString(x + 3 * MM, y + HIGH - 19 * MM, plain(size))
    c.setFont(FONT, 7)
    name = f"{p.said(row.name)}, {p.said(row.stock, beside=True)}, {p.title.removesuffix(': labels')}"
    for n, line in enumerate(wrapped(name, FONT, 7, WIDE - 6 * MM)[:3]):
        c.drawString(x + 3 * MM, y + 10 * MM - n * 8.5, line)


__all__ = ["code_of", "labels_pdf"]
