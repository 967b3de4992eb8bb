"""What may be asked about a job, by name: how a question is told from another, and how it is reckoned.

A question is asked of a `State`.  Two states with equal keys have equal answers.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from urial.job.model import Job

Stopped = Callable[[], bool]
"""Is the answer of no use any more?  Work that takes long asks this between its steps and leaves."""
Tell = Callable[[object], None]
"""Says how far the work is (a text), or hands on what is known early."""


@dataclass(frozen=True)
class State:
    """What a question is asked of: the job, the revisions of its log and of the shop, the minute for what
    depends on the clock, and what else it is about (a check, a wish, a place).
    """

    job: Job
    log: int = 0
    shop: int = 0
    minute: int | None = None
    about: object = None


@dataclass(frozen=True)
class Question:
    """``key``: what of a state the answer depends on; None where something else counts too, and nothing is
    remembered.  ``reckon`` may be called in any thread; what it
    raises is its work come to grief, so what it has to refuse is an answer.
    """

    name: str
    key: Callable[[State], object]
    reckon: Callable[[State, Stopped, Tell], object]


_QUESTIONS: dict[str, Question] = {}


def register(name: str, key: Callable[[State], object]) -> Callable[[Reckon], Reckon]:
    """Make a function the way a question called ``name`` is reckoned.  ValueError where there is one."""

    def add(reckon: Reckon) -> Reckon:
        if name in _QUESTIONS:
            raise ValueError(f"There is a question called “{name}” already.")
        _QUESTIONS[name] = Question(name, key, reckon)
        return reckon

    return add


Reckon = Callable[[State, Stopped, Tell], object]


def question(name: str) -> Question:
    """The question of a name.  KeyError where nobody has registered one."""
    return _QUESTIONS[name]


def questions() -> tuple[str, ...]:
    """The names of all there are."""
    return tuple(_QUESTIONS)


__all__ = ["Question", "Reckon", "State", "Stopped", "Tell", "question", "questions", "register"]
