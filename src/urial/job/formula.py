"""Sizes that follow others: ``= wide / 2 - 20 mm``.  Arithmetic and nothing else; a file from a stranger can
run nothing.

Grammar: sums of products of numbers with or without a unit, names of the piece's own sizes (by title, by
key with or without its unit; stock by its title and width, height, wall, thickness or diameter; another
piece's as ``1.drop``), brackets, and min, max, abs.  Every amount carries its unit: lengths are not added to
angles.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from functools import lru_cache

from urial import units
from urial.job.fields import Spec, specs
from urial.job.model import Job, Piece
from urial.stock import catalogue
from urial.stock.catalogue import StockError
from urial.words import Complaint

LONGEST, DEEPEST = 200, 40


class FormulaError(Complaint):
    """The formula is refused; the message is one sentence."""


@dataclass(frozen=True)
class Amount:
    """A figure and the unit it is in: powers of length, mass, force and angle."""

    value: float
    unit: tuple[int, int, int, int] = (0, 0, 0, 0)


UNITS: dict[str, tuple[int, int, int, int]] = {
    "length": (1, 0, 0, 0),
    "mass": (0, 1, 0, 0),
    "force": (0, 0, 1, 0),
    "angle": (0, 0, 0, 1),
}
_KIND_OF = {
    "mm": "length",
    "cm": "length",
    "m": "length",
    "in": "length",
    '"': "length",
    "ft": "length",
    "'": "length",
}
_KIND_OF |= {
    "kg": "mass",
    "t": "mass",
    "lb": "mass",
    "n": "force",
    "kn": "force",
    "lbf": "force",
    "°": "angle",
    "deg": "angle",
}
_NUMBER = re.compile(
    r"(?P<amount>\d+ \d+/\d+(?= ?(?:in\b|\"))|\d+/\d+(?= ?(?:in\b|\"))|\d+(?:[.,]\d+)?|[.,]\d+)"
    r"(?: ?(?P<unit>mm|cm|m|in|ft|kg|t|lbf|lb|kN|N|deg|°|\"|')(?![A-Za-z_]))?"
)
_WORD = re.compile(r"(?:[1-9][0-9]{0,3}\.)?[A-Za-z_][A-Za-z_0-9]*")
FUNCTIONS: dict[str, Callable[..., float]] = {"min": min, "max": max, "abs": abs}


def is_formula(text: object) -> bool:
    """Does a text ask to be worked out?"""
    return isinstance(text, str) and text.lstrip().startswith("=")


def tidy(text: str) -> str:
    """A formula as it is kept: one equals sign, one space after it."""
    return "= " + " ".join(text.lstrip().lstrip("=").split())


# ---- what a piece's names mean


@lru_cache(maxsize=256)
def _names(piece: Piece) -> dict[str, Amount]:
    """Every name a formula may use for a piece's own sizes, in lower case."""
    out: dict[str, Amount] = {}
    for key, field in specs(type(piece.values)).items():
        value = getattr(piece.values, key)
        for name, amount in _amounts(key, field, value):
            out.setdefault(name, amount)
    return out


def _amounts(key: str, field: Spec, value: object) -> Iterator[tuple[str, Amount]]:
    title = field.title.lower()
    if field.quantity and isinstance(value, (int, float)) and not isinstance(value, bool):
        amount = Amount(float(value), UNITS.get(field.kind, (0, 0, 0, 0)))
        for name in (
            key,
            key.rsplit("_", 1)[0] if key.endswith(("_mm", "_kg", "_deg", "_N")) else key,
            title,
        ):
            yield name.lower(), amount
    elif field.kind == "stock" and isinstance(value, str):
        for what, size in _stock_sizes(field.shelf, value):
            yield f"{key}_{what}".lower(), Amount(size, UNITS["length"])
            yield f"{title} {what}", Amount(size, UNITS["length"])


def _stock_sizes(shelf: str, name: str) -> list[tuple[str, float]]:
    """Sizes of something on a shelf that a formula may use, mm."""
    try:
        row = catalogue.find(shelf, name)
    except StockError:
        return []
    if shelf == "bar":
        return [("width", row.width), ("height", row.height), ("wall", row.wall)]
    if shelf == "plate":
        return [("thickness", row.thickness)]
    if shelf == "bolt":
        return [("diameter", row.diameter)]
    return []


def names(job: Job, number: str) -> list[str]:
    """The sizes a formula of a piece may follow, by their titles, for a person to choose from."""
    piece = next(p for p in job.stack if p.id == number)
    return [s.title for s in specs(type(piece.values)).values() if s.quantity]


# ---- reading


@dataclass
class _Reader:
    text: str
    find: Callable[[str], Amount]
    titles: tuple[str, ...]
    at: int = 0
    deep: int = 0

    def skip(self) -> str:
        while self.at < len(self.text) and self.text[self.at] == " ":
            self.at += 1
        return self.text[self.at] if self.at < len(self.text) else ""

    def sum(self) -> Amount:
        left = self.product()
        while (sign := self.skip()) in ("+", "-", "−") and sign:
            self.at += 1
            right = self.product()
            if left.unit != right.unit:
                raise FormulaError(
                    f"“{self.text}” adds {_said(left)} to {_said(right)}; give both the same unit, "
                    "like 20 mm."
                )
            left = Amount(left.value + right.value if sign == "+" else left.value - right.value, left.unit)
        return left

    def product(self) -> Amount:
        left = self.part()
        while (sign := self.skip()) in ("*", "/", "×", "÷") and sign:
            self.at += 1
            right = self.part()
            times = sign in ("*", "×")
            if not times and right.value == 0:
                raise FormulaError(f"“{self.text}” divides by nothing; the part under the line is 0 here.")
            unit = tuple(a + b if times else a - b for a, b in zip(left.unit, right.unit, strict=True))
            value = left.value * right.value if times else left.value / right.value
            left = Amount(value, (unit[0], unit[1], unit[2], unit[3]))
        return left

    def part(self) -> Amount:
        self.deep += 1
        if self.deep > DEEPEST:
            raise FormulaError(f"The formula has more than {DEEPEST} parts; make it simpler.")
        first = self.skip()
        if first in ("-", "−", "+") and first:
            self.at += 1
            inner = self.part()
            return Amount(inner.value if first == "+" else -inner.value, inner.unit)
        if first == "(":
            self.at += 1
            inner = self.sum()
            self.close()
            return inner
        return self.name() or self.number()

    def close(self) -> None:
        if self.skip() != ")":
            raise FormulaError(f"A bracket in “{self.text}” is not closed.")
        self.at += 1

    def name(self) -> Amount | None:
        rest = self.text[self.at :].lower()
        for title in self.titles:  # longest first; a title may have spaces in it
            after = rest[len(title) : len(title) + 1]
            if rest.startswith(title) and not (after.isalnum() or after == "_"):
                self.at += len(title)
                return self.find(title)
        found = _WORD.match(self.text, self.at)
        if found is None:
            return None
        word = found.group().lower()
        if word in FUNCTIONS and self.text[found.end() : found.end() + 1] == "(":
            self.at = found.end() + 1
            return self.call(word)
        self.at = found.end()
        return self.find(word)

    def call(self, word: str) -> Amount:
        given = [self.sum()]
        while self.skip() in (",", ";"):
            self.at += 1
            given.append(self.sum())
        self.close()
        if any(a.unit != given[0].unit for a in given):
            raise FormulaError(f"{word}() in “{self.text}” compares amounts of different units.")
        if word == "abs" and len(given) != 1:
            raise FormulaError("abs() takes one amount.")
        values = [a.value for a in given]
        return Amount(abs(values[0]) if word == "abs" else FUNCTIONS[word](values), given[0].unit)

    def number(self) -> Amount:
        found = _NUMBER.match(self.text, self.at)
        if found is None:
            rest = self.text[self.at : self.at + 12].strip()
            raise FormulaError(
                f"“{rest}” in “{self.text}” is not understood; write sizes by their names, numbers with "
                "their unit, and + − × / between them."
                if rest
                else f"“{self.text}” stops where a size or a number should come."
            )
        self.at = found.end()
        amount, unit = found["amount"], found["unit"]
        kind = _KIND_OF.get((unit or "").lower(), "number")
        try:
            value = units.parse(f"{amount} {unit}".strip() if unit else amount, kind)  # type: ignore[arg-type]
        except units.UnitError as error:
            raise FormulaError(str(error)) from None
        return Amount(value, UNITS.get(kind, (0, 0, 0, 0)))


def _said(a: Amount) -> str:
    kind = next((k for k, u in UNITS.items() if u == a.unit), "")
    return {"length": "a length", "mass": "a mass", "force": "a force", "angle": "an angle"}.get(
        kind, "a plain number" if a.unit == (0, 0, 0, 0) else "an area or the like"
    )


def work_out(text: str, known: Mapping[str, Amount], find: Callable[[str], Amount]) -> Amount:
    """The amount a formula comes to.  FormulaError in a sentence."""
    body = text.lstrip().lstrip("=").strip()
    if not body:
        raise FormulaError("A formula needs something after its equals sign, like = wide / 2 - 20 mm.")
    if len(body) > LONGEST:
        raise FormulaError(f"The formula is longer than {LONGEST} characters; make it simpler.")
    titles = tuple(sorted((n for n in known if " " in n), key=len, reverse=True))
    reader = _Reader(body, find, titles)
    out = reader.sum()
    if reader.skip():
        rest = body[reader.at : reader.at + 12]
        raise FormulaError(f"“{rest}” in “{body}” comes where + − × or / should stand.")
    return out


# ---- a whole job's


def applied(job: Job) -> tuple[Job, tuple[str, ...]]:
    """The job with every formula worked out, and a sentence for each that does not fit: its size keeps its
    last figure.
    """
    if not any(p.formulas for p in job.stack):
        return job, ()
    pieces = {p.id: p for p in job.stack}
    done: dict[tuple[str, str], float] = {}
    lapsed: list[str] = []

    def value(number: str, key: str, way: tuple[tuple[str, str], ...]) -> Amount:
        piece = pieces[number]
        field = specs(type(piece.values)).get(key)
        if field is None or not field.quantity:
            raise FormulaError(
                f"Piece {number} has no size “{key}” that could follow “{piece.follows.get(key, '')}”; take "
                "the formula away."
            )
        unit = UNITS.get(field.kind, (0, 0, 0, 0))
        text = piece.follows.get(key)
        if text is None and getattr(piece.values, key) is None:
            raise FormulaError(f"{_title(piece, key)} has no figure yet that another size could follow.")
        if text is None:
            return Amount(float(getattr(piece.values, key)), unit)
        if (number, key) in done:
            return Amount(done[number, key], unit)
        if (number, key) in way:
            round_ = [*way[way.index((number, key)) :], (number, key)]
            chain = ", which follows ".join(f"“{_title(pieces[n], k)}”" for n, k in round_)
            raise FormulaError(f"{chain}: a formula cannot go round in a circle; give one of them a figure.")
        out = work_out(text, _names(piece), lambda word: look(piece, word, (*way, (number, key))))
        if out.unit != unit:
            wants = {"length": "a length", "mass": "a mass", "force": "a force", "angle": "an angle"}
            raise FormulaError(
                f"{_title(piece, key)} is {wants.get(field.kind, 'a plain number')}, and “{text}” comes to "
                f"{_said(out)}."
            )
        if (field.lo is not None and out.value < field.lo - 1e-9) or (
            field.hi is not None and out.value > field.hi + 1e-9
        ):
            low, high, here = (
                units.show(x, field.quantity or "number", job.units, job.nearest)
                for x in (field.lo or 0.0, field.hi or 0.0, out.value)
            )
            raise FormulaError(
                f"{_title(piece, key)} follows “{text}”, which comes to {here} here; it must be between "
                f"{low} and {high}."
            )
        done[number, key] = out.value
        return out

    def look(piece: Piece, word: str, way: tuple[tuple[str, str], ...]) -> Amount:
        number, _, name = word.rpartition(".")
        other = pieces.get(number) if number else piece
        if other is None:
            raise FormulaError(f"A formula of piece {piece.id} follows piece {number}, which is not there.")
        key = _key_of(other, name)
        if key is not None:
            return value(other.id, key, way)
        known = _names(other)
        if name in known:
            return known[name]
        some = list(dict.fromkeys(s.title for s in specs(type(other.values)).values() if s.quantity))[:8]
        raise FormulaError(
            f"There is no size called “{name}” in the formula's piece; there are {', '.join(some)} and "
            "others."
        )

    for piece in job.stack:
        for key in piece.follows:
            try:
                value(piece.id, key, ())
            except FormulaError as error:
                lapsed.append(str(error))
    stack = []
    for piece in job.stack:
        mine = {k: v for (n, k), v in done.items() if n == piece.id}
        same = all(abs(float(getattr(piece.values, k)) - v) < 1e-12 for k, v in mine.items())
        new = piece if same else piece.model_copy(update={"values": piece.values.model_copy(update=mine)})
        stack.append(new)
    return (job if stack == list(job.stack) else job.model_copy(update={"stack": tuple(stack)})), tuple(
        lapsed
    )


def _title(piece: Piece, key: str) -> str:
    title = specs(type(piece.values))[key].title
    return title[0].upper() + title[1:]


def _key_of(piece: Piece, name: str) -> str | None:
    """The parameter a name means: its key with or without its unit, or its title."""
    for key, field in specs(type(piece.values)).items():
        if not field.quantity:
            continue
        bare = key.rsplit("_", 1)[0] if key.endswith(("_mm", "_kg", "_deg", "_N")) else key
        if name in (key.lower(), bare.lower(), field.title.lower()):
            return key
    return None


__all__ = ["Amount", "FormulaError", "applied", "is_formula", "names", "tidy", "work_out"]
