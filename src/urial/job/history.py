"""Undo and redo: the list of earlier jobs, each with the name of the change that left it."""

from __future__ import annotations

from dataclasses import dataclass, field

from urial.job.model import Job


@dataclass
class History:
    """The present job, what was, and what may come back.  Jobs share their unchanged parts, so the list is
    cheap.
    """

    job: Job
    _past: list[tuple[str, Job]] = field(default_factory=list)
    _future: list[tuple[str, Job]] = field(default_factory=list)

    def record(self, job: Job, name: str) -> None:
        """Make ``job`` the present one; ``name`` says what changed."""
        if job == self.job:
            return
        self._past.append((name, self.job))
        self._future.clear()
        self.job = job

    def restate(self, job: Job, name: str) -> None:
        """Put another job in place of the present one, in the same step: what is dragged is one change."""
        if not self._past:
            return
        before = self._past[-1][1]
        if job == before:  # back where it began: no change at all
            self._past.pop()
        else:
            self._past[-1] = (name, before)
        self.job = job

    def amend(self, job: Job) -> None:
        """Put what follows from the present job into it (marks given to new parts): no step of its own."""
        self.job = job

    @property
    def undo_name(self) -> str | None:
        """What undo would take back."""
        return self._past[-1][0] if self._past else None

    @property
    def redo_name(self) -> str | None:
        """What redo would bring back."""
        return self._future[-1][0] if self._future else None

    def undo(self) -> bool:
        """Step back; False when there is nothing to undo."""
        if not self._past:
            return False
        name, before = self._past.pop()
        self._future.append((name, self.job))
        self.job = before
        return True

    def redo(self) -> bool:
        """Step forward again; False when there is nothing to redo."""
        if not self._future:
            return False
        name, after = self._future.pop()
        self._past.append((name, self.job))
        self.job = after
        return True
