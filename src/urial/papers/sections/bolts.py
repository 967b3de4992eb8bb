"""Bolts in the order they are tightened, with a box for each round."""

from __future__ import annotations

from urial.making.fastened import bolted
from urial.making.parts import IN_TIMBER
from urial.making.plan import plan
from urial.papers.pdf import BRICK, GREY, Pages
from urial.papers.section import Shown, section


@section("bolts", 97)
def bolts(p: Pages, s: Shown) -> None:
    """One line a group; nothing where nothing is bolted."""
    a = s.verdict.assembly
    rows = bolted(a, plan(a, shop=s.shop, wishes=s.verdict.job.making))
    if not rows:
        return
    p.heading("Bolts, in the order they are tightened", 11)

    def mm(x: float | None) -> str:
        return p.length(x) if x is not None else ""

    body = [
        [
            f"{n}",
            p.said(r.name),
            f"{r.count} × {r.bolt}" + (f" × {mm(r.long)}" if r.long is not None else ""),
            r.grade,
            mm(r.grip),
            mm(r.shows if r.shows is not None else r.held) + (" in thread" if r.held is not None else ""),
            p.said(f"{r.torque:.0f} N·m") if r.torque else "by feel",
            p.said(f"{r.oiled:.0f} N·m") if r.torque else "",
            ", ".join(r.order) if len(r.order) > 2 else "",
        ]
        for n, r in enumerate(rows, 1)
    ]
    heads = ["", "group", "bolt", "grade", "grips", "shows", "dry", "oiled", "this hole first"]
    p.table(heads, body, [0.3, 2, 1.6, 0.6, 0.8, 0.9, 0.8, 0.8, 2.2], 7.5, right=(6, 7))
    for r in rows:
        for words in r.minds:
            p.paragraph(f"{r.name}: {words}", 9, BRICK)
    timber = f" In timber: {IN_TIMBER}." if any(not r.torque for r in rows) else ""
    p.paragraph(
        f"Half the torque round once, then all of it, then once more.{timber} Again after the first trips. "
        "Nuts that lock themselves are used once.",
        8,
        GREY,
    )


__all__ = ["bolts"]
