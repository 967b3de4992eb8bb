"""True-size paper templates of the plates: 1:1 with check bars, tiled with overlap and marks where wider
than the paper.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from reportlab.lib.pagesizes import A4, letter

from urial.assembly.model import Part
from urial.geometry.flat import flat, fold_marks
from urial.geometry.outline import bounds, flatten
from urial.geometry.shape import Plate
from urial.making.drawings import side
from urial.papers.pdf import BLUE, BOLD, FONT, GREY, INK, MM, Pages, plain

PAPER = {"A4": A4, "Letter": letter}
OVERLAP = 12.0  # mm
MARGIN = 12.0
TOP = 22.0
FOOT = 34.0


def tiles(shape: Plate, paper: str = "A4") -> tuple[int, int, float, float]:
    """Columns and rows of sheets, and the width and height in mm each of them shows."""
    wide, high = PAPER[paper][0] / MM - 2 * MARGIN, PAPER[paper][1] / MM - TOP - FOOT
    u0, v0, u1, v1 = bounds(shape.outline)

    def count(size: float, room: float) -> int:
        return 1 if size <= room else math.ceil((size - OVERLAP) / (room - OVERLAP))

    return count(u1 - u0, wide), count(v1 - v0, high), wide, high


@dataclass(frozen=True)
class Lie:
    """How a plate on its template lies on the host: which side the drawn face looks to, and the ways FRONT,
    UP or LEFT are on the sheet (unit directions); ``mirror``: one more is cut mirrored."""

    face: str
    ways: tuple[tuple[str, float, float], ...]
    mirror: bool = False

    @property
    def words(self) -> str:
        """For the sheet's foot."""
        return f"The face you see looks to the {self.face}." + (
            " Cut one as drawn and one MIRRORED (turn the paper over)." if self.mirror else ""
        )


def lie_of(part: Part, mirror: bool = False) -> Lie:
    """The lie of a plate in its place."""
    assert isinstance(part.shape, Plate)
    here = part.place @ part.shape.place
    ways: list[tuple[str, float, float]] = []
    for name, d in (("FRONT", (1.0, 0.0, 0.0)), ("UP", (0.0, 0.0, 1.0)), ("LEFT", (0.0, 1.0, 0.0))):
        u, v = (sum(a * b for a, b in zip(d, axis, strict=True)) for axis in (here.x, here.y))
        if math.hypot(u, v) > 0.5 and len(ways) < 2:
            ways.append((name, u / math.hypot(u, v), v / math.hypot(u, v)))
    return Lie(side(here.z), tuple(ways), mirror)


def _ways(pages: Pages, lie: Lie) -> None:
    """Arrows that say which way is FRONT and which is UP."""
    c, x, y = pages.canvas, pages.width - 32 * MM, 18 * MM
    c.setStrokeColor(BLUE)
    c.setFillColor(BLUE)
    c.setLineWidth(1.2)
    c.setFont(BOLD, 8)
    c.drawString(MARGIN * MM, 30.5 * MM, plain(lie.words))
    c.setFont(BOLD, 9)
    for name, u, v in lie.ways:
        tip = (x + 26 * u, y + 26 * v)
        c.line(x, y, *tip)
        for bent in (2.6, -2.6):
            c.line(
                *tip,
                tip[0] + 7 * (u * math.cos(bent) - v * math.sin(bent)),
                tip[1] + 7 * (u * math.sin(bent) + v * math.cos(bent)),
            )
        c.drawCentredString(x + 42 * u, y + 38 * v - 3, name)


def add_template(
    pages: Pages, shape: Plate, mark: str, note: str, paper: str = "A4", lie: Lie | None = None
) -> None:
    """Draw a plate at 1:1 on as many sheets as it takes, each with a 100 mm and a 4 in check bar; ``lie``
    says how it lies on the host."""
    columns, rows, wide, high = tiles(shape, paper)
    u0, v0, u1, v1 = bounds(shape.outline)
    for row in range(rows):
        for column in range(columns):
            pages.new_page()
            left = u0 + column * (wide - OVERLAP) if columns > 1 else u0 - (wide - (u1 - u0)) / 2
            low = v0 + row * (high - OVERLAP) if rows > 1 else v0 - (high - (v1 - v0)) / 2
            _sheet(pages, shape, mark, note, (left, low, wide, high), ((column, row), (columns, rows)))
            if lie is not None:
                _ways(pages, lie)


def _sheet(
    pages: Pages,
    shape: Plate,
    mark: str,
    note: str,
    window: tuple[float, float, float, float],
    grid: tuple[tuple[int, int], tuple[int, int]],
) -> None:
    """One sheet: what of the plate lies in the window (left, low, width, height; mm), the sheet's place in
    the grid and the grid's size.
    """
    c, (left, low, wide, high), (tile, count) = pages.canvas, window, grid

    def at(u: float, v: float) -> tuple[float, float]:
        return (MARGIN + u - left) * MM, (FOOT + v - low) * MM

    c.saveState()
    seen = c.beginPath()
    seen.rect(MARGIN * MM, FOOT * MM, wide * MM, high * MM)
    c.clipPath(seen, stroke=0)
    c.setStrokeColor(INK)
    c.setLineWidth(0.6)
    for ring in (shape.outline, *shape.openings):
        corners = [at(u, v) for u, v in flatten(ring, math.radians(2))]
        path = c.beginPath()
        path.moveTo(*corners[0])
        for p in corners[1:]:
            path.lineTo(*p)
        path.close()
        c.drawPath(path)
    for n, (u, v, d) in enumerate(sorted(shape.holes, key=lambda h: (round(h[1], 1), h[0])), 1):
        x, y = at(u, v)
        c.circle(x, y, d / 2 * MM)
        for dx, dy in ((d * 0.9, 0.0), (0.0, d * 0.9)):
            c.line(x - dx * MM, y - dy * MM, x + dx * MM, y + dy * MM)
        c.setFont(FONT, 7)
        c.drawString(x + d / 2 * MM + 3, y + d / 2 * MM + 2, plain(f"H{n}  {pages.length(d)}"))
    c.setDash(8, 3)
    c.setStrokeColor(GREY)
    for x0, y0, x1, y1 in shape.centre_lines + flat(shape).bend_lines:
        c.line(*at(x0, y0), *at(x1, y1))
    c.setDash()
    c.setFillColor(INK)
    c.setFont(FONT, 7)
    for n, bend in enumerate(fold_marks(shape), 1):
        c.saveState()
        c.translate(*at(*bend.at))
        turn = math.remainder(bend.runs, math.pi)  # read from below or from the right
        c.rotate(math.degrees(turn))
        c.drawCentredString(0.0, 3.0, plain(bend.words(n, pages.length)))
        c.restoreState()
    middle = np.mean(flatten(shape.outline), axis=0)
    c.setFillColor(BLUE)
    c.setFont(BOLD, 12)
    c.drawCentredString(*at(float(middle[0]), float(middle[1]) - 14), mark)
    c.restoreState()
    _registration(pages, (wide, high), tile, count)
    _check_bars(pages)
    c.setFillColor(INK)
    c.setFont(BOLD, 9)
    part = f", sheet {tile[0] + 1 + tile[1] * count[0]} of {count[0] * count[1]}" if count != (1, 1) else ""
    pages.y = pages.height - 14 * MM
    pages.paragraph(
        f"Template {mark}: {note}{part}. Print at 100 %, no fitting; measure both bars before cutting.", 8.5
    )


def _registration(
    pages: Pages, room: tuple[float, float], tile: tuple[int, int], count: tuple[int, int]
) -> None:
    """Crosses on the overlaps: those of neighbouring sheets fall on each other."""
    if count == (1, 1):
        return
    c, (wide, high) = pages.canvas, room
    c.setStrokeColor(BLUE)
    c.setLineWidth(0.4)
    for x in [OVERLAP / 2] * (tile[0] > 0) + [wide - OVERLAP / 2] * (tile[0] < count[0] - 1):
        for y in (high * 0.25, high * 0.75):
            _cross(pages, x, y)
    for y in [OVERLAP / 2] * (tile[1] > 0) + [high - OVERLAP / 2] * (tile[1] < count[1] - 1):
        for x in (wide * 0.25, wide * 0.75):
            _cross(pages, x, y)


def _cross(pages: Pages, x: float, y: float) -> None:
    px, py = (MARGIN + x) * MM, (FOOT + y) * MM
    pages.canvas.line(px - 9, py, px + 9, py)
    pages.canvas.line(px, py - 9, px, py + 9)
    pages.canvas.circle(px, py, 5)


def _check_bars(pages: Pages) -> None:
    c, x = pages.canvas, MARGIN * MM
    c.setStrokeColor(INK)
    c.setFillColor(INK)
    for y, size, words, parts in ((26 * MM, 100 * MM, "100 mm", 10), (20 * MM, 4 * 72.0, "4 in", 4)):
        c.setLineWidth(0.8)
        c.line(x, y, x + size, y)
        for n in range(parts + 1):
            c.line(x + size * n / parts, y, x + size * n / parts, y + (6 if n in (0, parts) else 3))
        c.setFont(FONT, 8)
        c.drawString(x + size + 6, y - 1, words)
