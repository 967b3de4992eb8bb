"""What would mend the check that is shown: one change, and where no one is enough two; off the GUI thread."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject

from urial.desk.worker import Worker
from urial.job.model import Job
from urial.prove.remedies import Remedy, remedies
from urial.prove.trade import Way, two_steps
from urial.strength.check import Check

WORTH = 0.95
"""Below so much used nothing needs mending."""


class Advice(QObject):
    """``remedies`` (None while they are looked for) and ``pairs`` for the check last asked about; ``told`` is
    called when either is known.
    """

    def __init__(self, parent: QObject, told: Callable[[], None]) -> None:
        super().__init__(parent)
        self.remedies: list[Remedy] | None = None
        self.pairs: list[Way] = []
        self.pairing = False  # are two changes together still looked for?
        self._told = told
        self._about: tuple[Job, Check] | None = None
        self._wanted = False
        self._single = Worker(self, self._found)
        self._double = Worker(self, self._paired)

    def drop(self) -> None:
        """What is known and looked for is of no use any more."""
        self._single.drop()
        self._double.drop()
        self.pairs, self.pairing = [], False

    def forget(self) -> None:
        """Nothing is known of what will be shown next."""
        self.drop()
        self.remedies = None

    def ask(self, job: Job, check: Check | None) -> None:
        """Look for what mends a check; nothing where it is None or has room to spare."""
        self.drop()
        if check is None or check.utilisation < WORTH:
            self.remedies, self._about = [], None
            self._told()
            return
        self._about = (job, check)
        self._single.ask(lambda stale: remedies(job, check, stopped=stale))

    def want_pairs(self, wanted: bool) -> None:
        """Somebody looks at it, or no longer: only then two changes together are looked for."""
        self._wanted = wanted
        if not wanted:
            self._double.drop()
            self.pairing = False
        elif self.remedies is not None and not self.pairs:
            self._look_for_pairs()

    def _found(self, result: object) -> None:
        self.remedies = list(result) if isinstance(result, list) else []
        self._look_for_pairs()
        self._told()

    def _look_for_pairs(self) -> None:
        if not self._wanted or self._about is None or self.remedies is None:
            return
        job, check = self._about
        if check.short and not any(r.worst < 1.0 for r in self.remedies):
            self.pairing = True
            self._double.ask(lambda stale: two_steps(job, check, stale))

    def _paired(self, result: object) -> None:
        self.pairs, self.pairing = list(result) if isinstance(result, list) else [], False
        self._told()


__all__ = ["Advice"]
