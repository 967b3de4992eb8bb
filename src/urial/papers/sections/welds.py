"""The weld plan: every weld with its symbol on the side view, and the table."""

from __future__ import annotations

from urial.making.welds import WeldRow, weld_plan
from urial.papers.pdf import (
    BOLD,
    BRICK,
    FONT,
    GREY,
    INK,
    Elevation,
    Pages,
    plain,
)
from urial.papers.section import Shown, section


@section("welds", 90)
def welds(p: Pages, s: Shown) -> None:
    """Every weld, numbered."""
    v = s.verdict
    plan = weld_plan(v.assembly)
    if not plan:
        return
    p.start_page()
    p.heading("Welds")
    p.paragraph(
        f"Electrode and process as the table says ({v.job.welding.process} throughout). Leg sizes are "
        "those of the finished bead; lengths are of all beads of one joint. "
        "An open ring: all round. Run a coupon in the same metal first.",
        9,
    )
    if v.job.welding.toes == "ground":
        p.paragraph(
            "Endurance counts on ground toes: every toe, on both metals, is ground smooth with a burr, half "
            "a millimetre into the metal, along the stress.",
            9,
            BRICK,
        )
    drawing, high = Elevation(v.assembly, "side"), 250.0
    p.gap(6)
    drawing.fit(p.margin + 90, p.y - high, p.width - 2 * p.margin - 180, high, border=6)
    drawing.draw(p.canvas)
    spots = sorted(((row, drawing.at(row.at[0])) for row in plan), key=lambda s: s[1][0])
    half = (len(spots) + 1) // 2
    for rows, x, right in (
        (spots[:half], p.margin + 82, False),
        (spots[half:], p.width - p.margin - 82, True),
    ):
        ordered = sorted(rows, key=lambda s: -s[1][1])
        step = high / max(len(ordered), 1)
        for n, (row, (wx, wy)) in enumerate(ordered):
            y = p.y - step * (n + 0.5)
            p.canvas.setStrokeColor(GREY)
            p.canvas.setLineWidth(0.4)
            p.canvas.line(x, y, wx, wy)
            p.canvas.circle(wx, wy, 1.2, stroke=0, fill=1)
            _symbol(p, row, x, y, right)
    p.y -= high + 12
    body = [
        [
            r.number,
            " + ".join(dict.fromkeys(r.marks)),
            r.what,
            r.kind,
            p.leg(r.leg),
            r.where,
            p.length(r.length) if r.length else f"{r.beads} plugs",
            str(r.qty),
            r.electrode,
            "; ".join(x for x in (r.prep, r.note) if x),
        ]
        for r in plan
    ]
    p.table(
        ["no.", "marks", "joint", "type", "leg", "", "length", "qty", "filler", "prepare, note"],
        body,
        [0.5, 0.8, 1.9, 1.0, 0.75, 0.9, 0.95, 0.4, 0.6, 2.4],
        7,
        right=(4, 6, 7),
    )


def _symbol(p: Pages, row: WeldRow, x: float, y: float, to_right: bool) -> None:
    """A weld symbol on its reference line: fillet or flare on one side or both, its leg, the ring of
    all-round, the number.
    """
    c, way = p.canvas, 1.0 if to_right else -1.0
    end = x + way * 78
    c.setStrokeColor(INK)
    c.setFillColor(INK)
    c.setLineWidth(0.7)
    c.line(x, y, end, y)
    at = x + way * 34
    for side in (1, -1) if row.both_sides else (-1,):
        if row.kind == "plug":
            c.rect(at - 5, y if side > 0 else y - 7, 10, 7, stroke=1, fill=0)
        elif row.kind == "butt":
            for off in (-2, 2):
                c.line(at + off, y, at + off, y + side * 8)
        elif row.kind == "flare-bevel":
            c.line(at - 4, y, at - 4, y + side * 8)
            c.arc(at, min(y, y + side * 8), at + 12, max(y, y + side * 8), 90 if side > 0 else 180, 90)
        else:
            if row.kind == "bevel and fillet":  # the bevel nearest to the line, the fillet on it
                c.line(at + 6, y, at + 6, y + side * 8)
                c.line(at + 6, y, at + 13, y + side * 8)
            c.line(at - 4, y, at - 4, y + side * 8)
            c.line(at - 4, y + side * 8, at + 4, y)
    if row.all_round:
        c.circle(x, y, 3, stroke=1, fill=0)
    c.setFont(FONT, 7)
    size = p.leg(row.leg)
    c.drawRightString(at - 7, y - 9, plain(size)) if to_right else c.drawString(at + 8, y - 9, plain(size))
    c.setFont(BOLD, 7)
    c.drawRightString(end - 2, y + 3, row.number) if to_right else c.drawString(end + 2, y + 3, row.number)
