"""Plates on sheets as the rectangles they lie in: packed at once, with nothing in anything's opening."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

import rectpack

from urial.geometry.outline import flatten
from urial.geometry.shape import Plate
from urial.making.sheet_model import Offer, Placed, PlateWanted, SheetCut
from urial.shop.snapshot import Table

FINE = 10.0
"""Rectangles are packed in tenths of a millimetre."""
PACKERS = (rectpack.MaxRectsBssf, rectpack.MaxRectsBaf, rectpack.SkylineBlWm, rectpack.GuillotineBafSas)
ORDERS = (rectpack.SORT_AREA, rectpack.SORT_LSIDE, rectpack.SORT_SSIDE)
ROUND_UP = 1e-6

Box = tuple[float, float, float, float]


def box_of(shape: Plate, mirrored: bool, turned: bool) -> Box:
    """The rectangle a drawing lies in once it is mirrored and turned by 90° (left, low, right, high), mm."""
    points = [(-x if mirrored else x, y) for x, y in flatten(shape.outline)]
    if turned:
        points = [(-y, x) for x, y in points]
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return min(xs), min(ys), max(xs), max(ys)


def packed(
    group: Sequence[PlateWanted], offers: Sequence[Offer], table: Table, quarters: bool = True
) -> Iterator[list[SheetCut]]:
    """Every way of a few to pack plates of one steel, one after another; sheets that are not whole are left.

    Args: ``quarters``: they may be turned by 90°.
    """
    whole = [o for o in offers if o.whole]
    for packer in PACKERS:
        for order in ORDERS:
            found = _packed(group, whole, table, quarters, packer, order)
            if found is not None:
                yield found


def _packed(
    group: Sequence[PlateWanted],
    offers: Sequence[Offer],
    table: Table,
    quarters: bool,
    packer: type,
    order: object,
) -> list[SheetCut] | None:
    """One way to pack; None where it leaves something out."""
    gap = table.gap_mm
    pack = rectpack.newPacker(rotation=quarters, pack_algo=packer, sort_algo=order)
    for n, p in enumerate(group):
        x0, y0, x1, y1 = box_of(p.shape, p.mirrored, False)
        pack.add_rect(_up(x1 - x0 + gap), _up(y1 - y0 + gap), rid=n)
    for k, o in enumerate(offers):
        long, wide = o.room(table)
        if min(long, wide) > 0:
            many = len(group) if o.count is None else o.count
            pack.add_bin(_down(long + gap), _down(wide + gap), count=many, bid=k)
    pack.pack()
    laid: dict[int, list[tuple[float, ...]]] = {}
    kinds: list[int] = []
    for n, bin_ in enumerate(pack):
        kinds.append(int(bin_.bid))
        laid[n] = [(r.x, r.y, r.width, r.height, r.rid) for r in bin_]
    if sum(map(len, laid.values())) != len(group):
        return None
    return [_sheet(group, offers[kinds[n]], rows, table) for n, rows in laid.items() if rows]


def _sheet(
    group: Sequence[PlateWanted], offer: Offer, rows: Sequence[tuple[float, ...]], table: Table
) -> SheetCut:
    margin, gap = table.margin_mm, table.gap_mm
    placed = []
    for x, y, width, _, rid in sorted(rows, key=lambda r: (r[0], r[1])):
        p = group[int(rid)]
        x0, _, x1, _ = box_of(p.shape, p.mirrored, False)
        turned = abs(width - _up(x1 - x0 + gap)) > ROUND_UP
        left, low, _, _ = box_of(p.shape, p.mirrored, turned)
        at = (margin + x / FINE - left, margin + y / FINE - low)
        placed.append(Placed(p, at, 90.0 if turned else 0.0))
    return offer.with_plates(tuple(placed), group[0].stock, group[0].material)


def _up(mm: float) -> int:
    return math.ceil(mm * FINE - 1e-6)


def _down(mm: float) -> int:
    return math.floor(mm * FINE + 1e-6)


__all__ = ["box_of", "packed"]
