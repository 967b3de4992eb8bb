"""What it is made of: parts, holes of the plates, what to buy."""

from __future__ import annotations

from urial import units
from urial.geometry import slotted
from urial.geometry.shape import Bar
from urial.making.buying import KERF, SCRAP, TRIM, buying_list
from urial.making.drawings import drawings
from urial.making.parts import torque_note
from urial.papers.pdf import (
    GREY,
    Pages,
)
from urial.papers.section import Shown, section
from urial.papers.sold import as_sold, bar_length, stock


@section("parts", 60)
def parts(p: Pages, s: Shown) -> None:
    """The parts list."""
    v, rows = s.verdict, s.rows
    p.start_page()
    p.heading("Parts")
    body = [
        [
            r.mark,
            as_sold(p, r.name) if r.hardware else r.name,
            stock(p, r.stock),
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
    """What the drill does, a bit at a time: which holes of which piece; where they lie is on its drawing."""
    by_size: dict[tuple[float, str], list[tuple[str, int]]] = {}
    for d in drawings(s.verdict.assembly, s.rows, s.shop):
        own: dict[tuple[float, str], list[str]] = {}
        for f in d.features:
            if f.which[0] == "H":
                own.setdefault((round(f.size("⌀"), 2), f.words.split("; ")[-1]), []).append(f.which)
        for key, names in own.items():
            said = ", ".join(names) if len(names) < 4 else f"{names[0]} to {names[-1]}"
            by_size.setdefault(key, []).append(
                (f"{d.mark} {said}" + (f" ({d.qty} ×)" if d.qty > 1 else ""), len(names) * d.qty)
            )
    if not by_size:
        return
    p.heading("At the drill, a bit at a time", 11)
    body = [
        [p.length(size), str(sum(n for _, n in where)), "; ".join(w for w, _ in where), how]
        for (size, how), where in sorted(by_size.items())
    ]
    p.table(["size", "holes", "where", "how"], body, [0.8, 0.5, 3.4, 2.6], 8, right=(0, 1))
    p.paragraph("Where each lies is on the piece's drawing, from its own datum.", 8, GREY)


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
                as_sold(p, b.stock),
                b.material,
                f"{len(b.bars)} × {bar_length(p, b.length)}",
                f"{cuts}; left over {p.length(b.left)}",
            ]
        )
    for sheet in found.sheets:
        long, wide = max(a for _, a, _ in sheet.pieces), max(c for _, _, c in sheet.pieces)
        area = p.said(f"{sheet.area / 1e6:.2f} m²")
        body.append(
            [
                stock(p, sheet.stock),
                sheet.material,
                area,
                f"{len(sheet.pieces)} pieces, the largest {p.length(long)} × {p.length(wide)}",
            ]
        )
    body += [[as_sold(p, name), "", str(count), ""] for name, count in found.hardware]
    p.table(["what", "steel", "buy", "cut from it"], body, [2.2, 1.6, 1.1, 4], 8)
    p.paragraph(
        f"Saw cut {KERF:.0f} mm, {TRIM:.0f} mm trimmed off each bought length. Sheet with "
        f"{100 * (SCRAP - 1):.0f} % over the rectangles.",
        8,
        GREY,
    )
