"""The survey as a table: one row a value, out and in as CSV, nothing left out."""

from __future__ import annotations

import csv
import io
import json
from typing import Any

from pydantic import BaseModel, ValidationError

from urial.complaints import complaint
from urial.job import edit
from urial.job.model import Job
from urial.words import Complaint

HEAD = ("path", "what", "value", "unit")
BRANCHES = ("vehicle", "survey")
COUNT = "count"
"""The line of a list that says how many rows it has: those beyond are taken away."""
NEEDED = {"left": ("behind_mm", "height_mm", "hole_mm"), "right": ("behind_mm", "height_mm", "hole_mm")}
"""What a new row must bring, for nothing of it may be made up."""


class TableError(Complaint):
    """The table cannot be read; the message says which line and what to do."""


_UNITS = {"length": "mm", "mass": "kg", "angle": "deg"}


def _flat(value: Any, path: str) -> list[tuple[str, Any]]:
    if isinstance(value, dict):
        return [row for k, v in value.items() for row in _flat(v, f"{path}.{k}")]
    if isinstance(value, list):
        return (
            [row for n, v in enumerate(value) for row in _flat(v, f"{path}.{n}")]
            + [(f"{path}.{COUNT}", len(value))]
            if value
            else [(path, [])]
        )
    return [(path, value)]


def rows(job: Job) -> list[tuple[str, str, str, str]]:
    """Path, what it is, value in core units, unit.  An empty value is one not measured."""
    out = []
    for branch in BRANCHES:
        model: BaseModel = getattr(job, branch)
        for path, value in _flat(model.model_dump(mode="json"), branch):
            try:
                spec = edit.spec_of(job, path)
                what, unit = spec.title, _UNITS.get(spec.kind, "")
            except edit.EditError:
                what, unit = path.rsplit(".", 1)[-1].replace("_", " "), ""
            text = "" if value is None else value if isinstance(value, str) else json.dumps(value)
            out.append((path, what, text, unit))
    return out


def write_csv(job: Job) -> str:
    """The survey as CSV (UTF-8 text, comma, CRLF)."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(HEAD)
    writer.writerows(rows(job))
    return out.getvalue()


def _value(text: str, unit: str, path: str, line: int, known: str | None) -> Any:
    """A cell as a raw value: quantities may be written in any unit, in the cell or in the unit column."""
    if known in ("length", "mass", "angle", "number", "percent", "speed", "distance", "force"):
        if not text.strip():
            return None
        from urial import units

        written = text if not unit or any(c.isalpha() or c in "\"'°%" for c in text) else f"{text} {unit}"
        try:
            return units.parse(written, known, "metric")  # type: ignore[arg-type]
        except units.UnitError as error:
            raise TableError(f"Line {line}, {path}: {error}") from None
    if known == "text":
        return text
    if known == "stock" and not text.strip():
        return None
    if text == "[]":
        return []
    if text in ("true", "false"):
        return text == "true"
    return text


def _kind(path: str, tree: dict[str, str]) -> str | None:
    """The kind of a path's field; rows of lists by the first row's, and keep-outs by their shape."""
    from urial.job import host as hosts
    from urial.job import survey
    from urial.job.fields import spec

    parts = path.split(".")
    leaf = parts[-1]
    models: tuple[type[BaseModel], ...]
    if parts[0] == "vehicle":
        models = (
            (hosts.HardPoint,)
            if len(parts) == 4
            else (hosts.kinds().get(tree.get("vehicle.kind", ""), hosts.Vehicle),)
        )
    elif parts[1] == "keep_outs" and len(parts) == 4:
        shapes: dict[str, type[BaseModel]] = {
            "block": survey.Block,
            "drum": survey.Drum,
            "wheel": survey.WheelSweep,
            "swing": survey.Swing,
            "cone": survey.Cone,
            "spanner": survey.Spanner,
        }
        models = (shapes.get(tree.get(".".join((*parts[:3], "shape")), ""), survey.Block),)
    else:
        by_list: dict[str, type[BaseModel]] = {
            "marks": survey.Mark,
            "tapes": survey.TapeTo if len(parts) == 6 else survey.Tape,
            "levels": survey.Level,
            "corners": survey.Corner,
            "picks": survey.Pick,
            "fixes": survey.Fix,
            "photos": survey.Photo,
            "meets": survey.Meet,
            "backdrops": survey.OutlineBehind
            if tree.get(".".join((*parts[:3], "kind"))) == "outline"
            else survey.BodyBehind,
            "datum": survey.Datum,
            "answers": survey.Answers,
        }
        owner = next((p for p in reversed(parts[1:-1]) if not p.isdigit()), "")
        models = (by_list.get(owner, survey.Survey),)
    info = models[0].model_fields.get(leaf)
    if info is None:
        return None
    found = spec(path, info)
    return found.kind if isinstance(info.json_schema_extra, dict) else "plain"


def _plant(tree: dict[str, Any], parts: list[str], value: Any) -> None:
    for part in parts[:-1]:
        tree = tree.setdefault(part, {})
        if not isinstance(tree, dict):
            raise KeyError(part)
    tree[parts[-1]] = value


def _row_number(key: str) -> int | None:
    """A row's number, written as a number is."""
    return int(key) if key.isascii() and key.isdecimal() and len(key) < 5 and str(int(key)) == key else None


class _Reader:
    """Puts lines into a survey: each changes what it names and nothing else, or is refused with its
    number.
    """

    def __init__(self, lines: dict[str, int]) -> None:
        self.lines = lines

    def line(self, path: str) -> str:
        """The first line that names something under a path."""
        found = [n for p, n in self.lines.items() if p == path or p.startswith(path + ".")]
        return f"Line {min(found)}" if found else "The table"

    def merged(self, old: Any, new: Any, path: str) -> Any:
        """What was, with what the lines say put in its place."""
        if isinstance(new, dict) and isinstance(old, list):
            return self._rows(old, new, path)
        if isinstance(new, dict) and isinstance(old, dict):
            return {**old, **{k: self.merged(old.get(k), v, f"{path}.{k}") for k, v in new.items()}}
        if isinstance(new, dict) and new and all(_row_number(k) is not None or k == COUNT for k in new):
            return self._rows([], new, path)
        return new

    def _rows(self, old: list[Any], new: dict[str, Any], path: str) -> list[Any]:
        out = list(old)
        odd = next((k for k in new if k != COUNT and _row_number(k) is None), None)
        if odd is not None:
            raise TableError(
                f"{self.line(f'{path}.{odd}')}: “{odd}” is no row number of {path}; write 0 for the "
                "first row, 1 for the next."
            )
        for key in sorted((k for k in new if k != COUNT), key=int):
            here = f"{path}.{key}"
            if int(key) < len(out):
                out[int(key)] = self.merged(out[int(key)], new[key], here)
            elif int(key) == len(out):
                missing = [
                    n
                    for n in NEEDED.get(path.rsplit(".", 1)[-1], ())
                    if not isinstance(new[key], dict) or n not in new[key]
                ]
                if missing:
                    raise TableError(
                        f"{self.line(here)}: row {key} of {path} is new, so it needs its "
                        f"{', '.join(missing)} as well."
                    )
                out.append(self.merged({}, new[key], here) if isinstance(new[key], dict) else new[key])
            else:
                raise TableError(
                    f"{self.line(here)}: there are {len(out)} rows in {path}, counted from 0; row "
                    f"{key} is not the next one."
                )
        if COUNT in new:
            wanted = _row_number(str(new[COUNT]))
            if wanted is None or wanted > len(out):
                raise TableError(
                    f"{self.line(f'{path}.{COUNT}')}: {path} has {len(out)} rows; “{new[COUNT]}” rows "
                    "cannot be left of them."
                )
            out = out[:wanted]
        return out


def read_csv(job: Job, text: str) -> Job:
    """The job with the survey of a table: what a line names is replaced, the rest stays; rows go by their
    number, counted from 0, and a ``count`` line takes away those beyond.

    TableError with one sentence for a line that is not understood; the job is then unchanged.
    """
    try:
        lines = list(csv.reader(io.StringIO(text.lstrip("\ufeff"))))
    except csv.Error as error:
        raise TableError(
            f"That is not a table Urial can read ({error}); save it as CSV with commas."
        ) from None
    if not lines or [c.strip().lower() for c in lines[0][:1]] != ["path"]:
        raise TableError(
            "That is not a survey table: its first line must begin with “path”; write one with the "
            "survey's own CSV and change it."
        )
    head = [c.strip().lower() for c in lines[0]]
    if "value" not in head:
        raise TableError("The survey table has no column “value”; add it.")
    at_value, at_unit = head.index("value"), head.index("unit") if "unit" in head else -1
    cells = [
        (
            n,
            row[0].strip(),
            row[at_value] if len(row) > at_value else "",
            row[at_unit].strip() if 0 <= at_unit < len(row) else "",
        )
        for n, row in enumerate(lines[1:], 2)
        if row and row[0].strip()
    ]
    tree = {path: text for _, path, text, _ in cells}
    tree.setdefault("vehicle.kind", str(getattr(job.vehicle, "kind", "")))
    raw: dict[str, Any] = {}
    for line, path, written, unit in cells:
        if path.endswith(f".{COUNT}") and path.split(".")[0] in BRANCHES:
            kind: str | None = "plain"
        else:
            kind = _kind(path, tree) if path.split(".")[0] in BRANCHES and len(path.split(".")) > 1 else None
        if kind is None and written != "[]":
            raise TableError(
                f"Line {line}: there is no place in a survey called “{path}”; check its spelling."
            )
        try:
            _plant(raw, path.split("."), _value(written, unit, path, line, kind))
        except (KeyError, TypeError, AttributeError):
            raise TableError(
                f"Line {line}: “{path}” does not fit the lines above it; number rows from 0."
            ) from None
    data = job.model_dump(mode="json")
    data["vehicle"] = data["hosts"][0]
    reader = _Reader({path: line for line, path, _, _ in reversed(cells)})
    for branch in BRANCHES:
        if branch in raw:
            new = raw[branch]
            if not isinstance(new, dict):
                raise TableError(
                    f"{reader.line(branch)}: “{branch}” is not one value; name what of it changes."
                )
            kind_changes = (
                branch == "vehicle" and new.get("kind", data["vehicle"]["kind"]) != data["vehicle"]["kind"]
            )
            data[branch] = reader.merged(_fresh(new) if kind_changes else data[branch], new, branch)
    try:
        vehicle = data.pop("vehicle")
        out = Job.model_validate({**data, "hosts": [vehicle, *data["hosts"][1:]], "stack": job.stack})
    except ValidationError as error:
        raise TableError(f"The table holds something a survey cannot: {complaint(error)}") from None
    return out


def _fresh(new: dict[str, Any]) -> dict[str, Any]:
    """Another kind of host begins without rows, so that none of the one before stays."""
    return {"kind": new["kind"], **{k: [] for k, v in new.items() if isinstance(v, dict)}}
