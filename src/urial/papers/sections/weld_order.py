"""Where to start the machine for every seam, and in which order the short runs are laid."""

from __future__ import annotations

from itertools import groupby

from urial.fit.access import seams_missed
from urial.making.welding.order import Order, weld_order
from urial.making.welding.seams import Seam, at_odds, seams
from urial.papers.pdf import BRICK, GREY, Pages
from urial.papers.section import Shown, section

MOST = 160
"""So many runs at most are listed; more are a machine's work, and a page nobody reads."""


@section("weld order", 92)
def order_of_welding(p: Pages, s: Shown) -> None:
    """Settings, preparation, order, waits, expected pull."""
    v = s.verdict
    found = seams(v.assembly, s.shop.welder, v.job.welding.process, seams_missed(v.assembly))
    if not found:
        return
    p.start_page()
    p.heading("Welding: where to start, and in what order")
    p.paragraph(
        f"{s.shop.words} Settings are where to start, never where to stay: run a coupon in the same "
        f"metal first.",
        9,
    )
    odds = at_odds(v.job.welding.process, s.shop.welder)
    if odds:
        p.paragraph(odds, 9, BRICK)
    p.gap(4)
    p.table(
        ["seam", "joins", "size", "start at", "passes", "first"],
        [_row(p, x) for x in found],
        [0.55, 1.6, 1.3, 1.6, 0.6, 3.2],
        8,
        right=(4,),
    )
    order = weld_order(v.assembly, found)
    _order(p, order)


def _row(p: Pages, x: Seam) -> list[str]:
    size = f"dia. {p.length(x.leg)}" if x.kind == "plug" else f"{x.kind} {p.leg(x.leg)}, {p.length(x.length)}"
    start = f"{x.arc.amps:.0f} A, {x.arc.volts:.0f} V, {x.process.replace('_', ' ')}"
    first = "; ".join(w for w in (x.prep, x.warm, x.note) if w)
    return [x.number, f"{x.marks[0]} to {x.marks[1]}: {x.name}", size, start, str(x.arc.passes), first]


def _order(p: Pages, order: Order) -> None:
    turns = [list(rows) for _, rows in groupby(order.laid, lambda x: x.turn)]
    p.heading("The runs in their order", 11)
    one, two = order.as_listed, order.in_order
    p.paragraph(
        f"Expected pull, seam after seam: bow {one.camber:.1f} mm, lean {one.angle:.2f}°, turn "
        f"{one.twist:.2f}°; in "
        f"this order {two.camber:.1f} mm, {two.angle:.2f}°, {two.twist:.2f}°. It is an estimate that "
        f"compares orders: "
        "measure the diagonals.",
        8.5,
        GREY,
    )
    if len(turns) > MOST:
        p.paragraph(
            f"{len(turns)} runs, too many to list: by turns over the seams, opposite sides after each other.",
            9,
        )
        return
    body = []
    for own in turns:
        wait = f"{own[0].wait / 60:.1f} min" if own[0].wait > 1 else ""
        long = sum(sum((a - b) ** 2 for a, b in zip(x.a, x.b, strict=True)) ** 0.5 for x in own)
        body.append([str(own[0].turn), own[0].seam, p.length(long), f"{sum(x.arc for x in own):.0f} s", wait])
    half = (len(body) + 1) // 2
    rows = [one + (body[half + n] if half + n < len(body) else [""] * 5) for n, one in enumerate(body[:half])]
    head = ["run", "seam", "long", "arc", "first wait"]
    p.table(head + head, rows, [0.5, 0.6, 0.9, 0.6, 0.9] * 2, 8, right=(0, 2, 3, 5, 7, 8))
    p.paragraph(
        "Each run is laid towards metal that is laid already (back-step). Where each lies is on the "
        "screen under "
        "Welds and in urial weld.",
        8,
        GREY,
    )
