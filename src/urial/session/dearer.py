"""How much dearer another build is, in steel, bought pieces and wire, at the shop's prices."""

from __future__ import annotations

from urial.assembly.model import BuildError
from urial.families import build
from urial.job.model import Job
from urial.making.price import material
from urial.prove.costs import Money
from urial.session.work import read_shop

WORTH = 0.005
"""Less is the same price."""


class Dearer:
    """Prices beside those of a job as it stands; the shop's figures are read once."""

    def __init__(self, job: Job) -> None:
        self.shop, _ = read_shop(job.id)
        self._now = self._of(job)

    def _of(self, job: Job) -> float | None:
        try:
            return material(build(job), self.shop)
        except BuildError:
            return None

    def than(self, job: Job | None) -> Money | None:
        """None where it is the same, or cannot be said."""
        then = self._of(job) if job is not None else None
        if then is None or self._now is None or abs(then - self._now) < WORTH:
            return None
        return Money(then - self._now, self.shop.currency, self.shop.usual)


__all__ = ["Dearer"]
