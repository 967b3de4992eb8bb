"""PDF pages: fonts, colours, elevations drawn from the solids, dimensions, tables.  Points inside,
millimetres outside.
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime
from functools import cache, lru_cache
from importlib.resources import files

import numpy as np
from numpy.typing import NDArray
from reportlab import rl_config
from reportlab.lib.colors import Color, HexColor
from reportlab.lib.pagesizes import A4, letter
from reportlab.lib.utils import simpleSplit
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from urial.assembly import bodies
from urial.assembly.model import Assembly, Dimension, View
from urial.units import System, in_words, show_leg, show_length

rl_config.useA85 = 0  # page streams as bytes: a fifth smaller, and nothing is spelt out in letters
MM = 72 / 25.4
INK, GREY, PALE, BLUE, BRICK, OCHRE, SLATE, WHITE = map(
    HexColor,
    ("#20292E", "#6E7678", "#E7E2D8", "#2A4B9B", "#A63A2B", "#B57A1C", "#5D7283", "#FFFFFF"),
)
FONT, BOLD = "B612", "B612-Bold"

# a few signs the typeface lacks have a plain spelling on paper
_PLAIN = str.maketrans({"\u202f": "\u00a0", "ρ": "rho", "ᵀ": "^T", "⌀": "dia. ", "▸": ">"})


@cache
def _fonts() -> frozenset[int]:
    """Register the application's own typeface; the characters it has."""
    folder = files("urial.papers") / "fonts"
    known: set[int] = set()
    for name, file in ((FONT, "B612-Regular.ttf"), (BOLD, "B612-Bold.ttf")):
        font = TTFont(name, io.BytesIO((folder / file).read_bytes()))
        pdfmetrics.registerFont(font)
        known = set(font.face.charToGlyph) if not known else known & set(font.face.charToGlyph)
    return frozenset(known)


def plain(text: str) -> str:
    """Text that the typeface can write; a sign that it lacks is a question mark."""
    known = _fonts()
    return "".join(c if ord(c) in known or c == "\n" else "?" for c in text.translate(_PLAIN))


@lru_cache(maxsize=4096)
def wrapped(text: str, font: str, size: float, wide: float) -> tuple[str, ...]:
    """A text as the typeface can write it, in lines no wider than ``wide`` points.  Most of what stands in a
    packet stands there more than once.
    """
    return tuple(simpleSplit(plain(text), font, size, wide))


@dataclass
class Pages:
    """A PDF in the making: a cursor that runs down the page, with header, footer and page numbers.  ``flag``:
    what stands in red at the head of every page but the first, which says it at length.  ``names``: what a
    person called things, which are never read as sizes.
    """

    title: str
    footer: str
    system: System
    nearest: int = 16
    size: tuple[float, float] = A4
    when: datetime = field(default_factory=datetime.now)
    flag: str = ""
    names: Sequence[str] = ()
    buffer: io.BytesIO = field(default_factory=io.BytesIO)

    def __post_init__(self) -> None:
        self.canvas = Canvas(self.buffer, pagesize=self.size, invariant=1, pageCompression=1)
        _fonts()
        stamp = self.canvas._doc._timeStamp  # the day it is made, the same bytes for the same moment
        stamp.t = self.when.timestamp()
        stamp.lt = tuple(self.when.timetuple())
        stamp.YMDhms = stamp.lt[:6]
        self.canvas.setTitle(plain(self.title))
        self.canvas.setCreator("Urial")
        self.width, self.height = self.size
        self.margin = 15 * MM
        self.page = 0
        self.y = 0.0
        self.new_page()

    def new_page(self) -> None:
        """Finish this page and start the next."""
        if self.page:
            self.canvas.showPage()
        self.page += 1
        c = self.canvas
        c.setFillColor(INK)
        c.setFont(BOLD, 9)
        c.drawString(self.margin, self.height - 10 * MM, plain(self.title))
        c.setFont(FONT, 8)
        c.setFillColor(GREY)
        c.drawRightString(self.width - self.margin, self.height - 10 * MM, f"page {self.page}")
        if self.flag and self.page > 1:
            c.setFillColor(BRICK)
            c.drawRightString(self.width - self.margin, self.height - 14 * MM, plain(self.flag))
            c.setFillColor(GREY)
        for n, line in enumerate(wrapped(self.footer, FONT, 6.5, self.width - 2 * self.margin)):
            c.setFont(FONT, 6.5)
            c.drawString(self.margin, 11 * MM - 7.5 * n, line)
        self.y = self.height - 18 * MM

    def start_page(self) -> None:
        """A page of its own, unless nothing stands on this one yet."""
        if self.y < self.height - 18 * MM:
            self.new_page()

    def need(self, points: float) -> None:
        """Start a new page unless this much room is left."""
        if self.y - points < 16 * MM:
            self.new_page()

    def heading(self, text: str, size: float = 13) -> None:
        """A heading, never alone at the foot of a page."""
        self.need(size * 3 + 48)
        self.y -= size * 1.4
        self.canvas.setFont(BOLD, size)
        self.canvas.setFillColor(INK)
        self.canvas.drawString(self.margin, self.y, plain(text))
        self.y -= size * 0.6

    def said(self, text: str, beside: bool = False) -> str:
        """A text with its figures in the job's units."""
        return in_words(text, self.system, self.nearest, beside, self.names)

    def paragraph(
        self,
        text: str,
        size: float = 9,
        colour: Color = INK,
        font: str = FONT,
        indent: float = 0.0,
        beside: bool = False,
    ) -> None:
        """Wrapped text, its figures in the job's units; ``beside``: the metric ones kept, the others in
        brackets.
        """
        for line in wrapped(self.said(text, beside), font, size, self.width - 2 * self.margin - indent):
            self.need(size * 1.35)
            self.y -= size * 1.35
            self.canvas.setFont(font, size)
            self.canvas.setFillColor(colour)
            self.canvas.drawString(self.margin + indent, self.y, line)

    def gap(self, points: float) -> None:
        """White space."""
        self.y -= points

    def table(
        self,
        head: Sequence[str],
        rows: Sequence[Sequence[str]],
        widths: Sequence[float],
        size: float = 8,
        right: Sequence[int] = (),
    ) -> None:
        """A table; ``widths`` are shares of the text width; cells wrap; the head repeats on each page."""
        total = self.width - 2 * self.margin
        edges = [self.margin]
        for w in widths:
            edges.append(edges[-1] + total * w / sum(widths))

        def draw(cells: Sequence[str], bold: bool) -> None:
            font = BOLD if bold else FONT
            split = [
                wrapped(self.said(c), font, size, edges[k + 1] - edges[k] - 5) or ("",)
                for k, c in enumerate(cells)
            ]
            high = max(len(s) for s in split) * size * 1.25 + 4
            if not bold and self.y - high < 16 * MM:
                self.new_page()
                draw(head, True)
            self.canvas.setFillColor(INK)
            self.canvas.setFont(font, size)
            for k, lines in enumerate(split):
                for n, line in enumerate(lines):
                    y = self.y - size - n * size * 1.25
                    if k in right:
                        self.canvas.drawRightString(edges[k + 1] - 5, y, line)
                    else:
                        self.canvas.drawString(edges[k], y, line)
            self.y -= high
            self.canvas.setStrokeColor(INK if bold else PALE)
            self.canvas.setLineWidth(0.8 if bold else 0.5)
            self.canvas.line(edges[0], self.y, edges[-1], self.y)

        self.need(size * 5)
        draw(head, True)
        for row in rows:
            draw(row, False)

    def finish(self) -> bytes:
        """The PDF."""
        self.canvas.showPage()
        self.canvas.save()
        return self.buffer.getvalue()

    def length(self, value_mm: float) -> str:
        """A length in the job's units."""
        return show_length(value_mm, self.system, self.nearest)

    def leg(self, value_mm: float) -> str:
        """A weld's leg as a gauge has it."""
        return show_leg(value_mm, self.system)


def _run(points: NDArray[np.float64], first: str, rest: str) -> str:
    """Points (n, 2) as a path begins and goes on, in a page's own language."""
    words = f"%.2f %.2f {first} " + f"%.2f %.2f {rest} " * (len(points) - 1)
    return words % tuple(points.ravel())


def _written(c: Canvas, words: str) -> None:
    """Thousands of lines at once, written as a page's content stream has them: number by number through the
    canvas they take most of a packet's time.
    """
    c._code.append(words)


PAPERS = {"A4": A4, "Letter": letter}


class Elevation:
    """An elevation on paper: world millimetres to points, parts drawn back to front so that near ones hide
    far ones.
    """

    def __init__(self, assembly: Assembly, view: View) -> None:
        self.assembly, self.view = assembly, view
        self.pieces = bodies.elevation(assembly, view)
        every = np.concatenate([p for piece in self.pieces for p in piece.polygons])
        self.low, self.high = every.min(axis=0), every.max(axis=0)
        self.axes = [np.array(a, dtype=float) for a in bodies.view_axes(view)[:2]]

    def fit(self, x: float, y: float, width: float, height: float, border: float = 60) -> float:
        """Place the drawing in a box of points; returns the scale in points per mm."""
        span = self.high - self.low
        self.scale = float(min((width - 2 * border) / span[0], (height - 2 * border) / span[1]))
        self.offset = np.array([x + width / 2, y + height / 2]) - (self.low + self.high) / 2 * self.scale
        return self.scale

    def at(self, point: Sequence[float]) -> tuple[float, float]:
        """A world point in page points."""
        p = np.asarray(point, dtype=float)
        u, v = float(p @ self.axes[0]), float(p @ self.axes[1])
        return u * self.scale + float(self.offset[0]), v * self.scale + float(self.offset[1])

    def page(self, uv: NDArray[np.float64]) -> NDArray[np.float64]:
        """View coordinates (n, 2) in page points."""
        out: NDArray[np.float64] = uv * self.scale + self.offset
        return out

    def draw(self, c: Canvas) -> None:
        """Fill silhouettes and stroke edges, farthest piece first."""
        c.setLineJoin(1)
        for piece in self.pieces:
            c.setFillColor(WHITE)
            c.setStrokeColor(INK)
            c.setLineWidth(0.7)
            rings = [self.page(polygon) for polygon in piece.polygons]
            _written(c, "".join(f"{_run(r, 'm', 'l')}h " for r in rings) + "B*")
            c.setLineWidth(0.25)
            ends = np.hstack([self.page(piece.edges[:, :2]), self.page(piece.edges[:, 2:])])
            if len(ends):
                _written(c, ("%.2f %.2f m %.2f %.2f l " * len(ends)) % tuple(ends.ravel()) + "S")

    def dimension(self, c: Canvas, d: Dimension, text: str) -> None:
        """A dimension line with ticks, outside the part on its own row."""
        (ax, ay), (bx, by) = self.at(d.a), self.at(d.b)
        (x0, y0), (x1, y1) = self.page(np.stack([self.low, self.high]))
        c.setStrokeColor(GREY)
        c.setFillColor(INK)
        c.setLineWidth(0.4)
        c.setFont(FONT, 7.5)
        away = 14 + 13 * d.row
        if abs(bx - ax) >= abs(by - ay):
            y = y0 - away if d.side == "low" else y1 + away
            c.line(ax, ay, ax, y - 3 if d.side == "low" else y + 3)
            c.line(bx, by, bx, y - 3 if d.side == "low" else y + 3)
            c.line(ax, y, bx, y)
            ticks, middle = ((ax, y), (bx, y)), ((ax + bx) / 2, y)
        else:
            x = x0 - away if d.side == "low" else x1 + away
            c.line(ax, ay, x - 3 if d.side == "low" else x + 3, ay)
            c.line(bx, by, x - 3 if d.side == "low" else x + 3, by)
            c.line(x, ay, x, by)
            ticks, middle = ((x, ay), (x, by)), (x, (ay + by) / 2)
        c.setStrokeColor(INK)
        for tx, ty in ticks:
            c.line(tx - 2, ty - 2, tx + 2, ty + 2)
        wide = c.stringWidth(plain(text), FONT, 7.5) + 3
        c.saveState()
        c.translate(*middle)
        if ticks[0][0] == ticks[1][0]:
            c.rotate(90)
        c.setFillColor(WHITE)
        c.rect(-wide / 2, -4, wide, 8, stroke=0, fill=1)
        c.setFillColor(INK)
        c.drawCentredString(0, -2.6, plain(text))
        c.restoreState()
