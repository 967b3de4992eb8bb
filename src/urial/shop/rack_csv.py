"""The rack as a table, out and in: one line a kind of bar or sheet."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from pathlib import Path

from pydantic import ValidationError

from urial.shop.snapshot import RackBar, RackSheet
from urial.stock import catalogue
from urial.words import Complaint

COLUMNS = (
    "kind",
    "id",
    "stock",
    "material",
    "long_mm",
    "wide_mm",
    "count",
    "price",
    "where",
    "remnant",
    "outline",
)
LONGEST = 4_000_000
"""A table is no longer, bytes."""
YES = {"yes": True, "1": True, "true": True, "": False, "no": False, "0": False, "false": False}


class RackError(Complaint):
    """A table or a line of it that cannot be read; the message says which line and why."""


def checked(row: RackBar | RackSheet) -> RackBar | RackSheet:
    """The same with its stock's own name.  RackError where there is no such stock or steel."""
    try:
        steel = catalogue.material(row.material).name
        if isinstance(row, RackBar):
            return row.model_copy(update={"stock": catalogue.bar(row.stock).name, "material": steel})
        return row.model_copy(update={"material": steel})
    except catalogue.StockError as error:
        raise RackError(str(error)) from None


def written(rows: Iterable[RackBar | RackSheet]) -> str:
    """The table as CSV, millimetres."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(COLUMNS)
    for r in rows:
        bar = isinstance(r, RackBar)
        table.writerow(
            (
                "bar" if bar else "sheet",
                r.id,
                r.stock,
                r.material,
                f"{r.length_mm:.10g}" if isinstance(r, RackBar) else f"{r.long_mm:.10g}",
                "" if isinstance(r, RackBar) else f"{r.wide_mm:.10g}",
                r.count,
                "" if r.price is None else f"{r.price:.10g}",
                r.where,
                "yes" if r.remnant else "",
                "; ".join(f"{x:.10g} {y:.10g}" for x, y in r.outline) if isinstance(r, RackSheet) else "",
            )
        )
    return out.getvalue()


def read(path: Path) -> list[RackBar | RackSheet]:
    """The rows of such a table; RackError names the first line that is none."""
    try:
        if not path.is_file() or path.stat().st_size > LONGEST:
            raise OSError
        text = path.read_text(encoding="utf-8-sig")
    except (OSError, UnicodeDecodeError):
        raise RackError(
            f"{path.name} cannot be read; give a text table with the columns {', '.join(COLUMNS)}."
        ) from None
    rows = csv.DictReader(io.StringIO(text))
    missing = [c for c in ("kind", "id", "stock", "material", "long_mm") if c not in (rows.fieldnames or ())]
    if missing:
        raise RackError(f"{path.name} has no column “{missing[0]}”; its first line names the columns.")
    out: list[RackBar | RackSheet] = []
    try:
        for n, row in enumerate(rows, 2):
            out.append(_row(path.name, n, {k: (v or "").strip() for k, v in row.items() if k}))
    except csv.Error:
        raise RackError(f"{path.name} is no table: a line of it cannot be read.") from None
    ids = [r.id for r in out]
    twice = next((i for i in ids if ids.count(i) > 1), None) if len(ids) < 5000 else None
    if twice is not None:
        raise RackError(f"{path.name} names “{twice}” twice; every line needs its own id.")
    return out


def _row(name: str, n: int, row: dict[str, str]) -> RackBar | RackSheet:
    def number(column: str) -> float:
        text = row.get(column, "")
        try:
            return float(text.replace(",", "."))
        except ValueError:
            raise RackError(f"Line {n} of {name}: {column} is “{text}”, and a number is wanted.") from None

    def whole(column: str) -> int:
        figure = number(column)
        if not figure.is_integer():
            raise RackError(f"Line {n} of {name}: {column} is {figure}, and a whole number is wanted.")
        return int(figure)

    kind = row.get("kind", "")
    if kind not in ("bar", "sheet"):
        raise RackError(f"Line {n} of {name}: the kind is “{kind}”; write bar or sheet.")
    common = {
        "id": row.get("id", ""),
        "stock": row.get("stock", ""),
        "material": row.get("material", ""),
        "count": whole("count") if row.get("count") else 1,
        "price": number("price") if row.get("price") else None,
        "where": row.get("where", ""),
        "remnant": YES.get(row.get("remnant", "").lower(), True),
    }
    try:
        made: RackBar | RackSheet = (
            RackBar.model_validate({**common, "length_mm": number("long_mm")})
            if kind == "bar"
            else RackSheet.model_validate(
                {
                    **common,
                    "long_mm": number("long_mm"),
                    "wide_mm": number("wide_mm"),
                    "outline": [p.split() for p in row.get("outline", "").split(";") if p.strip()],
                }
            )
        )
        return checked(made)
    except ValidationError as error:
        what = error.errors()[0]
        raise RackError(f"Line {n} of {name}: {what['loc'][-1]}: {what['msg'].lower()}.") from None
    except RackError as error:
        raise RackError(f"Line {n} of {name}: {error}") from None


__all__ = ["COLUMNS", "RackError", "checked", "read", "written"]
