"""A shop as one frozen value: rack, tools, prices, rates, what it takes in minutes.  A usual small shop ships
and says so until somebody enters one.
"""

from __future__ import annotations

import tomllib
from functools import cache
from importlib.resources import files
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

Positive = Annotated[float, Field(gt=0, le=1e7, allow_inf_nan=False)]
Amount = Annotated[float, Field(ge=0, le=1e7, allow_inf_nan=False)]
Name = Annotated[str, Field(min_length=1, max_length=120)]
Process = Literal["short_circuit", "pulsed", "spray", "flux_core", "stick", "tig"]


class _Value(BaseModel):
    """Frozen; nothing unknown goes in."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class Saw(_Value):
    """What a cut takes, what a bar's end loses, how far it tilts from square, its stop; a rest shorter than
    ``remnant_mm`` is scrap.
    """

    kerf_mm: Amount
    end_trim_mm: Amount
    mitre_to_deg: Annotated[float, Field(ge=0, lt=90)]
    longest_stop_mm: Positive
    fence_offset_mm: Annotated[float, Field(ge=-1e4, le=1e4)]
    remnant_mm: Amount


class Sold(_Value):
    """A bought length of bar or tube, as many as are wanted."""

    system: Literal["metric", "inch"]
    length_mm: Positive


class SoldSheet(_Value):
    """A bought size of sheet, as many as are wanted."""

    system: Literal["metric", "inch"]
    long_mm: Positive
    wide_mm: Positive


class Table(_Value):
    """The cutting table: its bed, what stays free at a sheet's edge and between pieces."""

    bed_long_mm: Positive
    bed_wide_mm: Positive
    margin_mm: Amount
    gap_mm: Amount
    kerf_mm: Amount
    thickest_mm: Positive


class Bender(_Value):
    """What its clamp holds of the straight before a bend, the least tail, the largest tube."""

    clamp_mm: Amount
    tail_mm: Amount
    largest_od_mm: Positive


class Drill(_Value):
    """The largest hole it drills, and the pilot."""

    largest_mm: Positive
    pilot_mm: Positive


class Welder(_Value):
    """The most the machine gives, how it welds, its wire."""

    machine_A: Positive
    process: Process
    wire_mm: Positive


class Price(_Value):
    """Per kg by kind of stock; dearer metals by a factor."""

    tube_kg: Amount
    bar_kg: Amount
    plate_kg: Amount
    hardware_kg: Amount
    bought_kg: Amount
    stainless: Positive
    aluminium: Positive
    send_out_percent: Amount


class Consumables(_Value):
    """Wire, gas, discs, paint, power."""

    wire_kg: Amount
    wire_efficiency: Annotated[float, Field(gt=0, le=1)]
    gas_l_min: Amount
    gas_m3: Amount
    disc: Amount
    disc_m: Positive
    paint_m2: Amount
    power_kWh: Amount
    zinc_kg: Amount = 1.5  # galvanised elsewhere; a guess until it is entered
    powder_m2: Amount = 15.0  # powder coated elsewhere; a guess
    cable_mm2_m: Amount = 0.45  # a metre of cable for each mm² of its metal; a guess, as all that follow
    crimp: Amount = 0.4
    clip: Amount = 0.3
    fuse: Amount = 4.0  # with its holder
    plug: Amount = 14.0
    converter: Amount = 60.0


class Rates(_Value):
    """An hour's work, tax, and what comes on top of material."""

    labour_h: Amount
    tax_percent: Amount
    markup_percent: Amount


class RackBar(_Value):
    """Bars of one stock and steel on the rack: how long, how many, what one costs (None: by mass), where."""

    id: Name
    stock: Name
    material: Name
    length_mm: Positive
    count: Annotated[int, Field(ge=0, le=10_000)] = 1
    price: Amount | None = None
    where: Annotated[str, Field(max_length=120)] = ""
    remnant: bool = False


class RackSheet(_Value):
    """Sheets of one thickness and steel on the rack; ``outline``: of a rest that is no rectangle, mm from the
    corner of the box it lies in.
    """

    id: Name
    stock: Name
    material: Name
    long_mm: Positive
    wide_mm: Positive
    count: Annotated[int, Field(ge=0, le=10_000)] = 1
    price: Amount | None = None
    where: Annotated[str, Field(max_length=120)] = ""
    remnant: bool = False
    outline: Annotated[tuple[tuple[float, float], ...], Field(max_length=400)] = ()


class Die(_Value):
    """A die for one tube: finished radius of the middle line, log of angles set and machine angles."""

    od_mm: Positive
    clr_mm: Positive
    log: Annotated[tuple[tuple[float, float], ...], Field(max_length=60)] = ()


class Shop(_Value):
    """All of it.  ``usual``: nobody has entered it; its figures are guesses."""

    name: Name
    currency: Annotated[str, Field(min_length=1, max_length=8)]
    usual: bool = False
    saw: Saw
    sold: Annotated[tuple[Sold, ...], Field(min_length=1, max_length=60)]
    sheet: Annotated[tuple[SoldSheet, ...], Field(min_length=1, max_length=60)]
    table: Table
    bender: Bender
    drill: Drill
    welder: Welder
    price: Price
    consumables: Consumables
    rates: Rates
    minutes: dict[Name, Amount]
    bars: Annotated[tuple[RackBar, ...], Field(max_length=10_000)] = ()
    sheets: Annotated[tuple[RackSheet, ...], Field(max_length=10_000)] = ()
    dies: Annotated[tuple[Die, ...], Field(max_length=200)] = ()
    revision: Annotated[int, Field(ge=0)] = 0

    @property
    def stocks(self) -> frozenset[str]:
        """The names of what lies on the rack; a plate's as its shelf calls it."""
        bars = (b.stock for b in self.bars if b.count)
        sheets = (s.stock.removeprefix("plate ") for s in self.sheets if s.count)
        return frozenset((*bars, *sheets))

    @property
    def words(self) -> str:
        """Whose figures these are, for a paper."""
        if self.usual:
            return (
                "No shop is entered: lengths, prices, kerf and minutes are those of a usual small shop, and "
                "guesses."
            )
        return f"The figures of {self.name}."


@cache
def usual() -> Shop:
    """The usual small shop."""
    raw: dict[str, Any] = tomllib.loads(
        (files("urial.shop") / "data" / "usual.toml").read_text(encoding="utf-8")
    )
    return Shop.model_validate({**raw, "usual": True})


__all__ = ["Die", "RackBar", "RackSheet", "Shop", "usual"]
