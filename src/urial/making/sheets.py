"""Plates on sheets: which sheet, where, turned how.  As the rectangles they lie in and by their true
outlines; the better of both counts.

A piece's outline is that of its drawing: mirrored first (x → −x), then turned about the drawing's origin,
then moved.  What does not go on the cutting table is named, to be cut by hand.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import replace

from shapely import envelope
from shapely.geometry.base import BaseGeometry

from urial.assembly.model import Assembly
from urial.geometry.shape import Plate
from urial.making import sheet_outlines
from urial.making.nests import per_kg
from urial.making.parts import Row, lead
from urial.making.sheet_boxes import box_of, packed
from urial.making.sheet_model import Offer, Placed, PlateWanted, SheetCut, SheetNest
from urial.making.sheet_outlines import Item
from urial.making.step import key_of
from urial.shop.snapshot import Shop
from urial.stock.catalogue import Material

TURNS = {
    "quarter turns": (0.0, 90.0, 180.0, 270.0),
    "half turns": (0.0, 180.0),
    "eighth turns": tuple(45.0 * n for n in range(8)),
}
"""How a plate may be turned on its sheet, by the words a job has for it; half turns keep the grain."""
SLACK = 0.11
"""What stays where it was laid may be so much nearer: rectangles lie to a tenth of a millimetre."""
MANY, TOO_MANY = 60, 300
"""Of more plates than these one order is tried by outlines, or none at all."""


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


def nest_sheets(
    pieces: Sequence[PlateWanted],
    steels: Mapping[str, Material],
    shop: Shop,
    turning: str = "quarter turns",
    begun: Sequence[SheetCut] = (),
    *,
    stopped: Callable[[], bool] = lambda: False,
) -> SheetNest:
    """Sheets for all plates: those that are begun, then the rack's, then bought ones.

    Args: ``steels`` by name; ``turning``: one of TURNS; ``begun``: sheets with what was cut out of them.
    What is too large or too thick for the table, and timber, is named in ``by_hand``.
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
    for (stock, material), group in sorted(groups.items()):
        per_mm2 = group[0].t * steels[material].density * 1e-9 * per_kg(shop, "plate", steels[material])
        own = [b for b in begun if (b.stock, b.material) == (stock, material)]
        own, kept = _kept(own, group, shop)
        group = [p for p in group if p.name not in kept]
        fits, large = _fitting(group, shop, turning, own)
        by_hand += [p.mark for p in large]
        found = _group(fits, per_mm2, shop, turning, own, stopped)
        every = {p.name: p for p in (*fits, *kept.values())}
        if found is None:  # only the rack has sheets for some, and too few
            bare = shop.model_copy(update={"sheets": ()})
            fits, large = _fitting(fits, bare, turning)
            by_hand += [p.mark for p in large]
            found = _group(fits, per_mm2, shop, turning, own, stopped)
            found = _group(fits, per_mm2, bare, turning, (), stopped) or [] if found is None else found
        found = _with_kept(found, own)
        sheets += found
        price += sum(s.price for s in found)
        bound += sum(p.metal.area for p in every.values()) * per_mm2
    free = any(s.rack or s.begun for s in sheets)
    used = {s.begun for s in sheets}
    over = tuple(replace(b, placed=()) for b in begun if b.begun not in used)
    return SheetNest(tuple(sheets), price, 0.0 if free else bound, tuple(dict.fromkeys(by_hand)), over)


def _kept(
    begun: Sequence[SheetCut], group: Sequence[PlateWanted], shop: Shop
) -> tuple[list[SheetCut], dict[str, PlateWanted]]:
    """Begun sheets with what stays where it was laid on them: plates that are still wanted and still have
    their metal there.
    """
    wanted = {p.name for p in group}
    out, names = [], dict[str, PlateWanted]()
    for b in begun:
        free = Offer(b.size, 0.0, 1, outline=b.outline, begun=b.begun, cut=b.cut).free(shop.table)
        free = free.buffer(SLACK)
        still: list[Placed] = []
        for p in b.placed:
            clear = all(p.metal.distance(q.metal) >= shop.table.gap_mm - SLACK for q in still)
            if p.piece.name in wanted and p.piece.name not in names and clear and free.contains(p.metal):
                still.append(p)
                names[p.piece.name] = p.piece
        out.append(replace(b, placed=tuple(still)))
    return out, names


def _with_kept(found: Sequence[SheetCut], begun: Sequence[SheetCut]) -> list[SheetCut]:
    """What was found, with what stays on begun sheets."""
    new = {s.begun: s.placed for s in found if s.begun}
    held = [
        replace(b, placed=(*b.placed, *new.get(b.begun, ()))) for b in begun if b.placed or b.begun in new
    ]
    return [*held, *(s for s in found if not s.begun)]


def offers(
    first: PlateWanted, per_mm2: float, shop: Shop, begun: Sequence[SheetCut] = ()
) -> tuple[list[Offer], list[Offer]]:
    """Sheets of a plate's steel that are there (begun ones, the rack's rests, its whole sheets, the smallest
    first), and those that are sold.
    """
    there = [Offer(b.size, 0.0, 1, b.rack, b.where, b.outline, b.begun, (*b.cut, *b.placed)) for b in begun]
    for s in sorted(shop.sheets, key=lambda s: (not s.remnant, s.long_mm * s.wide_mm)):
        if s.count and (s.stock, s.material) == (first.stock, first.material):
            price = 0.0 if s.remnant else s.price if s.price is not None else s.long_mm * s.wide_mm * per_mm2
            size = (s.long_mm, s.wide_mm) if s.outline else _lying(s.long_mm, s.wide_mm)
            there.append(Offer(size, price, s.count, s.id, s.where, s.outline))
    system = "inch" if _inch(first) else "metric"
    sold = [s for s in shop.sheet if s.system == system] or list(shop.sheet)
    return there, [Offer(_lying(s.long_mm, s.wide_mm), s.long_mm * s.wide_mm * per_mm2, None) for s in sold]


def _lying(long: float, wide: float) -> tuple[float, float]:
    """A sheet lies with its long side along the bed."""
    return max(long, wide), min(long, wide)


def _inch(p: PlateWanted) -> bool:
    """Is it sold by the inch?  A thickness in sixteenths or by gauge is."""
    name = p.stock.removeprefix("plate ")
    return "/" in name or "ga" in name or name.isdigit()


def _fitting(
    group: Sequence[PlateWanted], shop: Shop, turning: str, begun: Sequence[SheetCut] = ()
) -> tuple[list[PlateWanted], list[PlateWanted]]:
    """What goes on some sheet on the table, and what goes on none."""
    if not group:
        return [], []
    there, sold = offers(group[0], 1.0, shop, begun)
    rooms = [o.room(shop.table) for o in (*there, *sold)]

    def goes(p: PlateWanted) -> bool:
        x0, y0, x1, y1 = box_of(p.shape, p.mirrored, False)
        w, h = x1 - x0, y1 - y0
        ways = [(w, h)] if turning == "half turns" else [(w, h), (h, w)]
        return any(a <= r[0] + 1e-9 and b <= r[1] + 1e-9 for r in rooms for a, b in ways)

    return [p for p in group if goes(p)], [p for p in group if not goes(p)]


def _group(
    group: Sequence[PlateWanted],
    per_mm2: float,
    shop: Shop,
    turning: str,
    begun: Sequence[SheetCut],
    stopped: Callable[[], bool],
) -> list[SheetCut] | None:
    """Of every size that is sold, after what is there, the cheapest way; None where there are too few."""
    if not group:
        return []
    there, sold = offers(group[0], per_mm2, shop, begun)
    quarters = turning != "half turns"

    def boxes(size: Offer) -> Iterator[list[SheetCut]]:
        return packed(group, [*there, size], shop.table, quarters)

    def laid(size: Offer, orders: slice) -> Iterator[list[SheetCut]]:
        return _by_outline(group, [*there, size], shop, turning, orders, stopped)

    ways = [(size, found) for size in sold for found in boxes(size)]
    few = len(group) <= MANY or not ways  # of many only on the size that suits their rectangles
    sizes = sold if few else [min(ways, key=lambda w: rank(w[1]))[0]]
    ways += [(size, found) for size in sizes for found in laid(size, slice(0, 1))]
    if not ways:
        return None
    size, best = min(ways, key=lambda w: rank(w[1]))
    best = min((best, *laid(size, slice(1, None))), key=rank)
    return [_on_a_smaller(s, sold, shop, turning, stopped) for s in best]


def _on_a_smaller(
    sheet: SheetCut, sold: Sequence[Offer], shop: Shop, turning: str, stopped: Callable[[], bool]
) -> SheetCut:
    """A bought sheet that is hardly used, changed for the cheapest that holds all of it."""
    if sheet.rack or sheet.begun:
        return sheet
    pieces = [p.piece for p in sheet.placed]
    covered = sum(p.metal.area for p in pieces)
    for size in sorted(sold, key=lambda o: o.price):
        if size.price >= sheet.price - 1e-9 or stopped():
            break
        if covered > size.size[0] * size.size[1]:
            continue
        ways = (
            *packed(pieces, [size], shop.table, turning != "half turns"),
            *_by_outline(pieces, [size], shop, turning, slice(0, None), stopped),
        )
        alone = [w for w in ways if len(w) == 1]
        if alone:
            return min(alone, key=rank)[0]
    return sheet


def rank(sheets: Sequence[SheetCut]) -> tuple[float, int, float, int]:
    """Least price, then fewest whole sheets, then the least length used of them, then fewest rests."""
    whole = [s for s in sheets if s.price > 0 or not (s.rack or s.begun)]
    used = sum(max((p.metal.bounds[2] for p in s.placed), default=0.0) for s in whole)
    return round(sum(s.price for s in sheets), 6), len(whole), round(used, 1), len(sheets)


def _by_outline(
    group: Sequence[PlateWanted],
    offers: Sequence[Offer],
    shop: Shop,
    turning: str,
    which: slice,
    stopped: Callable[[], bool],
) -> Iterator[list[SheetCut]]:
    """Laid by their outlines in some of a few orders, the largest first."""
    if len(group) > TOO_MANY or (len(group) > MANY and which.start):
        return
    items = [Item((p.shape, p.mirrored), p.metal, n) for n, p in enumerate(group)]
    each = [o for o in offers for _ in range(o.count if o.count is not None else 1)]
    free: dict[int, BaseGeometry] = {}

    def rooms(n: int) -> tuple[BaseGeometry, bool]:
        offer = each[min(n, len(each) - 1)]
        if id(offer) not in free:
            free[id(offer)] = offer.free(shop.table)
        return free[id(offer)], n >= len(each) - 1

    orders: list[Callable[[Item], float]] = [
        lambda i: envelope(i.metal).area,
        lambda i: max(i.metal.bounds[2] - i.metal.bounds[0], i.metal.bounds[3] - i.metal.bounds[1]),
        lambda i: i.metal.area,
    ]
    tried: set[tuple[int, ...]] = set()
    for order in orders[which]:
        row = sorted(items, key=lambda i: (-round(order(i), 3), group[i.which].mark, i.which))
        if (sequence := tuple(i.which for i in row)) in tried:
            continue
        tried.add(sequence)
        found = sheet_outlines.fill(row, rooms, shop.table.gap_mm, TURNS[turning], stopped)
        if found is not None:
            yield [
                each[min(n, len(each) - 1)].with_plates(
                    tuple(Placed(group[k], at, turned) for k, (turned, at) in rows),
                    group[0].stock,
                    group[0].material,
                )
                for n, rows in enumerate(found)
                if rows
            ]


__all__ = ["TURNS", "nest_sheets", "offers", "plates_wanted", "rank"]
