"""Bars and sheets for what is not cut yet, of a whole assembly and its log."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from urial.assembly.model import Assembly
from urial.fit.model import never
from urial.job.log import Entry, standing
from urial.job.making import Making
from urial.making.nests import BarNest, nest_bars, steels_of, wanted
from urial.making.parts import parts_list
from urial.making.sheets import SheetNest, nest_sheets, plates_wanted
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
    plates = [
        p
        for p in plates_wanted(assembly, lines, int(wishes.sets) if wishes is not None else 1)
        if f"{p.key}#{p.unit}" not in done
    ]
    steels = steels_of(assembly)
    used = {e.bar for e in standing(log) if e.bar}
    return Nests(
        nest_bars(bars, steels, shop, begun(log), used, stopped=stopped), nest_sheets(plates, steels, shop)
    )


__all__ = ["Nests", "nested"]
