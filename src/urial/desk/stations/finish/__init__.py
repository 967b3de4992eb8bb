"""Finish: what is masked and painted, tightened and wired, and the load that shows that it holds."""

from __future__ import annotations

from urial.desk.stations.finish.bolts_page import BoltsPage
from urial.desk.stations.finish.coats_page import CoatsPage
from urial.desk.stations.finish.proof_page import ProofPage
from urial.desk.stations.finish.wiring_page import WiringPage
from urial.desk.stations.work import WorkStation
from urial.making.step import RANK


class Finish(WorkStation):
    """When may the next coat go on, and does it hold what it should?"""

    name = "Finish"
    columns = 4
    kinds = frozenset(k for k, n in RANK.items() if n >= RANK["grind"])
    PAGES = (CoatsPage, BoltsPage, WiringPage, ProofPage)


__all__ = ["Finish"]
