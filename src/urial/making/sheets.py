"""Plates on sheets, as the rectangles they lie in: which sheet, where, turned how.

A piece's outline is that of its drawing: mirrored first (x → −x), then turned about the drawing's origin,
then moved.  What does not go on the cutting table is named, to be cut by hand.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import rectpack

from urial.assembly.model import Assembly
from urial.geometry.outline import area, flatten
from urial.geometry.shape import Plate
from urial.making.nests import per_kg
from urial.making.parts import Row, lead
from urial.making.step import key_of
from urial.shop.snapshot import Shop
from urial.stock.catalogue import Material

FINE = 10.0
"""Rectangles are packed in tenths of a millimetre."""
PACKERS = (rectpack.MaxRectsBssf, rectpack.MaxRectsBaf, rectpack.SkylineBlWm, rectpack.GuillotineBafSas)
ORDERS = (rectpack.SORT_AREA, rectpack.SORT_LSIDE, rectpack.SORT_SSIDE)
ROUND_UP = 1e-6


@dataclass(frozen=True)
class PlateWanted:
    """One plate: its step's key and unit, mark, shape, stock and steel; ``mirrored``: it is the other of a
    pair; ``t``: of one layer, mm.
    """

    key: str
    unit: int
    mark: str
    shape: Plate
    stock: str
    material: str
    mirrored: bool
    t: float


@dataclass(frozen=True)
class Placed:
    """A plate on a sheet: where its drawing's origin comes to lie (mm from the sheet's corner), how far it is
    turned (degrees).
    """

    piece: PlateWanted
    at: tuple[float, float]
    turned: float


@dataclass(frozen=True)
class SheetCut:
    """A sheet and what comes out of it."""

    stock: str
    material: str
    size: tuple[float, float]
    placed: tuple[Placed, ...]
    price: float
    rack: str = ""
    where: str = ""


@dataclass(frozen=True)
class SheetNest:
    """Every sheet; what they cost, and the least their metal alone would; marks that are cut by hand."""

    sheets: tuple[SheetCut, ...] = ()
    price: float = 0.0
    bound: float = 0.0
    by_hand: tuple[str, ...] = ()


def plates_wanted(assembly: Assembly, rows: Iterable[Row], sets: int = 1) -> list[PlateWanted]:
    """Every plate of a parts list, ``sets`` times."""
    out = []
    for r in rows:
        first = assembly.by_key[lead(r)]
        if r.hardware or not isinstance(first.shape, Plate):
            continue
        keys = [k for k in sorted(r.parts) for _ in range(assembly.by_key[k].layers)]
        for unit in range(1, r.qty * sets + 1):
            part = assembly.by_key[keys[(unit - 1) % len(keys)]]
            out.append(
                PlateWanted(
                    key_of(lead(r), "cut plate"),
                    unit,
                    r.mark,
                    first.shape,
                    r.stock,
                    first.material.name,
                    r.mirror and part.key != lead(r),
                    first.shape.t / first.layers,
                )
            )
    return out


Box = tuple[float, float, float, float]


def box_of(shape: Plate, mirrored: bool, turned: bool) -> Box:
    """The rectangle a drawing lies in once it is mirrored and turned by 90° (left, low, right, high), mm."""
    points = [(-x if mirrored else x, y) for x, y in flatten(shape.outline)]
    if turned:
        points = [(-y, x) for x, y in points]
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return min(xs), min(ys), max(xs), max(ys)


def nest_sheets(pieces: Sequence[PlateWanted], steels: Mapping[str, Material], shop: Shop) -> SheetNest:
    """Sheets for all plates, the rack's first.

    Args: ``steels`` by name.  What is too large or too thick for the table, and timber, is named in
    ``by_hand``.
    """
    groups: dict[tuple[str, str], list[PlateWanted]] = {}
    by_hand: list[str] = []
    for p in pieces:
        if steels[p.material].kind != "metal" or p.t > shop.table.thickest_mm + 1e-9:
            by_hand.append(p.mark)
        else:
            groups.setdefault((p.stock, p.material), []).append(p)
    sheets: list[SheetCut] = []
    price = bound = 0.0
    for (_, material), group in sorted(groups.items()):
        per_mm2 = group[0].t * steels[material].density * 1e-9 * per_kg(shop, "plate", steels[material])
        fits, large = _fitting(group, shop)
        by_hand += [p.mark for p in large]
        found = _group(fits, per_mm2, shop)
        if found is None:  # only the rack has sheets for some, and too few
            fits, large = _fitting(fits, shop.model_copy(update={"sheets": ()}))
            by_hand += [p.mark for p in large]
            found = _group(fits, per_mm2, shop) or []
        sheets += found
        price += sum(s.price for s in found)
        bound += sum(area(p.shape.outline) for p in fits) * per_mm2
    free = any(s.rack for s in sheets)
    return SheetNest(tuple(sheets), price, 0.0 if free else bound, tuple(dict.fromkeys(by_hand)))


@dataclass(frozen=True)
class _Sheet:
    """A sheet to be had: its size, price, how many (None: as many as are wanted), its id on the rack."""

    size: tuple[float, float]
    price: float
    count: int | None
    rack: str = ""
    where: str = ""


def _room(size: tuple[float, float], shop: Shop) -> tuple[float, float]:
    """What of a sheet can be cut: inside its margins, and no farther than the bed."""
    t = shop.table
    long, wide = max(size), min(size)
    return (
        min(long - 2 * t.margin_mm, t.bed_long_mm),
        min(wide - 2 * t.margin_mm, t.bed_wide_mm),
    )


def _on_sale(group: Sequence[PlateWanted], per_mm2: float, shop: Shop) -> list[_Sheet]:
    first = group[0]
    out = []
    for s in sorted(shop.sheets, key=lambda s: (not s.remnant, s.long_mm * s.wide_mm)):
        if s.count and (s.stock, s.material) == (first.stock, first.material):
            price = 0.0 if s.remnant else s.price if s.price is not None else s.long_mm * s.wide_mm * per_mm2
            out.append(_Sheet((s.long_mm, s.wide_mm), price, s.count, s.id, s.where))
    system = "inch" if _inch(first) else "metric"
    sold = [s for s in shop.sheet if s.system == system] or list(shop.sheet)
    out += [_Sheet((s.long_mm, s.wide_mm), s.long_mm * s.wide_mm * per_mm2, None) for s in sold]
    return out


def _inch(p: PlateWanted) -> bool:
    """Is it sold by the inch?  A thickness in sixteenths or by gauge is."""
    name = p.stock.removeprefix("plate ")
    return "/" in name or "ga" in name or name.isdigit()


def _fitting(group: Sequence[PlateWanted], shop: Shop) -> tuple[list[PlateWanted], list[PlateWanted]]:
    """What goes on some sheet on the table, and what goes on none."""
    rooms = [_room(s.size, shop) for s in _on_sale(group, 1.0, shop)]

    def goes(p: PlateWanted) -> bool:
        x0, y0, x1, y1 = box_of(p.shape, p.mirrored, False)
        w, h = x1 - x0, y1 - y0
        return any(max(w, h) <= r[0] + 1e-9 and min(w, h) <= r[1] + 1e-9 for r in rooms)

    return [p for p in group if goes(p)], [p for p in group if not goes(p)]


def _group(group: Sequence[PlateWanted], per_mm2: float, shop: Shop) -> list[SheetCut] | None:
    """Of every size that is sold, after what the rack has, the cheapest way; None where there are too few."""
    if not group:
        return []
    rack = [s for s in _on_sale(group, per_mm2, shop) if s.count is not None]
    best: list[SheetCut] | None = None
    for sold in (s for s in _on_sale(group, per_mm2, shop) if s.count is None):
        for packer in PACKERS:
            for order in ORDERS:
                found = _packed(group, [*rack, sold], shop, packer, order)
                if found is not None and (best is None or _rank(found) < _rank(best)):
                    best = found
    return best


def _rank(sheets: Sequence[SheetCut]) -> tuple[float, int]:
    return (round(sum(s.price for s in sheets), 6), len(sheets))


def _packed(
    group: Sequence[PlateWanted], sheets: Sequence[_Sheet], shop: Shop, packer: type, order: object
) -> list[SheetCut] | None:
    """One way to pack; None where it leaves something out."""
    gap = shop.table.gap_mm
    pack = rectpack.newPacker(rotation=True, pack_algo=packer, sort_algo=order)
    for n, p in enumerate(group):
        x0, y0, x1, y1 = box_of(p.shape, p.mirrored, False)
        pack.add_rect(_up(x1 - x0 + gap), _up(y1 - y0 + gap), rid=n)
    for k, s in enumerate(sheets):
        long, wide = _room(s.size, shop)
        many = len(group) if s.count is None else s.count
        pack.add_bin(_down(long + gap), _down(wide + gap), count=many, bid=k)
    pack.pack()
    laid: dict[int, list[tuple[float, ...]]] = {}
    kinds: list[int] = []
    for n, bin_ in enumerate(pack):
        kinds.append(int(bin_.bid))
        laid[n] = [(r.x, r.y, r.width, r.height, r.rid) for r in bin_]
    if sum(map(len, laid.values())) != len(group):
        return None
    return [_sheet(group, sheets[kinds[n]], rows, shop) for n, rows in laid.items() if rows]


def _sheet(
    group: Sequence[PlateWanted], s: _Sheet, rows: Sequence[tuple[float, ...]], shop: Shop
) -> SheetCut:
    margin, gap = shop.table.margin_mm, shop.table.gap_mm
    placed = []
    for x, y, width, _, rid in sorted(rows, key=lambda r: (r[0], r[1])):
        p = group[int(rid)]
        x0, _, x1, _ = box_of(p.shape, p.mirrored, False)
        turned = abs(width - _up(x1 - x0 + gap)) > ROUND_UP
        left, low, _, _ = box_of(p.shape, p.mirrored, turned)
        at = (margin + x / FINE - left, margin + y / FINE - low)
        placed.append(Placed(p, at, 90.0 if turned else 0.0))
    first = group[0]
    return SheetCut(
        first.stock, first.material, (max(s.size), min(s.size)), tuple(placed), s.price, s.rack, s.where
    )


def _up(mm: float) -> int:
    return math.ceil(mm * FINE - 1e-6)


def _down(mm: float) -> int:
    return math.floor(mm * FINE + 1e-6)


__all__ = ["Placed", "PlateWanted", "SheetCut", "SheetNest", "box_of", "nest_sheets", "plates_wanted"]
