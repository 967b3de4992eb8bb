"""Plates on sheets, as values: what is wanted, what sheets there are, what lies where."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from shapely.geometry import Polygon, box
from shapely.geometry.base import BaseGeometry

from urial.geometry.shape import Plate
from urial.making.silhouette import laid, silhouette
from urial.shop.snapshot import Table

Point = tuple[float, float]


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

    @property
    def name(self) -> str:
        """``key#unit``."""
        return f"{self.key}#{self.unit}"

    @property
    def metal(self) -> Polygon:
        """Its silhouette, mirrored where it is the other of a pair, mm."""
        return silhouette(self.shape, self.mirrored)


@dataclass(frozen=True)
class Placed:
    """A plate on a sheet: where its drawing's origin comes to lie (mm from the sheet's corner), how far it is
    turned (degrees).
    """

    piece: PlateWanted
    at: Point
    turned: float

    @property
    def metal(self) -> Polygon:
        """Its silhouette where it lies, mm."""
        return laid(self.piece.metal, self.turned, self.at)


@dataclass(frozen=True)
class SheetCut:
    """A sheet and what comes out of it.

    ``rack``: its id there, or nothing where it is bought; ``outline``: of a rest that is no rectangle, mm
    from the corner of the box it lies in; ``begun``: the name of a sheet that was begun, ``cut``: what was
    cut out of it already.
    """

    stock: str
    material: str
    size: Point
    placed: tuple[Placed, ...]
    price: float
    rack: str = ""
    where: str = ""
    outline: tuple[Point, ...] = ()
    begun: str = ""
    cut: tuple[Placed, ...] = ()

    @cached_property
    def metal(self) -> BaseGeometry:
        """The whole of it before anything was cut, mm."""
        return Polygon(self.outline).buffer(0) if self.outline else box(0.0, 0.0, *self.size)


@dataclass(frozen=True)
class SheetNest:
    """Every sheet; what they cost, and the least their metal alone would; marks that are cut by hand;
    ``over``: begun sheets that nothing more comes out of.
    """

    sheets: tuple[SheetCut, ...] = ()
    price: float = 0.0
    bound: float = 0.0
    by_hand: tuple[str, ...] = ()
    over: tuple[SheetCut, ...] = ()


@dataclass(frozen=True)
class Offer:
    """A sheet to be had: its size (long, wide, mm), price, how many (None: as many as are wanted), its id on
    the rack and where it lies there, its outline where it is no rectangle, what was cut out of it already.
    """

    size: Point
    price: float
    count: int | None
    rack: str = ""
    where: str = ""
    outline: tuple[Point, ...] = ()
    begun: str = ""
    cut: tuple[Placed, ...] = ()

    @property
    def whole(self) -> bool:
        """A rectangle nothing was cut from."""
        return not self.outline and not self.cut

    def room(self, table: Table) -> Point:
        """How much of its box can be cut: inside its margins, and no farther than the bed."""
        long, wide = self.size
        return (
            min(long - 2 * table.margin_mm, table.bed_long_mm),
            min(wide - 2 * table.margin_mm, table.bed_wide_mm),
        )

    def free(self, table: Table) -> BaseGeometry:
        """The metal that can be cut: inside its margins, on the bed, off what was cut already.  A begun sheet
        lies as it lay.
        """
        m, (long, wide) = table.margin_mm, self.room(table)
        bed = box(m, m, m + max(long, 0.0), m + max(wide, 0.0))
        metal: BaseGeometry = Polygon(self.outline).buffer(0).buffer(-m) if self.outline else bed
        for one in self.cut:
            metal = metal.difference(Polygon(one.metal.exterior).buffer(table.gap_mm))
        return metal.intersection(bed)

    def with_plates(self, placed: tuple[Placed, ...], stock: str, material: str) -> SheetCut:
        """What comes out of it."""
        return SheetCut(
            stock,
            material,
            self.size,
            placed,
            self.price,
            self.rack,
            self.where,
            self.outline,
            self.begun,
            self.cut,
        )


__all__ = ["Offer", "Placed", "PlateWanted", "Point", "SheetCut", "SheetNest"]
