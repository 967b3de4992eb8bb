"""The shop packet: cover with caution and basis, dimensioned elevations, parts, load chain, every check
with its working.
"""

from __future__ import annotations

import contextlib
import ctypes
import json
import math
import os
import shutil
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from reportlab.lib.colors import Color

from urial import units
from urial.assembly import bodies
from urial.assembly.model import View
from urial.families import set_up
from urial.geometry import flat, slotted
from urial.geometry.outline import bounds
from urial.geometry.shape import Bar, Plate
from urial.job import edit, origin
from urial.job.file import FileError, os_words, write_atomically
from urial.job.model import Job
from urial.loads import duties, towing
from urial.loads.classes import reads_as
from urial.making.buying import KERF, SCRAP, TRIM, buying_list
from urial.making.parts import Row, parts_list, sold_as, torque_note
from urial.making.welds import WeldRow, weld_plan
from urial.measure import agree
from urial.papers import dxf, tables, templates
from urial.papers.host_cuts import add_trims, cut_pieces
from urial.papers.pdf import (
    BOLD,
    BRICK,
    FONT,
    GREY,
    INK,
    MM,
    OCHRE,
    PALE,
    PAPERS,
    SLATE,
    WHITE,
    Elevation,
    Pages,
    plain,
    wrapped,
)
from urial.papers.survey_sheet import add_survey, hatch
from urial.papers.together_page import add_together, known
from urial.prove.prooftest import proof_tests
from urial.prove.verdict import CAUTION, Verdict

VIEW_TITLES: dict[View, str] = {"side": "Side, from the left", "rear": "Rear", "top": "Top"}


@dataclass(frozen=True)
class Packet:
    """File name → bytes of everything a sheet writes."""

    files: dict[str, bytes]


def tone(utilisation: float) -> Color:
    """Colour of a utilisation; the figure always stands beside it."""
    return BRICK if utilisation >= 1 else OCHRE if utilisation >= 0.7 else SLATE


def _cover(p: Pages, v: Verdict, mass: float) -> None:
    """What, for whom, when, which revision; the sketch; does it hold; the weak link; what was assumed; who
    signs.
    """
    job, worst = v.job, v.weak_link
    p.heading(job.title, 20)
    what = job.duty.trailer_name if job.duty.towed else ", ".join(d.title for d in job.duties)
    p.paragraph(f"{job.vehicle.name} · {what}" + (f" · for {job.customer}" if job.customer else ""), 11, GREY)
    date = job.date or p.when.strftime("%Y-%m-%d")
    p.paragraph(
        " · ".join(
            x
            for x in (
                f"revision {job.revision}" if job.revision else "no revision given",
                date,
                f"drawn by {job.drawn}" if job.drawn else "",
            )
            if x
        ),
        9,
        GREY,
    )
    _sketch(p, v)
    verdict = (
        ("It holds" if not v.unchecked else f"What is judged holds; {len(v.unchecked)} not judged")
        if v.holds
        else f"Short in {len(v.short)} place{'s' if len(v.short) > 1 else ''}"
    )
    p.paragraph(verdict, 18, BRICK if not v.holds else INK, BOLD)
    p.paragraph(
        f"Weakest link of the part: {worst.name}, {100 * worst.utilisation:.0f} % in “{worst.case}”.", 11
    )
    p.gap(4)
    p.paragraph(CAUTION, 9, BRICK)
    _unmeasured(p, v)
    _signatures(p, v)
    if job.notes:
        p.heading("Notes", 11)
        for line in job.notes.splitlines():
            p.paragraph(line, 9)
    basis = {
        "ASD": "ASD: real forces against strength divided by its factor Ω",
        "LRFD": "LRFD: loads × 1.6 against φ × strength",
        "FoS": f"plain factor {job.proof.factor_of_safety:g} on yield",
    }[v.basis.name]

    def show(value: float, kind: units.Kind) -> str:
        return units.show(value, kind, job.units, job.nearest)

    p.gap(6)
    p.table(
        ["Basis", ""],
        [
            [
                "strength",
                f"{basis}; AISC 360-22 and the clauses named at each check. Weld groups: "
                f"{job.proof.weld_method}. Plates on the rails: {job.proof.foot}.",
            ],
            *_towed(v, show),
            ["the part weighs", f"{show(mass, 'mass')} with hardware"],
            [
                "centre of mass",
                "{} behind the rear axle, {} above ground".format(
                    *(
                        show(x, "length")
                        for x in (-bodies.centre_of_mass(v.assembly)[0], bodies.centre_of_mass(v.assembly)[2])
                    )
                ),
            ],
            *([["set up", "; ".join(set_up(job))]] if set_up(job) else []),
            *([["bolts", note]] if (note := torque_note(v.assembly)) else []),
        ],
        [1, 4],
        9,
    )
    if v.warnings:
        p.heading("Mind", 11)
        for w in v.warnings:
            p.paragraph("· " + w, 9)
    _changed_factors(p, v)
    where = ""
    if any(c.field for c in v.cases):  # the trailer itself
        where = ", at the coupler or of the cargo, all together"
    elif job.duty.towed:
        where = ", at the ball, the chains and the receiver's mouth"
    p.heading(f"Load cases{where}", 11)
    rows = []
    for case in v.cases:
        force = [math.fsum(f[k] for _, f in v.places(case)) for k in range(3)]
        rows.append(
            [
                case.title + (" (changed)" if case.changed else ""),
                *(units.show(f, "force", job.units) for f in force),
                case.reason,
            ]
        )
    for duty in v.repeated:
        for swing in duty.swings:
            rows.append(
                [
                    f"{duty.id}, {swing.row.id}",
                    *(f"± {units.show(f, 'force', job.units)}" if f else "" for f in swing.half),
                    f"{duty.cycles / 1e6:g} million times. {swing.row.reason}",
                ]
            )
    p.table(["case", "along", "across", "up", "why"], rows, [1.6, 0.9, 0.9, 0.9, 4], 7.5, right=(1, 2, 3))


SKETCH = 165.0
"""Height of the first page's sketch, points."""


def _sketch(p: Pages, v: Verdict) -> None:
    """The part from the side, small, with its marks."""
    p.need(SKETCH + 20)
    drawing = Elevation(v.assembly, "side")
    drawing.fit(p.margin, p.y - SKETCH, p.width - 2 * p.margin, SKETCH, border=14)
    drawing.draw(p.canvas)
    p.y -= SKETCH + 6


def _signatures(p: Pages, v: Verdict) -> None:
    """Lines to sign on."""
    p.need(46)
    p.gap(26)
    c, step = p.canvas, (p.width - 2 * p.margin) / 3
    c.setStrokeColor(INK)
    c.setLineWidth(0.6)
    c.setFillColor(GREY)
    c.setFont(FONT, 8)
    for n, (words, name) in enumerate((("drawn", v.job.drawn), ("checked", v.job.checked), ("date", ""))):
        x = p.margin + n * step
        c.line(x, p.y, x + step - 16, p.y)
        c.drawString(x, p.y - 10, plain(f"{words}: {name}" if name else words))
    p.y -= 16


def _unmeasured(p: Pages, v: Verdict) -> None:
    """What nobody measured, what only a simulated instrument read, and whether the survey agrees with
    itself.
    """
    job = v.job
    if agree.contradicts(job):
        p.heading("The survey contradicts itself", 11)
        p.paragraph(f"{agree.cross_check(job).words} Measure again before steel is cut.", 9, BRICK)
    for paths, head, why in (
        (
            origin.assumed(job),
            "Assumed, not measured",
            "Starting values that nobody has typed or measured; every figure of this packet rests on them.",
        ),
        (
            origin.simulated(job),
            "From a simulated instrument",
            "These readings were made up to try the instruments out; they measure nothing.",
        ),
    ):
        if paths:
            p.heading(head, 11)
            p.paragraph(why, 9, BRICK)
            p.paragraph(
                "; ".join(f"{edit.spec_of(job, path).title} {edit.shown(job, path)}" for path in paths) + ".",
                8,
            )


def _towed(v: Verdict, show: Callable[[float, units.Kind], str]) -> list[list[str]]:
    """The trailer's figures, where one is towed."""
    job = v.job
    if not job.duty.towed:
        return []
    c, advice = towing.coupling(job), towing.tongue_advice(job)
    return [
        ["trailer, loaded", show(job.duty.trailer_mass_kg, "mass")],
        ["reads as", reads_as(job)],
        ["tongue weight", f"{show(job.duty.tongue_mass_kg, 'mass')}: {advice.words}"],
        [
            "coupling values",
            f"D {c.D:.2f} kN, Dc {c.Dc:.2f} kN, V {c.V:.2f} kN, S {c.S:.2f} kN (UN R55), of {c.words}",
        ],
    ]


def _changed_factors(p: Pages, v: Verdict) -> None:
    """Duties beside the trailer, and every factor that is not the policy's own."""
    job = v.job
    if job.duties:
        p.heading("Duties beside the trailer" if job.duty.towed else "Duties", 11)
        p.table(
            ["duty", "kind", "hardest case"],
            [
                [
                    d.title,
                    d.kind,
                    max(
                        (c for c in duties.duty_cases(job.model_copy(update={"duties": (d,)}), v.assembly)),
                        key=lambda c: max(sum(x * x for x in q.force) for q in c.pulls),
                    ).title,
                ]
                for d in job.duties
            ],
            [1.5, 1, 3],
            8.5,
        )
    rows = []
    for where, factors, policies in (
        ("towing", job.duty.factors, {r.id: r.factors for r in towing.policy()}),
        *((d.title, d.factors, {r.id: r.factors for r in duties.policy()[d.kind]}) for d in job.duties),
    ):
        for key, value in factors.items():
            row, name = key.rsplit("/", 1)
            own = policies.get(row, {}).get(name)
            rows.append([where, row, name, f"{value:g}", f"{own:g}" if own is not None else "none"])
    if rows:
        p.heading("Factors changed from the policy", 11)
        p.table(
            ["duty", "case", "factor", "here", "policy"], rows, [1.5, 1.5, 1, 0.7, 0.7], 8.5, right=(3, 4)
        )


def _elevations(p: Pages, v: Verdict) -> None:
    job = v.job
    for view in ("side", "rear", "top"):
        p.new_page()
        p.heading(VIEW_TITLES[view])
        drawing = Elevation(v.assembly, view)
        scale = drawing.fit(p.margin, 30 * MM, p.width - 2 * p.margin, p.y - 40 * MM)
        hatch(drawing, p, job)
        drawing.draw(p.canvas)
        for d in v.assembly.dimensions:
            if view in d.views:
                size = abs({"x": d.b[0] - d.a[0], "y": d.b[1] - d.a[1], "z": d.b[2] - d.a[2]}[d.axis])
                drawing.dimension(
                    p.canvas, d, f"{d.name} {units.show(size, 'length', job.units, job.nearest)}"
                )
        _marks(p, v, drawing)
        p.canvas.setFont(FONT, 8)
        p.canvas.setFillColor(GREY)
        p.canvas.drawString(
            p.margin,
            20 * MM,
            f"scale 1 : {units.figure(MM / scale, 1)} on this page; work to the figures, not the drawing",
        )


def _marks(p: Pages, v: Verdict, drawing: Elevation) -> None:
    """The marks of the parts list on the parts of a drawing, each once, clear of each other."""
    taken: list[tuple[float, float]] = []
    said: set[str] = set()
    c = p.canvas
    for part in v.assembly.parts:
        if part.mark in said:
            continue
        said.add(part.mark)
        low, high = bodies.corners(part)
        x, y = drawing.at([(a + b) / 2 for a, b in zip(low, high, strict=True)])
        bx, by = x, y
        for k in range(1, 60):
            if all(abs(bx - tx) > 17 or abs(by - ty) > 12 for tx, ty in taken):
                break
            bx, by = x + 3.2 * k**0.8 * math.cos(2.4 * k), y + 3.2 * k**0.8 * math.sin(2.4 * k)
        taken.append((bx, by))
        c.setStrokeColor(GREY)
        c.setLineWidth(0.4)
        if math.hypot(bx - x, by - y) > 8:
            c.line(x, y, bx, by)
        c.setFillColor(WHITE)
        c.setStrokeColor(INK)
        c.roundRect(bx - 8, by - 5, 16, 10, 5, stroke=1, fill=1)
        c.setFillColor(INK)
        c.setFont(BOLD, 6.5)
        c.drawCentredString(bx, by - 2.4, plain(part.mark))


def _symbol(p: Pages, row: WeldRow, x: float, y: float, to_right: bool) -> None:
    """A weld symbol on its reference line: fillet or flare on one side or both, its leg, the ring of
    all-round, the number.
    """
    c, way = p.canvas, 1.0 if to_right else -1.0
    end = x + way * 78
    c.setStrokeColor(INK)
    c.setFillColor(INK)
    c.setLineWidth(0.7)
    c.line(x, y, end, y)
    at = x + way * 34
    for side in (1, -1) if row.both_sides else (-1,):
        if row.kind == "plug":
            c.rect(at - 5, y if side > 0 else y - 7, 10, 7, stroke=1, fill=0)
        elif row.kind == "butt":
            for off in (-2, 2):
                c.line(at + off, y, at + off, y + side * 8)
        elif row.kind == "flare-bevel":
            c.line(at - 4, y, at - 4, y + side * 8)
            c.arc(at, min(y, y + side * 8), at + 12, max(y, y + side * 8), 90 if side > 0 else 180, 90)
        else:
            if row.kind == "bevel and fillet":  # the bevel nearest to the line, the fillet on it
                c.line(at + 6, y, at + 6, y + side * 8)
                c.line(at + 6, y, at + 13, y + side * 8)
            c.line(at - 4, y, at - 4, y + side * 8)
            c.line(at - 4, y + side * 8, at + 4, y)
    if row.all_round:
        c.circle(x, y, 3, stroke=1, fill=0)
    c.setFont(FONT, 7)
    size = p.length(row.leg)
    c.drawRightString(at - 7, y - 9, plain(size)) if to_right else c.drawString(at + 8, y - 9, plain(size))
    c.setFont(BOLD, 7)
    c.drawRightString(end - 2, y + 3, row.number) if to_right else c.drawString(end + 2, y + 3, row.number)


def _welds(p: Pages, v: Verdict) -> None:
    """The weld plan: every weld with its symbol on the side view, and the table."""
    plan = weld_plan(v.assembly)
    if not plan:
        return
    p.new_page()
    p.heading("Welds")
    p.paragraph(
        f"Electrode and process as the table says ({v.job.welding.process} throughout). Leg sizes are "
        "those of the finished bead; lengths are of all beads of one joint. "
        "An open ring: all round. Run a coupon in the same metal first.",
        9,
    )
    if v.job.welding.toes == "ground":
        p.paragraph(
            "Endurance counts on ground toes: every toe, on both metals, is ground smooth with a burr, half "
            "a millimetre into the metal, along the stress.",
            9,
            BRICK,
        )
    drawing, high = Elevation(v.assembly, "side"), 250.0
    p.gap(6)
    drawing.fit(p.margin + 90, p.y - high, p.width - 2 * p.margin - 180, high, border=6)
    drawing.draw(p.canvas)
    spots = sorted(((row, drawing.at(row.at[0])) for row in plan), key=lambda s: s[1][0])
    half = (len(spots) + 1) // 2
    for rows, x, right in (
        (spots[:half], p.margin + 82, False),
        (spots[half:], p.width - p.margin - 82, True),
    ):
        ordered = sorted(rows, key=lambda s: -s[1][1])
        step = high / max(len(ordered), 1)
        for n, (row, (wx, wy)) in enumerate(ordered):
            y = p.y - step * (n + 0.5)
            p.canvas.setStrokeColor(GREY)
            p.canvas.setLineWidth(0.4)
            p.canvas.line(x, y, wx, wy)
            p.canvas.circle(wx, wy, 1.2, stroke=0, fill=1)
            _symbol(p, row, x, y, right)
    p.y -= high + 12
    body = [
        [
            r.number,
            " + ".join(dict.fromkeys(r.marks)),
            r.what,
            r.kind,
            p.length(r.leg),
            r.where,
            p.length(r.length) if r.length else f"{r.beads} plugs",
            str(r.qty),
            r.electrode,
            "; ".join(x for x in (r.prep, r.note) if x),
        ]
        for r in plan
    ]
    p.table(
        ["no.", "marks", "joint", "type", "leg", "", "length", "qty", "filler", "prepare, note"],
        body,
        [0.5, 0.8, 1.9, 1.0, 0.75, 0.9, 0.95, 0.4, 0.6, 2.4],
        7,
        right=(4, 6, 7),
    )


def _holes(p: Pages, v: Verdict, rows: list[Row]) -> None:
    """Every plate's holes from its lower left corner, as it lies on its template and in its DXF."""
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


def _buying(p: Pages, v: Verdict, rows: list[Row]) -> None:
    """What to bring home from the merchant."""
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
    for s in found.sheets:
        long, wide = max(a for _, a, _ in s.pieces), max(c for _, _, c in s.pieces)
        area = p.said(f"{s.area / 1e6:.2f} m²")
        body.append(
            [
                _as_sold(p, s.stock) if sold_as(s.stock) else s.stock,
                s.material,
                area,
                f"{len(s.pieces)} pieces, the largest {p.length(long)} × {p.length(wide)}",
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


def _parts(p: Pages, v: Verdict, rows: list[Row]) -> None:
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


def _chain(p: Pages, v: Verdict) -> None:
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


def _unchecked(p: Pages, v: Verdict) -> None:
    """What no rule here knows: an inspector must judge it."""
    if v.unchecked:
        p.heading("Not judged by any rule here", 11)
        p.table(["part", "what"], [[u.part, u.what] for u in dict.fromkeys(v.unchecked)], [0.6, 5], 8.5)


def _workings(p: Pages, v: Verdict) -> None:
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


def _proof_test(p: Pages, v: Verdict) -> None:
    """How to try it before it is used, a test for each duty."""
    for n, test in enumerate(proof_tests(v)):
        if n == 0:
            p.new_page()
            p.heading("Proof test")
        p.need(120)
        p.y -= 6
        p.heading(test.case.title, 11)
        for line in test.loads:
            p.paragraph(f"· {line}", 9)
        for k, step in enumerate(test.steps, 1):
            p.paragraph(f"{k}  {step}", 9)
        blank = "load reached ____________   gauge under load ____________   left ____________   date, who"
        p.paragraph(blank, 9)
        p.y -= 8


def _flag(job: Job) -> str:
    """What every page must say of what it rests on."""
    count, made_up = len(origin.assumed(job)), len(origin.simulated(job))
    words = [
        *(["the survey contradicts itself"] if agree.contradicts(job) else []),
        *([f"{count} figure{'s' if count > 1 else ''} assumed, not measured"] if count else []),
        *([f"{made_up} from a simulated instrument"] if made_up else []),
    ]
    return f"{'; '.join(words)}: see page 1" if words else ""


def packet_pdf(v: Verdict, rows: list[Row], paper: str = "A4", when: datetime | None = None) -> bytes:
    """The packet as PDF, made ``when`` (now)."""
    mass = sum(r.mass_kg for r in rows)
    p = Pages(
        v.job.title,
        "Urial. " + CAUTION,
        v.job.units,
        v.job.nearest,
        PAPERS[paper],
        when or datetime.now(),
        flag=_flag(v.job),
    )
    _cover(p, v, mass)
    _elevations(p, v)
    add_survey(p, v.job, v.assembly)
    add_together(p, v, known(v))
    add_trims(p, v)
    _parts(p, v, rows)
    _holes(p, v, rows)
    _buying(p, v, rows)
    _welds(p, v)
    _chain(p, v)
    _unchecked(p, v)
    _proof_test(p, v)
    _workings(p, v)
    return p.finish()


def plate_pieces(v: Verdict, rows: list[Row]) -> list[tuple[str, Plate, str]]:
    """Mark, shape and label of every plate to cut; a mirror pair is drawn once."""
    out = []
    for r in rows:
        shape = v.assembly.by_key[r.parts[0]].shape
        if isinstance(shape, Plate):
            note = f"{r.qty} off, {r.stock}, {r.material}" + (
                ", one as drawn and one mirrored: mark the outer face of each" if r.mirror else ""
            )
            bends = f", bent in {len(shape.folds)} places" if len(shape.folds) > 1 else ", bent once"
            out.append((r.mark, shape, f"{r.name}, {note}{bends if shape.folds else ''}"))
    return out


def wrap_pieces(v: Verdict, rows: list[Row]) -> list[tuple[str, Plate, str]]:
    """Mark, sheet and label of the paper to wrap round every round end that is not cut square."""
    out = []
    for r in rows:
        shape = v.assembly.by_key[r.parts[0]].shape
        if isinstance(shape, Bar):
            for which, end in (("i", "first"), ("j", "second")):
                sheet = flat.wrap_paper(shape, which)
                if sheet is not None:
                    out.append(
                        (
                            f"{r.mark} {end} end",
                            sheet,
                            f"{r.name}, {r.qty} off. Wrap it round, print outside, straight edge "
                            "square to the tube; "
                            "the side edges of both ends' papers meet on one line along the tube; cut "
                            "along the curve",
                        )
                    )
    return out


def slot_pieces(v: Verdict, rows: list[Row]) -> list[tuple[str, Plate, str]]:
    """Mark, sheet and label of the paper to wrap round every bend that is made of slots."""
    out = []
    for r in rows:
        shape = v.assembly.by_key[r.parts[0]].shape
        if isinstance(shape, Bar):
            for words, sheet in flat.slot_papers(shape):
                note = (
                    f"{r.name}, {r.qty} off, {words}. Wrap it round the inside of the bend and both sides; "
                )
                out.append((f"{r.mark} slots", sheet, note + "the uncut face stays bare"))
    return out


def template_pdf(v: Verdict, rows: list[Row], paper: str = "A4") -> bytes:
    """All templates at 1:1: plates, papers to wrap round the ends of round tube and round slotted bends."""
    p = Pages(
        f"{v.job.title}: templates",
        "Urial. " + CAUTION,
        v.job.units,
        v.job.nearest,
        PAPERS[paper],
        flag=_flag(v.job).replace("page 1", "the packet's page 1"),
    )
    p.heading("True-size templates")
    p.paragraph(
        "Print at 100 %. Measure the 100 mm and the 4 in bar on every sheet before you cut. Glue "
        "tiled sheets cross on cross."
    )
    slots = cut_pieces(v.job)
    pieces = (
        plate_pieces(v, rows)
        + wrap_pieces(v, rows)
        + slot_pieces(v, rows)
        + [(s.mark, s.shape, s.note) for s in slots]
    )
    p.gap(8)
    sheets = [templates.tiles(s, paper) for _, s, _ in pieces]
    p.table(
        ["mark", "what", "sheets"],
        [[m, note, str(t[0] * t[1])] for (m, _, note), t in zip(pieces, sheets, strict=True)],
        [0.5, 5, 0.7],
    )
    lies = {
        r.mark: templates.lie_of(part, r.mirror)
        for r in rows
        if isinstance((part := v.assembly.by_key[r.parts[0]]).shape, Plate)
    }
    lies |= {s.mark: s.lie for s in slots}
    for mark, shape, note in pieces:
        templates.add_template(p, shape, mark, note, paper, lies.get(mark))
    return p.finish()


def outlines(v: Verdict, rows: list[Row]) -> list[tuple[str, str, Plate, str]]:
    """Name of the file, mark, shape and label of every outline to cut: plates, and slots in the host.  No two
    names are alike, also where capitals and small letters are one.
    """
    pieces = [*plate_pieces(v, rows), *((s.mark, s.shape, s.note) for s in cut_pieces(v.job))]
    return [(f"plate-{mark.replace(' ', '-')}.dxf", mark, shape, note) for mark, shape, note in pieces]


def packet(v: Verdict, paper: str = "A4", progress: Callable[[str], None] = lambda _: None) -> Packet:
    """Every file of the packet in memory: nothing half-written if one of them fails."""
    rows = parts_list(v.assembly)
    mass = sum(r.mass_kg for r in rows)
    files: dict[str, bytes] = {}
    progress("packet")
    files["packet.pdf"] = packet_pdf(v, rows, paper)
    progress("templates")
    files["templates.pdf"] = template_pdf(v, rows, paper)
    for name, mark, shape, note in outlines(v, rows):
        progress(f"plate {mark}")
        files[name] = dxf.plate_dxf(shape, [f"{mark}  {note}", v.job.title])
    files["parts.csv"] = tables.parts_csv(rows)
    files["results.json"] = (
        json.dumps(tables.results_json(v, rows, mass), indent=1, ensure_ascii=False) + "\n"
    ).encode()
    return Packet(files)


OURS = ("packet.pdf", "templates.pdf", "parts.csv", "results.json")


def earlier(folder: Path) -> list[Path]:
    """The files of a packet that lies in a folder; none where no packet does."""
    try:
        there = [folder / name for name in OURS if (folder / name).is_file()]
        return [*there, *sorted(folder.glob("plate-*.dxf"))] if len(there) >= 2 else []
    except OSError:
        return []


def somebody_elses(p: Packet, folder: Path) -> list[str]:
    """Names of files a packet would be written over that are none of an earlier packet's, which can be made
    again from its job at any time.
    """
    return [] if earlier(folder) else sorted(name for name in p.files if (folder / name).exists())


def _exchange(one: Path, other: Path) -> bool:
    """Let two folders change names in one step of the system; False where it has no such step."""
    try:
        swap = ctypes.CDLL(None, use_errno=True).renameat2
    except (OSError, AttributeError):
        return False
    here, exchange = -100, 2  # AT_FDCWD and RENAME_EXCHANGE of renameat2(2)
    return bool(swap(here, os.fsencode(one), here, os.fsencode(other), exchange) == 0)


def _ours(path: Path) -> bool:
    """Is it a file that packets are made of?"""
    return path.name in OURS or (path.name.startswith("plate-") and path.suffix == ".dxf")


def _sweep(place: Path, prefix: str) -> None:
    """Take away what a write that was killed an hour ago or more has left, and nothing else."""
    with contextlib.suppress(OSError):
        for path in place.iterdir():
            if path.name.startswith(prefix) and time.time() - path.stat().st_mtime > 3600:
                _discard(path)


def _discard(aside: Path) -> None:
    """Take away a folder of packet files; one that holds something else stays, with that in it."""
    with contextlib.suppress(OSError):
        for path in aside.iterdir():
            half = Path(path.name[1:].rpartition(".")[0])  # what a write calls its file until it is whole
            if _ours(path) or (path.name.startswith(".") and _ours(half)):
                path.unlink()
        aside.rmdir()


def _alone(folder: Path) -> bool:
    """Is the folder empty, or does it hold a packet and nothing else?  Never the one somebody stands in."""
    return folder != Path.cwd() and set(folder.iterdir()) == set(earlier(folder))


def write_packet(p: Packet, folder: Path) -> list[Path]:
    """Write the files into a folder: all of them aside first, so that a full disk leaves the earlier packet
    as it was.  An empty folder, or one that holds an earlier packet and nothing else, is changed for
    the new one in one step, so that not even a kill mixes the two; beside other files each is put in its
    place in turn.
    FileError with one sentence when the place will not take them.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
        real = folder.resolve()
        whole = _alone(real) and os.access(real.parent, os.W_OK)
        place, prefix = (real.parent, f".{real.name}.packet-") if whole else (real, ".packet-")
        _sweep(place, prefix)
        aside = Path(tempfile.mkdtemp(prefix=prefix, dir=place))
    except OSError as error:
        raise FileError(f"The folder {folder} cannot be made or written in: {os_words(error)}.") from None
    try:
        for name, data in p.files.items():
            write_atomically(aside / name, data)
        if whole:
            shutil.copymode(real, aside)
        if whole and _exchange(aside, real):
            for path in aside.iterdir():  # what somebody has put there while this was written
                if not _ours(path):
                    os.replace(path, real / path.name)
        else:
            old = [path for path in earlier(real) if path.name not in p.files]
            for name in p.files:
                os.replace(aside / name, real / name)
            for path in old:  # plates that the part no longer has
                path.unlink(missing_ok=True)
    except OSError as error:
        raise FileError(f"The packet could not be written to {folder}: {os_words(error)}.") from None
    finally:
        _discard(aside)
    return [folder / name for name in p.files]
