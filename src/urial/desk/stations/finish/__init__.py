"""Finish: what is ground, masked and painted, what is wired, and the load that shows that it holds."""

from __future__ import annotations

from urial.desk.stations.finish.coats_page import CoatsPage
from urial.desk.stations.finish.proof_page import ProofPage
from urial.desk.stations.finish.wiring_page import WiringPage
from urial.desk.stations.work import WorkStation
from urial.making.step import RANK


class Finish(WorkStation):
    """When may the next coat go on, and does it hold what it should?"""

    name = "Finish"
    columns = 3
    kinds = frozenset(k for k, n in RANK.items() if n >= RANK["grind"])
    PAGES = (CoatsPage, WiringPage, ProofPage)


__all__ = ["Finish"]
