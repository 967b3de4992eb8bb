"""Wiring: what goes on which contact by which cable, what has to be said of it, what is bought."""

from __future__ import annotations

from urial.making.wiring import NoCable, wiring_of
from urial.papers.pdf import BRICK, GREY, Pages
from urial.papers.section import Shown, section


@section("wiring", 96)
def wiring(p: Pages, s: Shown) -> None:
    """The table of a plug; nothing where nothing is wired."""
    job = s.verdict.job
    wishes = job.making.wiring
    try:
        found = wiring_of(s.verdict.assembly, wishes, job.units)
    except NoCable as refusal:
        p.heading("Wiring", 11)
        p.paragraph(str(refusal), 9, BRICK)
        return
    if found is None:
        return
    p.heading(f"Wiring: {wishes.what}", 11)
    p.paragraph(
        f"{found.plug.title}, {found.plug.source}; colours: {found.school}. Whatever the colour says: a "
        "meter on the contact decides.",
        9,
    )
    body = [
        [
            w.at,
            w.does,
            w.colour,
            w.lamps,
            f"{w.amps:.1f} A",
            p.length(w.mm),
            w.cable.name,
            f"{w.fuse:g} A" if w.fuse else "",
            f"{w.drop:.2f} V",
            w.terminal,
        ]
        for w in found.wires
    ]
    body += [[c.at, f"{c.does}: left free", "", "", "", "", "", "", "", ""] for c in found.free]
    p.table(
        ["contact", "does", "colour", "lamps", "draws", "long", "cable", "fuse", "loses", "ends"],
        body,
        [1.1, 1.5, 1.2, 1.7, 0.7, 0.9, 0.9, 0.6, 0.7, 1.5],
        7.5,
        right=(4, 5, 7, 8),
    )
    if found.guessed:
        p.paragraph("How long the cable is nobody measured: lay a cord where it goes, and type it.", 9, BRICK)
    for words in found.words:
        p.paragraph(words, 9)
    p.paragraph("To buy: " + p.said("; ".join(b.said(job.units) for b in found.bought)) + ".", 8.5)
    p.paragraph(
        "Losses include the earth, with all lit that may be lit at once. What the roads of the place want of "
        "lamps and plugs is asked there.",
        8,
        GREY,
    )


__all__ = ["wiring"]
