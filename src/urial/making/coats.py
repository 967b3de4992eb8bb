"""Coats: what a scheme lays on which steel, what must stay bare of it, and when the next coat may go on.

A coat is as far as its hours have brought it: ∫ dt / t(T) reaches 1 when it may be coated again, is too old
for it, or is hard, where t(T) is what its sheet says at the steel's temperature (log-linear between the
sheet's temperatures, nothing gained below the least one).  Figures: ``data/coats.toml``.
"""

from __future__ import annotations

import math
import tomllib
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cache
from importlib.resources import files
from itertools import pairwise
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, model_validator

from urial.assembly.model import Part
from urial.geometry import path, solids
from urial.geometry.shape import Bar
from urial.job.making import SCHEMES

Row = tuple[float, float]
HOUR = 3600.0
FAR = timedelta(days=400)
"""Nobody waits longer: what has not hardened by then never does."""


class _Value(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


class Product(_Value):
    """A paint: dry film of a coat, µm, solids by volume, between which temperatures of the steel it cures,
    and by its temperature (°C) the hours (h) to the next coat, at the latest (none: any time), and until it
    is hard enough to be bolted up.
    """

    title: str
    film_um: Annotated[float, Field(gt=0)]
    solids: Annotated[float, Field(gt=0, le=1)]
    gloss: str
    low_C: float
    high_C: float
    next_h: tuple[Row, ...]
    latest_h: tuple[Row, ...] = ()
    hard_h: tuple[Row, ...]
    hazard: str = ""
    source: str

    @model_validator(mode="after")
    def _sound(self) -> Product:
        for name in ("next_h", "latest_h", "hard_h"):
            rows = getattr(self, name)
            if any(h <= 0 for _, h in rows) or list(rows) != sorted(rows):
                raise ValueError(f"{self.title}: the hours of {name} are over nothing, the coldest first")
        if self.latest_h and any(a >= b for (_, a), (_, b) in zip(self.next_h, self.latest_h, strict=True)):
            raise ValueError(f"{self.title}: it is too late before it may be coated")
        return self


class Scheme(_Value):
    """What is laid on in its order, or that it is sent out for it."""

    title: str
    words: str
    coats: tuple[str, ...]
    sent: str = ""


class Rules(_Value):
    """What holds for every paint."""

    dew_K: float
    humidity_percent: float
    loss: Annotated[float, Field(ge=0, lt=1)]


class Vents(_Value):
    """Least holes of hollow sections that are dipped, by the larger side, mm."""

    source: str
    sides: tuple[float, ...]
    holes: tuple[float, ...]

    def hole(self, side: float) -> float:
        """The least hole at each end of a section so large, mm."""
        return next((h for s, h in zip(self.sides, self.holes, strict=True) if side <= s), self.holes[-1])


class Book(_Value):
    """All of the file."""

    rules: Rules
    vents: Vents
    products: dict[str, Product]
    schemes: dict[str, Scheme]

    @model_validator(mode="after")
    def _known(self) -> Book:
        for name, s in self.schemes.items():
            if unknown := set(s.coats) - set(self.products):
                raise ValueError(f"scheme {name} has coats nobody knows: {', '.join(sorted(unknown))}")
        if set(self.schemes) != set(SCHEMES):
            raise ValueError("the schemes are not those a job may choose")
        return self


@cache
def book() -> Book:
    """The paints and schemes there are."""
    raw = (files("urial.making") / "data" / "coats.toml").read_text(encoding="utf-8")
    return Book.model_validate(tomllib.loads(raw))


# ---- how much


def painted(part: Part) -> float:
    """What of a part a brush reaches, mm²: a tube's outside and its ends, anything else all round; hardware,
    timber and what is bought finished have nothing to paint.
    """
    if part.hardware or part.rated or part.material.kind != "metal" or part.stock.startswith("bought"):
        return 0.0
    whole = solids.surface(part.shape)
    if isinstance(part.shape, Bar) and part.shape.stock.shape in ("rect_tube", "round_tube"):
        stock = part.shape.stock
        wall = stock.wall
        if stock.shape == "round_tube":
            inner = math.pi * (stock.width - 2 * wall)
        else:
            r = max(stock.radius - wall, 0.0)
            inner = 2 * (stock.width + stock.height - 4 * wall) - (8 - 2 * math.pi) * r
        return max(whole - inner * path.length(part.shape.path), 0.0)
    return whole


def litres(product: Product, area_mm2: float) -> float:
    """Of the mixed paint for one coat of an area."""
    return area_mm2 * 1e-6 * product.film_um / 1000 / product.solids / (1 - book().rules.loss)


# ---- the clock


@dataclass(frozen=True)
class Air:
    """What was read by the part, and when: °C of the steel, % of humidity.  It holds until the next reading,
    the first one before it too.
    """

    at: datetime
    steel_C: float
    humidity: float


def hours(table: Sequence[Row], temperature: float) -> float:
    """t(T) of a sheet's table, h: log-linear between its temperatures, held at its ends."""
    if temperature <= table[0][0]:
        return table[0][1]
    for (a, one), (b, two) in pairwise(table):
        if temperature <= b:
            return math.exp(math.log(one) + (math.log(two / one)) * (temperature - a) / (b - a))
    return table[-1][1]


def _rate(product: Product, table: Sequence[Row], steel_C: float) -> float:
    """What an hour brings at a temperature; nothing below the least."""
    return 0.0 if steel_C < product.low_C else 1 / hours(table, min(steel_C, product.high_C))


def _spells(
    laid: datetime, until: datetime, airs: Sequence[Air]
) -> Iterable[tuple[datetime, datetime, float]]:
    """From when to when it was how warm, °C, between two times."""
    rows = sorted(airs, key=lambda a: a.at)
    for n, air in enumerate(rows):
        start = laid if n == 0 else max(air.at, laid)
        end = min(rows[n + 1].at, until) if n + 1 < len(rows) else until
        if end > start:
            yield start, end, air.steel_C


def reached(product: Product, table: Sequence[Row], laid: datetime, airs: Sequence[Air]) -> datetime | None:
    """When it is there, the last reading holding on; None where it never is."""
    if not airs:
        raise ValueError("Nobody has read how warm the steel is; read it once.")
    left = 1.0
    for start, end, steel in _spells(laid, max(laid, max(a.at for a in airs)) + FAR, airs):
        rate = _rate(product, table, steel)
        takes = timedelta(hours=left / rate) if rate > 0 else FAR * 2
        if start + takes <= end:
            return start + takes
        left -= (end - start).total_seconds() / HOUR * rate
    return None


@dataclass(frozen=True)
class Window:
    """Of a coat that was laid: when the next may go on, from when it is too late for it without sanding, when
    it is hard; None: never, or for the second: any time.
    """

    laid: datetime
    may: datetime | None
    late: datetime | None
    hard: datetime | None


def window(product: Product, laid: datetime, airs: Sequence[Air]) -> Window:
    """The times of a coat."""
    return Window(
        laid,
        reached(product, product.next_h, laid, airs),
        reached(product, product.latest_h, laid, airs) if product.latest_h else None,
        reached(product, product.hard_h, laid, airs),
    )


def dew_point(air_C: float, humidity: float) -> float:
    """°C at which air gives off its water (Magnus; WMO No. 8, 2018, over water)."""
    a, b = 17.62, 243.12
    g = math.log(max(humidity, 1e-3) / 100) + a * air_C / (b + air_C)
    return b * g / (a - g)


def weather(product: Product, air_C: float, humidity: float, steel_C: float) -> tuple[str, ...]:
    """Why nobody should lay a coat now, each in a sentence."""
    rules = book().rules
    out = []
    dew = dew_point(air_C, humidity)
    if steel_C < dew + rules.dew_K:
        out.append(
            f"The steel has {steel_C:.0f} °C and water settles on it at {dew:.1f} °C: warm it to "
            f"{math.ceil(dew + rules.dew_K)} °C."
        )
    if humidity > rules.humidity_percent:
        out.append(f"{humidity:.0f} % humidity is more than {rules.humidity_percent:.0f} %: wait, or heat.")
    if not product.low_C <= steel_C <= product.high_C:
        out.append(
            f"{product.title[0].upper()}{product.title[1:]} wants steel of {product.low_C:.0f} to "
            f"{product.high_C:.0f} °C, and it has {steel_C:.0f} °C."
        )
    return tuple(out)


__all__ = [
    "Air",
    "Book",
    "Product",
    "Scheme",
    "Window",
    "book",
    "dew_point",
    "hours",
    "litres",
    "painted",
    "reached",
    "weather",
    "window",
]
