"""Edits by dotted path: read, set with validation, and name what changed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from difflib import get_close_matches
from functools import cache
from typing import Any, cast, get_args

from pydantic import BaseModel, TypeAdapter, ValidationError

from urial import units
from urial.complaints import complaint
from urial.job import datum, formula
from urial.job.change import Change
from urial.job.fields import Spec, spec, specs
from urial.job.host import SIDES, Host, starting_host
from urial.job.model import Design, Follows, Job, Piece, Towing, designs
from urial.stock import catalogue
from urial.units import Kind
from urial.words import Complaint


class EditError(Complaint):
    """The edit is refused and the old value kept; the message is one sentence."""


def get(job: Job, path: str) -> Any:
    """The value at a dotted path; list rows by number: ``vehicle.left.0.height_mm``."""
    value: Any = job
    parts = path.split(".")
    if parts[0] == "stack" and len(parts) > 1:
        piece = _piece(job, parts[1])
        value, parts = (piece if parts[2:3] == ["changes"] else piece.values), parts[2:]
    for part in parts:
        if isinstance(value, Mapping):
            value = value.get(part)
        elif part.lstrip("-").isdigit():
            value = value[int(part)]
        else:
            value = getattr(value, part)
    return value


def _piece(job: Job, number: str) -> Piece:
    found = next((p for p in job.stack if p.id == number), None)
    if found is None:
        raise EditError(
            f"There is no piece {number} in this job; there are "
            f"{', '.join(p.id for p in job.stack) or 'none'}."
        )
    return found


@cache
def _specs(pieces: tuple[tuple[str, str], ...], host: type[Host]) -> dict[str, Spec]:
    out = dict(specs(Job))
    out.update(specs(host, "vehicle."))
    for number, family in pieces:
        out.update(specs(designs().get(family, Design), f"stack.{number}."))
        out.pop(f"stack.{number}.family", None)
    return out


def all_specs(job: Job) -> dict[str, Spec]:
    """Every leaf field of the job by path (rows of lists apart)."""
    return _specs(tuple((p.id, p.family) for p in job.stack), type(job.vehicle))


def spec_of(job: Job, path: str) -> Spec:
    """The Spec at a path, rows of lists included: ``vehicle.left.0.height_mm``,
    ``survey.tapes.2.length_mm``.
    """
    table = all_specs(job)
    if path in table:
        return table[path]
    *parents, leaf = path.split(".")
    rows = parents[:1] != ["stack"] or parents[2:3] == ["changes"]
    numbered = rows and any(p.isdigit() for p in parents)
    try:
        owner = get(job, ".".join(parents)) if numbered else None
    except (IndexError, AttributeError, ValueError, TypeError):
        owner = None
    if isinstance(owner, BaseModel) and leaf in type(owner).model_fields:
        found = spec(path, type(owner).model_fields[leaf])
        title = f"{row_name(job, parents)}, {found.title}"
        if parents[0] == "hosts" and len(parents) > 2:
            title = f"{row_name(job, parents[:2])}, {title}"
        return replace(found, title=title)
    raise EditError(f"There is no field called “{path}” in this job.")


_ROWS = {
    "hosts": "host",
    "left": "left hole",
    "right": "right hole",
    "marks": "mark",
    "fixes": "fix",
    "tapes": "tape",
    "levels": "gauge reading",
    "photos": "photo",
    "backdrops": "backdrop",
    "meets": "known place",
    "keep_outs": "keep-out",
    "corners": "corner",
    "picks": "pick",
    "duties": "duty",
    "items": "item",
    "links": "link",
    "cargo": "cargo",
    "weighings": "weighing",
    "changes": "change",
}


def row_name(job: Job, parts: list[str]) -> str:
    """What a row of a list is called: left hole 2, keep-out spare wheel."""
    while not parts[-1].isdigit():  # a value within the row
        parts = parts[:-1]
    number = int(parts[-1])
    kind = _ROWS.get(parts[-2], parts[-2])
    called = str(getattr(get(job, ".".join(parts)), "name", "")) if parts[-2] not in SIDES else ""
    return f"{kind} {called or number + 1}"


def _replace(value: Any, parts: list[str], new: Any) -> Any:
    """A copy of a nested value with one place changed, not yet validated (plain containers)."""
    if not parts:
        return new
    head, rest = parts[0], parts[1:]
    if isinstance(value, BaseModel):
        if head not in type(value).model_fields:
            raise EditError(f"There is no field called “{head}” here.")
        return {
            **{k: getattr(value, k) for k in type(value).model_fields},
            head: _replace(getattr(value, head), rest, new),
        }
    if isinstance(value, Mapping):
        return {**value, head: new}
    row = int(head)
    items = list(value)
    if not 0 <= row < len(items):
        raise EditError(f"There is no row {row} here; there are {len(items)}, counted from 0.")
    items[row] = _replace(items[row], rest, new)
    return items


def _revalidated(model: type[BaseModel], data: Any) -> BaseModel:
    return model.model_validate(data)


def put(job: Job, path: str, value: Any) -> Job:
    """A new job with ``value`` (core units) at ``path``.  EditError with one sentence when it is refused."""
    parts, before = path.split("."), job
    try:
        if parts[0] == "vehicle":
            host = (
                value
                if len(parts) == 1
                else _revalidated(type(job.vehicle), _replace(job.vehicle, parts[1:], value))
            )
            return Job.model_validate(
                {**{k: getattr(job, k) for k in Job.model_fields}, "hosts": (host, *job.hosts[1:])}
            )
        if parts[0] == "stack" and len(parts) > 1:
            piece = _piece(job, parts[1])
            if parts[2:3] == ["changes"]:
                return _with_changes(job, piece, _replace(piece.changes, parts[3:], value))
            if len(parts) == 3 and formula.is_formula(value) and spec_of(job, path).quantity:
                return _following(job, piece, parts[2], formula.tidy(str(value)))
            if len(parts) == 3 and parts[2] in piece.follows:  # a figure is typed over it
                job = _with_formulas(job, piece, {k: v for k, v in piece.follows.items() if k != parts[2]})
            values = (
                value
                if len(parts) == 2
                else _revalidated(type(piece.values), _replace(piece.values, parts[2:], value))
            )
            return _worked_out(job.with_values(piece.id, cast(Design, values)), before)
        if len(parts) == 1:
            return Job.model_validate({**{k: getattr(job, k) for k in Job.model_fields}, path: value})
        branch = getattr(job, parts[0])
        changed = _replace(branch, parts[1:], value)
        if not isinstance(branch, BaseModel):  # a list of the job itself
            return Job.model_validate({**{k: getattr(job, k) for k in Job.model_fields}, parts[0]: changed})
        return job.model_copy(update={parts[0]: _revalidated(type(branch), changed)})
    except ValidationError as error:
        raise EditError(_refusal(job, path, value, error)) from None


def _with_formulas(job: Job, piece: Piece, formulas: dict[str, str]) -> Job:
    rows = tuple(Follows(size=key, text=text) for key, text in formulas.items())
    changed = piece.model_copy(update={"formulas": rows})
    return job.model_copy(update={"stack": tuple(changed if p.id == piece.id else p for p in job.stack)})


_CHANGES: TypeAdapter[tuple[Change, ...]] = TypeAdapter(tuple[Change, ...])


def _with_changes(job: Job, piece: Piece, rows: Any) -> Job:
    """The job with other changes of one piece."""
    changed = piece.model_copy(update={"changes": _CHANGES.validate_python(tuple(rows))})
    return job.model_copy(update={"stack": tuple(changed if p.id == piece.id else p for p in job.stack)})


def _following(job: Job, piece: Piece, key: str, text: str) -> Job:
    """A size of a piece follows others from now on."""
    if len(text) > formula.LONGEST:
        raise EditError(f"The formula is longer than {formula.LONGEST} characters; make it simpler.")
    return _worked_out(_with_formulas(job, piece, {**piece.follows, key: text}), job)


def _worked_out(job: Job, before: Job) -> Job:
    """Every formula worked out anew; refused where one no longer fits that did before."""
    out, lapsed = formula.applied(job)
    if lapsed:
        known = formula.applied(before)[1]
        new = [words for words in lapsed if words not in known]
        if new:
            raise EditError(new[0])
    return out


def formula_of(job: Job, path: str) -> str:
    """The formula a size follows; empty where it has a figure of its own."""
    parts = path.split(".")
    if parts[0] != "stack" or len(parts) != 3:
        return ""
    piece = next((p for p in job.stack if p.id == parts[1]), None)
    return piece.follows.get(parts[2], "") if piece else ""


def _refusal(job: Job, path: str, value: Any, error: ValidationError) -> str:
    first = error.errors(include_url=False)[0]
    try:
        field = spec_of(job, path)
    except EditError:
        return complaint(error)
    name = field.title[0].upper() + field.title[1:]
    if (
        first["type"] in ("greater_than_equal", "less_than_equal")
        and field.quantity
        and isinstance(value, (int, float))
    ):
        moved = datum.offset(job, path)
        shown, low, high = (
            units.show(v - moved, field.quantity, job.units, job.nearest)
            for v in (float(value), field.lo or 0.0, field.hi or 0.0)
        )
        return f"{name}: {shown} cannot be right; it must be between {low} and {high}."
    return f"{name}: {complaint(error)}"


def read_text(job: Job, path: str, written: str) -> Any:
    """What a person wrote in a field, as the field's value in core units."""
    field = spec_of(job, path)
    name = field.title[0].upper() + field.title[1:]
    if field.optional and not written.strip():
        return None
    if field.kind == "text":
        return written
    if field.kind == "stock":
        try:
            return catalogue.find(field.shelf, written).name
        except catalogue.StockError as error:
            raise EditError(f"{name}: {error}") from None
    if field.kind == "choice":
        plain = written.strip().lower()
        if field.choices == ("yes", "no"):
            if plain in ("yes", "true", "1", "on"):
                return True
            if plain in ("no", "false", "0", "off"):
                return False
            raise EditError(f"{name}: “{written}” is neither yes nor no.")
        for option in field.choices:
            if plain in (option.lower(), field.words.get(option, option).lower()):
                return option
        raise EditError(f"{name}: “{written}” is not one of {', '.join(field.choices)}.")
    if formula.is_formula(written) and path.startswith("stack."):
        return written.strip()
    try:
        return units.parse(written, quantity_kind(field), job.units) + datum.offset(job, path)
    except units.UnitError as error:
        raise EditError(f"{name}: {error}") from None


def write(job: Job, path: str, written: str) -> Job:
    """A new job with the text a person wrote at ``path``."""
    return put(job, path, read_text(job, path, written))


def shown(job: Job, path: str) -> str:
    """The value at a path as it is shown in the job's units."""
    field, value = spec_of(job, path), get(job, path)
    if value is None:
        return ""
    if field.quantity:
        return units.show(float(value) - datum.offset(job, path), field.quantity, job.units, job.nearest)
    if field.kind == "choice":
        key = ("yes" if value else "no") if isinstance(value, bool) else str(value)
        return field.words.get(key, key)
    if field.kind == "stock":
        return title_of(str(value))
    return str(value)


def title_of(stock_name: str) -> str:
    """A stock name with true multiplication signs."""
    row = catalogue.bars().get(stock_name)
    return row.title if row else stock_name


def change_name(job: Job, path: str) -> str:
    """What an edit did, in words for the undo menu: cross tube 2 1/2 × 2 1/2 × 1/4."""
    parts = path.split(".")
    if path.startswith("duty.factors."):
        return f"factor {parts[-1]}"
    try:
        return f"{spec_of(job, path).title} {shown(job, path) or 'not measured'}"
    except (EditError, AttributeError, IndexError):
        return parts[-1].replace("_", " ")


def with_host(job: Job, kind: str) -> Job:
    """The job on another kind of host, with that kind's starting values; a part that does not fit it goes."""
    host = starting_host(kind)
    same = type(host) is type(job.vehicle)
    kept: dict[str, Any] = {} if same else {"stack": (), "marks": {}}
    return Job.model_validate(
        {**{k: getattr(job, k) for k in Job.model_fields}, "hosts": (host, *job.hosts[1:]), **kept}
    )


_UNIT_TAILS = ("_mm", "_kg", "_deg", "_kg100")


def _last(path: str) -> str:
    """A path's last name as it is looked up, units and all in small letters."""
    return path.rsplit(".", 1)[-1].lower()


def find_path(job: Job, key: str) -> str:
    """The full path of a key given whole, or by its last name if only one field ends so (unit suffix
    optional).
    """
    table = all_specs(job)
    if key in table:
        return key
    if key.startswith("design."):  # as the keys were while there was one kind of part
        key = key.rsplit(".", 1)[-1]
    if any(part.isdigit() for part in key.split(".")):
        spec_of(job, key)
        return key
    if key.startswith("duty.factors."):
        return key
    wanted = key.lower().replace("-", "_").replace(" ", "_")
    bare = [
        p
        for p in table
        if _bare(_last(p)) == _bare(wanted)
        or _last(p) == wanted
        or (("." in wanted) and _bare(p.lower()).endswith(_bare(wanted)))
    ]
    first = [
        p for p in bare if p.split(".")[0] in ("stack", "duty", "vehicle")
    ]  # what is set most often wins over the rest
    whole = [p for p in first or bare if _last(p) == wanted]  # written out: “side_mm”, not “side”
    if len(whole) == 1:
        return whole[0]
    if len(bare) == 1 or len(first) == 1:
        return (first or bare)[0]
    if bare:
        raise EditError(f"“{key}” could be {' or '.join(bare)}; write the whole name.")
    near = get_close_matches(wanted, dict.fromkeys(p.rsplit(".", 1)[-1] for p in table), n=3, cutoff=0.4)
    raise EditError(
        f"There is no parameter called “{key}”" + (f"; nearest: {', '.join(near)}." if near else ".")
    )


def own_paths(job: Job, family: str, key: str) -> list[str]:
    """The paths a key's last name has in the pieces of one family, every one of them; none when the key
    names more, or nothing of theirs.
    """
    if "." in key:
        return []
    wanted = key.lower().replace("-", "_").replace(" ", "_")
    mine = tuple(f"stack.{p.id}." for p in job.stack if p.family == family)
    table = [p for p in all_specs(job) if mine and p.startswith(mine)]
    exact = [p for p in table if _last(p) == wanted]
    return exact or [p for p in table if _bare(_last(p)) == _bare(wanted)]


def _bare(name: str) -> str:
    for tail in _UNIT_TAILS:
        name = name.removesuffix(tail)
    return name


def schools() -> tuple[str, ...]:
    """The two schools of tongue weight."""
    return get_args(Towing.model_fields["school"].annotation)


def quantity_kind(field: Spec) -> Kind:
    """The unit kind of a field that is known to hold a quantity."""
    kind = field.quantity
    assert kind is not None
    return kind
