"""The shop packet: a PDF of registered sections, templates, outlines, tables."""

from __future__ import annotations

import contextlib
import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime

from urial.geometry.shape import Plate
from urial.job import origin, speech
from urial.job.model import Job
from urial.making.bends import NoBend
from urial.making.bent import bent_bars
from urial.making.drawings import drawing, drawings
from urial.making.parts import Row, parts_list
from urial.measure import agree
from urial.papers import dxf, svg, tables, templates
from urial.papers.host_cuts import cut_pieces
from urial.papers.labels import labels_pdf
from urial.papers.pdf import (
    PAPERS,
    Pages,
)
from urial.papers.pieces_to_cut import plate_pieces, slot_pieces, wrap_pieces
from urial.papers.section import Shown, chosen
from urial.prove.verdict import CAUTION, Verdict
from urial.shop.snapshot import Shop, usual


@dataclass(frozen=True)
class Packet:
    """File name → bytes of everything a sheet writes."""

    files: dict[str, bytes]


def _flag(job: Job) -> str:
    """What every page must say of what it rests on."""
    count, made_up = len(origin.assumed(job)), len(origin.simulated(job))
    words = [
        *(["the survey contradicts itself"] if agree.contradicts(job) else []),
        *([f"{count} figure{'s' if count > 1 else ''} assumed, not measured"] if count else []),
        *([f"{made_up} from a simulated instrument"] if made_up else []),
    ]
    return f"{'; '.join(words)}: see page 1" if words else ""


def packet_pdf(
    v: Verdict,
    rows: list[Row],
    paper: str = "A4",
    when: datetime | None = None,
    pages: Sequence[str] = (),
    shop: Shop | None = None,
    anew: bool = False,
) -> bytes:
    """The packet as PDF, made ``when`` (now): every section, or those named; ``anew``: it is handed on.
    KeyError for a name that is no section's.
    """
    p = Pages(
        v.job.title,
        "Urial. " + CAUTION,
        v.job.units,
        v.job.nearest,
        PAPERS[paper],
        when or datetime.now(),
        flag="of one vehicle: measure anew before anything is cut" if anew else _flag(v.job),
        names=speech.names(v.job),
    )
    shown = Shown(v, rows, shop or usual(), anew)
    for found in chosen(pages):
        found.add(p, shown)
    return p.finish()


def _rectangles(v: Verdict, rows: list[Row]) -> tuple[str, ...]:
    """Marks of plates that are rectangles without a hole or a bend: their line of the list says all."""
    made = (drawing(v.assembly, r, usual()) for r in rows)
    return tuple(d.mark for d in made if d is not None and d.kind == "plate" and not d.features)


def template_pdf(v: Verdict, rows: list[Row], paper: str = "A4") -> bytes:
    """All templates at 1:1: plates, papers to wrap round the ends of round tube and round slotted bends."""
    p = Pages(
        f"{v.job.title}: templates",
        "Urial. " + CAUTION,
        v.job.units,
        v.job.nearest,
        PAPERS[paper],
        flag=_flag(v.job).replace("page 1", "the packet's page 1"),
        names=speech.names(v.job),
    )
    p.heading("True-size templates")
    p.paragraph(
        "Print at 100 %. Measure the 100 mm and the 4 in bar on every sheet before you cut. Glue "
        "tiled sheets cross on cross."
    )
    slots = cut_pieces(v.job)
    straight = _rectangles(v, rows)
    pieces = (
        [piece for piece in plate_pieces(v, rows) if piece[0] not in straight]
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
    if straight:
        p.paragraph(
            f"Cut to their sizes without a template, being rectangles with nothing in them: "
            f"{', '.join(straight)}.",
            9,
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


def packet(
    v: Verdict,
    paper: str = "A4",
    progress: Callable[[str], None] = lambda _: None,
    pages: Sequence[str] = (),
    shop: Shop | None = None,
    anew: bool = False,
) -> Packet:
    """Every file of the packet in memory: nothing half-written if one of them fails.  ``pages``: the sections
    its PDF has, all if none is named; ``shop``: whose rack and minutes they speak of; ``anew``: it is handed
    on.
    """
    rows = parts_list(v.assembly)
    mass = sum(r.mass_kg for r in rows)
    files: dict[str, bytes] = {}
    progress("packet")
    files["packet.pdf"] = packet_pdf(v, rows, paper, pages=pages, shop=shop, anew=anew)
    progress("labels")
    files["labels.pdf"] = labels_pdf(v, rows, paper)
    progress("templates")
    files["templates.pdf"] = template_pdf(v, rows, paper)
    for name, mark, shape, note in outlines(v, rows):
        progress(f"plate {mark}")
        words = [f"{mark}  {note}", v.job.title]
        files[name] = dxf.plate_dxf(shape, words)
        files[name.removesuffix(".dxf") + ".svg"] = svg.plate_svg(shape, words)
    files["parts.csv"] = tables.parts_csv(rows, v.job.units)
    files["pieces.csv"] = tables.pieces_csv(drawings(v.assembly, rows, shop or usual()), v.job.units)
    with contextlib.suppress(NoBend):  # what no die bends is said at its checks
        bent = bent_bars(v.assembly, rows, shop or usual())
        if bent:
            files["bends.csv"] = tables.bends_csv(bent, v.job.units)
    files["results.json"] = (
        json.dumps(tables.results_json(v, rows, mass), indent=1, ensure_ascii=False) + "\n"
    ).encode()
    return Packet(files)
