"""Plates to have cut elsewhere: what is asked of a service, and what its offer comes to beside the shop's own
table and a hand with a grinder.
"""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from urial.assembly.model import Assembly
from urial.geometry.outline import bounds
from urial.geometry.shape import Plate
from urial.making.nests import per_kg
from urial.making.parts import Row, lead
from urial.making.status import Stood
from urial.making.step import key_of
from urial.papers.dxf import plate_dxf
from urial.services.cutting import Finish, Offer, PartWanted
from urial.shop.snapshot import Shop

BY_HAND = 4.0
"""By hand an outline takes so many times as long as on the table: the plan's own figure."""


def to_have_cut(
    assembly: Assembly,
    rows: Iterable[Row],
    stood: Sequence[Stood] = (),
    sets: int = 1,
    finish: Finish = "none",
    only: Sequence[str] = (),
) -> list[PartWanted]:
    """Every metal plate that is not cut yet, a left and a right apart.

    Args: ``only``: marks; none: all of them.
    """
    left = {r.step.key: len(r.left) for r in stood}
    out = []
    for r in rows:
        first = assembly.by_key[lead(r)]
        shape = first.shape
        if r.hardware or not isinstance(shape, Plate) or first.material.kind != "metal":
            continue
        if only and r.mark not in only:
            continue
        count = left.get(key_of(lead(r), "cut plate"), r.qty * sets)
        if count < 1:
            continue
        label = (f"{r.mark}  {r.name}  {count} off", f"{r.stock} {r.material}")
        out.append(
            PartWanted(
                mark=r.mark,
                dxf=plate_dxf(shape, label).decode(),
                material=first.material.name,
                thick_mm=shape.t / first.layers,
                count=count,
                finish=finish,
                bends=len(shape.folds),
            )
        )
    return out


@dataclass(frozen=True)
class Way:
    """One way to come by a plate: what all of its count costs, in the shop's currency, and the minutes it
    takes here.
    """

    price: float
    minutes: float


@dataclass(frozen=True)
class Compared:
    """A plate by its mark and its ways; None where a way is barred: its table is too small, the service gives
    no price.
    """

    mark: str
    count: int
    table: Way | None
    hand: Way
    service: Way | None


def compared(
    assembly: Assembly,
    rows: Iterable[Row],
    stood: Sequence[Stood],
    wanted: Sequence[PartWanted],
    offer: Offer | None,
    shop: Shop,
) -> list[Compared]:
    """Own table, hand and service of each plate: metal by its box with the gap round it, labour by the plan's
    minutes; the service's price is of plate and cut, its delivery not shared out.
    """
    known = {r.mark: r for r in rows}
    steps = {r.step.key: r.step for r in stood}
    each = {line.mark: line.each for line in offer.lines} if offer is not None else {}
    out = []
    for w in wanted:
        row = known[w.mark]
        part = assembly.by_key[lead(row)]
        shape = part.shape
        assert isinstance(shape, Plate)
        step = steps[key_of(lead(row), "cut plate")]
        share = w.count / step.count
        setup = shop.minutes["cut_plate_setup"]
        minutes = step.minutes * share
        on_table = step.tool == "table"
        outline = max(minutes - setup * share, 0.0) / (1.0 if on_table else BY_HAND)
        u0, v0, u1, v1 = bounds(shape.outline)
        gap = shop.table.gap_mm
        kg_mm2 = w.thick_mm * part.material.density * 1e-9
        metal = (u1 - u0 + gap) * (v1 - v0 + gap) * kg_mm2 * per_kg(shop, "plate", part.material) * w.count
        rate = shop.rates.labour_h / 60

        def way(
            times: float, metal: float = metal, outline: float = outline, more: float = setup * share
        ) -> Way:
            spent = outline * times + more
            return Way(metal + spent * rate, spent)

        price = each.get(w.mark)
        out.append(
            Compared(
                w.mark,
                w.count,
                way(1.0) if on_table else None,
                way(BY_HAND),
                Way(price * w.count, 0.0) if price is not None else None,
            )
        )
    return out


def order_key(job: str, offer: Offer) -> str:
    """The same for the same offer of a job: asked again, it is one order."""
    return hashlib.sha256(f"{job} {offer.id}".encode()).hexdigest()[:32]


__all__ = ["Compared", "Way", "compared", "order_key", "to_have_cut"]
