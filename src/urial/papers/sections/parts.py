"""What it is made of: parts, holes of the plates, what to buy."""

from __future__ import annotations

import math

from urial import units
from urial.geometry import flat, slotted
from urial.geometry.outline import bounds
from urial.geometry.shape import Bar
from urial.making.buying import KERF, SCRAP, TRIM, buying_list
from urial.making.parts import sold_as, torque_note
from urial.papers.pdf import (
    GREY,
    Pages,
)
from urial.papers.pieces_to_cut import plate_pieces
from urial.papers.section import Shown, section


@section("parts", 60)
def parts(p: Pages, s: Shown) -> None:
    """The parts list."""
    v, rows = s.verdict, s.rows
    p.new_page()
    p.heading("Parts")
    body = [
        [
            r.mark,
            _as_sold(p, r.name) if r.hardware else r.name,
            _as_sold(p, r.stock) if sold_as(r.stock) else r.stock,
            str(r.qty),
            p.length(r.cut_length_mm) if not r.hardware else "",
            p.length(r.width_mm) if r.plate else "",
            r.ends,
            "mirror pair" if r.mirror else "",
            units.show(r.mass_kg, "mass", v.job.units) if r.mass_kg >= 1 else p.said(f"{r.mass_kg:.2f} kg"),
        ]
        for r in rows
    ]
    p.table(
        ["mark", "part", "stock", "qty", "cut length", "width", "ends", "", "mass"],
        body,
        [0.5, 2.3, 1.7, 0.4, 1, 0.9, 0.7, 0.9, 0.8],
        8,
        right=(3, 4, 5, 8),
    )
    paint = sum(r.paint_mm2 for r in rows if not r.hardware) / 1e6
    p.paragraph(
        f"Total {sum(r.mass_kg for r in rows):.1f} kg. Surface to paint {paint:.2f} m² (inside of "
        "tubes included).",
        9,
    )
    if note := torque_note(v.assembly):
        p.paragraph(note, 9)
    for r in rows:
        shape = v.assembly.by_key[r.parts[0]].shape
        for n, row in enumerate(slotted.slot_rows(shape) if isinstance(shape, Bar) else (), 1):
            p.paragraph(f"{r.mark} {r.name}, bend {n}: {slotted.words(row)}.", 9)


@section("holes", 70)
def holes(p: Pages, s: Shown) -> None:
    """Every plate's holes from its lower left corner, as it lies on its template and in its DXF."""
    v, rows = s.verdict, s.rows
    body = []
    for mark, shape, note in plate_pieces(v, rows):
        u0, v0, _, _ = bounds(shape.outline)
        places = [
            (f"H{n}", p.length(u - u0), p.length(w - v0), p.length(d))
            for n, (u, w, d) in enumerate(sorted(shape.holes, key=lambda h: (round(h[1], 1), h[0])), 1)
        ]
        for n, window in enumerate(shape.openings, 1):
            a, c, e, g = bounds(window)
            size = f"{p.length(e - a)} × {p.length(g - c)}"
            places.append((f"W{n}", p.length((a + e) / 2 - u0), p.length((c + g) / 2 - v0), size))
        for n, bend in enumerate(flat.fold_marks(shape), 1):
            across = (-math.sin(bend.runs), math.cos(bend.runs))
            ends = [
                f"{p.length(at)} to {p.length(at + way * bend.wide)}" if abs(way) > 0.02 else "–"
                for at, way in zip((bend.at[0] - u0, bend.at[1] - v0), across, strict=True)
            ]
            way = "up" if bend.degrees > 0 else "down"
            size = f"{abs(bend.degrees):.4g}° {way}, R {p.length(bend.inside)}"
            places.append((f"B{n}", ends[0], ends[1], size))
        name = note.split(",")[0]
        body += [["" if n else mark, "" if n else name, *place] for n, place in enumerate(places)]
    if body:
        bent = any(row[2].startswith("B") for row in body)
        p.heading(f"Holes{' and bends' if bent else ''}, from the plate's lower left corner", 11)
        p.table(
            ["mark", "plate", "which", "from left", "from bottom", "size"],
            body,
            [0.6, 1.8, 0.6, 1.5, 1.5, 1.4],
            8,
            right=(3, 4, 5),
        )


@section("buying", 80)
def buying(p: Pages, s: Shown) -> None:
    """What to bring home from the merchant."""
    v, rows = s.verdict, s.rows
    found = buying_list(v.assembly, rows)
    p.heading("To buy", 11)
    body = []
    for b in found.bars:
        cuts = "; ".join(" + ".join(f"{mark} {p.length(size)}" for mark, size in one) for one in b.bars)
        body.append(
            [
                _as_sold(p, b.stock),
                b.material,
                f"{len(b.bars)} × {p.length(b.length)}",
                f"{cuts}; left over {p.length(b.left)}",
            ]
        )
    for sheet in found.sheets:
        long, wide = max(a for _, a, _ in sheet.pieces), max(c for _, _, c in sheet.pieces)
        area = p.said(f"{sheet.area / 1e6:.2f} m²")
        body.append(
            [
                _as_sold(p, sheet.stock) if sold_as(sheet.stock) else sheet.stock,
                sheet.material,
                area,
                f"{len(sheet.pieces)} pieces, the largest {p.length(long)} × {p.length(wide)}",
            ]
        )
    body += [[_as_sold(p, name), "", str(count), ""] for name, count in found.hardware]
    p.table(["what", "steel", "buy", "cut from it"], body, [2.2, 1.6, 1.1, 4], 8)
    p.paragraph(
        f"Saw cut {KERF:.0f} mm, {TRIM:.0f} mm trimmed off each bought length. Sheet with "
        f"{100 * (SCRAP - 1):.0f} % over the rectangles.",
        8,
        GREY,
    )


def _as_sold(p: Pages, name: str) -> str:
    """What is bought keeps the size it is sold by, the other system's beside it: M12 × 40 mm (1 9/16"); the
    thin space keeps the table from turning it into inches again.
    """
    return p.said(name, beside=True).replace(" mm", "\u202fmm")
