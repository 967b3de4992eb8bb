"""Plates to have cut elsewhere: what is asked of a service, and what its offer comes to beside the shop's own
table and a hand with a grinder.
"""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from urial.assembly.model import Assembly
from urial.geometry.outline import bounds
from urial.geometry.shape import Plate
from urial.making.nests import per_kg
from urial.making.parts import Row, lead
from urial.making.status import Stood
from urial.making.step import key_of
from urial.papers.dxf import plate_dxf
from urial.services.cutting import Finish, Offer, PartWanted, Placed, Trouble
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
    """Every metal plate that is not cut yet.  A left and its right are one drawing, turned over; a folded
    pair is not, so its folds stay here and no bends are asked for.

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
                bends=0 if r.mirror else len(shape.folds),
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


def order_json(
    ways: Sequence[Compared], offer: Offer | None, placed: Placed | None, shop: Shop
) -> dict[str, Any]:
    """The output of ``urial order --json``."""
    troubles = _troubles(offer)
    service = None
    if offer is not None:
        total = offer.total({w.mark: w.count for w in ways})
        service = {
            "offer": offer.id,
            "house": offer.house,
            "days": offer.days,
            "delivery": offer.delivery,
            "currency": offer.currency,
            "total": round(total, 2) if total is not None else None,
        }
    return {
        "currency": shop.currency,
        "parts": [
            {
                "mark": w.mark,
                "count": w.count,
                "table": round(w.table.price, 2) if w.table else None,
                "hand": round(w.hand.price, 2),
                "service": round(w.service.price, 2) if w.service else None,
                "troubles": [t.model_dump(mode="json") for t in troubles.get(w.mark, ())],
            }
            for w in ways
        ],
        "service": service,
        "order": placed.model_dump(mode="json") if placed is not None else None,
    }


def order_words(ways: Sequence[Compared], offer: Offer | None, placed: Placed | None) -> Iterator[str]:
    """The same as lines."""
    troubles = _troubles(offer)
    yield f"{'':6}{'off':>5} {'own table':>12} {'by hand':>12} {'service':>12}"
    for w in ways:
        cells = [f"{x.price:12.2f}" if x else f"{'-':>12}" for x in (w.table, w.hand, w.service)]
        yield f"{w.mark:6}{w.count:5} {' '.join(cells)}"
        for t in troubles.get(w.mark, ()):
            yield f"      at {t.at_mm[0]:.0f}, {t.at_mm[1]:.0f} mm from its lower left corner: {t.words}"
    if offer is not None:
        total = offer.total({w.mark: w.count for w in ways})
        said = f"{total:.2f} {offer.currency}" if total is not None else "no price for all of it"
        yield f"{offer.house or 'The service'}: {said}, delivery in it, {offer.days} working days."
    if placed is not None:
        yield f"Ordered: {placed.order}, promised for {placed.promised or 'no day'}."


def _troubles(offer: Offer | None) -> dict[str, tuple[Trouble, ...]]:
    return {line.mark: line.troubles for line in offer.lines} if offer is not None else {}


def order_key(job: str, wanted: Sequence[PartWanted], again: str = "") -> str:
    """The same for the same plates of a job, whatever offer they were last asked for by: an answer that was
    lost, or a command given twice, orders once.

    Args: ``again``: any words that make it an order of its own.
    """
    parts = ""
    for p in wanted:  # of a drawing what is drawn: its head says when it was written
        drawn = p.dxf.partition("ENTITIES")[2].partition("ENDSEC")[0]
        parts += p.model_copy(update={"dxf": drawn}).model_dump_json()
    return hashlib.sha256(f"{job}\n{again}\n{parts}".encode()).hexdigest()[:32]


__all__ = ["Compared", "Way", "compared", "order_json", "order_key", "order_words", "to_have_cut"]
