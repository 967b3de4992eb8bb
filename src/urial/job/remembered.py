"""The last few answers to a question about a job: what is taken back or asked twice is known already."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

K = TypeVar("K")
T = TypeVar("T")


class Remembered(Generic[K, T]):
    """The answers to the last ``most`` questions, the newest first.  Questions are values: equal ones have
    equal answers.  Any thread may ask; two that ask the same at once may both reckon it.
    """

    def __init__(self, most: int) -> None:
        self._most = most
        self._rows: tuple[tuple[K, T], ...] = ()

    def of(self, question: K, reckon: Callable[[], T], whole: Callable[[], bool] = lambda: True) -> T:
        """The answer as it is known, or as ``reckon`` finds it.  What raises is not kept, nor what is not
        ``whole`` when it comes.
        """
        rows = self._rows
        row = next((r for r in rows if r[0] is question or r[0] == question), None)
        if row is None:
            row = (question, reckon())
            if not whole():
                return row[1]
        # the question as it was asked last: it is asked again as the same object, and no job is compared
        # field by field a second time; one assignment: who reads meanwhile sees the rows as they were
        rest = (r for r in self._rows if r[0] is not row[0])
        self._rows = ((question, row[1]), *rest)[: self._most]
        return row[1]

    def cache_clear(self) -> None:
        """Forget all of it."""
        self._rows = ()
