"""What is cut or taken off the host: a table of it in the packet, and a template for each slot and side."""

from __future__ import annotations

from dataclasses import dataclass

from urial import units
from urial.geometry.place import cross, times
from urial.geometry.shape import Plate
from urial.job.model import Job
from urial.job.survey import Block, KeepOut
from urial.making.drawings.model import SIDES
from urial.measure import keepout
from urial.papers.pdf import Pages
from urial.papers.templates import Lie
from urial.prove.verdict import Verdict

FATES = {"off": "comes off to fit, back on after", "gone": "off for good", "cut": "cut"}
FROM = {"under": "below", "top": "above"}
WAYS = {"front": "FRONT", "rear": "REAR", "left": "LEFT", "right": "RIGHT", "top": "UP", "bottom": "DOWN"}


@dataclass(frozen=True)
class Slot:
    """A slot for one side: its mark, shape, what is written beside it, how it lies on the host."""

    mark: str
    shape: Plate
    note: str
    lie: Lie


def cut_pieces(job: Job) -> list[Slot]:
    """Every slot to cut into the host, one for each side."""
    out = []
    for n, keep in enumerate(job.survey.keep_outs, 1):
        if not isinstance(keep, Block) or keep.fate != "cut":
            continue
        for cut in keepout.cuts(keep):
            side = f" {cut.side}" if cut.side else ""
            note = (
                f"slot in the {keep.name}{side and ','}{side}, from "
                f"{FROM.get(keep.cut_from, 'the ' + keep.cut_from)}; the straight edge is its mouth, the "
                f"dashed line its middle, {_where(job, keep, cut)}. Leave the line and file to it"
            )
            inwards = times(cut.out, -1.0)
            named = {d: WAYS[SIDES[_sign(d)]] for d in (cut.wide_way, inwards)}
            lie = Lie(
                SIDES[_sign(cross(cut.wide_way, inwards))],
                ((named[cut.wide_way], 1.0, 0.0), (named[inwards], 0.0, 1.0)),
            )
            out.append(Slot(f"cut {n}{side}", keepout.cut_plate(keep), note, lie))
    return out


def _sign(v: tuple[float, float, float]) -> tuple[int, int, int]:
    return (round(v[0]), round(v[1]), round(v[2]))


def _where(job: Job, keep: Block, cut: keepout.Cut) -> str:
    """Where the middle of a slot's mouth is, for the tape."""

    def show(value: float) -> str:
        return units.show(abs(value), "length", job.units, job.nearest)

    if keep.cut_from in ("left", "right"):
        return f"{show(cut.mouth[0])} behind the host's zero"
    y = cut.mouth[1]
    return (
        f"{show(y)} to the {'left' if y > 0 else 'right'} of the host's middle"
        if y
        else "on the host's middle"
    )


def add_trims(p: Pages, v: Verdict) -> None:
    """A table of what does not stay as it was, where there is any."""
    rows = [k for k in v.job.survey.keep_outs if k.fate != "stays"]
    if not rows:
        return
    p.y -= 8
    p.heading("Taken off or cut for it", 11)
    p.table(
        ["what", "done", "weighs", "was good for", "done now by", "to be undone"],
        [_row(p, v.job, k) for k in rows],
        [1.6, 2.6, 0.8, 1, 1.6, 1],
        9,
    )
    p.paragraph(
        "Edges of what is cut are deburred, primed and painted. Each slot has a template of its own, one "
        "for each side.",
        9,
    )


def _row(p: Pages, job: Job, k: KeepOut) -> list[str]:
    done = FATES[k.fate]
    if isinstance(k, Block) and k.fate == "cut":
        done = (
            f"cut from {FROM.get(k.cut_from, 'the ' + k.cut_from)}, {p.length(k.cut_wide_mm)} × "
            f"{p.length(k.cut_deep_mm)}"
        )
        done += ", both sides" if len(keepout.cuts(k)) > 1 else ""
    weighs = units.show(k.off_kg, "mass", job.units) if k.off_kg else ""
    good = {"nothing": "", "plate": "number plate"}.get(k.good_for, k.good_for)
    return [k.name, done, weighs, good, k.instead, "no" if k.fate == "cut" or not k.bolted else "yes"]


__all__ = ["Slot", "add_trims", "cut_pieces"]
