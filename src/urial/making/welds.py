"""The weld plan: every welded joint once, numbered along the load chain: what joins what, type, size,
length, sides, metal.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from math import dist

from urial.assembly import facts
from urial.assembly.model import HOST, Assembly, Joint, Plugs, Weld, bare
from urial.geometry import path as paths
from urial.geometry.path import Arc
from urial.geometry.place import Vec, middle
from urial.geometry.shape import Bar
from urial.geometry.slotted import slot_rows

CLOSED = 3.0
"""How far the beads of a joint may stand apart at their ends and still go all round, mm."""


@dataclass(frozen=True)
class WeldRow:
    """One line of the plan.  ``at`` are the middles of the like joints it counts (host's axes, mm);
    lengths mm.
    """

    number: str
    marks: tuple[str, str]
    what: str
    kind: str  # fillet, flare-bevel, bevel and fillet, plug
    leg: float
    length: float
    beads: int
    all_round: bool
    both_sides: bool
    qty: int
    electrode: str
    prep: str
    note: str
    at: tuple[Vec, ...]

    @property
    def where(self) -> str:
        """All round, both sides, or so many beads."""
        return (
            "all round"
            if self.all_round
            else "both sides"
            if self.both_sides
            else f"{self.beads} bead{'' if self.beads == 1 else 's'}"
        )


def _mark(assembly: Assembly, key: str) -> str:
    return "host" if key == HOST else assembly.by_key[key].mark.rstrip("LR") or assembly.by_key[key].mark


def _all_round(weld: Weld) -> bool:
    """Do the beads close a loop: does each begin where another ends?"""
    if len(weld.runs) < 3:
        return False
    ends = [p for r in weld.runs for p in (r.a, r.b)]
    reach = CLOSED + max((2 * r.radius for r in weld.runs), default=0.0) + 2 * weld.leg
    return all(
        min(dist(p, q) for m, q in enumerate(ends) if m // 2 != n // 2) <= reach for n, p in enumerate(ends)
    )


def _kind(weld: Weld) -> str:
    if weld.through:
        return "bevel and fillet"
    flare = [r.radius > 0 for r in weld.runs]
    return "flare-bevel" if all(flare) else "fillet and flare-bevel" if any(flare) else "fillet"


def _prep(assembly: Assembly, j: Joint, weld: Weld) -> str:
    """What is done to the metal before the bead is laid."""
    steels = {assembly.by_key[k].material for k in (j.a, j.b) if k in assembly.by_key}
    deep = max(r.groove for r in weld.runs)
    said = [f"groove {deep:.1f} mm deep"] if deep else []
    if weld.through:
        said = [
            f"bevel 45° from both sides to the middle, {deep:.1f} mm each, and fuse through: no root is left"
        ]
    said += ["mill scale and paint off 25 mm each side"]
    if any(s.haz_Fy < 1 for s in steels):
        said.append("brush bright, wipe clean, weld at once")
    return "; ".join(said)


def _row(assembly: Assembly, number: str, group: list[Joint]) -> WeldRow:
    j = group[0]
    marks = (_mark(assembly, j.a), _mark(assembly, j.b))
    at = tuple(facts.weld_centre(k.how.runs) if isinstance(k.how, Weld) else k.place.o for k in group)
    name = " ".join(
        w for w in j.name.split() if all(w in k.name.split() for k in group)
    )  # what all of them are called
    if isinstance(j.how, Plugs):
        return WeldRow(
            number,
            marks,
            name,
            "plug",
            j.how.diameter,
            0.0,
            len(j.how.spots),
            False,
            False,
            len(group),
            j.how.electrode.name,
            "holes drilled, edges clean",
            "fill flush",
            at,
        )
    assert isinstance(j.how, Weld)
    weld, lengths = j.how, [dist(r.a, r.b) for r in j.how.runs]
    sided = len(weld.runs) == 2 and abs(lengths[0] - lengths[1]) < 1.0
    notes = "; ".join(
        x
        for x in (
            weld.note,
            "ground flush" if weld.ground else "",
            "strengthens " + assembly.joint_by_key[weld.helps].name
            if weld.helps in assembly.joint_by_key
            else "",
        )
        if x
    )
    return WeldRow(
        number,
        marks,
        name,
        _kind(weld),
        weld.leg,
        sum(lengths),
        len(weld.runs),
        _all_round(weld),
        sided,
        len(group),
        weld.electrode.name,
        _prep(assembly, j, weld),
        notes,
        at,
    )


def weld_groups(assembly: Assembly) -> list[list[Joint]]:
    """Welded joints in the order of the plan's lines; a left and a right that are alike stand together."""
    groups: dict[tuple[object, ...], list[Joint]] = {}
    for j in assembly.joints:
        size: tuple[object, ...]
        if isinstance(j.how, Weld):
            size = (j.how.leg, round(sum(dist(r.a, r.b) for r in j.how.runs)))
        elif isinstance(j.how, Plugs):
            size = (j.how.diameter, len(j.how.spots))
        else:
            continue
        key = (bare(j.key), _mark(assembly, j.a), _mark(assembly, j.b), *size)
        groups.setdefault(key, []).append(j)
    return list(groups.values())


def seam_numbers(assembly: Assembly) -> dict[str, str]:
    """What each welded joint is called on the weld map, by its key: W3, or W3a and W3b where a line counts
    several.
    """
    out = {}
    for n, group in enumerate(weld_groups(assembly), 1):
        for k, j in enumerate(group):
            out[j.key] = f"W{n}" + ("" if len(group) == 1 else _letters(k))
    return out


def _letters(k: int) -> str:
    """a to z, then aa, ab …"""
    more, last = divmod(k, 26)
    return (_letters(more - 1) if more else "") + chr(ord("a") + last)


def weld_plan(assembly: Assembly) -> list[WeldRow]:
    """Every weld; a left and a right that are alike are one line of two."""
    out = [_row(assembly, f"W{n}", group) for n, group in enumerate(weld_groups(assembly), 1)]
    return [*out, *_closings(assembly, len(out))]


def _closings(assembly: Assembly, before: int) -> list[WeldRow]:
    """The slots that are closed, one line a bend."""
    rod = next((j.how.electrode.name for j in assembly.joints if isinstance(j.how, (Weld, Plugs))), "")
    out: list[WeldRow] = []
    for part in assembly.parts:
        shape = part.shape
        if not isinstance(shape, Bar) or shape.slots is None:
            continue
        arcs = [run for run in paths.runs(shape.path) if isinstance(run, Arc)]
        for n, (row, arc) in enumerate(zip(slot_rows(shape), arcs, strict=True), 1):
            vee = f"edges to a V {row.vee:.1f} mm deep; " if row.vee else ""
            out.append(
                WeldRow(
                    f"W{before + len(out) + 1}",
                    (_mark(assembly, part.key),) * 2,
                    f"slots of bend {n} closed",
                    "butt",
                    shape.stock.wall,
                    row.count * row.bead,
                    row.count,
                    False,
                    False,
                    1,
                    rod,
                    f"{vee}close to {math.degrees(row.angle):.1f}°, {row.gap:.1f} mm left at the lips",
                    "one on this side, one on that, so that it does not draw",
                    (part.place.point(middle([arc.a, arc.b])),),
                )
            )
    return out
