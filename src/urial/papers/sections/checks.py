"""What was judged: the load chain, what no rule knows, every check with its working."""

from __future__ import annotations

from reportlab.lib.colors import Color

from urial.papers.pdf import (
    BOLD,
    BRICK,
    FONT,
    GREY,
    INK,
    OCHRE,
    PALE,
    SLATE,
    Pages,
    wrapped,
)
from urial.papers.section import Shown, section
from urial.prove.bump import bump


def tone(utilisation: float) -> Color:
    """Colour of a utilisation; the figure always stands beside it."""
    return BRICK if utilisation >= 1 else OCHRE if utilisation >= 0.7 else SLATE


@section("chain", 100)
def chain(p: Pages, s: Shown) -> None:
    """From the load to the host, link by link."""
    v = s.verdict
    p.heading("Load chain, from the load to the host")
    rows = []
    for state in v.chain:
        if state.worst is None:
            continue
        rows.append(
            [
                state.link.name + ("" if state.link.yours else " (not yours)"),
                state.worst.name,
                state.worst.case,
                f"{100 * state.utilisation:.0f} %",
                "SHORT" if state.worst.short else "",
            ]
        )
    p.table(["link", "worst check", "in", "used", ""], rows, [1.4, 3, 1.4, 0.6, 0.6], 8.5, right=(3,))
    p.gap(10)
    p.need(72)
    c, left, wide, high = p.canvas, p.margin, p.width - 2 * p.margin, 34.0
    links = [s for s in v.chain if s.worst]
    step = wide / len(links)
    for n, state in enumerate(links):
        # each link necks like a test bar as it nears its limit
        neck = high / 2 * max(0.18, 1 - 0.8 * min(state.utilisation, 1.1))
        x, y = left + n * step, p.y - high / 2
        path = c.beginPath()
        path.moveTo(x + 2, y + high / 2)
        path.curveTo(x + step * 0.35, y + neck, x + step * 0.65, y + neck, x + step - 2, y + high / 2)
        path.lineTo(x + step - 2, y - high / 2)
        path.curveTo(x + step * 0.65, y - neck, x + step * 0.35, y - neck, x + 2, y - high / 2)
        path.close()
        c.setFillColor(PALE)
        c.setStrokeColor(tone(state.utilisation))
        c.setLineWidth(1.4)
        c.drawPath(path, fill=1)
        c.setFillColor(INK)
        c.setFont(BOLD, 7)
        c.drawCentredString(x + step / 2, y - high / 2 - 9, f"{100 * state.utilisation:.0f} %")
        c.setFont(FONT, 6)
        for k, line in enumerate(wrapped(state.link.name, FONT, 6, step - 1)):
            c.drawCentredString(x + step / 2, y - high / 2 - 17 - 7 * k, line)
    p.y -= high + 36


@section("parking bump", 105)
def backed_into(p: Pages, s: Shown) -> None:
    """What gives first when it is backed into something."""
    hit = bump(s.verdict)
    if hit is not None:
        p.heading("When it is backed into something", 11)
        p.paragraph(hit.words, 9, INK if hit.right else BRICK)


@section("unchecked", 110)
def unchecked(p: Pages, s: Shown) -> None:
    """What no rule here knows: an inspector must judge it."""
    v = s.verdict
    if v.unchecked:
        p.heading("Not judged by any rule here", 11)
        p.table(["part", "what"], [[u.part, u.what] for u in dict.fromkeys(v.unchecked)], [0.6, 5], 8.5)


@section("workings", 130)
def workings(p: Pages, s: Shown) -> None:
    """Every check, the worst first."""
    v = s.verdict
    p.heading("Every check with its working")
    for c in v.checks:
        p.need(60)
        p.gap(5)
        p.paragraph(
            f"{'SHORT  ' if c.short else ''}{c.name}: {100 * c.utilisation:.0f} % in “{c.case}”",
            9.5,
            BRICK if c.short else INK,
            BOLD,
        )
        p.paragraph(f"{c.clause} · {c.basis} · part {c.part}", 7.5, GREY)
        for line in c.working():
            text = (
                f"{line.what}: {line.formula}"
                + (f" = {line.numbers}" if line.numbers else "")
                + (f" = {line.result}" if line.result else "")
            )
            p.paragraph(text, 8, INK, FONT, 10, beside=True)
