"""What it costs: material from the nests, bought pieces, consumables by weld metal, arc time and surface, and
the hours of the plan.  Every line says what it is of; prices are the shop's.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from math import dist
from typing import Literal

from urial.assembly import bodies
from urial.assembly.model import Assembly, Plugs, Weld
from urial.geometry.outline import flatten
from urial.geometry.shape import Bar, Plate
from urial.job.making import Finish, Making
from urial.making.coats import book, painted
from urial.making.nested import Nests
from urial.making.nests import per_kg
from urial.making.parts import Row, lead, parts_list
from urial.making.sheet_boxes import box_of
from urial.making.sheet_model import Placed
from urial.making.status import Stood
from urial.making.wiring import Bought
from urial.shop.snapshot import Consumables, Shop
from urial.units import System

STEEL = 7.85e-6
"""Weld metal, kg/mm³."""
NUMBERS = ("no", "one", "two", "three", "four", "five", "six")
FEET: dict[str, tuple[float, str]] = {
    "m": (0.3048, "ft"),
    "m²": (0.3048**2, "ft²"),
    "m³": (0.3048**3, "ft³"),
    "kg": (0.45359237, "lb"),
}
"""What an inch shop counts in, and how much of ours one is."""
REINFORCED = 1.1
"""A bead's metal over its drawn triangle."""
TRADES: dict[str, tuple[str, ...]] = {
    "cutting": ("buy", "saw", "mitre", "cope", "slot", "trim", "cut plate", "flatten"),
    "bending and folding": ("bend", "fold", "press"),
    "drilling": ("drill", "ream", "tap", "bevel"),
    "fitting and welding": ("tack", "check", "run", "cool", "straighten", "dress", "grind", "jig"),
    "putting on": ("mount", "torque", "wire", "transfer"),
    "finish": ("mask", "coat", "wait", "send out"),
    "proof and handing over": ("proof", "hand over"),
}


@dataclass(frozen=True)
class PriceLine:
    """What, how much of it in which unit, its price, and to which sum it belongs."""

    what: str
    amount: float
    unit: str
    price: float
    of: Literal["material", "consumables", "labour"] = "material"

    def amount_in(self, system: System) -> tuple[float, str]:
        """How much in a system's own unit: metres and kilograms as feet and pounds."""
        size, unit = FEET.get(self.unit, (1.0, self.unit)) if system == "inch" else (1.0, self.unit)
        return self.amount / size, unit


@dataclass(frozen=True)
class Quote:
    """Sums in the shop's currency, before tax; hours of the plan; every line, tax apart."""

    material: float
    consumables: float
    hours: float
    labour: float
    markup: float
    tax: float
    currency: str
    lines: tuple[PriceLine, ...]
    guessed: bool

    @property
    def total(self) -> float:
        """Without tax."""
        return self.material + self.markup + self.consumables + self.labour

    @property
    def taxed(self) -> float:
        """With tax."""
        return self.total + self.tax


def weld_metal(assembly: Assembly) -> float:
    """What all beads and plugs weigh, kg: half the square of the leg, and of a 45° groove, by their
    length.
    """
    out = 0.0
    for j in assembly.joints:
        if isinstance(j.how, Weld):
            for run in j.how.runs:
                out += (j.how.leg**2 + run.groove**2) / 2 * dist(run.a, run.b)
        elif isinstance(j.how, Plugs):
            out += len(j.how.spots) * math.pi / 4 * j.how.diameter**2 * j.how.depth
    return out * STEEL * REINFORCED


def edges(assembly: Assembly) -> float:
    """Metres of bead and of plate edge that a disc goes along."""
    beads = sum(dist(r.a, r.b) for j in assembly.joints if isinstance(j.how, Weld) for r in j.how.runs)
    plates = [p.shape for p in assembly.parts if isinstance(p.shape, Plate) and not p.hardware]
    return (beads + sum(_round(s) for s in plates)) / 1000


def _round(shape: Plate) -> float:
    points = flatten(shape.outline)
    return sum(dist(p, q) for p, q in zip(points, [*points[1:], points[0]], strict=True))


def material(assembly: Assembly, shop: Shop) -> float:
    """What the steel, the bought pieces and the wire of one set come to by mass, in the shop's currency:
    no nest, no rest, no hour; to set one build beside another.
    """
    total = weld_metal(assembly) / shop.consumables.wire_efficiency * shop.consumables.wire_kg
    for r in parts_list(assembly):
        part = assembly.by_key[lead(r)]
        if r.hardware or not isinstance(part.shape, (Bar, Plate)):
            bought = r.stock.startswith("bought")
            total += r.mass_kg * (shop.price.bought_kg if bought else shop.price.hardware_kg)
        else:
            kind = (
                "plate"
                if isinstance(part.shape, Plate)
                else "tube"
                if part.shape.stock.shape.endswith("tube")
                else "bar"
            )
            total += r.mass_kg * per_kg(shop, kind, part.material)
    return total


def quote(
    assembly: Assembly,
    rows: Sequence[Row],
    stood: Iterable[Stood],
    nests: Nests,
    shop: Shop,
    wishes: Making | None = None,
    wiring: Sequence[Bought] = (),
) -> Quote:
    """All of it, as many sets as the plan and the nests are of.

    Args: the parts list, the plan's steps as they stand, the nests, what is wanted of the work
    (how many, which finish), what is bought to wire one.  Hours are those the plan needs, done or
    not: a price does not fall while the work goes on.
    """
    wishes = wishes or Making()
    sets = int(wishes.sets)
    one = [*_by_hand(assembly, rows, nests, shop), *_bought(assembly, rows, shop), *_wired(wiring, shop)]
    material = [*_stock(nests, shop), *(_times(p, sets) for p in one)]
    stood = tuple(r for r in stood if r.state != "gone")
    labour, hours = _labour(stood, shop)
    used = _consumables(assembly, stood, shop, sets, wishes.finish)
    total = sum(p.price for p in material)
    markup = total * shop.rates.markup_percent / 100
    net = total + markup + sum(p.price for p in used) + sum(p.price for p in labour)
    ends = []
    if markup:
        ends.append(PriceLine("on material", shop.rates.markup_percent, "%", markup))
    return Quote(
        total,
        sum(p.price for p in used),
        hours,
        sum(p.price for p in labour),
        markup,
        net * shop.rates.tax_percent / 100,
        shop.currency,
        (*material, *used, *labour, *ends),
        shop.usual,
    )


def _times(p: PriceLine, sets: int) -> PriceLine:
    """So many times a line."""
    return replace(p, amount=p.amount * sets, price=p.price * sets)


@dataclass(frozen=True)
class Hours:
    """A trade's hours: as the plan has them, what of that is done, and what was timed for it at the bench."""

    trade: str
    planned: float
    done: float
    timed: float


def hours_by_trade(stood: Iterable[Stood]) -> tuple[Hours, ...]:
    """Planned against timed, by trade; those without work are left out."""
    rows = [r for r in stood if r.state != "gone"]
    known = {k for kinds in TRADES.values() for k in kinds}
    out = []
    for trade, kinds in (*TRADES.items(), ("other work", ())):
        own = [r for r in rows if (r.step.kind in kinds if kinds else r.step.kind not in known)]
        planned = sum(r.step.minutes for r in own)
        if planned:
            done = sum(r.step.minutes * len(r.done) / r.step.count for r in own)
            out.append(Hours(trade, planned / 60, done / 60, sum(r.minutes for r in own) / 60))
    return tuple(out)


def _stock(nests: Nests, shop: Shop) -> list[PriceLine]:
    """Bars by what is cut off them (a rest that is kept goes back to the rack), sheets by their metal."""
    out: dict[tuple[str, str], list[float]] = {}
    for b in nests.bars.bars:
        rest = b.left if b.left >= shop.saw.remnant_mm else 0.0
        share = (b.length - rest) / b.length
        row = out.setdefault((f"{b.stock}, {b.material}", "m"), [0.0, 0.0])
        row[0] += (b.length - rest) / 1000
        row[1] += b.price * share
    for s in nests.sheets.sheets:
        used = _used(s.placed, shop)
        share = min(used / (s.size[0] * s.size[1]), 1.0)
        row = out.setdefault((f"{s.stock}, {s.material}", "m²"), [0.0, 0.0])
        row[0] += used * 1e-6
        row[1] += s.price * share
    return [PriceLine(what, round(n, 4), unit, price) for (what, unit), (n, price) in sorted(out.items())]


def _used(placed: Sequence[Placed], shop: Shop) -> float:
    """The rectangles of what lies on a sheet with the gap around each, mm²."""
    total = 0.0
    for p in placed:
        x0, y0, x1, y1 = box_of(p.piece.shape, p.piece.mirrored, False)
        total += (x1 - x0 + shop.table.gap_mm) * (y1 - y0 + shop.table.gap_mm)
    return total


def _by_hand(assembly: Assembly, rows: Sequence[Row], nests: Nests, shop: Shop) -> list[PriceLine]:
    """Plates that lie on no sheet of the table, by mass."""
    out = []
    for r in rows:
        part = assembly.by_key[lead(r)]
        if r.mark in nests.sheets.by_hand and not r.hardware:
            price = r.mass_kg * per_kg(shop, "plate", part.material)
            out.append(PriceLine(f"{r.mark} {r.stock}, {r.material}", round(r.mass_kg, 3), "kg", price))
    return out


def _bought(assembly: Assembly, rows: Sequence[Row], shop: Shop) -> list[PriceLine]:
    """Hardware and bought pieces, by mass until a price is entered."""
    out = []
    for r in rows:
        part = assembly.by_key[lead(r)]
        if r.hardware or not isinstance(part.shape, (Bar, Plate)):
            rate = shop.price.bought_kg if r.stock.startswith("bought") else shop.price.hardware_kg
            out.append(PriceLine(r.name, r.qty, "piece", r.mass_kg * rate))
    return out


def _wired(bought: Sequence[Bought], shop: Shop) -> list[PriceLine]:
    """Cable by its metal, the rest by the piece."""
    rates = shop.consumables
    return [PriceLine(b.what, b.amount, b.unit, b.amount * b.size * getattr(rates, b.rate)) for b in bought]


def _labour(stood: Sequence[Stood], shop: Shop) -> tuple[list[PriceLine], float]:
    out = []
    total = 0.0
    known = {k for kinds in TRADES.values() for k in kinds}
    for what, kinds in (*TRADES.items(), ("other work", ())):
        minutes = sum(
            r.step.minutes for r in stood if (r.step.kind in kinds if kinds else r.step.kind not in known)
        )
        total += minutes
        if minutes:
            hours = minutes / 60
            out.append(PriceLine(what, round(hours, 3), "h", hours * shop.rates.labour_h, "labour"))
    return out, total / 60


def _consumables(
    assembly: Assembly, stood: Sequence[Stood], shop: Shop, sets: int, finish: Finish
) -> list[PriceLine]:
    c = shop.consumables
    wire = sets * weld_metal(assembly) / c.wire_efficiency
    arc = sum(r.step.minutes for r in stood if r.step.kind == "run" and r.step.joints) * 0.6
    gas = arc * c.gas_l_min / 1000
    discs = sets * edges(assembly) / c.disc_m
    rows_ = [
        PriceLine("wire", round(wire, 3), "kg", wire * c.wire_kg),
        PriceLine("gas", round(gas, 3), "m³", gas * c.gas_m3),
        PriceLine("grinding discs", round(discs, 2), "piece", discs * c.disc),
        *_coats(assembly, c, sets, finish),
    ]
    return [replace(r, of="consumables") for r in rows_ if r.amount > 0]


def _coats(assembly: Assembly, c: Consumables, sets: int, finish: Finish) -> list[PriceLine]:
    """Paint by what is coated and how often (its price is for two coats), zinc by mass, powder by area."""
    scheme = book().schemes[finish.scheme]
    own = [p for p in assembly.parts if painted(p) > 0]
    m2 = sets * sum(painted(p) for p in own) * 1e-6
    if scheme.sent.startswith("hot"):
        kg = sets * sum(bodies.mass(p) for p in own)
        return [PriceLine(scheme.sent, round(kg, 3), "kg", kg * c.zinc_kg)]
    if scheme.sent:
        return [PriceLine(scheme.sent, round(m2, 3), "m²", m2 * c.powder_m2)]
    what = f"paint, {NUMBERS[len(scheme.coats)]} coats"
    return (
        [PriceLine(what, round(m2, 3), "m²", m2 * c.paint_m2 * len(scheme.coats) / 2)] if scheme.coats else []
    )


__all__ = ["Hours", "PriceLine", "Quote", "edges", "hours_by_trade", "material", "quote", "weld_metal"]
