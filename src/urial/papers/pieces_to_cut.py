"""What has a paper or an outline of its own: plates, and papers to wrap round ends and slotted bends."""

from __future__ import annotations

from urial.geometry import flat
from urial.geometry.shape import Bar, Plate
from urial.making.parts import Row
from urial.prove.verdict import Verdict


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
