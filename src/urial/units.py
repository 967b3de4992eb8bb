"""Text to quantity and back, the way the trade writes it.

Inside Urial every value is in core units: mm, N, N·mm, MPa, kg, degrees, m/s² and plain numbers. ``parse``
reads what a person types (``24 3/8"``, ``2' 1 1/2"``, ``61.9 cm``, ``450 lbf``) into core units, ``show``
writes a core value in the system chosen. Unit names are understood by pint, which is only imported when the
text holds a unit beyond inches, feet, millimetres and kilograms, because it is slow to load.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from fractions import Fraction
from functools import cache
from typing import TYPE_CHECKING, Literal

from urial.words import Complaint

if TYPE_CHECKING:
    from pint import UnitRegistry

System = Literal["inch", "metric"]
Kind = Literal[
    "length",
    "mass",
    "force",
    "moment",
    "stress",
    "angle",
    "number",
    "percent",
    "line_force",
    "speed",
    "distance",
]

MM_PER_INCH = 25.4
KG_PER_POUND = 0.45359237
STANDARD_GRAVITY = 9.80665  # m/s²
N_PER_LBF = KG_PER_POUND * STANDARD_GRAVITY


_mark = "."
_by_machine: ContextVar[bool] = ContextVar("_by_machine", default=False)


def write_decimals(mark: str) -> None:
    """What stands before the decimals in all that is shown to a person: "," where the place has it so, else
    ".".  Files for machines (job files, tables, JSON) keep the point.  Thousands are parted by a thin space
    everywhere, which nobody can take for a decimal mark; commas and points there are read, not written.
    """
    global _mark
    _mark = "," if mark == "," else "."


@contextmanager
def for_machines() -> Iterator[None]:
    """Write with the point meanwhile, in this thread alone: what a window shows beside it keeps its mark."""
    before = _by_machine.set(True)
    try:
        yield
    finally:
        _by_machine.reset(before)


def decimal_mark() -> str:
    """What stands before the decimals now."""
    return "." if _by_machine.get() else _mark


class UnitError(Complaint):
    """The text is not a quantity of the kind wanted; the message is a sentence for the user."""


@dataclass(frozen=True)
class _Kind:
    core: str  # pint's name of the core unit
    metric: str  # written after a metric figure
    inch: str
    metric_factor: float  # core units per metric display unit
    inch_factor: float
    metric_places: int
    inch_places: int
    example: str


_KINDS: dict[str, _Kind] = {
    "length": _Kind("mm", "mm", '"', 1.0, MM_PER_INCH, 1, 0, '24 3/8" or 619 mm'),
    "mass": _Kind("kg", "kg", "lb", 1.0, KG_PER_POUND, 1, 0, "900 kg or 2000 lb"),
    "force": _Kind("N", "kN", "lbf", 1000.0, N_PER_LBF, 2, 0, "4.5 kN or 1000 lbf"),
    "moment": _Kind("N*mm", "N·m", "ft·lb", 1000.0, N_PER_LBF * 12 * MM_PER_INCH, 0, 0, "80 N·m or 60 ft·lb"),
    "stress": _Kind("MPa", "MPa", "ksi", 1.0, 1000 * N_PER_LBF / MM_PER_INCH**2, 0, 1, "345 MPa or 50 ksi"),
    "line_force": _Kind("N/mm", "N/mm", "lbf/in", 1.0, N_PER_LBF / MM_PER_INCH, 0, 0, "600 N/mm"),
    "speed": _Kind("kilometer_per_hour", "km/h", "mph", 1.0, 1.609344, 0, 0, "90 km/h or 55 mph"),
    "distance": _Kind("m", "m", "ft", 1.0, 0.3048, 1, 0, "12 m or 40 ft"),
    "angle": _Kind("degree", "°", "°", 1.0, 1.0, 1, 1, "45°"),
    "number": _Kind("", "", "", 1.0, 1.0, 3, 3, "1.5"),
    "percent": _Kind("", "%", "%", 1.0, 1.0, 1, 1, "10 %"),
}

_VULGAR = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
_NUM = r"(?:\d+(?:[.,]\d*)?|[.,]\d+)"
_FRAC = (
    r"(?:(?P<whole>\d+)[\s-]+(?P<n1>\d+)/(?P<d1>\d+)|(?P<n2>\d+)/(?P<d2>\d+)"
    rf"|(?P<dec>{_NUM}(?:[eE][+-]?\d+)?))"
)
_VALUE = re.compile(rf"^(?P<sign>[-+]?)\s*{_FRAC}\s*(?P<unit>.*)$", re.S)
_FEET = re.compile(
    rf"^(?P<sign>[-+]?)\s*(?P<ft>{_NUM})\s*(?:'|ft\.?|feet|foot)[\s-]*(?P<rest>.*)$", re.IGNORECASE | re.S
)
_INCH_NAMES = {'"', "in", "in.", "inch", "inches", "''"}
_FAST: dict[str, dict[str, float]] = {
    "length": {
        "mm": 1.0,
        "cm": 10.0,
        "m": 1000.0,
        "ft": 304.8,
        "'": 304.8,
        **dict.fromkeys(_INCH_NAMES, MM_PER_INCH),
    },
    "mass": {"kg": 1.0, "lb": KG_PER_POUND, "lbs": KG_PER_POUND, "t": 1000.0, "g": 0.001},
    "force": {"N": 1.0, "kN": 1000.0, "lbf": N_PER_LBF, "kgf": STANDARD_GRAVITY},
    "stress": {"MPa": 1.0, "N/mm²": 1.0, "N/mm2": 1.0},
    "angle": {"°": 1.0, "deg": 1.0},
    "speed": {"km/h": 1.0, "kmh": 1.0, "mph": 1.609344, "m/s": 3.6},
    "distance": {"m": 1.0, "ft": 0.3048, "'": 0.3048, "yd": 0.9144, "mm": 0.001, "cm": 0.01},
    "percent": {"%": 1.0},
}


GAUGE = {
    "7": 0.1793,
    "8": 0.1644,
    "9": 0.1495,
    "10": 0.1345,
    "11": 0.1196,
    "12": 0.1046,
    "13": 0.0897,
    "14": 0.0747,
    "15": 0.0673,
    "16": 0.0598,
    "18": 0.0478,
    "20": 0.0359,
    "22": 0.0299,
}
"""Sheet steel by gauge, inches (Manufacturers' Standard Gauge)."""
_GAUGE = re.compile(r"^(\d+)\s*(?:ga|ga\.|gauge|gage)$", re.IGNORECASE)


_PLAIN_UNIT = re.compile(r"^[A-Za-z°µ#][A-Za-z]{0,20}[23²³]?\.?(?:[*/·⋅ -][A-Za-z°µ]{1,20}[23²³]?){0,2}$")


@cache
def registry() -> UnitRegistry[float]:
    """The one pint registry (about half a second to load, so made on first need)."""
    from pint import UnitRegistry

    return UnitRegistry(cache_folder=None)


def _tidy_unit(text: str) -> str:
    text = text.strip().rstrip(".").replace("·", "*").replace("²", "**2").replace("⋅", "*")
    aliases = {
        "ft*lb": "foot*force_pound",
        "ft-lb": "foot*force_pound",
        "ft*lbf": "foot*force_pound",
        "ftlb": "foot*force_pound",
        "in*lb": "inch*force_pound",
        "Nm": "N*m",
        "kNm": "kN*m",
        "lbs": "lb",
        "kip": "kip",
        "#": "lb",
        "psi": "psi",
        "lbf/in": "force_pound/inch",
    }
    return aliases.get(text, text)


def _by_pint(amount: float, unit: str, kind: str, original: str) -> float:
    from pint.errors import PintError

    spec = _KINDS[kind]
    ureg = registry()
    try:
        quantity = ureg.Quantity(amount, _tidy_unit(unit))
        if kind == "force" and quantity.check("[mass]"):
            quantity = quantity * ureg.standard_gravity
        elif kind == "mass" and quantity.check("[force]"):
            quantity = quantity / ureg.standard_gravity
        return float(quantity.to(spec.core or "dimensionless").magnitude)
    except (PintError, AttributeError, TypeError, AssertionError, ValueError, SyntaxError, KeyError):
        raise UnitError(f"“{original}” is not {_a(kind)}. Write it like {spec.example}.") from None


def _a(kind: str) -> str:
    noun = {"percent": "percentage", "line_force": "force per length"}.get(kind, kind)
    return f"an {noun}" if noun[0] in "aeiou" else f"a {noun}"


def parse(text: str, kind: Kind = "length", system: System = "metric") -> float:
    """Read ``text`` as a quantity of ``kind``; a bare figure is in the ``system``'s display unit.

    Returns the value in core units (mm, kg, N, N·mm, MPa, degrees).
    Raises UnitError with a sentence when the text is not understood.
    """
    spec = _KINDS[kind]
    if len(text) > 80:
        raise UnitError(
            f"That is {len(text)} characters long, which no size is. Write {_a(kind)} like {spec.example}."
        )
    original = text.strip()
    cleaned = (
        original.replace("′", "'").replace("″", '"').replace("”", '"').replace("’", "'").replace("−", "-")
    )
    cleaned = (
        cleaned.replace("\u2044", "/").replace("\u00a0", " ").replace("\u2009", "").replace("\u202f", "")
    )
    cleaned = cleaned.replace("''", '"')
    for glyph, plain in _VULGAR.items():
        cleaned = cleaned.replace(glyph, " " + plain)
    cleaned = re.sub(r"(?<=\d) (?=\d{3}(?![\d/]))", "", cleaned.strip())
    if not cleaned:
        raise UnitError(f"Nothing is written here. Write {_a(kind)} like {spec.example}.")
    _two_readings(cleaned, original, kind)
    cleaned = _ungrouped(cleaned)
    if kind == "length":
        gauge = _GAUGE.match(cleaned)
        if gauge:
            if gauge[1] not in GAUGE:
                raise UnitError(
                    f"“{original}”: there is no sheet of that gauge here; there are {', '.join(GAUGE)}."
                )
            return round(GAUGE[gauge[1]] * MM_PER_INCH, 9)
        feet = _FEET.match(cleaned)
        if feet:
            rest = feet["rest"].strip()
            if "'" in rest:
                raise UnitError(f"“{original}” has feet twice. Write it like 2' 1 1/2\".")
            inches = parse(rest, "length", "inch") if rest else 0.0
            if inches < 0:
                raise UnitError(f"“{original}” mixes signs. Write it like 2' 1 1/2\".")
            value = round(_decimal(feet["ft"]) * 12 * MM_PER_INCH + inches, 9)
            return -value if feet["sign"] == "-" else value
    match = _VALUE.match(cleaned)
    if not match:
        raise UnitError(f"“{original}” is not {_a(kind)}. Write it like {spec.example}.")
    amount = _amount(match, original, spec)
    if match["sign"] == "-":
        amount = -amount
    unit = match["unit"].strip()
    if not unit:
        return round(amount * (spec.inch_factor if system == "inch" else spec.metric_factor), 9)
    fast = _FAST.get(kind, {}).get(unit)
    if fast is not None:
        return round(amount * fast, 9)
    if kind == "percent":
        raise UnitError(f"“{original}” is not a percentage. Write it like {spec.example}.")
    if not _PLAIN_UNIT.match(unit):  # only plain names of units may reach the unit library
        raise UnitError(f"“{original}” is not {_a(kind)}. Write it like {spec.example}.")
    return _by_pint(amount, unit, kind, original)


def _two_readings(text: str, original: str, kind: str) -> None:
    """UnitError naming both readings for what the trade writes in two ways."""
    found = re.match(r"^[-+]?(\d{1,3})'(\d{3})(?!\d)", text)
    if found:
        raise UnitError(
            f"“{original}” can be read two ways, {found[1]} feet {int(found[2])} inches or "
            f"{found[1]}{found[2]}. Write {found[1]}' {int(found[2])}\" or {found[1]}{found[2]}."
        )
    found = re.match(rf"^[-+]?(\d{{1,3}})[{decimal_mark()}](000)(?!\d)", text)
    if found:
        raise UnitError(
            f"“{original}” can be read two ways, {found[1]} or {found[1]}000. Write the one that is meant."
        )
    found = re.match(r"^[-+]?([\d.,]+)\s*tons?$", text, re.IGNORECASE)
    if found and kind in ("mass", "force"):
        raise UnitError(
            f"“{original}” can be read two ways, {found[1]} t (of 1000 kg) or {found[1]} short tons "
            f"(of 2000 lb). Write {found[1]} t, or pounds."
        )


def _ungrouped(text: str) -> str:
    """1,234.5 and 1.234,5 have both marks, so they can be read one way only: thousands first."""
    found = re.match(r"^([-+]?\d{1,3}(?:([.,])\d{3})+)([.,])(\d+)(?!\d)", text)
    if found and found[2] != found[3]:
        return found[1].replace(found[2], "") + "." + found[4] + text[found.end() :]
    return text


def _decimal(text: str) -> float:
    return float(text.replace(",", "."))


def _amount(match: re.Match[str], original: str, spec: _Kind) -> float:
    if match["dec"] is not None:
        text = match["dec"]
        foreign = "." if decimal_mark() == "," else ","
        if re.fullmatch(rf"\d{{1,3}}[{foreign}]\d{{3}}", text):
            raise UnitError(
                f"“{original}” can be read two ways, {text.replace(foreign, decimal_mark())} or "
                f"{text.replace(foreign, '')}. Write one of them, like {spec.example}."
            )
        value = _decimal(text)
        if value in (float("inf"),):
            raise UnitError(f"“{original}” is too large to be a size. Write it like {spec.example}.")
        return value
    whole = int(match["whole"] or 0)
    num, den = (match["n1"], match["d1"]) if match["n1"] else (match["n2"], match["d2"])
    if int(den) == 0:
        raise UnitError(f"“{original}” divides by nothing. Write it like {spec.example}.")
    return whole + int(num) / int(den)


def _trim(value: float, places: int) -> str:
    text = f"{value:.{places}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return "0" if text == "-0" else text


def _spaced(text: str) -> str:
    """Thin no-break spaces between thousands: 12 450."""
    sign, digits = ("-", text[1:]) if text.startswith("-") else ("", text)
    head, dot, tail = digits.partition(".")
    if len(head) > 4:
        head = f"{int(head):,}".replace(",", "\u202f")
    return sign + head + dot.replace(".", decimal_mark()) + tail


def figure(value: float, places: int, sign: bool = False) -> str:
    """A bare figure for a person: decimals kept, so that columns stand; ``sign``: also when it is plus."""
    return f"{value:{'+' if sign else ''}.{places}f}".replace(".", decimal_mark())


FINE_BELOW = 12.0
OFF_FRACTION = 0.004
"""Below this size (mm) a length that is no common fraction (to this much of an inch) is written in
thousandths.
"""


def fraction_of_inch(value_mm: float, nearest: int = 16) -> tuple[int, Fraction]:
    """Whole inches and the fraction (reduced, nearest 1/``nearest``) of a length ≥ 0 in mm."""
    ticks = round(abs(value_mm) / MM_PER_INCH * nearest)
    return ticks // nearest, Fraction(ticks % nearest, nearest)


def show_length(value_mm: float, system: System, nearest: int = 16, feet: bool = False) -> str:
    """A length as the trade writes it; inches to the nearest 1/16 or 1/32, millimetres to 0.1."""
    if system == "metric":
        return f"{_spaced(_trim(value_mm, 1))} mm"
    whole, part = fraction_of_inch(value_mm, nearest)
    off = abs(abs(value_mm) / MM_PER_INCH - float(whole + part))
    if abs(value_mm) < FINE_BELOW and (off > OFF_FRACTION or (not (whole or part) and off >= 0.001)):
        return f'{_spaced(_trim(value_mm / MM_PER_INCH, 3))}"'  # 0.135" is no 1/8"
    sign = "-" if value_mm < 0 and (whole or part) else ""
    if feet and whole >= 12:
        return f"{sign}{whole // 12}' {_inches(whole % 12, part)}"
    return sign + _inches(whole, part)


LEG_SHORT = 0.05
"""So much of a sixteenth a leg may come out short by being said in whole ones."""


def show_leg(value_mm: float, system: System) -> str:
    """A weld's leg as gauges have it: whole sixteenths of an inch, never less than was reckoned with, or
    millimetres.
    """
    if system == "metric":
        return show_length(value_mm, system)
    ticks = max(math.ceil(value_mm / MM_PER_INCH * 16 - LEG_SHORT), 1)
    return _inches(ticks // 16, Fraction(ticks % 16, 16))


def _nearest(value_mm: float, nearest: int) -> str:
    """A length to the nearest fraction of an inch, finer where that would be nothing."""
    while value_mm and nearest < 128 and not any(fraction_of_inch(value_mm, nearest)):
        nearest *= 2
    return _inches(*fraction_of_inch(value_mm, nearest))


def _inches(whole: int, part: Fraction) -> str:
    if not part:
        return f'{whole}"'
    text = f"{part.numerator}/{part.denominator}"
    return f'{whole} {text}"' if whole else f'{text}"'


def show(value: float, kind: Kind = "length", system: System = "metric", nearest: int = 16) -> str:
    """Write a core value with its unit in the system chosen; ``parse`` reads it back to the value shown."""
    if kind == "length":
        return show_length(value, system, nearest)
    spec = _KINDS[kind]
    metric = system == "metric"
    amount = value / (spec.metric_factor if metric else spec.inch_factor)
    places = spec.metric_places if metric else spec.inch_places
    if kind == "mass" and metric and abs(amount) >= 100:
        places = 0 if abs(amount - round(amount)) < 0.05 else 1
    unit = spec.metric if metric else spec.inch
    text = _spaced(_trim(amount, places))
    return text + ("" if unit in ("", "°") else "\u00a0") + unit


_SPOKEN: dict[str, tuple[Kind, float]] = {
    "mm": ("length", 1.0),
    "kg": ("mass", 1.0),
    "kN": ("force", 1000.0),
    "N": ("force", 1.0),
    "N·m": ("moment", 1000.0),
    "kN·m": ("moment", 1e6),
    "N·mm": ("moment", 1.0),
    "MPa": ("stress", 1.0),
    "km/h": ("speed", 1.0),
    "N/mm": ("line_force", 1.0),
}
_AREAS = {
    "mm²": (MM_PER_INCH**2, "in²"),
    "mm³": (MM_PER_INCH**3, "in³"),
    "mm⁴": (MM_PER_INCH**4, "in⁴"),
    "m²": (0.3048**2, "ft²"),
    "kg/m": (KG_PER_POUND / 0.3048, "lb/ft"),
}
_SAID = re.compile(
    r"(?<![\w.,/])(?P<size>(?:[+\-−±]\s?)?\d[\d\u202f]*(?:[.,]\d+)?)(?P<gap>[ \u00a0])"
    r"(?P<unit>kN·m|N·mm|N·m|N/mm|km/h|kg/m|mm²|mm³|mm⁴|m²|mm|kg|kN|MPa|N)(?![\w²³⁴·/])"
)


def holds_figure(text: str) -> bool:
    """Is there a size with a unit in it, that :func:`in_words` would write anew?"""
    return _SAID.search(text) is not None or _FIGURE.search(text) is not None


def in_words(
    text: str, system: System, nearest: int = 16, beside: bool = False, names: Sequence[str] = ()
) -> str:
    """A sentence with every metric figure in it as an inch shop writes it; ``beside``: added in brackets,
    the metric kept (a working is reckoned in mm, N and MPa and must be followed as it stands). A metric
    job's is left alone but for the decimal mark. ``names`` are what a person called things: they stay as
    they were written. A length said in whole millimetres is a length, to the nearest fraction; one with
    decimals (a play, a sum of tolerances) is written as finely as it was reckoned.
    """
    if names and (kept := [n for n in names if n in text]):
        rows = re.split("(" + "|".join(map(re.escape, kept)) + ")", text)
        return "".join(row if n % 2 else in_words(row, system, nearest, beside) for n, row in enumerate(rows))
    if system == "metric":
        return _marked(text)

    def other(found: re.Match[str]) -> str:
        if found["unit"] == "mm" and found["size"].isdecimal():
            whole = _nearest(float(found["size"]), nearest)
            return f"{found[0]} ({whole})" if beside else whole
        raw = found["size"].replace("\u202f", "").replace("−", "-").replace(" ", "").replace(",", ".")
        sign, size = (raw[0], float(raw[1:])) if raw[0] in "+±-" else ("", float(raw))
        unit = found["unit"]
        if unit in _AREAS:
            factor, name = _AREAS[unit]
            said = f"{size / factor:.3g}\u00a0{name}"
        else:
            kind, factor = _SPOKEN[unit]
            said = show(size * factor, kind, system, nearest)
            if kind in ("mass", "force") and said.startswith("0") and size:
                said = f"{size * factor / _KINDS[kind].inch_factor:.2g}\u00a0{_KINDS[kind].inch}"
        return f"{found[0]} ({sign}{said})" if beside else sign + said

    return _marked(_SAID.sub(other, text))


_FIGURE = re.compile(
    r"(?<![\w.,/])(\d[\d\u202f]*)\.(\d+)(?=(?:[ \u00a0]?(?:%|°|\"|×|g\b))|"
    r"[ \u00a0](?:kN|N|mm|MPa|kg|km/h|m|lb|lbf|ft|ksi|in|mph|t|s)\b)"
)


def _marked(text: str) -> str:
    """Decimal points of figures that have a unit, as the place writes them; clauses and marks have none."""
    return text if decimal_mark() == "." else _FIGURE.sub(r"\1,\2", text)


def bare(figure: str) -> str:
    """A figure without a unit, with the place's decimal mark: a price, hours."""
    return figure.replace(".", decimal_mark())


def kinds() -> tuple[str, ...]:
    """Names of every kind of quantity."""
    return tuple(_KINDS)
