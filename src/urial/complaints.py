"""A validation error as one plain sentence: what, where, what to do."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from pydantic import ValidationError

_WORDS = {
    "missing": "is missing; add it",
    "extra_forbidden": "is not a key known here; check its spelling",
    "finite_number": "is not a finite number; write a figure",
    "float_type": "is not a number; write a figure",
    "float_parsing": "is not a number; write a figure",
    "int_type": "is not a whole number",
    "int_parsing": "is not a whole number",
    "bool_type": "is neither true nor false",
    "bool_parsing": "is neither true nor false",
    "string_type": "is not text",
    "list_type": "is not a list",
    "tuple_type": "is not a list",
    "dict_type": "is not a table of keys",
    "model_type": "is not a table of keys",
    "model_attributes_type": "is not a table of keys",
}


def complaint(error: ValidationError) -> str:
    """The first problem of a pydantic error as one sentence."""
    first = error.errors(include_url=False)[0]
    where = ".".join(str(part) for part in first["loc"]) or "the input"
    kind, context = first["type"], first.get("ctx", {})
    given = first.get("input")
    shown = f" ({given})" if isinstance(given, (int, float, str)) and len(str(given)) < 40 else ""
    if kind in _WORDS:
        return f"{where}{shown if kind != 'missing' else ''} {_WORDS[kind]}."
    if kind == "greater_than":
        return f"{where}{shown} must be more than {context['gt']:g}."
    if kind == "greater_than_equal":
        return f"{where}{shown} must be {context['ge']:g} or more."
    if kind == "less_than":
        return f"{where}{shown} must be less than {context['lt']:g}."
    if kind == "less_than_equal":
        return f"{where}{shown} must be {context['le']:g} or less."
    if kind in ("literal_error", "enum"):
        return f"{where}{shown} must be one of {context['expected']}."
    if kind in ("too_short", "too_long"):
        return (
            f"{where} has {context['actual_length']} entries; it needs "
            f"{context.get('min_length', context.get('max_length'))}."
        )
    if kind == "value_error":
        message = str(context.get("error", first["msg"]))
        return message if not first["loc"] else f"{where}: {message}"
    return f"{where}{shown}: {first['msg'][0].lower()}{first['msg'][1:]}."
