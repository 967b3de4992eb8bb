"""Who works questions out, and when: a lane for each, the newest asked wins, what is stale stops, and the
last answers of all of them are kept in one bounded memory.

No call here waits for work but `wait`.  What comes of it is looked for with `news`: who owns the scheduler
calls that when it suits it (a window by a timer), so that nothing of it runs in a worker's thread.
"""

from __future__ import annotations

import logging
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from concurrent.futures import wait as wait_for
from dataclasses import dataclass, field
from time import monotonic

from urial.job.remembered import Remembered
from urial.session.questions import Question, State, question

log = logging.getLogger("urial")

KEPT = 24
"""So many answers of all questions together are kept."""
STEP_S = 0.003


class Failed:
    """In place of an answer: the work came to grief; the log says how."""


@dataclass
class _Lane:
    """One question: who works on it, what was asked last and what is known of it."""

    pool: ThreadPoolExecutor
    number: int = 0
    state: State | None = None
    future: Future[object] | None = None
    told: list[object] = field(default_factory=list)
    heard: int = 0  # so much of what was told is reported
    answer: object = None
    answered: bool = False


class Scheduler:
    """Not for several threads at once: who asks is one, who work are its own."""

    def __init__(self, find: Callable[[str], Question] = question, kept: int = KEPT) -> None:
        self._find = find
        self._lanes: dict[str, _Lane] = {}
        self._memory: Remembered[tuple[str, object], object] = Remembered(kept)

    def _lane(self, name: str) -> _Lane:
        if name not in self._lanes:
            self._lanes[name] = _Lane(ThreadPoolExecutor(1, f"urial {name}"))
        return self._lanes[name]

    def ask(self, name: str, state: State) -> None:
        """Begin to work a question out; what was asked of it before is of no use any more.  KeyError for a
        name that is no question's.
        """
        asked = self._find(name)
        self.drop(name)
        lane = self._lane(name)
        number, told = lane.number, list[object]()
        lane.state, lane.told, lane.heard = state, told, 0

        def stopped() -> bool:
            return lane.number != number

        def run() -> object:
            if stopped():
                return None
            try:
                key = asked.key(state)
                if key is None:
                    return asked.reckon(state, stopped, told.append)
                return self._memory.of(
                    (name, key),
                    lambda: asked.reckon(state, stopped, told.append),
                    whole=lambda: not stopped(),
                )
            except Exception:  # the session must outlive it
                log.exception("working out “%s”", name)
                return Failed()

        lane.future = lane.pool.submit(run)

    def drop(self, name: str) -> None:
        """Nobody waits for a question's answer any more, and what is known of it is forgotten."""
        lane = self._lane(name)
        lane.number += 1
        if lane.future is not None:
            lane.future.cancel()
        lane.future = lane.state = lane.answer = None
        lane.answered, lane.told, lane.heard = False, [], 0

    def busy(self, name: str) -> bool:
        """Is it still being worked out?"""
        return name in self._lanes and self._lanes[name].future is not None

    def state(self, name: str) -> State | None:
        """What it was asked of last."""
        return self._lanes[name].state if name in self._lanes else None

    def told(self, name: str) -> tuple[object, ...]:
        """What its work has told so far."""
        return tuple(self._lanes[name].told) if name in self._lanes else ()

    def answer(self, name: str) -> object:
        """The answer to what was asked last; None until there is one."""
        return self._lanes[name].answer if name in self._lanes else None

    def answered(self, name: str) -> bool:
        """Is there an answer to what was asked last?"""
        return name in self._lanes and self._lanes[name].answered

    def news(self) -> tuple[str, ...]:
        """The questions that have been answered, or have told something, since this was asked last."""
        found = []
        for name, lane in self._lanes.items():
            if lane.future is not None and lane.future.done():
                lane.answer, lane.future, lane.answered = lane.future.result(), None, True
                lane.heard = len(lane.told)
                found.append(name)
            elif len(lane.told) > lane.heard:
                lane.heard = len(lane.told)
                found.append(name)
        return tuple(found)

    @property
    def idle(self) -> bool:
        """Is nothing being worked out?"""
        return all(lane.future is None for lane in self._lanes.values())

    def wait(self, name: str, seconds: float, enough: Callable[[], bool] = lambda: False) -> bool:
        """Wait for an answer no longer than this, less when ``enough`` says so.  Is it there?  `news` brings
        it.
        """
        end = monotonic() + seconds
        while (future := self._lane(name).future) is not None:
            if wait_for([future], min(STEP_S, max(end - monotonic(), 0.0))).done:
                return True
            if enough() or monotonic() >= end:
                return False
        return self._lane(name).answered

    def forget(self) -> None:
        """Drop every question; what was answered before may still be remembered."""
        for name in self._lanes:
            self.drop(name)


__all__ = ["Failed", "Scheduler"]
