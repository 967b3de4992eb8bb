"""The rating plate as a drawing: for the printer (PDF), the engraver (DXF) and the laser (SVG), all three of
the same lines at the same places, millimetres.
"""

from __future__ import annotations

import io
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from xml.sax.saxutils import escape

from ezdxf import units as dxf_units
from ezdxf.enums import TextEntityAlignment
from ezdxf.filemanagement import new
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas

from urial import units
from urial.papers.pdf import BOLD, FONT, MM, _fonts, plain, wrapped
from urial.prove.rating_plate import Rated, RatingPlate
from urial.units import System

WIDE, LEAST = 100.0, 60.0
"""A plate is so wide and at least so high, mm."""
EDGE, HOLE, HOLE_IN = 6.0, 4.2, 5.0
"""Text keeps so far from the edge; a hole for a 4 mm rivet in each corner, its middle so far in, mm."""
TITLE, BODY, SMALL = 4.2, 3.2, 2.0
"""Heights of letters (of the em), mm."""


@dataclass(frozen=True)
class Written:
    """A line of letters: where it begins (mm from the lower left corner), the em's height, bold or not, and
    how wide it is in the application's typeface.
    """

    x: float
    y: float
    size: float
    text: str
    bold: bool = False

    @property
    def wide(self) -> float:
        """mm."""
        return float(stringWidth(self.text, BOLD if self.bold else FONT, self.size * MM)) / MM


@dataclass(frozen=True)
class Laid:
    """A plate laid out: its height and every line."""

    high: float
    lines: tuple[Written, ...]

    @property
    def holes(self) -> tuple[tuple[float, float], ...]:
        """Middles of the rivets' holes."""
        return tuple((x, y) for x in (HOLE_IN, WIDE - HOLE_IN) for y in (HOLE_IN, self.high - HOLE_IN))


def laid(plate: RatingPlate, system: System, nearest: int = 16) -> Laid:
    """Where every line stands; as high as its words need."""
    _fonts()
    room = WIDE - 2 * EDGE - 2 * HOLE
    rows: list[tuple[float, str, bool, str]] = []  # size, left, bold, right
    rows += [(TITLE, line, True, "") for line in wrapped(plate.title, BOLD, TITLE * MM, room * MM)[:2]]
    signed = ", ".join(x for x in (f"No. {plate.number}" if plate.number else "", plate.day, plate.by) if x)
    rows += [(SMALL * 1.2, line, False, "") for line in wrapped(signed, FONT, SMALL * 1.2 * MM, room * MM)]
    for r in plate.rows:
        rows.append((BODY, plain(r.what), False, plain(show(r, system, nearest))))
    small = [f"Judged by {plate.basis}. {plate.caution}"]
    if plate.reason:
        small.insert(0, f"WRITTEN ALTHOUGH: {' '.join(plate.against)} REASON: {plate.reason}")
    for text in small:
        said = units.in_words(text, system, nearest)
        rows += [(SMALL, line, False, "") for line in wrapped(said, FONT, SMALL * MM, room * MM)]
    high = max(LEAST, 2 * EDGE + sum(1.45 * size for size, *_ in rows))
    out: list[Written] = []
    y, left, right = high - EDGE, EDGE + HOLE, WIDE - EDGE - HOLE
    for size, text, bold, figure in rows:
        y -= 1.45 * size
        end = Written(0.0, y, size, figure, True) if figure else None
        most = right - left - (end.wide + 2.0 if end else 0.0)
        out.append(_kept(Written(left, y + 0.35 * size, size, text, bold), most))
        if end is not None:
            out.append(Written(right - end.wide, y + 0.35 * size, size, figure, True))
    return Laid(high, tuple(out))


def _kept(line: Written, most: float) -> Written:
    """A line no wider than ``most`` mm: a long name is cut short, never a figure."""
    if line.wide <= most:
        return line
    text = line.text
    while text and Written(0, 0, line.size, text.rstrip() + "…", line.bold).wide > most:
        text = text[:-1]
    return Written(line.x, line.y, line.size, text.rstrip() + "…", line.bold)


def show(r: Rated, system: System, nearest: int = 16) -> str:
    """A line's figure in the job's units."""
    return units.show(r.most, r.kind, system, nearest)


def pdf(at: Laid) -> bytes:
    """One page of the plate's size."""
    _fonts()
    buffer = io.BytesIO()
    c = Canvas(buffer, pagesize=(WIDE * MM, at.high * MM), invariant=1)
    c.setTitle(at.lines[0].text if at.lines else "plate")
    c.setLineWidth(0.6)
    c.rect(0.5 * MM, 0.5 * MM, (WIDE - 1) * MM, (at.high - 1) * MM)
    for x, y in at.holes:
        c.circle(x * MM, y * MM, HOLE / 2 * MM)
    for line in at.lines:
        c.setFont(BOLD if line.bold else FONT, line.size * MM)
        c.drawString(line.x * MM, line.y * MM, line.text)
    c.showPage()
    c.save()
    return buffer.getvalue()


def svg(at: Laid) -> bytes:
    """Millimetres, cut lines and letters on layers of their own; letters are as wide as on paper whatever
    typeface the machine has.
    """

    def lines() -> Iterator[str]:
        yield '<?xml version="1.0" encoding="UTF-8"?>'
        yield (
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDE:g}mm" height="{at.high:.3f}mm" '
            f'viewBox="0 0 {WIDE:g} {at.high:.3f}">'
        )
        yield '<g id="cut" fill="none" stroke="#000000" stroke-width="0.1">'
        yield f'<rect x="0" y="0" width="{WIDE:g}" height="{at.high:.3f}" rx="2"/>'
        for x, y in at.holes:
            yield f'<circle cx="{x:g}" cy="{at.high - y:.3f}" r="{HOLE / 2:g}"/>'
        yield '</g><g id="engrave" fill="#000000" font-family="B612, sans-serif">'
        for w in at.lines:
            weight = ' font-weight="bold"' if w.bold else ""
            yield (
                f'<text x="{w.x:.3f}" y="{at.high - w.y:.3f}" font-size="{w.size:.3f}"{weight} '
                f'textLength="{w.wide:.3f}" lengthAdjust="spacingAndGlyphs">{escape(w.text)}</text>'
            )
        yield "</g></svg>"

    return "\n".join(lines()).encode()


def dxf(at: Laid) -> bytes:
    """Outline and holes to cut, letters to engrave, each on its layer; a line of letters is fitted to the
    width it has on paper.
    """
    doc = new("R2010", setup=False)
    doc.units = dxf_units.MM
    doc.header["$MEASUREMENT"] = 1
    for name, colour in (("OUTLINE", 7), ("HOLES", 5), ("TEXT", 8)):
        doc.layers.add(name, color=colour)
    space = doc.modelspace()
    corners = [(0.0, 0.0), (WIDE, 0.0), (WIDE, at.high), (0.0, at.high)]
    space.add_lwpolyline(corners, close=True, dxfattribs={"layer": "OUTLINE"})
    for x, y in at.holes:
        space.add_circle((x, y), HOLE / 2, dxfattribs={"layer": "HOLES"})
    for w in at.lines:
        text = space.add_text(w.text, height=0.7 * w.size, dxfattribs={"layer": "TEXT"})
        text.set_placement((w.x, w.y), (w.x + w.wide, w.y), align=TextEntityAlignment.FIT)
    out = io.StringIO()
    doc.write(out)
    return out.getvalue().encode()


FORMATS: dict[str, Callable[[Laid], bytes]] = {".pdf": pdf, ".svg": svg, ".dxf": dxf}
"""What a plate is written as, by the end of the file's name."""

__all__ = ["FORMATS", "HOLE", "WIDE", "Laid", "Written", "dxf", "laid", "pdf", "show", "svg"]
