"""Fields that know what kind of quantity they hold, so that forms, sheets and messages are made from the
model.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from types import MappingProxyType
from typing import Any, get_args, get_origin

from pydantic import BaseModel, ConfigDict, Field
from pydantic.fields import FieldInfo

from urial.units import Kind


class Value(BaseModel):
    """Base of everything in the document: frozen, closed, no NaN."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, validate_default=False)


def _field(
    default: Any,
    title: str,
    kind: str,
    help_: str,
    group: str,
    lo: float | None,
    hi: float | None,
    **extra: Any,
) -> Any:
    return Field(
        default,
        title=title,
        description=help_,
        ge=lo,
        le=hi,
        json_schema_extra={"kind": kind, "group": group, **extra},
    )


def length(
    default: float,
    title: str,
    help_: str = "",
    *,
    lo: float = 0.1,
    hi: float = 10_000,
    group: str = "",
    lever: bool = False,
) -> Any:
    """A length in mm with its allowed range; ``lever``: the design's own, shorter is stronger."""
    return _field(default, title, "length", help_, group, lo, hi, **({"lever": True} if lever else {}))


def mass(
    default: float, title: str, help_: str = "", *, lo: float = 0.0, hi: float = 60_000, group: str = ""
) -> Any:
    """A mass in kg."""
    return _field(default, title, "mass", help_, group, lo, hi)


def maybe_mass(
    title: str,
    help_: str = "",
    *,
    default: float | None = None,
    lo: float = 0.0,
    hi: float = 60_000,
    group: str = "",
) -> Any:
    """A mass in kg that may not be given (None)."""
    return _field(default, title, "mass", help_, group, lo, hi, optional=True)


def force(
    default: float, title: str, help_: str = "", *, lo: float = 0.0, hi: float = 1e6, group: str = ""
) -> Any:
    """A force in N."""
    return _field(default, title, "force", help_, group, lo, hi)


def maybe_force(title: str, help_: str = "", *, lo: float = 0.0, hi: float = 1e6, group: str = "") -> Any:
    """A force in N that may not be given (None)."""
    return _field(None, title, "force", help_, group, lo, hi, optional=True)


def number(
    default: float,
    title: str,
    help_: str = "",
    *,
    lo: float,
    hi: float,
    kind: str = "number",
    group: str = "",
) -> Any:
    """A plain number, percentage or angle."""
    return _field(default, title, kind, help_, group, lo, hi)


def stock(default: str, title: str, shelf: str, help_: str = "", *, group: str = "", only: str = "") -> Any:
    """A name on a shelf of the stock catalogue; ``only`` narrows the picker to some shapes."""
    return _field(default, title, "stock", help_, group, None, None, shelf=shelf, only=only)


def maybe_length(title: str, help_: str = "", *, lo: float = 0.1, hi: float = 10_000, group: str = "") -> Any:
    """A length in mm that may not have been measured yet (None)."""
    return _field(None, title, "length", help_, group, lo, hi, optional=True)


def maybe_number(
    title: str,
    help_: str = "",
    *,
    lo: float,
    hi: float,
    kind: str = "number",
    group: str = "",
    empty: str = "",
) -> Any:
    """A plain number, percentage or angle that may not have been read yet (None); ``empty``: what that says,
    where it says more than that nobody measured.
    """
    more = {"empty": empty} if empty else {}
    return _field(None, title, kind, help_, group, lo, hi, optional=True, **more)


def maybe_stock(title: str, shelf: str, help_: str = "", *, group: str = "") -> Any:
    """A name on a shelf of the stock catalogue, or None."""
    return _field(None, title, "stock", help_, group, None, None, shelf=shelf, optional=True)


def choice(
    default: Any,
    title: str,
    help_: str = "",
    *,
    group: str = "",
    words: dict[str, str] | None = None,
    strengthens: bool = False,
) -> Any:
    """One of a few literal values (or yes and no); ``words`` says them in plain language; ``strengthens``:
    whatever is weak, and the values run from the quickest to the strongest.
    """
    more = {"strengthens": True} if strengthens else {}
    return _field(default, title, "choice", help_, group, None, None, words=words or {}, **more)


def text(default: str, title: str, help_: str = "", *, group: str = "") -> Any:
    """Free text."""
    return Field(
        default,
        title=title,
        description=help_,
        max_length=400,
        json_schema_extra={"kind": "text", "group": group},
    )


@dataclass(frozen=True)
class Spec:
    """What a form needs to know of a field: title, kind, range, choices, shelf."""

    path: str
    title: str
    kind: str
    help: str
    group: str
    choices: tuple[str, ...]
    words: dict[str, str]
    shelf: str
    only: str
    lo: float | None
    hi: float | None
    optional: bool = False
    lever: bool = False
    strengthens: bool = False
    empty: str = ""

    @property
    def quantity(self) -> Kind | None:
        """The unit kind, or None for stock, choices and text."""
        return None if self.kind in ("stock", "choice", "text") else self.kind  # type: ignore[return-value]


def spec(path: str, info: FieldInfo) -> Spec:
    """The Spec of one model field."""
    extra = info.json_schema_extra if isinstance(info.json_schema_extra, dict) else {}
    kind = str(extra.get("kind", "text"))
    choices: tuple[str, ...] = ()
    if kind == "choice":
        choices = (
            ("yes", "no") if info.annotation is bool else tuple(str(a) for a in get_args(info.annotation))
        )
    bounds: dict[str, float] = {}
    for item in info.metadata:
        for side in ("ge", "le"):
            if hasattr(item, side):
                bounds[side] = float(getattr(item, side))
    words = extra.get("words", {})
    return Spec(
        path,
        info.title or path.rsplit(".", 1)[-1],
        kind,
        info.description or "",
        str(extra.get("group", "")),
        choices,
        {str(k): str(v) for k, v in words.items()} if isinstance(words, dict) else {},
        str(extra.get("shelf", "")),
        str(extra.get("only", "")),
        bounds.get("ge"),
        bounds.get("le"),
        bool(extra.get("optional")),
        bool(extra.get("lever")),
        bool(extra.get("strengthens")),
        str(extra.get("empty", "")),
    )


@cache
def specs(model: type[BaseModel], prefix: str = "") -> Mapping[str, Spec]:
    """Every leaf field of a model by dotted path; rows of lists are not leaves of the model and are left
    out.  A model's fields do not change, so they are read once.
    """
    out: dict[str, Spec] = {}
    for name, info in model.model_fields.items():
        path = f"{prefix}{name}"
        kind = info.annotation
        if isinstance(kind, type) and issubclass(kind, BaseModel):
            out.update(specs(kind, path + "."))
        elif get_origin(kind) in (tuple, list, dict) or not isinstance(info.json_schema_extra, dict):
            continue
        else:
            out[path] = spec(path, info)
    return MappingProxyType(out)
