"""The registry of bench calculators and the plain-words errors they share."""

from __future__ import annotations

import json
import math
import warnings
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from importlib import import_module
from typing import Any

from pydantic import BaseModel, ConfigDict, ValidationError

from urial.calc.names import NAMES
from urial.complaints import complaint
from urial.words import Complaint


class CalcError(Complaint):
    """The question cannot be answered; the message is one sentence."""


class Question(BaseModel):
    """Base of every calculator's input: unknown keys, wrong types, NaN and infinity are refused."""

    model_config = ConfigDict(extra="forbid", strict=False, frozen=True, allow_inf_nan=False)


Answer = dict[str, Any]


@dataclass(frozen=True)
class Calculator:
    """A question, its answer, and a title for people."""

    name: str
    title: str
    question: type[Question]
    answer: Callable[[Any], Answer]


_CALCULATORS: dict[str, Calculator] = {}


def calculator(
    name: str, question: type[Question]
) -> Callable[[Callable[[Any], Answer]], Callable[[Any], Answer]]:
    """Register a function as the calculator ``name``, which stands in the list of names with its title."""

    def register(answer: Callable[[Any], Answer]) -> Callable[[Any], Answer]:
        _CALCULATORS[name] = Calculator(name, NAMES[name][1], question, answer)
        return answer

    return register


def calculators() -> Mapping[str, Calculator]:
    """Every calculator by name."""
    return {name: find(name) for name in sorted(NAMES)}


def find(name: str) -> Calculator:
    """The calculator called ``name``; CalcError names the others."""
    if name not in NAMES:
        raise CalcError(f"There is no calculator called “{name}”; there are {', '.join(sorted(NAMES))}.")
    import_module(f"urial.calc.{NAMES[name][0]}")  # only what is asked
    return _CALCULATORS[name]


LARGEST = 1e12
"""No size, mass, force or strength of a job is larger, in the units asked for."""


def _sizes(name: str, value: Any, where: str = "") -> None:
    """CalcError for a figure that no size is."""
    if isinstance(value, Mapping):
        for key, item in value.items():
            _sizes(name, item, str(key))
    elif isinstance(value, (list, tuple)):
        for item in value:
            _sizes(name, item, where)
    elif isinstance(value, (int, float)) and not isinstance(value, bool) and abs(value) > LARGEST:
        raise CalcError(
            f"{name}: {where or 'a figure'} is {_short(value)}, which nothing in a shop is; check for a "
            "misplaced decimal point."
        )


def _ours(error: Exception) -> bool:
    """Is it a sentence of this project's, and no library's?"""
    last = error.__traceback__
    while last is not None and last.tb_next is not None:
        last = last.tb_next
    where = str(last.tb_frame.f_globals.get("__name__", "")) if last is not None else ""
    return isinstance(error, ValueError) and where.split(".")[0] == "urial" and str(error).endswith(".")


def _short(value: float) -> str:
    try:
        return f"{float(value):g}"
    except OverflowError:
        return "hundreds of digits long"


def _no_infinities(value: Any, where: str) -> None:
    if isinstance(value, float) and not math.isfinite(value):
        raise CalcError(
            f"The answer's {where} runs out of range; check the sizes for a misplaced decimal point."
        )
    if isinstance(value, Mapping):
        for key, item in value.items():
            _no_infinities(item, str(key))
    elif isinstance(value, (list, tuple)):
        for item in value:
            _no_infinities(item, where)


def ask(name: str, text: str) -> Answer:
    """Answer a question given as JSON text.  CalcError for anything that cannot be read or answered."""
    entry = find(name)
    try:
        data = json.loads(text)
    except json.JSONDecodeError as error:
        raise CalcError(
            f"The input of {name} is not JSON: line {error.lineno}, column {error.colno}."
        ) from None
    except ValueError:
        raise CalcError(
            f"The input of {name} holds a figure of thousands of digits, which no size has; write it shorter."
        ) from None
    except RecursionError:
        raise CalcError(f"The input of {name} is nested too deeply to be a question.") from None
    return answer(entry, data)


def answer(entry: Calculator, data: object) -> Answer:
    """Answer a question given as parsed JSON."""
    if not isinstance(data, dict):
        raise CalcError(f'The input of {entry.name} is not a JSON object; write {{"key": value}}.')
    try:
        # strictly, as JSON: true and "5" are no figures, and NaN is named by its key
        question = entry.question.model_validate_json(json.dumps(data), strict=True)
    except ValidationError as error:
        raise CalcError(f"{entry.name}: {complaint(error)}") from None
    except (ValueError, RecursionError):
        raise CalcError(
            f"{entry.name}: the question holds a figure or text that no question has; write it shorter."
        ) from None
    _sizes(entry.name, data)
    try:
        with warnings.catch_warnings():  # what runs out of range is said below, by us
            warnings.simplefilter("ignore")
            result = entry.answer(question)
    except ValidationError as error:  # a model of the core that the question fills
        raise CalcError(f"{entry.name}: {complaint(error)}") from None
    except (ValueError, OverflowError, ZeroDivisionError, FloatingPointError) as error:
        words = str(error) if _ours(error) else "the numbers run out of range; check the sizes."
        raise CalcError(f"{entry.name}: {words}") from None
    _no_infinities(result, entry.name)
    return result
