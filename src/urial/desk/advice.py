"""What would mend the check that is shown: one change, and where no one is enough two."""

from __future__ import annotations

from urial.desk.asking import Asking
from urial.job.model import Job
from urial.prove.remedies import Remedies
from urial.prove.trade import Way
from urial.session.questions import State
from urial.strength.check import Check

WORTH = 0.95
"""Below so much used nothing needs mending."""


class Advice:
    """Two questions of a session in their order: “remedies”, and where none of them is enough “pairs”."""

    def __init__(self, asking: Asking) -> None:
        self._asking = asking
        self._about: State | None = None
        self._needless = False
        self._wanted = False
        asking.answered.connect(self._answered)

    @property
    def remedies(self) -> Remedies | None:
        """One change each; None while they are looked for."""
        if self._needless or self._asking.failed("remedies"):
            return Remedies()
        found = self._asking.answer("remedies")
        return found if isinstance(found, Remedies) else None

    @property
    def pairs(self) -> list[Way]:
        """Two changes each, as far as they are known."""
        found = self._asking.answer("pairs")
        return found if isinstance(found, list) else []

    @property
    def pairing(self) -> bool:
        """Are two changes together still looked for?"""
        return self._asking.busy("pairs")

    def drop(self) -> None:
        """What is looked for is of no use any more."""
        self._about = None
        if self._asking.busy("remedies"):
            self._asking.drop("remedies")
        self._asking.drop("pairs")

    def forget(self) -> None:
        """Nothing is known of what will be shown next."""
        self._asking.drop("remedies")
        self._asking.drop("pairs")
        self._about, self._needless = None, False

    def ask(self, job: Job, check: Check | None, shop: int = 0) -> None:
        """Look for what mends a check; nothing where it is None or has room to spare.  ``shop``: the revision
        of the figures it is priced by.
        """
        self.forget()
        if check is None or check.utilisation < WORTH:
            self._needless = True
            self._asking.answered.emit("remedies")
            return
        self._about = State(job, shop=shop, about=check)
        self._asking.ask("remedies", self._about)

    def want_pairs(self, wanted: bool) -> None:
        """Somebody looks at it, or no longer: only then two changes together are looked for."""
        self._wanted = wanted
        if not wanted and self.pairing:
            self._asking.drop("pairs")
        elif wanted and not self.pairs:
            self._look_for_pairs()

    def give_way(self) -> None:
        """Sizes are looked for: what else is looked for waits until those are known, for each would halve the
        other's pace.
        """
        for name in ("remedies", "pairs"):
            if self._asking.busy(name):
                self._asking.drop(name)

    def _answered(self, name: str) -> None:
        if name == "size" and not self._asking.busy("size") and self._about is not None:
            if self.remedies is None:
                self._asking.ask("remedies", self._about)
            elif not self.pairs:
                self._look_for_pairs()
        elif name == "remedies":
            self._look_for_pairs()

    def _look_for_pairs(self) -> None:
        if self._asking.busy("size"):
            return
        if not self._wanted or self._about is None or self.remedies is None or self.pairing:
            return
        check = self._about.about
        if isinstance(check, Check) and check.short and not any(r.worst < 1.0 for r in self.remedies.found):
            self._asking.ask("pairs", self._about)


__all__ = ["Advice"]
