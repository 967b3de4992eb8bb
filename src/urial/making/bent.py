"""Every bar that a bender bends: its length, marks, angles and twists, by the die that the shop has."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from urial.assembly.model import Assembly
from urial.geometry import flat
from urial.geometry.path import Bent
from urial.geometry.place import Vec
from urial.geometry.shape import Bar
from urial.making.bends import Layout, Tube, layout
from urial.making.parts import Row, lead
from urial.shop.snapshot import Shop


@dataclass(frozen=True)
class BentBar:
    """A line of the parts list that is bent: its tube, corners of the middle line in the part's own axes
    (mm), and how it is laid out; ``cut`` from long point to long point.
    """

    mark: str
    qty: int
    tube: Tube
    corners: tuple[Vec, ...]
    layout: Layout
    cut: float


def bent_bars(assembly: Assembly, rows: Iterable[Row], shop: Shop) -> list[BentBar]:
    """Every line whose bar a bender bends; those bent by slots are cut by their slots' own list.

    Raises NoBend naming the corners a die cannot bend.
    """
    out = []
    for r in rows:
        shape = assembly.by_key[lead(r)].shape
        if r.hardware or not isinstance(shape, Bar) or not isinstance(shape.path, Bent) or shape.slots:
            continue
        path, stock = shape.path, shape.stock
        od = min(stock.width, stock.height)
        die = next((d for d in shop.dies if abs(d.od_mm - od) < 0.2 and _near(d.clr_mm, path.radii)), None)
        tube = Tube(od, stock.wall or od / 2, max(path.radii), shop.bender.clamp_mm, shop.bender.tail_mm)
        made = layout(path.points, tube, die.log if die else (), path.radii)
        out.append(BentBar(r.mark, r.qty, tube, path.points, made, flat.cut_length(shape)))
    return out


def _near(clr: float, radii: tuple[float, ...]) -> bool:
    return all(abs(clr - r) < 1.0 for r in radii)


__all__ = ["BentBar", "bent_bars"]
