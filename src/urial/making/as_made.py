"""Steel that came out otherwise, taken into the part: the change to the job that says how it really is."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import replace

from urial.assembly.model import Assembly
from urial.geometry.faces import longest
from urial.geometry.shape import Bar, Plate
from urial.job.change import AngleAs, Change, HoleAs, LengthAs, Pick
from urial.job.edit import put
from urial.job.model import Job
from urial.making.drawings import Drawing, Feature, drawing
from urial.making.parts import Row, lead, parts_list
from urial.making.status import Off, Stood, part_of
from urial.shop.snapshot import Shop


def can_be_taken(row: Stood) -> bool:
    """Are all the figures that are off of a kind that a part can have?"""
    kind = row.step.kind
    if not row.off or not all(part_of(row.step, o.unit) for o in row.off):
        return False
    if kind == "saw":
        return all(o.what == "length" for o in row.off)
    if kind == "drill":
        return all(o.what.split(" ")[-1] in ("along", "up", "⌀") for o in row.off)
    return kind in ("bend", "fold") and all(o.what == "angle" for o in row.off)


def taken_in(job: Job, assembly: Assembly, shop: Shop, row: Stood) -> Job | None:
    """The job with what is off as it is, each piece for itself; None where no part can have it so.

    EditError or BuildError where that makes no part.
    """
    if not can_be_taken(row):
        return None
    by_unit: dict[int, list[Off]] = defaultdict(list)
    for o in row.off:
        by_unit[o.unit].append(o)
    for unit, offs in sorted(by_unit.items()):
        key = part_of(row.step, unit)
        changes = _changes(assembly, shop, row, key, offs)
        if changes is None:
            return None
        for c in changes:
            job = _put(job, key, c)
    return job


SAME = 0.2
"""A hole that is told from a place so near to where it was said to be is that hole, mm."""


def _put(job: Job, key: str, change: Change) -> Job:
    """In place of what was said of the same before."""
    piece = job.numbered(key.split("/", 1)[0])
    assert piece is not None
    old = [c for c in piece.changes if _same(c, change)]
    if old and isinstance(change, HoleAs):
        change = change.model_copy(update={"at": old[0].at})  # drawn where it always was
    kept = tuple(c for c in piece.changes if c not in old)
    return put(job, f"stack.{piece.id}.changes", (*kept, change))


def _same(old: Change, new: Change) -> bool:
    if type(old) is not type(new) or old.at.part != new.at.part:
        return False
    if isinstance(old, AngleAs) and isinstance(new, AngleAs):
        return old.bend == new.bend
    if isinstance(old, HoleAs) and isinstance(new, HoleAs):
        ends = (old.at.start, old.at.edge) == (new.at.start, new.at.edge)
        off = max(abs(old.along_mm - new.at.along_mm), abs(old.across_mm - new.at.across_mm))
        return ends and off < SAME
    return isinstance(old, LengthAs)


def _changes(
    assembly: Assembly, shop: Shop, row: Stood, key: str, offs: Sequence[Off]
) -> tuple[Change, ...] | None:
    name, kind = key.split("/", 1)[1], row.step.kind
    if kind == "saw":
        return (LengthAs(at=Pick(part=name, start="far"), length_mm=round(offs[0].have, 3)),)
    if kind in ("bend", "fold"):
        face = "front" if kind == "fold" else "+z"
        at = Pick(part=name, face=face, along_mm=0.0)
        return (AngleAs(at=at, bend=float(row.step.key.split("|")[-1]), angle_deg=round(offs[0].have, 2)),)
    line = next((r for r in parts_list(assembly) if key in r.parts), None)
    made = drawing(assembly, line, shop) if line is not None else None
    if made is None:
        return None
    out = []
    for which in dict.fromkeys(o.what.split(" ")[0] for o in offs):
        have = {o.what.split(" ")[-1]: o.have for o in offs if o.what.startswith(f"{which} ")}
        f = next((x for x in made.features if x.which == which), None)
        mine = _mine(assembly, line, key, shop, made, f) if line is not None and f is not None else None
        if mine is None:
            return None
        own, feature, turned = mine
        if turned and "along" in have:
            have["along"] = made.long - have["along"]
        one = _hole(assembly, own, key, feature, have)
        if one is None:
            return None
        out.append(one)
    return tuple(out)


SPOT = 0.5
"""Two holes of a pair that lie so near to the same place are each other's, mm."""


def _mine(
    assembly: Assembly, line: Row, key: str, shop: Shop, made: Drawing, f: Feature
) -> tuple[Drawing, Feature, bool] | None:
    """The hole of one piece of a line that its drawing's hole stands for, and whether that piece is the
    drawing's mirror image along it; None where it has none there.
    """
    if key == lead(line):
        return made, f, False
    own = drawing(assembly, replace(line, parts=(key,)), shop)
    if own is None or f.along is None:
        return None
    for turned in (False, True):
        along = made.long - f.along if turned else f.along
        for x in own.features:
            same = x.which[0] == "H" and x.along is not None and abs(x.along - along) < SPOT
            if same and abs((x.up or 0.0) - (f.up or 0.0)) < SPOT and x.size("⌀") == f.size("⌀"):
                return own, x, turned
    return None


def _hole(assembly: Assembly, made: Drawing, key: str, f: Feature, have: dict[str, float]) -> HoleAs | None:
    """What a drawing's hole is, in the terms of a place on its part; None for one that has none."""
    name = key.split("/", 1)[1]
    shape = assembly.by_key[key].shape
    if f.along is None:
        return None
    d = have.get("⌀", f.size("⌀"))
    if isinstance(shape, Plate) and f.up is not None:
        at = Pick(
            part=name,
            along_mm=f.along,
            start="far" if "its right" in made.datum else "near",
            across_mm=f.up,
            edge="far" if "its upper" in made.datum else "near",
            face="front",
        )
        return HoleAs(
            at=at, along_mm=have.get("along", f.along), across_mm=have.get("up", f.up), diameter_mm=d
        )
    if not isinstance(shape, Bar) or made.kind != "bar" or "up" in have or len(f.view) > 1:
        return None
    second = " second end" in made.datum
    back = longest(shape, "j" if second else "i")
    at = Pick(part=name, along_mm=max(f.along - back, 0.0), start="far" if second else "near", face="+z")
    return HoleAs(at=at, along_mm=max(have.get("along", f.along) - back, 0.0), diameter_mm=d)


__all__ = ["can_be_taken", "taken_in"]
