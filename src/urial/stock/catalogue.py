"""The shop's shelves: every row of the stock data files as a frozen value, found by name.

Names are matched the way people write them: ``2-1/2 X 2-1/2 × 1/4`` finds ``2 1/2x2 1/2x1/4``.
"""

from __future__ import annotations

import csv
import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from difflib import get_close_matches
from functools import cache
from importlib.resources import files
from typing import Any, TypeVar

from urial.stock import sections
from urial.stock.sections import Section
from urial.words import Complaint


class StockError(Complaint):
    """A name that is not on the shelf, or a row that is wrong; the message says which and what is near."""


@dataclass(frozen=True)
class Material:
    """Minimum specified strengths (MPa), elastic constants (MPa), density (kg/m³) and design rules.

    ``wall_factor`` turns a tube's nominal wall into its design wall; ``haz_*`` scale strength beside welds.
    """

    name: str
    title: str
    Fy: float
    Fu: float
    E: float
    G: float
    density: float
    wall_factor: float
    haz_Fy: float
    haz_Fu: float
    source: str
    kind: str = "metal"

    def as_thick(self, t: float) -> Material:
        """The same material ``t`` mm thick: structural steels of EN 10025-2 are weaker over 16 mm (table 7,
        to 40 mm; thicker still is weaker still, and rare here).
        """
        thick = OVER_16.get(self.name)
        return self if thick is None or t <= 16.0 else replace(self, Fy=thick)

    def beside_weld(self) -> Material:
        """The same material softened by welding (itself, when welding does not soften it)."""
        if self.haz_Fy == self.haz_Fu == 1.0:
            return self
        return Material(
            self.name,
            f"{self.title}, beside a weld",
            self.Fy * self.haz_Fy,
            self.Fu * self.haz_Fu,
            self.E,
            self.G,
            self.density,
            self.wall_factor,
            1.0,
            1.0,
            self.source,
            self.kind,
        )


OVER_16 = {"S235": 225.0, "S275": 265.0, "S355": 345.0}
"""Yield over 16 mm, MPa (EN 10025-2:2019 table 7)."""


KINDS_OF_BAR = {
    "rect_tube": "a square or rectangular tube",
    "round_tube": "a round tube",
    "angle": "an angle",
    "channel": "a channel",
    "rect_bar": "a flat or square bar",
    "square": "a square bar",
    "round_bar": "a round bar",
}
"""Kinds of bar that a size may ask for, in words: shapes, and how a bar's name begins."""


@dataclass(frozen=True)
class StockSection:
    """A bar as sold: nominal sizes in mm, before any design-wall rule."""

    name: str
    shape: sections.Shape
    system: str
    width: float
    height: float
    wall: float
    extra: float | None  # outer corner radius of a tube, flange thickness of a channel
    source: str

    def is_of(self, kinds: str) -> bool:
        """Is it of one of some kinds (`KINDS_OF_BAR`, with commas between)?  Of any, where none is asked
        for.
        """
        wanted = kinds.split(",") if kinds else [self.shape]
        return self.shape in wanted or any(self.name.startswith(w) for w in wanted)

    def section(self, wall_factor: float = 1.0) -> Section:
        """Properties with the wall multiplied by ``wall_factor`` (outer sizes unchanged)."""
        wall = self.wall * wall_factor
        if self.shape == "rect_tube":
            return sections.rect_tube(self.width, self.height, wall, self.radius)
        if self.shape == "round_tube":
            return sections.round_tube(self.width, wall)
        if self.shape == "round_bar":
            return sections.round_bar(self.width)
        if self.shape == "angle":
            return sections.angle(self.height, self.width, self.wall)
        if self.shape == "channel":
            return sections.channel(self.height, self.width, self.wall, self.extra or self.wall)
        return sections.rect_bar(self.width, self.height)

    @property
    def radius(self) -> float:
        """Outside corner radius, mm (2 t unless the row says otherwise)."""
        if self.shape == "rect_tube":
            return self.extra if self.extra is not None else 2 * self.wall
        return 0.0

    @property
    def title(self) -> str:
        """As written on a rack label: 2 1/2 × 2 1/2 × 1/4."""
        return re.sub(r"(?<=[\d\s])x(?=[\s\d])", "×", self.name).replace("×", " × ").replace("  ", " ")


@dataclass(frozen=True)
class Plate:
    """Plate or sheet as sold."""

    name: str
    system: str
    thickness: float
    source: str


@dataclass(frozen=True)
class BoltGrade:
    """Tensile and proof strength, MPa; up to ``small_mm`` diameter the standard asks for the small sizes'
    values.
    """

    name: str
    Fu: float
    proof: float
    system: str
    source: str
    small_mm: float = 0.0
    small_Fu: float = 0.0
    small_proof: float = 0.0

    def of(self, diameter: float) -> BoltGrade:
        """The grade as it is for a bolt of this diameter, mm."""
        return (
            replace(self, Fu=self.small_Fu, proof=self.small_proof, small_mm=0.0)
            if diameter <= self.small_mm
            else self
        )


@dataclass(frozen=True)
class Bolt:
    """A bolt, its nut, washer and standard hole, all mm."""

    name: str
    system: str
    diameter: float
    pitch: float
    across_flats: float
    head: float
    nut: float
    washer_od: float
    washer: float
    hole: float
    source: str

    @property
    def area(self) -> float:
        """Nominal body area, mm²."""
        return math.pi * self.diameter**2 / 4

    @property
    def stress_area(self) -> float:
        """Tensile stress area, mm²: diameter less 0.9382 pitch (ISO 898-1) or 0.9743 pitch (ASME B1.1)."""
        return math.pi / 4 * (self.diameter - (0.9743 if self.system == "inch" else 0.9382) * self.pitch) ** 2


@dataclass(frozen=True)
class Electrode:
    """Filler metal strength, MPa; ``metal`` is what it is for: steel, stainless, stainless on steel (mixed),
    aluminium.
    """

    name: str
    title: str
    FEXX: float
    source: str
    metal: str = "steel"


@dataclass(frozen=True)
class Receiver:
    """A receiver size: bar it takes, bore, tube it is cut from, pin and its hole, pin behind the mouth; mm.

    ``towed`` is the largest trailer (kg) of the SAE J684 class such bores are made for; None where there is
    no class."""

    name: str
    system: str
    bar: float
    opening: float
    tube: str
    pin: float
    pin_hole: float
    pin_from_mouth: float
    towed: float | None
    source: str


@dataclass(frozen=True)
class Ball:
    """A tow ball: ball and shank diameter, centre above its seat (mm), the mass it is rated for (kg)."""

    name: str
    system: str
    ball: float
    shank: float
    height: float
    rated_kg: float
    source: str


T = TypeVar("T")


def _key(name: str) -> str:
    text = name.lower().replace("×", "x").replace('"', "").replace("″", "").replace("-", " ")
    return " ".join(text.split()).replace(" x ", "x").replace(" x", "x").replace("x ", "x")


def _rows(file: str, make: Callable[[Mapping[str, str]], T]) -> dict[str, T]:
    table: dict[str, T] = {}
    with (files("urial.stock") / "data" / file).open(encoding="utf-8") as handle:
        for number, row in enumerate(csv.DictReader(handle), start=2):
            if not row.get("source"):
                raise StockError(
                    f"{file} line {number} has no source; every row of stock states where it comes from."
                )
            try:
                table[_key(row["name"])] = make(row)
            except (KeyError, ValueError, TypeError) as error:
                raise StockError(
                    f"{file} line {number} cannot be read ({error}); correct that row."
                ) from None
    return table


def _num(row: Mapping[str, str], column: str, default: float | None = None) -> float:
    text = row[column]
    if not text and default is not None:
        return default
    value = float(text)
    if not (math.isfinite(value) and value > 0):
        raise ValueError(f"{column} is {text}")
    return value


@cache
def materials() -> dict[str, Material]:
    """Every material by key."""
    return _rows(
        "materials.csv",
        lambda r: Material(
            r["name"],
            r["title"],
            _num(r, "Fy_MPa"),
            _num(r, "Fu_MPa"),
            _num(r, "E_MPa"),
            _num(r, "G_MPa"),
            _num(r, "density_kg_m3"),
            _num(r, "wall_factor", 1.0),
            _num(r, "haz_Fy_factor", 1.0),
            _num(r, "haz_Fu_factor", 1.0),
            r["source"],
            r["kind"] or "metal",
        ),
    )


@cache
def bars() -> dict[str, StockSection]:
    """Every bar, tube, angle and channel by key."""
    return _rows(
        "sections.csv",
        lambda r: StockSection(
            r["name"],
            r["shape"],  # type: ignore[arg-type]
            r["system"],
            _num(r, "width_mm"),
            _num(r, "height_mm"),
            _num(r, "wall_mm"),
            float(r["radius_or_flange_mm"]) if r["radius_or_flange_mm"] else None,
            r["source"],
        ),
    )


@cache
def plates() -> dict[str, Plate]:
    """Every plate thickness by key."""
    return _rows("plates.csv", lambda r: Plate(r["name"], r["system"], _num(r, "thickness_mm"), r["source"]))


@cache
def bolt_grades() -> dict[str, BoltGrade]:
    """Every bolt grade by key."""
    return _rows(
        "bolt_grades.csv",
        lambda r: BoltGrade(
            r["name"],
            _num(r, "Fu_MPa"),
            _num(r, "proof_MPa"),
            r["system"],
            r["source"],
            *(float(r[k] or 0) for k in ("small_mm", "small_Fu_MPa", "small_proof_MPa")),
        ),
    )


@cache
def bolts() -> dict[str, Bolt]:
    """Every bolt size by key."""
    return _rows(
        "bolts.csv",
        lambda r: Bolt(
            r["name"],
            r["system"],
            _num(r, "diameter_mm"),
            _num(r, "pitch_mm"),
            _num(r, "across_flats_mm"),
            _num(r, "head_mm"),
            _num(r, "nut_mm"),
            _num(r, "washer_od_mm"),
            _num(r, "washer_mm"),
            _num(r, "hole_mm"),
            r["source"],
        ),
    )


@cache
def electrodes() -> dict[str, Electrode]:
    """Every filler metal by key."""
    return _rows(
        "electrodes.csv",
        lambda r: Electrode(r["name"], r["title"], _num(r, "FEXX_MPa"), r["source"], r["metal"]),
    )


@cache
def receivers() -> dict[str, Receiver]:
    """Every receiver size by key."""
    return _rows(
        "receivers.csv",
        lambda r: Receiver(
            r["name"],
            r["system"],
            _num(r, "bar_mm"),
            _num(r, "opening_mm"),
            r["tube"],
            _num(r, "pin_mm"),
            _num(r, "pin_hole_mm"),
            _num(r, "pin_from_mouth_mm"),
            _num(r, "class_kg") if r["class_kg"] else None,
            r["source"],
        ),
    )


@cache
def balls() -> dict[str, Ball]:
    """Every tow ball by key."""
    return _rows(
        "balls.csv",
        lambda r: Ball(
            r["name"],
            r["system"],
            _num(r, "ball_mm"),
            _num(r, "shank_mm"),
            _num(r, "height_mm"),
            _num(r, "rated_kg"),
            r["source"],
        ),
    )


SHELVES: dict[str, Callable[[], dict[str, Any]]] = {
    "material": materials,
    "bar": bars,
    "plate": plates,
    "bolt grade": bolt_grades,
    "bolt": bolts,
    "electrode": electrodes,
    "receiver": receivers,
    "ball": balls,
}


def find(shelf: str, name: str) -> Any:
    """The row called ``name`` on a shelf of SHELVES.  Raises StockError naming the nearest rows."""
    table = SHELVES[shelf]()
    row = table.get(_key(name)) or table.get(_key(name.strip().removesuffix("in").removesuffix("mm")))
    if row is not None:
        return row
    near = [table[k].name for k in get_close_matches(_key(name), table, n=3, cutoff=0.4)]
    hint = f"nearest: {', '.join(near)}" if near else f"for example {next(iter(table.values())).name}"
    raise StockError(f"No {shelf} called “{name}” is in stock; {hint}.")


@cache
def material(name: str) -> Material:
    """A material by name."""
    return materials().get(_key(name)) or find("material", name)


@cache
def bar(name: str) -> StockSection:
    """A bar, tube, angle or channel by name."""
    return bars().get(_key(name)) or find("bar", name)


@cache
def plate(name: str) -> Plate:
    """A plate by name."""
    return plates().get(_key(name)) or find("plate", name)


@cache
def bolt_grade(name: str) -> BoltGrade:
    """A bolt grade by name."""
    return bolt_grades().get(_key(name)) or find("bolt grade", name)


@cache
def bolt(name: str) -> Bolt:
    """A bolt size by name."""
    return bolts().get(_key(name)) or find("bolt", name)


@cache
def electrode(name: str) -> Electrode:
    """A filler metal by name."""
    return electrodes().get(_key(name)) or find("electrode", name)


@cache
def receiver(name: str) -> Receiver:
    """A receiver size by name."""
    return receivers().get(_key(name)) or find("receiver", name)


@cache
def ball(name: str) -> Ball:
    """A tow ball by name."""
    return balls().get(_key(name)) or find("ball", name)
