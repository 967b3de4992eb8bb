"""Bars and sheets for what is not cut yet, of a whole assembly and its log."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, replace

from urial.assembly.model import Assembly
from urial.fit.model import never
from urial.job.log import Entry, Spot, standing
from urial.job.making import Making
from urial.making.nests import BarNest, nest_bars, steels_of, wanted
from urial.making.parts import parts_list
from urial.making.sheet_model import Placed, PlateWanted, SheetCut, SheetNest
from urial.making.sheets import nest_sheets, plates_wanted
from urial.making.status import Stood, begun
from urial.shop.snapshot import Shop


@dataclass(frozen=True)
class Nests:
    """Bars and sheets for what is not cut yet."""

    bars: BarNest
    sheets: SheetNest

    @property
    def price(self) -> float:
        """Of all that is bought."""
        return self.bars.price + self.sheets.price

    @property
    def bound(self) -> float:
        """Nothing is cheaper."""
        return self.bars.bound + self.sheets.bound


def nested(
    assembly: Assembly,
    rows: Sequence[Stood],
    log: Sequence[Entry],
    shop: Shop,
    wishes: Making | None = None,
    *,
    stopped: Callable[[], bool] = never,
) -> Nests:
    """Bars and sheets for the pieces whose saw or table step is open; a bar that is begun keeps its own."""
    done = {f"{r.step.key}#{n}" for r in rows for n in r.done}
    lines = parts_list(assembly)
    bars = [w for w in wanted(assembly, lines, wishes) if w.name not in done]
    every = {p.name: p for p in plates_wanted(assembly, lines, int(wishes.sets) if wishes is not None else 1)}
    plates = [p for name, p in every.items() if name not in done]
    steels = steels_of(assembly)
    used = {e.bar for e in standing(log) if e.bar}
    turning = wishes.turning if wishes is not None else "quarter turns"
    off = {f"{r.step.key}#{o.unit}" for r in rows for o in r.off}
    return Nests(
        nest_bars(bars, steels, shop, begun(log), used, stopped=stopped),
        nest_sheets(plates, steels, shop, turning, begun_sheets(log, every, off), stopped=stopped),
    )


def begun_sheets(
    log: Sequence[Entry], every: Mapping[str, PlateWanted], off: Collection[str] = ()
) -> tuple[SheetCut, ...]:
    """Sheets that are begun, as they lie: what was cut out of each, and where.

    Args: ``every``: all plates by ``key#unit``; ``off``: names of plates that were cut to other sizes.  A
    sheet that one of those came out of, or one that is no longer known, is not reckoned with: nobody knows
    what is left of it; nor with one whose rest was laid away.  ``placed`` of each: what was still to come out
    of it, where it was laid.
    """
    out: dict[str, SheetCut] = {}
    closed: set[str] = set()
    planned: dict[str, tuple[Spot, ...]] = {}
    gone: set[str] = set()
    for e in standing(log):
        if e.what not in ("done", "decided") or e.sheet is None:
            continue
        name, at = f"{e.step}#{e.unit}", e.sheet
        piece = every.get(name)
        if at.ended or piece is None or name in off:
            closed.add(e.bar)
            continue
        placed = Placed(piece, (at.x_mm, at.y_mm), at.turned_deg)
        new = SheetCut(
            piece.stock,
            piece.material,
            (at.long_mm, at.wide_mm),
            (),
            0.0,
            at.rack,
            at.where,
            at.outline,
            begun=e.bar,
        )
        have = out.get(e.bar, new)
        out[e.bar] = replace(have, cut=(*have.cut, placed))
        planned[e.bar] = at.rest
        gone.add(name)
    for bar, spots in planned.items():  # as the last of its entries has it
        if bar in out:
            left = [(s, every[s.name]) for s in spots if s.name in every and s.name not in gone]
            still = tuple(Placed(p, (s.x_mm, s.y_mm), s.turned_deg) for s, p in left)
            out[bar] = replace(out[bar], placed=still)
    return tuple(s for name, s in sorted(out.items()) if name not in closed)


__all__ = ["Nests", "begun_sheets", "nested"]
