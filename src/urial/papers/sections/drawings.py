"""A dimensioned drawing of every piece that is more than sawn square, and a list of those that are not."""

from __future__ import annotations

from urial.making.drawings import Drawing, drawings, figures
from urial.making.plan import called, things
from urial.making.setout import AXES, SetOut, set_out
from urial.papers.pdf import BLUE, BOLD, BRICK, FONT, GREY, INK, WHITE, Pages, plain
from urial.papers.picture import Picture, laid_out, picture
from urial.papers.section import Shown, section
from urial.papers.sold import stock

TONES = {"ink": INK, "grey": GREY, "blue": BLUE}
TALLEST, ROOM = 250.0, 420.0
"""No picture of a piece is taller, and none of a weldment, points."""


@section("drawings", 65)
def pieces(p: Pages, s: Shown) -> None:
    """Every piece: its picture, its ends, its holes, each figure from one datum."""
    every = drawings(s.verdict.assembly, s.rows, s.shop)
    drawn = [d for d in every if not d.plain]
    p.start_page()
    p.heading("Drawings")
    p.paragraph(
        "Every figure of a piece is read with the tape hooked on at one place, its datum; none is reckoned "
        "from another. "
        + ("Figures on pictures are mm. " if p.system == "metric" else "")
        + "Work to the figures, not the drawing.",
        8.5,
        GREY,
    )
    _list(p, [d for d in every if d.plain])
    for d in drawn:
        _piece(p, d)


@section("set-out", 64)
def set_outs(p: Pages, s: Shown) -> None:
    """Every weldment: where each of its pieces lies, from one corner of it."""
    assembly = s.verdict.assembly
    for keys in things(assembly):
        if len(keys) < 2:
            continue
        _set_out(p, set_out(assembly, called(assembly, keys), keys))


def _set_out(p: Pages, s: SetOut) -> None:
    p.start_page()
    p.heading(f"Set-out: {s.name}")
    p.paragraph(
        "Every piece from one corner: the front end, the left side, the lowest place of what is welded "
        "together" + (", mm." if p.system == "metric" else "."),
        8.5,
        GREY,
    )
    made = laid_out(s, (p.width - 2 * p.margin, ROOM), lambda mm: _bare(p, mm))
    p.y -= made.high + 4
    paint(p, made, p.margin, p.y)
    long, wide, high = (p.length(x) for x in s.size)
    p.paragraph(f"Over all {long} long, {wide} wide, {high} high; drawn {_ratio(made)}.", 8.5)
    said = "; ".join(f"{name} {p.length(mm)}" for name, mm in s.diagonals)
    p.paragraph(f"Diagonals, outer corner to outer corner: {said}.", 8.5)
    p.gap(4)
    body = []
    for n in s.laid:
        spans = [_bare(p, a) if b - a < 0.05 else f"{_bare(p, a)} to {_bare(p, b)}" for a, b in n.spans]
        ends = " and ".join(", ".join(_bare(p, x) for x in e) for e in n.ends)
        body.append([n.mark, n.name, *spans, f"slants: middle line from {ends}" if ends else ""])
    p.table(["mark", "part", *AXES, ""], body, [0.5, 1.8, 1.5, 1.5, 1.4, 1.8], 8)


def _list(p: Pages, plain_ones: list[Drawing]) -> None:
    if not plain_ones:
        return
    p.heading("Cut square, and nothing else done to them", 11)
    body = []
    for d in plain_ones:
        size = p.length(d.long) + (f" × {p.length(d.wide)}" if d.kind == "plate" else "")
        caps = [f"{e.which} end {e.words.removeprefix('square, ')}" for e in d.ends if e.kind != "square"]
        body.append([d.mark, f"{d.qty} ×", d.name, stock(p, d.stock), size, "; ".join((*caps, *d.notes))])
    p.table(["mark", "", "part", "stock", "size", ""], body, [0.5, 0.4, 2, 1.6, 1.4, 1.8], 8)


def _piece(p: Pages, d: Drawing) -> None:
    wide = p.width - 2 * p.margin
    made = picture(d, (wide, TALLEST), lambda mm: _bare(p, mm))
    rows = len(d.features) + 3
    p.need((made.high if made else 0.0) + min(rows, 10) * 11 + 46)
    p.gap(10)
    c = p.canvas
    p.y -= 12
    c.setFillColor(INK)
    c.setFont(BOLD, 11)
    c.drawString(p.margin, p.y, plain(f"{d.mark}   {d.name}"))
    c.setFont(FONT, 8.5)
    tilted = any(e.kind in ("mitre", "compound", "cope") for e in d.ends)
    size = p.length(d.long) + (
        f" × {p.length(d.wide)}"
        if d.kind == "plate"
        else " long point to long point" + (", along its middle line" if d.kind == "bent" else "")
        if tilted
        else " long"
    )
    c.drawRightString(p.margin + wide, p.y, plain(f"{d.qty} ×, {stock(p, d.stock)}, {d.material}"))
    p.y -= 3
    c.setStrokeColor(INK)
    c.setLineWidth(0.6)
    c.line(p.margin, p.y, p.margin + wide, p.y)
    scale = f", drawn {_ratio(made)}" if made else ""
    p.paragraph(f"{size}; every figure {d.datum}{scale}.", 8.5)
    if d.mirror:
        p.paragraph(
            "MIRROR PAIR: one as drawn, one mirrored. Mark each before it is drilled.", 8.5, BRICK, BOLD
        )
    if made is not None:
        p.y -= made.high + 4
        paint(p, made, p.margin, p.y)
    for e in d.ends:
        if e.kind != "square":
            p.paragraph(f"{e.which.capitalize()} end: {e.words}.{_edges(p, d, e.edges)}", 8.5)
    for note in d.notes:
        p.paragraph(note, 8.5)
    if d.features:
        p.gap(5)
        bar = d.kind in ("bar", "bent")
        p.table(
            ["", "face" if bar else "", "along", "up", "size", "how"],
            [
                [
                    f.which,
                    f.view if bar else "",
                    "" if f.along is None else p.length(f.along),
                    "" if f.up is None else p.length(f.up),
                    figures(f, p.length),
                    f.words,
                ]
                for f in d.features
            ],
            [0.4, 0.4, 0.95, 0.95, 2.5, 3.1],
            8,
            right=(2, 3),
        )


def _bare(p: Pages, mm: float) -> str:
    """A length without its unit where that is millimetres."""
    return p.length(mm).removesuffix(" mm")


def _ratio(made: Picture) -> str:
    return "at true size" if made.scale == 1 else f"1 : {1 / made.scale:.3g}"


def _edges(p: Pages, d: Drawing, edges: tuple[tuple[str, float], ...]) -> str:
    """Where a tilted end crosses each edge, where its picture does not show all of them."""
    return (
        (" On its edges: " + ", ".join(f"{name} {p.length(x)}" for name, x in edges) + ".") if edges else ""
    )


def paint(p: Pages, made: Picture, x: float, y: float) -> None:
    """A picture on a page, its lower left corner at a place."""
    c = p.canvas
    c.saveState()
    c.translate(x, y)
    c.setLineJoin(1)
    for s in made.strokes:
        c.setStrokeColor(TONES[s.tone])
        c.setLineWidth(s.wide)
        c.setDash([4, 2] if s.dashed else [])
        path = c.beginPath()
        path.moveTo(*s.points[0])
        for q in s.points[1:]:
            path.lineTo(*q)
        if s.closed:
            path.close()
        c.setFillColor(WHITE)
        c.drawPath(path, fill=int(s.closed))
    c.setDash([])
    c.setStrokeColor(INK)
    c.setFillColor(WHITE)
    c.setLineWidth(0.6)
    for r in made.rounds:
        c.circle(r.x, r.y, r.r)
    for w in made.words:
        c.saveState()
        c.translate(w.x, w.y)
        if w.turned:
            c.rotate(90)
        c.setFillColor(TONES[w.tone])
        c.setFont(BOLD if w.bold else FONT, w.size)
        text = plain(w.text)
        if w.anchor == "end":
            c.drawRightString(0, 0, text)
        elif w.anchor == "middle":
            c.drawCentredString(0, 0, text)
        else:
            c.drawString(0, 0, text)
        c.restoreState()
    c.restoreState()


__all__ = ["paint"]
