"""What is done in which order: the saw's list with every bar drawn, and the plan of work with boxes to
tick.
"""

from __future__ import annotations

from urial.making.nested import nested
from urial.making.nests import BarCut, Cut
from urial.making.status import status
from urial.papers.pdf import BOLD, FONT, GREY, INK, PALE, Pages, plain
from urial.papers.section import Shown, section
from urial.prove.planned import goes_on, planned

SET = ("length", "angle", "leg", "torque", "pull", "long")
"""Readings that stand in the traveller."""
BAR = 16.0
"""How tall a bar is drawn, points."""


@section("saw list", 85)
def saw_list(p: Pages, s: Shown) -> None:
    """Every bar with what comes out of it, marks, long points, angles on the saw's scale, what is left."""
    rows = status(planned(s.verdict, s.shop), ())
    found = nested(s.verdict.assembly, rows, (), s.shop, s.verdict.job.making)
    if not found.bars.bars and not found.bars.refused:
        return
    p.heading("At the saw", 11)
    saw = s.shop.saw
    p.paragraph(
        f"{s.shop.words} A cut takes {saw.kerf_mm:.1f} mm, a bar's first end loses {saw.end_trim_mm:.0f} "
        f"mm, a rest "
        f"of {saw.remnant_mm:.0f} mm or more is kept. Angles are from square; a dot stands at each long "
        f"point.",
        8,
        GREY,
    )
    for words in found.bars.refused:
        p.paragraph(words, 9)
    for bar in found.bars.bars:
        _bar(p, bar, saw.remnant_mm)
    price, bound = found.bars.price, found.bars.bound
    least = "no way costs less" if price <= bound + 0.005 else f"nothing costs less than {bound:.2f}"
    p.paragraph(f"Bought for about {price:.2f} {s.shop.currency}; {least}.", 8, GREY)


def _bar(p: Pages, bar: BarCut, keep: float) -> None:
    p.need(BAR + 46)
    c, wide = p.canvas, p.width - 2 * p.margin
    p.y -= 14
    c.setFillColor(INK)
    c.setFont(BOLD, 8.5)
    rack = f", {bar.rack} {bar.where}".rstrip() if bar.rack else ""
    c.drawString(
        p.margin, p.y, plain(f"{p.said(bar.stock, beside=True)} {bar.material}, {p.length(bar.length)}{rack}")
    )
    rest = f"{p.length(bar.left)} left" + ("" if bar.left >= keep else ", scrap")
    c.setFont(FONT, 8)
    c.drawRightString(p.margin + wide, p.y, plain(rest))
    p.y -= BAR + 5
    scale = wide / bar.length
    c.setStrokeColor(PALE)
    c.rect(p.margin, p.y, wide, BAR)
    for cut in bar.cuts:
        _piece(p, cut, scale)
    p.y -= 3
    said = "; ".join(_said(p, c_) for c_ in bar.cuts)
    p.paragraph(said, 8)


def _piece(p: Pages, cut: Cut, scale: float) -> None:
    c = p.canvas
    left, right = p.margin + cut.start * scale, p.margin + cut.end * scale
    a, b = cut.leans(scale)
    path = c.beginPath()
    path.moveTo(left + max(-a, 0), p.y + BAR)
    path.lineTo(right - max(-b, 0), p.y + BAR)
    path.lineTo(right - max(b, 0), p.y)
    path.lineTo(left + max(a, 0), p.y)
    path.close()
    c.setStrokeColor(INK)
    c.setLineWidth(0.6)
    c.drawPath(path)
    for x, t in ((left, a), (right, b)):  # a dot at each long point
        if abs(t) > 1e-6:
            c.setFillColor(INK)
            c.circle(x, p.y + (BAR if t > 0 else 0), 1.3, stroke=0, fill=1)
    c.setFillColor(INK)
    c.setFont(BOLD, 7.5)
    if c.stringWidth(cut.piece.mark, BOLD, 7.5) < right - left:
        c.drawCentredString((left + right) / 2, p.y + BAR / 2 - 2.6, plain(cut.piece.mark))


def _said(p: Pages, cut: Cut) -> str:
    ends = [f"{abs(t):.1f}°" for t in cut.tilts if abs(t) > 1e-6]
    angles = f" ({' and '.join(ends)} from square)" if ends else ""
    after = f", then its {' and '.join({'i': 'first', 'j': 'second'}[e] for e in cut.piece.blank.later)} end"
    later = after + " by its paper" if cut.piece.blank.later else ""
    return f"{cut.piece.mark} {p.length(cut.end - cut.start)}{angles}{later}"


@section("work", 95)
def work(p: Pages, s: Shown) -> None:
    """The traveller: every step in an order that can be done, with a box to tick."""
    v = s.verdict
    steps = planned(v, s.shop, goes_on(v.job, v.assembly)).steps
    p.start_page()
    p.heading("The work, in an order that can be done")
    hours = sum(x.minutes for x in steps) / 60
    p.paragraph(f"{len(steps)} steps, about {hours:.1f} hours. {s.shop.words}", 8, GREY)
    p.gap(6)
    number = {x.key: n for n, x in enumerate(steps, 1)}
    body = []
    said: set[str] = set()
    for n, x in enumerate(steps, 1):
        needs = sorted(number[k] for k in x.needs)
        after = f"{needs[0]}" if len(needs) == 1 else f"{needs[0]}–{needs[-1]}" if needs else ""
        minds = [h for h in x.hazards if h not in said]  # a caution stands where it matters first, once
        said |= set(minds)
        words = " ".join((x.words, *minds))
        read = "; ".join(_reading(p, r.wanted, r.unit) for r in x.reads[:1] if r.what in SET)
        body.append([str(n), x.kind, words, after, read, f"{x.minutes:.0f} min", ""])
    p.table(
        ["", "work", "what", "after", "should be", "about", "by, date"],
        body,
        [0.35, 0.8, 5.2, 0.7, 0.9, 0.65, 1.2],
        7.5,
        right=(0, 5),
    )


def _reading(p: Pages, wanted: float, unit: str) -> str:
    return p.length(wanted) if unit == "mm" else f"{wanted:.4g} {unit}"
